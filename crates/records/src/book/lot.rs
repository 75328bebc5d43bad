//! The book of a seed lot: what its tag and the laboratory say.

use agronomy::{seed::Tag, units::Mass};

/// A seed lot, from its entries.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct LotBook {
    /// The last tag read, with later laboratory reports in place of its figures; none while none stands.
    pub tag: Option<Tag>,
    /// How much of it there is, out of the bag.
    pub on_hand: Option<Mass>,
    /// Laboratory reports that stand.
    pub reports: usize,
}
