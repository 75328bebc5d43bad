//! Reference evapotranspiration: what a short green sward would use, well watered.
//!
//! The formulas stand in [`kernels::et0`]; here is what is asked and told.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

pub use kernels::et0::{
    Air, USUAL_WIND, air_pressure, dew_point, hargreaves, of_day, penman_monteith, psychrometric, saturation,
};
use kernels::maths::{exp, ln, smaller, sqrt};

use super::sun::{self, Sky, check_latitude, fao56};
use crate::{
    given, reckon,
    refusal::{Checks, Refused},
    said,
    source::{Origin, Source},
    units::{Fraction, Length, Measure, Pressure, Radiation, Speed, Temperature, Unit, WaterPerDay},
    working::{Answer, Sheet},
};

/// By which method.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Et0Method {
    /// FAO-56 Penman–Monteith.
    #[default]
    PenmanMonteith,
    /// Hargreaves: temperature alone.
    Hargreaves,
}

/// Request of the topic `weather.et0`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Et0Request {
    /// Degrees north; south negative.
    pub latitude: f64,
    /// Height above the sea.
    #[serde(default)]
    pub elevation: Length,
    /// The day.
    #[schema(value_type = String, format = Date)]
    pub day: Date,
    /// Lowest temperature.
    pub tmin: Temperature,
    /// Highest temperature.
    pub tmax: Temperature,
    /// Dew point, when known.
    #[serde(default)]
    pub dew_point: Option<Temperature>,
    /// Actual vapour pressure, when that is what is known.
    #[serde(default)]
    pub vapour_pressure: Option<Pressure>,
    /// Highest relative humidity of the day.
    #[serde(default)]
    pub humidity_max: Option<Fraction>,
    /// Lowest relative humidity.
    #[serde(default)]
    pub humidity_min: Option<Fraction>,
    /// Mean relative humidity, where its extremes are not known.
    #[serde(default)]
    pub humidity_mean: Option<Fraction>,
    /// Solar radiation, when measured.
    #[serde(default)]
    pub solar: Option<Radiation>,
    /// Hours of bright sunshine, when counted.
    #[serde(default)]
    pub sunshine_hours: Option<f64>,
    /// Wind speed.
    #[serde(default)]
    pub wind: Option<Speed>,
    /// Height of the wind gauge; 2 m when absent.
    #[serde(default)]
    pub wind_height: Option<Length>,
    /// Heat into the soil: matters for months, not for days.
    #[serde(default)]
    pub soil_heat: Radiation,
    /// By which method.
    #[serde(default)]
    pub method: Et0Method,
}

/// The topic `weather.et0`.
///
/// # Errors
/// A latitude off the globe, temperatures out of order, a humidity or wind that can't be.
pub fn et0(request: &Et0Request) -> Result<Answer<WaterPerDay>, Refused> {
    check(request)?;
    let mut sheet = Sheet::new("reference evapotranspiration");
    given!(sheet; latitude_degrees = request.latitude, Origin::Given);
    given!(sheet; day_of_year = f64::from(request.day.day_of_year()), Origin::Given);
    given!(sheet; elevation: Length = request.elevation.base(), Origin::Given);
    given!(sheet; lowest: Temperature = request.tmin.base(), Origin::Given);
    given!(sheet; highest: Temperature = request.tmax.base(), Origin::Given);
    let sky = sun::sky(&mut sheet, latitude_degrees, day_of_year);
    let Sky { extraterrestrial, daylight: daylight_hours } = sky;
    if request.method == Et0Method::Hargreaves {
        sheet.source(fao56("equation 52 (Hargreaves & Samani 1985)"));
        sheet.would_change("Humidity, wind and radiation, for Penman–Monteith instead.");
        let value = hargreaves(&mut sheet, lowest, highest, extraterrestrial);
        return Ok(sheet.answer(WaterPerDay::from_base(value)));
    }
    sheet.source(fao56("equations 6 to 50"));
    sheet.source(Source::published(
        "ASCE-EWRI 2005, The ASCE Standardized Reference Evapotranspiration Equation, equation 18: relative radiation from 0.3 to 1",
    ));
    reckon!(sheet; clear_sky: Radiation = (0.75 + 0.00002 * elevation) * extraterrestrial);
    let solar = match (request.solar, request.sunshine_hours) {
        (Some(measured), _) => {
            given!(sheet; solar: Radiation = measured.base(), Origin::Given);
            solar
        }
        (None, Some(hours)) => sun::by_sunshine(&mut sheet, hours, daylight_hours, extraterrestrial),
        (None, None) => {
            reckon!(sheet; solar: Radiation = smaller(clear_sky, 0.16 * sqrt(highest - lowest) * extraterrestrial));
            sheet.would_change("Measured radiation or sunshine; here they are estimated from the temperature range.");
            solar
        }
    };
    let vapour_pressure = vapour(&mut sheet, request, lowest, highest);
    let wind = wind(&mut sheet, request);
    reckon!(sheet; air_pressure: Pressure = 101.3 * exp(5.26 * ln((293.0 - 0.0065 * elevation) / 293.0)));
    reckon!(sheet; psychrometric_constant = 0.000665 * air_pressure);
    given!(sheet; soil_heat: Radiation = request.soil_heat.base(), Origin::Given);
    let psychrometric = psychrometric_constant;
    let air = Air { lowest, highest, vapour_pressure, solar, clear_sky, wind, psychrometric, soil_heat };
    let value = penman_monteith(&mut sheet, air);
    Ok(sheet.answer(WaterPerDay::from_base(value)))
}

fn check(request: &Et0Request) -> Result<(), Refused> {
    let mut checks = Checks::new();
    check_latitude(&mut checks, "/latitude", request.latitude);
    checks.within("/elevation", "Elevation", request.elevation, Unit::M, -430.0, 6_000.0);
    checks.within("/tmin", "Minimum temperature", request.tmin, Unit::DegC, -90.0, 60.0);
    checks.within("/tmax", "Maximum temperature", request.tmax, Unit::DegC, -90.0, 60.0);
    checks.require(request.tmin <= request.tmax, "/tmin", "Minimum temperature is above maximum");
    check_moisture(&mut checks, request);
    checks.within("/soil_heat", "Soil heat flux", request.soil_heat, Unit::MjPerM2, -25.0, 25.0);
    if let Some(solar) = request.solar {
        checks.within("/solar", "Radiation", solar, Unit::MjPerM2, 0.0, 45.0);
    }
    let daylight = sun::sky_on(request.latitude.clamp(-90.0, 90.0), request.day).daylight;
    if let Some(hours) = request.sunshine_hours {
        let detail = format!("{hours} hours of sunshine; the day has {daylight:.1}");
        checks.require((0.0..=daylight + 0.1).contains(&hours), "/sunshine_hours", detail);
    }
    if let Some(wind) = request.wind {
        checks.within("/wind", "Wind", wind, Unit::MPerS, 0.0, 60.0);
    }
    if let Some(height) = request.wind_height {
        checks.within("/wind_height", "Anemometer height", height, Unit::M, 0.5, 100.0);
    }
    checks.done()
}

/// How moist the air is may be told in one way, and can't be more than the day holds.
fn check_moisture(checks: &mut Checks, request: &Et0Request) {
    let humidities = [
        ("/humidity_max", request.humidity_max),
        ("/humidity_min", request.humidity_min),
        ("/humidity_mean", request.humidity_mean),
    ];
    for (pointer, humidity) in humidities {
        if let Some(humidity) = humidity {
            checks.within(pointer, "Humidity", humidity, Unit::Percent, 0.0, 100.0);
        }
    }
    if let (Some(most), Some(least)) = (request.humidity_max, request.humidity_min) {
        checks.require(least <= most, "/humidity_min", "Minimum humidity is above maximum");
    }
    let extremes = request.humidity_max.or(request.humidity_min);
    checks.require(
        extremes.is_none() || request.humidity_mean.is_none(),
        "/humidity_mean",
        "give mean humidity or its extremes, not both",
    );
    let humidity = extremes.or(request.humidity_mean);
    let told = [request.vapour_pressure.is_some(), request.dew_point.is_some(), humidity.is_some()];
    if told.iter().filter(|told| **told).count() > 1 {
        let pointer = if request.dew_point.is_some() { "/dew_point" } else { "/vapour_pressure" };
        checks.refuse(pointer, "give only one of dew point, vapor pressure or humidity");
    }
    let [lowest, highest] = [request.tmin, request.tmax].map(Temperature::base);
    // The day's own saturation: more would be fog that never lifts, and drying that is less than none.
    let held = (saturation(lowest) + saturation(highest)) / 2.0;
    if let Some(vapour) = request.vapour_pressure {
        checks.within("/vapour_pressure", "Vapor pressure", vapour, Unit::KPa, 0.0, 12.0);
        let detail =
            said!("Vapor pressure is {}; at these temperatures the limit is {}", vapour, Pressure::from_base(held));
        checks.require(vapour.base() <= held * 1.000_001, "/vapour_pressure", detail);
    }
    if let Some(dew_point) = request.dew_point {
        checks.within("/dew_point", "Dew point", dew_point, Unit::DegC, -90.0, 60.0);
        let most = Temperature::from_base(self::dew_point(held));
        let detail = said!("Dew point is {}; at these temperatures the limit is {}", dew_point, most);
        checks.require(saturation(dew_point.base()) <= held * 1.000_001, "/dew_point", detail);
    }
}

/// Actual vapour pressure by whichever is known: FAO-56 equations 14, 17, 18, 19, 48; by the lowest humidity
/// alone as ASCE-EWRI 2005 has it (equation 13).
fn vapour(sheet: &mut Sheet, request: &Et0Request, lowest: f64, highest: f64) -> f64 {
    if let Some(measured) = request.vapour_pressure {
        given!(sheet; vapour_pressure: Pressure = measured.base(), Origin::Given);
        return vapour_pressure;
    }
    if let Some(measured) = request.dew_point {
        given!(sheet; dew_point: Temperature = measured.base(), Origin::Given);
        reckon!(sheet; vapour_pressure: Pressure = 0.6108 * exp(17.27 * dew_point / (dew_point + 237.3)));
        return vapour_pressure;
    }
    if let (Some(wettest), Some(driest)) = (request.humidity_max, request.humidity_min) {
        given!(sheet; humidity_max: Fraction = wettest.base(), Origin::Given);
        given!(sheet; humidity_min: Fraction = driest.base(), Origin::Given);
        reckon!(sheet; vapour_pressure: Pressure = (0.6108 * exp(17.27 * lowest / (lowest + 237.3)) * humidity_max
            + 0.6108 * exp(17.27 * highest / (highest + 237.3)) * humidity_min) / 2.0);
        return vapour_pressure;
    }
    if let Some(wettest) = request.humidity_max {
        given!(sheet; humidity_max: Fraction = wettest.base(), Origin::Given);
        reckon!(sheet; vapour_pressure: Pressure = 0.6108 * exp(17.27 * lowest / (lowest + 237.3)) * humidity_max);
        return vapour_pressure;
    }
    if let Some(driest) = request.humidity_min {
        given!(sheet; humidity_min: Fraction = driest.base(), Origin::Given);
        reckon!(sheet; vapour_pressure: Pressure = 0.6108 * exp(17.27 * highest / (highest + 237.3)) * humidity_min);
        return vapour_pressure;
    }
    if let Some(mean) = request.humidity_mean {
        given!(sheet; humidity_mean: Fraction = mean.base(), Origin::Given);
        reckon!(sheet; vapour_pressure: Pressure = humidity_mean * (0.6108 * exp(17.27 * lowest / (lowest + 237.3))
            + 0.6108 * exp(17.27 * highest / (highest + 237.3))) / 2.0);
        return vapour_pressure;
    }
    reckon!(sheet; vapour_pressure: Pressure = 0.6108 * exp(17.27 * lowest / (lowest + 237.3)));
    sheet.would_change("Measured humidity; here dew point is assumed equal to minimum temperature.");
    vapour_pressure
}

/// Wind at 2 m: FAO-56 equation 47.
fn wind(sheet: &mut Sheet, request: &Et0Request) -> f64 {
    let Some(measured) = request.wind else {
        let replace = "an anemometer (a typical mean is assumed)";
        given!(sheet; wind: Speed = USUAL_WIND, Origin::assumed(replace));
        return wind;
    };
    match request.wind_height.map(Length::base) {
        Some(height) if height != 2.0 => {
            given!(sheet; wind_as_measured: Speed = measured.base(), Origin::Given);
            given!(sheet; gauge_height: Length = height, Origin::Given);
            reckon!(sheet; wind: Speed = wind_as_measured * 4.87 / ln(67.8 * gauge_height - 5.42));
            wind
        }
        _ => {
            given!(sheet; wind: Speed = measured.base(), Origin::Given);
            wind
        }
    }
}
