//! Reading JSON bodies and writing answers in the person's units.

use std::time::Duration;

use actix_web::{
    FromRequest, HttpRequest, HttpResponse, Responder,
    body::BoxBody,
    dev::Payload,
    http::header::{self, ContentType},
    web::Bytes,
};
use agronomy::{refusal::Refused, said::present, units::Reader};
use futures_util::{StreamExt, future::LocalBoxFuture};
use records::typed::{step, typed};
use serde::{Serialize, de::DeserializeOwned};

use crate::{finite::all_finite, problem::Problem};

/// The longest that a small body may take to arrive.
const BODY_IN: Duration = Duration::from_secs(30);
/// The longest that any may: a century of weather over a bad line.
const FILE_IN: Duration = Duration::from_secs(300);
/// The slowest line that is waited for, bytes a second: a picture takes minutes over it.
const SLOWEST: u64 = 4_096;

/// How long a body of an announced length may take to arrive.
pub fn arrives_in(announced: Option<usize>) -> Duration {
    let at_that = announced.map_or(0, |bytes| bytes as u64 / SLOWEST);
    (BODY_IN + Duration::from_secs(at_that)).min(FILE_IN)
}

/// The length that a request announces.
pub fn announced(request: &HttpRequest) -> Option<usize> {
    request.headers().get(header::CONTENT_LENGTH)?.to_str().ok()?.parse().ok()
}

/// The largest body taken: far above any field boundary, far below what would hurt.
pub const LARGEST_BODY: usize = 1 << 20;

/// A JSON body.
#[derive(Debug)]
pub struct Body<T>(pub T);

/// Where a text holds U+0000, which is JSON but which PostgreSQL does not store.
fn zero_letter(value: &serde_json::Value) -> Option<String> {
    use serde_json::Value;
    let below = |key: &dyn std::fmt::Display, inner: &Value| zero_letter(inner).map(|rest| step(key) + &rest);
    match value {
        Value::String(text) => text.contains('\0').then(String::new),
        Value::Array(items) => items.iter().enumerate().find_map(|(index, inner)| below(&index, inner)),
        Value::Object(map) => {
            map.iter().find_map(|(key, inner)| if key.contains('\0') { Some(String::new()) } else { below(key, inner) })
        }
        _ => None,
    }
}

/// The largest file taken as a body: a century and more of daily weather.
pub const LARGEST_FILE: usize = 16 << 20;

/// A JSON body that carries a file.
#[derive(Debug)]
pub struct FileBody<T>(pub T);

impl<T: DeserializeOwned + 'static> FromRequest for Body<T> {
    type Error = Problem;
    type Future = LocalBoxFuture<'static, Result<Self, Problem>>;

    fn from_request(request: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let body = read_body(request, payload, LARGEST_BODY, arrives_in(announced(request)));
        Box::pin(async move { body.await.map(Self) })
    }
}

impl<T: DeserializeOwned + 'static> FromRequest for FileBody<T> {
    type Error = Problem;
    type Future = LocalBoxFuture<'static, Result<Self, Problem>>;

    fn from_request(request: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let body = read_body(request, payload, LARGEST_FILE, FILE_IN);
        Box::pin(async move { body.await.map(Self) })
    }
}

fn read_body<T: DeserializeOwned>(
    request: &HttpRequest,
    payload: &mut Payload,
    largest: usize,
    within: Duration,
) -> impl Future<Output = Result<T, Problem>> + use<T> {
    let header = |name: header::HeaderName| request.headers().get(name).and_then(|value| value.to_str().ok());
    let json = header(header::CONTENT_TYPE)
        .and_then(|kind| kind.split(';').next())
        .is_some_and(|kind| kind.trim() == "application/json");
    let announced = announced(request);
    let mut payload = payload.take();
    async move {
        if !json {
            return Err(Problem::MediaType);
        }
        if announced.is_some_and(|length| length > largest) {
            return Err(Problem::TooLarge(largest));
        }
        let read = async {
            let mut bytes = Vec::new();
            while let Some(chunk) = payload.next().await {
                let chunk: Bytes = chunk.map_err(|error| Problem::Malformed(error.to_string()))?;
                if bytes.len() + chunk.len() > largest {
                    return Err(Problem::TooLarge(largest));
                }
                bytes.extend_from_slice(&chunk);
            }
            Ok(bytes)
        };
        let bytes = tokio::time::timeout(within, read).await.map_err(|_| Problem::Slow(within.as_secs()))??;
        let value =
            serde_json::from_slice(&bytes).map_err(|error| Problem::Malformed(format!("this is not JSON: {error}")))?;
        if let Some(pointer) = zero_letter(&value) {
            let detail = "text may not contain a zero character";
            return Err(Refused::one(pointer, detail).into());
        }
        Ok(typed(value)?)
    }
}

/// An answer, written in the units a person reads.
#[derive(Debug)]
pub struct Shown<T>(pub Reader, pub T);

impl<T: Serialize> Responder for Shown<T> {
    type Body = BoxBody;

    fn respond_to(self, _: &HttpRequest) -> HttpResponse {
        match written(self.0, &self.1) {
            Ok(text) => HttpResponse::Ok().content_type(ContentType::json()).body(text),
            Err(problem) => HttpResponse::from_error(problem),
        }
    }
}

/// An answer as JSON, in the units a person reads.
///
/// # Errors
/// [`Problem::Internal`] when it holds a number that is none.
pub fn written(reader: Reader, answer: &impl Serialize) -> Result<String, Problem> {
    if let Err(place) = all_finite(answer) {
        return Err(Problem::Internal(format!("no valid number at {place}")));
    }
    let mut value = serde_json::to_value(answer).map_err(|error| Problem::Internal(error.to_string()))?;
    present(&mut value, Some(reader));
    Ok(value.to_string())
}
