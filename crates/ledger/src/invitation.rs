//! How people come to a farm, what they may do there, and how they leave: each turn is an entry of its ledger.

use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use jiff::{Timestamp, civil::Date};
use records::{
    Payload, Via,
    kinds::membership::{MembershipTurn, Turn},
};
use uuid::Uuid;

use crate::{
    Connection, Error, Result,
    entry::{self, NewEntry},
    farm::{self, Farm, Membership, Role},
    one_by_one,
    people::{self, Person},
    schema::{farms, invitations, memberships, people as persons},
    session::{self, Which},
    together,
};

/// An invitation, as its maker sees it.
#[derive(Debug, Clone, PartialEq)]
pub struct Invitation {
    /// Id.
    pub id: Uuid,
    /// What the person will be.
    pub role: Role,
    /// Until when.
    pub expires_at: Timestamp,
}

/// An invitation, as whoever holds its link sees it.
#[derive(Debug, Clone, PartialEq)]
pub struct Asked {
    /// To which farm.
    pub farm: Farm,
    /// As what.
    pub role: Role,
    /// By whom.
    pub by: String,
}

/// Somebody of a farm.
#[derive(Debug, Clone, PartialEq)]
pub struct Mate {
    /// Id.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// Sign-in address.
    pub email: String,
    /// What they may do.
    pub role: Role,
}

/// Why a link opens nothing.
const SPENT: &str = "this invitation was used, canceled or has expired; ask for a new one";

/// Write a turn of somebody's place down.
pub(crate) async fn told(
    connection: &mut Connection,
    member: &Membership,
    id: Uuid,
    turn: MembershipTurn,
    on: Date,
) -> Result<()> {
    let new = NewEntry::of(id, [], on, Via::Web, Payload::from(turn));
    entry::write(connection, member, &new, on).await.map(drop)
}

/// Invite somebody: the link's key is known to its maker alone, here only by its hash.
///
/// # Errors
/// [`Error::Conflict`] when the id was used.
pub async fn make(
    connection: &mut Connection,
    member: &Membership,
    new: &Invitation,
    key_hash: &[u8],
    today: Date,
) -> Result<()> {
    together(connection, async |connection| {
        let row = (
            invitations::farm_id.eq(member.farm.id),
            invitations::id.eq(new.id),
            invitations::key_hash.eq(key_hash),
            invitations::role.eq(new.role.word()),
            invitations::made_by.eq(member.person),
            invitations::expires_at.eq(jiff_diesel::Timestamp::from(new.expires_at)),
        );
        diesel::insert_into(invitations::table).values(row).execute(connection).await?;
        let role = new.role.word().to_owned();
        let turn = MembershipTurn { what: Turn::Invited, person: None, name: String::new(), role };
        told(connection, member, new.id, turn, today).await
    })
    .await
}

/// Invitations that are open.
///
/// # Errors
/// When the database fails.
pub async fn open(connection: &mut Connection, member: &Membership, now: Timestamp) -> Result<Vec<Invitation>> {
    let rows: Vec<(Uuid, String, jiff_diesel::Timestamp)> = invitations::table
        .filter(invitations::farm_id.eq(member.farm.id))
        .filter(invitations::used_by.is_null().and(invitations::withdrawn.eq(false)))
        .filter(invitations::expires_at.gt(jiff_diesel::Timestamp::from(now)))
        .order(invitations::expires_at)
        .select((invitations::id, invitations::role, invitations::expires_at))
        .load(connection)
        .await?;
    let of = |(id, word, expires_at): (Uuid, String, jiff_diesel::Timestamp)| Invitation {
        id,
        role: Role::of(&word),
        expires_at: expires_at.to_jiff(),
    };
    Ok(rows.into_iter().map(of).collect())
}

/// Take an invitation back; taken back again, it is the same.
///
/// # Errors
/// [`Error::NotFound`]; [`Error::Conflict`] when somebody has come by it.
pub async fn withdraw(connection: &mut Connection, member: &Membership, id: Uuid, today: Date) -> Result<()> {
    together(connection, async |connection| {
        let one = invitations::table.find((member.farm.id, id));
        let row = one.select((invitations::role, invitations::used_by, invitations::withdrawn)).for_update();
        let (role, used_by, withdrawn): (String, Option<Uuid>, bool) = row.first(connection).await?;
        if used_by.is_some() {
            return Err(Error::Conflict("this invitation was already used".to_owned()));
        }
        if withdrawn {
            return Ok(());
        }
        diesel::update(one).set(invitations::withdrawn.eq(true)).execute(connection).await?;
        let turn = MembershipTurn { what: Turn::Withdrawn, person: None, name: String::new(), role };
        told(connection, member, Uuid::now_v7(), turn, today).await
    })
    .await
}

/// Take back what somebody invited to who may invite no more: a link of their own would bring them back.
async fn withdraw_all_of(connection: &mut Connection, member: &Membership, person: Uuid, today: Date) -> Result<()> {
    let open = invitations::table
        .filter(invitations::farm_id.eq(member.farm.id).and(invitations::made_by.eq(person)))
        .filter(invitations::used_by.is_null().and(invitations::withdrawn.eq(false)))
        .select(invitations::id);
    for id in open.load::<Uuid>(connection).await? {
        withdraw(connection, member, id, today).await?;
    }
    Ok(())
}

/// What a link asks to.
///
/// # Errors
/// [`Error::NotFound`] for a key that no invitation has, [`Error::Conflict`] for one that is spent.
pub async fn asked(connection: &mut Connection, key_hash: &[u8], now: Timestamp) -> Result<Asked> {
    let row: (Farm, String, String, jiff_diesel::Timestamp, Option<Uuid>, bool) = invitations::table
        .inner_join(farms::table)
        .inner_join(persons::table.on(persons::id.eq(invitations::made_by)))
        .filter(invitations::key_hash.eq(key_hash))
        .select((
            Farm::as_select(),
            invitations::role,
            persons::name,
            invitations::expires_at,
            invitations::used_by,
            invitations::withdrawn,
        ))
        .first(connection)
        .await?;
    let (farm, word, by, expires_at, used_by, withdrawn) = row;
    if used_by.is_some() || withdrawn || expires_at.to_jiff() <= now {
        return Err(Error::Conflict(SPENT.to_owned()));
    }
    Ok(Asked { farm, role: Role::of(&word), by })
}

/// Come to a farm by a link; somebody new is made known in the same breath.
///
/// # Errors
/// As [`asked`]; [`Error::Conflict`] when the person belongs there already, or their address is taken.
pub async fn accept(
    connection: &mut Connection,
    key_hash: &[u8],
    person: &Person,
    new: bool,
    (now, today): (Timestamp, impl Fn(&Farm) -> Date),
) -> Result<Uuid> {
    together(connection, async |connection| {
        // Two with one link at once: the second waits, and then finds it used.
        one_by_one(connection, &format!("invitation {key_hash:?}")).await?;
        let Asked { farm, role, .. } = asked(connection, key_hash, now).await?;
        if new {
            people::add(connection, person).await?;
        }
        let here = memberships::table.find((farm.id, person.id)).select(memberships::ended);
        match here.first::<bool>(connection).await.optional()? {
            Some(false) => return Err(Error::Conflict("you are already on this farm".to_owned())),
            Some(true) => set(connection, farm.id, person.id, role, false).await?,
            None => farm::join(connection, farm.id, person.id, role).await?,
        }
        diesel::update(invitations::table.filter(invitations::key_hash.eq(key_hash)))
            .set(invitations::used_by.eq(Some(person.id)))
            .execute(connection)
            .await?;
        let member = farm::membership(connection, person.id, farm.id).await?;
        let (name, role) = (person.name.clone(), role.word().to_owned());
        let turn = MembershipTurn { what: Turn::Joined, person: Some(person.id), name, role };
        told(connection, &member, Uuid::now_v7(), turn, today(&farm)).await?;
        Ok(farm.id)
    })
    .await
}

/// Make somebody who signs in here a manager of a farm that came by an archive; whoever is one already stays so.
///
/// # Errors
/// When the database fails.
pub async fn appoint(
    connection: &mut Connection,
    farm: Uuid,
    person: &Person,
    today: impl Fn(&Farm) -> Date,
) -> Result<()> {
    together(connection, async |connection| {
        let here = memberships::table.find((farm, person.id)).select((memberships::role, memberships::ended));
        match here.first::<(String, bool)>(connection).await.optional()? {
            Some((role, false)) if role == Role::Manager.word() => return Ok(()),
            Some(_) => set(connection, farm, person.id, Role::Manager, false).await?,
            None => farm::join(connection, farm, person.id, Role::Manager).await?,
        }
        let member = farm::membership(connection, person.id, farm).await?;
        let (name, role) = (person.name.clone(), Role::Manager.word().to_owned());
        let turn = MembershipTurn { what: Turn::Joined, person: Some(person.id), name, role };
        told(connection, &member, Uuid::now_v7(), turn, today(&member.farm)).await
    })
    .await
}

async fn set(connection: &mut Connection, farm: Uuid, person: Uuid, role: Role, ended: bool) -> Result<()> {
    diesel::update(memberships::table.find((farm, person)))
        .set((memberships::role.eq(role.word()), memberships::ended.eq(ended)))
        .execute(connection)
        .await?;
    Ok(())
}

/// Everybody of a farm, by name.
///
/// # Errors
/// When the database fails.
pub async fn mates(connection: &mut Connection, member: &Membership) -> Result<Vec<Mate>> {
    let rows: Vec<(Uuid, String, String, String)> = memberships::table
        .inner_join(persons::table)
        .filter(memberships::farm_id.eq(member.farm.id).and(memberships::ended.eq(false)))
        .order((persons::name, persons::id))
        .select((persons::id, persons::name, persons::email, memberships::role))
        .load(connection)
        .await?;
    Ok(rows.into_iter().map(|(id, name, email, word)| Mate { id, name, email, role: Role::of(&word) }).collect())
}

/// Change what somebody may do, or with no role let them go: then their sessions end at once.
///
/// # Errors
/// [`Error::NotFound`] for somebody who is not of this farm; [`Error::Conflict`] when no manager would be left.
pub async fn change(
    connection: &mut Connection,
    member: &Membership,
    person: Uuid,
    role: Option<Role>,
    (id, today): (Uuid, Date),
) -> Result<()> {
    together(connection, async |connection| {
        one_by_one(connection, &format!("people {}", member.farm.id)).await?;
        if entry::find(connection, member, id).await?.is_some() {
            return Ok(());
        }
        let all = mates(connection, member).await?;
        let mate = all.iter().find(|mate| mate.id == person).ok_or(Error::NotFound)?;
        let managers = all.iter().filter(|mate| mate.role == Role::Manager).count();
        if mate.role == Role::Manager && managers == 1 && role != Some(Role::Manager) {
            return Err(Error::Conflict(
                "a farm needs at least one manager; make someone else a manager first".to_owned(),
            ));
        }
        set(connection, member.farm.id, person, role.unwrap_or(mate.role), role.is_none()).await?;
        if role.is_none() {
            session::end_of(connection, person, Which::All).await?;
        }
        if role != Some(Role::Manager) {
            withdraw_all_of(connection, member, person, today).await?;
        }
        let what = if role.is_some() { Turn::Role } else { Turn::Left };
        let role = role.unwrap_or(mate.role).word().to_owned();
        let turn = MembershipTurn { what, person: Some(person), name: mate.name.clone(), role };
        told(connection, member, id, turn, today).await
    })
    .await
}
