//! The ways of timing a sowing, from the library.

use std::sync::LazyLock;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::Rule;
use crate::source::Source;

/// Where a way of timing is offered.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Offered {
    /// Everywhere.
    Any,
    /// Where frost is known.
    Frosty,
    /// Where it is not.
    FrostFree,
}

/// A way of timing a sowing: a school, with the reason of each side.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct WindowKind {
    /// Stable name.
    pub key: String,
    /// In words.
    pub name: String,
    /// Where it is offered.
    #[serde(rename = "where")]
    pub offered: Offered,
    /// Why one does it.
    pub for_it: String,
    /// Why one does not.
    pub against_it: String,
    /// Key of the source.
    pub source: String,
    /// What must hold.
    pub conditions: Vec<Rule>,
}

impl WindowKind {
    /// Whether it is offered at a place where frost is known, or is not.
    pub fn offered_at(&self, frosty: bool) -> bool {
        match self.offered {
            Offered::Any => true,
            Offered::Frosty => frosty,
            Offered::FrostFree => !frosty,
        }
    }

    /// Where it comes from.
    pub fn source(&self) -> &'static Source {
        crate::crop::library().source(&self.source)
    }
}

#[derive(Deserialize)]
struct File {
    window: Vec<WindowKind>,
}

/// The first key that is none of the ways.
fn unknown<'a>(kinds: &[WindowKind], keys: &'a [String]) -> Option<&'a str> {
    keys.iter().find(|key| kinds.iter().all(|kind| kind.key != **key)).map(String::as_str)
}

/// All ways, in the order of the file.
///
/// # Panics
/// If the embedded file is wrong; a test loads it.
pub fn window_kinds() -> &'static [WindowKind] {
    static KINDS: LazyLock<Vec<WindowKind>> = LazyLock::new(|| {
        let text = include_str!("../../../../library/windows.toml");
        let file: File = toml::from_str(text).unwrap_or_else(|error| panic!("library/windows.toml: {error}"));
        for crop in crate::crop::library().crops() {
            let unknown = |keys| unknown(&file.window, keys);
            if let Some(unknown) = unknown(&crop.climate.windows).or_else(|| unknown(&crop.climate.also)) {
                panic!("{}: unknown window {unknown}", crop.id);
            }
        }
        file.window
    });
    &KINDS
}

/// A way by its key.
pub fn window_kind(key: &str) -> Option<&'static WindowKind> {
    window_kinds().iter().find(|kind| kind.key == key)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_crop_is_timed_in_ways_that_there_are() {
        let kinds = window_kinds();
        assert_eq!(unknown(kinds, &[kinds[0].key.clone()]), None);
        assert_eq!(unknown(kinds, &[kinds[0].key.clone(), "whenever".to_owned()]), Some("whenever"));
    }
}
