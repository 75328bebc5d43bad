//! The table of units: symbol, dimension, exact factor to coherent SI.

use std::{fmt, str::FromStr};

use thiserror::Error;

/// What a unit measures. Two units convert into each other only within one dimension.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Dimension {
    /// Mass on an area: seed, lime, nutrients, yield (base kg/m²).
    MassPerArea,
    /// Seeds or plants on an area (base 1/m²).
    CountPerArea,
    /// Seeds in a mass (base 1/kg).
    CountPerMass,
    /// Seeds or plants along a row (base 1/m).
    CountPerLength,
    /// Length, depth, rain (base m).
    Length,
    /// Area (base m²).
    Area,
    /// Temperature (base °C; has an offset).
    Temperature,
    /// A pure number or a percentage (base 1).
    Ratio,
    /// Mass (base kg).
    Mass,
    /// Volume (base m³).
    Volume,
    /// Volume on an area: spray, irrigation (base m).
    VolumePerArea,
    /// Mass in a volume.
    MassPerVolume,
    /// Speed (base m/s).
    Speed,
    /// Time spent on a job (base s).
    Time,
    /// Area done in a time (base m²/s).
    AreaPerTime,
    /// Money for a time (base one/s).
    MoneyPerTime,
    /// Water a day: evapotranspiration (base mm/d).
    WaterPerDay,
    /// Energy on an area: the sun's in a day (base MJ/m²).
    EnergyPerArea,
    /// Pressure: air, vapour (base kPa).
    Pressure,
    /// Warmth summed over days above a base (base °C·d; no offset).
    ThermalTime,
    /// A difference or amplitude of temperature (base K; no offset).
    TemperatureStep,
    /// Money, of whatever currency the farm pays in (base one).
    Money,
    /// Money on an area (base one/m²).
    MoneyPerArea,
    /// A price (base one/kg).
    MoneyPerMass,
    /// Price of a mass of a nutrient, not of the product that holds it.
    MoneyPerNutrient,
    /// A soil test: mass of a nutrient in a mass of soil (base mg/kg).
    SoilContent,
    /// Exchangeable charge in a mass of soil: CEC, bases, acidity (base cmol/kg).
    Charge,
    /// Exchangeable charge in a volume of soil, as volume-scooped tests print it (base cmol/L).
    ChargePerVolume,
    /// Electrical conductivity of water or of a soil extract: how salty it is (base dS/m).
    Conductivity,
}

impl Dimension {
    /// In plain words, with an example: "a mass per area, such as lb/ac or kg/ha".
    pub fn words(self) -> &'static str {
        match self {
            Self::MassPerArea => "a mass per area, such as lb/ac or kg/ha",
            Self::CountPerArea => "a number per area, such as /ft2 or /m2",
            Self::CountPerMass => "a number per mass, such as /lb or /kg",
            Self::CountPerLength => "a number per length, such as /ft or /m",
            Self::Length => "a length, such as in or cm",
            Self::Area => "an area, such as ac or ha",
            Self::Temperature => "a temperature, such as °F or °C",
            Self::Ratio => "a share, such as %",
            Self::Mass => "a mass, such as lb or kg",
            Self::Volume => "a volume, such as gal or L",
            Self::VolumePerArea => "a volume per area, such as gal/ac or L/ha",
            Self::MassPerVolume => "a mass per volume, such as lb/1000gal or kg/m3",
            Self::Speed => "a speed, such as mph or km/h",
            Self::Time => "a time, such as h or min",
            Self::AreaPerTime => "an area per time, such as ac/h or ha/h",
            Self::MoneyPerTime => "money per time, such as 40/h",
            Self::WaterPerDay => "water per day, such as mm/d or in/d",
            Self::EnergyPerArea => "an energy per area, such as MJ/m2",
            Self::Pressure => "a pressure, such as kPa",
            Self::ThermalTime => "degree-days, such as degF.d or degC.d",
            Self::TemperatureStep => "a difference of temperature, such as degR (of Fahrenheit) or K",
            Self::Money => "an amount of money, such as 25",
            Self::MoneyPerArea => "money per area, such as 30/ac",
            Self::MoneyPerMass => "a price per mass, such as 4.50/lb",
            Self::MoneyPerNutrient => "a price per mass of nutrient, such as 0.60/lb nutrient",
            Self::SoilContent => "a soil test, such as ppm or mg/kg",
            Self::Charge => "a charge per mass of soil, such as meq/100g or cmol/kg",
            Self::ChargePerVolume => "a charge per volume of soil, such as meq/100cm3",
            Self::Conductivity => "a conductivity, such as dS/m or mmhos/cm",
        }
    }
}

/// A unit symbol that the table does not hold.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
#[error("“{0}” is not a known unit")]
pub struct UnknownUnit(pub String);

// Exact definitions, NIST SP 811 B.8.
const POUND: f64 = 0.453_592_37;
const INCH: f64 = 0.025_4;
const FOOT: f64 = 0.304_8;
const THOUSAND_FT2: f64 = 1_000.0 * FOOT * FOOT;
const ACRE: f64 = 4_046.856_422_4;
const HECTARE: f64 = 10_000.0;
const GALLON: f64 = 3.785_411_784e-3;
const LITRE: f64 = 1e-3;
const HOUR: f64 = 3_600.0;
const MILE_PER_HOUR: f64 = 0.447_04;

macro_rules! units {
    ($($variant:ident $symbol:literal $dimension:ident $factor:expr, $offset:expr, $metric:expr;)+) => {
        /// A unit of measurement; its text form is the ASCII symbol used in JSON.
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
        pub enum Unit {
            $(#[doc = concat!("`", $symbol, "`")] $variant,)+
        }

        impl Unit {
            /// All units, in the order of the table.
            pub const ALL: &'static [Unit] = &[$(Unit::$variant),+];

            /// The ASCII symbol, such as `lb/ac`.
            pub const fn symbol(self) -> &'static str {
                match self { $(Unit::$variant => $symbol,)+ }
            }

            /// What the unit measures.
            pub const fn dimension(self) -> Dimension {
                match self { $(Unit::$variant => Dimension::$dimension,)+ }
            }

            /// Multiply by this to reach the base unit of the dimension.
            pub const fn factor(self) -> f64 {
                match self { $(Unit::$variant => $factor,)+ }
            }

            /// Added after multiplying (zero but for °F).
            pub const fn offset(self) -> f64 {
                match self { $(Unit::$variant => $offset,)+ }
            }

            /// Some(true) for a metric unit, Some(false) for a US one, None for common ones.
            pub const fn metric(self) -> Option<bool> {
                match self { $(Unit::$variant => $metric,)+ }
            }
        }

        impl FromStr for Unit {
            type Err = UnknownUnit;
            /// By its symbol; in what was written before farms had a currency, money was called USD.
            fn from_str(text: &str) -> Result<Self, UnknownUnit> {
                if let Some(per) = text.strip_prefix("USD") {
                    return Self::ALL
                        .iter()
                        .copied()
                        .find(|unit| unit.symbol().strip_prefix("money") == Some(per))
                        .ok_or_else(|| UnknownUnit(text.to_owned()));
                }
                match text { $($symbol => Ok(Unit::$variant),)+ _ => Err(UnknownUnit(text.to_owned())) }
            }
        }
    };
}

const US: Option<bool> = Some(false);
const SI: Option<bool> = Some(true);

units! {
    LbPerAc "lb/ac" MassPerArea POUND / ACRE, 0.0, US;
    OzPerAc "oz/ac" MassPerArea POUND / 16.0 / ACRE, 0.0, US;
    GPerHa "g/ha" MassPerArea 1e-3 / HECTARE, 0.0, SI;
    KgPerHa "kg/ha" MassPerArea 1.0 / HECTARE, 0.0, SI;
    TonPerAc "ton/ac" MassPerArea 2_000.0 * POUND / ACRE, 0.0, US;
    TPerHa "t/ha" MassPerArea 1_000.0 / HECTARE, 0.0, SI;
    LbPer1000Ft2 "lb/1000ft2" MassPerArea POUND / THOUSAND_FT2, 0.0, US;
    OzPer1000Ft2 "oz/1000ft2" MassPerArea POUND / 16.0 / THOUSAND_FT2, 0.0, US;
    PerFt2 "/ft2" CountPerArea 1.0 / (FOOT * FOOT), 0.0, US;
    PerM2 "/m2" CountPerArea 1.0, 0.0, SI;
    PerAc "/ac" CountPerArea 1.0 / ACRE, 0.0, US;
    PerHa "/ha" CountPerArea 1.0 / HECTARE, 0.0, SI;
    PerLb "/lb" CountPerMass 1.0 / POUND, 0.0, US;
    PerKg "/kg" CountPerMass 1.0, 0.0, SI;
    PerFt "/ft" CountPerLength 1.0 / FOOT, 0.0, US;
    PerM "/m" CountPerLength 1.0, 0.0, SI;
    In "in" Length INCH, 0.0, US;
    Mm "mm" Length 1e-3, 0.0, SI;
    Cm "cm" Length 1e-2, 0.0, SI;
    M "m" Length 1.0, 0.0, SI;
    Ft "ft" Length FOOT, 0.0, US;
    Ac "ac" Area ACRE, 0.0, US;
    Ha "ha" Area HECTARE, 0.0, SI;
    M2 "m2" Area 1.0, 0.0, SI;
    Ft2 "ft2" Area FOOT * FOOT, 0.0, US;
    DegF "degF" Temperature 5.0 / 9.0, -160.0 / 9.0, US;
    DegC "degC" Temperature 1.0, 0.0, SI;
    Percent "%" Ratio 0.01, 0.0, None;
    One "1" Ratio 1.0, 0.0, None;
    LbPerTon "lb/ton" Ratio 1.0 / 2_000.0, 0.0, None;
    KgPerT "kg/t" Ratio 1e-3, 0.0, None;
    Lb "lb" Mass POUND, 0.0, US;
    Oz "oz" Mass POUND / 16.0, 0.0, US;
    Kg "kg" Mass 1.0, 0.0, SI;
    G "g" Mass 1e-3, 0.0, SI;
    Ton "ton" Mass 2_000.0 * POUND, 0.0, US;
    T "t" Mass 1_000.0, 0.0, SI;
    Gal "gal" Volume GALLON, 0.0, US;
    L "L" Volume LITRE, 0.0, SI;
    FlOz "floz" Volume GALLON / 128.0, 0.0, US;
    Ml "mL" Volume 1e-3 * LITRE, 0.0, SI;
    Pt "pt" Volume GALLON / 8.0, 0.0, US;
    Qt "qt" Volume GALLON / 4.0, 0.0, US;
    GalPerAc "gal/ac" VolumePerArea GALLON / ACRE, 0.0, US;
    LPerHa "L/ha" VolumePerArea LITRE / HECTARE, 0.0, SI;
    FlOzPerAc "floz/ac" VolumePerArea GALLON / 128.0 / ACRE, 0.0, US;
    PtPerAc "pt/ac" VolumePerArea GALLON / 8.0 / ACRE, 0.0, US;
    QtPerAc "qt/ac" VolumePerArea GALLON / 4.0 / ACRE, 0.0, US;
    FlOzPer1000Ft2 "floz/1000ft2" VolumePerArea GALLON / 128.0 / THOUSAND_FT2, 0.0, US;
    GalPer1000Ft2 "gal/1000ft2" VolumePerArea GALLON / THOUSAND_FT2, 0.0, US;
    MlPerHa "mL/ha" VolumePerArea 1e-3 * LITRE / HECTARE, 0.0, SI;
    LbPer1000Gal "lb/1000gal" MassPerVolume POUND / (1_000.0 * GALLON), 0.0, US;
    KgPerM3 "kg/m3" MassPerVolume 1.0, 0.0, SI;
    Mph "mph" Speed MILE_PER_HOUR, 0.0, US;
    KmPerH "km/h" Speed 1.0 / 3.6, 0.0, SI;
    MPerS "m/s" Speed 1.0, 0.0, SI;
    H "h" Time HOUR, 0.0, None;
    Min "min" Time 60.0, 0.0, None;
    S "s" Time 1.0, 0.0, None;
    AcPerH "ac/h" AreaPerTime ACRE / HOUR, 0.0, US;
    HaPerH "ha/h" AreaPerTime HECTARE / HOUR, 0.0, SI;
    MoneyPerH "money/h" MoneyPerTime 1.0 / HOUR, 0.0, None;
    MmPerDay "mm/d" WaterPerDay 1.0, 0.0, SI;
    InPerDay "in/d" WaterPerDay 25.4, 0.0, US;
    MjPerM2 "MJ/m2" EnergyPerArea 1.0, 0.0, None;
    KPa "kPa" Pressure 1.0, 0.0, None;
    DegFDay "degF.d" ThermalTime 5.0 / 9.0, 0.0, US;
    DegCDay "degC.d" ThermalTime 1.0, 0.0, SI;
    DegR "degR" TemperatureStep 5.0 / 9.0, 0.0, US;
    K "K" TemperatureStep 1.0, 0.0, SI;
    Money "money" Money 1.0, 0.0, None;
    MoneyPerAc "money/ac" MoneyPerArea 1.0 / ACRE, 0.0, US;
    MoneyPerHa "money/ha" MoneyPerArea 1.0 / HECTARE, 0.0, SI;
    MoneyPerLb "money/lb" MoneyPerMass 1.0 / POUND, 0.0, US;
    MoneyPerKg "money/kg" MoneyPerMass 1.0, 0.0, SI;
    MoneyPerTon "money/ton" MoneyPerMass 1.0 / (2_000.0 * POUND), 0.0, US;
    MoneyPerT "money/t" MoneyPerMass 1e-3, 0.0, SI;
    MoneyPerLbNutrient "money/lb nutrient" MoneyPerNutrient 1.0 / POUND, 0.0, US;
    MoneyPerKgNutrient "money/kg nutrient" MoneyPerNutrient 1.0, 0.0, SI;
    Ppm "ppm" SoilContent 1.0, 0.0, None;
    MgPerKg "mg/kg" SoilContent 1.0, 0.0, None;
    MeqPer100G "meq/100g" Charge 1.0, 0.0, None;
    CmolPerKg "cmol/kg" Charge 1.0, 0.0, None;
    MeqPer100Cm3 "meq/100cm3" ChargePerVolume 1.0, 0.0, None;
    DsPerM "dS/m" Conductivity 1.0, 0.0, None;
}

impl Unit {
    /// The unit that is the base of a dimension, where it has a symbol of its own.
    pub fn base_of(dimension: Dimension) -> Option<Self> {
        Self::of(dimension).find(|unit| unit.factor() == 1.0 && unit.offset() == 0.0)
    }

    /// As people write it: `°F`, `/ft²`. Money begins with `¤`, for which the sign of the reader's currency stands
    /// before the number.
    pub const fn label(self) -> &'static str {
        match self {
            Self::PerFt2 => "/ft\u{b2}",
            Self::PerM2 => "/m\u{b2}",
            Self::Ft2 => "ft\u{b2}",
            Self::DegF | Self::DegR => "\u{b0}F",
            Self::DegC | Self::K => "\u{b0}C",
            Self::DegFDay => "\u{b0}F\u{b7}d",
            Self::DegCDay => "\u{b0}C\u{b7}d",
            Self::MmPerDay => "mm/day",
            Self::InPerDay => "in/day",
            Self::MjPerM2 => "MJ/m\u{b2}",
            Self::LbPer1000Gal => "lb/1,000 gal",
            Self::KgPerM3 => "kg/m\u{b3}",
            Self::MeqPer100G => "meq/100 g",
            Self::MeqPer100Cm3 => "meq/100 cm\u{b3}",
            Self::One => "",
            Self::FlOz => "fl oz",
            Self::FlOzPerAc => "fl oz/ac",
            Self::LbPer1000Ft2 => "lb/1,000 ft\u{b2}",
            Self::OzPer1000Ft2 => "oz/1,000 ft\u{b2}",
            Self::FlOzPer1000Ft2 => "fl oz/1,000 ft\u{b2}",
            Self::GalPer1000Ft2 => "gal/1,000 ft\u{b2}",
            Self::Money => "\u{a4}",
            Self::MoneyPerAc => "\u{a4}/ac",
            Self::MoneyPerHa => "\u{a4}/ha",
            Self::MoneyPerLb => "\u{a4}/lb",
            Self::MoneyPerKg => "\u{a4}/kg",
            Self::MoneyPerTon => "\u{a4}/ton",
            Self::MoneyPerT => "\u{a4}/t",
            Self::MoneyPerH => "\u{a4}/h",
            Self::MoneyPerLbNutrient => "\u{a4}/lb of nutrient",
            Self::MoneyPerKgNutrient => "\u{a4}/kg of nutrient",
            other => other.symbol(),
        }
    }

    /// The value in the base unit of the dimension.
    pub fn to_base(self, value: f64) -> f64 {
        value * self.factor() + self.offset()
    }

    /// A base value expressed in this unit.
    pub fn from_base(self, base: f64) -> f64 {
        (base - self.offset()) / self.factor()
    }

    /// Every unit of a dimension.
    pub fn of(dimension: Dimension) -> impl Iterator<Item = Unit> {
        Self::ALL.iter().copied().filter(move |unit| unit.dimension() == dimension)
    }
}

impl fmt::Display for Unit {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.symbol())
    }
}

impl serde::Serialize for Unit {
    fn serialize<S: serde::Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(self.symbol())
    }
}

impl<'de> serde::Deserialize<'de> for Unit {
    fn deserialize<D: serde::Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        let text = <std::borrow::Cow<'de, str>>::deserialize(deserializer)?;
        text.parse().map_err(serde::de::Error::custom)
    }
}
