//! The ledger on PostgreSQL.

mod common;
mod fields;
mod ground;
mod people;
mod permanence;
mod previous_release;
mod schema;
mod slow;
mod weather;
