//! What a crop takes up and carries off.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::figure::{Days, Figure};
use crate::nutrient::Nutrient;

/// How nitrogen is reckoned for a crop.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum NitrogenRule {
    /// Feeds itself.
    Legume,
    /// None in the planting year, then what is carried off.
    Native,
    /// Little at sowing, then by growth.
    CoolGrass,
    /// By test and yield, in one season.
    Annual,
    /// Base, 30 days, then after every cut.
    TropicalCut,
}

/// Pounds of nutrients in a short ton of dry matter.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RemovalFacts {
    /// By nutrient.
    #[schema(value_type = std::collections::BTreeMap<String, f64>)]
    pub share: BTreeMap<Nutrient, f64>,
    /// Key of the source.
    pub source: String,
}

/// Nitrogen by a rule of thumb: pounds for a short ton of what is expected, as fed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NitrogenByYield {
    /// At the least.
    pub low: f64,
    /// At the most.
    pub high: f64,
    /// Water in what is counted, a share of the whole.
    pub moisture: f64,
    /// Key of the source.
    pub source: String,
}

/// What the crop takes up and carries off.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NutritionFacts {
    /// The rule for nitrogen.
    pub nitrogen: NitrogenRule,
    /// Days from sowing until seedlings are fed again; absent of crops that are not.
    #[serde(default)]
    pub topdress: Option<Days>,
    /// Nitrogen by the ton expected, where growers go by such a rule beside removal.
    #[serde(default)]
    pub n_by_yield: Option<NitrogenByYield>,
    /// N and K₂O together that seedlings bear in the seed furrow at its usual rows, on soil that is not sandy; absent where
    /// none should lie there.
    #[serde(default)]
    pub with_seed: Option<Figure>,
    /// Whether it takes up more potash than it needs.
    pub luxury_potash: bool,
    /// Bray P1 phosphorus above which it does not answer.
    pub critical_p: Figure,
    /// P₂O₅ for a soil that is very low.
    pub full_p2o5: Figure,
    /// K₂O for a soil that is very low.
    pub full_k2o: Figure,
    /// Calcium carbonate carried off, kg in a tonne of dry matter.
    pub alkalinity: Figure,
    /// What a harvest carries off.
    pub removal: RemovalFacts,
    /// The same when cut in late winter, the reserves below ground.
    pub removal_after_frost: Option<RemovalFacts>,
}
