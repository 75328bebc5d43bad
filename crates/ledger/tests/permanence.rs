//! Ink is permanent, belongs to one farm, and is written once.

use agronomy::{
    seed::Tag,
    units::{Fraction, Length, System, Unit},
};
use diesel_async::{AsyncConnection, AsyncPgConnection, SimpleAsyncConnection};
use jiff::civil::{Date, date};
use ledger::{
    Connection, Error,
    entry::{self, Filter, NewEntry, Payload, StepDone, Via},
    farm::{self, Farm, Membership, Role},
    field::{self, Field},
    lot,
    people::{self, Person, Theme},
    stand,
    testing::{TestDatabase, database},
};
use planner::StepKind;
use rstest::rstest;
use serde_json::json;
use uuid::Uuid;

const TODAY: Date = date(2026, 5, 14);

/// A farm with a manager, a field and a stand.
struct Ground {
    database: TestDatabase,
    member: Membership,
    field: Uuid,
    stand: Uuid,
}

async fn person(connection: &mut Connection, email: &str) -> Uuid {
    let person = Person {
        id: Uuid::now_v7(),
        email: email.into(),
        name: "Somebody".into(),
        password_hash: "none".into(),
        units: System::Us,
        theme: Theme::Light,
    };
    people::add(connection, &person).await.unwrap();
    person.id
}

async fn farm_of(connection: &mut Connection, email: &str) -> Membership {
    let person = person(connection, email).await;
    let farm = Farm {
        id: Uuid::now_v7(),
        name: format!("{email}\u{2019}s farm"),
        latitude: 42.5,
        longitude: -76.5,
        elevation_m: 380.0,
        practice_day: Some(TODAY),
    };
    farm::add(connection, &farm).await.unwrap();
    farm::join(connection, farm.id, person, Role::Manager).await.unwrap();
    farm::membership(connection, person, farm.id).await.unwrap()
}

fn square(name: &str, farm: Uuid) -> Field {
    let boundary = json!({"type": "Polygon", "coordinates": [[[-76.5, 42.5], [-76.497, 42.5], [-76.497, 42.503], [-76.5, 42.503], [-76.5, 42.5]]]});
    Field::new(farm, Uuid::now_v7(), name, boundary, Length::new(5.0, Unit::M)).unwrap()
}

async fn ground() -> (Ground, ledger::Pool) {
    let database = database().await;
    let pool = database.pool();
    let mut connection = pool.get().await.unwrap();
    let member = farm_of(&mut connection, "manager@example.org").await;
    let field = field::add(&mut connection, &member, &square("Square", member.farm.id)).await.unwrap().id;
    let stand = stand::add(&mut connection, &member, Uuid::now_v7(), field).await.unwrap().id;
    drop(connection);
    (Ground { database, member, field, stand }, pool)
}

impl Ground {
    fn sowing(&self, on: Date) -> NewEntry {
        let done =
            StepDone { step: StepKind::Sow, area: None, bulk_rate: None, depth: None, setting: None, note: None };
        NewEntry {
            id: Uuid::now_v7(),
            field: Some(self.field),
            stand: Some(self.stand),
            lot: None,
            occurred_on: on,
            via: Via::Web,
            payload: Payload::Step { done },
            strikes: None,
        }
    }
}

#[rstest]
#[case::change("UPDATE entries SET occurred_on = '2020-01-01'")]
#[case::removal("DELETE FROM entries")]
#[case::emptying("TRUNCATE entries")]
#[tokio::test]
async fn neither_the_application_nor_the_owner_can_alter_ink(#[case] statement: &str) {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    entry::write(&mut connection, &ground.member, &ground.sowing(TODAY), TODAY).await.unwrap();
    for url in [&ground.database.app_url, &ground.database.owner_url] {
        let mut other = AsyncPgConnection::establish(url).await.unwrap();
        let error = other.batch_execute(statement).await.unwrap_err().to_string();
        assert!(error.contains("permanent") || error.contains("permission denied"), "{error}");
    }
    let (entries, total) = entry::list(&mut connection, &ground.member, &Filter::default()).await.unwrap();
    assert_eq!((entries.len(), total), (1, 1));
    assert_eq!(entries[0].occurred_on, TODAY);
}

#[tokio::test]
async fn the_same_submission_is_the_same_entry() {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    let new = ground.sowing(TODAY);
    let first = entry::write(&mut connection, &ground.member, &new, TODAY).await.unwrap();
    let again = entry::write(&mut connection, &ground.member, &new, TODAY).await.unwrap();
    assert_eq!(first, again);
    let other = NewEntry { occurred_on: date(2026, 5, 1), ..new };
    let error = entry::write(&mut connection, &ground.member, &other, TODAY).await.unwrap_err();
    assert!(matches!(error, Error::Conflict(_)), "{error}");
}

#[tokio::test]
async fn a_struck_entry_stays_and_counts_no_more() {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    let wrong = entry::write(&mut connection, &ground.member, &ground.sowing(date(2026, 5, 1)), TODAY).await.unwrap();
    let id = Uuid::now_v7();
    let strike = entry::strike(&mut connection, &ground.member, id, wrong.id, "wrong day", TODAY).await.unwrap();
    assert_eq!(strike.strikes, Some(wrong.id));
    entry::write(&mut connection, &ground.member, &ground.sowing(date(2026, 5, 2)), TODAY).await.unwrap();

    let entries = entry::of_stands(&mut connection, &ground.member).await.unwrap();
    assert_eq!(entries.len(), 3);
    assert_eq!(entries[0].struck_by, Some(id));
    let facts = entry::facts(&entries);
    assert_eq!(facts.inked.len(), 1);
    assert_eq!(facts.inked[0].on, date(2026, 5, 2));

    let twice = entry::strike(&mut connection, &ground.member, Uuid::now_v7(), wrong.id, "again", TODAY).await;
    assert!(matches!(twice, Err(Error::Conflict(text)) if text.contains("already struck")));
    let strike_of_strike = entry::strike(&mut connection, &ground.member, Uuid::now_v7(), id, "no", TODAY).await;
    assert!(matches!(strike_of_strike, Err(Error::Conflict(text)) if text.contains("strike")));
}

#[tokio::test]
async fn another_farm_is_as_if_it_did_not_exist() {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    let entry = entry::write(&mut connection, &ground.member, &ground.sowing(TODAY), TODAY).await.unwrap();
    let stranger = farm_of(&mut connection, "stranger@example.org").await;

    let not_found = |outcome: Result<(), Error>| assert!(matches!(outcome, Err(Error::NotFound)), "{outcome:?}");
    not_found(farm::membership(&mut connection, stranger.person, ground.member.farm.id).await.map(drop));
    not_found(field::one(&mut connection, &stranger, ground.field).await.map(drop));
    not_found(stand::one(&mut connection, &stranger, ground.stand).await.map(drop));
    not_found(stand::add(&mut connection, &stranger, Uuid::now_v7(), ground.field).await.map(drop));
    not_found(entry::strike(&mut connection, &stranger, Uuid::now_v7(), entry.id, "mine now", TODAY).await.map(drop));
    not_found(entry::write(&mut connection, &stranger, &ground.sowing(TODAY), TODAY).await.map(drop));
    assert_eq!(entry::find(&mut connection, &stranger, entry.id).await.unwrap(), None);
    assert_eq!(entry::list(&mut connection, &stranger, &Filter::default()).await.unwrap().1, 0);
}

#[rstest]
#[case::future(date(2026, 6, 1), "future")]
#[case::another_century(date(1849, 5, 1), "another age")]
#[tokio::test]
async fn a_day_that_cannot_be_is_refused(#[case] on: Date, #[case] said: &str) {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    let error = entry::write(&mut connection, &ground.member, &ground.sowing(on), TODAY).await.unwrap_err();
    assert!(error.to_string().contains(said), "{error}");
    assert_eq!(entry::list(&mut connection, &ground.member, &Filter::default()).await.unwrap().1, 0);
}

#[tokio::test]
async fn the_last_standing_tag_counts_and_a_report_mends_it() {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    let lot = lot::add(&mut connection, &ground.member, Uuid::now_v7(), "alfalfa", "NL-204").await.unwrap();
    let tag = |germination| Tag::new(Fraction::percent(99.0), Fraction::percent(germination), Fraction::ZERO);
    let mut put = async |payload: Payload| {
        let new = NewEntry {
            id: Uuid::now_v7(),
            field: None,
            stand: None,
            lot: Some(lot.id),
            occurred_on: TODAY,
            via: Via::Web,
            payload,
            strikes: None,
        };
        entry::write(&mut connection, &ground.member, &new, TODAY).await.unwrap()
    };
    put(Payload::LotTag { tag: tag(90.0), on_hand: None }).await;
    let slip = put(Payload::LotTag { tag: tag(9.0), on_hand: None }).await;
    let facts = lot::facts(&mut connection, &ground.member).await.unwrap();
    assert_eq!(facts[0].tag.germination, Fraction::percent(9.0));
    entry::strike(&mut connection, &ground.member, Uuid::now_v7(), slip.id, "misread", TODAY).await.unwrap();
    let facts = lot::facts(&mut connection, &ground.member).await.unwrap();
    assert_eq!(facts[0].tag.germination, Fraction::percent(90.0));
    let unknown = lot::add(&mut connection, &ground.member, Uuid::now_v7(), "moon-grass", "X").await.unwrap_err();
    assert!(unknown.to_string().contains("/crop"), "{unknown}");
}

#[tokio::test]
async fn migrating_twice_changes_nothing() {
    // The harness blocks in place, so it runs on threads of its own.
    let url = database().await.owner_url;
    let done = std::thread::spawn(move || {
        let runtime = tokio::runtime::Builder::new_multi_thread().enable_all().build().unwrap();
        runtime.block_on(ledger::migrate(&url))
    });
    done.join().unwrap().unwrap();
}
