//! Growth from seed, against the law it follows and what fields give.

use agronomy::{
    crop::{GrowthFacts, library},
    growth::Growing,
    units::Unit,
    window::growing_time::{TimeLeft, TimeLeftRequest, growing_time_left},
};
use rstest::rstest;
use serde_json::json;

fn oats() -> &'static GrowthFacts {
    library().crop("forage-oats").unwrap().growth.as_ref().unwrap()
}

/// Goudriaan & Monteith 1990, Annals of Botany 66:695–701, equation 5: under steady light
/// w = (Cm/Rm)·ln(1 + exp(Rm·(t − tb))), with Cm = what a day's light can make, Rm = Cm·c, and tb from
/// the mass at the start.
#[rstest]
#[case(16.0, 14.0, 40)]
#[case(25.0, 20.0, 15)]
#[case(9.5, 6.0, 70)]
fn steady_light_grows_by_the_expolinear_law(#[case] mean: f64, #[case] solar: f64, #[case] days: u32) {
    let facts = GrowthFacts { emerges: 0.0, ends: 1e9, ..oats().clone() };
    let (w0, c) = (facts.at_emergence, facts.catches);
    let mild = ((mean - 4.0) / (facts.full_at - 4.0)).min(1.0);
    let most = facts.light_use * 0.5 * solar * mild;
    let rate = most * c;
    let lost = -((c * w0).exp() - 1.0).ln() / rate;
    let law = most / rate * (1.0 + (rate * (f64::from(days) - lost)).exp()).ln();
    let mut growing = Growing::default();
    (0..days).for_each(|_| growing.step(&facts, 4.0, mean, solar));
    assert!((growing.mass - law).abs() < 1e-6 * law, "{} for {law}", growing.mass);
}

#[test]
fn nothing_grows_before_it_is_up_in_the_cold_or_when_ripe() {
    let mut growing = Growing::default();
    growing.step(oats(), 4.0, 20.0, 20.0);
    assert_eq!(growing.mass, 0.0, "not up yet");
    (0..40).for_each(|_| growing.step(oats(), 4.0, 20.0, 20.0));
    let before = growing;
    (0..30).for_each(|_| growing.step(oats(), 4.0, 1.0, 20.0));
    assert!((growing.mass - before.mass).abs() < 1e-9 && growing.warmth == before.warmth, "too cold");
    (0..200).for_each(|_| growing.step(oats(), 4.0, 20.0, 20.0));
    let ripe = growing.mass;
    (0..10).for_each(|_| growing.step(oats(), 4.0, 20.0, 20.0));
    assert_eq!(growing.mass, ripe);
}

fn left(crop: &str, on: &str) -> TimeLeft {
    let request: TimeLeftRequest = serde_json::from_value(json!({"crop": crop, "from": on,
        "weather": {"from": "generated", "years": {"place": "northern-hills", "seed": 7, "from": "1980-01-01", "years": 45}}}))
    .unwrap();
    growing_time_left(&request).unwrap().value
}

/// Oats for autumn feed in the northern states give two to three short tons of dry matter an acre from
/// the first half of August, a ton or so from its end, and little from mid-September (common practice,
/// no source).
#[rstest]
#[case("2026-08-03", 1.8, 3.3)]
#[case("2026-08-14", 1.3, 2.6)]
#[case("2026-08-30", 0.4, 1.4)]
#[case("2026-09-15", 0.0, 0.4)]
fn autumn_oats_give_what_fields_give(#[case] sown: &str, #[case] at_least: f64, #[case] at_most: f64) {
    let told = left("forage-oats", sown);
    let tons: Vec<f64> = told.dry_matter.iter().map(|mass| mass.to(Unit::TonPerAc)).collect();
    assert!(tons.len() == 3 && tons.is_sorted(), "{tons:?}");
    assert!((at_least..at_most).contains(&tons[1]), "sown {sown}: {tons:?}");
}

/// Sown in spring it is ripe long before frost, and what ends it then is not reckoned here.
#[test]
fn only_what_frost_ends_is_told() {
    assert!(left("forage-oats", "2026-04-25").dry_matter.is_empty());
    let request: TimeLeftRequest = serde_json::from_value(json!({"crop": "forage-oats", "from": "2026-03-10",
        "weather": {"from": "generated", "years": {"place": "southern-plains", "seed": 7, "from": "1980-01-01", "years": 45}}}))
    .unwrap();
    let mild = growing_time_left(&request).unwrap().value;
    assert!(mild.frost.len() < 3 && mild.dry_matter.is_empty(), "{mild:?}");
}

#[test]
fn a_crop_whose_growth_is_not_known_is_not_guessed_at() {
    assert!(left("timothy", "2026-08-10").dry_matter.is_empty());
}
