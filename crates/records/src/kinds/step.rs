//! An operation on a stand was done.

use agronomy::{
    practice::{Ask, operation},
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Area, Length, MassPerArea, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    Closes,
    book::{Books, Inked},
    record::{Record, Unreadable},
    shape::check_words,
    subject::SubjectKind,
};

/// An operation on a stand was done. All but the operation may be left out in the field.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = StepDone)]
pub struct Step {
    /// Key of the operation.
    pub operation: String,
    /// Area actually done.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub area: Option<Area>,
    /// Rate reached, out of the bag.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bulk_rate: Option<MassPerArea>,
    /// Depth reached.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub depth: Option<Length>,
    /// Drill or spreader setting.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub setting: Option<String>,
    /// Whether seedlings were up, of a look for them.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub emerged: Option<bool>,
    /// Anything else.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

impl Record for Step {
    const KIND: &'static str = "step";
    const TITLE: &'static str = "Step";
    /// 1 knew each operation once: `{"done": {"step": "sow", …}}`; 2 said itself which step it closes; 3 did not say whether
    /// seedlings were up.
    const VERSION: i32 = 4;
    const NEEDS: &'static [SubjectKind] = &[SubjectKind::Field, SubjectKind::Stand];

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        match operation(&self.operation) {
            None => checks.refuse("/operation", said!("“{}” is not a known operation", self.operation)),
            Some(operation) => checks.require(
                operation.record == Self::KIND,
                "/operation",
                said!("record this with the “{}” form", operation.record),
            ),
        }
        let asked = operation(&self.operation).is_some_and(|known| known.asks.contains(&Ask::Emerged));
        checks.require(self.emerged.is_none() || asked, "/emerged", "only an emergence check says whether seedlings are up");
        check_words(&mut checks, "/note", self.note.as_deref().unwrap_or_default(), false);
        check_words(&mut checks, "/setting", self.setting.as_deref().unwrap_or_default(), false);
        if let Some(area) = self.area {
            checks.positive("/area", "Area", area, Unit::Ha, 20_000.0);
        }
        if let Some(rate) = self.bulk_rate {
            checks.positive("/bulk_rate", "Rate", rate, Unit::KgPerHa, 2_000.0);
        }
        if let Some(depth) = self.depth {
            checks.within("/depth", "Depth", depth, Unit::Cm, 0.0, 60.0);
        }
        checks.done()
    }

    fn of_part(&self, share: f64) -> Self {
        Self { area: self.area.map(|area| area * share), ..self.clone() }
    }

    fn says(&self) -> Said {
        let done = operation(&self.operation).map_or(self.operation.as_str(), |operation| &operation.done);
        let mut letters = done.chars();
        let head: String = letters.next().into_iter().flat_map(char::to_uppercase).chain(letters).collect();
        let mut parts = vec![Said::from(head)];
        parts.extend(self.area.map(|area| said!("{}", area)));
        parts.extend(self.bulk_rate.map(|rate| said!("{} bulk", rate)));
        parts.extend(self.depth.map(|depth| said!("{} deep", depth)));
        parts.extend(self.setting.as_deref().map(|setting| said!("setting {}", setting)));
        parts.extend(self.emerged.map(|emerged| Said::from(if emerged { "seedlings up" } else { "no seedlings yet" })));
        let head = Said::joined(parts, ", ");
        Said::joined([Some(head), self.note.as_deref().map(Said::from)].into_iter().flatten(), ". ")
    }

    fn operation(&self) -> Option<&str> {
        Some(&self.operation)
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if self.emerged == Some(true)
            && let Some(seen) = books.seen_of(inked)
        {
            seen.up = Some(inked.0.occurred_on);
        }
    }

    fn closed(version: i32, payload: &Value, stand: Uuid) -> Option<Closes> {
        match version {
            1 => Closes::of_step(stand, payload["done"].get("step"), Some(1)),
            2 => Closes::of_step(stand, payload.get("step"), payload["occurrence"].as_i64()),
            _ => None,
        }
    }

    fn upgrade(from: i32, payload: Value) -> Result<Value, Unreadable> {
        let Value::Object(mut step) = payload else { return Err(Unreadable("a step is an object".to_owned())) };
        if from == 1 {
            let Some(Value::Object(mut done)) = step.remove("done") else {
                return Err(Unreadable("a version 1 step must say what was done".to_owned()));
            };
            let operation = done.remove("step").unwrap_or_default();
            done.insert("operation".to_owned(), operation);
            return Ok(Value::Object(done));
        }
        // The entry has these: see `closed`.
        step.remove("step");
        step.remove("occurrence");
        Ok(Value::Object(step))
    }
}
