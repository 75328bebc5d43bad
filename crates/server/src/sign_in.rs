//! Signing in: passwords, sessions, and who is asking.

use std::{
    collections::HashMap,
    hash::{BuildHasher, Hash, RandomState},
    net::IpAddr,
    num::NonZeroU32,
    sync::LazyLock,
};

use actix_session::{
    Session, SessionExt,
    storage::{LoadError, SaveError, SessionKey, SessionStore, UpdateError},
};
use actix_web::{
    FromRequest, HttpMessage, HttpRequest, cookie::time::Duration, dev::Payload, http::header::USER_AGENT, web,
};
use agronomy::units::Reader;
use argon2::{Argon2, PasswordHasher, PasswordVerifier, password_hash::phc::PasswordHash};
use futures_util::future::LocalBoxFuture;
use governor::{Quota, RateLimiter, clock::Clock};
use jiff::{Timestamp, ToSpan};
use ledger::{
    Pool,
    farm::{self, Membership, Role},
    people::{self, Person},
    session,
};
use serde::{Serialize, de::DeserializeOwned};
use serde_json::Value;
use sha2::{Digest, Sha256};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{app::State, clock, problem::Problem, work::Work};

const PERSON: &str = "person";
const ID: &str = "id";
const BEGAN: &str = "began";
const DEVICE: &str = "device";
/// How long a session lasts without a visit, seconds: a fortnight, so that a phone in the field
/// stays signed in.
pub const SESSION_SECONDS: i64 = 14 * 24 * 3600;

/// Sessions in PostgreSQL, found by a hash of their key.
#[derive(Clone)]
pub struct Sessions(pub Pool);

fn hash(key: &SessionKey) -> Vec<u8> {
    Sha256::digest(key.as_ref().as_bytes()).to_vec()
}

fn state_value(state: HashMap<String, String>) -> Value {
    state.into_iter().map(|(key, value)| (key, Value::from(value))).collect()
}

fn failed(error: ledger::Error) -> anyhow::Error {
    anyhow::anyhow!("{error}")
}

impl SessionStore for Sessions {
    async fn load(&self, key: &SessionKey) -> Result<Option<HashMap<String, String>>, LoadError> {
        let mut connection = self.0.get().await.map_err(|error| LoadError::Other(failed(error)))?;
        let state = session::load(&mut connection, &hash(key), clock::now()).await;
        match state.map_err(|error| LoadError::Other(failed(error)))? {
            Some(state) => {
                serde_json::from_value(state).map(Some).map_err(|error| LoadError::Deserialization(error.into()))
            }
            None => Ok(None),
        }
    }

    async fn save(&self, state: HashMap<String, String>, ttl: &Duration) -> Result<SessionKey, SaveError> {
        // 244 random bits from the operating system.
        let key = format!("{}{}", Uuid::new_v4().simple(), Uuid::new_v4().simple());
        let key = SessionKey::try_from(key).map_err(|error| SaveError::Other(error.into()))?;
        let mut connection = self.0.get().await.map_err(|error| SaveError::Other(failed(error)))?;
        session::keep(&mut connection, &hash(&key), &state_value(state), clock::now(), ttl.whole_seconds())
            .await
            .map_err(|error| SaveError::Other(failed(error)))?;
        Ok(key)
    }

    async fn update(
        &self,
        key: SessionKey,
        state: HashMap<String, String>,
        ttl: &Duration,
    ) -> Result<SessionKey, UpdateError> {
        let mut connection = self.0.get().await.map_err(|error| UpdateError::Other(failed(error)))?;
        session::keep(&mut connection, &hash(&key), &state_value(state), clock::now(), ttl.whole_seconds())
            .await
            .map_err(|error| UpdateError::Other(failed(error)))?;
        Ok(key)
    }

    async fn update_ttl(&self, key: &SessionKey, ttl: &Duration) -> Result<(), anyhow::Error> {
        let mut connection = self.0.get().await.map_err(failed)?;
        session::prolong(&mut connection, &hash(key), clock::now(), ttl.whole_seconds()).await.map_err(failed)
    }

    async fn delete(&self, key: &SessionKey) -> Result<(), anyhow::Error> {
        let mut connection = self.0.get().await.map_err(failed)?;
        session::end(&mut connection, &hash(key)).await.map_err(failed)
    }
}

/// Counts tries to sign in, per caller and address asked for, and per caller whatever they ask for. Nobody's
/// tries count against anybody else: a stranger can't lock an owner out. Held per instance: several instances
/// allow that many times more, which still stops guessing.
///
/// Whoever asks has shown nothing yet, and may ask for as many addresses as they like: what is kept has as many places
/// as there are, not as many as are asked for. A place is found by a hash under a secret of this process, so that nobody
/// can choose whose place they share; two share one by chance once in a quarter of a million.
pub struct Tries {
    secret: RandomState,
    at_one: Keyed,
    at_all: Keyed,
}

type Keyed = RateLimiter<u32, governor::state::keyed::DashMapStateStore<u32>, governor::clock::DefaultClock>;

/// Places in which tries are counted.
const PLACES: u64 = 1 << 18;

/// How many accounts' tries one caller has: a household behind one router, not a list of addresses.
const ACCOUNTS: u32 = 6;

/// Callers of one IPv6 subscriber are one caller: each has as many addresses as they like.
fn subscriber(caller: IpAddr) -> IpAddr {
    match caller {
        IpAddr::V6(address) => match address.to_ipv4_mapped() {
            Some(address) => address.into(),
            None => std::net::Ipv6Addr::from_bits(address.to_bits() & !u128::from(u64::MAX)).into(),
        },
        IpAddr::V4(_) => caller,
    }
}

impl Tries {
    /// So many tries a minute.
    ///
    /// # Panics
    /// For zero tries.
    pub fn per_minute(tries: u32) -> Self {
        let quota = |tries| Quota::per_minute(NonZeroU32::new(tries).expect("at least one try"));
        Self {
            secret: RandomState::new(),
            at_one: RateLimiter::keyed(quota(tries)),
            at_all: RateLimiter::keyed(quota(tries.saturating_mul(ACCOUNTS))),
        }
    }

    /// Count a try.
    ///
    /// # Errors
    /// [`Problem::TooMany`] when there have been too many.
    pub fn one_more(&self, email: &str, caller: IpAddr) -> Result<(), Problem> {
        let now = governor::clock::DefaultClock::default().now();
        let caller = subscriber(caller);
        // The caller first: an address is not looked at for one who has asked too often.
        let counted = self.at_all.check_key(&self.place(caller));
        counted.and_then(|()| self.at_one.check_key(&self.place((people::normal_email(email), caller)))).map_err(
            |wait| {
                tracing::warn!("too many tries to sign in from {caller}");
                Problem::TooMany(wait.wait_time_from(now).as_secs() + 1)
            },
        )
    }

    fn place(&self, of: impl Hash) -> u32 {
        (self.secret.hash_one(of) % PLACES) as u32
    }

    /// How many places are taken, of callers and of the addresses that they asked for.
    pub fn kept(&self) -> usize {
        self.at_all.len() + self.at_one.len()
    }
}

/// Turns to hash: each takes some twenty megabytes on purpose, and nobody has to be signed in to ask for one.
static HASHING: LazyLock<Work> = LazyLock::new(|| Work::at_once(2));

/// The most passwords that were ever hashed at once in this process.
pub fn most_hashed_at_once() -> usize {
    HASHING.most_at_once()
}

/// Hash a password with a fresh salt. Slow by design; done off the event loop, two at once.
///
/// # Errors
/// [`Problem::Busy`] when its turn does not come in time, [`Problem::Internal`] when hashing fails.
pub async fn hash_password(password: String) -> Result<String, Problem> {
    let hash = move || Argon2::default().hash_password(password.as_bytes()).map(|hash| hash.to_string());
    HASHING.run(Uuid::nil(), hash).await?.map_err(|error| Problem::Internal(error.to_string()))
}

/// Whether a password fits a person. An unknown address takes as long as a known one.
///
/// # Errors
/// As [`hash_password`].
pub async fn password_fits(person: Option<&Person>, password: String) -> Result<bool, Problem> {
    let Some(person) = person else {
        hash_password(password).await?;
        return Ok(false);
    };
    let kept = person.password_hash.clone();
    let fits = move || {
        PasswordHash::new(&kept).is_ok_and(|hash| Argon2::default().verify_password(password.as_bytes(), &hash).is_ok())
    };
    HASHING.run(Uuid::nil(), fits).await
}

/// Let a person in: a new session, so that an old key is worth nothing.
///
/// # Errors
/// [`Problem::Internal`] when the session can't be kept.
pub fn let_in(request: &HttpRequest, session: &Session, person: Uuid) -> Result<(), Problem> {
    session.renew();
    let keep = || {
        session.insert(PERSON, person)?;
        session.insert(ID, Uuid::new_v4())?;
        session.insert(BEGAN, clock::now())?;
        session.insert(DEVICE, device_of(request))
    };
    keep().map_err(|error| Problem::Internal(error.to_string()))
}

/// The id of a session; none of one that an older build began.
pub fn id_of(session: &Session) -> Option<Uuid> {
    session.get(ID).ok().flatten()
}

/// A session as the person it belongs to may see it.
#[derive(Debug, Serialize, ToSchema)]
pub struct SessionView {
    /// Its id, by which it can be ended; none of one that an older build began.
    pub id: Option<Uuid>,
    /// With which browser on what.
    pub device: String,
    /// When it began.
    #[schema(value_type = Option<String>, format = DateTime)]
    pub began: Option<Timestamp>,
    /// When it was last used.
    #[schema(value_type = String, format = DateTime)]
    pub used: Timestamp,
    /// It is the one that asks.
    pub this: bool,
}

impl SessionView {
    /// Of what is kept.
    pub fn of((state, until): (Value, Timestamp), this: Option<Uuid>) -> Self {
        fn kept<T: DeserializeOwned>(state: &Value, key: &str) -> Option<T> {
            serde_json::from_str(state.get(key)?.as_str()?).ok()
        }
        let id = kept(&state, ID);
        Self {
            id,
            device: kept(&state, DEVICE).unwrap_or_else(|| UNKNOWN.to_owned()),
            began: kept(&state, BEGAN),
            used: until.saturating_sub(SESSION_SECONDS.seconds()).unwrap_or(until),
            this: id.is_some() && id == this,
        }
    }
}

const UNKNOWN: &str = "an unknown browser";

/// With which browser on what, as far as it says: enough for somebody to know their own.
fn device_of(request: &HttpRequest) -> String {
    let said = request.headers().get(USER_AGENT).and_then(|value| value.to_str().ok()).unwrap_or_default();
    let first =
        |known: &[(&str, &'static str)]| known.iter().find(|(sign, _)| said.contains(sign)).map(|(_, word)| *word);
    // The more particular sign first: most browsers name the others as well.
    let browser =
        first(&[("Firefox", "Firefox"), ("Edg", "Edge"), ("OPR", "Opera"), ("Chrom", "Chrome"), ("Safari", "Safari")]);
    let on = first(&[
        ("Android", "Android"),
        ("iPhone", "an iPhone"),
        ("iPad", "an iPad"),
        ("Windows", "Windows"),
        ("Mac OS", "a Mac"),
        ("Linux", "Linux"),
    ]);
    match (browser, on) {
        (Some(browser), Some(on)) => format!("{browser} on {on}"),
        (Some(browser), None) => browser.to_owned(),
        _ => UNKNOWN.to_owned(),
    }
}

/// The signed-in person.
pub struct SignedIn(pub Person);

/// The signed-in person and their membership of the farm in the address.
#[derive(Clone)]
pub struct Member {
    /// Who.
    pub person: Person,
    /// Of which farm.
    pub membership: Membership,
}

impl Member {
    /// Whose farm's turn it is.
    pub fn farm(&self) -> Uuid {
        self.membership.farm.id
    }

    /// The day at the farm.
    pub fn today(&self) -> jiff::civil::Date {
        clock::today(&self.membership.farm)
    }

    /// May decide: plans, fields, lots.
    ///
    /// # Errors
    /// [`Problem::Forbidden`].
    pub fn decides(&self) -> Result<(), Problem> {
        self.manages()?;
        self.is_run()
    }

    /// Runs the farm itself, also while it is closed.
    ///
    /// # Errors
    /// [`Problem::Forbidden`].
    pub fn manages(&self) -> Result<(), Problem> {
        match self.membership.role {
            Role::Manager => Ok(()),
            _ => Err(Problem::Forbidden("only a manager can do this".to_owned())),
        }
    }

    /// Who reads the answer.
    pub fn reader(&self) -> Reader {
        reader(&self.person, &self.membership)
    }

    fn is_run(&self) -> Result<(), Problem> {
        match self.membership.farm.closed_on {
            None => Ok(()),
            Some(on) => Err(Problem::Forbidden(format!(
                "this farm was closed {on} and is read-only; a manager can reopen it under Set-up"
            ))),
        }
    }

    /// May record what happened.
    ///
    /// # Errors
    /// [`Problem::Forbidden`].
    pub fn records(&self) -> Result<(), Problem> {
        match self.membership.role {
            Role::Manager | Role::Crew => self.is_run(),
            Role::Adviser => Err(Problem::Forbidden("advisers can read but not record".to_owned())),
        }
    }
}

fn reader(person: &Person, membership: &Membership) -> Reader {
    Reader { system: person.units, currency: membership.farm.currency() }
}

/// Header of what was written down on a device before it was sent: whose it is. The sign-in may have
/// changed since; under another name it is not taken.
pub const INK_PERSON: &str = "ink-person";

/// Header of what a farm's page asks without naming the farm: what is paid in there.
const INK_CURRENCY: &str = "ink-currency";

/// Who reads the answer to a request that is about no farm.
pub fn reader_of(request: &HttpRequest, person: &Person) -> Reader {
    let told = request.headers().get(INK_CURRENCY).and_then(|code| code.to_str().ok()?.parse().ok());
    Reader { system: person.units, currency: told.unwrap_or_default() }
}

fn meant_for(request: &HttpRequest) -> Option<&str> {
    Some(request.headers().get(INK_PERSON)?.to_str().unwrap_or_default())
}

impl FromRequest for SignedIn {
    type Error = Problem;
    type Future = LocalBoxFuture<'static, Result<Self, Problem>>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        let request = request.clone();
        Box::pin(async move { signed_in(&request, None).await.map(|(person, _)| Self(person)) })
    }
}

impl FromRequest for Member {
    type Error = Problem;
    type Future = LocalBoxFuture<'static, Result<Self, Problem>>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        let farm = request.match_info().get("farm").and_then(|id| id.parse().ok());
        let request = request.clone();
        Box::pin(async move {
            let (person, membership) = signed_in(&request, Some(farm)).await?;
            Ok(Self { person, membership: membership.ok_or(Problem::NotFound)? })
        })
    }
}

/// Who is signed in, and their membership of a farm, where one is asked for: by one connection.
async fn signed_in(request: &HttpRequest, farm: Option<Option<Uuid>>) -> Result<(Person, Option<Membership>), Problem> {
    let id: Uuid = request.get_session().get(PERSON).ok().flatten().ok_or(Problem::SignedOut)?;
    let state = request.app_data::<web::Data<State>>().ok_or_else(|| Problem::Internal("no state".to_owned()))?;
    let mut connection = state.pool.get().await?;
    let person = match people::by_id(&mut connection, id).await {
        Err(ledger::Error::NotFound) => return Err(Problem::SignedOut),
        person => person?,
    };
    if meant_for(request).is_some_and(|meant| meant != person.id.to_string()) {
        return Err(Problem::AnotherPerson);
    }
    // What is refused from here on is told in their units.
    request.extensions_mut().insert(reader_of(request, &person));
    let Some(farm) = farm else { return Ok((person, None)) };
    let membership = farm::membership(&mut connection, person.id, farm.ok_or(Problem::NotFound)?).await?;
    request.extensions_mut().insert(reader(&person, &membership));
    Ok((person, Some(membership)))
}
