//! What comes with the tool to start from can be worked with as it is.

use std::collections::BTreeSet;

use agronomy::{
    blend::library_products,
    lime::{effective_value, library_materials},
    nutrients::Nutrient,
    units::{Measure, Unit},
};

#[test]
fn liming_materials_are_sound_and_named_once() {
    let mut names = BTreeSet::new();
    for material in library_materials() {
        material.check().unwrap_or_else(|refused| panic!("{}: {refused}", material.name));
        let value = effective_value(&material).unwrap().value.to(Unit::Percent);
        assert!((20.0..=140.0).contains(&value), "{}: {value}", material.name);
        assert!(material.price.is_some_and(|price| price.base() > 0.0), "{}", material.name);
        assert!(names.insert(material.name.clone()), "{} stands twice", material.name);
    }
}

/// The grade in a name is the analysis behind it: N, P₂O₅ and K₂O in percent.
#[test]
fn a_grade_says_what_is_inside() {
    let mut names = BTreeSet::new();
    for product in library_products() {
        assert!(names.insert(product.name.clone()), "{} stands twice", product.name);
        let sum: f64 = product.analysis.values().map(|share| share.to(Unit::Percent)).sum();
        assert!(sum > 5.0 && sum <= 100.0, "{}: {sum}", product.name);
        let Some(grade) = product.name.split(' ').find(|word| word.matches('-').count() >= 2) else { continue };
        let numbers: Vec<f64> = grade.split('-').take(3).map(|number| number.parse().unwrap()).collect();
        for (nutrient, percent) in [Nutrient::N, Nutrient::P2o5, Nutrient::K2o].into_iter().zip(numbers) {
            let inside = product.analysis.get(&nutrient).map_or(0.0, |share| share.to(Unit::Percent));
            assert!((inside - percent).abs() < 1e-9, "{}: {} is {inside}", product.name, nutrient.words());
        }
    }
}

/// Between them the products bring what the bench asks for.
#[test]
fn every_need_of_the_bench_can_be_met() {
    for nutrient in [Nutrient::N, Nutrient::P2o5, Nutrient::K2o, Nutrient::S, Nutrient::Mg, Nutrient::B, Nutrient::Zn] {
        let any = library_products().iter().any(|product| product.analysis.contains_key(&nutrient));
        assert!(any, "nothing brings {}", nutrient.words());
    }
}
