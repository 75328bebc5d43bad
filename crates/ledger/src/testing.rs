//! A database of its own for each test, cloned from a migrated template.
//!
//! `./ink test` starts a throw-away PostgreSQL and says where it is in `INK_TEST_OWNER_URL` and
//! `INK_TEST_APP_URL`, both without a database name.

use diesel_async::{AsyncConnection, AsyncPgConnection, SimpleAsyncConnection};
use uuid::Uuid;

use crate::{Pool, migrate, pool};

/// Addresses of a test's own database.
#[derive(Debug, Clone)]
pub struct TestDatabase {
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
}

fn address(name: &str) -> String {
    std::env::var(name).unwrap_or_else(|_| panic!("{name} is not set: run these tests through ./ink test"))
}

/// A fresh, migrated database.
///
/// # Panics
/// When PostgreSQL can't be reached or says no.
pub async fn database() -> TestDatabase {
    let owner = address("INK_TEST_OWNER_URL");
    let app = address("INK_TEST_APP_URL");
    let name = format!("test_{}", Uuid::new_v4().simple());
    let mut connection = AsyncPgConnection::establish(&format!("{owner}/postgres")).await.expect("test PostgreSQL");
    // One at a time: the template must have no other visitor while it is copied.
    connection.batch_execute("SELECT pg_advisory_lock(4747)").await.expect("lock");
    let made = connection.batch_execute("CREATE DATABASE ink_template").await;
    if made.is_ok() {
        migrate_apart(format!("{owner}/ink_template"));
    }
    connection.batch_execute(&format!("CREATE DATABASE {name} TEMPLATE ink_template")).await.expect("clone");
    connection.batch_execute("SELECT pg_advisory_unlock(4747)").await.expect("unlock");
    TestDatabase { owner_url: format!("{owner}/{name}"), app_url: format!("{app}/{name}") }
}

/// The migration harness blocks in place, which a single-threaded test runtime does not allow.
fn migrate_apart(url: String) {
    let work = move || {
        let runtime = tokio::runtime::Builder::new_multi_thread().enable_all().build().expect("a runtime");
        runtime.block_on(migrate(&url)).expect("migrations");
    };
    std::thread::spawn(work).join().expect("migrations");
}
