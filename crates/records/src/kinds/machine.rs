//! A machine of the farm, as it is run.

use agronomy::{
    machine::MachineKind,
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Fraction, Length, MoneyPerTime, Speed, Time, Unit, Volume},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    record::{By, Founds, Record},
    shape::check_words,
    subject::SubjectKind,
};

/// A machine, as it is run from then on. The last one counts.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedMachine)]
pub struct MachineFacts {
    /// What it is called.
    pub name: String,
    /// What it is for.
    pub machine: MachineKind,
    /// How wide it works.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub width: Option<Length>,
    /// Between the rows of a drill.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub row_spacing: Option<Length>,
    /// How fast it usually goes.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub speed: Option<Speed>,
    /// Share of its time that it works at its full width.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub efficiency: Option<Fraction>,
    /// What its tank holds.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tank: Option<Volume>,
    /// How long a filling takes.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub filling: Option<Time>,
    /// What an hour of it costs, own or a contractor's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cost: Option<MoneyPerTime>,
    /// Whose it is, when it can be had.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub note: String,
    /// It is there no more; what was done with it stays.
    #[serde(default)]
    pub gone: bool,
}

impl Record for MachineFacts {
    const KIND: &'static str = "machine";
    const TITLE: &'static str = "Machine";
    const NEEDS: &'static [SubjectKind] = &[SubjectKind::Machine];
    const BY: By = By::Manager;
    const REPLACES: bool = true;
    const FOUNDS: Option<Founds> = Some(Founds::one(SubjectKind::Machine));

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        check_words(&mut checks, "/name", &self.name, true);
        check_words(&mut checks, "/note", &self.note, false);
        if let Some(width) = self.width {
            checks.within("/width", "Width", width, Unit::M, 0.3, 60.0);
        }
        if let Some(spacing) = self.row_spacing {
            checks.within("/row_spacing", "Row spacing", spacing, Unit::Cm, 5.0, 200.0);
        }
        if let Some(speed) = self.speed {
            checks.within("/speed", "Speed", speed, Unit::KmPerH, 0.5, 40.0);
        }
        if let Some(efficiency) = self.efficiency {
            checks.within("/efficiency", "Field efficiency", efficiency, Unit::Percent, 10.0, 100.0);
        }
        if let Some(tank) = self.tank {
            checks.within("/tank", "Tank size", tank, Unit::L, 1.0, 50_000.0);
        }
        if let Some(filling) = self.filling {
            checks.within("/filling", "Refill time", filling, Unit::Min, 0.0, 600.0);
        }
        if let Some(cost) = self.cost {
            checks.within("/cost", "Cost per hour", cost, Unit::MoneyPerH, 0.0, 1e8);
        }
        checks.done()
    }

    fn says(&self) -> Said {
        let (name, words) = (self.name.as_str(), self.machine.words());
        let gone = if self.gone { "; no longer available" } else { "" };
        match (self.width, self.speed) {
            (Some(width), Some(speed)) => said!("{}: {}, {} wide at {}{}", name, words, width, speed, gone),
            (Some(width), None) => said!("{}: {}, {} wide{}", name, words, width, gone),
            _ => said!("{}, {}{}", name, words, gone),
        }
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(machine) = books.machine_of(inked) {
            machine.facts = Some(inked.dated(self.clone()));
        }
    }
}
