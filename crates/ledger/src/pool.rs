//! Connections and migrations.

use std::time::Duration;

use diesel::{
    ConnectionError, QueryableByName,
    migration::Migration,
    pg::Pg,
    result::DatabaseErrorKind,
    sql_types::{Bool, Text},
};
use diesel_async::{
    AsyncConnection, AsyncMigrationHarness, AsyncPgConnection, RunQueryDsl, SimpleAsyncConnection, TransactionManager,
    pooled_connection::{AsyncDieselConnectionManager, ManagerConfig, RecyclingMethod, deadpool},
};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};
use futures_util::FutureExt;
use tokio::{
    io::{AsyncRead, AsyncWrite},
    net::{TcpStream, UnixStream},
};
use tokio_postgres::config::Host;

use crate::{Error, Result, impatient::Impatient, slow::Slow};

/// The database connection all queries run on.
pub type Connection = AsyncPgConnection;

/// A pool of connections.
#[derive(Clone)]
pub struct Pool {
    connections: deadpool::Pool<AsyncPgConnection>,
    url: String,
    slow: Slow,
}

/// How much of a pool is in use.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct InUse {
    /// Connections that may be open.
    pub most: usize,
    /// Connections that are handed out.
    pub taken: usize,
    /// Those who wait for one.
    pub waiting: usize,
    /// Statements that took long, since the start.
    pub slow_statements: u64,
}

/// The longest that anybody waits for a connection.
const WAIT: Duration = Duration::from_secs(10);
/// The longest that the database works at one statement, waits for a lock, or lets a transaction stand idle: what
/// takes longer is ended there, and said here.
const LIMITS: &str = "SET statement_timeout = '20s'; SET lock_timeout = '8s'; \
     SET idle_in_transaction_session_timeout = '20s'";
/// The longest that this side of the line waits for an answer: a little longer than the database itself works at one.
const SILENCE: Duration = Duration::from_secs(21);
/// The longest that opening a line takes.
const OPENED_IN: Duration = Duration::from_secs(4);
/// The longest that a line which was at rest takes to show that it is alive.
const ALIVE_IN: Duration = Duration::from_secs(2);
const MIGRATIONS: EmbeddedMigrations = embed_migrations!();
/// The key of the lock under which migrations run, one at a time.
const MIGRATING: &str = "SELECT pg_advisory_lock(4748)";

/// A pool to a `postgres://` address, opened on demand.
///
/// # Errors
/// When the pool can't be made.
pub fn pool(url: &str, size: usize) -> Result<Pool> {
    // A line that has rested says a word before it is handed out: one whose other end is gone or stopped is not.
    let mut config = ManagerConfig::default();
    config.recycling_method = RecyclingMethod::CustomFunction(Box::new(|line: &mut AsyncPgConnection| {
        async move {
            match tokio::time::timeout(ALIVE_IN, line.batch_execute("SELECT 1")).await {
                Ok(said) => said,
                Err(_) => Err(diesel::result::Error::DatabaseError(
                    DatabaseErrorKind::ClosedConnection,
                    Box::new(SILENT.to_owned()),
                )),
            }
        }
        .boxed()
    }));
    let slow = Slow::default();
    let count = slow.clone();
    config.custom_setup = Box::new(move |url| {
        let (url, count) = (url.to_owned(), count.clone());
        async move {
            let opened = async {
                let mut connection = AsyncPgConnection::try_from(client_of(&url).await?).await?;
                let limited = connection.batch_execute(LIMITS).await;
                limited.map_err(diesel::ConnectionError::CouldntSetupConfiguration)?;
                Ok(connection)
            };
            let mut connection = tokio::time::timeout(OPENED_IN, opened).await.unwrap_or_else(|_| Err(silent()))?;
            connection.set_instrumentation(count.watch());
            Ok(connection)
        }
        .boxed()
    });
    let manager = AsyncDieselConnectionManager::<AsyncPgConnection>::new_with_config(url, config);
    let pool = deadpool::Pool::builder(manager).max_size(size).build();
    pool.map(|connections| Pool { connections, url: url.to_owned(), slow })
        .map_err(|error| Error::Connection(error.to_string()))
}

const SILENT: &str = "the database does not answer";

/// Why a line was not opened.
fn silent() -> ConnectionError {
    ConnectionError::BadConnection(SILENT.to_owned())
}

/// What lies below a line: a connection of TCP, or a socket of this machine.
trait Wire: AsyncRead + AsyncWrite + Unpin + Send {}
impl<T: AsyncRead + AsyncWrite + Unpin + Send> Wire for T {}

async fn wire_to(host: Option<&Host>, port: u16) -> std::io::Result<Box<dyn Wire>> {
    match host {
        Some(Host::Tcp(host)) => {
            let stream = TcpStream::connect((host.as_str(), port)).await?;
            stream.set_nodelay(true)?;
            Ok(Box::new(stream))
        }
        Some(Host::Unix(folder)) => Ok(Box::new(UnixStream::connect(folder.join(format!(".s.PGSQL.{port}"))).await?)),
        None => Err(std::io::Error::other("the database\u{2019}s address names no host")),
    }
}

/// A client on a line that does not wait for ever; the line ends with the client.
async fn client_of(url: &str) -> std::result::Result<tokio_postgres::Client, ConnectionError> {
    let bad = |error: &dyn std::fmt::Display| ConnectionError::BadConnection(error.to_string());
    let config: tokio_postgres::Config = url.parse().map_err(|error: tokio_postgres::Error| bad(&error))?;
    let port = config.get_ports().first().copied().unwrap_or(5432);
    let wire = wire_to(config.get_hosts().first(), port).await.map_err(|error| bad(&error))?;
    let connected = config.connect_raw(Impatient::new(wire, SILENCE), tokio_postgres::NoTls).await;
    let (client, line) = connected.map_err(|error| bad(&error))?;
    tokio::spawn(line);
    Ok(client)
}

impl Pool {
    /// Another one to the same database, for what must not wait behind all others.
    ///
    /// # Errors
    /// As [`pool`].
    pub fn beside(&self, size: usize) -> Result<Self> {
        pool(&self.url, size)
    }

    /// How much of it is in use.
    pub fn in_use(&self) -> InUse {
        let status = self.connections.status();
        InUse {
            most: status.max_size,
            taken: status.size.saturating_sub(status.available),
            waiting: status.waiting,
            slow_statements: self.slow.count(),
        }
    }

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
        let client = client_of(&self.url).await.map_err(|error| Error::Connection(error.to_string()))?;
        client.batch_execute(LIMITS).await.map_err(|error| Error::Connection(error.to_string()))?;
        Ok(client)
    }
}

/// Bring the database up to this build. Needs the owner's address, not the application's.
///
/// # Errors
/// When the database can't be reached or a migration fails.
pub async fn migrate(owner_url: &str) -> Result<()> {
    migrate_until(owner_url, None).await
}

/// Bring the database up to a migration of this build, and no further: as a database of an older build is.
///
/// # Errors
/// When the database can't be reached, a migration fails, or there is none of that version.
pub async fn migrate_until(owner_url: &str, last: Option<&str>) -> Result<()> {
    let (url, last) = (owner_url.to_owned(), last.map(str::to_owned));
    // The migration harness blocks in place, which not every runtime allows: it gets one of its own.
    let apart = move || {
        let runtime = tokio::runtime::Builder::new_multi_thread().worker_threads(1).enable_all().build();
        runtime.map_err(|error| Error::Connection(error.to_string()))?.block_on(migrate_here(&url, last.as_deref()))
    };
    tokio::task::spawn_blocking(apart).await.map_err(|error| Error::Connection(error.to_string()))?
}

async fn migrate_here(owner_url: &str, last: Option<&str>) -> Result<()> {
    let mut connection =
        AsyncPgConnection::establish(owner_url).await.map_err(|error| Error::Connection(error.to_string()))?;
    // Two at once: the second waits here, and then finds nothing left to do. The lock goes with the connection.
    connection.batch_execute(MIGRATING).await?;
    if let Shape::Newer(version) = shape(&mut connection).await? {
        return Err(Error::Shape(Shape::Newer(version)));
    }
    let mut harness = AsyncMigrationHarness::new(connection);
    let failed = |error: Box<dyn std::error::Error + Send + Sync>| Error::Connection(format!("migration: {error}"));
    let pending = harness.pending_migrations(MIGRATIONS).map_err(failed)?;
    let version = |one: &dyn Migration<Pg>| one.name().version().to_string();
    let many = match last {
        None => pending.len(),
        Some(last) => {
            1 + pending
                .iter()
                .position(|one| version(one) == last)
                .ok_or_else(|| Error::Connection(format!("this build has no migration {last}")))?
        }
    };
    pending.iter().take(many).try_for_each(|one| harness.run_migration(one).map(drop)).map_err(failed)
}

/// How a database's tables stand to what this build expects.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Shape {
    /// As expected.
    Same,
    /// Nothing is there.
    Empty,
    /// Migrations are missing, from this one on.
    Older(String),
    /// A migration that this build does not know was done: a newer build has been here.
    Newer(String),
}

impl std::fmt::Display for Shape {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self {
            Self::Same => write!(f, "the database is as this build expects it"),
            Self::Empty => write!(f, "the database is empty: run `inkmeadow migrate` first"),
            Self::Older(first) => {
                write!(
                    f,
                    "the database is older than this build (migration {first} is missing): run `inkmeadow migrate` first"
                )
            }
            Self::Newer(version) => {
                write!(f, "the database is newer than this build (it has had migration {version}): run the newer build")
            }
        }
    }
}

#[derive(QueryableByName)]
struct There {
    #[diesel(sql_type = Bool)]
    there: bool,
}

#[derive(QueryableByName)]
struct Ran {
    #[diesel(sql_type = Text)]
    version: String,
}

/// How the database's tables stand to what this build expects.
///
/// # Errors
/// When the database fails.
///
/// # Panics
/// When the embedded migrations can't be read, which the build would not allow.
pub async fn shape(connection: &mut Connection) -> Result<Shape> {
    use diesel::migration::{Migration, MigrationSource};
    let asked = diesel::sql_query("SELECT to_regclass('__diesel_schema_migrations') IS NOT NULL AS there");
    let there: There = asked.get_result(connection).await?;
    if !there.there {
        return Ok(Shape::Empty);
    }
    let asked = diesel::sql_query("SELECT version FROM __diesel_schema_migrations ORDER BY version");
    let ran: Vec<Ran> = asked.load(connection).await?;
    let ran: Vec<&str> = ran.iter().map(|one| one.version.as_str()).collect();
    let known: Vec<Box<dyn Migration<Pg>>> = MIGRATIONS.migrations().expect("embedded migrations");
    let mut known: Vec<String> = known.iter().map(|one| one.name().version().to_string()).collect();
    known.sort();
    Ok(if ran.is_empty() {
        Shape::Empty
    } else if let Some(newer) = ran.iter().find(|one| !known.iter().any(|known| known == *one)) {
        Shape::Newer((*newer).to_owned())
    } else {
        known.into_iter().find(|one| !ran.contains(&one.as_str())).map_or(Shape::Same, Shape::Older)
    })
}

/// Wait until nobody else is at what a key stands for; it is given back with the transaction.
///
/// # Errors
/// [`Error::Slow`] when it takes too long.
pub async fn one_by_one(connection: &mut Connection, key: &str) -> Result<()> {
    let locked = diesel::sql_query("SELECT 1 AS one FROM pg_advisory_xact_lock(hashtextextended($1, 0))");
    locked.bind::<Text, _>(key).execute(connection).await?;
    Ok(())
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
