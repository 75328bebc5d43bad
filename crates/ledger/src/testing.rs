//! A database of its own for each test, cloned from a migrated template.
//!
//! `./ink test` starts a throw-away PostgreSQL and says where it is in `INK_TEST_ADMIN_URL`, `INK_TEST_OWNER_URL` and
//! `INK_TEST_APP_URL`, all without a database name.

use agronomy::units::System;
use diesel_async::{AsyncConnection, AsyncPgConnection, SimpleAsyncConnection};
use jiff::civil::Date;
use uuid::Uuid;

use crate::{
    Connection, Pool,
    farm::{self, Farm, Membership, Role},
    migrate,
    people::{self, Person},
    pool,
};

/// Addresses of a test's own database.
#[derive(Debug, Clone)]
pub struct TestDatabase {
    /// As the administrator of the cluster, whom nothing stops.
    pub admin_url: String,
    /// As the owner of the tables.
    pub owner_url: String,
    /// As the application.
    pub app_url: String,
}

impl TestDatabase {
    /// A pool as the application.
    ///
    /// # Panics
    /// When it can't be made.
    pub fn pool(&self) -> Pool {
        pool(&self.app_url, 4).expect("a pool")
    }

    /// Do something that only the tables' owner may.
    ///
    /// # Panics
    /// When the database says no.
    pub async fn as_owner(&self, statement: &str) {
        run_as(&self.owner_url, statement).await.expect("what only the owner may");
    }

    /// Do something that only the administrator may.
    ///
    /// # Panics
    /// When the database says no.
    pub async fn as_admin(&self, statement: &str) {
        run_as(&self.admin_url, statement).await.expect("what only the administrator may");
    }
}

async fn run_as(url: &str, statement: &str) -> diesel::QueryResult<()> {
    AsyncPgConnection::establish(url).await.expect("test PostgreSQL").batch_execute(statement).await
}

/// An address that `./ink test` hands out.
///
/// # Panics
/// Outside of `./ink test`.
pub fn address(name: &str) -> String {
    std::env::var(name).unwrap_or_else(|_| panic!("{name} is not set: run these tests through ./ink test"))
}

/// The key of the lock under which templates are made and copied, one at a time: a template must
/// have no other visitor while it is copied.
const LOCK: &str = "pg_advisory_lock(4747)";

/// A fresh, migrated database.
///
/// # Panics
/// When PostgreSQL can't be reached or says no.
pub async fn database() -> TestDatabase {
    prepared("ink_template", async |_| {}).await
}

/// A fresh copy of a migrated database that was prepared once, by whichever test came first.
///
/// # Panics
/// When PostgreSQL can't be reached or says no, or the preparation fails.
pub async fn prepared(template: &str, prepare: impl AsyncFnOnce(TestDatabase)) -> TestDatabase {
    let owner = address("INK_TEST_OWNER_URL");
    let (admin, app) = (address("INK_TEST_ADMIN_URL"), address("INK_TEST_APP_URL"));
    let of = |name: &str| TestDatabase {
        admin_url: format!("{admin}/{name}"),
        owner_url: format!("{owner}/{name}"),
        app_url: format!("{app}/{name}"),
    };
    let mut connection = AsyncPgConnection::establish(&format!("{owner}/postgres")).await.expect("test PostgreSQL");
    connection.batch_execute(&format!("SELECT {LOCK}")).await.expect("lock");
    let making = format!("{template}_making");
    let known = format!("DO $$ BEGIN ASSERT EXISTS (SELECT FROM pg_database WHERE datname = '{template}'); END $$");
    if connection.batch_execute(&known).await.is_err() {
        // Under another name until it is whole: a preparation that fails leaves no template behind.
        connection.batch_execute(&format!("DROP DATABASE IF EXISTS {making} WITH (FORCE)")).await.expect("clear");
        connection.batch_execute(&format!("CREATE DATABASE {making}")).await.expect("template");
        migrate_apart(format!("{owner}/{making}"));
        prepare(of(&making)).await;
        let visitors = format!("SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = '{making}'");
        connection.batch_execute(&visitors).await.expect("send visitors home");
        connection.batch_execute(&format!("ALTER DATABASE {making} RENAME TO {template}")).await.expect("rename");
    }
    let name = format!("test_{}", Uuid::new_v4().simple());
    connection.batch_execute(&format!("CREATE DATABASE {name} TEMPLATE {template}")).await.expect("clone");
    connection.batch_execute("SELECT pg_advisory_unlock(4747)").await.expect("unlock");
    of(&name)
}

/// Somebody, kept, who can't sign in.
///
/// # Panics
/// When the database says no.
pub async fn somebody(connection: &mut Connection) -> Person {
    let email = format!("{}@example.org", Uuid::now_v7().simple());
    let person = Person::new(&email, "Somebody", "none".into(), System::Us);
    people::add(connection, &person).await.expect("a person");
    person
}

/// A farm on a northern hill with a manager of its own; on a practice clock, when a day is given.
///
/// # Panics
/// When the database says no.
pub async fn farmed(connection: &mut Connection, practice_day: Option<Date>) -> Membership {
    let person = somebody(connection).await.id;
    let farm = Farm { practice_day, ..Farm::new("Farm", (42.5, -76.5), 380.0, "America/New_York") };
    farm::add(connection, &farm).await.expect("a farm");
    farm::join(connection, farm.id, person, Role::Manager).await.expect("a member");
    farm::membership(connection, person, farm.id).await.expect("a membership")
}

/// The migration harness blocks in place, which a single-threaded test runtime does not allow.
fn migrate_apart(url: String) {
    let work = move || {
        let runtime = tokio::runtime::Builder::new_multi_thread().enable_all().build().expect("a runtime");
        runtime.block_on(migrate(&url)).expect("migrations");
    };
    std::thread::spawn(work).join().expect("migrations");
}
