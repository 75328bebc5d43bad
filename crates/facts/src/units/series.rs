//! Many amounts of one unit: what is drawn along days or hours.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Measure, Quantity, System, Unit};

/// Amounts in one unit, one a day or an hour; open where not known. On its way to a reader it is restated
/// like a [`Quantity`], and rounded to what can be told apart in a drawing.
///
/// ```
/// use facts::units::{Series, System, Temperature, Unit};
/// let mornings = Series::of::<Temperature>(Unit::DegC, [Some(10.0), None]);
/// assert_eq!(mornings.shown(System::Us), Series { values: vec![Some(50.0), None], unit: Unit::DegF });
/// ```
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Series {
    /// The numbers.
    pub values: Vec<Option<f64>>,
    /// What they count.
    #[schema(value_type = String)]
    pub unit: Unit,
}

impl Series {
    /// Numbers that count a unit of a measure.
    ///
    /// # Panics
    /// In debug builds, if the unit is none of the measure's.
    pub fn of<M: Measure>(unit: Unit, values: impl IntoIterator<Item = Option<f64>>) -> Self {
        debug_assert_eq!(unit.dimension(), M::DIMENSION);
        Self { values: values.into_iter().collect(), unit }
    }

    /// The same in the units of a system.
    pub fn shown(&self, system: System) -> Self {
        // What is written in tonnes is told in tons: one unit for all of its numbers, small ones too.
        let size = if matches!(self.unit, Unit::TPerHa | Unit::TonPerAc) { 1.0 } else { 0.0 };
        let unit = system.show(Quantity::new(size, self.unit)).unit;
        let fine = match unit {
            Unit::In | Unit::TonPerAc | Unit::TPerHa => 1_000.0,
            _ => 10.0,
        };
        let told = |value: f64| (unit.from_base(self.unit.to_base(value)) * fine).round() / fine;
        Self { values: self.values.iter().map(|value| value.map(told)).collect(), unit }
    }
}
