//! Fields: founded by outline or area, corrected in ink, told as they lay on a day.

use agronomy::units::{Area, Length, Measure, Unit};
use jiff::civil::{Date, date};
use ledger::{
    Error, Pool,
    entry::{self, Entry},
    farm::Membership,
    field::{self, Extent, Field, measured},
    testing::{database, farmed},
};
use records::{Subject, kinds::field_shape::FieldShape};
use serde_json::{Value, json};
use uuid::Uuid;

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
