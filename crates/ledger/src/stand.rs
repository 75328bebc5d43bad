//! Stands: one sowing of a crop or mix on a field, from plan to its end.

use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use uuid::Uuid;

use crate::{Connection, Error, Result, farm::Membership, schema::stands};

/// A stand: no more than its place. What was decided and done stands in entries.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Queryable, Selectable, Insertable)]
#[diesel(table_name = stands)]
pub struct Stand {
    /// The farm.
    pub farm_id: Uuid,
    /// Id.
    pub id: Uuid,
    /// The field it stands on.
    pub field_id: Uuid,
}

/// All stands of a farm, oldest first.
///
/// # Errors
/// When the database fails.
pub async fn all(connection: &mut Connection, member: &Membership) -> Result<Vec<Stand>> {
    Ok(stands::table
        .filter(stands::farm_id.eq(member.farm.id))
        .order((stands::created_at, stands::id))
        .select(Stand::as_select())
        .load(connection)
        .await?)
}

/// The stands of one field, oldest first.
///
/// # Errors
/// When the database fails.
pub async fn of_field(connection: &mut Connection, member: &Membership, field: Uuid) -> Result<Vec<Stand>> {
    Ok(stands::table
        .filter(stands::farm_id.eq(member.farm.id).and(stands::field_id.eq(field)))
        .order((stands::created_at, stands::id))
        .select(Stand::as_select())
        .load(connection)
        .await?)
}

/// One stand of a farm.
///
/// # Errors
/// [`Error::NotFound`].
pub async fn one(connection: &mut Connection, member: &Membership, id: Uuid) -> Result<Stand> {
    Ok(stands::table.find((member.farm.id, id)).select(Stand::as_select()).first(connection).await?)
}

/// Start a stand on a field; sent again, it is the same stand.
///
/// # Errors
/// [`Error::NotFound`] when the field is not this farm's, [`Error::Conflict`] when the id stands
/// on another field.
pub async fn add(connection: &mut Connection, member: &Membership, id: Uuid, field_id: Uuid) -> Result<Stand> {
    let stand = Stand { farm_id: member.farm.id, id, field_id };
    diesel::insert_into(stands::table).values(stand).on_conflict_do_nothing().execute(connection).await?;
    let kept = one(connection, member, id).await?;
    if kept == stand { Ok(kept) } else { Err(Error::Conflict("this id already stands for another stand".to_owned())) }
}
