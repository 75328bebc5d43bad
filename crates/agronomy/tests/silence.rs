//! Nothing that is sent is passed over in silence: a day outside the record, a field beside the one that counts,
//! a stake that is none.

use agronomy::{
    lime,
    refusal::Refused,
    seed,
    units::Unit,
    water,
    weather::{
        self,
        degree_days::{DegreeDayRequest, degree_days},
        soil_temperature::{SoilTemperatureRequest, soil_temperature},
    },
    window,
};
use rstest::rstest;
use serde_json::{Value, json};

/// A generated record.
fn years() -> Value {
    json!({"from": "generated", "years": {"place": "northern-hills", "seed": 3, "from": "1985-01-01", "years": 25}})
}

fn reading(on: &str) -> Value {
    json!([{"on": on, "depth": {"value": 3, "unit": "cm"}, "temperature": {"value": 9, "unit": "degC"}}])
}

/// Ask a topic with a part put in.
fn ask(topic: &str, part: Value) -> Result<(), Refused> {
    let mut asked = match topic {
        "soil.temperature" => json!({"weather": years(), "depth": {"value": 3, "unit": "cm"}}),
        "water.balance" => json!({"weather": years(), "crop": "alfalfa", "texture": "loam", "drainage": "well"}),
        "window.odds" => json!({"weather": years(), "crop": "alfalfa", "texture": "loam", "drainage": "well",
            "on": "2010-05-10"}),
        other => panic!("{other}"),
    };
    asked.as_object_mut().unwrap().extend(part.as_object().unwrap().clone());
    match topic {
        "soil.temperature" => {
            soil_temperature(&serde_json::from_value::<SoilTemperatureRequest>(asked).unwrap()).map(drop)
        }
        "water.balance" => water::balance(&serde_json::from_value(asked).unwrap()).map(drop),
        _ => window::window_odds(&serde_json::from_value(asked).unwrap()).map(drop),
    }
}

#[rstest]
#[case::soil("soil.temperature", json!({"readings": reading("2110-05-01")}), "/readings/0/on")]
#[case::odds("window.odds", json!({"readings": reading("1910-05-01")}), "/readings/0/on")]
#[case::water("water.balance", json!({"irrigation": [{"on": "2100-07-01", "depth": {"value": 20, "unit": "mm"}}]}), "/irrigation/0/on")]
#[case::stake("window.odds", json!({"stake": {"value": -1, "unit": "money"}}), "/stake")]
fn what_would_count_for_nothing_is_refused(#[case] topic: &str, #[case] part: Value, #[case] pointer: &str) {
    let refused = ask(topic, part).unwrap_err();
    assert_eq!(refused.0[0].pointer, pointer, "{refused:?}");
    assert!(ask(topic, json!({})).is_ok(), "without it the request is a good one");
}

#[rstest]
#[case::soil("soil.temperature", json!({"readings": reading("2009-05-01")}))]
#[case::water("water.balance", json!({"irrigation": [{"on": "2009-07-01", "depth": {"value": 20, "unit": "mm"}}]}))]
fn what_counts_is_taken(#[case] topic: &str, #[case] part: Value) {
    ask(topic, part).unwrap();
}

#[test]
fn a_rate_beside_the_chart_is_not_passed_over() {
    let asked = json!({"crop": "alfalfa", "target": {"by": "chart", "rate": {"value": 15, "unit": "lb/ac"}},
        "tag": {"purity": {"value": 99, "unit": "%"}, "germination": {"value": 90, "unit": "%"}}});
    let refused = serde_json::from_value::<seed::RateRequest>(asked).unwrap_err().to_string();
    assert!(refused.contains("rate"), "{refused}");
}

/// What is capped makes the difference, by hand over a base of 10 °C with a cap of 30: a day of 14 to 36 has a mean
/// of 25, which no cap on the mean lowers (15); each lowered first, 36 counts as 30 (12).
#[rstest]
#[case::each("each", 12.0)]
#[case::mean("mean", 15.0)]
fn a_cap_is_on_what_it_says(#[case] on: &str, #[case] expected: f64) {
    let celsius = |value: f64| json!({"value": value, "unit": "degC"});
    let asked = json!({"days": [{"tmin": celsius(14.0), "tmax": celsius(36.0)}], "base": celsius(10.0),
        "cap": celsius(30.0), "cap_on": on});
    let answer = degree_days(&serde_json::from_value::<DegreeDayRequest>(asked).unwrap()).unwrap();
    assert!((answer.value.to(Unit::DegCDay) - expected).abs() < 1e-9, "{:?}", answer.value);
    let formula = &answer.working.lines[0].formula;
    assert!(formula.contains(if on == "each" { "each of the two" } else { "the mean lowered" }), "{formula}");
}

/// Sizes that no run holds are refused with their bound, instead of a panic or a machine out of memory.
#[rstest]
#[case::ahead(json!([{"is": "rain-after", "at_least": {"value": 10, "unit": "mm"}, "within_days": 400}]), "/rules/0/within_days")]
#[case::back(json!([{"is": "soil-warm", "mornings": 4_000_000_000_u32}]), "/rules/0/mornings")]
#[case::summed(json!([{"is": "no-frost", "after_days": 100, "days": 100}]), "/rules/0/days")]
#[case::maize(json!([{"is": "near-maize", "before_days": -5, "after_days": 3}]), "/rules/0/before_days")]
#[case::many(Value::Array(vec![json!({"is": "snow-free"}); 40]), "/rules")]
fn a_rule_reaches_no_further_than_the_runs(#[case] rules: Value, #[case] pointer: &str) {
    let refused = ask("window.odds", json!({"rules": rules})).unwrap_err();
    assert_eq!(refused.0[0].pointer, pointer, "{refused:?}");
}

#[test]
fn rules_at_their_bounds_are_tried() {
    let rules = json!([{"is": "rain-after", "at_least": {"value": 10, "unit": "mm"}, "within_days": 150},
        {"is": "soil-warm", "mornings": 150}, {"is": "no-frost", "after_days": 75, "days": 75}]);
    ask("window.odds", json!({"rules": rules})).unwrap();
}

#[rstest]
#[case(20_000)]
#[case(i16::MIN)]
#[case(1599)]
fn a_year_of_no_calendar_is_refused(#[case] year: i16) {
    let asked = json!({"weather": years(), "year": year});
    let refused = weather::frost::frost(&serde_json::from_value(asked).unwrap()).unwrap_err();
    assert_eq!(refused.0[0].pointer, "/year");
}

#[test]
fn what_hardly_reacts_is_no_lime() {
    let percent = |value: f64| json!({"value": value, "unit": "%"});
    let asked = json!({"school": {"by": "smp", "buffer_ph": 6.0}, "ph": 5.2, "target_ph": 6.8,
        "placement": "surface", "material": {"name": "dust", "kind": "calcitic", "cce": percent(0.0001),
            "sieves": [{"mesh": 8, "passing": percent(90.0)}, {"mesh": 60, "passing": percent(50.0)}]}});
    let refused = lime::need(&serde_json::from_value(asked).unwrap()).unwrap_err();
    assert_eq!(refused.0[0].pointer, "/material", "{refused:?}");
}
