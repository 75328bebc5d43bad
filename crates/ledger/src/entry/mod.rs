//! Entries: ink.
//!
//! What a record may say, and of what, is declared in [`records`]; here it is written down for good,
//! and found again by anything it is about.

mod read;
mod write;

use jiff::civil::Date;
use records::{About, Closes, Payload, Subject};
use uuid::Uuid;

pub use read::{all, books, counting, find, list, touched_since};
pub use records::{Entry, Via};
pub(crate) use write::copy;
pub use write::{strike, write};

/// The day of an entry.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Day {
    /// As the writer said.
    Given(Date),
    /// The day of writing: sent again after midnight, it is still the same entry.
    Today,
}

/// An entry about to be written.
#[derive(Debug, Clone, PartialEq)]
pub struct NewEntry {
    /// Made by the client, so that the same submission is the same entry.
    pub id: Uuid,
    /// What it is about; nothing for the farm. A stand brings its field along.
    pub about: Vec<About>,
    /// The day it happened.
    pub on: Day,
    /// How it came in.
    pub via: Via,
    /// What it says.
    pub payload: Payload,
    /// The place in a stand's years that it closes.
    pub closes: Option<Closes>,
    /// The entry it strikes.
    pub strikes: Option<Uuid>,
    /// The entry of its kind that the writer saw and means to replace, where one counts at a time.
    pub after: Option<Uuid>,
}

impl NewEntry {
    /// About some things, none of which has a part in it.
    pub fn of(id: Uuid, about: impl IntoIterator<Item = Subject>, on: Date, via: Via, payload: Payload) -> Self {
        let about = about.into_iter().map(Into::into).collect();
        Self { id, about, on: Day::Given(on), via, payload, closes: None, strikes: None, after: None }
    }

    /// The same, written down for the day of writing.
    pub fn today(mut self) -> Self {
        self.on = Day::Today;
        self
    }
}

/// Which entries to list.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Filter {
    /// About each of these.
    pub about: Vec<Subject>,
    /// Of this kind.
    pub kind: Option<String>,
    /// From where on.
    pub from: Beside,
}

/// From where on entries are listed, newest day first.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub enum Beside {
    /// The newest.
    #[default]
    Newest,
    /// Those behind an entry.
    OlderThan(Uuid),
    /// Those just before an entry.
    NewerThan(Uuid),
    /// The oldest.
    Oldest,
}
