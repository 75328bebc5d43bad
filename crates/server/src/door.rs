//! What every call of the API passes on its way in and out: where it came from, how long it may take, and a line in
//! the log.

use std::{
    collections::BTreeSet,
    net::{IpAddr, Ipv4Addr},
    time::{Duration, Instant},
};

use actix_web::{
    Error, HttpRequest, ResponseError,
    body::{EitherBody, MessageBody},
    dev::{ServiceRequest, ServiceResponse},
    http::{Method, header},
    middleware::Next,
    web,
};

use crate::{
    app::State,
    body::{announced, arrives_in},
    problem::Problem,
};

/// How the service stands in the world.
#[derive(Debug, Clone, Default)]
pub struct Standing {
    /// It is reached by TLS (a proxy ends it): cookies are for TLS alone, and browsers are told to stay with it.
    pub tls: bool,
    /// Proxies whose word is taken for whom they speak for.
    pub proxies: BTreeSet<IpAddr>,
}

impl Standing {
    /// Who calls: the address at the other end, or whom a trusted proxy says it speaks for.
    ///
    /// Of a chain of proxies the last address that is no trusted proxy counts: what stands before it anybody may
    /// have written.
    pub fn caller(&self, request: &HttpRequest) -> IpAddr {
        let peer = request.peer_addr().map_or(Ipv4Addr::UNSPECIFIED.into(), |address| address.ip());
        if !self.proxies.contains(&peer) {
            return peer;
        }
        let told = request.headers().get_all("x-forwarded-for").filter_map(|value| value.to_str().ok());
        let chain: Vec<&str> = told.flat_map(|list| list.split(',')).map(str::trim).collect();
        let addresses = chain.iter().rev().map_while(|text| text.parse::<IpAddr>().ok());
        addresses.into_iter().find(|address| !self.proxies.contains(address)).unwrap_or(peer)
    }
}

/// The longest that a call may take from its last byte to its answer. Every wait inside has a shorter limit of its
/// own; this one is for a database that has gone silent in the middle of a sentence.
const CALL_IN: Duration = Duration::from_secs(30);
/// The same for a call that brings a file.
const FILE_IN: Duration = Duration::from_secs(420);
/// Ends of the addresses that take a file.
const FILES: [&str; 1] = ["/weather/files"];

/// Let a call in, see it out.
///
/// # Errors
/// A [`Problem`]: the handler's own, or that the call came from another site's page, took too long, or found no
/// database to ask who is signed in.
pub async fn door<B: MessageBody + 'static>(
    mut request: ServiceRequest,
    next: Next<B>,
) -> Result<ServiceResponse<EitherBody<B>>, Error> {
    let began = Instant::now();
    let (asked, path) = (request.method().clone(), request.path().to_owned());
    let caller = caller_of(request.request());
    if asked == Method::HEAD {
        // Answered as GET is; the body is left out where it is sent.
        request.head_mut().method = Method::GET;
    }
    if path == "/api/health" {
        // Whoever asks: the session is not looked up, which waits for the database that is asked about.
        request.headers_mut().remove(header::COOKIE);
    }
    let state = request.app_data::<web::Data<State>>().cloned();
    let address = request.match_pattern().unwrap_or_else(|| "none".to_owned());
    let path = told(path, &address);
    let standing = state.as_ref().map(|state| &state.standing);
    let answer = if from_elsewhere(&request, standing) {
        let problem = Problem::Forbidden("this request came from another site".to_owned());
        Ok(request.into_response(problem.error_response()).map_into_right_body())
    } else {
        // What is sent may take its time to arrive; the rest is as ever.
        let arrives = arrives_in(announced(request.request()));
        let within = if FILES.iter().any(|end| path.ends_with(end)) { FILE_IN } else { CALL_IN + arrives };
        match tokio::time::timeout(within, next.call(request)).await {
            Ok(Ok(answer)) => Ok(answer.map_into_left_body()),
            Ok(Err(error)) if error.as_error::<Problem>().is_some() => Err(error),
            // Handlers answer with problems; what is left is the session's own trouble with the database.
            Ok(Err(error)) => {
                tracing::error!("{asked} {path}: {error}");
                Err(Problem::Away.into())
            }
            Err(_) => {
                tracing::error!("{asked} {path} took longer than {} s", within.as_secs());
                Err(Problem::Busy.into())
            }
        }
    };
    let status = answer.as_ref().map_or_else(|error| error.as_response_error().status_code(), ServiceResponse::status);
    let took = began.elapsed();
    if let Some(state) = &state {
        state.metrics.call(&asked, &address, status, took);
    }
    tracing::info!(target: "access", "{caller} {asked} {path} {} {} ms", status.as_u16(), took.as_millis());
    answer
}

/// An address as the log tells it: a link's key opens a farm, and is nothing for a log.
pub fn told(path: String, pattern: &str) -> String {
    if pattern.contains("{key}") { pattern.to_owned() } else { path }
}

/// Who calls, by the standing of the application.
pub fn caller_of(request: &HttpRequest) -> IpAddr {
    let state = request.app_data::<web::Data<State>>();
    state.map_or_else(|| Standing::default().caller(request), |state| state.standing.caller(request))
}

/// A write that a browser says comes from another site's page. What is no browser says nothing, and holds no cookie.
/// A trusted proxy may call us by another name than browsers call it, and says by which they did.
fn from_elsewhere(request: &ServiceRequest, standing: Option<&Standing>) -> bool {
    if request.method().is_safe() {
        return false;
    }
    let word = |name: header::HeaderName| request.headers().get(name).and_then(|value| value.to_str().ok());
    if let Some(site) = word(header::HeaderName::from_static("sec-fetch-site"))
        && !["same-origin", "none"].contains(&site)
    {
        return true;
    }
    let Some(origin) = word(header::ORIGIN) else { return false };
    let host = origin.split_once("://").map_or(origin, |(_, host)| host);
    let peer = request.peer_addr().map(|address| address.ip());
    let by_proxy = standing.zip(peer).is_some_and(|(standing, peer)| standing.proxies.contains(&peer));
    let forwarded = word(header::HeaderName::from_static("x-forwarded-host")).filter(|_| by_proxy);
    forwarded.or(word(header::HOST)).is_none_or(|own| own != host)
}
