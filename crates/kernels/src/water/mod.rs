//! Water in the soil: what falls, what runs off, what the crop and the sun take, what is left.
//!
//! The daily balance of FAO-56 (Allen et al. 1998) with the dual crop coefficient: a top layer that
//! evaporation dries (equations 71–79), a root zone that the crop draws on (equations 82–88). Rain and irrigation
//! come early in the day, as in the paper's example 35: first the top layer is wetted, then the day dries it.
//! Around it: runoff by curve number (USDA NRCS National Engineering Handbook, part 630, chapter
//! 10), snow ([`crate::snow`]), and water above field capacity that drains over days
//! as the drainage class has it, where FAO-56 lets it go at once: it is what keeps tractors out.
//! All depths in metres of water inside, so that one code serves sheet and hot loop.
//!
//! [`Profile`] is what does not change, [`Canopy`] what draws on it on a day. A profile of one layer is the paper's root
//! zone to the digit. One of two keeps what lies below the roots: water is drawn where roots are and water is, each
//! layer giving what its own part of the roots can bring up (assumed, after the two-layer bucket of growth models).
//!
//! ```
//! use facts::{crop::Drainage, texture::Texture};
//! use kernels::water::{Canopy, Profile, Today, Water, holds};
//! let profile = Profile::root_zone(holds(Texture::Loam), Drainage::Well, 0.6).down_to(2.0);
//! let dry_on_top = Water { root_missing: profile.upper, top_missing: profile.total_evaporable, ..Water::default() };
//! let warm = Today { lowest: 14.0, mean: 22.0, rain: 0.0, irrigation: 0.0, reference: 0.006 };
//! let stress = |roots| {
//!     let (mut water, canopy) = (dry_on_top, Canopy { basal: 1.0, ..Canopy::seedbed(roots) });
//!     water.day(&profile, &canopy, warm).stress
//! };
//! assert_eq!(stress(0.6), 0.0, "shallow roots have nothing left");
//! assert!((stress(1.6) - 0.85).abs() < 0.01, "deep ones find what is kept below");
//! ```

mod profile;

use facts::{
    reckon,
    units::Length,
    working::{Blank, Paper},
};

pub use profile::{Bed, Canopy, Drawn, Holds, Profile, SEEDBED_ROOTS, drains, holds, lets_through};

use crate::{
    day::Day,
    maths::{larger, smaller},
    snow::{COVERS, Snow},
};

/// Share of what the top layer can lose that it has lost when it can be worked (assumed).
const DRIED: f64 = 0.12;
/// Days that a cover's waking and resting looks back over (assumed).
const LOOKS_BACK: f64 = 10.0;
/// Of what a stand wants, the most that roots in the lower layer alone bring up (assumed): the fewer roots are there.
const FROM_BELOW: f64 = 0.85;

/// Water at the end of a day, all in m.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Water {
    /// Snow on it.
    pub snow: Snow,
    /// Missing from the top layer.
    pub top_missing: f64,
    /// Missing from the root zone, or of a profile in two layers from the upper one.
    pub root_missing: f64,
    /// Missing from the lower layer.
    pub lower_missing: f64,
    /// Above field capacity.
    pub excess: f64,
    /// Mean temperature of the last ten days, those nearest counting most, °C; none before the first.
    pub warmth: Option<f64>,
}

/// What moved in a day.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Moved {
    /// Ran off as it fell, by the curve number.
    pub runoff: f64,
    /// Found no room in the soil, and ran off.
    pub overflow: f64,
    /// Left the profile below.
    pub drained: f64,
    /// Evaporated and transpired.
    pub used: f64,
    /// Of it transpired.
    pub transpired: f64,
    /// Stress coefficient: 1 when nothing is missed.
    pub stress: f64,
}

/// What comes and goes on a day.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Today {
    /// Lowest temperature, °C.
    pub lowest: f64,
    /// Mean temperature, °C.
    pub mean: f64,
    /// Rain or snow, m.
    pub rain: f64,
    /// Irrigation, m.
    pub irrigation: f64,
    /// Reference evapotranspiration, m.
    pub reference: f64,
}

impl Water {
    /// The warmth that a cover goes by at the end of a day of this mean temperature.
    #[inline]
    pub fn warmth_after(&self, mean: f64) -> f64 {
        self.warmth.map_or(mean, |before| before + (mean - before) / LOOKS_BACK)
    }

    /// One day on, under what lies there on it.
    #[inline]
    pub fn step(&mut self, paper: &mut impl Paper, profile: &Profile, canopy: &Canopy, today: Today) -> Moved {
        let Today { mean, rain, irrigation, reference, .. } = today;
        let mut snow = self.snow;
        let liquid = snow.step(rain, mean);
        let runoff = if liquid > 0.2 * profile.storage {
            (liquid - 0.2 * profile.storage) * (liquid - 0.2 * profile.storage) / (liquid + 0.8 * profile.storage)
        } else {
            0.0
        };
        let water_in = liquid + irrigation - runoff;
        paper.gathered_bare::<Length>("water_in", "rain, melted snow and irrigation, less what ran off", water_in);
        let warmth = self.warmth_after(mean);
        let basal_coefficient = canopy.basal_at(warmth);
        let (total_evaporable, readily_evaporable) = (profile.total_evaporable, profile.readily_evaporable);
        let (total_available, depletion_fraction) = (profile.upper, canopy.depletion_fraction);
        let exposed_share = canopy.exposed;
        let (top_missing, missing_before, excess_before) = (self.top_missing, self.root_missing, self.excess);
        reckon!(paper; top_wetted: Length = larger(0.0, top_missing - water_in));
        reckon!(paper; surface_drying = smaller(1.0, larger(0.0, (total_evaporable - top_wetted) / (total_evaporable - readily_evaporable))));
        reckon!(paper; evaporation_coefficient = smaller(surface_drying * (larger(1.2, basal_coefficient + 0.05) - basal_coefficient), exposed_share * 1.2));
        reckon!(paper; stress_coefficient = smaller(1.0, larger(0.0, (total_available - missing_before) / ((1.0 - depletion_fraction) * total_available))));
        let Drawn { stress: stress_coefficient, from_below } =
            canopy.drawn.unwrap_or_else(|| self.drawn(profile, canopy, stress_coefficient));
        reckon!(paper; there: Length = total_available - missing_before + excess_before + water_in);
        reckon!(paper; evaporated: Length = smaller(smaller(evaporation_coefficient * reference, exposed_share * (total_evaporable - top_wetted)), there));
        reckon!(paper; transpired: Length = smaller(stress_coefficient * basal_coefficient * reference, there - evaporated));
        let (above, below) = if from_below > 0.0 {
            let wanted = stress_coefficient * basal_coefficient * reference;
            let below = smaller(from_below * wanted, profile.lower - self.lower_missing);
            (smaller(wanted - below, there - evaporated), below)
        } else {
            (transpired, 0.0)
        };
        let transpired = above + below;
        let left = excess_before + water_in - missing_before - evaporated - above;
        // What the plough layer has no room for goes at once; what stood above field capacity in the morning drains,
        // today's water from tomorrow on.
        let excess = left.max(0.0);
        let over = (excess - profile.most_excess).max(0.0);
        let mut drained = smaller(excess - over, excess_before) * profile.drains;
        self.snow = snow;
        self.warmth = Some(warmth);
        self.top_missing = (top_wetted + evaporated / exposed_share.max(0.01)).min(total_evaporable);
        self.root_missing = (0.0 - left).clamp(0.0, total_available);
        self.excess = excess - over - drained;
        let (through, overflow) = if profile.lets_through { (over, 0.0) } else { (0.0, over) };
        drained += through;
        if profile.lower > 0.0 {
            drained = self.below(profile, drained, below);
        }
        paper.gathered_bare::<Length>(
            "missing_after",
            "missing before, less what came in, and what was evaporated and transpired",
            self.root_missing,
        );
        Moved { runoff, overflow, drained, used: evaporated + transpired, transpired, stress: stress_coefficient }
    }

    /// The share of its demand that a canopy gets, and how much of that from the lower layer. Roots that fill the upper
    /// layer and no more get what the root zone has.
    #[inline]
    fn drawn(&self, profile: &Profile, canopy: &Canopy, of_root_zone: f64) -> Drawn {
        if canopy.roots == profile.upper_depth && canopy.drinks_top == 0.0 {
            return Drawn { stress: of_root_zone, from_below: 0.0 };
        }
        self.reached_by(profile, canopy)
    }

    /// What roots of any depth bring up of what they want, and which share of that from the lower layer.
    #[inline]
    pub fn reached_by(&self, profile: &Profile, canopy: &Canopy) -> Drawn {
        let keeps = 1.0 - canopy.depletion_fraction;
        // Shallow roots empty what they reach, and no more.
        let rooted = (canopy.roots / profile.upper_depth).clamp(0.05, 1.0);
        let upper = ((1.0 - self.root_missing / profile.upper.max(1e-9) - (1.0 - rooted)) / rooted).clamp(0.0, 1.0);
        let wetted = if upper > 0.0 { canopy.drinks_top * self.top_left(profile).clamp(0.0, 1.0) } else { 0.0 };
        let from_upper = larger((upper / keeps).min(1.0), wetted);
        let reach =
            ((canopy.roots - profile.upper_depth) / (profile.depth - profile.upper_depth).max(1e-9)).clamp(0.0, 1.0);
        if reach == 0.0 || profile.lower <= 0.0 {
            return Drawn { stress: from_upper, from_below: 0.0 };
        }
        let lower = ((1.0 - self.lower_missing / profile.lower - (1.0 - reach)) / reach).clamp(0.0, 1.0);
        let from_lower = (1.2 * reach).min(FROM_BELOW) * (lower / keeps).min(1.0);
        let both = from_upper + from_lower;
        Drawn { stress: both.min(1.0), from_below: if both > 0.0 { from_lower / both } else { 0.0 } }
    }

    /// The lower layer's day: it fills with what drained, gives what was drawn, and a little rises into a drier upper
    /// layer. Gives what went on below it.
    #[inline]
    fn below(&mut self, profile: &Profile, came: f64, drawn: f64) -> f64 {
        let missing = self.lower_missing + drawn - came;
        self.lower_missing = missing.clamp(0.0, profile.lower);
        let wetter = self.root_missing / profile.upper.max(1e-9) - self.lower_missing / profile.lower;
        let rising = (profile.rises * wetter).clamp(0.0, self.root_missing.min(profile.lower - self.lower_missing));
        self.root_missing -= rising;
        self.lower_missing += rising;
        (0.0 - missing).max(0.0)
    }

    /// One day on, nothing written down: for hot loops.
    pub fn day(&mut self, profile: &Profile, canopy: &Canopy, today: Today) -> Moved {
        self.step(&mut Blank, profile, canopy, today)
    }

    /// What the profile holds, snow with it, counted from wilting, m: that which is kept.
    pub fn held(&self, profile: &Profile) -> f64 {
        self.snow.water() + self.excess + profile.upper - self.root_missing + profile.lower - self.lower_missing
    }

    /// Whether a seedbed can be worked: nothing above field capacity, the surface dried off a
    /// little, no snow, not frozen, no heavy rain on the day.
    #[inline]
    pub fn workable(&self, profile: &Profile, today: Today) -> bool {
        self.excess < 0.001
            && self.top_missing > DRIED * profile.total_evaporable
            && self.snow.water() < 0.001
            && today.mean > 0.0
            && today.rain < 0.005
    }

    /// Whether it carries a light tractor: little above field capacity, or a frozen crust, which a
    /// morning of −4 °C makes (assumed); no snow to speak of.
    #[inline]
    pub fn trafficable(&self, today: Today) -> bool {
        self.snow.water() < COVERS && (self.excess < 0.004 || today.lowest < -4.0)
    }

    /// Share of its evaporable water that the top layer still holds.
    #[inline]
    pub fn top_left(&self, profile: &Profile) -> f64 {
        1.0 - self.top_missing / profile.total_evaporable
    }
}

impl Today {
    /// From a day of weather and its reference evapotranspiration in mm.
    #[inline]
    pub fn of(day: Day, reference_mm: f64) -> Self {
        Self {
            lowest: day.tmin,
            mean: day.mean(),
            rain: day.rain * 0.001,
            irrigation: 0.0,
            reference: reference_mm * 0.001,
        }
    }
}
