//! The `inkmeadow` application: Actix Web over the ledger, and the command line.
//!
//! Handlers authorise, load, call a pure function, and answer. What is reckoned stands in
//! `agronomy` and `planner`; what is kept stands in `ledger`.

pub mod api;
pub mod app;
pub mod archive;
pub mod body;
pub mod climate;
pub mod clock;
pub mod config;
pub mod demo;
pub mod door;
pub mod finite;
pub mod laboratory;
pub mod lately;
pub mod metrics;
pub mod outlines;
pub mod pieces;
pub mod problem;
pub mod pulse;
pub mod reckon;
pub mod screens;
pub mod seasons;
pub mod shelf;
pub mod sign_in;
pub mod station;
pub mod turns;
pub mod work;
