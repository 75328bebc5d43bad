//! Water over HTTP: when a field needs it.

use actix_web::{get, web};
use agronomy::{water::IrrigationAdvice, weather::Basis, working::Answer};
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
#[utoipa::path(params(("farm" = Uuid, Path), ("field" = Uuid, Path)), responses(
    (status = 200, body = IrrigationView), (status = 404, body = ProblemDocument, content_type = "application/problem+json")))]
#[get("/farms/{farm}/fields/{field}/irrigation")]
pub async fn water(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
) -> Result<Shown<IrrigationView>, Problem> {
    let mut connection = state.pool.get().await?;
    let story = Story::of_field(&mut connection, &member, path.1).await?;
    let heard = state.climates.hear(&mut connection, &member.membership, story.today).await?;
    drop(connection);
    let (shared, level) = (state.clone(), member.person.odds_level);
    let work = move || {
        let field = story.field()?;
        let ground = story.books.field(field.id);
        let irrigated = ground.facts.irrigated;
        let mut view = IrrigationView { irrigated, advice: None, assumed: assumed(&ground) };
        if !irrigated {
            return Ok::<_, Problem>(view);
        }
        let outlook = shared.climates.outlook(heard, level);
        // Of made years nobody knows what this one has brought: what the root zone lacks is not known.
        let weather = outlook.weather.filter(|weather| weather.years.basis == Basis::Record);
        if let (Some((_, book, decided)), Some(weather)) = (story.current(), weather) {
            let years = weather.scenarios(story.today);
            let asked = story.asked(&decided.choices, field, &ground, book.sown_on());
            let question = Question { asked, years: &years, level: outlook.level, stake: None };
            view.advice = irrigation(question, book.sown_on());
        }
        Ok(view)
    };
    Ok(Shown(member.reader(), state.work.run(member.farm(), work).await??))
}
