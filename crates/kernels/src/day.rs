//! Days of weather, and the years of a station's record.
//!
//! Numbers in long series are plain: °C, mm, MJ/m², m/s; what was not measured is left open.

use jiff::civil::{Date, date};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use facts::{refusal::Checks, said};

/// One day as a station saw it; NaN where it did not.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Day {
    /// Lowest air temperature, °C.
    pub tmin: f64,
    /// Highest air temperature, °C.
    pub tmax: f64,
    /// Rain and melted snow, mm.
    pub rain: f64,
    /// Solar radiation, MJ/m².
    pub radiation: f64,
    /// Mean dew point, °C.
    pub dew_point: f64,
    /// Mean wind at 2 m, m/s.
    pub wind: f64,
}

impl Day {
    /// Nothing known.
    pub const UNKNOWN: Self = Self {
        tmin: f64::NAN,
        tmax: f64::NAN,
        rain: f64::NAN,
        radiation: f64::NAN,
        dew_point: f64::NAN,
        wind: f64::NAN,
    };

    /// Whether both temperatures and rain are known: what odds are made of.
    pub fn tells(self) -> bool {
        !(self.tmin.is_nan() || self.tmax.is_nan() || self.rain.is_nan())
    }

    /// Mean of the two temperatures, °C.
    pub fn mean(self) -> f64 {
        (self.tmin + self.tmax) / 2.0
    }
}

/// Where a station stands.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Place {
    /// Degrees north.
    pub latitude: f64,
    /// Metres above the sea.
    pub elevation: f64,
}

/// Where years come from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Basis {
    /// Days that were measured.
    #[default]
    Record,
    /// Years that could be, made from what is usual in each month: single years are guessed at.
    Normals,
}

impl Basis {
    /// How many years of measuring so many years are worth, for the interval around odds: monthly means say little
    /// of how years differ. Ten is our own assumption, no source: with fewer, a record's odds are called young.
    ///
    /// ```
    /// use kernels::day::Basis;
    /// assert_eq!((Basis::Record.worth(38), Basis::Normals.worth(38)), (38.0, 10.0));
    /// ```
    pub fn worth(self, years: usize) -> f64 {
        match self {
            Self::Record => years as f64,
            Self::Normals => years.min(10) as f64,
        }
    }
}

/// A station's record: day after day without a break, unknown days left open.
#[derive(Debug, Clone, PartialEq)]
pub struct Years {
    /// Where.
    pub place: Place,
    /// The first day.
    pub first: Date,
    /// The days from it on.
    pub days: Vec<Day>,
    /// Where they come from.
    pub basis: Basis,
}

/// The first day of the growing year around a day: January in the north, July in the south, so that no
/// season is cut in two.
pub fn year_start(latitude: f64, day: Date) -> Date {
    if latitude >= 0.0 {
        return date(day.year(), 1, 1);
    }
    date(if day.month() >= 7 { day.year() } else { day.year() - 1 }, 7, 1)
}

/// Days from one date to another. By the number of each day (Hinnant 2013, chrono-Compatible Low-Level Date
/// Algorithms: years from March on, in eras of 400), for decades are counted day by day.
///
/// ```
/// use jiff::civil::date;
/// use kernels::day::days_between;
/// assert_eq!(days_between(date(2024, 2, 28), date(2024, 3, 1)), 2);
/// assert_eq!(days_between(date(1970, 1, 1), date(2000, 3, 1)), 11_017);
/// ```
pub fn days_between(from: Date, to: Date) -> i32 {
    number(to) - number(from)
}

/// A day's number, from 1 March of the year 0 on.
fn number(day: Date) -> i32 {
    let (month, date) = (i32::from(day.month()), i32::from(day.day()));
    let year = i32::from(day.year()) - i32::from(month <= 2);
    let era = year.div_euclid(400);
    let of_era = year.rem_euclid(400);
    let of_year = (153 * ((month + 9) % 12) + 2) / 5 + date - 1;
    era * 146_097 + of_era * 365 + of_era / 4 - of_era / 100 + of_year
}

/// A date so many days on, or the calendar's first or last.
///
/// ```
/// use jiff::civil::date;
/// use kernels::day::plus;
/// assert_eq!(plus(date(2024, 2, 28), 2), date(2024, 3, 1));
/// assert_eq!(plus(date(2000, 1, 1), -1), date(1999, 12, 31));
/// ```
pub fn plus(day: Date, days: i32) -> Date {
    let number = number(day).saturating_add(days);
    let (era, of_era) = (number.div_euclid(146_097), number.rem_euclid(146_097));
    let year_of_era = (of_era - of_era / 1_460 + of_era / 36_524 - of_era / 146_096) / 365;
    let of_year = of_era - (365 * year_of_era + year_of_era / 4 - year_of_era / 100);
    let from_march = (5 * of_year + 2) / 153;
    let date = of_year - (153 * from_march + 2) / 5 + 1;
    let month = if from_march < 10 { from_march + 3 } else { from_march - 9 };
    let year = era * 400 + year_of_era + i32::from(month <= 2);
    let beyond = if days < 0 { Date::MIN } else { Date::MAX };
    i16::try_from(year).map_or(beyond, |year| Date::new(year, month as i8, date as i8).unwrap_or(beyond))
}

impl Years {
    /// From dated days in any order; of two for one date the later in the list stands.
    pub fn new(place: Place, dated: impl IntoIterator<Item = (Date, Day)>) -> Option<Self> {
        let dated: Vec<(Date, Day)> = dated.into_iter().collect();
        let first = dated.iter().map(|(date, _)| *date).min()?;
        let last = dated.iter().map(|(date, _)| *date).max()?;
        let mut days = vec![Day::UNKNOWN; usize::try_from(days_between(first, last)).ok()? + 1];
        for (date, day) in dated {
            days[usize::try_from(days_between(first, date)).ok()?] = day;
        }
        Some(Self { place, first, days, basis: Basis::Record })
    }

    /// A day, when the record reaches it and knows its temperatures and rain.
    pub fn day(&self, date: Date) -> Option<Day> {
        let index = usize::try_from(days_between(self.first, date)).ok()?;
        self.days.get(index).copied().filter(|day| day.tells())
    }

    /// Refuse what is of a day that the record does not tell: it would count for nothing, and a mistyped year
    /// would never be seen.
    pub fn check_day(&self, checks: &mut Checks, pointer: impl Into<String>, what: &str, on: Date) {
        let detail = said!("{} of {}: the record tells {} to {}, and not that day", what, on, self.first, self.last());
        checks.require(self.day(on).is_some(), pointer, detail);
    }

    /// The last day of the record.
    pub fn last(&self) -> Date {
        plus(self.first, self.days.len() as i32 - 1)
    }

    /// Days whose temperatures and rain are not all known.
    pub fn gaps(&self) -> usize {
        self.days.iter().filter(|day| !day.tells()).count()
    }
}

/// The middle of the warm half of the year: mid-July in the north, mid-January in the south.
pub fn warm_middle(latitude: f64, year: i16) -> Date {
    let (month, day) = if latitude < 0.0 { (1, 15) } else { (7, 16) };
    jiff::civil::date(year, month, day)
}

#[cfg(test)]
mod tests {
    use jiff::ToSpan;

    use super::*;

    /// Each day of nine centuries, before the year 0 and at the calendar's own ends, against the date library.
    #[test]
    fn days_are_counted_as_the_calendar_has_them() {
        for start in [date(-401, 1, 1), date(1599, 12, 1), date(1899, 12, 1), date(2199, 1, 1), date(9600, 1, 1)] {
            for ahead in (0..146_000).step_by(if start.year() == 1899 { 1 } else { 37 }) {
                let later = plus(start, ahead);
                assert_eq!(later, start.saturating_add(ahead.days()), "{start} and {ahead} days");
                assert_eq!(days_between(start, later), (later - start).get_days(), "{start} to {later}");
                assert_eq!(plus(later, -ahead), start);
            }
        }
        assert_eq!((plus(Date::MAX, 1), plus(Date::MIN, -1)), (Date::MAX, Date::MIN));
        assert_eq!((plus(Date::MIN, i32::MAX), plus(Date::MAX, i32::MIN)), (Date::MAX, Date::MIN));
    }
}
