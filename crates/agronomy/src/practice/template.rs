//! A practice: the steps of a school, before they have dates.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    nutrients::dressings::DressingTime,
    units::{CountPerArea, Fraction, Length},
    weather::soil_temperature::SoilCover,
    window::Rule,
};

/// What the days of a step are counted from.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Anchor {
    /// The day the person means to sow.
    PlannedSowing,
    /// The day it was sown; while it is not, the planned one or today, whichever is later.
    Sowing,
    /// The day another step was done, or the first day it is planned for.
    Step(String),
}

/// Days that differ by crop; of a mix, the slowest member decides.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum CropDays {
    /// Until the first seedlings show.
    FirstLook,
    /// Until a count tells.
    Count,
    /// Until seedlings are fed: of a mix, those that are.
    Topdress,
    /// By how much later the soil may be sampled where no crop hangs on lime, which takes half a year.
    NoLime,
}

/// One end of a step's time.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Edge {
    /// What the days are counted from.
    pub anchor: Anchor,
    /// Days after it; before it where negative.
    #[serde(default)]
    pub days: i32,
    /// Days of the crop's own, added.
    #[serde(default)]
    pub crop: Option<CropDays>,
}

/// How often a step comes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Repeats {
    /// Times in all.
    pub times: u32,
    /// Days from one to the next, at the least.
    pub every_days: i32,
}

/// What must be so for a step to stand in the plan at all.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Gate {
    /// What was sprayed here reaches the sowing, or a bioassay was made for it.
    BioassayCalledFor,
    /// Lime is due by what was decided, or was spread.
    LimeDue,
    /// Nutrients are due by what was decided, or were brought.
    NutrientsDue,
    /// Seed is sown.
    FromSeed,
    /// Plants are set out.
    FromPlants,
    /// Every crop of it is a warm-season perennial: dormant while cool-season weeds grow.
    WarmSeasonPerennial,
    /// It is kept by fire once it stands.
    KeptByFire,
}

/// What a step brings, reckoned elsewhere.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Amount {
    /// The lime decided on.
    Lime,
    /// The part of the year's nutrients that is brought then.
    Nutrients(DressingTime),
}

/// Which work on the ground counts for a step; work on the stand itself always does.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Counts {
    /// Not older than so many months before the sowing.
    #[serde(default)]
    pub months_before_sowing: Option<i32>,
    /// Not before the work that closed another step; where that is open, not more than a year back.
    #[serde(default)]
    pub since: Option<String>,
    /// Only the latest counts: those before it are history.
    #[serde(default)]
    pub latest: bool,
}

/// Something that must be so before a step begins.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(untagged)]
pub enum Condition {
    /// Seen on the stand.
    Seen(Asked),
    /// Held by the weather: the rules of the odds, over the same years.
    Weather(Rule),
}

/// A condition that somebody sees, counts or dates.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "is", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Asked {
    /// The plants stand so tall.
    PlantHeight {
        /// At the least.
        at_least: Length,
    },
    /// The weeds stand so tall.
    WeedHeight {
        /// At the least.
        at_least: Length,
    },
    /// It has turned green after its rest.
    GreenUp,
    /// So many days have passed since a step was done.
    DaysSince {
        /// Key of the step.
        step: String,
        /// Days.
        days: i32,
    },
    /// So many plants stand.
    Stand {
        /// At the least.
        at_least: CountPerArea,
    },
    /// A step has been done.
    Passed {
        /// Key of the step.
        step: String,
    },
    /// A day has come.
    From {
        /// The day.
        on: Date,
    },
}

/// The crop of a mix that a reason speaks of, and the figure it stands on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum OfCrop {
    /// The one that wants the warmest soil: `{temperature}`.
    Warmest,
    /// The last to show: `{low}` and `{high}` days.
    LastToShow,
    /// The last that can be counted: `{how}`.
    LastCounted,
}

/// Why a step is done then.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Reason {
    /// A sentence; `{20 ac}` is an amount, `{crop}` and the names beside [`OfCrop`] are the crop's own.
    pub text: String,
    /// The crop it speaks of; its figure's source is then the reason's.
    #[serde(default)]
    pub of: Option<OfCrop>,
    /// Key of its source; the trade's own custom when absent.
    #[serde(default)]
    pub source: Option<String>,
}

/// A step, before it has a date.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Template {
    /// Its key in the practice.
    pub key: String,
    /// Key of the operation.
    pub operation: String,
    /// Operations that do the same here, and close it as well.
    #[serde(default)]
    pub also: Vec<String>,
    /// What to do, where the operation's own title says too little.
    #[serde(default)]
    pub title: Option<String>,
    /// First sensible day.
    pub from: Edge,
    /// Last sensible day.
    pub to: Edge,
    /// Keys of the steps that must be done before it.
    #[serde(default)]
    pub after: Vec<String>,
    /// Key of the step that leaves it behind: once that one is done or left behind itself, this one is
    /// passed over.
    #[serde(default)]
    pub until: Option<String>,
    /// Work before the sowing that names no step is none of it, though it is of its operation.
    #[serde(default)]
    pub after_sowing: bool,
    /// What must be so for it to stand in the plan.
    #[serde(default)]
    pub gates: Vec<Gate>,
    /// What must be so before it begins.
    #[serde(default)]
    pub conditions: Vec<Condition>,
    /// How often it comes; once when absent.
    #[serde(default)]
    pub repeats: Option<Repeats>,
    /// What it brings.
    #[serde(default)]
    pub amount: Option<Amount>,
    /// Which work on the ground counts for it.
    #[serde(default)]
    pub counts: Option<Counts>,
    /// Why then.
    #[serde(default)]
    pub reasons: Vec<Reason>,
    /// Cautions beside the operation's own.
    #[serde(default)]
    pub cautions: Vec<String>,
}

/// Where a practice is offered.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Situation {
    /// For seed and plants alike.
    Any,
    /// For seed alone.
    Seed,
    /// For plants alone.
    Plants,
}

/// A school of making a stand.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Practice {
    /// Stable name; that of its file.
    pub key: String,
    /// In words.
    pub name: String,
    /// Why one does it.
    pub why: String,
    /// Whether the ground is tilled: what slope, residue and sod mean hangs on it.
    pub tilled: bool,
    /// What lies on the seedbed.
    #[schema(value_type = String)]
    pub cover: SoilCover,
    /// Where it is offered.
    #[serde(rename = "for")]
    #[schema(value_type = String)]
    pub situation: Situation,
    /// The steepest slope it is used on; by the crop and its tillage when absent.
    #[serde(default, skip_serializing)]
    #[schema(ignore)]
    pub slope: Option<Fraction>,
    /// Its place in lists, from 1.
    pub place: u32,
    /// Ways of timing that it is made for, beside the crop's own: keys of `windows.toml`.
    #[serde(default, skip_serializing)]
    #[schema(ignore)]
    pub windows: Vec<String>,
    /// Its steps, in the order they are listed.
    #[serde(rename = "step", skip_serializing)]
    #[schema(ignore)]
    pub steps: Vec<Template>,
}

impl Template {
    /// Whether work of an operation does it.
    pub fn is_done_by(&self, operation: &str) -> bool {
        self.operation == operation || self.also.iter().any(|also| also == operation)
    }
}

impl Practice {
    /// A step by its key.
    pub fn step(&self, key: &str) -> Option<&Template> {
        self.steps.iter().find(|step| step.key == key)
    }
}
