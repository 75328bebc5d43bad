//! Signing in and out, the first visit, and one's own settings.

use actix_session::Session;
use actix_web::{HttpRequest, HttpResponse, get, patch, post, web};
use agronomy::{
    refusal::{Checks, Refused},
    said,
    units::{Fraction, Length, Measure, System, Unit},
};
use jiff::civil::Date;
use ledger::{
    farm::{self, Role},
    people::{self, Person, Theme},
};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::{
    api::farms::Place,
    app::State,
    body::{Body, Shown},
    clock, door,
    problem::{Problem, ProblemDocument},
    sign_in::{SignedIn, hash_password, let_in, password_fits},
};

/// Whether the application is well.
#[derive(Debug, Serialize, ToSchema)]
pub struct Health {
    /// `ok`, or what is wrong.
    pub status: String,
    /// Version of this build.
    pub version: String,
}

/// Is the application well? Answered within a second, whatever the database does.
#[utoipa::path(responses((status = 200, body = Health), (status = 503, body = Health)))]
#[get("/health")]
pub async fn health(state: web::Data<State>) -> HttpResponse {
    let version = env!("CARGO_PKG_VERSION").to_owned();
    match state.pulse.trouble().await {
        None => HttpResponse::Ok().json(Health { status: "ok".to_owned(), version }),
        Some(trouble) => HttpResponse::ServiceUnavailable().json(Health { status: trouble, version }),
    }
}

/// Whether an owner has still to be made.
#[derive(Debug, Serialize, ToSchema)]
pub struct FirstVisit {
    /// Nobody can sign in yet.
    pub needs_owner: bool,
}

/// Has anybody been here before?
#[utoipa::path(responses((status = 200, body = FirstVisit)))]
#[get("/first-visit")]
pub async fn first_visit(state: web::Data<State>) -> Result<web::Json<FirstVisit>, Problem> {
    let mut connection = state.pool.get().await?;
    Ok(web::Json(FirstVisit { needs_owner: people::count(&mut connection).await? == 0 }))
}

/// A place whose time zone is asked for.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
#[serde(deny_unknown_fields)]
pub struct ZoneQuery {
    /// Degrees north.
    pub latitude: f64,
    /// Degrees east.
    pub longitude: f64,
}

/// A time zone, guessed from a place.
#[derive(Debug, Serialize, ToSchema)]
pub struct ZoneView {
    /// Its IANA name.
    pub time_zone: String,
}

/// Which time zone is it there? That of the nearest town that a zone is named for.
#[utoipa::path(params(ZoneQuery), responses((status = 200, body = ZoneView)))]
#[get("/time-zone")]
pub async fn zone_at(place: web::Query<ZoneQuery>) -> web::Json<ZoneView> {
    web::Json(ZoneView { time_zone: clock::zone_of(place.latitude, place.longitude).to_owned() })
}

/// The owner and the farm, on the first visit.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewOwner {
    /// Sign-in address.
    pub email: String,
    /// The person's name.
    pub name: String,
    /// Password, at least ten letters.
    pub password: String,
    /// The farm's name.
    pub farm: String,
    /// Degrees north; negative in the south.
    pub latitude: f64,
    /// Degrees east; negative in the west.
    pub longitude: f64,
    /// Above the sea.
    pub elevation: Length,
    /// Units to read.
    pub units: System,
    /// IANA time zone of the farm; that of the town nearest to it when absent.
    #[serde(default)]
    pub time_zone: Option<String>,
}

/// Bytes of a sign-in address, at most.
const LONGEST_EMAIL: usize = 200;
/// Letters of a password, at most.
const LONGEST_PASSWORD: usize = 200;

/// What somebody new says of themselves.
pub(crate) fn check_person(checks: &mut Checks, email: &str, name: &str, password: &str) {
    let email = people::normal_email(email);
    let shaped = email.split_once('@').is_some_and(|(before, after)| !before.is_empty() && !after.is_empty());
    checks.require(shaped && email.len() <= LONGEST_EMAIL, "/email", "enter a valid e-mail address");
    checks.require(!name.trim().is_empty() && name.len() <= 200, "/name", "enter your name");
    check_password(checks, password);
}

pub(crate) fn check_password(checks: &mut Checks, password: &str) {
    let length = password.chars().count();
    checks.require((10..=LONGEST_PASSWORD).contains(&length), "/password", "use 10–200 characters");
}

fn check_owner(owner: &NewOwner) -> Result<(), Refused> {
    let mut checks = Checks::new();
    check_person(&mut checks, &owner.email, &owner.name, &owner.password);
    checks.require(!owner.farm.trim().is_empty() && owner.farm.len() <= 200, "/farm", "enter a farm name");
    check_place(&mut checks, (owner.latitude, owner.longitude), owner.elevation, owner.time_zone.as_deref());
    checks.done()
}

/// Where a farm may lie.
pub(crate) fn check_place(
    checks: &mut Checks,
    (latitude, longitude): (f64, f64),
    elevation: Length,
    time_zone: Option<&str>,
) {
    let within = |value: f64, most: f64| value.is_finite() && value.abs() <= most;
    checks.require(within(latitude, 90.0), "/latitude", format!("Latitude is {latitude}°; enter −90 to 90"));
    checks.require(within(longitude, 180.0), "/longitude", format!("Longitude is {longitude}°; enter −180 to 180"));
    checks.within("/elevation", "Elevation", elevation, Unit::M, -430.0, 6_000.0);
    if let Some(zone) = time_zone {
        let detail = said!("“{}” is not a known time zone; use a name such as America/New_York", zone);
        checks.require(clock::is_zone(zone), "/time_zone", detail);
    }
}

/// Make the owner and the farm. Only while there is nobody.
#[utoipa::path(request_body = NewOwner, responses(
    (status = 200, body = Me), (status = 409, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/first-visit")]
pub async fn make_owner(
    state: web::Data<State>,
    request: HttpRequest,
    session: Session,
    Body(owner): Body<NewOwner>,
) -> Result<Shown<Me>, Problem> {
    check_owner(&owner)?;
    // Asked before the hashing, which costs: the founding asks again, with the door closed behind it.
    if people::count(&mut *state.pool.get().await?).await? > 0 {
        return Err(Problem::Conflict("this farm already has an owner; sign in".to_owned()));
    }
    let password_hash = hash_password(owner.password.clone()).await?;
    let person = Person::new(&owner.email, &owner.name, password_hash, owner.units);
    let place = Place {
        name: owner.farm,
        latitude: owner.latitude,
        longitude: owner.longitude,
        elevation: owner.elevation,
        time_zone: owner.time_zone,
        currency: None,
        year_begins: None,
    };
    let farm = place.farm();
    let mut connection = state.pool.get().await?;
    farm::found(&mut connection, &person, &farm).await?;
    let_in(&request, &session, person.id)?;
    me_of(&state, person).await
}

/// Address and password.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Credentials {
    /// Sign-in address.
    pub email: String,
    /// Password.
    pub password: String,
}

/// Sign in.
#[utoipa::path(request_body = Credentials, responses(
    (status = 200, body = Me),
    (status = 401, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 429, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/sign-in")]
pub async fn sign_in(
    request: HttpRequest,
    state: web::Data<State>,
    session: Session,
    Body(credentials): Body<Credentials>,
) -> Result<Shown<Me>, Problem> {
    let caller = door::caller_of(&request);
    // Longer than any that was ever taken: nothing is looked up, hashed or kept for it.
    if credentials.email.len() > LONGEST_EMAIL || credentials.password.chars().count() > LONGEST_PASSWORD {
        return Err(Problem::WrongPassword);
    }
    state.tries.one_more(&credentials.email, caller)?;
    let person = people::by_email(&mut *state.pool.get().await?, &credentials.email).await?;
    let fits = password_fits(person.as_ref(), credentials.password).await?;
    match person {
        Some(person) if fits => {
            let_in(&request, &session, person.id)?;
            tracing::info!("{} signed in from {caller}", person.id);
            me_of(&state, person).await
        }
        _ => {
            tracing::warn!("a wrong password from {caller}");
            Err(Problem::WrongPassword)
        }
    }
}

/// Sign out.
#[utoipa::path(responses((status = 204)))]
#[post("/sign-out")]
pub async fn sign_out(session: Session) -> HttpResponse {
    session.purge();
    HttpResponse::NoContent().finish()
}

/// The signed-in person.
#[derive(Debug, Serialize, ToSchema)]
pub struct Me {
    /// Id.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// Sign-in address.
    pub email: String,
    /// Units read.
    pub units: System,
    /// Colours.
    pub theme: Theme,
    /// Odds at which a window counts as open.
    pub odds_level: Fraction,
    /// Units in which a drawing is told while it is drawn.
    pub drawing: DrawingUnits,
    /// Farms, by name.
    pub farms: Vec<MyFarm>,
}

/// How large a unit is, in metres or square metres.
#[derive(Debug, Serialize, ToSchema)]
pub struct Scale {
    /// Its symbol.
    pub symbol: String,
    /// So many metres, or square metres.
    pub metres: f64,
}

impl Scale {
    fn of(unit: Unit) -> Self {
        Self { symbol: unit.symbol().to_owned(), metres: unit.to_base(1.0) }
    }
}

/// Units in which a drawing is told while it is drawn: a page asks nobody for the length of a line under the finger.
#[derive(Debug, Serialize, ToSchema)]
pub struct DrawingUnits {
    /// Of lengths.
    pub length: Scale,
    /// Of areas.
    pub area: Scale,
}

impl DrawingUnits {
    fn of(system: System) -> Self {
        let (length, area) = match system {
            System::Us => (Unit::Ft, Unit::Ac),
            System::Metric => (Unit::M, Unit::Ha),
        };
        Self { length: Scale::of(length), area: Scale::of(area) }
    }
}

/// A farm one belongs to.
#[derive(Debug, Serialize, ToSchema)]
pub struct MyFarm {
    /// Id.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// What one may do there.
    pub role: Role,
    /// The day there.
    #[schema(value_type = String, format = Date)]
    pub today: Date,
    /// Whether its clock is a practice clock.
    pub practice: bool,
    /// Degrees north.
    pub latitude: f64,
    /// Degrees east.
    pub longitude: f64,
    /// Its time zone.
    pub time_zone: String,
    /// What is paid in there, by its code of ISO 4217.
    pub currency: String,
    /// The month that its year begins with.
    pub year_begins: i32,
    /// Since when it is closed: read, and written no more.
    #[schema(value_type = Option<String>, format = Date)]
    pub closed_on: Option<Date>,
    /// Whether a soil laboratory can be asked.
    pub soil_laboratory: bool,
    /// Whether a seed laboratory can be asked.
    pub seed_laboratory: bool,
    /// Whether a scale sends its weight.
    pub scale: bool,
}

pub(crate) async fn me_of(state: &State, person: Person) -> Result<Shown<Me>, Problem> {
    let mut connection = state.pool.get().await?;
    let memberships = farm::memberships_of(&mut connection, person.id).await?;
    let farms = memberships
        .into_iter()
        .map(|member| MyFarm {
            today: clock::today(&member.farm),
            practice: member.farm.practice_day.is_some(),
            latitude: member.farm.latitude,
            longitude: member.farm.longitude,
            time_zone: member.farm.time_zone.clone(),
            currency: member.farm.currency.clone(),
            year_begins: member.farm.year_begins(),
            closed_on: member.farm.closed_on,
            soil_laboratory: state.outside.soil_laboratory.is_some() && member.farm.practice_day.is_some(),
            // A simulated laboratory has no business with a real farm's lots.
            seed_laboratory: state.outside.seed_laboratory.is_some() && member.farm.practice_day.is_some(),
            scale: state.outside.scale.is_some() && member.farm.practice_day.is_some(),
            id: member.farm.id,
            name: member.farm.name,
            role: member.role,
        })
        .collect();
    let Person { id, name, email, units, theme, .. } = person;
    let odds_level = Fraction::from_base(person.odds_level);
    let drawing = DrawingUnits::of(units);
    Ok(Shown(units.into(), Me { odds_level, id, name, email, units, theme, drawing, farms }))
}

/// Who am I, and where do I belong?
#[utoipa::path(responses(
    (status = 200, body = Me), (status = 401, body = ProblemDocument, content_type = "application/problem+json")))]
#[get("/me")]
pub async fn me(state: web::Data<State>, SignedIn(person): SignedIn) -> Result<Shown<Me>, Problem> {
    me_of(&state, person).await
}

/// One's own settings.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Settings {
    /// Units to read.
    pub units: Option<System>,
    /// Colours.
    pub theme: Option<Theme>,
    /// Odds at which a window counts as open.
    pub odds_level: Option<Fraction>,
}

/// A window opens at odds that are neither none nor certainty.
pub fn check_level(checks: &mut Checks, pointer: &str, level: Fraction) {
    checks.within(pointer, "Odds level", level, Unit::Percent, 1.0, 99.0);
}

/// Change one's own settings.
#[utoipa::path(request_body = Settings, responses(
    (status = 200, body = Me), (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[patch("/me")]
pub async fn settle(
    state: web::Data<State>,
    SignedIn(person): SignedIn,
    Body(settings): Body<Settings>,
) -> Result<Shown<Me>, Problem> {
    if let Some(level) = settings.odds_level {
        let mut checks = Checks::new();
        check_level(&mut checks, "/odds_level", level);
        checks.done()?;
    }
    let odds_level = settings.odds_level.map(Measure::base);
    let changes = people::Changes { units: settings.units, theme: settings.theme, odds_level };
    let person = people::settle(&mut *state.pool.get().await?, person.id, &changes).await?;
    me_of(&state, person).await
}
