//! Ways of making a stand side by side.

use actix_web::{post, web};
use agronomy::{refusal::Refused, said};
use planner::{
    compare::{Comparison, MOST_WAYS, compare, way},
    topic::AskedWay,
    whole,
};
use records::Choices;
use serde::Deserialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    api::story::{Story, assessed},
    app::State,
    body::{Body, Shown},
    problem::{Problem, ProblemDocument},
    sign_in::Member,
};

/// Ways to set side by side on a field.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct BesideBody {
    /// The field.
    pub field: Uuid,
    /// The ways, six at the most.
    pub ways: Vec<AskedWay>,
}

/// Ways of making a stand on a field, side by side. Writes nothing.
#[utoipa::path(params(("farm" = Uuid, Path)), request_body = BesideBody, responses(
    (status = 200, body = Comparison),
    (status = 404, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/plans")]
pub async fn beside(
    state: web::Data<State>,
    member: Member,
    Body(body): Body<BesideBody>,
) -> Result<Shown<Comparison>, Problem> {
    let many = body.ways.len();
    if !(1..=MOST_WAYS).contains(&many) {
        let detail = said!("{} methods; enter 1–{}", many, MOST_WAYS);
        return Err(Refused::one("/ways", detail).into());
    }
    let mut asked: Vec<(AskedWay, Choices)> = vec![];
    for (index, way) in body.ways.into_iter().enumerate() {
        let choices = way.choices.ready();
        records::check(&choices, member.today()).map_err(|refused| refused.under(&format!("/ways/{index}/choices")))?;
        asked.push((way, choices));
    }
    let mut connection = state.pool.get().await?;
    let story = Story::of_field(&mut connection, &member, body.field).await?;
    let lots = state.shelf.lots(&mut connection, &member.membership).await?;
    let heard = state.climates.hear(&mut connection, &member.membership, story.today).await?;
    drop(connection);
    let (shared, level) = (state.clone(), member.person.odds_level);
    let work = move || {
        let outlook = shared.climates.outlook(heard, level);
        let field = story.field()?;
        let ground = story.books.field(field.id);
        let implied = |choices: &Choices| {
            let asked = story.asked(choices, field, &ground, None);
            whole(asked, assessed(asked, None, &story.succession(field.id), &outlook), &lots)
        };
        let worked = asked.into_iter().map(|(asked, mut choices)| {
            if asked.first_sound_day
                && let Some(proposal) = implied(&choices).core.proposal
            {
                choices.sow_on = proposal.sow_on;
            }
            way(&asked.name, &choices, &implied(&choices))
        });
        Ok::<_, Problem>(compare(worked.collect()))
    };
    Ok(Shown(member.reader(), state.work.run(member.farm(), work).await??))
}
