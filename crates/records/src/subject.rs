//! What a record is about.

use std::fmt;

use agronomy::refusal::{Checks, Refused};
use agronomy::said;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::record::Kind;

/// The one list of kinds of things that a record may be about: the word each is stored by, and its name for people. What
/// has a table of its own is known by [`Kept`]; all else is brought about by a record, and known by it.
macro_rules! subjects {
    ($($(#[doc = $doc:literal])+ $kind:ident $word:literal $name:literal $kept:ident),+ $(,)?) => {
        /// What kind of thing a record is about.
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
        pub enum SubjectKind { $($(#[doc = $doc])+ #[serde(rename = $word)] $kind),+ }

        impl utoipa::PartialSchema for SubjectKind {
            fn schema() -> utoipa::openapi::RefOr<utoipa::openapi::schema::Schema> {
                utoipa::openapi::schema::ObjectBuilder::new()
                    .schema_type(utoipa::openapi::schema::Type::String)
                    .description(Some("What kind of thing a record is about."))
                    .enum_values(Some([$($word),+]))
                    .into()
            }
        }
        impl ToSchema for SubjectKind {
            fn name() -> std::borrow::Cow<'static, str> { "SubjectKind".into() }
        }

        impl SubjectKind {
            /// All.
            pub const ALL: &'static [Self] = &[$(Self::$kind),+];

            /// The word it is stored by.
            pub const fn word(self) -> &'static str {
                match self { $(Self::$kind => $word),+ }
            }

            /// Its name for people.
            pub const fn name(self) -> &'static str {
                match self { $(Self::$kind => $name),+ }
            }

            /// How it is known that there is one.
            pub const fn kept(self) -> Kept {
                match self { $(Self::$kind => Kept::$kept),+ }
            }
        }
    };
}

/// How it is known that a thing is there.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Kept {
    /// It has a table of its own.
    Table,
    /// A record brought it about: see [`Record::FOUNDS`](crate::record::Record::FOUNDS).
    Record,
}

subjects! {
    /// A field.
    Field "field" "field" Table,
    /// A stand: what was sown on a field, from the decision until it is ended.
    Stand "stand" "stand" Table,
    /// A lot of seed, as it was bought.
    SeedLot "lot" "seed lot" Table,
    /// A lot of forage: what was made of one cut in one way, or put into one pile.
    ForageLot "forage-lot" "forage lot" Record,
    /// A machine.
    Machine "machine" "machine" Record,
    /// A fertiliser, lime, spray or other product.
    Product "product" "product" Record,
    /// A seed mix of the farm's own.
    Mix "mix" "seed mix" Record,
    /// A variety that the farm knows.
    Variety "variety" "variety" Record,
}

impl SubjectKind {
    /// The kind of a stored word.
    pub fn of(word: &str) -> Option<Self> {
        Self::ALL.iter().copied().find(|kind| kind.word() == word)
    }
}

impl fmt::Display for SubjectKind {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.word())
    }
}

/// A thing that a record may be about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
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
    pub const fn seed_lot(id: Uuid) -> Self {
        Self { kind: SubjectKind::SeedLot, id }
    }

    /// A lot of forage.
    pub const fn forage_lot(id: Uuid) -> Self {
        Self { kind: SubjectKind::ForageLot, id }
    }

    /// Where something comes from.
    pub const fn from(self) -> About {
        About { kind: self.kind, id: self.id, part: Some(Part::From) }
    }

    /// Where something goes.
    pub const fn to(self) -> About {
        About { kind: self.kind, id: self.id, part: Some(Part::To) }
    }
}

/// The part that a thing has in a record, where several of its kind are told apart by it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = SubjectPart)]
pub enum Part {
    /// What something comes from.
    From,
    /// What it goes to.
    To,
}

impl Part {
    /// The word it is stored by.
    pub const fn word(self) -> &'static str {
        match self {
            Self::From => "from",
            Self::To => "to",
        }
    }

    /// The part of a stored word.
    pub fn of(word: &str) -> Option<Self> {
        [Self::From, Self::To].into_iter().find(|part| part.word() == word)
    }
}

/// A thing that a record is about, and its part in it. A record about no thing is about the farm.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = Subject)]
pub struct About {
    /// What kind of thing.
    pub kind: SubjectKind,
    /// Which.
    pub id: Uuid,
    /// Its part, where several of its kind are told apart.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub part: Option<Part>,
}

impl About {
    /// The thing alone.
    pub const fn subject(self) -> Subject {
        Subject { kind: self.kind, id: self.id }
    }
}

impl From<Subject> for About {
    fn from(Subject { kind, id }: Subject) -> Self {
        Self { kind, id, part: None }
    }
}

impl Kind {
    /// Refuse a record that is about too little, too much, or about things in parts that its kind does not know.
    ///
    /// # Errors
    /// At `/about`.
    pub fn check_about(&self, about: &[About]) -> Result<(), Refused> {
        let mut checks = Checks::new();
        let of = |kind: SubjectKind| about.iter().filter(move |one| one.kind == kind);
        for needed in self.needs {
            checks.require(of(*needed).next().is_some(), "/about", said!("say which {} it is about", needed.name()));
        }
        for (kind, part) in self.parts {
            let any = of(*kind).any(|one| one.part == Some(*part));
            checks.require(any, "/about", said!("say which {} it is {}", kind.name(), part.word()));
        }
        for kind in SubjectKind::ALL {
            let parted = self.parts.iter().any(|(of, _)| of == kind);
            let known = |one: &&About| match one.part {
                Some(part) => !self.parts.contains(&(*kind, part)),
                None => parted,
            };
            if let Some(odd) = of(*kind).find(known) {
                let part = odd.part.map_or("neither from nor to", Part::word);
                checks.refuse("/about", said!("this record has no {} that is \u{201c}{}\u{201d}", kind.name(), part));
            }
            let from = of(*kind).filter(|one| one.part == Some(Part::From)).count();
            let most = if self.several.contains(kind) { usize::MAX } else { 1 + self.parts.len() };
            let many = of(*kind).count() > most || from > 1;
            checks.require(!many, "/about", said!("it is about one {} at a time: record it for each", kind.name()));
            let mut ids: Vec<Uuid> = of(*kind).map(|one| one.id).collect();
            ids.sort_unstable();
            let twice = ids.windows(2).any(|pair| pair[0] == pair[1]);
            checks.require(!twice, "/about", said!("the same {} is named twice", kind.name()));
        }
        checks.done()
    }
}
