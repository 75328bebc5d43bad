//! The command line and the registry of topics: no database needed.

use std::{
    io::Write,
    process::{Command, Output, Stdio},
};

use rstest::rstest;
use serde_json::{Value, json};
use server::{api, reckon::topics};

use crate::worked::{Worked, tag, worked};

fn run(arguments: &[&str], input: &str) -> Output {
    let mut child = Command::new(env!("CARGO_BIN_EXE_inkmeadow"))
        .arg("reckon")
        .args(arguments)
        .env_clear()
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    // The command may refuse before it has read everything.
    let _ = child.stdin.take().unwrap().write_all(input.as_bytes());
    child.wait_with_output().unwrap()
}

fn answer(topic: &str, request: Value) -> Value {
    let output = run(&[topic], &request.to_string());
    assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    serde_json::from_slice(&output.stdout).unwrap()
}

#[test]
fn every_topic_answers_in_the_units_it_was_asked_in() {
    for Worked { topic, request, pointer, expected } in worked() {
        let answer = answer(topic, request);
        let value = answer.pointer(pointer).and_then(Value::as_f64).unwrap_or_else(|| panic!("{pointer}: {answer}"));
        assert!((value - expected).abs() <= 2e-4 * expected, "{topic}: {value} for {expected}");
        assert!(answer["working"]["lines"].as_array().is_some_and(|lines| !lines.is_empty()), "{topic}");
        assert!(answer["cautions"].is_array(), "{topic}");
    }
}

#[test]
fn the_answer_can_be_asked_for_in_other_units() {
    let answer =
        answer("seed.rate", json!({"units": "metric", "crop": "alfalfa", "tag": tag(), "target": {"by": "chart"}}));
    assert_eq!(answer["value"]["bulk_rate"]["unit"], "kg/ha");
}

/// Of a request that is all pH, the answer is in the units that the school itself is written in.
#[rstest]
#[case(json!({"by": "smp", "buffer_ph": 6.5}), "ton/ac")]
#[case(json!({"by": "sikora", "buffer_ph": 6.5}), "ton/ac")]
#[case(json!({"by": "adams-evans", "buffer_ph": 7.6}), "ton/ac")]
#[case(json!({"by": "texture", "texture": "loam"}), "t/ha")]
fn a_requirement_is_told_in_the_units_of_its_school(#[case] school: Value, #[case] unit: &str) {
    let mut request = json!({"school": school, "ph": 5.4, "target_ph": 6.5});
    assert_eq!(answer("lime.requirement", request.clone())["value"]["requirement"]["unit"], unit);
    request["units"] = json!("metric");
    assert_eq!(answer("lime.requirement", request)["value"]["requirement"]["unit"], "t/ha");
}

/// The one working that is about numbers: it stands in the units asked for, whoever reads it.
#[rstest]
#[case("kg/ha", 15.0, "lb/ac", true)]
#[case("in", 2.5, "cm", true)]
#[case("degF", 50.0, "degC", false)]
fn a_conversion_gives_its_value(
    #[case] from: &str,
    #[case] value: f64,
    #[case] to: &str,
    #[case] shown: bool,
    #[values("us", "metric")] units: &str,
) {
    let request = json!({"units": units, "quantity": {"value": value, "unit": from}, "to": to});
    let working = answer("units.convert", request)["working"].clone();
    let input = |index: usize| working["inputs"][index]["value"]["value"].as_f64().unwrap();
    let line = &working["lines"][0];
    assert_eq!((line["value"]["unit"].as_str(), line["in_words"].as_bool()), (Some(to), (!shown).then_some(true)));
    let converted = line["value"]["value"].as_f64().unwrap();
    if shown {
        assert_eq!(line["formula"], "amount × factor");
        assert!((input(0) * input(1) - converted).abs() < 1e-9 * converted, "{working}");
    } else {
        assert!((converted - 10.0).abs() < 1e-9);
    }
}

#[test]
fn every_topic_is_listed_and_described() {
    let list = String::from_utf8(run(&["--list"], "").stdout).unwrap();
    for topic in topics() {
        assert!(list.contains(topic.name), "{}", topic.name);
        let output = run(&[topic.name, "--schema"], "");
        let schema: Value = serde_json::from_slice(&output.stdout).unwrap();
        for part in ["request", "answer"] {
            resolves(&schema[part], |reference| {
                reference.strip_prefix("#/").is_some_and(|path| schema[part].pointer(&format!("/{path}")).is_some())
            });
            assert!(schema[part]["properties"].is_object(), "{} {part}", topic.name);
        }
    }
}

/// Every `$ref` of a document leads somewhere in it.
fn resolves(value: &Value, known: impl Fn(&str) -> bool + Copy) {
    match value {
        Value::Object(map) => {
            if let Some(Value::String(reference)) = map.get("$ref") {
                assert!(known(reference), "{reference} leads nowhere");
            }
            map.values().for_each(|inner| resolves(inner, known));
        }
        Value::Array(items) => items.iter().for_each(|inner| resolves(inner, known)),
        _ => {}
    }
}

#[test]
fn the_api_document_is_whole() {
    let document = serde_json::to_value(api::document()).unwrap();
    assert!(document["openapi"].as_str().unwrap().starts_with("3.1"));
    resolves(&document, |reference| reference.strip_prefix('#').is_some_and(|path| document.pointer(path).is_some()));
    for topic in topics() {
        assert!(document["paths"][format!("/api/reckon/{}", topic.name)]["post"].is_object());
    }
    let mut names: Vec<&str> = document["paths"]
        .as_object()
        .unwrap()
        .values()
        .flat_map(|item| item.as_object().unwrap().values())
        .filter_map(|operation| operation["operationId"].as_str())
        .collect();
    let all = names.len();
    names.sort_unstable();
    names.dedup();
    assert_eq!(names.len(), all, "operation names are single");
}

#[rstest]
#[case::topic(&["seed.magic"], "{}", "seed.magic")]
#[case::none(&[], "", "--list")]
#[case::broken(&["seed.pls"], "{", "not JSON")]
#[case::no_object(&["seed.pls"], "[]", "object")]
#[case::germination(&["seed.pls"], r#"{"tag": {"purity": {"value": 98, "unit": "%"}, "germination": {"value": 130, "unit": "%"}}}"#, "/tag/germination")]
#[case::unit(&["seed.pls"], r#"{"tag": {"purity": {"value": 98, "unit": "kg"}, "germination": {"value": 80, "unit": "%"}}}"#, "/tag/purity")]
#[case::units(&["seed.pls"], r#"{"units": "cubits", "tag": {}}"#, "/units")]
#[case::convert(&["units.convert"], r#"{"quantity": {"value": 1, "unit": "lb"}, "to": "in"}"#, "/to")]
#[case::buffer(&["lime.requirement"], r#"{"school": {"by": "smp", "buffer_ph": 9}, "ph": 5, "target_ph": 6.5}"#, "/school/buffer_ph")]
#[case::method(&["nutrients.need"], r#"{"crop": "alfalfa", "yield_goal": {"value": 5, "unit": "ton/ac"}, "p": {"value": {"value": 5, "unit": "ppm"}, "method": "guess"}}"#, "/p/method")]
#[case::no_blend(&["blend.least_cost"], r#"{"needs": {"mo": {"value": 1, "unit": "lb/ac"}}, "products": [{"name": "urea", "analysis": {"n": {"value": 46, "unit": "%"}}, "price": {"value": 500, "unit": "money/t"}}]}"#, "no product supplies Mo")]
#[case::site(&["site.check"], r#"{"crop": "alfalfa", "today": "2026-05-14", "sow_on": "2026-13-01"}"#, "/sow_on")]
#[case::file(&["seed.pls", "no-such-file.json"], "", "no-such-file.json")]
fn bad_input_is_one_sentence_and_exit_code_2(#[case] arguments: &[&str], #[case] input: &str, #[case] said: &str) {
    let output = run(arguments, input);
    assert_eq!(output.status.code(), Some(2));
    assert!(output.stdout.is_empty());
    let sentence = String::from_utf8(output.stderr).unwrap();
    assert!(sentence.contains(said) && sentence.trim().lines().count() == 1, "{sentence}");
}

/// Two types of one name would hide one another in the document.
#[test]
fn a_name_in_the_document_stands_for_one_shape() {
    let mut known: std::collections::BTreeMap<String, Value> = Default::default();
    for topic in topics() {
        let mut schemas = Default::default();
        topic.schemas(&mut schemas);
        for (name, schema) in schemas {
            let schema = serde_json::to_value(schema).unwrap();
            let other = known.entry(name.clone()).or_insert_with(|| schema.clone());
            assert_eq!(*other, schema, "{name} means two things");
        }
    }
    let document = serde_json::to_value(api::document()).unwrap();
    for (name, schema) in known {
        assert_eq!(document["components"]["schemas"][&name], schema, "{name} means two things");
    }
}

#[test]
fn no_topic_is_left_out() {
    let cases = worked();
    // A check of a site gives verdicts, no figure.
    for topic in topics().iter().filter(|topic| topic.name != "site.check") {
        assert!(cases.iter().any(|case| case.topic == topic.name), "{} has no worked case", topic.name);
    }
}

#[rstest]
#[case::no_database(&["migrate", "--database", "postgres://nobody:x@127.0.0.1:9/none"], "database")]
#[case::no_address(&["migrate"], "--database")]
#[case::bad_key(&["serve", "--database", "postgres://nobody:x@127.0.0.1:9/none", "--cookie-key", "12"], "64 bytes")]
#[case::no_hex(&["serve", "--database", "postgres://nobody:x@127.0.0.1:9/none", "--cookie-key", "ink"], "hexadecimal")]
fn a_command_that_cannot_run_says_why(#[case] arguments: &[&str], #[case] said: &str) {
    let output = Command::new(env!("CARGO_BIN_EXE_inkmeadow")).args(arguments).env_clear().output().unwrap();
    assert!(!output.status.success());
    let text = String::from_utf8_lossy(&output.stderr);
    assert!(text.contains(said) && !text.contains("panicked"), "{text}");
}

#[test]
fn the_demo_names_who_can_sign_in_without_a_database() {
    let output = Command::new(env!("CARGO_BIN_EXE_inkmeadow"))
        .args(["demo", "--sign-ins", "--database", "postgres://nobody:x@127.0.0.1:9/none"])
        .output()
        .unwrap();
    let text = String::from_utf8_lossy(&output.stdout);
    assert!(output.status.success());
    for line in ["manager of Fennick Hollow", "manager of Chacra del Ceibo", "adviser of"] {
        assert!(text.contains(line), "{text}");
    }
}
