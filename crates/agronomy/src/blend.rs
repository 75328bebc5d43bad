//! The cheapest blend: from needs to products, by linear programming.
//!
//! Each product brings nutrients in fixed proportion at a price. The blend is the cheapest set of
//! amounts that meets every need, stays under every ceiling, and takes no more of a product than
//! there is: a linear programme, or a mixed-integer one when whole bags are asked for. The
//! **shadow price** of a need, what the last pound of it costs, is the dual of that programme.

use good_lp::{
    Expression, ProblemVariables, Solution, SolverModel, Variable, WithInitialSolution, constraint, microlp, variable,
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    nutrients::{Amounts, Analysis, Nutrient, add, amount, supplied},
    refusal::{Checks, Refused},
    source::{Origin, Source},
    units::{Area, Fraction, Mass, MassPerArea, Measure, Money, MoneyPerArea, MoneyPerMass, Unit},
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
    pub shadow_price: MoneyPerMass,
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
}

/// Amounts below this are the solver\u{2019}s dust, kg/ha.
const DUST: f64 = 1e-7;

/// The topic `blend.least_cost`.
///
/// # Errors
/// Products, needs or ceilings that can't be; and when no blend can meet the needs, which of them
/// and which limit stands in the way.
pub fn least_cost(request: &BlendRequest) -> Result<Answer<Blend>, Refused> {
    check(request)?;
    let programme = Programme::of(request);
    let rates = match programme.solve() {
        Some(rates) => rates,
        None => return Err(programme.why_not(request)),
    };
    Ok(explain(request, &rates, &programme.duals().needs))
}

fn check(request: &BlendRequest) -> Result<(), Refused> {
    let mut checks = Checks::new();
    checks.require(!request.products.is_empty(), "/products", "there is no product to blend");
    checks.require(request.products.len() <= 200, "/products", "more than 200 products can\u{2019}t be weighed here");
    for (index, product) in request.products.iter().enumerate() {
        let at = |field: &str| format!("/products/{index}/{field}");
        let sum: f64 = product.analysis.values().map(|share| share.base()).sum();
        for (nutrient, share) in &product.analysis {
            checks.within(&at("analysis"), nutrient.words(), *share, Unit::Percent, 0.0, 100.0);
        }
        checks.require(
            sum <= 1.0 + 1e-9,
            at("analysis"),
            format!("the analysis of {} adds up to {:.1} %; it can\u{2019}t pass 100 %", product.name, sum * 100.0),
        );
        checks.within(&at("price"), "the price", product.price, Unit::UsdPerTon, 0.0, 200_000.0);
        if let Some(bag) = product.bag {
            checks.positive(&at("bag"), "the bag", bag, Unit::Kg, 2_000.0);
        }
        if let Some(most) = product.most {
            checks.within(&at("most"), "the most of it", most, Unit::TPerHa, 0.0, 200.0);
        }
    }
    let amounts = [
        ("/needs", "the need", &request.needs),
        ("/ceilings", "the ceiling", &request.ceilings),
        ("/per_dressing", "the limit of a dressing", &request.per_dressing),
    ];
    for (pointer, name, amounts) in amounts {
        for (nutrient, mass) in amounts {
            checks.within(pointer, &format!("{name} of {}", nutrient.words()), *mass, Unit::KgPerHa, 0.0, 5_000.0);
        }
    }
    checks.require(
        request.needs.values().any(|need| need.base() > 0.0),
        "/needs",
        "nothing is needed: name at least one need above zero",
    );
    checks.within("/under", "the shortfall allowed", request.under, Unit::Percent, 0.0, 50.0);
    if let Some(over) = request.over {
        checks.within("/over", "the excess allowed", over, Unit::Percent, 0.0, 1_000.0);
    }
    if let Some(dressings) = request.dressings {
        checks.require(
            (1..=12).contains(&dressings),
            "/dressings",
            format!("{dressings} dressings; it must be from 1 to 12"),
        );
    }
    if let Some(area) = request.area {
        checks.positive("/area", "the area", area, Unit::Ha, 20_000.0);
    }
    if request.whole_bags {
        checks.require(request.area.is_some(), "/area", "whole bags need the area they are for");
    }
    checks.done()
}

/// A row of the programme: coefficients per product, and a bound.
#[derive(Clone)]
struct RowOf {
    label: String,
    coefficients: Vec<f64>,
    bound: f64,
}

/// Prices of the rows, USD/kg.
struct Duals {
    needs: Vec<f64>,
    ceilings: Vec<f64>,
    most: Vec<f64>,
}

/// In kg/ha and USD/kg.
#[derive(Clone)]
struct Programme {
    costs: Vec<f64>,
    /// Σ coefficient × amount ≥ bound.
    at_least: Vec<RowOf>,
    /// Σ coefficient × amount ≤ bound.
    at_most: Vec<RowOf>,
    /// Most of each product.
    most: Vec<f64>,
    /// Amount of one bag on a hectare, where whole bags are asked for.
    bags: Vec<Option<f64>>,
    nutrients: Vec<Nutrient>,
}

impl Programme {
    fn of(request: &BlendRequest) -> Self {
        let kg = |mass: MassPerArea| mass.to(Unit::KgPerHa);
        let content = |nutrient: Nutrient| -> Vec<f64> {
            request
                .products
                .iter()
                .map(|product| product.analysis.get(&nutrient).map_or(0.0, |share| share.base()))
                .collect()
        };
        let needs: Vec<(Nutrient, f64)> =
            request.needs.iter().map(|(nutrient, mass)| (*nutrient, kg(*mass))).filter(|(_, kg)| *kg > 0.0).collect();
        let row =
            |label: String, nutrient: Nutrient, bound: f64| RowOf { label, coefficients: content(nutrient), bound };
        let at_least = needs
            .iter()
            .map(|(nutrient, need)| {
                row(format!("the need of {}", nutrient.words()), *nutrient, need * (1.0 - request.under.base()))
            })
            .collect();
        let mut at_most: Vec<RowOf> = request
            .ceilings
            .iter()
            .map(|(nutrient, mass)| row(format!("the ceiling on {}", nutrient.words()), *nutrient, kg(*mass)))
            .collect();
        let dressings = f64::from(request.dressings.unwrap_or(1));
        at_most.extend(request.per_dressing.iter().map(|(nutrient, mass)| {
            row(format!("the limit of {} in a dressing", nutrient.words()), *nutrient, kg(*mass) * dressings)
        }));
        if let Some(over) = request.over {
            at_most.extend(needs.iter().map(|(nutrient, need)| {
                row(format!("the excess of {} allowed", nutrient.words()), *nutrient, need * (1.0 + over.base()))
            }));
        }
        let hectares = request.area.map(|area| area.to(Unit::Ha));
        Self {
            costs: request.products.iter().map(|product| product.price.to(Unit::UsdPerKg)).collect(),
            at_least,
            at_most,
            most: request.products.iter().map(|product| product.most.map_or(f64::INFINITY, kg)).collect(),
            bags: request
                .products
                .iter()
                .map(|product| match (request.whole_bags, product.bag, hectares) {
                    (true, Some(bag), Some(hectares)) => Some(bag.to(Unit::Kg) / hectares),
                    _ => None,
                })
                .collect(),
            nutrients: needs.into_iter().map(|(nutrient, _)| nutrient).collect(),
        }
    }

    /// The cheapest amounts, kg/ha; `None` when there are none.
    fn solve(&self) -> Option<Vec<f64>> {
        if self.bags.iter().all(Option::is_none) {
            return self.optimum(&self.most, None);
        }
        // Whole bags. The part-bag optimum bounds the cost from below and the rounded-up one from
        // above; a product whose reduced cost would lift even a bag of it over that gap can't be in
        // the best blend. That leaves the search few bags to count.
        let part_bags = self.relaxed().optimum(&self.most, None)?;
        let Some(start) = self.rounded_up(&part_bags) else { return self.optimum(&self.most, None) };
        let gap = (self.cost(&start) - self.cost(&part_bags)).max(0.0);
        let most: Vec<f64> = self
            .reduced_costs()
            .iter()
            .zip(&self.most)
            .map(|(reduced, most)| if *reduced > 1e-9 { most.min(gap / reduced * (1.0 + 1e-9) + 1e-9) } else { *most })
            .collect();
        self.optimum(&most, Some(&start)).or(Some(start))
    }

    fn cost(&self, amounts: &[f64]) -> f64 {
        self.costs.iter().zip(amounts).map(|(cost, amount)| cost * amount).sum()
    }

    fn allows(&self, amounts: &[f64]) -> bool {
        let sum =
            |row: &RowOf| row.coefficients.iter().zip(amounts).map(|(content, amount)| content * amount).sum::<f64>();
        self.at_least.iter().all(|row| sum(row) >= row.bound - 1e-9)
            && self.at_most.iter().all(|row| sum(row) <= row.bound + 1e-9)
            && amounts.iter().zip(&self.most).all(|(amount, most)| *amount <= most + 1e-9)
    }

    /// A good blend in whole bags: rounded up, then bags taken out again, the dearest first.
    fn rounded_up(&self, part_bags: &[f64]) -> Option<Vec<f64>> {
        let mut amounts: Vec<f64> = part_bags
            .iter()
            .zip(&self.bags)
            .map(|(amount, bag)| bag.map_or(*amount, |bag| (amount / bag - 1e-9).ceil().max(0.0) * bag))
            .collect();
        if !self.allows(&amounts) {
            return None;
        }
        let mut order: Vec<usize> = (0..amounts.len()).filter(|index| self.bags[*index].is_some()).collect();
        order.sort_by(|a, b| {
            let bag = |index: usize| self.bags[index].unwrap_or(0.0) * self.costs[index];
            bag(*b).total_cmp(&bag(*a))
        });
        for index in order {
            let bag = self.bags[index].unwrap_or(0.0);
            while amounts[index] >= bag - 1e-9 {
                amounts[index] -= bag;
                if !self.allows(&amounts) {
                    amounts[index] += bag;
                    break;
                }
            }
        }
        Some(amounts)
    }

    fn optimum(&self, most: &[f64], start: Option<&[f64]>) -> Option<Vec<f64>> {
        let mut variables = ProblemVariables::new();
        let amounts: Vec<(Variable, f64)> = most
            .iter()
            .zip(&self.bags)
            .map(|(most, bag)| match bag {
                // Counted in bags: a whole number of them.
                Some(bag) => {
                    let mut count = variable().integer().min(0.0);
                    if most.is_finite() {
                        count = count.max((most / bag + 1e-9).floor());
                    }
                    (variables.add(count), *bag)
                }
                None => {
                    let mut kg = variable().min(0.0);
                    if most.is_finite() {
                        kg = kg.max(*most);
                    }
                    (variables.add(kg), 1.0)
                }
            })
            .collect();
        let sum = |coefficients: &[f64]| -> Expression {
            let terms = coefficients.iter().zip(&amounts);
            terms
                .filter(|(content, _)| **content != 0.0)
                .map(|(content, (variable, scale))| content * scale * *variable)
                .sum()
        };
        let mut model = variables.minimise(sum(&self.costs)).using(microlp);
        for row in &self.at_least {
            model = model.with(constraint!(sum(&row.coefficients) >= row.bound));
        }
        for row in &self.at_most {
            model = model.with(constraint!(sum(&row.coefficients) <= row.bound));
        }
        if let Some(start) = start {
            let values =
                amounts.iter().zip(start).map(|((variable, scale), amount)| (*variable, (amount / scale).round()));
            model = model.with_initial_solution(values);
        }
        let solution = model.solve().ok()?;
        Some(amounts.iter().map(|(variable, scale)| (solution.value(*variable) * scale).max(0.0)).collect())
    }

    fn relaxed(&self) -> Self {
        Self { bags: vec![None; self.bags.len()], ..self.clone() }
    }

    /// What each product costs beyond what its contents are worth at the shadow prices, USD/kg.
    fn reduced_costs(&self) -> Vec<f64> {
        let duals = self.duals();
        (0..self.costs.len())
            .map(|index| {
                let worth: f64 =
                    self.at_least.iter().zip(&duals.needs).map(|(row, price)| row.coefficients[index] * price).sum();
                let burden: f64 =
                    self.at_most.iter().zip(&duals.ceilings).map(|(row, price)| row.coefficients[index] * price).sum();
                self.costs[index] - worth + burden + duals.most[index]
            })
            .collect()
    }

    /// The duals, USD/kg, from the dual programme itself:
    /// max Σ need·y − Σ ceiling·z − Σ most·w, with Σ content·y − Σ content·z − w ≤ price.
    fn duals(&self) -> Duals {
        let mut variables = ProblemVariables::new();
        let needs: Vec<Variable> = self.at_least.iter().map(|_| variables.add(variable().min(0.0))).collect();
        let ceilings: Vec<Variable> = self.at_most.iter().map(|_| variables.add(variable().min(0.0))).collect();
        let most: Vec<Option<Variable>> =
            self.most.iter().map(|most| most.is_finite().then(|| variables.add(variable().min(0.0)))).collect();
        let mut worth = Expression::from(0.0);
        for (row, variable) in self.at_least.iter().zip(&needs) {
            worth += row.bound * *variable;
        }
        for (row, variable) in self.at_most.iter().zip(&ceilings) {
            worth -= row.bound * *variable;
        }
        for (bound, variable) in self.most.iter().zip(&most) {
            if let Some(variable) = variable {
                worth -= *bound * *variable;
            }
        }
        let mut model = variables.maximise(worth).using(microlp);
        for (index, cost) in self.costs.iter().enumerate() {
            let mut value = Expression::from(0.0);
            for (row, variable) in self.at_least.iter().zip(&needs) {
                value += row.coefficients[index] * *variable;
            }
            for (row, variable) in self.at_most.iter().zip(&ceilings) {
                value -= row.coefficients[index] * *variable;
            }
            if let Some(variable) = most[index] {
                value -= variable;
            }
            model = model.with(constraint!(value <= *cost));
        }
        match model.solve() {
            Ok(solution) => {
                let value = |variable: &Variable| solution.value(*variable).max(0.0);
                Duals {
                    needs: needs.iter().map(value).collect(),
                    ceilings: ceilings.iter().map(value).collect(),
                    most: most.iter().map(|variable| variable.as_ref().map_or(0.0, value)).collect(),
                }
            }
            // The primal has an optimum, so its dual has one; zero prices would only switch the
            // reduced-cost bounds off.
            Err(_) => Duals {
                needs: vec![0.0; needs.len()],
                ceilings: vec![0.0; ceilings.len()],
                most: vec![0.0; most.len()],
            },
        }
    }

    /// Which need can't be met, and which limit is in the way.
    fn why_not(&self, request: &BlendRequest) -> Refused {
        for (row, nutrient) in self.at_least.iter().zip(&self.nutrients) {
            if row.coefficients.iter().all(|content| *content <= 0.0) {
                return Refused::one(
                    "/needs",
                    format!("nothing here supplies {}: add a product that does", nutrient.words()),
                );
            }
        }
        let relaxed = self.relaxed();
        if request.whole_bags && relaxed.solve().is_some() {
            return Refused::one("/whole_bags", "whole bags can\u{2019}t meet it; with part bags there is a blend");
        }
        // Take one limit away at a time: those without which there is a blend are in the way.
        let mut blamed: Vec<String> = Vec::new();
        for index in 0..relaxed.at_most.len() {
            let mut without = relaxed.clone();
            without.at_most.remove(index);
            if without.solve().is_some() {
                blamed.push(relaxed.at_most[index].label.clone());
            }
        }
        for (index, product) in request.products.iter().enumerate() {
            let mut without = relaxed.clone();
            if without.most[index].is_finite() {
                without.most[index] = f64::INFINITY;
                if without.solve().is_some() {
                    blamed.push(format!("the most of {}", product.name));
                }
            }
        }
        let hard: Vec<&str> = (0..relaxed.at_least.len())
            .filter(|index| {
                let mut without = relaxed.clone();
                without.at_least.remove(*index);
                without.solve().is_some()
            })
            .map(|index| self.nutrients[index].words())
            .collect();
        let needs = if hard.is_empty() {
            "the needs together".to_owned()
        } else {
            format!("the need of {}", hard.join(" or "))
        };
        let way = if blamed.is_empty() {
            "several limits together are in the way".to_owned()
        } else {
            format!("{} is in the way", blamed.join(", or "))
        };
        Refused::one("/needs", format!("no blend of these products meets {needs}: {way}"))
    }
}

fn explain(request: &BlendRequest, rates: &[f64], shadow: &[f64]) -> Answer<Blend> {
    let mut sheet = Sheet::new("least-cost blend");
    sheet.source(Source::common_practice(
        "least cost subject to needs and ceilings: a linear programme, mixed-integer for whole bags",
    ));
    let dressings = request.dressings.unwrap_or(1);
    let mut lines = Vec::new();
    let mut brings = Amounts::new();
    for (product, kg) in request.products.iter().zip(rates).filter(|(_, kg)| **kg > DUST) {
        let rate = sheet.input(
            &format!("{} on the area", product.name),
            MassPerArea::new(*kg, Unit::KgPerHa),
            Origin::Worked { part: "the programme solved".to_owned() },
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
    let products = sheet.line("products", "sum of the costs above", products);
    let trips = sheet.input("trip", request.trip.unwrap_or_default(), Origin::Given);
    let times = sheet.input("dressings", f64::from(dressings), Origin::Given);
    let cost = sheet.line("cost", "products + trip × dressings", products + trips * times);
    let rate: MassPerArea = lines.iter().map(|line| line.rate).sum();
    let rate = sheet.line("mass on the area", "sum of the products", rate);
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
                shadow_price: MoneyPerMass::new(shadow.max(0.0), Unit::UsdPerKg),
            }
        })
        .collect();
    let total_cost = request.area.map(|area| cost * area);
    sheet.would_change(
        "Prices, one more product on offer, or a ceiling moved: the shadow price says what the last of a need costs.",
    );
    sheet.caution("fertiliser");
    sheet.caution("nutrient-rules");
    sheet.answer(Blend { lines, met, brings, analysis, rate, cost, total_cost, dressings })
}

/// Ordinary products to start from; prices are invented and want replacing.
pub fn library_products() -> Vec<Product> {
    use Nutrient::{B, Ca, K2o, Mg, N, P2o5, S, Zn};
    let product = |name: &str, analysis: &[(Nutrient, f64)], price: f64| Product {
        name: name.to_owned(),
        analysis: analysis.iter().map(|(nutrient, percent)| (*nutrient, Fraction::percent(*percent))).collect(),
        price: MoneyPerMass::new(price, Unit::UsdPerTon),
        bag: Some(Mass::new(50.0, Unit::Lb)),
        most: None,
    };
    vec![
        product("urea 46-0-0", &[(N, 46.0)], 560.0),
        product("ammonium sulfate 21-0-0-24S", &[(N, 21.0), (S, 24.0)], 430.0),
        product("MAP 11-52-0", &[(N, 11.0), (P2o5, 52.0)], 820.0),
        product("DAP 18-46-0", &[(N, 18.0), (P2o5, 46.0)], 790.0),
        product("triple superphosphate 0-46-0", &[(P2o5, 46.0), (Ca, 14.0)], 720.0),
        product("single superphosphate 0-16-0", &[(P2o5, 16.0), (S, 11.0), (Ca, 20.0)], 360.0),
        product("potash 0-0-60", &[(K2o, 60.0)], 480.0),
        product("sulfate of potash 0-0-50-18S", &[(K2o, 50.0), (S, 18.0)], 880.0),
        product("langbeinite 0-0-22-22S-11Mg", &[(K2o, 22.0), (S, 22.0), (Mg, 11.0)], 620.0),
        product("blend 9-23-30", &[(N, 9.0), (P2o5, 23.0), (K2o, 30.0)], 640.0),
        product("borate 15B", &[(B, 15.0)], 1_500.0),
        product("zinc sulfate 36Zn-17S", &[(Zn, 36.0), (S, 17.0)], 1_900.0),
        product("gypsum 22Ca-17S", &[(Ca, 22.0), (S, 17.0)], 90.0),
    ]
}
