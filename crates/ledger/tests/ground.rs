//! The ground of a field in the ledger: what counts, what is struck, whose it is.

use agronomy::{
    soil::{Layer, SoilTest},
    units::{Length, Temperature, Unit},
};
use diesel_async::SimpleAsyncConnection;
use jiff::civil::{Date, date};
use ledger::{
    Connection, Error, Pool,
    entry::{self, NewEntry, Via},
    farm::{self, Membership},
    field::{self, Extent, Field},
};
use records::{
    KINDS, Payload, Subject,
    kinds::{
        bioassay::BioassayRead, irrigation::Irrigation, past_crop::PastCropEnded, rain_gauge::RainGauge,
        soil_temperature::SoilTemperature, soil_test::SoilTestReport, spray::Sprayed,
    },
};
use rstest::rstest;
use serde_json::json;
use uuid::Uuid;

use crate::common::{Pooled, database, farmed};

const TODAY: Date = date(2026, 5, 14);

struct Ground {
    pool: Pool,
    member: Membership,
    field: Uuid,
}

async fn field_of(connection: &mut Connection, member: &Membership, name: &str) -> Uuid {
    let ring = json!([[[-76.5, 42.5], [-76.497, 42.5], [-76.497, 42.503], [-76.5, 42.503], [-76.5, 42.5]]]);
    let boundary = json!({"type": "Polygon", "coordinates": ring});
    let field =
        Field::new(member.farm.id, Uuid::now_v7(), name, Extent::Outline(boundary), Length::new(5.0, Unit::M)).unwrap();
    field::add(connection, member, &field).await.unwrap().id
}

async fn ground() -> Ground {
    let pool = database().await.pool();
    let mut connection = pool.get().await.unwrap();
    let member = farmed(&mut connection, Some(TODAY)).await;
    let field = field_of(&mut connection, &member, "Square").await;
    drop(connection);
    Ground { pool, member, field }
}

/// As the API takes it.
fn sent(payload: serde_json::Value) -> Payload {
    Payload::sent(payload).unwrap()
}

fn test(ph: f64, on: Date) -> Payload {
    let layers = vec![Layer::new(Length::new(0.0, Unit::In), Length::new(6.0, Unit::In), ph)];
    SoilTestReport::of(SoilTest { laboratory: "L".into(), sample: String::new(), sampled_on: on, layers }).into()
}

fn dressing(kg: f64) -> Payload {
    sent(json!({"kind": "dressing", "dressing": {"what": "fertiliser", "product": "potash",
        "rate": {"value": kg, "unit": "kg/ha"}, "analysis": {"k2o": {"value": 60, "unit": "%"}}}}))
}

fn cut(tonnes: f64) -> Payload {
    sent(json!({"kind": "cut", "cut": {"crop": "alfalfa", "harvested": {"value": tonnes, "unit": "t/ha"}}}))
}

fn site(weeds: &str, history_known: bool) -> Payload {
    sent(json!({"kind": "site", "facts": {"perennial_weeds": weeds}, "history_known": history_known}))
}

fn spray(active: &str) -> Payload {
    Sprayed::of(active).into()
}

impl Ground {
    async fn put(&self, on: Date, payload: Payload) -> entry::Entry {
        let mut connection = self.pool.get().await.unwrap();
        entry::write(&mut connection, &self.member, &self.entry(on, payload), TODAY).await.unwrap()
    }

    fn entry(&self, on: Date, payload: Payload) -> NewEntry {
        NewEntry::of(Uuid::now_v7(), [Subject::field(self.field)], on, Via::Web, payload)
    }

    async fn read(&self) -> records::book::Ground {
        let mut connection = self.pool.get().await.unwrap();
        let about = Some(Subject::field(self.field));
        let mut ground = (*entry::books(&mut connection, &self.member, about).await.unwrap().field(self.field)).clone();
        // Struck work stays among the operations, and closes nothing.
        ground.operations.retain(|one| !one.struck);
        ground
    }

    async fn strike(&self, id: Uuid) {
        let mut connection = self.pool.get().await.unwrap();
        entry::strike(&mut connection, &self.member, Uuid::now_v7(), id, "a slip", TODAY).await.unwrap();
    }
}

#[tokio::test]
async fn the_last_walk_counts_and_the_rest_adds_up() {
    let ground = ground().await;
    ground.put(date(2026, 4, 1), site("quackgrass", false)).await;
    let last = ground.put(date(2026, 5, 1), site("", true)).await;
    ground.put(date(2026, 3, 1), test(5.9, date(2026, 3, 1))).await;
    ground.put(date(2025, 9, 1), spray("atrazine")).await;
    ground.put(date(2025, 6, 1), spray("glyphosate")).await;
    ground.put(date(2025, 10, 1), PastCropEnded { crop: "maize".into(), years: Some(1.0) }.into()).await;
    ground.put(date(2026, 5, 2), BioassayRead { passed: true, note: None }.into()).await;
    ground.put(date(2026, 5, 3), dressing(100.0)).await;
    ground.put(date(2026, 5, 4), cut(3.0)).await;

    let read = ground.read().await;
    assert!(read.history_known);
    assert_eq!(read.facts.perennial_weeds.as_deref(), Some(""));
    assert_eq!(read.tests.len(), 1);
    let actives: Vec<_> = read.sprays.iter().map(|spray| spray.what.active.as_str()).collect();
    assert_eq!(actives, ["glyphosate", "atrazine"], "oldest first");
    assert_eq!(read.past_crops[0].what.ended, date(2025, 10, 1));
    assert!(read.bioassays[0].what.passed);
    assert_eq!((read.dressings.len(), read.cuts.len()), (1, 1));

    // The later walk struck, the earlier one stands again.
    ground.strike(last.id).await;
    let read = ground.read().await;
    assert!(!read.history_known);
    assert_eq!(read.facts.perennial_weeds.as_deref(), Some("quackgrass"));
}

#[rstest]
#[case::test(test(5.9, date(2026, 5, 1)))]
#[case::spray(spray("atrazine"))]
#[case::dressing(dressing(80.0))]
#[case::cut(cut(2.5))]
#[tokio::test]
async fn struck_it_counts_no_more_and_stays_legible(#[case] payload: Payload) {
    let ground = ground().await;
    let before = ground.read().await;
    let kept = ground.put(date(2026, 5, 1), payload.clone()).await;
    assert_eq!(kept.payload(), Some(&payload));
    assert_ne!(ground.read().await, before);
    ground.strike(kept.id).await;
    assert_eq!(ground.read().await, before);
    let mut connection = ground.pool.get().await.unwrap();
    let found = entry::find(&mut connection, &ground.member, kept.id).await.unwrap().unwrap();
    assert_eq!(found.payload(), Some(&payload));
    assert!(found.struck_by.is_some());
}

#[tokio::test]
async fn one_field_is_not_another() {
    let ground = ground().await;
    let other = {
        let mut connection = ground.pool.get().await.unwrap();
        field_of(&mut connection, &ground.member, "Round").await
    };
    ground.put(date(2026, 5, 1), dressing(80.0)).await;
    let mut connection = ground.pool.get().await.unwrap();
    let books = entry::books(&mut connection, &ground.member, None).await.unwrap();
    assert_eq!(books.field(ground.field).dressings.len(), 1);
    assert!(books.field(other).dressings.is_empty());
    let stranger = farmed(&mut connection, None).await;
    assert!(entry::all(&mut connection, &stranger, Some(Subject::field(ground.field))).await.unwrap().is_empty());
}

#[tokio::test]
async fn what_is_about_the_ground_names_its_field() {
    let ground = ground().await;
    let mut connection = ground.pool.get().await.unwrap();
    for payload in [test(6.0, TODAY), spray("atrazine"), dressing(10.0), cut(1.0), site("", true)] {
        let homeless = NewEntry { about: vec![], ..ground.entry(TODAY, payload) };
        let error = entry::write(&mut connection, &ground.member, &homeless, TODAY).await.unwrap_err();
        assert!(matches!(&error, Error::Refused(refused) if refused.0[0].pointer == "/about"), "{error}");
    }
}

#[rstest]
#[case::yield_of_nothing(cut(0.0), "/payload/cut/harvested")]
#[case::too_much(dressing(300_000.0), "/payload/dressing/rate")]
#[case::ph(test(15.0, TODAY), "/payload/test/layers/0/ph")]
#[case::nameless(spray("  "), "/payload/active")]
#[case::months(Sprayed { label_months: Some(-2), ..Sprayed::of("x") }.into(), "/payload/label_months")]
#[case::years(PastCropEnded { crop: "maize".into(), years: Some(-1.0) }.into(), "/payload/years")]
#[tokio::test]
async fn what_cannot_be_is_not_written(#[case] payload: Payload, #[case] pointer: &str) {
    let ground = ground().await;
    let mut connection = ground.pool.get().await.unwrap();
    let error = entry::write(&mut connection, &ground.member, &ground.entry(TODAY, payload), TODAY).await.unwrap_err();
    assert!(matches!(&error, Error::Refused(refused) if refused.0.iter().any(|one| one.pointer == pointer)), "{error}");
    assert_eq!(entry::all(&mut connection, &ground.member, None).await.unwrap().len(), 0);
}

/// A kind or version that this build does not know, or a payload that is not what it should be, is shown as
/// such and stops nothing: neither a list nor a book.
#[rstest]
#[case::kind("rumour", 1, json!({"heard": "at the mill"}))]
#[case::version("note", 9, json!({"text": "from tomorrow"}))]
#[case::payload("dressing", 1, json!({"dressing": 7}))]
#[tokio::test]
async fn what_cannot_be_read_is_shown_as_such(
    #[case] kind: &str,
    #[case] version: i32,
    #[case] payload: serde_json::Value,
) {
    let ground = ground().await;
    ground.put(date(2026, 5, 3), dressing(100.0)).await;
    let mut connection = ground.pool.get().await.unwrap();
    let id = Uuid::now_v7();
    let (farm, person, field) = (ground.member.farm.id, ground.member.person, ground.field);
    connection
        .batch_execute(&format!(
            "INSERT INTO entries (farm_id, id, kind, version, occurred_on, recorded_by, via, payload) \
             VALUES ('{farm}', '{id}', '{kind}', {version}, '2026-05-01', '{person}', 'web', '{payload}'); \
             INSERT INTO entry_subjects (farm_id, kind, subject_id, entry_id) VALUES ('{farm}', 'field', '{field}', '{id}')"
        ))
        .await
        .unwrap();
    let all = entry::all(&mut connection, &ground.member, None).await.unwrap();
    assert_eq!(all.len(), 2);
    let strange = all.iter().find(|entry| entry.id == id).unwrap();
    match &strange.content {
        records::Content::Unreadable { kind: word, why } => assert!(word == kind && !why.0.is_empty()),
        other => panic!("{other:?}"),
    }
    drop(connection);
    assert_eq!(ground.read().await.dressings.len(), 1);
    // It can be struck like any other.
    ground.strike(id).await;
}

/// The database knows no list of kinds: each of the registry's can be written, in its version.
#[tokio::test]
async fn a_kind_needs_no_migration() {
    let ground = ground().await;
    let mut connection = ground.pool.get().await.unwrap();
    for kind in KINDS.iter().filter(|kind| kind.word != "strike") {
        connection
            .batch_execute(&format!(
                "INSERT INTO entries (farm_id, id, kind, version, occurred_on, recorded_by, via, payload) \
                 VALUES ('{}', gen_random_uuid(), '{}', {}, '2026-05-01', '{}', 'web', '{{}}')",
                ground.member.farm.id, kind.word, kind.version, ground.member.person
            ))
            .await
            .unwrap();
    }
}

#[rstest]
#[case::on(date(2026, 6, 1), true)]
#[case::same(TODAY, true)]
#[case::back(date(2026, 5, 13), false)]
#[case::too_far(date(2027, 6, 1), false)]
#[tokio::test]
async fn a_practice_clock_goes_forward_only(#[case] day: Date, #[case] moves: bool) {
    let ground = ground().await;
    let mut connection = ground.pool.get().await.unwrap();
    let outcome = farm::move_clock(&mut connection, &ground.member, day).await;
    assert_eq!(outcome.is_ok(), moves, "{outcome:?}");
    let member = farm::membership(&mut connection, ground.member.person, ground.member.farm.id).await.unwrap();
    assert_eq!(member.farm.practice_day, Some(if moves { day } else { TODAY }));
    let real = farmed(&mut connection, None).await;
    let refused = farm::move_clock(&mut connection, &real, day).await;
    assert!(matches!(refused, Err(Error::Refused(_))), "a real farm has no practice clock");
}

/// Instruments of a person's own are of one field, and a struck reading is not among them.
#[tokio::test]
async fn instruments_are_read_into_the_ground_of_their_field() {
    let pool = database().await.pool();
    let mut connection = pool.get().await.unwrap();
    let member = farmed(&mut connection, Some(TODAY)).await;
    let (here, there) =
        (field_of(&mut connection, &member, "Here").await, field_of(&mut connection, &member, "There").await);
    let depth = Length::new(3.0, Unit::Cm);
    let soil = |celsius| Payload::from(SoilTemperature { depth, temperature: Temperature::new(celsius, Unit::DegC) });
    let rain = |mm| Payload::from(RainGauge { rain: Length::new(mm, Unit::Mm) });
    let water = |mm| Payload::from(Irrigation { depth: Length::new(mm, Unit::Mm) });
    let mut first = None;
    for (field, payload) in
        [(here, soil(8.0)), (here, soil(9.0)), (here, rain(4.0)), (here, water(20.0)), (there, soil(12.0))]
    {
        let id = Uuid::now_v7();
        first.get_or_insert(id);
        let new = NewEntry::of(id, [Subject::field(field)], TODAY, Via::Web, payload);
        entry::write(&mut connection, &member, &new, TODAY).await.unwrap();
    }
    let strike = entry::strike(&mut connection, &member, Uuid::now_v7(), first.unwrap(), "misread", TODAY);
    strike.await.unwrap();
    let books = entry::books(&mut connection, &member, None).await.unwrap();
    let (own, other) = (books.field(here), books.field(there));
    let shown: Vec<f64> = own.soil_readings.iter().map(|one| one.temperature.to(Unit::DegC)).collect();
    assert_eq!(shown, [9.0]);
    assert_eq!((own.rain_gauge.len(), own.irrigation.len()), (1, 1));
    assert_eq!((other.soil_readings.len(), other.rain_gauge.len(), other.irrigation.len()), (1, 0, 0));
}

#[rstest]
#[case(RainGauge { rain: Length::new(400.0, Unit::Mm) }.into(), "/payload/rain")]
#[case(Irrigation { depth: Length::new(0.0, Unit::Mm) }.into(), "/payload/depth")]
#[case(SoilTemperature { depth: Length::new(2.0, Unit::M), temperature: Temperature::new(8.0, Unit::DegC) }.into(), "/payload/depth")]
#[tokio::test]
async fn an_instrument_cannot_show_everything(#[case] payload: Payload, #[case] pointer: &str) {
    let pool = database().await.pool();
    let mut connection = pool.get().await.unwrap();
    let member = farmed(&mut connection, Some(TODAY)).await;
    let field = field_of(&mut connection, &member, "Here").await;
    let new = NewEntry::of(Uuid::now_v7(), [Subject::field(field)], TODAY, Via::Web, payload);
    match entry::write(&mut connection, &member, &new, TODAY).await {
        Err(Error::Refused(refused)) => assert_eq!(refused.0[0].pointer, pointer),
        other => panic!("{other:?}"),
    }
    let homeless = NewEntry { id: Uuid::now_v7(), about: vec![], ..new };
    assert!(matches!(entry::write(&mut connection, &member, &homeless, TODAY).await, Err(Error::Refused(_))));
}
