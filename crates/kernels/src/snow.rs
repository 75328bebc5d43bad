//! Snow on the ground: what falls, what melts, and how far it keeps the air off the soil.
//!
//! Snow falls on days whose mean is at or below freezing and melts by degree-days. Lying, it is a
//! layer in series with the top of the soil: of the difference between air and soil there comes
//! through the share that its resistance leaves (heat conduction through layers; Campbell & Norman
//! 1998, chapter 8), and its surface is never warmer than melting snow. Assumed: settled snow of a
//! quarter of water's density, within the 0.2 to 0.35 of lying snow, that conducts 0.15 W/(m K),
//! within the 0.1 to 0.2 that Sturm et al. 1997 and Yen 1981 give for it (from memory); 2 cm of soil
//! above the uppermost point that is reckoned; 10 mm as water that leave no patches.
//!
//! ```
//! use facts::working::Blank;
//! use kernels::snow::Snow;
//! let mut snow = Snow::default();
//! assert_eq!(snow.step(0.012, -5.0), 0.0, "it stays");
//! let (above, felt) = snow.above_soil(&mut Blank, -10.0, 1.0, 1.25);
//! assert!(above > 0.0 && felt < 0.1, "hardly anything comes through");
//! assert_eq!(snow.step(0.0, 2.0), 0.0054, "two degrees melt 5.4 mm");
//! ```

use facts::{
    reckon,
    units::{Length, Temperature},
    working::Paper,
};

use crate::maths::smaller;

/// Snow that melts a day for each °C of the day's mean, m (0.0027: within the 1.6 to 6 mm of
/// USACE and of Rango & Martinec 1995, from memory).
const MELT: f64 = 0.0027;
/// Snow, as water, that covers all of the ground, m: below it is patches (assumed).
pub const COVERS: f64 = 0.010;

/// Snow as the water in it, m.
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Default)]
pub struct Snow(f64);

impl Snow {
    /// A day with so much rain or snow (m) and a mean temperature (°C). Gives the water that reaches
    /// the ground: rain and what melted.
    #[inline]
    pub fn step(&mut self, rain: f64, mean: f64) -> f64 {
        if mean <= 0.0 {
            self.0 += rain;
            return 0.0;
        }
        let melted = self.0.min(MELT * mean);
        self.0 -= melted;
        rain + melted
    }

    /// The water in it, m.
    #[inline]
    pub fn water(self) -> f64 {
        self.0
    }

    /// Whether there is any.
    #[inline]
    pub fn lies(self) -> bool {
        self.0 > 0.0
    }

    /// What the soil's top has above it, °C, and the share of the air's swing that it feels: the air
    /// itself where the ground is bare, and what comes through where snow covers it. From the mean of
    /// what lies open and the soil's top of the day before, both °C, over a soil that conducts so much, W/(m K).
    #[inline]
    pub fn above_soil(
        self,
        paper: &mut impl Paper,
        surface_mean: f64,
        soil_top: f64,
        soil_conducts: f64,
    ) -> (f64, f64) {
        if !self.lies() {
            return (surface_mean, 1.0);
        }
        let snow_water = self.0;
        reckon!(paper; snow_depth: Length = snow_water / 0.25);
        reckon!(paper; covered = smaller(1.0, snow_water / 0.010));
        reckon!(paper; comes_through = (0.02 / soil_conducts) / (0.02 / soil_conducts + snow_depth / 0.15));
        reckon!(paper; under_snow: Temperature = soil_top + (smaller(surface_mean, 0.0) - soil_top) * comes_through);
        reckon!(paper; above_soil: Temperature = (1.0 - covered) * surface_mean + covered * under_snow);
        reckon!(paper; swing_felt = 1.0 - covered * (1.0 - comes_through));
        (above_soil, swing_felt)
    }
}
