//! The crop library.

use actix_web::get;
use agronomy::{
    crop::{Crop, library},
    practice::{Practice, Regime, operations, practices, regimes},
};
use records::{By, KINDS};
use serde::Serialize;
use utoipa::ToSchema;

use crate::{body::Shown, problem::Problem, sign_in::SignedIn};

/// All crops.
#[derive(Debug, Serialize, ToSchema)]
pub struct Crops {
    /// By id.
    pub crops: Vec<Crop>,
}

/// The crop library.
#[utoipa::path(responses((status = 200, body = Crops)))]
#[get("/crops")]
pub async fn crops(SignedIn(person): SignedIn) -> Result<Shown<Crops>, Problem> {
    Ok(Shown(person.units.into(), Crops { crops: library().crops().cloned().collect() }))
}

/// A kind of record.
#[derive(Debug, Serialize, ToSchema)]
pub struct KindView {
    /// Its word.
    pub kind: String,
    /// For people.
    pub title: String,
    /// How writing one is offered.
    pub deed: String,
    /// What it must be about.
    pub needs: Vec<String>,
    /// Who may write it by hand: `crew` or `manager`; absent for what comes to be at an address of its own.
    pub by: Option<String>,
}

/// An operation, as it is drawn.
#[derive(Debug, Serialize, ToSchema)]
pub struct OperationView {
    /// Its key.
    pub key: String,
    /// What to do.
    pub title: String,
    /// The outline it is drawn by.
    pub mark: String,
    /// The kind of record that inks it.
    pub record: String,
}

/// What can be recorded and planned.
#[derive(Debug, Serialize, ToSchema)]
pub struct Shelf {
    /// Kinds of record.
    pub kinds: Vec<KindView>,
    /// Operations.
    pub operations: Vec<OperationView>,
    /// Practices, in their order.
    pub practices: Vec<Practice>,
    /// Regimes, in their order.
    pub regimes: Vec<Regime>,
}

/// Kinds of record, operations, practices and regimes.
#[utoipa::path(responses((status = 200, body = Shelf)))]
#[get("/shelf")]
pub async fn shelf(SignedIn(person): SignedIn) -> Result<Shown<Shelf>, Problem> {
    let kinds = KINDS.iter().map(|kind| KindView {
        kind: kind.word.to_owned(),
        title: kind.title.to_owned(),
        deed: kind.deed.to_owned(),
        needs: kind.needs.iter().map(|needed| needed.word().to_owned()).collect(),
        by: match kind.by {
            By::Crew => Some("crew".to_owned()),
            By::Manager => Some("manager".to_owned()),
            By::Itself(_) => None,
        },
    });
    let operations = operations().map(|one| OperationView {
        key: one.key.clone(),
        title: one.title.clone(),
        mark: one.mark.clone(),
        record: one.record.clone(),
    });
    let (kinds, operations) = (kinds.collect(), operations.collect());
    let (practices, regimes) = (practices().to_vec(), regimes().to_vec());
    Ok(Shown(person.units.into(), Shelf { kinds, operations, practices, regimes }))
}
