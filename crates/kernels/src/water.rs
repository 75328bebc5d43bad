//! Water in the soil: what falls, what runs off, what the crop and the sun take, what is left.
//!
//! The daily balance of FAO-56 (Allen et al. 1998) with the dual crop coefficient: a top layer that
//! evaporation dries (equations 71–79), a root zone that the crop draws on (equations 82–88). Rain and irrigation
//! come early in the day, as in the paper's example 35: first the top layer is wetted, then the day dries it.
//! Around it: runoff by curve number (USDA NRCS National Engineering Handbook, part 630, chapter
//! 10), snow ([`crate::snow`]), and water above field capacity that drains over days
//! as the drainage class has it, where FAO-56 lets it go at once: it is what keeps tractors out.
//! All depths in metres of water inside, so that one code serves sheet and hot loop.

use facts::{
    crop::{Crop, Drainage},
    reckon,
    texture::Texture,
    units::{Length, Measure, Temperature},
    working::{Blank, Paper},
};

use crate::{
    day::Day,
    maths::{larger, smaller},
    snow::{COVERS, Snow},
};

/// How deep a seedbed is loosened and drawn on, m (assumed).
pub const SEEDBED_ROOTS: f64 = 0.6;

/// Depth of the layer that evaporation dries, m (FAO-56: 0.10 to 0.15).
const TOP: f64 = 0.10;
/// Depth in which water above field capacity stands in the way of machines, m.
const PLOUGH: f64 = 0.25;

/// A place's water: soil and what grows on it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Bed {
    /// Total available water in the root zone, m.
    pub total_available: f64,
    /// Share of it that is used before the crop suffers.
    pub depletion_fraction: f64,
    /// Most that evaporation takes from the top layer, m.
    pub total_evaporable: f64,
    /// Taken at full speed, m.
    pub readily_evaporable: f64,
    /// Share of the soil that is open to the sun and wet.
    pub exposed: f64,
    /// Basal crop coefficient.
    pub basal: f64,
    /// Mean temperature below which what grows here rests, °C; a bare bed does not.
    pub rests_below: Option<f64>,
    /// Share of excess that drains in a day.
    pub drains: f64,
    /// Most excess the plough layer holds, m.
    pub most_excess: f64,
    /// Whether what it has no room for goes on down; else it runs off.
    pub lets_through: bool,
    /// Storage of the curve number, m.
    pub storage: f64,
}

/// Share of what the top layer can lose that it has lost when it can be worked (assumed).
const DRIED: f64 = 0.12;
/// Basal coefficient of a cover that rests (FAO-56 table 17: the least of a dry bare soil to that of dead cover).
const RESTING: f64 = 0.15;
/// Warmth above its base at which a cover is fully awake, °C (assumed).
const AWAKE: f64 = 4.0;
/// Days that a cover's waking and resting looks back over (assumed).
const LOOKS_BACK: f64 = 10.0;

impl Bed {
    /// A seedbed: bare but for seedlings.
    pub fn seedbed(texture: Texture, drainage: Drainage) -> Self {
        Self::of(holds(texture), drainage, SEEDBED_ROOTS)
    }

    /// An established stand of a crop, averaged over its cuts; it rests while it is colder than its base.
    pub fn stand(crop: &Crop, texture: Texture, drainage: Drainage) -> Self {
        Self::stand_on(crop, holds(texture), drainage)
    }

    /// The same on a soil whose own figures are known.
    pub fn stand_on(crop: &Crop, soil: Holds, drainage: Drainage) -> Self {
        let climate = &crop.climate;
        Self {
            depletion_fraction: climate.depletion.value,
            basal: climate.crop_coefficient.value - 0.05,
            rests_below: Some(climate.base.measure::<Temperature>().base()),
            exposed: 0.15,
            ..Self::of(soil, drainage, climate.root_depth.measure::<Length>().base())
        }
    }

    /// A bare bed in a soil, for roots down to a depth in m.
    pub fn of(soil: Holds, drainage: Drainage, roots: f64) -> Self {
        Self {
            total_available: (soil.field_capacity - soil.wilting_point) * roots,
            depletion_fraction: 0.5,
            total_evaporable: (soil.field_capacity - 0.5 * soil.wilting_point) * TOP,
            readily_evaporable: soil
                .readily_evaporable
                .min((soil.field_capacity - 0.5 * soil.wilting_point) * TOP * 0.95),
            exposed: 1.0,
            basal: 0.15,
            rests_below: None,
            drains: drains(drainage),
            // Pores above field capacity, about a tenth of the soil (assumed).
            most_excess: 0.10 * PLOUGH,
            lets_through: lets_through(drainage),
            storage: 25.4 / soil.curve_number - 0.254,
        }
    }

    /// The basal coefficient after days of a mean temperature, °C: that of a resting cover below its base, its own
    /// when it is awake, between the two by straight line.
    #[inline]
    pub fn basal_at(&self, warmth: f64) -> f64 {
        match self.rests_below {
            Some(base) => RESTING + (self.basal - RESTING).max(0.0) * ((warmth - base) / AWAKE).clamp(0.0, 1.0),
            None => self.basal,
        }
    }

    /// What is missing from the top layer where so much is missing from the root zone, m, when nobody has looked:
    /// the same share (assumed).
    pub fn top_like(&self, root_missing: f64) -> f64 {
        self.total_evaporable * (root_missing / self.total_available.max(1e-9)).clamp(0.0, 1.0)
    }
}

/// Water at the end of a day, all in m.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Water {
    /// Snow on it.
    pub snow: Snow,
    /// Missing from the top layer.
    pub top_missing: f64,
    /// Missing from the root zone.
    pub root_missing: f64,
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
    /// Went below the roots.
    pub drained: f64,
    /// Evaporated and transpired.
    pub used: f64,
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

    /// One day on.
    #[inline]
    pub fn step(&mut self, paper: &mut impl Paper, bed: &Bed, today: Today) -> Moved {
        let Today { mean, rain, irrigation, reference, .. } = today;
        let mut snow = self.snow;
        let liquid = snow.step(rain, mean);
        let runoff = if liquid > 0.2 * bed.storage {
            (liquid - 0.2 * bed.storage) * (liquid - 0.2 * bed.storage) / (liquid + 0.8 * bed.storage)
        } else {
            0.0
        };
        let water_in = liquid + irrigation - runoff;
        paper.gathered_bare::<Length>("water_in", "rain, melted snow and irrigation, less what ran off", water_in);
        let warmth = self.warmth_after(mean);
        let basal_coefficient = bed.basal_at(warmth);
        let (total_evaporable, readily_evaporable) = (bed.total_evaporable, bed.readily_evaporable);
        let (total_available, depletion_fraction) = (bed.total_available, bed.depletion_fraction);
        let exposed_share = bed.exposed;
        let (top_missing, missing_before, excess_before) = (self.top_missing, self.root_missing, self.excess);
        reckon!(paper; top_wetted: Length = larger(0.0, top_missing - water_in));
        reckon!(paper; surface_drying = smaller(1.0, larger(0.0, (total_evaporable - top_wetted) / (total_evaporable - readily_evaporable))));
        reckon!(paper; evaporation_coefficient = smaller(surface_drying * (larger(1.2, basal_coefficient + 0.05) - basal_coefficient), exposed_share * 1.2));
        reckon!(paper; stress_coefficient = smaller(1.0, larger(0.0, (total_available - missing_before) / ((1.0 - depletion_fraction) * total_available))));
        reckon!(paper; there: Length = total_available - missing_before + excess_before + water_in);
        reckon!(paper; evaporated: Length = smaller(smaller(evaporation_coefficient * reference, exposed_share * (total_evaporable - top_wetted)), there));
        reckon!(paper; transpired: Length = smaller(stress_coefficient * basal_coefficient * reference, there - evaporated));
        let left = excess_before + water_in - missing_before - evaporated - transpired;
        // What the plough layer has no room for goes at once; what stood above field capacity in the morning drains,
        // today's water from tomorrow on.
        let excess = left.max(0.0);
        let over = (excess - bed.most_excess).max(0.0);
        let drained = smaller(excess - over, excess_before) * bed.drains;
        self.snow = snow;
        self.warmth = Some(warmth);
        self.top_missing = (top_wetted + evaporated / exposed_share.max(0.01)).min(total_evaporable);
        self.root_missing = (0.0 - left).clamp(0.0, total_available);
        self.excess = excess - over - drained;
        paper.gathered_bare::<Length>(
            "missing_after",
            "missing before, less what came in, and what was evaporated and transpired",
            self.root_missing,
        );
        let (through, overflow) = if bed.lets_through { (over, 0.0) } else { (0.0, over) };
        Moved {
            runoff,
            overflow,
            drained: drained + through,
            used: evaporated + transpired,
            stress: stress_coefficient,
        }
    }

    /// One day on, nothing written down: for hot loops.
    pub fn day(&mut self, bed: &Bed, today: Today) -> Moved {
        self.step(&mut Blank, bed, today)
    }

    /// Whether a seedbed can be worked: nothing above field capacity, the surface dried off a
    /// little, no snow, not frozen, no heavy rain on the day.
    #[inline]
    pub fn workable(&self, bed: &Bed, today: Today) -> bool {
        self.excess < 0.001
            && self.top_missing > DRIED * bed.total_evaporable
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
    pub fn top_left(&self, bed: &Bed) -> f64 {
        1.0 - self.top_missing / bed.total_evaporable
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

/// How a soil holds water.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Holds {
    /// Water at field capacity, m³/m³.
    pub field_capacity: f64,
    /// At the wilting point.
    pub wilting_point: f64,
    /// Evaporated at full speed before the surface dries, m.
    pub readily_evaporable: f64,
    /// Runoff curve number of a sown or bare field in fair order.
    pub curve_number: f64,
}

/// Of a texture: middles of the ranges in FAO-56 table 19; curve numbers for small grain in rows,
/// fair, hydrologic groups A to D (NEH 630, from memory).
pub fn holds(texture: Texture) -> Holds {
    let of = |field_capacity, wilting_point, readily_evaporable, curve_number| Holds {
        field_capacity,
        wilting_point,
        readily_evaporable,
        curve_number,
    };
    match texture {
        Texture::Sand => of(0.12, 0.045, 0.0045, 64.0),
        Texture::SandyLoam => of(0.23, 0.11, 0.008, 70.0),
        Texture::Loam => of(0.25, 0.12, 0.009, 76.0),
        Texture::SiltLoam => of(0.29, 0.15, 0.0095, 78.0),
        Texture::ClayLoam => of(0.33, 0.19, 0.0095, 83.0),
        Texture::Clay => of(0.36, 0.22, 0.01, 86.0),
    }
}

/// Share of the water above field capacity that leaves in a day (assumed by the class's words:
/// a day or two, some days, weeks).
pub fn drains(drainage: Drainage) -> f64 {
    match drainage {
        Drainage::Well => 0.65,
        Drainage::Moderate => 0.40,
        Drainage::SomewhatPoor => 0.20,
        Drainage::Poor => 0.08,
    }
}

/// Whether what a soil has no room for goes on down through it. Where something below holds water up, it stands and
/// leaves over the surface.
pub fn lets_through(drainage: Drainage) -> bool {
    matches!(drainage, Drainage::Well | Drainage::Moderate)
}
