//! What may still come: each year of the record, with what is known of this one laid over it.

use std::{
    collections::HashMap,
    hash::{Hash, Hasher},
};

use jiff::civil::Date;

use facts::{crop::Drainage, texture::Texture};

use crate::{
    day::{Basis, Day, Place, Years, days_between, plus},
    et0,
    forecast::Forecast,
    frost::FROSTS,
    maize,
    snow::{COVERS, Snow},
    soil::{Column, Correction, Ground, SoilCover, damping_depth, morning_share, solar_of},
    sun,
    water::{Bed, Today, Water},
};

/// Days run before the curve, so that the soil has forgotten how it began.
const SPINUP: usize = 150;
/// Days needed beyond the curve, for rules that look ahead.
const AHEAD: usize = 200;
/// Rain of a day that breaks a dry spell, mm.
const BREAKS: f64 = 2.0;

/// The air of one run, day by day from the spin-up's first.
#[derive(Debug, Clone)]
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
    days: Vec<Day>,
    reference: Vec<f32>,
    solar: Vec<f32>,
}

impl AirRun {
    fn bytes(&self) -> usize {
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

/// One site's soil in one run.
#[derive(Debug, Clone)]
pub struct GroundRun {
    pub(crate) morning: Vec<f32>,
    pub(crate) mean: Vec<f32>,
    pub(crate) workable: Vec<u32>,
    pub(crate) trafficable: Vec<u32>,
    pub(crate) snow: Vec<f32>,
    pub(crate) stress: Vec<f32>,
    pub(crate) top_left: Vec<f32>,
    pub(crate) since_maize: Vec<i32>,
    missing: Vec<f32>,
}

impl GroundRun {
    fn bytes(&self) -> usize {
        let floats = [&self.morning, &self.mean, &self.snow, &self.stress, &self.top_left, &self.missing];
        let counts = [&self.workable, &self.trafficable];
        4 * (floats.map(Vec::len).iter().sum::<usize>()
            + counts.map(Vec::len).iter().sum::<usize>()
            + self.since_maize.len())
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
}

/// All runs of the years over one stretch of days.
#[derive(Debug, Clone)]
pub struct Scenarios {
    place: Place,
    first: Date,
    days: usize,
    runs: Vec<AirRun>,
    longer: Vec<bool>,
    maize_from: Vec<bool>,
    /// Where the years come from.
    pub basis: Basis,
    /// Years that had to be left out for days that do not tell.
    pub left_out: usize,
    /// Whether each kept frost is ever seen in the runs.
    pub frost_seen: [bool; 4],
}

/// What is known of the stretch, to lay over the years.
#[derive(Debug, Clone, Copy)]
pub struct Known<'a> {
    /// The record itself: days before `today` that it tells are taken as they were.
    pub years: &'a Years,
    /// The first day that has not been yet.
    pub today: Date,
    /// From today on.
    pub forecast: &'a Forecast,
}

impl Scenarios {
    /// Runs over `days` days from `first` on. Every year of the record that reaches far enough
    /// gives one; none does when the record is too short.
    pub fn new(known: Known<'_>, first: Date, days: usize) -> Self {
        let Known { years, today, forecast } = known;
        let place = years.place;
        let start = plus(first, -(SPINUP as i32));
        let length = SPINUP + days + AHEAD;
        let dates: Vec<Date> = (0..length).map(|index| plus(start, index as i32)).collect();
        let skies: Vec<sun::Sky> = dates.iter().map(|date| sun::sky_on(place.latitude, *date)).collect();
        let longer: Vec<bool> = (0..length)
            .map(|index| skies[(index + 1).min(length - 1)].daylight >= skies[index.min(length - 2)].daylight)
            .collect();
        // Looking for warm soil begins in midwinter.
        let (month, day) = if place.latitude < 0.0 { (7, 15) } else { (1, 15) };
        let maize_from = dates.iter().map(|date| (date.month(), date.day()) == (month, day)).collect();
        let psychrometric = et0::psychrometric(et0::air_pressure(place.elevation));
        // What is known is the same in every run: looked up once.
        let measured: Vec<Option<Day>> = dates.iter().map(|date| years.day(*date).filter(|_| *date < today)).collect();
        let foretold_from = forecast.from.map(|from| days_between(from, start));
        let (mut runs, mut left_out) = (vec![], 0);
        for back in 1..=300 {
            let Some(year) = start.year().checked_sub(back) else { break };
            let Ok(from) = start.with().year(year).build().or_else(|_| start.with().year(year).day(28).build()) else {
                continue;
            };
            let Ok(offset) = usize::try_from(days_between(years.first, from)) else { break };
            let Some(own) = years.days.get(offset..offset + length) else { continue };
            if own.iter().any(|day| !day.tells()) {
                left_out += 1;
                continue;
            }
            let member = runs.len();
            let days: Vec<Day> = measured
                .iter()
                .zip(own)
                .enumerate()
                .map(|(at, (measured, own))| {
                    // A day that was not heard of is as it was foretold, when it was.
                    let foretold = || forecast.on(member, foretold_from? + at as i32);
                    measured.or_else(foretold).unwrap_or(*own)
                })
                .collect();
            runs.push(air_run(year, days, &skies, &longer, place, psychrometric));
        }
        let frost_seen = std::array::from_fn(|at| {
            runs.iter().any(|run: &AirRun| run.tmin.iter().any(|cold| f64::from(*cold) <= FROSTS[at]))
        });
        Self { place, first, days, runs, longer, maize_from, basis: years.basis, left_out, frost_seen }
    }

    /// The curve's first day.
    pub fn first(&self) -> Date {
        self.first
    }

    /// Days of the curve.
    pub fn days(&self) -> usize {
        self.days
    }

    /// The runs.
    pub fn runs(&self) -> &[AirRun] {
        &self.runs
    }

    /// The date of a day of the curve.
    pub fn date(&self, day: usize) -> Date {
        plus(self.first, day as i32)
    }

    /// Frost that would end a season is known here.
    pub fn frosty(&self) -> bool {
        self.frost_seen[1]
    }

    pub(crate) fn spinup(&self) -> usize {
        SPINUP
    }

    pub(crate) fn longer(&self, at: usize) -> bool {
        self.longer[at]
    }

    /// Whether days grow longer on a day of the curve or of those after it.
    pub fn longer_on(&self, day: usize) -> bool {
        self.longer.get(SPINUP + day).copied().unwrap_or(false)
    }

    /// One site's soil in every run.
    pub fn site(&self, site: &Site) -> SiteRuns {
        SiteRuns(self.runs.iter().map(|air| self.ground_run(site, air)).collect())
    }

    fn ground_run(&self, site: &Site, air: &AirRun) -> GroundRun {
        let length = air.days.len();
        let ground = Ground::new(site.texture, site.cover);
        let bed = site.bed.unwrap_or_else(|| Bed::seedbed(site.texture, site.drainage));
        let damping = damping_depth(ground.diffusivity, 1.0);
        let depth = f64::from(site.depth_mm) / 1_000.0;
        let share = morning_share(damping, depth);
        let maize_share = morning_share(damping, maize::DEPTH);
        let mut column = Column::new(ground.diffusivity, air.mean[365.min(length)] as f64 / 365.min(length) as f64);
        let mut water = Water { root_missing: 0.3 * bed.total_available, ..Water::default() };
        let mut run = GroundRun {
            morning: Vec::with_capacity(length),
            mean: Vec::with_capacity(length),
            workable: Vec::with_capacity(length + 1),
            trafficable: Vec::with_capacity(length + 1),
            snow: Vec::with_capacity(length),
            stress: Vec::with_capacity(length),
            top_left: Vec::with_capacity(length),
            since_maize: vec![],
            missing: Vec::with_capacity(length),
        };
        run.workable.push(0);
        run.trafficable.push(0);
        let start = plus(self.first, -(SPINUP as i32));
        let corrected = !site.correction.is_empty();
        let read_at_the_field = !(site.gauge.is_empty() && site.irrigation.is_empty());
        let (mut maize_means, mut maize_mornings) = (Vec::with_capacity(length), Vec::with_capacity(length));
        for (index, day) in air.days.iter().enumerate() {
            let half_swing = ground.step(&mut column, water.snow, *day, f64::from(air.solar[index]));
            let add = if corrected { site.correction.on(plus(start, index as i32)) } else { 0.0 };
            let mean = column.at(depth) + add;
            run.mean.push(mean as f32);
            run.morning.push((mean - half_swing * share) as f32);
            let at_maize = column.at(maize::DEPTH) + add;
            maize_means.push(at_maize as f32);
            maize_mornings.push((at_maize - half_swing * maize_share) as f32);

            let mut today = Today::of(*day, f64::from(air.reference[index]));
            if read_at_the_field {
                let date = plus(start, index as i32);
                // The field's own gauge wins over the station.
                if let Some((_, fell)) = site.gauge.iter().find(|(on, _)| *on == date) {
                    today.rain = fell * 0.001;
                }
                let brought = site.irrigation.iter().filter(|(on, _)| *on == date);
                today.irrigation = brought.map(|(_, depth)| depth * 0.001).sum();
            }
            let moved = water.day(&bed, today);
            run.workable.push(run.workable[index] + u32::from(water.workable(&bed, today)));
            run.trafficable.push(run.trafficable[index] + u32::from(water.trafficable(today)));
            run.snow.push((water.snow.water() * 1_000.0) as f32);
            run.stress.push(moved.stress as f32);
            run.top_left.push(water.top_left(&bed) as f32);
            run.missing.push((water.root_missing * 1_000.0) as f32);
        }
        run.since_maize = maize::days_since(&self.maize_from, &maize_mornings, &maize_means);
        run
    }

    /// Runs of several sites, each kind of ground once.
    pub fn sites<'a>(&self, sites: impl IntoIterator<Item = &'a Site>) -> HashMap<u64, SiteRuns> {
        let mut runs = HashMap::new();
        for site in sites {
            runs.entry(site.key()).or_insert_with(|| self.site(site));
        }
        runs
    }

    /// Where.
    pub fn place(&self) -> Place {
        self.place
    }

    /// Memory that the runs take, for whoever keeps many of them within bounds.
    pub fn bytes(&self) -> usize {
        self.runs.iter().map(AirRun::bytes).sum()
    }
}

impl Site {
    /// Its runs among those of [`Scenarios::sites`].
    pub fn among<'a>(&self, runs: &'a HashMap<u64, SiteRuns>) -> Option<&'a SiteRuns> {
        runs.get(&self.key())
    }
}

/// One site's soil, run by run.
#[derive(Debug, Clone)]
pub struct SiteRuns(pub Vec<GroundRun>);

impl SiteRuns {
    /// Memory that they take, for whoever keeps many of them within bounds.
    pub fn bytes(&self) -> usize {
        self.0.iter().map(GroundRun::bytes).sum()
    }
}

fn air_run(year: i16, days: Vec<Day>, skies: &[sun::Sky], longer: &[bool], place: Place, psychrometric: f64) -> AirRun {
    let length = days.len();
    let mut run = AirRun {
        year,
        tmin: days.iter().map(|day| day.tmin as f32).collect(),
        mean: Vec::with_capacity(length + 1),
        rain: Vec::with_capacity(length + 1),
        thaws: Vec::with_capacity(length + 1),
        next_frost: std::array::from_fn(|_| vec![]),
        dry_run: Vec::with_capacity(length),
        reference: Vec::with_capacity(length),
        solar: Vec::with_capacity(length),
        days,
    };
    let (mut mean, mut rain, mut thaws, mut dry) = (0.0_f64, 0.0_f64, 0, 0_u16);
    run.mean.push(0.0);
    run.rain.push(0.0);
    run.thaws.push(0);
    let mut snow = Snow::default();
    for (day, sky) in run.days.iter().zip(skies) {
        mean += day.mean();
        rain += day.rain;
        // Under snow the ground does not open and close.
        thaws += u32::from(day.tmin < 0.0 && day.tmax > 0.0 && snow.water() < COVERS);
        snow.step(day.rain * 0.001, day.mean());
        dry = if day.rain >= BREAKS { 0 } else { dry.saturating_add(1) };
        run.mean.push(mean as f32);
        run.rain.push(rain as f32);
        run.thaws.push(thaws);
        run.dry_run.push(dry);
        run.reference.push(et0::of_day(*sky, place.elevation, psychrometric, *day) as f32);
        run.solar.push(solar_of(*day, sky.extraterrestrial, place.elevation) as f32);
    }
    run.next_frost = FROSTS.map(|threshold| days_to_frost(&run.tmin, |at| longer[at], threshold));
    run
}

/// Days to the next frost of a shortening day, for every day; beyond all that is looked at where none comes.
pub(crate) fn days_to_frost(tmin: &[f32], longer: impl Fn(usize) -> bool, threshold: f64) -> Vec<u32> {
    let mut next = 1_000;
    let mut days: Vec<u32> = (0..tmin.len())
        .rev()
        .map(|at| {
            next = if f64::from(tmin[at]) <= threshold && !longer(at) { 0 } else { next + 1 };
            next
        })
        .collect();
    days.reverse();
    days
}
