//! The command line and the registry of topics: no database needed.

use std::{
    io::Write,
    process::{Command, Output, Stdio},
};

use rstest::rstest;
use serde_json::{Value, json};
use server::{api, reckon::topics};

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

fn tag() -> Value {
    json!({"purity": {"value": 62.4, "unit": "%"}, "germination": {"value": 83, "unit": "%"},
        "package": {"value": 50, "unit": "lb"}, "price": {"value": 198, "unit": "USD"}})
}

fn made(years: u32) -> Value {
    json!({"from": "generated", "years": {"place": "northern-hills", "from": "1985-01-01", "years": years}})
}

/// Three days that are one like the other.
fn even() -> Value {
    let text = "date,tmin,tmax,rain,radiation\n2026-05-01,10,10,3,0\n2026-05-02,10,10,3,0\n2026-05-03,10,10,3,0\n";
    json!({"from": "file", "latitude": 42.5, "elevation": 380, "text": text})
}

#[rstest]
#[case("units.convert", json!({"quantity": {"value": 15, "unit": "lb/ac"}, "to": "kg/ha"}), "/value/value", 16.812_767)]
#[case("seed.pls", json!({"tag": tag()}), "/value/value", 51.792)]
#[case("seed.rate", json!({"crop": "alfalfa", "tag": tag(), "target": {"by": "pls-mass", "rate": {"value": 15, "unit": "lb/ac"}}}), "/value/bulk_rate/value", 28.962)]
#[case("seed.order", json!({"sown_area": {"value": 10, "unit": "ac"}, "members": [{"crop": "alfalfa", "pls_rate": {"value": 15, "unit": "lb/ac"}, "lots": [{"label": "A", "tag": tag()}]}]}), "/value/cost/value", 6.0 * 198.0)]
#[case("seed.compare", json!({"crop": "alfalfa", "pls_rate": {"value": 15, "unit": "lb/ac"}, "lots": [{"label": "A", "tag": tag()}]}), "/value/lots/0/cost_per_area/value", 114.689_5)]
#[case("mix.rates", json!({"by": "mass", "members": [{"crop": "perennial-ryegrass", "rate": {"value": 15, "unit": "lb/ac"}}, {"crop": "white-clover", "rate": {"value": 2, "unit": "lb/ac"}}]}), "/value/live_seeds/value", 119.37)]
#[case("plants.count", json!({"crop": "giant-miscanthus", "area": {"value": 1, "unit": "ac"}}), "/value/stations", 6_969.6)]
#[case("drill.row", json!({"crop": "alfalfa", "bulk_rate": {"value": 10, "unit": "lb/ac"}, "pls": {"value": 90, "unit": "%"}, "course": {"value": 100, "unit": "ft"}}), "/value/catch_per_row/value", 0.214_3)]
#[case("lime.requirement", json!({"units": "us", "school": {"by": "smp", "buffer_ph": 6.5}, "ph": 5.8, "target_ph": 6.8}), "/value/requirement/value", 4.45)]
#[case("lime.material", json!({"effective_need": {"value": 2, "unit": "ton/ac"}, "materials": [agronomy::lime::library_materials()[0]]}), "/value/materials/0/rate/value", 2.860_4)]
#[case("lime.path", json!({"ph": 5.6, "per_ph_unit": {"value": 5, "unit": "t/ha"}, "floor": 6.0, "months": 2, "doses": [{"month": 0, "fast": {"value": 4, "unit": "t/ha"}, "slow": {"value": 0, "unit": "t/ha"}}]}), "/value/months/2/ph", 6.0)]
#[case("nutrients.need", json!({"crop": "alfalfa", "yield_goal": {"value": 5, "unit": "ton/ac"}, "p": {"value": {"value": 10, "unit": "ppm"}, "method": "bray-p1"}}), "/value/schools/1/p2o5/rate/value", 140.0)]
#[case("nutrients.removal", json!({"crop": "giant-miscanthus", "yield": {"value": 8, "unit": "ton/ac"}, "after_frost": true}), "/value/removed/k2o/value", 136.0)]
#[case("manure.rate", json!({"analysis": {"total_n": {"value": 0.5, "unit": "%"}, "p2o5": {"value": 0.25, "unit": "%"}, "k2o": {"value": 0.45, "unit": "%"}}, "needs": {"p2o5": {"value": 60, "unit": "lb/ac"}}}), "/value/rate/value", 12.0)]
#[case("blend.least_cost", json!({"needs": {"k2o": {"value": 60, "unit": "kg/ha"}}, "products": [{"name": "potash", "analysis": {"k2o": {"value": 60, "unit": "%"}}, "price": {"value": 500, "unit": "USD/t"}}]}), "/value/cost/value", 50.0)]
#[case("soil.sampling", json!({"area": {"value": 50, "unit": "ac"}, "crop": "alfalfa"}), "/value/composites", 6.0)]
// FAO-56 examples 8 and 18; McMaster & Wilhelm's two methods; even weather, whose soil is as even.
#[case("weather.radiation", json!({"latitude": -20, "day": "1998-09-03"}), "/value/extraterrestrial/value", 32.19)]
#[case("weather.et0", json!({"latitude": 50.8, "day": "1998-07-06", "elevation": {"value": 100, "unit": "m"}, "tmin": {"value": 12.3, "unit": "degC"}, "tmax": {"value": 21.5, "unit": "degC"}, "humidity_max": {"value": 84, "unit": "%"}, "humidity_min": {"value": 63, "unit": "%"}, "wind": {"value": 10, "unit": "km/h"}, "wind_height": {"value": 10, "unit": "m"}, "sunshine_hours": 9.25}), "/value/value", 3.880)]
#[case("weather.gdd", json!({"base": {"value": 10, "unit": "degC"}, "method": "each-then-base", "days": [{"tmin": {"value": 6, "unit": "degC"}, "tmax": {"value": 18, "unit": "degC"}}]}), "/value/value", 4.0)]
#[case("weather.frost", json!({"weather": made(24), "year": 2026}), "/value/0/summers", 24.0)]
#[case("weather.generate", json!({"place": "northern-hills", "from": "2001-01-01", "years": 4}), "/value/days", 1461.0)]
#[case("soil.temperature", json!({"depth": {"value": 5, "unit": "cm"}, "weather": even()}), "/value/last_morning/value", 10.0)]
#[case("water.balance", json!({"texture": "loam", "drainage": "well", "missing": {"value": 20, "unit": "mm"}, "weather": even()}), "/value/rain/value", 9.0)]
#[case("window.odds", json!({"crop": "alfalfa", "texture": "loam", "drainage": "well", "on": "2009-08-10", "weather": made(24)}), "/value/curve/years", 22.0)]
#[case("growing_time.left", json!({"crop": "alfalfa", "from": "2009-08-10", "weather": made(24)}), "/value/years", 23.0)]
fn every_topic_answers_in_the_units_it_was_asked_in(
    #[case] topic: &str,
    #[case] request: Value,
    #[case] pointer: &str,
    #[case] expected: f64,
) {
    let answer = answer(topic, request);
    let value = answer.pointer(pointer).and_then(Value::as_f64).unwrap_or_else(|| panic!("{pointer}: {answer}"));
    assert!((value - expected).abs() <= 2e-4 * expected, "{value} for {expected}");
    assert!(answer["working"]["lines"].as_array().is_some_and(|lines| !lines.is_empty()));
    assert!(answer["cautions"].is_array());
}

#[test]
fn the_answer_can_be_asked_for_in_other_units() {
    let answer =
        answer("seed.rate", json!({"units": "metric", "crop": "alfalfa", "tag": tag(), "target": {"by": "chart"}}));
    assert_eq!(answer["value"]["bulk_rate"]["unit"], "kg/ha");
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
#[case::no_blend(&["blend.least_cost"], r#"{"needs": {"mo": {"value": 1, "unit": "lb/ac"}}, "products": [{"name": "urea", "analysis": {"n": {"value": 46, "unit": "%"}}, "price": {"value": 500, "unit": "USD/t"}}]}"#, "nothing here supplies Mo")]
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

/// Every topic of the issue at hand has a worked case above.
#[test]
fn no_topic_is_left_out() {
    let text = include_str!("reckon.rs");
    for topic in topics().iter().filter(|topic| topic.name != "site.check") {
        assert!(text.contains(&format!("#[case(\"{}\"", topic.name)), "{} has no worked case", topic.name);
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
