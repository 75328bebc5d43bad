//! What an entry says, by kind; and what it can't say.

use agronomy::{
    refusal::{Checks, Refused},
    seed::{LabReport, Tag},
    site::{self, SiteFacts, SiteRequest},
    soil::SoilTest,
    units::{Area, Length, Mass, MassPerArea, Temperature, Unit},
};
use jiff::civil::Date;
use planner::{
    Choices, StepKind,
    ground::{Cut, Dressing},
};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

use super::VERSION;
use crate::{Error, Result};

/// The words of all kinds, as stored and as asked for.
pub const KINDS: [&str; 17] = [
    "choices",
    "step",
    "lot-tag",
    "lot-report",
    "note",
    "strike",
    "site",
    "soil-test",
    "soil-sample",
    "spray",
    "past-crop",
    "bioassay",
    "dressing",
    "cut",
    "soil-temperature",
    "rain-gauge",
    "irrigation",
];

/// What an entry says.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "kind", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Payload {
    /// The manager's decisions for a stand; the last ones count.
    Choices {
        /// The decisions.
        choices: Box<Choices>,
    },
    /// A step was done.
    Step {
        /// Which, and how.
        done: StepDone,
    },
    /// A seed tag was read.
    LotTag {
        /// What it says.
        tag: Tag,
        /// How much of the lot there is, out of the bag.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        on_hand: Option<Mass>,
    },
    /// A laboratory reported on a lot.
    LotReport {
        /// What it found.
        report: LabReport,
    },
    /// Something worth remembering.
    Note {
        /// In the person's words.
        text: String,
    },
    /// Another entry was a mistake.
    Strike {
        /// Why.
        reason: String,
    },
    /// What a walk and the maps tell of a field; the last one counts.
    Site {
        /// The facts.
        facts: Box<SiteFacts>,
        /// All there is to tell of three years has been told.
        #[serde(default)]
        history_known: bool,
    },
    /// A laboratory reported on the soil.
    SoilTest {
        /// What it found.
        test: Box<SoilTest>,
    },
    /// A soil sample was sent off.
    SoilSample {
        /// To whom.
        laboratory: String,
        /// The day its report is due.
        #[schema(value_type = String, format = Date)]
        due_on: Date,
    },
    /// A herbicide was sprayed.
    Spray {
        /// Active ingredient.
        active: String,
        /// How much of what, in the person's words.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        rate: Option<String>,
        /// Months to the crop at hand, as read off the label.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        label_months: Option<i32>,
    },
    /// A crop was ended.
    PastCrop {
        /// Crop of the library, or any name.
        crop: String,
        /// Years it had stood.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        years: Option<f64>,
    },
    /// The crop was grown in a pot of the soil beside a clean one.
    Bioassay {
        /// It grew as in the clean soil.
        passed: bool,
        /// What was seen.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        note: Option<String>,
    },
    /// Lime, fertiliser or manure was spread.
    Dressing {
        /// What, and how much.
        dressing: Box<Dressing>,
    },
    /// A harvest was carried off.
    Cut {
        /// How much of what.
        cut: Box<Cut>,
    },
    /// A soil thermometer was read in the morning.
    SoilTemperature {
        /// How deep.
        depth: Length,
        /// What it showed.
        temperature: Temperature,
    },
    /// A rain gauge was emptied: what fell on the day.
    RainGauge {
        /// How much.
        rain: Length,
    },
    /// Water was brought.
    Irrigation {
        /// How much.
        depth: Length,
    },
}

/// How a step was done. All but the step may be left out in the field.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StepDone {
    /// Which step.
    pub step: StepKind,
    /// Area actually done.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub area: Option<Area>,
    /// Rate reached, out of the bag.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bulk_rate: Option<MassPerArea>,
    /// Depth reached.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub depth: Option<Length>,
    /// Drill or spreader setting.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub setting: Option<String>,
    /// Anything else.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

impl Payload {
    /// The kind's word, as stored.
    pub fn kind(&self) -> &'static str {
        match self {
            Self::Choices { .. } => "choices",
            Self::Step { .. } => "step",
            Self::LotTag { .. } => "lot-tag",
            Self::LotReport { .. } => "lot-report",
            Self::Note { .. } => "note",
            Self::Strike { .. } => "strike",
            Self::Site { .. } => "site",
            Self::SoilTest { .. } => "soil-test",
            Self::SoilSample { .. } => "soil-sample",
            Self::Spray { .. } => "spray",
            Self::PastCrop { .. } => "past-crop",
            Self::Bioassay { .. } => "bioassay",
            Self::Dressing { .. } => "dressing",
            Self::Cut { .. } => "cut",
            Self::SoilTemperature { .. } => "soil-temperature",
            Self::RainGauge { .. } => "rain-gauge",
            Self::Irrigation { .. } => "irrigation",
        }
    }

    /// Refuse what can't be. Pointers are relative to the payload.
    ///
    /// # Errors
    /// One refusal per field.
    pub fn check(&self, today: Date) -> std::result::Result<(), Refused> {
        let mut checks = Checks::new();
        let mut words = |pointer: &str, text: &str, needed: bool| {
            let length = text.trim().chars().count();
            checks.require(!needed || length > 0, pointer, "write a word or two");
            checks.require(length <= 2_000, pointer, format!("{length} letters; the most taken is 2,000"));
        };
        match self {
            Self::Choices { choices } => {
                checks.part("/choices", planner::check(choices, today));
            }
            Self::Step { done } => {
                words("/done/note", done.note.as_deref().unwrap_or_default(), false);
                words("/done/setting", done.setting.as_deref().unwrap_or_default(), false);
                if let Some(area) = done.area {
                    checks.positive("/done/area", "the area", area, Unit::Ha, 20_000.0);
                }
                if let Some(rate) = done.bulk_rate {
                    checks.positive("/done/bulk_rate", "the rate", rate, Unit::KgPerHa, 2_000.0);
                }
                if let Some(depth) = done.depth {
                    checks.within("/done/depth", "the depth", depth, Unit::Cm, 0.0, 60.0);
                }
            }
            Self::LotTag { tag, on_hand } => {
                checks.part("/tag", tag.check());
                if let Some(mass) = on_hand {
                    checks.within("/on_hand", "what is on hand", *mass, Unit::Kg, 0.0, 1e6);
                }
            }
            Self::LotReport { report } => {
                checks.part("/report", report.check());
            }
            Self::Note { text } => words("/text", text, true),
            Self::Strike { reason } => words("/reason", reason, true),
            Self::Site { facts, .. } => {
                words("/facts/perennial_weeds", facts.perennial_weeds.as_deref().unwrap_or_default(), false);
                checks.part("", check_site(facts, today));
            }
            Self::SoilTest { test } => {
                checks.part("/test", test.check());
            }
            Self::SoilSample { laboratory, .. } => words("/laboratory", laboratory, true),
            Self::Spray { active, rate, label_months } => {
                words("/active", active, true);
                words("/rate", rate.as_deref().unwrap_or_default(), false);
                if let Some(months) = label_months {
                    checks.require(
                        (0..=120).contains(months),
                        "/label_months",
                        format!("{months} months; it must be from 0 to 120"),
                    );
                }
            }
            Self::PastCrop { crop, years } => {
                words("/crop", crop, true);
                if let Some(years) = years {
                    checks.require(
                        (0.0..=100.0).contains(years),
                        "/years",
                        format!("{years} years; it must be from 0 to 100"),
                    );
                }
            }
            Self::Bioassay { note, .. } => words("/note", note.as_deref().unwrap_or_default(), false),
            Self::Dressing { dressing } => {
                words("/dressing/product", &dressing.product, true);
                checks.positive("/dressing/rate", "the rate", dressing.rate, Unit::TPerHa, 200.0);
                let sum: f64 = dressing.analysis.values().map(|share| share.to(Unit::One)).sum();
                checks.require(
                    (0.0..=1.0 + 1e-9).contains(&sum)
                        && dressing.analysis.values().all(|share| share.to(Unit::One) >= 0.0),
                    "/dressing/analysis",
                    format!("the analysis adds up to {:.1} %; it must be from 0 to 100 %", sum * 100.0),
                );
                if let Some(lime) = dressing.effective {
                    let value = (lime.fast + lime.slow).to(Unit::Percent);
                    checks.require(
                        (0.0..=250.0).contains(&value)
                            && lime.fast.to(Unit::One) >= 0.0
                            && lime.slow.to(Unit::One) >= 0.0,
                        "/dressing/effective",
                        format!("an effective value of {value:.0} % can\u{2019}t be"),
                    );
                }
            }
            Self::Cut { cut } => {
                checks.part("/cut", cut.removed().map_err(yield_is_harvested));
            }
            Self::SoilTemperature { depth, temperature } => {
                checks.within("/depth", "the depth", *depth, Unit::Cm, 0.0, 50.0);
                checks.within("/temperature", "the soil", *temperature, Unit::DegC, -20.0, 50.0);
            }
            Self::RainGauge { rain } => checks.within("/rain", "the rain", *rain, Unit::Mm, 0.0, 300.0),
            Self::Irrigation { depth } => checks.within("/depth", "the water", *depth, Unit::Mm, 0.1, 300.0),
        }
        checks.done()
    }

    pub(super) fn stored(&self) -> Value {
        let mut value = serde_json::to_value(self).unwrap_or_default();
        if let Some(object) = value.as_object_mut() {
            object.remove("kind");
        }
        value
    }

    pub(super) fn from_stored(id: Uuid, kind: &str, version: i32, mut payload: Value) -> Result<Self> {
        if version != VERSION {
            return Err(Error::Unreadable(id, format!("version {version} is newer than this build")));
        }
        if let Some(object) = payload.as_object_mut() {
            object.insert("kind".to_owned(), kind.into());
        }
        serde_json::from_value(payload).map_err(|error| Error::Unreadable(id, error.to_string()))
    }
}

/// Facts of a site that can't be, by asking the check of any crop.
fn check_site(facts: &SiteFacts, today: Date) -> std::result::Result<(), Refused> {
    let request = SiteRequest {
        crop: "timothy".to_owned(),
        today,
        sow_on: today,
        tilled: true,
        facts: facts.clone(),
        soil: None,
        sprays: vec![],
        past_crops: vec![],
        history_known: false,
        bioassay: None,
        setback: Length::default(),
    };
    site::check(&request).map(drop)
}

/// The removal reckoning calls its amount the yield; the entry calls it what was harvested.
fn yield_is_harvested(mut refused: Refused) -> Refused {
    for refusal in &mut refused.0 {
        if refusal.pointer == "/yield" {
            refusal.pointer = "/harvested".to_owned();
        }
    }
    refused
}
