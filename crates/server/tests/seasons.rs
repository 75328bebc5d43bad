//! Seasons at hand: kept from one start to the next, prepared before the day, made of pieces; and how much of all farms is
//! kept at once.

use std::io::Read;

use actix_web::{http::Method, web::Bytes};
use agronomy::units::{Reader, System};
use jiff::civil::date;
use rand::{RngExt, SeedableRng};
use rand_chacha::ChaCha8Rng;
use rstest::rstest;
use serde_json::{Value, json};
use server::{
    api::season::prepared,
    app,
    pieces::{Piece, gzip},
    seasons::{Asked, Seasons, Standing},
};
use uuid::Uuid;

use crate::common::{Site, farm};

const HOLLOW: &str = "fennick-hollow";
const MARA: &str = "mara@fennick.example";

async fn season(site: &Site) -> Value {
    site.get(&format!("{}/season", farm(HOLLOW))).await.ok()
}

/// A server over the same database that has just started, and keeps seasons for the next one.
fn started(site: &Site) -> Site {
    let pool = ledger::pool(&site.database.app_url, 2).unwrap();
    let state = app::State::new(pool, app::Outside::default(), 1_000).keeping_seasons();
    site.with_headers(&[]).over(state)
}

async fn until(what: &str, done: impl AsyncFn() -> bool) {
    for _ in 0..200 {
        if done().await {
            return;
        }
        tokio::time::sleep(std::time::Duration::from_millis(50)).await;
    }
    panic!("{what}: not within ten seconds");
}

/// How many answers the database keeps.
async fn kept(site: &Site) -> i64 {
    ledger::kept::many(&mut site.state.pool.get().await.unwrap()).await.unwrap()
}

/// What one server drew, the next one has at once: without folding a book, whoever asks.
#[actix_web::test]
async fn a_server_that_has_just_started_has_the_season() {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let first = started(&site);
    let drawn = season(&first).await;
    until("it is kept", async || kept(&first).await == 1).await;
    let second = started(&site);
    assert_eq!(season(&second).await, drawn);
    until("the books are folded for whoever writes next", async || second.state.shelf.folds() == 1).await;

    // What was written meanwhile is shown.
    let note = json!({"id": Uuid::now_v7(), "about": [], "occurred_on": "2026-05-14",
        "payload": {"kind": "spray", "active": "glyphosate", "label_months": 0}});
    let about = json!([{"kind": "stand", "id": crate::common::of(HOLLOW, "Upper Larkin 2026-08-12")}]);
    let mut spray = note;
    spray["about"] = about;
    second.post(&format!("{}/entries", farm(HOLLOW)), spray).await.ok();
    let third = started(&site);
    let after = season(&third).await;
    assert_ne!(after, drawn);
    assert_eq!(after, season(&site).await);
    // Other units are another season.
    third.patch("/api/me", json!({"units": "metric"})).await.ok();
    assert_ne!(season(&started(&site)).await, after);
    // However many readers, few are kept.
    for level in [55, 60, 65, 70, 75, 80] {
        third.patch("/api/me", json!({"odds_level": {"value": level, "unit": "%"}})).await.ok();
        season(&third).await;
    }
    until("few are kept", async || kept(&third).await == 4).await;
}

/// When the day of a farm has changed, its season is drawn before anybody asks.
#[actix_web::test]
async fn a_new_day_is_prepared() {
    let site = Site::demo().await.signed_in_as(MARA).await;
    season(&site).await;
    let asked = site.state.seasons.asked();
    assert_eq!(asked.len(), 1);
    prepared(&site.state, asked[0]).await.unwrap();
    assert_eq!(site.state.seasons.asked()[0].day, date(2026, 5, 14));
    site.post(&format!("{}/clock", farm(HOLLOW)), json!({"day": "2026-05-16"})).await.ok();
    prepared(&site.state, asked[0]).await.unwrap();
    assert_eq!(site.state.seasons.asked()[0].day, date(2026, 5, 16));
    let folds = site.state.shelf.folds();
    assert_eq!(season(&site).await["today"], "2026-05-16");
    assert_eq!(site.state.shelf.folds(), folds);
    // Whoever has left does not have it drawn for them.
    let stranger = Asked { person: Uuid::now_v7(), day: date(2026, 5, 1), ..asked[0] };
    assert!(prepared(&site.state, stranger).await.is_err());
}

fn standing(position: i64, level: u64) -> Standing {
    let sight = (date(2026, 5, 14), None, level, 1);
    Standing { position, founded: (1, 1), sight, reader: Reader::from(System::Us) }
}

/// All that a season hangs on is in its key.
#[test]
fn a_key_covers_all_that_a_season_hangs_on() {
    let one = standing(7, 80);
    let others = [
        standing(8, 80),
        standing(7, 81),
        Standing { founded: (1, 2), ..one },
        Standing { founded: (2, 1), ..one },
        Standing { reader: Reader::from(System::Metric), ..one },
        Standing { sight: (date(2026, 5, 15), None, 80, 1), ..one },
        Standing { sight: (date(2026, 5, 14), Some(3), 80, 1), ..one },
        Standing { sight: (date(2026, 5, 14), None, 80, 2), ..one },
    ];
    assert_eq!(one.key(), standing(7, 80).key());
    assert!(others.iter().all(|other| other.key() != one.key()));
}

/// A farm's later season takes the place of the earlier one; of many farms those asked for longest ago go.
#[test]
fn seasons_are_kept_within_bounds() {
    let seasons = Seasons::default();
    let body = |megabytes: usize| Bytes::from(vec![0; megabytes * 1_000_000]);
    let farms: Vec<Uuid> = (0..60).map(|_| Uuid::now_v7()).collect();
    for farm in &farms {
        seasons.keep(*farm, Uuid::nil(), standing(1, 80), body(1));
        seasons.keep(*farm, Uuid::nil(), standing(2, 80), body(1));
    }
    let there: Vec<bool> = farms.iter().map(|farm| seasons.kept(*farm, &standing(2, 80)).is_some()).collect();
    assert_eq!(there.iter().filter(|there| **there).count(), 48);
    assert!(there[12..].iter().all(|there| *there));
    assert!(seasons.kept(farms[59], &standing(1, 80)).is_none());
    // One that is larger than all may be is still there for whoever asked.
    seasons.keep(farms[0], Uuid::nil(), standing(3, 80), body(60));
    assert!(seasons.kept(farms[0], &standing(3, 80)).is_some());
    assert_eq!(seasons.asked().len(), 1);
    // Of one farm, those of four readers.
    for level in 0..9 {
        seasons.keep(farms[1], Uuid::nil(), standing(1, level), body(1));
    }
    assert_eq!((0..9).filter(|level| seasons.kept(farms[1], &standing(1, *level)).is_some()).count(), 4);
}

/// RFC 1951 and 1952, against a decoder that knows nothing of pieces: whatever they say, in one stream.
#[rstest]
#[case::none(0, 0)]
#[case::empty(3, 0)]
#[case::letters(200, 1)]
#[case::short(50, 40)]
#[case::long(6, 300_000)]
fn pieces_make_one_body(#[case] many: usize, #[case] most: usize) {
    let mut chance = ChaCha8Rng::seed_from_u64(1951);
    let mut whole = String::new();
    let pieces: Vec<Piece> = (0..many)
        .map(|_| {
            let length = if most == 0 { 0 } else { chance.random_range(1..=most) };
            let text: String = (0..length).map(|_| char::from(chance.random_range(b' '..b'~'))).collect();
            whole += &text;
            Piece::of(&text).unwrap()
        })
        .collect();
    let mut text = String::new();
    flate2::read::GzDecoder::new(&gzip(&pieces)[..]).read_to_string(&mut text).unwrap();
    assert!(text == whole, "{} and {} bytes", text.len(), whole.len());
    // A piece that repeats itself is small, so that megabytes of strips are.
    let strip = Piece::of(&"{\"state\":\"waiting\"},".repeat(1_000)).unwrap();
    assert!(strip.bytes() < 1_000, "{}", strip.bytes());
}

/// The weather of many farms at hand stays within its bounds: those asked for longest ago are read again.
#[actix_web::test]
async fn weather_at_hand_is_bounded_by_its_size() {
    let site = Site::demo().await.signed_in_as(MARA).await;
    season(&site).await;
    let (farms, bytes) = site.state.climates.held();
    assert_eq!(farms, 1);
    // Forty years of days, their runs, and those of each kind of ground.
    assert!((1_000_000..60_000_000).contains(&bytes), "{bytes}");
    assert_eq!(site.state.shelf.held(), 1);
}

/// A field of thousands of corners is set back once, however many look; corrected, it is set back anew.
#[actix_web::test]
async fn a_rough_outline_is_set_back_once() {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let at = format!("{}/fields/{}", farm(HOLLOW), crate::common::of(HOLLOW, "Upper Larkin"));
    let told = futures_util::future::join_all((0..12).map(|_| site.get(&at))).await;
    let first = told[0].body.clone();
    assert!(told.into_iter().all(|one| one.ok() == first));
    assert_eq!(site.state.outlines.held(), 1);
    let field = first["field"].clone();
    let (setback, ring) = (json!({"value": 20, "unit": "ft"}), field["boundary"].clone());
    let corrected = json!({"id": Uuid::now_v7(), "on": "2026-05-14", "after": field["shape"], "name": "Upper Larkin", "boundary": ring,
        "setback": setback, "retired": false});
    site.ask(Method::PUT, &at, Some("application/json"), &corrected.to_string()).await.ok();
    let second = site.get(&at).await.ok();
    assert_ne!(second["inside"], first["inside"]);
    assert_eq!(site.state.outlines.held(), 2);
}
