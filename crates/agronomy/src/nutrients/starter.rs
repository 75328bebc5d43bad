//! Starter fertilizer: how much may lie with the seed, or beside it, before its salt burns seedlings.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Analysis, Nutrient};
use crate::{
    crop::{crop_of, library, sowing_of},
    given,
    refusal::{Checks, Refused},
    said,
    said::Said,
    source::{Origin, Source},
    texture::Texture,
    units::{Fraction, Length, MassPerArea, Measure, Unit},
    working::{Answer, Sheet},
};

/// N and K₂O together that a band two inches beside the seed and two below may hold, lb/ac.
const BESIDE: f64 = 80.0;
/// Of a limit so much is left on a sandy soil, which dries out and holds fewer salts.
const SANDY: f64 = 0.5;

/// Where it is put.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = StarterPlace)]
pub enum Place {
    /// In the seed furrow.
    WithSeed,
    /// In a band about two inches beside and two below the seed.
    Beside,
}

/// Request of the topic `nutrients.starter`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StarterRequest {
    /// Crop of the library that is sown.
    pub crop: String,
    /// Shares of nutrients in the product, phosphorus and potassium as oxides.
    #[schema(value_type = std::collections::BTreeMap<String, Fraction>)]
    pub analysis: Analysis,
    /// Product on the area.
    pub rate: MassPerArea,
    /// Where it is put.
    pub place: Place,
    /// Distance of the rows; the crop's own when absent.
    #[serde(default)]
    pub row_spacing: Option<Length>,
    /// Texture of the soil; on sand half is borne.
    #[serde(default)]
    pub texture: Option<Texture>,
    /// Its nitrogen is urea or diammonium phosphate, which free ammonia beside the seed.
    #[serde(default)]
    pub frees_ammonia: bool,
}

/// Whether seedlings bear it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Starter {
    /// N and K₂O that the rate brings.
    pub salts: MassPerArea,
    /// N and K₂O that may lie there.
    pub limit: MassPerArea,
    /// The rate is within it.
    pub safe: bool,
    /// The most of this product there; none where any amount is, as of phosphate alone.
    pub most: Option<MassPerArea>,
    /// In a sentence.
    #[schema(value_type = String)]
    pub says: Said,
}

/// The topic `nutrients.starter`: N + K₂O of the rate against what the crop bears with its seed.
///
/// # Errors
/// A crop that is planted and not sown, a rate, analysis or row spacing that can't be.
///
/// ```
/// use agronomy::nutrients::starter::{starter, StarterRequest};
/// // 100 lb of 10-34-0 beside maize rows bring 10 lb of salts: as much as may lie with the seed.
/// let request: StarterRequest = serde_json::from_str(r#"{"crop": "silage-maize", "place": "with-seed",
///   "analysis": {"n": {"value": 10, "unit": "%"}, "p2o5": {"value": 34, "unit": "%"}},
///   "rate": {"value": 100, "unit": "lb/ac"}}"#).unwrap();
/// assert!(starter(&request).unwrap().value.safe);
/// ```
pub fn starter(request: &StarterRequest) -> Result<Answer<Starter>, Refused> {
    let crop = crop_of(&request.crop, "/crop")?;
    let sowing = sowing_of(crop, "/crop")?;
    let mut checks = Checks::new();
    checks.within("/rate", "Rate", request.rate, Unit::LbPerAc, 0.0, 5_000.0);
    if let Some(spacing) = request.row_spacing {
        checks.within("/row_spacing", "Row spacing", spacing, Unit::In, 2.0, 120.0);
    }
    let shares: f64 = request.analysis.values().map(|share| share.base()).sum();
    let sound = request.analysis.values().all(|share| (0.0..=1.0).contains(&share.base())) && shares <= 1.0 + 1e-9;
    checks.require(sound, "/analysis", "shares are between 0 and 100%, and together at most 100%");
    checks.done()?;

    let mut sheet = Sheet::new(format!("starter for {}", crop.name));
    let share = |nutrient| request.analysis.get(&nutrient).copied().unwrap_or(Fraction::ZERO);
    given!(sheet; rate = request.rate, Origin::Given);
    let n = sheet.input("N in it", share(Nutrient::N), Origin::Given);
    let k = sheet.input("K₂O in it", share(Nutrient::K2o), Origin::Given);
    let both = sheet.line("salts in it", "N in it + K₂O in it", n + k);
    let salts = sheet.line("salts", "rate × salts in it", rate * both);

    let source = library().source("starter-salt").clone();
    let whole = match (request.place, &crop.nutrition.with_seed) {
        (Place::Beside, _) => {
            let beside = MassPerArea::new(BESIDE, Unit::LbPerAc);
            sheet.input("limit of the crop", beside, Origin::sourced(&source))
        }
        (Place::WithSeed, Some(with_seed)) => {
            let own: Length = sowing.row_spacing.measure();
            given!(sheet; usual_rows = own, sowing.row_spacing.origin());
            given!(sheet; rows = request.row_spacing.unwrap_or(own), Origin::Given);
            let of_usual = sheet.input("limit at usual rows", with_seed.measure::<MassPerArea>(), with_seed.origin());
            // The wider the rows, the more lies on each foot of them.
            sheet.line("limit of the crop", "limit at usual rows × usual_rows / rows", of_usual * (usual_rows / rows))
        }
        (Place::WithSeed, None) => sheet.input("limit of the crop", MassPerArea::default(), Origin::sourced(&source)),
    };
    let sandy = request.texture.is_some_and(|texture| texture <= Texture::SandyLoam);
    let soil = sheet.input("share for the soil", if sandy { SANDY } else { 1.0 }, Origin::sourced(&source));
    let limit = sheet.line("limit", "limit of the crop × share for the soil", whole * soil);
    sheet.source(Source::common_practice("urea and diammonium phosphate are kept away from seed"));
    sheet.caution("fertiliser");

    let ammonia = request.frees_ammonia && request.place == Place::WithSeed && rate.base() > 0.0;
    let safe = !ammonia && salts.base() <= limit.base() * (1.0 + 1e-9);
    let most = match (both.base() > 0.0, ammonia) {
        (_, true) => Some(MassPerArea::default()),
        (true, false) => Some(sheet.line("most", "limit / salts in it", limit / both)),
        (false, false) => None,
    };
    let name = crop.name.as_str();
    let says = match (safe, request.place) {
        _ if ammonia => {
            Said::from("Not with the seed: urea and diammonium phosphate free ammonia, which kills seedlings.")
        }
        (true, _) if both.base() == 0.0 => Said::from("No N or K₂O in it: its salt does not limit the rate."),
        (true, _) => said!("{} of N and K₂O; {} tolerates up to {} there.", salts, name, limit),
        (false, Place::WithSeed) if limit.base() == 0.0 => {
            said!(
                "No N or K₂O with the seed of {}: small and salt-sensitive seedlings burn. Use a side band, or broadcast.",
                name
            )
        }
        (false, _) => said!("{} of N and K₂O; {} tolerates up to {} there. Broadcast the rest.", salts, name, limit),
    };
    sheet.would_change("A dry seedbed: salts burn more. Follow the local guide for your planter and soil.");
    Ok(sheet.answer(Starter { salts, limit, safe, most, says }))
}
