//! Part of a lot of forage was set apart, as lots of their own.

use std::collections::BTreeSet;

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Mass, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    book::{Books, Inked, SplitOff},
    record::{Founds, Record},
    shape::check_words,
    subject::{About, Part, SubjectKind},
};

/// A lot that was set apart from another.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ForagePart {
    /// The new lot.
    pub lot: Uuid,
    /// Bales or loads in it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pieces: Option<u32>,
    /// What it weighs, where it was weighed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mass: Option<Mass>,
    /// Where it is kept, in the person's words.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<String>,
}

/// Part of a lot of forage was set apart, as one or several lots; what is left stays the lot it was.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedForageSplit)]
pub struct ForageSplit {
    /// The new lots.
    pub parts: Vec<ForagePart>,
    /// Anything else.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

/// New lots at once.
const MOST_PARTS: usize = 20;

impl Record for ForageSplit {
    const KIND: &'static str = "forage-split";
    const TITLE: &'static str = "Forage lot split";
    const DEED: &'static str = "Forage lot split";
    const NEEDS: &'static [SubjectKind] = &[];
    const SEVERAL: &'static [SubjectKind] = &[SubjectKind::ForageLot, SubjectKind::Field, SubjectKind::Stand];
    const PARTS: &'static [(SubjectKind, Part)] =
        &[(SubjectKind::ForageLot, Part::From), (SubjectKind::ForageLot, Part::To)];
    const FOUNDS: Option<Founds> = Some(Founds::to(SubjectKind::ForageLot));

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        let many = self.parts.len();
        let detail = said!("{} new lots; enter 1\u{2013}{}", many, MOST_PARTS);
        checks.require((1..=MOST_PARTS).contains(&many), "/parts", detail);
        for (index, part) in self.parts.iter().enumerate() {
            let at = |name: &str| format!("/parts/{index}/{name}");
            let any = part.pieces.is_some() || part.mass.is_some();
            checks.require(any, at("pieces"), "enter how many, or the weight");
            if let Some(pieces) = part.pieces {
                let detail = said!("the number is {}; enter 1\u{2013}100,000", pieces);
                checks.require((1..=100_000).contains(&pieces), at("pieces"), detail);
            }
            if let Some(mass) = part.mass {
                checks.within(&at("mass"), "Weight", mass, Unit::Kg, 1.0, 5e7);
            }
            check_words(&mut checks, &at("place"), part.place.as_deref().unwrap_or_default(), false);
        }
        check_words(&mut checks, "/note", self.note.as_deref().unwrap_or_default(), false);
        checks.done()
    }

    fn check_about(&self, about: &[About]) -> Result<(), Refused> {
        let new: BTreeSet<Uuid> = self.parts.iter().map(|part| part.lot).collect();
        let founded = about.iter().filter(|one| one.kind == SubjectKind::ForageLot && one.part == Some(Part::To));
        let told: BTreeSet<Uuid> = founded.map(|one| one.id).collect();
        match new == told && new.len() == self.parts.len() {
            true => Ok(()),
            false => Err(Refused::one("/parts", "each new lot must be named once, here and in what it is about")),
        }
    }

    fn says(&self) -> Said {
        let told = self.parts.iter().map(|part| {
            let mut words: Vec<Said> = part.pieces.map(|pieces| said!("{} bales or loads", pieces)).into_iter().collect();
            words.extend(part.mass.map(|mass| said!("{}", mass)));
            words.extend(part.place.as_deref().map(|place| said!("stored: {}", place)));
            Said::joined(words, ", ")
        });
        let head = said!("Set apart: {}", Said::joined(told, "; "));
        Said::joined([Some(head), self.note.as_deref().map(Said::from)].into_iter().flatten(), ". ")
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        let from = inked.0.each_part(SubjectKind::ForageLot, Part::From).next();
        books.each_forage(inked, |one, book| match one.part {
            Some(Part::To) => {
                let own = self.parts.iter().find(|part| part.lot == one.id);
                book.from = from.zip(own).map(|(from, part)| inked.dated(SplitOff { from, part: part.clone() }));
            }
            _ => book.split_off.extend(self.parts.iter().map(|part| inked.dated(part.clone()))),
        });
    }
}
