//! A stand was counted, place by place.

use agronomy::{
    counting::{self, CountRequest, count_interval},
    crop::library,
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Area, CountPerArea, Dimension, Length, Measure, MoneyPerArea, MoneyPerMass, Quantity, Unit},
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

/// What was counted, place by place.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "by", rename_all = "kebab-case", deny_unknown_fields)]
#[schema(as = RecordedCounted)]
pub enum Counted {
    /// Cells of a frequency grid with a plant in them.
    Grid {
        /// Cells looked at in a place.
        cells: u32,
        /// Of them with a plant.
        hits: Vec<f64>,
    },
    /// Plants, stems or seedlings in a frame.
    Frame {
        /// Its area.
        frame: Area,
        /// Place by place.
        counts: Vec<f64>,
    },
    /// Seedlings along a row.
    Row {
        /// Looked at in a place.
        length: Length,
        /// Between rows.
        row_spacing: Length,
        /// Place by place.
        counts: Vec<f64>,
    },
    /// Plants alive of those that were set.
    Alive {
        /// Stations looked at.
        stations: Vec<f64>,
        /// Of them alive.
        alive: Vec<f64>,
    },
    /// Points that fall on the crop.
    Points {
        /// Looked at in a place.
        points: u32,
        /// Of them on it.
        hits: Vec<f64>,
    },
}

impl Counted {
    /// As the core counts.
    pub fn ready(&self) -> counting::Counted {
        use counting::Counted as C;
        match self.clone() {
            Self::Grid { cells, hits } => C::Grid { cells, hits },
            Self::Frame { frame, counts } => C::Frame { frame, counts },
            Self::Row { length, row_spacing, counts } => C::Row { length, row_spacing, counts },
            Self::Alive { stations, alive } => C::Alive { stations, alive },
            Self::Points { points, hits } => C::Points { points, hits },
        }
    }

    fn words(&self, stems: bool) -> &'static str {
        match self {
            Self::Grid { .. } => "of cells have a plant",
            Self::Frame { .. } if stems => "stems",
            Self::Frame { .. } => "plants",
            Self::Row { .. } => "seedlings",
            Self::Alive { .. } => "of plants survived",
            Self::Points { .. } => "of points hit the crop",
        }
    }
}

/// A stand was counted.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedCount)]
pub struct StandCount {
    /// Crop of the library that was counted.
    pub crop: String,
    /// What was counted.
    pub counted: Counted,
    /// Stems, not plants.
    #[serde(default)]
    pub stems: bool,
    /// So much is enough for the full yield, where whoever counted says so; the library's when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub full: Option<Quantity>,
    /// Below it the stand is mended or given up.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub thin: Option<Quantity>,
    /// What its ways out were held against, where somebody told.
    #[serde(default, skip_serializing_if = "MendingPrices::is_empty")]
    pub prices: MendingPrices,
    /// Anything else.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

/// What feed is worth and mending costs, as the one who counted has it.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct MendingPrices {
    /// Dry matter, where it stands.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub dry_matter: Option<MoneyPerMass>,
    /// To thicken it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub thicken: Option<MoneyPerArea>,
    /// To kill it and start over.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub start_over: Option<MoneyPerArea>,
}

impl MendingPrices {
    fn is_empty(&self) -> bool {
        *self == Self::default()
    }

    fn check(&self, checks: &mut Checks) {
        if let Some(price) = self.dry_matter {
            checks.within("/prices/dry_matter", "Price", price, Unit::MoneyPerT, 0.0, 1e5);
        }
        for (pointer, cost) in [("/prices/thicken", self.thicken), ("/prices/start_over", self.start_over)] {
            if let Some(cost) = cost {
                checks.within(pointer, "Cost", cost, Unit::MoneyPerHa, 0.0, 1e6);
            }
        }
    }

    fn says(&self) -> Option<Said> {
        let told = [
            self.dry_matter.map(|price| said!("dry matter at {}", price)),
            self.thicken.map(|cost| said!("thickening {}", cost)),
            self.start_over.map(|cost| said!("reseeding {}", cost)),
        ];
        (!self.is_empty()).then(|| said!("Costs and value: {}", Said::joined(told.into_iter().flatten(), ", ")))
    }
}

impl Record for StandCount {
    const KIND: &'static str = "stand-count";
    const TITLE: &'static str = "Stand count";
    const DEED: &'static str = "Count stand";
    /// 1 knew nothing of money, nor how much its counter took for enough.
    const VERSION: i32 = 2;
    const NEEDS: &'static [SubjectKind] = &[SubjectKind::Field, SubjectKind::Stand];

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        let known = library().crop(&self.crop).is_some();
        checks.require(known, "/crop", said!("“{}” is not a crop in the library", self.crop.as_str()));
        let counted = CountRequest { counted: self.counted.ready(), thresholds: vec![] };
        checks.part("", count_interval(&counted));
        self.prices.check(&mut checks);
        let kind = self.counted.ready().dimension();
        for (pointer, told) in [("/full", self.full), ("/thin", self.thin)] {
            if let Some(told) = told {
                let right = told.dimension() == kind && told.unit.to_base(told.value) > 0.0;
                checks.require(right, pointer, said!("{} is a different unit from the count; correct it", told));
            }
        }
        check_words(&mut checks, "/note", self.note.as_deref().unwrap_or_default(), false);
        checks.done()
    }

    fn says(&self) -> Said {
        let name = library().crop(&self.crop).map_or(self.crop.as_str(), |crop| &crop.name);
        let counted = CountRequest { counted: self.counted.ready(), thresholds: vec![] };
        let words = self.counted.words(self.stems);
        let head = match count_interval(&counted) {
            Ok(found) => {
                said!("Counted {}: {} {}, {} points", name, found.value.mean, words, found.value.places as f64)
            }
            Err(_) => said!("Counted {}", name),
        };
        let amount = |told: Quantity| self.counted.ready().amount(told.unit.to_base(told.value));
        let enough = self.full.map(|full| said!("Full stand: {}", amount(full)));
        Said::joined([Some(head), enough, self.prices.says(), self.note.as_deref().map(Said::from)].into_iter().flatten(), ". ")
    }

    fn upgrade(_: i32, payload: Value) -> Result<Value, Unreadable> {
        Ok(payload)
    }

    fn operation(&self) -> Option<&str> {
        Some("count")
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        let on = inked.0.occurred_on;
        let counted = self.counted.ready();
        // Steps that wait for so many plants are told by counts of plants alone.
        if counted.dimension() == Dimension::CountPerArea
            && !self.stems
            && let Ok(found) = count_interval(&CountRequest { counted, thresholds: vec![] })
            && let Some(seen) = books.seen_of(inked)
        {
            let mean = found.value.mean;
            seen.count = Some((on, CountPerArea::from_base(mean.unit.to_base(mean.value))));
        }
        if let Some(stand) = books.stand_of(inked) {
            stand.counts.push(inked.dated(self.clone()));
        }
    }
}
