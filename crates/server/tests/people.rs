//! People come by a link, and leave; their entries stand under their names.

use actix_web::http::{Method, StatusCode};
use rstest::rstest;
use serde_json::{Value, json};
use uuid::Uuid;

use crate::common::{Answer, Site, farm};

const HOLLOW: &str = "fennick-hollow";
const MARA: &str = "mara@fennick.example";

async fn mara() -> Site {
    Site::demo().await.signed_in_as(MARA).await
}

async fn key_for(site: &Site, role: &str) -> String {
    let asked = json!({"id": Uuid::now_v7(), "role": role, "days": 7});
    let made = site.post(&format!("{}/invitations", farm(HOLLOW)), asked).await.ok();
    made["key"].as_str().unwrap().to_owned()
}

fn newcomer(email: &str) -> Value {
    json!({"email": email, "name": "Rolf Newly", "password": "long enough by far", "units": "metric"})
}

async fn put(site: &Site, person: &str, body: Value) -> Answer {
    let path = format!("{}/people/{person}", farm(HOLLOW));
    site.ask(Method::PUT, &path, Some("application/json"), &body.to_string()).await
}

async fn people(site: &Site) -> Value {
    site.get(&format!("{}/people", farm(HOLLOW))).await.ok()
}

fn id_of(people: &Value, name: &str) -> String {
    let all = people["people"].as_array().unwrap();
    all.iter().find(|one| one["name"] == name).unwrap()["id"].as_str().unwrap().to_owned()
}

#[actix_web::test]
async fn somebody_comes_by_a_link_records_and_is_let_go() {
    let site = mara().await;
    let key = key_for(&site, "crew").await;
    let asked = site.signed_out().get(&format!("/api/invitations/{key}")).await.ok();
    assert_eq!(asked, json!({"farm": "Fennick Hollow", "role": "crew", "by": "Mara Fennick"}));
    let path = format!("/api/invitations/{key}/sign-up");
    assert!(
        site.signed_out()
            .post(&path, json!({"email": "x", "name": "", "password": "short", "units": "us"}))
            .await
            .at("/password")
            .contains("10")
    );
    let arrived = site.signed_out().post(&path, newcomer("rolf@newly.example")).await;
    assert!(arrived.status.is_success(), "{}", arrived.body);
    let rolf = site.signed_out().keeping(arrived.cookie.clone());
    let note = json!({"id": Uuid::now_v7(), "about": [], "occurred_on": "2026-05-14", "payload": {"kind": "note", "text": "gate mended"}});
    rolf.post(&format!("{}/entries", farm(HOLLOW)), note.clone()).await.ok();
    // What the crew may not.
    let may_not = rolf
        .post(&format!("{}/invitations", farm(HOLLOW)), json!({"id": Uuid::now_v7(), "role": "manager", "days": 7}))
        .await;
    assert_eq!(may_not.status, StatusCode::FORBIDDEN);
    let seen = people(&rolf).await;
    assert!(seen["people"][0]["email"].is_null() && seen["invitations"] == json!([]));
    // What became of people is not struck.
    let turns = site.get(&format!("{}/entries?kind=membership", farm(HOLLOW))).await.ok();
    let turn = turns["entries"][0]["id"].as_str().unwrap().to_owned();
    let reason = json!({"id": Uuid::now_v7(), "reason": "never"});
    let struck = site.post(&format!("{}/entries/{turn}/strike", farm(HOLLOW)), reason).await;
    assert_eq!(struck.status, StatusCode::CONFLICT, "{}", struck.body);
    // Each turn is in the ledger.
    let told = site.get(&format!("{}/entries?kind=membership", farm(HOLLOW))).await.ok();
    let says: Vec<&str> = told["entries"].as_array().unwrap().iter().map(|one| one["says"].as_str().unwrap()).collect();
    assert!(says.contains(&"Invited as crew") && says.contains(&"Rolf Newly joined as crew"), "{says:?}");

    let person = id_of(&people(&site).await, "Rolf Newly");
    let go = json!({"id": Uuid::now_v7()});
    assert_eq!(put(&site, &person, go.clone()).await.status, StatusCode::NO_CONTENT);
    // Sent again it is the same; the session is dead at once, and what was written stands under its name.
    assert_eq!(put(&site, &person, go).await.status, StatusCode::NO_CONTENT);
    assert_eq!(rolf.get("/api/me").await.status, StatusCode::UNAUTHORIZED);
    let kept = site.get(&format!("{}/entries/{}", farm(HOLLOW), note["id"].as_str().unwrap())).await.ok();
    assert_eq!(kept["recorded_by_name"], "Rolf Newly");
    let again = site
        .signed_out()
        .post("/api/sign-in", json!({"email": "rolf@newly.example", "password": "long enough by far"}))
        .await;
    let back = site.signed_out().keeping(again.cookie.clone());
    assert_eq!(back.get(&format!("{}/season", farm(HOLLOW))).await.status, StatusCode::NOT_FOUND);
    // Asked once more, they come back as what they are asked as.
    let key = key_for(&site, "adviser").await;
    back.post(&format!("/api/invitations/{key}/join"), json!({})).await.ok();
    assert_eq!(back.get("/api/me").await.ok()["farms"][0]["role"], "adviser");
}

#[rstest]
#[case::used("used")]
#[case::withdrawn("withdrawn")]
#[case::its_maker_left("its maker left")]
#[actix_web::test]
async fn a_link_opens_once_and_not_when_it_was_taken_back(#[case] how: &str) {
    let site = mara().await;
    let key = key_for(&site, "crew").await;
    let path = format!("/api/invitations/{key}/sign-up");
    if how == "its maker left" {
        // A manager who is let go has no way back by a link of their own.
        let tobias = id_of(&people(&site).await, "Tobias Quill");
        put(&site, &tobias, json!({"id": Uuid::now_v7(), "role": "manager"})).await;
        let other = site.signed_out().signed_in_as("tobias@fennick.example").await;
        let mara = id_of(&people(&site).await, "Mara Fennick");
        assert_eq!(put(&other, &mara, json!({"id": Uuid::now_v7()})).await.status, StatusCode::NO_CONTENT);
        let spent = site.signed_out().get(&format!("/api/invitations/{key}")).await;
        assert_eq!(spent.status, StatusCode::CONFLICT);
        return;
    }
    if how == "used" {
        // Two at once with one link: one comes in.
        let (one, other) = (site.signed_out(), site.signed_out());
        let (one, other) = tokio::join!(
            one.post(&path, newcomer("one@newly.example")),
            other.post(&path, newcomer("other@newly.example"))
        );
        let well = [&one, &other].iter().filter(|answer| answer.status.is_success()).count();
        assert_eq!(well, 1, "{} {}", one.body, other.body);
    } else {
        let open = people(&site).await["invitations"][0]["id"].as_str().unwrap().to_owned();
        let answer = site.post(&format!("{}/invitations/{open}/withdraw", farm(HOLLOW)), json!({})).await;
        assert_eq!(answer.status, StatusCode::NO_CONTENT);
    }
    for answer in [
        site.signed_out().get(&format!("/api/invitations/{key}")).await,
        site.signed_out().post(&path, newcomer("late@newly.example")).await,
    ] {
        assert_eq!(answer.status, StatusCode::CONFLICT);
        assert!(
            answer.body["detail"].as_str().unwrap().contains("was used, canceled or has expired"),
            "{}",
            answer.body
        );
    }
    let mine = site.post(&format!("/api/invitations/{}/join", key_for(&site, "crew").await), json!({})).await;
    assert!(mine.body["detail"].as_str().unwrap().contains("you are already on this farm"), "{}", mine.body);
    assert_eq!(site.signed_out().get("/api/invitations/no-such-key").await.status, StatusCode::NOT_FOUND);
}

#[actix_web::test]
async fn a_farm_keeps_a_manager() {
    let site = mara().await;
    let me = id_of(&people(&site).await, "Mara Fennick");
    for body in [json!({"id": Uuid::now_v7()}), json!({"id": Uuid::now_v7(), "role": "crew"})] {
        let answer = put(&site, &me, body).await;
        assert_eq!(answer.status, StatusCode::CONFLICT);
        assert!(answer.body["detail"].as_str().unwrap().contains("at least one manager"), "{}", answer.body);
    }
    let tobias = id_of(&people(&site).await, "Tobias Quill");
    assert_eq!(
        put(&site, &tobias, json!({"id": Uuid::now_v7(), "role": "manager"})).await.status,
        StatusCode::NO_CONTENT
    );
    assert_eq!(put(&site, &me, json!({"id": Uuid::now_v7(), "role": "crew"})).await.status, StatusCode::NO_CONTENT);
    // Not a manager any more, they change nothing.
    assert_eq!(put(&site, &tobias, json!({"id": Uuid::now_v7()})).await.status, StatusCode::FORBIDDEN);
    let stranger = put(
        &site.signed_out().signed_in_as("tobias@fennick.example").await,
        &Uuid::now_v7().to_string(),
        json!({"id": Uuid::now_v7()}),
    )
    .await;
    assert_eq!(stranger.status, StatusCode::NOT_FOUND);
}

#[rstest]
#[case::never(json!({"id": Uuid::now_v7(), "role": "crew", "days": 0}), "/days")]
#[case::ever(json!({"id": Uuid::now_v7(), "role": "crew", "days": 4000}), "/days")]
#[case::role(json!({"id": Uuid::now_v7(), "role": "king", "days": 7}), "/role")]
#[actix_web::test]
async fn an_invitation_that_cant_be_is_refused(#[case] body: Value, #[case] pointer: &str) {
    let answer = mara().await.post(&format!("{}/invitations", farm(HOLLOW)), body).await;
    assert!(!answer.at(pointer).is_empty(), "{}", answer.body);
}
