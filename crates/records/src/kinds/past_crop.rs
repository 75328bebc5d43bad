//! A crop was ended.

use agronomy::{
    crop::library,
    refusal::{Checks, Refused},
    said,
    said::Said,
    site::PastCrop,
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    record::Record,
    shape::check_words,
};

/// A crop was ended.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PastCropEnded {
    /// Crop of the library, or any name.
    pub crop: String,
    /// Years it had stood.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub years: Option<f64>,
}

impl Record for PastCropEnded {
    const KIND: &'static str = "past-crop";
    const TITLE: &'static str = "Past crop";
    const DEED: &'static str = "End a crop";

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        check_words(&mut checks, "/crop", &self.crop, true);
        if let Some(years) = self.years {
            let detail = format!("{years} years; enter 0–100");
            checks.require((0.0..=100.0).contains(&years), "/years", detail);
        }
        checks.done()
    }

    fn says(&self) -> Said {
        let name = library().crop(&self.crop).map_or(self.crop.as_str(), |crop| &crop.name);
        let mut letters = name.chars();
        let name: String = letters.next().into_iter().flat_map(char::to_uppercase).chain(letters).collect();
        match self.years {
            Some(1.0) => said!("{} ended after 1 year", name),
            Some(years) => said!("{} ended after {} years", name, years),
            None => said!("{} ended", name),
        }
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        let past = PastCrop { crop: self.crop.clone(), ended: inked.0.occurred_on, years: self.years };
        if let Some(field) = books.field_of(inked) {
            field.past_crops.push(inked.dated(past));
        }
    }
}
