//! Weather over HTTP: odds that follow what is inked, and a station that falls silent.

use std::time::Duration;

use crate::common::{Outside, Site, farm, lb, mix, of};
use actix_web::{App, HttpResponse, http::StatusCode, web};
use rstest::rstest;
use serde_json::{Value, json};
use stand_ins::weather_station::{self, Stations};
use uuid::Uuid;

pub(crate) const HOLLOW: &str = "fennick-hollow";
pub(crate) const MARA: &str = "mara@fennick.example";

pub(crate) fn station() -> Outside {
    Outside::start(|| App::new().configure(|config| weather_station::routes(config, &Stations::default())))
}

pub(crate) async fn mara() -> Site {
    Site::demo().await.signed_in_as(MARA).await
}

pub(crate) async fn band(site: &Site, from: &str, to: &str) -> Value {
    site.get(&format!("{}/weather?from={from}&to={to}", farm(HOLLOW))).await.ok()
}

fn alfalfa(on: &str) -> Value {
    let mut choices = mix();
    choices["cover"]["lots"] = json!([]);
    choices["cover"]["mix"]["members"] = json!([{"crop": "alfalfa", "rate": lb(18.0)}]);
    choices["sow_on"] = on.into();
    choices
}

async fn windows(site: &Site, field: &str, choices: Value) -> Value {
    let body = json!({"field": of(HOLLOW, field), "choices": choices, "stake": {"value": 1000, "unit": "money"}});
    site.post(&format!("{}/windows", farm(HOLLOW)), body).await.ok()
}

#[actix_web::test]
async fn the_season_says_when_what_is_not_sown_could_be() {
    let site = mara().await;
    let season = site.get(&format!("{}/season", farm(HOLLOW))).await.ok();
    let mut asked = 0;
    for stand in season["strips"].as_array().unwrap().iter().flat_map(|strip| strip["stands"].as_array().unwrap()) {
        let sown = stand["plan"]["sown"].as_bool().unwrap();
        let sow = stand["plan"]["steps"].as_array().unwrap().iter().find(|step| step["step"] == "sow").unwrap();
        assert_eq!(stand["windows"].as_array().unwrap().is_empty(), sown, "{stand}");
        assert_eq!(sow["odds"].is_null(), sown);
        if !sown {
            let odds = &sow["odds"];
            let number = |key: &str| odds[key].as_f64().unwrap();
            assert!(number("low") <= number("odds") && number("odds") <= number("high"));
            assert!(odds["years"].as_u64().unwrap() >= 35);
            asked += 1;
        }
        let assumed = stand["plan"]["assumed"].to_string();
        assert!(!assumed.contains("no weather years"), "{assumed}");
    }
    assert!(asked >= 4, "{asked}");
}

#[actix_web::test]
async fn schools_of_timing_stand_side_by_side_and_a_chosen_one_is_read() {
    let site = mara().await;
    let view = windows(&site, "Cooper Piece", alfalfa("2026-08-12")).await;
    let keys: Vec<&str> =
        view["windows"].as_array().unwrap().iter().map(|one| one["value"]["window"].as_str().unwrap()).collect();
    assert_eq!(keys, ["late-summer", "spring"]);
    assert_eq!(view["read_by"], "late-summer");
    let answer = &view["windows"][0];
    assert!(answer["value"]["asked"].as_f64().unwrap() > 0.4, "{}", answer["value"]["asked"]);
    assert_eq!(answer["value"]["edges"]["closes"]["limited_by"], "growing-days");
    assert!(answer["working"]["lines"].as_array().unwrap().len() > 6);
    assert!(answer["value"]["cost_of_a_week"]["unit"] == "money");
    let rules = answer["value"]["curve"]["rules"].as_array().unwrap();
    let warm = rules.iter().find(|rule| rule["key"] == "soil-warm").unwrap();
    assert_eq!(warm["measured"][0]["value"], json!({"value": 50.0, "unit": "degF"}), "in the reader\u{2019}s units");
    assert_eq!(view["growing_time"][0]["crop"], "alfalfa");
    assert_eq!(view["growing_time"][0]["left"]["dry_matter"], json!([]), "its growth from seed is not known");
    assert_eq!(view["soil_so_far"]["values"].as_array().unwrap().len(), 133, "1 January to 13 May");

    let mut spring = alfalfa("2026-08-12");
    spring["timing"] = "spring".into();
    assert_eq!(windows(&site, "Cooper Piece", spring.clone()).await["read_by"], "spring");
    spring["timing"] = "when the moon is full".into();
    let body = json!({"field": of(HOLLOW, "Cooper Piece"), "choices": spring});
    let refused = site.post(&format!("{}/windows", farm(HOLLOW)), body).await;
    assert!(refused.at("/choices/timing").contains("” is not a known sowing window"));
}

/// The day's odds of a rule.
fn holds(view: &Value, window: usize, rule: &str, day: usize) -> f64 {
    let rules = view["windows"][window]["value"]["curve"]["rules"].as_array().unwrap();
    rules.iter().find(|one| one["key"] == rule).unwrap()["holds"][day].as_f64().unwrap()
}

#[actix_web::test]
async fn three_mornings_with_a_thermometer_move_the_window() {
    let site = mara().await;
    // 20 May is day 139 of the year on the axis.
    let ask = async || holds(&windows(&site, "Cooper Piece", alfalfa("2026-05-20")).await, 1, "soil-warm", 139);
    let before = ask().await;
    for (day, celsius) in [(12, 3.0), (13, 3.5), (14, 3.0)] {
        let payload = json!({"kind": "soil-temperature", "depth": {"value": 3, "unit": "cm"}, "temperature": {"value": celsius, "unit": "degC"}});
        let entry = json!({"id": Uuid::now_v7(), "about": [{"kind": "field", "id": of(HOLLOW, "Cooper Piece")}], "occurred_on": format!("2026-05-{day}"), "payload": payload});
        site.post(&format!("{}/entries", farm(HOLLOW)), entry).await.ok();
    }
    let after = ask().await;
    assert!(after < before - 0.1, "{before} to {after}");
    // Another field's window stays where it was.
    let elsewhere = windows(&site, "Sheep Hill", alfalfa("2026-05-20")).await;
    assert!(holds(&elsewhere, 1, "soil-warm", 139) > after);
}

#[actix_web::test]
async fn the_fields_own_gauge_wins_over_the_station() {
    let site = mara().await;
    let ask = async || holds(&windows(&site, "Cooper Piece", alfalfa("2026-05-14")).await, 1, "workable", 133);
    let before = ask().await;
    for day in 11..=14 {
        let payload = json!({"kind": "rain-gauge", "rain": {"value": 45, "unit": "mm"}});
        let entry = json!({"id": Uuid::now_v7(), "about": [{"kind": "field", "id": of(HOLLOW, "Cooper Piece")}], "occurred_on": format!("2026-05-{day}"), "payload": payload});
        site.post(&format!("{}/entries", farm(HOLLOW)), entry).await.ok();
    }
    assert!(ask().await < before, "45 mm a day keep the tractor out");
}

#[rstest]
#[case(json!({"kind": "soil-temperature", "depth": {"value": 3, "unit": "cm"}, "temperature": {"value": 80, "unit": "degC"}}), "/payload/temperature")]
#[case(json!({"kind": "soil-temperature", "depth": {"value": 3, "unit": "m"}, "temperature": {"value": 8, "unit": "degC"}}), "/payload/depth")]
#[case(json!({"kind": "rain-gauge", "rain": {"value": 400, "unit": "mm"}}), "/payload/rain")]
#[case(json!({"kind": "irrigation", "depth": {"value": 0, "unit": "mm"}}), "/payload/depth")]
#[actix_web::test]
async fn a_reading_that_cannot_be_is_refused(#[case] payload: Value, #[case] pointer: &str) {
    let site = mara().await;
    let entry = json!({"id": Uuid::now_v7(), "about": [{"kind": "field", "id": of(HOLLOW, "Cooper Piece")}], "occurred_on": "2026-05-14", "payload": payload});
    assert!(!site.post(&format!("{}/entries", farm(HOLLOW)), entry).await.at(pointer).is_empty());
}

#[actix_web::test]
async fn the_band_is_this_year_against_the_others() {
    let site = mara().await;
    let view = band(&site, "2026-01-01", "2026-12-31").await;
    let of_band = |key: &str| {
        let series = &view["band"][key];
        series.get("values").unwrap_or(series).as_array().unwrap().clone()
    };
    for key in ["low", "middle", "high", "temperature", "rain", "soil", "frost", "forecast_low"] {
        assert_eq!(of_band(key).len(), 365, "{key}");
    }
    assert!(of_band("temperature")[132].is_number() && of_band("temperature")[133].is_null(), "known up to yesterday");
    assert!(of_band("forecast_high")[134].is_number() && of_band("forecast_high")[160].is_null());
    let unit = |key: &str| view["band"][key]["unit"].clone();
    assert_eq!((unit("low"), unit("rain"), &view["rain_so_far"]["unit"]), (json!("degF"), json!("in"), &json!("in")));
    assert!(of_band("middle")[196].as_f64().unwrap() > 60.0, "July in \u{b0}F");
    assert_eq!(view["frost"].as_array().unwrap().len(), 3);
    let too_long = site.get(&format!("{}/weather?from=2020-01-01&to=2026-12-31", farm(HOLLOW))).await;
    assert!(too_long.at("/to").contains("days; enter 1"));

    let highland = site.signed_out().signed_in_as("lucia@sereno.example").await;
    let view = highland.get(&format!("{}/weather?from=2026-01-01&to=2026-06-30", farm("alto-sereno"))).await.ok();
    assert_eq!((&view["band"]["low"]["unit"], &view["band"]["rain"]["unit"]), (&json!("degC"), &json!("mm")));
    assert_eq!(view["frost"], json!([]), "frost is not known there, and not spoken of");
}

#[actix_web::test]
async fn the_clock_unfolds_the_weather() {
    let service = station();
    let site = Site::demo().await.with(Some(format!("http://{}", service.addr())), 100).signed_in_as(MARA).await;
    site.post(&format!("{}/clock", farm(HOLLOW)), json!({"day": "2026-06-03"})).await.ok();
    let view = band(&site, "2026-05-01", "2026-06-30").await;
    let station = &view["station"];
    assert_eq!(
        (&station["last"], &station["days_behind"], &station["heard_on"]),
        (&json!("2026-06-02"), &json!(0), &json!("2026-06-03"))
    );
    assert_eq!(station["forecast_from"], "2026-06-03");
    assert!(
        view["band"]["temperature"]["values"][32].is_number() && view["band"]["temperature"]["values"][33].is_null()
    );
    let hours = site.get(&format!("{}/weather/hours?from=2026-06-01&to=2026-06-03", farm(HOLLOW))).await.ok();
    let series = |key: &str| hours[key].get("values").unwrap_or(&hours[key]).as_array().unwrap();
    for key in ["temperature", "rain", "humidity", "wind"] {
        let heard: Vec<bool> = series(key).iter().map(|value| value.is_number()).collect();
        assert_eq!(heard, [vec![true; 48], vec![false; 24]].concat(), "{key}: up to yesterday");
    }
    assert_eq!((&hours["temperature"]["unit"], &hours["wind"]["unit"]), (&json!("degF"), &json!("mph")));
    // The coldest hour of a day is its lowest temperature, or near it.
    let coldest = series("temperature")[..24].iter().map(|value| value.as_f64().unwrap()).fold(f64::INFINITY, f64::min);
    let mean = view["band"]["temperature"]["values"][31].as_f64().unwrap();
    assert!((mean - 30.0..mean).contains(&coldest), "{coldest} \u{b0}F in a day of {mean} \u{b0}F");
}

#[actix_web::test]
async fn the_hours_of_the_season_are_kept_however_far_the_clock_leaps() {
    let service = station();
    let site = Site::demo().await.with(Some(format!("http://{}", service.addr())), 100).signed_in_as(MARA).await;
    site.post(&format!("{}/clock", farm(HOLLOW)), json!({"day": "2026-08-20"})).await.ok();
    for (day, count) in
        [("2025-12-31", 0), ("2026-01-01", 24), ("2026-05-14", 24), ("2026-06-30", 24), ("2026-08-19", 24)]
    {
        let hours = site.get(&format!("{}/weather/hours?from={day}&to={day}", farm(HOLLOW))).await.ok();
        let heard = hours["temperature"]["values"].as_array().unwrap().iter().filter(|hour| hour.is_number()).count();
        assert_eq!(heard, count, "{day}");
    }
}

#[actix_web::test]
async fn a_window_opens_at_each_persons_own_odds() {
    let site = mara().await;
    let edges = async |site: &Site| {
        let season = site.get(&format!("{}/season", farm(HOLLOW))).await.ok();
        let strips = season["strips"].as_array().unwrap().clone();
        let windows = strips
            .iter()
            .flat_map(|strip| strip["stands"].as_array().unwrap())
            .flat_map(|stand| stand["windows"].as_array().unwrap());
        let days: Vec<String> =
            windows.filter_map(|one| one["edges"]["opens"]["on"].as_str().map(str::to_owned)).collect();
        days
    };
    let (ines, before) = (site.signed_out().signed_in_as("ines@advice.example").await, edges(&site).await);
    assert_eq!(edges(&ines).await, before);
    let me = site.patch("/api/me", json!({"odds_level": {"value": 30, "unit": "%"}})).await.ok();
    assert_eq!(me["odds_level"], json!({"value": 30.0, "unit": "%"}));
    let easier = edges(&site).await;
    assert!(easier.len() >= before.len() && easier != before, "{before:?} {easier:?}");
    assert_eq!(edges(&ines).await, before, "hers stay hers");
    // What the person set is what is asked, unless the question says otherwise.
    let asked = windows(&site, "Cooper Piece", alfalfa("2026-08-12")).await;
    let said = site
        .post(
            &format!("{}/windows", farm(HOLLOW)),
            json!({"field": of(HOLLOW, "Cooper Piece"),
        "choices": alfalfa("2026-08-12"), "level": {"value": 0.3, "unit": "1"}}),
        )
        .await
        .ok();
    assert_eq!(asked["windows"][0]["value"]["edges"], said["windows"][0]["value"]["edges"]);
    for percent in [0.0, 100.0] {
        let refused = site.patch("/api/me", json!({"odds_level": {"value": percent, "unit": "%"}})).await;
        assert!(refused.at("/odds_level").contains("99%"), "{percent}");
    }
}

/// How long a service takes for its answer, and how long the server waits for one: far enough apart
/// that a busy machine changes nothing.
const PROMPT: Duration = Duration::ZERO;
const SLOW: Duration = Duration::from_secs(120);

fn patience(wait: Duration) -> Duration {
    Duration::from_secs(if wait == SLOW { 1 } else { 60 })
}

/// A weather service that answers every question with one thing, or takes its time.
fn bad_service(status: u16, body: &'static str, wait: Duration) -> Outside {
    Outside::start(move || {
        let answer = move || async move {
            tokio::time::sleep(wait).await;
            HttpResponse::build(StatusCode::from_u16(status).unwrap()).content_type("application/json").body(body)
        };
        App::new().default_service(web::to(answer))
    })
}

const UPSIDE_DOWN: &str = r#"[{"date": "2026-05-14", "tmin": 20, "tmax": 5, "rain": 0}]"#;
const OTHER_DAYS: &str = r#"[{"date": "2031-05-14", "tmin": 2, "tmax": 5, "rain": 0}]"#;

#[rstest]
#[case::error(500, "{}", PROMPT, "answered 500")]
#[case::nonsense(200, "sunny", PROMPT, "did not send weather data")]
#[case::impossible(200, UPSIDE_DOWN, PROMPT, "sent invalid days")]
#[case::not_asked_for(200, OTHER_DAYS, PROMPT, "sent invalid days")]
#[case::slow(200, "[]", SLOW, "did not answer in time")]
#[actix_web::test]
async fn a_service_that_fails_stops_nothing(
    #[case] status: u16,
    #[case] body: &'static str,
    #[case] wait: Duration,
    #[case] said: &str,
) {
    let service = bad_service(status, body, wait);
    let address = Some(format!("http://{}", service.addr()));
    let site = Site::demo().await.with_patience(address, 100, patience(wait)).signed_in_as(MARA).await;
    site.post(&format!("{}/clock", farm(HOLLOW)), json!({"day": "2026-05-20"})).await.ok();
    let station = band(&site, "2026-05-01", "2026-05-31").await["station"].clone();
    assert_eq!((&station["last"], &station["days_behind"]), (&json!("2026-05-13"), &json!(6)));
    assert!(station["trouble"].as_str().unwrap().contains(said), "{station}");
    let asked = site.post(&format!("{}/station/ask", farm(HOLLOW)), json!({})).await;
    assert_eq!(asked.status, StatusCode::BAD_GATEWAY);
    // Odds go on, with each year standing in for the days not heard.
    let view = windows(&site, "Cooper Piece", alfalfa("2026-08-12")).await;
    assert!(view["windows"][0]["value"]["asked"].as_f64().unwrap() > 0.3);
    site.get(&format!("{}/season", farm(HOLLOW))).await.ok();
}

#[actix_web::test]
async fn the_soil_probe_is_read_and_inked_once() {
    let service = station();
    let site = Site::demo().await.with(Some(format!("http://{}", service.addr())), 100).signed_in_as(MARA).await;
    let path = format!("{}/fields/{}/probe", farm(HOLLOW), of(HOLLOW, "Fox Cover"));
    let body = json!({"id": Uuid::now_v7(), "depth": {"value": 2, "unit": "in"}});
    let inked = site.post(&path, body.clone()).await.ok();
    assert_eq!((&inked["payload"]["kind"], &inked["via"]), (&json!("soil-temperature"), &json!("stand-in")));
    assert_eq!(site.post(&path, body).await.ok()["id"], inked["id"]);
    let deep = json!({"id": Uuid::now_v7(), "depth": {"value": 3, "unit": "m"}});
    assert!(site.post(&path, deep).await.at("/depth").contains("enter "));
    let silent = mara().await;
    let answer = silent.post(&path, json!({"id": Uuid::now_v7(), "depth": {"value": 2, "unit": "in"}})).await;
    assert_eq!(answer.status, StatusCode::BAD_GATEWAY);
}

#[actix_web::test]
async fn water_is_advised_where_it_can_be_brought() {
    let site = mara().await;
    let ask =
        async |field: &str| site.get(&format!("{}/fields/{}/irrigation", farm(HOLLOW), of(HOLLOW, field))).await.ok();
    let young = ask("Gravel Bench").await;
    let every = young["advice"]["value"]["every_days"].as_f64().unwrap();
    assert!((1.0..6.0).contains(&every), "{every}: seedlings get light water often");
    let dry = ask("Long Acre").await;
    assert_eq!((&dry["irrigated"], &dry["advice"]), (&json!(false), &Value::Null));

    let south = site.signed_out().signed_in_as("joaquin@ceibo.example").await;
    let path = format!("{}/fields/{}/irrigation", farm("chacra-del-ceibo"), of("chacra-del-ceibo", "La Loma"));
    let before = south.get(&path).await.ok()["advice"]["value"].clone();
    assert!(before["every_days"].is_null() && before["readily_available"]["unit"] == "mm");
    let payload = json!({"kind": "irrigation", "depth": {"value": 40, "unit": "mm"}});
    let entry = json!({"id": Uuid::now_v7(), "about": [{"kind": "field", "id": of("chacra-del-ceibo", "La Loma")}], "occurred_on": "2026-05-13", "payload": payload});
    south.post(&format!("{}/entries", farm("chacra-del-ceibo")), entry).await.ok();
    let after = south.get(&path).await.ok()["advice"]["value"].clone();
    assert!(after["missing"]["value"].as_f64().unwrap() <= before["missing"]["value"].as_f64().unwrap());
}

#[actix_web::test]
async fn odds_are_asked_of_what_is_there() {
    let site = mara().await;
    let path = format!("{}/windows", farm(HOLLOW));
    let body = |field: Uuid, level: f64| json!({"field": field, "choices": alfalfa("2026-08-12"), "level": {"value": level, "unit": "%"}});
    let nowhere = site.post(&path, body(Uuid::now_v7(), 50.0)).await;
    assert_eq!(nowhere.status, StatusCode::NOT_FOUND);
    assert!(site.post(&path, body(of(HOLLOW, "Cooper Piece"), 130.0)).await.at("/level").contains("99%"));
    let mut far = body(of(HOLLOW, "Cooper Piece"), 50.0);
    far["choices"]["sow_on"] = "2050-05-01".into();
    assert!(site.post(&path, far).await.at("/choices/sow_on").contains("within the next ten years"));
    // The level decides how long the window stands open, and nothing else.
    let open = async |level: f64| {
        let view = site.post(&path, body(of(HOLLOW, "Cooper Piece"), level)).await.ok();
        let value = view["windows"][0]["value"].clone();
        let edge = |name: &str| value["edges"][name]["on"].as_str().map(str::to_owned);
        (edge("opens"), edge("closes"), value["asked"].clone())
    };
    let (easy, strict) = (open(20.0).await, open(60.0).await);
    assert!(easy.0 < strict.0 && easy.1 > strict.1, "{easy:?} {strict:?}");
    assert_eq!(easy.2, strict.2);
}

#[actix_web::test]
async fn a_sowing_of_another_year_is_asked_of_the_years_alone() {
    let site = mara().await;
    let next = windows(&site, "Cooper Piece", alfalfa("2028-08-12")).await;
    let value = &next["windows"][0]["value"];
    assert_eq!(value["curve"]["from"], "2028-01-01");
    assert!(value["asked"].as_f64().unwrap() > 0.3);
    assert_eq!(next["soil_so_far"]["values"], json!([]), "nothing is known of it");
}

#[actix_web::test]
async fn a_field_that_is_not_fit_yet_is_not_sown_before_it_is() {
    let site = mara().await;
    // North Ledge was sprayed with what outlives its crop; see the readiness check.
    let view = windows(&site, "North Ledge", alfalfa("2026-08-12")).await;
    let rules = view["windows"][0]["value"]["curve"]["rules"].as_array().unwrap();
    let fit = rules.iter().find(|rule| rule["key"] == "not-before");
    let body = json!({"field": of(HOLLOW, "North Ledge"), "choices": alfalfa("2026-08-12")});
    let plan = site.post(&format!("{}/plan", farm(HOLLOW)), body).await.ok();
    let earliest = plan["readiness"]["value"]["earliest"].clone();
    assert_eq!(fit.is_some(), earliest.is_string(), "{earliest}");
    if let Some(fit) = fit {
        assert_eq!(fit["name"], "field ready by then");
        assert_eq!(view["windows"][0]["value"]["asked"], 0.0);
    }
}

#[rstest]
#[case("weather/hours", "/from", "enter a date")]
#[case("weather?from=2026-01-01", "/to", "enter a date")]
#[case("weather?to=2026-01-01", "/from", "enter a date")]
#[case("weather?from=20260101&to=2026-01-31", "/from", "year-month-day")]
#[case("weather?from=2026-01-01&to=2026-01-31T12:00", "/to", "year-month-day")]
#[actix_web::test]
async fn a_question_without_its_day_is_refused(#[case] path: &str, #[case] pointer: &str, #[case] why: &str) {
    let site = mara().await;
    assert!(site.get(&format!("{}/{path}", farm(HOLLOW))).await.at(pointer).contains(why));
    let stranger = site.signed_out().signed_in_as("joaquin@ceibo.example").await;
    assert_eq!(stranger.get(&format!("{}/{path}", farm(HOLLOW))).await.status, StatusCode::NOT_FOUND);
}

#[actix_web::test]
async fn what_was_read_is_struck_and_counts_no_more() {
    let site = mara().await;
    let ask = async || holds(&windows(&site, "Cooper Piece", alfalfa("2026-05-20")).await, 1, "soil-warm", 139);
    let before = ask().await;
    let payload = json!({"kind": "soil-temperature", "depth": {"value": 3, "unit": "cm"}, "temperature": {"value": 2, "unit": "degC"}});
    let id = Uuid::now_v7();
    let entry = json!({"id": id, "about": [{"kind": "field", "id": of(HOLLOW, "Cooper Piece")}], "occurred_on": "2026-05-14", "payload": payload});
    site.post(&format!("{}/entries", farm(HOLLOW)), entry).await.ok();
    assert!(ask().await < before);
    let strike = json!({"id": Uuid::now_v7(), "reason": "read in the shade of the barn"});
    site.post(&format!("{}/entries/{id}/strike", farm(HOLLOW)), strike).await.ok();
    assert_eq!(ask().await, before);
}

#[actix_web::test]
async fn the_adviser_looks_and_changes_nothing() {
    let service = station();
    let site = Site::demo().await.with(Some(format!("http://{}", service.addr())), 100);
    let ines = site.signed_in_as("ines@advice.example").await;
    assert!(windows(&ines, "Cooper Piece", alfalfa("2026-08-12")).await["windows"].as_array().unwrap().len() == 2);
    for path in ["station/ask".to_owned(), format!("fields/{}/probe", of(HOLLOW, "Fox Cover"))] {
        let body = json!({"id": Uuid::now_v7(), "depth": {"value": 2, "unit": "in"}});
        let answer = ines.post(&format!("{}/{path}", farm(HOLLOW)), body).await;
        assert_eq!(answer.status, StatusCode::FORBIDDEN, "{path}");
    }
    let out = ines.get(&format!("{}/weather/record.csv", farm(HOLLOW))).await;
    assert_eq!(out.status, StatusCode::OK, "what may be read may be taken along");
}
