//! What should fall in each row: before the drill is calibrated, the target has to be known in the terms of a
//! catch: so much seed from one row over a measured course, so many seeds in a foot of row.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    crop::crop_of,
    given, reckon,
    refusal::{Checks, Refused},
    source::{Origin, Source},
    units::{Bulk, CountPerLength, CountPerMass, Fraction, Length, Mass, MassPerArea, PureLive, Unit},
    working::{Answer, Sheet},
};

/// Request of the topic `drill.row`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RowRequest {
    /// Crop of the library, for its seeds per mass and usual row spacing.
    pub crop: String,
    /// Out of the bag, per area.
    pub bulk_rate: MassPerArea,
    /// Pure live seed in the lot.
    pub pls: Fraction,
    /// Between rows; the crop's usual spacing when absent.
    #[serde(default)]
    pub row_spacing: Option<Length>,
    /// Length of the measured course.
    pub course: Length,
}

/// What one row should drop.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct RowTarget {
    /// To be caught from one row over the course, out of the bag.
    pub catch_per_row: Mass,
    /// Live seeds along the row.
    #[schema(value_type = CountPerLength)]
    pub live_seeds_in_row: PureLive<CountPerLength>,
    /// Between rows.
    pub row_spacing: Length,
}

/// The topic `drill.row`: catch = bulk rate × row spacing × course.
///
/// # Errors
/// An unknown crop, or a rate, share, spacing or course that can't be.
pub fn row(request: &RowRequest) -> Result<Answer<RowTarget>, Refused> {
    let crop = crop_of(&request.crop, "/crop")?;
    let (Some(seed), Some(sowing)) = (&crop.seed, &crop.sowing) else {
        return Err(Refused::one("/crop", format!("{} is planted, not drilled", crop.name)));
    };
    let spacing = request.row_spacing.unwrap_or_else(|| sowing.row_spacing.measure());
    let mut checks = Checks::new();
    checks.positive("/bulk_rate", "Rate", request.bulk_rate, Unit::KgPerHa, 1_000.0);
    checks.positive("/pls", "Pure live seed", request.pls, Unit::Percent, 100.0);
    checks.within("/row_spacing", "Row spacing", spacing, Unit::Cm, 5.0, 200.0);
    checks.within("/course", "Test course length", request.course, Unit::M, 1.0, 2_000.0);
    checks.done()?;

    let mut sheet = Sheet::new(format!("target catch per row of {}", crop.name));
    sheet.source(Source::common_practice("catch from a row = rate × row spacing × distance"));
    let bulk_rate = sheet.input("bulk_rate", Bulk(request.bulk_rate), Origin::Given);
    let row_spacing = match request.row_spacing {
        Some(spacing) => sheet.input("row_spacing", spacing, Origin::Given),
        None => sheet.input("row_spacing", spacing, sowing.row_spacing.origin()),
    };
    given!(sheet; course = request.course, Origin::Given);
    given!(sheet; pls = request.pls, Origin::measured("the tag"));
    given!(sheet; seeds_per_mass = seed.per_mass.measure::<CountPerMass>(), seed.per_mass.origin());
    reckon!(sheet; area_of_course = row_spacing * course);
    let catch_per_row = sheet.line("catch_per_row", "bulk_rate * area_of_course", bulk_rate.0 * area_of_course);
    let live_seeds =
        sheet.line("live_seeds", "bulk_rate * pls * seeds_per_mass", PureLive(bulk_rate.0 * pls * seeds_per_mass));
    reckon!(sheet; live_seeds_in_row = live_seeds * row_spacing);
    sheet.caution("drill-moving-parts");
    Ok(sheet.answer(RowTarget { catch_per_row, live_seeds_in_row, row_spacing }))
}
