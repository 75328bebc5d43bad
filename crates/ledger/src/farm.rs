//! Farms and who belongs to them.

use agronomy::refusal::Refused;
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    Connection, Error, Result,
    people::Person,
    schema::{farms, memberships, people},
};

/// What a member may do.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum Role {
    /// Decides: plans, records, strikes, sets up.
    Manager,
    /// Does the job: records and strikes own entries.
    Crew,
    /// Reads everything, changes nothing.
    Adviser,
}

impl Role {
    /// Its word, as kept.
    pub fn word(self) -> &'static str {
        match self {
            Self::Manager => "manager",
            Self::Crew => "crew",
            Self::Adviser => "adviser",
        }
    }

    /// By its word.
    pub(crate) fn of(word: &str) -> Self {
        match word {
            "manager" => Self::Manager,
            "crew" => Self::Crew,
            // The table admits no fourth word; the least power is the safe reading.
            _ => Self::Adviser,
        }
    }
}

/// A farm.
#[derive(Debug, Clone, PartialEq, Queryable, Selectable, Insertable)]
#[diesel(table_name = farms)]
pub struct Farm {
    /// Id.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// Degrees north.
    pub latitude: f64,
    /// Degrees east.
    pub longitude: f64,
    /// Metres above the sea.
    pub elevation_m: f64,
    /// The day a practice farm's clock stands at.
    #[diesel(serialize_as = jiff_diesel::NullableDate, deserialize_as = jiff_diesel::NullableDate)]
    pub practice_day: Option<Date>,
    /// Its IANA time zone: the day at the farm is that of its clocks.
    pub time_zone: String,
}

/// Proof that a person belongs to a farm. Every query about a farm asks for one.
// `non_exhaustive` would still let the rest of this crate make one.
#[allow(clippy::manual_non_exhaustive)]
#[derive(Debug, Clone, PartialEq)]
pub struct Membership {
    /// The farm.
    pub farm: Farm,
    /// The person.
    pub person: Uuid,
    /// What the person may do.
    pub role: Role,
    // Only this module makes one.
    _private: (),
}

/// A person's membership of a farm.
///
/// # Errors
/// [`crate::Error::NotFound`] when there is no such farm or the person does not belong to it.
pub async fn membership(connection: &mut Connection, person: Uuid, farm: Uuid) -> Result<Membership> {
    let (farm, word): (Farm, String) = memberships::table
        .inner_join(farms::table)
        .filter(memberships::person_id.eq(person).and(memberships::farm_id.eq(farm)).and(memberships::ended.eq(false)))
        .select((Farm::as_select(), memberships::role))
        .first(connection)
        .await?;
    Ok(Membership { farm, person, role: Role::of(&word), _private: () })
}

/// All memberships of a person, by farm name.
///
/// # Errors
/// When the database fails.
pub async fn memberships_of(connection: &mut Connection, person: Uuid) -> Result<Vec<Membership>> {
    let rows: Vec<(Farm, String)> = memberships::table
        .inner_join(farms::table)
        .filter(memberships::person_id.eq(person).and(memberships::ended.eq(false)))
        .order(farms::name)
        .select((Farm::as_select(), memberships::role))
        .load(connection)
        .await?;
    Ok(rows.into_iter().map(|(farm, word)| Membership { farm, person, role: Role::of(&word), _private: () }).collect())
}

/// Names of a farm's members, by id; also of those who have left, under whose names their entries stand.
///
/// # Errors
/// When the database fails.
pub async fn member_names(connection: &mut Connection, member: &Membership) -> Result<Vec<(Uuid, String)>> {
    Ok(memberships::table
        .inner_join(people::table)
        .filter(memberships::farm_id.eq(member.farm.id))
        .select((people::id, people::name))
        .load(connection)
        .await?)
}

/// Add a farm.
///
/// # Errors
/// [`crate::Error::Conflict`] when the id is taken.
pub async fn add(connection: &mut Connection, farm: &Farm) -> Result<()> {
    diesel::insert_into(farms::table).values(farm.clone()).execute(connection).await?;
    Ok(())
}

/// Let a person belong to a farm.
///
/// # Errors
/// [`crate::Error::Conflict`] when the person already does.
pub async fn join(connection: &mut Connection, farm: Uuid, person: Uuid, role: Role) -> Result<()> {
    diesel::insert_into(memberships::table)
        .values((memberships::farm_id.eq(farm), memberships::person_id.eq(person), memberships::role.eq(role.word())))
        .execute(connection)
        .await?;
    Ok(())
}

/// Make the first person, the first farm, and that person its manager; only while there is nobody.
///
/// # Errors
/// [`crate::Error::Conflict`] when somebody is there already.
pub async fn found(connection: &mut Connection, person: &Person, farm: &Farm) -> Result<()> {
    crate::together(connection, async |connection| {
        // Two first visits at once: the second waits here, and then finds somebody.
        diesel::sql_query("SELECT 1 AS one FROM pg_advisory_xact_lock(4749)").execute(connection).await?;
        if crate::people::count(connection).await? > 0 {
            return Err(Error::Conflict("this farm has its owner already: sign in".to_owned()));
        }
        crate::people::add(connection, person).await?;
        add(connection, farm).await?;
        join(connection, farm.id, person.id, Role::Manager).await
    })
    .await
}

/// Move a practice farm's clock on. It never goes back: what was inked on later days would
/// then lie in the future.
///
/// # Errors
/// Refused at `/day` for a real farm, a day before today's, or one more than a year ahead.
pub async fn move_clock(connection: &mut Connection, member: &Membership, day: Date) -> Result<()> {
    let Some(today) = member.farm.practice_day else {
        return Err(Refused::one("/day", "this farm goes by the calendar: only a practice clock can be moved").into());
    };
    let ahead = (day - today).get_days();
    if !(0..=366).contains(&ahead) {
        let detail = format!("{day} is not from {today} on to a year ahead: a practice clock goes forward only");
        return Err(Refused::one("/day", detail).into());
    }
    diesel::update(farms::table.find(member.farm.id))
        .set(farms::practice_day.eq(jiff_diesel::NullableDate::from(Some(day))))
        .execute(connection)
        .await?;
    Ok(())
}
