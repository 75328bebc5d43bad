//! A migrated database for each test, and people and farms in it.

use agronomy::units::System;
use jiff::civil::Date;
use ledger::{
    Connection, Pool,
    farm::{self, Farm, Membership, Role},
    migrate,
    people::{self, Person},
    pool,
};
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
