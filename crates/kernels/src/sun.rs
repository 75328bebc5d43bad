//! The sun: length of day and radiation, from latitude and day of the year.
//!
//! FAO-56 equations 21–37 (Allen, Pereira, Raes & Smith 1998). Angles in radians inside, latitude
//! in degrees outside, north positive.

use jiff::civil::Date;

use facts::{
    reckon,
    refusal::Checks,
    units::Radiation,
    working::{Blank, Paper},
};

use crate::maths::{acos, bounded, cos, sin, tan};

/// What the sky gives on one day at one latitude.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Sky {
    /// Extraterrestrial radiation, MJ/m².
    pub extraterrestrial: f64,
    /// Daylight, h.
    pub daylight: f64,
}

/// The sky over a latitude (degrees) on a day of the year (1–366).
pub fn sky(paper: &mut impl Paper, latitude_degrees: f64, day_of_year: f64) -> Sky {
    reckon!(paper; latitude = latitude_degrees * 0.017453292519943295);
    reckon!(paper; year_angle = 0.01721420632103996 * day_of_year);
    reckon!(paper; distance_of_sun = 1.0 + 0.033 * cos(year_angle));
    reckon!(paper; declination = 0.409 * sin(year_angle - 1.39));
    reckon!(paper; sunset_angle = acos(bounded(0.0 - tan(latitude) * tan(declination))));
    reckon!(paper; extraterrestrial: Radiation = 37.58603136 * distance_of_sun
        * (sunset_angle * sin(latitude) * sin(declination) + cos(latitude) * cos(declination) * sin(sunset_angle)));
    reckon!(paper; daylight_hours = 7.639437268410976 * sunset_angle);
    Sky { extraterrestrial: extraterrestrial.max(0.0), daylight: daylight_hours }
}

/// As [`sky`], without the working.
pub fn sky_on(latitude_degrees: f64, day: Date) -> Sky {
    sky(&mut Blank, latitude_degrees, f64::from(day.day_of_year()))
}

/// Clear-sky radiation, MJ/m², at a height above the sea in metres: FAO-56 equation 37.
pub fn clear_sky(extraterrestrial: f64, elevation: f64) -> f64 {
    (0.75 + 2e-5 * elevation) * extraterrestrial
}

/// Radiation from the range of temperature, MJ/m²: FAO-56 equation 50, inland, never above the
/// clear sky's.
pub fn from_temperature_range(extraterrestrial: f64, elevation: f64, tmin: f64, tmax: f64) -> f64 {
    (0.16 * (tmax - tmin).max(0.0).sqrt() * extraterrestrial).min(clear_sky(extraterrestrial, elevation))
}

/// Refuse a latitude off the globe.
pub fn check_latitude(checks: &mut Checks, pointer: &str, latitude: f64) {
    checks.require(
        (-90.0..=90.0).contains(&latitude),
        pointer,
        format!("the latitude is {latitude}°; it must be from −90 to 90"),
    );
}

/// The constants above, as they come about.
#[cfg(test)]
mod tests {
    use std::f64::consts::PI;

    #[test]
    fn constants_are_what_they_stand_for() {
        assert!((0.017453292519943295 - PI / 180.0).abs() < 1e-16);
        assert!((0.01721420632103996 - 2.0 * PI / 365.0).abs() < 1e-16);
        assert!((37.58603136 - 24.0 * 60.0 / PI * 0.0820).abs() < 1e-7);
        assert!((7.639437268410976 - 24.0 / PI).abs() < 1e-14);
    }
}
