//! What a stand of a crop gives, how soon, for how long, and what it bears.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::figure::{Band, Figure};

/// How readily a crop does something, or bears it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Grade {
    Poor,
    Fair,
    Good,
}

impl Grade {
    /// As people write it.
    pub fn words(self) -> &'static str {
        match self {
            Self::Poor => "poorly",
            Self::Fair => "fairly",
            Self::Good => "well",
        }
    }
}

/// How soon and how surely a sowing becomes a stand.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Ease {
    Slow,
    Fair,
    Easy,
}

/// A range of whole years.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Years {
    /// The fewest.
    pub low: u32,
    /// The most.
    pub high: u32,
    /// Key of the source.
    pub source: String,
}

/// What a stand gives, how soon, for how long, and what it bears.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StandFacts {
    /// Dry matter of an established stand in a season, on fair to good ground.
    #[serde(rename = "yield")]
    pub yields: Band,
    /// Share of that in the sowing year, the next, and so on; the last holds for the years after.
    pub ramp: Vec<f64>,
    /// How long a stand is kept.
    pub years: Years,
    /// How soon and surely it comes.
    pub ease: Ease,
    /// How it bears drought.
    pub drought: Grade,
    /// How it bears grazing.
    pub grazing: Grade,
    /// The lowest night of a usual winter that hardy varieties live through; none of a crop that is gone by winter.
    pub winter: Option<Figure>,
    /// Mean of the warmest month that a stand lives through; none of what heat does not end.
    #[serde(default)]
    pub summer: Option<Figure>,
    /// Mean of the warmest month that it needs to be worth sowing; none of cool-season crops.
    #[serde(default)]
    pub warmth: Option<Figure>,
}

impl StandFacts {
    /// The first year with all but a tenth of the full yield: 1 for the sowing year.
    pub fn full_from(&self) -> usize {
        self.ramp.iter().position(|share| *share >= 0.9).unwrap_or(self.ramp.len()) + 1
    }

    /// Share of the full yield in a year, 1 for the sowing year.
    ///
    /// ```
    /// let switchgrass = &facts::crop::library().crop("switchgrass").unwrap().stand;
    /// assert_eq!([1, 2, 3, 9].map(|year| switchgrass.share_in(year)), [0.0, 0.75, 1.0, 1.0]);
    /// ```
    pub fn share_in(&self, year: usize) -> f64 {
        let at = year.saturating_sub(1).min(self.ramp.len().saturating_sub(1));
        self.ramp.get(at).copied().unwrap_or_default()
    }

    /// Share of the yield that is left at an age, 1 for the sowing year: all of it through the shortest usual stand life, half
    /// in the year after the longest, and falling evenly between and beyond (assumed; alfalfa is said to lose a tenth to a
    /// sixth a year from its fourth or fifth year). An annual has one year.
    ///
    /// ```
    /// let clover = &facts::crop::library().crop("red-clover").unwrap().stand;
    /// assert_eq!([1, 2, 4].map(|year| clover.ageing(year)), [1.0, 1.0, 0.5]);
    /// assert!(clover.ageing(9) < 0.1);
    /// ```
    pub fn ageing(&self, year: usize) -> f64 {
        let (low, high) = (f64::from(self.years.low), f64::from(self.years.high));
        if high <= 1.0 {
            return if year <= 1 { 1.0 } else { 0.0 };
        }
        let over = (year as f64 - low).max(0.0) / (high - low + 1.0);
        0.5_f64.powf(over)
    }
}
