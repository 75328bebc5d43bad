//! What was sent and can't be read is said in our words.

use jiff::civil::Date;
use records::typed::typed;
use rstest::rstest;
use serde::Deserialize;
use serde_json::{Value, json};
use std::collections::BTreeMap;

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(dead_code)]
struct Sowing {
    depth: agronomy::units::Length,
    rows: u8,
    #[serde(default)]
    by: Option<By>,
    #[serde(default)]
    boxes: Vec<String>,
    #[serde(default)]
    pair: Option<[f64; 2]>,
    #[serde(default)]
    parts: BTreeMap<String, f64>,
    #[serde(default)]
    on: Option<Date>,
}

#[derive(Debug, Deserialize)]
#[serde(tag = "by", rename_all = "kebab-case", deny_unknown_fields)]
#[allow(dead_code)]
enum By {
    Mass { rate: f64 },
    Count,
}

#[rstest]
#[case::amount(json!({"depth": 5, "rows": 1}), "/depth: 5 is a number; an amount with its unit, such as {\"value\": 5, \"unit\": \"cm\"}, is needed")]
#[case::missing(json!({"rows": 1}), "/depth: this is missing")]
#[case::part_missing(json!({"depth": {"value": 5}, "rows": 1}), "/depth/unit: this is missing")]
#[case::unknown(json!({"depth": {"value": 5, "unit": "cm"}, "rows": 1, "row": 2}), "/row: unknown field; known fields: depth, rows, by, boxes, pair, parts, on")]
#[case::negative(json!({"depth": {"value": 5, "unit": "cm"}, "rows": -1}), "/rows: -1 is a number; a whole number, zero or more, is needed")]
#[case::half(json!({"depth": {"value": 5, "unit": "cm"}, "rows": 1.5}), "/rows: 1.5 is a number; a whole number, zero or more, is needed")]
#[case::choice(json!({"depth": {"value": 5, "unit": "cm"}, "rows": 1, "by": {"by": "eye"}}), "/by/by: “eye” is not recognized; choose from mass, count")]
#[case::inside(json!({"depth": {"value": 5, "unit": "cm"}, "rows": 1, "by": {"by": "mass"}}), "/by/rate: this is missing")]
#[case::list(json!({"depth": {"value": 5, "unit": "cm"}, "rows": 1, "boxes": "one"}), "/boxes: “one” is text; a list is needed")]
#[case::pair(json!({"depth": {"value": 5, "unit": "cm"}, "rows": 1, "pair": [1]}), "/pair: this has 1 part; a list of 2 is needed")]
#[case::object(json!({"depth": {"value": 5, "unit": "cm"}, "rows": 1, "parts": []}), "/parts: this is a list; an object with named fields is needed")]
#[case::sign_of_pointers(json!({"depth": {"value": 5, "unit": "cm"}, "rows": 1, "parts": {"lb/ac~": "x"}}), "/parts/lb~1ac~0: “x” is text; a number is needed")]
#[case::huge(json!({"depth": {"value": 1e308, "unit": "cm"}, "rows": 1}), "/depth/value: 1e+308 is out of range")]
#[case::tiny(json!({"depth": {"value": 1e-308, "unit": "cm"}, "rows": 1}), "/depth/value: 1e-308 is out of range")]
#[case::day(json!({"depth": {"value": 5, "unit": "cm"}, "rows": 1, "on": "20260510"}), "/on: enter the date as year-month-day, e.g. 2026-05-10")]
#[case::moment(json!({"depth": {"value": 5, "unit": "cm"}, "rows": 1, "on": "2026-05-10T08:00"}), "/on: enter the date as year-month-day, e.g. 2026-05-10")]
fn what_cant_be_read_is_said_in_our_words(#[case] request: Value, #[case] said: &str) {
    assert_eq!(typed::<Sowing>(request).unwrap_err().to_string(), said);
}

#[test]
fn digits_are_no_day_where_none_is_asked_for() {
    let boxes = json!({"depth": {"value": 5, "unit": "cm"}, "rows": 1, "boxes": ["20260510"], "on": "2026-05-10"});
    let read: Sowing = typed(boxes).unwrap();
    assert_eq!((read.boxes, read.on), (vec!["20260510".to_owned()], Some(jiff::civil::date(2026, 5, 10))));
}
