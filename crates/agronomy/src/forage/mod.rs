//! What a laboratory says of a forage, on one basis, and what follows from it.
//!
//! Laboratories report as fed or of dry matter, and some report both. Everything else reckons with shares of dry matter.

pub mod quality;

use crate::{
    nutrients::{Analysis, Nutrient},
    units::{Fraction, Measure, OxidePair},
};

/// A share of what was fed, as a share of its dry matter.
///
/// ```
/// use agronomy::{forage::of_dry_matter, units::{Fraction, Unit}};
/// // 18 % crude protein of hay with 90 % dry matter is 20 % of the dry matter.
/// let protein = of_dry_matter(Fraction::percent(18.0), Fraction::percent(90.0));
/// assert!((protein.to(Unit::Percent) - 20.0).abs() < 1e-9);
/// ```
pub fn of_dry_matter(as_fed: Fraction, dry_matter: Fraction) -> Fraction {
    Fraction::from_base(as_fed.base() / dry_matter.base())
}

/// Relative feed value: 100 for alfalfa hay in full bloom, more for what is digested better and eaten more of. Legumes and
/// mixes with them; grasses are not told apart by it as they should be. Shares of dry matter.
///
/// Source: Rohweder, Barnes & Jorgensen 1978, Journal of Animal Science 47:747–759, as the hay market in the United States
/// uses it: DDM = 88.9 − 0.779 ADF, DMI = 120 / NDF, RFV = DDM × DMI / 1.29 (from memory).
///
/// ```
/// use agronomy::{forage::relative_feed_value, units::Fraction};
/// let full_bloom = relative_feed_value(Fraction::percent(41.0), Fraction::percent(53.0));
/// assert!((full_bloom - 100.0).abs() < 0.5);
/// let early = relative_feed_value(Fraction::percent(30.0), Fraction::percent(40.0));
/// assert!((early - 152.0).abs() < 0.5);
/// ```
pub fn relative_feed_value(adf: Fraction, ndf: Fraction) -> f64 {
    let digestible = 88.9 - 0.779 * (adf.base() * 100.0);
    let eaten = 120.0 / (ndf.base() * 100.0);
    digestible * eaten / 1.29
}

/// Nitrogen in crude protein, which is nitrogen times 6.25 by definition (AOAC).
const PROTEIN_PER_NITROGEN: f64 = 6.25;

/// Nutrients in dry matter as grades count them, from what a forage laboratory reports: crude protein and elements, as
/// shares of dry matter. What was not tested is left out.
///
/// ```
/// use agronomy::{forage::nutrients, nutrients::Nutrient, units::{Fraction, Unit}};
/// let tested = nutrients(Some(Fraction::percent(20.0)), Some(Fraction::percent(0.3)), Some(Fraction::percent(2.5)), &[]);
/// assert!((tested[&Nutrient::N].to(Unit::Percent) - 3.2).abs() < 1e-9);
/// // 0.3 % P is 0.69 % P₂O₅; 2.5 % K is 3.0 % K₂O.
/// assert!((tested[&Nutrient::P2o5].to(Unit::Percent) - 0.687).abs() < 1e-3);
/// assert!((tested[&Nutrient::K2o].to(Unit::Percent) - 3.012).abs() < 1e-3);
/// assert!(!tested.contains_key(&Nutrient::Ca));
/// ```
pub fn nutrients(
    crude_protein: Option<Fraction>,
    phosphorus: Option<Fraction>,
    potassium: Option<Fraction>,
    elements: &[(Nutrient, Option<Fraction>)],
) -> Analysis {
    let times = |share: Option<Fraction>, factor: f64| share.map(|share| Fraction::from_base(share.base() * factor));
    [
        (Nutrient::N, times(crude_protein, 1.0 / PROTEIN_PER_NITROGEN)),
        (Nutrient::P2o5, times(phosphorus, OxidePair::Phosphorus.oxide_per_element())),
        (Nutrient::K2o, times(potassium, OxidePair::Potassium.oxide_per_element())),
    ]
    .into_iter()
    .chain(elements.iter().copied())
    .filter_map(|(nutrient, share)| Some((nutrient, share?)))
    .collect()
}

/// How a laboratory reports nitrate.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum NitrateAs {
    /// Nitrate nitrogen, NO₃-N.
    Nitrogen,
    /// Nitrate, NO₃.
    Nitrate,
    /// Potassium nitrate, KNO₃.
    PotassiumNitrate,
}

impl NitrateAs {
    /// What is reported in this form, as nitrate nitrogen: by molar masses (N 14.007, O 15.999, K 39.098; IUPAC).
    ///
    /// The same sample reads 1,000 ppm as nitrate nitrogen and 4,430 as nitrate; taking one for the other has killed stock.
    ///
    /// ```
    /// use agronomy::{forage::NitrateAs, units::Fraction};
    /// let nitrogen = NitrateAs::Nitrate.nitrogen(Fraction::percent(0.443));
    /// assert!((nitrogen.to(agronomy::units::Unit::Percent) - 0.1).abs() < 1e-4);
    /// ```
    pub fn nitrogen(self, reported: Fraction) -> Fraction {
        const N: f64 = 14.007;
        const NO3: f64 = N + 3.0 * 15.999;
        let share = match self {
            Self::Nitrogen => 1.0,
            Self::Nitrate => N / NO3,
            Self::PotassiumNitrate => N / (NO3 + 39.098),
        };
        Fraction::from_base(reported.base() * share)
    }
}

/// A bale, by how it sheds moisture and heat.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Bale {
    /// Small square.
    SmallSquare,
    /// Large square: dense, and slowest to cool.
    LargeSquare,
    /// Round.
    Round,
}

impl Bale {
    /// The wettest hay that usually keeps in it without a preservative: 20, 16 and 18 % (extension bulletins on hay storage,
    /// from memory; common practice aims two points drier). Wetter hay heats, moulds and can catch fire weeks later.
    pub fn wettest(self) -> Fraction {
        Fraction::percent(match self {
            Self::SmallSquare => 20.0,
            Self::LargeSquare => 16.0,
            Self::Round => 18.0,
        })
    }
}

/// Nitrate nitrogen in dry matter from which on a veterinarian is asked before it is fed: 1,000 ppm (extension bulletins on
/// nitrate in forages, from memory; tables put the first limits for pregnant stock there).
pub fn nitrate_to_ask_about() -> Fraction {
    Fraction::percent(0.1)
}
