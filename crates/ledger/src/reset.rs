//! How somebody who has forgotten their password comes in again: by a link that a manager hands on.

use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use jiff::{Timestamp, civil::Date};
use uuid::Uuid;

use records::kinds::membership::{MembershipTurn, Turn};

use crate::{
    Connection, Error, Result,
    farm::{Membership, Role},
    invitation::{mates, told},
    one_by_one,
    people::{self, Person},
    schema::{memberships, password_resets, people as persons},
    session::{self, Which},
    together,
};

/// Why a link opens nothing.
const SPENT: &str = "this link was used, or has run out: ask for another one";

/// Keep a link for somebody of the farm. Whoever manages this farm alone decides for nobody of another: a link opens
/// all that the person may do, wherever they belong.
///
/// # Errors
/// [`Error::NotFound`] for somebody who is not of this farm; [`Error::Conflict`] for one who belongs to a farm that the
/// maker does not manage.
pub async fn make(
    connection: &mut Connection,
    member: &Membership,
    person: Uuid,
    (key_hash, until): (&[u8], Timestamp),
    (id, today): (Uuid, Date),
) -> Result<()> {
    together(connection, async |connection| {
        let all = mates(connection, member).await?;
        let mate = all.iter().find(|mate| mate.id == person).ok_or(Error::NotFound)?;
        let managed = memberships::table
            .filter(memberships::person_id.eq(member.person).and(memberships::ended.eq(false)))
            .filter(memberships::role.eq(Role::Manager.word()))
            .select(memberships::farm_id);
        let elsewhere = memberships::table
            .filter(memberships::person_id.eq(person).and(memberships::ended.eq(false)))
            .filter(memberships::farm_id.ne_all(managed.load::<Uuid>(connection).await?));
        if elsewhere.count().get_result::<i64>(connection).await? > 0 {
            return Err(Error::Conflict(format!(
                "{} belongs to a farm as well that you don\u{2019}t manage: a link would open that one, too",
                mate.name
            )));
        }
        let row = (
            password_resets::key_hash.eq(key_hash),
            password_resets::person_id.eq(person),
            password_resets::expires_at.eq(jiff_diesel::Timestamp::from(until)),
        );
        diesel::insert_into(password_resets::table).values(row).execute(connection).await?;
        let (name, role) = (mate.name.clone(), mate.role.word().to_owned());
        told(connection, member, id, MembershipTurn { what: Turn::Reset, person: Some(person), name, role }, today)
            .await
    })
    .await
}

/// Whose password a link sets.
///
/// # Errors
/// [`Error::NotFound`] for a key that no link has, [`Error::Conflict`] for one that is spent.
pub async fn asked(connection: &mut Connection, key_hash: &[u8], now: Timestamp) -> Result<Person> {
    let row = password_resets::table.find(key_hash).select((
        password_resets::person_id,
        password_resets::expires_at,
        password_resets::used,
    ));
    let (person, until, used): (Uuid, jiff_diesel::Timestamp, bool) = row.first(connection).await?;
    if used || until.to_jiff() <= now {
        return Err(Error::Conflict(SPENT.to_owned()));
    }
    people::by_id(connection, person).await
}

/// Set the password by a link: all their links are spent, and all their sessions end.
///
/// # Errors
/// As [`asked`].
pub async fn take(connection: &mut Connection, key_hash: &[u8], password_hash: &str, now: Timestamp) -> Result<Person> {
    together(connection, async |connection| {
        // Two with one link at once: the second waits, and then finds it used.
        one_by_one(connection, &format!("reset {key_hash:?}")).await?;
        let person = asked(connection, key_hash, now).await?;
        set_password(connection, person.id, password_hash, Which::All).await?;
        Ok(person)
    })
    .await
}

/// Set a person's password: links that would set another are spent, and sessions end.
///
/// # Errors
/// When the database fails.
pub async fn set_password(connection: &mut Connection, person: Uuid, password_hash: &str, ending: Which) -> Result<()> {
    together(connection, async |connection| {
        diesel::update(persons::table.find(person))
            .set(persons::password_hash.eq(password_hash))
            .execute(connection)
            .await?;
        diesel::update(password_resets::table.filter(password_resets::person_id.eq(person)))
            .set(password_resets::used.eq(true))
            .execute(connection)
            .await?;
        session::end_of(connection, person, ending).await
    })
    .await
}
