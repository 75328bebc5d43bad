//! What must always hold.

use agronomy::{
    mix::{MixMember, MixRequest, MixView, rates},
    seed::*,
    units::*,
};
use proptest::prelude::*;

fn tag(purity: f64, germination: f64, package: f64) -> Tag {
    Tag {
        package: Some(Mass::new(package, Unit::Lb)),
        ..Tag::new(Fraction::percent(purity), Fraction::percent(germination), Fraction::ZERO)
    }
}

const CROPS: [&str; 4] = ["alfalfa", "orchardgrass", "timothy", "white-clover"];

fn mix(by: MixView, parts: &[(Option<f64>, Option<MassPerArea>)], total: Option<CountPerArea>) -> MixRequest {
    let members = parts
        .iter()
        .zip(CROPS)
        .map(|((share, rate), crop)| MixMember {
            crop: crop.into(),
            share: share.map(Fraction::percent),
            rate: *rate,
            seeds_per_mass: None,
            full_rate: None,
        })
        .collect();
    MixRequest { by, members, total, conditions: Conditions::default() }
}

proptest! {
    #[test]
    fn conversions_come_back(value in -1e6..1e6_f64, index in 0..Unit::ALL.len()) {
        let unit = Unit::ALL[index];
        for other in Unit::of(unit.dimension()) {
            let back = Quantity::new(value, unit).to(other).unwrap().to(unit).unwrap().value;
            prop_assert!((back - value).abs() <= 1e-9 * (1.0 + value.abs()), "{unit} by {other}: {back} {value}");
        }
    }

    #[test]
    fn order_carries_the_pure_live_seed_needed(
        purity in 1.0..100.0_f64, germination in 1.0..100.0_f64, area in 0.1..500.0_f64,
        lb in 0.5..60.0_f64, spare in 0.0..50.0_f64, bag in 1.0..100.0_f64, there in 0.0..2000.0_f64,
    ) {
        let answer = order(&OrderRequest {
            sown_area: Area::new(area, Unit::Ac),
            spare: Fraction::percent(spare),
            members: vec![OrderMember {
                crop: "alfalfa".into(),
                pls_rate: MassPerArea::new(lb, Unit::LbPerAc),
                dormant_seed: None,
                lots: vec![
                    OrderLot { label: "first".into(), tag: tag(purity, germination, bag), available: Some(Mass::new(there, Unit::Lb)) },
                    OrderLot { label: "second".into(), tag: tag(90.0, 90.0, bag), available: None },
                ],
            }],
        }).unwrap().value;
        let carried: f64 = answer.lines.iter().map(|line| line.bulk_mass.0.to(Unit::Lb) * line.pls.to(Unit::One)).sum();
        let needed = area * lb * (1.0 + spare / 100.0);
        prop_assert!((carried - needed).abs() <= 1e-6 * needed, "{carried} {needed}");
        prop_assert!(answer.short.is_empty());
        for line in &answer.lines {
            prop_assert!(line.remainder.to(Unit::Lb) >= -1e-6 && line.remainder.to(Unit::Lb) < bag + 1e-6);
        }
    }

    #[test]
    fn better_seed_never_needs_more(purity in 1.0..100.0_f64, germination in 1.0..99.0_f64, more in 0.01..1.0_f64) {
        let bulk = |germination| {
            let request = RateRequest {
                crop: "timothy".into(),
                target: Target::Chart {},
                tag: tag(purity, germination, 50.0),
                dormant_seed: None,
                conditions: Conditions::default(),
            };
            rate(&request).unwrap().value.bulk_rate.0.to(Unit::LbPerAc)
        };
        prop_assert!(bulk(germination + more) < bulk(germination));
    }

    #[test]
    fn worse_conditions_never_sow_less(seedbed in 0..3_usize, late: bool) {
        let beds = [Seedbed::Good, Seedbed::Fair, Seedbed::Poor];
        let pls = |conditions| {
            let crop = agronomy::crop::library().crop("switchgrass").unwrap();
            chart_rate(crop, conditions).unwrap().value
        };
        let base = Conditions { seedbed: beds[seedbed], late, ..Conditions::default() };
        let broadcast = pls(Conditions { method: Method::Broadcast, ..base });
        prop_assert!(broadcast > pls(base));
        let later = pls(Conditions { late: true, ..base });
        prop_assert!(later >= pls(base));
        if seedbed < 2 {
            let worse = pls(Conditions { seedbed: beds[seedbed + 1], ..base });
            prop_assert!(worse >= pls(base));
        }
    }

    #[test]
    fn the_three_views_of_a_mix_agree(a in 1.0..20.0_f64, b in 1.0..20.0_f64, c in 0.5..10.0_f64, d in 0.2..5.0_f64) {
        let lb = |value| (None, Some(MassPerArea::new(value, Unit::LbPerAc)));
        let by_mass = rates(&mix(MixView::Mass, &[lb(a), lb(b), lb(c), lb(d)], None)).unwrap().value;
        let share = |of: fn(&agronomy::mix::MemberRates) -> Fraction| {
            by_mass.members.iter().map(|member| (Some(of(member).to(Unit::Percent)), None)).collect::<Vec<_>>()
        };
        let by_seeds = mix(MixView::LiveSeeds, &share(|member| member.live_seed_share), Some(by_mass.live_seeds.0));
        let by_full = mix(MixView::FullRate, &share(|member| member.full_rate_share), None);
        for other in [rates(&by_seeds).unwrap().value, rates(&by_full).unwrap().value] {
            for (ours, theirs) in by_mass.members.iter().zip(&other.members) {
                let (ours, theirs) = (ours.pls_rate.0.to(Unit::LbPerAc), theirs.pls_rate.0.to(Unit::LbPerAc));
                prop_assert!((ours - theirs).abs() < 1e-9 * (1.0 + ours), "{ours} {theirs}");
            }
        }
        let shares: f64 = by_mass.members.iter().map(|member| member.mass_share.to(Unit::One)).sum();
        prop_assert!((shares - 1.0).abs() < 1e-12);
    }

    #[test]
    fn shares_of_seeds_without_a_total_make_one_full_rate(share in 1.0..99.0_f64) {
        let parts = [(Some(share), None), (Some(100.0 - share), None)];
        let mix = rates(&mix(MixView::LiveSeeds, &parts, None)).unwrap().value;
        prop_assert!((mix.full_rate_share.to(Unit::One) - 1.0).abs() < 1e-9);
    }

    #[test]
    fn no_answer_holds_a_nan(purity in 0.01..100.0_f64, germination in 0.01..100.0_f64, lb in 0.01..800.0_f64) {
        let answer = rate(&RateRequest {
            crop: "white-clover".into(),
            target: Target::AssumedGermination {
                rate: MassPerArea::new(lb, Unit::LbPerAc), germination: Fraction::percent(80.0), purity: None,
            },
            tag: tag(purity, germination, 25.0),
            dormant_seed: None,
            conditions: Conditions { method: Method::Broadcast, seedbed: Seedbed::Poor, late: true, ..Conditions::default() },
        }).unwrap();
        // serde_json writes a NaN or an infinity as null.
        prop_assert!(!serde_json::to_string(&answer).unwrap().contains("\"value\":null"));
    }
}
