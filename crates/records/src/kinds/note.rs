//! Something worth remembering.

use agronomy::{
    refusal::{Checks, Refused},
    said::Said,
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    record::Record,
    shape::check_words,
    subject::SubjectKind,
};

/// Something worth remembering, about anything or about the farm.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Note {
    /// In the person's words.
    pub text: String,
}

impl Record for Note {
    const KIND: &'static str = "note";
    const TITLE: &'static str = "Note";
    const NEEDS: &'static [SubjectKind] = &[];
    const SEVERAL: &'static [SubjectKind] = SubjectKind::ALL;

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        check_words(&mut checks, "/text", &self.text, true);
        checks.done()
    }

    fn says(&self) -> Said {
        self.text.as_str().into()
    }
}
