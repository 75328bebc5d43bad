//! The plan follows from facts and choices, and from nothing else.

use agronomy::{
    seed::{Method, Tag},
    units::{Area, Fraction, Mass, System, Unit},
};
use jiff::{
    ToSpan,
    civil::{Date, date},
};
use planner::*;
use proptest::prelude::*;
use records::{Choices, Closes, Cover, LotChoice, PlantsChoice, book::Operation, check};
use rstest::rstest;
use uuid::Uuid;

use crate::common::{alone, choices, even_odds, ink, step};

const SOW: Date = date(2026, 5, 20);

#[rstest]
#[case(date(2026, 3, 1), "order-seed", State::Waiting)]
#[case(date(2026, 4, 1), "order-seed", State::Ready)]
#[case(date(2026, 5, 15), "order-seed", State::Overdue)]
fn a_step_stands_by_its_day(#[case] today: Date, #[case] key: &str, #[case] state: State) {
    let plan = plan(&choices(&[("alfalfa", 18.0)], SOW), &Facts::default(), today);
    assert_eq!(step(&plan, key).state, state);
}

#[rstest]
#[case(date(2026, 5, 16), "calibrate", &["order-seed"])]
#[case(date(2026, 5, 20), "sow", &["order-seed", "prepare", "calibrate"])]
fn and_by_what_comes_before(#[case] today: Date, #[case] key: &str, #[case] missing: &[&str]) {
    let plan = plan(&choices(&[("alfalfa", 18.0)], SOW), &Facts::default(), today);
    let State::Blocked { by } = &step(&plan, key).state else { panic!("{:?}", step(&plan, key)) };
    let waits: Vec<&str> = by.iter().filter_map(|one| one.step.as_deref()).collect();
    assert_eq!(waits, missing);
}

#[test]
fn inking_the_sowing_closes_it_and_moves_what_follows() {
    let choices = choices(&[("alfalfa", 18.0)], SOW);
    let today = date(2026, 5, 25);
    let before = plan(&choices, &Facts::default(), today);
    let facts = Facts { on_stand: vec![ink(1, "sow", date(2026, 5, 10))], ..Facts::default() };
    let after = plan(&choices, &facts, today);
    assert!(after.sown && !before.sown);
    assert!(matches!(step(&after, "sow").state, State::Done { on, .. } if on == date(2026, 5, 10)));
    assert_eq!(step(&after, "prepare").state, State::Passed);
    // alfalfa: seven days to the first seedlings
    assert_eq!(step(&after, "first-look").from, date(2026, 5, 17));
    assert_eq!(step(&after, "first-look").state, State::Overdue);
    // unsown on the 25th, it can't show before the 1st
    assert_eq!(step(&before, "first-look").from, date(2026, 6, 1));
}

/// A struck operation closes nothing: the plan is the one before it was inked.
#[test]
fn striking_gives_back_the_same_plan() {
    let choices = choices(&[("alfalfa", 12.0), ("orchardgrass", 4.0)], SOW);
    let today = date(2026, 5, 22);
    let ordered = ink(1, "order-seed", date(2026, 4, 2));
    let of = |on_stand| plan(&choices, &Facts { on_stand, ..Facts::default() }, today);
    let before = of(vec![]);
    assert_ne!(of(vec![ordered.clone()]), before);
    let struck = records::book::Operation { struck: true, ..ordered };
    assert_eq!(of(vec![struck]), before);
}

#[test]
fn the_slowest_member_decides_when_to_look() {
    let alone = plan(&choices(&[("perennial-ryegrass", 20.0)], SOW), &Facts::default(), date(2026, 4, 1));
    let mixed =
        plan(&choices(&[("perennial-ryegrass", 20.0), ("switchgrass", 4.0)], SOW), &Facts::default(), date(2026, 4, 1));
    assert!(step(&mixed, "count").from > step(&alone, "count").from);
}

#[test]
fn the_method_names_the_calibration_and_plants_are_planted() {
    let mut seed = choices(&[("alfalfa", 18.0)], SOW);
    let title = |choices: &Choices, key| step(&plan(choices, &Facts::default(), SOW), key).title.clone();
    assert_eq!(title(&seed, "calibrate"), "Calibrate drill");
    if let Cover::Seed { mix, .. } = &mut seed.cover {
        mix.conditions.method = Method::Broadcast;
    }
    assert_eq!(title(&seed, "calibrate"), "Calibrate spreader");
    let plants =
        PlantsChoice { crop: "giant-miscanthus".into(), row_spacing: None, in_row: None, pieces_per_station: None };
    let rhizomes = Choices { cover: Cover::Plants { plants }, ..seed };
    assert_eq!(title(&rhizomes, "sow"), "Plant");
    let plan = plan(&rhizomes, &Facts::default(), SOW);
    assert!(step(&plan, "sow").cautions.iter().any(|caution| caution.key == "invasive"));
}

#[rstest]
#[case(|choices: &mut Choices| choices.sow_on = date(1926, 5, 1), "/sow_on")]
#[case(|choices: &mut Choices| choices.spare = Fraction::percent(400.0), "/spare")]
#[case(|choices: &mut Choices| choices.cover = Cover::Plants { plants: PlantsChoice { crop: "alfalfa".into(), row_spacing: None, in_row: None, pieces_per_station: None } }, "/cover/plants/crop")]
#[case(|choices: &mut Choices| if let Cover::Seed { mix, .. } = &mut choices.cover { mix.members.clear() }, "/cover/mix/members")]
fn choices_that_cannot_be(#[case] spoil: fn(&mut Choices), #[case] pointer: &str) {
    let mut choices = choices(&[("alfalfa", 18.0)], SOW);
    spoil(&mut choices);
    let refused = check(&choices, date(2026, 5, 1)).unwrap_err();
    assert_eq!(refused.0[0].pointer, pointer);
}

#[test]
fn a_slip_is_asked_about_not_refused() {
    let unusual = check(&choices(&[("alfalfa", 240.0)], SOW), date(2026, 5, 1)).unwrap();
    assert_eq!(unusual[0].pointer, "/cover/mix/members/0");
    assert!(check(&choices(&[("alfalfa", 24.0)], SOW), date(2026, 5, 1)).unwrap().is_empty());
}

#[test]
fn the_order_draws_on_the_chosen_lots_only() {
    let mut choices = choices(&[("alfalfa", 18.0), ("orchardgrass", 4.0)], SOW);
    let lot = |n: u128, crop: &str| LotFacts {
        id: Uuid::from_u128(n),
        crop: crop.into(),
        label: format!("lot {n}"),
        tag: Tag::new(Fraction::percent(99.0), Fraction::percent(85.0), Fraction::percent(7.0)),
        available: Some(Mass::new(100.0, Unit::Lb)),
    };
    let lots = [lot(1, "alfalfa"), lot(2, "alfalfa"), lot(3, "orchardgrass")];
    let area = Area::new(10.0, Unit::Ac);
    assert_eq!(order_request(&choices, area, &lots).unwrap(), None);
    if let Cover::Seed { lots, .. } = &mut choices.cover {
        lots.push(LotChoice { lot: Uuid::from_u128(2) });
    }
    let request = order_request(&choices, area, &lots).unwrap().unwrap();
    assert_eq!(request.members.len(), 1);
    assert_eq!(request.members[0].lots[0].label, "lot 2");
    assert_eq!(seed_need(&choices, area, &lots).unwrap().without_lot, ["orchardgrass"]);
    // Of the chosen lot: 99 % pure, 92 % live with its hard seed.
    let needed = seed_need(&choices, area, &lots).unwrap().members;
    let (pls, bulk) = (needed[0].pls.unwrap(), needed[0].bulk_rate.unwrap());
    assert!((pls.to(Unit::Percent) - 91.08).abs() < 1e-9, "{pls:?}");
    assert!((bulk.to(Unit::LbPerAc) - needed[0].pls_rate.0.to(Unit::LbPerAc) / 0.9108).abs() < 1e-9);
    assert!(needed[1].pls.is_none() && needed[1].bulk_rate.is_none(), "no lot, no bag");
    let order = agronomy::seed::order(&request).unwrap().value;
    assert_eq!(order.short[0].crop, "alfalfa");
}

proptest! {
    #[test]
    fn a_later_sowing_never_brings_anything_forward(days in 0..200_i32, shift in 0..60_i32) {
        let day = |n: i32| SOW.saturating_add(jiff::ToSpan::days(n));
        let steps = |sow_on| plan(&choices(&[("alfalfa", 18.0)], sow_on), &Facts::default(), day(-100)).steps;
        for (early, late) in steps(day(days)).iter().zip(steps(day(days + shift))) {
            prop_assert!(late.from >= early.from && late.to >= early.to);
            prop_assert!(early.from <= early.to);
        }
    }
}

#[rstest]
#[case("tilled", 35, "Firm until a boot hardly marks it")]
#[case(
    "no-till",
    28,
    "Kill sod or weeds 1–4 weeks ahead so you drill into dead cover; follow the label. Spread residue evenly and leave no trench."
)]
#[case("tilled-then-no-till-drill", 35, "no-till drill")]
fn a_school_moves_the_seedbed_and_says_why(#[case] school: &str, #[case] days: i32, #[case] why: &str) {
    let choices = Choices { practice: school.into(), ..choices(&[("alfalfa", 18.0)], SOW) };
    let plan = plan(&choices, &Facts::default(), date(2026, 1, 1));
    let prepare = step(&plan, "prepare");
    assert_eq!(prepare.from, SOW.saturating_sub(jiff::ToSpan::days(days)));
    assert!(prepare.reasons.iter().any(|reason| reason.text.contains(why)), "{:?}", prepare.reasons);
}

#[test]
fn every_step_gives_its_reason_and_its_source() {
    let plan = plan(&choices(&[("switchgrass", 6.0), ("big-bluestem", 5.0)], SOW), &Facts::default(), SOW);
    for step in &plan.steps {
        assert!(!step.reasons.is_empty(), "{:?}", step.step);
        assert!(step.reasons.iter().all(|reason| !reason.source.citation.is_empty()));
    }
    // Warm-season seed waits for the soil.
    assert!(
        step(&plan, "sow")
            .reasons
            .iter()
            .any(|reason| reason.text.told(Some(System::Us.into())).contains("°F at seeding depth"))
    );
}

/// What a measurement would replace is named, and no more of it once it was measured.
#[rstest]
#[case::to_sow_without_weather(false, false, 2)]
#[case::to_sow_by_the_odds(false, true, 1)]
#[case::sown(true, false, 1)]
fn what_is_assumed_is_named(#[case] sown: bool, #[case] odds: bool, #[case] many: usize) {
    let on_stand = if sown { vec![ink(1, "sow", SOW)] } else { vec![] };
    let sowing = odds.then(|| even_odds("spring"));
    let plan = plan(&choices(&[("alfalfa", 18.0)], SOW), &Facts { on_stand, sowing, ..Facts::default() }, SOW);
    assert_eq!(plan.assumed.len(), many, "{:?}", plan.assumed);
    let day = plan
        .assumed
        .iter()
        .any(|one| one.contains("Sowing day as you set it; there are no weather years to work out odds."));
    assert_eq!(day, !sown && !odds);
}

#[rstest]
#[case(&[("forage-oats", 96.0)], true)]
#[case(&[("forage-oats", 60.0), ("red-clover", 8.0)], false)]
fn only_annuals_alone_come_to_an_end(#[case] crops: &[(&str, f64)], #[case] ends: bool) {
    let plan = plan(&choices(crops, SOW), &Facts::default(), date(2026, 4, 1));
    assert_eq!(plan.until.is_some(), ends);
}

#[test]
fn the_first_of_two_sowings_counts_whatever_their_order() {
    let choices = choices(&[("alfalfa", 18.0)], SOW);
    let (a, b) = (ink(1, "sow", date(2026, 5, 2)), ink(2, "sow", date(2026, 5, 9)));
    let one = plan(&choices, &Facts { on_stand: vec![a.clone(), b.clone()], ..Facts::default() }, SOW);
    let other = plan(&choices, &Facts { on_stand: vec![b, a], ..Facts::default() }, SOW);
    assert_eq!(one, other);
    // The second is not lost: it stands beside the first as done beyond the plan.
    let sowings: Vec<_> = one.steps.iter().filter(|step| step.step == "sow").collect();
    assert_eq!((sowings.len(), sowings[1].from_where, sowings[1].occurrence), (2, From::Record, 2));
    assert_eq!(one.sown_on, date(2026, 5, 2));
}

#[test]
fn a_step_left_out_is_passed_over_not_done() {
    let choices = choices(&[("alfalfa", 18.0)], SOW);
    let facts = Facts { on_stand: vec![ink(1, "count", date(2026, 7, 1))], ..Facts::default() };
    let plan = plan(&choices, &facts, date(2026, 7, 2));
    assert_eq!(step(&plan, "first-look").state, State::Passed);
    assert_eq!(step(&plan, "calibrate").state, State::Passed);
    assert!(!plan.sown, "a count without a sowing is no sowing");
}

/// South of the equator nothing is said by month: the same choices half a year on give the same
/// plan half a year on.
#[test]
fn no_rule_knows_a_month() {
    let north = plan(&choices(&[("alfalfa", 18.0)], date(2026, 4, 20)), &Facts::default(), date(2026, 4, 1));
    let south = plan(&choices(&[("alfalfa", 18.0)], date(2026, 10, 21)), &Facts::default(), date(2026, 10, 2));
    for (a, b) in north.steps.iter().zip(&south.steps) {
        assert_eq!((b.from - a.from).get_days(), (b.to - a.to).get_days());
        assert_eq!(a.state, b.state);
    }
}

const OPERATIONS: [&str; 6] = ["order-seed", "prepare", "calibrate", "sow", "first-look", "count"];

proptest! {
    /// A plan is a function: inking in any order, asking twice, gives the same steps; a step is in
    /// one standing, its window runs forward, what is done names its entry, and no entry is lost.
    #[test]
    fn any_history_gives_a_whole_plan(history in proptest::collection::vec((0..6_usize, -60..120_i32), 0..12), today in -90..200_i32) {
        let day = |n: i32| SOW.saturating_add(jiff::ToSpan::days(n));
        let mut inked: Vec<_> = history
            .iter()
            .enumerate()
            .map(|(index, (which, on))| ink(index as u128, OPERATIONS[*which], day(*on)))
            .collect();
        let choices = choices(&[("alfalfa", 12.0), ("timothy", 3.0)], SOW);
        let one = plan(&choices, &Facts { on_stand: inked.clone(), ..Facts::default() }, day(today));
        inked.reverse();
        let two = plan(&choices, &Facts { on_stand: inked.clone(), ..Facts::default() }, day(today));
        prop_assert_eq!(&one, &two);
        // Whatever was done, the practice asks for no step more and none less.
        let asked = |plan: &Plan| plan.steps.iter().filter(|step| step.from_where == From::Practice).count();
        prop_assert_eq!(asked(&one), asked(&plan(&choices, &Facts::default(), day(today))));
        let mut told: Vec<Uuid> = one.steps.iter().filter_map(|step| step.inked()).map(|(entry, _)| entry).collect();
        told.sort();
        let mut all: Vec<Uuid> = inked.iter().map(|ink| ink.entry).collect();
        all.sort();
        prop_assert_eq!(told, all);
        for step in &one.steps {
            prop_assert!(step.from <= step.to);
            if let Some((entry, on)) = step.inked() {
                prop_assert!(inked.iter().any(|ink| ink.entry == entry && ink.on == on && ink.operation == step.look.operation));
            }
            if let State::Blocked { by } = &step.state {
                prop_assert!(by.iter().all(|one| one.step.as_ref().is_none_or(|key| step.after.contains(key))));
            }
        }
    }
}

/// What was carried off before a stand was sown, or on the very day, was of what stood there before; a field is cut as its
/// stand's own only from then on. Nothing is taken off a stand that is not sown yet.
#[rstest]
#[case::sown(true, &[date(2026, 9, 20)])]
#[case::not_sown_yet(false, &[])]
fn what_was_cut_before_it_was_sown_is_of_another_stand(#[case] sown: bool, #[case] own: &[Date]) {
    let cuts = [date(2026, 4, 1), date(2026, 5, 19), date(2026, 5, 20), date(2026, 9, 20)];
    let facts = Facts {
        on_stand: if sown { vec![ink(9, "sow", SOW)] } else { vec![] },
        on_ground: (1..).zip(cuts).map(|(entry, on)| ink(entry, "cut", on)).collect(),
        succession: alone(date(2026, 3, 1), sown.then_some(SOW)),
        ..Facts::default()
    };
    let of = |facts: &Facts| plan(&choices(&[("alfalfa", 18.0)], SOW), facts, date(2026, 10, 1)).steps;
    let done = |step: &Step| match &step.state {
        State::Done { on, .. } if step.step == "cut" => Some(*on),
        _ => None,
    };
    assert_eq!(of(&facts).iter().filter_map(done).collect::<Vec<_>>(), own);
    // Work on the ground is the stand's from the day it was decided, sown or not.
    let limed = Facts { on_ground: vec![ink(1, "lime", date(2026, 3, 10))], ..facts };
    assert!(of(&limed).iter().any(|step| step.step == "lime" && matches!(step.state, State::Done { .. })));
}

/// Of two stands, one decided on while the other stands, each has its own cuts and its own work, and no cut is lost
/// between them. What says whose step it closes is of that stand, whatever its day.
#[test]
fn each_stand_of_a_field_has_its_own_work() {
    let [old, new] = [Uuid::from_u128(1), Uuid::from_u128(2)];
    let (sown, decided, next) = (date(2024, 5, 10), date(2026, 3, 1), date(2026, 8, 14));
    let succession: Succession = [
        Tenure { stand: old, decided: Some(date(2024, 1, 10)), sown: Some(sown) },
        Tenure { stand: new, decided: Some(decided), sown: Some(next) },
    ]
    .into_iter()
    .collect();
    let of_old = |n, operation: &str, on| Operation {
        closes: Some(Closes { stand: old, step: operation.into(), season: None, occurrence: None }),
        ..ink(n, operation, on)
    };
    let on_ground = vec![
        ink(11, "cut", date(2025, 6, 1)),
        // The next stand is decided on, and the old one is cut on until that is sown.
        ink(12, "cut", date(2026, 6, 1)),
        ink(13, "dress", date(2026, 6, 3)),
        of_old(14, "dress", date(2026, 6, 4)),
        ink(15, "cut", next),
        ink(16, "cut", date(2027, 6, 1)),
        of_old(17, "cut", date(2026, 8, 20)),
    ];
    let taken = |stand: Uuid, sown: Date| {
        let choices = choices(&[("alfalfa", 18.0)], sown);
        let (on_stand, on_ground) = (vec![ink(9, "sow", sown)], on_ground.clone());
        let facts = Facts { stand, succession: succession.clone(), on_stand, on_ground, ..Facts::default() };
        let plan = plan(&choices, &facts, date(2027, 7, 1));
        let mut entries: Vec<u128> =
            plan.steps.iter().filter_map(|step| Some(step.inked()?.0.as_u128())).filter(|entry| *entry > 10).collect();
        entries.sort_unstable();
        entries
    };
    assert_eq!(taken(old, sown), [11, 12, 14, 15, 17]);
    // What was spread for the old one is in the ground of the new one as well.
    assert_eq!(taken(new, next), [13, 14, 16]);
}

/// A step whose time was over before the stand was decided was never possible then: it is asked for from that day on, and
/// says so. Decided in time and left undone it is overdue; what lay behind a stand that was told of after its sowing is
/// left out.
#[rstest]
#[case::decided_late("sample-soil", date(2026, 2, 14), None, (date(2026, 2, 14), date(2026, 5, 19)), State::Ready, true)]
#[case::in_time("sample-soil", date(2025, 6, 1), None, (date(2025, 5, 20), date(2025, 11, 18)), State::Overdue, false)]
#[case::on_its_last_day("sample-soil", date(2025, 11, 18), None, (date(2025, 5, 20), date(2025, 11, 18)), State::Overdue, false)]
#[case::told_of_later("first-look", date(2026, 9, 1), Some(SOW), (date(2026, 9, 1), date(2026, 9, 1)), State::Passed, true)]
fn a_time_that_was_over_is_no_reproach(
    #[case] key: &str,
    #[case] decided: Date,
    #[case] sown: Option<Date>,
    #[case] window: (Date, Date),
    #[case] state: State,
    #[case] says: bool,
) {
    let today = if sown.is_some() { date(2026, 10, 1) } else { date(2026, 3, 1) };
    let on_stand = sown.map(|on| ink(1, "sow", on)).into_iter().collect();
    let facts = Facts { on_stand, succession: alone(decided, sown), ..Facts::default() };
    let plan = plan(&choices(&[("alfalfa", 18.0)], SOW), &facts, today);
    let step = step(&plan, key);
    assert_eq!((step.from, step.to, &step.state), (window.0, window.1, &state));
    let told = step.reasons[0].text.told(Some(System::Us.into()));
    assert_eq!(told.starts_with("The usual time ended on"), says, "{told}");
}

/// Seed that sleeps through a winter is looked for when it is warm, not a fortnight after it was sown.
#[rstest]
#[case::dormant("switchgrass", Some("dormant"), date(2026, 10, 14), date(2027, 4, 10))]
#[case::after_the_last_growth("orchardgrass", None, date(2026, 11, 5), date(2027, 4, 10))]
#[case::frost_seeded("red-clover", Some("frost-seeding"), date(2026, 3, 21), date(2026, 4, 10))]
#[case::in_summer("alfalfa", None, date(2026, 8, 12), date(2026, 8, 12))]
#[case::in_autumn_while_it_grows("orchardgrass", None, date(2026, 9, 10), date(2026, 9, 10))]
fn the_first_look_waits_for_warmth(
    #[case] crop: &str,
    #[case] timing: Option<&str>,
    #[case] sown: Date,
    #[case] counted_from: Date,
) {
    use agronomy::weather::usual_year::UsualYear;

    let choices = Choices { timing: timing.map(str::to_owned), ..choices(&[(crop, 10.0)], sown) };
    // Green-up on the 10th of April, the killing frost on the 12th of October.
    let usual = Some(UsualYear { green_up: Some(99), frost: Some(284) });
    let uses = Uses { from: vec![], year_start: Some(date(2026, 1, 1)), usual };
    let facts = Facts { on_stand: vec![ink(1, "sow", sown)], uses, ..Facts::default() };
    let told = plan(&choices, &facts, sown);
    let days = agronomy::crop::library().crop(crop).unwrap().establish.first_look.low;
    assert_eq!(step(&told, "first-look").from, counted_from.saturating_add(days.days()));
    // Nobody knows the weather: by the calendar.
    let facts = Facts { on_stand: vec![ink(1, "sow", sown)], ..Facts::default() };
    assert_eq!(step(&plan(&choices, &facts, sown), "first-look").from, sown.saturating_add(days.days()));
}
