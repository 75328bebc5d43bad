//! People of a farm over HTTP: who is there, who is asked to come, and how they come.

use actix_session::Session;
use actix_web::{HttpRequest, HttpResponse, get, post, put, web};
use agronomy::{refusal::Checks, units::System};
use jiff::{Timestamp, ToSpan, civil::Date};
use ledger::{
    farm::{Farm, Role},
    invitation::{self, Invitation},
    people::Person,
};
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    api::account::check_person,
    app::State,
    body::{Body, Shown},
    clock,
    problem::{Problem, ProblemDocument},
    sign_in::{Member, SignedIn, hash_password, let_in},
};

/// Somebody of a farm.
#[derive(Debug, Serialize, ToSchema)]
pub struct MateView {
    /// Id.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// Sign-in address; told to managers alone.
    pub email: Option<String>,
    /// What they may do.
    pub role: Role,
}

/// An invitation that is open.
#[derive(Debug, Serialize, ToSchema)]
pub struct InvitationView {
    /// Id.
    pub id: Uuid,
    /// What the person will be.
    pub role: Role,
    /// Until when.
    #[schema(value_type = String, format = DateTime)]
    pub expires_at: Timestamp,
}

/// People of a farm.
#[derive(Debug, Serialize, ToSchema)]
pub struct People {
    /// By name.
    pub people: Vec<MateView>,
    /// Open invitations, told to managers alone.
    pub invitations: Vec<InvitationView>,
}

/// People of a farm.
#[utoipa::path(params(("farm" = Uuid, Path)), responses((status = 200, body = People)))]
#[get("/farms/{farm}/people")]
pub async fn list(state: web::Data<State>, member: Member) -> Result<Shown<People>, Problem> {
    let mut connection = state.pool.get().await?;
    let manager = member.membership.role == Role::Manager;
    let mates = invitation::mates(&mut connection, &member.membership).await?;
    let open = match manager {
        true => invitation::open(&mut connection, &member.membership, clock::now()).await?,
        false => vec![],
    };
    let people = mates.into_iter().map(|mate| MateView {
        id: mate.id,
        name: mate.name,
        email: manager.then_some(mate.email),
        role: mate.role,
    });
    let invitations =
        open.into_iter().map(|one| InvitationView { id: one.id, role: one.role, expires_at: one.expires_at });
    Ok(Shown(member.reader(), People { people: people.collect(), invitations: invitations.collect() }))
}

/// Somebody to invite.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewInvitation {
    /// Made by the client.
    pub id: Uuid,
    /// What the person will be.
    pub role: Role,
    /// Days that the link opens.
    pub days: i64,
}

/// An invitation just made: its key is shown this once.
#[derive(Debug, Serialize, ToSchema)]
pub struct MadeInvitation {
    /// What the link ends with.
    pub key: String,
    /// Until when.
    #[schema(value_type = String, format = DateTime)]
    pub expires_at: Timestamp,
}

/// 244 random bits from the operating system.
pub(crate) fn new_key() -> String {
    format!("{}{}", Uuid::new_v4().simple(), Uuid::new_v4().simple())
}

pub(crate) fn hash_of(key: &str) -> [u8; 32] {
    Sha256::digest(key.as_bytes()).into()
}

/// Invite somebody by a link.
#[utoipa::path(params(("farm" = Uuid, Path)), request_body = NewInvitation, responses(
    (status = 200, body = MadeInvitation),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/invitations")]
pub async fn invite(
    state: web::Data<State>,
    member: Member,
    Body(body): Body<NewInvitation>,
) -> Result<Shown<MadeInvitation>, Problem> {
    member.decides()?;
    let mut checks = Checks::new();
    checks.require((1..=60).contains(&body.days), "/days", format!("{} days; enter 1–60", body.days));
    checks.done()?;
    let key = new_key();
    let expires_at = clock::now().saturating_add((24 * body.days).hours()).unwrap_or(Timestamp::MAX);
    let new = Invitation { id: body.id, role: body.role, expires_at };
    let mut connection = state.pool.get().await?;
    invitation::make(&mut connection, &member.membership, &new, &hash_of(&key), member.today()).await?;
    Ok(Shown(member.reader(), MadeInvitation { key, expires_at }))
}

/// Take an invitation back.
#[utoipa::path(params(("farm" = Uuid, Path), ("invitation" = Uuid, Path)), responses((status = 204)))]
#[post("/farms/{farm}/invitations/{invitation}/withdraw")]
pub async fn withdraw(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
) -> Result<HttpResponse, Problem> {
    member.decides()?;
    let mut connection = state.pool.get().await?;
    invitation::withdraw(&mut connection, &member.membership, path.1, member.today()).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// What somebody may do from now on.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ChangedMate {
    /// Id of the entry, made by the client.
    pub id: Uuid,
    /// The role; none for somebody who leaves.
    #[serde(default)]
    pub role: Option<Role>,
}

/// Change what somebody may do, or let them go: their entries stand under their name, their sessions end at once.
#[utoipa::path(params(("farm" = Uuid, Path), ("person" = Uuid, Path)), request_body = ChangedMate, responses(
    (status = 204),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json")))]
#[put("/farms/{farm}/people/{person}")]
pub async fn change(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
    Body(body): Body<ChangedMate>,
) -> Result<HttpResponse, Problem> {
    member.decides()?;
    let mut connection = state.pool.get().await?;
    let told = (body.id, member.today());
    invitation::change(&mut connection, &member.membership, path.1, body.role, told).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// What a link asks to.
#[derive(Debug, Serialize, ToSchema)]
pub struct AskedView {
    /// To which farm.
    pub farm: String,
    /// As what.
    pub role: Role,
    /// By whom.
    pub by: String,
}

/// What a link asks to. Open to whoever holds it.
#[utoipa::path(params(("key" = String, Path)), responses(
    (status = 200, body = AskedView),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json")))]
#[get("/invitations/{key}")]
pub async fn asked(state: web::Data<State>, path: web::Path<String>) -> Result<web::Json<AskedView>, Problem> {
    let asked = invitation::asked(&mut *state.pool.get().await?, &hash_of(&path), clock::now()).await?;
    Ok(web::Json(AskedView { farm: asked.farm.name, role: asked.role, by: asked.by }))
}

/// Whom the link has brought, and where.
#[derive(Debug, Serialize, ToSchema)]
pub struct Arrived {
    /// The farm.
    pub farm: Uuid,
}

fn today_at(farm: &Farm) -> Date {
    clock::today(farm)
}

/// Come by a link, as who is signed in.
#[utoipa::path(params(("key" = String, Path)), responses(
    (status = 200, body = Arrived),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/invitations/{key}/join")]
pub async fn join(
    state: web::Data<State>,
    SignedIn(person): SignedIn,
    path: web::Path<String>,
) -> Result<web::Json<Arrived>, Problem> {
    let mut connection = state.pool.get().await?;
    let now = (clock::now(), today_at);
    let farm = invitation::accept(&mut connection, &hash_of(&path), &person, false, now).await?;
    Ok(web::Json(Arrived { farm }))
}

/// Somebody new.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Newcomer {
    /// Sign-in address.
    pub email: String,
    /// The person's name.
    pub name: String,
    /// Password, at least ten letters.
    pub password: String,
    /// Units to read.
    pub units: System,
}

/// Come by a link, as somebody new. Open to whoever holds it.
#[utoipa::path(params(("key" = String, Path)), request_body = Newcomer, responses(
    (status = 200, body = Arrived),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/invitations/{key}/sign-up")]
pub async fn sign_up(
    request: HttpRequest,
    state: web::Data<State>,
    session: Session,
    path: web::Path<String>,
    Body(new): Body<Newcomer>,
) -> Result<web::Json<Arrived>, Problem> {
    let mut checks = Checks::new();
    check_person(&mut checks, &new.email, &new.name, &new.password);
    checks.done()?;
    let key_hash = hash_of(&path);
    // Asked before the hashing, which costs.
    invitation::asked(&mut *state.pool.get().await?, &key_hash, clock::now()).await?;
    let password_hash = hash_password(new.password).await?;
    let person = Person::new(&new.email, &new.name, password_hash, new.units);
    let mut connection = state.pool.get().await?;
    let now = (clock::now(), today_at);
    let farm = invitation::accept(&mut connection, &key_hash, &person, true, now).await?;
    let_in(&request, &session, person.id)?;
    Ok(web::Json(Arrived { farm }))
}
