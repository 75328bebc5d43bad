//! Typed quantities in coherent SI, and the products that mean something.

use std::{
    iter::Sum,
    ops::{Add, Div, Mul, Sub},
};

use serde::{Deserialize, Serialize};
use utoipa::{
    PartialSchema, ToSchema,
    openapi::{
        RefOr,
        schema::{ObjectBuilder, Schema, Type},
    },
};

use super::{Quantity, Unit, unit::Dimension};

/// A typed quantity: a number in the base unit of one [`Dimension`].
pub trait Measure: Copy {
    /// What it measures.
    const DIMENSION: Dimension;
    /// The unit it is written in (metric).
    const WRITTEN: Unit;
    /// From a value in the base unit.
    fn from_base(base: f64) -> Self;
    /// The value in the base unit.
    fn base(self) -> f64;

    /// As an edge quantity in the written unit.
    fn quantity(self) -> Quantity {
        Quantity::new(Self::WRITTEN.from_base(self.base()), Self::WRITTEN)
    }
}

fn schema_of<M: Measure>(about: &str) -> RefOr<Schema> {
    let symbols = Unit::of(M::DIMENSION).map(|unit| unit.symbol());
    ObjectBuilder::new()
        .description(Some(about))
        .property("value", ObjectBuilder::new().schema_type(Type::Number))
        .property("unit", ObjectBuilder::new().schema_type(Type::String).enum_values(Some(symbols)))
        .required("value")
        .required("unit")
        .into()
}

macro_rules! measures {
    ($($(#[doc = $about:literal])+ $name:ident: $dimension:ident, written $written:ident;)+) => {$(
        $(#[doc = $about])+
        #[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Default)]
        pub struct $name(f64);

        impl $name {
            /// From a number in a unit of the right dimension.
            ///
            /// # Panics
            /// If the unit measures something else: a slip in the code, not in the data. Data go
            /// through [`Quantity`] and `TryFrom`.
            pub const fn new(value: f64, unit: Unit) -> Self {
                assert!(unit.dimension() as u8 == Dimension::$dimension as u8, "unit of another dimension");
                Self(value * unit.factor() + unit.offset())
            }

            /// The number in a unit of the right dimension.
            ///
            /// # Panics
            /// If the unit measures something else.
            pub fn to(self, unit: Unit) -> f64 {
                assert_eq!(unit.dimension(), Dimension::$dimension, "unit of another dimension");
                unit.from_base(self.0)
            }
        }

        impl Measure for $name {
            const DIMENSION: Dimension = Dimension::$dimension;
            const WRITTEN: Unit = Unit::$written;
            fn from_base(base: f64) -> Self { Self(base) }
            fn base(self) -> f64 { self.0 }
        }

        impl TryFrom<Quantity> for $name {
            type Error = String;
            fn try_from(quantity: Quantity) -> Result<Self, String> {
                if quantity.dimension() != Dimension::$dimension {
                    return Err(format!(
                        "expected {}, not \u{201c}{}\u{201d}",
                        Dimension::$dimension.words(), quantity.unit
                    ));
                }
                if !quantity.value.is_finite() {
                    return Err("expected a finite number".to_owned());
                }
                Ok(Self(quantity.unit.to_base(quantity.value)))
            }
        }

        impl Serialize for $name {
            fn serialize<S: serde::Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
                self.quantity().serialize(serializer)
            }
        }

        impl<'de> Deserialize<'de> for $name {
            fn deserialize<D: serde::Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
                Self::try_from(Quantity::deserialize(deserializer)?).map_err(serde::de::Error::custom)
            }
        }

        impl PartialSchema for $name {
            fn schema() -> RefOr<Schema> { schema_of::<Self>(concat!($($about),+).trim()) }
        }
        impl ToSchema for $name {}

        impl Add for $name { type Output = Self; fn add(self, other: Self) -> Self { Self(self.0 + other.0) } }
        impl Sub for $name { type Output = Self; fn sub(self, other: Self) -> Self { Self(self.0 - other.0) } }
        impl Mul<f64> for $name { type Output = Self; fn mul(self, by: f64) -> Self { Self(self.0 * by) } }
        impl Div<f64> for $name { type Output = Self; fn div(self, by: f64) -> Self { Self(self.0 / by) } }
        impl Sum for $name { fn sum<I: Iterator<Item = Self>>(all: I) -> Self { Self(all.map(|one| one.0).sum()) } }
    )+};
}

measures! {
    /// Mass on an area: seed, lime, nutrients, yield.
    MassPerArea: MassPerArea, written KgPerHa;
    /// Seeds or plants on an area.
    CountPerArea: CountPerArea, written PerM2;
    /// Seeds in a mass.
    CountPerMass: CountPerMass, written PerKg;
    /// Seeds or plants along a row.
    CountPerLength: CountPerLength, written PerM;
    /// Length: spacing, depth, setback.
    Length: Length, written M;
    /// Area.
    Area: Area, written Ha;
    /// Temperature.
    Temperature: Temperature, written DegC;
    /// A difference or amplitude of temperature: it has no zero point.
    TemperatureStep: TemperatureStep, written K;
    /// Degree-days: warmth above a base, summed over days.
    ThermalTime: ThermalTime, written DegCDay;
    /// The sun’s energy on an area in a day; total, not the part that plants use.
    Radiation: EnergyPerArea, written MjPerM2;
    /// Water lost or gained in a day.
    WaterPerDay: WaterPerDay, written MmPerDay;
    /// Pressure of air or of the vapour in it.
    Pressure: Pressure, written KPa;
    /// Speed of wind or machine.
    Speed: Speed, written MPerS;
    /// Time spent on a job.
    Time: Time, written H;
    /// Area done in a time.
    AreaPerTime: AreaPerTime, written HaPerH;
    /// Money for a time: a machine, a contractor.
    MoneyPerTime: MoneyPerTime, written MoneyPerH;
    /// Volume: a tank.
    Volume: Volume, written L;
    /// A volume on an area: slurry, spray.
    VolumePerArea: VolumePerArea, written LPerHa;
    /// Mass in a volume: what a liquid holds.
    MassPerVolume: MassPerVolume, written KgPerM3;
    /// A share of a whole, written in percent. A plain factor is an `f64`.
    Fraction: Ratio, written Percent;
    /// Mass.
    Mass: Mass, written Kg;
    /// Money.
    Money: Money, written Money;
    /// Money on an area.
    MoneyPerArea: MoneyPerArea, written MoneyPerHa;
    /// A price per mass.
    MoneyPerMass: MoneyPerMass, written MoneyPerKg;
    /// A price of the nutrient itself.
    MoneyPerNutrient: MoneyPerNutrient, written MoneyPerKgNutrient;
    /// A soil test: mass of a nutrient in a mass of soil. The method of extraction is a part of
    /// what it means, and is kept beside it.
    SoilContent: SoilContent, written Ppm;
    /// Exchangeable charge in a mass of soil.
    Charge: Charge, written MeqPer100G;
    /// Exchangeable charge in a volume of soil.
    ChargePerVolume: ChargePerVolume, written MeqPer100Cm3;
    /// Electrical conductivity: how salty water or the extract of a soil is.
    Conductivity: Conductivity, written DsPerM;
}

impl Fraction {
    /// The whole: 100 %.
    pub const ONE: Self = Self(1.0);
    /// Nothing.
    pub const ZERO: Self = Self(0.0);

    /// From a percentage.
    pub const fn percent(value: f64) -> Self {
        Self::new(value, Unit::Percent)
    }
}

/// `A * B = C`, and so `C / B = A`.
macro_rules! product {
    ($($a:ident * $b:ident = $c:ident;)+) => {$(
        impl Mul<$b> for $a { type Output = $c; fn mul(self, by: $b) -> $c { $c(self.0 * by.0) } }
        impl Div<$b> for $c { type Output = $a; fn div(self, by: $b) -> $a { $a(self.0 / by.0) } }
    )+};
}

product! {
    MassPerArea * CountPerMass = CountPerArea;
    MassPerArea * Area = Mass;
    MoneyPerArea * Area = Money;
    MassPerArea * MoneyPerMass = MoneyPerArea;
    MoneyPerMass * Mass = Money;
    CountPerArea * Length = CountPerLength;
    VolumePerArea * MassPerVolume = MassPerArea;
    VolumePerArea * Area = Volume;
    Speed * Length = AreaPerTime;
    AreaPerTime * Time = Area;
    MoneyPerTime * Time = Money;
}

impl Mul for Length {
    type Output = Area;
    fn mul(self, by: Length) -> Area {
        Area(self.0 * by.0)
    }
}

impl Div<Area> for f64 {
    type Output = CountPerArea;
    fn div(self, by: Area) -> CountPerArea {
        CountPerArea(self / by.0)
    }
}

impl Mul<Area> for CountPerArea {
    type Output = f64;
    fn mul(self, by: Area) -> f64 {
        self.0 * by.0
    }
}

impl Div<AreaPerTime> for Area {
    type Output = Time;
    fn div(self, by: AreaPerTime) -> Time {
        Time(self.0 / by.0)
    }
}

impl Div<MassPerArea> for Mass {
    type Output = Area;
    fn div(self, by: MassPerArea) -> Area {
        Area(self.0 / by.0)
    }
}

impl Div<VolumePerArea> for Volume {
    type Output = Area;
    fn div(self, by: VolumePerArea) -> Area {
        Area(self.0 / by.0)
    }
}

impl Div<CountPerMass> for MoneyPerMass {
    type Output = Money;
    fn div(self, by: CountPerMass) -> Money {
        Money(self.0 / by.0)
    }
}

impl Div<CountPerArea> for CountPerArea {
    type Output = Fraction;
    fn div(self, by: CountPerArea) -> Fraction {
        Fraction(self.0 / by.0)
    }
}

macro_rules! scaled_by_fraction {
    ($($name:ident)+) => {$(
        impl Mul<Fraction> for $name { type Output = $name; fn mul(self, by: Fraction) -> $name { $name(self.0 * by.0) } }
        impl Div<Fraction> for $name { type Output = $name; fn div(self, by: Fraction) -> $name { $name(self.0 / by.0) } }
    )+};
}
scaled_by_fraction! { AreaPerTime Charge MassPerArea CountPerArea CountPerMass CountPerLength Mass Money MoneyPerArea MoneyPerMass Fraction }

macro_rules! ratio {
    ($($name:ident)+) => {$(
        impl Div<$name> for $name { type Output = Fraction; fn div(self, by: $name) -> Fraction { Fraction(self.0 / by.0) } }
    )+};
}
ratio! { MassPerVolume MassPerArea Mass Money Area Length Charge SoilContent MoneyPerMass ThermalTime }
