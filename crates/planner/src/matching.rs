//! Which work in ink closes which step of a practice.

use agronomy::practice::{Anchor, Practice, Role, Template, operation};
use jiff::ToSpan;
use records::{Choices, Closes, book::Operation};

use crate::{
    Facts,
    calendar::{Calendar, months},
    mending::is_mending,
};

/// Days after the time of a step of the making in which work that names none is still taken for it (assumed).
const LATE: i32 = 30;

/// A template step with the operations that closed its occurrences, in order.
pub(crate) struct Matched<'a> {
    pub template: &'a Template,
    pub times: u32,
    pub done: Vec<Option<&'a Operation>>,
    pub beyond: Vec<&'a Operation>,
}

impl Matched<'_> {
    pub fn all_done(&self) -> bool {
        self.done.iter().all(Option::is_some)
    }

    pub fn any_done(&self) -> bool {
        self.done.iter().any(Option::is_some)
    }
}

/// All work that is this stand's: its own, and that on its ground which was done for it or taken from it.
pub(crate) fn of_the_stand(facts: &Facts) -> impl Iterator<Item = &Operation> {
    let ground = facts.on_ground.iter().filter(|one| facts.succession.whose(one) == Some(facts.stand));
    facts.on_stand.iter().chain(ground).filter(|one| !one.struck)
}

/// Which work closes which occurrence of which step, and what was done beyond.
pub(crate) fn match_all<'a>(
    school: &'a Practice,
    choices: &'a Choices,
    facts: &'a Facts,
    calendar: &Calendar<'_>,
) -> Vec<Matched<'a>> {
    let mut matched: Vec<Matched<'a>> = vec![];
    // A step that counts since another is matched after it: the order of the file does not matter.
    let mut waiting: Vec<&'a Template> = school.steps.iter().collect();
    while !waiting.is_empty() {
        let ready = |template: &&Template| {
            let since = template.counts.as_ref().and_then(|counts| counts.since.as_ref());
            since.is_none_or(|key| matched.iter().any(|one| one.template.key == *key))
        };
        let next = waiting.iter().position(ready).unwrap_or(0);
        let template = waiting.remove(next);
        let one = match_one(school, template, choices, facts, calendar, &matched);
        matched.push(one);
    }
    matched.sort_by_key(|one| school.steps.iter().position(|step| step.key == one.template.key));
    matched
}

fn match_one<'a>(
    school: &'a Practice,
    template: &'a Template,
    choices: &'a Choices,
    facts: &'a Facts,
    calendar: &Calendar<'_>,
    matched: &[Matched<'a>],
) -> Matched<'a> {
    let times = template.repeats.map_or(1, |repeats| repeats.times);
    // Several steps may be of one operation: what names its step closes that one.
    let names_other = |one: &Operation| {
        facts.closed_by(one).is_some_and(|Closes { step: key, .. }| {
            let known = school.step(key).is_some()
                || facts.uses.step(key).is_some()
                || choices.extra.iter().any(|extra| extra.key == *key);
            *key != template.key && (known || is_mending(key))
        })
    };
    let taken =
        |one: &Operation| matched.iter().any(|other| other.done.iter().flatten().any(|done| done.entry == one.entry));
    // Of what comes again in the use of the stand, that which names no step was not done for its making, once the time for
    // that was over.
    let sows = operation(&template.operation).is_some_and(|known| known.role == Some(Role::Sowing));
    let over = match template.from.anchor {
        Anchor::PlannedSowing => calendar.sown,
        Anchor::Sowing => Some(calendar.time(school, template, &|_| None).1.saturating_add(LATE.days())),
        Anchor::Step(_) => None,
    };
    let over = over.filter(|_| !sows && facts.uses.has(&template.operation));
    let of_its_use = |one: &Operation| facts.closed_by(one).is_none() && over.is_some_and(|over| one.on > over);
    // Rolled before the sowing is not rolled after it.
    let too_soon = |one: &Operation| {
        let unnamed = template.after_sowing && facts.closed_by(one).is_none();
        unnamed && calendar.sown.is_none_or(|sown| one.on < sown)
    };
    let fits = |one: &&Operation| {
        template.is_done_by(&one.operation) && !one.struck && !names_other(one) && !taken(one) && !of_its_use(one)
    };
    let mut own: Vec<&'a Operation> = facts.on_stand.iter().filter(fits).filter(|one| !too_soon(one)).collect();
    let in_period: Vec<&'a Operation> = of_the_stand(facts).filter(fits).collect();
    if let Some(counts) = &template.counts {
        let until = calendar.sown.unwrap_or(calendar.today);
        let since = counts.since.as_ref().map(|key| {
            let closing = matched.iter().find(|other| other.template.key == *key);
            closing
                .and_then(|other| other.done.last().copied().flatten())
                .map_or(until.saturating_sub(1.year()), |done| done.on)
        });
        let ground = facts.on_ground.iter().filter(fits).filter(|one| {
            one.on <= until
                && since.is_none_or(|since| one.on >= since)
                && counts.months_before_sowing.is_none_or(|most| months(one.on, choices.sow_on) <= most)
        });
        own.extend(ground);
        if counts.latest
            && let Some(latest) = own.iter().copied().max_by_key(|one| (one.on, one.entry))
        {
            own = vec![latest];
        }
    }
    own.sort_by_key(|one| (one.on, one.entry));
    let mut done: Vec<Option<&'a Operation>> = vec![None; times as usize];
    let mut beyond = vec![];
    // Those that say which time they were come first.
    let (said, unsaid): (Vec<&Operation>, Vec<&Operation>) =
        own.iter().copied().partition(|one| facts.time_of(one).is_some());
    for one in said.into_iter().chain(unsaid) {
        let named = facts.time_of(one).and_then(|time| usize::try_from(time).ok()?.checked_sub(1));
        let free = named
            .filter(|index| done.get(*index).is_some_and(Option::is_none))
            .or_else(|| done.iter().position(Option::is_none));
        match free {
            Some(index) => done[index] = Some(one),
            None => beyond.push(one),
        }
    }
    let latest_only = template.counts.as_ref().is_some_and(|counts| counts.latest);
    for one in in_period {
        let known = own.iter().any(|other| other.entry == one.entry);
        if !known && !latest_only {
            beyond.push(one);
        }
    }
    beyond.sort_by_key(|one| (one.on, one.entry));
    Matched { template, times, done, beyond }
}
