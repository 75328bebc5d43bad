//! What is one's own: the farms one founds, one's password, one's sessions.

use actix_web::http::{Method, StatusCode};
use jiff::{Timestamp, ToSpan};
use rstest::rstest;
use serde_json::{Value, json};
use server::api::{access::reset_by_operator, backups::in_folder};
use uuid::Uuid;

use crate::common::{Answer, PASSWORD, Site, farm};

const HOLLOW: &str = "fennick-hollow";
const MARA: &str = "mara@fennick.example";
const TOBIAS: &str = "tobias@fennick.example";

async fn mara() -> Site {
    Site::demo().await.signed_in_as(MARA).await
}

fn facts(name: &str) -> Value {
    json!({"name": name, "latitude": -34.5, "longitude": -56.0, "elevation": {"value": 120, "unit": "m"}})
}

async fn correct(site: &Site, path: &str, after: i64, facts: Value) -> Answer {
    let body = json!({"id": Uuid::now_v7(), "after": after, "facts": facts});
    site.ask(Method::PUT, path, Some("application/json"), &body.to_string()).await
}

#[actix_web::test]
async fn one_more_farm_is_founded_corrected_closed_and_opened_again() {
    let site = mara().await;
    let id = Uuid::now_v7();
    let new = json!({"id": id, "entry": Uuid::now_v7(), "facts": facts("Far End")});
    site.post("/api/farms", new.clone()).await.ok();
    // Sent again it is the same; with the same id and other content it is not.
    let me = site.post("/api/farms", new.clone()).await.ok();
    let mine: Vec<&str> = me["farms"].as_array().unwrap().iter().map(|one| one["name"].as_str().unwrap()).collect();
    assert_eq!(mine, ["Far End", "Fennick Hollow"]);
    let other = json!({"id": id, "entry": Uuid::now_v7(), "facts": facts("Farther End")});
    assert_eq!(site.post("/api/farms", other).await.status, StatusCode::CONFLICT);

    let path = format!("/api/farms/{id}");
    let seen = site.get(&path).await.ok();
    // The zone is that of the nearest town: Montevideo lies at 34.9 south, 56.2 west (tz database, zone1970.tab).
    assert_eq!((seen["time_zone"].as_str(), seen["version"].as_i64()), (Some("America/Montevideo"), Some(1)));
    let corrected = correct(&site, &path, 1, facts("Near End")).await.ok();
    assert_eq!((corrected["name"].as_str(), corrected["version"].as_i64()), (Some("Near End"), Some(2)));
    // Who saw the older one is told what stands there now, in their own units; said again it is the same.
    assert_eq!(correct(&site, &path, 1, facts("Near End")).await.ok()["version"], 2);
    let late = correct(&site, &path, 1, facts("Middle End")).await;
    assert_eq!(late.status, StatusCode::CONFLICT);
    assert!(
        late.body["detail"].as_str().unwrap().contains("Near End, 34.5° south, 56° west, elevation 393.7 ft"),
        "{}",
        late.body
    );

    let close = |closed: bool| json!({"id": Uuid::now_v7(), "closed": closed});
    assert!(site.post(&format!("{path}/close"), close(true)).await.ok()["closed_on"].is_string());
    site.get(&format!("{path}/season")).await.ok();
    let note = json!({"id": Uuid::now_v7(), "about": [], "occurred_on": "2026-05-14",
        "payload": {"kind": "note", "text": "gate mended"}});
    let refused = site.post(&format!("{path}/entries"), note.clone()).await;
    assert_eq!(refused.status, StatusCode::FORBIDDEN);
    assert!(
        refused.body["detail"].as_str().unwrap().contains("and is read-only; a manager can reopen it under Set-up"),
        "{}",
        refused.body
    );
    assert_eq!(correct(&site, &path, 2, facts("Nowhere")).await.status, StatusCode::FORBIDDEN);
    assert!(site.post(&format!("{path}/close"), close(false)).await.ok()["closed_on"].is_null());
    site.post(&format!("{path}/entries"), note).await.ok();

    let told = site.get(&format!("{path}/entries?kind=farm")).await.ok();
    let says: Vec<&str> = told["entries"].as_array().unwrap().iter().map(|one| one["says"].as_str().unwrap()).collect();
    let end = ["34.5° south, 56° west, elevation 393.7 ft, time zone America/Montevideo"; 2];
    let mut expected = vec![
        "Near End closed".to_owned(),
        "Near End reopened".to_owned(),
        format!("Near End, {}", end[0]),
        format!("Far End, {}", end[1]),
    ];
    let mut said: Vec<String> = says.into_iter().map(str::to_owned).collect();
    said.sort();
    expected.sort();
    assert_eq!(said, expected);
}

/// Amounts of money are kept without a currency: what they mean is not changed once there are some.
#[actix_web::test]
async fn a_farm_pays_in_its_own_money() {
    let site = mara().await;
    let id = Uuid::now_v7();
    let mut facts = facts("Far End");
    facts["currency"] = json!("EUR");
    site.post("/api/farms", json!({"id": id, "entry": Uuid::now_v7(), "facts": facts})).await.ok();
    let path = format!("/api/farms/{id}");
    let seen = site.get("/api/me").await.ok();
    let mine = seen["farms"].as_array().unwrap().iter().find(|one| one["id"] == json!(id)).unwrap();
    // South of the equator the year begins in July, where nothing else is told.
    assert_eq!((mine["currency"].as_str(), mine["year_begins"].as_i64()), (Some("EUR"), Some(7)));
    // What is invented in dollars is not offered at the same figures in euros.
    let offered = site.get(&format!("{path}/materials")).await.ok();
    assert_eq!(offered["products"], json!([]));
    assert!(offered["lime"].as_array().unwrap().iter().all(|one| one["material"]["price"].is_null()));

    facts["year_begins"] = json!(10);
    facts["currency"] = json!("ARS");
    let corrected = correct(&site, &path, 1, facts.clone()).await.ok();
    assert_eq!((corrected["currency"].as_str(), corrected["year_begins"].as_i64()), (Some("ARS"), Some(10)));
    let drill = |cost: f64| {
        let payload = json!({"kind": "machine", "name": "Drill", "machine": "drill",
            "cost": {"value": cost, "unit": "money/h"}});
        let machine = json!({"kind": "machine", "id": Uuid::now_v7()});
        json!({"id": Uuid::now_v7(), "about": [machine], "occurred_on": "2026-05-14", "payload": payload})
    };
    let dear = site.post(&format!("{path}/entries"), drill(1e12)).await;
    assert!(dear.at("/payload/cost").contains("ARS\u{a0}100000000/h"), "{}", dear.body);
    site.post(&format!("{path}/entries"), drill(90.0)).await.ok();
    facts["currency"] = json!("UYU");
    let refused = correct(&site, &path, 2, facts.clone()).await;
    assert!(refused.at("/facts/currency").contains("recorded in ARS"), "{}", refused.body);
    // Not told, it stays as it is.
    facts.as_object_mut().unwrap().remove("currency");
    assert_eq!(correct(&site, &path, 2, facts).await.ok()["currency"], "ARS");
}

#[rstest]
#[case(json!({"name": " "}), "/facts/name", "name")]
#[case(json!({"currency": "pesos"}), "/facts/currency", "use a three-letter currency code, e.g. USD or EUR")]
#[case(json!({"year_begins": 13}), "/facts/year_begins", "1–12")]
#[case(json!({"latitude": 91}), "/facts/latitude", "enter −90 to 90")]
#[case(json!({"longitude": -181}), "/facts/longitude", "°; enter −180 to 180")]
#[case(json!({"elevation": {"value": 9, "unit": "km"}}), "/facts/elevation/unit", "km")]
#[case(json!({"elevation": {"value": 9000, "unit": "m"}}), "/facts/elevation", "ft")]
#[case(json!({"time_zone": "Mars/Olympus"}), "/facts/time_zone", "” is not a known time zone; use a name such as America/New_York")]
#[actix_web::test]
async fn a_farm_that_can_not_be_is_refused(#[case] wrong: Value, #[case] pointer: &str, #[case] why: &str) {
    let site = mara().await;
    let mut facts = facts("Far End");
    facts.as_object_mut().unwrap().extend(wrong.as_object().unwrap().clone());
    let new = json!({"id": Uuid::now_v7(), "entry": Uuid::now_v7(), "facts": facts});
    let refused = site.post("/api/farms", new).await;
    assert!(refused.at(pointer).contains(why), "{}", refused.body);
}

#[actix_web::test]
async fn the_crew_does_not_close_a_farm() {
    let tobias = Site::demo().await.signed_in_as(TOBIAS).await;
    let close = json!({"id": Uuid::now_v7(), "closed": true});
    assert_eq!(tobias.post(&format!("{}/close", farm(HOLLOW)), close).await.status, StatusCode::FORBIDDEN);
    assert_eq!(correct(&tobias, &farm(HOLLOW), 1, facts("Mine")).await.status, StatusCode::FORBIDDEN);
}

async fn sign_in(site: &Site, email: &str, password: &str) -> Answer {
    site.signed_out().post("/api/sign-in", json!({"email": email, "password": password})).await
}

#[actix_web::test]
async fn a_password_is_changed_by_who_knows_it_and_other_sessions_end() {
    let desk = mara().await;
    let phone = desk.signed_out().signed_in_as(MARA).await;
    let new = |old: &str, password: &str| json!({"old": old, "password": password});
    assert!(
        desk.post("/api/me/password", new("hay", "a longer password"))
            .await
            .at("/old")
            .contains("the current password is wrong")
    );
    assert!(desk.post("/api/me/password", new(PASSWORD, "short")).await.at("/password").contains("10"));
    assert_eq!(desk.post("/api/me/password", new(PASSWORD, "a longer password")).await.status, StatusCode::NO_CONTENT);
    assert_eq!(phone.get("/api/me").await.status, StatusCode::UNAUTHORIZED);
    desk.get("/api/me").await.ok();
    assert_eq!(sign_in(&desk, MARA, PASSWORD).await.status, StatusCode::UNAUTHORIZED);
    sign_in(&desk, MARA, "a longer password").await.ok();
}

/// The strings are those that the browsers send, shortened (RFC 9110, section 10.1.5).
#[actix_web::test]
async fn one_sees_where_one_is_signed_in_and_ends_it() {
    let desk = mara().await;
    let firefox = "Mozilla/5.0 (Android 14; Mobile; rv:130.0) Gecko/130.0 Firefox/130.0";
    let phone = desk.signed_out().with_headers(&[("user-agent", firefox)]).signed_in_as(MARA).await;
    let chrome = "Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/130.0 Safari/537.36";
    let tablet = desk.signed_out().with_headers(&[("user-agent", chrome)]).signed_in_as(MARA).await;
    let list = desk.get("/api/me/sessions").await.ok();
    let all = list["sessions"].as_array().unwrap();
    let at = |device: &str| all.iter().find(|one| one["device"] == device).unwrap_or_else(|| panic!("{list}"));
    assert_eq!(all.len(), 3);
    assert_eq!(at("an unknown browser")["this"], true);
    assert_eq!(at("Firefox on Android")["this"], false);
    let id = at("Firefox on Android")["id"].clone();
    // Another's session is not one's own to end.
    let tobias = desk.signed_out().signed_in_as(TOBIAS).await;
    tobias.post("/api/me/sessions/end", json!({"id": id})).await.ok();
    phone.get("/api/me").await.ok();
    let left = desk.post("/api/me/sessions/end", json!({"id": id})).await.ok();
    assert_eq!(left["sessions"].as_array().unwrap().len(), 2);
    assert_eq!(phone.get("/api/me").await.status, StatusCode::UNAUTHORIZED);
    desk.post("/api/me/sessions/end", json!({"others": true})).await.ok();
    assert_eq!(tablet.get("/api/me").await.status, StatusCode::UNAUTHORIZED);
    desk.get("/api/me").await.ok();
    tobias.get("/api/me").await.ok();
    assert!(desk.post("/api/me/sessions/end", json!({})).await.at("/id").contains("choose"));
}

async fn person(site: &Site, name: &str) -> String {
    let people = site.get(&format!("{}/people", farm(HOLLOW))).await.ok();
    let all = people["people"].as_array().unwrap();
    all.iter().find(|one| one["name"] == name).unwrap()["id"].as_str().unwrap().to_owned()
}

async fn reset(site: &Site, name: &str) -> Answer {
    let path = format!("{}/people/{}/reset", farm(HOLLOW), person(site, name).await);
    site.post(&path, json!({"id": Uuid::now_v7()})).await
}

#[actix_web::test]
async fn a_forgotten_password_is_set_anew_by_a_link() {
    let site = mara().await;
    let lost = site.signed_out().signed_in_as(TOBIAS).await;
    let (first, key) = (reset(&site, "Tobias Quill").await.ok(), reset(&site, "Tobias Quill").await.ok());
    let path = |made: &Value| format!("/api/resets/{}", made["key"].as_str().unwrap());
    let asked = site.signed_out().get(&path(&key)).await.ok();
    assert_eq!(asked, json!({"name": "Tobias Quill", "email": TOBIAS}));
    let new = json!({"password": "remembered this time"});
    let short = site.signed_out().post(&path(&key), json!({"password": "short"})).await;
    assert!(short.at("/password").contains("10"));
    // Two at once: one of them sets it.
    let (one, other) = (site.signed_out(), site.signed_out());
    let link = path(&key);
    let (one, other) = futures_util::future::join(one.post(&link, new.clone()), other.post(&link, new.clone())).await;
    let mut statuses = [one.status, other.status];
    statuses.sort();
    assert_eq!(statuses, [StatusCode::OK, StatusCode::CONFLICT]);
    // Older sessions, other links and the old password are worth nothing.
    assert_eq!(lost.get("/api/me").await.status, StatusCode::UNAUTHORIZED);
    assert_eq!(site.signed_out().post(&path(&first), new).await.status, StatusCode::CONFLICT);
    assert_eq!(sign_in(&site, TOBIAS, PASSWORD).await.status, StatusCode::UNAUTHORIZED);
    sign_in(&site, TOBIAS, "remembered this time").await.ok();
    let told = site.get(&format!("{}/entries?kind=membership", farm(HOLLOW))).await.ok();
    let says = |n: usize| told["entries"][n]["says"].clone();
    assert_eq!(says(0), "Tobias Quill set a new password with a link");
    assert_eq!(says(1), "Password reset link made for Tobias Quill");
    assert_eq!(site.signed_out().get("/api/resets/0123").await.status, StatusCode::NOT_FOUND);
}

const SECOND: &str = "second@fennick.example";

/// What becomes of the place of the one or the other.
enum Change {
    Joins,
    Role(&'static str, &'static str),
    LetGo(&'static str),
}

async fn invite(site: &Site, to: &str, role: &str) -> String {
    let asked = json!({"id": Uuid::now_v7(), "role": role, "days": 7});
    let made = site.post(&format!("{}/invitations", farm(to)), asked).await.ok();
    made["key"].as_str().unwrap().to_owned()
}

async fn second_manager(site: &Site) -> Site {
    let key = invite(site, HOLLOW, "manager").await;
    let new = json!({"email": SECOND, "name": "Second Manager", "password": PASSWORD, "units": "us"});
    site.signed_out().post(&format!("/api/invitations/{key}/sign-up"), new).await.ok();
    site.signed_out().signed_in_as(SECOND).await
}

/// What allowed a link is asked again when it is opened: it ends with any change of the place of either at any farm.
#[rstest]
#[case::joins_another_farm(Change::Joins)]
#[case::is_made_a_manager(Change::Role(TOBIAS, "manager"))]
#[case::is_let_go(Change::LetGo(TOBIAS))]
#[case::its_maker_is_let_go(Change::LetGo(SECOND))]
#[case::its_maker_manages_no_more(Change::Role(SECOND, "crew"))]
#[actix_web::test]
async fn a_link_ends_with_what_allowed_it(#[case] change: Change) {
    let site = mara().await;
    let second = second_manager(&site).await;
    let key = reset(&second, "Tobias Quill").await.ok();
    let path = format!("/api/resets/{}", key["key"].as_str().unwrap());
    site.signed_out().get(&path).await.ok();
    let put = async |who: &str, role: Value| {
        let path = format!("{}/people/{}", farm(HOLLOW), person(&site, who).await);
        let body = json!({"id": Uuid::now_v7(), "role": role});
        site.ask(Method::PUT, &path, Some("application/json"), &body.to_string()).await.ok()
    };
    let name = |email: &str| if email == TOBIAS { "Tobias Quill" } else { "Second Manager" };
    match change {
        Change::Joins => {
            let south = site.signed_out().signed_in_as("joaquin@ceibo.example").await;
            let invited = invite(&south, "chacra-del-ceibo", "manager").await;
            let tobias = site.signed_out().signed_in_as(TOBIAS).await;
            tobias.post(&format!("/api/invitations/{invited}/join"), json!({})).await.ok();
        }
        Change::Role(who, role) => drop(put(name(who), json!(role)).await),
        Change::LetGo(who) => drop(put(name(who), Value::Null).await),
    }
    assert_eq!(site.signed_out().get(&path).await.status, StatusCode::CONFLICT);
    let taken = site.signed_out().post(&path, json!({"password": "remembered this time"})).await;
    assert_eq!(taken.status, StatusCode::CONFLICT);
    sign_in(&site, TOBIAS, PASSWORD).await.ok();
}

/// Nobody comes to a manager's account by a link of another manager: whoever runs the server makes it.
#[actix_web::test]
async fn a_managers_link_is_the_operators() {
    let site = mara().await;
    let second = second_manager(&site).await;
    let refused = reset(&second, "Mara Fennick").await;
    assert_eq!(refused.status, StatusCode::CONFLICT);
    assert!(refused.body["detail"].as_str().unwrap().contains("./ink reset"), "{}", refused.body);
    let path = format!("/api{}", reset_by_operator(&site.state.pool, "mara@fennick.example").await.unwrap());
    let came = site.signed_out();
    came.post(&path, json!({"password": "remembered this time"})).await.ok();
    assert_eq!(site.get("/api/me").await.status, StatusCode::UNAUTHORIZED);
    let told = second.get(&format!("{}/entries?kind=membership", farm(HOLLOW))).await.ok();
    assert_eq!(told["entries"][0]["says"], "Mara Fennick set a new password with a link from whoever runs the server");
    let unknown = reset_by_operator(&site.state.pool, "nobody@fennick.example").await.unwrap_err();
    assert!(unknown.to_string().contains("no account for"), "{unknown}");
}

/// A link opens all that a person may do: who manages one of two farms makes none.
#[actix_web::test]
async fn no_manager_comes_to_another_farm_by_a_link() {
    let site = mara().await;
    let refused = reset(&site, "Ines Adeyo").await;
    assert_eq!(refused.status, StatusCode::CONFLICT);
    assert!(
        refused.body["detail"]
            .as_str()
            .unwrap()
            .contains("also belongs to a farm you do not manage, so you cannot reset their password"),
        "{}",
        refused.body
    );
    let crew = site.signed_out().signed_in_as(TOBIAS).await;
    assert_eq!(reset(&crew, "Mara Fennick").await.status, StatusCode::FORBIDDEN);
}

#[test]
fn the_last_one_counts_and_other_files_do_not() {
    let folder = std::env::temp_dir().join(format!("ink-backups-{}", std::process::id()));
    std::fs::create_dir_all(&folder).unwrap();
    let now = Timestamp::now();
    assert!(in_folder(&folder, now).unwrap().late);
    std::fs::write(folder.join("notes.txt"), "x").unwrap();
    std::fs::write(folder.join("serve-2026-05-14.ink"), "copy").unwrap();
    let told = in_folder(&folder, now).unwrap();
    assert_eq!((told.kept, told.size, told.late), (1, Some(4), false));
    assert!(in_folder(&folder, now + 49.hours()).unwrap().late);
    std::fs::remove_dir_all(&folder).unwrap();
}
