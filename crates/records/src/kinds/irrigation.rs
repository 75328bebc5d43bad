//! Water was brought.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Length, Quantity, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    record::Record,
};

/// Water was brought.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedIrrigation)]
pub struct Irrigation {
    /// How much.
    pub depth: Length,
}

impl Record for Irrigation {
    const KIND: &'static str = "irrigation";
    const TITLE: &'static str = "Irrigation";
    const DEED: &'static str = "Irrigate";

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        checks.within("/depth", "Irrigation", self.depth, Unit::Mm, 0.1, 300.0);
        checks.done()
    }

    fn says(&self) -> Said {
        said!("Irrigated: {}", Quantity::water(self.depth))
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(field) = books.field_of(inked) {
            field.irrigation.push(inked.dated(self.depth));
        }
    }
}
