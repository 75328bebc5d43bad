//! The cheapest blend: from needs to products, by linear programming.
//!
//! Each product brings nutrients in fixed proportion at a price. The blend is the cheapest set of
//! amounts that meets every need, stays under every ceiling, and takes no more of a product than
//! there is: a linear programme, or a mixed-integer one when whole bags are asked for. The
//! **shadow price** of a need, what the last pound of it costs, is the dual of that programme.

mod programme;
mod shelf;

pub use shelf::library_products;

use programme::{Programme, Solved, Unsolved};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    nutrients::{Amounts, Analysis, Nutrient, add, amount, supplied},
    refusal::{Checks, Refused},
    said,
    source::{Origin, Source},
    units::{Area, Fraction, Mass, MassPerArea, Measure, Money, MoneyPerArea, MoneyPerMass, MoneyPerNutrient, Unit},
    working::{Answer, Sheet},
};

/// A product that can be had.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Product {
    /// Its name.
    pub name: String,
    /// Shares of nutrients in it, phosphorus and potassium as oxides.
    #[schema(value_type = std::collections::BTreeMap<String, Fraction>)]
    pub analysis: Analysis,
    /// Price of a mass.
    pub price: MoneyPerMass,
    /// Mass of one bag; sold loose when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bag: Option<Mass>,
    /// The most of it on an area; as much as is wanted when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub most: Option<MassPerArea>,
}

/// Request of the topic `blend.least_cost`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct BlendRequest {
    /// What has to be brought.
    #[schema(value_type = std::collections::BTreeMap<String, MassPerArea>)]
    pub needs: Amounts,
    /// How far below a need is still met; not at all when absent.
    #[serde(default)]
    pub under: Fraction,
    /// How far above a need is still borne; as far as it comes when absent.
    #[serde(default)]
    pub over: Option<Fraction>,
    /// The most of a nutrient in all.
    #[serde(default)]
    #[schema(value_type = std::collections::BTreeMap<String, MassPerArea>)]
    pub ceilings: Amounts,
    /// The most of a nutrient in one dressing.
    #[serde(default)]
    #[schema(value_type = std::collections::BTreeMap<String, MassPerArea>)]
    pub per_dressing: Amounts,
    /// Dressings over the year, alike; one when nothing is said.
    #[serde(default)]
    pub dressings: Option<u32>,
    /// Cost of one trip over the field.
    #[serde(default)]
    pub trip: Option<MoneyPerArea>,
    /// The products.
    pub products: Vec<Product>,
    /// Area to dress; needed for whole bags.
    #[serde(default)]
    pub area: Option<Area>,
    /// Buy whole bags only.
    #[serde(default)]
    pub whole_bags: bool,
}

/// A product in the blend.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct BlendLine {
    /// Its name.
    pub name: String,
    /// On an area, in all dressings.
    pub rate: MassPerArea,
    /// On an area, in each dressing.
    pub each: MassPerArea,
    /// On the whole area.
    pub total: Option<Mass>,
    /// Whole bags.
    pub bags: Option<f64>,
    /// What it costs.
    pub cost: MoneyPerArea,
}

/// How a need is met.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Met {
    /// Which.
    pub nutrient: Nutrient,
    /// Needed.
    pub needed: MassPerArea,
    /// Brought.
    pub brought: MassPerArea,
    /// Brought beyond the need.
    pub excess: MassPerArea,
    /// Short of the need, within what is allowed.
    pub shortfall: MassPerArea,
    /// What the last of it costs; of the blend without whole bags.
    pub shadow_price: MoneyPerNutrient,
}

/// A blend.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Blend {
    /// Products in it.
    pub lines: Vec<BlendLine>,
    /// Needs, and how they are met.
    pub met: Vec<Met>,
    /// All it brings, what nobody asked for too.
    #[schema(value_type = std::collections::BTreeMap<String, MassPerArea>)]
    pub brings: Amounts,
    /// Its analysis.
    #[schema(value_type = std::collections::BTreeMap<String, Fraction>)]
    pub analysis: Analysis,
    /// Mass on an area.
    pub rate: MassPerArea,
    /// Products and trips.
    pub cost: MoneyPerArea,
    /// On the whole area.
    pub total_cost: Option<Money>,
    /// Dressings.
    pub dressings: u32,
    /// Where the search for whole bags had to end before the proof: the most by which another blend may yet be
    /// cheaper, as a share of the cost of the products. Absent when none is.
    pub unproven: Option<Fraction>,
}

/// Amounts below this are the solver's dust, kg/ha.
const DUST: f64 = 1e-7;

/// The topic `blend.least_cost`.
///
/// # Errors
/// Products, needs or ceilings that can't be; and when no blend can meet the needs, which of them
/// and which limit stands in the way.
pub fn least_cost(request: &BlendRequest) -> Result<Answer<Blend>, Refused> {
    least_cost_while(request, &|| true)
}

/// The same, for one who may cease to wait: `wanted` is asked a few times a second while whole bags are searched
/// for, and once it says no the search ends with what it has.
///
/// # Errors
/// As [`least_cost`].
pub fn least_cost_while(request: &BlendRequest, wanted: &dyn Fn() -> bool) -> Result<Answer<Blend>, Refused> {
    check(request)?;
    let programme = Programme::of(request);
    match programme.solve(wanted) {
        Ok(solved) => Ok(explain(request, &solved, &programme.duals().needs)),
        Err(Unsolved::Impossible) => Err(programme.why_not(request)),
        Err(Unsolved::NotFound) => Err(Refused::one(
            "/whole_bags",
            "no whole-bag blend was found in time; drop a limit or some products, or allow part bags",
        )),
    }
}

fn check(request: &BlendRequest) -> Result<(), Refused> {
    let mut checks = Checks::new();
    checks.require(!request.products.is_empty(), "/products", "add at least one product");
    checks.require(request.products.len() <= 200, "/products", "use at most 200 products");
    for (index, product) in request.products.iter().enumerate() {
        let at = |field: &str| format!("/products/{index}/{field}");
        let sum: f64 = product.analysis.values().map(|share| share.base()).sum();
        for (nutrient, share) in &product.analysis {
            checks.within(&at("analysis"), nutrient.words(), *share, Unit::Percent, 0.0, 100.0);
        }
        checks.require(
            sum <= 1.0 + 1e-9,
            at("analysis"),
            format!("Analysis of {} adds up to {:.1}%; the limit is 100%", product.name, sum * 100.0),
        );
        checks.within(&at("price"), "Price", product.price, Unit::MoneyPerTon, 0.0, 1e9);
        if let Some(bag) = product.bag {
            checks.within(&at("bag"), "Bag weight", bag, Unit::Kg, 0.1, 2_000.0);
        }
        if let Some(most) = product.most {
            checks.within(&at("most"), "Maximum amount", most, Unit::TPerHa, 0.0, 200.0);
        }
    }
    let amounts = [
        ("/needs", "Need", &request.needs),
        ("/ceilings", "Limit", &request.ceilings),
        ("/per_dressing", "Limit per application", &request.per_dressing),
    ];
    for (pointer, name, amounts) in amounts {
        for (nutrient, mass) in amounts {
            checks.within(pointer, &format!("{name} of {}", nutrient.words()), *mass, Unit::KgPerHa, 0.0, 5_000.0);
        }
    }
    checks.require(
        request.needs.values().any(|need| need.base() > 0.0),
        "/needs",
        "enter at least one nutrient need above zero",
    );
    checks.within("/under", "Allowed shortfall", request.under, Unit::Percent, 0.0, 50.0);
    if let Some(over) = request.over {
        checks.within("/over", "Allowed excess", over, Unit::Percent, 0.0, 1_000.0);
    }
    if let Some(dressings) = request.dressings {
        checks.require((1..=12).contains(&dressings), "/dressings", format!("{dressings} applications; enter 1–12"));
    }
    if let Some(trip) = request.trip {
        checks.within("/trip", "Cost per trip", trip, Unit::MoneyPerHa, 0.0, 1e8);
    }
    if let Some(area) = request.area {
        checks.positive("/area", "Area", area, Unit::Ha, 20_000.0);
    }
    if request.whole_bags {
        checks.require(request.area.is_some(), "/area", "whole bags need a field area");
    }
    checks.done()
}

fn explain(request: &BlendRequest, solved: &Solved, shadow: &[f64]) -> Answer<Blend> {
    let mut sheet = Sheet::new("least-cost blend");
    sheet.source(Source::common_practice(
        "least cost within needs and limits: linear program, mixed-integer for whole bags",
    ));
    let dressings = request.dressings.unwrap_or(1);
    let mut lines = Vec::new();
    let mut brings = Amounts::new();
    for (product, kg) in request.products.iter().zip(&solved.rates).filter(|(_, kg)| **kg > DUST) {
        let rate = sheet.input(
            &format!("{} on the area", product.name),
            MassPerArea::new(*kg, Unit::KgPerHa),
            Origin::Worked { part: "the solved program".to_owned() },
        );
        let price = sheet.input(&format!("price of {}", product.name), product.price, Origin::measured("the offer"));
        let cost = sheet.line(
            &format!("cost of {}", product.name),
            &format!("{0} on the area × price of {0}", product.name),
            rate * price,
        );
        add(&mut brings, &supplied(rate, &product.analysis));
        let total = request.area.map(|area| rate * area);
        let bags = match (request.whole_bags, product.bag, total) {
            (true, Some(bag), Some(total)) => Some((total / bag).base().round()),
            _ => None,
        };
        lines.push(BlendLine {
            name: product.name.clone(),
            rate,
            each: rate / f64::from(dressings),
            total,
            bags,
            cost,
        });
    }
    let products: MoneyPerArea = lines.iter().map(|line| line.cost).sum();
    let products = sheet.gathered("products", "sum of the costs above", products);
    let trips = sheet.input("trip", request.trip.unwrap_or_default(), Origin::Given);
    let times = sheet.input("dressings", f64::from(dressings), Origin::Given);
    let cost = sheet.line("cost", "products + trip × dressings", products + trips * times);
    let rate: MassPerArea = lines.iter().map(|line| line.rate).sum();
    let rate = sheet.gathered("mass on the area", "sum of the products", rate);
    let analysis = if rate.base() > 0.0 {
        brings.iter().map(|(nutrient, mass)| (*nutrient, *mass / rate)).collect()
    } else {
        Analysis::new()
    };
    let needs = request.needs.iter().filter(|(_, need)| need.base() > 0.0);
    let met = needs
        .zip(shadow)
        .map(|((nutrient, needed), shadow)| {
            let brought = amount(&brings, *nutrient);
            let over = brought.base() - needed.base();
            let part = |base: f64| MassPerArea::from_base(if base > 1e-10 { base } else { 0.0 });
            Met {
                nutrient: *nutrient,
                needed: *needed,
                brought,
                excess: part(over),
                shortfall: part(-over),
                shadow_price: MoneyPerNutrient::new(shadow.max(0.0), Unit::MoneyPerKgNutrient),
            }
        })
        .collect();
    let total_cost = request.area.map(|area| cost * area);
    let unproven = (solved.gap > 0.0).then(|| Fraction::from_base(solved.gap));
    if let Some(gap) = unproven {
        sheet.would_change(said!(
            "The whole-bag search stopped early; another blend could save up to {}.",
            gap.quantity()
        ));
    }
    sheet.would_change(
        "Other prices, more products or a different limit. The shadow price is the cost of the last unit of each need.",
    );
    sheet.caution("fertiliser");
    sheet.caution("nutrient-rules");
    sheet.answer(Blend { lines, met, brings, analysis, rate, cost, total_cost, dressings, unproven })
}
