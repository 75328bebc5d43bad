//! A farm as one archive of open files, and back: the same farm, to the last byte.

use std::io::{Cursor, Read, Seek, Write};

use actix_web::web;

use ledger::archive::{Opened, Part};
use ledger::farm;
use rstest::rstest;
use serde_json::json;
use server::archive::{Seal, Unpacked, in_groups, pack, plain, safe};
use sha2::{Digest, Sha256};
use uuid::Uuid;
use zip::{CompressionMethod, ZipArchive, ZipWriter, write::SimpleFileOptions};

use crate::common::{Site, database, farm as farm_path, picture};

const HOLLOW: &str = "fennick-hollow";
const MARA: &str = "mara@fennick.example";

/// What the server signs with here.
fn seal() -> Seal {
    Seal::of(b"a cookie key")
}

async fn packed(pool: &ledger::Pool, person: Uuid, farm: Uuid) -> Vec<u8> {
    let mut connection = pool.get().await.unwrap();
    let member = farm::membership(&mut connection, person, farm).await.unwrap();
    let fields = ledger::field::all(&mut connection, &member).await.unwrap();
    let (pages, taken) = tokio::sync::mpsc::channel(2);
    let packing = web::block(move || pack(taken, &fields, &seal(), tempfile::tempfile().unwrap()));
    let (read, file) = tokio::join!(ledger::archive::take(&mut connection, &member, pages), packing);
    read.unwrap();
    let mut bytes = vec![];
    file.unwrap().unwrap().read_to_end(&mut bytes).unwrap();
    bytes
}

/// A file of these bytes.
fn file(bytes: &[u8]) -> std::fs::File {
    let mut file = tempfile::tempfile().unwrap();
    file.write_all(bytes).unwrap();
    file.rewind().unwrap();
    file
}

async fn import(pool: &ledger::Pool, bytes: &[u8], manager: Option<&str>) -> anyhow::Result<String> {
    server::archive::import(pool, file(bytes), manager, None).await
}

fn unpack(bytes: &[u8]) -> anyhow::Result<Unpacked> {
    server::archive::unpack(file(bytes))
}

/// The demo's farm with what makes archives hard: a strike, a formula in a note, somebody who left.
async fn demo() -> (Site, Uuid, Uuid, Vec<u8>) {
    let site = Site::demo().await.signed_in_as(MARA).await;
    let note = json!({"id": Uuid::now_v7(), "about": [], "occurred_on": "2026-05-14",
        "payload": {"kind": "note", "text": "=HYPERLINK(\"x\") gate, \"mended\"\nat noon"}});
    let path = farm_path(HOLLOW);
    site.post(&format!("{path}/entries"), note.clone()).await.ok();
    let strike = json!({"id": Uuid::now_v7(), "reason": "twice"});
    site.post(&format!("{path}/entries/{}/strike", note["id"].as_str().unwrap()), strike).await.ok();
    site.photo(HOLLOW, "thin by the gate").await.ok();
    let me = site.get("/api/me").await.ok();
    let person = me["id"].as_str().unwrap().parse().unwrap();
    let farm = me["farms"][0]["id"].as_str().unwrap().parse().unwrap();
    let bytes = packed(&site.state.pool, person, farm).await;
    (site, person, farm, bytes)
}

fn files(bytes: &[u8]) -> Vec<(String, Vec<u8>)> {
    let mut zip = ZipArchive::new(Cursor::new(bytes)).unwrap();
    (0..zip.len())
        .map(|index| {
            let mut file = zip.by_index(index).unwrap();
            let mut bytes = vec![];
            file.read_to_end(&mut bytes).unwrap();
            (file.name().unwrap().into_owned(), bytes)
        })
        .collect()
}

/// The same archive with one file changed by hand.
fn changed(bytes: &[u8], name: &str, change: impl Fn(&str) -> String) -> Vec<u8> {
    let mut zip = ZipWriter::new(Cursor::new(vec![]));
    for (own, bytes) in files(bytes) {
        zip.start_file(own.clone(), SimpleFileOptions::default()).unwrap();
        let bytes = if own == name { change(std::str::from_utf8(&bytes).unwrap()).into_bytes() } else { bytes };
        zip.write_all(&bytes).unwrap();
    }
    zip.finish().unwrap().into_inner()
}

#[actix_web::test]
async fn out_and_in_and_out_again_is_the_same_farm() {
    let (site, person, farm_id, bytes) = demo().await;
    // What the page hands out is the same.
    let told = files(&bytes);
    let of = |name: &str| {
        told.iter().find(|(own, _)| own == name).map(|(_, text)| std::str::from_utf8(text).unwrap()).unwrap()
    };
    assert!(of("README.txt").contains("ledger.jsonl"));
    assert!(of("weather.csv").starts_with("day,lowest [degC],highest [degC],rain [mm]"));
    assert!(of("fields.geojson").contains("\"FeatureCollection\""));
    // No cell of a spreadsheet begins a formula.
    let mut cells = csv::Reader::from_reader(of("ledger.csv").as_bytes());
    let begins = |cell: &str| cell.starts_with(['=', '+', '@', '\t', '\r']);
    assert!(cells.records().all(|row| !row.unwrap().iter().any(begins)));
    assert!(of("ledger.csv").contains("'=HYPERLINK"));
    // Pictures are pictures.
    let pictures: Vec<_> = told.iter().filter(|(name, _)| name.ends_with(".jpg")).collect();
    assert!(matches!(&pictures[..], [(name, bytes)] if name.starts_with("photos/") && *bytes == picture()));
    assert!(of("ledger.csv").contains("Photo: thin by the gate") && !of("photos.jsonl").contains("jpeg"));

    let other = database().await;
    let owner = ledger::pool(&other.owner_url, 2).unwrap();
    let said = import(&owner, &bytes, None).await.unwrap();
    assert!(said.starts_with("Fennick Hollow: ") && said.contains("entries, verified"), "{said}");
    assert!(said.contains(&format!("signed by {}", in_groups(&seal().key()))), "{said}");
    assert_eq!(packed(&owner, person, farm_id).await, bytes);
    // Ten times over it is one farm.
    for _ in 0..10 {
        assert!(import(&owner, &bytes, None).await.unwrap().contains("is already here and identical"));
    }
    let verified = ledger::chain::verify(&mut owner.get().await.unwrap()).await.unwrap();
    assert_eq!(verified.len(), 1);
    assert_eq!(verified[0].broken, None);
    // Entries stand under the names of those who wrote them; nobody signs in by an archive.
    let there = Site::on(other);
    let door = there.post("/api/sign-in", json!({"email": MARA, "password": crate::common::PASSWORD})).await;
    assert_eq!(door.status, 401);
    let mut connection = there.state.pool.get().await.unwrap();
    let member = farm::membership(&mut connection, person, farm_id).await.unwrap();
    let names = farm::member_names(&mut connection, &member).await.unwrap();
    assert!(names.iter().any(|(_, name)| name == "Tobias Quill"), "{names:?}");
    drop((connection, site));
}

#[actix_web::test]
async fn somebody_who_signs_in_there_manages_it() {
    let (_, _, farm_id, bytes) = demo().await;
    let other = database().await;
    let owner = ledger::pool(&other.owner_url, 2).unwrap();
    let nobody = import(&owner, &bytes, Some("new@example.org")).await.unwrap_err().to_string();
    assert!(nobody.contains("no account for"), "{nobody}");
    let there = Site::on(other);
    let first = json!({"email": "new@example.org", "name": "Somebody New", "password": "long enough by far", "farm": "Own",
        "latitude": 42, "longitude": -76, "elevation": {"value": 100, "unit": "m"}, "units": "us"});
    let entered = there.post("/api/first-visit", first).await;
    let there = there.signed_out().keeping(entered.cookie.clone());
    let said = import(&owner, &bytes, Some("new@example.org")).await.unwrap();
    assert!(said.ends_with("; Somebody New manages it"), "{said}");
    let season = there.get(&format!("/api/farms/{farm_id}/season")).await.ok();
    assert!(season["strips"].as_array().unwrap().len() > 3, "{season}");
    let again = there.get(&format!("/api/farms/{farm_id}/archive.zip")).await;
    assert_eq!(again.status, 200);
    let told = there.get(&format!("/api/farms/{farm_id}/entries?kind=membership")).await.ok();
    assert_eq!(told["entries"][0]["says"], "Somebody New joined as manager");
}

type Change = fn(&str) -> String;

#[rstest]
#[case::an_entry("ledger.jsonl", |text: &str| text.replacen("HYPERLINK", "HIPERLINK", 1), "has been altered")]
#[case::its_day("ledger.jsonl", |text: &str| text.replacen("\"occurred_on\": \"2026-05-14\"", "\"occurred_on\": \"2026-05-13\"", 1), "has been altered")]
#[case::one_left_out("ledger.jsonl", |text: &str| text.split_once('\n').unwrap().1.to_owned(), "lines are missing from the ledger")]
#[case::the_last_two_left_out("ledger.jsonl", |text: &str| text.lines().rev().skip(2).collect::<Vec<_>>().into_iter().rev().map(|line| format!("{line}\n")).collect(), "lines are missing")]
#[case::no_end("head.json", |text: &str| text.replacen("\"position\": ", "\"position\": 1", 1), "head.json is not as it was signed")]
#[case::no_head("head.json", |_: &str| String::new(), "head.json is not as it was written")]
#[case::founded_later("foundings.jsonl", |text: &str| text.split_once('\n').unwrap().1.to_owned(), "foundings.jsonl has been altered")]
#[case::the_digests("digests.txt", |text: &str| format!("{text}\n"), "digests.txt is not as it was signed")]
#[case::no_json("ledger.jsonl", |text: &str| text.replacen('{', "[", 1), "line 1 of ledger.jsonl is not JSON")]
#[case::a_field("fields.jsonl", |text: &str| text.replacen("sown_area_m2", "sown_area_m3", 1), "fields.jsonl has been altered")]
#[case::the_place("farm.json", |text: &str| text.replacen("Fennick", "Fenwick", 1), "farm.json has been altered")]
#[actix_web::test]
async fn what_was_changed_by_hand_is_named_and_nothing_is_taken(
    #[case] name: &str,
    #[case] change: Change,
    #[case] why: &str,
) {
    let (_, _, _, bytes) = demo().await;
    let other = database().await;
    let owner = ledger::pool(&other.owner_url, 1).unwrap();
    let refused = format!("{:#}", import(&owner, &changed(&bytes, name, change), None).await.unwrap_err());
    assert!(refused.contains(why), "{refused}");
    let farms = ledger::chain::verify(&mut owner.get().await.unwrap()).await.unwrap();
    assert_eq!(farms, [], "something of it was taken");
}

#[actix_web::test]
async fn half_an_archive_and_another_file_are_none() {
    let (_, _, _, bytes) = demo().await;
    for broken in [&bytes[..bytes.len() / 2], b"hay", b""] {
        let why = unpack(broken).unwrap_err().to_string();
        assert!(why.contains("not a farm archive, or the archive is incomplete"), "{why}");
    }
}

/// All that an archive holds of a part.
fn rows(archive: &mut Unpacked, part: Part) -> Vec<String> {
    std::iter::from_fn(|| archive.page(part).unwrap()).flatten().collect()
}

/// What the files of an archive of before are: no end, no foundings.
fn of_before(bytes: &[u8], lacks: fn(&str) -> bool) -> Vec<u8> {
    let mut zip = ZipWriter::new(Cursor::new(vec![]));
    for (own, bytes) in files(bytes).into_iter().filter(|(own, _)| !lacks(own)) {
        zip.start_file(own.clone(), SimpleFileOptions::default()).unwrap();
        let text = String::from_utf8_lossy(&bytes);
        let kept =
            |line: &&str| !(own == "digests.txt" && line.split("  ").nth(1).is_some_and(|name| lacks(name.trim())));
        let kept: String = text.split_inclusive('\n').filter(kept).collect();
        zip.write_all(if own == "digests.txt" { kept.as_bytes() } else { &bytes }).unwrap();
    }
    zip.finish().unwrap().into_inner()
}

/// An archive that was made before archives were signed is read in, and said not to be; what was founded is covered by
/// the next entry.
#[actix_web::test]
async fn an_archive_that_is_not_signed_is_said_to_be_none() {
    let (_, person, farm_id, bytes) = demo().await;
    let older = of_before(&bytes, |name| name == "head.json" || name == "foundings.jsonl");
    let owner = ledger::pool(&database().await.owner_url, 1).unwrap();
    // Its chain covers how things were founded, so that it can't be left out.
    let refused = import(&owner, &older, None).await.unwrap_err().to_string();
    assert!(refused.contains("number 1 in the ledger, has been altered"), "{refused}");
    let unsigned = of_before(&bytes, |name| name == "head.json");
    let wanted = server::archive::import(&owner, file(&unsigned), None, Some(&seal().key())).await.unwrap_err();
    assert!(wanted.to_string().contains("was not signed by that key"), "{wanted}");
    let said = import(&owner, &unsigned, None).await.unwrap();
    assert!(said.ends_with("missing lines at its end cannot be detected"), "{said}");
    assert_eq!(packed(&owner, person, farm_id).await, bytes);
}

/// Somebody who made all digests and the end anew, too: with a key of their own.
#[actix_web::test]
async fn another_key_is_told_from_the_servers() {
    let (_, _, _, bytes) = demo().await;
    let owner = ledger::pool(&database().await.owner_url, 1).unwrap();
    let other = Seal::of(b"another cookie key").key();
    let refused = server::archive::import(&owner, file(&bytes), None, Some(&in_groups(&other))).await.unwrap_err();
    assert!(refused.to_string().contains("was not signed by that key"), "{refused}");
    let own = in_groups(&seal().key()).to_uppercase();
    let said = server::archive::import(&owner, file(&bytes), None, Some(&own)).await.unwrap();
    assert!(said.ends_with("signed by that key"), "{said}");
}

/// Rows of another farm, slipped into an archive whose digests were made anew: they become this farm's.
#[actix_web::test]
async fn an_archive_writes_to_no_other_farm() {
    let (_, _, farm_id, bytes) = demo().await;
    let owner = ledger::pool(&database().await.owner_url, 1).unwrap();
    let other = farm::Farm::new("Other", (42.0, -76.0), 100.0, "UTC");
    farm::add(&mut owner.get().await.unwrap(), &other).await.unwrap();
    let (own, theirs) = (farm_id.to_string(), other.id.to_string());
    let slipped = changed(&bytes, "fields.jsonl", |rows| rows.replace(&own, &theirs));
    let fields = files(&slipped).into_iter().find(|(name, _)| name == "fields.jsonl").unwrap().1;
    let digest = hex::encode(Sha256::digest(&fields));
    let remade = changed(&slipped, "digests.txt", |told| {
        let line =
            |line: &str| if line.ends_with("  fields.jsonl") { format!("{digest}  fields.jsonl") } else { line.into() };
        told.lines().map(|told| line(told) + "\n").collect()
    });
    let said = import(&owner, &of_before(&remade, |name| name == "head.json"), None).await.unwrap();
    assert!(said.contains("entries, verified"), "{said}");
    let verified = ledger::chain::verify(&mut owner.get().await.unwrap()).await.unwrap();
    assert!(verified.iter().all(|farm| farm.broken.is_none()), "{verified:?}");
}

/// What says that it is larger than any farm is not read: a file that is packed a thousandfold, one of endless rows, a line
/// that does not end, lists within lists.
#[rstest]
#[case::packed_tightly(" ".repeat(60_000_000), "packed tighter than any farm")]
#[case::a_line_without_end(format!("{{\"text\":\"{}\"}}", noise(5_000_000)), "is longer than any farm")]
#[case::lists_within_lists(format!("{{\"a\":{}{}}}", "[".repeat(200), "]".repeat(200)), "line 1 of ledger.jsonl is not JSON")]
#[actix_web::test]
async fn what_is_larger_than_any_farm_is_not_read(#[case] text: String, #[case] why: &str) {
    let (_, _, _, bytes) = demo().await;
    let refused = format!("{:#}", unpack(&changed(&bytes, "ledger.jsonl", |_| text.clone())).unwrap_err());
    assert!(refused.contains(why), "{refused}");
}

/// Letters that do not pack well.
fn noise(many: usize) -> String {
    let mut state = 1_u32;
    let mut letter = || {
        state = state.wrapping_mul(1_664_525).wrapping_add(1_013_904_223);
        char::from(b'a' + (state >> 24) as u8 % 26)
    };
    (0..many).map(|_| letter()).collect()
}

/// An archive of before there were pictures is read; one whose pictures were taken out is not.
#[actix_web::test]
async fn an_archive_of_before_there_were_pictures() {
    let (_, _, _, bytes) = demo().await;
    let of_before = of_before(&bytes, |name| name.starts_with("photos") || name == "head.json");
    let (mut read, mut whole) = (unpack(&of_before).unwrap(), unpack(&bytes).unwrap());
    assert_eq!(rows(&mut read, Part::Entries), rows(&mut whole, Part::Entries));
    assert_eq!((rows(&mut read, Part::Table(4)).len(), rows(&mut whole, Part::Table(4)).len()), (0, 1));
    let mut zip = ZipWriter::new(Cursor::new(vec![]));
    for (own, bytes) in files(&bytes).into_iter().filter(|(own, _)| own != "photos.jsonl") {
        zip.start_file(own, SimpleFileOptions::default().compression_method(CompressionMethod::Stored)).unwrap();
        zip.write_all(&bytes).unwrap();
    }
    let without = zip.finish().unwrap().into_inner();
    assert_eq!(unpack(&without).unwrap_err().to_string(), "photos.jsonl is missing from the archive");
}

/// One byte of a picture.
#[actix_web::test]
async fn a_picture_that_was_changed_by_hand_is_named() {
    let (_, _, _, bytes) = demo().await;
    let mut zip = ZipWriter::new(Cursor::new(vec![]));
    for (own, mut bytes) in files(&bytes) {
        if own.ends_with(".jpg") {
            bytes[20] ^= 1;
        }
        zip.start_file(own, SimpleFileOptions::default()).unwrap();
        zip.write_all(&bytes).unwrap();
    }
    let owner = ledger::pool(&database().await.owner_url, 1).unwrap();
    let why = import(&owner, &zip.finish().unwrap().into_inner(), None).await.unwrap_err().to_string();
    assert!(why.starts_with("photos/") && why.contains(".jpg has been altered; nothing"), "{why}");
}

/// A farm that goes on here is not taken over by an older archive of itself.
#[actix_web::test]
async fn a_ledger_that_goes_on_otherwise_is_left_alone() {
    let (site, person, farm_id, bytes) = demo().await;
    let note = json!({"id": Uuid::now_v7(), "about": [], "occurred_on": "2026-05-14", "payload": {"kind": "note", "text": "one more"}});
    site.post(&format!("{}/entries", farm_path(HOLLOW)), note).await.ok();
    let owner = ledger::pool(&site.database.owner_url, 1).unwrap();
    let refused = import(&owner, &bytes, None).await.unwrap_err().to_string();
    assert!(refused.contains("already exists with a different ledger"), "{refused}");
    assert_ne!(packed(&owner, person, farm_id).await, bytes);
}

/// OWASP, CSV injection: =, +, −, @, tab and carriage return begin formulas.
#[rstest]
#[case("=1+1")]
#[case("+49 30 1")]
#[case("-2 °C")]
#[case("@sum")]
#[case("\tx")]
#[case("'quoted'")]
#[case("gate mended")]
fn no_cell_begins_a_formula_and_each_says_what_it_said(#[case] text: &str) {
    let cell = safe(text);
    assert!(!cell.starts_with(['=', '+', '-', '@', '\t', '\r']), "{cell}");
    assert_eq!(plain(&cell), text);
}
