//! How old the last backup is, over HTTP.

use std::path::Path;

use actix_web::{get, web};
use jiff::Timestamp;
use ledger::farm::{self, Role};
use serde::Serialize;
use utoipa::ToSchema;

use crate::{app::State, clock, problem::Problem, sign_in::SignedIn};

/// How backups stand.
#[derive(Debug, Serialize, ToSchema)]
pub struct Backups {
    /// A folder is named into which they are written.
    pub set_up: bool,
    /// When the last one was.
    #[schema(value_type = Option<String>, format = DateTime)]
    pub last: Option<Timestamp>,
    /// Bytes of it.
    pub size: Option<u64>,
    /// How many are kept.
    pub kept: usize,
    /// The last one is more than two days old, or there is none.
    pub late: bool,
}

/// Backups are of the day: one that is older than this is late, hours.
const LATE: i64 = 48;

/// The last backup in a folder: by the moment at which it was written.
pub fn in_folder(folder: &Path, now: Timestamp) -> std::io::Result<Backups> {
    let mut found: Vec<(Timestamp, u64)> = vec![];
    for file in std::fs::read_dir(folder)? {
        let file = file?;
        let known = file.path().extension().is_some_and(|extension| extension == "ink");
        let about = file.metadata()?;
        if let (true, Ok(moment)) = (known, Timestamp::try_from(about.modified()?)) {
            found.push((moment, about.len()));
        }
    }
    let last = found.iter().max().copied();
    let late = last.is_none_or(|(moment, _)| now.duration_since(moment).as_hours() >= LATE);
    let (moment, size) = last.unzip();
    Ok(Backups { set_up: true, last: moment, size, kept: found.len(), late })
}

/// How old is the last backup? Told to those who manage a farm here.
#[utoipa::path(responses((status = 200, body = Backups)))]
#[get("/backups")]
pub async fn backups(state: web::Data<State>, SignedIn(person): SignedIn) -> Result<web::Json<Backups>, Problem> {
    let mine = farm::memberships_of(&mut *state.pool.get().await?, person.id).await?;
    if !mine.iter().any(|member| member.role == Role::Manager) {
        return Err(Problem::Forbidden("only managers can see backups".to_owned()));
    }
    let Some(folder) = state.backups.clone() else {
        return Ok(web::Json(Backups { set_up: false, last: None, size: None, kept: 0, late: true }));
    };
    let looked = web::block(move || in_folder(&folder, clock::now())).await;
    let looked = looked.map_err(|error| Problem::Internal(error.to_string()))?;
    Ok(web::Json(looked.map_err(|error| Problem::Internal(format!("backups: {error}")))?))
}
