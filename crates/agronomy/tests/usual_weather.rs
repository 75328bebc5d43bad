//! Years made from a climate table: they come to what the table says, and claim no more than it can.

use agronomy::{
    chance::wilson,
    units::{Length, Temperature, Unit},
    weather::{
        Basis, Forecast, Place, place_normals,
        usual::{MADE_YEARS, Month, check, made},
    },
    years::{Known, Scenarios},
};
use jiff::civil::date;
use rstest::rstest;

const HERE: Place = Place { latitude: 42.5, elevation: 380.0 };

fn hills() -> Vec<Month> {
    let normals = place_normals("northern-hills").unwrap();
    (0..12)
        .map(|month| Month {
            lowest: Temperature::new(normals.tmin[month], Unit::DegC),
            highest: Temperature::new(normals.tmax[month], Unit::DegC),
            rain: Length::new(normals.rain[month], Unit::Mm),
            rainy_days: normals.wet_days[month],
        })
        .collect()
}

/// What is made comes to what was told: within three standard errors of so many years (days hang together, so that a
/// month's mean strays by about a quarter of a day's spread).
#[test]
fn forty_years_come_to_the_table() {
    let (months, today) = (hills(), date(2026, 5, 14));
    let years = made(&months, HERE, 7, today).unwrap();
    assert_eq!((years.first, years.last(), years.basis), (date(1986, 1, 1), date(2025, 12, 31), Basis::Normals));
    let whole = f64::from(MADE_YEARS);
    for (index, month) in months.iter().enumerate() {
        let of: Vec<_> = years
            .days
            .iter()
            .enumerate()
            .map(|(at, day)| (agronomy::weather::plus(years.first, at as i32), day))
            .filter(|(on, _)| usize::from(on.month() as u8) == index + 1)
            .map(|(_, day)| day)
            .collect();
        let mean =
            |value: fn(&agronomy::weather::Day) -> f64| of.iter().map(|day| value(day)).sum::<f64>() / of.len() as f64;
        let stray = 3.0 * 6.5 / 4.0 / whole.sqrt() + 0.2;
        assert!((mean(|day| day.tmin) - month.lowest.to(Unit::DegC)).abs() < stray, "lowest of month {index}");
        assert!((mean(|day| day.tmax) - month.highest.to(Unit::DegC)).abs() < stray, "highest of month {index}");
        let rain = of.iter().map(|day| day.rain).sum::<f64>() / whole;
        assert!((rain / month.rain.to(Unit::Mm) - 1.0).abs() < 0.3, "rain of month {index}: {rain}");
        let wet = of.iter().filter(|day| day.rain >= 0.25).count() as f64 / whole;
        assert!((wet - month.rainy_days).abs() < 2.0, "rainy days of month {index}: {wet}");
    }
    // The same table makes the same years; another entry makes others.
    assert_eq!(made(&months, HERE, 7, today).unwrap(), years);
    assert_ne!(made(&months, HERE, 8, today).unwrap().days[0], years.days[0]);
}

/// Days stray about as far as in the three kinds of place that the rule was fitted to: within a third.
#[rstest]
#[case("northern-hills")]
#[case("southern-plains")]
#[case("tropical-highland")]
fn days_stray_as_far_as_they_do(#[case] place: &str) {
    let normals = place_normals(place).unwrap();
    let months: Vec<Month> = (0..12)
        .map(|month| Month {
            lowest: Temperature::new(normals.tmin[month], Unit::DegC),
            highest: Temperature::new(normals.tmax[month], Unit::DegC),
            rain: Length::new(normals.rain[month], Unit::Mm),
            rainy_days: normals.wet_days[month],
        })
        .collect();
    let here = Place { latitude: normals.latitude, elevation: normals.elevation };
    let years = made(&months, here, 3, date(2026, 5, 14)).unwrap();
    for month in [1, 7] {
        let own: Vec<f64> = (0..years.days.len())
            .filter(|at| agronomy::weather::plus(years.first, *at as i32).month() == month)
            .map(|at| years.days[at].tmin)
            .collect();
        let mean = own.iter().sum::<f64>() / own.len() as f64;
        let spread = (own.iter().map(|low| (low - mean).powi(2)).sum::<f64>() / own.len() as f64).sqrt();
        let told = normals.spread[month as usize - 1];
        assert!((spread / told - 1.0).abs() < 0.34, "{place}, month {month}: {spread} where {told} is");
    }
}

/// However many years are made, the interval around their odds is that of ten: half of them leaves 27 to 73 % open
/// (Wilson 1927, 90 %).
#[test]
fn made_years_claim_no_more_than_ten() {
    let years = made(&hills(), HERE, 7, date(2026, 5, 14)).unwrap();
    let known = Known { years: &years, today: date(2026, 5, 14), forecast: &Forecast::default() };
    let all = Scenarios::new(known, date(2026, 1, 1), 365);
    assert_eq!(all.basis, Basis::Normals);
    assert_eq!(all.basis.worth(39), 10.0);
    let (low, high) = wilson(5.0, 10.0, 1.644_854);
    assert!((low - 0.2695).abs() < 1e-3 && (high - 0.7305).abs() < 1e-3, "{low} to {high}");
}

#[rstest]
#[case::lowest_above(3, |month: &mut Month| month.lowest = Temperature::new(20.0, Unit::DegC), "/3/lowest", "must be below maximum")]
#[case::forty_days(6, |month: &mut Month| month.rainy_days = 40.0, "/6/rainy_days", "40 rainy days")]
#[case::february(1, |month: &mut Month| month.rainy_days = 30.0, "/1/rainy_days", "only 29")]
#[case::no_day(2, |month: &mut Month| month.rainy_days = 0.0, "/2/rainy_days", "give both rain and rainy days")]
#[case::no_rain(2, |month: &mut Month| month.rain = Length::default(), "/2/rainy_days", "give both rain and rainy days")]
#[case::negative(0, |month: &mut Month| month.rain = Length::new(-1.0, Unit::Mm), "/0/rain", "enter 0")]
#[case::hot(0, |month: &mut Month| month.highest = Temperature::new(99.0, Unit::DegC), "/0/highest", "99 °C")]
#[case::nothing(0, |month: &mut Month| month.rainy_days = f64::NAN, "/0/rainy_days", "only 31")]
fn a_table_that_cant_be_is_refused_by_its_month(
    #[case] index: usize,
    #[case] spoil: fn(&mut Month),
    #[case] pointer: &str,
    #[case] said: &str,
) {
    let mut months = hills();
    spoil(&mut months[index]);
    let refused = check(&months).unwrap_err();
    let found = refused.0.iter().any(|one| one.pointer == pointer && one.detail.contains(said));
    assert!(found, "{refused}");
    assert!(check(&months[..11]).unwrap_err().to_string().contains("11 months"));
}

/// A desert and a rain forest can be made, too.
#[test]
fn months_without_rain_and_months_of_it() {
    let dry = Month { rain: Length::default(), rainy_days: 0.0, ..hills()[6] };
    let wet = Month { rain: Length::new(900.0, Unit::Mm), rainy_days: 31.0, ..hills()[6] };
    let months: Vec<Month> = (0..12)
        .map(|month| if month % 2 == 0 { dry } else { wet })
        .map(|mut month| {
            month.rainy_days = month.rainy_days.min(29.0);
            month
        })
        .collect();
    let years = made(&months, HERE, 7, date(2026, 5, 14)).unwrap();
    assert!(years.days.iter().all(|day| day.tells() && day.tmin < day.tmax && day.rain.is_finite()));
}
