//! A regime: how an established stand is used and kept, season after season.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::Reason;
use crate::{
    crop::{Crop, CuttingFacts},
    nutrients::dressings::DressingTime,
};

/// Days from one to another.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Span {
    /// At the least.
    pub low: i32,
    /// At the most.
    pub high: i32,
}

/// Days of the regime's own, or of the crop's.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(untagged)]
pub enum DaysOf {
    /// The regime's own.
    Own(Span),
    /// The crop's: see [`CuttingFacts`].
    Crop(OfCutting),
}

/// That a figure is the crop's.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum OfCutting {
    Crop,
}

impl DaysOf {
    /// For these crops, of which the slowest decides; none where no crop of them has such days.
    pub fn of(self, crops: &[&Crop], days: fn(&CuttingFacts) -> &crate::crop::Days) -> Option<Span> {
        match self {
            Self::Own(span) => Some(span),
            Self::Crop(OfCutting::Crop) => {
                let known = crops.iter().filter_map(|crop| crop.cutting.as_ref()).map(days);
                let spans = known.map(|days| Span { low: days.low, high: days.high });
                spans.reduce(|a, b| Span { low: a.low.max(b.low), high: a.high.max(b.high) })
            }
        }
    }
}

/// What the days of a season are counted from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum SeasonAnchor {
    /// The usual day of green-up.
    GreenUp,
    /// The usual day of the killing frost of autumn.
    Frost,
    /// The usual day of green-up of the next season.
    NextGreenUp,
}

/// One end of a time in each season.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct SeasonEdge {
    /// What the days are counted from.
    pub anchor: SeasonAnchor,
    /// Days after it; before it where negative.
    #[serde(default)]
    pub days: i32,
}

/// When a step of a regime comes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Chain {
    /// Days from green-up to the first of a season.
    pub first: DaysOf,
    /// Days from one to the next.
    pub every: DaysOf,
    /// Times in a season, at the most.
    pub most: u32,
    /// Days from the sowing to the first of all.
    pub young: Span,
    /// Days before the usual killing frost after which it comes no more in the season; none where it goes on.
    #[serde(default)]
    pub rest_before_frost: Option<i32>,
}

/// Once in each season.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Once {
    /// First sensible day.
    pub from: SeasonEdge,
    /// Last sensible day.
    pub to: SeasonEdge,
    /// Days from the sowing to the first of all.
    pub young: Span,
    /// Seasons from one to the next; every season when absent.
    #[serde(default)]
    pub every: Option<i16>,
}

/// Each time another step comes.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Each {
    /// Key of that step, which is a chain.
    pub step: String,
    /// Days after it.
    pub after: Span,
    /// Which of its times; all when absent.
    #[serde(default)]
    pub which: Which,
}

/// Which times of a season's chain.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Which {
    /// Every one.
    #[default]
    Every,
    /// The first.
    First,
    /// The last but one, so that the last follows; the last of one or two.
    LastButOne,
}

impl Which {
    /// Whether it is the time at a place, of so many.
    pub fn is(self, at: usize, of: usize) -> bool {
        match self {
            Self::Every => true,
            Self::First => at == 0,
            Self::LastButOne => at + 1 == if of > 2 { of - 1 } else { of },
        }
    }
}

/// How a step comes again.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Comes {
    /// Several times a season, each dated from the one before as it stands.
    Chain(Chain),
    /// Each time another step comes.
    Each(Each),
    /// Once a season.
    Once(Once),
}

/// A step that comes in each season.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct RegimeStep {
    /// Its key: of what is harvested it is the same in all regimes, so that ink of one is known to another.
    pub key: String,
    /// Key of the operation.
    pub operation: String,
    /// When.
    pub comes: Comes,
    /// What it brings; it stands in the plan where that is due, and always where [`Self::always`] says so.
    #[serde(default)]
    pub amount: Option<DressingTime>,
    /// It stands in the plan whether or not it is known how much it brings.
    #[serde(default)]
    pub always: bool,
    /// Why then.
    #[serde(default)]
    pub reasons: Vec<Reason>,
}

/// A way of using and keeping a stand.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Regime {
    /// Stable name; that of its file.
    pub key: String,
    /// In words.
    pub name: String,
    /// Why one does it.
    pub why: String,
    /// Its place in lists, from 1.
    pub place: u32,
    /// What is harvested has died back and moved its reserves down.
    #[serde(default, skip_serializing)]
    #[schema(ignore)]
    pub after_frost: bool,
    /// Its steps, in the order they are listed.
    #[serde(rename = "step", skip_serializing)]
    #[schema(ignore)]
    pub steps: Vec<RegimeStep>,
}

impl Regime {
    /// A step by its key.
    pub fn step(&self, key: &str) -> Option<&RegimeStep> {
        self.steps.iter().find(|step| step.key == key)
    }

    /// Whether an operation belongs to it.
    pub fn has(&self, operation: &str) -> bool {
        self.steps.iter().any(|step| step.operation == operation)
    }

    /// Whether it has a dressing of a time.
    pub fn dresses(&self, time: DressingTime) -> bool {
        self.steps.iter().any(|step| step.amount == Some(time))
    }
}
