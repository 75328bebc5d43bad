//! While plants are set: how far apart they really stand, whether the pieces last, and how many loads are left.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::progress::{ProgressVerdict, time_left, verdict_of};
use crate::{
    crop::crop_of,
    given, reckon,
    refusal::{Checks, Refused},
    said,
    source::{Origin, Source},
    units::{Area, AreaPerTime, CountPerArea, Fraction, Length, Measure, Time, Unit},
    working::{Answer, Sheet},
};

/// Request of the topic `planting.progress`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PlantingRequest {
    /// Crop of the library that is set out as plants.
    pub crop: String,
    /// Planted so far.
    pub area_done: Area,
    /// Pieces gone so far: set, without those that were thrown away.
    pub set: f64,
    /// Broken, dried out or lost on the way so far.
    #[serde(default)]
    pub lost: f64,
    /// Still to plant.
    pub area_left: Area,
    /// Pieces still there.
    pub left: f64,
    /// Between rows; the crop's usual when absent.
    #[serde(default)]
    pub row_spacing: Option<Length>,
    /// Within the row, as planned; the crop's usual when absent.
    #[serde(default)]
    pub in_row: Option<Length>,
    /// Pieces at a station; one when absent.
    #[serde(default)]
    pub pieces_per_station: Option<u32>,
    /// Pieces that the planter's hopper holds.
    #[serde(default)]
    pub per_load: Option<f64>,
    /// Planted in an hour so far, for the time that is left.
    #[serde(default)]
    pub field_capacity: Option<AreaPerTime>,
}

/// Where the planting stands.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[schema(as = PlantingProgress)]
pub struct Planting {
    /// Pieces on an area so far.
    pub per_area: CountPerArea,
    /// Distance within the row that they come to.
    pub in_row: Length,
    /// More or fewer pieces than planned.
    pub off_plan: Fraction,
    /// What to do.
    pub verdict: ProgressVerdict,
    /// Share of the pieces that was lost on the way.
    pub lost: Fraction,
    /// Area that the pieces left plant, losses as so far.
    pub lasts: Area,
    /// Of what is left, the part without pieces; none where they last.
    pub short_area: Option<Area>,
    /// Pieces wanting for it, with as many lost.
    pub short: Option<f64>,
    /// Area that a load plants.
    pub area_per_load: Option<Area>,
    /// Loads still to fill.
    pub loads: Option<u32>,
    /// Time that the rest takes.
    pub hours: Option<Time>,
}

/// The topic `planting.progress`: pieces set ÷ area planted, against the distances of the plan.
///
/// # Errors
/// A crop that is sown from seed; an area, a number of pieces or a distance that can't be.
///
/// ```
/// use agronomy::{sowing::{PlantingRequest, planting_progress}, units::{Measure, Unit}};
/// // 30 by 30 inches: 6,970 an acre. 7,000 on an acre are right; 13,000 left reach for two acres less a seventh.
/// let request: PlantingRequest = serde_json::from_value(serde_json::json!({"crop": "giant-miscanthus", "set": 7000, "left": 13_000,
///     "area_done": {"value": 1, "unit": "ac"}, "area_left": {"value": 2, "unit": "ac"}, "per_load": 1500,
///     "row_spacing": {"value": 30, "unit": "in"}, "in_row": {"value": 30, "unit": "in"}})).unwrap();
/// let found = planting_progress(&request).unwrap().value;
/// assert!((found.off_plan.to(Unit::Percent) - 0.43).abs() < 0.01);
/// assert!((found.lasts.to(Unit::Ac) - 1.857).abs() < 0.001);
/// assert_eq!((found.short.map(f64::round), found.loads), (Some(1_000.0), Some(10)));
/// ```
pub fn planting_progress(request: &PlantingRequest) -> Result<Answer<Planting>, Refused> {
    let crop = crop_of(&request.crop, "/crop")?;
    let Some(facts) = &crop.planting else {
        return Err(Refused::one("/crop", format!("{} is sown from seed", crop.name)));
    };
    let mut checks = Checks::new();
    checks.within("/area_done", "Area sown", request.area_done, Unit::Ha, 0.001, 20_000.0);
    checks.within("/area_left", "Area left", request.area_left, Unit::Ha, 0.0, 20_000.0);
    let pieces = |checks: &mut Checks, pointer: &str, least: f64, many: f64| {
        let right = (least..=1e9).contains(&many);
        checks.require(right, pointer, said!("{} pieces; enter {} to 1,000,000,000", many, least));
    };
    pieces(&mut checks, "/set", 1.0, request.set);
    pieces(&mut checks, "/lost", 0.0, request.lost);
    pieces(&mut checks, "/left", 0.0, request.left);
    if let Some(load) = request.per_load {
        pieces(&mut checks, "/per_load", 1.0, load);
    }
    for (pointer, name, length) in
        [("/row_spacing", "Row spacing", request.row_spacing), ("/in_row", "In-row spacing", request.in_row)]
    {
        if let Some(length) = length {
            checks.within(pointer, name, length, Unit::Cm, 2.0, 2_000.0);
        }
    }
    if let Some(capacity) = request.field_capacity {
        // By hand it is a hundredth of what a machine does.
        checks.within("/field_capacity", "Planting rate", capacity, Unit::HaPerH, 0.000_1, 100.0);
    }
    let each = request.pieces_per_station.unwrap_or(1);
    checks.require((1..=10).contains(&each), "/pieces_per_station", said!("{} pieces per station; enter 1–10", each));
    checks.done()?;
    let mut sheet = Sheet::new("planting progress");
    sheet.source(Source::common_practice("pieces on an area = pieces set ÷ area planted"));
    given!(sheet; area_done = request.area_done, Origin::Given);
    given!(sheet; pieces_set = request.set, Origin::Given);
    given!(sheet; pieces_lost = request.lost, Origin::Given);
    given!(sheet; area_left = request.area_left, Origin::Given);
    given!(sheet; pieces_left = request.left, Origin::Given);
    let from = |given: Option<Length>, usual: &crate::crop::Figure| match given {
        Some(length) => (length, Origin::Given),
        None => (usual.measure(), usual.origin()),
    };
    let (rows, of_rows) = from(request.row_spacing, &facts.row_spacing);
    let (in_row, of_in_row) = from(request.in_row, &facts.in_row);
    given!(sheet; row_spacing = rows, of_rows);
    given!(sheet; in_row_as_planned = in_row, of_in_row);
    given!(sheet; pieces_per_station = f64::from(each), Origin::Given);
    reckon!(sheet; per_area = pieces_set / area_done);
    let planned = pieces_per_station / (row_spacing * in_row_as_planned);
    let as_planned = sheet.line("as_planned", "pieces_per_station / (row_spacing * in_row_as_planned)", planned);
    let off = Fraction::from_base((per_area / as_planned).base() - 1.0);
    let off_plan = sheet.line("off_the_plan", "per_area / as_planned - 1", off);
    let apart = Length::from_base(pieces_per_station / (per_area.base() * row_spacing.base()));
    let in_row = sheet.line("in_row_so_far", "pieces_per_station / (per_area * row_spacing)", apart);
    let share = Fraction::from_base(pieces_lost / (pieces_set + pieces_lost));
    let lost = sheet.line("share_lost", "pieces_lost / (pieces_set + pieces_lost)", share);
    let gone = CountPerArea::from_base((pieces_set + pieces_lost) / area_done.base());
    let gone = sheet.line("gone_for_an_area", "(pieces_set + pieces_lost) / area_done", gone);
    let reach = Area::from_base(pieces_left / gone.base());
    let lasts = sheet.line("area_that_the_rest_plants", "pieces_left / gone_for_an_area", reach);
    let wanting = area_left.base() - lasts.base();
    let (mut short_area, mut short) = (None, None);
    if wanting > 1e-6 * area_left.base().max(1.0) {
        let area = Area::from_base(wanting);
        short_area = Some(sheet.line("area_without_pieces", "area_left - area_that_the_rest_plants", area));
        let formula = "area_without_pieces * gone_for_an_area";
        short = Some(sheet.line("pieces_wanting", formula, wanting * gone.base()));
    }
    let (mut area_per_load, mut loads) = (None, None);
    if let Some(load) = request.per_load {
        given!(sheet; pieces_in_a_load = load, Origin::Given);
        // Of a load, too, as many are lost as so far.
        let area = Area::from_base(pieces_in_a_load / gone.base());
        area_per_load = Some(sheet.line("area_of_a_load", "pieces_in_a_load / gone_for_an_area", area));
        let many = (area_left.base() / area.base() - 1e-9).ceil();
        if many > 100_000.0 {
            return Err(Refused::one("/per_load", "More than 100,000 loads; check the pieces per hopper load"));
        }
        loads = Some(sheet.line("loads_left", "rounded up(area_left / area_of_a_load)", many) as u32);
    }
    let hours = request.field_capacity.map(|capacity| time_left(&mut sheet, area_left, capacity));
    sheet.would_change("A count of live plants a few weeks later; not all pieces survive.");
    for key in &crop.cautions {
        sheet.caution(key);
    }
    let verdict = verdict_of(off_plan);
    Ok(sheet.answer(Planting {
        per_area,
        in_row,
        off_plan,
        verdict,
        lost,
        lasts,
        short_area,
        short,
        area_per_load,
        loads,
        hours,
    }))
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;
    use rstest::rstest;
    use serde_json::{Value, json};

    use super::*;

    fn asked(more: Value) -> PlantingRequest {
        let mut request = json!({"crop": "giant-miscanthus", "set": 3485, "left": 3485, "area_done": {"value": 0.5, "unit": "ac"},
            "area_left": {"value": 0.5, "unit": "ac"}, "row_spacing": {"value": 30, "unit": "in"}, "in_row": {"value": 30, "unit": "in"}});
        request.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
        serde_json::from_value(request).unwrap()
    }

    /// 43,560 × 144 ÷ (30 × 30) = 6,969.6 an acre: half of it stands on half an acre, 30 inches apart.
    #[test]
    fn as_the_distances_say() {
        let found = planting_progress(&asked(json!({}))).unwrap().value;
        assert!((found.in_row.to(Unit::In) - 30.0).abs() < 0.01, "{found:?}");
        assert_eq!((found.verdict, found.short), (ProgressVerdict::GoOn, None));
    }

    /// A quarter acre an hour by hand: half an acre in two hours.
    #[test]
    fn the_rest_takes_as_long_as_so_far() {
        let found =
            planting_progress(&asked(json!({"field_capacity": {"value": 0.25, "unit": "ac/h"}}))).unwrap().value;
        assert!((found.hours.unwrap().to(Unit::H) - 2.0).abs() < 1e-9);
        assert_eq!(planting_progress(&asked(json!({}))).unwrap().value.hours, None);
        let none = asked(json!({"field_capacity": {"value": 0, "unit": "ac/h"}}));
        assert!(planting_progress(&none).unwrap_err().0.iter().any(|one| one.pointer == "/field_capacity"));
    }

    /// Stem cuttings at 90 by 60 cm come to 7,494 an acre; a trade figure of 11,000 two-node pieces is far beyond it.
    #[rstest]
    #[case::fewer(3_240.0, ProgressVerdict::Adjust)]
    #[case::far_fewer(3_000.0, ProgressVerdict::Stop)]
    #[case::a_trade_figure(5_500.0, ProgressVerdict::Stop)]
    fn off_the_plan(#[case] set: f64, #[case] verdict: ProgressVerdict) {
        assert_eq!(planting_progress(&asked(json!({"set": set}))).unwrap().value.verdict, verdict);
    }

    #[test]
    fn what_is_lost_on_the_way_is_wanted_again() {
        // A tenth of what is gone was lost: the same is expected of the rest.
        let found = planting_progress(&asked(json!({"set": 3150, "lost": 350, "left": 1750}))).unwrap().value;
        assert!((found.lost.to(Unit::Percent) - 10.0).abs() < 1e-9);
        assert!((found.lasts.to(Unit::Ac) - 0.25).abs() < 1e-9);
        assert!((found.short.unwrap() - 1_750.0).abs() < 1e-6);
        // A load of 700 reaches for a tenth of an acre, not for a ninth: five for the half.
        let found = planting_progress(&asked(json!({"set": 3150, "lost": 350, "per_load": 700}))).unwrap().value;
        assert!((found.area_per_load.unwrap().to(Unit::Ac) - 0.1).abs() < 1e-9);
        assert_eq!(found.loads, Some(5));
    }

    #[rstest]
    #[case::none_set(json!({"set": 0}), "/set")]
    #[case::fewer_than_none(json!({"left": -1}), "/left")]
    #[case::from_seed(json!({"crop": "alfalfa"}), "/crop")]
    #[case::a_hopper_of_nothing(json!({"per_load": 0}), "/per_load")]
    #[case::feet_for_inches(json!({"in_row": {"value": 90, "unit": "ft"}}), "/in_row")]
    fn what_can_not_be(#[case] more: Value, #[case] pointer: &str) {
        let refused = planting_progress(&asked(more)).unwrap_err();
        assert!(refused.0.iter().any(|one| one.pointer == pointer), "{refused:?}");
    }

    proptest! {
        /// What the pieces reach for and what is wanting make up what is left.
        #[test]
        fn nothing_of_the_rest_is_forgotten(set in 1.0..1e6_f64, lost in 0.0..1e5_f64, left in 0.0..1e6_f64, rest in 0.0..100.0_f64) {
            let request = asked(json!({"set": set, "lost": lost, "left": left, "area_left": {"value": rest, "unit": "ha"}}));
            let found = planting_progress(&request).unwrap().value;
            let short = found.short_area.map_or(0.0, |area| area.to(Unit::Ha));
            let reached = found.lasts.to(Unit::Ha).min(rest);
            prop_assert!((reached + short - rest).abs() < 1e-6 * rest.max(1.0) + 1e-9);
        }
    }
}
