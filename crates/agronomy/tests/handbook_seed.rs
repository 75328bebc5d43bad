//! Seed arithmetic against its definitions and against figures of the trade.

use agronomy::{
    drill::{RowRequest, row},
    mix::{MixMember, MixRequest, MixView, rates},
    plants::{PlantsRequest, count},
    seed::*,
    units::*,
};
use rstest::rstest;

fn tag(purity: f64, germination: f64, dormant: f64) -> Tag {
    Tag::new(Fraction::percent(purity), Fraction::percent(germination), Fraction::percent(dormant))
}

fn request(crop: &str, target: Target, tag: Tag) -> RateRequest {
    RateRequest { crop: crop.into(), target, tag, dormant_seed: None, conditions: Conditions::default() }
}

fn near(value: f64, expected: f64, within: f64) {
    assert!((value - expected).abs() <= within, "{value} is not {expected} ± {within}");
}

/// Federal Seed Act regulations, 7 CFR 201: PLS = pure seed × (germination + hard or dormant).
/// The worked lots are arithmetic on that definition.
#[rstest]
#[case(tag(98.0, 85.0, 7.0), DormantSeed::Counts, 90.16)]
#[case(tag(98.0, 85.0, 7.0), DormantSeed::LeftOut, 83.30)]
#[case(tag(95.0, 20.0, 60.0), DormantSeed::Counts, 76.0)]
#[case(tag(95.0, 20.0, 60.0), DormantSeed::LeftOut, 19.0)]
#[case(tag(62.4, 83.0, 0.0), DormantSeed::Counts, 51.792)]
fn pure_live_seed(#[case] tag: Tag, #[case] side: DormantSeed, #[case] percent: f64) {
    near(pls_fraction(&tag, side).unwrap().value.0.to(Unit::Percent), percent, 1e-9);
}

/// Arithmetic: seeds/ft² = lb/ac × seeds/lb ÷ 43,560; 1 lb of alfalfa is 5.05 seeds/ft².
#[test]
fn one_pound_of_alfalfa() {
    let target = Target::PlsMass { rate: MassPerArea::new(1.0, Unit::LbPerAc) };
    let answer = rate(&request("alfalfa", target, tag(99.0, 90.0, 5.0))).unwrap().value;
    near(answer.live_seeds.0.to(Unit::PerFt2), 220_000.0 / 43_560.0, 1e-9);
    near(answer.live_seeds.0.to(Unit::PerFt2), 5.05, 0.005);
}

/// Common practice: at least 30 PLS/ft² of switchgrass; at 389,000 seeds/lb that is 3.4 lb PLS/ac.
#[test]
fn switchgrass_by_the_square_foot() {
    let mut lot = tag(97.0, 40.0, 45.0);
    lot.seeds_per_mass = Some(CountPerMass::new(389_000.0, Unit::PerLb));
    let target = Target::LiveSeeds { per_area: CountPerArea::new(30.0, Unit::PerFt2) };
    let answer = rate(&request("switchgrass", target, lot)).unwrap().value;
    near(answer.pls_rate.0.to(Unit::LbPerAc), 3.36, 0.005);
}

/// Common practice: a rate of thumb assumes 90 % germination; 83 % seed needs 90/83 of it. Coated
/// to 62.4 % purity it needs 90 ÷ (62.4 × 0.83) of a rate quoted for bare seed: 20 lb is 34.8 lb
/// out of the bag; and 90/83 where the rate was quoted for the coated seed.
#[rstest]
#[case(None, 20.0 * 90.0 / (62.4 * 0.83))]
#[case(Some(62.4), 20.0 * 90.0 / 83.0)]
fn coated_seed_against_a_rate_of_thumb(#[case] quoted_purity: Option<f64>, #[case] bulk: f64) {
    let target = Target::AssumedGermination {
        rate: MassPerArea::new(20.0, Unit::LbPerAc),
        germination: Fraction::percent(90.0),
        purity: quoted_purity.map(Fraction::percent),
    };
    let answer = rate(&request("alfalfa", target, tag(62.4, 83.0, 0.0))).unwrap().value;
    near(answer.bulk_rate.0.to(Unit::LbPerAc), bulk, 1e-9);
}

/// Common practice, no source: 15 lb perennial ryegrass + 2 lb white clover overseeded gives over
/// 100 seeds/ft² (119 by arithmetic).
#[test]
fn ryegrass_and_clover_overseeded() {
    let member = |crop: &str, lb: f64| MixMember {
        crop: crop.into(),
        share: None,
        rate: Some(MassPerArea::new(lb, Unit::LbPerAc)),
        seeds_per_mass: None,
        full_rate: None,
    };
    let mix = rates(&MixRequest {
        by: MixView::Mass,
        members: vec![member("perennial-ryegrass", 15.0), member("white-clover", 2.0)],
        total: None,
        conditions: Conditions::default(),
    })
    .unwrap()
    .value;
    let seeds = mix.live_seeds.0.to(Unit::PerFt2);
    assert!(seeds > 100.0);
    near(seeds, 119.4, 0.05);
}

/// US legal bushel: oats 32 lb, so 3 bushels are 96 lb; alfalfa and clover seed 60 lb.
#[rstest]
#[case("forage-oats", 3.0, 96.0)]
#[case("alfalfa", 1.0, 60.0)]
fn legal_bushels(#[case] crop: &str, #[case] bushels: f64, #[case] pounds: f64) {
    let bushel = agronomy::crop::library().crop(crop).unwrap().seed.as_ref().unwrap().bushel.clone().unwrap();
    near(bushel.measure::<Mass>().to(Unit::Lb) * bushels, pounds, 1e-9);
}

/// Common practice: 3 bu of oats lies inside the sown range.
#[test]
fn three_bushels_of_oats_are_usual() {
    let rate = &agronomy::crop::library().crop("forage-oats").unwrap().sowing.as_ref().unwrap().rate;
    assert!(rate.low <= 96.0 && 96.0 <= rate.high);
}

/// Arithmetic: 30 × 30 in is 6,970 stations an acre, and 86 % of them reach an aim of 6,000;
/// 90 × 60 cm is 7,494 an acre.
#[rstest]
#[case("giant-miscanthus", 6_970.0, Some(true))]
#[case("hybrid-napier", 7_494.0, None)]
fn stations_by_spacing(#[case] crop: &str, #[case] per_acre: f64, #[case] reaches: Option<bool>) {
    let answer = count(&PlantsRequest {
        crop: Some(crop.into()),
        area: Area::new(1.0, Unit::Ac),
        row_spacing: None,
        in_row: None,
        survival: None,
        aim: None,
        pieces_per_station: None,
        spare: Fraction::ZERO,
    })
    .unwrap()
    .value;
    near(answer.stations_per_area.to(Unit::PerAc), per_acre, 0.6);
    assert_eq!(answer.reaches_aim, reaches);
}

/// The trade's 10,000–12,000 two-node pieces an acre is well above the geometry: say so and ask.
#[test]
fn a_trade_figure_above_the_geometry_is_questioned() {
    let mut request = PlantsRequest {
        crop: Some("hybrid-napier".into()),
        area: Area::new(1.0, Unit::Ac),
        row_spacing: None,
        in_row: None,
        survival: None,
        aim: Some(CountPerArea::new(11_000.0, Unit::PerAc)),
        pieces_per_station: None,
        spare: Fraction::ZERO,
    };
    let answer = count(&request).unwrap().value;
    assert!(answer.remarks.iter().any(|remark| remark.contains("The target is well above one piece per station. Check pieces per station, or whether the figure includes extras.")), "{:?}", answer.remarks);
    request.pieces_per_station = Some(2);
    let two = count(&request).unwrap().value;
    near(two.pieces, 14_988.0, 1.0);
    assert!(!two.remarks.iter().any(|remark| remark.contains("The target is well above one piece per station. Check pieces per station, or whether the figure includes extras.")), "{:?}", two.remarks);
}

/// A station holds when one of its pieces lives: 1 − (1 − s)ⁿ, by hand 0.84 of two pieces that live six in ten.
#[rstest]
#[case(1, 0.6)]
#[case(2, 0.84)]
#[case(3, 0.936)]
fn two_pieces_make_a_station_surer(#[case] pieces: u32, #[case] holds: f64) {
    let answer = count(&PlantsRequest {
        crop: Some("giant-miscanthus".into()),
        area: Area::new(1.0, Unit::Ac),
        row_spacing: None,
        in_row: None,
        survival: Some(Fraction::percent(60.0)),
        aim: None,
        pieces_per_station: Some(pieces),
        spare: Fraction::ZERO,
    })
    .unwrap();
    let value = answer.value;
    near(value.established_per_area.to(Unit::PerAc), value.stations_per_area.to(Unit::PerAc) * holds, 1e-6);
}

/// Arithmetic: 10 lb/ac in 7-inch rows over 100 ft of row is 10 × (7/12 × 100) ÷ 43,560 lb.
#[test]
fn a_catch_from_one_row() {
    let target = row(&RowRequest {
        crop: "alfalfa".into(),
        bulk_rate: MassPerArea::new(10.0, Unit::LbPerAc),
        pls: Fraction::percent(90.0),
        row_spacing: Some(Length::new(7.0, Unit::In)),
        course: Length::new(100.0, Unit::Ft),
    })
    .unwrap()
    .value;
    near(target.catch_per_row.to(Unit::Lb), 10.0 * 700.0 / 12.0 / 43_560.0, 1e-12);
    near(target.catch_per_row.to(Unit::G), 6.07, 0.005);
    near(target.live_seeds_in_row.0.to(Unit::PerFt), 9.0 * 220_000.0 / 43_560.0 * 7.0 / 12.0, 1e-9);
}

/// Whole bags: 20 lb PLS/ac on 22 ac with 5 % spare from a 51.792 % lot is 892 lb, 18 bags of 50.
#[test]
fn an_order_in_whole_bags() {
    let mut lot = tag(62.4, 83.0, 0.0);
    lot.package = Some(Mass::new(50.0, Unit::Lb));
    lot.price = Some(Money::new(210.0, Unit::Money));
    let order = order(&OrderRequest {
        sown_area: Area::new(22.0, Unit::Ac),
        spare: Fraction::percent(5.0),
        members: vec![OrderMember {
            crop: "alfalfa".into(),
            pls_rate: MassPerArea::new(20.0, Unit::LbPerAc),
            dormant_seed: None,
            lots: vec![OrderLot { label: "A".into(), tag: lot, available: None }],
        }],
    })
    .unwrap()
    .value;
    let line = &order.lines[0];
    near(line.bulk_mass.0.to(Unit::Lb), 20.0 * 22.0 * 1.05 / 0.51792, 1e-6);
    assert_eq!(line.bags, Some(18.0));
    near(line.remainder.to(Unit::Lb), 18.0 * 50.0 - line.bulk_mass.0.to(Unit::Lb), 1e-9);
    near(order.cost.to(Unit::Money), 18.0 * 210.0, 1e-9);
}

/// A cheaper bag can be the dearer seed.
#[test]
fn comparison_is_by_what_grows() {
    let lot = |label: &str, tag: Tag, price: f64| ComparedLot {
        label: label.into(),
        tag: Tag { package: Some(Mass::new(50.0, Unit::Lb)), price: Some(Money::new(price, Unit::Money)), ..tag },
    };
    let rows = compare(&CompareRequest {
        crop: "alfalfa".into(),
        pls_rate: MassPerArea::new(18.0, Unit::LbPerAc),
        dormant_seed: None,
        lots: vec![lot("coated", tag(65.8, 90.0, 0.0), 200.0), lot("bare", tag(99.0, 92.0, 0.0), 240.0)],
    })
    .unwrap()
    .value
    .lots;
    assert!(!rows[0].cheapest && rows[1].cheapest);
    // 200 / 50 / (0.658 × 0.90) × 18
    near(rows[0].cost_per_area.to(Unit::MoneyPerAc), 4.0 / 0.5922 * 18.0, 1e-9);
    near(rows[0].cost_per_million_live_seeds.to(Unit::Money), 4.0 / (220_000.0 * 0.5922) * 1e6, 1e-9);
}
