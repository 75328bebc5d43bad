//! A database of its own for each test, cloned from a template.
//!
//! `./ink test` starts a throw-away PostgreSQL and says where it is in `INK_TEST_ADMIN_URL`, `INK_TEST_OWNER_URL` and
//! `INK_TEST_APP_URL`, all without a database name.

use std::time::{SystemTime, UNIX_EPOCH};

use tokio_postgres::{Client, NoTls};
use uuid::Uuid;

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
    /// Do something that only the tables' owner may.
    ///
    /// # Panics
    /// When the database says no.
    pub async fn as_owner(&self, statement: &str) {
        run(&self.owner_url, statement).await;
    }

    /// Do something that only the administrator may.
    ///
    /// # Panics
    /// When the database says no.
    pub async fn as_admin(&self, statement: &str) {
        run(&self.admin_url, statement).await;
    }
}

async fn client(url: &str) -> Client {
    let (client, connection) = tokio_postgres::connect(url, NoTls).await.expect("test PostgreSQL");
    tokio::spawn(connection);
    client
}

async fn run(url: &str, statement: &str) {
    if let Err(error) = client(url).await.batch_execute(statement).await {
        panic!("{statement}: {error:?}");
    }
}

/// An address that `./ink test` hands out.
///
/// # Panics
/// Outside of `./ink test`.
pub fn address(name: &str) -> String {
    std::env::var(name).unwrap_or_else(|_| panic!("{name} is not set: run these tests through ./ink test"))
}

/// The lock under which templates are made and copied, one at a time: a template must have no other visitor while it
/// is copied. It ends with the connection.
const LOCK: &str = "SELECT pg_advisory_lock(4747)";

/// Longer than any test lasts, seconds.
const OVER: i64 = 900;

/// A thousand tests leave a thousand databases of fifteen megabytes: a few of those that nobody has been at for long are
/// dropped whenever one is made. What can't be dropped stays until the cluster goes.
async fn clear_away(client: &Client) {
    let left = "SELECT datname FROM pg_database d WHERE datname ~ '^test_[0-9]{10}_' \
         AND split_part(datname, '_', 2)::bigint < extract(epoch FROM now())::bigint - $1 \
         AND NOT EXISTS (SELECT FROM pg_stat_activity a WHERE a.datname = d.datname) LIMIT 4";
    for row in client.query(left, &[&OVER]).await.unwrap_or_default() {
        let name: String = row.get(0);
        let _ = client.batch_execute(&format!("DROP DATABASE IF EXISTS {name}")).await;
    }
}

/// A fresh copy of a database that was prepared once, by whichever test came first.
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
    let client = client(&format!("{owner}/postgres")).await;
    let run = async |statement: String| {
        client.batch_execute(&statement).await.unwrap_or_else(|error| panic!("{statement}: {error:?}"));
    };
    run(LOCK.to_owned()).await;
    let making = format!("{template}_making");
    let known = client.query_opt("SELECT FROM pg_database WHERE datname = $1", &[&template]).await.expect("a look");
    if known.is_none() {
        // Under another name until it is whole: a preparation that fails leaves no template behind.
        run(format!("DROP DATABASE IF EXISTS {making} WITH (FORCE)")).await;
        run(format!("CREATE DATABASE {making}")).await;
        prepare(of(&making)).await;
        run(format!("SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = '{making}'")).await;
        run(format!("ALTER DATABASE {making} RENAME TO {template}")).await;
    }
    clear_away(&client).await;
    let made = SystemTime::now().duration_since(UNIX_EPOCH).map_or(0, |since| since.as_secs());
    let name = format!("test_{made:010}_{}", Uuid::new_v4().simple());
    run(format!("CREATE DATABASE {name} TEMPLATE {template}")).await;
    of(&name)
}
