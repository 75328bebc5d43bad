//! What must hold for a day to count, in plain numbers, and how it is tried on a run.

use jiff::civil::Date;

use crate::{
    frost::FROSTS,
    scenario::{AirRun, GroundRun, Scenarios, days_to_frost},
    snow::COVERS,
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
    pub(crate) fn try_on(&self, all: &Scenarios, air: &AirRun, ground: &GroundRun, holds: &mut [bool]) {
        let (start, days) = (all.spinup(), holds.len());
        let sum = |prefix: &[f32], from: usize, days: usize| prefix[from + days] - prefix[from];
        // One loop a rule: the day is tried by a closure that knows its rule.
        match *self {
            Test::DaysGrow { longer, since } => {
                each(holds, start, |at| all.longer(at) == longer && all.longer(at - since) == longer);
            }
            Test::SoilWarm { mornings, by_mean, at_least } => {
                let soil = if by_mean { &ground.mean } else { &ground.morning };
                // Mornings it has been warm enough, up to each day.
                let mut held = 0;
                let held: Vec<usize> = soil[..start + days]
                    .iter()
                    .map(|warm| {
                        held = if *warm >= at_least { held + 1 } else { 0 };
                        held
                    })
                    .collect();
                each(holds, start, |at| held[at] >= mornings);
            }
            Test::SoilCool { at_most, base, days } => {
                let mut warmth = 0.0;
                let gathered: Vec<f32> = std::iter::once(0.0)
                    .chain(ground.mean.iter().map(|warm| {
                        warmth += (warm - base).max(0.0);
                        warmth
                    }))
                    .collect();
                each(holds, start, |at| sum(&gathered, at, days) <= at_most);
            }
            Test::WarmthToCome { at_least, within } => {
                let next = days_to_next(&ground.mean, |warm| *warm >= at_least);
                each(holds, start, |at| (next[at] as usize) < within);
            }
            Test::Chill { at_most, days, within } => {
                let mut cold = 0;
                let gathered: Vec<u32> = std::iter::once(0)
                    .chain(ground.mean.iter().map(|mean| {
                        cold += u32::from(*mean <= at_most);
                        cold
                    }))
                    .collect();
                each(holds, start, |at| gathered[at + within] - gathered[at] >= days);
            }
            Test::FreezeThaw { nights, within } => {
                each(holds, start, |at| air.thaws[at + within] - air.thaws[at] >= nights);
            }
            Test::NoFrost { after, days, threshold } => {
                let next = days_to_next(&air.tmin, |cold| *cold <= threshold);
                each(holds, start, |at| next[at + after] as usize >= days);
            }
            Test::GrowingDays { days, frost } => match kept(frost) {
                Some(kept) => each(holds, start, |at| air.next_frost[kept][at] >= days),
                // One that is asked for once is looked for once.
                None => {
                    let next = days_to_frost(&air.tmin, |at| all.longer(at), frost);
                    each(holds, start, |at| next[at] >= days);
                }
            },
            Test::RainAfter { at_least, within } => each(holds, start, |at| sum(&air.rain, at + 1, within) >= at_least),
            Test::NoDrySpell { longest, within } => {
                let next = days_to_next(&air.dry_run, |dry| usize::from(*dry) > longest);
                each(holds, start, |at| next[at] as usize > within);
            }
            Test::MeanBelow { days, at_most } => {
                each(holds, start, |at| sum(&air.mean, at, days) <= at_most * days as f32)
            }
            Test::Workable { days, within } => {
                each(holds, start, |at| ground.workable[at + within] - ground.workable[at] >= days)
            }
            Test::Trafficable { within } => {
                each(holds, start, |at| ground.trafficable[at + within] > ground.trafficable[at])
            }
            Test::SnowFree => each(holds, start, |at| f64::from(ground.snow[at]) < COVERS * 1_000.0),
            Test::NearMaize { before, after } => {
                each(holds, start, |at| (-before..=after).contains(&ground.since_maize[at]))
            }
            Test::SodRests { at_least, days } => each(holds, start, |at| {
                sum(&air.mean, at + 1 - days, days) >= at_least * days as f32 && ground.stress[at] < 0.9
            }),
            Test::Moist { at_least } => each(holds, start, |at| ground.top_left[at] >= at_least),
            Test::NotBefore { on } => each(holds, start, |at| all.date(at - start) >= on),
        }
    }
}

/// For each day, how many days to the next of which something is true: none on the day itself.
fn days_to_next<T>(values: &[T], of: impl Fn(&T) -> bool) -> Vec<u32> {
    let mut next = 100_000;
    let mut days: Vec<u32> = values
        .iter()
        .rev()
        .map(|value| {
            next = if of(value) { 0 } else { next + 1 };
            next
        })
        .collect();
    days.reverse();
    days
}

/// Try each day of the curve.
#[inline(always)]
fn each(holds: &mut [bool], start: usize, test: impl Fn(usize) -> bool) {
    for (day, holds) in holds.iter_mut().enumerate() {
        *holds = test(start + day);
    }
}
