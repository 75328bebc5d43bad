//! Each rule of a window by itself, on weather made so that there is only one answer.

use agronomy::{
    crop::{Drainage, library},
    soil::Texture,
    units::{Fraction, Length, Temperature, ThermalTime, Unit},
    weather::{Day, Place, Years, days_between, plus, soil_temperature::SoilCover},
    window::{Forecast, Rule, resolve, try_rules},
    years::{Known, Scenarios, Site},
};
use jiff::civil::{Date, date};
use rstest::rstest;

const FIRST: Date = date(2015, 1, 1);

/// Thirty-five years alike: each day's mean temperature, range and rain by its day of the year.
fn alike(latitude: f64, of: impl Fn(f64) -> (f64, f64, f64)) -> Scenarios {
    let first = date(1980, 1, 1);
    let count = days_between(first, date(2018, 1, 1));
    let days = (0..count)
        .map(|index| {
            let (mean, range, rain) = of(f64::from(plus(first, index).day_of_year()));
            Day { tmin: mean - range / 2.0, tmax: mean + range / 2.0, rain, ..Day::UNKNOWN }
        })
        .collect();
    let years =
        Years { place: Place { latitude, elevation: 100.0 }, first, days, basis: agronomy::weather::Basis::Record };
    Scenarios::new(Known { years: &years, today: FIRST, forecast: &Forecast::default() }, FIRST, 365)
}

/// A northern year: coldest in mid-January, warmest in mid-July, dry but for what is said.
fn north(swing: f64, mean: f64, rain: impl Fn(f64) -> f64) -> Scenarios {
    alike(45.0, |day| (mean - swing * (2.0 * std::f64::consts::PI * (day - 15.0) / 365.0).cos(), 10.0, rain(day)))
}

fn site() -> Site {
    Site::seedbed(Texture::Loam, Drainage::Moderate, SoilCover::Residue, 30)
}

/// On which days of the year the rule holds, the years being alike.
fn holds(all: &Scenarios, rule: &Rule) -> Vec<bool> {
    let crop = library().crop("alfalfa").unwrap();
    let tried = try_rules(all, &all.site(&site()), &[resolve(rule, crop)]);
    (0..365)
        .map(|day| {
            // Leap years shift a day: of years that are nearly alike most agree.
            tried.hits(day) * 2 > tried.runs()
        })
        .collect()
}

fn first_and_last(days: &[bool]) -> (usize, usize) {
    (days.iter().position(|day| *day).unwrap(), days.iter().rposition(|day| *day).unwrap())
}

fn celsius(value: f64) -> Temperature {
    Temperature::new(value, Unit::DegC)
}

#[test]
fn days_grow_from_solstice_to_solstice() {
    let all = north(12.0, 8.0, |_| 0.0);
    let (first, last) = first_and_last(&holds(&all, &Rule::DaysGrow { longer: false, for_days: 0 }));
    assert!((171..=174).contains(&first) && (350..=357).contains(&last), "{first} {last}");
    let (after, _) = first_and_last(&holds(&all, &Rule::DaysGrow { longer: false, for_days: 28 }));
    assert_eq!(after, first + 28);
    let longer = holds(&all, &Rule::DaysGrow { longer: true, for_days: 0 });
    assert!(longer[60] && !longer[200]);
    let south = alike(-45.0, |_| (10.0, 10.0, 0.0));
    assert!(!holds(&south, &Rule::DaysGrow { longer: true, for_days: 0 })[60], "turned round");
}

#[rstest]
#[case(1)]
#[case(3)]
#[case(10)]
fn the_soil_must_have_been_warm_for_so_many_mornings(#[case] mornings: u32) {
    let all = north(12.0, 8.0, |_| 0.0);
    let rule = |mornings| Rule::SoilWarm { mornings, by_mean: false, at_least: Some(celsius(10.0)) };
    let (one, _) = first_and_last(&holds(&all, &rule(1)));
    let (several, _) = first_and_last(&holds(&all, &rule(mornings)));
    assert!((several as i64 - one as i64 - i64::from(mornings) + 1).abs() <= 1, "{one} {several}");
    let by_mean = Rule::SoilWarm { mornings, by_mean: true, at_least: Some(celsius(10.0)) };
    assert!(first_and_last(&holds(&all, &by_mean)).0 < several, "means are warmer than mornings");
}

#[test]
fn warm_soil_is_to_come_just_so_many_days_before_it_does() {
    let all = north(12.0, 8.0, |_| 0.0);
    // Alfalfa wants 10 °C; the rule asks for a day's mean.
    let (warm, _) =
        first_and_last(&holds(&all, &Rule::SoilWarm { mornings: 1, by_mean: true, at_least: Some(celsius(10.0)) }));
    let (to_come, _) = first_and_last(&holds(&all, &Rule::WarmthToCome { within_days: 30 }));
    assert!((warm as i64 - to_come as i64 - 29).abs() <= 1, "{warm} {to_come}");
}

#[test]
fn nothing_sprouts_when_the_soil_gathers_no_warmth() {
    let all = north(14.0, 8.0, |_| 0.0);
    let rule = Rule::SoilCool { at_most: ThermalTime::new(10.0, Unit::DegCDay), days: 60 };
    let cool = holds(&all, &rule);
    assert!(cool[330] && !cool[120] && !cool[200], "November, not May or July");
    let strict = Rule::SoilCool { at_most: ThermalTime::new(0.0, Unit::DegCDay), days: 60 };
    let strict = holds(&all, &strict);
    assert!(strict.iter().zip(&cool).all(|(strict, cool)| !strict || *cool));
}

#[test]
fn sleep_is_broken_while_cold_enough_is_still_to_come() {
    let all = north(14.0, 8.0, |_| 0.0);
    let rule = |days, within_days| Rule::Chill { at_most: celsius(7.0), days, within_days };
    let chilled = holds(&all, &rule(42, 120));
    assert!(chilled[330] && chilled[5] && !chilled[120] && !chilled[200], "November and January, not May or July");
    let longer = holds(&all, &rule(80, 120));
    assert!(longer.iter().zip(&chilled).all(|(longer, chilled)| !longer || *chilled), "more cold is never easier");
    assert!(holds(&all, &rule(121, 120)).iter().all(|holds| !holds));
}

/// Under snow the ground does not open and close: heavy snow in the new year takes the nights away.
#[test]
fn snow_keeps_frost_from_working_seed_in() {
    let rule = Rule::FreezeThaw { nights: 10, within_days: 28 };
    let open = holds(&north(16.0, 4.0, |_| 0.0), &rule);
    let snowed = holds(&north(16.0, 4.0, |day| if day < 60.0 { 15.0 } else { 0.0 }), &rule);
    assert!(open[75] && !snowed[75]);
}

#[test]
fn frost_and_thaw_alternate_only_around_freezing() {
    let all = north(16.0, 4.0, |_| 0.0);
    let rule = Rule::FreezeThaw { nights: 10, within_days: 28 };
    let days = holds(&all, &rule);
    assert!(days[75] && !days[190], "in March, not in July");
    // With means down to −12 and a range of 10, mid-January never thaws.
    assert!(!days[5]);
}

#[test]
fn seedlings_are_out_of_frost_a_stretch_after_the_last_one() {
    let all = north(12.0, 8.0, |_| 0.0);
    let threshold = Some(celsius(-1.0));
    let rule = |after_days, days| Rule::NoFrost { after_days, days, threshold };
    let (soon, _) = first_and_last(&holds(&all, &rule(0, 20)));
    let (later, last) = first_and_last(&holds(&all, &rule(10, 20)));
    assert_eq!(soon as i64 - later as i64, 10, "seed may lie in the ground while it still freezes");
    let (_, sooner_last) = first_and_last(&holds(&all, &rule(10, 40)));
    assert!((last as i64 - sooner_last as i64 - 20).abs() <= 1);
}

#[test]
fn growing_days_run_out_one_a_day() {
    let all = north(14.0, 8.0, |_| 0.0);
    let rule = |days| Rule::GrowingDays { days: Some(days), before: Some(celsius(-2.2)) };
    let last = |days| first_and_last(&holds(&all, &rule(days))[..330]).1;
    let (forty, sixty) = (last(40), last(60));
    assert!((forty as i64 - sixty as i64 - 20).abs() <= 1, "{forty} {sixty}");
    // A late frost of spring ends no season: in April the autumn is what counts.
    assert!(holds(&all, &rule(60))[110]);
}

/// The frost that was asked for, not one near it: on a cosine the day on which the nights reach it is known.
#[rstest]
fn a_frost_is_the_one_asked_for(#[values(0.0, -1.0, -2.2, -3.3, -4.0, -6.0, -8.0)] threshold: f64) {
    let all = north(14.0, 8.0, |_| 0.0);
    let rule = Rule::GrowingDays { days: Some(40), before: Some(celsius(threshold)) };
    let last = first_and_last(&holds(&all, &rule)[..330]).1;
    // Nights are 3 − 14 cos(2π (day − 15) / 365).
    let first_frost = 380.0 - 365.0 / (2.0 * std::f64::consts::PI) * ((3.0 - threshold) / 14.0).acos();
    assert!((last as f64 + 1.0 + 40.0 - first_frost).abs() <= 1.5, "{last} for a frost on day {first_frost}");
}

#[test]
fn rain_counts_from_the_day_after() {
    let all = north(5.0, 12.0, |day| if (150.0..151.0).contains(&day) { 20.0 } else { 0.0 });
    let rule = Rule::RainAfter { at_least: Length::new(15.0, Unit::Mm), within_days: 10 };
    let (first, last) = first_and_last(&holds(&all, &rule));
    assert!((last as i64 - first as i64 - 9).abs() <= 1, "{first} {last}");
    assert!((last as i64 - 148).abs() <= 1, "the day before it falls is the last");
}

#[test]
fn a_dry_spell_is_long_when_it_is() {
    // Rain every fifth day until midsummer, none after.
    let all = north(5.0, 12.0, |day| if day < 180.0 && day % 5.0 == 0.0 { 4.0 } else { 0.0 });
    let days = holds(&all, &Rule::NoDrySpell { longest: 6, within_days: 20 });
    assert!(days[100] && days[150] && !days[175] && !days[250]);
}

#[test]
fn heat_is_a_mean_over_the_days_after() {
    let all = north(10.0, 14.0, |_| 0.0);
    let days = holds(&all, &Rule::MeanBelow { days: 28, at_most: Some(celsius(20.0)) });
    assert!(days[60] && !days[190] && days[270]);
    let own = holds(&all, &Rule::MeanBelow { days: 28, at_most: None });
    assert!(own.iter().filter(|day| **day).count() >= days.iter().filter(|day| **day).count(), "alfalfa bears 21");
}

#[test]
fn wet_ground_is_not_worked_and_dry_ground_is() {
    let all = north(8.0, 14.0, |day| if (140.0..170.0).contains(&day) { 25.0 } else { 0.0 });
    let workable = holds(&all, &Rule::Workable { days: 2, within_days: 4 });
    assert!(workable[120] && !workable[155] && workable[200]);
    let trafficable = holds(&all, &Rule::Trafficable { within_days: 3 });
    assert!(trafficable[200]);
    assert!(workable.iter().zip(&trafficable).all(|(work, carry)| !work || *carry), "what is worked carries");
    let moist = holds(&all, &Rule::Moist { at_least: Fraction::percent(60.0) });
    assert!(moist[155] && !moist[260]);
}

#[test]
fn snow_lies_in_winter() {
    let all = north(16.0, 2.0, |_| 1.5);
    let free = holds(&all, &Rule::SnowFree);
    assert!(!free[30] && free[200]);
    assert!(!holds(&all, &Rule::Trafficable { within_days: 3 })[30]);
}

#[test]
fn maize_time_lies_around_one_day() {
    let all = north(12.0, 8.0, |_| 0.0);
    let days = holds(&all, &Rule::NearMaize { before_days: 14, after_days: 21 });
    let (first, last) = first_and_last(&days);
    assert!((last as i64 - first as i64 - 35).abs() <= 2, "{first} {last}");
    let (sown, _) = first_and_last(&holds(&all, &Rule::NearMaize { before_days: 0, after_days: 0 }));
    assert!((sown as i64 - first as i64 - 14).abs() <= 1 && (90..200).contains(&sown), "{sown}");
    let never = north(3.0, 4.0, |_| 0.0);
    assert!(!holds(&never, &Rule::NearMaize { before_days: 14, after_days: 21 }).contains(&true), "too cold for maize");
}

#[test]
fn a_sod_rests_when_it_is_warm_and_dry() {
    let dry = north(10.0, 14.0, |_| 0.2);
    let wet = north(10.0, 14.0, |_| 6.0);
    let rule = Rule::SodRests { at_least: celsius(18.0), days: 21 };
    assert!(holds(&dry, &rule)[210] && !holds(&dry, &rule)[60]);
    assert!(!holds(&wet, &rule)[210], "watered it grows");
}

#[test]
fn not_before_is_not_before() {
    let all = north(10.0, 10.0, |_| 0.0);
    let days = holds(&all, &Rule::NotBefore { on: date(2015, 4, 10), why: "lime has to work".into() });
    assert_eq!(first_and_last(&days), (99, 364));
    let crop = library().crop("alfalfa").unwrap();
    let rule = resolve(&Rule::NotBefore { on: FIRST, why: "lime has to work".into() }, crop);
    assert_eq!(rule.name, "lime has to work");
}

/// Of the same rule for two crops, the stricter is the one that holds on fewer days.
#[rstest]
#[case(Rule::SoilWarm { mornings: 3, by_mean: false, at_least: None })]
#[case(Rule::MeanBelow { days: 28, at_most: None })]
#[case(Rule::NoFrost { after_days: 10, days: 30, threshold: None })]
#[case(Rule::GrowingDays { days: None, before: None })]
fn the_stricter_of_two_is_told(#[case] rule: Rule) {
    let all = north(12.0, 10.0, |_| 0.0);
    let site = all.site(&site());
    let of = |id: &str| resolve(&rule, library().crop(id).unwrap());
    let (alfalfa, switchgrass) = (of("alfalfa"), of("switchgrass"));
    let days = |rule: &agronomy::window::Resolved| {
        let tried = try_rules(&all, &site, std::slice::from_ref(rule));
        (0..365).map(|day| tried.hits(day)).sum::<usize>()
    };
    assert!(!alfalfa.stricter_than(&alfalfa));
    assert_ne!(alfalfa.stricter_than(&switchgrass), switchgrass.stricter_than(&alfalfa));
    let (strict, mild) =
        if alfalfa.stricter_than(&switchgrass) { (alfalfa, switchgrass) } else { (switchgrass, alfalfa) };
    assert!(days(&strict) <= days(&mild), "{} {}", days(&strict), days(&mild));
}

#[test]
fn water_of_the_field_makes_its_ground_wet() {
    let all = north(8.0, 14.0, |_| 0.0);
    let crop = library().crop("alfalfa").unwrap();
    let rule = [resolve(&Rule::Workable { days: 1, within_days: 1 }, crop)];
    let hits = |site: &Site| try_rules(&all, &all.site(site), &rule).hits(150);
    let dry = site();
    let on = plus(FIRST, 150);
    let gauged = Site { gauge: vec![(on, 60.0)], ..site() };
    let watered = Site { irrigation: vec![(plus(on, -1), 90.0)], ..site() };
    assert!(hits(&dry) > 0 && hits(&gauged) == 0 && hits(&watered) == 0);
    let keys = [dry.key(), gauged.key(), watered.key(), site().key()];
    assert!(keys[0] == keys[3] && keys[0] != keys[1] && keys[1] != keys[2], "alike is alike, and only that");
}
