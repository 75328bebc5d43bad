//! What seed the choices call for, and the order that covers it.

use agronomy::{
    crop::library,
    mix,
    refusal::Refused,
    seed::{DormantSeed, OrderLot, OrderMember, OrderRequest, Tag, pls_fraction, side},
    units::{Area, CountPerMass, Fraction, Mass, MassPerArea, Measure, PureLive},
};
use records::{Choices, Cover};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// A lot as the ledger knows it.
#[derive(Debug, Clone, PartialEq)]
pub struct LotFacts {
    /// The lot.
    pub id: Uuid,
    /// Crop of the library.
    pub crop: String,
    /// Its name.
    pub label: String,
    /// The tag, as last read or tested.
    pub tag: Tag,
    /// How much of it there is, out of the bag.
    pub available: Option<Mass>,
}

/// The seed one crop needs.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct NeededSeed {
    /// Crop id.
    pub crop: String,
    /// PLS rate, conditions included.
    #[schema(value_type = MassPerArea)]
    pub pls_rate: PureLive<MassPerArea>,
    /// PLS mass for the sown area and the spare.
    #[schema(value_type = Mass)]
    pub pls_mass: PureLive<Mass>,
    /// Pure live seed of the first lot chosen for it; none while none is.
    pub pls: Option<Fraction>,
    /// Out of that lot's bag.
    pub bulk_rate: Option<MassPerArea>,
    /// Seeds in a mass of it, where its tag tells.
    pub seeds_per_mass: Option<CountPerMass>,
}

/// What the seed part of the choices comes to.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SeedNeed {
    /// Per crop.
    pub members: Vec<NeededSeed>,
    /// Crops for which no lot has been chosen.
    pub without_lot: Vec<String>,
}

/// The pure live seed each crop of the choices needs; nothing for plants.
///
/// # Errors
/// When the mix can't be.
pub fn seed_need(choices: &Choices, sown_area: Area, lots: &[LotFacts]) -> Result<SeedNeed, Refused> {
    let Cover::Seed { mix, dormant_seed, .. } = &choices.cover else {
        return Ok(SeedNeed { members: vec![], without_lot: vec![] });
    };
    let rates = mix::rates(mix).map_err(|refused| refused.under("/cover/mix"))?.value;
    let with_spare = Fraction::ONE + choices.spare;
    let chosen = chosen_lots(choices, lots);
    let members: Vec<NeededSeed> = rates
        .members
        .into_iter()
        .map(|member| {
            let lot = chosen.iter().find(|lot| lot.crop == member.crop);
            let pls = lot.zip(library().crop(&member.crop)).and_then(|(lot, crop)| {
                let told = pls_fraction(&lot.tag, side(crop, *dormant_seed)).ok()?;
                (told.value.0.base() > 0.0).then_some(told.value)
            });
            NeededSeed {
                pls_mass: member.pls_rate * sown_area * with_spare,
                pls: pls.map(|pls| pls.0),
                seeds_per_mass: lot.and_then(|lot| lot.tag.seeds_per_mass),
                bulk_rate: pls.map(|pls| member.pls_rate.in_bulk(pls).0),
                crop: member.crop,
                pls_rate: member.pls_rate,
            }
        })
        .collect();
    let without_lot = members
        .iter()
        .filter(|member| !chosen.iter().any(|lot| lot.crop == member.crop))
        .map(|member| member.crop.clone())
        .collect();
    Ok(SeedNeed { members, without_lot })
}

/// The order for the crops whose lots have been chosen; `None` while no crop has one.
///
/// # Errors
/// When the mix can't be.
pub fn order_request(choices: &Choices, sown_area: Area, lots: &[LotFacts]) -> Result<Option<OrderRequest>, Refused> {
    let need = seed_need(choices, sown_area, lots)?;
    let dormant_seed: Option<DormantSeed> = match &choices.cover {
        Cover::Seed { dormant_seed, .. } => *dormant_seed,
        Cover::Plants { .. } => None,
    };
    let chosen = chosen_lots(choices, lots);
    let members: Vec<OrderMember> = need
        .members
        .iter()
        .filter(|member| !need.without_lot.contains(&member.crop) && library().crop(&member.crop).is_some())
        .map(|member| OrderMember {
            crop: member.crop.clone(),
            pls_rate: member.pls_rate.0,
            dormant_seed,
            lots: chosen
                .iter()
                .filter(|lot| lot.crop == member.crop)
                .map(|lot| OrderLot { label: lot.label.clone(), tag: lot.tag.clone(), available: lot.available })
                .collect(),
        })
        .collect();
    Ok((!members.is_empty()).then_some(OrderRequest { sown_area, spare: choices.spare, members }))
}

fn chosen_lots<'a>(choices: &Choices, lots: &'a [LotFacts]) -> Vec<&'a LotFacts> {
    match &choices.cover {
        Cover::Seed { lots: chosen, .. } => {
            chosen.iter().filter_map(|choice| lots.iter().find(|lot| lot.id == choice.lot)).collect()
        }
        Cover::Plants { .. } => vec![],
    }
}
