//! The formula a person reads gives the value beside it: every line of every working is worked out
//! again here from its text, by a calculator that knows nothing of the code that wrote it.

use std::collections::HashMap;

use agronomy::{
    blend, drill, lime, mix, nutrients, plants, seed, site, soil,
    units::{Dimension, Quantity},
    water, weather, window,
    working::{Answer, Working},
};
use rstest::rstest;
use serde_json::{Value, json};

/// A calculator for formulas in words: names, numbers, + − × ÷, parentheses and a few functions.
struct Calculator<'a> {
    text: &'a str,
    known: &'a HashMap<String, f64>,
}

impl<'a> Calculator<'a> {
    fn rest(&mut self) -> &'a str {
        self.text = self.text.trim_start();
        self.text
    }

    fn takes(&mut self, sign: &str) -> bool {
        match self.rest().strip_prefix(sign) {
            Some(rest) => {
                self.text = rest;
                true
            }
            None => false,
        }
    }

    fn sum(&mut self) -> Option<f64> {
        let mut value = self.product()?;
        loop {
            if self.takes("+") {
                value += self.product()?;
            } else if self.takes("−") {
                value -= self.product()?;
            } else {
                return Some(value);
            }
        }
    }

    fn product(&mut self) -> Option<f64> {
        let mut value = self.atom()?;
        loop {
            if self.takes("×") {
                value *= self.atom()?;
            } else if self.takes("÷") {
                value /= self.atom()?;
            } else {
                return Some(value);
            }
        }
    }

    fn atom(&mut self) -> Option<f64> {
        if self.takes("(") {
            let value = self.sum()?;
            return self.takes(")").then_some(value);
        }
        let rest = self.rest();
        let end = rest.find(['+', '−', '×', '÷', '(', ')', ',']).unwrap_or(rest.len());
        let word = rest[..end].trim();
        if rest[end..].starts_with('(') {
            self.text = &rest[end + 1..];
            return self.function(word);
        }
        let value = match word.strip_suffix(" %") {
            Some(percent) => percent.parse::<f64>().ok()? / 100.0,
            None => self.known.get(word).copied().or_else(|| word.parse().ok())?,
        };
        self.text = &rest[end..];
        Some(value)
    }
}

impl Calculator<'_> {
    fn function(&mut self, name: &str) -> Option<f64> {
        let first = self.sum()?;
        let second = if self.takes(",") { Some(self.sum()?) } else { None };
        self.takes(")").then_some(())?;
        match (name, second) {
            ("exp", None) => Some(first.exp()),
            ("ln", None) => Some(first.ln()),
            ("sqrt", None) => Some(first.sqrt()),
            ("sin", None) => Some(first.sin()),
            ("cos", None) => Some(first.cos()),
            ("tan", None) => Some(first.tan()),
            ("acos", None) => Some(first.acos()),
            ("bounded", None) => Some(first.clamp(-1.0, 1.0)),
            ("larger", Some(second)) => Some(first.max(second)),
            ("smaller", Some(second)) => Some(first.min(second)),
            _ => None,
        }
    }
}

fn base(quantity: Quantity) -> f64 {
    quantity.unit.to_base(quantity.value)
}

fn lime_request(school: Value, target: f64) -> Value {
    json!({"school": school, "ph": 5.7, "target_ph": target, "depth": {"value": 6, "unit": "in"},
        "area": {"value": 20, "unit": "ac"}, "material": lime::library_materials()[0]})
}

/// What a formula may say in words, where it gathers many parts or rounds.
const IN_WORDS: &[&str] = &[
    "sum of",
    "the least of",
    "rounded up",
    "what is still needed",
    "live seeds of legumes",
    "what the table gives",
    "none at or above",
    "never below zero",
    "as a number",
    "above 3 %",
    "the larger of",
    "the rate above",
    "falls to nothing",
    "none",
    "what the harvest",
    "what the threshold asks for",
    "at most about",
    "half as base",
    "what the layers above pass on",
    "missing before, less what came in",
    "each day from emergence",
];

/// Work every line out again but those in words; returns how many there were.
fn recompute(working: &Working) -> usize {
    let mut known: HashMap<String, f64> =
        working.inputs.iter().map(|input| (input.name.clone(), base(input.value))).collect();
    let mut checked = 0;
    for line in &working.lines {
        let mut calculator = Calculator { text: &line.formula, known: &known };
        let value = calculator.sum().filter(|_| calculator.text.trim().is_empty());
        if let Some(value) = value {
            let said = base(line.value);
            assert!(
                (value - said).abs() <= 1e-9 * said.abs().max(1e-12),
                "{}: {} = {} gives {value}, not {said}",
                working.title,
                line.name,
                line.formula
            );
            for name in &line.uses {
                assert!(known.contains_key(name), "{name} is not above {}", line.name);
            }
            checked += 1;
        } else {
            let in_words = IN_WORDS.iter().any(|words| line.formula.contains(words));
            assert!(in_words, "{}: \u{201c}{}\u{201d} names something that is not there", working.title, line.formula);
        }
        known.insert(line.name.clone(), base(line.value));
    }
    checked + working.parts.iter().map(recompute).sum::<usize>()
}

fn tag(purity: f64, germination: f64, dormant: f64) -> Value {
    let percent = |value: f64| json!({"value": value, "unit": "%"});
    json!({"purity": percent(purity), "germination": percent(germination), "dormant": percent(dormant),
        "package": {"value": 50, "unit": "lb"}, "price": {"value": 212, "unit": "USD"}})
}

fn lb(value: f64) -> Value {
    json!({"value": value, "unit": "lb/ac"})
}

fn worked<Q, A>(request: Value, run: fn(&Q) -> Result<Answer<A>, agronomy::refusal::Refused>) -> Working
where
    Q: serde::de::DeserializeOwned,
{
    run(&serde_json::from_value(request).unwrap()).unwrap().working
}

fn years() -> Value {
    json!({"from": "generated", "years": {"place": "northern-hills", "seed": 3, "from": "1985-01-01", "years": 25}})
}

#[rstest]
#[case::pls(worked(json!({"tag": tag(98.0, 80.0, 9.0)}), seed::pls), 2)]
#[case::pls_left_out(worked(json!({"tag": tag(98.0, 80.0, 9.0), "dormant_seed": "left-out"}), seed::pls), 1)]
#[case::chart_drilled(worked(json!({"crop": "alfalfa", "target": {"by": "chart"}, "tag": tag(98.0, 80.0, 9.0),
    "conditions": {"seedbed": "fair"}}), seed::rate), 5)]
#[case::chart_broadcast(worked(json!({"crop": "timothy", "target": {"by": "chart"}, "tag": tag(99.0, 85.0, 0.0),
    "conditions": {"method": "broadcast", "late": true}}), seed::rate), 6)]
#[case::live_seeds(worked(json!({"crop": "switchgrass", "target": {"by": "live-seeds", "per_area": {"value": 40, "unit": "/ft2"}},
    "tag": tag(95.0, 40.0, 40.0), "conditions": {"seedbed": "poor"}}), seed::rate), 4)]
#[case::assumed(worked(json!({"crop": "alfalfa", "target": {"by": "assumed-germination", "rate": lb(20.0),
    "germination": {"value": 80, "unit": "%"}}, "tag": tag(62.4, 70.0, 0.0)}), seed::rate), 4)]
#[case::mix(worked(json!({"by": "mass", "members": [{"crop": "alfalfa", "rate": lb(10.0)}, {"crop": "timothy", "rate": lb(3.0)}],
    "conditions": {"method": "broadcast"}}), mix::rates), 8)]
#[case::order(worked(json!({"sown_area": {"value": 21.5, "unit": "ac"}, "spare": {"value": 5, "unit": "%"}, "members": [
    {"crop": "alfalfa", "pls_rate": lb(18.0), "lots": [{"label": "A", "tag": tag(98.0, 80.0, 9.0)}]}]}), seed::order), 4)]
#[case::compare(worked(json!({"crop": "alfalfa", "pls_rate": lb(18.0), "lots": [{"label": "A", "tag": tag(98.0, 80.0, 9.0)}]}), seed::compare), 5)]
#[case::plants(worked(json!({"crop": "giant-miscanthus", "area": {"value": 3, "unit": "ha"}, "spare": {"value": 4, "unit": "%"}}), plants::count), 5)]
#[case::row(worked(json!({"crop": "alfalfa", "bulk_rate": lb(20.0), "pls": {"value": 85, "unit": "%"},
    "course": {"value": 60, "unit": "m"}}), drill::row), 4)]
#[case::sampling(worked(json!({"area": {"value": 50, "unit": "ac"}, "crop": "alfalfa"}), soil::sampling), 2)]
#[case::smp(worked(lime_request(json!({"by": "smp", "buffer_ph": 6.4}), 6.8), lime::need), 7)]
#[case::smp_between(worked(lime_request(json!({"by": "smp", "buffer_ph": 6.4}), 6.6), lime::need), 9)]
#[case::mehlich(worked(lime_request(json!({"by": "mehlich", "acidity": {"value": 1.8, "unit": "meq/100cm3"}}), 6.4), lime::need), 6)]
#[case::base_saturation(worked(lime_request(json!({"by": "base-saturation", "cec": {"value": 12, "unit": "meq/100g"},
    "base_saturation": {"value": 55, "unit": "%"}, "aim": {"value": 80, "unit": "%"}}), 6.5), lime::need), 4)]
#[case::texture(worked(lime_request(json!({"by": "texture", "texture": "silt-loam"}), 6.5), lime::need), 4)]
#[case::material(worked(json!({"effective_need": {"value": 4, "unit": "t/ha"}, "materials": lime::library_materials()}), lime::compare), 12)]
#[case::path(worked(json!({"ph": 5.6, "per_ph_unit": {"value": 5, "unit": "t/ha"}, "floor": 6.0,
    "doses": [{"month": 0, "fast": {"value": 3, "unit": "t/ha"}, "slow": {"value": 1, "unit": "t/ha"}}]}), lime::path), 1)]
#[case::needs(worked(json!({"crop": "alfalfa", "yield_goal": {"value": 5, "unit": "ton/ac"},
    "p": {"value": {"value": 15, "unit": "ppm"}, "method": "bray-p1"}, "k": {"value": 90, "unit": "ppm"}}), nutrients::need), 12)]
#[case::removal(worked(json!({"crop": "giant-miscanthus", "yield": {"value": 8, "unit": "ton/ac"}, "after_frost": true}), nutrients::removal), 4)]
#[case::manure(worked(json!({"analysis": {"total_n": {"value": 0.5, "unit": "%"}, "ammonium_n": {"value": 0.2, "unit": "%"},
    "p2o5": {"value": 0.25, "unit": "%"}, "k2o": {"value": 0.45, "unit": "%"}}, "days_to_incorporation": 1,
    "needs": {"p2o5": {"value": 60, "unit": "lb/ac"}, "k2o": {"value": 180, "unit": "lb/ac"}}}), nutrients::manure::rate), 4)]
#[case::blend(worked(json!({"needs": {"p2o5": {"value": 65, "unit": "lb/ac"}, "k2o": {"value": 200, "unit": "lb/ac"}},
    "products": blend::library_products()}), blend::least_cost), 3)]
#[case::radiation(worked(json!({"latitude": -22.9, "day": "2026-05-15", "sunshine_hours": 7.1}), weather::sun::radiation), 9)]
#[case::et0(worked(json!({"latitude": 50.8, "day": "2026-07-06", "elevation": {"value": 100, "unit": "m"},
    "tmin": {"value": 12.3, "unit": "degC"}, "tmax": {"value": 70.7, "unit": "degF"}, "humidity_max": {"value": 84, "unit": "%"},
    "humidity_min": {"value": 63, "unit": "%"}, "wind": {"value": 10, "unit": "km/h"}, "wind_height": {"value": 10, "unit": "m"}}), weather::et0::et0), 24)]
#[case::hargreaves(worked(json!({"latitude": 45.7, "day": "2026-07-15", "method": "hargreaves",
    "tmin": {"value": 14.8, "unit": "degC"}, "tmax": {"value": 26.6, "unit": "degC"}}), weather::et0::et0), 8)]
#[case::gdd(worked(json!({"days": [{"tmin": {"value": 6, "unit": "degC"}, "tmax": {"value": 18, "unit": "degC"}}],
    "base": {"value": 10, "unit": "degC"}}), weather::degree_days::degree_days), 0)]
#[case::frost(worked(json!({"weather": years(), "year": 2026}), weather::frost::frost), 0)]
#[case::soil(worked(json!({"weather": years(), "depth": {"value": 3, "unit": "cm"},
    "readings": [{"on": "2009-12-30", "depth": {"value": 3, "unit": "cm"}, "temperature": {"value": 4, "unit": "degC"}}]}),
    weather::soil_temperature::soil_temperature), 4)]
#[case::water(worked(json!({"weather": years(), "crop": "alfalfa", "texture": "loam", "drainage": "well"}), water::balance), 7)]
#[case::odds(worked(json!({"weather": years(), "crop": "alfalfa", "texture": "loam", "drainage": "well", "on": "2010-05-10",
    "stake": {"value": 1500, "unit": "USD"}}), window::window_odds), 2)]
#[case::growing_time(worked(json!({"weather": years(), "crop": "forage-oats", "from": "2009-08-10"}),
    window::growing_time::growing_time_left), 3)]
#[case::generated(worked(json!({"place": "northern-hills", "from": "2000-01-01", "years": 1}), weather::generate), 0)]
#[case::site(worked(json!({"crop": "alfalfa", "today": "2026-05-14", "sow_on": "2026-08-10"}), site::check), 0)]
fn each_line_gives_its_value(#[case] working: Working, #[case] at_least: usize) {
    let checked = recompute(&working);
    assert!(checked >= at_least, "only {checked} lines could be worked out: {working:#?}");
}

#[test]
fn the_calculator_knows_its_signs() {
    let known = HashMap::from([("live seeds".to_owned(), 6.0), ("share".to_owned(), 0.5)]);
    let value = |text: &str| Calculator { text, known: &known }.sum();
    assert_eq!(value("live seeds × share + 1"), Some(4.0));
    assert_eq!(value("(100 % + share) ÷ 3 − 0.5"), Some(0.0));
    assert_eq!(value("1.0 ÷ (live seeds × share)"), Some(1.0 / 3.0));
    assert_eq!(value("hope"), None);
}

/// Nothing a person would be shown lacks its unit, its source or its name.
#[rstest]
fn every_input_says_where_it_is_from(
    #[values("alfalfa", "switchgrass", "orchardgrass", "forage-oats")] crop: &str,
    #[values("drill", "broadcast")] method: &str,
) {
    let request =
        json!({"crop": crop, "target": {"by": "chart"}, "tag": tag(95.0, 80.0, 5.0), "conditions": {"method": method}});
    fn look(working: &Working) {
        assert!(!working.title.is_empty());
        for input in &working.inputs {
            assert!(!input.name.is_empty() && !input.name.contains('_'), "{input:?}");
            assert!(input.value.value.is_finite(), "{input:?}");
        }
        for line in &working.lines {
            assert!(!line.formula.is_empty() && !line.formula.contains('_') && !line.formula.contains('*'), "{line:?}");
            assert!(line.value.unit.dimension() != Dimension::Temperature || line.value.value > -90.0);
        }
        working.parts.iter().for_each(look);
    }
    let working = worked(request, seed::rate);
    assert!(!working.sources.is_empty());
    look(&working);
}
