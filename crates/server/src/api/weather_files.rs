//! Weather files over HTTP: read in, listed, and the record written out.

use actix_web::{HttpResponse, get, post, web};
use agronomy::{
    refusal::Refused,
    weather::csv::{FileMapping, Finding, read_daily, write_daily},
};
use jiff::{Timestamp, civil::Date};
use ledger::{
    farm, weather,
    weather::{Differing, Handed},
};
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    app::State,
    body::{FileBody, Shown},
    problem::{Problem, ProblemDocument},
    sign_in::Member,
};

/// A weather file to read in.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct WeatherFileBody {
    /// Made by the client: the same import is the same.
    pub id: Uuid,
    /// Its name.
    pub file_name: String,
    /// The file.
    pub text: String,
    /// How to read it.
    #[serde(default)]
    pub mapping: FileMapping,
    /// Only look: write nothing.
    #[serde(default)]
    pub dry_run: bool,
    /// Days that are here with other values are replaced; kept otherwise.
    #[serde(default)]
    pub replace: bool,
}

/// What a file came to.
#[derive(Debug, Serialize, ToSchema)]
pub struct WeatherFileView {
    /// Days in it.
    pub days: usize,
    /// The first.
    #[schema(value_type = Option<String>, format = Date)]
    pub from: Option<Date>,
    /// The last.
    #[schema(value_type = Option<String>, format = Date)]
    pub to: Option<Date>,
    /// What was found, line by line; the first of many.
    pub findings: Vec<Finding>,
    /// How much in all.
    pub findings_in_all: usize,
    /// Something has to be mended or confirmed before it is taken.
    pub stopped: bool,
    /// Days that are not here yet.
    pub new_days: usize,
    /// Days that are here with other values.
    pub different_days: usize,
    /// It was written.
    pub written: bool,
}

/// Read a weather file in, all of it or nothing.
#[utoipa::path(params(("farm" = Uuid, Path)), request_body = WeatherFileBody, responses(
    (status = 200, body = WeatherFileView),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 413, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/weather/files")]
pub async fn read_in(
    state: web::Data<State>,
    member: Member,
    FileBody(body): FileBody<WeatherFileBody>,
) -> Result<Shown<WeatherFileView>, Problem> {
    member.decides()?;
    let length = body.file_name.trim().chars().count();
    if !(1..=200).contains(&length) {
        return Err(Refused::one("/file_name", "give the file a name of at most 200 letters").into());
    }
    if weather::station(&mut *state.pool.get().await?, &member.membership).await?.is_none() {
        return Err(Problem::Conflict("set up the station first".to_owned()));
    }
    let digest = digest(&body);
    let (text, mapping, today) = (body.text, body.mapping, member.today());
    let read = state.work.run(member.farm(), move || read_daily(&text, &mapping, Some(today))).await??;
    let stopped = read.findings.iter().any(Finding::stops) || read.days.is_empty();
    let write = !stopped && !body.dry_run;
    let loaded = if write {
        let file = Handed {
            id: body.id,
            file_name: body.file_name.trim(),
            digest,
            findings: &read.findings,
            findings_in_all: read.findings_in_all,
        };
        weather::read_in(&state.pool, &member.membership, &read.days, body.replace, &file).await?
    } else {
        weather::load_days(&state.pool, &member.membership, &read.days, Differing::Look).await?
    };
    let view = WeatherFileView {
        days: read.days.len(),
        from: read.days.first().map(|(date, _)| *date),
        to: read.days.last().map(|(date, _)| *date),
        findings: read.findings,
        findings_in_all: read.findings_in_all,
        stopped,
        new_days: loaded.added,
        different_days: loaded.different,
        written: write,
    };
    Ok(Shown(member.reader(), view))
}

/// Of all that says what is read and how.
fn digest(body: &WeatherFileBody) -> [u8; 32] {
    let said = serde_json::to_vec(&(body.file_name.trim(), &body.mapping, body.replace)).unwrap_or_default();
    Sha256::new().chain_update(said).chain_update(&body.text).finalize().into()
}

/// An import, as listed.
#[derive(Debug, Serialize, ToSchema)]
pub struct WeatherImportView {
    /// Id.
    pub id: Uuid,
    /// When.
    #[schema(value_type = String, format = DateTime)]
    pub imported_at: Timestamp,
    /// By whom.
    pub by: String,
    /// The file.
    pub file_name: String,
    /// Days that were not there.
    pub added: i32,
    /// Days that were replaced.
    pub replaced: i32,
    /// What was found.
    pub findings: Vec<Finding>,
    /// How much in all.
    pub findings_in_all: i32,
}

/// Imports of a farm.
#[derive(Debug, Serialize, ToSchema)]
pub struct WeatherImports {
    /// Newest first.
    pub imports: Vec<WeatherImportView>,
}

/// The last imports of a farm.
#[utoipa::path(params(("farm" = Uuid, Path)), responses((status = 200, body = WeatherImports)))]
#[get("/farms/{farm}/weather/files")]
pub async fn files(state: web::Data<State>, member: Member) -> Result<Shown<WeatherImports>, Problem> {
    let mut connection = state.pool.get().await?;
    let names = farm::member_names(&mut connection, &member.membership).await?;
    let imports = weather::imports(&mut connection, &member.membership).await?;
    let view = |one: weather::Import| WeatherImportView {
        by: names.iter().find(|(id, _)| *id == one.imported_by).map_or_else(String::new, |(_, name)| name.clone()),
        id: one.id,
        imported_at: one.imported_at,
        file_name: one.file_name,
        added: one.added,
        replaced: one.replaced,
        findings: one.findings,
        findings_in_all: one.findings_in_all,
    };
    Ok(Shown(member.reader(), WeatherImports { imports: imports.into_iter().map(view).collect() }))
}

/// The record as a file in the documented daily form.
#[utoipa::path(params(("farm" = Uuid, Path)), responses(
    (status = 200, body = String, content_type = "text/csv"),
    (status = 404, body = ProblemDocument, content_type = "application/problem+json")))]
#[get("/farms/{farm}/weather/record.csv")]
pub async fn record(state: web::Data<State>, member: Member) -> Result<HttpResponse, Problem> {
    let heard = state.climates.hear(&mut *state.pool.get().await?, &member.membership, member.today()).await?;
    let shared = state.clone();
    let work = move || shared.climates.settle(heard).map(|weather| write_daily(&weather.years));
    let text = state.work.run(member.farm(), work).await?.ok_or(Problem::NotFound)?;
    Ok(HttpResponse::Ok()
        .content_type("text/csv; charset=utf-8")
        .insert_header(("content-disposition", "attachment; filename=\"weather.csv\""))
        .body(text))
}
