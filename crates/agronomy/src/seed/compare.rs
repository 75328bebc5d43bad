//! Comparing lots: never by the bag, always by what will grow.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{
    DormantSeed, Tag,
    rate::{seeds_per_mass, side},
    tag::pls_fraction,
};
use crate::{
    crop::{crop_of, sowing_of},
    given, reckon,
    refusal::{Checks, Refused},
    source::{Origin, Source},
    units::{CountPerMass, Fraction, MassPerArea, Money, MoneyPerArea, PureLive, Unit},
    working::{Answer, Sheet},
};

/// A lot on offer.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ComparedLot {
    /// Its name.
    pub label: String,
    /// Its tag, with bag and price.
    pub tag: Tag,
}

/// Request of the topic `seed.compare`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CompareRequest {
    /// Crop of the library.
    pub crop: String,
    /// The PLS rate to sow.
    pub pls_rate: MassPerArea,
    /// Whether hard or dormant seed counts.
    #[serde(default)]
    pub dormant_seed: Option<DormantSeed>,
    /// The lots, at least one.
    pub lots: Vec<ComparedLot>,
}

/// One lot's standing.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Compared {
    /// Its name.
    pub label: String,
    /// Pure live seed.
    pub pls: Fraction,
    /// Live seeds in a mass out of the bag.
    pub live_seeds_per_mass: CountPerMass,
    /// What a million live seeds cost.
    pub cost_per_million_live_seeds: Money,
    /// What sowing an area at the PLS rate costs.
    pub cost_per_area: MoneyPerArea,
    /// Cheapest to sow among those compared.
    pub cheapest: bool,
}

/// Lots side by side.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Comparison {
    /// In the order given.
    pub lots: Vec<Compared>,
}

/// The topic `seed.compare`: each lot's cost per million live seeds and per sown area, in the
/// order given.
///
/// # Errors
/// No lots, a tag that can't be, a lot without bag or price.
pub fn compare(request: &CompareRequest) -> Result<Answer<Comparison>, Refused> {
    let crop = crop_of(&request.crop, "/crop")?;
    sowing_of(crop, "/crop")?;
    let mut checks = Checks::new();
    checks.positive("/pls_rate", "Rate", request.pls_rate, Unit::KgPerHa, 1_000.0);
    checks.require(!request.lots.is_empty(), "/lots", "add a lot to compare");
    let mut answers = Vec::new();
    for (index, lot) in request.lots.iter().enumerate() {
        let at = format!("/lots/{index}/tag");
        let pls = checks.part(&at, pls_fraction(&lot.tag, side(crop, request.dormant_seed)));
        checks.require(lot.tag.package.is_some(), format!("{at}/package"), "enter the bag weight");
        checks.require(lot.tag.price.is_some(), format!("{at}/price"), "enter the price per bag");
        if let (Some(pls), Some(package), Some(price)) = (pls, lot.tag.package, lot.tag.price) {
            let mut sheet = Sheet::new(lot.label.clone());
            let pls_fraction = sheet.carried("pls", pls);
            let pls = pls_fraction.0;
            given!(sheet; price_of_a_bag = price, Origin::measured("the offer"));
            given!(sheet; bag = package, Origin::measured("the tag"));
            let (per_mass, origin) = seeds_per_mass(crop, Some(&lot.tag));
            given!(sheet; seeds_per_mass = per_mass, origin);
            let pls_rate = sheet.input("pls_rate", PureLive(request.pls_rate), Origin::Given);
            let price = sheet.line("price", "price_of_a_bag / bag", price_of_a_bag / bag);
            reckon!(sheet; live_seeds_per_mass = seeds_per_mass * pls);
            reckon!(sheet; cost_per_million = price / live_seeds_per_mass * 1e6);
            let cost_per_area =
                sheet.line("cost_per_area", "pls_rate / pls * price", pls_rate.in_bulk(pls_fraction).0 * price);
            answers.push(sheet.answer(Compared {
                label: lot.label.clone(),
                pls,
                live_seeds_per_mass,
                cost_per_million_live_seeds: cost_per_million,
                cost_per_area,
                cheapest: false,
            }));
        }
    }
    checks.done()?;

    let mut sheet = Sheet::new(format!("comparison of {} lots", crop.name));
    sheet.source(Source::common_practice("compare seed by cost per live seed and per sown area, not per bag"));
    let mut rows: Vec<Compared> = answers.into_iter().map(|answer| sheet.part(answer)).collect();
    let least = rows.iter().map(|row| row.cost_per_area).fold(None, |least: Option<MoneyPerArea>, cost| {
        Some(least.map_or(cost, |least| if cost < least { cost } else { least }))
    });
    for row in &mut rows {
        row.cheapest = Some(row.cost_per_area) == least;
    }
    if let Some(least) = least {
        sheet.gathered("cheapest_to_sow", "lowest cost per area", least);
    }
    Ok(sheet.answer(Comparison { lots: rows }))
}
