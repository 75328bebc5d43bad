//! Odds: counted, never multiplied; conditioned on what is known; honest about how sure they are.

use agronomy::{
    crop::{Drainage, library},
    soil::Texture,
    units::{Fraction, Length, Measure, Money, Temperature, Unit},
    weather::{
        Day, Place, Years, days_between,
        generator::{Climate, Memory},
        place_normals, plus,
        soil_temperature::{Correction, SoilCover},
    },
    window::{
        Edges, Forecast, Odds, OddsRequest, Rule,
        growing_time::{TimeLeftRequest, growing_time_left},
        odds, offered, resolve, rules_of, try_rules, window_kind, window_kinds, window_odds,
    },
    years::{Known, Scenarios, Site},
};
use jiff::civil::{Date, date};
use proptest::prelude::*;
use rstest::rstest;
use serde_json::json;

const SITE: (Texture, Drainage) = (Texture::SiltLoam, Drainage::Moderate);

fn seedbed() -> Site {
    Site::seedbed(SITE.0, SITE.1, SoilCover::Bare, 30)
}

fn hills(seed: u64, from: i16, years: i16) -> Years {
    let climate = Climate::new(&place_normals("northern-hills").unwrap());
    climate.years(seed, date(from, 1, 1), date(from + years - 1, 12, 31))
}

fn climatology(years: &Years, first: Date, days: usize) -> Scenarios {
    Scenarios::new(Known { years, today: first, forecast: &Forecast::default() }, first, days)
}

/// Years of flat weather but for what a closure says.
fn made_up(years: i16, of: impl Fn(Date) -> (f64, f64)) -> Years {
    let first = date(1980, 1, 1);
    let count = days_between(first, date(1980 + years, 1, 1));
    let days = (0..count)
        .map(|index| {
            let (mean, rain) = of(plus(first, index));
            Day { tmin: mean - 5.0, tmax: mean + 5.0, rain, ..Day::UNKNOWN }
        })
        .collect();
    Years { place: Place { latitude: 40.0, elevation: 100.0 }, first, days, basis: agronomy::weather::Basis::Record }
}

fn rain_after(mm: f64) -> Rule {
    Rule::RainAfter { at_least: Length::new(mm, Unit::Mm), within_days: 10 }
}

fn cool(at_most: f64) -> Rule {
    Rule::MeanBelow { days: 10, at_most: Some(Temperature::new(at_most, Unit::DegC)) }
}

#[test]
fn what_never_comes_together_has_no_odds() {
    // In even years warm and dry, in odd ones cool and wet: each rule holds in half, both in none.
    let years = made_up(30, |day| if day.year() % 2 == 0 { (14.0, 4.0) } else { (10.0, 0.0) });
    let all = climatology(&years, date(2015, 6, 1), 60);
    let crop = library().crop("timothy").unwrap();
    let rules = [resolve(&rain_after(20.0), crop), resolve(&cool(12.0), crop)];
    let (odds, _) = odds(&all, &all.site(&seedbed()), &rules);
    assert!(odds.years >= 25);
    for rule in &odds.rules {
        assert!((rule.holds[30] - 0.5).abs() < 0.05, "{}: {}", rule.key, rule.holds[30]);
    }
    assert_eq!(odds.odds[30], 0.0, "a quarter is what multiplying would say");
    let limit = odds.limit(30).unwrap();
    assert!(limit.alone[30] > 0.4, "{limit:?}");
}

#[test]
fn odds_are_a_plain_count() {
    let years = hills(1, 1980, 35);
    let first = date(2020, 8, 1);
    let all = climatology(&years, first, 60);
    let crop = library().crop("alfalfa").unwrap();
    let rules = [
        resolve(&rain_after(25.0), crop),
        resolve(&Rule::GrowingDays { days: Some(50), before: None }, crop),
        resolve(&Rule::NoFrost { after_days: 5, days: 20, threshold: Some(Temperature::new(3.0, Unit::DegC)) }, crop),
        resolve(&Rule::NoDrySpell { longest: 9, within_days: 20 }, crop),
    ];
    let tried = try_rules(&all, &all.site(&seedbed()), &rules);
    // From day 20 on the runs show all of the dry spell that led to it.
    for day in [20, 31, 44] {
        let naive = all.runs().iter().filter(|run| {
            let own = &run.days()[day..];
            let rain: f64 = own[1..=10].iter().map(|day| day.rain).sum();
            let frost = own.iter().position(|day| day.tmin <= -2.2).unwrap_or(999);
            let longest_dry = (0..=20)
                .map(|at| (0..).take_while(|back| day + at >= *back && run.days()[day + at - back].rain < 2.0).count())
                .max()
                .unwrap_or(0);
            rain >= 25.0 && frost >= 50 && own[5..25].iter().all(|day| day.tmin > 3.0) && longest_dry <= 9
        });
        assert_eq!(tried.hits(day), naive.count(), "day {day}");
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]
    /// Asking for more never makes it likelier, and a rule more never either.
    #[test]
    fn harder_is_never_likelier(seed in 0..1_000_u64, mm in 1.0..40.0_f64, more in 0.1..30.0_f64, day in 0..80_usize) {
        let years = hills(seed, 1990, 22);
        let all = climatology(&years, date(2030, 4, 1), 90);
        let site = all.site(&seedbed());
        let crop = library().crop("orchardgrass").unwrap();
        let hits = |rules: &[Rule]| {
            let rules: Vec<_> = rules.iter().map(|rule| resolve(rule, crop)).collect();
            try_rules(&all, &site, &rules).hits(day)
        };
        let easy = hits(&[rain_after(mm)]);
        prop_assert!(hits(&[rain_after(mm + more)]) <= easy);
        let both = hits(&[rain_after(mm), Rule::Workable { days: 2, within_days: 5 }]);
        prop_assert!(both <= easy);
        let (curve, tried) = odds(&all, &site, &[resolve(&rain_after(mm), crop)]);
        for at in 0..curve.odds.len() {
            prop_assert!(curve.low[at] <= curve.odds[at] + 1e-3 && curve.odds[at] <= curve.high[at] + 1e-3);
        }
        prop_assert_eq!(tried.runs(), curve.years);
    }
}

#[test]
fn years_with_gaps_are_left_out_and_counted() {
    let mut years = hills(2, 1980, 35);
    let whole = climatology(&years, date(2020, 5, 1), 30);
    let gap = usize::try_from(days_between(years.first, date(1999, 6, 10))).unwrap();
    years.days[gap].rain = f64::NAN;
    let holed = climatology(&years, date(2020, 5, 1), 30);
    assert_eq!((whole.left_out, holed.left_out), (0, 1));
    assert_eq!(holed.runs().len() + 1, whole.runs().len());
    assert!(holed.runs().iter().all(|run| run.days().iter().all(|day| day.tells())));
}

#[test]
fn what_is_known_and_forecast_is_laid_over_every_year() {
    let years = hills(3, 1980, 41);
    let today = date(2020, 5, 14);
    let wet = Day { tmin: 8.0, tmax: 16.0, rain: 12.0, ..Day::UNKNOWN };
    let dry = Day { rain: 0.0, ..wet };
    let fan =
        |members: &[Day]| Forecast { from: Some(today), members: members.iter().map(|day| vec![*day; 12]).collect() };
    let crop = library().crop("timothy").unwrap();
    let share = |forecast: &Forecast| {
        let all = Scenarios::new(Known { years: &years, today, forecast }, date(2020, 4, 1), 90);
        let (curve, _) = odds(&all, &all.site(&seedbed()), &[resolve(&rain_after(40.0), crop)]);
        let known = usize::try_from(days_between(date(2020, 4, 1), today)).unwrap();
        let told = years.day(plus(today, -3)).unwrap();
        assert!(all.runs().iter().all(|run| run.days()[known - 3] == told), "days that have been are what they were");
        let past = try_rules(&all, &all.site(&seedbed()), &[resolve(&rain_after(40.0), crop)]).hits(known - 20);
        assert!(past == 0 || past == all.runs().len(), "the past has happened or not");
        curve.rules[0].holds[known]
    };
    assert_eq!(share(&fan(&[wet])), 1.0);
    assert!(share(&fan(&[dry])) < 0.2);
    let half = share(&fan(&[wet, dry]));
    assert!((half - 0.5).abs() < 0.15, "{half}");
}

#[test]
fn a_thermometer_moves_the_window() {
    let years = hills(4, 1980, 41);
    let today = date(2020, 4, 20);
    let forecast = Forecast::default();
    let all = Scenarios::new(Known { years: &years, today, forecast: &forecast }, date(2020, 4, 1), 60);
    let crop = library().crop("alfalfa").unwrap();
    let rule = [resolve(&Rule::SoilWarm { mornings: 3, by_mean: false, at_least: None }, crop)];
    let on = |offset: f64| {
        let readings = (17..20).map(|day| (date(2020, 4, day), offset)).collect();
        let site = Site { correction: Correction::new(readings), ..seedbed() };
        odds(&all, &all.site(&site), &rule).0.odds
    };
    let (colder, as_modelled, warmer) = (on(-3.0), on(0.0), on(3.0));
    assert!(colder[25] < as_modelled[25] && as_modelled[25] < warmer[25], "{} {}", as_modelled[25], warmer[25]);
    let fades = (warmer[55] - as_modelled[55]).abs();
    assert!(fades <= (warmer[25] - as_modelled[25]).abs() + 0.02, "a reading tells less of a month later");
}

#[test]
fn readings_are_met_and_forgotten() {
    let correction = Correction::new(vec![(date(2020, 5, 5), 2.0), (date(2020, 5, 1), -2.0), (date(2020, 5, 5), 4.0)]);
    assert_eq!(correction.on(date(2020, 4, 30)), 0.0);
    assert_eq!(correction.on(date(2020, 5, 1)), -2.0);
    assert_eq!(correction.on(date(2020, 5, 3)), 0.5);
    assert_eq!(correction.on(date(2020, 5, 5)), 3.0, "two readings of a day are averaged");
    assert!((correction.on(date(2020, 5, 20)) - 3.0 / std::f64::consts::E).abs() < 1e-9);
    assert!(correction.on(date(2021, 5, 20)).abs() < 1e-6);
}

fn asked(place: &str, crop: &str, window: Option<&str>, on: &str) -> OddsRequest {
    serde_json::from_value(
        json!({"crop": crop, "window": window, "on": on, "texture": "silt-loam", "drainage": "moderate",
        "weather": {"from": "generated", "years": {"place": place, "seed": 7, "from": "1980-01-01", "years": 45}}}),
    )
    .unwrap()
}

#[rstest]
#[case::spring_in_the_north("northern-hills", "alfalfa", "spring", 4..=6)]
#[case::autumn_in_the_north("northern-hills", "alfalfa", "late-summer", 8..=9)]
#[case::autumn_in_the_south("southern-plains", "alfalfa", "late-summer", 2..=5)]
#[case::natives_with_maize("northern-hills", "switchgrass", "with-maize", 4..=6)]
#[case::frost_seeding("northern-hills", "red-clover", "frost-seeding", 2..=3)]
#[case::dormant("northern-hills", "big-bluestem", "dormant", 11..=12)]
fn windows_lie_where_growers_sow(
    #[case] place: &str,
    #[case] crop: &str,
    #[case] window: &str,
    #[case] months: std::ops::RangeInclusive<i8>,
) {
    let answer = window_odds(&asked(place, crop, Some(window), "2025-06-15")).unwrap().value;
    let best = answer.edges.best.unwrap();
    assert!(months.contains(&best.on.month()) && best.odds > 0.3, "{best:?}");
}

#[test]
fn without_frost_nobody_is_told_of_frost() {
    let highland = window_odds(&asked("tropical-highland", "alfalfa", None, "2025-03-20")).unwrap().value;
    assert_eq!(highland.window, "rains");
    assert!(highland.curve.rules.iter().all(|rule| !rule.name.contains("frost")), "{:?}", highland.curve.rules);
    assert!(highland.edges.best.unwrap().odds > 0.5);
    let refused = window_odds(&asked("tropical-highland", "alfalfa", Some("late-summer"), "2025-03-20")).unwrap_err();
    assert_eq!(refused.0[0].pointer, "/window");
    let crop = library().crop("alfalfa").unwrap();
    assert!(offered(crop, true).all(|kind| kind.key != "rains"));
}

#[test]
fn every_way_of_every_crop_can_be_tried() {
    let years = hills(6, 1985, 30);
    let all = climatology(&years, date(2020, 1, 1), 366);
    let site = all.site(&seedbed());
    for crop in library().crops() {
        for kind in crop.climate.windows.iter().chain(&crop.climate.also).map(|key| window_kind(key).unwrap()) {
            let rules = rules_of(kind, crop, &all, false, &[]);
            let (curve, _) = odds(&all, &site, &rules);
            assert!(!rules.is_empty() && curve.odds.iter().all(|share| (0.0..=1.0).contains(share)));
            let irrigated = rules_of(kind, crop, &all, true, &[]);
            assert!(irrigated.len() < rules.len() || !rules.iter().any(|rule| rule.of_rain()));
        }
    }
    let told: Vec<_> = window_kinds().iter().map(|kind| kind.source().citation.len()).collect();
    assert!(told.len() == 9 && told.iter().all(|length| *length > 10));
}

#[test]
fn edges_tell_where_it_opens_and_what_is_in_the_way() {
    let request = asked("northern-hills", "alfalfa", Some("late-summer"), "2025-08-15");
    let answer = window_odds(&request).unwrap().value;
    let (opens, best, closes) = (answer.edges.opens.unwrap(), answer.edges.best.unwrap(), answer.edges.closes.unwrap());
    assert!(opens.on < best.on && best.on < closes.on && opens.odds >= 0.5 && closes.odds >= 0.5);
    assert_eq!(opens.limited_by_name.as_deref(), Some("past the summer weed flush"));
    assert_eq!(closes.limited_by.as_deref(), Some("growing-days"));
    let strict = OddsRequest { level: Fraction::percent(99.0), ..request.clone() };
    let strict = window_odds(&strict).unwrap().value;
    assert!(strict.edges.opens.is_none() && strict.edges.best == Some(best), "no level, no window; the best stays");
    // Lime that has not worked yet closes it altogether until its day.
    let limed = Rule::NotBefore { on: date(2025, 9, 1), why: "lime has to work".into() };
    let late = window_odds(&OddsRequest { rules: vec![limed], ..request }).unwrap().value;
    assert!(late.edges.best.unwrap().on >= date(2025, 8, 29) && late.asked == Some(0.0));
}

#[test]
fn a_weeks_delay_has_its_price() {
    let request = OddsRequest {
        stake: Some(Money::new(2_000.0, Unit::Money)),
        ..asked("northern-hills", "alfalfa", Some("late-summer"), "2025-09-01")
    };
    let value = window_odds(&request).unwrap().value;
    let lost = value.asked.unwrap() - value.in_a_week.unwrap();
    assert!(lost > 0.0);
    assert!((value.cost_of_a_week.unwrap().to(Unit::Money) - 2_000.0 * lost).abs() < 1e-6);
}

#[rstest]
#[case::few_years(json!({"weather": {"from": "generated", "years": {"place": "northern-hills", "from": "2015-01-01", "years": 6}}}), "/weather")]
#[case::unknown_crop(json!({"crop": "moon-grass"}), "/crop")]
#[case::level(json!({"level": {"value": 120, "unit": "%"}}), "/level")]
#[case::place(json!({"weather": {"from": "generated", "years": {"place": "the moon", "from": "2015-01-01", "years": 6}}}), "/weather/years/place")]
#[case::latitude(json!({"weather": {"from": "file", "latitude": 95, "text": "date,tmin\n2026-01-01,1\n"}}), "/weather/latitude")]
#[case::bad_file(json!({"weather": {"from": "file", "latitude": 45, "text": "date,tmin,tmax,rain\n2026-01-01,x,1,0\n"}}), "/weather/text")]
fn what_cannot_be_asked_is_refused(#[case] change: serde_json::Value, #[case] pointer: &str) {
    let mut request = serde_json::to_value(asked("northern-hills", "alfalfa", None, "2025-08-15")).unwrap();
    for (key, value) in change.as_object().unwrap() {
        request[key] = value.clone();
    }
    let refused = window_odds(&serde_json::from_value(request).unwrap()).unwrap_err();
    assert_eq!(refused.0[0].pointer, pointer, "{refused}");
}

#[test]
fn growing_time_runs_out() {
    let left = |on: &str| {
        let request: TimeLeftRequest = serde_json::from_value(json!({"crop": "forage-oats", "from": on,
            "weather": {"from": "generated", "years": {"place": "northern-hills", "seed": 7, "from": "1980-01-01", "years": 45}}}))
        .unwrap();
        growing_time_left(&request).unwrap().value
    };
    let (early, late) = (left("2026-08-01"), left("2026-09-01"));
    assert!(early.days[1] > late.days[1] + 25.0 && early.degree_days[1] > late.degree_days[1]);
    assert!(early.days.is_sorted() && early.frost.is_sorted() && early.frost_comes == Fraction::ONE);
    let boot = |left: &agronomy::window::growing_time::TimeLeft| left.stages[2].share.base();
    assert!(boot(&early) > 0.9 && boot(&late) < 0.5, "{} {}", boot(&early), boot(&late));
    let shares: Vec<f64> = early.stages.iter().map(|stage| stage.share.base()).collect();
    assert!(shares.is_sorted_by(|a, b| a >= b), "{shares:?}");
}

/// Stated odds come true as often as they say: 200 farms of their own climates, each with 40 years of
/// record, asked on days of years that the record does not hold; before the season, and a week
/// ahead with the season known and a forecast at hand. `docs/reliability.md` holds the table.
#[test]
fn stated_odds_come_true() {
    let base = place_normals("northern-hills").unwrap();
    let mut bins = [[[0.0_f64; 3]; 10]; 2];
    for farm in 0..200_u64 {
        // Each farm's climate is its own: up to 3 °C warmer or colder, a third wetter or drier.
        let part = |salt: u64| ((farm * 7919 + salt * 104_729) % 1_000) as f64 / 500.0 - 1.0;
        let mut normals = base.clone();
        for month in 0..12 {
            normals.tmin[month] += 3.0 * part(1);
            normals.tmax[month] += 3.0 * part(1) + part(2);
            normals.rain[month] *= 1.0 + 0.3 * part(3);
        }
        let climate = Climate::new(&normals);
        let seed = 10_000 + farm;
        let whole = climate.years(seed, date(1977, 1, 1), date(2021, 12, 31));
        let record = Years {
            days: whole.days[..days_between(whole.first, date(2020, 3, 1)) as usize].to_vec(),
            ..whole.clone()
        };
        let crop = library().crop(["alfalfa", "timothy", "forage-oats"][(farm % 3) as usize]).unwrap();
        let kind = window_kind(["spring", "late-summer"][(farm / 3 % 2) as usize]).unwrap();
        let (first, days) = (date(2020, 3, 1), 240);
        let forecast = Forecast::default();
        let before = Scenarios::new(Known { years: &record, today: first, forecast: &forecast }, first, days);
        let came = Scenarios::new(Known { years: &whole, today: date(2022, 1, 1), forecast: &forecast }, first, days);
        let site = Site::seedbed(
            [Texture::Loam, Texture::SandyLoam, Texture::ClayLoam][(farm % 3) as usize],
            Drainage::Moderate,
            SoilCover::Bare,
            30,
        );
        let rules = rules_of(kind, crop, &before, false, &[]);
        let truth = try_rules(&came, &came.site(&site), &rules);
        let stated = odds(&before, &before.site(&site), &rules).0;
        let mut count = |way: usize, said: f64, worked: bool| {
            let bin = &mut bins[way][((said * 10.0) as usize).min(9)];
            bin[0] += 1.0;
            bin[1] += said;
            bin[2] += f64::from(u8::from(worked));
        };
        let mut until_first = Memory::default();
        climate.run(&mut until_first, seed, date(1977, 1, 1), plus(first, -8));
        // Days far enough apart to count as tries of their own, and in a season of some odds.
        for day in (0..days).step_by(21).filter(|day| stated.odds[*day] > 0.0) {
            count(0, stated.odds[day], truth.worked(0, day));
            let today = plus(first, day as i32 - 7);
            let mut memory = until_first;
            climate.run(&mut memory, seed, plus(first, -7), plus(today, -1));
            let members = climate.forecast(memory, seed, today, 40, 14);
            let ensemble = Forecast { from: Some(today), members };
            let known = Scenarios::new(Known { years: &whole, today, forecast: &ensemble }, plus(first, day as i32), 1);
            let said = try_rules(&known, &known.site(&site), &rules);
            let share = said.hits(0) as f64 / said.runs() as f64;
            count(1, share, truth.worked(0, day));
        }
    }
    for (way, bins) in ["before the season", "a week ahead"].iter().zip(&bins) {
        println!("{way}\n| stated | came true | tries |");
        let mut tries = 0.0;
        for [count, said, worked] in bins.iter().filter(|bin| bin[0] > 0.0) {
            println!("| {:.0} % | {:.0} % | {count} |", 100.0 * said / count, 100.0 * worked / count);
            let said = said / count;
            // Three standard errors of so many tries, and what forty years can't tell apart.
            let allowed = 3.0 * (said * (1.0 - said) / count).sqrt() + 0.04;
            assert!(
                (worked / count - said).abs() <= allowed,
                "{way}: stated {said:.2}, came true {:.2} of {count}",
                worked / count
            );
            tries += count;
        }
        assert!(tries > 500.0, "{way}: {tries}");
    }
}

/// One past, many futures: until today all runs are one, and a future that went on from it is that of a run stepped all
/// the way by itself. (A day that nobody heard, foretold as it was, makes each run step for itself.)
#[test]
fn a_future_goes_on_from_the_past_as_if_it_had_been_stepped_by_itself() {
    let (first, today) = (date(2019, 1, 1), date(2019, 5, 14));
    let whole = Climate::new(&place_normals("northern-hills").unwrap()).years(7, date(1985, 1, 1), date(2019, 5, 13));
    let gap = plus(first, -149);
    let mut gappy = whole.clone();
    let lost = days_between(whole.first, gap) as usize;
    gappy.days[lost] = Day::UNKNOWN;
    let as_it_was = Forecast { from: Some(gap), members: vec![vec![whole.days[lost]]] };
    let site = Site {
        irrigation: vec![(date(2019, 5, 2), 20.0)],
        ..Site::seedbed(Texture::Loam, Drainage::Moderate, SoilCover::Residue, 20)
    };
    let one = Scenarios::new(Known { years: &whole, today, forecast: &Forecast::default() }, first, 400);
    let each = Scenarios::new(Known { years: &gappy, today, forecast: &as_it_was }, first, 400);
    assert_eq!((one.known(), each.known()), (days_between(first, today) as usize, 0));
    let (once, alone) = (one.site(&site), each.site(&site));
    let year = |all: &Scenarios, year: i16| all.runs().iter().position(|run| run.year == year).unwrap();
    for at in [1990, 2004, 2014] {
        let (once, alone) = (&once.runs()[year(&one, at)], &alone.runs()[year(&each, at)]);
        // They begin from the mean of one year more or less, and have forgotten it.
        assert!(once.means().iter().zip(alone.means()).all(|(a, b)| (a - b).abs() < 0.02), "{at}");
        assert_eq!((once.missing(), once.tops()), (alone.missing(), alone.tops()), "{at}");
    }
    let (some, other) = (&once.runs()[2], &once.runs()[20]);
    let known = one.known();
    assert_eq!(some.mornings()[..known], other.mornings()[..known]);
    assert_ne!(some.mornings()[known + 5..], other.mornings()[known + 5..]);
}

#[test]
fn days_that_were_not_heard_are_as_they_were_foretold() {
    // A record that stops a week before today, and the forecast of the day it stopped.
    let (heard, today) = (date(2015, 5, 31), date(2015, 6, 8));
    let mut years = made_up(36, |_| (12.0, 1.0));
    years.days.truncate(days_between(years.first, heard) as usize + 1);
    let wet = Day { tmin: 7.0, tmax: 17.0, rain: 20.0, ..Day::UNKNOWN };
    let forecast = Forecast { from: Some(plus(heard, 1)), members: vec![vec![wet; 14]] };
    let first = date(2015, 5, 1);
    let all = Scenarios::new(Known { years: &years, today, forecast: &forecast }, first, 90);
    let rain_on = |on: Date| {
        let day = days_between(first, on) as usize;
        let fell: Vec<f64> = all.runs().iter().map(|run| run.days()[day].rain).collect();
        assert!(fell.iter().all(|rain| *rain == fell[0]));
        fell[0]
    };
    assert_eq!(
        [heard, plus(heard, 1), plus(today, -1), plus(today, 6), plus(today, 7)].map(rain_on),
        [1.0, 20.0, 20.0, 20.0, 1.0]
    );
}

#[test]
fn the_window_told_is_the_one_nearest_the_day() {
    let from = date(2026, 1, 1);
    // Two seasons of odds: a lower one in days 50 to 69, a higher one in days 120 to 149.
    let odds = (0..200).map(|day| match day {
        50..70 => 0.6,
        120..150 => 0.6 + 0.01 * f64::from(day - 120),
        _ => 0.1,
    });
    let odds: Vec<f64> = odds.collect();
    let curve = Odds {
        from,
        low: odds.clone(),
        high: odds.clone(),
        odds,
        years: 40,
        basis: agronomy::weather::Basis::Record,
        left_out: 0,
        rules: vec![],
    };
    let edges = |level: f64, near: i32| {
        let told = curve.edges(level, from, plus(from, 200), plus(from, near));
        [told.opens, told.best, told.closes].map(|edge| edge.map(|edge| days_between(from, edge.on)))
    };
    assert_eq!(edges(0.5, 10), [Some(50), Some(50), Some(69)]);
    assert_eq!(edges(0.5, 60), [Some(50), Some(50), Some(69)]);
    assert_eq!(edges(0.5, 130), [Some(120), Some(149), Some(149)]);
    assert_eq!(edges(0.65, 60), [Some(125), Some(149), Some(149)], "what is open at all is nearest");
    assert_eq!(edges(0.95, 60), [None, Some(149), None], "nothing is: the best of all");
    let none = Odds { odds: vec![0.0; 200], ..curve.clone() };
    assert_eq!(none.edges(0.5, from, plus(from, 200), from), Edges::default());
}
