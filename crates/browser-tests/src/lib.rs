//! The real application in a real browser.
//!
//! [`on_demo`] starts the built binary on a database of its own with the demo farms, the stand-ins
//! beside it, ChromeDriver and headless Chromium, hands a [`Visitor`] to the test, and ends all of
//! them whether the test passes or panics. A failed test leaves a picture in `target/browser-failures`.

mod browser;
mod visitor;

pub use test_bed::{Application, Server, StandIns};
pub use visitor::{Visitor, until};

use std::{future::Future, panic::AssertUnwindSafe};

use futures_util::FutureExt;

/// A desk.
pub const DESK: (u32, u32) = (1280, 800);
/// A phone.
pub const PHONE: (u32, u32) = (390, 844);

/// Run a test on the demo farms.
///
/// # Panics
/// When something does not start, and when the test does.
pub async fn on_demo<F, R>(test: F)
where
    F: FnOnce(Visitor) -> R,
    R: Future<Output = anyhow::Result<()>>,
{
    let application = Application::demo().await.expect("the application");
    visit(application, test).await;
}

/// Run a test on the demo farms, on a device that keeps the application and opens it without signal.
///
/// # Panics
/// When something does not start, and when the test does.
pub async fn on_device<F, R>(test: F)
where
    F: FnOnce(Visitor) -> R,
    R: Future<Output = anyhow::Result<()>>,
{
    visit(Application::kept_demo().await.expect("the application"), test).await;
}

/// Run a test on the demo whose stand-ins may fall silent and come back.
///
/// # Panics
/// When something does not start, and when the test does.
pub async fn on_demo_with<F, R>(test: F)
where
    F: FnOnce(Visitor, StandIns) -> R,
    R: Future<Output = anyhow::Result<()>>,
{
    let application = Application::demo().await.expect("the application");
    let stand_ins = application.stand_ins();
    visit(application, |visitor| test(visitor, stand_ins)).await;
}

/// A visitor, and what stands behind the page: it can go down and come back.
#[derive(Clone)]
pub struct Scene {
    /// Who is at the browser.
    pub visitor: Visitor,
    /// The server.
    pub server: Server,
    /// The stand-ins.
    pub stand_ins: StandIns,
}

/// Run a test on the demo whose server may go down and come back, on a device that keeps the application.
///
/// # Panics
/// When something does not start, and when the test does.
pub async fn on_demo_of<F, R>(test: F)
where
    F: FnOnce(Scene) -> R,
    R: Future<Output = anyhow::Result<()>>,
{
    let application = Application::kept_demo().await.expect("the application");
    let (server, stand_ins) = (application.server(), application.stand_ins());
    visit(application, |visitor| test(Scene { visitor, server, stand_ins })).await;
}

/// Run a test on an application without any data.
///
/// # Panics
/// When something does not start, and when the test does.
pub async fn on_first_visit<F, R>(test: F)
where
    F: FnOnce(Visitor) -> R,
    R: Future<Output = anyhow::Result<()>>,
{
    let application = Application::empty().await.expect("the application");
    visit(application, test).await;
}

async fn visit<F, R>(application: Application, test: F)
where
    F: FnOnce(Visitor) -> R,
    R: Future<Output = anyhow::Result<()>>,
{
    let visitor = Visitor::arrive(application.address()).await.expect("Chromium and ChromeDriver");
    let outcome = AssertUnwindSafe(test(visitor.clone())).catch_unwind().await;
    let strangers = application.connections_beyond_loopback();
    if !matches!(outcome, Ok(Ok(()))) {
        let name = std::thread::current().name().unwrap_or("test").replace("::", "-");
        let folder = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../../target/browser-failures");
        let _ = std::fs::create_dir_all(&folder);
        let _ = visitor.shot(&folder.join(format!("{name}.png"))).await;
    }
    visitor.leave().await;
    drop(application);
    match outcome {
        Ok(Ok(())) => assert!(strangers.is_empty(), "the application spoke to {strangers:?}"),
        Ok(Err(error)) => panic!("{error:?}"),
        Err(panic) => std::panic::resume_unwind(panic),
    }
}
