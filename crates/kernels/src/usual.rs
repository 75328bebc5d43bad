//! What is usual on each day of the year, from a record of many.

use jiff::civil::Date;

use crate::{day::plus, frost::quantile, maths::sort};

/// Days on either side of a calendar day that tell what is usual on it.
const AROUND: i32 = 5;

/// Usual values by day of the year, each from a window of days around it in every year.
pub fn usual(values: &[Option<f64>], first: Date, shares: &[f64]) -> Vec<Vec<f64>> {
    let mut by_day: Vec<Vec<f64>> = vec![vec![]; 366];
    for (index, value) in values.iter().enumerate() {
        if let Some(value) = value {
            let day = usize::from(plus(first, index as i32).day_of_year().unsigned_abs()) - 1;
            by_day[day.min(365)].push(*value);
        }
    }
    (0..366_i32)
        .map(|day| {
            let mut around: Vec<f64> = (day - AROUND..=day + AROUND)
                .flat_map(|near| by_day[usize::try_from(near.rem_euclid(366)).unwrap_or(0)].iter().copied())
                .collect();
            sort(&mut around);
            shares.iter().map(|share| quantile(&around, *share).unwrap_or(f64::NAN)).collect()
        })
        .collect()
}
