//! The crop library: one data file per crop, every value with its source, validated at load.
//!
//! The files stand in `library/crops`, the sources they name in `library/sources.toml`; both are
//! embedded in the binary. A value is a [`Figure`] (one number) or a [`Band`] (a range with the
//! rule that picks inside it), never a silent midpoint.

use std::{collections::BTreeMap, sync::LazyLock};

use include_dir::{Dir, include_dir};
use serde::{Deserialize, Serialize};
use thiserror::Error;
use utoipa::ToSchema;

use crate::{
    caution::Caution,
    nutrients::Nutrient,
    source::{Origin, Source},
    units::{Dimension, Measure, Quantity, Unit},
};

static FILES: Dir<'static> = include_dir!("$CARGO_MANIFEST_DIR/../../library");

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

/// What the crop takes up and carries off.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NutritionFacts {
    /// The rule for nitrogen.
    pub nitrogen: NitrogenRule,
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

/// A group of herbicides that may outlive the crop they were sprayed on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PlantBack {
    /// Stable name.
    pub key: String,
    /// Name of the group.
    pub name: String,
    /// Active ingredients, lower case.
    pub actives: Vec<String>,
    /// Months until a crop of a kind is safe.
    #[schema(value_type = std::collections::BTreeMap<String, i32>)]
    pub months: BTreeMap<Kind, i32>,
    /// Whether it lasts longer in limed soil.
    #[serde(default)]
    pub limed_lasts_longer: bool,
    /// What else to know.
    pub note: String,
    /// Key of the source.
    pub source: String,
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
    /// Soil reaction.
    pub soil: SoilFacts,
    /// What it asks of its place.
    pub site: SiteNeeds,
    /// What it takes up.
    pub nutrition: NutritionFacts,
}

/// What is wrong with the library's data.
#[derive(Debug, Error)]
pub enum LibraryError {
    /// A file that can't be read as what it should be.
    #[error("{file}: {message}")]
    File {
        /// Its path in the library.
        file: String,
        /// What is wrong, with the line.
        message: String,
    },
    /// A value outside what can be.
    #[error("{crop}: {what}")]
    Value {
        /// The crop's id.
        crop: String,
        /// What is wrong.
        what: String,
    },
}

/// All crops and sources.
#[derive(Debug)]
pub struct Library {
    crops: BTreeMap<String, Crop>,
    plant_back: Vec<PlantBack>,
    sources: BTreeMap<String, Source>,
}

/// The library embedded in this build.
///
/// # Panics
/// If the embedded data are wrong; a test loads them, so a broken library never ships.
pub fn library() -> &'static Library {
    static LIBRARY: LazyLock<Library> =
        LazyLock::new(|| Library::embedded().unwrap_or_else(|error| panic!("crop library: {error}")));
    &LIBRARY
}

impl Library {
    /// Read and validate the embedded files.
    ///
    /// # Errors
    /// The first file or value that is wrong.
    pub fn embedded() -> Result<Self, LibraryError> {
        let text = |path: &str| {
            FILES
                .get_file(path)
                .and_then(|file| file.contents_utf8())
                .ok_or_else(|| LibraryError::File { file: path.to_owned(), message: "missing or not UTF-8".to_owned() })
        };
        let sources = parse(text("sources.toml")?, "sources.toml")?;
        let mut crops = BTreeMap::new();
        let folder = FILES.get_dir("crops").into_iter().flat_map(Dir::files);
        for file in folder {
            let path = file.path().display().to_string();
            let crop: Crop = parse(text(&path)?, &path)?;
            if file.path().file_stem().and_then(|stem| stem.to_str()) != Some(&crop.id) {
                return Err(LibraryError::File { file: path, message: "id differs from the file name".to_owned() });
            }
            validate(&crop, &sources)?;
            crops.insert(crop.id.clone(), crop);
        }
        #[derive(Deserialize)]
        struct Groups {
            group: Vec<PlantBack>,
        }
        let Groups { group: plant_back } = parse(text("plant-back.toml")?, "plant-back.toml")?;
        if let Some(group) = plant_back.iter().find(|group| !sources.contains_key(&group.source)) {
            return Err(LibraryError::Value {
                crop: group.key.clone(),
                what: format!("unknown source {}", group.source),
            });
        }
        Ok(Self { crops, plant_back, sources })
    }

    /// The plant-back group of an active ingredient, as people write it.
    pub fn plant_back(&self, active: &str) -> Option<&PlantBack> {
        let active = active.trim().to_lowercase();
        self.plant_back.iter().find(|group| {
            group
                .actives
                .iter()
                .any(|known| active == *known || active.split([' ', '-', '+']).any(|word| word == known))
        })
    }

    /// All plant-back groups.
    pub fn plant_backs(&self) -> &[PlantBack] {
        &self.plant_back
    }

    /// A crop by its id.
    pub fn crop(&self, id: &str) -> Option<&Crop> {
        self.crops.get(id)
    }

    /// All crops, by id.
    pub fn crops(&self) -> impl Iterator<Item = &Crop> {
        self.crops.values()
    }

    /// A source by its key.
    ///
    /// # Panics
    /// If no file defines the key; loading has checked every key in use.
    pub fn source(&self, key: &str) -> &Source {
        self.sources.get(key).unwrap_or_else(|| panic!("unknown source {key}"))
    }
}

fn parse<T: serde::de::DeserializeOwned>(text: &str, file: &str) -> Result<T, LibraryError> {
    toml::from_str(text).map_err(|error| LibraryError::File { file: file.to_owned(), message: error.to_string() })
}

/// Check what types can't: dimensions, order of ends, sources, and which parts must be there.
fn validate(crop: &Crop, sources: &BTreeMap<String, Source>) -> Result<(), LibraryError> {
    let wrong = |what: String| LibraryError::Value { crop: crop.id.clone(), what };
    let known =
        |key: &str| sources.contains_key(key).then_some(()).ok_or_else(|| wrong(format!("unknown source {key}")));
    let figure = |name: &str, figure: &Figure, dimension: Dimension, low: f64, high: f64| {
        known(&figure.source)?;
        if figure.unit.dimension() != dimension {
            return Err(wrong(format!("{name}: expected {}", dimension.words())));
        }
        let base = figure.unit.to_base(figure.value);
        if !(low..=high).contains(&base) {
            return Err(wrong(format!("{name}: {} is out of range", figure.quantity())));
        }
        Ok(())
    };
    let band = |name: &str, band: &Band, dimension: Dimension, low: f64, high: f64| {
        if band.low > band.high {
            return Err(wrong(format!("{name}: low end above high end")));
        }
        for value in [band.low, band.high] {
            figure(name, &Figure { value, unit: band.unit, source: band.source.clone() }, dimension, low, high)?;
        }
        Ok(())
    };
    let days = |name: &str, days: &Days| {
        known(&days.source)?;
        if days.low < 1 || days.low > days.high || days.high > 800 {
            return Err(wrong(format!("{name}: days {}\u{2013}{} make no sense", days.low, days.high)));
        }
        Ok(())
    };

    if let Some(unknown) = crop.cautions.iter().find(|key| Caution::of(key).is_none()) {
        return Err(wrong(format!("unknown caution {unknown}")));
    }
    match (&crop.seed, &crop.sowing, &crop.planting) {
        (Some(_), Some(_), None) | (None, None, Some(_)) => {}
        _ => return Err(wrong("needs either seed and sowing, or planting".to_owned())),
    }
    if let Some(seed) = &crop.seed {
        figure("seeds per mass", &seed.per_mass, Dimension::CountPerMass, 1e3, 2e7)?;
        if let Some(bushel) = &seed.bushel {
            figure("bushel", bushel, Dimension::Mass, 5.0, 40.0)?;
        }
        if (crop.kind == Kind::Legume) != seed.inoculant.is_some() {
            return Err(wrong("an inoculant group belongs to legumes, and to all of them".to_owned()));
        }
    }
    if let Some(sowing) = &crop.sowing {
        band("rate", &sowing.rate, Dimension::MassPerArea, 5e-5, 5e-2)?;
        if let Some(aim) = &sowing.aim {
            figure("aim", aim, Dimension::CountPerArea, 50.0, 5_000.0)?;
        }
        figure("broadcast factor", &sowing.broadcast_factor, Dimension::Ratio, 1.0, 3.0)?;
        band("depth on fine soil", &sowing.depth_fine, Dimension::Length, 0.001, 0.15)?;
        band("depth on coarse soil", &sowing.depth_coarse, Dimension::Length, 0.001, 0.15)?;
        figure("row spacing", &sowing.row_spacing, Dimension::Length, 0.05, 2.0)?;
    }
    if let Some(planting) = &crop.planting {
        figure("row spacing", &planting.row_spacing, Dimension::Length, 0.2, 5.0)?;
        figure("in-row spacing", &planting.in_row, Dimension::Length, 0.1, 5.0)?;
        figure("survival", &planting.survival, Dimension::Ratio, 0.05, 1.0)?;
        band("depth", &planting.depth, Dimension::Length, 0.01, 0.3)?;
        if let Some(aim) = &planting.aim {
            figure("aim", aim, Dimension::CountPerArea, 0.1, 50.0)?;
        }
    }
    figure("soil temperature", &crop.establish.soil_temperature, Dimension::Temperature, 0.0, 30.0)?;
    days("first look", &crop.establish.first_look)?;
    days("count", &crop.establish.count)?;
    figure("lowest pH", &crop.soil.ph_low, Dimension::Ratio, 4.0, 8.0)?;
    figure("pH aim", &crop.soil.ph_aim, Dimension::Ratio, crop.soil.ph_low.value, 8.0)?;

    let site = &crop.site;
    figure("ponding", &site.ponding_days, Dimension::Ratio, 0.0, 60.0)?;
    figure("rooting depth", &site.rooting_depth, Dimension::Length, 0.1, 3.0)?;
    figure("slope for tillage", &site.tilled_slope, Dimension::Ratio, 0.01, 0.4)?;
    figure("rain", &site.rain, Dimension::Length, 0.1, 3.0)?;
    if let Some(warmest) = &site.warmest_month {
        figure("warmest month", warmest, Dimension::Temperature, 5.0, 35.0)?;
    }
    if let Some(subsoil) = &site.subsoil_ph {
        figure("subsoil pH", subsoil, Dimension::Ratio, 4.0, 8.0)?;
    }
    if let Some(months) = &site.autotoxic_months {
        days("months after its own kind", months)?;
    }
    if let Some(setback) = &site.neighbour_setback {
        figure("setback from neighbours", setback, Dimension::Length, 0.0, 100.0)?;
    }
    let nutrition = &crop.nutrition;
    figure("critical P", &nutrition.critical_p, Dimension::SoilContent, 1.0, 100.0)?;
    figure("full P dressing", &nutrition.full_p2o5, Dimension::MassPerArea, 1e-3, 5e-2)?;
    figure("full K dressing", &nutrition.full_k2o, Dimension::MassPerArea, 1e-3, 5e-2)?;
    figure("alkalinity", &nutrition.alkalinity, Dimension::Ratio, 0.0, 200.0)?;
    for removal in std::iter::once(&nutrition.removal).chain(&nutrition.removal_after_frost) {
        known(&removal.source)?;
        for nutrient in [Nutrient::N, Nutrient::P2o5, Nutrient::K2o] {
            let pounds = removal.share.get(&nutrient).copied().unwrap_or(-1.0);
            if !(0.0..=150.0).contains(&pounds) {
                return Err(wrong(format!("removal: {} pounds of {}", pounds, nutrient.words())));
            }
        }
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[test]
    fn the_embedded_library_loads_with_its_twelve_crops() {
        let library = Library::embedded().unwrap();
        let ids: Vec<_> = library.crops().map(|crop| crop.id.as_str()).collect();
        assert!(ids.len() >= 12, "{ids:?}");
        assert_eq!(library.crop("alfalfa").unwrap().scientific, "Medicago sativa");
        assert!(library.crop("moon-grass").is_none());
    }

    #[rstest]
    #[case("seeds per mass", |crop: &mut Crop| crop.seed.as_mut().unwrap().per_mass.value = 0.0)]
    #[case("unknown source", |crop: &mut Crop| crop.soil.ph_low.source = "hearsay".into())]
    #[case("low end above", |crop: &mut Crop| crop.sowing.as_mut().unwrap().rate.low = 99.0)]
    #[case("expected a length", |crop: &mut Crop| crop.sowing.as_mut().unwrap().row_spacing.unit = Unit::Kg)]
    #[case("unknown caution", |crop: &mut Crop| crop.cautions.push("dragons".into()))]
    #[case("needs either", |crop: &mut Crop| crop.sowing = None)]
    #[case("make no sense", |crop: &mut Crop| crop.establish.count.low = 0)]
    #[case("inoculant", |crop: &mut Crop| crop.seed.as_mut().unwrap().inoculant = None)]
    fn a_wrong_value_is_named(#[case] said: &str, #[case] spoil: fn(&mut Crop)) {
        let library = library();
        let mut crop = library.crop("alfalfa").unwrap().clone();
        spoil(&mut crop);
        let error = validate(&crop, &library.sources).unwrap_err().to_string();
        assert!(error.contains(said) && error.starts_with("alfalfa"), "{error}");
    }
}
