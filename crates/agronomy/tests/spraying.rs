//! A spray against its label: whose word counts, who is refused by name, from when on what is free.

use agronomy::{
    spraying::*,
    units::{Length, Quantity, Speed, Temperature, Unit},
};
use jiff::{
    ToSpan,
    civil::{Date, date},
};
use proptest::prelude::*;
use rstest::rstest;

const ON: Date = date(2026, 5, 14);

fn quantity(value: f64, unit: Unit) -> Quantity {
    Quantity { value, unit }
}

fn label(actives: &[&str]) -> SprayLabel {
    SprayLabel {
        ingredients: actives.iter().map(|one| (*one).to_owned()).collect(),
        lowest: Some(quantity(0.125, Unit::GalPerAc)),
        highest: Some(quantity(0.5, Unit::GalPerAc)),
        ..SprayLabel::default()
    }
}

fn asked(label: SprayLabel) -> SprayCheckRequest {
    SprayCheckRequest {
        label,
        rate: Some(quantity(0.25, Unit::GalPerAc)),
        on: ON,
        over: vec![],
        varieties: vec![],
        to_sow: vec![],
        cut_on: None,
        graze_on: None,
        water: None,
        wind: None,
        temperature: None,
    }
}

fn held(request: &SprayCheckRequest) -> Held {
    spray_check(request).unwrap().value.held
}

fn found(request: &SprayCheckRequest, key: &str) -> Finding {
    let answer = spray_check(request).unwrap().value;
    answer.findings.into_iter().find(|one| one.key == key).unwrap_or_else(|| panic!("no {key}"))
}

#[rstest]
#[case(0.25, Unit::GalPerAc, Held::Within)]
#[case(0.5, Unit::GalPerAc, Held::Within)]
// Half a gallon an acre, in litres a hectare: the same rate in another unit.
#[case(0.5 * 9.353_956_228_956, Unit::LPerHa, Held::Within)]
#[case(0.51, Unit::GalPerAc, Held::Against)]
#[case(0.1, Unit::GalPerAc, Held::Against)]
// A label that pours can't be held against what is weighed.
#[case(1.0, Unit::LbPerAc, Held::Against)]
fn an_entered_rate_is_held_against_the_entered_label(#[case] value: f64, #[case] unit: Unit, #[case] is: Held) {
    let request = SprayCheckRequest { rate: Some(quantity(value, unit)), ..asked(label(&["glyphosate"])) };
    assert_eq!(found(&request, "rate").held, is);
}

#[test]
fn no_dose_is_ever_proposed() {
    let mut bare = label(&["glyphosate"]);
    (bare.lowest, bare.highest) = (None, None);
    assert_eq!(found(&asked(bare), "rate").held, Held::NotRead);
    let none = SprayCheckRequest { rate: None, ..asked(label(&["glyphosate"])) };
    let finding = found(&none, "rate");
    assert_eq!(finding.held, Held::NotRead);
    assert!(!finding.reason.contains("gal"), "{}", finding.reason);
}

#[rstest]
#[case::tank(quantity(2.0, Unit::LPerHa), quantity(1.0, Unit::L), "/rate", "per area")]
#[case::nothing(quantity(2.0, Unit::LPerHa), quantity(0.0, Unit::LPerHa), "/rate", "a rate above zero")]
#[case::crossed(quantity(9.0, Unit::LPerHa), quantity(1.0, Unit::LPerHa), "/label/lowest", "above the highest")]
fn what_no_label_says_is_refused(
    #[case] lowest: Quantity,
    #[case] rate: Quantity,
    #[case] at: &str,
    #[case] says: &str,
) {
    let mut label = label(&["x"]);
    label.lowest = Some(lowest);
    let refused = spray_check(&SprayCheckRequest { rate: Some(rate), ..asked(label) }).unwrap_err();
    let one = refused.0.iter().find(|one| one.pointer == at).unwrap_or_else(|| panic!("{refused:?}"));
    assert!(one.detail.contains(says), "{}", one.detail);
}

fn over(crops: &[&str], label: SprayLabel) -> SprayCheckRequest {
    SprayCheckRequest { over: crops.iter().map(|crop| (*crop).to_owned()).collect(), ..asked(label) }
}

#[test]
fn a_mix_is_refused_by_the_name_of_the_member_that_does_not_bear_it() {
    let mix = ["big-bluestem", "little-bluestem", "purple-coneflower"];
    let answer = spray_check(&over(&mix, label(&["2,4-D amine"]))).unwrap().value;
    assert_eq!(answer.held, Held::Against);
    let worst = &answer.findings[0];
    assert_eq!(worst.crop.as_deref(), Some("purple-coneflower"));
    assert!(worst.reason.contains("purple coneflower") && worst.reason.contains("2,4-D amine"), "{}", worst.reason);
    // Of the grasses nobody has read anything: they are not told, and not waved through.
    assert_eq!(answer.findings.iter().filter(|one| one.held == Held::NotRead).count(), 2);
}

#[rstest]
#[case::named(&["Big bluestem"], "big-bluestem", Held::Within)]
#[case::in_latin(&["andropogon gerardii"], "big-bluestem", Held::Within)]
#[case::by_kind(&["grasses"], "big-bluestem", Held::Within)]
#[case::left_out(&["switchgrass"], "big-bluestem", Held::Against)]
#[case::not_read(&[], "big-bluestem", Held::NotRead)]
// The label that was read counts above the table of what such sprays kill.
#[case::label_rules(&["alfalfa"], "alfalfa", Held::Within)]
#[case::table_warns(&[], "alfalfa", Held::Against)]
fn whose_word_counts(#[case] written: &[&str], #[case] crop: &str, #[case] is: Held) {
    let mut label = label(&["imazapic"]);
    label.over = written.iter().map(|one| (*one).to_owned()).collect();
    assert_eq!(found(&over(&[crop], label), "over").held, is);
}

#[test]
fn a_sowing_waits_as_long_as_the_label_says() {
    let mut label = label(&["picloram"]);
    label.plant_back = vec![
        LabelWait { crop: "legumes".into(), days: 365 },
        LabelWait { crop: "alfalfa".into(), days: 540 },
        LabelWait { crop: "grasses".into(), days: 30 },
    ];
    let sow = |crop: &str, days: i32| SprayCheckRequest {
        to_sow: vec![ToSow { crop: crop.into(), on: ON.saturating_add(days.days()) }],
        ..asked(label.clone())
    };
    assert_eq!(found(&sow("orchardgrass", 30), "plant-back").held, Held::Within);
    assert_eq!(found(&sow("orchardgrass", 29), "plant-back").held, Held::Against);
    // Of the kind and the crop, the longer.
    assert_eq!(found(&sow("alfalfa", 400), "plant-back").held, Held::Against);
    assert_eq!(found(&sow("kale", 900), "plant-back").held, Held::NotRead);
    let free = spray_check(&sow("alfalfa", 400)).unwrap().value.free;
    assert_eq!(free[0].on, ON.saturating_add(540.days()));
}

#[test]
fn cutting_and_grazing_wait_too() {
    let mut label = label(&["glyphosate"]);
    (label.harvest_days, label.grazing_days) = (Some(14), Some(0));
    let request = SprayCheckRequest { cut_on: Some(ON.saturating_add(13.days())), graze_on: Some(ON), ..asked(label) };
    assert_eq!((found(&request, "cut").held, found(&request, "graze").held), (Held::Against, Held::Within));
    let free: Vec<_> = spray_check(&request).unwrap().value.free.into_iter().map(|one| (one.what, one.on)).collect();
    assert_eq!(free, [(Unfree::Cutting, ON.saturating_add(14.days())), (Unfree::Grazing, ON)]);
}

#[test]
fn wind_warmth_and_water_are_the_labels() {
    let mut label = label(&["glyphosate"]);
    label.most_wind = Some(Speed::new(10.0, Unit::Mph));
    (label.coolest, label.hottest) =
        (Some(Temperature::new(50.0, Unit::DegF)), Some(Temperature::new(85.0, Unit::DegF)));
    label.buffer = Some(Length::new(50.0, Unit::Ft));
    let at = |wind: f64, air: f64, water: f64| SprayCheckRequest {
        wind: Some(Speed::new(wind, Unit::Mph)),
        temperature: Some(Temperature::new(air, Unit::DegF)),
        water: Some(Length::new(water, Unit::Ft)),
        ..asked(label.clone())
    };
    assert_eq!(held(&at(8.0, 70.0, 80.0)), Held::Within);
    assert_eq!(found(&at(12.0, 70.0, 80.0), "wind").held, Held::Against);
    assert_eq!(found(&at(8.0, 45.0, 80.0), "temperature").held, Held::Against);
    assert_eq!(found(&at(8.0, 90.0, 80.0), "temperature").held, Held::Against);
    assert_eq!(found(&at(8.0, 70.0, 40.0), "buffer").held, Held::Against);
}

#[test]
fn the_label_is_pointed_at() {
    let answer = spray_check(&asked(label(&["glyphosate"]))).unwrap();
    assert!(answer.cautions.iter().any(|caution| caution.key == "spray-label"));
}

proptest! {
    /// A rate inside the limits is never against them, whatever units it is written in; one outside always is.
    #[test]
    fn limits_do_not_depend_on_units(low in 0.1..5.0_f64, wide in 1.01..4.0_f64, at in 0.2..6.0_f64) {
        let high = low * wide;
        let factor = 9.353_956_228_956;
        let mut label = label(&["x"]);
        label.lowest = Some(quantity(low, Unit::LPerHa));
        label.highest = Some(quantity(high / factor, Unit::GalPerAc));
        let rate = low * at;
        prop_assume!((rate / low - 1.0).abs() > 1e-6 && (rate / high - 1.0).abs() > 1e-6);
        let request = SprayCheckRequest { rate: Some(quantity(rate, Unit::LPerHa)), ..asked(label) };
        let within = rate >= low && rate <= high;
        prop_assert_eq!(found(&request, "rate").held == Held::Within, within);
    }
}

mod hours {
    use super::*;
    use agronomy::{
        units::{Fraction, Measure},
        weather::{Day, Place, generator::Hour},
    };

    const HERE: Place = Place { latitude: 42.5, elevation: 300.0 };

    fn hour(temperature: f64, rain: f64, wind: f64) -> Hour {
        Hour { temperature, rain, radiation: 1.0, humidity: 60.0, wind }
    }

    fn limits(wind: f64, coolest: f64, hottest: f64) -> SprayLimits {
        SprayLimits {
            most_wind: Some(Speed::new(wind, Unit::Mph)),
            coolest: Some(Temperature::new(coolest, Unit::DegF)),
            hottest: Some(Temperature::new(hottest, Unit::DegF)),
        }
    }

    /// 3 to 10 miles an hour are on many labels (common practice, no source); the label’s own limit goes before it.
    #[rstest]
    #[case::still(hour(15.0, 0.0, 1.3), SprayLimits::default(), false)]
    #[case::three_miles(hour(15.0, 0.0, 1.35), SprayLimits::default(), true)]
    #[case::ten_miles(hour(15.0, 0.0, 4.47), SprayLimits::default(), true)]
    #[case::more(hour(15.0, 0.0, 4.6), SprayLimits::default(), false)]
    #[case::the_label_allows(hour(15.0, 0.0, 4.6), limits(15.0, 40.0, 85.0), true)]
    #[case::at_its_limit(hour(15.0, 0.0, 15.0 * 0.447_04), limits(15.0, 40.0, 85.0), true)]
    #[case::cold(hour(4.0, 0.0, 3.0), limits(15.0, 40.0, 85.0), false)]
    #[case::hot(hour(30.0, 0.0, 3.0), limits(15.0, 40.0, 85.0), false)]
    #[case::rain(hour(15.0, 0.2, 3.0), SprayLimits::default(), false)]
    #[case::dew(hour(15.0, 0.05, 3.0), SprayLimits::default(), true)]
    fn an_hour_is_fit_where_nothing_speaks_against_it(
        #[case] all: Hour,
        #[case] limits: SprayLimits,
        #[case] fit: bool,
    ) {
        let told = spray_hours(limits, &[[all; 24]]);
        assert_eq!(told.len(), 24);
        assert!(told.iter().all(|one| one.fit.base() == f64::from(u8::from(fit))), "{:?}", told[0]);
    }

    /// Three of four ways are calm at noon: a quarter fit; wind in the middle of them.
    #[test]
    fn the_ways_that_it_may_go_are_counted() {
        let ways = [1.0, 1.0, 1.0, 3.0].map(|wind| [hour(15.0, 0.0, wind); 24]);
        let told = spray_hours(SprayLimits::default(), &ways);
        assert_eq!((told[12].fit.base(), told[12].still.base(), told[12].windy.base()), (0.25, 0.75, 0.0));
        assert_eq!(told[12].wind.map(|wind| wind.to(Unit::MPerS)), [1.0, 1.0, 3.0]);
        assert_eq!(best_hours(&told, Fraction::percent(80.0)), None);
        assert_eq!(best_hours(&told, Fraction::percent(25.0)), Some([0, 24]));
        assert_eq!(spray_hours(SprayLimits::default(), &[]), []);
        // A service that tells no wind tells nothing.
        assert_eq!(spray_hours(SprayLimits::default(), &[[hour(15.0, 0.0, f64::NAN); 24]]), []);
        assert_eq!(best_hours(&[], Fraction::percent(80.0)), None);
    }

    /// A day of 3 m/s on average is windiest at noon and calmer at night, and keeps its mean within a tenth.
    #[test]
    fn hours_are_drawn_from_a_day_by_the_sun() {
        let day = Day { tmin: 8.0, tmax: 22.0, rain: 0.0, radiation: 20.0, dew_point: 7.0, wind: 3.0 };
        let [drawn] = drawn_hours(HERE, ON, &[[day; 3]]).try_into().unwrap();
        assert!(drawn[12].wind > 3.5 && drawn[2].wind < 2.5);
        let mean = drawn.iter().map(|one| one.wind).sum::<f64>() / 24.0;
        assert!((mean - 3.0).abs() < 0.3, "{mean}");
        // Rain falls at another hour in another way that the weather may go.
        let wet = Day { rain: 6.0, ..day };
        let ways = drawn_hours(HERE, ON, &[[wet; 3]; 20]);
        let begins: std::collections::BTreeSet<_> =
            ways.iter().map(|way| way.iter().position(|one| one.rain > 0.0)).collect();
        assert!(begins.len() > 5, "{begins:?}");
    }

    proptest! {
        /// More wind allowed never makes an hour less fit, and shares are shares.
        #[test]
        fn a_looser_label_leaves_no_fewer_hours(winds in prop::collection::vec(0.0..15.0f64, 24), least in 1.0..20.0f64, more in 0.0..10.0f64) {
            let day: [Hour; 24] = std::array::from_fn(|at| hour(15.0, 0.0, winds[at]));
            let told = |most: f64| spray_hours(SprayLimits { most_wind: Some(Speed::new(most, Unit::MPerS)), ..SprayLimits::default() }, &[day]);
            for (tight, loose) in told(least).iter().zip(told(least + more)) {
                prop_assert!(tight.fit <= loose.fit);
                prop_assert!((0.0..=1.0).contains(&tight.fit.base()));
            }
        }
    }
}

/// A label that names a crop does not make it safe under what kills all that is green: the variety that stands there
/// decides, and where it is unknown it is asked for. Common practice.
#[rstest]
#[case::asked("alfalfa", "glyphosate", None, Held::NotRead)]
#[case::asked_of_the_tolerant("glyphosate-tolerant alfalfa", "glyphosate", None, Held::NotRead)]
#[case::ordinary("alfalfa", "glyphosate", Some(&[][..]), Held::Against)]
#[case::ordinary_under_the_tolerant("glyphosate-tolerant alfalfa", "glyphosate potassium", Some(&[][..]), Held::Against)]
#[case::tolerant("glyphosate-tolerant alfalfa", "glyphosate potassium", Some(&["glyphosate"][..]), Held::Within)]
#[case::of_another("glyphosate-tolerant alfalfa", "glufosinate", Some(&["glyphosate"][..]), Held::Against)]
#[case::written_otherwise("alfalfa", "Glufosinate-ammonium", Some(&["glufosinate"][..]), Held::Within)]
// What is selective is safe where the label names the crop, whatever the variety.
#[case::selective("alfalfa", "imazethapyr", None, Held::Within)]
// One letter more is another herbicide.
#[case::one_letter("2,4-D-tolerant alfalfa", "2,4-D", Some(&["2,4-DB"][..]), Held::Against)]
// A label for tolerant varieties alone is no label for others, selective or not.
#[case::selective_for_few("imazamox-tolerant alfalfa", "imazamox", Some(&[][..]), Held::Against)]
// Dormant alfalfa is burnt down on purpose; on green alfalfa it is a loss.
#[case::burns("alfalfa", "paraquat", Some(&[][..]), Held::NotRead)]
#[case::not_named("soybean", "glyphosate", Some(&["glyphosate"][..]), Held::Against)]
fn tolerance_is_the_varietys(
    #[case] written: &str,
    #[case] active: &str,
    #[case] tolerates: Option<&[&str]>,
    #[case] is: Held,
) {
    let mut request = over(&["alfalfa"], label(&[active]));
    request.label.over = vec![written.to_owned()];
    let words = |all: &[&str]| all.iter().map(|one| (*one).to_owned()).collect();
    request.varieties = tolerates
        .map(|tolerates| StandingVariety { crop: "alfalfa".to_owned(), tolerates: words(tolerates) })
        .into_iter()
        .collect();
    let found = found(&request, "over");
    assert_eq!(found.held, is, "{}", found.reason);
}

/// The same table as of a field before it is sown, where the label's interval was not read.
#[rstest]
#[case::maize_after_its_herbicide("atrazine", "silage-maize", date(2026, 6, 1), Held::NotRead)]
#[case::alfalfa_after_it("atrazine", "alfalfa", date(2027, 4, 1), Held::Against)]
#[case::in_time("atrazine", "alfalfa", date(2027, 12, 1), Held::NotRead)]
#[case::burnt_down("glyphosate", "timothy", date(2026, 5, 20), Held::NotRead)]
#[case::unknown("moonshine", "timothy", date(2026, 5, 20), Held::NotRead)]
fn what_was_not_read_is_warned_of_by_the_table(
    #[case] active: &str,
    #[case] crop: &str,
    #[case] on: Date,
    #[case] is: Held,
) {
    let mut request = asked(label(&[active]));
    request.to_sow = vec![ToSow { crop: crop.to_owned(), on }];
    let told = found(&request, "plant-back");
    assert_eq!(told.held, is, "{}", told.reason);
    // An ingredient that is not in the table takes nothing from what is known.
    request.label.ingredients.push("moonshine".to_owned());
    assert_eq!(found(&request, "plant-back").held, is);
}
