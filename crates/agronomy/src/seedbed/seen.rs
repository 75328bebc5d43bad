//! What a person sees and feels of a seedbed.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The soil at seed depth, pressed in the hand.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Feel {
    /// It runs through the fingers.
    Dry,
    /// It holds together, and breaks when it is tapped.
    Moist,
    /// It smears.
    Wet,
}

impl Feel {
    /// In words.
    pub fn words(self) -> &'static str {
        match self {
            Self::Dry => "dry at seeding depth",
            Self::Moist => "moist at seeding depth",
            Self::Wet => "wet at seeding depth",
        }
    }
}

/// What grows there already.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Growing {
    /// Nothing.
    Nothing,
    /// Seedlings of weeds.
    Seedlings,
    /// Weeds or old sod that stand.
    Standing,
}
