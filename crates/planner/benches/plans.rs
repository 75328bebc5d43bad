//! How fast plans are made, odds included: `./ink bench plan`.
#![allow(missing_docs)]

use std::sync::Arc;

use agronomy::{
    units::{Area, Fraction, Length, Unit},
    weather::{Years, generator::Climate, place_normals, plus, usual_year::UsualYear},
    window::Forecast,
    years::{Known, Scenarios, SiteRuns},
};
use criterion::{Criterion, criterion_group, criterion_main};
use jiff::civil::{Date, date};
use planner::{Facts, Sky, Uses, assess, ground::Asked, plan, weather::seedbed, whole};
use records::{
    Choices,
    book::{Ground, Operation},
    kinds::choices::ChoicesShape,
};
use serde_json::json;
use uuid::Uuid;

const TODAY: Date = date(2026, 5, 14);
const PRACTICES: [&str; 4] = ["tilled", "no-till", "sod-killed-twice", "no-synthetics"];
const CROPS: [&str; 4] = ["alfalfa", "orchardgrass", "timothy", "red-clover"];

fn choices(field: usize) -> Choices {
    let mix = json!({"by": "full-rate", "members": [{"crop": CROPS[field % 4], "share": {"value": 110, "unit": "%"}}]});
    let shape = json!({"goal": "hay", "sow_on": "2026-08-15", "practice": PRACTICES[field / 4 % 4],
        "cover": {"as": "seed", "mix": mix}});
    serde_json::from_value::<ChoicesShape>(shape).expect("choices").ready()
}

/// Forty years at hand, as a farm's are once they were asked for.
struct Hills {
    record: Years,
    scenarios: Arc<Scenarios>,
}

impl Hills {
    fn new() -> Self {
        let normals = place_normals("northern-hills").expect("a place");
        let record = Climate::new(&normals).years(9, date(1986, 1, 1), plus(TODAY, -1));
        let known = Known { years: &record, today: TODAY, forecast: &Forecast::default() };
        let scenarios = Arc::new(Scenarios::new(known, date(2026, 1, 1), 500));
        Self { record, scenarios }
    }

    fn plan(&self, choices: &Choices, ground: &Ground, runs: &Arc<SiteRuns>) -> usize {
        let asked = Asked {
            choices,
            ground,
            area: Area::new(8.0, Unit::Ha),
            setback: Length::default(),
            today: TODAY,
            sown_on: None,
            year_start: date(2026, 1, 1),
            usual: None,
        };
        let ahead = |_: Date| (self.scenarios.clone(), runs.clone());
        let sky = Sky { years: &self.scenarios, runs, level: Fraction::percent(50.0), ahead: &ahead };
        whole(asked, assess(asked, None, &planner::Succession::default(), Some(sky)), &[]).core.plan.steps.len()
    }
}

fn plans(criterion: &mut Criterion) {
    let hills = Hills::new();
    let ground = Ground::default();
    let one = choices(0);
    let runs = |choices: &Choices| Arc::new(hills.scenarios.site(&seedbed(choices, &ground, &hills.record)));
    let own = runs(&one);
    criterion.bench_function("plan.make, one field", |bench| bench.iter(|| hills.plan(&one, &ground, &own)));
    let farm: Vec<(Choices, Arc<SiteRuns>)> = (0..200)
        .map(|field| {
            let choices = choices(field);
            let runs = runs(&choices);
            (choices, runs)
        })
        .collect();
    criterion.bench_function("plan.make, 200 fields", |bench| {
        bench.iter(|| farm.iter().map(|(choices, runs)| hills.plan(choices, &ground, runs)).sum::<usize>());
    });
}

/// Ten years of eight cuts, a dressing after each, all in ink.
fn years_of_cuts(criterion: &mut Criterion) {
    let choices = Choices { regime: Some("silage-cuts".to_owned()), ..choices(0) };
    let sown = date(2016, 8, 15);
    let ink = |entry: usize, operation: &str, on: Date| {
        let entry = Uuid::from_u128(entry as u128);
        Operation { entry, operation: operation.to_owned(), closes: None, on, struck: false }
    };
    let mut on_stand = vec![ink(0, "sow", sown)];
    for time in 0..80 {
        let on = plus(date(2017 + time / 8, 4, 20), i32::from(time % 8) * 28);
        let at = 2 * usize::try_from(time).expect("a count");
        on_stand.extend([ink(at + 1, "cut", on), ink(at + 2, "dress", plus(on, 3))]);
    }
    let usual = Some(UsualYear { green_up: Some(60), frost: Some(320) });
    let from = vec![(2016, "silage-cuts".to_owned())];
    let facts = Facts { on_stand, uses: Uses { from, year_start: Some(date(2026, 1, 1)), usual }, ..Facts::default() };
    assert!(plan(&choices, &facts, TODAY).steps.len() > 160);
    criterion.bench_function("plan, ten years of eight cuts with dressings", |bench| {
        bench.iter(|| plan(&choices, &facts, TODAY).steps.len());
    });
}

criterion_group! { name = benches; config = Criterion::default().sample_size(20); targets = plans, years_of_cuts }
criterion_main!(benches);
