//! The day of the sowing and the first years through the API: lots grow less, what is too soon is asked about, a count is
//! judged, a drill remembers, and varieties are ranked by their trials.

use actix_web::http::StatusCode;
use serde_json::{Value, json};
use uuid::Uuid;

use crate::common::{Answer, Site, farm, of};

const HOLLOW: &str = "fennick-hollow";

async fn mara() -> Site {
    Site::demo().await.signed_in_as("mara@fennick.example").await
}

async fn tell(site: &Site, about: &[(&str, Uuid)], on: &str, payload: &Value, confirmed: bool) -> Answer {
    let about: Vec<Value> = about.iter().map(|(kind, id)| json!({"kind": kind, "id": id})).collect();
    let mut entry = json!({"id": Uuid::now_v7(), "about": about, "occurred_on": on, "payload": payload});
    if confirmed {
        entry["confirmed"] = json!(true);
    }
    site.post(&format!("{}/entries", farm(HOLLOW)), entry).await
}

async fn lot(site: &Site, label: &str) -> Value {
    let lots = site.get(&format!("{}/lots", farm(HOLLOW))).await.ok();
    lots["lots"].as_array().unwrap().iter().find(|lot| lot["label"] == label).unwrap().clone()
}

fn long_acre() -> [(&'static str, Uuid); 2] {
    [("field", of(HOLLOW, "Long Acre")), ("stand", of(HOLLOW, "Long Acre 2025-08-12"))]
}

#[actix_web::test]
async fn a_lot_is_less_by_what_was_sown_and_more_than_is_left_is_asked_about() {
    let site = mara().await;
    let id: Uuid = serde_json::from_value(lot(&site, "NL-204").await["id"].clone()).unwrap();
    let [field, stand] = long_acre();
    let about = [field, stand, ("lot", id)];
    let sown = |lb: f64| json!({"kind": "seed-sown", "area": {"value": 10, "unit": "ac"}, "mass": {"value": lb, "unit": "lb"}});
    tell(&site, &about, "2026-05-12", &sown(250.0), false).await.ok();
    let left = lot(&site, "NL-204").await;
    assert!((left["on_hand"]["value"].as_f64().unwrap() - 150.0).abs() < 1e-6, "{left}");
    assert!((left["sown"]["value"].as_f64().unwrap() - 250.0).abs() < 1e-6, "{left}");
    // Alfalfa three inches deep is another unit, or another crop.
    let mut deep = sown(20.0);
    deep["depth"] = json!({"value": 3, "unit": "in"});
    let asked = tell(&site, &about, "2026-05-13", &deep, false).await;
    assert!(asked.at("/payload/depth").contains("Depth is 3 in; alfalfa is sown at most 1 in deep"), "{}", asked.body);
    let asked = tell(&site, &about, "2026-05-13", &sown(200.0), false).await;
    assert_eq!(asked.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(asked.body["type"], "/problems/unusual");
    assert!(asked.at("/payload/mass").contains("150 lb of this lot is left"), "{}", asked.body);
    tell(&site, &about, "2026-05-13", &sown(200.0), true).await.ok();
    assert_eq!(lot(&site, "NL-204").await["on_hand"]["value"], 0.0);
    // A mass that is a slip of the unit is refused, not asked about.
    let slip = json!({"kind": "seed-sown", "area": {"value": 0.1, "unit": "ac"}, "mass": {"value": 5, "unit": "ton"}});
    assert_eq!(tell(&site, &about, "2026-05-13", &slip, true).await.status, StatusCode::UNPROCESSABLE_ENTITY);
}

/// Of two who ink more of a lot at once than it holds the second is asked; what comes again is by whoever wrote it.
#[actix_web::test]
async fn two_who_sow_of_one_lot_at_once_are_not_both_believed() {
    let site = mara().await;
    let tobias = site.signed_out().signed_in_as("tobias@fennick.example").await;
    let id: Uuid = serde_json::from_value(lot(&site, "NL-204").await["id"].clone()).unwrap();
    let [field, stand] = long_acre();
    let entry = |lb: f64| {
        let about: Vec<Value> =
            [field, stand, ("lot", id)].iter().map(|(kind, id)| json!({"kind": kind, "id": id})).collect();
        json!({"id": Uuid::now_v7(), "about": about, "occurred_on": "2026-05-12", "payload":
            {"kind": "seed-sown", "area": {"value": 10, "unit": "ac"}, "mass": {"value": lb, "unit": "lb"}}})
    };
    let path = format!("{}/entries", farm(HOLLOW));
    let (one, other) = (entry(250.0), entry(251.0));
    let both = futures_util::future::join(site.post(&path, one.clone()), tobias.post(&path, other.clone())).await;
    let mut statuses = [both.0.status, both.1.status];
    statuses.sort();
    assert_eq!(statuses, [StatusCode::OK, StatusCode::UNPROCESSABLE_ENTITY]);
    let (writer, again, written) = match both.0.status {
        StatusCode::OK => ("Mara Fennick", &tobias, one),
        _ => ("Tobias Quill", &site, other),
    };
    assert_eq!(again.post(&path, written).await.ok()["recorded_by_name"], writer);
}

#[actix_web::test]
async fn a_first_cut_too_soon_is_asked_about() {
    let site = mara().await;
    let [field, _] = long_acre();
    let cut = json!({"kind": "cut", "cut": {"crop": "alfalfa", "harvested": {"value": 1, "unit": "ton/ac"}, "moisture": {"value": 15, "unit": "%"}}});
    // Sown in August: left alone until spring.
    let asked = tell(&site, &[field], "2025-10-20", &cut, false).await;
    assert_eq!(asked.body["type"], "/problems/unusual", "{}", asked.body);
    assert!(asked.at("/occurred_on").contains("Rest until spring"), "{}", asked.body);
    tell(&site, &[field], "2025-10-20", &cut, true).await.ok();
    tell(&site, &[field], "2026-05-13", &cut, false).await.ok();
}

#[actix_web::test]
async fn nitrogen_on_young_natives_is_asked_about_and_other_nutrients_are_not() {
    let site = mara().await;
    let orchard = [("field", of(HOLLOW, "Orchard Slope"))];
    let spread = |analysis: Value| {
        let rate = json!({"value": 100, "unit": "lb/ac"});
        json!({"kind": "dressing", "dressing": {"what": "fertiliser", "product": "a bag", "rate": rate, "analysis": analysis}})
    };
    let share = |value: f64| json!({"value": value, "unit": "%"});
    let urea = spread(json!({"n": share(46.0)}));
    let asked = tell(&site, &orchard, "2026-05-13", &urea, false).await;
    assert_eq!(asked.body["type"], "/problems/unusual", "{}", asked.body);
    assert!(asked.at("/occurred_on").contains("Was nitrogen spread on"), "{}", asked.body);
    tell(&site, &orchard, "2026-05-13", &spread(json!({"k2o": share(60.0), "n": share(0.0)})), false).await.ok();
    // Before it was sown, and on alfalfa in its second year, nobody minds.
    tell(&site, &orchard, "2026-05-01", &urea, false).await.ok();
    tell(&site, &[long_acre()[0]], "2026-05-13", &urea, false).await.ok();
    tell(&site, &orchard, "2026-05-13", &urea, true).await.ok();
}

/// Of points on the crop nobody has told how much is enough: who counts may, and what mending costs; the field's page
/// holds the count against it.
#[actix_web::test]
async fn who_counts_may_say_how_much_is_enough_and_what_mending_costs() {
    let site = mara().await;
    let about = long_acre();
    let count = |more: Value| {
        let mut all = json!({"kind": "stand-count", "crop": "alfalfa",
            "counted": {"by": "points", "points": 50, "hits": [30, 35, 28, 40, 33, 36]}});
        all.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
        all
    };
    let judged = async || {
        let path = format!("{}/stands/{}", farm(HOLLOW), about[1].1);
        site.get(&path).await.ok()["implied"]["young"]["counted"].clone()
    };
    tell(&site, &about, "2026-05-12", &count(json!({})), false).await.ok();
    assert!(judged().await["untold"].as_str().unwrap().contains("No target is known"), "{}", judged().await);
    let percent = |value: f64| json!({"value": value, "unit": "%"});
    let money =
        json!({"start_over": {"value": 320, "unit": "money/ac"}, "dry_matter": {"value": 150, "unit": "money/ton"}});
    let told = count(json!({"full": percent(80.0), "thin": percent(50.0), "prices": money}));
    tell(&site, &about, "2026-05-13", &told, false).await.ok();
    let decision = judged().await["decision"]["value"].clone();
    assert_eq!(decision["full"]["value"], 80.0, "{decision}");
    let over = decision["ways"].as_array().unwrap().iter().find(|way| way["way"] == "start-over").unwrap().clone();
    assert!((over["cost"]["value"].as_f64().unwrap() - 320.0).abs() < 1e-6 && over["left"].is_object(), "{over}");
    for (slip, pointer) in [
        (json!({"full": {"value": 5, "unit": "/ft2"}}), "/payload/full"),
        (json!({"thin": percent(-5.0)}), "/payload/thin"),
        (json!({"prices": {"thicken": {"value": -1, "unit": "money/ac"}}}), "/payload/prices/thicken"),
        (json!({"prices": {"dry_matter": {"value": 1e9, "unit": "money/ton"}}}), "/payload/prices/dry_matter"),
    ] {
        let refused = tell(&site, &about, "2026-05-14", &count(slip), false).await;
        assert!(!refused.at(pointer).is_empty(), "{pointer}: {}", refused.body);
    }
}

/// Over seedlings whose leaves nobody counted a spray is asked about; three leaves seen, it is not; a label of another
/// day neither.
#[actix_web::test]
async fn a_spray_over_seedlings_is_asked_about_until_they_have_leaves() {
    let site = mara().await;
    let about = [("field", of(HOLLOW, "Upper Larkin")), ("stand", of(HOLLOW, "Upper Larkin 2026-08-12"))];
    tell(&site, &about, "2026-04-10", &json!({"kind": "step", "operation": "sow"}), true).await.ok();
    let spray = json!({"kind": "spray", "active": "a broadleaf spray"});
    let asked = tell(&site, &about[..1], "2026-05-10", &spray, false).await;
    assert_eq!(asked.body["type"], "/problems/unusual", "{}", asked.body);
    assert!(asked.at("/occurred_on").contains("Was it sprayed on"), "{}", asked.body);
    // Before it was sown, weeds alone stood there.
    tell(&site, &about[..1], "2026-04-08", &spray, false).await.ok();
    let look = |leaves: f64| json!({"kind": "stand-look", "leaves": leaves});
    tell(&site, &about, "2026-05-09", &look(2.0), false).await.ok();
    assert_eq!(tell(&site, &about[..1], "2026-05-10", &spray, false).await.body["type"], "/problems/unusual");
    tell(&site, &about, "2026-05-10", &look(3.0), false).await.ok();
    tell(&site, &about[..1], "2026-05-10", &spray, false).await.ok();
    assert!(
        tell(&site, &about, "2026-05-10", &look(31.0), false)
            .await
            .at("/payload/leaves")
            .contains("leaves; enter 0–30")
    );
}

#[actix_web::test]
async fn the_rest_of_a_sowing_is_told_by_the_years() {
    let site = mara().await;
    let rest = |stand: &'static str, query: &str| format!("{}/stands/{}/rest{query}", farm(HOLLOW), of(HOLLOW, stand));
    let told = site.get(&rest("Orchard Slope 2026-05-08", "?hours=24")).await.ok();
    assert_eq!(told["rest"]["fit_days"], 3, "{told}");
    assert_eq!(told["rest"]["days"].as_array().unwrap().len(), 7);
    assert_eq!(told["rest"]["days"][0]["on"], "2026-05-14");
    assert!(told["rest"]["done_by"][1].as_str().unwrap() >= "2026-05-16", "{told}");
    assert!(told["rest"]["odds_today"]["value"].as_f64().unwrap() > 0.0, "{told}");
    // A day's work where nothing is said; no more than can be sown in a season.
    assert_eq!(site.get(&rest("Orchard Slope 2026-05-08", "")).await.ok()["rest"]["fit_days"], 1);
    for slip in ["-1", "501", "1e999", "NaN"] {
        let refused = site.get(&rest("Orchard Slope 2026-05-08", &format!("?hours={slip}"))).await;
        assert!(refused.status.is_client_error(), "{slip}: {}", refused.body);
    }
}

#[actix_web::test]
async fn what_was_inked_before_is_asked_about() {
    let site = mara().await;
    let [field, stand] = long_acre();
    let count = |counts: Value| {
        json!({"kind": "stand-count", "crop": "alfalfa", "stems": true,
            "counted": {"by": "frame", "frame": {"value": 1, "unit": "ft2"}, "counts": counts}})
    };
    let first = count(json!([41, 38, 55]));
    tell(&site, &[field, stand], "2026-05-13", &first, false).await.ok();
    let asked = tell(&site, &[field, stand], "2026-05-13", &first, false).await;
    assert_eq!(asked.body["type"], "/problems/unusual", "{}", asked.body);
    assert!(asked.at("/payload/counted").contains("The same count is already recorded for"), "{}", asked.body);
    // Another count, or the same figures on another day, are not.
    tell(&site, &[field, stand], "2026-05-13", &count(json!([41, 38, 54])), false).await.ok();
    tell(&site, &[field, stand], "2026-05-14", &first, false).await.ok();
    tell(&site, &[field, stand], "2026-05-13", &first, true).await.ok();

    let id = |label: &'static str| {
        let site = &site;
        async move { serde_json::from_value::<Uuid>(lot(site, label).await["id"].clone()).unwrap() }
    };
    let (bag, other) = (id("NL-204").await, id("CR-771").await);
    let sown = |value: f64, unit: &str| json!({"kind": "seed-sown", "area": {"value": 4, "unit": "ac"}, "mass": {"value": value, "unit": unit}});
    let write = async |lot: Uuid, on: &str, payload: &Value| {
        tell(&site, &[field, stand, ("lot", lot)], on, payload, false).await
    };
    write(bag, "2026-05-12", &sown(60.0, "lb")).await.ok();
    let asked = write(bag, "2026-05-12", &sown(60.0 * 0.453_592_37, "kg")).await;
    assert!(asked.at("/payload/mass").contains("already"), "{}", asked.body);
    write(other, "2026-05-12", &sown(60.0, "lb")).await.ok();
    write(bag, "2026-05-12", &sown(61.0, "lb")).await.ok();
    write(bag, "2026-05-13", &sown(60.0, "lb")).await.ok();
}

#[actix_web::test]
async fn a_count_is_judged_on_the_stands_page() {
    let site = mara().await;
    let page = format!("{}/stands/{}", farm(HOLLOW), of(HOLLOW, "Heron Bottom 2024-04-26"));
    let young = async || site.get(&page).await.ok()["implied"]["young"].clone();
    assert!(young().await.is_null(), "two years on, and never counted by places");
    let counted = json!({"kind": "stand-count", "crop": "alfalfa", "counted": {"by": "frame", "frame": {"value": 1, "unit": "ft2"},
        "counts": [1, 2, 1, 2, 2, 1, 2]}});
    let about = [("field", of(HOLLOW, "Heron Bottom")), ("stand", of(HOLLOW, "Heron Bottom 2024-04-26"))];
    tell(&site, &about, "2026-05-13", &counted, false).await.ok();
    let told = young().await;
    assert_eq!(told["counted"]["decision"]["value"]["advised"], "start-over", "{told}");
    assert!(told["coming"].as_array().unwrap().is_empty());
    // Of chicory nobody has told how many plants are enough: it says so, and the page stands.
    let mut other = counted.clone();
    other["crop"] = json!("chicory");
    tell(&site, &about, "2026-05-14", &other, false).await.ok();
    let told = young().await;
    assert!(told["counted"]["untold"].as_str().unwrap().contains("frequency grid"), "{told}");
    // 30 of 25 cells.
    let slip = json!({"kind": "stand-count", "crop": "alfalfa", "counted": {"by": "grid", "cells": 25, "hits": [30]}});
    let refused = tell(&site, &about, "2026-05-14", &slip, false).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.at("/payload/counted/hits/0").contains("enter 0–25"), "{}", refused.body);
}

/// A wet spot and what is set out on a field: kept, shown on its ground, asked about twice, refused beyond bounds.
#[actix_web::test]
async fn odd_spots_and_plants_that_were_set() {
    let site = mara().await;
    let barn = [("field", of(HOLLOW, "Barn Lot")), ("stand", of(HOLLOW, "Barn Lot 2026-05-20"))];
    let spot = |radius: f64, latitude: f64| {
        json!({"kind": "odd-spot", "odd": "wet", "at": {"longitude": -76.49, "latitude": latitude},
            "radius": {"value": radius, "unit": "ft"}})
    };
    tell(&site, &barn[..1], "2026-05-13", &spot(40.0, 42.5), false).await.ok();
    let ground = site.get(&format!("{}/fields/{}/ground", farm(HOLLOW), barn[0].1)).await.ok();
    assert_eq!(ground["ground"]["odd"][0]["what"]["odd"], "wet", "{}", ground["ground"]);
    assert!(
        tell(&site, &barn[..1], "2026-05-13", &spot(9_000.0, 42.5), false).await.at("/payload/radius").contains("ft")
    );
    assert!(
        tell(&site, &barn[..1], "2026-05-13", &spot(40.0, 142.5), false).await.at("/payload/at").contains("not valid")
    );
    // What is something else has to be said.
    let other = json!({"kind": "odd-spot", "odd": "other"});
    assert!(!tell(&site, &barn[..1], "2026-05-13", &other, false).await.at("/payload/note").is_empty());

    let set = |pieces: f64| json!({"kind": "plants-set", "area": {"value": 1, "unit": "ac"}, "set": pieces, "moisture": "drying"});
    tell(&site, &barn, "2026-05-14", &set(7_000.0), false).await.ok();
    let asked = tell(&site, &barn, "2026-05-14", &set(7_000.0), false).await;
    assert!(asked.at("/payload/set").contains("second planting"), "{}", asked.body);
    tell(&site, &barn, "2026-05-14", &set(6_500.0), false).await.ok();
    tell(&site, &barn, "2026-05-14", &set(7_000.0), true).await.ok();
    assert!(!tell(&site, &barn, "2026-05-14", &set(0.0), false).await.at("/payload/set").is_empty());
}

/// Fifty stems by 4 places of a square foot here, and the counts of other stands of the farm.
#[actix_web::test]
async fn counts_are_held_beside_one_another() {
    let site = mara().await;
    let counted = json!({"kind": "stand-count", "crop": "alfalfa", "stems": true,
        "counted": {"by": "frame", "frame": {"value": 1, "unit": "ft2"}, "counts": [48, 52, 50, 50]}});
    tell(&site, &long_acre(), "2026-05-13", &counted, false).await.ok();
    let heron = [("field", of(HOLLOW, "Heron Bottom")), ("stand", of(HOLLOW, "Heron Bottom 2024-04-26"))];
    tell(&site, &heron, "2026-05-14", &counted, false).await.ok();
    let told = site.get(&format!("{}/counts", farm(HOLLOW))).await.ok();
    let counts = told["counts"].as_array().unwrap();
    let of_field = |name: &str| counts.iter().find(|one| one["field_name"] == name).unwrap();
    assert_eq!(counts[0]["field_name"], "Heron Bottom", "the newest first");
    let long_acre = of_field("Long Acre");
    assert!((long_acre["mean"]["value"].as_f64().unwrap() - 50.0).abs() < 1e-9, "{long_acre}");
    assert_eq!(long_acre["places"], 4);
    assert_eq!(long_acre["stems"], true);
    // Sown on 14 August 2025, 272 days before.
    assert_eq!(long_acre["age"], 272);
}

#[actix_web::test]
async fn a_drill_remembers_what_its_settings_came_to() {
    let site = mara().await;
    let drill = Uuid::now_v7();
    let told = json!({"kind": "machine", "name": "Red drill", "machine": "drill"});
    tell(&site, &[("machine", drill)], "2026-05-10", &told, false).await.ok();
    let [field, stand] = long_acre();
    let set = |setting: f64, rate: f64| json!({"kind": "drill-set", "crop": "alfalfa", "setting": setting, "rate": {"value": rate, "unit": "lb/ac"}});
    for (day, setting, rate) in [("2026-05-11", 20.0, 15.0), ("2026-05-12", 24.0, 18.0)] {
        tell(&site, &[field, stand, ("machine", drill)], day, &set(setting, rate), false).await.ok();
    }
    let seen = site.get(&format!("{}/machines", farm(HOLLOW))).await.ok();
    let catches = seen["machines"][0]["catches"].as_array().unwrap();
    // Newest first, as it was read.
    assert_eq!(catches.len(), 2);
    assert_eq!(catches[0]["catch"]["setting"], 24.0);
    assert!((catches[1]["catch"]["rate"]["value"].as_f64().unwrap() - 15.0).abs() < 1e-6);
}

#[actix_web::test]
async fn varieties_are_ranked_by_this_farms_winter_and_by_trials() {
    let site = mara().await;
    let page = format!("{}/varieties?crop=alfalfa", farm(HOLLOW));
    let kinds = site.get(&page).await.ok();
    let fits: Vec<&str> = kinds["told"]["value"]["kinds"]
        .as_array()
        .unwrap()
        .iter()
        .filter(|kind| kind["fit"] == "fits")
        .map(|kind| kind["key"].as_str().unwrap())
        .collect();
    assert!(fits.contains(&"dormant") && !fits.contains(&"non-dormant"), "{fits:?}");
    let (ours, tender) = (Uuid::now_v7(), Uuid::now_v7());
    let variety =
        |name: &str, dormancy: f64| json!({"kind": "variety", "name": name, "crop": "alfalfa", "dormancy": dormancy});
    tell(&site, &[("variety", tender)], "2026-05-01", &variety("Tender", 9.0), false).await.ok();
    tell(&site, &[("variety", ours)], "2026-05-01", &variety("Ridge", 4.0), false).await.ok();
    let trial = |share: f64| json!({"kind": "variety-trial", "yield": {"value": 5.0 * share, "unit": "ton/ac"}, "mean": {"value": 5, "unit": "ton/ac"}, "place": "our strips"});
    for year in ["2024-09-01", "2025-09-01"] {
        tell(&site, &[("variety", ours)], year, &trial(1.1), false).await.ok();
        tell(&site, &[("variety", tender)], year, &trial(1.3), false).await.ok();
    }
    let told = site.get(&page).await.ok();
    let ranked = told["told"]["value"]["own"].as_array().unwrap();
    assert_eq!(ranked[0]["name"], "Ridge");
    assert!((ranked[0]["standing"]["expected"]["value"].as_f64().unwrap() - 105.0).abs() < 1e-9);
    // It yields more, and winter takes it.
    assert_eq!((ranked[1]["name"].as_str(), ranked[1]["fit"].as_str()), (Some("Tender"), Some("unfit")));
    // Another farm knows nothing of them.
    let south = site.signed_out().signed_in_as("joaquin@ceibo.example").await;
    let own = south.get(&format!("{}/varieties?crop=alfalfa", farm("chacra-del-ceibo"))).await.ok();
    assert!(own["own"].as_array().unwrap().is_empty());
    assert_eq!(south.get(&page).await.status, StatusCode::NOT_FOUND);
    // Of a crop without kinds nothing is told, and nothing is wrong.
    assert!(site.get(&format!("{}/varieties?crop=timothy", farm(HOLLOW))).await.ok()["told"].is_null());
}
