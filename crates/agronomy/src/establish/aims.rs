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

/// Days on either side of a line's first day over which the one before it fades into it: a stand that was counted on one day
/// or the next is judged alike (assumed).
const FADES: i32 = 30;

/// What is enough of a crop, so many days after its sowing.
///
/// ```
/// use agronomy::{crop::library, establish::{AimBy, aim_of}};
/// let alfalfa = library().crop("alfalfa").unwrap();
/// let full = |days| aim_of(alfalfa, AimBy::Plants, days).unwrap().full().value;
/// assert_eq!((full(30), full(800)), (25.0, 5.0));
/// // From 25 to 12 plants on a square foot around the 120th day, and not from one day to the next.
/// assert_eq!((full(90), full(120), full(150)), (25.0, 18.5, 12.0));
/// // Nobody has told how many plants of maize are enough: its field is planned by population.
/// assert!(aim_of(library().crop("silage-maize").unwrap(), AimBy::Plants, 30).is_none());
/// ```
pub fn aim_of(crop: &Crop, by: AimBy, days: i32) -> Option<Aim> {
    let meant = |aim: &&Aim| aim.crops.is_empty() || aim.crops.contains(&crop.id);
    let lines = || aims().iter().filter(|aim| aim.by == by).filter(meant);
    let holds = |days: i32| lines().filter(|aim| days >= aim.from_days).max_by_key(|aim| aim.from_days);
    let now = holds(days)?;
    let (before, after) = (holds(days - FADES).unwrap_or(now), holds(days + FADES).unwrap_or(now));
    let mut aim = after.clone();
    if before.from_days != after.from_days && before.unit == after.unit {
        let into = f64::from(days - after.from_days + FADES) / f64::from(2 * FADES);
        let faded = |before: f64, after: f64| before + (after - before) * into.clamp(0.0, 1.0);
        (aim.thin, aim.full) = (faded(before.thin, after.thin), faded(before.full, after.full));
    }
    Some(aim)
}
