//! What goes wrong, as RFC 9457 problem documents with a pointer per field.

use actix_web::{HttpResponse, ResponseError, http::StatusCode};
use agronomy::{
    refusal::{Refusal, Refused},
    said::Said,
    units::Reader,
};
use serde::{Deserialize, Serialize};
use thiserror::Error;
use utoipa::ToSchema;

/// A problem document.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ProblemDocument {
    /// What kind of problem.
    #[serde(rename = "type")]
    pub kind: String,
    /// The kind in words.
    pub title: String,
    /// HTTP status.
    pub status: u16,
    /// This occurrence, in a plain sentence.
    pub detail: String,
    /// Per field, when fields are to blame.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub errors: Vec<Refusal>,
}

/// Why a request was not answered.
#[derive(Debug, Error)]
pub enum Problem {
    /// The body is not JSON at all.
    #[error("{0}")]
    Malformed(String),
    /// Nobody is signed in.
    #[error("sign in first")]
    SignedOut,
    /// Name or password is wrong.
    #[error("wrong e-mail address or password")]
    WrongPassword,
    /// The person may not do this.
    #[error("{0}")]
    Forbidden(String),
    /// No such thing, or not yours.
    #[error("not found")]
    NotFound,
    /// The address exists, the method does not.
    #[error("method not allowed")]
    Method,
    /// The body is not of the type this address reads.
    #[error("expected a body of type application/json")]
    MediaType,
    /// It stands for something else already.
    #[error("{0}")]
    Conflict(String),
    /// What is handed in is another person's than the one who is signed in.
    #[error("this was written by someone else; it will be sent when they sign in")]
    AnotherPerson,
    /// Somebody wrote in between what this was to replace.
    #[error("{0}")]
    Overtaken(Said),
    /// Everything is in use, and nothing came free in time.
    #[error("the server is busy; try again in a moment")]
    Busy,
    /// The database does not answer.
    #[error("the ledger is unavailable; nothing was recorded. Try again in a moment")]
    Away,
    /// The body did not come in time.
    #[error("the request took longer than {0} seconds")]
    Slow(u64),
    /// Larger than is taken.
    #[error("the body is larger than {0} bytes")]
    TooLarge(usize),
    /// Fields that can't be taken.
    #[error("{0}")]
    Refused(#[from] Refused),
    /// Fields far from usual, to be confirmed.
    #[error("unusual value: {0}")]
    Unusual(Refused),
    /// Too many tries.
    #[error("too many attempts; wait {0} seconds")]
    TooMany(u64),
    /// A stand-in or outside service is down or answers nonsense.
    #[error("{0}")]
    Outside(String),
    /// Our own fault.
    #[error("something went wrong; the error was logged")]
    Internal(String),
}

impl Problem {
    fn kind(&self) -> (StatusCode, &'static str, &'static str) {
        match self {
            Self::Malformed(_) => (StatusCode::BAD_REQUEST, "malformed", "Request not understood"),
            Self::SignedOut => (StatusCode::UNAUTHORIZED, "signed-out", "Not signed in"),
            Self::WrongPassword => (StatusCode::UNAUTHORIZED, "wrong-password", "Not signed in"),
            Self::Forbidden(_) => (StatusCode::FORBIDDEN, "forbidden", "Not allowed"),
            Self::NotFound => (StatusCode::NOT_FOUND, "not-found", "Not found"),
            Self::Method => (StatusCode::METHOD_NOT_ALLOWED, "method", "Method not allowed"),
            Self::MediaType => (StatusCode::UNSUPPORTED_MEDIA_TYPE, "media-type", "Not JSON"),
            Self::Conflict(_) => (StatusCode::CONFLICT, "conflict", "Already in use"),
            Self::AnotherPerson => (StatusCode::CONFLICT, "another-person", "Written by someone else"),
            Self::Overtaken(_) => (StatusCode::CONFLICT, "overtaken", "Changed in the meantime"),
            Self::Busy => (StatusCode::SERVICE_UNAVAILABLE, "busy", "Busy"),
            Self::Away => (StatusCode::SERVICE_UNAVAILABLE, "away", "Ledger unavailable"),
            Self::Slow(_) => (StatusCode::REQUEST_TIMEOUT, "slow", "Timed out"),
            Self::TooLarge(_) => (StatusCode::PAYLOAD_TOO_LARGE, "too-large", "Too large"),
            Self::Refused(_) => (StatusCode::UNPROCESSABLE_ENTITY, "refused", "Check the entries"),
            Self::Unusual(_) => (StatusCode::UNPROCESSABLE_ENTITY, "unusual", "Unusual value"),
            Self::TooMany(_) => (StatusCode::TOO_MANY_REQUESTS, "too-many", "Too many attempts"),
            Self::Outside(_) => (StatusCode::BAD_GATEWAY, "outside", "An outside service failed"),
            Self::Internal(_) => (StatusCode::INTERNAL_SERVER_ERROR, "internal", "Server error"),
        }
    }

    /// The same in a reader's units, when it is known who reads.
    fn detail(&self, reader: Option<Reader>) -> String {
        match self {
            Self::Refused(refused) => refused.told(reader),
            Self::Unusual(refused) => format!("unusual value: {}", refused.told(reader)),
            Self::Overtaken(said) => said.told(reader),
            other => other.to_string(),
        }
    }

    /// The document sent.
    pub fn document(&self, reader: Option<Reader>) -> ProblemDocument {
        let (status, kind, title) = self.kind();
        let told = |refusal: &Refusal| Refusal { detail: refusal.detail.told(reader).into(), ..refusal.clone() };
        let errors = match self {
            Self::Refused(refused) | Self::Unusual(refused) => refused.0.iter().map(told).collect(),
            _ => vec![],
        };
        ProblemDocument {
            kind: format!("/problems/{kind}"),
            title: title.to_owned(),
            status: status.as_u16(),
            detail: self.detail(reader),
            errors,
        }
    }
}

impl ResponseError for Problem {
    fn status_code(&self) -> StatusCode {
        self.kind().0
    }

    fn error_response(&self) -> HttpResponse {
        if let Self::Internal(cause) = self {
            tracing::error!("{cause}");
        }
        self.response(None)
    }
}

impl Problem {
    /// The answer, in a reader's units where it is known who reads.
    pub fn response(&self, reader: Option<Reader>) -> HttpResponse {
        let mut response = HttpResponse::build(self.status_code());
        match self {
            Self::TooMany(seconds) => drop(response.insert_header(("retry-after", seconds.to_string()))),
            Self::Busy | Self::Away => drop(response.insert_header(("retry-after", "2"))),
            _ => {}
        }
        let body = serde_json::to_string(&self.document(reader)).unwrap_or_default();
        response.content_type("application/problem+json").body(body)
    }

    /// Whether it speaks of amounts.
    pub fn speaks_of_fields(&self) -> bool {
        matches!(self, Self::Refused(_) | Self::Unusual(_) | Self::Overtaken(_))
    }
}

impl From<ledger::Error> for Problem {
    fn from(error: ledger::Error) -> Self {
        match error {
            ledger::Error::NotFound => Self::NotFound,
            ledger::Error::Conflict(detail) => Self::Conflict(detail),
            ledger::Error::Refused(refused) => Self::Refused(refused),
            ledger::Error::Overtaken(said) => Self::Overtaken(said),
            ledger::Error::Busy => {
                tracing::warn!("no connection came free in time");
                Self::Busy
            }
            ledger::Error::Slow => {
                tracing::warn!("the database took too long over a statement or a lock");
                Self::Busy
            }
            ledger::Error::Connection(cause) => {
                tracing::error!("the database is away: {cause}");
                Self::Away
            }
            other => Self::Internal(other.to_string()),
        }
    }
}
