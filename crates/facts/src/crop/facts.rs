//! What is known of a crop: the shapes of the data files.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::library;
use super::rotation::Rotation;
use super::season::SeasonTable;
use crate::{
    nutrient::Nutrient,
    source::Origin,
    units::{Measure, Quantity, Unit},
};

/// One number of the library.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Figure {
    /// The number.
    pub value: f64,
    /// Its unit.
    #[schema(value_type = String)]
    pub unit: Unit,
    /// Key of the source in `library/sources.toml`.
    pub source: String,
}

/// A range of the library.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Band {
    /// The low end: drilled into a good seedbed, on time.
    pub low: f64,
    /// The high end: poor seedbed, late, or on a slope.
    pub high: f64,
    /// The unit of both.
    #[schema(value_type = String)]
    pub unit: Unit,
    /// Key of the source.
    pub source: String,
}

impl Figure {
    /// As a typed measure.
    ///
    /// # Panics
    /// If the dimension differs; loading has checked it.
    pub fn measure<M: Measure>(&self) -> M {
        assert_eq!(self.unit.dimension(), M::DIMENSION, "the library was validated at load");
        M::from_base(self.unit.to_base(self.value))
    }

    /// Where it comes from.
    pub fn origin(&self) -> Origin {
        Origin::sourced(library().source(&self.source))
    }

    /// As an edge quantity.
    pub fn quantity(&self) -> Quantity {
        Quantity::new(self.value, self.unit)
    }
}

impl Band {
    /// Both ends as typed measures.
    pub fn ends<M: Measure>(&self) -> (M, M) {
        let end = |value| Figure { value, unit: self.unit, source: self.source.clone() }.measure();
        (end(self.low), end(self.high))
    }

    /// Where it comes from.
    pub fn origin(&self) -> Origin {
        Origin::sourced(library().source(&self.source))
    }
}

/// A range of whole days.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Days {
    /// The earliest.
    pub low: i32,
    /// The latest.
    pub high: i32,
    /// Key of the source.
    pub source: String,
}

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

/// How nitrogen is reckoned for a crop.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum NitrogenRule {
    /// Feeds itself.
    Legume,
    /// None in the planting year, then what is carried off.
    Native,
    /// Little at sowing, then by growth.
    CoolGrass,
    /// By test and yield, in one season.
    Annual,
    /// Base, 30 days, then after every cut.
    TropicalCut,
}

/// Pounds of nutrients in a short ton of dry matter.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RemovalFacts {
    /// By nutrient.
    #[schema(value_type = std::collections::BTreeMap<String, f64>)]
    pub share: BTreeMap<Nutrient, f64>,
    /// Key of the source.
    pub source: String,
}

/// What a stand may be for: the words of [`Crop::uses`].
pub const GOALS: [&str; 8] = ["hay", "silage", "grazing", "green fodder", "biomass", "bedding", "wildlife", "cover"];

/// How readily a crop does something, or bears it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Grade {
    Poor,
    Fair,
    Good,
}

impl Grade {
    /// As people write it.
    pub fn words(self) -> &'static str {
        match self {
            Self::Poor => "poorly",
            Self::Fair => "fairly",
            Self::Good => "well",
        }
    }
}

/// How soon and how surely a sowing becomes a stand.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Ease {
    Slow,
    Fair,
    Easy,
}

/// A range of whole years.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Years {
    /// The fewest.
    pub low: u32,
    /// The most.
    pub high: u32,
    /// Key of the source.
    pub source: String,
}

/// What a stand gives, how soon, for how long, and what it bears.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StandFacts {
    /// Dry matter of an established stand in a season, on fair to good ground.
    #[serde(rename = "yield")]
    pub yields: Band,
    /// Share of that in the sowing year, the next, and so on; the last holds for the years after.
    pub ramp: Vec<f64>,
    /// How long a stand is kept.
    pub years: Years,
    /// How soon and surely it comes.
    pub ease: Ease,
    /// How it bears drought.
    pub drought: Grade,
    /// How it bears grazing.
    pub grazing: Grade,
    /// The lowest night of a usual winter that hardy varieties live through; none of a crop that is gone by winter.
    pub winter: Option<Figure>,
    /// Mean of the warmest month that a stand lives through; none of what heat does not end.
    #[serde(default)]
    pub summer: Option<Figure>,
    /// Mean of the warmest month that it needs to be worth sowing; none of cool-season crops.
    #[serde(default)]
    pub warmth: Option<Figure>,
}

impl StandFacts {
    /// The first year with all but a tenth of the full yield: 1 for the sowing year.
    pub fn full_from(&self) -> usize {
        self.ramp.iter().position(|share| *share >= 0.9).unwrap_or(self.ramp.len()) + 1
    }

    /// Share of the full yield in a year, 1 for the sowing year.
    ///
    /// ```
    /// let switchgrass = &facts::crop::library().crop("switchgrass").unwrap().stand;
    /// assert_eq!([1, 2, 3, 9].map(|year| switchgrass.share_in(year)), [0.0, 0.75, 1.0, 1.0]);
    /// ```
    pub fn share_in(&self, year: usize) -> f64 {
        let at = year.saturating_sub(1).min(self.ramp.len().saturating_sub(1));
        self.ramp.get(at).copied().unwrap_or_default()
    }

    /// Share of the yield that is left at an age, 1 for the sowing year: all of it through the shortest usual stand life, half
    /// in the year after the longest, and falling evenly between and beyond (assumed; alfalfa is said to lose a tenth to a
    /// sixth a year from its fourth or fifth year). An annual has one year.
    ///
    /// ```
    /// let clover = &facts::crop::library().crop("red-clover").unwrap().stand;
    /// assert_eq!([1, 2, 4].map(|year| clover.ageing(year)), [1.0, 1.0, 0.5]);
    /// assert!(clover.ageing(9) < 0.1);
    /// ```
    pub fn ageing(&self, year: usize) -> f64 {
        let (low, high) = (f64::from(self.years.low), f64::from(self.years.high));
        if high <= 1.0 {
            return if year <= 1 { 1.0 } else { 0.0 };
        }
        let over = (year as f64 - low).max(0.0) / (high - low + 1.0);
        0.5_f64.powf(over)
    }
}

/// Nitrogen by a rule of thumb: pounds for a short ton of what is expected, as fed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NitrogenByYield {
    /// At the least.
    pub low: f64,
    /// At the most.
    pub high: f64,
    /// Water in what is counted, a share of the whole.
    pub moisture: f64,
    /// Key of the source.
    pub source: String,
}

/// What the crop takes up and carries off.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NutritionFacts {
    /// The rule for nitrogen.
    pub nitrogen: NitrogenRule,
    /// Days from sowing until seedlings are fed again; absent of crops that are not.
    #[serde(default)]
    pub topdress: Option<Days>,
    /// Nitrogen by the ton expected, where growers go by such a rule beside removal.
    #[serde(default)]
    pub n_by_yield: Option<NitrogenByYield>,
    /// Whether it takes up more potash than it needs.
    pub luxury_potash: bool,
    /// Bray P1 phosphorus above which it does not answer.
    pub critical_p: Figure,
    /// P₂O₅ for a soil that is very low.
    pub full_p2o5: Figure,
    /// K₂O for a soil that is very low.
    pub full_k2o: Figure,
    /// Calcium carbonate carried off, kg in a tonne of dry matter.
    pub alkalinity: Figure,
    /// What a harvest carries off.
    pub removal: RemovalFacts,
    /// The same when cut in late winter, the reserves below ground.
    pub removal_after_frost: Option<RemovalFacts>,
}

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
