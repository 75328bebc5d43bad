//! What is done.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{machine::MachineKind, seed::Method};

/// What an operation is to a stand as a whole.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = StepRole)]
pub enum Role {
    /// It begins the stand: what comes before and after is counted from it.
    Sowing,
    /// It takes what stands: a stand that is not sown yet gives nothing.
    Harvest,
}

/// What is asked of a person who inks it as a step.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Ask {
    Area,
    BulkRate,
    Depth,
    Setting,
    Emerged,
}

/// The setting in which a variant of an operation stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Setting {
    /// Plants are set out instead of seed.
    Plants,
    /// Seed is spread on the surface.
    Broadcast,
}

/// An operation in other words, in a setting.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Variant {
    /// Where.
    pub when: Setting,
    /// What to do.
    pub title: String,
    /// In pencil.
    #[serde(default)]
    pub planned: Option<String>,
    /// In ink.
    #[serde(default)]
    pub done: Option<String>,
    /// Its cautions, instead of the operation's own.
    #[serde(default)]
    pub cautions: Option<Vec<String>>,
}

/// Something that is done.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Operation {
    /// Stable name; that of its file.
    pub key: String,
    /// What to do, in a few words.
    pub title: String,
    /// The same as a label in pencil.
    pub planned: String,
    /// The same as a label in ink.
    pub done: String,
    /// The outline it is drawn by.
    pub mark: String,
    /// How much it matters when there is not room for all, from 1.
    pub weight: u32,
    /// Its outline is enough on a strip; its words stand elsewhere.
    #[serde(default)]
    pub quiet: bool,
    /// The kind of machine that does it, where one does.
    #[serde(default)]
    pub machine: Option<MachineKind>,
    /// The kind of record that inks it.
    pub record: String,
    /// What is asked when it is inked as a step.
    #[serde(default)]
    pub asks: Vec<Ask>,
    /// What it is to the stand as a whole.
    #[serde(default)]
    pub role: Option<Role>,
    /// What to mind.
    #[serde(default)]
    pub cautions: Vec<String>,
    /// Cautions of a crop that are shown with it.
    #[serde(default)]
    pub crop_cautions: Vec<String>,
    /// Other words in other settings.
    #[serde(default, rename = "variant")]
    pub variants: Vec<Variant>,
}

impl Operation {
    /// The variant for a stand of plants, or of seed by a method.
    pub fn variant(&self, plants: bool, method: Option<Method>) -> Option<&Variant> {
        self.variants.iter().find(|variant| match variant.when {
            Setting::Plants => plants,
            Setting::Broadcast => !plants && method == Some(Method::Broadcast),
        })
    }
}
