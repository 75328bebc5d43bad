//! Water over HTTP: when a field needs it.

use actix_web::web;
use agronomy::{water::IrrigationAdvice, working::Answer};
use planner::weather::{Question, assumed, irrigation};
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    api::story::Story,
    app::State,
    body::Shown,
    problem::{Problem, ProblemDocument},
    sign_in::Member,
};

/// Water for a field.
#[derive(Debug, Serialize, ToSchema)]
pub struct IrrigationView {
    /// Water can be brought here.
    pub irrigated: bool,
    /// When and how much; none without weather years or a stand.
    pub advice: Option<Answer<IrrigationAdvice>>,
    /// What is taken for granted of the field.
    pub assumed: Vec<String>,
}

/// When does this field need water?
#[utoipa::path(get, path = "/api/farms/{farm}/fields/{field}/irrigation", params(("farm" = Uuid, Path), ("field" = Uuid, Path)), responses(
    (status = 200, body = IrrigationView), (status = 404, body = ProblemDocument, content_type = "application/problem+json")))]
pub async fn water(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
) -> Result<Shown<IrrigationView>, Problem> {
    let today = member.today();
    let story = Story::of(&state, &member, path.1).await?;
    let irrigated = story.ground.facts.irrigated;
    let mut view = IrrigationView { irrigated, advice: None, assumed: assumed(&story.ground) };
    let outlook = state.climates.outlook(&state.pool, &member).await?;
    let weather = outlook.weather.filter(|_| irrigated);
    if let (Some(asked), Some(weather)) = (story.asked(today), weather) {
        let years = weather.scenarios(today);
        let sown = story.current.as_ref().and_then(|(_, sown)| *sown);
        view.advice = irrigation(Question { asked, years: &years, level: outlook.level, stake: None }, sown);
    }
    Ok(Shown(member.person.units, view))
}
