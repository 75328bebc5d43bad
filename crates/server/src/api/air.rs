//! The air over HTTP: what the station shows now, and the hours of a day in which it may be sprayed.

use actix_web::{get, web};
use agronomy::{
    spraying::{SprayHour, SprayLimits, best_hours, drawn_hours, spray_hours},
    units::{Fraction, Speed, Temperature, Unit},
    weather::{generator::Hour, plus},
};
use jiff::civil::{Date, DateTime};
use ledger::weather;
use records::kinds::product::Nature;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::{
    api::weather::asked_day,
    app::State,
    body::Shown,
    climate::FarmWeather,
    clock,
    problem::{Problem, ProblemDocument},
    sign_in::Member,
    station,
};

/// Hours count as fit where they are so in so many of the ways that the weather may go.
const LIKELY: f64 = 80.0;

/// The air at the station.
#[derive(Debug, Serialize, ToSchema)]
pub struct AirView {
    /// By the farm's clock.
    #[schema(value_type = String)]
    pub at: DateTime,
    /// Warmth.
    pub temperature: Temperature,
    /// Wind at 2 m.
    pub wind: Speed,
    /// Relative humidity.
    pub humidity: Fraction,
}

/// What does the station show now?
#[utoipa::path(params(("farm" = Uuid, Path)), responses(
    (status = 200, body = AirView),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 502, body = ProblemDocument, content_type = "application/problem+json")))]
#[get("/farms/{farm}/air")]
pub async fn now(state: web::Data<State>, member: Member) -> Result<Shown<AirView>, Problem> {
    let membership = &member.membership;
    let station = weather::station(&mut *state.pool.get().await?, membership).await?;
    let Some(code) = station.and_then(|station| station.code) else {
        return Err(Problem::Conflict("this farm has no live station; enter your own readings".into()));
    };
    let (today, hour) = (clock::today(&membership.farm), clock::hour(&membership.farm));
    let (at, air) = station::now(&state, membership, &code, today, hour).await?;
    let view = AirView {
        at,
        temperature: Temperature::new(air.temperature, Unit::DegC),
        wind: Speed::new(air.wind, Unit::MPerS),
        humidity: Fraction::percent(air.humidity),
    };
    Ok(Shown(member.reader(), view))
}

/// Which day, and by which label.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
#[serde(deny_unknown_fields)]
pub struct SprayHoursQuery {
    /// The day; today when absent.
    #[param(value_type = Option<String>, format = Date)]
    pub on: Option<String>,
    /// A product of the shed, whose label was read; usual limits when absent.
    pub product: Option<Uuid>,
}

/// Where the hours come from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum HoursFrom {
    /// The station measured them.
    Measured,
    /// Drawn from the forecast's days by the sun.
    Forecast,
    /// Nobody knows them.
    Nobody,
}

/// The hours of a day for a spray.
#[derive(Debug, Serialize, ToSchema)]
pub struct SprayHoursView {
    /// The day.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// Where they come from.
    pub from: HoursFrom,
    /// Hour by hour; none where nobody knows.
    pub hours: Vec<SprayHour>,
    /// The longest stretch that is fit in four of five ways that the weather may go: from this hour to that; of today
    /// the hours that are left.
    pub best: Option<[u32; 2]>,
    /// The most wind that counted.
    pub most_wind: Speed,
    /// It was read off the label.
    pub by_label: bool,
}

/// In which hours of a day may it be sprayed?
#[utoipa::path(params(("farm" = Uuid, Path), SprayHoursQuery), responses(
    (status = 200, body = SprayHoursView),
    (status = 404, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[get("/farms/{farm}/spray-hours")]
pub async fn for_spray(
    state: web::Data<State>,
    member: Member,
    query: web::Query<SprayHoursQuery>,
) -> Result<Shown<SprayHoursView>, Problem> {
    let membership = &member.membership;
    let today = clock::today(&membership.farm);
    let SprayHoursQuery { on, product } = query.into_inner();
    let on = if on.is_some() { asked_day(on.as_ref(), "/on")? } else { today };
    let mut connection = state.pool.get().await?;
    let limits = match product {
        None => SprayLimits::default(),
        Some(id) => {
            let shelved = state.shelf.books(&mut connection, membership).await?;
            let mut products = shelved.books.products();
            let facts = products.find(|(of, _)| *of == id).and_then(|(_, book)| book.facts.as_ref());
            match &facts.ok_or(Problem::NotFound)?.what.nature {
                Nature::Spray(label) => {
                    let (most_wind, coolest, hottest) = (label.most_wind, label.coolest, label.hottest);
                    SprayLimits { most_wind, coolest, hottest }
                }
                _ => return Err(Problem::NotFound),
            }
        }
    };
    let (from, ways) = if on < today {
        (HoursFrom::Measured, whole(&weather::hours(&mut connection, membership, on, on).await?))
    } else {
        let heard = state.climates.hear(&mut connection, membership, today).await?;
        drop(connection);
        let shared = state.clone();
        let weather = state.work.run(membership.farm.id, move || shared.climates.settle(heard)).await?;
        (HoursFrom::Forecast, weather.map(|weather| foretold(&weather, on)).unwrap_or_default())
    };

    let hours = spray_hours(limits, &ways);
    let from = if hours.is_empty() { HoursFrom::Nobody } else { from };
    let gone = if on == today { usize::try_from(clock::hour(&membership.farm)).unwrap_or(0) } else { 0 };
    let view = SprayHoursView {
        on,
        from,
        best: best_hours(hours.get(gone..).unwrap_or_default(), Fraction::percent(LIKELY)),
        hours,
        most_wind: limits.wind(),
        by_label: limits.most_wind.is_some(),
    };
    Ok(Shown(member.reader(), view))
}

/// A day that was measured from its first hour to its last.
fn whole(measured: &[(Date, i32, Hour)]) -> Vec<[Hour; 24]> {
    let hours: Vec<Hour> = measured.iter().map(|(_, _, hour)| *hour).collect();
    hours.try_into().into_iter().collect()
}

/// The hours of a day by each member of the forecast.
fn foretold(weather: &FarmWeather, on: Date) -> Vec<[Hour; 24]> {
    let forecast = &weather.forecast;
    let days: Vec<_> = (0..forecast.members.len())
        .filter_map(|member| {
            let day = forecast.of(member, on)?;
            let before = forecast.of(member, plus(on, -1)).or_else(|| weather.years.day(plus(on, -1)));
            let after = forecast.of(member, plus(on, 1));
            Some([before.unwrap_or(day), day, after.unwrap_or(day)])
        })
        .collect();
    drawn_hours(weather.years.place, on, &days)
}
