//! What an agronomist of ten very different places would never be told by a plan: when it comes up, how often it is cut,
//! when it is sown, what a thin stand leads to. Common practice of each place, no source.

use std::sync::Arc;

use agronomy::{
    establish::Way,
    units::{Area, Fraction, Length, Unit},
    weather::{plus, usual_year::usual_year},
    window::Forecast,
    years::{Known, Scenarios},
};
use jiff::civil::{Date, date};
use planner::{
    Facts, Plan, Sky, Uses, Young,
    ground::Asked,
    plan, proposal, usual,
    weather::{Question, seedbed, sowing},
    young::young,
};
use records::{
    Choices,
    book::{Dated, Ground, StandBook},
    kinds::stand_count::{Counted, MendingPrices, StandCount},
};
use rstest::rstest;
use uuid::Uuid;

use crate::{
    common::{choices, ink},
    common_places::{PLACES, normals, years},
};

/// The growing year begins in the half year in which nothing grows.
fn year_start(place: &str) -> Date {
    date(2026, if normals(place).latitude < 0.0 { 7 } else { 1 }, 1)
}

fn ground(place: &str) -> Ground {
    let mut ground = Ground::default();
    ground.facts.irrigated = place == "irrigated desert";
    ground
}

/// A question of a place on a day.
fn under<T>(
    place: &str,
    choices: &Choices,
    today: Date,
    sown_on: Option<Date>,
    work: impl Fn(Asked<'_>, Sky<'_>) -> T,
) -> T {
    let (record, ground) = (years(place, 25), ground(place));
    let asked = Asked {
        choices,
        ground: &ground,
        area: Area::new(5.0, Unit::Ha),
        setback: Length::default(),
        today,
        sown_on,
        year_start: year_start(place),
        usual: None,
    };
    let forecast = Forecast::default();
    let around = |day: Date| Scenarios::new(Known { years: &record, today, forecast: &forecast }, plus(day, -60), 460);
    let site = seedbed(choices, &ground, &record);
    let here = around(today);
    let runs = here.site(&site);
    let ahead = |day: Date| {
        let years = around(day);
        let runs = years.site(&site);
        (Arc::new(years), Arc::new(runs))
    };
    work(asked, Sky { years: &here, runs: &runs, level: Fraction::percent(50.0), ahead: &ahead })
}

/// Days from a sowing in season until half is up, in the middling year; alfalfa of the desert once stood at 87 to 190.
#[rstest]
#[case("northern hills", "alfalfa", date(2026, 5, 10), 5..=24)]
// Dry early summers are what it has to wait for there.
#[case("boreal", "timothy", date(2026, 6, 5), 6..=36)]
#[case("cold plains", "forage-oats", date(2026, 5, 10), 5..=22)]
#[case("warm south", "tall-fescue", date(2026, 9, 20), 6..=28)]
#[case("gulf coast", "bermudagrass", date(2026, 5, 1), 6..=28)]
#[case("irrigated desert", "alfalfa", date(2026, 10, 20), 4..=20)]
#[case("southern temperate", "alfalfa", date(2026, 3, 25), 4..=22)]
#[case("tropical highland", "perennial-ryegrass", date(2026, 4, 10), 5..=24)]
#[case("tropical lowland", "sorghum-sudangrass", date(2026, 5, 20), 2..=12)]
#[case("maritime", "perennial-ryegrass", date(2026, 9, 1), 6..=24)]
fn it_comes_up_within_weeks(
    #[case] place: &str,
    #[case] crop: &str,
    #[case] sown: Date,
    #[case] days: std::ops::RangeInclusive<i32>,
) {
    let choices = choices(&[(crop, 12.0)], sown);
    let book = StandBook { operations: vec![ink(1, "sow", sown)], ..StandBook::default() };
    let told: Young = under(place, &choices, sown, Some(sown), |asked, sky| young(asked, &book, Some(sky)).unwrap());
    let half = &told.coming[0].told.value.half;
    let middling = half.get(1).or(half.first()).unwrap_or_else(|| panic!("{place}: {told:?}"));
    let took = (*middling - sown).get_days();
    assert!(days.contains(&took), "{crop} in {place}: {took} days");
}

fn used(place: &str, choices: &Choices, regime: &str, sown: Date) -> Facts {
    let record = years(place, 25);
    let known = usual(choices, |base, killing| usual_year(&record, base, killing));
    let from = vec![(sown.year() - 1, regime.to_owned())];
    let uses = Uses { from, year_start: Some(year_start(place)), usual: known };
    Facts { on_stand: vec![ink(1, "sow", sown)], uses, ..Facts::default() }
}

/// Cuts of the first whole season of a stand.
fn cuts(place: &str, crop: &str, regime: &str) -> usize {
    let sown = date(2024, 9, 1);
    let choices = choices(&[(crop, 12.0)], sown);
    let today = plus(year_start(place), 5);
    let plan: Plan = plan(&choices, &used(place, &choices, regime, sown), today);
    assert!(plan.undated.is_empty(), "{place}: {:?}", plan.undated);
    plan.steps.iter().filter(|step| step.step == "cut" && step.season == Some(today.year())).count()
}

/// Alfalfa is cut two or three times in the cold plains, three or four in northern hills, twice as often where winters are
/// mild; a fast tropical grass every six weeks or so all year.
#[rstest]
#[case("northern hills", "alfalfa", "hay-by-stage", 3..=4)]
#[case("cold plains", "alfalfa", "hay-by-stage", 2..=4)]
#[case("boreal", "timothy", "hay-by-stage", 1..=3)]
#[case("maritime", "perennial-ryegrass", "silage-cuts", 3..=6)]
#[case("warm south", "alfalfa", "hay-by-stage", 4..=8)]
#[case("gulf coast", "bermudagrass", "hay-by-interval", 4..=9)]
#[case("irrigated desert", "alfalfa", "hay-by-stage", 5..=10)]
#[case("southern temperate", "alfalfa", "hay-by-stage", 4..=8)]
#[case("tropical lowland", "bermudagrass", "cut-and-carried", 6..=14)]
fn it_is_cut_as_often_as_it_is_there(
    #[case] place: &str,
    #[case] crop: &str,
    #[case] regime: &str,
    #[case] times: std::ops::RangeInclusive<usize>,
) {
    let found = cuts(place, crop, regime);
    assert!(times.contains(&found), "{crop} in {place}: {found} cuts");
}

/// The proposed day lies in a season in which it is sown there.
#[rstest]
#[case("northern hills", "alfalfa", &[4, 5, 7, 8])]
#[case("boreal", "timothy", &[5, 6, 7, 8])]
#[case("cold plains", "forage-oats", &[4, 5, 6])]
#[case("warm south", "tall-fescue", &[2, 3, 9, 10, 11])]
#[case("gulf coast", "bermudagrass", &[3, 4, 5, 6, 7, 8])]
#[case("irrigated desert", "alfalfa", &[2, 3, 9, 10, 11])]
#[case("southern temperate", "alfalfa", &[2, 3, 4, 5, 8, 9, 10])]
#[case("tropical lowland", "sorghum-sudangrass", &[1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12])]
#[case("maritime", "perennial-ryegrass", &[3, 4, 5, 8, 9])]
fn a_day_is_proposed_on_which_it_is_sown_there(#[case] place: &str, #[case] crop: &str, #[case] months: &[i8]) {
    let today = date(2026, 1, 20);
    let choices = choices(&[(crop, 12.0)], today);
    let proposed = under(place, &choices, today, None, |asked, sky| {
        let windows = |from: Date| {
            let (years, runs) = (sky.ahead)(from);
            let level = Fraction::percent(50.0);
            sowing(Question { asked, years: &years, level, stake: None }, &runs, None)
        };
        proposal(&choices, &Facts::default(), &windows, Fraction::percent(50.0), today)
    });
    assert!(months.contains(&proposed.sow_on.month()), "{crop} in {place}: {proposed:?}");
    assert!(proposed.odds.is_some_and(|odds| odds > 0.3), "{crop} in {place}: {proposed:?}");
}

/// A stand that hardly came is never kept, and no place is told to start over before winter where nothing sown then lives.
#[rstest]
fn a_stand_that_hardly_came_is_not_kept() {
    for place in PLACES {
        let south = normals(place).latitude < 0.0;
        let sown = if south { date(2026, 3, 20) } else { date(2026, 5, 25) };
        let today = plus(sown, 60);
        let crop = if place == "tropical lowland" || place == "gulf coast" { "bermudagrass" } else { "red-clover" };
        let choices = choices(&[(crop, 10.0)], sown);
        let counts = vec![0.0, 1.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 1.0, 0.0];
        let count = StandCount {
            crop: crop.into(),
            counted: Counted::Frame { frame: Area::new(1.0, Unit::Ft2), counts },
            ..blank()
        };
        let counts = vec![Dated { on: today, entry: Uuid::from_u128(9), what: count }];
        let book = StandBook { operations: vec![ink(1, "sow", sown)], counts, ..StandBook::default() };
        let told = under(place, &choices, today, Some(sown), |asked, sky| young(asked, &book, Some(sky)).unwrap());
        let decision = told.counted.unwrap().decision.unwrap().value;
        assert_ne!(decision.advised, Way::Keep, "{place}: {decision:?}");
        for way in &decision.ways {
            assert!((0.0..=1.0).contains(&way.odds.to(Unit::One)), "{place}: {way:?}");
            assert!(way.on.is_none_or(|on| on >= today && on <= plus(today, 800)), "{place}: {way:?}");
        }
    }
}

fn blank() -> StandCount {
    StandCount {
        crop: String::new(),
        counted: Counted::Frame { frame: Area::new(1.0, Unit::Ft2), counts: vec![] },
        stems: false,
        full: None,
        thin: None,
        prices: MendingPrices::default(),
        note: None,
    }
}
