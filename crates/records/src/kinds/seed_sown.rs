//! Seed of a lot was sown: so much of it, over so much ground.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    seedbed::seen::Feel,
    units::{Area, Length, Mass, MassPerArea, Measure, Temperature, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked, SownOfLot},
    record::{Record, Unreadable},
    shape::check_words,
    subject::SubjectKind,
};

/// How it was found out how much ground was sown.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = SownAreaBy)]
pub enum AreaBy {
    /// All within the field's boundary.
    Boundary,
    /// Somebody walked or drove around it.
    Walked,
    /// From the hours it took.
    Hours,
}

impl AreaBy {
    fn words(self) -> &'static str {
        match self {
            Self::Boundary => "from the boundary",
            Self::Walked => "walked",
            Self::Hours => "from hours worked",
        }
    }
}

/// Seed of a lot was sown. A field that is sown in several days, with several lots or drills, has several of these;
/// what is wanted in the field is the step alone, and this comes when there is time.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedSeedSown)]
pub struct SeedSown {
    /// Over so much ground.
    pub area: Area,
    /// How that is known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub area_by: Option<AreaBy>,
    /// So much of it, out of the bag.
    pub mass: Mass,
    /// Lost on the way: spilled, swept up, eaten.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub spilled: Option<Mass>,
    /// Drill or spreader setting.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub setting: Option<String>,
    /// Depth reached.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub depth: Option<Length>,
    /// Of the soil at seed depth.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub soil_temperature: Option<Temperature>,
    /// The soil at seed depth, pressed in the hand.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub moisture: Option<Feel>,
    /// Weather, odd spots, what went wrong.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

impl SeedSown {
    /// What it comes to.
    pub fn rate(&self) -> MassPerArea {
        self.mass / self.area
    }

    /// What the lot is less by.
    pub fn gone(&self) -> f64 {
        self.mass.base() + self.spilled.map_or(0.0, Measure::base)
    }
}

impl Record for SeedSown {
    const KIND: &'static str = "seed-sown";
    const TITLE: &'static str = "Seed sown";
    const DEED: &'static str = "Record seed sown";
    /// 1 knew neither how the area was found nor how moist the soil was.
    const VERSION: i32 = 2;
    const NEEDS: &'static [SubjectKind] = &[SubjectKind::Field, SubjectKind::Stand, SubjectKind::SeedLot];

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        checks.within("/area", "Area", self.area, Unit::Ha, 0.001, 20_000.0);
        checks.positive("/mass", "Seed", self.mass, Unit::Kg, 1e6);
        if let Some(spilled) = self.spilled {
            checks.within("/spilled", "Seed lost", spilled, Unit::Kg, 0.0, 1e6);
        }
        if let Some(depth) = self.depth {
            checks.within("/depth", "Depth", depth, Unit::Cm, 0.0, 20.0);
        }
        if let Some(temperature) = self.soil_temperature {
            checks.within("/soil_temperature", "Soil temperature", temperature, Unit::DegC, -20.0, 60.0);
        }
        if checks.is_clean() && self.rate().to(Unit::KgPerHa) > 2_000.0 {
            checks.refuse("/mass", said!("{} on {} is {}; check the units", self.mass, self.area, self.rate()));
        }
        check_words(&mut checks, "/setting", self.setting.as_deref().unwrap_or_default(), false);
        check_words(&mut checks, "/note", self.note.as_deref().unwrap_or_default(), false);
        checks.done()
    }

    fn of_part(&self, share: f64) -> Self {
        let spilled = self.spilled.map(|spilled| spilled * share);
        Self { area: self.area * share, mass: self.mass * share, spilled, ..self.clone() }
    }

    fn says(&self) -> Said {
        let (area, mass, rate) = (self.area, self.mass, self.rate());
        let mut parts = vec![match self.area_by {
            Some(by) => said!("Sown {} ({}) with {}: {}", area, by.words(), mass, rate),
            None => said!("Sown {} with {}: {}", area, mass, rate),
        }];
        parts.extend(self.spilled.map(|spilled| said!("{} lost", spilled)));
        parts.extend(self.depth.map(|depth| said!("{} deep", depth)));
        parts.extend(self.setting.as_deref().map(|setting| said!("setting {}", setting)));
        parts.extend(self.soil_temperature.map(|soil| said!("soil {}", soil)));
        parts.extend(self.moisture.map(|feel| Said::from(feel.words())));
        let head = Said::joined(parts, ", ");
        Said::joined([Some(head), self.note.as_deref().map(Said::from)].into_iter().flatten(), ". ")
    }

    fn upgrade(_: i32, payload: Value) -> Result<Value, Unreadable> {
        Ok(payload)
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(lot) = books.lot_of(inked) {
            lot.sown.push(inked.dated(self.clone()));
        }
        if let Some(stand) = books.stand_of(inked) {
            stand.sown.push(SownOfLot { lot: inked.0.lot(), sown: inked.dated(self.clone()) });
        }
    }
}
