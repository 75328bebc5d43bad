//! The small parts that everything stands on: refusals, cautions, sources, the sheet.

use agronomy::{
    caution::Caution,
    crop::library,
    given, reckon,
    refusal::{Checks, Refused},
    source::{Class, Origin, Source},
    units::*,
    working::{Answer, Sheet},
};
use rstest::rstest;

#[test]
fn refusals_are_told_together_each_at_its_field() {
    let mut checks = Checks::new();
    checks.positive("/rate", "the rate", MassPerArea::new(-2.0, Unit::LbPerAc), Unit::LbPerAc, 100.0);
    checks.within("/depth", "the depth", Length::new(9.0, Unit::In), Unit::In, 0.0, 4.0);
    checks.require(true, "/fine", "never told");
    assert!(!checks.is_clean());
    let refused = checks.done().unwrap_err();
    assert_eq!(refused.0.len(), 2);
    assert_eq!(
        refused.to_string(),
        "/rate: the rate is −2 lb/ac; enter more than zero; /depth: the depth is 9 in; enter 0 in to 4 in"
    );
    let outside = refused.under("/members/3");
    assert_eq!(outside.0[1].pointer, "/members/3/depth");
    assert_eq!(Refused::one("", "no field is to blame").to_string(), "no field is to blame");
}

#[rstest]
#[case::at_the_bound(4.0, true)]
#[case::a_hair_over(4.000_000_001, true)]
#[case::over(4.01, false)]
#[case::under(-0.01, false)]
#[case::no_number(f64::NAN, false)]
#[case::endless(f64::INFINITY, false)]
fn bounds_are_included_and_conversions_forgiven(#[case] inches: f64, #[case] taken: bool) {
    let mut checks = Checks::new();
    checks.within("/depth", "the depth", Length::from_base(inches * 0.0254), Unit::In, 0.0, 4.0);
    assert_eq!(checks.is_clean(), taken);
}

#[test]
fn a_part_that_is_refused_lends_its_refusals() {
    let mut checks = Checks::new();
    assert_eq!(checks.part("/a", Ok(3)), Some(3));
    assert_eq!(checks.part::<i32>("/b", Err(Refused::one("/c", "no"))), None);
    assert_eq!(checks.done().unwrap_err().0[0].pointer, "/b/c");
}

/// Every caution defers to a label, local rules or a licensed person, and is short.
#[test]
fn cautions_are_short_and_defer() {
    let mut keys: Vec<String> = library().crops().flat_map(|crop| crop.cautions.clone()).collect();
    keys.extend(
        ["lime-dust", "caustic-lime", "fertiliser", "manure", "nutrient-rules", "herbicide-history", "treated-seed"]
            .map(str::to_owned),
    );
    for key in keys {
        let caution = Caution::of(&key).unwrap_or_else(|| panic!("{key} is unknown"));
        assert!(caution.text.len() < 260, "{key} is a wall of text");
        let defers =
            ["Follow", "Ask", "law", "rules", "label", "Local"].iter().any(|word| caution.defer.contains(word));
        assert!(defers && caution.defer.len() < 120, "{key}: {}", caution.defer);
    }
    assert_eq!(Caution::of("dragons"), None);
}

#[test]
fn a_source_and_an_origin_are_written_as_they_are_read() {
    let source = Source::published("Somebody 1995, Bulletin 1");
    let written = serde_json::to_value(&source).unwrap();
    assert_eq!(written["class"], "published");
    assert_eq!(serde_json::from_value::<Source>(written).unwrap(), source);
    for origin in [
        Origin::Given,
        Origin::measured("a tag"),
        Origin::assumed("a test"),
        Origin::sourced(&source),
        Origin::Worked { part: "another working".into() },
    ] {
        let written = serde_json::to_value(&origin).unwrap();
        assert!(written["from"].is_string());
        assert_eq!(serde_json::from_value::<Origin>(written).unwrap(), origin);
    }
    let memory = Source { class: Class::FromMemory, citation: "x".into() };
    assert_eq!(serde_json::to_value(memory).unwrap()["class"], "from-memory");
}

fn inner(rate: MassPerArea) -> Answer<MassPerArea> {
    let mut sheet = Sheet::new("inner");
    given!(sheet; rate, Origin::Given);
    reckon!(sheet; doubled = rate * 2.0);
    sheet.caution("bloat");
    sheet.answer(doubled)
}

/// A part carried into another working is named there, can be reckoned with, and lends its cautions.
#[test]
fn a_carried_part_is_an_input() {
    let mut sheet = Sheet::new("outer");
    let doubled = sheet.carried("doubled_rate", inner(MassPerArea::new(4.0, Unit::KgPerHa)));
    given!(sheet; area = Area::new(2.0, Unit::Ha), Origin::Given);
    reckon!(sheet; mass = doubled * area);
    sheet.source(Source::common_practice("a rule"));
    sheet.source(Source::common_practice("a rule"));
    let answer = sheet.answer(mass);
    assert!((answer.value.to(Unit::Kg) - 16.0).abs() < 1e-9);
    assert_eq!(answer.working.inputs[0].name, "doubled rate");
    assert_eq!(answer.working.inputs[0].origin, Origin::Worked { part: "inner".into() });
    assert_eq!(answer.working.parts[0].title, "inner");
    assert_eq!(answer.working.sources.len(), 1, "a source stands once");
    assert_eq!(answer.cautions[0].key, "bloat");
    let turned = answer.map(|mass| mass.to(Unit::Kg));
    assert_eq!(turned.working.title, "outer");
}

#[test]
#[should_panic(expected = "unknown caution")]
fn an_unknown_caution_is_a_slip_in_the_code() {
    Sheet::new("x").caution("dragons");
}

#[rstest]
#[case(15.0, "15 lb/ac")]
#[case(0.0, "0 lb/ac")]
#[case(1234.5678, "1235 lb/ac")]
#[case(0.012_345, "0.0123 lb/ac")]
fn quantities_speak_in_few_figures(#[case] value: f64, #[case] said: &str) {
    let text = Quantity::new(value, Unit::LbPerAc).to_string();
    assert_eq!(text, said);
}

#[test]
#[should_panic(expected = "another dimension")]
fn a_unit_of_another_dimension_is_a_slip_in_the_code() {
    let _ = MassPerArea::new(1.0, Unit::Kg);
}

#[rstest]
#[case::mass_and_area(Mass::new(10.0, Unit::Kg).base(), (MassPerArea::new(5.0, Unit::KgPerHa) * Area::new(2.0, Unit::Ha)).base())]
#[case::price(MoneyPerArea::new(100.0, Unit::MoneyPerHa).base(), (MassPerArea::new(200.0, Unit::KgPerHa) * MoneyPerMass::new(500.0, Unit::MoneyPerT)).base())]
#[case::row(CountPerLength::new(30.0, Unit::PerM).base(), (CountPerArea::new(200.0, Unit::PerM2) * Length::new(15.0, Unit::Cm)).base())]
#[case::share(Mass::new(3.0, Unit::Kg).base(), (Mass::new(10.0, Unit::Kg) * Fraction::percent(30.0)).base())]
fn products_mean_something(#[case] expected: f64, #[case] product: f64) {
    assert!((expected - product).abs() < 1e-12 * (1.0 + expected.abs()));
}
