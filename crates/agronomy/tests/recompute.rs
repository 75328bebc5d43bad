//! A calculator that works every line of a working out again from its presented text, knowing nothing of the
//! code that wrote it. The planner's tests use it too.
//!
//! Amounts carry their dimensions: a mass on an area times seeds in a mass is seeds on an area, and
//! nothing else. Where a formula is one of fixed units (FAO-56 is about degrees Celsius), it is worked out
//! with the numbers that stand beside the amounts.

use std::collections::{BTreeSet, HashMap};

use agronomy::{
    said::present,
    units::{Dimension, Quantity, System},
    working::Working,
};

/// What an amount is made of: powers of kilograms, metres and dollars, and of a kind of its own.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
struct Made {
    kg: i8,
    m: i8,
    usd: i8,
    s: i8,
    own: Option<Dimension>,
    own_power: i8,
}

const PLAIN: Made = Made { kg: 0, m: 0, usd: 0, s: 0, own: None, own_power: 0 };

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
            D::MassPerVolume => made(1, -3, 0),
            D::Volume => made(0, 3, 0),
            D::Money => made(0, 0, 1),
            D::MoneyPerArea => made(0, -2, 1),
            D::MoneyPerMass => made(-1, 0, 1),
            D::Time => Self { s: 1, ..PLAIN },
            D::Speed => Self { m: 1, s: -1, ..PLAIN },
            D::AreaPerTime => Self { m: 2, s: -1, ..PLAIN },
            D::MoneyPerTime => Self { usd: 1, s: -1, ..PLAIN },
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
            s: self.s + sign * other.s,
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
pub fn presented(working: &Working, system: System) -> Working {
    let mut document = serde_json::to_value(working).unwrap();
    present(&mut document, Some(system.into()));
    serde_json::from_value(document).unwrap()
}

/// Work every line out again but those in words; returns how many there were.
pub fn recompute(working: &Working) -> usize {
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
