//! The plan itself.

use agronomy::{
    caution::Caution,
    crop::{Crop, Days, Life, library},
    seed::Method,
    source::Source,
};
use jiff::{ToSpan, civil::Date};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{Choices, Cover, Reason, SeedbedSchool, State, Step, StepAmount, StepKind, StepOdds};

/// Days from sowing until a forage annual is cut or grazed off: an assumption for drawing, until
/// growth is reckoned.
const ANNUAL_DAYS: i32 = 120;

/// A step that has been inked and not struck.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct InkedStep {
    /// The entry.
    pub entry: Uuid,
    /// Which step.
    pub kind: StepKind,
    /// The day it happened.
    pub on: Date,
}

/// What the ground of the field asks for, as [`crate::ground`] finds it.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct GroundSteps {
    /// The soil has to be sampled, or has been.
    pub sample: bool,
    /// A bioassay is called for, or has been made.
    pub bioassay: bool,
    /// Lime was decided on or spread; how much, while it is planned.
    pub lime: Option<Vec<StepAmount>>,
    /// Nutrients were decided on or brought; how much, while they are planned.
    pub dress: Option<Vec<StepAmount>>,
}

/// What is known: what has been inked on this stand and its field.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Facts {
    /// Inked steps of the stand, struck ones left out, in any order.
    pub inked: Vec<InkedStep>,
    /// What the ground asks for.
    pub ground: GroundSteps,
    /// How likely the sowing is to work on its day, where weather years tell.
    pub sowing: Option<StepOdds>,
}

/// A plan, derived for one day.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Plan {
    /// The day it was derived for.
    #[schema(value_type = String, format = Date)]
    pub today: Date,
    /// The day the stand was or will be sown, as far as is known.
    #[schema(value_type = String, format = Date)]
    pub sown_on: Date,
    /// Whether that day is ink.
    pub sown: bool,
    /// When it has given what it gives: annuals only; others stand until they are ended.
    #[schema(value_type = Option<String>, format = Date)]
    pub until: Option<Date>,
    /// Steps, in the order they are done.
    pub steps: Vec<Step>,
    /// Figures this plan rests on that a measurement would replace.
    pub assumed: Vec<String>,
}

/// Derive the plan of a stand.
///
/// The choices must have passed [`crate::check`]; crops the library does not hold add nothing.
pub fn plan(choices: &Choices, facts: &Facts, today: Date) -> Plan {
    let crops: Vec<&Crop> = choices.cover.crops().iter().filter_map(|id| library().crop(id)).collect();
    let inked = |kind| facts.inked.iter().filter(|one| one.kind == kind).min_by_key(|one| (one.on, one.entry));
    let sown = inked(StepKind::Sow);
    // An unsown stand whose day has gone by can't come up before it is sown.
    let sown_on = sown.map_or(choices.sow_on.max(today), |sow| sow.on);

    let mut steps = Vec::new();
    let asked = |kind: StepKind| match kind {
        StepKind::SampleSoil => facts.ground.sample,
        StepKind::Bioassay => facts.ground.bioassay,
        StepKind::Lime => facts.ground.lime.is_some(),
        StepKind::Dress => facts.ground.dress.is_some(),
        _ => true,
    };
    for kind in StepKind::ALL.into_iter().filter(|kind| asked(*kind)) {
        let (from, to) = when(kind, choices, &crops, sown_on);
        let after: Vec<StepKind> = after(kind).into_iter().filter(|before| asked(*before)).collect();
        let missing: Vec<StepKind> = after.iter().copied().filter(|before| inked(*before).is_none()).collect();
        let later_inked = facts.inked.iter().any(|one| one.kind > kind && one.kind >= StepKind::Sow);
        let state = match inked(kind) {
            Some(ink) => State::Done { entry: ink.entry, on: ink.on },
            None if later_inked => State::Passed,
            None if today > to => State::Overdue,
            None if today < from => State::Waiting,
            None if missing.is_empty() => State::Ready,
            None => State::Blocked { by: missing },
        };
        steps.push(Step {
            kind,
            title: title(kind, &choices.cover),
            amounts: amounts(kind, &facts.ground),
            odds: (kind == StepKind::Sow && sown.is_none()).then(|| facts.sowing.clone()).flatten(),
            from,
            to,
            state,
            after,
            reasons: reasons(kind, choices, &crops),
            cautions: cautions(kind, choices, &crops),
        });
    }
    let annual = !crops.is_empty() && crops.iter().all(|crop| crop.life == Life::Annual);
    let until = annual.then(|| sown_on.saturating_add(ANNUAL_DAYS.days()));
    let asked = if facts.sowing.is_some() || sown.is_some() {
        None
    } else {
        Some("The sowing day is the one you set: there are no weather years to ask.".to_owned())
    };
    let mut assumed: Vec<String> = asked.into_iter().collect();
    assumed.push("Days to the first seedlings are for warm, moist soil; the first look replaces them.".to_owned());
    Plan { today, sown_on, sown: sown.is_some(), until, steps, assumed }
}

/// What must be done before a step.
fn after(kind: StepKind) -> Vec<StepKind> {
    use StepKind::{Bioassay, Calibrate, Count, Dress, FirstLook, Lime, OrderSeed, Prepare, SampleSoil, Sow};
    match kind {
        SampleSoil | Bioassay => vec![],
        Lime | Dress => vec![SampleSoil],
        OrderSeed => vec![Bioassay],
        Prepare => vec![Lime],
        Calibrate => vec![OrderSeed],
        Sow => vec![Bioassay, OrderSeed, Prepare, Calibrate],
        FirstLook | Count => vec![Sow],
    }
}

/// The widest range of days among the crops: the slowest member decides when a look tells.
fn slowest(crops: &[&Crop], days: fn(&Crop) -> &Days) -> (i32, i32) {
    let low = crops.iter().map(|crop| days(crop).low).max().unwrap_or(7);
    let high = crops.iter().map(|crop| days(crop).high).max().unwrap_or(14);
    (low, high)
}

/// First and last sensible day of a step.
fn when(kind: StepKind, choices: &Choices, crops: &[&Crop], sown_on: Date) -> (Date, Date) {
    let planned = choices.sow_on;
    let before = |from: i32, to: i32| (planned.saturating_sub(from.days()), planned.saturating_sub(to.days()));
    let later = |(from, to): (i32, i32)| (sown_on.saturating_add(from.days()), sown_on.saturating_add(to.days()));
    match (kind, choices.seedbed) {
        (StepKind::SampleSoil, _) => before(365, 183),
        (StepKind::Bioassay, _) => before(120, 42),
        (StepKind::Lime, _) => before(365, 183),
        (StepKind::Dress, _) => before(35, 0),
        (StepKind::OrderSeed, _) => before(56, 28),
        (StepKind::Prepare, SeedbedSchool::NoTill) => before(28, 7),
        (StepKind::Prepare, _) => before(35, 1),
        (StepKind::Calibrate, _) => before(5, 0),
        (StepKind::Sow, _) => (planned, planned.saturating_add(6.days())),
        (StepKind::FirstLook, _) => later(slowest(crops, |crop| &crop.establish.first_look)),
        (StepKind::Count, _) => later(slowest(crops, |crop| &crop.establish.count)),
    }
}

/// How much of what a step takes, where that was worked out.
fn amounts(kind: StepKind, ground: &GroundSteps) -> Vec<StepAmount> {
    match kind {
        StepKind::Lime => ground.lime.clone().unwrap_or_default(),
        StepKind::Dress => ground.dress.clone().unwrap_or_default(),
        _ => vec![],
    }
}

fn title(kind: StepKind, cover: &Cover) -> String {
    let plants = matches!(cover, Cover::Plants { .. });
    let broadcast = matches!(cover, Cover::Seed { mix, .. } if mix.conditions.method == Method::Broadcast);
    match kind {
        StepKind::SampleSoil => "Sample the soil",
        StepKind::Bioassay => "Bioassay: grow it in a pot",
        StepKind::Lime => "Lime",
        StepKind::Dress => "Bring nutrients",
        StepKind::OrderSeed if plants => "Order plants",
        StepKind::OrderSeed => "Order seed",
        StepKind::Prepare => "Prepare the seedbed",
        StepKind::Calibrate if plants => "Mark out the rows",
        StepKind::Calibrate if broadcast => "Calibrate the spreader",
        StepKind::Calibrate => "Calibrate the drill",
        StepKind::Sow if plants => "Plant",
        StepKind::Sow => "Sow",
        StepKind::FirstLook => "First look",
        StepKind::Count => "Count the stand",
    }
    .to_owned()
}

fn reasons(kind: StepKind, choices: &Choices, crops: &[&Crop]) -> Vec<Reason> {
    let practice =
        |text: &str| Reason { text: text.to_owned(), source: Source::common_practice("common practice, no source") };
    let by_crop = |text: String, key: &str| Reason { text, source: library().source(key).clone() };
    match kind {
        StepKind::SampleSoil => vec![practice(
            "A year before sowing, six months at the least: lime needs them. 15 to 20 cores for at most about 20 acres of one soil.",
        )],
        StepKind::Bioassay => vec![practice(
            "What was sprayed here is unknown or too recent: grow the crop in a pot of this soil beside a clean one before money is spent.",
        )],
        StepKind::Lime => vec![practice(
            "The autumn before a spring sowing, six months at least before any: it works slowly, and only where it is mixed in.",
        )],
        StepKind::Dress => vec![practice(
            "Phosphorus does not move: ahead of the tillage that buries it. Nitrogen at sowing feeds weeds.",
        )],
        StepKind::OrderSeed => vec![practice(
            "Four to eight weeks ahead: the variety asked for is still to be had, and an old germination test can be repeated.",
        )],
        StepKind::Prepare => vec![practice(match choices.seedbed {
            SeedbedSchool::Tilled => {
                "Finish tillage about five weeks before sowing and let rain settle it; firm until a boot hardly marks it, when in doubt once more."
            }
            SeedbedSchool::NoTill => {
                "Kill the sod or weeds one to four weeks ahead, so that the drill meets dead cover; residue spread, no trench."
            }
            SeedbedSchool::TilledThenNoTillDrill => {
                "Till and firm, then let the no-till drill set the depth: for moist soil with no rain due."
            }
        })],
        StepKind::Calibrate => vec![practice(
            "With this lot and this drill, within days of sowing: lots differ in seeds per pound and flow, and damp changes both.",
        )],
        StepKind::Sow => {
            let warm = crops
                .iter()
                .max_by(|a, b| a.establish.soil_temperature.value.total_cmp(&b.establish.soil_temperature.value));
            let mut reasons = vec![practice("On the day you set; a week\u{2019}s grace for weather.")];
            if let Some(crop) = warm {
                let at_least = &crop.establish.soil_temperature;
                reasons.push(by_crop(
                    format!("{} wants {} °C at seed depth, held for some mornings.", crop.name, at_least.value),
                    &at_least.source,
                ));
            }
            reasons
        }
        StepKind::FirstLook => {
            let (low, high) = slowest(crops, |crop| &crop.establish.first_look);
            crops
                .iter()
                .max_by_key(|crop| crop.establish.first_look.high)
                .map(|crop| {
                    by_crop(
                        format!("{} shows {low} to {high} days after sowing in warm, moist soil.", crop.name),
                        &crop.establish.first_look.source,
                    )
                })
                .into_iter()
                .collect()
        }
        StepKind::Count => crops
            .iter()
            .max_by_key(|crop| crop.establish.count.high)
            .map(|crop| {
                by_crop(
                    format!(
                        "Late enough that what stands will stay, early enough to mend. {}: {}.",
                        crop.name, crop.establish.count_how
                    ),
                    &crop.establish.count.source,
                )
            })
            .into_iter()
            .collect(),
    }
}

fn cautions(kind: StepKind, choices: &Choices, crops: &[&Crop]) -> Vec<Caution> {
    let mut keys: Vec<&str> = match kind {
        StepKind::Lime => vec!["lime-dust"],
        StepKind::Dress => vec!["fertiliser", "nutrient-rules"],
        StepKind::Bioassay => vec!["herbicide-history"],
        StepKind::OrderSeed => vec!["noxious-seed"],
        StepKind::Calibrate => vec!["drill-moving-parts", "treated-seed"],
        StepKind::Sow => vec!["treated-seed", "slope-and-lines", "lifting"],
        _ => vec![],
    };
    if let Cover::Plants { .. } = choices.cover {
        keys.retain(|key| !["noxious-seed", "treated-seed", "drill-moving-parts"].contains(key));
    }
    let invasive = crops.iter().any(|crop| crop.cautions.iter().any(|key| key == "invasive"));
    if invasive && matches!(kind, StepKind::OrderSeed | StepKind::Sow) {
        keys.push("invasive");
    }
    keys.into_iter().filter_map(Caution::of).collect()
}
