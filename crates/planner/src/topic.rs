//! The topics `plan.make` and `plan.compare`: the planner without a farm, for who has facts and weather of their own.

use std::{
    collections::HashMap,
    sync::{Arc, Mutex, PoisonError},
};

use agronomy::{
    practice::operation,
    refusal::{Checks, Refused},
    said,
    said::Said,
    site::{PastCrop, SiteFacts, Spray},
    soil::SoilTest,
    source::{Origin, Source},
    units::{Area, Fraction, Length, Unit},
    weather::{WeatherInput, Years, plus, usual_year::usual_year, year_start},
    window::Forecast,
    working::{Answer, Sheet},
    years::{Known, Scenarios, SiteRuns},
};
use jiff::civil::Date;
use records::{
    Choices, Closes,
    book::{Dated, Ground, Operation, StandBook},
    kinds::choices::ChoicesShape,
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    Plan, Proposal, Sky, Succession, Trouble, Whole, assess,
    compare::{Comparison, MOST_WAYS, compare, way},
    ground::Asked,
    usual,
    weather::seedbed,
    whole,
};

/// Days of a stretch of years.
const STRETCH: usize = 500;
/// Work that can be told of.
const MOST_DONE: usize = 500;
/// Records of a kind that can be told of.
const MOST_TOLD: usize = 200;

/// Work that was done.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = DoneWork)]
pub struct Done {
    /// Key of the operation.
    pub operation: String,
    /// The day.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// The step of the plan it was meant for.
    #[serde(default)]
    pub step: Option<String>,
    /// Which time of it.
    #[serde(default)]
    pub occurrence: Option<u32>,
}

/// What is known of a place.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PlannedPlace {
    /// The day it is asked.
    #[schema(value_type = String, format = Date)]
    pub today: Date,
    /// Area to sow.
    pub area: Area,
    /// Kept from the boundary.
    #[serde(default)]
    pub setback: Length,
    /// What a walk and the maps tell.
    #[serde(default)]
    pub facts: SiteFacts,
    /// The latest soil test.
    #[serde(default)]
    pub soil: Option<SoilTest>,
    /// Herbicides.
    #[serde(default)]
    pub sprays: Vec<Spray>,
    /// Crops that were ended here.
    #[serde(default)]
    pub past_crops: Vec<PastCrop>,
    /// All there is to tell of three years has been told.
    #[serde(default)]
    pub history_known: bool,
    /// Work done on the stand and its ground.
    #[serde(default)]
    pub done: Vec<Done>,
    /// The weather, up to yesterday; without it no odds.
    #[serde(default)]
    pub weather: Option<WeatherInput>,
    /// Odds at which a window opens and closes.
    #[serde(default = "half")]
    pub level: Fraction,
}

fn half() -> Fraction {
    Fraction::percent(50.0)
}

/// Request of the topic `plan.make`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PlanRequest {
    /// The place.
    pub place: PlannedPlace,
    /// What was decided.
    pub choices: ChoicesShape,
    /// Sow on the first sound day, whatever day the choices name.
    #[serde(default)]
    pub first_sound_day: bool,
}

/// A plan, and what it rests on.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PlanMade {
    /// The steps.
    pub plan: Plan,
    /// The first sound day to sow, and why.
    pub proposal: Option<Proposal>,
    /// Whether the field is fit, in a sentence.
    #[schema(value_type = Option<String>)]
    pub fit: Option<Said>,
    /// What could not be reckoned.
    pub troubles: Vec<Trouble>,
}

/// A way to set beside others.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct AskedWay {
    /// What it is called.
    pub name: String,
    /// What would be decided.
    pub choices: ChoicesShape,
    /// Sow on the first sound day, whatever day the choices name.
    #[serde(default)]
    pub first_sound_day: bool,
}

/// Request of the topic `plan.compare`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = PlansRequest)]
pub struct CompareRequest {
    /// The place.
    pub place: PlannedPlace,
    /// The ways.
    pub ways: Vec<AskedWay>,
}

/// The place as the planner asks for it, its years kept between questions.
struct Site<'a> {
    place: &'a PlannedPlace,
    ground: Ground,
    stand: StandBook,
    years: Option<Years>,
    stretches: Mutex<HashMap<Date, Arc<Scenarios>>>,
}

impl<'a> Site<'a> {
    fn of(place: &'a PlannedPlace) -> Result<Self, Refused> {
        let mut checks = Checks::new();
        checks.within("/place/area", "Area", place.area, Unit::Ha, 0.001, 20_000.0);
        checks.within("/place/setback", "Setback", place.setback, Unit::M, 0.0, 500.0);
        checks.within("/place/level", "Odds level", place.level, Unit::Percent, 1.0, 99.0);
        checks.require(
            place.done.len() <= MOST_DONE,
            "/place/done",
            said!("{} records of work; the limit is {}", place.done.len(), MOST_DONE),
        );
        for (at, many) in [("/place/sprays", place.sprays.len()), ("/place/past_crops", place.past_crops.len())] {
            checks.require(many <= MOST_TOLD, at, said!("{} items; the limit is {}", many, MOST_TOLD));
        }
        for (index, done) in place.done.iter().enumerate() {
            let at = |field: &str| format!("/place/done/{index}/{field}");
            let known = operation(&done.operation).is_some();
            let detail = said!("“{}” is not a known operation", done.operation);
            checks.require(known, at("operation"), detail);
            checks.require(done.on <= place.today, at("on"), said!("{} is in the future", done.on));
        }
        checks.done()?;
        let years = place.weather.as_ref().map(WeatherInput::years).transpose();
        let years = years.map_err(|refused| refused.under("/place"))?;
        let dated = |index: usize, on: Date| (Uuid::from_u128(index as u128 + 1), on);
        let operations = place.done.iter().enumerate().map(|(index, done)| {
            let (entry, on) = dated(index, done.on);
            let closes = done.step.clone().map(|step| Closes {
                stand: Uuid::nil(),
                step,
                season: None,
                occurrence: done.occurrence.and_then(|time| i32::try_from(time).ok()),
            });
            Operation { entry, operation: done.operation.clone(), closes, on, struck: false }
        });
        let stand = StandBook { operations: operations.collect(), ..StandBook::default() };
        let tests = place.soil.iter().map(|test| Dated { entry: Uuid::nil(), on: test.sampled_on, what: test.clone() });
        let sprays = place.sprays.iter().map(|spray| Dated { entry: Uuid::nil(), on: spray.on, what: spray.clone() });
        let crops =
            place.past_crops.iter().map(|past| Dated { entry: Uuid::nil(), on: past.ended, what: past.clone() });
        let ground = Ground {
            facts: place.facts.clone(),
            history_known: place.history_known,
            tests: tests.collect(),
            sprays: sprays.collect(),
            past_crops: crops.collect(),
            ..Ground::default()
        };
        Ok(Self { place, ground, stand, years, stretches: Mutex::default() })
    }

    fn stretch(&self, years: &Years, day: Date) -> Arc<Scenarios> {
        let first = year_start(years.place.latitude, day);
        let mut kept = self.stretches.lock().unwrap_or_else(PoisonError::into_inner);
        let made = || {
            let known = Known { years, today: self.place.today, forecast: &Forecast::default() };
            Arc::new(Scenarios::new(known, first, STRETCH))
        };
        kept.entry(first).or_insert_with(made).clone()
    }

    /// All that choices imply here, and the choices with the day they came to.
    fn whole(&self, shape: &ChoicesShape, first_sound_day: bool) -> Result<(Choices, Whole), Refused> {
        let mut choices: Choices = shape.ready();
        records::check(&choices, self.place.today)?;
        if first_sound_day && let Some(proposal) = &self.asked(&choices).core.proposal {
            choices.sow_on = proposal.sow_on;
        }
        let whole = self.asked(&choices);
        Ok((choices, whole))
    }

    fn asked(&self, choices: &Choices) -> Whole {
        let place = self.place;
        let sown_on = self.stand.sown_on();
        let latitude = self.years.as_ref().map_or(45.0, |years| years.place.latitude);
        let asked = Asked {
            choices,
            ground: &self.ground,
            area: place.area,
            setback: place.setback,
            today: place.today,
            sown_on,
            year_start: year_start(latitude, place.today),
            usual: self
                .years
                .as_ref()
                .and_then(|years| usual(choices, |base, killing| usual_year(years, base, killing))),
        };
        let stand = (!self.stand.operations.is_empty()).then_some(&self.stand);
        let Some(years) = &self.years else {
            return whole(asked, assess(asked, stand, &Succession::default(), None), &[]);
        };
        let bed = seedbed(choices, &self.ground, years);
        let ahead = |day: Date| -> (Arc<Scenarios>, Arc<SiteRuns>) {
            let scenarios = self.stretch(years, day);
            let runs = Arc::new(scenarios.site(&bed));
            (scenarios, runs)
        };
        let (scenarios, runs) = ahead(choices.sow_on.max(plus(place.today, -400)));
        let sky = Sky { years: &scenarios, runs: &runs, level: place.level, ahead: &ahead };
        whole(asked, assess(asked, stand, &Succession::default(), Some(sky)), &[])
    }
}

fn sheet_of(title: &str) -> Sheet {
    let mut sheet = Sheet::new(title);
    sheet.source(Source::common_practice("steps, timing and order come from the library’s methods"));
    sheet
}

/// The topic `plan.make`: facts, choices and weather in, a plan out.
///
/// # Errors
/// Facts or choices that can't be, weather that can't be read.
pub fn make(request: &PlanRequest) -> Result<Answer<PlanMade>, Refused> {
    let site = Site::of(&request.place)?;
    let (_, whole) =
        site.whole(&request.choices, request.first_sound_day).map_err(|refused| refused.under("/choices"))?;
    let core = whole.core;
    let mut sheet = sheet_of("a plan");
    let plan = core.plan;
    sheet.input("steps", plan.steps.len() as f64, Origin::Given);
    let open = plan.steps.iter().filter(|step| step.inked().is_none()).count();
    sheet.gathered("open", "number of open steps", open as f64);
    let fit = core.readiness.map(|readiness| sheet.part(readiness).says);
    Ok(sheet.answer(PlanMade { plan, proposal: core.proposal, fit, troubles: core.troubles }))
}

/// The topic `plan.compare`: ways of making one stand, side by side.
///
/// # Errors
/// As [`make`], and no ways or more than six.
pub fn compared(request: &CompareRequest) -> Result<Answer<Comparison>, Refused> {
    let many = request.ways.len();
    if !(1..=MOST_WAYS).contains(&many) {
        return Err(Refused::one("/ways", said!("{} methods; enter 1 to {}", many, MOST_WAYS)));
    }
    let site = Site::of(&request.place)?;
    let mut ways = vec![];
    for (index, asked) in request.ways.iter().enumerate() {
        let under = |refused: Refused| refused.under(&format!("/ways/{index}/choices"));
        let (choices, whole) = site.whole(&asked.choices, asked.first_sound_day).map_err(under)?;
        ways.push(way(&asked.name, &choices, &whole));
    }
    let comparison = compare(ways);
    let mut sheet = sheet_of("methods compared");
    sheet.input("ways", many as f64, Origin::Given);
    sheet.gathered("steps that differ", "number of steps that differ", comparison.differ.len() as f64);
    Ok(sheet.answer(comparison))
}
