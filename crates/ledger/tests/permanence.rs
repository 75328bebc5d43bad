//! Ink is permanent, belongs to one farm, and is written once.

use agronomy::{
    seed::Tag,
    units::{Area, Fraction, Length, Mass, MassPerArea, Unit},
};
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl, SimpleAsyncConnection};
use jiff::civil::{Date, date};
use ledger::{
    Connection, Error, Shape,
    entry::{self, Beside, Filter, NewEntry, Via},
    farm,
    field::{self, Field},
    lot, stand,
};
use records::{
    About, Payload, Subject,
    kinds::{lot_tag::LotTag, note::Note, step::Step, strike::Strike},
};
use rstest::rstest;
use uuid::Uuid;

use crate::{
    common::{Pooled, database, farmed},
    farm_with_stand::{TODAY, done, ground, square},
};

#[rstest]
#[case::change("UPDATE entries SET occurred_on = '2020-01-01'")]
#[case::removal("DELETE FROM entries")]
#[case::emptying("TRUNCATE entries CASCADE")]
#[case::subjects("UPDATE entry_subjects SET subject_id = gen_random_uuid()")]
#[case::no_subject("DELETE FROM entry_subjects")]
#[case::chain("UPDATE ledger_chain SET position = position + 1")]
#[case::no_chain("DELETE FROM ledger_chain")]
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

/// What entries mean hangs on what they are about: the application can't rewrite that either, nor when one was
/// written down.
#[rstest]
#[case::area("UPDATE fields SET area_m2 = area_m2 / 2")]
#[case::boundary("UPDATE fields SET boundary = '{}'")]
#[case::moved("UPDATE stands SET field_id = gen_random_uuid()")]
#[case::label("UPDATE seed_lots SET label = 'other'")]
#[case::member("UPDATE memberships SET person_id = gen_random_uuid()")]
#[case::member_gone("DELETE FROM memberships")]
#[case::link("UPDATE invitations SET role = 'manager'")]
#[case::area("UPDATE fields SET sown_area_m2 = 1")]
#[case::name("UPDATE people SET name = 'other'")]
#[case::address("UPDATE people SET email = 'other@example.org'")]
#[case::founded("UPDATE farms SET created_at = '2020-01-01'")]
#[case::when("INSERT INTO entries (farm_id, id, kind, version, occurred_on, recorded_by, via, payload, recorded_at)
    SELECT farm_id, gen_random_uuid(), kind, version, occurred_on, recorded_by, via, payload, '2020-01-01' FROM entries")]
#[tokio::test]
async fn the_application_cant_rewrite_what_gives_entries_their_meaning(#[case] statement: &str) {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    entry::write(&mut connection, &ground.member, &ground.sowing(TODAY), TODAY).await.unwrap();
    let error = connection.batch_execute(statement).await.unwrap_err().to_string();
    assert!(error.contains("permission denied"), "{error}");
}

/// Two servers started at once both migrate; neither trips over the other. What a later build did is known.
#[tokio::test(flavor = "multi_thread")]
async fn two_migrations_at_once_wait_for_each_other_and_a_newer_one_is_known() {
    let database = database().await;
    let mut owner = AsyncPgConnection::establish(&database.owner_url).await.unwrap();
    let empty = "CREATE DATABASE";
    let name = format!("test_{}", Uuid::new_v4().simple());
    owner.batch_execute(&format!("{empty} {name}")).await.unwrap();
    let (at, _) = database.owner_url.rsplit_once('/').unwrap();
    let url = format!("{at}/{name}");
    let mut fresh = AsyncPgConnection::establish(&url).await.unwrap();
    assert_eq!(ledger::shape(&mut fresh).await.unwrap(), Shape::Empty);
    let (one, other) = (url.clone(), url.clone());
    let (one, other) = tokio::join!(
        tokio::task::spawn(async move { ledger::migrate(&one).await }),
        tokio::task::spawn(async move { ledger::migrate(&other).await })
    );
    one.unwrap().unwrap();
    other.unwrap().unwrap();
    assert_eq!(ledger::shape(&mut fresh).await.unwrap(), Shape::Same);
    // The application may ask, too.
    let mut app = AsyncPgConnection::establish(&database.app_url).await.unwrap();
    assert_eq!(ledger::shape(&mut app).await.unwrap(), Shape::Same);

    let last = "(SELECT max(version) FROM __diesel_schema_migrations)";
    fresh.batch_execute(&format!("DELETE FROM __diesel_schema_migrations WHERE version = {last}")).await.unwrap();
    assert!(matches!(ledger::shape(&mut fresh).await.unwrap(), Shape::Older(version) if version.starts_with("2026")));
    fresh.batch_execute("INSERT INTO __diesel_schema_migrations VALUES ('29990101000000')").await.unwrap();
    let newer = Shape::Newer("29990101000000".to_owned());
    assert_eq!(ledger::shape(&mut fresh).await.unwrap(), newer);
    assert!(matches!(ledger::migrate(&url).await, Err(Error::Shape(shape)) if shape == newer));
}

/// A statement that takes too long is ended by the database, and said so: nobody's connection is held for ever.
#[tokio::test]
async fn a_statement_has_a_limit() {
    let database = database().await;
    let pool = database.pool();
    let mut connection = pool.get().await.unwrap();
    connection.batch_execute("SET statement_timeout = '50ms'").await.unwrap();
    let slow = connection.batch_execute("SELECT pg_sleep(5)").await.unwrap_err();
    assert!(matches!(Error::from(slow), Error::Slow));
    for (limit, most) in [("statement_timeout", "20s"), ("lock_timeout", "8s")] {
        let held = format!("DO $$ BEGIN ASSERT current_setting('{limit}') = '{most}'; END $$");
        let mut other = pool.get().await.unwrap();
        other.batch_execute(&held).await.unwrap();
    }
}

/// Slow statements are counted over all connections of a pool.
#[tokio::test]
async fn a_slow_statement_is_counted() {
    let pool = database().await.pool();
    for seconds in [0.0, 0.3, 0.3] {
        let mut connection = pool.get().await.unwrap();
        diesel::sql_query(format!("SELECT pg_sleep({seconds})")).execute(&mut connection).await.unwrap();
    }
    let used = pool.in_use();
    assert_eq!((used.slow_statements, used.taken, used.most), (2, 0, 4));
}

/// The owner migrates and no more: it rules neither over roles nor over other databases.
#[tokio::test]
async fn the_owner_is_no_superuser() {
    let database = database().await;
    database.as_owner("DO $$ BEGIN ASSERT NOT (SELECT rolsuper OR rolcreaterole OR rolbypassrls FROM pg_roles WHERE rolname = current_user); END $$").await;
}

#[tokio::test]
async fn the_same_submission_is_the_same_entry() {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    let new = ground.sowing(TODAY);
    let first = entry::write(&mut connection, &ground.member, &new, TODAY).await.unwrap();
    let again = entry::write(&mut connection, &ground.member, &new, TODAY).await.unwrap();
    assert_eq!(first, again);
    let other = NewEntry { on: entry::Day::Given(date(2026, 5, 1)), ..new };
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

    let about = Some(Subject::stand(ground.stand));
    let entries = entry::all(&mut connection, &ground.member, about).await.unwrap();
    assert_eq!(entries.len(), 3);
    assert_eq!(entries[0].struck_by, Some(id));
    let books = entry::books(&mut connection, &ground.member, about).await.unwrap();
    assert_eq!(books.stand(ground.stand).unwrap().sown_on(), Some(date(2026, 5, 2)));
    // Struck again after midnight, by the same id and for the same reason, it is the same strike.
    let tomorrow = date(2026, 5, 15);
    let again = entry::strike(&mut connection, &ground.member, id, wrong.id, "wrong day", tomorrow).await.unwrap();
    assert_eq!(again, strike);

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
    let stranger = farmed(&mut connection, Some(TODAY)).await;

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
#[case::another_century(date(1849, 5, 1), "out of range")]
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
        let new = NewEntry::of(Uuid::now_v7(), [Subject::seed_lot(lot.id)], TODAY, Via::Web, payload);
        entry::write(&mut connection, &ground.member, &new, TODAY).await.unwrap()
    };
    put(LotTag::of(tag(90.0), None).into()).await;
    let slip = put(LotTag::of(tag(9.0), None).into()).await;
    let known = async |connection: &mut Connection| {
        let books = entry::books(connection, &ground.member, Some(Subject::seed_lot(lot.id))).await.unwrap();
        lot::facts(connection, &ground.member, &books).await.unwrap()
    };
    let facts = known(&mut connection).await;
    assert_eq!(facts[0].tag.germination, Fraction::percent(9.0));
    entry::strike(&mut connection, &ground.member, Uuid::now_v7(), slip.id, "misread", TODAY).await.unwrap();
    let facts = known(&mut connection).await;
    assert_eq!(facts[0].tag.germination, Fraction::percent(90.0));
    let unknown = lot::add(&mut connection, &ground.member, Uuid::now_v7(), "moon-grass", "X").await.unwrap_err();
    assert!(unknown.to_string().contains("/crop"), "{unknown}");
}

#[tokio::test]
async fn migrating_twice_changes_nothing() {
    ledger::migrate(&database().await.owner_url).await.unwrap();
}

#[tokio::test]
async fn eight_posts_of_one_entry_at_once_are_one_entry() {
    let (ground, pool) = ground().await;
    let new = ground.sowing(TODAY);
    let post = async || {
        let mut connection = pool.get().await.unwrap();
        entry::write(&mut connection, &ground.member, &new, TODAY).await.unwrap()
    };
    let (a, b, c, d) = tokio::join!(post(), post(), post(), post());
    let (e, f, g, h) = tokio::join!(post(), post(), post(), post());
    for other in [b, c, d, e, f, g, h] {
        assert_eq!(a, other);
    }
    let mut connection = pool.get().await.unwrap();
    assert_eq!(entry::list(&mut connection, &ground.member, &Filter::default()).await.unwrap().1, 1);
}

#[tokio::test]
async fn of_two_strikes_at_once_one_stands() {
    let (ground, pool) = ground().await;
    let wrong = {
        let mut connection = pool.get().await.unwrap();
        entry::write(&mut connection, &ground.member, &ground.sowing(TODAY), TODAY).await.unwrap()
    };
    let strike = async |reason: &str| {
        let mut connection = pool.get().await.unwrap();
        entry::strike(&mut connection, &ground.member, Uuid::now_v7(), wrong.id, reason, TODAY).await
    };
    let (one, two) = tokio::join!(strike("wrong day"), strike("wrong field"));
    assert!(one.is_ok() != two.is_ok(), "{one:?} {two:?}");
}

#[rstest]
#[case::reason(Strike { reason: "  ".into() }.into(), "/reason")]
#[case::note(Note { text: String::new() }.into(), "/text")]
#[case::long_note(Note { text: "x".repeat(2_001) }.into(), "/text")]
#[case::operation(done("dance").into(), "/operation")]
#[case::on_the_ground(done("lime").into(), "/operation")]
#[case::area(Step { area: Some(Area::new(0.0, Unit::Ac)), ..done("sow") }.into(), "/area")]
#[case::rate(Step { bulk_rate: Some(MassPerArea::new(-2.0, Unit::LbPerAc)), ..done("sow") }.into(), "/bulk_rate")]
#[case::depth(Step { depth: Some(Length::new(3.0, Unit::Ft)), ..done("sow") }.into(), "/depth")]
#[case::tag(LotTag::of(Tag::new(Fraction::percent(98.0), Fraction::percent(130.0), Fraction::ZERO), None).into(), "/tag/germination")]
#[case::on_hand(LotTag::of(Tag::new(Fraction::percent(98.0), Fraction::percent(90.0), Fraction::ZERO), Some(Mass::new(-1.0, Unit::Lb))).into(), "/on_hand")]
fn a_payload_that_cannot_be(#[case] payload: Payload, #[case] pointer: &str) {
    let refused = payload.check(TODAY).unwrap_err();
    assert!(refused.0.iter().any(|refusal| refusal.pointer == pointer), "{refused:?}");
}

#[tokio::test]
async fn pages_and_filters() {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    for day in 1..=28 {
        for text in ["rain", "sun"] {
            let payload = Note { text: format!("{text} on {day}") }.into();
            let about = vec![Subject::field(ground.field)];
            let new = NewEntry {
                about: about.into_iter().map(About::from).collect(),
                payload,
                ..ground.sowing(date(2026, 4, day))
            };
            entry::write(&mut connection, &ground.member, &new, TODAY).await.unwrap();
        }
    }
    entry::write(&mut connection, &ground.member, &ground.sowing(date(2026, 5, 1)), TODAY).await.unwrap();
    let mut list = async |filter: Filter| entry::list(&mut connection, &ground.member, &filter).await.unwrap();
    let (first, total) = list(Filter::default()).await;
    assert_eq!((first.len(), total), (50, 57));
    assert!(first.windows(2).all(|pair| pair[0].occurred_on >= pair[1].occurred_on), "newest first");
    let from = |from: Beside| Filter { from, ..Filter::default() };
    let (second, total) = list(from(Beside::OlderThan(first[49].id))).await;
    assert_eq!((second.len(), total), (7, 57));
    // Back again, and from the other end.
    assert_eq!(list(from(Beside::NewerThan(second[0].id))).await.0, first);
    assert_eq!(list(from(Beside::NewerThan(first[3].id))).await.0, first[..3]);
    assert_eq!(list(from(Beside::NewerThan(first[0].id))).await.0, []);
    assert_eq!(list(from(Beside::OlderThan(second[6].id))).await.0, []);
    let (oldest, _) = list(from(Beside::Oldest)).await;
    assert_eq!((oldest.len(), &oldest[43..]), (50, &second[..]));
    assert!(first.iter().all(|one| second.iter().all(|other| one.id != other.id)), "no entry twice");
    assert_eq!(list(Filter { kind: Some("step".into()), ..Filter::default() }).await.1, 1);
    assert_eq!(list(Filter { about: vec![Subject::stand(ground.stand)], ..Filter::default() }).await.1, 1);
    assert_eq!(list(Filter { about: vec![Subject::field(ground.field)], ..Filter::default() }).await.1, 57);
    assert_eq!(list(Filter { about: vec![Subject::field(Uuid::now_v7())], ..Filter::default() }).await.1, 0);
    let steps = Filter { kind: Some("note".into()), from: Beside::OlderThan(first[0].id), ..Filter::default() };
    assert_eq!(list(steps).await.1, 56);
    let stranger = entry::list(&mut connection, &ground.member, &from(Beside::OlderThan(Uuid::now_v7()))).await;
    assert!(matches!(stranger, Err(Error::NotFound)));
}

#[tokio::test]
async fn names_stand_for_one_thing() {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    let farm = ground.member.farm.id;
    let twin = field::add(&mut connection, &ground.member, &square("Square", farm)).await.unwrap_err();
    assert!(matches!(&twin, Error::Conflict(text) if text.contains("name")), "{twin}");
    let first = square("Round", farm);
    assert_eq!(field::add(&mut connection, &ground.member, &first).await.unwrap(), first);
    assert_eq!(field::add(&mut connection, &ground.member, &first).await.unwrap(), first, "sent again");
    let other = Field { name: "Long".into(), ..first.clone() };
    assert!(matches!(field::add(&mut connection, &ground.member, &other).await, Err(Error::Conflict(_))));
    let names: Vec<_> =
        field::all(&mut connection, &ground.member).await.unwrap().into_iter().map(|field| field.name).collect();
    assert_eq!(names, ["Round", "Square"]);

    let lot = Uuid::now_v7();
    lot::add(&mut connection, &ground.member, lot, "alfalfa", " A-1 ").await.unwrap();
    assert_eq!(lot::add(&mut connection, &ground.member, lot, "alfalfa", "A-1").await.unwrap().label, "A-1");
    let twin = lot::add(&mut connection, &ground.member, Uuid::now_v7(), "alfalfa", "A-1").await.unwrap_err();
    assert!(matches!(&twin, Error::Conflict(text) if text.contains("lot")), "{twin}");
    lot::add(&mut connection, &ground.member, Uuid::now_v7(), "timothy", "A-1").await.unwrap();
    let nameless = lot::add(&mut connection, &ground.member, Uuid::now_v7(), "alfalfa", "  ").await.unwrap_err();
    assert!(nameless.to_string().contains("/label"), "{nameless}");
}

#[tokio::test]
async fn half_a_work_is_none() {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    let failed: Result<(), Error> = ledger::together(&mut connection, async |connection| {
        lot::add(connection, &ground.member, Uuid::now_v7(), "alfalfa", "HALF").await?;
        Err(Error::NotFound)
    })
    .await;
    assert!(failed.is_err());
    assert!(lot::all(&mut connection, &ground.member).await.unwrap().is_empty());
}
