//! The embedded files: read, validated, handed out.

use std::{collections::BTreeMap, sync::LazyLock};

use include_dir::{Dir, include_dir};
use serde::Deserialize;
use thiserror::Error;

use super::{
    facts::{Crop, GOALS, Kind, Life},
    figure::{Band, Days, Figure},
    rotation::{ActiveWait, PlantBack, Rotation},
    season::SeasonFacts,
};
use crate::{
    caution::Caution,
    nutrient::Nutrient,
    source::Source,
    units::{Dimension, Measure, Temperature},
};

static FILES: Dir<'static> = include_dir!("$CARGO_MANIFEST_DIR/../../library");

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
    seasons: BTreeMap<String, SeasonFacts>,
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
        let seasons = seasons(&crops, &sources)?;
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
        for group in &plant_back {
            for active in &group.actives {
                let wrong = |what: String| LibraryError::Value { crop: group.key.clone(), what };
                if let Some(class) = Rotation::ALL.iter().find(|class| !active.months.contains_key(class)) {
                    return Err(wrong(format!("{}: no months for {class:?}", active.names.join(", "))));
                }
                if let Some(id) = active.crops.keys().find(|id| !crops.contains_key(*id)) {
                    return Err(wrong(format!("{}: no crop {id}", active.names.join(", "))));
                }
                if let Some(months) =
                    active.months.values().chain(active.crops.values()).find(|m| !(0..=60).contains(*m))
                {
                    return Err(wrong(format!("{}: {months} months", active.names.join(", "))));
                }
            }
        }
        Ok(Self { crops, seasons, plant_back, sources })
    }

    /// The plant-back groups of an active ingredient, as people write it, and how long each keeps crops out: several of
    /// what was written as a mixture, none of what the table does not know.
    ///
    /// ```
    /// use facts::crop::library;
    /// let months = |active: &str, crop: &str| {
    ///     let crop = library().crop(crop).unwrap();
    ///     library().plant_backs_of(active).map(|(_, waits)| waits.months_for(crop)).max()
    /// };
    /// // A maize herbicide: maize follows maize, alfalfa the year after next.
    /// assert_eq!((months("atrazine", "silage-maize"), months("atrazine", "alfalfa")), (Some(0), Some(18)));
    /// assert_eq!(months("atrazine + mesotrione", "tall-fescue"), Some(14));
    /// assert_eq!(months("moonshine", "alfalfa"), None);
    /// ```
    pub fn plant_backs_of(&self, active: &str) -> impl Iterator<Item = (&PlantBack, &ActiveWait)> {
        let active = active.trim().to_lowercase();
        let is = move |known: &String| active == *known || active.split([' ', '-', '+']).any(|word| word == known);
        let all = self.plant_back.iter().flat_map(|group| group.actives.iter().map(move |waits| (group, waits)));
        all.filter(move |(_, waits)| waits.names.iter().any(&is))
    }

    /// All plant-back groups.
    pub fn plant_backs(&self) -> &[PlantBack] {
        &self.plant_back
    }

    /// A crop by its id.
    pub fn crop(&self, id: &str) -> Option<&Crop> {
        self.crops.get(id)
    }

    /// How a crop grows through its seasons.
    ///
    /// ```
    /// let season = facts::crop::library().season("winter-wheat").unwrap();
    /// assert_eq!((season.hardy_to, season.extinction), (-17.0, 0.55), "the second shared with oats");
    /// ```
    pub fn season(&self, id: &str) -> Option<&SeasonFacts> {
        self.seasons.get(id)
    }

    /// All crops, by id.
    pub fn crops(&self) -> impl Iterator<Item = &Crop> {
        self.crops.values()
    }

    /// Whether a source of this key is known.
    pub fn has_source(&self, key: &str) -> bool {
        self.sources.contains_key(key)
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
/// How each crop grows through its seasons, with what it shares with another.
fn seasons(
    crops: &BTreeMap<String, Crop>,
    sources: &BTreeMap<String, Source>,
) -> Result<BTreeMap<String, SeasonFacts>, LibraryError> {
    let of = |crop: &Crop| -> Result<SeasonFacts, String> {
        let mut line = vec![&crop.season];
        while let Some(like) = &line[line.len() - 1].like {
            let other = crops.get(like).ok_or_else(|| format!("season: like {like}, which no crop is"))?;
            if line.len() > 4 {
                return Err(format!("season: like {like}, and so on in a circle"));
            }
            line.push(&other.season);
        }
        let figures = line.iter().rev().try_fold(SeasonFacts::USUAL, |facts, table| facts.with(&table.own))?;
        match figures.wrong() {
            Some(wrong) => Err(wrong),
            None if !sources.contains_key(&crop.season.source) => Err("season: unknown source".to_owned()),
            None => Ok(figures),
        }
    };
    let named = |crop: &Crop| {
        let figures = of(crop).map_err(|what| LibraryError::Value { crop: crop.id.clone(), what })?;
        Ok((crop.id.clone(), figures))
    };
    crops.values().map(named).collect()
}

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
    if let Some(unknown) = crop.uses.iter().find(|goal| !GOALS.contains(&goal.as_str())) {
        return Err(wrong(format!("unknown use {unknown}")));
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
    if let Some(emergence) = &crop.establish.emergence {
        figure("warmth to emergence", &emergence.warmth, Dimension::ThermalTime, 20.0, 500.0)?;
        figure("base of emergence", &emergence.base, Dimension::Temperature, 0.0, 20.0)?;
    }
    days("first look", &crop.establish.first_look)?;
    days("count", &crop.establish.count)?;
    if let Some(cutting) = &crop.cutting {
        days("first cut", &cutting.first)?;
        days("regrowth", &cutting.regrowth)?;
        figure("stubble", &cutting.stubble, Dimension::Length, 0.02, 0.4)?;
    }
    figure("lowest pH", &crop.soil.ph_low, Dimension::Ratio, 4.0, 8.0)?;
    figure("pH aim", &crop.soil.ph_aim, Dimension::Ratio, crop.soil.ph_low.value, 8.0)?;
    if let Some(high) = &crop.soil.ph_high {
        figure("highest pH", high, Dimension::Ratio, crop.soil.ph_aim.value, 9.5)?;
    }
    if let Some(salt) = &crop.soil.salt {
        figure("salt threshold", &salt.threshold, Dimension::Conductivity, 0.5, 15.0)?;
        figure("loss to salt", &salt.loss, Dimension::Ratio, 0.01, 0.3)?;
    }

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
    let stand = &crop.stand;
    band("yield", &stand.yields, Dimension::MassPerArea, 0.05, 10.0)?;
    known(&stand.years.source)?;
    if stand.years.low < 1 || stand.years.low > stand.years.high || stand.years.high > 60 {
        return Err(wrong(format!("years {}\u{2013}{} make no sense", stand.years.low, stand.years.high)));
    }
    if (crop.life == Life::Annual) != (stand.years.low == 1 && stand.ramp == [1.0]) {
        return Err(wrong("an annual gives all it gives in one year, and nothing else does".to_owned()));
    }
    if !(1..=5).contains(&stand.ramp.len()) || !stand.ramp.iter().all(|share| (0.0..=1.0).contains(share)) {
        return Err(wrong("needs the share of its full yield for one to five years".to_owned()));
    }
    if !stand.ramp.contains(&1.0) {
        return Err(wrong("must reach its full yield in some year".to_owned()));
    }
    if let Some(summer) = &stand.summer {
        figure("summer", summer, Dimension::Temperature, 15.0, 45.0)?;
    }
    if let Some(warmth) = &stand.warmth {
        figure("warmth", warmth, Dimension::Temperature, 10.0, 30.0)?;
    }
    if let Some(winter) = &stand.winter {
        figure("winter", winter, Dimension::Temperature, -50.0, 5.0)?;
    } else if crop.life != Life::Annual {
        return Err(wrong("what lives over winter has a winter that it lives through".to_owned()));
    }
    let climate = &crop.climate;
    figure("base temperature", &climate.base, Dimension::Temperature, -5.0, 20.0)?;
    figure("killing frost", &climate.killing_frost, Dimension::Temperature, -15.0, 2.0)?;
    figure("seedling frost", &climate.seedling_frost, Dimension::Temperature, -15.0, 2.0)?;
    figure("heat", &climate.heat, Dimension::Temperature, 10.0, 45.0)?;
    figure("crop coefficient", &climate.crop_coefficient, Dimension::Ratio, 0.3, 1.4)?;
    figure("depletion", &climate.depletion, Dimension::Ratio, 0.2, 0.8)?;
    figure("root depth", &climate.root_depth, Dimension::Length, 0.2, 3.0)?;
    days("growing days", &climate.growing_days)?;
    known(&climate.stages_source)?;
    if climate.windows.is_empty() || !climate.stages.is_sorted_by(|a, b| a.degree_days < b.degree_days) {
        return Err(wrong("needs a window, and stages in the order of their warmth".to_owned()));
    }
    if let Some(growth) = &crop.growth {
        known(&growth.source)?;
        let base = climate.base.measure::<Temperature>().base();
        let sound = (0.5..=6.0).contains(&growth.light_use)
            && (0.001..=0.03).contains(&growth.catches)
            && (0.05..=20.0).contains(&growth.at_emergence)
            && (base + 1.0..=35.0).contains(&growth.full_at)
            && (0.0..growth.ends).contains(&growth.emerges);
        if !sound {
            return Err(wrong("has figures of growth that can\u{2019}t be".to_owned()));
        }
    }
    let nutrition = &crop.nutrition;
    figure("critical P", &nutrition.critical_p, Dimension::SoilContent, 1.0, 100.0)?;
    if let Some(with_seed) = &nutrition.with_seed {
        figure("salts with the seed", with_seed, Dimension::MassPerArea, 1e-4, 5e-3)?;
    }
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
    use crate::units::Unit;
    use rstest::rstest;

    #[test]
    fn the_embedded_library_loads() {
        let library = Library::embedded().unwrap();
        let ids: Vec<_> = library.crops().map(|crop| crop.id.as_str()).collect();
        assert!(ids.len() >= 50, "{ids:?}");
        assert_eq!(library.crop("alfalfa").unwrap().scientific, "Medicago sativa");
        assert!(library.crop("moon-grass").is_none());
    }

    #[rstest]
    #[case::unknown("can\u{2019}t be", "alfalfa", "own", "stub", 7.0)]
    #[case::flag_for_a_figure("can\u{2019}t be", "alfalfa", "own", "fixes", 1.0)]
    #[case::out_of_bounds("hardy_to is -90", "timothy", "own", "hardy_to", -90.0)]
    #[case::out_of_order("out of order", "timothy", "own", "best_to", 13.0)]
    #[case::bud_after_bloom("bud comes", "timothy", "own", "bud", 2000.0)]
    #[case::of_the_other("light_use is 50", "plantain", "red-clover", "light_use", 50.0)]
    fn a_season_that_can_not_be_is_refused(
        #[case] message: &str,
        #[case] id: &str,
        #[case] whose: &str,
        #[case] name: &str,
        #[case] value: f64,
    ) {
        let (mut crops, sources) = (library().crops.clone(), library().sources.clone());
        let whose = if whose == "own" { id } else { whose };
        // What it tells of itself does not come from the other.
        crops.get_mut(id).unwrap().season.own.remove(name);
        crops.get_mut(whose).unwrap().season.own.insert(name.to_owned(), super::super::season::Told::Figure(value));
        let wrong = seasons(&crops, &sources).unwrap_err().to_string();
        assert!(wrong.contains(message), "{wrong}");
    }

    #[test]
    fn likenesses_that_go_in_a_circle_are_refused() {
        let (mut crops, sources) = (library().crops.clone(), library().sources.clone());
        crops.get_mut("red-clover").unwrap().season.like = Some("plantain".to_owned());
        assert!(seasons(&crops, &sources).unwrap_err().to_string().contains("circle"));
        crops.get_mut("red-clover").unwrap().season.like = Some("moon-grass".to_owned());
        assert!(seasons(&crops, &sources).unwrap_err().to_string().contains("no crop"));
    }

    #[rstest]
    #[case("seeds per mass", |crop: &mut Crop| crop.seed.as_mut().unwrap().per_mass.value = 0.0)]
    #[case("unknown source", |crop: &mut Crop| crop.soil.ph_low.source = "hearsay".into())]
    #[case("low end above", |crop: &mut Crop| crop.sowing.as_mut().unwrap().rate.low = 99.0)]
    #[case("expected a length", |crop: &mut Crop| crop.sowing.as_mut().unwrap().row_spacing.unit = Unit::Kg)]
    #[case("unknown caution", |crop: &mut Crop| crop.cautions.push("dragons".into()))]
    #[case("needs either", |crop: &mut Crop| crop.sowing = None)]
    #[case("order of their warmth", |crop: &mut Crop| crop.climate.stages.reverse())]
    #[case("killing frost", |crop: &mut Crop| crop.climate.killing_frost.value = 12.0)]
    #[case("figures of growth", |crop: &mut Crop| {
        crop.growth = super::library().crop("forage-oats").unwrap().growth.clone();
        crop.growth.as_mut().unwrap().full_at = 3.0;
    })]
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
