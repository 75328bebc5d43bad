//! How much P, K and N, by three schools side by side.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{
    Amounts, Nutrient, amount,
    removal::{practice, shares},
};
use crate::{
    crop::{Crop, NitrogenRule, library},
    given, reckon,
    refusal::{Checks, Refused},
    seed::crop_of,
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
    /// Yield aimed at in a year, as hay or dry matter by the crop's removal table.
    pub yield_goal: MassPerArea,
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
    pub why: String,
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
    pub n_why: String,
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
    pub why: String,
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
    if let Some(cec) = request.cec {
        checks.positive("/cec", "CEC", cec, Unit::MeqPer100G, 150.0);
    }
    if let Some(share) = request.legume_share {
        checks.within("/legume_share", "the share of legumes", share, Unit::Percent, 0.0, 100.0);
    }
    checks.done()?;

    let mut sheet = Sheet::new(format!("nutrients for {}", crop.name));
    given!(sheet; yield_goal = request.yield_goal, Origin::Given);
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
    let (n, n_why) = nitrogen(fed, request, n_removed);
    let n = sheet.line("N", &n_why, n);
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

/// Pounds an acre of P₂O₅ that move the test by one ppm (E-2567: 5 a year over four years).
const P_PER_PPM: f64 = 20.0;

fn lb(value: f64) -> MassPerArea {
    MassPerArea::new(value, Unit::LbPerAc)
}

/// The test after four years of a rate: what is over or short of removal moves it.
fn in_four_years(test: f64, rate: MassPerArea, removed: MassPerArea, lb_per_ppm: f64) -> SoilContent {
    let moved = 4.0 * (rate.to(Unit::LbPerAc) - removed.to(Unit::LbPerAc)) / lb_per_ppm;
    SoilContent::new((test + moved).max(0.0), Unit::Ppm)
}

fn phosphate(crop: &Crop, school: School, soil: &Soil, removed: MassPerArea) -> Answer<Side> {
    let mut sheet = Sheet::new(format!("P₂O₅ by {}", school.words()));
    given!(sheet; carried_off = removed, Origin::Worked { part: "carried off by the harvest".to_owned() });
    let Some(test) = soil.p else {
        return untested(sheet, "phosphorus", carried_off);
    };
    let level = critical_p(crop, test.method);
    let stp = test.value.to(Unit::Ppm);
    sheet.input("test", test.value, Origin::measured(format!("the soil test, {}", test.method.words())));
    sheet.input(
        "critical level",
        SoilContent::new(level, Unit::Ppm),
        critical_origin(&crop.nutrition.critical_p.source, test.method),
    );
    let (rate, why) = match school {
        School::Sufficiency => {
            sheet.source(sufficiency_source());
            let (share, class) = class(stp / level);
            let full = lb(crop.nutrition.full_p2o5.value);
            given!(sheet; full_dressing = full, crop.nutrition.full_p2o5.origin());
            given!(sheet; share_for_its_class = share, Origin::sourced(&sufficiency_source()));
            reckon!(sheet; rate = full_dressing * share_for_its_class);
            (rate, format!("the soil is {class} in phosphorus"))
        }
        School::BuildMaintain => {
            sheet.source(tri_state());
            ladder(&mut sheet, stp, level, lb(5.0), removed, lb(0.0), 15.0, 10.0)
        }
        School::Replacement => {
            sheet.source(practice("put back what the harvest carried off"));
            (carried_off, "as much as the harvest carries off, whatever the test".to_owned())
        }
    };
    let rate = sheet.line("to bring", "the rate above", rate);
    let later = in_four_years(stp, rate, removed, P_PER_PPM);
    sheet.line(
        "test in four years",
        "test + 4 × (to bring less carried_off) ÷ 20 lb/ac for a ppm, never below zero",
        later,
    );
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
    let stk = test.to(Unit::Ppm);
    sheet.input("test", test, Origin::measured("the soil test"));
    let critical = sheet.line("critical level in ppm", "75 + 2.5 × cec", 75.0 + 2.5 * cec);
    let a_ppm = sheet.line("pounds for a ppm each year", "1 + 0.05 × cec", 1.0 + 0.05 * cec);
    let (rate, why) = match school {
        School::Sufficiency => {
            sheet.source(sufficiency_source());
            let (share, class) = class(stk / critical);
            let full = lb(crop.nutrition.full_k2o.value);
            given!(sheet; full_dressing = full, crop.nutrition.full_k2o.origin());
            given!(sheet; share_for_its_class = share, Origin::sourced(&sufficiency_source()));
            reckon!(sheet; rate = full_dressing * share_for_its_class);
            (rate, format!("the soil is {class} in potassium"))
        }
        School::BuildMaintain => {
            sheet.source(tri_state());
            ladder(&mut sheet, stk, critical, lb(a_ppm), removed, lb(20.0), 30.0, 20.0)
        }
        School::Replacement => {
            sheet.source(practice("put back what the harvest carried off"));
            (carried_off, "as much as the harvest carries off, whatever the test".to_owned())
        }
    };
    let capped = rate.to(Unit::LbPerAc) > K_CAP;
    let rate =
        sheet.line("to bring", "the rate above, at most 300 lb/ac in a year", if capped { lb(K_CAP) } else { rate });
    let why = if capped { format!("{why}; capped at 300 lb/ac in a year") } else { why };
    let later = in_four_years(stk, rate, removed, 4.0 * a_ppm);
    sheet.line(
        "test in four years",
        "test + (to bring less carried_off) ÷ pounds for a ppm each year, never below zero",
        later,
    );
    sheet.answer(Side { rate, test_in_four_years: Some(later), why })
}

/// The Tri-State ladder: build up below the critical level, maintain above it, draw down beyond.
#[allow(clippy::too_many_arguments)]
fn ladder(
    sheet: &mut Sheet,
    test: f64,
    critical: f64,
    a_ppm: MassPerArea,
    removed: MassPerArea,
    extra: MassPerArea,
    maintained_to: f64,
    drawn_down_over: f64,
) -> (MassPerArea, String) {
    given!(sheet; a_ppm, Origin::sourced(&tri_state()));
    let maintenance = removed + extra;
    given!(sheet; maintenance, Origin::sourced(&tri_state()));
    let ppm_short = sheet.line("ppm_short", "critical level less test, never below zero", (critical - test).max(0.0));
    if ppm_short > 0.0 {
        reckon!(sheet; rate = a_ppm * ppm_short + maintenance);
        return (rate, "below the critical level: built up over four years, and what is carried off".to_owned());
    }
    let over = test - (critical + maintained_to);
    if over <= 0.0 {
        return (maintenance, "between critical level and enough: what is carried off".to_owned());
    }
    let left = sheet.line(
        "share left",
        "falls to nothing above the maintained range",
        (1.0 - over / drawn_down_over).clamp(0.0, 1.0),
    );
    let rate = sheet.line("rate", "maintenance × share left", maintenance * left);
    let why = if left > 0.0 { "above the maintained range: drawn down" } else { "far above the critical level: none" };
    (rate, why.to_owned())
}

fn untested(mut sheet: Sheet, what: &str, carried_off: MassPerArea) -> Answer<Side> {
    sheet.would_change(format!("A soil test of {what}: without one only replacement can be reckoned."));
    let rate = sheet.line("to bring", "carried_off", carried_off);
    sheet.answer(Side { rate, test_in_four_years: None, why: "no soil test: what is carried off".to_owned() })
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
        x if x < 1.0 => (25.0, "optimum"),
        _ => (0.0, "high"),
    };
    (Fraction::percent(percent), word)
}

fn nitrogen(crop: &Crop, request: &NeedRequest, removed: MassPerArea) -> (MassPerArea, String) {
    let legumes = request
        .legume_share
        .map_or(if crop.nutrition.nitrogen == NitrogenRule::Legume { 1.0 } else { 0.0 }, |share| share.base());
    if legumes > 1.0 / 3.0 {
        return (lb(0.0), "none: over about a third legume, it feeds itself, and nitrogen feeds the weeds".to_owned());
    }
    match (crop.nutrition.nitrogen, request.sowing_year) {
        (NitrogenRule::Legume, _) => (lb(0.0), "none: a legume feeds itself".to_owned()),
        (NitrogenRule::Native, true) => (lb(0.0), "none in the planting year: it feeds the weeds".to_owned()),
        (NitrogenRule::Native, false) => (removed, "what the harvest carries off".to_owned()),
        (NitrogenRule::CoolGrass, true) => {
            (lb(40.0), "at most about 40 lb/ac on a pure new grass; some sow without any".to_owned())
        }
        (NitrogenRule::CoolGrass, false) => {
            (removed, "what the harvest carries off, in a dressing before each growth".to_owned())
        }
        (NitrogenRule::Annual, _) => {
            (removed, "what the harvest carries off; more or less by test and credits".to_owned())
        }
        (NitrogenRule::TropicalCut, _) => {
            (removed, "half as base, half at 30 days, then a dressing after every cut".to_owned())
        }
    }
}

/// Thresholds of magnesium, sulfur and boron (from memory of extension bulletins).
fn others(crop: &Crop, request: &NeedRequest, sheet: &mut Sheet) -> Vec<OtherNeed> {
    let legume = crop.nutrition.nitrogen == NitrogenRule::Legume;
    let ppm = |test: Option<SoilContent>| test.map(|test| test.to(Unit::Ppm));
    let mut found = Vec::new();
    let mut add = |nutrient: Nutrient, pounds: f64, why: &str| {
        found.push(OtherNeed { nutrient, rate: lb(pounds), why: why.to_owned() });
    };
    if ppm(request.mg).is_some_and(|ppm| ppm < 50.0) {
        add(Nutrient::Mg, 40.0, "below 50 ppm; where lime is due, dolomitic lime brings it cheapest");
    }
    if ppm(request.s).is_some_and(|ppm| ppm < 7.0) {
        add(Nutrient::S, if legume { 25.0 } else { 15.0 }, "below 7 ppm of sulfate");
    }
    match ppm(request.b) {
        Some(ppm) if legume && ppm < 0.5 => {
            add(Nutrient::B, 2.0, "below 0.5 ppm: nodules want it; never beside the seed, and toxic in excess");
        }
        Some(ppm) if legume && ppm < 1.0 => {
            add(Nutrient::B, 1.0, "below 1 ppm: nodules want it; never beside the seed, and toxic in excess");
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
        sheet.line(&format!("{} to bring", other.nutrient.words()), "what the threshold asks for", other.rate);
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
