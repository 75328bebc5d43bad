//! The season: every field, its stand, and what is next.

use std::{collections::HashMap, io::Write, sync::Arc};

use actix_web::{
    HttpRequest, HttpResponse, get,
    http::header::{ACCEPT_ENCODING, CONTENT_ENCODING, ContentType, VARY},
    web::{self, Bytes},
};
use agronomy::{seed::Method, units::Reader};
use flate2::{Compression, write::GzEncoder};
use jiff::{ToSpan, civil::Date};
use ledger::field::Field;
use planner::{
    State as StepState, Step,
    effort::{Clash, Work, clashes},
};
use records::kinds::machine::MachineFacts;
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    api::{
        fields::FieldView,
        stands::{StandView, view_of},
        story::{Story, assessed},
    },
    app::State,
    body::written,
    climate::Outlook,
    problem::Problem,
    screens::takes,
    shelf::{Answered, Shelved, Sight},
    sign_in::Member,
};

/// How far ahead a waiting step is worth naming, days.
const SOON: i32 = 21;

/// A field's strip.
#[derive(Debug, Serialize, ToSchema)]
pub struct Strip {
    /// The field.
    pub field: FieldView,
    /// Its stands, the current one last.
    #[schema(value_type = Vec<StandView>)]
    pub stands: Vec<Arc<StandView>>,
}

/// A step to see to.
#[derive(Debug, Serialize, ToSchema)]
pub struct NextStep {
    /// The field.
    pub field: Uuid,
    /// Its name.
    pub field_name: String,
    /// The stand.
    pub stand: Uuid,
    /// The step.
    pub step: Step,
}

/// A farm's season.
#[derive(Debug, Serialize, ToSchema)]
pub struct Season {
    /// The day at the farm.
    #[schema(value_type = String, format = Date)]
    pub today: Date,
    /// Degrees north.
    pub latitude: f64,
    /// Fields, by name.
    pub strips: Vec<Strip>,
    /// Overdue, ready, blocked and soon, in that order.
    pub next: Vec<NextStep>,
    /// Days on which several steps want one machine.
    pub clashes: Vec<Clash>,
}

/// A farm's season.
#[utoipa::path(params(("farm" = Uuid, Path)), responses((status = 200, body = Season)))]
#[get("/farms/{farm}/season")]
pub async fn season(request: HttpRequest, state: web::Data<State>, member: Member) -> Result<HttpResponse, Problem> {
    let mut connection = state.pool.get().await?;
    let (story, shelved) = Story::of_farm(&mut connection, &member, &state.shelf).await?;
    let heard = state.climates.hear(&mut connection, &member.membership, story.today).await?;
    drop(connection);
    let (level, reader) = (member.person.odds_level, member.reader());
    let sight = (story.today, heard.revision(), level.to_bits(), member.membership.farm.version);
    let compressed = takes(request.headers().get(ACCEPT_ENCODING), "gzip");
    let at_hand = || shelved.answer(sight, reader, &story.fields, &story.stands).filter(|_| compressed);
    if let Some(body) = at_hand() {
        return Ok(told(body));
    }
    let _turn = shelved.turn_to_draw().await?;
    if let Some(body) = at_hand() {
        return Ok(told(body));
    }
    let shared = state.clone();
    let work = move || {
        let shown = (Arc::new(story.fields.clone()), Arc::new(story.stands.clone()));
        let season = drawn(story, &shelved, sight, &shared.climates.outlook(heard, level));
        if !compressed {
            return tell(season, reader, Vec::new()).map(Written::Plain);
        }
        let encoder = GzEncoder::new(Vec::new(), Compression::fast());
        let body = Bytes::from(tell(season, reader, encoder)?.finish().map_err(unwritten)?);
        let (fields, stands) = shown;
        shelved.answered(sight, reader, Answered { fields, stands, body: body.clone() });
        Ok::<_, Problem>(Written::Compressed(body))
    };
    Ok(match state.work.run(work).await?? {
        Written::Plain(body) => HttpResponse::Ok().content_type(ContentType::json()).body(body),
        Written::Compressed(body) => told(body),
    })
}

/// A season as it goes out.
enum Written {
    Plain(Vec<u8>),
    Compressed(Bytes),
}

fn unwritten(error: std::io::Error) -> Problem {
    Problem::Internal(error.to_string())
}

/// Write a season strip by strip: a large farm's is megabytes, and is never held whole beside what it is made of.
fn tell<W: Write>(mut drawn: Season, reader: Reader, mut out: W) -> Result<W, Problem> {
    let strips = std::mem::take(&mut drawn.strips);
    let shell = written(reader, &drawn)?;
    // Inside of a text a quote is escaped: this stands there once.
    let (before, after) =
        shell.split_once(NO_STRIPS).ok_or_else(|| Problem::Internal("a season of another shape".to_owned()))?;
    let mut put = |text: &str| out.write_all(text.as_bytes()).map_err(unwritten);
    put(before)?;
    put("\"strips\":[")?;
    for (index, strip) in strips.iter().enumerate() {
        if index > 0 {
            put(",")?;
        }
        put(&written(reader, strip)?)?;
    }
    put("]")?;
    put(after)?;
    Ok(out)
}

const NO_STRIPS: &str = "\"strips\":[]";

/// A body that is compressed already.
fn told(body: Bytes) -> HttpResponse {
    HttpResponse::Ok()
        .content_type(ContentType::json())
        .insert_header((CONTENT_ENCODING, "gzip"))
        .insert_header((VARY, "accept-encoding"))
        .body(body)
}

fn drawn(story: Story, shelved: &Shelved, sight: Sight, outlook: &Outlook) -> Season {
    let today = story.today;
    let fields: HashMap<Uuid, &Field> = story.fields.iter().map(|field| (field.id, field)).collect();
    let mut views: Vec<Arc<StandView>> = story
        .stands
        .iter()
        .filter_map(|stand| {
            let seen = || {
                let book = story.books.stand(stand.id)?;
                let decided = book.decided()?;
                let field = fields.get(&stand.field_id)?;
                let ground = story.books.field(field.id);
                let asked = story.asked(&decided.choices, field, &ground, book.sown_on());
                let core = assessed(asked, Some(book), story.next_from(stand), outlook);
                Some(view_of(stand, book, decided, &core))
            };
            shelved.view(stand.id, sight, seen)
        })
        .collect();
    views.sort_by_key(|view| view.plan.sown_on);

    let latitude = story.latitude;
    let strips: Vec<Strip> = story
        .fields
        .into_iter()
        .map(|field| Strip {
            stands: views.iter().filter(|view| view.field == field.id).cloned().collect(),
            field: field.into(),
        })
        .collect();
    let mut next: Vec<NextStep> = strips
        .iter()
        .filter_map(|strip| strip.stands.last().map(|stand| (strip, stand)))
        .flat_map(|(strip, stand)| {
            stand.plan.steps.iter().filter(|step| rank(step, today).is_some()).map(|step| NextStep {
                field: strip.field.id,
                field_name: strip.field.name.clone(),
                stand: stand.id,
                step: step.clone(),
            })
        })
        .collect();
    next.sort_by_key(|next| (rank(&next.step, today), next.step.to, next.field_name.clone()));
    let machines: Vec<&MachineFacts> =
        story.books.machines().filter_map(|(_, book)| Some(&book.facts.as_ref()?.what)).collect();
    let work: Vec<Work<'_>> = strips
        .iter()
        .flat_map(|strip| strip.stands.iter().map(move |stand| (strip, stand)))
        .filter_map(|(strip, stand)| {
            let choices = &story.books.stand(stand.id)?.decided()?.choices;
            Some(Work {
                field: strip.field.id,
                name: &strip.field.name,
                stand: stand.id,
                area: strip.field.sown_area,
                broadcast: choices.cover.method() == Some(Method::Broadcast),
                plants: choices.cover.is_plants(),
                plan: &stand.plan,
            })
        })
        .collect();
    let clashes = if machines.is_empty() { vec![] } else { clashes(&work, &machines, today) };
    Season { today, latitude, strips, next, clashes }
}

/// Order of urgency; `None` for what needs no attention.
fn rank(step: &Step, today: Date) -> Option<u8> {
    match step.state {
        StepState::Overdue => Some(0),
        StepState::Ready => Some(1),
        StepState::Blocked { .. } => Some(2),
        StepState::Waiting if step.from <= today.saturating_add(SOON.days()) => Some(3),
        StepState::Waiting | StepState::Done { .. } | StepState::Passed => None,
    }
}
