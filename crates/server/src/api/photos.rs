//! Pictures over HTTP: kept small, without what a camera writes beside them.

use actix_web::{HttpResponse, get, http::header, post, web};
use agronomy::{refusal::Refused, said, said::Said};
use base64::{Engine, engine::general_purpose::STANDARD};
use ledger::photo;
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    app::State,
    body::{Body, Shown},
    problem::{Problem, ProblemDocument},
    sign_in::Member,
};

/// A picture to keep.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewPhoto {
    /// Made by the client: the same submission is the same picture.
    pub id: Uuid,
    /// A JPEG of at most 500,000 bytes, in Base64.
    pub jpeg: String,
}

/// A picture that is kept.
#[derive(Debug, Serialize, ToSchema)]
pub struct PhotoKept {
    /// SHA-256 of its bytes, in hexadecimal: what the entry holds.
    pub sha256: String,
}

/// Why bytes are no picture that is kept. A camera's own notes (EXIF: place, owner, serial number) have no business in a
/// ledger that an adviser reads.
pub fn wrong(jpeg: &[u8]) -> Option<Said> {
    if jpeg.len() > photo::LARGEST {
        return Some(said!("{} bytes; a picture of at most {} is kept", jpeg.len() as f64, photo::LARGEST as f64));
    }
    if !(jpeg.starts_with(&[0xff, 0xd8, 0xff]) && jpeg.ends_with(&[0xff, 0xd9])) {
        return Some("this is no JPEG, or not the whole of one".into());
    }
    // Segments before the picture itself: marker, length, content (ITU-T T.81, annex B).
    let mut at = 2;
    while let [0xff, marker, high, low, ..] = jpeg[at..] {
        match marker {
            0xda => return None,
            0xe1 => return Some("it carries a camera\u{2019}s own notes, its place among them: take them out".into()),
            _ => at += 2 + usize::from(u16::from_be_bytes([high, low])),
        }
        if at >= jpeg.len() {
            break;
        }
    }
    Some("this is no JPEG, or not the whole of one".into())
}

/// Keep a picture; an entry of the kind `photo` then tells of it.
#[utoipa::path(params(("farm" = Uuid, Path)), request_body = NewPhoto, responses(
    (status = 200, body = PhotoKept),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 413, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/photos")]
pub async fn keep(
    state: web::Data<State>,
    member: Member,
    Body(new): Body<NewPhoto>,
) -> Result<Shown<PhotoKept>, Problem> {
    member.records()?;
    let no_base64 = |_| Refused::one("/jpeg", "this is no Base64");
    let jpeg = STANDARD.decode(&new.jpeg).map_err(no_base64)?;
    if let Some(detail) = wrong(&jpeg) {
        return Err(Refused::one("/jpeg", detail).into());
    }
    let sha256: String = Sha256::digest(&jpeg).iter().map(|byte| format!("{byte:02x}")).collect();
    let mut connection = state.pool.get().await?;
    photo::keep(&mut connection, &member.membership, new.id, (&jpeg, &sha256)).await?;
    Ok(Shown(member.reader(), PhotoKept { sha256 }))
}

/// A picture.
#[utoipa::path(params(("farm" = Uuid, Path), ("photo" = Uuid, Path)), responses(
    (status = 200, body = Vec<u8>, content_type = "image/jpeg"),
    (status = 404, body = ProblemDocument, content_type = "application/problem+json")))]
#[get("/farms/{farm}/photos/{photo}")]
pub async fn show(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
) -> Result<HttpResponse, Problem> {
    let mut connection = state.pool.get().await?;
    let jpeg = photo::one(&mut connection, &member.membership, path.1).await?;
    // It never changes; it is the farm's own: no shared cache keeps it, and none shows it once the session is another.
    let mut answer = HttpResponse::Ok();
    answer
        .content_type("image/jpeg")
        .insert_header((header::CACHE_CONTROL, "private, max-age=31536000, immutable"))
        .insert_header((header::VARY, "cookie"));
    Ok(answer.body(jpeg))
}
