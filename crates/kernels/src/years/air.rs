//! The air of one run, and what is told of it to each day.

use crate::{
    day::Day,
    et0,
    frost::FROSTS,
    snow::{COVERS, Snow},
    soil::solar_of,
    sun::Sky,
};

use super::SPINUP;

/// Rain of a day that breaks a dry spell, mm.
const BREAKS: f64 = 2.0;

/// The air of one run, day by day from the spin-up's first.
#[derive(Debug, Clone, Default)]
pub struct AirRun {
    /// The year of the record it rests on.
    pub year: i16,
    pub(crate) tmin: Vec<f32>,
    /// Sums of mean temperature up to each day.
    pub(crate) mean: Vec<f32>,
    /// Sums of rain.
    pub(crate) rain: Vec<f32>,
    /// Nights of frost with a thawing day, summed.
    pub(crate) thaws: Vec<u32>,
    /// Days to the next frost of a shortening day at each kept threshold: a late frost of spring ends
    /// no season.
    pub(crate) next_frost: [Vec<u32>; 4],
    /// Days without rain up to each day.
    pub(crate) dry_run: Vec<u16>,
    pub(super) days: Vec<Day>,
    pub(super) reference: Vec<f32>,
    pub(super) solar: Vec<f32>,
    sums: (f64, f64),
    snow: Snow,
}

impl AirRun {
    /// Nothing yet, with room for so many days.
    pub(super) fn begin(length: usize) -> Self {
        Self {
            tmin: Vec::with_capacity(length),
            mean: starting(0.0, length),
            rain: starting(0.0, length),
            thaws: starting(0, length),
            dry_run: Vec::with_capacity(length),
            days: Vec::with_capacity(length),
            reference: Vec::with_capacity(length),
            solar: Vec::with_capacity(length),
            ..Self::default()
        }
    }

    /// The same again, with room to go on to so many days: a year's future goes on from the one past.
    pub(super) fn branch(&self, length: usize) -> Self {
        Self {
            year: self.year,
            tmin: roomy(&self.tmin, length),
            mean: roomy(&self.mean, length + 1),
            rain: roomy(&self.rain, length + 1),
            thaws: roomy(&self.thaws, length + 1),
            next_frost: self.next_frost.clone(),
            dry_run: roomy(&self.dry_run, length),
            days: roomy(&self.days, length),
            reference: roomy(&self.reference, length),
            solar: roomy(&self.solar, length),
            sums: self.sums,
            snow: self.snow,
        }
    }

    /// One day more.
    pub(super) fn push(&mut self, day: Day, sky: Sky, elevation: f64, psychrometric: f64) {
        let at = self.days.len();
        self.sums.0 += day.mean();
        self.sums.1 += day.rain;
        // Under snow the ground does not open and close.
        let thaws = day.tmin < 0.0 && day.tmax > 0.0 && self.snow.water() < COVERS;
        self.snow.step(day.rain * 0.001, day.mean());
        let dry = if day.rain >= BREAKS { 0 } else { at.checked_sub(1).map_or(0, |last| self.dry_run[last]) + 1 };
        self.tmin.push(day.tmin as f32);
        self.mean.push(self.sums.0 as f32);
        self.rain.push(self.sums.1 as f32);
        self.thaws.push(self.thaws[at] + u32::from(thaws));
        self.dry_run.push(dry);
        self.reference.push(et0::of_day(sky, elevation, psychrometric, day) as f32);
        self.solar.push(solar_of(day, sky.extraterrestrial, elevation) as f32);
        self.days.push(day);
    }

    /// Once all its days are told: how far off each frost is.
    pub(super) fn close(&mut self, longer: &[bool]) {
        self.next_frost = FROSTS.map(|threshold| days_to_frost(&self.tmin, longer, threshold));
    }

    pub(super) fn bytes(&self) -> usize {
        let floats = [&self.tmin, &self.mean, &self.rain, &self.reference, &self.solar];
        let words = floats.map(Vec::len).iter().sum::<usize>()
            + self.thaws.len()
            + self.next_frost.iter().map(Vec::len).sum::<usize>();
        4 * words + 2 * self.dry_run.len() + size_of_val(&self.days[..])
    }

    /// The days themselves, from the curve's first on.
    pub fn days(&self) -> &[Day] {
        &self.days[SPINUP..]
    }

    /// Sun's radiation of a day of the curve, MJ/m².
    pub fn solar(&self, day: usize) -> f64 {
        f64::from(self.solar[SPINUP + day])
    }

    /// Reference evapotranspiration of a day of the curve, mm.
    pub fn reference(&self, day: usize) -> f64 {
        f64::from(self.reference[SPINUP + day])
    }
}

/// One value, and room for as many more.
pub(super) fn starting<T>(value: T, more: usize) -> Vec<T> {
    let mut all = Vec::with_capacity(more + 1);
    all.push(value);
    all
}

/// The same values, with room for so many in all.
pub(super) fn roomy<T: Copy>(values: &[T], room: usize) -> Vec<T> {
    let mut all = Vec::with_capacity(room.max(values.len()));
    all.extend_from_slice(values);
    all
}

/// Days to the next frost of a shortening day, for every day; beyond all that is looked at where none comes.
pub(crate) fn days_to_frost(tmin: &[f32], longer: &[bool], threshold: f64) -> Vec<u32> {
    let (mut next, mut days) = (1_000, vec![0; tmin.len()]);
    for ((days, cold), longer) in days.iter_mut().zip(tmin).zip(longer).rev() {
        next = if f64::from(*cold) <= threshold && !longer { 0 } else { next + 1 };
        *days = next;
    }
    days
}
