//! Ways of cutting a stand, tried on the years to come: a rule decides each evening whether it is cut, by what stands
//! there, and what follows is not assumed but grown on: regrowth, reserve, the winter, the next spring.

use jiff::civil::Date;

use crate::{
    course::{Course, Followed, Harvest},
    day::days_between,
    growth::{Air, Cut, Stand},
    years::Scenarios,
};

/// When it is cut.
#[derive(Debug, Clone, PartialEq)]
pub enum Policy {
    /// On these days, in their order.
    OnDays(Vec<Date>),
    /// As soon as it is at a stage, 1 being early bloom or heading; a regrowth that does not head is cut after so many days.
    AtStage {
        /// The stage.
        stage: f64,
        /// Days of a regrowth that does not head.
        then: u32,
    },
    /// First at a stage, then every so many days.
    Every {
        /// The stage of the first.
        first: f64,
        /// Days from one to the next.
        days: u32,
    },
    /// Before the fibre of what stands passes a limit; what never comes near it is cut after so many days.
    BelowFibre {
        /// The limit, % of dry matter.
        most: f64,
        /// Days of a regrowth that stays below it.
        then: u32,
    },
}

/// What holds for all of them.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Limits {
    /// The first day of the next growing year: nothing is cut from then on.
    pub year_ends: Date,
    /// The last day on which it is cut, so that it rests before winter.
    pub until: Date,
    /// Days from one cut to the next, at the least.
    pub least_days: u32,
    /// Cuts at the most, from today on.
    pub most: usize,
    /// Less above the stubble is not worth a cut, kg/ha.
    pub worth: f64,
    /// Nitrogen spread two days after each cut, kg/ha.
    pub feeds: f64,
    /// The usual day on which frost ends its growth, on which its reserve is read.
    pub frost: Date,
}

/// Rain that spoils hay lying on the field, mm in three days.
pub const SPOILS: f64 = 5.0;
/// Days for which hay lies on the field (common practice).
const LIES: usize = 3;

/// What a way of cutting gives in one of the years.
#[derive(Debug, Clone, PartialEq)]
pub struct Tried {
    /// What was taken, in the order of days.
    pub harvests: Vec<Harvest>,
    /// Of them, those that were rained on while they lay.
    pub rained: u32,
    /// Share of the reserve that it goes into winter with; none where the years end before.
    pub stored: Option<f64>,
    /// How full the first crop stands at the end, of how full it stood today.
    pub kept: f64,
    /// Green above the usual stubble each evening, kg/ha.
    pub above: Vec<f64>,
}

impl Tried {
    /// Above the stubble on the last day that is followed, kg/ha.
    pub fn spring(&self) -> f64 {
        self.above.last().copied().unwrap_or(0.0)
    }
}

impl Policy {
    /// Whether it is cut this evening.
    fn is_due(&self, on: Date, stand: &Stand, course: &Course<'_>, air: &Air) -> bool {
        let (plant, facts) = (stand.plants()[0], course.facts[0]);
        let heads = plant.heading || !facts.needs_winter;
        match self {
            Self::OnDays(days) => days.contains(&on),
            Self::AtStage { stage, then } => match heads {
                true => plant.stage(facts) >= *stage,
                false => plant.cuts > 0 && plant.days >= *then,
            },
            Self::Every { first, days } => match plant.cuts {
                0 if heads => plant.stage(facts) >= *first,
                0 => plant.days >= *days,
                _ => plant.days >= *days,
            },
            Self::BelowFibre { most, then } => {
                let regrown = plant.cuts > 0 && plant.days >= *then;
                regrown || stand.quality(course.facts, air).fibre >= *most
            }
        }
    }
}

/// A way of cutting, from the past on in each of the years, over so many days.
pub fn tried(
    course: &Course<'_>,
    all: &Scenarios,
    past: &Followed,
    days: usize,
    (policy, limits): (&Policy, &Limits),
) -> Vec<Tried> {
    let Ok(start) = usize::try_from(days_between(all.first(), past.to)) else { return vec![] };
    let end = (start + days).min(all.days());
    let fullness = past.stand.plants()[0].stand.max(1e-9);
    let of = |run: usize| {
        let (mut stand, mut memory) = (past.stand, past.memory);
        let mut harvests: Vec<Harvest> = vec![];
        let (mut rained, mut stored) = (0, None);
        let mut above = Vec::with_capacity(end.saturating_sub(start));
        let mut last = past.harvests.last().map(|harvest| harvest.on);
        for day in start..end {
            let of_day = all.day_of(run, day);
            let on = of_day.date;
            let fed = last.is_some_and(|last| days_between(last, on) == 2 && last >= past.to);
            let may = on < limits.year_ends
                && harvests.len() < limits.most
                && on <= limits.until
                && last.is_none_or(|last| days_between(last, on) >= limits.least_days as i32);
            let decide = |stand: &Stand, above: f64, air: &Air| {
                let due = may && above > limits.worth && policy.is_due(on, stand, course, air);
                due.then_some(Cut::MOWN)
            };
            let feeds = if fed { limits.feeds } else { 0.0 };
            let before = harvests.len();
            let evening = course.evening_of(&mut stand, &mut memory, of_day, &mut harvests, (feeds, decide));
            if harvests.len() > before {
                last = Some(on);
                let lying = (day + 1..=day + LIES).filter_map(|day| all.runs()[run].days().get(day));
                rained += u32::from(lying.map(|day| day.rain).sum::<f64>() >= SPOILS);
            }
            if on == limits.frost {
                stored = Some(stand.plants()[0].stored(course.facts[0]));
            }
            above.push(evening.above);
        }
        let kept = stand.plants()[0].stand / fullness;
        Tried { harvests, rained, stored, kept, above }
    };
    (0..all.runs().len()).map(of).collect()
}
