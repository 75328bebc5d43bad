//! Whether a field is fit, why not, and from when.

use agronomy::{
    site::*,
    units::{Conductivity, Unit},
};
use jiff::{ToSpan, civil::date};
use proptest::prelude::*;
use rstest::rstest;
use serde_json::{Value, json};

/// A good field for alfalfa, with nothing unknown.
fn good() -> Value {
    let layer = |from: f64, to: f64, ph: f64| json!({"from": {"value": from, "unit": "in"}, "to": {"value": to, "unit": "in"}, "ph": ph});
    json!({
        "crop": "alfalfa", "today": "2026-05-14", "sow_on": "2026-08-10", "history_known": true,
        "facts": {
            "drainage": "well", "ponding_days": 0, "restrictive_depth": {"value": 120, "unit": "cm"},
            "slope": {"value": 3, "unit": "%"}, "texture": "silt-loam", "rain": {"value": 960, "unit": "mm"},
            "warmest_month": {"value": 21, "unit": "degC"}, "residue": "bean-stubble", "perennial_weeds": ""
        },
        "soil": {"laboratory": "L", "sampled_on": "2026-03-20", "layers": [layer(0.0, 6.0, 6.8), layer(6.0, 24.0, 6.2)]}
    })
}

fn salts(request: &mut Value, value: f64) {
    request["soil"]["layers"][0]["salts"] = json!({"value": value, "unit": "dS/m"});
}

fn checked(request: Value) -> Readiness {
    check(&serde_json::from_value(request).unwrap()).unwrap().value
}

fn of<'a>(readiness: &'a Readiness, key: &str) -> &'a SiteCheck {
    readiness.checks.iter().find(|check| check.key == key).unwrap_or_else(|| panic!("{key}: {readiness:?}"))
}

#[test]
fn a_good_field_is_fit_today() {
    let readiness = checked(good());
    assert_eq!(readiness.verdict, Verdict::Fit, "{:#?}", readiness.checks);
    assert_eq!(readiness.earliest, Some(date(2026, 5, 14)));
    assert_eq!(readiness.says, "Suitable for alfalfa.");
    assert!(!readiness.wants_bioassay && !readiness.wants_soil_test);
}

#[test]
fn what_nobody_measured_is_unknown_and_names_the_measurement() {
    let readiness = checked(json!({"crop": "alfalfa", "today": "2026-05-14", "sow_on": "2026-08-10"}));
    assert_eq!(readiness.verdict, Verdict::Unknown);
    assert!(readiness.wants_soil_test && readiness.wants_bioassay);
    for check in &readiness.checks {
        assert!(check.verdict != Verdict::Fit || check.key == "slope", "{check:?}");
        assert!(check.turn.as_ref().is_some_and(|turn| !turn.is_empty()), "{check:?}");
    }
    assert!(readiness.says.contains("not checked"));
}

#[rstest]
#[case::wet(json!({"drainage": "poor"}), "drainage", Verdict::Unfit)]
#[case::ponding(json!({"ponding_days": 4}), "ponding", Verdict::Unfit)]
#[case::shallow(json!({"restrictive_depth": {"value": 14, "unit": "in"}}), "depth", Verdict::Unfit)]
// 25 inches where 25.6 are asked for is less water, not no stand: common practice.
#[case::a_little_short(json!({"restrictive_depth": {"value": 25, "unit": "in"}}), "depth", Verdict::FitWithWork)]
#[case::sloping(json!({"slope": {"value": 11, "unit": "%"}}), "slope", Verdict::FitWithWork)]
#[case::cliff(json!({"slope": {"value": 40, "unit": "%"}}), "slope", Verdict::Unfit)]
#[case::dry(json!({"rain": {"value": 300, "unit": "mm"}}), "water", Verdict::Unfit)]
#[case::watered(json!({"rain": {"value": 300, "unit": "mm"}, "irrigated": true}), "water", Verdict::Fit)]
#[case::maize(json!({"residue": "heavy-maize"}), "residue", Verdict::FitWithWork)]
#[case::quackgrass(json!({"perennial_weeds": "quackgrass"}), "weeds", Verdict::FitWithWork)]
fn each_fact_tells(#[case] facts: Value, #[case] key: &str, #[case] verdict: Verdict) {
    let mut request = good();
    salts(&mut request, 0.6);
    for (name, value) in facts.as_object().unwrap() {
        request["facts"][name] = value.clone();
    }
    let readiness = checked(request);
    let found = of(&readiness, key);
    assert_eq!(found.verdict, verdict, "{found:?}");
    assert_eq!(readiness.verdict, verdict.max(Verdict::Fit));
    assert!(!found.source.citation.is_empty());
}

/// Common practice: lime six months before sowing at the least.
#[test]
fn a_sour_plough_layer_wants_lime_and_half_a_year() {
    let mut request = good();
    request["soil"]["layers"][0]["ph"] = json!(5.4);
    let readiness = checked(request.clone());
    assert_eq!(of(&readiness, "ph").verdict, Verdict::FitWithWork);
    assert_eq!(readiness.earliest, Some(date(2026, 11, 14)));
    assert!(readiness.says.contains("14 Nov 2026"), "{}", readiness.says);
    // The other crop bears it.
    request["crop"] = json!("switchgrass");
    assert_eq!(of(&checked(request), "ph").verdict, Verdict::FitWithWork.min(Verdict::FitWithWork));
}

/// FAO 29, table 4: alfalfa gives 100, 90, 75, 50 and 0 % at 2.0, 3.4, 5.4, 8.8 and 16 dS/m; bermudagrass 6.9, 8.5, 11,
/// 15 and 23; orchardgrass 1.5, 3.1, 5.5, 9.6 and 18; perennial ryegrass 5.6, 6.9, 8.9, 12 and 19; tall fescue 3.9, 5.5,
/// 7.8, 12 and 20; clovers 1.5, 2.3, 3.6, 5.7 and 9.8.
#[rstest]
#[case("alfalfa", [2.0, 3.4, 5.4, 8.8, 16.0])]
#[case("bermudagrass", [6.9, 8.5, 11.0, 15.0, 23.0])]
#[case("orchardgrass", [1.5, 3.1, 5.5, 9.6, 18.0])]
#[case("perennial-ryegrass", [5.6, 6.9, 8.9, 12.0, 19.0])]
#[case("tall-fescue", [3.9, 5.5, 7.8, 12.0, 20.0])]
#[case("red-clover", [1.5, 2.3, 3.6, 5.7, 9.8])]
fn salt_takes_what_the_table_says(#[case] crop: &str, #[case] at: [f64; 5]) {
    let salt = agronomy::crop::library().crop(crop).unwrap().soil.salt.clone().unwrap();
    for (conductivity, share) in at.into_iter().zip([100.0, 90.0, 75.0, 50.0, 0.0]) {
        let found = salt.share_at(Conductivity::new(conductivity, Unit::DsPerM)).to(Unit::Percent);
        // The table rounds its conductivities to two figures.
        assert!((found - share).abs() < 5.0, "{crop} at {conductivity}: {found} for {share}");
    }
}

#[rstest]
#[case::bears_it("bermudagrass", 6.0, Verdict::Fit)]
#[case::loses_some("alfalfa", 5.4, Verdict::FitWithWork)]
#[case::loses_most("white-clover", 6.0, Verdict::Unfit)]
#[case::nobody_knows("teff", 6.0, Verdict::Unknown)]
#[case::hardly_any("teff", 1.0, Verdict::Fit)]
fn a_salty_soil_is_for_who_bears_it(#[case] crop: &str, #[case] salts: f64, #[case] verdict: Verdict) {
    let mut request = good();
    request["crop"] = json!(crop);
    self::salts(&mut request, salts);
    assert_eq!(of(&checked(request), "salt").verdict, verdict);
}

/// Rain washes salt out: nobody in a wet country is asked for a test of it.
#[test]
fn salt_is_asked_for_where_it_gathers() {
    let asked = |facts: Value| {
        let mut request = good();
        for (name, value) in facts.as_object().unwrap() {
            request["facts"][name] = value.clone();
        }
        checked(request).checks.iter().any(|check| check.key == "salt")
    };
    assert!(!asked(json!({})));
    assert!(!asked(json!({"irrigated": true})), "960 mm of rain leach it");
    assert!(asked(json!({"irrigated": true, "rain": {"value": 600, "unit": "mm"}})));
    assert!(asked(json!({"rain": {"value": 420, "unit": "mm"}})));
}

/// Calcareous soils: soybeans turn yellow where alfalfa does well; above pH 8.5 sodium is suspected (common practice).
#[rstest]
#[case("soybean", 7.9, Verdict::FitWithWork, "iron")]
#[case("alfalfa", 7.9, Verdict::Fit, "target")]
#[case("alfalfa", 8.8, Verdict::FitWithWork, "sodium")]
fn a_soil_can_be_too_alkaline(#[case] crop: &str, #[case] ph: f64, #[case] verdict: Verdict, #[case] says: &str) {
    let mut request = good();
    request["crop"] = json!(crop);
    request["soil"]["layers"][0]["ph"] = json!(ph);
    let readiness = checked(request);
    let check = of(&readiness, "ph");
    assert_eq!(check.verdict, verdict, "{check:?}");
    assert!(format!("{} {}", check.reason, check.turn.clone().unwrap_or_default()).contains(says), "{check:?}");
}

/// A slope too steep to till can be sown under a companion crop, and by hand one that no machine should climb.
#[rstest]
#[case(11.0, None, Verdict::FitWithWork)]
#[case(11.0, Some(12.0), Verdict::Fit)]
#[case(33.0, None, Verdict::Unfit)]
#[case(33.0, Some(40.0), Verdict::FitWithWork)]
#[case(45.0, Some(40.0), Verdict::Unfit)]
fn a_method_has_its_own_slope(#[case] slope: f64, #[case] limit: Option<f64>, #[case] verdict: Verdict) {
    let mut request = good();
    request["facts"]["slope"] = json!({"value": slope, "unit": "%"});
    request["slope_limit"] = json!(limit.map(|value| json!({"value": value, "unit": "%"})));
    assert_eq!(of(&checked(request), "slope").verdict, verdict);
}

/// A sour subsoil takes many years: no day is promised.
#[test]
fn a_sour_subsoil_has_no_day() {
    let mut request = good();
    request["soil"]["layers"][1]["ph"] = json!(4.9);
    let readiness = checked(request);
    assert_eq!(of(&readiness, "subsoil").verdict, Verdict::Unfit);
    assert_eq!(readiness.earliest, None);
    assert!(readiness.says.contains("Choose another field or crop"));
}

#[test]
fn an_old_test_is_no_test() {
    let mut request = good();
    request["soil"]["sampled_on"] = json!("2021-03-20");
    let readiness = checked(request);
    assert_eq!(of(&readiness, "ph").verdict, Verdict::Unknown);
    assert!(readiness.wants_soil_test);
}

fn sprayed(active: &str, on: &str, label_months: Option<i32>) -> Value {
    let mut request = good();
    request["sprays"] = json!([{"active": active, "on": on}]);
    if let Some(months) = label_months {
        request["sprays"][0]["label_months"] = json!(months);
    }
    request
}

/// Pyridine acids kill legumes for a year and more; a grass bears them soon.
#[test]
fn a_pyridine_spray_keeps_legumes_out_and_lets_grasses_in() {
    let mut request = sprayed("aminopyralid", "2025-06-10", None);
    let readiness = checked(request.clone());
    assert_eq!(readiness.verdict, Verdict::Unfit);
    assert_eq!(readiness.earliest, Some(date(2027, 6, 10)));
    assert!(readiness.wants_bioassay);
    assert!(readiness.says.contains("until 10 Jun 2027"), "{}", readiness.says);
    request["crop"] = json!("switchgrass");
    assert_eq!(of(&checked(request), "carry-over").verdict, Verdict::Fit);
}

/// A spot spray on thistles does not take the field from the clover: those spots are left out.
#[test]
fn a_spot_spray_leaves_the_rest_of_the_field() {
    let mut request = sprayed("aminopyralid", "2025-06-10", None);
    request["sprays"][0]["spots"] = json!(true);
    let readiness = checked(request.clone());
    let check = of(&readiness, "carry-over");
    assert_eq!((check.verdict, readiness.wants_bioassay), (Verdict::FitWithWork, false));
    assert!(check.reason.to_string().contains("only spots were sprayed"), "{}", check.reason);
    // All over once more, it is the field's.
    request["sprays"].as_array_mut().unwrap().push(json!({"active": "aminopyralid", "on": "2025-05-01"}));
    assert_eq!(of(&checked(request), "carry-over").verdict, Verdict::Unfit);
}

#[rstest]
#[case::label_rules(sprayed("aminopyralid", "2025-06-10", Some(6)), Verdict::Fit)]
#[case::label_forbids(sprayed("glyphosate", "2026-05-01", Some(12)), Verdict::Unfit)]
#[case::harmless(sprayed("Glyphosate", "2026-05-01", None), Verdict::Fit)]
#[case::unread(sprayed("novel stuff", "2026-05-01", None), Verdict::Unknown)]
#[case::salt(sprayed("picloram-potassium", "2025-09-01", None), Verdict::Unfit)]
fn the_label_rules_and_the_table_warns(#[case] request: Value, #[case] verdict: Verdict) {
    let readiness = checked(request);
    assert_eq!(of(&readiness, "carry-over").verdict, verdict, "{:?}", of(&readiness, "carry-over"));
}

#[rstest]
#[case(true, "2026-04-20", Verdict::Fit)]
#[case(false, "2026-04-20", Verdict::Unfit)]
#[case(true, "2025-01-20", Verdict::Unfit)]
fn a_bioassay_after_the_spray_settles_it(#[case] passed: bool, #[case] on: &str, #[case] verdict: Verdict) {
    let mut request = sprayed("aminopyralid", "2025-06-10", None);
    request["bioassay"] = json!({"on": on, "passed": passed});
    assert_eq!(of(&checked(request), "carry-over").verdict, verdict);
}

#[test]
fn an_unknown_history_asks_for_a_bioassay() {
    let mut request = good();
    request["history_known"] = json!(false);
    let readiness = checked(request.clone());
    assert_eq!(of(&readiness, "carry-over").verdict, Verdict::Unknown);
    assert!(readiness.wants_bioassay);
    request["bioassay"] = json!({"on": "2026-05-01", "passed": false});
    let failed = checked(request.clone());
    assert_eq!(of(&failed, "carry-over").verdict, Verdict::Unfit);
    assert_eq!(failed.earliest, Some(date(2027, 5, 1)));
    request["bioassay"]["passed"] = json!(true);
    assert_eq!(of(&checked(request), "carry-over").verdict, Verdict::Fit);
}

/// Rotate 12 to 24 months after alfalfa; longer after old stands; a stand under a year old can be
/// filled in.
#[rstest]
#[case(0.5, Verdict::Fit, None)]
#[case(2.0, Verdict::Unfit, Some(date(2027, 4, 20)))]
#[case(5.0, Verdict::Unfit, Some(date(2028, 4, 20)))]
fn alfalfa_after_alfalfa(#[case] years: f64, #[case] verdict: Verdict, #[case] earliest: Option<jiff::civil::Date>) {
    let mut request = good();
    request["past_crops"] = json!([{"crop": "alfalfa", "ended": "2026-04-20", "years": years}]);
    let readiness = checked(request);
    assert_eq!(of(&readiness, "autotoxicity").verdict, verdict);
    if let Some(day) = earliest {
        assert_eq!(readiness.earliest, Some(day));
    }
}

/// Common practice: rhizome crops keep 25 ft from land that someone else manages.
#[rstest]
#[case(true, 10.0, Verdict::FitWithWork)]
#[case(true, 25.0, Verdict::Fit)]
#[case(false, 0.0, Verdict::Fit)]
fn rhizomes_keep_from_the_neighbour(#[case] neighbour: bool, #[case] feet: f64, #[case] verdict: Verdict) {
    let mut request = good();
    request["crop"] = json!("giant-miscanthus");
    request["facts"]["neighbour"] = json!(neighbour);
    request["setback"] = json!({"value": feet, "unit": "ft"});
    assert_eq!(of(&checked(request), "neighbour").verdict, verdict);
}

#[test]
fn every_crop_can_be_asked_about_and_the_worst_comes_first() {
    for crop in agronomy::crop::library().crops() {
        let mut request = good();
        request["crop"] = json!(crop.id);
        request["facts"]["drainage"] = json!("poor");
        let readiness = checked(request);
        assert!(readiness.checks.windows(2).all(|pair| pair[0].verdict >= pair[1].verdict), "{}", crop.id);
        assert_eq!(readiness.verdict, readiness.checks[0].verdict);
    }
}

#[rstest]
#[case(|request: &mut Value| request["facts"]["slope"] = json!({"value": 140, "unit": "%"}), "/facts/slope")]
#[case(|request: &mut Value| request["facts"]["ponding_days"] = json!(-2), "/facts/ponding_days")]
#[case(|request: &mut Value| request["soil"]["layers"][0]["ph"] = json!(15), "/soil/layers/0/ph")]
#[case(|request: &mut Value| request["soil"]["layers"] = json!([]), "/soil/layers")]
#[case(|request: &mut Value| request["sow_on"] = json!("2126-01-01"), "/sow_on")]
#[case(|request: &mut Value| request["sprays"] = json!([{"active": " ", "on": "2025-01-01"}]), "/sprays/0/active")]
#[case(|request: &mut Value| request["crop"] = json!("moon-grass"), "/crop")]
fn what_cannot_be(#[case] spoil: fn(&mut Value), #[case] pointer: &str) {
    let mut request = good();
    spoil(&mut request);
    let refused = check(&serde_json::from_value(request).unwrap()).unwrap_err();
    assert!(refused.0.iter().any(|one| one.pointer == pointer), "{refused:?}");
}

proptest! {
    /// Waiting never makes a spray worse, a longer label never sooner, and the field is as fit as
    /// its worst check.
    #[test]
    fn time_only_mends(months_ago in 0..60_i32, label in 0..60_i32, wait in 0..40_i32) {
        let today = date(2026, 5, 14);
        let sprayed_on = today.saturating_sub(months_ago.months());
        let at = |label: i32, wait: i32| {
            let mut request = sprayed("picloram", &sprayed_on.to_string(), Some(label));
            request["sow_on"] = json!(today.saturating_add(wait.months()).to_string());
            checked(request)
        };
        let now = at(label, wait);
        prop_assert!(of(&at(label, wait + 1), "carry-over").verdict <= of(&now, "carry-over").verdict);
        prop_assert!(of(&at(label + 1, wait), "carry-over").verdict >= of(&now, "carry-over").verdict);
        prop_assert_eq!(now.verdict, now.checks.iter().map(|check| check.verdict).max().unwrap());
        prop_assert!(now.earliest.is_none_or(|day| day >= today));
        if let Some(ready) = of(&now, "carry-over").ready_on {
            prop_assert_eq!(ready, sprayed_on.saturating_add(label.months()));
        }
    }

    /// A better measurement never makes a field less fit.
    #[test]
    fn better_ground_is_never_worse(depth in 10.0..150.0_f64, slope in 0.0..40.0_f64, rain in 100.0..2_000.0_f64, ph in 4.0..7.5_f64, more in 0.0..1.0_f64) {
        let at = |depth: f64, slope: f64, rain: f64, ph: f64| {
            let mut request = good();
            request["facts"]["restrictive_depth"] = json!({"value": depth, "unit": "cm"});
            request["facts"]["slope"] = json!({"value": slope, "unit": "%"});
            request["facts"]["rain"] = json!({"value": rain, "unit": "mm"});
            request["soil"]["layers"][0]["ph"] = json!(ph);
            checked(request)
        };
        let (here, better) = (at(depth, slope, rain, ph), at(depth * (1.0 + more), slope * (1.0 - more), rain * (1.0 + more), ph + more));
        for key in ["depth", "slope", "water", "ph"] {
            prop_assert!(of(&better, key).verdict <= of(&here, key).verdict, "{key}");
        }
    }
}

/// What the label says of the crop at hand goes before what it says of the next crop, and both before the table.
#[test]
fn days_to_a_crop_read_off_the_label_rule() {
    let sprayed = |more: Value| {
        let mut request = good();
        let mut spray = json!({"active": "picloram", "on": "2026-05-01"});
        spray.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
        request["sprays"] = json!([spray]);
        of(&checked(request), "carry-over").ready_on
    };
    assert_eq!(sprayed(json!({"label_months": 12})), Some(date(2027, 5, 1)));
    let days = json!([{"crop": "legumes", "days": 200}, {"crop": "wheat", "days": 10}]);
    assert_eq!(sprayed(json!({"label_months": 12, "plant_back": days})), Some(date(2026, 11, 17)));
    // A label that names other crops says nothing of this one: the table warns.
    assert_eq!(sprayed(json!({"plant_back": [{"crop": "wheat", "days": 10}]})), Some(date(2028, 5, 1)));
    assert_eq!(sprayed(json!({"plant_back": [{"crop": "alfalfa", "days": 30}]})), None);
}
