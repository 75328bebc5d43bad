//! A field made two, or several made one.

use agronomy::{
    refusal::{Checks, Refused},
    said::Said,
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    record::{By, Record},
    shape::check_words,
    subject::SubjectKind,
};

/// What became of a field.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Parting {
    /// A part of it became a field of its own.
    Split,
    /// Others became a part of it.
    Joined,
}

/// A field by its name of that day.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NamedField {
    /// Its id.
    pub id: Uuid,
    /// What it was called.
    pub name: String,
}

/// A field made two, or several made one: one goes on, the others begin with what was recorded of it, or end in it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedFieldParted)]
pub struct FieldParted {
    /// What happened.
    pub what: Parting,
    /// The field that goes on.
    pub field: NamedField,
    /// Those that begin, or that ended in it.
    pub others: Vec<NamedField>,
}

impl Record for FieldParted {
    const KIND: &'static str = "field-parted";
    const TITLE: &'static str = "Field split or joined";
    const SEVERAL: &'static [SubjectKind] = SubjectKind::ALL;
    const BY: By = By::Itself("split or join a field on its own page");

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        check_words(&mut checks, "/field/name", &self.field.name, true);
        checks.require(!self.others.is_empty(), "/others", "choose the other field");
        for (at, other) in self.others.iter().enumerate() {
            check_words(&mut checks, &format!("/others/{at}/name"), &other.name, true);
            checks.require(other.id != self.field.id, format!("/others/{at}"), "choose a different field");
        }
        checks.done()
    }

    fn says(&self) -> Said {
        let others: Vec<&str> = self.others.iter().map(|other| other.name.as_str()).collect();
        let (field, others) = (&self.field.name, others.join(", "));
        match self.what {
            Parting::Split => format!("{others} split from {field}; records kept").into(),
            Parting::Joined => format!("{others} joined to {field}").into(),
        }
    }
}
