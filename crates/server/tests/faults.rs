//! Killed in the middle of writing: nothing that was acknowledged is lost, and nothing is doubled.
//!
//! It ends the PostgreSQL that all tests share, so it runs alone: `./ink test faults`.

use std::{
    process::Command,
    sync::{
        Arc,
        atomic::{AtomicBool, Ordering},
    },
    time::Duration,
};

use anyhow::{Context, ensure};
use ledger::{chain, entry, farm::membership, pool};
use rand::{RngExt, SeedableRng, seq::IndexedRandom};
use serde_json::{Value, json};
use test_bed::Application;
use uuid::Uuid;

/// People who write at once: as many as the pool has connections.
const WRITERS: usize = 8;
/// What is ended, each so many times.
const ROUNDS: usize = 5;

#[derive(Clone, Copy, Debug)]
enum Fault {
    Server,
    Backend,
    Postmaster,
}

/// Notes that one person writes, each sent until it is acknowledged; their ids.
async fn write(api: String, cookie: String, farm: String, writer: usize, over: Arc<AtomicBool>) -> Vec<Uuid> {
    let client = reqwest::Client::builder().no_proxy().timeout(Duration::from_secs(5)).build().unwrap();
    let mut acknowledged = vec![];
    while !over.load(Ordering::Relaxed) {
        let id = Uuid::now_v7();
        let note = json!({"id": id, "about": [], "occurred_on": "2026-05-10",
            "payload": {"kind": "note", "text": format!("{writer}: {}", acknowledged.len())}});
        loop {
            let sent = client.post(format!("{api}/farms/{farm}/entries")).header("cookie", &cookie).json(&note);
            match sent.send().await {
                Ok(answer) if answer.status().is_success() => break,
                // Away or busy: what the outbox of a device does as well.
                Ok(answer) if answer.status().is_server_error() => {}
                Ok(answer) => panic!("{}: {}", answer.status(), answer.text().await.unwrap_or_default()),
                Err(_) => {}
            }
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
        acknowledged.push(id);
    }
    acknowledged
}

fn end(fault: &str) -> anyhow::Result<()> {
    let script = std::env::var("INK_SCRIPT").context("INK_SCRIPT is not set: run through ./ink test faults")?;
    ensure!(Command::new(script).args(["fault", fault]).status()?.success(), "{fault} did not come back");
    Ok(())
}

#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
#[ignore = "ends the PostgreSQL of the other tests: ./ink test faults"]
async fn what_was_acknowledged_outlives_every_kill() -> anyhow::Result<()> {
    let application = Application::demo().await?;
    // The other tests do without the safety of data; here it is what is tried.
    let name = application.database().app_url.rsplit('/').next().context("a name")?.to_owned();
    let safe = format!("ALTER DATABASE {name} SET synchronous_commit = on");
    application.database().as_admin(&safe).await;
    let server = application.server();
    server.stop();
    server.start().await?;

    let api = format!("{}/api", application.address());
    let client = reqwest::Client::builder().no_proxy().build()?;
    let who = json!({"email": "mara@fennick.example", "password": "hay before rain"});
    let let_in = client.post(format!("{api}/sign-in")).json(&who).send().await?;
    let cookie = let_in.headers()["set-cookie"].to_str()?.split(';').next().unwrap_or_default().to_owned();
    let me: Value = client.get(format!("{api}/me")).header("cookie", &cookie).send().await?.json().await?;
    let farm = me["farms"][0]["id"].as_str().context("a farm")?.to_owned();
    let (person, place) = (me["id"].as_str().context("a person")?.parse()?, farm.parse()?);
    let kept = async || -> anyhow::Result<Vec<Uuid>> {
        let pool = pool(&application.database().app_url, 1)?;
        let mut connection = pool.get().await?;
        let member = membership(&mut connection, person, place).await?;
        Ok(entry::all(&mut connection, &member, None).await?.into_iter().map(|entry| entry.id).collect())
    };
    let before = kept().await?;

    let over = Arc::new(AtomicBool::new(false));
    let writers: Vec<_> = (0..WRITERS)
        .map(|writer| tokio::spawn(write(api.clone(), cookie.clone(), farm.clone(), writer, over.clone())))
        .collect();
    let mut chance = rand_chacha::ChaCha8Rng::seed_from_u64(14_586);
    let mut faults: Vec<Fault> = [Fault::Server, Fault::Backend, Fault::Postmaster].repeat(ROUNDS);
    while !faults.is_empty() {
        tokio::time::sleep(Duration::from_millis(chance.random_range(200..900))).await;
        let next = *(0..faults.len()).collect::<Vec<_>>().choose(&mut chance).context("one of them")?;
        match faults.swap_remove(next) {
            Fault::Server => {
                server.stop();
                server.start().await?;
            }
            Fault::Backend => tokio::task::block_in_place(|| end("backend"))?,
            Fault::Postmaster => tokio::task::block_in_place(|| end("postmaster"))?,
        }
    }
    over.store(true, Ordering::Relaxed);
    let mut acknowledged = vec![];
    for writer in writers {
        // Only a failure gets here: a server that has not come back to itself.
        acknowledged.extend(tokio::time::timeout(Duration::from_secs(60), writer).await??);
    }
    // However slow the machine is: some between every two kills.
    ensure!(acknowledged.len() > 6 * ROUNDS, "only {} entries were written", acknowledged.len());

    let pool = pool(&application.database().app_url, 1)?;
    let mut connection = pool.get().await?;
    let ledgers = chain::verify(&mut connection).await?;
    let (mut expected, mut found) = ([before, acknowledged.clone()].concat(), kept().await?);
    expected.sort();
    found.sort();
    assert_eq!(found, expected, "each is there once, and nothing else");
    assert!(ledgers.iter().all(|ledger| ledger.broken.is_none()), "{ledgers:?}");
    println!("{} entries acknowledged through {} kills", acknowledged.len(), 3 * ROUNDS);
    Ok(())
}

/// A database that is stopped keeps its lines open and answers nothing: everybody is told so in time, and once it goes on
/// so does everything.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
#[ignore = "stops the PostgreSQL of the other tests: ./ink test faults"]
async fn nobody_hangs_on_a_frozen_database() -> anyhow::Result<()> {
    let application = Application::demo().await?;
    let api = format!("{}/api", application.address());
    let within = |seconds| reqwest::Client::builder().no_proxy().timeout(Duration::from_secs(seconds)).build();
    let who = json!({"email": "mara@fennick.example", "password": "hay before rain"});
    let let_in = within(30)?.post(format!("{api}/sign-in")).json(&who).send().await?;
    let cookie = let_in.headers()["set-cookie"].to_str()?.split(';').next().unwrap_or_default().to_owned();
    let me: Value = let_in.json().await?;
    let season = format!("{api}/farms/{}/season", me["farms"][0]["id"].as_str().context("a farm")?);
    let asked = async |path: &str, seconds| {
        let asked = within(seconds)?.get(path).header("cookie", &cookie).send().await;
        anyhow::Ok(asked.with_context(|| format!("{path}: no answer in {seconds} s"))?.status().as_u16())
    };
    ensure!(asked(&season, 30).await? == 200, "the season is there");

    end("freeze")?;
    // What was found a moment before is told for a second.
    tokio::time::sleep(Duration::from_millis(1_100)).await;
    let health = format!("{api}/health");
    // The lines that rested, and as many more as there are.
    let seasons = futures_util::future::join_all((0..12).map(|_| asked(&season, 12)));
    let signing_in = async {
        let answer = within(12)?.post(format!("{api}/sign-in")).json(&who).send().await;
        anyhow::Ok(answer.context("signing in: no answer in 12 s")?.status().as_u16())
    };
    let health_meanwhile = async {
        for _ in 0..5 {
            ensure!(asked(&health, 2).await? == 503, "a frozen database is no health");
        }
        Ok(())
    };
    let (seasons, signed_in, healthy) = tokio::join!(seasons, signing_in, health_meanwhile);
    // Whatever came of it, the others go on.
    end("thaw")?;
    healthy?;
    ensure!(signed_in? == 503, "nobody is let in by a database that is frozen");
    for one in seasons {
        ensure!(one? == 503, "a season came from nowhere");
    }
    test_bed::answers(&health).await?;
    ensure!(asked(&season, 30).await? == 200, "the season is there again");
    Ok(())
}
