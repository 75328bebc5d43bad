//! How much of a stand is enough: `library/stand-aims.toml`.

use std::sync::LazyLock;

use serde::Deserialize;

use crate::{
    crop::{Crop, library},
    source::Origin,
    units::{Dimension, Quantity, Unit},
};

/// What was counted.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum AimBy {
    /// Plants on an area.
    Plants,
    /// Stems on an area.
    Stems,
    /// Cells of a frequency grid with a plant.
    Grid,
}

/// A line of the data.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Aim {
    #[serde(default)]
    crops: Vec<String>,
    by: AimBy,
    from_days: i32,
    thin: f64,
    full: f64,
    unit: Unit,
    source: String,
}

impl Aim {
    /// Below this the stand is mended or given up.
    pub fn thin(&self) -> Quantity {
        Quantity::new(self.thin, self.unit)
    }

    /// From here on it gives its full yield.
    pub fn full(&self) -> Quantity {
        Quantity::new(self.full, self.unit)
    }

    /// Where both come from.
    pub fn origin(&self) -> Origin {
        Origin::sourced(library().source(&self.source))
    }
}

#[derive(Deserialize)]
struct File {
    aim: Vec<Aim>,
}

fn aims() -> &'static [Aim] {
    static AIMS: LazyLock<Vec<Aim>> = LazyLock::new(|| {
        let text = include_str!("../../../../library/stand-aims.toml");
        let File { aim } = toml::from_str(text).unwrap_or_else(|error| panic!("stand-aims.toml: {error}"));
        for one in &aim {
            let dimension = if one.by == AimBy::Grid { Dimension::Ratio } else { Dimension::CountPerArea };
            assert!(one.unit.dimension() == dimension, "stand-aims.toml: {} is another kind of count", one.unit);
            assert!(0.0 < one.thin && one.thin < one.full, "stand-aims.toml: thin must be below full");
            library().source(&one.source);
            if let Some(id) = one.crops.iter().find(|id| library().crop(id).is_none()) {
                panic!("stand-aims.toml: no crop {id} in the library");
            }
        }
        aim
    });
    &AIMS
}

/// What is enough of a crop, so many days after its sowing.
///
/// ```
/// use agronomy::{crop::library, establish::{AimBy, aim_of}};
/// let alfalfa = library().crop("alfalfa").unwrap();
/// assert_eq!(aim_of(alfalfa, AimBy::Plants, 30).unwrap().full().value, 25.0);
/// assert_eq!(aim_of(alfalfa, AimBy::Plants, 800).unwrap().full().value, 5.0);
/// // Nobody has told how many plants of maize are enough: its field is planned by population.
/// assert!(aim_of(library().crop("silage-maize").unwrap(), AimBy::Plants, 30).is_none());
/// ```
pub fn aim_of(crop: &Crop, by: AimBy, days: i32) -> Option<&'static Aim> {
    let meant = |aim: &&Aim| aim.crops.is_empty() || aim.crops.contains(&crop.id);
    aims()
        .iter()
        .filter(|aim| aim.by == by)
        .filter(meant)
        .filter(|aim| days >= aim.from_days)
        .max_by_key(|aim| aim.from_days)
}
