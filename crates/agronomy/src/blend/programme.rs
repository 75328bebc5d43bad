//! The linear programme behind a blend, its whole-bag search and its duals.

use std::time::Duration;

use good_lp::{
    Expression, ProblemVariables, ResolutionError, Solution, SolverModel, Variable, WithInitialSolution, WithTimeLimit,
    constraint, microlp, variable,
};
use microlp::{ResumeOptions, SolveOutcome, TerminationReason};

use super::BlendRequest;
use crate::{
    nutrients::Nutrient,
    refusal::Refused,
    units::{MassPerArea, Measure, Unit},
};

/// A row of the programme: coefficients per product, and a bound.
#[derive(Clone)]
struct RowOf {
    label: String,
    coefficients: Vec<f64>,
    bound: f64,
}

/// Prices of the rows, money/kg.
pub(super) struct Duals {
    pub needs: Vec<f64>,
    ceilings: Vec<f64>,
    most: Vec<f64>,
}

/// The longest that one search for whole bags goes on, s. Two hundred products for eleven needs can take minutes to
/// prove what is found in the first second.
const SEARCH: f64 = 4.0;
/// After so long, s, it is asked whether anybody still waits for the answer.
const SLICE: f64 = 0.25;

/// Amounts that meet the needs.
pub(super) struct Solved {
    /// Of each product, kg/ha.
    pub rates: Vec<f64>,
    /// By what share of its cost a cheaper blend may yet lie below it; zero when it is proven the cheapest.
    pub gap: f64,
}

/// Why there is no blend.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Unsolved {
    /// No amounts meet the needs.
    Impossible,
    /// None was found before the search ended, though there may be one.
    NotFound,
}

/// In kg/ha and money/kg.
#[derive(Clone)]
pub(super) struct Programme {
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
    pub fn of(request: &BlendRequest) -> Self {
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
            .map(|(nutrient, mass)| row(format!("the limit on {}", nutrient.words()), *nutrient, kg(*mass)))
            .collect();
        let dressings = f64::from(request.dressings.unwrap_or(1));
        at_most.extend(request.per_dressing.iter().map(|(nutrient, mass)| {
            row(format!("the limit of {} per application", nutrient.words()), *nutrient, kg(*mass) * dressings)
        }));
        if let Some(over) = request.over {
            at_most.extend(needs.iter().map(|(nutrient, need)| {
                row(format!("the excess of {} allowed", nutrient.words()), *nutrient, need * (1.0 + over.base()))
            }));
        }
        let hectares = request.area.map(|area| area.to(Unit::Ha));
        Self {
            costs: request.products.iter().map(|product| product.price.to(Unit::MoneyPerKg)).collect(),
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

    /// The cheapest amounts, or the cheapest found when the search for whole bags has to end: by its budget, or
    /// because the answer is `wanted` no more.
    pub fn solve(&self, wanted: &dyn Fn() -> bool) -> Result<Solved, Unsolved> {
        self.solve_within(SEARCH, wanted)
    }

    /// Whether there is a blend at all.
    fn can_be_met(&self) -> bool {
        self.solve(&|| true).is_ok()
    }

    /// The same with so many seconds for each search.
    fn solve_within(&self, search: f64, wanted: &dyn Fn() -> bool) -> Result<Solved, Unsolved> {
        if self.bags.iter().all(Option::is_none) {
            return self.optimum(&self.most, None, search, wanted);
        }
        // Whole bags. The part-bag optimum bounds the cost from below and the rounded-up one from
        // above; a product whose reduced cost would lift even a bag of it over that gap can't be in
        // the best blend. That leaves the search few bags to count.
        let part_bags = self.relaxed().optimum(&self.most, None, SEARCH, wanted)?.rates;
        let Some(start) = self.rounded_up(&part_bags) else { return self.optimum(&self.most, None, search, wanted) };
        let gap = (self.cost(&start) - self.cost(&part_bags)).max(0.0);
        let most: Vec<f64> = self
            .reduced_costs()
            .iter()
            .zip(&self.most)
            .map(|(reduced, most)| if *reduced > 1e-9 { most.min(gap / reduced * (1.0 + 1e-9) + 1e-9) } else { *most })
            .collect();
        let start = Solved { gap: gap / self.cost(&start).max(1e-12), rates: start };
        match self.optimum(&most, Some(&start.rates), search, wanted) {
            // An interrupted search knows a bound of its own, or else that of the part bags.
            Ok(found) if self.cost(&found.rates) <= self.cost(&start.rates) + 1e-9 => {
                let cost = self.cost(&found.rates);
                let by_part_bags = (cost - self.cost(&part_bags)).max(0.0) / cost.max(1e-12);
                Ok(Solved { gap: found.gap.min(by_part_bags), ..found })
            }
            Ok(_) | Err(_) => Ok(start),
        }
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

    fn optimum(
        &self,
        most: &[f64],
        start: Option<&[f64]>,
        search: f64,
        wanted: &dyn Fn() -> bool,
    ) -> Result<Solved, Unsolved> {
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
        // A search that has something to begin with can be taken up again where it stopped.
        let mut spent = if start.is_some() { search.min(SLICE) } else { search };
        let solution = model.with_time_limit(spent).solve().map_err(|error| match error {
            ResolutionError::Other(_) => Unsolved::NotFound,
            _ => Unsolved::Impossible,
        })?;
        let mut found = solution.into_inner();
        while found.termination_reason() == TerminationReason::TimeLimit && spent < search && wanted() {
            let mut options = ResumeOptions::default();
            options.time_limit = Some(Duration::from_secs_f64(SLICE));
            let more = SolveOutcome::Solution(found).resume_with(options).map_err(|_| Unsolved::Impossible)?;
            found = more.into_solution().map_err(|_| Unsolved::NotFound)?;
            spent += SLICE;
        }
        // The solver keeps the variables in the order in which they were made.
        let rates = found.iter().zip(&amounts).map(|((_, value), (_, scale))| (value * scale).max(0.0)).collect();
        let gap = found.gap().unwrap_or(1.0);
        // The solver's proof of an optimum ends at its own rounding.
        Ok(Solved { rates, gap: if gap < 1e-6 { 0.0 } else { gap.min(1.0) } })
    }

    fn relaxed(&self) -> Self {
        Self { bags: vec![None; self.bags.len()], ..self.clone() }
    }

    /// What each product costs beyond what its contents are worth at the shadow prices, money/kg.
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

    /// The duals, money/kg, from the dual programme itself:
    /// max Σ need·y − Σ ceiling·z − Σ most·w, with Σ content·y − Σ content·z − w ≤ price.
    pub fn duals(&self) -> Duals {
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
    pub fn why_not(&self, request: &BlendRequest) -> Refused {
        for (row, nutrient) in self.at_least.iter().zip(&self.nutrients) {
            if row.coefficients.iter().all(|content| *content <= 0.0) {
                return Refused::one("/needs", format!("no product supplies {}; add one", nutrient.words()));
            }
        }
        let relaxed = self.relaxed();
        if request.whole_bags && relaxed.can_be_met() {
            return Refused::one("/whole_bags", "whole bags cannot meet the needs; part bags can");
        }
        // Take one limit away at a time: those without which there is a blend are in the way.
        let mut blamed: Vec<String> = Vec::new();
        for index in 0..relaxed.at_most.len() {
            let mut without = relaxed.clone();
            without.at_most.remove(index);
            if without.can_be_met() {
                blamed.push(relaxed.at_most[index].label.clone());
            }
        }
        for (index, product) in request.products.iter().enumerate() {
            let mut without = relaxed.clone();
            if without.most[index].is_finite() {
                without.most[index] = f64::INFINITY;
                if without.can_be_met() {
                    blamed.push(format!("the maximum of {}", product.name));
                }
            }
        }
        let hard: Vec<&str> = (0..relaxed.at_least.len())
            .filter(|index| {
                let mut without = relaxed.clone();
                without.at_least.remove(*index);
                without.can_be_met()
            })
            .map(|index| self.nutrients[index].words())
            .collect();
        let needs = if hard.is_empty() {
            "the needs together".to_owned()
        } else {
            format!("the need of {}", hard.join(" or "))
        };
        let way = if blamed.is_empty() {
            "several limits together prevent it".to_owned()
        } else {
            format!("{} prevents it", blamed.join(", or "))
        };
        Refused::one("/needs", format!("No blend of these products meets {needs}: {way}"))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn row(coefficients: [f64; 3], bound: f64) -> RowOf {
        RowOf { label: "a need".to_owned(), coefficients: coefficients.to_vec(), bound }
    }

    fn programme(at_most: Vec<RowOf>) -> Programme {
        Programme {
            costs: vec![0.51, 0.83, 0.31],
            at_least: vec![row([0.46, 0.18, 0.10], 55.0), row([0.0, 0.46, 0.20], 30.0)],
            at_most,
            most: vec![f64::INFINITY; 3],
            bags: vec![Some(25.0); 3],
            nutrients: vec![Nutrient::N, Nutrient::P2o5],
        }
    }

    /// A search that has no time answers with what it began with, and what it knows of it; one that has time proves.
    #[test]
    fn a_search_without_time_answers_with_what_it_has() {
        let programme = programme(vec![]);
        let hasty = programme.solve_within(0.0, &|| true).ok().unwrap();
        let patient = programme.solve(&|| true).ok().unwrap();
        assert_eq!(patient.gap, 0.0);
        assert!(programme.allows(&hasty.rates) && hasty.rates.iter().all(|rate| rate % 25.0 == 0.0));
        let (hasty_cost, best) = (programme.cost(&hasty.rates), programme.cost(&patient.rates));
        assert!(hasty_cost >= best - 1e-9);
        // Its doubt reaches down to the best there is.
        assert!(hasty_cost * (1.0 - hasty.gap) <= best + 1e-9, "{hasty_cost} {} {best}", hasty.gap);
    }

    /// Whoever asked has gone: the search is not taken up again, and what it had is no worse than it said.
    #[test]
    fn a_search_ends_when_nobody_waits() {
        // Bags of many sizes, each priced by what is in it: many ways that cost nearly the same, far more than a first
        // slice can tell apart.
        let share = |row: usize, product: usize| ((row * 37 + product * 101 + row * product * 7) % 89) as f64 / 200.0;
        let hard = Programme {
            costs: (0..60)
                .map(|product| (0..11).map(|need| share(need, product)).sum::<f64>() + (product % 7) as f64 / 1e3)
                .collect(),
            at_least: (0..11)
                .map(|need| RowOf {
                    label: "a need".to_owned(),
                    coefficients: (0..60).map(|product| share(need, product)).collect(),
                    bound: 40.0 + 7.0 * need as f64,
                })
                .collect(),
            at_most: vec![],
            most: vec![f64::INFINITY; 60],
            bags: (0..60).map(|product| Some(11.0 + ((product * 29) % 31) as f64)).collect(),
            nutrients: vec![Nutrient::N; 11],
        };
        let asked = std::cell::Cell::new(0);
        let wanted = || {
            asked.set(asked.get() + 1);
            asked.get() < 3
        };
        let left = hard.solve_within(1e6, &wanted).ok().unwrap();
        assert_eq!(asked.get(), 3);
        assert!(left.gap > 0.0 && hard.allows(&left.rates));
    }

    /// Where nothing was found it is not said that there is nothing.
    #[test]
    fn not_found_is_not_impossible() {
        // So tight a ceiling that part bags rounded up pass it.
        let tight = programme(vec![row([0.46, 0.18, 0.10], 56.0), row([0.0, 0.46, 0.20], 36.0)]);
        assert_eq!(tight.solve_within(0.0, &|| true).err(), Some(Unsolved::NotFound));
        let never = programme(vec![row([0.46, 0.18, 0.10], 54.0)]);
        assert_eq!(never.solve(&|| true).err(), Some(Unsolved::Impossible));
    }
}
