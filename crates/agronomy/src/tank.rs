//! Tanks: how far one reaches, what goes into it, in which order.
//!
//! A rate is always per area: what goes into the tank follows from the water that goes out per area, and from nothing
//! on a label that speaks of tanks.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    given, reckon,
    refusal::{Checks, Refused},
    said,
    source::{Origin, Source},
    units::{Area, Dimension, Measure, Quantity, Unit, Volume, VolumePerArea},
    working::{Answer, Sheet},
};

/// Most products in one tank.
const MOST_PRODUCTS: usize = 12;
/// Most fillings: more are a slip.
const MOST_TANKS: f64 = 500.0;

/// How a product comes, in the order in which kinds go into half a tank of water that is being stirred.
///
/// The order that bulletins teach: dry ones first, each let disperse, then flowables, then emulsifiable concentrates,
/// solutions, and what makes them stick last (common practice, no source; the label comes before it).
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = TankForm)]
pub enum Form {
    /// Water conditioner, such as ammonium sulfate.
    Conditioner,
    /// Wettable powder.
    WettablePowder,
    /// Water-dispersible granules.
    DryFlowable,
    /// Suspension concentrate.
    LiquidFlowable,
    /// Emulsifiable concentrate.
    Emulsifiable,
    /// Solution.
    Solution,
    /// Oil or surfactant.
    Surfactant,
}

/// A product in the tank.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TankProduct {
    /// Its name, as the person writes it.
    pub name: String,
    /// Per area, as read off the label: a volume or a mass.
    pub rate: Quantity,
    /// How it comes.
    pub form: Form,
}

/// Request of the topic `tank.mix`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TankRequest {
    /// To be sprayed.
    pub area: Area,
    /// What the tank holds.
    pub tank: Volume,
    /// What goes out per area, as calibrated.
    pub output: VolumePerArea,
    /// What goes into it.
    #[serde(default)]
    pub products: Vec<TankProduct>,
}

/// How much of a product.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct TankLine {
    /// Its name.
    pub name: String,
    /// Into a full tank.
    pub per_tank: Quantity,
    /// Into the part tank at the end; none where the last is full.
    pub in_part: Option<Quantity>,
    /// In all.
    pub in_all: Quantity,
}

/// Tanks for a field.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Tanks {
    /// One reaches so far.
    pub area_per_tank: Area,
    /// Full ones.
    pub full: u32,
    /// The area left for a part tank at the end, so that nothing is left over.
    pub part_area: Option<Area>,
    /// What that one holds.
    pub part_volume: Option<Volume>,
    /// All that goes out, water and products.
    pub in_all: Volume,
    /// The products in the order in which they go in.
    pub products: Vec<TankLine>,
}

/// The topic `tank.mix`.
///
/// # Errors
/// An area, tank or output that can't be; a rate that is not per area.
pub fn tank_mix(request: &TankRequest) -> Result<Answer<Tanks>, Refused> {
    let mut checks = Checks::new();
    checks.within("/area", "Area", request.area, Unit::Ha, 0.001, 20_000.0);
    checks.within("/tank", "Tank size", request.tank, Unit::L, 1.0, 50_000.0);
    checks.within("/output", "Application rate", request.output, Unit::LPerHa, 10.0, 3_000.0);
    let many = request.products.len();
    checks.require(
        many <= MOST_PRODUCTS,
        "/products",
        said!("{} products in one tank; the limit is {}", many, MOST_PRODUCTS),
    );
    for (index, product) in request.products.iter().enumerate() {
        let at = |name: &str| format!("/products/{index}/{name}");
        checks.require(!product.name.trim().is_empty(), at("name"), "enter the product name");
        match product.rate.dimension() {
            Dimension::VolumePerArea | Dimension::MassPerArea => {
                let sound = product.rate.value.is_finite() && product.rate.value > 0.0;
                checks.require(sound, at("rate"), "enter a rate above zero");
            }
            _ => checks.require(
                false,
                at("rate"),
                "enter the label rate per area; the amount per tank depends on the area a tank covers",
            ),
        }
    }
    checks.done()?;
    let mut sheet = Sheet::new("tanks");
    sheet.source(Source::common_practice("area per tank = tank size ÷ application rate"));
    sheet.caution("spray-label");
    given!(sheet; area = request.area, Origin::Given);
    given!(sheet; tank = request.tank, Origin::Given);
    given!(sheet; output = request.output, Origin::Given);
    reckon!(sheet; area_per_tank = tank / output);
    reckon!(sheet; in_all = output * area);
    let tanks = (area / area_per_tank).base();
    if tanks > MOST_TANKS {
        let detail = said!("{} tanks: {} covers only {}; check the units", tanks.round(), tank, area_per_tank);
        return Err(Refused::one("/tank", detail));
    }
    // What is left of a tank by rounding alone is none.
    let full = (tanks + 1e-9).floor();
    let full_tanks = sheet.gathered("full tanks", "whole tanks", full);
    let left = Area::from_base((area.base() - full_tanks * area_per_tank.base()).max(0.0));
    let part_area = (left.base() > 1e-6 * area.base()).then_some(left);
    let part_volume =
        part_area.map(|part| sheet.gathered("part tank", "application rate × remaining area", output * part));
    if let Some(part) = part_area {
        sheet.gathered("area of the part tank", "area minus the full tanks", part);
    }
    let mut ordered: Vec<&TankProduct> = request.products.iter().collect();
    ordered.sort_by_key(|product| product.form);
    let products = ordered.into_iter().map(|product| line(product, area_per_tank, part_area, area)).collect();
    sheet.would_change("A calibration of the sprayer, or another water rate on the label.");
    let full = full_tanks as u32;
    Ok(sheet.answer(Tanks { area_per_tank, full, part_area, part_volume, in_all, products }))
}

fn line(product: &TankProduct, area_per_tank: Area, part: Option<Area>, whole: Area) -> TankLine {
    let rate = product.rate.unit.to_base(product.rate.value);
    let over = |area: Area| {
        let amount = rate * area.base();
        match product.rate.dimension() {
            Dimension::VolumePerArea => Volume::from_base(amount).quantity(),
            _ => crate::units::Mass::from_base(amount).quantity(),
        }
    };
    TankLine {
        name: product.name.trim().to_owned(),
        per_tank: over(if area_per_tank < whole { area_per_tank } else { whole }),
        in_part: part.map(over),
        in_all: over(whole),
    }
}
