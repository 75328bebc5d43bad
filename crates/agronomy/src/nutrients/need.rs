//! How much P, K and N, by three schools side by side.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{
    Amounts, Nutrient, amount,
    dressings::{Feeding, PotashSplit},
    p_and_k::{ASSUMED_CEC, Soil, lb, phosphate, potash},
    removal::shares,
};
use crate::{
    crop::{Crop, NitrogenByYield, NitrogenRule, crop_of, library},
    given,
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
    /// Cut in late winter or after frost, when the plant has moved its reserves down.
    #[serde(default)]
    pub after_frost: bool,
    /// In how many dressings potash comes to an established stand; the crop's usual when absent.
    #[serde(default)]
    pub potash: Option<PotashSplit>,
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
    /// N by the ton expected, where growers go by such a rule beside removal.
    pub n_by_yield: Option<NByYield>,
    /// Magnesium, sulfur and boron, where a test finds them short.
    pub others: Vec<OtherNeed>,
    /// What a harvest of the yield goal carries off.
    #[schema(value_type = std::collections::BTreeMap<String, MassPerArea>)]
    pub removed: Amounts,
    /// Dressings of N over the year, as shares of the rate, with their time.
    pub n_splits: Vec<Split>,
    /// Dressings of K₂O over the year, as shares of the rate, with their time.
    pub k_splits: Vec<Split>,
    /// What to think about.
    #[schema(value_type = Vec<String>)]
    pub remarks: Vec<Said>,
}

/// Nitrogen by a rule of thumb of so much for a ton.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[schema(as = NitrogenByRule)]
pub struct NByYield {
    /// At the least.
    pub low: MassPerArea,
    /// At the most.
    pub high: MassPerArea,
    /// The rule, and what it is held against.
    pub why: Said,
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

/// A part of what a year needs of a nutrient.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[schema(as = NutrientSplit)]
pub struct Split {
    /// Its share.
    pub share: Fraction,
    /// When, in words.
    pub when: String,
}

/// The topic `nutrients.need`.
///
/// # Errors
/// An unknown crop, a yield, test or CEC that can't be, a P method that no school here reads.
pub fn need(request: &NeedRequest) -> Result<Answer<Needs>, Refused> {
    let crop = crop_of(&request.crop, "/crop")?;
    let mut checks = Checks::new();
    checks.positive("/yield_goal", "Yield goal", request.yield_goal, Unit::TPerHa, 60.0);
    if let Some(p) = request.p {
        checks.within("/p/value", "Phosphorus", p.value, Unit::Ppm, 0.0, 2_000.0);
    }
    if let Some(k) = request.k {
        checks.within("/k", "Potassium", k, Unit::Ppm, 0.0, 5_000.0);
    }
    let small = [
        ("/mg", "Magnesium", request.mg, 10_000.0),
        ("/s", "Sulfur", request.s, 5_000.0),
        ("/b", "Boron", request.b, 50.0),
    ];
    for (pointer, name, test, most) in small {
        if let Some(test) = test {
            checks.within(pointer, name, test, Unit::Ppm, 0.0, most);
        }
    }
    if let Some(prices) = request.prices {
        let each = [("/prices/n", prices.n), ("/prices/p2o5", prices.p2o5), ("/prices/k2o", prices.k2o)];
        for (pointer, price) in each {
            checks.within(pointer, "Price", price, Unit::MoneyPerLb, 0.0, 1e7);
        }
    }
    if let Some(cec) = request.cec {
        checks.positive("/cec", "CEC", cec, Unit::MeqPer100G, 150.0);
    }
    if let Some(moisture) = request.moisture {
        checks.within("/moisture", "Moisture", moisture, Unit::Percent, 0.0, 95.0);
    }
    if let Some(share) = request.legume_share {
        checks.within("/legume_share", "Share of legumes", share, Unit::Percent, 0.0, 100.0);
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
    for (nutrient, share, origin) in shares(crop, request.after_frost, &std::collections::BTreeMap::new()) {
        let name = format!("{} in the harvest", nutrient.words());
        let share = sheet.input(&name, share, origin);
        let mass =
            sheet.line(&format!("{} removed", nutrient.words()), &format!("yield_goal × {name}"), yield_goal * share);
        removed.insert(nutrient, mass);
    }
    let cec = request.cec.map_or(ASSUMED_CEC, |cec| cec.to(Unit::MeqPer100G));
    let soil = Soil { p: request.p, k: request.k, cec, cec_known: request.cec.is_some() };
    let fed = match &request.grass {
        Some(grass) => crop_of(grass, "/grass")?,
        None => crop,
    };
    let mut n_removed = amount(&removed, Nutrient::N);
    if fed.id != crop.id {
        let own = shares(fed, request.after_frost, &std::collections::BTreeMap::new());
        if let Some((_, share, origin)) = own.into_iter().find(|(nutrient, ..)| *nutrient == Nutrient::N) {
            let name = format!("N in {}", fed.name);
            let share = sheet.input(&name, share, origin);
            n_removed = sheet.line("N removed by it", &format!("yield_goal × {name}"), yield_goal * share);
        }
    }
    let (n, n_why) = nitrogen(fed, request);
    let n = match n {
        Dressing::AsCarriedOff => {
            sheet.line("N", if fed.id == crop.id { "N removed" } else { "N removed by it" }, n_removed)
        }
        Dressing::Of(rate) => sheet.gathered("N", "by crop type, stand year and legume share", rate),
    };
    let n_by_yield = fed.nutrition.n_by_yield.as_ref().map(|rule| by_yield(&mut sheet, rule, yield_goal, n_removed));
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
            "A soil test drawn down to zero is only arithmetic. Soil releases some bound nutrient, and yield drops long before that."
                .into(),
        );
    }
    let others = others(crop, request, &mut sheet);
    let feeding = Feeding { crop, fed, established: !request.sowing_year, potash: request.potash };
    let splits = |nutrient| {
        let shares = feeding.shares(nutrient).into_iter();
        shares.map(|(time, share)| Split { share, when: time.words().to_owned() }).collect()
    };
    let (n_splits, k_splits) = (splits(Nutrient::N), splits(Nutrient::K2o));
    Ok(sheet.answer(Needs { schools, n, n_why, n_by_yield, others, removed, n_splits, k_splits, remarks }))
}

fn by_yield(sheet: &mut Sheet, rule: &NitrogenByYield, yield_goal: MassPerArea, n_removed: MassPerArea) -> NByYield {
    let origin = Origin::sourced(library().source(&rule.source));
    let share = |pounds: f64| Fraction::from_base(pounds / LB_IN_TON);
    given!(sheet; moisture_as_fed = Fraction::from_base(rule.moisture), origin.clone());
    let as_fed =
        sheet.line("as fed", "yield_goal / (100 % - moisture_as_fed)", yield_goal / (Fraction::ONE - moisture_as_fed));
    let mut end = |name: &str, pounds: f64| {
        let share = sheet.input(&format!("{name} share"), share(pounds), origin.clone());
        sheet.line(&format!("N by the ton, {name}"), &format!("as fed × {name} share"), as_fed * share)
    };
    let (low, high) = (end("low", rule.low), end("high", rule.high));
    let why = said!(
        "by a rule of thumb for {} expected at {} moisture, before credits for manure, sod and legumes; the harvest removes {}",
        as_fed,
        moisture_as_fed,
        n_removed
    );
    NByYield { low, high, why }
}

/// Pounds in a short ton.
const LB_IN_TON: f64 = 2_000.0;

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
        return (none, "none: with over a third legume the stand fixes its own N, and added N feeds weeds".into());
    }
    match (crop.nutrition.nitrogen, request.sowing_year) {
        (NitrogenRule::Legume, _) => (none, "none: legumes fix their own N".into()),
        (NitrogenRule::Native, true) => (none, "none in the planting year: N feeds weeds".into()),
        (NitrogenRule::Native, false) => (Dressing::AsCarriedOff, "crop removal".into()),
        (NitrogenRule::CoolGrass, true) => {
            let most = lb(40.0);
            (Dressing::Of(most), said!("up to about {} on a new pure grass stand; some sow without any", most))
        }
        (NitrogenRule::CoolGrass, false) => (Dressing::AsCarriedOff, "crop removal, split before each regrowth".into()),
        (NitrogenRule::Annual, _) => {
            (Dressing::AsCarriedOff, "crop removal, adjusted for soil test and credits".into())
        }
        (NitrogenRule::TropicalCut, _) => {
            (Dressing::AsCarriedOff, "half at planting, half at 30 days, then topdress after each cut".into())
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
        add(Nutrient::Mg, 40.0, 50.0, "; where lime is needed, dolomitic lime is the cheapest source");
    }
    if ppm(request.s).is_some_and(|ppm| ppm < 7.0) {
        add(Nutrient::S, if legume { 25.0 } else { 15.0 }, 7.0, " of sulfate");
    }
    match ppm(request.b) {
        Some(ppm) if legume && ppm < 0.5 => {
            add(Nutrient::B, 2.0, 0.5, ": needed by nodules; never with the seed, and toxic in excess");
        }
        Some(ppm) if legume && ppm < 1.0 => {
            add(Nutrient::B, 1.0, 1.0, ": needed by nodules; never with the seed, and toxic in excess");
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
        sheet.gathered(&format!("{} to apply", other.nutrient.words()), "amount for the threshold", other.rate);
    }
    found
}

fn remarks(crop: &Crop, request: &NeedRequest, n: MassPerArea) -> Vec<Said> {
    let mut remarks = Vec::new();
    if crop.nutrition.luxury_potash {
        remarks.push(
            "This crop takes up more potash than it needs. Split the rate; a single heavy dose leaves with the next cut.".into(),
        );
    }
    if request.sowing_year {
        remarks.push("P does not move in soil. Apply it before the tillage that mixes it into the root zone.".into());
    }
    if crop.nutrition.nitrogen == NitrogenRule::Legume && request.sowing_year {
        remarks.push(Said::from_text(
            "Nodules need molybdenum. Below pH 6, where lime is not enough, some growers treat the seed with about {0.25 oz} of Mo per {60 lb} of seed: {0.63 oz} of sodium molybdate (39.6% Mo). More is toxic to cattle; follow the local guide.",
            &[],
        ));
    }
    if n.base() > 0.0 && request.sowing_year {
        remarks.push("Needs less N at sowing than most people think; N feeds weeds.".into());
    }
    if request.p.is_some_and(|p| p.method != PMethod::BrayP1) {
        remarks.push("Build-up equations are for Bray P1; the level is scaled to this test by assumption.".into());
    }
    remarks
}
