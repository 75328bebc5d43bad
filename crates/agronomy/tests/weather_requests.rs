//! What each reckoning of the weather takes, refuses, and answers at its edges.

use agronomy::{
    refusal::Refused,
    units::{Fraction, Measure, Unit},
    water::{self, BalanceRequest},
    weather::{
        Place, WeatherInput,
        degree_days::{DegreeDayRequest, degree_days},
        frost::{FrostRequest, frost},
        generate,
        generator::{Climate, hours},
        place_normals, plus,
        soil_temperature::{
            Ground, SoilCover, SoilDay, SoilTemperatureRequest, damping_depth, follow, soil_temperature,
        },
        sun::{RadiationRequest, radiation},
    },
    window::growing_time::{TimeLeftRequest, growing_time_left},
};
use jiff::civil::date;
use proptest::prelude::*;
use rstest::rstest;
use serde::de::DeserializeOwned;
use serde_json::{Value, json};

fn request<T: DeserializeOwned>(value: Value) -> T {
    serde_json::from_value(value).unwrap()
}

fn made(place: &str, years: u32) -> Value {
    json!({"from": "generated", "years": {"place": place, "seed": 4, "from": "1990-01-01", "years": years}})
}

fn file(text: &str) -> Value {
    json!({"from": "file", "latitude": 42.5, "elevation": 100, "text": text})
}

fn celsius(value: f64) -> Value {
    json!({"value": value, "unit": "degC"})
}

fn refused<T>(outcome: Result<T, Refused>) -> (String, String) {
    match outcome {
        Ok(_) => panic!("it was taken"),
        Err(Refused(all)) => (all[0].pointer.clone(), all[0].detail.to_string()),
    }
}

#[rstest]
#[case(json!({"latitude": -95, "day": "2026-05-14"}), "/latitude", "from −90 to 90")]
#[case(json!({"latitude": 40, "day": "2026-05-14", "sunshine_hours": 19}), "/sunshine_hours", "the day has 14")]
#[case(json!({"latitude": 40, "day": "2026-05-14", "tmin": celsius(9.0), "tmax": celsius(4.0)}), "/tmin", "above the highest")]
#[case(json!({"latitude": 40, "day": "2026-05-14", "elevation": {"value": 9000, "unit": "m"}}), "/elevation", "6000 m")]
fn radiation_refuses(#[case] asked: Value, #[case] pointer: &str, #[case] said: &str) {
    let (at, detail) = refused(radiation(&request::<RadiationRequest>(asked)));
    assert_eq!(at, pointer);
    assert!(detail.contains(said), "{detail}");
}

#[rstest]
#[case(json!({"base": celsius(10.0), "days": []}), "/days")]
#[case(json!({"base": celsius(60.0), "days": [{"tmin": celsius(1.0), "tmax": celsius(2.0)}]}), "/base")]
#[case(json!({"base": celsius(10.0), "cap": celsius(5.0), "days": [{"tmin": celsius(1.0), "tmax": celsius(2.0)}]}), "/cap")]
#[case(json!({"base": celsius(10.0), "days": [{"tmin": celsius(1.0), "tmax": celsius(2.0)}, {"tmin": celsius(9.0), "tmax": celsius(2.0)}]}), "/days/1/tmin")]
fn degree_days_refuse(#[case] asked: Value, #[case] pointer: &str) {
    assert_eq!(refused(degree_days(&request::<DegreeDayRequest>(asked))).0, pointer);
}

#[rstest]
#[case(json!({"place": "nowhere", "from": "2000-01-01", "years": 3}), "/place")]
#[case(json!({"from": "2000-01-01", "years": 3}), "/place")]
#[case(json!({"place": "northern-hills", "from": "2000-01-01", "years": 0}), "/years")]
#[case(json!({"place": "northern-hills", "from": "2000-01-01", "years": 900}), "/years")]
#[case(json!({"place": "northern-hills", "from": "1066-01-01", "years": 9}), "/from")]
fn generating_refuses(#[case] asked: Value, #[case] pointer: &str) {
    assert_eq!(refused(generate(&request(asked))).0, pointer);
}

#[rstest]
#[case("latitude", json!(123.0), "/normals/latitude")]
#[case("tmin", json!([40.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0]), "/normals/tmin/0")]
#[case("wet_days", json!([0.0, 5.0, 5.0, 5.0, 5.0, 5.0, 5.0, 5.0, 5.0, 5.0, 5.0, 5.0]), "/normals/wet_days/0")]
#[case("rain", json!([-4.0, 50.0, 50.0, 50.0, 50.0, 50.0, 50.0, 50.0, 50.0, 50.0, 50.0, 50.0]), "/normals/rain/0")]
fn normals_that_cannot_be_are_refused(#[case] part: &str, #[case] value: Value, #[case] pointer: &str) {
    let mut normals = serde_json::to_value(place_normals("southern-plains").unwrap()).unwrap();
    normals[part] = value;
    assert_eq!(refused(generate(&request(json!({"normals": normals, "from": "2000-01-01", "years": 2})))).0, pointer);
}

#[test]
fn normals_of_any_place_make_its_weather() {
    let mut normals = place_normals("southern-plains").unwrap();
    normals.latitude = 61.0;
    let asked = json!({"normals": normals, "seed": 9, "from": "2000-01-01", "years": 2});
    let made = generate(&request(asked.clone())).unwrap().value;
    assert_eq!((made.days, made.csv.lines().count()), (731, 732));
    let years = request::<WeatherInput>(json!({"from": "generated", "years": asked})).years().unwrap();
    // Eleven times more sun in June than in December at 61 degrees.
    let (june, december) = (years.day(date(2000, 6, 21)).unwrap(), years.day(date(2000, 12, 21)).unwrap());
    assert!(june.radiation > 4.0 * december.radiation);
}

#[test]
fn frost_needs_a_whole_year_and_names_its_dates() {
    let short = json!({"weather": file("date,tmin,tmax,rain\n2026-01-01,-3,2,0\n"), "year": 2026});
    let (at, detail) = refused(frost(&request::<FrostRequest>(short)));
    assert!(at == "/weather" && detail.contains("the record has no complete summer"), "{detail}");
    let told = frost(&request::<FrostRequest>(json!({"weather": made("northern-hills", 25), "year": 2026}))).unwrap();
    let light = &told.value[0];
    assert_eq!((light.summers, light.share_with_frost), (25, Fraction::ONE));
    assert!(light.last_in_spring.is_sorted() && light.first_in_autumn.is_sorted());
    assert!(light.last_in_spring[0].is_some() && light.first_in_autumn[2].is_some());
    assert!(light.last_in_spring[1] < light.first_in_autumn[1] && light.days_between.unwrap() > 90.0);
    // The colder the frost, the longer the season between.
    let between: Vec<f64> = told.value.iter().filter_map(|one| one.days_between).collect();
    assert!(between.is_sorted(), "{between:?}");
    let never =
        frost(&request::<FrostRequest>(json!({"weather": made("tropical-highland", 12), "year": 2026}))).unwrap();
    // Where hard frost is rare its dates are those of all years, not of the few that had it.
    let mild =
        frost(&request::<FrostRequest>(json!({"weather": made("southern-plains", 40), "year": 2026}))).unwrap().value;
    for pair in mild.windows(2) {
        assert!(pair[1].share_with_frost <= pair[0].share_with_frost);
        for (harder, lighter) in pair[1].last_in_spring.iter().zip(&pair[0].last_in_spring) {
            assert!(harder <= lighter, "{harder:?} {lighter:?}: none is before any");
        }
        for (harder, lighter) in pair[1].first_in_autumn.iter().zip(&pair[0].first_in_autumn) {
            assert!(lighter.is_some() || harder.is_none(), "{harder:?} without {lighter:?}");
            assert!(harder.is_none() || harder >= lighter, "{harder:?} {lighter:?}");
        }
    }
    assert!(mild[2].share_with_frost < Fraction::percent(90.0) && mild[2].first_in_autumn[2].is_none());
    assert!(never.value.iter().all(|one| one.first_in_autumn == [None; 3] && one.share_with_frost == Fraction::ZERO));
}

#[rstest]
#[case(json!({"depth": {"value": 2, "unit": "m"}}), "/depth")]
#[case(json!({"depth": {"value": 3, "unit": "cm"}, "readings": [{"on": "1990-05-01", "depth": {"value": 3, "unit": "cm"}, "temperature": celsius(99.0)}]}), "/readings/0/temperature")]
#[case(json!({"depth": {"value": 3, "unit": "cm"}, "readings": [{"on": "1990-05-01", "depth": {"value": 3, "unit": "m"}, "temperature": celsius(9.0)}]}), "/readings/0/depth")]
fn soil_temperature_refuses(#[case] mut asked: Value, #[case] pointer: &str) {
    asked["weather"] = made("northern-hills", 1);
    assert_eq!(refused(soil_temperature(&request::<SoilTemperatureRequest>(asked))).0, pointer);
}

#[test]
fn a_reading_is_met_on_its_morning() {
    let asked = |readings: Value| {
        let all =
            json!({"weather": made("northern-hills", 1), "depth": {"value": 3, "unit": "cm"}, "readings": readings});
        soil_temperature(&request::<SoilTemperatureRequest>(all)).unwrap().value
    };
    let reading = json!([{"on": "1990-05-01", "depth": {"value": 3, "unit": "cm"}, "temperature": celsius(7.5)}]);
    let (plain, read) = (asked(json!([])), asked(reading));
    assert!((read.morning[120].unwrap() - 7.5).abs() < 1e-9);
    assert_eq!(plain.morning[119], read.morning[119], "nothing changes before it");
    let gone = (read.morning[200].unwrap() - plain.morning[200].unwrap()).abs();
    assert!(gone < 0.1 * (7.5 - plain.morning[120].unwrap()).abs(), "it fades");
}

/// Cover, depth and texture do to the soil what a hand feels.
#[test]
fn deeper_is_steadier_and_cover_shades() {
    let years = request::<WeatherInput>(made("northern-hills", 2)).years().unwrap();
    let of = |cover, depth: f64| -> Vec<SoilDay> {
        follow(&years, Ground::new(agronomy::soil::Texture::Loam, cover), depth).into_iter().flatten().collect()
    };
    let spread = |days: &[SoilDay]| {
        let mean = days.iter().map(|day| day.mean).sum::<f64>() / days.len() as f64;
        (days.iter().map(|day| (day.mean - mean).powi(2)).sum::<f64>() / days.len() as f64).sqrt()
    };
    let [shallow, deep] = [0.02, 0.40].map(|depth| of(SoilCover::Bare, depth));
    assert!(spread(&deep) < spread(&shallow));
    let drop = |days: &[SoilDay]| days.iter().map(|day| day.mean - day.morning).sum::<f64>() / days.len() as f64;
    assert!(drop(&deep) < 0.1 * drop(&shallow), "the day's wave does not reach far");
    let warm = |days: &[SoilDay]| days[150..240].iter().map(|day| day.mean).sum::<f64>() / 90.0;
    assert!(warm(&shallow) > warm(&of(SoilCover::Residue, 0.02)) + 0.5, "residue keeps the sun off");
    assert!(damping_depth(0.5, 365.0) > 15.0 * damping_depth(0.5, 1.0));
}

#[rstest]
#[case(json!({"weather": made("northern-hills", 1), "texture": "loam", "drainage": "well", "crop": "moon-grass"}), "/crop")]
#[case(json!({"weather": file("date,tmin\n2026-05-01,4\n"), "texture": "loam", "drainage": "well"}), "/weather")]
#[case(json!({"weather": made("northern-hills", 1), "texture": "loam", "drainage": "well",
    "irrigation": [{"on": "1990-06-01", "depth": {"value": 2, "unit": "m"}}]}), "/irrigation/0/depth")]
#[case(json!({"weather": made("northern-hills", 1), "texture": "loam", "drainage": "well", "soil": {"wilting_point": {"value": 30, "unit": "%"}}}), "/soil/wilting_point")]
#[case(json!({"weather": made("northern-hills", 1), "texture": "loam", "drainage": "well", "soil": {"curve_number": 120}}), "/soil/curve_number")]
#[case(json!({"weather": made("northern-hills", 1), "texture": "loam", "drainage": "well", "root_depth": {"value": 1, "unit": "cm"}}), "/root_depth")]
#[case(json!({"weather": made("northern-hills", 1), "texture": "loam", "drainage": "well", "depletion": {"value": 100, "unit": "%"}}), "/depletion")]
#[case(json!({"weather": made("northern-hills", 1), "texture": "loam", "drainage": "well", "top_missing": {"value": 80, "unit": "mm"}}), "/top_missing")]
#[case(json!({"weather": made("northern-hills", 1), "texture": "loam", "drainage": "well",
    "coefficients": [{"on": "1990-06-01", "basal": 0.3}, {"on": "1990-05-01", "basal": 1.0}]}), "/coefficients/1/on")]
#[case(json!({"weather": made("northern-hills", 1), "texture": "loam", "drainage": "well",
    "coefficients": [{"on": "1990-06-01", "basal": 3}]}), "/coefficients/0/basal")]
fn the_balance_refuses(#[case] asked: Value, #[case] pointer: &str) {
    assert_eq!(refused(water::balance(&request::<BalanceRequest>(asked))).0, pointer);
}

#[test]
fn irrigation_ends_the_stress() {
    let asked = |irrigation: Value| {
        let all = json!({"weather": made("southern-plains", 1), "crop": "alfalfa", "texture": "sandy-loam", "drainage": "well",
            "irrigation": irrigation});
        water::balance(&request::<BalanceRequest>(all)).unwrap().value
    };
    let dry = asked(json!([]));
    let weekly: Vec<Value> = (0..50)
        .map(|week| json!({"on": plus(date(1990, 1, 3), 7 * week).to_string(), "depth": {"value": 35, "unit": "mm"}}))
        .collect();
    let watered = asked(json!(weekly));
    assert!(watered.stress_days < dry.stress_days, "{} {}", watered.stress_days, dry.stress_days);
    assert!((watered.irrigated.value - 1_750.0).abs() < 1e-6 && dry.irrigated.value == 0.0);
    assert_eq!(watered.rain, dry.rain);
    assert!(watered.drained.value > dry.drained.value && watered.used.value >= dry.used.value);
}

#[test]
fn growing_time_needs_years_and_says_when_frost_does_not_come() {
    let asked = |place: &str, years| {
        request::<TimeLeftRequest>(json!({"crop": "white-clover", "from": "2019-03-01", "weather": made(place, years)}))
    };
    let (at, detail) = refused(growing_time_left(&asked("northern-hills", 8)));
    assert!(
        at == "/weather" && detail.contains("complete years; odds need at least ten, and thirty are best"),
        "{detail}"
    );
    let highland = growing_time_left(&asked("tropical-highland", 30)).unwrap().value;
    assert_eq!((highland.frost_comes, highland.frost.len()), (Fraction::ZERO, 0));
    assert!(highland.stages.iter().all(|stage| stage.share == Fraction::ONE));
}

proptest! {
    /// The hours of a day add up to it, wherever and whenever.
    #[test]
    fn hours_are_their_day(latitude in -60.0..60.0_f64, ahead in 0..365_i32, seed in 0..500_u64) {
        let mut normals = place_normals("northern-hills").unwrap();
        normals.latitude = latitude;
        let climate = Climate::new(&normals);
        let from = plus(date(2020, 1, 1), ahead);
        let days = climate.years(seed, plus(from, -1), plus(from, 2)).days;
        let place = Place { latitude, elevation: 100.0 };
        let of = |index: usize| hours(place, plus(from, index as i32 - 1), [days[index - 1], days[index], days[index + 1]], seed);
        let (day, hours, tomorrow) = (days[1], of(1), of(2));
        let sum = |of: fn(&agronomy::weather::generator::Hour) -> f64| hours.iter().map(of).sum::<f64>();
        prop_assert!((sum(|hour| hour.rain) - day.rain).abs() < 1e-9);
        prop_assert!((sum(|hour| hour.radiation) - day.radiation).abs() < 1e-9);
        prop_assert!(hours.iter().all(|hour| hour.temperature <= day.tmax + 1e-9 && (5.0..=100.0).contains(&hour.humidity)));
        // Midnight is no step, but where one day is colder than the other throughout.
        if days[1].tmax > days[2].tmin && days[2].tmax > days[1].tmax - 5.0 {
            let step = (hours[23].temperature - tomorrow[0].temperature).abs();
            prop_assert!(step < 0.25 * (days[1].tmax - days[2].tmin) + 0.5, "{step} °C at midnight");
        }
        let dark = hours.iter().filter(|hour| hour.radiation == 0.0).count();
        prop_assert!(dark >= 3, "{dark} hours of night at {latitude}");
    }

    /// Sun of a latitude in summer is sun of its mirror in its own.
    #[test]
    fn the_hemispheres_mirror_each_other(latitude in 0.0..66.0_f64, day in 1..366_i32) {
        let on = plus(date(2019, 1, 1), day - 1);
        let ask = |latitude: f64| {
            let asked = json!({"latitude": latitude, "day": on.to_string()});
            radiation(&request::<RadiationRequest>(asked)).unwrap().value
        };
        let (north, south) = (ask(latitude), ask(-latitude));
        prop_assert!((north.daylight_hours + south.daylight_hours - 24.0).abs() < 1e-6);
        prop_assert!(north.extraterrestrial.base() >= 0.0 && north.clear_sky.to(Unit::MjPerM2) < 45.0);
    }
}
