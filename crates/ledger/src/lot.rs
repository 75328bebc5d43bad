//! Seed lots: their names here, their tags and tests in entries.

use agronomy::{crop::library, refusal::Checks};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use planner::LotFacts;
use records::book::Books;
use uuid::Uuid;

use crate::{Connection, Error, Result, farm::Membership, schema::seed_lots};

/// A seed lot: crop and name.
#[derive(Debug, Clone, PartialEq, Eq, Queryable, Selectable, Insertable)]
#[diesel(table_name = seed_lots)]
pub struct Lot {
    /// The farm.
    pub farm_id: Uuid,
    /// Id.
    pub id: Uuid,
    /// Crop of the library.
    pub crop: String,
    /// Its name: the number on the tag.
    pub label: String,
}

/// All lots of a farm, by crop and name.
///
/// # Errors
/// When the database fails.
pub async fn all(connection: &mut Connection, member: &Membership) -> Result<Vec<Lot>> {
    Ok(seed_lots::table
        .filter(seed_lots::farm_id.eq(member.farm.id))
        .order((seed_lots::crop, seed_lots::label))
        .select(Lot::as_select())
        .load(connection)
        .await?)
}

/// One lot of a farm.
///
/// # Errors
/// [`Error::NotFound`].
pub async fn one(connection: &mut Connection, member: &Membership, id: Uuid) -> Result<Lot> {
    Ok(seed_lots::table.find((member.farm.id, id)).select(Lot::as_select()).first(connection).await?)
}

/// Add a lot; sent again, it is the same lot.
///
/// # Errors
/// An unknown crop or an empty name is refused; [`Error::Conflict`] when the id or the name stands
/// for another lot.
pub async fn add(connection: &mut Connection, member: &Membership, id: Uuid, crop: &str, label: &str) -> Result<Lot> {
    let mut checks = Checks::new();
    let known = library().crop(crop).is_some_and(|crop| crop.seed.is_some());
    checks.require(known, "/crop", format!("“{crop}” is not a seed-sown crop in the library"));
    let length = label.trim().chars().count();
    checks.require((1..=100).contains(&length), "/label", "enter a lot number or name, at most 100 characters");
    checks.done()?;
    let lot = Lot { farm_id: member.farm.id, id, crop: crop.to_owned(), label: label.trim().to_owned() };
    diesel::insert_into(seed_lots::table)
        .values(&lot)
        .on_conflict((seed_lots::farm_id, seed_lots::id))
        .do_nothing()
        .execute(connection)
        .await?;
    let kept = one(connection, member, id).await?;
    if kept == lot { Ok(kept) } else { Err(Error::Conflict("this id already stands for another lot".to_owned())) }
}

/// Every lot of a farm with what its books know of it; lots whose tag is struck are left out.
///
/// # Errors
/// When the database fails.
pub async fn facts(connection: &mut Connection, member: &Membership, books: &Books) -> Result<Vec<LotFacts>> {
    let of = |lot: Lot| {
        let book = books.lot(lot.id)?;
        let (tag, available) = (book.tag.clone()?, book.left());
        Some(LotFacts { id: lot.id, crop: lot.crop, label: lot.label, tag, available })
    };
    Ok(all(connection, member).await?.into_iter().filter_map(of).collect())
}
