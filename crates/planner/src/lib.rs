//! From records and choices to a plan.
//!
//! [`plan`] is the only author of steps. It is a pure function: the same facts (what has been
//! inked), choices (what the manager decided) and day give the same plan, so nothing stores a plan
//! as truth, and a what-if is the same function with other choices. Which steps there are, when they
//! are done and what they wait for stands in the library's practices, not here.
//!
//! [`assess()`] is everything that choices, records, weather and day imply, each part reckoned once; a part
//! that can't be reckoned is a [`Trouble`] beside the parts that can. [`weather`] asks the weather years
//! how likely days are to work.

pub mod assess;
mod calendar;
pub mod chain;
pub mod compare;
pub mod cutting;
pub mod effort;
pub mod gates;
pub mod ground;
pub mod growth;
mod matching;
mod mending;
mod needs;
mod order;
mod plan;
mod proposal;
mod regime;
pub mod rest;
mod sown;
mod step;
mod succession;
pub mod topic;
pub mod weather;
mod words;
pub mod young;

pub use assess::{Ahead, Assessment, Lots, Part, Sky, Trouble, Whole, assess, sowing_step, whole};
pub use gates::{Gate, GateKey, Stands};
pub use mending::{Mending, mendings};
pub use needs::{GroundNeeds, YearNeed};
pub use order::{LotFacts, NeededSeed, SeedNeed, order_request, seed_need};
pub use plan::{Facts, Plan, plan};
pub use proposal::{Around, BetterDay, Proposal, proposal};
pub use regime::{SeasonUse, Undated, Uses, usual};
pub use sown::{PartDone, SownSoFar};
pub use step::{From, Look, Reason, State, Step, StepAmount, StepOdds, WaitsFor};
pub use succession::{Succession, Tenure};
pub use weather::WeatherHeld;
pub use young::Young;
