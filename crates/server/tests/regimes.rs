//! The regime of a stand, over HTTP: chosen, changed from a season on, and what its plan says of it.

use crate::common::{Site, farm, of};
use actix_web::http::StatusCode;
use rstest::rstest;
use serde_json::{Value, json};
use uuid::Uuid;

const HOLLOW: &str = "fennick-hollow";
const MARA: &str = "mara@fennick.example";

fn stand() -> Uuid {
    of(HOLLOW, "Long Acre 2025-08-12")
}

fn regime(key: &str, season: i32) -> Value {
    json!({"id": Uuid::now_v7(), "about": [{"kind": "stand", "id": stand()}], "occurred_on": "2026-05-14",
        "payload": {"kind": "regime", "regime": key, "season": season}})
}

fn cut(occurrence: i32, season: Option<i32>, on: &str) -> Value {
    let mut closes = json!({"stand": stand(), "step": "cut", "occurrence": occurrence});
    if let Some(season) = season {
        closes["season"] = json!(season);
    }
    json!({"id": Uuid::now_v7(), "about": [{"kind": "stand", "id": stand()}], "occurred_on": on, "closes": closes,
        "payload": {"kind": "cut"}})
}

async fn plan(site: &Site) -> Value {
    site.get(&format!("{}/stands/{}", farm(HOLLOW), stand())).await.ok()["implied"]["plan"].clone()
}

/// Cuts of a season: key, first day and state.
fn came(plan: &Value, season: i32) -> Vec<(String, String, String)> {
    let word = |value: &Value| value.as_str().unwrap().to_owned();
    let steps = plan["steps"].as_array().unwrap().iter().filter(|step| step["season"] == season);
    let steps = steps.filter(|step| step["step"] == "cut");
    steps.map(|step| (word(&step["step"]), word(&step["from"]), word(&step["state"]["is"]))).collect()
}

#[actix_web::test]
async fn a_cut_moves_the_season_and_another_regime_the_next() {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let entries = format!("{}/entries", farm(HOLLOW));
    let before = plan(&site).await;
    assert_eq!(before["seasons"][0]["regime"], "hay-by-stage");
    assert_eq!(before["undated"], json!([]));
    let planned = came(&before, 2026);
    assert!(planned.len() >= 3, "{planned:?}");
    // A cut without anything weighed closes the first; the second is dated from it: at least 28 days later.
    let early = cut(1, Some(2026), "2026-05-10");
    let asked = site.post(&entries, early.clone()).await;
    if asked.status == StatusCode::UNPROCESSABLE_ENTITY {
        // A young stand may be asked about.
        assert_eq!(asked.body["type"], "/problems/unusual", "{}", asked.body);
        let mut sure = early;
        sure["confirmed"] = json!(true);
        site.post(&entries, sure).await.ok();
    }
    let after = came(&plan(&site).await, 2026);
    assert_eq!((after[0].2.as_str(), after[1].1.as_str()), ("done", "2026-06-07"));
    // The same time of the same season again is asked about; that of another is not.
    let twice = site.post(&entries, cut(1, Some(2026), "2026-05-11")).await;
    assert!(twice.at("/closes/occurrence").contains("already recorded for May 10, 2026"), "{}", twice.body);
    // Another regime from the next season on leaves this one.
    site.post(&entries, regime("biomass-after-frost", 2027)).await.ok();
    let changed = plan(&site).await;
    assert_eq!(came(&changed, 2026), after);
    assert_eq!((came(&changed, 2027).len(), &changed["seasons"][1]["name"]), (1, &json!("Biomass after frost")));
    // Struck, it is as it was.
    let kept = site.get(&format!("{entries}?kind=regime")).await.ok();
    let path = format!("{entries}/{}/strike", kept["entries"][0]["id"].as_str().unwrap());
    site.post(&path, json!({"id": Uuid::now_v7(), "reason": "hay is short"})).await.ok();
    assert_eq!(plan(&site).await["seasons"][1]["regime"], "hay-by-stage");
}

#[rstest]
#[case::unknown(regime("by-the-moon", 2026), "/payload/regime")]
#[case::another_age(regime("hay-by-stage", 1949), "/payload/season")]
#[case::too_far(regime("hay-by-stage", 2037), "/payload/season")]
#[case::no_time(cut(0, Some(2026), "2026-05-10"), "/closes/occurrence")]
#[case::no_season(cut(1, Some(3000), "2026-05-10"), "/closes/season")]
#[actix_web::test]
async fn what_cannot_be_is_refused_at_the_field(#[case] entry: Value, #[case] pointer: &str) {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let mut entry = entry;
    entry["confirmed"] = json!(true);
    let answer = site.post(&format!("{}/entries", farm(HOLLOW)), entry).await;
    assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY, "{}", answer.body);
    assert!(!answer.at(pointer).is_empty(), "{}", answer.body);
}

/// Who does the job records cuts; how a stand is used the manager decides.
#[actix_web::test]
async fn the_crew_cuts_and_the_manager_decides() {
    let site = Site::demo().await.signed_in_as("tobias@fennick.example").await;
    let entries = format!("{}/entries", farm(HOLLOW));
    assert_eq!(site.post(&entries, regime("silage-cuts", 2026)).await.status, StatusCode::FORBIDDEN);
    let mut cut = cut(1, Some(2026), "2026-05-13");
    cut["confirmed"] = json!(true);
    site.post(&entries, cut).await.ok();
}
