//! Windows: on which days is it likely to work, and what stands in the way?
//!
//! A window is a list of [`Rule`]s that must all hold. It is tried on every day of a year, in every
//! year of weather the farm has: the share of years in which all held *together* is the odds of
//! that day. Chances of single rules are never multiplied, for a warm soil and a dry one come
//! together or not at all.
//!
//! What is already known narrows it: [`crate::years::Scenarios`] lays the season so far, and then the
//! members of a forecast, over each of the years, so that every one of them goes on from where the
//! soil stands today. With each new day the fan closes.
//!
//! Where odds come from [`odds`], how sure they are from [`interval`]; rules are data, in
//! `library/windows.toml`, and name soil, frost, light and rain, never a month.

pub mod growing_time;
mod kinds;
pub mod odds;
mod rule;
mod topic;

pub use crate::weather::Forecast;
pub use growing_time::enough;
pub use kernels::{odds::Tried, rule::Test};
pub use kinds::{Offered, WindowKind, window_kind, window_kinds};
pub use odds::{Edge, Edges, Odds, RuleOdds, odds, try_rules};
pub use rule::{Measured, Resolved, Rule, resolve};
pub use topic::{OddsRequest, WindowAnswer, offered, reading_depth, rules_of, seed_depth, window_odds, worked_out};
