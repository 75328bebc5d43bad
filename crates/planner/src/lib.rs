//! From facts and choices to a plan.
//!
//! [`plan`] is the only author of steps. It is a pure function: the same facts (what has been
//! inked), choices (what the manager decided) and day give the same plan, so nothing stores a plan
//! as truth, and a what-if is the same function with other choices.
//!
//! The rules here speak of days before and after sowing and of what must be done first. They carry
//! no month: calendar dates are results. [`weather`] asks the weather years how likely they are to work.

mod choices;
pub mod ground;
mod order;
mod plan;
mod step;
pub mod weather;

pub use choices::{
    Choices, Cover, Goal, LimeChoice, LimeMethod, LotChoice, NutrientChoice, PlantsChoice, SeedbedSchool, check,
};
pub use order::{LotFacts, NeededSeed, SeedNeed, order_request, seed_need};
pub use plan::{Facts, GroundSteps, InkedStep, Plan, plan};
pub use step::{Reason, State, Step, StepAmount, StepKind, StepOdds};
