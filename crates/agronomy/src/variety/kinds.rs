//! Kinds of variety within a crop: `library/varieties.toml`.

use std::sync::LazyLock;

use serde::Deserialize;

use crate::{
    crop::library,
    source::Source,
    units::{Temperature, Unit},
};

/// From, to; open where nothing is said.
#[derive(Debug, Clone, Copy, PartialEq, Default, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Range {
    /// At the least.
    pub from: Option<f64>,
    /// At the most.
    pub to: Option<f64>,
}

impl Range {
    /// Whether it holds a number.
    pub fn holds(self, value: f64) -> bool {
        self.from.is_none_or(|from| value >= from) && self.to.is_none_or(|to| value <= to)
    }
}

/// A kind of variety.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct VarietyKind {
    /// Crop of the library.
    pub crop: String,
    /// Stable name within the crop.
    pub key: String,
    /// In words.
    pub name: String,
    /// What for.
    pub about: String,
    /// Coldest night of a usual winter, °C.
    #[serde(default)]
    pub winter: Range,
    /// Days from sowing to the killing frost.
    #[serde(default)]
    pub time: Range,
    /// Fall dormancy that it takes in.
    #[serde(default)]
    pub dormancy: Option<[f64; 2]>,
}

impl VarietyKind {
    /// A bound of its winter, as a temperature.
    pub fn night(bound: f64) -> Temperature {
        Temperature::new(bound, Unit::DegC)
    }

    /// Where all of it comes from.
    pub fn source() -> &'static Source {
        library().source("variety-kinds")
    }
}

#[derive(Deserialize)]
struct File {
    kind: Vec<VarietyKind>,
}

/// All kinds of a crop, in the order of the file; none for most crops.
pub fn variety_kinds(crop: &str) -> impl Iterator<Item = &'static VarietyKind> + use<'_> {
    static KINDS: LazyLock<Vec<VarietyKind>> = LazyLock::new(|| {
        let text = include_str!("../../../../library/varieties.toml");
        let File { kind } = toml::from_str(text).unwrap_or_else(|error| panic!("varieties.toml: {error}"));
        for one in &kind {
            let (crop, key) = (&one.crop, &one.key);
            assert!(library().crop(crop).is_some(), "varieties.toml: no crop {crop} in the library");
            for range in [one.winter, one.time] {
                let sound = !matches!(range, Range { from: Some(from), to: Some(to) } if from >= to);
                assert!(sound, "varieties.toml: {crop} {key} fits nowhere");
            }
        }
        kind
    });
    KINDS.iter().filter(move |kind| kind.crop == crop)
}
