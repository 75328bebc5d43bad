//! A variety or hybrid that the farm knows, as it is. The last one counts.

use agronomy::{
    crop::library,
    refusal::{Checks, Refused},
    said,
    said::Said,
    variety::variety_kinds,
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    record::{By, Founds, Record},
    shape::check_words,
    subject::SubjectKind,
};

/// A variety or hybrid that the farm knows.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedVariety)]
pub struct Variety {
    /// What it is called.
    pub name: String,
    /// Crop of the library.
    pub crop: String,
    /// Key of its kind, where the crop has kinds.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub kind_of_it: Option<String>,
    /// Fall dormancy, 1 to 11.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub dormancy: Option<f64>,
    /// Days to maturity, as its seller gives them.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub maturity_days: Option<f64>,
    /// Herbicides that it bears, in the person's words.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bears: Option<String>,
    /// Anything else.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
    /// It is sown no more; its trials stay.
    #[serde(default)]
    pub gone: bool,
}

impl Record for Variety {
    const KIND: &'static str = "variety";
    const TITLE: &'static str = "Variety";
    const NEEDS: &'static [SubjectKind] = &[SubjectKind::Variety];
    const BY: By = By::Manager;
    const REPLACES: bool = true;
    const FOUNDS: Option<Founds> = Some(Founds::one(SubjectKind::Variety));

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        check_words(&mut checks, "/name", &self.name, true);
        let known = library().crop(&self.crop).is_some();
        checks.require(known, "/crop", said!("“{}” is not a crop in the library", self.crop.as_str()));
        if let Some(key) = &self.kind_of_it {
            let known = variety_kinds(&self.crop).any(|kind| kind.key == *key);
            checks.require(known, "/kind_of_it", said!("“{}” is not a known type of this crop", key.as_str()));
        }
        if let Some(dormancy) = self.dormancy {
            let right = (1.0..=11.0).contains(&dormancy);
            checks.require(right, "/dormancy", said!("Fall dormancy is {}; enter 1–11", dormancy));
        }
        if let Some(days) = self.maturity_days {
            let right = (20.0..=300.0).contains(&days);
            checks.require(right, "/maturity_days", said!("{} days; enter 20–300", days));
        }
        check_words(&mut checks, "/bears", self.bears.as_deref().unwrap_or_default(), false);
        check_words(&mut checks, "/note", self.note.as_deref().unwrap_or_default(), false);
        checks.done()
    }

    fn says(&self) -> Said {
        let crop = library().crop(&self.crop).map_or(self.crop.as_str(), |crop| &crop.name);
        let mut parts = vec![said!("Variety {} of {}", self.name.as_str(), crop)];
        let kind = self.kind_of_it.as_ref().and_then(|key| variety_kinds(&self.crop).find(|kind| kind.key == *key));
        parts.extend(kind.map(|kind| Said::from(kind.name.as_str())));
        parts.extend(self.dormancy.map(|dormancy| said!("fall dormancy {}", dormancy)));
        parts.extend(self.maturity_days.map(|days| said!("{} days", days)));
        parts.extend(self.bears.as_deref().map(|bears| said!("tolerates {}", bears)));
        parts.extend(self.note.as_deref().map(Said::from));
        parts.extend(self.gone.then(|| "no longer sown".into()));
        Said::joined(parts, ", ")
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(book) = books.variety_of(inked) {
            book.facts = Some(inked.dated(self.clone()));
        }
    }
}
