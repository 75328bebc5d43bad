//! An archive that came from anywhere, back into a farm.
//!
//! Nothing of it is believed: sizes, counts, depth and how tightly it is packed are bounded before anything is kept, its
//! files go through the disk, and its rows to the database by pages.

use std::{
    collections::BTreeMap,
    fs::File,
    io::{BufRead, BufReader, Read, Seek, SeekFrom, Write},
};

use anyhow::{Context, bail, ensure};
use jiff::civil::Date;
use ledger::{
    archive::{Author, Opened, Part, Put, TABLES},
    chain::Head,
};
use serde_json::{Map, Value};
use sha2::{Digest, Sha256};
use zip::ZipArchive;

use super::{
    COLUMNS, DIGESTS, FARM, FOUNDINGS, HEAD, LEDGER, PEOPLE, PHOTOS, WEATHER, in_groups, picture_file, plain,
    read_back, seal::Sealed, table_file, text_of,
};

/// The largest file that is read out of an archive, bytes.
const MOST: u64 = 512 * 1024 * 1024;
/// What all files may come to, bytes.
const MOST_IN_ALL: u64 = 4 * 1024 * 1024 * 1024;
/// Files in an archive: a farm has a dozen, and its pictures.
const MOST_FILES: usize = 200_000;
/// How much smaller a file may be packed than it is. JSON and CSV come to a twentieth, the tightest rows to a hundredth.
const TIGHTEST: u64 = 300;
/// The longest line, bytes: an outline of ten thousand corners is a tenth of it.
const LONGEST: u64 = 4 * 1024 * 1024;
/// Rows of a file.
const MOST_ROWS: usize = 5_000_000;
/// Those under whose names entries stand.
const MOST_AUTHORS: usize = 100_000;
/// Rows of a page, and their bytes.
const PAGE: (usize, usize) = (500, 8 * 1024 * 1024);

/// An archive that was opened and found whole; its rows are read page by page.
pub struct Unpacked {
    zip: ZipArchive<File>,
    files: BTreeMap<String, Lines>,
    farm: Value,
    station: Value,
    authors: Vec<Author>,
    head: Head,
    farm_digest: Option<String>,
    sealed: Option<Sealed>,
}

impl std::fmt::Debug for Unpacked {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("Unpacked").field("farm", &self.farm["name"]).field("head", &self.head).finish_non_exhaustive()
    }
}

/// A file of the archive, on the disk, and how far it was read.
struct Lines {
    name: String,
    reader: BufReader<File>,
    read: usize,
    header: Option<csv::StringRecord>,
}

impl Lines {
    fn rewind(&mut self) -> anyhow::Result<()> {
        self.reader.seek(SeekFrom::Start(0))?;
        self.read = 0;
        Ok(())
    }

    /// The next line, without its end; none after the last.
    fn next(&mut self) -> anyhow::Result<Option<String>> {
        let mut line = vec![];
        let read = self.reader.by_ref().take(LONGEST + 1).read_until(b'\n', &mut line)?;
        if read == 0 {
            return Ok(None);
        }
        self.read += 1;
        let at = format!("line {} of {}", self.read, self.name);
        ensure!(read as u64 <= LONGEST, "{at} is longer than any farm\u{2019}s");
        ensure!(self.read <= MOST_ROWS, "{} has more lines than any farm\u{2019}s", self.name);
        let line = String::from_utf8(line).ok().with_context(|| format!("{at} is not text"))?;
        Ok(Some(line.trim_end_matches(['\n', '\r']).to_owned()))
    }

    /// The next line, if it is an object of JSON.
    fn next_json(&mut self) -> anyhow::Result<Option<String>> {
        let Some(line) = self.next()? else { return Ok(None) };
        let object = line.starts_with('{') && serde_json::from_str::<Value>(&line).is_ok();
        ensure!(object, "line {} of {} is not JSON", self.read, self.name);
        Ok(Some(line))
    }

    fn page(&mut self, row: impl Fn(&mut Self) -> anyhow::Result<Option<String>>) -> anyhow::Result<Vec<String>> {
        let (mut rows, mut bytes) = (vec![], 0);
        while rows.len() < PAGE.0
            && bytes < PAGE.1
            && let Some(line) = row(self)?
        {
            bytes += line.len();
            rows.push(line);
        }
        Ok(rows)
    }

    /// A day of weather, as a row of JSON.
    fn next_day(&mut self) -> anyhow::Result<Option<String>> {
        if self.header.is_none() {
            self.header = self.next()?.map(|line| cells(&line)).transpose()?;
        }
        let Some(line) = self.next()? else { return Ok(None) };
        let row = cells(&line)?;
        let day: Date = row.get(0).unwrap_or_default().parse().context("weather.csv has an invalid date")?;
        let mut told = Map::from_iter([("day".to_owned(), day.to_string().into())]);
        for (index, (key, _)) in COLUMNS.iter().enumerate() {
            let figure: Value = match row.get(index + 1).unwrap_or_default() {
                "" => Value::Null,
                number => serde_json::from_str(number).with_context(|| format!("{day}: {number} is not a number"))?,
            };
            ensure!(figure.is_null() || figure.is_number(), "{day}: {figure} is not a number");
            told.insert((*key).to_owned(), figure);
        }
        Ok(Some(Value::Object(told).to_string()))
    }

    /// All of a small file.
    fn whole(&mut self) -> anyhow::Result<String> {
        let mut text = String::new();
        let read = self.reader.by_ref().take(LONGEST + 1).read_to_string(&mut text)?;
        ensure!(read as u64 <= LONGEST, "{} is larger than any farm\u{2019}s", self.name);
        Ok(text)
    }
}

fn cells(line: &str) -> anyhow::Result<csv::StringRecord> {
    let mut reader = csv::ReaderBuilder::new().has_headers(false).from_reader(line.as_bytes());
    Ok(reader.records().next().transpose().context("a row can\u{2019}t be read")?.unwrap_or_default())
}

impl Opened for Unpacked {
    fn farm(&self) -> &Value {
        &self.farm
    }

    fn station(&self) -> &Value {
        &self.station
    }

    fn authors(&self) -> &[Author] {
        &self.authors
    }

    fn head(&self) -> &Head {
        &self.head
    }

    fn farm_digest(&self) -> Option<&str> {
        self.farm_digest.as_deref()
    }

    fn page(&mut self, part: Part) -> Result<Option<Vec<String>>, String> {
        let name = match part {
            Part::Entries => LEDGER.to_owned(),
            Part::Foundings => FOUNDINGS.to_owned(),
            Part::Days => WEATHER.to_owned(),
            Part::Table(at) => table_file(TABLES[at]),
            Part::Farm | Part::Station | Part::Authors | Part::Struck => return Ok(None),
        };
        // What archives of before did not have yet is empty.
        let Some(lines) = self.files.get_mut(&name) else { return Ok(None) };
        let rows = match part {
            Part::Days => lines.page(Lines::next_day),
            Part::Table(at) if TABLES[at] == PHOTOS => {
                let zip = std::cell::RefCell::new(&mut self.zip);
                lines.page(|lines| lines.next_json()?.map(|row| pictured(&row, &mut zip.borrow_mut())).transpose())
            }
            _ => lines.page(Lines::next_json),
        };
        let rows = rows.map_err(|why| format!("{why:#}; nothing was imported"))?;
        Ok(Some(rows).filter(|rows| !rows.is_empty()))
    }
}

/// A picture's row with its bytes, held against the digest that the row has.
fn pictured(row: &str, zip: &mut ZipArchive<File>) -> anyhow::Result<String> {
    let mut row: Map<String, Value> = serde_json::from_str(row)?;
    let told = Value::Object(row.clone());
    let name = picture_file(&told);
    let file = zip.by_name(&name).with_context(|| format!("{name} is missing from the archive"))?;
    let mut bytes = vec![];
    file.take(ledger::photo::LARGEST as u64 + 1).read_to_end(&mut bytes)?;
    ensure!(hex::encode(Sha256::digest(&bytes)) == text_of(&told, "sha256"), "{name} has been altered");
    row.insert("jpeg".to_owned(), format!("\\x{}", hex::encode(bytes)).into());
    Ok(Value::Object(row).to_string())
}

/// How large an archive says it is, before any of it is read.
fn bounded(zip: &mut ZipArchive<File>) -> anyhow::Result<()> {
    ensure!(zip.len() <= MOST_FILES, "it has {} files, more than any farm\u{2019}s", zip.len());
    let mut all = 0_u64;
    for index in 0..zip.len() {
        let file = zip.by_index_raw(index)?;
        let (name, size, packed) = (file.name()?, file.size(), file.compressed_size());
        ensure!(size <= MOST, "{name} is too large");
        ensure!(size / TIGHTEST <= packed + 1024, "{name} is packed tighter than any farm\u{2019}s");
        all = all.saturating_add(size);
    }
    ensure!(all <= MOST_IN_ALL, "it is larger than any farm\u{2019}s");
    Ok(())
}

/// Open an archive, and hold its files against their digests and its end against the signature.
///
/// # Errors
/// A file that is no archive, lacks a part, is larger than any farm, or was changed: named.
pub fn unpack(archive: File) -> anyhow::Result<Unpacked> {
    let mut zip = ZipArchive::new(archive).context("not a farm archive, or the archive is incomplete")?;
    bounded(&mut zip)?;
    let (mut files, mut digests) = (BTreeMap::new(), BTreeMap::new());
    let small = [DIGESTS, HEAD, LEDGER].map(str::to_owned);
    for name in read_back().into_iter().chain(small) {
        let mut packed = match zip.by_name(&name) {
            // Archives of before had no such file.
            Err(zip::result::ZipError::FileNotFound) if may_lack(&name) => continue,
            file => file.with_context(|| format!("{name} is missing from the archive"))?.take(MOST + 1),
        };
        let (mut file, mut digest, mut size) = (tempfile::tempfile()?, Sha256::new(), 0);
        let mut some = vec![0; 64 * 1024];
        loop {
            let read = packed.read(&mut some).with_context(|| format!("{name} can\u{2019}t be read"))?;
            if read == 0 {
                break;
            }
            size += read as u64;
            digest.update(&some[..read]);
            file.write_all(&some[..read])?;
        }
        ensure!(size <= MOST, "{name} is too large");
        file.seek(SeekFrom::Start(0))?;
        digests.insert(name.clone(), hex::encode(digest.finalize()));
        files.insert(name.clone(), Lines { name, reader: BufReader::new(file), read: 0, header: None });
    }
    held(&mut files, &digests)?;
    let sealed: Option<Sealed> = match files.get_mut(HEAD) {
        None => None,
        Some(file) => Some(serde_json::from_str(&file.whole()?).context("head.json is not as it was written")?),
    };
    let last = last_line(files.get_mut(LEDGER).context("ledger.jsonl is not in it")?)?;
    let head = Head { position: last["position"].as_i64().unwrap_or(0), digest: text_of(&last, "digest").to_owned() };
    let mut told: Value = serde_json::from_str(&files.get_mut(FARM).context("farm.json is not in it")?.whole()?)
        .context("farm.json is not JSON")?;
    let (farm, station) = (told["farm"].take(), told["station"].take());
    if let Some(sealed) = &sealed {
        sealed.check()?;
        ensure!(digests.get(DIGESTS) == Some(&sealed.files), "{DIGESTS} is not as it was signed");
        ensure!(text_of(&farm, "id") == sealed.farm.to_string(), "{FARM} is not of the farm that was signed");
        let ends = head.position == sealed.position && head.digest == sealed.digest;
        ensure!(
            ends,
            "the ledger ends at place {}, and was signed as ending at {}: lines are missing, or were added",
            head.position,
            sealed.position
        );
    }
    let authors = authors(&files.get_mut(PEOPLE).context("people.csv is not in it")?.whole()?)?;
    let farm_digest = match files.get_mut(FOUNDINGS) {
        None => None,
        Some(foundings) => first_digest(foundings)?,
    };
    Ok(Unpacked { zip, files, farm, station, authors, head, farm_digest, sealed })
}

fn may_lack(name: &str) -> bool {
    name == HEAD || name == FOUNDINGS || name == table_file(PHOTOS)
}

/// Hold files against the digests that stand beside them.
fn held(files: &mut BTreeMap<String, Lines>, digests: &BTreeMap<String, String>) -> anyhow::Result<()> {
    let told = files.get_mut(DIGESTS).context("digests.txt is not in it")?.whole()?;
    for name in read_back() {
        match digests.get(&name) {
            None => ensure!(
                !told.lines().any(|line| line.ends_with(&format!("  {name}"))),
                "{name} is missing from the archive"
            ),
            Some(digest) => {
                let line = format!("{digest}  {name}");
                ensure!(told.lines().any(|told| told == line), "{name} has been altered");
            }
        }
    }
    Ok(())
}

/// The last line of the ledger, every line being one of JSON; it stands at its beginning afterwards.
fn last_line(lines: &mut Lines) -> anyhow::Result<Value> {
    let mut last = String::new();
    while let Some(line) = lines.next_json()? {
        last = line;
    }
    lines.rewind()?;
    if last.is_empty() { Ok(Value::Null) } else { Ok(serde_json::from_str(&last)?) }
}

/// How the farm was founded: the first line, if it is there.
fn first_digest(foundings: &mut Lines) -> anyhow::Result<Option<String>> {
    let first: Value = foundings.next_json()?.map(|line| serde_json::from_str(&line)).transpose()?.unwrap_or_default();
    foundings.rewind()?;
    let digest = text_of(&first, "digest");
    Ok((text_of(&first, "kind") == "farm" && hex::decode(digest).is_ok()).then(|| digest.to_owned()))
}

fn authors(text: &str) -> anyhow::Result<Vec<Author>> {
    let mut reader = csv::Reader::from_reader(text.as_bytes());
    let rows = reader.records().take(MOST_AUTHORS).map(|row| {
        let row = row.context("people.csv can\u{2019}t be read")?;
        let cell = |index: usize| row.get(index).unwrap_or_default();
        Ok(Author {
            id: cell(0).parse().context("people.csv has an invalid ID")?,
            name: plain(cell(1)).to_owned(),
            role: cell(2).to_owned(),
            ended: cell(3) == "true",
        })
    });
    rows.collect()
}

/// Read an archive in, as the tables' owner, and say what became of it. Somebody who signs in there becomes its manager.
/// `signed_by` is the key under which the other server signs, as it shows it: an archive of any other is refused.
///
/// # Errors
/// As [`unpack`] and [`ledger::archive::put`]; when nobody signs in by the address.
pub async fn import(
    pool: &ledger::Pool,
    archive: File,
    manager: Option<&str>,
    signed_by: Option<&str>,
) -> anyhow::Result<String> {
    let mut archive = unpack(archive)?;
    let key = archive.sealed.as_ref().map(|sealed| sealed.key.clone());
    if let Some(wanted) = signed_by {
        let wanted: String = wanted.split_whitespace().collect::<String>().to_lowercase();
        ensure!(key.as_ref() == Some(&wanted), "this archive was not signed by that key: nothing of it was taken");
    }
    let mut connection = pool.get().await?;
    let manager = match manager {
        Some(email) => match ledger::people::by_email(&mut connection, email).await? {
            Some(person) => Some(person),
            None => bail!("no account for {email}"),
        },
        None => None,
    };
    let name = text_of(&archive.farm, "name").to_owned();
    let put = ledger::archive::put(&mut connection, &mut archive).await?;
    if let (Some(person), Ok(farm)) = (&manager, text_of(&archive.farm, "id").parse()) {
        ledger::invitation::appoint(&mut connection, farm, person, crate::clock::today).await?;
    }
    let managed = manager.map_or_else(String::new, |person| format!("; {} manages it", person.name));
    let signed = match (key, signed_by) {
        (None, _) => "; it is not signed, so missing lines at its end cannot be detected".to_owned(),
        (Some(_), Some(_)) => "; signed by that key".to_owned(),
        (Some(key), None) => {
            format!("; signed by {}: compare it with the key that its server shows under Set-up, Data", in_groups(&key))
        }
    };
    Ok(match put {
        Put::New(entries) => format!("{name}: {entries} entries, verified{signed}{managed}"),
        Put::There => format!("{name} is already here and identical{managed}"),
    })
}
