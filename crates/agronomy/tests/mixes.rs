//! What a good agronomist would remark on a mix, and how conditions and lots move it.

use agronomy::{
    mix::{MixRates, rates},
    units::{Dimension, System, Unit, read},
};
use proptest::prelude::*;
use rstest::rstest;
use serde_json::{Value, json};

fn lb(crop: &str, value: f64) -> Value {
    json!({"crop": crop, "rate": {"value": value, "unit": "lb/ac"}})
}

fn mix(members: &[Value]) -> MixRates {
    with(members, json!({}))
}

fn with(members: &[Value], conditions: Value) -> MixRates {
    let request = json!({"by": "mass", "members": members, "conditions": conditions});
    rates(&serde_json::from_value(request).unwrap()).unwrap().value
}

#[rstest]
#[case::crowded(&[lb("alfalfa", 15.0), lb("orchardgrass", 8.0)], "crowd each other")]
#[case::thin(&[lb("alfalfa", 4.0), lb("orchardgrass", 2.0)], "thin")]
#[case::bloat(&[lb("alfalfa", 14.0), lb("timothy", 1.0)], "of live seeds are legumes (by seed, not by final stand). Watch for bloat if grazed")]
#[case::seasons(&[lb("orchardgrass", 4.0), lb("switchgrass", 3.0)], "peak at different times")]
#[case::shaded(&[lb("alfalfa", 12.0), lb("white-clover", 1.0)], "shaded out")]
#[case::switchgrass(&[lb("big-bluestem", 6.0), lb("indiangrass", 4.0), lb("switchgrass", 1.0)], "by year 3 or 4")]
#[case::fluffy(&[lb("big-bluestem", 6.0), lb("switchgrass", 3.0)], "agitated box")]
fn remarks(#[case] members: &[Value], #[case] said: &str) {
    let mix = mix(members);
    assert!(mix.remarks.iter().any(|remark| remark.contains(said)), "{:?}", mix.remarks);
}

#[test]
fn a_plain_hay_mix_needs_no_remark_but_its_legume_share() {
    let mix = mix(&[lb("orchardgrass", 8.0)]);
    assert!(mix.remarks.is_empty(), "{:?}", mix.remarks);
    assert_eq!(mix.legume_share.to(Unit::Percent), 0.0);
}

/// Bloat is told when more than half of the seeds are legumes, not for a pinch of clover.
#[rstest]
#[case(1.0, false)]
#[case(12.0, true)]
fn the_bloat_caution_follows_the_share(#[case] alfalfa: f64, #[case] warned: bool) {
    let request = json!({"by": "mass", "members": [lb("alfalfa", alfalfa), lb("orchardgrass", 6.0)]});
    let answer = rates(&serde_json::from_value(request).unwrap()).unwrap();
    assert_eq!(answer.cautions.iter().any(|caution| caution.key == "bloat"), warned);
}

/// Common practice: broadcast at half as much again. The mix as it is named does not change.
#[test]
fn conditions_move_the_rate_and_not_the_name_of_the_mix() {
    let members = [lb("alfalfa", 10.0), lb("orchardgrass", 3.0)];
    let (drilled, broadcast) = (mix(&members), with(&members, json!({"method": "broadcast"})));
    let ratio = broadcast.pls_rate.0.to(Unit::LbPerAc) / drilled.pls_rate.0.to(Unit::LbPerAc);
    assert!((ratio - 1.5).abs() < 1e-9, "{ratio}");
    for (a, b) in drilled.members.iter().zip(&broadcast.members) {
        assert_eq!(a.live_seed_share, b.live_seed_share);
        assert_eq!(a.full_rate_share, b.full_rate_share);
        assert_eq!(a.plain_rate, b.plain_rate);
    }
    let poor_and_late = with(&members, json!({"seedbed": "poor", "late": true}));
    let ratio = poor_and_late.pls_rate.0.to(Unit::LbPerAc) / 13.0;
    assert!((ratio - 1.3 * 1.15).abs() < 1e-9, "{ratio}");
}

/// Common practice: a mix stated for broadcasting is sown as it is stated, and is held against full drilled rates by what it
/// would be when drilled.
#[test]
fn a_mix_meant_for_broadcasting_is_not_raised_again() {
    let members = [lb("perennial-ryegrass", 18.0), lb("white-clover", 3.0)];
    let drilled = mix(&members);
    let stated = with(&members, json!({"method": "broadcast", "broadcast": "as-given"}));
    assert!((stated.pls_rate.0.to(Unit::LbPerAc) - 21.0).abs() < 1e-9);
    assert!((stated.full_rate_share / drilled.full_rate_share).to(Unit::One) < 0.8);
    let raised = with(&members, json!({"method": "broadcast"}));
    assert!(raised.pls_rate.0 > stated.pls_rate.0);
    // The choice is for broadcasting: a drill hears nothing of it.
    let of_a_drill = with(&members, json!({"broadcast": "as-given"}));
    assert_eq!((of_a_drill.pls_rate, of_a_drill.full_rate_share), (drilled.pls_rate, drilled.full_rate_share));
}

/// The lot's own seeds per pound win over the book's.
#[test]
fn a_lot_of_small_seed_carries_more_of_it() {
    let mut member = lb("switchgrass", 6.0);
    let book = mix(std::slice::from_ref(&member)).live_seeds.0.to(Unit::PerFt2);
    member["seeds_per_mass"] = json!({"value": 259_000, "unit": "/lb"});
    let own = mix(&[member]).live_seeds.0.to(Unit::PerFt2);
    assert!((book - 6.0 * 390_000.0 / 43_560.0).abs() < 1e-9);
    assert!((own - 6.0 * 259_000.0 / 43_560.0).abs() < 1e-9);
}

/// A full rate of one's own moves its share, not its seeds.
#[test]
fn a_full_rate_of_ones_own() {
    let mut member = lb("alfalfa", 9.0);
    member["full_rate"] = json!({"value": 18, "unit": "lb/ac"});
    let mix = mix(&[member]);
    assert!((mix.full_rate_share.to(Unit::Percent) - 50.0).abs() < 1e-9);
}

#[rstest]
#[case::share_over_all(json!({"by": "live-seeds", "members": [{"crop": "alfalfa", "share": {"value": 140, "unit": "%"}}]}), "/members/0/share")]
#[case::no_rate(json!({"by": "mass", "members": [{"crop": "alfalfa"}]}), "/members/0/rate")]
#[case::seeds_of_dust(json!({"by": "mass", "members": [{"crop": "alfalfa", "rate": {"value": 9, "unit": "lb/ac"}, "seeds_per_mass": {"value": 1e12, "unit": "/lb"}}]}), "/members/0/seeds_per_mass")]
#[case::no_full_rate(json!({"by": "mass", "members": [{"crop": "alfalfa", "rate": {"value": 9, "unit": "lb/ac"}, "full_rate": {"value": 0, "unit": "lb/ac"}}]}), "/members/0/full_rate")]
#[case::total(json!({"by": "live-seeds", "total": {"value": -4, "unit": "/ft2"}, "members": [{"crop": "alfalfa", "share": {"value": 100, "unit": "%"}}]}), "/total")]
#[case::rhizomes(json!({"by": "mass", "members": [{"crop": "giant-miscanthus", "rate": {"value": 9, "unit": "lb/ac"}}]}), "/members/0/crop")]
#[case::a_crowd(json!({"by": "full-rate", "members": vec![json!({"crop": "alfalfa", "share": {"value": 5, "unit": "%"}}); 21]}), "/members")]
fn what_cannot_be(#[case] request: Value, #[case] pointer: &str) {
    let refused = rates(&serde_json::from_value(request).unwrap()).unwrap_err();
    assert!(refused.0.iter().any(|refusal| refusal.pointer == pointer), "{refused:?}");
}

#[test]
fn all_slips_are_told_at_once() {
    let request = json!({"by": "mass", "members": [{"crop": "moon-grass"}, {"crop": "alfalfa", "rate": {"value": -1, "unit": "lb/ac"}}]});
    let refused = rates(&serde_json::from_value(request).unwrap()).unwrap_err();
    let pointers: Vec<_> = refused.0.iter().map(|refusal| refusal.pointer.as_str()).collect();
    assert!(
        pointers.contains(&"/members/0/crop")
            && pointers.contains(&"/members/0/rate")
            && pointers.contains(&"/members/1/rate"),
        "{pointers:?}"
    );
}

proptest! {
    /// What a person is shown, typed in again, is the same amount.
    #[test]
    fn a_shown_amount_reads_back(value in 0.001..1e6_f64, index in 0..agronomy::units::Unit::ALL.len()) {
        let unit = Unit::ALL[index];
        let value: f64 = format!("{value:.4}").parse().unwrap();
        for system in [System::Us, System::Metric] {
            // A bare "t" is read by the person's system; all others say what they are.
            if matches!(unit, Unit::T | Unit::One) {
                continue;
            }
            let understood = read(&format!("{value} {}", unit.symbol()), unit.dimension(), unit, system);
            let quantity = understood.unwrap_or_else(|error| panic!("{value} {unit}: {error}")).quantity;
            if unit == Unit::Ton && system == System::Metric {
                continue;
            }
            prop_assert_eq!((quantity.value, quantity.unit), (value, unit));
        }
    }

    /// Whatever is typed, reading it answers with an amount of the right kind or a sentence.
    #[test]
    fn reading_never_stumbles(text in "\\PC{0,24}") {
        match read(&text, Dimension::MassPerArea, Unit::LbPerAc, System::Us) {
            Ok(understood) => {
                prop_assert!(understood.quantity.value.is_finite());
                prop_assert_eq!(understood.quantity.dimension(), Dimension::MassPerArea);
            }
            Err(sentence) => prop_assert!(!sentence.is_empty()),
        }
    }

    /// More of every member is more seed, and no answer holds a share above the whole.
    #[test]
    fn a_mix_grows_with_its_parts(a in 0.5..30.0_f64, b in 0.5..20.0_f64, more in 1.01..3.0_f64) {
        let small = mix(&[lb("alfalfa", a), lb("orchardgrass", b)]);
        let large = mix(&[lb("alfalfa", a * more), lb("orchardgrass", b * more)]);
        prop_assert!(large.live_seeds > small.live_seeds);
        prop_assert!((large.legume_share.to(Unit::One) - small.legume_share.to(Unit::One)).abs() < 1e-9);
        let sum: f64 = small.members.iter().map(|member| member.live_seed_share.to(Unit::One)).sum();
        prop_assert!((sum - 1.0).abs() < 1e-12);
    }
}

mod stand_to_come {
    use agronomy::mix::{DesignRequest, DesignedMix, design, ready_mixes, replaced};
    use proptest::prelude::*;
    use rstest::rstest;
    use serde_json::{Value, json};

    fn full(crop: &str, percent: f64) -> Value {
        json!({"crop": crop, "share": {"value": percent, "unit": "%"}})
    }

    fn designed(members: &[Value], used: &str, years: u32, rates: Value) -> DesignedMix {
        let request =
            json!({"mix": {"by": "full-rate", "members": members}, "used": used, "years": years, "rates": rates});
        design(&serde_json::from_value::<DesignRequest>(request).unwrap()).unwrap().value
    }

    fn share(mix: &DesignedMix, crop: &str, year: usize) -> f64 {
        let member = mix.members.iter().find(|member| member.crop == crop).unwrap();
        member.years[year - 1].share.to(agronomy::units::Unit::One)
    }

    /// 30 % clover that gains by 1.25 a year holds 45.565 % after three (de Wit 1960, replacement form).
    #[test]
    fn shares_follow_the_replacement_form() {
        let after = (0..3).fold(vec![0.3, 0.7], |shares, _| replaced(&shares, &[1.25, 1.0]));
        assert!((after[0] - 0.45565).abs() < 5e-6, "{after:?}");
        assert_eq!(replaced(&[0.2, 0.8], &[0.0, 0.0]), [0.0, 0.0]);
    }

    /// A count's own rate takes the place of ours, whatever ours is.
    #[test]
    fn a_rate_that_was_counted_counts() {
        let mix = designed(
            &[full("white-clover", 30.0), full("orchardgrass", 70.0)],
            "grazed",
            4,
            json!({"white-clover": 1.25, "orchardgrass": 1.0}),
        );
        let (first, fourth) = (share(&mix, "white-clover", 1), share(&mix, "white-clover", 4));
        let odds = |share: f64| share / (1.0 - share);
        assert!((odds(fourth) / odds(first) - 1.25_f64.powi(3)).abs() < 1e-9);
    }

    /// Common practice, no source: who wins, and roughly when.
    #[rstest]
    // Switchgrass at a pound or two beside taller natives is shaded out by year three or four.
    #[case(&[full("big-bluestem", 60.0), full("indiangrass", 50.0), full("switchgrass", 20.0)], "cut", "switchgrass", 5, 0.0, 0.05)]
    // Red clover is gone after its second or third year; the timothy stays.
    #[case(&[full("timothy", 60.0), full("red-clover", 40.0)], "cut", "red-clover", 6, 0.0, 0.1)]
    // White clover under tall hay is shaded out, and holds where it is grazed.
    #[case(&[full("orchardgrass", 60.0), full("white-clover", 40.0)], "cut", "white-clover", 6, 0.0, 0.2)]
    #[case(&[full("orchardgrass", 60.0), full("white-clover", 40.0)], "grazed", "white-clover", 6, 0.3, 0.9)]
    // Timothy under grazing disappoints.
    #[case(&[full("timothy", 60.0), full("perennial-ryegrass", 40.0)], "grazed", "timothy", 5, 0.0, 0.4)]
    // An annual is gone the year after.
    #[case(&[full("crimson-clover", 50.0), full("tall-fescue", 50.0)], "grazed", "crimson-clover", 2, 0.0, 0.0)]
    fn who_wins(
        #[case] members: &[Value],
        #[case] used: &str,
        #[case] crop: &str,
        #[case] year: usize,
        #[case] low: f64,
        #[case] high: f64,
    ) {
        let mix = designed(members, used, 6, json!({}));
        let is = share(&mix, crop, year);
        assert!((low..=high).contains(&is), "{crop} in year {year}: {is}");
    }

    #[test]
    fn what_will_go_and_what_will_lack_is_remarked() {
        let mix = designed(&[full("orchardgrass", 60.0), full("red-clover", 60.0)], "cut", 8, json!({}));
        for said in ["is nearly gone by year", "Under a third legumes from year"] {
            assert!(mix.remarks.iter().any(|remark| remark.contains(said)), "{said}: {:?}", mix.remarks);
        }
        let grazed = designed(&[full("alfalfa", 100.0), full("orchardgrass", 20.0)], "grazed", 3, json!({}));
        assert!(grazed.remarks.iter().any(|remark| remark.contains("bloat")), "{:?}", grazed.remarks);
        let cut = designed(&[full("alfalfa", 100.0), full("orchardgrass", 20.0)], "cut", 3, json!({}));
        assert!(cut.remarks.iter().all(|remark| !remark.contains("bloat")), "{:?}", cut.remarks);
    }

    #[test]
    fn boxes_and_inoculants_are_told() {
        let mix = designed(
            &[full("alfalfa", 40.0), full("red-clover", 30.0), full("big-bluestem", 40.0)],
            "cut",
            1,
            json!({}),
        );
        assert_eq!(mix.boxes.len(), 2);
        assert!(mix.boxes.iter().all(|load| load.mind.is_some()));
        assert_eq!(mix.inoculants.len(), 2, "alfalfa and clover want different bacteria: {:?}", mix.inoculants);
    }

    #[rstest]
    #[case(json!({"years": 0}), "/years")]
    #[case(json!({"years": 40}), "/years")]
    #[case(json!({"rates": {"kale": 1.0}}), "/rates/kale")]
    #[case(json!({"rates": {"alfalfa": -1.0}}), "/rates/alfalfa")]
    #[case(json!({"mix": {"by": "full-rate", "members": []}}), "/mix/members")]
    fn what_can_not_be_is_refused(#[case] part: Value, #[case] at: &str) {
        let mut request =
            json!({"mix": {"by": "full-rate", "members": [full("alfalfa", 100.0)]}, "used": "cut", "years": 3});
        for (key, value) in part.as_object().unwrap() {
            request[key] = value.clone();
        }
        let refused = design(&serde_json::from_value(request).unwrap()).unwrap_err();
        assert!(refused.0.iter().any(|one| one.pointer == at), "{refused:?}");
    }

    #[test]
    fn every_ready_mix_stands() {
        for mix in ready_mixes() {
            let members: Vec<Value> = mix
                .members
                .iter()
                .map(|one| json!({"crop": one.crop, "share": serde_json::to_value(one.share).unwrap()}))
                .collect();
            let designed = designed(&members, "both", 5, json!({}));
            let full = designed.rates.full_rate_share.to(agronomy::units::Unit::Percent);
            assert!((80.0..=140.0).contains(&full), "{}: {full} % of a full rate", mix.key);
        }
    }

    proptest! {
        /// Shares are shares: none below nothing, all of them one while anything lives, each between its own bounds.
        #[test]
        fn shares_add_up(parts in proptest::collection::vec((0_usize..50, 5.0..150.0_f64), 1..8), years in 1_u32..15, used in 0_usize..3) {
            let all: Vec<_> = agronomy::crop::library().crops().filter(|crop| crop.sowing.is_some()).collect();
            let mut members: Vec<Value> = vec![];
            for (at, percent) in parts {
                let crop = &all[at % all.len()].id;
                if !members.iter().any(|member| member["crop"] == **crop) {
                    members.push(full(crop, percent));
                }
            }
            let used = ["cut", "grazed", "both"][used];
            let mix = designed(&members, used, years, json!({}));
            for year in 1..=years as usize {
                let sum: f64 = mix.members.iter().map(|member| share(&mix, &member.crop, year)).sum();
                prop_assert!((sum - 1.0).abs() < 1e-9 || sum == 0.0, "year {}: {}", year, sum);
                for member in &mix.members {
                    let one = &member.years[year - 1];
                    prop_assert!(one.low <= one.share && one.share <= one.high);
                }
            }
        }
    }
}

/// Alfalfa with orchardgrass was once told to stay as it is for ever: legumes thin out of a mix, from about half to a
/// quarter in five or six years (common practice, no source), and white clover under grazing does not.
#[test]
fn legumes_thin_out_of_a_mix() {
    let shares = |members: Value, used: &str| -> Vec<f64> {
        let request = json!({"mix": {"by": "mass", "members": members}, "used": used, "years": 8});
        let designed = agronomy::mix::design(&serde_json::from_value(request).unwrap()).unwrap().value;
        designed.legumes.iter().map(|share| share.to(Unit::Percent)).collect()
    };
    let hay = shares(json!([lb("alfalfa", 12.0), lb("orchardgrass", 4.0)]), "cut");
    assert!(hay[0] > 45.0 && hay[5] < 0.65 * hay[0] && hay[5] > 10.0, "{hay:?}");
    assert!(hay.windows(2).skip(1).all(|pair| pair[1] < pair[0]), "{hay:?}");
    let pasture = shares(json!([lb("white-clover", 2.0), lb("perennial-ryegrass", 14.0)]), "grazed");
    assert!(pasture[5] > 0.8 * pasture[0], "{pasture:?}");
}
