//! Sign-in sessions, kept by the hash of their key.

use diesel::{
    prelude::*,
    sql_types::{Bool, Text},
};
use diesel_async::RunQueryDsl;
use jiff::{Timestamp, ToSpan};
use serde_json::Value;

use uuid::Uuid;

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

/// Of whom a session is, or which one, as the session keeps it: a text of JSON in a text.
fn kept(id: Uuid) -> String {
    format!("\"{id}\"")
}

/// What is kept of the sessions of a person, and when each runs out: the latest first.
///
/// # Errors
/// When the database fails.
pub async fn of(connection: &mut Connection, person: Uuid, now: Timestamp) -> Result<Vec<(Value, Timestamp)>> {
    let mine = diesel::dsl::sql::<Bool>("state->>'person' = ").bind::<Text, _>(kept(person));
    let rows: Vec<(Value, jiff_diesel::Timestamp)> = sessions::table
        .filter(mine)
        .filter(sessions::expires_at.gt(jiff_diesel::Timestamp::from(now)))
        .order(sessions::expires_at.desc())
        .select((sessions::state, sessions::expires_at))
        .load(connection)
        .await?;
    Ok(rows.into_iter().map(|(state, until)| (state, until.to_jiff())).collect())
}

/// Which of a person's sessions are meant.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Which {
    /// All of them.
    All,
    /// One, by the id that it keeps.
    One(Uuid),
    /// All but one.
    AllBut(Option<Uuid>),
}

/// End sessions of a person.
///
/// # Errors
/// When the database fails.
pub async fn end_of(connection: &mut Connection, person: Uuid, which: Which) -> Result<()> {
    let (filter, id) = match which {
        Which::All | Which::AllBut(None) => ("", String::new()),
        Which::One(id) => ("AND state->>'id' = $2", kept(id)),
        Which::AllBut(Some(id)) => ("AND state->>'id' IS DISTINCT FROM $2", kept(id)),
    };
    // The second is asked for in any case, so that it can be bound in any.
    let ended = diesel::sql_query(format!("DELETE FROM sessions WHERE state->>'person' = $1 AND $2 = $2 {filter}"));
    ended.bind::<Text, _>(kept(person)).bind::<Text, _>(id).execute(connection).await?;
    Ok(())
}
