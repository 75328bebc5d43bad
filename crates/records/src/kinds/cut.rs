//! A harvest was carried off.

use std::collections::BTreeMap;

use agronomy::{
    crop::library,
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Fraction, MassPerArea},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::dressing::Nutrient;
use crate::{
    book::{self, Books, Inked},
    record::Record,
    shape::Turn,
};

/// How much of what.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedCut)]
pub struct Cut {
    /// Crop of the library; of a mix, the one whose table fits best.
    pub crop: String,
    /// As weighed.
    pub harvested: MassPerArea,
    /// Its moisture; dry matter when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub moisture: Option<Fraction>,
    /// Cut in late winter or after frost.
    #[serde(default)]
    pub after_frost: bool,
    /// Shares of dry matter from a forage analysis.
    #[serde(default)]
    #[schema(value_type = BTreeMap<String, Fraction>)]
    pub analysis: BTreeMap<Nutrient, Fraction>,
}

impl From<Cut> for book::Cut {
    fn from(Cut { crop, harvested, moisture, after_frost, analysis }: Cut) -> Self {
        Self { crop, harvested, moisture, after_frost, analysis: analysis.turn() }
    }
}

/// A harvest was carried off.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CutCarried {
    /// How much of what.
    pub cut: Cut,
}

impl Record for CutCarried {
    const KIND: &'static str = "cut";
    const TITLE: &'static str = "Cut";
    const DEED: &'static str = "Harvest carried off";

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        checks.part("/cut", book::Cut::from(self.cut.clone()).removed().map_err(harvested_not_yield));
        checks.done()
    }

    fn says(&self) -> Said {
        let Cut { crop, harvested, moisture, .. } = &self.cut;
        let name = library().crop(crop).map_or(crop.as_str(), |crop| &crop.name);
        match moisture {
            Some(moisture) => said!("Cut: {} of {} at {} moisture", harvested, name, moisture),
            None => said!("Cut: {} of {}", harvested, name),
        }
    }

    fn operation(&self) -> Option<&str> {
        Some("cut")
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(field) = books.field_of(inked) {
            field.cuts.push(inked.dated(self.cut.clone().into()));
        }
    }
}

/// The removal reckoning calls its amount the yield; the record calls it what was harvested.
fn harvested_not_yield(mut refused: Refused) -> Refused {
    for refusal in &mut refused.0 {
        if refusal.pointer == "/yield" {
            refusal.pointer = "/harvested".to_owned();
        }
    }
    refused
}
