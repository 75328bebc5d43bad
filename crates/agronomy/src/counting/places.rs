//! Where to count: places drawn by lot over the field's shape, spread over all of it, in the order of walks across it.

use geo::{BoundingRect, Contains, Coord, Distance, Haversine, Point};
use rand::{RngExt, SeedableRng};
use rand_chacha::ChaCha8Rng;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

use super::interval::FEWEST_PLACES;
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
/// Places of each crossing after the first.
const CROSSING: usize = 7;
/// Odd spots of one field.
const MOST_ODD: usize = 50;

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
    /// Spots that are unlike the rest: each gets its share of the places, by the ground that it takes up.
    #[serde(default)]
    pub odd: Vec<OddSpot>,
}

/// A spot that is unlike the rest of its field.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OddSpot {
    /// Its middle: longitude, degrees.
    pub longitude: f64,
    /// Its middle: latitude, degrees.
    pub latitude: f64,
    /// How far it reaches.
    pub radius: Length,
}

impl OddSpot {
    fn holds(&self, at: Coord) -> bool {
        let middle = Point::new(self.longitude, self.latitude);
        Haversine.distance(middle, Point::from(at)) <= self.radius.to(Unit::M)
    }
}

/// A place to count.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[schema(as = CountSpot)]
pub struct Spot {
    /// Longitude, degrees.
    pub longitude: f64,
    /// Latitude, degrees.
    pub latitude: f64,
    /// Which of the odd spots it lies in, from 0.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub odd: Option<usize>,
}

/// Where to count.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct CountPlan {
    /// How many.
    pub places: usize,
    /// In the order to count them: the first six cross the whole field, the next ones cross it back, and so on, so that
    /// a count that is broken off when it is enough has seen all of it. Empty where the field's shape is not known.
    pub spots: Vec<Spot>,
    /// Places in each of the odd spots; one without any is too small for one, and is looked at apart.
    pub in_odd: Vec<usize>,
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
///
/// Odd spots are strata of their own with places in proportion to their ground (Cochran 1977, Sampling Techniques,
/// 3rd ed., section 5.5): the plain mean of all places is then the field's.
fn spots(field: &Boundary, places: usize, draw: u64, odd: &[OddSpot]) -> Vec<Spot> {
    let inside = field.inside(EDGE);
    // A field too narrow for an edge is counted to its edge.
    let inside = if inside.0.is_empty() { field.inside(Length::from_base(0.0)) } else { inside };
    let Some(around) = inside.bounding_rect() else { return vec![] };
    let (low, width, height) = (around.min(), around.width(), around.height());
    let mut lot = ChaCha8Rng::seed_from_u64(draw);
    let wanted = places * TRIED;
    let mut drawn: Vec<Vec<(u64, Coord)>> = vec![vec![]; odd.len() + 1];
    let mut many = 0;
    let side = f64::from(1u32 << BITS);
    // A field that fills a thousandth of its square is still found.
    for _ in 0..wanted * 1_000 {
        if many == wanted {
            break;
        }
        let (across, up): (f64, f64) = (lot.random(), lot.random());
        let at = Coord { x: low.x + across * width, y: low.y + up * height };
        if inside.contains(&Point::from(at)) {
            let stratum = odd.iter().position(|spot| spot.holds(at)).unwrap_or(odd.len());
            drawn[stratum].push((along((across * side) as u32, (up * side) as u32), at));
            many += 1;
        }
    }
    if many < places {
        return vec![];
    }
    let mut taken: Vec<(u64, Spot)> = vec![];
    let shares = shared_out(places, &drawn.iter().map(Vec::len).collect::<Vec<_>>());
    for (stratum, (points, share)) in drawn.iter_mut().zip(shares).enumerate() {
        points.sort_by_key(|one| one.0);
        let odd = (stratum < odd.len()).then_some(stratum);
        for run in 0..share {
            let run = &points[run * points.len() / share..(run + 1) * points.len() / share];
            let (along, at) = run[lot.random_range(0..run.len())];
            taken.push((along, Spot { longitude: at.x, latitude: at.y, odd }));
        }
    }
    taken.sort_by_key(|one| one.0);
    in_crossings(taken.into_iter().map(|(_, spot)| spot).collect(), &mut lot)
}

/// Places along one walk, put into the order of several, there and back: the first takes so many as the rule of
/// [`count_interval`](super::count_interval) asks for at the least, drawn evenly by a random start (systematic
/// sampling, Cochran 1977, Sampling Techniques, 3rd ed., chapter 8), each later one of what is left.
///
/// In one walk from end to end the first six would be a corner of the field, and *enough* a word about that corner.
fn in_crossings(along: Vec<Spot>, lot: &mut ChaCha8Rng) -> Vec<Spot> {
    let mut left = along;
    let mut ordered = Vec::with_capacity(left.len());
    let (mut wanted, mut back) = (FEWEST_PLACES, false);
    while !left.is_empty() {
        let many = wanted.min(left.len());
        let step = left.len() as f64 / many as f64;
        let start = lot.random::<f64>() * step;
        let mut crossing = vec![];
        let mut next = 0;
        let mut rest = vec![];
        for (at, spot) in left.into_iter().enumerate() {
            if next < many && at == (start + next as f64 * step) as usize {
                crossing.push(spot);
                next += 1;
            } else {
                rest.push(spot);
            }
        }
        left = rest;
        if back {
            crossing.reverse();
        }
        ordered.append(&mut crossing);
        (wanted, back) = (CROSSING, !back);
    }
    ordered
}

/// Places shared out by size: each its whole part, and what is left over to the largest remainders.
fn shared_out(places: usize, sizes: &[usize]) -> Vec<usize> {
    let total = sizes.iter().sum::<usize>().max(1);
    let mut shares: Vec<usize> = sizes.iter().map(|size| places * size / total).collect();
    let mut by_rest: Vec<usize> = (0..sizes.len()).collect();
    by_rest.sort_by_key(|at| std::cmp::Reverse(places * sizes[*at] % total));
    let over = places - shares.iter().sum::<usize>();
    for at in by_rest.into_iter().take(over) {
        shares[at] += 1;
    }
    shares
}

/// The topic `count.plan`: n = (z × s ÷ d)², and where.
///
/// # Errors
/// A boundary that can't be, a number or precision out of bounds.
pub fn count_plan(request: &CountPlanRequest) -> Result<Answer<CountPlan>, Refused> {
    let mut checks = Checks::new();
    if let Some(places) = request.places {
        checks.require((1..=300).contains(&places), "/places", said!("{} sample points; enter 1–300", places));
    }
    if let Some(deviation) = request.deviation {
        checks.within("/deviation", "Variation between points", deviation, Unit::Percent, 1.0, 100.0);
    }
    checks.within("/within", "Precision", request.within, Unit::Percent, 1.0, 50.0);
    checks.require(
        request.odd.len() <= MOST_ODD,
        "/odd",
        said!("{} odd spots; the limit is {}", request.odd.len() as f64, MOST_ODD as f64),
    );
    for (at, spot) in request.odd.iter().enumerate().take(MOST_ODD) {
        let sound = spot.latitude.abs() <= 90.0 && spot.longitude.abs() <= 180.0;
        checks.require(sound, format!("/odd/{at}"), "that location is not valid");
        checks.within(&format!("/odd/{at}/radius"), "Radius", spot.radius, Unit::M, 0.5, 500.0);
    }
    let boundary = request.boundary.as_ref().and_then(|boundary| checks.part("", Boundary::from_geojson(boundary)));
    checks.done()?;
    let mut sheet = Sheet::new("number and location of sample points");
    let places = match request.places {
        Some(places) => places as usize,
        None => {
            sheet.source(Source::common_practice("places = (z × deviation ÷ precision) squared, rounded up"));
            let (deviation, from) = match request.deviation {
                Some(given) => (given, Origin::Given),
                None => (Fraction::percent(15.0), Origin::assumed("variation in an earlier count")),
            };
            given!(sheet; deviation = deviation, from);
            given!(sheet; precision = request.within, Origin::Given);
            given!(sheet; z = Z90, Origin::sourced(&Source::common_practice("90% confidence, normal distribution")));
            let n = ((z * deviation.base() / precision.base()).powi(2) - 1e-6).ceil();
            let formula = "rounded up((z * deviation / precision) * (z * deviation / precision))";
            let n = sheet.line("places", formula, n);
            (n as usize).clamp(6, 300)
        }
    };
    let spots = boundary.map(|field| spots(&field, places, request.draw, &request.odd)).unwrap_or_default();
    sheet.would_change("Actual variation between points; counting shows when it is enough.");
    let how = if spots.is_empty() {
        "Zigzag over the whole field to the far end, even if you have enough points earlier. Stop after the same number of steps each time and count where your foot lands, not where it looks good."
    } else {
        "Go to each point and count where your foot lands, even where nothing grows."
    };
    let in_odd = (0..request.odd.len()).map(|at| spots.iter().filter(|spot| spot.odd == Some(at)).count()).collect();
    Ok(sheet.answer(CountPlan { places, spots, in_odd, how: how.to_owned() }))
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
            odd: vec![],
        };
        let plan = count_plan(&request).unwrap().value;
        assert_eq!(plan.spots.len(), 20);
        let field = Boundary::from_geojson(&shape).unwrap().inside(Length::from_base(0.0));
        assert!(plan.spots.iter().all(|spot| field.contains(&Point::new(spot.longitude, spot.latitude))));
        let north = plan.spots.iter().filter(|spot| spot.latitude > 42.5 + 0.5 / 1_100.0).count();
        assert!((7..=13).contains(&north), "{north} of 20 in the northern half");
        assert_eq!(count_plan(&request).unwrap().value.spots, plan.spots);
    }

    /// A count may be broken off after six places, or at any later one: by then two of them, or more, lie in each half.
    #[rstest]
    #[case(6)]
    #[case(8)]
    #[case(20)]
    #[case(61)]
    fn the_first_six_places_cross_the_whole_field(#[case] places: u32) {
        let square = shape(&[(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0), (0.0, 0.0)]);
        for draw in 0..50 {
            let request = CountPlanRequest {
                boundary: Some(square.clone()),
                places: Some(places),
                deviation: None,
                within: Fraction::percent(8.0),
                draw,
                odd: vec![],
            };
            let spots = count_plan(&request).unwrap().value.spots;
            assert_eq!(spots.len(), places as usize);
            let east = spots[..6].iter().filter(|spot| spot.longitude > -76.5 + 0.5 / 800.0).count();
            let north = spots[..6].iter().filter(|spot| spot.latitude > 42.5 + 0.5 / 1_100.0).count();
            assert!((2..=4).contains(&east) && (2..=4).contains(&north), "draw {draw}: {:?}", &spots[..6]);
            // Each place once.
            let different: std::collections::BTreeSet<_> =
                spots.iter().map(|spot| (spot.longitude.to_bits(), spot.latitude.to_bits())).collect();
            assert_eq!(different.len(), places as usize);
        }
    }

    /// Over many draws each of twenty places along the walk is as often among the first six as any other.
    #[test]
    fn each_place_is_as_likely_to_come_early() {
        let spot = |at: usize| Spot { longitude: at as f64, latitude: 0.0, odd: None };
        let mut early = [0; 20];
        for draw in 0..6_000 {
            let mut lot = ChaCha8Rng::seed_from_u64(draw);
            for one in &in_crossings((0..20).map(spot).collect(), &mut lot)[..FEWEST_PLACES] {
                early[one.longitude as usize] += 1;
            }
        }
        assert!(early.iter().all(|times| (1_650..=1_950).contains(times)), "{early:?}");
    }

    /// A spot over a quarter of a square field gets a quarter of the places, each within it; a small one gets none.
    #[test]
    fn odd_spots_get_their_share_of_the_places() {
        let square = shape(&[(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0), (0.0, 0.0)]);
        // A square of some 102.5 m by 101.1 m: a quarter of it is a circle of 28.7 m.
        let spot = |x: f64, y: f64, radius: f64| OddSpot {
            longitude: -76.5 + x / 800.0,
            latitude: 42.5 + y / 1_100.0,
            radius: Length::new(radius, Unit::M),
        };
        let wet = spot(0.4, 0.6, 28.0);
        let request = CountPlanRequest {
            boundary: Some(square),
            places: Some(40),
            deviation: None,
            within: Fraction::percent(8.0),
            draw: 3,
            odd: vec![wet, spot(0.9, 0.1, 1.0)],
        };
        let plan = count_plan(&request).unwrap().value;
        assert_eq!(plan.spots.len(), 40);
        assert!((9..=14).contains(&plan.in_odd[0]), "{:?}", plan.in_odd);
        assert_eq!(plan.in_odd[1], 0);
        for place in &plan.spots {
            let at = Coord { x: place.longitude, y: place.latitude };
            assert_eq!(place.odd == Some(0), wet.holds(at));
        }
        // One that covers all takes all; one beyond the field none.
        let all = CountPlanRequest { odd: vec![spot(0.5, 0.5, 400.0), spot(30.0, 0.0, 50.0)], ..request };
        assert_eq!(count_plan(&all).unwrap().value.in_odd, [40, 0]);
    }

    #[rstest]
    #[case(20, &[50, 30, 20], &[10, 6, 4])]
    #[case(10, &[1, 99], &[0, 10])]
    #[case(10, &[5, 95], &[1, 9])]
    #[case(7, &[1, 1, 1], &[3, 2, 2])]
    #[case(0, &[3, 4], &[0, 0])]
    fn places_are_shared_out_by_size(#[case] places: usize, #[case] sizes: &[usize], #[case] wanted: &[usize]) {
        assert_eq!(shared_out(places, sizes), wanted);
    }
}
