//! The planner over made-up farms.

mod ground;
mod plan;
mod weather;
