//! Reckoning by topic, and reading what people write.

use actix_web::{HttpRequest, post, web};
use agronomy::{
    crop::{crop_of, read_amount},
    refusal::Refused,
    units::{Reader, System, Understood, Unit},
};
use serde::Deserialize;
use serde_json::Value;
use utoipa::ToSchema;

use crate::{
    app::State,
    body::Body,
    problem::{Problem, ProblemDocument},
    reckon::topic,
    sign_in::{SignedIn, reader_of},
};

/// Work a topic out; described per topic in the document.
///
/// # Errors
/// [`Problem::NotFound`] for an unknown topic, [`Problem::Refused`] per field.
pub async fn reckon(
    name: web::Path<String>,
    state: web::Data<State>,
    SignedIn(person): SignedIn,
    asked: HttpRequest,
    Body(request): Body<Value>,
) -> Result<web::Json<Value>, Problem> {
    let topic = topic(&name).ok_or(Problem::NotFound)?;
    // A person reads their own units, whatever the request was written in.
    let reader = reader_of(&asked, &person);
    Ok(web::Json(state.work.run(person.id, move || topic.answer(request, Some(reader))).await??))
}

/// Something written in a field.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Written {
    /// As typed.
    pub text: String,
    /// The unit a bare number is in, which also says what is measured.
    pub bare: String,
    /// The units to read it in; the person's when absent.
    pub units: Option<System>,
    /// Crop of the library that the amount is of: by its legal weight bushels are read.
    pub crop: Option<String>,
}

/// What does this text say?
#[utoipa::path(request_body = Written, responses(
    (status = 200, body = Understood),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/read")]
pub async fn read(
    SignedIn(person): SignedIn,
    asked: HttpRequest,
    Body(written): Body<Written>,
) -> Result<web::Json<Understood>, Problem> {
    let bare: Unit = written.bare.parse().map_err(|error| Refused::one("/bare", format!("{error}")))?;
    let usual = reader_of(&asked, &person);
    let reader = Reader { system: written.units.unwrap_or(usual.system), ..usual };
    let crop = written.crop.as_deref().map(|id| crop_of(id, "/crop")).transpose()?;
    let understood = read_amount(&written.text, bare.dimension(), bare, reader, crop);
    Ok(web::Json(understood.map_err(|detail| Refused::one("/text", detail))?))
}
