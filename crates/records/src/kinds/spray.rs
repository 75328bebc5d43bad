//! A herbicide was sprayed.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    site::Spray,
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked, StandsFor},
    record::Record,
    shape::check_words,
};

/// A herbicide was sprayed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Sprayed {
    /// Active ingredient.
    pub active: String,
    /// How much of what, in the person's words.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rate: Option<String>,
    /// Months to the crop at hand, as read off the label.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub label_months: Option<i32>,
}

impl Record for Sprayed {
    const KIND: &'static str = "spray";
    const TITLE: &'static str = "Spray";
    const DEED: &'static str = "Herbicide sprayed";

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        check_words(&mut checks, "/active", &self.active, true);
        check_words(&mut checks, "/rate", self.rate.as_deref().unwrap_or_default(), false);
        if let Some(months) = self.label_months {
            let detail = format!("{months} months; it must be from 0 to 120");
            checks.require((0..=120).contains(&months), "/label_months", detail);
        }
        checks.done()
    }

    fn says(&self) -> Said {
        let mut parts = vec![said!("Sprayed {}", self.active)];
        parts.extend(self.rate.as_deref().map(Said::from));
        parts.extend(self.label_months.map(|months| said!("label: {} months", months)));
        Said::joined(parts, ", ")
    }

    fn operation(&self) -> Option<StandsFor> {
        Some(StandsFor::any("spray"))
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        let on = inked.0.occurred_on;
        let spray = Spray { active: self.active.clone(), on, label_months: self.label_months };
        if let Some(field) = books.field_of(inked) {
            field.sprays.push(inked.dated(spray));
        }
    }
}
