//! A weather station with a forecast service and a soil-temperature probe.
//!
//! The weather is drawn from the generator of the core, seeded by the station's name: the same day
//! is the same day at every asking. "Today" comes with the question, so that a practice farm's clock
//! unfolds the weather as it moves on: nothing is told of days that have not been, but what a
//! forecast would say of them.

use std::collections::HashMap;

use actix_web::{HttpResponse, middleware::DefaultHeaders, web};
use agronomy::{
    soil::Texture,
    weather::{
        Day, Normals, Years,
        generator::{Climate, Hour, Memory, draws, hours},
        place_normals, plus,
        soil_temperature::{Ground, SoilCover, follow},
    },
};
use jiff::civil::{Date, DateTime, date};
use serde::{Deserialize, Serialize};

use crate::seeds::seed;

/// The first day the station measured.
pub const FIRST: Date = date(1985, 1, 1);
/// Header by which every answer says that it is made up.
pub const SIMULATED: &str = "x-simulated";
/// Members of a forecast.
pub const MEMBERS: usize = 40;
/// Days of a forecast.
pub const DAYS: usize = 14;

/// A day as the station sends it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct StationDay {
    /// The day.
    pub date: Date,
    /// Lowest temperature, °C.
    pub tmin: f64,
    /// Highest, °C.
    pub tmax: f64,
    /// Rain, mm.
    pub rain: f64,
    /// Radiation, MJ/m².
    pub radiation: f64,
    /// Dew point, °C.
    pub dew_point: f64,
    /// Wind at 2 m, m/s.
    pub wind: f64,
}

impl StationDay {
    fn new(date: Date, day: Day) -> Self {
        // As a station prints it: tenths.
        let tenths = |value: f64| (value * 10.0).round() / 10.0;
        Self {
            date,
            tmin: tenths(day.tmin),
            tmax: tenths(day.tmax),
            rain: tenths(day.rain),
            radiation: tenths(day.radiation),
            dew_point: tenths(day.dew_point),
            wind: tenths(day.wind),
        }
    }

    /// As the core has it.
    pub fn day(self) -> Day {
        Day {
            tmin: self.tmin,
            tmax: self.tmax,
            rain: self.rain,
            radiation: self.radiation,
            dew_point: self.dew_point,
            wind: self.wind,
        }
    }
}

/// An hour as the station sends it: °C, mm, MJ/m², %, m/s.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct StationHour {
    pub temperature: f64,
    pub rain: f64,
    pub radiation: f64,
    pub humidity: f64,
    pub wind: f64,
}

impl From<StationHour> for Hour {
    fn from(sent: StationHour) -> Self {
        let StationHour { temperature, rain, radiation, humidity, wind } = sent;
        Self { temperature, rain, radiation, humidity, wind }
    }
}

/// A forecast as the service sends it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct StationForecast {
    /// The first day forecast.
    pub from: Date,
    /// Members, each day by day.
    pub members: Vec<Vec<StationDay>>,
}

/// Which days are asked for; `today` is the first that has not been.
#[derive(Debug, Clone, Deserialize)]
pub struct DaysQuery {
    from: Option<Date>,
    to: Option<Date>,
    today: Date,
}

/// Which reading of the soil probe is asked for.
#[derive(Debug, Clone, Deserialize)]
pub struct ProbeQuery {
    today: Date,
    depth_mm: f64,
    field: String,
}

/// Which hour it is; `today` is not over.
#[derive(Debug, Clone, Deserialize)]
pub struct NowQuery {
    today: Date,
    hour: i8,
}

/// What the station shows at this hour.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct StationNow {
    /// By its own clock.
    pub at: DateTime,
    /// The air.
    #[serde(flatten)]
    pub air: StationHour,
}

/// The stations a service knows: three invented kinds of place, and any others by their normals.
#[derive(Debug, Clone, Default)]
pub struct Stations(HashMap<String, Normals>);

impl Stations {
    /// Further stations from a JSON object of names and normals.
    ///
    /// # Errors
    /// In a sentence: no such object, or normals that can't be, and whose.
    pub fn from_json(text: &str) -> Result<Self, String> {
        let all: HashMap<String, Normals> =
            serde_json::from_str(text).map_err(|error| format!("these are no stations with normals: {error}"))?;
        for (name, normals) in &all {
            normals.check().map_err(|refused| format!("station \u{201c}{name}\u{201d}: {refused}"))?;
        }
        Ok(Self(all))
    }

    fn station(&self, code: &str) -> Option<Station> {
        self.0.get(code).map_or_else(|| Station::known(code), |normals| Some(Station::new(code, normals)))
    }
}

/// The service's routes.
pub fn routes(config: &mut web::ServiceConfig, stations: &Stations) {
    let service = web::scope("/weather-station/{station}")
        .app_data(web::Data::new(stations.clone()))
        .wrap(DefaultHeaders::new().add((SIMULATED, "1")))
        .route("/days", web::get().to(send_days))
        .route("/hours", web::get().to(send_hours))
        .route("/now", web::get().to(send_now))
        .route("/forecast", web::get().to(send_forecast))
        .route("/soil", web::get().to(send_soil));
    config.service(service);
}

/// A station: a climate, and weather of its own in it.
pub struct Station {
    climate: Climate,
    seed: u64,
}

impl Station {
    /// One of the three invented kinds of place.
    pub fn known(code: &str) -> Option<Self> {
        Some(Self::new(code, &place_normals(code)?))
    }

    fn new(code: &str, normals: &Normals) -> Self {
        Self { climate: Climate::new(normals), seed: seed(code) }
    }

    fn until(&self, last: Date) -> Years {
        self.climate.years(self.seed, FIRST, last)
    }

    /// All that it has measured up to a day, that day included.
    pub fn archive(&self, last: Date) -> Vec<StationDay> {
        let years = self.until(last);
        let dated = |(index, day): (usize, &Day)| StationDay::new(plus(years.first, index as i32), *day);
        years.days.iter().enumerate().map(dated).collect()
    }

    /// What the forecast service says on a day.
    pub fn forecast(&self, today: Date) -> StationForecast {
        let mut memory = Memory::default();
        self.climate.run(&mut memory, self.seed, FIRST, plus(today, -1));
        let members = self.climate.forecast(memory, self.seed, today, MEMBERS, DAYS);
        let dated = |days: Vec<Day>| -> Vec<StationDay> {
            days.into_iter().enumerate().map(|(ahead, day)| StationDay::new(plus(today, ahead as i32), day)).collect()
        };
        StationForecast { from: today, members: members.into_iter().map(dated).collect() }
    }

    /// The hours of each day from one to another.
    pub fn hourly(&self, from: Date, to: Date) -> Vec<(Date, Vec<StationHour>)> {
        let years = self.until(plus(to, 1));
        let mut all = vec![];
        for (index, three) in years.days.windows(3).enumerate() {
            let date = plus(years.first, index as i32 + 1);
            if date >= from {
                let of = hours(years.place, date, [three[0], three[1], three[2]], self.seed);
                let sent = |hour: Hour| StationHour {
                    temperature: hour.temperature,
                    rain: hour.rain,
                    radiation: hour.radiation,
                    humidity: hour.humidity,
                    wind: hour.wind,
                };
                all.push((date, of.into_iter().map(sent).collect()));
            }
        }
        all
    }

    /// The hour of a day that it is in.
    pub fn now(&self, today: Date, hour: i8) -> Option<StationNow> {
        let (_, hours) = self.hourly(today, today).pop()?;
        let air = *hours.get(usize::try_from(hour).ok()?)?;
        Some(StationNow { at: today.at(hour, 0, 0, 0), air })
    }

    /// What the soil probe of a field shows on a morning, °C: the soil as the weather makes it, a
    /// difference of the field's own, and the probe's noise.
    pub fn soil_morning(&self, field: &str, today: Date, depth_m: f64) -> Option<f64> {
        let mut years = self.until(today);
        let keep = years.days.len().min(500);
        let dropped = years.days.len() - keep;
        years.first = plus(years.first, dropped as i32);
        years.days.drain(..dropped);
        let morning = (*follow(&years, Ground::new(Texture::Loam, SoilCover::Bare), depth_m).last()?)?.morning;
        let of_field = seed(field);
        let own = (of_field % 1_000) as f64 / 1_000.0 * 3.0 - 1.5;
        // Up to three tenths either way, by the draws of the day.
        let noise = draws(self.seed ^ of_field, today).first().clamp(-1.5, 1.5) * 0.2;
        Some(((morning + own + noise) * 10.0).round() / 10.0)
    }
}

fn answer<T: Serialize>(found: Option<T>) -> HttpResponse {
    match found {
        Some(found) => HttpResponse::Ok().json(found),
        None => HttpResponse::NotFound().body("no such station"),
    }
}

type Known = web::Data<Stations>;

async fn send_days(stations: Known, code: web::Path<String>, query: web::Query<DaysQuery>) -> HttpResponse {
    let yesterday = plus(query.today, -1);
    let (from, to) = (query.from.unwrap_or(FIRST), query.to.unwrap_or(yesterday).min(yesterday));
    let since =
        |station: Station| -> Vec<_> { station.archive(to).into_iter().filter(|day| day.date >= from).collect() };
    answer(stations.station(&code).map(since))
}

async fn send_hours(stations: Known, code: web::Path<String>, query: web::Query<DaysQuery>) -> HttpResponse {
    let yesterday = plus(query.today, -1);
    let to = query.to.unwrap_or(yesterday).min(yesterday);
    answer(stations.station(&code).map(|station| station.hourly(query.from.unwrap_or(plus(to, -13)), to)))
}

async fn send_now(stations: Known, code: web::Path<String>, query: web::Query<NowQuery>) -> HttpResponse {
    answer(stations.station(&code).and_then(|station| station.now(query.today, query.hour)))
}

async fn send_forecast(stations: Known, code: web::Path<String>, query: web::Query<DaysQuery>) -> HttpResponse {
    answer(stations.station(&code).map(|station| station.forecast(query.today)))
}

async fn send_soil(stations: Known, code: web::Path<String>, query: web::Query<ProbeQuery>) -> HttpResponse {
    if !(0.0..=500.0).contains(&query.depth_mm) {
        return HttpResponse::UnprocessableEntity().body("a depth from 0 to 500 mm");
    }
    let shown = |station: Station| station.soil_morning(&query.field, query.today, query.depth_mm / 1_000.0);
    answer(stations.station(&code).and_then(shown))
}

#[cfg(test)]
mod tests {
    use super::*;
    use actix_web::{App, test as service};
    use serde_json::Value;

    const TODAY: Date = date(2026, 5, 14);

    fn hills() -> Station {
        Station::known("northern-hills").unwrap()
    }

    #[test]
    fn the_archive_grows_and_never_changes() {
        let short = hills().archive(date(2026, 5, 13));
        let long = hills().archive(date(2026, 6, 13));
        assert_eq!(short[..], long[..short.len()]);
        assert_eq!((short[0].date, short.last().unwrap().date), (FIRST, date(2026, 5, 13)));
        assert!(Station::known("atlantis").is_none());
    }

    #[test]
    fn tomorrow_is_foretold_better_than_next_week() {
        let truth = hills().archive(date(2026, 6, 13));
        let (mut near, mut far) = (0.0, 0.0);
        for start in 0..14 {
            let today = plus(TODAY, start);
            let told = hills().forecast(today);
            assert_eq!((told.from, told.members.len(), told.members[0].len()), (today, MEMBERS, DAYS));
            let error = |lead: usize| {
                let mean = told.members.iter().map(|days| days[lead].tmax).sum::<f64>() / MEMBERS as f64;
                let came = truth.iter().find(|day| day.date == plus(today, lead as i32)).unwrap();
                (mean - came.tmax).abs()
            };
            near += error(0);
            far += error(10);
        }
        assert!(near < 0.6 * far, "{near} {far}");
    }

    #[test]
    fn hours_add_up_to_their_day() {
        let station = Station::known("southern-plains").unwrap();
        let days = station.archive(TODAY);
        for (date, hours) in station.hourly(plus(TODAY, -30), TODAY) {
            let day = days.iter().find(|day| day.date == date).unwrap();
            assert_eq!(hours.len(), 24);
            let sum = |of: fn(&StationHour) -> f64| hours.iter().map(of).sum::<f64>();
            assert!((sum(|hour| hour.rain) - day.rain).abs() < 0.06, "{date}");
            assert!((sum(|hour| hour.radiation) - day.radiation).abs() < 0.06, "{date}");
            let warmest = hours.iter().map(|hour| hour.temperature).fold(f64::MIN, f64::max);
            assert!((warmest - day.tmax).abs() < 0.6 && hours.iter().all(|hour| hour.humidity <= 100.0), "{date}");
        }
    }

    #[test]
    fn the_hour_that_it_is_is_an_hour_of_its_day() {
        let (_, day) = hills().hourly(TODAY, TODAY).pop().unwrap();
        let shown = hills().now(TODAY, 14).unwrap();
        assert_eq!((shown.at.date(), shown.at.hour(), shown.air), (TODAY, 14, day[14]));
        assert!(hills().now(TODAY, 24).is_none() && hills().now(TODAY, -1).is_none());
    }

    #[actix_web::test]
    async fn nothing_is_told_of_days_to_come() {
        let app = service::init_service(App::new().configure(|config| routes(config, &Stations::default()))).await;
        let get = |path: &str| service::TestRequest::get().uri(path).to_request();
        let asked = "/weather-station/northern-hills/days?from=2026-05-01&to=2026-12-31&today=2026-05-14";
        let days: Vec<StationDay> = service::call_and_read_body_json(&app, get(asked)).await;
        assert_eq!(days.len(), 13);
        assert!(days.iter().all(|day| day.date < TODAY));
        let asked = "/weather-station/northern-hills/hours?today=2026-05-14";
        let hours: Vec<Value> = service::call_and_read_body_json(&app, get(asked)).await;
        assert_eq!(hours.len(), 14);
        let probe =
            |field: &str| format!("/weather-station/northern-hills/soil?today=2026-05-14&depth_mm=50&field={field}");
        let one: f64 = service::call_and_read_body_json(&app, get(&probe("a"))).await;
        let other: f64 = service::call_and_read_body_json(&app, get(&probe("b"))).await;
        assert!(one != other && (one - other).abs() < 4.0 && (0.0..25.0).contains(&one), "{one} {other}");
        for (path, status) in [
            ("/weather-station/atlantis/days?today=2026-05-14", 404),
            ("/weather-station/northern-hills/soil?today=2026-05-14&depth_mm=9000&field=a", 422),
        ] {
            assert_eq!(service::call_service(&app, get(path)).await.status(), status, "{path}");
        }
    }

    #[actix_web::test]
    async fn a_station_stands_wherever_its_normals_say() {
        let mut normals = place_normals("southern-plains").unwrap();
        normals.latitude = -42.0;
        normals.tmax = normals.tmax.map(|warm| warm - 6.0);
        normals.tmin = normals.tmin.map(|cold| cold - 6.0);
        let text = serde_json::json!({ "south-coast": normals }).to_string();
        let stations = Stations::from_json(&text).unwrap();
        let app = service::init_service(App::new().configure(|config| routes(config, &stations))).await;
        let asked = "/weather-station/south-coast/days?from=1990-01-01&to=2019-12-31&today=2026-05-14";
        let request = service::TestRequest::get().uri(asked).to_request();
        let days: Vec<StationDay> = service::call_and_read_body_json(&app, request).await;
        let july: Vec<f64> = days.iter().filter(|day| day.date.month() == 7).map(|day| day.tmin).collect();
        let mean = july.iter().sum::<f64>() / july.len() as f64;
        assert!((mean - normals.tmin[6]).abs() < 0.5, "{mean}");

        normals.wet_days[3] = 40.0;
        let wrong = Stations::from_json(&serde_json::json!({ "odd": normals }).to_string()).unwrap_err();
        assert!(wrong.contains("odd") && wrong.contains("wet_days"), "{wrong}");
        assert!(Stations::from_json("[]").unwrap_err().contains("no stations"));
    }
}
