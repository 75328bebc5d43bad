//! Books at hand tell what the ledger tells, whoever wrote it, and through whichever server.

use actix_web::http::StatusCode;
use serde_json::{Value, json};
use uuid::Uuid;

use crate::common::{Site, farm, mix, of};

const HOLLOW: &str = "fennick-hollow";
const MARA: &str = "mara@fennick.example";

async fn season(site: &Site) -> Value {
    site.get(&format!("{}/season", farm(HOLLOW))).await.ok()
}

/// What a server says that has never been asked: all of it folded anew.
async fn anew(site: &Site) -> Value {
    let url = site.database.app_url.clone();
    season(&site.with_database(&url)).await
}

/// Of many who come to a farm that nobody has asked for, one folds its books; all are told the same.
#[actix_web::test]
async fn of_many_at_a_cold_farm_one_folds() {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let cold = site.with_database(&site.database.app_url.clone());
    let told = futures_util::future::join_all((0..10).map(|_| season(&cold))).await;
    assert!(told.iter().all(|one| *one == told[0]));
    assert_eq!(cold.state.shelf.folds(), 1);
    season(&cold).await;
    assert_eq!(cold.state.shelf.folds(), 1);
    let note = json!({"id": Uuid::now_v7(), "about": [], "occurred_on": "2026-05-14",
        "payload": {"kind": "note", "text": "gate mended"}});
    cold.post(&format!("{}/entries", farm(HOLLOW)), note).await.ok();
    futures_util::future::join_all((0..10).map(|_| season(&cold))).await;
    assert_eq!(cold.state.shelf.folds(), 2);
}

/// Each way in which a ledger goes on: a note, a step done, a decision, a stand begun, a reading of the field, a strike.
#[actix_web::test]
async fn what_is_at_hand_is_what_the_ledger_tells() {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let farm = farm(HOLLOW);
    let (field, stand) = (of(HOLLOW, "Upper Larkin"), of(HOLLOW, "Upper Larkin 2026-08-12"));
    let entries = format!("{farm}/entries");
    let written = async |about: Value, payload: Value| {
        let id = Uuid::now_v7();
        let body = json!({"id": id, "about": about, "occurred_on": "2026-05-14", "payload": payload});
        site.post(&entries, body).await.ok();
        id
    };
    let mut seasons = vec![season(&site).await];
    let mut go_on = async || {
        let now = season(&site).await;
        assert_eq!(now, anew(&site).await);
        // Asked again, from what was kept of the answer.
        assert_eq!(now, season(&site).await);
        seasons.push(now);
    };
    let on_stand = json!([{"kind": "stand", "id": stand}]);
    let spray = written(on_stand.clone(), json!({"kind": "spray", "active": "glyphosate", "label_months": 0})).await;
    go_on().await;
    let (moved, after) = {
        let seen = site.get(&format!("{farm}/stands/{stand}")).await.ok();
        let mut choices = seen["choices"].clone();
        choices["sow_on"] = json!("2026-08-20");
        (choices, seen["stand"]["decided"].clone())
    };
    let decision = json!({"id": Uuid::now_v7(), "about": on_stand, "occurred_on": "2026-05-14", "after": after,
        "payload": {"kind": "choices", "choices": moved}});
    site.post(&entries, decision).await.ok();
    go_on().await;
    let dressing = json!({"what": "lime", "product": "ground limestone", "rate": {"value": 2, "unit": "ton/ac"},
        "effective": {"fast": {"value": 50, "unit": "%"}, "slow": {"value": 20, "unit": "%"}}});
    written(json!([{"kind": "field", "id": field}]), json!({"kind": "dressing", "dressing": dressing})).await;
    go_on().await;
    let start =
        json!({"id": Uuid::now_v7(), "entry": Uuid::now_v7(), "field": of(HOLLOW, "Sheep Hill"), "choices": mix()});
    site.post(&format!("{farm}/stands"), start).await.ok();
    go_on().await;
    let strike = json!({"id": Uuid::now_v7(), "reason": "it was the neighbour\u{2019}s"});
    site.post(&format!("{entries}/{spray}/strike"), strike).await.ok();
    go_on().await;
    // Each of them was to be seen.
    assert!(seasons.windows(2).all(|pair| pair[0] != pair[1]), "a change did not show");
}

/// Two servers over one ledger: what one wrote, the other shows at once.
#[actix_web::test]
async fn a_second_server_hears_of_it() {
    let one = Site::demo().await.signed_in_as(MARA).await;
    let other = one.with_database(&one.database.app_url.clone());
    let before = season(&other).await;
    let spray = json!({"id": Uuid::now_v7(), "about": [{"kind": "stand", "id": of(HOLLOW, "Upper Larkin 2026-08-12")}],
        "occurred_on": "2026-05-14", "payload": {"kind": "spray", "active": "glyphosate", "label_months": 0}});
    one.post(&format!("{}/entries", farm(HOLLOW)), spray).await.ok();
    let after = season(&other).await;
    assert_ne!(before, after);
    assert_eq!(after, season(&one).await);
}

/// A season is each reader's own: their units and level, by gzip or plain.
#[actix_web::test]
async fn a_season_is_its_readers() {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let us = season(&site).await;
    site.patch("/api/me", json!({"units": "metric"})).await.ok();
    let metric = season(&site).await;
    let area = |season: &Value| season["strips"][0]["field"]["sown_area"]["unit"].clone();
    assert_eq!((area(&us), area(&metric)), (json!("ac"), json!("ha")));
    site.patch("/api/me", json!({"units": "us", "odds_level": {"value": 90, "unit": "%"}})).await.ok();
    assert_ne!(season(&site).await, us, "at ninety in a hundred windows are narrower");
    site.patch("/api/me", json!({"odds_level": {"value": 50, "unit": "%"}})).await.ok();
    assert_eq!(season(&site).await, us);
    let squeezed = site.with_headers(&[("accept-encoding", "br;q=0.1, gzip")]);
    for _ in 0..2 {
        let answer = squeezed.get(&format!("{}/season", farm(HOLLOW))).await;
        assert_eq!((answer.status, answer.encoding.as_deref()), (StatusCode::OK, Some("gzip")));
        assert_eq!(answer.body, us);
    }
}
