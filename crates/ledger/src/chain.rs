//! The chain of a farm's ledger: where it has come to, and whether anybody has been at it.
//!
//! Every entry has a place, counted from one in the order of commits, and a digest: SHA-256 over the digest before it,
//! all that the entry says, and how everything was founded that came since the link before: fields, lots, stands,
//! imports of weather, the farm, and those who may write, by name. The database makes them as it writes; [`verify`]
//! makes them again on its own, from the bare columns, so that a function altered in the database is found out as well.
//! Pictures are held against the digests that entries have of them, and the farm as it stands against the last entry
//! that corrected it.

mod verify;

use diesel::{
    prelude::*,
    sql_types::{BigInt, Uuid as SqlUuid},
};
use diesel_async::RunQueryDsl;
use uuid::Uuid;

use crate::{Connection, Result, farm::Membership, schema::ledger_chain};

pub use verify::{Broken, Verified, came_through, verify, verify_one};

/// Where a farm's ledger has come to.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Head {
    /// Entries written, strikes among them.
    pub position: i64,
    /// Digest of the last, in hexadecimal; empty before the first.
    pub digest: String,
}

#[derive(QueryableByName)]
struct Placed {
    #[diesel(sql_type = BigInt)]
    #[allow(dead_code)]
    position: i64,
}

/// Put an entry just written at the end of its farm's chain.
///
/// # Errors
/// When the database fails.
pub(crate) async fn chain(connection: &mut Connection, farm: Uuid, entry: Uuid) -> Result<()> {
    let placed = diesel::sql_query("SELECT chain_entry($1, $2) AS position");
    let _: Placed = placed.bind::<SqlUuid, _>(farm).bind::<SqlUuid, _>(entry).get_result(connection).await?;
    Ok(())
}

/// Where a farm's ledger has come to.
///
/// # Errors
/// When the database fails.
pub async fn head(connection: &mut Connection, member: &Membership) -> Result<Head> {
    let last: Option<(i64, Vec<u8>)> = ledger_chain::table
        .filter(ledger_chain::farm_id.eq(member.farm.id))
        .order(ledger_chain::position.desc())
        .select((ledger_chain::position, ledger_chain::digest))
        .first(connection)
        .await
        .optional()?;
    Ok(last.map_or_else(Head::default, |(position, digest)| Head { position, digest: hex::encode(digest) }))
}
