//! The farm clock: the only place that reads the system clock.

use jiff::{Timestamp, civil::Date, tz::TimeZone};
use ledger::farm::Farm;

/// Now, for sessions and the like.
pub fn now() -> Timestamp {
    Timestamp::now()
}

/// The day at a farm: where a practice farm's clock stands, else the day of its time zone. A zone that
/// this machine no longer knows is read as UTC.
pub fn today(farm: &Farm) -> Date {
    farm.practice_day.unwrap_or_else(|| {
        let zone = TimeZone::get(&farm.time_zone).unwrap_or(TimeZone::UTC);
        now().to_zoned(zone).date()
    })
}

/// The hour of the day at a farm, from midnight: a practice farm's day has the hours of the real one.
pub fn hour(farm: &Farm) -> i8 {
    let zone = TimeZone::get(&farm.time_zone).unwrap_or(TimeZone::UTC);
    now().to_zoned(zone).hour()
}

/// Whether a time zone of this name is known.
pub fn is_zone(name: &str) -> bool {
    TimeZone::get(name).is_ok()
}

/// The zone of a place, as far as its place tells: that of the nearest of the towns that time zones are
/// named for. Near a border it may be the neighbour's; whoever sets the farm up sees it and chooses.
pub fn zone_of(latitude: f64, longitude: f64) -> &'static str {
    let towns = include_str!("zones.tsv").lines().filter_map(|line| {
        let mut cells = line.split('\t');
        let mut number = || cells.next()?.parse::<f64>().ok();
        let at = (number()?, number()?);
        Some((at, cells.next()?))
    });
    let nearness = |(lat, lon): (f64, f64)| {
        let (a, b) = (latitude.to_radians(), lat.to_radians());
        a.sin() * b.sin() + a.cos() * b.cos() * (longitude - lon).to_radians().cos()
    };
    towns.max_by(|a, b| nearness(a.0).total_cmp(&nearness(b.0))).map_or("Etc/UTC", |(_, zone)| zone)
}
