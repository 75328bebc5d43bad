//! The first two years: what to look at and when, and what is not done to a young stand yet (`library/young.toml`).

use std::sync::LazyLock;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    crop::{Crop, Kind, Life, library},
    said::Said,
    texture::Texture,
};

/// What is not done to a young stand.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Bar {
    /// Cutting.
    Cut,
    /// Grazing.
    Graze,
    /// Nitrogen.
    Nitrogen,
    /// Spraying over it.
    Spray,
}

/// Which stands a look is of; what is left out stands for any.
#[derive(Debug, Clone, PartialEq, Default, Deserialize)]
#[serde(deny_unknown_fields)]
struct Of {
    #[serde(default)]
    crops: Vec<String>,
    #[serde(default)]
    kinds: Vec<Kind>,
    #[serde(default)]
    life: Vec<Life>,
    #[serde(default)]
    textures: Vec<Texture>,
    plants: Option<bool>,
    sown_into: Option<bool>,
    autumn: Option<bool>,
    winter: Option<bool>,
    after_frost: Option<bool>,
}

/// A line of the data.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct YoungLook {
    /// Stable name.
    pub key: String,
    /// In a word or two.
    pub title: String,
    text: String,
    /// Days after the sowing.
    pub from: i32,
    /// Until.
    pub to: i32,
    /// Again after so many days.
    pub every: Option<i32>,
    #[serde(default)]
    of: Of,
    /// What it speaks against until its last day.
    #[serde(default)]
    pub bars: Vec<Bar>,
    /// It is over once most seedlings were seen with so many leaves.
    pub until_leaves: Option<f64>,
}

/// A stand that is asked about.
#[derive(Debug, Clone, Copy)]
pub struct YoungStand<'a> {
    /// Its crops.
    pub crops: &'a [&'a Crop],
    /// Texture of its soil, where it is known.
    pub texture: Option<Texture>,
    /// Set out as plants.
    pub plants: bool,
    /// Sown into a standing sward.
    pub sown_into: bool,
    /// Sown while days shorten, where a winter follows.
    pub autumn: bool,
    /// A winter comes there.
    pub winter: bool,
    /// What is taken off it is taken after frost.
    pub after_frost: bool,
}

impl YoungLook {
    /// Whether it is of a stand: of any of its crops.
    pub fn is_of(&self, stand: YoungStand<'_>) -> bool {
        let of = &self.of;
        let crop = |crop: &&Crop| {
            (of.crops.is_empty() || of.crops.contains(&crop.id))
                && (of.kinds.is_empty() || of.kinds.contains(&crop.kind))
                && (of.life.is_empty() || of.life.contains(&crop.life))
        };
        stand.crops.iter().any(crop)
            // Where nobody told the texture, a crust is looked for.
            && (of.textures.is_empty() || stand.texture.is_none_or(|texture| of.textures.contains(&texture)))
            && of.plants.is_none_or(|plants| plants == stand.plants)
            && of.sown_into.is_none_or(|into| into == stand.sown_into)
            && of.autumn.is_none_or(|autumn| autumn == stand.autumn)
            && of.winter.is_none_or(|winter| winter == stand.winter)
            && of.after_frost.is_none_or(|after| after == stand.after_frost)
    }

    /// Whether it still stands on a day so long after the sowing, where so many leaves were seen.
    pub fn stands(&self, days: i32, leaves: Option<f64>) -> bool {
        let grown = self.until_leaves.zip(leaves).is_some_and(|(until, leaves)| leaves >= until);
        days <= self.to && !grown
    }

    /// What to do, amounts in the reader's units.
    pub fn says(&self) -> Said {
        Said::from_text(&self.text, &[])
    }
}

#[derive(Deserialize)]
struct File {
    look: Vec<YoungLook>,
}

/// All lines, in the order of the file.
pub fn young_looks() -> &'static [YoungLook] {
    static LOOKS: LazyLock<Vec<YoungLook>> = LazyLock::new(|| {
        let text = include_str!("../../../../library/young.toml");
        let File { look } = toml::from_str(text).unwrap_or_else(|error| panic!("young.toml: {error}"));
        for one in &look {
            assert!(0 <= one.from && one.from < one.to, "young.toml: {} ends before it begins", one.key);
            assert!(one.every.is_none_or(|every| every > 0), "young.toml: {} comes every how many days?", one.key);
            if let Some(id) = one.of.crops.iter().find(|id| library().crop(id).is_none()) {
                panic!("young.toml: no crop {id} in the library");
            }
        }
        look
    });
    &LOOKS
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    fn bars(ids: &[&str], days: i32, how: &str, leaves: Option<f64>) -> Vec<Bar> {
        let crops: Vec<&Crop> = ids.iter().filter_map(|id| library().crop(id)).collect();
        let asked = YoungStand {
            crops: &crops,
            texture: None,
            plants: how == "plants",
            sown_into: how == "sown into",
            autumn: how == "autumn",
            winter: how != "tropics",
            after_frost: false,
        };
        let looks =
            young_looks().iter().filter(|look| look.is_of(asked) && look.from <= days && look.stands(days, leaves));
        looks.flat_map(|look| look.bars.clone()).collect()
    }

    /// Common practice, no source.
    #[rstest]
    #[case::alfalfa_early(&["alfalfa"], 45, "", &[Bar::Cut, Bar::Graze])]
    #[case::alfalfa_late(&["alfalfa"], 66, "", &[])]
    #[case::sown_in_autumn(&["alfalfa"], 120, "autumn", &[Bar::Cut, Bar::Graze])]
    #[case::natives(&["switchgrass"], 200, "", &[Bar::Nitrogen, Bar::Graze, Bar::Cut])]
    #[case::natives_in_year_two(&["switchgrass"], 400, "", &[])]
    #[case::sown_into_a_sward(&["white-clover"], 30, "sown into", &[Bar::Cut])]
    #[case::rhizomes(&["giant-miscanthus"], 200, "plants", &[Bar::Cut])]
    #[case::oats(&["forage-oats"], 30, "", &[])]
    fn what_is_not_done_yet(#[case] crops: &[&str], #[case] days: i32, #[case] how: &str, #[case] wanted: &[Bar]) {
        assert_eq!(bars(crops, days, how, Some(4.0)), wanted);
    }

    /// Common practice: three to five leaves before a spray; where nobody counted them, they may be fewer. What is set
    /// out as plants is told by its label alone.
    #[rstest]
    #[case::nobody_counted("", 30, None, true)]
    #[case::two("", 30, Some(2.0), true)]
    #[case::three("", 30, Some(3.0), false)]
    #[case::just_sown("", 5, None, false)]
    #[case::grown("", 91, None, false)]
    #[case::plants("plants", 30, None, false)]
    fn a_spray_waits_for_leaves(
        #[case] how: &str,
        #[case] days: i32,
        #[case] leaves: Option<f64>,
        #[case] wanted: bool,
    ) {
        assert_eq!(bars(&["forage-oats"], days, how, leaves).contains(&Bar::Spray), wanted);
    }
}
