//! What an entry closes.

use records::{Closes, Payload, Subject};
use rstest::rstest;
use serde_json::{Value, json};
use uuid::Uuid;

const STAND: Uuid = Uuid::from_u128(7);

fn sow(occurrence: Option<i32>) -> Closes {
    Closes { stand: STAND, step: "sow".into(), season: None, occurrence }
}

fn fixture(version: i32) -> Value {
    let path = format!("{}/fixtures/step.v{version}.json", env!("CARGO_MANIFEST_DIR"));
    serde_json::from_str::<Value>(&std::fs::read_to_string(path).unwrap()).unwrap()["payload"].clone()
}

/// Steps of before said themselves which time of which step they were; the first of all knew each operation once.
#[rstest]
#[case::once_each(1, fixture(1), Some(sow(Some(1))))]
#[case::in_the_record(2, fixture(2), Some(sow(Some(1))))]
#[case::any_time(2, json!({"operation": "sow", "step": "sow"}), Some(sow(None)))]
#[case::any_step(2, json!({"operation": "sow"}), None)]
#[case::in_the_entry(3, fixture(3), None)]
fn older_steps_close_what_they_said(#[case] version: i32, #[case] payload: Value, #[case] closes: Option<Closes>) {
    assert_eq!(Payload::closed("step", version, &payload, STAND), closes);
    assert_eq!(Payload::closed("cut", 1, &payload, STAND), None);
    let read = Payload::stored_as("step", version, payload).unwrap();
    let bare = read.stored();
    assert!(bare.get("step").is_none() && bare.get("occurrence").is_none(), "{bare}");
    assert_eq!(bare["operation"], "sow");
}

/// What has waited on a device since before is taken as it was meant; what is no place is left to be refused.
#[rstest]
#[case::both(json!({"kind": "step", "operation": "sow", "step": "sow", "occurrence": 2}), true, Some(sow(Some(2))))]
#[case::a_step(json!({"kind": "step", "operation": "sow", "step": "sow"}), true, Some(sow(None)))]
#[case::far_too_many(json!({"kind": "step", "operation": "sow", "step": "sow", "occurrence": i64::MAX}), true, Some(sow(Some(1_000))))]
#[case::no_stand(json!({"kind": "step", "operation": "sow", "step": "sow"}), false, None)]
#[case::no_step(json!({"kind": "step", "operation": "sow", "occurrence": 2}), true, None)]
#[case::no_word(json!({"kind": "step", "operation": "sow", "step": 5}), true, None)]
#[case::another_kind(json!({"kind": "note", "text": "x", "step": "sow"}), true, None)]
#[case::no_object(json!("sow"), true, None)]
fn a_form_of_before_is_understood(#[case] sent: Value, #[case] on_stand: bool, #[case] closes: Option<Closes>) {
    let about = if on_stand { vec![Subject::stand(STAND).into()] } else { vec![] };
    let mut left = sent.clone();
    assert_eq!(Closes::lifted(&mut left, &about), closes);
    match closes {
        Some(_) => drop(Payload::sent(left).unwrap()),
        None => assert_eq!(left, sent),
    }
}

#[rstest]
#[case::no_step(Closes { step: " ".into(), ..sow(None) }, "/step")]
#[case::a_long_step(Closes { step: "x".repeat(101), ..sow(None) }, "/step")]
#[case::before_all(Closes { season: Some(1949), ..sow(None) }, "/season")]
#[case::another_age(Closes { season: Some(2201), ..sow(None) }, "/season")]
#[case::no_time(sow(Some(0)), "/occurrence")]
#[case::too_many_times(sow(Some(1_000)), "/occurrence")]
fn a_place_that_cannot_be(#[case] closes: Closes, #[case] pointer: &str) {
    let refused = closes.check().unwrap_err();
    assert_eq!(refused.0.iter().map(|one| one.pointer.as_str()).collect::<Vec<_>>(), [pointer]);
    assert_eq!(Closes { season: Some(2026), ..sow(Some(999)) }.check(), Ok(()));
}
