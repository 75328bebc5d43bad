//! The ground of a field in the ledger: what counts, what is struck, whose it is.

use agronomy::{
    nutrients::{Analysis, Nutrient},
    site::SiteFacts,
    soil::{Layer, SoilTest},
    units::{Fraction, Length, MassPerArea, Unit},
};
use diesel_async::SimpleAsyncConnection;
use jiff::civil::{Date, date};
use ledger::{
    Connection, Error, Pool,
    entry::{self, Filter, KINDS, NewEntry, Payload, Via},
    farm::{self, Membership},
    field::{self, Field},
    testing::{database, farmed},
};
use planner::ground::{Cut, Dressing, DressingKind};
use rstest::rstest;
use serde_json::json;
use uuid::Uuid;

const TODAY: Date = date(2026, 5, 14);

struct Ground {
    pool: Pool,
    member: Membership,
    field: Uuid,
}

async fn field_of(connection: &mut Connection, member: &Membership, name: &str) -> Uuid {
    let ring = json!([[[-76.5, 42.5], [-76.497, 42.5], [-76.497, 42.503], [-76.5, 42.503], [-76.5, 42.5]]]);
    let boundary = json!({"type": "Polygon", "coordinates": ring});
    let field = Field::new(member.farm.id, Uuid::now_v7(), name, boundary, Length::new(5.0, Unit::M)).unwrap();
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

fn test(ph: f64, on: Date) -> Payload {
    let layers = vec![Layer::new(Length::new(0.0, Unit::In), Length::new(6.0, Unit::In), ph)];
    Payload::SoilTest {
        test: Box::new(SoilTest { laboratory: "L".into(), sample: String::new(), sampled_on: on, layers }),
    }
}

fn dressing(kg: f64) -> Payload {
    Payload::Dressing {
        dressing: Box::new(Dressing {
            what: DressingKind::Fertiliser,
            product: "potash".into(),
            rate: MassPerArea::new(kg, Unit::KgPerHa),
            analysis: Analysis::from([(Nutrient::K2o, Fraction::percent(60.0))]),
            effective: None,
        }),
    }
}

fn cut(tonnes: f64) -> Payload {
    let harvested = MassPerArea::new(tonnes, Unit::TPerHa);
    let cut = Cut { crop: "alfalfa".into(), harvested, moisture: None, after_frost: false, analysis: Analysis::new() };
    Payload::Cut { cut: Box::new(cut) }
}

fn site(weeds: &str, history_known: bool) -> Payload {
    let facts = SiteFacts { perennial_weeds: Some(weeds.into()), ..SiteFacts::default() };
    Payload::Site { facts: Box::new(facts), history_known }
}

fn spray(active: &str) -> Payload {
    Payload::Spray { active: active.into(), rate: None, label_months: None }
}

impl Ground {
    async fn put(&self, on: Date, payload: Payload) -> entry::Entry {
        let mut connection = self.pool.get().await.unwrap();
        entry::write(&mut connection, &self.member, &self.entry(on, payload), TODAY).await.unwrap()
    }

    fn entry(&self, on: Date, payload: Payload) -> NewEntry {
        NewEntry {
            id: Uuid::now_v7(),
            field: Some(self.field),
            stand: None,
            lot: None,
            occurred_on: on,
            via: Via::Web,
            payload,
            strikes: None,
        }
    }

    async fn read(&self) -> planner::ground::Ground {
        let mut connection = self.pool.get().await.unwrap();
        let entries = entry::of_ground(&mut connection, &self.member, Some(self.field)).await.unwrap();
        entry::ground(&entries, self.field)
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
    ground.put(date(2025, 10, 1), Payload::PastCrop { crop: "maize".into(), years: Some(1.0) }).await;
    ground.put(date(2026, 5, 2), Payload::Bioassay { passed: true, note: None }).await;
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
    assert_eq!(kept.payload, payload);
    assert_ne!(ground.read().await, before);
    ground.strike(kept.id).await;
    assert_eq!(ground.read().await, before);
    let mut connection = ground.pool.get().await.unwrap();
    let found = entry::find(&mut connection, &ground.member, kept.id).await.unwrap().unwrap();
    assert_eq!(found.payload, payload);
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
    let all = entry::of_ground(&mut connection, &ground.member, None).await.unwrap();
    assert_eq!(entry::ground(&all, ground.field).dressings.len(), 1);
    assert!(entry::ground(&all, other).dressings.is_empty());
    let stranger = farmed(&mut connection, None).await;
    assert!(entry::of_ground(&mut connection, &stranger, Some(ground.field)).await.unwrap().is_empty());
}

#[tokio::test]
async fn what_is_about_the_ground_names_its_field() {
    let ground = ground().await;
    let mut connection = ground.pool.get().await.unwrap();
    for payload in [test(6.0, TODAY), spray("atrazine"), dressing(10.0), cut(1.0), site("", true)] {
        let homeless = NewEntry { field: None, ..ground.entry(TODAY, payload) };
        let error = entry::write(&mut connection, &ground.member, &homeless, TODAY).await.unwrap_err();
        assert!(matches!(&error, Error::Refused(refused) if refused.0[0].pointer == "/field"), "{error}");
    }
}

#[rstest]
#[case::yield_of_nothing(cut(0.0), "/payload/cut/harvested")]
#[case::too_much(dressing(300_000.0), "/payload/dressing/rate")]
#[case::ph(test(15.0, TODAY), "/payload/test/layers/0/ph")]
#[case::nameless(spray("  "), "/payload/active")]
#[case::months(Payload::Spray { active: "x".into(), rate: None, label_months: Some(-2) }, "/payload/label_months")]
#[case::years(Payload::PastCrop { crop: "maize".into(), years: Some(-1.0) }, "/payload/years")]
#[tokio::test]
async fn what_cannot_be_is_not_written(#[case] payload: Payload, #[case] pointer: &str) {
    let ground = ground().await;
    let mut connection = ground.pool.get().await.unwrap();
    let error = entry::write(&mut connection, &ground.member, &ground.entry(TODAY, payload), TODAY).await.unwrap_err();
    assert!(matches!(&error, Error::Refused(refused) if refused.0.iter().any(|one| one.pointer == pointer)), "{error}");
    assert_eq!(entry::list(&mut connection, &ground.member, &Filter::default()).await.unwrap().1, 0);
}

/// The words of the code are the words of the table, each of them and no more.
#[tokio::test]
async fn the_table_knows_the_same_kinds() {
    let ground = ground().await;
    let mut connection = ground.pool.get().await.unwrap();
    let statement = |kind: &str| {
        format!(
            "INSERT INTO entries (farm_id, id, field_id, kind, version, occurred_on, recorded_by, via, payload) \
             VALUES ('{}', gen_random_uuid(), '{}', '{kind}', 1, '2026-05-01', '{}', 'web', '{{}}')",
            ground.member.farm.id, ground.field, ground.member.person
        )
    };
    for kind in KINDS {
        let outcome = connection.batch_execute(&statement(kind)).await.map_err(|error| error.to_string());
        let refused_kind = outcome.as_ref().is_err_and(|error| error.contains("entries_kind_check"));
        assert!(!refused_kind, "{kind}: {outcome:?}");
    }
    let unknown = connection.batch_execute(&statement("rumour")).await.unwrap_err().to_string();
    assert!(unknown.contains("entries_kind_check"), "{unknown}");
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
    let soil = |celsius| Payload::SoilTemperature {
        depth,
        temperature: agronomy::units::Temperature::new(celsius, Unit::DegC),
    };
    let rain = |mm| Payload::RainGauge { rain: Length::new(mm, Unit::Mm) };
    let water = |mm| Payload::Irrigation { depth: Length::new(mm, Unit::Mm) };
    let mut first = None;
    for (field, payload) in
        [(here, soil(8.0)), (here, soil(9.0)), (here, rain(4.0)), (here, water(20.0)), (there, soil(12.0))]
    {
        let id = Uuid::now_v7();
        first.get_or_insert(id);
        let (stand, lot, strikes) = (None, None, None);
        let new = NewEntry { id, field: Some(field), stand, lot, occurred_on: TODAY, via: Via::Web, payload, strikes };
        entry::write(&mut connection, &member, &new, TODAY).await.unwrap();
    }
    let strike = entry::strike(&mut connection, &member, Uuid::now_v7(), first.unwrap(), "misread", TODAY);
    strike.await.unwrap();
    let entries = entry::of_ground(&mut connection, &member, None).await.unwrap();
    let (own, other) = (entry::ground(&entries, here), entry::ground(&entries, there));
    let shown: Vec<f64> = own.soil_readings.iter().map(|one| one.temperature.to(Unit::DegC)).collect();
    assert_eq!(shown, [9.0]);
    assert_eq!((own.rain_gauge.len(), own.irrigation.len()), (1, 1));
    assert_eq!((other.soil_readings.len(), other.rain_gauge.len(), other.irrigation.len()), (1, 0, 0));
}

#[rstest]
#[case(Payload::RainGauge { rain: Length::new(400.0, Unit::Mm) }, "/payload/rain")]
#[case(Payload::Irrigation { depth: Length::new(0.0, Unit::Mm) }, "/payload/depth")]
#[case(Payload::SoilTemperature { depth: Length::new(2.0, Unit::M), temperature: agronomy::units::Temperature::new(8.0, Unit::DegC) }, "/payload/depth")]
#[tokio::test]
async fn an_instrument_cannot_show_everything(#[case] payload: Payload, #[case] pointer: &str) {
    let pool = database().await.pool();
    let mut connection = pool.get().await.unwrap();
    let member = farmed(&mut connection, Some(TODAY)).await;
    let field = Some(field_of(&mut connection, &member, "Here").await);
    let (id, stand, lot, strikes) = (Uuid::now_v7(), None, None, None);
    let new = NewEntry { id, field, stand, lot, occurred_on: TODAY, via: Via::Web, payload, strikes };
    match entry::write(&mut connection, &member, &new, TODAY).await {
        Err(Error::Refused(refused)) => assert_eq!(refused.0[0].pointer, pointer),
        other => panic!("{other:?}"),
    }
    let homeless = NewEntry { id: Uuid::now_v7(), field: None, ..new };
    assert!(matches!(entry::write(&mut connection, &member, &homeless, TODAY).await, Err(Error::Refused(_))));
}
