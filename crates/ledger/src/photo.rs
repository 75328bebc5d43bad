//! Pictures that entries tell of, kept small.

use diesel::{dsl::sum, prelude::*};
use diesel_async::RunQueryDsl;
use uuid::Uuid;

use crate::{Connection, Error, Result, farm::Membership, one_by_one, schema::photos, together};

/// The largest picture, bytes.
pub const LARGEST: usize = 500_000;
/// What all pictures of a farm may come to, bytes.
pub const MOST: i64 = 1_000_000_000;

diesel::define_sql_function! {
    /// Bytes of a value.
    fn octet_length(value: diesel::sql_types::Bytea) -> diesel::sql_types::Integer;
}

/// Keep a picture under an id. Sent once more it is the same picture.
///
/// # Errors
/// [`Error::Conflict`] when the id stands for another picture, or the farm's pictures come to more than is kept.
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
            Some(_) => return Err(Error::Conflict("this id already stands for another picture".to_owned())),
            None => {}
        }
        let all = photos::table.filter(photos::farm_id.eq(farm)).select(sum(octet_length(photos::jpeg)));
        let kept: i64 = all.first::<Option<i64>>(connection).await?.unwrap_or(0);
        if kept + jpeg.len() as i64 > MOST {
            return Err(Error::Conflict("this farm\u{2019}s pictures fill the room there is for them".to_owned()));
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
