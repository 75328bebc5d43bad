//! Daily weather files: read with findings line by line, and written.
//!
//! Three forms are read:
//! - the documented daily form: `date,tmin,tmax,rain,radiation,dew_point,wind` in °C, mm, MJ/m²,
//!   °C and m/s, in any order, all but the date optional; written back by [`write_daily`];
//! - the open GHCN-Daily per-station files, the long (`ID,DATE,ELEMENT,VALUE,…`) and the wide
//!   (`STATION,DATE,…,TMAX,TMAX_ATTRIBUTES,…`) one, in their tenths, values that failed quality
//!   control left out;
//! - any other by a [`FileMapping`] of columns and units, such as °F and inches.
//!
//! Comma, semicolon and tab separate; where it is not a comma, a decimal comma is read. A value
//! that can't be is left open and reported; nothing is filled in.

use std::collections::BTreeMap;

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Day, Years, days_between, et0, plus};
use crate::{
    refusal::Refused,
    said,
    said::Said,
    units::{Quantity, Temperature, Unit},
};

/// What a column holds.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Column {
    Date,
    Tmin,
    Tmax,
    Rain,
    Radiation,
    DewPoint,
    /// Mean relative humidity, %; becomes a dew point.
    Humidity,
    Wind,
}

/// Units of a file.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum FileUnits {
    /// °C, mm, m/s.
    #[default]
    Metric,
    /// °F, inches, miles per hour.
    Us,
    /// Tenths of °C, of mm, of m/s, as GHCN-Daily has them.
    Tenths,
}

/// How to read a file that is none of the known forms.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct FileMapping {
    /// Names of columns, where they are not recognised by themselves.
    #[schema(value_type = BTreeMap<String, String>)]
    pub columns: BTreeMap<Column, String>,
    /// Units of the values.
    pub units: FileUnits,
    /// Values far from usual are meant.
    pub accept_unusual: bool,
}

/// How bad a finding is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Level {
    /// Worth knowing: days are missing, a flag of the station's own.
    Note,
    /// A value was left out.
    LeftOut,
    /// The file is not taken until this is mended or confirmed.
    Stops,
}

/// Something found in a file.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Finding {
    /// Line of the file, the header being 1; 0 for the file as a whole.
    pub line: usize,
    /// How bad.
    pub level: Level,
    /// What, in a sentence.
    #[schema(value_type = String)]
    pub detail: Said,
}

impl Finding {
    /// Whether the file is not taken for it.
    pub fn stops(&self) -> bool {
        self.level == Level::Stops
    }
}

/// What was read.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Read {
    /// Days, in the order of their dates, one each.
    pub days: Vec<(Date, Day)>,
    /// What was found, the first [`MOST_FINDINGS`].
    pub findings: Vec<Finding>,
    /// How many in all.
    pub findings_in_all: usize,
}

/// Findings kept of a file.
pub const MOST_FINDINGS: usize = 200;
/// More rain in a day is taken for a slip until confirmed, mm.
const MUCH_RAIN: f64 = 300.0;

impl Read {
    fn found(&mut self, line: usize, level: Level, detail: impl Into<Said>) {
        self.findings_in_all += 1;
        // What stops the file is never crowded out.
        if self.findings.len() < MOST_FINDINGS || level == Level::Stops && self.findings.len() < 2 * MOST_FINDINGS {
            self.findings.push(Finding { line, level, detail: detail.into().short() });
        }
    }
}

fn recognised(header: &str) -> Option<Column> {
    let word: String = header.trim().to_lowercase().chars().filter(char::is_ascii_alphanumeric).collect();
    Some(match word.as_str() {
        "date" | "day" => Column::Date,
        "tmin" | "tempmin" | "mintemp" | "tempmincelsius" | "low" => Column::Tmin,
        "tmax" | "tempmax" | "maxtemp" | "high" => Column::Tmax,
        "rain" | "prcp" | "precipitation" | "precip" => Column::Rain,
        "radiation" | "srad" | "solar" => Column::Radiation,
        "dewpoint" | "adpt" | "dew" => Column::DewPoint,
        "humidity" | "rhav" | "rh" => Column::Humidity,
        "wind" | "awnd" | "windspeed" => Column::Wind,
        _ => return None,
    })
}

fn separator(header: &str) -> u8 {
    [b';', b'\t'].into_iter().find(|sign| header.bytes().any(|byte| byte == *sign)).unwrap_or(b',')
}

fn date_of(text: &str) -> Result<Date, String> {
    let text = text.trim();
    let digits = text.len() == 8 && text.bytes().all(|byte| byte.is_ascii_digit());
    let written = if digits { format!("{}-{}-{}", &text[..4], &text[4..6], &text[6..]) } else { text.to_owned() };
    let date: Date = written.parse().map_err(|_| match written.get(5..10) {
        Some("02-29") => format!("{written}: that year has no February 29"),
        _ => format!("“{text}” is not a date; use e.g. 2026-05-14"),
    })?;
    if !(1800..=2200).contains(&date.year()) {
        return Err(format!("{date} is out of range"));
    }
    Ok(date)
}

fn number_of(text: &str, comma: bool) -> Result<Option<f64>, String> {
    let text = text.trim();
    if text.is_empty() || ["na", "nan", "m", "-", "-9999", "-9999.0", "null"].contains(&text.to_lowercase().as_str()) {
        return Ok(None);
    }
    // A trace of rain is no rain that counts.
    if text.eq_ignore_ascii_case("t") {
        return Ok(Some(0.0));
    }
    let plain = if comma { text.replace(',', ".") } else { text.to_owned() };
    match plain.parse::<f64>() {
        Ok(value) if value.is_finite() => Ok(Some(value)),
        _ => Err(format!("“{text}” is not a number")),
    }
}

/// A value in °C, mm, MJ/m² or m/s.
fn in_base(column: Column, units: FileUnits, value: f64) -> f64 {
    match (units, column) {
        (FileUnits::Metric, _) | (_, Column::Date | Column::Radiation | Column::Humidity) => value,
        (FileUnits::Us, Column::Tmin | Column::Tmax | Column::DewPoint) => (value - 32.0) / 1.8,
        (FileUnits::Us, Column::Rain) => value * 25.4,
        (FileUnits::Us, Column::Wind) => value * 0.447_04,
        (FileUnits::Tenths, _) => value / 10.0,
    }
}

/// Read a daily file. `today`, when given, is the first day that lies in the future.
///
/// # Errors
/// Refused at `/text` or `/mapping` when the file is no table with a date and something to tell.
/// Everything else is a finding.
pub fn read_daily(text: &str, mapping: &FileMapping, today: Option<Date>) -> Result<Read, Refused> {
    let text = text.trim_start_matches('\u{feff}');
    let header = text.lines().next().unwrap_or_default();
    let sign = separator(header);
    let mut table =
        ::csv::ReaderBuilder::new().delimiter(sign).flexible(true).has_headers(false).from_reader(text.as_bytes());
    let rows = table.records();
    if header.to_uppercase().contains("ELEMENT") || is_long(header) {
        return long_ghcn(rows, header, mapping, today);
    }
    let names: Vec<String> =
        header.split(char::from(sign)).map(|name| name.trim().trim_matches('"').to_owned()).collect();
    let wide_ghcn = names.iter().any(|name| name.ends_with("_ATTRIBUTES"));
    let units = if wide_ghcn { FileUnits::Tenths } else { mapping.units };
    let mut columns: BTreeMap<Column, usize> = BTreeMap::new();
    for (index, name) in names.iter().enumerate() {
        if let Some(column) = recognised(name) {
            columns.entry(column).or_insert(index);
        }
    }
    for (column, name) in &mapping.columns {
        let found = names.iter().position(|one| one.eq_ignore_ascii_case(name.trim()));
        let index = found.ok_or_else(|| {
            Refused::one("/mapping/columns", format!("no column “{name}”; columns are {}", names.join(", ")))
        })?;
        columns.insert(*column, index);
    }
    let Some(&date_column) = columns.get(&Column::Date) else {
        return Err(Refused::one("/text", format!("no column is a date; the file has {}", names.join(", "))));
    };
    if columns.len() < 2 {
        return Err(Refused::one(
            "/text",
            format!("only the date column was recognized; the file has {}", names.join(", ")),
        ));
    }
    let mut read = Read::default();
    let mut days: BTreeMap<Date, (usize, Day)> = BTreeMap::new();
    for (index, row) in rows.enumerate().skip(1) {
        let line = index + 1;
        let row = match row {
            Ok(row) if row.iter().all(|cell| cell.trim().is_empty()) => continue,
            Ok(row) => row,
            Err(error) => {
                read.found(line, Level::Stops, format!("this line can\u{2019}t be read: {error}"));
                continue;
            }
        };
        let cell = |index: usize| row.get(index).unwrap_or_default();
        let date = match date_of(cell(date_column)) {
            Ok(date) => date,
            Err(detail) => {
                read.found(line, Level::Stops, detail);
                continue;
            }
        };
        let mut day = Day::UNKNOWN;
        for (&column, &at) in columns.iter().filter(|(column, _)| **column != Column::Date) {
            // The quality flag is the second part of a wide file's attributes.
            let attributes = if wide_ghcn { cell(at + 1) } else { "" };
            if attributes.split(',').nth(1).is_some_and(|flag| !flag.trim().is_empty()) {
                read.found(
                    line,
                    Level::LeftOut,
                    format!("{}: failed the station’s quality check; treated as missing", names[at]),
                );
                continue;
            }
            match number_of(cell(at), sign != b',') {
                Ok(Some(value)) => put(&mut day, column, in_base(column, units, value)),
                Ok(None) => {}
                Err(detail) => read.found(line, Level::Stops, format!("{}: {detail}", names[at])),
            }
        }
        keep(&mut read, &mut days, line, date, day, mapping, today);
    }
    Ok(finish(read, days))
}

fn is_long(header: &str) -> bool {
    let parts: Vec<&str> = header.split(',').collect();
    parts.len() >= 4
        && parts[0].len() == 11
        && parts[1].len() == 8
        && parts[1].bytes().all(|byte| byte.is_ascii_digit())
}

/// Put a value of a column into a day. Humidity waits for the temperatures: see [`keep`].
fn put(day: &mut Day, column: Column, value: f64) {
    match column {
        Column::Date => {}
        Column::Tmin => day.tmin = value,
        Column::Tmax => day.tmax = value,
        Column::Rain => day.rain = value,
        Column::Radiation => day.radiation = value,
        Column::DewPoint => day.dew_point = value,
        // Kept as it is until the day's temperatures are known; no dew point is above 60.
        Column::Humidity => day.dew_point = 1_000.0 + value,
        Column::Wind => day.wind = value,
    }
}

/// Hold a day against physics and its neighbours, and keep it.
fn keep(
    read: &mut Read,
    days: &mut BTreeMap<Date, (usize, Day)>,
    line: usize,
    date: Date,
    mut day: Day,
    mapping: &FileMapping,
    today: Option<Date>,
) {
    if day.dew_point >= 1_000.0 {
        let humidity = (day.dew_point - 1_000.0) / 100.0;
        let mean = (et0::saturation(day.tmin) + et0::saturation(day.tmax)) / 2.0;
        let fits = (0.01..=1.0).contains(&humidity) && mean.is_finite();
        day.dew_point = if fits { et0::dew_point(humidity * mean) } else { f64::NAN };
    }
    if today.is_some_and(|today| date >= today) {
        read.found(line, Level::Stops, format!("{date} is in the future; remove it"));
        return;
    }
    if day.tmin > day.tmax {
        let warm = |degrees: f64| Temperature::new(degrees, Unit::DegC);
        let detail = said!("minimum {} above maximum {}; both treated as missing", warm(day.tmin), warm(day.tmax));
        read.found(line, Level::LeftOut, detail);
        (day.tmin, day.tmax) = (f64::NAN, f64::NAN);
    }
    let mut bound = |name: &str, value: &mut f64, low: f64, high: f64, unit: Unit| {
        if *value < low || *value > high {
            let detail = said!("{} of {} is not possible; treated as missing", name, Quantity::new(*value, unit));
            read.found(line, Level::LeftOut, detail);
            *value = f64::NAN;
        }
    };
    bound("lowest", &mut day.tmin, -90.0, 60.0, Unit::DegC);
    bound("highest", &mut day.tmax, -90.0, 60.0, Unit::DegC);
    bound("rain", &mut day.rain, 0.0, 1_900.0, Unit::Mm);
    bound("radiation", &mut day.radiation, 0.0, 45.0, Unit::MjPerM2);
    bound("dew point", &mut day.dew_point, -90.0, 40.0, Unit::DegC);
    bound("wind", &mut day.wind, 0.0, 60.0, Unit::MPerS);
    if day.rain > MUCH_RAIN && !mapping.accept_unusual {
        let fell = Quantity::new(day.rain, Unit::Mm);
        let detail = said!("{} of rain in a day is unusual; correct or confirm it", fell);
        read.found(line, Level::Stops, detail);
    }
    match days.get(&date) {
        Some((first, other)) if same(other, &day) => {
            read.found(line, Level::Note, format!("{date} repeats line {first} (same values)"));
        }
        Some((first, _)) => {
            read.found(line, Level::Stops, format!("{date} repeats line {first} with different values"));
        }
        None => {
            days.insert(date, (line, day));
        }
    }
}

/// Equal, unknown values too.
fn same(a: &Day, b: &Day) -> bool {
    let parts = |day: &Day| [day.tmin, day.tmax, day.rain, day.radiation, day.dew_point, day.wind];
    parts(a).into_iter().zip(parts(b)).all(|(a, b)| a == b || a.is_nan() && b.is_nan())
}

/// Say which days are missing, and hand over.
fn finish(mut read: Read, days: BTreeMap<Date, (usize, Day)>) -> Read {
    let mut before: Option<Date> = None;
    for date in days.keys() {
        if let Some(before) = before {
            let missing = days_between(before, *date) - 1;
            if missing > 0 {
                let (from, to) = (plus(before, 1), plus(*date, -1));
                let detail = if missing == 1 {
                    format!("{from} is missing")
                } else {
                    format!("{missing} days are missing, {from} to {to}")
                };
                read.found(0, Level::Note, detail);
            }
        }
        before = Some(*date);
    }
    let untold = days.values().filter(|(_, day)| !day.tells()).count();
    if untold > 0 {
        read.found(0, Level::Note, format!("{untold} days lack temperature or rain; those years may be left out"));
    }
    read.days = days.into_iter().map(|(date, (_, day))| (date, day)).collect();
    read
}

/// The long form: one line a value.
fn long_ghcn(
    rows: ::csv::StringRecordsIter<'_, &[u8]>,
    header: &str,
    mapping: &FileMapping,
    today: Option<Date>,
) -> Result<Read, Refused> {
    let skip = usize::from(!is_long(header));
    let mut read = Read::default();
    let mut days: BTreeMap<Date, (usize, Day)> = BTreeMap::new();
    let mut station: Option<String> = None;
    for (index, row) in rows.enumerate().skip(skip) {
        let line = index + 1;
        let Ok(row) = row else {
            read.found(line, Level::Stops, "this line can\u{2019}t be read");
            continue;
        };
        let cell = |index: usize| row.get(index).unwrap_or_default().trim();
        let known = station.get_or_insert_with(|| cell(0).to_owned());
        if known != cell(0) {
            read.found(line, Level::Stops, format!("station {} in a file for station {known}", cell(0)));
            continue;
        }
        let column = match cell(2) {
            "TMIN" => Column::Tmin,
            "TMAX" => Column::Tmax,
            "PRCP" => Column::Rain,
            "AWND" => Column::Wind,
            "ADPT" => Column::DewPoint,
            _ => continue,
        };
        let date = match date_of(cell(1)) {
            Ok(date) => date,
            Err(detail) => {
                read.found(line, Level::Stops, detail);
                continue;
            }
        };
        if !cell(5).is_empty() {
            read.found(
                line,
                Level::LeftOut,
                format!("{} of {date}: failed the station’s quality check; treated as missing", cell(2)),
            );
            continue;
        }
        match number_of(cell(3), false) {
            Ok(Some(value)) => {
                let entry = days.entry(date).or_insert((line, Day::UNKNOWN));
                put(&mut entry.1, column, in_base(column, FileUnits::Tenths, value));
            }
            Ok(None) => {}
            Err(detail) => read.found(line, Level::Stops, detail),
        }
    }
    if days.is_empty() && read.findings.is_empty() {
        return Err(Refused::one("/text", "no line has TMIN, TMAX or PRCP"));
    }
    let mut kept = BTreeMap::new();
    for (date, (line, day)) in days {
        keep(&mut read, &mut kept, line, date, day, mapping, today);
    }
    Ok(finish(read, kept))
}

/// A record in the documented daily form; unknown values and days stay empty.
pub fn write_daily(years: &Years) -> String {
    let mut text = String::with_capacity(years.days.len() * 44 + 64);
    text.push_str("date,tmin,tmax,rain,radiation,dew_point,wind\n");
    for (index, day) in years.days.iter().enumerate() {
        let date = plus(years.first, index as i32);
        text.push_str(&date.to_string());
        for value in [day.tmin, day.tmax, day.rain, day.radiation, day.dew_point, day.wind] {
            text.push(',');
            if !value.is_nan() {
                // Two decimals are more than any instrument has.
                text.push_str(&format!("{:.2}", value + 0.0));
            }
        }
        text.push('\n');
    }
    text
}
