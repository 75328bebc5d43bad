//! The rest of a sowing over HTTP: when it is done, by the years and the forecast.

use actix_web::{get, web};
use agronomy::{
    refusal::Checks,
    units::{Time, Unit},
};
use ledger::stand;
use planner::rest::{Rest, rest};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::{
    api::story::{Story, under_sky},
    app::State,
    body::Shown,
    problem::{Problem, ProblemDocument},
    sign_in::Member,
};

/// How much is left.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
#[serde(deny_unknown_fields)]
pub struct RestQuery {
    /// Hours of work left; a day's when absent.
    pub hours: Option<f64>,
}

/// When the rest is done.
#[derive(Debug, Serialize, ToSchema)]
pub struct RestView {
    /// None without ten years of weather.
    pub rest: Option<Rest>,
}

/// When is the rest of this stand's sowing done?
#[utoipa::path(params(("farm" = Uuid, Path), ("stand" = Uuid, Path), RestQuery), responses(
    (status = 200, body = RestView),
    (status = 404, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[get("/farms/{farm}/stands/{stand}/rest")]
pub async fn of_sowing(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
    query: web::Query<RestQuery>,
) -> Result<Shown<RestView>, Problem> {
    let hours = Time::new(query.hours.unwrap_or(planner::effort::HOURS_A_DAY), Unit::H);
    let mut checks = Checks::new();
    checks.within("/hours", "Hours left", hours, Unit::H, 0.0, 500.0);
    checks.done()?;
    let mut connection = state.pool.get().await?;
    let stand = stand::one(&mut connection, &member.membership, path.1).await?;
    let story = Story::of_field(&mut connection, &member, stand.field_id).await?;
    let heard = state.climates.hear(&mut connection, &member.membership, story.today).await?;
    drop(connection);
    let (shared, level) = (state.clone(), member.person.odds_level);
    let work = move || {
        let book = story.books.stand(stand.id).ok_or(Problem::NotFound)?;
        let decided = book.decided().ok_or(Problem::NotFound)?;
        let field = story.field()?;
        let ground = story.books.field(field.id);
        let asked = story.asked(&decided.choices, field, &ground, book.sown_on());
        let outlook = shared.climates.outlook(heard, level);
        let rest = under_sky(asked, &outlook, |sky| rest(asked, sky?, hours));
        Ok::<_, Problem>(RestView { rest })
    };
    Ok(Shown(member.reader(), state.work.run(member.farm(), work).await??))
}
