//! What the manager decides when starting a stand.

use agronomy::{
    crop::library,
    lime::{Material, Placement},
    mix::{self, MixRequest},
    nutrients::School,
    refusal::{Checks, Refused, Unusual},
    seed::DormantSeed,
    units::{Fraction, Length, MassPerArea, Unit},
    window,
};
use jiff::{ToSpan, civil::Date};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

/// What the stand is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Goal {
    Hay,
    Silage,
    Grazing,
    HayAndGrazing,
    Biomass,
    Bedding,
    Wildlife,
}

/// How the seedbed is made: a school, see `docs/schools.md`.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum SeedbedSchool {
    /// Tilled, settled and firmed.
    #[default]
    Tilled,
    /// No-till into stubble or killed sod.
    NoTill,
    /// Tilled, then sown with a no-till drill.
    TilledThenNoTillDrill,
}

/// A lot to draw on for a crop.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct LotChoice {
    /// The lot.
    pub lot: Uuid,
}

/// Rhizomes or cuttings, by spacing.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PlantsChoice {
    /// Crop of the library that is set out as plants.
    pub crop: String,
    /// Between rows; the crop's usual spacing when absent.
    #[serde(default)]
    pub row_spacing: Option<Length>,
    /// Within the row; the crop's usual spacing when absent.
    #[serde(default)]
    pub in_row: Option<Length>,
    /// Pieces at each station.
    #[serde(default)]
    pub pieces_per_station: Option<u32>,
}

/// What will grow: seed, or plants.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "as", rename_all = "kebab-case")]
pub enum Cover {
    /// A crop or mix from seed.
    Seed {
        /// The mix; a crop alone is a mix of one.
        mix: MixRequest,
        /// Whether hard or dormant seed counts; each crop's usual side when absent.
        #[serde(default)]
        dormant_seed: Option<DormantSeed>,
        /// Lots to draw on, in the order they are used up.
        #[serde(default)]
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
}

/// All decisions that a plan of this slice rests on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Choices {
    /// What the stand is for.
    pub goal: Goal,
    /// What will grow.
    pub cover: Cover,
    /// How the seedbed is made.
    #[serde(default)]
    pub seedbed: SeedbedSchool,
    /// The day the person means to sow.
    #[schema(value_type = String, format = Date)]
    pub sow_on: Date,
    /// The way of timing the sowing, a key of the library's windows; whichever is likeliest when
    /// absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub timing: Option<String>,
    /// Extra seed to order.
    #[serde(default)]
    pub spare: Fraction,
    /// Lime decided on.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub lime: Option<LimeChoice>,
    /// How nutrients are reckoned.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub nutrients: Option<NutrientChoice>,
}

/// Which school of lime; its figures come from the soil test.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum LimeMethod {
    Smp,
    Mehlich,
    BaseSaturation,
    Texture,
}

/// Lime decided on for a stand.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct LimeChoice {
    /// The school.
    pub method: LimeMethod,
    /// pH to reach.
    pub target_ph: f64,
    /// Depth to be limed; the school's own when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub depth: Option<Length>,
    /// Worked in or left on top.
    #[serde(default)]
    pub placement: Placement,
    /// What is spread.
    pub material: Material,
}

/// How P and K are reckoned for a stand.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NutrientChoice {
    /// The school.
    pub school: School,
    /// Yield aimed at in a year.
    pub yield_goal: MassPerArea,
}

/// Refuse choices that can't be planned, and tell which are far from usual.
///
/// # Errors
/// An unknown crop, an impossible mix, a sowing day in another age.
pub fn check(choices: &Choices, today: Date) -> Result<Vec<Unusual>, Refused> {
    let mut checks = Checks::new();
    let years = (choices.sow_on - today).get_days().abs() / 365;
    checks.require(
        years < 10,
        "/sow_on",
        format!("{} is {years} years from today ({today}); plan within ten", choices.sow_on),
    );
    checks.within("/spare", "the spare", choices.spare, Unit::Percent, 0.0, 100.0);
    if let Some(key) = &choices.timing {
        let known = window::window_kind(key).is_some();
        checks.require(
            known,
            "/timing",
            format!("\u{201c}{key}\u{201d} is no way of timing a sowing that is known here"),
        );
    }
    let mut unusual = Vec::new();
    match &choices.cover {
        Cover::Seed { mix, .. } => {
            if let Some(rates) = checks.part("/cover/mix", mix::rates(mix)) {
                unusual = rates.value.unusual;
                unusual.iter_mut().for_each(|one| one.pointer.insert_str(0, "/cover/mix"));
            }
        }
        Cover::Plants { plants } => match library().crop(&plants.crop) {
            None => checks
                .refuse("/cover/plants/crop", format!("\u{201c}{}\u{201d} is no crop of the library", plants.crop)),
            Some(crop) => checks.require(
                crop.planting.is_some(),
                "/cover/plants/crop",
                format!("{} is grown from seed", crop.name),
            ),
        },
    }
    if let Some(lime) = &choices.lime {
        checks.require(
            (5.0..=7.5).contains(&lime.target_ph),
            "/lime/target_ph",
            format!("the target is pH {}; it must be from 5 to 7.5", lime.target_ph),
        );
        checks.part("/lime/material", lime.material.check());
        if let Some(depth) = lime.depth {
            checks.within("/lime/depth", "the depth", depth, Unit::Cm, 2.0, 45.0);
        }
    }
    if let Some(nutrients) = &choices.nutrients {
        checks.positive("/nutrients/yield_goal", "the yield goal", nutrients.yield_goal, Unit::TPerHa, 60.0);
    }
    if checks.is_clean() && choices.sow_on < today.saturating_sub(1.month()) {
        unusual.push(Unusual {
            pointer: "/sow_on".to_owned(),
            detail: format!("{} is more than a month ago", choices.sow_on),
        });
    }
    checks.done()?;
    Ok(unusual)
}
