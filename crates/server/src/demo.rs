//! The invented demo farms, loaded from `demo/`.
//!
//! Every id is made from a name, so that loading again finds what is there and adds what is
//! missing; nothing is changed or removed.

use agronomy::{
    mix::MixRequest,
    seed::Tag,
    units::{Fraction, Length, Mass, System, Unit},
    weather::{Day, Place, generator::Hour},
};
use anyhow::Context;
use include_dir::{Dir, include_dir};
use jiff::civil::Date;
use ledger::{
    Connection, Error, Pool,
    entry::{self, NewEntry, Payload, StepDone, Via},
    farm::{self, Farm, Membership, Role},
    field::{self, Field},
    lot,
    people::{self, Person},
    stand,
    weather::{self, Differing},
};
use planner::{Choices, Cover, Goal, LotChoice, PlantsChoice, SeedbedSchool};
use serde::{Deserialize, de::DeserializeOwned};
use serde_json::Value;
use sha2::{Digest, Sha256};
use stand_ins::weather_station::Station;
use std::collections::BTreeMap;
use uuid::Uuid;

use crate::{climate::year_start, sign_in::hash_password};

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
    station: DemoStation,
    members: BTreeMap<String, Role>,
}

#[derive(Deserialize)]
struct DemoStation {
    name: String,
    code: String,
}

#[derive(Deserialize)]
struct Records {
    manager: String,
    lots: Vec<DemoLot>,
    stands: Vec<DemoStand>,
    notes: Vec<DemoNote>,
    ground: Vec<DemoGround>,
}

#[derive(Deserialize)]
struct DemoGround {
    field: String,
    on: Date,
    by: String,
    entry: Payload,
}

#[derive(Deserialize)]
struct DemoLot {
    crop: String,
    label: String,
    tag: Tag,
    on_hand: Option<Mass>,
}

#[derive(Deserialize)]
struct DemoStand {
    field: String,
    goal: Goal,
    decided_on: Date,
    sow_on: Date,
    seedbed: SeedbedSchool,
    spare: f64,
    lots: Vec<String>,
    mix: Option<MixRequest>,
    plants: Option<PlantsChoice>,
    steps: Vec<DemoStep>,
    struck: Option<DemoStruck>,
}

#[derive(Deserialize)]
struct DemoStep {
    on: Date,
    by: Option<String>,
    #[serde(flatten)]
    done: Value,
}

#[derive(Deserialize)]
struct DemoStruck {
    on_struck: Date,
    reason: String,
    #[serde(flatten)]
    step: DemoStep,
}

#[derive(Deserialize)]
struct DemoNote {
    field: String,
    on: Date,
    by: String,
    text: String,
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
            name: demo.name.clone(),
            latitude: demo.latitude,
            longitude: demo.longitude,
            elevation_m: demo.elevation_m,
            practice_day: Some(demo.practice_day),
        };
        farm::add(connection, &farm).await?;
        for (person, role) in &demo.members {
            farm::join(connection, farm_id, id(person), *role).await?;
        }
    }
    let loader = Loader { farm: demo.key.clone(), today: demo.practice_day, manager: records.manager.clone() };
    loader.fields(connection).await?;
    loader.lots(connection, records.lots).await?;
    for stand in records.stands {
        let name = stand.field.clone();
        loader.stand(connection, stand).await.with_context(|| name)?;
    }
    for (index, ground) in records.ground.into_iter().enumerate() {
        let field = loader.id(&ground.field);
        let key = format!("ground {} {} {} {index}", ground.field, ground.entry.kind(), ground.on);
        loader.entry(connection, &key, &ground.by, ground.on, (Some(field), None, None), ground.entry).await?;
    }
    for note in records.notes {
        let field = loader.id(&note.field);
        let key = format!("note {} {}", note.field, note.on);
        loader
            .entry(connection, &key, &note.by, note.on, (Some(field), None, None), Payload::Note { text: note.text })
            .await?;
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
    weather::set_station(&mut connection, &member, name, place, Some(code)).await?;
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
    today: Date,
    manager: String,
}

/// Field, stand and lot an entry is about.
type About = (Option<Uuid>, Option<Uuid>, Option<Uuid>);

impl Loader {
    fn id(&self, name: &str) -> Uuid {
        id(&format!("{} {name}", self.farm))
    }

    async fn member(&self, connection: &mut Connection, person: &str) -> anyhow::Result<Membership> {
        Ok(farm::membership(connection, id(person), id(&self.farm)).await?)
    }

    async fn entry(
        &self,
        connection: &mut Connection,
        key: &str,
        by: &str,
        on: Date,
        (field, stand, lot): About,
        payload: Payload,
    ) -> anyhow::Result<Uuid> {
        let member = self.member(connection, by).await?;
        let id = self.id(key);
        if entry::find(connection, &member, id).await?.is_none() {
            let new = NewEntry { id, field, stand, lot, occurred_on: on, via: Via::Demo, payload, strikes: None };
            // As it was on its own day: a sowing day of two years ago was no slip then.
            entry::write(connection, &member, &new, on).await?;
        }
        Ok(id)
    }

    async fn fields(&self, connection: &mut Connection) -> anyhow::Result<()> {
        let member = self.member(connection, &self.manager).await?;
        let fields: Value = file(&format!("{}.geojson", self.farm))?;
        for feature in fields["features"].as_array().into_iter().flatten() {
            let name = feature["properties"]["name"].as_str().context("a field without a name")?;
            let setback = Length::new(feature["properties"]["setback_m"].as_f64().unwrap_or(0.0), Unit::M);
            let field = Field::new(member.farm.id, self.id(name), name, feature["geometry"].clone(), setback)?;
            field::add(connection, &member, &field).await?;
        }
        Ok(())
    }

    async fn lots(&self, connection: &mut Connection, lots: Vec<DemoLot>) -> anyhow::Result<()> {
        let member = self.member(connection, &self.manager).await?;
        for demo in lots {
            let lot = lot::add(connection, &member, self.id(&demo.label), &demo.crop, &demo.label).await?;
            let on = demo.tag.tested_on.unwrap_or(self.today);
            let payload = Payload::LotTag { tag: demo.tag, on_hand: demo.on_hand };
            self.entry(
                connection,
                &format!("tag {}", demo.label),
                &self.manager,
                on,
                (None, None, Some(lot.id)),
                payload,
            )
            .await?;
        }
        Ok(())
    }

    async fn stand(&self, connection: &mut Connection, demo: DemoStand) -> anyhow::Result<()> {
        let member = self.member(connection, &self.manager).await?;
        let field = self.id(&demo.field);
        let name = format!("{} {}", demo.field, demo.sow_on);
        let stand = stand::add(connection, &member, self.id(&name), field).await?.id;
        let cover = match (demo.mix, demo.plants) {
            (Some(mix), _) => {
                let lots = demo.lots.iter().map(|label| LotChoice { lot: self.id(label) }).collect();
                Cover::Seed { mix, dormant_seed: None, lots }
            }
            (None, Some(plants)) => Cover::Plants { plants },
            (None, None) => anyhow::bail!("neither mix nor plants"),
        };
        let choices = Choices {
            goal: demo.goal,
            cover,
            seedbed: demo.seedbed,
            sow_on: demo.sow_on,
            timing: None,
            spare: Fraction::percent(demo.spare),
            lime: None,
            nutrients: None,
        };
        let about = (Some(field), Some(stand), None);
        let payload = Payload::Choices { choices: Box::new(choices) };
        self.entry(connection, &format!("choices {name}"), &self.manager, demo.decided_on, about, payload).await?;
        if let Some(struck) = demo.struck {
            let key = format!("struck {name}");
            let by = struck.step.by.clone().unwrap_or_else(|| self.manager.clone());
            let entry = self.step(connection, &key, about, struck.step).await?;
            let strike = self.id(&format!("strike of {key}"));
            let member = self.member(connection, &by).await?;
            entry::strike(connection, &member, strike, entry, &struck.reason, struck.on_struck).await?;
        }
        for step in demo.steps {
            let key = format!("step {name} {}", step.done["step"]);
            self.step(connection, &key, about, step).await?;
        }
        Ok(())
    }

    async fn step(&self, connection: &mut Connection, key: &str, about: About, step: DemoStep) -> anyhow::Result<Uuid> {
        let done: StepDone = serde_json::from_value(step.done)?;
        let by = step.by.unwrap_or_else(|| self.manager.clone());
        self.entry(connection, key, &by, step.on, about, Payload::Step { done }).await
    }
}
