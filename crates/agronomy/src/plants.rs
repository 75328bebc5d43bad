//! Plants instead of seed: rhizomes, plugs and cuttings set out by spacing.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    crop::crop_of,
    given, reckon,
    refusal::{Checks, Refused},
    source::{Origin, Source},
    units::{Area, CountPerArea, Fraction, Length, Measure, Unit},
    working::{Answer, Sheet},
};

/// Request of the topic `plants.count`. What is absent is taken from the crop, if one is named.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PlantsRequest {
    /// Crop of the library that is set out as plants.
    #[serde(default)]
    pub crop: Option<String>,
    /// Area to plant.
    pub area: Area,
    /// Between rows.
    #[serde(default)]
    pub row_spacing: Option<Length>,
    /// Within the row.
    #[serde(default)]
    pub in_row: Option<Length>,
    /// Share expected to live; 100 % when nothing is known.
    #[serde(default)]
    pub survival: Option<Fraction>,
    /// Established plants aimed at.
    #[serde(default)]
    pub aim: Option<CountPerArea>,
    /// Pieces set at each station; one when nothing is said.
    #[serde(default)]
    pub pieces_per_station: Option<u32>,
    /// Extra pieces to order.
    #[serde(default)]
    pub spare: Fraction,
}

/// How many plants.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct PlantCount {
    /// Stations per area, by geometry.
    pub stations_per_area: CountPerArea,
    /// Stations on the whole area.
    pub stations: f64,
    /// Pieces to order, spare included, rounded up.
    pub pieces: f64,
    /// Expected to live, per area.
    pub established_per_area: CountPerArea,
    /// In-row spacing that would just reach the aim, rows as they are.
    pub in_row_for_aim: Option<Length>,
    /// Whether the aim is reached.
    pub reaches_aim: Option<bool>,
    /// What to think about.
    pub remarks: Vec<String>,
}

/// The topic `plants.count`.
///
/// # Errors
/// No spacing, no area, a survival or spacing that can't be, a crop that is sown from seed.
///
/// ```
/// use agronomy::{plants::{count, PlantsRequest}, units::{Area, Unit}};
/// let answer = count(&PlantsRequest {
///     crop: Some("giant-miscanthus".into()),
///     area: Area::new(1.0, Unit::Ac),
///     row_spacing: None, in_row: None, survival: None, aim: None,
///     pieces_per_station: None, spare: Default::default(),
/// }).unwrap();
/// assert!((answer.value.stations - 6_970.0).abs() < 1.0);
/// ```
pub fn count(request: &PlantsRequest) -> Result<Answer<PlantCount>, Refused> {
    let mut checks = Checks::new();
    let crop = match &request.crop {
        Some(id) => Some(crop_of(id, "/crop")?),
        None => None,
    };
    let facts = crop.and_then(|crop| crop.planting.as_ref());
    if let (Some(crop), None) = (crop, facts) {
        return Err(Refused::one("/crop", format!("{} is sown from seed; use seed.rate", crop.name)));
    }
    let rows = request.row_spacing.or(facts.map(|facts| facts.row_spacing.measure()));
    let in_row = request.in_row.or(facts.map(|facts| facts.in_row.measure()));
    checks.positive("/area", "Area", request.area, Unit::Ha, 20_000.0);
    for (pointer, name, length) in [("/row_spacing", "Row spacing", rows), ("/in_row", "In-row spacing", in_row)] {
        match length {
            Some(length) => checks.within(pointer, name, length, Unit::Cm, 2.0, 2_000.0),
            None => {
                checks.refuse(pointer, format!("enter the {}, or choose a crop that is planted", name.to_lowercase()))
            }
        }
    }
    if let Some(survival) = request.survival {
        checks.positive("/survival", "Survival", survival, Unit::Percent, 100.0);
    }
    if let Some(aim) = request.aim {
        checks.positive("/aim", "Target established plants", aim, Unit::PerM2, 1_000.0);
    }
    checks.within("/spare", "Extra to order", request.spare, Unit::Percent, 0.0, 100.0);
    if let Some(pieces) = request.pieces_per_station {
        checks.require(
            (1..=10).contains(&pieces),
            "/pieces_per_station",
            format!("{pieces} pieces per station; enter 1–10"),
        );
    }
    checks.done()?;
    let (Some(rows), Some(in_row)) = (rows, in_row) else { unreachable!("refused above") };

    let mut sheet = Sheet::new("plants by spacing");
    sheet.source(Source::common_practice("stations = area ÷ (row spacing × in-row spacing)"));
    let from = |given: bool, figure: Option<&crate::crop::Figure>| match figure {
        Some(figure) if !given => figure.origin(),
        _ => Origin::Given,
    };
    given!(sheet; area = request.area, Origin::Given);
    given!(sheet; row_spacing = rows, from(request.row_spacing.is_some(), facts.map(|facts| &facts.row_spacing)));
    given!(sheet; in_row_spacing = in_row, from(request.in_row.is_some(), facts.map(|facts| &facts.in_row)));
    let survival = match (request.survival, facts) {
        (Some(survival), _) => sheet.input("survival", survival, Origin::Given),
        (None, Some(facts)) => {
            sheet.input("survival", facts.survival.measure(), Origin::assumed("a count a few weeks after planting"))
        }
        (None, None) => sheet.input("survival", Fraction::ONE, Origin::assumed("a count a few weeks after planting")),
    };
    let pieces_per_station =
        sheet.input("pieces_per_station", f64::from(request.pieces_per_station.unwrap_or(1)), Origin::Given);
    given!(sheet; spare = request.spare, Origin::Given);

    reckon!(sheet; stations_per_area = 1.0 / (row_spacing * in_row_spacing));
    reckon!(sheet; stations = stations_per_area * area);
    let with_spare = sheet.line("with_spare", "100 % + spare", Fraction::ONE + spare);
    let pieces = sheet.line(
        "pieces",
        "rounded up(stations * pieces_per_station * with_spare)",
        (stations * pieces_per_station * with_spare.base() - 1e-6).ceil(),
    );
    // A station holds when one of its pieces lives.
    let holds = if pieces_per_station > 1.0 {
        let dead = (1.0 - survival.base()).max(1e-9);
        sheet.line(
            "stations_that_hold",
            "1 - exp(pieces_per_station * ln(larger(1 - survival, 0.000000001)))",
            Fraction::from_base(1.0 - (pieces_per_station * dead.ln()).exp()),
        )
    } else {
        survival
    };
    let holding = if pieces_per_station > 1.0 { "stations_that_hold" } else { "survival" };
    let established_per_area =
        sheet.line("established_per_area", &format!("stations_per_area * {holding}"), stations_per_area * holds);
    let aim = request.aim.or(facts.and_then(|facts| facts.aim.as_ref()).map(|aim| aim.measure()));
    let mut remarks = Vec::new();
    let (mut in_row_for_aim, mut reaches_aim) = (None, None);
    if let Some(aim) = aim {
        given!(sheet; aim, from(request.aim.is_some(), facts.and_then(|facts| facts.aim.as_ref())));
        let spacing = Length::from_base(holds.base() / (aim.base() * row_spacing.base()));
        let formula = format!("{holding} / (aim * row_spacing)");
        in_row_for_aim = Some(sheet.line("in_row_spacing_for_aim", &formula, spacing));
        // Aims are round figures: half a percent short of 6,000 is 6,000.
        let reached = established_per_area.base() >= aim.base() * 0.995;
        reaches_aim = Some(reached);
        let ratio = (aim / stations_per_area).base();
        if !reached {
            remarks.push(if ratio > 1.2 && pieces_per_station < 2.0 {
                "The target is well above one piece per station. Check pieces per station, or whether the figure includes extras.".to_owned()
            } else {
                "This spacing and survival miss the target. Plant closer, or expect gaps.".to_owned()
            });
        }
    }
    if let Some(facts) = facts {
        remarks.push(facts.how.clone());
    }
    for key in crop.into_iter().flat_map(|crop| &crop.cautions) {
        sheet.caution(key);
    }
    Ok(sheet.answer(PlantCount {
        stations_per_area,
        stations,
        pieces,
        established_per_area,
        in_row_for_aim,
        reaches_aim,
        remarks,
    }))
}
