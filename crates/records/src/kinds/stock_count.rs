//! How much of a product lies in the shed.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Mass, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    record::Record,
    subject::SubjectKind,
};

/// How much of a product lies in the shed, counted: what was bought before is in it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedStock)]
pub struct StockCounted {
    /// So much.
    pub there: Mass,
}

impl Record for StockCounted {
    const KIND: &'static str = "stock-count";
    const TITLE: &'static str = "Stock count";
    const NEEDS: &'static [SubjectKind] = &[SubjectKind::Product];

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        checks.within("/there", "Amount on hand", self.there, Unit::T, 0.0, 100_000.0);
        checks.done()
    }

    fn says(&self) -> Said {
        said!("{} on hand", self.there)
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(product) = books.product_of(inked) {
            product.counts.push(inked.dated(self.clone()));
        }
    }
}
