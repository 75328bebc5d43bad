//! Whether anybody has been at a ledger, or at what it covers.

use agronomy::units::Unit;
use diesel::{
    prelude::*,
    sql_types::{BigInt, Binary, Integer, Jsonb, Nullable, Text, Uuid as SqlUuid},
};
use diesel_async::RunQueryDsl;
use records::{
    Payload,
    kinds::farm_facts::{FarmFacts, Turn},
};
use sha2::{Digest, Sha256};
use uuid::Uuid;

use super::Head;
use crate::{
    Connection, Result,
    farm::Farm,
    schema::{farms, ledger_chain},
};

/// What is wrong with a ledger.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Broken {
    /// What the entry at this place says is not what was written, or it is another entry.
    Altered {
        /// The place.
        position: i64,
        /// The entry there now.
        entry: Uuid,
    },
    /// Nothing stands at this place.
    Missing {
        /// The place.
        position: i64,
    },
    /// An entry that never was in the chain.
    Unchained {
        /// The entry.
        entry: Uuid,
    },
    /// What entries are about is not as it was founded, is gone, or was slipped in.
    Refounded {
        /// What it is: a field, a lot, a person.
        kind: &'static str,
        /// Which.
        subject: Uuid,
    },
    /// The farm is not as its last correction says.
    Farm,
    /// A picture is not the one that its entry tells of, or is gone.
    Picture {
        /// The entry.
        entry: Uuid,
    },
}

impl std::fmt::Display for Broken {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self {
            Self::Altered { position, entry } => {
                write!(f, "entry {entry}, number {position}, has been altered")
            }
            Self::Missing { position } => write!(f, "entry number {position} is missing"),
            Self::Unchained { entry } => write!(f, "entry {entry} was inserted outside the chain"),
            Self::Refounded { kind, subject } => {
                write!(f, "the {kind} {subject} is not as it was when the ledger recorded it")
            }
            Self::Farm => write!(f, "the farm\u{2019}s own facts are not as they were last written in the ledger"),
            Self::Picture { entry } => {
                write!(f, "the picture of entry {entry} is not the one that was taken, or is gone")
            }
        }
    }
}

/// What was found of a farm's ledger.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Verified {
    /// The farm.
    pub farm: Uuid,
    /// Its name.
    pub name: String,
    /// As far as it is sound.
    pub head: Head,
    /// The first that is not.
    pub broken: Option<Broken>,
}

#[derive(QueryableByName)]
struct Told {
    #[diesel(sql_type = BigInt)]
    position: i64,
    #[diesel(sql_type = SqlUuid)]
    entry: Uuid,
    #[diesel(sql_type = Binary)]
    digest: Vec<u8>,
    #[diesel(sql_type = Nullable<Text>)]
    told: Option<String>,
}

#[derive(QueryableByName)]
struct IdRow {
    #[diesel(sql_type = SqlUuid)]
    id: Uuid,
}

/// Links read at a time.
const AT_A_TIME: i64 = 2_000;

/// Go along the ledger of every farm, from its first entry to its last, and look at all that it covers.
///
/// # Errors
/// When the database fails.
pub async fn verify(connection: &mut Connection) -> Result<Vec<Verified>> {
    let farms: Vec<(Uuid, String)> =
        farms::table.order((farms::name, farms::id)).select((farms::id, farms::name)).load(connection).await?;
    let mut all = vec![];
    for (farm, name) in farms {
        let (head, broken) = verify_one(connection, farm).await?;
        all.push(Verified { farm, name, head, broken });
    }
    Ok(all)
}

/// The ledger of one farm: as far as it is sound, and the first that is not.
///
/// # Errors
/// When the database fails.
pub async fn verify_one(connection: &mut Connection, farm: Uuid) -> Result<(Head, Option<Broken>)> {
    let (head, mut broken) = along(connection, farm).await?;
    if broken.is_none() {
        broken = beside(connection, farm).await?;
    }
    Ok((head, broken))
}

/// Whether a ledger has come through a place with this digest, and which: a head that was written down tells by it that
/// nothing before was altered. Digests are compared as people copy them, without blanks and in either case.
///
/// # Errors
/// When the database fails.
pub async fn came_through(connection: &mut Connection, head: &str) -> Result<Option<(Uuid, i64)>> {
    let bare: String = head.chars().filter(|letter| !letter.is_whitespace()).collect();
    let Some(digest) = hex::decode(bare).ok().filter(|digest| digest.len() == 32) else { return Ok(None) };
    let place = ledger_chain::table
        .filter(ledger_chain::digest.eq(digest))
        .select((ledger_chain::farm_id, ledger_chain::position));
    Ok(place.first(connection).await.optional()?)
}

async fn along(connection: &mut Connection, farm: Uuid) -> Result<(Head, Option<Broken>)> {
    // From the bare columns, not by the functions that the writer uses.
    let asked = "SELECT c.position, c.entry_id AS entry, c.digest, concat_ws(E'\\n', e.farm_id, e.id, e.kind, e.version, \
         to_char(e.occurred_on, 'YYYY-MM-DD'), (extract(epoch FROM e.recorded_at) * 1000000)::bigint, e.recorded_by, \
         e.via, coalesce(e.strikes::text, '-'), e.payload::text, coalesce((SELECT string_agg(s.kind || ' ' || \
         s.subject_id || CASE s.part WHEN '' THEN '' ELSE ' ' || s.part END, ',' ORDER BY s.kind COLLATE \"C\", s.subject_id) FROM entry_subjects s WHERE s.farm_id = \
         e.farm_id AND s.entry_id = e.id), '-'), 'closes ' || e.closes_stand || ' ' || \
         coalesce(e.closes_season::text, '-') || ' ' || coalesce(e.closes_occurrence::text, '-') || ' ' || \
         e.closes_step) || coalesce((SELECT string_agg(E'\\n' || f.kind || ' ' || \
         f.subject_id || ' ' || encode(f.digest, 'hex'), '' ORDER BY f.kind COLLATE \"C\", f.subject_id) FROM \
         foundings f WHERE f.farm_id = c.farm_id AND f.position = c.position), '') AS told \
         FROM ledger_chain c LEFT JOIN entries e ON e.farm_id = c.farm_id AND e.id = c.entry_id \
         WHERE c.farm_id = $1 AND c.position > $2 ORDER BY c.position LIMIT $3";
    let (mut head, mut before) = (Head::default(), vec![]);
    loop {
        let page = diesel::sql_query(asked).bind::<SqlUuid, _>(farm).bind::<BigInt, _>(head.position);
        let page: Vec<Told> = page.bind::<BigInt, _>(AT_A_TIME).load(connection).await?;
        let last = page.len() < AT_A_TIME as usize;
        for link in page {
            if link.position != head.position + 1 {
                return Ok((head.clone(), Some(Broken::Missing { position: head.position + 1 })));
            }
            let digest = Sha256::new().chain_update(&before).chain_update(link.told.unwrap_or_default()).finalize();
            if digest.as_slice() != link.digest {
                return Ok((head, Some(Broken::Altered { position: link.position, entry: link.entry })));
            }
            head = Head { position: link.position, digest: hex::encode(&link.digest) };
            before = link.digest;
        }
        if last {
            return Ok((head, None));
        }
    }
}

/// What is founded, by the word of `foundings`: as people say it, and what of its row is covered, from the bare columns.
const FOUNDED: [(&str, &str, &str); 5] = [
    (
        "field",
        "field",
        "SELECT id, concat_ws(E'\\n', name, coalesce(boundary::text, '-'), setback_m, area_m2, sown_area_m2) AS told \
         FROM fields WHERE farm_id = $1",
    ),
    ("lot", "seed lot", "SELECT id, concat_ws(E'\\n', crop, label) AS told FROM seed_lots WHERE farm_id = $1"),
    (
        "person",
        "name of the person",
        "SELECT p.id, p.name AS told FROM memberships m JOIN people p ON p.id = m.person_id WHERE m.farm_id = $1",
    ),
    ("stand", "stand", "SELECT id, field_id::text AS told FROM stands WHERE farm_id = $1"),
    (
        "weather-import",
        "import of weather",
        "SELECT id, concat_ws(E'\\n', (extract(epoch FROM imported_at) * 1000000)::bigint, imported_by, file_name, added, \
         replaced, findings_in_all, findings::text, coalesce(encode(digest, 'hex'), '-')) AS told \
         FROM weather_imports WHERE farm_id = $1",
    ),
];

/// The first thing beside the chain that is not as the chain has it.
async fn beside(connection: &mut Connection, farm: Uuid) -> Result<Option<Broken>> {
    let first = async |connection: &mut Connection, asked: &str| -> Result<Option<Uuid>> {
        let row: Option<IdRow> =
            diesel::sql_query(asked).bind::<SqlUuid, _>(farm).get_result(connection).await.optional()?;
        Ok(row.map(|row| row.id))
    };
    let loose = "SELECT id FROM entries e WHERE farm_id = $1 AND NOT EXISTS (SELECT FROM ledger_chain c \
         WHERE c.farm_id = e.farm_id AND c.entry_id = e.id) ORDER BY recorded_at, id LIMIT 1";
    if let Some(entry) = first(connection, loose).await? {
        return Ok(Some(Broken::Unchained { entry }));
    }
    for (word, kind, now) in FOUNDED {
        let asked = format!(
            "SELECT coalesce(f.subject_id, n.id) AS id FROM (SELECT subject_id, digest FROM foundings WHERE farm_id = $1 \
             AND kind = '{word}') f FULL JOIN ({now}) n ON n.id = f.subject_id \
             WHERE f.digest IS DISTINCT FROM sha256(convert_to(n.told, 'UTF8')) ORDER BY 1 LIMIT 1"
        );
        if let Some(subject) = first(connection, &asked).await? {
            return Ok(Some(Broken::Refounded { kind, subject }));
        }
    }
    let pictures = "SELECT e.id FROM entries e LEFT JOIN photos p ON p.farm_id = e.farm_id \
         AND p.id = (e.payload->>'photo')::uuid WHERE e.farm_id = $1 AND e.kind = 'photo' \
         AND encode(sha256(p.jpeg), 'hex') IS DISTINCT FROM e.payload->>'sha256' ORDER BY e.recorded_at, e.id LIMIT 1";
    if let Some(entry) = first(connection, pictures).await? {
        return Ok(Some(Broken::Picture { entry }));
    }
    Ok((!farm_is_as_told(connection, farm).await?).then_some(Broken::Farm))
}

#[derive(QueryableByName)]
struct FactsRow {
    #[diesel(sql_type = Integer)]
    version: i32,
    #[diesel(sql_type = Jsonb)]
    payload: serde_json::Value,
}

/// Whether the farm's row says what the last entry about it says; or what it was founded with, while there is none.
async fn farm_is_as_told(connection: &mut Connection, id: Uuid) -> Result<bool> {
    let farm: Farm = farms::table.find(id).select(Farm::as_select()).first(connection).await?;
    let asked = "SELECT e.version, e.payload FROM entries e \
         JOIN ledger_chain c ON c.farm_id = e.farm_id AND c.entry_id = e.id \
         JOIN foundings f ON f.farm_id = e.farm_id AND f.kind = 'farm' AND c.position >= f.position \
         WHERE e.farm_id = $1 AND e.kind = 'farm' ORDER BY c.position DESC LIMIT 1";
    let last: Option<FactsRow> =
        diesel::sql_query(asked).bind::<SqlUuid, _>(id).get_result(connection).await.optional()?;
    let told = last.and_then(|row| match Payload::stored_as("farm", row.version, row.payload) {
        Ok(Payload::FarmFacts(facts)) => Some(*facts),
        _ => None,
    });
    if let Some(told) = told {
        let closed = farm.closed_on.is_some() == (told.what == Turn::Closed);
        let now = FarmFacts { elevation: told.elevation, ..farm.facts(told.what) };
        // Through its unit a height may lose its last digit.
        let height = (told.elevation.to(Unit::M) - farm.elevation_m).abs() < 1e-6;
        return Ok(closed && height && now == told);
    }
    let founded = "SELECT f.subject_id AS id FROM foundings f JOIN farms t ON t.id = f.farm_id \
         WHERE f.farm_id = $1 AND f.kind = 'farm' AND f.digest = sha256(convert_to(concat_ws(E'\\n', t.name, t.latitude, \
         t.longitude, t.elevation_m, t.time_zone, t.currency, coalesce(t.year_begins::text, '-'), \
         coalesce(t.closed_on::text, '-')), 'UTF8'))";
    let founded: Option<IdRow> =
        diesel::sql_query(founded).bind::<SqlUuid, _>(id).get_result(connection).await.optional()?;
    Ok(founded.is_some())
}
