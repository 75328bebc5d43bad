//! Plants were set: pieces, over so much ground, and how they lay.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Area, Length, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    record::Record,
    shape::check_words,
    subject::SubjectKind,
};

/// How damp pieces were when they were set.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = PieceMoisture)]
pub enum Moisture {
    /// Fresh, or kept wet.
    Moist,
    /// Dry on the outside.
    Drying,
    /// They snap.
    Dry,
}

/// How pieces lie in the ground.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = PieceLies)]
pub enum Lies {
    /// Upright.
    Upright,
    /// At a slant, as stems are set.
    Slanted,
    /// Flat, as rhizomes fall.
    Flat,
}

/// Plants were set. A field that takes several days has several of these.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedPlantsSet)]
pub struct PlantsSet {
    /// Over so much ground.
    pub area: Area,
    /// Pieces set.
    pub set: f64,
    /// Broken, dried out or lost on the way.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub lost: Option<f64>,
    /// Hopper loads.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub loads: Option<f64>,
    /// How deep.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub depth: Option<Length>,
    /// How damp they were.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub moisture: Option<Moisture>,
    /// How they lie.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub lies: Option<Lies>,
    /// The soil was pressed to them.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub firmed: Option<bool>,
    /// Weather, who, what went wrong.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

impl Record for PlantsSet {
    const KIND: &'static str = "plants-set";
    const TITLE: &'static str = "Planting";
    const DEED: &'static str = "Record planting";
    const NEEDS: &'static [SubjectKind] = &[SubjectKind::Field, SubjectKind::Stand];

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        checks.within("/area", "Area", self.area, Unit::Ha, 0.001, 20_000.0);
        for (pointer, least, many) in
            [("/set", 1.0, Some(self.set)), ("/lost", 0.0, self.lost), ("/loads", 0.0, self.loads)]
        {
            if let Some(many) = many {
                let right = (least..=1e9).contains(&many);
                checks.require(right, pointer, said!("{} pieces; enter {} to 1,000,000,000", many, least));
            }
        }
        if let Some(depth) = self.depth {
            checks.within("/depth", "Depth", depth, Unit::Cm, 0.0, 60.0);
        }
        check_words(&mut checks, "/note", self.note.as_deref().unwrap_or_default(), false);
        checks.done()
    }

    fn of_part(&self, share: f64) -> Self {
        let (set, lost) = (self.set * share, self.lost.map(|lost| lost * share));
        Self { area: self.area * share, set, lost, loads: self.loads.map(|loads| loads * share), ..self.clone() }
    }

    fn says(&self) -> Said {
        let mut parts = vec![said!("Planted {} pieces on {}", self.set, self.area)];
        parts.extend(self.lost.filter(|lost| *lost > 0.0).map(|lost| said!("{} lost", lost)));
        parts.extend(self.loads.map(|loads| said!("{} loads", loads)));
        parts.extend(self.depth.map(|depth| said!("{} deep", depth)));
        parts.extend(self.moisture.map(|damp| match damp {
            Moisture::Moist => "moist".into(),
            Moisture::Drying => "drying".into(),
            Moisture::Dry => "dry".into(),
        }));
        parts.extend(self.lies.map(|lies| match lies {
            Lies::Upright => "upright".into(),
            Lies::Slanted => "slanted".into(),
            Lies::Flat => "flat".into(),
        }));
        parts.extend(self.firmed.map(|firmed| if firmed { "firmed" } else { "not firmed" }.into()));
        let head = Said::joined(parts, ", ");
        Said::joined([Some(head), self.note.as_deref().map(Said::from)].into_iter().flatten(), ". ")
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(stand) = books.stand_of(inked) {
            stand.planted.push(inked.dated(self.clone()));
        }
    }
}
