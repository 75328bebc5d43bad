//! What a herbicide keeps out of a rotation, and for how long.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::Crop;

/// A group of herbicides that may outlive the crop they were sprayed on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PlantBack {
    /// Stable name.
    pub key: String,
    /// Name of the group.
    pub name: String,
    /// Its active ingredients.
    #[serde(rename = "active")]
    pub actives: Vec<ActiveWait>,
    /// Whether it lasts longer in limed soil.
    #[serde(default)]
    pub limed_lasts_longer: bool,
    /// What else to know.
    pub note: String,
    /// Key of the source.
    pub source: String,
}

/// How long active ingredients that carry over alike keep crops out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ActiveWait {
    /// The ingredients, lower case.
    pub names: Vec<String>,
    /// Months from spraying until a crop of a class is safe.
    #[schema(value_type = std::collections::BTreeMap<String, i32>)]
    pub months: BTreeMap<Rotation, i32>,
    /// Months for crops that differ from their class, by id.
    #[serde(default)]
    pub crops: BTreeMap<String, i32>,
}

impl ActiveWait {
    /// Months from spraying until a crop is safe: its own, or those of its class, of which a table that was loaded tells all.
    pub fn months_for(&self, crop: &Crop) -> i32 {
        let of_class = || self.months.get(&crop.rotation).copied().unwrap_or(i32::from(u8::MAX));
        self.crops.get(&crop.id).copied().unwrap_or_else(of_class)
    }
}

/// Crops that herbicides treat alike in a rotation.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Rotation {
    /// Maize and sorghums.
    MaizeSorghum,
    /// Small grains.
    SmallGrain,
    /// Cool-season grasses.
    CoolGrass,
    /// Warm-season grasses native to the prairie.
    NativeGrass,
    /// Other warm-season grasses.
    WarmGrass,
    /// Legumes.
    Legume,
    /// Brassicas.
    Brassica,
    /// Other broadleaves.
    Forb,
}

impl Rotation {
    /// All.
    pub const ALL: [Self; 8] = [
        Self::MaizeSorghum,
        Self::SmallGrain,
        Self::CoolGrass,
        Self::NativeGrass,
        Self::WarmGrass,
        Self::Legume,
        Self::Brassica,
        Self::Forb,
    ];
}
