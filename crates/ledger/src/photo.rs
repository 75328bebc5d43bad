//! Pictures that entries tell of, kept small.

use diesel::{
    dsl::sum,
    prelude::*,
    sql_types::{BigInt, Uuid as SqlUuid},
};
use diesel_async::RunQueryDsl;
use uuid::Uuid;

use crate::{Connection, Error, Result, farm::Membership, one_by_one, schema::photos, together};

/// The largest picture, bytes.
pub const LARGEST: usize = 500_000;
/// What all pictures of a farm may come to, bytes.
pub const MOST: i64 = 1_000_000_000;

/// Pictures of a farm that wait for the entry that tells of them.
const MOST_WAITING: i64 = 200;

const WAITING: &str = "SELECT count(*) AS many FROM photos p WHERE p.farm_id = $1 AND NOT EXISTS (SELECT FROM entries e
    WHERE e.farm_id = p.farm_id AND e.kind = 'photo' AND e.payload->>'photo' = p.id::text)";

#[derive(QueryableByName)]
struct Waiting {
    #[diesel(sql_type = BigInt)]
    many: i64,
}

diesel::define_sql_function! {
    /// Take away what no entry told of within a week; how many were.
    fn sweep_photos(farm: SqlUuid) -> BigInt;
}

diesel::define_sql_function! {
    /// Bytes of a value.
    fn octet_length(value: diesel::sql_types::Bytea) -> diesel::sql_types::Integer;
}

/// Keep a picture under an id. Sent once more it is the same picture.
///
/// # Errors
/// [`Error::Conflict`] when the id stands for another picture, the farm's pictures come to more than is kept, or two
/// hundred wait for the entries that tell of them.
pub async fn keep(
    connection: &mut Connection,
    member: &Membership,
    id: Uuid,
    (jpeg, sha256): (&[u8], &str),
) -> Result<()> {
    let farm = member.farm.id;
    together(connection, async |connection| {
        one_by_one(connection, &format!("photos {farm}")).await?;
        match digest(connection, member, id).await? {
            Some(kept) if kept == sha256 => return Ok(()),
            Some(_) => return Err(Error::Conflict("this ID is already used by another photo".to_owned())),
            None => {}
        }
        // Those whose entry never came make room first.
        let swept: i64 = diesel::select(sweep_photos(farm)).get_result(connection).await?;
        if swept > 0 {
            tracing::info!("{swept} pictures that no entry told of within a week were taken away");
        }
        let waiting: Waiting = diesel::sql_query(WAITING).bind::<SqlUuid, _>(farm).get_result(connection).await?;
        if waiting.many >= MOST_WAITING {
            return Err(Error::Conflict(
                format!("{MOST_WAITING} pictures of this farm still wait for their records: send those records before adding another picture"),
            ));
        }
        let all = photos::table.filter(photos::farm_id.eq(farm)).select(sum(octet_length(photos::jpeg)));
        let kept: i64 = all.first::<Option<i64>>(connection).await?.unwrap_or(0);
        if kept + jpeg.len() as i64 > MOST {
            return Err(Error::Conflict("photo storage for this farm is full".to_owned()));
        }
        let row = (photos::farm_id.eq(farm), photos::id.eq(id), photos::jpeg.eq(jpeg), photos::sha256.eq(sha256));
        diesel::insert_into(photos::table).values(row).execute(connection).await?;
        Ok(())
    })
    .await
}

/// The digest of a picture that is kept.
///
/// # Errors
/// When the database fails.
pub async fn digest(connection: &mut Connection, member: &Membership, id: Uuid) -> Result<Option<String>> {
    let one = photos::table.find((member.farm.id, id)).select(photos::sha256);
    Ok(one.first(connection).await.optional()?)
}

/// A picture.
///
/// # Errors
/// [`Error::NotFound`] where there is none.
pub async fn one(connection: &mut Connection, member: &Membership, id: Uuid) -> Result<Vec<u8>> {
    Ok(photos::table.find((member.farm.id, id)).select(photos::jpeg).first(connection).await?)
}
