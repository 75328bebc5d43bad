//! Entries found again, by what they are about, and folded into books.

use std::collections::HashMap;

use agronomy::refusal::Refused;
use diesel::{dsl::exists, prelude::*};
use diesel_async::RunQueryDsl;
use jiff::{Timestamp, civil::Date};
use records::{About, Closes, Content, Entry, KINDS, Part, Payload, Subject, SubjectKind, Via, book::Books, kind};
use serde_json::Value;
use uuid::Uuid;

use super::{Beside, Filter};
use crate::{
    Connection, PAGE, Result,
    farm::Membership,
    schema::{entries, entry_subjects, ledger_chain},
};

#[derive(Queryable, Selectable)]
#[diesel(table_name = entries)]
struct Row {
    id: Uuid,
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
    closes_stand: Option<Uuid>,
    closes_step: Option<String>,
    closes_season: Option<i16>,
    closes_occurrence: Option<i32>,
}

impl Row {
    fn entry(self, about: Vec<About>, struck_by: Option<Uuid>) -> Entry {
        let stand = about.iter().find(|subject| subject.kind == SubjectKind::Stand);
        let closes = match (self.closes_stand, self.closes_step) {
            (Some(stand), Some(step)) => {
                Some(Closes { stand, step, season: self.closes_season, occurrence: self.closes_occurrence })
            }
            // Of before, when records said it themselves.
            _ => stand.and_then(|stand| Payload::closed(&self.kind, self.version, &self.payload, stand.id)),
        };
        let content = match Payload::stored_as(&self.kind, self.version, self.payload) {
            Ok(payload) => Content::Read(payload),
            Err(why) => Content::Unreadable { kind: self.kind, why },
        };
        Entry {
            id: self.id,
            about,
            occurred_on: self.occurred_on,
            recorded_at: self.recorded_at,
            recorded_by: self.recorded_by,
            via: Via::of(&self.via),
            content,
            closes,
            strikes: self.strikes,
            struck_by,
        }
    }
}

/// One entry of a farm.
///
/// # Errors
/// When the database fails.
pub async fn find(connection: &mut Connection, member: &Membership, id: Uuid) -> Result<Option<Entry>> {
    let rows = entries::table.find((member.farm.id, id)).select(Row::as_select()).load(connection).await?;
    Ok(whole(connection, member, rows, true).await?.pop())
}

/// Rows with what they are about and by what they are struck. `few`: asked for by their ids, not by the
/// farm's whole ledger.
async fn whole(connection: &mut Connection, member: &Membership, rows: Vec<Row>, few: bool) -> Result<Vec<Entry>> {
    let farm = member.farm.id;
    let ids: Vec<Uuid> = if few { rows.iter().map(|row| row.id).collect() } else { vec![] };
    let mut struck = entries::table
        .filter(entries::farm_id.eq(farm).and(entries::strikes.is_not_null()))
        .select((entries::strikes.assume_not_null(), entries::id))
        .into_boxed();
    let mut subjects = entry_subjects::table
        .filter(entry_subjects::farm_id.eq(farm))
        .select((entry_subjects::entry_id, entry_subjects::kind, entry_subjects::subject_id, entry_subjects::part))
        .into_boxed();
    if few {
        struck = struck.filter(entries::strikes.eq_any(ids.clone()));
        subjects = subjects.filter(entry_subjects::entry_id.eq_any(ids));
    }
    let struck: HashMap<Uuid, Uuid> = struck.load::<(Uuid, Uuid)>(connection).await?.into_iter().collect();
    let mut about: HashMap<Uuid, Vec<About>> = HashMap::new();
    for (entry, word, id, part) in subjects.load::<(Uuid, String, Uuid, String)>(connection).await? {
        // A kind of thing that this build does not know is passed over, like a record it can't read.
        if let Some(kind) = SubjectKind::of(&word) {
            about.entry(entry).or_default().push(About { kind, id, part: Part::of(&part) });
        }
    }
    Ok(rows
        .into_iter()
        .map(|row| {
            let mut about = about.remove(&row.id).unwrap_or_default();
            about.sort();
            let struck_by = struck.get(&row.id).copied();
            row.entry(about, struck_by)
        })
        .collect())
}

/// The entry of a kind that counts for the farm as a whole: the last one that is not struck.
///
/// # Errors
/// When the database fails.
pub async fn counting(connection: &mut Connection, member: &Membership, kind: &str) -> Result<Option<Entry>> {
    let strikes = diesel::alias!(entries as strikes);
    let strike = strikes
        .filter(strikes.field(entries::farm_id).eq(entries::farm_id))
        .filter(strikes.field(entries::strikes).eq(entries::id.nullable()));
    let rows = entries::table
        .filter(entries::farm_id.eq(member.farm.id).and(entries::kind.eq(kind)))
        .filter(diesel::dsl::not(exists(strike)))
        .order((entries::occurred_on.desc(), entries::recorded_at.desc(), entries::id.desc()))
        .limit(1)
        .select(Row::as_select())
        .load(connection)
        .await?;
    Ok(whole(connection, member, rows, true).await?.pop())
}

/// A page of a farm's entries, newest day first, and how many there are in all. A page is found by the entry it lies beside,
/// so that the last one takes no longer than the first.
///
/// # Errors
/// An unknown kind is refused; [`Error::NotFound`] for an entry that is not this farm's; when the database fails.
pub async fn list(connection: &mut Connection, member: &Membership, filter: &Filter) -> Result<(Vec<Entry>, i64)> {
    if let Some(word) = filter.kind.as_deref().filter(|word| kind(word).is_none()) {
        let words: Vec<&str> = KINDS.iter().map(|kind| kind.word).collect();
        let detail = format!("“{word}” is not an entry type; choose from {}", words.join(", "));
        return Err(Refused::one("/kind", detail).into());
    }
    let matching = || {
        let mut query = entries::table.filter(entries::farm_id.eq(member.farm.id)).into_boxed();
        for subject in filter.about.clone() {
            query = query.filter(exists(about_one(subject)));
        }
        if let Some(kind) = &filter.kind {
            query = query.filter(entries::kind.eq(kind.clone()));
        }
        query
    };
    let total = match filter.about.is_empty() && filter.kind.is_none() {
        // Each entry has its place.
        true => crate::chain::head(connection, member).await?.position,
        false => matching().count().get_result(connection).await?,
    };
    let beside = match filter.from {
        Beside::OlderThan(id) | Beside::NewerThan(id) => Some(
            entries::table
                .find((member.farm.id, id))
                .select((entries::occurred_on, entries::recorded_at, entries::id))
                .first::<(jiff_diesel::Date, jiff_diesel::Timestamp, Uuid)>(connection)
                .await?,
        ),
        Beside::Newest | Beside::Oldest => None,
    };
    let mut query = matching();
    let upwards = matches!(filter.from, Beside::NewerThan(_) | Beside::Oldest);
    if let Some((on, at, id)) = beside {
        // Row by row in the order below: the index is entered where the page begins.
        let place = (entries::occurred_on, entries::recorded_at, entries::id);
        query = match upwards {
            true => query
                .filter(place.0.ge(on))
                .filter(place.0.gt(on).or(place.1.gt(at)).or(place.1.eq(at).and(place.2.gt(id)))),
            false => query
                .filter(place.0.le(on))
                .filter(place.0.lt(on).or(place.1.lt(at)).or(place.1.eq(at).and(place.2.lt(id)))),
        };
    }
    let query = match upwards {
        true => query.order((entries::occurred_on, entries::recorded_at, entries::id)),
        false => query.order((entries::occurred_on.desc(), entries::recorded_at.desc(), entries::id.desc())),
    };
    let mut rows: Vec<Row> = query.limit(PAGE).select(Row::as_select()).load(connection).await?;
    if upwards {
        rows.reverse();
    }
    Ok((whole(connection, member, rows, true).await?, total))
}

/// That an entry is about a thing.
#[diesel::dsl::auto_type(no_type_alias)]
fn about_one(subject: Subject) -> _ {
    let word: &'static str = subject.kind.word();
    let id: Uuid = subject.id;
    entry_subjects::table.filter(
        entry_subjects::farm_id
            .eq(entries::farm_id)
            .and(entry_subjects::entry_id.eq(entries::id))
            .and(entry_subjects::kind.eq(word))
            .and(entry_subjects::subject_id.eq(id)),
    )
}

/// Entries of a farm, oldest first: all of them, or those about one thing.
///
/// # Errors
/// When the database fails.
pub async fn all(connection: &mut Connection, member: &Membership, about: Option<Subject>) -> Result<Vec<Entry>> {
    let mut query = entries::table.filter(entries::farm_id.eq(member.farm.id)).into_boxed();
    if let Some(subject) = about {
        query = query.filter(exists(about_one(subject)));
    }
    let rows = query
        .order((entries::occurred_on, entries::recorded_at, entries::id))
        .select(Row::as_select())
        .load(connection)
        .await?;
    whole(connection, member, rows, about.is_some()).await
}

/// Entries folded at a time: a ledger of decades is never in memory as a whole.
const AT_A_TIME: i64 = 2_000;

/// The books of a farm, or of what one thing of it tells.
///
/// # Errors
/// When the database fails.
pub async fn books(connection: &mut Connection, member: &Membership, about: Option<Subject>) -> Result<Books> {
    if about.is_some() {
        return Ok(Books::of(&all(connection, member, about).await?));
    }
    let mut books = Books::default();
    let mut last: Option<(Date, Timestamp, Uuid)> = None;
    loop {
        let mut query = entries::table.filter(entries::farm_id.eq(member.farm.id)).into_boxed();
        if let Some((on, at, id)) = last {
            let (on, at) = (jiff_diesel::Date::from(on), jiff_diesel::Timestamp::from(at));
            // Behind the last of the page before, by the order below.
            let later = entries::recorded_at.gt(at).or(entries::recorded_at.eq(at).and(entries::id.gt(id)));
            query = query.filter(entries::occurred_on.ge(on)).filter(entries::occurred_on.gt(on).or(later));
        }
        let rows: Vec<Row> = query
            .order((entries::occurred_on, entries::recorded_at, entries::id))
            .limit(AT_A_TIME)
            .select(Row::as_select())
            .load(connection)
            .await?;
        let Some(row) = rows.last() else { return Ok(books) };
        last = Some((row.occurred_on, row.recorded_at, row.id));
        whole(connection, member, rows, true).await?.iter().for_each(|entry| books.write(entry));
    }
}

/// What entries written after a place in the chain are about: all that has changed since.
///
/// # Errors
/// When the database fails.
pub async fn touched_since(connection: &mut Connection, member: &Membership, position: i64) -> Result<Vec<Subject>> {
    let touched: Vec<(String, Uuid)> = ledger_chain::table
        .inner_join(entry_subjects::table.on(
            entry_subjects::farm_id.eq(ledger_chain::farm_id).and(entry_subjects::entry_id.eq(ledger_chain::entry_id)),
        ))
        .filter(ledger_chain::farm_id.eq(member.farm.id).and(ledger_chain::position.gt(position)))
        .select((entry_subjects::kind, entry_subjects::subject_id))
        .distinct()
        .load(connection)
        .await?;
    let subject = |(word, id): (String, Uuid)| SubjectKind::of(&word).map(|kind| Subject { kind, id });
    Ok(touched.into_iter().filter_map(subject).collect())
}
