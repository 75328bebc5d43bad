//! When the year's nutrients are brought: the shares of each dressing.
//!
//! How much a crop needs is one question ([`super::need`]); when it is brought is another, and nitrogen and potash that
//! come all at once are partly lost: to weeds at sowing, to luxury uptake with the next cut.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Amounts, Nutrient};
use crate::{
    crop::{Crop, NitrogenRule},
    units::{Fraction, MassPerArea, Measure, Unit},
};

/// When a dressing is brought.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum DressingTime {
    /// Before or at sowing.
    Base,
    /// On seedlings with a few leaves.
    Seedlings,
    /// At green-up.
    GreenUp,
    /// After the first cut of a season.
    FirstCut,
    /// After every cut of a season.
    EachCut,
    /// In autumn, after the last cut but one: for winter.
    Autumn,
}

impl DressingTime {
    /// As people write it.
    pub fn words(self) -> &'static str {
        match self {
            Self::Base => "before or at sowing",
            Self::Seedlings => "on the seedlings",
            Self::GreenUp => "at green-up",
            Self::FirstCut => "after the first cut",
            Self::EachCut => "shared among the cuts",
            Self::Autumn => "before the last cut, for winter",
        }
    }

    /// Where a part goes that has no time of its own in the way a stand is used, the nearest first.
    fn instead(self) -> &'static [Self] {
        match self {
            Self::Base => &[],
            Self::Seedlings => &[Self::Base],
            Self::GreenUp => &[Self::FirstCut, Self::EachCut],
            Self::FirstCut => &[Self::EachCut, Self::GreenUp],
            Self::EachCut => &[Self::FirstCut, Self::GreenUp],
            Self::Autumn => &[Self::EachCut, Self::FirstCut, Self::GreenUp],
        }
    }
}

/// In how many dressings the year's potash is brought to an established stand.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum PotashSplit {
    Once,
    Two,
    Three,
}

impl PotashSplit {
    /// What a crop is fed by where nobody says: a legume that takes up more potash than it needs gets it in two dressings
    /// (extension bulletins on alfalfa, from memory).
    pub fn usual(crop: &Crop) -> Self {
        let luxury = crop.nutrition.nitrogen == NitrogenRule::Legume && crop.nutrition.luxury_potash;
        if luxury { Self::Two } else { Self::Once }
    }
}

/// What is fed.
#[derive(Debug, Clone, Copy)]
pub struct Feeding<'a> {
    /// The crop that decides phosphorus and potassium.
    pub crop: &'a Crop,
    /// The crop that is fed with nitrogen.
    pub fed: &'a Crop,
    /// It stood before this growing year.
    pub established: bool,
    /// In how many dressings potash comes; the crop's usual when absent.
    pub potash: Option<PotashSplit>,
}

impl Feeding<'_> {
    /// The shares of a year's need by time, in order; they add up to one.
    ///
    /// Nitrogen: an annual and a fast tropical grass get half at sowing and half as seedlings; an established cut grass half
    /// at green-up and half as it regrows; a fast tropical grass all of it after its cuts. Before a sowing all P and K come
    /// at once, because that is when they can be mixed into the root zone.
    ///
    /// ```
    /// use agronomy::{crop::library, nutrients::{Nutrient, dressings::{DressingTime, Feeding}}, units::{Measure, Unit}};
    /// let alfalfa = library().crop("alfalfa").unwrap();
    /// let feeding = Feeding { crop: alfalfa, fed: alfalfa, established: true, potash: None };
    /// let shares = feeding.shares(Nutrient::K2o);
    /// assert_eq!(shares[0].0, DressingTime::FirstCut);
    /// assert_eq!(shares[1], (DressingTime::Autumn, agronomy::units::Fraction::percent(50.0)));
    /// ```
    pub fn shares(&self, nutrient: Nutrient) -> Vec<(DressingTime, Fraction)> {
        use DressingTime::{Autumn, Base, EachCut, FirstCut, GreenUp, Seedlings};
        let halves = |one, other| vec![(one, Fraction::percent(50.0)), (other, Fraction::percent(50.0))];
        let all = |time| vec![(time, Fraction::ONE)];
        match (nutrient, self.established) {
            (Nutrient::N, false) => match self.fed.nutrition.nitrogen {
                NitrogenRule::Annual | NitrogenRule::TropicalCut => halves(Base, Seedlings),
                NitrogenRule::Legume | NitrogenRule::Native | NitrogenRule::CoolGrass => all(Base),
            },
            (Nutrient::N, true) => match self.fed.nutrition.nitrogen {
                NitrogenRule::TropicalCut => all(EachCut),
                NitrogenRule::CoolGrass => halves(GreenUp, EachCut),
                NitrogenRule::Annual | NitrogenRule::Legume | NitrogenRule::Native => all(GreenUp),
            },
            (_, false) => all(Base),
            (Nutrient::K2o, true) => match self.potash.unwrap_or_else(|| PotashSplit::usual(self.crop)) {
                PotashSplit::Once => all(FirstCut),
                PotashSplit::Two => halves(FirstCut, Autumn),
                PotashSplit::Three => {
                    let third = Fraction::percent(100.0 / 3.0);
                    vec![(GreenUp, third), (FirstCut, third), (Autumn, Fraction::ONE - third - third)]
                }
            },
            (_, true) => all(FirstCut),
        }
    }

    /// A year's amounts by time. A part whose time `comes` denies joins the nearest that comes; what no time takes is left
    /// out, and told by being missing.
    pub fn parts(&self, year: &Amounts, comes: impl Fn(DressingTime) -> bool) -> BTreeMap<DressingTime, Amounts> {
        let mut parts: BTreeMap<DressingTime, Amounts> = BTreeMap::new();
        for (nutrient, amount) in year.iter().filter(|(_, amount)| amount.base() > 0.0) {
            for (time, share) in self.shares(*nutrient) {
                let instead = || time.instead().iter().copied().find(|time| comes(*time));
                let Some(time) = Some(time).filter(|time| comes(*time)).or_else(instead) else { continue };
                let part =
                    parts.entry(time).or_default().entry(*nutrient).or_insert_with(|| MassPerArea::from_base(0.0));
                *part = *part + *amount * share;
            }
        }
        parts
    }
}

/// The most nitrogen in one dressing: more is lost before it is taken up, scorches, and leaves nitrate in the forage
/// (extension bulletins on grass hay, from memory).
pub fn most_nitrogen() -> MassPerArea {
    MassPerArea::new(100.0, Unit::LbPerAc)
}

/// One dressing held to [`most_nitrogen`], and the nitrogen that it leaves out, where it does.
pub fn at_most(mut dressing: Amounts) -> (Amounts, Option<MassPerArea>) {
    let most = most_nitrogen();
    match dressing.get_mut(&Nutrient::N) {
        Some(n) if *n > most => {
            let over = *n - most;
            *n = most;
            (dressing, Some(over))
        }
        _ => (dressing, None),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::crop::library;
    use rstest::rstest;

    fn feeding(crop: &str, established: bool) -> Feeding<'static> {
        let crop = library().crop(crop).unwrap();
        Feeding { crop, fed: crop, established, potash: None }
    }

    fn lb(value: f64) -> MassPerArea {
        MassPerArea::new(value, Unit::LbPerAc)
    }

    /// A fast tropical cut grass: half of its nitrogen as base, half at 30 days, then after every cut (common practice, no
    /// source). An annual is fed again as seedlings (common practice, no source); a native grass never in its first year.
    #[rstest]
    #[case("hybrid-napier", false, &[(DressingTime::Base, 50.0), (DressingTime::Seedlings, 50.0)])]
    #[case("hybrid-napier", true, &[(DressingTime::EachCut, 100.0)])]
    #[case("forage-oats", false, &[(DressingTime::Base, 50.0), (DressingTime::Seedlings, 50.0)])]
    #[case("orchardgrass", true, &[(DressingTime::GreenUp, 50.0), (DressingTime::EachCut, 50.0)])]
    #[case("switchgrass", true, &[(DressingTime::GreenUp, 100.0)])]
    fn nitrogen_is_split_by_how_the_crop_grows(
        #[case] crop: &str,
        #[case] established: bool,
        #[case] shares: &[(DressingTime, f64)],
    ) {
        let found: Vec<_> = feeding(crop, established)
            .shares(Nutrient::N)
            .into_iter()
            .map(|(time, share)| (time, share.to(Unit::Percent)))
            .collect();
        assert_eq!(found, shares);
    }

    #[rstest]
    fn no_part_is_lost_or_doubled(
        #[values("alfalfa", "orchardgrass", "hybrid-napier", "silage-maize", "switchgrass")] crop: &str,
        #[values(false, true)] established: bool,
        #[values(None, Some(PotashSplit::Once), Some(PotashSplit::Two), Some(PotashSplit::Three))] potash: Option<
            PotashSplit,
        >,
    ) {
        use DressingTime::{Autumn, Base, EachCut, FirstCut, GreenUp, Seedlings};
        let year = Amounts::from([(Nutrient::N, lb(60.0)), (Nutrient::P2o5, lb(40.0)), (Nutrient::K2o, lb(150.0))]);
        let feeding = Feeding { potash, ..feeding(crop, established) };
        let ways: [&[DressingTime]; 4] = [
            &[Base, Seedlings, GreenUp, FirstCut, EachCut, Autumn],
            &[Base, EachCut],
            &[Base, GreenUp],
            &[Base, FirstCut],
        ];
        for comes in ways {
            let parts = feeding.parts(&year, |time| comes.contains(&time));
            for (nutrient, amount) in &year {
                let sum: f64 = parts.values().filter_map(|part| part.get(nutrient)).map(|part| part.base()).sum();
                assert!((sum - amount.base()).abs() < 1e-9, "{nutrient:?} {comes:?} {parts:?}");
            }
            assert!(parts.keys().all(|time| comes.contains(time)));
        }
    }

    #[test]
    fn one_dressing_never_brings_a_year_of_nitrogen() {
        // 15 t/ha of cut grass asks for about 480 lb N/ac in a year.
        let (held, over) = at_most(Amounts::from([(Nutrient::N, lb(240.0)), (Nutrient::K2o, lb(50.0))]));
        assert_eq!((held[&Nutrient::N], held[&Nutrient::K2o]), (lb(100.0), lb(50.0)));
        assert!((over.unwrap().to(Unit::LbPerAc) - 140.0).abs() < 1e-9);
        assert_eq!(at_most(Amounts::from([(Nutrient::N, lb(100.0))])).1, None);
    }
}
