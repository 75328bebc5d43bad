//! A migrated database for each test, and people and farms in it.

use agronomy::units::{Length, System, Unit};
use jiff::civil::{Date, date};
use ledger::{
    Connection, Pool,
    entry::{NewEntry, Via},
    farm::{self, Farm, Membership, Role},
    field::{self, Extent, Field},
    migrate,
    people::{self, Person},
    pool, stand,
};
use records::{Subject, kinds::step::Step};
use serde_json::json;
use test_bed::{TestDatabase, prepared};
use uuid::Uuid;

/// A fresh, migrated database.
pub async fn database() -> TestDatabase {
    prepared("ink_template", async |template| migrate(&template.owner_url).await.expect("migrations")).await
}

/// What the application sees of it.
pub trait Pooled {
    /// A pool as the application.
    fn pool(&self) -> Pool;
}

impl Pooled for TestDatabase {
    fn pool(&self) -> Pool {
        pool(&self.app_url, 4).expect("a pool")
    }
}

/// Somebody, kept, who can't sign in.
pub async fn somebody(connection: &mut Connection) -> Person {
    let email = format!("{}@example.org", Uuid::now_v7().simple());
    let person = Person::new(&email, "Somebody", "none".into(), System::Us);
    people::add(connection, &person).await.expect("a person");
    person
}

/// A farm on a northern hill with a manager of its own; on a practice clock, when a day is given.
pub async fn farmed(connection: &mut Connection, practice_day: Option<Date>) -> Membership {
    let person = somebody(connection).await.id;
    let farm = Farm { practice_day, ..Farm::new("Farm", (42.5, -76.5), 380.0, "America/New_York") };
    farm::add(connection, &farm).await.expect("a farm");
    farm::join(connection, farm.id, person, Role::Manager).await.expect("a member");
    farm::membership(connection, person, farm.id).await.expect("a membership")
}

/// The day on the practice clock.
pub const TODAY: Date = date(2026, 5, 14);

/// A farm with a manager, a field and a stand.
pub struct Ground {
    /// Its database.
    pub database: TestDatabase,
    /// The manager.
    pub member: Membership,
    /// The field.
    pub field: Uuid,
    /// The stand.
    pub stand: Uuid,
}

/// A square field.
pub fn square(name: &str, farm: Uuid) -> Field {
    let boundary = json!({"type": "Polygon", "coordinates": [[[-76.5, 42.5], [-76.497, 42.5], [-76.497, 42.503], [-76.5, 42.503], [-76.5, 42.5]]]});
    Field::new(farm, Uuid::now_v7(), name, Extent::Outline(boundary), Length::new(5.0, Unit::M)).unwrap()
}

/// Such a farm, and its ledger as the application has it.
pub async fn ground() -> (Ground, ledger::Pool) {
    let database = database().await;
    let pool = database.pool();
    let mut connection = pool.get().await.unwrap();
    let member = farmed(&mut connection, Some(TODAY)).await;
    let field = field::add(&mut connection, &member, &square("Square", member.farm.id)).await.unwrap().id;
    let stand = stand::add(&mut connection, &member, Uuid::now_v7(), field).await.unwrap().id;
    drop(connection);
    (Ground { database, member, field, stand }, pool)
}

impl Ground {
    /// Its stand was sown on a day.
    pub fn sowing(&self, on: Date) -> NewEntry {
        let about = [Subject::field(self.field), Subject::stand(self.stand)];
        NewEntry::of(Uuid::now_v7(), about, on, Via::Web, done("sow").into())
    }
}

/// A step done, and nothing said of how.
pub fn done(operation: &str) -> Step {
    let (step, occurrence, area, bulk_rate) = (None, None, None, None);
    Step { operation: operation.into(), step, occurrence, area, bulk_rate, depth: None, setting: None, note: None }
}
