//! Counts and what comes of them, held against what is printed elsewhere and against fields that were made up.

use agronomy::{
    chance::{spread, student_quantile},
    counting::{CountRequest, Enough, Judged, count_interval, count_plan, judge},
    crop::library,
    establish::{
        DecideRequest, Decision, EmergenceRequest, EmergenceState, Way, emergence_forecast, stand_decide, yield_share,
    },
    units::{Dimension, Measure, Unit},
};
use proptest::prelude::*;
use rand::SeedableRng;
use rand_chacha::ChaCha8Rng;
use rand_distr::{Distribution, Normal};
use rstest::rstest;
use serde_json::{Value, json};

fn near(value: f64, wanted: f64, within: f64) {
    assert!((value - wanted).abs() <= within, "{value}, wanted {wanted}");
}

fn counted(request: Value) -> agronomy::counting::CountAnswer {
    count_interval(&serde_json::from_value::<CountRequest>(request).unwrap()).unwrap().value
}

/// Vogel & Masters 2001: half of the cells are 20 plants on a square metre, where random placing would give 31.
#[test]
fn a_frequency_grid_as_plants() {
    let found = counted(json!({"counted": {"by": "grid", "cells": 100, "hits": [50, 50, 50, 50, 50, 50]}}));
    let [floor, random] = found.plants.unwrap();
    near(floor.unwrap().to(Unit::PerM2), 20.0, 1e-9);
    near(random.unwrap().to(Unit::PerM2), 30.8, 0.05);
    // All cells full: no estimate but the floor.
    let found = counted(json!({"counted": {"by": "grid", "cells": 25, "hits": [25, 25]}}));
    let [floor, random] = found.plants.unwrap();
    near(floor.unwrap().to(Unit::PerM2), 40.0, 1e-9);
    assert_eq!(random, None);
}

/// Student's t over ten places: 0.472, 90 % from 0.415 to 0.529. The same thousand cells taken for independent would
/// claim 0.446 to 0.498 (statsmodels 0.14, proportion_confint by Wilson): a slip that must not be made.
#[test]
fn an_interval_is_of_places() {
    let shares = [0.40, 0.55, 0.35, 0.60, 0.48, 0.52, 0.44, 0.30, 0.58, 0.50];
    let found = counted(json!({"counted": {"by": "grid", "cells": 100, "hits": shares.map(|share| share * 100.0)}}));
    let [low, high] = found.interval.unwrap();
    near(found.mean.value, 47.2, 1e-9);
    near(low.value, 41.5, 0.1);
    near(high.value, 52.9, 0.1);
    assert!(low.value < 44.6 && high.value > 49.8);
}

/// None found is not none there. Of six tosses the places' least spread tells most (Student: 2.015 × 3 % ÷ √6); of thirty
/// stations the exact binomial limit (Clopper & Pearson 1934: 1 − 0.05^(1/30)); of counts the rule of three (3.00 in all
/// that was looked at).
#[rstest]
#[case::tosses(json!({"by": "grid", "cells": 25, "hits": [0, 0, 0, 0, 0, 0]}), Unit::Percent, [0.0, 2.47])]
#[case::every_cell(json!({"by": "grid", "cells": 25, "hits": [25, 25, 25, 25, 25, 25]}), Unit::Percent, [97.53, 100.0])]
#[case::set_out(json!({"by": "alive", "stations": [10, 10, 10], "alive": [0, 0, 0]}), Unit::Percent, [0.0, 9.50])]
#[case::frames(json!({"by": "frame", "frame": {"value": 1, "unit": "ft2"}, "counts": [0, 0, 0, 0, 0, 0]}), Unit::PerFt2, [0.0, 0.499])]
#[case::rows(json!({"by": "row", "length": {"value": 3, "unit": "ft"}, "row_spacing": {"value": 12, "unit": "in"},
    "counts": [0, 0, 0]}), Unit::PerFt2, [0.0, 0.333])]
fn none_found_is_not_none_there(#[case] what: Value, #[case] unit: Unit, #[case] interval: [f64; 2]) {
    let found = counted(json!({"counted": what}));
    let told = found.interval.unwrap().map(|one| unit.from_base(one.unit.to_base(one.value)));
    near(told[0], interval[0], 0.01);
    near(told[1], interval[1], 0.01);
}

/// A bootstrap of the same places (10,000 resamples) lies within a point of Student's interval, and inside it: with
/// few places the percentile bootstrap is somewhat too narrow, which is why t is used.
#[test]
fn a_bootstrap_of_places_agrees() {
    use rand::RngExt;
    let shares = [40.0, 55.0, 35.0, 60.0, 48.0, 52.0, 44.0, 30.0, 58.0, 50.0];
    let mut lot = ChaCha8Rng::seed_from_u64(11);
    let mut means: Vec<f64> =
        (0..10_000).map(|_| (0..10).map(|_| shares[lot.random_range(0..10)]).sum::<f64>() / 10.0).collect();
    means.sort_by(f64::total_cmp);
    let (low, high) = (means[500], means[9_500]);
    let found = counted(json!({"counted": {"by": "grid", "cells": 100, "hits": shares}}));
    let [t_low, t_high] = found.interval.unwrap();
    assert!(t_low.value <= low && low < t_low.value + 1.5, "{low} {t_low:?}");
    assert!(t_high.value >= high && high > t_high.value - 1.5, "{high} {t_high:?}");
}

/// Student's table.
#[rstest]
#[case(0.95, 5, 2.015)]
#[case(0.975, 5, 2.571)]
#[case(0.975, 9, 2.262)]
#[case(0.95, 19, 1.729)]
#[case(0.975, 19, 2.093)]
fn students_table(#[case] below: f64, #[case] freedom: usize, #[case] printed: f64) {
    near(student_quantile(below, freedom).unwrap(), printed, 0.0006);
}

/// The sequential rule, on fields made up: places differ by 15 points about the truth; counted one by one until the
/// rule says enough or twenty are counted. Five points off the threshold, the decision is wrong in no more than one
/// field of forty (the rule's own 2.5 % each look would allow more over fifteen looks); at the threshold itself each
/// side is taken in no more than one of ten, and most stay open.
#[rstest]
#[case::above(0.55, 0.025)]
#[case::below(0.45, 0.025)]
#[case::at_it(0.50, 0.10)]
fn enough_is_seldom_wrong(#[case] truth: f64, #[case] most: f64) {
    const FIELDS: usize = 10_000;
    let law = Normal::new(truth, 0.15).unwrap();
    let mut lot = ChaCha8Rng::seed_from_u64(5);
    let (mut above, mut below) = (0, 0);
    for _ in 0..FIELDS {
        let mut hits: Vec<f64> = vec![];
        loop {
            hits.push(f64::round(law.sample(&mut lot).clamp(0.0, 1.0) * 100.0));
            if hits.len() < 6 {
                continue;
            }
            let found = judged(&hits);
            match found.enough {
                Enough::GoOn => continue,
                Enough::Enough if found.all.mean > 0.5 => above += 1,
                Enough::Enough => below += 1,
                _ => {}
            }
            break;
        }
    }
    let share = |count: usize| count as f64 / FIELDS as f64;
    if truth >= 0.5 {
        assert!(share(below) <= most, "{} wrongly below", share(below));
    }
    if truth <= 0.5 {
        assert!(share(above) <= most, "{} wrongly above", share(above));
    }
}

/// The same rule on fields that are better at one end than at the other (the seed ran out, the low end is wet), counted
/// in the order in which the places are offered. Broken off at any place after the sixth, it is wrong no more often than
/// on an even field. Along one walk from the worse end to the better it would have been wrong in one of seven: that order
/// is tried, too.
#[rstest]
#[case::from_the_west(0.20, 0.0)]
#[case::from_the_south(0.0, 0.20)]
#[case::from_a_corner(0.15, -0.15)]
fn enough_is_seldom_wrong_where_one_end_is_better(#[case] across: f64, #[case] up: f64) {
    const FIELDS: u64 = 400;
    let square = json!({"type": "Polygon", "coordinates":
        [[[0.0, 0.0], [0.004, 0.0], [0.004, 0.004], [0.0, 0.004], [0.0, 0.0]]]});
    let law = Normal::new(0.0, 0.15).unwrap();
    let mut lot = ChaCha8Rng::seed_from_u64(11);
    let (mut wrong, mut along_one_walk) = (0, 0);
    for draw in 0..FIELDS {
        let places = json!({"boundary": square, "places": 20, "within": {"value": 8, "unit": "%"}, "draw": draw});
        let spots = count_plan(&serde_json::from_value(places).unwrap()).unwrap().value.spots;
        let hits: Vec<f64> = spots
            .iter()
            .map(|spot| {
                // 55 % in the middle, so many points more and less at the ends.
                let better = across * (spot.longitude / 0.002 - 1.0) + up * (spot.latitude / 0.002 - 1.0);
                f64::round((0.55 + better + law.sample(&mut lot)).clamp(0.0, 1.0) * 100.0)
            })
            .collect();
        wrong += u64::from(falls_short(&hits));
        // From the worse end to the better one.
        let rank = |spot: &agronomy::counting::Spot| spot.longitude * across + spot.latitude * up;
        let mut order: Vec<usize> = (0..spots.len()).collect();
        order.sort_by(|a, b| rank(&spots[*a]).total_cmp(&rank(&spots[*b])));
        let sorted: Vec<f64> = order.into_iter().map(|at| hits[at]).collect();
        along_one_walk += u64::from(falls_short(&sorted));
    }
    assert!(wrong * 40 <= FIELDS, "{wrong} of {FIELDS} wrongly below");
    assert!(along_one_walk * 8 > FIELDS, "only {along_one_walk} of {FIELDS}: then any order would do");
}

/// On patchy fields, where what stands in one place is like what stands in the next (correlation 0.3), the rule is wrong no
/// more often than in one of forty.
#[rstest]
#[case::above(0.55)]
#[case::below(0.45)]
fn enough_is_seldom_wrong_in_patchy_fields(#[case] truth: f64) {
    const FIELDS: usize = 6_000;
    const ALIKE: f64 = 0.3;
    let law = Normal::new(0.0, 0.15).unwrap();
    let mut lot = ChaCha8Rng::seed_from_u64(8);
    let mut wrong = 0;
    for _ in 0..FIELDS {
        let (mut hits, mut last) = (vec![], law.sample(&mut lot));
        loop {
            hits.push(f64::round((truth + last).clamp(0.0, 1.0) * 100.0));
            last = ALIKE * last + (1.0 - ALIKE * ALIKE).sqrt() * law.sample(&mut lot);
            let found = judged(&hits);
            if hits.len() >= 6 && found.enough != Enough::GoOn {
                let over = found.all.mean > 0.5;
                wrong += usize::from(found.enough == Enough::Enough && over != (truth > 0.5));
                break;
            }
        }
    }
    assert!(wrong * 40 <= FIELDS, "{wrong} of {FIELDS}");
}

/// Where a hundred places would be needed, nobody is told that twelve more may do.
#[test]
fn more_places_are_not_promised_in_vain() {
    let hits = |shares: &[f64]| {
        counted(
            json!({"counted": {"by": "grid", "cells": 100, "hits": shares}, "thresholds": [{"value": 50, "unit": "%"}]}),
        )
    };
    let near_the_line = hits(&[62.0, 41.0, 55.0, 40.0, 58.0, 43.0, 61.0, 44.0]);
    assert_eq!((near_the_line.enough, near_the_line.more), (Enough::GoOn, None));
    let far = hits(&[75.0, 45.0, 80.0, 50.0, 70.0, 48.0]);
    assert!(far.enough == Enough::GoOn && far.more.is_some_and(|more| more <= 14), "{far:?}");
}

/// Counted place by place, the rule says at some place: enough, and less than half.
fn falls_short(hits: &[f64]) -> bool {
    (6..=hits.len())
        .map(|many| judged(&hits[..many]))
        .find(|found| found.enough != Enough::GoOn)
        .is_some_and(|found| found.enough == Enough::Enough && found.all.mean < 0.5)
}

/// Cells with a plant of a hundred, place by place, held against half.
fn judged(hits: &[f64]) -> Judged {
    let shares: Vec<f64> = hits.iter().map(|hits| hits / 100.0).collect();
    judge(&shares, &[0.5], Dimension::Ratio).unwrap()
}

#[test]
fn places_that_happen_to_be_alike_are_no_certainty() {
    let found = counted(json!({"counted": {"by": "grid", "cells": 25, "hits": [13, 13, 13, 13, 13, 13]},
        "thresholds": [{"value": 50, "unit": "%"}]}));
    assert_eq!(found.enough, Enough::GoOn);
    let [low, high] = found.interval.unwrap();
    assert!(high.value - low.value > 4.0);
}

/// 1 ft² is 0.0929 m²: 55 stems on a square foot are 592 on a square metre.
#[test]
fn stems_in_a_frame() {
    let found = counted(
        json!({"counted": {"by": "frame", "frame": {"value": 0.092_903_04, "unit": "m2"}, "counts": [55, 55]}}),
    );
    near(found.mean.unit.to_base(found.mean.value), 592.02, 0.01);
}

#[rstest]
#[case::more_than_cells(json!({"counted": {"by": "grid", "cells": 25, "hits": [12, 30]}}), "/counted/hits/1")]
#[case::below_nothing(json!({"counted": {"by": "grid", "cells": 25, "hits": [-1]}}), "/counted/hits/0")]
#[case::no_place(json!({"counted": {"by": "frame", "frame": {"value": 0.1, "unit": "m2"}, "counts": []}}), "/counted/counts")]
#[case::more_alive_than_set(json!({"counted": {"by": "alive", "stations": [10], "alive": [11]}}), "/counted/alive/0")]
#[case::another_kind(json!({"counted": {"by": "grid", "cells": 25, "hits": [12]}, "thresholds": [{"value": 5, "unit": "/ft2"}]}), "/thresholds/0")]
fn a_count_that_can_not_be_is_refused(#[case] request: Value, #[case] pointer: &str) {
    let refused = count_interval(&serde_json::from_value::<CountRequest>(request).unwrap()).unwrap_err();
    assert!(refused.0.iter().any(|one| one.pointer == pointer), "{refused:?}");
}

/// Wisconsin (Undersander & Cosgrove, from memory): 55 stems 5.9, 40 stems 4.4 ton an acre.
#[test]
fn yield_by_stems() {
    near(5.88 * yield_share(1.0, true), 5.9, 0.05);
    near(5.88 * yield_share(40.0 / 55.0, true), 4.4, 0.05);
}

fn decided(request: Value) -> Decision {
    stand_decide(&serde_json::from_value::<DecideRequest>(request).unwrap()).unwrap().value
}

fn grid(crop: &str, sown: &str, today: &str, share: f64) -> Value {
    let hits: Vec<f64> = [-4.0, 3.0, 0.0, -2.0, 4.0, -1.0, 2.0, -2.0].iter().map(|off| share + off).collect();
    json!({"crop": crop, "sown_on": sown, "today": today, "counted": {"by": "grid", "cells": 100, "hits": hits}})
}

/// Vogel & Masters: at least half a success, less than a quarter to be overseeded or sown again; what lies between may
/// still come in its first year.
#[rstest]
#[case::success(60.0, Way::Keep)]
#[case::marginal(38.0, Way::Wait)]
#[case::failed(12.0, Way::Thicken)]
fn switchgrass_by_the_grid(#[case] share: f64, #[case] wanted: Way) {
    assert_eq!(decided(grid("switchgrass", "2026-05-20", "2026-08-20", share)).advised, wanted);
}

fn alfalfa(sown: &str, today: &str, per_frame: f64) -> Value {
    let counts: Vec<f64> = [0.9, 1.1, 1.0, 0.95, 1.05, 1.0, 0.98, 1.02].iter().map(|share| per_frame * share).collect();
    json!({"crop": "alfalfa", "sown_on": sown, "today": today,
        "counted": {"by": "frame", "frame": {"value": 0.092_903_04, "unit": "m2"}, "counts": counts}})
}

/// Alfalfa over a year old poisons its own seedlings; within its first it can be thickened. As many plants are thin at
/// six weeks and plenty in the third year.
#[test]
fn alfalfa_is_not_thickened_when_it_is_old() {
    let young = decided(alfalfa("2026-05-01", "2026-06-12", 6.0));
    assert_eq!(young.advised, Way::Thicken);
    let old = decided(alfalfa("2024-05-01", "2026-06-12", 1.5));
    assert_eq!(old.advised, Way::StartOver);
    let barred = |one: &Decision| one.ways.iter().find(|way| way.way == Way::Thicken).unwrap().barred.is_some();
    assert!(!barred(&young) && barred(&old));
    // Its own kind again only after a year's rest and more.
    let anew = old.ways.iter().find(|way| way.way == Way::StartOver).unwrap();
    assert!(anew.on.is_some());
    assert_eq!(anew.yields[0].base(), 0.0);
    assert_eq!(anew.yields[1].base(), 0.0);
    assert_eq!(decided(alfalfa("2024-05-01", "2026-06-12", 6.0)).advised, Way::Keep);
}

#[test]
fn a_thin_stand_never_makes_full_yield_and_money_can_turn_the_advice() {
    let mut request = grid("switchgrass", "2024-05-20", "2026-06-20", 12.0);
    let thin = decided(request.clone());
    let kept = &thin.ways[0];
    assert!(kept.lost.base() > 0.0 && thin.of_full_yield.base() < 0.5);
    request["price"] = json!({"value": 5, "unit": "money/t"});
    for cost in ["thicken_cost", "start_over_cost"] {
        request[cost] = json!({"value": 2_000, "unit": "money/ha"});
    }
    assert_eq!(decided(request).advised, Way::Keep);
}

/// Annuals have one season, and stands age: what is counted today is not there for ever, and starting over can pay.
#[test]
fn annuals_have_a_year_and_stands_grow_old() {
    let way = |one: &Decision, way: Way| one.ways.iter().find(|one| one.way == way).unwrap().clone();
    let tons = |one: &Decision, of: Way| -> Vec<f64> {
        way(one, of).yields.iter().map(|year| (year.to(Unit::TonPerAc) * 100.0).round() / 100.0).collect()
    };
    let frame = |crop: &str, sown: &str, today: &str, stems: bool, count: f64, full: f64| {
        let counts: Vec<f64> = [0.9, 1.1, 1.0, 0.95, 1.05, 1.0].iter().map(|share| count * share).collect();
        let amount = |value: f64| json!({"value": value, "unit": "/ft2"});
        decided(
            json!({"crop": crop, "sown_on": sown, "today": today, "stems": stems, "full": amount(full), "thin": amount(full * 0.6),
            "counted": {"by": "frame", "frame": {"value": 0.092_903_04, "unit": "m2"}, "counts": counts}}),
        )
    };
    let oats = frame("forage-oats", "2026-04-20", "2026-05-20", false, 10.0, 25.0);
    assert!(
        tons(&oats, Way::Keep)[0] > 0.0 && tons(&oats, Way::Keep)[1..].iter().all(|later| *later == 0.0),
        "{oats:?}"
    );
    // Thin maize is not thickened.
    let maize = frame("silage-maize", "2026-05-10", "2026-06-05", false, 0.4, 0.8);
    assert!(way(&maize, Way::Thicken).barred.is_some_and(|why| why.contains("late plants are shaded")));
    assert_ne!(maize.advised, Way::Thicken);
    // As many stems in the seventh year and in the twenty-first: neither lasts, and the older less.
    let alfalfa = |sown: &str| tons(&frame("alfalfa", sown, "2026-06-10", true, 35.0, 55.0), Way::Keep);
    let (third, seventh) = (alfalfa("2024-05-01"), alfalfa("2020-05-01"));
    assert!(third[1] == third[0] && seventh[3] < 0.75 * seventh[0], "{third:?} {seventh:?}");
    let clover = frame("red-clover", "2018-04-20", "2026-06-10", false, 6.0, 10.0);
    assert!(tons(&clover, Way::Keep)[3] < 0.4 * tons(&clover, Way::Keep)[0]);
    assert!(tons(&clover, Way::StartOver).iter().sum::<f64>() > tons(&clover, Way::Keep).iter().sum::<f64>());
}

/// Counted on day 119 and on day 120 after its sowing, a stand is judged alike.
#[test]
fn no_day_turns_the_verdict_over() {
    let on = |day: &str| decided(alfalfa("2026-05-01", day, 16.0));
    let (before, after) = (on("2026-08-28"), on("2026-08-29"));
    assert_eq!(before.advised, after.advised);
    assert!((before.of_full_yield.base() - after.of_full_yield.base()).abs() < 0.02);
}

/// Slow natives may take two months to show: what is counted before tells of nothing but the day.
#[test]
fn too_early_is_no_time_to_judge() {
    let decided = decided(grid("switchgrass", "2026-05-20", "2026-06-10", 4.0));
    assert_eq!(decided.advised, Way::Wait);
    let wait = decided.ways.iter().find(|way| way.way == Way::Wait).unwrap();
    assert_eq!(wait.on, Some(jiff::civil::date(2026, 7, 15)));
}

#[test]
fn few_places_decide_nothing() {
    let mut request = grid("switchgrass", "2026-05-20", "2026-08-20", 60.0);
    request["counted"]["hits"] = json!([60, 62, 58]);
    assert_eq!(decided(request).advised, Way::CountMore);
}

/// Every file of weather the same day: soil as warm as its air, and the day on which the sum is reached told by hand.
fn even(warm: f64, rain: f64) -> Value {
    let mut text = String::from("date,tmin,tmax,rain,radiation\n");
    let mut day = jiff::civil::date(2000, 1, 1);
    while day < jiff::civil::date(2013, 1, 1) {
        text.push_str(&format!("{day},{warm},{warm},{rain},6\n"));
        day = day.tomorrow().unwrap();
    }
    json!({"from": "file", "latitude": 42.5, "elevation": 380, "text": text})
}

fn emerges(weather: Value, today: &str, seen: bool) -> agronomy::establish::Emergence {
    let request = json!({"crop": "alfalfa", "sown_on": "2012-05-10", "today": today, "weather": weather, "texture": "loam", "drainage": "well", "seen": seen});
    emergence_forecast(&serde_json::from_value::<EmergenceRequest>(request).unwrap()).unwrap().value
}

/// 95 °C·d above 2 °C at an even 12 °C and rain each day: half is up after about ten days.
#[test]
fn emergence_by_warmth_in_moist_soil() {
    let told = emerges(even(12.0, 4.0), "2012-05-10", false);
    let days = agronomy::weather::days_between(jiff::civil::date(2012, 5, 10), told.half[1]);
    assert!((8..=11).contains(&days), "{days}");
    assert_eq!(told.state, EmergenceState::TooSoon);
    let told = emerges(even(12.0, 4.0), "2012-05-20", false);
    assert_eq!(told.state, EmergenceState::Due);
    let told = emerges(even(12.0, 4.0), "2012-06-08", false);
    assert_eq!(told.state, EmergenceState::Gone);
    assert!(told.still.unwrap().base() < 0.05 && told.wait_until.is_none());
    assert_eq!(emerges(even(12.0, 4.0), "2012-06-08", true).state, EmergenceState::Up);
}

/// Irrigated, the same dry weather brings it up as rain does.
#[test]
fn what_is_irrigated_never_lies_dry() {
    let told = |irrigated: bool| {
        let request = json!({"crop": "alfalfa", "sown_on": "2012-05-10", "today": "2012-05-20", "weather": even(12.0, 0.0),
            "texture": "loam", "drainage": "well", "irrigated": irrigated});
        emergence_forecast(&serde_json::from_value::<EmergenceRequest>(request).unwrap()).unwrap().value
    };
    assert_eq!((told(true).state, told(true).dry_days), (EmergenceState::Due, 0));
    assert!(told(false).dry_days > 0 && told(false).state != EmergenceState::Due);
}

/// The same warmth without rain: the seed lies dry and waits, and waiting is not held against it.
#[test]
fn a_drought_holds_it_back() {
    let told = emerges(even(18.0, 0.0), "2012-06-20", false);
    assert_eq!(told.state, EmergenceState::Dry);
    assert!(told.dry_days > 25, "{}", told.dry_days);
    assert!(told.still.unwrap().base() > 0.7);
    assert!(told.wait_until.is_some());
}

/// The poorer the next window, the longer waiting is the better bet; with none at all one waits to the end. By Bayes'
/// rule with the usual four of five: with a window of 60 % it is left where 0.8 q ÷ (0.8 q + 0.2) falls below 0.48, that
/// is where q, the share not up yet, falls below 0.23: at 1.11 of the warmth it needs.
#[test]
fn one_waits_longer_where_the_next_window_is_poor() {
    let until = |again: Value| {
        let request = json!({"crop": "alfalfa", "sown_on": "2012-05-10", "today": "2012-05-11", "again": again,
            "weather": even(12.0, 4.0), "texture": "loam", "drainage": "well"});
        emergence_forecast(&serde_json::from_value::<EmergenceRequest>(request).unwrap()).unwrap().value
    };
    let days = |again: Value| {
        agronomy::weather::days_between(jiff::civil::date(2012, 5, 10), until(again).wait_until.unwrap())
    };
    let percent = |value: u32| json!({"value": value, "unit": "%"});
    let half = agronomy::weather::days_between(jiff::civil::date(2012, 5, 10), until(percent(60)).half[1]);
    let usual = days(percent(60));
    near(f64::from(usual), 1.11 * f64::from(half), 1.0);
    assert!(days(percent(95)) < usual && usual < days(percent(15)));
    assert_eq!(days(Value::Null), usual);
    assert!(days(percent(0)) >= 200);
}

/// Warm-season seed wants more warmth above a higher base than any of the cool season.
#[test]
fn published_warmth_orders_the_crops() {
    let need = |id: &str| {
        let facts = library().crop(id).unwrap().establish.emergence.clone().unwrap();
        (facts.warmth.value, facts.base.value)
    };
    assert!(need("reed-canarygrass").0 > need("orchardgrass").0);
    assert!(need("orchardgrass").0 > need("perennial-ryegrass").0);
    assert!(need("switchgrass").1 > need("orchardgrass").1);
}

#[test]
fn a_spread_is_by_the_number_less_one() {
    let all = spread(&[2.0, 4.0, 4.0, 4.0, 5.0, 5.0, 7.0, 9.0]).unwrap();
    near(all.mean, 5.0, 1e-12);
    near(all.deviation, (32.0f64 / 7.0).sqrt(), 1e-12);
}

proptest! {
    /// More places of the same kind never widen what may be true, a count above the line says so, and the order of places is
    /// nobody's business.
    #[test]
    fn an_interval_narrows_with_places(hits in prop::collection::vec(0u32..=100, 6..12)) {
        let of = |hits: &[u32]| counted(json!({"counted": {"by": "grid", "cells": 100, "hits": hits}, "thresholds": [{"value": 50, "unit": "%"}]}));
        let wide = |answer: &agronomy::counting::CountAnswer| {
            let [low, high] = answer.interval.unwrap();
            high.value - low.value
        };
        let once = of(&hits);
        let twice: Vec<u32> = hits.iter().chain(&hits).copied().collect();
        prop_assert!(wide(&of(&twice)) <= wide(&once) + 1e-9);
        let turned: Vec<u32> = hits.iter().rev().copied().collect();
        prop_assert!((of(&turned).mean.value - once.mean.value).abs() < 1e-9);
        let above = once.against[0].above.unwrap().base();
        prop_assert!((once.mean.value - 50.0).abs() < 1e-6 || (above > 0.5) == (once.mean.value > 50.0));
        let [low, high] = once.interval.unwrap();
        prop_assert!(low.value >= 0.0 && high.value <= 100.0);
        prop_assert!(low.value <= once.mean.value && once.mean.value <= high.value);
    }

    /// Of no way is more expected than of a full stand, and a thicker stand is never told to be worth less.
    #[test]
    fn no_way_beats_a_full_stand(share in 1.0..95.0f64, days in 0i32..1500, odds in 0.0..100.0f64) {
        let of = |share: f64| {
            let today = agronomy::weather::plus(jiff::civil::date(2024, 5, 20), days).to_string();
            let mut request = grid("switchgrass", "2024-05-20", &today, share.clamp(5.0, 95.0));
            request["next_odds"] = json!({"value": odds, "unit": "%"});
            decided(request)
        };
        let told = of(share);
        prop_assert!(told.ways.iter().all(|way| way.lost.base() >= 0.0));
        prop_assert!(told.ways.iter().all(|way| way.yields.iter().all(|one| one.base().is_finite() && one.base() >= 0.0)));
        prop_assert!(of(share + 5.0).of_full_yield.base() >= told.of_full_yield.base() - 1e-12);
        let sum = |at: usize| -> f64 { told.ways[at].yields.iter().map(|one| one.base()).sum() };
        // Thickened it gives no less than kept.
        prop_assert!(sum(2) >= sum(0) - 1e-9);
    }
}

/// Who counts clovers, trefoil, milkvetch, sainfoin or grasses is told how much is enough, new and established: rules of
/// thumb of extension guides, from memory.
#[rstest]
#[case::red_clover("red-clover", 15.0, 6.0)]
#[case::white_clover("white-clover", 8.0, 4.0)]
#[case::trefoil("birdsfoot-trefoil", 15.0, 6.0)]
#[case::milkvetch("cicer-milkvetch", 3.0, 1.0)]
#[case::sainfoin("sainfoin", 6.0, 4.0)]
#[case::timothy("timothy", 20.0, 6.0)]
// One plant on a square foot is a full stand of natives, at any age.
#[case::switchgrass("switchgrass", 1.0, 1.0)]
fn each_crop_has_an_aim(#[case] crop: &str, #[case] new: f64, #[case] established: f64) {
    use agronomy::{
        crop::library,
        establish::{AimBy, aim_of},
    };
    let full = |days| aim_of(library().crop(crop).unwrap(), AimBy::Plants, days).unwrap().full().value;
    assert_eq!((full(40), full(800)), (new, established));
}

#[test]
fn no_perennial_forage_from_seed_is_without_an_aim() {
    use agronomy::{
        crop::{Life, library},
        establish::{AimBy, aim_of},
    };
    let without: Vec<&str> = library()
        .crops()
        .filter(|crop| {
            crop.seed.is_some() && crop.life == Life::Perennial && crop.uses.iter().any(|goal| goal == "hay")
        })
        .filter(|crop| aim_of(crop, AimBy::Plants, 40).is_none())
        .map(|crop| crop.id.as_str())
        .collect();
    assert!(without.is_empty(), "{without:?}");
}
