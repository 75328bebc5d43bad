//! What is usual at a place, month by month.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use facts::refusal::{Checks, Refused};

/// Monthly normals, January first; what a generator needs of a place.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Normals {
    /// Degrees north.
    pub latitude: f64,
    /// Metres above the sea.
    pub elevation: f64,
    /// Mean lowest temperature, °C.
    pub tmin: [f64; 12],
    /// Mean highest temperature, °C.
    pub tmax: [f64; 12],
    /// Spread (standard deviation) of either from day to day, °C.
    pub spread: [f64; 12],
    /// Rain in the month, mm.
    pub rain: [f64; 12],
    /// Days with 0.25 mm or more.
    pub wet_days: [f64; 12],
    /// Mean wind at 2 m, m/s.
    pub wind: [f64; 12],
}

impl Normals {
    /// Refuse what can't be.
    ///
    /// # Errors
    /// A latitude off the globe, a mean lowest above the highest, more wet days than the month has.
    pub fn check(&self) -> Result<(), Refused> {
        let mut checks = Checks::new();
        crate::sun::check_latitude(&mut checks, "/latitude", self.latitude);
        let within = |checks: &mut Checks, name: &str, values: &[f64; 12], low: f64, high: f64| {
            for (month, value) in values.iter().enumerate() {
                checks.require(
                    (low..=high).contains(value),
                    format!("/{name}/{month}"),
                    format!("{value} is not between {low} and {high}"),
                );
            }
        };
        within(&mut checks, "tmin", &self.tmin, -70.0, 45.0);
        within(&mut checks, "tmax", &self.tmax, -60.0, 55.0);
        within(&mut checks, "spread", &self.spread, 0.2, 12.0);
        within(&mut checks, "rain", &self.rain, 0.0, 3_000.0);
        within(&mut checks, "wet_days", &self.wet_days, 0.0, 28.0);
        within(&mut checks, "wind", &self.wind, 0.1, 15.0);
        for month in 0..12 {
            checks.require(
                self.tmin[month] < self.tmax[month],
                format!("/tmin/{month}"),
                "mean minimum must be below mean maximum",
            );
            checks.require(
                (self.rain[month] > 0.0) == (self.wet_days[month] > 0.0),
                format!("/wet_days/{month}"),
                "give both rain and wet days",
            );
        }
        checks.done()
    }
}

/// Made-up but likely normals by the name of a kind of place: `northern-hills`, `southern-plains`,
/// `tropical-highland`. None is a real station.
pub fn place_normals(name: &str) -> Option<Normals> {
    match name {
        "northern-hills" => Some(Normals {
            latitude: 42.5,
            elevation: 380.0,
            tmin: [-9.4, -8.9, -4.4, 1.4, 7.0, 12.2, 14.8, 14.0, 10.0, 4.2, -0.4, -5.8],
            tmax: [-0.4, 1.0, 6.0, 13.6, 20.2, 24.6, 27.0, 26.1, 22.1, 15.2, 8.2, 2.0],
            spread: [6.2, 5.9, 5.6, 5.2, 4.8, 4.0, 3.4, 3.5, 4.4, 5.0, 5.2, 5.7],
            rain: [54.0, 50.0, 68.0, 80.0, 84.0, 98.0, 96.0, 93.0, 98.0, 92.0, 76.0, 65.0],
            wet_days: [14.0, 12.0, 13.5, 13.5, 13.0, 12.5, 11.0, 10.5, 10.5, 12.5, 13.5, 14.5],
            wind: [2.6, 2.6, 2.7, 2.6, 2.2, 1.9, 1.7, 1.6, 1.7, 2.0, 2.4, 2.5],
        }),
        "southern-plains" => Some(Normals {
            latitude: -33.9,
            elevation: 120.0,
            tmin: [17.4, 17.0, 15.2, 11.9, 8.8, 6.4, 5.9, 6.9, 8.4, 11.2, 13.4, 15.8],
            tmax: [30.4, 29.1, 27.0, 22.9, 18.9, 15.7, 15.2, 17.3, 19.3, 22.3, 25.6, 28.8],
            spread: [3.6, 3.5, 3.6, 3.9, 4.2, 4.3, 4.4, 4.4, 4.0, 3.8, 3.7, 3.7],
            rain: [104.0, 118.0, 112.0, 118.0, 92.0, 78.0, 74.0, 76.0, 88.0, 112.0, 102.0, 98.0],
            wet_days: [7.5, 7.5, 7.5, 7.5, 6.8, 6.5, 6.5, 6.4, 7.0, 8.2, 7.5, 7.2],
            wind: [2.4, 2.3, 2.1, 2.0, 2.0, 2.2, 2.4, 2.5, 2.7, 2.7, 2.6, 2.5],
        }),
        "tropical-highland" => Some(Normals {
            latitude: 4.6,
            elevation: 1_850.0,
            tmin: [12.4, 12.7, 13.2, 13.8, 13.9, 13.4, 12.8, 12.8, 12.9, 13.3, 13.4, 12.9],
            tmax: [23.6, 23.8, 23.7, 23.2, 23.0, 22.9, 23.2, 23.6, 23.5, 22.8, 22.7, 23.0],
            spread: [1.5, 1.5, 1.4, 1.3, 1.2, 1.2, 1.3, 1.3, 1.3, 1.3, 1.3, 1.4],
            rain: [58.0, 74.0, 118.0, 168.0, 162.0, 84.0, 56.0, 64.0, 112.0, 186.0, 158.0, 88.0],
            wet_days: [8.0, 9.5, 13.5, 18.0, 17.5, 12.0, 9.0, 9.5, 13.5, 19.0, 16.5, 11.0],
            wind: [1.4, 1.4, 1.3, 1.2, 1.2, 1.3, 1.5, 1.5, 1.4, 1.2, 1.2, 1.3],
        }),
        _ => None,
    }
}
