//! What the manager decides for a stand, ready to be planned.

use agronomy::{
    crop::library,
    lime::{Material, Placement},
    mix::{self, MixRequest},
    nutrients::{School, dressings::PotashSplit},
    practice::{Situation, operation, practice, regime},
    refusal::{Checks, Refused, Unusual},
    said,
    seed::{DormantSeed, Method},
    units::{Fraction, Length, MassPerArea, Unit},
    window,
};
use jiff::{ToSpan, civil::Date};
use uuid::Uuid;

use crate::{Goal, LimeMethod};

/// Steps that a person may add to a stand.
const MOST_EXTRA: usize = 60;

/// A lot to draw on for a crop.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct LotChoice {
    /// The lot.
    pub lot: Uuid,
}

/// Rhizomes or cuttings, by spacing.
#[derive(Debug, Clone, PartialEq)]
pub struct PlantsChoice {
    /// Crop of the library that is set out as plants.
    pub crop: String,
    /// Between rows; the crop's usual spacing when absent.
    pub row_spacing: Option<Length>,
    /// Within the row; the crop's usual spacing when absent.
    pub in_row: Option<Length>,
    /// Pieces at each station.
    pub pieces_per_station: Option<u32>,
}

/// What will grow: seed, or plants.
#[derive(Debug, Clone, PartialEq)]
pub enum Cover {
    /// A crop or mix from seed.
    Seed {
        /// The mix; a crop alone is a mix of one.
        mix: MixRequest,
        /// Whether hard or dormant seed counts; each crop's usual side when absent.
        dormant_seed: Option<DormantSeed>,
        /// Lots to draw on, in the order they are used up.
        lots: Vec<LotChoice>,
    },
    /// Rhizomes or cuttings.
    Plants {
        /// Which, and how far apart.
        plants: PlantsChoice,
    },
}

impl Cover {
    /// The ids of the crops in it.
    pub fn crops(&self) -> Vec<&str> {
        match self {
            Self::Seed { mix, .. } => mix.members.iter().map(|member| member.crop.as_str()).collect(),
            Self::Plants { plants } => vec![&plants.crop],
        }
    }

    /// Plants are set out, not seed sown.
    pub fn is_plants(&self) -> bool {
        matches!(self, Self::Plants { .. })
    }

    /// How its seed reaches the ground.
    pub fn method(&self) -> Option<Method> {
        match self {
            Self::Seed { mix, .. } => Some(mix.conditions.method),
            Self::Plants { .. } => None,
        }
    }
}

/// A step added to those of the practice.
#[derive(Debug, Clone, PartialEq)]
pub struct Extra {
    /// Its key on this stand.
    pub key: String,
    /// Key of the operation.
    pub operation: String,
    /// The day it is meant for.
    pub on: Date,
    /// What for.
    pub why: Option<String>,
}

/// All decisions that a plan rests on.
#[derive(Debug, Clone, PartialEq)]
pub struct Choices {
    /// What the stand is for.
    pub goal: Goal,
    /// What will grow.
    pub cover: Cover,
    /// Key of the practice: the school by which it is made.
    pub practice: String,
    /// The day the person means to sow.
    pub sow_on: Date,
    /// The way of timing the sowing, a key of the library's windows; whichever is likeliest when absent.
    pub timing: Option<String>,
    /// Between rows of drilled seed; the drill's own when absent.
    pub row_spacing: Option<Length>,
    /// Extra seed to order.
    pub spare: Fraction,
    /// Lime decided on.
    pub lime: Option<LimeChoice>,
    /// How nutrients are reckoned.
    pub nutrients: Option<NutrientChoice>,
    /// Steps added to those of the practice.
    pub extra: Vec<Extra>,
    /// Key of the regime: how it is used and kept once it is made; none where that is not decided yet.
    pub regime: Option<String>,
}

/// Lime decided on for a stand.
#[derive(Debug, Clone, PartialEq)]
pub struct LimeChoice {
    /// The school.
    pub method: LimeMethod,
    /// pH to reach.
    pub target_ph: f64,
    /// Depth to be limed; the school's own when absent.
    pub depth: Option<Length>,
    /// Worked in or left on top.
    pub placement: Placement,
    /// What is spread.
    pub material: Material,
}

/// How P and K are reckoned for a stand.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct NutrientChoice {
    /// The school.
    pub school: School,
    /// Yield aimed at in a year.
    pub yield_goal: MassPerArea,
    /// In how many dressings potash comes to the established stand; the crop's usual when absent.
    pub potash: Option<PotashSplit>,
}

/// A stand that is there already may be so old: native grass and rhizomes outlive who sowed them.
const MOST_YEARS_STANDING: i32 = 60;

/// Refuse choices that can't be planned, and tell which are far from usual.
///
/// # Errors
/// An unknown crop, practice or operation, an impossible mix, a day in another age.
pub fn check(choices: &Choices, today: Date) -> Result<Vec<Unusual>, Refused> {
    let mut checks = Checks::new();
    let years = (choices.sow_on - today).get_days() / 365;
    checks.require(
        (-MOST_YEARS_STANDING..10).contains(&years),
        "/sow_on",
        said!(
            "{} is {} years from today; choose a date within the next ten years, or the last {}",
            choices.sow_on,
            years.abs(),
            MOST_YEARS_STANDING
        ),
    );
    checks.within("/spare", "Extra to order", choices.spare, Unit::Percent, 0.0, 100.0);
    if let Some(key) = &choices.timing {
        let known = window::window_kind(key).is_some();
        checks.require(known, "/timing", format!("“{key}” is not a known sowing window"));
    }
    check_practice(choices, &mut checks);
    if let Some(key) = &choices.regime {
        check_regime(&mut checks, "/regime", key);
    }
    let mut unusual = Vec::new();
    match &choices.cover {
        Cover::Seed { mix, lots, .. } => {
            checks.require(lots.len() <= 100, "/cover/lots", "choose at most 100 lots");
            if let Some(rates) = checks.part("/cover/mix", mix::rates(mix)) {
                unusual = rates.value.unusual;
                unusual.iter_mut().for_each(|one| one.pointer.insert_str(0, "/cover/mix"));
            }
        }
        Cover::Plants { plants } => match library().crop(&plants.crop) {
            None => checks.refuse("/cover/plants/crop", format!("“{}” is not a crop in the library", plants.crop)),
            Some(crop) => checks.require(
                crop.planting.is_some(),
                "/cover/plants/crop",
                format!("{} is sown from seed, not planted", crop.name),
            ),
        },
    }
    if let Some(lime) = &choices.lime {
        checks.require(
            (5.0..=7.5).contains(&lime.target_ph),
            "/lime/target_ph",
            format!("Target pH is {}; enter 5–7.5", lime.target_ph),
        );
        checks.part("/lime/material", lime.material.check());
        if let Some(depth) = lime.depth {
            checks.within("/lime/depth", "Depth", depth, Unit::Cm, 2.0, 45.0);
        }
    }
    if let Some(spacing) = choices.row_spacing {
        checks.within("/row_spacing", "Row spacing", spacing, Unit::Cm, 5.0, 200.0);
        let drilled = !choices.cover.is_plants() && choices.cover.method() != Some(Method::Broadcast);
        checks.require(drilled, "/row_spacing", "row spacing applies only to drilled seed");
    }
    if let Some(nutrients) = &choices.nutrients {
        checks.positive("/nutrients/yield_goal", "Yield goal", nutrients.yield_goal, Unit::TPerHa, 60.0);
    }
    check_extra(choices, today, &mut checks);
    unusual.extend(beyond_reach(choices));
    if checks.is_clean() && choices.sow_on < today.saturating_sub(1.month()) {
        let detail = said!("{} is more than a month ago; choose a later date", choices.sow_on);
        unusual.push(Unusual { pointer: "/sow_on".to_owned(), detail });
    }
    checks.done()?;
    Ok(unusual)
}

/// A yield beyond a quarter above what the best of the crops brings on good ground.
fn beyond_reach(choices: &Choices) -> Option<Unusual> {
    let goal = choices.nutrients?.yield_goal;
    let crops = choices.cover.crops().into_iter().filter_map(|id| library().crop(id));
    let best = crops.map(|crop| (crop.stand.yields.ends::<MassPerArea>().1, crop));
    let (most, crop) = best.reduce(|best, one| if one.0 > best.0 { one } else { best })?;
    let detail = said!("{} per year is far above what {} yields on good ground ({} at most)", goal, crop.name, most);
    let beyond = goal.to(Unit::KgPerHa) > 1.25 * most.to(Unit::KgPerHa);
    beyond.then(|| Unusual { pointer: "/nutrients/yield_goal".to_owned(), detail })
}

fn check_practice(choices: &Choices, checks: &mut Checks) {
    let Some(practice) = practice(&choices.practice) else {
        let detail = said!("“{}” is not a known method", choices.practice);
        return checks.refuse("/practice", detail);
    };
    let fits = match practice.situation {
        Situation::Any => true,
        Situation::Seed => !choices.cover.is_plants(),
        Situation::Plants => choices.cover.is_plants(),
    };
    let sown = if choices.cover.is_plants() { "plants" } else { "seed" };
    checks.require(fits, "/practice", said!("“{}” is not a method for {}", practice.name, sown));
}

/// Refuse a regime that is not known.
pub(crate) fn check_regime(checks: &mut Checks, pointer: &str, key: &str) {
    let detail = said!("\u{201c}{}\u{201d} is not a known regime", key);
    checks.require(regime(key).is_some(), pointer, detail);
}

fn check_extra(choices: &Choices, today: Date, checks: &mut Checks) {
    checks.require(
        choices.extra.len() <= MOST_EXTRA,
        "/extra",
        said!("{} steps added; the limit is {}", choices.extra.len(), MOST_EXTRA),
    );
    for (index, extra) in choices.extra.iter().enumerate() {
        let at = |field: &str| format!("/extra/{index}/{field}");
        let length = extra.key.chars().count();
        checks.require((1..=60).contains(&length), at("key"), "give the step a key of at most 60 letters");
        let own = practice(&choices.practice).and_then(|practice| practice.step(&extra.key));
        let twice = choices.extra[..index].iter().any(|other| other.key == extra.key);
        checks.require(own.is_none() && !twice, at("key"), said!("step “{}” already exists", extra.key));
        checks.require(
            operation(&extra.operation).is_some(),
            at("operation"),
            said!("“{}” is not a known operation", extra.operation),
        );
        let years = (extra.on - today).get_days().abs() / 365;
        checks.require(
            years < 10,
            at("on"),
            said!("{} is {} years from today; choose a date within ten years", extra.on, years),
        );
        let why = extra.why.as_deref().unwrap_or_default().chars().count();
        checks.require(why <= 2_000, at("why"), said!("{} characters; the limit is 2,000", why));
    }
}
