//! Every address of the API, taken from its own document: signed-out callers, strangers, advisers
//! and nonsense are answered alike wherever they knock.

use crate::common::{Site, farm, mix, of};
use actix_web::http::{Method, StatusCode};
use rstest::rstest;
use serde_json::{Value, json};
use server::api;
use uuid::Uuid;

/// Open to anybody: the door and what stands before it.
const OPEN: [&str; 9] = [
    "/api/health",
    "/api/first-visit",
    "/api/time-zone",
    "/api/sign-in",
    "/api/sign-out",
    "/api/openapi.json",
    "/api/invitations/no-such-key",
    "/api/invitations/no-such-key/sign-up",
    "/api/resets/no-such-key",
];

/// Addresses and methods of the document, with the placeholders filled.
fn addresses(farm: &str) -> Vec<(Method, String)> {
    operations(farm).into_iter().map(|(method, path, _)| (method, path)).collect()
}

/// The same, and whether a body is read.
fn operations(farm: &str) -> Vec<(Method, String, bool)> {
    let document = serde_json::to_value(api::document()).unwrap();
    let mut found = vec![];
    for (template, item) in document["paths"].as_object().unwrap() {
        let path = template
            .replace("/api/farms/{farm}", farm)
            .replace("{field}", &of("fennick-hollow", "Heron Bottom").to_string())
            .replace("{crop}", "alfalfa")
            .replace("{lot}", &of("fennick-hollow", "NL-204").to_string())
            .replace("{key}", "no-such-key")
            .replace("{invitation}", &Uuid::now_v7().to_string())
            .replace("{person}", &Uuid::now_v7().to_string())
            .replace("{stand}", &Uuid::now_v7().to_string())
            .replace("{entry}", &Uuid::now_v7().to_string())
            .replace("{photo}", &Uuid::now_v7().to_string())
            .replace("{sample}", &Uuid::now_v7().to_string());
        assert!(!path.contains('{'), "{path} has a placeholder that is not filled here");
        for (method, operation) in item.as_object().unwrap() {
            let body = operation["requestBody"].is_object();
            found.push((method.to_uppercase().parse().unwrap(), path.clone(), body));
        }
    }
    assert!(found.len() > 20, "{found:?}");
    found
}

fn guarded(farm: &str) -> impl Iterator<Item = (Method, String)> {
    addresses(farm).into_iter().filter(|(_, path)| !OPEN.contains(&path.as_str()))
}

#[actix_web::test]
async fn nobody_gets_in_without_signing_in() {
    let site = Site::demo().await;
    for (method, path) in guarded(&farm("fennick-hollow")) {
        let answer = site.ask(method.clone(), &path, Some("application/json"), "{}").await;
        assert_eq!(answer.status, StatusCode::UNAUTHORIZED, "{method} {path}: {}", answer.body);
        assert_eq!(answer.kind, "application/problem+json");
    }
}

#[actix_web::test]
async fn a_farm_that_is_not_ones_own_is_nowhere() {
    let site = Site::demo().await.signed_in_as("joaquin@ceibo.example").await;
    let hollow = farm("fennick-hollow");
    for (method, path) in guarded(&hollow).filter(|(_, path)| path.starts_with(&hollow)) {
        let answer = site.ask(method.clone(), &path, Some("application/json"), "{}").await;
        // A body is read only once the caller is known to belong here.
        assert!(
            matches!(answer.status, StatusCode::NOT_FOUND | StatusCode::UNPROCESSABLE_ENTITY),
            "{method} {path}: {} {}",
            answer.status,
            answer.body
        );
        if method == Method::GET {
            assert_eq!(answer.status, StatusCode::NOT_FOUND, "{path}");
        }
    }
}

#[rstest]
#[case::broken("{\"id\": ", StatusCode::BAD_REQUEST)]
#[case::array("[]", StatusCode::UNPROCESSABLE_ENTITY)]
#[case::nothing("{}", StatusCode::UNPROCESSABLE_ENTITY)]
#[case::number("7", StatusCode::UNPROCESSABLE_ENTITY)]
#[case::foreign(r#"{"surprise": true}"#, StatusCode::UNPROCESSABLE_ENTITY)]
#[actix_web::test]
async fn nonsense_is_told_apart_everywhere(#[case] body: &str, #[case] status: StatusCode) {
    let site = Site::demo().await.signed_in_as("mara@fennick.example").await;
    let hollow = farm("fennick-hollow");
    let reads = operations(&hollow)
        .into_iter()
        .filter(|(method, path, body)| *method == Method::POST && *body && !OPEN.contains(&path.as_str()));
    for (method, path, _) in reads {
        let answer = site.ask(method.clone(), &path, Some("application/json"), body).await;
        assert_eq!(answer.status, status, "{path}: {}", answer.body);
        assert_eq!(answer.kind, "application/problem+json", "{path}");
        let detail = answer.body["detail"].as_str().unwrap_or_default();
        assert!(!detail.is_empty() && !detail.contains("panicked"), "{path}: {detail}");
    }
}

/// Whatever is answered, the document told it beforehand.
#[rstest]
#[case::signed_out(false, "{}", Some("application/json"))]
#[case::nothing(true, "{}", Some("application/json"))]
#[case::broken(true, "{\"id\": ", Some("application/json"))]
#[case::text(true, "hay", Some("text/plain"))]
#[case::huge(true, "", Some("application/json"))]
#[actix_web::test]
async fn the_document_tells_every_status(#[case] signed_in: bool, #[case] body: &str, #[case] kind: Option<&str>) {
    let site = Site::demo().await;
    let site = if signed_in { site.signed_in_as("mara@fennick.example").await } else { site };
    let huge = format!("\"{}\"", " ".repeat(17 << 20));
    let document = serde_json::to_value(api::document()).unwrap();
    let answers = document["paths"].as_object().unwrap().values().flat_map(|item| item.as_object().unwrap().values());
    let hollow = farm("fennick-hollow");
    for ((method, path, reads), operation) in operations(&hollow).into_iter().zip(answers) {
        // A large body is refused before it is read: one that nobody reads is no case.
        if body.is_empty() && !reads {
            continue;
        }
        let body = if body.is_empty() { &huge } else { body };
        let answer = site.ask(method.clone(), &path, kind, body).await;
        let status = answer.status.as_str();
        assert!(operation["responses"][status].is_object(), "{method} {path} answers {status}: {}", answer.body);
    }
    let wrong = site.ask(Method::DELETE, &format!("{hollow}/season"), None, "").await;
    assert_eq!(wrong.status, StatusCode::METHOD_NOT_ALLOWED);
}

#[rstest]
#[case::deep(format!("{}1{}", "[".repeat(300), "]".repeat(300)))]
#[case::nul("\"\\u0000\"".to_owned())]
#[actix_web::test]
async fn odd_but_valid_json_does_no_harm(#[case] value: String) {
    let site = Site::demo().await.signed_in_as("mara@fennick.example").await;
    let field = of("fennick-hollow", "Heron Bottom");
    let body = format!(
        r#"{{"id": "{}", "about": [{{"kind": "field", "id": "{field}"}}], "occurred_on": "2026-05-01", "payload": {{"kind": "note", "text": {value}}}}}"#,
        Uuid::now_v7()
    );
    let path = format!("{}/entries", farm("fennick-hollow"));
    let answer = site.ask(Method::POST, &path, Some("application/json"), &body).await;
    assert!(answer.status.is_client_error(), "{} {}", answer.status, answer.body);
    assert_eq!(site.get("/api/health").await.status, StatusCode::OK);
}

/// What a season answers, in the shape its screens rely on.
#[actix_web::test]
async fn the_season_lists_the_urgent_first() {
    let site = Site::demo().await.signed_in_as("mara@fennick.example").await;
    let season = site.get(&format!("{}/season", farm("fennick-hollow"))).await.ok();
    assert_eq!(season["today"], "2026-05-14");
    let rank = |next: &Value| match next["step"]["state"]["is"].as_str().unwrap() {
        "overdue" => 0,
        "ready" => 1,
        "blocked" => 2,
        "waiting" => 3,
        other => panic!("{other} needs nobody"),
    };
    let ranks: Vec<_> = season["next"].as_array().unwrap().iter().map(rank).collect();
    assert!(!ranks.is_empty() && ranks.is_sorted(), "{ranks:?}");
    let names: Vec<_> =
        season["strips"].as_array().unwrap().iter().map(|strip| strip["field"]["name"].as_str().unwrap()).collect();
    assert_eq!(names.len(), 14);
    assert!(names.is_sorted(), "{names:?}");
}

#[actix_web::test]
async fn trying_choices_writes_nothing() {
    let site = Site::demo().await.signed_in_as("mara@fennick.example").await;
    let hollow = farm("fennick-hollow");
    let before = site.get(&format!("{hollow}/entries")).await.ok()["total"].clone();
    let body = json!({"field": of("fennick-hollow", "Cooper Piece"), "choices": mix()});
    for _ in 0..3 {
        let implied = site.post(&format!("{hollow}/plan"), body.clone()).await.ok();
        assert_eq!(implied["plan"]["sown"], false);
    }
    assert_eq!(site.get(&format!("{hollow}/entries")).await.ok()["total"], before);
}

#[actix_web::test]
async fn rhizomes_imply_pieces_and_no_seed() {
    let site = Site::demo().await.signed_in_as("mara@fennick.example").await;
    let hollow = farm("fennick-hollow");
    let choices = json!({"goal": "bedding", "sow_on": "2026-05-20", "spare": {"value": 5, "unit": "%"},
        "cover": {"as": "plants", "plants": {"crop": "giant-miscanthus"}}});
    let body = json!({"field": of("fennick-hollow", "Cooper Piece"), "choices": choices});
    let implied = site.post(&format!("{hollow}/plan"), body).await.ok();
    assert!(implied["mix"].is_null() && implied["order"].is_null());
    let acres = implied["sown_area"]["value"].as_f64().unwrap();
    let pieces = implied["plants"]["value"]["pieces"].as_f64().unwrap();
    assert!((pieces / (acres * 43_560.0 / 6.25 * 1.05) - 1.0).abs() < 1e-3, "{pieces} on {acres}");
    let cautions = implied["plants"]["cautions"].as_array().unwrap();
    assert!(cautions.iter().any(|caution| caution["key"] == "invasive"));
}

#[rstest]
#[case::no_uuid("fields/heron-bottom", StatusCode::NOT_FOUND)]
#[case::no_page("entries?older_than=last", StatusCode::UNPROCESSABLE_ENTITY)]
#[case::no_such_question("entries?colour=red", StatusCode::UNPROCESSABLE_ENTITY)]
#[actix_web::test]
async fn odd_addresses_are_answered_with_a_problem(#[case] path: &str, #[case] status: StatusCode) {
    let site = Site::demo().await.signed_in_as("mara@fennick.example").await;
    let answer = site.get(&format!("{}/{path}", farm("fennick-hollow"))).await;
    assert_eq!((answer.status, answer.kind.as_str()), (status, "application/problem+json"), "{}", answer.body);
}
