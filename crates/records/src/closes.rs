//! What an entry closes: a step of a stand's plan, and which time of it.

use agronomy::{
    refusal::{Checks, Refused},
    said,
};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{About, SubjectKind, shape::check_words};

/// The longest key of a step, letters.
const LONGEST_KEY: usize = 100;

/// A place in a stand's years, which a record closes. It belongs to the entry, whatever the kind of its record. A record
/// that stands for no finished work, such as a failed bioassay, keeps the place it was made for and does not close it.
///
/// The stand need not be what the entry is about: lime is spread on a field and serves what stands there after this stand
/// as well, yet it was spread for a step of this one.
///
/// ```
/// use records::Closes;
/// let first = Closes { stand: uuid::Uuid::nil(), step: "cut".into(), season: Some(2027), occurrence: Some(1) };
/// assert!(first.is_same_time(&first.clone()));
/// // The first cut of the next year is another time.
/// assert!(!first.is_same_time(&Closes { season: Some(2028), ..first.clone() }));
/// // Which time it was is not said: it may be any.
/// let any = Closes { occurrence: None, ..first };
/// assert!(!any.is_same_time(&any));
/// ```
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Closes {
    /// The stand whose plan it is a step of.
    pub stand: Uuid,
    /// Key of the step.
    pub step: String,
    /// The farm's year in which it falls, by the calendar year in which that begins; none for what comes once in the life
    /// of a stand.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub season: Option<i16>,
    /// Which time of the step, from 1; the first that is open when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub occurrence: Option<i32>,
}

impl Closes {
    /// Refuse what can't be; pointers are relative to it.
    ///
    /// # Errors
    /// One refusal per field.
    pub fn check(&self) -> Result<(), Refused> {
        let mut checks = Checks::new();
        check_words(&mut checks, "/step", &self.step, true);
        let length = self.step.chars().count();
        checks.require(length <= LONGEST_KEY, "/step", said!("{} characters; the limit is {}", length, LONGEST_KEY));
        if let Some(season) = self.season {
            let known = (1950..=2200).contains(&season);
            checks.require(known, "/season", format!("the season is {season}; enter 1950\u{2013}2200"));
        }
        if let Some(time) = self.occurrence {
            checks.require(
                (1..=999).contains(&time),
                "/occurrence",
                said!("the occurrence is {}; enter 1\u{2013}999", time),
            );
        }
        checks.done()
    }

    /// Both say which time of which step it is, and mean the same.
    pub fn is_same_time(&self, other: &Self) -> bool {
        self.occurrence.is_some() && self == other
    }

    /// Taken out of a step as forms wrote it before entries had it: beside the operation. Nothing of other kinds, and of a
    /// step that is about no stand; what is no place is left for the record to refuse.
    pub fn lifted(payload: &mut Value, about: &[About]) -> Option<Self> {
        let step = payload.as_object_mut().filter(|step| step.get("kind").is_some_and(|kind| kind == "step"))?;
        let stand = about.iter().find(|subject| subject.kind == SubjectKind::Stand)?.id;
        let occurrence = step.get("occurrence").and_then(Value::as_i64);
        let closes = Self::of_step(stand, step.get("step"), occurrence)?;
        step.remove("step");
        if occurrence.is_some() {
            step.remove("occurrence");
        }
        Some(closes)
    }

    /// The same of a stored step of an older version.
    pub(crate) fn of_step(stand: Uuid, key: Option<&Value>, occurrence: Option<i64>) -> Option<Self> {
        let step = key?.as_str()?.to_owned();
        Some(Self { stand, step, season: None, occurrence: occurrence.map(|time| time.clamp(0, 1_000) as i32) })
    }
}
