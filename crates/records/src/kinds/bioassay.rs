//! The crop was grown in a pot of the soil beside a clean one.

use agronomy::{
    refusal::{Checks, Refused},
    said::Said,
    site::Bioassay,
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    record::Record,
    shape::check_words,
};

/// The crop was grown in a pot of the soil beside a clean one.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct BioassayRead {
    /// It grew as in the clean soil.
    pub passed: bool,
    /// What was seen.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

impl Record for BioassayRead {
    const KIND: &'static str = "bioassay";
    const TITLE: &'static str = "Bioassay";

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        check_words(&mut checks, "/note", self.note.as_deref().unwrap_or_default(), false);
        checks.done()
    }

    fn says(&self) -> Said {
        let outcome = if self.passed { "Bioassay: grew as in clean soil" } else { "Bioassay: failed" };
        Said::joined([Some(outcome), self.note.as_deref()].into_iter().flatten().map(Said::from), ". ")
    }

    fn operation(&self) -> Option<&str> {
        self.passed.then_some("bioassay")
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        let read = Bioassay { on: inked.0.occurred_on, passed: self.passed };
        if let Some(field) = books.field_of(inked) {
            field.bioassays.push(inked.dated(read));
        }
    }
}
