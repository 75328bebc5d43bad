//! One stand after another: which of a field's stands stood there on a day, and whose work the ground had.

use agronomy::practice::Role;
use jiff::civil::Date;
use records::book::{Operation, StandBook};
use uuid::Uuid;

/// A stand's time on its field, as far as was recorded.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Tenure {
    /// The stand.
    pub stand: Uuid,
    /// The day it was first decided on; none of what nobody decided on.
    pub decided: Option<Date>,
    /// The first day it was sown.
    pub sown: Option<Date>,
}

impl Tenure {
    /// Of a stand with its book.
    pub fn of(book: &StandBook) -> Self {
        let decided = book.decisions.first().map(|decided| decided.on);
        Self { stand: book.id, decided, sown: book.sown_on() }
    }
}

/// The stands of one field. All that asks whose a piece of work was, or what stood there, asks here.
///
/// ```
/// use jiff::civil::date;
/// use planner::{Succession, Tenure};
/// use uuid::Uuid;
///
/// let [grass, alfalfa] = [Uuid::from_u128(1), Uuid::from_u128(2)];
/// let field: Succession = [
///     Tenure { stand: grass, decided: Some(date(2021, 3, 1)), sown: Some(date(2021, 5, 4)) },
///     Tenure { stand: alfalfa, decided: Some(date(2025, 3, 1)), sown: Some(date(2025, 8, 14)) },
/// ]
/// .into_iter()
/// .collect();
/// // The summer before the alfalfa is sown: the grass stands, and the ground is worked for the alfalfa.
/// assert_eq!(field.standing_on(date(2025, 6, 10)), Some(grass));
/// assert_eq!(field.worked_for(date(2025, 6, 10)), Some(alfalfa));
/// // What is cut on the day of sowing was there before it.
/// assert_eq!(field.standing_on(date(2025, 8, 14)), Some(grass));
/// assert_eq!(field.standing_on(date(2020, 6, 10)), None);
/// ```
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Succession(Vec<Tenure>);

impl FromIterator<Tenure> for Succession {
    fn from_iter<I: IntoIterator<Item = Tenure>>(stands: I) -> Self {
        Self(stands.into_iter().collect())
    }
}

impl Succession {
    /// The stand that stood there on a day: the one sown last before it.
    pub fn standing_on(&self, day: Date) -> Option<Uuid> {
        let sown = self.0.iter().filter_map(|one| Some((one.sown.filter(|sown| *sown < day)?, one.stand)));
        sown.max().map(|(_, stand)| stand)
    }

    /// The stand that work on the ground was for on a day: the one decided on last, from the very day on.
    pub fn worked_for(&self, day: Date) -> Option<Uuid> {
        let decided = self.0.iter().filter_map(|one| Some((one.decided.filter(|decided| *decided <= day)?, one.stand)));
        decided.max().map(|(_, stand)| stand)
    }

    /// Whose work on the ground it was: the stand whose step it says that it closes. Where it says none, what was taken off
    /// is of what stood there, and all other work is for what was decided on.
    pub fn whose(&self, work: &Operation) -> Option<Uuid> {
        match &work.closes {
            Some(closes) => Some(closes.stand),
            None if work.role() == Some(Role::Harvest) => self.standing_on(work.on),
            None => self.worked_for(work.on),
        }
    }

    /// When a stand was first decided on.
    pub fn decided(&self, stand: Uuid) -> Option<Date> {
        self.0.iter().find(|one| one.stand == stand)?.decided
    }
}
