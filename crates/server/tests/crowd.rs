//! More people at once than there are connections to the database: all of them are answered.

use std::{rc::Rc, time::Duration};

use crate::common::{Answer, Site, farm, lb, mix, of};
use actix_web::{http::StatusCode, rt};
use serde_json::{Value, json};
use server::sign_in;
use uuid::Uuid;

const HOLLOW: &str = "fennick-hollow";

/// One of everything that a page of the application asks for, by turns.
async fn ask(site: &Site, turn: usize) -> Answer {
    let farm = farm(HOLLOW);
    let field = of(HOLLOW, "Upper Larkin");
    let stand = of(HOLLOW, "Upper Larkin 2026-08-12");
    let tried = json!({"field": field, "choices": mix()});
    let note = json!({"id": Uuid::now_v7(), "about": [{"kind": "field", "id": field}], "occurred_on": "2026-05-10",
        "payload": {"kind": "note", "text": format!("turn {turn}")}});
    let start =
        json!({"id": Uuid::now_v7(), "entry": Uuid::now_v7(), "field": of(HOLLOW, "Sheep Hill"), "choices": mix()});
    match turn % 10 {
        0 => site.get(&format!("{farm}/stands/{stand}")).await,
        1 => site.get(&format!("{farm}/season")).await,
        2 => site.post(&format!("{farm}/plan"), tried).await,
        3 => site.get(&format!("{farm}/fields/{field}/ground")).await,
        4 => site.post(&format!("{farm}/windows"), tried).await,
        5 => site.get(&format!("{farm}/entries")).await,
        6 => site.post(&format!("{farm}/entries"), note).await,
        7 => site.post(&format!("{farm}/stands"), start).await,
        8 => site.get(&format!("{farm}/weather?from=2026-01-01&to=2026-12-31")).await,
        _ => site.get(&format!("{farm}/fields/{field}/irrigation")).await,
    }
}

/// Each of them is answered, or told to come again in a moment; and when they have gone all is as before.
async fn all_at_once(site: Site, people: usize, turn: impl Fn(usize) -> usize) {
    let site = Rc::new(site);
    let asking: Vec<_> = (0..people)
        .map(|person| {
            let (site, turn) = (site.clone(), turn(person));
            rt::spawn(async move { (turn, ask(&site, turn).await) })
        })
        .collect();
    let answered = async {
        let mut well = 0;
        for one in asking {
            let (turn, answer) = one.await.unwrap();
            match answer.status {
                StatusCode::OK => well += 1,
                StatusCode::SERVICE_UNAVAILABLE if answer.retry_after.is_some() => {}
                status => panic!("turn {turn}: {status} {}", answer.body),
            }
        }
        well
    };
    // Only a failure gets here: a request that holds one connection while it waits for a second.
    let well = tokio::time::timeout(Duration::from_secs(240), answered).await.expect("somebody waits for ever");
    assert!(well >= people.min(20), "{well} of {people} were answered");
    for turn in 0..10 {
        ask(&site, turn).await.ok();
    }
}

/// The test's pool holds four connections.
#[actix_web::test]
async fn sixteen_at_a_stands_page() {
    let site = Site::demo().await.signed_in_as("mara@fennick.example").await;
    all_at_once(site, 16, |_| 0).await;
}

#[actix_web::test]
async fn two_hundred_at_everything() {
    let site = Site::demo().await.signed_in_as("mara@fennick.example").await;
    all_at_once(site, 200, |person| person).await;
}

/// A request that waits for a second connection while it holds one would wait for itself here.
#[actix_web::test]
async fn one_connection_is_enough_for_everybody() {
    let site = Site::demo().await.on_connections(1).signed_in_as("mara@fennick.example").await;
    all_at_once(site, 20, |person| person).await;
}

/// One who lost the database in the middle of a call does not take a connection along.
#[actix_web::test]
async fn who_goes_away_in_the_middle_leaves_the_connection() {
    let site = Site::demo().await.on_connections(2).signed_in_as("mara@fennick.example").await;
    for patience in (0..40).map(Duration::from_millis) {
        let _ = tokio::time::timeout(patience, ask(&site, 6)).await;
    }
    all_at_once(site, 20, |person| person).await;
}

/// A database that has stopped in the middle, as behind somebody's forgotten lock: everybody is told to come again
/// within the limits of their waits, and when it goes on so do they.
#[actix_web::test]
async fn a_database_that_stalls_holds_nobody_for_ever() {
    let site = Rc::new(Site::demo().await.signed_in_as("mara@fennick.example").await);
    let database = site.database.clone();
    let stalled = rt::spawn(async move {
        let held = "BEGIN; LOCK TABLE memberships IN ACCESS EXCLUSIVE MODE; SELECT pg_sleep(20); COMMIT";
        database.as_owner(held).await;
    });
    // Nobody asks before the lock is there.
    site.database
        .as_owner(
            "DO $$ BEGIN FOR turn IN 1..400 LOOP
                EXIT WHEN EXISTS (SELECT 1 FROM pg_locks WHERE relation = 'memberships'::regclass AND granted
                    AND mode = 'AccessExclusiveLock');
                PERFORM pg_sleep(0.05);
            END LOOP; END $$",
        )
        .await;
    let asking: Vec<_> = (0..20)
        .map(|turn| {
            let site = site.clone();
            rt::spawn(async move { ask(&site, turn).await })
        })
        .collect();
    for one in asking {
        let answer = one.await.unwrap();
        assert_eq!(answer.status, StatusCode::SERVICE_UNAVAILABLE, "{}", answer.body);
        assert!(answer.retry_after.is_some(), "{}", answer.body);
    }
    assert!(!stalled.is_finished(), "they were to be told while it stalls");
    stalled.await.unwrap();
    ask(&site, 1).await.ok();
}

/// A decision moved by two people: the second is told, and neither is lost.
#[actix_web::test]
async fn of_two_who_move_a_sowing_the_second_is_told() {
    let site = Site::demo().await.signed_in_as("mara@fennick.example").await;
    let (farm, stand) = (farm(HOLLOW), of(HOLLOW, "Upper Larkin 2026-08-12"));
    let path = format!("{farm}/stands/{stand}");
    let seen = site.get(&path).await.ok();
    let decide = |on: &str, after: &Value| {
        let mut choices = seen["choices"].clone();
        choices["sow_on"] = json!(on);
        json!({"id": Uuid::now_v7(), "about": [{"kind": "stand", "id": stand}], "occurred_on": "2026-05-14",
            "after": after, "payload": {"kind": "choices", "choices": choices}})
    };
    let first = decide("2026-08-15", &seen["stand"]["decided"]);
    let entries = format!("{farm}/entries");
    let kept = site.post(&entries, first.clone()).await.ok();
    // Sent again it is the same decision, though another one is now the last.
    assert_eq!(site.post(&entries, first).await.ok()["id"], kept["id"]);
    let second = site.post(&entries, decide("2026-08-20", &seen["stand"]["decided"])).await;
    assert_eq!((second.status, &second.body["type"]), (StatusCode::CONFLICT, &json!("/problems/overtaken")));
    assert!(second.body["detail"].as_str().unwrap().contains("Mara Fennick"), "{}", second.body);
    assert_eq!(site.get(&path).await.ok()["choices"]["sow_on"], "2026-08-15");
    // Having seen it, one may.
    site.post(&entries, decide("2026-08-20", &kept["id"])).await.ok();
    assert_eq!(site.get(&path).await.ok()["choices"]["sow_on"], "2026-08-20");
}

/// A decision posted as an entry is checked like one that starts a stand.
#[actix_web::test]
async fn a_decision_is_checked_whichever_way_it_comes() {
    let site = Site::demo().await.signed_in_as("mara@fennick.example").await;
    let (farm, stand) = (farm(HOLLOW), of(HOLLOW, "Upper Larkin 2026-08-12"));
    let post = async |choices: Value, confirmed: bool| {
        let body = json!({"id": Uuid::now_v7(), "about": [{"kind": "stand", "id": stand}], "occurred_on": "2026-05-14",
            "confirmed": confirmed, "payload": {"kind": "choices", "choices": choices}});
        site.post(&format!("{farm}/entries"), body).await
    };
    let mut foreign = mix();
    foreign["cover"]["lots"][0]["lot"] = json!(Uuid::now_v7());
    post(foreign, true).await.at("/payload/choices/cover/lots/0/lot");
    let mut slip = mix();
    slip["cover"]["mix"]["members"][0]["rate"] = lb(240.0);
    let asked = post(slip.clone(), false).await;
    assert_eq!(asked.body["type"], "/problems/unusual");
    // In the reader's units: Mara reads pounds.
    assert!(asked.at("/payload/choices/cover/mix/members/0").contains("240 lb/ac"), "{}", asked.body);
    post(slip, true).await.ok();
}

/// What is refused is told in the units of whoever reads it.
#[actix_web::test]
async fn a_refusal_speaks_the_readers_units() {
    let told = async |email: &str, key: &str, field: &str| {
        let site = Site::demo().await.signed_in_as(email).await;
        let body = json!({"id": Uuid::now_v7(), "about": [{"kind": "field", "id": of(key, field)}],
            "occurred_on": "2026-05-10", "payload": {"kind": "rain-gauge", "rain": {"value": 400, "unit": "mm"}}});
        site.post(&format!("{}/entries", farm(key)), body).await.at("/payload/rain")
    };
    let us = told("mara@fennick.example", HOLLOW, "Sheep Hill").await;
    assert!(us.contains("15.7 in") && us.contains("11.8 in"), "{us}");
    let metric = told("joaquin@ceibo.example", "chacra-del-ceibo", "El Bajo").await;
    assert!(metric.contains("400 mm") && metric.contains("300 mm"), "{metric}");
}

/// Two sprays and three limings of a stand are five steps, each its own, on its page and on the season.
#[actix_web::test]
async fn what_is_done_again_is_a_step_again() {
    let site = Site::demo().await.signed_in_as("mara@fennick.example").await;
    let (farm, field) = (farm(HOLLOW), of(HOLLOW, "Sheep Hill"));
    let stand = Uuid::now_v7();
    let start = json!({"id": stand, "entry": Uuid::now_v7(), "field": field, "choices": mix()});
    site.post(&format!("{farm}/stands"), start).await.ok();
    let ink = async |about: Value, payload: Value| {
        let body = json!({"id": Uuid::now_v7(), "about": about, "occurred_on": "2026-05-14", "payload": payload});
        site.post(&format!("{farm}/entries"), body).await.ok();
    };
    for active in ["glyphosate", "clethodim"] {
        let spray = json!({"kind": "spray", "active": active, "label_months": 0});
        ink(json!([{"kind": "stand", "id": stand}]), spray).await;
    }
    for tons in [1.0, 1.5, 0.5] {
        let dressing = json!({"what": "lime", "product": "ground limestone", "rate": {"value": tons, "unit": "ton/ac"},
            "effective": {"fast": {"value": 50, "unit": "%"}, "slow": {"value": 20, "unit": "%"}}});
        ink(json!([{"kind": "field", "id": field}]), json!({"kind": "dressing", "dressing": dressing})).await;
    }
    let season = site.get(&format!("{farm}/season")).await.ok();
    let strips = season["strips"].as_array().unwrap();
    let strip = strips.iter().find(|strip| strip["field"]["name"] == "Sheep Hill").unwrap();
    let page = site.get(&format!("{farm}/stands/{stand}")).await.ok();
    for plan in [&page["implied"]["plan"], &strip["stands"][0]["plan"]] {
        let told = |key: &str| -> Vec<(u64, String)> {
            let steps = plan["steps"].as_array().unwrap().iter().filter(|step| step["step"] == key);
            steps
                .map(|step| (step["occurrence"].as_u64().unwrap(), step["state"]["entry"].as_str().unwrap().to_owned()))
                .collect()
        };
        for (key, times) in [("spray", 2), ("lime", 3)] {
            let steps = told(key);
            assert_eq!(steps.iter().map(|one| one.0).collect::<Vec<_>>(), (1..=times).collect::<Vec<_>>(), "{key}");
            let mut entries: Vec<_> = steps.iter().map(|one| &one.1).collect();
            entries.sort();
            entries.dedup();
            assert_eq!(entries.len() as u64, times, "each with an entry of its own");
        }
    }
}

/// Each hash takes some twenty megabytes on purpose: sixty-four strangers at the door, each at an account of its
/// own, are answered one after another and not all at once.
#[actix_web::test]
async fn sixty_four_at_the_door() {
    let site = Rc::new(Site::demo().await.with(None, 1_000));
    let knocking: Vec<_> = (0..64)
        .map(|who| {
            let site = site.clone();
            let credentials = json!({"email": format!("stranger-{who}@example.org"), "password": "let me in please"});
            rt::spawn(async move { site.post("/api/sign-in", credentials).await.status })
        })
        .collect();
    for one in knocking {
        let status = one.await.unwrap();
        // Told that it is wrong, or to come again: nobody is left standing.
        assert!([StatusCode::UNAUTHORIZED, StatusCode::SERVICE_UNAVAILABLE].contains(&status), "{status}");
    }
    // Two at once, whoever else in this process was hashing: forty megabytes, not more than a gigabyte.
    assert!((1..=2).contains(&sign_in::most_hashed_at_once()), "{}", sign_in::most_hashed_at_once());
}
