//! Seedbeds and tanks against published factors and what the trade teaches.

use agronomy::{
    refusal::Refused,
    seedbed::{
        firmness::{Firmness, FirmnessRequest, firmness},
        loss::{SoilLoss, SoilLossRequest, erosivity, slope_factor, soil_loss},
    },
    tank::{TankRequest, Tanks, tank_mix},
    units::Unit,
};
use proptest::prelude::*;
use rstest::rstest;
use serde_json::{Value, json};

fn asked<Q: serde::de::DeserializeOwned>(request: Value) -> Q {
    serde_json::from_value(request).unwrap()
}

fn loss(request: Value) -> Result<SoilLoss, Refused> {
    soil_loss(&asked::<SoilLossRequest>(request)).map(|answer| answer.value)
}

/// AH-703: the unit plot of 22.13 m at 9 % has a slope factor of one, but for the rounding of its constants; the other
/// values are worked from its equations by hand outside the project.
#[rstest]
#[case(0.09, 22.13, 1.0059, 0.001)]
#[case(0.12, 100.0, 3.4199, 0.03)]
fn slope_factors(#[case] slope: f64, #[case] length: f64, #[case] expected: f64, #[case] tolerance: f64) {
    let factor = slope_factor(slope, length);
    assert!((factor - expected).abs() < tolerance, "{factor}");
}

/// Renard & Freimund 1994: 700 mm of rain bring about 1839 MJ·mm/(ha·h); the two branches meet near 850 mm.
#[test]
fn erosivity_of_a_year() {
    assert!((erosivity(700.0) - 1838.9).abs() < 20.0, "{}", erosivity(700.0));
    assert!((erosivity(850.0) / erosivity(850.1) - 1.0).abs() < 0.02);
}

/// A US erosivity of 150 is 2553 in SI (Foster et al. 1981), and one short ton an acre 2.2417 t/ha (NIST SP 811): the
/// factors multiplied by hand.
#[test]
fn the_factors_multiply() {
    let told = loss(json!({"slope": {"value": 9, "unit": "%"}, "slope_length": {"value": 22.13, "unit": "m"},
        "erosivity": 150.0 * 17.02, "erodibility": 0.32}))
    .unwrap();
    let by_hand = 150.0 * 0.32 * 1.0059;
    for cover in &told.covers {
        let share = cover.low.to(Unit::TonPerAc) / by_hand;
        let expected = match cover.key.as_str() {
            "tilled" => 0.5,
            "no-till" => 0.05,
            "seeding-year" => 0.1,
            _ => 0.003,
        };
        assert!((share / expected - 1.0).abs() < 0.002, "{}: {share}", cover.key);
    }
    assert!((told.bearable.to(Unit::TPerHa) - 11.2).abs() < 0.02);
    assert!(told.covers[0].too_much && told.says.contains("no-till"));
    let across = loss(json!({"slope": {"value": 5, "unit": "%"}, "slope_length": {"value": 60, "unit": "m"},
        "rain": {"value": 30, "unit": "in"}, "texture": "silt-loam", "across": true}))
    .unwrap();
    let along = loss(json!({"slope": {"value": 5, "unit": "%"}, "slope_length": {"value": 60, "unit": "m"},
        "rain": {"value": 30, "unit": "in"}, "texture": "silt-loam"}))
    .unwrap();
    assert!((across.covers[0].low / along.covers[0].low).to(Unit::Percent) - 50.0 < 1e-9);
}

#[rstest]
#[case(json!({"slope": {"value": 80, "unit": "%"}, "slope_length": {"value": 60, "unit": "m"}, "erosivity": 900, "erodibility": 0.3}), "/slope")]
#[case(json!({"slope": {"value": 8, "unit": "%"}, "slope_length": {"value": 6000, "unit": "m"}, "erosivity": 900, "erodibility": 0.3}), "/slope_length")]
#[case(json!({"slope": {"value": 8, "unit": "%"}, "slope_length": {"value": 60, "unit": "m"}, "erodibility": 0.3}), "/rain")]
#[case(json!({"slope": {"value": 8, "unit": "%"}, "slope_length": {"value": 60, "unit": "m"}, "erosivity": 900}), "/texture")]
#[case(json!({"slope": {"value": 8, "unit": "%"}, "slope_length": {"value": 60, "unit": "m"}, "erosivity": 900, "erodibility": 3}), "/erodibility")]
fn slopes_that_can_not_be(#[case] request: Value, #[case] pointer: &str) {
    assert_eq!(loss(request).unwrap_err().0[0].pointer, pointer);
}

/// Common practice, no source: the three depths taught for alfalfa, an inch for native grasses, a faint print for
/// switchgrass; the two schools of marks, which contradict one another; clods and powder.
#[rstest]
#[case(json!({"crop": "alfalfa", "sunk": {"value": 0.25, "unit": "in"}}), Firmness::Ready, "")]
#[case(json!({"crop": "alfalfa", "sunk": {"value": 0.5, "unit": "in"}}), Firmness::RollAgain, "")]
#[case(json!({"crop": "alfalfa", "sunk": {"value": 0.5, "unit": "in"}, "most": {"value": 0.5, "unit": "in"}}), Firmness::Ready, "")]
#[case(json!({"crop": "big-bluestem", "sunk": {"value": 0.9, "unit": "in"}}), Firmness::Ready, "")]
#[case(json!({"crop": "switchgrass", "sunk": {"value": 0.9, "unit": "in"}}), Firmness::RollAgain, "")]
#[case(json!({"crop": "alfalfa", "sunk": {"value": 0, "unit": "in"}}), Firmness::TooHard, "")]
#[case(json!({"crop": "alfalfa", "school": "heel-alone", "mark": "heel-and-sole"}), Firmness::RollAgain, "heel-and-sole method says: ready")]
#[case(json!({"crop": "alfalfa", "school": "heel-and-sole", "mark": "heel-and-sole"}), Firmness::Ready, "heel-only method says: roll again")]
#[case(json!({"crop": "alfalfa", "school": "heel-and-sole", "mark": "arch"}), Firmness::RollAgain, "")]
#[case(json!({"crop": "alfalfa", "school": "heel-alone", "mark": "none"}), Firmness::TooHard, "")]
#[case(json!({"crop": "alfalfa", "sunk": {"value": 0.25, "unit": "in"}, "surface": "large-clods"}), Firmness::WorkAgain, "")]
#[case(json!({"crop": "alfalfa", "sunk": {"value": 0.25, "unit": "in"}, "surface": "powder", "texture": "silt-loam"}), Firmness::Ready, "crusts")]
#[case(json!({"crop": "alfalfa", "sunk": {"value": 0.25, "unit": "in"}, "surface": "powder", "texture": "sand"}), Firmness::Ready, "little harm")]
fn boot_tests(#[case] request: Value, #[case] verdict: Firmness, #[case] mind: &str) {
    let told = firmness(&asked::<FirmnessRequest>(request)).unwrap().value;
    assert_eq!(told.verdict, verdict, "{told:?}");
    assert!(mind.is_empty() || told.mind.iter().any(|one| one.contains(mind)), "{told:?}");
}

#[rstest]
#[case(json!({"crop": "alfalfa"}), "/sunk")]
#[case(json!({"crop": "alfalfa", "school": "heel-alone", "sunk": {"value": 5, "unit": "mm"}}), "/mark")]
#[case(json!({"crop": "alfalfa", "sunk": {"value": 2, "unit": "m"}}), "/sunk")]
#[case(json!({"crop": "thistle", "sunk": {"value": 5, "unit": "mm"}}), "/crop")]
fn boots_that_tell_nothing(#[case] request: Value, #[case] pointer: &str) {
    assert_eq!(firmness(&asked::<FirmnessRequest>(request)).unwrap_err().0[0].pointer, pointer);
}

fn tanks(request: Value) -> Result<Tanks, Refused> {
    tank_mix(&asked::<TankRequest>(request)).map(|answer| answer.value)
}

fn twenty_five(area: f64, rate: Value) -> Value {
    json!({"area": {"value": area, "unit": "ac"}, "tank": {"value": 25, "unit": "gal"}, "output": {"value": 12.5, "unit": "gal/ac"},
        "products": [{"name": "sticker", "rate": {"value": 0.25, "unit": "gal/ac"}, "form": "surfactant"},
            {"name": "powder", "rate": rate, "form": "wettable-powder"}]})
}

/// Extension teaching: 25 gallons at 12.5 gallons an acre reach for two acres; seven acres are three tanks and a half,
/// and half a tank's product. Powders go in before what makes them stick.
#[test]
fn tanks_for_seven_acres() {
    let told = tanks(twenty_five(7.0, json!({"value": 3, "unit": "lb/ac"}))).unwrap();
    assert!((told.area_per_tank.to(Unit::Ac) - 2.0).abs() < 1e-9);
    assert_eq!(told.full, 3);
    assert!((told.part_area.unwrap().to(Unit::Ac) - 1.0).abs() < 1e-9);
    assert!((told.part_volume.unwrap().to(Unit::Gal) - 12.5).abs() < 1e-9);
    let names: Vec<&str> = told.products.iter().map(|line| line.name.as_str()).collect();
    assert_eq!(names, ["powder", "sticker"]);
    let powder = &told.products[0];
    let pounds = |quantity: agronomy::units::Quantity| quantity.to(Unit::Lb).unwrap().value;
    assert!((pounds(powder.per_tank) - 6.0).abs() < 1e-9 && (pounds(powder.in_part.unwrap()) - 3.0).abs() < 1e-9);
    assert!((pounds(powder.in_all) - 21.0).abs() < 1e-9);
    let even = tanks(twenty_five(6.0, json!({"value": 3, "unit": "lb/ac"}))).unwrap();
    assert_eq!((even.full, even.part_area), (3, None));
}

/// A rate that is not per area is refused with the reason: per gallon of tank least of all.
#[rstest]
#[case(json!({"value": 3, "unit": "lb/1000gal"}))]
#[case(json!({"value": 3, "unit": "gal"}))]
#[case(json!({"value": 3, "unit": "%"}))]
fn a_rate_is_per_area(#[case] rate: Value) {
    let refused = tanks(twenty_five(7.0, rate)).unwrap_err();
    assert_eq!(refused.0[0].pointer, "/products/1/rate");
    assert!(refused.0[0].detail.contains("per area"), "{refused}");
}

proptest! {
    /// Full tanks and the part tank make the whole, of the water and of every product.
    #[test]
    fn nothing_is_left_over(area in 0.1..400.0f64, tank in 10.0..1500.0f64, output in 5.0..60.0f64, rate in 0.01..4.0f64) {
        prop_assume!(area * output / tank < 400.0);
        let told = tanks(json!({"area": {"value": area, "unit": "ac"}, "tank": {"value": tank, "unit": "gal"},
            "output": {"value": output, "unit": "gal/ac"},
            "products": [{"name": "one", "rate": {"value": rate, "unit": "gal/ac"}, "form": "solution"}]})).unwrap();
        let part = told.part_area.map_or(0.0, |part| part.to(Unit::Ac));
        let whole = f64::from(told.full) * told.area_per_tank.to(Unit::Ac) + part;
        prop_assert!((whole / area - 1.0).abs() < 1e-5, "{whole} of {area}");
        prop_assert!((told.in_all.to(Unit::Gal) / (area * output) - 1.0).abs() < 1e-9);
        let one = &told.products[0];
        let gallons = |quantity: agronomy::units::Quantity| quantity.to(Unit::Gal).unwrap().value;
        let sum = if told.full == 0 { 0.0 } else { f64::from(told.full) * gallons(one.per_tank) };
        let sum = sum + one.in_part.map_or(0.0, gallons);
        prop_assert!((sum / gallons(one.in_all) - 1.0).abs() < 1e-5);
    }
}
