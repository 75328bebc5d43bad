//! Ways of cutting side by side. What must come out is facts of the trade (common practice, no source): cut earlier, better
//! feed and less of it; cut often, less in store for winter; a rest before frost leaves more in store than none.

use agronomy::{
    refusal::Refused,
    units::{Area, Fraction, Length, Measure, MoneyPerArea, MoneyPerMass, System, Unit},
    weather::{Years, generator::Climate, place_normals, plus, usual_year::UsualYear},
    window::Forecast,
    working::Answer,
    years::{Known, Scenarios},
};
use jiff::civil::{Date, date};
use planner::{
    Facts, Uses,
    cutting::{Cutting, CuttingRequest, Untold, Way, cutting},
    ground::Asked,
    growth::growth,
    plan,
};
use records::{Choices, Goal, book::Ground};
use rstest::rstest;

use crate::{
    common::{choices, ink},
    recompute::{presented, recompute},
};

const TODAY: Date = date(2026, 5, 14);
const HILLS: UsualYear = UsualYear { green_up: Some(99), frost: Some(282) };

struct Told {
    cutting: Result<Answer<Cutting>, Untold>,
    year: f64,
}

fn told(crop: &str, sown_on: Date, request: &CuttingRequest) -> Told {
    used_for(Goal::Hay, "hay-by-stage", crop, sown_on, request)
}

fn used_for(goal: Goal, regime: &str, crop: &str, sown_on: Date, request: &CuttingRequest) -> Told {
    let record: Years =
        Climate::new(&place_normals("northern-hills").unwrap()).years(9, date(1996, 1, 1), plus(TODAY, -1));
    let choices = Choices { goal, ..choices(&[(crop, 15.0)], sown_on) };
    let uses = Uses { from: vec![(2020, regime.to_owned())], year_start: Some(date(2026, 1, 1)), usual: Some(HILLS) };
    let plan = plan(&choices, &Facts { on_stand: vec![ink(1, "sow", sown_on)], uses, ..Facts::default() }, TODAY);
    let ground = Ground::default();
    let asked = Asked {
        choices: &choices,
        ground: &ground,
        area: Area::new(5.0, Unit::Ha),
        setback: Length::default(),
        today: TODAY,
        sown_on: Some(sown_on),
        year_start: date(2026, 1, 1),
        usual: Some(HILLS),
    };
    let known = Known { years: &record, today: TODAY, forecast: &Forecast::default() };
    let all = Scenarios::new(known, date(2026, 1, 1), 500);
    let year = growth(asked, &plan.steps, &record, &all).map_or(0.0, |told| told.value.year.values[1].unwrap());
    Told { cutting: cutting(asked, &plan.steps, &record, &all, request), year }
}

fn alfalfa(request: &CuttingRequest) -> Cutting {
    told("alfalfa", date(2023, 4, 28), request).cutting.unwrap().value
}

fn of<'a>(cutting: &'a Cutting, key: &str) -> &'a Way {
    cutting.ways.iter().find(|way| way.key == key).unwrap_or_else(|| panic!("{key}"))
}

fn tonnes(way: &Way) -> f64 {
    way.year.values[1].unwrap()
}

#[test]
fn earlier_is_better_and_less() {
    let told = alfalfa(&CuttingRequest::default());
    let [early, usual, late] = ["early", "usual", "late"].map(|key| of(&told, key));
    let quality = |way: &Way| way.quality.unwrap();
    assert!(quality(early) > quality(usual) + 10.0 && quality(usual) > quality(late) + 5.0, "{told:#?}");
    assert!(early.protein > usual.protein && usual.protein > late.protein);
    assert!(early.times[1] > late.times[1], "cut younger, cut more often");
    // Early bloom: three or four cuts of the hills, a month or so apart, a little over half of it in store by frost.
    assert!((3..=4).contains(&usual.times[1]) && (6.0..14.0).contains(&tonnes(usual)), "{usual:?}");
    assert!(early.stored < late.stored, "cut often, less is in store");
    assert!(told.ways.iter().all(|way| (0.0..=1.0).contains(&way.rained.unwrap().to(Unit::One))));
}

/// The cuts of each way stand in their order, no nearer than machines come, and none in the rest before winter.
#[test]
fn cuts_keep_their_order_and_the_rest() {
    let told = alfalfa(&CuttingRequest::default());
    let rest = told.rest_from.unwrap();
    assert_eq!((told.frost.unwrap(), rest), (date(2026, 10, 10), date(2026, 9, 5)));
    for way in told.ways.iter().filter(|way| way.key != "planned") {
        for pair in way.cuts.windows(2) {
            assert!((pair[1].on - pair[0].on).get_days() >= 18, "{}: {pair:?}", way.key);
        }
        for cut in &way.cuts {
            assert!(cut.from <= cut.on && cut.on <= cut.to && cut.on >= TODAY);
            assert!(way.key == "no-rest" || cut.to <= rest, "{}: {cut:?}", way.key);
        }
    }
    let (rested, not) = (of(&told, "usual"), of(&told, "no-rest"));
    assert!(rested.stored > not.stored && tonnes(not) >= tonnes(rested), "{rested:?} {not:?}");
    assert!(rested.kept >= not.kept);
}

/// The days planned, as a way, give what the growth of the same plan says: one reckoning, two questions.
#[test]
fn as_planned_is_what_growth_says() {
    let told = told("alfalfa", date(2023, 4, 28), &CuttingRequest::default());
    let cutting = told.cutting.unwrap().value;
    assert!(
        (tonnes(of(&cutting, "planned")) - told.year).abs() < 0.02 * told.year,
        "{} {}",
        tonnes(of(&cutting, "planned")),
        told.year
    );
    assert!(!cutting.weeks.is_empty());
    for week in &cutting.weeks {
        let week = week.told(Some(System::Us.into()));
        assert!(week.starts_with("A week") && week.contains("/ac"), "{week}");
    }
}

/// A cut that is dragged two weeks: the first gives more and worse, and is cut on the day it was put.
#[test]
fn days_of_ones_own_are_kept() {
    let days = |first: Date| vec![first, plus(first, 38), plus(first, 76)];
    let own = |first: Date| alfalfa(&CuttingRequest { own: days(first), ..CuttingRequest::default() });
    let (early, late) = (own(date(2026, 5, 28)), own(date(2026, 6, 11)));
    let [early, late] = [&early, &late].map(|told| of(told, "own").cuts[0].clone());
    assert_eq!((early.on, early.from, early.to), (date(2026, 5, 28), date(2026, 5, 28), date(2026, 5, 28)));
    assert!(late.taken.values[1] > early.taken.values[1]);
    assert!(late.feed.quality < early.feed.quality && early.comes == Fraction::ONE);
}

/// Worth: 82 % of what is cut, by its price, less the cost of each cut; at 150 points the premium changes nothing.
#[test]
fn worth_is_what_comes_home_less_the_cuts() {
    let price = Some(MoneyPerMass::new(200.0, Unit::MoneyPerT));
    let plain = alfalfa(&CuttingRequest { price, ..CuttingRequest::default() });
    let way = of(&plain, "usual");
    let expected = 0.82 * 200.0 * tonnes(way);
    let found = way.worth.unwrap().to(Unit::MoneyPerHa);
    assert!((found - expected).abs() < 0.03 * expected, "{found} {expected}");
    let cut_cost = Some(MoneyPerArea::new(60.0, Unit::MoneyPerHa));
    let costly = alfalfa(&CuttingRequest { price, cut_cost, ..CuttingRequest::default() });
    let less = found - of(&costly, "usual").worth.unwrap().to(Unit::MoneyPerHa);
    assert!((60.0 * 2.5..60.0 * 4.5).contains(&less), "{less}");
    let premium = Some(MoneyPerMass::new(8.0, Unit::MoneyPerT));
    let paid = alfalfa(&CuttingRequest { price, premium, ..CuttingRequest::default() });
    let gain = |key: &str| of(&paid, key).worth.unwrap().base() - of(&plain, key).worth.unwrap().base();
    assert!(gain("early") > gain("late"), "quality is paid for");
}

/// A grass heads once: its regrowth is cut by days, and natives once or twice.
#[rstest]
#[case("orchardgrass", 2..=5)]
#[case("timothy", 2..=4)]
#[case("switchgrass", 1..=3)]
fn grasses_are_cut_by_heads_then_days(#[case] crop: &str, #[case] times: std::ops::RangeInclusive<u32>) {
    let told = told(crop, date(2022, 5, 10), &CuttingRequest::default()).cutting.unwrap().value;
    assert!(told.grass);
    let usual = of(&told, "usual");
    assert!(times.contains(&usual.times[1]), "{usual:?}");
}

/// What is grown for dead stems is cut after frost, as its regime has it: no stage of its growth is offered.
#[test]
fn biomass_is_cut_after_frost() {
    let request = CuttingRequest { own: vec![date(2026, 11, 20)], ..CuttingRequest::default() };
    let sown = date(2022, 5, 10);
    let told = used_for(Goal::Biomass, "biomass-after-frost", "switchgrass", sown, &request).cutting.unwrap().value;
    let keys: Vec<&str> = told.ways.iter().map(|way| way.key.as_str()).collect();
    assert_eq!(keys, ["after-frost", "own"], "its plan lies in the next growing year");
    assert!(told.ways.iter().all(|way| way.cuts.len() == 1 && way.cuts[0].on > told.frost.unwrap()), "{told:#?}");
}

/// Cool-season annuals are taken once, at boot or later for more; nothing of theirs goes into winter.
#[test]
fn oats_are_cut_once() {
    let told = told("forage-oats", date(2026, 4, 12), &CuttingRequest::default()).cutting.unwrap().value;
    assert!(told.rest_from.is_none());
    for way in told.ways.iter().filter(|way| way.key != "planned") {
        assert!(way.times[2] <= 1 && way.stored.is_none() && way.spring.is_none(), "{way:?}");
        assert!(!["interval", "no-rest"].contains(&way.key.as_str()));
    }
    let (boot, late) = (of(&told, "early"), of(&told, "late"));
    assert!(tonnes(late) > tonnes(boot) && late.quality < boot.quality, "{boot:?} {late:?}");
}

#[rstest]
#[case::yesterday(vec![date(2026, 5, 13)], "/own/0")]
#[case::next_year(vec![date(2026, 6, 1), date(2027, 6, 1)], "/own/1")]
#[case::out_of_order(vec![date(2026, 7, 1), date(2026, 6, 1)], "/own")]
#[case::twice_a_day(vec![date(2026, 7, 1), date(2026, 7, 1)], "/own")]
fn days_that_can_not_be(#[case] own: Vec<Date>, #[case] pointer: &str) {
    let request = CuttingRequest { own, ..CuttingRequest::default() };
    let Err(Untold::Refused(Refused(all))) = told("alfalfa", date(2023, 4, 28), &request).cutting else { panic!() };
    assert!(all.iter().any(|one| one.pointer == pointer), "{all:?}");
}

#[test]
fn what_is_not_sown_is_not_cut() {
    let told = told("alfalfa", plus(TODAY, -3), &CuttingRequest::default()).cutting;
    assert!(matches!(told, Err(Untold::Why(_))), "{told:?}");
}

#[test]
fn its_working_is_true_in_both_systems() {
    let told = told("alfalfa", date(2023, 4, 28), &CuttingRequest::default()).cutting.unwrap();
    for system in [System::Us, System::Metric] {
        recompute(&presented(&told.working, system));
    }
}
