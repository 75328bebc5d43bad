//! A farm into an archive, row by row.

use std::{
    collections::BTreeMap,
    fs::File,
    io::{Seek, SeekFrom, Write},
};

use agronomy::said::Said;
use anyhow::Context;
use ledger::{
    archive::{Page, Part, TABLES},
    chain::Head,
    field::Field,
};
use records::Payload;
use serde_json::{Map, Value, json};
use sha2::{Digest, Sha256};
use tokio::sync::mpsc::Receiver;
use zip::{ZipWriter, write::SimpleFileOptions};

use super::{
    COLUMNS, DIGESTS, FARM, FOUNDINGS, HEAD, LEDGER, PEOPLE, PHOTOS, README, Seal, WEATHER, cells::safe, picture_file,
    read_back, seal::Sealed, table_file, text_of,
};
use crate::api::fields::feature_collection;

/// A zip that is written, and the digests of what is in it.
struct Packing {
    zip: ZipWriter<File>,
    /// The file that is open: its name, and what it comes to so far.
    open: Option<(String, Sha256)>,
    digests: BTreeMap<String, String>,
}

impl Packing {
    fn begin(&mut self, name: &str) -> anyhow::Result<()> {
        self.end();
        // The default moment, 1980-01-01: not that of packing.
        let options = SimpleFileOptions::default().compression_method(zip::CompressionMethod::Deflated);
        self.zip.start_file(name, options)?;
        self.open = Some((name.to_owned(), Sha256::new()));
        Ok(())
    }

    fn write(&mut self, bytes: &[u8]) -> anyhow::Result<()> {
        if let Some((_, digest)) = &mut self.open {
            digest.update(bytes);
        }
        Ok(self.zip.write_all(bytes)?)
    }

    fn row(&mut self, cells: &[String]) -> anyhow::Result<()> {
        let mut writer = csv::Writer::from_writer(vec![]);
        writer.write_record(cells)?;
        self.write(&writer.into_inner()?)
    }

    fn line(&mut self, row: &str) -> anyhow::Result<()> {
        self.write(row.as_bytes())?;
        self.write(b"\n")
    }

    fn end(&mut self) {
        if let Some((name, digest)) = self.open.take() {
            self.digests.insert(name, hex::encode(digest.finalize()));
        }
    }

    fn whole(&mut self, name: &str, bytes: &[u8]) -> anyhow::Result<()> {
        self.begin(name)?;
        self.write(bytes)
    }
}

/// Pages in the order in which they are taken: those of one part after those of another.
struct Pages {
    from: Receiver<Page>,
    next: Option<Page>,
}

impl Pages {
    /// The next rows of a part; none when the pages have come to another.
    fn of(&mut self, part: Part) -> Option<Vec<String>> {
        if self.next.is_none() {
            self.next = self.from.blocking_recv();
        }
        self.next.take_if(|(own, _)| *own == part).map(|(_, rows)| rows)
    }

    fn one(&mut self, part: Part) -> anyhow::Result<Value> {
        let mut row = Value::Null;
        while let Some(rows) = self.of(part) {
            for text in rows {
                row = serde_json::from_str(&text)?;
            }
        }
        Ok(row)
    }
}

/// Pack a farm, as [`ledger::archive::take`] hands it out, into a file; it is left at its beginning. Blocks its thread.
///
/// # Errors
/// When a file can't be written, or the pages end early.
pub fn pack(pages: Receiver<Page>, fields: &[Field], seal: &Seal, file: File) -> anyhow::Result<File> {
    let mut pages = Pages { from: pages, next: None };
    let mut packing = Packing { zip: ZipWriter::new(file), open: None, digests: BTreeMap::new() };
    let farm = pages.one(Part::Farm)?;
    let station = pages.one(Part::Station)?;
    let id = text_of(&farm, "id").parse().context("the farm was not read to its end")?;
    packing.whole("README.txt", README.as_bytes())?;
    packing.whole(FARM, &serde_json::to_vec_pretty(&json!({"farm": farm, "station": station}))?)?;
    let names = people(&mut packing, &mut pages)?;
    let head = entries(&mut packing, &mut pages)?;
    entries_in_words(&mut packing, &mut pages, &names)?;
    packing.whole("fields.geojson", format!("{}\n", feature_collection(fields)).as_bytes())?;
    for (at, table) in TABLES.iter().enumerate() {
        rows(&mut packing, &mut pages, Part::Table(at), table)?;
    }
    packing.begin(FOUNDINGS)?;
    while let Some(lines) = pages.of(Part::Foundings) {
        lines.iter().try_for_each(|line| packing.line(line))?;
    }
    weather(&mut packing, &mut pages)?;
    packing.end();
    let digests: String = read_back()
        .iter()
        .filter_map(|name| packing.digests.get(name).map(|digest| format!("{digest}  {name}\n")))
        .collect();
    packing.whole(DIGESTS, digests.as_bytes())?;
    let sealed: Sealed = seal.sealed(id, head, hex::encode(Sha256::digest(&digests)));
    packing.whole(HEAD, &serde_json::to_vec_pretty(&sealed)?)?;
    let mut file = packing.zip.finish()?;
    file.seek(SeekFrom::Start(0))?;
    Ok(file)
}

fn people(packing: &mut Packing, pages: &mut Pages) -> anyhow::Result<BTreeMap<String, String>> {
    packing.begin(PEOPLE)?;
    packing.row(&["id", "name", "role", "has left"].map(str::to_owned))?;
    let mut names = BTreeMap::new();
    while let Some(rows) = pages.of(Part::Authors) {
        for row in rows {
            let row: Value = serde_json::from_str(&row)?;
            let (id, name) = (text_of(&row, "id").to_owned(), text_of(&row, "name").to_owned());
            let left = (row["ended"] == true).to_string();
            packing.row(&[id.clone(), safe(&name), text_of(&row, "role").to_owned(), left])?;
            names.insert(id, name);
        }
    }
    Ok(names)
}

/// The ledger; where it has come to.
fn entries(packing: &mut Packing, pages: &mut Pages) -> anyhow::Result<Head> {
    packing.begin(LEDGER)?;
    let mut last = String::new();
    while let Some(lines) = pages.of(Part::Entries) {
        lines.iter().try_for_each(|line| packing.line(line))?;
        last = lines.into_iter().next_back().unwrap_or_default();
    }
    if last.is_empty() {
        return Ok(Head::default());
    }
    let last: Value = serde_json::from_str(&last)?;
    Ok(Head { position: last["position"].as_i64().unwrap_or(0), digest: text_of(&last, "digest").to_owned() })
}

/// The ledger in words.
fn entries_in_words(packing: &mut Packing, pages: &mut Pages, names: &BTreeMap<String, String>) -> anyhow::Result<()> {
    packing.begin("ledger.csv")?;
    packing.row(&["place", "day", "kind", "says", "by", "written down at", "id", "struck by"].map(str::to_owned))?;
    while let Some(rows) = pages.of(Part::Struck) {
        for row in rows {
            let mut entry: Value = serde_json::from_str(&row)?;
            let payload = entry["payload"].take();
            let version = entry["version"].as_i64().and_then(|version| version.try_into().ok()).unwrap_or(0);
            let kind = text_of(&entry, "kind");
            let says = Payload::stored_as(kind, version, payload)
                .map_or_else(|why| why.to_string(), |payload| Said::told(&payload.says(), None));
            let by = names.get(text_of(&entry, "recorded_by")).map(String::as_str).unwrap_or_default();
            packing.row(&[
                entry["position"].to_string(),
                text_of(&entry, "occurred_on").to_owned(),
                safe(kind),
                safe(&says),
                safe(by),
                text_of(&entry, "recorded_at").to_owned(),
                text_of(&entry, "id").to_owned(),
                text_of(&entry, "struck_by").to_owned(),
            ])?;
        }
    }
    Ok(())
}

/// Rows of a table. Pictures lie beside them, as files of their own.
fn rows(packing: &mut Packing, pages: &mut Pages, part: Part, table: &str) -> anyhow::Result<()> {
    if table != PHOTOS {
        packing.begin(&table_file(table))?;
        while let Some(lines) = pages.of(part) {
            lines.iter().try_for_each(|line| packing.line(line))?;
        }
        return Ok(());
    }
    let mut bare = String::new();
    while let Some(lines) = pages.of(part) {
        for line in lines {
            let mut row: Map<String, Value> = serde_json::from_str(&line)?;
            let told = row.remove("jpeg").unwrap_or_default();
            let digits = told.as_str().and_then(|told| told.strip_prefix("\\x")).context("a photo without data")?;
            let bytes = hex::decode(digits).context("a picture of no bytes")?;
            let row = Value::Object(row);
            packing.whole(&picture_file(&row), &bytes)?;
            bare += &format!("{row}\n");
        }
    }
    packing.whole(&table_file(table), bare.as_bytes())
}

fn weather(packing: &mut Packing, pages: &mut Pages) -> anyhow::Result<()> {
    packing.begin(WEATHER)?;
    let head: Vec<String> = std::iter::once("day").chain(COLUMNS.map(|(_, head)| head)).map(str::to_owned).collect();
    packing.row(&head)?;
    while let Some(rows) = pages.of(Part::Days) {
        for row in rows {
            let day: Value = serde_json::from_str(&row)?;
            let figure = |key: &str| if day[key].is_null() { String::new() } else { day[key].to_string() };
            let own = text_of(&day, "day").to_owned();
            let cells: Vec<String> = std::iter::once(own).chain(COLUMNS.map(|(key, _)| figure(key))).collect();
            packing.row(&cells)?;
        }
    }
    Ok(())
}
