//! What the ground of a field asks of a stand, and what it has had.

use agronomy::{
    lime::{Placement, library_materials},
    mix::{MixMember, MixRequest, MixView},
    nutrients::{Analysis, Nutrient, School, amount},
    seed::Conditions,
    site::{Bioassay, SiteFacts, Spray, Verdict},
    soil::{AcidityTest, Layer, PMethod, PTest, SoilTest, Texture},
    units::{Area, Charge, Fraction, Length, MassPerArea, SoilContent, Unit},
};
use jiff::civil::{Date, date};
use planner::{ground::*, *};
use proptest::prelude::*;
use rstest::rstest;
use uuid::Uuid;

const TODAY: Date = date(2026, 5, 14);
const SOW: Date = date(2027, 5, 10);

fn choices(crops: &[&str]) -> Choices {
    let members = crops
        .iter()
        .map(|crop| MixMember {
            crop: (*crop).into(),
            share: None,
            rate: Some(MassPerArea::new(8.0, Unit::LbPerAc)),
            seeds_per_mass: None,
            full_rate: None,
        })
        .collect();
    let mix = MixRequest { by: MixView::Mass, members, total: None, conditions: Conditions::default() };
    Choices {
        goal: Goal::Hay,
        cover: Cover::Seed { mix, dormant_seed: None, lots: vec![] },
        seedbed: SeedbedSchool::Tilled,
        timing: None,
        sow_on: SOW,
        spare: Fraction::ZERO,
        lime: None,
        nutrients: None,
    }
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
    Ground { tests: vec![dated(1, on, test)], history_known: true, ..Ground::default() }
}

fn asked<'a>(choices: &'a Choices, ground: &'a Ground) -> Asked<'a> {
    Asked { choices, ground, area: Area::new(20.0, Unit::Ac), setback: Length::new(5.0, Unit::M), today: TODAY }
}

#[test]
fn without_a_test_there_is_nothing_to_lime_by() {
    let (choices, ground) = (limed(LimeMethod::Smp, 6.8), Ground::default());
    assert!(lime_need(asked(&choices, &ground)).unwrap().is_none());
    assert!(ph_path(asked(&choices, &ground)).unwrap().is_none());
    assert!(lime_methods(&ground, TODAY).is_empty());
    let (steps, inked) = steps(asked(&choices, &ground), None);
    assert!(steps.sample && inked.is_empty() && steps.lime.is_none());
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
#[case(LimeMethod::Mehlich, "Mehlich acidity")]
#[case(LimeMethod::BaseSaturation, "CEC and base saturation")]
fn a_school_that_the_test_does_not_serve_is_named(#[case] method: LimeMethod, #[case] lacks: &str) {
    let (choices, ground) = (limed(method, 6.4), tested(date(2026, 4, 1)));
    let refused = lime_need(asked(&choices, &ground)).unwrap_err();
    assert_eq!(refused.0[0].pointer, "/lime/method");
    assert!(refused.0[0].detail.contains(lacks), "{refused}");
    assert_eq!(lime_methods(&ground, TODAY), [LimeMethod::Smp, LimeMethod::Texture]);
}

fn lime_of(rate: f64, on: Date) -> Dated<Dressing> {
    dated(7, on, lime_dressing(&library_materials()[0], MassPerArea::new(rate, Unit::TonPerAc)))
}

#[test]
fn planned_lime_lifts_the_path_and_inked_lime_takes_its_place() {
    let choices = limed(LimeMethod::Smp, 6.8);
    let mut ground = tested(date(2026, 4, 1));
    let planned = ph_path(asked(&choices, &ground)).unwrap().unwrap().value;
    // The plan aims at 6.8 and comes near it once the slow part has worked.
    assert!((planned.peak.ph - 6.8).abs() < 0.15, "{}", planned.peak.ph);
    let (steps_before, _) = steps(asked(&choices, &ground), None);
    assert_eq!(steps_before.lime.as_ref().unwrap()[0].of, "ground limestone");

    ground.dressings.push(lime_of(1.5, date(2026, 5, 2)));
    let inked = ph_path(asked(&choices, &ground)).unwrap().unwrap().value;
    assert!(inked.peak.ph < planned.peak.ph);
    let (_, done) = steps(asked(&choices, &ground), None);
    let lime = done.iter().find(|step| step.kind == StepKind::Lime).unwrap();
    assert_eq!((lime.entry, lime.on), (Uuid::from_u128(7), date(2026, 5, 2)));
}

#[test]
fn lime_before_the_test_is_in_the_test() {
    let choices = limed(LimeMethod::Smp, 6.8);
    let mut ground = tested(date(2026, 4, 1));
    ground.dressings.push(lime_of(2.0, date(2024, 4, 1)));
    let (_, done) = steps(asked(&choices, &ground), None);
    assert!(done.iter().all(|step| step.kind != StepKind::Lime), "{done:?}");
}

#[test]
fn harvests_bend_the_path_down() {
    let ground = tested(date(2026, 4, 1));
    let mut choices = choices(&["alfalfa"]);
    let flat = ph_path(asked(&choices, &ground)).unwrap().unwrap().value;
    choices.nutrients =
        Some(NutrientChoice { school: School::Replacement, yield_goal: MassPerArea::new(5.0, Unit::TonPerAc) });
    let bent = ph_path(asked(&choices, &ground)).unwrap().unwrap().value;
    assert!(bent.months.last().unwrap().ph < flat.months.last().unwrap().ph);
    assert_eq!(bent.months[6].ph, flat.months[6].ph, "nothing is carried off before it is sown");
}

#[rstest]
#[case(School::BuildMaintain, 115.0, 270.0)]
#[case(School::Replacement, 65.0, 250.0)]
#[case(School::Sufficiency, 50.0, 0.0)]
fn the_chosen_school_sets_the_amounts(#[case] school: School, #[case] p: f64, #[case] k: f64) {
    let ground = tested(date(2026, 4, 1));
    let mut choices = choices(&["alfalfa", "timothy"]);
    choices.nutrients = Some(NutrientChoice { school, yield_goal: MassPerArea::new(5.0, Unit::TonPerAc) });
    let needs = needs(asked(&choices, &ground)).unwrap().unwrap().value;
    let amounts = amounts(&needs, &choices);
    assert!((amount(&amounts, Nutrient::P2o5).to(Unit::LbPerAc) - p).abs() < 1e-6, "{amounts:?}");
    assert!((amount(&amounts, Nutrient::K2o).to(Unit::LbPerAc) - k).abs() < 1e-6, "{amounts:?}");
    assert!(!amounts.contains_key(&Nutrient::N), "half legume feeds itself");
    let (steps, _) = steps(asked(&choices, &ground), None);
    assert_eq!(steps.dress.is_some(), p + k > 0.0);
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
    ground.sprays.push(dated(3, on, Spray { active: active.into(), on, label_months: None }));
    ground
}

#[test]
fn a_spray_that_reaches_the_sowing_makes_the_bioassay_a_step() {
    let choices = choices(&["alfalfa"]);
    let mut ground = sprayed("picloram", date(2025, 9, 1));
    let (wanted, inked) = steps(asked(&choices, &ground), None);
    assert!(wanted.bioassay && inked.iter().all(|step| step.kind != StepKind::Bioassay));
    let plan = plan(&choices, &Facts { inked, ground: wanted, sowing: None }, TODAY);
    let sow = plan.steps.iter().find(|step| step.kind == StepKind::Sow).unwrap();
    assert!(sow.after.contains(&StepKind::Bioassay));

    ground.bioassays.push(dated(4, date(2026, 5, 1), Bioassay { on: date(2026, 5, 1), passed: true }));
    let (wanted, inked) = steps(asked(&choices, &ground), None);
    assert!(wanted.bioassay && inked.iter().any(|step| step.kind == StepKind::Bioassay));
    let (harmless, _) = steps(asked(&choices, &sprayed("glyphosate", date(2026, 4, 1))), None);
    assert!(!harmless.bioassay);
}

#[test]
fn what_came_after_the_sowing_is_not_its_ground_work() {
    let choices = limed(LimeMethod::Smp, 6.8);
    let mut ground = tested(date(2026, 4, 1));
    ground.dressings.push(lime_of(2.0, date(2026, 5, 2)));
    let (_, done) = steps(asked(&choices, &ground), Some(date(2026, 4, 20)));
    assert!(done.iter().all(|step| step.kind != StepKind::Lime), "{done:?}");
    let (_, done) = steps(asked(&choices, &ground), Some(date(2026, 5, 10)));
    assert!(done.iter().any(|step| step.kind == StepKind::Lime));
}

#[test]
fn an_old_test_does_not_plan_a_sowing() {
    let choices = choices(&["alfalfa"]);
    let (_, fresh) = steps(asked(&choices, &tested(date(2025, 10, 1))), None);
    let (_, old) = steps(asked(&choices, &tested(date(2021, 10, 1))), None);
    assert_eq!((fresh.len(), old.len()), (1, 0));
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
        let account = year_account(&ground, &Default::default(), year);
        account.lines.into_iter().find(|line| line.nutrient == Nutrient::K2o)
    };
    let this = line(2026).unwrap();
    assert!((this.applied.to(Unit::KgPerHa) - 30.0).abs() < 1e-9);
    // 50 lb in a short ton is 25 kg in a tonne.
    assert!((this.removed.to(Unit::KgPerHa) - 50.0).abs() < 1e-9);
    assert!((line(2025).unwrap().balance.to(Unit::KgPerHa) + 40.0).abs() < 1e-9);
    assert!(line(2024).is_none());
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
            let account = year_account(ground, &Default::default(), 2026);
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
            ground.dressings.push(lime_of(tons, date(2026, 4, 20)));
            ph_path(asked(&choices, &ground)).unwrap().unwrap().value
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
#[case(|choices: &mut Choices| choices.nutrients = Some(NutrientChoice { school: School::Replacement, yield_goal: MassPerArea::new(-1.0, Unit::TonPerAc) }), "/nutrients/yield_goal")]
fn decisions_on_the_ground_that_cannot_be(#[case] spoil: fn(&mut Choices), #[case] pointer: &str) {
    let mut choices = limed(LimeMethod::Smp, 6.8);
    check(&choices, TODAY).unwrap();
    spoil(&mut choices);
    let refused = check(&choices, TODAY).unwrap_err();
    assert!(refused.0.iter().any(|one| one.pointer == pointer), "{refused:?}");
}

/// Decisions written before there was lime to decide on are read as they were.
#[test]
fn an_older_decision_is_still_read() {
    let mut written = serde_json::to_value(limed(LimeMethod::Smp, 6.8)).unwrap();
    let object = written.as_object_mut().unwrap();
    object.remove("lime");
    object.remove("nutrients");
    let read: Choices = serde_json::from_value(written).unwrap();
    assert_eq!((read.lime, read.nutrients), (None, None));
}

/// Lime has its half year, sampling comes before it, and the seedbed after.
#[test]
fn the_work_of_the_year_before_stands_in_its_order() {
    let mut choices = limed(LimeMethod::Smp, 6.8);
    choices.nutrients =
        Some(NutrientChoice { school: School::BuildMaintain, yield_goal: MassPerArea::new(5.0, Unit::TonPerAc) });
    let ground = tested(date(2026, 4, 1));
    let (wanted, inked) = steps(asked(&choices, &ground), None);
    let plan = plan(&choices, &Facts { inked, ground: wanted, sowing: None }, TODAY);
    let step = |kind| plan.steps.iter().find(|step| step.kind == kind).unwrap_or_else(|| panic!("no {kind:?}"));
    let lime = step(StepKind::Lime);
    assert!((SOW - lime.to).get_days() >= 182, "{} before {SOW}", lime.to);
    assert_eq!(lime.after, [StepKind::SampleSoil]);
    assert!(step(StepKind::Prepare).after.contains(&StepKind::Lime));
    assert!(matches!(step(StepKind::SampleSoil).state, State::Done { .. }));
    assert!(
        lime.amounts[0].amount.to(Unit::TonPerAc) > 3.0 && lime.amounts[0].of == "ground limestone",
        "{:?}",
        lime.amounts
    );
    assert!(
        step(StepKind::Dress).amounts.iter().any(|amount| amount.of == "P₂O₅"),
        "{:?}",
        step(StepKind::Dress).amounts
    );
    assert!(lime.cautions.iter().any(|caution| caution.key == "lime-dust"));
    let kinds: Vec<_> = plan.steps.iter().map(|step| step.kind).collect();
    assert!(kinds.is_sorted(), "{kinds:?}");
}
