//! The chain of a farm's ledger: where it has come to, and whether anybody has been at it.
//!
//! Every entry has a place, counted from one in the order of commits, and a digest: SHA-256 over the digest before it
//! and all that the entry says. The database makes them as it writes; [`verify`] makes them again on its own, from the
//! bare columns, so that a function altered in the database is found out as well.

use diesel::{
    prelude::*,
    sql_types::{BigInt, Binary, Nullable, Text, Uuid as SqlUuid},
};
use diesel_async::RunQueryDsl;
use sha2::{Digest, Sha256};
use uuid::Uuid;

use crate::{Connection, Result, farm::Membership, schema::ledger_chain};

/// Where a farm's ledger has come to.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Head {
    /// Entries written, strikes among them.
    pub position: i64,
    /// Digest of the last, in hexadecimal; empty before the first.
    pub digest: String,
}

#[derive(QueryableByName)]
struct Placed {
    #[diesel(sql_type = BigInt)]
    #[allow(dead_code)]
    position: i64,
}

/// Put an entry just written at the end of its farm's chain.
///
/// # Errors
/// When the database fails.
pub(crate) async fn chain(connection: &mut Connection, farm: Uuid, entry: Uuid) -> Result<()> {
    let placed = diesel::sql_query("SELECT chain_entry($1, $2) AS position");
    let _: Placed = placed.bind::<SqlUuid, _>(farm).bind::<SqlUuid, _>(entry).get_result(connection).await?;
    Ok(())
}

/// Where a farm's ledger has come to.
///
/// # Errors
/// When the database fails.
pub async fn head(connection: &mut Connection, member: &Membership) -> Result<Head> {
    let last: Option<(i64, Vec<u8>)> = ledger_chain::table
        .filter(ledger_chain::farm_id.eq(member.farm.id))
        .order(ledger_chain::position.desc())
        .select((ledger_chain::position, ledger_chain::digest))
        .first(connection)
        .await
        .optional()?;
    Ok(last.map_or_else(Head::default, |(position, digest)| Head { position, digest: hex(&digest) }))
}

fn hex(bytes: &[u8]) -> String {
    bytes.iter().map(|byte| format!("{byte:02x}")).collect()
}

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
}

impl std::fmt::Display for Broken {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self {
            Self::Altered { position, entry } => {
                write!(f, "entry {entry}, at place {position}, is not as it was written")
            }
            Self::Missing { position } => write!(f, "nothing stands at place {position}"),
            Self::Unchained { entry } => write!(f, "entry {entry} was slipped in: it has no place in the chain"),
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
struct FarmRow {
    #[diesel(sql_type = SqlUuid)]
    id: Uuid,
    #[diesel(sql_type = Text)]
    name: String,
}

#[derive(QueryableByName)]
struct EntryRow {
    #[diesel(sql_type = SqlUuid)]
    id: Uuid,
}

/// Links read at a time.
const AT_A_TIME: i64 = 2_000;

/// Go along the ledger of every farm, from its first entry to its last.
///
/// # Errors
/// When the database fails.
pub async fn verify(connection: &mut Connection) -> Result<Vec<Verified>> {
    let farms: Vec<FarmRow> =
        diesel::sql_query("SELECT id, name FROM farms ORDER BY name, id").load(connection).await?;
    let mut all = vec![];
    for farm in farms {
        let (head, mut broken) = along(connection, farm.id).await?;
        if broken.is_none() {
            let loose = "SELECT id FROM entries e WHERE farm_id = $1 AND NOT EXISTS (SELECT FROM ledger_chain c \
                 WHERE c.farm_id = e.farm_id AND c.entry_id = e.id) ORDER BY recorded_at, id LIMIT 1";
            let loose: Option<EntryRow> =
                diesel::sql_query(loose).bind::<SqlUuid, _>(farm.id).get_result(connection).await.optional()?;
            broken = loose.map(|row| Broken::Unchained { entry: row.id });
        }
        all.push(Verified { farm: farm.id, name: farm.name, head, broken });
    }
    Ok(all)
}

async fn along(connection: &mut Connection, farm: Uuid) -> Result<(Head, Option<Broken>)> {
    // From the bare columns, not by the function that the writer uses.
    let asked = "SELECT c.position, c.entry_id AS entry, c.digest, concat_ws(E'\\n', e.farm_id, e.id, e.kind, e.version, \
         to_char(e.occurred_on, 'YYYY-MM-DD'), (extract(epoch FROM e.recorded_at) * 1000000)::bigint, e.recorded_by, \
         e.via, coalesce(e.strikes::text, '-'), e.payload::text, coalesce((SELECT string_agg(s.kind || ' ' || \
         s.subject_id, ',' ORDER BY s.kind COLLATE \"C\", s.subject_id) FROM entry_subjects s WHERE s.farm_id = \
         e.farm_id AND s.entry_id = e.id), '-')) AS told FROM ledger_chain c LEFT JOIN entries e \
         ON e.farm_id = c.farm_id AND e.id = c.entry_id WHERE c.farm_id = $1 AND c.position > $2 \
         ORDER BY c.position LIMIT $3";
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
            head = Head { position: link.position, digest: hex(&link.digest) };
            before = link.digest;
        }
        if last {
            return Ok((head, None));
        }
    }
}
