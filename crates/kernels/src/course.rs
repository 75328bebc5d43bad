//! The course of a stand: what was done to it up to today once, and what each of the years would make of it from there.

use facts::crop::SeasonFacts;
use jiff::civil::Date;

use crate::{
    day::{Day, Years, days_between, plus},
    growth::{Air, Cut, DayOf, Memory, Quality, Soil, Stand, air::day_of},
    years::Scenarios,
};

/// What is done to a stand on a day.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Deed {
    /// Cut or grazed, in the evening.
    Cut(Cut),
    /// Nitrogen spread, kg/ha.
    Nitrogen(f64),
    /// Water brought, m.
    Irrigation(f64),
    /// What a gauge at the field caught instead of the station's, m.
    Rain(f64),
}

/// Whose course it is.
#[derive(Debug, Clone, Copy)]
pub struct Course<'a> {
    /// Its crops' figures, in the order of the stand's.
    pub facts: &'a [&'a SeasonFacts],
    /// Its soil.
    pub soil: &'a Soil,
    /// What was done and is meant to be, in the order of days.
    pub deeds: &'a [(Date, Deed)],
}

/// A stand on the evening of a day.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Evening {
    /// Green matter above the usual stubble, kg/ha of dry matter.
    pub above: f64,
    /// Height of the tallest crop, cm.
    pub height: f64,
    /// How far the first crop is to early bloom or heading; 1 is there.
    pub stage: f64,
    /// Share of the green that is leaf.
    pub leafy: f64,
}

/// What a cut took.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Harvest {
    /// The day.
    pub on: Date,
    /// How it stood that evening, before it was cut.
    pub stood: Evening,
    /// Feed in the green of it.
    pub quality: Quality,
    /// Dry matter taken, kg/ha.
    pub taken: f64,
}

/// A stand that was followed to an evening.
#[derive(Debug, Clone, PartialEq)]
pub struct Followed {
    /// The day after the last that was followed.
    pub to: Date,
    /// As it stands.
    pub stand: Stand,
    /// What is remembered of the weather.
    pub memory: Memory,
    /// How it stood, evening by evening.
    pub evenings: Vec<Evening>,
    /// What was taken.
    pub harvests: Vec<Harvest>,
    /// Days that no station told, taken from the same day of an earlier year.
    pub guessed: usize,
}

impl Course<'_> {
    /// What stood, was cut and grows on from one day of weather.
    fn day(&self, stand: &mut Stand, memory: &mut Memory, of: DayOf, harvests: &mut Vec<Harvest>) -> Evening {
        self.evening_of(stand, memory, of, harvests, (0.0, |_: &Stand, _: f64, _: &Air| None))
    }

    /// The same, with more nitrogen, kg/ha, and a rule that looks at the stand, at what is green above its stubble and at
    /// the air of the day, and may have it cut that evening.
    pub(crate) fn evening_of(
        &self,
        stand: &mut Stand,
        memory: &mut Memory,
        of: DayOf,
        harvests: &mut Vec<Harvest>,
        (more, decide): (f64, impl FnOnce(&Stand, f64, &Air) -> Option<Cut>),
    ) -> Evening {
        let mut air: Air = memory.step(of);
        let first = self.deeds.partition_point(|(on, _)| *on < of.date);
        let today = self.deeds[first..].iter().take_while(|(on, _)| *on == of.date);
        let (mut nitrogen, mut cut) = (more, None);
        for (_, deed) in today {
            match *deed {
                Deed::Cut(how) => cut = Some(how),
                Deed::Nitrogen(brought) => nitrogen += brought,
                Deed::Irrigation(depth) => air.irrigation += depth,
                Deed::Rain(fell) => air.rain = fell,
            }
        }
        stand.day(self.facts, self.soil, &air, nitrogen);
        let stood = self.evening(stand);
        let cut = cut.or_else(|| decide(stand, stood.above, &air));
        let Some(how) = cut else { return stood };
        let quality = stand.quality(self.facts, &air);
        let taken = stand.cut(self.facts, how).iter().map(|one| one.mass()).sum();
        harvests.push(Harvest { on: of.date, stood, quality, taken });
        self.evening(stand)
    }

    fn evening(&self, stand: &Stand) -> Evening {
        let plants = stand.plants();
        let all = stand.herbage();
        let stubble: f64 = plants
            .iter()
            .zip(self.facts)
            .map(|(plant, facts)| facts.stubble * facts.stubble_mass * plant.herbage() / all.max(1.0))
            .sum();
        let (leaf, live) = plants.iter().fold((0.0, 0.0), |sum, plant| (sum.0 + plant.leaf, sum.1 + plant.live()));
        Evening {
            // Of what stands above the stubble the green part: old dead growth feeds nobody.
            above: (all - stubble).max(0.0) * live / all.max(1.0),
            height: stand.heights(self.facts)[..plants.len()].iter().copied().fold(0.0, f64::max),
            stage: plants[0].stage(self.facts[0]),
            leafy: if live > 0.0 { leaf / live } else { 0.0 },
        }
    }

    /// From the evening of a day, by a record, to the evening before `to`. A day that the record does not tell is as that
    /// of the year before was, or of the last that tells it; none where none does.
    pub fn past(&self, years: &Years, begin: (Date, Stand), to: Date) -> Option<Followed> {
        let (from, stand) = begin;
        let mut at = Followed { to, stand, memory: Memory::default(), evenings: vec![], harvests: vec![], guessed: 0 };
        for ahead in 1..days_between(from, to) {
            let date = plus(from, ahead);
            let day = match years.day(date) {
                Some(day) => day,
                None => {
                    at.guessed += 1;
                    earlier(years, date)?
                }
            };
            let Followed { stand, memory, harvests, .. } = &mut at;
            let evening = self.day(stand, memory, day_of(years.place, date, day), harvests);
            at.evenings.push(evening);
        }
        Some(at)
    }

    /// On from there in each of the years, to the end of their curve or so many days.
    pub fn futures(&self, all: &Scenarios, past: &Followed, days: usize) -> Vec<Followed> {
        let Ok(start) = usize::try_from(days_between(all.first(), past.to)) else { return vec![] };
        let end = (start + days).min(all.days());
        let of = |run: usize| {
            let Followed { to, stand, memory, guessed, .. } = *past;
            let (evenings, harvests) = (Vec::with_capacity(days), vec![]);
            let mut at = Followed { to, stand, memory, evenings, harvests, guessed };
            for day in start..end {
                let Followed { stand, memory, harvests, .. } = &mut at;
                let evening = self.day(stand, memory, all.day_of(run, day), harvests);
                at.evenings.push(evening);
            }
            at.to = all.date(end);
            at
        };
        (0..all.runs().len()).map(of).collect()
    }
}

/// The same day of an earlier year that tells it.
fn earlier(years: &Years, date: Date) -> Option<Day> {
    (1..=40).find_map(|back| {
        let year = date.year() - back;
        let date = date.with().year(year).build().or_else(|_| date.with().year(year).day(28).build()).ok()?;
        years.day(date)
    })
}
