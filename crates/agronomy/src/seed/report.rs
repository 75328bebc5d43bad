//! A seed laboratory's report, as an open JSON document.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use super::Tag;
use crate::{refusal::Refused, units::Fraction};

/// The name and version a report document carries.
pub const REPORT_FORMAT: &str = "seed-report/1";

/// Purity and germination of a sample, as a laboratory reports them.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct LabReport {
    /// Always `seed-report/1`.
    pub format: String,
    /// Who tested.
    pub laboratory: String,
    /// The sample's number.
    pub sample: Uuid,
    /// Crop id.
    pub crop: String,
    /// The lot's name, as written on the sample.
    pub lot: String,
    /// Day the germination test ended.
    #[schema(value_type = String, format = Date)]
    pub tested_on: Date,
    /// Pure seed.
    pub purity: Fraction,
    /// Inert matter, coating included.
    pub inert: Fraction,
    /// Seed of other crops.
    pub other_crop: Fraction,
    /// Weed seed.
    pub weed_seed: Fraction,
    /// Sprouted.
    pub germination: Fraction,
    /// Alive but not sprouted.
    pub dormant: Fraction,
    /// Seeds in the germination test.
    pub seeds_tested: u32,
}

impl LabReport {
    /// Refuse a document that is not a report or says what can't be.
    ///
    /// # Errors
    /// With pointers into the document.
    pub fn check(&self) -> Result<(), Refused> {
        if self.format != REPORT_FORMAT {
            return Err(Refused::one(
                "/format",
                format!("expected a document of format {REPORT_FORMAT}, not \u{201c}{}\u{201d}", self.format),
            ));
        }
        self.onto(&Tag::new(self.purity, self.germination, self.dormant)).check()
    }

    /// The tag with this report's figures in place of the bag's.
    pub fn onto(&self, tag: &Tag) -> Tag {
        Tag {
            purity: self.purity,
            germination: self.germination,
            dormant: Some(self.dormant),
            inert: Some(self.inert),
            other_crop: Some(self.other_crop),
            weed_seed: Some(self.weed_seed),
            tested_on: Some(self.tested_on),
            ..tag.clone()
        }
    }
}
