//! What feed is in the green that stands.
//!
//! Fibre rises and its digestibility falls as a plant comes nearer to bloom, and faster in the heat. Of legumes and other
//! broad-leaved plants quality is that of leaf and stem, each with its own; of grasses that of the whole shoot, its protein
//! that of the nitrogen in it. Shares are percent of dry matter.

use facts::crop::SeasonFacts;

use super::{Air, Plant, Stand};
use crate::maths::smaller;

/// Feed in a plant or a stand, % of dry matter; of its fibre what is digested, %.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Quality {
    /// Crude protein.
    pub protein: f64,
    /// Neutral detergent fibre.
    pub fibre: f64,
    /// Acid detergent fibre.
    pub acid_fibre: f64,
    /// Of the neutral detergent fibre what is digested in 48 hours.
    pub digested: f64,
}

/// Leaf share of alfalfa by stage (fitted to tables of leaf and stem, from memory).
const LEAF: [(f64, f64); 6] = [(0.3, 0.72), (0.4, 0.66), (0.65, 0.56), (1.0, 0.48), (1.4, 0.38), (1.8, 0.32)];
/// Nitrogen in protein, by definition (AOAC).
const PROTEIN: f64 = 6.25;
/// The stage beyond which nothing more changes.
const OLDEST: f64 = 1.9;

/// Leaf share of alfalfa at a stage: 1 is early bloom.
///
/// ```
/// use kernels::growth::quality::leaf_share;
/// assert_eq!((leaf_share(1.0), leaf_share(0.0), leaf_share(9.0)), (0.48, 0.72, 0.32));
/// assert!((leaf_share(0.825) - 0.52).abs() < 1e-12, "half-way from bud to bloom");
/// ```
pub fn leaf_share(stage: f64) -> f64 {
    let after = LEAF.partition_point(|(at, _)| *at <= stage);
    match (after.checked_sub(1).map(|place| LEAF[place]), LEAF.get(after)) {
        (Some((from, share)), Some((to, next))) => share + (next - share) * (stage - from) / (to - from),
        (Some((_, share)), None) => share,
        (None, _) => LEAF[0].1,
    }
}

impl Quality {
    /// Of a crop at a stage (1 is early bloom or heading), after weeks of a mean temperature, °C; of a grass with the
    /// nitrogen of its dry matter, %.
    ///
    /// ```
    /// use kernels::growth::quality::Quality;
    /// let alfalfa = facts::crop::library().season("alfalfa").unwrap();
    /// // Leaf of 26 % protein and 24 % fibre, stem of 11 and 56: mass balance of 48 and 52 parts.
    /// let bloom = Quality::of(alfalfa, 1.0, 18.0, 0.0);
    /// assert!((bloom.protein - 18.20).abs() < 0.01 && (bloom.fibre - 40.64).abs() < 0.01);
    /// ```
    pub fn of(facts: &SeasonFacts, stage: f64, warmth: f64, nitrogen: f64) -> Self {
        let stage = stage.clamp(0.0, OLDEST);
        let heat = (warmth - 18.0).clamp(-6.0, 12.0);
        let (protein, fibre) = if facts.by_parts {
            let leaf = (leaf_share(stage) + facts.leafier).clamp(0.0, 1.0);
            let parts = |of_leaf: f64, of_stem: f64| leaf * of_leaf + (1.0 - leaf) * of_stem;
            let stem_protein = (facts.stem_protein - facts.stem_protein_drop * stage).max(facts.stem_protein_least);
            let stem_fibre = smaller(facts.stem_fibre + facts.stem_fibre_rise * stage, facts.stem_fibre_most);
            (
                parts(facts.leaf_protein - facts.leaf_protein_drop * stage, stem_protein),
                parts(facts.leaf_fibre + facts.leaf_fibre_rise * stage, stem_fibre),
            )
        } else {
            (PROTEIN * nitrogen, facts.fibre + facts.fibre_rise * stage.powf(facts.fibre_power))
        };
        let fibre = (fibre + facts.fibre_heat * heat).clamp(15.0, 85.0);
        let digested = facts.digested - facts.digested_drop * stage - facts.digested_heat * heat;
        Self {
            protein: protein.clamp(2.0, 38.0),
            fibre,
            acid_fibre: facts.acid_fibre * fibre,
            digested: digested.clamp(30.0, 90.0),
        }
    }
}

impl Plant {
    /// How far it is for its feed: what grows back without heading ages by days alone.
    pub fn feed_stage(&self, facts: &SeasonFacts) -> f64 {
        let by_days = 0.30 + 0.005 * f64::from(self.days);
        if self.heading { self.stage(facts) } else { smaller(by_days, 1.0) }
    }

    /// Feed in what stands of it green.
    pub fn quality(&self, facts: &SeasonFacts, air: &Air) -> Quality {
        let all = self.herbage();
        let nitrogen = if all > 0.0 { 100.0 * self.nitrogen / all } else { 0.0 };
        Quality::of(facts, self.feed_stage(facts), air.weeks, nitrogen)
    }
}

impl Stand {
    /// Feed in all that stands green, crop by crop as much as there is of each.
    pub fn quality(&self, facts: &[&SeasonFacts], air: &Air) -> Quality {
        let live: f64 = self.plants().iter().map(Plant::live).sum();
        let mut all = Quality::default();
        for (plant, facts) in self.plants().iter().zip(facts) {
            let (share, own) = (plant.live() / live.max(1e-9), plant.quality(facts, air));
            all.protein += share * own.protein;
            all.fibre += share * own.fibre;
            all.acid_fibre += share * own.acid_fibre;
            all.digested += share * own.digested;
        }
        all
    }
}
