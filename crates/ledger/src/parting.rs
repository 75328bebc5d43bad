//! One field made two, and several made one.
//!
//! A field that is split goes on as one of its parts, with its stands and all that was recorded of it. The other part
//! begins with the same: every entry that counts is written down once more for it, under the day it happened, so that
//! each field's book is told by its own entries alone: what was sown, set or done over so and so much ground by the part's
//! share of it; what it took from a lot or a store is not taken once more. Of fields that end in another, what forbids a
//! crop goes along.

use std::{
    collections::{BTreeSet, HashMap},
    result,
};

use agronomy::{
    field::{Boundary, cut, joined},
    refusal::Refused,
    said,
    units::{Area, Length, Measure, Unit},
};
use jiff::civil::Date;
use records::{
    About, Entry, Payload, Subject, SubjectKind, Via,
    kinds::{
        field_parted::{FieldParted, NamedField, Parting},
        field_shape::FieldShape,
    },
};
use serde_json::Value;
use uuid::Uuid;

use crate::{
    Connection, Error, Result,
    entry::{self, NewEntry},
    farm::Membership,
    field::{self, Extent, Field, measured},
    one_by_one, stand, together,
};

/// Most fields that are joined at once.
const MOST_JOINED: usize = 20;

/// What tells of a field's shape, and not of its ground.
const OF_THE_SHAPE: [&str; 2] = ["field-shape", "field-parted"];
/// What forbids a crop, on any part of the ground that it was done to.
const FORBIDS: [&str; 3] = ["past-crop", "spray", "bioassay"];

/// Which part of a field is to be one of its own.
#[derive(Debug, Clone, PartialEq)]
pub enum Share {
    /// What lies on the left of a line across it, longitude first.
    LeftOf(Vec<(f64, f64)>),
    /// So much of a field that is known by its area alone.
    Area(Area),
}

/// A field's two parts, measured: the one that goes on, and the other.
#[derive(Debug, Clone, PartialEq)]
pub struct Halves {
    /// The one that goes on.
    pub stays: FieldShape,
    /// The other.
    pub leaves: Field,
}

/// A field's two parts, measured.
///
/// # Errors
/// A line that does not part it, an area that leaves nothing, a setback that leaves nothing to sow.
pub fn halves(of: &Field, share: Share, (id, name): (Uuid, &str)) -> result::Result<Halves, Refused> {
    let setback = Length::new(of.setback_m, Unit::M);
    let (stays, leaves) = match (share, &of.boundary) {
        (Share::LeftOf(line), Some(outline)) => {
            let [right, left] = cut(&Boundary::from_geojson(outline)?, &line)?;
            (Extent::Outline(right), Extent::Outline(left))
        }
        (Share::Area(area), None) => {
            let left = Area::from_base(of.area_m2) - area;
            if left.base() <= 0.0 {
                let detail = said!("{} is the whole field, which is {}", area, Area::from_base(of.area_m2));
                return Err(Refused::one("/area", detail));
            }
            (Extent::Area(left), Extent::Area(area))
        }
        (Share::Area(_), Some(_)) => {
            return Err(Refused::one("/line", "this field is drawn; draw the dividing line"));
        }
        (Share::LeftOf(_), None) => {
            return Err(Refused::one("/area", "this field is not drawn; enter the area of the new field"));
        }
    };
    let stays = measured(&of.name, stays, setback)?;
    Ok(Halves { stays, leaves: Field::new(of.farm_id, id, name, leaves, setback)? })
}

/// Several fields as one, measured, under the name of the first.
///
/// # Errors
/// When some are drawn and others not, or the whole is no field.
pub fn whole(fields: &[Field]) -> result::Result<FieldShape, Refused> {
    let Some(first) = fields.first() else { return Err(Refused::one("/with", "choose the fields")) };
    let outlines: Vec<&Value> = fields.iter().filter_map(|field| field.boundary.as_ref()).collect();
    let extent = match outlines.len() {
        0 => Extent::Area(Area::from_base(fields.iter().map(|field| field.area_m2).sum())),
        drawn if drawn == fields.len() => {
            let read: result::Result<Vec<Boundary>, Refused> =
                outlines.into_iter().map(Boundary::from_geojson).collect();
            Extent::Outline(joined(&read?)?)
        }
        _ => return Err(Refused::one("/with", "some of these fields are not drawn; draw them first")),
    };
    measured(&first.name, extent, Length::new(first.setback_m, Unit::M))
}

/// The entry of a parting: its id, the day, and the [`Field::shape`] that the writer looked at.
pub type Told = (Uuid, Date, Option<Uuid>);

fn named(field: &Field) -> NamedField {
    NamedField { id: field.id, name: field.name.clone() }
}

/// Split a field; said again, it is the same.
///
/// # Errors
/// [`Error::Overtaken`] when somebody corrected it since; [`Error::Conflict`] when the new name or id is taken.
pub async fn split(
    connection: &mut Connection,
    member: &Membership,
    of: &Field,
    Halves { stays, leaves }: Halves,
    (id, on, seen): Told,
    today: Date,
) -> Result<Field> {
    together(connection, async |connection| {
        if entry::find(connection, member, id).await?.is_some() {
            return field::one(connection, member, leaves.id).await;
        }
        let told = FieldParted { what: Parting::Split, field: named(of), others: vec![named(&leaves)] };
        // What was sown, set or done on so and so much ground is the part's by its share.
        let share = (leaves.sown_area_m2 / of.sown_area_m2.max(leaves.sown_area_m2)).clamp(0.0, 1.0);
        let part = field::add(connection, member, &leaves).await?;
        field::reshape(connection, member, of.id, stays, (Uuid::now_v7(), on, seen), today).await?;
        let mut stands = HashMap::new();
        for kept in stand::of_field(connection, member, of.id).await? {
            let own = Uuid::now_v7();
            stand::add(connection, member, own, part.id).await?;
            stands.insert(kept.id, own);
        }
        let about = |one: &About| match one.kind {
            SubjectKind::Field if one.id == of.id => Some(Subject::field(part.id).into()),
            SubjectKind::Stand => stands.get(&one.id).map(|own| Subject::stand(*own).into()),
            // A lot that was sown, a machine that ran, a trial of a variety: once, not once for each part.
            _ => None,
        };
        for kept in entry::all(connection, member, Some(Subject::field(of.id))).await? {
            let counts = kept.struck_by.is_none() && kept.strikes.is_none() && kept.occurred_on <= on;
            let shape = kept.payload().is_none_or(|payload| OF_THE_SHAPE.contains(&payload.kind().word));
            if counts && !shape && !of_forage_alone(&kept) {
                let about: BTreeSet<About> = kept.about.iter().filter_map(about).collect();
                entry::copy(connection, member, &kept, &about, share, |stand| stands.get(&stand).copied()).await?;
            }
        }
        let about = [Subject::field(of.id), Subject::field(part.id)];
        entry::write(connection, member, &NewEntry::of(id, about, on, Via::Web, told.into()), today).await?;
        field::one(connection, member, part.id).await
    })
    .await
}

/// What is told of a lot of forage, not of the ground: a report, a part set apart; and a pile off several fields without the
/// area it came off, of which nobody can tell what grew on a part of one of them.
fn of_forage_alone(kept: &Entry) -> bool {
    match kept.payload() {
        Some(Payload::ForageLot(made)) => made.area.is_none() && kept.each(SubjectKind::Field).count() > 1,
        _ => kept.each(SubjectKind::ForageLot).next().is_some(),
    }
}

/// Join fields: the first goes on, over all of them; the others are worked no more. Said again, it is the same.
///
/// # Errors
/// [`Error::Overtaken`] when somebody corrected the first since.
pub async fn join(
    connection: &mut Connection,
    member: &Membership,
    fields: &[Field],
    whole: FieldShape,
    (id, on, seen): Told,
    today: Date,
) -> Result<Field> {
    let Some((first, others)) = fields.split_first() else { return Err(Error::NotFound) };
    if others.is_empty() || others.len() > MOST_JOINED {
        return Err(Refused::one("/with", said!("join 1 to {} other fields at a time", MOST_JOINED)).into());
    }
    if let Some(gone) = fields.iter().find(|field| field.retired) {
        let detail = said!("“{}” is no longer farmed", gone.name.as_str());
        return Err(Refused::one("/with", detail).into());
    }
    together(connection, async |connection| {
        if entry::find(connection, member, id).await?.is_some() {
            return field::one(connection, member, first.id).await;
        }
        one_by_one(connection, &format!("fields {}", member.farm.id)).await?;
        for other in others {
            let ended = FieldShape {
                name: other.name.clone(),
                outline: other.boundary.clone(),
                area: Area::from_base(other.area_m2),
                sown_area: other.sown_area(),
                setback: Length::new(other.setback_m, Unit::M),
                retired: true,
            };
            let told = (Uuid::now_v7(), on, other.shape);
            field::reshape(connection, member, other.id, ended, told, today).await?;
            for kept in entry::all(connection, member, Some(Subject::field(other.id))).await? {
                let counts = kept.struck_by.is_none() && kept.occurred_on <= on;
                if counts && kept.payload().is_some_and(|payload| FORBIDS.contains(&payload.kind().word)) {
                    let about = BTreeSet::from([Subject::field(first.id).into()]);
                    entry::copy(connection, member, &kept, &about, 1.0, |_| None).await?;
                }
            }
        }
        field::reshape(connection, member, first.id, whole, (Uuid::now_v7(), on, seen), today).await?;
        let told =
            FieldParted { what: Parting::Joined, field: named(first), others: others.iter().map(named).collect() };
        let about = fields.iter().map(|field| Subject::field(field.id));
        entry::write(connection, member, &NewEntry::of(id, about, on, Via::Web, told.into()), today).await?;
        field::one(connection, member, first.id).await
    })
    .await
}
