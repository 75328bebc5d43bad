//! Manure and compost: a rate by whichever limit is met first.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Amounts, Nutrient, amount};
use crate::{
    given, reckon,
    refusal::{Checks, Refused},
    said,
    said::Said,
    source::{Class, Origin, Source},
    units::{Fraction, MassPerArea, Measure, Unit},
    working::{Answer, Sheet},
};

/// An analysis of manure or compost, as spread.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ManureAnalysis {
    /// All nitrogen.
    pub total_n: Fraction,
    /// Of it, ammonium nitrogen.
    #[serde(default)]
    pub ammonium_n: Fraction,
    /// P₂O₅.
    pub p2o5: Fraction,
    /// K₂O.
    pub k2o: Fraction,
}

/// Request of the topic `manure.rate`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ManureRequest {
    /// The analysis.
    pub analysis: ManureAnalysis,
    /// Days until it is worked in; 0 for injected, absent when it is left on top.
    #[serde(default)]
    pub days_to_incorporation: Option<u32>,
    /// Needs of the crop: N, P₂O₅ and K₂O are used.
    #[schema(value_type = std::collections::BTreeMap<String, MassPerArea>)]
    pub needs: Amounts,
    /// The most available N that the stand or the rules allow.
    #[serde(default)]
    pub n_cap: Option<MassPerArea>,
}

/// What stops the rate.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Limit {
    /// The need of P₂O₅ is met.
    P,
    /// The need of K₂O is met.
    K,
    /// The cap on available N is reached.
    N,
}

/// A limit and the rate at which it is met.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct LimitRate {
    /// Which.
    pub limit: Limit,
    /// As spread.
    pub rate: MassPerArea,
}

/// A rate of manure.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ManureRate {
    /// As spread.
    pub rate: MassPerArea,
    /// What stops it; absent when nothing in it is needed.
    pub binds: Option<Limit>,
    /// Each limit's rate, lowest first.
    pub limits: Vec<LimitRate>,
    /// What it brings this year: available N, P₂O₅, K₂O.
    #[schema(value_type = std::collections::BTreeMap<String, MassPerArea>)]
    pub brings: Amounts,
    /// What is still to be brought by other means.
    #[schema(value_type = std::collections::BTreeMap<String, MassPerArea>)]
    pub still_needed: Amounts,
    /// N that this dressing frees in the second and third year.
    pub n_in_later_years: [MassPerArea; 2],
    /// What to think about.
    #[schema(value_type = Vec<String>)]
    pub remarks: Vec<Said>,
}

/// Ammonia kept, by days until it is worked in (Cornell guidelines, from memory).
fn ammonia_kept(days: Option<u32>) -> Fraction {
    Fraction::percent(match days {
        Some(0) => 100.0,
        Some(1) => 65.0,
        Some(2) => 53.0,
        Some(3) => 41.0,
        Some(4) => 29.0,
        Some(5) => 17.0,
        _ => 0.0,
    })
}

/// The topic `manure.rate`.
///
/// # Errors
/// An analysis that can't be, no need and no cap.
pub fn rate(request: &ManureRequest) -> Result<Answer<ManureRate>, Refused> {
    let ManureAnalysis { total_n, ammonium_n, p2o5, k2o } = request.analysis;
    let mut checks = Checks::new();
    for (field, name, share) in [
        ("total_n", "total nitrogen", total_n),
        ("ammonium_n", "ammonium nitrogen", ammonium_n),
        ("p2o5", "P₂O₅", p2o5),
        ("k2o", "K₂O", k2o),
    ] {
        checks.within(&format!("/analysis/{field}"), name, share, Unit::Percent, 0.0, 30.0);
    }
    checks.require(
        ammonium_n <= total_n,
        "/analysis/ammonium_n",
        "ammonium nitrogen is a part of total nitrogen and can\u{2019}t be more",
    );
    for (nutrient, mass) in &request.needs {
        checks.within("/needs", &format!("the need of {}", nutrient.words()), *mass, Unit::KgPerHa, 0.0, 2_000.0);
    }
    if let Some(cap) = request.n_cap {
        checks.within("/n_cap", "the cap on nitrogen", cap, Unit::KgPerHa, 0.0, 1_000.0);
    }
    checks.done()?;

    let mut sheet = Sheet::new("rate of manure");
    let cornell = Source {
        class: Class::FromMemory,
        citation: "Cornell guidelines: organic N frees 35, 12 and 5 % in years one to three; ammonia kept 65 % when worked in within a day, none when left".to_owned(),
    };
    sheet.source(cornell.clone());
    given!(sheet; total_n, Origin::measured("the analysis"));
    given!(sheet; ammonium_n, Origin::measured("the analysis"));
    given!(sheet; ammonia_kept = ammonia_kept(request.days_to_incorporation), Origin::sourced(&cornell));
    given!(sheet; freed_this_year = Fraction::percent(35.0), Origin::sourced(&cornell));
    reckon!(sheet; organic_n = total_n - ammonium_n);
    let available_n = sheet.line(
        "available_n",
        "organic_n × freed_this_year + ammonium_n × ammonia_kept",
        organic_n * freed_this_year + ammonium_n * ammonia_kept,
    );
    given!(sheet; p2o5, Origin::measured("the analysis"));
    given!(sheet; k2o, Origin::measured("the analysis"));

    let mut limits = Vec::new();
    let mut limit =
        |sheet: &mut Sheet, which: Limit, name: &str, need: Option<MassPerArea>, share: Fraction, share_name: &str| {
            if let (Some(need), true) = (need, share.base() > 0.0) {
                let need = sheet.input(&format!("need of {name}"), need, Origin::Given);
                let rate =
                    sheet.line(&format!("rate for {name}"), &format!("need of {name} ÷ {share_name}"), need / share);
                limits.push(LimitRate { limit: which, rate });
            }
        };
    limit(&mut sheet, Limit::P, "P₂O₅", request.needs.get(&Nutrient::P2o5).copied(), p2o5, "p2o5");
    limit(&mut sheet, Limit::K, "K₂O", request.needs.get(&Nutrient::K2o).copied(), k2o, "k2o");
    let n_limit = match (request.n_cap, request.needs.get(&Nutrient::N).copied()) {
        (Some(cap), Some(need)) => Some(if cap < need { cap } else { need }),
        (cap, need) => cap.or(need),
    };
    limit(&mut sheet, Limit::N, "N", n_limit, available_n, "available_n");
    if limits.is_empty() {
        return Err(Refused::one("/needs", "say what is needed, or cap the nitrogen: nothing limits this rate"));
    }
    limits.sort_by(|a, b| a.rate.base().total_cmp(&b.rate.base()));
    let rate = sheet.gathered("rate", "the least of the rates above", limits[0].rate);
    let brings: Amounts = [(Nutrient::N, available_n), (Nutrient::P2o5, p2o5), (Nutrient::K2o, k2o)]
        .into_iter()
        .map(|(nutrient, share)| (nutrient, rate * share))
        .collect();
    let still_needed = request
        .needs
        .iter()
        .map(|(nutrient, need)| {
            (*nutrient, MassPerArea::from_base((need.base() - amount(&brings, *nutrient).base()).max(0.0)))
        })
        .collect();
    let organic = rate * organic_n;
    let n_in_later_years = [organic * Fraction::percent(12.0), organic * Fraction::percent(5.0)];
    let mut remarks = vec![
        "Autumn is better than spring for breakdown and traffic; local nutrient-management rules come first.".into(),
    ];
    if request.days_to_incorporation.is_none() && ammonium_n.base() > 0.0 {
        remarks.push(said!(
            "Left on top, all its ammonia goes into the air: {} of N. Worked in within a day, two thirds stay.",
            rate * ammonium_n
        ));
    }
    remarks.push(
        "Ask what was sprayed on the hay and straw behind it: pyridine herbicides pass through stock and kill legumes."
            .into(),
    );
    sheet.caution("manure");
    sheet.caution("nutrient-rules");
    Ok(sheet.answer(ManureRate {
        rate,
        binds: Some(limits[0].limit),
        limits,
        brings,
        still_needed,
        n_in_later_years,
        remarks,
    }))
}
