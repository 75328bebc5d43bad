//! Spraying: what a label that somebody has read allows, and what is known of sprays beside it.
//!
//! No dose is ever proposed here: an entered one is held against the entered label.

mod check;
mod hours;
mod kinds;
mod label;

pub use check::{Finding, FreeFrom, Held, SprayAnswer, SprayCheckRequest, StandingVariety, ToSow, Unfree, spray_check};
pub use hours::{SprayHour, SprayLimits, ThreeDays, best_hours, drawn_hours, spray_hours};
pub use kinds::{SprayKind, kind_of, kinds};
pub use label::{LabelWait, NamedOver, SprayLabel, named_over, names};
