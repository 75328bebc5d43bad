//! Weather against the outside: FAO-56's worked examples, an independent evapotranspiration library,
//! an open record of real days, published geometry and statistics.

use agronomy::{
    chance::{Z90, wilson},
    soil::Texture,
    units::{Fraction, Length, Pressure, Radiation, Speed, Temperature, ThermalTime, Unit},
    weather::{
        Day, Place, Years,
        csv::{FileMapping, read_daily},
        degree_days::{CapOn, DegreeDayMethod, DegreeDayRequest, TwoTemperatures, degree_days, of_day},
        et0::{self, Et0Method, Et0Request, et0},
        frost::{dates, frost_years, quantile},
        snow::Snow,
        soil_temperature::{Column, Ground, SoilCover, damping_depth, follow},
        sun::{self, RadiationRequest, radiation, sky_on},
    },
    working::Blank,
};
use jiff::civil::{Date, date};
use rstest::rstest;
use statrs::distribution::{Binomial, ContinuousCDF, Discrete, Normal};

fn near(value: f64, wanted: f64, within: f64) {
    assert!((value - wanted).abs() <= within, "{value} is not {wanted} \u{b1} {within}");
}

fn celsius(value: f64) -> Temperature {
    Temperature::new(value, Unit::DegC)
}

fn asked(latitude: f64, elevation: f64, day: Date, tmin: f64, tmax: f64) -> Et0Request {
    Et0Request {
        latitude,
        elevation: Length::new(elevation, Unit::M),
        day,
        tmin: celsius(tmin),
        tmax: celsius(tmax),
        dew_point: None,
        vapour_pressure: None,
        humidity_max: None,
        humidity_min: None,
        humidity_mean: None,
        solar: None,
        sunshine_hours: None,
        wind: None,
        wind_height: None,
        soil_heat: Radiation::default(),
        method: Et0Method::PenmanMonteith,
    }
}

/// FAO-56 examples 2 and 3.
#[test]
fn air_and_vapour() {
    near(et0::air_pressure(1_800.0), 81.8, 0.05);
    near(et0::psychrometric(et0::air_pressure(1_800.0)), 0.054, 0.0005);
    near((et0::saturation(24.5) + et0::saturation(15.0)) / 2.0, 2.39, 0.005);
    near(et0::dew_point(et0::saturation(13.7)), 13.7, 1e-9);
}

/// FAO-56 examples 8 and 9: 20° south, 3 September (day 246).
#[test]
fn sun_of_a_southern_september() {
    let sky = sky_on(-20.0, date(1998, 9, 3));
    near(sky.extraterrestrial, 32.2, 0.05);
    near(sky.daylight, 11.7, 0.05);
}

/// FAO-56 example 10: Rio de Janeiro, 22°54' south, mid-May, 220 hours of sunshine in the month: Rs 14.5.
#[test]
fn radiation_from_sunshine() {
    let request = RadiationRequest {
        latitude: -22.9,
        day: date(1998, 5, 15),
        elevation: Length::default(),
        sunshine_hours: Some(220.0 / 31.0),
        tmin: None,
        tmax: None,
    };
    let sun = radiation(&request).unwrap().value;
    near(sun.extraterrestrial.to(Unit::MjPerM2), 25.1, 0.05);
    near(sun.daylight_hours, 10.9, 0.05);
    near(sun.solar.unwrap().to(Unit::MjPerM2), 14.5, 0.05);
}

/// FAO-56 example 17: Bangkok in April, 13°44' north, 2 m: 5.72 mm/day with 0.14 MJ into the soil.
#[test]
fn bangkok_in_april() {
    let mut april = asked(13.73, 2.0, date(1998, 4, 15), 25.6, 34.8);
    april.vapour_pressure = Some(Pressure::new(2.85, Unit::KPa));
    april.wind = Some(Speed::new(2.0, Unit::MPerS));
    april.sunshine_hours = Some(8.5);
    april.soil_heat = Radiation::new(0.14, Unit::MjPerM2);
    near(et0(&april).unwrap().value.to(Unit::MmPerDay), 5.72, 0.01);
}

/// FAO-56 example 18: Uccle on 6 July, 50°48' north, 100 m: 3.88 mm/day.
#[test]
fn uccle_in_july() {
    let mut july = asked(50.8, 100.0, date(1998, 7, 6), 12.3, 21.5);
    july.humidity_max = Some(Fraction::percent(84.0));
    july.humidity_min = Some(Fraction::percent(63.0));
    july.wind = Some(Speed::new(10.0, Unit::KmPerH));
    july.wind_height = Some(Length::new(10.0, Unit::M));
    july.sunshine_hours = Some(9.25);
    near(et0(&july).unwrap().value.to(Unit::MmPerDay), 3.88, 0.01);
}

/// FAO-56 example 20 (from memory): Lyon in July from temperature alone: 4.56 by Penman–Monteith with
/// its rules for what is missing, 5.0 by Hargreaves.
#[test]
fn lyon_from_temperature_alone() {
    let july = asked(45.72, 200.0, date(1998, 7, 15), 14.8, 26.6);
    near(et0(&july).unwrap().value.to(Unit::MmPerDay), 4.56, 0.03);
    let hargreaves = Et0Request { method: Et0Method::Hargreaves, ..july };
    near(et0(&hargreaves).unwrap().value.to(Unit::MmPerDay), 5.0, 0.05);
}

/// Stored results of an independent library over a grid; `tests/data/reference_et0.py` makes them.
#[test]
fn agrees_with_an_independent_library() {
    let mut table = csv::Reader::from_reader(include_str!("data/reference_et0.csv").as_bytes());
    let mut count = 0;
    for row in table.records() {
        let row = row.unwrap();
        let number = |at: usize| row[at].parse::<f64>().unwrap();
        let mut request = asked(number(0), number(1), row[2].parse().unwrap(), number(3), number(4));
        request.solar = Some(Radiation::new(number(5), Unit::MjPerM2));
        request.wind = Some(Speed::new(number(6), Unit::MPerS));
        request.vapour_pressure = Some(Pressure::new(number(7), Unit::KPa));
        near(et0(&request).unwrap().value.to(Unit::MmPerDay), number(8), 0.02);
        request.method = Et0Method::Hargreaves;
        // The library lets latent heat fall with temperature where FAO-56 takes 2.45 MJ/kg.
        let latent = 2.501 - 0.002361 * (number(3) + number(4)) / 2.0;
        near(et0(&request).unwrap().value.to(Unit::MmPerDay) * 2.45 / latent, number(9), 0.02);
        count += 1;
    }
    assert!(count > 400, "{count}");
}

/// Day length by another published geometry: Forsythe et al. 1995, Ecological Modelling 80:87–95, the
/// CBM model for sunrise at the sun's centre (p = 0).
#[rstest]
fn day_length_by_another_geometry(
    #[values(-45.0, -20.0, 0.0, 42.5, 60.0)] latitude: f64,
    #[values(15, 80, 172, 230, 266, 355)] day: i16,
) {
    let turned = 0.2163108 + 2.0 * (0.9671396 * (0.00860 * (f64::from(day) - 186.0)).tan()).atan();
    let declination = (0.39795 * turned.cos()).asin();
    let latitude_radians = f64::to_radians(latitude);
    let hours = 24.0
        - 24.0 / std::f64::consts::PI
            * (latitude_radians.sin() * declination.sin() / (latitude_radians.cos() * declination.cos())).acos();
    let ours = sky_on(latitude, date(2023, 1, 1).checked_add(jiff::ToSpan::days(day - 1)).unwrap()).daylight;
    // FAO-56's declination is a plain sine: a third of an hour off at 60° around the equinox.
    near(ours, hours, if latitude.abs() > 50.0 { 0.35 } else { 0.2 });
}

#[test]
fn the_poles_have_their_long_days_and_nights() {
    near(sky_on(85.0, date(2023, 6, 21)).daylight, 24.0, 1e-9);
    let night = sky_on(85.0, date(2023, 12, 21));
    assert_eq!((night.daylight, night.extraterrestrial), (0.0, 0.0));
}

/// McMaster & Wilhelm 1997: 18 and 6 °C over 10: method 1 gives 2, method 2 gives 4.
#[rstest]
#[case(DegreeDayMethod::MeanThenBase, 18.0, 6.0, 10.0, None, 2.0)]
#[case(DegreeDayMethod::EachThenBase, 18.0, 6.0, 10.0, None, 4.0)]
#[case(DegreeDayMethod::MeanThenBase, 12.0, 4.0, 10.0, None, 0.0)]
#[case(DegreeDayMethod::EachThenBase, 9.0, 2.0, 10.0, None, 0.0)]
#[case(DegreeDayMethod::EachThenBase, 25.0, 15.0, 10.0, None, 10.0)]
fn a_days_warmth_by_its_method(
    #[case] method: DegreeDayMethod,
    #[case] tmax: f64,
    #[case] tmin: f64,
    #[case] base: f64,
    #[case] cap: Option<f64>,
    #[case] wanted: f64,
) {
    near(of_day(method, base, cap.unwrap_or(f64::INFINITY), tmin, tmax), wanted, 1e-12);
}

/// The maize rule of 86/50 °F: 95 and 45 °F give 18 °F·d (common practice, no source).
#[test]
fn the_maize_rule() {
    let fahrenheit = |value| Temperature::new(value, Unit::DegF);
    let request = DegreeDayRequest {
        days: vec![TwoTemperatures { tmin: fahrenheit(45.0), tmax: fahrenheit(95.0) }],
        base: fahrenheit(50.0),
        cap: Some(fahrenheit(86.0)),
        cap_on: CapOn::Each,
        method: DegreeDayMethod::EachThenBase,
    };
    near(degree_days(&request).unwrap().value.to(Unit::DegFDay), 18.0, 1e-9);
    assert_eq!(ThermalTime::new(18.0, Unit::DegFDay).to(Unit::DegCDay), 10.0);
}

const SEATTLE: &str = include_str!("data/seattle-weather.csv");

/// 2012–2015 in Seattle: daily summaries of NOAA's National Centers for Environmental Information, as
/// the registry package vega-datasets carries them. Counts taken with a spreadsheet's arithmetic.
#[rstest]
#[case(2012, 366, 21, 7, 177, 1226.0, [2396.20, 1270.40])]
#[case(2013, 365, 30, 12, 152, 828.0, [2720.70, 1502.60])]
#[case(2014, 365, 22, 8, 150, 1232.8, [2941.30, 1623.50])]
#[case(2015, 365, 15, 3, 144, 1139.2, [3017.95, 1691.65])]
fn four_real_years(
    #[case] year: i16,
    #[case] days: usize,
    #[case] frosts: usize,
    #[case] killing: usize,
    #[case] wet: usize,
    #[case] rain: f64,
    #[case] warmth: [f64; 2],
) {
    let read = read_daily(SEATTLE, &FileMapping::default(), None).unwrap();
    assert_eq!(read.findings_in_all, 0, "{:?}", read.findings);
    let of_year: Vec<Day> = read.days.iter().filter(|(on, _)| on.year() == year).map(|(_, day)| *day).collect();
    assert_eq!(of_year.len(), days);
    assert_eq!(of_year.iter().filter(|day| day.tmin <= 0.0).count(), frosts);
    assert_eq!(of_year.iter().filter(|day| day.tmin <= -2.2).count(), killing);
    assert_eq!(of_year.iter().filter(|day| day.rain > 0.0).count(), wet);
    near(of_year.iter().map(|day| day.rain).sum(), rain, 1e-6);
    let sum =
        |method, base| of_year.iter().map(|day| of_day(method, base, f64::INFINITY, day.tmin, day.tmax)).sum::<f64>();
    near(sum(DegreeDayMethod::MeanThenBase, 5.0), warmth[0], 1e-6);
    near(sum(DegreeDayMethod::EachThenBase, 10.0), warmth[1], 1e-6);
}

#[test]
fn frost_dates_of_real_years() {
    let read = read_daily(SEATTLE, &FileMapping::default(), None).unwrap();
    let years = Years::new(Place { latitude: 47.6, elevation: 40.0 }, read.days).unwrap();
    let found: Vec<_> = frost_years(&years, 0.0).iter().map(|one| (one.last, one.first)).collect();
    let both = |last: Date, first: Date| (Some(last), Some(first));
    // Both halves of a year are needed: 2012 begins too late in its winter by a day or two.
    assert!(found.contains(&both(date(2013, 3, 4), date(2013, 11, 21))), "{found:?}");
    assert!(found.contains(&both(date(2014, 2, 9), date(2014, 11, 12))), "{found:?}");
    let middle = &dates(&years, 2016)[0];
    assert!(middle.summers >= 2 && middle.first_in_autumn[1].unwrap().month() == 11, "{middle:?}");
    assert_eq!(quantile(&[1.0, 2.0, 4.0], 0.5), Some(2.0));
    assert_eq!(quantile(&[1.0, 2.0], 0.25), Some(1.25));
    assert_eq!(quantile(&[], 0.5), None);
}

/// The analytic wave (Campbell & Norman 1998, chapter 8): amplitude exp(−z/D), lag z/D; at 0.5 mm²/s
/// the daily damping depth is 0.117 m.
#[rstest]
#[case(365.0, 0.05)]
#[case(365.0, 0.45)]
#[case(60.0, 0.10)]
#[case(30.0, 0.05)]
fn the_column_follows_the_analytic_wave(#[case] period: f64, #[case] depth: f64) {
    near(damping_depth(0.5, 1.0), 0.117, 0.0005);
    let damping = damping_depth(0.5, period);
    let turn = 2.0 * std::f64::consts::PI / period;
    let mut column = Column::new(0.5, 10.0);
    let (mut worst, runs) = (0.0_f64, (6.0 * period) as usize);
    for day in 0..runs {
        column.step(10.0 + 10.0 * (turn * day as f64).sin());
        if day as f64 > 5.0 * period {
            let analytic = 10.0 + 10.0 * (-depth / damping).exp() * (turn * day as f64 - depth / damping).sin();
            worst = worst.max((column.at(depth) - analytic).abs());
        }
    }
    // A tenth of the swing at the most: steps of a day and a column with a bottom.
    assert!(worst < 1.0, "{worst} °C off at {depth} m over {period} days");
}

#[test]
fn a_column_at_rest_stays_at_rest() {
    let mut column = Column::new(0.5, 7.0);
    (0..400).for_each(|_| column.step(7.0));
    [0.0, 0.01, 0.1, 0.9, 4.0].into_iter().for_each(|depth| near(column.at(depth), 7.0, 1e-9));
}

/// Newcombe 1998, Statistics in Medicine 17:857–872, table I, the score method without continuity
/// correction (from memory).
#[rstest]
#[case(81.0, 263.0, 0.2553, 0.3662)]
#[case(15.0, 148.0, 0.0624, 0.1605)]
#[case(0.0, 20.0, 0.0, 0.1611)]
#[case(1.0, 29.0, 0.0061, 0.1718)]
fn published_intervals(#[case] hits: f64, #[case] tries: f64, #[case] low: f64, #[case] high: f64) {
    let z95 = Normal::standard().inverse_cdf(0.975);
    let (ours_low, ours_high) = wilson(hits, tries, z95);
    near(ours_low, low, 1e-4);
    near(ours_high, high, 1e-4);
}

/// By the binomial law of a statistics library, the interval holds the truth about as often as it
/// says: 90 % on average over all truths (Brown, Cai & DasGupta 2001 show the same).
#[rstest]
fn the_interval_covers_what_it_says(#[values(20, 30, 40, 60)] years: u64) {
    near(Z90, Normal::standard().inverse_cdf(0.95), 1e-9);
    let truths: Vec<f64> = (1..200).map(|step| f64::from(step) / 200.0).collect();
    let covered = |truth: f64| -> f64 {
        let law = Binomial::new(truth, years).unwrap();
        (0..=years)
            .filter(|hits| {
                let (low, high) = wilson(*hits as f64, years as f64, Z90);
                (low..=high).contains(&truth)
            })
            .map(|hits| law.pmf(hits))
            .sum()
    };
    let mean = truths.iter().map(|truth| covered(*truth)).sum::<f64>() / truths.len() as f64;
    near(mean, 0.90, 0.02);
    assert!(truths.iter().all(|truth| covered(*truth) > 0.78), "somewhere it covers far too little");
    assert_eq!(wilson(0.0, 0.0, Z90), (0.0, 1.0));
}

#[test]
fn what_cannot_be_is_refused_at_its_field() {
    let at = |request: &Et0Request| et0(request).unwrap_err().0[0].pointer.clone();
    let good = asked(45.0, 100.0, date(2026, 5, 14), 5.0, 15.0);
    assert!(et0(&good).is_ok());
    assert_eq!(at(&Et0Request { latitude: 95.0, ..good.clone() }), "/latitude");
    assert_eq!(at(&Et0Request { tmin: celsius(20.0), ..good.clone() }), "/tmin");
    assert_eq!(at(&Et0Request { sunshine_hours: Some(20.0), ..good.clone() }), "/sunshine_hours");
    assert_eq!(at(&Et0Request { humidity_max: Some(Fraction::percent(120.0)), ..good }), "/humidity_max");
    assert!(sun::clear_sky(40.0, 0.0) < 40.0);
}

/// Two layers in series let through what their resistances leave (heat conduction, Campbell & Norman
/// 1998, chapter 8; check by hand): 2 cm of soil at 1.25 W/(m K) is 0.016 m² K/W, 15 cm of snow at
/// 0.15 is 1.0; 0.016 of 1.016 comes through.
#[test]
fn snow_keeps_the_cold_off_the_soil() {
    let (mut snow, bare) = (Snow::default(), Snow::default());
    assert_eq!(bare.above_soil(&mut Blank, -20.0, 1.0, 1.25), (-20.0, 1.0));
    snow.step(0.0375, -8.0);
    let (above, felt) = snow.above_soil(&mut Blank, -20.0, 1.0, 1.25);
    near(felt, 0.016 / 1.016, 1e-9);
    near(above, 1.0 - 21.0 * 0.016 / 1.016, 1e-9);
    let (thaw, _) = snow.above_soil(&mut Blank, 9.0, 1.0, 1.25);
    assert!((0.9..1.0).contains(&thaw), "melting snow is at nought: {thaw}");
    // Half covered, half of the ground is as bare.
    let mut patches = Snow::default();
    patches.step(0.005, -8.0);
    let (half, _) = patches.above_soil(&mut Blank, -20.0, 1.0, 1.25);
    assert!((-11.0..-8.0).contains(&half), "{half}");
}

/// Stefan's solution for the depth of frost, √(2·k·ΔT·t / (L·θ)) (1891; in any textbook of ground
/// freezing): soil that conducts 1.25 W/(m K), a quarter of it water that gives off 334 MJ/m³, its
/// surface so far below freezing for so many days.
#[rstest]
#[case(10.0, 30)]
#[case(10.0, 90)]
#[case(3.0, 60)]
fn frost_goes_as_deep_as_stefan_says(#[case] below: f64, #[case] days: u32) {
    let stefan = (2.0 * 1.25 * below * f64::from(days) * 86_400.0 / (334e6 * 0.25)).sqrt();
    let mut column = Column::new(0.5, 0.0);
    (0..days).for_each(|_| column.step(-below));
    // The solution leaves out what the frozen soil itself gives off: a few parts in a hundred.
    near(column.frozen(), stefan, 0.12 * stefan);
    let depth = column.frozen();
    column.step(15.0);
    assert!(column.frozen() < depth && column.at(0.7 * stefan) < 1e-9, "it thaws slowly, and from above");
    (0..400).for_each(|_| column.step(15.0));
    near(column.frozen(), 0.0, 1e-9);
}

/// Thawing is freezing the other way round: the same solution for the depth that has opened from the top, and above it
/// the soil is warm while it is frozen below.
#[rstest]
#[case(5.0, 2)]
#[case(5.0, 10)]
#[case(12.0, 10)]
#[case(3.0, 25)]
fn frost_goes_out_from_the_top_as_stefan_says(#[case] above: f64, #[case] days: u32) {
    let stefan = (2.0 * 1.25 * above * f64::from(days) * 86_400.0 / (334e6 * 0.25)).sqrt();
    let mut column = Column::new(0.5, -0.01);
    let whole = column.frozen();
    (0..days).for_each(|_| column.step(above));
    let open = whole - column.frozen();
    near(open, stefan, 0.12 * stefan);
    // Between the surface and the front by straight line, nearly: half of it half-way down.
    near(column.at(stefan / 2.0), above / 2.0, 0.2 * above);
    near(column.at(1.3 * stefan), 0.0, 0.3);
    assert!(column.at(1.8 * stefan) <= 0.0, "below the front it is frozen: {}", column.at(1.8 * stefan));
}

/// After a hard winter without snow the seedbed is warm a few days after the air, while it is frozen below.
#[test]
fn the_seedbed_opens_before_the_ground_below_it() {
    let mut column = Column::new(0.5, 6.0);
    (0..100).for_each(|_| column.step(-8.0));
    let frozen = column.frozen();
    assert!(frozen > 0.4, "{frozen}");
    let warm_after = |column: &mut Column, depth: f64| {
        (1..90).find(|_| {
            column.step(6.0);
            column.at(depth) > 1.0
        })
    };
    let (at_3, at_10) = (warm_after(&mut column.clone(), 0.03), warm_after(&mut column.clone(), 0.10));
    let at_30 = warm_after(&mut column, 0.30);
    // By Stefan's solution the front of 6 °C passes 10 cm on the first day, 30 cm on the sixth, and on the fifteenth
    // the 48 cm to which the layer around 30 cm reaches; the soil has to be warmed to 0 °C first.
    assert!(at_3 <= Some(2) && at_10 <= Some(4), "{at_3:?} {at_10:?}");
    assert!((Some(6)..=Some(18)).contains(&at_30), "{at_30:?}");
}

/// A winter of 15 °C of frost: under snow the soil stays near freezing (Campbell & Norman 1998; common
/// knowledge of snow countries), bare it follows the air.
#[test]
fn a_snowy_winter_is_warmer_below() {
    let winter = |rain: f64| {
        let day = |tmin: f64, tmax: f64| Day { tmin, tmax, rain, ..Day::UNKNOWN };
        let days: Vec<Day> = (0..456).map(|at| if at < 366 { day(2.0, 12.0) } else { day(-20.0, -10.0) }).collect();
        let place = Place { latitude: 44.0, elevation: 200.0 };
        let years = Years { place, first: date(2024, 12, 1), days, basis: agronomy::weather::Basis::Record };
        let ground = Ground::new(Texture::Loam, SoilCover::Sward);
        let soil = follow(&years, ground, 0.05).last().copied().flatten().expect("told");
        (soil.mean, soil.mean - soil.morning)
    };
    let ((bare, drop), (snowy, covered)) = (winter(0.0), winter(3.0));
    assert!(bare < -10.0, "{bare}");
    assert!((-3.0..3.0).contains(&snowy), "{snowy}");
    assert!(covered < 0.1 * drop, "nor does the day's swing come through: {covered} of {drop}");
}
