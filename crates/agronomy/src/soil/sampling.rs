//! How many cores, from which depths, how often.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    crop::crop_of,
    given,
    refusal::{Checks, Refused},
    source::{Origin, Source},
    units::{Area, Length, Measure, Unit},
    working::{Answer, Sheet},
};

/// Request of the topic `soil.sampling`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SamplingRequest {
    /// Area to sample.
    pub area: Area,
    /// Parts that differ in soil or history; one when nothing is said.
    #[serde(default)]
    pub zones: Option<u32>,
    /// The crop to come.
    #[serde(default)]
    pub crop: Option<String>,
    /// Whether the subsoil is suspect.
    #[serde(default)]
    pub subsoil: bool,
}

/// What to take.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SamplingPlan {
    /// Samples to send, one per zone and depth.
    pub composites: f64,
    /// Cores in each.
    pub cores_each: f64,
    /// Cores in all.
    pub cores: f64,
    /// Depths, upper and lower edge.
    pub depths: Vec<[Length; 2]>,
    /// What to mind.
    pub remarks: Vec<String>,
}

/// The topic `soil.sampling`: 15 to 20 cores for at most about 20 acres of one soil and history.
///
/// # Errors
/// No area, no zone, an unknown crop.
pub fn sampling(request: &SamplingRequest) -> Result<Answer<SamplingPlan>, Refused> {
    let mut checks = Checks::new();
    checks.positive("/area", "Area", request.area, Unit::Ha, 20_000.0);
    if let Some(zones) = request.zones {
        checks.require((1..=200).contains(&zones), "/zones", format!("{zones} zones; enter 1–200"));
    }
    let crop = match &request.crop {
        Some(id) => checks.part("", crop_of(id, "/crop")),
        None => None,
    };
    checks.done()?;
    let deep = crop.is_some_and(|crop| crop.site.deep_rooted);
    let inch = |value: f64| Length::new(value, Unit::In);
    let mut depths = vec![[inch(0.0), inch(6.0)]];
    if deep || request.subsoil {
        depths.push([inch(6.0), inch(12.0)]);
    }
    if request.subsoil {
        depths.extend((1..4).map(|foot| [inch(12.0 * f64::from(foot)), inch(12.0 * f64::from(foot + 1))]));
    }
    let mut sheet = Sheet::new("soil sampling");
    sheet.source(Source::common_practice("15–20 cores per sample, from a limited area of one soil and history"));
    given!(sheet; area = request.area, Origin::measured("the field\u{2019}s boundary"));
    given!(sheet; most_per_sample = Area::new(20.0, Unit::Ac), Origin::sourced(&Source::common_practice("common practice")));
    let by_soil = sheet.input(
        "zones_by_soil",
        f64::from(request.zones.unwrap_or(1)),
        Origin::assumed("a walk with the soil map"),
    );
    let by_area = sheet.line(
        "zones_by_area",
        "rounded up(area / most_per_sample)",
        ((area / most_per_sample).base() - 1e-9).ceil(),
    );
    let zones = sheet.line("zones", "larger(zones_by_soil, zones_by_area)", by_soil.max(by_area));
    let layers = sheet.input(
        "depths",
        depths.len() as f64,
        Origin::sourced(&Source::common_practice("set by crop rooting depth")),
    );
    let composites = sheet.line("samples", "zones × depths", zones * layers);
    let cores_each = sheet.input("cores_each", 18.0, Origin::sourced(&Source::common_practice("15 to 20")));
    let cores = sheet.line("cores", "zones * cores_each", zones * cores_each);
    let mut remarks = vec![
        "Zigzag, and skip lanes, gateways, manure piles, dead furrows and wet spots, or sample them separately."
            .to_owned(),
        "Sample a year before sowing, or at least six months: lime needs the time.".to_owned(),
    ];
    if deep {
        remarks.push("For a deep-rooted legume, test the subsoil: it needs pH 5.5 or more throughout.".to_owned());
    }
    Ok(sheet.answer(SamplingPlan { composites, cores_each, cores, depths, remarks }))
}
