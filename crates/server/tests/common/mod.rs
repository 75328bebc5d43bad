//! The whole application over a database of its own, without a socket.
#![allow(missing_docs)]

use std::{
    net::{IpAddr, SocketAddr},
    rc::Rc,
    time::Duration,
};

use actix_web::{
    App, Error, HttpResponse, HttpServer,
    body::{MessageBody, to_bytes},
    cookie::{Cookie, Key},
    dev::{ServerHandle, Service, ServiceFactory, ServiceRequest, ServiceResponse},
    http::{Method, StatusCode},
    test, web,
};
use agronomy::units::System;
use futures_util::{FutureExt, future::LocalBoxFuture};
use ledger::{
    farm::{self, Farm, Role},
    migrate,
    people::{self, Person},
};
use serde_json::{Value, json};
use server::{app, demo, door::Standing, sign_in};
use test_bed::{TestDatabase, prepared};
use tokio::sync::OnceCell;
use uuid::Uuid;

/// A fresh, migrated database.
pub async fn database() -> TestDatabase {
    prepared("ink_template", async |template| migrate(&template.owner_url).await.expect("migrations")).await
}

/// What the application sees of it.
pub trait Pooled {
    /// A pool as the application.
    fn pool(&self) -> ledger::Pool;
}

impl Pooled for TestDatabase {
    fn pool(&self) -> ledger::Pool {
        ledger::pool(&self.app_url, 4).expect("a pool")
    }
}

/// A service outside, on loopback, until this is dropped.
pub struct Outside {
    address: SocketAddr,
    handle: ServerHandle,
}

impl Outside {
    /// Start one.
    pub fn start<F, T, B>(service: F) -> Self
    where
        F: Fn() -> App<T> + Send + Clone + 'static,
        T: ServiceFactory<ServiceRequest, Config = (), Response = ServiceResponse<B>, Error = Error, InitError = ()>
            + 'static,
        B: MessageBody + 'static,
    {
        let server = HttpServer::new(service).workers(1).disable_signals().bind(("127.0.0.1", 0)).expect("a port");
        let address = server.addrs()[0];
        let server = server.run();
        let handle = server.handle();
        actix_web::rt::spawn(server);
        Self { address, handle }
    }

    pub fn addr(&self) -> SocketAddr {
        self.address
    }
}

impl Drop for Outside {
    fn drop(&mut self) {
        // Told, not waited for: it ends with its runtime at the latest.
        drop(self.handle.stop(false));
    }
}

/// The demo's password.
pub const PASSWORD: &str = "hay before rain";

/// An application and who is signed in to it.
pub struct Site {
    pub database: TestDatabase,
    pub state: web::Data<app::State>,
    key: Key,
    /// Built by the first who asks: it takes longer than most answers.
    served: Rc<OnceCell<Box<dyn Served>>>,
    cookie: Option<Cookie<'static>>,
    meant_for: Option<String>,
    headers: Vec<(String, String)>,
    peer: Option<IpAddr>,
}

/// What was answered.
#[derive(Debug)]
pub struct Answer {
    pub status: StatusCode,
    pub kind: String,
    pub body: Value,
    pub cookie: Option<Cookie<'static>>,
    pub retry_after: Option<String>,
    pub stays: Option<String>,
    pub encoding: Option<String>,
}

impl Answer {
    /// The body, when all went well.
    pub fn ok(self) -> Value {
        assert!(self.status.is_success(), "{} {}", self.status, self.body);
        self.body
    }

    /// The sentence at a field of a refusal.
    pub fn at(&self, pointer: &str) -> String {
        assert_eq!(self.kind, "application/problem+json", "{self:?}");
        let errors = self.body["errors"].as_array().cloned().unwrap_or_default();
        let found = errors.iter().find(|error| error["pointer"] == pointer);
        found.map_or_else(|| panic!("nothing at {pointer}: {}", self.body), |error| error["detail"].to_string())
    }
}

impl Site {
    /// Nobody there yet.
    pub async fn empty() -> Self {
        Self::on(database().await)
    }

    /// Over a database of one's own.
    pub fn on(database: TestDatabase) -> Self {
        let state = web::Data::new(app::State::new(database.pool(), app::Outside::default(), 1_000));
        Self {
            database,
            state,
            key: Key::from(&[7; 64]),
            served: Rc::default(),
            cookie: None,
            meant_for: None,
            headers: vec![],
            peer: None,
        }
    }

    /// With another state of the server.
    pub fn over(self, state: app::State) -> Self {
        Self { state: web::Data::new(state), served: Rc::default(), ..self }
    }

    /// The demo farms.
    pub async fn demo() -> Self {
        let load = async |template: TestDatabase| {
            migrate(&template.owner_url).await.expect("migrations");
            demo::load(&template.pool()).await.unwrap();
        };
        Self::on(prepared("ink_demo", load).await)
    }

    /// With these services outside and other limits. They are waited for longer than a busy machine
    /// needs to answer.
    pub fn with(self, services: Option<String>, tries: u32) -> Self {
        self.with_patience(services, tries, Duration::from_secs(60))
    }

    /// The same, waiting no longer than this for an answer.
    pub fn with_patience(self, services: Option<String>, tries: u32, patience: Duration) -> Self {
        let outside = app::Outside {
            seed_laboratory: services.clone(),
            soil_laboratory: services.clone(),
            weather_station: services.clone(),
            scale: services,
            patience,
        };
        let state = app::State::new(self.database.pool(), outside, tries);
        self.over(state)
    }

    /// With so many connections to the database.
    pub fn on_connections(self, most: usize) -> Self {
        let pool = ledger::pool(&self.database.app_url, most).unwrap();
        self.over(app::State::new(pool, app::Outside::default(), 1_000))
    }

    /// Signed in as somebody of the demo.
    pub async fn signed_in_as(mut self, email: &str) -> Self {
        let answer = self.post("/api/sign-in", json!({"email": email, "password": PASSWORD})).await;
        self.cookie = answer.cookie.clone();
        answer.ok();
        self
    }

    /// What is sent was written by somebody, on a device that may have changed hands since.
    pub fn written_by(mut self, person: &str) -> Self {
        self.meant_for = Some(person.to_owned());
        self
    }

    /// Signed in with a cookie that was handed out.
    pub fn keeping(mut self, cookie: Option<Cookie<'static>>) -> Self {
        self.cookie = cookie;
        self
    }

    /// Signed out, keeping the same application.
    pub fn signed_out(&self) -> Self {
        Self {
            database: self.database.clone(),
            state: self.state.clone(),
            key: self.key.clone(),
            served: self.served.clone(),
            cookie: None,
            meant_for: None,
            headers: vec![],
            peer: None,
        }
    }

    /// The same sender, with these headers beside the usual ones.
    pub fn with_headers(&self, headers: &[(&str, &str)]) -> Self {
        let headers = headers.iter().map(|(name, value)| ((*name).to_owned(), (*value).to_owned())).collect();
        Self { cookie: self.cookie.clone(), headers, ..self.signed_out() }
    }

    /// Sent from an address.
    pub fn from(mut self, peer: IpAddr) -> Self {
        self.peer = Some(peer);
        self
    }

    /// The same sender, at an application over another database.
    pub fn with_database(&self, url: &str) -> Self {
        let state = app::State::new(ledger::pool(url, 1).unwrap(), app::Outside::default(), 1_000);
        Self { cookie: self.cookie.clone(), ..self.signed_out() }.over(state)
    }

    /// The application standing elsewhere than alone on loopback.
    pub fn standing(self, standing: Standing) -> Self {
        let state = app::State::new(self.database.pool(), app::Outside::default(), 1_000);
        self.over(state.standing(standing))
    }

    pub async fn get(&self, path: &str) -> Answer {
        self.ask(Method::GET, path, None, "").await
    }

    pub async fn post(&self, path: &str, body: Value) -> Answer {
        self.ask(Method::POST, path, Some("application/json"), &body.to_string()).await
    }

    /// Hand a picture in, and the entry that tells of it.
    pub async fn photo(&self, key: &str, note: &str) -> Answer {
        let id = uuid::Uuid::now_v7();
        let kept =
            self.post(&format!("{}/photos", farm(key)), json!({"id": id, "jpeg": in_base64(&picture())})).await.ok();
        let field = json!({"kind": "field", "id": of(key, "Long Acre")});
        let entry = json!({"id": id, "about": [field], "occurred_on": "2026-05-14",
            "payload": {"kind": "photo", "photo": id, "sha256": kept["sha256"], "note": note}});
        self.post(&format!("{}/entries", farm(key)), entry).await
    }

    pub async fn patch(&self, path: &str, body: Value) -> Answer {
        self.ask(Method::PATCH, path, Some("application/json"), &body.to_string()).await
    }

    pub async fn ask(&self, method: Method, path: &str, kind: Option<&str>, body: &str) -> Answer {
        let served = async || {
            let app: App<_> = app::application(self.state.clone(), self.key.clone(), None);
            Box::new(test::init_service(app).await) as Box<dyn Served>
        };
        let app = self.served.get_or_init(served).await;
        let mut request = test::TestRequest::default().method(method).uri(path).set_payload(body.to_owned());
        if let Some(kind) = kind {
            request = request.insert_header(("content-type", kind));
        }
        if let Some(person) = &self.meant_for {
            request = request.insert_header((sign_in::INK_PERSON, person.as_str()));
        }
        if let Some(peer) = self.peer {
            request = request.peer_addr((peer, 5_000).into());
        }
        for (name, value) in &self.headers {
            request = request.insert_header((name.as_str(), value.as_str()));
        }
        if let Some(cookie) = &self.cookie {
            request = request.cookie(cookie.clone());
        }
        read(app.as_ref(), request).await
    }

    /// Somebody else, on a farm of their own.
    pub async fn with_stranger(self) -> Self {
        let mut connection = self.state.pool.get().await.unwrap();
        let password = sign_in::hash_password(PASSWORD.into()).await.unwrap();
        let person = Person::new("stranger@example.org", "A Stranger", password, System::Us);
        people::add(&mut connection, &person).await.unwrap();
        let farm = Farm::new("Elsewhere", (40.0, -75.0), 100.0, "America/New_York");
        farm::add(&mut connection, &farm).await.unwrap();
        farm::join(&mut connection, farm.id, person.id, Role::Manager).await.unwrap();
        drop(connection);
        self
    }
}

/// What an application answers, whatever its parts are called.
trait Served {
    fn answer(&self, request: actix_http::Request) -> LocalBoxFuture<'_, Result<HttpResponse, Error>>;
}

impl<S, B> Served for S
where
    S: Service<actix_http::Request, Response = ServiceResponse<B>, Error = Error>,
    B: MessageBody + 'static,
{
    fn answer(&self, request: actix_http::Request) -> LocalBoxFuture<'_, Result<HttpResponse, Error>> {
        let answered = self.call(request);
        async { Ok(answered.await?.into_parts().1.map_into_boxed_body()) }.boxed_local()
    }
}

async fn read(app: &dyn Served, request: test::TestRequest) -> Answer {
    let response = match app.answer(request.to_request()).await {
        Ok(answer) => answer,
        // As the server itself answers.
        Err(error) => error.error_response(),
    };
    let status = response.status();
    let header =
        |name: &str| response.headers().get(name).and_then(|value| value.to_str().ok()).unwrap_or_default().to_owned();
    let (kind, retry) = (header("content-type"), header("retry-after"));
    let stays = header("strict-transport-security");
    let encoding = header("content-encoding");
    let cookie = response.cookies().next().map(|cookie| cookie.into_owned());
    let bytes = to_bytes(response.into_body()).await.unwrap_or_default();
    let bytes = if encoding == "gzip" {
        let mut text = vec![];
        std::io::Read::read_to_end(&mut flate2::read::GzDecoder::new(&bytes[..]), &mut text).expect("gzip");
        text.into()
    } else {
        bytes
    };
    let body = serde_json::from_slice(&bytes).unwrap_or(Value::Null);
    Answer {
        status,
        kind,
        body,
        cookie,
        retry_after: (!retry.is_empty()).then_some(retry),
        stays: (!stays.is_empty()).then_some(stays),
        encoding: (!encoding.is_empty()).then_some(encoding),
    }
}

/// Path of a demo farm.
pub fn farm(key: &str) -> String {
    format!("/api/farms/{}", demo::id(key))
}

/// Id of something of a demo farm.
pub fn of(key: &str, name: &str) -> Uuid {
    demo::id(&format!("{key} {name}"))
}

pub fn lb(value: f64) -> Value {
    json!({"value": value, "unit": "lb/ac"})
}

/// Choices of a three-member mix.
pub fn mix() -> Value {
    json!({
        "goal": "hay", "sow_on": "2026-08-08", "spare": {"value": 5, "unit": "%"},
        "cover": {"as": "seed", "lots": [{"lot": of("fennick-hollow", "NL-204")}], "mix": {"by": "mass", "members": [
            {"crop": "alfalfa", "rate": lb(10.0)}, {"crop": "orchardgrass", "rate": lb(3.0)}, {"crop": "timothy", "rate": lb(2.0)}]}}
    })
}

/// The bones of a JPEG: a segment, a scan, its end.
pub fn picture() -> Vec<u8> {
    let mut bytes = vec![0xff, 0xd8, 0xff, 0xe0, 0, 4, 1, 1, 0xff, 0xda, 0, 2];
    bytes.extend(0..60);
    bytes.extend([0xff, 0xd9]);
    bytes
}

pub fn in_base64(bytes: &[u8]) -> String {
    base64::Engine::encode(&base64::engine::general_purpose::STANDARD, bytes)
}
