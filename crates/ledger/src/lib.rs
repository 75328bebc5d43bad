//! The ledger: what is known, kept in PostgreSQL.
//!
//! *Ink* is an [`entry::Entry`]: a dated fact that nothing changes or removes, neither this crate
//! nor the application's database role. A mistake is struck by another entry and recorded anew.
//! The rest of the tables only name things that entries speak of: farms, fields, lots, stands.
//!
//! Whatever belongs to a farm is reached through a [`farm::Membership`], which only
//! [`farm::membership`] hands out: a farm that is not yours answers as if it did not exist.

pub mod archive;
pub mod chain;
pub mod entry;
mod error;
pub mod farm;
pub mod field;
mod impatient;
pub mod invitation;
pub mod kept;
pub mod lot;
pub mod parting;
pub mod people;
pub mod photo;
mod pool;
pub mod reset;
pub mod schema;
pub mod session;
pub mod slow;
pub mod stand;
pub mod weather;

pub use error::{Error, Result};
pub use pool::{Connection, InUse, Pool, Shape, migrate, migrate_until, one_by_one, pool, shape, together};

/// How many rows a page of a list holds.
pub const PAGE: i64 = 50;
