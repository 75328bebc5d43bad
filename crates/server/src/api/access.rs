//! A person's own password and sessions over HTTP, and the link that opens again what was forgotten.

use actix_session::Session;
use actix_web::{HttpRequest, HttpResponse, get, post, web};
use agronomy::refusal::{Checks, Refused};
use jiff::{Timestamp, ToSpan};
use ledger::{
    reset,
    session::{self, Which},
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    api::{
        account::{Me, check_password, me_of},
        people::{MadeInvitation, hash_of, new_key},
    },
    app::State,
    body::{Body, Shown},
    clock, door,
    problem::{Problem, ProblemDocument},
    sign_in::{Member, SessionView, SignedIn, hash_password, id_of, let_in, password_fits},
};

/// One's own sessions.
#[derive(Debug, Serialize, ToSchema)]
pub struct Sessions {
    /// The one last used first.
    pub sessions: Vec<SessionView>,
}

/// Where am I signed in?
#[utoipa::path(responses((status = 200, body = Sessions)))]
#[get("/me/sessions")]
pub async fn sessions(
    state: web::Data<State>,
    SignedIn(person): SignedIn,
    own: Session,
) -> Result<web::Json<Sessions>, Problem> {
    let mine = session::of(&mut *state.pool.get().await?, person.id, clock::now()).await?;
    let this = id_of(&own);
    Ok(web::Json(Sessions { sessions: mine.into_iter().map(|one| SessionView::of(one, this)).collect() }))
}

/// Which sessions to end.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Ending {
    /// This one.
    #[serde(default)]
    pub id: Option<Uuid>,
    /// All but the one that asks.
    #[serde(default)]
    pub others: bool,
}

/// End one of one’s own sessions, or all others.
#[utoipa::path(request_body = Ending, responses((status = 200, body = Sessions)))]
#[post("/me/sessions/end")]
pub async fn end_sessions(
    state: web::Data<State>,
    SignedIn(person): SignedIn,
    own: Session,
    Body(ending): Body<Ending>,
) -> Result<web::Json<Sessions>, Problem> {
    let this = id_of(&own);
    let which = match (ending.id, ending.others) {
        (Some(id), false) => Which::One(id),
        (None, true) => Which::AllBut(this),
        _ => return Err(Refused::one("/id", "choose one sign-in, or all others").into()),
    };
    let mut connection = state.pool.get().await?;
    session::end_of(&mut connection, person.id, which).await?;
    let left = session::of(&mut connection, person.id, clock::now()).await?;
    Ok(web::Json(Sessions { sessions: left.into_iter().map(|one| SessionView::of(one, this)).collect() }))
}

/// A new password for the old.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewPassword {
    /// The one that has been.
    pub old: String,
    /// The one that shall be, at least ten letters.
    pub password: String,
}

/// Change one’s own password: all other sessions end.
#[utoipa::path(request_body = NewPassword, responses(
    (status = 204),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 429, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/me/password")]
pub async fn change_password(
    request: HttpRequest,
    state: web::Data<State>,
    SignedIn(person): SignedIn,
    own: Session,
    Body(new): Body<NewPassword>,
) -> Result<HttpResponse, Problem> {
    checked(&new.password)?;
    // An open screen is no licence to guess.
    state.tries.one_more(&person.email, door::caller_of(&request))?;
    if !password_fits(Some(&person), new.old).await? {
        return Err(Refused::one("/old", "the current password is wrong").into());
    }
    let password_hash = hash_password(new.password).await?;
    let others = Which::AllBut(id_of(&own));
    reset::set_password(&mut *state.pool.get().await?, person.id, &password_hash, others).await?;
    Ok(HttpResponse::NoContent().finish())
}

fn checked(password: &str) -> Result<(), Refused> {
    let mut checks = Checks::new();
    check_password(&mut checks, password);
    checks.done()
}

/// The key of a link, and until when it opens.
fn new_link() -> (String, Timestamp) {
    (new_key(), clock::now().saturating_add(24.hours()).unwrap_or(Timestamp::MAX))
}

/// Make a link for anybody who signs in here, for whoever runs the server: its path on the application.
///
/// # Errors
/// For an address by which nobody signs in; when the database fails.
pub async fn reset_by_operator(pool: &ledger::Pool, email: &str) -> anyhow::Result<String> {
    let (key, expires_at) = new_link();
    let link = (&hash_of(&key)[..], expires_at);
    match reset::make_by_operator(&mut *pool.get().await?, email, link).await {
        Ok(_) => Ok(format!("/resets/{key}")),
        Err(ledger::Error::NotFound) => anyhow::bail!("no account for {email}"),
        Err(error) => Err(error.into()),
    }
}

/// A link for somebody who has forgotten their password.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewReset {
    /// Id of the entry, made by the client.
    pub id: Uuid,
}

/// Make a link by which somebody of the farm sets a new password; good for a day, shown this once. For a manager whoever
/// runs the server makes it.
#[utoipa::path(params(("farm" = Uuid, Path), ("person" = Uuid, Path)), request_body = NewReset, responses(
    (status = 200, body = MadeInvitation),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/people/{person}/reset")]
pub async fn make_reset(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
    Body(new): Body<NewReset>,
) -> Result<Shown<MadeInvitation>, Problem> {
    member.decides()?;
    let (key, expires_at) = new_link();
    let told = (new.id, member.today());
    let link = (&hash_of(&key)[..], expires_at);
    reset::make(&mut *state.pool.get().await?, &member.membership, path.1, link, told).await?;
    Ok(Shown(member.reader(), MadeInvitation { key, expires_at }))
}

/// Whose password a link sets.
#[derive(Debug, Serialize, ToSchema)]
pub struct ResetView {
    /// The person’s name.
    pub name: String,
    /// Their sign-in address.
    pub email: String,
}

/// Whose password does a link set? Open to whoever holds it.
#[utoipa::path(params(("key" = String, Path)), responses(
    (status = 200, body = ResetView),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json")))]
#[get("/resets/{key}")]
pub async fn read_reset(state: web::Data<State>, path: web::Path<String>) -> Result<web::Json<ResetView>, Problem> {
    let person = reset::asked(&mut *state.pool.get().await?, &hash_of(&path), clock::now()).await?;
    Ok(web::Json(ResetView { name: person.name, email: person.email }))
}

/// A password set by a link.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ResetPassword {
    /// At least ten letters.
    pub password: String,
}

/// Set a password by a link, and come in. Open to whoever holds it.
#[utoipa::path(params(("key" = String, Path)), request_body = ResetPassword, responses(
    (status = 200, body = Me),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/resets/{key}")]
pub async fn take_reset(
    request: HttpRequest,
    state: web::Data<State>,
    own: Session,
    path: web::Path<String>,
    Body(new): Body<ResetPassword>,
) -> Result<Shown<Me>, Problem> {
    checked(&new.password)?;
    let key_hash = hash_of(&path);
    // Asked before the hashing, which costs.
    reset::asked(&mut *state.pool.get().await?, &key_hash, clock::now()).await?;
    let password_hash = hash_password(new.password).await?;
    let taken =
        reset::take(&mut *state.pool.get().await?, &key_hash, &password_hash, (clock::now(), clock::today)).await?;
    let_in(&request, &own, taken.id)?;
    me_of(&state, taken).await
}
