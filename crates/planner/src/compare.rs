//! Ways of making a stand side by side: when each is sown, how likely it works, what it costs and brings, and the steps
//! in which they differ.

use agronomy::{
    crop::library,
    practice::practice,
    site::Verdict,
    units::{MassPerArea, Measure, Money},
};
use jiff::civil::Date;
use records::{Choices, Cover};
use serde::Serialize;
use utoipa::ToSchema;

use crate::{Proposal, State, Step, StepOdds, Trouble, Whole};

/// Years of yield that are told.
const YEARS: usize = 4;

/// A way of making a stand, worked out.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
#[schema(as = ComparedWay)]
pub struct Way {
    /// What it is called here.
    pub name: String,
    /// Key of its practice.
    pub practice: String,
    /// Its practice, in words.
    pub school: String,
    /// The day it is to be sown.
    #[schema(value_type = String, format = Date)]
    pub sow_on: Date,
    /// Its odds, where weather years tell.
    pub odds: Option<StepOdds>,
    /// The first sound day, and why.
    pub proposal: Option<Proposal>,
    /// Whether the field is fit for it.
    pub fit: Option<Verdict>,
    /// What its seed costs; none where lots lack or have no price.
    pub cost: Option<Money>,
    /// Dry matter of the sowing year and those after it, by the library, where it comes up as it should.
    pub yields: Vec<MassPerArea>,
    /// The day of its first step that is open.
    #[schema(value_type = Option<String>, format = Date)]
    pub begins: Option<Date>,
    /// Steps that are too late already.
    pub late: usize,
    /// Its steps.
    pub steps: Vec<Step>,
    /// What could not be reckoned.
    pub troubles: Vec<Trouble>,
}

/// A step that is not the same in all ways.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
#[schema(as = PlanDifference)]
pub struct Difference {
    /// What is done.
    pub title: String,
    /// First and last sensible day of its first time, way by way; none where a way has it not.
    pub days: Vec<Option<StepDays>>,
    /// Times in each way.
    pub times: Vec<usize>,
}

/// Days of a step.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct StepDays {
    /// First sensible day.
    #[schema(value_type = String, format = Date)]
    pub from: Date,
    /// Last sensible day.
    #[schema(value_type = String, format = Date)]
    pub to: Date,
}

/// Ways side by side.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
#[schema(as = PlanComparison)]
pub struct Comparison {
    /// In the order asked.
    pub ways: Vec<Way>,
    /// Steps that are not the same in all, in the order of their days.
    pub differ: Vec<Difference>,
    /// Steps that are the same in all.
    pub same: Vec<String>,
}

/// Dry matter to expect, year by year: each member by its part of the stand and its years to full yield. None where the
/// mix can't be.
fn yields(choices: &Choices, whole: &Whole) -> Vec<MassPerArea> {
    let parts: Vec<(&str, f64)> = match (&choices.cover, &whole.mix) {
        (Cover::Plants { plants }, _) => vec![(&plants.crop, 1.0)],
        (Cover::Seed { .. }, Some(mix)) => {
            let all = mix.value.full_rate_share.base();
            let members = mix.value.members.iter();
            members.map(|one| (one.crop.as_str(), one.full_rate_share.base() / all.max(1e-9))).collect()
        }
        (Cover::Seed { .. }, None) => return vec![],
    };
    let in_year = |year: usize| {
        let of = |(id, part): &(&str, f64)| {
            let stand = &library().crop(id)?.stand;
            let (low, high) = stand.yields.ends::<MassPerArea>();
            Some((low.base() + high.base()) / 2.0 * stand.share_in(year) * part)
        };
        MassPerArea::from_base(parts.iter().filter_map(of).sum())
    };
    (1..=YEARS).map(in_year).collect()
}

/// One way, from what it implies.
pub fn way(name: &str, choices: &Choices, whole: &Whole) -> Way {
    let plan = &whole.core.plan;
    let open = || plan.steps.iter().filter(|step| !matches!(step.state, State::Done { .. } | State::Passed));
    let sowing = plan.steps.iter().find(|step| step.is_sowing());
    let order = whole.order.as_ref().map(|order| &order.value);
    let covered = whole.need.as_ref().is_some_and(|need| need.without_lot.is_empty());
    let priced = order.filter(|order| covered && order.unpriced.is_empty() && order.short.is_empty());
    Way {
        name: name.to_owned(),
        practice: choices.practice.clone(),
        school: practice(&choices.practice).map_or_else(|| choices.practice.clone(), |school| school.name.clone()),
        sow_on: plan.sown_on,
        odds: sowing.and_then(|step| step.odds.clone()),
        proposal: whole.core.proposal.clone(),
        fit: whole.core.readiness.as_ref().map(|readiness| readiness.value.verdict),
        cost: priced.map(|order| order.cost),
        yields: yields(choices, whole),
        begins: open().map(|step| step.from.max(plan.today)).min(),
        late: open().filter(|step| !step.is_sowing() && step.to < plan.today).count(),
        steps: plan.steps.clone(),
        troubles: whole.core.troubles.clone(),
    }
}

/// Ways side by side: steps are matched by what is done.
pub fn compare(ways: Vec<Way>) -> Comparison {
    let mut titles: Vec<&str> = vec![];
    for step in ways.iter().flat_map(|way| &way.steps) {
        if !titles.contains(&step.title.as_str()) {
            titles.push(&step.title);
        }
    }
    let mut differ: Vec<Difference> = vec![];
    let mut same = vec![];
    for title in titles {
        let in_way = |way: &Way| -> Vec<StepDays> {
            let steps = way.steps.iter().filter(|step| step.title == title);
            steps.map(|step| StepDays { from: step.from, to: step.to }).collect()
        };
        let all: Vec<Vec<StepDays>> = ways.iter().map(in_way).collect();
        if all.windows(2).all(|pair| pair[0] == pair[1]) {
            same.push(title.to_owned());
            continue;
        }
        let days = all.iter().map(|days| days.iter().min_by_key(|days| days.from).copied()).collect();
        differ.push(Difference { title: title.to_owned(), days, times: all.iter().map(Vec::len).collect() });
    }
    differ.sort_by_key(|one| one.days.iter().flatten().map(|days| days.from).min());
    Comparison { ways, differ, same }
}

/// Ways compared at once, at the most.
pub const MOST_WAYS: usize = 6;
