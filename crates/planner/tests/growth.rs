//! What stands in a field and what its cuts will give, by what was recorded and the years.

use agronomy::{
    nutrients::Nutrient,
    units::{Area, Fraction, Length, MassPerArea, Series, Unit},
    weather::{Day, Years, generator::Climate, place_normals, plus, usual_year::UsualYear},
    window::Forecast,
    working::Answer,
    years::{Known, Scenarios},
};
use jiff::civil::{Date, date};
use planner::{
    Facts, Uses,
    ground::Asked,
    growth::{StandGrowth, growth},
    plan,
};
use records::{
    DressingKind,
    book::{Cut, Dated, Dressing, Ground},
};
use rstest::rstest;
use uuid::Uuid;

use crate::{
    common::{choices, ink},
    recompute::{presented, recompute},
};

const TODAY: Date = date(2026, 6, 20);
const HILLS: UsualYear = UsualYear { green_up: Some(99), frost: Some(282) };

fn record() -> Years {
    Climate::new(&place_normals("northern-hills").unwrap()).years(9, date(1986, 1, 1), plus(TODAY, -1))
}

fn cut(on: Date, harvested: Option<f64>) -> Dated<Cut> {
    let what = Cut {
        crop: "alfalfa".into(),
        harvested: MassPerArea::new(harvested.unwrap_or(0.0), Unit::TPerHa),
        moisture: Some(Fraction::percent(15.0)),
        after_frost: false,
        analysis: Default::default(),
    };
    Dated { entry: Uuid::from_u128(on.day_of_year() as u128), on, what }
}

fn dressing(on: Date, kg_ha: f64) -> Dated<Dressing> {
    let what = Dressing {
        what: DressingKind::Fertiliser,
        product: "urea".into(),
        rate: MassPerArea::new(kg_ha / 0.46, Unit::KgPerHa),
        analysis: [(Nutrient::N, Fraction::percent(46.0))].into(),
        effective: None,
    };
    Dated { entry: Uuid::from_u128(7_000), on, what }
}

/// A stand sown on a day, used for hay.
fn told(
    crop: &str,
    sown_on: Option<Date>,
    ground: &Ground,
    record: &Years,
) -> Result<Answer<StandGrowth>, agronomy::said::Said> {
    let choices = choices(&[(crop, 15.0)], sown_on.unwrap_or(TODAY));
    let uses =
        Uses { from: vec![(2024, "hay-by-stage".to_owned())], year_start: Some(date(2026, 1, 1)), usual: Some(HILLS) };
    let on_stand = sown_on
        .map(|on| ink(1, "sow", on))
        .into_iter()
        .chain(ground.cuts.iter().enumerate().map(|(at, cut)| ink(100 + at as u128, "cut", cut.on)));
    let facts = Facts { on_stand: on_stand.collect(), uses, ..Facts::default() };
    let plan = plan(&choices, &facts, TODAY);
    let asked = Asked {
        choices: &choices,
        ground,
        area: Area::new(5.0, Unit::Ha),
        setback: Length::default(),
        today: TODAY,
        sown_on,
        year_start: date(2026, 1, 1),
        usual: Some(HILLS),
    };
    let known = Known { years: record, today: TODAY, forecast: &Forecast::default() };
    growth(asked, &plan.steps, record, &Scenarios::new(known, date(2026, 1, 1), 500))
}

fn middle(series: &Series) -> f64 {
    series.values[1].unwrap()
}

#[test]
fn cuts_done_are_told_by_this_years_weather_and_those_to_come_by_the_years() {
    let record = record();
    let ground = Ground { cuts: vec![cut(date(2026, 6, 4), Some(4.0))], ..Ground::default() };
    let answer = told("alfalfa", Some(date(2023, 4, 28)), &ground, &record).unwrap();
    let growth = &answer.value;
    let [first, second, ..] = growth.cuts.as_slice() else { panic!("{:?}", growth.cuts) };
    assert!(first.done && first.on == date(2026, 6, 4), "{first:?}");
    // 4 t of hay at 15 % moisture.
    assert!((first.weighed.unwrap().to(Unit::TPerHa) - 3.4).abs() < 1e-9);
    assert!((2.0..6.0).contains(&middle(&first.taken)) && first.taken.values[0] == first.taken.values[2]);
    assert!(!second.done && second.on > TODAY, "{second:?}");
    assert!(second.taken.values[0] < second.taken.values[2] && (1.0..4.5).contains(&middle(&second.taken)));
    let all: f64 = growth.cuts.iter().map(|cut| middle(&cut.taken)).sum();
    assert!((middle(&growth.year) - all).abs() < 0.15 * all, "{} of {all}", middle(&growth.year));
    // The curve is whole: from the year's first day to today, and from there on.
    assert_eq!((growth.from, growth.so_far.values.len()), (date(2026, 1, 1), 170));
    assert_eq!(growth.so_far.values[154], Some(0.0), "cut on the 4th of June");
    assert!(growth.middle.values.len() >= 150 && growth.low.values.len() == growth.high.values.len());
    for ((low, middle), high) in growth.low.values.iter().zip(&growth.middle.values).zip(&growth.high.values) {
        assert!(low <= middle && middle <= high);
    }
    assert!(growth.years > 30 && growth.guessed == 0);
    for system in [agronomy::units::System::Us, agronomy::units::System::Metric] {
        recompute(&presented(&answer.working, system));
    }
}

/// More is left standing where nothing was cut; nitrogen makes grass, and a field that was watered stands higher.
/// A stand that was entered when it stood already was not left uncut for years: its dead growth would stand in the first cut.
#[test]
fn seasons_without_a_record_were_cut_all_the_same() {
    let record = record();
    let each_year = |year: i16| [date(year, 6, 1), date(year, 7, 5), date(year, 8, 10)].map(|on| cut(on, Some(3.0)));
    let recorded = Ground { cuts: [2024, 2025].into_iter().flat_map(each_year).collect(), ..Ground::default() };
    let first = |ground: &Ground| {
        let growth = told("orchardgrass", Some(date(2023, 4, 28)), ground, &record).unwrap().value;
        let assumed = growth.assumed.iter().any(|one| one.told(None).contains("assumed cut as this one is planned"));
        (middle(&growth.cuts.iter().find(|cut| !cut.done).unwrap().taken), assumed)
    };
    let ((known, none), (entered, assumed)) = (first(&recorded), first(&Ground::default()));
    assert!(assumed && !none);
    assert!((entered / known - 1.0).abs() < 0.2, "{entered} t/ha beside {known}");
}

#[test]
fn what_was_recorded_counts() {
    let (record, sown) = (record(), Some(date(2023, 4, 28)));
    let above = |crop: &str, ground: &Ground| told(crop, sown, ground, &record).unwrap().value.above.to(Unit::KgPerHa);
    let uncut = above("alfalfa", &Ground::default());
    let cut_once = above("alfalfa", &Ground { cuts: vec![cut(date(2026, 6, 4), None)], ..Ground::default() });
    assert!(uncut > 2.0 * cut_once, "{uncut} {cut_once}");
    // Carried off for two years and never fed.
    let carried_off =
        [2024, 2025].into_iter().flat_map(|year| [(6, 5), (7, 20), (9, 1)].map(|(m, d)| date(year, m, d)));
    let mown = Ground { cuts: carried_off.map(|on| cut(on, None)).collect(), ..Ground::default() };
    let hungry = above("orchardgrass", &mown);
    let fed = above("orchardgrass", &Ground { dressings: vec![dressing(date(2026, 4, 12), 90.0)], ..mown });
    assert!(fed > 1.3 * hungry, "{fed} {hungry}");
}

/// Days that no station told are as those of an earlier year, and said to be.
#[test]
fn days_that_nobody_measured_are_counted() {
    let mut record = record();
    let last = record.days.len();
    record.days[last - 40..last - 30].fill(Day::UNKNOWN);
    let growth = told("alfalfa", Some(date(2023, 4, 28)), &Ground::default(), &record).unwrap().value;
    assert_eq!(growth.guessed, 10);
}

#[rstest]
#[case::nothing_sown("alfalfa", None, "Not sown yet")]
#[case::just_sown("alfalfa", Some(plus(TODAY, -5)), "Not emerged")]
fn what_can_not_be_told_says_why(#[case] crop: &str, #[case] sown: Option<Date>, #[case] why: &str) {
    let said = told(crop, sown, &Ground::default(), &record()).unwrap_err().told(None);
    assert!(said.contains(why), "{said}");
}

#[test]
fn few_years_tell_nothing() {
    let whole = record();
    let record = Years { first: date(2020, 1, 1), days: whole.days[(2020 - 1986) * 365 + 9..].to_vec(), ..whole };
    let said = told("alfalfa", Some(date(2023, 4, 28)), &Ground::default(), &record).unwrap_err().told(None);
    assert!(said.contains("ten years"), "{said}");
}

/// Sown before the record begins, a stand begins with it, as old as it was.
#[test]
fn an_old_stand_begins_with_the_record() {
    let record = record();
    let young = told("timothy", Some(date(2022, 4, 28)), &Ground::default(), &record).unwrap().value;
    let old = told("timothy", Some(date(1970, 4, 28)), &Ground::default(), &record).unwrap().value;
    assert!(old.above < young.above, "{:?} {:?}", old.above, young.above);
    assert!(young.grass && young.crops == ["timothy"]);
}
