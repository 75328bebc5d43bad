//! The rows of a drill against one another: which dropped nothing, and which are out of line.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    chance::{Robust, spread},
    refusal::{Checks, Refused},
    said,
    source::{Origin, Source},
    units::{Fraction, Mass, Measure, Unit},
    working::{Answer, Sheet},
};

/// Most rows of a drill.
pub(super) const MOST_ROWS: usize = 120;
/// A catch of more is a slip of the unit.
const MOST_CAUGHT: f64 = 50.0;

/// Request of the topic `drill.rows`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = DrillRowsRequest)]
pub struct RowsRequest {
    /// What each row dropped, left to right.
    pub rows: Vec<Mass>,
}

/// How a row stands beside the others.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = DrillRowState)]
pub enum RowState {
    /// In line.
    Even,
    /// Out of line, too much.
    High,
    /// Out of line, too little.
    Low,
    /// Nothing came out.
    Nothing,
}

/// One row.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[schema(as = DrillRowFound)]
pub struct RowFound {
    /// From the left, from 1.
    pub row: usize,
    /// What it dropped.
    pub caught: Mass,
    /// Against the middle row; none where that dropped nothing.
    pub of_median: Option<Fraction>,
    /// How it stands.
    pub state: RowState,
}

/// The rows, and what to look for.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[schema(as = DrillRows)]
pub struct RowsAnswer {
    /// Left to right.
    pub rows: Vec<RowFound>,
    /// The middle one.
    pub median: Mass,
    /// Standard deviation over mean of all rows, the blocked ones too; none of one row, or where nothing came out.
    pub variation: Option<Fraction>,
    /// What to look for, from the ground upwards; empty where all are in line.
    pub look_for: Vec<String>,
}

impl RowsAnswer {
    /// Rows that tell what the drill drops: neither blocked nor out of line.
    pub fn sound(&self) -> impl Iterator<Item = &RowFound> {
        self.rows.iter().filter(|row| row.state == RowState::Even)
    }

    /// Rows that dropped nothing.
    pub fn blocked(&self) -> impl Iterator<Item = &RowFound> {
        self.rows.iter().filter(|row| row.state == RowState::Nothing)
    }
}

/// Where a row that drops little is stopped up, from the opener upwards (common practice, no source).
const TOO_LITTLE: [&str; 5] = [
    "Opener: boot plugged with soil or a root.",
    "Tube: kinked, off the boot, or blocked by a web or wasp nest.",
    "Meter: slide closed or set differently, or seed jammed in it.",
    "Box above it: damp or chaffy seed bridging. Stir it and fill less.",
    "Box end: ran empty on a slope.",
];
const TOO_MUCH: [&str; 2] =
    ["Meter: slide or bottom set wider than the others, or worn flutes.", "Cup: two rows caught in one cup."];

fn state(robust: &Robust, caught: f64) -> RowState {
    if caught <= 0.0 {
        RowState::Nothing
    } else if !robust.out_of_line(caught) {
        RowState::Even
    } else if caught < robust.median {
        RowState::Low
    } else {
        RowState::High
    }
}

/// Refuse rows that can't be.
pub(super) fn check_rows(checks: &mut Checks, pointer: &str, rows: &[Mass]) {
    let many = rows.len();
    checks.require((1..=MOST_ROWS).contains(&many), pointer, said!("{} rows; enter 1–{}", many, MOST_ROWS));
    for (index, row) in rows.iter().enumerate().take(MOST_ROWS) {
        let name = format!("row {}", index + 1);
        checks.within(&format!("{pointer}/{index}"), &name, *row, Unit::Kg, 0.0, MOST_CAUGHT);
    }
}

/// The topic `drill.rows`: each row against the middle one, by median and median deviation. A row that dropped
/// nothing is always named; of fewer than four no other is, for want of others to compare it with.
///
/// # Errors
/// No row, too many, or a mass that can't be.
///
/// ```
/// use agronomy::{drill::{RowState, RowsRequest, drill_rows}, units::{Mass, Unit}};
/// let rows = [20.0, 21.0, 19.0, 20.0, 22.0, 20.0, 19.0, 0.0].map(|g| Mass::new(g, Unit::G)).to_vec();
/// let found = drill_rows(&RowsRequest { rows }).unwrap().value;
/// assert_eq!(found.rows[7].state, RowState::Nothing);
/// assert!(found.rows[..7].iter().all(|row| row.state == RowState::Even));
/// ```
pub fn drill_rows(request: &RowsRequest) -> Result<Answer<RowsAnswer>, Refused> {
    let mut checks = Checks::new();
    check_rows(&mut checks, "/rows", &request.rows);
    checks.done()?;
    let caught: Vec<f64> = request.rows.iter().map(|row| row.base()).collect();
    let (Some(robust), Some(all)) = (Robust::of(&caught), spread(&caught)) else {
        return Err(Refused::one("/rows", "enter the row catches"));
    };
    let median = Mass::from_base(robust.median);
    let rows: Vec<RowFound> = request
        .rows
        .iter()
        .enumerate()
        .map(|(index, row)| RowFound {
            row: index + 1,
            caught: *row,
            of_median: (robust.median > 0.0).then(|| *row / median),
            state: state(&robust, row.base()),
        })
        .collect();
    let mut sheet = Sheet::new("drill rows compared");
    sheet.source(Source::published(
        "Iglewicz & Hoaglin 1993, How to Detect and Handle Outliers (ASQC): modified z-score, 3.5",
    ));
    for row in &rows {
        sheet.input(&format!("row {}", row.row), row.caught, Origin::Given);
    }
    sheet.gathered("middle_row", "median row catch", median);
    let deviation = Mass::from_base(robust.deviation);
    sheet.gathered("middle_deviation", "median absolute deviation", deviation);
    let mut variation = None;
    if all.n > 1 && all.mean > 0.0 {
        let mean = sheet.gathered("mean", "sum of all rows, as a mean", Mass::from_base(all.mean));
        let by = Mass::from_base(all.deviation);
        let standard_deviation = sheet.gathered("standard_deviation", "all rows, n − 1", by);
        variation = Some(sheet.line("variation", "standard_deviation / mean", standard_deviation / mean));
    }
    if all.n < 4 {
        sheet.would_change("Four rows or more; with fewer, only a row with no seed can be flagged.");
    }
    sheet.caution("drill-moving-parts");
    let has = |wanted: &[RowState]| rows.iter().any(|row| wanted.contains(&row.state));
    let mut look_for: Vec<String> = Vec::new();
    if robust.median <= 0.0 && has(&[RowState::Nothing]) {
        let all_of_them = rows.iter().all(|row| row.state == RowState::Nothing);
        look_for.push(if all_of_them {
            "No seed came out. Check that seed covers the meters and the drive wheel turns them.".to_owned()
        } else {
            "Half the rows or more dropped no seed. Check what they share, such as a box or shaft, first.".to_owned()
        });
    }
    if has(&[RowState::Low, RowState::Nothing]) {
        look_for.extend(TOO_LITTLE.map(str::to_owned));
    }
    if has(&[RowState::High]) {
        look_for.extend(TOO_MUCH.map(str::to_owned));
    }
    Ok(sheet.answer(RowsAnswer { rows, median, variation, look_for }))
}
