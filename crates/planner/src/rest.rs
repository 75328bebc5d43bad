//! The rest of a sowing that has begun: the fit days it wants, and when there will have been so many.

use agronomy::{
    units::{Fraction, Measure, Time, Unit},
    weather::{Basis, days_between, plus},
};
use jiff::civil::Date;
use records::Choices;
use serde::Serialize;
use utoipa::ToSchema;

use crate::{
    Sky,
    effort::HOURS_A_DAY,
    ground::Asked,
    weather::{Question, on_its_day, sowing},
};

/// Days that are told one by one.
const TOLD: usize = 7;
/// Days looked ahead.
const AHEAD: usize = 60;
/// Rain of a day that stops a drill, mm (assumed; the same that breaks a dry spell).
const STOPS: f64 = 2.0;

/// One of the next days.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct DayAhead {
    /// The day.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// How likely the ground is fit.
    pub fit: Fraction,
    /// How likely it rains enough to stop a drill.
    pub rain: Fraction,
    /// How likely the rest is in the ground by its evening.
    pub done: Fraction,
}

/// When the rest of a sowing is done.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
#[schema(as = RestOfSowing)]
pub struct Rest {
    /// Fit days wanted, at ten hours each.
    pub fit_days: u32,
    /// The next days.
    pub days: Vec<DayAhead>,
    /// Done by this day in one of ten years, in half, in nine of ten; none beyond sixty days.
    #[schema(value_type = [Option<String>; 3])]
    pub done_by: [Option<Date>; 3],
    /// Odds of what is sown today.
    pub odds_today: Option<Fraction>,
    /// Odds of what is sown on the day by which half of the years are done.
    pub odds_then: Option<Fraction>,
    /// What the years rest on.
    pub basis: Basis,
}

/// Fit days that so many hours want; today's counts as a whole one.
///
/// ```
/// use agronomy::units::{Measure, Time, Unit};
/// let days = |hours| planner::rest::fit_days(Time::new(hours, Unit::H));
/// assert_eq!([days(0.0), days(4.5), days(10.0), days(10.5)], [0, 1, 1, 2]);
/// ```
pub fn fit_days(hours: Time) -> u32 {
    (hours.to(Unit::H) / HOURS_A_DAY - 1e-9).ceil().max(0.0) as u32
}

/// The rest of a stand's sowing, that takes so many hours from today on. None without ten years.
pub fn rest(asked: Asked<'_>, sky: Sky<'_>, hours: Time) -> Option<Rest> {
    let choices = Choices { sow_on: asked.today, ..asked.choices.clone() };
    let today = Asked { choices: &choices, sown_on: None, ..asked };
    let (years, runs) = (sky.ahead)(asked.today);
    let first = usize::try_from(days_between(years.first(), asked.today)).ok()?;
    let many = years.runs().len();
    if many < 10 || first >= years.days() {
        return None;
    }
    let wanted = fit_days(hours);
    // In each year: the day on which the last of the fit days has been.
    let ends: Vec<Option<usize>> = runs
        .runs()
        .iter()
        .map(|run| {
            let fit = (0..AHEAD).filter(|ahead| run.workable_on(first + ahead));
            match wanted {
                0 => Some(0),
                _ => {
                    fit.take(wanted as usize).enumerate().find(|(at, _)| at + 1 == wanted as usize).map(|(_, day)| day)
                }
            }
        })
        .collect();
    let share = |count: usize| Fraction::from_base(count as f64 / many as f64);
    let days = (0..TOLD)
        .map(|ahead| DayAhead {
            on: plus(asked.today, ahead as i32),
            fit: share(runs.runs().iter().filter(|run| run.workable_on(first + ahead)).count()),
            rain: share(years.runs().iter().filter(|air| air.days()[first + ahead].rain >= STOPS).count()),
            done: share(ends.iter().flatten().filter(|end| **end <= ahead).count()),
        })
        .collect();
    let mut sorted = ends;
    sorted.sort_unstable_by_key(|end| end.unwrap_or(usize::MAX));
    let by = |share: f64| sorted[((share * many as f64).ceil() as usize).clamp(1, many) - 1];
    let done_by = [0.1, 0.5, 0.9].map(|share| by(share).map(|end| plus(asked.today, end as i32)));
    let ways = sowing(Question { asked: today, years: &years, level: sky.level, stake: None }, &runs, None);
    let odds_on = |day: Date| {
        let choices = Choices { sow_on: day, ..choices.clone() };
        on_its_day(&choices, &ways).map(|odds| Fraction::from_base(odds.odds))
    };
    Some(Rest {
        fit_days: wanted,
        days,
        done_by,
        odds_today: odds_on(asked.today),
        odds_then: done_by[1].and_then(odds_on),
        basis: years.basis,
    })
}
