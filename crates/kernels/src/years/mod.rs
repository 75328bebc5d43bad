//! One past, many futures: each year of the record, with what is known of this one laid over it.
//!
//! What has been measured is the same in every run: it is reckoned once, and each year's future goes on from where it
//! leaves things. [`Scenarios`] is the air, [`Scenarios::site`] the ground under it.

mod air;
mod ground;

use std::collections::HashMap;

use jiff::civil::Date;

use crate::{
    day::{Basis, Day, Place, Years, days_between, plus},
    et0,
    forecast::Forecast,
    frost::FROSTS,
    growth::DayOf,
    sun,
};

pub use air::AirRun;
pub(crate) use air::days_to_frost;
pub use ground::{GroundRun, Site, SiteRuns};

/// Days run before the curve, so that the soil has forgotten how it began.
const SPINUP: usize = 150;
/// Days needed beyond the curve, for rules that look ahead.
const AHEAD: usize = 200;

/// All runs of the years over one stretch of days.
#[derive(Debug, Clone)]
pub struct Scenarios {
    place: Place,
    first: Date,
    days: usize,
    /// Days from the spin-up's first that all runs share: the past.
    known: usize,
    /// Mean of a year's air, °C: what a soil that nobody has followed begins with.
    usual_mean: f64,
    runs: Vec<AirRun>,
    longer: Vec<bool>,
    daylight: Vec<f32>,
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
        let daylight = skies.iter().map(|sky| sky.daylight as f32).collect();
        let psychrometric = et0::psychrometric(et0::air_pressure(place.elevation));
        // What is known is the same in every run: looked up once, and as far as it goes on without a gap reckoned once.
        let measured: Vec<Option<Day>> = dates.iter().map(|date| years.day(*date).filter(|_| *date < today)).collect();
        let known = measured.iter().position(Option::is_none).unwrap_or(length);
        let foretold_from = forecast.from.map(|from| days_between(from, start));
        let mut past = AirRun::begin(known);
        for (day, sky) in measured.iter().flatten().take(known).zip(&skies) {
            past.push(*day, *sky, place.elevation, psychrometric);
        }
        let (mut runs, mut left_out, mut warmth) = (vec![], 0, 0.0);
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
            let mut run = past.branch(length);
            run.year = year;
            for at in known..length {
                // A day that was not heard of is as it was foretold, when it was.
                let foretold = || forecast.on(runs.len(), foretold_from? + at as i32);
                let day = measured[at].or_else(foretold).unwrap_or(own[at]);
                run.push(day, skies[at], place.elevation, psychrometric);
            }
            run.close(&longer);
            warmth += own.iter().take(365).map(|day| day.mean()).sum::<f64>() / 365.0_f64.min(length as f64);
            runs.push(run);
        }
        let frost_seen = std::array::from_fn(|at| {
            runs.iter().any(|run: &AirRun| run.tmin.iter().any(|cold| f64::from(*cold) <= FROSTS[at]))
        });
        let usual_mean = warmth / runs.len().max(1) as f64;
        let basis = years.basis;
        Self { place, first, days, known, usual_mean, runs, longer, daylight, maize_from, basis, left_out, frost_seen }
    }

    /// The first day of the spin-up.
    fn start(&self) -> Date {
        plus(self.first, -(SPINUP as i32))
    }

    /// Days in all: spin-up, curve, and those looked ahead to.
    fn length(&self) -> usize {
        SPINUP + self.days + AHEAD
    }

    /// Days of the curve that have been: the same in every run.
    pub fn known(&self) -> usize {
        self.known.saturating_sub(SPINUP).min(self.days)
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

    /// Whether days grow longer, from a day of the runs on.
    pub(crate) fn longer(&self, at: usize) -> &[bool] {
        &self.longer[at..]
    }

    /// Whether days grow longer on a day of the curve or of those after it.
    pub fn longer_on(&self, day: usize) -> bool {
        self.longer.get(SPINUP + day).copied().unwrap_or(false)
    }

    /// A day of the curve in one run, as a stand that grows there wants it told.
    pub fn day_of(&self, run: usize, day: usize) -> DayOf {
        let (air, at) = (&self.runs[run], SPINUP + day);
        DayOf {
            date: self.date(day),
            latitude: self.place.latitude,
            day: air.days[at],
            solar: air.solar(day),
            reference: air.reference(day),
            daylight: f64::from(self.daylight[at]),
        }
    }

    /// One site's soil in every run.
    pub fn site(&self, site: &Site) -> SiteRuns {
        SiteRuns::new(self, site)
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
