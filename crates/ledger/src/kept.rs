//! Answers as they went out, kept so that a server that has just started need not work them out again. Nothing here is
//! knowledge: whoever asks says in the key all that an answer hangs on.

use diesel::{
    prelude::*,
    sql_query,
    sql_types::{BigInt, Binary, Uuid as SqlUuid},
};
use diesel_async::RunQueryDsl;

use crate::{
    Connection, Result,
    farm::Membership,
    schema::{fields, kept_answers, stands},
};

/// Answers kept of a farm: of a few readers.
const MOST: i64 = 4;
/// The largest that is kept, bytes.
const LARGEST: usize = 8_000_000;

/// An answer that was kept; none where there is none, or it was thrown away.
///
/// # Errors
/// When the database fails.
pub async fn find(connection: &mut Connection, member: &Membership, key: [u8; 32]) -> Result<Option<Vec<u8>>> {
    let one = kept_answers::table.find((member.farm.id, key.to_vec())).select(kept_answers::body);
    Ok(one.first(connection).await.optional()?)
}

/// Keep an answer, and throw those away that were kept longest ago.
///
/// # Errors
/// When the database fails.
pub async fn keep(connection: &mut Connection, member: &Membership, key: [u8; 32], body: &[u8]) -> Result<()> {
    if body.len() > LARGEST {
        return Ok(());
    }
    let farm = member.farm.id;
    let row = (kept_answers::farm_id.eq(farm), kept_answers::key.eq(key.to_vec()), kept_answers::body.eq(body));
    diesel::insert_into(kept_answers::table).values(row).on_conflict_do_nothing().execute(connection).await?;
    let others = "DELETE FROM kept_answers WHERE farm_id = $1 AND key NOT IN (SELECT key FROM kept_answers
        WHERE farm_id = $1 ORDER BY kept_at DESC LIMIT $2) AND key <> $3";
    let others = sql_query(others).bind::<SqlUuid, _>(farm).bind::<BigInt, _>(MOST);
    others.bind::<Binary, _>(key.to_vec()).execute(connection).await?;
    Ok(())
}

/// How many answers are kept of all farms.
///
/// # Errors
/// When the database fails.
pub async fn many(connection: &mut Connection) -> Result<i64> {
    Ok(kept_answers::table.count().get_result(connection).await?)
}

/// How many fields and stands a farm has: they are founded, and never taken away.
///
/// # Errors
/// When the database fails.
pub async fn founded(connection: &mut Connection, member: &Membership) -> Result<(i64, i64)> {
    let farm = member.farm.id;
    let fields = fields::table.filter(fields::farm_id.eq(farm)).count().get_result(connection).await?;
    let stands = stands::table.filter(stands::farm_id.eq(farm)).count().get_result(connection).await?;
    Ok((fields, stands))
}
