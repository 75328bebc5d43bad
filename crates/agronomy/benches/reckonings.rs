//! How fast the heavier reckonings are: `./ink bench`.
#![allow(missing_docs)]

use std::collections::HashMap;

use agronomy::{
    blend::{BlendRequest, Product, least_cost},
    choosing::{RankRequest, rank, rank_in},
    counting::Counted,
    crop::{Drainage, library},
    establish::{DecideRequest, stand_decide},
    growth::{Cut, Plant, Soil, Stand, air},
    nutrients::{Amounts, Nutrient},
    site,
    soil::{Mapping, PMethod, Texture, import},
    units::*,
    water::{Bed, Profile, Today, Water, holds},
    weather::{
        Years,
        csv::{FileMapping, read_daily, write_daily},
        et0,
        generator::Climate,
        place_normals, plus,
        soil_temperature::{Column, Correction, Ground, SoilCover},
        sun,
    },
    window::{Forecast, odds, offered, rules_of},
    working::Blank,
    years::{Known, Scenarios, Site, SiteRuns},
};
use criterion::{Criterion, criterion_group, criterion_main};
use jiff::civil::date;
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
                price: MoneyPerMass::new(rng.random_range(0.3..1.6), Unit::MoneyPerKg),
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
    let ranked = RankRequest { goal: "hay".to_owned(), years: 4, site: request.clone(), climate: None, weather: None };
    c.bench_function("crops ranked for a field", |b| b.iter(|| rank(&ranked).expect("an answer")));
    let hills = Climate::new(&place_normals("northern-hills").expect("a place"));
    let years = hills.years(5, date(1996, 1, 1), date(2025, 12, 31));
    c.bench_function("crops ranked for a field in its weather", |b| {
        b.iter(|| rank_in(&ranked, Some(&years)).expect("an answer"));
    });
}

fn reports(c: &mut Criterion) {
    let mut text = String::from("Field,pH,Buffer pH,P,K,CEC\n");
    for index in 0..10_000 {
        text.push_str(&format!("Field {index},6.{},6.7,{},120,11.5\n", index % 10, 10 + index % 30));
    }
    let mapping = Mapping {
        columns: Default::default(),
        p_method: PMethod::BrayP1,
        buffer: Default::default(),
        laboratory: "L".into(),
        depth_unit: Unit::In,
        sampled_on: Some(date(2026, 4, 1)),
    };
    let mut group = c.benchmark_group("soil report");
    group.sample_size(10);
    group.bench_function("10,000 lines", |b| b.iter(|| import(&text, &mapping).expect("a report")));
    group.finish();
}

/// 200 fields over 40 years: water balance and soil temperature of every day.
fn field_days(c: &mut Criterion) {
    let (years, sky, psychrometric) = record();
    let textures =
        [Texture::Sand, Texture::SandyLoam, Texture::Loam, Texture::SiltLoam, Texture::ClayLoam, Texture::Clay];
    let mut group = c.benchmark_group("weather");
    group.sample_size(10);
    group.bench_function("200 fields x 40 years x 365 days, water and soil temperature", |b| {
        b.iter(|| {
            // What is the station's is reckoned once, what is the field's for each.
            let forcing: Vec<(Today, f64)> = years
                .days
                .iter()
                .zip(&sky)
                .take(40 * 365)
                .map(|(day, sky)| {
                    let solar = day.radiation;
                    (Today::of(*day, et0::of_day(*sky, years.place.elevation, psychrometric, *day)), solar)
                })
                .collect();
            (0..200)
                .map(|field| {
                    let texture = textures[field % textures.len()];
                    let (bed, ground) =
                        (Bed::seedbed(texture, Drainage::Moderate), Ground::new(texture, SoilCover::Bare));
                    let (mut water, mut column) = (Water::default(), Column::new(ground.diffusivity, 8.0));
                    let mut fit = 0_usize;
                    for ((today, solar), day) in forcing.iter().zip(&years.days) {
                        ground.step(&mut column, water.snow, *day, *solar);
                        water.step(&mut Blank, &bed.profile, &bed.canopy, *today);
                        fit += usize::from(water.workable(&bed.profile, *today) && column.at(0.03) > 10.0);
                    }
                    fit
                })
                .sum::<usize>()
        });
    });
    group.finish();
}

fn record() -> (Years, Vec<sun::Sky>, f64) {
    let normals = place_normals("northern-hills").expect("known");
    let years = Climate::new(&normals).years(1, date(1985, 1, 1), date(2026, 5, 13));
    let sky = (0..years.days.len()).map(|index| sun::sky_on(42.5, plus(years.first, index as i32))).collect();
    let psychrometric = et0::psychrometric(et0::air_pressure(years.place.elevation));
    (years, sky, psychrometric)
}

/// Growth, with its water and nitrogen: what hangs on the weather alone once a day, what is a field's on each.
fn growth(c: &mut Criterion) {
    let (years, ..) = record();
    let airs = air::of_years(&years);
    let crops = ["alfalfa", "orchardgrass", "switchgrass", "white-clover"].map(|id| library().season(id).expect("one"));
    let profile = Profile::root_zone(holds(Texture::SiltLoam), Drainage::Well, 0.6).down_to(2.0);
    let soil = Soil { profile, supplies: 140.0 };
    let mut group = c.benchmark_group("growth");
    group.sample_size(10);
    group.bench_function("200 fields x 40 years x 365 days, cut every 35", |b| {
        b.iter(|| {
            let of = |field: usize| -> f64 {
                let facts = [crops[field % crops.len()]];
                let mut stand = Stand::new(&soil, &[Plant::resting(facts[0], false, 2.0)]);
                for (day, air) in airs.iter().take(40 * 365).enumerate() {
                    stand.day(&facts, &soil, air, 0.3);
                    if day % 35 == field % 35 {
                        stand.cut(&facts, Cut::MOWN);
                    }
                }
                stand.herbage()
            };
            (0..200).map(of).sum::<f64>()
        });
    });
    group.finish();
}

/// After a new reading: everything that hangs on weather, of a farm of 200 fields in 24 kinds of
/// ground, ten of them with thermometers of their own, two ways of timing each.
fn windows(c: &mut Criterion) {
    let (years, ..) = record();
    let forecast = Forecast::default();
    let first = date(2026, 1, 1);
    let textures = [Texture::SandyLoam, Texture::Loam, Texture::SiltLoam, Texture::ClayLoam];
    let drainages = [Drainage::Well, Drainage::Moderate, Drainage::SomewhatPoor];
    let crops = ["alfalfa", "orchardgrass", "forage-oats", "red-clover"].map(|id| library().crop(id).expect("a crop"));
    let sites: Vec<Site> = (0..200)
        .map(|field: usize| {
            let cover = if field.is_multiple_of(2) { SoilCover::Bare } else { SoilCover::Residue };
            let mut site = Site::seedbed(textures[field % 4], drainages[field / 4 % 3], cover, 30);
            if field.is_multiple_of(20) {
                site.correction = Correction::new(vec![(date(2026, 5, 12), field as f64 / 100.0)]);
            }
            site
        })
        .collect();
    let mut group = c.benchmark_group("windows");
    group.sample_size(10);
    let known = Known { years: &years, today: date(2026, 5, 14), forecast: &forecast };
    let tried = |all: &Scenarios, runs: &HashMap<u64, SiteRuns>| {
        let odds_of = |(field, site): (usize, &Site)| {
            let (crop, ground) = (crops[field % crops.len()], site.among(runs).expect("its runs"));
            let kinds = offered(crop, all.frosty()).take(2);
            kinds.map(|kind| odds(all, ground, &rules_of(kind, crop, all, false, &[])).0.odds[200]).sum::<f64>()
        };
        sites.iter().enumerate().map(odds_of).sum::<f64>()
    };
    group.bench_function("all of a 200-field farm, from the weather on", |b| {
        b.iter(|| {
            let all = Scenarios::new(known, first, 500);
            tried(&all, &all.sites(&sites))
        });
    });
    // The weather has not changed, and of the ground only one field's: what a server does.
    group.bench_function("all of a 200-field farm after a reading in one of them", |b| {
        let all = Scenarios::new(known, first, 500);
        let mut runs = all.sites(&sites);
        b.iter(|| {
            runs.insert(sites[20].key(), all.site(&sites[20]));
            tried(&all, &runs)
        });
    });
    group.finish();
}

/// A count of many places, judged again at each one.
fn young(c: &mut Criterion) {
    let hits: Vec<f64> = (0..300).map(|place| f64::from(place * 37 % 101)).collect();
    let request = DecideRequest {
        crop: "switchgrass".into(),
        sown_on: date(2025, 5, 20),
        today: date(2026, 6, 20),
        counted: Counted::Grid { cells: 100, hits },
        stems: false,
        full: None,
        thin: None,
        next_odds: None,
        thicken_cost: None,
        start_over_cost: None,
        price: None,
        years: None,
    };
    c.bench_function("300 places of a count judged", |b| b.iter(|| stand_decide(&request).expect("an answer")));
}

fn files(c: &mut Criterion) {
    let normals = place_normals("northern-hills").expect("known");
    let text = write_daily(&Climate::new(&normals).years(1, date(1900, 1, 1), date(1999, 12, 31)));
    let mut group = c.benchmark_group("weather file");
    group.sample_size(10);
    group.bench_function("100 years read and checked", |b| {
        b.iter(|| read_daily(&text, &FileMapping::default(), None).expect("a file"));
    });
    group.finish();
}

criterion_group!(benches, blends, sites, reports, field_days, growth, windows, young, files);
criterion_main!(benches);
