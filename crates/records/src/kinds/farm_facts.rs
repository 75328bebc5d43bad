//! What the farm is called, where it lies, and whether it is still run.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Currency, Length, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    record::{By, Record},
    shape::check_words,
    subject::SubjectKind,
};

/// What became of a farm.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = FarmTurn)]
pub enum Turn {
    /// It was founded.
    Founded,
    /// What is known of it was corrected.
    Corrected,
    /// It was closed: read from then on, and written no more.
    Closed,
    /// It was opened again.
    Reopened,
}

/// What the farm is called, where it lies, and whether it is still run: as it stands from then on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedFarm)]
pub struct FarmFacts {
    /// What happened.
    pub what: Turn,
    /// Its name.
    pub name: String,
    /// Degrees north.
    pub latitude: f64,
    /// Degrees east.
    pub longitude: f64,
    /// Above the sea.
    pub elevation: Length,
    /// IANA time zone.
    pub time_zone: String,
    /// What is paid in; dollars where it is not told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schema(value_type = Option<String>)]
    pub currency: Option<Currency>,
    /// The month that its year begins with; by the hemisphere where it is not told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub year_begins: Option<i8>,
}

impl Record for FarmFacts {
    const KIND: &'static str = "farm";
    const TITLE: &'static str = "The farm";
    const NEEDS: &'static [SubjectKind] = &[];
    const BY: By = By::Itself("farm details are changed under Set-up");

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        check_words(&mut checks, "/name", &self.name, true);
        check_words(&mut checks, "/time_zone", &self.time_zone, true);
        for (pointer, what, degrees, most) in
            [("/latitude", "Latitude", self.latitude, 90.0), ("/longitude", "Longitude", self.longitude, 180.0)]
        {
            let within = degrees.is_finite() && degrees.abs() <= most;
            checks.require(within, pointer, format!("{degrees}° is not a {what}; enter −{most} to {most}"));
        }
        checks.within("/elevation", "Elevation", self.elevation, Unit::M, -430.0, 6_000.0);
        let months = self.year_begins.is_none_or(|month| (1..=12).contains(&month));
        checks.require(months, "/year_begins", "choose a month, 1–12");
        checks.done()
    }

    fn says(&self) -> Said {
        let name = self.name.as_str();
        match self.what {
            Turn::Closed => said!("{} closed", name),
            Turn::Reopened => said!("{} reopened", name),
            Turn::Founded | Turn::Corrected => said!(
                "{}, {}, {}, elevation {}, time zone {}{}",
                name,
                towards(self.latitude, "north", "south"),
                towards(self.longitude, "east", "west"),
                self.elevation,
                self.time_zone.as_str(),
                self.currency.map(|currency| format!(", currency {currency}")).unwrap_or_default()
            ),
        }
    }
}

fn towards(degrees: f64, ahead: &str, behind: &str) -> String {
    format!("{}° {}", degrees.abs(), if degrees < 0.0 { behind } else { ahead })
}
