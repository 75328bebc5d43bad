//! The air for a spray: what the station shows now, and the hours of a day by a label.

use actix_web::{App, HttpResponse, http::StatusCode, web};
use rstest::rstest;
use serde_json::{Value, json};
use uuid::Uuid;

use crate::{
    common::{Outside, farm},
    weather::{HOLLOW, mara, station},
};

async fn hours(site: &crate::common::Site, query: &str) -> Value {
    site.get(&format!("{}/spray-hours?{query}", farm(HOLLOW))).await.ok()
}

fn shares<'a>(told: &'a Value, key: &'a str) -> impl Iterator<Item = f64> + 'a {
    told["hours"].as_array().unwrap().iter().map(move |one| one[key]["value"].as_f64().unwrap())
}

#[actix_web::test]
async fn the_station_shows_the_hour_that_it_is() {
    let service = station();
    let site = mara().await.with(Some(format!("http://{}", service.addr())), 100);
    let told = site.get(&format!("{}/air", farm(HOLLOW))).await.ok();
    assert!(told["at"].as_str().unwrap().starts_with("2026-05-14T"), "{told}");
    // Its reader’s units, and what a day in May may be.
    assert_eq!((&told["wind"]["unit"], &told["temperature"]["unit"]), (&json!("mph"), &json!("degF")));
    let of = |key: &str| told[key]["value"].as_f64().unwrap();
    assert!((20.0..100.0).contains(&of("temperature")) && (0.0..30.0).contains(&of("wind")), "{told}");
    assert!((0.0..=100.0).contains(&of("humidity")), "{told}");
}

#[rstest]
#[case::error(500, "{}", "answered 500")]
#[case::no_air(200, "gone fishing", "did not send weather data")]
#[case::yesterdays(
    200,
    r#"{"at": "2026-05-13T09:00:00", "temperature": 12, "rain": 0, "radiation": 1, "humidity": 60,
    "wind": 2}"#,
    "on 2026-05-13"
)]
#[case::a_storm(
    200,
    r#"{"at": "2026-05-14T09:00:00", "temperature": 12, "rain": 0, "radiation": 1, "humidity": 60,
    "wind": 200}"#,
    "sent invalid conditions"
)]
#[actix_web::test]
async fn a_station_that_fails_is_told(#[case] status: u16, #[case] body: &'static str, #[case] why: &str) {
    let service = Outside::start(move || {
        let answer = move || async move {
            HttpResponse::build(StatusCode::from_u16(status).unwrap()).content_type("application/json").body(body)
        };
        App::new().route("/weather-station/northern-hills/now", web::get().to(answer))
    });
    let site = mara().await.with(Some(format!("http://{}", service.addr())), 100);
    let answer = site.get(&format!("{}/air", farm(HOLLOW))).await;
    assert_eq!(answer.status, StatusCode::BAD_GATEWAY, "{}", answer.body);
    assert!(answer.body["detail"].as_str().unwrap().contains(why), "{}", answer.body);
}

/// A stretch of hours by the forecast, by a day that was measured, and by nobody beyond the forecast.
#[actix_web::test]
async fn the_hours_of_a_day_come_from_who_knows_them() {
    let service = station();
    let site = mara().await.with(Some(format!("http://{}", service.addr())), 100);
    site.post(&format!("{}/station/ask", farm(HOLLOW)), json!({})).await;
    let told = hours(&site, "").await;
    assert_eq!((&told["on"], &told["from"]), (&json!("2026-05-14"), &json!("forecast")));
    assert_eq!(told["hours"].as_array().unwrap().len(), 24);
    assert!(shares(&told, "fit").all(|share| (0.0..=100.0).contains(&share)));
    // Usual limits, and said so: ten miles an hour.
    assert_eq!((&told["by_label"], told["most_wind"]["value"].as_f64().unwrap().round()), (&json!(false), 10.0));
    // Of today the hours that are left, by the farm's clock.
    let shown = site.get(&format!("{}/air", farm(HOLLOW))).await.ok();
    let now: u64 = shown["at"].as_str().unwrap()[11..13].parse().unwrap();
    assert!(told["best"].is_null() || told["best"][0].as_u64().unwrap() + 1 >= now, "{} at {now}", told["best"]);
    let measured = hours(&site, "on=2026-05-10").await;
    assert_eq!(measured["from"], "measured");
    assert!(shares(&measured, "fit").all(|share| share == 0.0 || share == 100.0), "one way that it went");
    let beyond = hours(&site, "on=2026-07-14").await;
    assert_eq!((&beyond["from"], &beyond["hours"], &beyond["best"]), (&json!("nobody"), &json!([]), &Value::Null));
    let far = site.get(&format!("{}/spray-hours?on=3026-07-14", farm(HOLLOW))).await;
    assert!(far.at("/on").contains("out of range"), "{}", far.body);
}

/// A label that allows hardly any wind leaves fewer hours than one that allows much; a fertiliser has no label.
#[actix_web::test]
async fn hours_are_held_against_the_label_of_the_product() {
    let service = station();
    let site = mara().await.with(Some(format!("http://{}", service.addr())), 100);
    site.post(&format!("{}/station/ask", farm(HOLLOW)), json!({})).await;
    let keep = async |payload: Value| {
        let id = Uuid::now_v7();
        let entry = json!({"id": Uuid::now_v7(), "about": [{"kind": "product", "id": id}], "occurred_on": "2026-05-02",
            "payload": payload});
        site.post(&format!("{}/entries", farm(HOLLOW)), entry).await.ok();
        id
    };
    let spray = |wind: f64| {
        json!({"kind": "product", "name": format!("within {wind}"), "nature": {"is": "spray",
            "ingredients": [{"name": "glyphosate", "content": "4 lb a gallon"}], "most_wind": {"value": wind, "unit": "mph"}}})
    };
    let (little, much) = (keep(spray(4.0)).await, keep(spray(25.0)).await);
    let (little, much) =
        (hours(&site, &format!("product={little}")).await, hours(&site, &format!("product={much}")).await);
    assert_eq!((&little["by_label"], &little["most_wind"]["value"]), (&json!(true), &json!(4.0)));
    let windy = |told: &Value| shares(told, "windy").sum::<f64>();
    assert!(windy(&little) > windy(&much) && windy(&much) == 0.0, "{} {}", windy(&little), windy(&much));
    let urea = keep(json!({"kind": "product", "name": "urea", "nature": {"is": "fertiliser",
        "analysis": {"n": {"value": 46, "unit": "%"}}}}))
    .await;
    let none = site.get(&format!("{}/spray-hours?product={urea}", farm(HOLLOW))).await;
    assert_eq!(none.status, StatusCode::NOT_FOUND);
}
