//! Laboratory reports as CSV: columns mapped, lines checked, all or nothing.

use std::collections::BTreeMap;

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{AcidityTest, Layer, PMethod, PTest, SoilTest};
use crate::{
    refusal::Refused,
    said,
    said::Said,
    units::{Charge, ChargePerVolume, Conductivity, Fraction, Length, SoilContent, Unit},
};

/// The most lines taken.
pub const MOST_LINES: usize = 50_000;
/// The most findings told; more are counted.
const MOST_FINDINGS: usize = 200;
/// The most columns, and the longest heading: far above what any laboratory sends.
const MOST_COLUMNS: usize = 500;
const LONGEST_HEADING: usize = 200;

/// What a column can hold. Amounts are in the unit named here; a decimal comma is understood.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Column {
    /// Name of the field.
    Field,
    /// Name of the sample.
    Sample,
    /// Day of sampling, year-month-day.
    SampledOn,
    /// Upper edge, inches or cm by the mapping.
    DepthFrom,
    /// Lower edge.
    DepthTo,
    /// pH in water.
    Ph,
    /// SMP buffer pH.
    BufferPh,
    /// Mehlich acidity, meq/100cm3.
    Acidity,
    /// Phosphorus, ppm.
    P,
    /// Potassium, ppm.
    K,
    /// Magnesium, ppm.
    Mg,
    /// Calcium, ppm.
    Ca,
    /// Sulfur, ppm.
    S,
    /// Boron, ppm.
    B,
    /// Zinc, ppm.
    Zn,
    /// CEC, meq/100g.
    Cec,
    /// Base saturation, percent.
    BaseSaturation,
    /// Organic matter, percent.
    OrganicMatter,
    /// Soluble salts of a saturated paste, dS/m.
    Salts,
}

impl Column {
    /// Usual headings of each, for guessing a mapping.
    const NAMES: [(Self, &'static [&'static str]); 19] = [
        (Self::Field, &["field", "field name", "field id", "paddock", "potrero", "lote"]),
        (Self::Sample, &["sample", "sample id", "lab no", "muestra"]),
        (Self::SampledOn, &["sampled", "sampled on", "date", "date sampled", "fecha"]),
        (Self::DepthFrom, &["depth from", "top", "upper depth", "desde"]),
        (Self::DepthTo, &["depth to", "depth", "bottom", "lower depth", "hasta"]),
        (Self::Ph, &["ph", "water ph", "soil ph", "ph water", "ph (water)"]),
        (Self::BufferPh, &["buffer ph", "buffer", "smp", "smp ph", "bph"]),
        (Self::Acidity, &["acidity", "ac", "mehlich acidity"]),
        (Self::P, &["p", "phosphorus", "p ppm", "p (ppm)", "fosforo"]),
        (Self::K, &["k", "potassium", "k ppm", "k (ppm)", "potasio"]),
        (Self::Mg, &["mg", "magnesium", "mg ppm", "mg (ppm)"]),
        (Self::Ca, &["ca", "calcium", "ca ppm", "ca (ppm)"]),
        (Self::S, &["s", "sulfur", "s ppm", "s (ppm)"]),
        (Self::B, &["b", "boron", "b ppm", "b (ppm)"]),
        (Self::Zn, &["zn", "zinc", "zn ppm", "zn (ppm)"]),
        (Self::Cec, &["cec", "cec meq/100g", "cec (meq/100g)"]),
        (Self::BaseSaturation, &["base saturation", "bs", "bs %"]),
        (Self::OrganicMatter, &["om", "organic matter", "om %", "om (%)", "mo"]),
        (Self::Salts, &["ece", "ece ds/m", "ece (ds/m)", "soluble salts", "soluble salts (ds/m)"]),
    ];
}

/// A buffer solution that laboratories stir a soil into.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Buffer {
    /// Shoemaker, McLean and Pratt.
    #[default]
    Smp,
    /// Sikora.
    Sikora,
    /// Adams and Evans.
    AdamsEvans,
}

impl Buffer {
    /// A reading of it.
    pub fn reads(self, buffer_ph: f64) -> AcidityTest {
        match self {
            Self::Smp => AcidityTest::Smp { buffer_ph },
            Self::Sikora => AcidityTest::Sikora { buffer_ph },
            Self::AdamsEvans => AcidityTest::AdamsEvans { buffer_ph },
        }
    }
}

/// How a file is to be read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Mapping {
    /// Heading by what it holds; guessed for what is not named.
    #[serde(default)]
    #[schema(value_type = std::collections::BTreeMap<String, String>)]
    pub columns: BTreeMap<Column, String>,
    /// How the laboratory extracts phosphorus.
    pub p_method: PMethod,
    /// Which buffer a buffer pH is of; SMP when nothing is said.
    #[serde(default)]
    pub buffer: Buffer,
    /// Who tested.
    pub laboratory: String,
    /// Unit of the depths: `in` or `cm`.
    #[schema(value_type = String)]
    pub depth_unit: Unit,
    /// Day of sampling for lines that have none.
    #[serde(default)]
    #[schema(value_type = Option<String>, format = Date)]
    pub sampled_on: Option<Date>,
}

/// What is wrong with a line.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ImportError {
    /// Line of the file, the heading being line 1; 0 for the whole file.
    pub line: usize,
    /// Its heading, when one cell is to blame.
    pub column: String,
    /// What was found and what was expected.
    #[schema(value_type = String)]
    pub detail: Said,
}

/// A line that was read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Row {
    /// Line of the file.
    pub line: usize,
    /// Name of the field, as written.
    pub field: String,
    /// The test, with one layer; layers of one sample are put together by [`import`].
    pub test: SoilTest,
}

/// A file that was read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Imported {
    /// Tests, one for each field and sample, layers from the top; empty when anything is wrong.
    pub rows: Vec<Row>,
    /// Lines read.
    pub lines: usize,
    /// Everything found wrong, by line; at most 200 are told.
    pub errors: Vec<ImportError>,
    /// How many there are in all.
    pub errors_in_all: usize,
    /// The headings of the file.
    pub headings: Vec<String>,
    /// The mapping used: given and guessed.
    #[schema(value_type = std::collections::BTreeMap<String, String>)]
    pub mapping: BTreeMap<Column, String>,
}

struct Reader<'a> {
    mapping: &'a Mapping,
    index: BTreeMap<Column, (usize, String)>,
    errors: Vec<ImportError>,
    count: usize,
}

impl Reader<'_> {
    fn wrong(&mut self, line: usize, column: &str, detail: impl Into<Said>) {
        self.count += 1;
        if self.errors.len() < MOST_FINDINGS {
            self.errors.push(ImportError { line, column: column.to_owned(), detail: detail.into().short() });
        }
    }

    fn text<'r>(&self, record: &'r csv::StringRecord, column: Column) -> &'r str {
        self.index.get(&column).and_then(|(index, _)| record.get(*index)).unwrap_or_default().trim()
    }

    fn number(&mut self, record: &csv::StringRecord, line: usize, column: Column) -> Option<f64> {
        let text = self.text(record, column);
        if text.is_empty() {
            return None;
        }
        // A decimal comma: "6,4". A cell never needs a thousands mark here.
        let normal = if text.contains('.') { text.to_owned() } else { text.replacen(',', ".", 1) };
        match normal.parse::<f64>() {
            Ok(value) if value.is_finite() => Some(value),
            _ => {
                let heading = self.index.get(&column).map(|(_, heading)| heading.clone()).unwrap_or_default();
                self.wrong(line, &heading, format!("\u{201c}{text}\u{201d} is not a number"));
                None
            }
        }
    }
}

/// Read a laboratory's CSV. Nothing is taken when anything is wrong: `rows` is then empty and
/// `errors` says what, line by line.
///
/// # Errors
/// A file that is no CSV, without headings, or of more than 50,000 lines.
pub fn import(text: &str, mapping: &Mapping) -> Result<Imported, Refused> {
    if !matches!(mapping.depth_unit, Unit::In | Unit::Cm) {
        return Err(Refused::one("/mapping/depth_unit", "give depths in in or cm"));
    }
    let text = text.strip_prefix('\u{feff}').unwrap_or(text);
    let first = text.lines().next().unwrap_or_default();
    // Where the comma is the decimal mark, files are cut by semicolons; some by tabs.
    let delimiter =
        [b';', b'\t', b','].into_iter().max_by_key(|mark| first.bytes().filter(|byte| byte == mark).count());
    let mut csv = csv::ReaderBuilder::new()
        .delimiter(delimiter.unwrap_or(b','))
        .flexible(true)
        .trim(csv::Trim::All)
        .from_reader(text.as_bytes());
    let headings: Vec<String> = match csv.headers() {
        Ok(headings) => headings.iter().map(str::to_owned).collect(),
        Err(error) => return Err(Refused::one("/text", format!("not a CSV file: {error}"))),
    };
    if headings.len() > MOST_COLUMNS || headings.iter().any(|heading| heading.len() > LONGEST_HEADING) {
        let detail = said!(
            "The first line has {} headings, the longest {} characters; the limits are {} and {}",
            headings.len(),
            headings.iter().map(String::len).max().unwrap_or(0),
            MOST_COLUMNS,
            LONGEST_HEADING
        );
        return Err(Refused::one("/text", detail));
    }
    if headings.iter().all(String::is_empty) {
        return Err(Refused::one("/text", "the file has no headings in its first line"));
    }
    let mut reader = Reader { mapping, index: BTreeMap::new(), errors: vec![], count: 0 };
    find_columns(&mut reader, &headings);
    let mut rows: Vec<Row> = Vec::new();
    let mut lines = 0;
    if reader.count == 0 {
        for record in csv.records() {
            let line = lines + 2;
            lines += 1;
            if lines > MOST_LINES {
                return Err(Refused::one("/text", format!("The file has more than {MOST_LINES} lines; split it")));
            }
            match record {
                Ok(record) if record.iter().all(str::is_empty) => {}
                Ok(record) if record.len() != headings.len() => {
                    reader.wrong(line, "", format!("{} cells, but there are {} headings", record.len(), headings.len()))
                }
                Ok(record) => {
                    if let Some(row) = read_line(&mut reader, &record, line) {
                        rows.push(row);
                    }
                }
                Err(error) => reader.wrong(line, "", format!("this line can\u{2019}t be read: {error}")),
            }
        }
        if lines == 0 {
            reader.wrong(0, "", "the file has headings but no data".to_owned());
        }
        rows = put_together(&mut reader, rows);
    }
    if reader.count > 0 {
        rows.clear();
    }
    let mapping = reader.index.iter().map(|(column, (_, heading))| (*column, heading.clone())).collect();
    Ok(Imported { rows, lines, errors: reader.errors, errors_in_all: reader.count, headings, mapping })
}

fn find_columns(reader: &mut Reader<'_>, headings: &[String]) {
    let normal = |text: &str| text.trim().to_lowercase().replace(['_', '-'], " ");
    for (column, names) in Column::NAMES {
        let found = match reader.mapping.columns.get(&column) {
            Some(wanted) if wanted.is_empty() => None,
            Some(wanted) => {
                let found = headings.iter().position(|heading| heading == wanted);
                if found.is_none() {
                    reader.wrong(1, wanted, format!("no column “{wanted}”; columns are {}", headings.join(", ")));
                }
                found
            }
            None => headings.iter().position(|heading| names.contains(&normal(heading).as_str())),
        };
        if let Some(index) = found {
            reader.index.insert(column, (index, headings[index].clone()));
        }
    }
    for (column, name) in [(Column::Field, "the field"), (Column::Ph, "pH")] {
        if !reader.index.contains_key(&column) && !reader.mapping.columns.contains_key(&column) {
            reader.wrong(1, "", format!("no column for {name}; the headings are {}", headings.join(", ")));
        }
    }
    if !reader.index.contains_key(&Column::SampledOn) && reader.mapping.sampled_on.is_none() {
        reader.wrong(1, "", "no column for sampling date; choose one, or give one date for all".to_owned());
    }
}

fn read_line(reader: &mut Reader<'_>, record: &csv::StringRecord, line: usize) -> Option<Row> {
    let before = reader.count;
    let heading = |reader: &Reader<'_>, column: Column| {
        reader.index.get(&column).map(|(_, heading)| heading.clone()).unwrap_or_default()
    };
    let field = reader.text(record, Column::Field).to_owned();
    if field.is_empty() {
        let column = heading(reader, Column::Field);
        reader.wrong(line, &column, "no field name".to_owned());
    }
    let sampled_on = match reader.text(record, Column::SampledOn) {
        "" => reader.mapping.sampled_on,
        text => {
            let parsed = text.parse::<Date>().ok();
            if parsed.is_none() {
                let (column, text) = (heading(reader, Column::SampledOn), text.to_owned());
                reader.wrong(line, &column, format!("“{text}” is not a date; use year-month-day, e.g. 2026-03-31"));
            }
            parsed
        }
    };
    let unit = reader.mapping.depth_unit;
    let usual = if unit == Unit::In { 6.0 } else { 15.0 };
    let from = reader.number(record, line, Column::DepthFrom).unwrap_or(0.0);
    let to = reader.number(record, line, Column::DepthTo).unwrap_or(usual);
    let ph = reader.number(record, line, Column::Ph);
    if ph.is_none() && reader.count == before {
        let column = heading(reader, Column::Ph);
        reader.wrong(line, &column, "no pH is given".to_owned());
    }
    let mut layer = Layer::new(Length::new(from, unit), Length::new(to, unit), ph.unwrap_or(7.0));
    layer.acidity = match (reader.number(record, line, Column::BufferPh), reader.number(record, line, Column::Acidity))
    {
        (Some(buffer_ph), _) => Some(reader.mapping.buffer.reads(buffer_ph)),
        (None, Some(acidity)) => {
            Some(AcidityTest::Mehlich { acidity: ChargePerVolume::new(acidity, Unit::MeqPer100Cm3) })
        }
        (None, None) => None,
    };
    let method = reader.mapping.p_method;
    let ppm = |value: f64| SoilContent::new(value, Unit::Ppm);
    layer.p = reader.number(record, line, Column::P).map(|value| PTest { value: ppm(value), method });
    layer.k = reader.number(record, line, Column::K).map(ppm);
    layer.mg = reader.number(record, line, Column::Mg).map(ppm);
    layer.ca = reader.number(record, line, Column::Ca).map(ppm);
    layer.s = reader.number(record, line, Column::S).map(ppm);
    layer.b = reader.number(record, line, Column::B).map(ppm);
    layer.zn = reader.number(record, line, Column::Zn).map(ppm);
    layer.cec = reader.number(record, line, Column::Cec).map(|value| Charge::new(value, Unit::MeqPer100G));
    layer.base_saturation = reader.number(record, line, Column::BaseSaturation).map(Fraction::percent);
    layer.organic_matter = reader.number(record, line, Column::OrganicMatter).map(Fraction::percent);
    layer.salts = reader.number(record, line, Column::Salts).map(|value| Conductivity::new(value, Unit::DsPerM));
    if reader.count > before {
        return None;
    }
    let test = SoilTest {
        laboratory: reader.mapping.laboratory.clone(),
        sample: reader.text(record, Column::Sample).to_owned(),
        sampled_on: sampled_on?,
        layers: vec![layer],
    };
    if let Err(refused) = test.check() {
        for refusal in refused.0 {
            let column = column_of(reader, &refusal.pointer);
            reader.wrong(line, &column, refusal.detail);
        }
        return None;
    }
    Some(Row { line, field, test })
}

/// The heading behind a pointer of a test's check.
fn column_of(reader: &Reader<'_>, pointer: &str) -> String {
    let column = match pointer.trim_start_matches("/layers/0/").split('/').next().unwrap_or_default() {
        "ph" => Column::Ph,
        "acidity" => Column::BufferPh,
        "from" => Column::DepthFrom,
        "to" => Column::DepthTo,
        "p" => Column::P,
        "k" => Column::K,
        "mg" => Column::Mg,
        "ca" => Column::Ca,
        "s" => Column::S,
        "b" => Column::B,
        "zn" => Column::Zn,
        "cec" => Column::Cec,
        "base_saturation" => Column::BaseSaturation,
        "organic_matter" => Column::OrganicMatter,
        "salts" => Column::Salts,
        _ => return String::new(),
    };
    reader.index.get(&column).map(|(_, heading)| heading.clone()).unwrap_or_default()
}

/// Layers of one field, sample and day become one test, from the top; a layer told twice is wrong.
fn put_together(reader: &mut Reader<'_>, rows: Vec<Row>) -> Vec<Row> {
    let mut groups: BTreeMap<(String, String, Date), Vec<Row>> = BTreeMap::new();
    for row in rows {
        groups.entry((row.field.to_lowercase(), row.test.sample.clone(), row.test.sampled_on)).or_default().push(row);
    }
    let mut whole = Vec::new();
    for mut rows in groups.into_values() {
        rows.sort_by(|a, b| {
            a.test.layers[0].from.partial_cmp(&b.test.layers[0].from).unwrap_or(std::cmp::Ordering::Equal)
        });
        for index in 1..rows.len() {
            if rows[index].test.layers[0].from < rows[index - 1].test.layers[0].to - Length::new(0.5, Unit::Cm) {
                let (line, other) = (rows[index].line, rows[index - 1].line);
                reader.wrong(line, "", format!("this layer of {} is already in line {other}", rows[index].field));
            }
        }
        let mut rows = rows.into_iter();
        if let Some(mut first) = rows.next() {
            first.test.layers.extend(rows.flat_map(|row| row.test.layers));
            whole.push(first);
        }
    }
    whole.sort_by_key(|row| row.line);
    whole
}
