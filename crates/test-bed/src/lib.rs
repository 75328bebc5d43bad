//! What tests stand on: a database for each, cloned from a template, and the built application started on one.
//!
//! It knows addresses and processes alone, nothing of the ledger or the job: so it is built beside them, and the
//! browser's tests need no second copy of either.

mod application;
mod database;

pub use application::{Application, Server, StandIns, answers};
pub use database::{TestDatabase, address, prepared};
