//! The planner over made-up farms.

mod common;
#[path = "../../agronomy/tests/common_places.rs"]
mod common_places;
mod compare;
mod cutting;
mod dressings;
mod effort;
mod gates;
mod ground;
mod growth;
mod places;
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
