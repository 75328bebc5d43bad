//! Weather in the ledger: loaded whole or not at all, each farm its own, replaced only when meant.

use agronomy::weather::{
    Day, Place,
    csv::{Finding, Level},
    generator::{Climate, Hour},
    place_normals, plus,
};
use diesel_async::SimpleAsyncConnection;
use jiff::civil::{Date, date};
use ledger::{
    Error, Pool,
    farm::Membership,
    weather::{self, Differing, Handed, Loaded, SetUp},
};
use uuid::Uuid;

use crate::common::{Pooled, database, farmed};

const HERE: Place = Place { latitude: 42.5, elevation: 380.0 };

async fn with_station() -> (Pool, Membership) {
    let pool = database().await.pool();
    let mut connection = pool.get().await.unwrap();
    let member = farmed(&mut connection, None).await;
    weather::set_station(&mut connection, &member, &set_up(" Ridge "), None).await.unwrap();
    drop(connection);
    (pool, member)
}

fn set_up(name: &str) -> SetUp {
    SetUp { name: name.to_owned(), place: HERE, code: None }
}

fn day(tmin: f64, rain: f64) -> Day {
    Day { tmin, tmax: tmin + 10.0, rain, ..Day::UNKNOWN }
}

async fn kept(pool: &Pool, member: &Membership, on: Date) -> Option<f64> {
    let mut connection = pool.get().await.unwrap();
    let station = weather::station(&mut connection, member).await.unwrap().unwrap();
    let years = weather::years(&mut connection, member, &station).await.unwrap()?;
    years.day(on).map(|day| day.tmin)
}

#[tokio::test]
async fn a_century_is_loaded_and_read_back() {
    let (pool, member) = with_station().await;
    let years = Climate::new(&place_normals("northern-hills").unwrap()).years(1, date(1920, 1, 1), date(2019, 12, 31));
    let days: Vec<(Date, Day)> =
        years.days.iter().enumerate().map(|(at, day)| (plus(years.first, at as i32), *day)).collect();
    let loaded = weather::load_days(&pool, &member, &days, Differing::Keep).await.unwrap();
    assert_eq!(loaded, Loaded { added: days.len(), different: 0 });
    let mut connection = pool.get().await.unwrap();
    let station = weather::station(&mut connection, &member).await.unwrap().unwrap();
    assert_eq!((station.name.as_str(), station.revision, station.place()), ("Ridge", 1, HERE));
    let back = weather::years(&mut connection, &member, &station).await.unwrap().unwrap();
    assert_eq!((back.first, back.days.len(), back.gaps()), (years.first, years.days.len(), 0));
    for (own, read) in years.days.iter().zip(&back.days) {
        assert!((own.tmax - read.tmax).abs() < 1e-4 && (own.rain - read.rain).abs() < 1e-4);
    }
    assert_eq!(weather::last_day(&mut connection, &member).await.unwrap(), Some(date(2019, 12, 31)));
    // Read again, nothing is new and nothing differs.
    let again = weather::load_days(&pool, &member, &days, Differing::Replace).await.unwrap();
    assert_eq!(again, Loaded::default());
}

#[tokio::test]
async fn what_is_there_is_replaced_only_when_that_is_meant() {
    let (pool, member) = with_station().await;
    let on = date(2026, 5, 1);
    let load = async |tmin: f64, differing| {
        weather::load_days(&pool, &member, &[(on, day(tmin, 0.0)), (plus(on, 1), day(5.0, 1.0))], differing)
            .await
            .unwrap()
    };
    assert_eq!(load(3.0, Differing::Look).await, Loaded { added: 2, different: 0 });
    assert_eq!(kept(&pool, &member, on).await, None, "only looked");
    load(3.0, Differing::Keep).await;
    assert_eq!(load(4.0, Differing::Look).await, Loaded { added: 0, different: 1 });
    assert_eq!(load(4.0, Differing::Keep).await, Loaded { added: 0, different: 1 });
    assert_eq!(kept(&pool, &member, on).await, Some(3.0));
    load(4.0, Differing::Replace).await;
    assert_eq!(kept(&pool, &member, on).await, Some(4.0));
}

#[tokio::test]
async fn a_load_is_whole_or_not_at_all() {
    let (pool, member) = with_station().await;
    let upside_down = Day { tmin: 9.0, tmax: 2.0, ..day(0.0, 0.0) };
    let days = [(date(2026, 5, 1), day(3.0, 0.0)), (date(2026, 5, 2), upside_down)];
    let refused = weather::load_days(&pool, &member, &days, Differing::Keep).await;
    assert!(matches!(refused, Err(Error::Connection(_))), "{refused:?}");
    assert_eq!(kept(&pool, &member, date(2026, 5, 1)).await, None);
}

#[tokio::test]
async fn each_farm_has_its_own_weather() {
    let (pool, member_a) = with_station().await;
    let mut connection = pool.get().await.unwrap();
    let member_b = farmed(&mut connection, None).await;
    assert!(weather::station(&mut connection, &member_b).await.unwrap().is_none());
    let valley = SetUp { code: Some("northern-hills".to_owned()), ..set_up("Valley") };
    weather::set_station(&mut connection, &member_b, &valley, None).await.unwrap();
    drop(connection);
    weather::load_days(&pool, &member_a, &[(date(2026, 5, 1), day(3.0, 0.0))], Differing::Keep).await.unwrap();
    assert_eq!(kept(&pool, &member_b, date(2026, 5, 1)).await, None);
    assert_eq!(kept(&pool, &member_a, date(2026, 5, 1)).await, Some(3.0));
}

#[tokio::test]
async fn a_forecast_takes_the_place_of_the_last_and_hours_are_heard_again() {
    let (pool, member) = with_station().await;
    let mut connection = pool.get().await.unwrap();
    let today = date(2026, 5, 14);
    assert_eq!(weather::forecast(&mut connection, &member).await.unwrap(), None);
    let members = |tmin: f64| vec![vec![day(tmin, 0.0), day(tmin, 2.0)], vec![day(tmin + 1.0, 0.0), day(tmin, 0.0)]];
    weather::set_forecast(&mut connection, &member, today, &members(4.0)).await.unwrap();
    weather::set_forecast(&mut connection, &member, plus(today, 1), &members(6.0)).await.unwrap();
    let (from, told) = weather::forecast(&mut connection, &member).await.unwrap().unwrap();
    assert_eq!((from, told.len(), told[1][0].tmin, told[0][1].rain), (plus(today, 1), 2, 7.0, 2.0));

    let hour = |temperature| Hour { temperature, rain: 0.0, radiation: 0.1, humidity: 80.0, wind: 2.0 };
    let hours = |temperature| vec![(today, vec![hour(temperature); 24])];
    weather::keep_hours(&mut connection, &member, &hours(8.0)).await.unwrap();
    weather::keep_hours(&mut connection, &member, &hours(9.0)).await.unwrap();
    let read = weather::hours(&mut connection, &member, today, today).await.unwrap();
    assert_eq!((read.len(), read[23].1, read[23].2.temperature), (24, 23, 9.0));

    weather::heard(&mut connection, &member, Err("silent")).await.unwrap();
    let station = weather::station(&mut connection, &member).await.unwrap().unwrap();
    assert_eq!((station.trouble.as_deref(), station.heard_on), (Some("silent"), None));
    weather::heard(&mut connection, &member, Ok(today)).await.unwrap();
    let station = weather::station(&mut connection, &member).await.unwrap().unwrap();
    assert_eq!((station.trouble, station.heard_on), (None, Some(today)));
    assert!(station.revision >= 2, "a new forecast is a new revision");
}

#[tokio::test]
async fn an_import_is_noted_with_its_days_and_once() {
    let (pool, member) = with_station().await;
    let findings = [Finding { line: 7, level: Level::LeftOut, detail: "lowest above highest".into() }];
    let id = Uuid::now_v7();
    let file = Handed { id, file_name: "ridge.csv", digest: [7; 32], findings: &findings, findings_in_all: 1 };
    let on = date(2026, 5, 1);
    let read = async |tmin: f64, file: Handed<'_>| {
        weather::read_in(&pool, &member, &[(on, day(tmin, 0.0))], false, &file).await
    };
    // Sent again, even at once, it is the same import with the same outcome.
    let still = Handed { findings: &[], ..file.clone() };
    let (first, second) = tokio::join!(read(3.0, still.clone()), read(3.0, still.clone()));
    let once = Loaded { added: 1, different: 0 };
    assert_eq!((first.unwrap(), second.unwrap()), (once, once));
    let other = read(9.0, Handed { digest: [8; 32], ..still }).await;
    assert!(matches!(other, Err(Error::Conflict(_))), "{other:?}");
    assert_eq!(kept(&pool, &member, on).await, Some(3.0));
    // Days that can't be are not noted either.
    let upside_down = [(plus(on, 1), Day { tmin: 9.0, tmax: 2.0, ..day(0.0, 0.0) })];
    let refused = Handed { id: Uuid::now_v7(), ..file.clone() };
    weather::read_in(&pool, &member, &upside_down, false, &refused).await.unwrap_err();
    let replacing = Handed { id: Uuid::now_v7(), ..file };
    let replaced = weather::read_in(&pool, &member, &[(on, day(4.0, 0.0))], true, &replacing).await.unwrap();
    assert_eq!(replaced, Loaded { added: 0, different: 1 });
    let imports = weather::imports(&mut pool.get().await.unwrap(), &member).await.unwrap();
    let told: Vec<_> = imports.iter().map(|one| (one.added, one.replaced, one.findings_in_all)).collect();
    assert_eq!(told, [(0, 1, 1), (1, 0, 1)]);
    assert_eq!((imports[0].findings.as_slice(), imports[0].file_name.as_str()), (&findings[..], "ridge.csv"));
}

#[tokio::test]
async fn the_second_to_correct_a_station_is_told_what_the_first_wrote() {
    let (pool, member) = with_station().await;
    let seen = weather::station(&mut pool.get().await.unwrap(), &member).await.unwrap().unwrap().version;
    let set = async |name: &str, after: Option<i32>| {
        weather::set_station(&mut pool.get().await.unwrap(), &member, &set_up(name), after).await
    };
    let (one, other) = tokio::join!(set("Hilltop", Some(seen)), set("Ridge end", Some(seen)));
    let told = [&one, &other].into_iter().find_map(|outcome| outcome.as_ref().err()).expect("one of them is told");
    let kept = [&one, &other].into_iter().find_map(|outcome| outcome.as_ref().ok()).expect("one of them is kept");
    assert!(matches!(told, Error::Overtaken(_)) && told.to_string().contains(&kept.name), "{told}");
    assert_eq!(kept.version, seen + 1);
    // Said again it is the same; said by one who saw none, another one is not overwritten.
    assert_eq!(set(&kept.name, Some(seen)).await.unwrap().version, seen + 1);
    assert!(matches!(set("Elsewhere", None).await, Err(Error::Overtaken(_))));
    assert_eq!(set("Elsewhere", Some(seen + 1)).await.unwrap().name, "Elsewhere");
}

#[tokio::test]
async fn the_application_cannot_throw_a_record_away() {
    let (pool, _) = with_station().await;
    let mut connection = pool.get().await.unwrap();
    for table in ["weather_days", "weather_days_2020", "weather_hours", "stations", "weather_imports"] {
        let refused = connection.batch_execute(&format!("DELETE FROM {table}")).await.unwrap_err();
        assert!(refused.to_string().contains("permission denied"), "{table}: {refused}");
    }
}
