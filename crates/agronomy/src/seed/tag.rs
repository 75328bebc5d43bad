//! The tag of a seed lot, and pure live seed.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    given, reckon,
    refusal::{Checks, Refused},
    source::{Origin, Source},
    units::{CountPerMass, Fraction, Mass, Measure, Money, Unit, basis::PlsFraction},
    working::{Answer, Sheet},
};

/// Whether hard or dormant seed counts as live.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum DormantSeed {
    /// It will wake up in the field: count it.
    Counts,
    /// It will not help this stand: leave it out.
    LeftOut,
}

/// What the tag of a seed lot says.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Tag {
    /// Pure seed, share of mass. Coating counts as inert, not as seed.
    pub purity: Fraction,
    /// Share of the pure seed that sprouted in the test.
    pub germination: Fraction,
    /// Share of the pure seed that is alive but did not sprout (hard or dormant).
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
    /// Pure seeds in a mass of pure seed; the crop's book value stands in when absent.
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

impl Tag {
    /// A tag with the three figures that make pure live seed.
    pub fn new(purity: Fraction, germination: Fraction, dormant: Fraction) -> Self {
        Self {
            purity,
            germination,
            dormant: Some(dormant),
            inert: None,
            other_crop: None,
            weed_seed: None,
            noxious: None,
            tested_on: None,
            seeds_per_mass: None,
            treated: false,
            inoculated: false,
            package: None,
            price: None,
        }
    }

    /// Refuse what can't be on a tag.
    ///
    /// # Errors
    /// One refusal per field, with pointers relative to the tag.
    pub fn check(&self) -> Result<(), Refused> {
        let mut checks = Checks::new();
        checks.positive("/purity", "Purity", self.purity, Unit::Percent, 100.0);
        checks.within("/germination", "Germination", self.germination, Unit::Percent, 0.0, 100.0);
        let shares = [
            ("/dormant", "Hard or dormant seed", self.dormant),
            ("/inert", "Inert matter", self.inert),
            ("/other_crop", "Other crop seed", self.other_crop),
            ("/weed_seed", "Weed seed", self.weed_seed),
        ];
        for (pointer, name, share) in shares {
            if let Some(share) = share {
                checks.within(pointer, name, share, Unit::Percent, 0.0, 100.0);
            }
        }
        let alive = self.germination + self.dormant.unwrap_or_default();
        if checks.is_clean() {
            checks.require(
                alive.base() <= 1.0 + 1e-9,
                "/dormant",
                format!("Germination plus hard or dormant seed is {:.1}%; the limit is 100%", alive.to(Unit::Percent)),
            );
            checks.require(
                alive.base() > 0.0,
                "/germination",
                "Germination and hard or dormant seed are both 0%; enter the tag figures",
            );
            let analysis: Fraction =
                [self.inert, self.other_crop, self.weed_seed].into_iter().flatten().chain([self.purity]).sum();
            // Tags round each line to 0.01 %.
            checks.require(
                analysis.base() <= 1.0005,
                "/purity",
                format!(
                    "Pure, inert, other-crop and weed seed total {:.2}%; the limit is 100%",
                    analysis.to(Unit::Percent)
                ),
            );
        }
        if let Some(seeds) = self.seeds_per_mass {
            checks.within("/seeds_per_mass", "Seeds per mass", seeds, Unit::PerLb, 100.0, 20_000_000.0);
        }
        if let Some(package) = self.package {
            checks.positive("/package", "Bag weight", package, Unit::Kg, 2_000.0);
        }
        if let Some(price) = self.price {
            checks.within("/price", "Price per bag", price, Unit::Money, 0.0, 1e9);
        }
        checks.done()
    }

    /// Months from the germination test to a day, when the test is dated.
    pub fn months_since_test(&self, today: Date) -> Option<i32> {
        let months = self.tested_on?.until((jiff::Unit::Month, today)).ok()?;
        Some(months.get_months())
    }
}

/// Request of the topic `seed.pls`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PlsRequest {
    /// The tag.
    pub tag: Tag,
    /// Whether hard or dormant seed counts as live; it does when nothing is said.
    #[serde(default = "counts")]
    pub dormant_seed: DormantSeed,
}

fn counts() -> DormantSeed {
    DormantSeed::Counts
}

/// Pure live seed: purity × (germination + hard or dormant seed where counted).
///
/// # Errors
/// When the tag says what can't be, or nothing in it counts as live.
///
/// ```
/// use agronomy::{seed::{pls_fraction, DormantSeed, Tag}, units::{Fraction, Unit}};
/// let tag = Tag::new(Fraction::percent(98.0), Fraction::percent(60.0), Fraction::percent(30.0));
/// let with = pls_fraction(&tag, DormantSeed::Counts).unwrap().value;
/// let without = pls_fraction(&tag, DormantSeed::LeftOut).unwrap().value;
/// assert!((with.0.to(Unit::Percent) - 88.2).abs() < 1e-9);
/// assert!((without.0.to(Unit::Percent) - 58.8).abs() < 1e-9);
/// ```
pub fn pls_fraction(tag: &Tag, dormant_seed: DormantSeed) -> Result<Answer<PlsFraction>, Refused> {
    tag.check()?;
    let mut sheet = Sheet::new("pure live seed");
    sheet.source(Source::published(
        "Federal Seed Act regulations, 7 CFR part 201: pure seed, germination, hard and dormant seed; PLS is their product",
    ));
    given!(sheet; purity = tag.purity, Origin::measured("the tag"));
    given!(sheet; germination = tag.germination, Origin::measured("the tag"));
    let dormant = tag.dormant.unwrap_or_default();
    let pure_live_seed = match dormant_seed {
        DormantSeed::Counts => {
            let origin = if tag.dormant.is_some() {
                Origin::measured("the tag")
            } else {
                Origin::assumed("the hard or dormant seed printed on the tag")
            };
            given!(sheet; hard_or_dormant = dormant, origin);
            reckon!(sheet; live = germination + hard_or_dormant);
            reckon!(sheet; pure_live_seed = purity * live);
            pure_live_seed
        }
        DormantSeed::LeftOut => {
            reckon!(sheet; pure_live_seed = purity * germination);
            pure_live_seed
        }
    };
    if pure_live_seed.base() <= 0.0 {
        return Err(Refused::one(
            "/germination",
            "Germination is 0% and hard or dormant seed is not counted, so nothing is live",
        ));
    }
    if dormant.base() > 0.0 {
        let other = match dormant_seed {
            DormantSeed::Counts => (tag.purity * tag.germination, "not counted"),
            DormantSeed::LeftOut => (tag.purity * (tag.germination + dormant), "counted"),
        };
        sheet.would_change(format!("With hard or dormant seed {}: {:.1}%.", other.1, other.0.to(Unit::Percent)));
    }
    if tag.treated {
        sheet.caution("treated-seed");
    }
    if tag.noxious.as_ref().is_some_and(|text| !text.trim().is_empty()) {
        sheet.caution("noxious-seed");
    }
    Ok(sheet.answer(PlsFraction(pure_live_seed)))
}

/// The topic `seed.pls`.
///
/// # Errors
/// As [`pls_fraction`], with pointers into the request.
pub fn pls(request: &PlsRequest) -> Result<Answer<Fraction>, Refused> {
    pls_fraction(&request.tag, request.dormant_seed)
        .map(|answer| answer.map(|pls| pls.0))
        .map_err(|refused| refused.under("/tag"))
}
