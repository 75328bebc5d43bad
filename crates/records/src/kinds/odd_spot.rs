//! A spot of a field that is unlike the rest: what it is, where, and how far it reaches.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Length, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::weed_seen::Spot;
use crate::{
    book::{Books, Inked},
    record::Record,
    shape::check_words,
};

/// What makes a spot odd.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = OddSpotKind)]
pub enum Odd {
    /// Water stands.
    Wet,
    /// Burns out first.
    Dry,
    /// A hump, where the drill rides up.
    Hump,
    /// Stones.
    Stony,
    /// Where salt or feed lay.
    SaltLick,
    /// An old heap of manure or lime, a burnt pile.
    OldHeap,
    /// Driven hard.
    Packed,
    /// Washed out, or washed over.
    Washed,
    /// Missed, or sown twice.
    Missed,
    /// Anything else.
    Other,
}

impl Odd {
    /// In words.
    pub fn words(self) -> &'static str {
        match self {
            Self::Wet => "wet",
            Self::Dry => "dry",
            Self::Hump => "knoll",
            Self::Stony => "stony",
            Self::SaltLick => "a salt lick",
            Self::OldHeap => "old manure or hay heap",
            Self::Packed => "compacted",
            Self::Washed => "washed",
            Self::Missed => "skip or overlap",
            Self::Other => "other",
        }
    }
}

/// A spot of a field that is unlike the rest.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedOddSpot)]
pub struct OddSpot {
    /// What makes it odd.
    pub odd: Odd,
    /// Its middle, where that was told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub at: Option<Spot>,
    /// How far it reaches from there.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub radius: Option<Length>,
    /// Anything else.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

impl Record for OddSpot {
    const KIND: &'static str = "odd-spot";
    const TITLE: &'static str = "Odd spot";
    const DEED: &'static str = "Mark odd spot";

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        if let Some(at) = self.at {
            let sound = at.latitude.abs() <= 90.0 && at.longitude.abs() <= 180.0;
            checks.require(sound, "/at", "that location is not valid");
        }
        if let Some(radius) = self.radius {
            checks.within("/radius", "Radius", radius, Unit::M, 0.5, 500.0);
        }
        let note = self.note.as_deref().unwrap_or_default();
        check_words(&mut checks, "/note", note, self.odd == Odd::Other);
        checks.done()
    }

    fn says(&self) -> Said {
        let mut parts = vec![said!("Odd spot: {}", self.odd.words())];
        parts.extend(self.radius.map(|radius| said!("{} radius", radius)));
        let head = Said::joined(parts, ", ");
        Said::joined([Some(head), self.note.as_deref().map(Said::from)].into_iter().flatten(), ". ")
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(field) = books.field_of(inked) {
            field.odd.push(inked.dated(self.clone()));
        }
    }
}
