//! Fields: founded by outline or area, corrected in ink, told as they lay on a day.

use agronomy::units::{Area, Length, Measure, Unit};
use jiff::civil::{Date, date};
use ledger::{
    Error, Pool,
    entry::{self, Entry, NewEntry},
    farm::Membership,
    field::{self, Extent, Field, measured},
    lot,
    parting::{self, Share, halves, whole},
    stand,
};
use records::{Subject, Via, kinds::field_shape::FieldShape};
use serde_json::{Value, json};
use uuid::Uuid;

use crate::common::{Pooled, database, farmed};

const TODAY: Date = date(2026, 5, 14);

fn square(side: f64) -> Value {
    let (west, south) = (-76.5, 42.5);
    let ring = [[west, south], [west + side, south], [west + side, south + side], [west, south + side], [west, south]];
    json!({"type": "Polygon", "coordinates": [ring]})
}

fn ha(value: f64) -> Area {
    Area::new(value, Unit::Ha)
}

struct Farm {
    pool: Pool,
    member: Membership,
}

impl Farm {
    async fn new() -> Self {
        let pool = database().await.pool();
        let member = farmed(&mut pool.get().await.unwrap(), Some(TODAY)).await;
        Self { pool, member }
    }

    async fn add(&self, name: &str, extent: Extent) -> Result<Field, Error> {
        let field = Field::new(self.member.farm.id, Uuid::now_v7(), name, extent, Length::default())?;
        field::add(&mut self.pool.get().await.unwrap(), &self.member, &field).await
    }

    async fn now(&self, id: Uuid) -> Field {
        field::one(&mut self.pool.get().await.unwrap(), &self.member, id).await.unwrap()
    }

    async fn tell(&self, field: &Field, shape: FieldShape, on: Date) -> Result<Entry, Error> {
        let told = (Uuid::now_v7(), on, field.shape);
        field::reshape(&mut self.pool.get().await.unwrap(), &self.member, field.id, shape, told, TODAY).await
    }
}

#[tokio::test]
async fn a_field_may_be_founded_by_its_area_and_drawn_later() {
    let farm = Farm::new().await;
    let field = farm.add("Home", Extent::Area(ha(4.0))).await.unwrap();
    assert_eq!((field.boundary.clone(), field.sown_area()), (None, ha(4.0)));
    let drawn = measured("Home", Extent::Outline(square(0.002)), Length::new(5.0, Unit::M)).unwrap();
    farm.tell(&field, drawn, TODAY).await.unwrap();
    let now = farm.now(field.id).await;
    assert!(now.boundary.is_some() && now.sown_area() < Area::from_base(now.area_m2));
    assert!((now.area_m2 / 36_500.0 - 1.0).abs() < 0.01, "164 m by 222 m: {}", now.area_m2);
    // What cannot be: nothing at all, a setback along nothing, an area that no field has.
    let setback = measured("X", Extent::Area(ha(1.0)), Length::new(5.0, Unit::M)).unwrap_err();
    assert!(setback.to_string().starts_with("/setback"), "{setback}");
    for area in [0.0, -1.0, 30_000.0] {
        let refused = measured("X", Extent::Area(ha(area)), Length::default()).unwrap_err();
        assert!(refused.to_string().starts_with("/area"), "{refused}");
    }
}

#[tokio::test]
async fn a_field_lay_as_it_lay() {
    let farm = Farm::new().await;
    let field = farm.add("Long", Extent::Area(ha(10.0))).await.unwrap();
    let shaped = |name: &str, area: f64| measured(name, Extent::Area(ha(area)), Length::default()).unwrap();
    let smaller = farm.tell(&field, shaped("Long", 8.0), date(2026, 3, 1)).await.unwrap();
    let now = farm.now(field.id).await;
    farm.tell(&now, shaped("Longer", 9.0), date(2026, 4, 1)).await.unwrap();
    let ground = async || {
        let mut connection = farm.pool.get().await.unwrap();
        entry::books(&mut connection, &farm.member, Some(Subject::field(field.id))).await.unwrap().field(field.id)
    };
    let (now, book) = (farm.now(field.id).await, ground().await);
    assert_eq!((now.name.as_str(), now.sown_area()), ("Longer", ha(9.0)));
    let on = |day: Date| now.sown_area_on(day, &book).to(Unit::Ha).round();
    assert_eq!([date(2026, 2, 1), date(2026, 3, 1), date(2026, 3, 31), TODAY].map(on), [10.0, 8.0, 8.0, 9.0]);
    // Struck, a shape counts no more.
    let mut connection = farm.pool.get().await.unwrap();
    entry::strike(&mut connection, &farm.member, Uuid::now_v7(), smaller.id, "misread", TODAY).await.unwrap();
    drop(connection);
    let book = ground().await;
    assert_eq!(farm.now(field.id).await.sown_area_on(date(2026, 3, 31), &book), ha(10.0));
}

#[tokio::test]
async fn names_stand_for_one_field_each_and_are_free_again() {
    let farm = Farm::new().await;
    let north = farm.add("North", Extent::Area(ha(1.0))).await.unwrap();
    let taken = farm.add("north", Extent::Area(ha(2.0))).await;
    assert!(matches!(taken, Err(Error::Conflict(_))), "{taken:?}");
    let renamed =
        FieldShape { name: "Upper North".into(), ..measured("x", Extent::Area(ha(1.0)), Length::default()).unwrap() };
    farm.tell(&north, renamed.clone(), TODAY).await.unwrap();
    let south = farm.add("North", Extent::Area(ha(2.0))).await.unwrap();
    let taken = farm.tell(&south, renamed.clone(), TODAY).await;
    assert!(matches!(taken, Err(Error::Conflict(_))), "{taken:?}");
    // Retired, a field keeps its name.
    let now = farm.now(north.id).await;
    farm.tell(&now, FieldShape { retired: true, ..renamed }, TODAY).await.unwrap();
    let all = field::all(&mut farm.pool.get().await.unwrap(), &farm.member).await.unwrap();
    let told: Vec<_> = all.iter().map(|field| (field.name.as_str(), field.retired)).collect();
    assert_eq!(told, [("North", false), ("Upper North", true)]);
}

#[tokio::test]
async fn the_second_to_correct_a_field_is_told() {
    let farm = Farm::new().await;
    let field = farm.add("Shared", Extent::Area(ha(5.0))).await.unwrap();
    let shaped = |area: f64| measured("Shared", Extent::Area(ha(area)), Length::default()).unwrap();
    let (one, other) = tokio::join!(farm.tell(&field, shaped(6.0), TODAY), farm.tell(&field, shaped(7.0), TODAY));
    let told = [&one, &other].into_iter().filter(|outcome| matches!(outcome, Err(Error::Overtaken(_)))).count();
    assert_eq!(told, 1, "{one:?} {other:?}");
    // The same sent again is the same entry, whatever stands there by now.
    let id = Uuid::now_v7();
    let now = farm.now(field.id).await;
    for _ in 0..2 {
        let mut connection = farm.pool.get().await.unwrap();
        let told = (id, TODAY, now.shape);
        field::reshape(&mut connection, &farm.member, field.id, shaped(8.0), told, TODAY).await.unwrap();
    }
    assert_eq!(farm.now(field.id).await.shape, Some(id));
}

fn past_crop(crop: &str) -> records::Payload {
    records::Payload::sent(json!({"kind": "past-crop", "crop": crop})).unwrap()
}

async fn tell_of(farm: &Farm, field: Uuid, payload: records::Payload) -> Entry {
    let new = NewEntry::of(Uuid::now_v7(), [Subject::field(field)], date(2025, 9, 1), Via::Web, payload);
    entry::write(&mut farm.pool.get().await.unwrap(), &farm.member, &new, TODAY).await.unwrap()
}

async fn ended_on(farm: &Farm, field: Uuid) -> Vec<String> {
    let mut connection = farm.pool.get().await.unwrap();
    let books = entry::books(&mut connection, &farm.member, Some(Subject::field(field))).await.unwrap();
    books.field(field).past_crops.iter().map(|past| past.what.crop.clone()).collect()
}

/// What was recorded of the whole is known of both parts; what was struck is known of neither, and the land is shared
/// out to the last square metre.
#[tokio::test]
async fn a_field_is_split_with_all_that_is_known_of_it() {
    let farm = Farm::new().await;
    let field = farm.add("Long", Extent::Outline(square(0.004))).await.unwrap();
    tell_of(&farm, field.id, past_crop("alfalfa")).await;
    let slip = tell_of(&farm, field.id, past_crop("oats")).await;
    let mut connection = farm.pool.get().await.unwrap();
    entry::strike(&mut connection, &farm.member, Uuid::now_v7(), slip.id, "another field", TODAY).await.unwrap();
    let stand = stand::add(&mut connection, &farm.member, Uuid::now_v7(), field.id).await.unwrap();
    drop(connection);

    let north = vec![(-76.499, 42.501), (-76.499, 42.503)];
    let part = Uuid::now_v7();
    let halves = |name: &'static str| halves(&field, Share::LeftOf(north.clone()), (part, name)).unwrap();
    let told = (Uuid::now_v7(), TODAY, None);
    let split = async |name, told| {
        let mut connection = farm.pool.get().await.unwrap();
        parting::split(&mut connection, &farm.member, &field, halves(name), told, TODAY).await
    };
    assert!(matches!(split("long", told).await, Err(Error::Conflict(_))), "its name is taken");
    let west = split("Long West", told).await.unwrap();
    // Said again it is the same, and nothing is written twice.
    assert_eq!(split("Long West", told).await.unwrap(), west);
    let east = farm.now(field.id).await;
    assert!((west.area_m2 / field.area_m2 - 0.25).abs() < 1e-3, "{}", west.area_m2);
    assert!((west.area_m2 + east.area_m2 - field.area_m2).abs() < 0.01);
    for one in [west.id, east.id] {
        assert_eq!(ended_on(&farm, one).await, ["alfalfa"]);
    }
    let mut connection = farm.pool.get().await.unwrap();
    let own = stand::of_field(&mut connection, &farm.member, west.id).await.unwrap();
    assert!(own.len() == 1 && own[0].id != stand.id);
    // Who looked before the split is told.
    drop(connection);
    let mut connection = farm.pool.get().await.unwrap();
    let third = ledger::parting::halves(&field, Share::LeftOf(north), (Uuid::now_v7(), "Third")).unwrap();
    let told = (Uuid::now_v7(), TODAY, None);
    let late = parting::split(&mut connection, &farm.member, &field, third, told, TODAY).await;
    assert!(matches!(late, Err(Error::Overtaken(_))), "{late:?}");
}

/// What was sown on the whole was taken from its lot once, however many parts know of it.
#[tokio::test]
async fn a_lot_gives_its_seed_once() {
    let farm = Farm::new().await;
    let field = farm.add("Long", Extent::Outline(square(0.004))).await.unwrap();
    let mut connection = farm.pool.get().await.unwrap();
    let stand = stand::add(&mut connection, &farm.member, Uuid::now_v7(), field.id).await.unwrap();
    let lot = lot::add(&mut connection, &farm.member, Uuid::now_v7(), "alfalfa", "A 1").await.unwrap();
    let sown = json!({"kind": "seed-sown", "area": {"value": 4, "unit": "ha"}, "mass": {"value": 60, "unit": "kg"}});
    let about = [Subject::field(field.id), Subject::stand(stand.id), Subject::seed_lot(lot.id)];
    let payload = records::Payload::sent(sown).unwrap();
    let new = NewEntry::of(Uuid::now_v7(), about, date(2025, 9, 1), Via::Web, payload);
    entry::write(&mut connection, &farm.member, &new, TODAY).await.unwrap();
    let north = vec![(-76.499, 42.501), (-76.499, 42.503)];
    let parted = halves(&field, Share::LeftOf(north), (Uuid::now_v7(), "Long West")).unwrap();
    let told = (Uuid::now_v7(), TODAY, None);
    let part = parting::split(&mut connection, &farm.member, &field, parted, told, TODAY).await.unwrap();
    let own = stand::of_field(&mut connection, &farm.member, part.id).await.unwrap();
    for (subject, times) in
        [(Subject::seed_lot(lot.id), 1), (Subject::stand(stand.id), 1), (Subject::stand(own[0].id), 1)]
    {
        let told = entry::all(&mut connection, &farm.member, Some(subject)).await.unwrap();
        let sown = told.iter().filter(|one| one.payload().is_some_and(|what| what.kind().word == "seed-sown"));
        assert_eq!(sown.count(), times, "{subject:?}");
    }
    // The part is a quarter of the field: a quarter of the seed stands on it, at the rate of the whole.
    let told = entry::all(&mut connection, &farm.member, Some(Subject::stand(own[0].id))).await.unwrap();
    let Some(records::Payload::SeedSown(sown)) = told[0].payload() else { panic!("{told:?}") };
    assert!((sown.mass.to(Unit::Kg) - 15.0).abs() < 0.1 && (sown.area.to(Unit::Ha) - 1.0).abs() < 0.01, "{sown:?}");
}

/// What was baled off the whole is known of the part by its share, the yield the same on both; what a laboratory says of
/// the bales is of the bales.
#[tokio::test]
async fn a_part_keeps_its_share_of_what_was_baled() {
    let farm = Farm::new().await;
    let field = farm.add("Long", Extent::Outline(square(0.004))).await.unwrap();
    let other = farm.add("Other", Extent::Area(ha(5.0))).await.unwrap();
    let mut connection = farm.pool.get().await.unwrap();
    let made = |kg: f64, area: Option<f64>| {
        let mut made = json!({"kind": "forage-lot", "crop": "alfalfa", "form": "chopped",
            "mass": {"value": kg, "unit": "kg"}, "moisture": {"value": 60, "unit": "%"}});
        if let Some(ha) = area {
            made["area"] = json!({"value": ha, "unit": "ha"});
        }
        made
    };
    let (own, pile, unknown) = (Uuid::now_v7(), Uuid::now_v7(), Uuid::now_v7());
    let report = json!({"kind": "forage-analysis", "basis": "dry-matter", "adf": {"value": 30, "unit": "%"}});
    let both = [Subject::field(field.id), Subject::field(other.id)];
    let told = [
        (vec![both[0], Subject::forage_lot(own)], made(40_000.0, None)),
        (vec![both[0], both[1], Subject::forage_lot(pile)], made(90_000.0, Some(15.0))),
        (vec![both[0], both[1], Subject::forage_lot(unknown)], made(50_000.0, None)),
        (vec![Subject::forage_lot(own)], report),
    ];
    for (day, (about, payload)) in (1..).zip(told) {
        let payload = records::Payload::sent(payload).unwrap();
        let new = NewEntry::of(Uuid::now_v7(), about, date(2025, 9, day), Via::Web, payload);
        entry::write(&mut connection, &farm.member, &new, TODAY).await.unwrap();
    }
    let north = vec![(-76.499, 42.501), (-76.499, 42.503)];
    let parted = halves(&field, Share::LeftOf(north), (Uuid::now_v7(), "Long West")).unwrap();
    let told = (Uuid::now_v7(), TODAY, None);
    let part = parting::split(&mut connection, &farm.member, &field, parted, told, TODAY).await.unwrap();
    drop(connection);
    let mut yields = vec![];
    for id in [field.id, part.id] {
        let (now, mut connection) = (farm.now(id).await, farm.pool.get().await.unwrap());
        let books = entry::books(&mut connection, &farm.member, Some(Subject::field(id))).await.unwrap();
        let ground = books.field(id);
        let (told, untold) = ground.harvests(date(2025, 1, 1)..date(2026, 1, 1), |day| now.sown_area_on(day, &ground));
        yields.push(told.iter().map(|one| one.what.harvested.to(Unit::TPerHa)).collect::<Vec<_>>());
        // Of the pile off unknown ground the field knows that it was; the part does not.
        assert_eq!(untold.len(), usize::from(id == field.id));
        let entries = entry::all(&mut connection, &farm.member, Some(Subject::field(id))).await.unwrap();
        let reports =
            entries.iter().filter(|one| one.payload().is_some_and(|what| what.kind().word == "forage-analysis"));
        assert_eq!(reports.count(), usize::from(id == field.id));
    }
    let (whole, part) = (&yields[0], &yields[1]);
    assert_eq!((whole.len(), part.len()), (2, 2));
    assert!(whole.iter().zip(part).all(|(a, b)| (a - b).abs() < 0.01 * a), "{yields:?}");
    assert!((whole[1] - 6.0).abs() < 1e-6, "90 t off 15 ha");
}

#[tokio::test]
async fn fields_are_joined_with_what_forbids_a_crop() {
    let farm = Farm::new().await;
    let one = farm.add("One", Extent::Outline(square(0.004))).await.unwrap();
    let line = vec![(-76.498, 42.501), (-76.498, 42.503)];
    let parted = halves(&one, Share::LeftOf(line), (Uuid::now_v7(), "Two")).unwrap();
    let told = (Uuid::now_v7(), TODAY, None);
    let mut connection = farm.pool.get().await.unwrap();
    let two = parting::split(&mut connection, &farm.member, &one, parted, told, TODAY).await.unwrap();
    drop(connection);
    tell_of(&farm, two.id, past_crop("alfalfa")).await;

    let both = [farm.now(one.id).await, two.clone()];
    let told = (Uuid::now_v7(), TODAY, both[0].shape);
    let mut connection = farm.pool.get().await.unwrap();
    let joined = parting::join(&mut connection, &farm.member, &both, whole(&both).unwrap(), told, TODAY).await.unwrap();
    let gone = parting::join(
        &mut connection,
        &farm.member,
        &[joined.clone(), farm.now(two.id).await],
        whole(&both).unwrap(),
        (Uuid::now_v7(), TODAY, joined.shape),
        TODAY,
    )
    .await;
    assert!(gone.unwrap_err().to_string().contains("no longer farmed"));
    drop(connection);
    // The halves of a square are the square again.
    assert!((joined.area_m2 - one.area_m2).abs() < 0.01 && joined.boundary.as_ref().unwrap()["type"] == "Polygon");
    assert!(farm.now(two.id).await.retired);
    assert_eq!(ended_on(&farm, one.id).await, ["alfalfa"]);
}

#[tokio::test]
async fn what_can_not_be_split_or_joined_says_why() {
    let farm = Farm::new().await;
    let drawn = farm.add("Drawn", Extent::Outline(square(0.004))).await.unwrap();
    let bare = farm.add("Bare", Extent::Area(ha(4.0))).await.unwrap();
    let refused = |field: &Field, share| halves(field, share, (Uuid::now_v7(), "Part")).unwrap_err().to_string();
    let beside = vec![(-76.6, 42.501), (-76.6, 42.503)];
    assert!(
        refused(&drawn, Share::LeftOf(beside.clone()))
            .contains("The line does not divide the field; draw it from one side to the other")
    );
    assert!(refused(&drawn, Share::LeftOf(vec![(-76.499, 42.501)])).contains("Use 2–500 points in the dividing line"));
    assert!(refused(&drawn, Share::LeftOf(vec![(-76.499, 142.0), (0.0, 0.0)])).contains("invalid positions"));
    assert!(refused(&drawn, Share::Area(ha(1.0))).contains("this field is drawn; draw the dividing line"));
    assert!(refused(&bare, Share::LeftOf(beside)).contains("not drawn"));
    assert!(refused(&bare, Share::Area(ha(4.0))).contains("whole field"));
    let parts = halves(&bare, Share::Area(ha(1.0)), (Uuid::now_v7(), "Part")).unwrap();
    assert_eq!((parts.stays.area.to(Unit::Ha).round(), parts.leaves.sown_area()), (3.0, ha(1.0)));
    assert!(whole(&[drawn, bare.clone()]).unwrap_err().to_string().contains("draw them first"));
    assert_eq!(whole(&[bare.clone(), bare]).unwrap().area, ha(8.0));
}
