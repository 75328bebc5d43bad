//! Lime, fertiliser or manure was spread.

use std::collections::BTreeMap;

use agronomy::{
    nutrients::Analysis,
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Area, Fraction, MassPerArea, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

use crate::{
    book::{self, Books, Inked},
    record::{Record, Unreadable},
    shape::{Turn, check_words, words},
};

words! {
    /// A nutrient as grades and removal tables count it.
    Nutrient as RecordedNutrient = agronomy::nutrients::Nutrient {
        "n" N, "p2o5" P2o5, "k2o" K2o, "ca" Ca, "mg" Mg, "s" S, "b" B, "zn" Zn, "mn" Mn, "cu" Cu, "mo" Mo,
    }
}

/// What a dressing was for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum DressingKind {
    Lime,
    Fertiliser,
    Manure,
}

/// The parts of a lime that react, as shares of its mass.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct EffectiveLime {
    /// Fine: within months.
    pub fast: Fraction,
    /// Coarser: over years.
    pub slow: Fraction,
}

/// What was spread, and how much.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedDressing)]
pub struct Dressing {
    /// What for.
    pub what: DressingKind,
    /// The product.
    pub product: String,
    /// How much of it.
    pub rate: MassPerArea,
    /// Nutrients in it, as available this year.
    #[serde(default)]
    #[schema(value_type = BTreeMap<String, Fraction>)]
    pub analysis: BTreeMap<Nutrient, Fraction>,
    /// For lime: what of it reacts.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub effective: Option<EffectiveLime>,
}

impl From<Dressing> for book::Dressing {
    fn from(Dressing { what, product, rate, analysis, effective }: Dressing) -> Self {
        Self { what, product, rate, analysis: analysis.turn(), effective }
    }
}

/// Where it was put.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = DressingPlacement)]
#[allow(missing_docs)]
pub enum Placement {
    /// On the surface, and left there.
    Broadcast,
    /// On the surface, and worked in.
    Incorporated,
    /// In bands beside or below the seed.
    Banded,
    /// In the row with the seed.
    WithSeed,
    /// Liquid into a slot.
    Injected,
    /// On the leaves.
    Foliar,
}

impl Placement {
    fn words(self) -> &'static str {
        match self {
            Self::Broadcast => "broadcast",
            Self::Incorporated => "broadcast and worked in",
            Self::Banded => "banded",
            Self::WithSeed => "with the seed",
            Self::Injected => "injected",
            Self::Foliar => "foliar",
        }
    }
}

/// Lime, fertiliser or manure was spread. The product may be one of the shed, which it is then about.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DressingSpread {
    /// What, and how much.
    pub dressing: Dressing,
    /// Area it was spread on; the whole field when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub area: Option<Area>,
    /// Where it was put.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub placement: Option<Placement>,
    /// Anything else.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

impl Record for DressingSpread {
    const KIND: &'static str = "dressing";
    const TITLE: &'static str = "Lime or nutrients applied";
    const DEED: &'static str = "Spread lime, fertilizer or manure";
    /// 1 knew neither area nor placement.
    const VERSION: i32 = 2;

    fn upgrade(_: i32, payload: Value) -> Result<Value, Unreadable> {
        Ok(payload)
    }

    fn of_part(&self, share: f64) -> Self {
        Self { area: self.area.map(|area| area * share), ..self.clone() }
    }

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        let Dressing { product, rate, analysis, effective, .. } = &self.dressing;
        check_words(&mut checks, "/dressing/product", product, true);
        checks.positive("/dressing/rate", "Rate", *rate, Unit::TPerHa, 200.0);
        check_analysis(&mut checks, "/dressing/analysis", &analysis.clone().turn());
        if let Some(area) = self.area {
            checks.within("/area", "Area", area, Unit::Ha, 0.001, 20_000.0);
        }
        check_words(&mut checks, "/note", self.note.as_deref().unwrap_or_default(), false);
        if let Some(lime) = effective {
            let value = lime.fast + lime.slow;
            checks.within("/dressing/effective/fast", "Fast-acting share", lime.fast, Unit::Percent, 0.0, 250.0);
            checks.within("/dressing/effective/slow", "Slow-acting share", lime.slow, Unit::Percent, 0.0, 250.0);
            checks.within("/dressing/effective", "Effective value", value, Unit::Percent, 0.0, 250.0);
        }
        checks.done()
    }

    fn says(&self) -> Said {
        let Dressing { what, product, rate, .. } = &self.dressing;
        let done = match what {
            DressingKind::Lime => "Limed",
            DressingKind::Fertiliser => "Fertilized",
            DressingKind::Manure => "Manure spread",
        };
        let mut parts = vec![said!("{}: {} of {}", done, rate, product)];
        parts.extend(self.placement.map(|placement| Said::from(placement.words())));
        parts.extend(self.area.map(|area| said!("on {}", area)));
        let head = Said::joined(parts, ", ");
        Said::joined([Some(head), self.note.as_deref().map(Said::from)].into_iter().flatten(), ". ")
    }

    fn operation(&self) -> Option<&str> {
        Some(if self.dressing.what == DressingKind::Lime { "lime" } else { "dress" })
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(field) = books.field_of(inked) {
            field.dressings.push(inked.dated(self.dressing.clone().into()));
        }
        if let (Some(area), Some(product)) = (self.area, books.product_of(inked)) {
            product.spread.push(inked.dated(self.dressing.rate * area));
        }
    }
}

/// Refuse shares below nothing, and such as add up to more than the whole.
fn check_analysis(checks: &mut Checks, pointer: &str, analysis: &Analysis) {
    for (nutrient, share) in analysis {
        checks.within(pointer, nutrient.words(), *share, Unit::Percent, 0.0, 100.0);
    }
    let sum: Fraction = analysis.values().copied().sum();
    checks.within(pointer, "Analysis total", sum, Unit::Percent, -1e9, 100.0);
}
