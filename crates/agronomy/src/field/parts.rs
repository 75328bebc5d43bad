//! One field made two, and several made one.
//!
//! Boolean operations on polygons as the `geo` crate computes them, in degrees: the line of a cut is straight on
//! the map, and over a field that is the line a person walks.

use geo::{BooleanOps, BoundingRect, Coord, LineString, MultiPolygon, Polygon, unary_union};
use serde_json::{Value, json};

use super::Boundary;
use crate::refusal::Refused;

/// Corners of a cut: a fence or a ditch, not a coast.
const MOST_CORNERS: usize = 500;

/// Cut a field in two along a line, longitude first. Its ends are carried on until they are out of the field. The
/// part on the left of the line, as one walks along it, comes second.
///
/// # Errors
/// At `/line` when it has fewer than two corners, lies off the globe, or leaves one side without land.
///
/// ```
/// use agronomy::{field::{Boundary, cut}, units::Unit};
/// let square = serde_json::json!({"type": "Polygon", "coordinates":
///     [[[0.0, 0.0], [0.01, 0.0], [0.01, 0.01], [0.0, 0.01], [0.0, 0.0]]]});
/// let field = Boundary::from_geojson(&square).unwrap();
/// // Walking north a quarter of the way in: a quarter of it lies on the left.
/// let [right, left] = cut(&field, &[(0.0025, 0.004), (0.0025, 0.006)]).unwrap();
/// let share = Boundary::from_geojson(&left).unwrap().area() / field.area();
/// assert!((share.to(Unit::Percent) - 25.0).abs() < 0.01);
/// # let _ = right;
/// ```
pub fn cut(field: &Boundary, line: &[(f64, f64)]) -> Result<[Value; 2], Refused> {
    let refuse = |detail: &str| Err(Refused::one("/line", detail));
    let on_globe = |(lon, lat): &(f64, f64)| lon.abs() <= 180.0 && lat.abs() <= 90.0;
    if !line.iter().all(on_globe) {
        return refuse("The line has invalid positions; give longitude first, then latitude, in degrees");
    }
    let mut corners: Vec<Coord> = line.iter().map(|(lon, lat)| Coord { x: *lon, y: *lat }).collect();
    corners.dedup();
    if corners.len() < 2 || corners.len() > MOST_CORNERS {
        return refuse("Use 2–500 points in the dividing line");
    }
    let Some(around) = field.0.bounding_rect() else { return refuse("the field has no area") };
    let span = around.width() + around.height();
    let far = |from: Coord, to: Coord, by: f64| {
        let along = Coord { x: to.x - from.x, y: to.y - from.y };
        let length = along.x.hypot(along.y);
        Coord { x: to.x + along.x / length * by, y: to.y + along.y / length * by }
    };
    let reach = 4.0 * span;
    let first = far(corners[1], corners[0], reach);
    let last = far(corners[corners.len() - 2], corners[corners.len() - 1], reach);
    // Round by the left: out beyond everything, back to the beginning.
    let (east, north) = (last.x - first.x, last.y - first.y);
    let length = east.hypot(north).max(f64::MIN_POSITIVE);
    let aside = Coord { x: -north / length * reach * 4.0, y: east / length * reach * 4.0 };
    let out = |corner: Coord| Coord { x: corner.x + aside.x, y: corner.y + aside.y };
    let mut ring = vec![first];
    ring.extend(corners);
    ring.extend([last, out(last), out(first), first]);
    let left_of = MultiPolygon::from(Polygon::new(LineString::new(ring), vec![]));
    let halves = [field.0.difference(&left_of), field.0.intersection(&left_of)];
    if halves.iter().any(|half| half.0.is_empty()) {
        return refuse("The line does not divide the field; draw it from one side to the other");
    }
    let [right, left] = halves.map(|half| geojson(&half));
    for half in [&right, &left] {
        Boundary::read(half)
            .map_err(|detail| Refused::one("/line", format!("one side can\u{2019}t be a field: {detail}")))?;
    }
    Ok([right, left])
}

/// One field of several: what lies side by side grows together, what does not stays a part.
///
/// # Errors
/// At `/boundary` when the whole can't be a field.
pub fn joined(fields: &[Boundary]) -> Result<Value, Refused> {
    let whole = unary_union(fields.iter().flat_map(|field| field.0.iter()));
    let whole = geojson(&whole);
    Boundary::from_geojson(&whole)?;
    Ok(whole)
}

/// As GeoJSON, corners to a tenth of a millimetre: a polygon where it is one.
fn geojson(shape: &MultiPolygon) -> Value {
    let round = |degrees: f64| (degrees * 1e9).round() / 1e9;
    let ring = |line: &LineString| -> Vec<[f64; 2]> {
        let mut corners: Vec<[f64; 2]> = line.coords().map(|corner| [round(corner.x), round(corner.y)]).collect();
        corners.dedup();
        corners
    };
    let part = |part: &Polygon| -> Vec<Vec<[f64; 2]>> {
        std::iter::once(part.exterior()).chain(part.interiors()).map(ring).filter(|ring| ring.len() >= 4).collect()
    };
    let parts: Vec<_> = shape.iter().map(part).filter(|part| !part.is_empty()).collect();
    match parts.as_slice() {
        [only] => json!({"type": "Polygon", "coordinates": only}),
        _ => json!({"type": "MultiPolygon", "coordinates": parts}),
    }
}
