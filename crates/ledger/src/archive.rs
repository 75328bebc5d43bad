//! All of a farm as rows, out of one database and into another: ids, order, moments, strikes and authors as they were.
//!
//! Rows leave as the database writes them in JSON and come back the same way, so that what a later build adds to a
//! table goes along without a word here. They go by pages, so that a farm of decades is never in memory as a whole. The
//! ledger's chain is gone along where it has arrived, with all that it covers: what was changed on the way is found and
//! named.

use diesel::{
    ExpressionMethods, QueryDsl, QueryableByName, sql_query,
    sql_types::{BigInt, Nullable, Text, Uuid as SqlUuid},
};
use diesel_async::{RunQueryDsl, SimpleAsyncConnection};
use serde_json::Value;
use tokio::sync::mpsc::Sender;
use uuid::Uuid;

use crate::{
    Connection, Error, Result,
    chain::{Broken, Head, verify_one},
    farm::Membership,
    schema::ledger_chain,
};

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

/// What rows tell of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Part {
    /// The farm's own row.
    Farm,
    /// Its station's row; none where there is none.
    Station,
    /// Under whose names entries stand, by id.
    Authors,
    /// Entries in the order of the chain, each with its `position`, `digest` and what it is `about`.
    Entries,
    /// The same, each with the entry that strikes it, `struck_by`.
    Struck,
    /// Rows of a table that an entry may be about: the place in [`TABLES`].
    Table(usize),
    /// How these were founded: a digest each, and the link that covers it.
    Foundings,
    /// Days of the station's record.
    Days,
}

/// Tables that an entry may be about or tell of, each before those that lean on it.
pub const TABLES: [&str; 5] = ["fields", "seed_lots", "stands", "weather_imports", "photos"];

/// Rows read and written at a time.
const AT_A_TIME: i64 = 500;
/// Pictures, which are large.
const PICTURES_AT_A_TIME: i64 = 8;

/// The parts in the order in which they are taken.
fn parts() -> impl Iterator<Item = Part> {
    [Part::Farm, Part::Station, Part::Authors, Part::Entries, Part::Struck]
        .into_iter()
        .chain((0..TABLES.len()).map(Part::Table))
        .chain([Part::Foundings, Part::Days])
}

#[derive(QueryableByName)]
struct Told {
    #[diesel(sql_type = Text)]
    told: String,
    #[diesel(sql_type = Text)]
    key: String,
}

/// A page of a part, and by what it goes on: rows behind `$2`, in the order of their `key`.
fn asked(part: Part) -> (String, i64) {
    let entries = |more: &str| {
        format!(
            "SELECT (to_jsonb(e) - 'farm_id' || jsonb_build_object('position', c.position,
                'digest', encode(c.digest, 'hex'), 'about', (SELECT coalesce(jsonb_agg(
                    jsonb_build_object('kind', s.kind, 'id', s.subject_id)
                        || CASE s.part WHEN '' THEN '{{}}'::jsonb ELSE jsonb_build_object('part', s.part) END ORDER BY s.kind COLLATE \"C\", s.subject_id),
                    '[]'::jsonb) FROM entry_subjects s WHERE s.farm_id = e.farm_id AND s.entry_id = e.id){more}))::text
                AS told, c.position::text AS key
             FROM ledger_chain c JOIN entries e ON e.farm_id = c.farm_id AND e.id = c.entry_id
             WHERE c.farm_id = $1 AND c.position > coalesce($2, '0')::bigint ORDER BY c.position LIMIT $3"
        )
    };
    let query = match part {
        Part::Farm => {
            "SELECT to_jsonb(t)::text AS told, '' AS key FROM farms t WHERE id = $1 AND $2 IS NULL LIMIT $3".to_owned()
        }
        // What was last heard, and what went wrong, is of this server.
        Part::Station => "SELECT (to_jsonb(t) - 'heard_on' - 'trouble')::text AS told, '' AS key FROM stations t
             WHERE farm_id = $1 AND $2 IS NULL LIMIT $3"
            .to_owned(),
        Part::Authors => "SELECT jsonb_build_object('id', p.id, 'name', p.name, 'role', m.role, 'ended', m.ended)::text
                AS told, p.id::text AS key FROM memberships m JOIN people p ON p.id = m.person_id
             WHERE m.farm_id = $1 AND p.id > coalesce($2, '00000000-0000-0000-0000-000000000000')::uuid
             ORDER BY p.id LIMIT $3"
            .to_owned(),
        Part::Entries => entries(""),
        Part::Struck => entries(
            ", 'struck_by', (SELECT k.id FROM entries k WHERE k.farm_id = e.farm_id AND k.strikes = e.id LIMIT 1)",
        ),
        Part::Table(at) => format!(
            "SELECT to_jsonb(t)::text AS told, id::text AS key FROM {} t WHERE farm_id = $1
             AND id > coalesce($2, '00000000-0000-0000-0000-000000000000')::uuid ORDER BY id LIMIT $3",
            TABLES[at]
        ),
        Part::Foundings => "SELECT jsonb_build_object('kind', kind, 'id', subject_id, 'digest', encode(digest, 'hex'),
                'position', position)::text AS told, kind || ' ' || subject_id AS key FROM foundings WHERE farm_id = $1
             AND (kind || ' ' || subject_id) COLLATE \"C\" > coalesce($2, '') COLLATE \"C\" AND position IS NOT NULL
             ORDER BY (kind || ' ' || subject_id) COLLATE \"C\" LIMIT $3"
            .to_owned(),
        Part::Days => "SELECT (to_jsonb(t) - 'farm_id')::text AS told, day::text AS key FROM weather_days t
             WHERE farm_id = $1 AND day > coalesce($2, '0001-01-01')::date ORDER BY day LIMIT $3"
            .to_owned(),
    };
    (query, if part == Part::Table(PHOTOS) { PICTURES_AT_A_TIME } else { AT_A_TIME })
}

const PHOTOS: usize = 4;

/// Rows of a part.
pub type Page = (Part, Vec<String>);

/// Take a farm out, page by page, all of one moment. It ends early where nobody takes the pages any more.
///
/// # Errors
/// When the database fails.
pub async fn take(connection: &mut Connection, member: &Membership, pages: Sender<Page>) -> Result<()> {
    let farm = member.farm.id;
    connection
        .build_transaction()
        .read_only()
        .repeatable_read()
        .run(async |connection: &mut Connection| {
            connection.batch_execute("SET LOCAL TIME ZONE 'UTC'").await?;
            for part in parts() {
                let (query, at_a_time) = asked(part);
                let mut key: Option<String> = None;
                loop {
                    let page = sql_query(&query).bind::<SqlUuid, _>(farm).bind::<Nullable<Text>, _>(key);
                    let page: Vec<Told> = page.bind::<BigInt, _>(at_a_time).load(connection).await?;
                    let Some(last) = page.last() else { break };
                    key = Some(last.key.clone());
                    if pages.send((part, page.into_iter().map(|row| row.told).collect())).await.is_err() {
                        return Ok(());
                    }
                }
            }
            Ok(())
        })
        .await
}

/// An archive that was opened: what is small of it, and its rows by pages.
pub trait Opened {
    /// The farm's row.
    fn farm(&self) -> &Value;
    /// The station's row; none where there is none.
    fn station(&self) -> &Value;
    /// Under whose names entries stand.
    fn authors(&self) -> &[Author];
    /// Where its ledger has come to.
    fn head(&self) -> &Head;
    /// The digest of how the farm was founded, in hexadecimal: it may have been corrected since. None in archives of before.
    fn farm_digest(&self) -> Option<&str>;
    /// The next rows of a part, each a line of JSON; none after the last.
    ///
    /// # Errors
    /// What is wrong with the archive, in words.
    fn page(&mut self, part: Part) -> std::result::Result<Option<Vec<String>>, String>;
}

/// What became of a farm that was put in.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Put {
    /// It is there now, with so many entries.
    New(i64),
    /// It was there already, the same to the last entry.
    There,
}

/// Lines as one array of JSON.
fn array(lines: &[String]) -> String {
    format!("[{}]", lines.join(","))
}

/// Write rows into a table, all of them this farm's, whatever they say.
async fn insert(connection: &mut Connection, table: &str, farm: Uuid, lines: &[String]) -> Result<()> {
    let query = format!(
        "INSERT INTO {table} SELECT row.* FROM jsonb_array_elements($1::jsonb) line,
         jsonb_populate_record(NULL::{table}, line || jsonb_build_object('farm_id', $2)) row"
    );
    sql_query(query).bind::<Text, _>(array(lines)).bind::<SqlUuid, _>(farm).execute(connection).await?;
    Ok(())
}

/// Put a farm in, as the tables' owner: moments of recording are the application's to set in no other way. All of it
/// or nothing; put in once more it is the same farm.
///
/// # Errors
/// [`Error::Conflict`] naming what is not as it was written, or saying that the farm is there and goes on otherwise;
/// [`Error::Refused`] for rows that are none.
pub async fn put(connection: &mut Connection, archive: &mut (dyn Opened + Send)) -> Result<Put> {
    let conflict = |why: &str| Error::Conflict(why.to_owned());
    let id = archive.farm()["id"].as_str().and_then(|id| id.parse().ok());
    let farm: Uuid = id.ok_or_else(|| conflict("the archive has no farm"))?;
    crate::together(connection, async |connection| {
        connection.batch_execute("SET LOCAL TIME ZONE 'UTC'").await?;
        crate::one_by_one(connection, &format!("archive {farm}")).await?;
        if let Some(there) = head_of(connection, farm).await? {
            return same(&there, archive.head());
        }
        let digest = "SELECT set_config('ink.farm_digest', $1, true)";
        let digest = sql_query(digest).bind::<Text, _>(archive.farm_digest().unwrap_or_default());
        digest.execute(connection).await?;
        let row = "INSERT INTO farms SELECT * FROM jsonb_populate_record(NULL::farms, $1::jsonb)";
        sql_query(row).bind::<Text, _>(archive.farm().to_string()).execute(connection).await?;
        for author in archive.authors() {
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
        if archive.station().is_object() {
            insert(connection, "stations", farm, &[archive.station().to_string()]).await?;
        }
        let wrong = |why: String| Error::Conflict(why);
        for (at, table) in TABLES.iter().enumerate() {
            while let Some(lines) = archive.page(Part::Table(at)).map_err(wrong)? {
                insert(connection, table, farm, &lines).await?;
            }
        }
        while let Some(lines) = archive.page(Part::Entries).map_err(wrong)? {
            ink(connection, farm, &lines).await?;
        }
        if links(connection, farm).await? != archive.head().position {
            return Err(conflict("lines are missing from the ledger, or it has some twice; nothing was imported"));
        }
        while let Some(lines) = archive.page(Part::Foundings).map_err(wrong)? {
            cover(connection, farm, &lines).await?;
        }
        while let Some(lines) = archive.page(Part::Days).map_err(wrong)? {
            insert(connection, "weather_days", farm, &lines).await?;
        }
        let (head, broken) = verify_one(connection, farm).await?;
        if let Some(broken) = broken {
            let named = match broken {
                Broken::Altered { position, entry } => {
                    format!("entry {entry}, number {position} in the ledger, has been altered")
                }
                other => other.to_string(),
            };
            return Err(conflict(&format!("{named}; nothing was imported")));
        }
        if head != *archive.head() {
            return Err(conflict("the ledger does not end where the archive says; nothing was imported"));
        }
        Ok(Put::New(head.position))
    })
    .await
}

/// Write entries in with their places in the chain, as they are told: the chain is gone along when all are there.
async fn ink(connection: &mut Connection, farm: Uuid, lines: &[String]) -> Result<()> {
    insert(connection, "entries", farm, lines).await?;
    let subjects = "INSERT INTO entry_subjects (farm_id, kind, subject_id, entry_id, part)
        SELECT $1, s->>'kind', (s->>'id')::uuid, (e->>'id')::uuid, coalesce(s->>'part', '')
        FROM jsonb_array_elements($2::jsonb) e, jsonb_array_elements(e->'about') s";
    let chain = "INSERT INTO ledger_chain (farm_id, position, entry_id, digest)
        SELECT $1, (e->>'position')::bigint, (e->>'id')::uuid, decode(e->>'digest', 'hex')
        FROM jsonb_array_elements($2::jsonb) e";
    for query in [subjects, chain] {
        sql_query(query).bind::<SqlUuid, _>(farm).bind::<Text, _>(array(lines)).execute(connection).await?;
    }
    Ok(())
}

/// How many links a farm's chain has.
async fn links(connection: &mut Connection, farm: Uuid) -> Result<i64> {
    Ok(ledger_chain::table.filter(ledger_chain::farm_id.eq(farm)).count().get_result(connection).await?)
}

/// Say by which link each thing that was founded is covered. The digests are this database's own, of the rows that came.
async fn cover(connection: &mut Connection, farm: Uuid, lines: &[String]) -> Result<()> {
    let query =
        "UPDATE foundings f SET position = (line->>'position')::bigint FROM jsonb_array_elements($2::jsonb) line
        WHERE f.farm_id = $1 AND f.kind = line->>'kind' AND f.subject_id = (line->>'id')::uuid
        AND encode(f.digest, 'hex') = line->>'digest'";
    let covered = sql_query(query).bind::<SqlUuid, _>(farm).bind::<Text, _>(array(lines)).execute(connection).await?;
    if covered == lines.len() {
        return Ok(());
    }
    let first = "SELECT concat('the ', line->>'kind', ' ', line->>'id') AS told, '' AS key
        FROM jsonb_array_elements($2::jsonb) line WHERE NOT EXISTS (SELECT FROM foundings f WHERE f.farm_id = $1
        AND f.kind = line->>'kind' AND f.subject_id::text = line->>'id' AND encode(f.digest, 'hex') = line->>'digest')
        LIMIT 1";
    let first = sql_query(first).bind::<SqlUuid, _>(farm).bind::<Text, _>(array(lines));
    let first: Vec<Told> = first.load(connection).await?;
    let named = first.into_iter().next().map_or_else(|| "something".to_owned(), |row| row.told);
    Err(Error::Conflict(format!("{named} has been altered; nothing was imported")))
}

#[derive(QueryableByName)]
struct Ended {
    #[diesel(sql_type = BigInt)]
    position: i64,
    #[diesel(sql_type = Text)]
    digest: String,
}

/// Where the ledger of a farm that is here has come to; none of a farm that is not here.
async fn head_of(connection: &mut Connection, farm: Uuid) -> Result<Option<Head>> {
    let query = "SELECT coalesce(c.position, 0) AS position, coalesce(encode(c.digest, 'hex'), '') AS digest
        FROM farms f LEFT JOIN ledger_chain c ON c.farm_id = f.id WHERE f.id = $1
        ORDER BY c.position DESC NULLS LAST LIMIT 1";
    let last: Vec<Ended> = sql_query(query).bind::<SqlUuid, _>(farm).load(connection).await?;
    Ok(last.into_iter().next().map(|Ended { position, digest }| Head { position, digest }))
}

/// Whether the farm that is there is this one, to the last entry.
fn same(there: &Head, ours: &Head) -> Result<Put> {
    if there == ours {
        return Ok(Put::There);
    }
    Err(Error::Conflict(format!(
        "this farm already exists with a different ledger: {} entries here, {} in the archive",
        there.position, ours.position
    )))
}
