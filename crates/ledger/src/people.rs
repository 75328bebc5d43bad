//! People who sign in.

use agronomy::units::System;
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{Connection, Result, schema::people};

/// How the screens are coloured.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum Theme {
    /// Ink on bright paper.
    #[default]
    Light,
    /// For the cab at night.
    Dark,
    /// Highest contrast, for the field.
    Sunlight,
}

/// A person.
#[derive(Debug, Clone, PartialEq)]
pub struct Person {
    /// Id.
    pub id: Uuid,
    /// Sign-in address, lower case.
    pub email: String,
    /// Name.
    pub name: String,
    /// Argon2 hash in PHC form.
    pub password_hash: String,
    /// Units read.
    pub units: System,
    /// Colours.
    pub theme: Theme,
    /// Odds at which a window counts as open, 0.01 to 0.99.
    pub odds_level: f64,
}

impl Person {
    /// Somebody new, with the settings one starts with.
    pub fn new(email: &str, name: &str, password_hash: String, units: System) -> Self {
        Self {
            id: Uuid::now_v7(),
            email: normal_email(email),
            name: name.trim().to_owned(),
            password_hash,
            units,
            theme: Theme::default(),
            odds_level: 0.5,
        }
    }
}

#[derive(Queryable, Selectable, Insertable)]
#[diesel(table_name = people)]
struct Row {
    id: Uuid,
    email: String,
    name: String,
    password_hash: String,
    units: String,
    theme: String,
    odds_level: f64,
}

fn word<T: Serialize>(value: &T) -> String {
    serde_json::to_value(value).ok().and_then(|value| value.as_str().map(str::to_owned)).unwrap_or_default()
}

pub(crate) fn parsed<T: serde::de::DeserializeOwned + Default>(word: &str) -> T {
    serde_json::from_value(serde_json::Value::from(word)).unwrap_or_default()
}

impl From<Row> for Person {
    fn from(row: Row) -> Self {
        Self {
            id: row.id,
            email: row.email,
            name: row.name,
            password_hash: row.password_hash,
            // The table's checks admit only these words.
            units: parsed(&row.units),
            theme: parsed(&row.theme),
            odds_level: row.odds_level,
        }
    }
}

/// The sign-in form of an address: trimmed, lower case.
pub fn normal_email(email: &str) -> String {
    email.trim().to_lowercase()
}

/// How many people there are; zero on the first visit.
///
/// # Errors
/// When the database fails.
pub async fn count(connection: &mut Connection) -> Result<i64> {
    Ok(people::table.count().get_result(connection).await?)
}

/// Add a person.
///
/// # Errors
/// [`crate::Error::Conflict`] when somebody signs in with this address already.
pub async fn add(connection: &mut Connection, person: &Person) -> Result<()> {
    let row = Row {
        id: person.id,
        email: normal_email(&person.email),
        name: person.name.clone(),
        password_hash: person.password_hash.clone(),
        units: word(&person.units),
        theme: word(&person.theme),
        odds_level: person.odds_level,
    };
    diesel::insert_into(people::table).values(row).execute(connection).await?;
    Ok(())
}

/// The person who signs in with an address.
///
/// # Errors
/// When the database fails.
pub async fn by_email(connection: &mut Connection, email: &str) -> Result<Option<Person>> {
    let row: Option<Row> = people::table
        .filter(people::email.eq(normal_email(email)))
        .select(Row::as_select())
        .first(connection)
        .await
        .optional()?;
    Ok(row.map(Person::from))
}

/// The person of an id.
///
/// # Errors
/// [`crate::Error::NotFound`] when there is none.
pub async fn by_id(connection: &mut Connection, id: Uuid) -> Result<Person> {
    let row: Row = people::table.find(id).select(Row::as_select()).first(connection).await?;
    Ok(row.into())
}

/// What a person changes of their settings; what is left out stays as it is.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Changes {
    /// Units read.
    pub units: Option<System>,
    /// Colours.
    pub theme: Option<Theme>,
    /// Odds at which a window counts as open, 0.01 to 0.99.
    pub odds_level: Option<f64>,
}

#[derive(AsChangeset)]
#[diesel(table_name = people)]
struct Changed {
    units: Option<String>,
    theme: Option<String>,
    odds_level: Option<f64>,
}

/// Change a person's own settings, each on its own: of two changes made at once neither is lost. Gives the
/// person as they then stand.
///
/// # Errors
/// When the database fails, or a level that can't be.
pub async fn settle(connection: &mut Connection, person: Uuid, changes: &Changes) -> Result<Person> {
    let changed = Changed {
        units: changes.units.as_ref().map(word),
        theme: changes.theme.as_ref().map(word),
        odds_level: changes.odds_level,
    };
    if *changes == Changes::default() {
        return by_id(connection, person).await;
    }
    let settled = diesel::update(people::table.find(person)).set(changed).returning(Row::as_returning());
    let row: Row = settled.get_result(connection).await?;
    Ok(row.into())
}

/// The name of a person.
///
/// # Errors
/// When the database fails.
pub async fn name_of(connection: &mut Connection, id: Uuid) -> Result<String> {
    let name: Option<String> = people::table.find(id).select(people::name).first(connection).await.optional()?;
    Ok(name.unwrap_or_else(|| "a former member".to_owned()))
}
