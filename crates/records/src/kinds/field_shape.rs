//! How a field lies from a day on: its name, its outline, its area.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Area, Length, Measure, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    record::{By, Record},
    shape::check_words,
};

/// How a field lies from a day on. The last one counts; what was sown before keeps the area it was sown on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedFieldShape)]
pub struct FieldShape {
    /// Its name.
    pub name: String,
    /// GeoJSON polygon; none of a field whose area alone is known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub outline: Option<Value>,
    /// Inside the outline, or as told.
    pub area: Area,
    /// Inside the setback.
    pub sown_area: Area,
    /// Kept unsown along the outline.
    pub setback: Length,
    /// It is no longer worked: it and all that was recorded of it stay legible.
    #[serde(default)]
    pub retired: bool,
}

impl Record for FieldShape {
    const KIND: &'static str = "field-shape";
    const TITLE: &'static str = "Field boundary or area";
    const BY: By = By::Itself("edit a field on its own page");
    const REPLACES: bool = true;

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        check_words(&mut checks, "/name", &self.name, true);
        checks.positive("/area", "Area", self.area, Unit::Ha, 20_000.0);
        checks.positive("/sown_area", "Sown area", self.sown_area, Unit::Ha, 20_000.0);
        checks.require(
            self.sown_area.base() <= self.area.base() * (1.0 + 1e-9),
            "/sown_area",
            said!("Sown area {} is more than the field’s {}", self.sown_area, self.area),
        );
        checks.within("/setback", "Setback", self.setback, Unit::M, 0.0, 500.0);
        checks.done()
    }

    fn says(&self) -> Said {
        let drawn = if self.outline.is_some() { "drawn" } else { "area only" };
        let retired = if self.retired { "; no longer farmed" } else { "" };
        said!("{}: {}, sown area {}, {}{}", self.name, self.area, self.sown_area, drawn, retired)
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(field) = books.field_of(inked) {
            field.shapes.push(inked.dated(self.clone()));
        }
    }
}
