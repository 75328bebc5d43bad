//! Lots of forage over HTTP: made of one field or several, tested, split, struck, and what they tell of the ground.

use crate::common::{Answer, Site, farm, of};
use actix_web::http::StatusCode;
use serde_json::{Value, json};
use uuid::Uuid;

const HOLLOW: &str = "fennick-hollow";

async fn mara() -> Site {
    Site::demo().await.signed_in_as("mara@fennick.example").await
}

fn field(name: &str) -> Value {
    json!({"kind": "field", "id": of(HOLLOW, name)})
}

fn lot(id: Uuid) -> Value {
    json!({"kind": "forage-lot", "id": id})
}

fn part(id: Uuid, part: &str) -> Value {
    json!({"kind": "forage-lot", "id": id, "part": part})
}

async fn ink(site: &Site, about: &[Value], on: &str, payload: Value) -> Answer {
    let entry = json!({"id": Uuid::now_v7(), "about": about, "occurred_on": on, "payload": payload});
    site.post(&format!("{}/entries", farm(HOLLOW)), entry).await
}

fn bales(pieces: u32, pounds: f64) -> Value {
    json!({"kind": "forage-lot", "crop": "alfalfa", "form": "round-bales", "pieces": pieces,
        "piece_mass": {"value": pounds, "unit": "lb"}, "moisture": {"value": 15, "unit": "%"}})
}

async fn stored(site: &Site, id: Uuid) -> Value {
    let lots = site.get(&format!("{}/forage", farm(HOLLOW))).await.ok()["lots"].clone();
    lots.as_array().unwrap().iter().find(|lot| lot["id"] == id.to_string()).cloned().unwrap_or_default()
}

async fn ground(site: &Site, name: &str) -> Value {
    site.get(&format!("{}/fields/{}/ground", farm(HOLLOW), of(HOLLOW, name))).await.ok()
}

fn removed(ground: &Value, nutrient: &str) -> f64 {
    let lines = ground["account"]["lines"].as_array().unwrap();
    let line = lines.iter().find(|line| line["nutrient"] == nutrient);
    line.map_or(0.0, |line| line["removed"]["value"].as_f64().unwrap())
}

fn close(value: &Value, expected: f64) -> bool {
    (value.as_f64().unwrap_or(f64::NAN) - expected).abs() < 1e-6 * expected.abs()
}

/// What could not be weighed at the cut is told by its bales, and by the laboratory more exactly.
#[actix_web::test]
async fn bales_tell_what_a_cut_removed() {
    let site = mara().await;
    let name = "Heron Bottom";
    ink(&site, &[field(name)], "2026-05-12", json!({"kind": "cut"})).await.ok();
    let before = ground(&site, name).await;
    assert_eq!((&before["not_accounted"], removed(&before, "k2o")), (&json!(1), 0.0));
    let made = Uuid::now_v7();
    ink(&site, &[field(name), lot(made)], "2026-05-13", bales(40, 1_000.0)).await.ok();
    let baled = ground(&site, name).await;
    assert_eq!(baled["not_accounted"], json!(0));
    // 20 tons of hay at 15 % moisture off 16.1 acres are 1.05 tons of dry matter an acre; the book has some 50 lb K₂O a ton.
    let by_book = removed(&baled, "k2o");
    assert!((40.0..70.0).contains(&by_book), "{by_book}");
    let report = json!({"kind": "forage-analysis", "basis": "dry-matter", "potassium": {"value": 1.2, "unit": "%"},
        "adf": {"value": 30, "unit": "%"}, "ndf": {"value": 40, "unit": "%"},
        "nitrate": {"share": {"value": 0.443, "unit": "%"}, "as": "nitrate"}});
    ink(&site, &[lot(made)], "2026-05-14", report).await.ok();
    // 1.2 % K is 1.445 % K₂O: of 2,107 lb of dry matter an acre 30.4 lb.
    let tested = removed(&ground(&site, name).await, "k2o");
    assert!((tested - 30.4).abs() < 0.3, "{tested}");
    let seen = stored(&site, made).await;
    assert!((seen["analyses"][0]["relative_feed_value"].as_f64().unwrap() - 152.0).abs() < 0.5, "{seen}");
    assert!((seen["analyses"][0]["nitrate_nitrogen_ppm"].as_f64().unwrap() - 1_000.0).abs() < 1.0, "{seen}");
    assert_eq!(seen["cautions"][0]["key"], "nitrate-found");
    assert!(close(&seen["dry_matter"]["value"], 17.0), "{}", seen["dry_matter"]);
    // The report is found by the field, too: the lot came off it.
    let told =
        site.get(&format!("{}/entries?field={}&kind=forage-analysis", farm(HOLLOW), of(HOLLOW, name))).await.ok();
    assert_eq!(told["entries"].as_array().unwrap().iter().filter(|one| one["occurred_on"] == "2026-05-14").count(), 1);
}

#[actix_web::test]
async fn a_pile_off_two_fields_is_one_lot() {
    let site = mara().await;
    let pile = Uuid::now_v7();
    let about = [field("Heron Bottom"), field("Creek Bend"), lot(pile)];
    let chopped = |area: Option<f64>| {
        let mut made = json!({"kind": "forage-lot", "crop": "alfalfa", "form": "chopped",
            "mass": {"value": 200, "unit": "ton"}, "moisture": {"value": 65, "unit": "%"}});
        if let Some(acres) = area {
            made["area"] = json!({"value": acres, "unit": "ac"});
        }
        made
    };
    let kept = ink(&site, &about, "2026-05-13", chopped(None)).await.ok();
    // Off how much ground nobody said.
    let (one, other) = (ground(&site, "Heron Bottom").await, ground(&site, "Creek Bend").await);
    assert_eq!((&one["not_accounted"], &other["not_accounted"]), (&json!(1), &json!(1)));
    // Corrected: it takes the place of what was told, seen or not.
    let mut corrected = json!({"id": Uuid::now_v7(), "about": about, "occurred_on": "2026-05-13",
        "payload": chopped(Some(40.0)), "after": Uuid::now_v7()});
    let overtaken = site.post(&format!("{}/entries", farm(HOLLOW)), corrected.clone()).await;
    assert_eq!(overtaken.status, StatusCode::CONFLICT);
    corrected["after"] = kept["id"].clone();
    site.post(&format!("{}/entries", farm(HOLLOW)), corrected).await.ok();
    let (one, other) = (ground(&site, "Heron Bottom").await, ground(&site, "Creek Bend").await);
    assert_eq!((&one["not_accounted"], &other["not_accounted"]), (&json!(0), &json!(0)));
    assert!(removed(&one, "k2o") > 0.0 && (removed(&one, "k2o") - removed(&other, "k2o")).abs() < 1e-9);
    assert_eq!(stored(&site, pile).await["fields"].as_array().unwrap().len(), 2);
    // A record of a kind that is of one field is not taken of two.
    let spray = json!({"kind": "spray", "active": "clethodim"});
    let two = ink(&site, &[field("Heron Bottom"), field("Creek Bend")], "2026-05-13", spray).await;
    assert!(two.at("/about").contains("one field at a time"), "{}", two.body);
}

#[actix_web::test]
async fn a_lot_is_split_into_what_it_held() {
    let site = mara().await;
    let (whole, first, second) = (Uuid::now_v7(), Uuid::now_v7(), Uuid::now_v7());
    ink(&site, &[field("Heron Bottom"), lot(whole)], "2026-05-13", bales(40, 1_000.0)).await.ok();
    let split = |of: Uuid, parts: &[(Uuid, u32)]| {
        let told: Vec<Value> = parts.iter().map(|(lot, pieces)| json!({"lot": lot, "pieces": pieces})).collect();
        let mut about = vec![part(of, "from")];
        about.extend(parts.iter().map(|(lot, _)| part(*lot, "to")));
        json!({"id": Uuid::now_v7(), "about": about, "occurred_on": "2026-05-14",
            "payload": {"kind": "forage-split", "parts": told}})
    };
    let post = async |entry: &Value| site.post(&format!("{}/entries", farm(HOLLOW)), entry.clone()).await;
    post(&split(whole, &[(first, 10), (second, 6)])).await.ok();
    let (left, one) = (stored(&site, whole).await, stored(&site, first).await);
    assert_eq!((&left["pieces"], &one["pieces"]), (&json!(24), &json!(10)));
    assert!(close(&left["mass"]["value"], 12.0) && close(&one["mass"]["value"], 5.0), "{left} {one}");
    assert_eq!((&one["part_of"], &one["made_on"]), (&json!(whole), &json!("2026-05-13")));
    // More than it holds is asked about, also of a part of a part; it may be meant.
    let third = Uuid::now_v7();
    let mut beyond = split(first, &[(third, 11)]);
    let asked = post(&beyond).await;
    assert_eq!(asked.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(asked.at("/payload/parts").contains("10 bales or loads are left"), "{}", asked.body);
    beyond["confirmed"] = json!(true);
    post(&beyond).await.ok();
    assert_eq!(stored(&site, first).await["pieces"], json!(0));
    // What is there already is not founded once more, by a split or by a making.
    assert_eq!(post(&split(whole, &[(third, 1)])).await.status, StatusCode::CONFLICT);
    let making = ink(&site, &[field("Heron Bottom"), lot(third)], "2026-05-14", bales(3, 900.0)).await;
    assert_eq!(making.status, StatusCode::CONFLICT);
    // What is told and what it is about are the same lots.
    let mut other = split(whole, &[(Uuid::now_v7(), 1)]);
    other["payload"]["parts"][0]["lot"] = json!(Uuid::now_v7());
    assert!(post(&other).await.at("/payload/parts").contains("named once"));
    let of_nothing = split(Uuid::now_v7(), &[(Uuid::now_v7(), 1)]);
    assert_eq!(post(&of_nothing).await.status, StatusCode::NOT_FOUND);
}

/// What others speak of stays until they are struck; what was corrected may go.
#[actix_web::test]
async fn what_is_spoken_of_is_not_struck() {
    let site = mara().await;
    let made = Uuid::now_v7();
    let first = ink(&site, &[field("Heron Bottom"), lot(made)], "2026-05-13", bales(40, 1_000.0)).await.ok();
    let report = json!({"kind": "forage-analysis", "basis": "dry-matter", "adf": {"value": 30, "unit": "%"}});
    let report = ink(&site, &[lot(made)], "2026-05-14", report).await.ok();
    let strike = async |entry: &Value| {
        let path = format!("{}/entries/{}/strike", farm(HOLLOW), entry["id"].as_str().unwrap());
        site.post(&path, json!({"id": Uuid::now_v7(), "reason": "another barn"})).await
    };
    let refused = strike(&first).await;
    assert_eq!(refused.status, StatusCode::CONFLICT);
    let said = refused.body["detail"].as_str().unwrap();
    assert!(said.contains("another record is about this forage lot") && said.contains("Forage analysis"), "{said}");
    // Corrected, the first may be struck: the second tells what it is.
    let second = ink(&site, &[field("Heron Bottom"), lot(made)], "2026-05-13", bales(41, 1_000.0)).await.ok();
    strike(&first).await.ok();
    assert_eq!(stored(&site, made).await["pieces"], json!(41));
    assert_eq!(strike(&second).await.status, StatusCode::CONFLICT);
    strike(&report).await.ok();
    strike(&second).await.ok();
    assert_eq!(stored(&site, made).await, Value::Null);
}

#[actix_web::test]
async fn a_lot_is_the_farms_own() {
    let site = mara().await;
    let made = Uuid::now_v7();
    ink(&site, &[field("Heron Bottom"), lot(made)], "2026-05-13", bales(40, 1_000.0)).await.ok();
    let south = Site::on(site.database.clone()).signed_in_as("joaquin@ceibo.example").await;
    let report = json!({"id": Uuid::now_v7(), "about": [lot(made)], "occurred_on": "2026-05-14",
        "payload": {"kind": "forage-analysis", "basis": "dry-matter", "adf": {"value": 30, "unit": "%"}}});
    let path = format!("{}/entries", farm("chacra-del-ceibo"));
    assert_eq!(south.post(&path, report).await.status, StatusCode::NOT_FOUND);
    assert_eq!(south.get(&format!("{}/forage", farm(HOLLOW))).await.status, StatusCode::NOT_FOUND);
}

/// What was spread of a product of the shed is there no more, where it was told on how much ground.
#[actix_web::test]
async fn what_was_spread_is_gone_from_the_shed() {
    let site = mara().await;
    let product = Uuid::now_v7();
    let about = [json!({"kind": "product", "id": product})];
    let potash = json!({"kind": "product", "name": "own potash", "nature": {"is": "fertiliser",
        "analysis": {"k2o": {"value": 60, "unit": "%"}}}});
    ink(&site, &about, "2026-05-01", potash).await.ok();
    ink(&site, &about, "2026-05-02", json!({"kind": "stock-count", "there": {"value": 3000, "unit": "lb"}})).await.ok();
    let spread = |acres: f64| {
        json!({"kind": "dressing", "dressing": {"what": "fertiliser", "product": "own potash",
            "rate": {"value": 100, "unit": "lb/ac"}, "analysis": {"k2o": {"value": 60, "unit": "%"}}},
            "area": {"value": acres, "unit": "ac"}, "placement": "banded"})
    };
    let on_field = [field("Heron Bottom"), about[0].clone()];
    ink(&site, &on_field, "2026-05-12", spread(12.0)).await.ok();
    let stock = async || {
        let products = site.get(&format!("{}/products", farm(HOLLOW))).await.ok()["products"].clone();
        let own = products.as_array().unwrap().iter().find(|one| one["id"] == product.to_string()).cloned().unwrap();
        own["stock"]["value"].as_f64().unwrap()
    };
    assert!((stock().await - 1_800.0).abs() < 1e-6);
    // More than there was leaves nothing.
    ink(&site, &on_field, "2026-05-13", spread(100.0)).await.ok();
    assert_eq!(stock().await, 0.0);
}

/// An insecticide does not stay in the soil for the next crop; what its label forbids for a while it forbids.
#[actix_web::test]
async fn only_herbicides_carry_over() {
    let site = mara().await;
    let sprayed = |what: &str| json!({"kind": "spray", "what": what, "active": "imazethapyr", "harvest_days": 7});
    let told = async || {
        let told = ground(&site, "Cooper Piece").await["ground"].clone();
        ["sprays", "unfree"].map(|of| told[of].as_array().unwrap().len())
    };
    let [sprays, unfree] = told().await;
    ink(&site, &[field("Cooper Piece")], "2026-05-12", sprayed("insecticide")).await.ok();
    assert_eq!(told().await, [sprays, unfree + 1]);
    ink(&site, &[field("Cooper Piece")], "2026-05-12", sprayed("herbicide")).await.ok();
    assert_eq!(told().await, [sprays + 1, unfree + 2]);
    // What was put on spots says so.
    let mut spot = sprayed("herbicide");
    spot["way"] = json!("spot");
    ink(&site, &[field("Cooper Piece")], "2026-05-13", spot).await.ok();
    let last = ground(&site, "Cooper Piece").await["ground"]["sprays"].as_array().unwrap().last().cloned().unwrap();
    assert_eq!(last["what"]["spots"], json!(true));
}
