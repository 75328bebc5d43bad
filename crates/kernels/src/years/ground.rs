//! One site's ground in every run: the past once, then each year's future from where it stands.

use std::{
    hash::{Hash, Hasher},
    ops::Range,
    sync::OnceLock,
};

use facts::{crop::Drainage, texture::Texture};
use jiff::civil::Date;

use crate::{
    day::{Day, plus},
    maize,
    snow::{COVERS, Snow},
    soil::{Column, Correction, Ground, SoilCover, damping_depth, morning_share},
    water::{Bed, Moved, Today, Water},
};

use super::{
    AirRun, SPINUP, Scenarios,
    air::{roomy, starting},
};

/// Of the available water, what is missing where nobody has looked when a run begins (assumed).
const MISSING_AT_FIRST: f64 = 0.3;

/// A kind of ground: fields that share it share its runs.
#[derive(Debug, Clone, PartialEq)]
pub struct Site {
    /// Texture of the plough layer.
    pub texture: Texture,
    /// Drainage class.
    pub drainage: Drainage,
    /// What lies on it.
    pub cover: SoilCover,
    /// Seed depth, mm; whole millimetres, so that alike is alike.
    pub depth_mm: u16,
    /// What soil thermometers correct.
    pub correction: Correction,
    /// Rain gauge of the field, where it differs from the station's: (day, mm).
    pub gauge: Vec<(Date, f64)>,
    /// Water brought: (day, mm).
    pub irrigation: Vec<(Date, f64)>,
    /// What grows on it; a bare seedbed when absent.
    pub bed: Option<Bed>,
}

impl Site {
    /// A seedbed of so much depth, without readings of its own.
    pub fn seedbed(texture: Texture, drainage: Drainage, cover: SoilCover, depth_mm: u16) -> Self {
        let correction = Correction::default();
        Self { texture, drainage, cover, depth_mm, correction, gauge: vec![], irrigation: vec![], bed: None }
    }

    /// Alike for sites that are alike.
    pub fn key(&self) -> u64 {
        let mut hasher = std::hash::DefaultHasher::new();
        (self.texture, self.drainage as u8, self.cover, self.depth_mm).hash(&mut hasher);
        format!("{:?} {:?} {:?} {:?}", self.correction, self.gauge, self.irrigation, self.bed).hash(&mut hasher);
        hasher.finish()
    }

    /// Whether its water differs from what the station's rain makes of it.
    fn read_at_the_field(&self) -> bool {
        !(self.gauge.is_empty() && self.irrigation.is_empty())
    }

    /// Rain of a day, m: the field's own gauge wins over the station.
    fn rain(&self, on: Date, day: Day) -> f64 {
        let own = self.gauge.iter().find(|(read, _)| *read == on);
        own.map_or(day.rain, |(_, fell)| *fell) * 0.001
    }

    /// Water brought on a day, m.
    fn brought(&self, on: Date) -> f64 {
        self.irrigation.iter().filter(|(at, _)| *at == on).map(|(_, depth)| depth * 0.001).sum()
    }
}

/// One site's soil in one run.
#[derive(Debug, Clone, Default)]
pub struct GroundRun {
    pub(crate) morning: Vec<f32>,
    pub(crate) mean: Vec<f32>,
    pub(crate) workable: Vec<u16>,
    pub(crate) trafficable: Vec<u16>,
    pub(crate) snowed: Vec<bool>,
    pub(crate) stress: Vec<f32>,
    pub(crate) top_left: Vec<f32>,
    missing: Vec<f32>,
}

impl GroundRun {
    fn begin(length: usize) -> Self {
        Self { workable: starting(0, length), trafficable: starting(0, length), ..Self::default() }.branch(length)
    }

    fn branch(&self, length: usize) -> Self {
        Self {
            morning: roomy(&self.morning, length),
            mean: roomy(&self.mean, length),
            workable: roomy(&self.workable, length + 1),
            trafficable: roomy(&self.trafficable, length + 1),
            snowed: roomy(&self.snowed, length),
            stress: roomy(&self.stress, length),
            top_left: roomy(&self.top_left, length),
            missing: roomy(&self.missing, length),
        }
    }

    fn bytes(&self) -> usize {
        let floats = [&self.morning, &self.mean, &self.stress, &self.top_left, &self.missing];
        4 * floats.map(Vec::len).iter().sum::<usize>()
            + 2 * (self.workable.len() + self.trafficable.len())
            + self.snowed.len()
    }

    /// Morning soil temperature at seed depth, °C, from the curve's first day on.
    pub fn mornings(&self) -> &[f32] {
        &self.morning[SPINUP..]
    }

    /// Mean soil temperature at seed depth, °C, from the curve's first day on.
    pub fn means(&self) -> &[f32] {
        &self.mean[SPINUP..]
    }

    /// Share of its evaporable water that the top layer holds at the end of each day, from the curve's first on.
    pub fn tops(&self) -> &[f32] {
        &self.top_left[SPINUP..]
    }

    /// Whether the seedbed can be worked on a day of the curve.
    pub fn workable_on(&self, day: usize) -> bool {
        let at = SPINUP + day;
        self.workable.get(at + 1).is_some_and(|until| *until > self.workable[at])
    }

    /// Missing from the root zone, mm, from the curve's first day on.
    pub fn missing(&self) -> &[f32] {
        &self.missing[SPINUP..]
    }
}

/// Where a site stands on the evening of a day: what the futures go on from.
#[derive(Debug, Clone)]
struct State {
    column: Column,
    water: Water,
}

/// A site, ready to be stepped.
struct Stepper<'a> {
    site: &'a Site,
    start: Date,
    ground: Ground,
    bed: Bed,
    depth: f64,
    share: f64,
    corrected: bool,
    read_at_the_field: bool,
}

impl<'a> Stepper<'a> {
    fn new(site: &'a Site, start: Date) -> Self {
        let ground = Ground::new(site.texture, site.cover);
        let depth = f64::from(site.depth_mm) / 1_000.0;
        Self {
            site,
            start,
            ground,
            bed: site.bed.unwrap_or_else(|| Bed::seedbed(site.texture, site.drainage)),
            depth,
            share: morning_share(damping_depth(ground.diffusivity, 1.0), depth),
            corrected: !site.correction.is_empty(),
            read_at_the_field: site.read_at_the_field(),
        }
    }

    fn begin(&self, mean: f64) -> State {
        let root_missing = MISSING_AT_FIRST * self.bed.profile.upper;
        State { column: Column::new(self.ground.diffusivity, mean), water: Water { root_missing, ..Water::default() } }
    }

    fn correction(&self, index: usize) -> f64 {
        if self.corrected { self.site.correction.on(plus(self.start, index as i32)) } else { 0.0 }
    }

    /// A day on, written down.
    #[inline]
    fn day(&self, state: &mut State, run: &mut GroundRun, air: &AirRun, index: usize) {
        let day = air.days[index];
        let half_swing = self.ground.step(&mut state.column, state.water.snow, day, f64::from(air.solar[index]));
        let mean = state.column.at(self.depth) + self.correction(index);
        let mut today = Today::of(day, f64::from(air.reference[index]));
        if self.read_at_the_field {
            let date = plus(self.start, index as i32);
            today.rain = self.site.rain(date, day);
            today.irrigation = self.site.brought(date);
        }
        let Bed { profile, canopy } = &self.bed;
        let Moved { stress, .. } = state.water.day(profile, canopy, today);
        run.mean.push(mean as f32);
        run.morning.push((mean - half_swing * self.share) as f32);
        run.workable.push(run.workable[index] + u16::from(state.water.workable(profile, today)));
        run.trafficable.push(run.trafficable[index] + u16::from(state.water.trafficable(today)));
        run.snowed.push(state.water.snow.water() >= COVERS);
        run.stress.push(stress as f32);
        run.top_left.push(state.water.top_left(profile) as f32);
        run.missing.push((state.water.root_missing * 1_000.0) as f32);
    }
}

/// One site's soil, run by run.
#[derive(Debug, Clone)]
pub struct SiteRuns {
    site: Site,
    runs: Vec<GroundRun>,
    since_maize: OnceLock<Vec<Vec<i32>>>,
}

impl SiteRuns {
    /// The past once, and each year's future from where it stands.
    pub(super) fn new(all: &Scenarios, site: &Site) -> Self {
        let stepper = Stepper::new(site, all.start());
        let length = all.length();
        let mut past = GroundRun::begin(all.known);
        let mut now = stepper.begin(all.usual_mean);
        if let Some(air) = all.runs.first() {
            (0..all.known).for_each(|index| stepper.day(&mut now, &mut past, air, index));
        }
        let future = |air: &AirRun| {
            let (mut run, mut state) = (past.branch(length), now.clone());
            (all.known..length).for_each(|index| stepper.day(&mut state, &mut run, air, index));
            run
        };
        Self { site: site.clone(), runs: all.runs.iter().map(future).collect(), since_maize: OnceLock::new() }
    }

    /// The runs, in the order of the scenarios'.
    pub fn runs(&self) -> &[GroundRun] {
        &self.runs
    }

    /// Days since maize was sown here, run by run and day by day from the spin-up's first: followed at the depth of
    /// maize, and only for those who time by it.
    pub(crate) fn since_maize(&self, all: &Scenarios) -> &[Vec<i32>] {
        self.since_maize.get_or_init(|| {
            let at_maize = Stepper { depth: maize::DEPTH, ..Stepper::new(&self.site, all.start()) };
            let share = morning_share(damping_depth(at_maize.ground.diffusivity, 1.0), maize::DEPTH);
            let warm =
                |air: &AirRun, span: Range<usize>, state: &mut (Column, Snow), warmth: &mut (Vec<f32>, Vec<f32>)| {
                    for index in span {
                        let (day, (column, snow)) = (air.days[index], &mut *state);
                        let half_swing = at_maize.ground.step(column, *snow, day, f64::from(air.solar[index]));
                        let date = plus(at_maize.start, index as i32);
                        let rain =
                            if at_maize.read_at_the_field { self.site.rain(date, day) } else { day.rain * 0.001 };
                        snow.step(rain, day.mean());
                        let mean = column.at(maize::DEPTH) + at_maize.correction(index);
                        warmth.0.push((mean - half_swing * share) as f32);
                        warmth.1.push(mean as f32);
                    }
                };
            let mut now = (Column::new(at_maize.ground.diffusivity, all.usual_mean), Snow::default());
            let mut past = (vec![], vec![]);
            if let Some(air) = all.runs.first() {
                warm(air, 0..all.known, &mut now, &mut past);
            }
            let of = |air: &AirRun| {
                let (mut state, mut warmth) = (now.clone(), past.clone());
                warm(air, all.known..all.length(), &mut state, &mut warmth);
                maize::days_since(&all.maize_from, &warmth.0, &warmth.1)
            };
            all.runs.iter().map(of).collect()
        })
    }

    /// Memory that they take, for whoever keeps many of them within bounds.
    pub fn bytes(&self) -> usize {
        let maize = self.since_maize.get().map_or(0, |runs| runs.iter().map(|run| 4 * run.len()).sum());
        self.runs.iter().map(GroundRun::bytes).sum::<usize>() + maize
    }
}
