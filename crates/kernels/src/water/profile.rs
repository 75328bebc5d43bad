//! What water is held by, and what draws on it.

use facts::{
    crop::{Crop, Drainage},
    texture::Texture,
    units::{Length, Measure, Temperature},
};

/// How deep a seedbed is loosened and drawn on, m (assumed).
pub const SEEDBED_ROOTS: f64 = 0.6;

/// Depth of the layer that evaporation dries, m (FAO-56: 0.10 to 0.15).
const TOP: f64 = 0.10;
/// Depth in which water above field capacity stands in the way of machines, m.
const PLOUGH: f64 = 0.25;

/// A soil profile as a store of water: what does not change, whatever grows on it.
///
/// An upper and a lower layer, under a surface that the sun dries. A root zone of one depth is FAO-56's own: its upper
/// layer is that deep, and nothing lies below. Where roots come and go the layers stay as they are: what is below them
/// is kept, and they find it when they get there.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Profile {
    /// Total available water of the upper layer, m.
    pub upper: f64,
    /// Its depth, m.
    pub upper_depth: f64,
    /// Total available water of the lower layer, m; none where what drains from the upper is gone.
    pub lower: f64,
    /// Depth to its bottom, m.
    pub depth: f64,
    /// Most that rises in a day from a full lower layer into an empty upper one, m.
    pub rises: f64,
    /// Most that evaporation takes from the top, m.
    pub total_evaporable: f64,
    /// Taken at full speed, m.
    pub readily_evaporable: f64,
    /// Share of excess that drains in a day.
    pub drains: f64,
    /// Most excess the plough layer holds, m.
    pub most_excess: f64,
    /// Whether what it has no room for goes on down; else it runs off.
    pub lets_through: bool,
    /// Storage of the curve number, m.
    pub storage: f64,
}

impl Profile {
    /// One layer of a depth in m, of which what drains is gone: FAO-56's root zone.
    pub fn root_zone(soil: Holds, drainage: Drainage, depth: f64) -> Self {
        let total_evaporable = (soil.field_capacity - 0.5 * soil.wilting_point) * TOP;
        Self {
            upper: (soil.field_capacity - soil.wilting_point) * depth,
            upper_depth: depth,
            lower: 0.0,
            depth,
            rises: 0.0,
            total_evaporable,
            readily_evaporable: soil.readily_evaporable.min(total_evaporable * 0.95),
            drains: drains(drainage),
            // Pores above field capacity, about a tenth of the soil (assumed).
            most_excess: 0.10 * PLOUGH,
            lets_through: lets_through(drainage),
            storage: 25.4 / soil.curve_number - 0.254,
        }
    }

    /// The same with a lower layer down to a depth in m, from which a little rises into a drier upper one.
    #[must_use]
    pub fn down_to(self, depth: f64) -> Self {
        let below = (depth - self.upper_depth).max(0.0);
        Self { lower: self.upper / self.upper_depth * below, depth: self.upper_depth + below, rises: RISES, ..self }
    }

    /// What is missing from the top where so much is missing from the upper layer, m, when nobody has looked: the same
    /// share (assumed).
    pub fn top_like(&self, upper_missing: f64) -> f64 {
        self.total_evaporable * (upper_missing / self.upper.max(1e-9)).clamp(0.0, 1.0)
    }
}

/// What lies on a profile and draws on it, on one day.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Canopy {
    /// Basal crop coefficient, awake.
    pub basal: f64,
    /// Mean temperature below which what grows here rests, °C; a bare bed does not, nor does a canopy whose coefficient
    /// is told day by day.
    pub rests_below: Option<f64>,
    /// Share of the soil that is open to the sun and wet.
    pub exposed: f64,
    /// Share of the available water that is used before the crop suffers.
    pub depletion_fraction: f64,
    /// How deep it draws, m.
    pub roots: f64,
    /// How far it does without the root zone when the top is wet: its roots drink what a shower left.
    pub drinks_top: f64,
    /// What it gets, where that is known: of several crops together. By its own roots when absent.
    pub drawn: Option<Drawn>,
}

/// What roots bring up.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Drawn {
    /// Share of what it wants: the stress coefficient.
    pub stress: f64,
    /// Of that, from the lower layer.
    pub from_below: f64,
}

/// Basal coefficient of a cover that rests (FAO-56 table 17: the least of a dry bare soil to that of dead cover).
const RESTING: f64 = 0.15;
/// Warmth above its base at which a cover is fully awake, °C (assumed).
const AWAKE: f64 = 4.0;
/// Most that rises in a day out of a full lower layer into an empty upper one, m (assumed).
const RISES: f64 = 0.0015;

impl Canopy {
    /// A seedbed: bare but for seedlings, drawing down to a depth in m.
    pub fn seedbed(roots: f64) -> Self {
        Self {
            basal: 0.15,
            rests_below: None,
            exposed: 1.0,
            depletion_fraction: 0.5,
            roots,
            drinks_top: 0.0,
            drawn: None,
        }
    }

    /// An established stand of a crop, averaged over its cuts; it rests while it is colder than its base.
    pub fn stand(crop: &Crop) -> Self {
        let climate = &crop.climate;
        Self {
            basal: climate.crop_coefficient.value - 0.05,
            rests_below: Some(climate.base.measure::<Temperature>().base()),
            exposed: 0.15,
            depletion_fraction: climate.depletion.value,
            roots: climate.root_depth.measure::<Length>().base(),
            drinks_top: 0.0,
            drawn: None,
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
}

/// A profile under one canopy that stays as it is.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Bed {
    /// The soil.
    pub profile: Profile,
    /// What draws on it.
    pub canopy: Canopy,
}

impl Bed {
    /// A seedbed: bare but for seedlings.
    pub fn seedbed(texture: Texture, drainage: Drainage) -> Self {
        Self::bare(holds(texture), drainage, SEEDBED_ROOTS)
    }

    /// An established stand of a crop.
    pub fn stand(crop: &Crop, texture: Texture, drainage: Drainage) -> Self {
        Self::stand_on(crop, holds(texture), drainage)
    }

    /// The same on a soil whose own figures are known.
    pub fn stand_on(crop: &Crop, soil: Holds, drainage: Drainage) -> Self {
        let canopy = Canopy::stand(crop);
        Self { profile: Profile::root_zone(soil, drainage, canopy.roots), canopy }
    }

    /// A bare bed in a soil, for roots down to a depth in m.
    pub fn bare(soil: Holds, drainage: Drainage, roots: f64) -> Self {
        Self { profile: Profile::root_zone(soil, drainage, roots), canopy: Canopy::seedbed(roots) }
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
