//! A weed was seen: which, how far on, how much of it, and where.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Fraction, Length, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    record::Record,
    shape::check_words,
};

/// How a weed lives: by that it is fought.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = WeedKind)]
pub enum Weed {
    /// Broadleaved, for one summer.
    SummerBroadleaf,
    /// Grass, for one summer.
    SummerGrass,
    /// Comes up in autumn and seeds in spring.
    WinterAnnual,
    /// A rosette in its first year, seeds in its second.
    Biennial,
    /// Comes back from creeping roots or crowns.
    Perennial,
    /// Brush.
    Woody,
}

impl Weed {
    /// In words.
    pub fn words(self) -> &'static str {
        match self {
            Self::SummerBroadleaf => "summer broadleaf",
            Self::SummerGrass => "summer grass",
            Self::WinterAnnual => "winter annual",
            Self::Biennial => "biennial",
            Self::Perennial => "perennial",
            Self::Woody => "woody",
        }
    }
}

/// How far on it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = WeedStage)]
#[allow(missing_docs)]
pub enum Stage {
    Seedling,
    Rosette,
    Growing,
    Budding,
    Seeding,
}

impl Stage {
    /// In words.
    pub fn words(self) -> &'static str {
        match self {
            Self::Seedling => "seedling",
            Self::Rosette => "rosette",
            Self::Growing => "growing",
            Self::Budding => "in bud",
            Self::Seeding => "in seed",
        }
    }
}

/// A place on the ground.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = SeenAt)]
pub struct Spot {
    /// Degrees east.
    pub longitude: f64,
    /// Degrees north.
    pub latitude: f64,
}

impl Spot {
    /// Whether there is such a place.
    pub fn is_on_earth(self) -> bool {
        self.latitude.abs() <= 90.0 && self.longitude.abs() <= 180.0
    }
}

/// A weed was seen in a field.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedWeed)]
pub struct WeedSeen {
    /// Which, in the person's words.
    pub name: String,
    /// How it lives.
    pub weed: Weed,
    /// How far on it is.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub stage: Option<Stage>,
    /// How tall it stands.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub height: Option<Length>,
    /// How much of the ground it covers.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cover: Option<Fraction>,
    /// Where, where that was told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub at: Option<Spot>,
}

impl Record for WeedSeen {
    const KIND: &'static str = "weed-seen";
    const TITLE: &'static str = "Weed sighting";

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        check_words(&mut checks, "/name", &self.name, true);
        if let Some(height) = self.height {
            checks.within("/height", "Height", height, Unit::Cm, 0.0, 600.0);
        }
        if let Some(cover) = self.cover {
            checks.within("/cover", "Cover", cover, Unit::Percent, 0.0, 100.0);
        }
        if let Some(at) = self.at {
            checks.require(at.is_on_earth(), "/at", "that location is not valid");
        }
        checks.done()
    }

    fn says(&self) -> Said {
        let mut parts = vec![said!("Weed seen: {}, {}", self.name, self.weed.words())];
        parts.extend(self.stage.map(|stage| Said::from(stage.words())));
        parts.extend(self.height.map(|height| said!("{} tall", height)));
        parts.extend(self.cover.map(|cover| said!("{} cover", cover)));
        Said::joined(parts, ", ")
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        let on = inked.0.occurred_on;
        if let (Some(height), Some(seen)) = (self.height, books.seen_of(inked)) {
            seen.weeds = Some((on, height));
        }
        if let Some(field) = books.field_of(inked) {
            field.weeds.push(inked.dated(self.clone()));
        }
    }
}
