//! What a harvest carries off.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Amounts, Nutrient};
use crate::{
    crop::{Crop, crop_of},
    refusal::{Checks, Refused},
    source::{Origin, Source},
    units::{AsFed, DryMatter, Fraction, MassPerArea, Measure, Unit},
    working::{Answer, Sheet},
};

/// Request of the topic `nutrients.removal`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RemovalRequest {
    /// Crop of the library.
    pub crop: String,
    /// What was harvested, as it was weighed.
    #[serde(rename = "yield")]
    pub harvested: MassPerArea,
    /// Its moisture, wet basis; dry matter when absent.
    #[serde(default)]
    pub moisture: Option<Fraction>,
    /// Cut in late winter or after frost, when the plant has moved its reserves down.
    #[serde(default)]
    pub after_frost: bool,
    /// Shares of the dry matter from a forage analysis, which replace the book's.
    #[serde(default)]
    #[schema(value_type = std::collections::BTreeMap<String, Fraction>)]
    pub analysis: std::collections::BTreeMap<Nutrient, Fraction>,
}

/// What left the field.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Removed {
    /// Dry matter.
    #[schema(value_type = MassPerArea)]
    pub dry_matter: DryMatter<MassPerArea>,
    /// By nutrient.
    #[schema(value_type = std::collections::BTreeMap<String, MassPerArea>)]
    pub removed: Amounts,
}

/// The topic `nutrients.removal`: dry matter × share, nutrient by nutrient.
///
/// # Errors
/// An unknown crop, a yield, moisture or share that can't be.
pub fn removal(request: &RemovalRequest) -> Result<Answer<Removed>, Refused> {
    let crop = crop_of(&request.crop, "/crop")?;
    let mut checks = Checks::new();
    checks.positive("/yield", "Yield", request.harvested, Unit::TPerHa, 150.0);
    if let Some(moisture) = request.moisture {
        checks.within("/moisture", "Moisture", moisture, Unit::Percent, 0.0, 90.0);
    }
    for (nutrient, share) in &request.analysis {
        let name =
            serde_json::to_value(nutrient).ok().and_then(|value| value.as_str().map(str::to_owned)).unwrap_or_default();
        checks.within(&format!("/analysis/{name}"), nutrient.words(), *share, Unit::Percent, 0.0, 10.0);
    }
    checks.done()?;
    let mut sheet = Sheet::new(format!("nutrient removal by {}", crop.name));
    let harvested = sheet.input("harvested", AsFed(request.harvested), Origin::measured("counted bales or loads"));
    let moisture = match request.moisture {
        Some(share) => sheet.input("moisture", share, Origin::measured("a probe or the lab")),
        None => sheet.input("moisture", Fraction::ZERO, Origin::Given),
    };
    let dry_matter = sheet.line("dry_matter", "harvested × (100 % - moisture)", harvested.dry(moisture));
    let mut removed = Amounts::new();
    for (nutrient, share, origin) in shares(crop, request.after_frost, &request.analysis) {
        let name = format!("{} in dry matter", nutrient.words());
        let share = sheet.input(&name, share, origin);
        let mass = sheet.line(nutrient.words(), &format!("dry_matter × {name}"), dry_matter.0 * share);
        removed.insert(nutrient, mass);
    }
    sheet.would_change("A forage analysis of this cut.");
    Ok(sheet.answer(Removed { dry_matter, removed }))
}

/// Each nutrient's share of the dry matter, and from where: the analysis, else the book.
pub(crate) fn shares(
    crop: &Crop,
    after_frost: bool,
    analysis: &std::collections::BTreeMap<Nutrient, Fraction>,
) -> Vec<(Nutrient, Fraction, Origin)> {
    let book = match (&crop.nutrition.removal_after_frost, after_frost) {
        (Some(late), true) => late,
        _ => &crop.nutrition.removal,
    };
    let mut all: Vec<(Nutrient, Fraction, Origin)> = book
        .share
        .iter()
        .map(|(nutrient, lb_per_ton)| {
            (
                *nutrient,
                Fraction::from_base(lb_per_ton / 2_000.0),
                Origin::sourced(crate::crop::library().source(&book.source)),
            )
        })
        .filter(|(nutrient, ..)| !analysis.contains_key(nutrient))
        .collect();
    all.extend(analysis.iter().map(|(nutrient, share)| (*nutrient, *share, Origin::measured("the forage analysis"))));
    all.sort_by_key(|(nutrient, ..)| *nutrient);
    all
}

/// Calcium carbonate that a crop's dry matter carries off as ash alkalinity.
pub fn alkalinity(crop: &Crop, dry_matter: MassPerArea) -> MassPerArea {
    dry_matter * Fraction::from_base(crop.nutrition.alkalinity.value / 1_000.0)
}

/// Source for a rule of the trade without one.
pub(crate) fn practice(text: &str) -> Source {
    Source::common_practice(text)
}
