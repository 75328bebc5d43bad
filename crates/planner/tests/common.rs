//! What the planner's tests begin from.

use agronomy::{
    mix::{MixMember, MixRequest, MixView},
    seed::Conditions,
    units::{Fraction, MassPerArea, Unit},
};
use jiff::civil::Date;
use planner::{Plan, Step};
use records::{Choices, Cover, Goal, book::Operation};
use uuid::Uuid;

/// A tilled hay stand of crops by pounds an acre.
pub fn choices(crops: &[(&str, f64)], sow_on: Date) -> Choices {
    let members = crops
        .iter()
        .map(|(crop, lb)| MixMember {
            crop: (*crop).into(),
            share: None,
            rate: Some(MassPerArea::new(*lb, Unit::LbPerAc)),
            seeds_per_mass: None,
            full_rate: None,
        })
        .collect();
    let mix = MixRequest { by: MixView::Mass, members, total: None, conditions: Conditions::default() };
    Choices {
        goal: Goal::Hay,
        cover: Cover::Seed { mix, dormant_seed: None, lots: vec![] },
        practice: "tilled".into(),
        timing: None,
        sow_on,
        spare: Fraction::ZERO,
        lime: None,
        nutrients: None,
        extra: vec![],
    }
}

/// An operation in ink.
pub fn ink(n: u128, operation: &str, on: Date) -> Operation {
    let entry = Uuid::from_u128(n);
    Operation { entry, operation: operation.into(), step: None, occurrence: None, on, struck: false }
}

/// The first time of a step.
pub fn step<'a>(plan: &'a Plan, key: &str) -> &'a Step {
    plan.steps.iter().find(|step| step.step == key).unwrap_or_else(|| panic!("no {key} in {:?}", keys(plan)))
}

/// The steps of a plan, in order.
pub fn keys(plan: &Plan) -> Vec<(&str, u32)> {
    plan.steps.iter().map(|step| (step.step.as_str(), step.occurrence)).collect()
}
