//! Books: what the records of a farm come to, by field, stand and lot.
//!
//! A book is a fold of records in the order they happened. It is derived, thrown away freely, and holds
//! nothing that its records do not say. What a record changes in a book stands in the record's own file.

mod field;
mod lot;
mod operation;
mod stand;
mod store;

use std::{collections::BTreeMap, sync::Arc};

use agronomy::units::{CountPerArea, Length};
use jiff::civil::Date;
use uuid::Uuid;

pub use field::{Cut, Dated, Dressing, Ground, SentSample, TakenSample, Unfree};
pub use lot::LotBook;
pub use operation::{Operation, sown_on};
pub use stand::{Decided, StandBook};
pub use store::{MachineBook, MixBook, ProductBook, VarietyBook};

use crate::{Entry, Subject, SubjectKind};

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

/// The books of a farm, or of a part of it.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Books {
    // Shared until written in: a copy of a farm's books costs next to nothing.
    fields: BTreeMap<Uuid, Arc<Ground>>,
    stands: BTreeMap<Uuid, Arc<StandBook>>,
    lots: BTreeMap<Uuid, Arc<LotBook>>,
    machines: BTreeMap<Uuid, Arc<MachineBook>>,
    products: BTreeMap<Uuid, Arc<ProductBook>>,
    mixes: BTreeMap<Uuid, Arc<MixBook>>,
    varieties: BTreeMap<Uuid, Arc<VarietyBook>>,
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
                self.stand_book(stand).operations.push(operation);
            } else if let Some(field) = entry.field() {
                Arc::make_mut(self.fields.entry(field).or_default()).operations.push(operation);
            }
        }
        if entry.struck_by.is_none() {
            payload.fold(&Inked(entry), self);
        }
    }

    /// The book of the field that an entry is about, to be written in.
    pub(crate) fn field_of(&mut self, inked: &Inked<'_>) -> Option<&mut Ground> {
        inked.0.subject(SubjectKind::Field).map(|id| Arc::make_mut(self.fields.entry(id).or_default()))
    }

    /// The book of the stand that an entry is about.
    pub(crate) fn stand_of(&mut self, inked: &Inked<'_>) -> Option<&mut StandBook> {
        inked.0.subject(SubjectKind::Stand).map(|id| self.stand_book(id))
    }

    fn stand_book(&mut self, id: Uuid) -> &mut StandBook {
        Arc::make_mut(self.stands.entry(id).or_insert_with(|| Arc::new(StandBook::new(id))))
    }

    /// What was last seen of the stand that an entry is about, or of its field where it names none.
    pub(crate) fn seen_of(&mut self, inked: &Inked<'_>) -> Option<&mut Seen> {
        if inked.0.stand().is_some() {
            return self.stand_of(inked).map(|stand| &mut stand.seen);
        }
        self.field_of(inked).map(|field| &mut field.seen)
    }

    /// The book of the lot that an entry is about.
    pub(crate) fn lot_of(&mut self, inked: &Inked<'_>) -> Option<&mut LotBook> {
        inked.0.subject(SubjectKind::Lot).map(|id| Arc::make_mut(self.lots.entry(id).or_default()))
    }

    /// The book of the machine that an entry is about.
    pub(crate) fn machine_of(&mut self, inked: &Inked<'_>) -> Option<&mut MachineBook> {
        inked.0.subject(SubjectKind::Machine).map(|id| Arc::make_mut(self.machines.entry(id).or_default()))
    }

    /// The book of the product that an entry is about.
    pub(crate) fn product_of(&mut self, inked: &Inked<'_>) -> Option<&mut ProductBook> {
        inked.0.subject(SubjectKind::Product).map(|id| Arc::make_mut(self.products.entry(id).or_default()))
    }

    /// The book of the mix that an entry is about.
    pub(crate) fn mix_of(&mut self, inked: &Inked<'_>) -> Option<&mut MixBook> {
        inked.0.subject(SubjectKind::Mix).map(|id| Arc::make_mut(self.mixes.entry(id).or_default()))
    }

    /// The book of the variety that an entry is about.
    pub(crate) fn variety_of(&mut self, inked: &Inked<'_>) -> Option<&mut VarietyBook> {
        inked.0.subject(SubjectKind::Variety).map(|id| Arc::make_mut(self.varieties.entry(id).or_default()))
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

    /// Put one thing's book in the place of an older one: what was written about it since is in it. From the books of
    /// all that is about that thing, and nothing else.
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
            SubjectKind::Field => put(&mut self.fields, &from.fields, subject.id),
            SubjectKind::Stand => put(&mut self.stands, &from.stands, subject.id),
            SubjectKind::Lot => put(&mut self.lots, &from.lots, subject.id),
            SubjectKind::Machine => put(&mut self.machines, &from.machines, subject.id),
            SubjectKind::Product => put(&mut self.products, &from.products, subject.id),
            SubjectKind::Mix => put(&mut self.mixes, &from.mixes, subject.id),
            SubjectKind::Variety => put(&mut self.varieties, &from.varieties, subject.id),
            // Nothing has books of its own but these.
            _ => {}
        }
    }
}
