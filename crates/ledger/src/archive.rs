//! All of a farm as rows, out of one database and into another: ids, order, moments, strikes and authors as they were.
//!
//! Rows leave as the database writes them in JSON and come back the same way, so that what a later build adds to a
//! table goes along without a word here. The ledger's chain is made anew where it arrives, and has to come to the same
//! digests: an entry changed on the way is found and named.

use diesel::{
    QueryableByName, sql_query,
    sql_types::{Array, BigInt, Text, Uuid as SqlUuid},
};
use diesel_async::{AsyncPgConnection, RunQueryDsl, SimpleAsyncConnection};
use serde_json::Value;
use uuid::Uuid;

use crate::{Connection, Error, Result, farm::Membership};

/// Somebody under whose name entries stand.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Author {
    /// Id.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// What they may do, or might when they left.
    pub role: String,
    /// They have left.
    pub ended: bool,
}

/// A farm, taken out of its database.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Archive {
    /// The farm's row.
    pub farm: Value,
    /// Its station's row; none where there is none.
    pub station: Value,
    /// Under whose names entries stand, by id.
    pub authors: Vec<Author>,
    /// Rows of the tables that an entry may be about, in the order of [`TABLES`].
    pub rows: Vec<Vec<Value>>,
    /// Entries in the order of the chain, each with its `position`, `digest` and what it is `about`.
    pub entries: Vec<Value>,
    /// Days of the station's record.
    pub days: Vec<Value>,
}

impl Archive {
    /// The farm's id, where it has one.
    pub fn id(&self) -> Option<Uuid> {
        self.farm["id"].as_str()?.parse().ok()
    }
}

/// Tables that an entry may be about or tell of, each before those that lean on it.
pub const TABLES: [&str; 5] = ["fields", "seed_lots", "stands", "weather_imports", "photos"];

/// Entries written at a time.
const AT_A_TIME: usize = 500;

#[derive(QueryableByName)]
struct Told {
    #[diesel(sql_type = Text)]
    told: String,
}

async fn rows(connection: &mut Connection, farm: Uuid, query: &str) -> Result<Vec<Value>> {
    let told: Vec<Told> = sql_query(query).bind::<SqlUuid, _>(farm).load(connection).await?;
    Ok(told.iter().filter_map(|row| serde_json::from_str(&row.told).ok()).collect())
}

/// Take a farm out: all of one moment.
///
/// # Errors
/// When the database fails.
pub async fn take(connection: &mut Connection, member: &Membership) -> Result<Archive> {
    let farm = member.farm.id;
    connection
        .build_transaction()
        .read_only()
        .repeatable_read()
        .run(async |connection: &mut AsyncPgConnection| {
            connection.batch_execute("SET LOCAL TIME ZONE 'UTC'").await?;
            let of = "SELECT to_jsonb(t)::text AS told FROM";
            let one = |mut rows: Vec<Value>| rows.pop().unwrap_or(Value::Null);
            let mut archive = Archive {
                farm: one(rows(connection, farm, &format!("{of} farms t WHERE id = $1")).await?),
                // What was last heard, and what went wrong, is of this server.
                station: one(
                    rows(
                        connection,
                        farm,
                        "SELECT (to_jsonb(t) - 'heard_on' - 'trouble')::text AS told FROM stations t WHERE farm_id = $1",
                    )
                    .await?,
                ),
                ..Archive::default()
            };
            let people = "SELECT jsonb_build_object('id', p.id, 'name', p.name, 'role', m.role, 'ended', m.ended)::text AS told
                FROM memberships m JOIN people p ON p.id = m.person_id WHERE m.farm_id = $1 ORDER BY p.id";
            for row in rows(connection, farm, people).await? {
                let text = |key: &str| row[key].as_str().unwrap_or_default().to_owned();
                archive.authors.push(Author {
                    id: text("id").parse().unwrap_or_default(),
                    name: text("name"),
                    role: text("role"),
                    ended: row["ended"] == true,
                });
            }
            for table in TABLES {
                let query = format!("{of} {table} t WHERE farm_id = $1 ORDER BY id");
                archive.rows.push(rows(connection, farm, &query).await?);
            }
            let entries = "SELECT (to_jsonb(e) - 'farm_id' || jsonb_build_object('position', c.position,
                    'digest', encode(c.digest, 'hex'), 'about', (SELECT coalesce(jsonb_agg(
                        jsonb_build_object('kind', s.kind, 'id', s.subject_id) ORDER BY s.kind COLLATE \"C\", s.subject_id),
                        '[]'::jsonb) FROM entry_subjects s WHERE s.farm_id = e.farm_id AND s.entry_id = e.id)))::text AS told
                FROM ledger_chain c JOIN entries e ON e.farm_id = c.farm_id AND e.id = c.entry_id
                WHERE c.farm_id = $1 ORDER BY c.position";
            archive.entries = rows(connection, farm, entries).await?;
            let days = "SELECT (to_jsonb(t) - 'farm_id')::text AS told FROM weather_days t WHERE farm_id = $1 ORDER BY day";
            archive.days = rows(connection, farm, days).await?;
            Ok(archive)
        })
        .await
}

/// What became of a farm that was put in.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Put {
    /// It is there now, with so many entries.
    New(usize),
    /// It was there already, the same to the last entry.
    There,
}

#[derive(QueryableByName)]
struct Placed {
    #[diesel(sql_type = SqlUuid)]
    entry_id: Uuid,
    #[diesel(sql_type = Text)]
    digest: String,
}

async fn insert(connection: &mut Connection, table: &str, rows: &[Value]) -> Result<()> {
    for some in rows.chunks(AT_A_TIME) {
        let query = format!("INSERT INTO {table} SELECT * FROM jsonb_populate_recordset(NULL::{table}, $1::jsonb)");
        sql_query(query).bind::<Text, _>(Value::from(some.to_vec()).to_string()).execute(connection).await?;
    }
    Ok(())
}

/// Each row with the farm's id, which lines of an archive do not repeat.
fn of_farm(rows: &[Value], farm: Uuid) -> Vec<Value> {
    rows.iter()
        .cloned()
        .map(|mut row| {
            if let Some(row) = row.as_object_mut() {
                row.insert("farm_id".to_owned(), farm.to_string().into());
            }
            row
        })
        .collect()
}

/// Put a farm in, as the tables' owner: moments of recording are the application's to set in no other way. All of it
/// or nothing; put in once more it is the same farm.
///
/// # Errors
/// [`Error::Conflict`] naming the entry that is not as it was written, or saying that the farm is there and goes on
/// otherwise; [`Error::Refused`] for rows that are none.
pub async fn put(connection: &mut Connection, archive: &Archive) -> Result<Put> {
    let farm = archive.id().ok_or_else(|| Error::Conflict("the archive has no farm".to_owned()))?;
    crate::together(connection, async |connection| {
        connection.batch_execute("SET LOCAL TIME ZONE 'UTC'").await?;
        crate::one_by_one(connection, &format!("archive {farm}")).await?;
        let there = "SELECT count(*)::text AS told FROM farms WHERE id = $1";
        if rows(connection, farm, there).await? == [Value::from(1)] {
            return same(connection, farm, archive).await;
        }
        insert(connection, "farms", std::slice::from_ref(&archive.farm)).await?;
        for author in &archive.authors {
            // Nobody signs in by it: their password is no hash, their address no address.
            let person = "INSERT INTO people (id, email, name, password_hash)
                VALUES ($1, $1::text || '@archive.invalid', $2, '-') ON CONFLICT (id) DO NOTHING";
            let person = sql_query(person).bind::<SqlUuid, _>(author.id).bind::<Text, _>(&author.name);
            person.execute(connection).await?;
            let member = "INSERT INTO memberships (farm_id, person_id, role, ended) VALUES ($1, $2, $3, $4)";
            let member = sql_query(member).bind::<SqlUuid, _>(farm).bind::<SqlUuid, _>(author.id);
            let member = member.bind::<Text, _>(&author.role).bind::<diesel::sql_types::Bool, _>(author.ended);
            member.execute(connection).await?;
        }
        if archive.station.is_object() {
            insert(connection, "stations", std::slice::from_ref(&archive.station)).await?;
        }
        for (table, rows) in TABLES.iter().zip(&archive.rows) {
            insert(connection, table, rows).await?;
        }
        for some in archive.entries.chunks(AT_A_TIME) {
            ink(connection, farm, some).await?;
        }
        insert(connection, "weather_days", &of_farm(&archive.days, farm)).await?;
        Ok(Put::New(archive.entries.len()))
    })
    .await
}

/// Write entries in, in their order, and hold the chain they make against the one they had.
async fn ink(connection: &mut Connection, farm: Uuid, lines: &[Value]) -> Result<()> {
    insert(connection, "entries", &of_farm(lines, farm)).await?;
    let subjects = "INSERT INTO entry_subjects (farm_id, kind, subject_id, entry_id)
        SELECT $1, s->>'kind', (s->>'id')::uuid, (e->>'id')::uuid
        FROM jsonb_array_elements($2::jsonb) e, jsonb_array_elements(e->'about') s";
    let all = Value::from(lines.to_vec()).to_string();
    sql_query(subjects).bind::<SqlUuid, _>(farm).bind::<Text, _>(all).execute(connection).await?;
    let ids: Vec<Uuid> = lines.iter().filter_map(|line| line["id"].as_str()?.parse().ok()).collect();
    let chain = "SELECT chain_entry($1, x.id)::bigint AS position FROM (
        SELECT id FROM unnest($2) WITH ORDINALITY AS t(id, place) ORDER BY place) x";
    #[derive(QueryableByName)]
    struct Position {
        #[diesel(sql_type = BigInt)]
        #[allow(dead_code)]
        position: i64,
    }
    let chained = sql_query(chain).bind::<SqlUuid, _>(farm).bind::<Array<SqlUuid>, _>(ids.clone());
    let _: Vec<Position> = chained.load(connection).await?;
    let made = "SELECT entry_id, encode(digest, 'hex') AS digest FROM ledger_chain
        WHERE farm_id = $1 AND entry_id = ANY($2) ORDER BY position";
    let made = sql_query(made).bind::<SqlUuid, _>(farm).bind::<Array<SqlUuid>, _>(ids);
    let made: Vec<Placed> = made.load(connection).await?;
    for (line, placed) in lines.iter().zip(&made) {
        let same = line["digest"] == placed.digest.as_str() && line["id"] == placed.entry_id.to_string().as_str();
        if !same {
            return Err(Error::Conflict(format!(
                "entry {}, at place {} of the ledger, is not as it was written: nothing of the archive was taken",
                line["id"].as_str().unwrap_or("without an id"),
                line["position"]
            )));
        }
    }
    if made.len() == lines.len() { Ok(()) } else { Err(Error::Conflict("an entry stands in it twice".to_owned())) }
}

/// Whether the farm that is there is this one, to the last entry.
async fn same(connection: &mut Connection, farm: Uuid, archive: &Archive) -> Result<Put> {
    let head = "SELECT jsonb_build_object('position', position, 'digest', encode(digest, 'hex'))::text AS told
        FROM ledger_chain WHERE farm_id = $1 ORDER BY position DESC LIMIT 1";
    let there = rows(connection, farm, head).await?.pop().unwrap_or(Value::Null);
    let last = archive.entries.last();
    let ours =
        last.map_or(Value::Null, |last| serde_json::json!({"position": last["position"], "digest": last["digest"]}));
    if there == ours {
        return Ok(Put::There);
    }
    Err(Error::Conflict(format!(
        "this farm is here already and its ledger goes on otherwise: {} entries here, {} in the archive",
        there["position"].as_i64().unwrap_or(0),
        archive.entries.len()
    )))
}
