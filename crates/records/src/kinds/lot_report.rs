//! A laboratory reported on a seed lot.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    seed::LabReport,
    units::Fraction,
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    book::{Books, Inked},
    record::{By, Record},
    shape::{Turn, stands_for},
    subject::SubjectKind,
};

/// What a seed laboratory found.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedReport)]
pub struct Report {
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
stands_for!(Report = LabReport {
    format, laboratory, sample, crop, lot, tested_on, purity, inert, other_crop, weed_seed, germination, dormant,
    seeds_tested,
});

/// A laboratory reported on a seed lot.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct LotReport {
    /// What it found.
    pub report: Report,
}

impl LotReport {
    /// Of a report.
    pub fn of(report: LabReport) -> Self {
        Self { report: report.turn() }
    }
}

impl Record for LotReport {
    const KIND: &'static str = "lot-report";
    const TITLE: &'static str = "Laboratory report";
    const NEEDS: &'static [SubjectKind] = &[SubjectKind::SeedLot];
    const BY: By = By::Manager;

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        let report: LabReport = self.report.clone().turn();
        checks.part("/report", report.check());
        checks.done()
    }

    fn says(&self) -> Said {
        let Report { laboratory, purity, germination, seeds_tested, .. } = &self.report;
        said!("{}: purity {}, germination {} of {} seeds", laboratory, purity, germination, seeds_tested)
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        let report: LabReport = self.report.clone().turn();
        if let Some(lot) = books.lot_of(inked) {
            lot.tag = lot.tag.take().map(|tag| report.onto(&tag));
            lot.reports += 1;
        }
    }
}
