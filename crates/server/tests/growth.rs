//! Growth over HTTP: told of a stand that was sown, and why not of one that was not.

use actix_web::http::StatusCode;
use serde_json::{Value, json};
use uuid::Uuid;

use crate::common::{Site, farm, of};

const HOLLOW: &str = "fennick-hollow";
const MARA: &str = "mara@fennick.example";

async fn growth(site: &Site, on: &str, stand: Uuid) -> Value {
    site.get(&format!("{}/stands/{stand}/growth", farm(on))).await.ok()
}

#[actix_web::test]
async fn a_cut_in_ink_is_told_beside_what_the_model_made_of_it() {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let stand = of(HOLLOW, "Long Acre 2025-08-12");
    let before = growth(&site, HOLLOW, stand).await["told"]["value"].clone();
    assert_eq!((before["middle"]["unit"].clone(), before["year"]["unit"].clone()), (json!("lb/ac"), json!("ton/ac")));
    let planned = before["cuts"].as_array().unwrap();
    assert!(planned.len() >= 3 && planned.iter().all(|cut| cut["done"] == false), "{planned:?}");
    let cut = json!({"id": Uuid::now_v7(), "about": [{"kind": "stand", "id": stand}], "occurred_on": "2026-05-12",
        "closes": {"stand": stand, "step": "cut", "season": 2026, "occurrence": 1}, "confirmed": true,
        "payload": {"kind": "cut", "cut": {"crop": "alfalfa", "harvested": {"value": 1.5, "unit": "ton/ac"},
            "moisture": {"value": 20, "unit": "%"}, "after_frost": false, "analysis": {}}}});
    site.post(&format!("{}/entries", farm(HOLLOW)), cut).await.ok();
    let after = growth(&site, HOLLOW, stand).await["told"]["value"].clone();
    let first = &after["cuts"][0];
    assert_eq!((first["on"].clone(), first["done"].clone()), (json!("2026-05-12"), json!(true)));
    assert!((first["weighed"]["value"].as_f64().unwrap() - 1.2).abs() < 1e-9, "{first}");
    assert!(after["above"]["value"].as_f64().unwrap() < before["above"]["value"].as_f64().unwrap());
}

#[actix_web::test]
async fn it_says_why_it_can_not_tell_and_is_shut_to_others() {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let untold = growth(&site, HOLLOW, of(HOLLOW, "Fox Cover 2026-05-22")).await;
    assert!(untold["told"].is_null() && untold["untold"].as_str().unwrap().contains("Not sown yet"), "{untold}");
    let path = format!("{}/stands/{}/growth", farm("chacra-del-ceibo"), of("chacra-del-ceibo", "La Loma 2025-04-14"));
    assert_eq!(site.get(&path).await.status, StatusCode::NOT_FOUND);
}
