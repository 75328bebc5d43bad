//! The plan itself: a practice expanded to dated steps.

use std::collections::BTreeSet;

use agronomy::{
    crop::{Crop, Life, Pathway, library},
    practice::{self as shelf, Amount, Asked, Condition, Gate, Practice, Role, Template, operation, practice, regime},
    said,
    said::Said,
};
use jiff::{ToSpan, civil::Date};
use records::{
    Choices, Closes,
    book::{Operation, Seen, sown_on},
};
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    GroundNeeds, Mending, SeasonUse, SownSoFar, State, Step, StepOdds, Succession, Undated, Uses, WeatherHeld,
    calendar::Calendar,
    matching::{Matched, match_all, of_the_stand},
    mending::{days_of, is_mending},
    needs, regime,
    step::{From, WaitsFor},
    words,
};

/// Days from sowing until a forage annual is cut or grazed off: an assumption for drawing, until
/// growth is reckoned.
const ANNUAL_DAYS: i32 = 120;
/// Days from sowing after which no annual is cut any more: sown in late summer, a winter annual is cut until the next
/// (common practice).
const ANNUAL_CUTS: i32 = 330;

/// Days after which nothing is said of its emergence any more: dormant seed may lie a winter (assumed).
const MAY_STILL_EMERGE: i32 = 365;

/// What is known of a stand and its field.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Facts {
    /// The stand; nothing of what is asked apart from any.
    pub stand: Uuid,
    /// The stands of its field.
    pub succession: Succession,
    /// Operations on the stand itself; struck ones close nothing.
    pub on_stand: Vec<Operation>,
    /// Operations on its ground; which of them count, the practice says.
    pub on_ground: Vec<Operation>,
    /// How much of it is sown, by the records of seed and plants.
    pub sown: Option<SownSoFar>,
    /// What the ground asks for.
    pub needs: GroundNeeds,
    /// What was last seen.
    pub seen: Seen,
    /// What a look at the seedbed asks to be done, done or not.
    pub mendings: Vec<Mending>,
    /// How likely the sowing is to work on its day, where weather years tell.
    pub sowing: Option<StepOdds>,
    /// How it is used once it is made, and the usual year of its place.
    pub uses: Uses,
    /// Whether the weather holds what steps wait for, by step; nothing where no years tell.
    pub weather: Vec<WeatherHeld>,
}

impl Facts {
    /// The place of this stand that work says it closes; nothing where it closes another's, or does not say.
    pub(crate) fn closed_by<'a>(&self, work: &'a Operation) -> Option<&'a Closes> {
        work.closes.as_ref().filter(|closes| closes.stand == self.stand)
    }

    /// Which time of a step it says that it was.
    pub(crate) fn time_of(&self, work: &Operation) -> Option<i32> {
        self.closed_by(work)?.occurrence
    }
}

/// A plan, derived for one day.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Plan {
    /// The day it was derived for.
    #[schema(value_type = String, format = Date)]
    pub today: Date,
    /// Key of its practice.
    pub practice: String,
    /// The day the stand was or will be sown, as far as is known.
    #[schema(value_type = String, format = Date)]
    pub sown_on: Date,
    /// Whether that day is ink.
    pub sown: bool,
    /// When it has given what it gives: annuals only; others stand until they are ended.
    #[schema(value_type = Option<String>, format = Date)]
    pub until: Option<Date>,
    /// Steps, in the order of the practice; what was added or done beyond it beside its like.
    pub steps: Vec<Step>,
    /// What it is used for in this season and the next.
    pub seasons: Vec<SeasonUse>,
    /// Steps of its use that can't be dated, and why.
    pub undated: Vec<Undated>,
    /// Figures this plan rests on that a measurement would replace.
    pub assumed: Vec<String>,
}

/// Derive the plan of a stand.
///
/// The choices must have passed [`records::check`]; crops and operations the library does not hold add
/// nothing.
pub fn plan(choices: &Choices, facts: &Facts, today: Date) -> Plan {
    let crops: Vec<&Crop> = choices.cover.crops().iter().filter_map(|id| library().crop(id)).collect();
    let school = practice(&choices.practice).or_else(|| practice("tilled"));
    let sown = sown_on(&facts.on_stand).into_iter().chain(facts.sown.map(|sown| sown.first)).min();
    let calendar = Calendar::new(choices, &crops, sown, today, &facts.uses);
    let matched = school.map(|school| match_all(school, choices, facts, &calendar)).unwrap_or_default();
    let taken = matched.iter().flat_map(|one| one.done.iter().flatten()).map(|done| done.entry).collect();
    let annual = !crops.is_empty() && crops.iter().all(|crop| crop.life == Life::Annual);
    let until = annual.then(|| calendar.sown_on.saturating_add(ANNUAL_DAYS.days()));
    let cut_until = annual.then(|| calendar.sown_on.saturating_add(ANNUAL_CUTS.days()));
    let used = regime::expand(choices, facts, &crops, (calendar.sown_on, cut_until, today), &taken);
    let mut steps = school
        .map(|school| expand(school, matched, choices, facts, &crops, &calendar, &used.taken))
        .unwrap_or_default();
    steps.extend(used.steps);
    add_extra(&mut steps, choices, facts, &crops, today);
    if sown.is_none() {
        add_mendings(&mut steps, choices, facts, &crops, today);
    }

    let mut assumed = vec![];
    if facts.sowing.is_none() && sown.is_none() {
        assumed.push("Sowing day as you set it; there are no weather years to work out odds.".to_owned());
    }
    if sown.is_none_or(|on| (today - on).get_days() < MAY_STILL_EMERGE) {
        assumed.push("Days to emergence assume warm, moist soil; your emergence check replaces them.".to_owned());
    }
    Plan {
        today,
        practice: choices.practice.clone(),
        sown_on: calendar.sown_on,
        sown: sown.is_some(),
        until,
        steps,
        seasons: facts.uses.around(today),
        undated: used.undated,
        assumed,
    }
}

/// The steps of a practice, and what was done beyond it; `used` is what closed a step of the stand's use.
fn expand(
    school: &Practice,
    matched: Vec<Matched<'_>>,
    choices: &Choices,
    facts: &Facts,
    crops: &[&Crop],
    calendar: &Calendar<'_>,
    used: &BTreeSet<Uuid>,
) -> Vec<Step> {
    let stands = |step: &Matched<'_>| {
        step.template.gates.iter().all(|gate| match gate {
            Gate::BioassayCalledFor => facts.needs.bioassay || step.any_done(),
            Gate::LimeDue => facts.needs.lime.is_some() || step.any_done(),
            Gate::NutrientsDue => needs::due(step.template, &facts.needs).is_some() || step.any_done(),
            Gate::FromSeed => !choices.cover.is_plants(),
            Gate::FromPlants => choices.cover.is_plants(),
            Gate::WarmSeasonPerennial => {
                crops.iter().all(|crop| crop.pathway == Pathway::C4 && crop.life != Life::Annual) && !crops.is_empty()
            }
            Gate::KeptByFire => choices.regime.as_deref().and_then(regime).is_some_and(|regime| regime.has("burn")),
        })
    };
    let (matched, gone): (Vec<Matched<'_>>, Vec<Matched<'_>>) = matched.into_iter().partition(stands);
    let find = |key: &str| matched.iter().find(|one| one.template.key == key);
    // Left behind: what leaves it behind was done, or was left behind itself.
    let passed = |template: &Template| {
        let mut next = template.until.as_deref();
        let mut hops = 0;
        while let Some(key) = next {
            if find(key).is_some_and(Matched::any_done) {
                return true;
            }
            hops += 1;
            next = school.step(key).and_then(|step| step.until.as_deref()).filter(|_| hops <= school.steps.len());
        }
        false
    };
    let done_on = |key: &str| find(key).and_then(|one| one.done.first().copied().flatten()).map(|one| one.on);
    let mut steps = vec![];
    for one in &matched {
        let template = one.template;
        let Some(operation) = operation(&template.operation) else { continue };
        let after: Vec<String> = template.after.iter().filter(|key| find(key).is_some()).cloned().collect();
        let (from, to) = calendar.time(school, template, &done_on);
        let mut last: Option<Date> = None;
        for (index, done) in one.done.iter().enumerate() {
            let usual = calendar.occurrence(template, (from, to), index as i32, last);
            let late = calendar.late(facts.succession.decided(facts.stand), usual).filter(|_| done.is_none());
            let (from, to) = late.unwrap_or(usual);
            let mut missing: Vec<WaitsFor> = after
                .iter()
                .filter_map(|key| find(key))
                .filter(|before| !before.all_done())
                .map(|before| WaitsFor {
                    step: Some(before.template.key.clone()),
                    words: words::planned(before.template, choices).into(),
                })
                .collect();
            if index > 0 && one.done[index - 1].is_none() {
                missing.push(WaitsFor { step: Some(template.key.clone()), words: "the previous time".into() });
            }
            missing.extend(unmet(template, facts, calendar.today, &find));
            let state = match done {
                Some(done) => State::Done { entry: done.entry, on: done.on },
                None if passed(template) => State::Passed,
                // It was never possible for this stand.
                None if late.is_some() && calendar.sown.is_some() => State::Passed,
                None if calendar.today > to => State::Overdue,
                None if calendar.today < from => State::Waiting,
                None if missing.is_empty() => State::Ready,
                None => State::Blocked { by: missing },
            };
            last = done.map(|done| done.on);
            // Done in another way than is usual here, it is drawn as what was done.
            let own = done.and_then(|done| shelf::operation(&done.operation)).unwrap_or(operation);
            let sowing = operation.role == Some(Role::Sowing);
            let reasons = words::reasons(&template.reasons, crops);
            let mut shown = Step::of(own, &template.key, From::Practice, (from, to), state, (choices, crops));
            if let Some(title) = template.title.as_ref().filter(|_| done.is_none()) {
                // What it is called and what stands beside its mark are one.
                (shown.title, shown.look.planned) = (title.clone(), title.to_lowercase());
            }
            let step = Step {
                occurrence: index as u32 + 1,
                times: one.times,
                odds: (sowing && done.is_none()).then(|| facts.sowing.clone()).flatten(),
                amounts: match template.amount {
                    Some(Amount::Lime) => facts.needs.lime.clone().unwrap_or_default(),
                    _ => vec![],
                },
                part: facts.sown.filter(|_| sowing && done.is_none()).map(|sown| sown.part),
                after: after.clone(),
                reasons: late.map(|_| words::late(usual.1)).into_iter().chain(reasons).collect(),
                cautions: words::cautions(operation, &template.cautions, choices, crops),
                on_ground: template.counts.is_some(),
                ..shown
            };
            steps.push(match needs::due(template, &facts.needs) {
                Some(dressing) => needs::feeds(step, dressing),
                None => step,
            });
        }
        let beyond = one.beyond.iter().filter(|done| !used.contains(&done.entry));
        for (beyond, done) in beyond.enumerate() {
            steps.push(beyond_the_plan(done, &template.key, one.times + beyond as u32 + 1, choices, crops));
        }
    }
    // What was done of a step that does not stand in the plan.
    for one in &gone {
        let beyond = one.beyond.iter().filter(|done| !used.contains(&done.entry));
        steps.extend(
            (1..).zip(beyond).map(|(time, done)| beyond_the_plan(done, &one.template.key, time, choices, crops)),
        );
    }
    // Work that no step of the practice speaks of.
    let mut rest: Vec<&Operation> = of_the_stand(facts)
        .filter(|one| !used.contains(&one.entry))
        .filter(|one| {
            // What a finding asked for is no step of the practice, though it may be of one operation with it.
            let asked = facts.closed_by(one).is_some_and(|closes| is_mending(&closes.step));
            asked || school.steps.iter().all(|step| !step.is_done_by(&one.operation))
        })
        .filter(|one| choices.extra.iter().all(|extra| extra.operation != one.operation))
        .collect();
    rest.sort_by_key(|one| (one.operation.clone(), one.on, one.entry));
    let mut times: Vec<(&str, u32)> = vec![];
    for done in rest {
        let time = match times.iter_mut().find(|(key, _)| *key == done.operation) {
            Some((_, time)) => {
                *time += 1;
                *time
            }
            None => {
                times.push((&done.operation, 1));
                1
            }
        };
        steps.push(beyond_the_plan(done, &done.operation, time, choices, crops));
    }
    for step in &mut steps {
        if let Some((_, all)) = times.iter().find(|(key, _)| *key == step.step) {
            step.times = *all;
        }
    }
    steps
}

/// Conditions of a step that are not met.
fn unmet<'a>(
    template: &Template,
    facts: &Facts,
    today: Date,
    find: &impl Fn(&str) -> Option<&'a Matched<'a>>,
) -> Vec<WaitsFor> {
    let mut waits = vec![];
    let mut want = |words: Said| waits.push(WaitsFor { step: None, words });
    for condition in &template.conditions {
        let Condition::Seen(asked) = condition else { continue };
        match asked {
            Asked::PlantHeight { at_least } => match facts.seen.plants {
                Some((_, height)) if height >= *at_least => {}
                Some((on, height)) => want(said!("plants {} tall (were {} on {})", at_least, height, on)),
                None => want(said!("plants {} tall (not checked)", at_least)),
            },
            Asked::WeedHeight { at_least } => match facts.seen.weeds {
                Some((_, height)) if height >= *at_least => {}
                Some((on, height)) => want(said!("weeds {} tall (were {} on {})", at_least, height, on)),
                None => want(said!("weeds {} tall (not checked)", at_least)),
            },
            Asked::GreenUp if facts.seen.green.is_none() => want("green-up (not seen yet)".into()),
            Asked::GreenUp => {}
            Asked::Stand { at_least } => match facts.seen.count {
                Some((_, count)) if count >= *at_least => {}
                Some((on, count)) => want(said!("{} plants (were {} on {})", at_least, count, on)),
                None => want(said!("{} plants (not counted)", at_least)),
            },
            Asked::DaysSince { step, days } => {
                let on = find(step).and_then(|one| one.done.last().copied().flatten()).map(|one| one.on);
                match on.map(|on| on.saturating_add((*days).days())) {
                    Some(free) if free <= today => {}
                    Some(free) => want(said!("{} ({} days after)", free, days)),
                    None => want(said!("{} days after the previous step", days)),
                }
            }
            Asked::Passed { step } if find(step).is_none_or(Matched::all_done) => {}
            Asked::Passed { step } => want(said!("{} finished", step.replace('-', " "))),
            Asked::From { on } if *on <= today => {}
            Asked::From { on } => want(said!("{}", on)),
        }
    }
    for held in facts.weather.iter().filter(|held| held.step == template.key && !held.today) {
        want(held.words.clone());
    }
    waits
}

/// A step that was done beyond what was planned.
fn beyond_the_plan(done: &Operation, key: &str, time: u32, choices: &Choices, crops: &[&Crop]) -> Step {
    let known = operation(&done.operation);
    Step {
        step: key.to_owned(),
        season: None,
        occurrence: time,
        times: time,
        from_where: From::Record,
        title: known.map_or_else(|| done.operation.clone(), |one| words::title(one, choices)),
        look: known.map_or_else(|| words::unknown(&done.operation), |one| words::look(one, choices)),
        record: known.map_or_else(|| "step".to_owned(), |one| one.record.clone()),
        on_ground: false,
        asks: vec![],
        amounts: vec![],
        from: done.on,
        to: done.on,
        state: State::Done { entry: done.entry, on: done.on },
        part: None,
        after: vec![],
        odds: None,
        reasons: vec![],
        cautions: known.map(|one| words::cautions(one, &[], choices, crops)).unwrap_or_default(),
    }
}

/// Steps that a finding asks for and nobody has done: they stand before the sowing.
fn add_mendings(steps: &mut Vec<Step>, choices: &Choices, facts: &Facts, crops: &[&Crop], today: Date) {
    let open = |one: &&Mending| !of_the_stand(facts).any(|done| one.met_by(done));
    for one in facts.mendings.iter().filter(open) {
        let Some(operation) = operation(one.operation) else { continue };
        let (from, to) = days_of(one, today);
        let step = Step {
            reasons: vec![words::found(one)],
            ..Step::of(operation, &one.key, From::Finding, (from, to), State::Ready, (choices, crops))
        };
        let title = step.title.clone();
        let Some(sowing) = steps.iter().position(Step::is_sowing) else { continue };
        let waits = WaitsFor { step: Some(one.key.clone()), words: said!("{}, from a check", title) };
        steps[sowing].after.push(one.key.clone());
        match &mut steps[sowing].state {
            State::Blocked { by } => by.push(waits),
            state @ State::Ready => *state = State::Blocked { by: vec![waits] },
            _ => {}
        }
        steps.insert(sowing, step);
    }
}

/// Steps that the person added, closed by work that names them or, failing that, by the first of its kind
/// that no other step took.
fn add_extra(steps: &mut Vec<Step>, choices: &Choices, facts: &Facts, crops: &[&Crop], today: Date) {
    let mut extra: Vec<_> = choices.extra.iter().collect();
    extra.sort_by_key(|one| (one.on, one.key.clone()));
    for one in extra {
        let Some(operation) = operation(&one.operation) else { continue };
        let free = |done: &&Operation| {
            done.operation == one.operation
                && steps.iter().all(|step| {
                    step.from_where == From::Record || step.inked().is_none_or(|(entry, _)| entry != done.entry)
                })
        };
        let closes = |done: &Operation| facts.closed_by(done).map(|closes| closes.step.clone());
        let named = |done: &&Operation| closes(done).as_ref() == Some(&one.key);
        let done = of_the_stand(facts)
            .filter(free)
            .filter(|done| closes(done).is_none() || named(done))
            .min_by_key(|done| (!named(done), done.on, done.entry));
        // What stood there as done beyond the plan is this step.
        if let Some(done) = done {
            steps.retain(|step| step.inked().is_none_or(|(entry, _)| entry != done.entry));
        }
        let (from, to) = (one.on, one.on.saturating_add(6.days()));
        let state = match done {
            Some(done) => State::Done { entry: done.entry, on: done.on },
            None if today > to => State::Overdue,
            None if today < from => State::Waiting,
            None => State::Ready,
        };
        let custom = agronomy::source::Source::common_practice("your own decision");
        let reason = one.why.as_ref().map(|why| crate::Reason { text: why.as_str().into(), source: custom });
        let step = Step {
            reasons: reason.into_iter().collect(),
            ..Step::of(operation, &one.key, From::Person, (from, to), state, (choices, crops))
        };
        let like = steps.iter().rposition(|other| other.look.operation == one.operation);
        steps.insert(like.map_or(steps.len(), |index| index + 1), step);
    }
}
