//! A soil sample was sent off.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked, SentSample},
    record::{By, Record},
    shape::check_words,
};

/// A soil sample was sent off.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SoilSample {
    /// To whom.
    pub laboratory: String,
    /// The day its report is due.
    #[schema(value_type = String, format = Date)]
    pub due_on: Date,
}

impl Record for SoilSample {
    const KIND: &'static str = "soil-sample";
    const TITLE: &'static str = "Soil sample";
    const BY: By = By::Itself("send soil samples from the field page");

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        check_words(&mut checks, "/laboratory", &self.laboratory, true);
        checks.done()
    }

    fn says(&self) -> Said {
        said!("Sample sent to {}, due {}", self.laboratory, self.due_on)
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(field) = books.field_of(inked) {
            field.samples.push(inked.dated(SentSample { laboratory: self.laboratory.clone(), due_on: self.due_on }));
        }
    }
}
