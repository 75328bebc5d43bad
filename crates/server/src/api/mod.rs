//! The JSON API under `/api`, described by the document this module generates.

pub mod account;
pub mod entries;
pub mod fields;
pub mod ground;
pub mod library;
pub mod lots;
pub mod reckoning;
pub mod season;
pub mod stands;
pub mod station;
mod story;
pub mod water;
pub mod weather;
pub mod weather_files;
pub mod windows;

use std::sync::LazyLock;

use actix_web::web;
use utoipa::{
    OpenApi, PartialSchema,
    openapi::{
        ContentBuilder, HttpMethod, PathItem, Required, ResponseBuilder, path::OperationBuilder,
        request_body::RequestBodyBuilder,
    },
};

use crate::{
    problem::ProblemDocument,
    reckon::{Schemas, topics},
};

#[derive(OpenApi)]
#[openapi(
    info(title = "Ink Meadow", description = "Plans, times, measures and records forage stands."),
    paths(
        account::health,
        account::first_visit,
        account::make_owner,
        account::sign_in,
        account::sign_out,
        account::me,
        account::settle,
        account::zone,
        library::crops,
        library::shelf,
        reckoning::read,
        season::season,
        fields::list,
        fields::one,
        fields::add,
        ground::one,
        ground::materials,
        ground::import_tests,
        ground::send_sample,
        ground::fetch_report,
        ground::clock,
        lots::list,
        lots::add,
        lots::sample,
        stands::preview,
        stands::start,
        stands::one,
        weather::of_farm,
        windows::windows,
        station::set_up,
        station::ask_now,
        weather_files::read_in,
        weather_files::files,
        weather_files::record,
        weather::hours,
        station::probe,
        water::water,
        entries::list,
        entries::one,
        entries::write,
        entries::strike,
    ),
    components(schemas(ProblemDocument))
)]
struct Document;

/// The OpenAPI 3.1 document.
pub fn document() -> utoipa::openapi::OpenApi {
    let mut document = Document::openapi();
    let mut schemas = Schemas::new();
    for topic in topics() {
        let (request, answer) = topic.schemas(&mut schemas);
        let json = |schema| ContentBuilder::new().schema(Some(schema)).build();
        let body = RequestBodyBuilder::new().content("application/json", json(request)).required(Some(Required::True));
        let answered =
            ResponseBuilder::new().description("value, working and cautions").content("application/json", json(answer));
        let refused = ResponseBuilder::new().description("a field can\u{2019}t be taken").content(
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
    let components = document.components.get_or_insert_default();
    for (name, schema) in schemas {
        components.schemas.entry(name).or_insert(schema);
    }
    components.schemas.entry("ProblemDocument".to_owned()).or_insert_with(ProblemDocument::schema);
    document
}

/// Operations named by method and address: handlers of one name in several modules must not clash.
fn name_operations(document: &mut utoipa::openapi::OpenApi) {
    for (path, item) in &mut document.paths.paths {
        let name = path.trim_start_matches("/api/").replace(['/', '.', '-'], "_").replace(['{', '}'], "");
        let operations =
            [("get", &mut item.get), ("post", &mut item.post), ("patch", &mut item.patch), ("put", &mut item.put)];
        for (method, operation) in operations {
            if let Some(operation) = operation {
                operation.operation_id = Some(format!("{method}_{name}"));
            }
        }
    }
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

/// All addresses.
pub fn routes(config: &mut web::ServiceConfig) {
    config
        .route("/openapi.json", web::get().to(document_answer))
        .route("/health", web::get().to(account::health))
        .route("/first-visit", web::get().to(account::first_visit))
        .route("/first-visit", web::post().to(account::make_owner))
        .route("/sign-in", web::post().to(account::sign_in))
        .route("/sign-out", web::post().to(account::sign_out))
        .route("/me", web::get().to(account::me))
        .route("/me", web::patch().to(account::settle))
        .route("/time-zone", web::get().to(account::zone))
        .route("/crops", web::get().to(library::crops))
        .route("/shelf", web::get().to(library::shelf))
        .route("/read", web::post().to(reckoning::read))
        .route("/reckon/{topic}", web::post().to(reckoning::reckon))
        .route("/farms/{farm}/season", web::get().to(season::season))
        .route("/farms/{farm}/fields", web::get().to(fields::list))
        .route("/farms/{farm}/fields", web::post().to(fields::add))
        .route("/farms/{farm}/fields/{field}", web::get().to(fields::one))
        .route("/farms/{farm}/fields/{field}/ground", web::get().to(ground::one))
        .route("/farms/{farm}/fields/{field}/samples", web::post().to(ground::send_sample))
        .route("/farms/{farm}/fields/{field}/samples/{sample}/report", web::post().to(ground::fetch_report))
        .route("/farms/{farm}/materials", web::get().to(ground::materials))
        .route("/farms/{farm}/soil-tests", web::post().to(ground::import_tests))
        .route("/farms/{farm}/clock", web::post().to(ground::clock))
        .route("/farms/{farm}/weather", web::get().to(weather::of_farm))
        .route("/farms/{farm}/weather/files", web::get().to(weather_files::files))
        .route("/farms/{farm}/weather/files", web::post().to(weather_files::read_in))
        .route("/farms/{farm}/weather/record.csv", web::get().to(weather_files::record))
        .route("/farms/{farm}/weather/hours", web::get().to(weather::hours))
        .route("/farms/{farm}/windows", web::post().to(windows::windows))
        .route("/farms/{farm}/station", web::put().to(station::set_up))
        .route("/farms/{farm}/station/ask", web::post().to(station::ask_now))
        .route("/farms/{farm}/fields/{field}/probe", web::post().to(station::probe))
        .route("/farms/{farm}/fields/{field}/irrigation", web::get().to(water::water))
        .route("/farms/{farm}/lots", web::get().to(lots::list))
        .route("/farms/{farm}/lots", web::post().to(lots::add))
        .route("/farms/{farm}/lots/{lot}/sample", web::post().to(lots::sample))
        .route("/farms/{farm}/plan", web::post().to(stands::preview))
        .route("/farms/{farm}/stands", web::post().to(stands::start))
        .route("/farms/{farm}/stands/{stand}", web::get().to(stands::one))
        .route("/farms/{farm}/entries", web::get().to(entries::list))
        .route("/farms/{farm}/entries", web::post().to(entries::write))
        .route("/farms/{farm}/entries/{entry}", web::get().to(entries::one))
        .route("/farms/{farm}/entries/{entry}/strike", web::post().to(entries::strike));
}
