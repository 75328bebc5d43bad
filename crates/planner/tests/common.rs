//! What the planner's tests begin from.

use std::sync::Arc;

use agronomy::{
    mix::{MixMember, MixRequest, MixView},
    seed::Conditions,
    units::{Area, Fraction, Length, MassPerArea, Unit},
    weather::{Years, plus},
    window::Forecast,
    years::{Known, Scenarios},
};
use jiff::civil::{Date, date};
use planner::{Plan, Sky, Step, StepOdds, Succession, Tenure, ground::Asked, weather::seedbed};
use records::{
    Choices, Closes, Cover, Goal,
    book::{Ground, Operation},
};
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
        row_spacing: None,
        sow_on,
        spare: Fraction::ZERO,
        lime: None,
        nutrients: None,
        extra: vec![],
        regime: None,
    }
}

/// An operation in ink.
pub fn ink(n: u128, operation: &str, on: Date) -> Operation {
    let entry = Uuid::from_u128(n);
    Operation { entry, operation: operation.into(), closes: None, on, struck: false }
}

/// The same, inked for a step of the plan.
pub fn inked_for(step: &str, occurrence: Option<i32>, done: Operation) -> Operation {
    let closes = Closes { stand: Uuid::nil(), step: step.into(), season: None, occurrence };
    Operation { closes: Some(closes), ..done }
}

/// A field of no stand but the one asked about.
pub fn alone(decided: Date, sown: Option<Date>) -> Succession {
    [Tenure { stand: Uuid::nil(), decided: Some(decided), sown }].into_iter().collect()
}

/// Even odds, of forty years.
pub fn even_odds(window: &str) -> StepOdds {
    StepOdds {
        window: window.into(),
        name: window.replace('-', " "),
        odds: 0.5,
        low: 0.35,
        high: 0.65,
        years: 40,
        basis: agronomy::weather::Basis::Record,
        in_a_week: None,
        limited_by: None,
        edges: agronomy::window::Edges { opens: None, best: None, closes: None },
    }
}

/// The first time of a step.
pub fn step<'a>(plan: &'a Plan, key: &str) -> &'a Step {
    plan.steps.iter().find(|step| step.step == key).unwrap_or_else(|| panic!("no {key} in {:?}", keys(plan)))
}

/// The steps of a plan, in order.
pub fn keys(plan: &Plan) -> Vec<(&str, u32)> {
    plan.steps.iter().map(|step| (step.step.as_str(), step.occurrence)).collect()
}

/// A stand on ground that nobody has looked at, under the years of a record and a forecast.
pub fn under_sky<T>(
    choices: &Choices,
    sown_on: Option<Date>,
    today: Date,
    (record, forecast): (&Years, &Forecast),
    work: impl FnOnce(Asked<'_>, Sky<'_>) -> T,
) -> T {
    let ground = Ground::default();
    let asked = Asked {
        choices,
        ground: &ground,
        area: Area::new(5.0, Unit::Ha),
        setback: Length::default(),
        today,
        sown_on,
        year_start: date(2026, 1, 1),
        usual: None,
    };
    let around = |day: Date| Scenarios::new(Known { years: record, today, forecast }, plus(day, -60), 400);
    let site = seedbed(choices, &ground, record);
    let years = around(today);
    let runs = years.site(&site);
    let ahead = |day: Date| {
        let years = around(day);
        let runs = years.site(&site);
        (Arc::new(years), Arc::new(runs))
    };
    work(asked, Sky { years: &years, runs: &runs, level: Fraction::percent(50.0), ahead: &ahead })
}
