//! Frosts of the years of a record, and quantiles of what is counted from them.
//!
//! Temperatures are those of the screen, 1.5 to 2 m above the ground.

use jiff::civil::Date;

use crate::day::{Years, plus, warm_middle};

/// Light, killing for tender plants, killing for most: 32, 28 and 24 °F.
pub const THRESHOLDS: [f64; 3] = [0.0, -4.0 / 1.8, -8.0 / 1.8];

/// Screen temperatures whose next occurrence is kept for every day, °C.
pub const FROSTS: [f64; 4] = [0.0, -4.0 / 1.8, -8.0 / 1.8, -8.0];

/// The frosts around one summer.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct FrostYear {
    /// The middle of the summer between them.
    pub summer: Date,
    /// The last day of the cold half before it at or below the threshold.
    pub last: Option<Date>,
    /// The first after it.
    pub first: Option<Date>,
}

/// The frosts around every summer whose two halves the record covers without a gap.
pub fn frost_years(years: &Years, threshold: f64) -> Vec<FrostYear> {
    let cold = |date: Date| years.day(date).map(|day| day.tmin <= threshold);
    let find = |from: Date, step: i32| -> Option<Option<Date>> {
        for ahead in 0..182 {
            let date = plus(from, step * ahead);
            if cold(date)? {
                return Some(Some(date));
            }
        }
        Some(None)
    };
    (years.first.year()..=years.last().year())
        .filter_map(|year| {
            let summer = warm_middle(years.place.latitude, year);
            Some(FrostYear { summer, last: find(plus(summer, -1), -1)?, first: find(summer, 1)? })
        })
        .collect()
}

/// The value below which a share of sorted values lies, between neighbours by straight line
/// (Hyndman & Fan 1996, type 7).
pub fn quantile(sorted: &[f64], share: f64) -> Option<f64> {
    let last = sorted.len().checked_sub(1)?;
    let at = share.clamp(0.0, 1.0) * last as f64;
    let (below, above) = (sorted[at.floor() as usize], sorted[at.ceil() as usize]);
    Some(below + (above - below) * at.fract())
}
