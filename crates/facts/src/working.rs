//! The working: how a figure came about, for every figure.
//!
//! A computation is written on a [`Sheet`] with two macros, [`given!`](crate::given) and
//! [`reckon!`](crate::reckon). Each evaluates an expression *and* writes it down, so that the
//! formula a person reads is the formula that ran, and nothing is typed twice:
//!
//! ```
//! use facts::{given, reckon, source::Origin, units::*, working::{Answer, Sheet}};
//!
//! fn live_seeds(pls_rate: MassPerArea, seeds_per_mass: CountPerMass) -> Answer<CountPerArea> {
//!     let mut sheet = Sheet::new("live seeds per area");
//!     given!(sheet; pls_rate, Origin::Given);
//!     given!(sheet; seeds_per_mass, Origin::measured("the tag"));
//!     reckon!(sheet; live_seeds = pls_rate * seeds_per_mass);
//!     sheet.answer(live_seeds)
//! }
//!
//! let answer = live_seeds(MassPerArea::new(1.0, Unit::LbPerAc), CountPerMass::new(220_000.0, Unit::PerLb));
//! assert!((answer.value.to(Unit::PerFt2) - 5.05).abs() < 0.001);
//! assert_eq!(answer.working.lines[0].formula, "PLS rate × seeds per mass");
//! ```

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    caution::Caution,
    said::Said,
    source::{Origin, Source},
    units::{Measure, Quantity, Unit},
};

/// A value with its working and cautions: what every reckoning returns.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Answer<T> {
    /// The result: one quantity, or an object of named ones.
    pub value: T,
    /// How it came about.
    pub working: Working,
    /// What to mind.
    pub cautions: Vec<Caution>,
}

/// How a figure came about.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
pub struct Working {
    /// What was worked out.
    pub title: String,
    /// What went in.
    pub inputs: Vec<Input>,
    /// The steps, each a formula in words and its value.
    pub lines: Vec<Line>,
    /// Where the method comes from.
    pub sources: Vec<Source>,
    /// What would change the result, in sentences.
    pub would_change: Vec<Said>,
    /// Workings of parts, such as one per member of a mix.
    #[schema(no_recursion)]
    pub parts: Vec<Working>,
}

/// The number that a formula of fixed units is reckoned with. An empirical formula holds in its own units
/// alone: `0.6108 × exp(17.27 × dew point ÷ (dew point + 237.3))` is about degrees Celsius, whoever reads
/// it. So the number stands beside the amount, and is not restated with it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct InFormula {
    /// The number.
    pub number: f64,
    /// What it counts.
    #[schema(value_type = String)]
    pub unit: Unit,
}

/// An input and where it comes from.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Input {
    /// Its name, in words.
    pub name: String,
    /// The amount.
    pub value: Quantity,
    /// The number that formulas of fixed units take it for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub in_formula: Option<InFormula>,
    /// Where from.
    pub origin: Origin,
}

/// One step: name, formula, value.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Line {
    /// Its name, in words.
    pub name: String,
    /// The formula in words and signs: "PLS rate × seeds per mass".
    pub formula: String,
    /// Whether the formula only says in words what was done, where it gathers more than a line can show:
    /// many members, many days. Any other formula gives its value, worked out with what stands above it.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub in_words: bool,
    /// The names in the formula that are inputs or earlier lines.
    pub uses: Vec<String>,
    /// What came out.
    pub value: Quantity,
    /// The number that came out, where the formula is one of fixed units.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub in_formula: Option<InFormula>,
}

/// Something that can stand on a sheet: any [`Measure`], and plain numbers.
pub trait Shown: Copy {
    /// As an edge quantity.
    fn shown(self) -> Quantity;
}

impl<M: Measure> Shown for M {
    fn shown(self) -> Quantity {
        self.quantity()
    }
}

impl Shown for f64 {
    fn shown(self) -> Quantity {
        Quantity::new(self, Unit::One)
    }
}

impl Shown for Quantity {
    fn shown(self) -> Quantity {
        self
    }
}

impl Shown for crate::units::basis::PlsFraction {
    fn shown(self) -> Quantity {
        self.0.quantity()
    }
}

/// Where the lines of a formula go. A formula that is needed both on screens and millions of times
/// over is written once, on any paper: a [`Sheet`] keeps its lines, [`Blank`] paper forgets them and
/// costs nothing.
pub trait Paper {
    /// Write a step down and hand its value back.
    fn line<T: Shown>(&mut self, name: &str, formula: &str, value: T) -> T;

    /// Write a step of a formula of fixed units down: a bare number of the measure's base unit.
    fn bare<M: Measure>(&mut self, name: &str, formula: &str, base: f64);

    /// The same, where the words only say what was gathered: see [`Line::in_words`].
    fn gathered_bare<M: Measure>(&mut self, name: &str, words: &str, base: f64);
}

impl Paper for Sheet {
    fn line<T: Shown>(&mut self, name: &str, formula: &str, value: T) -> T {
        Sheet::line(self, name, formula, value)
    }

    fn bare<M: Measure>(&mut self, name: &str, formula: &str, base: f64) {
        self.quantity_line(name, formula, M::from_base(base).quantity());
        if let Some(line) = self.working.lines.last_mut() {
            line.in_formula = in_formula::<M>(base);
        }
    }

    fn gathered_bare<M: Measure>(&mut self, name: &str, words: &str, base: f64) {
        self.bare::<M>(name, words, base);
        self.last_is_in_words();
    }
}

/// A bare number of a measure's base unit; none where that unit has no name to show.
fn in_formula<M: Measure>(number: f64) -> Option<InFormula> {
    Unit::base_of(M::DIMENSION).map(|unit| InFormula { number, unit })
}

/// Paper that keeps nothing: for hot loops.
#[derive(Debug, Clone, Copy, Default)]
pub struct Blank;

impl Paper for Blank {
    #[inline(always)]
    fn line<T: Shown>(&mut self, _: &str, _: &str, value: T) -> T {
        value
    }

    #[inline(always)]
    fn bare<M: Measure>(&mut self, _: &str, _: &str, _: f64) {}

    #[inline(always)]
    fn gathered_bare<M: Measure>(&mut self, _: &str, _: &str, _: f64) {}
}

/// A working in the making.
#[derive(Debug, Default)]
pub struct Sheet {
    working: Working,
    cautions: Vec<Caution>,
}

impl Sheet {
    /// A new sheet.
    pub fn new(title: impl Into<String>) -> Self {
        Self { working: Working { title: title.into(), ..Working::default() }, cautions: Vec::new() }
    }

    /// Write an input down and hand it back. Usually called through [`given!`](crate::given).
    pub fn input<T: Shown>(&mut self, name: &str, value: T, origin: Origin) -> T {
        self.working.inputs.push(Input { name: in_words(name), value: value.shown(), in_formula: None, origin });
        value
    }

    /// Write an input of a formula of fixed units down: a bare number of the measure's base unit.
    pub fn bare_input<M: Measure>(&mut self, name: &str, base: f64, origin: Origin) {
        self.input(name, M::from_base(base), origin);
        if let Some(input) = self.working.inputs.last_mut() {
            input.in_formula = in_formula::<M>(base);
        }
    }

    /// Write an input down that a formula takes as a number of some unit, and hand that number back.
    pub fn input_in<M: Measure>(&mut self, name: &str, value: M, unit: Unit, origin: Origin) -> f64 {
        let number = unit.from_base(value.base());
        self.input(name, value, origin);
        if let Some(input) = self.working.inputs.last_mut() {
            input.in_formula = Some(InFormula { number, unit });
        }
        number
    }

    /// Write a step down and hand its value back. Usually called through [`reckon!`](crate::reckon).
    pub fn line<T: Shown>(&mut self, name: &str, formula: &str, value: T) -> T {
        self.quantity_line(name, formula, value.shown());
        value
    }

    /// Write a step down that gathers more than its line can show, such as the sum of many days: words
    /// for a formula. Where a formula can be shown, show it.
    pub fn gathered<T: Shown>(&mut self, name: &str, words: &str, value: T) -> T {
        self.quantity_line(name, words, value.shown());
        self.last_is_in_words();
        value
    }

    fn last_is_in_words(&mut self) {
        if let Some(line) = self.working.lines.last_mut() {
            line.in_words = true;
        }
    }

    /// Write a step of any unit down.
    pub fn quantity_line(&mut self, name: &str, formula: &str, value: Quantity) {
        let formula = in_words(formula);
        let known = self.working.inputs.iter().map(|input| &input.name);
        let known = known.chain(self.working.lines.iter().map(|line| &line.name));
        let mut uses: Vec<String> = known.filter(|name| stands_in(&formula, name)).cloned().collect();
        uses.dedup();
        self.working.lines.push(Line { name: in_words(name), formula, in_words: false, uses, value, in_formula: None });
    }

    /// Write an input of any unit down, as given.
    pub fn quantity(&mut self, name: &str, value: Quantity, origin: Origin) -> Quantity {
        self.working.inputs.push(Input { name: in_words(name), value, in_formula: None, origin });
        value
    }

    /// Name a source of the method.
    pub fn source(&mut self, source: Source) {
        if !self.working.sources.contains(&source) {
            self.working.sources.push(source);
        }
    }

    /// Say what would change the result.
    pub fn would_change(&mut self, sentence: impl Into<Said>) {
        self.working.would_change.push(sentence.into());
    }

    /// Add a caution by its key, once.
    ///
    /// # Panics
    /// If the key is unknown: a slip in the code or in the embedded library, which tests load.
    pub fn caution(&mut self, key: &str) {
        if !self.cautions.iter().any(|caution| caution.key == key) {
            self.cautions.push(Caution::of(key).unwrap_or_else(|| panic!("unknown caution {key}")));
        }
    }

    /// Take in the working and cautions of a part, and hand on its value.
    pub fn part<T>(&mut self, answer: Answer<T>) -> T {
        self.working.parts.push(answer.working);
        for caution in answer.cautions {
            self.caution(&caution.key);
        }
        answer.value
    }

    /// Take in a part, and write its value down as an input of this working, so that the formulas
    /// below can name it.
    pub fn carried<T: Shown>(&mut self, name: &str, answer: Answer<T>) -> T {
        let origin = Origin::Worked { part: answer.working.title.clone() };
        let value = self.part(answer);
        self.input(name, value, origin)
    }

    /// Finish.
    pub fn answer<T>(self, value: T) -> Answer<T> {
        Answer { value, working: self.working, cautions: self.cautions }
    }
}

impl<T> Answer<T> {
    /// The same working under a value of another shape.
    pub fn map<U>(self, change: impl FnOnce(T) -> U) -> Answer<U> {
        Answer { value: change(self.value), working: self.working, cautions: self.cautions }
    }
}

/// Whether a formula has a name between its signs: "spare" is not in "with spare × area".
fn stands_in(formula: &str, name: &str) -> bool {
    let sign = |c: Option<char>| c.is_none_or(|c| "×÷+−(),".contains(c));
    formula.match_indices(name).any(|(at, _)| {
        let (before, after) = (formula[..at].trim_end(), formula[at + name.len()..].trim_start());
        sign(before.chars().next_back()) && sign(after.chars().next())
    })
}

/// `pls_rate * seeds_per_mass` as a person reads it: "PLS rate × seeds per mass".
fn in_words(code: &str) -> String {
    let spaced: String = code
        .split_whitespace()
        .map(|token| match token {
            "*" => "×".to_owned(),
            "/" => "÷".to_owned(),
            "-" => "−".to_owned(),
            other => other.replace('_', " "),
        })
        .collect::<Vec<_>>()
        .join(" ");
    spaced
        .split(' ')
        .map(|word| if word == "pls" { "PLS" } else { word })
        .collect::<Vec<_>>()
        .join(" ")
        .replace("(pls ", "(PLS ")
}

/// Write an input on a sheet: `given!(sheet; name, origin)` for a variable of that name,
/// `given!(sheet; name = expression, origin)` to make one, or `given!(sheet; name: Measure =
/// number, origin)` to show a bare number of the measure's base unit and go on with the number.
#[macro_export]
macro_rules! given {
    ($sheet:ident; $name:ident : $measure:ty = $value:expr, $origin:expr) => {
        let $name: f64 = $value;
        $sheet.bare_input::<$measure>(stringify!($name), $name, $origin);
    };
    ($sheet:ident; $name:ident = $value:expr, $origin:expr) => {
        let $name = $sheet.input(stringify!($name), $value, $origin);
    };
    ($sheet:ident; $name:ident, $origin:expr) => {
        let $name = $sheet.input(stringify!($name), $name, $origin);
    };
}

/// Work a step out and write it down: `reckon!(sheet; name = expression)`, or, where bare numbers of
/// base units are faster, `reckon!(sheet; name: Measure = expression)`.
#[macro_export]
macro_rules! reckon {
    ($sheet:ident; $name:ident : $measure:ty = $formula:expr) => {
        let $name: f64 = $formula;
        {
            #[allow(unused_imports)]
            use $crate::working::Paper as _;
            $sheet.bare::<$measure>(stringify!($name), stringify!($formula), $name);
        }
    };
    ($sheet:ident; $name:ident = $formula:expr) => {
        let $name = $sheet.line(stringify!($name), stringify!($formula), $formula);
    };
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::{CountPerMass, MassPerArea};

    #[test]
    fn the_formula_read_is_the_formula_run() {
        let mut sheet = Sheet::new("demo");
        given!(sheet; pls_rate = MassPerArea::new(10.0, Unit::KgPerHa), Origin::Given);
        given!(sheet; seeds_per_mass = CountPerMass::new(500_000.0, Unit::PerKg), Origin::Given);
        reckon!(sheet; live_seeds = pls_rate * seeds_per_mass);
        reckon!(sheet; half = live_seeds / 2.0);
        let answer = sheet.answer(half);
        let lines = &answer.working.lines;
        assert_eq!(lines[0].formula, "PLS rate × seeds per mass");
        assert_eq!(lines[0].uses, ["PLS rate", "seeds per mass"]);
        assert_eq!(lines[1].formula, "live seeds ÷ 2.0");
        assert_eq!(lines[1].uses, ["live seeds"]);
        assert_eq!(lines[1].value.value, 250.0);
    }

    #[test]
    fn a_caution_stands_once() {
        let mut sheet = Sheet::new("demo");
        sheet.caution("bloat");
        sheet.caution("bloat");
        assert_eq!(sheet.answer(()).cautions.len(), 1);
    }
}
