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

/// Sentences of the library are told to readers of inches and of centimetres: their amounts are `{6 in}`, not words.
#[test]
fn no_sentence_of_the_library_names_a_unit_of_one_system() {
    use std::{fs, path::Path};
    const UNITS: [&str; 12] = [
        "inch",
        "feet",
        "square foot",
        "pound",
        "acre",
        "°F",
        "ounce",
        "gallon",
        "mile",
        "bushel",
        "hectare",
        "centimet",
    ];
    fn strings(value: &toml::Value, key: &str, found: &mut Vec<String>) {
        match value {
            // What a source is called, and names.
            _ if matches!(key, "citation" | "also" | "scientific" | "source" | "unit") => {}
            toml::Value::String(text) if text.contains(' ') => found.push(text.clone()),
            toml::Value::Array(all) => all.iter().for_each(|one| strings(one, key, found)),
            toml::Value::Table(table) => table.iter().for_each(|(key, one)| strings(one, key, found)),
            _ => {}
        }
    }
    let library = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../library");
    let (mut folders, mut read) = (vec![library], 0);
    while let Some(folder) = folders.pop() {
        for entry in fs::read_dir(folder).unwrap() {
            let path = entry.unwrap().path();
            if path.is_dir() {
                folders.push(path);
                continue;
            }
            let mut found = vec![];
            let value: toml::Value = toml::from_str(&fs::read_to_string(&path).unwrap()).unwrap();
            strings(&value, "", &mut found);
            read += found.len();
            for text in found {
                let words: Vec<&str> = text.split(|letter: char| !letter.is_alphabetic() && letter != '°').collect();
                let named = UNITS.iter().find(|unit| words.contains(unit));
                assert_eq!(named, None, "{}: {text}", path.display());
            }
        }
    }
    assert!(read > 400, "{read}");
}
