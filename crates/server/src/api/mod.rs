//! The JSON API under `/api`, described by the document this module generates.

pub mod access;
pub mod account;
pub mod air;
pub mod backups;
pub mod beside;
pub mod choosing;
pub mod counts;
mod doubts;
pub mod entries;
pub mod farms;
pub mod fields;
pub mod forage;
pub mod ground;
pub mod growth;
pub mod library;
pub mod lots;
pub mod mixes;
pub mod people;
pub mod photos;
pub mod reckoning;
pub mod rest;
pub mod scale;
pub mod season;
pub mod stands;
pub mod station;
pub mod store;
mod story;
pub mod varieties;
pub mod water;
pub mod weather;
pub mod weather_files;
pub mod windows;

use std::sync::LazyLock;

use actix_web::{App, web};
use utoipa::{
    OpenApi, PartialSchema,
    openapi::{
        ContentBuilder, HttpMethod, PathItem, RefOr, Required, ResponseBuilder,
        path::{OperationBuilder, Parameter, ParameterIn},
        request_body::RequestBodyBuilder,
    },
};

use utoipa_actix_web::{AppExt, service_config::ServiceConfig};

use crate::{
    problem::ProblemDocument,
    reckon::{Schemas, topics},
};

#[derive(OpenApi)]
#[openapi(
    info(title = "Ink Meadow", description = "Plans, times, measures and records forage stands."),
    components(schemas(ProblemDocument))
)]
struct Document;

/// The OpenAPI 3.1 document.
pub fn document() -> utoipa::openapi::OpenApi {
    let api = utoipa_actix_web::scope("/api").configure(handlers);
    let app = App::new().into_utoipa_app().openapi(Document::openapi()).service(api);
    let (_, mut document) = app.split_for_parts();
    let mut schemas = Schemas::new();
    for topic in topics() {
        let (request, answer) = topic.schemas(&mut schemas);
        let json = |schema| ContentBuilder::new().schema(Some(schema)).build();
        let body = RequestBodyBuilder::new().content("application/json", json(request)).required(Some(Required::True));
        let answered =
            ResponseBuilder::new().description("value, working and cautions").content("application/json", json(answer));
        let refused = ResponseBuilder::new().description("a field is not valid").content(
            "application/problem+json",
            json(utoipa::openapi::Ref::from_schema_name("ProblemDocument").into()),
        );
        let operation = OperationBuilder::new()
            .summary(Some(topic.about))
            .tag("reckon")
            .request_body(Some(body.build()))
            .response("200", answered.build())
            .response("422", refused.build());
        let item = PathItem::new(HttpMethod::Post, operation.build());
        document.paths.paths.insert(format!("/api/reckon/{}", topic.name), item);
    }
    name_operations(&mut document);
    tell_refusals(&mut document);
    let components = document.components.get_or_insert_default();
    for (name, schema) in schemas {
        components.schemas.entry(name).or_insert(schema);
    }
    components.schemas.entry("ProblemDocument".to_owned()).or_insert_with(ProblemDocument::schema);
    document
}

/// Operations named by method and address, and gathered by what they are about: handlers of one name in
/// several modules must not clash.
fn name_operations(document: &mut utoipa::openapi::OpenApi) {
    for (path, item) in &mut document.paths.paths {
        let name = path.trim_start_matches("/api/").replace(['/', '.', '-'], "_").replace(['{', '}'], "");
        let subject =
            path.trim_start_matches("/api/").trim_start_matches("farms/{farm}/").split('/').next().unwrap_or_default();
        let subject = subject.to_owned();
        let operations =
            [("get", &mut item.get), ("post", &mut item.post), ("patch", &mut item.patch), ("put", &mut item.put)];
        for (method, operation) in operations {
            if let Some(operation) = operation {
                operation.operation_id = Some(format!("{method}_{name}"));
                operation.tags.get_or_insert_with(|| vec![subject.to_owned()]);
            }
        }
    }
}

/// What any operation may answer beside its own: a body that can't be read, nobody signed in, a turn that did not
/// come. Clients read one kind of document for all of them.
fn tell_refusals(document: &mut utoipa::openapi::OpenApi) {
    let problem = |description: &str| {
        let content = ContentBuilder::new().schema(Some(utoipa::openapi::Ref::from_schema_name("ProblemDocument")));
        ResponseBuilder::new().description(description).content("application/problem+json", content.build()).build()
    };
    let any = [
        ("403", "not allowed for this person, or requested from another site"),
        ("404", "not found, or on another farm"),
        ("405", "method not allowed"),
        ("500", "server error; see the log"),
        ("503", "busy or database unavailable; retry shortly"),
    ];
    let signed_in = [("401", "not signed in")];
    let with_body = [
        ("400", "the body is not JSON"),
        ("408", "the body arrived too late"),
        ("409", "already used, or changed in the meantime"),
        ("413", "the body is too large"),
        ("415", "the body is not sent as application/json"),
        ("422", "a field is not valid"),
    ];
    // These are asked before anybody has signed in.
    let open =
        ["/api/health", "/api/openapi.json", "/api/first-visit", "/api/time-zone", "/api/sign-in", "/api/sign-out"];
    let by_link = ["/api/invitations/{key}", "/api/invitations/{key}/sign-up", "/api/resets/{key}"];
    for (path, item) in &mut document.paths.paths {
        for operation in [&mut item.get, &mut item.post, &mut item.patch, &mut item.put, &mut item.delete] {
            let Some(operation) = operation else { continue };
            let body: &[_] = if operation.request_body.is_some() { &with_body } else { &[] };
            let person: &[_] = if open.iter().chain(&by_link).any(|open| open == path) { &[] } else { &signed_in };
            let asks = operation.parameters.iter().flatten().any(in_query);
            let query: &[_] = if asks { &[("422", "the address asks for something that does not exist")] } else { &[] };
            for (status, description) in any.iter().chain(body).chain(person).chain(query) {
                let responses = &mut operation.responses.responses;
                responses.entry((*status).to_owned()).or_insert_with(|| problem(description).into());
            }
        }
    }
}

fn in_query(parameter: &RefOr<Parameter>) -> bool {
    matches!(parameter, RefOr::T(one) if one.parameter_in == ParameterIn::Query)
}

async fn document_answer() -> web::Json<utoipa::openapi::OpenApi> {
    web::Json(document())
}

/// The methods an address of the API takes; none when there is no such address.
pub fn methods_of(path: &str) -> Vec<&'static str> {
    static DOCUMENT: LazyLock<serde_json::Value> =
        LazyLock::new(|| serde_json::to_value(document()).unwrap_or_default());
    let fits = |template: &str| {
        let (mut asked, mut known) = (path.split('/'), template.split('/'));
        loop {
            match (asked.next(), known.next()) {
                (None, None) => return true,
                (Some(part), Some(name)) if name.starts_with('{') && !part.is_empty() => {}
                (Some(part), Some(name)) if part == name => {}
                _ => return false,
            }
        }
    };
    let paths = DOCUMENT["paths"].as_object();
    let item = paths.into_iter().flatten().filter(|(template, _)| fits(template)).map(|(_, item)| item);
    let methods = item.filter_map(|item| item.as_object()).flat_map(|item| item.keys());
    methods
        .filter_map(|method| match method.as_str() {
            "get" => Some("GET"),
            "post" => Some("POST"),
            "put" => Some("PUT"),
            "patch" => Some("PATCH"),
            "delete" => Some("DELETE"),
            _ => None,
        })
        .collect()
}

/// All addresses, each of which stands at its handler and nowhere else. What is documented is what is served.
fn handlers(config: &mut ServiceConfig) {
    config
        .route("/openapi.json", web::get().to(document_answer))
        // Described once a topic, above.
        .route("/reckon/{topic}", web::post().to(reckoning::reckon))
        .service(account::health)
        .service(account::first_visit)
        .service(account::make_owner)
        .service(account::sign_in)
        .service(account::sign_out)
        .service(account::me)
        .service(account::settle)
        .service(account::zone_at)
        .service(access::sessions)
        .service(access::end_sessions)
        .service(access::change_password)
        .service(access::make_reset)
        .service(access::read_reset)
        .service(access::take_reset)
        .service(farms::read_one)
        .service(farms::add)
        .service(farms::correct)
        .service(farms::close)
        .service(farms::take_along)
        .service(farms::signing_key)
        .service(backups::backups)
        .service(people::list)
        .service(people::change)
        .service(people::invite)
        .service(people::withdraw)
        .service(people::asked)
        .service(people::join)
        .service(people::sign_up)
        .service(library::crops)
        .service(choosing::page)
        .service(choosing::climate_of)
        .service(choosing::ranking)
        .service(library::shelf)
        .service(reckoning::read)
        .service(season::season)
        .service(fields::list)
        .service(fields::export)
        .service(fields::add)
        .service(fields::read_one)
        .service(fields::correct)
        .service(fields::split)
        .service(fields::join)
        .service(ground::read_ground)
        .service(ground::send_sample)
        .service(ground::fetch_report)
        .service(forage::lots)
        .service(store::machines)
        .service(store::products)
        .service(store::materials)
        .service(mixes::mixes)
        .service(varieties::varieties)
        .service(ground::import_tests)
        .service(ground::clock)
        .service(weather::of_farm)
        .service(weather_files::files)
        .service(weather_files::read_in)
        .service(weather_files::record)
        .service(weather::hours)
        .service(air::now)
        .service(air::for_spray)
        .service(windows::windows)
        .service(station::set_up)
        .service(station::ask_now)
        .service(station::probe)
        .service(water::water)
        .service(growth::read)
        .service(growth::cut)
        .service(lots::list)
        .service(lots::add)
        .service(lots::sample)
        .service(counts::made)
        .service(photos::keep)
        .service(photos::show)
        .service(rest::of_sowing)
        .service(scale::weigh)
        .service(stands::preview)
        .service(beside::beside)
        .service(stands::start)
        .service(stands::read_one)
        .service(entries::list)
        .service(entries::write)
        .service(entries::read_one)
        .service(entries::strike);
}

/// All addresses of the API, for its scope.
pub fn routes(config: &mut web::ServiceConfig) {
    handlers(&mut ServiceConfig::new(config));
}
