//! A farm as one archive of open files, and back.
//!
//! A zip of GeoJSON, CSV with units in the headings, and JSON Lines. The same farm gives the same bytes: files stand in
//! one order, without the moment of packing. `ledger.jsonl` carries for each entry the digest of the chain, by which an
//! entry that was changed is found; the other files that are read back are held by `digests.txt`, and the end of all of it
//! by `head.json`, which is signed. It is written and read row by row: a farm of decades is never in memory as a whole.

mod cells;
mod pack;
mod seal;
mod unpack;

use ledger::archive::TABLES;

pub use cells::{plain, safe};
pub use pack::pack;
pub use seal::{Seal, in_groups};
pub use unpack::{Unpacked, import, unpack};

const README: &str = "\
This is an export of one Ink Meadow farm as open files.

ledger.jsonl        every entry in the order in which it was written, a line each (JSON Lines): what it is, what it is
                    about, when it happened, when and by whom it was written down, what it strikes, and a digest over
                    all of that and the digest of the line before (SHA-256). Amounts carry their units.
ledger.csv          the same in words, to be read or opened in a spreadsheet
fields.geojson      current field boundaries (GeoJSON, WGS 84)
weather.csv         the days of the farm's station, units in the headings
farm.json           name, place, time zone, station
people.csv          names that entries are recorded under
fields.jsonl, seed_lots.jsonl, stands.jsonl, weather_imports.jsonl
                    what entries refer to, as first created
photos.jsonl        pictures, each with the SHA-256 of its file; entries of the kind \"photo\" tell of them
photos/             the pictures (JPEG)
foundings.jsonl     how these were founded: a digest each, and the place in the ledger whose digest covers it
digests.txt         SHA-256 of the files that are read back
head.json           where the ledger ends, and a signature over that and digests.txt (Ed25519) by the server's own key:
                    without that key no line can be left out, and no digest remade, unnoticed

Read it into another server with  ./ink import FILE . ledger.csv and fields.geojson are derived from the
rest, and is not read back. Hours of the station, its forecasts, sessions and passwords are not in it.
";

const LEDGER: &str = "ledger.jsonl";
const FARM: &str = "farm.json";
const PEOPLE: &str = "people.csv";
const WEATHER: &str = "weather.csv";
const FOUNDINGS: &str = "foundings.jsonl";
const DIGESTS: &str = "digests.txt";
const HEAD: &str = "head.json";
/// The table of pictures.
const PHOTOS: &str = "photos";

/// Files that are read back, beside the ledger, which has its own digests.
fn read_back() -> Vec<String> {
    let tables = TABLES.iter().map(|table| table_file(table));
    [FARM, PEOPLE, WEATHER, FOUNDINGS].map(str::to_owned).into_iter().chain(tables).collect()
}

/// The file of a table's rows.
fn table_file(table: &str) -> String {
    format!("{table}.jsonl")
}

/// Columns of the weather file: as kept, and as headed.
const COLUMNS: [(&str, &str); 6] = [
    ("tmin", "lowest [degC]"),
    ("tmax", "highest [degC]"),
    ("rain", "rain [mm]"),
    ("radiation", "radiation [MJ/m2]"),
    ("dew_point", "dew point [degC]"),
    ("wind", "wind [m/s]"),
];

fn text_of<'a>(row: &'a serde_json::Value, key: &str) -> &'a str {
    row[key].as_str().unwrap_or_default()
}

/// Where a picture lies in the archive.
fn picture_file(row: &serde_json::Value) -> String {
    format!("{PHOTOS}/{}.jpg", text_of(row, "id"))
}
