//! Seed lots.

use actix_web::{get, post, web};
use agronomy::{
    seed::{DormantSeed, Tag, pls_fraction},
    units::{Fraction, Mass, Measure},
};
use jiff::civil::Date;
use ledger::{
    Connection,
    entry::{self, Entry, NewEntry, Via},
    lot,
};
use records::{
    Payload, Subject,
    book::LotBook,
    kinds::{lot_report::LotReport, lot_tag::LotTag},
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    api::entries::{EntryView, kept, write_own},
    app::State,
    body::{Body, Shown},
    laboratory,
    problem::{Problem, ProblemDocument},
    sign_in::Member,
};

/// Months after which a germination test should be repeated (common practice: 9 to 12).
const OLD_TEST_MONTHS: i32 = 9;

/// A seed lot with what is known of it.
#[derive(Debug, Serialize, ToSchema)]
pub struct LotView {
    /// Id.
    pub id: Uuid,
    /// Crop id.
    pub crop: String,
    /// Its name.
    pub label: String,
    /// The tag as last read or tested; absent when every tag is struck.
    pub tag: Option<Tag>,
    /// How much of it there is, less what was sown of it.
    pub on_hand: Option<Mass>,
    /// Sown of it so far.
    pub sown: Mass,
    /// Pure live seed with hard or dormant seed counted.
    pub pls_counted: Option<Fraction>,
    /// Pure live seed with hard or dormant seed left out.
    pub pls_left_out: Option<Fraction>,
    /// Months since the germination test.
    pub months_since_test: Option<i32>,
    /// The test is old: test again before relying on it.
    pub retest: bool,
    /// Laboratory reports read into it.
    pub reports: usize,
}

fn view(lot: lot::Lot, book: Option<&LotBook>, today: Date) -> LotView {
    let tag = book.and_then(|book| book.tag.clone());
    let on_hand = book.filter(|book| book.tag.is_some()).and_then(LotBook::left);
    let sown = book.map_or(0.0, |book| book.sown.iter().map(|sown| sown.what.mass.base()).sum());
    let pls = |side| tag.as_ref().and_then(|tag| pls_fraction(tag, side).ok()).map(|answer| answer.value.0);
    let months = tag.as_ref().and_then(|tag| tag.months_since_test(today));
    LotView {
        pls_counted: pls(DormantSeed::Counts),
        pls_left_out: pls(DormantSeed::LeftOut),
        months_since_test: months,
        retest: months.is_none_or(|months| months >= OLD_TEST_MONTHS),
        reports: book.map_or(0, |book| book.reports),
        id: lot.id,
        crop: lot.crop,
        label: lot.label,
        tag,
        on_hand,
        sown: Mass::from_base(sown),
    }
}

async fn view_one(connection: &mut Connection, member: &Member, id: Uuid) -> Result<LotView, Problem> {
    let lot = lot::one(connection, &member.membership, id).await?;
    let books = entry::books(connection, &member.membership, Some(Subject::seed_lot(id))).await?;
    Ok(view(lot, books.lot(id), member.today()))
}

/// Seed lots of a farm.
#[derive(Debug, Serialize, ToSchema)]
pub struct Lots {
    /// By crop and name.
    pub lots: Vec<LotView>,
}

/// Seed lots of a farm.
#[utoipa::path(params(("farm" = Uuid, Path)), responses((status = 200, body = Lots)))]
#[get("/farms/{farm}/lots")]
pub async fn list(state: web::Data<State>, member: Member) -> Result<Shown<Lots>, Problem> {
    let mut connection = state.pool.get().await?;
    let lots = lot::all(&mut connection, &member.membership).await?;
    let shelved = state.shelf.books(&mut connection, &member.membership).await?;
    let of = |lot: lot::Lot| {
        let book = shelved.books.lot(lot.id);
        view(lot, book, member.today())
    };
    let lots = lots.into_iter().map(of).collect();
    Ok(Shown(member.reader(), Lots { lots }))
}

/// A lot to add, with its tag.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewLot {
    /// Made by the client.
    pub id: Uuid,
    /// Id of the entry that keeps the tag, made by the client.
    pub entry: Uuid,
    /// Crop of the library.
    pub crop: String,
    /// The number on the tag.
    pub label: String,
    /// What the tag says.
    pub tag: Tag,
    /// How much of it there is; as much as is wanted when absent.
    #[serde(default)]
    pub on_hand: Option<Mass>,
}

/// Add a lot and ink its tag; sent again, it is the same lot.
#[utoipa::path(params(("farm" = Uuid, Path)), request_body = NewLot, responses(
    (status = 200, body = LotView),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/lots")]
pub async fn add(state: web::Data<State>, member: Member, Body(new): Body<NewLot>) -> Result<Shown<LotView>, Problem> {
    member.decides()?;
    let mut connection = state.pool.get().await?;
    // The tag first: a lot whose tag can't be must not be half written.
    new.tag.check().map_err(|refused| refused.under("/tag"))?;
    ledger::together(&mut connection, async |connection| {
        lot::add(connection, &member.membership, new.id, &new.crop, &new.label).await?;
        let payload = LotTag::of(new.tag.clone(), new.on_hand).into();
        let entry = NewEntry::of(new.entry, [Subject::seed_lot(new.id)], member.today(), Via::Web, payload).today();
        entry::write(connection, &member.membership, &entry, member.today()).await.map(drop)
    })
    .await?;
    Ok(Shown(member.reader(), view_one(&mut connection, &member, new.id).await?))
}

/// A sample to send.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewSample {
    /// Number of the sample and id of the entry that keeps the report, made by the client.
    pub id: Uuid,
}

/// Send a sample of a lot to the seed laboratory and ink its report.
#[utoipa::path(params(("farm" = Uuid, Path), ("lot" = Uuid, Path)),
    request_body = NewSample, responses(
    (status = 200, body = EntryView),
    (status = 502, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/lots/{lot}/sample")]
pub async fn sample(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
    Body(new): Body<NewSample>,
) -> Result<Shown<EntryView>, Problem> {
    member.decides()?;
    if member.membership.farm.practice_day.is_none() {
        return Err(Problem::Outside("no seed lab is set up for this farm".to_owned()));
    }
    let mut connection = state.pool.get().await?;
    let lot = lot::one(&mut connection, &member.membership, path.1).await?;
    // The same sample sent again is not tested again: its report stands.
    let same = |kept: &Entry| kept.lot() == Some(lot.id) && matches!(kept.payload(), Some(Payload::LotReport(_)));
    if let Some(kept) = kept(&mut connection, &member, new.id, same).await? {
        return Ok(Shown(member.reader(), kept));
    }
    let facts = state.shelf.lots(&mut connection, &member.membership).await?;
    let known = facts
        .into_iter()
        .find(|facts| facts.id == lot.id)
        .ok_or_else(|| Problem::Conflict("enter this lot’s tag before sending a sample".to_owned()))?;
    // Nothing is held while the outside is waited for.
    drop(connection);
    let report = laboratory::report(&state, new.id, &lot.crop, &lot.label, &known.tag, member.today()).await?;
    let payload = LotReport::of(report).into();
    let entry = NewEntry::of(new.id, [Subject::seed_lot(lot.id)], member.today(), Via::StandIn, payload).today();
    write_own(&mut *state.pool.get().await?, &member, &entry).await
}
