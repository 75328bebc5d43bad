//! Wrappers that keep apart what shares a dimension but not a meaning.
//!
//! A kilogram of pure live seed is not a kilogram out of the bag; a tonne of dry matter is not a
//! tonne of hay; phosphorus is not phosphate. Each pair converts only through the figure that
//! links them: a lot's PLS fraction, a moisture, a ratio of molar masses.

use std::ops::{Add, Div, Mul};

use serde::{Deserialize, Serialize};

use super::{Fraction, Measure};

macro_rules! basis {
    ($($(#[doc = $about:literal])+ $name:ident)+) => {$(
        $(#[doc = $about])+
        #[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Default, Serialize, Deserialize)]
        #[serde(transparent)]
        pub struct $name<M>(pub M);

        impl<M: Add<Output = M>> Add for $name<M> {
            type Output = Self;
            fn add(self, other: Self) -> Self { Self(self.0 + other.0) }
        }
        impl<M: Measure> Measure for $name<M> {
            const DIMENSION: super::Dimension = M::DIMENSION;
            const WRITTEN: super::Unit = M::WRITTEN;
            fn from_base(base: f64) -> Self { Self(M::from_base(base)) }
            fn base(self) -> f64 { self.0.base() }
        }
    )+};
}

basis! {
    /// Counted or weighed as pure live seed.
    PureLive
    /// As it comes out of the bag: coating, chaff and dead seed included.
    Bulk
    /// Dry matter.
    DryMatter
    /// As fed, water included.
    AsFed
    /// A nutrient as the element (P, K, Ca, Mg).
    Element
    /// A nutrient as its oxide (P₂O₅, K₂O, CaO, MgO), as fertiliser grades print it.
    Oxide
}

/// Anything times a factor keeps its basis.
impl<M: Mul<B>, B> Mul<B> for PureLive<M> {
    type Output = PureLive<M::Output>;
    fn mul(self, by: B) -> Self::Output {
        PureLive(self.0 * by)
    }
}

/// Anything divided by a plain measure keeps its basis.
impl<M: Div<B>, B: Measure> Div<B> for PureLive<M> {
    type Output = PureLive<M::Output>;
    fn div(self, by: B) -> Self::Output {
        PureLive(self.0 / by)
    }
}

/// The share of a lot that is pure live seed: the only bridge between [`PureLive`] and [`Bulk`].
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd)]
pub struct PlsFraction(pub Fraction);

impl<M: Mul<Fraction, Output = M>> Mul<PlsFraction> for Bulk<M> {
    type Output = PureLive<M>;
    fn mul(self, by: PlsFraction) -> PureLive<M> {
        PureLive(self.0 * by.0)
    }
}

impl<M: Div<Fraction, Output = M>> PureLive<M> {
    /// How much out of the bag carries this much pure live seed.
    pub fn in_bulk(self, lot: PlsFraction) -> Bulk<M> {
        Bulk(self.0 / lot.0)
    }
}

impl<M: Mul<Fraction, Output = M>> AsFed<M> {
    /// The dry matter in it, by wet-basis moisture.
    pub fn dry(self, moisture: Fraction) -> DryMatter<M> {
        DryMatter(self.0 * Fraction::from_base(1.0 - moisture.base()))
    }
}

impl<M: Div<Fraction, Output = M>> DryMatter<M> {
    /// What it weighs at a wet-basis moisture.
    pub fn at_moisture(self, moisture: Fraction) -> AsFed<M> {
        AsFed(self.0 / Fraction::from_base(1.0 - moisture.base()))
    }
}

/// A nutrient sold as an oxide and taken up as an element.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum OxidePair {
    /// Phosphorus, P and P₂O₅.
    Phosphorus,
    /// Potassium, K and K₂O.
    Potassium,
    /// Calcium, Ca and CaO.
    Calcium,
    /// Magnesium, Mg and MgO.
    Magnesium,
}

impl OxidePair {
    /// Mass of oxide per mass of element, from the IUPAC (2021, abridged) atomic weights:
    /// O 15.999, P 30.974, K 39.098, Ca 40.078, Mg 24.305.
    pub const fn oxide_per_element(self) -> f64 {
        const O: f64 = 15.999;
        match self {
            Self::Phosphorus => (2.0 * 30.974 + 5.0 * O) / (2.0 * 30.974),
            Self::Potassium => (2.0 * 39.098 + O) / (2.0 * 39.098),
            Self::Calcium => (40.078 + O) / 40.078,
            Self::Magnesium => (24.305 + O) / 24.305,
        }
    }
}

impl<M: Mul<f64, Output = M>> Element<M> {
    /// The oxide that holds this much of the element.
    pub fn oxide(self, nutrient: OxidePair) -> Oxide<M> {
        Oxide(self.0 * nutrient.oxide_per_element())
    }
}

impl<M: Div<f64, Output = M>> Oxide<M> {
    /// The element held in this much oxide.
    pub fn element(self, nutrient: OxidePair) -> Element<M> {
        Element(self.0 / nutrient.oxide_per_element())
    }
}
