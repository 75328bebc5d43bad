//! Seed was dug up, and its depth measured.

use agronomy::{
    crop::library,
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Length, Measure, Unit},
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

/// Most seeds of one look.
const MOST: usize = 200;

/// Seed was dug up, and its depth measured.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedDepths)]
pub struct DepthChecked {
    /// Crop of the library whose seed it was.
    pub crop: String,
    /// Of each seed.
    pub depths: Vec<Length>,
    /// Seeds that lay on the surface, besides.
    #[serde(default)]
    pub on_surface: u32,
    /// Of broadcast seed, those that touched no soil, besides.
    #[serde(default, skip_serializing_if = "is_none")]
    pub on_residue: u32,
    /// Where, how fast, what was changed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

fn is_none(count: &u32) -> bool {
    *count == 0
}

impl DepthChecked {
    fn seeds(&self) -> usize {
        self.depths.len().saturating_add(self.on_surface as usize).saturating_add(self.on_residue as usize)
    }
}

impl Record for DepthChecked {
    const KIND: &'static str = "depth-check";
    const TITLE: &'static str = "Seeding depth check";
    const DEED: &'static str = "Check seeding depth";
    const NEEDS: &'static [SubjectKind] = &[SubjectKind::Field, SubjectKind::Stand];

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        let known = library().crop(&self.crop).is_some();
        checks.require(known, "/crop", said!("“{}” is not a crop in the library", self.crop.as_str()));
        let seeds = self.seeds();
        checks.require((1..=MOST).contains(&seeds), "/depths", said!("{} seeds; enter 1 to {}", seeds, MOST));
        for (index, depth) in self.depths.iter().enumerate().take(MOST) {
            checks.within(&format!("/depths/{index}"), &format!("Depth {}", index + 1), *depth, Unit::Cm, 0.0, 20.0);
        }
        check_words(&mut checks, "/note", self.note.as_deref().unwrap_or_default(), false);
        checks.done()
    }

    fn says(&self) -> Said {
        let seeds = self.seeds();
        let sum: f64 = self.depths.iter().map(|depth| depth.base()).sum();
        let mean = Length::from_base(sum / seeds.max(1) as f64);
        let head = said!("Average seeding depth {}, {} seeds dug up", mean, seeds as f64);
        let loose = (self.on_residue > 0).then(|| said!("{} on residue", f64::from(self.on_residue)));
        Said::joined([Some(head), loose, self.note.as_deref().map(Said::from)].into_iter().flatten(), ". ")
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(stand) = books.stand_of(inked) {
            stand.depths.push(inked.dated(self.clone()));
        }
    }
}
