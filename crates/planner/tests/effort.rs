//! Hours of a step by the farm's machines, and machines wanted by several stands at once.

use agronomy::{
    machine::MachineKind,
    units::{Area, Fraction, Length, Speed, Unit},
};
use jiff::{
    ToSpan,
    civil::{Date, date},
};
use planner::{Facts, Plan, StepOdds, effort::*, plan};
use records::{Choices, kinds::machine::MachineFacts};
use rstest::rstest;
use uuid::Uuid;

use crate::common::{choices, even_odds, ink};

const TODAY: Date = date(2026, 8, 10);

fn machine(kind: MachineKind, feet: Option<f64>) -> MachineFacts {
    MachineFacts {
        name: "m".into(),
        machine: kind,
        width: feet.map(|feet| Length::new(feet, Unit::Ft)),
        row_spacing: None,
        speed: Some(Speed::new(5.0, Unit::Mph)),
        efficiency: Some(Fraction::percent(80.0)),
        tank: None,
        filling: None,
        cost: None,
        note: String::new(),
        gone: false,
    }
}

/// All done but the sowing, so that it alone presses.
fn to_sow(on: Date) -> Plan {
    let done = ["sample-soil", "order-seed", "prepare", "calibrate"];
    let on_stand = done.iter().zip(1..).map(|(key, n)| ink(n, key, TODAY.saturating_sub(5.days()))).collect();
    let choices = Choices { sow_on: on, ..choices(&[("alfalfa", 15.0)], on) };
    plan(&choices, &Facts { on_stand, ..Facts::default() }, TODAY)
}

fn work<'a>(n: u128, name: &'a str, acres: f64, plan: &'a Plan) -> Work<'a> {
    let area = Area::new(acres, Unit::Ac);
    Work { field: Uuid::from_u128(n), name, stand: Uuid::from_u128(n), area, broadcast: false, plants: false, plan }
}

/// ASABE EP496.3: 5 mph × 30 ft × 0.80 ÷ 8.25 is 14.5 ac an hour, so that 40 acres take 2.75 h.
#[test]
fn hours_follow_from_field_capacity() {
    let drill = machine(MachineKind::Drill, Some(30.0));
    let hours = hours(&drill, Area::new(40.0, Unit::Ac)).unwrap().to(Unit::H);
    assert!((hours - 2.75).abs() < 1e-9, "{hours}");
    assert!(hours_of(&machine(MachineKind::Drill, None)).is_none());
}

fn hours_of(machine: &MachineFacts) -> Option<f64> {
    hours(machine, Area::new(40.0, Unit::Ac)).map(|hours| hours.to(Unit::H))
}

#[test]
fn two_sowings_of_one_week_want_one_drill() {
    let (first, second) = (to_sow(date(2026, 8, 12)), to_sow(date(2026, 8, 15)));
    let drill = machine(MachineKind::Drill, Some(10.0));
    let all = [work(1, "Larkin", 30.0, &first), work(2, "Chapel", 20.0, &second)];
    let found = clashes(&all, &[&drill], TODAY);
    assert_eq!(found.len(), 1);
    let clash = &found[0];
    assert_eq!((clash.machine.as_str(), clash.of, clash.wanted.len()), ("drill", 1, 2));
    assert_eq!((clash.from, clash.to), (date(2026, 8, 12), date(2026, 8, 21)));
    // 50 ac at 10 ft: 5 × 10 × 0.8 ÷ 8.25 = 4.848 ac/h.
    assert!((clash.hours.unwrap().to(Unit::H) - 50.0 / (400.0 / 82.5)).abs() < 1e-6);
    assert!(!clash.tight);
    // A month apart they want nothing of each other.
    let later = to_sow(date(2026, 9, 20));
    assert!(clashes(&[all[0], work(2, "Chapel", 20.0, &later)], &[&drill], TODAY).is_empty());
    // Without a drill there is none to want; one that is gone is none.
    assert!(clashes(&all, &[], TODAY).is_empty());
    assert!(clashes(&all, &[&MachineFacts { gone: true, ..drill.clone() }], TODAY).is_empty());
}

#[rstest]
#[case::one(1, true)]
#[case::two(2, false)]
fn it_is_tight_where_there_is_less_room_than_work(#[case] drills: usize, #[case] tight: bool) {
    let (first, second) = (to_sow(date(2026, 8, 12)), to_sow(date(2026, 8, 12)));
    // Two fields of 150 ac at 4.848 ac/h: 62 h, in seven days of which half are fit.
    let all = [work(1, "Larkin", 150.0, &first), work(2, "Chapel", 150.0, &second)];
    let own = vec![machine(MachineKind::Drill, Some(10.0)); drills];
    let found = clashes(&all, &own.iter().collect::<Vec<_>>(), TODAY);
    assert_eq!(found[0].tight, tight, "{:?} of {:?}", found[0].hours, found[0].room);
}

#[test]
fn the_one_that_waits_worst_comes_first() {
    let mut plans = [to_sow(date(2026, 8, 12)), to_sow(date(2026, 8, 13))];
    for (plan, in_a_week) in plans.iter_mut().zip([0.7, 0.3]) {
        let sowing = plan.steps.iter_mut().find(|step| step.is_sowing()).unwrap();
        sowing.odds = Some(StepOdds { in_a_week: Some(in_a_week), ..even_odds("late-summer") });
    }
    let drill = machine(MachineKind::Drill, Some(10.0));
    let all = [work(1, "Larkin", 30.0, &plans[0]), work(2, "Chapel", 20.0, &plans[1])];
    let names: Vec<String> = clashes(&all, &[&drill], TODAY)[0].wanted.iter().map(|one| one.name.clone()).collect();
    assert_eq!(names, ["Chapel", "Larkin"]);
}

#[test]
fn seed_that_is_spread_wants_the_spreader_and_plants_no_drill() {
    let plans = [to_sow(date(2026, 8, 12)), to_sow(date(2026, 8, 12))];
    let (drill, spreader) = (machine(MachineKind::Drill, Some(10.0)), machine(MachineKind::Spreader, Some(40.0)));
    let mut all = [work(1, "Larkin", 30.0, &plans[0]), work(2, "Chapel", 20.0, &plans[1])];
    all.iter_mut().for_each(|one| one.broadcast = true);
    let found = clashes(&all, &[&drill, &spreader], TODAY);
    assert_eq!(found.iter().map(|one| one.machine.as_str()).collect::<Vec<_>>(), ["spreader"]);
    all.iter_mut().for_each(|one| (one.broadcast, one.plants) = (false, true));
    assert!(clashes(&all, &[&drill, &spreader], TODAY).is_empty());
}
