//! People, sessions, memberships, and the first visit.

use agronomy::units::System;
use jiff::{Timestamp, ToSpan};
use ledger::{
    Connection, Error,
    farm::{self, Farm, Role},
    people::{self, Changes, Person, Theme},
    session,
};
use rstest::rstest;
use serde_json::json;
use uuid::Uuid;

use crate::common::{Pooled, database};

fn person(email: &str) -> Person {
    // As typed: keeping it is what makes it the sign-in form.
    let email = email.to_owned();
    Person { theme: Theme::Dark, email, ..Person::new("", "Somebody", "none".into(), System::Metric) }
}

fn meadow(name: &str) -> Farm {
    Farm::new(name, (-34.0, -56.0), 100.0, "America/New_York")
}

async fn joined(connection: &mut Connection, name: &str, person: Uuid, role: Role) -> Farm {
    let farm = meadow(name);
    farm::add(connection, &farm).await.unwrap();
    farm::join(connection, farm.id, person, role).await.unwrap();
    farm
}

#[tokio::test]
async fn an_address_is_one_person_however_it_is_written() {
    let pool = database().await.pool();
    let mut connection = pool.get().await.unwrap();
    let somebody = person("  Some.Body@Example.ORG ");
    people::add(&mut connection, &somebody).await.unwrap();
    let found = people::by_email(&mut connection, "some.body@EXAMPLE.org").await.unwrap().unwrap();
    assert_eq!((found.id, found.email.as_str()), (somebody.id, "some.body@example.org"));
    assert_eq!((found.units, found.theme), (System::Metric, Theme::Dark));
    let again = people::add(&mut connection, &person("some.body@example.org")).await.unwrap_err();
    assert!(matches!(&again, Error::Conflict(text) if text.contains("already in use")), "{again}");
    assert_eq!(people::count(&mut connection).await.unwrap(), 1);
    assert_eq!(people::by_email(&mut connection, "nobody@example.org").await.unwrap(), None);
}

#[rstest]
#[case(System::Us, Theme::Light, 0.5)]
#[case(System::Us, Theme::Sunlight, 0.01)]
#[case(System::Metric, Theme::Dark, 0.99)]
#[tokio::test]
async fn settings_are_kept(#[case] units: System, #[case] theme: Theme, #[case] odds_level: f64) {
    let pool = database().await.pool();
    let mut connection = pool.get().await.unwrap();
    let somebody = person("a@example.org");
    people::add(&mut connection, &somebody).await.unwrap();
    // Changed one by one, by whichever device: what is left out stays.
    let of = |units, theme, odds_level| Changes { units, theme, odds_level };
    for changes in [of(Some(units), None, None), of(None, Some(theme), None), of(None, None, Some(odds_level))] {
        people::settle(&mut connection, somebody.id, &changes).await.unwrap();
    }
    let found = people::settle(&mut connection, somebody.id, &Changes::default()).await.unwrap();
    assert_eq!((found.units, found.theme, found.odds_level), (units, theme, odds_level));
    for certain in [0.0, 1.0, f64::NAN] {
        let refused = people::settle(&mut connection, somebody.id, &of(None, None, Some(certain))).await;
        assert!(matches!(refused, Err(Error::Conflict(_))), "{certain}: {refused:?}");
    }
}

#[tokio::test]
async fn a_session_lasts_as_long_as_it_was_given() {
    let pool = database().await.pool();
    let mut connection = pool.get().await.unwrap();
    let now = Timestamp::now();
    let state = json!({"person": "x"});
    session::keep(&mut connection, b"one", &state, now, 60).await.unwrap();
    session::keep(&mut connection, b"two", &state, now, 600).await.unwrap();
    let later = now + 61.seconds();
    assert_eq!(session::load(&mut connection, b"one", now).await.unwrap(), Some(state.clone()));
    assert_eq!(session::load(&mut connection, b"one", later).await.unwrap(), None);
    assert_eq!(session::load(&mut connection, b"three", now).await.unwrap(), None);

    session::prolong(&mut connection, b"one", now, 600).await.unwrap();
    assert_eq!(session::load(&mut connection, b"one", later).await.unwrap(), Some(state.clone()));
    session::end(&mut connection, b"one").await.unwrap();
    assert_eq!(session::load(&mut connection, b"one", now).await.unwrap(), None);

    // Keeping another one sweeps out those that have run out.
    session::keep(&mut connection, b"four", &state, now + 601.seconds(), 60).await.unwrap();
    session::prolong(&mut connection, b"two", now, 10_000).await.unwrap();
    assert_eq!(session::load(&mut connection, b"two", now).await.unwrap(), None);
}

#[tokio::test]
async fn a_person_sees_the_farms_they_belong_to_and_no_others() {
    let pool = database().await.pool();
    let mut connection = pool.get().await.unwrap();
    let (mine, other) = (person("mine@example.org"), person("other@example.org"));
    people::add(&mut connection, &mine).await.unwrap();
    people::add(&mut connection, &other).await.unwrap();
    let upper = joined(&mut connection, "Upper", mine.id, Role::Manager).await;
    let lower = joined(&mut connection, "Lower", mine.id, Role::Crew).await;
    let beyond = joined(&mut connection, "Beyond", other.id, Role::Manager).await;
    farm::join(&mut connection, upper.id, other.id, Role::Adviser).await.unwrap();

    let farms = farm::memberships_of(&mut connection, mine.id).await.unwrap();
    let names: Vec<_> = farms.iter().map(|member| (member.farm.name.as_str(), member.role)).collect();
    assert_eq!(names, [("Lower", Role::Crew), ("Upper", Role::Manager)]);
    let member = farm::membership(&mut connection, mine.id, lower.id).await.unwrap();
    assert_eq!(member.role, Role::Crew);
    assert!(matches!(farm::membership(&mut connection, mine.id, beyond.id).await, Err(Error::NotFound)));

    let upper = farm::membership(&mut connection, mine.id, upper.id).await.unwrap();
    let mut names: Vec<_> = farm::member_names(&mut connection, &upper).await.unwrap();
    names.sort();
    assert_eq!(names.len(), 2);
    let twice = farm::join(&mut connection, upper.farm.id, other.id, Role::Crew).await;
    assert!(matches!(twice, Err(Error::Conflict(_))));
}

#[tokio::test]
async fn of_two_first_visits_at_once_one_finds_somebody_there() {
    let pool = database().await.pool();
    let found = async |email: &str| {
        let mut connection = pool.get().await.unwrap();
        farm::found(&mut connection, &person(email), &meadow(email)).await
    };
    let (one, two) = tokio::join!(found("one@example.org"), found("two@example.org"));
    assert!(one.is_ok() != two.is_ok(), "{one:?} {two:?}");
    let late = if one.is_ok() { two } else { one };
    assert!(matches!(late, Err(Error::Conflict(text)) if text.contains("owner")));
    let mut connection = pool.get().await.unwrap();
    assert_eq!(people::count(&mut connection).await.unwrap(), 1);
}

/// What the tables refuse whatever the code above them does.
#[rstest]
#[case::address("INSERT INTO people (id, email, name, password_hash) VALUES (gen_random_uuid(), 'NoAt', 'x', 'x')")]
#[case::nameless("INSERT INTO people (id, email, name, password_hash) VALUES (gen_random_uuid(), 'a@b', '', 'x')")]
#[case::units(
    "INSERT INTO people (id, email, name, password_hash, units) VALUES (gen_random_uuid(), 'a@b', 'x', 'x', 'cubits')"
)]
#[case::latitude(
    "INSERT INTO farms (id, name, latitude, longitude, elevation_m) VALUES (gen_random_uuid(), 'x', 91, 0, 0)"
)]
#[case::depth(
    "INSERT INTO farms (id, name, latitude, longitude, elevation_m) VALUES (gen_random_uuid(), 'x', 0, 0, -1000)"
)]
#[case::role(
    "WITH p AS (INSERT INTO people (id, email, name, password_hash) VALUES (gen_random_uuid(), 'a@b', 'x', 'x') RETURNING id), f AS (INSERT INTO farms (id, name, latitude, longitude, elevation_m) VALUES (gen_random_uuid(), 'x', 0, 0, 0) RETURNING id) INSERT INTO memberships SELECT f.id, p.id, 'king' FROM f, p"
)]
#[tokio::test]
async fn the_tables_hold_their_bounds(#[case] statement: &str) {
    use diesel_async::SimpleAsyncConnection;
    let pool = database().await.pool();
    let mut connection = pool.get().await.unwrap();
    let error = connection.batch_execute(statement).await.unwrap_err().to_string();
    assert!(error.contains("violates"), "{error}");
}
