//! A database of the release before this one opens with every entry legible.

use std::collections::BTreeMap;

use diesel::{QueryableByName, sql_types::Uuid as SqlUuid};
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl, SimpleAsyncConnection};
use ledger::{entry, farm, field, stand};
use records::Content;
use test_bed::address;
use uuid::Uuid;

/// The last migration of the previous release.
const BEFORE: &str = "20260504000001";
const DUMP: &str = include_str!("data/previous-release.sql");

#[derive(QueryableByName)]
struct Membership {
    #[diesel(sql_type = SqlUuid)]
    farm_id: Uuid,
    #[diesel(sql_type = SqlUuid)]
    person_id: Uuid,
}

/// A database as the previous release left it, brought up to this one; its address as the application.
async fn carried_over() -> String {
    let name = format!("previous_{}", Uuid::new_v4().simple());
    let owner = address("INK_TEST_OWNER_URL");
    let mut postgres = AsyncPgConnection::establish(&format!("{owner}/postgres")).await.unwrap();
    postgres.batch_execute(&format!("CREATE DATABASE {name}")).await.unwrap();
    let own = format!("{owner}/{name}");
    ledger::migrate_until(&own, Some(BEFORE)).await.unwrap();
    AsyncPgConnection::establish(&own).await.unwrap().batch_execute(DUMP).await.unwrap();
    ledger::migrate(&own).await.unwrap();
    format!("{}/{name}", address("INK_TEST_APP_URL"))
}

#[tokio::test]
async fn every_entry_is_legible_and_about_what_it_was_about() {
    let pool = ledger::pool(&carried_over().await, 2).unwrap();
    let mut connection = pool.get().await.unwrap();
    let members: Vec<Membership> = diesel::sql_query(
        "SELECT DISTINCT ON (farm_id) farm_id, person_id FROM memberships ORDER BY farm_id, role DESC",
    )
    .load(&mut connection)
    .await
    .unwrap();
    assert_eq!(members.len(), 3);
    let mut kinds: BTreeMap<String, usize> = BTreeMap::new();
    let (mut sown, mut lots) = (0, 0);
    for one in members {
        let member = farm::membership(&mut connection, one.person_id, one.farm_id).await.unwrap();
        let entries = entry::all(&mut connection, &member, None).await.unwrap();
        for entry in &entries {
            match &entry.content {
                Content::Read(payload) => *kinds.entry(payload.kind().word.to_owned()).or_default() += 1,
                Content::Unreadable { kind, why } => panic!("{kind}: {why}"),
            }
            // What a step closes stood in its own record then.
            let step = matches!(entry.payload(), Some(records::Payload::Step(_)));
            assert_eq!(entry.closes.as_ref().map(|closes| closes.stand), entry.stand().filter(|_| step), "{entry:?}");
            for needed in entry.payload().unwrap().kind().needs {
                assert!(entry.subject(*needed).is_some(), "{entry:?}");
            }
        }
        let books = records::book::Books::of(&entries);
        for stand in stand::all(&mut connection, &member).await.unwrap() {
            let book = books.stand(stand.id).unwrap();
            let practice = &book.decided().unwrap().choices.practice;
            assert!(agronomy::practice::practice(practice).is_some(), "{practice}");
            sown += usize::from(book.sown_on().is_some());
        }
        for field in field::all(&mut connection, &member).await.unwrap() {
            books.field(field.id);
        }
        lots += ledger::lot::facts(&mut connection, &member, &books).await.unwrap().len();
        assert!(member.farm.time_zone.starts_with("Etc/GMT+"), "{}", member.farm.time_zone);
    }
    assert_eq!(kinds.values().sum::<usize>(), DUMP.matches("INSERT INTO public.entries").count());
    // Every kind that there was then, whatever came since.
    assert_eq!(kinds.len(), 17, "{kinds:?}");
    assert_eq!((sown, lots), (10, 15));
}

/// Entries from before there was a chain have their place in it, in the order in which they were written down.
#[tokio::test]
async fn older_entries_are_chained() {
    let pool = ledger::pool(&carried_over().await, 1).unwrap();
    let farms = ledger::chain::verify(&mut pool.get().await.unwrap()).await.unwrap();
    assert!(farms.iter().all(|farm| farm.broken.is_none()), "{farms:?}");
    assert!(farms.iter().map(|farm| farm.head.position).sum::<i64>() > 20, "{farms:?}");
}
