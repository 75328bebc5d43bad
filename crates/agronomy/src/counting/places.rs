//! Where to count: places drawn by lot over the field's shape, spread over all of it, in the order of a walk.

use geo::{BoundingRect, Contains, Coord, Point};
use rand::{RngExt, SeedableRng};
use rand_chacha::ChaCha8Rng;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

use crate::{
    chance::Z90,
    field::Boundary,
    given,
    refusal::{Checks, Refused},
    said,
    source::{Origin, Source},
    units::{Fraction, Length, Measure, Unit},
    working::{Answer, Sheet},
};

/// Points tried for each place: one of so many neighbours is taken by lot.
const TRIED: usize = 48;
/// Bits of each side of the curve along which points are ordered.
const BITS: u32 = 12;
/// Places stay so far from the edge, where another hand sowed or the drill turned.
const EDGE: Length = Length::new(5.0, Unit::M);

/// Request of the topic `count.plan`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CountPlanRequest {
    /// The field, as GeoJSON; without it only their number is told.
    #[serde(default)]
    #[schema(value_type = Option<Object>)]
    pub boundary: Option<Value>,
    /// Places; as many as the precision asks for when absent.
    #[serde(default)]
    pub places: Option<u32>,
    /// How far places are expected to differ: their standard deviation, as a share; 15 points when absent.
    #[serde(default)]
    pub deviation: Option<Fraction>,
    /// Wanted within so much of the truth, nine times of ten: 8 points are usual.
    pub within: Fraction,
    /// Which draw of the lot: the same draw gives the same places.
    #[serde(default)]
    pub draw: u64,
}

/// A place to count.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[schema(as = CountSpot)]
pub struct Spot {
    /// Longitude, degrees.
    pub longitude: f64,
    /// Latitude, degrees.
    pub latitude: f64,
}

/// Where to count.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct CountPlan {
    /// How many.
    pub places: usize,
    /// In the order of a walk; empty where the field's shape is not known.
    pub spots: Vec<Spot>,
    /// How to choose them without a map.
    pub how: String,
}

/// Where a point lies along Hilbert's curve over a square of 2^BITS a side (Hilbert 1891, Math. Ann. 38:459–460):
/// what is near along it is near on the ground.
fn along(mut x: u32, mut y: u32) -> u64 {
    let mut at = 0;
    let mut side = 1 << (BITS - 1);
    while side > 0 {
        let (right, up) = (u32::from(x & side > 0), u32::from(y & side > 0));
        at += u64::from(side) * u64::from(side) * u64::from((3 * right) ^ up);
        if up == 0 {
            if right == 1 {
                let most = (1 << BITS) - 1;
                (x, y) = (most - x, most - y);
            }
            std::mem::swap(&mut x, &mut y);
        }
        side >>= 1;
    }
    at
}

/// Places by lot: many points are drawn evenly over the field, ordered along a curve that fills it, and of each run
/// of neighbours one is taken. Each point of the field is as likely as any other, and no corner is left out (the way
/// of Stevens & Olsen 2004, Spatially balanced sampling of natural resources, J. Am. Stat. Assoc. 99:262–278).
fn spots(field: &Boundary, places: usize, draw: u64) -> Vec<Spot> {
    let inside = field.inside(EDGE);
    // A field too narrow for an edge is counted to its edge.
    let inside = if inside.0.is_empty() { field.inside(Length::from_base(0.0)) } else { inside };
    let Some(around) = inside.bounding_rect() else { return vec![] };
    let (low, width, height) = (around.min(), around.width(), around.height());
    let mut lot = ChaCha8Rng::seed_from_u64(draw);
    let wanted = places * TRIED;
    let mut drawn: Vec<(u64, Coord)> = Vec::with_capacity(wanted);
    let side = f64::from(1u32 << BITS);
    // A field that fills a thousandth of its square is still found.
    for _ in 0..wanted * 1_000 {
        if drawn.len() == wanted {
            break;
        }
        let (across, up): (f64, f64) = (lot.random(), lot.random());
        let at = Coord { x: low.x + across * width, y: low.y + up * height };
        if inside.contains(&Point::from(at)) {
            drawn.push((along((across * side) as u32, (up * side) as u32), at));
        }
    }
    drawn.sort_by_key(|one| one.0);
    let each = drawn.len() / places.max(1);
    if each == 0 {
        return vec![];
    }
    drawn
        .chunks(each)
        .take(places)
        .map(|run| run[lot.random_range(0..run.len())].1)
        .map(|at| Spot { longitude: at.x, latitude: at.y })
        .collect()
}

/// The topic `count.plan`: n = (z × s ÷ d)², and where.
///
/// # Errors
/// A boundary that can't be, a number or precision out of bounds.
pub fn count_plan(request: &CountPlanRequest) -> Result<Answer<CountPlan>, Refused> {
    let mut checks = Checks::new();
    if let Some(places) = request.places {
        checks.require((1..=300).contains(&places), "/places", said!("{} places; 1 to 300 can be walked", places));
    }
    if let Some(deviation) = request.deviation {
        checks.within("/deviation", "how far places differ", deviation, Unit::Percent, 1.0, 100.0);
    }
    checks.within("/within", "the precision", request.within, Unit::Percent, 1.0, 50.0);
    let boundary = request.boundary.as_ref().and_then(|boundary| checks.part("", Boundary::from_geojson(boundary)));
    checks.done()?;
    let mut sheet = Sheet::new("how many places, and where");
    let places = match request.places {
        Some(places) => places as usize,
        None => {
            sheet.source(Source::common_practice("places = (z × deviation ÷ precision) squared, rounded up"));
            let (deviation, from) = match request.deviation {
                Some(given) => (given, Origin::Given),
                None => (Fraction::percent(15.0), Origin::assumed("how far the places of an earlier count differed")),
            };
            given!(sheet; deviation = deviation, from);
            given!(sheet; precision = request.within, Origin::Given);
            given!(sheet; z = Z90, Origin::sourced(&Source::common_practice("nine times of ten, by the normal law")));
            let n = ((z * deviation.base() / precision.base()).powi(2) - 1e-6).ceil();
            let formula = "rounded up((z * deviation / precision) * (z * deviation / precision))";
            let n = sheet.line("places", formula, n);
            (n as usize).clamp(6, 300)
        }
    };
    let spots = boundary.map(|field| spots(&field, places, request.draw)).unwrap_or_default();
    sheet.would_change("How far the places turn out to differ: counting tells when it is enough.");
    let how = if spots.is_empty() {
        "Walk a zigzag over the whole field and stop after the same number of steps each time; count where your foot falls, not where it looks good."
    } else {
        "Go to each place and count where your foot falls, also where nothing grows."
    };
    Ok(sheet.answer(CountPlan { places, spots, how: how.to_owned() }))
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[test]
    fn the_curve_visits_each_cell_once_and_steps_to_a_neighbour() {
        // A corner of it: 16 × 16 cells.
        let mut cells: Vec<(u64, i64, i64)> =
            (0..16u32).flat_map(|x| (0..16u32).map(move |y| (along(x, y), i64::from(x), i64::from(y)))).collect();
        cells.sort_unstable();
        for pair in cells.windows(2) {
            assert_eq!(pair[1].0, pair[0].0 + 1);
            assert_eq!((pair[1].1 - pair[0].1).abs() + (pair[1].2 - pair[0].2).abs(), 1);
        }
    }

    fn shape(ring: &[(f64, f64)]) -> Value {
        let ring: Vec<[f64; 2]> = ring.iter().map(|(x, y)| [-76.5 + x / 800.0, 42.5 + y / 1_100.0]).collect();
        serde_json::json!({"type": "Polygon", "coordinates": [ring]})
    }

    #[rstest]
    #[case::square(&[(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0), (0.0, 0.0)])]
    #[case::crescent(&[(0.0, 0.0), (1.0, 0.0), (1.0, 0.2), (0.2, 0.2), (0.2, 0.8), (1.0, 0.8), (1.0, 1.0), (0.0, 1.0), (0.0, 0.0)])]
    #[case::strip(&[(0.0, 0.0), (1.0, 0.98), (1.0, 1.0), (0.0, 0.02), (0.0, 0.0)])]
    fn places_lie_in_the_field_and_over_all_of_it(#[case] ring: &[(f64, f64)]) {
        let shape = shape(ring);
        let request = CountPlanRequest {
            boundary: Some(shape.clone()),
            places: Some(20),
            deviation: None,
            within: Fraction::percent(8.0),
            draw: 7,
        };
        let plan = count_plan(&request).unwrap().value;
        assert_eq!(plan.spots.len(), 20);
        let field = Boundary::from_geojson(&shape).unwrap().inside(Length::from_base(0.0));
        assert!(plan.spots.iter().all(|spot| field.contains(&Point::new(spot.longitude, spot.latitude))));
        let north = plan.spots.iter().filter(|spot| spot.latitude > 42.5 + 0.5 / 1_100.0).count();
        assert!((7..=13).contains(&north), "{north} of 20 in the northern half");
        assert_eq!(count_plan(&request).unwrap().value.spots, plan.spots);
    }
}
