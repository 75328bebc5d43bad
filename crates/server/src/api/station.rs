//! A farm's instruments over HTTP: its station, and the soil probe of a field.

use actix_web::{post, put, web};
use agronomy::{
    refusal::Checks,
    units::{Length, Measure, Temperature, Unit},
    weather::Place,
};
use jiff::civil::Date;
use ledger::{
    entry::{Entry, NewEntry, Via},
    field, weather,
    weather::{SetUp, Station},
};
use records::{Payload, Subject, kinds::soil_temperature::SoilTemperature};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    api::entries::{EntryView, kept, write_own},
    app::State,
    body::{Body, Shown},
    problem::{Problem, ProblemDocument},
    sign_in::Member,
    station,
};

/// A farm's station, and how its weather stands.
#[derive(Debug, Serialize, ToSchema)]
pub struct StationView {
    /// Name.
    pub name: String,
    /// Degrees north.
    pub latitude: f64,
    /// Height above the sea.
    pub elevation: Length,
    /// What a weather service knows it by; none when it lives on files.
    pub code: Option<String>,
    /// The day, by the farm's clock, on which the service last answered.
    #[schema(value_type = Option<String>, format = Date)]
    pub heard_on: Option<Date>,
    /// What went wrong since.
    pub trouble: Option<String>,
    /// The first day of the record.
    #[schema(value_type = Option<String>, format = Date)]
    pub first: Option<Date>,
    /// The last.
    #[schema(value_type = Option<String>, format = Date)]
    pub last: Option<Date>,
    /// How many days old the last day is, yesterday being none.
    pub days_behind: i32,
    /// Days within it that don't tell.
    pub gaps: usize,
    /// Counts up with each correction: handed back with the next one as `after`.
    pub version: i32,
    /// The day the forecast begins, while it still tells of today.
    #[schema(value_type = Option<String>, format = Date)]
    pub forecast_from: Option<Date>,
}

impl StationView {
    /// As it stands, before its days are looked at.
    pub fn new(station: &Station) -> Self {
        Self {
            name: station.name.clone(),
            latitude: station.latitude,
            elevation: Length::new(station.elevation_m, Unit::M),
            code: station.code.clone(),
            heard_on: station.heard_on,
            trouble: station.trouble.clone(),
            first: None,
            last: None,
            days_behind: 0,
            gaps: 0,
            version: station.version,
            forecast_from: None,
        }
    }
}

/// A station to set up.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StationBody {
    /// Name.
    pub name: String,
    /// Degrees north; south negative.
    pub latitude: f64,
    /// Height above the sea.
    pub elevation: Length,
    /// What a weather service knows it by; none when it lives on files.
    #[serde(default)]
    pub code: Option<String>,
    /// The version of the station that the writer saw; none where there was none. One corrected by somebody else
    /// meanwhile is told instead of being overwritten unseen.
    #[serde(default)]
    pub after: Option<i32>,
}

/// Set a farm's station up, or correct it.
#[utoipa::path(params(("farm" = Uuid, Path)), request_body = StationBody, responses(
    (status = 200, body = StationView),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[put("/farms/{farm}/station")]
pub async fn set_up(
    state: web::Data<State>,
    member: Member,
    Body(body): Body<StationBody>,
) -> Result<Shown<StationView>, Problem> {
    member.decides()?;
    let mut checks = Checks::new();
    let length = body.name.trim().chars().count();
    checks.require((1..=200).contains(&length), "/name", "enter a station name, at most 200 characters");
    checks.require(
        (-90.0..=90.0).contains(&body.latitude),
        "/latitude",
        format!("Latitude is {}°; enter −90 to 90", body.latitude),
    );
    checks.within("/elevation", "Elevation", body.elevation, Unit::M, -430.0, 6_000.0);
    let code = body.code.as_deref().map(str::trim).filter(|code| !code.is_empty());
    // It becomes part of an address.
    let plain = |code: &str| code.len() <= 200 && code.chars().all(|c| c.is_ascii_alphanumeric() || "-_.".contains(c));
    checks.require(code.is_none_or(plain), "/code", "use only letters, digits, - _ and . in a station code");
    checks.require(
        code.is_none() || state.outside.weather_station.is_some(),
        "/code",
        "no weather service is set up; leave this blank and import files",
    );
    checks.done()?;
    let place = Place { latitude: body.latitude, elevation: body.elevation.base() };
    let new = SetUp { name: body.name, place, code: code.map(str::to_owned) };
    let mut connection = state.pool.get().await?;
    let station = weather::set_station(&mut connection, &member.membership, &new, body.after).await?;
    Ok(Shown(member.reader(), StationView::new(&station)))
}

/// Ask the weather service now.
#[utoipa::path(params(("farm" = Uuid, Path)), responses(
    (status = 200, body = StationView),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 502, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/station/ask")]
pub async fn ask_now(state: web::Data<State>, member: Member) -> Result<Shown<StationView>, Problem> {
    member.records()?;
    station::refresh(&state, &member.membership, member.today()).await?;
    let station =
        weather::station(&mut *state.pool.get().await?, &member.membership).await?.ok_or(Problem::NotFound)?;
    Ok(Shown(member.reader(), StationView::new(&station)))
}

/// A reading of the soil probe to take.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ProbeBody {
    /// Id of the entry, made by the client.
    pub id: Uuid,
    /// How deep.
    pub depth: Length,
}

/// Read the soil probe of a field, and ink what it shows.
#[utoipa::path(params(("farm" = Uuid, Path), ("field" = Uuid, Path)),
    request_body = ProbeBody, responses(
    (status = 200, body = EntryView),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 502, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/fields/{field}/probe")]
pub async fn probe(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
    Body(body): Body<ProbeBody>,
) -> Result<Shown<EntryView>, Problem> {
    member.records()?;
    let mut checks = Checks::new();
    checks.within("/depth", "Depth", body.depth, Unit::Cm, 0.0, 50.0);
    checks.done()?;
    let today = member.today();
    let mut connection = state.pool.get().await?;
    let field = field::one(&mut connection, &member.membership, path.1).await?;
    let same =
        |kept: &Entry| kept.field() == Some(field.id) && matches!(kept.payload(), Some(Payload::SoilTemperature(_)));
    if let Some(kept) = kept(&mut connection, &member, body.id, same).await? {
        return Ok(Shown(member.reader(), kept));
    }
    let station = weather::station(&mut connection, &member.membership).await?;
    let Some(code) = station.and_then(|station| station.code) else {
        return Err(Problem::Outside("no soil probe is set up for this farm".to_owned()));
    };
    // Nothing is held while the outside is waited for.
    drop(connection);
    let shown = station::probe(&state, &member.membership, &code, field.id, body.depth.to(Unit::Mm), today).await?;
    let payload = SoilTemperature { depth: body.depth, temperature: Temperature::new(shown, Unit::DegC) }.into();
    let entry = NewEntry::of(body.id, [Subject::field(field.id)], today, Via::StandIn, payload).today();
    write_own(&mut *state.pool.get().await?, &member, &entry).await
}
