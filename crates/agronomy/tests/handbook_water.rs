//! Water in the soil against FAO-56 and against arithmetic that has only one answer.

use agronomy::{
    crop::Drainage,
    soil::Texture,
    units::Length,
    water::{BalanceRequest, Bed, Today, Water, balance, reached_by},
    weather::WeatherInput,
    working::Blank,
};
use jiff::civil::date;
use proptest::prelude::*;
use rstest::rstest;
use serde_json::json;

/// FAO-56 example 37 (from memory): tomatoes in mid-season, field capacity 0.32, wilting point 0.12,
/// roots 0.8 m: 160 mm available, 64 of them freely (p 0.40); 55 mm missing, 6 mm wanted a day.
fn tomatoes() -> (Bed, Water, Today) {
    let bed = Bed {
        total_available: 0.160,
        depletion_fraction: 0.40,
        total_evaporable: 0.02,
        readily_evaporable: 0.008,
        exposed: 0.1,
        basal: 1.2,
        drains: 1.0,
        most_excess: 0.0,
        storage: 0.1,
    };
    // A dry surface evaporates nothing: all of it is the crop's.
    let water = Water { root_missing: 0.055, top_missing: 0.02, ..Water::default() };
    (bed, water, Today { lowest: 15.0, mean: 22.0, rain: 0.0, irrigation: 0.0, reference: 0.005 })
}

#[test]
fn tomatoes_suffer_as_the_example_has_it() {
    let (bed, mut water, today) = tomatoes();
    let days: Vec<(f64, f64)> = (0..10)
        .map(|_| {
            let moved = water.step(&mut Blank, &bed, today);
            ((moved.stress * 100.0).round() / 100.0, (water.root_missing * 1e4).round() / 10.0)
        })
        .collect();
    assert_eq!(days[0], (1.0, 61.0));
    assert_eq!(days[1], (1.0, 67.0));
    assert_eq!(days[2].0, 0.97);
    // From then on the missing water nears the total as (1 − ETc / (TAW − RAW)) to the n, exactly.
    for (step, (_, missing)) in days.iter().enumerate().skip(1) {
        let left = (160.0 - 67.0) * (1.0_f64 - 6.0 / 96.0).powi(step as i32 - 1);
        assert!((missing - (160.0 - left)).abs() < 0.06, "{step}: {missing} {left}");
    }
}

/// Curve number 80: 50 mm of rain run off 13.8 mm (NEH 630 chapter 10, arithmetic of its equation).
#[test]
fn heavy_rain_runs_off() {
    let storage = 0.0254 * 1_000.0 / 80.0 - 0.254;
    let (bed, mut water, today) = tomatoes();
    let bed = Bed { storage, ..bed };
    water.root_missing = 0.15;
    let moved = water.step(&mut Blank, &bed, Today { rain: 0.050, ..today });
    assert!((moved.runoff - 0.0138).abs() < 5e-5, "{}", moved.runoff);
    let little = water.step(&mut Blank, &bed, Today { rain: 0.010, ..today });
    assert_eq!(little.runoff, 0.0);
}

#[test]
fn snow_lies_and_melts() {
    let bed = Bed::seedbed(Texture::Loam, Drainage::Well);
    let mut water = Water::default();
    let cold = Today { lowest: -9.0, mean: -5.0, rain: 0.010, irrigation: 0.0, reference: 0.0 };
    water.step(&mut Blank, &bed, cold);
    assert_eq!(water.snow.water(), 0.010);
    assert!(!water.workable(&bed, cold) && !water.trafficable(cold));
    water.step(&mut Blank, &bed, Today { mean: 2.0, rain: 0.0, ..cold });
    assert!((water.snow.water() - 0.0046).abs() < 1e-12);
}

#[rstest]
#[case(Drainage::Well, 4)]
#[case(Drainage::Moderate, 7)]
#[case(Drainage::Poor, 30)]
fn wet_ground_keeps_tractors_out_by_its_drainage(#[case] drainage: Drainage, #[case] at_most: usize) {
    let bed = Bed::seedbed(Texture::SiltLoam, drainage);
    let mut water = Water { excess: 0.02, ..Water::default() };
    let dry = Today { lowest: 8.0, mean: 15.0, rain: 0.0, irrigation: 0.0, reference: 0.004 };
    let days = (1..60)
        .find(|_| {
            water.step(&mut Blank, &bed, dry);
            water.workable(&bed, dry)
        })
        .unwrap();
    assert!(days <= at_most, "{drainage:?} takes {days} days");
}

fn any_day() -> impl Strategy<Value = Today> {
    (-15.0..35.0_f64, 0.0..0.06_f64, 0.0..0.02_f64, 0.0..0.009_f64)
        .prop_map(|(mean, rain, irrigation, reference)| Today { lowest: mean - 5.0, mean, rain, irrigation, reference })
}

proptest! {
    /// Nothing is made or lost: what came in is what ran off, drained, was used, or is there now.
    #[test]
    fn water_is_kept(days in prop::collection::vec(any_day(), 1..200), drainage in 0..4_usize) {
        let drainage = [Drainage::Well, Drainage::Moderate, Drainage::SomewhatPoor, Drainage::Poor][drainage];
        let bed = Bed::seedbed(Texture::ClayLoam, drainage);
        let mut water = Water { root_missing: 0.02, ..Water::default() };
        for today in days {
            let before = water;
            let moved = water.step(&mut Blank, &bed, today);
            let inside = |water: &Water| water.snow.water() + water.excess - water.root_missing;
            let balance = today.rain + today.irrigation - moved.runoff - moved.drained - moved.used;
            // The last drop: a crop that finds the root zone empty takes less than its share.
            let short = (inside(&water) - inside(&before) - balance).max(0.0);
            prop_assert!(short < 2e-3 && inside(&water) - inside(&before) - balance > -1e-12);
            prop_assert!((0.0..=bed.total_available).contains(&water.root_missing));
            prop_assert!((0.0..=bed.total_evaporable).contains(&water.top_missing));
            prop_assert!((0.0..=1.0).contains(&moved.stress) && water.excess >= 0.0 && water.snow.water() >= 0.0);
        }
    }
}

#[test]
fn the_topic_sums_what_it_steps() {
    let weather: WeatherInput = serde_json::from_value(json!({"from": "file", "latitude": 42.5, "elevation": 300,
        "text": "date,tmin,tmax,rain\n2026-06-01,10,22,0\n2026-06-02,11,24,12\n2026-06-03,9,20,0\n"}))
    .unwrap();
    let request = BalanceRequest {
        weather,
        crop: Some("alfalfa".into()),
        texture: Texture::Loam,
        drainage: Drainage::Well,
        missing: Length::new(60.0, agronomy::units::Unit::Mm),
        irrigation: vec![],
    };
    let answer = balance(&request).unwrap();
    let value = answer.value;
    assert_eq!(value.missing.len(), 3);
    let mm = |depth: agronomy::units::Quantity| depth.value;
    assert!((mm(value.missing_at_end) - (60.0 - 12.0 + mm(value.used))).abs() < 1e-9);
    // 0.13 m³/m³ over 1.2 m, 55 % of it freely.
    assert!((mm(value.total_available) - 156.0).abs() < 1e-9 && (mm(value.readily_available) - 85.8).abs() < 1e-9);
    let request = BalanceRequest { missing: Length::new(2.0, agronomy::units::Unit::M), ..request };
    assert_eq!(balance(&request).unwrap_err().0[0].pointer, "/missing");
}

#[test]
fn a_share_of_years_is_there_by_a_day() {
    let from = date(2026, 6, 1);
    let days = [Some(3), Some(10), None, Some(5)];
    assert_eq!(reached_by(&days, 0.5, from), Some(date(2026, 6, 6)));
    assert_eq!(reached_by(&days, 0.75, from), Some(date(2026, 6, 11)));
    assert_eq!(reached_by(&days, 1.0, from), None);
}
