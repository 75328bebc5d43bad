//! What the ground of a field asks of a stand, and what it has had.

use agronomy::{
    lime::{Placement, library_materials},
    nutrients::{Analysis, Nutrient, School, amount},
    site::{Bioassay, SiteFacts, Spray, Verdict},
    soil::{AcidityTest, Layer, PMethod, PTest, SoilTest, Texture},
    units::{Area, Charge, Fraction, Length, MassPerArea, SoilContent, Unit},
};
use jiff::civil::{Date, date};
use planner::{ground::*, *};
use proptest::prelude::*;
use records::{
    Choices, DressingKind, LimeChoice, LimeMethod, NutrientChoice,
    book::{Books, Cut, Dated, Dressing, Ground, Operation},
    check,
    kinds::dressing::DressingSpread,
};
use rstest::rstest;
use uuid::Uuid;

use crate::common::{self, ink, step};

const TODAY: Date = date(2026, 5, 14);
const SOW: Date = date(2027, 5, 10);

fn choices(crops: &[&str]) -> Choices {
    let crops: Vec<(&str, f64)> = crops.iter().map(|crop| (*crop, 8.0)).collect();
    common::choices(&crops, SOW)
}

fn limed(method: LimeMethod, target_ph: f64) -> Choices {
    let material = library_materials()[0].clone();
    let lime = LimeChoice { method, target_ph, depth: None, placement: Placement::Incorporated, material };
    Choices { lime: Some(lime), ..choices(&["alfalfa"]) }
}

fn layer() -> Layer {
    let mut layer = Layer::new(Length::new(0.0, Unit::In), Length::new(6.0, Unit::In), 5.6);
    layer.acidity = Some(AcidityTest::Smp { buffer_ph: 6.4 });
    layer.p = Some(PTest { value: SoilContent::new(15.0, Unit::Ppm), method: PMethod::BrayP1 });
    layer.k = Some(SoilContent::new(100.0, Unit::Ppm));
    layer.cec = Some(Charge::new(10.0, Unit::MeqPer100G));
    layer
}

fn dated<T>(n: u128, on: Date, what: T) -> Dated<T> {
    Dated { entry: Uuid::from_u128(n), on, what }
}

fn tested(on: Date) -> Ground {
    let test = SoilTest { laboratory: "L".into(), sample: String::new(), sampled_on: on, layers: vec![layer()] };
    let operations = vec![ink(1, "sample-soil", on)];
    Ground { tests: vec![dated(1, on, test)], history_known: true, operations, ..Ground::default() }
}

fn asked<'a>(choices: &'a Choices, ground: &'a Ground) -> Asked<'a> {
    let (area, setback) = (Area::new(20.0, Unit::Ac), Length::new(5.0, Unit::M));
    Asked { choices, ground, area, setback, today: TODAY, sown_on: None, year_start: date(2026, 1, 1), usual: None }
}

/// The plan of a stand of which nothing but its ground is known.
fn planned(choices: &Choices, ground: &Ground) -> Plan {
    assess(asked(choices, ground), None, &Succession::default(), None).plan
}

/// What closed a step.
fn closed(choices: &Choices, ground: &Ground, key: &str) -> Option<(Uuid, Date)> {
    planned(choices, ground).steps.iter().find(|step| step.step == key)?.inked()
}

fn path(choices: &Choices, ground: &Ground) -> Option<agronomy::lime::PhPath> {
    let asked = asked(choices, ground);
    let lime = lime_need(asked).unwrap();
    ph_path(asked, lime.as_ref().map(|answer| &answer.value)).unwrap().map(|answer| answer.value)
}

#[test]
fn without_a_test_there_is_nothing_to_lime_by() {
    let (choices, ground) = (limed(LimeMethod::Smp, 6.8), Ground::default());
    assert!(lime_need(asked(&choices, &ground)).unwrap().is_none());
    assert!(path(&choices, &ground).is_none());
    assert!(lime_methods(&ground, TODAY).is_empty());
    let plan = planned(&choices, &ground);
    assert!(step(&plan, "sample-soil").inked().is_none());
    assert!(plan.steps.iter().all(|step| step.step != "lime"));
}

#[test]
fn the_latest_test_up_to_the_day_counts() {
    let mut ground = tested(date(2025, 10, 1));
    let mut later = ground.tests[0].clone();
    later.on = date(2026, 8, 1);
    later.what.layers[0].ph = 6.9;
    ground.tests.push(later);
    assert_eq!(ground.test_by(TODAY).unwrap().on, date(2025, 10, 1));
    assert_eq!(ground.test_by(date(2026, 9, 1)).unwrap().on, date(2026, 8, 1));
    assert!(ground.test_by(date(2020, 1, 1)).is_none());
}

/// E-2567: LTI 64 to pH 6.8 is 71.4 − 1.03 × 64 = 5.48 tons.
#[test]
fn lime_is_reckoned_from_the_test_by_the_chosen_school() {
    let ground = tested(date(2026, 4, 1));
    let choices = limed(LimeMethod::Smp, 6.8);
    let need = lime_need(asked(&choices, &ground)).unwrap().unwrap().value;
    assert!((need.requirement.to(Unit::TonPerAc) - 5.48).abs() < 1e-9);
    assert_eq!(need.total.unwrap(), need.rate.unwrap() * Area::new(20.0, Unit::Ac));
    let parts = need.fast.unwrap() + need.slow.unwrap();
    assert!((parts.to(Unit::TPerHa) - need.effective.to(Unit::TPerHa)).abs() < 1e-9);
}

#[rstest]
#[case(LimeMethod::Sikora, "Sikora buffer pH")]
#[case(LimeMethod::AdamsEvans, "Adams–Evans buffer pH")]
#[case(LimeMethod::Mehlich, "Mehlich acidity")]
#[case(LimeMethod::BaseSaturation, "CEC and base saturation")]
fn a_school_that_the_test_does_not_serve_is_named(#[case] method: LimeMethod, #[case] lacks: &str) {
    let (choices, ground) = (limed(method, 6.4), tested(date(2026, 4, 1)));
    let refused = lime_need(asked(&choices, &ground)).unwrap_err();
    assert_eq!(refused.0[0].pointer, "/lime/method");
    assert!(refused.0[0].detail.contains(lacks), "{refused}");
    assert_eq!(lime_methods(&ground, TODAY), [LimeMethod::Smp, LimeMethod::Texture]);
}

/// Lime spread: on the ground, and as the operation it is.
fn spread(ground: &mut Ground, n: u128, rate: f64, on: Date) {
    let dressing = lime_dressing(&library_materials()[0], MassPerArea::new(rate, Unit::TonPerAc));
    ground.dressings.push(dated(n, on, dressing));
    ground.operations.push(ink(n, "lime", on));
}

#[test]
fn planned_lime_lifts_the_path_and_inked_lime_takes_its_place() {
    let choices = limed(LimeMethod::Smp, 6.8);
    let mut ground = tested(date(2026, 4, 1));
    let pencil = path(&choices, &ground).unwrap();
    // The plan aims at 6.8 and comes near it once the slow part has worked.
    assert!((pencil.peak.ph - 6.8).abs() < 0.15, "{}", pencil.peak.ph);
    assert_eq!(step(&planned(&choices, &ground), "lime").amounts[0].of, "ground limestone");

    spread(&mut ground, 7, 1.5, date(2026, 5, 2));
    let inked = path(&choices, &ground).unwrap();
    assert!(inked.peak.ph < pencil.peak.ph);
    assert_eq!(closed(&choices, &ground, "lime"), Some((Uuid::from_u128(7), date(2026, 5, 2))));
}

#[test]
fn lime_before_the_test_is_in_the_test() {
    let choices = limed(LimeMethod::Smp, 6.8);
    let mut ground = tested(date(2026, 4, 1));
    spread(&mut ground, 7, 2.0, date(2024, 4, 1));
    assert_eq!(closed(&choices, &ground, "lime"), None);
}

/// Three limings and two sprays of a stand are five steps, each with its own entry and day.
#[test]
fn what_is_done_three_times_stands_three_times() {
    let choices = limed(LimeMethod::Smp, 6.8);
    let mut ground = tested(date(2026, 4, 1));
    for (n, on) in [(7, date(2026, 4, 10)), (8, date(2026, 4, 20)), (9, date(2026, 5, 2))] {
        spread(&mut ground, n, 1.0, on);
    }
    let sprays = [ink(21, "spray", date(2026, 4, 12)), ink(22, "spray", date(2026, 5, 10))];
    let facts = |on_stand: Vec<Operation>| Facts {
        on_stand,
        on_ground: ground.operations.clone(),
        needs: GroundNeeds { lime: Some(vec![]), ..GroundNeeds::default() },
        ..Facts::default()
    };
    let plan = plan(&choices, &facts(sprays.to_vec()), TODAY);
    let told = |key: &str| -> Vec<(u32, Uuid)> {
        let own = plan.steps.iter().filter(|step| step.step == key);
        own.map(|step| (step.occurrence, step.inked().unwrap().0)).collect()
    };
    let ids = |numbers: &[(u32, u128)]| -> Vec<(u32, Uuid)> {
        numbers.iter().map(|(time, n)| (*time, Uuid::from_u128(*n))).collect()
    };
    assert_eq!(told("lime"), ids(&[(1, 7), (2, 8), (3, 9)]));
    assert_eq!(told("spray"), ids(&[(1, 21), (2, 22)]));
}

#[test]
fn harvests_bend_the_path_down() {
    let ground = tested(date(2026, 4, 1));
    let mut choices = choices(&["alfalfa"]);
    let flat = path(&choices, &ground).unwrap();
    choices.nutrients = Some(NutrientChoice {
        school: School::Replacement,
        yield_goal: MassPerArea::new(5.0, Unit::TonPerAc),
        potash: None,
    });
    let bent = path(&choices, &ground).unwrap();
    assert!(bent.months.last().unwrap().ph < flat.months.last().unwrap().ph);
    assert_eq!(bent.months[6].ph, flat.months[6].ph, "nothing is carried off before it is sown");
}

#[rstest]
#[case(School::BuildMaintain, 115.0, 270.0)]
#[case(School::Replacement, 65.0, 250.0)]
#[case(School::Sufficiency, 50.0, 0.0)]
fn the_chosen_school_sets_the_amounts(#[case] school: School, #[case] p: f64, #[case] k: f64) {
    let ground = tested(date(2026, 4, 1));
    let mut choices = common::choices(&[("alfalfa", 12.0), ("timothy", 2.0)], SOW);
    choices.nutrients =
        Some(NutrientChoice { school, yield_goal: MassPerArea::new(5.0, Unit::TonPerAc), potash: None });
    let needs = needs(asked(&choices, &ground)).unwrap().unwrap().value;
    let amounts = amounts(&needs, &choices);
    assert!((amount(&amounts, Nutrient::P2o5).to(Unit::LbPerAc) - p).abs() < 1e-6, "{amounts:?}");
    assert!((amount(&amounts, Nutrient::K2o).to(Unit::LbPerAc) - k).abs() < 1e-6, "{amounts:?}");
    assert!(!amounts.contains_key(&Nutrient::N), "a stand that is mostly legume feeds itself");
    let dresses = planned(&choices, &ground).steps.iter().any(|step| step.step == "dress");
    assert_eq!(dresses, p + k > 0.0);
}

#[test]
fn of_a_mix_the_fussiest_member_decides() {
    let mut ground = tested(date(2026, 4, 1));
    ground.facts = SiteFacts {
        drainage: Some(agronomy::crop::Drainage::SomewhatPoor),
        texture: Some(Texture::Loam),
        ..SiteFacts::default()
    };
    let verdict = |crops: &[&str]| {
        let choices = choices(crops);
        let readiness = readiness(asked(&choices, &ground)).unwrap().unwrap().value;
        readiness.checks.iter().find(|check| check.key == "drainage").unwrap().verdict
    };
    assert_eq!(verdict(&["timothy"]), Verdict::Fit);
    assert_eq!(verdict(&["alfalfa"]), Verdict::Unfit);
    assert_eq!(verdict(&["timothy", "alfalfa"]), Verdict::Unfit);
    assert_eq!(verdict(&["alfalfa", "timothy"]), Verdict::Unfit);
}

fn sprayed(active: &str, on: Date) -> Ground {
    let mut ground = tested(date(2026, 4, 1));
    ground.sprays.push(dated(
        3,
        on,
        Spray { active: active.into(), on, label_months: None, plant_back: vec![], spots: false },
    ));
    ground.operations.push(ink(3, "spray", on));
    ground
}

#[test]
fn a_spray_that_reaches_the_sowing_makes_the_bioassay_a_step() {
    let choices = choices(&["alfalfa"]);
    let mut ground = sprayed("picloram", date(2025, 9, 1));
    let plan = planned(&choices, &ground);
    assert!(step(&plan, "bioassay").inked().is_none());
    assert!(step(&plan, "sow").after.contains(&"bioassay".to_owned()));

    ground.bioassays.push(dated(4, date(2026, 5, 1), Bioassay { on: date(2026, 5, 1), passed: true }));
    ground.operations.push(ink(4, "bioassay", date(2026, 5, 1)));
    assert_eq!(closed(&choices, &ground, "bioassay"), Some((Uuid::from_u128(4), date(2026, 5, 1))));
    let harmless = planned(&choices, &sprayed("glyphosate", date(2026, 4, 1)));
    assert!(harmless.steps.iter().all(|step| step.step != "bioassay"));
}

#[test]
fn what_came_after_the_sowing_is_not_its_ground_work() {
    let choices = limed(LimeMethod::Smp, 6.8);
    let mut ground = tested(date(2026, 4, 1));
    spread(&mut ground, 7, 2.0, date(2026, 5, 2));
    let sown = |on| {
        let facts = Facts {
            on_stand: vec![ink(30, "sow", on)],
            on_ground: ground.operations.clone(),
            needs: GroundNeeds { lime: Some(vec![]), ..GroundNeeds::default() },
            ..Facts::default()
        };
        step(&plan(&choices, &facts, TODAY), "lime").inked()
    };
    assert_eq!(sown(date(2026, 4, 20)), None);
    assert_eq!(sown(date(2026, 5, 10)).unwrap().1, date(2026, 5, 2));
}

#[test]
fn an_old_test_does_not_plan_a_sowing() {
    let choices = choices(&["alfalfa"]);
    assert!(closed(&choices, &tested(date(2025, 10, 1)), "sample-soil").is_some());
    assert_eq!(closed(&choices, &tested(date(2021, 10, 1)), "sample-soil"), None);
}

/// A field limed for a crop that needs it becomes fit half a year after the lime was spread, and stays so:
/// it does not wait half a year from whatever today is.
#[test]
fn spread_lime_opens_its_field_half_a_year_on() {
    let choices = choices(&["alfalfa"]);
    let mut ground = tested(date(2025, 10, 1));
    let check = |ground: &Ground, today: Date| {
        let asked = Asked { today, ..asked(&choices, ground) };
        let readiness = readiness(asked).unwrap().unwrap().value;
        readiness.checks.iter().find(|check| check.key == "ph").unwrap().clone()
    };
    assert_eq!(check(&ground, TODAY).ready_on, Some(date(2026, 11, 14)), "lime still to come works from today");
    spread(&mut ground, 7, 3.0, date(2025, 11, 20));
    for today in [date(2026, 1, 10), TODAY, date(2026, 9, 1)] {
        let found = check(&ground, today);
        assert_eq!(found.ready_on, Some(date(2026, 5, 20)), "as seen on {today}");
        assert!(found.reason.contains("limed 20 Nov 2025"), "{}", found.reason);
    }
}

/// Perennial weeds keep a field for three months from the day they were seen, not from today for ever;
/// and a word for none is none.
#[test]
fn weeds_count_from_the_day_they_were_seen() {
    let choices = choices(&["timothy"]);
    let mut ground = tested(date(2026, 4, 1));
    ground.looked_on = Some(date(2026, 2, 1));
    let mut weeds = |seen: &str, today: Date| {
        ground.facts.perennial_weeds = Some(seen.into());
        let readiness = readiness(Asked { today, ..asked(&choices, &ground) }).unwrap().unwrap().value;
        readiness.checks.iter().find(|check| check.key == "weeds").unwrap().clone()
    };
    for today in [date(2026, 3, 1), TODAY] {
        assert_eq!(weeds("quackgrass", today).ready_on, Some(date(2026, 5, 1)));
    }
    for none in ["none", "None.", " no ", ""] {
        assert_eq!(weeds(none, TODAY).verdict, Verdict::Fit, "{none}");
    }
}

/// An established grass stand is fed for its harvest, not for its sowing year (2 ton of timothy hay an
/// acre take 80 lb of N at 40 lb a ton, common practice); half a pound of clover does not feed it.
#[test]
fn an_established_grass_is_fed_for_its_harvest() {
    let ground = tested(date(2026, 4, 1));
    let n = |crops: &[(&str, f64)], sown_on: Option<Date>| {
        let mut choices = common::choices(crops, SOW);
        let yield_goal = MassPerArea::new(4.0, Unit::TonPerAc);
        choices.nutrients = Some(NutrientChoice { school: School::Replacement, yield_goal, potash: None });
        let asked = Asked { sown_on, ..asked(&choices, &ground) };
        needs(asked).unwrap().unwrap().value.n.to(Unit::LbPerAc)
    };
    let (young, old) = (Some(date(2026, 4, 20)), Some(date(2024, 8, 20)));
    assert!((n(&[("timothy", 8.0)], young) - 40.0).abs() < 1e-9);
    assert!((140.0..=170.0).contains(&n(&[("timothy", 8.0)], old)), "{}", n(&[("timothy", 8.0)], old));
    let little_clover = [("orchardgrass", 15.0), ("white-clover", 0.5)];
    assert!(n(&little_clover, old) > 100.0, "{}", n(&little_clover, old));
    assert_eq!(n(&[("orchardgrass", 4.0), ("alfalfa", 12.0)], old), 0.0);
}

fn potash(kg: f64, on: Date) -> Dated<Dressing> {
    let dressing = Dressing {
        what: DressingKind::Fertiliser,
        product: "potash".into(),
        rate: MassPerArea::new(kg, Unit::KgPerHa),
        analysis: Analysis::from([(Nutrient::K2o, Fraction::percent(60.0))]),
        effective: None,
    };
    dated(11, on, dressing)
}

fn cut(tonnes: f64, on: Date) -> Dated<Cut> {
    let cut = Cut {
        crop: "alfalfa".into(),
        harvested: MassPerArea::new(tonnes, Unit::TPerHa),
        moisture: None,
        after_frost: false,
        analysis: Analysis::new(),
    };
    dated(12, on, cut)
}

#[test]
fn an_account_is_of_one_year() {
    let ground = Ground {
        dressings: vec![potash(100.0, date(2025, 6, 1)), potash(50.0, date(2026, 4, 1))],
        cuts: vec![cut(4.0, date(2025, 6, 1)), cut(2.0, date(2026, 5, 10))],
        ..Ground::default()
    };
    let line = |year: i16| {
        let account = year_account(&ground, &Default::default(), date(year, 1, 1), a_hectare);
        account.lines.into_iter().find(|line| line.nutrient == Nutrient::K2o)
    };
    let this = line(2026).unwrap();
    assert!((this.applied.to(Unit::KgPerHa) - 30.0).abs() < 1e-9);
    // 50 lb in a short ton is 25 kg in a tonne.
    assert!((this.removed.to(Unit::KgPerHa) - 50.0).abs() < 1e-9);
    assert!((line(2025).unwrap().balance.to(Unit::KgPerHa) + 40.0).abs() < 1e-9);
    assert!(line(2024).is_none());
}

/// What was struck out brought nothing: the account is the one without it.
#[test]
fn a_struck_dressing_counts_no_more() {
    let field = Uuid::from_u128(5);
    let spread = |n: u128, kilos: f64, struck: bool| {
        let dressing = records::kinds::dressing::Dressing {
            what: records::kinds::dressing::DressingKind::Fertiliser,
            product: "potash".into(),
            rate: MassPerArea::new(kilos, Unit::KgPerHa),
            analysis: [(records::kinds::dressing::Nutrient::K2o, Fraction::percent(60.0))].into(),
            effective: None,
        };
        records::Entry {
            id: Uuid::from_u128(n),
            about: vec![records::Subject::field(field).into()],
            occurred_on: date(2026, 4, 1),
            recorded_at: jiff::Timestamp::UNIX_EPOCH,
            recorded_by: Uuid::from_u128(6),
            via: records::Via::Web,
            content: records::Content::Read(
                DressingSpread { dressing, area: None, placement: None, note: None }.into(),
            ),
            closes: None,
            strikes: None,
            struck_by: struck.then(|| Uuid::from_u128(99)),
        }
    };
    let applied = |entries: &[records::Entry]| {
        let ground = Books::of(entries).field(field);
        let account = year_account(&ground, &Default::default(), date(2026, 1, 1), a_hectare);
        account.lines.iter().map(|line| line.applied.to(Unit::KgPerHa)).sum::<f64>()
    };
    assert!((applied(&[spread(1, 100.0, false), spread(2, 50.0, false)]) - 90.0).abs() < 1e-9);
    assert!((applied(&[spread(1, 100.0, false), spread(2, 50.0, true)]) - 60.0).abs() < 1e-9);
}

/// South of the equator the year of an account begins in July: its summer is not cut in two.
#[test]
fn a_southern_account_holds_one_summer() {
    let start = agronomy::weather::year_start(-33.9, date(2026, 2, 1));
    let cuts = vec![cut(4.0, date(2025, 12, 10)), cut(2.0, date(2026, 1, 20)), cut(9.0, date(2025, 6, 1))];
    let ground = Ground { cuts, ..Ground::default() };
    let account = year_account(&ground, &Default::default(), start, a_hectare);
    let removed = account.lines.iter().find(|line| line.nutrient == Nutrient::K2o).unwrap().removed;
    // 25 kg in a tonne.
    assert!((removed.to(Unit::KgPerHa) - 150.0).abs() < 1e-9, "{removed:?}");
}

proptest! {
    /// The account is the sum of its entries, whatever their order.
    #[test]
    fn an_account_is_the_sum_of_its_entries(kilos in proptest::collection::vec(1.0..400.0_f64, 0..8), tonnes in proptest::collection::vec(0.1..9.0_f64, 0..8)) {
        let day = date(2026, 5, 1);
        let mut ground = Ground {
            dressings: kilos.iter().map(|kg| potash(*kg, day)).collect(),
            cuts: tonnes.iter().map(|t| cut(*t, day)).collect(),
            ..Ground::default()
        };
        let balance = |ground: &Ground| {
            let account = year_account(ground, &Default::default(), date(2026, 1, 1), a_hectare);
            account.lines.iter().find(|line| line.nutrient == Nutrient::K2o).map_or(0.0, |line| line.balance.to(Unit::KgPerHa))
        };
        let expected: f64 = kilos.iter().map(|kg| kg * 0.6).sum::<f64>() - tonnes.iter().map(|t| t * 25.0).sum::<f64>();
        prop_assert!((balance(&ground) - expected).abs() < 1e-6, "{} {expected}", balance(&ground));
        ground.dressings.reverse();
        ground.cuts.reverse();
        prop_assert!((balance(&ground) - expected).abs() < 1e-6);
    }

    /// More lime inked never lowers any month of the path.
    #[test]
    fn more_lime_in_ink_never_lowers_the_path(tons in 0.2..5.0_f64, more in 0.1..3.0_f64) {
        let choices = limed(LimeMethod::Smp, 6.8);
        let path = |tons: f64| {
            let mut ground = tested(date(2026, 4, 1));
            spread(&mut ground, 7, tons, date(2026, 4, 20));
            super::ground::path(&choices, &ground).unwrap()
        };
        for (less, more) in path(tons).months.iter().zip(&path(tons + more).months) {
            prop_assert!(more.ph >= less.ph - 1e-12);
        }
    }
}

#[rstest]
#[case(|choices: &mut Choices| choices.lime.as_mut().unwrap().target_ph = 9.0, "/lime/target_ph")]
#[case(|choices: &mut Choices| choices.lime.as_mut().unwrap().depth = Some(Length::new(9.0, Unit::Ft)), "/lime/depth")]
#[case(|choices: &mut Choices| choices.lime.as_mut().unwrap().material.cce = Fraction::percent(900.0), "/lime/material/cce")]
#[case(|choices: &mut Choices| choices.lime.as_mut().unwrap().material.sieves.clear(), "/lime/material/sieves")]
#[case(|choices: &mut Choices| choices.nutrients = Some(NutrientChoice { school: School::Replacement, yield_goal: MassPerArea::new(-1.0, Unit::TonPerAc), potash: None }), "/nutrients/yield_goal")]
#[case(|choices: &mut Choices| choices.row_spacing = Some(Length::new(3.0, Unit::Cm)), "/row_spacing")]
#[case(|choices: &mut Choices| { broadcast(choices); choices.row_spacing = Some(Length::new(7.0, Unit::In)); }, "/row_spacing")]
fn decisions_on_the_ground_that_cannot_be(#[case] spoil: fn(&mut Choices), #[case] pointer: &str) {
    let mut choices = limed(LimeMethod::Smp, 6.8);
    check(&choices, TODAY).unwrap();
    spoil(&mut choices);
    let refused = check(&choices, TODAY).unwrap_err();
    assert!(refused.0.iter().any(|one| one.pointer == pointer), "{refused:?}");
}

fn broadcast(choices: &mut Choices) {
    if let records::Cover::Seed { mix, .. } = &mut choices.cover {
        mix.conditions.method = agronomy::seed::Method::Broadcast;
    }
}

/// Lime has its half year, sampling comes before it, and the seedbed after.
#[test]
fn the_work_of_the_year_before_stands_in_its_order() {
    let mut choices = limed(LimeMethod::Smp, 6.8);
    choices.nutrients = Some(NutrientChoice {
        school: School::BuildMaintain,
        yield_goal: MassPerArea::new(5.0, Unit::TonPerAc),
        potash: None,
    });
    let ground = tested(date(2026, 4, 1));
    let plan = planned(&choices, &ground);
    let lime = step(&plan, "lime");
    assert!((SOW - lime.to).get_days() >= 182, "{} before {SOW}", lime.to);
    assert_eq!(lime.after, ["sample-soil"]);
    assert!(step(&plan, "prepare").after.contains(&"lime".to_owned()));
    assert!(step(&plan, "sample-soil").inked().is_some());
    let amount = &lime.amounts[0];
    assert!(amount.amount.to(Unit::TonPerAc) > 3.0 && amount.of == "ground limestone", "{amount:?}");
    let dress = step(&plan, "dress");
    assert!(dress.amounts.iter().any(|amount| amount.of == "P₂O₅"), "{:?}", dress.amounts);
    assert!(lime.cautions.iter().any(|caution| caution.key == "lime-dust"));
    let order: Vec<usize> = ["sample-soil", "lime", "dress", "order-seed", "prepare", "sow", "count"]
        .iter()
        .map(|key| plan.steps.iter().position(|step| step.step == *key).unwrap())
        .collect();
    assert!(order.is_sorted(), "{order:?}");
}

/// What can't be reckoned is told beside what can: a school that the test does not serve leaves the plan,
/// the readiness and the nutrients as they are.
#[test]
fn one_part_in_trouble_leaves_the_rest() {
    let (choices, ground) = (limed(LimeMethod::Mehlich, 6.4), tested(date(2026, 4, 1)));
    let asked = asked(&choices, &ground);
    let whole = whole(asked, assess(asked, None, &Succession::default(), None), &[]);
    let core = &whole.core;
    assert!(core.lime.is_none() && core.readiness.is_some() && whole.mix.is_some() && whole.path.is_some());
    assert!(core.plan.steps.len() > 5);
    let trouble = &core.troubles[0];
    assert_eq!((trouble.part, trouble.pointer.as_str()), (Part::Lime, "/lime/method"));
    assert!(trouble.detail.contains("Mehlich acidity"), "{}", trouble.detail);
}

fn a_hectare(_: Date) -> Area {
    Area::new(1.0, Unit::Ha)
}
