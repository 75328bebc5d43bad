//! An entry: a record in ink, with what the ledger knows of it.

use jiff::{Timestamp, civil::Date};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{About, Closes, Part, Payload, SubjectKind, Unreadable};

/// How an entry came in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Via {
    Web,
    Demo,
    StandIn,
    Import,
}

impl Via {
    const ALL: [Self; 4] = [Self::Web, Self::Demo, Self::StandIn, Self::Import];

    /// The word it is stored by.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Web => "web",
            Self::Demo => "demo",
            Self::StandIn => "stand-in",
            Self::Import => "import",
        }
    }

    /// The way of a stored word; the table admits no others.
    pub fn of(word: &str) -> Self {
        Self::ALL.into_iter().find(|via| via.word() == word).unwrap_or(Self::Web)
    }
}

/// What an entry says, as far as this build can read it.
#[derive(Debug, Clone, PartialEq)]
pub enum Content {
    /// Read.
    Read(Payload),
    /// Not read: it stays in the ledger, is shown as such, and counts for nothing.
    Unreadable {
        /// Its kind's word, as stored.
        kind: String,
        /// Why.
        why: Unreadable,
    },
}

/// An entry.
#[derive(Debug, Clone, PartialEq)]
pub struct Entry {
    /// Id.
    pub id: Uuid,
    /// What it is about, in the order of kinds; nothing for the farm.
    pub about: Vec<About>,
    /// The day it happened.
    pub occurred_on: Date,
    /// When it was written down.
    pub recorded_at: Timestamp,
    /// By whom.
    pub recorded_by: Uuid,
    /// How it came in.
    pub via: Via,
    /// What it says.
    pub content: Content,
    /// The place in a stand's years that it was written for, where it says so.
    pub closes: Option<Closes>,
    /// The entry it strikes.
    pub strikes: Option<Uuid>,
    /// The entry that strikes it.
    pub struck_by: Option<Uuid>,
}

impl Entry {
    /// The thing of a kind that it is about: of several the first.
    pub fn subject(&self, kind: SubjectKind) -> Option<Uuid> {
        self.each(kind).next()
    }

    /// All things of a kind that it is about.
    pub fn each(&self, kind: SubjectKind) -> impl Iterator<Item = Uuid> {
        self.about.iter().filter(move |one| one.kind == kind).map(|one| one.id)
    }

    /// The things of a kind that have a part in it.
    pub fn each_part(&self, kind: SubjectKind, part: Part) -> impl Iterator<Item = Uuid> {
        self.about.iter().filter(move |one| one.kind == kind && one.part == Some(part)).map(|one| one.id)
    }

    /// The things that it brought into being.
    pub fn founded(&self) -> impl Iterator<Item = About> {
        let founds = self.payload().and_then(|payload| payload.kind().founds);
        self.about.iter().copied().filter(move |one| founds.is_some_and(|founds| founds.has(one)))
    }

    /// The field it is about.
    pub fn field(&self) -> Option<Uuid> {
        self.subject(SubjectKind::Field)
    }

    /// The stand it is about.
    pub fn stand(&self) -> Option<Uuid> {
        self.subject(SubjectKind::Stand)
    }

    /// The seed lot it is about.
    pub fn lot(&self) -> Option<Uuid> {
        self.subject(SubjectKind::SeedLot)
    }

    /// What it says, where it can be read.
    pub fn payload(&self) -> Option<&Payload> {
        match &self.content {
            Content::Read(payload) => Some(payload),
            Content::Unreadable { .. } => None,
        }
    }

    /// What it says, where it can be read and has not been struck.
    pub fn standing(&self) -> Option<&Payload> {
        self.payload().filter(|_| self.struck_by.is_none())
    }
}
