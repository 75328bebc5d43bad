//! Texture classes of soil: what the hand feels, and what much else is told by.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Texture class, coarse to fine.
#[derive(Hash, Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Texture {
    Sand,
    SandyLoam,
    Loam,
    SiltLoam,
    ClayLoam,
    Clay,
}

impl Texture {
    /// As people say it.
    pub fn words(self) -> &'static str {
        match self {
            Self::Sand => "sand",
            Self::SandyLoam => "sandy loam",
            Self::Loam => "loam",
            Self::SiltLoam => "silt loam",
            Self::ClayLoam => "clay loam",
            Self::Clay => "clay",
        }
    }
}
