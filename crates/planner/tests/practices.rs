//! Practices expanded: repeats, conditions, steps of the person's own, graphs that know no order of words.

use agronomy::{
    practice::{operation, operations, practices},
    units::{Length, Unit},
};
use jiff::{
    ToSpan,
    civil::{Date, date},
};
use planner::*;
use proptest::prelude::*;
use records::{
    Choices, Cover, Extra, KINDS, PlantsChoice,
    book::{Operation, Seen},
    check, kind,
};
use rstest::rstest;
use uuid::Uuid;

use crate::common::{choices, ink, inked_for, step};

const SOW: Date = date(2026, 8, 20);

fn sod() -> Choices {
    Choices { practice: "sod-killed-twice".into(), ..choices(&[("orchardgrass", 10.0), ("white-clover", 2.0)], SOW) }
}

fn tall_weeds(on: Date) -> Seen {
    Seen { weeds: Some((on, Length::new(8.0, Unit::In))), ..Seen::default() }
}

fn times<'a>(plan: &'a Plan, key: &str) -> Vec<&'a Step> {
    plan.steps.iter().filter(|step| step.step == key).collect()
}

#[test]
fn an_operation_comes_as_often_as_its_practice_says() {
    let plan = plan(&sod(), &Facts::default(), date(2026, 5, 1));
    let sprays = times(&plan, "spray");
    assert_eq!(sprays.iter().map(|step| (step.occurrence, step.times)).collect::<Vec<_>>(), [(1, 2), (2, 2)]);
    assert_eq!((sprays[1].from - sprays[0].from).get_days(), 28);
    assert_eq!(times(&plan, "scout").len(), 3);
    assert_eq!(sprays[0].record, "spray");
    assert!(sprays[0].cautions.iter().any(|caution| caution.key == "spray-label"));
}

/// Wherever fire is named as a way, its caution stands beside it: fire in grass has killed.
#[test]
fn fire_is_never_named_without_its_caution() {
    let names_fire =
        |text: &str| text.split(|letter: char| !letter.is_alphabetic()).any(|word| word == "burn" || word == "fire");
    let mut named = 0;
    for practice in practices() {
        for step in &practice.steps {
            let told = step.reasons.iter().any(|reason| names_fire(&reason.text));
            named += usize::from(told);
            let own = &operation(&step.operation).unwrap().cautions;
            let cautioned = step.cautions.iter().chain(own).any(|key| key == "prescribed-fire");
            assert!(!told || cautioned, "{}: {}", practice.key, step.key);
        }
    }
    assert!(named > 0);
}

/// What throws, crushes or bloats says so where it is done.
#[rstest]
#[case("mow", "mower")]
#[case("cut", "mower")]
#[case("sow", "blocked-drill")]
fn machines_carry_their_caution(#[case] key: &str, #[case] caution: &str) {
    assert!(operation(key).unwrap().cautions.iter().any(|one| one == caution));
}

#[test]
fn each_time_is_closed_by_its_own_record_and_moves_the_next() {
    let first = ink(1, "spray", date(2026, 6, 25));
    let facts = |on_stand: Vec<Operation>| Facts { on_stand, seen: tall_weeds(date(2026, 6, 20)), ..Facts::default() };
    let late = plan(&sod(), &facts(vec![first.clone()]), date(2026, 7, 1));
    let sprays = times(&late, "spray");
    assert_eq!(sprays[0].inked(), Some((Uuid::from_u128(1), date(2026, 6, 25))));
    // Four weeks after the one before, not after its plan.
    assert_eq!(sprays[1].from, date(2026, 7, 23));
    assert_eq!(sprays[1].state, State::Waiting);
    // A record that says it was the second is the second.
    let second = inked_for("spray", Some(2), ink(2, "spray", date(2026, 7, 25)));
    let told = plan(&sod(), &facts(vec![second]), date(2026, 7, 26));
    let sprays = times(&told, "spray");
    assert!(sprays[0].inked().is_none() && sprays[1].inked().is_some());
    // A third one is not lost.
    let third = [first, ink(2, "spray", date(2026, 7, 24)), ink(3, "spray", date(2026, 8, 10))];
    let told = plan(&sod(), &facts(third.to_vec()), date(2026, 8, 12));
    assert_eq!(times(&told, "spray").iter().filter(|step| step.inked().is_some()).count(), 3);
}

#[rstest]
#[case::nobody_looked(Seen::default(), Some("not checked"))]
#[case::too_short(Seen { weeds: Some((date(2026, 6, 14), Length::new(3.0, Unit::In))), ..Seen::default() }, Some("on 14 Jun 2026"))]
#[case::tall(tall_weeds(date(2026, 6, 14)), None)]
fn a_step_waits_for_what_has_to_be_seen(#[case] seen: Seen, #[case] waits: Option<&str>) {
    let plan = plan(&sod(), &Facts { seen, ..Facts::default() }, date(2026, 6, 15));
    match (&times(&plan, "spray")[0].state, waits) {
        (State::Ready, None) => {}
        (State::Blocked { by }, Some(words)) => assert!(by[0].words.contains(words), "{}", by[0].words),
        (state, _) => panic!("{state:?}"),
    }
}

/// The weather's conditions are the rules of the odds: what they say of today stands in the way or not.
#[rstest]
#[case(true)]
#[case(false)]
fn a_step_waits_for_the_weather(#[case] today: bool) {
    let weather = vec![WeatherHeld { step: "spray".into(), today, words: "mild temperatures".into() }];
    let facts = Facts { seen: tall_weeds(date(2026, 6, 14)), weather, ..Facts::default() };
    let plan = plan(&sod(), &facts, date(2026, 6, 15));
    assert_eq!(times(&plan, "spray")[0].state == State::Ready, today);
}

#[test]
fn a_step_of_ones_own_stands_beside_its_like_and_is_closed_by_name() {
    let extra = |key: &str, on| Extra { key: key.into(), operation: "spray".into(), on, why: Some("thistles".into()) };
    let choices = Choices {
        extra: vec![extra("thistles", date(2026, 6, 1)), extra("docks", date(2026, 7, 1))],
        ..choices(&[("alfalfa", 18.0)], SOW)
    };
    check(&choices, date(2026, 5, 1)).unwrap();
    let before = plan(&choices, &Facts::default(), date(2026, 6, 3));
    assert_eq!(step(&before, "thistles").state, State::Ready);
    assert_eq!(step(&before, "thistles").from_where, From::Person);
    let docks = inked_for("docks", None, ink(1, "spray", date(2026, 6, 20)));
    let facts = Facts { on_stand: vec![docks], ..Facts::default() };
    let after = plan(&choices, &facts, date(2026, 6, 21));
    assert!(step(&after, "docks").inked().is_some() && step(&after, "thistles").inked().is_none());
}

#[rstest]
#[case::practice(|choices: &mut Choices| choices.practice = "wishing".into(), "/practice")]
#[case::plants_only(|choices: &mut Choices| choices.practice = "".into(), "/practice")]
#[case::operation(|choices: &mut Choices| choices.extra[0].operation = "dance".into(), "/extra/0/operation")]
#[case::key(|choices: &mut Choices| choices.extra[0].key = "sow".into(), "/extra/0/key")]
#[case::nameless(|choices: &mut Choices| choices.extra[0].key = String::new(), "/extra/0/key")]
#[case::age(|choices: &mut Choices| choices.extra[0].on = date(2126, 1, 1), "/extra/0/on")]
#[case::many(|choices: &mut Choices| choices.extra = vec![choices.extra[0].clone(); 61], "/extra")]
fn steps_and_practices_that_cannot_be(#[case] spoil: fn(&mut Choices), #[case] pointer: &str) {
    let extra = Extra { key: "mine".into(), operation: "spray".into(), on: date(2026, 6, 1), why: None };
    let mut choices = Choices { extra: vec![extra], ..choices(&[("alfalfa", 18.0)], SOW) };
    check(&choices, date(2026, 5, 1)).unwrap();
    spoil(&mut choices);
    let refused = check(&choices, date(2026, 5, 1)).unwrap_err();
    assert!(refused.0.iter().any(|one| one.pointer == pointer), "{refused:?}");
}

/// Every practice of the library, at every age of a stand, gives a whole plan: its steps all have a look, a
/// reason and a record that some kind of entry answers to.
#[test]
fn every_practice_expands_on_every_day() {
    for school in practices() {
        let choices = Choices { practice: school.key.clone(), ..choices(&[("timothy", 8.0)], SOW) };
        for days in (-400..400).step_by(17) {
            let plan = plan(&choices, &Facts::default(), SOW.saturating_add(days.days()));
            assert!(plan.steps.iter().filter(|step| step.is_sowing()).count() == 1, "{}", school.key);
            for step in &plan.steps {
                assert!(step.from <= step.to && !step.reasons.is_empty() && !step.look.mark.is_empty(), "{step:?}");
                assert!(kind(&step.record).is_some(), "{step:?}");
            }
        }
    }
}

/// The words of operations are words of records.
#[test]
fn every_operation_is_inked_by_some_kind_of_record() {
    for one in operations() {
        assert!(KINDS.iter().any(|kind| kind.word == one.record), "{} by {}", one.key, one.record);
    }
    assert!(operation("sow").unwrap().role.is_some());
}

/// Common practice, no source: what each school asks, in which order and how far apart.
fn expanded(school: &str, crop: &str, sow_on: Date, today: Date) -> Plan {
    let choices = Choices { practice: school.into(), ..choices(&[(crop, 8.0)], sow_on) };
    check(&choices, today).unwrap();
    plan(&choices, &Facts::default(), today)
}

fn before(plan: &Plan, earlier: &str, later: &str) -> i32 {
    let first = |key: &str| times(plan, key).first().map(|step| step.from).unwrap_or_else(|| panic!("no {key}"));
    (first(later) - first(earlier)).get_days()
}

/// Old sod to natives: cleared and killed the year before, killed again in the sowing year.
#[test]
fn set_aside_is_begun_a_year_ahead() {
    let plan = expanded("set-aside-cleared", "switchgrass", date(2027, 5, 20), date(2026, 3, 1));
    assert!(before(&plan, "clear", "sow") >= 330, "{}", before(&plan, "clear", "sow"));
    assert!(before(&plan, "clear", "kill") > 0 && before(&plan, "kill", "kill-again") >= 200);
    assert!((5..=60).contains(&before(&plan, "kill-again", "sow")));
}

/// Without a drill or tillage: the second spray about four weeks after the first, sowing five days after it at the least.
#[test]
fn thatch_is_killed_twice_and_sown_onto() {
    let pencil = expanded("killed-thatch-broadcast", "switchgrass", SOW, date(2026, 5, 1));
    let sprays = times(&pencil, "spray");
    assert_eq!((sprays[1].from - sprays[0].from).get_days(), 28);
    assert!(before(&pencil, "spray", "sow") >= 33);
    let first = ink(1, "spray", date(2026, 7, 15));
    let second = ink(2, "spray", date(2026, 8, 18));
    let choices = Choices { practice: "killed-thatch-broadcast".into(), ..choices(&[("switchgrass", 8.0)], SOW) };
    let done = |today| {
        let prepared = ink(3, "prepare", date(2026, 8, 18));
        let ordered = ink(4, "order-seed", date(2026, 7, 1));
        let facts = Facts { on_stand: vec![first.clone(), second.clone(), prepared, ordered], ..Facts::default() };
        plan(&choices, &facts, today)
    };
    let sowing = |plan: &Plan| times(plan, "sow")[0].state.clone();
    let State::Blocked { by } = sowing(&done(date(2026, 8, 20))) else { panic!("two days after a spray") };
    assert!(by.iter().any(|one| one.words.contains("5") || one.words.contains("five")), "{by:?}");
    assert_eq!(sowing(&done(date(2026, 8, 23))), State::Ready);
}

/// A companion is sown with the stand and taken off early; a legume goes into grass that sleeps, which is held back when
/// it wakes; tropical sod is grazed down, killed on its regrowth, and drilled a fortnight after.
#[test]
fn schools_that_share_the_ground_with_another_crop() {
    let plan = expanded("companion-crop", "alfalfa", date(2027, 4, 20), date(2026, 5, 1));
    assert!((0..=1).contains(&before(&plan, "sow", "companion")));
    assert!((50..=80).contains(&before(&plan, "companion", "take-off")));
    let plan = expanded("into-dormant-grass", "alfalfa", date(2026, 10, 20), date(2026, 3, 1));
    assert!(before(&plan, "set-back", "sow") >= 21);
    assert!(before(&plan, "sow", "hold-back") >= 100);
    assert!(plan.steps.iter().all(|step| !["spray", "prepare"].contains(&step.look.operation.as_str())));
    let oats = date(2027, 3, 20);
    let plan = expanded("sod-cleared-for-annual", "forage-oats", oats, date(2026, 9, 1));
    assert!(before(&plan, "set-back", "spray") >= 21);
    assert!(before(&plan, "spray", "sow") >= 25);
    let choices = Choices { practice: "sod-cleared-for-annual".into(), ..choices(&[("forage-oats", 60.0)], oats) };
    let facts = |sprayed: Date| {
        let ready = ["order-seed", "calibrate", "set-back"].iter().zip(2..);
        let mut on_stand: Vec<Operation> = ready.map(|(key, n)| ink(n, key, date(2027, 3, 1))).collect();
        on_stand.push(ink(1, "spray", sprayed));
        Facts { on_stand, ..Facts::default() }
    };
    let plan_of = planner::plan;
    let sowing = |sprayed| times(&plan_of(&choices, &facts(sprayed), oats), "sow")[0].state.clone();
    assert!(matches!(sowing(date(2027, 3, 10)), State::Blocked { .. }));
    assert_eq!(sowing(date(2027, 3, 1)), State::Ready);
}

/// Rows of plants are pressed in at once, and weeded at thirty and at forty-five days.
#[test]
fn rows_of_plants_are_pressed_in_and_weeded() {
    let plants = records::PlantsChoice {
        crop: "giant-miscanthus".into(),
        row_spacing: None,
        in_row: None,
        pieces_per_station: None,
    };
    let choices = Choices {
        practice: "rows-of-plants".into(),
        cover: records::Cover::Plants { plants },
        ..choices(&[("alfalfa", 8.0)], date(2027, 5, 10))
    };
    check(&choices, date(2026, 6, 1)).unwrap();
    let plan = plan(&choices, &Facts::default(), date(2026, 6, 1));
    assert!((0..=2).contains(&before(&plan, "sow", "roll")));
    let weeded: Vec<i32> = times(&plan, "weed").iter().map(|step| (step.from - date(2027, 5, 10)).get_days()).collect();
    assert_eq!(weeded, [30, 45]);
    // A legume between them comes once they have rooted.
    let between = Choices { practice: "rows-with-legume".into(), ..choices.clone() };
    let between = planner::plan(&between, &Facts::default(), date(2026, 6, 1));
    assert!((20..=45).contains(&before(&between, "sow", "companion")));
    // Seed is not sown that way.
    let seed = Choices { cover: super::common::choices(&[("alfalfa", 8.0)], SOW).cover, ..choices };
    assert!(check(&seed, date(2026, 6, 1)).is_err());
}

/// Common practice: rolled before sowing and after it. What was rolled before is not the rolling after.
#[test]
fn a_tilled_bed_is_rolled_before_and_after() {
    let early = expanded("tilled", "alfalfa", SOW, date(2026, 5, 1));
    assert!((0..=2).contains(&before(&early, "sow", "roll-after")));
    let choices = choices(&[("alfalfa", 15.0)], SOW);
    let before = ink(1, "roll", SOW.saturating_sub(2.days()));
    let after = ink(3, "roll", SOW);
    let rolled = |work: &[&Operation]| {
        let mut on_stand = vec![ink(2, "sow", SOW)];
        on_stand.extend(work.iter().map(|one| (*one).clone()));
        let told = plan(&choices, &Facts { on_stand, ..Facts::default() }, SOW.saturating_add(1.day()));
        times(&told, "roll-after")[0].inked()
    };
    assert_eq!(rolled(&[&before]), None);
    assert_eq!(rolled(&[&before, &after]), Some((Uuid::from_u128(3), SOW)));
}

/// A residual spray over the new seed, and another before the second green-up: warm-season grasses alone, which sleep then.
#[rstest]
#[case("killed-thatch-broadcast")]
#[case("drilled-under-residual")]
fn natives_are_kept_clean_into_their_second_spring(#[case] school: &str) {
    let natives = expanded(school, "switchgrass", date(2027, 5, 20), date(2026, 6, 1));
    assert!((0..=3).contains(&before(&natives, "sow", "residual")));
    assert!((270..=390).contains(&before(&natives, "sow", "second-spring")));
    assert!(times(&natives, "residual")[0].cautions.iter().any(|caution| caution.key == "spray-label"));
    // Alfalfa is green by then, and no label allows it.
    let alfalfa = expanded(school, "alfalfa", date(2027, 4, 20), date(2026, 6, 1));
    assert!(times(&alfalfa, "residual").is_empty() && times(&alfalfa, "second-spring").is_empty());
}

/// Old pasture: sprayed, a brassica drilled and grazed off, and the new stand drilled into what is left.
#[test]
fn a_break_crop_can_be_grazed_off_and_drilled_into() {
    let plan = expanded("grazed-break-crop", "perennial-ryegrass", date(2026, 8, 25), date(2026, 1, 10));
    assert!(before(&plan, "kill", "break-crop") >= 0 && before(&plan, "break-crop", "graze-off") >= 60);
    assert!(before(&plan, "graze-off", "sow") >= 14);
    let grazed = times(&plan, "graze-off");
    assert!(grazed[0].cautions.iter().any(|caution| caution.key == "brassica"));
}

/// Old grass is set back in whichever of four ways the farm has.
#[rstest]
#[case("set-back")]
#[case("mow")]
#[case("prepare")]
#[case("spray")]
fn a_sward_is_set_back_in_four_ways(#[case] way: &str) {
    let sow_on = date(2027, 3, 5);
    let choices = Choices { practice: "overseeded".into(), ..choices(&[("red-clover", 10.0)], sow_on) };
    let facts = Facts { on_stand: vec![ink(1, way, date(2027, 2, 10))], ..Facts::default() };
    let plan = plan(&choices, &facts, date(2027, 2, 12));
    assert_eq!(times(&plan, "set-back")[0].inked(), Some((Uuid::from_u128(1), date(2027, 2, 10))));
}

/// Where fire is to keep it, its lanes are laid out with the sowing; nobody else is asked for them.
#[test]
fn fire_lanes_are_laid_out_where_fire_keeps_the_stand() {
    let natives = Choices { practice: "no-till".into(), ..choices(&[("big-bluestem", 8.0)], date(2027, 5, 20)) };
    let lanes = |regime: Option<&str>| {
        let choices = Choices { regime: regime.map(str::to_owned), ..natives.clone() };
        times(&plan(&choices, &Facts::default(), date(2026, 6, 1)), "fire-lane").len()
    };
    assert_eq!((lanes(Some("kept-by-fire")), lanes(Some("kept-mown")), lanes(None)), (1, 0, 0));
}

#[test]
fn a_break_crop_takes_two_years() {
    let plan = expanded("break-crop", "timothy", date(2028, 8, 20), date(2026, 5, 1));
    let crops = times(&plan, "break-crop");
    assert_eq!(crops.len(), 2);
    assert!((crops[1].from - crops[0].from).get_days() >= 330);
    assert!(before(&plan, "break-crop", "sow") >= 690);
}

/// A thin sward is set back before it is sown into, trodden, and held back after.
#[test]
fn an_overseeding_is_held_back_on_both_sides() {
    let plan = expanded("overseeded", "red-clover", date(2027, 3, 5), date(2026, 10, 1));
    assert!(before(&plan, "set-back", "sow") >= 7);
    assert!((0..=5).contains(&before(&plan, "sow", "tread")));
    assert!(before(&plan, "sow", "hold-back") >= 25);
    assert!(plan.steps.iter().all(|step| step.look.operation != "spray"));
}

/// Cuttings and small plots are weeded by hand at thirty and at forty-five days; nothing synthetic is in the plan.
#[rstest]
#[case("by-hand")]
#[case("no-synthetics")]
fn without_synthetics(#[case] school: &str) {
    let plan = expanded(school, "red-clover", SOW, date(2026, 5, 1));
    assert!(plan.steps.iter().all(|step| step.look.operation != "spray"), "{school}");
    if school == "by-hand" {
        let weeded: Vec<i32> = times(&plan, "weed").iter().map(|step| (step.from - SOW).get_days()).collect();
        assert_eq!(weeded, [30, 45]);
    } else {
        assert!(before(&plan, "prepare", "flush") >= 14 && times(&plan, "flush").len() == 2);
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(96))]
    /// Of any school, with any work in ink, asked on any day: what is in ink stands where it happened and once, windows run
    /// forward, no step begins before what it comes after, and a struck record is as one that never was.
    #[test]
    fn any_school_with_any_history(
        school in 0_usize..64,
        picked in proptest::collection::vec((0_usize..64, -500..60_i32), 0..10),
        asked in -400..120_i32,
        struck in 0_usize..10,
    ) {
        let school = &practices()[school % practices().len()];
        let plants = school.situation == agronomy::practice::Situation::Plants;
        let cover = match plants {
            true => Cover::Plants {
                plants: PlantsChoice { crop: "giant-miscanthus".into(), row_spacing: None, in_row: None, pieces_per_station: None },
            },
            false => choices(&[("switchgrass", 8.0)], SOW).cover,
        };
        let choices = Choices { practice: school.key.clone(), cover, ..choices(&[("switchgrass", 8.0)], SOW) };
        let today = SOW.saturating_add(asked.days());
        let done: Vec<Operation> = picked
            .iter()
            .zip(1..)
            .map(|((which, days), n)| {
                let step = &school.steps[which % school.steps.len()];
                let on = SOW.saturating_add(days.days()).min(today);
                inked_for(&step.key, None, ink(n, &step.operation, on))
            })
            .collect();
        let told = plan(&choices, &Facts { on_stand: done.clone(), ..Facts::default() }, today);
        for step in &told.steps {
            prop_assert!(step.from <= step.to, "{} runs backwards", step.step);
            if let Some((entry, on)) = step.inked() {
                let one = done.iter().find(|one| one.entry == entry);
                prop_assert_eq!(one.map(|one| one.on), Some(on), "{} moved in ink", step.step);
            }
            for before in &step.after {
                prop_assert!(told.steps.iter().any(|other| other.step == *before), "{} after nothing", step.step);
            }
        }
        for one in &done {
            let times = told.steps.iter().filter(|step| step.inked().is_some_and(|(entry, _)| entry == one.entry)).count();
            prop_assert!(times <= 1, "{} in ink {} times", one.operation, times);
        }
        // In pencil alone, nothing begins before what it comes after.
        let pencil = plan(&choices, &Facts::default(), today);
        for step in &pencil.steps {
            for before in &step.after {
                let first = pencil.steps.iter().find(|other| other.step == *before).map(|other| other.from);
                prop_assert!(first.is_some_and(|first| first <= step.to), "{} before {}", step.step, before);
            }
        }
        if let Some(one) = done.get(struck) {
            let strike = |all: &[Operation]| -> Vec<Operation> {
                all.iter().map(|other| Operation { struck: other.entry == one.entry, ..other.clone() }).collect()
            };
            let without: Vec<Operation> = done.iter().filter(|other| other.entry != one.entry).cloned().collect();
            let with_strike = plan(&choices, &Facts { on_stand: strike(&done), ..Facts::default() }, today);
            prop_assert_eq!(with_strike, plan(&choices, &Facts { on_stand: without, ..Facts::default() }, today));
        }
    }
}

/// In no-till the bed is made by what kills the old sod: the spray that does it closes the step, and so does work that
/// was recorded as preparing the seedbed.
#[rstest::rstest]
#[case("spray", true)]
#[case("prepare", true)]
#[case("set-back", true)]
#[case("roll", false)]
fn the_spray_that_kills_the_sod_makes_the_bed(#[case] operation: &str, #[case] closes: bool) {
    use jiff::civil::date;
    let choices = records::Choices {
        practice: "no-till".into(),
        ..crate::common::choices(&[("alfalfa", 15.0)], date(2026, 5, 20))
    };
    let told = |done: Vec<records::book::Operation>| {
        let facts = planner::Facts { on_stand: done, ..planner::Facts::default() };
        planner::plan(&choices, &facts, date(2026, 5, 10))
    };
    let open = told(vec![]);
    assert_eq!(crate::common::step(&open, "prepare").title, "Kill the old sod");
    let done = told(vec![crate::common::ink(1, operation, date(2026, 5, 4))]);
    assert_eq!(crate::common::step(&done, "prepare").inked().is_some(), closes);
    if closes {
        assert_eq!(crate::common::step(&done, "prepare").look.operation, operation);
    }
}
