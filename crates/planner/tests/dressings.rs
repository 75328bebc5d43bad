//! When nutrients are brought: with every way of making a stand, and with every way of using one.

use agronomy::{
    nutrients::School,
    practice::practices,
    soil::{Layer, PMethod, PTest, SoilTest},
    units::{Area, Length, MassPerArea, SoilContent, System, Unit},
    weather::usual_year::UsualYear,
};
use jiff::civil::{Date, date};
use planner::{ground::Asked, *};
use records::{
    Choices, Closes, NutrientChoice,
    book::{Dated, Ground, Operation, StandBook},
    kinds::regime_set::RegimeSet,
};
use rstest::rstest;
use uuid::Uuid;

use crate::common::{self, ink};

const SOW: Date = date(2026, 5, 10);
/// Northern hills: green-up on 10 April, a killing frost on 10 October.
const HILLS: UsualYear = UsualYear { green_up: Some(99), frost: Some(282) };

/// A field that is poor in both: P 8 and K 70 ppm.
fn poor() -> Ground {
    let ppm = |value| SoilContent::new(value, Unit::Ppm);
    let mut layer = Layer::new(Length::new(0.0, Unit::In), Length::new(6.0, Unit::In), 6.8);
    layer.p = Some(PTest { value: ppm(8.0), method: PMethod::BrayP1 });
    layer.k = Some(ppm(70.0));
    let on = date(2025, 9, 1);
    let test = SoilTest { laboratory: "L".into(), sample: String::new(), sampled_on: on, layers: vec![layer] };
    let operations = vec![ink(1, "sample-soil", on)];
    Ground { tests: vec![Dated { entry: Uuid::from_u128(1), on, what: test }], operations, ..Ground::default() }
}

fn fed(crops: &[(&str, f64)], tons: f64) -> Choices {
    let yield_goal = MassPerArea::new(tons, Unit::TonPerAc);
    let nutrients = Some(NutrientChoice { school: School::BuildMaintain, yield_goal, potash: None });
    Choices { nutrients, ..common::choices(crops, SOW) }
}

fn planned(choices: &Choices, sown_on: Option<Date>, today: Date) -> Plan {
    with(choices, sown_on, today, vec![])
}

/// The same with work that was done on the stand.
fn with(choices: &Choices, sown_on: Option<Date>, today: Date, done: Vec<Operation>) -> Plan {
    let ground = poor();
    let (area, setback) = (Area::new(20.0, Unit::Ac), Length::new(5.0, Unit::M));
    let year_start = date(today.year(), 1, 1);
    let asked = Asked { choices, ground: &ground, area, setback, today, sown_on, year_start, usual: Some(HILLS) };
    let stand = sown_on.map(|on| StandBook {
        operations: std::iter::once(ink(9, "sow", on)).chain(done).collect(),
        ..StandBook::default()
    });
    assess(asked, stand.as_ref(), &Succession::default(), None).plan
}

/// Pounds an acre of each nutrient in each dressing of a season; of none, of the making.
fn dressings(plan: &Plan, season: Option<i16>) -> Vec<(&str, &str, f64)> {
    let own = plan.steps.iter().filter(|step| step.look.operation == "dress" && step.season == season);
    let each = own.flat_map(|step| step.amounts.iter().map(|one| (step.step.as_str(), one)));
    each.map(|(step, one)| (step, one.of.as_str(), one.amount.to(Unit::LbPerAc).round())).collect()
}

/// Six of fourteen practices once had no dressing, so that a field at P 8 and K 70 ppm was planned nothing.
#[test]
fn every_way_of_making_a_stand_feeds_poor_ground() {
    for practice in practices() {
        let choices = Choices { practice: practice.key.clone(), ..fed(&[("alfalfa", 15.0)], 5.0) };
        let plan = planned(&choices, None, date(2026, 1, 10));
        // E-2567 at 5 tons: (25 − 8) × 5 + 65 of P₂O₅; of K₂O (100 − 70) × 1.5 + 250 + 20, capped at 300.
        let all = dressings(&plan, None);
        assert_eq!(all, [("dress", "P₂O₅", 150.0), ("dress", "K₂O", 300.0)], "{}", practice.key);
    }
}

/// Half of an annual's and of a fast tropical grass's nitrogen waits for the seedlings: at about 15 and 30 days (common
/// practice); legumes and natives have none, cool grasses little and at once.
#[rstest]
#[case("forage-oats", 3.0, &[60.0, 60.0], Some((15, 25)))]
#[case("bermudagrass", 4.0, &[92.0, 92.0], Some((25, 35)))]
#[case("timothy", 4.0, &[40.0], None)]
#[case("switchgrass", 4.0, &[], None)]
#[case("alfalfa", 5.0, &[], None)]
fn nitrogen_waits_for_seedlings_that_use_it(
    #[case] crop: &str,
    #[case] tons: f64,
    #[case] nitrogen: &[f64],
    #[case] days: Option<(i32, i32)>,
) {
    let plan = planned(&fed(&[(crop, 12.0)], tons), None, date(2026, 1, 10));
    let each = dressings(&plan, None);
    let n: Vec<f64> = each.iter().filter(|(_, of, _)| *of == "N").map(|(_, _, n)| *n).collect();
    assert_eq!(n, nitrogen);
    let again = plan.steps.iter().find(|step| step.step == "dress-seedlings");
    assert_eq!(again.map(|step| ((step.from - SOW).get_days(), (step.to - SOW).get_days())), days);
}

/// Potash of an established alfalfa comes after the first cut and before the last regrowth; where the person says so, once
/// or three times.
#[rstest]
#[case::usual(None, &[("dress-first-cut", "P₂O₅", 150.0), ("dress-first-cut", "K₂O", 150.0), ("dress-autumn", "K₂O", 150.0)])]
#[case::once(Some("once"), &[("dress-first-cut", "P₂O₅", 150.0), ("dress-first-cut", "K₂O", 300.0)])]
#[case::three(Some("three"), &[("dress-spring", "K₂O", 100.0), ("dress-first-cut", "P₂O₅", 150.0), ("dress-first-cut", "K₂O", 100.0), ("dress-autumn", "K₂O", 100.0)])]
fn potash_is_split_over_the_season(#[case] potash: Option<&str>, #[case] expected: &[(&str, &str, f64)]) {
    let mut choices = Choices { regime: Some("hay-by-stage".into()), ..fed(&[("alfalfa", 15.0)], 5.0) };
    choices.nutrients.as_mut().unwrap().potash =
        potash.map(|word| serde_json::from_value(serde_json::json!(word)).unwrap());
    let sown = date(2025, 4, 20);
    let plan = planned(&choices, Some(sown), date(2026, 5, 14));
    assert_eq!(dressings(&plan, Some(2026)), expected);
    // In the year of its sowing it had what its making was fed.
    assert!(dressings(&plan, Some(2025)).is_empty());
    let day = |key: &str| plan.steps.iter().find(|step| step.step == key && step.season == Some(2026)).unwrap().from;
    let cuts: Vec<Date> = plan
        .steps
        .iter()
        .filter(|step| step.step == "cut" && step.season == Some(2026))
        .map(|step| step.from)
        .collect();
    assert!(day("dress-first-cut") >= cuts[0] && day("dress-first-cut") < cuts[1], "{cuts:?}");
    if potash != Some("once") {
        assert!(day("dress-autumn") > cuts[0] && day("dress-autumn") < *cuts.last().unwrap(), "{cuts:?}");
    }
}

/// A cut-grass goal of 15 t of dry matter never asks for one dressing of 480 lb of N: it is shared among the cuts, none
/// over 100 lb/ac, and what is missing is said.
#[test]
fn a_year_of_nitrogen_never_comes_at_once() {
    let choices = |regime: &str| Choices { regime: Some(regime.into()), ..fed(&[("orchardgrass", 15.0)], 6.7) };
    for regime in ["hay-by-stage", "hay-by-interval", "silage-cuts", "cut-and-carried"] {
        let plan = planned(&choices(regime), Some(date(2024, 8, 20)), date(2026, 3, 1));
        let season = plan.steps.iter().filter(|step| step.look.operation == "dress" && step.season == Some(2026));
        let (mut most, mut warned) = (0.0_f64, 0);
        for step in season {
            let n = step.amounts.iter().find(|one| one.of == "N").map_or(0.0, |one| one.amount.to(Unit::LbPerAc));
            most = most.max(n);
            warned += usize::from(step.reasons.iter().any(|reason| reason.text.contains("more nitrogen is needed")));
        }
        assert!(most > 20.0 && most <= 100.0 + 1e-9, "{regime}: {most}");
        assert_eq!(warned > 0, matches!(regime, "hay-by-stage" | "hay-by-interval" | "silage-cuts"), "{regime}");
    }
}

/// What is taken for biomass after frost is fed what it removes then: 8 tons of miscanthus 80-16-136 (common practice).
#[test]
fn biomass_after_frost_is_fed_little() {
    let mut choices = Choices { regime: Some("biomass-after-frost".into()), ..fed(&[("switchgrass", 8.0)], 5.0) };
    choices.nutrients.as_mut().unwrap().school = School::Replacement;
    let plan = planned(&choices, Some(date(2024, 5, 20)), date(2026, 3, 1));
    let season = dressings(&plan, Some(2026));
    assert_eq!(season, [("dress-spring", "N", 40.0), ("dress-spring", "P₂O₅", 10.0), ("dress-spring", "K₂O", 30.0)]);
}

/// Inked from its step, a dressing closes that step and no other; what names none closes the one whose time it was.
#[test]
fn a_dressing_closes_the_step_it_was_brought_for() {
    let mut choices = Choices { regime: Some("hay-by-stage".into()), ..fed(&[("alfalfa", 15.0)], 5.0) };
    choices.nutrients.as_mut().unwrap().potash = Some(agronomy::nutrients::dressings::PotashSplit::Three);
    let cuts = [(1, date(2026, 6, 5)), (2, date(2026, 7, 8)), (3, date(2026, 8, 10))];
    let cut = |upto: usize| cuts[..upto].iter().map(|(n, on)| ink(*n, "cut", *on)).collect::<Vec<_>>();
    let closing = |step: &str, on: Date| {
        let closes = Closes { stand: Uuid::nil(), step: step.into(), season: Some(2026), occurrence: Some(1) };
        Operation { closes: Some(closes), ..ink(7, "dress", on) }
    };
    let states = |done: Vec<Operation>| {
        let plan = with(&choices, Some(date(2025, 4, 20)), date(2026, 8, 25), done);
        let own = plan.steps.iter().filter(|step| step.look.operation == "dress" && step.season == Some(2026));
        own.map(|step| (step.step.clone(), step.inked().is_some())).collect::<Vec<_>>()
    };
    let told = |done: &[&str]| {
        let all = ["dress-spring", "dress-first-cut", "dress-autumn"];
        all.map(|key| (key.to_owned(), done.contains(&key))).to_vec()
    };
    for (step, on) in [
        ("dress-spring", date(2026, 4, 20)),
        ("dress-first-cut", date(2026, 6, 7)),
        ("dress-autumn", date(2026, 8, 12)),
    ] {
        let done = cut(3).into_iter().chain([closing(step, on)]).collect();
        assert_eq!(states(done), told(&[step]), "{step}");
    }
    // Named nowhere: by its day.
    for (on, step) in [(date(2026, 4, 18), "dress-spring"), (date(2026, 6, 9), "dress-first-cut")] {
        let done = cut(3).into_iter().chain([ink(7, "dress", on)]).collect();
        assert_eq!(states(done), told(&[step]), "{on}");
    }
}

/// What one dressing of the making leaves out of the nitrogen is said.
#[test]
fn what_is_missing_is_said() {
    let oats = planned(&fed(&[("forage-oats", 60.0)], 6.5), None, date(2026, 1, 10));
    let base = oats.steps.iter().find(|step| step.step == "dress").unwrap();
    assert!(base.amounts.iter().any(|one| one.of == "N" && (one.amount.to(Unit::LbPerAc) - 100.0).abs() < 1e-9));
    let us = Some(System::Us.into());
    let told: Vec<String> = base.reasons.iter().map(|reason| reason.text.told(us)).collect();
    assert!(told.iter().any(|text| text.starts_with("30 lb/ac more nitrogen is needed")), "{told:?}");
}

/// Decided on as hay and used for biomass since, it needs what a harvest after frost removes.
#[test]
fn a_changed_use_changes_what_is_needed() {
    let choices = Choices { regime: Some("hay-by-stage".into()), ..fed(&[("switchgrass", 8.0)], 5.0) };
    let (ground, sown) = (poor(), date(2024, 5, 20));
    let asked = Asked {
        choices: &choices,
        ground: &ground,
        area: Area::new(20.0, Unit::Ac),
        setback: Length::new(5.0, Unit::M),
        today: date(2026, 3, 1),
        sown_on: Some(sown),
        year_start: date(2026, 1, 1),
        usual: Some(HILLS),
    };
    let nitrogen = |regimes: Vec<Dated<RegimeSet>>| {
        let stand = StandBook { operations: vec![ink(9, "sow", sown)], regimes, ..StandBook::default() };
        assess(asked, Some(&stand), &Succession::default(), None).needs.unwrap().value.n.to(Unit::LbPerAc).round()
    };
    let what = RegimeSet { season: 2026, regime: "biomass-after-frost".into(), note: None };
    let changed = Dated { entry: Uuid::from_u128(5), on: date(2026, 2, 1), what };
    assert!(nitrogen(vec![]) > 40.0);
    assert_eq!(nitrogen(vec![changed]), 40.0);
}
