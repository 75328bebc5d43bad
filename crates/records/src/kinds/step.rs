//! An operation on a stand was done.

use agronomy::{
    practice::operation,
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Area, Length, MassPerArea, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

use crate::{
    book::StandsFor,
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
    /// The step of the plan it was meant for; the first open one of the operation when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub step: Option<String>,
    /// Which time of that step, from 1.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub occurrence: Option<u32>,
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
    /// Anything else.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

impl Record for Step {
    const KIND: &'static str = "step";
    const TITLE: &'static str = "Step";
    /// 1 knew each operation once: `{"done": {"step": "sow", …}}`.
    const VERSION: i32 = 2;
    const NEEDS: &'static [SubjectKind] = &[SubjectKind::Field, SubjectKind::Stand];

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        match operation(&self.operation) {
            None => checks.refuse("/operation", said!("\u{201c}{}\u{201d} is no operation known here", self.operation)),
            Some(operation) => checks.require(
                operation.record == Self::KIND,
                "/operation",
                said!("this is inked by what was found or spread: a record of the kind \u{201c}{}\u{201d}", operation.record),
            ),
        }
        if let Some(time) = self.occurrence {
            checks.require(self.step.is_some(), "/step", "say which step it is a time of");
            checks.require((1..=999).contains(&time), "/occurrence", said!("time {}; it must be from 1 to 999", time));
        }
        check_words(&mut checks, "/step", self.step.as_deref().unwrap_or_default(), false);
        check_words(&mut checks, "/note", self.note.as_deref().unwrap_or_default(), false);
        check_words(&mut checks, "/setting", self.setting.as_deref().unwrap_or_default(), false);
        if let Some(area) = self.area {
            checks.positive("/area", "the area", area, Unit::Ha, 20_000.0);
        }
        if let Some(rate) = self.bulk_rate {
            checks.positive("/bulk_rate", "the rate", rate, Unit::KgPerHa, 2_000.0);
        }
        if let Some(depth) = self.depth {
            checks.within("/depth", "the depth", depth, Unit::Cm, 0.0, 60.0);
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
        parts.extend(self.bulk_rate.map(|rate| said!("{} out of the bag", rate)));
        parts.extend(self.depth.map(|depth| said!("{} deep", depth)));
        parts.extend(self.setting.as_deref().map(|setting| said!("setting {}", setting)));
        let head = Said::joined(parts, ", ");
        Said::joined([Some(head), self.note.as_deref().map(Said::from)].into_iter().flatten(), ". ")
    }

    fn operation(&self) -> Option<StandsFor> {
        Some(StandsFor { operation: self.operation.clone(), step: self.step.clone(), occurrence: self.occurrence })
    }

    fn upgrade(from: i32, payload: Value) -> Result<Value, Unreadable> {
        debug_assert_eq!(from, 1);
        let mut done = match payload {
            Value::Object(mut object) => match object.remove("done") {
                Some(Value::Object(done)) => done,
                _ => return Err(Unreadable("a step of version 1 holds what was done".to_owned())),
            },
            _ => return Err(Unreadable("a step is an object".to_owned())),
        };
        let step = done.remove("step").unwrap_or_default();
        done.insert("operation".to_owned(), step.clone());
        done.insert("step".to_owned(), step);
        done.insert("occurrence".to_owned(), 1.into());
        Ok(Value::Object(done))
    }
}
