//! Books: what the records of a farm come to, by field, stand and lot.
//!
//! A book is a fold of records in the order they happened. It is derived, thrown away freely, and holds
//! nothing that its records do not say. What a record changes in a book stands in the record's own file.

mod field;
mod forage;
mod harvest;
mod lot;
mod operation;
mod stand;
mod store;

use std::{collections::BTreeMap, sync::Arc};

use agronomy::units::{CountPerArea, Length};
use jiff::civil::Date;
use uuid::Uuid;

pub use field::{Cut, Dated, Dressing, Ground, SentSample, TakenSample, Unfree};
pub use forage::{Content, ForageBook, ForageOf, SplitOff};
pub use harvest::{Harvested, Untold};
pub use lot::LotBook;
pub use operation::{Operation, sown_on};
pub use stand::{Decided, SownOfLot, StandBook};
pub use store::{MachineBook, MixBook, ProductBook, VarietyBook};

use crate::{About, Entry, Subject, SubjectKind};

/// An entry being written into the books.
#[derive(Debug, Clone, Copy)]
pub struct Inked<'a>(pub &'a Entry);

impl Inked<'_> {
    /// Something the entry says, with its day.
    pub fn dated<T>(self, what: T) -> Dated<T> {
        Dated { entry: self.0.id, on: self.0.occurred_on, what }
    }
}

/// What was last seen of a stand or its ground, each with its day.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Seen {
    /// How tall the plants stood.
    pub plants: Option<(Date, Length)>,
    /// How tall the weeds stood.
    pub weeds: Option<(Date, Length)>,
    /// How many plants stood.
    pub count: Option<(Date, CountPerArea)>,
    /// It had turned green after its rest.
    pub green: Option<Date>,
    /// Seedlings were up.
    pub up: Option<Date>,
    /// Leaves on most of them.
    pub leaves: Option<(Date, f64)>,
}

impl Seen {
    /// The later of two looks, figure by figure.
    pub fn or_later(self, other: Self) -> Self {
        fn later<T: Copy>(a: Option<(Date, T)>, b: Option<(Date, T)>) -> Option<(Date, T)> {
            match (a, b) {
                (Some(a), Some(b)) => Some(if b.0 > a.0 { b } else { a }),
                (a, b) => a.or(b),
            }
        }
        Self {
            plants: later(self.plants, other.plants),
            weeds: later(self.weeds, other.weeds),
            count: later(self.count, other.count),
            green: self.green.max(other.green),
            up: self.up.max(other.up),
            leaves: later(self.leaves, other.leaves),
        }
    }
}

/// The one list of books: what is kept of things of each kind. One that is not in it does not compile.
macro_rules! books {
    ($($kind:ident $books:ident: $book:ty = $new:expr),+ $(,)?) => {
        /// The books of a farm, or of a part of it.
        #[derive(Debug, Clone, PartialEq, Default)]
        pub struct Books {
            // Shared until written in: a copy of a farm's books costs next to nothing.
            $($books: BTreeMap<Uuid, Arc<$book>>),+
        }

        impl Books {
            /// Put one thing's book in the place of an older one: what was written about it since is in it. From the books
            /// of all that is about that thing, and nothing else.
            ///
            /// What an entry changes it changes in the books of what it is about: so books folded thing by thing are those
            /// folded from the whole ledger.
            pub fn replace(&mut self, subject: Subject, from: &Self) {
                fn put<T>(here: &mut BTreeMap<Uuid, Arc<T>>, there: &BTreeMap<Uuid, Arc<T>>, id: Uuid) {
                    match there.get(&id) {
                        Some(book) => drop(here.insert(id, book.clone())),
                        None => drop(here.remove(&id)),
                    }
                }
                match subject.kind {
                    $(SubjectKind::$kind => put(&mut self.$books, &from.$books, subject.id)),+
                }
            }
        }

        /// A thing whose book can be written in.
        trait Kept: Sized {
            /// Its book, begun where there is none.
            fn book(books: &mut Books, id: Uuid) -> &mut Self;
        }

        $(impl Kept for $book {
            fn book(books: &mut Books, id: Uuid) -> &mut Self {
                let new: fn(Uuid) -> $book = $new;
                Arc::make_mut(books.$books.entry(id).or_insert_with(|| Arc::new(new(id))))
            }
        })+
    };
}

books! {
    Field fields: Ground = |_| Ground::default(),
    Stand stands: StandBook = StandBook::new,
    SeedLot lots: LotBook = |_| LotBook::default(),
    ForageLot forage: ForageBook = |_| ForageBook::default(),
    Machine machines: MachineBook = |_| MachineBook::default(),
    Product products: ProductBook = |_| ProductBook::default(),
    Mix mixes: MixBook = |_| MixBook::default(),
    Variety varieties: VarietyBook = |_| VarietyBook::default(),
}

impl Books {
    /// From entries, oldest first. Entries that can't be read are passed over.
    pub fn of<'a>(entries: impl IntoIterator<Item = &'a Entry>) -> Self {
        let mut books = Self::default();
        for entry in entries {
            books.write(entry);
        }
        books
    }

    /// Write one more entry in, no older than the last. One that can't be read is passed over.
    pub fn write(&mut self, entry: &Entry) {
        let Some(payload) = entry.payload() else { return };
        if let Some(operation) = Operation::of(entry) {
            // Work on a stand closes a step of that stand; work on the ground serves whatever stands there.
            if let Some(stand) = entry.stand() {
                StandBook::book(self, stand).operations.push(operation);
            } else if let Some(field) = entry.field() {
                Ground::book(self, field).operations.push(operation);
            }
        }
        if entry.struck_by.is_none() {
            payload.fold(&Inked(entry), self);
        }
    }

    /// The book of the field that an entry is about, to be written in: of several the first.
    pub(crate) fn field_of(&mut self, inked: &Inked<'_>) -> Option<&mut Ground> {
        self.one(inked, SubjectKind::Field)
    }

    /// The book of the stand that an entry is about.
    pub(crate) fn stand_of(&mut self, inked: &Inked<'_>) -> Option<&mut StandBook> {
        self.one(inked, SubjectKind::Stand)
    }

    /// What was last seen of the stand that an entry is about, or of its field where it names none.
    pub(crate) fn seen_of(&mut self, inked: &Inked<'_>) -> Option<&mut Seen> {
        if inked.0.stand().is_some() {
            return self.stand_of(inked).map(|stand| &mut stand.seen);
        }
        self.field_of(inked).map(|field| &mut field.seen)
    }

    /// The book of the seed lot that an entry is about.
    pub(crate) fn lot_of(&mut self, inked: &Inked<'_>) -> Option<&mut LotBook> {
        self.one(inked, SubjectKind::SeedLot)
    }

    /// The book of the machine that an entry is about.
    pub(crate) fn machine_of(&mut self, inked: &Inked<'_>) -> Option<&mut MachineBook> {
        self.one(inked, SubjectKind::Machine)
    }

    /// The book of the product that an entry is about.
    pub(crate) fn product_of(&mut self, inked: &Inked<'_>) -> Option<&mut ProductBook> {
        self.one(inked, SubjectKind::Product)
    }

    /// The book of the mix that an entry is about.
    pub(crate) fn mix_of(&mut self, inked: &Inked<'_>) -> Option<&mut MixBook> {
        self.one(inked, SubjectKind::Mix)
    }

    /// The book of the variety that an entry is about.
    pub(crate) fn variety_of(&mut self, inked: &Inked<'_>) -> Option<&mut VarietyBook> {
        self.one(inked, SubjectKind::Variety)
    }

    /// Write in the book of each field that an entry is about.
    pub(crate) fn each_field(&mut self, inked: &Inked<'_>, mut write: impl FnMut(&mut Ground)) {
        inked.0.each(SubjectKind::Field).for_each(|id| write(Ground::book(self, id)));
    }

    /// Write in the book of each lot of forage that an entry is about.
    pub(crate) fn each_forage(&mut self, inked: &Inked<'_>, mut write: impl FnMut(&About, &mut ForageBook)) {
        let lots = inked.0.about.iter().filter(|one| one.kind == SubjectKind::ForageLot);
        lots.for_each(|one| write(one, ForageBook::book(self, one.id)));
    }

    fn one<B: Kept>(&mut self, inked: &Inked<'_>, kind: SubjectKind) -> Option<&mut B> {
        inked.0.subject(kind).map(|id| B::book(self, id))
    }

    /// Lots of forage, by id.
    pub fn forage_lots(&self) -> impl Iterator<Item = (Uuid, &ForageBook)> {
        self.forage.iter().map(|(id, book)| (*id, book.as_ref()))
    }

    /// A lot of forage, when anything stands in its book.
    pub fn forage_lot(&self, id: Uuid) -> Option<&ForageBook> {
        self.forage.get(&id).map(Arc::as_ref)
    }

    /// Varieties that the farm knows, by id.
    pub fn varieties(&self) -> impl Iterator<Item = (Uuid, &VarietyBook)> {
        self.varieties.iter().map(|(id, book)| (*id, book.as_ref()))
    }

    /// Mixes of the farm's own, by id.
    pub fn mixes(&self) -> impl Iterator<Item = (Uuid, &MixBook)> {
        self.mixes.iter().map(|(id, book)| (*id, book.as_ref()))
    }

    /// Machines of the farm, by id.
    pub fn machines(&self) -> impl Iterator<Item = (Uuid, &MachineBook)> {
        self.machines.iter().map(|(id, book)| (*id, book.as_ref()))
    }

    /// Products of the farm, by id.
    pub fn products(&self) -> impl Iterator<Item = (Uuid, &ProductBook)> {
        self.products.iter().map(|(id, book)| (*id, book.as_ref()))
    }

    /// A field's book; an empty one when nothing was recorded.
    pub fn field(&self, id: Uuid) -> Arc<Ground> {
        self.fields.get(&id).cloned().unwrap_or_default()
    }

    /// A stand's book, when anything stands in it.
    pub fn stand(&self, id: Uuid) -> Option<&StandBook> {
        self.stands.get(&id).map(Arc::as_ref)
    }

    /// A lot's book, when anything stands in it.
    pub fn lot(&self, id: Uuid) -> Option<&LotBook> {
        self.lots.get(&id).map(Arc::as_ref)
    }
}
