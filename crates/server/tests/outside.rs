//! When an outside service is down, slow or talks nonsense: a sentence, and nothing half written.

use crate::common::{Outside, Site, farm, of};
use actix_web::{App, HttpResponse, http::StatusCode, web};
use rstest::rstest;
use serde_json::{Value, json};
use uuid::Uuid;

const HOLLOW: &str = "fennick-hollow";

/// A laboratory that answers every question with one thing.
fn laboratory(status: u16, body: &'static str) -> Outside {
    Outside::start(move || {
        let answer = move || async move {
            HttpResponse::build(StatusCode::from_u16(status).unwrap()).content_type("application/json").body(body)
        };
        App::new()
            .route("/seed-laboratory/samples", web::post().to(answer))
            .route("/soil-laboratory/samples", web::post().to(answer))
            .route("/scale/weight", web::get().to(answer))
    })
}

async fn entries(site: &Site) -> Value {
    site.get(&format!("{}/entries", farm(HOLLOW))).await.ok()["total"].clone()
}

#[rstest]
#[case::error(500, "{}", "answered 500")]
#[case::no_json(200, "gone fishing", "did not send a report")]
#[case::other_json(200, "{\"weather\": \"fine\"}", "did not send a report")]
#[actix_web::test]
async fn a_seed_laboratory_that_fails(#[case] status: u16, #[case] body: &'static str, #[case] said: &str) {
    let laboratory = laboratory(status, body);
    let address = format!("http://{}", laboratory.addr());
    let site = Site::demo().await.with(Some(address), 100).signed_in_as("mara@fennick.example").await;
    let before = entries(&site).await;
    let path = format!("{}/lots/{}/sample", farm(HOLLOW), of(HOLLOW, "NL-204"));
    let answer = site.post(&path, json!({"id": Uuid::now_v7()})).await;
    assert_eq!(answer.status, StatusCode::BAD_GATEWAY);
    let detail = answer.body["detail"].as_str().unwrap();
    assert!(detail.contains(said) && detail.contains("nothing was recorded"), "{detail}");
    assert_eq!(entries(&site).await, before);
}

#[rstest]
#[case::error(500, "{}", "answered 500")]
#[case::no_json(200, "21.4 g", "did not send a weight")]
#[case::of_no_mass(200, r#"{"mass": {"value": 3, "unit": "mph"}, "steady": true}"#, "did not send a weight")]
#[case::swinging(200, r#"{"mass": {"value": 21.4, "unit": "g"}, "steady": false}"#, "has not settled")]
#[case::not_tared(200, r#"{"mass": {"value": -3.1, "unit": "g"}, "steady": true}"#, "tare it")]
#[case::a_truck(200, r#"{"mass": {"value": 9000, "unit": "kg"}, "steady": true}"#, "sent an impossible weight")]
#[actix_web::test]
async fn a_scale_that_fails(#[case] status: u16, #[case] body: &'static str, #[case] said: &str) {
    let scale = laboratory(status, body);
    let site = Site::demo().await.with(Some(format!("http://{}", scale.addr())), 100);
    let site = site.signed_in_as("mara@fennick.example").await;
    let answer = site.get(&format!("{}/scale?cup=row%201&unit=oz", farm(HOLLOW))).await;
    assert_eq!(answer.status, StatusCode::BAD_GATEWAY, "{}", answer.body);
    let detail = answer.body["detail"].as_str().unwrap();
    assert!(detail.contains(said) && detail.contains("enter the weight by hand"), "{detail}");
}

/// Somebody pressed the button of the scale: what comes in grams is told in the ounces of the rows before it.
#[rstest]
#[case::alike(r#"{"mass": {"value": 0.75, "unit": "oz"}, "steady": true}"#, 0.75, false)]
#[case::switched(r#"{"mass": {"value": 21.3, "unit": "g"}, "steady": true}"#, 0.7513, true)]
#[actix_web::test]
async fn a_scale_that_sends_another_unit(#[case] body: &'static str, #[case] ounces: f64, #[case] turned: bool) {
    let scale = laboratory(200, body);
    let site = Site::demo().await.with(Some(format!("http://{}", scale.addr())), 100);
    let site = site.signed_in_as("mara@fennick.example").await;
    let told = site.get(&format!("{}/scale?unit=oz", farm(HOLLOW))).await.ok();
    assert!((told["value"].as_f64().unwrap() - ounces).abs() < 1e-9, "{told}");
    assert_eq!((&told["unit"], &told["turned"]), (&json!("oz"), &json!(turned)));
}

#[rstest]
#[case::error(503, "{}", "answered 503")]
#[case::no_json(200, "gone fishing", "not an answer")]
#[actix_web::test]
async fn a_soil_laboratory_that_fails(#[case] status: u16, #[case] body: &'static str, #[case] said: &str) {
    let laboratory = laboratory(status, body);
    let address = format!("http://{}", laboratory.addr());
    let site = Site::demo().await.with(Some(address), 100).signed_in_as("mara@fennick.example").await;
    let before = entries(&site).await;
    let path = format!("{}/fields/{}/samples", farm(HOLLOW), of(HOLLOW, "Fox Cover"));
    let answer = site.post(&path, json!({"id": Uuid::now_v7()})).await;
    assert_eq!(answer.status, StatusCode::BAD_GATEWAY);
    assert!(answer.body["detail"].as_str().unwrap().contains(said), "{}", answer.body);
    assert_eq!(entries(&site).await, before);
}

#[rstest]
#[case::seed("lots", "NL-204", "sample")]
#[case::soil("fields", "Fox Cover", "samples")]
#[actix_web::test]
async fn without_a_laboratory_it_is_said(#[case] of_what: &str, #[case] name: &str, #[case] deed: &str) {
    let site = Site::demo().await.signed_in_as("mara@fennick.example").await;
    let path = format!("{}/{of_what}/{}/{deed}", farm(HOLLOW), of(HOLLOW, name));
    let answer = site.post(&path, json!({"id": Uuid::now_v7()})).await;
    assert_eq!(answer.status, StatusCode::BAD_GATEWAY);
    assert!(answer.body["detail"].as_str().unwrap().contains("not set up"), "{}", answer.body);
}

/// A laboratory that sends back another sample's report.
#[actix_web::test]
async fn a_report_of_another_sample_is_not_taken() {
    let laboratory = Outside::start(|| {
        App::new().route(
            "/soil-laboratory/samples",
            web::post().to(|| async {
                let reply =
                    json!({"sample": Uuid::from_u128(1), "laboratory": "L", "due_on": "2026-05-14", "report": null});
                HttpResponse::Ok().json(reply)
            }),
        )
    });
    let address = format!("http://{}", laboratory.addr());
    let site = Site::demo().await.with(Some(address), 100).signed_in_as("mara@fennick.example").await;
    let path = format!("{}/fields/{}/samples", farm(HOLLOW), of(HOLLOW, "Fox Cover"));
    let answer = site.post(&path, json!({"id": Uuid::now_v7()})).await;
    assert!(answer.body["detail"].as_str().unwrap().contains("does not fit"), "{}", answer.body);
}

#[actix_web::test]
async fn a_sample_is_of_the_field_it_was_sent_from() {
    let laboratory = Outside::start(|| App::new().configure(stand_ins::soil_laboratory::routes));
    let address = format!("http://{}", laboratory.addr());
    let site = Site::demo().await.with(Some(address), 100).signed_in_as("mara@fennick.example").await;
    let (sent_from, other, id) = (of(HOLLOW, "Fox Cover"), of(HOLLOW, "Sheep Hill"), Uuid::now_v7());
    let samples = |field: Uuid| format!("{}/fields/{field}/samples", farm(HOLLOW));
    site.post(&samples(sent_from), json!({"id": id})).await.ok();
    let wrong = site.post(&format!("{}/{id}/report", samples(other)), json!({})).await;
    assert_eq!(wrong.status, StatusCode::NOT_FOUND);
    let never = site.post(&format!("{}/{}/report", samples(sent_from), Uuid::now_v7()), json!({})).await;
    assert_eq!(never.status, StatusCode::NOT_FOUND);
}

#[actix_web::test]
async fn a_real_farm_has_no_practice_clock_and_no_stand_ins() {
    let site = Site::demo().await.with_stranger().await.signed_in_as("stranger@example.org").await;
    let farm = site.get("/api/me").await.ok()["farms"][0].clone();
    assert_eq!(farm["practice"], false);
    let path = format!("/api/farms/{}/clock", farm["id"].as_str().unwrap());
    let answer = site.post(&path, json!({"day": "2030-01-01"})).await;
    assert!(answer.at("/day").contains("uses the real date"), "{}", answer.body);
}

/// The crew records, the adviser reads, and only the manager moves the clock.
#[rstest]
#[case::crew("tobias@fennick.example", StatusCode::OK, StatusCode::FORBIDDEN)]
#[case::adviser("ines@advice.example", StatusCode::FORBIDDEN, StatusCode::FORBIDDEN)]
#[actix_web::test]
async fn who_may_work_the_ground(#[case] email: &str, #[case] records: StatusCode, #[case] clock: StatusCode) {
    let site = Site::demo().await.signed_in_as(email).await;
    let field = of(HOLLOW, "Sheep Hill");
    let entry = json!({"id": Uuid::now_v7(), "about": [{"kind": "field", "id": field}], "occurred_on": "2026-05-10",
        "payload": {"kind": "spray", "active": "glyphosate"}});
    assert_eq!(site.post(&format!("{}/entries", farm(HOLLOW)), entry).await.status, records);
    let import = json!({"id": Uuid::now_v7(), "text": "Field,pH\nSheep Hill,6.0\n", "dry_run": true, "mapping":
        {"p_method": "bray-p1", "laboratory": "L", "depth_unit": "in", "sampled_on": "2026-05-01"}});
    assert_eq!(site.post(&format!("{}/soil-tests", farm(HOLLOW)), import).await.status, records);
    assert_eq!(site.post(&format!("{}/clock", farm(HOLLOW)), json!({"day": "2026-05-20"})).await.status, clock);
    assert_eq!(site.get(&format!("{}/fields/{field}/ground", farm(HOLLOW))).await.status, StatusCode::OK);
}
