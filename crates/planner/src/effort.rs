//! How long steps take with the farm's machines, and where two want one machine on the same days.

use agronomy::{
    machine::{MachineKind, field_capacity},
    practice::operation,
    units::{Area, Time, Unit},
};
use jiff::{ToSpan, civil::Date};
use records::kinds::machine::MachineFacts;
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{Plan, State, Step};

/// Hours of work in a fit day, and the share of days that are fit: our own assumption, no source.
pub const HOURS_A_DAY: f64 = 10.0;
const FIT: f64 = 0.5;
/// Days ahead that are looked at.
const AHEAD: i32 = 60;
/// A step with more days than these to be done in waits for nobody.
const PRESSING: i32 = 14;

/// A stand's plan, and what its work is done on.
#[derive(Debug, Clone, Copy)]
pub struct Work<'a> {
    /// The field.
    pub field: Uuid,
    /// Its name.
    pub name: &'a str,
    /// The stand.
    pub stand: Uuid,
    /// Area to be worked.
    pub area: Area,
    /// Its seed is spread on the surface.
    pub broadcast: bool,
    /// It is set out as plants.
    pub plants: bool,
    /// Its plan.
    pub plan: &'a Plan,
}

/// A step that wants a machine.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Wanted {
    /// The field.
    pub field: Uuid,
    /// Its name.
    pub name: String,
    /// The stand.
    pub stand: Uuid,
    /// The step.
    pub title: String,
    /// First day it can be done.
    #[schema(value_type = String, format = Date)]
    pub from: Date,
    /// Last sensible day.
    #[schema(value_type = String, format = Date)]
    pub to: Date,
    /// How long it takes; none where the machine's width is not known.
    pub hours: Option<Time>,
    /// Odds that a week's wait costs, of a sowing; less than nothing where it gains.
    pub a_week_costs: Option<f64>,
}

/// Days on which several steps want one machine.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Clash {
    /// Which machine, in a word.
    pub machine: String,
    /// How many of them there are.
    pub of: usize,
    /// First of these days.
    #[schema(value_type = String, format = Date)]
    pub from: Date,
    /// The last.
    #[schema(value_type = String, format = Date)]
    pub to: Date,
    /// The steps, the one that waits worst first.
    pub wanted: Vec<Wanted>,
    /// What they take in all; none where one is not known.
    pub hours: Option<Time>,
    /// What these days leave room for, at ten hours a day and every other day fit.
    pub room: Time,
    /// They take more than there is room for.
    pub tight: bool,
}

/// How long a machine takes over an area; none where its width is not known or it is not a matter of width.
pub fn hours(machine: &MachineFacts, area: Area) -> Option<Time> {
    let usual = machine.machine.usual();
    let speed = machine.speed.or(usual.map(|usual| usual.0))?;
    let efficiency = machine.efficiency.or(usual.map(|usual| usual.1))?;
    let capacity = field_capacity(speed, machine.width?, efficiency);
    let hours = area.to(Unit::Ha) / capacity.to(Unit::HaPerH);
    hours.is_finite().then(|| Time::new(hours, Unit::H))
}

fn machine_of(step: &Step, work: &Work<'_>) -> Option<MachineKind> {
    let kind = operation(&step.look.operation)?.machine?;
    match kind {
        MachineKind::Drill if work.plants => None,
        MachineKind::Drill if work.broadcast => Some(MachineKind::Spreader),
        kind => Some(kind),
    }
}

/// The days in which a step presses: none while it has plenty of them.
fn pressing(step: &Step, today: Date) -> Option<(Date, Date)> {
    if matches!(step.state, State::Done { .. } | State::Passed) {
        return None;
    }
    let from = step.from.max(today);
    // What is late wants to be done at once.
    let to = if step.to < today { today.saturating_add(6.days()) } else { step.to };
    let soon = (from - today).get_days() <= AHEAD;
    (soon && (to - from).get_days() <= PRESSING).then_some((from, to))
}

/// Where steps of several stands want one machine on the same days.
pub fn clashes(all: &[Work<'_>], machines: &[&MachineFacts], today: Date) -> Vec<Clash> {
    let mut found = vec![];
    let mut kinds: Vec<MachineKind> = vec![];
    for machine in machines.iter().filter(|machine| !machine.gone) {
        if !kinds.contains(&machine.machine) {
            kinds.push(machine.machine);
        }
    }
    for kind in kinds {
        let own: Vec<&&MachineFacts> = machines.iter().filter(|one| !one.gone && one.machine == kind).collect();
        let takes = |area: Area| {
            let all = own.iter().filter_map(|machine| hours(machine, area));
            all.reduce(|best, one| if one < best { one } else { best })
        };
        let mut wanted: Vec<Wanted> = all
            .iter()
            .flat_map(|work| {
                let steps = work.plan.steps.iter().filter(move |step| machine_of(step, work) == Some(kind));
                steps.filter_map(move |step| {
                    let (from, to) = pressing(step, today)?;
                    let a_week_costs = step.odds.as_ref().and_then(|odds| Some(odds.odds - odds.in_a_week?));
                    Some((work, step, from, to, a_week_costs))
                })
            })
            .map(|(work, step, from, to, a_week_costs)| Wanted {
                field: work.field,
                name: work.name.to_owned(),
                stand: work.stand,
                title: step.title.clone(),
                from,
                to,
                hours: takes(work.area),
                a_week_costs,
            })
            .collect();
        wanted.sort_by_key(|one| (one.from, one.to, one.stand));
        let mut rest = wanted.into_iter().peekable();
        while let Some(first) = rest.next() {
            let (from, mut to, mut group) = (first.from, first.to, vec![first]);
            while let Some(next) = rest.next_if(|next| next.from <= to) {
                to = to.max(next.to);
                group.push(next);
            }
            if group.iter().any(|one| one.stand != group[0].stand) {
                found.push(clash(kind, own.len(), (from, to), group));
            }
        }
    }
    found.sort_by_key(|clash| (!clash.tight, clash.from));
    found
}

fn clash(kind: MachineKind, of: usize, (from, to): (Date, Date), mut wanted: Vec<Wanted>) -> Clash {
    let hours: Option<f64> = wanted.iter().map(|one| Some(one.hours?.to(Unit::H))).sum();
    let days = f64::from((to - from).get_days() + 1);
    let room = days * FIT * HOURS_A_DAY * of as f64;
    let worst = |one: &Wanted| one.a_week_costs.unwrap_or(0.0);
    wanted.sort_by(|a, b| worst(b).total_cmp(&worst(a)).then(a.to.cmp(&b.to)));
    Clash {
        machine: kind.words().to_owned(),
        of,
        from,
        to,
        wanted,
        hours: hours.map(|hours| Time::new(hours, Unit::H)),
        room: Time::new(room, Unit::H),
        tight: hours.is_some_and(|hours| hours > room),
    }
}
