//! The planner over made-up farms.

mod common;
mod compare;
mod dressings;
mod effort;
mod gates;
mod ground;
mod growth;
mod plan;
mod practices;
mod proposal;
#[path = "../../agronomy/tests/recompute.rs"]
mod recompute;
mod regimes;
mod rest;
mod sown;
mod weather;
mod young;
