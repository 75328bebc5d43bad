//! Farms and who belongs to them.

use agronomy::{
    refusal::Refused,
    said,
    units::{Currency, Length, Unit},
};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use jiff::civil::Date;
use records::{
    Payload, Via,
    kinds::farm_facts::{FarmFacts, Turn},
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    Connection, Error, Result,
    entry::{self, NewEntry},
    one_by_one,
    people::Person,
    schema::{farms, memberships, people},
    together,
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
    /// Counts its corrections.
    pub version: i32,
    /// Since when it is closed: read, and written no more.
    #[diesel(serialize_as = jiff_diesel::NullableDate, deserialize_as = jiff_diesel::NullableDate)]
    pub closed_on: Option<Date>,
    /// What it pays in, by its code of ISO 4217.
    pub currency: String,
    /// The month that its year begins with; by the hemisphere where none was told.
    pub year_begins: Option<i32>,
}

impl Farm {
    /// One that begins now and goes by the calendar.
    pub fn new(name: &str, (latitude, longitude): (f64, f64), elevation_m: f64, time_zone: &str) -> Self {
        Self {
            id: Uuid::now_v7(),
            name: name.trim().to_owned(),
            latitude,
            longitude,
            elevation_m,
            practice_day: None,
            time_zone: time_zone.to_owned(),
            version: 1,
            closed_on: None,
            currency: Currency::default().code().to_owned(),
            year_begins: None,
        }
    }

    /// What it pays in.
    pub fn currency(&self) -> Currency {
        // The table admits nothing else.
        self.currency.parse().unwrap_or_default()
    }

    /// The month that its year begins with: where none was told, the one that puts the growing season in its middle.
    ///
    /// ```
    /// use ledger::farm::Farm;
    /// let at = |latitude| Farm::new("Farm", (latitude, 0.0), 0.0, "UTC");
    /// assert_eq!((at(42.0).year_begins(), at(-34.0).year_begins()), (1, 7));
    /// ```
    pub fn year_begins(&self) -> i32 {
        self.year_begins.unwrap_or(if self.latitude < 0.0 { 7 } else { 1 })
    }

    pub(crate) fn facts(&self, what: Turn) -> FarmFacts {
        FarmFacts {
            what,
            name: self.name.clone(),
            latitude: self.latitude,
            longitude: self.longitude,
            elevation: Length::new(self.elevation_m, Unit::M),
            time_zone: self.time_zone.clone(),
            // Dollars go without saying, as they did before farms had a currency.
            currency: Some(self.currency()).filter(|currency| *currency != Currency::default()),
            year_begins: self.year_begins.map(|month| month as i8),
        }
    }
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
            return Err(Error::Conflict("this farm already has an owner; sign in".to_owned()));
        }
        crate::people::add(connection, person).await?;
        add(connection, farm).await?;
        join(connection, farm.id, person.id, Role::Manager).await
    })
    .await
}

/// The most farms that one person manages.
const MOST_FARMS: i64 = 100;

/// Found one more farm: the person becomes its manager. Said again under the same id, it is the same.
///
/// # Errors
/// [`Error::Conflict`] when the id is another's, or for somebody who manages a hundred.
pub async fn found_another(
    connection: &mut Connection,
    person: Uuid,
    farm: &Farm,
    (id, today): (Uuid, Date),
) -> Result<()> {
    together(connection, async |connection| {
        one_by_one(connection, &format!("farms of {person}")).await?;
        if let Ok(kept) = membership(connection, person, farm.id).await {
            return if kept.farm.facts(Turn::Founded) == farm.facts(Turn::Founded) {
                Ok(())
            } else {
                Err(Error::Conflict("this ID is already used by another farm".to_owned()))
            };
        }
        let mine = memberships::table.filter(memberships::person_id.eq(person)).filter(memberships::ended.eq(false));
        let many: i64 = mine.filter(memberships::role.eq(Role::Manager.word())).count().get_result(connection).await?;
        if many >= MOST_FARMS {
            return Err(Error::Conflict(format!("you manage {many} farms, which is the limit")));
        }
        add(connection, farm).await?;
        join(connection, farm.id, person, Role::Manager).await?;
        let member = membership(connection, person, farm.id).await?;
        told(connection, &member, (id, today), Turn::Founded).await
    })
    .await
}

async fn told(connection: &mut Connection, member: &Membership, (id, today): (Uuid, Date), what: Turn) -> Result<()> {
    let payload = Payload::from(member.farm.facts(what));
    entry::write(connection, member, &NewEntry::of(id, [], today, Via::Web, payload), today).await.map(drop)
}

/// Correct what is known of a farm; `after` is the [`Farm::version`] that the writer saw. Said again, it is the same.
///
/// # Errors
/// [`Error::Overtaken`] when somebody corrected it since; refused at `/facts/currency` where amounts are recorded in
/// another.
pub async fn correct(
    connection: &mut Connection,
    member: &Membership,
    new: &Farm,
    after: i32,
    entry: (Uuid, Date),
) -> Result<Farm> {
    together(connection, async |connection| {
        let was = membership(connection, member.person, member.farm.id).await?.farm.currency();
        if was != new.currency() && money_is_recorded(connection, member).await? {
            let detail =
                said!("amounts are already recorded in {}; add another farm to use a different currency", was.code());
            return Err(Refused::one("/facts/currency", detail).into());
        }
        let values = (
            farms::name.eq(new.name.trim()),
            farms::latitude.eq(new.latitude),
            farms::longitude.eq(new.longitude),
            farms::elevation_m.eq(new.elevation_m),
            farms::time_zone.eq(&new.time_zone),
            farms::currency.eq(&new.currency),
            farms::year_begins.eq(new.year_begins),
            farms::version.eq(farms::version + 1),
        );
        let of_that = diesel::update(farms::table.find(member.farm.id)).filter(farms::version.eq(after));
        let written = of_that.set(values).execute(connection).await?;
        let now = membership(connection, member.person, member.farm.id).await?;
        if written > 0 {
            told(connection, &now, entry, Turn::Corrected).await?;
        } else if new.facts(Turn::Corrected) != now.farm.facts(Turn::Corrected) {
            return Err(Error::Overtaken(said!(
                "someone changed the farm after you opened this page; it is now {}",
                records::Record::says(&now.farm.facts(Turn::Corrected))
            )));
        }
        Ok(now.farm)
    })
    .await
}

/// Whether any amount of money was ever recorded.
async fn money_is_recorded(connection: &mut Connection, member: &Membership) -> Result<bool> {
    #[derive(QueryableByName)]
    struct There {
        #[diesel(sql_type = diesel::sql_types::Bool)]
        there: bool,
    }
    // Written before farms had a currency, money was called USD.
    let asked = diesel::sql_query(
        "SELECT EXISTS (SELECT FROM entries WHERE farm_id = $1 AND payload::text ~ '\"unit\": ?\"(money|USD)') AS there",
    );
    let there: There = asked.bind::<diesel::sql_types::Uuid, _>(member.farm.id).get_result(connection).await?;
    Ok(there.there)
}

/// Close a farm: it is read from then on, and written no more; or open it again.
///
/// # Errors
/// When the database fails.
pub async fn close(
    connection: &mut Connection,
    member: &Membership,
    closed: bool,
    (id, today): (Uuid, Date),
) -> Result<Farm> {
    together(connection, async |connection| {
        let on = closed.then_some(today);
        let row = diesel::update(farms::table.find(member.farm.id)).filter(farms::closed_on.is_null().eq(closed));
        let written = row.set(farms::closed_on.eq(jiff_diesel::NullableDate::from(on))).execute(connection).await?;
        let now = membership(connection, member.person, member.farm.id).await?;
        if written > 0 {
            told(connection, &now, (id, today), if closed { Turn::Closed } else { Turn::Reopened }).await?;
        }
        Ok(now.farm)
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
        return Err(
            Refused::one("/day", "this farm uses the real date; only a practice farm’s day can be moved").into()
        );
    };
    let ahead = (day - today).get_days();
    if !(0..=366).contains(&ahead) {
        let detail = said!("{} must be within a year after {}; the practice day only moves forward", day, today);
        return Err(Refused::one("/day", detail).into());
    }
    let to = jiff_diesel::NullableDate::from(Some(day));
    // Of two at once the later day holds, whichever comes last.
    let moved = diesel::update(farms::table.find(member.farm.id).filter(farms::practice_day.le(to)))
        .set(farms::practice_day.eq(to))
        .execute(connection)
        .await?;
    if moved == 0 {
        let detail = said!("the clock has since been moved past {}: it can only go forward", day);
        return Err(Refused::one("/day", detail).into());
    }
    Ok(())
}
