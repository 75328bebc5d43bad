//! The two systems people read, and turning a whole document from one into the other.

use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

use super::{Dimension, Quantity, Series, Unit};

/// The units a person reads.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum System {
    /// US customary: acre, lb/ac, short ton, °F, inch.
    #[default]
    Us,
    /// Metric: hectare, kg/ha, tonne, °C, millimetre.
    Metric,
}

/// One gallon on an acre, m.
const GALLON_PER_ACRE: f64 = Unit::GalPerAc.factor();

impl System {
    /// The unit in which this system shows an amount (base value) of a dimension. Some depend on
    /// the size: a seed depth reads in millimetres, a setback in metres; seeds are counted per
    /// square metre, plants set by hand per hectare.
    pub fn unit(self, dimension: Dimension, base: f64) -> Unit {
        use Dimension as D;
        let size = base.abs();
        let (us, metric) = match dimension {
            D::MassPerArea if size >= 0.1 => (Unit::TonPerAc, Unit::TPerHa),
            // Dry products are weighed out by the label in ounces and grams.
            D::MassPerArea if size < 1e-5 && size > 0.0 => (Unit::OzPerAc, Unit::GPerHa),
            D::MassPerArea => (Unit::LbPerAc, Unit::KgPerHa),
            D::CountPerArea if size < 5.0 && size > 0.0 => (Unit::PerAc, Unit::PerHa),
            D::CountPerArea => (Unit::PerFt2, Unit::PerM2),
            D::CountPerMass => (Unit::PerLb, Unit::PerKg),
            D::CountPerLength => (Unit::PerFt, Unit::PerM),
            D::Length if size < 0.1 => (Unit::In, Unit::Mm),
            D::Length if size < 1.5 => (Unit::In, Unit::Cm),
            D::Length => (Unit::Ft, Unit::M),
            // A frame or a tray, and no plot.
            D::Area if size < 5.0 && size > 0.0 => (Unit::Ft2, Unit::M2),
            D::Area => (Unit::Ac, Unit::Ha),
            D::Temperature => (Unit::DegF, Unit::DegC),
            D::Ratio => (Unit::One, Unit::One),
            D::Mass if size >= 4_000.0 => (Unit::Ton, Unit::T),
            D::Mass if size < 0.45 && size > 1e-6 => (Unit::Oz, Unit::G),
            D::Mass => (Unit::Lb, Unit::Kg),
            D::Volume if size < 1.5e-3 && size > 1e-9 => (Unit::FlOz, Unit::Ml),
            D::Volume => (Unit::Gal, Unit::L),
            // What is poured by the label is told as labels tell it; from a gallon up it is the spray or the slurry.
            D::VolumePerArea if size < 0.999 * GALLON_PER_ACRE && size > 0.0 => {
                (Unit::FlOzPerAc, if size < 1e-5 { Unit::MlPerHa } else { Unit::LPerHa })
            }
            D::VolumePerArea => (Unit::GalPerAc, Unit::LPerHa),
            D::MassPerVolume => (Unit::LbPer1000Gal, Unit::KgPerM3),
            D::Speed => (Unit::Mph, Unit::KmPerH),
            D::Time if size < 120.0 && size > 0.0 => (Unit::S, Unit::S),
            D::Time => (Unit::H, Unit::H),
            D::AreaPerTime => (Unit::AcPerH, Unit::HaPerH),
            D::MoneyPerTime => (Unit::MoneyPerH, Unit::MoneyPerH),
            D::WaterPerDay => (Unit::InPerDay, Unit::MmPerDay),
            D::EnergyPerArea => (Unit::MjPerM2, Unit::MjPerM2),
            D::Pressure => (Unit::KPa, Unit::KPa),
            D::ThermalTime => (Unit::DegFDay, Unit::DegCDay),
            D::TemperatureStep => (Unit::DegR, Unit::K),
            D::Money => (Unit::Money, Unit::Money),
            D::MoneyPerArea => (Unit::MoneyPerAc, Unit::MoneyPerHa),
            // Lime and fertiliser are priced by the ton, seed by the pound.
            D::MoneyPerMass if size < 1.0 => (Unit::MoneyPerTon, Unit::MoneyPerT),
            D::MoneyPerMass => (Unit::MoneyPerLb, Unit::MoneyPerKg),
            D::MoneyPerNutrient => (Unit::MoneyPerLbNutrient, Unit::MoneyPerKgNutrient),
            D::SoilContent => (Unit::Ppm, Unit::MgPerKg),
            D::Charge => (Unit::MeqPer100G, Unit::CmolPerKg),
            D::ChargePerVolume => (Unit::MeqPer100Cm3, Unit::MeqPer100Cm3),
            D::Conductivity => (Unit::DsPerM, Unit::DsPerM),
        };
        match self {
            Self::Us => us,
            Self::Metric => metric,
        }
    }

    /// A quantity in the units of this system. A percentage stays a percentage, and a plain
    /// number a plain number.
    pub fn show(self, quantity: Quantity) -> Quantity {
        if quantity.dimension() == Dimension::Ratio || !quantity.value.is_finite() {
            return quantity;
        }
        let base = quantity.unit.to_base(quantity.value);
        // A depth of water is told in millimetres or inches, however much it is.
        let unit = match (quantity.unit, self) {
            (Unit::Mm, Self::Metric) => Unit::Mm,
            (Unit::Mm, Self::Us) => Unit::In,
            _ => self.unit(quantity.dimension(), base),
        };
        if unit == quantity.unit { quantity } else { Quantity::new(unit.from_base(base), unit) }
    }
}

fn as_quantity(value: &Value) -> Option<Quantity> {
    let object = value.as_object()?;
    if object.len() != 2 {
        return None;
    }
    let number = object.get("value")?.as_f64()?;
    let unit = object.get("unit")?.as_str()?.parse().ok()?;
    Some(Quantity::new(number, unit))
}

fn as_series(value: &Value) -> Option<Series> {
    let object = value.as_object().filter(|object| object.len() == 2 && object.contains_key("values"))?;
    Series::deserialize(object).ok()
}

/// Turn one amount, or one series of them, into the units of a system; tells whether it was one.
pub(crate) fn restated(document: &mut Value, system: Option<System>) -> bool {
    if let Some(quantity) = as_quantity(document) {
        let shown = system.map_or(quantity, |system| system.show(quantity));
        if let Some(number) = serde_json::Number::from_f64(shown.value) {
            document["value"] = Value::Number(number);
            document["unit"] = Value::from(shown.unit.symbol());
        }
        return true;
    }
    let Some(series) = as_series(document) else { return false };
    if let Some(shown) = system.and_then(|system| serde_json::to_value(series.shown(system)).ok()) {
        *document = shown;
    }
    true
}

/// Turn every `{"value", "unit"}` and every [series](Series) of a JSON document into the units of a system.
pub fn restate(document: &mut Value, system: System) {
    if restated(document, Some(system)) {
        return;
    }
    match document {
        Value::Array(items) => items.iter_mut().for_each(|item| restate(item, system)),
        Value::Object(map) => map.values_mut().for_each(|item| restate(item, system)),
        _ => {}
    }
}

/// The system a document is written in: US as soon as one quantity uses a US unit, metric when
/// one uses a metric unit, otherwise none to be told.
pub fn system_of(document: &Value) -> Option<System> {
    if let Some(quantity) = as_quantity(document) {
        return quantity.unit.metric().map(|metric| if metric { System::Metric } else { System::Us });
    }
    let found = |mut items: Box<dyn Iterator<Item = &Value> + '_>| {
        let mut system = None;
        items
            .find_map(|item| match system_of(item) {
                Some(System::Us) => Some(System::Us),
                other => {
                    system = system.or(other);
                    None
                }
            })
            .or(system)
    };
    match document {
        Value::Array(items) => found(Box::new(items.iter())),
        Value::Object(map) => found(Box::new(map.values())),
        _ => None,
    }
}
