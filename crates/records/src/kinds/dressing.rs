//! Lime, fertiliser or manure was spread.

use std::collections::BTreeMap;

use agronomy::{
    nutrients::Analysis,
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Fraction, MassPerArea, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{self, Books, Inked},
    record::Record,
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

/// Lime, fertiliser or manure was spread.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DressingSpread {
    /// What, and how much.
    pub dressing: Dressing,
}

impl Record for DressingSpread {
    const KIND: &'static str = "dressing";
    const TITLE: &'static str = "Dressing";
    const DEED: &'static str = "Lime, fertiliser or manure spread";

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        let Dressing { product, rate, analysis, effective, .. } = &self.dressing;
        check_words(&mut checks, "/dressing/product", product, true);
        checks.positive("/dressing/rate", "the rate", *rate, Unit::TPerHa, 200.0);
        check_analysis(&mut checks, "/dressing/analysis", &analysis.clone().turn());
        if let Some(lime) = effective {
            let value = lime.fast + lime.slow;
            checks.within("/dressing/effective/fast", "what reacts fast", lime.fast, Unit::Percent, 0.0, 250.0);
            checks.within("/dressing/effective/slow", "what reacts slowly", lime.slow, Unit::Percent, 0.0, 250.0);
            checks.within("/dressing/effective", "the effective value", value, Unit::Percent, 0.0, 250.0);
        }
        checks.done()
    }

    fn says(&self) -> Said {
        let Dressing { what, product, rate, .. } = &self.dressing;
        let done = match what {
            DressingKind::Lime => "Limed",
            DressingKind::Fertiliser => "Dressed",
            DressingKind::Manure => "Manured",
        };
        said!("{}: {} of {}", done, rate, product)
    }

    fn operation(&self) -> Option<&str> {
        Some(if self.dressing.what == DressingKind::Lime { "lime" } else { "dress" })
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(field) = books.field_of(inked) {
            field.dressings.push(inked.dated(self.dressing.clone().into()));
        }
    }
}

/// Refuse shares below nothing, and such as add up to more than the whole.
fn check_analysis(checks: &mut Checks, pointer: &str, analysis: &Analysis) {
    for (nutrient, share) in analysis {
        checks.within(pointer, nutrient.words(), *share, Unit::Percent, 0.0, 100.0);
    }
    let sum: Fraction = analysis.values().copied().sum();
    checks.within(pointer, "the analysis, added up,", sum, Unit::Percent, -1e9, 100.0);
}
