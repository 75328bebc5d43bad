//! The ledger on PostgreSQL.

mod chain;
mod closes;
mod common;
mod farm_with_stand;
mod fields;
mod ground;
mod people;
mod permanence;
mod previous_release;
mod schema;
mod slow;
mod weather;
