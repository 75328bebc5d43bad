//! What the manager decides when starting a stand.

use agronomy::{
    crop::library,
    mix::{self, MixRequest},
    refusal::{Checks, Refused, Unusual},
    seed::DormantSeed,
    units::{Fraction, Length, Unit},
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
    /// Extra seed to order.
    #[serde(default)]
    pub spare: Fraction,
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
    if checks.is_clean() && choices.sow_on < today.saturating_sub(1.month()) {
        unusual.push(Unusual {
            pointer: "/sow_on".to_owned(),
            detail: format!("{} is more than a month ago", choices.sow_on),
        });
    }
    checks.done()?;
    Ok(unusual)
}
