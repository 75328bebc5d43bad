//! What every kind of record declares.

use std::fmt;

use agronomy::{refusal::Refused, said::Said};
use jiff::civil::Date;
use serde::{Serialize, de::DeserializeOwned};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    Closes,
    book::{Books, Inked},
    subject::{About, Part, SubjectKind},
};

/// Who may write a kind of record by hand.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum By {
    /// Whoever works there.
    Crew,
    /// Who decides.
    Manager,
    /// Nobody by hand: it comes to be at an address of its own, for the reason given.
    Itself(&'static str),
}

/// What a kind of record brings into being.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Founds {
    /// Things of this kind,
    pub kind: SubjectKind,
    /// that have this part in it.
    pub part: Option<Part>,
}

impl Founds {
    /// What it is about.
    pub const fn one(kind: SubjectKind) -> Self {
        Self { kind, part: None }
    }

    /// What something goes to.
    pub const fn to(kind: SubjectKind) -> Self {
        Self { kind, part: Some(Part::To) }
    }

    /// Whether a thing that a record is about is brought into being by it.
    pub fn has(self, about: &About) -> bool {
        about.kind == self.kind && about.part == self.part
    }
}

/// A stored payload that can't be read, and why: shown as such, and counted for nothing.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Unreadable(pub String);

impl fmt::Display for Unreadable {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.0)
    }
}

/// A kind of record, declared by the shape it is stored in.
pub trait Record: Clone + PartialEq + fmt::Debug + Serialize + DeserializeOwned + ToSchema + 'static {
    /// Its word, as stored and as asked for.
    const KIND: &'static str;
    /// Its name for people.
    const TITLE: &'static str;
    /// How writing one is offered: what happened, or what was found.
    const DEED: &'static str = Self::TITLE;
    /// Version of the shape. A change of shape raises it and adds a step to [`Record::upgrade`].
    const VERSION: i32 = 1;
    /// What it must be about; nothing for what may be about the farm as a whole.
    const NEEDS: &'static [SubjectKind] = &[SubjectKind::Field];
    /// Who may write it by hand.
    const BY: By = By::Crew;
    /// The last one about a subject counts, and those before it no more: a writer is asked which one it
    /// takes the place of.
    const REPLACES: bool = false;
    /// Of these it may be about several at once; of all others it is about one at the most.
    const SEVERAL: &'static [SubjectKind] = &[];
    /// Things that are told apart by their part in it. Each part is needed; there is one thing that something comes from.
    const PARTS: &'static [(SubjectKind, Part)] = &[];
    /// What it brings into being: others may then be about that, too.
    const FOUNDS: Option<Founds> = None;

    /// Refuse what can't be; pointers are relative to the payload.
    ///
    /// # Errors
    /// One refusal per field.
    fn check(&self, today: Date) -> Result<(), Refused>;

    /// Refuse what does not fit with the things it is about.
    ///
    /// # Errors
    /// One refusal per field; pointers are relative to the payload.
    fn check_about(&self, about: &[About]) -> Result<(), Refused> {
        let _ = about;
        Ok(())
    }

    /// What it says, in one line.
    fn says(&self) -> Said;

    /// Key of the operation of a plan that it stands for: what it closes a step by.
    fn operation(&self) -> Option<&str> {
        None
    }

    /// What a stored payload of an older version says of the place it closes, which entries have since. `stand` is the one
    /// it is about.
    fn closed(version: i32, payload: &Value, stand: Uuid) -> Option<Closes> {
        let _ = (version, payload, stand);
        None
    }

    /// The same for a part of what it was written of: amounts that are not by area are so much less. `share` lies between
    /// nothing and one.
    #[must_use]
    fn of_part(&self, share: f64) -> Self {
        let _ = share;
        self.clone()
    }

    /// Turn a payload of an older version into one of the next.
    ///
    /// # Errors
    /// When the payload is not what that version wrote.
    fn upgrade(from: i32, payload: Value) -> Result<Value, Unreadable> {
        let _ = payload;
        Err(Unreadable(format!("version {from} of “{}” cannot be updated", Self::KIND)))
    }

    /// Write it into the books of what it is about. Struck records never come here.
    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        let _ = (inked, books);
    }

    /// Read a stored payload of any version.
    ///
    /// # Errors
    /// A version that this build does not know, or a payload that is not what its version wrote.
    fn read(version: i32, mut payload: Value) -> Result<Self, Unreadable> {
        if !(1..=Self::VERSION).contains(&version) {
            return Err(Unreadable(format!(
                "version {version} of “{}” is too new for this server, which uses {}",
                Self::KIND,
                Self::VERSION
            )));
        }
        for from in version..Self::VERSION {
            payload = Self::upgrade(from, payload)?;
        }
        serde_json::from_value(payload).map_err(|error| Unreadable(error.to_string()))
    }
}

/// A kind of record without its shape: what lists, checks and documents need of it.
#[derive(Debug, Clone, Copy)]
pub struct Kind {
    /// Its word.
    pub word: &'static str,
    /// Its name for people.
    pub title: &'static str,
    /// How writing one is offered.
    pub deed: &'static str,
    /// The version that is written.
    pub version: i32,
    /// What it must be about.
    pub needs: &'static [SubjectKind],
    /// Who may write it.
    pub by: By,
    /// The last one counts.
    pub replaces: bool,
    /// Of these it may be about several.
    pub several: &'static [SubjectKind],
    /// Things that are told apart by their part.
    pub parts: &'static [(SubjectKind, Part)],
    /// What it brings into being.
    pub founds: Option<Founds>,
}

impl Kind {
    /// Of a shape.
    pub const fn of<R: Record>() -> Self {
        Self {
            word: R::KIND,
            title: R::TITLE,
            deed: R::DEED,
            version: R::VERSION,
            needs: R::NEEDS,
            by: R::BY,
            replaces: R::REPLACES,
            several: R::SEVERAL,
            parts: R::PARTS,
            founds: R::FOUNDS,
        }
    }
}
