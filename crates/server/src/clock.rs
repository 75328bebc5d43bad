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

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[rstest]
    #[case(42.5, -76.5, "America/New_York")]
    #[case(-33.9, -56.2, "America/Montevideo")]
    #[case(4.6, -75.4, "America/Bogota")]
    #[case(48.1, 11.6, "Europe/Berlin")]
    #[case(-43.5, 172.6, "Pacific/Auckland")]
    fn a_place_has_the_zone_of_its_nearest_town(#[case] latitude: f64, #[case] longitude: f64, #[case] zone: &str) {
        let found = zone_of(latitude, longitude);
        let same = |name: &str| TimeZone::get(name).unwrap().to_offset(jiff::Timestamp::UNIX_EPOCH);
        assert!(is_zone(found));
        // Some countries share a zone by another town's name.
        assert!(found == zone || same(found) == same(zone), "{found}, not {zone}");
    }

    /// The clocks of a state decide, not the sun: New York is four hours behind in summer, not five.
    #[test]
    fn the_day_turns_with_the_clocks() {
        let late: jiff::Timestamp = "2026-07-01T03:30:00Z".parse().unwrap();
        let zoned = |zone: &str| late.to_zoned(TimeZone::get(zone).unwrap()).date();
        assert_eq!(zoned("America/New_York"), jiff::civil::date(2026, 6, 30));
        assert_eq!(zoned("Etc/GMT+3"), jiff::civil::date(2026, 7, 1));
    }
}
