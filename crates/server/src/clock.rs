//! The farm clock: the only place that reads the system clock.

use jiff::{Timestamp, civil::Date, tz::TimeZone};
use ledger::farm::Farm;

/// Now, for sessions and the like.
pub fn now() -> Timestamp {
    Timestamp::now()
}

/// The day at a farm: where a practice farm's clock stands, else the calendar's day by the sun at
/// its longitude. Good to the hour or so, which the day of an entry does not feel.
pub fn today(farm: &Farm) -> Date {
    farm.practice_day.unwrap_or_else(|| {
        let hours = (farm.longitude / 15.0).round() as i8;
        let zone = jiff::tz::Offset::from_hours(hours).map_or(TimeZone::UTC, TimeZone::fixed);
        now().to_zoned(zone).date()
    })
}
