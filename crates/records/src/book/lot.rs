//! The book of a seed lot: what its tag and the laboratory say.

use agronomy::{
    seed::Tag,
    units::{Mass, Measure},
};

use jiff::civil::Date;

use super::Dated;
use crate::kinds::seed_sown::SeedSown;

/// A seed lot, from its entries.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct LotBook {
    /// The last tag read, with later laboratory reports in place of its figures; none while none stands.
    pub tag: Option<Tag>,
    /// How much of it there was, out of the bag, when its tag was last read.
    pub on_hand: Option<Mass>,
    /// The day since which that holds: of a tag that was read again. What its first tag tells is what was bought, whatever
    /// the day on which somebody came to enter it.
    pub told_on: Option<Date>,
    /// Laboratory reports that stand.
    pub reports: usize,
    /// What was sown of it, oldest first.
    pub sown: Vec<Dated<SeedSown>>,
}

impl LotBook {
    /// What is left of it: what there was, less what was sown and lost since. None where nobody said what there was.
    /// Sown beyond what there was leaves nothing.
    pub fn left(&self) -> Option<Mass> {
        // What was sown before somebody looked again is not in what was there.
        let since = self.sown.iter().filter(|sown| self.told_on.is_none_or(|told| sown.on >= told));
        let gone: f64 = since.map(|sown| sown.what.gone()).sum();
        self.on_hand.map(|there| Mass::from_base((there.base() - gone).max(0.0)))
    }
}
