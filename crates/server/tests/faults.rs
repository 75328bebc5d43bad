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
use tokio::io::{AsyncReadExt, AsyncWriteExt};
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
    let (cookie, farm) = signed_in(&api).await?;
    let season = format!("{api}/farms/{farm}/season");
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

/// Somebody signed in at the demo: their cookie, and their first farm.
async fn signed_in(api: &str) -> anyhow::Result<(String, String)> {
    let client = reqwest::Client::builder().no_proxy().timeout(Duration::from_secs(30)).build()?;
    let who = json!({"email": "mara@fennick.example", "password": "hay before rain"});
    let let_in = client.post(format!("{api}/sign-in")).json(&who).send().await?;
    let cookie = let_in.headers()["set-cookie"].to_str()?.split(';').next().unwrap_or_default().to_owned();
    let me: Value = let_in.json().await?;
    Ok((cookie, me["farms"][0]["id"].as_str().context("a farm")?.to_owned()))
}

/// A picture over a line of 60 kilobits a second takes longer than most requests may: it arrives.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
#[ignore = "takes the better part of a minute: ./ink test faults"]
async fn a_picture_arrives_over_a_slow_line() -> anyhow::Result<()> {
    const A_SECOND: usize = 7_500;
    let application = Application::demo().await?;
    let api = format!("{}/api", application.address());
    let (cookie, farm) = signed_in(&api).await?;
    let mut jpeg = vec![0xff, 0xd8, 0xff, 0xda, 0, 2];
    // No byte of it begins a marker.
    jpeg.extend((0..180_000_u32).map(|at| (at * 7 % 251) as u8));
    jpeg.extend([0xff, 0xd9]);
    let told = base64::Engine::encode(&base64::engine::general_purpose::STANDARD, &jpeg);
    let body = json!({"id": Uuid::now_v7(), "jpeg": told}).to_string();
    let address = application.address().trim_start_matches("http://").to_owned();
    let head = format!(
        "POST /api/farms/{farm}/photos HTTP/1.1\r\nhost: {address}\r\ncookie: {cookie}\r\ncontent-type: application/json\r\n\
         content-length: {}\r\nconnection: close\r\n\r\n",
        body.len()
    );
    let begun = std::time::Instant::now();
    let mut line = tokio::net::TcpStream::connect(&address).await?;
    line.write_all(head.as_bytes()).await?;
    for some in body.as_bytes().chunks(A_SECOND) {
        line.write_all(some).await?;
        tokio::time::sleep(Duration::from_secs(1)).await;
    }
    let mut answer = String::new();
    tokio::time::timeout(Duration::from_secs(20), line.read_to_string(&mut answer)).await??;
    ensure!(answer.starts_with("HTTP/1.1 200"), "{answer}");
    ensure!(begun.elapsed() > Duration::from_secs(30), "the line was not slow");
    Ok(())
}

/// Forty who come at once to a server that has just started, each for their own season of one farm: one folds and draws,
/// and each is answered.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
#[ignore = "asks for much at once: ./ink test faults"]
async fn nobody_is_turned_away_by_a_cold_start() -> anyhow::Result<()> {
    let application = Application::demo().await?;
    let api = format!("{}/api", application.address());
    let (cookie, farm) = signed_in(&api).await?;
    let server = application.server();
    for round in 0..2 {
        server.stop();
        server.start().await?;
        let client = reqwest::Client::builder().no_proxy().timeout(Duration::from_secs(30)).build()?;
        let season = async || {
            let asked = client.get(format!("{api}/farms/{farm}/season")).header("cookie", &cookie).send().await?;
            anyhow::Ok((asked.status().as_u16(), asked.text().await?))
        };
        let all = futures_util::future::join_all((0..40).map(|_| season())).await;
        let first = all[0].as_ref().map(|(_, body)| body.clone()).unwrap_or_default();
        for one in all {
            let (status, body) = one?;
            ensure!(status == 200 && body == first, "round {round}: {status} {body:.200}");
        }
    }
    Ok(())
}
