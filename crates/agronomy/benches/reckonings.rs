//! How fast the heavier reckonings are: `./ink bench`.
#![allow(missing_docs)]

use agronomy::{
    blend::{BlendRequest, Product, least_cost},
    nutrients::{Amounts, Nutrient},
    site,
    soil::{Mapping, PMethod, import},
    units::*,
};
use criterion::{Criterion, criterion_group, criterion_main};
use rand::{RngExt, SeedableRng};
use rand_chacha::ChaCha8Rng;
use serde_json::json;

const NEEDS: [Nutrient; 9] = [
    Nutrient::N,
    Nutrient::P2o5,
    Nutrient::K2o,
    Nutrient::S,
    Nutrient::Mg,
    Nutrient::Ca,
    Nutrient::B,
    Nutrient::Zn,
    Nutrient::Mn,
];

/// 40 products of one to three nutrients each, 9 needs, whole bags on 8 ha.
fn shelf(seed: u64) -> BlendRequest {
    let mut rng = ChaCha8Rng::seed_from_u64(seed);
    let products = (0..40)
        .map(|index| {
            let analysis = (0..1 + index % 3)
                .map(|step| {
                    let nutrient = NEEDS[(index + 4 * step) % NEEDS.len()];
                    (nutrient, Fraction::percent(rng.random_range(8.0..30.0)))
                })
                .collect();
            Product {
                name: format!("product {index}"),
                analysis,
                price: MoneyPerMass::new(rng.random_range(0.3..1.6), Unit::UsdPerKg),
                bag: Some(Mass::new(25.0, Unit::Kg)),
                most: None,
            }
        })
        .collect();
    let need = |low: f64, high: f64, rng: &mut ChaCha8Rng| MassPerArea::new(rng.random_range(low..high), Unit::KgPerHa);
    let needs = NEEDS
        .into_iter()
        .enumerate()
        .map(|(index, nutrient)| {
            (nutrient, if index < 3 { need(20.0, 200.0, &mut rng) } else { need(2.0, 30.0, &mut rng) })
        })
        .collect();
    BlendRequest {
        needs,
        under: Fraction::ZERO,
        over: None,
        ceilings: Amounts::new(),
        per_dressing: Amounts::new(),
        dressings: None,
        trip: None,
        products,
        area: Some(Area::new(8.0, Unit::Ha)),
        whole_bags: true,
    }
}

fn blends(c: &mut Criterion) {
    let shelves: Vec<_> = (0..100).map(shelf).collect();
    // The distribution, not only the mean: the screen waits for the slow ones.
    let mut times: Vec<f64> = shelves
        .iter()
        .map(|shelf| {
            let start = std::time::Instant::now();
            least_cost(shelf).expect("a blend");
            start.elapsed().as_secs_f64() * 1e3
        })
        .collect();
    times.sort_by(f64::total_cmp);
    println!(
        "blend, 40 products, 9 needs, whole bags: median {:.1} ms, 95th percentile {:.1} ms, worst {:.1} ms",
        times[50], times[95], times[99]
    );
    let mut group = c.benchmark_group("blend");
    group.sample_size(20);
    group.bench_function("40 products, 9 needs, whole bags", |b| {
        let mut next = shelves.iter().cycle();
        b.iter(|| least_cost(next.next().expect("endless")).expect("a blend"));
    });
    group.finish();
}

fn sites(c: &mut Criterion) {
    let request: site::SiteRequest = serde_json::from_value(json!({
        "crop": "alfalfa", "today": "2026-05-14", "sow_on": "2026-08-10", "history_known": true,
        "facts": {"drainage": "moderate", "ponding_days": 3, "slope": {"value": 9, "unit": "%"}, "rain": {"value": 900, "unit": "mm"}},
        "sprays": [{"active": "aminopyralid", "on": "2025-06-10"}],
        "soil": {"laboratory": "L", "sampled_on": "2026-03-20", "layers": [
            {"from": {"value": 0, "unit": "in"}, "to": {"value": 6, "unit": "in"}, "ph": 5.6}]}
    }))
    .expect("a request");
    c.bench_function("site check", |b| b.iter(|| site::check(&request).expect("an answer")));
}

fn reports(c: &mut Criterion) {
    let mut text = String::from("Field,pH,Buffer pH,P,K,CEC\n");
    for index in 0..10_000 {
        text.push_str(&format!("Field {index},6.{},6.7,{},120,11.5\n", index % 10, 10 + index % 30));
    }
    let mapping = Mapping {
        columns: Default::default(),
        p_method: PMethod::BrayP1,
        laboratory: "L".into(),
        depth_unit: Unit::In,
        sampled_on: Some(jiff::civil::date(2026, 4, 1)),
    };
    let mut group = c.benchmark_group("soil report");
    group.sample_size(10);
    group.bench_function("10,000 lines", |b| b.iter(|| import(&text, &mapping).expect("a report")));
    group.finish();
}

criterion_group!(benches, blends, sites, reports);
criterion_main!(benches);
