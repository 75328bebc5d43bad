//! Days in bulk: by COPY into a scratch table and from there in one statement, so that a load is whole or not at all.

use agronomy::weather::{Day, csv::Finding};
use futures_util::SinkExt;
use jiff::civil::Date;
use tokio_postgres::{Error as PostgresError, Transaction, types::ToSql};
use uuid::Uuid;

use crate::{Error, Pool, Result, farm::Membership};

/// What a load came to.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Loaded {
    /// Days that were not there.
    pub added: usize,
    /// Days that were there with other values.
    pub different: usize,
}

/// How a load treats days that are there with other values.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Differing {
    /// Only look: nothing is written at all.
    Look,
    /// Keep what is there.
    Keep,
    /// Take what comes.
    Replace,
}

fn failed(error: PostgresError) -> Error {
    let said = error.as_db_error().map_or_else(|| error.to_string(), |said| said.message().to_owned());
    Error::Connection(format!("bulk load: {said}"))
}

/// Load days in bulk, all of them or none.
///
/// # Errors
/// When the database fails or refuses a value.
pub async fn load_days(pool: &Pool, member: &Membership, days: &[(Date, Day)], differing: Differing) -> Result<Loaded> {
    let mut client = pool.client().await?;
    let work = client.transaction().await.map_err(failed)?;
    let loaded = lay_down(&work, member, days, differing).await?;
    work.commit().await.map_err(failed)?;
    Ok(loaded)
}

/// A file that is handed in.
#[derive(Debug, Clone, PartialEq)]
pub struct Handed<'a> {
    /// Id, made by the client.
    pub id: Uuid,
    /// Its name.
    pub file_name: &'a str,
    /// Digest of all that was handed in: the same id with another one is another import.
    pub digest: [u8; 32],
    /// What was found in it.
    pub findings: &'a [Finding],
    /// How much in all.
    pub findings_in_all: usize,
}

/// Load the days of a file and note it, both or neither. Handed in again, it is the same import.
///
/// # Errors
/// [`Error::Conflict`] when the id stands for another file; when the database fails or refuses a value.
pub async fn read_in(
    pool: &Pool,
    member: &Membership,
    days: &[(Date, Day)],
    replace: bool,
    file: &Handed<'_>,
) -> Result<Loaded> {
    let mut client = pool.client().await?;
    let work = client.transaction().await.map_err(failed)?;
    let farm = member.farm.id.to_string();
    // Two of one farm at once: the second waits here, and then finds what the first wrote.
    let one_by_one = "SELECT pg_advisory_xact_lock(hashtextextended('weather ' || $1, 0))";
    work.execute(one_by_one, &[&farm]).await.map_err(failed)?;
    let id = file.id.to_string();
    let asked = "SELECT digest, added, replaced FROM weather_imports \
                 WHERE farm_id = $1::text::uuid AND id = $2::text::uuid";
    if let Some(kept) = work.query_opt(asked, &[&farm, &id]).await.map_err(failed)? {
        let count = |index: usize| usize::try_from(kept.get::<_, i32>(index)).unwrap_or(0);
        return match kept.get::<_, Option<&[u8]>>(0) {
            Some(digest) if digest == file.digest => Ok(Loaded { added: count(1), different: count(2) }),
            _ => Err(Error::Conflict("this id already stands for another file that was read in".to_owned())),
        };
    }
    let differing = if replace { Differing::Replace } else { Differing::Keep };
    let loaded = lay_down(&work, member, days, differing).await?;
    let number = |count: usize| i32::try_from(count).unwrap_or(i32::MAX);
    let findings = serde_json::to_string(file.findings).unwrap_or_default();
    let noted = "INSERT INTO weather_imports \
                 (farm_id, id, imported_by, file_name, added, replaced, findings, findings_in_all, digest) \
                 VALUES ($1::text::uuid, $2::text::uuid, $3::text::uuid, $4, $5, $6, $7::text::jsonb, $8, $9)";
    let by = member.person.to_string();
    let (added, replaced) = (number(loaded.added), number(if replace { loaded.different } else { 0 }));
    let in_all = number(file.findings_in_all);
    let digest = &file.digest[..];
    let row: [&(dyn ToSql + Sync); 9] =
        [&farm, &id, &by, &file.file_name, &added, &replaced, &findings, &in_all, &digest];
    work.execute(noted, &row).await.map_err(failed)?;
    work.commit().await.map_err(failed)?;
    Ok(loaded)
}

/// Days into a scratch table, and from there where they belong.
async fn lay_down(
    work: &Transaction<'_>,
    member: &Membership,
    days: &[(Date, Day)],
    differing: Differing,
) -> Result<Loaded> {
    work.batch_execute("CREATE TEMP TABLE incoming (LIKE weather_days) ON COMMIT DROP").await.map_err(failed)?;
    let copy = work.copy_in("COPY incoming FROM STDIN").await.map_err(failed)?;
    let mut sink = std::pin::pin!(copy);
    let farm = member.farm.id.to_string();
    for chunk in days.chunks(2_000) {
        let mut text = String::with_capacity(chunk.len() * 100);
        for (date, day) in chunk {
            text.push_str(&farm);
            text.push('\t');
            text.push_str(&date.to_string());
            for value in [day.tmin, day.tmax, day.rain, day.radiation, day.dew_point, day.wind] {
                text.push('\t');
                text.push_str(&if value.is_nan() { "\\N".to_owned() } else { (value as f32).to_string() });
            }
            text.push('\n');
        }
        sink.send(bytes(text)).await.map_err(failed)?;
    }
    sink.finish().await.map_err(failed)?;
    let values = "tmin, tmax, rain, radiation, dew_point, wind";
    // A value that a file does not tell, or that was open, differs from nothing.
    let differs = values.split(", ").map(|value| format!("kept.{value} <> incoming.{value}")).collect::<Vec<_>>();
    let differs = differs.join(" OR ");
    let told = format!(
        "SELECT count(*) FILTER (WHERE kept.day IS NULL), count(*) FILTER (WHERE kept.day IS NOT NULL AND ({})) \
         FROM incoming LEFT JOIN weather_days kept USING (farm_id, day)",
        differs
    );
    let counts = work.query_one(&told, &[]).await.map_err(failed)?;
    let count = |index: usize| usize::try_from(counts.get::<_, i64>(index)).unwrap_or(0);
    let loaded = Loaded { added: count(0), different: count(1) };
    if differing == Differing::Look {
        return Ok(loaded);
    }
    // What a file does not tell is no news, and wipes nothing that another one told; what nobody told yet
    // is filled in by whoever tells it.
    let settle = match differing {
        Differing::Replace => first_told("EXCLUDED", "weather_days"),
        _ => first_told("weather_days", "EXCLUDED"),
    };
    let insert =
        format!("INSERT INTO weather_days SELECT * FROM incoming ON CONFLICT (farm_id, day) DO UPDATE SET {settle}");
    work.batch_execute(&insert).await.map_err(failed)?;
    let revised = format!("UPDATE stations SET revision = revision + 1 WHERE farm_id = '{farm}'");
    work.batch_execute(&revised).await.map_err(failed)?;
    Ok(loaded)
}

/// Each value from one side, and where that one is silent from the other. A lowest above the highest of the
/// other side is left open rather than mixed.
fn first_told(one: &str, other: &str) -> String {
    let plain = ["rain", "radiation", "dew_point", "wind"];
    let plain = plain.map(|value| format!("{value} = coalesce({one}.{value}, {other}.{value})")).join(", ");
    format!(
        "tmin = coalesce({one}.tmin, CASE WHEN {one}.tmax IS NULL OR {other}.tmin <= {one}.tmax THEN {other}.tmin END), \
         tmax = coalesce({one}.tmax, CASE WHEN {one}.tmin IS NULL OR {one}.tmin <= {other}.tmax THEN {other}.tmax END), \
         {plain}"
    )
}

fn bytes(text: String) -> std::io::Cursor<Vec<u8>> {
    std::io::Cursor::new(text.into_bytes())
}
