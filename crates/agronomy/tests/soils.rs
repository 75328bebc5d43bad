//! Soil tests: what is kept, what is refused, what is read out of the layers; and the plant-back
//! table that warns beside them.

use agronomy::{
    crop::library,
    soil::{AcidityTest, Layer, PMethod, PTest, SoilTest, Texture, sampling},
    units::*,
};
use jiff::civil::date;
use proptest::prelude::*;
use rstest::rstest;
use serde_json::{Value, json};

fn inch(value: f64) -> Length {
    Length::new(value, Unit::In)
}

fn layer(from: f64, to: f64, ph: f64) -> Layer {
    Layer::new(inch(from), inch(to), ph)
}

fn test(layers: Vec<Layer>) -> SoilTest {
    SoilTest { laboratory: "L".into(), sample: "S".into(), sampled_on: date(2026, 3, 20), layers }
}

#[test]
fn a_whole_report_is_kept_as_it_was() {
    let mut top = layer(0.0, 6.0, 6.1);
    top.acidity = Some(AcidityTest::Smp { buffer_ph: 6.6 });
    top.p = Some(PTest { value: SoilContent::new(18.0, Unit::Ppm), method: PMethod::Olsen });
    top.k = Some(SoilContent::new(130.0, Unit::Ppm));
    top.cec = Some(Charge::new(11.5, Unit::MeqPer100G));
    top.base_saturation = Some(Fraction::percent(72.0));
    top.organic_matter = Some(Fraction::percent(3.4));
    let whole = test(vec![top, layer(6.0, 12.0, 5.8)]);
    whole.check().unwrap();
    let written = serde_json::to_value(&whole).unwrap();
    assert_eq!(written["layers"][0]["p"]["method"], "olsen");
    let back: SoilTest = serde_json::from_value(written).unwrap();
    assert!((back.layers[0].to.to(Unit::In) - 6.0).abs() < 1e-12);
    assert_eq!(back.layers[0].acidity, whole.layers[0].acidity);
    assert_eq!(back.sampled_on, whole.sampled_on);
}

#[rstest]
#[case::below_the_plough_layer(6.0, Some(5.2))]
#[case::below_a_foot(12.0, Some(5.2))]
#[case::deeper_than_anybody_dug(40.0, None)]
#[case::anywhere(0.0, Some(5.2))]
fn the_sourest_layer_below_a_depth(#[case] depth: f64, #[case] ph: Option<f64>) {
    let test = test(vec![layer(0.0, 6.0, 6.4), layer(6.0, 12.0, 5.9), layer(12.0, 24.0, 5.2)]);
    assert_eq!(test.lowest_ph_below(inch(depth)), ph);
    assert_eq!(test.top().unwrap().ph, 6.4);
}

#[rstest]
#[case(date(2026, 3, 20), 0)]
#[case(date(2026, 9, 21), 6)]
#[case(date(2029, 3, 19), 35)]
fn a_test_grows_old_by_months(#[case] today: jiff::civil::Date, #[case] months: i32) {
    assert_eq!(test(vec![layer(0.0, 6.0, 6.4)]).months_old(today), months);
}

#[rstest]
#[case::none(vec![], "/layers")]
#[case::upside_down(vec![layer(6.0, 0.5, 6.0)], "/layers/0/to")]
#[case::overlap(vec![layer(0.0, 8.0, 6.0), layer(6.0, 12.0, 6.0)], "/layers/1/from")]
#[case::acid(vec![layer(0.0, 6.0, 1.2)], "/layers/0/ph")]
#[case::not_a_number(vec![layer(0.0, 6.0, f64::NAN)], "/layers/0/ph")]
#[case::too_many((0..14).map(|n| layer(f64::from(n), f64::from(n + 1), 6.0)).collect(), "/layers")]
fn layers_that_cannot_be(#[case] layers: Vec<Layer>, #[case] pointer: &str) {
    let refused = test(layers).check().unwrap_err();
    assert!(refused.0.iter().any(|one| one.pointer == pointer), "{refused:?}");
}

#[rstest]
#[case::smp(|layer: &mut Layer| layer.acidity = Some(AcidityTest::Smp { buffer_ph: 8.4 }), "/layers/0/acidity/buffer_ph")]
#[case::mehlich(|layer: &mut Layer| layer.acidity = Some(AcidityTest::Mehlich { acidity: ChargePerVolume::new(-1.0, Unit::MeqPer100Cm3) }), "/layers/0/acidity/acidity")]
#[case::p(|layer: &mut Layer| layer.p = Some(PTest { value: SoilContent::new(-3.0, Unit::Ppm), method: PMethod::BrayP1 }), "/layers/0/p/value")]
#[case::k(|layer: &mut Layer| layer.k = Some(SoilContent::new(99_000.0, Unit::Ppm)), "/layers/0/k")]
#[case::boron(|layer: &mut Layer| layer.b = Some(SoilContent::new(900.0, Unit::Ppm)), "/layers/0/b")]
#[case::cec(|layer: &mut Layer| layer.cec = Some(Charge::new(0.0, Unit::CmolPerKg)), "/layers/0/cec")]
#[case::bases(|layer: &mut Layer| layer.base_saturation = Some(Fraction::percent(130.0)), "/layers/0/base_saturation")]
#[case::organic(|layer: &mut Layer| layer.organic_matter = Some(Fraction::percent(-1.0)), "/layers/0/organic_matter")]
fn figures_that_cannot_be(#[case] spoil: fn(&mut Layer), #[case] pointer: &str) {
    let mut top = layer(0.0, 6.0, 6.4);
    spoil(&mut top);
    let refused = test(vec![top]).check().unwrap_err();
    assert_eq!(refused.0[0].pointer, pointer);
}

/// ppm in a soil test is mg/kg, and meq/100 g is cmol/kg: the same number under two names.
#[rstest]
#[case("ppm", "mg/kg")]
#[case("meq/100g", "cmol/kg")]
fn two_names_of_one_unit(#[case] one: &str, #[case] other: &str) {
    let quantity = Quantity::new(12.5, one.parse().unwrap()).to(other.parse().unwrap()).unwrap();
    assert_eq!(quantity.value, 12.5);
}

/// A charge by volume is not a charge by mass, and a soil test is not a share.
#[rstest]
#[case("meq/100cm3", "meq/100g")]
#[case("ppm", "%")]
#[case("money/ton", "money/ac")]
fn what_looks_alike_is_kept_apart(#[case] one: &str, #[case] other: &str) {
    assert_eq!(Quantity::new(1.0, one.parse().unwrap()).to(other.parse().unwrap()), None);
}

/// Lime is spoken of in tons and seed in pounds; a ton costs less than a pound of seed in no unit.
#[rstest]
#[case(Unit::LbPerAc, 4_000.0, Unit::TonPerAc, Unit::TPerHa)]
#[case(Unit::LbPerAc, 20.0, Unit::LbPerAc, Unit::KgPerHa)]
#[case(Unit::MoneyPerTon, 45.0, Unit::MoneyPerTon, Unit::MoneyPerT)]
#[case(Unit::MoneyPerLb, 5.3, Unit::MoneyPerLb, Unit::MoneyPerKg)]
#[case(Unit::Ppm, 20.0, Unit::Ppm, Unit::MgPerKg)]
#[case(Unit::Lb, 0.0, Unit::Lb, Unit::Kg)]
#[case(Unit::Lb, 1_000.0, Unit::Lb, Unit::Kg)]
#[case(Unit::Lb, 152_000.0, Unit::Ton, Unit::T)]
#[case(Unit::Lb, 0.2, Unit::Oz, Unit::G)]
fn each_system_shows_what_its_people_say(
    #[case] unit: Unit,
    #[case] value: f64,
    #[case] us: Unit,
    #[case] metric: Unit,
) {
    let quantity = Quantity::new(value, unit);
    assert_eq!(System::Us.show(quantity).unit, us);
    assert_eq!(System::Metric.show(quantity).unit, metric);
}

/// Every group of the table warns a legume longer than a grass, and names its source.
#[test]
fn the_plant_back_table_is_whole() {
    let groups = library().plant_backs();
    assert!(groups.len() >= 6);
    for group in groups {
        assert!(!group.actives.is_empty() && !group.note.is_empty(), "{}", group.key);
        for active in group.actives.iter().flat_map(|waits| &waits.names) {
            let found: Vec<_> = library().plant_backs_of(active).map(|(group, _)| group.key.as_str()).collect();
            assert_eq!(found, [group.key.as_str()], "{active} stands in two places");
            assert_eq!(*active, active.to_lowercase());
        }
    }
    assert_eq!(library().plant_backs_of("moonshine").count(), 0);
}

/// What may follow what, by the trade: crops that a herbicide is sold for follow it at once, those it kills do not.
/// Common practice, and rotation intervals on labels, from memory.
#[rstest]
#[case::maize_herbicide("atrazine", "silage-maize", 0)]
#[case::sorghum_too("atrazine", "sorghum-sudangrass", 0)]
#[case::switchgrass_breaks_it_down("atrazine", "switchgrass", 0)]
#[case::simazine_as_well("simazine", "big-bluestem", 0)]
#[case::oats_the_year_after_next("atrazine", "forage-oats", 14)]
#[case::small_seeded_legumes("atrazine", "red-clover", 18)]
#[case::sown_under_it("imazapic", "big-bluestem", 0)]
#[case::flowers_under_it("imazapic", "partridge-pea", 0)]
#[case::not_switchgrass("imazapic", "switchgrass", 12)]
#[case::burnt_down("glyphosate", "alfalfa", 0)]
#[case::burnt_down_for_grass("paraquat", "timothy", 0)]
#[case::cereals_at_once("clopyralid", "winter-wheat", 0)]
#[case::next_year("clopyralid", "alfalfa", 11)]
#[case::long("picloram", "white-clover", 24)]
#[case::turf_herbicide("mesotrione", "tall-fescue", 0)]
#[case::sold_for_soybean("fomesafen", "soybean", 0)]
#[case::over_alfalfa("imazethapyr", "alfalfa", 4)]
#[case::not_oats("imazethapyr", "forage-oats", 18)]
fn what_may_follow_a_herbicide(#[case] active: &str, #[case] crop: &str, #[case] months: i32) {
    let crop = library().crop(crop).unwrap();
    let longest = library().plant_backs_of(active).map(|(_, waits)| waits.months_for(crop)).max();
    assert_eq!(longest, Some(months));
}

#[rstest]
#[case("Aminopyralid", "pyridine")]
#[case("aminopyralid potassium", "pyridine")]
#[case(" clopyralid ", "pyridine")]
#[case("atrazine + mesotrione", "triazine")]
#[case("metsulfuron-methyl", "sulfonylurea")]
fn an_active_ingredient_is_known_by_its_name(#[case] written: &str, #[case] group: &str) {
    assert!(library().plant_backs_of(written).any(|(found, _)| found.key == group));
}

#[rstest]
#[case(json!({"area": {"value": 0, "unit": "ac"}}), "/area")]
#[case(json!({"area": {"value": 5, "unit": "ac"}, "zones": 0}), "/zones")]
#[case(json!({"area": {"value": 5, "unit": "ac"}, "crop": "moon-grass"}), "/crop")]
fn sampling_that_cannot_be(#[case] request: Value, #[case] pointer: &str) {
    let refused = sampling(&serde_json::from_value(request).unwrap()).unwrap_err();
    assert!(refused.0.iter().any(|one| one.pointer == pointer), "{refused:?}");
}

#[test]
fn a_suspect_subsoil_is_sampled_foot_by_foot() {
    let request = json!({"area": {"value": 5, "unit": "ac"}, "subsoil": true});
    let plan = sampling(&serde_json::from_value(request).unwrap()).unwrap().value;
    let edges: Vec<f64> = plan.depths.iter().map(|depth| depth[1].to(Unit::In)).collect();
    assert_eq!(edges.len(), 5);
    assert!((edges[4] - 48.0).abs() < 1e-9, "{edges:?}");
    assert!(plan.depths.windows(2).all(|pair| pair[0][1] == pair[1][0]), "no gap between the layers");
}

#[test]
fn textures_stand_from_coarse_to_fine() {
    let all = [Texture::Sand, Texture::SandyLoam, Texture::Loam, Texture::SiltLoam, Texture::ClayLoam, Texture::Clay];
    assert!(all.is_sorted());
}

proptest! {
    /// More ground, more zones, never fewer cores; and no sample stands for more than 20 acres.
    #[test]
    fn samples_grow_with_the_ground(acres in 0.5..400.0_f64, more in 0.0..200.0_f64, zones in 1..20_u32) {
        let plan = |acres: f64, zones: u32| {
            let request = json!({"area": {"value": acres, "unit": "ac"}, "zones": zones});
            sampling(&serde_json::from_value(request).unwrap()).unwrap().value
        };
        let (small, large) = (plan(acres, zones), plan(acres + more, zones));
        prop_assert!(large.cores >= small.cores);
        prop_assert!(plan(acres, zones + 1).cores >= small.cores);
        prop_assert!(acres / small.composites <= 20.0 + 1e-9);
    }
}
