//! Weather in a request: a file's text, or generated years.

use jiff::{ToSpan, civil::Date};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{
    Normals, Place, Years,
    csv::{FileMapping, read_daily, write_daily},
    generator::Climate,
    place_normals, plus,
    sun::check_latitude,
};
use crate::{
    given,
    refusal::{Checks, Refused},
    said,
    source::{Origin, Source},
    working::{Answer, Sheet},
};

/// Years to generate.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct GenerateRequest {
    /// A kind of place that is known here: `northern-hills`, `southern-plains` or
    /// `tropical-highland`; or leave it out and give normals.
    #[serde(default)]
    pub place: Option<String>,
    /// Monthly normals of any place.
    #[serde(default)]
    pub normals: Option<Normals>,
    /// The same seed makes the same weather.
    #[serde(default)]
    pub seed: u64,
    /// First day.
    #[schema(value_type = String, format = Date)]
    pub from: Date,
    /// How many whole years.
    pub years: u32,
}

impl GenerateRequest {
    fn normals(&self) -> Result<Normals, Refused> {
        let normals = match (&self.normals, &self.place) {
            (Some(normals), None) => normals.clone(),
            (None, Some(name)) => place_normals(name).ok_or_else(|| {
                Refused::one("/place", format!("“{name}” is not a known place; give normals instead"))
            })?,
            _ => return Err(Refused::one("/place", "give either a known place or normals")),
        };
        normals.check().map_err(|refused| refused.under("/normals"))?;
        let mut checks = Checks::new();
        checks.require((1..=200).contains(&self.years), "/years", format!("{} years; enter 1–200", self.years));
        checks.require(
            (1800..=2200).contains(&self.from.year()),
            "/from",
            format!("{} is out of range; enter 1800–2200", self.from),
        );
        checks.done()?;
        Ok(normals)
    }

    fn years(&self) -> Result<Years, Refused> {
        let normals = self.normals()?;
        // Whole years by the calendar; one that begins on a leap day ends before the next 28 February is over.
        let after = self.from.saturating_add(i64::from(self.years).years());
        let last = plus(after, -1);
        Ok(Climate::new(&normals).years(self.seed, self.from, last))
    }
}

/// Where weather comes from.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "from", rename_all = "kebab-case", deny_unknown_fields)]
pub enum WeatherInput {
    /// The text of a daily file.
    File {
        /// Degrees north of the station.
        latitude: f64,
        /// Its height above the sea, metres.
        #[serde(default)]
        elevation: f64,
        /// The file.
        text: String,
        /// How to read it; the documented daily form when absent.
        #[serde(default)]
        mapping: FileMapping,
    },
    /// Years that could be.
    Generated {
        /// Which.
        years: Box<GenerateRequest>,
    },
}

impl WeatherInput {
    /// The record.
    ///
    /// # Errors
    /// A file whose lines can't be read, a latitude off the globe, normals that can't be.
    pub fn years(&self) -> Result<Years, Refused> {
        match self {
            Self::Generated { years } => years.years().map_err(|refused| refused.under("/weather/years")),
            Self::File { latitude, elevation, text, mapping } => {
                let mut checks = Checks::new();
                check_latitude(&mut checks, "/weather/latitude", *latitude);
                checks.done()?;
                let read = read_daily(text, mapping, None).map_err(|refused| refused.under("/weather"))?;
                if let Some(wrong) = read.findings.iter().find(|finding| finding.stops()) {
                    let detail = said!("line {}: {}", wrong.line, wrong.detail);
                    return Err(Refused::one("/weather/text", detail));
                }
                let place = Place { latitude: *latitude, elevation: *elevation };
                Years::new(place, read.days).ok_or_else(|| Refused::one("/weather/text", "the file has no days"))
            }
        }
    }
}

/// Generated years as a file.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Generated {
    /// How many days.
    pub days: usize,
    /// The file, in the documented daily form.
    pub csv: String,
}

/// The topic `weather.generate`.
///
/// # Errors
/// As the request can't be.
pub fn generate(request: &GenerateRequest) -> Result<Answer<Generated>, Refused> {
    let years = request.years()?;
    let mut sheet = Sheet::new("generated years");
    sheet.source(Source::published(
        "Richardson 1981, Stochastic simulation of daily precipitation, temperature, and solar radiation, Water Resources Research 17:182-190",
    ));
    sheet.source(Source::published(
        "Geng, Penning de Vries & Supit 1986, A simple method for generating daily rainfall data, Agricultural and Forest Meteorology 36:363-376",
    ));
    given!(sheet; seed = request.seed as f64, Origin::Given);
    given!(sheet; years_asked_for = f64::from(request.years), Origin::Given);
    let _ = (seed, years_asked_for);
    sheet.gathered("days", "sum of the days of those years", years.days.len() as f64);
    sheet.would_change("Another random seed gives other years of the same climate. A real station file is better.");
    Ok(sheet.answer(Generated { days: years.days.len(), csv: write_daily(&years) }))
}
