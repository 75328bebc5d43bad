//! A farm with a field and a stand on it.

use agronomy::units::{Length, Unit};
use jiff::civil::{Date, date};
use ledger::{
    Pool,
    entry::{NewEntry, Via},
    farm::Membership,
    field::{self, Extent, Field},
    stand,
};
use records::{Subject, kinds::step::Step};
use serde_json::json;
use test_bed::TestDatabase;
use uuid::Uuid;

use crate::common::{Pooled, database, farmed};

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
pub async fn ground() -> (Ground, Pool) {
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
    Step {
        operation: operation.into(),
        area: None,
        bulk_rate: None,
        depth: None,
        setting: None,
        emerged: None,
        note: None,
    }
}
