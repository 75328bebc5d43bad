//! The invented demo farms, loaded from `demo/`.
//!
//! Every id is made from a name, so that loading again finds what is there and adds what is
//! missing; nothing is changed or removed.

use agronomy::{
    units::{Length, System, Unit},
    weather::{Day, Place, generator::Hour, year_start},
};
use anyhow::Context;
use include_dir::{Dir, include_dir};
use jiff::civil::Date;
use ledger::{
    Connection, Error, Pool,
    entry::{self, NewEntry, Via},
    farm::{self, Farm, Membership, Role},
    field::{self, Extent, Field},
    lot,
    people::{self, Person},
    stand,
    weather::{self, Differing, SetUp},
};
use records::{About, Payload};
use serde::{Deserialize, de::DeserializeOwned};
use serde_json::Value;
use sha2::{Digest, Sha256};
use stand_ins::weather_station::Station;
use std::collections::BTreeMap;
use uuid::Uuid;

use crate::sign_in::hash_password;

static FILES: Dir<'static> = include_dir!("$CARGO_MANIFEST_DIR/../../demo");

#[derive(Deserialize)]
struct Farms {
    password: String,
    people: Vec<DemoPerson>,
    farms: Vec<DemoFarm>,
}

#[derive(Deserialize)]
struct DemoPerson {
    key: String,
    name: String,
    email: String,
    units: System,
}

#[derive(Deserialize)]
struct DemoFarm {
    key: String,
    name: String,
    latitude: f64,
    longitude: f64,
    elevation_m: f64,
    practice_day: Date,
    time_zone: String,
    station: DemoStation,
    members: BTreeMap<String, Role>,
}

#[derive(Deserialize)]
struct DemoStation {
    name: String,
    code: String,
}

/// A farm's records, in the shapes that the API takes; `@name` stands for the id of what is so named.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Records {
    #[serde(rename = "farm")]
    _farm: String,
    manager: String,
    lots: Vec<DemoLot>,
    stands: Vec<DemoStand>,
    records: Vec<DemoRecord>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct DemoLot {
    name: String,
    crop: String,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct DemoStand {
    name: String,
    field: String,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct DemoRecord {
    /// What its id is made from.
    key: String,
    by: String,
    #[serde(default)]
    about: Value,
    occurred_on: Date,
    #[serde(default)]
    closes: Value,
    payload: Value,
    #[serde(default)]
    struck: Option<DemoStruck>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct DemoStruck {
    on: Date,
    reason: String,
}

fn file<T: DeserializeOwned>(name: &str) -> anyhow::Result<T> {
    let file = FILES.get_file(name).with_context(|| format!("demo/{name} is missing"))?;
    serde_json::from_slice(file.contents()).with_context(|| format!("demo/{name}"))
}

/// An id made from a name.
pub fn id(name: &str) -> Uuid {
    let digest = Sha256::digest(name.as_bytes());
    let mut bytes = [0; 16];
    bytes.copy_from_slice(&digest[..16]);
    uuid::Builder::from_custom_bytes(bytes).into_uuid()
}

/// Print who can sign in.
pub fn print_sign_ins() {
    if let Ok(farms) = file::<Farms>("farms.json") {
        println!("Sign in with the password \u{201c}{}\u{201d} as", farms.password);
        for person in &farms.people {
            let of = |farm: &DemoFarm| {
                let role = farm.members.get(&person.key)?;
                Some(format!("{} of {}", format!("{role:?}").to_lowercase(), farm.name))
            };
            let roles: Vec<_> = farms.farms.iter().filter_map(of).collect();
            println!("  {:<24} {}, {}", person.email, person.name, roles.join(", "));
        }
    }
}

/// Load both farms; what is there already is left alone.
///
/// # Errors
/// When the files or the database fail.
pub async fn load(pool: &Pool) -> anyhow::Result<()> {
    let mut connection = pool.get().await?;
    let farms: Farms = file("farms.json")?;
    for person in &farms.people {
        if people::by_email(&mut connection, &person.email).await?.is_none() {
            let password_hash = hash_password(farms.password.clone()).await?;
            let made = Person::new(&person.email, &person.name, password_hash, person.units);
            people::add(&mut connection, &Person { id: id(&person.key), ..made }).await?;
        }
    }
    for farm in &farms.farms {
        load_farm(&mut connection, farm).await.with_context(|| farm.name.clone())?;
        load_weather(pool, farm).await.with_context(|| format!("weather of {}", farm.name))?;
    }
    Ok(())
}

async fn load_farm(connection: &mut Connection, demo: &DemoFarm) -> anyhow::Result<()> {
    let records: Records = file(&format!("{}.json", demo.key))?;
    let farm_id = id(&demo.key);
    let known = farm::membership(connection, id(&records.manager), farm_id).await;
    if let Err(Error::NotFound) = known {
        let farm = Farm {
            id: farm_id,
            practice_day: Some(demo.practice_day),
            ..Farm::new(&demo.name, (demo.latitude, demo.longitude), demo.elevation_m, &demo.time_zone)
        };
        farm::add(connection, &farm).await?;
        for (person, role) in &demo.members {
            farm::join(connection, farm_id, id(person), *role).await?;
        }
    }
    let loader = Loader { farm: demo.key.clone(), manager: records.manager.clone() };
    loader.fields(connection).await?;
    let manager = loader.member(connection, &records.manager).await?;
    for DemoLot { name, crop } in &records.lots {
        lot::add(connection, &manager, loader.id(name), crop, name).await?;
    }
    for DemoStand { name, field } in &records.stands {
        stand::add(connection, &manager, loader.id(name), loader.id(field)).await?;
    }
    for record in records.records {
        let key = record.key.clone();
        loader.record(connection, record).await.with_context(|| key)?;
    }
    Ok(())
}

/// The station's archive up to the day before the farm's, and the forecast of that day. A farm whose
/// clock has moved on is left alone: its station was heard since.
async fn load_weather(pool: &Pool, demo: &DemoFarm) -> anyhow::Result<()> {
    let mut connection = pool.get().await?;
    let manager = demo.members.iter().find(|(_, role)| **role == Role::Manager).map(|(person, _)| person);
    let manager = manager.context("a farm without a manager")?;
    let member = farm::membership(&mut connection, id(manager), id(&demo.key)).await?;
    if weather::station(&mut connection, &member).await?.is_some() {
        return Ok(());
    }
    let DemoStation { name, code } = &demo.station;
    let (today, yesterday) = (demo.practice_day, agronomy::weather::plus(demo.practice_day, -1));
    let place = Place { latitude: demo.latitude, elevation: demo.elevation_m };
    let station = Station::known(code).context("no such station")?;
    let days: Vec<(Date, Day)> = station.archive(yesterday).into_iter().map(|day| (day.date, day.day())).collect();
    let members: Vec<Vec<Day>> = station
        .forecast(today)
        .members
        .into_iter()
        .map(|days| days.into_iter().map(|day| day.day()).collect())
        .collect();
    let hours = station.hourly(year_start(demo.latitude, today), yesterday);
    let new = SetUp { name: name.to_owned(), place, code: Some(code.to_owned()) };
    weather::set_station(&mut connection, &member, &new, None).await?;
    weather::load_days(pool, &member, &days, Differing::Keep).await?;
    let hours: Vec<(Date, Vec<Hour>)> =
        hours.into_iter().map(|(date, hours)| (date, hours.into_iter().map(Into::into).collect())).collect();
    weather::keep_hours(&mut connection, &member, &hours).await?;
    weather::set_forecast(&mut connection, &member, today, &members).await?;
    weather::heard(&mut connection, &member, Ok(today)).await?;
    Ok(())
}

struct Loader {
    farm: String,
    manager: String,
}

impl Loader {
    fn id(&self, name: &str) -> Uuid {
        id(&format!("{} {name}", self.farm))
    }

    /// Every `@name` of a document as the id it stands for.
    fn named(&self, document: &mut Value) {
        match document {
            Value::String(text) => {
                if let Some(name) = text.strip_prefix('@') {
                    *text = self.id(name).to_string();
                }
            }
            Value::Array(items) => items.iter_mut().for_each(|item| self.named(item)),
            Value::Object(map) => map.values_mut().for_each(|item| self.named(item)),
            _ => {}
        }
    }

    async fn member(&self, connection: &mut Connection, person: &str) -> anyhow::Result<Membership> {
        Ok(farm::membership(connection, id(person), id(&self.farm)).await?)
    }

    async fn fields(&self, connection: &mut Connection) -> anyhow::Result<()> {
        let member = self.member(connection, &self.manager).await?;
        let fields: Value = file(&format!("{}.geojson", self.farm))?;
        for feature in fields["features"].as_array().into_iter().flatten() {
            let name = feature["properties"]["name"].as_str().context("a field without a name")?;
            let setback = Length::new(feature["properties"]["setback_m"].as_f64().unwrap_or(0.0), Unit::M);
            let field =
                Field::new(member.farm.id, self.id(name), name, Extent::Outline(feature["geometry"].clone()), setback)?;
            field::add(connection, &member, &field).await?;
        }
        Ok(())
    }

    async fn record(&self, connection: &mut Connection, mut record: DemoRecord) -> anyhow::Result<()> {
        let member = self.member(connection, &record.by).await?;
        let id = self.id(&record.key);
        if entry::find(connection, &member, id).await?.is_none() {
            self.named(&mut record.payload);
            self.named(&mut record.about);
            self.named(&mut record.closes);
            let about: Vec<About> = serde_json::from_value(record.about)?;
            let payload = Payload::sent(record.payload)?;
            let closes = serde_json::from_value(record.closes)?;
            let new = NewEntry { closes, about, ..NewEntry::of(id, [], record.occurred_on, Via::Demo, payload) };
            // As it was on its own day: a sowing day of two years ago was no slip then.
            entry::write(connection, &member, &new, record.occurred_on).await?;
        }
        if let Some(struck) = record.struck {
            let strike = self.id(&format!("strike of {}", record.key));
            entry::strike(connection, &member, strike, id, &struck.reason, struck.on).await?;
        }
        Ok(())
    }
}
