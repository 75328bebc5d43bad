//! The chain tells of whatever was altered behind the application's back: entries, what they are about, who wrote them,
//! pictures.

use diesel_async::{AsyncConnection, AsyncPgConnection, SimpleAsyncConnection};
use ledger::{
    Connection,
    chain::{self, Broken},
    entry::{self, NewEntry, Via},
    farm, lot, photo,
};
use records::{
    Subject,
    kinds::{note::Note, photo::Photo},
};
use rstest::rstest;
use sha2::Digest;
use uuid::Uuid;

use crate::farm_with_stand::{TODAY, ground};

/// Somebody with the database in their hands, who takes the triggers away and puts them back.
#[rstest]
#[case::day("UPDATE entries SET occurred_on = occurred_on - 1 WHERE id = '{}'", Some(Broken::Altered { position: 2, entry: Uuid::nil() }))]
#[case::words("UPDATE entries SET payload = jsonb_set(payload, '{text}', '\"other\"') WHERE id = '{}'", Some(Broken::Altered { position: 2, entry: Uuid::nil() }))]
#[case::writer("UPDATE entries SET via = 'import' WHERE id = '{}'", Some(Broken::Altered { position: 2, entry: Uuid::nil() }))]
#[case::place("UPDATE entries e SET closes_stand = s.id, closes_step = 'roll' FROM stands s WHERE s.farm_id = e.farm_id AND e.id = '{}'", Some(Broken::Altered { position: 2, entry: Uuid::nil() }))]
#[case::when("UPDATE entries SET recorded_at = recorded_at - interval '1 day' WHERE id = '{}'", Some(Broken::Altered { position: 2, entry: Uuid::nil() }))]
#[case::part("UPDATE entry_subjects SET part = 'to' WHERE entry_id = '{}'", Some(Broken::Altered { position: 2, entry: Uuid::nil() }))]
#[case::about("DELETE FROM entry_subjects WHERE entry_id = '{}'", Some(Broken::Altered { position: 2, entry: Uuid::nil() }))]
#[case::gone("DELETE FROM ledger_chain WHERE entry_id = '{}'", Some(Broken::Missing { position: 2 }))]
#[case::sound("SELECT 1 FROM entries WHERE id = '{}'", None)]
#[tokio::test]
async fn the_chain_tells_the_first_that_was_altered(#[case] statement: &str, #[case] broken: Option<Broken>) {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    let mut ids = vec![];
    for text in ["one", "two", "three", "four"] {
        let note = Note { text: text.into() }.into();
        let new = NewEntry::of(Uuid::now_v7(), [Subject::field(ground.field)], TODAY, Via::Web, note);
        entry::write(&mut connection, &ground.member, &new, TODAY).await.unwrap();
        // Sent again it takes no second place.
        entry::write(&mut connection, &ground.member, &new, TODAY).await.unwrap();
        ids.push(new.id);
    }
    let written = chain::head(&mut connection, &ground.member).await.unwrap();
    assert_eq!((written.position, written.digest.len()), (4, 64));
    let unwatched = "SET session_replication_role = replica";
    ground.database.as_admin(&format!("{unwatched}; {}", statement.replace("'{}'", &format!("'{}'", ids[1])))).await;
    let found = &chain::verify(&mut connection).await.unwrap()[0];
    let named = match broken {
        Some(Broken::Altered { position, .. }) => Some(Broken::Altered { position, entry: ids[1] }),
        other => other,
    };
    assert_eq!(found.broken, named);
    assert_eq!(found.head.position, if named.is_some() { 1 } else { 4 });
    if named.is_none() {
        assert_eq!(found.head, written);
    }
}

/// An entry that was put in beside the chain is found, too.
#[tokio::test]
async fn an_entry_slipped_in_has_no_place() {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    entry::write(&mut connection, &ground.member, &ground.sowing(TODAY), TODAY).await.unwrap();
    let slipped = Uuid::now_v7();
    let copy = format!(
        "INSERT INTO entries (farm_id, id, kind, version, occurred_on, recorded_by, via, payload)
         SELECT farm_id, '{slipped}', kind, version, occurred_on, recorded_by, via, payload FROM entries"
    );
    connection.batch_execute(&copy).await.unwrap();
    let found = &chain::verify(&mut connection).await.unwrap()[0];
    assert_eq!(found.broken, Some(Broken::Unchained { entry: slipped }));
}

/// Writers of one farm at once: places are given one after another, none twice, none left out.
#[tokio::test(flavor = "multi_thread")]
async fn places_are_given_in_the_order_of_commits() {
    let (ground, pool) = ground().await;
    let member = std::sync::Arc::new(ground.member.clone());
    let writing: Vec<_> = (0..40)
        .map(|turn| {
            let (pool, member, field) = (pool.clone(), member.clone(), ground.field);
            tokio::spawn(async move {
                let note = Note { text: format!("turn {turn}") }.into();
                let new = NewEntry::of(Uuid::now_v7(), [Subject::field(field)], TODAY, Via::Web, note);
                entry::write(&mut pool.get().await.unwrap(), &member, &new, TODAY).await.unwrap();
            })
        })
        .collect();
    for one in writing {
        one.await.unwrap();
    }
    let found = &chain::verify(&mut pool.get().await.unwrap()).await.unwrap()[0];
    assert_eq!((found.head.position, &found.broken), (40, &None));
}

/// What entries are about, their authors' names, the farm and pictures are covered with the entries: whoever changes one
/// of them behind the application's back is found out, the tables' owner too.
#[rstest]
#[case::area("UPDATE fields SET area_m2 = area_m2 * 1.5", "field")]
#[case::outline("UPDATE fields SET boundary = '{}'", "field")]
#[case::crop("UPDATE seed_lots SET crop = 'timothy'", "seed lot")]
#[case::stand("DELETE FROM stands", "stand")]
#[case::slipped_in(
    "INSERT INTO seed_lots (farm_id, id, crop, label) SELECT id, gen_random_uuid(), 'alfalfa', 'other' FROM farms",
    "seed lot"
)]
#[case::author("UPDATE people SET name = 'Somebody Else'", "name of the person")]
#[case::farm("UPDATE farms SET name = 'Other Farm'", "farm")]
#[case::closed("UPDATE farms SET closed_on = '2026-01-01'", "farm")]
#[case::picture("UPDATE photos SET jpeg = '\\x00000000', sha256 = encode(sha256('\\x00000000'), 'hex')", "picture")]
#[case::no_picture("DELETE FROM photos", "picture")]
#[case::sound("SELECT 1", "")]
#[tokio::test]
async fn what_gives_entries_their_meaning_is_covered(#[case] statement: &str, #[case] named: &str) {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    let member = &ground.member;
    lot::add(&mut connection, member, Uuid::now_v7(), "alfalfa", "A-1").await.unwrap();
    let (picture, bytes) = (Uuid::now_v7(), b"a picture".as_slice());
    let sha256 = hex::encode(sha2::Sha256::digest(bytes));
    photo::keep(&mut connection, member, picture, (bytes, &sha256)).await.unwrap();
    let taken = Photo { photo: picture, sha256, note: None };
    let taken = NewEntry::of(Uuid::now_v7(), [Subject::field(ground.field)], TODAY, Via::Web, taken.into());
    entry::write(&mut connection, member, &taken, TODAY).await.unwrap();

    ground.database.as_admin(&format!("SET session_replication_role = replica; {statement}")).await;
    let found = &chain::verify(&mut connection).await.unwrap()[0];
    let told = match &found.broken {
        None => "",
        Some(Broken::Refounded { kind, .. }) => kind,
        Some(Broken::Farm) => "farm",
        Some(Broken::Picture { .. }) => "picture",
        Some(other) => panic!("{other}"),
    };
    assert_eq!(told, named);
}

/// Digests remade by whoever can write them do not pass either: the chain holds them. And no one makes them anew with the
/// rights that the application has.
#[tokio::test]
async fn how_things_were_founded_is_permanent() {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    entry::write(&mut connection, &ground.member, &ground.sowing(TODAY), TODAY).await.unwrap();
    for statement in [
        "UPDATE foundings SET position = NULL",
        "UPDATE foundings SET position = 1",
        "DELETE FROM foundings",
        "TRUNCATE foundings",
    ] {
        for url in [&ground.database.app_url, &ground.database.owner_url] {
            let mut other = AsyncPgConnection::establish(url).await.unwrap();
            let error = other.batch_execute(statement).await.unwrap_err().to_string();
            assert!(error.contains("permanent") || error.contains("permission denied"), "{statement}: {error}");
        }
    }
    let remade = "SET session_replication_role = replica; UPDATE fields SET sown_area_m2 = 1;
        UPDATE foundings SET digest = sha256(convert_to(field_told(f), 'UTF8')) FROM fields f WHERE kind = 'field'";
    ground.database.as_admin(remade).await;
    let found = &chain::verify(&mut connection).await.unwrap()[0];
    assert!(matches!(found.broken, Some(Broken::Altered { position: 1, .. })), "{:?}", found.broken);
}

/// A farm that was corrected, closed and opened again is as its entries say; otherwise it is not.
#[tokio::test]
async fn the_farm_is_as_its_last_correction_says() {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    let sound = async |connection: &mut Connection| chain::verify(connection).await.unwrap()[0].broken.clone();
    assert_eq!(sound(&mut connection).await, None);
    let new = farm::Farm { name: "Upper Farm".into(), elevation_m: 381.3, ..ground.member.farm.clone() };
    let entry = || (Uuid::now_v7(), TODAY);
    farm::correct(&mut connection, &ground.member, &new, 1, entry()).await.unwrap();
    assert_eq!(sound(&mut connection).await, None);
    farm::close(&mut connection, &ground.member, true, entry()).await.unwrap();
    assert_eq!(sound(&mut connection).await, None);
    farm::close(&mut connection, &ground.member, false, entry()).await.unwrap();
    assert_eq!(sound(&mut connection).await, None);
    ground.database.as_admin("UPDATE farms SET elevation_m = 380").await;
    assert_eq!(sound(&mut connection).await, Some(Broken::Farm));
}

/// A head that somebody wrote down is found again, however it was copied; another one is not.
#[tokio::test]
async fn a_written_head_is_found_again() {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    entry::write(&mut connection, &ground.member, &ground.sowing(TODAY), TODAY).await.unwrap();
    let written = chain::head(&mut connection, &ground.member).await.unwrap().digest;
    entry::write(&mut connection, &ground.member, &ground.sowing(TODAY), TODAY).await.unwrap();
    let groups: Vec<&str> = (0..64).step_by(4).map(|at| &written[at..at + 4]).collect();
    for copied in [written.clone(), groups.join(" "), groups.join("\n").to_uppercase()] {
        let place = chain::came_through(&mut connection, &copied).await.unwrap();
        assert_eq!(place, Some((ground.member.farm.id, 1)));
    }
    for other in ["", "abcd", "\u{b5}\u{b5}", &written[..62], &"0".repeat(64)] {
        assert_eq!(chain::came_through(&mut connection, other).await.unwrap(), None, "{other}");
    }
}

/// A picture whose entry never came is swept after a week; one that an entry tells of stays, and so does one that was sent
/// just now.
#[tokio::test]
async fn pictures_that_no_entry_tells_of_are_swept() {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    let (member, bytes) = (&ground.member, b"a picture".as_slice());
    let sha256 = hex::encode(sha2::Sha256::digest(bytes));
    let [told, lost, fresh, next] = std::array::from_fn(|_| Uuid::now_v7());
    for id in [told, lost] {
        photo::keep(&mut connection, member, id, (bytes, &sha256)).await.unwrap();
    }
    let taken = Photo { photo: told, sha256: sha256.clone(), note: None };
    let taken = NewEntry::of(Uuid::now_v7(), [Subject::field(ground.field)], TODAY, Via::Web, taken.into());
    entry::write(&mut connection, member, &taken, TODAY).await.unwrap();
    ground.database.as_admin("UPDATE photos SET created_at = now() - interval '8 days'").await;
    for id in [fresh, next] {
        photo::keep(&mut connection, member, id, (bytes, &sha256)).await.unwrap();
    }
    for (id, there) in [(told, true), (lost, false), (fresh, true), (next, true)] {
        assert_eq!(photo::digest(&mut connection, member, id).await.unwrap().is_some(), there);
    }
    let refused = connection.batch_execute("DELETE FROM photos").await.unwrap_err().to_string();
    assert!(refused.contains("permission denied"), "{refused}");
}

/// Two hundred pictures wait at most.
#[tokio::test]
async fn pictures_that_wait_are_bounded() {
    let (ground, pool) = ground().await;
    let mut connection = pool.get().await.unwrap();
    let bytes = b"a picture".as_slice();
    let sha256 = hex::encode(sha2::Sha256::digest(bytes));
    ground
        .database
        .as_admin(
            "INSERT INTO photos (farm_id, id, jpeg, sha256) SELECT id, gen_random_uuid(), 'picture',
             encode(sha256('picture'), 'hex') FROM farms, generate_series(1, 200)",
        )
        .await;
    let refused = photo::keep(&mut connection, &ground.member, Uuid::now_v7(), (bytes, &sha256)).await.unwrap_err();
    assert!(refused.to_string().contains("still wait for their records"), "{refused}");
}
