//! A regime expanded: what comes in each season of a stand, in ink and in pencil.

use std::collections::BTreeSet;

use agronomy::{
    crop::{Crop, library},
    nutrients::Amounts,
    practice::{Chain, Comes, Each, Once, Regime, RegimeStep, SeasonAnchor, SeasonEdge, Span, operation, regime},
    said,
    said::Said,
    units::{Measure, Temperature},
    weather::{plus, usual_year::UsualYear},
};
use jiff::civil::{Date, date};
use records::{Choices, book::Operation};
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    Facts, State, Step,
    chain::{MOST, Run, Time, chain, places},
    matching::of_the_stand,
    needs,
    step::{From, WaitsFor},
    words,
};

/// A step that comes again and can't be dated, and why.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Undated {
    /// Its key.
    pub step: String,
    /// What to do, in a few words.
    pub title: String,
    /// Why it has no days.
    #[schema(value_type = String)]
    pub why: Said,
}

/// What a stand is used for in a season.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct SeasonUse {
    /// The calendar year in which it begins.
    pub season: i16,
    /// Its first day.
    #[schema(value_type = String, format = Date)]
    pub begins: Date,
    /// Key of the regime; none while none is decided.
    pub regime: Option<String>,
    /// Its name.
    pub name: Option<String>,
}

/// How a stand is used, by season, and the seasons of its farm.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Uses {
    /// Keys of regimes, each from a season on, by season; the calendar year in which it begins.
    pub from: Vec<(i16, String)>,
    /// The first day of the growing year that today lies in.
    pub year_start: Option<Date>,
    /// The usual year of the place; none where no weather tells.
    pub usual: Option<UsualYear>,
}

impl Uses {
    /// The regime of a season.
    pub fn in_season(&self, season: i16) -> Option<&'static Regime> {
        self.from.iter().rfind(|(from, _)| *from <= season).and_then(|(_, key)| regime(key))
    }

    /// The season of a day and the next, and what they are for.
    pub fn around(&self, day: Date) -> Vec<SeasonUse> {
        let this = self.season_of(day);
        let told = |season: i16| {
            let regime = self.in_season(season);
            let (key, name) = (regime.map(|regime| regime.key.clone()), regime.map(|regime| regime.name.clone()));
            SeasonUse { season, begins: self.start(season), regime: key, name }
        };
        [this, this + 1].into_iter().map(told).collect()
    }

    /// The season that a day lies in.
    pub fn season_of(&self, day: Date) -> i16 {
        let first = self.year_start.map_or(1, |start| start.month());
        if day.month() >= first { day.year() } else { day.year() - 1 }
    }

    /// The first day of a season.
    pub fn start(&self, season: i16) -> Date {
        date(season, self.year_start.map_or(1, |start| start.month()), 1)
    }

    /// Whether an operation comes again in one of them.
    pub fn has(&self, operation: &str) -> bool {
        let regimes = self.from.iter().filter_map(|(_, key)| regime(key));
        regimes.flat_map(|regime| &regime.steps).any(|step| step.operation == operation)
    }

    /// A step of any of the regimes.
    pub fn step(&self, key: &str) -> Option<&'static RegimeStep> {
        self.from.iter().filter_map(|(_, one)| regime(one)).find_map(|regime| regime.step(key))
    }
}

/// What a regime comes to.
#[derive(Debug, Default)]
pub struct Expanded {
    /// Steps, season by season.
    pub steps: Vec<Step>,
    /// Steps that can't be dated.
    pub undated: Vec<Undated>,
    /// Entries that closed one of them.
    pub taken: BTreeSet<Uuid>,
}

/// What the usual year of a stand is asked for: the first of its crops to grow in spring, and the first to be killed in
/// autumn.
fn resting_at(crops: &[&Crop]) -> Option<(Temperature, Temperature)> {
    let base = crops.iter().map(|crop| crop.climate.base.measure::<Temperature>());
    let killing = crops.iter().map(|crop| crop.climate.killing_frost.measure::<Temperature>());
    let least = base.reduce(|a, b| if b.base() < a.base() { b } else { a });
    let most = killing.reduce(|a, b| if b.base() > a.base() { b } else { a });
    least.zip(most)
}

/// The usual year of a stand: when its crops begin to grow, and when frost ends it; `known` tells it of a base and a killing
/// frost.
pub fn usual(choices: &Choices, known: impl FnOnce(Temperature, Temperature) -> UsualYear) -> Option<UsualYear> {
    let crops: Vec<&Crop> = choices.cover.crops().iter().filter_map(|id| library().crop(id)).collect();
    resting_at(&crops).map(|(base, killing)| known(base, killing))
}

/// One stand asked about.
struct Seasons<'a> {
    choices: &'a Choices,
    facts: &'a Facts,
    crops: &'a [&'a Crop],
    sown_on: Date,
    until: Option<Date>,
    today: Date,
    /// Work that may close a step, oldest first.
    work: Vec<&'a Operation>,
}

/// Expand what a stand is used for: this season and the next with all their times, seasons before with what was done.
///
/// `sown_on` is the day it was or will be sown, `until` the last day on which an annual is cut; `taken` are the entries that closed a step of its making.
pub fn expand(
    choices: &Choices,
    facts: &Facts,
    crops: &[&Crop],
    (sown_on, until, today): (Date, Option<Date>, Date),
    taken: &BTreeSet<Uuid>,
) -> Expanded {
    let uses = &facts.uses;
    if uses.from.is_empty() {
        return Expanded::default();
    }
    let mut work: Vec<&Operation> =
        of_the_stand(facts).filter(|one| one.on > sown_on && !taken.contains(&one.entry)).collect();
    work.sort_by_key(|one| (one.on, one.entry));
    let asked = Seasons { choices, facts, crops, sown_on, until, today, work };
    let (first, this) = (uses.season_of(sown_on), uses.season_of(today));
    let mut all = Expanded::default();
    // The last day on which a chain came in the season before: where there is no winter the next follows from it.
    let mut last_came: Option<Date> = None;
    let last = until.map_or(this + 1, |until| uses.season_of(until).min(this + 1));
    for season in first..=last.max(first) {
        let Some(regime) = uses.in_season(season) else { continue };
        let mut chained: Vec<(&str, Vec<Slot>)> = vec![];
        // In the season of its sowing it has what its making was fed.
        let year = facts.needs.upkeep.as_ref().filter(|_| season > first);
        let parts = year.map(|year| year.parts(true, |time| regime.dresses(time))).unwrap_or_default();
        for step in &regime.steps {
            let ink = asked.ink(step, season);
            let feed = step.amount.and_then(|time| parts.get(&time));
            if step.amount.is_some() && feed.is_none() && !step.always && ink.is_empty() {
                continue;
            }
            let slots = match &step.comes {
                Comes::Chain(rule) => asked.chained(rule, season, &ink, last_came),
                Comes::Once(rule) => asked.once(step, rule, season, &ink),
                Comes::Each(rule) => {
                    let with = chained.iter().find(|(key, _)| *key == rule.step).map_or(&[][..], |(_, slots)| slots);
                    Ok(asked.each(rule, with, &ink))
                }
            };
            let slots = slots.unwrap_or_else(|why| {
                if !all.undated.iter().any(|one: &Undated| one.step == step.key) {
                    let title = operation(&step.operation).map(|one| words::title(one, choices)).unwrap_or_default();
                    all.undated.push(Undated { step: step.key.clone(), title, why });
                }
                // What was done stands there all the same.
                ink.iter().map(|(_, work)| Slot::of_ink(work)).collect()
            });
            if let Comes::Chain(_) = step.comes {
                last_came = slots.iter().rfind(|slot| !slot.time.passed).map(|slot| slot.time.due).or(last_came);
            }
            all.taken.extend(slots.iter().filter_map(|slot| slot.ink.as_ref()).map(|(entry, _)| *entry));
            // Of seasons that are over: what was done, and what may still be done, as the harvest of late winter.
            let open = |slot: &Slot| !slot.time.passed && slot.time.to >= today;
            let told = slots.iter().enumerate().filter(|(_, slot)| season >= this || slot.ink.is_some() || open(slot));
            let times = slots.len() as u32;
            let each = feed.filter(|_| times > 0).map(|feed| shared_among(feed, times));
            all.steps.extend(told.filter_map(|(at, slot)| {
                let told = asked.step(step, season, (at, times), slot)?;
                Some(match &each {
                    Some(each) if slot.ink.is_none() => needs::feeds(told, each),
                    _ => told,
                })
            }));
            chained.push((&step.key, slots));
        }
    }
    all
}

/// A part of a year's feed, for each of so many dressings.
fn shared_among(feed: &Amounts, times: u32) -> Amounts {
    feed.iter().map(|(nutrient, amount)| (*nutrient, *amount / f64::from(times))).collect()
}

/// Days before and after the time of what comes once a season in which work that names none is still taken for it (assumed).
const GRACE: i32 = 21;

/// One time of a step, and what was done then.
#[derive(Debug, Clone)]
struct Slot {
    time: Time,
    ink: Option<(Uuid, Date)>,
    /// What it comes with is not done yet.
    waits: bool,
}

impl Slot {
    fn of_ink(work: &Operation) -> Self {
        let time = Time { from: work.on, to: work.on, due: work.on, done: true, passed: false };
        Self { time, ink: Some((work.entry, work.on)), waits: false }
    }
}

impl<'a> Seasons<'a> {
    /// What was done of a step in a season, oldest first, each with its place.
    fn ink(&self, step: &RegimeStep, season: i16) -> Vec<(usize, &'a Operation)> {
        let uses = &self.facts.uses;
        let own = |work: &&&Operation| {
            if work.operation != step.operation {
                return false;
            }
            let in_season = self.season_for(step, work.on) == season;
            match self.facts.closed_by(work) {
                Some(closes) if closes.step == step.key => closes.season.map_or(in_season, |told| told == season),
                // It names a step of another kind; of a regime that is no longer: it is the next of this one.
                Some(closes) => in_season && uses.step(&closes.step).is_none() && self.is_first(step, season),
                None => in_season && self.takes_unnamed(step, season, work.on),
            }
        };
        let work: Vec<&Operation> = self.work.iter().filter(own).copied().collect();
        let told = |work: &&Operation| {
            self.facts.closed_by(work).filter(|closes| closes.step == step.key).and_then(|closes| closes.occurrence)
        };
        let places = places(work.iter().map(told));
        places.into_iter().zip(work).collect()
    }

    /// The season that work of a day belongs to which names none. A harvest in late winter is of the season before, while the
    /// time of that lasts.
    fn season_for(&self, step: &RegimeStep, on: Date) -> i16 {
        let uses = &self.facts.uses;
        let season = uses.season_of(on);
        let before = uses.in_season(season - 1).and_then(|regime| regime.step(&step.key));
        if let Some(Comes::Once(rule)) = before.map(|step| &step.comes)
            && let (Ok(from), Ok(to)) = (self.edge(rule.from, season - 1), self.edge(rule.to, season - 1))
            && (from..=to).contains(&on)
        {
            return season - 1;
        }
        season
    }

    /// Work that names no step: of several steps of its operation that may have been it on its day, the first takes it. What
    /// comes once a season may have been done a little before its time or after it.
    fn takes_unnamed(&self, step: &RegimeStep, season: i16, on: Date) -> bool {
        let steps = self.facts.uses.in_season(season).map_or(&[][..], |regime| &regime.steps);
        let alike: Vec<&RegimeStep> = steps.iter().filter(|one| one.operation == step.operation).collect();
        let may = |one: &&&RegimeStep| match &one.comes {
            Comes::Once(rule) if alike.len() > 1 => match (self.edge(rule.from, season), self.edge(rule.to, season)) {
                (Ok(from), Ok(to)) => (plus(from, -GRACE)..=plus(to, GRACE)).contains(&on),
                _ => false,
            },
            _ => true,
        };
        alike.iter().find(may).is_some_and(|first| first.key == step.key)
    }

    /// Of several steps of one operation the first takes what names one that is no longer.
    fn is_first(&self, step: &RegimeStep, season: i16) -> bool {
        let regime = self.facts.uses.in_season(season);
        let first = regime.and_then(|regime| regime.steps.iter().find(|one| one.operation == step.operation));
        first.is_some_and(|first| first.key == step.key)
    }

    fn usual(&self) -> Result<UsualYear, Said> {
        self.facts.uses.usual.ok_or_else(|| {
            "Green-up and frost are unknown here. Set up a weather station or enter the usual climate.".into()
        })
    }

    fn green_up(&self, season: i16) -> Result<Date, Said> {
        let day = self
            .usual()?
            .green_up
            .ok_or_else(|| Said::from("In at least 50% of years it never gets warm enough here for green-up."))?;
        Ok(plus(self.facts.uses.start(season), day))
    }

    fn edge(&self, edge: SeasonEdge, season: i16) -> Result<Date, Said> {
        let day = match edge.anchor {
            SeasonAnchor::GreenUp => self.green_up(season)?,
            SeasonAnchor::NextGreenUp => self.green_up(season + 1)?,
            SeasonAnchor::Frost => {
                let frost = self
                    .usual()?
                    .frost
                    .ok_or_else(|| Said::from("At least 50% of years here have no killing frost."))?;
                plus(self.facts.uses.start(season), frost)
            }
        };
        Ok(plus(day, edge.days))
    }

    fn days_of(&self, of: Result<Span, ()>, what: &str) -> Result<Span, Said> {
        of.map_err(|()| {
            let names = self.crops.iter().map(|crop| Said::from(crop.name.as_str()));
            said!(
                "The library has no days for the {} of {}. Choose a regime with fixed intervals, or record each cut.",
                what,
                Said::joined(names, ", ")
            )
        })
    }

    fn chained(
        &self,
        rule: &Chain,
        season: i16,
        ink: &[(usize, &Operation)],
        last_came: Option<Date>,
    ) -> Result<Vec<Slot>, Said> {
        let first = self.days_of(rule.first.of(self.crops, |cutting| &cutting.first).ok_or(()), "first cut")?;
        let every = self.days_of(rule.every.of(self.crops, |cutting| &cutting.regrowth).ok_or(()), "regrowth")?;
        let usual = self.usual()?;
        let young = (plus(self.sown_on, rule.young.low), plus(self.sown_on, rule.young.high));
        let spring = match usual.is_evergreen() {
            // It never rests: the next follows from the last, whatever the calendar says.
            true => last_came.map_or(young, |came| (plus(came, every.low), plus(came, every.high))),
            false => {
                let green = self.green_up(season)?;
                (plus(green, first.low), plus(green, first.high))
            }
        };
        let first = if young.0 > spring.0 { (young.0, young.1.max(spring.1)) } else { spring };
        let uses = &self.facts.uses;
        let end = plus(uses.start(season + 1), -1);
        let rest = rule.rest_before_frost.zip(usual.frost);
        let last = rest.map_or(end, |(days, frost)| plus(uses.start(season), frost - days).min(end));
        let last = self.until.map_or(last, |until| last.min(until));
        let mut done = vec![None; ink.last().map_or(0, |(at, _)| at + 1)];
        for (at, work) in ink {
            done[*at] = Some(work.on);
        }
        let times = chain(Run { first, every, most: rule.most as usize, last }, &done, self.today);
        let entry = |at: usize| ink.iter().find(|(place, _)| *place == at).map(|(_, work)| (work.entry, work.on));
        Ok(times.into_iter().enumerate().map(|(at, time)| Slot { time, ink: entry(at), waits: false }).collect())
    }

    /// Whether it was done in one of the seasons that must lie between one time and the next.
    fn rests(&self, step: &RegimeStep, rule: &Once, season: i16) -> bool {
        let every = rule.every.unwrap_or(1);
        (season.saturating_sub(every - 1)..season).any(|before| !self.ink(step, before).is_empty())
    }

    fn once(
        &self,
        step: &RegimeStep,
        rule: &Once,
        season: i16,
        ink: &[(usize, &Operation)],
    ) -> Result<Vec<Slot>, Said> {
        let mut slots: Vec<Slot> = ink.iter().map(|(_, work)| Slot::of_ink(work)).collect();
        let from = self.edge(rule.from, season)?.max(plus(self.sown_on, rule.young.low));
        let to = self.edge(rule.to, season)?;
        if slots.is_empty() && from <= to && !self.rests(step, rule, season) {
            // Late by as long as its time lasts, it is left out.
            let passed = plus(to, (to - from).get_days()) < self.today;
            let time = Time { from, to, due: from.max(self.today), done: false, passed };
            slots.push(Slot { time, ink: None, waits: false });
        }
        Ok(slots)
    }

    /// With each time of another step: what was done belongs to the last time before it that has none yet.
    fn each(&self, rule: &Each, with: &[Slot], ink: &[(usize, &Operation)]) -> Vec<Slot> {
        let mut inks: Vec<Option<&Operation>> = vec![None; with.len()];
        // Its own times are counted among those that it comes with.
        let own: Vec<usize> = (0..with.len()).filter(|at| rule.which.is(*at, with.len())).collect();
        let mut beyond = vec![];
        for (_, work) in ink {
            let told = self.facts.time_of(work).and_then(|time| usize::try_from(time).ok()?.checked_sub(1));
            let named = told.and_then(|time| own.get(time).copied()).filter(|at| inks[*at].is_none());
            let after = || {
                let began = |at: &usize| with[*at].time.due <= work.on && inks[*at].is_none();
                own.iter().rev().copied().find(began)
            };
            match named.or_else(after) {
                Some(at) => inks[at] = Some(work),
                None => beyond.push(Slot::of_ink(work)),
            }
        }
        let mut slots: Vec<Slot> = with
            .iter()
            .enumerate()
            .filter(|(at, _)| own.contains(at))
            .map(|(at, base)| match inks[at] {
                Some(work) => Slot::of_ink(work),
                None => {
                    let (from, to) = (plus(base.time.due, rule.after.low), plus(base.time.due, rule.after.high));
                    // Once the next has come its time is over.
                    let passed = base.time.passed || with.get(at + 1).is_some_and(|next| next.time.done);
                    let time = Time { from, to, due: from.max(self.today), done: false, passed };
                    Slot { time, ink: None, waits: !base.time.done }
                }
            })
            .collect();
        slots.extend(beyond);
        slots.truncate(MOST);
        slots
    }

    fn step(&self, step: &RegimeStep, season: i16, (at, times): (usize, u32), slot: &Slot) -> Option<Step> {
        let operation = operation(&step.operation)?;
        let Time { from, to, passed, .. } = slot.time;
        let state = match slot.ink {
            Some((entry, on)) => State::Done { entry, on },
            None if passed => State::Passed,
            None if self.today < from => State::Waiting,
            None if slot.waits => {
                State::Blocked { by: vec![WaitsFor { step: None, words: "the cut it follows".into() }] }
            }
            None if self.today > to => State::Overdue,
            None => State::Ready,
        };
        Some(Step {
            season: Some(season),
            occurrence: at as u32 + 1,
            times,
            reasons: words::reasons(&step.reasons, self.crops),
            ..Step::of(operation, &step.key, From::Regime, (from, to), state, (self.choices, self.crops))
        })
    }
}
