//! A farm as one archive of open files, and back.
//!
//! A zip of GeoJSON, CSV with units in the headings, and JSON Lines. The same farm gives the same bytes: files stand in
//! one order, without the moment of packing. `ledger.jsonl` carries for each entry the digest of the chain, by which an
//! entry that was changed is found; the other files that are read back are held by `digests.txt`.

use std::{
    collections::BTreeMap,
    io::{Cursor, Read, Write},
};

use agronomy::said::Said;
use anyhow::{Context, bail, ensure};
use jiff::civil::Date;
use ledger::{
    archive::{Archive, Author, TABLES},
    field::Field,
};
use records::Payload;
use serde_json::{Map, Value, json};
use sha2::{Digest, Sha256};
use zip::{ZipArchive, ZipWriter, write::SimpleFileOptions};

use crate::api::fields::feature_collection;

const README: &str = "\
This is a farm as Ink Meadow kept it, in open files.

ledger.jsonl        every entry in the order in which it was written, a line each (JSON Lines): what it is, what it is
                    about, when it happened, when and by whom it was written down, what it strikes, and a digest over
                    all of that and the digest of the line before (SHA-256). Amounts carry their units.
ledger.csv          the same in words, to be read or opened in a spreadsheet
fields.geojson      fields as they lie now (GeoJSON, WGS 84)
weather.csv         the days of the farm's station, units in the headings
farm.json           name, place, time zone, station
people.csv          under whose names entries stand
fields.jsonl, seed_lots.jsonl, stands.jsonl, weather_imports.jsonl
                    what entries are about, as it was founded
photos.jsonl        pictures, each with the SHA-256 of its file; entries of the kind \"photo\" tell of them
photos/             the pictures (JPEG)
digests.txt         SHA-256 of the files that are read back

Read it into another server with  ./ink import FILE . What stands in ledger.csv and fields.geojson is made from the
rest, and is not read back. Hours of the station, its forecasts, sessions and passwords are not in it.
";

/// The largest file that is read out of an archive, bytes.
const MOST: u64 = 512 * 1024 * 1024;

/// Files that are read back, beside the ledger, which has its own digests.
fn read_back() -> Vec<String> {
    let tables = TABLES.iter().map(|table| format!("{table}.jsonl"));
    ["farm.json", "people.csv", "weather.csv"].map(str::to_owned).into_iter().chain(tables).collect()
}

/// A cell that no spreadsheet takes for a formula: one that would begin one is led by an apostrophe (OWASP, CSV
/// injection).
pub fn safe(cell: &str) -> String {
    if cell.starts_with(['=', '+', '-', '@', '\t', '\r', '\'']) { format!("'{cell}") } else { cell.to_owned() }
}

/// What a safe cell says.
pub fn plain(cell: &str) -> &str {
    cell.strip_prefix('\'').unwrap_or(cell)
}

fn csv_of(rows: impl IntoIterator<Item = Vec<String>>) -> anyhow::Result<Vec<u8>> {
    let mut writer = csv::Writer::from_writer(vec![]);
    for row in rows {
        writer.write_record(row)?;
    }
    Ok(writer.into_inner()?)
}

fn lines(rows: &[Value]) -> Vec<u8> {
    rows.iter().flat_map(|row| format!("{row}\n").into_bytes()).collect()
}

/// Columns of the weather file: as kept, and as headed.
const WEATHER: [(&str, &str); 6] = [
    ("tmin", "lowest [degC]"),
    ("tmax", "highest [degC]"),
    ("rain", "rain [mm]"),
    ("radiation", "radiation [MJ/m2]"),
    ("dew_point", "dew point [degC]"),
    ("wind", "wind [m/s]"),
];

fn weather_csv(days: &[Value]) -> anyhow::Result<Vec<u8>> {
    let head = std::iter::once("day").chain(WEATHER.map(|(_, head)| head)).map(str::to_owned).collect();
    let of = |day: &Value| {
        let figure = |key: &str| if day[key].is_null() { String::new() } else { day[key].to_string() };
        let own = day["day"].as_str().unwrap_or_default().to_owned();
        std::iter::once(own).chain(WEATHER.map(|(key, _)| figure(key))).collect::<Vec<_>>()
    };
    csv_of(std::iter::once(head).chain(days.iter().map(of)))
}

fn text_of<'a>(entry: &'a Value, key: &str) -> &'a str {
    entry[key].as_str().unwrap_or_default()
}

/// The ledger in words.
fn ledger_csv(archive: &Archive) -> anyhow::Result<Vec<u8>> {
    let struck: BTreeMap<&str, &str> =
        archive.entries.iter().filter_map(|entry| Some((entry["strikes"].as_str()?, text_of(entry, "id")))).collect();
    let names: BTreeMap<String, &str> =
        archive.authors.iter().map(|one| (one.id.to_string(), one.name.as_str())).collect();
    let head = ["place", "day", "kind", "says", "by", "written down at", "id", "struck by"].map(str::to_owned).to_vec();
    let of = |entry: &Value| {
        let version = entry["version"].as_i64().and_then(|version| version.try_into().ok()).unwrap_or(0);
        let kind = text_of(entry, "kind");
        let says = Payload::stored_as(kind, version, entry["payload"].clone())
            .map_or_else(|why| why.to_string(), |payload| Said::told(&payload.says(), None));
        let by = names.get(text_of(entry, "recorded_by")).copied().unwrap_or_default();
        vec![
            entry["position"].to_string(),
            text_of(entry, "occurred_on").to_owned(),
            safe(kind),
            safe(&says),
            safe(by),
            text_of(entry, "recorded_at").to_owned(),
            text_of(entry, "id").to_owned(),
            struck.get(text_of(entry, "id")).copied().unwrap_or_default().to_owned(),
        ]
    };
    csv_of(std::iter::once(head).chain(archive.entries.iter().map(of)))
}

fn people_csv(authors: &[Author]) -> anyhow::Result<Vec<u8>> {
    let head = ["id", "name", "role", "has left"].map(str::to_owned).to_vec();
    let of = |one: &Author| vec![one.id.to_string(), safe(&one.name), one.role.clone(), one.ended.to_string()];
    csv_of(std::iter::once(head).chain(authors.iter().map(of)))
}

/// A farm as the bytes of its archive.
///
/// # Errors
/// When a file can't be written.
pub fn pack(archive: &Archive, fields: &[Field]) -> anyhow::Result<Vec<u8>> {
    let mut files: Vec<File> = vec![
        ("README.txt".to_owned(), README.into()),
        ("ledger.jsonl".to_owned(), lines(&archive.entries)),
        ("ledger.csv".to_owned(), ledger_csv(archive)?),
        ("fields.geojson".to_owned(), format!("{}\n", feature_collection(fields)).into_bytes()),
        ("weather.csv".to_owned(), weather_csv(&archive.days)?),
        ("farm.json".to_owned(), {
            let told = json!({"farm": archive.farm, "station": archive.station});
            serde_json::to_vec_pretty(&told)?
        }),
        ("people.csv".to_owned(), people_csv(&archive.authors)?),
    ];
    for (table, rows) in TABLES.iter().zip(&archive.rows) {
        if *table == PHOTOS {
            let (rows, pictures) = apart(rows)?;
            files.push((format!("{table}.jsonl"), lines(&rows)));
            files.extend(pictures);
        } else {
            files.push((format!("{table}.jsonl"), lines(rows)));
        }
    }
    let held = read_back();
    let digests: String = files
        .iter()
        .filter(|(name, _)| held.contains(name))
        .map(|(name, bytes)| format!("{}  {name}\n", hex(bytes)))
        .collect();
    files.push(("digests.txt".to_owned(), digests.into()));
    let mut zip = ZipWriter::new(Cursor::new(vec![]));
    // The default moment, 1980-01-01: not that of packing.
    let options = SimpleFileOptions::default().compression_method(zip::CompressionMethod::Deflated);
    for (name, bytes) in files {
        zip.start_file(name, options)?;
        zip.write_all(&bytes)?;
    }
    Ok(zip.finish()?.into_inner())
}

/// The table of pictures.
const PHOTOS: &str = "photos";

/// Where a picture lies in the archive.
fn picture_file(row: &Value) -> String {
    format!("{PHOTOS}/{}.jpg", text_of(row, "id"))
}

/// A file of the archive: its name, and what it holds.
type File = (String, Vec<u8>);

/// Rows of pictures without their bytes, and the bytes as files.
fn apart(rows: &[Value]) -> anyhow::Result<(Vec<Value>, Vec<File>)> {
    let mut files = vec![];
    let mut bare = vec![];
    for row in rows {
        let mut row = row.clone();
        let told = row.as_object_mut().and_then(|row| row.remove("jpeg")).unwrap_or_default();
        let digits = told.as_str().and_then(|told| told.strip_prefix("\\x")).context("a picture without bytes")?;
        let byte = |at: usize| u8::from_str_radix(digits.get(at..at + 2).unwrap_or_default(), 16);
        let bytes =
            (0..digits.len()).step_by(2).map(byte).collect::<Result<_, _>>().context("a picture of no bytes")?;
        files.push((picture_file(&row), bytes));
        bare.push(row);
    }
    Ok((bare, files))
}

/// Rows of pictures with their bytes, each held against the digest that its row has.
fn together(rows: Vec<Value>, zip: &mut ZipArchive<Cursor<&[u8]>>) -> anyhow::Result<Vec<Value>> {
    let whole = rows.into_iter().map(|mut row| {
        let name = picture_file(&row);
        let file = zip.by_name(&name).with_context(|| format!("{name} is not in it"))?;
        let mut bytes = vec![];
        file.take(ledger::photo::LARGEST as u64 + 1).read_to_end(&mut bytes)?;
        ensure!(hex(&bytes) == text_of(&row, "sha256"), "{name} is not as it was written");
        let digits: String = bytes.iter().map(|byte| format!("{byte:02x}")).collect();
        if let Some(row) = row.as_object_mut() {
            row.insert("jpeg".to_owned(), format!("\\x{digits}").into());
        }
        Ok(row)
    });
    whole.collect()
}

fn hex(bytes: &[u8]) -> String {
    Sha256::digest(bytes).iter().map(|byte| format!("{byte:02x}")).collect()
}

/// Read an archive back.
///
/// # Errors
/// A file that is no archive, lacks a part, is larger than any farm, or was changed: named.
pub fn unpack(bytes: &[u8]) -> anyhow::Result<Archive> {
    let mut zip =
        ZipArchive::new(Cursor::new(bytes)).context("this is no archive of a farm, or not the whole of one")?;
    let mut files = BTreeMap::new();
    for name in read_back().into_iter().chain(["ledger.jsonl".to_owned(), "digests.txt".to_owned()]) {
        let file = match zip.by_name(&name) {
            // Archives of before had no pictures.
            Err(zip::result::ZipError::FileNotFound) if name == format!("{PHOTOS}.jsonl") => continue,
            file => file.with_context(|| format!("{name} is not in it"))?,
        };
        let mut bytes = vec![];
        file.take(MOST + 1).read_to_end(&mut bytes).with_context(|| format!("{name} can\u{2019}t be read"))?;
        ensure!(bytes.len() as u64 <= MOST, "{name} is larger than any farm\u{2019}s");
        let text = String::from_utf8(bytes).ok().with_context(|| format!("{name} is no text"))?;
        files.insert(name, text);
    }
    let text = |name: &str| files.get(name).map(String::as_str).unwrap_or_default();
    for name in read_back() {
        if !files.contains_key(&name) {
            let told = text("digests.txt").lines().any(|told| told.ends_with(&name));
            ensure!(!told, "{name} is not in it");
            continue;
        }
        let line = format!("{}  {name}", hex(text(&name).as_bytes()));
        ensure!(text("digests.txt").lines().any(|told| told == line), "{name} is not as it was written");
    }
    let json_lines = |name: &str| -> anyhow::Result<Vec<Value>> {
        let parsed = text(name).lines().enumerate().map(|(index, line)| {
            serde_json::from_str(line).with_context(|| format!("line {} of {name} is no JSON", index + 1))
        });
        parsed.collect()
    };
    let tables = TABLES.iter().map(|table| {
        let rows = json_lines(&format!("{table}.jsonl"))?;
        if *table == PHOTOS { together(rows, &mut zip) } else { Ok(rows) }
    });
    let rows = tables.collect::<anyhow::Result<_>>()?;
    let mut told: Value = serde_json::from_str(text("farm.json")).context("farm.json is no JSON")?;
    Ok(Archive {
        farm: told["farm"].take(),
        station: told["station"].take(),
        authors: authors(text("people.csv"))?,
        rows,
        entries: json_lines("ledger.jsonl")?,
        days: days(text("weather.csv"))?,
    })
}

fn authors(text: &str) -> anyhow::Result<Vec<Author>> {
    let mut reader = csv::Reader::from_reader(text.as_bytes());
    let rows = reader.records().map(|row| {
        let row = row.context("people.csv can\u{2019}t be read")?;
        let cell = |index: usize| row.get(index).unwrap_or_default();
        Ok(Author {
            id: cell(0).parse().context("an id in people.csv is none")?,
            name: plain(cell(1)).to_owned(),
            role: cell(2).to_owned(),
            ended: cell(3) == "true",
        })
    });
    rows.collect()
}

fn days(text: &str) -> anyhow::Result<Vec<Value>> {
    let mut reader = csv::Reader::from_reader(text.as_bytes());
    let rows = reader.records().map(|row| {
        let row = row.context("weather.csv can\u{2019}t be read")?;
        let day: Date = row.get(0).unwrap_or_default().parse().context("a day in weather.csv is none")?;
        let mut told = Map::from_iter([("day".to_owned(), day.to_string().into())]);
        for (index, (key, _)) in WEATHER.iter().enumerate() {
            let figure = match row.get(index + 1).unwrap_or_default() {
                "" => Value::Null,
                number => serde_json::from_str(number).with_context(|| format!("{day}: {number} is no number"))?,
            };
            told.insert((*key).to_owned(), figure);
        }
        Ok(Value::Object(told))
    });
    rows.collect()
}

/// Read an archive in, as the tables' owner, and say what became of it. Somebody who signs in there becomes its manager.
///
/// # Errors
/// As [`unpack`] and [`ledger::archive::put`]; when nobody signs in by the address.
pub async fn import(pool: &ledger::Pool, bytes: &[u8], manager: Option<&str>) -> anyhow::Result<String> {
    let archive = unpack(bytes)?;
    let mut connection = pool.get().await?;
    let manager = match manager {
        Some(email) => match ledger::people::by_email(&mut connection, email).await? {
            Some(person) => Some(person),
            None => bail!("nobody signs in here as {email}"),
        },
        None => None,
    };
    let name = archive.farm["name"].as_str().unwrap_or_default().to_owned();
    let put = ledger::archive::put(&mut connection, &archive).await?;
    if let (Some(person), Some(farm)) = (&manager, archive.id()) {
        ledger::invitation::appoint(&mut connection, farm, person, crate::clock::today).await?;
    }
    let managed = manager.map_or_else(String::new, |person| format!("; {} manages it", person.name));
    Ok(match put {
        ledger::archive::Put::New(entries) => format!("{name}: {entries} entries, sound{managed}"),
        ledger::archive::Put::There => format!("{name} is here already, the same to the last entry{managed}"),
    })
}
