//! The pH path: what becomes of the soil month by month.
//!
//! Lime dissolves by first order, the fine part with a half-life of two months, the coarser with
//! one of a year; nitrogen and what is carried off in hay acidify. All of it is counted in calcium
//! carbonate, and the soil's buffering turns that into pH. Later tests correct the path.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    given,
    refusal::{Checks, Refused},
    source::{Class, Origin, Source},
    units::{MassPerArea, Measure, Unit},
    working::{Answer, Sheet},
};

/// Months in which half of the fine part has dissolved.
const FAST_HALF_LIFE: f64 = 2.0;
/// Months in which half of the slow part has dissolved.
const SLOW_HALF_LIFE: f64 = 12.0;

/// A dressing of lime, as effective calcium carbonate.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct LimeDose {
    /// Months after the start of the path; negative for lime already at work.
    pub month: i32,
    /// The part finer than 60 mesh.
    pub fast: MassPerArea,
    /// What of the coarser part will react.
    pub slow: MassPerArea,
}

/// Something that acidifies, spread evenly over the months it runs.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Acidifier {
    /// What it is, in words.
    pub what: String,
    /// First month.
    pub from: i32,
    /// Calcium carbonate it uses up in a year.
    pub a_year: MassPerArea,
}

/// Request of the topic `lime.path`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PathRequest {
    /// pH in water at the start.
    pub ph: f64,
    /// Calcium carbonate that moves the limed depth by one pH unit.
    pub per_ph_unit: MassPerArea,
    /// Months to draw; 60 when nothing is said.
    #[serde(default)]
    pub months: Option<u32>,
    /// Dressings of lime.
    #[serde(default)]
    pub doses: Vec<LimeDose>,
    /// What acidifies.
    #[serde(default)]
    pub acidifiers: Vec<Acidifier>,
    /// The pH below which the crop suffers.
    pub floor: f64,
}

/// A month of the path.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct PathMonth {
    /// Months after the start.
    pub month: u32,
    /// Expected pH in water.
    pub ph: f64,
}

/// The path.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct PhPath {
    /// Month by month.
    pub months: Vec<PathMonth>,
    /// The highest pH on it.
    pub peak: PathMonth,
    /// The month it first reaches the floor from below, if it starts below.
    pub reaches_floor: Option<u32>,
    /// The month it falls below the floor: the next liming must come before.
    pub falls_below: Option<u32>,
}

/// Calcium carbonate used up by a mass of nitrogen, and by which reckoning.
///
/// Pierre (1933) and the AOAC convention count half of the acidity as taken back by the crop; full
/// nitrification with leaching counts all of it.
pub fn nitrogen_acidity(source: &str, leached: bool) -> Option<f64> {
    let (pierre, full) = match source {
        "urea" | "ammonium-nitrate" => (1.8, 3.57),
        "ammonium-sulfate" => (5.35, 7.14),
        "map" => (5.35, 7.14),
        "dap" => (3.57, 5.35),
        "calcium-nitrate" => (-1.35, 0.0),
        _ => return None,
    };
    Some(if leached { full } else { pierre })
}

/// The topic `lime.path`.
///
/// # Errors
/// A pH, buffering or amount that can't be; more than 240 months.
pub fn path(request: &PathRequest) -> Result<Answer<PhPath>, Refused> {
    let months = request.months.unwrap_or(60);
    let mut checks = Checks::new();
    let ph = |checks: &mut Checks, pointer: &str, name: &str, value: f64| {
        checks.require((3.0..=9.5).contains(&value), pointer, format!("{name} is {value}; enter 3–9.5"));
    };
    ph(&mut checks, "/ph", "pH", request.ph);
    ph(&mut checks, "/floor", "Minimum pH", request.floor);
    checks.positive("/per_ph_unit", "Lime per pH unit", request.per_ph_unit, Unit::TPerHa, 60.0);
    checks.require((1..=240).contains(&months), "/months", format!("{months} months; enter 1–240"));
    for (index, dose) in request.doses.iter().enumerate() {
        for (field, mass) in [("fast", dose.fast), ("slow", dose.slow)] {
            checks.within(&format!("/doses/{index}/{field}"), "Lime rate", mass, Unit::TPerHa, 0.0, 60.0);
        }
    }
    for (index, one) in request.acidifiers.iter().enumerate() {
        checks.within(&format!("/acidifiers/{index}/a_year"), "Acidity per year", one.a_year, Unit::TPerHa, -5.0, 10.0);
    }
    checks.done()?;

    let points: Vec<PathMonth> =
        (0..=months).map(|month| PathMonth { month, ph: ph_at(request, f64::from(month)) }).collect();
    let peak = points.iter().copied().fold(points[0], |best, point| if point.ph > best.ph { point } else { best });
    let reaches_floor = (request.ph < request.floor)
        .then(|| points.iter().find(|point| point.ph >= request.floor).map(|point| point.month))
        .flatten();
    let falls_below = points
        .windows(2)
        .find(|pair| pair[0].ph >= request.floor && pair[1].ph < request.floor)
        .map(|pair| pair[1].month);
    Ok(Answer { value: PhPath { months: points, peak, reaches_floor, falls_below }, ..explained(request, months) })
}

/// The working of the last month, as one case replayed.
fn explained(request: &PathRequest, months: u32) -> Answer<PhPath> {
    let mut sheet = Sheet::new("the pH path");
    sheet.source(Source {
        class: Class::FromMemory,
        citation: "First-order dissolution; half-lives of two months (finer than 60 mesh) and a year (8 to 60 mesh) are assumed, and a later test corrects them".to_owned(),
    });
    sheet.source(Source::published("Pierre 1933: equivalent acidity of fertilisers, the AOAC convention"));
    let at = f64::from(months);
    given!(sheet; ph_at_start = request.ph, Origin::measured("the soil test"));
    given!(sheet; per_ph_unit = request.per_ph_unit, Origin::assumed("a buffer test, or a second soil test after liming"));
    given!(sheet; dissolved = MassPerArea::from_base(dissolved(request, at)), Origin::Worked { part: "the months drawn".to_owned() });
    given!(sheet; used_up = MassPerArea::from_base(used_up(request, at)), Origin::Worked { part: "the months drawn".to_owned() });
    sheet.line(
        "ph_at_the_end",
        "ph_at_start + (dissolved - used_up) / per_ph_unit",
        ph_at_start + ((dissolved - used_up) / per_ph_unit).base(),
    );
    sheet.would_change("A later soil test; the path then starts from it.");
    sheet.answer(PhPath {
        months: vec![],
        peak: PathMonth { month: 0, ph: request.ph },
        reaches_floor: None,
        falls_below: None,
    })
}

fn dissolved(request: &PathRequest, month: f64) -> f64 {
    let part = |mass: MassPerArea, half_life: f64, since: f64| {
        if since <= 0.0 { 0.0 } else { mass.base() * (1.0 - 0.5_f64.powf(since / half_life)) }
    };
    let by = |month: f64| -> f64 {
        request
            .doses
            .iter()
            .map(|dose| {
                let since = month - f64::from(dose.month);
                part(dose.fast, FAST_HALF_LIFE, since) + part(dose.slow, SLOW_HALF_LIFE, since)
            })
            .sum()
    };
    // What dissolved before the start is in the pH measured then.
    by(month) - by(0.0)
}

fn used_up(request: &PathRequest, month: f64) -> f64 {
    request
        .acidifiers
        .iter()
        .map(|one| one.a_year.base() / 12.0 * (month - f64::from(one.from).max(0.0)).max(0.0))
        .sum()
}

fn ph_at(request: &PathRequest, month: f64) -> f64 {
    let carbonate = dissolved(request, month) - used_up(request, month);
    // Free lime buffers near 8.3, aluminium near 4: no soil is drawn beyond.
    (request.ph + carbonate / request.per_ph_unit.base()).clamp(4.0_f64.min(request.ph), 8.3_f64.max(request.ph))
}
