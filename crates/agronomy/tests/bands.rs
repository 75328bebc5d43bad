//! The band of the years, and this year against it.

use agronomy::{
    weather::{
        Day, Place, Years,
        band::{WeatherBand, band},
        days_between,
        frost::dates,
        generator::Climate,
        place_normals, plus, warm_middle,
    },
    window::Forecast,
};
use jiff::civil::{Date, date};
use rstest::rstest;

const TODAY: Date = date(2020, 5, 14);

fn record(place: &str) -> Years {
    let normals = place_normals(place).unwrap();
    Climate::new(&normals).years(2, date(1980, 1, 1), plus(TODAY, -1))
}

fn of(years: &Years, forecast: &Forecast, from: Date, days: usize) -> WeatherBand {
    let soil: Vec<Option<f64>> = years.days.iter().map(|day| day.tells().then_some(day.mean())).collect();
    band(years, &soil, forecast, TODAY, from, days)
}

#[rstest]
fn a_value_a_day_and_the_quantiles_in_order(
    #[values("northern-hills", "southern-plains", "tropical-highland")] place: &str,
) {
    let band = of(&record(place), &Forecast::default(), date(2020, 1, 1), 366);
    for values in [&band.low, &band.middle, &band.high, &band.soil_middle, &band.frost] {
        assert_eq!(values.len(), 366);
        assert!(values.iter().all(|value| value.is_finite()));
    }
    for day in 0..366 {
        assert!(band.low[day] <= band.middle[day] && band.middle[day] <= band.high[day], "{place}, day {day}");
        assert!((0.0..=1.0).contains(&band.frost[day]));
    }
}

#[test]
fn what_has_been_is_known_and_what_has_not_is_not() {
    let years = record("northern-hills");
    let band = of(&years, &Forecast::default(), date(2020, 5, 1), 31);
    for (ahead, known) in band.temperature.iter().enumerate() {
        let date = plus(band.from, ahead as i32);
        assert_eq!(known.is_some(), date < TODAY, "{date}");
        assert_eq!(band.rain[ahead].is_some(), date < TODAY);
        assert_eq!(band.soil[ahead].is_some(), date < TODAY);
    }
    let told = years.day(date(2020, 5, 3)).unwrap();
    assert!((band.temperature[2].unwrap() - told.mean()).abs() <= 0.051, "to a tenth");
}

#[test]
fn the_forecast_is_a_fan_from_today_on() {
    let member = |warm: f64| {
        (0..5).map(|_| Day { tmin: warm - 5.0, tmax: warm + 5.0, rain: 0.0, ..Day::UNKNOWN }).collect::<Vec<_>>()
    };
    let members = (0..11).map(|step| member(f64::from(step))).collect();
    let forecast = Forecast { from: Some(TODAY), members };
    let band = of(&record("northern-hills"), &forecast, plus(TODAY, -3), 12);
    let fan: Vec<_> = band.forecast_low.iter().zip(&band.forecast_high).collect();
    assert!(fan[..3].iter().all(|(low, high)| low.is_none() && high.is_none()), "nothing is foretold of the past");
    assert_eq!(fan[3], (&Some(1.0), &Some(9.0)), "one in ten below, nine in ten below");
    assert!(fan[8..].iter().all(|(low, _)| low.is_none()), "nor beyond its last day");
    // Counted round, a thirteenth year takes the second member.
    assert_eq!(forecast.of(12, TODAY).unwrap().tmax, 6.0);
    assert!(forecast.of(0, plus(TODAY, 5)).is_none() && forecast.of(0, plus(TODAY, -1)).is_none());
}

#[rstest]
#[case("northern-hills", 42.5)]
#[case("southern-plains", -33.9)]
fn frost_falls_towards_summer_and_rises_after_it(#[case] place: &str, #[case] latitude: f64) {
    let years = record(place);
    let summer = warm_middle(latitude, 2020);
    let band = of(&years, &Forecast::default(), plus(summer, -150), 301);
    let middle = usize::try_from(days_between(band.from, summer)).unwrap();
    assert!(band.frost[..middle].is_sorted_by(|a, b| a >= b), "{place}: no day makes a late frost likelier");
    assert!(band.frost[middle..].is_sorted_by(|a, b| a <= b), "{place}: once it has come it has come");
    assert_eq!(band.frost[middle], 0.0);
    assert!(band.frost[0] > 0.1 && band.frost[300] > 0.1, "{place}: {} {}", band.frost[0], band.frost[300]);
}

/// The band's half and the table's middle are one fact told twice.
#[rstest]
#[case("northern-hills", 42.5)]
#[case("southern-plains", -33.9)]
fn the_band_crosses_one_half_where_the_frost_table_says(#[case] place: &str, #[case] latitude: f64) {
    let years = record(place);
    let summer = warm_middle(latitude, 2020);
    let band = of(&years, &Forecast::default(), plus(summer, -181), 363);
    let killing = &dates(&years, summer.year())[1];
    let crossing = |falls: bool| {
        let pairs = band
            .frost
            .windows(2)
            .position(|pair| if falls { pair[0] >= 0.5 && pair[1] < 0.5 } else { pair[0] < 0.5 && pair[1] >= 0.5 });
        pairs.map(|before| plus(band.from, before as i32 + 1))
    };
    for (crossed, told) in [(crossing(true), killing.last_in_spring[1]), (crossing(false), killing.first_in_autumn[1])]
    {
        match (crossed, told) {
            (Some(crossed), Some(told)) => assert!(days_between(told, crossed).abs() <= 3, "{crossed} and {told}"),
            // In the mild south fewer than half of the years know it.
            (None, None) => assert_eq!(place, "southern-plains"),
            apart => panic!("{place}: {apart:?}"),
        }
    }
}

#[test]
fn a_highland_without_frost_shows_none() {
    let band = of(&record("tropical-highland"), &Forecast::default(), date(2020, 1, 1), 366);
    assert!(band.frost.iter().all(|share| *share == 0.0));
}

#[test]
fn a_gap_is_a_gap() {
    let mut years = record("northern-hills");
    let at = usize::try_from(days_between(years.first, date(2020, 5, 4))).unwrap();
    years.days[at] = Day::UNKNOWN;
    let band = of(&years, &Forecast::default(), date(2020, 5, 1), 10);
    assert!(band.temperature[3].is_none() && band.rain[3].is_none() && band.soil[3].is_none());
    assert!(band.temperature[2].is_some() && band.middle[3].is_finite());
}

#[test]
fn days_that_are_the_same_every_year_have_no_spread() {
    let first = date(1990, 1, 1);
    let days = vec![Day { tmin: 5.0, tmax: 15.0, rain: 1.0, ..Day::UNKNOWN }; 365 * 20];
    let years =
        Years { place: Place { latitude: 50.0, elevation: 0.0 }, first, days, basis: agronomy::weather::Basis::Record };
    let band = of(&years, &Forecast::default(), date(2020, 1, 1), 366);
    assert!(band.low.iter().chain(&band.middle).chain(&band.high).all(|value| *value == 10.0));
}
