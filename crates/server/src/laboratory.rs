//! The clients of the seed and the soil laboratory.

use agronomy::{
    seed::{LabReport, Tag},
    soil::SoilTest,
};
use jiff::civil::Date;
use serde::Deserialize;
use serde_json::json;
use uuid::Uuid;

use crate::{app::State, problem::Problem};

/// Send a sample of a lot and read the report.
///
/// # Errors
/// [`Problem::Outside`] when there is no laboratory, it is down or slow, or its answer is no
/// report of this sample.
pub async fn report(
    state: &State,
    sample: Uuid,
    crop: &str,
    lot: &str,
    claimed: &Tag,
    today: Date,
) -> Result<LabReport, Problem> {
    let outside = |what: &str| Problem::Outside(format!("the seed laboratory {what}; nothing was recorded"));
    let address = state.outside.seed_laboratory.as_ref().ok_or_else(|| outside("is not set up"))?;
    let request = json!({"sample": sample, "crop": crop, "lot": lot, "claimed": claimed, "received_on": today});
    let response =
        state.http.post(format!("{address}/seed-laboratory/samples")).json(&request).send().await.map_err(|error| {
            outside(if error.is_timeout() { "did not answer in time" } else { "can\u{2019}t be reached" })
        })?;
    if !response.status().is_success() {
        return Err(outside(&format!("answered {}", response.status())));
    }
    let report: LabReport = response.json().await.map_err(|_| outside("did not send a report"))?;
    if report.sample != sample || report.crop != crop || report.lot != lot || report.check().is_err() {
        return Err(outside("sent a report that does not fit the sample"));
    }
    Ok(report)
}

/// What the soil laboratory says of a sample.
#[derive(Debug, Clone, Deserialize)]
pub struct SoilReply {
    /// The sample's number.
    pub sample: Uuid,
    /// Who answers.
    pub laboratory: String,
    /// The day the report is due.
    pub due_on: Date,
    /// The report, once it is due.
    pub report: Option<SoilTest>,
}

/// Ask the soil laboratory about a sample: when it is due, or its report.
///
/// # Errors
/// [`Problem::Outside`] as for the seed laboratory.
pub async fn soil(
    state: &State,
    sample: Uuid,
    field: &str,
    received_on: Date,
    subsoil: bool,
    today: Date,
) -> Result<SoilReply, Problem> {
    let outside = |what: &str| Problem::Outside(format!("the soil laboratory {what}; nothing was recorded"));
    let address = state.outside.soil_laboratory.as_ref().ok_or_else(|| outside("is not set up"))?;
    let request =
        json!({"sample": sample, "field": field, "received_on": received_on, "today": today, "subsoil": subsoil});
    let response =
        state.http.post(format!("{address}/soil-laboratory/samples")).json(&request).send().await.map_err(|error| {
            outside(if error.is_timeout() { "did not answer in time" } else { "can\u{2019}t be reached" })
        })?;
    if !response.status().is_success() {
        return Err(outside(&format!("answered {}", response.status())));
    }
    let reply: SoilReply = response.json().await.map_err(|_| outside("sent something that is not an answer"))?;
    if reply.sample != sample || reply.report.as_ref().is_some_and(|report| report.check().is_err()) {
        return Err(outside("sent a report that does not fit the sample"));
    }
    Ok(reply)
}
