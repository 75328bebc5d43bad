//! A soil sample was taken; what the laboratory finds comes later.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Length, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked, TakenSample},
    record::Record,
    shape::check_words,
};

/// A soil sample was taken. Its day is enough: the report is a record of its own.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SampleTaken {
    /// Cores that went into it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cores: Option<u32>,
    /// How deep they were taken.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub depth: Option<Length>,
    /// What stands on the bag.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bag: Option<String>,
    /// Anything else.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

impl Record for SampleTaken {
    const KIND: &'static str = "sample-taken";
    const TITLE: &'static str = "Soil sample";

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        if let Some(cores) = self.cores {
            checks.require((1..=500).contains(&cores), "/cores", said!("{} cores; enter 1–500", cores));
        }
        if let Some(depth) = self.depth {
            checks.within("/depth", "Depth", depth, Unit::Cm, 1.0, 120.0);
        }
        check_words(&mut checks, "/bag", self.bag.as_deref().unwrap_or_default(), false);
        check_words(&mut checks, "/note", self.note.as_deref().unwrap_or_default(), false);
        checks.done()
    }

    fn says(&self) -> Said {
        let mut parts = vec![Said::from("Soil sample")];
        parts.extend(self.cores.map(|cores| said!("{} cores", cores)));
        parts.extend(self.depth.map(|depth| said!("to {}", depth)));
        parts.extend(self.bag.as_deref().map(|bag| said!("bag {}", bag)));
        parts.extend(self.note.as_deref().map(Said::from));
        Said::joined(parts, ", ")
    }

    fn operation(&self) -> Option<&str> {
        Some("sample-soil")
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(field) = books.field_of(inked) {
            field.taken.push(inked.dated(TakenSample { cores: self.cores, bag: self.bag.clone() }));
        }
    }
}
