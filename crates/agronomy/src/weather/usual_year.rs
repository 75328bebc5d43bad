//! The usual growing year of a place: green-up in spring and the killing frost of autumn.
//!
//! Green-up is the start of the growing season of the Expert Team on Climate Change Detection and Indices (index GSL):
//! the first span of at least six days with a daily mean above a base. The base is the crop's; the index takes 5 °C.

use kernels::{
    day::{Years, days_between, plus, warm_middle, year_start},
    frost::{frost_years, quantile},
};

use jiff::civil::Date;

use crate::units::{Temperature, Unit};

/// Days above the base that make a season begin, by the index.
const SPAN: i32 = 6;
/// Days of a growing year that are looked through for its beginning.
const LOOKED: i32 = 300;

/// Usual days of a growing year, counted from its first: see [`kernels::day::year_start`].
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct UsualYear {
    /// Green-up; none where half of the years have none.
    pub green_up: Option<i32>,
    /// The first killing frost after midsummer; none where half of the years have none.
    pub frost: Option<i32>,
}

impl UsualYear {
    /// It never rests: it grows from the first day of the year, and no frost ends it.
    pub fn is_evergreen(&self) -> bool {
        self.green_up.is_some_and(|day| day <= SPAN) && self.frost.is_none()
    }
}

/// The middle of all years: green-up above a base, and the first frost at or below a threshold.
///
/// ```
/// use agronomy::{
///     units::{Temperature, Unit},
///     weather::{Basis, Day, Place, Years, plus, usual_year::usual_year},
/// };
/// use jiff::civil::date;
///
/// // Two years of -5 °C to the 9th of April, 15 °C to the 10th of October, and frost again.
/// let first = date(2024, 1, 1);
/// let day = |at: i32| {
///     let on = plus(first, at);
///     let warm = (date(on.year(), 4, 10)..=date(on.year(), 10, 10)).contains(&on);
///     let mean = if warm { 15.0 } else { -5.0 };
///     Day { tmin: mean - 1.0, tmax: mean + 1.0, rain: 0.0, ..Day::UNKNOWN }
/// };
/// let place = Place { latitude: 42.5, elevation: 380.0 };
/// let years = Years { place, first, days: (0..731).map(day).collect(), basis: Basis::Record };
/// let degrees = |value| Temperature::new(value, Unit::DegC);
/// let usual = usual_year(&years, degrees(5.0), degrees(-2.2));
/// // 10 April and 11 October.
/// assert_eq!((usual.green_up, usual.frost), (Some(100), Some(284)));
/// ```
pub fn usual_year(years: &Years, base: Temperature, killing: Temperature) -> UsualYear {
    let middle = |mut days: Vec<f64>| -> Option<i32> {
        days.sort_by(f64::total_cmp);
        quantile(&days, 0.5).filter(|day| day.is_finite()).map(|day| day.round() as i32)
    };
    let latitude = years.place.latitude;
    let springs = (years.first.year()..=years.last().year())
        .filter_map(|year| begins(years, year_start(latitude, warm_middle(latitude, year)), base.to(Unit::DegC)));
    let frosts = frost_years(years, killing.to(Unit::DegC)).into_iter().map(|one| {
        let start = year_start(latitude, one.summer);
        one.first.map_or(f64::INFINITY, |first| days_between(start, first).into())
    });
    UsualYear { green_up: middle(springs.collect()), frost: middle(frosts.collect()) }
}

/// Days from the start of a year until its season begins; infinite where it does not, none where the record does not reach.
/// A day that is not known breaks a span.
fn begins(years: &Years, start: Date, base: f64) -> Option<f64> {
    if start < years.first || years.last() < plus(start, LOOKED) {
        return None;
    }
    let mut span = 0;
    for at in 0..LOOKED {
        let warm = years.day(plus(start, at)).is_some_and(|day| (day.tmin + day.tmax) / 2.0 > base);
        span = if warm { span + 1 } else { 0 };
        if span == SPAN {
            return Some((at + 1 - SPAN).into());
        }
    }
    Some(f64::INFINITY)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::weather::{Basis, Day, Place};
    use jiff::civil::date;
    use rstest::rstest;

    fn degrees(value: f64) -> Temperature {
        Temperature::new(value, Unit::DegC)
    }

    /// Three years of a mean each day, told by the day of the year.
    fn years(latitude: f64, mean: fn(Date) -> f64) -> Years {
        let first = date(2023, 1, 1);
        let day = |at: i32| {
            let mean = mean(plus(first, at));
            Day { tmin: mean - 4.0, tmax: mean + 4.0, rain: 0.0, ..Day::UNKNOWN }
        };
        let days = (0..1_096).map(day).collect();
        Years { place: Place { latitude, elevation: 100.0 }, first, days, basis: Basis::Record }
    }

    /// A smooth year with a swing, coldest in the middle of January or July. By hand: 8 - 14 cos x is above 5 from
    /// x = arccos(3/14) = 1.355 on, 78.8 days after the 15th of January: day 94. Nights, 4 degrees below the mean, reach
    /// -2.2 where cos x = 6.2/14: 300.6 days after it, on day 316.
    #[rstest]
    #[case::cold_winters(45.0, |day| 8.0 - 14.0 * wave(day, 15), Some(93), Some(315))]
    #[case::the_south(-34.0, |day| 15.0 - 7.0 * wave(day, 197), Some(0), None)]
    #[case::no_winter(10.0, |_| 26.0, Some(0), None)]
    #[case::never_warm(70.0, |day| -6.0 - 8.0 * wave(day, 15), None, Some(210))]
    fn the_middle_of_the_years(
        #[case] latitude: f64,
        #[case] mean: fn(Date) -> f64,
        #[case] green_up: Option<i32>,
        #[case] frost: Option<i32>,
    ) {
        let usual = usual_year(&years(latitude, mean), degrees(5.0), degrees(-2.2));
        assert_eq!((usual.green_up, usual.frost), (green_up, frost));
        assert_eq!(usual.is_evergreen(), green_up == Some(0) && frost.is_none());
    }

    fn wave(day: Date, coldest: i32) -> f64 {
        (f64::from(i32::from(day.day_of_year()) - coldest) / 365.25 * std::f64::consts::TAU).cos()
    }

    /// Five warm days of a thaw in winter are no green-up, and a broken sensor makes none.
    #[test]
    fn a_thaw_is_no_spring() {
        let thaw = |day: Date| {
            let at = i32::from(day.day_of_year());
            if (20..25).contains(&at) || (60..65).contains(&at) || at >= 110 { 12.0 } else { -3.0 }
        };
        let mut years = years(45.0, thaw);
        let of = |years: &Years| usual_year(years, degrees(5.0), degrees(-2.2)).green_up;
        assert_eq!(of(&years), Some(109));
        for at in [64, 64 + 365, 64 + 731] {
            years.days[at] = Day::UNKNOWN;
        }
        assert_eq!(of(&years), Some(109));
    }

    #[test]
    fn half_a_year_tells_nothing() {
        let mut short = years(45.0, |_| 10.0);
        short.days.truncate(180);
        assert_eq!(usual_year(&short, degrees(5.0), degrees(-2.2)), UsualYear::default());
    }
}
