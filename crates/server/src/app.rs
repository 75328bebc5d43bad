//! The application put together: state, middleware, addresses.

use std::path::PathBuf;

use actix_session::{SessionMiddleware, config::PersistentSession};
use actix_web::{
    Error, HttpMessage, HttpRequest, HttpResponse, ResponseError,
    body::{BoxBody, MessageBody},
    cookie::{Key, SameSite, time::Duration},
    dev::{ServiceFactory, ServiceRequest, ServiceResponse},
    http::header::{CACHE_CONTROL, STRICT_TRANSPORT_SECURITY},
    middleware::{Compress, DefaultHeaders, from_fn},
    web,
};
use agronomy::{refusal::Refused, units::Reader};
use ledger::Pool;
use tokio::sync::Semaphore;

use crate::{
    api,
    archive::Seal,
    climate::Climates,
    door::{Standing, door},
    metrics::Metrics,
    outlines::Outlines,
    problem::Problem,
    pulse::Pulse,
    screens::screens,
    seasons::Seasons,
    shelf::Shelf,
    sign_in::{SESSION_SECONDS, Sessions, Tries},
    work::Work,
};

/// What every handler can reach. Nothing here belongs to one person or farm.
pub struct State {
    /// The ledger.
    pub pool: Pool,
    /// Whether it is there.
    pub pulse: Pulse,
    /// Tries to sign in.
    pub tries: Tries,
    /// Outside services.
    pub outside: Outside,
    /// For outside services.
    pub http: reqwest::Client,
    /// Weather years at hand, by farm.
    pub climates: Climates,
    /// Books at hand, by farm.
    pub shelf: Shelf,
    /// Seasons at hand, by farm.
    pub seasons: Seasons,
    /// Whether seasons are kept in the database, too, for a server that has just started.
    pub keeps_seasons: bool,
    /// Sown parts of fields at hand.
    pub outlines: Outlines,
    /// Turns for heavy reckonings.
    pub work: Work,
    /// How the service stands in the world.
    pub standing: Standing,
    /// What is counted.
    pub metrics: Metrics,
    /// What archives are signed with.
    pub seal: Seal,
    /// A turn for making an archive: one at a time.
    pub packing: Semaphore,
    /// Where backups are written each day; none where nobody has set any up.
    pub backups: Option<PathBuf>,
}

/// Addresses of outside services, where they are set up.
#[derive(Debug, Clone)]
pub struct Outside {
    /// The seed laboratory.
    pub seed_laboratory: Option<String>,
    /// The soil laboratory.
    pub soil_laboratory: Option<String>,
    /// The weather service: stations, forecast, soil probe.
    pub weather_station: Option<String>,
    /// A scale that sends its weight.
    pub scale: Option<String>,
    /// The longest that one try at the weather service or the scale may take.
    pub patience: std::time::Duration,
}

impl Default for Outside {
    fn default() -> Self {
        let patience = std::time::Duration::from_secs(3);
        Self { seed_laboratory: None, soil_laboratory: None, weather_station: None, scale: None, patience }
    }
}

impl State {
    /// State over a pool.
    ///
    /// # Panics
    /// When the HTTP client can't be made.
    pub fn new(pool: Pool, outside: Outside, tries_per_minute: u32) -> Self {
        let http = reqwest::Client::builder()
            .timeout(std::time::Duration::from_secs(5))
            .no_proxy()
            .build()
            .expect("an HTTP client");
        Self {
            pulse: Pulse::of(&pool),
            pool,
            tries: Tries::per_minute(tries_per_minute),
            outside,
            http,
            climates: Climates::default(),
            shelf: Shelf::default(),
            seasons: Seasons::default(),
            keeps_seasons: false,
            outlines: Outlines::default(),
            work: Work::default(),
            standing: Standing::default(),
            metrics: Metrics::default(),
            // No other process signs with it: whoever serves gives a lasting one.
            seal: Seal::of(Key::generate().master()),
            packing: Semaphore::new(1),
            backups: None,
        }
    }

    /// The same, with seasons kept in the database for the next start.
    #[must_use]
    pub fn keeping_seasons(self) -> Self {
        Self { keeps_seasons: true, ..self }
    }

    /// The same, signing archives by a key that is made from the cookie key.
    #[must_use]
    pub fn sealing(self, key: &Key) -> Self {
        Self { seal: Seal::of(key.master()), ..self }
    }

    /// The same, with backups written into a folder.
    #[must_use]
    pub fn backups(self, backups: Option<PathBuf>) -> Self {
        Self { backups, ..self }
    }

    /// The same, standing elsewhere than alone on loopback.
    #[must_use]
    pub fn standing(self, standing: Standing) -> Self {
        Self { standing, ..self }
    }
}

/// Only our own scripts, styles and fonts; nothing leaves for elsewhere.
const CONTENT_POLICY: &str = "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; \
     object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";

/// The application, ready to serve.
pub fn application(
    state: web::Data<State>,
    cookie_key: Key,
    web_folder: Option<PathBuf>,
) -> actix_web::App<
    impl ServiceFactory<
        ServiceRequest,
        Config = (),
        Response = ServiceResponse<impl MessageBody>,
        Error = Error,
        InitError = (),
    >,
> {
    let sessions = SessionMiddleware::builder(Sessions(state.pool.clone()), cookie_key)
        .cookie_name("ink".to_owned())
        .cookie_http_only(true)
        .cookie_same_site(SameSite::Strict)
        .cookie_secure(state.standing.tls)
        .session_lifecycle(PersistentSession::default().session_ttl(Duration::seconds(SESSION_SECONDS)))
        .build();
    let mut headers = DefaultHeaders::new()
        .add(("content-security-policy", CONTENT_POLICY))
        .add(("x-content-type-options", "nosniff"))
        .add(("referrer-policy", "same-origin"));
    if state.standing.tls {
        headers = headers.add((STRICT_TRANSPORT_SECURITY, "max-age=31536000"));
    }
    actix_web::App::new()
        .app_data(state)
        .app_data(web::PathConfig::default().error_handler(|_, _| Problem::NotFound.into()))
        .app_data(web::QueryConfig::default().error_handler(|error, _| {
            Problem::Refused(Refused::one("", format!("the address asks for something that does not exist: {error}")))
                .into()
        }))
        .wrap_fn(|request, service| {
            use actix_web::dev::Service as _;
            let answer = service.call(request);
            async move { answer.await.map(in_the_readers_units) }
        })
        .wrap(headers)
        .wrap(Compress::default())
        // Only the API asks who is there: the page opens also while the database is away.
        .service(
            web::scope("/api")
                .wrap(sessions)
                .wrap(from_fn(door))
                .wrap(DefaultHeaders::new().add((CACHE_CONTROL, "no-store")))
                .configure(api::routes)
                .default_service(web::to(missing)),
        )
        .configure(|config| screens(config, web_folder))
}

/// A refusal that speaks of amounts, told again in the units of whoever asked.
fn in_the_readers_units<B: MessageBody + 'static>(answer: ServiceResponse<B>) -> ServiceResponse<BoxBody> {
    let reader = answer.request().extensions().get::<Reader>().copied();
    let problem = answer.response().error().and_then(|error| error.as_error::<Problem>());
    match problem.filter(|problem| problem.speaks_of_fields()).map(|problem| problem.response(reader)) {
        Some(told) => answer.into_response(told),
        None => answer.map_into_boxed_body(),
    }
}

/// An address of the API that is not there, or not with this method.
async fn missing(request: HttpRequest) -> HttpResponse {
    let known = api::methods_of(request.path());
    if known.is_empty() {
        return Problem::NotFound.error_response();
    }
    let mut response = Problem::Method.error_response();
    if let Ok(allow) = known.join(", ").parse() {
        response.headers_mut().insert(actix_web::http::header::ALLOW, allow);
    }
    response
}
