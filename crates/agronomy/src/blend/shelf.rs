//! Ordinary products to start from.

use super::Product;
use crate::{
    nutrients::Nutrient,
    units::{Fraction, Mass, MoneyPerMass, Unit},
};

/// Ordinary products to start from; prices are invented and want replacing.
pub fn library_products() -> Vec<Product> {
    use Nutrient::{B, Ca, K2o, Mg, N, P2o5, S, Zn};
    let product = |name: &str, analysis: &[(Nutrient, f64)], price: f64| Product {
        name: name.to_owned(),
        analysis: analysis.iter().map(|(nutrient, percent)| (*nutrient, Fraction::percent(*percent))).collect(),
        price: MoneyPerMass::new(price, Unit::MoneyPerTon),
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
        product("blend 10-20-25", &[(N, 10.0), (P2o5, 20.0), (K2o, 25.0)], 590.0),
        product("borate 15B", &[(B, 15.0)], 1_500.0),
        product("zinc sulfate 36Zn-17S", &[(Zn, 36.0), (S, 17.0)], 1_900.0),
        product("gypsum 22Ca-17S", &[(Ca, 22.0), (S, 17.0)], 90.0),
    ]
}
