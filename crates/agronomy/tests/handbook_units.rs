//! Units against NIST Special Publication 811 (2008), appendix B.8, and against the `uom` crate as
//! an independent table.

use agronomy::{
    said,
    units::{
        Dimension, Element, Fraction, MassPerArea, Measure, Oxide, Quantity, Reader, System, Unit, basis::OxidePair,
        read, restate, system_of,
    },
};
use rstest::rstest;
use uom::si::{f64 as si, length, mass, velocity, volume};

/// NIST SP 811 B.8 prints these factors; those in bold there are exact.
#[rstest]
#[case(1.0, "lb", "kg", 0.453_592_37)]
#[case(1.0, "oz", "g", 28.349_523_125)]
#[case(1.0, "ton", "kg", 907.184_74)]
#[case(1.0, "in", "mm", 25.4)]
#[case(1.0, "ft", "m", 0.304_8)]
#[case(1.0, "gal", "L", 3.785_411_784)]
#[case(1.0, "mph", "km/h", 1.609_344)]
#[case(1.0, "ac", "m2", 4_046.856_422_4)]
#[case(1.0, "lb/ac", "kg/ha", 1.120_851_156)]
#[case(1.0, "ton/ac", "t/ha", 2.241_702_31)]
#[case(50.0, "degF", "degC", 10.0)]
#[case(-40.0, "degC", "degF", -40.0)]
#[case(43_560.0, "/ac", "/ft2", 1.0)]
#[case(1.0, "gal/ac", "L/ha", 9.353_956_23)]
#[case(1.0, "lb/1000ft2", "lb/ac", 43.56)]
#[case(1.0, "floz/1000ft2", "floz/ac", 43.56)]
fn nist_factors(#[case] value: f64, #[case] from: &str, #[case] to: &str, #[case] expected: f64) {
    let out = Quantity::new(value, from.parse().unwrap()).to(to.parse().unwrap()).unwrap();
    assert!((out.value - expected).abs() <= 1e-7 * expected.abs(), "{} for {expected}", out.value);
}

#[test]
fn agrees_with_an_independent_table() {
    let close = |ours: f64, theirs: f64| assert!((ours / theirs - 1.0).abs() < 1e-12, "{ours} {theirs}");
    close(Unit::In.factor(), si::Length::new::<length::inch>(1.0).get::<length::meter>());
    close(Unit::Ft.factor(), si::Length::new::<length::foot>(1.0).get::<length::meter>());
    close(Unit::Mph.factor(), si::Velocity::new::<velocity::mile_per_hour>(1.0).get::<velocity::meter_per_second>());
    close(Unit::T.factor(), si::Mass::new::<mass::ton>(1.0).get::<mass::kilogram>());
    close(Unit::L.factor(), si::Volume::new::<volume::liter>(1.0).get::<volume::cubic_meter>());
}

/// US liquid measure: 128 fluid ounces, 8 pints, 4 quarts a gallon; 16 ounces a pound (NIST Handbook 44, appendix C). A
/// quart an acre is 2.34 L/ha, as label tables of conversions print it.
#[test]
fn label_rates() {
    let gallon = Unit::GalPerAc.to_base(1.0);
    for (unit, many) in [(Unit::FlOzPerAc, 128.0), (Unit::PtPerAc, 8.0), (Unit::QtPerAc, 4.0)] {
        assert!((unit.to_base(many) / gallon - 1.0).abs() < 1e-12);
    }
    assert!((Unit::LPerHa.from_base(Unit::QtPerAc.to_base(1.0)) - 2.34).abs() < 0.005);
    assert!((Unit::MlPerHa.to_base(1_000.0) / Unit::LPerHa.to_base(1.0) - 1.0).abs() < 1e-12);
    assert!((Unit::OzPerAc.to_base(16.0) / Unit::LbPerAc.to_base(1.0) - 1.0).abs() < 1e-12);
    assert!((Unit::GPerHa.to_base(1_000.0) / Unit::KgPerHa.to_base(1.0) - 1.0).abs() < 1e-12);
}

/// Fertiliser grades: P₂O₅ = 2.2914 P, K₂O = 1.2046 K (every fertiliser handbook prints them;
/// recomputed from IUPAC 2021 atomic weights).
#[rstest]
#[case(OxidePair::Phosphorus, 2.2914)]
#[case(OxidePair::Potassium, 1.2046)]
#[case(OxidePair::Calcium, 1.3992)]
#[case(OxidePair::Magnesium, 1.6583)]
fn oxide_and_element(#[case] nutrient: OxidePair, #[case] factor: f64) {
    assert!((nutrient.oxide_per_element() - factor).abs() < 2e-4);
    let element = Element(MassPerArea::new(10.0, Unit::KgPerHa));
    let Oxide(oxide) = element.oxide(nutrient);
    assert!((oxide.to(Unit::KgPerHa) - 10.0 * factor).abs() < 2e-3);
    let back = Oxide(oxide).element(nutrient);
    assert!((back.base() - element.base()).abs() < 1e-15);
}

/// Arithmetic: 20 t at 65 % moisture is 7.0 t dry matter and 8.24 t at 15 %.
#[test]
fn dry_matter_and_as_fed() {
    use agronomy::units::{AsFed, Mass};
    let dry = AsFed(Mass::new(20.0, Unit::T)).dry(Fraction::percent(65.0));
    assert!((dry.0.to(Unit::T) - 7.0).abs() < 1e-9);
    assert!((dry.at_moisture(Fraction::percent(15.0)).0.to(Unit::T) - 8.235).abs() < 1e-3);
}

#[rstest]
#[case("2.5 ton/ac", Dimension::MassPerArea, 2.5, "ton/ac")]
#[case("4 lb per 1,000 sq ft", Dimension::MassPerArea, 4.0, "lb/1000ft2")]
#[case("2 oz/1000 ft²", Dimension::VolumePerArea, 2.0, "floz/1000ft2")]
#[case("1.5 mmhos/cm", Dimension::Conductivity, 1.5, "dS/m")]
#[case("2,5 t/ha", Dimension::MassPerArea, 2.5, "t/ha")]
#[case("1,250 lb", Dimension::Mass, 1250.0, "lb")]
#[case("1.250,5 kg", Dimension::Mass, 1250.5, "kg")]
#[case("6\"", Dimension::Length, 6.0, "in")]
#[case("1 1/2 in", Dimension::Length, 1.5, "in")]
#[case("¼ in", Dimension::Length, 0.25, "in")]
#[case("50 F", Dimension::Temperature, 50.0, "degF")]
#[case("-2.2 °C", Dimension::Temperature, -2.2, "degC")]
#[case("30 seeds/ft²", Dimension::CountPerArea, 30.0, "/ft2")]
#[case("30 /ft2", Dimension::CountPerArea, 30.0, "/ft2")]
#[case("15", Dimension::MassPerArea, 15.0, "lb/ac")]
#[case("$120", Dimension::Money, 120.0, "money")]
#[case("70%", Dimension::Ratio, 70.0, "%")]
#[case("1.5 hours", Dimension::Time, 1.5, "h")]
#[case("20 min", Dimension::Time, 20.0, "min")]
#[case("90 /h", Dimension::MoneyPerTime, 90.0, "money/h")]
#[case("$90/hr", Dimension::MoneyPerTime, 90.0, "money/h")]
#[case("510 /ton", Dimension::MoneyPerMass, 510.0, "money/ton")]
#[case("4.2 ac/h", Dimension::AreaPerTime, 4.2, "ac/h")]
#[case("22 fl oz/ac", Dimension::VolumePerArea, 22.0, "floz/ac")]
#[case("22 fluid ounces per acre", Dimension::VolumePerArea, 22.0, "floz/ac")]
#[case("22 oz/A", Dimension::VolumePerArea, 22.0, "floz/ac")]
#[case("1 1/2 pt/a", Dimension::VolumePerArea, 1.5, "pt/ac")]
#[case("2 quarts per acre", Dimension::VolumePerArea, 2.0, "qt/ac")]
#[case("750 mL/ha", Dimension::VolumePerArea, 750.0, "mL/ha")]
#[case("0.33 oz/ac", Dimension::MassPerArea, 0.33, "oz/ac")]
#[case("20 g/ha", Dimension::MassPerArea, 20.0, "g/ha")]
#[case("3 pints", Dimension::Volume, 3.0, "pt")]
#[case("5 gallons", Dimension::Volume, 5.0, "gal")]
fn reads_what_people_write(#[case] text: &str, #[case] dimension: Dimension, #[case] value: f64, #[case] unit: &str) {
    let bare = if dimension == Dimension::MassPerArea { Unit::LbPerAc } else { Unit::of(dimension).next().unwrap() };
    let understood = read(text, dimension, bare, System::Us).unwrap().quantity;
    assert_eq!((understood.value, understood.unit.symbol()), (value, unit));
}

#[rstest]
#[case("", "enter a mass")]
#[case("many", "number")]
#[case("5 bananas", "” is not a known unit")]
#[case("5 in", "enter a mass")]
#[case("1/0 lb", "number")]
#[case("€5", "use USD here")]
fn says_what_it_could_not_read(#[case] text: &str, #[case] said: &str) {
    let error = read(text, Dimension::Mass, Unit::Lb, System::Us).unwrap_err();
    assert!(error.contains(said), "{error}");
}

/// A farm's money is what it says it pays in, by the code or the sign; another's is not taken for it.
#[rstest]
#[case("EUR", "€5", Ok(5.0))]
#[case("EUR", "5", Ok(5.0))]
#[case("EUR", "5 EUR", Ok(5.0))]
#[case("EUR", "EUR 5", Ok(5.0))]
#[case("EUR", "$5", Err("use EUR here"))]
#[case("EUR", "5 USD", Err("use EUR here, not USD"))]
#[case("EUR", "5 dollars", Err("use EUR here, not USD"))]
#[case("ARS", "$5", Ok(5.0))]
#[case("ARS", "5 ars", Ok(5.0))]
#[case("USD", "5 dollars", Ok(5.0))]
fn money_is_read_in_what_is_paid(#[case] paid: &str, #[case] text: &str, #[case] read_as: Result<f64, &str>) {
    let reader = Reader { currency: paid.parse().unwrap(), ..Reader::default() };
    let understood = read(text, Dimension::Money, Unit::Money, reader);
    match read_as {
        Ok(value) => assert_eq!(understood.unwrap().quantity, Quantity::new(value, Unit::Money)),
        Err(said) => assert!(understood.unwrap_err().contains(said)),
    }
    let per = read("5 EUR/kg", Dimension::MoneyPerMass, Unit::MoneyPerKg, reader);
    assert_eq!(per.is_ok(), paid == "EUR");
}

/// What was written before farms had a currency is money still.
#[test]
fn older_prices_are_read() {
    let units = Unit::ALL.iter().filter(|unit| unit.symbol().starts_with("money"));
    for unit in units {
        assert_eq!(unit.symbol().replace("money", "USD").parse(), Ok(*unit));
    }
    assert!("USD/furlong".parse::<Unit>().is_err());
    let price = said!("{} a bag", Quantity::new(12.5, Unit::Money));
    assert_eq!(price.told(Some(Reader { currency: "EUR".parse().unwrap(), ..Reader::default() })), "€12.5 a bag");
}

#[test]
fn the_bare_ton_says_which_it_took() {
    for (system, unit) in [(System::Us, Unit::Ton), (System::Metric, Unit::T)] {
        let understood = read("3 t", Dimension::Mass, Unit::Kg, system).unwrap();
        assert_eq!(understood.quantity.unit, unit);
        assert!(understood.note.is_some());
    }
}

/// A decimal comma is one wherever a thousands mark can't stand: an eighth of an inch is not 125 inches.
#[rstest]
#[case("0,125 in", 0.125)]
#[case("-0,125 in", -0.125)]
#[case("00,500 in", 0.5)]
#[case("1234,500 in", 1234.5)]
#[case("1,250 in", 1250.0)]
#[case("12,5 in", 12.5)]
#[case("1.234,5 in", 1234.5)]
fn a_comma_is_a_decimal_mark_where_it_cannot_group(#[case] text: &str, #[case] inches: f64) {
    assert_eq!(read(text, Dimension::Length, Unit::In, System::Us).unwrap().quantity.value, inches);
}

#[test]
fn a_document_is_restated_whole_and_back_without_loss() {
    let mut document = serde_json::json!({
        "rate": { "value": 15.0, "unit": "lb/ac" },
        "list": [{ "depth": { "value": 0.25, "unit": "in" } }, { "share": { "value": 40.0, "unit": "%" } }],
        "text": "15 lb/ac stays as written",
    });
    assert_eq!(system_of(&document), Some(System::Us));
    let before = document.clone();
    restate(&mut document, System::Metric);
    assert_eq!(document["rate"]["unit"], "kg/ha");
    assert_eq!(document["list"][0]["depth"]["unit"], "mm");
    assert_eq!(document["list"][1]["share"], before["list"][1]["share"]);
    assert_eq!(document["text"], before["text"]);
    assert_eq!(system_of(&document), Some(System::Metric));
    restate(&mut document, System::Us);
    let rate = document["rate"]["value"].as_f64().unwrap();
    assert!((rate - 15.0).abs() < 1e-12);
}

#[test]
fn a_wrong_dimension_is_refused_in_words() {
    let error = serde_json::from_str::<MassPerArea>(r#"{"value": 3, "unit": "in"}"#).unwrap_err();
    assert!(error.to_string().contains("expected a mass per area"), "{error}");
    let error = serde_json::from_str::<MassPerArea>(r#"{"value": 3, "unit": "stone"}"#).unwrap_err();
    assert!(error.to_string().contains("” is not a known unit"), "{error}");
}
