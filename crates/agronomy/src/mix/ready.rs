//! Mixes that are commonly sown, to begin with.

use std::sync::LazyLock;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    crop::library,
    units::{Fraction, Unit},
};

/// A member, by its share of full rate.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ReadyMember {
    /// Crop of the library.
    pub crop: String,
    /// Share of its full rate.
    pub share: Fraction,
}

/// A mix that is commonly sown.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ReadyMix {
    /// Stable name.
    pub key: String,
    /// In words.
    pub name: String,
    /// Goals it is sown for.
    pub goals: Vec<String>,
    /// Why.
    pub why: String,
    /// Its members.
    pub members: Vec<ReadyMember>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Member {
    crop: String,
    share: f64,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Mix {
    key: String,
    name: String,
    #[serde(rename = "for")]
    goals: Vec<String>,
    why: String,
    members: Vec<Member>,
}

#[derive(Deserialize)]
struct File {
    mix: Vec<Mix>,
}

/// All of them.
pub fn ready_mixes() -> &'static [ReadyMix] {
    static MIXES: LazyLock<Vec<ReadyMix>> = LazyLock::new(|| {
        let text = include_str!("../../../../library/mixes.toml");
        let File { mix } = toml::from_str(text).unwrap_or_else(|error| panic!("mixes.toml: {error}"));
        mix.into_iter().map(read).collect()
    });
    &MIXES
}

fn read(Mix { key, name, goals, why, members }: Mix) -> ReadyMix {
    let member = |Member { crop, share }: Member| {
        let sown = library().crop(&crop).is_some_and(|crop| crop.sowing.is_some());
        assert!(sown, "mixes.toml, {key}: {crop} is not a crop that is sown");
        ReadyMember { crop, share: Fraction::new(share, Unit::Percent) }
    };
    let members = members.into_iter().map(member).collect();
    ReadyMix { key, name, goals, why, members }
}
