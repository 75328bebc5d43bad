//! A stand, or the ground it is to stand on, was looked at.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{CountPerArea, CountPerLength, Length, Measure, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    record::{Record, Unreadable},
    shape::check_words,
};

/// A stand, or the ground it is to stand on, was looked at: what steps wait for by height or count.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StandLook {
    /// How tall the plants stand.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub plant_height: Option<Length>,
    /// How tall the weeds, or the old sod, stand.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub weed_height: Option<Length>,
    /// How many plants stand.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub plants: Option<CountPerArea>,
    /// It has turned green after its rest.
    #[serde(default)]
    pub greened_up: bool,
    /// Seedlings are up.
    #[serde(default)]
    pub up: bool,
    /// Seedlings along a row.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub seedlings: Option<CountPerLength>,
    /// Leaves on most seedlings: of a grass those that are unrolled, of a legume the true ones.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub leaves: Option<f64>,
    /// Anything else.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

impl Record for StandLook {
    const KIND: &'static str = "stand-look";
    const TITLE: &'static str = "Stand check";
    /// 1 knew nothing of seedlings, 2 nothing of their leaves.
    const VERSION: i32 = 3;

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        if let Some(height) = self.plant_height {
            checks.within("/plant_height", "Height", height, Unit::Cm, 0.0, 600.0);
        }
        if let Some(height) = self.weed_height {
            checks.within("/weed_height", "Height", height, Unit::Cm, 0.0, 600.0);
        }
        if let Some(plants) = self.plants {
            checks.within("/plants", "Count", plants, Unit::PerM2, 0.0, 20_000.0);
        }
        if let Some(seedlings) = self.seedlings {
            checks.within("/seedlings", "Seedlings", seedlings, Unit::PerM, 0.0, 5_000.0);
        }
        if let Some(leaves) = self.leaves {
            let right = (0.0..=30.0).contains(&leaves);
            checks.require(right, "/leaves", said!("{} leaves; enter 0–30", leaves));
        }
        let note = self.note.as_deref().unwrap_or_default();
        check_words(&mut checks, "/note", note, false);
        let nothing = self.plant_height.is_none() && self.weed_height.is_none() && self.plants.is_none();
        let something = !nothing || self.greened_up || self.up || self.seedlings.is_some() || self.leaves.is_some() || !note.trim().is_empty();
        checks.require(something, "/note", "enter at least one observation");
        checks.done()
    }

    fn says(&self) -> Said {
        let mut seen: Vec<Said> = vec![];
        seen.extend(self.plant_height.map(|height| said!("plants {} tall", height)));
        seen.extend(self.weed_height.map(|height| said!("weeds {} tall", height)));
        seen.extend(self.plants.map(|count| said!("plant count {}", count)));
        seen.extend(self.greened_up.then(|| "greened up".into()));
        seen.extend(self.up.then(|| "seedlings emerged".into()));
        seen.extend(self.seedlings.map(|count| said!("seedlings per length of row: {}", count)));
        seen.extend(self.leaves.map(|leaves| match leaves {
            1.0 => said!("1 leaf per seedling"),
            many => said!("{} leaves per seedling", many),
        }));
        seen.extend(self.note.as_deref().map(Said::from));
        said!("Stand check: {}", Said::joined(seen, ", "))
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        let on = inked.0.occurred_on;
        let Some(seen) = books.seen_of(inked) else { return };
        if let Some(height) = self.plant_height {
            seen.plants = Some((on, height));
        }
        if let Some(height) = self.weed_height {
            seen.weeds = Some((on, height));
        }
        if let Some(count) = self.plants {
            seen.count = Some((on, count));
        }
        if self.greened_up {
            seen.green = Some(on);
        }
        if let Some(leaves) = self.leaves {
            seen.leaves = Some((on, leaves));
        }
        let leaves = self.leaves.is_some_and(|leaves| leaves > 0.0);
        if self.up || leaves || self.seedlings.is_some_and(|count| count.base() > 0.0) {
            seen.up = Some(on);
        }
    }

    fn upgrade(_: i32, payload: Value) -> Result<Value, Unreadable> {
        // What was seen before says nothing of seedlings, and is else as it was.
        Ok(payload)
    }
}
