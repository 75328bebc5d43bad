//! Weather that could be: a seeded stochastic generator for any place.
//!
//! Wet and dry days follow a two-state Markov chain; temperatures and radiation are correlated
//! first-order residuals around means that depend on whether the day is wet (Richardson 1981, Water
//! Resources Research 17:182–190, with the lag matrices of Richardson & Wright 1984, WGEN, USDA
//! ARS-8); rain on a wet day is gamma. Chain and gamma come from monthly wet days and rain alone by
//! the regressions of Geng, Penning de Vries & Supit 1986 (Agricultural and Forest Meteorology
//! 36:363–376). Monthly means are returned to exactly but for chance, and so is the spread from day to day: what wet
//! and dry days differ by is part of it. A day's range is lognormal, so that the lowest stays below the highest
//! without a floor that days heap up at. The dew point of a dry day follows the lowest temperature and how dry the
//! place is (Kimball, Running & Nemani 1997, Agricultural and Forest Meteorology 85:87–98, from memory).
//!
//! Every day draws its own independent standard normals from seed and date. So any day can be asked
//! for again, and a forecast can be made that is honest by construction: it sees each draw through
//! noise that grows with lead time, and its members are draws from what the draw may then still be.
//! A month or a season has no memory here: real years hang together more than these.

use jiff::civil::Date;
use rand::SeedableRng;
use rand_chacha::ChaCha8Rng;
use rand_distr::{Distribution, StandardNormal};
use statrs::{
    distribution::{ContinuousCDF, Gamma},
    function::erf::erf,
};

use crate::{
    day::{Basis, Day, Place, Years, days_between, plus},
    et0,
    normals::Normals,
    sun,
};

/// Less is no rain, mm.
pub const WET: f64 = 0.25;
/// Richardson & Wright 1984: lag-one matrix of highest and lowest temperature and radiation.
const LAG: [[f64; 3]; 3] = [[0.567, 0.086, -0.002], [0.253, 0.504, -0.050], [-0.006, -0.039, 0.244]];
/// Richardson & Wright 1984: how the day's draws mix in.
const MIX: [[f64; 3]; 3] = [[0.781, 0.0, 0.0], [0.328, 0.637, 0.0], [0.238, -0.341, 0.873]];

/// Days into the year at mid-month, of 365.
const MID_MONTH: [f64; 12] = [15.5, 45.0, 74.5, 105.0, 135.5, 166.0, 196.5, 227.5, 258.0, 288.5, 319.0, 349.5];
const MONTH_ENDS: [usize; 12] = [31, 59, 90, 120, 151, 181, 212, 243, 273, 304, 334, 365];

/// A curve through the year whose monthly means are those given.
fn through_the_year(monthly: &[f64; 12]) -> Vec<f64> {
    let curve = |nodes: &[f64; 12]| -> Vec<f64> {
        (0..365)
            .map(|day| {
                let at = day as f64 + 0.5;
                let next = MID_MONTH.iter().position(|middle| at < *middle).unwrap_or(12);
                let (before, after) = ((next + 11) % 12, next % 12);
                let from = if next == 0 { MID_MONTH[11] - 365.0 } else { MID_MONTH[before] };
                let to = if next == 12 { MID_MONTH[0] + 365.0 } else { MID_MONTH[after] };
                nodes[before] + (nodes[after] - nodes[before]) * (at - from) / (to - from)
            })
            .collect()
    };
    let mut nodes = *monthly;
    for _ in 0..30 {
        let days = curve(&nodes);
        let mut start = 0;
        for (month, end) in MONTH_ENDS.into_iter().enumerate() {
            let mean = days[start..end].iter().sum::<f64>() / (end - start) as f64;
            nodes[month] += monthly[month] - mean;
            start = end;
        }
    }
    curve(&nodes)
}

/// Gamma amounts as a function of a standard normal draw, tabled.
#[derive(Debug, Clone)]
struct Amounts(Vec<f64>);

impl Amounts {
    const REACH: f64 = 4.0;
    const STEPS: usize = 64;

    /// Of a mean, mm, above the wet-day threshold.
    fn new(mean: f64) -> Self {
        // Geng et al. 1986: scale = −2.16 + 1.83 mean; kept where the shape stays below one.
        let scale = (1.83 * mean - 2.16).max(1.02 * mean);
        let law = Gamma::new(mean / scale, 1.0 / scale);
        let node = |step: usize| {
            let draw = -Self::REACH + 2.0 * Self::REACH * step as f64 / Self::STEPS as f64;
            law.as_ref().map_or(mean, |law| law.inverse_cdf(normal_share(draw)))
        };
        Self((0..=Self::STEPS).map(node).collect())
    }

    fn at(&self, draw: f64) -> f64 {
        let at = (draw.clamp(-Self::REACH, Self::REACH) + Self::REACH) / (2.0 * Self::REACH) * Self::STEPS as f64;
        let below = (at.floor() as usize).min(Self::STEPS - 1);
        self.0[below] + (self.0[below + 1] - self.0[below]) * (at - below as f64)
    }
}

/// Share of a standard normal below a draw.
fn normal_share(draw: f64) -> f64 {
    0.5 * (1.0 + erf(draw / std::f64::consts::SQRT_2))
}

/// A place's climate, ready to be drawn from.
#[derive(Debug, Clone)]
pub struct Climate {
    place: Place,
    tmin: Vec<f64>,
    tmax: Vec<f64>,
    spread: Vec<f64>,
    wet: Vec<f64>,
    wind: Vec<f64>,
    amounts: Vec<Amounts>,
    /// What brings each residual to a deviation of one.
    scale: [f64; 3],
    /// Correlation of the first two.
    alike: f64,
    /// Rain of a year, mm.
    rain: f64,
}

/// The standing covariance of the residuals under [`LAG`] and [`MIX`]: it is near one, and not one.
fn standing() -> [[f64; 3]; 3] {
    let mut held = [[0.0; 3]; 3];
    for _ in 0..200 {
        let before = held;
        for (row, line) in held.iter_mut().enumerate() {
            for (column, cell) in line.iter_mut().enumerate() {
                let lagged: f64 = (0..3)
                    .flat_map(|i| (0..3).map(move |j| (i, j)))
                    .map(|(i, j)| LAG[row][i] * before[i][j] * LAG[column][j])
                    .sum();
                let mixed: f64 = (0..3).map(|i| MIX[row][i] * MIX[column][i]).sum();
                *cell = lagged + mixed;
            }
        }
    }
    held
}

/// A positive amount of a mean and a deviation at a standard normal draw: lognormal, hardly wider than its mean.
fn lognormal(mean: f64, deviation: f64, draw: f64) -> f64 {
    let ratio = (deviation / mean).min(0.9);
    let wide = (1.0 + ratio * ratio).ln();
    mean * (wide.sqrt() * draw - wide / 2.0).exp()
}

/// Dew point of a dry day, °C, by Kimball et al. 1997: its lowest and highest temperature, what the air could take up
/// (FAO-56 equation 52, from the range of temperature) and the rain of a year, mm.
fn dew_of_dry_air(lowest: f64, highest: f64, extraterrestrial: f64, rain: f64) -> f64 {
    let warmth = (lowest + highest) / 2.0 + 17.8;
    let takes_up = (0.0023 * 0.408 * extraterrestrial * warmth * (highest - lowest).max(0.0).sqrt()).max(0.0);
    // The polynomial holds to about here.
    let dry = (takes_up / rain.max(20.0)).min(0.12);
    let share = -0.127
        + 1.121 * (1.003 - 1.444 * dry + 12.312 * dry * dry - 32.766 * dry * dry * dry)
        + 0.0006 * (highest - lowest);
    // No closer than a humid place's two degrees.
    ((lowest + 273.15) * share - 273.15).min(lowest - 2.0)
}

/// The independent standard normals behind one day.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Draws([f64; 6]);

impl Draws {
    /// The first of them, for whoever needs one standard normal.
    pub fn first(self) -> f64 {
        self.0[0]
    }
}

/// What the weather remembers from one day to the next.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Memory {
    wet: bool,
    residuals: [f64; 3],
}

/// The draws of a day.
pub fn draws(seed: u64, day: Date) -> Draws {
    let number = i64::from(days_between(jiff::civil::date(1970, 1, 1), day)) as u64;
    // Spread the day over the seed, so that neighbours have nothing in common (a splitmix step).
    let mut key = seed ^ number.wrapping_mul(0x9E37_79B9_7F4A_7C15);
    key = (key ^ (key >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
    let mut rng = ChaCha8Rng::seed_from_u64(key ^ (key >> 27));
    Draws(std::array::from_fn(|_| StandardNormal.sample(&mut rng)))
}

impl Climate {
    /// From normals that have been checked.
    pub fn new(normals: &Normals) -> Self {
        let held = standing();
        let lengths: [f64; 12] = std::array::from_fn(|month| {
            (MONTH_ENDS[month] - if month == 0 { 0 } else { MONTH_ENDS[month - 1] }) as f64
        });
        let wet: [f64; 12] = std::array::from_fn(|month| normals.wet_days[month] / lengths[month]);
        let amount = |month: usize| {
            let mean = normals.rain[month] / normals.wet_days[month].max(1e-9);
            Amounts::new((mean - WET).max(0.05))
        };
        Self {
            place: Place { latitude: normals.latitude, elevation: normals.elevation },
            tmin: through_the_year(&normals.tmin),
            tmax: through_the_year(&normals.tmax),
            spread: through_the_year(&normals.spread),
            wet: through_the_year(&wet).into_iter().map(|share| share.clamp(0.0, 0.95)).collect(),
            wind: through_the_year(&normals.wind),
            amounts: (0..12).map(amount).collect(),
            scale: std::array::from_fn(|at| 1.0 / held[at][at].sqrt()),
            alike: held[0][1] / (held[0][0] * held[1][1]).sqrt(),
            rain: normals.rain.iter().sum(),
        }
    }

    /// Where.
    pub fn place(&self) -> Place {
        self.place
    }

    /// The next day, from what is remembered and its draws.
    pub fn step(&self, memory: &mut Memory, date: Date, draws: Draws) -> Day {
        let [occurrence, amount, first, second, third, windy] = draws.0;
        let day = (usize::try_from(date.day_of_year()).unwrap_or(1) - 1).min(364);
        let share = self.wet[day];
        let chance = if memory.wet { 0.25 + 0.75 * share } else { 0.75 * share };
        memory.wet = normal_share(occurrence) < chance;
        let rain = if memory.wet { WET + self.amounts[date.month() as usize - 1].at(amount) } else { 0.0 };

        let noise = [first, second, third];
        let before = memory.residuals;
        memory.residuals = std::array::from_fn(|row| {
            (0..3).map(|column| LAG[row][column] * before[column] + MIX[row][column] * noise[column]).sum()
        });
        let extraterrestrial = sun::sky_on(self.place.latitude, date).extraterrestrial;
        let clear = sun::clear_sky(extraterrestrial, self.place.elevation);
        let [warm, cool, bright] = std::array::from_fn(|at| self.scale[at] * memory.residuals[at]);
        // Cloud keeps the day cool and the night warm, the more so the higher the sun; by no more than the range of
        // temperature and the spread have room for.
        let usual = self.tmax[day] - self.tmin[day];
        let apart = (share * (1.0 - share)).sqrt();
        let cloud =
            (3.5 * (extraterrestrial / 42.0).min(1.0)).min(0.5 * usual).min(0.85 * self.spread[day] / apart.max(0.01));
        let side = if memory.wet { share - 1.0 } else { share };
        // The rest of the spread is chance.
        let left = |share_of_cloud: f64| {
            let by_cloud = share_of_cloud * cloud * apart;
            (self.spread[day] * self.spread[day] - by_cloud * by_cloud).sqrt()
        };
        let (highs, lows) = (left(1.0), left(0.3));
        let middle = (self.tmax[day] + self.tmin[day] + 0.7 * cloud * side + highs * warm + lows * cool) / 2.0;
        let mean_range = usual + 1.3 * cloud * side;
        let deviation = (highs * highs + lows * lows - 2.0 * highs * lows * self.alike).sqrt();
        let range = lognormal(mean_range, deviation, (highs * warm - lows * cool) / deviation.max(1e-9));
        let (lowest, highest) = (middle - range / 2.0, middle + range / 2.0);
        let brightness = if memory.wet { 0.45 } else { 0.78 } + 0.13 * bright;
        Day {
            tmin: lowest,
            tmax: highest,
            rain,
            radiation: clear * brightness.clamp(0.12, 1.0),
            dew_point: if memory.wet {
                lowest - 0.3
            } else {
                dew_of_dry_air(lowest, highest, extraterrestrial, self.rain)
            },
            wind: self.wind[day] * (0.35 * windy - 0.061).exp(),
        }
    }

    /// Days from one date to another, both included, from a memory.
    pub fn run(&self, memory: &mut Memory, seed: u64, from: Date, to: Date) -> Vec<Day> {
        (0..=days_between(from, to).max(-1))
            .map(|ahead| {
                let date = plus(from, ahead);
                self.step(memory, date, draws(seed, date))
            })
            .collect()
    }

    /// Whole record from one date to another.
    pub fn years(&self, seed: u64, from: Date, to: Date) -> Years {
        Years {
            place: self.place,
            first: from,
            days: self.run(&mut Memory::default(), seed, from, to),
            basis: Basis::Record,
        }
    }

    /// A forecast issued on a day before it begins: so many members of so many days, the first of
    /// them that day. `memory` is as it stood the evening before.
    pub fn forecast(&self, memory: Memory, seed: u64, issued_on: Date, members: usize, days: usize) -> Vec<Vec<Day>> {
        let seen: Vec<(f64, Draws)> = (0..days)
            .map(|lead| {
                let skill = skill(lead as f64 + 0.5);
                let truth = draws(seed, plus(issued_on, lead as i32));
                let haze = draws(seed ^ 0x5EED_0F0C_A57E ^ ((lead as u64) << 48), issued_on);
                let seen = |at: usize| skill * truth.0[at] + (1.0 - skill * skill).sqrt() * haze.0[at];
                (skill, Draws(std::array::from_fn(seen)))
            })
            .collect();
        (0..members)
            .map(|member| {
                let mut memory = memory;
                seen.iter()
                    .enumerate()
                    .map(|(lead, (skill, seen))| {
                        let date = plus(issued_on, lead as i32);
                        let own = draws(
                            seed ^ 0x0E15_E3B1E ^ ((member as u64 + 1) << 40),
                            plus(issued_on, 40_000 + lead as i32),
                        );
                        let draw = |at: usize| skill * seen.0[at] + (1.0 - skill * skill).sqrt() * own.0[at];
                        self.step(&mut memory, date, Draws(std::array::from_fn(draw)))
                    })
                    .collect()
            })
            .collect()
    }
}

/// Correlation of what a forecast sees with what comes, so many days ahead: near one tomorrow,
/// gone after a fortnight.
pub fn skill(lead_days: f64) -> f64 {
    (-(lead_days / 7.0).powf(1.6)).exp()
}

/// An hour of a day.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Hour {
    /// Air temperature, °C.
    pub temperature: f64,
    /// Rain, mm.
    pub rain: f64,
    /// Solar radiation, MJ/m².
    pub radiation: f64,
    /// Relative humidity, %.
    pub humidity: f64,
    /// Wind, m/s.
    pub wind: f64,
}

/// The 24 hours of the middle one of three days by the sun: sinking from the afternoon before to its
/// lowest at sunrise, warmest in mid-afternoon, sinking to the next morning's lowest; sums and
/// extremes are the day's.
pub fn hours(place: Place, date: Date, [before, day, after]: [Day; 3], seed: u64) -> [Hour; 24] {
    let sky = sun::sky_on(place.latitude, date);
    let (sunrise, sunset) = (12.0 - sky.daylight / 2.0, 12.0 + sky.daylight / 2.0);
    let warmest = (12.0 + sky.daylight / 5.0).max(sunrise + 1.0);
    let glide =
        |from: f64, to: f64, share: f64| from + (to - from) * (1.0 - (std::f64::consts::PI * share).cos()) / 2.0;
    let night = 24.0 + sunrise - warmest;
    let temperature = |hour: f64| {
        if hour < sunrise {
            glide(before.tmax.max(day.tmin), day.tmin, (hour + 24.0 - warmest) / night).min(day.tmax)
        } else if hour < warmest {
            glide(day.tmin, day.tmax, (hour - sunrise) / (warmest - sunrise))
        } else {
            glide(day.tmax, after.tmin.min(day.tmax), (hour - warmest) / night)
        }
    };
    let height = |hour: f64| {
        if hour <= sunrise || hour >= sunset {
            0.0
        } else {
            (std::f64::consts::PI * (hour - sunrise) / sky.daylight).sin()
        }
    };
    let lit: f64 = (0..24).map(|hour| height(f64::from(hour) + 0.5)).sum();
    let Draws(extra) = draws(seed ^ 0xA0_0A15, date);
    let begins = (normal_share(extra[0]) * 20.0).floor();
    let lasts = (1.0 + normal_share(extra[1]) * (1.0 + day.rain / 4.0)).min(24.0 - begins).floor().max(1.0);
    let vapour = et0::saturation(day.dew_point);
    std::array::from_fn(|index| {
        let hour = index as f64 + 0.5;
        let temperature = temperature(hour);
        let raining = hour > begins && hour < begins + lasts;
        Hour {
            temperature,
            rain: if raining { day.rain / lasts } else { 0.0 },
            radiation: if lit > 0.0 { day.radiation * height(hour) / lit } else { 0.0 },
            humidity: (100.0 * vapour / et0::saturation(temperature)).clamp(5.0, 100.0),
            wind: day.wind * (0.7 + 0.6 * height(hour)),
        }
    })
}
