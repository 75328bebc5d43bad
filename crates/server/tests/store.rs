//! Machines, products and prices: written down once, and used where a list of ordinary ones stood before.

use actix_web::http::StatusCode;
use rstest::rstest;
use serde_json::{Value, json};
use uuid::Uuid;

use crate::common::{Answer, Site, farm};

const HOLLOW: &str = "fennick-hollow";

async fn mara() -> Site {
    Site::demo().await.signed_in_as("mara@fennick.example").await
}

async fn tell(site: &Site, kind: &str, id: Uuid, on: &str, payload: Value) -> Answer {
    let entry =
        json!({"id": Uuid::now_v7(), "about": [{"kind": kind, "id": id}], "occurred_on": on, "payload": payload});
    site.post(&format!("{}/entries", farm(HOLLOW)), entry).await
}

fn percent(value: f64) -> Value {
    json!({"value": value, "unit": "%"})
}

fn urea() -> Value {
    json!({"kind": "product", "name": "urea from the yard", "nature": {"is": "fertiliser", "analysis": {"n": percent(46.0)}},
        "package": {"value": 50, "unit": "lb"}})
}

fn price(usd: f64) -> Value {
    json!({"kind": "price", "price": {"value": usd, "unit": "money/ton"}, "bought": {"value": 2, "unit": "ton"}})
}

/// ASABE EP496.3, 3.1: 5 mph × 10 ft × 0.70 ÷ 8.25 = 4.242 ac/h.
#[actix_web::test]
async fn a_machine_tells_what_it_does_in_an_hour() {
    let site = mara().await;
    let drill = Uuid::now_v7();
    let told =
        json!({"kind": "machine", "name": "Red drill", "machine": "drill", "width": {"value": 10, "unit": "ft"}});
    tell(&site, "machine", drill, "2026-05-10", told.clone()).await.ok();
    let seen = site.get(&format!("{}/machines", farm(HOLLOW))).await.ok();
    let capacity = &seen["machines"][0]["capacity"];
    assert_eq!(capacity["unit"], "ac/h");
    assert!((capacity["value"].as_f64().unwrap() - 5.0 * 10.0 * 0.70 / 8.25).abs() < 1e-6, "{capacity}");
    // The crew works with it and does not set it up.
    let crew = site.signed_out().signed_in_as("tobias@fennick.example").await;
    assert_eq!(tell(&crew, "machine", drill, "2026-05-10", told).await.status, StatusCode::FORBIDDEN);
    let count = json!({"kind": "stock-count", "there": {"value": 1, "unit": "ton"}});
    // A product does not bring a machine about, and nothing is known of a product by this id.
    assert_eq!(tell(&site, "machine", Uuid::now_v7(), "2026-05-10", urea()).await.status, StatusCode::NOT_FOUND);
    assert_eq!(tell(&crew, "product", Uuid::now_v7(), "2026-05-10", count).await.status, StatusCode::NOT_FOUND);
}

#[actix_web::test]
async fn the_benches_weigh_the_farms_own_products_at_their_prices() {
    let site = mara().await;
    let materials = async || site.get(&format!("{}/materials", farm(HOLLOW))).await.ok();
    let before = materials().await;
    assert_eq!((before["own_products"].as_bool(), before["own_lime"].as_bool()), (Some(false), Some(false)));
    let id = Uuid::now_v7();
    tell(&site, "product", id, "2026-04-01", urea()).await.ok();
    // Without a price there is nothing to weigh.
    let unpriced = materials().await;
    assert_eq!(
        (&unpriced["own_products"], &unpriced["without_price"]),
        (&json!(false), &json!(["urea from the yard"]))
    );
    tell(&site, "product", id, "2026-04-02", price(500.0)).await.ok();
    tell(&site, "product", id, "2026-05-12", price(560.0)).await.ok();
    let own = materials().await;
    let products = own["products"].as_array().unwrap();
    assert_eq!((products.len(), products[0]["name"].as_str()), (1, Some("urea from the yard")));
    assert!((products[0]["price"]["value"].as_f64().unwrap() - 560.0).abs() < 1e-6, "{}", products[0]);
    let seen = site.get(&format!("{}/products", farm(HOLLOW))).await.ok();
    let one = &seen["products"][0];
    assert_eq!((one["price_since"].as_str(), one["told_by"].as_str()), (Some("2026-05-12"), Some("Mara Fennick")));
    assert!((one["stock"]["value"].as_f64().unwrap() - 8_000.0).abs() < 1e-6, "{one}");
    // Bought no more: the bench goes back to ordinary ones.
    let mut gone = urea();
    gone["gone"] = json!(true);
    tell(&site, "product", id, "2026-05-13", gone).await.ok();
    assert_eq!(materials().await["own_products"], false);
    // A lime needs no price to be weighed by what reacts.
    let lime = json!({"kind": "product", "name": "quarry lime", "nature": {"is": "lime", 
        "made_of": "calcitic", "cce": percent(90.0), "sieves": [{"mesh": 8, "passing": percent(98.0)},
        {"mesh": 60, "passing": percent(60.0)}]}});
    tell(&site, "product", Uuid::now_v7(), "2026-05-13", lime).await.ok();
    let limed = materials().await;
    assert_eq!((&limed["own_lime"], &limed["lime"][0]["material"]["name"]), (&json!(true), &json!("quarry lime")));
}

fn label(change: Value) -> Value {
    let mut label = json!({"is": "spray", "ingredients": [{"name": "glyphosate", "content": "4 lb a gallon"}],
        "lowest": {"value": 1.5, "unit": "L/ha"}, "highest": {"value": 3, "unit": "L/ha"}, "stages": "before green-up",
        "re_entry_hours": 12, "harvest_days": 56, "grazing_days": 56,
        "plant_back": [{"crop": "alfalfa", "days": 0}], "buffer": {"value": 10, "unit": "m"}});
    label.as_object_mut().unwrap().extend(change.as_object().unwrap().clone());
    json!({"kind": "product", "name": "burndown", "nature": label})
}

#[actix_web::test]
async fn a_label_is_cited_by_day_and_by_whom() {
    let site = mara().await;
    tell(&site, "product", Uuid::now_v7(), "2026-05-02", label(json!({}))).await.ok();
    let seen = site.get(&format!("{}/products", farm(HOLLOW))).await.ok();
    let one = &seen["products"][0];
    assert_eq!((one["told_on"].as_str(), one["told_by"].as_str()), (Some("2026-05-02"), Some("Mara Fennick")));
    // Read in one's own units, as everything else.
    assert_eq!(one["facts"]["nature"]["highest"]["unit"], "floz/ac");
}

#[rstest]
#[case::upside_down(label(json!({"lowest": {"value": 4, "unit": "L/ha"}})), "/payload/nature/lowest", "above the highest")]
#[case::weighed_and_poured(label(json!({"lowest": {"value": 1, "unit": "kg/ha"}})), "/payload/nature/lowest", "the other liquid")]
#[case::nobody(label(json!({"ingredients": []})), "/payload/nature/ingredients", "active")]
#[case::for_ever(label(json!({"plant_back": [{"crop": "alfalfa", "days": 90_000}]})), "/payload/nature/plant_back/0/days", "2,000")]
#[case::more_than_all(json!({"kind": "product", "name": "miracle", "nature": {"is": "fertiliser",
    "analysis": {"n": {"value": 60, "unit": "%"}, "p2o5": {"value": 60, "unit": "%"}}}}), "/payload/nature/analysis", "more than 100%")]
#[case::nothing_in_it(json!({"kind": "product", "name": "air", "nature": {"is": "fertiliser", "analysis": {}}}), "/payload/nature/analysis", "enter the analysis")]
#[actix_web::test]
async fn a_product_that_can_not_be_is_refused(#[case] payload: Value, #[case] pointer: &str, #[case] why: &str) {
    let refused = tell(&mara().await, "product", Uuid::now_v7(), "2026-05-02", payload).await;
    assert!(refused.at(pointer).contains(why), "{}", refused.body);
}

/// Two sowings of one week and one drill: said on the season, with what they take; without a drill nothing is.
#[actix_web::test]
async fn one_drill_wanted_twice_is_said_on_the_season() {
    let site = mara().await;
    let mix = |crop: &str| json!({"by": "full-rate", "members": [{"crop": crop, "share": percent(110.0)}]});
    for (field, crop) in [("Sheep Hill", "orchardgrass"), ("Cooper Piece", "timothy")] {
        let choices = json!({"goal": "hay", "sow_on": "2026-05-20", "spare": percent(5.0), "cover": {"as": "seed", "mix": mix(crop)}});
        let start = json!({"id": Uuid::now_v7(), "entry": Uuid::now_v7(), "field": crate::common::of(HOLLOW, field), "choices": choices});
        site.post(&format!("{}/stands", farm(HOLLOW)), start).await.ok();
    }
    let clashes = async || site.get(&format!("{}/season", farm(HOLLOW))).await.ok()["clashes"].clone();
    assert_eq!(clashes().await, json!([]));
    let drill =
        json!({"kind": "machine", "name": "Red drill", "machine": "drill", "width": {"value": 10, "unit": "ft"}});
    tell(&site, "machine", Uuid::now_v7(), "2026-05-10", drill).await.ok();
    let told = clashes().await;
    let names: Vec<&str> =
        told[0]["wanted"].as_array().unwrap().iter().map(|one| one["name"].as_str().unwrap()).collect();
    assert!(names.contains(&"Sheep Hill") && names.contains(&"Cooper Piece"), "{told}");
    assert!(told[0]["hours"]["value"].as_f64().unwrap() > 5.0, "{told}");
}

/// A mix kept again is its next version; somebody who saw an older one is told so.
#[actix_web::test]
async fn own_mixes_are_kept_with_their_versions() {
    let site = mara().await;
    let id = Uuid::now_v7();
    let kept = |share: f64| {
        json!({"kind": "own-mix", "name": "Ridge hay", "mix": {"by": "full-rate", "members": [
            {"crop": "alfalfa", "share": percent(share)}, {"crop": "orchardgrass", "share": percent(30.0)}]}})
    };
    let first = tell(&site, "mix", id, "2026-05-10", kept(70.0)).await.ok();
    let entry = json!({"id": Uuid::now_v7(), "about": [{"kind": "mix", "id": id}], "occurred_on": "2026-05-12",
        "after": first["id"], "payload": kept(80.0)});
    site.post(&format!("{}/entries", farm(HOLLOW)), entry.clone()).await.ok();
    let told = site.get(&format!("{}/mixes", farm(HOLLOW))).await.ok();
    let own = &told["own"][0];
    assert_eq!(own["now"]["facts"]["mix"]["members"][0]["share"]["value"], 80.0);
    assert_eq!(own["before"][0]["facts"]["mix"]["members"][0]["share"]["value"], 70.0);
    assert!(told["ready"].as_array().unwrap().len() >= 5);
    let mut stale = entry;
    stale["id"] = json!(Uuid::now_v7());
    let answer = site.post(&format!("{}/entries", farm(HOLLOW)), stale).await;
    assert_eq!(answer.status, StatusCode::CONFLICT, "{}", answer.body);
    // A mix that can't be is refused at its member; and no other record brings a mix about.
    let mut odd = kept(80.0);
    odd["mix"]["members"][0]["crop"] = json!("moon-grass");
    assert!(tell(&site, "mix", id, "2026-05-12", odd).await.at("/payload/mix/members/0/crop").contains("moon-grass"));
    assert_eq!(tell(&site, "mix", Uuid::now_v7(), "2026-05-10", urea()).await.status, StatusCode::NOT_FOUND);
}

#[actix_web::test]
async fn ways_stand_side_by_side_over_http() {
    let site = mara().await;
    let choices = |practice: &str| {
        json!({"goal": "hay", "sow_on": "2026-08-10", "practice": practice, "spare": percent(5.0),
            "cover": {"as": "seed", "mix": {"by": "full-rate", "members": [{"crop": "alfalfa", "share": percent(110.0)}]}}})
    };
    let way = |practice: &str| json!({"name": practice, "choices": choices(practice), "first_sound_day": true});
    let field = crate::common::of(HOLLOW, "Cooper Piece");
    let ask =
        async |ways: Value| site.post(&format!("{}/plans", farm(HOLLOW)), json!({"field": field, "ways": ways})).await;
    let told = ask(json!([way("tilled"), way("no-till")])).await.ok();
    assert_eq!(told["ways"].as_array().unwrap().len(), 2);
    assert!(told["ways"][0]["odds"]["odds"].as_f64().unwrap() >= 0.5, "{}", told["ways"][0]);
    assert!(!told["differ"].as_array().unwrap().is_empty());
    assert!(ask(json!([])).await.at("/ways").contains("enter 1"));
    assert!(ask(json!([way("by-magic")])).await.at("/ways/0/choices/practice").contains("by-magic"));
}
