//! A farm's day turns with the clocks of its place.

use jiff::tz::TimeZone;
use rstest::rstest;
use server::clock::{is_zone, zone_of};

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
