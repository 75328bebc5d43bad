//! The ledger over HTTP.

use std::collections::BTreeSet;

use actix_web::{get, post, web};
use agronomy::{refusal::Refused, said, said::Said};
use jiff::{Timestamp, civil::Date};
use ledger::{
    Connection, PAGE, chain,
    entry::{self, Beside, Entry, Filter, NewEntry, Via},
    farm::{self, Membership, Role},
    one_by_one, photo, stand, together,
};
use records::{About, By, Closes, Content, Part, Payload, Subject, SubjectKind, book::Operation, kind};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::{
    api::{doubts, stands::check_lots},
    app::State,
    body::{Body, Shown},
    problem::{Problem, ProblemDocument},
    sign_in::Member,
};

/// An entry, as read.
#[derive(Debug, Serialize, ToSchema)]
pub struct EntryView {
    /// Id.
    pub id: Uuid,
    /// What it is about; nothing for the farm.
    pub about: Vec<About>,
    /// The day it happened.
    #[schema(value_type = String, format = Date)]
    pub occurred_on: Date,
    /// When it was written down.
    #[schema(value_type = String, format = DateTime)]
    pub recorded_at: Timestamp,
    /// Id of who wrote it.
    pub recorded_by: Uuid,
    /// Name of who wrote it.
    pub recorded_by_name: String,
    /// How it came in.
    pub via: Via,
    /// Word of its kind.
    pub kind: String,
    /// Its kind, for people.
    pub title: String,
    /// What it says, in one line.
    #[schema(value_type = String)]
    pub says: Said,
    /// What it says; absent where this build can't read it.
    pub payload: Option<Payload>,
    /// The place in a stand's years that it closes.
    pub closes: Option<Closes>,
    /// The entry it strikes.
    pub strikes: Option<Uuid>,
    /// The entry that strikes it.
    pub struck_by: Option<Uuid>,
}

impl EntryView {
    /// With the writer's name, from a list of names.
    pub fn of(entry: Entry, names: &[(Uuid, String)]) -> Self {
        let name = names.iter().find(|(id, _)| *id == entry.recorded_by).map(|(_, name)| name.clone());
        let (kind, title, says, payload) = match entry.content {
            Content::Read(payload) => {
                let kind = payload.kind();
                (kind.word.to_owned(), kind.title.to_owned(), payload.says(), Some(payload))
            }
            Content::Unreadable { kind: word, why } => {
                let title = kind(&word).map_or_else(|| word.clone(), |kind| kind.title.to_owned());
                (word, title, format!("This entry cannot be shown: {why}").into(), None)
            }
        };
        Self {
            recorded_by_name: name.unwrap_or_else(|| "a former member".to_owned()),
            id: entry.id,
            about: entry.about,
            occurred_on: entry.occurred_on,
            recorded_at: entry.recorded_at,
            recorded_by: entry.recorded_by,
            via: entry.via,
            kind,
            title,
            says,
            payload,
            closes: entry.closes,
            strikes: entry.strikes,
            struck_by: entry.struck_by,
        }
    }
}

/// The entry that an id stands for already, when it is of the kind asked about: what was sent once
/// and is sent again.
///
/// # Errors
/// [`Problem::Conflict`] when the id stands for something else.
pub async fn kept(
    connection: &mut Connection,
    member: &Member,
    id: Uuid,
    same: impl Fn(&Entry) -> bool,
) -> Result<Option<EntryView>, Problem> {
    let Some(kept) = entry::find(connection, &member.membership, id).await? else { return Ok(None) };
    if !same(&kept) {
        return Err(Problem::Conflict("this ID is already used by another entry".to_owned()));
    }
    let names = farm::member_names(connection, &member.membership).await?;
    Ok(Some(EntryView::of(kept, &names)))
}

/// Write an entry of the signed-in person.
///
/// # Errors
/// As [`entry::write`].
pub async fn write_own(
    connection: &mut Connection,
    member: &Member,
    entry: &NewEntry,
) -> Result<Shown<EntryView>, Problem> {
    let kept = entry::write(connection, &member.membership, entry, member.today()).await?;
    seen(connection, member, kept).await
}

/// Which entries to list.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
#[serde(deny_unknown_fields)]
pub struct EntryQuery {
    /// About this field.
    pub field: Option<Uuid>,
    /// About this stand.
    pub stand: Option<Uuid>,
    /// About this lot.
    pub lot: Option<Uuid>,
    /// Of this kind.
    pub kind: Option<String>,
    /// The page behind this entry; the newest where nothing of the kind is told.
    pub older_than: Option<Uuid>,
    /// The page before this entry.
    pub newer_than: Option<Uuid>,
    /// The last page, with the oldest.
    pub oldest: Option<bool>,
}

/// A page of entries.
#[derive(Debug, Serialize, ToSchema)]
pub struct EntryPage {
    /// Newest day first.
    pub entries: Vec<EntryView>,
    /// How many in all.
    pub total: i64,
    /// How many a page holds.
    pub page_size: i64,
    /// Where the farm's whole ledger has come to.
    pub head: LedgerHead,
}

/// Where a ledger has come to: copied onto paper it proves, years later, that nothing before it was altered.
#[derive(Debug, Serialize, ToSchema)]
pub struct LedgerHead {
    /// Entries written, strikes among them.
    pub position: i64,
    /// Digest of the last and of all before it, in hexadecimal; empty before the first.
    pub digest: String,
}

/// Entries of a farm.
#[utoipa::path(params(("farm" = Uuid, Path), EntryQuery),
    responses((status = 200, body = EntryPage)))]
#[get("/farms/{farm}/entries")]
pub async fn list(
    state: web::Data<State>,
    member: Member,
    query: web::Query<EntryQuery>,
) -> Result<Shown<EntryPage>, Problem> {
    let mut connection = state.pool.get().await?;
    let query = query.into_inner();
    let from = match (query.older_than, query.newer_than, query.oldest) {
        (None, None, None | Some(false)) => Beside::Newest,
        (Some(id), None, None) => Beside::OlderThan(id),
        (None, Some(id), None) => Beside::NewerThan(id),
        (None, None, Some(true)) => Beside::Oldest,
        _ => return Err(Refused::one("/oldest", "one of older_than, newer_than and oldest at a time").into()),
    };
    let about = [query.field.map(Subject::field), query.stand.map(Subject::stand), query.lot.map(Subject::seed_lot)];
    let filter = Filter { about: about.into_iter().flatten().collect(), kind: query.kind, from };
    let (entries, total) = entry::list(&mut connection, &member.membership, &filter).await?;
    let names = farm::member_names(&mut connection, &member.membership).await?;
    let chain::Head { position, digest } = chain::head(&mut connection, &member.membership).await?;
    let entries = entries.into_iter().map(|entry| EntryView::of(entry, &names)).collect();
    let head = LedgerHead { position, digest };
    Ok(Shown(member.reader(), EntryPage { entries, total, page_size: PAGE, head }))
}

/// One entry of a farm.
#[utoipa::path(params(("farm" = Uuid, Path), ("entry" = Uuid, Path)), responses(
    (status = 200, body = EntryView), (status = 404, body = ProblemDocument, content_type = "application/problem+json")))]
#[get("/farms/{farm}/entries/{entry}")]
pub async fn read_one(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
) -> Result<Shown<EntryView>, Problem> {
    let mut connection = state.pool.get().await?;
    let entry = entry::find(&mut connection, &member.membership, path.1).await?.ok_or(Problem::NotFound)?;
    let names = farm::member_names(&mut connection, &member.membership).await?;
    Ok(Shown(member.reader(), EntryView::of(entry, &names)))
}

/// An entry to write.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewEntryBody {
    /// Made by the client: the same submission is the same entry.
    pub id: Uuid,
    /// What it is about; nothing for the farm. A stand brings its field along.
    #[serde(default)]
    pub about: Vec<About>,
    /// The day it happened.
    #[schema(value_type = String, format = Date)]
    pub occurred_on: Date,
    /// What it says.
    #[schema(value_type = Payload)]
    pub payload: Value,
    /// The place in a stand's years that it closes: carried along from the task it was opened for. It is about the stand's
    /// own field.
    #[serde(default)]
    pub closes: Option<Closes>,
    /// Of a kind of which the last one counts: the entry that the writer saw and means to replace. Another
    /// one written meanwhile is told instead of being replaced unseen.
    #[serde(default)]
    pub after: Option<Uuid>,
    /// What is far from usual is meant.
    #[serde(default)]
    pub confirmed: bool,
}

/// Write an entry in ink.
#[utoipa::path(params(("farm" = Uuid, Path)), request_body = NewEntryBody, responses(
    (status = 200, body = EntryView),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/entries")]
pub async fn write(
    state: web::Data<State>,
    member: Member,
    Body(new): Body<NewEntryBody>,
) -> Result<Shown<EntryView>, Problem> {
    member.records()?;
    let mut new = new;
    // As forms wrote it that have waited on a device since before entries had it.
    let lifted = Closes::lifted(&mut new.payload, &new.about);
    let closes = new.closes.or(lifted);
    let payload = Payload::sent(new.payload).map_err(|refused| refused.under("/payload"))?;
    match payload.kind().by {
        By::Itself(why) => return Err(Problem::Conflict(why.to_owned())),
        By::Manager => member.decides()?,
        By::Crew => member.records()?,
    }
    let mut connection = state.pool.get().await?;
    if entry::find(&mut connection, &member.membership, new.id).await?.is_none() {
        if let Payload::ChoicesRecord(decided) = &payload {
            let under = |refused: Refused| refused.under("/payload/choices");
            let choices = decided.choices.ready();
            let unusual = records::check(&choices, member.today()).map_err(under)?;
            if !unusual.is_empty() && !new.confirmed {
                return Err(Problem::Unusual(under(Refused(unusual))));
            }
            check_lots(&choices, &state.shelf.lots(&mut connection, &member.membership).await?).map_err(under)?;
        }
        if let Payload::Photo(taken) = &payload
            && photo::digest(&mut connection, &member.membership, taken.photo).await?.as_ref() != Some(&taken.sha256)
        {
            return Err(Refused::one("/payload/photo", "photo missing; send the photo before its entry").into());
        }
    }
    let asked = (!new.confirmed).then(|| (new.about.clone(), payload.clone()));
    let entry = NewEntry {
        closes,
        after: new.after,
        about: new.about,
        ..NewEntry::of(new.id, [], new.occurred_on, Via::Web, payload)
    };
    let Some((about, payload)) = asked else { return write_own(&mut connection, &member, &entry).await };
    let written = together(&mut connection, async |connection| {
        for of in one_at_a_time(&about, &payload, entry.closes.as_ref()) {
            // Two people at once: the second waits, and then is asked about what the first inked.
            one_by_one(connection, &format!("ink of {of:?}")).await?;
        }
        if entry::find(connection, &member.membership, entry.id).await?.is_none() {
            if let Err(problem) = doubts::raise(connection, &member, &about, new.occurred_on, &payload).await {
                return Ok(Err(problem));
            }
            if let Some(closes) = &entry.closes
                && let Some(on) = inked_already(connection, &member.membership, closes).await?
            {
                let detail = said!("This step is already recorded for {}. Record it again?", on);
                return Ok(Err(Problem::Unusual(Refused::one("/closes/occurrence", detail))));
            }
        }
        entry::write(connection, &member.membership, &entry, member.today()).await.map(Ok)
    });
    let kept = written.await??;
    seen(&mut connection, &member, kept).await
}

/// What must be inked one after the other: a question about it is answered by what stands in the ledger, and two who ink
/// at once would both find nothing there.
fn one_at_a_time(about: &[About], payload: &Payload, closes: Option<&Closes>) -> BTreeSet<Subject> {
    let kind = match payload {
        Payload::SeedSown(_) => Some(SubjectKind::SeedLot),
        Payload::ForageSplit(_) => Some(SubjectKind::ForageLot),
        Payload::Step(_) | Payload::PlantsSet(_) | Payload::StandCount(_) => Some(SubjectKind::Stand),
        _ => None,
    };
    let asked_about =
        about.iter().find(|one| Some(one.kind) == kind && one.part != Some(Part::To)).map(|one| one.subject());
    asked_about.into_iter().chain(closes.map(|closes| Subject::stand(closes.stand))).collect()
}

/// An entry that was written, or was there already, by whoever wrote it.
async fn seen(connection: &mut Connection, member: &Member, kept: Entry) -> Result<Shown<EntryView>, Problem> {
    let names = match kept.recorded_by == member.person.id {
        true => vec![(member.person.id, member.person.name.clone())],
        false => farm::member_names(connection, &member.membership).await?,
    };
    Ok(Shown(member.reader(), EntryView::of(kept, &names)))
}

/// The day for which a time of a step was inked already: by another person, or on another device. It may be meant (a
/// sowing takes two days), so it is asked about.
async fn inked_already(
    connection: &mut Connection,
    member: &Membership,
    closes: &Closes,
) -> Result<Option<Date>, ledger::Error> {
    let field = stand::one(connection, member, closes.stand).await?.field_id;
    let books = entry::books(connection, member, Some(Subject::field(field))).await?;
    let ground = books.field(field);
    let on_stand = books.stand(closes.stand).map_or(&[][..], |book| &book.operations);
    let same = |one: &&Operation| !one.struck && one.closes.as_ref().is_some_and(|inked| inked.is_same_time(closes));
    Ok(ground.operations.iter().chain(on_stand).rfind(same).map(|before| before.on))
}

/// Why an entry is struck.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StrikeBody {
    /// Id of the strike, made by the client.
    pub id: Uuid,
    /// What was wrong.
    pub reason: String,
}

/// Strike an entry. A manager strikes any, a crew member only own ones.
#[utoipa::path(params(("farm" = Uuid, Path), ("entry" = Uuid, Path)),
    request_body = StrikeBody, responses(
    (status = 200, body = EntryView),
    (status = 404, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/entries/{entry}/strike")]
pub async fn strike(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
    Body(strike): Body<StrikeBody>,
) -> Result<Shown<EntryView>, Problem> {
    member.records()?;
    let mut connection = state.pool.get().await?;
    let struck = entry::find(&mut connection, &member.membership, path.1).await?.ok_or(Problem::NotFound)?;
    if member.membership.role == Role::Crew && struck.recorded_by != member.person.id {
        return Err(Problem::Forbidden("crew can strike only their own entries; ask a manager".to_owned()));
    }
    let kept =
        entry::strike(&mut connection, &member.membership, strike.id, path.1, &strike.reason, member.today()).await?;
    seen(&mut connection, &member, kept).await
}
