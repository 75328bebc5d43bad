//! What is known of a crop: the shapes of the data files.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{
    figure::{Band, Days, Figure},
    nutrition::NutritionFacts,
    rotation::Rotation,
    season::SeasonTable,
    stand::StandFacts,
};
use crate::units::{Conductivity, Fraction, Measure, Unit};

/// Botanical group.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Kind {
    Legume,
    Grass,
    Forb,
    Brassica,
}

/// Cool-season (C3) or warm-season (C4).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[allow(missing_docs)]
pub enum Pathway {
    C3,
    C4,
}

/// How long a stand lives.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Life {
    Annual,
    ShortPerennial,
    Perennial,
}

/// How the plant spreads.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Habit {
    Crown,
    Bunch,
    Sod,
    Upright,
}

/// How tall the leaves stand: tall ones shade short ones.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Height {
    Short,
    Medium,
    Tall,
}

/// Which box of the drill the seed runs through.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum SeedBox {
    /// The small-seed (legume) box.
    Small,
    /// The main (grain) box.
    Main,
    /// An agitated box with picker wheels for chaffy seed.
    Fluffy,
}

/// What living seed that does not sprout in the test is called.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum DormantKind {
    /// Hard seed: a coat that keeps water out (legumes).
    Hard,
    /// Dormant seed: asleep until chilled (many native grasses).
    Dormant,
    /// Seldom any.
    None,
}

/// Seed of a crop.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SeedFacts {
    /// Seeds per mass: a book value; the lot's own wins.
    pub per_mass: Figure,
    /// Legal bushel, where the trade uses one.
    pub bushel: Option<Figure>,
    /// Cross-inoculation group of a legume.
    pub inoculant: Option<String>,
    /// The box it runs through.
    pub seed_box: SeedBox,
    /// What living unsprouted seed is called.
    pub dormant: DormantKind,
    /// Whether such seed is usually counted as live for this crop.
    pub dormant_counts: bool,
}

/// Sowing a crop from seed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SowingFacts {
    /// PLS rate when sown alone with a drill.
    pub rate: Band,
    /// Live seeds per area aimed at, where the trade counts so.
    pub aim: Option<Figure>,
    /// Multiply the rate by this when broadcast.
    pub broadcast_factor: Figure,
    /// Depth on clay and loam.
    pub depth_fine: Band,
    /// Depth on sand.
    pub depth_coarse: Band,
    /// Usual row spacing.
    pub row_spacing: Figure,
}

/// Setting a crop out as rhizomes or cuttings.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PlantingFacts {
    /// What is planted: "rhizome", "two-node stem cutting".
    pub piece: String,
    /// Between rows.
    pub row_spacing: Figure,
    /// Within the row.
    pub in_row: Figure,
    /// How deep.
    pub depth: Band,
    /// Share that lives.
    pub survival: Figure,
    /// Established plants aimed at.
    pub aim: Option<Figure>,
    /// What to mind when planting.
    pub how: String,
}

/// When and how to look at the young stand.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct EstablishFacts {
    /// Soil temperature at seed depth before sowing.
    pub soil_temperature: Figure,
    /// Days from sowing to first seedlings in warm, moist soil.
    pub first_look: Days,
    /// Days from sowing to a count that means something.
    pub count: Days,
    /// What is counted.
    pub count_how: String,
    /// When it may first be cut or grazed, in words.
    pub first_use: String,
    /// Warmth until half the seedlings are up, where it is known.
    pub emergence: Option<EmergenceFacts>,
}

/// Warmth that seed in moist soil at its usual depth needs until half of its seedlings are up.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct EmergenceFacts {
    /// Degree-days above the base.
    pub warmth: Figure,
    /// Below this nothing moves.
    pub base: Figure,
}

/// How an established stand is cut.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CuttingFacts {
    /// Days from green-up in spring to the first cut at its usual stage: bloom of legumes, heading of grasses.
    pub first: Days,
    /// Days from one cut to the next at that stage.
    pub regrowth: Days,
    /// Height left standing.
    pub stubble: Figure,
}

/// Soil reaction it wants.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SoilFacts {
    /// Lowest pH (in water) at which it does passably.
    pub ph_low: Figure,
    /// pH (in water) to lime to.
    pub ph_aim: Figure,
    /// Highest pH (in water) at which it does passably: above it iron, zinc and phosphorus get short.
    pub ph_high: Option<Figure>,
    /// How it bears salt; absent where nobody has published it.
    pub salt: Option<SaltFacts>,
}

/// How salt takes yield: none up to a threshold, then so much for each dS/m more (Maas & Hoffman 1977).
///
/// The conductivity is that of the extract of a saturated paste. Where only a class of tolerance is published, these are
/// the class's own lower line, so that yield is taken for lower than it may be.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SaltFacts {
    /// Up to here it loses nothing.
    pub threshold: Figure,
    /// Share of the yield that is lost for each dS/m above.
    pub loss: Figure,
}

impl SaltFacts {
    /// Share of its yield that a crop gives on a soil of this conductivity: 1 to the threshold, falling to 0.
    ///
    /// Alfalfa (threshold 2 dS/m, 7.3 % a dS/m) at 5.4 dS/m gives three quarters, as FAO 29 prints it.
    pub fn share_at(&self, conductivity: Conductivity) -> Fraction {
        let above = (conductivity - self.threshold.measure()).to(Unit::DsPerM).max(0.0);
        let lost = above * self.loss.measure::<Fraction>().base();
        Fraction::from_base((1.0 - lost).max(0.0))
    }
}

/// Drainage of a soil, best to worst.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Drainage {
    /// Water leaves within a day or two of rain.
    Well,
    /// Wet for some days.
    Moderate,
    /// Wet for weeks in spring.
    SomewhatPoor,
    /// Wet for much of the year.
    Poor,
}

impl Drainage {
    /// As people write it.
    pub fn words(self) -> &'static str {
        match self {
            Self::Well => "well drained",
            Self::Moderate => "moderately drained",
            Self::SomewhatPoor => "somewhat poorly drained",
            Self::Poor => "poorly drained",
        }
    }
}

/// What the crop asks of its place.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SiteNeeds {
    /// Whether its roots go below the plough layer for a living.
    pub deep_rooted: bool,
    /// The worst drainage it bears.
    pub drainage: Drainage,
    /// Days of standing water it bears.
    pub ponding_days: Figure,
    /// Least depth to a layer that stops roots.
    pub rooting_depth: Figure,
    /// Slope above which tillage for it brings erosion.
    pub tilled_slope: Figure,
    /// Least rain in a year without irrigation.
    pub rain: Figure,
    /// Least mean temperature of the warmest month.
    pub warmest_month: Option<Figure>,
    /// Least pH below the plough layer.
    pub subsoil_ph: Option<Figure>,
    /// Months to wait after an old stand of its own kind.
    pub autotoxic_months: Option<Days>,
    /// Distance from land that someone else manages.
    pub neighbour_setback: Option<Figure>,
    /// Whether cereal residue holds it back.
    #[serde(default)]
    pub hindered_by_cereal_residue: bool,
}

/// A stage of growth and the warmth that leads to it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ThermalStage {
    /// What is seen.
    pub name: String,
    /// Degree-days above the base from sowing into moist soil.
    pub degree_days: f64,
}

/// What the crop asks of the weather.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ClimateFacts {
    /// Below this, no growth.
    pub base: Figure,
    /// Growing days a sowing needs before the killing frost.
    pub growing_days: Days,
    /// Screen temperature that ends its growth in autumn.
    pub killing_frost: Figure,
    /// Screen temperature that kills its seedlings.
    pub seedling_frost: Figure,
    /// Mean air temperature above which seedlings fail.
    pub heat: Figure,
    /// FAO-56 crop coefficient in full growth, averaged over cuts.
    pub crop_coefficient: Figure,
    /// Share of available water used before it suffers (FAO-56 p).
    pub depletion: Figure,
    /// Depth of the roots of an established stand.
    pub root_depth: Figure,
    /// Ways of timing its sowing: keys of `windows.toml`, the usual first.
    pub windows: Vec<String>,
    /// Ways that it bears, and that some growers use: weighed only where they are chosen.
    #[serde(default)]
    pub also: Vec<String>,
    /// Stages by warmth, in order.
    pub stages: Vec<ThermalStage>,
    /// Key of the source of the stages.
    pub stages_source: String,
}

impl ClimateFacts {
    /// Whether it bears being sown in a way, usual or not: a key of `windows.toml`.
    pub fn bears(&self, window: &str) -> bool {
        self.windows.iter().chain(&self.also).any(|key| key == window)
    }
}

/// How an annual grows from seed, in the numbers of the kernels' growth.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct GrowthFacts {
    /// Dry matter above ground made of usable light that is caught, g/MJ.
    pub light_use: f64,
    /// How fast catching light grows with mass: the light's extinction times the leaf area of a gram,
    /// m²/g.
    pub catches: f64,
    /// Dry matter at emergence, g/m².
    pub at_emergence: f64,
    /// Warmth above the base from sowing to emergence, °C·d.
    pub emerges: f64,
    /// Mean temperature from which light is used in full, °C.
    pub full_at: f64,
    /// Warmth from sowing at which it stops growing, °C·d.
    pub ends: f64,
    /// Key of the source.
    pub source: String,
}

/// What a stand may be for: the words of [`Crop::uses`].
pub const GOALS: [&str; 8] = ["hay", "silage", "grazing", "green fodder", "biomass", "bedding", "wildlife", "cover"];

/// Everything the library knows of one crop.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Crop {
    /// Stable id: the file's name.
    pub id: String,
    /// Common name.
    pub name: String,
    /// Other common names.
    pub also: Vec<String>,
    /// Scientific name.
    pub scientific: String,
    /// Botanical group.
    pub kind: Kind,
    /// Cool- or warm-season.
    pub pathway: Pathway,
    /// How herbicides of the crop before it treat it.
    pub rotation: Rotation,
    /// Life of a stand.
    pub life: Life,
    /// How it spreads.
    pub habit: Habit,
    /// How tall the leaves stand.
    pub height: Height,
    /// One sentence for choosing it, one against.
    pub about: String,
    /// What it is grown for.
    pub uses: Vec<String>,
    /// Keys of cautions.
    pub cautions: Vec<String>,
    /// Present for crops grown from seed.
    pub seed: Option<SeedFacts>,
    /// Present for crops grown from seed.
    pub sowing: Option<SowingFacts>,
    /// Present for crops set out by hand or planter.
    pub planting: Option<PlantingFacts>,
    /// The young stand.
    pub establish: EstablishFacts,
    /// How it is cut, for crops that are cut year after year.
    pub cutting: Option<CuttingFacts>,
    /// Soil reaction.
    pub soil: SoilFacts,
    /// What it asks of its place.
    pub site: SiteNeeds,
    /// What a stand gives and bears.
    pub stand: StandFacts,
    /// What it takes up.
    pub nutrition: NutritionFacts,
    /// What it asks of the weather.
    pub climate: ClimateFacts,
    /// How it grows, for annuals sown for one growth.
    pub growth: Option<GrowthFacts>,
    /// How it grows through its seasons, as its file tells it; with what it shares with others, see
    /// [`Library::season`](super::Library::season).
    #[serde(skip_serializing)]
    #[schema(ignore)]
    pub season: SeasonTable,
}
