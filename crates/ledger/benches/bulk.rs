//! How fast a century of weather goes into PostgreSQL: `./ink bench`.
#![allow(missing_docs)]

use agronomy::weather::{
    Day, Place,
    csv::{FileMapping, read_daily, write_daily},
    generator::Climate,
    place_normals,
};
use criterion::{Criterion, criterion_group, criterion_main};
use jiff::civil::{Date, date};
use ledger::{
    Pool,
    farm::Membership,
    weather::{Differing, SetUp, load_days, set_station},
};

#[path = "../tests/common.rs"]
mod common;
use common::{Pooled, database, farmed};

async fn farm_with_station() -> (Pool, Membership) {
    let pool = database().await.pool();
    let mut connection = pool.get().await.expect("a connection");
    let member = farmed(&mut connection, None).await;
    let place = Place { latitude: 42.5, elevation: 380.0 };
    let new = SetUp { name: "Ridge".to_owned(), place, code: None };
    set_station(&mut connection, &member, &new, None).await.expect("a station");
    drop(connection);
    (pool, member)
}

/// A century as a file: read, checked, and loaded into an empty record.
fn century(c: &mut Criterion) {
    let runtime = tokio::runtime::Builder::new_multi_thread().enable_all().build().expect("a runtime");
    let normals = place_normals("northern-hills").expect("known");
    let text = write_daily(&Climate::new(&normals).years(1, date(1900, 1, 1), date(1999, 12, 31)));
    let mut group = c.benchmark_group("weather");
    group.sample_size(10);
    group.bench_function("100 years of a file into PostgreSQL", |b| {
        b.iter_batched(
            || runtime.block_on(farm_with_station()),
            |(pool, member)| {
                let days: Vec<(Date, Day)> = read_daily(&text, &FileMapping::default(), None).expect("a file").days;
                runtime.block_on(load_days(&pool, &member, &days, Differing::Keep)).expect("loaded")
            },
            criterion::BatchSize::PerIteration,
        );
    });
    group.finish();
}

criterion_group!(benches, century);
criterion_main!(benches);
