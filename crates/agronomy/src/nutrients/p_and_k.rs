//! Phosphorus and potassium by each school: from a soil test and what is carried off to what is brought, and where that
//! leaves the test four years on.

use super::{
    Nutrient,
    need::{School, Side},
    removal::practice,
};
use crate::{
    crop::{Crop, library},
    given, reckon, said,
    said::Said,
    soil::{PMethod, PTest},
    source::{Class, Origin, Source},
    units::{Charge, Fraction, MassPerArea, Measure, SoilContent, Unit},
    working::{Answer, Sheet},
};

/// The yearly cap on potash (Tri-State, 1995), lb K₂O/ac.
const K_CAP: f64 = 300.0;

/// What a soil test says of phosphorus and potassium.
pub(super) struct Soil {
    pub p: Option<PTest>,
    pub k: Option<SoilContent>,
    /// Exchange capacity, meq/100 g.
    pub cec: f64,
    /// It was tested, and not assumed.
    pub cec_known: bool,
}

fn tri_state() -> Source {
    Source::published(
        "Vitosh, Johnson & Mengel 1995, Tri-State Fertilizer Recommendations, Bulletin E-2567: P and K equations",
    )
}

/// Critical level, ppm, of phosphorus by method: where the yield stops answering.
fn critical_p(crop: &Crop, method: PMethod) -> f64 {
    let bray = crop.nutrition.critical_p.value;
    match method {
        PMethod::BrayP1 => bray,
        // Bulletin 974 (2020) counts in Mehlich-3, whose figures run higher for the same soil.
        PMethod::Mehlich3 => bray * 1.35,
        PMethod::Olsen => bray * 0.6,
    }
}

/// Critical level, ppm, of potassium at an exchange capacity (E-2567).
fn critical_k(cec: f64) -> f64 {
    75.0 + 2.5 * cec
}

/// A soil test that stands below the level at which a crop stops answering.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Short {
    /// P₂O₅ or K₂O, which would be brought.
    pub nutrient: Nutrient,
    /// As it was tested.
    pub test: SoilContent,
    /// The critical level for the crop.
    pub critical: SoilContent,
}

/// What a soil test finds short for a crop, of phosphorus and potassium; what was not tested is not found.
///
/// ```
/// use agronomy::{crop::library, nutrients::short, soil::{PMethod, PTest}, units::{Measure, SoilContent, Unit}};
/// let alfalfa = library().crop("alfalfa").unwrap();
/// let ppm = |value| SoilContent::new(value, Unit::Ppm);
/// let low = short(alfalfa, Some(PTest { value: ppm(8.0), method: PMethod::BrayP1 }), Some(ppm(70.0)), None);
/// // 25 ppm Bray P1 and, at a CEC of 10, 100 ppm K (Tri-State).
/// assert_eq!(low.iter().map(|one| one.critical.to(Unit::Ppm)).collect::<Vec<_>>(), [25.0, 100.0]);
/// ```
pub fn short(crop: &Crop, p: Option<PTest>, k: Option<SoilContent>, cec: Option<Charge>) -> Vec<Short> {
    let ppm = |value| SoilContent::new(value, Unit::Ppm);
    let p = p.map(|test| (Nutrient::P2o5, test.value, ppm(critical_p(crop, test.method))));
    let cec = cec.map_or(ASSUMED_CEC, |cec| cec.to(Unit::MeqPer100G));
    let k = k.map(|test| (Nutrient::K2o, test, ppm(critical_k(cec))));
    let both = p.into_iter().chain(k).filter(|(_, test, critical)| test < critical);
    both.map(|(nutrient, test, critical)| Short { nutrient, test, critical }).collect()
}

/// Exchange capacity where none was tested, meq/100 g (assumed).
pub(super) const ASSUMED_CEC: f64 = 10.0;

/// Pounds an acre of P₂O₅ that move the test by one ppm over four years, each year (E-2567).
const P_FOR_A_PPM: f64 = 5.0;

fn one_ppm(sheet: &mut Sheet) -> SoilContent {
    sheet.input("one_ppm", SoilContent::new(1.0, Unit::Ppm), Origin::sourced(&practice("unit of the formula")))
}

/// Pounds an acre.
pub(super) fn lb(value: f64) -> MassPerArea {
    MassPerArea::new(value, Unit::LbPerAc)
}

/// The test after four years of a rate: what is over or short of removal moves it.
fn in_four_years(
    sheet: &mut Sheet,
    test: SoilContent,
    to_bring: MassPerArea,
    carried_off: MassPerArea,
    for_a_ppm: MassPerArea,
) -> SoilContent {
    let moved = (to_bring.base() - carried_off.base()) / for_a_ppm.base();
    sheet.line(
        "soil test in four years",
        "above_zero(test + (to apply - carried_off) / per ppm each year × one_ppm)",
        SoilContent::new((test.to(Unit::Ppm) + moved).max(0.0), Unit::Ppm),
    )
}

/// Phosphate by one school.
pub(super) fn phosphate(crop: &Crop, school: School, soil: &Soil, removed: MassPerArea) -> Answer<Side> {
    let mut sheet = Sheet::new(format!("P₂O₅ by {}", school.words()));
    given!(sheet; carried_off = removed, Origin::Worked { part: "removed by the harvest".to_owned() });
    let Some(test) = soil.p else {
        return untested(sheet, "phosphorus", carried_off);
    };
    let level = SoilContent::new(critical_p(crop, test.method), Unit::Ppm);
    one_ppm(&mut sheet);
    let for_a_ppm = sheet.input("per ppm each year", lb(P_FOR_A_PPM), Origin::sourced(&tri_state()));
    sheet.input("test", test.value, Origin::measured(format!("the soil test, {}", test.method.words())));
    sheet.input("critical level", level, critical_origin(&crop.nutrition.critical_p.source, test.method));
    let (rate, of, why) = match school {
        School::Sufficiency => {
            sheet.source(sufficiency_source());
            let (share, class) = class((test.value / level).base());
            let full: MassPerArea = crop.nutrition.full_p2o5.measure();
            given!(sheet; full_dressing = full, crop.nutrition.full_p2o5.origin());
            given!(sheet; share_for_its_class = share, Origin::sourced(&sufficiency_source()));
            reckon!(sheet; rate = full_dressing * share_for_its_class);
            (rate, "rate", said!("soil phosphorus is {}", class))
        }
        School::BuildMaintain => {
            sheet.source(tri_state());
            ladder(
                &mut sheet,
                Rungs {
                    test: test.value,
                    critical: level,
                    for_a_ppm,
                    carried_off,
                    besides: None,
                    maintained: 15.0,
                    drawn_down: 10.0,
                },
            )
        }
        School::Replacement => {
            sheet.source(practice("replace what the harvest removed"));
            (carried_off, "carried_off", "same as crop removal, whatever the soil test".into())
        }
    };
    let rate = sheet.line("to apply", of, rate);
    let later = in_four_years(&mut sheet, test.value, rate, carried_off, for_a_ppm);
    sheet.answer(Side { rate, test_in_four_years: Some(later), why })
}

/// Potash by one school.
pub(super) fn potash(crop: &Crop, school: School, soil: &Soil, removed: MassPerArea) -> Answer<Side> {
    let mut sheet = Sheet::new(format!("K₂O by {}", school.words()));
    given!(sheet; carried_off = removed, Origin::Worked { part: "removed by the harvest".to_owned() });
    let Some(test) = soil.k else {
        return untested(sheet, "potassium", carried_off);
    };
    let origin = if soil.cec_known {
        Origin::measured("the soil test, meq/100 g")
    } else {
        Origin::assumed("the CEC of a soil test")
    };
    given!(sheet; cec = soil.cec, origin);
    one_ppm(&mut sheet);
    sheet.input("test", test, Origin::measured("the soil test"));
    let critical = SoilContent::new(critical_k(cec), Unit::Ppm);
    sheet.line("critical level", "one_ppm × (75 + 2.5 × cec)", critical);
    given!(sheet; one_pound_per_acre = lb(1.0), Origin::sourced(&practice("unit of the formula")));
    let for_a_ppm = one_pound_per_acre * (1.0 + 0.05 * cec);
    sheet.line("per ppm each year", "one_pound_per_acre × (1 + 0.05 × cec)", for_a_ppm);
    let (rate, of, why) = match school {
        School::Sufficiency => {
            sheet.source(sufficiency_source());
            let (share, class) = class((test / critical).base());
            let full: MassPerArea = crop.nutrition.full_k2o.measure();
            given!(sheet; full_dressing = full, crop.nutrition.full_k2o.origin());
            given!(sheet; share_for_its_class = share, Origin::sourced(&sufficiency_source()));
            reckon!(sheet; rate = full_dressing * share_for_its_class);
            (rate, "rate", said!("soil potassium is {}", class))
        }
        School::BuildMaintain => {
            sheet.source(tri_state());
            ladder(
                &mut sheet,
                Rungs {
                    test,
                    critical,
                    for_a_ppm,
                    carried_off,
                    besides: Some(lb(20.0)),
                    maintained: 30.0,
                    drawn_down: 20.0,
                },
            )
        }
        School::Replacement => {
            sheet.source(practice("replace what the harvest removed"));
            (carried_off, "carried_off", "same as crop removal, whatever the soil test".into())
        }
    };
    // The cap belongs to the school that builds the soil up: what a harvest carried off is put back whole.
    let (rate, why) = if school == School::BuildMaintain {
        given!(sheet; most_in_a_year = lb(K_CAP), Origin::sourced(&tri_state()));
        let capped = rate > most_in_a_year;
        let to_bring = if capped { most_in_a_year } else { rate };
        let rate = sheet.line("to apply", &format!("smaller({of}, most_in_a_year)"), to_bring);
        (rate, if capped { said!("{}; limited to {} a year", why, most_in_a_year) } else { why })
    } else {
        (sheet.line("to apply", of, rate), why)
    };
    let later = in_four_years(&mut sheet, test, rate, carried_off, for_a_ppm);
    sheet.answer(Side { rate, test_in_four_years: Some(later), why })
}

/// What the Tri-State ladder climbs by.
struct Rungs {
    test: SoilContent,
    critical: SoilContent,
    for_a_ppm: MassPerArea,
    carried_off: MassPerArea,
    /// What is kept up beside what is carried off.
    besides: Option<MassPerArea>,
    /// How far above the critical level the soil is kept up, ppm.
    maintained: f64,
    /// Over how much more it is drawn down, ppm.
    drawn_down: f64,
}

/// The Tri-State ladder: build up below the critical level, maintain above it, draw down beyond. Returns
/// the rate, the name of the line it stands on, and why.
fn ladder(sheet: &mut Sheet, rungs: Rungs) -> (MassPerArea, &'static str, Said) {
    let Rungs { test, critical, for_a_ppm, carried_off, besides, maintained, drawn_down } = rungs;
    let maintenance = match besides {
        Some(besides) => {
            given!(sheet; besides, Origin::sourced(&tri_state()));
            sheet.line("maintenance", "carried_off + besides", carried_off + besides)
        }
        None => sheet.line("maintenance", "carried_off", carried_off),
    };
    let ppm = |value| SoilContent::new(value, Unit::Ppm);
    let ppm_short = (critical.to(Unit::Ppm) - test.to(Unit::Ppm)).max(0.0);
    sheet.line("ppm_short", "above_zero(critical level - test) / one_ppm", ppm_short);
    if ppm_short > 0.0 {
        let rate = for_a_ppm * ppm_short + maintenance;
        sheet.line("rate", "per ppm each year × ppm_short + maintenance", rate);
        return (rate, "rate", "below the critical level: build up over four years plus crop removal".into());
    }
    let over = test.to(Unit::Ppm) - critical.to(Unit::Ppm) - maintained;
    if over <= 0.0 {
        return (maintenance, "maintenance", "in the maintenance range: crop removal".into());
    }
    sheet.input("maintenance range", ppm(maintained), Origin::sourced(&tri_state()));
    sheet.input("drawdown range", ppm(drawn_down), Origin::sourced(&tri_state()));
    let left = sheet.line(
        "share left",
        "bounded(1 - (test - critical level - maintenance range) / drawdown range, 0, 1)",
        (1.0 - over / drawn_down).clamp(0.0, 1.0),
    );
    let rate = sheet.line("rate", "maintenance × share left", maintenance * left);
    let why =
        if left > 0.0 { "above the maintenance range: draw down" } else { "far above the critical level: none needed" };
    (rate, "rate", why.into())
}

fn untested(mut sheet: Sheet, what: &str, carried_off: MassPerArea) -> Answer<Side> {
    sheet.would_change(format!("A soil test of {what}; without one only replacement can be worked out."));
    let rate = sheet.line("to apply", "carried_off", carried_off);
    sheet.answer(Side { rate, test_in_four_years: None, why: "no soil test: crop removal".into() })
}

fn critical_origin(key: &str, method: PMethod) -> Origin {
    match method {
        PMethod::BrayP1 => Origin::sourced(library().source(key)),
        _ => Origin::assumed(format!(
            "a critical level in {}; the Bray P1 level is scaled, and the tests do not convert well",
            method.words()
        )),
    }
}

fn sufficiency_source() -> Source {
    Source {
        class: Class::FromMemory,
        citation: "Sufficiency tables of land-grant bulletins: very low to high, a full dressing down to none; classes by share of the critical level".to_owned(),
    }
}

/// Share of a full dressing by class.
fn class(of_critical: f64) -> (Fraction, &'static str) {
    let (percent, word) = match of_critical {
        x if x < 0.25 => (100.0, "very low"),
        x if x < 0.5 => (75.0, "low"),
        x if x < 0.75 => (50.0, "medium"),
        x if x < 1.0 => (25.0, "slightly below critical"),
        _ => (0.0, "high"),
    };
    (Fraction::percent(percent), word)
}
