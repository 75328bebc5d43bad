//! Bad input is refused with a sentence at the field.

use agronomy::{
    field::{Boundary, areas},
    mix, plants,
    refusal::Refused,
    seed,
    units::{Length, Unit},
};
use rstest::rstest;
use serde_json::{Value, json};

fn refused(topic: &str, request: Value) -> Refused {
    let outcome = match topic {
        "seed.pls" => seed::pls(&serde_json::from_value(request).unwrap()).map(drop),
        "seed.rate" => seed::rate(&serde_json::from_value(request).unwrap()).map(drop),
        "seed.order" => seed::order(&serde_json::from_value(request).unwrap()).map(drop),
        "seed.compare" => seed::compare(&serde_json::from_value(request).unwrap()).map(drop),
        "mix.rates" => mix::rates(&serde_json::from_value(request).unwrap()).map(drop),
        "plants.count" => plants::count(&serde_json::from_value(request).unwrap()).map(drop),
        other => panic!("{other}"),
    };
    outcome.expect_err("was taken")
}

fn tag(purity: f64, germination: f64, dormant: f64) -> Value {
    let percent = |value: f64| json!({"value": value, "unit": "%"});
    json!({"purity": percent(purity), "germination": percent(germination), "dormant": percent(dormant)})
}

fn rate(value: f64) -> Value {
    json!({"value": value, "unit": "lb/ac"})
}

#[rstest]
#[case("seed.pls", json!({"tag": tag(98.0, 130.0, 0.0)}), "/tag/germination", "130%")]
#[case("seed.pls", json!({"tag": tag(0.0, 90.0, 0.0)}), "/tag/purity", "more than zero")]
#[case("seed.pls", json!({"tag": tag(98.0, 70.0, 40.0)}), "/tag/dormant", "100%")]
#[case("seed.pls", json!({"tag": tag(98.0, 0.0, 0.0)}), "/tag/germination", "both 0%")]
#[case("seed.pls", json!({"tag": tag(98.0, 0.0, 50.0), "dormant_seed": "left-out"}), "/tag/germination", "nothing is live")]
#[case("seed.rate", json!({"crop": "moon-grass", "target": {"by": "chart"}, "tag": tag(98.0, 90.0, 0.0)}), "/crop", "moon-grass")]
#[case("seed.rate", json!({"crop": "giant-miscanthus", "target": {"by": "chart"}, "tag": tag(98.0, 90.0, 0.0)}), "/crop", "planted, not sown")]
#[case("seed.rate", json!({"crop": "alfalfa", "target": {"by": "pls-mass", "rate": rate(-3.0)}, "tag": tag(98.0, 90.0, 0.0)}), "/target/rate", "more than zero")]
#[case("seed.order", json!({"sown_area": {"value": 0, "unit": "ha"}, "members": []}), "/sown_area", "more than zero")]
#[case("seed.order", json!({"sown_area": {"value": 2, "unit": "ha"}, "members": []}), "/members", "nothing to order")]
#[case("seed.compare", json!({"crop": "alfalfa", "pls_rate": rate(18.0), "lots": []}), "/lots", "add a lot")]
#[case("mix.rates", json!({"by": "mass", "members": []}), "/members", "at least one")]
#[case("mix.rates", json!({"by": "live-seeds", "members": [
    {"crop": "alfalfa", "share": {"value": 60, "unit": "%"}}, {"crop": "timothy", "share": {"value": 30, "unit": "%"}}]}),
    "/members", "90.0%")]
#[case("mix.rates", json!({"by": "mass", "members": [{"crop": "alfalfa", "rate": rate(9.0)}, {"crop": "alfalfa", "rate": rate(9.0)}]}), "/members/1/crop", "twice")]
#[case("mix.rates", json!({"by": "full-rate", "members": [{"crop": "alfalfa"}]}), "/members/0/share", "enter a share")]
#[case("plants.count", json!({"area": {"value": 1, "unit": "ac"}}), "/row_spacing", "row spacing")]
#[case("plants.count", json!({"crop": "alfalfa", "area": {"value": 1, "unit": "ac"}}), "/crop", "seed")]
#[case("plants.count", json!({"crop": "giant-miscanthus", "area": {"value": 1, "unit": "ac"}, "survival": {"value": 140, "unit": "%"}}), "/survival", "140%")]
fn names_the_field_and_the_bound(
    #[case] topic: &str,
    #[case] request: Value,
    #[case] pointer: &str,
    #[case] said: &str,
) {
    let refused = refused(topic, request);
    let found = refused.0.iter().any(|refusal| refusal.pointer == pointer && refusal.detail.contains(said));
    assert!(found, "{refused:?}");
}

#[test]
fn a_negative_price_is_refused() {
    let mut tag = tag(98.0, 90.0, 0.0);
    tag["price"] = json!({"value": -5, "unit": "money"});
    let refused = refused("seed.pls", json!({"tag": tag}));
    assert_eq!(refused.0[0].pointer, "/tag/price");
}

#[test]
fn an_unusual_rate_is_not_refused_but_asks() {
    let taken = |lb: f64| {
        let request = json!({"by": "mass", "members": [{"crop": "alfalfa", "rate": rate(lb)}]});
        mix::rates(&serde_json::from_value(request).unwrap()).unwrap().value.unusual
    };
    assert!(taken(24.0).is_empty());
    assert_eq!(taken(240.0)[0].pointer, "/members/0");
}

fn ring(corners: &[(f64, f64)]) -> Value {
    json!({"type": "Polygon", "coordinates": [corners.iter().map(|(lon, lat)| vec![lon, lat]).collect::<Vec<_>>()]})
}

#[rstest]
#[case(ring(&[(-76.5, 42.5), (-76.49, 42.51), (-76.49, 42.5), (-76.5, 42.51), (-76.5, 42.5)]), "crosses itself")]
#[case(ring(&[(-76.5, 42.5), (-76.5, 42.5), (-76.5, 42.5), (-76.5, 42.5)]), "boundary")]
#[case(ring(&[(-76.5, 42.5), (-76.49, 42.5), (-76.49, 42.51)]), "three corners")]
#[case(ring(&[(-76.5, 42.5), (-76.49, 42.5), (-76.49, 42.51), (-76.5, 42.52)]), "not closed")]
#[case(ring(&[(179.99, -17.5), (-179.99, -17.5), (-179.99, -17.49), (179.99, -17.49), (179.99, -17.5)]), "180th meridian")]
#[case(ring(&[(42.5, -176.5), (42.6, -176.5), (42.6, -176.4), (42.5, -176.5)]), "not a valid position")]
#[case(ring(&[(0.0, 0.0), (60.0, 0.0), (60.0, 60.0), (0.0, 0.0)]), "the limit is 20000 ha")]
#[case(json!({"type": "Polygon", "coordinates": []}), "empty")]
#[case(json!({"type": "Point", "coordinates": [0, 0]}), "not a Point")]
#[case(json!({"type": "FeatureCollection", "features": []}), "0 features")]
#[case(json!("field"), "Polygon")]
fn a_boundary_that_is_none(#[case] boundary: Value, #[case] said: &str) {
    let refused = Boundary::from_geojson(&boundary).unwrap_err();
    assert_eq!(refused.0[0].pointer, "/boundary");
    assert!(refused.0[0].detail.contains(said), "{refused}");
}

/// A degree of latitude is 110.574 km at the equator and a degree of longitude 111.320 km (WGS 84,
/// any geodesy table): a hundredth of a degree square there is 1.2309 km².
#[test]
fn geodesic_area_and_setback() {
    let boundary =
        Boundary::from_geojson(&ring(&[(0.0, 0.0), (0.01, 0.0), (0.01, 0.01), (0.0, 0.01), (0.0, 0.0)])).unwrap();
    assert!((boundary.area().to(Unit::Ha) - 123.09).abs() < 0.01, "{}", boundary.area().to(Unit::Ha));
    let sizes = areas(&boundary, Length::new(100.0, Unit::M)).unwrap().value;
    // Inside a 100 m setback the rectangle is 200 m shorter each way.
    let expected = (1_113.20 - 200.0) * (1_105.74 - 200.0) / 10_000.0;
    assert!((sizes.sown_area.to(Unit::Ha) - expected).abs() < 0.05, "{}", sizes.sown_area.to(Unit::Ha));
    let refused = areas(&boundary, Length::new(499.0, Unit::M)).map(|answer| answer.value.sown_area.to(Unit::Ha));
    assert!(refused.is_ok());
    let small = Boundary::from_geojson(&ring(&[(0.0, 0.0), (0.0005, 0.0), (0.0005, 0.0005), (0.0, 0.0)])).unwrap();
    assert_eq!(areas(&small, Length::new(60.0, Unit::M)).unwrap_err().0[0].pointer, "/setback");
}

fn parts(rings: &[&[(f64, f64)]]) -> Value {
    let coordinates: Vec<Value> = rings.iter().map(|part| ring(part)["coordinates"].clone()).collect();
    json!({"type": "MultiPolygon", "coordinates": coordinates})
}

/// A hundredth of a degree square west of `lon`, south-west corner at the equator.
fn square(lon: f64) -> [(f64, f64); 5] {
    [(lon, 0.0), (lon + 0.01, 0.0), (lon + 0.01, 0.01), (lon, 0.01), (lon, 0.0)]
}

/// A field on both sides of a road is one field: as large as its parts, with a setback along each.
#[test]
fn a_field_of_parts_is_as_large_as_they_are() {
    let sizes =
        |boundary: Value| areas(&Boundary::from_geojson(&boundary).unwrap(), Length::new(50.0, Unit::M)).unwrap();
    let one = sizes(ring(&square(0.0))).value;
    let two = sizes(parts(&[&square(0.0), &square(0.02)])).value;
    assert!((two.area.to(Unit::Ha) - 2.0 * one.area.to(Unit::Ha)).abs() < 1e-6);
    assert!((two.sown_area.to(Unit::Ha) - 2.0 * one.sown_area.to(Unit::Ha)).abs() < 1e-3);
}

#[rstest]
#[case::none(parts(&[]), "from one to 100 parts")]
#[case::over_one_another(parts(&[&square(0.0), &square(0.005)]), "as one field")]
#[case::twice(parts(&[&square(0.0), &square(0.0)]), "as one field")]
#[case::a_part_that_is_none(json!({"type": "MultiPolygon", "coordinates": [[]]}), "empty")]
#[case::not_closed(parts(&[&square(0.0), &[(1.0, 1.0), (1.1, 1.0), (1.1, 1.1), (1.0, 1.1)]]), "not closed")]
#[case::too_many(parts(&[&square(0.0)[..]; 101]), "not 101")]
fn parts_that_are_no_field(#[case] boundary: Value, #[case] said: &str) {
    let refused = Boundary::from_geojson(&boundary).unwrap_err();
    assert!(refused.0[0].detail.contains(said), "{refused}");
}

/// Corners around a middle, by turns near and far from it.
fn around(corners: usize, near: f64, far: f64) -> Value {
    let mut all: Vec<(f64, f64)> = (0..corners)
        .map(|index| {
            let turn = index as f64 / corners as f64 * std::f64::consts::TAU;
            let reach = if index % 2 == 0 { near } else { far };
            (-76.5 + reach * turn.cos(), 42.5 + reach * turn.sin())
        })
        .collect();
    all.push(all[0]);
    ring(&all)
}

/// Which way round a boundary is walked is not what it encloses (RFC 7946, section 3.1.6: parsers should take both).
#[test]
fn a_boundary_walked_either_way_is_one_field() {
    let there = [(-76.5, 42.5), (-76.49, 42.5), (-76.49, 42.51), (-76.5, 42.51), (-76.5, 42.5)];
    let mut back = there;
    back.reverse();
    let sizes = |corners: &[(f64, f64)]| {
        let boundary = Boundary::from_geojson(&ring(corners)).unwrap();
        let sizes = areas(&boundary, Length::new(10.0, Unit::M)).unwrap().value;
        (sizes.area.to(Unit::Ha), sizes.sown_area.to(Unit::Ha))
    };
    let (one, other) = (sizes(&there), sizes(&back));
    assert!((one.0 - other.0).abs() < 1e-9 && (one.1 - other.1).abs() < 1e-6, "{one:?} {other:?}");
    assert!((one.0 - 91.2).abs() < 0.5 && one.1 < one.0, "{one:?}");
}

/// What would take minutes to draw is refused by its corners at once, and what a receiver walks is taken.
#[test]
fn a_boundary_of_many_corners_is_drawn_or_refused() {
    let star = Boundary::from_geojson(&around(2_000, 0.001, 0.003)).unwrap_err();
    assert!(star.to_string().starts_with("/boundary: The boundary doubles back at 2000 corners"), "{star}");
    let many = Boundary::from_geojson(&around(12_000, 0.003, 0.003)).unwrap_err();
    assert!(many.to_string().contains("12001 corners; the limit is 10000"), "{many}");
    let ragged = Boundary::from_geojson(&around(4_000, 0.00295, 0.003)).unwrap();
    let refused = areas(&ragged, Length::new(300.0, Unit::M)).unwrap_err();
    assert!(
        refused.to_string().starts_with("/setback: A setback of 300 m cannot be drawn with 4001 corners"),
        "{refused}"
    );
    let walked = areas(&ragged, Length::new(5.0, Unit::M)).unwrap().value;
    assert!(walked.sown_area < walked.area);
}
