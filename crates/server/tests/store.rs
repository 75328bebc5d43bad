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
    assert_eq!(one["facts"]["nature"]["highest"]["unit"], "gal/ac");
}

#[rstest]
#[case::upside_down(label(json!({"lowest": {"value": 4, "unit": "L/ha"}})), "/payload/nature/lowest", "above the highest")]
#[case::weighed_and_poured(label(json!({"lowest": {"value": 1, "unit": "kg/ha"}})), "/payload/nature/lowest", "poured")]
#[case::nobody(label(json!({"ingredients": []})), "/payload/nature/ingredients", "active")]
#[case::for_ever(label(json!({"plant_back": [{"crop": "alfalfa", "days": 90_000}]})), "/payload/nature/plant_back/0/days", "2,000")]
#[case::more_than_all(json!({"kind": "product", "name": "miracle", "nature": {"is": "fertiliser",
    "analysis": {"n": {"value": 60, "unit": "%"}, "p2o5": {"value": 60, "unit": "%"}}}}), "/payload/nature/analysis", "more than the whole")]
#[case::nothing_in_it(json!({"kind": "product", "name": "air", "nature": {"is": "fertiliser", "analysis": {}}}), "/payload/nature/analysis", "what is in it")]
#[actix_web::test]
async fn a_product_that_can_not_be_is_refused(#[case] payload: Value, #[case] pointer: &str, #[case] why: &str) {
    let refused = tell(&mara().await, "product", Uuid::now_v7(), "2026-05-02", payload).await;
    assert!(refused.at(pointer).contains(why), "{}", refused.body);
}
