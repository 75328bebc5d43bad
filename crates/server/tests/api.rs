//! The API as a client meets it.

use crate::common::{Answer, Outside, PASSWORD, Pooled, Site, farm, lb, mix, of};
use actix_web::http::{Method, StatusCode};
use rstest::rstest;
use serde_json::{Value, json};
use uuid::Uuid;

const HOLLOW: &str = "fennick-hollow";
const CEIBO: &str = "chacra-del-ceibo";
const MARA: &str = "mara@fennick.example";

fn sowing(stand: Uuid, field: Uuid, on: &str) -> Value {
    json!({"id": Uuid::now_v7(), "about": [{"kind": "field", "id": field}, {"kind": "stand", "id": stand}], "occurred_on": on,
        "payload": {"kind": "step", "operation": "sow", "depth": {"value": 0.25, "unit": "in"}}})
}

#[actix_web::test]
async fn from_a_field_to_a_stand_to_ink_to_a_strike_and_ink_again() {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let (farm, field) = (farm(HOLLOW), of(HOLLOW, "Cooper Piece"));
    let implied = site.post(&format!("{farm}/plan"), json!({"field": field, "choices": mix()})).await.ok();
    assert_eq!(implied["mix"]["value"]["members"].as_array().unwrap().len(), 3);
    assert_eq!(implied["need"]["without_lot"], json!(["orchardgrass", "timothy"]));
    assert_eq!(implied["order"]["value"]["lines"][0]["lot"], "NL-204");

    let stand = Uuid::now_v7();
    let start = json!({"id": stand, "entry": Uuid::now_v7(), "field": field, "choices": mix()});
    let path = format!("{farm}/stands");
    let first = site.post(&path, start.clone()).await.ok();
    let again = site.post(&path, start).await.ok();
    assert_eq!(first["entries"], again["entries"], "a repeated post is the same stand");

    let slip = sowing(stand, field, "2026-05-01");
    let kept = site.post(&format!("{farm}/entries"), slip.clone()).await.ok();
    assert_eq!(site.post(&format!("{farm}/entries"), slip).await.ok()["recorded_at"], kept["recorded_at"]);
    let strike = format!("{farm}/entries/{}/strike", kept["id"].as_str().unwrap());
    site.post(&strike, json!({"id": Uuid::now_v7(), "reason": "wrong day"})).await.ok();
    site.post(&format!("{farm}/entries"), sowing(stand, field, "2026-05-02")).await.ok();

    let detail = site.get(&format!("{farm}/stands/{stand}")).await.ok();
    assert_eq!(detail["implied"]["plan"]["sown_on"], "2026-05-02");
    let marks = detail["stand"]["marks"].as_array().unwrap();
    assert_eq!(marks.iter().filter(|mark| mark["struck"] == true).count(), 1);
    let second = site.post(&strike, json!({"id": Uuid::now_v7(), "reason": "again"})).await;
    assert_eq!(second.status, StatusCode::CONFLICT);
}

#[rstest]
#[case::signed_out(None, StatusCode::UNAUTHORIZED)]
#[case::stranger(Some("stranger@example.org"), StatusCode::NOT_FOUND)]
#[case::manager_of_the_other_farm(Some("joaquin@ceibo.example"), StatusCode::NOT_FOUND)]
#[actix_web::test]
async fn another_farms_ids_answer_as_if_they_were_not_there(#[case] who: Option<&str>, #[case] status: StatusCode) {
    let mut site = Site::demo().await.with_stranger().await;
    if let Some(email) = who {
        site = site.signed_in_as(email).await;
    }
    let farm = farm(HOLLOW);
    let field = of(HOLLOW, "Heron Bottom");
    for path in ["season", "fields", "lots", "entries", &format!("fields/{field}")] {
        assert_eq!(site.get(&format!("{farm}/{path}")).await.status, status, "{path}");
    }
    let start = json!({"id": Uuid::now_v7(), "entry": Uuid::now_v7(), "field": field, "choices": mix()});
    assert_eq!(site.post(&format!("{farm}/stands"), start).await.status, status);
}

#[actix_web::test]
async fn a_field_of_another_farm_is_not_found_on_ones_own() {
    let site = Site::demo().await.signed_in_as("joaquin@ceibo.example").await;
    let own = farm(CEIBO);
    let foreign = of(HOLLOW, "Heron Bottom");
    assert_eq!(site.get(&format!("{own}/fields/{foreign}")).await.status, StatusCode::NOT_FOUND);
    let note = json!({"id": Uuid::now_v7(), "about": [{"kind": "field", "id": foreign}], "occurred_on": "2026-05-01", "payload": {"kind": "note", "text": "mine"}});
    assert_eq!(site.post(&format!("{own}/entries"), note).await.status, StatusCode::NOT_FOUND);
}

#[rstest]
#[case::crew_starts("tobias@fennick.example", false, true)]
#[case::adviser("ines@advice.example", false, false)]
#[case::manager(MARA, true, true)]
#[actix_web::test]
async fn roles(#[case] email: &str, #[case] decides: bool, #[case] records: bool) {
    let site = Site::demo().await.signed_in_as(email).await;
    let (farm, field) = (farm(HOLLOW), of(HOLLOW, "Sheep Hill"));
    let start = json!({"id": Uuid::now_v7(), "entry": Uuid::now_v7(), "field": field, "choices": mix()});
    let note = json!({"id": Uuid::now_v7(), "about": [{"kind": "field", "id": field}], "occurred_on": "2026-05-01", "payload": {"kind": "note", "text": "dry"}});
    let may = |answer: Answer, may: bool| {
        assert_eq!(answer.status, if may { StatusCode::OK } else { StatusCode::FORBIDDEN }, "{}", answer.body);
    };
    may(site.post(&format!("{farm}/stands"), start).await, decides);
    may(site.post(&format!("{farm}/entries"), note).await, records);
    assert_eq!(site.get(&format!("{farm}/season")).await.status, StatusCode::OK);
}

#[actix_web::test]
async fn the_crew_strikes_only_its_own_entries() {
    let site = Site::demo().await.signed_in_as("tobias@fennick.example").await;
    let farm = farm(HOLLOW);
    let entries = site.get(&format!("{farm}/entries?kind=step")).await.ok();
    let by = |name: &str| {
        let all = entries["entries"].as_array().unwrap();
        let found = all.iter().find(|entry| entry["recorded_by_name"] == name && entry["struck_by"].is_null());
        found.unwrap()["id"].as_str().unwrap().to_owned()
    };
    let strike = |id: String| format!("{farm}/entries/{id}/strike");
    let reason = || json!({"id": Uuid::now_v7(), "reason": "not so"});
    assert_eq!(site.post(&strike(by("Mara Fennick")), reason()).await.status, StatusCode::FORBIDDEN);
    site.post(&strike(by("Tobias Quill")), reason()).await.ok();
}

#[rstest]
#[case::germination(json!({"purity": {"value": 98, "unit": "%"}, "germination": {"value": 130, "unit": "%"}}), "/tag/germination")]
#[case::purity(json!({"purity": {"value": 0, "unit": "%"}, "germination": {"value": 90, "unit": "%"}}), "/tag/purity")]
#[case::price(json!({"purity": {"value": 98, "unit": "%"}, "germination": {"value": 90, "unit": "%"}, "price": {"value": -1, "unit": "money"}}), "/tag/price")]
#[case::unit(json!({"purity": {"value": 98, "unit": "stone"}, "germination": {"value": 90, "unit": "%"}}), "/tag/purity/unit")]
#[actix_web::test]
async fn a_tag_that_cannot_be_leaves_nothing_half_written(#[case] tag: Value, #[case] pointer: &str) {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let farm = farm(HOLLOW);
    let lots = site.get(&format!("{farm}/lots")).await.ok();
    let new = json!({"id": Uuid::now_v7(), "entry": Uuid::now_v7(), "crop": "alfalfa", "label": "NEW-1", "tag": tag});
    let answer = site.post(&format!("{farm}/lots"), new).await;
    assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY);
    answer.at(pointer);
    assert_eq!(site.get(&format!("{farm}/lots")).await.ok(), lots);
}

#[rstest]
#[case::empty_mix(|choices: &mut Value| choices["cover"]["mix"]["members"] = json!([]), "/choices/cover/mix/members")]
#[case::unknown_crop(|choices: &mut Value| choices["cover"]["mix"]["members"][0]["crop"] = json!("moon-grass"), "/choices/cover/mix/members/0/crop")]
#[case::another_century(|choices: &mut Value| choices["sow_on"] = json!("1926-05-01"), "/choices/sow_on")]
#[case::spare(|choices: &mut Value| choices["spare"]["value"] = json!(-3), "/choices/spare")]
#[case::foreign_lot(|choices: &mut Value| choices["cover"]["lots"][0]["lot"] = json!(Uuid::now_v7()), "/choices/cover/lots/0/lot")]
#[actix_web::test]
async fn choices_that_cannot_be(#[case] spoil: fn(&mut Value), #[case] pointer: &str) {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let mut choices = mix();
    spoil(&mut choices);
    let field = of(HOLLOW, "Sheep Hill");
    let start = json!({"id": Uuid::now_v7(), "entry": Uuid::now_v7(), "field": field, "choices": choices});
    let answer = site.post(&format!("{}/stands", farm(HOLLOW)), start).await;
    assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY);
    answer.at(pointer);
    let entries = site.get(&format!("{}/entries?field={field}&kind=choices", farm(HOLLOW))).await.ok();
    assert_eq!(entries["total"], 0);
}

/// A stand that is there already comes with its sowing; nothing of years ago is asked for any more.
#[actix_web::test]
async fn an_existing_stand_is_entered_with_its_sowing() {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let (farm, field) = (farm(HOLLOW), of(HOLLOW, "Sheep Hill"));
    let mut choices = mix();
    choices["sow_on"] = json!("2012-08-15");
    choices["regime"] = json!("hay-by-stage");
    let new = json!({"id": Uuid::now_v7(), "entry": Uuid::now_v7(), "field": field, "choices": choices,
        "sown": {"entry": Uuid::now_v7(), "note": "Sown in late summer 2012; the day is not known"}});
    let path = format!("{farm}/stands");
    let told = site.post(&path, new.clone()).await.ok();
    assert_eq!(told["implied"]["plan"]["sown_on"], "2012-08-15");
    let steps = told["implied"]["plan"]["steps"].as_array().unwrap();
    let making = steps.iter().filter(|step| step["season"].is_null());
    assert!(
        making.clone().count() > 4
            && making.clone().all(|step| ["done", "passed"].contains(&step["state"]["is"].as_str().unwrap()))
    );
    assert!(steps.iter().any(|step| step["step"] == "cut" && step["season"] == 2026));
    assert_eq!(told["implied"]["troubles"], json!([]));
    // Sent again it is the same stand with one sowing.
    assert_eq!(site.post(&path, new.clone()).await.ok()["entries"], told["entries"]);
    let entries = site.get(&format!("{farm}/entries?stand={}", new["id"].as_str().unwrap())).await.ok();
    assert_eq!(entries["total"], 2);
    let growth = site.get(&format!("{farm}/stands/{}/growth", new["id"].as_str().unwrap())).await.ok();
    assert!(growth["told"]["value"]["cuts"].as_array().is_some_and(|cuts| cuts.len() >= 2), "{growth}");
}

#[rstest]
#[case::to_come("2026-06-01", "still to come")]
#[case::of_another_age("1949-05-01", "the last 60")]
#[actix_web::test]
async fn an_existing_stand_of_another_day_is_refused(#[case] on: &str, #[case] said: &str) {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let mut choices = mix();
    choices["sow_on"] = json!(on);
    let new = json!({"id": Uuid::now_v7(), "entry": Uuid::now_v7(), "field": of(HOLLOW, "Sheep Hill"),
        "choices": choices, "sown": {"entry": Uuid::now_v7()}});
    let answer = site.post(&format!("{}/stands", farm(HOLLOW)), new).await;
    assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(answer.at("/choices/sow_on").contains(said), "{}", answer.body);
}

#[actix_web::test]
async fn a_slip_has_to_be_confirmed() {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let mut choices = mix();
    choices["cover"]["mix"]["members"][0]["rate"] = lb(240.0);
    let mut start =
        json!({"id": Uuid::now_v7(), "entry": Uuid::now_v7(), "field": of(HOLLOW, "Sheep Hill"), "choices": choices});
    let path = format!("{}/stands", farm(HOLLOW));
    let asked = site.post(&path, start.clone()).await;
    assert_eq!(asked.body["type"], "/problems/unusual");
    asked.at("/choices/cover/mix/members/0");
    start["confirmed"] = json!(true);
    site.post(&path, start).await.ok();
}

#[rstest]
#[case::crossing(json!([[[0.0, 0.0], [0.01, 0.01], [0.01, 0.0], [0.0, 0.01], [0.0, 0.0]]]), "crosses itself")]
#[case::empty(json!([]), "empty")]
#[case::no_area(json!([[[0.0, 0.0], [0.01, 0.0], [0.0, 0.0], [0.0, 0.0]]]), "boundary")]
#[actix_web::test]
async fn a_boundary_that_is_none(#[case] rings: Value, #[case] said: &str) {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let boundary = json!({"type": "Polygon", "coordinates": rings});
    let new = json!({"id": Uuid::now_v7(), "name": "Odd", "boundary": boundary});
    let answer = site.post(&format!("{}/fields", farm(HOLLOW)), new).await;
    assert!(answer.at("/boundary").contains(said), "{}", answer.body);
}

#[actix_web::test]
async fn a_script_in_a_name_stays_text() {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let name = "<script>alert(1)</script>";
    let ring = json!([[[-76.4, 42.4], [-76.39, 42.4], [-76.39, 42.41], [-76.4, 42.41], [-76.4, 42.4]]]);
    let new = json!({"id": Uuid::now_v7(), "name": name, "boundary": {"type": "Polygon", "coordinates": ring}});
    let kept = site.post(&format!("{}/fields", farm(HOLLOW)), new).await;
    assert_eq!(kept.kind, "application/json");
    assert_eq!(kept.ok()["name"], name);
}

#[rstest]
#[case::broken(Some("application/json"), "{\"email\": ".to_owned(), StatusCode::BAD_REQUEST)]
#[case::not_json(Some("text/plain"), "hello".to_owned(), StatusCode::UNSUPPORTED_MEDIA_TYPE)]
#[case::no_type(None, "{}".to_owned(), StatusCode::UNSUPPORTED_MEDIA_TYPE)]
#[case::five_megabytes(Some("application/json"), format!("\"{}\"", "x".repeat(5 << 20)), StatusCode::PAYLOAD_TOO_LARGE)]
#[case::missing_field(Some("application/json"), "{\"email\": \"a@b\"}".to_owned(), StatusCode::UNPROCESSABLE_ENTITY)]
#[case::unknown_field(Some("application/json"), "{\"email\": \"a@b\", \"password\": \"x\", \"root\": true}".to_owned(), StatusCode::UNPROCESSABLE_ENTITY)]
#[actix_web::test]
async fn bodies_that_cannot_be_read(#[case] kind: Option<&str>, #[case] body: String, #[case] status: StatusCode) {
    let site = Site::empty().await;
    let answer = site.ask(Method::POST, "/api/sign-in", kind, &body).await;
    assert_eq!(answer.status, status, "{}", answer.body);
    assert_eq!(answer.kind, "application/problem+json");
    assert_eq!(answer.body["status"], status.as_u16());
}

#[actix_web::test]
async fn addresses_and_methods() {
    let site = Site::empty().await;
    assert_eq!(site.get("/api/nowhere").await.status, StatusCode::NOT_FOUND);
    assert_eq!(site.ask(Method::DELETE, "/api/health", None, "").await.status, StatusCode::METHOD_NOT_ALLOWED);
    assert_eq!(site.get("/api/health").await.ok()["status"], "ok");
    assert_eq!(site.get("/api/farms/not-an-id/season").await.status, StatusCode::UNAUTHORIZED);
}

#[actix_web::test]
async fn the_first_visit_makes_the_owner_and_only_the_first() {
    let site = Site::empty().await;
    assert_eq!(site.get("/api/first-visit").await.ok()["needs_owner"], true);
    let mut owner = json!({"email": "Owner@Example.org", "name": "Somebody", "password": "short", "farm": "Ours",
        "latitude": 99.0, "longitude": -76.0, "elevation": {"value": 1200, "unit": "ft"}, "units": "us"});
    let refused = site.post("/api/first-visit", owner.clone()).await;
    assert!(refused.at("/password").contains("10"));
    assert!(refused.at("/latitude").contains("90"));
    owner["password"] = json!("long enough by far");
    owner["latitude"] = json!(42.0);
    let me = site.post("/api/first-visit", owner.clone()).await.ok();
    assert_eq!(me["farms"][0]["role"], "manager");
    assert_eq!(me["farms"][0]["practice"], false);
    owner["email"] = json!("second@example.org");
    assert_eq!(site.post("/api/first-visit", owner).await.status, StatusCode::CONFLICT);
    let back = json!({"email": "owner@example.org", "password": "long enough by far"});
    site.post("/api/sign-in", back).await.ok();
}

#[actix_web::test]
async fn signing_in_is_guarded() {
    let site = Site::demo().await.with(None, 3);
    let wrong = json!({"email": MARA, "password": "guess"});
    let unknown = site.post("/api/sign-in", json!({"email": "nobody@fennick.example", "password": PASSWORD})).await;
    let first = site.post("/api/sign-in", wrong.clone()).await;
    assert_eq!((first.status, &first.body["detail"]), (StatusCode::UNAUTHORIZED, &unknown.body["detail"]));
    for _ in 0..2 {
        site.post("/api/sign-in", wrong.clone()).await;
    }
    let stopped = site.post("/api/sign-in", json!({"email": MARA, "password": PASSWORD})).await;
    assert_eq!(stopped.status, StatusCode::TOO_MANY_REQUESTS);
    assert!(stopped.retry_after.is_some());
}

#[actix_web::test]
async fn the_cookie_is_kept_from_scripts_and_dies_at_sign_out() {
    let site = Site::demo().await;
    let cookie = site.post("/api/sign-in", json!({"email": MARA, "password": PASSWORD})).await.cookie.unwrap();
    assert_eq!(cookie.http_only(), Some(true));
    assert_eq!(cookie.same_site(), Some(actix_web::cookie::SameSite::Strict));
    let site = site.signed_in_as(MARA).await;
    site.get("/api/me").await.ok();
    site.post("/api/sign-out", json!({})).await;
    assert_eq!(site.get("/api/me").await.status, StatusCode::UNAUTHORIZED, "the old key is worth nothing");
}

#[actix_web::test]
async fn figures_follow_the_persons_units_without_loss() {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let path = format!("{}/fields/{}", farm(HOLLOW), of(HOLLOW, "Long Acre"));
    let us = site.get(&path).await.ok()["field"]["area"].clone();
    site.patch("/api/me", json!({"units": "metric"})).await.ok();
    let metric = site.get(&path).await.ok()["field"]["area"].clone();
    assert_eq!((us["unit"].as_str(), metric["unit"].as_str()), (Some("ac"), Some("ha")));
    let (acres, hectares) = (us["value"].as_f64().unwrap(), metric["value"].as_f64().unwrap());
    assert!((acres * 0.404_685_642_24 - hectares).abs() < 1e-9);
}

#[actix_web::test]
async fn the_laboratory_reports_into_the_lot_and_its_silence_is_told() {
    let site = Site::demo().await.with(Some("http://127.0.0.1:9".into()), 100).signed_in_as(MARA).await;
    let (farm, lot) = (farm(HOLLOW), of(HOLLOW, "NL-204"));
    let sample = || json!({"id": Uuid::now_v7()});
    let path = format!("{farm}/lots/{lot}/sample");
    let down = site.post(&path, sample()).await;
    assert_eq!(down.status, StatusCode::BAD_GATEWAY);
    assert!(down.body["detail"].as_str().unwrap().contains("nothing was recorded"));

    let laboratory = Outside::start(|| actix_web::App::new().configure(stand_ins::seed_laboratory::routes));
    let address = format!("http://{}", laboratory.addr());
    let site = site.with(Some(address), 100).signed_in_as(MARA).await;
    let request = sample();
    let report = site.post(&path, request.clone()).await.ok();
    assert_eq!(report["payload"]["kind"], "lot-report");
    assert_eq!(site.post(&path, request).await.ok()["recorded_at"], report["recorded_at"]);
    let lots = site.get(&format!("{farm}/lots")).await.ok();
    let found = lots["lots"].as_array().unwrap().iter().find(|one| one["label"] == "NL-204").unwrap().clone();
    assert_eq!(found["reports"], 1);
    let close = |a: &Value, b: &Value| (a["value"].as_f64().unwrap() - b["value"].as_f64().unwrap()).abs() < 1e-9;
    assert!(close(&found["tag"]["germination"], &report["payload"]["report"]["germination"]));
}

#[actix_web::test]
async fn the_ledger_pages_and_filters() {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let farm = farm(HOLLOW);
    let first = site.get(&format!("{farm}/entries")).await.ok();
    let count = |page: &Value| page["entries"].as_array().unwrap().len();
    assert_eq!(count(&first), 50);
    let total = usize::try_from(first["total"].as_u64().unwrap()).unwrap();
    let (mut listed, mut page) = (vec![], first.clone());
    while let Some(last) = page["entries"].as_array().unwrap().last().cloned() {
        listed.extend(page["entries"].as_array().unwrap().clone());
        page = site.get(&format!("{farm}/entries?older_than={}", last["id"].as_str().unwrap())).await.ok();
        assert_eq!(page["total"], first["total"]);
    }
    assert_eq!(listed.len(), total);
    let oldest = site.get(&format!("{farm}/entries?oldest=true")).await.ok();
    assert_eq!(oldest["entries"].as_array().unwrap()[..], listed[total - 50..]);
    let before = oldest["entries"][0]["id"].as_str().unwrap().to_owned();
    let newer = site.get(&format!("{farm}/entries?newer_than={before}")).await.ok();
    assert_eq!(newer["entries"].as_array().unwrap()[..], listed[total - 100..total - 50]);
    let strikes = site.get(&format!("{farm}/entries?kind=strike")).await.ok();
    assert_eq!(strikes["total"], 1);
    let struck = strikes["entries"][0]["strikes"].as_str().unwrap();
    let entry = site.get(&format!("{farm}/entries/{struck}")).await.ok();
    assert_eq!(entry["struck_by"], strikes["entries"][0]["id"]);
}

#[actix_web::test]
async fn loading_the_demo_again_changes_nothing() {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let before = site.get(&format!("{}/season", farm(HOLLOW))).await.ok();
    server::demo::load(&site.database.pool()).await.unwrap();
    assert_eq!(site.get(&format!("{}/season", farm(HOLLOW))).await.ok(), before);
}

#[rstest]
#[case::unknown("kind=magic")]
#[case::zero("kind=%00")]
#[actix_web::test]
async fn an_unknown_kind_of_entry_is_refused(#[case] query: &str) {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let answer = site.get(&format!("{}/entries?{query}", farm(HOLLOW))).await;
    assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(answer.at("/kind").contains("choices"), "{}", answer.body);
}

/// What was written down on a device goes under the name of who wrote it, or not at all.
#[actix_web::test]
async fn a_record_goes_under_no_other_name() {
    let crew = Site::demo().await.signed_in_as("tobias@fennick.example").await;
    let tobias = crew.get("/api/me").await.ok()["id"].as_str().unwrap().to_owned();
    let entries = format!("{}/entries", farm("fennick-hollow"));
    let note = json!({"id": Uuid::now_v7(), "about": [], "occurred_on": "2026-05-14",
        "payload": {"kind": "note", "text": "slugs along the lane"}});
    let manager = crew.signed_out().signed_in_as("mara@fennick.example").await.written_by(&tobias);
    let refused = manager.post(&entries, note.clone()).await;
    assert_eq!(refused.status, StatusCode::CONFLICT, "{refused:?}");
    assert_eq!(refused.body["type"], "/problems/another-person");
    let kept = crew.written_by(&tobias).post(&entries, note).await.ok();
    assert_eq!(kept["recorded_by"], tobias.as_str());
}

/// One step inked by two people, or on two devices, is asked about and not doubled in silence: whatever its kind, and
/// about the stand or its ground.
#[rstest]
#[case::a_step("stand", json!({"kind": "step", "operation": "order-seed"}), true)]
#[case::as_forms_wrote_it_before("stand", json!({"kind": "step", "operation": "order-seed", "step": "order-seed", "occurrence": 1}), false)]
#[case::of_the_ground("field", json!({"kind": "dressing", "dressing": {"what": "lime", "product": "lime",
    "rate": {"value": 2, "unit": "t/ha"}, "analysis": {}}}), true)]
#[actix_web::test]
async fn a_step_inked_twice_is_asked_about(#[case] about: &str, #[case] payload: Value, #[case] says: bool) {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let (farm, field, stand) = (farm(HOLLOW), of(HOLLOW, "Cooper Piece"), Uuid::now_v7());
    let started = json!({"id": stand, "entry": Uuid::now_v7(), "field": field, "choices": mix()});
    site.post(&format!("{farm}/stands"), started).await.ok();
    let subject = if about == "stand" { stand.to_string() } else { field.to_string() };
    let ink = |id: Uuid, confirmed: bool| {
        let mut body = json!({"id": id, "about": [{"kind": about, "id": subject}], "occurred_on": "2026-05-10",
            "confirmed": confirmed, "payload": payload});
        if says {
            body["closes"] = json!({"stand": stand, "step": "order-seed", "occurrence": 1});
        }
        body
    };
    let entries = format!("{farm}/entries");
    let (first, second) = (Uuid::now_v7(), Uuid::now_v7());
    let kept = site.post(&entries, ink(first, false)).await.ok();
    assert_eq!(kept["closes"], json!({"stand": stand, "step": "order-seed", "occurrence": 1}));
    // The same submission is the same entry; another one is asked about.
    site.post(&entries, ink(first, false)).await.ok();
    let asked = site.post(&entries, ink(second, false)).await;
    assert_eq!(asked.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(asked.body["type"], "/problems/unusual");
    assert!(asked.at("/closes/occurrence").contains("already recorded for May 10, 2026"), "{}", asked.body);
    site.post(&entries, ink(second, true)).await.ok();
    // Struck, it is open again.
    for id in [first, second] {
        let path = format!("{entries}/{id}/strike");
        site.post(&path, json!({"id": Uuid::now_v7(), "reason": "another field"})).await.ok();
    }
    // By several people at the same moment: one of them inks it, and the others are asked.
    let at_once = (0..6).map(|_| site.post(&entries, ink(Uuid::now_v7(), false)));
    let answers = futures_util::future::join_all(at_once).await;
    let (inked, asked): (Vec<_>, Vec<_>) = answers.into_iter().partition(|answer| answer.status.is_success());
    assert_eq!((inked.len(), asked.len()), (1, 5));
    assert!(asked.iter().all(|answer| answer.body["type"] == "/problems/unusual"), "{asked:?}");
}
