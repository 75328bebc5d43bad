//! Every computation by name: one registry for the command line, the API and the bench.
//!
//! A [`Topic`] reads a JSON request, runs a function of the core, and answers with value, working
//! and cautions. Quantities come back in the units the request was written in, or those it asks
//! for with `"units": "us"` or `"metric"`.

mod topics;

use std::sync::LazyLock;

use agronomy::{
    refusal::Refused,
    said::present,
    units::{Currency, Reader, System, system_of},
    working::Answer,
};
use records::typed::typed;
use serde::{Serialize, de::DeserializeOwned};
use serde_json::{Map, Value, json};
use utoipa::{
    ToSchema,
    openapi::{RefOr, schema::Schema},
};

use crate::finite::all_finite;

/// Named schemas, as utoipa collects them.
pub type Schemas = Vec<(String, RefOr<Schema>)>;

type Run = Box<dyn Fn(Value) -> Result<Value, Refused> + Send + Sync>;
type Describe = fn(&mut Schemas) -> RefOr<Schema>;

/// A computation by name.
pub struct Topic {
    /// Such as `seed.pls`.
    pub name: &'static str,
    /// What it works out, in a sentence.
    pub about: &'static str,
    run: Run,
    request: Describe,
    answer: Describe,
    /// The request says which unit it wants: leave the answer alone.
    in_its_own_unit: bool,
    /// Units of the answer to a request that names none, where the method has its own.
    written_in: Option<fn(&Value) -> Option<System>>,
}

fn describe<T: ToSchema>(schemas: &mut Schemas) -> RefOr<Schema> {
    T::schemas(schemas);
    T::schema()
}

/// As [`describe`], with the type itself among the named schemas.
fn describe_named<T: ToSchema>(schemas: &mut Schemas) -> RefOr<Schema> {
    schemas.push((T::name().into_owned(), T::schema()));
    describe::<T>(schemas)
}

/// As [`describe`], with the type inside the answer added: a generic refers to it by name only.
fn describe_answer<A: ToSchema>(schemas: &mut Schemas) -> RefOr<Schema>
where
    Answer<A>: ToSchema,
{
    schemas.push((A::name().into_owned(), A::schema()));
    A::schemas(schemas);
    describe::<Answer<A>>(schemas)
}

impl Topic {
    fn new<Q, A>(name: &'static str, about: &'static str, run: fn(&Q) -> Result<Answer<A>, Refused>) -> Self
    where
        Q: DeserializeOwned + ToSchema + 'static,
        A: Serialize + ToSchema + 'static,
        Answer<A>: ToSchema,
    {
        let run = move |request: Value| {
            let answer = run(&typed::<Q>(request)?)?;
            if let Err(place) = all_finite(&answer) {
                let detail = format!("no result from these amounts ({place}): too large, too small or incompatible");
                return Err(Refused::one("", detail));
            }
            serde_json::to_value(answer).map_err(|error| Refused::one("", error.to_string()))
        };
        Self {
            name,
            about,
            run: Box::new(run),
            request: describe_named::<Q>,
            answer: describe_answer::<A>,
            in_its_own_unit: false,
            written_in: None,
        }
    }

    /// Answer in these units where nobody says which: a method that is written in tons an acre is read so.
    fn written_in(mut self, units: fn(&Value) -> Option<System>) -> Self {
        self.written_in = Some(units);
        self
    }

    fn in_its_own_unit(mut self) -> Self {
        self.in_its_own_unit = true;
        self
    }

    /// Answer a request. What the request does not tell of its reader is told by `reader`.
    ///
    /// # Errors
    /// A sentence per field that can't be.
    pub fn answer(&self, mut request: Value, reader: Option<Reader>) -> Result<Value, Refused> {
        let Some(object) = request.as_object_mut() else {
            return Err(Refused::one("", "expected a JSON object"));
        };
        let asked: Option<System> = match object.remove("units") {
            Some(word) => Some(
                serde_json::from_value(word)
                    .map_err(|_| Refused::one("/units", "expected \u{201c}us\u{201d} or \u{201c}metric\u{201d}"))?,
            ),
            None => None,
        };
        let currency = match object.remove("currency") {
            Some(word) => serde_json::from_value(word)
                .map_err(|_| Refused::one("/currency", "expected the code of a currency, such as EUR"))?,
            None => reader.map_or_else(Currency::default, |reader| reader.currency),
        };
        let system = asked.or(reader.map(|reader| reader.system)).or_else(|| system_of(&request));
        let system = system.or_else(|| self.written_in.and_then(|of| of(&request)));
        let mut answer = (self.run)(request)?;
        let reader = system.filter(|_| !self.in_its_own_unit).map(|system| Reader { system, currency });
        present(&mut answer, reader);
        Ok(answer)
    }

    /// Schemas of request and answer; what they refer to is added to `schemas`.
    pub fn schemas(&self, schemas: &mut Schemas) -> (RefOr<Schema>, RefOr<Schema>) {
        ((self.request)(schemas), (self.answer)(schemas))
    }

    /// JSON Schemas (2020-12) of request and answer, each complete in itself.
    pub fn json_schemas(&self) -> Value {
        let whole = |part: Describe| {
            let mut schemas = Schemas::new();
            let root = part(&mut schemas);
            let mut document = serde_json::to_value(root).unwrap_or_default();
            let definitions: Map<String, Value> = schemas
                .into_iter()
                .map(|(name, schema)| (name, serde_json::to_value(schema).unwrap_or_default()))
                .collect();
            if let Some(object) = document.as_object_mut() {
                object.insert("$schema".into(), "https://json-schema.org/draft/2020-12/schema".into());
                if !definitions.is_empty() {
                    object.insert("$defs".into(), Value::Object(definitions));
                }
            }
            point_at_definitions(&mut document);
            document
        };
        let mut request = whole(self.request);
        if let Some(properties) = request.get_mut("properties").and_then(Value::as_object_mut) {
            let units = json!({"enum": ["us", "metric"], "description": "Units of the answer; those of the request when absent."});
            properties.insert("units".into(), units);
            let currency = json!({"type": "string", "pattern": "^[A-Z]{3}$", "description": "Currency of the answer (ISO 4217 code); USD when absent."});
            properties.insert("currency".into(), currency);
        }
        json!({"topic": self.name, "about": self.about, "request": request, "answer": whole(self.answer)})
    }
}

fn point_at_definitions(document: &mut Value) {
    match document {
        Value::Object(map) => {
            if let Some(Value::String(reference)) = map.get_mut("$ref") {
                *reference = reference.replace("#/components/schemas/", "#/$defs/");
            }
            map.values_mut().for_each(point_at_definitions);
        }
        Value::Array(items) => items.iter_mut().for_each(point_at_definitions),
        _ => {}
    }
}

/// All topics, by name.
pub fn topics() -> &'static [Topic] {
    static TOPICS: LazyLock<Vec<Topic>> = LazyLock::new(topics::all);
    &TOPICS
}

/// A topic by its name.
pub fn topic(name: &str) -> Option<&'static Topic> {
    topics().iter().find(|topic| topic.name == name)
}
