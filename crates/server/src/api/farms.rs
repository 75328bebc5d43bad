//! Farms over HTTP: founding another, correcting one, closing it and opening it again.

use std::time::Duration;

use actix_files::NamedFile;
use actix_web::{
    get,
    http::header::{ContentDisposition, DispositionParam, DispositionType},
    post, put, web,
};
use agronomy::{
    refusal::Checks,
    units::{Currency, Length, Unit},
};
use jiff::civil::Date;
use ledger::farm::{self, Farm};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    api::account::{Me, check_place, me_of},
    app::State,
    archive,
    body::{Body, Shown},
    clock,
    problem::{Problem, ProblemDocument},
    sign_in::{Member, SignedIn},
};

/// What a farm is called and where it lies.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = FarmPlace)]
pub struct Place {
    /// Its name.
    pub name: String,
    /// Degrees north; negative in the south.
    pub latitude: f64,
    /// Degrees east; negative in the west.
    pub longitude: f64,
    /// Above the sea.
    pub elevation: Length,
    /// IANA time zone; that of the town nearest to it when absent.
    #[serde(default)]
    pub time_zone: Option<String>,
    /// What is paid in, by its code of ISO 4217; unchanged, and dollars at first, when absent.
    #[serde(default)]
    #[schema(value_type = Option<String>)]
    pub currency: Option<Currency>,
    /// The month that its year begins with, 1 to 12; by the hemisphere when absent.
    #[serde(default)]
    pub year_begins: Option<i32>,
}

impl Place {
    fn check(&self) -> Result<(), Problem> {
        let mut checks = Checks::new();
        checks.require(!self.name.trim().is_empty() && self.name.len() <= 200, "/name", "enter a farm name");
        let zone = self.time_zone.as_deref();
        let months = self.year_begins.is_none_or(|month| (1..=12).contains(&month));
        checks.require(months, "/year_begins", "choose a month, 1–12");
        check_place(&mut checks, (self.latitude, self.longitude), self.elevation, zone);
        Ok(checks.done().map_err(|refused| refused.under("/facts"))?)
    }

    /// A farm that lies there.
    pub(crate) fn farm(&self) -> Farm {
        let at = (self.latitude, self.longitude);
        let zone = self.time_zone.as_deref().unwrap_or_else(|| clock::zone_of(at.0, at.1));
        let farm = Farm::new(&self.name, at, self.elevation.to(Unit::M), zone);
        let currency = self.currency.map_or(farm.currency.clone(), |currency| currency.code().to_owned());
        Farm { currency, year_begins: self.year_begins, ..farm }
    }
}

/// A farm as it stands.
#[derive(Debug, Serialize, ToSchema)]
pub struct FarmView {
    /// Id.
    pub id: Uuid,
    /// Its name.
    pub name: String,
    /// Degrees north; negative in the south.
    pub latitude: f64,
    /// Degrees east; negative in the west.
    pub longitude: f64,
    /// Above the sea.
    pub elevation: Length,
    /// IANA time zone.
    pub time_zone: String,
    /// What is paid in, by its code of ISO 4217.
    pub currency: String,
    /// The month that its year begins with, where that is not left to the hemisphere.
    pub year_begins: Option<i32>,
    /// Counts corrections: handed back with the next.
    pub version: i32,
    /// Since when it is closed.
    #[schema(value_type = Option<String>, format = Date)]
    pub closed_on: Option<Date>,
}

impl FarmView {
    fn of(farm: Farm) -> Self {
        let elevation = Length::new(farm.elevation_m, Unit::M);
        let Farm { id, name, latitude, longitude, time_zone, version, closed_on, currency, year_begins, .. } = farm;
        Self { id, name, latitude, longitude, elevation, time_zone, version, closed_on, currency, year_begins }
    }
}

/// A farm as it stands.
#[utoipa::path(params(("farm" = Uuid, Path)), responses((status = 200, body = FarmView)))]
#[get("/farms/{farm}")]
pub async fn read_one(member: Member) -> Shown<FarmView> {
    Shown(member.reader(), FarmView::of(member.membership.farm))
}

/// One more farm.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewFarm {
    /// Its id, made by the client.
    pub id: Uuid,
    /// Id of the entry, made by the client.
    pub entry: Uuid,
    /// What it is called and where it lies.
    pub facts: Place,
}

/// Found one more farm, as its manager.
#[utoipa::path(request_body = NewFarm, responses(
    (status = 200, body = Me),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms")]
pub async fn add(
    state: web::Data<State>,
    SignedIn(person): SignedIn,
    Body(new): Body<NewFarm>,
) -> Result<Shown<Me>, Problem> {
    new.facts.check()?;
    let farm = Farm { id: new.id, ..new.facts.farm() };
    let entry = (new.entry, clock::today(&farm));
    farm::found_another(&mut *state.pool.get().await?, person.id, &farm, entry).await?;
    me_of(&state, person).await
}

/// A farm as it should stand.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CorrectedFarm {
    /// Id of the entry, made by the client.
    pub id: Uuid,
    /// The version that the writer saw. What somebody else corrected meanwhile is told instead of being overwritten
    /// unseen.
    pub after: i32,
    /// What it is called and where it lies.
    pub facts: Place,
}

/// Correct what is known of a farm.
#[utoipa::path(params(("farm" = Uuid, Path)), request_body = CorrectedFarm, responses(
    (status = 200, body = FarmView),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[put("/farms/{farm}")]
pub async fn correct(
    state: web::Data<State>,
    member: Member,
    Body(body): Body<CorrectedFarm>,
) -> Result<Shown<FarmView>, Problem> {
    member.decides()?;
    body.facts.check()?;
    let entry = (body.id, member.today());
    let mut connection = state.pool.get().await?;
    let mut new = body.facts.farm();
    if body.facts.currency.is_none() {
        new.currency.clone_from(&member.membership.farm.currency);
    }
    let farm = farm::correct(&mut connection, &member.membership, &new, body.after, entry).await?;
    Ok(Shown(member.reader(), FarmView::of(farm)))
}

/// Whether a farm is run.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Closing {
    /// Id of the entry, made by the client.
    pub id: Uuid,
    /// Closed, or open again.
    pub closed: bool,
}

/// Close a farm: it is read from then on, and nothing is written; or open it again.
#[utoipa::path(params(("farm" = Uuid, Path)), request_body = Closing, responses((status = 200, body = FarmView)))]
#[post("/farms/{farm}/close")]
pub async fn close(
    state: web::Data<State>,
    member: Member,
    Body(body): Body<Closing>,
) -> Result<Shown<FarmView>, Problem> {
    member.manages()?;
    let entry = (body.id, member.today());
    let farm = farm::close(&mut *state.pool.get().await?, &member.membership, body.closed, entry).await?;
    Ok(Shown(member.reader(), FarmView::of(farm)))
}

/// The longest that somebody waits until the archive of another is made.
const WAIT: Duration = Duration::from_secs(30);

/// All of a farm as one archive of open files, signed by this server.
#[utoipa::path(params(("farm" = Uuid, Path)), responses((status = 200, body = String, content_type = "application/zip")))]
#[get("/farms/{farm}/archive.zip")]
pub async fn take_along(state: web::Data<State>, member: Member) -> Result<NamedFile, Problem> {
    member.manages()?;
    let internal = |error: anyhow::Error| Problem::Internal(format!("{error:#}"));
    let turn = tokio::time::timeout(WAIT, state.packing.acquire()).await.map_err(|_| Problem::Busy)?;
    let mut connection = state.pool.get().await?;
    let fields = ledger::field::all(&mut connection, &member.membership).await?;
    // Pages are taken while those before are packed; the file goes through the disk.
    let (pages, taken) = tokio::sync::mpsc::channel(2);
    let file = tempfile::tempfile().map_err(|error| internal(error.into()))?;
    let seal = state.seal.clone();
    let packing = web::block(move || archive::pack(taken, &fields, &seal, file));
    let (read, packed) = tokio::join!(ledger::archive::take(&mut connection, &member.membership, pages), packing);
    read?;
    drop((connection, turn));
    let file = packed.map_err(|error| internal(error.into()))?.map_err(internal)?;
    let named = NamedFile::from_file(file, "farm.zip").map_err(|error| internal(error.into()))?;
    let attachment = ContentDisposition {
        disposition: DispositionType::Attachment,
        parameters: vec![DispositionParam::Filename("farm.zip".to_owned())],
    };
    Ok(named.set_content_disposition(attachment).use_etag(false).use_last_modified(false))
}

/// By which key this server signs archives.
#[derive(Debug, Serialize, ToSchema)]
pub struct SigningKey {
    /// The public key (Ed25519), in hexadecimal.
    pub key: String,
}

/// By which key are archives of this server signed? Whoever reads one elsewhere compares it.
#[utoipa::path(responses((status = 200, body = SigningKey)))]
#[get("/signing-key")]
pub async fn signing_key(state: web::Data<State>, _: SignedIn) -> web::Json<SigningKey> {
    web::Json(SigningKey { key: state.seal.key() })
}
