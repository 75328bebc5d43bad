//! Weather over HTTP: the band over a stretch of days, and the hours of one.

use actix_web::{get, web};
use agronomy::{
    refusal::Refused,
    said,
    units::{Length, Measure, Quantity, Series, Speed, Temperature, Unit},
    weather::{
        Basis,
        ahead::{ForecastDay, ahead},
        band::WeatherBand,
        days_between,
        frost::{FrostDates, dates},
        plus, year_start,
    },
};
use jiff::civil::Date;
use ledger::weather;
use records::typed::typed;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::{
    api::station::StationView,
    app::State,
    body::Shown,
    climate::Source,
    problem::{Problem, ProblemDocument},
    sign_in::Member,
};

/// Most days of a band: more can't be told apart on a screen.
const MOST_DAYS: i32 = 1_100;
/// Days ahead told in words.
const DAYS_AHEAD: i32 = 3;
/// Most days whose hours are told at once.
const MOST_HOURLY_DAYS: i32 = 62;

/// Which days are asked for.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
#[serde(deny_unknown_fields)]
pub struct BandQuery {
    /// The first.
    #[param(value_type = String, format = Date, required = true)]
    pub from: Option<String>,
    /// The last.
    #[param(value_type = String, format = Date, required = true)]
    pub to: Option<String>,
}

/// A day of a query, read as days of a body are. It is looked at after it is known whose farm is asked about, so that a farm that
/// is not one's own is not there whatever else is wrong.
pub fn asked_day(day: Option<&String>, pointer: &str) -> Result<Date, Refused> {
    let day = day.ok_or_else(|| Refused::one(pointer, "enter a date, e.g. 2026-05-14"))?;
    let day: Date = typed(Value::String(day.clone())).map_err(|refused| refused.under(pointer))?;
    // As far as records reach, and plans.
    if (1800..=2200).contains(&day.year()) {
        Ok(day)
    } else {
        Err(Refused::one(pointer, said!("{} is out of range; enter 1800–2200", day)))
    }
}

/// A stretch of days against the years, a value a day: see [`WeatherBand`].
#[derive(Debug, Serialize, ToSchema)]
pub struct BandView {
    /// The first day.
    #[schema(value_type = String, format = Date)]
    pub from: Date,
    /// Mean temperature that one year in ten stays below.
    pub low: Series,
    /// That half of them do.
    pub middle: Series,
    /// That nine in ten do.
    pub high: Series,
    /// This stretch's own mean temperature; open where not known.
    pub temperature: Series,
    /// Rain of the day.
    pub rain: Series,
    /// Mean soil temperature that half of the years stay below.
    pub soil_middle: Series,
    /// The soil of this stretch.
    pub soil: Series,
    /// Of the forecast: one member in ten is below.
    pub forecast_low: Series,
    /// Nine in ten are.
    pub forecast_high: Series,
    /// Share of years in which a killing frost still comes, or has come.
    pub frost: Vec<f64>,
    /// Years behind it.
    pub years: usize,
}

/// The weather of a farm over a stretch.
#[derive(Debug, Serialize, ToSchema)]
pub struct WeatherView {
    /// The station; none set up yet.
    pub station: Option<StationView>,
    /// A weather service can be asked here.
    pub weather_service: bool,
    /// What the years come from; none where there are none.
    pub basis: Option<Basis>,
    /// The entry that tells what is usual here, while no day of record is there.
    pub usual: Option<Uuid>,
    /// The band; none without years.
    pub band: Option<BandView>,
    /// Lines worth drawing: freezing, and what cool-season seed wants of the soil.
    pub freezing: Temperature,
    /// See `freezing`.
    pub warm_soil: Temperature,
    /// Frost dates of this year by threshold; empty where frost is not known.
    pub frost: Vec<FrostDates>,
    /// Today and the days after it, as far as the forecast reaches, three at most.
    pub ahead: Vec<ForecastDay>,
    /// Rain since the axis year began.
    pub rain_so_far: Option<Quantity>,
    /// What half of the years had by now.
    pub rain_usual: Option<Quantity>,
}

/// The first day asked for, and how many.
fn stretch(query: &BandQuery, most: i32) -> Result<(Date, usize), Refused> {
    let (from, to) = (asked_day(query.from.as_ref(), "/from")?, asked_day(query.to.as_ref(), "/to")?);
    let length = days_between(from, to) + 1;
    match usize::try_from(length) {
        Ok(days) if (1..=most).contains(&length) => Ok((from, days)),
        _ => Err(Refused::one("/to", format!("{length} days; enter 1–{most}"))),
    }
}

fn celsius(values: impl IntoIterator<Item = Option<f64>>) -> Series {
    Series::of::<Temperature>(Unit::DegC, values)
}

fn millimetres(values: impl IntoIterator<Item = Option<f64>>) -> Series {
    Series::of::<Length>(Unit::Mm, values)
}

impl From<WeatherBand> for BandView {
    fn from(band: WeatherBand) -> Self {
        let each = |values: Vec<f64>| celsius(values.into_iter().map(Some));
        Self {
            from: band.from,
            low: each(band.low),
            middle: each(band.middle),
            high: each(band.high),
            temperature: celsius(band.temperature),
            rain: millimetres(band.rain),
            soil_middle: each(band.soil_middle),
            soil: celsius(band.soil),
            forecast_low: celsius(band.forecast_low),
            forecast_high: celsius(band.forecast_high),
            frost: band.frost,
            years: band.years,
        }
    }
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
    let system = member.reader();
    let mut view = WeatherView {
        station: None,
        weather_service: state.outside.weather_station.is_some(),
        basis: None,
        usual: None,
        band: None,
        freezing: Temperature::new(0.0, Unit::DegC),
        warm_soil: Temperature::new(10.0, Unit::DegC),
        frost: vec![],
        ahead: vec![],
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
    if let Some((weather, band)) = state.work.run(member.farm(), work).await? {
        view.band = Some(band.into());
        view.basis = Some(weather.years.basis);
        if let Source::Usual { entry, .. } = weather.source {
            view.usual = Some(entry);
        }
        // The summer that this growing year leads to, on either side of the equator.
        let start = year_start(weather.years.place.latitude, today);
        let summer = if start.month() == 1 { start.year() } else { start.year() + 1 };
        let frost = dates(&weather.years, summer);
        view.frost = frost.into_iter().filter(|one| one.share_with_frost.base() > 0.0).collect();
        view.ahead = ahead(&weather.forecast, today, DAYS_AHEAD);
        let (fell, usual) = weather.rain_so_far();
        let water = |mm: f64| Quantity::new(mm, Unit::Mm);
        (view.rain_so_far, view.rain_usual) = (fell.map(water), usual.map(water));
        if let (Some(station), Source::Station(_)) = (&mut view.station, &weather.source) {
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
    /// Air.
    pub temperature: Series,
    /// Rain.
    pub rain: Series,
    /// Relative humidity, %.
    pub humidity: Vec<Option<f64>>,
    /// Wind at 2 m.
    pub wind: Series,
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
    let open = || vec![None; length * 24];
    let (mut temperature, mut rain, mut humidity, mut wind) = (open(), open(), open(), open());
    let mut connection = state.pool.get().await?;
    let to = plus(from, length as i32 - 1);
    for (day, hour, one) in weather::hours(&mut connection, &member.membership, from, to).await? {
        let Ok(at) = usize::try_from(days_between(from, day) * 24 + hour) else { continue };
        temperature[at] = Some(one.temperature);
        rain[at] = Some(one.rain);
        humidity[at] = Some(one.humidity.round());
        wind[at] = Some(one.wind);
    }
    let wind = Series::of::<Speed>(Unit::MPerS, wind);
    let view = HoursView { from, temperature: celsius(temperature), rain: millimetres(rain), humidity, wind };
    Ok(Shown(member.reader(), view))
}
