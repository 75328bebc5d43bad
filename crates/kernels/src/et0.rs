//! Reference evapotranspiration: what a short green sward would use, well watered.
//!
//! Penman–Monteith as FAO-56 has it (equation 6), with its rules where humidity, wind or radiation
//! are not known; Hargreaves (equation 52) where only temperature is known. The same code runs in
//! hot loops on [`Blank`] paper and on a sheet for the screen.

use facts::{
    reckon,
    units::{Pressure, Radiation, Temperature, WaterPerDay},
    working::{Blank, Paper},
};

use crate::{
    day::Day,
    maths::{exp, larger, ln, smaller, sqrt},
    sun::{self, Sky},
};

/// Wind at 2 m where none is measured, m/s (FAO-56, chapter 4: the mean of over 2,000 stations).
pub const USUAL_WIND: f64 = 2.0;

/// Saturation vapour pressure, kPa, at a temperature in °C: FAO-56 equation 11.
#[inline]
pub fn saturation(temperature: f64) -> f64 {
    0.6108 * exp(17.27 * temperature / (temperature + 237.3))
}

/// The temperature, °C, at which a vapour pressure (kPa) is saturated: equation 11 turned round.
pub fn dew_point(vapour: f64) -> f64 {
    let x = ln(vapour / 0.6108);
    237.3 * x / (17.27 - x)
}

/// Air pressure, kPa, at a height in metres: FAO-56 equation 7.
pub fn air_pressure(elevation: f64) -> f64 {
    101.3 * ((293.0 - 0.0065 * elevation) / 293.0).powf(5.26)
}

/// Psychrometric constant, kPa/°C: FAO-56 equation 8.
pub fn psychrometric(pressure: f64) -> f64 {
    0.665e-3 * pressure
}

/// The air of one day; numbers in °C, kPa, MJ/m² and m/s.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Air {
    /// Lowest temperature.
    pub lowest: f64,
    /// Highest temperature.
    pub highest: f64,
    /// Actual vapour pressure.
    pub vapour_pressure: f64,
    /// Solar radiation.
    pub solar: f64,
    /// Clear-sky radiation.
    pub clear_sky: f64,
    /// Wind at 2 m.
    pub wind: f64,
    /// Psychrometric constant.
    pub psychrometric: f64,
    /// Heat into the soil.
    pub soil_heat: f64,
}

/// FAO-56 Penman–Monteith, mm/day.
#[inline]
pub fn penman_monteith(paper: &mut impl Paper, air: Air) -> f64 {
    let Air {
        lowest,
        highest,
        vapour_pressure,
        solar,
        clear_sky,
        wind,
        psychrometric: psychrometric_constant,
        soil_heat,
    } = air;
    reckon!(paper; mean_temperature: Temperature = (lowest + highest) / 2.0);
    reckon!(paper; saturated_at_highest: Pressure = 0.6108 * exp(17.27 * highest / (highest + 237.3)));
    reckon!(paper; saturated_at_lowest: Pressure = 0.6108 * exp(17.27 * lowest / (lowest + 237.3)));
    reckon!(paper; saturated: Pressure = (saturated_at_highest + saturated_at_lowest) / 2.0);
    reckon!(paper; saturated_at_mean: Pressure = 0.6108 * exp(17.27 * mean_temperature / (mean_temperature + 237.3)));
    reckon!(paper; slope = 4098.0 * saturated_at_mean / ((mean_temperature + 237.3) * (mean_temperature + 237.3)));
    reckon!(paper; net_shortwave: Radiation = 0.77 * solar);
    reckon!(paper; black_body = 0.000000004903
        * ((highest + 273.16) * (highest + 273.16) * (highest + 273.16) * (highest + 273.16)
            + (lowest + 273.16) * (lowest + 273.16) * (lowest + 273.16) * (lowest + 273.16)) / 2.0);
    // Never darker than 0.3 of clear: ASCE-EWRI 2005, where FAO-56 would let heat come from the sky.
    reckon!(paper; cloudiness = 1.35 * smaller(1.0, larger(0.3, solar / larger(clear_sky, 0.001))) - 0.35);
    reckon!(paper; net_longwave: Radiation = black_body * (0.34 - 0.14 * sqrt(vapour_pressure)) * cloudiness);
    reckon!(paper; net_radiation: Radiation = net_shortwave - net_longwave);
    reckon!(paper; reference_evapotranspiration: WaterPerDay = (0.408 * slope * (net_radiation - soil_heat)
        + psychrometric_constant * 900.0 / (mean_temperature + 273.0) * wind * (saturated - vapour_pressure))
        / (slope + psychrometric_constant * (1.0 + 0.34 * wind)));
    reference_evapotranspiration
}

/// Hargreaves, mm/day, from extraterrestrial radiation in MJ/m²: FAO-56 equation 52.
#[inline]
pub fn hargreaves(paper: &mut impl Paper, lowest: f64, highest: f64, extraterrestrial: f64) -> f64 {
    reckon!(paper; reference_evapotranspiration: WaterPerDay = 0.0023 * ((lowest + highest) / 2.0 + 17.8)
        * sqrt(larger(0.0, highest - lowest)) * 0.408 * extraterrestrial);
    reference_evapotranspiration
}

/// Reference evapotranspiration of a day for which a station may know little, mm/day, never below
/// zero. `dew_point`, `solar` and `wind` may be NaN: then FAO-56's rules stand in: dew point at the
/// lowest temperature, radiation by the range of temperature, wind 2 m/s.
#[inline]
pub fn of_day(sky: Sky, elevation: f64, psychrometric: f64, day: Day) -> f64 {
    let clear_sky = sun::clear_sky(sky.extraterrestrial, elevation);
    let known = |value: f64, otherwise: f64| if value.is_nan() { otherwise } else { value };
    let air = Air {
        lowest: day.tmin,
        highest: day.tmax,
        vapour_pressure: saturation(known(day.dew_point, day.tmin)),
        solar: known(day.radiation, sun::from_temperature_range(sky.extraterrestrial, elevation, day.tmin, day.tmax)),
        clear_sky,
        wind: known(day.wind, USUAL_WIND),
        psychrometric,
        soil_heat: 0.0,
    };
    penman_monteith(&mut Blank, air).max(0.0)
}
