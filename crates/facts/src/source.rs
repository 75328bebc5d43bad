//! Where a figure comes from.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// How well founded a published or customary figure is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Class {
    /// In print, looked up: author, year, title or number, table or equation.
    Published,
    /// A rule of the trade, with no source to name.
    CommonPractice,
    /// A published source recalled, not looked up again.
    FromMemory,
}

/// A source, as shown beside a figure.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Source {
    /// How well founded.
    pub class: Class,
    /// Author, year, title or number, table or equation; or the rule in words.
    pub citation: String,
}

impl Source {
    /// A published source.
    pub fn published(citation: &str) -> Self {
        Self { class: Class::Published, citation: citation.to_owned() }
    }

    /// A rule of the trade.
    pub fn common_practice(citation: &str) -> Self {
        Self { class: Class::CommonPractice, citation: citation.to_owned() }
    }
}

/// Where an input of one reckoning comes from.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "from", rename_all = "kebab-case")]
pub enum Origin {
    /// Typed in for this reckoning.
    Given,
    /// Read off a tag, a scale, a laboratory report: an inked entry or about to be one.
    Measured {
        /// What it was read from: "tag of lot NL-204".
        what: String,
    },
    /// Worked out in another working shown with this one.
    Worked {
        /// Its title.
        part: String,
    },
    /// Taken from a source.
    Sourced {
        /// The source.
        source: Source,
    },
    /// A default that a person should replace.
    Assumed {
        /// The measurement or decision that would replace it.
        replace_by: String,
    },
}

impl Origin {
    /// Read off something.
    pub fn measured(what: impl Into<String>) -> Self {
        Self::Measured { what: what.into() }
    }

    /// A default, and what would replace it.
    pub fn assumed(replace_by: impl Into<String>) -> Self {
        Self::Assumed { replace_by: replace_by.into() }
    }

    /// From a source.
    pub fn sourced(source: &Source) -> Self {
        Self::Sourced { source: source.clone() }
    }
}
