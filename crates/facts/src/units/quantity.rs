//! The edge form of a quantity.

use std::fmt;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{
    reader::Currency,
    unit::{Dimension, Unit},
};

/// A number and its unit, as written in JSON: `{"value": 15, "unit": "lb/ac"}`.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Quantity {
    /// The number.
    pub value: f64,
    /// The ASCII symbol of the unit, such as `lb/ac`.
    #[schema(value_type = String, example = "lb/ac")]
    pub unit: Unit,
}

impl Quantity {
    /// A quantity from its parts.
    pub const fn new(value: f64, unit: Unit) -> Self {
        Self { value, unit }
    }

    /// A depth of water: rain, irrigation, what a soil holds. It stays in millimetres or inches
    /// whatever its size, where other lengths change their unit with it.
    pub fn water(depth: super::Length) -> Self {
        Self::new(depth.to(Unit::Mm), Unit::Mm)
    }

    /// What it measures.
    pub const fn dimension(self) -> Dimension {
        self.unit.dimension()
    }

    /// The same amount in another unit, or `None` when that unit measures something else.
    ///
    /// ```
    /// use facts::units::{Quantity, Unit};
    /// let rate = Quantity::new(15.0, Unit::LbPerAc);
    /// let metric = rate.to(Unit::KgPerHa).unwrap();
    /// assert!((metric.value - 16.8127).abs() < 1e-4);
    /// assert_eq!(rate.to(Unit::Cm), None);
    /// ```
    pub fn to(self, unit: Unit) -> Option<Self> {
        (unit.dimension() == self.dimension()).then(|| Self::new(unit.from_base(self.unit.to_base(self.value)), unit))
    }
}

impl Quantity {
    /// As it stands in a sentence: enough figures to tell, and the unit as people write it.
    ///
    /// ```
    /// use facts::units::{Currency, Quantity, Unit};
    /// assert_eq!(Quantity::new(50.0, Unit::DegF).spoken(Currency::default()), "50 \u{b0}F");
    /// assert_eq!(Quantity::new(1234.6, Unit::MoneyPerTon).spoken(Currency::default()), "$1235/ton");
    /// assert_eq!(Quantity::new(1234.6, Unit::MoneyPerT).spoken("ARS".parse().unwrap()), "ARS\u{a0}1235/t");
    /// assert_eq!(Quantity::new(0.05, Unit::In).spoken(Currency::default()), "0.05 in");
    /// ```
    pub fn spoken(self, currency: Currency) -> String {
        let size = self.value.abs();
        let number = trimmed(
            self.value,
            match size {
                m if m >= 1000.0 || m == 0.0 => 0,
                m if m >= 10.0 => 1,
                m if m >= 1.0 => 2,
                _ => 4,
            },
        );
        match self.unit.label() {
            "" => number,
            label if let Some(per) = label.strip_prefix('\u{a4}') => format!("{}{number}{per}", currency.sign()),
            label if label == "%" || label.starts_with('/') => format!("{number}{label}"),
            label => format!("{number} {label}"),
        }
    }
}

/// A number with so many decimals at most.
fn trimmed(value: f64, decimals: usize) -> String {
    let mut number = format!("{value:.decimals$}");
    if number.contains('.') {
        number.truncate(number.trim_end_matches('0').trim_end_matches('.').len());
    }
    if number == "-0" { "0".to_owned() } else { number.replace('-', "\u{2212}") }
}

impl fmt::Display for Quantity {
    /// Four significant figures and the symbol of JSON: for logs, not for people or computing.
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let decimals = match self.value.abs() {
            m if m >= 1000.0 || m == 0.0 => 0,
            m if m >= 100.0 => 1,
            m if m >= 1.0 => 2,
            _ => 4,
        };
        let number = trimmed(self.value, decimals);
        match self.unit {
            Unit::One => f.write_str(&number),
            unit if unit.symbol().starts_with('/') => write!(f, "{number}{unit}"),
            unit => write!(f, "{number} {unit}"),
        }
    }
}
