//! How somebody who has forgotten their password comes in again: by a link.
//!
//! A manager of the farm makes it for somebody who manages none; for a manager whoever runs the server does, on the
//! command line, so that no manager comes to another's account. A link opens all that the person may do, wherever they
//! belong: what allowed it is asked when it is made and again when it is used, and it ends with every change of either's
//! place at any farm (a trigger of the table of memberships sees to that).

use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use jiff::{Timestamp, civil::Date};
use uuid::Uuid;

use records::kinds::membership::{MembershipTurn, Turn};

use crate::{
    Connection, Error, Result,
    farm::{self, Farm, Membership, Role},
    invitation::{mates, told},
    one_by_one,
    people::{self, Person},
    schema::{password_resets, people as persons},
    session::{self, Which},
    together,
};

/// Why a link opens nothing.
const SPENT: &str = "this link has been used, has expired, or is no longer allowed: ask for a new one";

/// Why somebody may not let another set a new password.
enum Barred {
    /// The other one manages a farm.
    Manages,
    /// The other one belongs to a farm that the maker does not manage.
    Elsewhere,
}

/// What stands against a link of a maker for a person, by where both belong now.
async fn barred(connection: &mut Connection, maker: Uuid, person: Uuid) -> Result<Option<Barred>> {
    let theirs = farm::memberships_of(connection, person).await?;
    if theirs.iter().any(|member| member.role == Role::Manager) {
        return Ok(Some(Barred::Manages));
    }
    let managed = farm::memberships_of(connection, maker).await?;
    let manages = |farm: &Farm| managed.iter().any(|own| own.role == Role::Manager && own.farm.id == farm.id);
    Ok((!theirs.iter().all(|member| manages(&member.farm))).then_some(Barred::Elsewhere))
}

async fn keep(
    connection: &mut Connection,
    person: Uuid,
    (key_hash, until): (&[u8], Timestamp),
    by: Option<&Membership>,
) -> Result<()> {
    let row = (
        password_resets::key_hash.eq(key_hash),
        password_resets::person_id.eq(person),
        password_resets::expires_at.eq(jiff_diesel::Timestamp::from(until)),
        password_resets::made_by.eq(by.map(|member| member.person)),
        password_resets::farm_id.eq(by.map(|member| member.farm.id)),
    );
    diesel::insert_into(password_resets::table).values(row).execute(connection).await?;
    Ok(())
}

/// Keep a link for somebody of the farm.
///
/// # Errors
/// [`Error::NotFound`] for somebody who is not of this farm; [`Error::Conflict`] for a manager, and for one who belongs
/// to a farm that the maker does not manage.
pub async fn make(
    connection: &mut Connection,
    member: &Membership,
    person: Uuid,
    link: (&[u8], Timestamp),
    (id, today): (Uuid, Date),
) -> Result<()> {
    together(connection, async |connection| {
        let all = mates(connection, member).await?;
        let mate = all.iter().find(|mate| mate.id == person).ok_or(Error::NotFound)?;
        match barred(connection, member.person, person).await? {
            None => {}
            Some(Barred::Manages) => {
                return Err(Error::Conflict(format!(
                    "{} manages a farm: a link for a manager is made by whoever runs the server, with ./ink reset",
                    mate.name
                )));
            }
            Some(Barred::Elsewhere) => {
                return Err(Error::Conflict(format!(
                    "{} also belongs to a farm you do not manage, so you cannot reset their password",
                    mate.name
                )));
            }
        }
        keep(connection, person, link, Some(member)).await?;
        let (name, role) = (mate.name.clone(), mate.role.word().to_owned());
        told(connection, member, id, MembershipTurn { what: Turn::Reset, person: Some(person), name, role }, today)
            .await
    })
    .await
}

/// Keep a link for anybody who signs in here, for whoever runs the server: a person who founded a farm, too. That it was
/// used is told in the ledgers of their farms.
///
/// # Errors
/// [`Error::NotFound`] for an address by which nobody signs in.
pub async fn make_by_operator(connection: &mut Connection, email: &str, link: (&[u8], Timestamp)) -> Result<Person> {
    let person = people::by_email(connection, email).await?.ok_or(Error::NotFound)?;
    keep(connection, person.id, link, None).await?;
    Ok(person)
}

/// Whose password a link sets, and whether whoever runs the server made it.
async fn standing(connection: &mut Connection, key_hash: &[u8], now: Timestamp) -> Result<(Person, bool)> {
    let row = password_resets::table.find(key_hash).select((
        password_resets::person_id,
        password_resets::expires_at,
        password_resets::used,
        password_resets::made_by,
        password_resets::farm_id,
    ));
    let (person, until, used, maker, farm): (Uuid, jiff_diesel::Timestamp, bool, Option<Uuid>, Option<Uuid>) =
        row.first(connection).await?;
    let spent = || Error::Conflict(SPENT.to_owned());
    if used || until.to_jiff() <= now {
        return Err(spent());
    }
    if let (Some(maker), Some(farm)) = (maker, farm) {
        match farm::membership(connection, person, farm).await {
            Err(Error::NotFound) => return Err(spent()),
            here => here.map(drop)?,
        }
        if barred(connection, maker, person).await?.is_some() {
            return Err(spent());
        }
    }
    Ok((people::by_id(connection, person).await?, maker.is_none()))
}

/// Whose password a link sets.
///
/// # Errors
/// [`Error::NotFound`] for a key that no link has; [`Error::Conflict`] for one that is spent, or that its maker could not
/// make any more.
pub async fn asked(connection: &mut Connection, key_hash: &[u8], now: Timestamp) -> Result<Person> {
    standing(connection, key_hash, now).await.map(|(person, _)| person)
}

/// Set the password by a link: all their links are spent, all their sessions end, and the ledgers of their farms tell it.
///
/// # Errors
/// As [`asked`].
pub async fn take(
    connection: &mut Connection,
    key_hash: &[u8],
    password_hash: &str,
    (now, today): (Timestamp, impl Fn(&Farm) -> Date),
) -> Result<Person> {
    together(connection, async |connection| {
        // Two with one link at once: the second waits, and then finds it used.
        one_by_one(connection, &format!("reset {key_hash:?}")).await?;
        let (person, by_operator) = standing(connection, key_hash, now).await?;
        set_password(connection, person.id, password_hash, Which::All).await?;
        let what = if by_operator { Turn::PasswordSetByOperator } else { Turn::PasswordSet };
        let mut places = farm::memberships_of(connection, person.id).await?;
        // In one order, whoever writes: two that wait for each other would wait for good.
        places.sort_by_key(|member| member.farm.id);
        for member in places.iter().filter(|member| member.farm.closed_on.is_none()) {
            let (name, role) = (person.name.clone(), member.role.word().to_owned());
            let turn = MembershipTurn { what, person: Some(person.id), name, role };
            told(connection, member, Uuid::now_v7(), turn, today(&member.farm)).await?;
        }
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
