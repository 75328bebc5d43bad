//! A result of a variety in a trial.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{MassPerArea, Unit},
    variety::Trial,
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    record::Record,
    shape::check_words,
    subject::SubjectKind,
};

/// A result of a variety in a trial, of the farm's own or published.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedTrial)]
pub struct VarietyTrial {
    /// Of the variety, in that year.
    #[serde(rename = "yield")]
    pub yielded: MassPerArea,
    /// Of all varieties beside it.
    pub mean: MassPerArea,
    /// Where, and who made it.
    pub place: String,
}

impl VarietyTrial {
    /// As it is reckoned with.
    pub fn ready(&self) -> Trial {
        Trial { yielded: self.yielded, mean: self.mean }
    }
}

impl Record for VarietyTrial {
    const KIND: &'static str = "variety-trial";
    const TITLE: &'static str = "Trial result";
    const NEEDS: &'static [SubjectKind] = &[SubjectKind::Variety];

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        checks.within("/yield", "Yield", self.yielded, Unit::TPerHa, 0.0, 100.0);
        checks.positive("/mean", "Trial mean", self.mean, Unit::TPerHa, 100.0);
        check_words(&mut checks, "/place", &self.place, true);
        checks.done()
    }

    fn says(&self) -> Said {
        said!("Trial: {} (trial mean {}), {}", self.yielded, self.mean, self.place.as_str())
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(book) = books.variety_of(inked) {
            book.trials.push(inked.dated(self.clone()));
        }
    }
}
