//! Counts and times of the service, in the text form that Prometheus and others read (OpenMetrics' predecessor,
//! exposition format 0.0.4).
//!
//! They go out on a port of their own, on loopback, never beside the application: what is asked how often is nothing
//! for everybody.

use std::time::Duration;

use actix_web::{
    App, HttpResponse, HttpServer,
    dev::Server,
    http::{Method, StatusCode},
    web,
};
use prometheus::{Encoder, HistogramOpts, HistogramVec, IntCounterVec, IntGauge, Opts, Registry, TextEncoder};

use crate::app::State;

/// Bounds of the times, in seconds: from what nobody notices to the longest that a call may take.
const SECONDS: [f64; 11] = [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1.0, 2.5, 10.0, 60.0];

/// Methods of HTTP (RFC 9110, section 9; PATCH: RFC 5789).
const KNOWN: [Method; 9] = [
    Method::GET,
    Method::HEAD,
    Method::POST,
    Method::PUT,
    Method::PATCH,
    Method::DELETE,
    Method::OPTIONS,
    Method::TRACE,
    Method::CONNECT,
];

/// What is counted.
pub struct Metrics {
    registry: Registry,
    calls: IntCounterVec,
    seconds: HistogramVec,
    connections: IntGauge,
    connections_taken: IntGauge,
    connections_waited_for: IntGauge,
    slow_statements: IntGauge,
    reckonings: IntGauge,
    reckonings_waiting: IntGauge,
    reckonings_for_nobody: IntGauge,
}

impl Default for Metrics {
    /// # Panics
    /// Never: names are ours and each is given once.
    fn default() -> Self {
        let registry = Registry::new();
        let gauge = |name: &str, help: &str| {
            let gauge = IntGauge::new(name, help).expect("a name");
            registry.register(Box::new(gauge.clone())).expect("given once");
            gauge
        };
        let connections = gauge("ink_connections", "Connections to the database that may be open");
        let connections_taken = gauge("ink_connections_taken", "Connections that are handed out");
        let connections_waited_for = gauge("ink_connections_waited_for", "Calls waiting for a connection");
        let slow_statements = gauge("ink_slow_statements", "Statements that took a quarter of a second or more");
        let reckonings = gauge("ink_reckonings", "Heavy calculations running");
        let reckonings_waiting = gauge("ink_reckonings_waiting", "Heavy calculations waiting");
        let reckonings_for_nobody = gauge("ink_reckonings_for_nobody", "Heavy calculations abandoned by the caller");
        let opts = Opts::new("ink_calls_total", "Calls of the API, by method, address and status");
        let calls = IntCounterVec::new(opts, &["method", "address", "status"]).expect("a name");
        let opts = HistogramOpts::new("ink_call_seconds", "How long calls of the API took").buckets(SECONDS.to_vec());
        let seconds = HistogramVec::new(opts, &["method", "address"]).expect("a name");
        registry.register(Box::new(calls.clone())).expect("given once");
        registry.register(Box::new(seconds.clone())).expect("given once");
        Self {
            registry,
            calls,
            seconds,
            connections,
            connections_taken,
            connections_waited_for,
            slow_statements,
            reckonings,
            reckonings_waiting,
            reckonings_for_nobody,
        }
    }
}

impl Metrics {
    /// Note a call: `address` is its pattern, so that there are no more of them than handlers. A method that HTTP does
    /// not have is one with all others: a caller may make up as many as they like.
    pub fn call(&self, method: &Method, address: &str, status: StatusCode, took: Duration) {
        let method = if KNOWN.contains(method) { method.as_str() } else { "other" };
        self.calls.with_label_values(&[method, address, status.as_str()]).inc();
        self.seconds.with_label_values(&[method, address]).observe(took.as_secs_f64());
    }

    /// All of it as text.
    pub fn told(&self, state: &State) -> String {
        let number = |count: usize| i64::try_from(count).unwrap_or(i64::MAX);
        let pool = state.pool.in_use();
        self.connections.set(number(pool.most));
        self.connections_taken.set(number(pool.taken));
        self.connections_waited_for.set(number(pool.waiting));
        self.slow_statements.set(i64::try_from(pool.slow_statements).unwrap_or(i64::MAX));
        self.reckonings.set(number(state.work.now()));
        self.reckonings_waiting.set(number(state.work.waiting()));
        self.reckonings_for_nobody.set(number(state.work.for_nobody()));
        let mut text = vec![];
        // Into memory, which has no errors of its own.
        let _ = TextEncoder::new().encode(&self.registry.gather(), &mut text);
        String::from_utf8(text).unwrap_or_default()
    }
}

/// Serve them at `/metrics` on a port of loopback.
///
/// # Errors
/// When the port is taken.
pub fn serve(port: u16, state: web::Data<State>) -> std::io::Result<Server> {
    let told = |state: web::Data<State>| async move {
        HttpResponse::Ok().content_type("text/plain; version=0.0.4").body(state.metrics.told(&state))
    };
    let app = move || App::new().app_data(state.clone()).route("/metrics", web::get().to(told));
    Ok(HttpServer::new(app).workers(1).disable_signals().bind(("127.0.0.1", port))?.run())
}
