//! Weather: a farm's station, its days and hours, the forecast last heard, and imports.
//!
//! Not ink: a station may hear of a day again, a file be read anew.

mod bulk;

use agronomy::{
    said,
    units::{Length, Unit},
    weather::{Day, Place, Years, csv::Finding, generator::Hour},
};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use jiff::{Timestamp, civil::Date};
use serde_json::Value;
use uuid::Uuid;

use crate::{
    Connection, Error, Result,
    farm::Membership,
    schema::{forecast_days, stations, weather_days, weather_hours, weather_imports},
};

pub use bulk::{Differing, Handed, Loaded, load_days, read_in};

/// A farm's weather station.
#[derive(Debug, Clone, PartialEq, Queryable, Selectable)]
#[diesel(table_name = stations)]
pub struct Station {
    /// The farm.
    pub farm_id: Uuid,
    /// Name.
    pub name: String,
    /// Degrees north.
    pub latitude: f64,
    /// Metres above the sea.
    pub elevation_m: f64,
    /// What a weather service knows it by; none when it lives on files alone.
    pub code: Option<String>,
    /// Counts up whenever anything of its weather changes.
    pub revision: i64,
    /// The last day, by the farm's clock, on which the service answered.
    #[diesel(deserialize_as = jiff_diesel::NullableDate)]
    pub heard_on: Option<Date>,
    /// What went wrong since.
    pub trouble: Option<String>,
    /// Counts up with each edit of name, place or service.
    pub version: i32,
}

impl Station {
    /// Where it stands.
    pub fn place(&self) -> Place {
        Place { latitude: self.latitude, elevation: self.elevation_m }
    }
}

/// A farm's station.
///
/// # Errors
/// When the database fails.
pub async fn station(connection: &mut Connection, member: &Membership) -> Result<Option<Station>> {
    Ok(stations::table.find(member.farm.id).select(Station::as_select()).first(connection).await.optional()?)
}

/// What a person says of a station.
#[derive(Debug, Clone, PartialEq)]
pub struct SetUp {
    /// Name.
    pub name: String,
    /// Where it stands.
    pub place: Place,
    /// What a weather service knows it by; none when it lives on files alone.
    pub code: Option<String>,
}

impl SetUp {
    fn is(&self, station: &Station) -> bool {
        (self.name.trim(), self.place, self.code.as_deref())
            == (&station.name, station.place(), station.code.as_deref())
    }
}

/// Set a farm's station up, or rename or move it; its days stay. `after` is the [`Station::version`] that the writer
/// saw, none where there was no station. Said again, it is the same.
///
/// # Errors
/// [`Error::Overtaken`] when somebody set it up or corrected it since; [`Error::Conflict`] for a name or a place
/// that can't be.
pub async fn set_station(
    connection: &mut Connection,
    member: &Membership,
    new: &SetUp,
    after: Option<i32>,
) -> Result<Station> {
    let values = (
        stations::name.eq(new.name.trim()),
        stations::latitude.eq(new.place.latitude),
        stations::elevation_m.eq(new.place.elevation),
        stations::code.eq(new.code.as_deref()),
    );
    let written = match after {
        None => {
            let row = diesel::insert_into(stations::table).values((stations::farm_id.eq(member.farm.id), values));
            row.on_conflict_do_nothing().execute(connection).await?
        }
        Some(seen) => {
            let up = (stations::revision.eq(stations::revision + 1), stations::version.eq(stations::version + 1));
            let of_that = diesel::update(stations::table.find(member.farm.id)).filter(stations::version.eq(seen));
            of_that.set((values, up)).execute(connection).await?
        }
    };
    let kept = station(connection, member).await?.ok_or(Error::NotFound)?;
    if written == 0 && !new.is(&kept) {
        return Err(Error::Overtaken(said!(
            "someone changed the station after you opened this page; it is now \u{201c}{}\u{201d}, {}\u{b0} north, \
             elevation {}, {}",
            kept.name,
            kept.latitude,
            Length::new(kept.elevation_m, Unit::M),
            kept.code
                .as_deref()
                .map_or_else(|| "files only".to_owned(), |code| format!("\u{201c}{code}\u{201d} at the service"))
        )));
    }
    Ok(kept)
}

/// Note that the service answered on a day, or what went wrong.
///
/// # Errors
/// When the database fails.
pub async fn heard(
    connection: &mut Connection,
    member: &Membership,
    outcome: std::result::Result<Date, &str>,
) -> Result<()> {
    let station = diesel::update(stations::table.find(member.farm.id));
    match outcome {
        Ok(on) => {
            let heard = stations::heard_on.eq(jiff_diesel::NullableDate::from(Some(on)));
            station.set((heard, stations::trouble.eq(None::<String>))).execute(connection).await?
        }
        Err(trouble) => station.set(stations::trouble.eq(Some(trouble))).execute(connection).await?,
    };
    Ok(())
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = weather_days)]
struct DayRow {
    #[diesel(deserialize_as = jiff_diesel::Date)]
    day: Date,
    tmin: Option<f32>,
    tmax: Option<f32>,
    rain: Option<f32>,
    radiation: Option<f32>,
    dew_point: Option<f32>,
    wind: Option<f32>,
}

impl DayRow {
    fn dated(self) -> (Date, Day) {
        let number = |value: Option<f32>| value.map_or(f64::NAN, f64::from);
        let day = Day {
            tmin: number(self.tmin),
            tmax: number(self.tmax),
            rain: number(self.rain),
            radiation: number(self.radiation),
            dew_point: number(self.dew_point),
            wind: number(self.wind),
        };
        (self.day, day)
    }
}

/// All days of a station; none when there is not one.
///
/// # Errors
/// When the database fails.
pub async fn years(connection: &mut Connection, member: &Membership, station: &Station) -> Result<Option<Years>> {
    let rows: Vec<DayRow> = weather_days::table
        .filter(weather_days::farm_id.eq(member.farm.id))
        .select(DayRow::as_select())
        .load(connection)
        .await?;
    Ok(Years::new(station.place(), rows.into_iter().map(DayRow::dated)))
}

/// The last day that a station has.
///
/// # Errors
/// When the database fails.
pub async fn last_day(connection: &mut Connection, member: &Membership) -> Result<Option<Date>> {
    let last: Option<jiff_diesel::Date> = weather_days::table
        .filter(weather_days::farm_id.eq(member.farm.id))
        .select(diesel::dsl::max(weather_days::day))
        .first(connection)
        .await?;
    Ok(last.map(jiff_diesel::Date::to_jiff))
}

/// Keep the hours of some days; an hour heard again is replaced.
///
/// # Errors
/// When the database fails.
pub async fn keep_hours(connection: &mut Connection, member: &Membership, days: &[(Date, Vec<Hour>)]) -> Result<()> {
    let rows: Vec<_> = days
        .iter()
        .flat_map(|(day, hours)| {
            hours.iter().enumerate().map(|(hour, one)| {
                (
                    weather_hours::farm_id.eq(member.farm.id),
                    weather_hours::day.eq(jiff_diesel::Date::from(*day)),
                    weather_hours::hour.eq(i32::try_from(hour).unwrap_or(0)),
                    weather_hours::temperature.eq(one.temperature as f32),
                    weather_hours::rain.eq(one.rain as f32),
                    weather_hours::radiation.eq(one.radiation as f32),
                    weather_hours::humidity.eq(one.humidity as f32),
                    weather_hours::wind.eq(one.wind as f32),
                )
            })
        })
        .collect();
    for chunk in rows.chunks(1_000) {
        diesel::insert_into(weather_hours::table)
            .values(chunk.to_vec())
            .on_conflict((weather_hours::farm_id, weather_hours::day, weather_hours::hour))
            .do_update()
            .set((
                weather_hours::temperature.eq(diesel::upsert::excluded(weather_hours::temperature)),
                weather_hours::rain.eq(diesel::upsert::excluded(weather_hours::rain)),
                weather_hours::radiation.eq(diesel::upsert::excluded(weather_hours::radiation)),
                weather_hours::humidity.eq(diesel::upsert::excluded(weather_hours::humidity)),
                weather_hours::wind.eq(diesel::upsert::excluded(weather_hours::wind)),
            ))
            .execute(connection)
            .await?;
    }
    Ok(())
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = weather_hours)]
struct HourRow {
    #[diesel(deserialize_as = jiff_diesel::Date)]
    day: Date,
    hour: i32,
    temperature: f32,
    rain: f32,
    radiation: f32,
    humidity: f32,
    wind: f32,
}

/// The last day whose hours are kept.
///
/// # Errors
/// When the database fails.
pub async fn last_hours(connection: &mut Connection, member: &Membership) -> Result<Option<Date>> {
    let last: Option<jiff_diesel::Date> = weather_hours::table
        .filter(weather_hours::farm_id.eq(member.farm.id))
        .select(diesel::dsl::max(weather_hours::day))
        .first(connection)
        .await?;
    Ok(last.map(jiff_diesel::Date::to_jiff))
}

/// Hours from one day to another, both included, in order.
///
/// # Errors
/// When the database fails.
pub async fn hours(
    connection: &mut Connection,
    member: &Membership,
    from: Date,
    to: Date,
) -> Result<Vec<(Date, i32, Hour)>> {
    let rows: Vec<HourRow> = weather_hours::table
        .filter(weather_hours::farm_id.eq(member.farm.id))
        .filter(weather_hours::day.between(jiff_diesel::Date::from(from), jiff_diesel::Date::from(to)))
        .order((weather_hours::day, weather_hours::hour))
        .select(HourRow::as_select())
        .load(connection)
        .await?;
    let of = |row: HourRow| {
        let hour = Hour {
            temperature: f64::from(row.temperature),
            rain: f64::from(row.rain),
            radiation: f64::from(row.radiation),
            humidity: f64::from(row.humidity),
            wind: f64::from(row.wind),
        };
        (row.day, row.hour, hour)
    };
    Ok(rows.into_iter().map(of).collect())
}

/// Put a new forecast in the place of the last.
///
/// # Errors
/// When the database fails.
pub async fn set_forecast(
    connection: &mut Connection,
    member: &Membership,
    from: Date,
    members: &[Vec<Day>],
) -> Result<()> {
    let farm = member.farm.id;
    let rows: Vec<_> = members
        .iter()
        .enumerate()
        .flat_map(|(index, days)| {
            days.iter().enumerate().map(move |(ahead, day)| {
                (
                    forecast_days::farm_id.eq(farm),
                    forecast_days::member.eq(i32::try_from(index).unwrap_or(0)),
                    forecast_days::day.eq(jiff_diesel::Date::from(agronomy::weather::plus(from, ahead as i32))),
                    forecast_days::tmin.eq(day.tmin as f32),
                    forecast_days::tmax.eq(day.tmax as f32),
                    forecast_days::rain.eq(day.rain as f32),
                    forecast_days::wind.eq(day.wind.is_finite().then_some(day.wind as f32)),
                )
            })
        })
        .collect();
    crate::together(connection, async |connection| {
        diesel::delete(forecast_days::table.filter(forecast_days::farm_id.eq(farm))).execute(connection).await?;
        for chunk in rows.chunks(2_000) {
            diesel::insert_into(forecast_days::table).values(chunk.to_vec()).execute(connection).await?;
        }
        diesel::update(stations::table.find(farm))
            .set(stations::revision.eq(stations::revision + 1))
            .execute(connection)
            .await?;
        Ok(())
    })
    .await
}

/// The forecast last heard: its first day, and its members.
///
/// # Errors
/// When the database fails.
pub async fn forecast(connection: &mut Connection, member: &Membership) -> Result<Option<(Date, Vec<Vec<Day>>)>> {
    let rows: Vec<(i32, jiff_diesel::Date, f32, f32, f32, Option<f32>)> = forecast_days::table
        .filter(forecast_days::farm_id.eq(member.farm.id))
        .order((forecast_days::member, forecast_days::day))
        .select((
            forecast_days::member,
            forecast_days::day,
            forecast_days::tmin,
            forecast_days::tmax,
            forecast_days::rain,
            forecast_days::wind,
        ))
        .load(connection)
        .await?;
    let Some(first) = rows.as_slice().first().map(|row| row.1.to_jiff()) else { return Ok(None) };
    let mut members: Vec<Vec<Day>> = vec![];
    for (index, _, tmin, tmax, rain, wind) in rows {
        let wind = wind.map_or(f64::NAN, f64::from);
        let day = Day { tmin: f64::from(tmin), tmax: f64::from(tmax), rain: f64::from(rain), wind, ..Day::UNKNOWN };
        let index = usize::try_from(index).unwrap_or(0);
        if members.len() <= index {
            members.resize(index + 1, vec![]);
        }
        members[index].push(day);
    }
    Ok(Some((first, members)))
}

/// A file that was read in.
#[derive(Debug, Clone, PartialEq)]
pub struct Import {
    /// Id, made by the client.
    pub id: Uuid,
    /// When.
    pub imported_at: Timestamp,
    /// By whom.
    pub imported_by: Uuid,
    /// Its name.
    pub file_name: String,
    /// Days that were not there.
    pub added: i32,
    /// Days that were replaced.
    pub replaced: i32,
    /// What was found.
    pub findings: Vec<Finding>,
    /// How much in all.
    pub findings_in_all: i32,
}

/// The last imports of a farm, newest first.
///
/// # Errors
/// When the database fails.
pub async fn imports(connection: &mut Connection, member: &Membership) -> Result<Vec<Import>> {
    type Row = (Uuid, jiff_diesel::Timestamp, Uuid, String, i32, i32, Value, i32);
    let rows: Vec<Row> = weather_imports::table
        .filter(weather_imports::farm_id.eq(member.farm.id))
        .order(weather_imports::imported_at.desc())
        .limit(20)
        .select((
            weather_imports::id,
            weather_imports::imported_at,
            weather_imports::imported_by,
            weather_imports::file_name,
            weather_imports::added,
            weather_imports::replaced,
            weather_imports::findings,
            weather_imports::findings_in_all,
        ))
        .load(connection)
        .await?;
    let of = |(id, imported_at, imported_by, file_name, added, replaced, findings, findings_in_all): Row| Import {
        id,
        imported_at: imported_at.to_jiff(),
        imported_by,
        file_name,
        added,
        replaced,
        findings: serde_json::from_value(findings).unwrap_or_default(),
        findings_in_all,
    };
    Ok(rows.into_iter().map(of).collect())
}
