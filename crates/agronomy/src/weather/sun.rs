//! The sun: length of day and radiation, from latitude and day of the year.
//!
//! FAO-56 equations 21–37 (Allen, Pereira, Raes & Smith 1998). Angles in radians inside, latitude
//! in degrees outside, north positive.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use kernels::maths::{larger, smaller, sqrt};
pub use kernels::sun::{Sky, check_latitude, clear_sky, from_temperature_range, sky, sky_on};

use crate::{
    given, reckon,
    refusal::{Checks, Refused},
    source::{Origin, Source},
    units::{Length, Measure, Radiation, Temperature, Unit},
    working::{Answer, Sheet},
};

/// The method's source.
pub(crate) fn fao56(what: &str) -> Source {
    Source::published(&format!("Allen, Pereira, Raes & Smith 1998, FAO Irrigation and Drainage Paper 56, {what}"))
}

/// Request of the topic `weather.radiation`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RadiationRequest {
    /// Degrees north; south negative.
    pub latitude: f64,
    /// The day.
    #[schema(value_type = String, format = Date)]
    pub day: Date,
    /// Height above the sea; sea level when absent.
    #[serde(default)]
    pub elevation: Length,
    /// Hours of bright sunshine, when known.
    #[serde(default)]
    pub sunshine_hours: Option<f64>,
    /// Lowest temperature, when only temperature is known.
    #[serde(default)]
    pub tmin: Option<Temperature>,
    /// Highest temperature.
    #[serde(default)]
    pub tmax: Option<Temperature>,
}

/// The sun on one day.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SunDay {
    /// Above the air.
    pub extraterrestrial: Radiation,
    /// Under a clear sky.
    pub clear_sky: Radiation,
    /// From sunrise to sunset, hours.
    pub daylight_hours: f64,
    /// At the ground, by sunshine or by the range of temperature, when either is known.
    pub solar: Option<Radiation>,
}

/// Radiation at the ground by hours of bright sunshine: FAO-56 equation 35 (Ångström). Where the sun does not
/// rise there is none, nor anything for the hours to be a share of.
pub(super) fn by_sunshine(sheet: &mut Sheet, hours: f64, daylight_hours: f64, extraterrestrial: f64) -> f64 {
    given!(sheet; sunshine_hours = hours, Origin::Given);
    reckon!(sheet; solar: Radiation =
        (0.25 + 0.5 * sunshine_hours / larger(daylight_hours, 0.001)) * extraterrestrial);
    solar
}

/// The topic `weather.radiation`.
///
/// # Errors
/// A latitude off the globe, more sunshine than day, a lowest temperature above the highest.
pub fn radiation(request: &RadiationRequest) -> Result<Answer<SunDay>, Refused> {
    let mut checks = Checks::new();
    check_latitude(&mut checks, "/latitude", request.latitude);
    checks.within("/elevation", "Elevation", request.elevation, Unit::M, -430.0, 6_000.0);
    for (pointer, name, temperature) in
        [("/tmin", "Minimum temperature", request.tmin), ("/tmax", "Maximum temperature", request.tmax)]
    {
        if let Some(temperature) = temperature {
            checks.within(pointer, name, temperature, Unit::DegC, -90.0, 60.0);
        }
    }
    if let (Some(low), Some(high)) = (request.tmin, request.tmax) {
        checks.require(low <= high, "/tmin", "the lowest temperature is above the highest");
    }
    checks.done()?;
    let mut sheet = Sheet::new("the sun on a day");
    sheet.source(fao56("equations 21 to 37 and 50"));
    given!(sheet; latitude_degrees = request.latitude, Origin::Given);
    given!(sheet; day_of_year = f64::from(request.day.day_of_year()), Origin::Given);
    given!(sheet; elevation: Length = request.elevation.base(), Origin::Given);
    let Sky { extraterrestrial, daylight: daylight_hours } = sky(&mut sheet, latitude_degrees, day_of_year);
    reckon!(sheet; clear_sky: Radiation = (0.75 + 0.00002 * elevation) * extraterrestrial);
    let solar = match (request.sunshine_hours, request.tmin, request.tmax) {
        (Some(hours), ..) => {
            if !(0.0..=daylight_hours + 0.1).contains(&hours) {
                let detail = format!("{hours} hours of sunshine; the day has {daylight_hours:.1}");
                return Err(Refused::one("/sunshine_hours", detail));
            }
            Some(by_sunshine(&mut sheet, hours, daylight_hours, extraterrestrial))
        }
        (None, Some(low), Some(high)) => {
            given!(sheet; lowest: Temperature = low.base(), Origin::Given);
            given!(sheet; highest: Temperature = high.base(), Origin::Given);
            // However wide the range: no more comes down than under a clear sky.
            reckon!(sheet; solar: Radiation = smaller(clear_sky, 0.16 * sqrt(highest - lowest) * extraterrestrial));
            sheet.would_change("A radiation sensor or sunshine hours instead of the temperature range.");
            Some(solar)
        }
        _ => None,
    };
    Ok(sheet.answer(SunDay {
        extraterrestrial: Radiation::from_base(extraterrestrial),
        clear_sky: Radiation::from_base(clear_sky),
        daylight_hours,
        solar: solar.map(Radiation::from_base),
    }))
}
