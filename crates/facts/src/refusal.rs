//! Refusing bad input: one plain sentence per field.

use std::fmt;

use serde::{Deserialize, Serialize};
use thiserror::Error;
use utoipa::ToSchema;

use crate::{
    said,
    said::Said,
    units::{Measure, Quantity, Reader, Unit},
};

/// What is wrong with one field.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Refusal {
    /// JSON pointer (RFC 6901) of the field, such as `/lots/0/tag/purity`.
    pub pointer: String,
    /// A sentence that names the field, the value and the bound.
    #[schema(value_type = String)]
    pub detail: Said,
}

/// Input that was not taken, with every reason found.
#[derive(Debug, Clone, PartialEq, Error)]
pub struct Refused(pub Vec<Refusal>);

impl fmt::Display for Refused {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        // For logs and the command line, which have no field to put it at.
        for (index, refusal) in self.0.iter().enumerate() {
            let between = if index > 0 { "; " } else { "" };
            match refusal.pointer.as_str() {
                "" => write!(f, "{between}{}", refusal.detail)?,
                pointer => write!(f, "{between}{pointer}: {}", refusal.detail)?,
            }
        }
        Ok(())
    }
}

impl Refused {
    /// All of them in one sentence, in a reader's units: what each is about is said in its own words, not by its pointer.
    pub fn told(&self, reader: Option<Reader>) -> String {
        self.0.iter().map(|refusal| refusal.detail.told(reader)).collect::<Vec<_>>().join("; ")
    }

    /// A single refusal.
    pub fn one(pointer: impl Into<String>, detail: impl Into<Said>) -> Self {
        Self(vec![Refusal { pointer: pointer.into(), detail: detail.into().short() }])
    }

    /// The same refusals seen from outside: every pointer behind a prefix.
    pub fn under(mut self, prefix: &str) -> Self {
        for refusal in &mut self.0 {
            refusal.pointer.insert_str(0, prefix);
        }
        self
    }
}

/// Collects refusals, so that a person sees all of them at once.
#[derive(Debug, Default)]
pub struct Checks(Vec<Refusal>);

impl Checks {
    /// None yet.
    pub fn new() -> Self {
        Self::default()
    }

    /// Refuse a field.
    pub fn refuse(&mut self, pointer: impl Into<String>, detail: impl Into<Said>) {
        self.0.push(Refusal { pointer: pointer.into(), detail: detail.into().short() });
    }

    /// Require something of a field.
    pub fn require(&mut self, holds: bool, pointer: impl Into<String>, detail: impl Into<Said>) {
        if !holds {
            self.refuse(pointer, detail);
        }
    }

    /// Require a measure to lie between two bounds, both included, given in `unit`.
    pub fn within<M: Measure>(&mut self, pointer: &str, name: &str, measure: M, unit: Unit, low: f64, high: f64) {
        let value = unit.from_base(measure.base());
        // A hair of slack, for values that were converted from another unit: of each bound its own, or a
        // high upper one would let what is below nothing pass.
        let slack = |bound: f64| 1e-9 * (1.0 + bound.abs().min(1e12));
        if !(value >= low - slack(low) && value <= high + slack(high)) {
            let amount = |edge| Quantity::new(edge, unit);
            let detail = said!("{} is {}; enter {} to {}", name, amount(value), amount(low), amount(high));
            self.refuse(pointer, detail);
        }
    }

    /// Require a measure to be above zero and at most `high`, given in `unit`.
    pub fn positive<M: Measure>(&mut self, pointer: &str, name: &str, measure: M, unit: Unit, high: f64) {
        let value = unit.from_base(measure.base());
        if value <= 0.0 {
            self.refuse(pointer, said!("{} is {}; enter more than zero", name, Quantity::new(value, unit)));
        } else {
            self.within(pointer, name, measure, unit, 0.0, high);
        }
    }

    /// Take over the refusals of a part, behind a pointer prefix, and pass on its value.
    pub fn part<T>(&mut self, prefix: &str, outcome: Result<T, Refused>) -> Option<T> {
        outcome.map_err(|refused| self.0.extend(refused.under(prefix).0)).ok()
    }

    /// Nothing refused so far.
    pub fn is_clean(&self) -> bool {
        self.0.is_empty()
    }

    /// Ok when nothing was refused.
    ///
    /// # Errors
    /// All refusals collected.
    pub fn done(self) -> Result<(), Refused> {
        if self.0.is_empty() { Ok(()) } else { Err(Refused(self.0)) }
    }
}

/// A value inside physics but far from usual: taken only after the person confirms it.
pub type Unusual = Refusal;
