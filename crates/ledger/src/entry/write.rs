//! Writing an entry down, once and for good.

use std::collections::BTreeSet;

use agronomy::{
    refusal::{Checks, Refused},
    said,
};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use jiff::civil::Date;
use records::{About, Closes, Entry, Part, Payload, Subject, SubjectKind, Via};
use serde_json::Value;
use uuid::Uuid;

use super::{Beside, Day, Filter, NewEntry, find, list};
use crate::{
    Connection, Error, Result,
    chain::chain,
    farm::Membership,
    field, lot, one_by_one,
    people::name_of,
    schema::{entries, entry_subjects},
    stand, together,
};

/// Things that one entry may be about.
const MOST_SUBJECTS: usize = 50;

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
        new.payload.kind().check_about(&about)?;
        new.payload.check_about(&about).map_err(|refused| refused.under("/payload"))?;
        not_founded_before(connection, member, &new.payload, &about).await?;
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
    about: &BTreeSet<About>,
    share: f64,
    stand: impl Fn(Uuid) -> Option<Uuid>,
) -> Result<()> {
    let Some(payload) = kept.payload() else { return Ok(()) };
    let closes = kept.closes.clone().and_then(|closes| Some(Closes { stand: stand(closes.stand)?, ..closes }));
    let new =
        NewEntry { closes, ..NewEntry::of(Uuid::now_v7(), [], kept.occurred_on, kept.via, payload.of_part(share)) };
    let about: Vec<About> = about.iter().copied().collect();
    insert(connection, member, &new, kept.occurred_on, &about).await
}

async fn insert(
    connection: &mut Connection,
    member: &Membership,
    new: &NewEntry,
    on: Date,
    about: &[About],
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
                    entry_subjects::part.eq(subject.part.map_or("", Part::word)),
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
        said!("{} is in the future (today is {}); record only what has happened", on, today),
    );
    checks.require(on.year() >= 1950, "/occurred_on", said!("{} is out of range; entries go back to 1950", on));
    checks.require(
        new.about.len() <= MOST_SUBJECTS,
        "/about",
        said!("the entry has {} subjects; the limit is {}", new.about.len(), MOST_SUBJECTS),
    );
    if let Some(closes) = &new.closes {
        checks.part("/closes", closes.check());
    }
    checks.done()?;
    Ok(on)
}

/// What an entry is about, in order: all of it this farm's. A stand brings its field along, and a lot of forage the fields
/// and stands it came off.
async fn settled(
    connection: &mut Connection,
    member: &Membership,
    about: &[About],
    payload: &Payload,
) -> Result<Vec<About>> {
    let mut settled: BTreeSet<About> = about.iter().copied().collect();
    let founds = payload.kind().founds;
    for one in about {
        match one.kind {
            SubjectKind::Field => drop(field::one(connection, member, one.id).await?),
            SubjectKind::SeedLot => drop(lot::one(connection, member, one.id).await?),
            SubjectKind::Stand => {
                let own = Subject::field(stand::one(connection, member, one.id).await?.field_id);
                let others = settled.iter().any(|one| one.kind == SubjectKind::Field && one.id != own.id);
                if others && !payload.kind().several.contains(&SubjectKind::Field) {
                    return Err(Error::NotFound);
                }
                settled.insert(own.into());
            }
            // What has no table is brought about by the record that tells what it is.
            _ if founds.is_some_and(|founds| founds.has(one)) => {}
            _ => {
                let origin = known(connection, member, one.subject()).await?;
                if one.kind == SubjectKind::ForageLot {
                    settled.extend(origin.into_iter().map(About::from));
                }
            }
        }
    }
    Ok(settled.into_iter().collect())
}

/// There is something of this farm by this id: the fields and stands that the first record of it is about.
async fn known(connection: &mut Connection, member: &Membership, subject: Subject) -> Result<Vec<Subject>> {
    let first: Uuid = entry_subjects::table
        .inner_join(
            entries::table
                .on(entries::farm_id.eq(entry_subjects::farm_id).and(entries::id.eq(entry_subjects::entry_id))),
        )
        .filter(entry_subjects::farm_id.eq(member.farm.id))
        .filter(entry_subjects::kind.eq(subject.kind.word()).and(entry_subjects::subject_id.eq(subject.id)))
        .order((entries::recorded_at, entries::id))
        .select(entries::id)
        .first(connection)
        .await?;
    let grown: Vec<(String, Uuid)> = entry_subjects::table
        .filter(entry_subjects::farm_id.eq(member.farm.id).and(entry_subjects::entry_id.eq(first)))
        .filter(entry_subjects::kind.eq_any([SubjectKind::Field.word(), SubjectKind::Stand.word()]))
        .select((entry_subjects::kind, entry_subjects::subject_id))
        .load(connection)
        .await?;
    Ok(grown.into_iter().filter_map(|(word, id)| Some(Subject { kind: SubjectKind::of(&word)?, id })).collect())
}

/// What it brings into being is new, or was brought about by a record of its kind of which the last one counts.
async fn not_founded_before(
    connection: &mut Connection,
    member: &Membership,
    payload: &Payload,
    about: &[About],
) -> Result<()> {
    let kind = payload.kind();
    let Some(founds) = kind.founds else { return Ok(()) };
    for one in about.iter().filter(|one| founds.has(one)) {
        let taken: Option<String> = entry_subjects::table
            .inner_join(
                entries::table
                    .on(entries::farm_id.eq(entry_subjects::farm_id).and(entries::id.eq(entry_subjects::entry_id))),
            )
            .filter(entry_subjects::farm_id.eq(member.farm.id))
            .filter(entry_subjects::kind.eq(one.kind.word()).and(entry_subjects::subject_id.eq(one.id)))
            .order((entries::recorded_at, entries::id))
            .select(entries::kind)
            .first(connection)
            .await
            .optional()?;
        if taken.is_some_and(|first| !kind.replaces || first != kind.word) {
            return Err(Error::Conflict(format!(
                "this {} is there already: give the new one its own id",
                one.kind.name()
            )));
        }
    }
    Ok(())
}

/// What it closes is a step of a stand on its own field.
async fn closes_here(connection: &mut Connection, member: &Membership, closes: &Closes, about: &[About]) -> Result<()> {
    let field = Subject::field(stand::one(connection, member, closes.stand).await?.field_id);
    let of = |kind: SubjectKind| about.iter().filter(move |one| one.kind == kind).map(|one| one.id);
    let stands_on_it = of(SubjectKind::Field).any(|id| id == field.id)
        && (of(SubjectKind::Stand).count() == 0 || of(SubjectKind::Stand).any(|id| id == closes.stand));
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
    about: &[About],
) -> Result<()> {
    // The narrowest thing it is about: a decision is about a stand, a walk about a field.
    let needs = new.payload.kind().needs.iter().rev();
    let Some(subject) = needs.flat_map(|kind| about.iter().find(|one| one.kind == *kind)).next() else {
        return Ok(());
    };
    // Two writers at once: the second waits here, and then finds what the first wrote.
    one_by_one(connection, &format!("{} {}", new.payload.kind().word, subject.id)).await?;
    let Some(after) = new.after else { return Ok(()) };
    let filter =
        Filter { about: vec![subject.subject()], kind: Some(new.payload.kind().word.to_owned()), from: Beside::Newest };
    let (latest, _) = list(connection, member, &filter).await?;
    match latest.into_iter().filter(|entry| entry.struck_by.is_none()).max_by_key(|one| (one.recorded_at, one.id)) {
        Some(latest) if latest.id != after => Err(Error::Overtaken(said!(
            "{}: {} recorded another for {} after you opened this page",
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
        return Err(Error::Conflict("a strike cannot be struck; record the entry again".to_owned()));
    }
    if matches!(target.payload(), Some(Payload::FarmFacts(_))) {
        return Err(Error::Conflict("farm changes cannot be struck; edit them under Set-up, The farm".to_owned()));
    }
    if matches!(target.payload(), Some(Payload::MembershipTurn(_))) {
        return Err(Error::Conflict("membership changes cannot be struck; edit them under Set-up, People".to_owned()));
    }
    not_spoken_of(connection, member, &target).await?;
    let payload = records::kinds::strike::Strike { reason: reason.trim().to_owned() }.into();
    let about: Vec<Subject> = target.about.iter().map(|one| one.subject()).collect();
    let new = NewEntry { strikes: Some(struck), ..NewEntry::of(id, about, today, Via::Web, payload).today() };
    write(connection, member, &new, today).await
}

/// What brought something into being is not struck while others speak of that: their words would be about nothing.
async fn not_spoken_of(connection: &mut Connection, member: &Membership, target: &Entry) -> Result<()> {
    for founded in target.founded() {
        let about = super::all(connection, member, Some(founded.subject())).await?;
        let mut others =
            about.iter().filter(|one| one.id != target.id && one.standing().is_some() && one.strikes.is_none());
        let (founding, speaking): (Vec<&Entry>, Vec<&Entry>) =
            others.by_ref().partition(|one| one.founded().any(|other| other.id == founded.id));
        if let (true, [first, ..]) = (founding.is_empty(), &speaking[..]) {
            let what = first.payload().map_or("record", |payload| payload.kind().title);
            let (name, on) = (founded.kind.name(), first.occurred_on);
            return Err(Error::Conflict(match speaking.len() {
                1 => format!(
                    "another record is about this {name}: \u{201c}{what}\u{201d} of {on}. Strike it first, or record the \
                     {name} again"
                ),
                many => format!(
                    "{many} other records are about this {name}, the first of them \u{201c}{what}\u{201d} of {on}. Strike \
                     them first, or record the {name} again"
                ),
            }));
        }
    }
    Ok(())
}
