//! Plans without a farm, and ways side by side.

use agronomy::{refusal::Refused, working::Answer};
use planner::{
    State, Step,
    compare::Comparison,
    topic::{CompareRequest, PlanMade, PlanRequest, compared, make},
};
use proptest::prelude::*;
use rstest::rstest;
use serde_json::{Value, json};

fn alfalfa(practice: &str) -> Value {
    let mix = json!({"by": "mass", "members": [{"crop": "alfalfa", "rate": {"value": 15, "unit": "lb/ac"}}]});
    json!({"goal": "hay", "sow_on": "2027-04-20", "practice": practice, "cover": {"as": "seed", "mix": mix}})
}

fn place(more: Value) -> Value {
    let mut place = json!({"today": "2026-05-14", "area": {"value": 20, "unit": "ac"}, "history_known": true});
    for (key, value) in more.as_object().unwrap() {
        place[key] = value.clone();
    }
    place
}

fn hills() -> Value {
    json!({"weather": {"from": "generated", "years": {"place": "northern-hills", "from": "1996-01-01", "years": 30}}})
}

fn made(place: Value, choices: Value, first: bool) -> Result<Answer<PlanMade>, Refused> {
    let request = json!({"place": place, "choices": choices, "first_sound_day": first});
    make(&serde_json::from_value::<PlanRequest>(request).unwrap())
}

fn side_by_side(place: Value, practices: &[&str], first: bool) -> Comparison {
    let way = |practice: &&str| json!({"name": practice, "choices": alfalfa(practice), "first_sound_day": first});
    let ways: Vec<Value> = practices.iter().map(way).collect();
    compared(&serde_json::from_value::<CompareRequest>(json!({"place": place, "ways": ways})).unwrap()).unwrap().value
}

fn open(steps: &[Step]) -> impl Iterator<Item = &Step> {
    steps.iter().filter(|step| !matches!(step.state, State::Done { .. } | State::Passed))
}

#[test]
fn a_plan_is_made_from_facts_and_weather() {
    let plan = made(place(hills()), alfalfa("tilled"), true).unwrap().value;
    let proposal = plan.proposal.expect("a first sound day");
    assert_eq!(plan.plan.sown_on, proposal.sow_on);
    assert!(proposal.odds.unwrap() >= 0.5, "{proposal:?}");
    assert!(open(&plan.plan.steps).all(|step| step.is_sowing() || step.to >= plan.plan.today));
    // Without weather the first sound day is the first in time, and no odds are made up.
    let blind = made(place(json!({})), alfalfa("tilled"), true).unwrap().value;
    assert!(blind.proposal.unwrap().odds.is_none() && blind.plan.steps.iter().all(|step| step.odds.is_none()));
}

/// Alfalfa after an old alfalfa stand: a season and more.
#[test]
fn alfalfa_after_alfalfa_waits() {
    let past = json!({"past_crops": [{"crop": "alfalfa", "ended": "2026-05-10", "years": 6}]});
    let mut more = hills();
    more["past_crops"] = past["past_crops"].clone();
    let after = made(place(more), alfalfa("tilled"), true).unwrap().value.proposal.unwrap().sow_on;
    let clean = made(place(hills()), alfalfa("tilled"), true).unwrap().value.proposal.unwrap().sow_on;
    assert!((after - "2026-05-10".parse::<jiff::civil::Date>().unwrap()).get_days() > 240, "{after}");
    assert!(after >= clean, "{after} {clean}");
}

#[test]
fn ways_differ_in_what_they_do_and_share_the_rest() {
    let two = side_by_side(place(json!({})), &["tilled", "sod-killed-twice"], false);
    assert_eq!(two.ways.len(), 2);
    assert!(two.same.contains(&"Sow".to_owned()), "{:?}", two.same);
    let of = |operation: &str| {
        let title = &agronomy::practice::operation(operation).unwrap().title;
        two.differ.iter().find(|one| one.title == *title).unwrap_or_else(|| panic!("{operation}: {:?}", two.differ))
    };
    assert_eq!(of("spray").times, [0, 2], "only the other sprays, twice");
    assert!(of("spray").days[0].is_none() && of("spray").days[1].is_some());
    // The same way beside itself differs in nothing.
    assert!(side_by_side(place(json!({})), &["tilled", "tilled"], false).differ.is_empty());
}

/// Alfalfa: three quarters or so of a full crop only from its second year on (library).
#[test]
fn yields_follow_the_years_to_full_crop() {
    let way = &side_by_side(place(json!({})), &["tilled"], false).ways[0];
    assert_eq!(way.yields.len(), 4);
    assert!(way.yields[0] < way.yields[1] && way.yields[1] <= way.yields[2]);
    assert!(way.cost.is_none(), "no lot was chosen");
}

#[rstest]
#[case::none(json!([]), "/ways")]
#[case::many(Value::Array(vec![json!({"name": "x", "choices": alfalfa("tilled")}); 7]), "/ways")]
#[case::school(json!([{"name": "x", "choices": alfalfa("by-magic")}]), "/ways/0/choices/practice")]
#[case::past(json!([{"name": "x", "choices": {"goal": "hay", "sow_on": "1949-01-01", "practice": "tilled",
    "cover": {"as": "seed", "mix": {"by": "mass", "members": [{"crop": "alfalfa", "rate": {"value": 15, "unit": "lb/ac"}}]}}}}]), "/ways/0/choices/sow_on")]
#[case::nothing(json!([{"name": "x", "choices": {"goal": "hay", "sow_on": "2027-01-01", "practice": "tilled",
    "cover": {"as": "seed", "mix": {"by": "mass", "members": []}}}}]), "/ways/0/choices/cover/mix/members")]
fn what_can_not_be_is_refused(#[case] ways: Value, #[case] at: &str) {
    let request = json!({"place": place(json!({})), "ways": ways});
    let refused = compared(&serde_json::from_value::<CompareRequest>(request).unwrap()).unwrap_err();
    assert!(refused.0.iter().any(|one| one.pointer == at), "{refused:?}");
}

#[rstest]
#[case(json!({"done": [{"operation": "dance", "on": "2026-05-01"}]}), "/place/done/0/operation")]
#[case(json!({"done": [{"operation": "sow", "on": "2026-06-01"}]}), "/place/done/0/on")]
#[case(json!({"area": {"value": 0, "unit": "ac"}}), "/place/area")]
fn a_place_that_can_not_be_is_refused(#[case] more: Value, #[case] at: &str) {
    let refused = made(place(more), alfalfa("tilled"), false).unwrap_err();
    assert!(refused.0.iter().any(|one| one.pointer == at), "{refused:?}");
}

/// An impossible goal is explained with the figure: ten tons an acre of alfalfa where seven are the most.
#[test]
fn a_goal_beyond_reach_is_asked_about() {
    let mut choices = alfalfa("tilled");
    choices["nutrients"] = json!({"school": "replacement", "yield_goal": {"value": 14, "unit": "ton/ac"}});
    let shape: records::kinds::choices::ChoicesShape = serde_json::from_value(choices).unwrap();
    let unusual = records::check(&shape.ready(), "2026-05-14".parse().unwrap()).unwrap();
    assert_eq!(unusual[0].pointer, "/nutrients/yield_goal");
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]
    /// Same inputs, same plan; and work on one field's ground moves no step that does not depend on it.
    #[test]
    fn the_same_question_has_one_answer(practice in 0_usize..20, month in 1_u32..12, done in any::<bool>()) {
        let all = agronomy::practice::practices();
        let practice = &all[practice % all.len()].key;
        let mut choices = alfalfa(practice);
        choices["sow_on"] = json!(format!("2027-{month:02}-15"));
        let ink = if done { json!({"done": [{"operation": "sample-soil", "on": "2026-04-01"}]}) } else { json!({}) };
        let ask = || made(place(ink.clone()), choices.clone(), false);
        match (ask(), ask()) {
            (Ok(one), Ok(other)) => {
                prop_assert_eq!(&one.value, &other.value);
                let without = made(place(json!({})), choices.clone(), false).unwrap().value;
                for step in without.plan.steps.iter().filter(|step| step.step != "sample-soil" && step.after.is_empty()) {
                    let with = one.value.plan.steps.iter().find(|one| one.step == step.step && one.occurrence == step.occurrence);
                    prop_assert_eq!(with.map(|step| (step.from, step.to)), Some((step.from, step.to)));
                }
            }
            (Err(one), Err(other)) => prop_assert_eq!(one, other),
            _ => prop_assert!(false, "one answer and one refusal"),
        }
    }
}
