//! Simulated outside services, so that the application can be tried without them.
//!
//! Each stand-in is a small HTTP service on loopback that speaks plain JSON, keeps no state, and
//! answers the same question the same way: what it makes up is seeded by what it is asked. A real
//! service of the kind would be reached through the same client in the server.
//!
//! | stand-in | asked | answers |
//! |---|---|---|
//! | [`seed_laboratory`] | a sample of a seed lot | purity and germination as a report document |
//! | [`soil_laboratory`] | a soil sample of a field | when its report is due, then the soil test |
//! | [`scale`] | what a cup of seed weighs | grams, and whether it has settled |
//! | [`weather_station`] | days, hours, a forecast, the soil on a morning | weather that could be, as the clock unfolds it |

pub mod scale;
pub mod seed_laboratory;
mod seeds;
pub mod soil_laboratory;
pub mod weather_station;

use actix_web::{App, HttpResponse, HttpServer, web};

/// Serve all stand-ins on a loopback port until stopped; the weather station with further places of
/// one's own.
///
/// # Errors
/// When the port can't be had.
pub async fn serve(port: u16, stations: weather_station::Stations) -> std::io::Result<()> {
    HttpServer::new(move || {
        App::new()
            .route("/health", web::get().to(|| async { HttpResponse::Ok().body("ok") }))
            .configure(seed_laboratory::routes)
            .configure(soil_laboratory::routes)
            .configure(scale::routes)
            .configure(|config| weather_station::routes(config, &stations))
    })
    .workers(1)
    .bind(("127.0.0.1", port))?
    .run()
    .await
}
