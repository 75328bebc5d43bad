//! The season: every field, its stand, and what is next.

use actix_web::{get, web};
use jiff::{ToSpan, civil::Date};
use planner::{State as StepState, Step};
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
    body::Shown,
    climate::Outlook,
    problem::Problem,
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
    pub stands: Vec<StandView>,
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
}

/// A farm's season.
#[utoipa::path(params(("farm" = Uuid, Path)), responses((status = 200, body = Season)))]
#[get("/farms/{farm}/season")]
pub async fn season(state: web::Data<State>, member: Member) -> Result<Shown<Season>, Problem> {
    let mut connection = state.pool.get().await?;
    let story = Story::of_farm(&mut connection, &member).await?;
    let heard = state.climates.hear(&mut connection, &member.membership, story.today).await?;
    drop(connection);
    let (shared, level) = (state.clone(), member.person.odds_level);
    let work = move || drawn(story, &shared.climates.outlook(heard, level));
    Ok(Shown(member.person.units, state.work.run(work).await?))
}

fn drawn(story: Story, outlook: &Outlook) -> Season {
    let today = story.today;
    let mut views: Vec<StandView> = story
        .stands
        .iter()
        .filter_map(|stand| {
            let book = story.books.stand(stand.id)?;
            let decided = book.decided()?;
            let field = story.fields.iter().find(|field| field.id == stand.field_id)?;
            let ground = story.books.field(field.id);
            let asked = story.asked(&decided.choices, field, &ground, book.sown_on());
            let core = assessed(asked, Some(book), story.next_from(stand), outlook);
            Some(view_of(stand, book, decided, &core))
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
    Season { today, latitude, strips, next }
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
