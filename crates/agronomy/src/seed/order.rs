//! The seed order: lot by lot, whole bags, what is left over, what it costs.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{DormantSeed, Tag, rate::side, tag::pls_fraction};
use crate::{
    crop::{crop_of, sowing_of},
    given, reckon,
    refusal::{Checks, Refused},
    source::{Origin, Source},
    units::{Area, Bulk, Fraction, Mass, MassPerArea, Measure, Money, PureLive, Unit},
    working::{Answer, Sheet},
};

/// A lot that can be drawn on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OrderLot {
    /// Its name.
    pub label: String,
    /// Its tag. Without a bag's mass it is ordered by weight; without a price it costs nothing known.
    pub tag: Tag,
    /// How much of it there is, out of the bag; unlimited when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub available: Option<Mass>,
}

/// One crop of the order, with its lots in the order they are to be used up.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OrderMember {
    /// Crop of the library.
    pub crop: String,
    /// PLS rate on the sown area.
    pub pls_rate: MassPerArea,
    /// Whether hard or dormant seed counts.
    #[serde(default)]
    pub dormant_seed: Option<DormantSeed>,
    /// Lots: the first is used up before the second is opened.
    pub lots: Vec<OrderLot>,
}

/// Request of the topic `seed.order`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OrderRequest {
    /// Area that will be sown.
    pub sown_area: Area,
    /// Extra to order, for overlap, headlands, calibration and mending.
    #[serde(default)]
    pub spare: Fraction,
    /// The crops.
    pub members: Vec<OrderMember>,
}

/// One lot of the order.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct OrderLine {
    /// Crop id.
    pub crop: String,
    /// Lot name.
    pub lot: String,
    /// Pure live seed in the lot.
    pub pls: Fraction,
    /// Pure live seed this lot supplies.
    #[schema(value_type = Mass)]
    pub pls_mass: PureLive<Mass>,
    /// The same out of the bag.
    #[schema(value_type = Mass)]
    pub bulk_mass: Bulk<Mass>,
    /// Whole bags, when the bag's mass is known.
    pub bags: Option<f64>,
    /// Mass of one bag.
    pub bag: Option<Mass>,
    /// What the whole bags weigh.
    pub bought: Mass,
    /// Bought beyond what is needed.
    pub remainder: Mass,
    /// Cost, when the price is known.
    pub cost: Option<Money>,
}

/// A seed order.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Order {
    /// Everything bought.
    pub mass: Mass,
    /// Everything with a price.
    pub cost: Money,
    /// Lot by lot.
    pub lines: Vec<OrderLine>,
    /// Pure live seed that the lots can't supply, by crop id; empty when all is covered.
    pub short: Vec<Shortfall>,
    /// Lots without a price: the cost leaves them out.
    pub unpriced: Vec<String>,
}

/// What the lots of a crop can't supply.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Shortfall {
    /// Crop id.
    pub crop: String,
    /// Missing pure live seed.
    #[schema(value_type = Mass)]
    pub pls_mass: PureLive<Mass>,
}

/// The topic `seed.order`.
///
/// # Errors
/// No area, no members, a member without lots, a tag that can't be, a spare above 100 %.
pub fn order(request: &OrderRequest) -> Result<Answer<Order>, Refused> {
    let mut checks = Checks::new();
    checks.positive("/sown_area", "Sown area", request.sown_area, Unit::Ha, 20_000.0);
    checks.within("/spare", "Extra to order", request.spare, Unit::Percent, 0.0, 100.0);
    checks.require(!request.members.is_empty(), "/members", "nothing to order");
    for (index, member) in request.members.iter().enumerate() {
        check_member(member, &format!("/members/{index}"), &mut checks);
    }
    checks.done()?;

    let mut sheet = Sheet::new("seed order");
    sheet.source(Source::common_practice("bought in whole bags; left over is shown"));
    given!(sheet; sown_area = request.sown_area, Origin::measured("the field\u{2019}s boundary, less setbacks"));
    given!(sheet; spare = request.spare, Origin::Given);
    let mut lines = Vec::new();
    let mut short = Vec::new();
    for member in &request.members {
        let (drawn, missing) = sheet.part(draw(member, sown_area, spare)?);
        lines.extend(drawn);
        if missing.base() > 1e-9 {
            short.push(Shortfall { crop: member.crop.clone(), pls_mass: missing });
        }
    }
    let mass = sheet.gathered("mass", "sum of what is bought", lines.iter().map(|line| line.bought).sum::<Mass>());
    let cost = sheet.gathered("cost", "sum of bags × price", lines.iter().filter_map(|line| line.cost).sum::<Money>());
    let unpriced = lines.iter().filter(|line| line.cost.is_none()).map(|line| line.lot.clone()).collect::<Vec<_>>();
    sheet.caution("lifting");
    Ok(sheet.answer(Order { mass, cost, lines, short, unpriced }))
}

fn check_member(member: &OrderMember, at: &str, checks: &mut Checks) {
    let Some(crop) = checks.part("", crop_of(&member.crop, &format!("{at}/crop"))) else { return };
    checks.part("", sowing_of(crop, &format!("{at}/crop")));
    checks.positive(&format!("{at}/pls_rate"), "Rate", member.pls_rate, Unit::KgPerHa, 1_000.0);
    checks.require(!member.lots.is_empty(), format!("{at}/lots"), format!("no {} lot to order from", crop.name));
    for (index, lot) in member.lots.iter().enumerate() {
        checks.part(&format!("{at}/lots/{index}/tag"), pls_fraction(&lot.tag, side(crop, member.dormant_seed)));
        if let Some(available) = lot.available {
            checks.within(&format!("{at}/lots/{index}/available"), "Seed on hand", available, Unit::Kg, 0.0, 1e6);
        }
    }
}

/// Lines of one crop, and what its lots can't supply.
type Drawn = (Vec<OrderLine>, PureLive<Mass>);

/// Draw one crop's need from its lots, first to last.
fn draw(member: &OrderMember, sown_area: Area, spare: Fraction) -> Result<Answer<Drawn>, Refused> {
    let crop = crop_of(&member.crop, "/crop")?;
    let mut sheet = Sheet::new(crop.name.clone());
    let pls_rate = sheet.input("pls_rate", PureLive(member.pls_rate), Origin::Given);
    given!(sheet; sown_area, Origin::Worked { part: "seed order".to_owned() });
    given!(sheet; spare, Origin::Given);
    let with_spare = sheet.line("with_spare", "100 % + spare", Fraction::ONE + spare);
    reckon!(sheet; pls_needed = pls_rate * sown_area * with_spare);

    let (mut missing, mut needed) = (pls_needed, "pls_needed".to_owned());
    let mut lines = Vec::new();
    for lot in &member.lots {
        if missing.base() <= 1e-9 {
            break;
        }
        let pls =
            sheet.carried(&format!("pls of {}", lot.label), pls_fraction(&lot.tag, side(crop, member.dormant_seed))?);
        let wanted = missing.in_bulk(pls);
        let there = lot.available.map(Bulk).filter(|there| there.base() < wanted.base());
        let bulk = there.unwrap_or(wanted);
        if bulk.base() <= 0.0 {
            continue;
        }
        let pls_mass = bulk * pls;
        missing = PureLive(missing.0 - pls_mass.0);
        let label = &lot.label;
        let from_it = format!("{needed} ÷ pls of {label}");
        let formula = if let Some(there) = lot.available {
            let origin = Origin::measured("stock on hand");
            sheet.input(&format!("{label} in the shed"), there, origin);
            format!("smaller({from_it}, {label} in the shed)")
        } else {
            from_it
        };
        let bulk = sheet.line(&format!("{label} bulk"), &formula, bulk);
        lines.push(in_bags(&crop.id, lot, pls.0, pls_mass, bulk, &mut sheet));
        if missing.base() > 1e-9 {
            let left = format!("needed after {label}");
            sheet.line(&left, &format!("{needed} − {label} bulk × pls of {label}"), missing);
            needed = left;
        }
    }
    Ok(sheet.answer((lines, missing)))
}

fn in_bags(
    crop: &str,
    lot: &OrderLot,
    pls: Fraction,
    pls_mass: PureLive<Mass>,
    bulk: Bulk<Mass>,
    sheet: &mut Sheet,
) -> OrderLine {
    // A hair below the next bag is that number of bags: 3.0000000001 is three.
    let bags = lot.tag.package.map(|bag| ((bulk.0 / bag).base() - 1e-9).ceil());
    let bought = lot.tag.package.zip(bags).map_or(bulk.0, |(bag, bags)| bag * bags);
    let cost = match (lot.tag.price, lot.tag.package, bags) {
        (Some(price), Some(_), Some(bags)) => Some(price * bags),
        _ => None,
    };
    if let (Some(bags), Some(bag)) = (bags, lot.tag.package) {
        let label = &lot.label;
        sheet.input(&format!("bag of {label}"), bag, Origin::measured("the tag"));
        sheet.line(&format!("bags of {label}"), &format!("rounded up({label} bulk ÷ bag of {label})"), bags);
    }
    OrderLine {
        crop: crop.to_owned(),
        lot: lot.label.clone(),
        pls,
        pls_mass,
        bulk_mass: bulk,
        bags,
        bag: lot.tag.package,
        bought,
        remainder: bought - bulk.0,
        cost,
    }
}
