//! ChromeDriver and Chromium: how they are started, and how they end.

use std::{
    path::PathBuf,
    process::{Child, Command, Stdio},
    sync::{
        Arc,
        atomic::{AtomicU32, Ordering},
    },
};

use anyhow::Context;
use serde_json::json;
use thirtyfour::prelude::*;

use test_bed::answers;

/// Chromium with nothing of its own to say to the network.
const QUIET: [&str; 16] = [
    "--headless",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--disable-dev-shm-usage",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1",
    "--force-prefers-reduced-motion",
    // Nor a window's own pages, which nobody sees: they take longer to start than the browser does.
    "--disable-extensions",
    "--disable-component-extensions-with-background-pages",
    "--disable-default-apps",
    "--disable-breakpad",
    "--disable-features=InitialWebUI,WebUIReloadButton,WebUIOmniboxPopup,WebUIOmniboxAimPopup,PreloadTopChromeWebUI,Translate,MediaRouter,OptimizationHints",
];

/// What a browser keeps on its device; gone with the last who looks at it.
pub(crate) struct Profile(PathBuf);

impl Profile {
    pub(crate) fn new() -> anyhow::Result<Self> {
        static NEXT: AtomicU32 = AtomicU32::new(0);
        let number = NEXT.fetch_add(1, Ordering::Relaxed);
        // In memory where there is such a folder: a profile is hundreds of small files, gone in a minute.
        let memory = PathBuf::from("/dev/shm");
        let home = if memory.is_dir() { memory } else { std::env::temp_dir() };
        let folder = home.join(format!("ink-browser-{}-{number}", std::process::id()));
        std::fs::create_dir_all(&folder)?;
        Ok(Self(folder))
    }

    /// End every process that was started on it.
    fn end_its_processes(&self) {
        let folder = self.0.display().to_string();
        for process in std::fs::read_dir("/proc").into_iter().flatten().flatten() {
            let line = std::fs::read(process.path().join("cmdline")).unwrap_or_default();
            if String::from_utf8_lossy(&line).contains(&folder) {
                let _ = Command::new("kill").arg("-9").arg(process.file_name()).status();
            }
        }
    }
}

impl Drop for Profile {
    fn drop(&mut self) {
        let _ = std::fs::remove_dir_all(&self.0);
    }
}

/// ChromeDriver, and through it Chromium: both end when this is dropped, at once and without a word.
pub(crate) struct Browser {
    chromedriver: Child,
    profile: Arc<Profile>,
}

impl Browser {
    /// Start both on a profile.
    ///
    /// # Errors
    /// When one of them does not start.
    pub(crate) async fn start(profile: Arc<Profile>) -> anyhow::Result<(Self, WebDriver)> {
        let port = std::net::TcpListener::bind("127.0.0.1:0")?.local_addr()?.port();
        let chromedriver = Command::new("chromedriver")
            .args([format!("--port={port}"), "--log-level=SEVERE".to_owned()])
            .stdin(Stdio::null())
            .stdout(Stdio::null())
            .spawn()
            .context("chromedriver")?;
        // From here on it ends with this, whatever else fails.
        let browser = Self { chromedriver, profile };
        answers(&format!("http://127.0.0.1:{port}/status")).await?;
        let mut capabilities = DesiredCapabilities::chrome();
        for argument in QUIET {
            capabilities.add_arg(argument)?;
        }
        capabilities.add_arg(&format!("--user-data-dir={}", browser.profile.0.display()))?;
        // It opens on an empty page.
        capabilities.add_experimental_option(
            "prefs",
            json!({"session": {"restore_on_startup": 4, "startup_urls": ["about:blank"]}}),
        )?;
        let driver = WebDriver::new(&format!("http://127.0.0.1:{port}"), capabilities).await?;
        Ok((browser, driver))
    }

    /// End both, at once.
    pub(crate) fn end(&mut self) {
        let _ = self.chromedriver.kill();
        let _ = self.chromedriver.wait();
        self.profile.end_its_processes();
    }
}

impl Drop for Browser {
    fn drop(&mut self) {
        self.end();
    }
}
