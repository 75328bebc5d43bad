//! What comes again each year, as the use of a stand has it.

use agronomy::{
    crop::library,
    practice::{Comes, regimes},
    weather::usual_year::UsualYear,
};
use jiff::civil::{Date, date};
use planner::*;
use proptest::prelude::*;
use records::{Choices, Closes, book::Operation};
use rstest::rstest;
use uuid::Uuid;

use crate::common::{choices, ink};

const SOWN: Date = date(2025, 8, 14);
/// Northern hills: green-up on 10 April, a killing frost on 10 October.
const HILLS: UsualYear = UsualYear { green_up: Some(99), frost: Some(282) };
/// No winter.
const TROPICS: UsualYear = UsualYear { green_up: Some(0), frost: None };

fn alfalfa() -> Choices {
    choices(&[("alfalfa", 18.0)], SOWN)
}

fn used(regimes: &[(i16, &str)], usual: Option<UsualYear>, cuts: &[Operation]) -> Facts {
    let from = regimes.iter().map(|(season, key)| (*season, (*key).to_owned())).collect();
    let mut on_stand = vec![ink(1_000, "sow", SOWN)];
    on_stand.extend_from_slice(cuts);
    let uses = Uses { from, year_start: Some(date(2026, 1, 1)), usual };
    Facts { on_stand, uses, ..Facts::default() }
}

fn closing(step: &str, season: Option<i16>, occurrence: Option<i32>, done: Operation) -> Operation {
    Operation { closes: Some(Closes { stand: Uuid::nil(), step: step.into(), season, occurrence }), ..done }
}

fn of<'a>(plan: &'a Plan, key: &str, season: i16) -> Vec<&'a Step> {
    plan.steps.iter().filter(|step| step.step == key && step.season == Some(season)).collect()
}

fn opens(plan: &Plan, key: &str, season: i16) -> Vec<Date> {
    of(plan, key, season).iter().map(|step| step.from).collect()
}

/// Alfalfa for hay in northern hills: three to four cuts, the first at the end of May or in June, the last before the
/// middle of September: common practice there, no source.
#[test]
fn a_season_of_hay() {
    let facts = used(&[(2025, "hay-by-stage")], Some(HILLS), &[]);
    let plan = plan(&alfalfa(), &facts, date(2026, 5, 14));
    let cuts = of(&plan, "cut", 2026);
    assert!((3..=4).contains(&cuts.len()), "{}", cuts.len());
    assert_eq!((cuts[0].from, cuts[0].to), (date(2026, 5, 30), date(2026, 6, 14)));
    assert!(cuts.iter().all(|cut| cut.to <= date(2026, 9, 5) && cut.state == State::Waiting));
    assert!(cuts.iter().all(|cut| cut.times == cuts.len() as u32 && cut.from_where == From::Regime));
    // Sown in August it gives nothing in its own year; the next is planned as this one, and none beyond.
    assert!(of(&plan, "cut", 2025).is_empty());
    assert_eq!(of(&plan, "cut", 2027)[0].from, date(2027, 5, 30));
    assert!(of(&plan, "cut", 2028).is_empty());
    // Nothing is decided: nothing is said.
    let without = planner::plan(&alfalfa(), &used(&[], Some(HILLS), &[]), date(2026, 5, 14));
    assert!(without.steps.iter().all(|step| step.season.is_none()));
}

/// Cuts of alfalfa at early bloom in a season, and of napier in an established year: facts of the trade, common practice,
/// no source. Three or four in cool climates, four or five in the north of the southern plains, five to seven in their
/// south; hybrid napier every forty-five days, eight times a year.
#[rstest]
#[case::cool("alfalfa", "hay-by-stage", HILLS, 3..=4)]
#[case::southern_plains("alfalfa", "hay-by-stage", UsualYear { green_up: Some(68), frost: Some(308) }, 4..=5)]
#[case::far_south("alfalfa", "hay-by-stage", UsualYear { green_up: Some(45), frost: Some(328) }, 5..=7)]
#[case::napier("hybrid-napier", "cut-and-carried", TROPICS, 8..=9)]
#[case::natives("switchgrass", "hay-by-stage", HILLS, 1..=2)]
#[case::biomass("giant-miscanthus", "biomass-after-frost", HILLS, 1..=1)]
fn as_many_cuts_as_people_make(
    #[case] crop: &str,
    #[case] regime: &str,
    #[case] usual: UsualYear,
    #[case] cuts: std::ops::RangeInclusive<usize>,
) {
    let facts = used(&[(2025, regime)], Some(usual), &[]);
    let plan = plan(&choices(&[(crop, 18.0)], SOWN), &facts, date(2026, 1, 5));
    let planned = of(&plan, "cut", 2027).len();
    assert!(cuts.contains(&planned), "{planned}");
}

/// Each time is dated from the one before as it stands; ink without a number is the next of its own season.
#[test]
fn ink_moves_what_comes_after_it() {
    let cuts = [ink(1, "cut", date(2026, 6, 21)), ink(2, "cut", date(2027, 6, 2))];
    let facts = used(&[(2025, "hay-by-interval")], Some(HILLS), &cuts);
    let at = |today| plan(&alfalfa(), &facts, today);
    let this = at(date(2027, 6, 3));
    // Of the year before: what was done. The cut of the second year fills no gap of the first.
    let before = of(&this, "cut", 2026);
    assert_eq!(before.iter().map(|step| step.inked().unwrap().0.as_u128()).collect::<Vec<_>>(), [1]);
    let now = of(&this, "cut", 2027);
    assert_eq!(now[0].inked(), Some((Uuid::from_u128(2), date(2027, 6, 2))));
    assert_eq!((now[1].from, now[1].to), (date(2027, 7, 5), date(2027, 7, 9)));
    // In its own year the late first cut moved the others.
    assert_eq!(opens(&at(date(2026, 6, 22)), "cut", 2026)[1], date(2026, 7, 24));
}

/// What says which time of which season it was is that, whatever its day; two that say the same are two.
#[test]
fn what_is_said_of_a_time_holds() {
    let cuts = [
        closing("cut", Some(2026), Some(2), ink(1, "cut", date(2026, 7, 8))),
        closing("cut", Some(2026), Some(2), ink(2, "cut", date(2026, 7, 9))),
        // Taken off in the last days of the year, for the season before.
        closing("cut", Some(2026), Some(5), ink(3, "cut", date(2027, 1, 3))),
    ];
    let plan = plan(&alfalfa(), &used(&[(2025, "hay-by-stage")], Some(HILLS), &cuts), date(2026, 7, 20));
    let season = of(&plan, "cut", 2026);
    let entries: Vec<Option<u128>> = season.iter().map(|step| step.inked().map(|(entry, _)| entry.as_u128())).collect();
    assert_eq!(entries, [None, Some(1), Some(2), None, Some(3)]);
    // The first was left out and holds up none.
    assert_eq!(season[0].state, State::Passed);
    assert!(season[0].to <= season[1].from);
}

/// With each cut a dressing: it waits for its own cut, and its time is over when the next has come.
#[test]
fn what_comes_with_each_time() {
    let done = [
        closing("cut", Some(2026), Some(1), ink(1, "cut", date(2026, 5, 25))),
        ink(2, "cut", date(2026, 6, 22)),
        ink(3, "dress", date(2026, 6, 24)),
    ];
    let plan = plan(&alfalfa(), &used(&[(2025, "silage-cuts")], Some(HILLS), &done), date(2026, 6, 25));
    let dressed = of(&plan, "dress-after-cut", 2026);
    assert_eq!(dressed.len(), of(&plan, "cut", 2026).len());
    assert_eq!(dressed[0].state, State::Passed);
    assert_eq!(dressed[1].inked(), Some((Uuid::from_u128(3), date(2026, 6, 24))));
    assert_eq!((dressed[2].from, &dressed[2].state), (date(2026, 7, 20), &State::Waiting));
    // What was spread is told once.
    assert_eq!(plan.steps.iter().filter(|step| step.inked().is_some_and(|(entry, _)| entry.as_u128() == 3)).count(), 1);
}

/// A use that is changed in the middle keeps what was inked, and holds from its season on.
#[test]
fn a_use_may_change_from_a_season_on() {
    let cuts = [closing("cut", Some(2026), Some(1), ink(1, "cut", date(2026, 6, 1)))];
    let changed = used(&[(2025, "hay-by-stage"), (2027, "biomass-after-frost")], Some(HILLS), &cuts);
    let plan = plan(&alfalfa(), &changed, date(2026, 6, 2));
    assert!(of(&plan, "cut", 2026).len() > 2);
    let after = of(&plan, "cut", 2027);
    // Two weeks after a killing frost on 10 October, until two weeks before green-up.
    assert_eq!((after.len(), after[0].from, after[0].to), (1, date(2027, 10, 24), date(2028, 3, 26)));
}

/// Biomass may be harvested until spring: at the turn of the year it is still to be done, a harvest of February is that of
/// the autumn before and not of the next, and what was never harvested is not late for a year.
#[test]
fn a_harvest_of_late_winter_is_of_the_season_before() {
    let at =
        |cuts: &[Operation], today| plan(&alfalfa(), &used(&[(2025, "biomass-after-frost")], Some(HILLS), cuts), today);
    let open = at(&[], date(2027, 1, 10));
    let waiting = of(&open, "cut", 2026);
    assert_eq!((waiting.len(), &waiting[0].state), (1, &State::Ready));
    let done = at(&[ink(1, "cut", date(2027, 2, 20))], date(2027, 5, 1));
    assert_eq!(of(&done, "cut", 2026)[0].inked(), Some((Uuid::from_u128(1), date(2027, 2, 20))));
    assert_eq!(of(&done, "cut", 2027)[0].state, State::Waiting);
    assert!(of(&at(&[], date(2027, 5, 1)), "cut", 2026).is_empty());
    let mown = |today| plan(&alfalfa(), &used(&[(2025, "kept-mown")], Some(HILLS), &[]), today);
    assert_eq!(of(&mown(date(2026, 4, 10)), "mow", 2026)[0].state, State::Overdue);
    assert_eq!(of(&mown(date(2026, 8, 1)), "mow", 2026)[0].state, State::Passed);
}

/// A winter annual sown in August is cut until the next summer, and not for years.
#[test]
fn an_annual_is_not_cut_for_years() {
    let rye = choices(&[("italian-ryegrass", 25.0)], SOWN);
    let facts = used(&[(2025, "silage-cuts")], Some(HILLS), &[]);
    let spring = plan(&rye, &facts, date(2026, 4, 1));
    let cuts = of(&spring, "cut", 2026);
    assert!(!cuts.is_empty() && cuts.iter().all(|cut| cut.to <= date(2026, 7, 10)), "{cuts:?}");
    assert!(of(&spring, "cut", 2027).is_empty());
    assert!(of(&plan(&rye, &facts, date(2027, 4, 1)), "cut", 2027).is_empty());
}

/// Where there is no winter the next cut follows from the last, across the turn of the year.
#[test]
fn without_a_winter_it_goes_on() {
    let napier = choices(&[("alfalfa", 18.0)], SOWN);
    let plan = plan(&napier, &used(&[(2025, "cut-and-carried")], Some(TROPICS), &[]), date(2025, 9, 1));
    let (this, next) = (opens(&plan, "cut", 2025), opens(&plan, "cut", 2026));
    assert_eq!(this[0], date(2025, 10, 28));
    let gap = |a: Date, b: Date| (b - a).get_days();
    assert!((28..=38).contains(&gap(*this.last().unwrap(), next[0])), "{this:?} {next:?}");
    assert!(next.len() >= 10, "{}", next.len());
}

/// What can't be dated says why, and what was done stands there all the same.
#[rstest]
#[case::no_weather("alfalfa", "hay-by-stage", None, "Green-up and frost are unknown here")]
#[case::never_warm("alfalfa", "hay-by-stage", Some(UsualYear::default()), "never gets warm enough")]
#[case::no_frost("alfalfa", "biomass-after-frost", Some(TROPICS), "have no killing frost")]
#[case::no_days("soybean", "hay-by-stage", Some(HILLS), "no days for the first cut of soybean")]
fn what_has_no_days_says_why(
    #[case] crop: &str,
    #[case] regime: &str,
    #[case] usual: Option<UsualYear>,
    #[case] why: &str,
) {
    let cuts = [ink(1, "cut", date(2026, 6, 1))];
    let plan = plan(&choices(&[(crop, 18.0)], SOWN), &used(&[(2025, regime)], usual, &cuts), date(2026, 6, 2));
    let told: Vec<String> = plan.undated.iter().map(|one| one.why.told(None)).collect();
    assert!(told.len() == 1 && told[0].contains(why), "{told:?}");
    assert_eq!(of(&plan, "cut", 2026).len(), 1);
}

/// Common practice: a native stand is burned every third year or so, not before its third; one that was put off comes
/// again the next spring, and a burn sets the next.
#[test]
fn fire_comes_every_third_year() {
    let natives = choices(&[("big-bluestem", 8.0)], SOWN);
    let burns = |inked: &[Operation], today: Date| -> Vec<(i16, bool)> {
        let plan = plan(&natives, &used(&[(2025, "kept-by-fire")], Some(HILLS), inked), today);
        let own = plan.steps.iter().filter(|step| step.step == "burn");
        own.map(|step| (step.season.unwrap(), step.inked().is_some())).collect()
    };
    assert_eq!(burns(&[], date(2026, 2, 1)), [(2027, false)]);
    let burned = [ink(1, "burn", date(2027, 4, 10))];
    assert_eq!(burns(&burned, date(2027, 5, 1)), [(2027, true)]);
    assert_eq!(burns(&burned, date(2029, 2, 1)), [(2027, true), (2030, false)]);
    // Put off in 2027, it is due in 2028.
    assert_eq!(burns(&[], date(2028, 2, 1)).first(), Some(&(2028, false)));
}

/// Every regime expands for every crop that is cut, under a usual year of each kind, and a plan of a later day says of a
/// season that is over what was done in it.
#[test]
fn all_regimes_expand() {
    let cut: Vec<&str> = library().crops().filter(|crop| crop.cutting.is_some()).map(|crop| crop.id.as_str()).collect();
    assert!(cut.len() > 20, "{}", cut.len());
    for regime in regimes() {
        for crop in &cut {
            for usual in [HILLS, TROPICS] {
                let facts = used(&[(2025, &regime.key)], Some(usual), &[]);
                let plan = plan(&choices(&[(crop, 10.0)], SOWN), &facts, date(2026, 5, 14));
                let came: Vec<&Step> = plan.steps.iter().filter(|step| step.season.is_some()).collect();
                let annual = plan.until.is_some();
                // Fire comes in the third year at the earliest.
                let later = regime.has("burn");
                assert!(annual || later || !came.is_empty() || !plan.undated.is_empty(), "{} of {crop}", regime.key);
                assert!(came.iter().all(|step| !step.reasons.is_empty() && step.from <= step.to), "{}", regime.key);
            }
        }
        // What is harvested has one key in all of them: ink of one is known to another.
        let harvested = regime.steps.iter().filter(|step| step.operation == "cut");
        assert!(harvested.clone().all(|step| step.key == "cut" && !matches!(step.comes, Comes::Each(_))));
    }
}

proptest! {
    /// Eight years of cuts inked in any way: none is lost or told twice, and each season keeps its order.
    #[test]
    fn no_ink_is_lost(
        gaps in proptest::collection::vec((10_i32..120, proptest::option::of(1_i32..9), proptest::bool::ANY), 0..60),
    ) {
        let mut day = SOWN;
        let cuts: Vec<Operation> = gaps.iter().enumerate().map(|(at, (gap, said, struck))| {
            day = agronomy::weather::plus(day, *gap);
            let cut = Operation { struck: *struck, ..ink(at as u128 + 1, "cut", day) };
            match said {
                Some(_) => closing("cut", Some(day.year()), *said, cut),
                None => cut,
            }
        }).collect();
        let plan = plan(&alfalfa(), &used(&[(2025, "hay-by-stage")], Some(HILLS), &cuts), day);
        let mut told: Vec<u128> = plan.steps.iter().filter_map(|step| Some(step.inked()?.0.as_u128())).filter(|entry| *entry < 1_000).collect();
        told.sort_unstable();
        let meant: Vec<u128> = cuts.iter().filter(|cut| !cut.struck).map(|cut| cut.entry.as_u128()).collect();
        prop_assert_eq!(told, meant);
        for season in 2025..=day.year() + 1 {
            let days: Vec<Date> = opens(&plan, "cut", season);
            prop_assert!(days.is_sorted(), "{:?}", days);
        }
    }
}
