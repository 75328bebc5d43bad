//! Growth over HTTP: what stands in a field, what its cuts will give, and ways of cutting it.

use actix_web::{get, post, web};
use agronomy::{said::Said, weather::Basis, working::Answer};
use jiff::civil::Date;
use ledger::stand;
use planner::{
    Plan,
    cutting::{Cutting, CuttingRequest, Untold, cutting},
    ground::Asked,
    growth::{StandGrowth, growth},
    usual,
};
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    api::story::{Story, assessed},
    app::State,
    body::{Body, Shown},
    climate::FarmWeather,
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
    followed(
        state,
        member,
        path.1,
        |asked, plan, weather, today| {
            let told = growth(asked, &plan.steps, &weather.years, &weather.scenarios(today));
            Ok(match told {
                Ok(told) => GrowthView { told: Some(told), untold: None },
                Err(why) => GrowthView { told: None, untold: Some(why) },
            })
        },
        |why| GrowthView { told: None, untold: Some(why) },
    )
    .await
}

/// Ways of cutting, or why they can't be told.
#[derive(Debug, Serialize, ToSchema)]
pub struct CuttingView {
    /// The ways, side by side.
    pub told: Option<Answer<Cutting>>,
    /// Why nothing is told.
    #[schema(value_type = Option<String>)]
    pub untold: Option<Said>,
}

/// When should this stand be cut? Ways that growers go by, and days of one's own, each from what stands there today.
#[utoipa::path(params(("farm" = Uuid, Path), ("stand" = Uuid, Path)), request_body = CuttingRequest, responses(
    (status = 200, body = CuttingView), (status = 404, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/stands/{stand}/cutting")]
pub async fn cut(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
    Body(request): Body<CuttingRequest>,
) -> Result<Shown<CuttingView>, Problem> {
    followed(
        state,
        member,
        path.1,
        move |asked, plan, weather, today| {
            let usual = usual(asked.choices, |base, killing| weather.usual(base, killing));
            let asked = Asked { usual, ..asked };
            match cutting(asked, &plan.steps, &weather.years, &weather.scenarios(today), &request) {
                Ok(told) => Ok(CuttingView { told: Some(told), untold: None }),
                Err(Untold::Why(why)) => Ok(CuttingView { told: None, untold: Some(why) }),
                Err(Untold::Refused(refused)) => Err(refused.into()),
            }
        },
        |why| CuttingView { told: None, untold: Some(why) },
    )
    .await
}

/// A stand under the weather of its farm, with its plan; what `untold` makes of why there is none.
async fn followed<T: Serialize + Send + 'static>(
    state: web::Data<State>,
    member: Member,
    id: Uuid,
    told: impl FnOnce(Asked<'_>, &Plan, &FarmWeather, Date) -> Result<T, Problem> + Send + 'static,
    untold: impl FnOnce(Said) -> T + Send + 'static,
) -> Result<Shown<T>, Problem> {
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
        match weather {
            None => Ok(untold(
                "Growth needs this year\u{2019}s daily weather. Set up a weather station or import a weather file."
                    .into(),
            )),
            Some(weather) => {
                let plan = assessed(asked, Some(book), &story.succession(field.id), &outlook).plan;
                told(asked, &plan, &weather, story.today)
            }
        }
    };
    Ok(Shown(member.reader(), state.work.run(member.farm(), work).await??))
}
