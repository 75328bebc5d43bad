//! Lots of forage: what was made is left or set apart, and what left a field is counted once.

use agronomy::units::{Area, Fraction, Mass, MassPerArea, Measure, Unit};
use jiff::{
    Timestamp,
    civil::{Date, date},
};
use proptest::prelude::*;
use records::{
    About, Content, Entry, KINDS, Kept, Payload, Subject, SubjectKind, Via,
    book::{Books, Untold},
    kind,
    kinds::{
        cut::{Cut, CutMade},
        forage_analysis::{Basis, ForageAnalysis},
        forage_lot::{ForageForm, ForageLot},
        forage_split::{ForagePart, ForageSplit},
    },
};
use rstest::rstest;
use serde_json::{Value, json};
use uuid::Uuid;

const FIELD: Uuid = Uuid::from_u128(1);
const OTHER: Uuid = Uuid::from_u128(2);

fn lot(n: u128) -> Uuid {
    Uuid::from_u128(100 + n)
}

fn entry(n: u128, on: Date, about: Vec<About>, payload: impl Into<Payload>) -> Entry {
    Entry {
        id: Uuid::from_u128(1_000 + n),
        about,
        occurred_on: on,
        recorded_at: Timestamp::UNIX_EPOCH,
        recorded_by: Uuid::nil(),
        via: Via::Web,
        content: Content::Read(payload.into()),
        closes: None,
        strikes: None,
        struck_by: None,
    }
}

fn made(of: u128, kg: Option<f64>, moisture: Option<f64>) -> ForageLot {
    let payload = json!({"kind": "forage-lot", "crop": "alfalfa", "form": "round-bales", "pieces": 40});
    let Ok(Payload::ForageLot(bare)) = Payload::sent(payload) else { panic!("{of}") };
    ForageLot { mass: kg.map(|kg| Mass::new(kg, Unit::Kg)), moisture: moisture.map(Fraction::percent), ..*bare }
}

fn of(fields: &[Uuid], lot: Uuid) -> Vec<About> {
    let mut about: Vec<About> = fields.iter().map(|id| Subject::field(*id).into()).collect();
    about.push(Subject::forage_lot(lot).into());
    about
}

fn split(n: u128, from: Uuid, parts: &[(Uuid, Option<u32>, Option<f64>)]) -> Entry {
    let mut about = vec![Subject::field(FIELD).into(), Subject::forage_lot(from).from()];
    about.extend(parts.iter().map(|(lot, ..)| Subject::forage_lot(*lot).to()));
    let part = |(lot, pieces, kg): &(Uuid, Option<u32>, Option<f64>)| ForagePart {
        lot: *lot,
        pieces: *pieces,
        mass: kg.map(|kg| Mass::new(kg, Unit::Kg)),
        place: None,
    };
    entry(n, date(2026, 9, 1), about, ForageSplit { parts: parts.iter().map(part).collect(), note: None })
}

fn close(a: Option<Mass>, kg: f64) -> bool {
    a.is_some_and(|mass| (mass.to(Unit::Kg) - kg).abs() < 1e-6)
}

#[test]
fn a_lot_that_was_split_holds_what_is_left() {
    let entries = [
        entry(1, date(2026, 6, 12), of(&[FIELD], lot(1)), made(1, Some(20_000.0), Some(16.0))),
        split(2, lot(1), &[(lot(2), Some(10), None), (lot(3), None, Some(3_000.0))]),
        // And a part of a part.
        split(3, lot(2), &[(lot(4), Some(4), None)]),
    ];
    let books = Books::of(&entries);
    let left = |n| books.forage_left(lot(n));
    // Forty bales of 20 t are 500 kg each.
    assert!(close(left(1).mass, 20_000.0 - 5_000.0 - 3_000.0));
    assert_eq!((left(1).pieces, left(2).pieces, left(4).pieces), (Some(30), Some(6), Some(4)));
    assert!(close(left(2).mass, 3_000.0) && close(left(3).mass, 3_000.0) && close(left(4).mass, 2_000.0));
    let origin = books.forage_origin(lot(4)).unwrap();
    assert_eq!((origin.on, &origin.what.fields[..]), (date(2026, 6, 12), &[FIELD][..]));
    assert_eq!(books.forage_dry_matter(lot(4)), Some(Fraction::percent(84.0)));
    // More taken than there was leaves nothing, and no less than nothing.
    let books = Books::of(entries.iter().chain([&split(4, lot(3), &[(lot(5), None, Some(9_999.0))])]));
    assert!(close(books.forage_left(lot(3)).mass, 0.0));
}

#[test]
fn nobody_knows_what_is_left_where_the_unweighed_was_taken() {
    let whole =
        entry(1, date(2026, 6, 12), of(&[FIELD], lot(1)), ForageLot { pieces: None, ..made(1, Some(9e3), None) });
    let books = Books::of(&[whole, split(2, lot(1), &[(lot(2), Some(10), None)])]);
    assert_eq!(books.forage_left(lot(1)).mass, None);
    assert_eq!(books.forage_left(lot(2)).pieces, Some(10));
}

proptest! {
    /// What was made is what is left and what was set apart, however it was split.
    #[test]
    fn nothing_comes_and_nothing_goes(taken in prop::collection::vec((1..8u32, any::<bool>()), 0..5)) {
        let parts: Vec<_> = taken.iter().enumerate()
            .map(|(at, (pieces, weighed))| (lot(10 + at as u128), Some(*pieces), weighed.then(|| f64::from(*pieces) * 480.0)))
            .collect();
        let mut entries = vec![entry(1, date(2026, 6, 12), of(&[FIELD], lot(1)), made(1, Some(20_000.0), None))];
        // Half of them out of one another, half out of the first.
        for (at, part) in parts.iter().enumerate() {
            entries.push(split(2 + at as u128, lot(1), &[*part]));
        }
        let books = Books::of(&entries);
        let pieces: u32 = parts.iter().map(|(lot, ..)| books.forage_left(*lot).pieces.unwrap()).sum();
        let mass: f64 = parts.iter().map(|(lot, ..)| books.forage_left(*lot).mass.unwrap().base()).sum();
        let left = books.forage_left(lot(1));
        prop_assert_eq!(left.pieces.unwrap() + pieces, 40);
        prop_assert!((left.mass.unwrap().base() + mass - 20_000.0).abs() < 1e-6);
        // Thing by thing they are the same books.
        let mut by_things = Books::default();
        let mut things: Vec<Subject> = entries.iter().flat_map(|entry| entry.about.iter().map(|one| one.subject())).collect();
        things.sort();
        things.dedup();
        for thing in things {
            let about = entries.iter().filter(|entry| entry.about.iter().any(|one| one.subject() == thing));
            by_things.replace(thing, &Books::of(about));
        }
        prop_assert_eq!(by_things, books);
    }
}

fn cut(n: u128, on: Date, yielded: Option<f64>) -> Entry {
    let cut = yielded.map(|t| Cut {
        crop: "alfalfa".to_owned(),
        harvested: MassPerArea::new(t, Unit::TPerHa),
        moisture: Some(Fraction::percent(15.0)),
        after_frost: false,
        analysis: Default::default(),
    });
    entry(n, on, vec![Subject::field(FIELD).into()], CutMade { cut, ..Default::default() })
}

type Told = Vec<(Date, f64)>;

/// What each harvest of the year came to on ten hectares, t/ha, and why others can't be told.
fn harvests(entries: &[Entry]) -> (Told, Vec<(Date, Untold)>) {
    let books = Books::of(entries);
    let year = date(2026, 1, 1)..date(2027, 1, 1);
    let (told, untold) = books.field(FIELD).harvests(year, |_| Area::new(10.0, Unit::Ha));
    let t_per_ha = |mass: MassPerArea| (mass.to(Unit::TPerHa) * 1e6).round() / 1e6;
    (told.iter().map(|one| (one.on, t_per_ha(one.what.harvested))).collect(), untold)
}

#[test]
fn what_left_the_field_is_counted_once() {
    let (first, second) = (date(2026, 6, 10), date(2026, 7, 15));
    let baled = |n, on, kg, wet| entry(n, on, of(&[FIELD], lot(n)), made(n, kg, wet));
    // A cut without a yield is told by its bales, two lots together; one with a yield by itself.
    let entries = [
        cut(1, first, None),
        baled(2, date(2026, 6, 12), Some(20_000.0), Some(16.0)),
        baled(3, date(2026, 6, 13), Some(5_000.0), Some(45.0)),
        cut(4, second, Some(3.0)),
        baled(5, date(2026, 7, 17), Some(30_000.0), Some(16.0)),
    ];
    let (told, untold) = harvests(&entries);
    assert_eq!(told, [(first, 2.0), (first, 0.5), (second, 3.0)]);
    assert_eq!(untold, []);
    // Corrected, a lot counts as it was corrected.
    let corrected = entry(6, date(2026, 6, 12), of(&[FIELD], lot(2)), made(2, Some(10_000.0), Some(16.0)));
    let (told, _) = harvests(&[&entries[..3], &[corrected]].concat());
    assert_eq!(told.iter().map(|(_, t)| t).sum::<f64>(), 1.5);
}

#[rstest]
#[case::nothing_weighed(None, Some(16.0), &[FIELD], None, Untold::Unweighed)]
#[case::how_wet(Some(9e3), None, &[FIELD], None, Untold::NoMoisture)]
#[case::off_how_much(Some(9e3), Some(16.0), &[FIELD, OTHER], None, Untold::NoArea)]
fn what_cant_be_told_says_why(
    #[case] kg: Option<f64>,
    #[case] wet: Option<f64>,
    #[case] fields: &[Uuid],
    #[case] area: Option<f64>,
    #[case] why: Untold,
) {
    let day = date(2026, 6, 12);
    let area = area.map(|ha| Area::new(ha, Unit::Ha));
    let lot = entry(2, day, of(fields, lot(1)), ForageLot { area, ..made(1, kg, wet) });
    assert_eq!(harvests(&[cut(1, date(2026, 6, 10), None), lot]), (vec![], vec![(date(2026, 6, 10), why)]));
}

#[test]
fn a_pile_off_two_fields_is_spread_over_the_ground_it_came_off() {
    let pile = ForageLot { area: Some(Area::new(30.0, Unit::Ha)), ..made(1, Some(90_000.0), Some(65.0)) };
    let pile = entry(1, date(2026, 6, 12), of(&[FIELD, OTHER], lot(1)), pile);
    assert_eq!(harvests(&[pile]).0, [(date(2026, 6, 12), 3.0)]);
}

/// A laboratory's dry matter stands in for a moisture that nobody took, and its minerals for the book's.
#[test]
fn a_report_tells_what_a_harvest_removed() {
    let report: ForageAnalysis = serde_json::from_value(json!({
        "basis": "dry-matter", "dry_matter": {"value": 86, "unit": "%"}, "potassium": {"value": 2.0, "unit": "%"}
    }))
    .unwrap();
    let entries = [
        entry(1, date(2026, 6, 12), of(&[FIELD], lot(1)), made(1, Some(10_000.0), None)),
        entry(2, date(2026, 7, 1), of(&[FIELD], lot(1)), report),
    ];
    let books = Books::of(&entries);
    let year = date(2026, 1, 1)..date(2027, 1, 1);
    let (told, _) = books.field(FIELD).harvests(year, |_| Area::new(10.0, Unit::Ha));
    let removed = told[0].what.removed().unwrap().value;
    assert!((removed.dry_matter.0.to(Unit::KgPerHa) - 860.0).abs() < 1e-6);
    // 860 kg of dry matter with 2.0 % K: 17.2 kg of K, 20.7 of K₂O.
    let potash = removed.removed[&agronomy::nutrients::Nutrient::K2o];
    assert!((potash.to(Unit::KgPerHa) - 20.72).abs() < 0.01, "{potash:?}");
}

#[rstest]
#[case::as_fed(Basis::AsFed, 17.6, 20.0)]
#[case::dry(Basis::DryMatter, 20.0, 20.0)]
fn figures_are_of_dry_matter(#[case] basis: Basis, #[case] reported: f64, #[case] dry: f64) {
    let report = json!({"basis": basis, "dry_matter": {"value": 88, "unit": "%"},
        "crude_protein": {"value": reported, "unit": "%"}, "adf": {"value": 41.0 * reported / dry, "unit": "%"},
        "ndf": {"value": 53.0 * reported / dry, "unit": "%"},
        "nitrate": {"share": {"value": 0.443 * reported / dry, "unit": "%"}, "as": "nitrate"}});
    let report: ForageAnalysis = serde_json::from_value(report).unwrap();
    assert!((report.dry(report.crude_protein).unwrap().to(Unit::Percent) - dry).abs() < 1e-9);
    // The index is 100 for alfalfa in full bloom, by its definition.
    assert!((report.relative_feed_value().unwrap() - 100.0).abs() < 0.5);
    // 4,430 ppm of nitrate are 1,000 of nitrate nitrogen.
    assert!((report.nitrate_nitrogen().unwrap().to(Unit::Percent) - 0.1).abs() < 1e-4);
}

#[rstest]
#[case::nothing(json!({"basis": "dry-matter"}), "/crude_protein")]
#[case::as_fed_of_what(json!({"basis": "as-fed", "adf": {"value": 30, "unit": "%"}}), "/dry_matter")]
#[case::swapped(json!({"basis": "dry-matter", "adf": {"value": 40, "unit": "%"}, "ndf": {"value": 30, "unit": "%"}}), "/adf")]
#[case::wet_basis(json!({"basis": "as-fed", "dry_matter": {"value": 20, "unit": "%"},
    "crude_protein": {"value": 18, "unit": "%"}}), "/crude_protein")]
fn a_report_that_cant_be_is_refused(#[case] mut report: Value, #[case] at: &str) {
    report["kind"] = json!("forage-analysis");
    let refused = Payload::sent(report).unwrap().check(date(2026, 6, 1)).unwrap_err();
    assert!(refused.0.iter().any(|one| one.pointer == at), "{refused:?}");
}

#[test]
fn pieces_and_weight_that_contradict_each_other_are_refused() {
    let lot = ForageLot { piece_mass: Some(Mass::new(30.0, Unit::Kg)), ..made(1, Some(20_000.0), None) };
    assert_eq!(Payload::from(lot).check(date(2026, 6, 1)).unwrap_err().0[0].pointer, "/mass");
    let near = ForageLot { piece_mass: Some(Mass::new(520.0, Unit::Kg)), ..made(1, Some(20_000.0), None) };
    assert_eq!(Payload::from(near).check(date(2026, 6, 1)), Ok(()));
    assert_eq!(ForageForm::Chopped.pieces(), "loads");
}

/// Whatever has no table is brought about by some record, and nothing else is.
#[test]
fn what_may_be_asked_for_may_be_founded() {
    for subject in SubjectKind::ALL {
        let founded = KINDS.iter().any(|kind| kind.founds.is_some_and(|founds| founds.kind == *subject));
        assert_eq!(founded, subject.kept() == Kept::Record, "{subject}");
        assert_eq!(SubjectKind::of(subject.word()), Some(*subject));
    }
    for kind in KINDS {
        // What a kind founds it is about.
        let Some(founds) = kind.founds else { continue };
        let needed = kind.needs.contains(&founds.kind) && founds.part.is_none();
        let part = founds.part.is_some_and(|part| kind.parts.contains(&(founds.kind, part)));
        assert!(needed || part, "{}", kind.word);
    }
}

#[rstest]
#[case::enough("cut", vec![Subject::field(FIELD).into()], true)]
#[case::of_what("cut", vec![], false)]
#[case::two_at_once("spray", vec![Subject::field(FIELD).into(), Subject::field(OTHER).into()], false)]
#[case::one_pile("forage-lot", of(&[FIELD, OTHER], lot(1)), true)]
#[case::two_piles("forage-lot", vec![Subject::field(FIELD).into(), Subject::forage_lot(lot(1)).into(),
    Subject::forage_lot(lot(2)).into()], false)]
#[case::no_part_in_it("cut", vec![Subject::field(FIELD).from()], false)]
#[case::split("forage-split", vec![Subject::forage_lot(lot(1)).from(), Subject::forage_lot(lot(2)).to()], true)]
#[case::into_three("forage-split", vec![Subject::forage_lot(lot(1)).from(), Subject::forage_lot(lot(2)).to(),
    Subject::forage_lot(lot(3)).to(), Subject::forage_lot(lot(4)).to()], true)]
#[case::from_two("forage-split", vec![Subject::forage_lot(lot(1)).from(), Subject::forage_lot(lot(3)).from(),
    Subject::forage_lot(lot(2)).to()], false)]
#[case::to_nothing("forage-split", vec![Subject::forage_lot(lot(1)).from()], false)]
#[case::itself("forage-split", vec![Subject::forage_lot(lot(1)).from(), Subject::forage_lot(lot(1)).to()], false)]
#[case::which_is_which("forage-split", vec![Subject::forage_lot(lot(1)).from(), Subject::forage_lot(lot(2)).into()], false)]
fn a_record_is_about_what_its_kind_knows(#[case] word: &str, #[case] about: Vec<About>, #[case] sound: bool) {
    assert_eq!(kind(word).unwrap().check_about(&about).is_ok(), sound, "{:?}", kind(word).unwrap().check_about(&about));
}
