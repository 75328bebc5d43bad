//! What a record is about.

use std::fmt;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// What kind of thing a record is about. The list is open: a new kind is a line here and no migration.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum SubjectKind {
    Field,
    Stand,
    Lot,
    Store,
    Mob,
    Paddock,
    Machine,
    Product,
    Mix,
    Variety,
    Person,
}

impl SubjectKind {
    /// All.
    pub const ALL: [Self; 11] = [
        Self::Field,
        Self::Stand,
        Self::Lot,
        Self::Store,
        Self::Mob,
        Self::Paddock,
        Self::Machine,
        Self::Product,
        Self::Mix,
        Self::Variety,
        Self::Person,
    ];

    /// The word it is stored by.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Field => "field",
            Self::Stand => "stand",
            Self::Lot => "lot",
            Self::Store => "store",
            Self::Mob => "mob",
            Self::Paddock => "paddock",
            Self::Machine => "machine",
            Self::Product => "product",
            Self::Mix => "mix",
            Self::Variety => "variety",
            Self::Person => "person",
        }
    }

    /// The kind of a stored word.
    pub fn of(word: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|kind| kind.word() == word)
    }
}

impl fmt::Display for SubjectKind {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.word())
    }
}

/// A thing that a record is about. A record about no thing is about the farm.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Subject {
    /// What kind of thing.
    pub kind: SubjectKind,
    /// Which.
    pub id: Uuid,
}

impl Subject {
    /// A field.
    pub const fn field(id: Uuid) -> Self {
        Self { kind: SubjectKind::Field, id }
    }

    /// A stand.
    pub const fn stand(id: Uuid) -> Self {
        Self { kind: SubjectKind::Stand, id }
    }

    /// A machine.
    pub const fn machine(id: Uuid) -> Self {
        Self { kind: SubjectKind::Machine, id }
    }

    /// A product.
    pub const fn product(id: Uuid) -> Self {
        Self { kind: SubjectKind::Product, id }
    }

    /// A seed lot.
    pub const fn lot(id: Uuid) -> Self {
        Self { kind: SubjectKind::Lot, id }
    }
}
