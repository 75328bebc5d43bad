//! Whatever is asked of a topic, it answers with numbers or refuses by a field: requests made from the topics' own
//! schemas, sound ones, ones at the edge, and ones gone wrong.
//!
//! Reproducible: each request hangs on its topic, its number and the seed. `./ink fuzz` makes more of them.

use std::{
    panic::{AssertUnwindSafe, catch_unwind},
    sync::mpsc,
    time::{Duration, Instant},
};

use rand::{RngExt, SeedableRng, seq::IndexedRandom};
use rand_chacha::ChaCha8Rng;
use serde_json::{Map, Value, json};
use server::reckon::{Topic, topic, topics};

use crate::worked::{tag, worked};

/// Words that stand where the schema says only that it is a text.
const WORDS: [&str; 22] = [
    "alfalfa",
    "orchardgrass",
    "timothy",
    "giant-miscanthus",
    "oats",
    "switchgrass",
    "red-clover",
    "no-such-crop",
    "northern-hills",
    "lb/ac",
    "kg/ha",
    "in",
    "degC",
    "%",
    "n",
    "k2o",
    "2026-05-14",
    "2024-02-29",
    "0001-01-01",
    "9999-12-31",
    "",
    "a long name of something, with \u{201c}marks\u{201d} and a \u{1f33e} in it",
];

const DATES: [&str; 10] = [
    "2026-05-14",
    "2026-08-10",
    "2009-08-10",
    "2024-02-29",
    "1985-01-01",
    "2000-12-31",
    "1899-12-31",
    "9999-12-31",
    "-9999-01-01",
    "2026-13-01",
];

/// At the edges, across them, and far beyond.
const NUMBERS: [f64; 32] = [
    0.0, 1.0, -1.0, 0.5, 2.0, 5.0, 7.0, 10.0, 20.0, 50.0, 99.0, 100.0, 101.0, 200.0, 365.0, 366.0, 1000.0, 2026.0, 1e4,
    1e6, 1e9, 1e12, 1e15, 1e19, 1e308, -40.0, -1e6, 0.1, 1e-3, 1e-6, 1e-12, 1e-308,
];

/// Makes requests.
struct Maker<'a> {
    rng: ChaCha8Rng,
    schema: &'a Value,
}

impl Maker<'_> {
    fn one_in(&mut self, many: u32) -> bool {
        self.rng.random_range(0..many) == 0
    }

    fn of<'b, T>(&mut self, from: &'b [T]) -> &'b T {
        from.choose(&mut self.rng).expect("something to choose from")
    }

    fn number(&mut self) -> f64 {
        if self.one_in(3) {
            return *self.of(&NUMBERS);
        }
        let size = 10_f64.powf(self.rng.random_range(-2.0..3.0));
        (size * 100.0).round() / 100.0
    }

    fn resolved<'b>(&'b self, schema: &'b Value) -> &'b Value {
        match schema["$ref"].as_str() {
            Some(reference) => {
                let found = self.schema.pointer(reference.trim_start_matches('#')).expect("a reference that leads on");
                self.resolved(found)
            }
            None => schema,
        }
    }

    /// Something of a schema, so many storeys deep at most.
    fn make(&mut self, schema: &Value, depth: u32) -> Value {
        let schema = self.resolved(schema).clone();
        for key in ["oneOf", "anyOf"] {
            if let Some(alternatives) = schema[key].as_array() {
                let chosen = self.of(alternatives).clone();
                return self.make(&chosen, depth);
            }
        }
        if let Some(parts) = schema["allOf"].as_array() {
            let mut whole = Map::new();
            for part in parts {
                if let Value::Object(map) = self.make(part, depth) {
                    whole.extend(map);
                }
            }
            return Value::Object(whole);
        }
        if let Some(words) = schema["enum"].as_array() {
            return self.of(words).clone();
        }
        let kind = match &schema["type"] {
            Value::String(kind) => kind.clone(),
            Value::Array(kinds) => self.of(kinds).as_str().unwrap_or("null").to_owned(),
            _ if schema["properties"].is_object() => "object".to_owned(),
            _ => "null".to_owned(),
        };
        match kind.as_str() {
            "number" => json!(self.number()),
            "integer" => json!(self.number() as i64),
            "boolean" => json!(self.one_in(2)),
            "string" if schema["format"] == "date" => json!(self.of(&DATES)),
            "string" => json!(self.of(&WORDS)),
            "array" => {
                let most = if depth == 0 { 0 } else { *self.of(&[0, 1, 2, 3]) };
                let most = if self.one_in(60) { 400 } else { most };
                (0..most).map(|_| self.make(&schema["items"], depth.saturating_sub(1))).collect()
            }
            "object" => {
                let required: Vec<&str> =
                    schema["required"].as_array().into_iter().flatten().filter_map(Value::as_str).collect();
                let mut object = Map::new();
                for (key, property) in schema["properties"].as_object().into_iter().flatten() {
                    let wanted = required.contains(&key.as_str()) || (depth > 0 && self.one_in(3));
                    if wanted && !self.one_in(50) {
                        object.insert(key.clone(), self.make(property, depth.saturating_sub(1)));
                    }
                }
                if schema["additionalProperties"].is_object() && depth > 0 {
                    let key = (*self.of(&WORDS)).to_owned();
                    object.insert(key, self.make(&schema["additionalProperties"], depth - 1));
                }
                Value::Object(object)
            }
            _ => Value::Null,
        }
    }

    /// Change something somewhere in a value that follows a schema.
    fn change(&mut self, value: &mut Value, schema: &Value) {
        let schema = self.fitting(schema, value);
        match value {
            Value::Object(map) if !map.is_empty() && !self.one_in(4) => {
                let keys: Vec<String> = map.keys().cloned().collect();
                let key = self.of(&keys).clone();
                let inner = schema["properties"][&key].clone();
                self.change(map.get_mut(&key).expect("a key of its own"), &inner);
            }
            Value::Object(map) => match (schema["properties"].as_object(), self.rng.random_range(0..3)) {
                (Some(properties), 0 | 1) => {
                    let keys: Vec<String> = properties.keys().cloned().collect();
                    let key = self.of(&keys).clone();
                    let made = self.make(&properties[&key], 2);
                    map.insert(key, made);
                }
                _ => {
                    let keys: Vec<String> = map.keys().cloned().collect();
                    if let Some(key) = keys.choose(&mut self.rng) {
                        map.remove(key);
                    }
                }
            },
            Value::Array(items) if !items.is_empty() && !self.one_in(4) => {
                let at = self.rng.random_range(0..items.len());
                self.change(&mut items[at], &schema["items"]);
            }
            Value::Array(items) => match self.rng.random_range(0..3) {
                0 => items.push(self.make(&schema["items"], 2)),
                1 => items.clear(),
                _ => {
                    if let Some(first) = items.first().cloned() {
                        let more = *self.of(&[1, 2, 30, 500]);
                        items.extend(std::iter::repeat_n(first, more));
                    }
                }
            },
            Value::Number(_) if !self.one_in(5) => {
                let number = self.number();
                *value = if schema["type"] == "integer" { json!(number as i64) } else { json!(number) };
            }
            other => *other = self.make(&schema, 2),
        }
    }

    /// The alternative of a schema that a value follows.
    fn fitting(&self, schema: &Value, value: &Value) -> Value {
        let schema = self.resolved(schema);
        let alternatives = schema["oneOf"].as_array().or(schema["anyOf"].as_array());
        let Some(alternatives) = alternatives else { return schema.clone() };
        let fits = |alternative: &Value| {
            let required = alternative["required"].as_array().into_iter().flatten().filter_map(Value::as_str);
            let tags = alternative["properties"].as_object().into_iter().flatten();
            alternative["type"] != "null"
                && required.into_iter().all(|key| value.get(key).is_some())
                && tags.into_iter().all(|(key, property)| match (property["enum"].as_array(), value.get(key)) {
                    (Some(words), Some(word)) => words.contains(word),
                    _ => true,
                })
        };
        let resolved = alternatives.iter().map(|alternative| self.resolved(alternative));
        resolved.into_iter().find(|alternative| fits(alternative)).unwrap_or(schema).clone()
    }
}

/// A request of a topic by its number: three in four from a worked one, the others from the schema alone.
fn request(name: &str, schema: &Value, seed: u64, number: u64) -> Value {
    let mixed = name.bytes().fold(seed, |mixed, byte| mixed.wrapping_mul(0x100_0000_01b3) ^ u64::from(byte));
    let rng = ChaCha8Rng::seed_from_u64(mixed ^ number.wrapping_mul(0x9E37_79B9_7F4A_7C15));
    let mut maker = Maker { rng, schema };
    let site = json!({"crop": "alfalfa", "today": "2026-05-14", "sow_on": "2026-08-10"});
    let order = json!({"crop": "alfalfa", "tag": tag(), "target": {"by": "chart"}});
    let mut known: Vec<Value> =
        worked().into_iter().filter(|case| case.topic == name).map(|case| case.request).collect();
    known.extend((name == "site.check").then_some(site));
    known.extend((name == "seed.rate").then_some(order));
    if maker.one_in(4) {
        return maker.make(&schema.clone(), 4);
    }
    let mut request = maker.of(&known).clone();
    for _ in 0..maker.rng.random_range(1..4) {
        maker.change(&mut request, schema);
    }
    request
}

/// Whether a topic answered a request, or what is wrong with how it took it.
fn amiss(topic: &Topic, request: &Value) -> Result<bool, String> {
    let outcome = catch_unwind(AssertUnwindSafe(|| topic.answer(request.clone(), None)));
    match outcome {
        Err(_) => Err("it panicked".to_owned()),
        Ok(Ok(answer)) if answer["working"].is_null() => Err(format!("an answer without its working: {answer}")),
        Ok(Ok(_)) => Ok(true),
        Ok(Err(refused)) => {
            let told = refused.to_string();
            if told.contains("expected struct") || told.contains("invalid type") || told.contains("NaN") {
                return Err(format!("the parser speaks: {told}"));
            }
            // A field that is there, or one that is missing from a part that is there.
            let named = |pointer: &str| {
                let (parent, _) = pointer.rsplit_once('/')?;
                request.pointer(parent).or_else(|| request.pointer(parent.rsplit_once('/')?.0))
            };
            let lost = refused.0.iter().find(|refusal| named(&refusal.pointer).is_none());
            match lost {
                Some(lost) => Err(format!("no field of the request is named ({:?}): {told}", lost.pointer)),
                None => Ok(false),
            }
        }
    }
}

/// The longest that any request may take in an unoptimised build on a busy machine.
const BUDGET: Duration = Duration::from_secs(30);

/// Decades are stepped through: fewer of them are asked for.
const HEAVY: [&str; 6] =
    ["window.odds", "growing_time.left", "weather.generate", "weather.frost", "soil.temperature", "water.balance"];

fn setting(name: &str, usual: u64) -> u64 {
    std::env::var(name).ok().and_then(|text| text.parse().ok()).unwrap_or(usual)
}

/// A topic's requests one after another, each within its budget.
fn all_is_well(name: &'static str, many: u64, seed: u64) -> Vec<String> {
    let (tell, heard) = mpsc::channel();
    std::thread::spawn(move || {
        let topic = topic(name).expect("a topic of the list");
        let schema = topic.json_schemas()["request"].clone();
        for number in 0..many {
            let request = request(name, &schema, seed, number);
            let _ = tell.send((number, request.clone(), None));
            let began = Instant::now();
            let outcome = amiss(topic, &request);
            if tell.send((number, request, Some((outcome, began.elapsed())))).is_err() {
                return;
            }
        }
    });
    let mut faults = vec![];
    let (mut at, mut answered) = ((0, Value::Null), 0);
    loop {
        match heard.recv_timeout(BUDGET) {
            Ok((number, request, None)) => at = (number, request),
            Ok((number, request, Some((outcome, took)))) => {
                match outcome {
                    Ok(well) => answered += u64::from(well),
                    Err(fault) => {
                        let text: String = request.to_string().chars().take(1_500).collect();
                        faults.push(format!("{name} {number}: {fault}\n    {text}"));
                    }
                }
                if std::env::var("INK_FUZZ_SLOW").is_ok() && took > Duration::from_secs(1) {
                    eprintln!("{name} {number}: {took:?}");
                }
            }
            Err(mpsc::RecvTimeoutError::Timeout) => {
                let text: String = at.1.to_string().chars().take(1_500).collect();
                faults.push(format!("{name} {}: over its budget\n    {text}", at.0));
                return faults;
            }
            Err(mpsc::RecvTimeoutError::Disconnected) => {
                // Refusals alone would prove little.
                if std::env::var("INK_FUZZ_SLOW").is_ok() {
                    eprintln!("{name} {answered} of {many}");
                }
                if answered * 12 < many {
                    faults.push(format!("{name}: only {answered} of {many} requests were answered"));
                }
                return faults;
            }
        }
    }
}

#[test]
fn whatever_is_asked_it_answers_with_numbers_or_refuses_by_a_field() {
    let (many, seed) = (setting("INK_FUZZ", 10_000), setting("INK_FUZZ_SEED", 1));
    let light = (many - many / 20) / (topics().len() - HEAVY.len()) as u64 + 1;
    let heavy = many / 20 / HEAVY.len() as u64 + 1;
    let only = std::env::var("INK_FUZZ_ONLY").ok();
    let chosen = topics().iter().filter(|topic| only.as_deref().is_none_or(|only| topic.name.starts_with(only)));
    let running: Vec<_> = chosen
        .map(|topic| {
            let many = if HEAVY.contains(&topic.name) { heavy } else { light };
            all_is_well(topic.name, many, seed)
        })
        .collect();
    let faults: Vec<String> = running.into_iter().flatten().collect();
    let shown: Vec<&String> = faults.iter().take(setting("INK_FUZZ_SHOWN", 12) as usize).collect();
    assert!(
        faults.is_empty(),
        "{} faults, such as\n{}",
        faults.len(),
        shown.iter().map(|one| one.as_str()).collect::<Vec<_>>().join("\n")
    );
}

/// Every way to make one amount of a request negative that can't be: those it has, and those it could have.
fn negatives(maker: &Maker<'_>, schema: &Value, value: &Value, pointer: &str, found: &mut Vec<(String, Value)>) {
    let schema = maker.fitting(schema, value);
    for (key, property) in schema["properties"].as_object().into_iter().flatten() {
        let inner = maker.fitting(property, value.get(key).unwrap_or(&json!({"value": 0, "unit": ""})));
        let inner = if inner["oneOf"].is_array() { maker.resolved(&inner["oneOf"][0]).clone() } else { inner };
        let at = format!("{pointer}/{key}");
        match inner["properties"]["unit"]["enum"][0].as_str() {
            // Temperatures and their differences go below zero.
            Some("degF" | "degC" | "degR" | "K") => {}
            Some(unit) => found.push((at, json!({"value": -7, "unit": unit}))),
            None => {
                if let Some(inner_value) = value.get(key) {
                    negatives(maker, property, inner_value, &at, found);
                }
            }
        }
    }
    for (index, item) in value.as_array().into_iter().flatten().enumerate() {
        negatives(maker, &schema["items"], item, &format!("{pointer}/{index}"), found);
    }
}

/// No mass, money, length, share or content is below nothing.
#[test]
fn nothing_is_less_than_nothing() {
    let mut taken = vec![];
    let mut tried = 0;
    for topic in topics() {
        let schema = topic.json_schemas()["request"].clone();
        let maker = Maker { rng: ChaCha8Rng::seed_from_u64(0), schema: &schema };
        for case in worked().into_iter().filter(|case| case.topic == topic.name) {
            let mut found = vec![];
            negatives(&maker, &schema, &case.request, "", &mut found);
            for (pointer, amount) in found {
                let mut request = case.request.clone();
                let (parent, key) = pointer.rsplit_once('/').expect("a pointer");
                request.pointer_mut(parent).expect("a part of the request")[key] = amount;
                tried += 1;
                // The Dead Sea's shore; heat that the soil gives back.
                let may = ["/elevation", "/soil_heat"].contains(&pointer.as_str());
                if topic.answer(request, None).is_ok() != may {
                    taken.push(format!("{} {pointer}", topic.name));
                }
            }
        }
    }
    assert!(tried > 60, "only {tried} amounts");
    assert!(taken.is_empty(), "{} of {tried}: {taken:#?}", taken.len());
}
