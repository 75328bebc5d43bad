//! Growth over HTTP: what stands in a field, and what its cuts will give.

use actix_web::{get, web};
use agronomy::{said::Said, weather::Basis, working::Answer};
use ledger::stand;
use planner::growth::{StandGrowth, growth};
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    api::story::{Story, assessed},
    app::State,
    body::Shown,
    problem::{Problem, ProblemDocument},
    sign_in::Member,
};

/// What stands in a field, or why it can't be told.
#[derive(Debug, Serialize, ToSchema)]
pub struct GrowthView {
    /// What stands, and what is to come.
    pub told: Option<Answer<StandGrowth>>,
    /// Why nothing is told.
    #[schema(value_type = Option<String>)]
    pub untold: Option<Said>,
}

/// How does this stand grow, and what will its cuts give?
#[utoipa::path(params(("farm" = Uuid, Path), ("stand" = Uuid, Path)), responses(
    (status = 200, body = GrowthView), (status = 404, body = ProblemDocument, content_type = "application/problem+json")))]
#[get("/farms/{farm}/stands/{stand}/growth")]
pub async fn read(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
) -> Result<Shown<GrowthView>, Problem> {
    let id = path.1;
    let mut connection = state.pool.get().await?;
    let own = stand::one(&mut connection, &member.membership, id).await?;
    let story = Story::of_field(&mut connection, &member, own.field_id).await?;
    let heard = state.climates.hear(&mut connection, &member.membership, story.today).await?;
    drop(connection);
    let (shared, level) = (state.clone(), member.person.odds_level);
    let work = move || {
        let book = story.books.stand(id).ok_or(Problem::NotFound)?;
        let decided = book.decided().ok_or(Problem::NotFound)?;
        let field = story.field()?;
        let ground = story.books.field(field.id);
        let outlook = shared.climates.outlook(heard, level);
        let asked = story.asked(&decided.choices, field, &ground, book.sown_on());
        // Of made years nobody knows what this one has brought.
        let weather = outlook.weather.clone().filter(|weather| weather.years.basis == Basis::Record);
        let told = match weather {
            None => {
                Err("Growth needs this year\u{2019}s daily weather. Set up a weather station or import a weather file."
                    .into())
            }
            Some(weather) => {
                let plan = assessed(asked, Some(book), &story.succession(field.id), &outlook).plan;
                growth(asked, &plan.steps, &weather.years, &weather.scenarios(story.today))
            }
        };
        Ok::<_, Problem>(match told {
            Ok(told) => GrowthView { told: Some(told), untold: None },
            Err(why) => GrowthView { told: None, untold: Some(why) },
        })
    };
    Ok(Shown(member.reader(), state.work.run(member.farm(), work).await??))
}
