//! The field on the ground: its boundary, its area, and how much of it is sown.
//!
//! A boundary is a GeoJSON polygon, or several where a road or a brook parts the field (RFC 7946: WGS 84,
//! longitude first). Area is geodesic, on the
//! ellipsoid (Karney 2013, as the `geo` crate computes it), so that a field is the same size at
//! every latitude. Setbacks are drawn inwards on a local plane, whose error over a field of a few
//! kilometres is far below what a drill can follow.

mod parts;

use geo::{
    Area as _, BoundingRect, Buffer, Centroid, Coord, CoordsIter, GeodesicArea, LineString, MapCoords, MultiPolygon,
    Orient, Polygon, algorithm::validation::Validation, orient::Direction,
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    given, reckon,
    refusal::{Checks, Refused},
    said,
    source::{Origin, Source},
    units::{Area, Length, Measure, Unit},
    working::{Answer, Sheet},
};

pub use parts::{cut, joined};

/// Largest field taken, ha: larger is a slip.
const LARGEST_HA: f64 = 20_000.0;
/// Smallest field taken, m².
const SMALLEST_M2: f64 = 10.0;
/// Parts of one field: more are fields of their own.
const MOST_PARTS: usize = 100;
/// Corners taken at the most: one a metre around a square of 600 ha.
const MOST_CORNERS: usize = 10_000;
/// A corner sharper than this is a line walked out and back, not an edge of a field, degrees.
const SHARP: f64 = 2.0;
/// So many of them are a slip of the receiver; more are no boundary, and drawing a setback along them takes minutes.
const MOST_SHARP: usize = 50;
/// Pairs of corners within a setback of one another, about, that are drawn: a second or two of work.
const MOST_PAIRS: f64 = 500_000.0;

/// A boundary that can be worked with: one polygon or several beside one another, rings closed, not crossing
/// themselves or one another, of a size a field can have.
#[derive(Debug, Clone, PartialEq)]
pub struct Boundary(MultiPolygon);

/// The field's sizes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct FieldArea {
    /// Inside the boundary.
    pub area: Area,
    /// Inside the setback.
    pub sown_area: Area,
    /// What the setback takes.
    pub set_back: Area,
}

impl Boundary {
    /// Read a GeoJSON geometry, feature, or collection of a single feature.
    ///
    /// # Errors
    /// A sentence at `/boundary` on what is wrong: not a polygon, an open ring, coordinates off
    /// the globe, a boundary that crosses itself, no area or far too much.
    pub fn from_geojson(value: &serde_json::Value) -> Result<Self, Refused> {
        Self::read(value).map_err(|detail| Refused::one("/boundary", detail))
    }

    fn read(value: &serde_json::Value) -> Result<Self, String> {
        let geometry = polygon_part(value)?;
        check_parts(geometry)?;
        let parsed = serde_json::from_value::<geojson::Geometry>(geometry.clone())
            .map_err(|error| format!("not a GeoJSON polygon: {error}"))?;
        let several = geometry.get("type").is_some_and(|kind| kind == "MultiPolygon");
        let polygons = match several {
            true => MultiPolygon::try_from(parsed),
            false => Polygon::try_from(parsed).map(MultiPolygon::from),
        };
        let polygons = polygons.map_err(|error| format!("not a GeoJSON polygon: {error}"))?;
        // No field is half the globe wide: its corners lie on both sides of where 180 turns into −180.
        if polygons.bounding_rect().is_some_and(|all| all.width() > 180.0) {
            return Err(
                "the boundary crosses the 180th meridian: enter the part on each side as a separate field".to_owned()
            );
        }
        let sharp: usize = polygons.iter().map(sharp_corners).sum();
        if sharp > MOST_SHARP {
            return Err(format!(
                "The boundary doubles back at {sharp} corners; redraw it along the field edge with fewer corners"
            ));
        }
        // RFC 7946 wants outer rings counter-clockwise, and many programs write them the other way: walked either
        // way round it is the same field, and never the rest of the globe.
        let polygons = polygons.orient(Direction::Default);
        polygons.check_validation().map_err(|problem| {
            let text = problem.to_string();
            if text.contains("self-intersection") {
                "The boundary crosses itself; redraw it without crossing".to_owned()
            } else if several {
                format!("the parts of the boundary can\u{2019}t be used as one field: {text}")
            } else {
                format!("the boundary can\u{2019}t be used: {text}")
            }
        })?;
        let area = polygons.geodesic_area_unsigned();
        if area < SMALLEST_M2 {
            return Err(format!("The boundary encloses only {area:.1} m²; draw a larger area"));
        }
        if area > LARGEST_HA * 10_000.0 {
            return Err(format!("The boundary encloses {:.0} ha; the limit is {LARGEST_HA:.0} ha", area / 10_000.0));
        }
        Ok(Self(polygons))
    }

    /// Whether a setback along it is little enough work: in so many corners, with so many within a setback of each.
    fn check_setback(&self, setback: Length) -> Result<(), Refused> {
        let corners = self.0.coords_count() as f64;
        let around_part =
            |part: &Polygon| part.exterior().bounding_rect().map_or(0.0, |r| r.width() + r.height()) * 2.0;
        let around: f64 = self.0.iter().map(around_part).sum();
        // Degrees, in metres of a meridian: more than it is along a parallel, so that little is refused.
        let pairs = corners * corners * 2.0 * setback.base() / (around * 111_000.0).max(1.0);
        if pairs <= MOST_PAIRS {
            return Ok(());
        }
        let fewer = (corners * (MOST_PAIRS / pairs).sqrt()) as usize;
        let detail = said!(
            "A setback of {} cannot be drawn with {} corners; the limit is {} corners",
            setback,
            corners as usize,
            fewer
        );
        Err(Refused::one("/setback", detail))
    }

    /// Area on the ellipsoid.
    pub fn area(&self) -> Area {
        Area::new(self.0.geodesic_area_unsigned(), Unit::M2)
    }

    /// Longitude and latitude of the middle, degrees.
    pub fn middle(&self) -> (f64, f64) {
        self.0.centroid().map_or((0.0, 0.0), |point| (point.x(), point.y()))
    }

    /// What is left inside a setback along each part; empty when the setback takes all.
    pub fn inside(&self, setback: Length) -> MultiPolygon {
        let (lon, lat) = self.middle();
        // Metres per degree on the WGS 84 ellipsoid at this latitude.
        let (sin, e2) = (lat.to_radians().sin(), 0.006_694_379_990_14);
        let curvature = 1.0 - e2 * sin * sin;
        let per_lat = std::f64::consts::PI / 180.0 * 6_378_137.0 * (1.0 - e2) / curvature.powf(1.5);
        let per_lon = std::f64::consts::PI / 180.0 * 6_378_137.0 * lat.to_radians().cos() / curvature.sqrt();
        let plane = self.0.map_coords(|c| Coord { x: (c.x - lon) * per_lon, y: (c.y - lat) * per_lat });
        let inner = if setback.base() > 0.0 { plane.buffer(-setback.base()) } else { plane };
        inner.map_coords(|c| Coord { x: c.x / per_lon + lon, y: c.y / per_lat + lat })
    }
}

/// Area inside the boundary, and inside a setback along all of it.
///
/// # Errors
/// A setback that is negative or leaves nothing to sow.
pub fn areas(boundary: &Boundary, setback: Length) -> Result<Answer<FieldArea>, Refused> {
    set_back(boundary, setback).map(|(areas, _)| areas)
}

/// The same, and what lies inside the setback: drawing that takes longest, and it is drawn once.
///
/// # Errors
/// As [`areas`].
pub fn set_back(boundary: &Boundary, setback: Length) -> Result<(Answer<FieldArea>, MultiPolygon), Refused> {
    let mut checks = Checks::new();
    checks.within("/setback", "Setback", setback, Unit::M, 0.0, 500.0);
    checks.done()?;
    boundary.check_setback(setback)?;
    let mut sheet = Sheet::new("field area");
    sheet.source(Source::published(
        "Karney 2013, Algorithms for geodesics, Journal of Geodesy 87:43\u{2013}55: area on the WGS 84 ellipsoid",
    ));
    given!(sheet; area = boundary.area(), Origin::measured("the boundary"));
    given!(sheet; setback, Origin::Given);
    let inside = boundary.inside(setback);
    let left = inside.geodesic_area_unsigned().min(area.base());
    if inside.unsigned_area() <= 0.0 || left < SMALLEST_M2 {
        return Err(Refused::one("/setback", "The setback leaves no sown area; make it smaller"));
    }
    let sown_area = sheet.gathered("sown_area", "area inside the setback", Area::from_base(left));
    reckon!(sheet; set_back = area - sown_area);
    sheet.would_change("A boundary walked with a better receiver, or odd spots excluded.");
    Ok((sheet.answer(FieldArea { area, sown_area, set_back }), inside))
}

/// The polygon or polygons inside a geometry, a feature or a collection of one.
fn polygon_part(value: &serde_json::Value) -> Result<&serde_json::Value, String> {
    match value.get("type").and_then(|kind| kind.as_str()) {
        Some("Polygon" | "MultiPolygon") => Ok(value),
        Some("Feature") => polygon_part(value.get("geometry").ok_or("the GeoJSON feature has no geometry")?),
        Some("FeatureCollection") => match value.get("features").and_then(|all| all.as_array()).map(Vec::as_slice) {
            Some([one]) => polygon_part(one),
            Some(all) => Err(format!("the GeoJSON holds {} features; a field is one of them", all.len())),
            None => Err("the GeoJSON collection has no features".to_owned()),
        },
        Some(other) => Err(format!("a field\u{2019}s boundary is a GeoJSON Polygon or MultiPolygon, not a {other}")),
        None => Err("a field\u{2019}s boundary is a GeoJSON Polygon or MultiPolygon".to_owned()),
    }
}

/// Corners at which the boundary goes back the way it came.
fn sharp_corners(polygon: &Polygon) -> usize {
    let most = SHARP.to_radians().cos();
    let sharp_of = |ring: &LineString| {
        let corners = &ring.0[..ring.0.len().saturating_sub(1)];
        let at = |index: usize| corners[index % corners.len()];
        // On a plane stretched to the latitude, so that angles are those on the ground.
        let wide = corners.first().map_or(1.0, |corner| corner.y.to_radians().cos());
        let to = |from: Coord, to: Coord| ((to.x - from.x) * wide, to.y - from.y);
        let count = corners.len();
        (0..count)
            .filter(|index| {
                let (back, on) = (to(at(*index), at(index + count - 1)), to(at(*index), at(index + 1)));
                let lengths = back.0.hypot(back.1) * on.0.hypot(on.1);
                lengths > 0.0 && (back.0 * on.0 + back.1 * on.1) / lengths > most
            })
            .count()
    };
    std::iter::once(polygon.exterior()).chain(polygon.interiors()).map(sharp_of).sum()
}

/// Whether each part has rings, each ring corners on the globe, and all of them together few enough.
fn check_parts(geometry: &serde_json::Value) -> Result<(), String> {
    let Some(coordinates) = geometry.get("coordinates").and_then(|all| all.as_array()) else { return Ok(()) };
    let corners = match geometry.get("type").and_then(|kind| kind.as_str()) {
        Some("MultiPolygon") => {
            let parts: Vec<_> = coordinates.iter().filter_map(|part| part.as_array()).collect();
            if parts.is_empty() || parts.len() > MOST_PARTS {
                return Err(format!("a field has from one to {MOST_PARTS} parts, not {}", parts.len()));
            }
            parts.into_iter().try_fold(0, |corners, part| Ok::<_, String>(corners + check_rings(part)?))?
        }
        _ => check_rings(coordinates)?,
    };
    if corners > MOST_CORNERS {
        return Err(format!("The boundary has {corners} corners; the limit is {MOST_CORNERS}"));
    }
    Ok(())
}

/// How many corners the rings of a part have.
fn check_rings(rings: &[serde_json::Value]) -> Result<usize, String> {
    if rings.is_empty() || rings.iter().any(|ring| ring.as_array().is_none_or(Vec::is_empty)) {
        return Err("the polygon is empty".to_owned());
    }
    let mut corners = 0;
    for ring in rings.iter().filter_map(|ring| ring.as_array()) {
        corners += ring.len();
        if ring.len() < 4 {
            return Err("a ring needs at least three corners and must end at its first corner".to_owned());
        }
        if ring.first() != ring.last() {
            return Err("the ring is not closed: its last corner must be its first".to_owned());
        }
        for corner in ring {
            let at = |index: usize| corner.get(index).and_then(|number| number.as_f64());
            match (at(0), at(1)) {
                (Some(lon), Some(lat)) if lon.abs() <= 180.0 && lat.abs() <= 90.0 => {}
                (Some(lon), Some(lat)) => {
                    return Err(format!(
                        "{lon}, {lat} is not a valid position; give longitude first, then latitude, in degrees"
                    ));
                }
                _ => return Err("a corner is a longitude and a latitude".to_owned()),
            }
        }
    }
    Ok(corners)
}
