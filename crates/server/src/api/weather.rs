//! Weather over HTTP: the band over a stretch of days, and the hours of one.

use actix_web::{get, web};
use agronomy::{
    refusal::Refused,
    units::{Measure, System, Temperature, Unit},
    weather::{
        band::WeatherBand,
        days_between,
        frost::{FrostDates, dates},
        plus, year_start,
    },
};
use jiff::civil::Date;
use ledger::weather;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};

use crate::{
    api::station::StationView,
    app::State,
    body::Shown,
    problem::{Problem, ProblemDocument},
    sign_in::Member,
};

/// Most days of a band: more can't be told apart on a screen.
const MOST_DAYS: i32 = 1_100;
/// Most days whose hours are told at once.
const MOST_HOURLY_DAYS: i32 = 62;

/// Which days are asked for.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
#[serde(deny_unknown_fields)]
pub struct BandQuery {
    /// The first.
    #[param(value_type = String, format = Date, required = true)]
    pub from: Option<Date>,
    /// The last.
    #[param(value_type = String, format = Date, required = true)]
    pub to: Option<Date>,
}

/// A day of a query. It is looked at after it is known whose farm is asked about, so that a farm that
/// is not one's own is not there whatever else is wrong.
fn asked_day(day: Option<Date>, pointer: &str) -> Result<Date, Refused> {
    day.ok_or_else(|| Refused::one(pointer, "say which day, such as 2026-05-14"))
}

/// The weather of a farm over a stretch.
#[derive(Debug, Serialize, ToSchema)]
pub struct WeatherView {
    /// The station; none set up yet.
    pub station: Option<StationView>,
    /// A weather service can be asked here.
    pub weather_service: bool,
    /// The band in `temperature_unit` and `rain_unit`; none without a record.
    pub band: Option<WeatherBand>,
    /// Unit of the band's temperatures.
    pub temperature_unit: String,
    /// Unit of its rain.
    pub rain_unit: String,
    /// Lines worth drawing: freezing, and what cool-season seed wants of the soil.
    pub freezing: Temperature,
    /// See `freezing`.
    pub warm_soil: Temperature,
    /// Frost dates of this year by threshold; empty where frost is not known.
    pub frost: Vec<FrostDates>,
    /// Rain since the axis year began, in `rain_unit`.
    pub rain_so_far: Option<f64>,
    /// What half of the years had by now.
    pub rain_usual: Option<f64>,
}

/// The first day asked for, and how many.
fn stretch(query: &BandQuery, most: i32) -> Result<(Date, usize), Refused> {
    let (from, to) = (asked_day(query.from, "/from")?, asked_day(query.to, "/to")?);
    let length = days_between(from, to) + 1;
    match usize::try_from(length) {
        Ok(days) if (1..=most).contains(&length) => Ok((from, days)),
        _ => Err(Refused::one("/to", format!("{length} days; from 1 to {most} are told"))),
    }
}

/// What temperatures and rain are read in.
fn units(system: System) -> (Unit, Unit) {
    match system {
        System::Us => (Unit::DegF, Unit::In),
        System::Metric => (Unit::DegC, Unit::Mm),
    }
}

/// Convert a band to what a person reads.
fn restated(mut band: WeatherBand, system: System) -> (WeatherBand, Unit, Unit) {
    let (warm, wet) = units(system);
    let temperature = |celsius: f64| (warm.from_base(celsius) * 10.0).round() / 10.0;
    let rain = |mm: f64| (wet.from_base(mm / 1_000.0) * 100.0).round() / 100.0;
    for values in [&mut band.low, &mut band.middle, &mut band.high, &mut band.soil_middle] {
        values.iter_mut().for_each(|value| *value = temperature(*value));
    }
    for values in [&mut band.temperature, &mut band.soil, &mut band.forecast_low, &mut band.forecast_high] {
        values.iter_mut().flatten().for_each(|value| *value = temperature(*value));
    }
    band.rain.iter_mut().flatten().for_each(|value| *value = rain(*value));
    (band, warm, wet)
}

/// The weather of a farm over a stretch of days.
#[utoipa::path(params(("farm" = Uuid, Path), BandQuery), responses(
    (status = 200, body = WeatherView), (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[get("/farms/{farm}/weather")]
pub async fn of_farm(
    state: web::Data<State>,
    member: Member,
    query: web::Query<BandQuery>,
) -> Result<Shown<WeatherView>, Problem> {
    let (from, length) = stretch(&query, MOST_DAYS)?;
    let today = member.today();
    let system = member.person.units;
    let mut view = WeatherView {
        station: None,
        weather_service: state.outside.weather_station.is_some(),
        band: None,
        temperature_unit: String::new(),
        rain_unit: String::new(),
        freezing: Temperature::new(0.0, Unit::DegC),
        warm_soil: Temperature::new(10.0, Unit::DegC),
        frost: vec![],
        rain_so_far: None,
        rain_usual: None,
    };
    let mut connection = state.pool.get().await?;
    if let Some(station) = weather::station(&mut connection, &member.membership).await? {
        view.station = Some(StationView::new(&station));
    }
    let heard = state.climates.hear(&mut connection, &member.membership, today).await?;
    drop(connection);
    let shared = state.clone();
    let work = move || {
        let weather = shared.climates.settle(heard)?;
        let band = weather.band(from, length);
        Some((weather, band))
    };
    if let Some((weather, band)) = state.work.run(work).await? {
        let (band, warm, wet) = restated(band, system);
        view.band = Some(band);
        view.temperature_unit = warm.symbol().to_owned();
        view.rain_unit = wet.symbol().to_owned();
        // The summer that this growing year leads to, on either side of the equator.
        let start = year_start(weather.years.place.latitude, today);
        let summer = if start.month() == 1 { start.year() } else { start.year() + 1 };
        let frost = dates(&weather.years, summer);
        view.frost = frost.into_iter().filter(|one| one.share_with_frost.base() > 0.0).collect();
        let (fell, usual) = weather.rain_so_far();
        view.rain_so_far = fell.map(|mm| wet.from_base(mm / 1_000.0));
        view.rain_usual = usual.map(|mm| wet.from_base(mm / 1_000.0));
        if let Some(station) = &mut view.station {
            station.first = Some(weather.years.first);
            station.last = Some(weather.years.last());
            station.days_behind = (days_between(weather.years.last(), today) - 1).max(0);
            station.gaps = weather.years.gaps();
            station.forecast_from = weather.forecast.from.filter(|from| days_between(*from, today) < 14);
        }
    }
    Ok(Shown(system, view))
}

/// The hours of a stretch of days, each series from midnight of the first on; open where an hour was
/// not heard.
#[derive(Debug, Serialize, ToSchema)]
pub struct HoursView {
    /// The first day.
    #[schema(value_type = String, format = Date)]
    pub from: Date,
    /// Air, in `temperature_unit`.
    pub temperature: Vec<Option<f64>>,
    /// Rain, in `rain_unit`.
    pub rain: Vec<Option<f64>>,
    /// Relative humidity, %.
    pub humidity: Vec<Option<f64>>,
    /// Wind at 2 m, in `wind_unit`.
    pub wind: Vec<Option<f64>>,
    /// Unit of the temperatures.
    pub temperature_unit: String,
    /// Unit of the rain.
    pub rain_unit: String,
    /// Unit of the wind.
    pub wind_unit: String,
}

/// The hours of some days, as the station sent them.
#[utoipa::path(params(("farm" = Uuid, Path), BandQuery), responses(
    (status = 200, body = HoursView), (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[get("/farms/{farm}/weather/hours")]
pub async fn hours(
    state: web::Data<State>,
    member: Member,
    query: web::Query<BandQuery>,
) -> Result<Shown<HoursView>, Problem> {
    let (from, length) = stretch(&query, MOST_HOURLY_DAYS)?;
    let system = member.person.units;
    let (warm, wet) = units(system);
    let blowing = match system {
        System::Us => Unit::Mph,
        System::Metric => Unit::MPerS,
    };
    let open = vec![None; length * 24];
    let mut view = HoursView {
        from,
        temperature: open.clone(),
        rain: open.clone(),
        humidity: open.clone(),
        wind: open,
        temperature_unit: warm.symbol().to_owned(),
        rain_unit: wet.symbol().to_owned(),
        wind_unit: blowing.symbol().to_owned(),
    };
    let mut connection = state.pool.get().await?;
    let to = plus(from, length as i32 - 1);
    let to_a = |digits: f64, value: f64| Some((value * digits).round() / digits);
    for (day, hour, one) in weather::hours(&mut connection, &member.membership, from, to).await? {
        let Ok(at) = usize::try_from(days_between(from, day) * 24 + hour) else { continue };
        view.temperature[at] = to_a(10.0, warm.from_base(one.temperature));
        view.rain[at] = to_a(1_000.0, wet.from_base(one.rain / 1_000.0));
        view.humidity[at] = to_a(1.0, one.humidity);
        view.wind[at] = to_a(10.0, blowing.from_base(one.wind));
    }
    Ok(Shown(system, view))
}
