//! What must hold for a day to count, in plain numbers, and how it is tried on a run.

use std::ops::Sub;

use jiff::civil::Date;

use crate::{
    day::days_between,
    frost::FROSTS,
    years::{Scenarios, SiteRuns, days_to_frost},
};

/// A rule of one crop, in plain numbers, ready to be tried.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Test {
    /// Days grow longer, or shorter.
    DaysGrow {
        /// Longer.
        longer: bool,
        /// For so many days already.
        since: usize,
    },
    /// The soil at seed depth has held a temperature up to the day.
    SoilWarm {
        /// For so many mornings, or days.
        mornings: usize,
        /// By the days' means, not the mornings.
        by_mean: bool,
        /// °C.
        at_least: f32,
    },
    /// The soil gathers little warmth after the day.
    SoilCool {
        /// Warmth, °C·d.
        at_most: f32,
        /// Above this, °C.
        base: f32,
        /// Within so many days.
        days: usize,
    },
    /// The soil's mean reaches a temperature after the day.
    WarmthToCome {
        /// °C.
        at_least: f32,
        /// Within so many days.
        within: usize,
    },
    /// The soil is cold on enough of the days after.
    Chill {
        /// A day's mean that counts, °C.
        at_most: f32,
        /// So many of them.
        days: u32,
        /// Within so many days.
        within: usize,
    },
    /// Nights of frost with thawing days between come after.
    FreezeThaw {
        /// So many nights.
        nights: u32,
        /// Within so many days.
        within: usize,
    },
    /// No frost on the days after.
    NoFrost {
        /// From so many days after.
        after: usize,
        /// To so many days after.
        days: usize,
        /// On the screen, °C.
        threshold: f32,
    },
    /// The frost that ends the season is far off.
    GrowingDays {
        /// At least so many days.
        days: u32,
        /// On the screen, °C.
        frost: f64,
    },
    /// Rain comes after.
    RainAfter {
        /// mm.
        at_least: f32,
        /// Within so many days.
        within: usize,
    },
    /// No long run of days without rain after.
    NoDrySpell {
        /// Longest run borne, days.
        longest: usize,
        /// Within so many days.
        within: usize,
    },
    /// The air stays cool after.
    MeanBelow {
        /// For so many days.
        days: usize,
        /// Mean, °C.
        at_most: f32,
    },
    /// The seedbed can be worked from the day on.
    Workable {
        /// On so many days.
        days: u32,
        /// Within so many days.
        within: usize,
    },
    /// The ground carries from the day on.
    Trafficable {
        /// Once within so many days.
        within: usize,
    },
    /// No snow to speak of.
    SnowFree,
    /// Near the day on which maize is sown here.
    NearMaize {
        /// So many days before it.
        before: i32,
        /// So many days after it.
        after: i32,
    },
    /// The old sward rests: warm air and a dry root zone.
    SodRests {
        /// Mean of the air, °C.
        at_least: f32,
        /// Over so many days up to the day.
        days: usize,
    },
    /// The topsoil still holds water.
    Moist {
        /// Share of what it can lose.
        at_least: f32,
    },
    /// Not before a day.
    NotBefore {
        /// The day.
        on: Date,
    },
}

/// The place of a frost among those kept, when it is one of them.
fn kept(frost: f64) -> Option<usize> {
    FROSTS.iter().position(|kept| (kept - frost).abs() < 1e-6)
}

impl Test {
    /// Of two members of a mix, whether this one's rule of the same kind asks for more.
    pub fn stricter_than(&self, other: &Self) -> bool {
        match (*self, *other) {
            (Test::SoilWarm { at_least: own, .. }, Test::SoilWarm { at_least, .. })
            | (Test::WarmthToCome { at_least: own, .. }, Test::WarmthToCome { at_least, .. })
            | (Test::NoFrost { threshold: own, .. }, Test::NoFrost { threshold: at_least, .. }) => own > at_least,
            (Test::SoilCool { base: own, .. }, Test::SoilCool { base, .. }) => own < base,
            (Test::MeanBelow { at_most: own, .. }, Test::MeanBelow { at_most, .. }) => own < at_most,
            (Test::GrowingDays { days: own, frost: at }, Test::GrowingDays { days, frost }) => {
                // A milder frost comes sooner.
                own > days || (own == days && at > frost)
            }
            _ => false,
        }
    }

    /// Whether the rule speaks of autumn frost, which a place may not know.
    pub fn of_frost(&self) -> bool {
        matches!(*self, Test::GrowingDays { .. } | Test::NoFrost { .. })
    }

    /// Whether water brought makes it hold.
    pub fn of_rain(&self) -> bool {
        matches!(*self, Test::RainAfter { .. } | Test::NoDrySpell { .. } | Test::Moist { .. })
    }

    /// For each day of the curve, whether it holds in one run; written into `holds`.
    pub(crate) fn try_on(&self, all: &Scenarios, site: &SiteRuns, run: usize, holds: &mut [bool]) {
        let (air, ground) = (&all.runs()[run], &site.runs()[run]);
        let (start, end) = (all.spinup(), all.spinup() + holds.len());
        // One loop a rule, over slices as long as the curve: the day is tried by a closure that knows its rule.
        match *self {
            Test::DaysGrow { longer, since } => {
                let (now, then) = (all.longer(start), all.longer(start - since));
                pairs(holds, now, then, |now, then| now == longer && then == longer);
            }
            Test::SoilWarm { mornings, by_mean, at_least } => {
                let soil = if by_mean { &ground.mean } else { &ground.morning };
                // Mornings it has been warm enough, up to each day.
                let held = gathered(&soil[..end], 0, |held, warm| if warm >= at_least { held + 1 } else { 0 });
                each(holds, &held[start + 1..], |held| held >= mornings);
            }
            Test::SoilCool { at_most, base, days } => {
                let warmth = gathered(&ground.mean, 0.0, |sum, warm: f32| sum + (warm - base).max(0.0));
                spans(holds, &warmth[start..], days, |warmth| warmth <= at_most);
            }
            Test::WarmthToCome { at_least, within } => {
                let next = days_to_next(&ground.mean[start..], |warm| warm >= at_least);
                each(holds, &next, |next| (next as usize) < within);
            }
            Test::Chill { at_most, days, within } => {
                let cold = gathered(&ground.mean, 0_u32, |cold, mean| cold + u32::from(mean <= at_most));
                spans(holds, &cold[start..], within, |cold| cold >= days);
            }
            Test::FreezeThaw { nights, within } => {
                spans(holds, &air.thaws[start..], within, |thaws| thaws >= nights);
            }
            Test::NoFrost { after, days, threshold } => {
                let next = days_to_next(&air.tmin[start + after..], |cold| cold <= threshold);
                each(holds, &next, |next| next as usize >= days);
            }
            Test::GrowingDays { days, frost } => match kept(frost) {
                Some(kept) => each(holds, &air.next_frost[kept][start..], |next| next >= days),
                // One that is asked for once is looked for once.
                None => {
                    let next = days_to_frost(&air.tmin[start..], all.longer(start), frost);
                    each(holds, &next, |next| next >= days);
                }
            },
            Test::RainAfter { at_least, within } => {
                spans(holds, &air.rain[start + 1..], within, |rain| rain >= at_least);
            }
            Test::NoDrySpell { longest, within } => {
                let next = days_to_next(&air.dry_run[start..], |dry| usize::from(dry) > longest);
                each(holds, &next, |next| next as usize > within);
            }
            Test::MeanBelow { days, at_most } => {
                spans(holds, &air.mean[start..], days, |warmth| warmth <= at_most * days as f32);
            }
            Test::Workable { days, within } => {
                spans(holds, &ground.workable[start..], within, |fit| u32::from(fit) >= days);
            }
            Test::Trafficable { within } => spans(holds, &ground.trafficable[start..], within, |fit| fit > 0),
            Test::SnowFree => each(holds, &ground.snowed[start..], |snowed| !snowed),
            Test::NearMaize { before, after } => {
                each(holds, &site.since_maize(all)[run][start..], |since| (-before..=after).contains(&since));
            }
            Test::SodRests { at_least, days } => {
                spans(holds, &air.mean[start + 1 - days..], days, |warmth| warmth >= at_least * days as f32);
                for (holds, stress) in holds.iter_mut().zip(&ground.stress[start..]) {
                    *holds &= *stress < 0.9;
                }
            }
            Test::Moist { at_least } => each(holds, &ground.top_left[start..], |left| left >= at_least),
            Test::NotBefore { on } => {
                let from = usize::try_from(days_between(all.first(), on)).unwrap_or(0).min(holds.len());
                holds[..from].fill(false);
                holds[from..].fill(true);
            }
        }
    }
}

/// Before each day and after the last, what was gathered of the days up to it.
fn gathered<T: Copy, S: Copy>(days: &[T], first: S, gather: impl Fn(S, T) -> S) -> Vec<S> {
    let mut sums = Vec::with_capacity(days.len() + 1);
    let mut sum = first;
    sums.push(sum);
    sums.extend(days.iter().map(|day| {
        sum = gather(sum, *day);
        sum
    }));
    sums
}

/// For each day, how many days to the next of which something is true: none on the day itself.
fn days_to_next<T: Copy>(values: &[T], of: impl Fn(T) -> bool) -> Vec<u32> {
    let (mut next, mut days) = (100_000, vec![0; values.len()]);
    for (days, value) in days.iter_mut().zip(values).rev() {
        next = if of(*value) { 0 } else { next + 1 };
        *days = next;
    }
    days
}

/// Try each day of the curve by a value of that day.
#[inline(always)]
fn each<T: Copy>(holds: &mut [bool], values: &[T], test: impl Fn(T) -> bool) {
    let values = &values[..holds.len()];
    for (holds, value) in holds.iter_mut().zip(values) {
        *holds = test(*value);
    }
}

/// By what is gathered from each day on over so many days, out of sums up to each.
#[inline(always)]
fn spans<T: Copy + Sub<Output = T>>(holds: &mut [bool], sums: &[T], days: usize, test: impl Fn(T) -> bool) {
    pairs(holds, &sums[days..], sums, |until, before| test(until - before));
}

/// By two values of each day.
#[inline(always)]
fn pairs<T: Copy>(holds: &mut [bool], one: &[T], other: &[T], test: impl Fn(T, T) -> bool) {
    let (one, other) = (&one[..holds.len()], &other[..holds.len()]);
    for ((holds, one), other) in holds.iter_mut().zip(one).zip(other) {
        *holds = test(*one, *other);
    }
}
