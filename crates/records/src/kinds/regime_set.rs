//! How a stand is used from a season on.

use agronomy::{
    practice::regime,
    refusal::{Checks, Refused},
    said,
    said::Said,
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    choices::check_regime,
    record::{By, Record},
    shape::check_words,
    subject::SubjectKind,
};

/// How a stand is used and kept from a season on, until another is decided. Of two for the same season the later holds.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RegimeSet {
    /// Key of the regime.
    pub regime: String,
    /// From this season on: the calendar year in which it begins.
    pub season: i16,
    /// Why.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

impl Record for RegimeSet {
    const KIND: &'static str = "regime";
    const TITLE: &'static str = "Regime";
    const DEED: &'static str = "Regime of a stand";
    const NEEDS: &'static [SubjectKind] = &[SubjectKind::Field, SubjectKind::Stand];
    const BY: By = By::Manager;

    fn check(&self, today: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        check_regime(&mut checks, "/regime", &self.regime);
        // A season begins at the earliest half a year before its calendar year ends; it is decided some years ahead.
        let known = (1950..=today.year() + 10).contains(&self.season);
        let detail = format!("the season is {}; enter 1950\u{2013}{}", self.season, today.year() + 10);
        checks.require(known, "/season", detail);
        check_words(&mut checks, "/note", self.note.as_deref().unwrap_or_default(), false);
        checks.done()
    }

    fn says(&self) -> Said {
        let name = regime(&self.regime).map_or(self.regime.as_str(), |regime| &regime.name);
        let head = said!("Regime from the season starting in {}: {}", self.season.to_string(), name);
        Said::joined([Some(head), self.note.as_deref().map(Said::from)].into_iter().flatten(), ". ")
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(stand) = books.stand_of(inked) {
            stand.regimes.push(inked.dated(self.clone()));
        }
    }
}
