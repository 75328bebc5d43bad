//! Sign-in sessions, kept by the hash of their key.

use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use jiff::{Timestamp, ToSpan};
use serde_json::Value;

use crate::{Connection, Result, schema::sessions};

fn later(now: Timestamp, seconds: i64) -> jiff_diesel::Timestamp {
    now.saturating_add(seconds.seconds()).unwrap_or(Timestamp::MAX).into()
}

/// The state of a session that has not run out.
///
/// # Errors
/// When the database fails.
pub async fn load(connection: &mut Connection, key_hash: &[u8], now: Timestamp) -> Result<Option<Value>> {
    Ok(sessions::table
        .find(key_hash)
        .filter(sessions::expires_at.gt(jiff_diesel::Timestamp::from(now)))
        .select(sessions::state)
        .first(connection)
        .await
        .optional()?)
}

/// Keep a session for some seconds from now, and sweep out those that have run out.
///
/// # Errors
/// When the database fails.
pub async fn keep(
    connection: &mut Connection,
    key_hash: &[u8],
    state: &Value,
    now: Timestamp,
    seconds: i64,
) -> Result<()> {
    diesel::delete(sessions::table.filter(sessions::expires_at.le(jiff_diesel::Timestamp::from(now))))
        .execute(connection)
        .await?;
    let until = later(now, seconds);
    diesel::insert_into(sessions::table)
        .values((sessions::key_hash.eq(key_hash), sessions::state.eq(state), sessions::expires_at.eq(until)))
        .on_conflict(sessions::key_hash)
        .do_update()
        .set((sessions::state.eq(state), sessions::expires_at.eq(until)))
        .execute(connection)
        .await?;
    Ok(())
}

/// Let a session run on.
///
/// # Errors
/// When the database fails.
pub async fn prolong(connection: &mut Connection, key_hash: &[u8], now: Timestamp, seconds: i64) -> Result<()> {
    diesel::update(sessions::table.find(key_hash))
        .set(sessions::expires_at.eq(later(now, seconds)))
        .execute(connection)
        .await?;
    Ok(())
}

/// End a session.
///
/// # Errors
/// When the database fails.
pub async fn end(connection: &mut Connection, key_hash: &[u8]) -> Result<()> {
    diesel::delete(sessions::table.find(key_hash)).execute(connection).await?;
    Ok(())
}
