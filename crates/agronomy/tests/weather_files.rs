//! Files of weather: what is read, what is reported, what is never filled in.

use agronomy::weather::{
    Day, Normals, Place, Years,
    csv::{Column, FileMapping, FileUnits, Finding, Level, Read, read_daily, write_daily},
    generate,
    generator::Climate,
    place_normals, plus,
};
use jiff::civil::date;
use proptest::prelude::*;
use rstest::rstest;
use serde_json::json;

fn read(text: &str) -> Read {
    read_daily(text, &FileMapping::default(), Some(date(2026, 5, 14))).unwrap()
}

fn only(read: &Read) -> &Finding {
    assert_eq!(read.findings.len(), 1, "{:?}", read.findings);
    &read.findings[0]
}

#[rstest]
#[case::upside_down("2026-05-01,12,5,0", Level::LeftOut, "minimum 12 °C above maximum 5 °C")]
#[case::much_rain("2026-05-01,5,12,400", Level::Stops, "400 mm of rain in a day is unusual")]
#[case::no_such_day("2025-02-29,5,12,0", Level::Stops, "that year has no February 29")]
#[case::future("2026-05-14,5,12,0", Level::Stops, "is in the future")]
#[case::no_number("2026-05-01,warm,12,0", Level::Stops, "is not a number")]
#[case::no_date("yesterday,5,12,0", Level::Stops, "” is not a date; use e.g. 2026-05-14")]
#[case::too_hot("2026-05-01,5,75,0", Level::LeftOut, "highest of 75 °C is not possible")]
#[case::another_age("1066-10-14,5,12,0", Level::Stops, "out of range")]
fn a_line_that_is_wrong_is_named(#[case] line: &str, #[case] level: Level, #[case] said: &str) {
    let read = read(&format!("date,tmin,tmax,rain\n2026-04-30,4,11,0\n{line}\n"));
    let found = read.findings.iter().find(|one| one.line == 3).unwrap_or_else(|| panic!("{:?}", read.findings));
    assert_eq!(found.level, level);
    assert!(found.detail.contains(said), "{}", found.detail);
}

#[test]
fn a_slip_can_be_confirmed() {
    let mapping = FileMapping { accept_unusual: true, ..FileMapping::default() };
    let read = read_daily("date,tmin,tmax,rain\n2026-05-01,20,30,400\n", &mapping, None).unwrap();
    assert_eq!((read.findings.len(), read.days[0].1.rain), (0, 400.0));
}

#[test]
fn missing_and_double_days_are_reported() {
    let both = read("date,tmin,tmax,rain\n2026-01-01,1,5,0\n2026-01-01,1,5,0\n2026-01-05,2,6,1\n2026-01-05,2,7,1\n");
    let said: Vec<(usize, Level)> = both.findings.iter().map(|one| (one.line, one.level)).collect();
    assert_eq!(said, [(3, Level::Note), (5, Level::Stops), (0, Level::Note)]);
    assert!(both.findings[2].detail.contains("3 days are missing, 2026-01-02 to 2026-01-04"));
    let years = Years::new(Place { latitude: 42.0, elevation: 0.0 }, both.days).unwrap();
    assert_eq!((years.days.len(), years.gaps()), (5, 3), "a gap stays a gap");
    assert!(years.day(date(2026, 1, 3)).is_none() && years.day(date(2026, 1, 5)).is_some());
}

#[rstest]
#[case::semicolons("date;tmin;tmax;rain\n2026-05-01;5,5;12,25;0,4\n")]
#[case::tabs("date\ttmin\ttmax\train\n2026-05-01\t5,5\t12,25\t0,4\n")]
#[case::commas("\u{feff}Date,TMIN,TMAX,PRCP\r\n2026-05-01,5.5,12.25,0.4\r\n")]
#[case::joined_date("day,temp_min,temp_max,precipitation\n20260501,5.5,12.25,0.4\n\n")]
fn other_hands_write_other_files(#[case] text: &str) {
    let read = read(text);
    assert_eq!(read.findings_in_all, 0, "{:?}", read.findings);
    let day = read.days[0].1;
    assert_eq!((read.days[0].0, day.tmin, day.tmax, day.rain), (date(2026, 5, 1), 5.5, 12.25, 0.4));
    assert!(day.wind.is_nan());
}

#[test]
fn fahrenheit_and_inches_come_through_a_mapping() {
    let columns = [(Column::Tmin, "Low F"), (Column::Tmax, "High F"), (Column::Rain, "Rain in")];
    let mapping = FileMapping {
        columns: columns.into_iter().map(|(column, name)| (column, name.to_owned())).collect(),
        units: FileUnits::Us,
        accept_unusual: false,
    };
    let text = "Date,Station,Low F,High F,Rain in\n2026-05-01,A,41,59,0.5\n2026-05-02,A,M,60,T\n";
    let read = read_daily(text, &mapping, None).unwrap();
    let day = read.days[0].1;
    assert!((day.tmin - 5.0).abs() < 1e-9 && (day.tmax - 15.0).abs() < 1e-9 && (day.rain - 12.7).abs() < 1e-9);
    assert!(read.days[1].1.tmin.is_nan() && read.days[1].1.rain == 0.0, "missing is open, a trace is none");
    let wrong = FileMapping { columns: [(Column::Tmin, "Chill".to_owned())].into(), ..mapping };
    assert_eq!(read_daily(text, &wrong, None).unwrap_err().0[0].pointer, "/mapping/columns");
}

/// GHCN-Daily as its readme has it: tenths of °C and mm; a quality flag voids a value.
#[test]
fn the_open_station_files_are_read() {
    let long = "ID,DATE,ELEMENT,DATA_VALUE,M_FLAG,Q_FLAG,S_FLAG,OBS_TIME\n\
        USX00001234,20260501,TMAX,122,,,W,\nUSX00001234,20260501,TMIN,55,,,W,\nUSX00001234,20260501,PRCP,4,,,W,\n\
        USX00001234,20260502,TMAX,800,,G,W,\nUSX00001234,20260502,SNWD,12,,,W,\n";
    let from_long = read(long);
    let day = from_long.days[0].1;
    assert_eq!((day.tmax, day.tmin, day.rain), (12.2, 5.5, 0.4));
    assert!(from_long.findings.iter().any(|one| one.line == 5 && one.level == Level::LeftOut));
    let bare = long.split_once('\n').unwrap().1;
    assert_eq!(read(bare).days[0].1.tmax, 12.2, "the form without a header");
    let wide = "\"STATION\",\"DATE\",\"LATITUDE\",\"PRCP\",\"PRCP_ATTRIBUTES\",\"TMAX\",\"TMAX_ATTRIBUTES\",\"TMIN\",\"TMIN_ATTRIBUTES\"\n\
        \"USX00001234\",\"2026-05-01\",\"42.5\",\"4\",\",,W\",\"122\",\",,W\",\"55\",\",I,W\"\n";
    let from_wide = read(wide);
    let day = from_wide.days[0].1;
    assert_eq!((day.tmax, day.rain), (12.2, 0.4));
    assert!(day.tmin.is_nan() && from_wide.findings[0].level == Level::LeftOut, "{:?}", from_wide.findings);
    let two = bare.replace("USX00001234,20260501,PRCP", "USX00009999,20260501,PRCP");
    assert!(read(&two).findings.iter().any(|one| one.detail.contains("in a file for station")));
}

#[rstest]
#[case("one,two\n1,2\n", "no column is a date")]
#[case("date,colour\n2026-05-01,red\n", "only the date column was recognized; the file has")]
#[case("", "no column is a date")]
fn what_is_no_weather_is_refused(#[case] text: &str, #[case] said: &str) {
    let refused = read_daily(text, &FileMapping::default(), None).unwrap_err();
    assert!(refused.0[0].pointer == "/text" && refused.0[0].detail.contains(said), "{refused}");
}

#[test]
fn humidity_becomes_a_dew_point() {
    let read = read("date,tmin,tmax,rain,rh\n2026-05-01,10,20,0,100\n2026-05-02,10,20,0,50\n2026-05-03,10,20,0,140\n");
    let dew: Vec<f64> = read.days.iter().map(|(_, day)| day.dew_point).collect();
    // 100 %: the saturation pressure is the mean of both, 1.783 kPa, at 15.7 °C.
    assert!((dew[0] - 15.7).abs() < 0.05 && dew[1] < 6.0 && dew[2].is_nan(), "{dew:?}");
}

#[test]
fn many_findings_are_counted_and_the_first_kept() {
    let lines: String = (0..5_000).map(|_| "nonsense,1,2,3\n").collect();
    let read = read(&format!("date,tmin,tmax,rain\n{lines}"));
    assert_eq!(read.findings_in_all, 5_000);
    assert_eq!(read.findings.len(), 400);
    assert_eq!(only(&super_short()).line, 2);
}

fn super_short() -> Read {
    read("date,tmin\nnever,1\n")
}

proptest! {
    /// What is written is read again, to the two decimals that are written; open stays open.
    #[test]
    fn a_file_goes_round(values in prop::collection::vec((-30.0..20.0_f64, 0.0..20.0_f64, 0.0..90.0_f64, any::<bool>()), 1..60)) {
        let days: Vec<Day> = values.iter().map(|(low, range, rain, open)| Day {
            tmin: *low, tmax: low + range, rain: if *open { f64::NAN } else { *rain }, ..Day::UNKNOWN
        }).collect();
        let years = Years { place: Place { latitude: 10.0, elevation: 0.0 }, first: date(2001, 2, 1), days, basis: agronomy::weather::Basis::Record };
        let read = read_daily(&write_daily(&years), &FileMapping::default(), None).unwrap();
        let close = |a: f64, b: f64| a.is_nan() && b.is_nan() || (a - b).abs() <= 0.005001;
        prop_assert_eq!(read.days.len(), years.days.len());
        for ((on, day), own) in read.days.iter().zip(&years.days) {
            prop_assert!(*on >= years.first);
            prop_assert!(close(day.tmin, own.tmin) && close(day.tmax, own.tmax) && close(day.rain, own.rain));
        }
    }

    /// No text makes it panic.
    #[test]
    fn any_text_is_borne(text in "\\PC{0,200}") {
        let _ = read_daily(&text, &FileMapping::default(), None);
        let _ = read_daily(&format!("date,tmin,tmax,rain\n{text}"), &FileMapping::default(), None);
        let _ = read_daily(&format!("ID,DATE,ELEMENT,VALUE\n{text}"), &FileMapping::default(), None);
    }
}

/// The generator returns to its normals, and its spells are those of its chain.
#[rstest]
fn a_generated_century_returns_to_its_normals(
    #[values("northern-hills", "southern-plains", "tropical-highland")] place: &str,
) {
    let normals = place_normals(place).unwrap();
    let years = Climate::new(&normals).years(11, date(1900, 1, 1), date(2019, 12, 31));
    let mut months = vec![[0.0_f64; 5]; 12];
    for (index, day) in years.days.iter().enumerate() {
        let month = agronomy::weather::plus(years.first, index as i32).month() as usize - 1;
        let wet = f64::from(u8::from(day.rain > 0.0));
        for (sum, part) in months[month].iter_mut().zip([1.0, day.tmin, day.tmax, day.rain, wet]) {
            *sum += part;
        }
        assert!(day.tells() && day.tmin < day.tmax && day.radiation > 0.0 && day.wind > 0.0);
    }
    for (month, [count, tmin, tmax, rain, wet]) in months.into_iter().enumerate() {
        let off = |got: f64, wanted: f64, within: f64, what: &str| {
            assert!((got - wanted).abs() < within, "{place}, month {}: {what} {got:.2}, not {wanted}", month + 1);
        };
        let spread = normals.spread[month];
        off(tmin / count, normals.tmin[month], 0.15 + 0.08 * spread, "lowest");
        off(tmax / count, normals.tmax[month], 0.15 + 0.08 * spread, "highest");
        off(wet / 120.0, normals.wet_days[month], 0.9, "wet days");
        off(rain / 120.0, normals.rain[month], 0.2 * normals.rain[month] + 2.0, "rain");
    }
    let (fell, wanted) = (years.days.iter().map(|day| day.rain).sum::<f64>() / 120.0, normals.rain.iter().sum::<f64>());
    assert!((fell / wanted - 1.0).abs() < 0.04, "{place}: {fell:.0} mm a year, not {wanted:.0}");
    // Length of wet spells over the year: one over the chance that it ends, 0.75 of the dry share.
    let wet: Vec<bool> = years.days.iter().map(|day| day.rain > 0.0).collect();
    let spells = wet.windows(2).filter(|pair| !pair[0] && pair[1]).count() as f64;
    let mean = wet.iter().filter(|wet| **wet).count() as f64 / spells;
    let share = normals.wet_days.iter().sum::<f64>() / 365.0;
    assert!((mean - 1.0 / (0.75 * (1.0 - share))).abs() < 0.2, "{place}: {mean:.2} days");
}

/// The spread is the standard deviation of either temperature from its day's usual one, whatever wet and dry days differ
/// by; and days do not heap up at a least range.
#[rstest]
fn the_spread_is_that_of_the_days(#[values("northern-hills", "southern-plains", "tropical-highland")] place: &str) {
    let normals = place_normals(place).unwrap();
    let years = Climate::new(&normals).years(5, date(1800, 1, 1), date(2099, 12, 31));
    let mut by_day = vec![[0.0_f64; 5]; 367];
    for (index, day) in years.days.iter().enumerate() {
        let sums = &mut by_day[plus(years.first, index as i32).day_of_year() as usize];
        let parts = [1.0, day.tmin, day.tmin * day.tmin, day.tmax, day.tmax * day.tmax];
        sums.iter_mut().zip(parts).for_each(|(sum, part)| *sum += part);
    }
    for month in 0..12_usize {
        let days = (0..365).filter(|ahead| plus(date(2001, 1, 1), *ahead).month() as usize == month + 1);
        let (mut low, mut high, mut count) = (0.0, 0.0, 0.0);
        for [many, min, min2, max, max2] in days.map(|ahead| by_day[ahead as usize + 1]) {
            low += min2 / many - (min / many).powi(2);
            high += max2 / many - (max / many).powi(2);
            count += 1.0;
        }
        for (what, variance) in [("lowest", low / count), ("highest", high / count)] {
            let off = variance.sqrt() / normals.spread[month] - 1.0;
            assert!(off.abs() < 0.06, "{place}, month {}: the {what} spreads {:+.1} %", month + 1, off * 100.0);
        }
    }
    let mut ranges: Vec<f64> = years.days.iter().map(|day| day.tmax - day.tmin).collect();
    ranges.sort_by(f64::total_cmp);
    assert!(ranges[0] > 0.0 && ranges.windows(2).filter(|pair| pair[1] - pair[0] < 1e-12).count() == 0);
    let narrow = ranges.iter().filter(|range| **range < 1.0).count() as f64 / ranges.len() as f64;
    assert!(narrow < 0.02, "{:.1} % of days hardly warm up", narrow * 100.0);
}

/// In a hot desert's June the dew point lies ten degrees and more below the night (any climate table of one; common
/// practice, no source); in a humid summer two or three.
#[rstest]
#[case::desert(20.0, (10.0, 25.0))]
#[case::humid(1_400.0, (1.5, 4.0))]
fn dry_places_have_dry_air(#[case] rain: f64, #[case] (least, most): (f64, f64)) {
    let normals = Normals {
        latitude: 33.4,
        elevation: 340.0,
        tmin: [24.0; 12],
        tmax: [39.0; 12],
        spread: [3.0; 12],
        rain: [rain / 12.0; 12],
        wet_days: [2.0; 12],
        wind: [2.5; 12],
    };
    let years = Climate::new(&normals).years(5, date(2001, 6, 1), date(2001, 6, 30));
    let dry: Vec<f64> = years.days.iter().filter(|day| day.rain == 0.0).map(|day| day.tmin - day.dew_point).collect();
    let mean = dry.iter().sum::<f64>() / dry.len() as f64;
    assert!((least..=most).contains(&mean), "{mean}");
}

/// Years are whole by the calendar.
#[rstest]
#[case("2004-01-01", 1, "2004-12-31")]
#[case("2003-01-01", 1, "2003-12-31")]
#[case("2003-03-01", 1, "2004-02-29")]
#[case("2004-02-29", 1, "2005-02-27")]
#[case("1900-01-01", 200, "2099-12-31")]
fn whole_years_are_whole(#[case] from: &str, #[case] years: u32, #[case] last: &str) {
    let asked = json!({"place": "northern-hills", "from": from, "years": years});
    let made = generate(&serde_json::from_value(asked).unwrap()).unwrap().value;
    assert_eq!(made.csv.lines().last().unwrap().split(',').next(), Some(last));
}

#[test]
fn the_same_seed_is_the_same_weather() {
    let climate = Climate::new(&place_normals("northern-hills").unwrap());
    let (from, to) = (date(2020, 1, 1), date(2021, 12, 31));
    assert_eq!(climate.years(3, from, to), climate.years(3, from, to));
    assert_ne!(climate.years(3, from, to), climate.years(4, from, to));
}

/// Honest by construction: over many issues, truth lies below a member's value half the time, and the
/// ensemble's mean is closer tomorrow than next week.
#[test]
fn a_forecast_is_right_about_tomorrow_and_drifts_to_the_usual() {
    let climate = Climate::new(&place_normals("northern-hills").unwrap());
    let (seed, first) = (5, date(2000, 1, 1));
    let truth = climate.years(seed, first, date(2012, 1, 30));
    let mut memory = agronomy::weather::generator::Memory::default();
    let (mut ranks, mut errors, mut rain) = ([0_usize; 5], [0.0; 14], [0.0; 2]);
    let (members, mut issues) = (9, 0);
    for start in (0..4_000).step_by(9) {
        let issued = agronomy::weather::plus(first, start);
        let ensemble = climate.forecast(memory, seed, issued, members, 14);
        for (lead, error) in errors.iter_mut().enumerate() {
            let own = truth.days[start as usize + lead];
            let mean = ensemble.iter().map(|member| member[lead].tmax).sum::<f64>() / members as f64;
            *error += (mean - own.tmax).powi(2);
            if lead == 2 {
                let below = ensemble.iter().filter(|member| member[2].tmax < own.tmax).count();
                ranks[below * 5 / 10] += 1;
            }
        }
        let wet =
            |lead: usize| ensemble.iter().filter(|member| member[lead].rain > 0.0).count() as f64 / members as f64;
        for (sum, lead) in rain.iter_mut().zip([0, 13]) {
            *sum += (wet(lead) - f64::from(u8::from(truth.days[start as usize + lead].rain > 0.0))).powi(2);
        }
        climate.run(&mut memory, seed, issued, agronomy::weather::plus(issued, 8));
        issues += 1;
    }
    let spread: Vec<f64> = errors.iter().map(|sum| (sum / f64::from(issues)).sqrt()).collect();
    assert!(spread[0] < 1.6 && spread[1] < 2.6 && spread[13] > 3.5, "{spread:?}");
    assert!(spread.windows(4).all(|four| four[3] > four[0] * 0.9), "{spread:?}");
    assert!(rain[0] < 0.5 * rain[1], "rain: Brier sums {rain:?}");
    // Five bins of two ranks each: flat but for chance.
    let each = f64::from(issues) / 5.0;
    assert!(ranks.iter().all(|count| (*count as f64 - each).abs() < 4.0 * each.sqrt()), "{ranks:?}");
}
