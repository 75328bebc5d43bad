//! Connections and migrations.

use std::time::Duration;

use diesel_async::{
    AsyncConnection, AsyncMigrationHarness, AsyncPgConnection, TransactionManager,
    pooled_connection::{AsyncDieselConnectionManager, deadpool},
};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};

use crate::{Error, Result};

/// The database connection all queries run on.
pub type Connection = AsyncPgConnection;

/// A pool of connections.
#[derive(Clone)]
pub struct Pool {
    connections: deadpool::Pool<AsyncPgConnection>,
    url: String,
}

/// The longest that anybody waits for a connection.
const WAIT: Duration = Duration::from_secs(10);
const MIGRATIONS: EmbeddedMigrations = embed_migrations!();

/// A pool to a `postgres://` address, opened on demand.
///
/// # Errors
/// When the pool can't be made.
pub fn pool(url: &str, size: usize) -> Result<Pool> {
    let manager = AsyncDieselConnectionManager::<AsyncPgConnection>::new(url);
    let pool = deadpool::Pool::builder(manager).max_size(size).build();
    pool.map(|connections| Pool { connections, url: url.to_owned() })
        .map_err(|error| Error::Connection(error.to_string()))
}

impl Pool {
    /// A connection, as soon as one is free.
    ///
    /// # Errors
    /// [`Error::Busy`] when none came free in time; when the database can't be reached.
    pub async fn get(&self) -> Result<deadpool::Object<AsyncPgConnection>> {
        // Nobody waits for ever: a request that finds no connection in time says so.
        match tokio::time::timeout(WAIT, self.connections.get()).await {
            Ok(connection) => connection.map_err(|error| Error::Connection(error.to_string())),
            Err(_) => Err(Error::Busy),
        }
    }
}

impl Pool {
    /// A plain client of its own, for what Diesel does not speak: bulk loading by COPY. The client is
    /// closed when it is dropped.
    ///
    /// # Errors
    /// When the database can't be reached.
    pub(crate) async fn client(&self) -> Result<tokio_postgres::Client> {
        let connected = tokio_postgres::connect(&self.url, tokio_postgres::NoTls).await;
        let (client, connection) = connected.map_err(|error| Error::Connection(error.to_string()))?;
        tokio::spawn(connection);
        Ok(client)
    }
}

/// Bring the database up to this build. Needs the owner's address, not the application's.
///
/// # Errors
/// When the database can't be reached or a migration fails.
///
/// # Panics
/// On a single-threaded runtime: the migration harness blocks in place.
pub async fn migrate(owner_url: &str) -> Result<()> {
    let connection =
        AsyncPgConnection::establish(owner_url).await.map_err(|error| Error::Connection(error.to_string()))?;
    let mut harness = AsyncMigrationHarness::new(connection);
    harness
        .run_pending_migrations(MIGRATIONS)
        .map(drop)
        .map_err(|error| Error::Connection(format!("migration: {error}")))
}

/// Do several things or none of them.
///
/// # Errors
/// What the work failed with; then nothing of it is kept.
pub async fn together<T: Send>(
    connection: &mut Connection,
    work: impl AsyncFnOnce(&mut Connection) -> Result<T>,
) -> Result<T> {
    // By hand, not by Diesel's `transaction`: that asks every borrow inside to be provably `Send`.
    type Manager = <AsyncPgConnection as AsyncConnection>::TransactionManager;
    Manager::begin_transaction(connection).await?;
    match work(connection).await {
        Ok(value) => {
            Manager::commit_transaction(connection).await?;
            Ok(value)
        }
        Err(error) => {
            Manager::rollback_transaction(connection).await?;
            Err(error)
        }
    }
}
