//! The cheapest blend against exhaustive search, known optima, and finite differences.

use agronomy::{
    blend::{Blend, BlendRequest, Product, least_cost, library_products},
    nutrients::{Amounts, Nutrient, amount},
    units::*,
};
use proptest::prelude::*;
use rstest::rstest;

const KINDS: [Nutrient; 4] = [Nutrient::N, Nutrient::P2o5, Nutrient::K2o, Nutrient::S];

fn kg(value: f64) -> MassPerArea {
    MassPerArea::new(value, Unit::KgPerHa)
}

fn product(name: &str, percents: [f64; 4], price: f64) -> Product {
    Product {
        name: name.into(),
        analysis: KINDS.into_iter().zip(percents.map(Fraction::percent)).collect(),
        price: MoneyPerMass::new(price, Unit::MoneyPerKg),
        bag: None,
        most: None,
    }
}

fn request(needs: &[(Nutrient, f64)], products: Vec<Product>) -> BlendRequest {
    BlendRequest {
        needs: needs.iter().map(|(nutrient, value)| (*nutrient, kg(*value))).collect(),
        under: Fraction::ZERO,
        over: None,
        ceilings: Amounts::new(),
        per_dressing: Amounts::new(),
        dressings: None,
        trip: None,
        products,
        area: None,
        whole_bags: false,
    }
}

fn blend(request: &BlendRequest) -> Blend {
    least_cost(request).unwrap_or_else(|refused| panic!("{refused}")).value
}

fn cost(blend: &Blend) -> f64 {
    blend.cost.to(Unit::MoneyPerHa)
}

/// A textbook programme worked by hand: 100 N and 40 P₂O₅ from urea (46-0) at 0.50 and DAP (18-46)
/// at 0.80. DAP for the P: 86.96 kg bring 15.65 N; urea for the rest: 183.36 kg; 161.25 in all. The
/// duals: N 0.50 ÷ 0.46, P (0.80 − 0.18 × N) ÷ 0.46.
#[test]
fn urea_and_dap_by_hand() {
    let products = vec![product("urea", [46.0, 0.0, 0.0, 0.0], 0.5), product("dap", [18.0, 46.0, 0.0, 0.0], 0.8)];
    let blend = blend(&request(&[(Nutrient::N, 100.0), (Nutrient::P2o5, 40.0)], products));
    let dap = 40.0 / 0.46;
    let urea = (100.0 - 0.18 * dap) / 0.46;
    let rate = |name: &str| blend.lines.iter().find(|line| line.name == name).unwrap().rate.to(Unit::KgPerHa);
    assert!((rate("dap") - dap).abs() < 1e-6 && (rate("urea") - urea).abs() < 1e-6);
    assert!((cost(&blend) - (0.5 * urea + 0.8 * dap)).abs() < 1e-6);
    let n = 0.5 / 0.46;
    let shadow = |nutrient| {
        blend.met.iter().find(|met| met.nutrient == nutrient).unwrap().shadow_price.to(Unit::MoneyPerKgNutrient)
    };
    assert!((shadow(Nutrient::N) - n).abs() < 1e-6, "{}", shadow(Nutrient::N));
    assert!((shadow(Nutrient::P2o5) - (0.8 - 0.18 * n) / 0.46).abs() < 1e-6);
}

/// Strong duality: at the optimum the needs at their shadow prices are worth what the blend costs.
#[test]
fn the_needs_at_their_shadow_prices_are_worth_the_blend() {
    let needs = [(Nutrient::N, 40.0), (Nutrient::P2o5, 65.0), (Nutrient::K2o, 220.0), (Nutrient::S, 25.0)];
    let blend = blend(&request(&needs, library_products()));
    let worth: f64 = blend
        .met
        .iter()
        .map(|met| (met.needed * 1.0).to(Unit::KgPerHa) * met.shadow_price.to(Unit::MoneyPerKgNutrient))
        .sum();
    assert!((worth - cost(&blend)).abs() < 1e-6 * worth, "{worth} {}", cost(&blend));
}

/// Each need a little larger costs its shadow price more.
#[rstest]
fn shadow_prices_are_finite_differences(#[values(0, 1, 2, 3)] which: usize) {
    let needs = [(Nutrient::N, 40.0), (Nutrient::P2o5, 65.0), (Nutrient::K2o, 220.0), (Nutrient::S, 25.0)];
    let base = blend(&request(&needs, library_products()));
    let mut more = needs;
    more[which].1 += 0.01;
    let dearer = blend(&request(&more, library_products()));
    let difference = (cost(&dearer) - cost(&base)) / 0.01;
    let nutrient = needs[which].0;
    let shadow =
        base.met.iter().find(|met| met.nutrient == nutrient).unwrap().shadow_price.to(Unit::MoneyPerKgNutrient);
    assert!((difference - shadow).abs() < 1e-4, "{nutrient:?}: {difference} {shadow}");
}

/// Whole bags against every possible number of bags.
#[rstest]
#[case([55.0, 30.0, 0.0, 0.0], 1.0)]
#[case([20.0, 46.0, 0.0, 0.0], 2.5)]
#[case([90.0, 10.0, 0.0, 0.0], 0.6)]
fn whole_bags_by_exhaustive_search(#[case] needs: [f64; 4], #[case] hectares: f64) {
    let mut products = vec![
        product("a", [46.0, 0.0, 0.0, 0.0], 0.51),
        product("b", [18.0, 46.0, 0.0, 0.0], 0.83),
        product("c", [10.0, 20.0, 0.0, 0.0], 0.31),
    ];
    for product in &mut products {
        product.bag = Some(Mass::new(25.0, Unit::Kg));
    }
    let wanted: Vec<(Nutrient, f64)> = KINDS.into_iter().zip(needs).filter(|(_, need)| *need > 0.0).collect();
    let mut asked = request(&wanted, products.clone());
    asked.area = Some(Area::new(hectares, Unit::Ha));
    asked.whole_bags = true;
    let found = blend(&asked);

    let price = |index: usize| products[index].price.to(Unit::MoneyPerKg);
    let content = |index: usize, nutrient: Nutrient| products[index].analysis[&nutrient].to(Unit::One);
    let mut best = f64::INFINITY;
    for a in 0..25 {
        for b in 0..25 {
            for c in 0..40 {
                let kilos = [a, b, c].map(|bags| f64::from(bags) * 25.0 / hectares);
                let enough = wanted.iter().all(|(nutrient, need)| {
                    (0..3).map(|index| kilos[index] * content(index, *nutrient)).sum::<f64>() >= need - 1e-9
                });
                if enough {
                    best = best.min((0..3).map(|index| kilos[index] * price(index)).sum());
                }
            }
        }
    }
    assert!((cost(&found) - best).abs() < 1e-6, "{} against {best}", cost(&found));
    for line in &found.lines {
        let bags = line.bags.unwrap();
        assert!((bags * 25.0 - line.total.unwrap().to(Unit::Kg)).abs() < 1e-6, "{line:?}");
    }
}

#[test]
fn ceilings_dressings_and_tolerances_hold() {
    let mut asked = request(&[(Nutrient::P2o5, 60.0), (Nutrient::K2o, 240.0)], library_products());
    asked.ceilings = Amounts::from([(Nutrient::N, kg(5.0))]);
    asked.per_dressing = Amounts::from([(Nutrient::K2o, kg(130.0))]);
    asked.dressings = Some(2);
    asked.trip = Some(MoneyPerArea::new(12.0, Unit::MoneyPerHa));
    asked.over = Some(Fraction::percent(5.0));
    let found = blend(&asked);
    assert!(amount(&found.brings, Nutrient::N).to(Unit::KgPerHa) <= 5.0 + 1e-6);
    let k = amount(&found.brings, Nutrient::K2o).to(Unit::KgPerHa);
    assert!((240.0 - 1e-6..=252.0 + 1e-6).contains(&k), "{k}");
    let products: f64 = found.lines.iter().map(|line| line.cost.to(Unit::MoneyPerHa)).sum();
    assert!((cost(&found) - products - 24.0).abs() < 1e-9);
    for line in &found.lines {
        assert!((line.each.to(Unit::KgPerHa) * 2.0 - line.rate.to(Unit::KgPerHa)).abs() < 1e-9);
    }
    let mut short = asked.clone();
    short.under = Fraction::percent(10.0);
    assert!(cost(&blend(&short)) < cost(&found));
}

#[rstest]
#[case::nothing_supplies(|asked: &mut BlendRequest| { asked.needs.insert(Nutrient::Mo, kg(0.1)); }, "/needs", "no product supplies Mo")]
#[case::ceiling(|asked: &mut BlendRequest| { asked.products.retain(|one| one.name.starts_with("DAP")); asked.needs.remove(&Nutrient::K2o); asked.ceilings.insert(Nutrient::N, kg(2.0)); }, "/needs", "the limit on N prevents it")]
#[case::per_dressing(|asked: &mut BlendRequest| { asked.per_dressing.insert(Nutrient::K2o, kg(50.0)); }, "/needs", "the limit of K₂O per application prevents it")]
#[case::most(|asked: &mut BlendRequest| { asked.products.retain(|one| one.name.starts_with("potash") || one.name.starts_with("triple")); asked.products.iter_mut().for_each(|one| one.most = Some(kg(10.0))); asked.needs.remove(&Nutrient::P2o5); }, "/needs", "the maximum of potash")]
#[case::no_products(|asked: &mut BlendRequest| asked.products.clear(), "/products", "add at least one product")]
#[case::no_needs(|asked: &mut BlendRequest| asked.needs.clear(), "/needs", "enter at least one nutrient need above zero")]
#[case::analysis(|asked: &mut BlendRequest| { asked.products[0].analysis.insert(Nutrient::S, Fraction::percent(70.0)); }, "/products/0/analysis", "116.0%")]
#[case::price(|asked: &mut BlendRequest| asked.products[0].price = MoneyPerMass::new(-1.0, Unit::MoneyPerKg), "/products/0/price", "enter ")]
#[case::bags(|asked: &mut BlendRequest| asked.whole_bags = true, "/area", "area")]
#[case::dressings(|asked: &mut BlendRequest| asked.dressings = Some(0), "/dressings", "0 applications")]
fn says_what_is_in_the_way(#[case] spoil: fn(&mut BlendRequest), #[case] pointer: &str, #[case] said: &str) {
    let mut asked = request(&[(Nutrient::P2o5, 60.0), (Nutrient::K2o, 200.0)], library_products());
    spoil(&mut asked);
    let refused = least_cost(&asked).unwrap_err();
    assert!(refused.0.iter().any(|one| one.pointer == pointer && one.detail.contains(said)), "{refused:?}");
}

proptest! {
    /// One more product on offer never makes the blend dearer, and every need is met.
    #[test]
    fn a_larger_choice_is_never_dearer(
        contents in proptest::collection::vec((0.0..40.0_f64, 0.0..25.0_f64, 0.0..25.0_f64, 0.2..2.0_f64), 1..6),
        needs in (1.0..100.0_f64, 1.0..80.0_f64, 1.0..200.0_f64),
    ) {
        let base = vec![
            product("n", [46.0, 0.0, 0.0, 0.0], 0.6), product("p", [0.0, 46.0, 0.0, 0.0], 0.8), product("k", [0.0, 0.0, 60.0, 0.0], 0.5),
        ];
        let needs = [(Nutrient::N, needs.0), (Nutrient::P2o5, needs.1), (Nutrient::K2o, needs.2)];
        let mut products = base;
        let mut before = cost(&blend(&request(&needs, products.clone())));
        for (index, (n, p, k, price)) in contents.into_iter().enumerate() {
            products.push(product(&format!("more {index}"), [n, p, k, 0.0], price));
            let found = blend(&request(&needs, products.clone()));
            prop_assert!(cost(&found) <= before + 1e-6 * before, "{} after {before}", cost(&found));
            for (nutrient, need) in needs {
                prop_assert!(amount(&found.brings, nutrient).to(Unit::KgPerHa) >= need - 1e-6);
            }
            before = cost(&found);
        }
    }
}

/// The optimum of a programme in two products lies on a corner of what is allowed: all corners are
/// tried here, which knows nothing of the simplex.
fn cheapest_corner(contents: [[f64; 2]; 2], prices: [f64; 2], needs: [f64; 2]) -> Option<f64> {
    // a·x + b·y = c for each need, and the axes.
    let lines: Vec<[f64; 3]> = (0..2)
        .map(|need| [contents[0][need], contents[1][need], needs[need]])
        .chain([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0]])
        .collect();
    let mut best: Option<f64> = None;
    for (index, first) in lines.iter().enumerate() {
        for second in &lines[index + 1..] {
            let determinant = first[0] * second[1] - first[1] * second[0];
            if determinant.abs() < 1e-12 {
                continue;
            }
            let x = (first[2] * second[1] - first[1] * second[2]) / determinant;
            let y = (first[0] * second[2] - first[2] * second[0]) / determinant;
            let allowed = x >= -1e-9
                && y >= -1e-9
                && (0..2).all(|need| contents[0][need] * x + contents[1][need] * y >= needs[need] - 1e-9);
            if allowed {
                let cost = prices[0] * x + prices[1] * y;
                best = Some(best.map_or(cost, |best: f64| best.min(cost)));
            }
        }
    }
    best
}

proptest! {
    #[test]
    fn two_products_against_every_corner(
        contents in ((0.05..0.5_f64, 0.0..0.5_f64), (0.0..0.5_f64, 0.05..0.5_f64)),
        prices in (0.1..2.0_f64, 0.1..2.0_f64), needs in (1.0..150.0_f64, 1.0..150.0_f64),
    ) {
        let table = [[contents.0.0, contents.0.1], [contents.1.0, contents.1.1]];
        let products = (0..2)
            .map(|index| product(&format!("{index}"), [table[index][0] * 100.0, table[index][1] * 100.0, 0.0, 0.0], [prices.0, prices.1][index]))
            .collect();
        let found = blend(&request(&[(Nutrient::N, needs.0), (Nutrient::P2o5, needs.1)], products));
        let best = cheapest_corner(table, [prices.0, prices.1], [needs.0, needs.1]).expect("a corner");
        prop_assert!((cost(&found) - best).abs() <= 1e-6 * (1.0 + best), "{} against {best}", cost(&found));
    }

    /// Whole bags never cost less than part bags, nor more than a bag of each product above them.
    #[test]
    fn whole_bags_cost_a_little_more(n in 10.0..120.0_f64, p in 5.0..80.0_f64, k in 10.0..200.0_f64, hectares in 0.5..20.0_f64) {
        let needs = [(Nutrient::N, n), (Nutrient::P2o5, p), (Nutrient::K2o, k)];
        let mut asked = request(&needs, library_products());
        asked.area = Some(Area::new(hectares, Unit::Ha));
        let part = cost(&blend(&asked));
        asked.whole_bags = true;
        let whole = blend(&asked);
        let a_bag_of_each: f64 = asked.products.iter().map(|one| one.price.to(Unit::MoneyPerKg) * one.bag.unwrap().to(Unit::Kg) / hectares).sum();
        prop_assert!(cost(&whole) >= part - 1e-6);
        prop_assert!(cost(&whole) <= part + a_bag_of_each);
        for line in &whole.lines {
            prop_assert!((line.bags.unwrap().fract()).abs() < 1e-9);
        }
    }
}

/// As many products and needs as are taken, in whole bags on a small field: a search that would go on for minutes
/// ends with the best found, and says by how much another may yet be cheaper. No whole bag is cheaper than part bags
/// are, and what lies between the two is the most that can be left to prove.
#[rstest]
#[case::sixty(60, 3.0)]
#[case::two_hundred(200, 1.3)]
fn a_search_that_has_to_end_says_what_it_has_not_proven(#[case] many: usize, #[case] hectares: f64) {
    let kinds = [
        Nutrient::N,
        Nutrient::P2o5,
        Nutrient::K2o,
        Nutrient::S,
        Nutrient::Mg,
        Nutrient::B,
        Nutrient::Zn,
        Nutrient::Mn,
        Nutrient::Cu,
        Nutrient::Mo,
        Nutrient::Ca,
    ];
    // A small congruential generator: the figures only have to be many and unlike.
    let mut state = 12_345_u64;
    let mut next = move |most: f64| {
        state = state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        most * ((state >> 33) as f64 / f64::from(1_u32 << 31))
    };
    let products: Vec<Product> = (0..many)
        .map(|index| {
            let chosen = [index % 11, (index * 7 + 3) % 11, (index * 5 + 1) % 11];
            let analysis = chosen.into_iter().map(|at| (kinds[at], Fraction::percent(next(28.0)))).collect();
            let bag = Some(Mass::new([15.0, 20.0, 25.0, 40.0][index % 4], Unit::Kg));
            let price = MoneyPerMass::new(0.3 + next(0.6), Unit::MoneyPerKg);
            Product { name: format!("product {index}"), analysis, price, bag, most: None }
        })
        .collect();
    let needs: Vec<(Nutrient, f64)> = kinds.into_iter().map(|kind| (kind, 5.0 + next(80.0))).collect();
    let mut asked = request(&needs, products);
    asked.area = Some(Area::new(hectares, Unit::Ha));
    let part_bags = cost(&blend(&asked));
    asked.whole_bags = true;
    let found = blend(&asked);
    assert!(found.lines.iter().all(|line| line.bags.is_some_and(|bags| bags >= 1.0)));
    assert!(found.met.iter().all(|met| met.shortfall.base() < 1e-9), "{:?}", found.met);
    let whole = cost(&found);
    let unproven = found.unproven.map_or(0.0, Fraction::base);
    assert!(whole >= part_bags - 1e-6, "{whole} {part_bags}");
    assert!(unproven <= (whole - part_bags) / whole + 1e-9, "{unproven}: {whole} {part_bags}");
}
