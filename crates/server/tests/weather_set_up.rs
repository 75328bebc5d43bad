//! How weather comes to a farm: a station set up, files read in, a climate table.

use crate::{
    common::{Answer, Outside, Site, farm, mix},
    weather::{HOLLOW, MARA, band, mara, station},
};
use actix_web::{
    App,
    http::{Method, StatusCode},
};
use rstest::rstest;
use serde_json::{Value, json};
use uuid::Uuid;

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
    assert!(stopped["findings"][0]["detail"].as_str().unwrap().contains("is unusual"));
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
    assert!(put(station(95.0)).await.at("/latitude").contains("enter −90 to 90"));
    let version = put(station(43.0)).await.ok()["version"].clone();
    // The second of two who looked at the same is told what the first one wrote, in units of their own.
    let mut late = station(44.0);
    late["after"] = json!(version.as_i64().unwrap() - 1);
    let told = put_station_after(&site, &farm(HOLLOW), late).await;
    assert_eq!((told.status, &told.body["type"]), (StatusCode::CONFLICT, &json!("/problems/overtaken")));
    let detail = told.body["detail"].as_str().unwrap();
    assert!(detail.contains("43\u{b0} north") && detail.contains("elevation 984.3 ft"), "{detail}");
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
    assert!(refused.at("/payload/months/3/lowest").contains("must be below maximum"), "{}", refused.body);
    let told = site.post(&format!("{farm}/entries"), entry(usual())).await.ok();
    let view = site.get(&format!("{farm}/weather?from={year}-01-01&to={year}-12-31")).await.ok();
    assert_eq!((&view["basis"], &view["usual"]), (&json!("normals"), &told["id"]));
    let curve = windows(&site).await["windows"][0]["value"]["curve"].clone();
    assert_eq!(curve["basis"], "normals");
    // Nothing that looks at this year stumbles over its not being known.
    for page in ["season".to_owned(), format!("fields/{field}/irrigation"), format!("fields/{field}/ground")] {
        site.get(&format!("{farm}/{page}")).await.ok();
    }
    // The working says the same: made years, worth ten, and the interval that the curve is drawn with.
    let ways = windows(&site).await["windows"].as_array().unwrap().clone();
    let answer = ways.into_iter().find(|one| one["value"]["window"] == "spring").unwrap();
    let curve = answer["value"]["curve"].clone();
    let working = answer["working"].to_string();
    assert!(working.contains("years they are worth") && working.contains("from average weather"), "{working}");
    let from: jiff::civil::Date = curve["from"].as_str().unwrap().parse().unwrap();
    let day = (jiff::civil::date(year + 1, 5, 10) - from).get_days() as usize;
    let line = |name: &str| {
        let lines = answer["working"]["lines"].as_array().unwrap();
        let line = lines.iter().find(|line| line["name"] == name).unwrap_or_else(|| panic!("{name}: {working}"));
        line["value"]["value"].as_f64().unwrap() / if line["value"]["unit"] == "%" { 100.0 } else { 1.0 }
    };
    for (end, name) in [("low", "lower end"), ("high", "upper end")] {
        let drawn = curve[end][day].as_f64().unwrap();
        assert!((line(name) - drawn).abs() < 6e-4, "{name}: {} beside {drawn}", line(name));
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

/// What is kept of a farm at hand is not told of the place where it lay before: a server that knows nothing of it yet
/// tells the same.
#[actix_web::test]
async fn a_farm_that_is_moved_is_seen_from_where_it_lies() {
    let (site, id) = owner_of(Site::empty().await).await;
    let farm = format!("/api/farms/{id}");
    let (field, stand) = (Uuid::now_v7(), Uuid::now_v7());
    let area = json!({"id": field, "name": "Home", "area": {"value": 4, "unit": "ha"}});
    site.post(&format!("{farm}/fields"), area).await.ok();
    let today = site.get("/api/me").await.ok()["farms"][0]["today"].as_str().unwrap().to_owned();
    let year: i16 = today[..4].parse().unwrap();
    let normals =
        json!({"id": Uuid::now_v7(), "about": [], "occurred_on": format!("{year}-01-01"), "payload": usual()});
    site.post(&format!("{farm}/entries"), normals).await.ok();
    let mut cover = mix()["cover"].clone();
    cover["lots"] = json!([]);
    let choices = json!({"goal": "hay", "sow_on": format!("{}-05-10", year + 1), "spare": {"value": 5, "unit": "%"},
        "cover": cover});
    let start = json!({"id": stand, "entry": Uuid::now_v7(), "field": field, "choices": choices});
    site.post(&format!("{farm}/stands"), start).await.ok();
    let season = async |site: &Site| site.get(&format!("{farm}/season")).await.ok();
    let before = season(&site).await;
    let body = json!({"id": Uuid::now_v7(), "after": 1, "facts": {"name": "Somewhere", "latitude": -36.0, "longitude": 4.0,
        "elevation": {"value": 1900, "unit": "m"}, "time_zone": "Europe/Brussels"}});
    site.ask(Method::PUT, &farm, Some("application/json"), &body.to_string()).await.ok();
    let after = season(&site).await;
    assert_ne!(after["strips"], before["strips"]);
    let me = site
        .signed_out()
        .post("/api/sign-in", json!({"email": "grower@example.org", "password": "long enough by far"}))
        .await;
    let fresh = Site::on(site.database.clone()).keeping(me.cookie.clone());
    assert_eq!(after["strips"], season(&fresh).await["strips"]);
    // What became of the farm is not struck: its row would not follow.
    let told = site.get(&format!("{farm}/entries?kind=farm")).await.ok();
    let turn = told["entries"][0]["id"].as_str().unwrap().to_owned();
    let strike = json!({"id": Uuid::now_v7(), "reason": "never"});
    assert_eq!(site.post(&format!("{farm}/entries/{turn}/strike"), strike).await.status, StatusCode::CONFLICT);
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
    assert!(ask(&site, &farm(HOLLOW)).await.to_string().contains("does not know that station, or lacks the data"));
    let refused = put_station(&site, &farm(HOLLOW), named("../secrets?x=1")).await;
    assert!(refused.at("/code").contains("letters, digits"));

    let (real, id) = owner_of(Site::empty().await.with(address, 100)).await;
    let path = format!("/api/farms/{id}");
    put_station(&real, &path, named("northern-hills")).await.ok();
    assert!(ask(&real, &path).await.to_string().contains("is simulated and works only on practice farms"));
    let weather = real.get(&format!("{path}/weather?from=2026-01-01&to=2026-01-31")).await.ok();
    assert!(weather["band"].is_null(), "not one made-up day was taken");
    let alone = mara().await;
    assert!(
        put_station(&alone, &farm(HOLLOW), named("northern-hills")).await.at("/code").contains("no weather service")
    );
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

/// A made-up weight beside real seed is none; on a practice farm it is.
#[actix_web::test]
async fn a_simulated_scale_weighs_for_no_real_farm() {
    let scale = Outside::start(|| App::new().configure(stand_ins::scale::routes));
    let address = format!("http://{}", scale.addr());
    let (site, id) = owner_of(Site::empty().await.with(Some(address.clone()), 100)).await;
    let refused = site.get(&format!("/api/farms/{id}/scale")).await;
    assert_eq!(refused.status, StatusCode::BAD_GATEWAY);
    assert!(refused.body.to_string().contains("is simulated and works only on practice farms"), "{}", refused.body);
    assert_eq!(site.get("/api/me").await.ok()["farms"][0]["scale"], false);
    let practice = Site::demo().await.with(Some(address), 100).signed_in_as("mara@fennick.example").await;
    assert!(practice.get(&format!("{}/scale", farm(HOLLOW))).await.ok()["value"].as_f64().unwrap() >= 0.0);
}
