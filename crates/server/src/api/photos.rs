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
        return Some(said!("photo is {} bytes; the limit is {}", jpeg.len() as f64, photo::LARGEST as f64));
    }
    if !(jpeg.starts_with(&[0xff, 0xd8, 0xff]) && jpeg.ends_with(&[0xff, 0xd9])) {
        return Some("not a JPEG, or the file is incomplete".into());
    }
    match only_a_picture(jpeg) {
        Ok(true) => None,
        Ok(false) => Some("the photo has camera data, including location; remove it".into()),
        Err(NoJpeg) => Some("not a JPEG, or the file is incomplete".into()),
    }
}

struct NoJpeg;

/// Whether there is nothing in a JPEG but a picture: what a camera, a telephone or a program writes beside it may stand
/// before the picture, between its scans, or behind its end (ITU-T T.81, annex B; what applications write into their
/// segments: JFIF 1.02, ICC.1 annex B.4, and for notes Exif 2.3).
fn only_a_picture(jpeg: &[u8]) -> Result<bool, NoJpeg> {
    let mut at = 2;
    let (mut drawn, mut only) = (false, true);
    loop {
        let [0xff, marker, ref rest @ ..] = jpeg[at.min(jpeg.len())..] else { return Err(NoJpeg) };
        match marker {
            // A marker may be led by any number of these.
            0xff => {
                at += 1;
                continue;
            }
            0xd9 => return if drawn { Ok(only && rest.is_empty()) } else { Err(NoJpeg) },
            0x00 | 0x01 | 0xd0..=0xd8 => return Err(NoJpeg),
            _ => {}
        }
        let [high, low, ..] = *rest else { return Err(NoJpeg) };
        let length = usize::from(u16::from_be_bytes([high, low]));
        let content = rest.get(2..length).ok_or(NoJpeg)?;
        only &= match marker {
            // How the picture is to be shown, and by which colours.
            0xe0 => !content.starts_with(b"JFXX"),
            0xe2 => content.starts_with(b"ICC_PROFILE\0"),
            0xee => true,
            0xe1..=0xef | 0xfe => false,
            _ => true,
        };
        at += 2 + length;
        if marker == 0xda {
            drawn = true;
            // The scan itself, up to the next marker: in it one is written as FF 00, and restarts belong to it.
            let scan = &jpeg[at.min(jpeg.len())..];
            let ends = scan.windows(2).position(|two| two[0] == 0xff && !matches!(two[1], 0x00 | 0xd0..=0xd7));
            at += ends.ok_or(NoJpeg)?;
        }
    }
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
    let no_base64 = |_| Refused::one("/jpeg", "this is not Base64");
    let jpeg = STANDARD.decode(&new.jpeg).map_err(no_base64)?;
    if let Some(detail) = wrong(&jpeg) {
        return Err(Refused::one("/jpeg", detail).into());
    }
    let sha256 = hex::encode(Sha256::digest(&jpeg));
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
