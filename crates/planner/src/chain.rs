//! What comes again in a season: each time dated from the one before as it stands.

use agronomy::{practice::Span, weather::plus};
use jiff::civil::Date;

/// How a chain runs in a season.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Run {
    /// First and last sensible day of the first time.
    pub first: (Date, Date),
    /// Days from one time to the next.
    pub every: Span,
    /// Times, at the most; what was done beyond them stands beside them.
    pub most: usize,
    /// The last day on which it may come.
    pub last: Date,
}

/// One time of a chain.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Time {
    /// First sensible day.
    pub from: Date,
    /// Last sensible day.
    pub to: Date,
    /// The day it was done, or is to be reckoned with: the middle of its days, and not before today.
    pub due: Date,
    /// It was done.
    pub done: bool,
    /// A later one was done, or it is late by a whole interval, or no more come: it is left out.
    pub passed: bool,
}

/// The times of a season. `done` are the days of those that were done, by place, in order; between them nothing was done.
///
/// A time that is late moves those after it, one that is early brings them forward; one that is left out holds up none.
///
/// ```
/// use agronomy::practice::Span;
/// use jiff::civil::date;
/// use planner::chain::{Run, chain};
///
/// let every = Span { low: 35, high: 35 };
/// let run = Run { first: (date(2026, 6, 1), date(2026, 6, 1)), every, most: 4, last: date(2026, 10, 1) };
/// let opens = |done: &[Option<jiff::civil::Date>]| -> Vec<String> {
///     chain(run, done, date(2026, 5, 1)).iter().map(|time| time.from.strftime("%-d %b").to_string()).collect()
/// };
/// assert_eq!(opens(&[]), ["1 Jun", "6 Jul", "10 Aug", "14 Sep"]);
/// // The first was cut three weeks late: all others are.
/// assert_eq!(opens(&[Some(date(2026, 6, 21))]), ["21 Jun", "26 Jul", "30 Aug"]);
/// // Cut early, they come forward.
/// assert_eq!(opens(&[Some(date(2026, 5, 20))]), ["20 May", "24 Jun", "29 Jul", "2 Sep"]);
/// ```
pub fn chain(run: Run, done: &[Option<Date>], today: Date) -> Vec<Time> {
    let mut times: Vec<Time> = vec![];
    let mut before: Option<Date> = None;
    let last_done = done.iter().rposition(Option::is_some);
    loop {
        let at = times.len();
        let more_done = last_done.is_some_and(|last| at <= last);
        let (from, to) = before.map_or(run.first, |day| (plus(day, run.every.low), plus(day, run.every.high)));
        if !more_done && (at >= run.most || from > run.last) {
            break;
        }
        if let Some(on) = done.get(at).copied().flatten() {
            times.push(Time { from: on, to: on, due: on, done: true, passed: false });
            before = Some(on);
            continue;
        }
        let to = if more_done { to } else { to.min(run.last) };
        let middle = plus(from, (to - from).get_days() / 2);
        // What is left out holds up none: the next is dated as if it had come when it was to. Late by a whole interval it
        // was done and not told of, or left out.
        let passed = more_done || run.last < today || plus(to, run.every.high) < today;
        let due = if passed { middle } else { middle.max(today).max(from) };
        times.push(Time { from, to, due, done: false, passed });
        before = Some(due);
    }
    // What was left out before one that was done lies before it.
    let mut limit: Option<Date> = None;
    for time in times.iter_mut().rev() {
        if !time.done
            && let Some(limit) = limit
        {
            time.to = time.to.min(limit);
            time.from = time.from.min(time.to);
            time.due = time.due.min(time.to);
        }
        limit = Some(limit.map_or(time.from, |limit| limit.min(time.from))).filter(|_| limit.is_some() || time.done);
    }
    times
}

/// Which place each of the days takes, in their order: the one that was said, where none before it has it or one behind
/// it; else the next. So places keep the order of days, whatever was said.
///
/// ```
/// use planner::chain::places;
/// assert_eq!(places([None, None, None]), [0, 1, 2]);
/// // The second time was told as such, the first was never told of.
/// assert_eq!(places([Some(2), None]), [1, 2]);
/// // Two say that they were the second, and one that it was the first, later.
/// assert_eq!(places([Some(2), Some(2), Some(1)]), [1, 2, 3]);
/// // Beyond all that may be said.
/// assert_eq!(places([Some(900), None]), [0, 1]);
/// ```
pub fn places(said: impl IntoIterator<Item = Option<i32>>) -> Vec<usize> {
    let mut next = 0;
    let place = |said: Option<i32>| {
        let named = said.and_then(|time| usize::try_from(time).ok()?.checked_sub(1)).filter(|at| *at < MOST);
        let at = named.unwrap_or(next).max(next);
        next = at + 1;
        at
    };
    said.into_iter().map(place).collect()
}

/// Times of a season that a record may name; what says more is taken for the next.
pub const MOST: usize = 60;

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;
    use proptest::prelude::*;
    use rstest::rstest;

    fn run(most: usize) -> Run {
        let first = (date(2026, 5, 25), date(2026, 6, 8));
        Run { first, every: Span { low: 28, high: 35 }, most, last: date(2026, 9, 5) }
    }

    fn days(times: &[Time]) -> Vec<(Date, Date)> {
        times.iter().map(|time| (time.from, time.to)).collect()
    }

    /// Alfalfa of northern hills in a usual year: three cuts, and rest from the fifth of September on (five weeks before
    /// a killing frost of 10 October): common practice, no source.
    #[test]
    fn the_rest_before_winter_ends_the_season() {
        let times = chain(run(8), &[], date(2026, 5, 1));
        let expected = [
            (date(2026, 5, 25), date(2026, 6, 8)),
            (date(2026, 6, 29), date(2026, 7, 6)),
            (date(2026, 7, 30), date(2026, 8, 6)),
            (date(2026, 8, 30), date(2026, 9, 5)),
        ];
        assert_eq!(days(&times), expected);
        // A first cut in the middle of June leaves room for two more.
        assert_eq!(chain(run(8), &[Some(date(2026, 6, 20))], date(2026, 6, 21)).len(), 3);
        assert_eq!(chain(run(2), &[], date(2026, 5, 1)).len(), 2);
    }

    #[rstest]
    // Nobody has cut by the tenth of July: the others follow from today.
    #[case::late(date(2026, 7, 10), &[], 0, date(2026, 8, 7))]
    // The first was left out, the second is inked.
    #[case::left_out(date(2026, 7, 10), &[None, Some(date(2026, 7, 8))], 1, date(2026, 8, 5))]
    fn what_is_late_or_left_out_holds_up_none(
        #[case] today: Date,
        #[case] done: &[Option<Date>],
        #[case] at: usize,
        #[case] next: Date,
    ) {
        let times = chain(run(8), done, today);
        assert_eq!(times[at + 1].from, next);
        assert_eq!(times[0].passed, at == 1);
        assert!(times[0].to <= times[1].from);
    }

    /// Nobody told of a cut all summer: the last that could still be made is open, those before it are left out, and
    /// nothing from months ago is called late.
    #[rstest]
    #[case::the_first_is_late(date(2026, 7, 13), 0, date(2026, 6, 8))]
    #[case::the_second_is(date(2026, 7, 14), 1, date(2026, 7, 6))]
    #[case::the_last_is(date(2026, 9, 5), 2, date(2026, 8, 6))]
    fn late_by_an_interval_it_is_left_out(#[case] today: Date, #[case] open: usize, #[case] to: Date) {
        let times = chain(run(8), &[], today);
        assert!(times[..open].iter().all(|time| time.passed) && !times[open].passed);
        assert_eq!(times[open].to, to);
    }

    /// When the season is over nothing waits any more.
    #[test]
    fn a_season_that_is_over_leaves_out_what_was_not_done() {
        let times = chain(run(8), &[Some(date(2026, 6, 1))], date(2026, 11, 1));
        assert!(times[0].done && times[1..].iter().all(|time| time.passed && time.to <= date(2026, 9, 5)));
    }

    proptest! {
        /// Whatever is inked, left out or struck, times keep their order, and each has its days in order.
        #[test]
        fn times_keep_their_order(
            gaps in proptest::collection::vec((0_i32..40, proptest::bool::ANY), 0..12),
            today in 0_i32..300,
            low in 1_i32..60,
            more in 0_i32..20,
            wide in 0_i32..30,
        ) {
            let start = date(2026, 4, 1);
            let mut day = start;
            let done: Vec<Option<Date>> = gaps.into_iter().map(|(gap, inked)| {
                day = plus(day, gap);
                inked.then_some(day)
            }).collect();
            let first = (date(2026, 5, 20), plus(date(2026, 5, 20), wide));
            let run = Run { first, every: Span { low, high: low + more }, most: 16, last: date(2026, 10, 1) };
            let times = chain(run, &done, plus(start, today));
            prop_assert!(times.iter().all(|time| time.from <= time.to && time.from <= time.due));
            for pair in times.windows(2) {
                prop_assert!(pair[0].from <= pair[1].from && pair[0].due <= pair[1].due, "{pair:?}");
            }
            let inked: Vec<Date> = times.iter().filter(|time| time.done).map(|time| time.from).collect();
            prop_assert_eq!(inked, done.iter().flatten().copied().collect::<Vec<_>>());
        }

        #[test]
        fn places_keep_the_order_of_days(said in proptest::collection::vec(proptest::option::of(-5_i32..2_000), 0..80)) {
            let places = places(said);
            prop_assert!(places.windows(2).all(|pair| pair[0] < pair[1]));
        }
    }
}
