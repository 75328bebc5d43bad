//! The ledger over HTTP.

use actix_web::web;
use agronomy::refusal::Refused;
use jiff::{Timestamp, civil::Date};
use ledger::{
    Connection, PAGE,
    entry::{self, Entry, Filter, NewEntry, Payload, Via},
    farm::{self, Role},
};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::{
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
    /// Field it is about.
    pub field: Option<Uuid>,
    /// Stand it is about.
    pub stand: Option<Uuid>,
    /// Lot it is about.
    pub lot: Option<Uuid>,
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
    /// What it says.
    pub payload: Payload,
    /// The entry it strikes.
    pub strikes: Option<Uuid>,
    /// The entry that strikes it.
    pub struck_by: Option<Uuid>,
}

impl EntryView {
    /// With the writer's name, from a list of names.
    pub fn of(entry: Entry, names: &[(Uuid, String)]) -> Self {
        let name = names.iter().find(|(id, _)| *id == entry.recorded_by).map(|(_, name)| name.clone());
        Self {
            recorded_by_name: name.unwrap_or_else(|| "someone who has left".to_owned()),
            id: entry.id,
            field: entry.field,
            stand: entry.stand,
            lot: entry.lot,
            occurred_on: entry.occurred_on,
            recorded_at: entry.recorded_at,
            recorded_by: entry.recorded_by,
            via: entry.via,
            payload: entry.payload,
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
        return Err(Problem::Conflict("this id already stands for another entry".to_owned()));
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
    Ok(Shown(member.person.units, EntryView::of(kept, &[(member.person.id, member.person.name.clone())])))
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
    /// Page, from 0.
    pub page: Option<i64>,
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
}

/// Entries of a farm.
#[utoipa::path(get, path = "/api/farms/{farm}/entries", params(("farm" = Uuid, Path), EntryQuery),
    responses((status = 200, body = EntryPage)))]
pub async fn list(
    state: web::Data<State>,
    member: Member,
    query: web::Query<EntryQuery>,
) -> Result<Shown<EntryPage>, Problem> {
    let mut connection = state.pool.get().await?;
    let query = query.into_inner();
    let offset = query.page.unwrap_or(0).clamp(0, 1_000_000) * PAGE;
    let filter = Filter { field: query.field, stand: query.stand, lot: query.lot, kind: query.kind, offset };
    let (entries, total) = entry::list(&mut connection, &member.membership, &filter).await?;
    let names = farm::member_names(&mut connection, &member.membership).await?;
    let entries = entries.into_iter().map(|entry| EntryView::of(entry, &names)).collect();
    Ok(Shown(member.person.units, EntryPage { entries, total, page_size: PAGE }))
}

/// One entry of a farm.
#[utoipa::path(get, path = "/api/farms/{farm}/entries/{entry}",
    params(("farm" = Uuid, Path), ("entry" = Uuid, Path)), responses(
    (status = 200, body = EntryView), (status = 404, body = ProblemDocument, content_type = "application/problem+json")))]
pub async fn one(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
) -> Result<Shown<EntryView>, Problem> {
    let mut connection = state.pool.get().await?;
    let entry = entry::find(&mut connection, &member.membership, path.1).await?.ok_or(Problem::NotFound)?;
    let names = farm::member_names(&mut connection, &member.membership).await?;
    Ok(Shown(member.person.units, EntryView::of(entry, &names)))
}

/// An entry to write.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewEntryBody {
    /// Made by the client: the same submission is the same entry.
    pub id: Uuid,
    /// Field it is about.
    #[serde(default)]
    pub field: Option<Uuid>,
    /// Stand it is about.
    #[serde(default)]
    pub stand: Option<Uuid>,
    /// Lot it is about.
    #[serde(default)]
    pub lot: Option<Uuid>,
    /// The day it happened.
    #[schema(value_type = String, format = Date)]
    pub occurred_on: Date,
    /// What it says.
    pub payload: Payload,
}

/// Write an entry in ink.
#[utoipa::path(post, path = "/api/farms/{farm}/entries", params(("farm" = Uuid, Path)), request_body = NewEntryBody, responses(
    (status = 200, body = EntryView),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
pub async fn write(
    state: web::Data<State>,
    member: Member,
    Body(new): Body<NewEntryBody>,
) -> Result<Shown<EntryView>, Problem> {
    match &new.payload {
        Payload::Strike { .. } => {
            return Err(Problem::Conflict("an entry is struck at its own address".to_owned()));
        }
        Payload::SoilSample { .. } => {
            return Err(Problem::Conflict("a soil sample is sent at its own address".to_owned()));
        }
        Payload::Step { done } if done.step.is_ground() => {
            let detail = "this step is inked by what was found or spread: a soil test, a dressing, a bioassay";
            return Err(Refused::one("/payload/done/step", detail).into());
        }
        Payload::Step { .. }
        | Payload::Note { .. }
        | Payload::Site { .. }
        | Payload::SoilTest { .. }
        | Payload::Spray { .. }
        | Payload::PastCrop { .. }
        | Payload::Bioassay { .. }
        | Payload::Dressing { .. }
        | Payload::SoilTemperature { .. }
        | Payload::RainGauge { .. }
        | Payload::Irrigation { .. }
        | Payload::Cut { .. } => member.records()?,
        Payload::Choices { .. } | Payload::LotTag { .. } | Payload::LotReport { .. } => member.decides()?,
    }
    let entry = NewEntry {
        id: new.id,
        field: new.field,
        stand: new.stand,
        lot: new.lot,
        occurred_on: new.occurred_on,
        via: Via::Web,
        payload: new.payload,
        strikes: None,
    };
    let kept = entry::write(&mut *state.pool.get().await?, &member.membership, &entry, member.today()).await?;
    Ok(Shown(member.person.units, EntryView::of(kept, &[(member.person.id, member.person.name.clone())])))
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
#[utoipa::path(post, path = "/api/farms/{farm}/entries/{entry}/strike", params(("farm" = Uuid, Path), ("entry" = Uuid, Path)),
    request_body = StrikeBody, responses(
    (status = 200, body = EntryView),
    (status = 404, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
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
        return Err(Problem::Forbidden("the crew strikes its own entries; ask the manager for this one".to_owned()));
    }
    let kept =
        entry::strike(&mut connection, &member.membership, strike.id, path.1, &strike.reason, member.today()).await?;
    Ok(Shown(member.person.units, EntryView::of(kept, &[(member.person.id, member.person.name.clone())])))
}
