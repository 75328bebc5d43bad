//! A stand was cut, and what was harvested of it.

use std::collections::BTreeMap;

use agronomy::{
    crop::library,
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Area, Fraction, Length, MassPerArea, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

use super::dressing::Nutrient;
use crate::{
    book::{self, Books, Inked},
    record::{Record, Unreadable},
    shape::{Turn, check_words},
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

/// How far a stand had come when it was cut.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum CutStage {
    Vegetative,
    /// Bud of legumes, boot of grasses.
    BudOrBoot,
    /// A tenth of a legume's stems in bloom, a tenth of a grass's heads out.
    EarlyBloomOrHeading,
    /// Half and more in bloom, or flowering.
    FullBloom,
    /// Seed or grain is forming.
    SeedSet,
    /// Dead after frost.
    AfterFrost,
}

impl CutStage {
    /// As people say it.
    pub fn words(self) -> &'static str {
        match self {
            Self::Vegetative => "vegetative",
            Self::BudOrBoot => "at bud or boot",
            Self::EarlyBloomOrHeading => "at early bloom or heading",
            Self::FullBloom => "at full bloom",
            Self::SeedSet => "at seed set",
            Self::AfterFrost => "after frost",
        }
    }
}

/// A stand was cut. All may be left out in the field: what a scale or a laboratory tells comes later.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = CutCarried)]
pub struct CutMade {
    /// What was harvested, as far as it was weighed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cut: Option<Cut>,
    /// Area cut; the whole field when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub area: Option<Area>,
    /// How far it had come.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub stage: Option<CutStage>,
    /// How tall it stood.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub height: Option<Length>,
    /// How much was left standing.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub stubble: Option<Length>,
    /// Anything else.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

impl Record for CutMade {
    const KIND: &'static str = "cut";
    const TITLE: &'static str = "Cut";
    const DEED: &'static str = "Cut or harvest";
    /// 1 was written once the harvest was weighed, and knew no more.
    const VERSION: i32 = 2;

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        if let Some(cut) = &self.cut {
            checks.part("/cut", book::Cut::from(cut.clone()).removed().map_err(harvested_not_yield));
        }
        if let Some(area) = self.area {
            checks.within("/area", "Area", area, Unit::Ha, 0.001, 20_000.0);
        }
        if let Some(height) = self.height {
            checks.within("/height", "Height", height, Unit::Cm, 1.0, 600.0);
        }
        if let Some(stubble) = self.stubble {
            checks.within("/stubble", "Stubble", stubble, Unit::Cm, 0.0, 60.0);
            let under = self.height.is_none_or(|height| stubble <= height);
            checks.require(under, "/stubble", "the stubble is taller than the stand was");
        }
        check_words(&mut checks, "/note", self.note.as_deref().unwrap_or_default(), false);
        checks.done()
    }

    fn of_part(&self, share: f64) -> Self {
        Self { area: self.area.map(|area| area * share), ..self.clone() }
    }

    fn says(&self) -> Said {
        let harvested = self.cut.as_ref().map(|Cut { crop, harvested, moisture, .. }| {
            let name = library().crop(crop).map_or(crop.as_str(), |crop| &crop.name);
            match moisture {
                Some(moisture) => said!("{} of {} at {} moisture", harvested, name, moisture),
                None => said!("{} of {}", harvested, name),
            }
        });
        let mut parts: Vec<Said> = harvested.into_iter().collect();
        parts.extend(self.area.map(|area| said!("{}", area)));
        parts.extend(self.stage.map(|stage| Said::from(stage.words())));
        parts.extend(self.height.map(|height| said!("{} tall", height)));
        parts.extend(self.stubble.map(|stubble| said!("{} of stubble", stubble)));
        let head = match parts.is_empty() {
            true => Said::from("Cut"),
            false => said!("Cut: {}", Said::joined(parts, ", ")),
        };
        Said::joined([Some(head), self.note.as_deref().map(Said::from)].into_iter().flatten(), ". ")
    }

    fn operation(&self) -> Option<&str> {
        Some("cut")
    }

    fn upgrade(_: i32, payload: Value) -> Result<Value, Unreadable> {
        Ok(payload)
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        let Some(field) = books.field_of(inked) else { return };
        match &self.cut {
            Some(cut) => field.cuts.push(inked.dated(cut.clone().into())),
            None => field.unweighed.push(inked.0.occurred_on),
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
