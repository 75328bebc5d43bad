//! What so many places say of the whole field, and whether they are enough.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    chance::{Spread, spread, student_below, student_quantile},
    given,
    refusal::{Checks, Refused},
    said,
    source::{Origin, Source},
    units::{Area, CountPerArea, Dimension, Fraction, Length, Measure, Quantity, Unit},
    working::{Answer, Sheet},
};

/// Before so many places nothing is decided.
pub const FEWEST_PLACES: usize = 6;
/// After so many what is open stays open: recount later.
pub const ENOUGH_PLACES: usize = 20;
/// Places that happen to be alike must not pass for certainty: standard deviation at the least, as a share, and for
/// counts as this part of twice the threshold (assumed).
pub const LEAST_DEVIATION: f64 = 0.03;
/// One end of the interval that must leave a threshold out: 98 %, not 95, for it is looked at place after place, and fields
/// are patchy (tried on fields whose places are alike by 0.3 with the next).
const SURE_ENOUGH: f64 = 0.99;
/// Most places taken.
const MOST_PLACES: usize = 1_000;
/// Most thresholds.
const MOST_THRESHOLDS: usize = 4;
/// Plants per m² for each percent of cells with a plant (Vogel & Masters 2001).
const PER_PERCENT: f64 = 0.4;
/// A cell of the frequency grid, m².
const CELL: f64 = 0.15 * 0.15;

/// What was counted, place by place.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "by", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Counted {
    /// Cells of a grid with a plant in them.
    Grid {
        /// Cells looked at in a place: 25 in one toss, 100 in four.
        cells: u32,
        /// Of them with a plant, place by place.
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
        /// Stations looked at, place by place.
        stations: Vec<f64>,
        /// Of them alive.
        alive: Vec<f64>,
    },
    /// Steps or points that fall on the crop: cover, or the share of legume.
    Points {
        /// Looked at in a place.
        points: u32,
        /// Of them on it, place by place.
        hits: Vec<f64>,
    },
}

impl Counted {
    fn counts(&self) -> &[f64] {
        match self {
            Self::Grid { hits, .. } | Self::Points { hits, .. } => hits,
            Self::Frame { counts, .. } | Self::Row { counts, .. } => counts,
            Self::Alive { alive, .. } => alive,
        }
    }

    /// What it is counted in.
    pub fn dimension(&self) -> Dimension {
        match self {
            Self::Grid { .. } | Self::Alive { .. } | Self::Points { .. } => Dimension::Ratio,
            Self::Frame { .. } | Self::Row { .. } => Dimension::CountPerArea,
        }
    }

    /// A number of its base unit as an amount.
    pub fn amount(&self, base: f64) -> Quantity {
        match self.dimension() {
            Dimension::Ratio => Fraction::from_base(base).quantity(),
            _ => CountPerArea::from_base(base).quantity(),
        }
    }

    /// Each place, in the base unit.
    fn places(&self) -> Vec<f64> {
        let all = self.counts().iter();
        match self {
            Self::Grid { cells: of, .. } | Self::Points { points: of, .. } => {
                all.map(|hits| hits / f64::from(*of)).collect()
            }
            Self::Frame { frame, .. } => all.map(|count| count / frame.base()).collect(),
            Self::Row { length, row_spacing, .. } => {
                all.map(|count| count / (length.base() * row_spacing.base())).collect()
            }
            Self::Alive { stations, .. } => all.zip(stations).map(|(alive, stations)| alive / stations).collect(),
        }
    }

    /// All that was looked at: cells, stations or points, or an area, m².
    fn looked_at(&self) -> f64 {
        let n = self.counts().len() as f64;
        match self {
            Self::Grid { cells: of, .. } | Self::Points { points: of, .. } => n * f64::from(*of),
            Self::Frame { frame, .. } => n * frame.base(),
            Self::Row { length, row_spacing, .. } => n * length.base() * row_spacing.base(),
            Self::Alive { stations, .. } => stations.iter().sum(),
        }
    }

    /// What may be in a field of whose places none held any: no more than this in 95 of 100, were they scattered at random.
    /// Of shares by the binomial law (Clopper & Pearson 1934), of counts by Poisson's: three in all that was looked at.
    fn most_of_none(&self) -> f64 {
        match self.dimension() {
            Dimension::Ratio => 1.0 - 0.05_f64.powf(1.0 / self.looked_at()),
            _ => -0.05_f64.ln() / self.looked_at(),
        }
    }

    /// Refuse what can't be; at `/counted`.
    fn check(&self, checks: &mut Checks) {
        let many = self.counts().len();
        let list = match self {
            Self::Grid { .. } | Self::Points { .. } => "/counted/hits",
            Self::Frame { .. } | Self::Row { .. } => "/counted/counts",
            Self::Alive { .. } => "/counted/alive",
        };
        checks.require(
            (1..=MOST_PLACES).contains(&many),
            list,
            said!("{} sample points; enter 1–{}", many, MOST_PLACES),
        );
        let most = |index: usize| match self {
            Self::Grid { cells: of, .. } | Self::Points { points: of, .. } => f64::from(*of),
            Self::Alive { stations, .. } => stations.get(index).copied().unwrap_or(0.0),
            Self::Frame { .. } | Self::Row { .. } => 100_000.0,
        };
        for (index, count) in self.counts().iter().enumerate().take(MOST_PLACES) {
            let most = most(index);
            let right = *count >= 0.0 && *count <= most;
            checks.require(right, format!("{list}/{index}"), said!("{} of {}; enter 0–{}", *count, most, most));
        }
        match self {
            Self::Grid { cells: of, .. } => {
                checks.require((4..=400).contains(of), "/counted/cells", said!("{} cells per point; enter 4–400", *of));
            }
            Self::Points { points: of, .. } => {
                checks.require(
                    (1..=500).contains(of),
                    "/counted/points",
                    said!("{} readings per point; enter 1–500", *of),
                );
            }
            Self::Frame { frame, .. } => checks.within("/counted/frame", "Frame", *frame, Unit::M2, 0.005, 100.0),
            Self::Row { length, row_spacing, .. } => {
                checks.within("/counted/length", "Row length", *length, Unit::Cm, 10.0, 10_000.0);
                checks.within("/counted/row_spacing", "Row spacing", *row_spacing, Unit::Cm, 5.0, 200.0);
            }
            Self::Alive { stations, .. } => {
                checks.require(
                    stations.len() == many,
                    "/counted/stations",
                    "enter the number of stations at each point",
                );
                for (index, one) in stations.iter().enumerate().take(MOST_PLACES) {
                    let right = (1.0..=10_000.0).contains(one);
                    checks.require(
                        right,
                        format!("/counted/stations/{index}"),
                        said!("{} stations; enter 1–10,000", *one),
                    );
                }
            }
        }
    }
}

/// Request of the topic `count.interval`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CountRequest {
    /// What was counted.
    pub counted: Counted,
    /// What it is held against: shares or counts on an area, as what was counted is.
    #[serde(default)]
    pub thresholds: Vec<Quantity>,
}

/// Whether to go on counting.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = CountEnough)]
pub enum Enough {
    /// Fewer than six places.
    TooFew,
    /// A threshold lies within what may be true: more places may decide.
    GoOn,
    /// None does: the decision can't change but by ill luck.
    Enough,
    /// Twenty places, and one still does: it is as near the threshold as can be told. Wait, and recount.
    Open,
}

/// What the count says of a threshold.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[schema(as = CountAgainst)]
pub struct Against {
    /// The threshold.
    pub threshold: Quantity,
    /// Probability that the field is above it; none of a single place.
    pub above: Option<Fraction>,
    /// The 98 % interval leaves it out.
    pub decided: bool,
}

/// What so many places say.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct CountAnswer {
    /// Places.
    pub places: usize,
    /// Mean of the places.
    pub mean: Quantity,
    /// 90 % interval of the field, by Student's t over places; none of a single one.
    pub interval: Option<[Quantity; 2]>,
    /// Each threshold.
    pub against: Vec<Against>,
    /// Whether to go on.
    pub enough: Enough,
    /// Places more that may decide, about; none where it is decided, can't be told, or would take more than twenty in all.
    pub more: Option<usize>,
    /// Plants on an area by a frequency grid: at the least, and if they stood at random; the second is none where every
    /// cell held one.
    #[schema(value_type = Option<Vec<Option<CountPerArea>>>)]
    pub plants: Option<[Option<CountPerArea>; 2]>,
}

/// What places say of the whole field, and of each threshold: the rule alone, in plain numbers.
#[derive(Debug, Clone, PartialEq)]
pub struct Judged {
    /// How the places lie.
    pub all: Spread,
    /// Standard deviation, no smaller than places that happen to be alike may have.
    pub deviation: f64,
    /// Each threshold: the 95 % interval leaves it out.
    pub decided: Vec<bool>,
    /// Whether to go on.
    pub enough: Enough,
}

/// Judge places (in the base unit of their dimension) by thresholds in it; none without a place.
///
/// ```
/// use agronomy::{counting::{Enough, judge}, units::Dimension};
/// let six = [0.55, 0.61, 0.48, 0.60, 0.52, 0.57];
/// assert_eq!(judge(&six, &[0.25], Dimension::Ratio).unwrap().enough, Enough::Enough);
/// assert_eq!(judge(&six, &[0.52], Dimension::Ratio).unwrap().enough, Enough::GoOn);
/// ```
pub fn judge(places: &[f64], thresholds: &[f64], dimension: Dimension) -> Option<Judged> {
    let all = spread(places)?;
    let floor = |threshold: &f64| match dimension {
        Dimension::Ratio => LEAST_DEVIATION,
        _ => 2.0 * LEAST_DEVIATION * threshold,
    };
    let least = if dimension == Dimension::Ratio { LEAST_DEVIATION } else { 0.0 };
    let deviation = all.deviation.max(thresholds.iter().map(floor).fold(least, f64::max));
    let reach = student_quantile(SURE_ENOUGH, all.n - 1).map(|t| t * deviation / (all.n as f64).sqrt());
    let decided: Vec<bool> =
        thresholds.iter().map(|threshold| reach.is_some_and(|reach| (all.mean - threshold).abs() > reach)).collect();
    let enough = match all.n {
        few if few < FEWEST_PLACES => Enough::TooFew,
        _ if decided.iter().all(|decided| *decided) => Enough::Enough,
        many if many >= ENOUGH_PLACES => Enough::Open,
        _ => Enough::GoOn,
    };
    Some(Judged { all, deviation, decided, enough })
}

/// The topic `count.interval`.
///
/// Enough is a rule that was tried on simulated fields (see the tests): after six places or more, the decision stands
/// when no threshold lies within the 98 % interval of the mean; after twenty it stays open.
///
/// # Errors
/// No place, a count that can't be, such as 30 of 25 cells; a threshold of another kind.
///
/// ```
/// use agronomy::counting::{CountRequest, count_interval};
/// // Ten places of a hundred cells: the interval is that of the places, three times as wide as of a thousand cells.
/// let request: CountRequest = serde_json::from_value(serde_json::json!({"counted": {"by": "grid", "cells": 100,
///     "hits": [40, 55, 35, 60, 48, 52, 44, 30, 58, 50]}, "thresholds": [{"value": 25, "unit": "%"}]})).unwrap();
/// let found = count_interval(&request).unwrap().value;
/// assert!((found.mean.value - 47.2).abs() < 1e-9);
/// let [low, high] = found.interval.unwrap();
/// assert!((low.value - 41.5).abs() < 0.1 && (high.value - 52.9).abs() < 0.1);
/// ```
pub fn count_interval(request: &CountRequest) -> Result<Answer<CountAnswer>, Refused> {
    let counted = &request.counted;
    let mut checks = Checks::new();
    counted.check(&mut checks);
    let many = request.thresholds.len();
    checks.require(
        many <= MOST_THRESHOLDS,
        "/thresholds",
        said!("{} thresholds; the limit is {}", many, MOST_THRESHOLDS),
    );
    for (index, threshold) in request.thresholds.iter().enumerate().take(MOST_THRESHOLDS) {
        let pointer = format!("/thresholds/{index}");
        let base = threshold.unit.to_base(threshold.value);
        let kind = threshold.dimension() == counted.dimension();
        checks.require(
            kind,
            &pointer,
            said!("{} is {}, a different unit from the count", *threshold, threshold.dimension().words()),
        );
        let most = if counted.dimension() == Dimension::Ratio { 1.0 } else { 100_000.0 };
        checks.require(
            !kind || (base > 0.0 && base <= most),
            &pointer,
            said!("{} is not a valid threshold", *threshold),
        );
    }
    checks.done()?;

    let places = counted.places();
    let thresholds: Vec<f64> = request.thresholds.iter().map(|one| one.unit.to_base(one.value)).collect();
    let Some(judged) = judge(&places, &thresholds, counted.dimension()) else {
        return Err(Refused::one("/counted", "enter the counts"));
    };
    let Judged { all, deviation, decided, enough } = judged;
    let mut sheet = Sheet::new("stand count result");
    sheet.source(Source::published("Student 1908, The probable error of a mean, Biometrika 6:1\u{2013}25"));
    let amount = |base: f64| counted.amount(base);
    let n = all.n as f64;
    sheet.input("places", n, Origin::Given);
    sheet.quantity("sum over points", amount(n * all.mean), Origin::Given);
    sheet.quantity_line("mean", "sum over points / places", amount(all.mean));
    let interval = student_quantile(0.95, all.n - 1).map(|t| {
        sheet.quantity("standard deviation", amount(deviation), Origin::Given);
        given!(sheet; student_t = t, Origin::sourced(&Source::published("Student 1908, Biometrika 6:1\u{2013}25")));
        let reach = student_t * deviation / n.sqrt();
        sheet.quantity_line("reach", "student_t * standard_deviation / sqrt(places)", amount(reach));
        let of_shares = counted.dimension() == Dimension::Ratio;
        let most = if of_shares { 1.0 } else { f64::INFINITY };
        let (mut low, mut high) = ((all.mean - reach).max(0.0), (all.mean + reach).min(most));
        // Places that are alike to the last cell say nothing of how the field varies: none found is not none there.
        let (none, whole) = (all.mean == 0.0, of_shares && all.mean == 1.0);
        if none || whole {
            sheet.source(Source::published(
                "Clopper & Pearson 1934, The use of confidence or fiducial limits, Biometrika 26:404\u{2013}413",
            ));
            let may = counted.most_of_none();
            let name = if none { "may be there though none was found" } else { "may lack though all were found" };
            sheet.gathered(name, "no more in 95 of 100, scattered at random", amount(may));
            high = if none { high.max(may).min(most) } else { high };
            low = if whole { low.min(1.0 - may).max(0.0) } else { low };
        }
        [low, high].map(amount)
    });
    let against: Vec<Against> = request
        .thresholds
        .iter()
        .enumerate()
        .map(|(index, threshold)| {
            let base = threshold.unit.to_base(threshold.value);
            let above = student_below((all.mean - base) * n.sqrt() / deviation, all.n - 1).map(Fraction::from_base);
            if let Some(above) = above {
                let name = format!("probability of more than threshold {}", index + 1);
                sheet.gathered(&name, "Student\u{2019}s t of the distance from it, over places", above);
            }
            Against { threshold: *threshold, above, decided: decided[index] }
        })
        .collect();
    let more = match enough {
        Enough::TooFew => Some(FEWEST_PLACES - all.n),
        Enough::GoOn => {
            let nearest = request.thresholds.iter().map(|one| (all.mean - one.unit.to_base(one.value)).abs());
            let nearest = nearest.fold(f64::INFINITY, f64::min);
            let wanted = (2.1 * deviation / nearest).powi(2).ceil();
            let most = (ENOUGH_PLACES - all.n) as f64;
            let more = (wanted - n).max(1.0);
            (more <= most).then_some(more as usize)
        }
        Enough::Enough | Enough::Open => None,
    };
    let plants = matches!(counted, Counted::Grid { .. }).then(|| {
        sheet.source(Source::published(
            "Vogel & Masters 2001, Frequency grid: a simple tool for measuring grassland establishment, J. Range Manage. 54:653\u{2013}655",
        ));
        let floor = CountPerArea::new(PER_PERCENT * 100.0 * all.mean, Unit::PerM2);
        sheet.gathered("plants_at_the_least", "0.4 plants per square meter for each percent of cells", floor);
        let random = (all.mean < 1.0).then(|| {
            let random = CountPerArea::new(-(1.0 - all.mean).ln() / CELL, Unit::PerM2);
            sheet.gathered("plants_if_at_random", "by Poisson, from the empty cells", random)
        });
        [Some(floor), random]
    });
    sheet.would_change("More sample points, or points skipped because they looked bad.");
    Ok(sheet.answer(CountAnswer { places: all.n, mean: amount(all.mean), interval, against, enough, more, plants }))
}
