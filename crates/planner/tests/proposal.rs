//! The day proposed for sowing: the first that is sound, and why.

use agronomy::{
    units::{Area, Fraction, Length, Unit},
    weather::{Years, generator::Climate, place_normals, plus},
    window::{Forecast, WindowAnswer},
    working::Answer,
    years::{Known, Scenarios},
};
use jiff::{
    ToSpan,
    civil::{Date, date},
};
use planner::{
    Facts, Plan, State,
    ground::Asked,
    plan, proposal,
    weather::{Question, seedbed, sowing},
};
use records::{Choices, Cover, LotChoice, book::Ground};
use rstest::rstest;
use uuid::Uuid;

use crate::common::{choices, ink};

const TODAY: Date = date(2026, 5, 14);

fn windows(choices: &Choices) -> Vec<Answer<WindowAnswer>> {
    let record: Years =
        Climate::new(&place_normals("northern-hills").unwrap()).years(9, date(1986, 1, 1), plus(TODAY, -1));
    let known = Known { years: &record, today: TODAY, forecast: &Forecast::default() };
    let years = Scenarios::new(known, date(2026, 1, 1), 500);
    let ground = Ground::default();
    let asked = Asked {
        choices,
        ground: &ground,
        area: Area::new(5.0, Unit::Ha),
        setback: Length::default(),
        today: TODAY,
        sown_on: None,
        year_start: date(2026, 1, 1),
        usual: None,
    };
    let question = Question { asked, years: &years, level: Fraction::percent(50.0), stake: None };
    let runs = years.site(&seedbed(choices, &ground, &record));
    sowing(question, &runs, None)
}

fn on(choices: &Choices, day: Date) -> Choices {
    Choices { sow_on: day, ..choices.clone() }
}

/// Steps before the sowing that are too late already.
fn late(plan: &Plan) -> usize {
    let open = plan.steps.iter().filter(|step| !matches!(step.state, State::Done { .. } | State::Passed));
    open.filter(|step| !step.is_sowing() && step.to < plan.today).count()
}

#[rstest]
#[case::nothing_done_yet(&[])]
#[case::sampled(&["sample-soil"])]
#[case::sampled_and_ordered(&["sample-soil", "order-seed"])]
#[case::ready(&["sample-soil", "order-seed", "prepare", "calibrate"])]
fn nothing_is_too_late_on_it_and_no_day_before_is_as_sound(#[case] done: &[&str]) {
    let choices = choices(&[("alfalfa", 18.0)], TODAY);
    let inked = done.iter().zip(1..).map(|(operation, n)| ink(n, operation, date(2026, 5, 1)));
    let facts = Facts { on_stand: inked.collect(), ..Facts::default() };
    let windows = windows(&choices);
    // A level that some day of each reaches.
    let level = Fraction::percent(40.0);
    let proposed = proposal(&choices, &facts, &|_| windows.clone(), level, TODAY);
    assert_eq!(late(&plan(&on(&choices, proposed.sow_on), &facts, TODAY)), 0, "{proposed:?}");
    assert!(proposed.odds.is_some_and(|odds| odds >= 0.4), "{proposed:?}");
    // Every day before it has a step that is too late, or worse odds.
    let best = |day: Date| windows.iter().filter_map(|answer| answer.value.curve.on(day)).fold(0.0, f64::max);
    let mut day = TODAY;
    while day < proposed.sow_on {
        let sound = late(&plan(&on(&choices, day), &facts, TODAY)) == 0 && best(day) >= 0.4;
        assert!(!sound, "{day} is sound too: {proposed:?}");
        day = day.checked_add(1.day()).unwrap();
    }
}

#[test]
fn it_does_not_hang_on_the_day_that_was_asked_about() {
    let first = choices(&[("alfalfa", 18.0)], TODAY);
    let windows = windows(&first);
    let propose =
        |choices: &Choices| proposal(choices, &Facts::default(), &|_| windows.clone(), Fraction::percent(50.0), TODAY);
    assert_eq!(propose(&first), propose(&on(&first, date(2027, 8, 1))));
}

#[test]
fn what_no_day_reaches_is_told_with_the_likeliest() {
    let choices = choices(&[("alfalfa", 18.0)], TODAY);
    let windows = windows(&choices);
    let proposed = proposal(&choices, &Facts::default(), &|_| windows.clone(), Fraction::percent(100.0), TODAY);
    let why = proposed.why.told(None);
    if proposed.odds.is_some_and(|odds| odds < 1.0) {
        assert!(why.contains("no day reaches 100%"), "{why}");
    }
    let level = Fraction::percent(50.0);
    let unasked = proposal(&choices, &Facts::default(), &|_| vec![], level, TODAY);
    assert_eq!(unasked.odds, None);
    assert!(unasked.why.told(None).contains("the weather record does not reach that far"), "{:?}", unasked.why);
    assert!(unasked.why.told(None).contains("leaves time for “"), "{:?}", unasked.why);
}

#[test]
fn a_day_that_is_clearly_better_is_told_beside_the_first() {
    let choices = choices(&[("alfalfa", 18.0)], TODAY);
    let windows = windows(&choices);
    let propose =
        |level: f64| proposal(&choices, &Facts::default(), &|_| windows.clone(), Fraction::percent(level), TODAY);
    let early = propose(20.0);
    let better = early.better.expect("the first day at a fifth is not the best");
    assert!(better.on > early.sow_on && better.odds >= early.odds.unwrap() + 0.1, "{early:?}");
    // It is the best of all days that follow.
    let best = |day: Date| windows.iter().filter_map(|answer| answer.value.curve.on(day)).fold(0.0, f64::max);
    let all = std::iter::successors(Some(early.sow_on), |day| day.checked_add(1.day()).ok()).take(360);
    assert!(all.map(best).all(|odds| odds <= better.odds + 1e-9));
    // Asked for the best, there is none better.
    assert_eq!(propose(100.0 * better.odds).better, None);
}

#[test]
fn seed_in_the_shed_takes_no_time_to_order() {
    let bought = choices(&[("alfalfa", 18.0)], TODAY);
    let Cover::Seed { mix, dormant_seed, .. } = bought.cover.clone() else { panic!("from seed") };
    let lots = vec![LotChoice { lot: Uuid::from_u128(7) }];
    let at_hand = Choices { cover: Cover::Seed { mix, dormant_seed, lots }, ..bought.clone() };
    // All else is done: only the seed is asked for.
    let done = ["sample-soil", "prepare", "calibrate"];
    let inked = done.iter().zip(1..).map(|(operation, n)| ink(n, operation, date(2026, 5, 1)));
    let facts = Facts { on_stand: inked.collect(), ..Facts::default() };
    let on = |choices: &Choices| proposal(choices, &facts, &|_| vec![], Fraction::percent(50.0), TODAY).sow_on;
    assert_eq!(on(&at_hand), TODAY);
    assert!(on(&bought) > TODAY);
}
