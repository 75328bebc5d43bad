//! The crop library.

use agronomy::crop::{Crop, library};
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
#[utoipa::path(get, path = "/api/crops", responses((status = 200, body = Crops)))]
pub async fn crops(SignedIn(person): SignedIn) -> Result<Shown<Crops>, Problem> {
    Ok(Shown(person.units, Crops { crops: library().crops().cloned().collect() }))
}
