//! What a product costs from a day on, and what was bought of it.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Mass, MoneyPerMass, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    record::{By, Record},
    subject::SubjectKind,
};

/// What a product costs from a day on, and what was bought of it. What was paid stays what it was.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedPrice)]
pub struct PriceTold {
    /// For a mass of it.
    pub price: MoneyPerMass,
    /// Bought at it; nothing for an offer.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bought: Option<Mass>,
}

impl Record for PriceTold {
    const KIND: &'static str = "price";
    const TITLE: &'static str = "Price";
    const DEED: &'static str = "Purchase or quote";
    const NEEDS: &'static [SubjectKind] = &[SubjectKind::Product];
    const BY: By = By::Manager;

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        checks.within("/price", "Price", self.price, Unit::MoneyPerKg, 0.0, 1e8);
        if let Some(bought) = self.bought {
            checks.positive("/bought", "Amount bought", bought, Unit::T, 100_000.0);
        }
        checks.done()
    }

    fn says(&self) -> Said {
        match self.bought {
            Some(bought) => said!("Bought {} at {}", bought, self.price),
            None => said!("Quoted at {}", self.price),
        }
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(product) = books.product_of(inked) {
            product.prices.push(inked.dated(self.clone()));
        }
    }
}
