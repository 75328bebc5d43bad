//! Another entry was a mistake.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    record::{By, Record},
    shape::check_words,
    subject::SubjectKind,
};

/// Another entry was a mistake: it stays legible and counts no more.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Strike {
    /// Why.
    pub reason: String,
}

impl Record for Strike {
    const KIND: &'static str = "strike";
    const TITLE: &'static str = "Strike";
    const NEEDS: &'static [SubjectKind] = &[];
    const SEVERAL: &'static [SubjectKind] = SubjectKind::ALL;
    const BY: By = By::Itself("strike an entry from its own page");

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        check_words(&mut checks, "/reason", &self.reason, true);
        checks.done()
    }

    fn says(&self) -> Said {
        said!("Struck: {}", self.reason)
    }
}
