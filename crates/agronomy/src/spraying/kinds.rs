//! What sprays kill when they are sprayed over a stand, as data.

use std::sync::LazyLock;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::crop::{Crop, Kind, Pathway, library};

/// A kind of plant that a spray kills.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
enum Harmed {
    Legume,
    Forb,
    Brassica,
    C3Grass,
    C4Grass,
}

/// A way sprays work.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct SprayKind {
    /// Stable name.
    pub key: String,
    /// In words.
    pub name: String,
    /// Active ingredients, in small letters.
    pub actives: Vec<String>,
    harms: Vec<Harmed>,
    #[serde(default)]
    crops: Vec<String>,
    /// It kills all that is green: a crop that a label names is not thereby safe under it.
    #[serde(default)]
    pub non_selective: bool,
    /// Its ingredients for which tolerant varieties were bred.
    #[serde(default)]
    pub tolerated: Vec<String>,
    /// What to know of them.
    pub note: String,
}

impl SprayKind {
    /// Whether it commonly harms a crop that it is sprayed over.
    pub fn harms(&self, crop: &Crop) -> bool {
        let plant = match (crop.kind, crop.pathway) {
            (Kind::Legume, _) => Harmed::Legume,
            (Kind::Forb, _) => Harmed::Forb,
            (Kind::Brassica, _) => Harmed::Brassica,
            (Kind::Grass, Pathway::C3) => Harmed::C3Grass,
            (Kind::Grass, Pathway::C4) => Harmed::C4Grass,
        };
        self.harms.contains(&plant) || self.crops.contains(&crop.id)
    }
}

#[derive(Deserialize)]
struct File {
    kind: Vec<SprayKind>,
}

/// All kinds.
pub fn kinds() -> &'static [SprayKind] {
    static KINDS: LazyLock<Vec<SprayKind>> = LazyLock::new(|| {
        let text = include_str!("../../../../library/spray-kinds.toml");
        let File { kind } = toml::from_str(text).unwrap_or_else(|error| panic!("spray-kinds.toml: {error}"));
        if let Some(id) = kind.iter().flat_map(|one| &one.crops).find(|id| library().crop(id).is_none()) {
            panic!("spray-kinds.toml: no crop {id} in the library");
        }
        kind
    });
    &KINDS
}

/// The kind of an active ingredient, as people write it: salts and esters are of their acid's kind.
pub fn kind_of(active: &str) -> Option<&'static SprayKind> {
    let active = active.trim().to_lowercase();
    let is = |known: &str| {
        active.strip_prefix(known).is_some_and(|rest| rest.is_empty() || rest.starts_with([' ', '-', '(', ',']))
    };
    let longest = |kind: &&SprayKind| kind.actives.iter().filter(|one| is(one)).map(String::len).max();
    kinds().iter().filter(|kind| longest(kind).is_some()).max_by_key(longest)
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[rstest]
    #[case("Glyphosate", Some("all-green"))]
    #[case("2,4-D amine", Some("growth-regulator"))]
    #[case("2,4-D", Some("growth-regulator"))]
    // One letter more, and legumes live.
    #[case("2,4-DB", Some("butyric"))]
    #[case("triclopyr (ester)", Some("growth-regulator"))]
    #[case("dishwater", None)]
    fn an_ingredient_is_known_as_people_write_it(#[case] active: &str, #[case] key: Option<&str>) {
        assert_eq!(kind_of(active).map(|kind| kind.key.as_str()), key);
    }

    /// Common practice, no source; the label rules.
    #[rstest]
    #[case("2,4-d", "purple-coneflower", true)]
    #[case("2,4-d", "switchgrass", false)]
    #[case("2,4-db", "alfalfa", false)]
    #[case("clethodim", "alfalfa", false)]
    #[case("clethodim", "orchardgrass", true)]
    #[case("imazapic", "switchgrass", true)]
    #[case("imazapic", "big-bluestem", false)]
    #[case("atrazine", "big-bluestem", false)]
    #[case("atrazine", "tall-fescue", true)]
    fn what_it_kills_is_told_by_kind_of_plant(#[case] active: &str, #[case] crop: &str, #[case] harms: bool) {
        assert_eq!(kind_of(active).unwrap().harms(library().crop(crop).unwrap()), harms);
    }
}
