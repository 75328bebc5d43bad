//! The built front end: its files as they lie there, compressed when they were built.
//!
//! Names under `assets/` carry a digest of what they hold, so that a browser may keep them for ever;
//! everything else is asked about each time it is used. An address that is no file is a page of the
//! front end's own, unless it looks like a file: a missing script is missing, never the page.

use std::path::{Component, Path, PathBuf};

use actix_files::NamedFile;
use actix_web::{
    HttpRequest, HttpResponse, ResponseError,
    http::{
        Method,
        header::{ACCEPT_ENCODING, CACHE_CONTROL, ContentEncoding, HeaderValue, VARY},
    },
    mime, web,
};

use crate::problem::Problem;

/// A digest is part of the name: what it holds never changes.
const FOR_EVER: &str = "public, max-age=31536000, immutable";
/// Kept, but asked about before each use.
const ASK_FIRST: &str = "no-cache";

/// Encodings that files are compressed in at build, the smallest first.
const ENCODINGS: [(&str, &str, ContentEncoding); 2] =
    [("br", "br", ContentEncoding::Brotli), ("gzip", "gz", ContentEncoding::Gzip)];

/// Serve a folder's files at every address that nothing else answers.
pub fn screens(config: &mut web::ServiceConfig, folder: Option<PathBuf>) {
    let Some(folder) = folder else { return };
    config.default_service(web::to(move |request: HttpRequest| {
        let answer = answer(&folder, &request);
        async move { answer }
    }));
}

fn answer(folder: &Path, request: &HttpRequest) -> HttpResponse {
    if ![Method::GET, Method::HEAD].contains(request.method()) {
        return Problem::Method.error_response();
    }
    let Some(inside) = inside(request.path()) else { return Problem::NotFound.error_response() };
    let file = folder.join(&inside);
    if !inside.as_os_str().is_empty() && file.is_file() {
        return sent(&file, request, inside.starts_with("assets"));
    }
    if inside.starts_with("assets") || inside.extension().is_some() {
        return Problem::NotFound.error_response();
    }
    sent(&folder.join("index.html"), request, false)
}

/// The path below the folder that an address asks for; nothing for one that leads out of it.
pub fn inside(address: &str) -> Option<PathBuf> {
    let path = PathBuf::from(address.trim_start_matches('/'));
    path.components().all(|part| matches!(part, Component::Normal(_))).then_some(path)
}

/// Whether a browser takes an encoding: named, and not with a weight of nothing.
pub fn takes(accepted: Option<&HeaderValue>, encoding: &str) -> bool {
    let Some(accepted) = accepted.and_then(|value| value.to_str().ok()) else { return false };
    accepted.split(',').any(|one| {
        let mut parts = one.split(';').map(str::trim);
        let named = parts.next().is_some_and(|name| name.eq_ignore_ascii_case(encoding));
        let weight = parts.find_map(|part| part.strip_prefix("q=")?.parse::<f64>().ok());
        named && weight.is_none_or(|weight| weight > 0.0)
    })
}

fn sent(file: &Path, request: &HttpRequest, for_ever: bool) -> HttpResponse {
    let accepted = request.headers().get(ACCEPT_ENCODING);
    let smaller = ENCODINGS.iter().find_map(|(name, suffix, encoding)| {
        let lies_at = PathBuf::from(format!("{}.{suffix}", file.display()));
        (takes(accepted, name) && lies_at.is_file()).then_some((lies_at, *encoding))
    });
    let extension = file.extension().and_then(|extension| extension.to_str()).unwrap_or_default();
    let kind = match extension {
        "webmanifest" => mime::APPLICATION_JSON,
        other => actix_files::file_extension_to_mime(other),
    };
    let opened = match &smaller {
        Some((lies_at, encoding)) => NamedFile::open(lies_at).map(|file| file.set_content_encoding(*encoding)),
        None => NamedFile::open(file),
    };
    let Ok(opened) = opened else { return Problem::NotFound.error_response() };
    let mut response =
        opened.prefer_utf8(true).disable_content_disposition().set_content_type(kind).into_response(request);
    let caching = if for_ever { FOR_EVER } else { ASK_FIRST };
    response.headers_mut().insert(CACHE_CONTROL, HeaderValue::from_static(caching));
    response.headers_mut().insert(VARY, HeaderValue::from_static("accept-encoding"));
    response
}
