//! Entries: ink.
//!
//! What a record may say, and of what, is declared in [`records`]; here it is written down for good,
//! and found again by anything it is about.

use std::collections::{BTreeSet, HashMap};

use agronomy::{
    refusal::{Checks, Refused},
    said,
};
use diesel::{dsl::exists, prelude::*};
use diesel_async::RunQueryDsl;
use jiff::{Timestamp, civil::Date};
use records::{Closes, Content, KINDS, Payload, Subject, SubjectKind, book::Books, kind};
use serde_json::Value;
use uuid::Uuid;

pub use records::{Entry, Via};

use crate::{
    Connection, Error, PAGE, Result,
    chain::chain,
    farm::Membership,
    field, lot, one_by_one,
    people::name_of,
    schema::{entries, entry_subjects, ledger_chain},
    stand, together,
};

/// Things that one entry may be about.
const MOST_SUBJECTS: usize = 50;

/// The day of an entry.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Day {
    /// As the writer said.
    Given(Date),
    /// The day of writing: sent again after midnight, it is still the same entry.
    Today,
}

/// An entry about to be written.
#[derive(Debug, Clone, PartialEq)]
pub struct NewEntry {
    /// Made by the client, so that the same submission is the same entry.
    pub id: Uuid,
    /// What it is about; nothing for the farm. A stand brings its field along.
    pub about: Vec<Subject>,
    /// The day it happened.
    pub on: Day,
    /// How it came in.
    pub via: Via,
    /// What it says.
    pub payload: Payload,
    /// The place in a stand's years that it closes.
    pub closes: Option<Closes>,
    /// The entry it strikes.
    pub strikes: Option<Uuid>,
    /// The entry of its kind that the writer saw and means to replace, where one counts at a time.
    pub after: Option<Uuid>,
}

impl NewEntry {
    /// About some things.
    pub fn of(id: Uuid, about: impl IntoIterator<Item = Subject>, on: Date, via: Via, payload: Payload) -> Self {
        let about = about.into_iter().collect();
        Self { id, about, on: Day::Given(on), via, payload, closes: None, strikes: None, after: None }
    }

    /// The same, written down for the day of writing.
    pub fn today(mut self) -> Self {
        self.on = Day::Today;
        self
    }
}

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
    fn entry(self, about: Vec<Subject>, struck_by: Option<Uuid>) -> Entry {
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

/// Which entries to list.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Filter {
    /// About each of these.
    pub about: Vec<Subject>,
    /// Of this kind.
    pub kind: Option<String>,
    /// From where on.
    pub from: Beside,
}

/// From where on entries are listed, newest day first.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub enum Beside {
    /// The newest.
    #[default]
    Newest,
    /// Those behind an entry.
    OlderThan(Uuid),
    /// Those just before an entry.
    NewerThan(Uuid),
    /// The oldest.
    Oldest,
}

/// Write an entry. Sent again with the same content, it is the same entry.
///
/// # Errors
/// A payload that can't be, a day in the future, or a lack of what its kind must be about is refused;
/// [`Error::NotFound`] when it speaks of something that is not this farm's; [`Error::Conflict`] when the
/// id stands for something else or the struck entry is already struck; [`Error::Overtaken`] when
/// somebody wrote in between what it means to replace.
pub async fn write(connection: &mut Connection, member: &Membership, new: &NewEntry, today: Date) -> Result<Entry> {
    if let Some(kept) = find(connection, member, new.id).await? {
        return same_or_conflict(connection, member, kept, new).await;
    }
    let on = check(new, today)?;
    together(connection, async |connection| {
        let about = settled(connection, member, &new.about, &new.payload).await?;
        check_about(&new.payload, &about)?;
        if let Some(closes) = &new.closes {
            closes_here(connection, member, closes, &about).await?;
        }
        if new.payload.kind().replaces {
            not_overtaken(connection, member, new, &about).await?;
        }
        insert(connection, member, new, on, &about).await
    })
    .await?;
    let kept = find(connection, member, new.id).await?.ok_or(Error::NotFound)?;
    same_or_conflict(connection, member, kept, new).await
}

/// Write what was checked when it was first written down, and is written down again for something else: for so much of what
/// it was of, and closing the same time of the same step of another stand.
pub(crate) async fn copy(
    connection: &mut Connection,
    member: &Membership,
    kept: &Entry,
    about: &BTreeSet<Subject>,
    share: f64,
    stand: impl Fn(Uuid) -> Option<Uuid>,
) -> Result<()> {
    let Some(payload) = kept.payload() else { return Ok(()) };
    let closes = kept.closes.clone().and_then(|closes| Some(Closes { stand: stand(closes.stand)?, ..closes }));
    let new =
        NewEntry { closes, ..NewEntry::of(Uuid::now_v7(), [], kept.occurred_on, kept.via, payload.of_part(share)) };
    let about: Vec<Subject> = about.iter().copied().collect();
    insert(connection, member, &new, kept.occurred_on, &about).await
}

async fn insert(
    connection: &mut Connection,
    member: &Membership,
    new: &NewEntry,
    on: Date,
    about: &[Subject],
) -> Result<()> {
    let row = (
        entries::farm_id.eq(member.farm.id),
        entries::id.eq(new.id),
        entries::kind.eq(new.payload.kind().word),
        entries::version.eq(new.payload.kind().version),
        entries::occurred_on.eq(jiff_diesel::Date::from(on)),
        entries::recorded_by.eq(member.person),
        entries::via.eq(new.via.word()),
        entries::payload.eq(new.payload.stored()),
        entries::strikes.eq(new.strikes),
        entries::closes_stand.eq(new.closes.as_ref().map(|closes| closes.stand)),
        entries::closes_step.eq(new.closes.as_ref().map(|closes| &closes.step)),
        entries::closes_season.eq(new.closes.as_ref().and_then(|closes| closes.season)),
        entries::closes_occurrence.eq(new.closes.as_ref().and_then(|closes| closes.occurrence)),
    );
    let written = diesel::insert_into(entries::table)
        .values(row)
        // Two posts of the same entry at once: the second finds the first.
        .on_conflict((entries::farm_id, entries::id))
        .do_nothing()
        .execute(connection)
        .await?;
    if written > 0 {
        let subjects: Vec<_> = about
            .iter()
            .map(|subject| {
                (
                    entry_subjects::farm_id.eq(member.farm.id),
                    entry_subjects::kind.eq(subject.kind.word()),
                    entry_subjects::subject_id.eq(subject.id),
                    entry_subjects::entry_id.eq(new.id),
                )
            })
            .collect();
        diesel::insert_into(entry_subjects::table).values(subjects).execute(connection).await?;
        chain(connection, member.farm.id, new.id).await?;
    }
    Ok(())
}

/// Refuse what can't be; the day it happened.
fn check(new: &NewEntry, today: Date) -> std::result::Result<Date, Refused> {
    let on = match new.on {
        Day::Given(on) => on,
        Day::Today => today,
    };
    let mut checks = Checks::new();
    checks.part("/payload", new.payload.check(today));
    checks.require(
        on <= today,
        "/occurred_on",
        format!("{on} is in the future (today is {today}): ink is for what has happened"),
    );
    checks.require(on.year() >= 1950, "/occurred_on", format!("{on} is in another age: entries go back to 1950"));
    checks.require(
        new.about.len() <= MOST_SUBJECTS,
        "/about",
        said!("it is about {} things; the most taken is {}", new.about.len(), MOST_SUBJECTS),
    );
    if let Some(closes) = &new.closes {
        checks.part("/closes", closes.check());
    }
    checks.done()?;
    Ok(on)
}

/// What an entry is about, each once and in order: all of it this farm's, and with a stand its field.
async fn settled(
    connection: &mut Connection,
    member: &Membership,
    about: &[Subject],
    payload: &Payload,
) -> Result<Vec<Subject>> {
    let mut settled: BTreeSet<Subject> = about.iter().copied().collect();
    for subject in about {
        match subject.kind {
            SubjectKind::Field => drop(field::one(connection, member, subject.id).await?),
            SubjectKind::Lot => drop(lot::one(connection, member, subject.id).await?),
            SubjectKind::Stand => {
                let own = Subject::field(stand::one(connection, member, subject.id).await?.field_id);
                let others = settled.iter().any(|one| one.kind == SubjectKind::Field && *one != own);
                if others {
                    return Err(Error::NotFound);
                }
                settled.insert(own);
            }
            // These have no table: the record that tells what they are brings them about.
            kind if payload.kind().founds && payload.kind().needs.contains(&kind) => {}
            SubjectKind::Machine | SubjectKind::Product | SubjectKind::Mix | SubjectKind::Variety => {
                known(connection, member, *subject).await?;
            }
            // Nothing of these kinds is kept yet.
            _ => return Err(Error::NotFound),
        }
    }
    Ok(settled.into_iter().collect())
}

/// There is something of this farm by this id.
async fn known(connection: &mut Connection, member: &Membership, subject: Subject) -> Result<()> {
    let about = entry_subjects::table
        .filter(entry_subjects::farm_id.eq(member.farm.id))
        .filter(entry_subjects::kind.eq(subject.kind.word()).and(entry_subjects::subject_id.eq(subject.id)))
        .select(entry_subjects::entry_id);
    Ok(about.first::<Uuid>(connection).await.map(drop)?)
}

fn check_about(payload: &Payload, about: &[Subject]) -> std::result::Result<(), Refused> {
    let mut checks = Checks::new();
    for needed in payload.kind().needs {
        checks.require(
            about.iter().any(|subject| subject.kind == *needed),
            "/about",
            said!("say which {} it is about", needed.word()),
        );
    }
    checks.done()
}

/// What it closes is a step of a stand on its own field.
async fn closes_here(
    connection: &mut Connection,
    member: &Membership,
    closes: &Closes,
    about: &[Subject],
) -> Result<()> {
    let field = Subject::field(stand::one(connection, member, closes.stand).await?.field_id);
    let stands_on_it = about.contains(&field)
        && about.iter().all(|subject| subject.kind != SubjectKind::Stand || subject.id == closes.stand);
    match stands_on_it {
        true => Ok(()),
        false => Err(Refused::one("/closes/stand", "the step belongs to a stand on another field").into()),
    }
}

/// Of records of which the last one counts: nobody wrote another since the writer looked.
async fn not_overtaken(
    connection: &mut Connection,
    member: &Membership,
    new: &NewEntry,
    about: &[Subject],
) -> Result<()> {
    // The narrowest thing it is about: a decision is about a stand, a walk about a field.
    let needs = new.payload.kind().needs.iter().rev();
    let Some(subject) = needs.flat_map(|kind| about.iter().find(|one| one.kind == *kind)).next() else {
        return Ok(());
    };
    // Two writers at once: the second waits here, and then finds what the first wrote.
    one_by_one(connection, &format!("{} {}", new.payload.kind().word, subject.id)).await?;
    let Some(after) = new.after else { return Ok(()) };
    let filter = Filter { about: vec![*subject], kind: Some(new.payload.kind().word.to_owned()), from: Beside::Newest };
    let (latest, _) = list(connection, member, &filter).await?;
    match latest.into_iter().filter(|entry| entry.struck_by.is_none()).max_by_key(|one| (one.recorded_at, one.id)) {
        Some(latest) if latest.id != after => Err(Error::Overtaken(said!(
            "{}: {} wrote another one down for {} since you looked",
            new.payload.kind().title,
            name_of(connection, latest.recorded_by).await?,
            latest.occurred_on.to_string()
        ))),
        _ => Ok(()),
    }
}

/// What the client sent is compared, not what was filled in here.
async fn same_or_conflict(
    connection: &mut Connection,
    member: &Membership,
    kept: Entry,
    new: &NewEntry,
) -> Result<Entry> {
    let payload = kept.payload().is_some_and(|payload| {
        payload.kind().word == new.payload.kind().word && alike(&payload.stored(), &new.payload.stored())
    });
    let day = match new.on {
        Day::Given(on) => kept.occurred_on == on,
        Day::Today => true,
    };
    let about = payload && settled(connection, member, &new.about, &new.payload).await? == kept.about;
    if payload && day && about && kept.strikes == new.strikes && kept.closes == new.closes {
        Ok(kept)
    } else {
        Err(Error::Conflict("this id already stands for another entry".to_owned()))
    }
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
/// the same id, it is the same strike, whatever the day.
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
    if target.strikes.is_some() {
        return Err(Error::Conflict("a strike can\u{2019}t be struck: record the entry anew".to_owned()));
    }
    if matches!(target.payload(), Some(Payload::FarmFacts(_))) {
        return Err(Error::Conflict("what became of the farm is not struck: correct it under set-up, farm".to_owned()));
    }
    if matches!(target.payload(), Some(Payload::MembershipTurn(_))) {
        return Err(Error::Conflict("who came and who left is not struck: change it under set-up, people".to_owned()));
    }
    let payload = records::kinds::strike::Strike { reason: reason.trim().to_owned() }.into();
    let new = NewEntry { strikes: Some(struck), ..NewEntry::of(id, target.about, today, Via::Web, payload).today() };
    write(connection, member, &new, today).await
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
        .select((entry_subjects::entry_id, entry_subjects::kind, entry_subjects::subject_id))
        .into_boxed();
    if few {
        struck = struck.filter(entries::strikes.eq_any(ids.clone()));
        subjects = subjects.filter(entry_subjects::entry_id.eq_any(ids));
    }
    let struck: HashMap<Uuid, Uuid> = struck.load::<(Uuid, Uuid)>(connection).await?.into_iter().collect();
    let mut about: HashMap<Uuid, Vec<Subject>> = HashMap::new();
    for (entry, word, id) in subjects.load::<(Uuid, String, Uuid)>(connection).await? {
        // A kind of thing that this build does not know is passed over, like a record it can't read.
        if let Some(kind) = SubjectKind::of(&word) {
            about.entry(entry).or_default().push(Subject { kind, id });
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
        let detail = format!("\u{201c}{word}\u{201d} is no kind of entry; there are {}", words.join(", "));
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
