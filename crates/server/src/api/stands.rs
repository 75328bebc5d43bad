//! Starting a stand, and its plan.

use actix_web::web;
use agronomy::{
    crop::library,
    lime::{self, LimeNeed, PhPath},
    mix::{self, MixRates},
    nutrients::Needs,
    plants::{self, PlantCount, PlantsRequest},
    refusal::{Refused, Unusual},
    seed::{self, Order},
    site::Readiness,
    units::Area,
    window::Edges,
    working::Answer,
};
use jiff::civil::Date;
use ledger::{
    entry::{self, Entry, NewEntry, Payload, Via},
    farm,
    field::{self, Field},
    lot, stand,
};
use planner::{
    Choices, Cover, Facts, Goal, LimeMethod, LotFacts, Plan, SeedNeed, StepKind,
    ground::{self, Asked, Dressing, Ground},
    weather::{Question, on_its_day, seedbed, sowing},
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    api::{entries::EntryView, story::asked},
    app::State,
    body::{Body, Shown},
    climate::Outlook,
    problem::{Problem, ProblemDocument},
    sign_in::Member,
};

/// What choices imply: steps, rates, seed, cost.
#[derive(Debug, Serialize, ToSchema)]
pub struct Implied {
    /// Steps in pencil.
    pub plan: Plan,
    /// Area that will be sown.
    pub sown_area: Area,
    /// The mix, when sown from seed.
    pub mix: Option<Answer<MixRates>>,
    /// The plants, when set out.
    pub plants: Option<Answer<PlantCount>>,
    /// Seed needed.
    pub need: SeedNeed,
    /// The order from the chosen lots.
    pub order: Option<Answer<Order>>,
    /// Far from usual: has to be confirmed.
    pub unusual: Vec<Unusual>,
    /// Whether the field is fit.
    pub readiness: Option<Answer<Readiness>>,
    /// Schools of lime that the latest soil test allows; empty without a test.
    pub lime_methods: Vec<LimeMethod>,
    /// pH to lime to: the fussiest crop decides.
    pub target_ph: Option<f64>,
    /// The lime decided on.
    pub lime: Option<Answer<LimeNeed>>,
    /// The dressing it comes to, ready to be inked.
    pub lime_dressing: Option<Dressing>,
    /// What becomes of pH.
    pub path: Option<Answer<PhPath>>,
    /// The day the path starts.
    #[schema(value_type = Option<String>, format = Date)]
    pub path_from: Option<Date>,
    /// The pH below which the stand suffers.
    pub floor: Option<f64>,
    /// Nutrients by every school.
    pub needs: Option<Answer<Needs>>,
    /// When it could be sown; empty without weather years or once it is.
    pub windows: Vec<StripWindow>,
}

fn implied(
    asked: Asked<'_>,
    entries: &[Entry],
    lots: &[LotFacts],
    field: &Field,
    outlook: &Outlook,
) -> Result<Implied, Refused> {
    let Asked { choices, ground, today, .. } = asked;
    let (facts, windows) = facts(entries, asked, outlook);
    let sown_area = field.sown_area();
    let lime = ground::lime_need(asked)?;
    let path = ground::ph_path(asked)?;
    let needs = ground::needs(asked)?;
    let crops: Vec<_> = choices.cover.crops().into_iter().filter_map(|id| library().crop(id)).collect();
    let plants = match &choices.cover {
        Cover::Seed { .. } => None,
        Cover::Plants { plants } => Some(
            plants::count(&PlantsRequest {
                crop: Some(plants.crop.clone()),
                area: sown_area,
                row_spacing: plants.row_spacing,
                in_row: plants.in_row,
                survival: None,
                aim: None,
                pieces_per_station: plants.pieces_per_station,
                spare: choices.spare,
            })
            .map_err(|refused| refused.under("/cover/plants"))?,
        ),
    };
    let mix = match &choices.cover {
        Cover::Seed { mix, .. } => Some(mix::rates(mix).map_err(|refused| refused.under("/cover/mix"))?),
        Cover::Plants { .. } => None,
    };
    let order = planner::order_request(choices, sown_area, lots)?.map(|request| seed::order(&request)).transpose()?;
    Ok(Implied {
        plan: planner::plan(choices, &facts, today),
        windows,
        readiness: ground::readiness(asked)?,
        lime_methods: ground::lime_methods(ground, today),
        target_ph: lime::target_ph(crops.iter().copied()),
        floor: crops.iter().map(|crop| crop.soil.ph_low.value).reduce(f64::max),
        path_from: path.as_ref().and_then(|_| ground.test_by(today).map(|test| test.on)),
        lime_dressing: ground::planned_lime(asked)?,
        lime,
        path,
        needs,
        sown_area,
        mix,
        plants,
        need: planner::seed_need(choices, sown_area, lots)?,
        order,
        unusual: vec![],
    })
}

/// A window on a strip.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct StripWindow {
    /// Key of the way of timing.
    pub window: String,
    /// In words.
    pub name: String,
    /// The first day.
    #[schema(value_type = String, format = Date)]
    pub from: Date,
    /// Odds by day.
    pub odds: Vec<f64>,
    /// Opens, best, closes at the person's own level.
    pub edges: Edges,
}

/// The facts of a stand: its own inked steps, what its ground asks for and has had, and what the
/// weather years say of a sowing still to come, with the windows for its strip.
fn facts(entries: &[Entry], asked: Asked<'_>, outlook: &Outlook) -> (Facts, Vec<StripWindow>) {
    let mut facts = entry::facts(entries);
    let sown_on = facts.inked.iter().filter(|step| step.kind == StepKind::Sow).map(|step| step.on).min();
    let (steps, inked) = ground::steps(asked, sown_on);
    facts.ground = steps;
    facts.inked.extend(inked);
    let Some(weather) = outlook.weather.as_deref().filter(|_| sown_on.is_none()) else { return (facts, vec![]) };
    let years = weather.scenarios(asked.choices.sow_on);
    let runs = weather.runs(&years, &seedbed(asked.choices, asked.ground, &weather.years));
    let question = Question { asked, years: &years, level: outlook.level, stake: None };
    // A field that can't be judged has no window; the readiness check says what is wrong.
    let answers = sowing(question, &runs).unwrap_or_default();
    facts.sowing = on_its_day(asked.choices, &answers);
    let strip = |answer: agronomy::working::Answer<agronomy::window::WindowAnswer>| StripWindow {
        window: answer.value.window,
        name: answer.value.name,
        from: answer.value.curve.from,
        odds: answer.value.curve.odds,
        edges: answer.value.edges,
    };
    (facts, answers.into_iter().map(strip).collect())
}

/// Choices to try on a field.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PreviewBody {
    /// The field.
    pub field: Uuid,
    /// The choices.
    pub choices: Choices,
}

/// What would these choices imply? Writes nothing.
#[utoipa::path(post, path = "/api/farms/{farm}/plan", params(("farm" = Uuid, Path)), request_body = PreviewBody, responses(
    (status = 200, body = Implied),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
pub async fn preview(
    state: web::Data<State>,
    member: Member,
    Body(body): Body<PreviewBody>,
) -> Result<Shown<Implied>, Problem> {
    let under = |refused: Refused| refused.under("/choices");
    let unusual = planner::check(&body.choices, member.today()).map_err(under)?;
    let mut connection = state.pool.get().await?;
    let field = field::one(&mut connection, &member.membership, body.field).await?;
    let lots = lot::facts(&mut connection, &member.membership).await?;
    let entries = entry::of_ground(&mut connection, &member.membership, Some(field.id)).await?;
    drop(connection);
    let outlook = state.climates.outlook(&state.pool, &member).await?;
    let ground = entry::ground(&entries, field.id);
    let asked = asked(&body.choices, &field, &ground, member.today());
    let mut implied = implied(asked, &[], &lots, &field, &outlook).map_err(under)?;
    implied.unusual = unusual;
    Ok(Shown(member.person.units, implied))
}

/// A stand to start.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewStand {
    /// Made by the client.
    pub id: Uuid,
    /// Id of the entry that keeps the choices, made by the client.
    pub entry: Uuid,
    /// The field.
    pub field: Uuid,
    /// The choices.
    pub choices: Choices,
    /// What is far from usual is meant.
    #[serde(default)]
    pub confirmed: bool,
}

/// Start a stand; sent again, it is the same stand.
#[utoipa::path(post, path = "/api/farms/{farm}/stands", params(("farm" = Uuid, Path)), request_body = NewStand, responses(
    (status = 200, body = StandDetail),
    (status = 404, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
pub async fn start(
    state: web::Data<State>,
    member: Member,
    Body(new): Body<NewStand>,
) -> Result<Shown<StandDetail>, Problem> {
    member.decides()?;
    let under = |refused: Refused| refused.under("/choices");
    let unusual = planner::check(&new.choices, member.today()).map_err(under)?;
    if !unusual.is_empty() && !new.confirmed {
        return Err(Problem::Unusual(under(Refused(unusual))));
    }
    let mut connection = state.pool.get().await?;
    check_lots(&new.choices, &lot::facts(&mut connection, &member.membership).await?).map_err(under)?;
    ledger::together(&mut connection, async |connection| {
        stand::add(connection, &member.membership, new.id, new.field).await?;
        let entry = NewEntry {
            id: new.entry,
            field: Some(new.field),
            stand: Some(new.id),
            lot: None,
            occurred_on: member.today(),
            via: Via::Web,
            payload: Payload::Choices { choices: Box::new(new.choices.clone()) },
            strikes: None,
        };
        entry::write(connection, &member.membership, &entry, member.today()).await.map(drop)
    })
    .await?;
    detail(&state, &member, new.id).await
}

/// Chosen lots must be this farm's, and of a crop in the mix.
fn check_lots(choices: &Choices, lots: &[LotFacts]) -> Result<(), Refused> {
    let Cover::Seed { lots: chosen, .. } = &choices.cover else { return Ok(()) };
    let crops = choices.cover.crops();
    for (index, choice) in chosen.iter().enumerate() {
        let found = lots.iter().find(|lot| lot.id == choice.lot);
        if !found.is_some_and(|lot| crops.contains(&lot.crop.as_str())) {
            let detail = "this lot is not here, has no standing tag, or is of no crop in the mix";
            return Err(Refused::one(format!("/cover/lots/{index}/lot"), detail));
        }
    }
    Ok(())
}

/// An inked step on the season.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Mark {
    /// The entry.
    pub entry: Uuid,
    /// Which step.
    pub kind: StepKind,
    /// The day it happened.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// It was struck: drawn with a line through it.
    pub struck: bool,
}

/// A stand in short.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct StandView {
    /// Id.
    pub id: Uuid,
    /// The field.
    pub field: Uuid,
    /// Its crops, in words.
    pub cover: String,
    /// Crop ids.
    pub crops: Vec<String>,
    /// What it is for.
    pub goal: Goal,
    /// The plan for today.
    pub plan: Plan,
    /// Inked steps, struck ones too.
    pub marks: Vec<Mark>,
    /// When it could be sown, while it is not; empty without weather years.
    pub windows: Vec<StripWindow>,
}

/// Crops in words: "alfalfa, orchardgrass and timothy".
pub fn cover_in_words(cover: &Cover) -> String {
    let names: Vec<&str> =
        cover.crops().into_iter().map(|id| library().crop(id).map_or(id, |crop| crop.name.as_str())).collect();
    match names.as_slice() {
        [] => String::new(),
        [one] => (*one).to_owned(),
        [first @ .., last] => format!("{} and {last}", first.join(", ")),
    }
}

/// A stand as its entries tell it; `None` when its choices are all struck.
pub fn view_of(
    stand: &stand::Stand,
    entries: &[Entry],
    field: &Field,
    ground: &Ground,
    today: Date,
    outlook: &Outlook,
) -> Option<StandView> {
    let choices = entry::choices(entries)?;
    let (facts, windows) = facts(entries, asked(choices, field, ground, today), outlook);
    let in_ground = facts.inked.iter().filter(|step| step.kind.is_ground());
    let mut marks: Vec<Mark> =
        in_ground.map(|step| Mark { entry: step.entry, kind: step.kind, on: step.on, struck: false }).collect();
    let own = entries.iter().filter_map(|entry| match &entry.payload {
        Payload::Step { done } => {
            Some(Mark { entry: entry.id, kind: done.step, on: entry.occurred_on, struck: entry.struck_by.is_some() })
        }
        _ => None,
    });
    marks.extend(own);
    Some(StandView {
        id: stand.id,
        field: stand.field_id,
        cover: cover_in_words(&choices.cover),
        crops: choices.cover.crops().into_iter().map(str::to_owned).collect(),
        goal: choices.goal,
        plan: planner::plan(choices, &facts, today),
        marks,
        windows,
    })
}

/// A stand with everything about it.
#[derive(Debug, Serialize, ToSchema)]
pub struct StandDetail {
    /// In short.
    pub stand: StandView,
    /// The decisions that stand.
    pub choices: Choices,
    /// What they imply.
    pub implied: Implied,
    /// Its entries, newest first.
    pub entries: Vec<EntryView>,
}

async fn detail(state: &State, member: &Member, id: Uuid) -> Result<Shown<StandDetail>, Problem> {
    let mut connection = state.pool.get().await?;
    let stand = stand::one(&mut connection, &member.membership, id).await?;
    let all = entry::of_stands(&mut connection, &member.membership).await?;
    let own: Vec<Entry> = all.into_iter().filter(|entry| entry.stand == Some(id)).collect();
    let field = field::one(&mut connection, &member.membership, stand.field_id).await?;
    let ground = entry::of_ground(&mut connection, &member.membership, Some(field.id)).await?;
    let ground = entry::ground(&ground, field.id);
    let outlook = state.climates.outlook(&state.pool, member).await?;
    let view = view_of(&stand, &own, &field, &ground, member.today(), &outlook).ok_or(Problem::NotFound)?;
    let choices = entry::choices(&own).cloned().ok_or(Problem::NotFound)?;
    let lots = lot::facts(&mut connection, &member.membership).await?;
    let names = farm::member_names(&mut connection, &member.membership).await?;
    let asked = asked(&choices, &field, &ground, member.today());
    let implied = implied(asked, &own, &lots, &field, &outlook)?;
    let entries = own.into_iter().rev().map(|entry| EntryView::of(entry, &names)).collect();
    Ok(Shown(member.person.units, StandDetail { stand: view, choices, implied, entries }))
}

/// One stand.
#[utoipa::path(get, path = "/api/farms/{farm}/stands/{stand}", params(("farm" = Uuid, Path), ("stand" = Uuid, Path)), responses(
    (status = 200, body = StandDetail), (status = 404, body = ProblemDocument, content_type = "application/problem+json")))]
pub async fn one(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
) -> Result<Shown<StandDetail>, Problem> {
    detail(&state, &member, path.1).await
}
