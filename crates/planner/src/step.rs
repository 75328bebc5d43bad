//! A step of the plan.

use agronomy::{caution::Caution, source::Source, units::MassPerArea, window::Edges};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// The operations of this plan, in the order they are done.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum StepKind {
    /// Sample the soil.
    SampleSoil,
    /// Grow the crop in a pot of the soil beside a clean one.
    Bioassay,
    /// Lime.
    Lime,
    /// Bring nutrients.
    Dress,
    /// Order the seed or plants.
    OrderSeed,
    /// Make the seedbed.
    Prepare,
    /// Calibrate the drill or spreader, or mark out the rows.
    Calibrate,
    /// Sow or plant.
    Sow,
    /// Look for the first seedlings.
    FirstLook,
    /// Count the stand.
    Count,
}

impl StepKind {
    /// All, in order.
    pub const ALL: [Self; 10] = [
        Self::SampleSoil,
        Self::Bioassay,
        Self::Lime,
        Self::Dress,
        Self::OrderSeed,
        Self::Prepare,
        Self::Calibrate,
        Self::Sow,
        Self::FirstLook,
        Self::Count,
    ];

    /// Work on the ground itself: inked by what was found or spread there, not by the step.
    pub fn is_ground(self) -> bool {
        self < Self::OrderSeed
    }
}

/// How a step stands today.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "is", rename_all = "kebab-case")]
pub enum State {
    /// Inked.
    Done {
        /// The entry.
        entry: Uuid,
        /// The day it happened.
        #[schema(value_type = String, format = Date)]
        on: Date,
    },
    /// Left out: a later step was inked without it.
    Passed,
    /// Its time has come and nothing stands before it.
    Ready,
    /// Its time has passed.
    Overdue,
    /// Its time has come, but something must be done first.
    Blocked {
        /// What must be done first.
        by: Vec<StepKind>,
    },
    /// Not yet.
    Waiting,
}

/// Why a step is where it is.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Reason {
    /// A sentence.
    pub text: String,
    /// Where the rule comes from.
    pub source: Source,
}

/// So much of something.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct StepAmount {
    /// How much on an area.
    pub amount: MassPerArea,
    /// Of what.
    pub of: String,
}

/// How likely it is that a step works on the day it is planned for.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct StepOdds {
    /// Key of the way of timing.
    pub window: String,
    /// The same in words.
    pub name: String,
    /// Odds on the day.
    pub odds: f64,
    /// Lower end of the interval that so many years allow.
    pub low: f64,
    /// Upper end.
    pub high: f64,
    /// Years counted.
    pub years: usize,
    /// A week later.
    pub in_a_week: Option<f64>,
    /// What stands most in the way on the day.
    pub limited_by: Option<String>,
    /// Opens, best and closes.
    pub edges: Edges,
}

/// A step: what, when, why, after what, and how it stands.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Step {
    /// Which.
    pub kind: StepKind,
    /// What to do, in a few words.
    pub title: String,
    /// How much of what, where that was worked out.
    pub amounts: Vec<StepAmount>,
    /// First sensible day.
    #[schema(value_type = String, format = Date)]
    pub from: Date,
    /// Last sensible day.
    #[schema(value_type = String, format = Date)]
    pub to: Date,
    /// How it stands.
    pub state: State,
    /// What must be done before it.
    pub after: Vec<StepKind>,
    /// How likely it is to work on its day, where weather years tell.
    pub odds: Option<StepOdds>,
    /// Why then.
    pub reasons: Vec<Reason>,
    /// What to mind.
    pub cautions: Vec<Caution>,
}
