//! Fields.

use agronomy::{
    field::{Boundary, areas},
    refusal::{Checks, Refused},
    units::{Area, Length, Measure, Unit},
};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use serde_json::Value;
use uuid::Uuid;

use crate::{Connection, Error, Result, farm::Membership, schema::fields};

/// A field as the table holds it: SI numbers.
#[derive(Debug, Clone, PartialEq, Queryable, Selectable, Insertable)]
#[diesel(table_name = fields)]
pub struct Field {
    /// The farm.
    pub farm_id: Uuid,
    /// Id.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// GeoJSON, as given.
    pub boundary: Value,
    /// Setback along the boundary, m.
    pub setback_m: f64,
    /// Inside the boundary, m².
    pub area_m2: f64,
    /// Inside the setback, m².
    pub sown_area_m2: f64,
}

impl Field {
    /// A field from its boundary and setback, with its areas worked out.
    ///
    /// # Errors
    /// A name that is empty or too long, a boundary or setback that can't be.
    pub fn new(
        farm_id: Uuid,
        id: Uuid,
        name: &str,
        boundary: Value,
        setback: Length,
    ) -> std::result::Result<Self, Refused> {
        let mut checks = Checks::new();
        let name = name.trim();
        checks.require(!name.is_empty(), "/name", "give the field a name");
        checks.require(name.chars().count() <= 200, "/name", "the name is longer than 200 letters");
        let sizes = checks.part("", Boundary::from_geojson(&boundary).and_then(|boundary| areas(&boundary, setback)));
        checks.done()?;
        let Some(sizes) = sizes else { unreachable!("refused above") };
        Ok(Self {
            farm_id,
            id,
            name: name.to_owned(),
            boundary,
            setback_m: setback.to(Unit::M),
            area_m2: sizes.value.area.base(),
            sown_area_m2: sizes.value.sown_area.base(),
        })
    }

    /// Area that is sown.
    pub fn sown_area(&self) -> Area {
        Area::from_base(self.sown_area_m2)
    }
}

/// All fields of a farm, by name.
///
/// # Errors
/// When the database fails.
pub async fn all(connection: &mut Connection, member: &Membership) -> Result<Vec<Field>> {
    Ok(fields::table
        .filter(fields::farm_id.eq(member.farm.id))
        .order(fields::name)
        .select(Field::as_select())
        .load(connection)
        .await?)
}

/// One field of a farm.
///
/// # Errors
/// [`Error::NotFound`].
pub async fn one(connection: &mut Connection, member: &Membership, id: Uuid) -> Result<Field> {
    Ok(fields::table.find((member.farm.id, id)).select(Field::as_select()).first(connection).await?)
}

/// Add a field; the same field sent again is the same field.
///
/// # Errors
/// [`Error::Conflict`] when the id or name stands for another one.
pub async fn add(connection: &mut Connection, member: &Membership, field: &Field) -> Result<Field> {
    diesel::insert_into(fields::table)
        .values(field)
        .on_conflict((fields::farm_id, fields::id))
        .do_nothing()
        .execute(connection)
        .await?;
    let kept = one(connection, member, field.id).await?;
    let same = kept.name == field.name && kept.boundary == field.boundary && kept.setback_m == field.setback_m;
    if same { Ok(kept) } else { Err(Error::Conflict("this id already stands for another field".to_owned())) }
}
