//! Work that was done, as plans are told of it.

use agronomy::practice::{Role, operation};
use jiff::civil::Date;
use uuid::Uuid;

use crate::{Closes, Entry};

/// An operation of a plan that a record stands for.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Operation {
    /// The entry.
    pub entry: Uuid,
    /// Key of the operation in the library.
    pub operation: String,
    /// The place it closes, where the entry says so.
    pub closes: Option<Closes>,
    /// The day it happened.
    pub on: Date,
    /// It was struck: it closes no step, and stays legible.
    pub struck: bool,
}

impl Operation {
    /// Of an entry; none where it can't be read or stands for no operation.
    pub fn of(entry: &Entry) -> Option<Self> {
        let operation = entry.payload()?.operation()?.to_owned();
        let (on, struck) = (entry.occurred_on, entry.struck_by.is_some());
        Some(Self { entry: entry.id, operation, closes: entry.closes.clone(), on, struck })
    }

    /// Its part in the library; none of what the library does not hold.
    pub fn role(&self) -> Option<Role> {
        operation(&self.operation)?.role
    }
}

/// The first day something was sown, by what was done and not struck.
pub fn sown_on(operations: &[Operation]) -> Option<Date> {
    let sowings = operations.iter().filter(|one| !one.struck && one.role() == Some(Role::Sowing));
    sowings.map(|one| one.on).min()
}
