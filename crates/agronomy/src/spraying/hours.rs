//! Hours of a day in which it may be sprayed, by the label and what the weather is to be.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    units::{Fraction, Measure, Speed, Temperature, Unit},
    weather::{
        Day, Place,
        generator::{Hour, hours},
    },
};

/// Less wind than this is no good sign: cold air lies still under warm, and a fine spray hangs in it and drifts off as a
/// whole (3 mph: common on labels, and in extension advice).
pub const STILL: f64 = 3.0 * 0.447_04;
/// More than this is wind to anybody, where the label’s limit was not read (10 mph: common on labels).
pub const WINDY: f64 = 10.0 * 0.447_04;
/// Hours until a spray is dry, where the label’s were not read (assumed: from one to six on labels).
pub const DRIES: usize = 4;
/// Rain of an hour that washes it off, mm (assumed).
const WASHES: f64 = 0.1;

/// What the weather is held against.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct SprayLimits {
    /// The most wind that the label allows.
    pub most_wind: Option<Speed>,
    /// The coolest.
    pub coolest: Option<Temperature>,
    /// The hottest.
    pub hottest: Option<Temperature>,
}

impl SprayLimits {
    /// The most wind that counts.
    pub fn wind(&self) -> Speed {
        self.most_wind.unwrap_or(Speed::new(WINDY, Unit::MPerS))
    }
}

/// An hour of the day, over all that the weather may be.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SprayHour {
    /// It begins, from midnight.
    pub hour: u32,
    /// How likely nothing speaks against it.
    pub fit: Fraction,
    /// How likely there is more wind than allowed.
    pub windy: Fraction,
    /// How likely the air is still.
    pub still: Fraction,
    /// How likely it is too cold or too hot for the label.
    pub warmth: Fraction,
    /// How likely rain washes it off before it is dry.
    pub wet: Fraction,
    /// Wind at 2 m: in one of ten, half, nine of ten.
    pub wind: [Speed; 3],
    /// Air: the same.
    pub air: [Temperature; 3],
}

/// A day as one forecast has it: with the day before and the day after, by which its hours are drawn.
pub type ThreeDays = [Day; 3];

/// The hours of a day by the sun, for each way that the weather may go. Where a day’s rain falls is drawn by lot, for
/// each of them another; wind is highest at noon, as it is on most days.
pub fn drawn_hours(place: Place, on: Date, days: &[ThreeDays]) -> Vec<[Hour; 24]> {
    days.iter().zip(0..).map(|(three, seed)| hours(place, on, *three, seed)).collect()
}

/// Each hour held against the limits; nothing where nobody knows the weather. A day of which the wind is not known tells
/// nothing. Rain after midnight is not looked at.
///
/// An hour is fit where there is some wind, not more than the label allows, warmth within its limits, and no rain until
/// the spray is dry.
///
/// ```
/// use agronomy::{spraying::{SprayLimits, spray_hours}, units::{Measure, Unit}, weather::generator::Hour};
/// let hour = Hour { temperature: 18.0, rain: 0.0, radiation: 1.0, humidity: 60.0, wind: 3.0 };
/// let mut day = [hour; 24];
/// day[14].rain = 2.0;
/// let told = spray_hours(SprayLimits::default(), &[day]);
/// // Rain from two on: what is sprayed at ten is not dry by then.
/// let fit: Vec<bool> = told.iter().map(|one| one.fit.base() == 1.0).collect();
/// assert_eq!([fit[9], fit[10], fit[14], fit[15]], [true, false, false, true]);
/// ```
pub fn spray_hours(limits: SprayLimits, ways: &[[Hour; 24]]) -> Vec<SprayHour> {
    let tells = |day: &&[Hour; 24]| day.iter().all(|hour| hour.wind.is_finite() && hour.temperature.is_finite());
    let ways: Vec<_> = ways.iter().filter(tells).collect();
    if ways.is_empty() {
        return vec![];
    }
    let most_wind = limits.wind().base();
    let [coolest, hottest] = [limits.coolest, limits.hottest].map(|limit| limit.map(|one| one.to(Unit::DegC)));
    let windy = |day: &[Hour; 24], at: usize| day[at].wind > most_wind * (1.0 + 1e-9);
    let still = |day: &[Hour; 24], at: usize| day[at].wind < STILL;
    let warmth = |day: &[Hour; 24], at: usize| {
        let air = day[at].temperature;
        coolest.is_some_and(|least| air < least) || hottest.is_some_and(|most| air > most)
    };
    let wet = |day: &[Hour; 24], at: usize| day[at..(at + DRIES + 1).min(24)].iter().any(|hour| hour.rain >= WASHES);
    let told = |at: usize| {
        let share = |holds: &dyn Fn(&[Hour; 24], usize) -> bool| {
            let many = ways.iter().filter(|day| holds(day, at)).count();
            Fraction::from_base(many as f64 / ways.len() as f64)
        };
        let spread = |of: fn(&Hour) -> f64| {
            let mut all: Vec<f64> = ways.iter().map(|day| of(&day[at])).collect();
            all.sort_by(f64::total_cmp);
            [0.1, 0.5, 0.9].map(|part| all[((part * all.len() as f64).ceil() as usize).clamp(1, all.len()) - 1])
        };
        SprayHour {
            hour: at as u32,
            fit: share(&|day, at| !(windy(day, at) || still(day, at) || warmth(day, at) || wet(day, at))),
            windy: share(&windy),
            still: share(&still),
            warmth: share(&warmth),
            wet: share(&wet),
            wind: spread(|hour| hour.wind).map(|wind| Speed::new(wind, Unit::MPerS)),
            air: spread(|hour| hour.temperature).map(|air| Temperature::new(air, Unit::DegC)),
        }
    };
    (0..24).map(told).collect()
}

/// The longest run of hours that are as likely fit as asked: the hour it begins and the hour it ends; none where there is
/// no such hour.
///
/// ```
/// use agronomy::{spraying::{SprayLimits, best_hours, spray_hours}, units::Fraction, weather::generator::Hour};
/// let hour = |wind| Hour { temperature: 18.0, rain: 0.0, radiation: 1.0, humidity: 60.0, wind };
/// // Still until six, fit until eleven, windy until six in the evening, fit till night.
/// let day = std::array::from_fn(|at| hour(match at { 0..6 => 0.5, 6..11 => 3.0, 11..18 => 6.0, _ => 3.0 }));
/// let told = spray_hours(SprayLimits::default(), &[day]);
/// assert_eq!(best_hours(&told, Fraction::percent(80.0)), Some([18, 24]));
/// ```
pub fn best_hours(hours: &[SprayHour], likely: Fraction) -> Option<[u32; 2]> {
    let fit = |hour: &SprayHour| hour.fit >= likely;
    let runs = hours.chunk_by(|a, b| fit(a) == fit(b)).filter(|run| run.first().is_some_and(fit));
    let longest = runs.min_by_key(|run| std::cmp::Reverse(run.len()))?;
    Some([longest.first()?.hour, longest.last()?.hour + 1])
}
