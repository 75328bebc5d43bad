//! Reading a JSON value into a type, and saying in the trade's words what can't be read.

use std::fmt::Display;

use agronomy::refusal::Refused;
use jiff::civil::Date;
use serde::de::DeserializeOwned;
use serde_json::Value;

/// Read a JSON value into a type, with a refusal that points at the field to blame.
///
/// # Errors
/// [`Refused`] at the field's pointer.
///
/// ```
/// use agronomy::units::Quantity;
/// use records::typed::typed;
/// let refused = typed::<Quantity>(serde_json::json!({"value": "two", "unit": "in"})).unwrap_err();
/// assert_eq!(refused.to_string(), "/value: “two” is text; a number is needed");
/// let refused = typed::<Quantity>(serde_json::json!({"unit": "in"})).unwrap_err();
/// assert_eq!(refused.to_string(), "/value: this is missing");
/// ```
pub fn typed<T: DeserializeOwned>(value: Value) -> Result<T, Refused> {
    if let Some((pointer, sentence)) = beyond_all(&value) {
        return Err(Refused::one(pointer, sentence));
    }
    let mut odd = vec![];
    day_like(&value, String::new(), &mut odd);
    if odd.is_empty() {
        return parsed(value);
    }
    // Such texts are taken where no day is asked for: there any other would be read as well.
    let mut without = value.clone();
    for pointer in &odd {
        if let Some(text) = without.pointer_mut(pointer) {
            *text = Value::String("no day".to_owned());
        }
    }
    let read = parsed(value)?;
    let day = "enter the date as year-month-day, e.g. 2026-05-10";
    parsed::<T>(without).map_err(|Refused(mut at)| Refused::one(at.swap_remove(0).pointer, day))?;
    Ok(read)
}

fn parsed<T: DeserializeOwned>(value: Value) -> Result<T, Refused> {
    serde_path_to_error::deserialize(value).map_err(|error| {
        let pointer: String = error
            .path()
            .iter()
            .filter_map(|segment| match segment {
                serde_path_to_error::Segment::Seq { index } => Some(step(index)),
                serde_path_to_error::Segment::Map { key } => Some(step(key)),
                _ => None,
            })
            .collect();
        let (below, sentence) = in_our_words(&error.inner().to_string());
        // The path of an unknown field ends at it already.
        let below = below.map(|field| step(&field)).filter(|below| !pointer.ends_with(below));
        Refused::one(pointer + &below.unwrap_or_default(), sentence)
    })
}

/// Where texts stand that a day can be read from but that are not written as one: `20260510`, `2026-05-10T08:00`.
fn day_like(value: &Value, here: String, found: &mut Vec<String>) {
    match value {
        Value::String(text) if text.parse::<Date>().is_ok_and(|day| day.to_string() != *text) => found.push(here),
        Value::Array(items) => {
            for (index, inner) in items.iter().enumerate() {
                day_like(inner, here.clone() + &step(&index), found);
            }
        }
        Value::Object(map) => {
            for (key, inner) in map {
                day_like(inner, here.clone() + &step(key), found);
            }
        }
        _ => {}
    }
}

/// One step of a pointer: a key may hold the signs that pointers are made of (RFC 6901, section 3).
pub fn step(key: &dyn Display) -> String {
    format!("/{}", key.to_string().replace('~', "~0").replace('/', "~1"))
}

/// Beyond these no amount of anything lies, in any unit; products of a few of them are numbers still.
const MOST: f64 = 1e20;
const LEAST: f64 = 1e-20;

/// Where a number stands that is too large or too small for any amount.
fn beyond_all(value: &Value) -> Option<(String, String)> {
    let below =
        |key: &dyn Display, inner: &Value| beyond_all(inner).map(|(rest, sentence)| (step(key) + &rest, sentence));
    match value {
        Value::Number(number) => {
            let size = number.as_f64().unwrap_or(f64::INFINITY).abs();
            let amiss = size > MOST || (size > 0.0 && size < LEAST);
            amiss.then(|| (String::new(), format!("{number} is out of range")))
        }
        Value::Array(items) => items.iter().enumerate().find_map(|(index, inner)| below(&index, inner)),
        Value::Object(map) => map.iter().find_map(|(key, inner)| below(key, inner)),
        _ => None,
    }
}

/// The parser's sentence in ours, and the field below its place that it is about.
fn in_our_words(sentence: &str) -> (Option<String>, String) {
    let quoted = |text: &str| text.split('`').nth(1).unwrap_or_default().to_owned();
    let known = |text: &str| {
        let names: Vec<&str> = text.split('`').skip(3).step_by(2).collect();
        if names.is_empty() { "none".to_owned() } else { names.join(", ") }
    };
    if sentence.starts_with("missing field") {
        return (Some(quoted(sentence)), "this is missing".to_owned());
    }
    if sentence.starts_with("unknown field") {
        let field = quoted(sentence);
        return (Some(field), format!("unknown field; known fields: {}", known(sentence)));
    }
    if sentence.starts_with("duplicate field") {
        return (Some(quoted(sentence)), "this is given twice".to_owned());
    }
    if sentence.starts_with("unknown variant") {
        let word = quoted(sentence);
        return (None, format!("“{word}” is not recognized; choose from {}", known(sentence)));
    }
    for start in ["invalid type: ", "invalid value: "] {
        let parts = sentence.strip_prefix(start).and_then(|rest| rest.rsplit_once(", expected "));
        if let Some((found, expected)) = parts {
            return (None, format!("{}; {} is needed", found_in_words(found), expected_in_words(expected)));
        }
    }
    if let Some(rest) = sentence.strip_prefix("invalid length ") {
        let (length, expected) = rest.split_once(", expected ").unwrap_or((rest, "another number"));
        return (
            None,
            format!(
                "this has {length} {}; {} is needed",
                if length == "1" { "part" } else { "parts" },
                expected_in_words(expected)
            ),
        );
    }
    if sentence.starts_with("data did not match any variant") {
        return (None, "this is not a recognized form".to_owned());
    }
    (None, sentence.to_owned())
}

fn found_in_words(found: &str) -> String {
    let (kind, rest) = found.split_once(' ').unwrap_or((found, ""));
    let value = rest.trim_matches(['`', '"']).trim_start_matches("point `");
    match kind {
        "integer" | "floating" => format!("{value} is a number"),
        "boolean" => format!("{value} is yes or no"),
        "string" => format!("“{value}” is text"),
        "null" | "unit" => "this is empty".to_owned(),
        "map" => "this is an object".to_owned(),
        "sequence" => "this is a list".to_owned(),
        _ => format!("this is {found}"),
    }
}

fn expected_in_words(expected: &str) -> String {
    match expected {
        "f64" | "f32" => "a number".to_owned(),
        "u8" | "u16" | "u32" | "u64" | "usize" => "a whole number, zero or more,".to_owned(),
        "i8" | "i16" | "i32" | "i64" | "isize" => "a whole number".to_owned(),
        "a string" | "a borrowed string" => "a text".to_owned(),
        "a boolean" => "true or false".to_owned(),
        "a sequence" => "a list".to_owned(),
        "struct Quantity" => "an amount with its unit, such as {\"value\": 5, \"unit\": \"cm\"},".to_owned(),
        other if other.starts_with("an array of length ") => {
            format!("a list of {}", other.trim_start_matches("an array of length "))
        }
        other if other.contains("enum") || other.starts_with("struct ") || other == "a map" => {
            "an object with named fields".to_owned()
        }
        other => other.to_owned(),
    }
}
