//! The first day on which a stand can soundly be sown.

use agronomy::{
    said,
    said::Said,
    units::{Fraction, Unit},
    window::WindowAnswer,
    working::Answer,
};
use jiff::{ToSpan, civil::Date};
use records::{Choices, Cover};
use serde::Serialize;
use utoipa::ToSchema;

use crate::{
    plan::{Facts, plan},
    step::{State, Step},
};

/// A day proposed for sowing.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Proposal {
    /// The day.
    #[schema(value_type = String, format = Date)]
    pub sow_on: Date,
    /// Its odds, where weather years tell.
    pub odds: Option<f64>,
    /// Why that day.
    #[schema(value_type = String)]
    pub why: Said,
    /// A later day on which it works in clearly more years.
    pub better: Option<BetterDay>,
}

/// A day that is worth waiting for.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct BetterDay {
    /// The day.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// Its odds.
    pub odds: f64,
}

/// So much more is worth a wait (assumed).
const CLEARLY: f64 = 0.10;

/// Rounds of putting the sowing off until nothing is too late: each step that stands in the way may
/// uncover one that does so a little longer.
const ROUNDS: usize = 12;

/// The ways of timing a sowing, worked out over the years that hold a day.
pub type Around<'a> = &'a dyn Fn(Date) -> Vec<Answer<WindowAnswer>>;

/// The first day on which nothing that has to be done before is too late already, and on which sowing works
/// in so many years as the person wants; the likeliest day where it never does.
///
/// It is asked of the years around that first day and of those after them, wherever the choices have their sowing: the
/// same question has one answer.
pub fn proposal(choices: &Choices, facts: &Facts, around: Around<'_>, level: Fraction, today: Date) -> Proposal {
    let (in_time, last) = in_time(choices, facts, today);
    let held_up = last.map(|title| said!("leaves time for “{}”", title));
    let told =
        |sow_on, odds, words: Vec<Said>, better| Proposal { sow_on, odds, why: Said::joined(words, "; "), better };
    let mut known = known_from(in_time, choices, &around(in_time));
    let level = level.to(Unit::One);
    let sound = |known: &[Known]| known.iter().find(|one| one.odds >= level).cloned();
    let mut first = sound(&known);
    if first.is_none()
        && let Some(next) = known.last().and_then(|last| last.day.checked_add(1.day()).ok())
    {
        known.extend(known_from(next, choices, &around(next)));
        first = sound(&known);
    }
    let best = known.iter().reduce(|best, one| if one.odds > best.odds { one } else { best });
    if let Some(Known { day, odds, way }) = first {
        let first = said!("first day at {} or better: {} of years, {}", percent(level), percent(odds), way);
        let better = best.filter(|best| best.day > day && best.odds >= odds + CLEARLY);
        let better = better.map(|best| BetterDay { on: best.day, odds: best.odds });
        return told(day, Some(odds), std::iter::once(first).chain(held_up).collect(), better);
    }
    if let Some(Known { day, odds, way }) = best.cloned() {
        let likeliest = said!("no day reaches {}; the best has {}, {}", percent(level), percent(odds), way);
        return told(day, Some(odds), std::iter::once(likeliest).chain(held_up).collect(), None);
    }
    let unknown = Said::from(match choices.timing {
        Some(_) => "no odds for the sowing window chosen",
        None => "the weather record does not reach that far",
    });
    told(in_time, None, held_up.into_iter().chain([unknown]).collect(), None)
}

/// A day whose odds are known, by the likeliest way on it.
#[derive(Debug, Clone)]
struct Known {
    day: Date,
    odds: f64,
    way: String,
}

/// Days from one on, without a gap, as far as the years tell.
fn known_from(first: Date, choices: &Choices, windows: &[Answer<WindowAnswer>]) -> Vec<Known> {
    let chosen: Vec<&WindowAnswer> = windows
        .iter()
        .map(|answer| &answer.value)
        .filter(|value| choices.timing.as_ref().is_none_or(|timing| *timing == value.window))
        .collect();
    let on = |day: Date| {
        let told = chosen.iter().filter_map(|value| Some((value.curve.on(day)?, &value.name)));
        told.reduce(|best, one| if one.0 > best.0 { one } else { best })
    };
    let days = std::iter::successors(Some(first), |day| day.checked_add(1.day()).ok());
    days.map_while(|day| on(day).map(|(odds, way)| Known { day, odds, way: way.clone() })).collect()
}

fn percent(share: f64) -> String {
    format!("{}%", (100.0 * share).round())
}

/// The first day from which on no step before the sowing is too late, and the step that took longest.
fn in_time(choices: &Choices, facts: &Facts, today: Date) -> (Date, Option<String>) {
    let (mut day, mut last) = (today, None);
    // Seed in the shed takes no time to order.
    let at_hand = matches!(&choices.cover, Cover::Seed { lots, .. } if !lots.is_empty());
    for _ in 0..ROUNDS {
        let tried = plan(&Choices { sow_on: day, ..choices.clone() }, facts, today);
        let late = |step: &Step| (today - step.to).get_days();
        let open = tried.steps.iter().filter(|step| {
            let ordered = at_hand && step.look.operation == "order-seed";
            let done = matches!(step.state, State::Done { .. } | State::Passed);
            !step.is_sowing() && !ordered && !done && step.to < today
        });
        let Some(latest) = open.max_by_key(|step| late(step)) else { break };
        let Ok(later) = day.checked_add(late(latest).days()) else { break };
        (day, last) = (later, Some(latest.title.clone()));
    }
    (day, last)
}
