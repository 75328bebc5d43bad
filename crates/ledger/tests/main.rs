//! The ledger on PostgreSQL.

mod ground;
mod people;
mod permanence;
mod schema;
mod weather;
