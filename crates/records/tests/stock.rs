//! Seed bought is sown, lost, or left, in whatever order it is told and struck.

use agronomy::{
    seed::Tag,
    units::{Area, Fraction, Mass, Measure, Unit},
};
use jiff::{Timestamp, civil::date};
use proptest::prelude::*;
use records::{
    Content, Entry, Payload, Subject, Via,
    book::Books,
    kinds::{lot_tag::LotTag, seed_sown::SeedSown},
};
use uuid::Uuid;

fn entry(n: u128, lot: Uuid, day: i8, payload: Payload, struck: bool) -> Entry {
    Entry {
        id: Uuid::from_u128(n),
        about: vec![Subject::seed_lot(lot).into()],
        occurred_on: date(2026, 5, day),
        recorded_at: Timestamp::UNIX_EPOCH,
        recorded_by: Uuid::nil(),
        via: Via::Web,
        content: Content::Read(payload),
        closes: None,
        strikes: None,
        struck_by: struck.then(|| Uuid::from_u128(n + 1_000)),
    }
}

fn sown(kg: f64, lost: f64) -> Payload {
    SeedSown {
        area: Area::new(1.0, Unit::Ha),
        area_by: None,
        mass: Mass::new(kg, Unit::Kg),
        spilled: Some(Mass::new(lost, Unit::Kg)),
        setting: None,
        depth: None,
        soil_temperature: None,
        moisture: None,
        note: None,
    }
    .into()
}

proptest! {
    #[test]
    fn bought_is_sown_lost_or_left(
        parts in prop::collection::vec((0.1..20.0f64, 0.0..2.0f64, any::<bool>(), 2..28i8), 0..8),
        order in any::<u64>(),
    ) {
        let lot = Uuid::from_u128(7);
        let tag = Tag::new(Fraction::percent(98.0), Fraction::percent(90.0), Fraction::ZERO);
        let bought = 400.0;
        let first = entry(1, lot, 1, LotTag::of(tag, Some(Mass::new(bought, Unit::Kg))).into(), false);
        let mut later: Vec<Entry> = parts
            .iter()
            .enumerate()
            .map(|(at, (kg, lost, struck, day))| entry(2 + at as u128, lot, *day, sown(*kg, *lost), *struck))
            .collect();
        // Told in any order.
        let turn = if later.is_empty() { 0 } else { (order % later.len() as u64) as usize };
        later.rotate_left(turn);
        let books = Books::of(std::iter::once(&first).chain(&later));
        let left = books.lot(lot).unwrap().left().unwrap().to(Unit::Kg);
        let gone: f64 = parts.iter().filter(|(_, _, struck, _)| !struck).map(|(kg, lost, ..)| kg + lost).sum();
        prop_assert!((left + gone - bought).abs() < 1e-9, "{left} left, {gone} gone");
    }
}

/// Sown beyond what there was leaves nothing, not less than nothing; and who looks again says what there is.
#[test]
fn a_lot_is_never_less_than_empty_and_a_new_look_begins_anew() {
    let lot = Uuid::from_u128(7);
    let tag = || Tag::new(Fraction::percent(98.0), Fraction::percent(90.0), Fraction::ZERO);
    let told = |n, day, kg| entry(n, lot, day, LotTag::of(tag(), Some(Mass::new(kg, Unit::Kg))).into(), false);
    let mut entries = vec![told(1, 1, 10.0), entry(2, lot, 5, sown(12.0, 0.0), false)];
    let left = |entries: &[Entry]| Books::of(entries).lot(lot).unwrap().left().unwrap().base();
    assert_eq!(left(&entries), 0.0);
    entries.push(told(3, 9, 4.0));
    assert_eq!(left(&entries), 4.0);
}
