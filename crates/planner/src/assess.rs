//! One assessment: what a stand's choices, records, weather and day imply.

use std::{collections::BTreeMap, sync::Arc};

use agronomy::{
    lime::{LimeNeed, PhPath},
    mix::{self, MixRates},
    nutrients::Needs,
    plants::{self, PlantCount, PlantsRequest},
    practice::{Gate as StepGate, Role, Template, operation, practice},
    refusal::Refused,
    said::Said,
    seed::{self, Order},
    site::Readiness,
    units::Fraction,
    window::WindowAnswer,
    working::Answer,
    years::{Scenarios, SiteRuns},
};
use jiff::civil::Date;
use records::{
    Choices, Cover,
    book::{Operation, StandBook},
};
use serde::Serialize;
use utoipa::ToSchema;

use crate::{
    Facts, LotFacts, Plan, Proposal, SeedNeed, SownSoFar, Succession, Uses,
    gates::{Gate, GateFacts, gates, seed_gate},
    ground::{self, Asked},
    mendings, order_request, plan, proposal, seed_need,
    weather::{Question, Timing, chosen_in_vain, held_today, on_its_day, sowing, timings},
};

/// A part of an assessment.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Part {
    Readiness,
    Window,
    Lime,
    Path,
    Nutrients,
    Mix,
    Plants,
    Seed,
    Order,
}

/// A part that can't be reckoned, and why.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Trouble {
    /// Which part.
    pub part: Part,
    /// The choice to blame, as a JSON pointer into the choices.
    pub pointer: String,
    /// Why, in a sentence.
    #[schema(value_type = String)]
    pub detail: Said,
}

/// Parts that could not be reckoned, as they turn up.
#[derive(Debug, Default)]
struct Troubles(Vec<Trouble>);

impl Troubles {
    fn settle<T>(&mut self, part: Part, outcome: Result<Option<T>, Refused>) -> Option<T> {
        outcome.unwrap_or_else(|refused| {
            let each = refused.0.into_iter();
            self.0.extend(each.map(|one| Trouble { part, pointer: one.pointer, detail: one.detail }));
            None
        })
    }
}

/// The years that hold a day, and the stand's seedbed in them.
pub type Ahead<'a> = &'a dyn Fn(Date) -> (Arc<Scenarios>, Arc<SiteRuns>);

/// The weather years as a person asks them.
#[derive(Clone, Copy)]
pub struct Sky<'a> {
    /// The years, with what is known of this one.
    pub years: &'a Scenarios,
    /// The stand's seedbed in them.
    pub runs: &'a SiteRuns,
    /// Odds at which a window opens and closes.
    pub level: Fraction,
    /// The years of other days than the sowing's.
    pub ahead: Ahead<'a>,
}

/// What a plan rests on, each part reckoned once.
#[derive(Debug, Clone)]
pub struct Assessment {
    /// Whether the field is fit.
    pub readiness: Option<Answer<Readiness>>,
    /// The lime decided on.
    pub lime: Option<Answer<LimeNeed>>,
    /// Nutrients by every school.
    pub needs: Option<Answer<Needs>>,
    /// When it could be sown; empty without weather years or once it is.
    pub windows: Vec<Answer<WindowAnswer>>,
    /// The ways of timing that it may be sown in here; as empty.
    pub timings: Vec<Timing>,
    /// The first sound day to sow, for a stand that is not started yet.
    pub proposal: Option<Proposal>,
    /// The steps.
    pub plan: Plan,
    /// What must be so before it is sown, but for the seed; none once it is.
    pub gates: Vec<Gate>,
    /// What could not be reckoned.
    pub troubles: Vec<Trouble>,
}

/// Assess a stand: its own book, when it has one, among the stands of its field.
pub fn assess(
    asked: Asked<'_>,
    stand: Option<&StandBook>,
    succession: &Succession,
    sky: Option<Sky<'_>>,
) -> Assessment {
    let mut troubles = Troubles::default();
    let readiness = troubles.settle(Part::Readiness, ground::readiness(asked));
    let lime = troubles.settle(Part::Lime, ground::lime_need(asked));
    let uses = uses(asked, stand);
    let this_use = Choices { regime: used_for(asked, &uses), ..asked.choices.clone() };
    let as_used = Asked { choices: &this_use, ..asked };
    let needs = troubles.settle(Part::Nutrients, ground::needs(as_used));
    let value = |readiness: &Option<Answer<Readiness>>| readiness.as_ref().map(|answer| answer.value.clone());
    let fit = value(&readiness);
    let so_far = stand.and_then(|stand| SownSoFar::of(asked.choices, stand, asked.area));
    let mut on_stand = stand.map(|stand| stand.operations.clone()).unwrap_or_default();
    on_stand.extend(so_far.and_then(|sown| sowing_done(asked.choices, sown, &on_stand)));
    let mut facts = Facts {
        on_stand,
        sown: so_far,
        on_ground: asked.ground.operations.clone(),
        stand: stand.map(|stand| stand.id).unwrap_or_default(),
        succession: succession.clone(),
        needs: ground::ground_needs(
            as_used,
            fit.as_ref(),
            lime.as_ref().map(|answer| &answer.value),
            needs.as_ref().map(|answer| &answer.value),
        ),
        seen: asked.ground.seen.or_later(stand.map(|stand| stand.seen).unwrap_or_default()),
        mendings: mendings(asked.choices, asked.ground, asked.today),
        sowing: None,
        uses,
        weather: vec![],
    };
    let earliest = fit.and_then(|fit| fit.earliest);
    let (mut windows, mut ways) = (vec![], vec![]);
    if let Some(Sky { years, runs, level, .. }) = sky {
        let question = Question { asked, years, level, stake: None };
        if asked.sown_on.is_none() {
            windows = sowing(question, runs, earliest);
            ways = timings(asked.choices, years.frosty());
            let in_vain = chosen_in_vain(asked.choices, years.frosty()).filter(|_| !years.runs().is_empty());
            let pointer = || "/timing".to_owned();
            troubles.0.extend(in_vain.map(|detail| Trouble { part: Part::Window, pointer: pointer(), detail }));
            facts.sowing = on_its_day(asked.choices, &windows);
        }
        facts.weather = held_today(question, runs);
    }
    // Work may have been done for a stand that nobody has decided on yet.
    let undecided = asked.sown_on.is_none() && stand.is_none_or(|stand| stand.decisions.is_empty());
    let proposal = undecided.then(|| {
        // From when on the field is fit is asked of today: asked of a later day, what is over by then is not seen.
        let now = Choices { sow_on: asked.today, ..asked.choices.clone() };
        let of_now = Asked { choices: &now, ..asked };
        let fit = ground::readiness(of_now).ok().flatten().map(|fit| fit.value);
        let fit_from = fit.as_ref().and_then(|fit| fit.earliest);
        let value = |answer: &Option<Answer<LimeNeed>>| answer.as_ref().map(|answer| answer.value.clone());
        let (lime, needs) = (value(&lime), needs.as_ref().map(|answer| answer.value.clone()));
        let needs = ground::ground_needs(of_now, fit.as_ref(), lime.as_ref(), needs.as_ref());
        let facts = Facts { needs, sowing: None, ..facts.clone() };
        let level = sky.map_or(Fraction::percent(50.0), |sky| sky.level);
        let around = |day: Date| {
            let Some(Sky { level, ahead, years: own, .. }) = sky else { return vec![] };
            let (years, runs) = ahead(day);
            if years.first() == own.first() && fit_from == earliest && !windows.is_empty() {
                return windows.clone();
            }
            let choices = Choices { sow_on: day, ..asked.choices.clone() };
            let asked = Asked { choices: &choices, ..asked };
            sowing(Question { asked, years: &years, level, stake: None }, &runs, fit_from)
        };
        proposal(asked.choices, &facts, &around, level, asked.today)
    });
    let plan = plan(asked.choices, &facts, asked.today);
    let fit = value(&readiness);
    let last_catch = stand.and_then(|stand| stand.calibrated.iter().max_by_key(|one| one.on));
    let gates = gates(GateFacts { asked, facts: &facts, plan: &plan, readiness: fit.as_ref(), sky, last_catch });
    Assessment { readiness, lime, needs, windows, timings: ways, proposal, plan, gates, troubles: troubles.0 }
}

/// The step of a practice that brings seed or plants into the ground.
pub fn sowing_step(choices: &Choices) -> Option<&'static Template> {
    let steps = &practice(&choices.practice)?.steps;
    let other = if choices.cover.is_plants() { StepGate::FromSeed } else { StepGate::FromPlants };
    let sows = |key: &str| operation(key).is_some_and(|known| known.role == Some(Role::Sowing));
    steps.iter().find(|step| sows(&step.operation) && !step.gates.contains(&other))
}

/// What was sown is the sowing: the records of seed that cover the field stand for the step, where nobody inked it.
fn sowing_done(choices: &Choices, sown: SownSoFar, on_stand: &[Operation]) -> Option<Operation> {
    let is_sowing = |one: &Operation| !one.struck && one.role() == Some(Role::Sowing);
    if !sown.covers() || on_stand.iter().any(is_sowing) {
        return None;
    }
    let step = sowing_step(choices)?;
    Some(Operation { entry: sown.last, operation: step.operation.clone(), closes: None, on: sown.first, struck: false })
}

/// How a stand is used: as it was decided on with it, and as it was decided since for a season on.
fn uses(asked: Asked<'_>, stand: Option<&StandBook>) -> Uses {
    let mut uses = Uses { from: vec![], year_start: Some(asked.year_start), usual: asked.usual };
    let began = uses.season_of(asked.sown_on.unwrap_or(asked.choices.sow_on));
    let mut by_season: BTreeMap<i16, &str> = asked.choices.regime.iter().map(|key| (began, key.as_str())).collect();
    let since = stand.map_or(&[][..], |stand| &stand.regimes);
    by_season.extend(since.iter().map(|one| (one.what.season, one.what.regime.as_str())));
    uses.from = by_season.into_iter().map(|(season, key)| (season, key.to_owned())).collect();
    uses
}

/// What it is used for this season, or in its first where that is still to come: a use that was changed since changes what
/// the harvest removes.
fn used_for(asked: Asked<'_>, uses: &Uses) -> Option<String> {
    let first = uses.season_of(asked.sown_on.unwrap_or(asked.choices.sow_on));
    uses.in_season(uses.season_of(asked.today).max(first)).map(|regime| regime.key.clone())
}

/// The lots of a farm, as they are known.
pub type Lots<'a> = &'a [LotFacts];

/// All that choices imply beside the plan: seed, plants, order, the path of pH.
#[derive(Debug, Clone)]
pub struct Whole {
    /// What the plan rests on, and the plan.
    pub core: Assessment,
    /// The mix, when sown from seed.
    pub mix: Option<Answer<MixRates>>,
    /// The plants, when set out.
    pub plants: Option<Answer<PlantCount>>,
    /// Seed needed.
    pub need: Option<SeedNeed>,
    /// The order from the chosen lots.
    pub order: Option<Answer<Order>>,
    /// What becomes of pH.
    pub path: Option<Answer<PhPath>>,
}

/// The whole of what choices imply, from an assessment of them.
pub fn whole(asked: Asked<'_>, mut core: Assessment, lots: Lots<'_>) -> Whole {
    let choices = asked.choices;
    let mut troubles = Troubles(std::mem::take(&mut core.troubles));
    let path = ground::ph_path(asked, core.lime.as_ref().map(|answer| &answer.value));
    let path = troubles.settle(Part::Path, path);
    let (mix, plants) = match &choices.cover {
        Cover::Seed { mix, .. } => (mix::rates(mix).map(Some).map_err(|refused| refused.under("/cover/mix")), Ok(None)),
        Cover::Plants { plants } => {
            let request = PlantsRequest {
                crop: Some(plants.crop.clone()),
                area: asked.area,
                row_spacing: plants.row_spacing,
                in_row: plants.in_row,
                survival: None,
                aim: None,
                pieces_per_station: plants.pieces_per_station,
                spare: choices.spare,
            };
            (Ok(None), plants::count(&request).map(Some).map_err(|refused| refused.under("/cover/plants")))
        }
    };
    let mix = troubles.settle(Part::Mix, mix);
    let plants = troubles.settle(Part::Plants, plants);
    // A mix that can't be has said so already.
    let (need, order) = if choices.cover.is_plants() || mix.is_some() {
        let need = troubles.settle(Part::Seed, seed_need(choices, asked.area, lots).map(Some));
        let order = order_request(choices, asked.area, lots);
        let order = order.and_then(|request| request.map(|request| seed::order(&request)).transpose());
        (need, troubles.settle(Part::Order, order))
    } else {
        (None, None)
    };
    core.troubles = troubles.0;
    // In the order of the list, the seed before the drill.
    let seed = seed_gate(asked, &core.plan, need.as_ref(), order.as_ref().map(|answer| &answer.value));
    core.gates.extend(seed);
    core.gates.sort_by_key(|gate| gate.key);
    Whole { core, mix, plants, need, order, path }
}
