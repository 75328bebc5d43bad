//! The built binary, started for one test.

use std::{
    net::TcpListener,
    path::{Path, PathBuf},
    process::{Child, Command, Stdio},
    sync::{Arc, Mutex},
    time::{Duration, Instant},
};

use anyhow::{Context, bail};

use crate::database::{TestDatabase, prepared};

/// A running application with its stand-ins; both end when this is dropped.
pub struct Application {
    server: Server,
    stand_ins: StandIns,
    port: u16,
    database: TestDatabase,
}

/// The server of an application: it can go down and come back, on its database, at its address.
#[derive(Clone)]
pub struct Server {
    child: Arc<Mutex<Child>>,
    port: u16,
    stand_ins: u16,
    database: String,
    web: PathBuf,
}

impl Server {
    async fn new(port: u16, stand_ins: u16, database: String, web: PathBuf) -> anyhow::Result<Self> {
        let child = Arc::new(Mutex::new(Self::spawn(port, stand_ins, &database, &web)?));
        let server = Self { child, port, stand_ins, database, web };
        answers(&format!("http://127.0.0.1:{port}/api/health")).await?;
        Ok(server)
    }

    fn spawn(port: u16, stand_ins: u16, database: &str, web: &Path) -> anyhow::Result<Child> {
        let outside = format!("http://127.0.0.1:{stand_ins}");
        Ok(binary()?
            .args(["serve", "--port", &port.to_string()])
            .args(["--seed-laboratory", &outside])
            .args(["--soil-laboratory", &outside])
            .args(["--weather-station", &outside])
            .args(["--scale", &outside])
            .arg("--web")
            .arg(web)
            .env("INK_DATABASE_URL", database)
            // The same key each time, so that a sign-in outlives the server.
            .env("INK_COOKIE_KEY", "7".repeat(128))
            .env("RUST_LOG", std::env::var("RUST_LOG").unwrap_or_else(|_| "warn".to_owned()))
            .spawn()?)
    }

    /// Go down.
    pub fn stop(&self) {
        if let Ok(mut child) = self.child.lock() {
            let _ = child.kill();
            let _ = child.wait();
        }
    }

    /// Come back.
    ///
    /// # Errors
    /// When it doesn't.
    pub async fn start(&self) -> anyhow::Result<()> {
        let child = Self::spawn(self.port, self.stand_ins, &self.database, &self.web)?;
        if let Ok(mut old) = self.child.lock() {
            *old = child;
        }
        answers(&format!("http://127.0.0.1:{}/api/health", self.port)).await
    }

    fn id(&self) -> u32 {
        self.child.lock().map_or(0, |child| child.id())
    }
}

/// The stand-ins of an application: they can fall silent and come back.
#[derive(Clone)]
pub struct StandIns {
    child: Arc<Mutex<Child>>,
    port: u16,
}

impl StandIns {
    async fn new(port: u16) -> anyhow::Result<Self> {
        let child = Arc::new(Mutex::new(Self::spawn(port)?));
        answers(&format!("http://127.0.0.1:{port}/health")).await?;
        Ok(Self { child, port })
    }

    fn spawn(port: u16) -> anyhow::Result<Child> {
        Ok(binary()?.args(["stand-ins", "--port", &port.to_string()]).spawn()?)
    }

    /// Fall silent.
    pub fn stop(&self) {
        if let Ok(mut child) = self.child.lock() {
            let _ = child.kill();
            let _ = child.wait();
        }
    }

    /// Come back, at the same address.
    ///
    /// # Errors
    /// When they don't.
    pub async fn start(&self) -> anyhow::Result<()> {
        let child = Self::spawn(self.port)?;
        if let Ok(mut old) = self.child.lock() {
            *old = child;
        }
        answers(&format!("http://127.0.0.1:{}/health", self.port)).await
    }
}

/// A folder that `./ink test` names.
fn folder(name: &str) -> anyhow::Result<PathBuf> {
    Ok(std::env::var(name).with_context(|| format!("{name} is not set: run through ./ink test"))?.into())
}

/// The front end as it was built.
fn built() -> anyhow::Result<PathBuf> {
    folder("INK_WEB")
}

/// The same without its service worker: a device that is new to the application fetches all of it to keep it, which
/// takes longer than most walks.
fn bare() -> anyhow::Result<PathBuf> {
    folder("INK_WEB_BARE")
}

/// Let the binary do something to a database.
fn run(what: &str, name: &str, url: &str) {
    let done = binary().and_then(|mut binary| Ok(binary.arg(what).env(name, url).status()?));
    assert!(done.is_ok_and(|status| status.success()), "inkmeadow {what} failed");
}

fn free_port() -> anyhow::Result<u16> {
    Ok(TcpListener::bind("127.0.0.1:0")?.local_addr()?.port())
}

fn binary() -> anyhow::Result<Command> {
    let path = std::env::var("INK_BIN").context("INK_BIN is not set: run through ./ink test")?;
    let mut command = Command::new(path);
    command.stdin(Stdio::null());
    Ok(command)
}

/// Wait until an address answers.
///
/// # Errors
/// When it does not within half a minute.
pub async fn answers(url: &str) -> anyhow::Result<()> {
    let client = reqwest::Client::builder().no_proxy().build()?;
    let started = Instant::now();
    while started.elapsed() < Duration::from_secs(30) {
        if client.get(url).send().await.is_ok_and(|response| response.status().is_success()) {
            return Ok(());
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    bail!("{url} did not answer within 30 seconds")
}

impl Application {
    /// With the demo farms.
    ///
    /// # Errors
    /// When something does not start.
    pub async fn demo() -> anyhow::Result<Self> {
        Self::start(true, bare()?).await
    }

    /// With the demo farms, kept whole by a device that opens it: it opens without signal too.
    ///
    /// # Errors
    /// When something does not start.
    pub async fn kept_demo() -> anyhow::Result<Self> {
        Self::start(true, built()?).await
    }

    /// Without any data: the first visit.
    ///
    /// # Errors
    /// When something does not start.
    pub async fn empty() -> anyhow::Result<Self> {
        Self::start(false, bare()?).await
    }

    async fn start(with_demo: bool, web: PathBuf) -> anyhow::Result<Self> {
        let migrated = async |template: TestDatabase| run("migrate", "INK_OWNER_URL", &template.owner_url);
        let loaded = async |template: TestDatabase| {
            run("migrate", "INK_OWNER_URL", &template.owner_url);
            run("demo", "INK_DATABASE_URL", &template.app_url);
        };
        let database = match with_demo {
            true => prepared("ink_served_demo", loaded).await,
            false => prepared("ink_served", migrated).await,
        };
        let (port, laboratory) = (free_port()?, free_port()?);
        let stand_ins = StandIns::new(laboratory).await?;
        let server = Server::new(port, laboratory, database.app_url.clone(), web).await?;
        Ok(Self { server, stand_ins, port, database })
    }

    /// Where it is.
    pub fn address(&self) -> String {
        format!("http://127.0.0.1:{}", self.port)
    }

    /// Its server.
    pub fn server(&self) -> Server {
        self.server.clone()
    }

    /// Its stand-ins.
    pub fn stand_ins(&self) -> StandIns {
        self.stand_ins.clone()
    }

    /// Its database.
    pub fn database(&self) -> &TestDatabase {
        &self.database
    }

    /// Addresses beyond loopback that the server holds connections to (there should be none).
    pub fn connections_beyond_loopback(&self) -> Vec<String> {
        let table = std::fs::read_to_string(format!("/proc/{}/net/tcp", self.server.id())).unwrap_or_default();
        let own = own_sockets(self.server.id());
        table
            .lines()
            .skip(1)
            .filter_map(|line| {
                let parts: Vec<&str> = line.split_whitespace().collect();
                let (remote, inode) = (*parts.get(2)?, *parts.get(9)?);
                // Little-endian hexadecimal: 127.x.x.x ends in 7F, a listening socket is all zeros.
                let stranger = !remote.get(..8)?.ends_with("7F") && !remote.starts_with("00000000");
                (stranger && own.iter().any(|socket| socket == inode)).then(|| remote.to_owned())
            })
            .collect()
    }
}

fn own_sockets(process: u32) -> Vec<String> {
    let Ok(folder) = std::fs::read_dir(format!("/proc/{process}/fd")) else { return vec![] };
    folder
        .filter_map(|entry| std::fs::read_link(entry.ok()?.path()).ok())
        .filter_map(|link| link.to_str()?.strip_prefix("socket:[")?.strip_suffix(']').map(str::to_owned))
        .collect()
}

impl Drop for Application {
    fn drop(&mut self) {
        self.server.stop();
        self.stand_ins.stop();
    }
}
