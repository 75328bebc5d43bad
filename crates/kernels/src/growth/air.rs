//! A day's weather as a stand feels it, and what of the days before it remembers.
//!
//! All of it follows from the weather alone: for many stands, or many ways of cutting one, it is worked out once.

use jiff::civil::Date;

use crate::{
    day::{Day, Place, Years, plus},
    et0,
    maths::{exp, smaller},
    soil::solar_of,
    sun,
};

/// Base of the warmth that a year is told by, °C.
const YEAR_BASE: f64 = 10.0;

/// A day as a stand feels it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Air {
    /// Lowest temperature, °C.
    pub lowest: f64,
    /// Mean of the two, °C.
    pub mean: f64,
    /// Mean of the day's light hours: the mean and a quarter of the range above it, °C.
    pub by_day: f64,
    /// Radiation, MJ/m².
    pub solar: f64,
    /// Rain or snow, m.
    pub rain: f64,
    /// Water brought, m.
    pub irrigation: f64,
    /// Reference evapotranspiration, mm.
    pub reference: f64,
    /// Hours from sunrise to sunset.
    pub daylight: f64,
    /// Those of the day before.
    pub daylight_before: f64,
    /// Mean of about a week, °C.
    pub week: f64,
    /// Mean of about three weeks, °C.
    pub weeks: f64,
    /// Of about three days, of nights and days alike, °C.
    pub crown: f64,
    /// Share of wet days in about a month.
    pub wet: f64,
    /// The day on which the year of growth turns: midwinter.
    pub turns: bool,
    /// Warmth of the whole year above 10 °C, on the day on which it turns; none where less than a year is known.
    pub year: Option<f64>,
    /// It lies so near the equator that no day is much longer than another.
    pub tropics: bool,
    /// The pace of what lives in the soil, of that at 15 °C; none in the cold.
    pub soil_pace: f64,
    /// The pace of breathing, of that at 20 °C.
    pub breath_pace: f64,
}

/// What of the weather is remembered from day to day.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Memory {
    week: f64,
    weeks: f64,
    crown: f64,
    wet: f64,
    warmth: f64,
    days: u32,
    daylight: Option<f64>,
}

impl Default for Memory {
    fn default() -> Self {
        Self { week: 8.0, weeks: 8.0, crown: 5.0, wet: 0.3, warmth: 0.0, days: 0, daylight: None }
    }
}

/// A day's other facts: what the sun, the rain gauge and the tap have of it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct DayOf {
    /// The date.
    pub date: Date,
    /// Latitude, degrees north.
    pub latitude: f64,
    /// The weather.
    pub day: Day,
    /// Radiation, MJ/m².
    pub solar: f64,
    /// Reference evapotranspiration, mm.
    pub reference: f64,
    /// Hours from sunrise to sunset.
    pub daylight: f64,
}

impl Memory {
    /// A day on.
    pub fn step(&mut self, of: DayOf) -> Air {
        let DayOf { date, latitude, day, solar, reference, daylight } = of;
        let mean = day.mean();
        self.week += (mean - self.week) / 7.0;
        // The days nearest count most: on the whole as old as the mean of twenty days.
        self.weeks += (mean - self.weeks) / 10.0;
        self.crown += (0.5 * (day.tmin + mean) - self.crown) / 3.0;
        self.wet += (f64::from(u8::from(day.rain >= 1.0)) - self.wet) / 30.0;
        // The year of growth turns in midwinter.
        let turns = (date.month(), date.day()) == if latitude >= 0.0 { (1, 1) } else { (7, 1) };
        let year = (turns && self.days >= 360).then_some(self.warmth);
        if turns {
            (self.warmth, self.days) = (0.0, 0);
        }
        self.warmth += (mean - YEAR_BASE).max(0.0);
        self.days += 1;
        let daylight_before = self.daylight.replace(daylight).unwrap_or(daylight);
        let doubling = |above: f64| exp(std::f64::consts::LN_2 * above / 10.0);
        Air {
            lowest: day.tmin,
            mean,
            by_day: mean + 0.25 * (day.tmax - day.tmin),
            solar,
            rain: day.rain * 0.001,
            irrigation: 0.0,
            reference,
            daylight,
            daylight_before,
            week: self.week,
            weeks: self.weeks,
            crown: self.crown,
            wet: self.wet,
            turns,
            year,
            tropics: latitude.abs() < 11.0,
            soil_pace: if self.week > 0.0 { doubling(smaller(self.week, 45.0) - 15.0) } else { 0.0 },
            breath_pace: doubling(smaller(mean, 45.0) - 20.0),
        }
    }
}

/// A day of weather at a place.
pub fn day_of(place: Place, date: Date, day: Day) -> DayOf {
    let sky = sun::sky_on(place.latitude, date);
    let psychrometric = et0::psychrometric(et0::air_pressure(place.elevation));
    DayOf {
        date,
        latitude: place.latitude,
        day,
        solar: solar_of(day, sky.extraterrestrial, place.elevation),
        reference: et0::of_day(sky, place.elevation, psychrometric, day),
        daylight: sky.daylight,
    }
}

/// The days of a record as a stand feels them, up to the first that does not tell.
pub fn of_years(years: &Years) -> Vec<Air> {
    let mut memory = Memory::default();
    let told = years.days.iter().take_while(|day| day.tells()).enumerate();
    told.map(|(at, day)| memory.step(day_of(years.place, plus(years.first, at as i32), *day))).collect()
}
