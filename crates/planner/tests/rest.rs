//! The rest of a sowing: fit days, the forecast, and the odds that are left.

use agronomy::{
    units::{Measure, Time, Unit},
    weather::{Day, Place, Years, generator::Climate, place_normals, plus},
    window::Forecast,
};
use jiff::civil::{Date, date};
use planner::rest::{Rest, rest};
use rstest::rstest;

use crate::common;

const TODAY: Date = date(2026, 5, 14);

fn record(years: i16) -> Years {
    let from = date(2026 - years, 1, 1);
    let made = Climate::new(&place_normals("northern-hills").unwrap()).years(9, from, plus(TODAY, -1));
    let place = Place { latitude: made.place.latitude, elevation: made.place.elevation };
    let days = made.days.iter().enumerate().map(|(at, day)| (plus(made.first, at as i32), *day));
    Years::new(place, days.collect::<Vec<_>>()).unwrap()
}

fn told(hours: f64, years: i16, forecast: &Forecast) -> Option<Rest> {
    let choices = common::choices(&[("alfalfa", 16.0)], TODAY);
    let record = record(years);
    common::under_sky(&choices, Some(plus(TODAY, -1)), TODAY, (&record, forecast), |asked, sky| {
        rest(asked, sky, Time::new(hours, Unit::H))
    })
}

/// Fourteen days, all alike in all members.
fn all_days(rain: f64) -> Forecast {
    let day = Day { tmin: 9.0, tmax: 21.0, rain, ..Day::UNKNOWN };
    Forecast { from: Some(TODAY), members: vec![vec![day; 14]; 10] }
}

#[test]
fn the_more_is_left_the_later_it_is_done_and_nothing_is_done_today() {
    let by: Vec<Rest> = [0.0, 8.0, 24.0, 60.0].iter().map(|h| told(*h, 40, &Forecast::default()).unwrap()).collect();
    assert_eq!(by.iter().map(|one| one.fit_days).collect::<Vec<_>>(), [0, 1, 3, 6]);
    assert_eq!(by[0].done_by, [Some(TODAY); 3]);
    for (less, more) in by.iter().zip(&by[1..]) {
        assert!(less.done_by.iter().zip(more.done_by).all(|(less, more)| more.is_none_or(|more| *less <= Some(more))));
        assert!(less.days.iter().zip(&more.days).all(|(less, more)| less.done.base() >= more.done.base()));
    }
    for one in &by {
        assert!(one.days.windows(2).all(|two| two[0].done.base() <= two[1].done.base()), "what is done stays done");
        assert!(
            one.days.iter().all(|day| [day.fit, day.rain, day.done].iter().all(|x| (0.0..=1.0).contains(&x.base())))
        );
    }
    // Six days take at least six.
    assert!(by[3].done_by[0].unwrap() >= plus(TODAY, 5));
}

/// A foretold fortnight without rain lets it be done as fast as there are days; one of rain lets nothing be done.
#[rstest]
#[case::dry(0.0)]
#[case::wet(15.0)]
fn the_forecast_decides_the_next_days(#[case] rain: f64) {
    let told = told(24.0, 40, &all_days(rain)).unwrap();
    if rain == 0.0 {
        assert!(told.days.iter().all(|day| day.rain.base() == 0.0));
        assert!(told.days[6].fit.base() > 0.9, "{:?}", told.days[6]);
        assert!(told.done_by[1].unwrap() <= plus(TODAY, 6), "{:?}", told.done_by);
    } else {
        assert!(told.days.iter().all(|day| day.rain.base() == 1.0 && day.fit.base() == 0.0));
        assert!(told.done_by[0].is_none_or(|day| day >= plus(TODAY, 14)), "{:?}", told.done_by);
        assert!(told.odds_today.unwrap().base() < 0.5, "it can't be worked");
    }
}

#[test]
fn too_few_years_tell_nothing() {
    assert!(told(8.0, 6, &Forecast::default()).is_none());
}
