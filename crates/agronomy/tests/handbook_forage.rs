//! Forage quality against worked figures of handbooks.

use agronomy::{
    forage::quality::{ForageKind, IndicesRequest, StandingRequest, StemStage, indices, standing},
    units::{Fraction, Length, System, Unit},
};
use rstest::rstest;

use crate::recompute::{presented, recompute};

fn asked(kind: ForageKind, adf: f64, ndf: f64) -> IndicesRequest {
    let (adf, ndf) = (Fraction::percent(adf), Fraction::percent(ndf));
    IndicesRequest { kind, adf, ndf, crude_protein: None, ndf_digestibility: None, ash: None, fat: None }
}

/// Rohweder, Barnes & Jorgensen 1978 and the Hay Market Task Force (from memory): 100 in full bloom, 152 early.
#[rstest]
#[case(41.0, 53.0, 100.0, "3")]
#[case(30.0, 40.0, 152.0, "Prime")]
#[case(35.0, 46.0, 124.64, "1")]
#[case(45.0, 62.0, 80.8, "4")]
fn feed_value_as_the_hay_market_has_it(#[case] adf: f64, #[case] ndf: f64, #[case] value: f64, #[case] class: &str) {
    let told = indices(&asked(ForageKind::Legume, adf, ndf)).unwrap().value;
    assert!((told.relative_feed_value - value).abs() < 0.5, "{told:?}");
    assert_eq!(told.class, class);
    assert_eq!(told.relative_forage_quality, None, "nothing is said of how it is digested");
}

/// Undersander & Moore 2002; Moore & Kunkle 1999 (from memory), worked by hand.
#[test]
fn forage_quality_by_each_kinds_equations() {
    let legume = IndicesRequest {
        crude_protein: Some(Fraction::percent(22.0)),
        ndf_digestibility: Some(Fraction::percent(48.0)),
        ..asked(ForageKind::Legume, 30.0, 38.0)
    };
    let told = indices(&legume).unwrap().value;
    assert!((told.digestible_nutrients.to(Unit::Percent) - 63.63).abs() < 0.01, "{told:?}");
    assert!((told.intake.to(Unit::Percent) - 3.241).abs() < 0.001);
    assert!((told.relative_forage_quality.unwrap() - 167.7).abs() < 0.1);
    assert_eq!(told.price_class.as_deref(), Some("Good"));
    let grass = IndicesRequest {
        crude_protein: Some(Fraction::percent(14.0)),
        ndf_digestibility: Some(Fraction::percent(58.0)),
        ..asked(ForageKind::Grass, 33.0, 55.0)
    };
    let answer = indices(&grass).unwrap();
    let told = &answer.value;
    assert!((told.digestible_nutrients.to(Unit::Percent) - 60.63).abs() < 0.01, "{told:?}");
    assert!((told.intake.to(Unit::Percent) - 2.792).abs() < 0.002);
    assert!((told.relative_forage_quality.unwrap() - 137.6).abs() < 0.2);
    assert_eq!(told.price_class, None, "markets class alfalfa so");
    for system in [System::Us, System::Metric] {
        recompute(&presented(&answer.working, system));
    }
}

/// Bath & Marble 1989 (from memory): 62.1 % at ADF 27, 58.3 % at 32, on dry matter.
#[rstest]
#[case(27.0, 62.1)]
#[case(30.0, 59.83)]
#[case(32.0, 58.3)]
fn digestible_nutrients_of_alfalfa(#[case] adf: f64, #[case] nutrients: f64) {
    let told = indices(&asked(ForageKind::Legume, adf, 42.0)).unwrap().value;
    assert!((told.digestible_nutrients.to(Unit::Percent) - nutrients).abs() < 0.05, "{told:?}");
}

/// National Research Council 1984 and 1996, tables of feeds (from memory): TDN 60 % is 2.645, 2.169, 1.310 and 0.736
/// Mcal/kg.
#[test]
fn energies_of_sixty_percent_tdn() {
    // 82.38 − 0.7515 × 29.7804 is 60.
    let told = indices(&asked(ForageKind::Legume, 29.780_439, 40.0)).unwrap().value.energies;
    let all = [told.digestible, told.metabolisable, told.maintenance, told.gain];
    for (told, expected) in all.into_iter().zip([2.645, 2.169, 1.310, 0.736]) {
        assert!((told - expected).abs() < 0.005, "{all:?}");
    }
}

/// Hintz & Albrecht 1991 (from memory).
#[rstest]
#[case(30.0, StemStage::Bud, 39.894)]
#[case(24.0, StemStage::LateBud, 36.589)]
fn fibre_of_standing_alfalfa(#[case] inches: f64, #[case] stage: StemStage, #[case] ndf: f64) {
    let request =
        StandingRequest { height: Length::new(inches, Unit::In), stage, target: Some(Fraction::percent(40.0)) };
    let answer = standing(&request).unwrap();
    assert!((answer.value.ndf.to(Unit::Percent) - ndf).abs() < 0.01, "{answer:?}");
    assert!((answer.value.days_to_target.unwrap() - 2.0 * (40.0 - ndf)).abs() < 0.05);
    for system in [System::Us, System::Metric] {
        recompute(&presented(&answer.working, system));
    }
}

#[test]
fn what_no_forage_has_is_refused_at_its_field() {
    let swapped = indices(&asked(ForageKind::Legume, 42.0, 31.0)).unwrap_err();
    assert_eq!((swapped.0[0].pointer.as_str(), swapped.0.len()), ("/ndf", 1));
    let wrong = IndicesRequest { ash: Some(Fraction::percent(60.0)), ..asked(ForageKind::Grass, 5.0, 55.0) };
    let pointers: Vec<String> = indices(&wrong).unwrap_err().0.into_iter().map(|one| one.pointer).collect();
    assert_eq!(pointers, ["/adf", "/ash"]);
    let full = IndicesRequest { crude_protein: Some(Fraction::percent(30.0)), ..asked(ForageKind::Legume, 40.0, 80.0) };
    assert_eq!(indices(&full).unwrap_err().0[0].pointer, "/crude_protein");
    // Straw: outside what the intake of grass was fitted to.
    let straw = IndicesRequest {
        crude_protein: Some(Fraction::percent(1.5)),
        ndf_digestibility: Some(Fraction::percent(60.0)),
        ..asked(ForageKind::Grass, 12.0, 70.0)
    };
    assert_eq!(indices(&straw).unwrap().value.relative_forage_quality, None);
    // Inches typed as centimetres: it was never tried on stems so short.
    let short = StandingRequest { height: Length::new(30.0, Unit::Cm), stage: StemStage::Bud, target: None };
    assert_eq!(standing(&short).unwrap_err().0[0].pointer, "/height");
}
