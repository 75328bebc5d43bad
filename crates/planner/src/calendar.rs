//! From anchors and offsets to days.

use agronomy::{
    crop::{Crop, Days, Life},
    practice::{Anchor, CropDays, Edge, Practice, Template},
    weather::usual_year::UsualYear,
    window::{Rule, WindowKind, window_kind},
};
use jiff::{ToSpan, civil::Date};
use records::Choices;

use crate::Uses;

/// A stand of years that does not do below this pH hangs on lime (assumed).
const HANGS_ON_LIME: f64 = 5.8;
/// Without lime a sample tells of fertilizer up to the day before the sowing (assumed).
const NO_LIME: i32 = 182;

/// The days that a plan's steps are counted from.
pub struct Calendar<'a> {
    crops: &'a [&'a Crop],
    planned: Date,
    /// The day it was sown.
    pub sown: Option<Date>,
    /// The day it was or will be sown. An unsown stand whose day has gone by can't come up before it is
    /// sown: what follows is counted from today.
    pub sown_on: Date,
    /// The day the plan is derived for.
    pub today: Date,
    uses: &'a Uses,
    /// Seed that is to sleep through a winter.
    sleeps: bool,
}

impl<'a> Calendar<'a> {
    /// Of a stand on a day.
    pub fn new(choices: &Choices, crops: &'a [&'a Crop], sown: Option<Date>, today: Date, uses: &'a Uses) -> Self {
        let planned = choices.sow_on;
        let sleeps = choices.timing.as_deref().and_then(window_kind).is_some_and(sleeps);
        Self { crops, planned, sown, sown_on: sown.unwrap_or(planned.max(today)), today, uses, sleeps }
    }

    /// The day from which seed that is sown on a day has the warmth to come up: that day while things grow, else the
    /// green-up that follows. The same day where no weather tells.
    fn wakes(&self, sown: Date) -> Date {
        let Some(UsualYear { green_up: Some(green_up), frost }) = self.uses.usual else { return sown };
        let season = self.uses.season_of(sown);
        let spring = |season: i16| self.uses.start(season).saturating_add(green_up.days());
        let autumn = frost.map(|frost| self.uses.start(season).saturating_add(frost.days()));
        if sown < spring(season) {
            spring(season)
        } else if self.sleeps || autumn.is_some_and(|autumn| sown > autumn) {
            spring(season + 1)
        } else {
            sown
        }
    }

    /// First and last sensible day of a step's first time.
    pub fn time(
        &self,
        school: &Practice,
        template: &Template,
        done_on: &impl Fn(&str) -> Option<Date>,
    ) -> (Date, Date) {
        let from = self.edge(school, &template.from, false, done_on, 0);
        let to = self.edge(school, &template.to, true, done_on, 0);
        (from, to.max(from))
    }

    /// The same of a later time: so many days after the one before, at the least.
    pub fn occurrence(
        &self,
        template: &Template,
        (from, to): (Date, Date),
        index: i32,
        last: Option<Date>,
    ) -> (Date, Date) {
        let every = template.repeats.map_or(0, |repeats| repeats.every_days);
        let shifted = |day: Date| day.saturating_add((every * index).days());
        let (from, to) = (shifted(from), shifted(to));
        match last.map(|last| last.saturating_add(every.days())) {
            Some(free) if free > from => (free, to.max(free)),
            _ => (from, to),
        }
    }

    /// When a step is still to be done whose time was over before the stand was decided: from that day on, for as long as
    /// its time is, and before the sowing. None where its time was not over then.
    pub fn late(&self, decided: Option<Date>, (from, to): (Date, Date)) -> Option<(Date, Date)> {
        let decided = decided.filter(|decided| to < *decided)?;
        let last = self.sown_on.saturating_sub(1.day());
        Some((decided, decided.saturating_add((to - from).get_days().days()).min(last).max(decided)))
    }

    fn edge(
        &self,
        school: &Practice,
        edge: &Edge,
        high: bool,
        done_on: &impl Fn(&str) -> Option<Date>,
        depth: usize,
    ) -> Date {
        let start = match &edge.anchor {
            Anchor::PlannedSowing => self.planned,
            Anchor::Sowing => self.sown_on,
            Anchor::Step(key) => done_on(key).unwrap_or_else(|| match school.step(key) {
                // Files that go in circles are refused when they are read; the bound is for safety.
                Some(step) if depth < school.steps.len() => self.edge(school, &step.from, high, done_on, depth + 1),
                _ => self.planned,
            }),
        };
        // What a crop takes to come up is counted from when it is warm enough to.
        let of_sowing = matches!(edge.anchor, Anchor::Sowing | Anchor::PlannedSowing);
        let start = if edge.crop.is_some() && of_sowing { self.wakes(start) } else { start };
        let crop = match edge.crop {
            Some(CropDays::FirstLook) => self.slowest(high, |crop| &crop.establish.first_look),
            Some(CropDays::Count) => self.slowest(high, |crop| &crop.establish.count),
            Some(CropDays::Topdress) => {
                let fed = self.crops.iter().filter_map(|crop| crop.nutrition.topdress.as_ref());
                fed.map(|days| if high { days.high } else { days.low }).max().unwrap_or_default()
            }
            Some(CropDays::NoLime) => {
                let hangs = |crop: &&Crop| crop.life != Life::Annual && crop.soil.ph_low.value >= HANGS_ON_LIME;
                let limed = self.crops.iter().any(hangs);
                if limed { 0 } else { NO_LIME }
            }
            None => 0,
        };
        start.saturating_add((edge.days + crop).days())
    }

    /// The slowest member decides when a look tells.
    fn slowest(&self, high: bool, days: fn(&Crop) -> &Days) -> i32 {
        let of = |crop: &&Crop| if high { days(crop).high } else { days(crop).low };
        self.crops.iter().map(of).max().unwrap_or(if high { 14 } else { 7 })
    }
}

/// Sown so that it does not come up before spring.
fn sleeps(kind: &WindowKind) -> bool {
    kind.conditions.iter().any(|rule| matches!(rule, Rule::SoilCool { .. }))
}

/// Months from one day to another, whole.
pub fn months(from: Date, to: Date) -> i32 {
    from.until((jiff::Unit::Month, to)).map_or(0, |span| span.get_months())
}
