//! The client of the weather service: days, hours, forecast, soil probe.
//!
//! A service that is down, slow or talks nonsense never stops the farm: what is known stays, its
//! trouble is noted beside the station, and everything goes on with the data as old as they are.

use std::time::Duration;

use agronomy::weather::{Day, generator::Hour, plus, year_start};
use jiff::civil::{Date, DateTime};
use ledger::{
    farm::Membership,
    weather::{self, Differing},
};
use reqwest::StatusCode;
use serde::{Deserialize, de::DeserializeOwned};
use stand_ins::weather_station::SIMULATED;

use crate::{app::State, problem::Problem};

/// Tries before a service counts as silent.
const TRIES: u32 = 3;
/// A century of days is so many times the work of a forecast.
const MANY: u32 = 5;
/// The first day asked for when nothing is known yet.
const BEGINNING: Date = jiff::civil::date(1900, 1, 1);

#[derive(Deserialize)]
struct SentDay {
    date: Date,
    tmin: Option<f64>,
    tmax: Option<f64>,
    rain: Option<f64>,
    #[serde(default)]
    radiation: Option<f64>,
    #[serde(default)]
    dew_point: Option<f64>,
    #[serde(default)]
    wind: Option<f64>,
}

impl SentDay {
    /// The day, when nothing in it goes against physics.
    fn sound(&self) -> Option<Day> {
        let number = |value: Option<f64>| value.unwrap_or(f64::NAN);
        let day = Day {
            tmin: number(self.tmin),
            tmax: number(self.tmax),
            rain: number(self.rain),
            radiation: number(self.radiation),
            dew_point: number(self.dew_point),
            wind: number(self.wind),
        };
        let within = |value: f64, low: f64, high: f64| value.is_nan() || (low..=high).contains(&value);
        let sound = within(day.tmin, -90.0, 60.0)
            && within(day.tmax, -90.0, 60.0)
            && (day.tmin.is_nan() || day.tmax.is_nan() || day.tmin <= day.tmax)
            && within(day.rain, 0.0, 1_900.0)
            && within(day.radiation, 0.0, 45.0)
            && within(day.dew_point, -90.0, 40.0)
            && within(day.wind, 0.0, 60.0);
        sound.then_some(day)
    }
}

#[derive(Deserialize)]
struct SentHour {
    temperature: f64,
    rain: f64,
    radiation: f64,
    humidity: f64,
    wind: f64,
}

#[derive(Deserialize)]
struct SentForecast {
    from: Date,
    members: Vec<Vec<SentDay>>,
}

fn silent(what: &str) -> Problem {
    Problem::Outside(format!("The weather service {what}; existing data is kept"))
}

/// Ask the service for a little, again when it does not answer.
async fn ask<T: DeserializeOwned>(state: &State, member: &Membership, path: &str) -> Result<T, Problem> {
    wait_for(state, member, path, state.outside.patience).await
}

/// Ask the service for years of days or a season of hours: it is waited for longer.
async fn ask_for_many<T: DeserializeOwned>(state: &State, member: &Membership, path: &str) -> Result<T, Problem> {
    wait_for(state, member, path, state.outside.patience * MANY).await
}

/// Made-up weather is for practice farms alone.
async fn wait_for<T: DeserializeOwned>(
    state: &State,
    member: &Membership,
    path: &str,
    patience: Duration,
) -> Result<T, Problem> {
    let address = state.outside.weather_station.as_ref().ok_or_else(|| silent("is not set up"))?;
    let mut trouble = silent("can\u{2019}t be reached");
    for wait in 0..TRIES {
        if wait > 0 {
            tokio::time::sleep(Duration::from_millis(150) * 2_u32.pow(wait)).await;
        }
        match state.http.get(format!("{address}/weather-station/{path}")).timeout(patience).send().await {
            Ok(response) if response.headers().contains_key(SIMULATED) && member.farm.practice_day.is_none() => {
                return Err(silent("is simulated and works only on practice farms"));
            }
            Ok(response) if response.status().is_success() => {
                return response.json().await.map_err(|_| silent("did not send weather data"));
            }
            Ok(response) if response.status() == StatusCode::NOT_FOUND => {
                return Err(silent("does not know that station, or lacks the data"));
            }
            // What it refuses it will refuse again.
            Ok(response) if response.status().is_client_error() => {
                return Err(silent(&format!("answered {}", response.status())));
            }
            Ok(response) => trouble = silent(&format!("answered {}", response.status())),
            Err(error) if error.is_timeout() => trouble = silent("did not answer in time"),
            Err(_) => {}
        }
    }
    Err(trouble)
}

/// Hear what the station has measured since it was last heard, and what is forecast. What went wrong
/// is noted beside the station.
///
/// # Errors
/// [`Problem::Outside`] when the service fails; then nothing has changed but the note.
pub async fn refresh(state: &State, member: &Membership, today: Date) -> Result<(), Problem> {
    let station = weather::station(&mut *state.pool.get().await?, member).await?;
    let Some(code) = station.and_then(|station| station.code) else {
        return Err(Problem::Conflict("this station uses imported files only".to_owned()));
    };
    let outcome = hear(state, member, &code, today).await;
    let mut connection = state.pool.get().await?;
    let noted = match &outcome {
        Ok(()) => Ok(today),
        Err(problem) => Err(problem.to_string()),
    };
    weather::heard(&mut connection, member, noted.as_ref().map(|on| *on).map_err(String::as_str)).await?;
    outcome
}

async fn hear(state: &State, member: &Membership, code: &str, today: Date) -> Result<(), Problem> {
    let last = weather::last_day(&mut *state.pool.get().await?, member).await?;
    let from = last.map_or(BEGINNING, |last| plus(last, 1));
    let yesterday = plus(today, -1);
    let sent: Vec<SentDay> = if from <= yesterday {
        ask_for_many(state, member, &format!("{code}/days?from={from}&to={yesterday}&today={today}")).await?
    } else {
        vec![]
    };
    let days: Option<Vec<(Date, Day)>> = sent
        .iter()
        .map(|day| Some((day.date, day.sound()?)))
        .map(|day| day.filter(|(date, _)| (from..=yesterday).contains(date)))
        .collect();
    let days = days.ok_or_else(|| silent("sent invalid days"))?;
    // The hours of this season, from where they were last heard.
    let heard = weather::last_hours(&mut *state.pool.get().await?, member).await?;
    let season = year_start(member.farm.latitude, today);
    let hours_from = heard.map_or(season, |last| plus(last, 1).max(season));
    let hours: Vec<(Date, Vec<SentHour>)> = if hours_from <= yesterday {
        ask_for_many(state, member, &format!("{code}/hours?from={hours_from}&to={yesterday}&today={today}")).await?
    } else {
        vec![]
    };
    let forecast: SentForecast = ask(state, member, &format!("{code}/forecast?today={today}")).await?;
    let members: Option<Vec<Vec<Day>>> = forecast
        .members
        .iter()
        .map(|days| days.iter().map(|day| day.sound().filter(|day| day.tells())).collect())
        .collect();
    let members = members
        .filter(|members| forecast.from == today && members.iter().all(|days| (1..=30).contains(&days.len())))
        .filter(|members| (1..=200).contains(&members.len()))
        .ok_or_else(|| silent("sent an invalid forecast"))?;

    weather::load_days(&state.pool, member, &days, Differing::Keep).await?;
    let mut connection = state.pool.get().await?;
    let hours: Vec<(Date, Vec<Hour>)> =
        hours.into_iter().map(|(date, hours)| (date, hours.into_iter().map(hour).collect())).collect();
    weather::keep_hours(&mut connection, member, &hours).await?;
    weather::set_forecast(&mut connection, member, today, &members).await?;
    Ok(())
}

fn hour(sent: SentHour) -> Hour {
    Hour {
        temperature: sent.temperature,
        rain: sent.rain.max(0.0),
        radiation: sent.radiation.max(0.0),
        humidity: sent.humidity.clamp(0.0, 100.0),
        wind: sent.wind.max(0.0),
    }
}

/// The hour that the station shows, and when by the farm's clock.
///
/// # Errors
/// [`Problem::Outside`] when it is silent, tells of another day, or of what no air can be.
pub async fn now(
    state: &State,
    member: &Membership,
    code: &str,
    today: Date,
    at: i8,
) -> Result<(DateTime, Hour), Problem> {
    #[derive(Deserialize)]
    struct Shown {
        at: DateTime,
        #[serde(flatten)]
        air: SentHour,
    }
    let Shown { at, air } = ask(state, member, &format!("{code}/now?today={today}&hour={at}")).await?;
    if at.date() != today {
        return Err(silent(&format!("last reported conditions on {}", at.date())));
    }
    let sound = (-90.0..=60.0).contains(&air.temperature)
        && (0.0..=60.0).contains(&air.wind)
        && (0.0..=100.0).contains(&air.humidity);
    if !sound {
        return Err(silent("sent invalid conditions"));
    }
    Ok((at, hour(air)))
}

/// Read the soil probe of a field this morning, °C.
///
/// # Errors
/// [`Problem::Outside`] when there is none, it is silent, or shows what no soil can have.
pub async fn probe(
    state: &State,
    member: &Membership,
    code: &str,
    field: uuid::Uuid,
    depth_mm: f64,
    today: Date,
) -> Result<f64, Problem> {
    let path = format!("{code}/soil?today={today}&depth_mm={depth_mm}&field={field}");
    let shown: f64 = ask(state, member, &path).await?;
    if (-20.0..=50.0).contains(&shown) { Ok(shown) } else { Err(silent("sent an invalid soil temperature")) }
}
