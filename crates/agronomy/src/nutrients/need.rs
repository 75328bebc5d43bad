//! How much P, K and N, by three schools side by side.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{
    Amounts, Nutrient, amount,
    removal::{practice, shares},
};
use crate::{
    crop::{Crop, NitrogenRule, crop_of, library},
    given, reckon,
    refusal::{Checks, Refused},
    said,
    said::Said,
    soil::{PMethod, PTest},
    source::{Class, Origin, Source},
    units::{Charge, Fraction, MassPerArea, Measure, SoilContent, Unit},
    working::{Answer, Sheet},
};

/// How P and K are reckoned.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum School {
    /// Feed the crop this year, by the class of the soil test.
    Sufficiency,
    /// Build the soil up to the critical level in four years, then keep it there (Tri-State, 1995).
    BuildMaintain,
    /// Put back what the harvest carries off.
    Replacement,
}

impl School {
    /// All, in the order shown.
    pub const ALL: [Self; 3] = [Self::Sufficiency, Self::BuildMaintain, Self::Replacement];

    /// As people write it.
    pub fn words(self) -> &'static str {
        match self {
            Self::Sufficiency => "sufficiency",
            Self::BuildMaintain => "build up and maintain",
            Self::Replacement => "replacement",
        }
    }
}

/// Request of the topic `nutrients.need`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NeedRequest {
    /// Crop of the library.
    pub crop: String,
    /// Yield aimed at in a year: dry matter, or as moist as `moisture` says.
    pub yield_goal: MassPerArea,
    /// Water in what the goal counts, such as 15 % in hay; none when absent.
    #[serde(default)]
    pub moisture: Option<Fraction>,
    /// Phosphorus test.
    #[serde(default)]
    pub p: Option<PTest>,
    /// Potassium test (as K).
    #[serde(default)]
    pub k: Option<SoilContent>,
    /// Cation exchange capacity; 10 meq/100g when nothing is said.
    #[serde(default)]
    pub cec: Option<Charge>,
    /// Magnesium test.
    #[serde(default)]
    pub mg: Option<SoilContent>,
    /// Sulfate sulfur test.
    #[serde(default)]
    pub s: Option<SoilContent>,
    /// Boron test.
    #[serde(default)]
    pub b: Option<SoilContent>,
    /// In the sowing year.
    #[serde(default)]
    pub sowing_year: bool,
    /// Share of legumes in the stand; the crop's own when absent.
    #[serde(default)]
    pub legume_share: Option<Fraction>,
    /// Of a mix in which legumes are few, the crop that is fed with nitrogen; the crop itself when absent.
    #[serde(default)]
    pub grass: Option<String>,
    /// Prices of a mass of P₂O₅ and of K₂O, for the cost of each school.
    #[serde(default)]
    pub prices: Option<Prices>,
}

/// Prices of nutrients.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Prices {
    /// Of N.
    pub n: crate::units::MoneyPerMass,
    /// Of P₂O₅.
    pub p2o5: crate::units::MoneyPerMass,
    /// Of K₂O.
    pub k2o: crate::units::MoneyPerMass,
}

/// One nutrient by one school.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Side {
    /// To bring this year.
    pub rate: MassPerArea,
    /// The soil test after four such years; absent without a test.
    pub test_in_four_years: Option<SoilContent>,
    /// Why, in a sentence.
    pub why: Said,
}

/// One school's answer.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct NeedSide {
    /// Which school.
    pub school: School,
    /// P₂O₅.
    pub p2o5: Side,
    /// K₂O.
    pub k2o: Side,
    /// What P₂O₅ and K₂O (and N) cost at the prices given.
    pub cost: Option<crate::units::MoneyPerArea>,
}

/// What the crop needs.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Needs {
    /// The schools side by side.
    pub schools: Vec<NeedSide>,
    /// N for the year.
    pub n: MassPerArea,
    /// Why so much N.
    pub n_why: Said,
    /// Magnesium, sulfur and boron, where a test finds them short.
    pub others: Vec<OtherNeed>,
    /// What a harvest of the yield goal carries off.
    #[schema(value_type = std::collections::BTreeMap<String, MassPerArea>)]
    pub removed: Amounts,
    /// Dressings of K₂O over the year, as shares of the rate, with their time.
    pub k_splits: Vec<KSplit>,
    /// What to think about.
    pub remarks: Vec<String>,
}

/// A smaller nutrient that a test finds short.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct OtherNeed {
    /// Which.
    pub nutrient: Nutrient,
    /// To bring this year.
    pub rate: MassPerArea,
    /// Why, and what to mind.
    pub why: Said,
}

/// A part of the year's potash.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct KSplit {
    /// Its share.
    pub share: Fraction,
    /// When, in words.
    pub when: String,
}

/// The yearly cap on potash (Tri-State, 1995), lb K₂O/ac.
const K_CAP: f64 = 300.0;

/// The topic `nutrients.need`.
///
/// # Errors
/// An unknown crop, a yield, test or CEC that can't be, a P method that no school here reads.
pub fn need(request: &NeedRequest) -> Result<Answer<Needs>, Refused> {
    let crop = crop_of(&request.crop, "/crop")?;
    let mut checks = Checks::new();
    checks.positive("/yield_goal", "the yield goal", request.yield_goal, Unit::TPerHa, 60.0);
    if let Some(p) = request.p {
        checks.within("/p/value", "phosphorus", p.value, Unit::Ppm, 0.0, 2_000.0);
    }
    if let Some(k) = request.k {
        checks.within("/k", "potassium", k, Unit::Ppm, 0.0, 5_000.0);
    }
    let small = [
        ("/mg", "magnesium", request.mg, 10_000.0),
        ("/s", "sulfur", request.s, 5_000.0),
        ("/b", "boron", request.b, 50.0),
    ];
    for (pointer, name, test, most) in small {
        if let Some(test) = test {
            checks.within(pointer, name, test, Unit::Ppm, 0.0, most);
        }
    }
    if let Some(prices) = request.prices {
        let each = [("/prices/n", prices.n), ("/prices/p2o5", prices.p2o5), ("/prices/k2o", prices.k2o)];
        for (pointer, price) in each {
            checks.within(pointer, "the price", price, Unit::UsdPerLb, 0.0, 1_000.0);
        }
    }
    if let Some(cec) = request.cec {
        checks.positive("/cec", "CEC", cec, Unit::MeqPer100G, 150.0);
    }
    if let Some(moisture) = request.moisture {
        checks.within("/moisture", "the moisture", moisture, Unit::Percent, 0.0, 95.0);
    }
    if let Some(share) = request.legume_share {
        checks.within("/legume_share", "the share of legumes", share, Unit::Percent, 0.0, 100.0);
    }
    checks.done()?;

    let mut sheet = Sheet::new(format!("nutrients for {}", crop.name));
    let yield_goal = match request.moisture {
        // Removal tables count dry matter.
        Some(moisture) => {
            given!(sheet; goal_as_counted = request.yield_goal, Origin::Given);
            given!(sheet; moisture, Origin::Given);
            let dry_share = sheet.line("dry_share", "100 % - moisture", Fraction::ONE - moisture);
            sheet.line("yield_goal", "goal_as_counted * dry_share", goal_as_counted * dry_share)
        }
        None => {
            given!(sheet; yield_goal = request.yield_goal, Origin::Given);
            yield_goal
        }
    };
    let mut removed = Amounts::new();
    for (nutrient, share, origin) in shares(crop, false, &std::collections::BTreeMap::new()) {
        let name = format!("{} in the harvest", nutrient.words());
        let share = sheet.input(&name, share, origin);
        let mass = sheet.line(
            &format!("{} carried off", nutrient.words()),
            &format!("yield_goal × {name}"),
            yield_goal * share,
        );
        removed.insert(nutrient, mass);
    }
    let cec = request.cec.map_or(10.0, |cec| cec.to(Unit::MeqPer100G));
    let soil = Soil { p: request.p, k: request.k, cec, cec_known: request.cec.is_some() };
    let fed = match &request.grass {
        Some(grass) => crop_of(grass, "/grass")?,
        None => crop,
    };
    let mut n_removed = amount(&removed, Nutrient::N);
    if fed.id != crop.id {
        let own = shares(fed, false, &std::collections::BTreeMap::new());
        if let Some((_, share, origin)) = own.into_iter().find(|(nutrient, ..)| *nutrient == Nutrient::N) {
            let name = format!("N in {}", fed.name);
            let share = sheet.input(&name, share, origin);
            n_removed = sheet.line("N carried off by it", &format!("yield_goal × {name}"), yield_goal * share);
        }
    }
    let (n, n_why) = nitrogen(fed, request);
    let n = match n {
        Dressing::AsCarriedOff => {
            sheet.line("N", if fed.id == crop.id { "N carried off" } else { "N carried off by it" }, n_removed)
        }
        Dressing::Of(rate) => sheet.gathered("N", "by the kind of crop, its year and its share of legumes", rate),
    };
    let mut schools = Vec::new();
    for school in School::ALL {
        let p2o5 = sheet.part(phosphate(crop, school, &soil, amount(&removed, Nutrient::P2o5)));
        let k2o = sheet.part(potash(crop, school, &soil, amount(&removed, Nutrient::K2o)));
        let cost = request.prices.map(|prices| p2o5.rate * prices.p2o5 + k2o.rate * prices.k2o + n * prices.n);
        schools.push(NeedSide { school, p2o5, k2o, cost });
    }
    sheet.caution("nutrient-rules");
    let mut remarks = remarks(crop, request, n);
    let spent = |side: &Side| side.test_in_four_years.is_some_and(|test| test.base() <= 0.0);
    if schools.iter().any(|side| spent(&side.p2o5) || spent(&side.k2o)) {
        remarks.push(
            "A test drawn down to nothing is arithmetic: a soil yields some of what it holds bound, and the crop suffers long before."
                .to_owned(),
        );
    }
    let others = others(crop, request, &mut sheet);
    Ok(sheet.answer(Needs { schools, n, n_why, others, removed, k_splits: splits(crop), remarks }))
}

struct Soil {
    p: Option<PTest>,
    k: Option<SoilContent>,
    cec: f64,
    cec_known: bool,
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

/// Pounds an acre of P₂O₅ that move the test by one ppm over four years, each year (E-2567).
const P_FOR_A_PPM: f64 = 5.0;

fn one_ppm(sheet: &mut Sheet) -> SoilContent {
    sheet.input("one_ppm", SoilContent::new(1.0, Unit::Ppm), Origin::sourced(&practice("unit of the formula")))
}

fn lb(value: f64) -> MassPerArea {
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
        "test in four years",
        "above_zero(test + (to bring - carried_off) / for a ppm each year × one_ppm)",
        SoilContent::new((test.to(Unit::Ppm) + moved).max(0.0), Unit::Ppm),
    )
}

fn phosphate(crop: &Crop, school: School, soil: &Soil, removed: MassPerArea) -> Answer<Side> {
    let mut sheet = Sheet::new(format!("P₂O₅ by {}", school.words()));
    given!(sheet; carried_off = removed, Origin::Worked { part: "carried off by the harvest".to_owned() });
    let Some(test) = soil.p else {
        return untested(sheet, "phosphorus", carried_off);
    };
    let level = SoilContent::new(critical_p(crop, test.method), Unit::Ppm);
    one_ppm(&mut sheet);
    let for_a_ppm = sheet.input("for a ppm each year", lb(P_FOR_A_PPM), Origin::sourced(&tri_state()));
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
            (rate, "rate", said!("the soil is {} in phosphorus", class))
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
            sheet.source(practice("put back what the harvest carried off"));
            (carried_off, "carried_off", "as much as the harvest carries off, whatever the test".into())
        }
    };
    let rate = sheet.line("to bring", of, rate);
    let later = in_four_years(&mut sheet, test.value, rate, carried_off, for_a_ppm);
    sheet.answer(Side { rate, test_in_four_years: Some(later), why })
}

fn potash(crop: &Crop, school: School, soil: &Soil, removed: MassPerArea) -> Answer<Side> {
    let mut sheet = Sheet::new(format!("K₂O by {}", school.words()));
    given!(sheet; carried_off = removed, Origin::Worked { part: "carried off by the harvest".to_owned() });
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
    let critical = SoilContent::new(75.0 + 2.5 * cec, Unit::Ppm);
    sheet.line("critical level", "one_ppm × (75 + 2.5 × cec)", critical);
    given!(sheet; one_pound_per_acre = lb(1.0), Origin::sourced(&practice("unit of the formula")));
    let for_a_ppm = one_pound_per_acre * (1.0 + 0.05 * cec);
    sheet.line("for a ppm each year", "one_pound_per_acre × (1 + 0.05 × cec)", for_a_ppm);
    let (rate, of, why) = match school {
        School::Sufficiency => {
            sheet.source(sufficiency_source());
            let (share, class) = class((test / critical).base());
            let full: MassPerArea = crop.nutrition.full_k2o.measure();
            given!(sheet; full_dressing = full, crop.nutrition.full_k2o.origin());
            given!(sheet; share_for_its_class = share, Origin::sourced(&sufficiency_source()));
            reckon!(sheet; rate = full_dressing * share_for_its_class);
            (rate, "rate", said!("the soil is {} in potassium", class))
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
            sheet.source(practice("put back what the harvest carried off"));
            (carried_off, "carried_off", "as much as the harvest carries off, whatever the test".into())
        }
    };
    // The cap belongs to the school that builds the soil up: what a harvest carried off is put back whole.
    let (rate, why) = if school == School::BuildMaintain {
        given!(sheet; most_in_a_year = lb(K_CAP), Origin::sourced(&tri_state()));
        let capped = rate > most_in_a_year;
        let to_bring = if capped { most_in_a_year } else { rate };
        let rate = sheet.line("to bring", &format!("smaller({of}, most_in_a_year)"), to_bring);
        (rate, if capped { said!("{}; capped at {} in a year", why, most_in_a_year) } else { why })
    } else {
        (sheet.line("to bring", of, rate), why)
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
        sheet.line("rate", "for a ppm each year × ppm_short + maintenance", rate);
        return (rate, "rate", "below the critical level: built up over four years, and what is carried off".into());
    }
    let over = test.to(Unit::Ppm) - critical.to(Unit::Ppm) - maintained;
    if over <= 0.0 {
        return (maintenance, "maintenance", "between critical level and enough: what is carried off".into());
    }
    sheet.input("kept up for", ppm(maintained), Origin::sourced(&tri_state()));
    sheet.input("drawn down over", ppm(drawn_down), Origin::sourced(&tri_state()));
    let left = sheet.line(
        "share left",
        "bounded(1 - (test - critical level - kept up for) / drawn down over, 0, 1)",
        (1.0 - over / drawn_down).clamp(0.0, 1.0),
    );
    let rate = sheet.line("rate", "maintenance × share left", maintenance * left);
    let why = if left > 0.0 { "above the maintained range: drawn down" } else { "far above the critical level: none" };
    (rate, "rate", why.into())
}

fn untested(mut sheet: Sheet, what: &str, carried_off: MassPerArea) -> Answer<Side> {
    sheet.would_change(format!("A soil test of {what}: without one only replacement can be reckoned."));
    let rate = sheet.line("to bring", "carried_off", carried_off);
    sheet.answer(Side { rate, test_in_four_years: None, why: "no soil test: what is carried off".into() })
}

fn critical_origin(key: &str, method: PMethod) -> Origin {
    match method {
        PMethod::BrayP1 => Origin::sourced(library().source(key)),
        _ => Origin::assumed(format!(
            "a critical level in {}: the Bray P1 level is scaled, and the tests do not convert well",
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
        x if x < 1.0 => (25.0, "nearly high enough"),
        _ => (0.0, "high"),
    };
    (Fraction::percent(percent), word)
}

/// How much nitrogen to bring.
enum Dressing {
    AsCarriedOff,
    Of(MassPerArea),
}

fn nitrogen(crop: &Crop, request: &NeedRequest) -> (Dressing, Said) {
    let none = Dressing::Of(lb(0.0));
    let legumes = request
        .legume_share
        .map_or(if crop.nutrition.nitrogen == NitrogenRule::Legume { 1.0 } else { 0.0 }, |share| share.base());
    if legumes > 1.0 / 3.0 {
        return (none, "none: over about a third legume, it feeds itself, and nitrogen feeds the weeds".into());
    }
    match (crop.nutrition.nitrogen, request.sowing_year) {
        (NitrogenRule::Legume, _) => (none, "none: a legume feeds itself".into()),
        (NitrogenRule::Native, true) => (none, "none in the planting year: it feeds the weeds".into()),
        (NitrogenRule::Native, false) => (Dressing::AsCarriedOff, "what the harvest carries off".into()),
        (NitrogenRule::CoolGrass, true) => {
            let most = lb(40.0);
            (Dressing::Of(most), said!("at most about {} on a pure new grass; some sow without any", most))
        }
        (NitrogenRule::CoolGrass, false) => {
            (Dressing::AsCarriedOff, "what the harvest carries off, in a dressing before each growth".into())
        }
        (NitrogenRule::Annual, _) => {
            (Dressing::AsCarriedOff, "what the harvest carries off; more or less by test and credits".into())
        }
        (NitrogenRule::TropicalCut, _) => {
            (Dressing::AsCarriedOff, "half as base, half at 30 days, then a dressing after every cut".into())
        }
    }
}

/// Thresholds of magnesium, sulfur and boron (from memory of extension bulletins).
fn others(crop: &Crop, request: &NeedRequest, sheet: &mut Sheet) -> Vec<OtherNeed> {
    let legume = crop.nutrition.nitrogen == NitrogenRule::Legume;
    let ppm = |test: Option<SoilContent>| test.map(|test| test.to(Unit::Ppm));
    let mut found = Vec::new();
    let mut add = |nutrient: Nutrient, pounds: f64, below: f64, why: &str| {
        let why = said!("below {}{}", SoilContent::new(below, Unit::Ppm), why);
        found.push(OtherNeed { nutrient, rate: lb(pounds), why });
    };
    if ppm(request.mg).is_some_and(|ppm| ppm < 50.0) {
        add(Nutrient::Mg, 40.0, 50.0, "; where lime is due, dolomitic lime brings it cheapest");
    }
    if ppm(request.s).is_some_and(|ppm| ppm < 7.0) {
        add(Nutrient::S, if legume { 25.0 } else { 15.0 }, 7.0, " of sulfate");
    }
    match ppm(request.b) {
        Some(ppm) if legume && ppm < 0.5 => {
            add(Nutrient::B, 2.0, 0.5, ": nodules want it; never beside the seed, and toxic in excess");
        }
        Some(ppm) if legume && ppm < 1.0 => {
            add(Nutrient::B, 1.0, 1.0, ": nodules want it; never beside the seed, and toxic in excess");
        }
        _ => {}
    }
    if !found.is_empty() {
        sheet.source(Source {
            class: Class::FromMemory,
            citation: "Extension bulletins on secondary and micronutrients: Mg below 50 ppm, sulfate S below 7, B below 0.5 to 1".to_owned(),
        });
    }
    for other in &found {
        sheet.gathered(&format!("{} to bring", other.nutrient.words()), "what the threshold asks for", other.rate);
    }
    found
}

fn splits(crop: &Crop) -> Vec<KSplit> {
    if crop.nutrition.nitrogen == NitrogenRule::Legume && crop.nutrition.luxury_potash {
        let half = |when: &str| KSplit { share: Fraction::percent(50.0), when: when.to_owned() };
        vec![half("after the first cut"), half("before the last, for the winter")]
    } else {
        vec![KSplit { share: Fraction::ONE, when: "once a year".to_owned() }]
    }
}

fn remarks(crop: &Crop, request: &NeedRequest, n: MassPerArea) -> Vec<String> {
    let mut remarks = Vec::new();
    if crop.nutrition.luxury_potash {
        remarks.push(
            "It takes up more potash than it needs: one heavy dose leaves with the next cut, so split it.".to_owned(),
        );
    }
    if request.sowing_year {
        remarks.push("P does not move: put it in the root zone ahead of the tillage that buries it.".to_owned());
    }
    if n.base() > 0.0 && request.sowing_year {
        remarks.push("Less nitrogen at sowing than people think: it feeds weeds.".to_owned());
    }
    if request.p.is_some_and(|p| p.method != PMethod::BrayP1) {
        remarks.push(
            "The build-up equations are for Bray P1; their level is scaled to this test as an assumption.".to_owned(),
        );
    }
    remarks
}
