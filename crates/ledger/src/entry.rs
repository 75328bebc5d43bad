//! Entries: ink.

use agronomy::{
    refusal::{Checks, Refused},
    seed::{LabReport, Tag},
    site::{self, Bioassay, PastCrop, SiteFacts, SiteRequest, Spray},
    soil::SoilTest,
    units::{Area, Length, Mass, MassPerArea, Unit},
};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use jiff::{Timestamp, civil::Date};
use planner::{
    Choices, Facts, GroundSteps, InkedStep, StepKind,
    ground::{Cut, Dated, Dressing, Ground},
};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{Connection, Error, PAGE, Result, farm::Membership, schema::entries};

/// Version of the payload types below.
const VERSION: i32 = 1;

/// The words of all kinds, as stored and as asked for.
pub const KINDS: [&str; 14] = [
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
        /// How much of what, in the person\u{2019}s words.
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
        }
        checks.done()
    }

    fn stored(&self) -> Value {
        let mut value = serde_json::to_value(self).unwrap_or_default();
        if let Some(object) = value.as_object_mut() {
            object.remove("kind");
        }
        value
    }

    fn from_stored(id: Uuid, kind: &str, version: i32, mut payload: Value) -> Result<Self> {
        if version != VERSION {
            return Err(Error::Unreadable(id, format!("version {version} is newer than this build")));
        }
        if let Some(object) = payload.as_object_mut() {
            object.insert("kind".to_owned(), kind.into());
        }
        serde_json::from_value(payload).map_err(|error| Error::Unreadable(id, error.to_string()))
    }
}

/// Facts of a site that can\u{2019}t be, by asking the check of any crop.
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

/// How an entry came in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Via {
    Web,
    Demo,
    StandIn,
    Import,
}

impl Via {
    const ALL: [(Self, &'static str); 4] =
        [(Self::Web, "web"), (Self::Demo, "demo"), (Self::StandIn, "stand-in"), (Self::Import, "import")];

    fn word(self) -> &'static str {
        Self::ALL.iter().find(|(via, _)| *via == self).map_or("web", |(_, word)| word)
    }
}

/// An entry about to be written.
#[derive(Debug, Clone, PartialEq)]
pub struct NewEntry {
    /// Made by the client, so that the same submission is the same entry.
    pub id: Uuid,
    /// Field it is about.
    pub field: Option<Uuid>,
    /// Stand it is about.
    pub stand: Option<Uuid>,
    /// Lot it is about.
    pub lot: Option<Uuid>,
    /// The day it happened.
    pub occurred_on: Date,
    /// How it came in.
    pub via: Via,
    /// What it says.
    pub payload: Payload,
    /// The entry it strikes.
    pub strikes: Option<Uuid>,
}

/// An entry.
#[derive(Debug, Clone, PartialEq)]
pub struct Entry {
    /// Id.
    pub id: Uuid,
    /// Field it is about.
    pub field: Option<Uuid>,
    /// Stand it is about.
    pub stand: Option<Uuid>,
    /// Lot it is about.
    pub lot: Option<Uuid>,
    /// The day it happened.
    pub occurred_on: Date,
    /// When it was written down.
    pub recorded_at: Timestamp,
    /// By whom.
    pub recorded_by: Uuid,
    /// How it came in.
    pub via: Via,
    /// What it says.
    pub payload: Payload,
    /// The entry it strikes.
    pub strikes: Option<Uuid>,
    /// The entry that strikes it.
    pub struck_by: Option<Uuid>,
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = entries)]
struct Row {
    id: Uuid,
    field_id: Option<Uuid>,
    stand_id: Option<Uuid>,
    lot_id: Option<Uuid>,
    kind: String,
    version: i32,
    #[diesel(deserialize_as = jiff_diesel::Date)]
    occurred_on: Date,
    #[diesel(deserialize_as = jiff_diesel::Timestamp)]
    recorded_at: Timestamp,
    recorded_by: Uuid,
    via: String,
    payload: Value,
    strikes: Option<Uuid>,
}

impl Row {
    fn entry(self, struck_by: Option<Uuid>) -> Result<Entry> {
        Ok(Entry {
            id: self.id,
            field: self.field_id,
            stand: self.stand_id,
            lot: self.lot_id,
            occurred_on: self.occurred_on,
            recorded_at: self.recorded_at,
            recorded_by: self.recorded_by,
            via: Via::ALL.iter().find(|(_, word)| *word == self.via).map_or(Via::Web, |(via, _)| *via),
            payload: Payload::from_stored(self.id, &self.kind, self.version, self.payload)?,
            strikes: self.strikes,
            struck_by,
        })
    }
}

/// Which entries to list.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Filter {
    /// About this field.
    pub field: Option<Uuid>,
    /// About this stand.
    pub stand: Option<Uuid>,
    /// About this lot.
    pub lot: Option<Uuid>,
    /// Of this kind.
    pub kind: Option<String>,
    /// Leave this many of the newest out.
    pub offset: i64,
}

/// Write an entry. Sent again with the same content, it is the same entry.
///
/// # Errors
/// A payload that can't be or a day in the future is refused; [`Error::NotFound`] when it speaks
/// of something that is not this farm's; [`Error::Conflict`] when the id stands for something else
/// or the struck entry is already struck.
pub async fn write(connection: &mut Connection, member: &Membership, new: &NewEntry, today: Date) -> Result<Entry> {
    if let Some(kept) = find(connection, member, new.id).await? {
        return same_or_conflict(kept, new);
    }
    let mut checks = Checks::new();
    checks.part("/payload", new.payload.check(today));
    checks.require(
        new.occurred_on <= today,
        "/occurred_on",
        format!("{} is in the future (today is {today}): ink is for what has happened", new.occurred_on),
    );
    checks.require(
        new.occurred_on.year() >= 1950,
        "/occurred_on",
        format!("{} is in another age: entries go back to 1950", new.occurred_on),
    );
    if GROUND.contains(&new.payload.kind()) {
        checks.require(new.field.is_some(), "/field", "say which field it is about");
    }
    checks.done()?;
    if let (Some(stand), Some(field)) = (new.stand, new.field)
        && crate::stand::one(connection, member, stand).await?.field_id != field
    {
        return Err(Error::NotFound);
    }
    let row = (
        entries::farm_id.eq(member.farm.id),
        entries::id.eq(new.id),
        entries::field_id.eq(new.field),
        entries::stand_id.eq(new.stand),
        entries::lot_id.eq(new.lot),
        entries::kind.eq(new.payload.kind()),
        entries::version.eq(VERSION),
        entries::occurred_on.eq(jiff_diesel::Date::from(new.occurred_on)),
        entries::recorded_by.eq(member.person),
        entries::via.eq(new.via.word()),
        entries::payload.eq(new.payload.stored()),
        entries::strikes.eq(new.strikes),
    );
    diesel::insert_into(entries::table)
        .values(row)
        // Two posts of the same entry at once: the second finds the first.
        .on_conflict((entries::farm_id, entries::id))
        .do_nothing()
        .execute(connection)
        .await?;
    let kept = find(connection, member, new.id).await?.ok_or(Error::NotFound)?;
    same_or_conflict(kept, new)
}

fn same_or_conflict(kept: Entry, new: &NewEntry) -> Result<Entry> {
    let same = kept.payload.kind() == new.payload.kind()
        && alike(&kept.payload.stored(), &new.payload.stored())
        && kept.occurred_on == new.occurred_on
        && (kept.field, kept.stand, kept.lot, kept.strikes) == (new.field, new.stand, new.lot, new.strikes);
    if same { Ok(kept) } else { Err(Error::Conflict("this id already stands for another entry".to_owned())) }
}

/// Equal but for the last digits that a quantity loses on its way through a unit.
fn alike(a: &Value, b: &Value) -> bool {
    match (a, b) {
        (Value::Number(a), Value::Number(b)) => {
            let (a, b) = (a.as_f64().unwrap_or(f64::NAN), b.as_f64().unwrap_or(f64::NAN));
            (a - b).abs() <= 1e-9 * (1.0 + a.abs())
        }
        (Value::Array(a), Value::Array(b)) => a.len() == b.len() && a.iter().zip(b).all(|(a, b)| alike(a, b)),
        (Value::Object(a), Value::Object(b)) => {
            a.len() == b.len() && a.iter().all(|(key, a)| b.get(key).is_some_and(|b| alike(a, b)))
        }
        _ => a == b,
    }
}

/// Strike an entry: it stays legible, and counts no more. Struck again for the same reason with
/// the same id, it is the same strike.
///
/// # Errors
/// [`Error::NotFound`], or [`Error::Conflict`] when it is a strike itself or already struck.
pub async fn strike(
    connection: &mut Connection,
    member: &Membership,
    id: Uuid,
    struck: Uuid,
    reason: &str,
    today: Date,
) -> Result<Entry> {
    let target = find(connection, member, struck).await?.ok_or(Error::NotFound)?;
    let new = NewEntry {
        id,
        field: target.field,
        stand: target.stand,
        lot: target.lot,
        occurred_on: today,
        via: Via::Web,
        payload: Payload::Strike { reason: reason.trim().to_owned() },
        strikes: Some(struck),
    };
    write(connection, member, &new, today).await
}

/// One entry of a farm.
///
/// # Errors
/// When the database fails or the entry can't be read.
pub async fn find(connection: &mut Connection, member: &Membership, id: Uuid) -> Result<Option<Entry>> {
    let rows = entries::table.find((member.farm.id, id)).select(Row::as_select()).load(connection).await?;
    Ok(with_strikes(connection, member, rows).await?.pop())
}

async fn with_strikes(connection: &mut Connection, member: &Membership, rows: Vec<Row>) -> Result<Vec<Entry>> {
    let ids: Vec<Uuid> = rows.iter().map(|row| row.id).collect();
    let strikes: Vec<(Option<Uuid>, Uuid)> = entries::table
        .filter(entries::farm_id.eq(member.farm.id).and(entries::strikes.eq_any(ids)))
        .select((entries::strikes, entries::id))
        .load(connection)
        .await?;
    rows.into_iter()
        .map(|row| {
            let struck_by = strikes.iter().find(|(struck, _)| *struck == Some(row.id)).map(|(_, by)| *by);
            row.entry(struck_by)
        })
        .collect()
}

/// A page of a farm's entries, newest day first, and how many there are in all.
///
/// # Errors
/// An unknown kind is refused; when the database fails or an entry can't be read.
pub async fn list(connection: &mut Connection, member: &Membership, filter: &Filter) -> Result<(Vec<Entry>, i64)> {
    if let Some(kind) = filter.kind.as_deref().filter(|kind| !KINDS.contains(kind)) {
        let detail = format!("\u{201c}{kind}\u{201d} is no kind of entry; there are {}", KINDS.join(", "));
        return Err(Refused::one("/kind", detail).into());
    }
    let matching = || {
        let mut query = entries::table.filter(entries::farm_id.eq(member.farm.id)).into_boxed();
        if let Some(field) = filter.field {
            query = query.filter(entries::field_id.eq(field));
        }
        if let Some(stand) = filter.stand {
            query = query.filter(entries::stand_id.eq(stand));
        }
        if let Some(lot) = filter.lot {
            query = query.filter(entries::lot_id.eq(lot));
        }
        if let Some(kind) = &filter.kind {
            query = query.filter(entries::kind.eq(kind.clone()));
        }
        query
    };
    let total = matching().count().get_result(connection).await?;
    let rows = matching()
        .order((entries::occurred_on.desc(), entries::recorded_at.desc(), entries::id.desc()))
        .offset(filter.offset.max(0))
        .limit(PAGE)
        .select(Row::as_select())
        .load(connection)
        .await?;
    Ok((with_strikes(connection, member, rows).await?, total))
}

/// All entries about stands of a farm, oldest first.
///
/// # Errors
/// When the database fails or an entry can't be read.
pub async fn of_stands(connection: &mut Connection, member: &Membership) -> Result<Vec<Entry>> {
    let rows = entries::table
        .filter(entries::farm_id.eq(member.farm.id).and(entries::stand_id.is_not_null()))
        .order((entries::occurred_on, entries::recorded_at, entries::id))
        .select(Row::as_select())
        .load(connection)
        .await?;
    with_strikes(connection, member, rows).await
}

/// All entries about lots of a farm, oldest first.
///
/// # Errors
/// When the database fails or an entry can't be read.
pub async fn of_lots(connection: &mut Connection, member: &Membership) -> Result<Vec<Entry>> {
    let rows = entries::table
        .filter(entries::farm_id.eq(member.farm.id).and(entries::lot_id.is_not_null()))
        .order((entries::occurred_on, entries::recorded_at, entries::id))
        .select(Row::as_select())
        .load(connection)
        .await?;
    with_strikes(connection, member, rows).await
}

/// The choices a stand's entries leave standing, the last ones.
pub fn choices(entries: &[Entry]) -> Option<&Choices> {
    entries.iter().rev().filter(|entry| entry.struck_by.is_none()).find_map(|entry| match &entry.payload {
        Payload::Choices { choices } => Some(choices.as_ref()),
        _ => None,
    })
}

/// The facts a plan is derived from: steps inked and not struck.
pub fn facts(entries: &[Entry]) -> Facts {
    let inked = entries.iter().filter(|entry| entry.struck_by.is_none()).filter_map(|entry| match &entry.payload {
        Payload::Step { done } => Some(InkedStep { entry: entry.id, kind: done.step, on: entry.occurred_on }),
        _ => None,
    });
    Facts { inked: inked.collect(), ground: GroundSteps::default() }
}

/// Kinds of entries that the ground of a field is made of.
const GROUND: [&str; 8] = ["site", "soil-test", "soil-sample", "spray", "past-crop", "bioassay", "dressing", "cut"];

/// All entries about the ground of a farm\u{2019}s fields, or of one, oldest first.
///
/// # Errors
/// When the database fails or an entry can't be read.
pub async fn of_ground(connection: &mut Connection, member: &Membership, field: Option<Uuid>) -> Result<Vec<Entry>> {
    let mut query =
        entries::table.filter(entries::farm_id.eq(member.farm.id).and(entries::kind.eq_any(GROUND))).into_boxed();
    if let Some(field) = field {
        query = query.filter(entries::field_id.eq(field));
    }
    let rows = query
        .order((entries::occurred_on, entries::recorded_at, entries::id))
        .select(Row::as_select())
        .load(connection)
        .await?;
    with_strikes(connection, member, rows).await
}

/// The ground of a field as its entries tell it, struck ones left out.
pub fn ground(entries: &[Entry], field: Uuid) -> Ground {
    let mut ground = Ground::default();
    for entry in entries.iter().filter(|entry| entry.field == Some(field) && entry.struck_by.is_none()) {
        let (id, on) = (entry.id, entry.occurred_on);
        match &entry.payload {
            Payload::Site { facts, history_known } => {
                ground.facts = (**facts).clone();
                ground.history_known = *history_known;
            }
            Payload::SoilTest { test } => {
                ground.tests.push(Dated { entry: id, on: test.sampled_on, what: (**test).clone() });
            }
            Payload::Spray { active, label_months, .. } => {
                let spray = Spray { active: active.clone(), on, label_months: *label_months };
                ground.sprays.push(Dated { entry: id, on, what: spray });
            }
            Payload::PastCrop { crop, years } => {
                let past = PastCrop { crop: crop.clone(), ended: on, years: *years };
                ground.past_crops.push(Dated { entry: id, on, what: past });
            }
            Payload::Bioassay { passed, .. } => {
                ground.bioassays.push(Dated { entry: id, on, what: Bioassay { on, passed: *passed } });
            }
            Payload::Dressing { dressing } => {
                ground.dressings.push(Dated { entry: id, on, what: (**dressing).clone() });
            }
            Payload::Cut { cut } => ground.cuts.push(Dated { entry: id, on, what: (**cut).clone() }),
            _ => {}
        }
    }
    ground.tests.sort_by_key(|test| test.on);
    ground
}
