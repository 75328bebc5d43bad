//! A young stand: when it comes up, what is looked at and when, what a count of it leads to.

use agronomy::{
    establish::{Bar, EmergenceState, Way},
    units::{Area, Length, Mass, MoneyPerArea, MoneyPerMass, Unit},
    weather::{Day, Place, Years, generator::Climate, place_normals, plus},
    window::Forecast,
};
use jiff::civil::{Date, date};
use planner::{
    Young,
    ground::Asked,
    young::{barred, young},
};
use records::{
    Choices,
    book::{Dated, Ground, Seen, SownOfLot, StandBook},
    kinds::{
        seed_sown::SeedSown,
        stand_count::{Counted, MendingPrices, StandCount},
    },
};
use rstest::rstest;
use uuid::Uuid;

use crate::common::{self, ink};

const SOWN: Date = date(2026, 5, 12);

fn alfalfa() -> Choices {
    common::choices(&[("alfalfa", 16.0)], SOWN)
}

/// A record of the northern hills up to a day, its last weeks since the sowing without rain where that is asked.
fn record(until: Date, dry: bool) -> Years {
    let years = Climate::new(&place_normals("northern-hills").unwrap()).years(9, date(1986, 1, 1), plus(until, -1));
    let place = Place { latitude: years.place.latitude, elevation: years.place.elevation };
    let days = years.days.iter().enumerate().map(|(at, day)| {
        let on = plus(years.first, at as i32);
        // A drought begins some weeks before.
        let rain = if dry && on >= plus(SOWN, -21) && on < until { 0.0 } else { day.rain };
        (on, Day { rain, ..*day })
    });
    Years::new(place, days.collect::<Vec<_>>()).unwrap()
}

fn told(choices: &Choices, book: &StandBook, today: Date, dry: bool) -> Young {
    let record = record(today, dry);
    common::under_sky(choices, book.sown_on(), today, (&record, &Forecast::default()), |asked, sky| {
        young(asked, book, Some(sky)).expect("a young stand")
    })
}

fn sown() -> StandBook {
    sown_book(SOWN)
}

fn state(young: &Young) -> EmergenceState {
    young.coming[0].told.value.state
}

#[test]
fn it_is_waited_for_by_warmth() {
    let young = told(&alfalfa(), &sown(), plus(SOWN, 1), false);
    assert_eq!(state(&young), EmergenceState::TooSoon);
    let half = young.coming[0].told.value.half[1];
    // Common practice: alfalfa of May shows in one to two weeks.
    assert!((plus(SOWN, 6)..=plus(SOWN, 18)).contains(&half), "{half}");
    let seen = StandBook { seen: Seen { up: Some(plus(SOWN, 10)), ..Seen::default() }, ..sown() };
    assert_eq!(state(&told(&alfalfa(), &seen, plus(SOWN, 12), false)), EmergenceState::Up);
}

/// A drought year may emerge a month late and still make a stand: it says wait, and for how long.
#[test]
fn a_drought_delays_it_a_month_and_the_advice_is_to_wait() {
    let today = plus(SOWN, 33);
    let young = told(&alfalfa(), &sown(), today, true);
    let told = &young.coming[0].told.value;
    assert_eq!(told.state, EmergenceState::Dry, "{told:?}");
    assert!(told.wait_until.is_some_and(|day| day > today));
    assert!(told.half[1] > today);
    assert!(told.still.unwrap().base() > 0.6);
    // Held against the odds of its own next window, not against some usual ones.
    let window = young.coming[0].told.working.inputs.iter().find(|one| one.name == "odds of the next window");
    assert!(matches!(window.map(|one| &one.origin), Some(agronomy::source::Origin::Given)), "{window:?}");
}

use agronomy::units::Measure;

fn counted(on: Date, hits: f64) -> Dated<StandCount> {
    let hits = [-3.0, 2.0, 1.0, -1.0, 3.0, -2.0].iter().map(|off| hits + off).collect();
    Dated {
        entry: Uuid::from_u128(9),
        on,
        what: StandCount {
            crop: "switchgrass".into(),
            counted: Counted::Grid { cells: 100, hits },
            stems: false,
            full: None,
            thin: None,
            prices: MendingPrices {
                dry_matter: Some(MoneyPerMass::new(150.0, Unit::MoneyPerT)),
                thicken: Some(MoneyPerArea::new(200.0, Unit::MoneyPerHa)),
                start_over: None,
            },
            note: None,
        },
    }
}

#[rstest]
#[case::success(70.0, Way::Keep)]
#[case::failed(8.0, Way::Thicken)]
fn a_count_says_what_to_do(#[case] hits: f64, #[case] wanted: Way) {
    let choices = common::choices(&[("switchgrass", 8.0)], SOWN);
    let book = StandBook { counts: vec![counted(plus(SOWN, 90), hits)], ..sown() };
    let young = told(&choices, &book, plus(SOWN, 91), false);
    // It has come up: nobody waits any more.
    assert!(young.coming.is_empty());
    let decision = young.counted.unwrap().decision.unwrap().value;
    assert_eq!(decision.advised, wanted);
    // The odds of sowing again are the farm's own.
    let thicken = decision.ways.iter().find(|way| way.way == Way::Thicken).unwrap();
    assert!(thicken.odds.base() > 0.0 && thicken.odds.base() <= 1.0);
    // What the one who counted told of money: 150 a tonne of what it yields, less 200 a hectare.
    let yields: f64 = thicken.yields.iter().map(|one| one.base()).sum();
    assert!((thicken.left.unwrap().base() - (yields * 0.15 - 0.02)).abs() < 1e-9);
}

#[test]
fn what_is_looked_at_comes_and_goes() {
    let keys = |days: i32| -> Vec<String> {
        let young = told(&alfalfa(), &sown(), plus(SOWN, days), false);
        young.watch.into_iter().filter(|watch| watch.now).map(|watch| watch.key).collect()
    };
    assert!(keys(1).contains(&"rain".to_owned()));
    assert!(!keys(40).contains(&"rain".to_owned()));
    assert!(keys(40).contains(&"weeds-over".to_owned()));
    // Insects once a week: the next time is within seven days.
    let young = told(&alfalfa(), &sown(), plus(SOWN, 20), false);
    let insects = young.watch.iter().find(|watch| watch.key == "insects").unwrap();
    assert_eq!(insects.next, Some(plus(SOWN, 21)));
}

/// Common practice: a spring sowing of alfalfa is not cut for sixty days; one of late August not before spring; south of
/// the line the year is the other way round.
#[rstest]
#[case::spring(42.5, date(2026, 5, 12), date(2026, 6, 20), true)]
#[case::bloomed(42.5, date(2026, 5, 12), date(2026, 7, 20), false)]
#[case::late_august(42.5, date(2026, 8, 25), date(2026, 11, 20), true)]
#[case::next_spring(42.5, date(2026, 8, 25), date(2027, 5, 25), false)]
#[case::southern_autumn(-34.0, date(2026, 4, 10), date(2026, 7, 20), true)]
#[case::highland_on_the_line(-1.2, date(2026, 4, 10), date(2026, 7, 20), false)]
#[case::southern_spring(-34.0, date(2026, 9, 20), date(2026, 12, 10), false)]
fn a_first_cut_too_soon_is_barred(#[case] latitude: f64, #[case] sown: Date, #[case] on: Date, #[case] wanted: bool) {
    assert_eq!(barred(&alfalfa(), latitude, sown, on, None, Bar::Cut).is_some(), wanted);
}

/// Common practice: no spray over seedlings before three to five leaves; right after the sowing there are none yet.
#[rstest]
#[case::before_it_shows(3, None, false)]
#[case::nobody_looked(20, None, true)]
#[case::two_leaves(20, Some(2.0), true)]
#[case::three(20, Some(3.0), false)]
#[case::grown(120, None, false)]
fn a_spray_waits_for_leaves(#[case] days: i32, #[case] leaves: Option<f64>, #[case] wanted: bool) {
    let on = plus(SOWN, days);
    assert_eq!(barred(&alfalfa(), 42.5, SOWN, on, leaves, Bar::Spray).is_some(), wanted);
    let book = StandBook { seen: Seen { leaves: leaves.map(|leaves| (on, leaves)), ..Seen::default() }, ..sown() };
    let told = told(&alfalfa(), &book, on, false);
    assert_eq!(told.watch.iter().any(|look| look.now && look.bars.contains(&Bar::Spray)), wanted);
}

/// Seed that fills a stand's gaps in its second spring has seedlings to be guarded from sprays, though the stand is old
/// enough for them; of the sowing itself, in two passes, nothing begins anew.
#[rstest]
#[case::second_spring(date(2027, 4, 20), true)]
#[case::second_pass(plus(SOWN, 3), false)]
fn seed_of_a_later_day_is_guarded(#[case] again: Date, #[case] wanted: bool) {
    let seed = SeedSown {
        area: Area::new(5.0, Unit::Ac),
        area_by: None,
        mass: Mass::new(80.0, Unit::Lb),
        spilled: None,
        setting: None,
        depth: None,
        soil_temperature: None,
        moisture: None,
        note: None,
    };
    let sown_again = SownOfLot { lot: None, sown: Dated { on: again, entry: Uuid::from_u128(50), what: seed } };
    let book = StandBook { sown: vec![sown_again], ..sown() };
    let today = date(2027, 5, 15);
    assert_eq!(book.last_seeded(today), Some(again));
    let told = told(&alfalfa(), &book, today, false);
    let spray = told.watch.iter().find(|look| look.now && look.bars.contains(&Bar::Spray));
    assert_eq!(spray.is_some(), wanted, "{:?}", told.watch);
    assert!(spray.is_none_or(|look| look.from == plus(again, 10)));
}

/// Natives for biomass may be taken after frost in their sowing year by those who go by it; nobody else is told to cut them
/// then, and none grazes them.
#[rstest]
#[case::biomass(Some("biomass-after-frost"), date(2026, 12, 10), Bar::Cut, false)]
#[case::biomass_while_they_grow(Some("biomass-after-frost"), date(2026, 8, 10), Bar::Cut, true)]
#[case::biomass_grazed(Some("biomass-after-frost"), date(2026, 12, 10), Bar::Graze, true)]
#[case::hay(None, date(2026, 12, 10), Bar::Cut, true)]
fn natives_in_their_first_year(
    #[case] regime: Option<&str>,
    #[case] on: Date,
    #[case] what: Bar,
    #[case] wanted: bool,
) {
    let natives = Choices { regime: regime.map(str::to_owned), ..common::choices(&[("switchgrass", 8.0)], SOWN) };
    assert_eq!(barred(&natives, 42.5, SOWN, on, None, what).is_some(), wanted);
}

/// A farm without weather is told of its winter all the same, on either side of the equator.
#[rstest]
#[case::north(date(2026, 8, 25), date(2026, 1, 1), true)]
#[case::south(date(2026, 8, 25), date(2026, 7, 1), false)]
#[case::southern_autumn(date(2026, 4, 10), date(2025, 7, 1), true)]
fn autumn_is_known_without_weather(#[case] sown: Date, #[case] year_start: Date, #[case] wanted: bool) {
    let (choices, ground) = (alfalfa(), Ground::default());
    let asked = Asked {
        choices: &choices,
        ground: &ground,
        area: Area::new(5.0, Unit::Ha),
        setback: Length::default(),
        today: plus(sown, 30),
        sown_on: Some(sown),
        year_start,
        usual: None,
    };
    let young = young(asked, &sown_book(sown), None).unwrap();
    assert_eq!(young.watch.iter().any(|watch| watch.key == "autumn-legume"), wanted);
    assert!(young.coming.is_empty());
}

fn sown_book(on: Date) -> StandBook {
    StandBook { operations: vec![ink(1, "sow", on)], ..StandBook::default() }
}

#[test]
fn an_old_stand_is_young_no_more() {
    let choices = alfalfa();
    let ground = Ground::default();
    let asked = Asked {
        choices: &choices,
        ground: &ground,
        area: Area::new(5.0, Unit::Ha),
        setback: Length::default(),
        today: plus(SOWN, 900),
        sown_on: Some(SOWN),
        year_start: date(2028, 1, 1),
        usual: None,
    };
    assert!(young(asked, &sown(), None).is_none());
    assert!(young(Asked { sown_on: None, ..asked }, &sown(), None).is_none());
}
