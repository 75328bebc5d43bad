//! Which nutrients, in the form the trade counts them.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::units::{Fraction, MassPerArea, Measure};

/// A nutrient as fertiliser grades and removal tables count it: phosphorus and potassium as their
/// oxides, the rest as elements.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum Nutrient {
    /// Nitrogen.
    N,
    /// Phosphate, P₂O₅.
    P2o5,
    /// Potash, K₂O.
    K2o,
    /// Calcium.
    Ca,
    /// Magnesium.
    Mg,
    /// Sulfur.
    S,
    /// Boron.
    B,
    /// Zinc.
    Zn,
    /// Manganese.
    Mn,
    /// Copper.
    Cu,
    /// Molybdenum.
    Mo,
}

impl Nutrient {
    /// As people write it.
    pub fn words(self) -> &'static str {
        match self {
            Self::N => "N",
            Self::P2o5 => "P₂O₅",
            Self::K2o => "K₂O",
            Self::Ca => "Ca",
            Self::Mg => "Mg",
            Self::S => "S",
            Self::B => "B",
            Self::Zn => "Zn",
            Self::Mn => "Mn",
            Self::Cu => "Cu",
            Self::Mo => "Mo",
        }
    }
}

/// Amounts of nutrients on an area.
pub type Amounts = BTreeMap<Nutrient, MassPerArea>;

/// Shares of nutrients in a product.
pub type Analysis = BTreeMap<Nutrient, Fraction>;

/// The amount of one nutrient, none when it is not named.
pub fn amount(amounts: &Amounts, nutrient: Nutrient) -> MassPerArea {
    amounts.get(&nutrient).copied().unwrap_or_default()
}

/// Add amounts to others.
pub fn add(to: &mut Amounts, more: &Amounts) {
    for (nutrient, mass) in more {
        let sum = amount(to, *nutrient) + *mass;
        to.insert(*nutrient, sum);
    }
}

/// What a rate of a product supplies.
pub fn supplied(rate: MassPerArea, analysis: &Analysis) -> Amounts {
    analysis
        .iter()
        .filter(|(_, share)| share.base() > 0.0)
        .map(|(nutrient, share)| (*nutrient, rate * *share))
        .collect()
}
