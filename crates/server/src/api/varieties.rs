//! Kinds of variety of a crop, and the farm's own: what fits here, and what trials say.

use actix_web::{get, web};
use agronomy::{
    refusal::Refused,
    variety::{OwnVariety, VarietyAnswer, VarietyRequest, choose_variety, variety_kinds},
    weather::climate::Climate,
    working::Answer,
};
use jiff::civil::Date;
use records::{
    book::VarietyBook,
    kinds::{variety::Variety, variety_trial::VarietyTrial},
};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::{
    app::State,
    body::Shown,
    problem::{Problem, ProblemDocument},
    sign_in::Member,
};

/// Which crop's.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct VarietyQuery {
    /// Crop of the library; alfalfa when absent.
    #[serde(default)]
    pub crop: Option<String>,
    /// Days from the sowing that is meant to the killing frost.
    #[serde(default)]
    pub days_to_frost: Option<f64>,
}

/// A trial, with its day.
#[derive(Debug, Serialize, ToSchema)]
pub struct TrialView {
    /// The entry that tells it.
    pub entry: Uuid,
    /// The day of the harvest.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// As it was written down.
    pub facts: VarietyTrial,
}

/// A variety of the farm's own.
#[derive(Debug, Serialize, ToSchema)]
pub struct OwnVarietyView {
    /// Id.
    pub id: Uuid,
    /// The entry that tells it.
    pub entry: Uuid,
    /// As it was written down.
    pub facts: Variety,
    /// Its trials, newest first.
    pub trials: Vec<TrialView>,
}

/// Varieties of a crop.
#[derive(Debug, Serialize, ToSchema)]
pub struct Varieties {
    /// What fits, and in which order; own ones by their place in the list below. None where no kinds of the crop are
    /// told apart and the farm knows none of its own.
    pub told: Option<Answer<VarietyAnswer>>,
    /// The farm's own, by name; those sown no more are left out of the order.
    pub own: Vec<OwnVarietyView>,
}

fn own_view((id, book): (Uuid, &VarietyBook)) -> Option<OwnVarietyView> {
    let facts = book.facts.as_ref()?;
    let trials = book.trials.iter().rev();
    let trials = trials.map(|trial| TrialView { entry: trial.entry, on: trial.on, facts: trial.what.clone() });
    Some(OwnVarietyView { id, entry: facts.entry, facts: facts.what.clone(), trials: trials.collect() })
}

/// Kinds of variety of a crop, and the farm's own, by this farm's winters and by trials.
#[utoipa::path(params(("farm" = Uuid, Path), VarietyQuery), responses(
    (status = 200, body = Varieties),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[get("/farms/{farm}/varieties")]
pub async fn varieties(
    state: web::Data<State>,
    member: Member,
    query: web::Query<VarietyQuery>,
) -> Result<Shown<Varieties>, Problem> {
    let mut connection = state.pool.get().await?;
    let shelved = state.shelf.books(&mut connection, &member.membership).await?;
    let heard = state.climates.hear(&mut connection, &member.membership, member.today()).await?;
    drop(connection);
    let crop = query.crop.clone().unwrap_or_else(|| "alfalfa".to_owned());
    let mut own: Vec<OwnVarietyView> =
        shelved.books.varieties().filter_map(own_view).filter(|one| one.facts.crop == crop).collect();
    own.sort_by(|a, b| {
        let key = |one: &OwnVarietyView| (one.facts.gone, one.facts.name.to_lowercase(), one.id);
        key(a).cmp(&key(b))
    });
    let sown = own.iter().filter(|one| !one.facts.gone);
    let asked: Vec<OwnVariety> = sown
        .map(|one| OwnVariety {
            name: one.facts.name.clone(),
            kind: one.facts.kind_of_it.clone(),
            dormancy: one.facts.dormancy,
            trials: one.trials.iter().map(|trial| trial.facts.ready()).collect(),
        })
        .collect();
    let (shared, days_to_frost) = (state.clone(), query.days_to_frost);
    let work = move || {
        let climate = shared.climates.settle(heard).and_then(|weather| Climate::of(&weather.years));
        let winter = climate.map(|climate| climate.coldest_night);
        if asked.is_empty() && variety_kinds(&crop).next().is_none() {
            return Ok(None);
        }
        choose_variety(&VarietyRequest { crop, winter, days_to_frost, own: asked }).map(Some)
    };
    let told = state.work.run(member.farm(), work).await?.map_err(|refused: Refused| Problem::from(refused))?;
    Ok(Shown(member.reader(), Varieties { told, own }))
}
