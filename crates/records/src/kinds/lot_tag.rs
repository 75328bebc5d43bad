//! A seed tag was read.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    seed,
    units::{CountPerMass, Fraction, Mass, Money, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    record::{By, Record},
    shape::{Turn, stands_for},
    subject::SubjectKind,
};

/// What a tag says.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedTag)]
pub struct Tag {
    /// Pure seed, share of mass.
    pub purity: Fraction,
    /// Share of the pure seed that sprouted in the test.
    pub germination: Fraction,
    /// Share of the pure seed that is alive but did not sprout.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub dormant: Option<Fraction>,
    /// Inert matter: coating, chaff, dust.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub inert: Option<Fraction>,
    /// Seed of other crops.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub other_crop: Option<Fraction>,
    /// Weed seed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub weed_seed: Option<Fraction>,
    /// Noxious weeds, as the tag prints them.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub noxious: Option<String>,
    /// Day of the germination test.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schema(value_type = Option<String>, format = Date)]
    pub tested_on: Option<Date>,
    /// Pure seeds in a mass of pure seed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub seeds_per_mass: Option<CountPerMass>,
    /// Treated with fungicide or insecticide.
    #[serde(default)]
    pub treated: bool,
    /// Inoculated by the seller.
    #[serde(default)]
    pub inoculated: bool,
    /// Mass of one bag.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub package: Option<Mass>,
    /// Price of one bag.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub price: Option<Money>,
}
stands_for!(Tag = seed::Tag {
    purity, germination, dormant, inert, other_crop, weed_seed, noxious, tested_on, seeds_per_mass, treated,
    inoculated, package, price,
});

/// A seed tag was read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct LotTag {
    /// What it says.
    pub tag: Tag,
    /// How much of the lot there is, out of the bag.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub on_hand: Option<Mass>,
}

impl LotTag {
    /// Of a tag.
    pub fn of(tag: seed::Tag, on_hand: Option<Mass>) -> Self {
        Self { tag: tag.turn(), on_hand }
    }
}

impl Record for LotTag {
    const KIND: &'static str = "lot-tag";
    const TITLE: &'static str = "Seed tag";
    const NEEDS: &'static [SubjectKind] = &[SubjectKind::SeedLot];
    const BY: By = By::Manager;

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        let tag: seed::Tag = self.tag.clone().turn();
        checks.part("/tag", tag.check());
        if let Some(mass) = self.on_hand {
            checks.within("/on_hand", "Amount on hand", mass, Unit::Kg, 0.0, 1e6);
        }
        checks.done()
    }

    fn says(&self) -> Said {
        said!("Tag: purity {}, germination {}", self.tag.purity, self.tag.germination)
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(lot) = books.lot_of(inked) {
            lot.told_on = lot.tag.as_ref().map(|_| inked.0.occurred_on);
            lot.tag = Some(self.tag.clone().turn());
            lot.on_hand = self.on_hand;
        }
    }
}
