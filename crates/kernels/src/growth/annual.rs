//! Growth of a sown annual: the light it catches, and what it makes of it.
//!
//! Each day a crop makes dry matter of the light that its leaves catch (Monteith 1977). Leaves are a
//! share of what has grown, so that a young crop catches little and a thick one nearly all:
//! 1 − exp(−c·mass). A day of light is worked through exactly, which under steady light is the
//! expolinear growth of Goudriaan & Monteith 1990: first by a share a day, then by as much a day.
//! Cool days make less of their light. Water and nitrogen are taken as enough, so that this is what
//! the season allows, not what a dry or hungry field gives.
//!
//! ```
//! use kernels::growth::Growing;
//! let oats = facts::crop::library().crop("forage-oats").unwrap();
//! let facts = oats.growth.as_ref().unwrap();
//! let mut growing = Growing::default();
//! // Sixty days of mild September: 16 °C and 13 MJ/m², from a sowing into moist soil.
//! (0..60).for_each(|_| growing.step(facts, 4.0, 16.0, 13.0));
//! assert!((2.0..5.0).contains(&(growing.mass / 100.0)), "tonnes a hectare");
//! ```

use facts::crop::GrowthFacts;

/// A sown crop, day by day.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Growing {
    /// Dry matter above ground, g/m².
    pub mass: f64,
    /// Warmth gathered since sowing, °C·d above the base.
    pub warmth: f64,
}

/// Share of the sun's radiation that leaves can use (FAO-56 and Monteith 1977: about half).
const USABLE: f64 = 0.5;

impl Growing {
    /// One day on, of a base (°C), a mean temperature (°C) and the sun's radiation (MJ/m²).
    pub fn step(&mut self, facts: &GrowthFacts, base: f64, mean: f64, solar: f64) {
        self.warmth += (mean - base).max(0.0);
        if self.warmth < facts.emerges || self.warmth > facts.ends {
            return;
        }
        self.mass = self.mass.max(facts.at_emergence);
        let mild = ((mean - base) / (facts.full_at - base)).clamp(0.0, 1.0);
        // The most that a day's light can make, g/m².
        let at_most = facts.light_use * USABLE * solar * mild;
        let c = facts.catches;
        self.mass = (((c * self.mass).exp() - 1.0) * (c * at_most).exp()).ln_1p() / c;
    }
}
