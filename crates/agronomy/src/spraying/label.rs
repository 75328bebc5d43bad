//! A label, as somebody has read it.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    crop::{Crop, Kind},
    refusal::Checks,
    units::{Dimension, Length, Quantity, Speed, Temperature, Unit},
};

/// How long before a crop may be sown.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct LabelWait {
    /// The crop, as the label writes it.
    pub crop: String,
    /// Days from the spray.
    pub days: u32,
}

/// A label, as somebody has read it: nothing here is our own word, and the label is the law.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SprayLabel {
    /// Active ingredients.
    pub ingredients: Vec<String>,
    /// Lowest rate, per area.
    #[serde(default)]
    pub lowest: Option<Quantity>,
    /// Highest rate, per area.
    #[serde(default)]
    pub highest: Option<Quantity>,
    /// Crops it may be sprayed over, as the label writes them; empty where that was not read.
    #[serde(default)]
    pub over: Vec<String>,
    /// Hours until the field may be entered.
    #[serde(default)]
    pub re_entry_hours: Option<u32>,
    /// Days until it may be harvested.
    #[serde(default)]
    pub harvest_days: Option<u32>,
    /// Days until it may be grazed.
    #[serde(default)]
    pub grazing_days: Option<u32>,
    /// Days until what may be sown.
    #[serde(default)]
    pub plant_back: Vec<LabelWait>,
    /// Left unsprayed along water.
    #[serde(default)]
    pub buffer: Option<Length>,
    /// The most wind it allows.
    #[serde(default)]
    pub most_wind: Option<Speed>,
    /// The coolest it allows.
    #[serde(default)]
    pub coolest: Option<Temperature>,
    /// The hottest it allows.
    #[serde(default)]
    pub hottest: Option<Temperature>,
}

/// What is written of a crop on a label names it: by name, by another of its names, or by its kind.
pub fn names(written: &str, crop: &Crop) -> bool {
    let written = written.trim().to_lowercase();
    let one = written.strip_suffix('s').unwrap_or(&written);
    let is = |name: &str| {
        let name = name.to_lowercase();
        name == written || name == one
    };
    let kind = match crop.kind {
        Kind::Legume => ["legume", "legumes"],
        Kind::Grass => ["grass", "grasses"],
        Kind::Forb => ["forb", "wildflower"],
        Kind::Brassica => ["brassica", "brassicas"],
    };
    is(&crop.id)
        || is(&crop.name)
        || is(&crop.scientific)
        || crop.also.iter().any(|also| is(also))
        || kind.iter().any(|word| is(word))
}

/// How a label names a crop that may be sprayed over.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum NamedOver {
    /// By its name.
    Crop,
    /// Only varieties of it that tolerate something.
    Tolerant(String),
}

/// How what is written on a label names a crop; none where it names another.
///
/// ```
/// use agronomy::{crop::library, spraying::{NamedOver, named_over}};
/// let alfalfa = library().crop("alfalfa").unwrap();
/// assert_eq!(named_over("Alfalfa", alfalfa), Some(NamedOver::Crop));
/// let tolerant = Some(NamedOver::Tolerant("glyphosate".to_owned()));
/// assert_eq!(named_over("glyphosate-tolerant alfalfa", alfalfa), tolerant);
/// assert_eq!(named_over("glyphosate resistant soybeans", alfalfa), None);
/// ```
pub fn named_over(written: &str, crop: &Crop) -> Option<NamedOver> {
    if names(written, crop) {
        return Some(NamedOver::Crop);
    }
    let written = written.trim().to_lowercase();
    ["tolerant", "resistant"].iter().find_map(|word| {
        let (trait_of, rest) = written.split_once(word)?;
        let trait_of = trait_of.trim_end_matches([' ', '-']).to_owned();
        names(rest, crop).then_some(NamedOver::Tolerant(trait_of))
    })
}

impl SprayLabel {
    /// Refuse what no label says.
    pub fn check(&self, checks: &mut Checks) {
        let many = self.ingredients.len();
        checks.require((1..=12).contains(&many), "/label/ingredients", "enter 1–12 active ingredients");
        let blank = self.ingredients.iter().any(|one| one.trim().is_empty());
        checks.require(!blank, "/label/ingredients", "enter the ingredient name");
        for (pointer, rate) in [("/label/lowest", self.lowest), ("/label/highest", self.highest)] {
            if let Some(rate) = rate {
                check_rate(checks, pointer, rate);
            }
        }
        if let (Some(low), Some(high)) = (self.lowest, self.highest) {
            let ordered = low.dimension() == high.dimension() && base(low) <= base(high);
            let detail = "Lowest rate is above the highest, or one is dry and the other liquid; correct them";
            checks.require(ordered, "/label/lowest", detail);
        }
        for (pointer, days, most) in [
            ("/label/re_entry_hours", self.re_entry_hours, 1_440),
            ("/label/harvest_days", self.harvest_days, 1_000),
            ("/label/grazing_days", self.grazing_days, 1_000),
        ] {
            checks.require(days.is_none_or(|days| days <= most), pointer, format!("at most {most}"));
        }
        let (few, over) = ("enter at most 60", self.over.len().max(self.plant_back.len()));
        checks.require(over <= 60, "/label", few);
        for (index, wait) in self.plant_back.iter().enumerate() {
            let at = format!("/label/plant_back/{index}/days");
            checks.require(wait.days <= 2_000, at, format!("{} days; enter at most 2,000", wait.days));
        }
        if let Some(buffer) = self.buffer {
            checks.within("/label/buffer", "Buffer", buffer, Unit::M, 0.0, 500.0);
        }
        if let Some(wind) = self.most_wind {
            checks.within("/label/most_wind", "Wind", wind, Unit::KmPerH, 0.0, 60.0);
        }
        for (pointer, limit) in [("/label/coolest", self.coolest), ("/label/hottest", self.hottest)] {
            if let Some(limit) = limit {
                checks.within(pointer, "Temperature", limit, Unit::DegC, -10.0, 50.0);
            }
        }
    }
}

pub(super) fn base(rate: Quantity) -> f64 {
    rate.unit.to_base(rate.value)
}

/// A rate is per area and more than nothing.
pub(super) fn check_rate(checks: &mut Checks, pointer: &str, rate: Quantity) {
    match rate.dimension() {
        Dimension::VolumePerArea | Dimension::MassPerArea => {
            let sound = rate.value.is_finite() && rate.value > 0.0;
            checks.require(sound, pointer, "enter a rate above zero");
        }
        _ => checks.require(
            false,
            pointer,
            "enter the label rate per area; an amount per tank depends on the area a tank covers",
        ),
    }
}
