//! Which kind of a crop fits a place, and which of the farm's own.

use agronomy::{
    units::Measure,
    variety::{Fit, VarietyAnswer, VarietyRequest, choose_variety},
};
use proptest::prelude::*;
use rstest::rstest;
use serde_json::{Value, json};

fn told(request: Value) -> VarietyAnswer {
    choose_variety(&serde_json::from_value::<VarietyRequest>(request).unwrap()).unwrap().value
}

fn fits(answer: &VarietyAnswer) -> Vec<&str> {
    answer.kinds.iter().filter(|kind| kind.fit == Fit::Fits).map(|kind| kind.key.as_str()).collect()
}

/// Very cold winters 2 to 4, temperate 3 to 6, mild 5 to 9 (variety lists, from memory).
#[rstest]
#[case::very_cold(-30.0, &["dormant"])]
#[case::cold(-20.0, &["dormant", "half-dormant"])]
#[case::temperate(-12.0, &["half-dormant"])]
#[case::mild(-3.0, &["non-dormant"])]
fn dormancy_by_winter(#[case] night: f64, #[case] wanted: &[&str]) {
    let answer = told(json!({"crop": "alfalfa", "winter": {"value": night, "unit": "degC"}}));
    assert_eq!(fits(&answer), wanted);
    assert!(answer.kinds.iter().all(|kind| (kind.fit == Fit::Fits) == kind.why.is_none()));
}

/// Common practice: a forage type of oats by midsummer, an early grain type when it is late.
#[rstest]
#[case::by_midsummer(100.0, &["forage"])]
#[case::late(60.0, &["grain"])]
#[case::between(78.0, &["forage", "grain"])]
#[case::too_late(30.0, &[])]
fn oats_by_the_time_there_is(#[case] days: f64, #[case] wanted: &[&str]) {
    assert_eq!(fits(&told(json!({"crop": "forage-oats", "days_to_frost": days}))), wanted);
}

#[test]
fn what_is_not_known_fits_nobody_and_bars_nobody() {
    let answer = told(json!({"crop": "alfalfa"}));
    assert!(answer.kinds.iter().all(|kind| kind.fit == Fit::Unknown && kind.why.is_some()));
}

/// Trials beat lists, and one trial is no trial: a fifth above in one is told below a tenth above in four.
#[test]
fn few_trials_tell_little() {
    let trial =
        |share: f64| json!({"yield": {"value": 10.0 * share, "unit": "t/ha"}, "mean": {"value": 10, "unit": "t/ha"}});
    let answer = told(json!({"crop": "alfalfa", "winter": {"value": -20, "unit": "degC"}, "own": [
        {"name": "one good year", "dormancy": 4, "trials": [trial(1.2)]},
        {"name": "never tried", "dormancy": 4},
        {"name": "winter takes it", "dormancy": 9, "trials": [trial(1.5), trial(1.5), trial(1.5)]},
        {"name": "always good", "dormancy": 4, "trials": [trial(1.1), trial(1.12), trial(1.08), trial(1.1)]},
        {"name": "always poor", "dormancy": 4, "trials": [trial(0.9), trial(0.9)]},
    ]}));
    let names: Vec<&str> = answer.own.iter().map(|one| one.name.as_str()).collect();
    assert_eq!(names, ["one good year", "always good", "never tried", "always poor", "winter takes it"]);
    let expected = |at: usize| answer.own[at].standing.unwrap().expected.base();
    assert!((expected(0) - expected(1)).abs() < 1e-9, "one third of a fifth is two thirds of a tenth");
    assert_eq!(answer.own[4].fit, Fit::Unfit);
}

#[rstest]
#[case::kind(json!({"crop": "alfalfa", "own": [{"name": "x", "kind": "tetraploid"}]}), "/own/0/kind")]
#[case::dormancy(json!({"crop": "alfalfa", "own": [{"name": "x", "dormancy": 14}]}), "/own/0/dormancy")]
#[case::mean_of_nothing(json!({"crop": "alfalfa", "own": [{"name": "x", "trials": [{"yield": {"value": 1, "unit": "t/ha"}, "mean": {"value": 0, "unit": "t/ha"}}]}]}), "/own/0/trials/0/mean")]
#[case::no_kinds(json!({"crop": "timothy"}), "/crop")]
fn what_can_not_be_is_refused(#[case] request: Value, #[case] pointer: &str) {
    let refused = choose_variety(&serde_json::from_value::<VarietyRequest>(request).unwrap()).unwrap_err();
    assert!(refused.0.iter().any(|one| one.pointer == pointer), "{refused:?}");
}

proptest! {
    /// A better trial never makes less to be expected, and what is expected lies between the mean and its trials.
    #[test]
    fn trials_draw_the_estimate(shares in prop::collection::vec(0.5..1.5f64, 1..10), more in 0.0..0.5f64) {
        let of = |shares: &[f64]| {
            let trials: Vec<Value> = shares.iter().map(|share| json!({"yield": {"value": share * 8.0, "unit": "t/ha"}, "mean": {"value": 8, "unit": "t/ha"}})).collect();
            told(json!({"crop": "alfalfa", "own": [{"name": "x", "trials": trials}]})).own[0].standing.unwrap()
        };
        let once = of(&shares);
        let mut better = shares.clone();
        better[0] += more;
        prop_assert!(of(&better).expected.base() >= once.expected.base() - 1e-9);
        let (low, high) = (once.of_mean.base().min(1.0), once.of_mean.base().max(1.0));
        prop_assert!((low - 1e-9..=high + 1e-9).contains(&once.expected.base()));
    }
}
