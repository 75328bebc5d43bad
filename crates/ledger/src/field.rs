//! Fields: founded in their table, and lying since as their entries tell.

use std::collections::HashMap;

use agronomy::{
    field::{Boundary, areas},
    refusal::{Checks, Refused},
    said,
    units::{Area, Length, Measure, Unit},
};
use diesel::{
    prelude::*,
    sql_types::{Integer, Jsonb, Nullable, Uuid as SqlUuid},
};
use diesel_async::RunQueryDsl;
use jiff::civil::Date;
use records::{Payload, Subject, Via, book::Ground, kinds::field_shape::FieldShape};
use serde_json::Value;
use uuid::Uuid;

use crate::{
    Connection, Error, Result,
    entry::{self, Entry, NewEntry},
    farm::Membership,
    one_by_one,
    schema::fields,
    together,
};

/// What a field reaches over.
#[derive(Debug, Clone, PartialEq)]
pub enum Extent {
    /// Its outline: GeoJSON, as given.
    Outline(Value),
    /// Its area alone: nobody has drawn it yet.
    Area(Area),
}

/// A field as it lies now.
#[derive(Debug, Clone, PartialEq)]
pub struct Field {
    /// The farm.
    pub farm_id: Uuid,
    /// Id.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// GeoJSON, as given; none of a field that is known by its area alone.
    pub boundary: Option<Value>,
    /// Setback along the boundary, m.
    pub setback_m: f64,
    /// Inside the boundary, m².
    pub area_m2: f64,
    /// Inside the setback, m².
    pub sown_area_m2: f64,
    /// It is no longer worked.
    pub retired: bool,
    /// The entry that tells so; none of a field that is as it was founded.
    pub shape: Option<Uuid>,
    /// What was to be sown when it was founded, m².
    pub founded_sown_area_m2: f64,
}

#[derive(Debug, Clone, PartialEq, Queryable, Selectable, Insertable)]
#[diesel(table_name = fields)]
struct Row {
    farm_id: Uuid,
    id: Uuid,
    name: String,
    boundary: Option<Value>,
    setback_m: f64,
    area_m2: f64,
    sown_area_m2: f64,
}

impl From<Row> for Field {
    fn from(row: Row) -> Self {
        Self {
            farm_id: row.farm_id,
            id: row.id,
            name: row.name,
            boundary: row.boundary,
            setback_m: row.setback_m,
            area_m2: row.area_m2,
            sown_area_m2: row.sown_area_m2,
            retired: false,
            shape: None,
            founded_sown_area_m2: row.sown_area_m2,
        }
    }
}

impl Field {
    /// A field from its extent and setback, with its areas worked out.
    ///
    /// # Errors
    /// As [`measured`].
    pub fn new(
        farm_id: Uuid,
        id: Uuid,
        name: &str,
        extent: Extent,
        setback: Length,
    ) -> std::result::Result<Self, Refused> {
        let shape = measured(name, extent, setback)?;
        let sown_area_m2 = shape.sown_area.base();
        let founded = Row {
            farm_id,
            id,
            name: shape.name,
            boundary: shape.outline,
            setback_m: shape.setback.to(Unit::M),
            area_m2: shape.area.base(),
            sown_area_m2,
        };
        Ok(founded.into())
    }

    /// Area that is sown.
    pub fn sown_area(&self) -> Area {
        Area::from_base(self.sown_area_m2)
    }

    /// Area that was to be sown on a day, by the field's own book.
    pub fn sown_area_on(&self, day: Date, ground: &Ground) -> Area {
        ground.shape_on(day).map_or(Area::from_base(self.founded_sown_area_m2), |shape| shape.sown_area)
    }

    fn lying(mut self, entry: Uuid, shape: FieldShape) -> Self {
        self.name = shape.name;
        self.boundary = shape.outline;
        self.setback_m = shape.setback.to(Unit::M);
        self.area_m2 = shape.area.base();
        self.sown_area_m2 = shape.sown_area.base();
        self.retired = shape.retired;
        self.shape = Some(entry);
        self
    }
}

/// A shape from an extent and a setback, with its areas worked out.
///
/// # Errors
/// A name that is empty or too long, an outline, area or setback that can't be.
pub fn measured(name: &str, extent: Extent, setback: Length) -> std::result::Result<FieldShape, Refused> {
    let mut checks = Checks::new();
    let name = name.trim();
    checks.require(!name.is_empty(), "/name", "enter a field name");
    checks.require(name.chars().count() <= 200, "/name", "use at most 200 characters");
    let (outline, area, sown_area) = match extent {
        Extent::Outline(outline) => {
            let read = Boundary::from_geojson(&outline).and_then(|boundary| areas(&boundary, setback));
            let sizes = checks.part("", read).map(|sizes| (sizes.value.area, sizes.value.sown_area));
            let (area, sown_area) = sizes.unwrap_or_default();
            (Some(outline), area, sown_area)
        }
        Extent::Area(area) => {
            checks.within("/area", "Area", area, Unit::Ha, 0.001, 20_000.0);
            let none = setback.base() == 0.0;
            let detail = "a setback needs a drawn boundary; otherwise enter the sown area";
            checks.require(none, "/setback", detail);
            (None, area, area)
        }
    };
    checks.done()?;
    Ok(FieldShape { name: name.to_owned(), outline, area, sown_area, setback, retired: false })
}

#[derive(QueryableByName)]
struct Shaped {
    #[diesel(sql_type = SqlUuid)]
    field: Uuid,
    #[diesel(sql_type = SqlUuid)]
    entry: Uuid,
    #[diesel(sql_type = Integer)]
    version: i32,
    #[diesel(sql_type = Jsonb)]
    payload: Value,
}

/// The shapes that count, by field: of each field the last one that is not struck.
async fn shapes(
    connection: &mut Connection,
    member: &Membership,
    of: Option<Uuid>,
) -> Result<HashMap<Uuid, (Uuid, FieldShape)>> {
    let asked = diesel::sql_query(
        "SELECT DISTINCT ON (about.subject_id) about.subject_id AS field, told.id AS entry, told.version, told.payload \
         FROM entries told \
         JOIN entry_subjects about ON about.farm_id = told.farm_id AND about.entry_id = told.id AND about.kind = 'field' \
         WHERE told.farm_id = $1 AND told.kind = 'field-shape' AND ($2 IS NULL OR about.subject_id = $2) \
         AND NOT EXISTS (SELECT FROM entries strike WHERE strike.farm_id = told.farm_id AND strike.strikes = told.id) \
         ORDER BY about.subject_id, told.occurred_on DESC, told.recorded_at DESC, told.id DESC",
    );
    let rows: Vec<Shaped> =
        asked.bind::<SqlUuid, _>(member.farm.id).bind::<Nullable<SqlUuid>, _>(of).load(connection).await?;
    let read = |row: Shaped| match Payload::stored_as("field-shape", row.version, row.payload) {
        Ok(Payload::FieldShape(shape)) => Some((row.field, (row.entry, *shape))),
        // What can't be read counts for nothing.
        _ => None,
    };
    Ok(rows.into_iter().filter_map(read).collect())
}

/// All fields of a farm, by name; retired ones too.
///
/// # Errors
/// When the database fails.
pub async fn all(connection: &mut Connection, member: &Membership) -> Result<Vec<Field>> {
    let of_farm = fields::table.filter(fields::farm_id.eq(member.farm.id));
    let rows: Vec<Row> = of_farm.select(Row::as_select()).load(connection).await?;
    let mut shapes = shapes(connection, member, None).await?;
    let mut fields: Vec<Field> = rows
        .into_iter()
        .map(|row| match shapes.remove(&row.id) {
            Some((entry, shape)) => Field::from(row).lying(entry, shape),
            None => row.into(),
        })
        .collect();
    fields.sort_by(|a, b| (&a.name, a.id).cmp(&(&b.name, b.id)));
    Ok(fields)
}

/// One field of a farm.
///
/// # Errors
/// [`Error::NotFound`].
pub async fn one(connection: &mut Connection, member: &Membership, id: Uuid) -> Result<Field> {
    let field = founded(connection, member, id).await?.ok_or(Error::NotFound)?.into();
    Ok(match shapes(connection, member, Some(id)).await?.remove(&id) {
        Some((entry, shape)) => Field::lying(field, entry, shape),
        None => field,
    })
}

/// As it was founded.
async fn founded(connection: &mut Connection, member: &Membership, id: Uuid) -> Result<Option<Row>> {
    let row = fields::table.find((member.farm.id, id)).select(Row::as_select());
    Ok(row.first(connection).await.optional()?)
}

/// Add a field; the same field sent again is the same field.
///
/// # Errors
/// [`Error::Conflict`] when the id or name stands for another one.
pub async fn add(connection: &mut Connection, member: &Membership, field: &Field) -> Result<Field> {
    together(connection, async |connection| {
        one_by_one(connection, &format!("fields {}", member.farm.id)).await?;
        if let Some(kept) = founded(connection, member, field.id).await? {
            let same = kept.name == field.name
                && kept.boundary == field.boundary
                && kept.setback_m == field.setback_m
                // A boundary's area is worked out, and may be so more finely by a newer build.
                && (field.boundary.is_some() || kept.area_m2 == field.area_m2);
            return match same {
                true => one(connection, member, field.id).await,
                false => Err(Error::Conflict("this ID is already used by another field".to_owned())),
            };
        }
        name_is_free(connection, member, field.id, &field.name).await?;
        found(connection, field).await?;
        one(connection, member, field.id).await
    })
    .await
}

/// Put a new one in its table.
pub(crate) async fn found(connection: &mut Connection, field: &Field) -> Result<()> {
    let row = Row {
        farm_id: field.farm_id,
        id: field.id,
        name: field.name.clone(),
        boundary: field.boundary.clone(),
        setback_m: field.setback_m,
        area_m2: field.area_m2,
        sown_area_m2: field.sown_area_m2,
    };
    diesel::insert_into(fields::table).values(row).execute(connection).await?;
    Ok(())
}

/// Two fields of one name would be taken for one another.
pub(crate) async fn name_is_free(connection: &mut Connection, member: &Membership, id: Uuid, name: &str) -> Result<()> {
    let others = all(connection, member).await?;
    let taken = others.iter().any(|other| other.id != id && other.name.to_lowercase() == name.to_lowercase());
    if taken { Err(Error::Conflict("a field with this name already exists".to_owned())) } else { Ok(()) }
}

/// Tell how a field lies from a day on, in ink; `seen` is the [`Field::shape`] that the writer looked at. Sent again,
/// it is the same entry.
///
/// # Errors
/// As [`entry::write`]; [`Error::Overtaken`] when somebody corrected it since; [`Error::Conflict`] when the name
/// stands for another field.
pub async fn reshape(
    connection: &mut Connection,
    member: &Membership,
    field: Uuid,
    shape: FieldShape,
    (id, on, seen): (Uuid, Date, Option<Uuid>),
    today: Date,
) -> Result<Entry> {
    together(connection, async |connection| {
        one_by_one(connection, &format!("fields {}", member.farm.id)).await?;
        if entry::find(connection, member, id).await?.is_none() {
            let now = one(connection, member, field).await?;
            if now.shape != seen {
                return Err(Error::Overtaken(said!(
                    "someone changed this field after you opened it; it is now “{}”, sown area {}",
                    now.name,
                    now.sown_area()
                )));
            }
            name_is_free(connection, member, field, &shape.name).await?;
        }
        let new = NewEntry::of(id, [Subject::field(field)], on, Via::Web, Payload::from(shape));
        entry::write(connection, member, &new, today).await
    })
    .await
}
