//! Weather years asked about a stand: which school reads the day, whose rule stands, what is assumed.

use agronomy::{
    units::{Area, Fraction, Length, Money, System, Temperature, Unit},
    weather::{Years, generator::Climate, place_normals, plus, soil_temperature::SoilReading},
    window::Forecast,
    years::{Known, Scenarios},
};
use jiff::civil::{Date, date};
use planner::{
    Facts,
    ground::{Asked, readiness},
    plan,
    weather::{Question, assumed, chosen_in_vain, growing_time, irrigation, on_its_day, seedbed, sowing, timings},
};
use records::{
    Choices, Cover,
    book::{Dated, Ground},
};
use rstest::rstest;
use uuid::Uuid;

use crate::{
    common::{self, step},
    recompute::{presented, recompute},
};

const TODAY: Date = date(2026, 5, 14);

fn choices(crops: &[&str], sow_on: Date) -> Choices {
    // 8 kg/ha of each.
    let crops: Vec<(&str, f64)> = crops.iter().map(|crop| (*crop, 7.137)).collect();
    common::choices(&crops, sow_on)
}

fn record() -> Years {
    Climate::new(&place_normals("northern-hills").unwrap()).years(9, date(1986, 1, 1), plus(TODAY, -1))
}

fn years(record: &Years) -> Scenarios {
    Scenarios::new(Known { years: record, today: TODAY, forecast: &Forecast::default() }, date(2026, 1, 1), 500)
}

struct Field {
    record: Years,
    years: Scenarios,
    ground: Ground,
}

impl Field {
    fn new(ground: Ground) -> Self {
        let record = record();
        Self { years: years(&record), record, ground }
    }

    fn question<'a>(&'a self, choices: &'a Choices) -> Question<'a> {
        let asked = Asked {
            choices,
            ground: &self.ground,
            area: Area::new(5.0, Unit::Ha),
            setback: Length::default(),
            today: TODAY,
            sown_on: None,
            year_start: date(2026, 1, 1),
            usual: None,
        };
        Question {
            asked,
            years: &self.years,
            level: Fraction::percent(50.0),
            stake: Some(Money::new(900.0, Unit::Money)),
        }
    }

    fn fit_from(&self, choices: &Choices) -> Option<Date> {
        readiness(self.question(choices).asked).unwrap().and_then(|answer| answer.value.earliest)
    }

    fn odds(&self, choices: &Choices) -> Option<planner::StepOdds> {
        let runs = self.years.site(&seedbed(choices, &self.ground, &self.record));
        on_its_day(choices, &sowing(self.question(choices), &runs, self.fit_from(choices)))
    }
}

#[test]
fn the_likeliest_school_reads_the_day_unless_one_was_chosen() {
    let field = Field::new(Ground::default());
    let august = choices(&["alfalfa"], date(2026, 8, 15));
    let odds = field.odds(&august).unwrap();
    assert_eq!(odds.window, "late-summer");
    assert!(odds.odds > 0.4 && odds.low < odds.odds && odds.odds < odds.high && odds.years > 30);
    assert!(odds.in_a_week.unwrap() < odds.odds + 0.2);
    let by_spring = Choices { timing: Some("spring".into()), ..august };
    let odds = field.odds(&by_spring).unwrap();
    assert_eq!((odds.window.as_str(), odds.odds), ("spring", 0.0));
    assert_eq!(odds.limited_by.as_deref(), Some("lengthening days"));
}

/// A timing that was chosen is reckoned, or it is said what it lacks; it is never answered by another. Common practice:
/// ryegrass is frost-seeded with clover in February, cool-season grasses are sown dormant, and legumes are drilled in
/// midsummer into a sod that rests.
#[rstest]
#[case::frost(&["perennial-ryegrass", "white-clover"], "frost-seeding", date(2027, 3, 24), 0.3)]
#[case::two_clovers(&["red-clover", "white-clover"], "frost-seeding", date(2027, 3, 24), 0.3)]
#[case::dormant(&["orchardgrass"], "dormant", date(2026, 12, 1), 0.5)]
#[case::resting(&["red-clover"], "resting-sod", date(2026, 7, 20), 0.0)]
#[case::moisture(&["alfalfa"], "into-moisture", date(2026, 8, 20), 0.1)]
#[case::not_usual(&["alfalfa"], "with-maize", date(2026, 5, 20), 0.0)]
fn a_timing_that_was_chosen_is_reckoned(
    #[case] crops: &[&str],
    #[case] way: &str,
    #[case] on: Date,
    #[case] least: f64,
) {
    let mut field = Field::new(Ground::default());
    field.years = Scenarios::new(
        Known { years: &field.record, today: TODAY, forecast: &Forecast::default() },
        plus(on, -200),
        400,
    );
    let chosen = Choices { timing: Some(way.into()), ..choices(crops, on) };
    let odds = field.odds(&chosen).unwrap();
    assert_eq!(odds.window, way);
    assert!(odds.odds >= least, "{odds:?}");
    assert!(
        timings(&chosen, true).iter().any(|one| one.window == way) || matches!(way, "into-moisture" | "with-maize")
    );
}

/// What only some growers do is weighed where it is chosen, and where the practice is made for it.
#[test]
fn unusual_timings_wait_to_be_chosen() {
    let field = Field::new(Ground::default());
    let worked = |choices: &Choices| {
        let runs = field.years.site(&seedbed(choices, &field.ground, &field.record));
        let answers = sowing(field.question(choices), &runs, None);
        answers.into_iter().map(|answer| (answer.value.window, answer.value.not_for)).collect::<Vec<_>>()
    };
    let mixed = choices(&["perennial-ryegrass", "white-clover"], date(2027, 2, 20));
    let keys = |choices: &Choices| worked(choices).into_iter().map(|(key, _)| key).collect::<Vec<_>>();
    assert_eq!(keys(&mixed), ["late-summer", "spring", "resting-sod"]);
    let offered: Vec<_> = timings(&mixed, true).into_iter().filter(|one| !one.usual).map(|one| one.window).collect();
    assert_eq!(offered, ["frost-seeding"]);
    let over = Choices { practice: "overseeded".into(), ..mixed.clone() };
    assert!(keys(&over).contains(&"frost-seeding".to_owned()));
    let drilled = Choices { practice: "tilled-then-no-till-drill".into(), ..choices(&["alfalfa"], date(2026, 8, 12)) };
    assert!(keys(&drilled).contains(&"into-moisture".to_owned()));
    assert!(!keys(&choices(&["alfalfa"], date(2026, 8, 12))).contains(&"into-moisture".to_owned()));
    // Who is sown in a way that is not theirs is named.
    let odd =
        Choices { timing: Some("frost-seeding".into()), ..choices(&["timothy", "red-clover"], date(2027, 2, 20)) };
    let told = worked(&odd).into_iter().find(|(key, _)| key == "frost-seeding").unwrap();
    assert_eq!(told.1, ["timothy"]);
}

/// Without frost there is no frost seeding: no other way answers for it.
#[test]
fn a_timing_that_can_not_be_says_what_it_lacks() {
    let chosen = Choices { timing: Some("frost-seeding".into()), ..choices(&["red-clover"], date(2026, 8, 12)) };
    assert_eq!(on_its_day(&chosen, &[]), None);
    let said = chosen_in_vain(&chosen, false).unwrap().told(None);
    assert!(said.starts_with("No odds for frost seeding: it needs frost"), "{said}");
    assert_eq!(chosen_in_vain(&chosen, true), None);
    assert_eq!(chosen_in_vain(&Choices { timing: None, ..chosen }, false), None);
}

#[test]
fn of_a_mix_the_fussiest_member_decides() {
    let field = Field::new(Ground::default());
    let on = date(2026, 5, 26);
    let alone = choices(&["timothy"], on);
    let mixed = choices(&["timothy", "alfalfa"], on);
    let warm = |choices: &Choices| {
        let runs = field.years.site(&seedbed(choices, &field.ground, &field.record));
        let answers = sowing(field.question(choices), &runs, field.fit_from(choices));
        let spring = answers.iter().find(|answer| answer.value.window == "spring").unwrap().value.clone();
        spring.curve.rules.iter().find(|rule| rule.key == "soil-warm").unwrap().measured[0].value
    };
    assert_eq!((warm(&alone).value, warm(&mixed).value), (7.0, 10.0));
    assert!(field.odds(&mixed).unwrap().odds <= field.odds(&alone).unwrap().odds + 1e-9);
}

#[rstest]
#[case("no-till")]
#[case("tilled")]
fn a_thermometer_and_the_seedbed_make_the_site(#[case] school: &str) {
    let reading = |day, celsius| SoilReading {
        on: date(2026, 5, day),
        depth: Length::new(3.0, Unit::Cm),
        temperature: Temperature::new(celsius, Unit::DegC),
    };
    let bare = Field::new(Ground::default());
    let read = Field::new(Ground { soil_readings: vec![reading(12, 2.0), reading(13, 2.5)], ..Ground::default() });
    let choices =
        Choices { practice: school.into(), timing: Some("spring".into()), ..choices(&["alfalfa"], date(2026, 5, 22)) };
    let site = seedbed(&choices, &read.ground, &read.record);
    assert!(site.correction.on(date(2026, 5, 13)) < -2.0, "{:?}", site.correction);
    assert!(seedbed(&choices, &bare.ground, &bare.record).correction.is_empty());
    assert!(read.odds(&choices).unwrap().odds < bare.odds(&choices).unwrap().odds);
}

#[test]
fn what_nobody_has_looked_at_is_said() {
    let said = assumed(&Ground::default());
    assert_eq!(said.len(), 3);
    let mut known = Ground::default();
    known.facts.texture = Some(agronomy::soil::Texture::Clay);
    known.facts.drainage = Some(agronomy::crop::Drainage::Poor);
    assert_eq!(assumed(&known).len(), 1);
}

#[test]
fn the_plan_carries_the_odds_until_it_is_sown() {
    let field = Field::new(Ground::default());
    let choices = choices(&["alfalfa"], date(2026, 8, 15));
    let facts = Facts { sowing: field.odds(&choices), ..Facts::default() };
    let planned = plan(&choices, &facts, TODAY);
    assert!(step(&planned, "sow").odds.is_some() && step(&planned, "count").odds.is_none());
    assert!(!planned.assumed.iter().any(|one| one.contains("no weather years")));
    assert!(plan(&choices, &Facts::default(), TODAY).assumed.iter().any(|one| one.contains("no weather years")));
    let sown = common::ink(1, "sow", date(2026, 5, 1));
    let facts = Facts { on_stand: vec![sown], ..facts };
    assert!(plan(&choices, &facts, TODAY).steps.iter().all(|step| step.odds.is_none()));
}

#[test]
fn growing_time_is_told_for_each_crop_of_the_mix() {
    let field = Field::new(Ground::default());
    let told = growing_time(&choices(&["alfalfa", "timothy"], date(2026, 8, 10)), &field.years);
    assert_eq!(told.iter().map(|(crop, _)| crop.as_str()).collect::<Vec<_>>(), ["alfalfa", "timothy"]);
    assert!(told.iter().all(|(_, left)| left.days[1] > 40.0 && left.days[1] < 90.0), "{told:?}");
    assert!(growing_time(&choices(&["alfalfa"], date(2035, 8, 10)), &field.years).is_empty(), "beyond the curve");
}

#[test]
fn water_is_advised_by_the_balance() {
    let mut ground = Ground::default();
    let stand = choices(&["alfalfa"], date(2025, 8, 10));
    let sown = Some(date(2025, 8, 10));
    assert!(irrigation(Field::new(ground.clone()).question(&stand), sown).is_none(), "no water there");
    ground.facts.irrigated = true;
    let dry = Field::new(ground.clone());
    let told = irrigation(dry.question(&stand), sown).unwrap();
    // Where the water comes from is not known: wastewater is cautioned against.
    assert!(told.cautions.iter().any(|one| one.key == "wastewater"), "{:?}", told.cautions);
    let before = told.value;
    assert!(before.every_days.is_none() && before.earliest <= before.by && before.by <= before.latest);
    ground.irrigation = vec![Dated { entry: Uuid::nil(), on: date(2026, 5, 13), what: Length::new(60.0, Unit::Mm) }];
    let watered = Field::new(ground);
    let after = irrigation(watered.question(&stand), sown).unwrap().value;
    assert!(after.missing.value < before.missing.value || before.missing.value == 0.0);
    assert!(after.by >= before.by, "{:?} {:?}", before.by, after.by);
    let seedlings = irrigation(dry.question(&stand), None).unwrap().value;
    assert!(seedlings.every_days.unwrap() < 8.0 && seedlings.depth.value < before.depth.value);
}

#[test]
fn plants_are_asked_about_like_seed() {
    let field = Field::new(Ground::default());
    let plants = records::PlantsChoice {
        crop: "giant-miscanthus".into(),
        row_spacing: None,
        in_row: None,
        pieces_per_station: None,
    };
    let choices = Choices { cover: Cover::Plants { plants }, ..choices(&["alfalfa"], date(2026, 5, 20)) };
    let odds = field.odds(&choices).unwrap();
    assert_eq!(odds.window, "warm-season");
    assert!(odds.odds > 0.2, "{}", odds.odds);
    // Rhizomes lie deeper than seed: the soil is asked about where they lie.
    assert!(seedbed(&choices, &field.ground, &field.record).depth_mm > 70);
}

#[test]
fn a_record_too_short_says_nothing() {
    let whole = record();
    let short = Years { days: whole.days[..700].to_vec(), ..whole };
    let field = Field { years: years(&short), record: short, ground: Ground::default() };
    let choices = choices(&["alfalfa"], date(2026, 8, 15));
    assert!(field.years.runs().is_empty());
    assert_eq!(field.odds(&choices), None);
    assert!(growing_time(&choices, &field.years).is_empty());
}

#[rstest]
#[case(20.0)]
#[case(60.0)]
fn the_level_sets_the_edges(#[case] percent: f64) {
    let field = Field::new(Ground::default());
    let choices = choices(&["alfalfa"], date(2026, 8, 15));
    let runs = field.years.site(&seedbed(&choices, &field.ground, &field.record));
    let level = Fraction::percent(percent);
    let answers = sowing(Question { level, ..field.question(&choices) }, &runs, field.fit_from(&choices));
    let late = &answers[0].value;
    for edge in [&late.edges.opens, &late.edges.closes].into_iter().flatten() {
        assert!(edge.odds >= percent / 100.0 && late.curve.on(edge.on) == Some(edge.odds));
    }
    let best = late.edges.best.as_ref().unwrap();
    assert!(late.curve.odds.iter().skip(133).all(|odds| *odds <= best.odds), "nothing beyond today is likelier");
}

/// Water's working is true as read, as those of the topics are: for a stand and for seedlings.
#[rstest]
#[case::stand(Some(date(2025, 4, 20)))]
#[case::seedlings(None)]
fn the_working_of_irrigation_gives_its_values(
    #[case] sown: Option<Date>,
    #[values(System::Us, System::Metric)] system: System,
) {
    let mut ground = Ground::default();
    ground.facts.irrigated = true;
    let stand = choices(&["alfalfa"], date(2026, 5, 20));
    let field = Field::new(ground);
    let answer = irrigation(field.question(&stand), sown).expect("irrigation available");
    assert!(recompute(&presented(&answer.working, system)) >= 1, "nothing was worked out again");
}
