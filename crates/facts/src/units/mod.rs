//! Quantities with units: typed inside, plain at the edge.
//!
//! Inside the core a quantity is a [`Measure`] type such as [`MassPerArea`] or [`CountPerMass`].
//! It holds a number in coherent SI, and only combinations that mean something compile:
//! mass per area × seeds per mass gives seeds per area, while adding an area to a mass does not
//! build. What shares a dimension but not a meaning is kept apart by a wrapper from [`basis`]:
//! [`PureLive`] and [`Bulk`] seed, an element and its oxide, dry and as-fed matter.
//!
//! At the edge (JSON, files, forms) a quantity is a [`Quantity`]: `{"value": 15, "unit": "lb/ac"}`.
//! Reading one into a typed measure checks the dimension; writing one uses a metric unit, and
//! [`restate`] turns a whole document into the units of one [`System`].
//!
//! Factors are exact by definition: NIST Special Publication 811 (2008), appendix B.8, with the
//! international (not the US survey) foot and acre.

pub mod basis;
mod measure;
mod quantity;
mod read;
mod reader;
mod series;
mod system;
mod unit;

pub use basis::{AsFed, Bulk, DryMatter, Element, Oxide, OxidePair, PureLive};
pub use measure::{
    Area, AreaPerTime, Charge, ChargePerVolume, Conductivity, CountPerArea, CountPerLength, CountPerMass, Fraction,
    Length, Mass, MassPerArea, MassPerVolume, Measure, Money, MoneyPerArea, MoneyPerMass, MoneyPerNutrient,
    MoneyPerTime, Pressure, Radiation, SoilContent, Speed, Temperature, TemperatureStep, ThermalTime, Time, Volume,
    VolumePerArea, WaterPerDay,
};
pub use quantity::Quantity;
pub use read::{Understood, read};
pub use reader::{Currency, NoCurrency, Reader};
pub use series::Series;
pub(crate) use system::restated;
pub use system::{System, restate, system_of};
pub use unit::{Dimension, Unit, UnknownUnit};
