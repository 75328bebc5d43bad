//! A drill was calibrated.

use agronomy::{
    crop::library,
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Length, Mass, MassPerArea, Measure, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    record::{Record, Unreadable},
    shape::check_words,
    subject::SubjectKind,
};

/// A drill was calibrated: what a setting came to with a seed. Kept with the drill, for the next year's first guess.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedDrillSet)]
pub struct DrillSet {
    /// Crop of the library that ran through it.
    pub crop: String,
    /// What else was in the box with it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub also: Vec<String>,
    /// Reached out of the bag, by the rows in line.
    pub rate: MassPerArea,
    /// On the drill's own scale.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub setting: Option<f64>,
    /// What each row dropped, left to right, where each was weighed.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub rows: Vec<Mass>,
    /// The way that they stand for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub course: Option<Length>,
    /// Conditions: the lot, how damp, how fast, what was found stopped up.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

impl DrillSet {
    /// Rows that dropped nothing while others did, from the left, from 1.
    pub fn blocked(&self) -> Vec<usize> {
        let dropped = |row: &&(usize, &Mass)| row.1.base() > 0.0;
        let rows: Vec<(usize, &Mass)> = self.rows.iter().enumerate().collect();
        match rows.iter().any(|row| dropped(&row)) {
            true => rows.iter().filter(|row| !dropped(row)).map(|(index, _)| index + 1).collect(),
            false => vec![],
        }
    }

    /// "Row 4 blocked", "Rows 2 and 7 blocked"; none where all run.
    pub fn blocked_said(&self) -> Option<Said> {
        let rows = self.blocked();
        match rows.as_slice() {
            [] => None,
            [row] => Some(said!("Row {} blocked", *row)),
            many => {
                let said = many.iter().map(|row| Said::from(row.to_string()));
                Some(said!("Rows {} blocked", Said::joined(said, ", ")))
            }
        }
    }
}

impl Record for DrillSet {
    const KIND: &'static str = "drill-set";
    const TITLE: &'static str = "Drill calibrated";
    const DEED: &'static str = "Calibrate the drill";
    /// 1 knew one seed in a box.
    const VERSION: i32 = 2;
    const NEEDS: &'static [SubjectKind] = &[SubjectKind::Field, SubjectKind::Stand];

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        let known = library().crop(&self.crop).is_some();
        checks.require(known, "/crop", said!("“{}” is not a crop in the library", self.crop.as_str()));
        checks.require(self.also.len() < 12, "/also", "at most 12 kinds of seed in one box");
        for (index, other) in self.also.iter().enumerate().take(12) {
            let once = *other != self.crop && !self.also[..index].contains(other);
            let known = library().crop(other).is_some();
            checks.require(known && once, format!("/also/{index}"), said!("“{}” is not another crop in the library", other.as_str()));
        }
        checks.positive("/rate", "Rate", self.rate, Unit::KgPerHa, 2_000.0);
        if let Some(setting) = self.setting {
            let right = setting > 0.0 && setting <= 100_000.0;
            checks.require(right, "/setting", said!("Setting is {}; enter a number above zero", setting));
        }
        checks.require(self.rows.len() <= 120, "/rows", "enter at most 120 rows");
        for (index, row) in self.rows.iter().enumerate().take(120) {
            checks.within(&format!("/rows/{index}"), &format!("Row {}", index + 1), *row, Unit::Kg, 0.0, 50.0);
        }
        if let Some(course) = self.course {
            checks.within("/course", "Test course length", course, Unit::M, 5.0, 2_000.0);
        }
        check_words(&mut checks, "/note", self.note.as_deref().unwrap_or_default(), false);
        checks.done()
    }

    fn says(&self) -> Said {
        let named = |id: &String| library().crop(id).map_or_else(|| id.clone(), |crop| crop.name.clone());
        let all: Vec<String> = std::iter::once(&self.crop).chain(&self.also).map(named).collect();
        let name = all.join(" with ");
        let head = match self.setting {
            Some(setting) => said!("Calibrated for {}: {} at setting {}", name, self.rate, setting),
            None => said!("Calibrated for {}: {}", name, self.rate),
        };
        let blocked = self.blocked_said();
        Said::joined([Some(head), blocked, self.note.as_deref().map(Said::from)].into_iter().flatten(), ". ")
    }

    fn upgrade(_: i32, payload: Value) -> Result<Value, Unreadable> {
        Ok(payload)
    }

    /// A drill with a blocked row is not ready to sow: the step stays open until it is cleared and caught again.
    fn operation(&self) -> Option<&str> {
        self.blocked().is_empty().then_some("calibrate")
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(machine) = books.machine_of(inked) {
            machine.catches.push(inked.dated(self.clone()));
        }
        if let Some(stand) = books.stand_of(inked) {
            stand.calibrated.push(inked.dated(self.clone()));
        }
    }
}
