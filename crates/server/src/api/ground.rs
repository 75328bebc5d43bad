//! The ground of a field: soil tests, history, dressings, and what follows from them.

use actix_web::{get, post, web};
use agronomy::{
    crop::library,
    lime::PhPath,
    nutrients::account::Account,
    soil::{ImportError, Imported, Mapping, SamplingPlan, SamplingRequest, import, sampling},
    weather::year_start,
    working::Answer,
};
use jiff::civil::Date;
use ledger::{
    entry::{self, Entry, NewEntry, Via},
    farm, field,
};
use planner::{
    Part, Trouble, assess,
    ground::{amounts, lime_methods, not_accounted, year_account},
    whole,
};
use records::{
    LimeMethod, Payload, Subject,
    book::Ground,
    kinds::{soil_sample::SoilSample, soil_test::SoilTestReport},
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    api::{
        entries::{EntryView, kept, write_own},
        story::Story,
    },
    app::State,
    body::{Body, Shown},
    demo, laboratory,
    problem::{Problem, ProblemDocument},
    sign_in::Member,
    station,
};

/// A soil sample that was sent off.
#[derive(Debug, Serialize, ToSchema)]
pub struct SampleView {
    /// The sample, and the entry of its sending.
    pub id: Uuid,
    /// To whom.
    pub laboratory: String,
    /// The day it was sent.
    #[schema(value_type = String, format = Date)]
    pub sent_on: Date,
    /// The day its report is due.
    #[schema(value_type = String, format = Date)]
    pub due_on: Date,
    /// Its report stands in the ledger.
    pub collected: bool,
}

/// The ground of a field, and what follows.
#[derive(Debug, Serialize, ToSchema)]
pub struct GroundView {
    /// What was found and done.
    pub ground: Ground,
    /// The nutrient account of this year.
    pub account: Account,
    /// Cuts of this year whose harvest was not told: what they removed is not in it.
    pub not_accounted: usize,
    /// The year of the account; in the south it begins in July of the year before it ends.
    pub year: i16,
    /// Its first day.
    #[schema(value_type = String, format = Date)]
    pub year_from: Date,
    /// The pH path from the latest test on.
    pub path: Option<Answer<PhPath>>,
    /// The day the path starts.
    #[schema(value_type = Option<String>, format = Date)]
    pub path_from: Option<Date>,
    /// The pH below which the stand suffers.
    pub floor: Option<f64>,
    /// Schools of lime that the latest test allows.
    pub lime_methods: Vec<LimeMethod>,
    /// How to sample.
    pub sampling: Option<Answer<SamplingPlan>>,
    /// Samples sent off.
    pub samples: Vec<SampleView>,
    /// The entry of the last walk, which a new one takes the place of.
    pub looked: Option<Uuid>,
    /// Parts that can't be reckoned, and why.
    pub troubles: Vec<Trouble>,
}

/// The id of the report of a sample: one sample, one report.
fn report_id(sample: Uuid) -> Uuid {
    demo::id(&format!("report of {sample}"))
}

/// The ground of a field.
#[utoipa::path(params(("farm" = Uuid, Path), ("field" = Uuid, Path)), responses(
    (status = 200, body = GroundView), (status = 404, body = ProblemDocument, content_type = "application/problem+json")))]
#[get("/farms/{farm}/fields/{field}/ground")]
pub async fn read_ground(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
) -> Result<Shown<GroundView>, Problem> {
    let mut connection = state.pool.get().await?;
    let story = Story::of_field(&mut connection, &member, path.1).await?;
    drop(connection);
    Ok(Shown(member.reader(), state.work.run(member.farm(), move || told(&story)).await??))
}

fn told(story: &Story) -> Result<GroundView, Problem> {
    let (field, today) = (story.field()?, story.today);
    let ground = story.books.field(field.id);
    let reported: Vec<Uuid> = ground.tests.iter().map(|test| test.entry).collect();
    let samples = ground
        .samples
        .iter()
        .map(|sent| SampleView {
            id: sent.entry,
            laboratory: sent.what.laboratory.clone(),
            sent_on: sent.on,
            due_on: sent.what.due_on,
            collected: reported.contains(&report_id(sent.entry)),
        })
        .collect();
    let start = year_start(story.latitude, today);
    let mut view = GroundView {
        account: year_account(&ground, &Default::default(), start, |day| field.sown_area_on(day, &ground)),
        not_accounted: not_accounted(&ground, start, |day| field.sown_area_on(day, &ground)),
        year: start.year(),
        year_from: start,
        path: None,
        path_from: None,
        floor: None,
        lime_methods: lime_methods(&ground, today),
        sampling: None,
        samples,
        looked: story
            .entries
            .iter()
            .rev()
            .find(|entry| matches!(entry.standing(), Some(Payload::SiteWalk(_))))
            .map(|entry| entry.id),
        ground: (*ground).clone(),
        troubles: vec![],
    };
    let current = story.current();
    let crop = current.and_then(|(_, _, decided)| decided.choices.cover.crops().first().map(|crop| (*crop).to_owned()));
    let request = SamplingRequest { area: field.sown_area(), zones: None, crop, subsoil: false };
    view.sampling = sampling(&request).ok();
    if let Some((_, book, decided)) = current {
        let asked = story.asked(&decided.choices, field, &ground, book.sown_on());
        let core = assess(asked, Some(book), &story.succession(field.id), None);
        let whole = whole(asked, core, &[]);
        let needed = whole.core.needs.as_ref().map(|needs| amounts(&needs.value, asked.choices)).unwrap_or_default();
        let crops = asked.choices.cover.crops().into_iter().filter_map(|id| library().crop(id));
        view.floor = crops.map(|crop| crop.soil.ph_low.value).reduce(f64::max);
        view.path_from = whole.path.as_ref().and_then(|_| ground.test_by(today).map(|test| test.on));
        view.path = whole.path;
        view.account = year_account(&ground, &needed, start, |day| field.sown_area_on(day, &ground));
        // What this page would have shown and can't.
        let own = [Part::Lime, Part::Path, Part::Nutrients];
        view.troubles = whole.core.troubles.into_iter().filter(|trouble| own.contains(&trouble.part)).collect();
    }
    Ok(view)
}

/// A laboratory's file.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ImportBody {
    /// Made by the client: the same import is the same entries.
    pub id: Uuid,
    /// The file.
    pub text: String,
    /// How to read it.
    pub mapping: Mapping,
    /// Only look: write nothing.
    #[serde(default)]
    pub dry_run: bool,
}

/// What an import came to.
#[derive(Debug, Serialize, ToSchema)]
pub struct ImportView {
    /// What was read, or what is wrong.
    pub imported: Imported,
    /// How many soil tests were inked; none on a dry run or when anything is wrong.
    pub written: usize,
}

/// Read a laboratory's CSV and ink its soil tests; all of them or none.
#[utoipa::path(params(("farm" = Uuid, Path)), request_body = ImportBody, responses(
    (status = 200, body = ImportView),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/soil-tests")]
pub async fn import_tests(
    state: web::Data<State>,
    member: Member,
    Body(body): Body<ImportBody>,
) -> Result<Shown<ImportView>, Problem> {
    member.records()?;
    let mut imported = import(&body.text, &body.mapping)?;
    let mut connection = state.pool.get().await?;
    let fields = field::all(&mut connection, &member.membership).await?;
    let by_name = |name: &str| fields.iter().find(|field| field.name.to_lowercase() == name.to_lowercase());
    for row in &imported.rows {
        if by_name(&row.field).is_none() {
            let detail = format!("no field named “{}” on this farm", row.field);
            imported.errors.push(ImportError { line: row.line, column: String::new(), detail: detail.into() });
            imported.errors_in_all += 1;
        } else if row.test.sampled_on > member.today() {
            let detail = format!("{} is in the future (today is {})", row.test.sampled_on, member.today());
            imported.errors.push(ImportError { line: row.line, column: String::new(), detail: detail.into() });
            imported.errors_in_all += 1;
        }
    }
    if imported.errors_in_all > 0 {
        imported.rows.clear();
    }
    if body.dry_run || imported.rows.is_empty() {
        return Ok(Shown(member.reader(), ImportView { imported, written: 0 }));
    }
    let entries: Vec<NewEntry> = imported
        .rows
        .iter()
        .filter_map(|row| {
            let id = demo::id(&format!("import {} line {}", body.id, row.line));
            let payload = SoilTestReport::of(row.test.clone()).into();
            let about = [Subject::field(by_name(&row.field)?.id)];
            Some(NewEntry::of(id, about, row.test.sampled_on, Via::Import, payload))
        })
        .collect();
    let today = member.today();
    let written = entries.len();
    ledger::together(&mut connection, async |connection| {
        for entry in &entries {
            entry::write(connection, &member.membership, entry, today).await?;
        }
        Ok(())
    })
    .await?;
    Ok(Shown(member.reader(), ImportView { imported, written }))
}

/// A soil sample to send.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewSoilSample {
    /// Number of the sample and id of the entry of its sending, made by the client.
    pub id: Uuid,
}

/// Send a soil sample of a field to the laboratory.
#[utoipa::path(params(("farm" = Uuid, Path), ("field" = Uuid, Path)),
    request_body = NewSoilSample, responses(
    (status = 200, body = EntryView),
    (status = 502, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/fields/{field}/samples")]
pub async fn send_sample(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
    Body(new): Body<NewSoilSample>,
) -> Result<Shown<EntryView>, Problem> {
    member.records()?;
    let mut connection = state.pool.get().await?;
    let field = field::one(&mut connection, &member.membership, path.1).await?;
    let same = |kept: &Entry| kept.field() == Some(field.id) && matches!(kept.payload(), Some(Payload::SoilSample(_)));
    if let Some(kept) = kept(&mut connection, &member, new.id, same).await? {
        return Ok(Shown(member.reader(), kept));
    }
    practice_only(&member)?;
    let today = member.today();
    // Nothing is held while the outside is waited for.
    drop(connection);
    let reply = laboratory::soil(&state, new.id, &field.name, today, true, today).await?;
    let payload = SoilSample { laboratory: reply.laboratory, due_on: reply.due_on }.into();
    let entry = NewEntry::of(new.id, [Subject::field(field.id)], today, Via::StandIn, payload).today();
    write_own(&mut *state.pool.get().await?, &member, &entry).await
}

/// Fetch the report of a soil sample, once it is due, and ink it.
#[utoipa::path(params(("farm" = Uuid, Path), ("field" = Uuid, Path), ("sample" = Uuid, Path)), responses(
    (status = 200, body = EntryView),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 502, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/fields/{field}/samples/{sample}/report")]
pub async fn fetch_report(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid, Uuid)>,
) -> Result<Shown<EntryView>, Problem> {
    member.records()?;
    let mut connection = state.pool.get().await?;
    let field = field::one(&mut connection, &member.membership, path.1).await?;
    let id = report_id(path.2);
    if let Some(kept) = kept(&mut connection, &member, id, |kept| kept.field() == Some(field.id)).await? {
        return Ok(Shown(member.reader(), kept));
    }
    let sent = entry::find(&mut connection, &member.membership, path.2).await?.ok_or(Problem::NotFound)?;
    if sent.field() != Some(field.id) || !matches!(sent.payload(), Some(Payload::SoilSample(_))) {
        return Err(Problem::NotFound);
    }
    let today = member.today();
    drop(connection);
    let reply = laboratory::soil(&state, sent.id, &field.name, sent.occurred_on, true, today).await?;
    let Some(report) = reply.report else {
        return Err(Problem::Conflict(format!("report due {}; today is {today}", reply.due_on)));
    };
    let payload = SoilTestReport::of(report).into();
    let entry = NewEntry::of(id, [Subject::field(field.id)], sent.occurred_on, Via::StandIn, payload);
    write_own(&mut *state.pool.get().await?, &member, &entry).await
}

fn practice_only(member: &Member) -> Result<(), Problem> {
    if member.membership.farm.practice_day.is_none() {
        return Err(Problem::Outside("no soil lab is set up for this farm".to_owned()));
    }
    Ok(())
}

/// A day to move a practice clock to.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ClockBody {
    /// The day.
    #[schema(value_type = String, format = Date)]
    pub day: Date,
}

/// The day at a farm.
#[derive(Debug, Serialize, ToSchema)]
pub struct ClockView {
    /// The day.
    #[schema(value_type = String, format = Date)]
    pub today: Date,
}

/// Move a practice farm's clock on.
#[utoipa::path(params(("farm" = Uuid, Path)), request_body = ClockBody, responses(
    (status = 200, body = ClockView),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/clock")]
pub async fn clock(
    state: web::Data<State>,
    member: Member,
    Body(body): Body<ClockBody>,
) -> Result<web::Json<ClockView>, Problem> {
    member.decides()?;
    farm::move_clock(&mut *state.pool.get().await?, &member.membership, body.day).await?;
    // The weather unfolds with the clock. A service that is silent does not hold the clock up: its
    // trouble stands beside the station.
    if let Err(problem) = station::refresh(&state, &member.membership, body.day).await {
        tracing::warn!("after moving the clock: {problem}");
    }
    Ok(web::Json(ClockView { today: body.day }))
}
