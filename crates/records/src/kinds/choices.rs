//! The manager's decisions for a stand.

use agronomy::{
    crop::library,
    lime, mix, nutrients,
    refusal::{Checks, Refused},
    said,
    said::Said,
    seed,
    units::{CountPerArea, CountPerMass, Fraction, Length, MassPerArea, MoneyPerMass},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    book::{Books, Decided, Inked},
    choices as live,
    record::{By, Record, Unreadable},
    shape::{Turn, stands_for, words},
    subject::SubjectKind,
};

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

impl Goal {
    /// As people say it.
    pub fn words(self) -> &'static str {
        match self {
            Self::Hay => "hay",
            Self::Silage => "silage",
            Self::Grazing => "grazing",
            Self::HayAndGrazing => "hay and grazing",
            Self::Biomass => "biomass",
            Self::Bedding => "bedding",
            Self::Wildlife => "wildlife",
        }
    }
}

/// Which school of lime; its figures come from the soil test.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum LimeMethod {
    Smp,
    Sikora,
    AdamsEvans,
    Mehlich,
    BaseSaturation,
    Texture,
}

macro_rules! itself {
    ($($name:ty)+) => {$(
        impl Turn<$name> for $name {
            fn turn(self) -> $name { self }
        }
    )+};
}
itself! { Goal LimeMethod }

words! {
    /// How the parts of a mix are entered.
    MixView as RecordedMixView = mix::MixView { "live-seeds" LiveSeeds, "full-rate" FullRate, "mass" Mass }
}
words! {
    /// How the seed reaches the ground.
    Method as RecordedMethod = seed::Method { "drill" Drill, "broadcast" Broadcast }
}
words! {
    /// How a rate is raised for seed that is broadcast.
    BroadcastRate as RecordedBroadcastRate = seed::BroadcastRate {
        "factor" Factor, "top-of-range" TopOfRange, "as-given" AsGiven,
    }
}
words! {
    /// The bed it falls into.
    Seedbed as RecordedSeedbed = seed::Seedbed { "good" Good, "fair" Fair, "poor" Poor }
}
words! {
    /// Whether hard or dormant seed counts as live.
    DormantSeed as RecordedDormantSeed = seed::DormantSeed { "counts" Counts, "left-out" LeftOut }
}
words! {
    /// Where the lime goes.
    Placement as RecordedPlacement = lime::Placement { "incorporated" Incorporated, "surface" Surface }
}
words! {
    /// What a liming material is made of.
    LimeKind as RecordedLimeKind = lime::LimeKind {
        "calcitic" Calcitic, "dolomitic" Dolomitic, "hydrated" Hydrated, "burnt" Burnt, "wood-ash" WoodAsh,
        "pelleted" Pelleted, "marl" Marl,
    }
}
words! {
    /// In how many dressings the year's potash comes.
    PotashSplit as RecordedPotashSplit = nutrients::dressings::PotashSplit {
        "once" Once, "two" Two, "three" Three,
    }
}
words! {
    /// How P and K are reckoned.
    School as RecordedSchool = nutrients::School {
        "sufficiency" Sufficiency, "build-maintain" BuildMaintain, "replacement" Replacement,
    }
}

/// What moves a rate within its range, or above it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
#[schema(as = RecordedConditions)]
pub struct Conditions {
    /// Drilled or broadcast.
    pub method: Method,
    /// The seedbed.
    pub seedbed: Seedbed,
    /// Sown later than is usual.
    pub late: bool,
    /// How a rate is raised where it is broadcast.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub broadcast: Option<BroadcastRate>,
}

impl Turn<seed::Conditions> for Conditions {
    fn turn(self) -> seed::Conditions {
        let Self { method, seedbed, late, broadcast } = self;
        let broadcast = broadcast.map(Turn::turn).unwrap_or_default();
        seed::Conditions { method: method.turn(), seedbed: seedbed.turn(), late, broadcast }
    }
}

impl Turn<Conditions> for seed::Conditions {
    fn turn(self) -> Conditions {
        let Self { method, seedbed, late, broadcast } = self;
        let broadcast = Some(broadcast).filter(|one| !one.is_factor()).map(Turn::turn);
        Conditions { method: method.turn(), seedbed: seedbed.turn(), late, broadcast }
    }
}

impl Default for Conditions {
    fn default() -> Self {
        seed::Conditions::default().turn()
    }
}

/// A member of a mix and its part.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedMember)]
pub struct Member {
    /// Crop of the library.
    pub crop: String,
    /// Share of the live seeds or of the full rate; not used by mass.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub share: Option<Fraction>,
    /// PLS rate; used by mass only.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rate: Option<MassPerArea>,
    /// Seeds in a mass, when the lot is known; the book value otherwise.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub seeds_per_mass: Option<CountPerMass>,
    /// PLS rate when sown alone with a drill; the library's low end otherwise.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub full_rate: Option<MassPerArea>,
}
stands_for!(Member = mix::MixMember { crop, share, rate, seeds_per_mass, full_rate });

/// A mix; a crop alone is a mix of one.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedMix)]
pub struct Mix {
    /// How the parts are entered.
    pub by: MixView,
    /// The members, at least one.
    pub members: Vec<Member>,
    /// Live seeds per area in all, for shares of live seeds.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub total: Option<CountPerArea>,
    /// Drill or broadcast, seedbed, lateness.
    #[serde(default)]
    pub conditions: Conditions,
}
stands_for!(Mix = mix::MixRequest { by, members, total, conditions });

/// A lot to draw on for a crop.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct LotChoice {
    /// The lot.
    pub lot: Uuid,
}
stands_for!(LotChoice = live::LotChoice { lot });

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
stands_for!(PlantsChoice = live::PlantsChoice { crop, row_spacing, in_row, pieces_per_station });

/// What will grow: seed, or plants.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "as", rename_all = "kebab-case")]
pub enum Cover {
    /// A crop or mix from seed.
    Seed {
        /// The mix.
        mix: Mix,
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

impl Turn<live::Cover> for Cover {
    fn turn(self) -> live::Cover {
        match self {
            Self::Seed { mix, dormant_seed, lots } => {
                live::Cover::Seed { mix: mix.turn(), dormant_seed: dormant_seed.turn(), lots: lots.turn() }
            }
            Self::Plants { plants } => live::Cover::Plants { plants: plants.turn() },
        }
    }
}

impl Turn<Cover> for live::Cover {
    fn turn(self) -> Cover {
        match self {
            Self::Seed { mix, dormant_seed, lots } => {
                Cover::Seed { mix: mix.turn(), dormant_seed: dormant_seed.turn(), lots: lots.turn() }
            }
            Self::Plants { plants } => Cover::Plants { plants: plants.turn() },
        }
    }
}

/// Share of a material that passes a sieve.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedSieve)]
pub struct Sieve {
    /// US mesh number.
    pub mesh: u32,
    /// Share that passes.
    pub passing: Fraction,
}
stands_for!(Sieve = lime::Sieve { mesh, passing });

/// How much of a class of grains reacts.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedReacts)]
pub struct Reacts {
    /// US mesh number of the sieve passed.
    pub mesh: u32,
    /// Share of it that reacts.
    pub share: Fraction,
}
stands_for!(Reacts = lime::Reacts { mesh, share });

/// A liming material.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedMaterial)]
pub struct Material {
    /// Its name.
    pub name: String,
    /// What it is made of.
    pub kind: LimeKind,
    /// Calcium carbonate equivalent.
    pub cce: Fraction,
    /// Sieve analysis.
    pub sieves: Vec<Sieve>,
    /// The laboratory's own classes of fineness.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub reacts: Vec<Reacts>,
    /// Water in it.
    #[serde(default)]
    pub moisture: Fraction,
    /// Magnesium in it, as Mg.
    #[serde(default)]
    pub magnesium: Fraction,
    /// Price of a mass, spread on the field.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub price: Option<MoneyPerMass>,
}
stands_for!(Material = lime::Material { name, kind, cce, sieves, reacts, moisture, magnesium, price });

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
    #[serde(default = "worked_in")]
    pub placement: Placement,
    /// What is spread.
    pub material: Material,
}
stands_for!(LimeChoice = live::LimeChoice { method, target_ph, depth, placement, material });

fn worked_in() -> Placement {
    Placement::Incorporated
}

/// How P and K are reckoned for a stand.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NutrientChoice {
    /// The school.
    pub school: School,
    /// Yield aimed at in a year.
    pub yield_goal: MassPerArea,
    /// In how many dressings potash comes to the established stand; the crop's usual when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub potash: Option<PotashSplit>,
}
stands_for!(NutrientChoice = live::NutrientChoice { school, yield_goal, potash });

/// A step that the person adds to what the practice says.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Extra {
    /// Its key on this stand.
    pub key: String,
    /// Key of the operation.
    pub operation: String,
    /// The day it is meant for.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// What for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub why: Option<String>,
}
stands_for!(Extra = live::Extra { key, operation, on, why });

/// All decisions that a stand's plan rests on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = Choices)]
pub struct ChoicesShape {
    /// What the stand is for.
    pub goal: Goal,
    /// What will grow.
    pub cover: Cover,
    /// Key of the practice: the school by which it is made.
    #[serde(default = "tilled")]
    pub practice: String,
    /// The day the person means to sow.
    #[schema(value_type = String, format = Date)]
    pub sow_on: Date,
    /// The way of timing the sowing, a key of the library's windows; whichever is likeliest when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub timing: Option<String>,
    /// Between rows of drilled seed; the drill's own when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub row_spacing: Option<Length>,
    /// Extra seed to order.
    #[serde(default)]
    pub spare: Fraction,
    /// Lime decided on.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub lime: Option<LimeChoice>,
    /// How nutrients are reckoned.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub nutrients: Option<NutrientChoice>,
    /// Steps added to those of the practice.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub extra: Vec<Extra>,
    /// Key of the regime: how it is used and kept once it is made.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub regime: Option<String>,
}
stands_for!(ChoicesShape = live::Choices {
    goal, cover, practice, sow_on, timing, row_spacing, spare, lime, nutrients, extra, regime,
});

fn tilled() -> String {
    "tilled".to_owned()
}

impl ChoicesShape {
    /// Ready to be planned.
    pub fn ready(&self) -> live::Choices {
        self.clone().turn()
    }

    /// As they are recorded.
    pub fn of(choices: live::Choices) -> Self {
        choices.turn()
    }
}

/// The manager's decisions for a stand; the last ones count.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ChoicesRecord {
    /// The decisions.
    pub choices: ChoicesShape,
}

impl Record for ChoicesRecord {
    const KIND: &'static str = "choices";
    const TITLE: &'static str = "Decision";
    /// 1 named one of three seedbeds where 2 names a practice; 3 may say how the stand is used.
    const VERSION: i32 = 3;
    const NEEDS: &'static [SubjectKind] = &[SubjectKind::Field, SubjectKind::Stand];
    const BY: By = By::Manager;
    const REPLACES: bool = true;

    fn check(&self, today: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        checks.part("/choices", live::check(&self.choices.ready(), today));
        checks.done()
    }

    fn says(&self) -> Said {
        let ChoicesShape { goal, cover, sow_on, .. } = &self.choices;
        let crops: Vec<&str> = match cover {
            Cover::Seed { mix, .. } => mix.members.iter().map(|member| member.crop.as_str()).collect(),
            Cover::Plants { plants } => vec![&plants.crop],
        };
        let names = crops.into_iter().map(|id| library().crop(id).map_or(id, |crop| crop.name.as_str()).into());
        said!("Planned: {} from {}, sowing {}", goal.words(), Said::joined(names, ", "), sow_on)
    }

    fn upgrade(from: i32, mut payload: Value) -> Result<Value, Unreadable> {
        if from == 2 {
            return Ok(payload);
        }
        let Some(choices) = payload.get_mut("choices").and_then(Value::as_object_mut) else {
            return Err(Unreadable("a decision of version 1 holds choices".to_owned()));
        };
        if let Some(seedbed) = choices.remove("seedbed") {
            choices.insert("practice".to_owned(), seedbed);
        }
        Ok(payload)
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        let decided = Decided {
            entry: inked.0.id,
            on: inked.0.occurred_on,
            by: inked.0.recorded_by,
            choices: self.choices.ready(),
            shape: self.choices.clone(),
        };
        if let Some(stand) = books.stand_of(inked) {
            stand.decisions.push(decided);
        }
    }
}
