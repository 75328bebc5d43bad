//! What was once written is read for ever: an example of each kind and version, kept as it was stored.

use std::{collections::BTreeMap, fs, path::Path};

use agronomy::units::System;
use records::{KINDS, Payload, Unreadable};
use rstest::rstest;
use serde_json::{Value, json};

/// Fixtures by kind and version: what was stored, and what it says to a reader of US units.
fn fixtures() -> BTreeMap<(String, i32), Value> {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("fixtures");
    let read = |path: std::path::PathBuf| {
        let name = path.file_stem().unwrap().to_str().unwrap().to_owned();
        let (kind, version) = name.rsplit_once(".v").unwrap_or_else(|| panic!("{name} names no version"));
        let text = fs::read_to_string(&path).unwrap();
        ((kind.to_owned(), version.parse().unwrap()), serde_json::from_str(&text).unwrap())
    };
    fs::read_dir(folder).unwrap().map(|file| read(file.unwrap().path())).collect()
}

#[test]
fn every_version_of_every_kind_is_kept() {
    let kept = fixtures();
    for kind in KINDS {
        for version in 1..=kind.version {
            assert!(kept.contains_key(&(kind.word.to_owned(), version)), "no fixture {}.v{version}.json", kind.word);
        }
    }
    for (kind, version) in kept.keys() {
        let known = KINDS.iter().find(|known| known.word == kind);
        assert!(known.is_some_and(|known| known.version >= *version), "{kind}.v{version} belongs to nothing");
    }
}

#[test]
fn each_is_read_and_says_what_it_said() {
    for ((kind, version), fixture) in fixtures() {
        let payload = Payload::stored_as(&kind, version, fixture["payload"].clone())
            .unwrap_or_else(|why| panic!("{kind}.v{version}: {why}"));
        assert_eq!(payload.kind().word, kind);
        assert_eq!(payload.says().told(Some(System::Us.into())), fixture["says"], "{kind}.v{version}");
    }
}

/// Nothing of a payload of today's version is lost by being read and stored again.
#[test]
fn what_is_read_is_stored_again_as_it_was() {
    for ((kind, version), fixture) in fixtures() {
        let payload = Payload::stored_as(&kind, version, fixture["payload"].clone()).unwrap();
        if version == payload.kind().version {
            same(&payload.stored(), &fixture["payload"], &kind);
            let mut sent = fixture["payload"].clone();
            sent["kind"] = json!(kind);
            assert_eq!(Payload::sent(sent).unwrap(), payload, "as the API takes it");
        }
    }
}

/// Equal, but for the last digits of numbers and for what a default adds.
fn same(stored: &Value, kept: &Value, at: &str) {
    match (stored, kept) {
        (Value::Number(a), Value::Number(b)) => {
            let (a, b) = (a.as_f64().unwrap(), b.as_f64().unwrap());
            assert!((a - b).abs() <= 1e-9 * (1.0 + a.abs()), "{at}: {a} for {b}");
        }
        (Value::Object(a), Value::Object(b)) => {
            for (key, kept) in b {
                let stored = a.get(key).unwrap_or_else(|| panic!("{at}/{key} is lost"));
                same(stored, kept, &format!("{at}/{key}"));
            }
        }
        (Value::Array(a), Value::Array(b)) => {
            assert_eq!(a.len(), b.len(), "{at}");
            for (index, (a, b)) in a.iter().zip(b).enumerate() {
                same(a, b, &format!("{at}/{index}"));
            }
        }
        _ => assert_eq!(stored, kept, "{at}"),
    }
}

#[rstest]
#[case::newer("note", 7, json!({"text": "x"}), "version 7")]
#[case::nought("note", 0, json!({"text": "x"}), "version 0")]
#[case::kind("rumour", 1, json!({}), "is not a known record type")]
#[case::shape("note", 1, json!({"text": 7}), "expected a string")]
#[case::old_step("step", 1, json!({"performed": {}}), "version 1")]
#[case::old_choices("choices", 1, json!([]), "version 1")]
#[case::word("site", 1, json!({"facts": {"drainage": "swampy"}}), "swampy")]
fn what_cannot_be_read_says_why(#[case] kind: &str, #[case] version: i32, #[case] payload: Value, #[case] said: &str) {
    let Unreadable(why) = Payload::stored_as(kind, version, payload).unwrap_err();
    assert!(why.contains(said), "{why}");
}

#[rstest]
#[case(json!({"kind": "note"}), "/text", "missing")]
#[case(json!({"text": "x"}), "/kind", "choose a record type")]
#[case(json!({"kind": "dance"}), "/kind", "soil-test")]
#[case(json!({"kind": "note", "text": "x", "colour": "red"}), "/colour", "unknown field")]
#[case(json!({"kind": "cut", "stage": "ripe"}), "/stage", "ripe")]
#[case(json!({"kind": "cut", "cut": {"crop": "alfalfa", "harvested": {"value": 2, "unit": "stone"}}}), "/cut/harvested/unit", "stone")]
fn what_is_sent_wrongly_is_refused_at_its_field(#[case] payload: Value, #[case] pointer: &str, #[case] said: &str) {
    let refused = Payload::sent(payload).unwrap_err();
    assert_eq!(refused.0[0].pointer, pointer);
    assert!(refused.0[0].detail.contains(said), "{refused}");
}
