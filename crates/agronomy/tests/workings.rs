//! The formula a person reads gives the value beside it, in the units in which they stand on the screen:
//! every line of every working is worked out again here from its presented text, in both unit systems, by
//! a calculator that knows nothing of the code that wrote it.
//!
//! Amounts carry their dimensions: a mass on an area times seeds in a mass is seeds on an area, and
//! nothing else. Where a formula is one of fixed units (FAO-56 is about degrees Celsius), it is worked out
//! with the numbers that stand beside the amounts.

use std::collections::{BTreeSet, HashMap};

use agronomy::{
    blend, drill, lime, mix, nutrients, plants,
    said::present,
    seed, site, soil,
    units::{Dimension, Quantity, System},
    water, weather, window,
    working::{Answer, Working},
};
use rstest::rstest;
use serde_json::{Value, json};

/// What an amount is made of: powers of kilograms, metres and dollars, and of a kind of its own.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
struct Made {
    kg: i8,
    m: i8,
    usd: i8,
    own: Option<Dimension>,
    own_power: i8,
}

const PLAIN: Made = Made { kg: 0, m: 0, usd: 0, own: None, own_power: 0 };

impl Made {
    fn of(dimension: Dimension) -> Self {
        use Dimension as D;
        let made = |kg, m, usd| Self { kg, m, usd, ..PLAIN };
        match dimension {
            D::Ratio => PLAIN,
            D::MassPerArea => made(1, -2, 0),
            D::CountPerArea => made(0, -2, 0),
            D::CountPerMass => made(-1, 0, 0),
            D::CountPerLength => made(0, -1, 0),
            D::Length | D::VolumePerArea => made(0, 1, 0),
            D::Area => made(0, 2, 0),
            D::Mass => made(1, 0, 0),
            D::Volume => made(0, 3, 0),
            D::Money => made(0, 0, 1),
            D::MoneyPerArea => made(0, -2, 1),
            D::MoneyPerMass => made(-1, 0, 1),
            own => Self { own: Some(own), own_power: 1, ..PLAIN },
        }
    }

    fn times(self, other: Self, sign: i8) -> Option<Self> {
        let own = match (self.own, other.own) {
            (Some(a), Some(b)) if a != b => return None,
            (a, b) => a.or(b),
        };
        let own_power = self.own_power + sign * other.own_power;
        Some(Self {
            kg: self.kg + sign * other.kg,
            m: self.m + sign * other.m,
            usd: self.usd + sign * other.usd,
            own: own.filter(|_| own_power != 0),
            own_power,
        })
    }
}

type Amount = (f64, Made);

/// A calculator for formulas in words: names, numbers, + − × ÷, parentheses and a few functions.
struct Calculator<'a> {
    text: &'a str,
    known: &'a HashMap<String, Amount>,
    /// The names that the formula was worked out with.
    used: BTreeSet<&'a str>,
}

impl<'a> Calculator<'a> {
    fn new(text: &'a str, known: &'a HashMap<String, Amount>) -> Self {
        Self { text, known, used: BTreeSet::new() }
    }

    /// The whole of a formula: what it gives, and the names it took.
    fn run(mut self) -> Option<(Amount, BTreeSet<&'a str>)> {
        let amount = self.sum()?;
        self.text.trim().is_empty().then_some((amount, self.used))
    }
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

    fn sum(&mut self) -> Option<Amount> {
        let mut value = self.product()?;
        loop {
            let sign = if self.takes("+") {
                1.0
            } else if self.takes("−") {
                -1.0
            } else {
                return Some(value);
            };
            let other = self.product()?;
            // Only alike can be added.
            (value.1 == other.1).then_some(())?;
            value.0 += sign * other.0;
        }
    }

    fn product(&mut self) -> Option<Amount> {
        let mut value = self.atom()?;
        loop {
            let sign = if self.takes("×") {
                1
            } else if self.takes("÷") {
                -1
            } else {
                return Some(value);
            };
            let other = self.atom()?;
            value.0 = if sign > 0 { value.0 * other.0 } else { value.0 / other.0 };
            value.1 = value.1.times(other.1, sign)?;
        }
    }

    fn atom(&mut self) -> Option<Amount> {
        if self.takes("−") {
            let (value, made) = self.atom()?;
            return Some((-value, made));
        }
        if self.takes("(") {
            let value = self.sum()?;
            return self.takes(")").then_some(value);
        }
        let rest = self.rest();
        let end = rest.find(['+', '−', '×', '÷', '(', ')', ',']).unwrap_or(rest.len());
        let word = rest[..end].trim();
        if rest[end..].starts_with('(') && !word.is_empty() {
            self.text = &rest[end + 1..];
            return self.function(word);
        }
        let number = |text: &str| text.parse::<f64>().ok();
        let value = match word.strip_suffix(" %") {
            Some(percent) => (number(percent)? / 100.0, PLAIN),
            None => match self.known.get(word) {
                Some(known) => {
                    self.used.insert(word);
                    *known
                }
                None => (number(word)?, PLAIN),
            },
        };
        self.text = &rest[end..];
        Some(value)
    }

    fn function(&mut self, name: &str) -> Option<Amount> {
        let mut given = vec![self.sum()?];
        while self.takes(",") {
            given.push(self.sum()?);
        }
        self.takes(")").then_some(())?;
        let alike = given.iter().all(|one| one.1 == given[0].1);
        let plain = given.iter().all(|one| one.1 == PLAIN);
        let numbers: Vec<f64> = given.iter().map(|one| one.0).collect();
        let of = |value: f64| Some((value, given[0].1));
        match (name, numbers.as_slice()) {
            ("larger", [a, b]) if alike => of(a.max(*b)),
            ("smaller", [a, b]) if alike => of(a.min(*b)),
            ("above zero", [a]) => of(a.max(0.0)),
            ("rounded up", [a]) if plain => of((a - 1e-6).ceil()),
            ("exp", [a]) if plain => of(a.exp()),
            ("ln", [a]) if plain => of(a.ln()),
            ("sqrt", [a]) if plain => of(a.sqrt()),
            ("sin", [a]) if plain => of(a.sin()),
            ("cos", [a]) if plain => of(a.cos()),
            ("tan", [a]) if plain => of(a.tan()),
            ("acos", [a]) if plain => of(a.acos()),
            ("bounded", [a]) if plain => of(a.clamp(-1.0, 1.0)),
            ("bounded", [a, low, high]) if plain => of(a.clamp(*low, *high)),
            _ => None,
        }
    }
}

/// A working as it stands on the screen of a reader.
fn presented(working: &Working, system: System) -> Working {
    let mut document = serde_json::to_value(working).unwrap();
    present(&mut document, Some(system));
    serde_json::from_value(document).unwrap()
}

/// Work every line out again but those in words; returns how many there were.
fn recompute(working: &Working) -> usize {
    let typed = |quantity: Quantity| (quantity.unit.to_base(quantity.value), Made::of(quantity.dimension()));
    let mut amounts: HashMap<String, Amount> = HashMap::new();
    let mut numbers: HashMap<String, Amount> = HashMap::new();
    let inputs = working.inputs.iter().map(|input| (&input.name, input.value, input.in_formula, None));
    let lines = working.lines.iter().map(|line| (&line.name, line.value, line.in_formula, Some(line)));
    let mut checked = 0;
    for (name, value, in_formula, line) in inputs.chain(lines) {
        if let Some(in_formula) = in_formula {
            // The number beside an amount is that amount.
            let base = in_formula.unit.to_base(in_formula.number);
            let shown = value.unit.to_base(value.value);
            assert!((base - shown).abs() <= 1e-6 * shown.abs().max(1e-6), "{}: {name} is two things", working.title);
        }
        if let Some(line) = line {
            let title = format!("{}: {} = {}", working.title, line.name, line.formula);
            let run = |known| Calculator::new(&line.formula, known).run();
            let said = match in_formula {
                // A formula of fixed units, by its numbers.
                Some(in_formula) => run(&numbers).map(|((found, _), used)| (found, in_formula.number, used)),
                None => match run(&amounts).filter(|((_, made), _)| *made == Made::of(value.dimension())) {
                    Some(((found, _), used)) => Some((found, typed(value).0, used)),
                    // A plain number out of fixed units.
                    None if value.dimension() == Dimension::Ratio => {
                        run(&numbers).map(|((found, _), used)| (found, typed(value).0, used))
                    }
                    None => None,
                },
            };
            match said {
                Some((found, said, used)) => {
                    let close = (found - said).abs() <= 1e-9 * said.abs().max(1e-9);
                    assert!(close, "{title} gives {found}, not {said}");
                    // What a formula names is what it says it uses, nothing else.
                    assert_eq!(used, line.uses.iter().map(String::as_str).collect(), "{title}");
                    checked += 1;
                }
                None => assert!(line.in_words, "{title}: not true with what stands on the screen"),
            }
        }
        amounts.insert(name.clone(), typed(value));
        match in_formula {
            Some(in_formula) => drop(numbers.insert(name.clone(), (in_formula.number, PLAIN))),
            None if value.dimension() == Dimension::Ratio => drop(numbers.insert(name.clone(), typed(value))),
            None => drop(numbers.remove(name)),
        }
    }
    checked + working.parts.iter().map(recompute).sum::<usize>()
}

fn lime_request(school: Value, target: f64) -> Value {
    json!({"school": school, "ph": 5.7, "target_ph": target, "depth": {"value": 6, "unit": "in"},
        "area": {"value": 20, "unit": "ac"}, "material": lime::library_materials()[0]})
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
    {"crop": "alfalfa", "pls_rate": lb(18.0), "lots": [{"label": "A", "available": {"value": 120, "unit": "lb"}, "tag": tag(98.0, 80.0, 9.0)},
        {"label": "B", "tag": tag(62.4, 80.0, 0.0)}]}]}), seed::order), 7)]
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
    for system in [System::Us, System::Metric] {
        let checked = recompute(&presented(&working, system));
        assert!(checked >= at_least, "only {checked} lines could be worked out: {working:#?}");
    }
}

#[test]
fn the_calculator_knows_its_signs() {
    let mass = Made::of(Dimension::Mass);
    let known = HashMap::from([
        ("live seeds".to_owned(), (6.0, PLAIN)),
        ("share".to_owned(), (0.5, PLAIN)),
        ("bag".to_owned(), (20.0, mass)),
    ]);
    let amount = |text: &str| Calculator::new(text, &known).sum();
    let value = |text: &str| amount(text).filter(|(_, made)| *made == PLAIN).map(|(value, _)| value);
    assert_eq!(value("live seeds × share + 1"), Some(4.0));
    assert_eq!(value("(100 % + share) ÷ 3 − 0.5"), Some(0.0));
    assert_eq!(value("1.0 ÷ (live seeds × share)"), Some(1.0 / 3.0));
    assert_eq!(value("hope"), None);
    assert_eq!(amount("bag × share"), Some((10.0, mass)));
    assert_eq!(amount("bag + share"), None, "apples and pears");
    assert_eq!(value("bag ÷ bag + larger(share, 2)"), Some(3.0));
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
