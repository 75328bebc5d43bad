//! The book of a lot of forage: what it is, what was tested, and what went out of it.

use agronomy::units::{Fraction, Mass, Measure};
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use super::{Books, Dated};
use crate::kinds::{forage_analysis::ForageAnalysis, forage_lot::ForageLot, forage_split::ForagePart};

/// Forage that was made, and what it came off.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ForageOf {
    /// Its lot; none where a split field tells of its share.
    pub lot: Option<Uuid>,
    /// What was made.
    pub made: ForageLot,
    /// Fields it came off.
    pub fields: Vec<Uuid>,
}

/// What was set apart from another lot.
#[derive(Debug, Clone, PartialEq)]
pub struct SplitOff {
    /// The lot it was part of.
    pub from: Uuid,
    /// What was set apart.
    pub part: ForagePart,
}

/// A lot of forage, from its entries.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct ForageBook {
    /// What was made; none of a lot that was set apart from another.
    pub made: Option<Dated<ForageOf>>,
    /// What it was set apart from.
    pub from: Option<Dated<SplitOff>>,
    /// Laboratory reports, oldest first.
    pub analyses: Vec<Dated<ForageAnalysis>>,
    /// What was set apart from it, oldest first.
    pub split_off: Vec<Dated<ForagePart>>,
}

/// What is in a lot, as far as it was told.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Content {
    /// Bales or loads.
    pub pieces: Option<u32>,
    /// As it was weighed, or by the average of a piece.
    pub mass: Option<Mass>,
    /// What one piece weighs.
    pub one: Option<Mass>,
}

impl Content {
    /// What a part of it comes to: what was not told follows from the average of a piece.
    fn part(self, part: &ForagePart) -> Self {
        let by_pieces = || Some(Mass::from_base(f64::from(part.pieces?) * self.one?.base()));
        let mass = part.mass.or_else(by_pieces);
        let of_part = || Some(Mass::from_base(mass?.base() / f64::from(part.pieces.filter(|many| *many > 0)?)));
        Self { pieces: part.pieces, mass, one: self.one.or_else(of_part) }
    }

    /// What is left when a part is taken out; more taken than there was leaves nothing.
    fn less(self, part: &ForagePart) -> Self {
        let gone = self.part(part);
        let pieces = self.pieces.map(|pieces| pieces.saturating_sub(gone.pieces.unwrap_or(0)));
        // Where something unweighed was taken out, what is left is unknown.
        let mass = self.mass.zip(gone.mass).map(|(all, gone)| Mass::from_base((all.base() - gone.base()).max(0.0)));
        Self { pieces, mass, one: self.one }
    }
}

/// Lots that were split off one another are followed so far.
const MOST_SPLITS: usize = 100;

impl Books {
    /// A lot's own making, through those it was set apart from.
    pub fn forage_origin(&self, lot: Uuid) -> Option<&Dated<ForageOf>> {
        let mut book = self.forage_lot(lot)?;
        for _ in 0..MOST_SPLITS {
            match (&book.made, &book.from) {
                (Some(made), _) => return Some(made),
                (None, Some(split)) => book = self.forage_lot(split.what.from)?,
                (None, None) => return None,
            }
        }
        None
    }

    /// What was in a lot to begin with.
    pub fn forage_content(&self, lot: Uuid) -> Content {
        // From the lot that was made down to this one.
        let mut parts: Vec<&ForagePart> = vec![];
        let mut at = lot;
        for _ in 0..MOST_SPLITS {
            let Some(book) = self.forage_lot(at) else { return Content::default() };
            match (&book.made, &book.from) {
                (Some(made), _) => {
                    let made = &made.what.made;
                    let whole = Content { pieces: made.pieces, mass: made.total(), one: made.one() };
                    return parts.iter().rev().fold(whole, |content, part| content.part(part));
                }
                (None, Some(split)) => {
                    parts.push(&split.what.part);
                    at = split.what.from;
                }
                (None, None) => return Content::default(),
            }
        }
        Content::default()
    }

    /// What is left in a lot after what was set apart from it.
    pub fn forage_left(&self, lot: Uuid) -> Content {
        let split_off = self.forage_lot(lot).map_or(&[][..], |book| &book.split_off);
        split_off.iter().fold(self.forage_content(lot), |content, part| content.less(&part.what))
    }

    /// How dry a lot is: by its own laboratory report, or by those it was set apart from, or as it was made.
    pub fn forage_dry_matter(&self, lot: Uuid) -> Option<Fraction> {
        let mut book = self.forage_lot(lot)?;
        for _ in 0..MOST_SPLITS {
            if let Some(tested) = book.analyses.iter().rev().find_map(|report| report.what.dry_matter) {
                return Some(tested);
            }
            match (&book.made, &book.from) {
                (Some(made), _) => {
                    return made.what.made.moisture.map(|wet| Fraction::from_base(1.0 - wet.base()));
                }
                (None, Some(split)) => book = self.forage_lot(split.what.from)?,
                (None, None) => return None,
            }
        }
        None
    }
}
