//! How moist the air is and how much sun there was, by whatever is known of them; FAO-56 (Allen and others
//! 1998) unless another source stands beside a figure.

use agronomy::{
    units::Measure,
    weather::{
        et0::{Et0Request, et0},
        sun::{RadiationRequest, radiation},
    },
};
use rstest::rstest;
use serde_json::{Value, json};

/// A day between 18 and 25 °C, as in examples 4 and 5, and what else is known of it.
fn day(known: Value) -> Et0Request {
    let mut day = json!({"latitude": 45.0, "day": "2026-07-06", "tmin": {"value": 18, "unit": "degC"},
        "tmax": {"value": 25, "unit": "degC"}});
    day.as_object_mut().unwrap().extend(known.as_object().unwrap().clone());
    serde_json::from_value(day).unwrap()
}

fn percent(share: f64) -> Value {
    json!({"value": share, "unit": "%"})
}

fn vapour_pressure(request: &Et0Request) -> f64 {
    let working = et0(request).unwrap().working;
    let line = working.lines.iter().find(|line| line.name.replace('_', " ") == "vapour pressure");
    line.expect("the vapour pressure is a line").value.value
}

/// Example 5: 1.70 kPa by both extremes (equation 17), 1.78 by the mean of 68 % (equation 19). By the highest
/// alone (equation 18) 82 % of 2.064; by the lowest alone 54 % of 3.168 (ASCE-EWRI 2005, equation 13; from memory).
#[rstest]
#[case::both(json!({"humidity_max": percent(82.0), "humidity_min": percent(54.0)}), 1.70)]
#[case::highest(json!({"humidity_max": percent(82.0)}), 0.82 * 2.064)]
#[case::lowest(json!({"humidity_min": percent(54.0)}), 0.54 * 3.168)]
#[case::mean(json!({"humidity_mean": percent(68.0)}), 1.78)]
#[case::dew_point(json!({"dew_point": {"value": 18, "unit": "degC"}}), 2.064)]
fn vapour_by_what_is_known(#[case] known: Value, #[case] expected: f64) {
    let found = vapour_pressure(&day(known));
    assert!((found - expected).abs() < 0.005, "{found}, not {expected}");
}

/// Example 18, Uccle, with its highest humidity alone: 84 % of 1.431 kPa at 12.3 °C.
#[test]
fn uccle_by_the_highest_humidity_alone() {
    let mut uccle = day(json!({"humidity_max": percent(84.0)}));
    (uccle.tmin, uccle.tmax) = (
        serde_json::from_value(json!({"value": 12.3, "unit": "degC"})).unwrap(),
        serde_json::from_value(json!({"value": 21.5, "unit": "degC"})).unwrap(),
    );
    let found = vapour_pressure(&uccle);
    assert!((found - 1.202).abs() < 0.001, "{found}");
}

/// What contradicts itself is refused at its field, instead of drying less than nothing.
#[rstest]
#[case::dew_point_above_all(json!({"dew_point": {"value": 26, "unit": "degC"}}), "/dew_point")]
#[case::dew_point_above_what_is_held(json!({"dew_point": {"value": 23, "unit": "degC"}}), "/dew_point")]
#[case::more_vapour_than_is_held(json!({"vapour_pressure": {"value": 3.0, "unit": "kPa"}}), "/vapour_pressure")]
#[case::lowest_above_highest(json!({"humidity_max": percent(50.0), "humidity_min": percent(60.0)}), "/humidity_min")]
#[case::mean_beside_extremes(json!({"humidity_max": percent(50.0), "humidity_mean": percent(40.0)}), "/humidity_mean")]
#[case::told_twice(json!({"dew_point": {"value": 12, "unit": "degC"}, "humidity_mean": percent(40.0)}), "/dew_point")]
#[case::heat_of_no_soil(json!({"soil_heat": {"value": 1e9, "unit": "MJ/m2"}}), "/soil_heat")]
#[case::negative_humidity(json!({"humidity_mean": percent(-1.0)}), "/humidity_mean")]
fn a_contradiction_is_refused(#[case] known: Value, #[case] pointer: &str) {
    let refused = et0(&day(known)).unwrap_err();
    assert_eq!(refused.0[0].pointer, pointer, "{refused:?}");
}

/// Saturated air dries nothing but gives no less than it gets: the bound itself is taken.
#[test]
fn saturated_air_is_air() {
    let most = (2.064 + 3.168) / 2.0 - 0.001;
    assert!(et0(&day(json!({"vapour_pressure": {"value": most, "unit": "kPa"}}))).is_ok());
    assert!(et0(&day(json!({"humidity_mean": percent(100.0)}))).is_ok());
}

fn sun(known: Value) -> RadiationRequest {
    let mut asked = json!({"latitude": 80.0, "day": "2026-12-21"});
    asked.as_object_mut().unwrap().extend(known.as_object().unwrap().clone());
    serde_json::from_value(asked).unwrap()
}

/// At 80° north the sun does not rise at midwinter: no sunshine is no radiation, not a share of nothing.
#[test]
fn polar_night_is_dark() {
    let dark = radiation(&sun(json!({"sunshine_hours": 0.0}))).unwrap().value;
    assert_eq!((dark.daylight_hours, dark.solar.map(Measure::base)), (0.0, Some(0.0)));
    let mut night = day(json!({"sunshine_hours": 0.0}));
    night.latitude = 80.0;
    night.day = jiff::civil::date(2026, 12, 21);
    let dried = Measure::base(et0(&night).unwrap().value);
    assert!(dried.is_finite(), "{dried}");
    assert!(radiation(&sun(json!({"sunshine_hours": 1.0}))).is_err(), "no sun, and an hour of it");
}

/// However wide the range of temperature, no more comes down than under a clear sky (equation 50 is an estimate;
/// equation 37 is the bound).
#[test]
fn a_wide_range_of_temperature_is_no_second_sun() {
    let wide = json!({"latitude": 35.0, "day": "2026-06-21", "tmin": {"value": 2, "unit": "degC"},
        "tmax": {"value": 32, "unit": "degC"}});
    let sun = radiation(&serde_json::from_value(wide).unwrap()).unwrap().value;
    let solar = sun.solar.map(Measure::base).unwrap();
    assert!((solar - Measure::base(sun.clear_sky)).abs() < 1e-9, "{solar}");
}
