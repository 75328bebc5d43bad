//! A rain gauge was emptied.

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

/// A rain gauge was emptied: what fell on the day.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RainGauge {
    /// How much.
    pub rain: Length,
}

impl Record for RainGauge {
    const KIND: &'static str = "rain-gauge";
    const TITLE: &'static str = "Rain gauge";

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        checks.within("/rain", "Rain", self.rain, Unit::Mm, 0.0, 300.0);
        checks.done()
    }

    fn says(&self) -> Said {
        said!("Rain gauge: {}", Quantity::water(self.rain))
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(field) = books.field_of(inked) {
            field.rain_gauge.push(inked.dated(self.rain));
        }
    }
}
