//! The soil at seed depth, from the air above it.
//!
//! Daily means go into the soil by the heat equation, solved on a column of eight layers a day at
//! a time; within the day the wave shrinks with depth as exp(−z/D), D the damping depth (the
//! analytic form in Campbell & Norman 1998, An Introduction to Environmental Biophysics, chapter
//! 8) and lags behind by z/D. A thermometer is read in the morning, at about eight by the sun (nine
//! on a summer-time clock): the surface passes its mean then, and what lies deeper is still on its
//! way up. Cover decides how much of the air's swing and of the sun reaches the surface, and snow
//! ([`crate::snow`]) keeps both off. Freezing and thawing go by heat content (the enthalpy method of Voller & Cross
//! 1981, International Journal of Heat and Mass Transfer 24:545–556, from memory): a layer stays at 0 °C until its
//! water has frozen, or thawed again, and lets no warmth past it while it does, so that the ground opens from the top.
//! A soil thermometer corrects the model for its place and day.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use facts::{texture::Texture, working::Blank};

use crate::{
    day::{Day, Years, days_between, plus},
    maths::{exp, sin, smaller, sqrt},
    snow::Snow,
    sun,
};

/// What lies on the soil.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum SoilCover {
    /// Worked and bare.
    #[default]
    Bare,
    /// Stubble or killed sod.
    Residue,
    /// A growing sward.
    Sward,
}

impl SoilCover {
    /// Share of the air's daily swing at the surface, and warming by the sun in °C per MJ/m²
    /// (assumed: bare soil in sun runs warmer than the air, residue and sward shade it).
    pub fn coefficients(self) -> (f64, f64) {
        match self {
            Self::Bare => (0.8, 0.08),
            Self::Residue => (0.5, 0.01),
            Self::Sward => (0.45, 0.02),
        }
    }
}

/// Thermal diffusivity, mm²/s, of a moist soil of a texture (assumed within the 0.2 to 0.8 that
/// textbooks give).
pub fn diffusivity(texture: Texture) -> f64 {
    match texture {
        Texture::Sand => 0.7,
        Texture::SandyLoam => 0.6,
        Texture::Loam | Texture::SiltLoam => 0.5,
        Texture::ClayLoam => 0.45,
        Texture::Clay => 0.4,
    }
}

/// Damping depth, m, √(κ·period/π), of a wave of so many days in a soil of so many mm²/s.
pub fn damping_depth(diffusivity: f64, period_days: f64) -> f64 {
    sqrt(0.02750197416627724 * diffusivity * period_days)
}

/// How far a depth (m) lies below its day's mean at eight by the sun, as a share of the surface's
/// half swing: exp(−z/D)·sin(z/D), from Campbell & Norman's T(z,t) = mean + A·exp(−z/D)·sin(ω(t − 8 h) − z/D).
pub fn morning_share(damping: f64, depth: f64) -> f64 {
    exp(0.0 - depth / damping) * sin(depth / damping)
}

const LAYERS: usize = 8;
/// Depths of the layers' middles, m; the surface itself is the air's.
const DEPTHS: [f64; LAYERS] = [0.02, 0.05, 0.10, 0.18, 0.32, 0.65, 1.4, 3.2];

/// Where layers meet, m.
const EDGES: [f64; LAYERS + 1] = [0.0, 0.035, 0.075, 0.14, 0.25, 0.485, 1.025, 2.3, 5.0];
/// Degrees that a layer's heat capacity of 2.5 MJ/(m³ K) would cool by with the heat that its water
/// gives off in freezing: a quarter of the soil, at 334 MJ/m³ (a moist soil; assumed).
const FREEZES: f64 = 0.25 * 334.0 / 2.5;

/// A column of soil, stepped day by day.
#[derive(Debug, Clone)]
pub struct Column {
    temperatures: [f64; LAYERS],
    // How much of each layer's water has frozen, in the degrees of FREEZES.
    frozen: [f64; LAYERS],
    any_frozen: bool,
    surface: f64,
    above: [f64; LAYERS],
    below: [f64; LAYERS],
    factor: [f64; LAYERS],
    inverse: [f64; LAYERS],
}

/// What a layer does while it is solved for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Phase {
    Open,
    Turning,
    Frozen,
}

impl Column {
    /// A column of one diffusivity (mm²/s), all at one temperature.
    // Layers are told by their number: each reaches for its neighbours.
    #[allow(clippy::needless_range_loop)]
    pub fn new(diffusivity: f64, temperature: f64) -> Self {
        let reach = diffusivity * 1e-6 * 86_400.0;
        let mut above = [0.0; LAYERS];
        let mut below = [0.0; LAYERS];
        for layer in 0..LAYERS {
            let thick = EDGES[layer + 1] - EDGES[layer];
            let gap = if layer == 0 { DEPTHS[0] } else { DEPTHS[layer] - DEPTHS[layer - 1] };
            above[layer] = reach / (gap * thick);
            // No heat through the bottom.
            below[layer] =
                if layer + 1 == LAYERS { 0.0 } else { reach / ((DEPTHS[layer + 1] - DEPTHS[layer]) * thick) };
        }
        // The same three diagonals every day: eliminated once.
        let mut inverse = [0.0; LAYERS];
        let mut factor = [0.0; LAYERS];
        for layer in 0..LAYERS {
            let mut diagonal = 1.0 + above[layer] + below[layer];
            if layer > 0 {
                factor[layer] = above[layer] * inverse[layer - 1];
                diagonal -= factor[layer] * below[layer - 1];
            }
            inverse[layer] = 1.0 / diagonal;
        }
        let all = if temperature < 0.0 { FREEZES } else { 0.0 };
        Self {
            temperatures: [temperature; LAYERS],
            frozen: [all; LAYERS],
            any_frozen: all > 0.0,
            surface: temperature,
            above,
            below,
            factor,
            inverse,
        }
    }

    /// The uppermost layer, °C.
    #[inline]
    pub fn top(&self) -> f64 {
        self.temperatures[0]
    }

    /// One day under a surface of a mean temperature.
    #[inline]
    pub fn step(&mut self, surface: f64) {
        self.surface = surface;
        if !self.any_frozen {
            let mut right = self.temperatures;
            right[0] += self.above[0] * surface;
            for layer in 1..LAYERS {
                right[layer] += self.factor[layer] * right[layer - 1];
            }
            let mut warmer = 0.0;
            let mut coldest = f64::INFINITY;
            for layer in (0..LAYERS).rev() {
                warmer = (right[layer] + self.below[layer] * warmer) * self.inverse[layer];
                coldest = smaller(coldest, warmer);
                right[layer] = warmer;
            }
            if coldest >= 0.0 {
                self.temperatures = right;
                return;
            }
        }
        self.step_with_ice(surface);
    }

    /// The same where water freezes or ice thaws: heat content before and after, each layer open, frozen, or turning
    /// at 0 °C. Which is which is tried until it holds.
    // Layers are told by their number: each reaches for its neighbours.
    #[allow(clippy::needless_range_loop)]
    #[cold]
    fn step_with_ice(&mut self, surface: f64) {
        // Degrees above frozen through at 0 °C.
        let heat: [f64; LAYERS] = std::array::from_fn(|layer| self.temperatures[layer] + FREEZES - self.frozen[layer]);
        let mut phases: [Phase; LAYERS] = std::array::from_fn(|layer| match self.frozen[layer] {
            frozen if frozen <= 0.0 => Phase::Open,
            frozen if frozen < FREEZES => Phase::Turning,
            _ => Phase::Frozen,
        });
        let mut after = heat;
        for _ in 0..4 * LAYERS {
            let warm = self.solved(surface, &heat, &phases);
            for layer in 0..LAYERS {
                let over = if layer == 0 { surface } else { warm[layer - 1] };
                let under = if layer + 1 == LAYERS { 0.0 } else { warm[layer + 1] };
                after[layer] =
                    heat[layer] + self.above[layer] * (over - warm[layer]) - self.below[layer] * (warm[layer] - under);
            }
            let mut held = true;
            for layer in 0..LAYERS {
                let next = match phases[layer] {
                    Phase::Open if warm[layer] < 0.0 => Phase::Turning,
                    Phase::Frozen if warm[layer] > 0.0 => Phase::Turning,
                    Phase::Turning if after[layer] < 0.0 => Phase::Frozen,
                    Phase::Turning if after[layer] > FREEZES => Phase::Open,
                    same => same,
                };
                held &= next == phases[layer];
                phases[layer] = next;
            }
            if held {
                break;
            }
        }
        // By heat content, whatever was tried: none is lost.
        self.any_frozen = false;
        for layer in 0..LAYERS {
            let left = (FREEZES - after[layer]).clamp(0.0, FREEZES);
            self.frozen[layer] = left;
            self.temperatures[layer] = after[layer] - after[layer].clamp(0.0, FREEZES);
            self.any_frozen |= left > 0.0;
        }
    }

    /// Temperatures of the layers, each of its phase.
    // Layers are told by their number: each reaches for its neighbours.
    #[allow(clippy::needless_range_loop)]
    fn solved(&self, surface: f64, heat: &[f64; LAYERS], phases: &[Phase; LAYERS]) -> [f64; LAYERS] {
        let (mut right, mut inverse, mut below) = ([0.0; LAYERS], [1.0; LAYERS], [0.0; LAYERS]);
        for layer in 0..LAYERS {
            let own = match phases[layer] {
                Phase::Turning => continue,
                Phase::Open => heat[layer] - FREEZES,
                Phase::Frozen => heat[layer],
            };
            let mut diagonal = 1.0 + self.above[layer] + self.below[layer];
            right[layer] = own;
            below[layer] = self.below[layer];
            if layer == 0 {
                right[layer] += self.above[layer] * surface;
            } else {
                let factor = self.above[layer] * inverse[layer - 1];
                diagonal -= factor * below[layer - 1];
                right[layer] += factor * right[layer - 1];
            }
            inverse[layer] = 1.0 / diagonal;
        }
        let mut warm = [0.0; LAYERS];
        let mut under = 0.0;
        for layer in (0..LAYERS).rev() {
            under = (right[layer] + below[layer] * under) * inverse[layer];
            warm[layer] = under;
        }
        warm
    }

    /// How much of the soil is frozen, as a depth in m.
    pub fn frozen(&self) -> f64 {
        let shares = self.frozen.iter().map(|frozen| frozen / FREEZES);
        shares.zip(EDGES.windows(2)).map(|(share, edges)| share * (edges[1] - edges[0])).sum()
    }

    /// The day's mean at a depth in metres, between layers by straight line.
    #[inline]
    pub fn at(&self, depth: f64) -> f64 {
        let (mut upper, mut warm) = (0.0, self.surface);
        for (middle, temperature) in DEPTHS.into_iter().zip(self.temperatures) {
            if depth <= middle {
                return warm + (temperature - warm) * (depth - upper) / (middle - upper);
            }
            (upper, warm) = (middle, temperature);
        }
        warm
    }
}

/// How the soil follows the air at one place.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Ground {
    /// Diffusivity, mm²/s.
    pub diffusivity: f64,
    /// Share of the air's swing at the surface.
    pub swing: f64,
    /// Warming by the sun, °C per MJ/m².
    pub sunny: f64,
}

impl Ground {
    /// Of a texture under a cover.
    pub fn new(texture: Texture, cover: SoilCover) -> Self {
        let (swing, sunny) = cover.coefficients();
        Self { diffusivity: diffusivity(texture), swing, sunny }
    }

    /// What it conducts, W/(m K): a moist soil holds 2.5 MJ/(m³ K) (assumed, within the 2 to 3 of
    /// Campbell & Norman 1998).
    pub fn conducts(self) -> f64 {
        2.5 * self.diffusivity
    }

    /// A day on under its weather, and the snow of the evening before. Gives the surface's half
    /// swing, °C: by [`morning_share`] of it the morning lies below the day's mean.
    #[inline]
    pub fn step(self, column: &mut Column, snow: Snow, day: Day, solar: f64) -> f64 {
        let air = day.mean() + self.sunny * solar;
        let (surface, felt) = snow.above_soil(&mut Blank, air, column.top(), self.conducts());
        column.step(surface);
        felt * self.swing * (day.tmax - day.tmin) / 2.0
    }
}

/// Days after which a reading's correction has faded to a third.
const FADES_IN: f64 = 15.0;

/// By how much readings correct the model, day by day.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Correction(Vec<(Date, f64)>);

impl Correction {
    /// From differences (measured less modelled, °C) on their days; several of one day are averaged.
    pub fn new(mut differences: Vec<(Date, f64)>) -> Self {
        differences.sort_by_key(|(on, _)| *on);
        let mut days: Vec<(Date, f64, f64)> = vec![];
        for (on, difference) in differences {
            match days.last_mut() {
                Some((day, sum, count)) if *day == on => {
                    *sum += difference;
                    *count += 1.0;
                }
                _ => days.push((on, difference, 1.0)),
            }
        }
        Self(days.into_iter().map(|(on, sum, count)| (on, sum / count)).collect())
    }

    /// None.
    pub fn is_empty(&self) -> bool {
        self.0.is_empty()
    }

    /// What to add on a day, °C: on a reading's day all of the difference, between two readings by
    /// straight line, after the last one less and less, before the first nothing.
    pub fn on(&self, day: Date) -> f64 {
        let after = self.0.partition_point(|(on, _)| *on <= day);
        let Some(&(before, difference)) = after.checked_sub(1).and_then(|index| self.0.get(index)) else { return 0.0 };
        let since = f64::from(days_between(before, day));
        match self.0.get(after) {
            Some(&(next, other)) => difference + (other - difference) * since / f64::from(days_between(before, next)),
            None => difference * exp(0.0 - since / FADES_IN),
        }
    }
}

/// The soil at a depth on a day, as the model has it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SoilDay {
    /// The day's mean, °C.
    pub mean: f64,
    /// In the morning, °C.
    pub morning: f64,
    /// Snow of the evening before.
    pub snow: Snow,
    /// The soil's top of the day before, °C.
    pub top: f64,
}

/// The soil at a depth (m) over a record, without corrections. After a gap the column goes on from
/// where it stood.
pub fn follow(years: &Years, ground: Ground, depth: f64) -> Vec<Option<SoilDay>> {
    let told: Vec<f64> = years.days.iter().filter(|day| day.tells()).take(366).map(|day| day.mean()).collect();
    if told.is_empty() {
        return vec![None; years.days.len()];
    }
    let mut column = Column::new(ground.diffusivity, told.iter().sum::<f64>() / told.len() as f64);
    let mut snow = Snow::default();
    let share = morning_share(damping_depth(ground.diffusivity, 1.0), depth);
    let mut date = years.first;
    years
        .days
        .iter()
        .map(|&day| {
            let sky = sun::sky_on(years.place.latitude, date);
            date = plus(date, 1);
            if !day.tells() {
                return None;
            }
            let solar = solar_of(day, sky.extraterrestrial, years.place.elevation);
            let (evening, top) = (snow, column.top());
            let half_swing = ground.step(&mut column, evening, day, solar);
            snow.step(day.rain * 0.001, day.mean());
            let mean = column.at(depth);
            Some(SoilDay { mean, morning: mean - half_swing * share, snow: evening, top })
        })
        .collect()
}

/// A day's radiation, measured or by the range of temperature.
pub fn solar_of(day: Day, extraterrestrial: f64, elevation: f64) -> f64 {
    if day.radiation.is_nan() {
        sun::from_temperature_range(extraterrestrial, elevation, day.tmin, day.tmax)
    } else {
        day.radiation
    }
}
