//! Forage was made: baled, wrapped, chopped, stacked or carried green.

use agronomy::{
    crop::crop_of,
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Area, Fraction, Mass, Measure, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, ForageOf, Inked},
    record::{Founds, Record},
    shape::check_words,
    subject::SubjectKind,
};

/// What was made of it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum ForageForm {
    SmallBales,
    LargeBales,
    RoundBales,
    /// Baleage.
    WrappedBales,
    /// Loose hay in a stack or a barn.
    Loose,
    /// Silage, chopped.
    Chopped,
    /// Cut and carried to stock the same day.
    Green,
}

impl ForageForm {
    /// As people say it.
    pub fn words(self) -> &'static str {
        match self {
            Self::SmallBales => "small square bales",
            Self::LargeBales => "large square bales",
            Self::RoundBales => "round bales",
            Self::WrappedBales => "wrapped bales",
            Self::Loose => "loose hay",
            Self::Chopped => "chopped silage",
            Self::Green => "green forage",
        }
    }

    /// What one piece of it is called, of several.
    pub fn pieces(self) -> &'static str {
        match self {
            Self::SmallBales | Self::LargeBales | Self::RoundBales | Self::WrappedBales => "bales",
            Self::Loose | Self::Chopped | Self::Green => "loads",
        }
    }
}

/// How a moisture is known.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum MoistureBy {
    Probe,
    Oven,
    Microwave,
    Laboratory,
    Estimate,
}

/// Forage was made of a cut, on one field or on several that went into one pile. Only what it is has to be told on the
/// day; the scale and the moisture tester come later.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedForageLot)]
pub struct ForageLot {
    /// Crop of the library; of a mix, the one whose removal table fits best.
    pub crop: String,
    /// What was made of it.
    pub form: ForageForm,
    /// How many bales or loads.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pieces: Option<u32>,
    /// What one of them weighs, on average.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub piece_mass: Option<Mass>,
    /// What all of it weighs, where it was weighed as a whole.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mass: Option<Mass>,
    /// Its moisture, wet basis, when it was made.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub moisture: Option<Fraction>,
    /// How that is known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub moisture_by: Option<MoistureBy>,
    /// Area it came off, of several fields together.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub area: Option<Area>,
    /// Rain fell on it between cutting and storing.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rained_on: Option<bool>,
    /// Where it is kept, in the person's words.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<String>,
    /// Anything else.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

impl ForageLot {
    /// What all of it weighs: as weighed, or by the average of a piece.
    pub fn total(&self) -> Option<Mass> {
        let by_pieces = || Some(Mass::from_base(f64::from(self.pieces?) * self.piece_mass?.base()));
        self.mass.or_else(by_pieces)
    }

    /// What one piece weighs: as weighed, or its share of the whole.
    pub fn one(&self) -> Option<Mass> {
        let by_whole = || {
            let pieces = self.pieces.filter(|pieces| *pieces > 0)?;
            Some(Mass::from_base(self.mass?.base() / f64::from(pieces)))
        };
        self.piece_mass.or_else(by_whole)
    }
}

impl Record for ForageLot {
    const KIND: &'static str = "forage-lot";
    const TITLE: &'static str = "Forage lot";
    const DEED: &'static str = "Hay, silage or green forage made";
    const NEEDS: &'static [SubjectKind] = &[SubjectKind::Field, SubjectKind::ForageLot];
    const SEVERAL: &'static [SubjectKind] = &[SubjectKind::Field, SubjectKind::Stand];
    const REPLACES: bool = true;
    const FOUNDS: Option<Founds> = Some(Founds::one(SubjectKind::ForageLot));

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        checks.part("", crop_of(&self.crop, "/crop").map(drop));
        if let Some(pieces) = self.pieces {
            let detail = said!("the number is {}; enter 1\u{2013}100,000", pieces);
            checks.require((1..=100_000).contains(&pieces), "/pieces", detail);
        }
        if let Some(mass) = self.piece_mass {
            checks.within("/piece_mass", "Average weight", mass, Unit::Kg, 1.0, 40_000.0);
        }
        if let Some(mass) = self.mass {
            checks.within("/mass", "Total weight", mass, Unit::Kg, 1.0, 5e7);
        }
        if let Some(moisture) = self.moisture {
            checks.within("/moisture", "Moisture", moisture, Unit::Percent, 0.0, 90.0);
        }
        if let Some(area) = self.area {
            checks.within("/area", "Area", area, Unit::Ha, 0.001, 20_000.0);
        }
        check_words(&mut checks, "/place", self.place.as_deref().unwrap_or_default(), false);
        check_words(&mut checks, "/note", self.note.as_deref().unwrap_or_default(), false);
        if let (Some(by_pieces), Some(whole), true) =
            (Self { mass: None, ..self.clone() }.total(), self.mass, checks.is_clean())
        {
            // A sample of bales and a scale never agree to the pound.
            let apart = (by_pieces.base() / whole.base()).ln().abs() > 0.5;
            let detail =
                said!("the pieces add up to {}, and the total weight is {}: correct one of them", by_pieces, whole);
            checks.require(!apart, "/mass", detail);
        }
        checks.done()
    }

    fn of_part(&self, share: f64) -> Self {
        let mass = self.total().map(|mass| mass * share);
        let pieces = self.pieces.map(|pieces| (f64::from(pieces) * share).round() as u32).filter(|pieces| *pieces > 0);
        Self { pieces, mass, area: self.area.map(|area| area * share), ..self.clone() }
    }

    fn says(&self) -> Said {
        let form = self.form.words();
        let mut parts = vec![match (self.pieces, self.form.pieces()) {
            (Some(pieces), "bales") => said!("{} {}", pieces, form),
            (Some(pieces), loads) => said!("{} {} of {}", pieces, loads, form),
            (None, _) => Said::from(form),
        }];
        parts.extend(self.piece_mass.map(|mass| said!("{} each", mass)));
        parts.extend(self.total().map(|mass| said!("{} in total", mass)));
        parts.extend(self.moisture.map(|moisture| said!("{} moisture", moisture)));
        parts.extend(self.rained_on.filter(|rained| *rained).map(|_| Said::from("rained on")));
        parts.extend(self.place.as_deref().map(|place| said!("stored: {}", place)));
        let head = said!("Made: {}", Said::joined(parts, ", "));
        Said::joined([Some(head), self.note.as_deref().map(Said::from)].into_iter().flatten(), ". ")
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        let fields: Vec<_> = inked.0.each(SubjectKind::Field).collect();
        let lot = inked.0.subject(SubjectKind::ForageLot);
        let made = ForageOf { lot, made: self.clone(), fields };
        // As it was corrected last: each lot counts once.
        books.each_field(inked, |field| {
            field.forage.retain(|one| lot.is_none() || one.what.lot != lot);
            field.forage.push(inked.dated(made.clone()));
        });
        books.each_forage(inked, |_, book| book.made = Some(inked.dated(made.clone())));
    }
}
