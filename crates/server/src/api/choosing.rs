//! Choosing what to sow: a crop on its page, the weather it would live in, and crops ranked for a field.

use actix_web::{get, web};
use agronomy::{
    caution::Caution,
    choosing::{
        RankRequest, Ranking, rank_in,
        traits::{Trait, YearYield, forbids, seasons, traits},
    },
    crop::{Kind, Life, Pathway, library},
    refusal::Refused,
    said::Said,
    units::{Length, Quantity, Unit},
    weather::{Basis, climate::Climate, sun},
    window::window_kind,
    working::Answer,
};
use jiff::civil::date;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::{
    api::story::Story,
    app::State,
    body::Shown,
    problem::{Problem, ProblemDocument},
    sign_in::{Member, SignedIn},
};

/// A way of timing a crop's sowing.
#[derive(Debug, Serialize, ToSchema)]
pub struct Timing {
    /// Its name.
    pub name: &'static str,
    /// What speaks for it.
    pub for_it: &'static str,
    /// What speaks against it.
    pub against_it: &'static str,
}

/// A crop on its page.
#[derive(Debug, Serialize, ToSchema)]
pub struct CropPage {
    /// Its id.
    pub id: &'static str,
    /// Its name.
    pub name: &'static str,
    /// Other names.
    pub also: &'static [String],
    /// Scientific name.
    pub scientific: &'static str,
    /// Botanical group.
    pub kind: Kind,
    /// Cool- or warm-season.
    pub pathway: Pathway,
    /// Life of a stand.
    pub life: Life,
    /// One sentence for choosing it, one against.
    pub about: &'static str,
    /// What it is grown for.
    pub uses: &'static [String],
    /// When it may first be cut or grazed.
    #[schema(value_type = String)]
    pub first_use: Said,
    /// What is counted in the young stand.
    #[schema(value_type = String)]
    pub counted: Said,
    /// Cross-inoculation group.
    pub inoculant: Option<&'static str>,
    /// Its figures, each on the scale that all crops share.
    pub traits: Vec<Trait>,
    /// What each year of a stand brings, the sowing year first.
    pub seasons: Vec<YearYield>,
    /// Ways of timing its sowing, the usual first.
    pub timings: Vec<Timing>,
    /// What it forbids.
    pub forbids: Vec<String>,
    /// Dangers that come with it.
    pub cautions: Vec<Caution>,
}

/// A crop on its page.
#[utoipa::path(params(("crop" = String, Path)), responses(
    (status = 200, body = CropPage), (status = 404, body = ProblemDocument, content_type = "application/problem+json")))]
#[get("/crops/{crop}")]
pub async fn page(SignedIn(person): SignedIn, path: web::Path<String>) -> Result<Shown<CropPage>, Problem> {
    let crop = library().crop(&path).ok_or(Problem::NotFound)?;
    let timing = |key: &String| {
        let kind = window_kind(key)?;
        Some(Timing { name: &kind.name, for_it: &kind.for_it, against_it: &kind.against_it })
    };
    let page = CropPage {
        id: &crop.id,
        name: &crop.name,
        also: &crop.also,
        scientific: &crop.scientific,
        kind: crop.kind,
        pathway: crop.pathway,
        life: crop.life,
        about: &crop.about,
        uses: &crop.uses,
        first_use: Said::from_text(&crop.establish.first_use, &[]),
        counted: Said::from_text(&crop.establish.count_how, &[]),
        inoculant: crop.seed.as_ref().and_then(|seed| seed.inoculant.as_deref()),
        traits: traits(crop),
        seasons: seasons(crop),
        timings: crop.climate.windows.iter().filter_map(timing).collect(),
        forbids: forbids(crop),
        cautions: crop.cautions.iter().filter_map(|key| Caution::of(key)).collect(),
    };
    Ok(Shown(person.units.into(), page))
}

/// What the weather of a farm is like.
#[derive(Debug, Serialize, ToSchema)]
pub struct ClimateView {
    /// None without weather years.
    pub climate: Option<Climate>,
    /// Rain in a usual year, told as rain is.
    pub rain: Option<Quantity>,
    /// Where they come from.
    pub basis: Option<Basis>,
    /// Hours from sunrise to sunset in the middle of each month, January first.
    pub daylight: Vec<f64>,
}

/// What is the weather of this farm like?
#[utoipa::path(params(("farm" = Uuid, Path)), responses((status = 200, body = ClimateView)))]
#[get("/farms/{farm}/climate")]
pub async fn climate_of(state: web::Data<State>, member: Member) -> Result<Shown<ClimateView>, Problem> {
    let mut connection = state.pool.get().await?;
    let heard = state.climates.hear(&mut connection, &member.membership, member.today()).await?;
    drop(connection);
    let (shared, latitude) = (state.clone(), member.membership.farm.latitude);
    let work = move || {
        let weather = shared.climates.settle(heard);
        let middle = |month: i8| (sun::sky_on(latitude, date(2025, month, 15)).daylight * 10.0).round() / 10.0;
        let climate = weather.as_ref().and_then(|weather| Climate::of(&weather.years));
        ClimateView {
            rain: climate.as_ref().map(|climate| Quantity::water(climate.rain)),
            climate,
            basis: weather.map(|weather| weather.years.basis),
            daylight: (1..=12).map(middle).collect(),
        }
    };
    Ok(Shown(member.reader(), state.work.run(member.farm(), work).await?))
}

/// What a stand is to be for, and where.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct RankQuery {
    /// What it is for; hay when absent.
    #[serde(default)]
    pub goal: Option<String>,
    /// For how many years; four when absent.
    #[serde(default)]
    pub years: Option<u32>,
    /// The field; the farm at large when absent.
    #[serde(default)]
    pub field: Option<Uuid>,
}

/// Crops ranked for a field, by what is known of it and of the weather.
#[utoipa::path(params(("farm" = Uuid, Path), RankQuery), responses(
    (status = 200, body = Answer<Ranking>),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[get("/farms/{farm}/ranking")]
pub async fn ranking(
    state: web::Data<State>,
    member: Member,
    query: web::Query<RankQuery>,
) -> Result<Shown<Answer<Ranking>>, Problem> {
    let today = member.today();
    let mut connection = state.pool.get().await?;
    let story = match query.field {
        Some(field) => Some((field, Story::of_field(&mut connection, &member, field).await?)),
        None => None,
    };
    let heard = state.climates.hear(&mut connection, &member.membership, today).await?;
    drop(connection);
    let shared = state.clone();
    let (goal, years) = (query.goal.clone().unwrap_or_else(|| "hay".to_owned()), query.years.unwrap_or(4));
    let work = move || {
        let weather = shared.climates.settle(heard);
        let site = match story {
            Some((field, story)) => {
                let setback = Length::new(story.field()?.setback_m, Unit::M);
                planner::ground::place(&story.books.field(field), setback, today)
            }
            None => planner::ground::place(&Default::default(), Length::default(), today),
        };
        let years_of = weather.as_ref().map(|weather| &weather.years);
        let ranked = rank_in(&RankRequest { goal, years, site, climate: None, weather: None }, years_of);
        ranked.map_err(|refused: Refused| Problem::from(refused))
    };
    Ok(Shown(member.reader(), state.work.run(member.farm(), work).await??))
}
