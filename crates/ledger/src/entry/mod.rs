//! Entries: ink.

mod ground;
mod payload;

pub use ground::{ground, of_ground};
pub use payload::{KINDS, Payload, StepDone};

use agronomy::refusal::{Checks, Refused};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use jiff::{Timestamp, civil::Date};
use planner::{Choices, Facts, GroundSteps, InkedStep};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{Connection, Error, PAGE, Result, farm::Membership, schema::entries};

/// Version of the payload types below.
const VERSION: i32 = 1;

/// How an entry came in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Via {
    Web,
    Demo,
    StandIn,
    Import,
}

impl Via {
    const ALL: [(Self, &'static str); 4] =
        [(Self::Web, "web"), (Self::Demo, "demo"), (Self::StandIn, "stand-in"), (Self::Import, "import")];

    fn word(self) -> &'static str {
        Self::ALL.iter().find(|(via, _)| *via == self).map_or("web", |(_, word)| word)
    }
}

/// An entry about to be written.
#[derive(Debug, Clone, PartialEq)]
pub struct NewEntry {
    /// Made by the client, so that the same submission is the same entry.
    pub id: Uuid,
    /// Field it is about.
    pub field: Option<Uuid>,
    /// Stand it is about.
    pub stand: Option<Uuid>,
    /// Lot it is about.
    pub lot: Option<Uuid>,
    /// The day it happened.
    pub occurred_on: Date,
    /// How it came in.
    pub via: Via,
    /// What it says.
    pub payload: Payload,
    /// The entry it strikes.
    pub strikes: Option<Uuid>,
}

impl NewEntry {
    /// About a field and nothing else.
    pub fn of_field(id: Uuid, field: Uuid, on: Date, via: Via, payload: Payload) -> Self {
        Self { id, field: Some(field), stand: None, lot: None, occurred_on: on, via, payload, strikes: None }
    }

    /// About a lot.
    pub fn of_lot(id: Uuid, lot: Uuid, on: Date, via: Via, payload: Payload) -> Self {
        Self { id, field: None, stand: None, lot: Some(lot), occurred_on: on, via, payload, strikes: None }
    }
}

/// An entry.
#[derive(Debug, Clone, PartialEq)]
pub struct Entry {
    /// Id.
    pub id: Uuid,
    /// Field it is about.
    pub field: Option<Uuid>,
    /// Stand it is about.
    pub stand: Option<Uuid>,
    /// Lot it is about.
    pub lot: Option<Uuid>,
    /// The day it happened.
    pub occurred_on: Date,
    /// When it was written down.
    pub recorded_at: Timestamp,
    /// By whom.
    pub recorded_by: Uuid,
    /// How it came in.
    pub via: Via,
    /// What it says.
    pub payload: Payload,
    /// The entry it strikes.
    pub strikes: Option<Uuid>,
    /// The entry that strikes it.
    pub struck_by: Option<Uuid>,
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = entries)]
struct Row {
    id: Uuid,
    field_id: Option<Uuid>,
    stand_id: Option<Uuid>,
    lot_id: Option<Uuid>,
    kind: String,
    version: i32,
    #[diesel(deserialize_as = jiff_diesel::Date)]
    occurred_on: Date,
    #[diesel(deserialize_as = jiff_diesel::Timestamp)]
    recorded_at: Timestamp,
    recorded_by: Uuid,
    via: String,
    payload: Value,
    strikes: Option<Uuid>,
}

impl Row {
    fn entry(self, struck_by: Option<Uuid>) -> Result<Entry> {
        Ok(Entry {
            id: self.id,
            field: self.field_id,
            stand: self.stand_id,
            lot: self.lot_id,
            occurred_on: self.occurred_on,
            recorded_at: self.recorded_at,
            recorded_by: self.recorded_by,
            via: Via::ALL.iter().find(|(_, word)| *word == self.via).map_or(Via::Web, |(via, _)| *via),
            payload: Payload::from_stored(self.id, &self.kind, self.version, self.payload)?,
            strikes: self.strikes,
            struck_by,
        })
    }
}

/// Which entries to list.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Filter {
    /// About this field.
    pub field: Option<Uuid>,
    /// About this stand.
    pub stand: Option<Uuid>,
    /// About this lot.
    pub lot: Option<Uuid>,
    /// Of this kind.
    pub kind: Option<String>,
    /// Leave this many of the newest out.
    pub offset: i64,
}

/// Write an entry. Sent again with the same content, it is the same entry.
///
/// # Errors
/// A payload that can't be or a day in the future is refused; [`Error::NotFound`] when it speaks
/// of something that is not this farm's; [`Error::Conflict`] when the id stands for something else
/// or the struck entry is already struck.
pub async fn write(connection: &mut Connection, member: &Membership, new: &NewEntry, today: Date) -> Result<Entry> {
    if let Some(kept) = find(connection, member, new.id).await? {
        return same_or_conflict(kept, new);
    }
    let mut checks = Checks::new();
    checks.part("/payload", new.payload.check(today));
    checks.require(
        new.occurred_on <= today,
        "/occurred_on",
        format!("{} is in the future (today is {today}): ink is for what has happened", new.occurred_on),
    );
    checks.require(
        new.occurred_on.year() >= 1950,
        "/occurred_on",
        format!("{} is in another age: entries go back to 1950", new.occurred_on),
    );
    if ground::GROUND.contains(&new.payload.kind()) {
        checks.require(new.field.is_some(), "/field", "say which field it is about");
    }
    checks.done()?;
    if let (Some(stand), Some(field)) = (new.stand, new.field)
        && crate::stand::one(connection, member, stand).await?.field_id != field
    {
        return Err(Error::NotFound);
    }
    let row = (
        entries::farm_id.eq(member.farm.id),
        entries::id.eq(new.id),
        entries::field_id.eq(new.field),
        entries::stand_id.eq(new.stand),
        entries::lot_id.eq(new.lot),
        entries::kind.eq(new.payload.kind()),
        entries::version.eq(VERSION),
        entries::occurred_on.eq(jiff_diesel::Date::from(new.occurred_on)),
        entries::recorded_by.eq(member.person),
        entries::via.eq(new.via.word()),
        entries::payload.eq(new.payload.stored()),
        entries::strikes.eq(new.strikes),
    );
    diesel::insert_into(entries::table)
        .values(row)
        // Two posts of the same entry at once: the second finds the first.
        .on_conflict((entries::farm_id, entries::id))
        .do_nothing()
        .execute(connection)
        .await?;
    let kept = find(connection, member, new.id).await?.ok_or(Error::NotFound)?;
    same_or_conflict(kept, new)
}

fn same_or_conflict(kept: Entry, new: &NewEntry) -> Result<Entry> {
    let same = kept.payload.kind() == new.payload.kind()
        && alike(&kept.payload.stored(), &new.payload.stored())
        && kept.occurred_on == new.occurred_on
        && (kept.field, kept.stand, kept.lot, kept.strikes) == (new.field, new.stand, new.lot, new.strikes);
    if same { Ok(kept) } else { Err(Error::Conflict("this id already stands for another entry".to_owned())) }
}

/// Equal but for the last digits that a quantity loses on its way through a unit.
fn alike(a: &Value, b: &Value) -> bool {
    match (a, b) {
        (Value::Number(a), Value::Number(b)) => {
            let (a, b) = (a.as_f64().unwrap_or(f64::NAN), b.as_f64().unwrap_or(f64::NAN));
            (a - b).abs() <= 1e-9 * (1.0 + a.abs())
        }
        (Value::Array(a), Value::Array(b)) => a.len() == b.len() && a.iter().zip(b).all(|(a, b)| alike(a, b)),
        (Value::Object(a), Value::Object(b)) => {
            a.len() == b.len() && a.iter().all(|(key, a)| b.get(key).is_some_and(|b| alike(a, b)))
        }
        _ => a == b,
    }
}

/// Strike an entry: it stays legible, and counts no more. Struck again for the same reason with
/// the same id, it is the same strike.
///
/// # Errors
/// [`Error::NotFound`], or [`Error::Conflict`] when it is a strike itself or already struck.
pub async fn strike(
    connection: &mut Connection,
    member: &Membership,
    id: Uuid,
    struck: Uuid,
    reason: &str,
    today: Date,
) -> Result<Entry> {
    let target = find(connection, member, struck).await?.ok_or(Error::NotFound)?;
    let new = NewEntry {
        id,
        field: target.field,
        stand: target.stand,
        lot: target.lot,
        occurred_on: today,
        via: Via::Web,
        payload: Payload::Strike { reason: reason.trim().to_owned() },
        strikes: Some(struck),
    };
    write(connection, member, &new, today).await
}

/// One entry of a farm.
///
/// # Errors
/// When the database fails or the entry can't be read.
pub async fn find(connection: &mut Connection, member: &Membership, id: Uuid) -> Result<Option<Entry>> {
    let rows = entries::table.find((member.farm.id, id)).select(Row::as_select()).load(connection).await?;
    Ok(with_strikes(connection, member, rows).await?.pop())
}

async fn with_strikes(connection: &mut Connection, member: &Membership, rows: Vec<Row>) -> Result<Vec<Entry>> {
    let ids: Vec<Uuid> = rows.iter().map(|row| row.id).collect();
    let strikes: Vec<(Option<Uuid>, Uuid)> = entries::table
        .filter(entries::farm_id.eq(member.farm.id).and(entries::strikes.eq_any(ids)))
        .select((entries::strikes, entries::id))
        .load(connection)
        .await?;
    rows.into_iter()
        .map(|row| {
            let struck_by = strikes.iter().find(|(struck, _)| *struck == Some(row.id)).map(|(_, by)| *by);
            row.entry(struck_by)
        })
        .collect()
}

/// A page of a farm's entries, newest day first, and how many there are in all.
///
/// # Errors
/// An unknown kind is refused; when the database fails or an entry can't be read.
pub async fn list(connection: &mut Connection, member: &Membership, filter: &Filter) -> Result<(Vec<Entry>, i64)> {
    if let Some(kind) = filter.kind.as_deref().filter(|kind| !KINDS.contains(kind)) {
        let detail = format!("\u{201c}{kind}\u{201d} is no kind of entry; there are {}", KINDS.join(", "));
        return Err(Refused::one("/kind", detail).into());
    }
    let matching = || {
        let mut query = entries::table.filter(entries::farm_id.eq(member.farm.id)).into_boxed();
        if let Some(field) = filter.field {
            query = query.filter(entries::field_id.eq(field));
        }
        if let Some(stand) = filter.stand {
            query = query.filter(entries::stand_id.eq(stand));
        }
        if let Some(lot) = filter.lot {
            query = query.filter(entries::lot_id.eq(lot));
        }
        if let Some(kind) = &filter.kind {
            query = query.filter(entries::kind.eq(kind.clone()));
        }
        query
    };
    let total = matching().count().get_result(connection).await?;
    let rows = matching()
        .order((entries::occurred_on.desc(), entries::recorded_at.desc(), entries::id.desc()))
        .offset(filter.offset.max(0))
        .limit(PAGE)
        .select(Row::as_select())
        .load(connection)
        .await?;
    Ok((with_strikes(connection, member, rows).await?, total))
}

/// All entries about stands of a farm, oldest first.
///
/// # Errors
/// When the database fails or an entry can't be read.
pub async fn of_stands(connection: &mut Connection, member: &Membership) -> Result<Vec<Entry>> {
    let rows = entries::table
        .filter(entries::farm_id.eq(member.farm.id).and(entries::stand_id.is_not_null()))
        .order((entries::occurred_on, entries::recorded_at, entries::id))
        .select(Row::as_select())
        .load(connection)
        .await?;
    with_strikes(connection, member, rows).await
}

/// All entries about lots of a farm, oldest first.
///
/// # Errors
/// When the database fails or an entry can't be read.
pub async fn of_lots(connection: &mut Connection, member: &Membership) -> Result<Vec<Entry>> {
    let rows = entries::table
        .filter(entries::farm_id.eq(member.farm.id).and(entries::lot_id.is_not_null()))
        .order((entries::occurred_on, entries::recorded_at, entries::id))
        .select(Row::as_select())
        .load(connection)
        .await?;
    with_strikes(connection, member, rows).await
}

/// The choices a stand's entries leave standing, the last ones.
pub fn choices(entries: &[Entry]) -> Option<&Choices> {
    entries.iter().rev().filter(|entry| entry.struck_by.is_none()).find_map(|entry| match &entry.payload {
        Payload::Choices { choices } => Some(choices.as_ref()),
        _ => None,
    })
}

/// The facts a plan is derived from: steps inked and not struck.
pub fn facts(entries: &[Entry]) -> Facts {
    let inked = entries.iter().filter(|entry| entry.struck_by.is_none()).filter_map(|entry| match &entry.payload {
        Payload::Step { done } => Some(InkedStep { entry: entry.id, kind: done.step, on: entry.occurred_on }),
        _ => None,
    });
    Facts { inked: inked.collect(), ground: GroundSteps::default(), sowing: None }
}
