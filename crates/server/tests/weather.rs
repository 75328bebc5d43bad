//! Weather over HTTP: odds that follow what is inked, files, and a station that falls silent.

use std::time::Duration;

use crate::common::{Answer, Site, farm, lb, mix, of};
use actix_web::{
    App, HttpResponse,
    http::{Method, StatusCode},
    web,
};
use rstest::rstest;
use serde_json::{Value, json};
use stand_ins::weather_station::{self, Stations};
use uuid::Uuid;

const HOLLOW: &str = "fennick-hollow";
const MARA: &str = "mara@fennick.example";

fn station() -> actix_test::TestServer {
    actix_test::start(|| App::new().configure(|config| weather_station::routes(config, &Stations::default())))
}

async fn mara() -> Site {
    Site::demo().await.signed_in_as(MARA).await
}

async fn band(site: &Site, from: &str, to: &str) -> Value {
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
    let body = json!({"field": of(HOLLOW, field), "choices": choices, "stake": {"value": 1000, "unit": "USD"}});
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
    assert!(answer["value"]["cost_of_a_week"]["unit"] == "USD");
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
    assert!(refused.at("/choices/timing").contains("no way of timing"));
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
    assert!(too_long.at("/to").contains("are told"));

    let highland = site.signed_out().signed_in_as("lucia@sereno.example").await;
    let view = highland.get(&format!("{}/weather?from=2026-01-01&to=2026-06-30", farm("alto-sereno"))).await.ok();
    assert_eq!((&view["band"]["low"]["unit"], &view["band"]["rain"]["unit"]), (&json!("degC"), &json!("mm")));
    assert_eq!(view["frost"], json!([]), "frost is not known there, and not spoken of");
}

/// As the page does: after the version that is there.
async fn put_station(site: &Site, farm: &str, mut body: Value) -> Answer {
    let seen = site.get(&format!("{farm}/weather?from=2026-01-01&to=2026-01-31")).await.ok();
    body["after"] = seen["station"]["version"].clone();
    put_station_after(site, farm, body).await
}

async fn put_station_after(site: &Site, farm: &str, body: Value) -> Answer {
    site.ask(Method::PUT, &format!("{farm}/station"), Some("application/json"), &body.to_string()).await
}

fn file(text: &str, dry_run: bool) -> Value {
    json!({"id": Uuid::now_v7(), "file_name": "ridge.csv", "text": text, "dry_run": dry_run})
}

#[actix_web::test]
async fn a_file_is_looked_at_and_then_taken_whole() {
    let site = mara().await;
    let path = format!("{}/weather/files", farm(HOLLOW));
    let text = "date,tmin,tmax,rain\n1984-12-30,-5,1,0\n1984-12-31,-6,2,3\n1985-01-01,-30,-20,0\n";
    let looked = site.post(&path, file(text, true)).await.ok();
    assert_eq!(
        (&looked["new_days"], &looked["different_days"], &looked["written"]),
        (&json!(2), &json!(1), &json!(false))
    );
    let stopped = site.post(&path, file(&text.replace("-6,2,3", "-6,2,430"), false)).await.ok();
    assert_eq!((&stopped["stopped"], &stopped["written"]), (&json!(true), &json!(false)));
    assert!(stopped["findings"][0]["detail"].as_str().unwrap().contains("far from usual"));
    let before = band(&site, "2026-05-01", "2026-05-02").await["station"]["first"].clone();
    assert_eq!(before, "1985-01-01", "nothing was taken so far");
    assert_eq!(site.post(&path, file(text, false)).await.ok()["written"], true);
    assert_eq!(band(&site, "2026-05-01", "2026-05-02").await["station"]["first"], "1984-12-30");
    let imports = site.get(&path).await.ok();
    assert_eq!((&imports["imports"][0]["added"], &imports["imports"][0]["by"]), (&json!(2), &json!("Mara Fennick")));
    // The same id with other content is no second helping of the same.
    let mut again = file(text, false);
    site.post(&path, again.clone()).await.ok();
    again["text"] = json!(text.replace("-5,1,0", "-4,1,0"));
    assert_eq!(site.post(&path, again).await.status, StatusCode::CONFLICT);
    // What it wrote goes out again in the same form.
    let out = site.get(&format!("{}/weather/record.csv", farm(HOLLOW))).await;
    assert_eq!((out.status, out.kind.as_str()), (StatusCode::OK, "text/csv; charset=utf-8"));
}

#[actix_web::test]
async fn who_may_not_and_what_is_too_much() {
    let site = mara().await;
    let path = format!("{}/weather/files", farm(HOLLOW));
    for email in ["tobias@fennick.example", "ines@advice.example"] {
        let other = site.signed_out().signed_in_as(email).await;
        assert_eq!(other.post(&path, file("date,tmin\n", true)).await.status, StatusCode::FORBIDDEN, "{email}");
    }
    let huge = file(&"x".repeat(17 << 20), true);
    let answer = site.post(&path, huge).await;
    assert_eq!(answer.status, StatusCode::PAYLOAD_TOO_LARGE);
    assert!(site.post(&path, file("one,two\n1,2\n", true)).await.at("/text").contains("no column is a date"));
    let station =
        |latitude: f64| json!({"name": "Ridge", "latitude": latitude, "elevation": {"value": 300, "unit": "m"}});
    let put = async |body: Value| put_station(&site, &farm(HOLLOW), body).await;
    assert!(put(station(95.0)).await.at("/latitude").contains("from −90 to 90"));
    let version = put(station(43.0)).await.ok()["version"].clone();
    // The second of two who looked at the same is told what the first one wrote, in units of their own.
    let mut late = station(44.0);
    late["after"] = json!(version.as_i64().unwrap() - 1);
    let told = put_station_after(&site, &farm(HOLLOW), late).await;
    assert_eq!((told.status, &told.body["type"]), (StatusCode::CONFLICT, &json!("/problems/overtaken")));
    let detail = told.body["detail"].as_str().unwrap();
    assert!(detail.contains("43\u{b0} north") && detail.contains("984.3 ft above"), "{detail}");
}

/// What can't be read is told by its place, and quoted no longer than it helps.
#[rstest]
#[case::heading("x".repeat(15 << 20))]
#[case::value(format!("date,tmin\n2026-01-01,{}\n", "x".repeat(15 << 20)))]
#[case::day(format!("date,tmin\n{},1\n", "9".repeat(15 << 20)))]
#[case::names(format!("date,tmin{}\n2026-01-01,1\n", ",a_column_of_no_use".repeat(700_000)))]
#[case::lines("date,tmin\n".to_owned() + &"nothing,much\n".repeat(1_000_000))]
#[actix_web::test]
async fn a_large_file_of_nothing_is_answered_shortly(#[case] text: String) {
    let site = mara().await;
    let answer = site.post(&format!("{}/weather/files", farm(HOLLOW)), file(&text, true)).await;
    let long = answer.body.to_string().len();
    assert!(long < 100_000, "{} with {long} letters", answer.status);
}

/// A real farm: its owner, signed in, and its id.
async fn owner_of(site: Site) -> (Site, String) {
    let owner = json!({"email": "grower@example.org", "name": "A Grower", "password": "long enough by far", "farm": "Somewhere",
        "latitude": 51.0, "longitude": 4.0, "elevation": {"value": 20, "unit": "m"}, "units": "metric"});
    let made = site.post("/api/first-visit", owner).await;
    assert!(made.status.is_success(), "{}", made.body);
    let site = site.keeping(made.cookie.clone());
    let id = site.get("/api/me").await.ok()["farms"][0]["id"].as_str().unwrap().to_owned();
    (site, id)
}

#[actix_web::test]
async fn a_farm_without_a_station_is_told_so_and_can_set_one_up() {
    let (site, id) = owner_of(Site::empty().await).await;
    let weather = site.get(&format!("/api/farms/{id}/weather?from=2026-01-01&to=2026-01-31")).await.ok();
    assert!(weather["station"].is_null() && weather["band"].is_null());
    let refused = site.post(&format!("/api/farms/{id}/weather/files"), file("date,tmin\n2020-01-01,1\n", false)).await;
    assert_eq!(refused.status, StatusCode::CONFLICT);
    let station = json!({"name": "Dyke", "latitude": 51.0, "elevation": {"value": 20, "unit": "m"}});
    put_station(&site, &format!("/api/farms/{id}"), station).await.ok();
    let taken = site
        .post(&format!("/api/farms/{id}/weather/files"), file("date;tmin;tmax;rain\n2020-01-01;1,5;4;0\n", false))
        .await
        .ok();
    assert_eq!(taken["written"], true);
    let asked = site.post(&format!("/api/farms/{id}/station/ask"), json!({})).await;
    assert_eq!(asked.status, StatusCode::CONFLICT, "it lives on files");
}

/// Twelve months of the northern hills, as a climate table prints them.
fn usual() -> Value {
    let lowest = [-9.4, -8.9, -4.4, 1.4, 7.0, 12.2, 14.8, 14.0, 10.0, 4.2, -0.4, -5.8];
    let highest = [-0.4, 1.0, 6.0, 13.6, 20.2, 24.6, 27.0, 26.1, 22.1, 15.2, 8.2, 2.0];
    let rain = [54, 50, 68, 80, 84, 98, 96, 93, 98, 92, 76, 65];
    let months: Vec<Value> = (0..12)
        .map(|month| {
            json!({"lowest": {"value": lowest[month], "unit": "degC"}, "highest": {"value": highest[month], "unit": "degC"},
                "rain": {"value": rain[month], "unit": "mm"}, "rainy_days": 12})
        })
        .collect();
    json!({"kind": "climate-normals", "months": months, "from": "table of the district"})
}

/// From an empty database to odds without a file: a field by its area, and a climate table.
#[actix_web::test]
async fn a_climate_table_gives_the_first_odds_and_a_record_takes_its_place() {
    let (site, id) = owner_of(Site::empty().await).await;
    let farm = format!("/api/farms/{id}");
    let field = Uuid::now_v7();
    let area = json!({"id": field, "name": "Home", "area": {"value": 4, "unit": "ha"}});
    assert!(site.post(&format!("{farm}/fields"), area).await.ok()["boundary"].is_null());
    let year = site.get("/api/me").await.ok()["farms"][0]["today"].as_str().unwrap()[..4].parse::<i16>().unwrap();
    let choices = json!({"goal": "hay", "sow_on": format!("{}-05-10", year + 1), "spare": {"value": 5, "unit": "%"},
        "cover": mix()["cover"]});
    let asked = json!({"field": field, "choices": choices});
    let windows = async |site: &Site| site.post(&format!("{farm}/windows"), asked.clone()).await.ok();
    assert_eq!(windows(&site).await["windows"], json!([]), "nobody has told of weather yet");
    let entry = |payload: Value| json!({"id": Uuid::now_v7(), "about": [], "occurred_on": format!("{year}-01-01"), "payload": payload});
    let mut wrong = usual();
    wrong["months"][3]["lowest"]["value"] = json!(30);
    let refused = site.post(&format!("{farm}/entries"), entry(wrong)).await;
    assert!(refused.at("/payload/months/3/lowest").contains("not below the highest"), "{}", refused.body);
    let told = site.post(&format!("{farm}/entries"), entry(usual())).await.ok();
    let view = site.get(&format!("{farm}/weather?from={year}-01-01&to={year}-12-31")).await.ok();
    assert_eq!((&view["basis"], &view["usual"]), (&json!("normals"), &told["id"]));
    let curve = windows(&site).await["windows"][0]["value"]["curve"].clone();
    assert_eq!(curve["basis"], "normals");
    // Nothing that looks at this year stumbles over its not being known.
    for page in ["season".to_owned(), format!("fields/{field}/irrigation"), format!("fields/{field}/ground")] {
        site.get(&format!("{farm}/{page}")).await.ok();
    }
    let widest = |curve: &Value| {
        let of = |key: &str| curve[key].as_array().unwrap().iter().map(|end| end.as_f64().unwrap()).collect::<Vec<_>>();
        of("high").into_iter().zip(of("low")).map(|(high, low)| high - low).fold(0.0, f64::max)
    };
    assert!(widest(&curve) > 0.44, "as wide as ten years leave it: {}", widest(&curve));
    // A record of the farm's own takes its place: twelve years of days.
    let station = json!({"name": "Dyke", "latitude": 51.0, "elevation": {"value": 20, "unit": "m"}});
    put_station(&site, &farm, station).await.ok();
    let mut text = "date,tmin,tmax,rain\n".to_owned();
    let mut day = jiff::civil::date(year - 13, 1, 1);
    while day.year() < year {
        let warm = 10.0 - 12.0 * (f64::from(day.day_of_year()) / 58.1).cos();
        text.push_str(&format!("{day},{:.1},{:.1},{}\n", warm - 5.0, warm + 5.0, day.day() % 3));
        day = day.tomorrow().unwrap();
    }
    assert_eq!(site.post(&format!("{farm}/weather/files"), file(&text, false)).await.ok()["written"], true);
    let view = site.get(&format!("{farm}/weather?from={year}-01-01&to={year}-12-31")).await.ok();
    assert_eq!((&view["basis"], &view["usual"]), (&json!("record"), &Value::Null));
    assert_eq!(windows(&site).await["windows"][0]["value"]["curve"]["basis"], "record");
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
async fn a_service_knows_a_station_by_its_name_and_makes_nothing_up_for_a_real_farm() {
    let service = station();
    let address = Some(format!("http://{}", service.addr()));
    let named =
        |code: &str| json!({"name": "Ridge", "latitude": 51.0, "elevation": {"value": 20, "unit": "m"}, "code": code});
    let site = Site::demo().await.with(address.clone(), 100).signed_in_as(MARA).await;
    let ask = async |site: &Site, farm: &str| {
        let answer = site.post(&format!("{farm}/station/ask"), json!({})).await;
        assert_eq!(answer.status, StatusCode::BAD_GATEWAY);
        answer.body
    };
    assert_eq!(put_station(&site, &farm(HOLLOW), named(" atlantis ")).await.ok()["code"], "atlantis");
    assert!(ask(&site, &farm(HOLLOW)).await.to_string().contains("knows no station of that name"));
    let refused = put_station(&site, &farm(HOLLOW), named("../secrets?x=1")).await;
    assert!(refused.at("/code").contains("letters, digits"));

    let (real, id) = owner_of(Site::empty().await.with(address, 100)).await;
    let path = format!("/api/farms/{id}");
    put_station(&real, &path, named("northern-hills")).await.ok();
    assert!(ask(&real, &path).await.to_string().contains("is a simulated one"));
    let weather = real.get(&format!("{path}/weather?from=2026-01-01&to=2026-01-31")).await.ok();
    assert!(weather["band"].is_null(), "not one made-up day was taken");
    let alone = mara().await;
    assert!(
        put_station(&alone, &farm(HOLLOW), named("northern-hills")).await.at("/code").contains("no weather service")
    );
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
        assert!(refused.at("/odds_level").contains("99 %"), "{percent}");
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
fn bad_service(status: u16, body: &'static str, wait: Duration) -> actix_test::TestServer {
    actix_test::start(move || {
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
#[case::nonsense(200, "sunny", PROMPT, "no weather")]
#[case::impossible(200, UPSIDE_DOWN, PROMPT, "can\u{2019}t be")]
#[case::not_asked_for(200, OTHER_DAYS, PROMPT, "can\u{2019}t be")]
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
    assert!(site.post(&path, deep).await.at("/depth").contains("must be from"));
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
    assert!(site.post(&path, body(of(HOLLOW, "Cooper Piece"), 130.0)).await.at("/level").contains("99 %"));
    let mut far = body(of(HOLLOW, "Cooper Piece"), 50.0);
    far["choices"]["sow_on"] = "2050-05-01".into();
    assert!(site.post(&path, far).await.at("/choices/sow_on").contains("within ten"));
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
        assert_eq!(fit["name"], "the field is fit by then");
        assert_eq!(view["windows"][0]["value"]["asked"], 0.0);
    }
}

#[actix_web::test]
async fn files_replace_only_when_asked_and_are_noted_once() {
    let site = mara().await;
    let path = format!("{}/weather/files", farm(HOLLOW));
    let text = "date,tmin,tmax,rain\n2026-05-12,-1,20,0\n";
    let first = |site: &Site| {
        let site = site.signed_out();
        async move {
            let site = site.signed_in_as(MARA).await;
            band(&site, "2026-05-12", "2026-05-12").await["band"]["temperature"]["values"][0].as_f64().unwrap()
        }
    };
    let before = first(&site).await;
    let mut body = file(text, false);
    site.post(&path, body.clone()).await.ok();
    assert_eq!(first(&site).await, before, "kept as it was");
    body["replace"] = true.into();
    assert_eq!(site.post(&path, body.clone()).await.status, StatusCode::CONFLICT, "that id is the first import");
    body["id"] = json!(Uuid::now_v7());
    site.post(&path, body.clone()).await.ok();
    site.post(&path, body.clone()).await.ok();
    assert_eq!(first(&site).await, 49.1, "9.5 \u{b0}C");
    let imports = site.get(&path).await.ok();
    assert_eq!(imports["imports"].as_array().unwrap().len(), 2, "one id, one import");
    body["file_name"] = "".into();
    assert!(site.post(&path, body).await.at("/file_name").contains("name"));
}

#[rstest]
#[case("weather/hours", "/from")]
#[case("weather?from=2026-01-01", "/to")]
#[case("weather?to=2026-01-01", "/from")]
#[actix_web::test]
async fn a_question_without_its_day_is_refused(#[case] path: &str, #[case] pointer: &str) {
    let site = mara().await;
    assert!(site.get(&format!("{}/{path}", farm(HOLLOW))).await.at(pointer).contains("which day"));
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
