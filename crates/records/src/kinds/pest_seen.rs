//! Insects, disease, signs of deficiency or other trouble were seen: which, how many, and where.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Fraction, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::weed_seen::Spot;
use crate::{
    book::{Books, Inked},
    record::Record,
    shape::check_words,
};

/// What kind of pest it is: by that its remedy is chosen.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = PestKind)]
#[allow(missing_docs)]
pub enum Pest {
    Insect,
    Mite,
    Disease,
    Nematode,
    Slug,
    Rodent,
    /// Leaves that show a nutrient is short.
    Deficiency,
    Other,
}

impl Pest {
    /// In words.
    pub fn words(self) -> &'static str {
        match self {
            Self::Insect => "insect",
            Self::Mite => "mite",
            Self::Disease => "disease",
            Self::Nematode => "nematode",
            Self::Slug => "slug",
            Self::Rodent => "rodent",
            Self::Deficiency => "nutrient deficiency",
            Self::Other => "other",
        }
    }
}

/// What a number of pests was counted in: thresholds are told by it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = PestsPer)]
#[allow(missing_docs)]
pub enum Per {
    Sweep,
    Stem,
    Plant,
    Trap,
}

impl Per {
    /// In words.
    pub fn words(self) -> &'static str {
        match self {
            Self::Sweep => "per sweep",
            Self::Stem => "per stem",
            Self::Plant => "per plant",
            Self::Trap => "per trap",
        }
    }
}

/// How many, in what they were counted in.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = PestCount)]
pub struct Count {
    /// On average.
    pub number: f64,
    /// In what.
    pub per: Per,
    /// From how many on the person acts: a threshold of their own, or of their adviser.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub threshold: Option<f64>,
}

impl Count {
    /// Whether it is time to act; none where nobody said from how many on.
    pub fn calls(self) -> Option<bool> {
        self.threshold.map(|threshold| self.number >= threshold)
    }

    fn says(self) -> Said {
        let Self { number, per, threshold } = self;
        let found = said!("{} {}", format!("{number}"), per.words());
        match (threshold, self.calls()) {
            (Some(threshold), Some(true)) => said!("{} (at or above your threshold of {})", found, format!("{threshold}")),
            (Some(threshold), _) => said!("{} (below your threshold of {})", found, format!("{threshold}")),
            (None, _) => found,
        }
    }
}

/// Insects, disease or other pests were seen in a field.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedPest)]
pub struct PestSeen {
    /// Which, in the person's words.
    pub name: String,
    /// What kind of pest.
    pub pest: Pest,
    /// How many.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub count: Option<Count>,
    /// Share of plants or stems damaged.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub damaged: Option<Fraction>,
    /// Where, where that was told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub at: Option<Spot>,
    /// Anything else.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

impl Record for PestSeen {
    const KIND: &'static str = "pest-seen";
    const TITLE: &'static str = "Pest seen";
    const DEED: &'static str = "Insects or disease seen";

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        check_words(&mut checks, "/name", &self.name, true);
        if let Some(Count { number, threshold, .. }) = self.count {
            let can_be = threshold.is_none_or(|threshold| threshold > 0.0 && threshold <= 10_000.0);
            checks.require(can_be, "/count/threshold", "enter a threshold above 0, up to 10,000");
            let sound = (0.0..=10_000.0).contains(&number);
            checks.require(sound, "/count/number", format!("the number is {number}; enter 0\u{2013}10,000"));
        }
        if let Some(damaged) = self.damaged {
            checks.within("/damaged", "Share damaged", damaged, Unit::Percent, 0.0, 100.0);
        }
        if let Some(at) = self.at {
            checks.require(at.is_on_earth(), "/at", "no place on earth lies there");
        }
        check_words(&mut checks, "/note", self.note.as_deref().unwrap_or_default(), false);
        checks.done()
    }

    fn says(&self) -> Said {
        let mut parts = vec![said!("Pest seen: {}, {}", self.name, self.pest.words())];
        parts.extend(self.count.map(Count::says));
        parts.extend(self.damaged.map(|damaged| said!("{} of plants damaged", damaged)));
        let head = Said::joined(parts, ", ");
        Said::joined([Some(head), self.note.as_deref().map(Said::from)].into_iter().flatten(), ". ")
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(field) = books.field_of(inked) {
            field.pests.push(inked.dated(self.clone()));
        }
    }
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;

    /// A person's own threshold, met from its number on; nobody else's is taken for it.
    #[rstest]
    #[case(2.0, Some(1.5), Some(true), "at or above your threshold of 1.5")]
    #[case(1.5, Some(1.5), Some(true), "at or above")]
    #[case(1.0, Some(1.5), Some(false), "below your threshold of 1.5")]
    #[case(1.0, None, None, "1 per sweep")]
    fn a_threshold_of_ones_own(
        #[case] number: f64,
        #[case] threshold: Option<f64>,
        #[case] calls: Option<bool>,
        #[case] says: &str,
    ) {
        let count = Count { number, per: Per::Sweep, threshold };
        assert_eq!(count.calls(), calls);
        let told = count.says().told(None);
        assert!(told.contains(says), "{told}");
    }

    #[test]
    fn a_threshold_that_can_not_be_is_refused_at_its_field() {
        let seen = PestSeen {
            name: "leafhopper".into(),
            pest: Pest::Insect,
            count: Some(Count { number: 1.0, per: Per::Sweep, threshold: Some(0.0) }),
            damaged: None,
            at: None,
            note: None,
        };
        let refused = seen.check(jiff::civil::date(2026, 6, 1)).unwrap_err();
        assert_eq!(refused.0[0].pointer, "/count/threshold");
    }
}
