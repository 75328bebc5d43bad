//! What was sown is the sowing: records of seed close the step by the ground they cover.

use agronomy::units::{Area, Length, Mass, Unit};
use jiff::civil::{Date, date};
use planner::{ground::Asked, *};
use records::{
    Choices,
    book::{Dated, Ground, SownOfLot, StandBook},
    kinds::seed_sown::SeedSown,
};
use rstest::rstest;
use uuid::Uuid;

use crate::common::{choices, ink, step};

const SOW: Date = date(2026, 5, 1);
const TODAY: Date = date(2026, 5, 14);
const FIELD: f64 = 16.2;

/// A record of seed: of a lot, on a day of May, over so many acres.
fn sown(lot: u128, day: i8, acres: f64) -> SownOfLot {
    let what = SeedSown {
        area: Area::new(acres, Unit::Ac),
        area_by: None,
        mass: Mass::new(acres * 15.0, Unit::Lb),
        spilled: None,
        setting: None,
        depth: None,
        soil_temperature: None,
        moisture: None,
        note: None,
    };
    let entry = Uuid::from_u128((lot * 100 + day as u128) << 64);
    SownOfLot { lot: Some(Uuid::from_u128(lot)), sown: Dated { entry, on: date(2026, 5, day), what } }
}

fn plan_of(choices: &Choices, book: &StandBook) -> Plan {
    let ground = Ground::default();
    let asked = Asked {
        choices,
        ground: &ground,
        area: Area::new(FIELD, Unit::Ac),
        setback: Length::new(5.0, Unit::M),
        today: TODAY,
        sown_on: book.sown_on(),
        year_start: date(2026, 1, 1),
        usual: None,
    };
    assess(asked, Some(book), &Succession::default(), None).plan
}

#[rstest]
#[case::in_two_days(&[("alfalfa", 15.0)], vec![sown(1, 6, 7.2), sown(1, 7, 9.0)], true)]
#[case::two_lots_of_one_crop(&[("alfalfa", 15.0)], vec![sown(1, 6, 7.2), sown(2, 7, 9.0)], true)]
#[case::all_but_the_headlands(&[("alfalfa", 15.0)], vec![sown(1, 6, 15.5)], true)]
#[case::one_day_of_two(&[("alfalfa", 15.0)], vec![sown(1, 6, 7.2)], false)]
#[case::a_mix_box_by_box(&[("alfalfa", 10.0), ("orchardgrass", 4.0)], vec![sown(1, 6, 16.2), sown(2, 6, 16.2)], true)]
#[case::a_mix_half_done(&[("alfalfa", 10.0), ("orchardgrass", 4.0)], vec![sown(1, 6, 8.0), sown(2, 6, 8.0)], false)]
#[case::a_mix_from_one_bag(&[("alfalfa", 10.0), ("orchardgrass", 4.0)], vec![sown(1, 6, 16.2)], true)]
fn what_covers_the_field_is_the_sowing(#[case] mix: &[(&str, f64)], #[case] sown: Vec<SownOfLot>, #[case] all: bool) {
    let last = sown.iter().map(|one| (one.sown.on, one.sown.entry)).max().unwrap().1;
    let book = StandBook { sown, ..StandBook::default() };
    let plan = plan_of(&choices(mix, SOW), &book);
    // It has been sown since the first seed went into the ground, whatever is left to do.
    assert!(plan.sown);
    assert_eq!(plan.sown_on, date(2026, 5, 6));
    let step = step(&plan, "sow");
    if all {
        assert_eq!(step.inked(), Some((last, date(2026, 5, 6))));
        assert_eq!(step.part, None);
    } else {
        assert_eq!(step.inked(), None);
        assert!(step.part.is_some_and(|part| part.done < part.of));
    }
}

#[test]
fn the_step_itself_comes_first() {
    let book = StandBook {
        sown: vec![sown(1, 6, 7.2), sown(1, 7, 9.0)],
        operations: vec![ink(3, "sow", date(2026, 5, 6))],
        ..StandBook::default()
    };
    let plan = plan_of(&choices(&[("alfalfa", 15.0)], SOW), &book);
    let sowings = plan.steps.iter().filter(|step| step.is_sowing()).count();
    assert_eq!(sowings, 1, "what was sown is not a second sowing");
    assert_eq!(step(&plan, "sow").inked().map(|(entry, _)| entry), Some(ink(3, "sow", TODAY).entry));
}

#[test]
fn nothing_sown_is_nothing_done() {
    let plan = plan_of(&choices(&[("alfalfa", 15.0)], SOW), &StandBook::default());
    assert!(!plan.sown && step(&plan, "sow").part.is_none());
}
