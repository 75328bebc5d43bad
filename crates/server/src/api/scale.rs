//! A scale that sends its weight, over HTTP.

use actix_web::{get, web};
use agronomy::units::{Mass, Unit};
use serde::{Deserialize, Serialize};
use stand_ins::weather_station::SIMULATED;
use utoipa::{IntoParams, ToSchema};

use crate::{
    app::State,
    body::Shown,
    problem::{Problem, ProblemDocument},
    sign_in::Member,
};

/// What a person weighs seed in.
#[derive(Debug, Clone, Copy, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum SmallMass {
    /// Grams.
    #[default]
    G,
    /// Ounces.
    Oz,
}

impl SmallMass {
    fn unit(self) -> Unit {
        match self {
            Self::G => Unit::G,
            Self::Oz => Unit::Oz,
        }
    }
}

/// What is weighed, and how it is to be told.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
#[serde(deny_unknown_fields)]
pub struct ScaleQuery {
    /// Name of the cup.
    pub cup: Option<String>,
    /// Told in this unit, whatever the scale is switched to; grams when absent.
    pub unit: Option<SmallMass>,
}

/// What lies on the scale.
#[derive(Debug, Serialize, ToSchema)]
pub struct ScaleView {
    /// In the unit asked for.
    pub value: f64,
    /// That unit.
    pub unit: SmallMass,
    /// The scale is switched to another: it was turned into the one asked for.
    pub turned: bool,
}

/// As a scale sends it; a unit that is none of mass is not read.
#[derive(Deserialize)]
struct Sent {
    mass: Mass,
    steady: bool,
}

/// The unit as it was sent.
#[derive(Deserialize)]
struct SentIn {
    mass: UnitAlone,
}

#[derive(Deserialize)]
struct UnitAlone {
    unit: String,
}

/// Heaviest cup, kilograms.
const MOST: f64 = 50.0;

/// What lies on the scale?
#[utoipa::path(params(("farm" = uuid::Uuid, Path), ScaleQuery), responses(
    (status = 200, body = ScaleView),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 502, body = ProblemDocument, content_type = "application/problem+json")))]
#[get("/farms/{farm}/scale")]
pub async fn weigh(
    state: web::Data<State>,
    member: Member,
    query: web::Query<ScaleQuery>,
) -> Result<Shown<ScaleView>, Problem> {
    member.records()?;
    let outside = |what: &str| Problem::Outside(format!("The scale {what}; enter the weight by hand"));
    let address = state.outside.scale.as_ref().ok_or_else(|| outside("is not set up"))?;
    let ScaleQuery { cup, unit } = query.into_inner();
    let cup: String = cup.unwrap_or_default().chars().take(120).collect();
    let at = reqwest::Url::parse_with_params(&format!("{address}/scale/weight"), [("cup", cup)])
        .map_err(|_| outside("has an invalid address"))?;
    let response = state.http.get(at).timeout(state.outside.patience).send().await.map_err(|error| {
        outside(if error.is_timeout() { "did not answer in time" } else { "can\u{2019}t be reached" })
    })?;
    if response.headers().contains_key(SIMULATED) && member.membership.farm.practice_day.is_none() {
        return Err(outside("is simulated and works only on practice farms"));
    }
    if !response.status().is_success() {
        return Err(outside(&format!("answered {}", response.status())));
    }
    let nonsense = |_| outside("did not send a weight");
    let text = response.text().await.map_err(|_| outside("lost the connection"))?;
    let sent: Sent = serde_json::from_str(&text).map_err(nonsense)?;
    let sent_in: SentIn = serde_json::from_str(&text).map_err(nonsense)?;
    if !sent.steady {
        return Err(outside("has not settled"));
    }
    let kilograms = sent.mass.to(Unit::Kg);
    if kilograms < 0.0 {
        return Err(outside("shows a negative weight; tare it with the empty cup"));
    }
    if !(0.0..=MOST).contains(&kilograms) {
        return Err(outside("sent an impossible weight"));
    }
    let unit = unit.unwrap_or_default();
    let value = (sent.mass.to(unit.unit()) * 1e4).round() / 1e4;
    let turned = !sent_in.mass.unit.eq_ignore_ascii_case(unit.unit().symbol());
    Ok(Shown(member.reader(), ScaleView { value, unit, turned }))
}
