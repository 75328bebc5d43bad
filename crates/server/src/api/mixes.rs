//! Mixes to begin with: those commonly sown, and the farm's own.

use actix_web::{get, web};
use agronomy::mix::{ReadyMix, ready_mixes};
use jiff::civil::Date;
use records::kinds::own_mix::OwnMix;
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{app::State, body::Shown, problem::Problem, sign_in::Member};

/// A version of an own mix.
#[derive(Debug, Serialize, ToSchema)]
pub struct MixVersion {
    /// The entry that tells it.
    pub entry: Uuid,
    /// The day it was kept.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// As it was kept.
    pub facts: OwnMix,
}

/// A mix of the farm's own.
#[derive(Debug, Serialize, ToSchema)]
pub struct OwnMixView {
    /// Id.
    pub id: Uuid,
    /// As it is.
    pub now: MixVersion,
    /// As it was, newest first.
    pub before: Vec<MixVersion>,
}

/// Mixes to begin with.
#[derive(Debug, Serialize, ToSchema)]
pub struct Mixes {
    /// Commonly sown.
    pub ready: Vec<ReadyMix>,
    /// The farm's own, by name; those sown no more last.
    pub own: Vec<OwnMixView>,
}

/// Mixes to begin with: commonly sown ones, and the farm's own with their versions.
#[utoipa::path(params(("farm" = Uuid, Path)), responses((status = 200, body = Mixes)))]
#[get("/farms/{farm}/mixes")]
pub async fn mixes(state: web::Data<State>, member: Member) -> Result<Shown<Mixes>, Problem> {
    let shelved = state.shelf.books(&mut *state.pool.get().await?, &member.membership).await?;
    let told = shelved.books.mixes().filter_map(|(id, book)| {
        let version = |kept: &records::book::Dated<OwnMix>| MixVersion {
            entry: kept.entry,
            on: kept.on,
            facts: kept.what.clone(),
        };
        let (now, before) = book.versions.split_last()?;
        Some(OwnMixView { id, now: version(now), before: before.iter().rev().map(version).collect() })
    });
    let mut own: Vec<OwnMixView> = told.collect();
    own.sort_by(|a, b| {
        let key = |one: &OwnMixView| (one.now.facts.gone, one.now.facts.name.to_lowercase(), one.id);
        key(a).cmp(&key(b))
    });
    Ok(Shown(member.reader(), Mixes { ready: ready_mixes().to_vec(), own }))
}
