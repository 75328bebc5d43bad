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
    units::{Dimension, Fraction, MassPerArea, MassPerVolume, Measure, Quantity, Unit, VolumePerArea},
    working::{Answer, Sheet},
};

/// How much of something manure holds, as laboratories write it: a share of its mass (%, lb/ton, kg/t), or, of a
/// liquid, a mass in a volume (lb/1000gal, kg/m3).
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
#[serde(untagged)]
pub enum Content {
    /// A share of its mass.
    Share(Fraction),
    /// A mass in a volume.
    InVolume(MassPerVolume),
}

impl<'de> Deserialize<'de> for Content {
    fn deserialize<D: serde::Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        let quantity = Quantity::deserialize(deserializer)?;
        let read = match quantity.dimension() {
            Dimension::MassPerVolume => MassPerVolume::try_from(quantity).map(Self::InVolume),
            Dimension::Ratio => Fraction::try_from(quantity).map(Self::Share),
            _ => Err(format!("enter a share (% or lb/ton) or a mass per volume (lb/1000gal), not “{}”", quantity.unit)),
        };
        read.map_err(serde::de::Error::custom)
    }
}

impl Default for Content {
    fn default() -> Self {
        Self::Share(Fraction::ZERO)
    }
}

/// An analysis of manure or compost, as spread.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ManureAnalysis {
    /// All nitrogen.
    pub total_n: Content,
    /// Of it, ammonium nitrogen.
    #[serde(default)]
    pub ammonium_n: Content,
    /// P₂O₅.
    pub p2o5: Content,
    /// K₂O.
    pub k2o: Content,
    /// Dry matter: of cattle manure it says how fast its organic nitrogen is freed.
    #[serde(default)]
    pub dry_matter: Option<Fraction>,
    /// What a volume of it weighs; as water when absent.
    #[serde(default)]
    pub density: Option<MassPerVolume>,
}

/// Whose manure it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum ManureKind {
    /// Of dairy or beef cattle.
    #[default]
    Cattle,
    /// Of pigs.
    Swine,
    /// Of hens, broilers, turkeys.
    Poultry,
    /// Of horses.
    Horse,
    /// Of sheep or goats.
    Sheep,
    /// Composted: most of what is freed easily has gone.
    Compost,
}

/// Dry matter from which cattle manure counts as solid.
const SOLID: f64 = 0.18;

impl ManureKind {
    /// Organic nitrogen freed in the first, second and third year (Cornell guidelines, from memory; compost by
    /// common practice).
    pub fn frees(self, dry_matter: Option<Fraction>) -> [Fraction; 3] {
        let of = |first: f64| [first, 12.0, 5.0].map(Fraction::percent);
        match self {
            Self::Cattle if dry_matter.is_some_and(|share| share.base() >= SOLID) => of(25.0),
            Self::Cattle | Self::Sheep => of(35.0),
            Self::Swine => of(50.0),
            Self::Poultry => of(55.0),
            Self::Horse => of(30.0),
            Self::Compost => [10.0, 5.0, 3.0].map(Fraction::percent),
        }
    }
}

/// Request of the topic `manure.rate`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ManureRequest {
    /// Whose it is; of cattle when nothing is said.
    #[serde(default)]
    pub manure: ManureKind,
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
    /// The same as a volume, of what was analysed by volume.
    pub volume: Option<VolumePerArea>,
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

/// What a volume of slurry weighs when nobody has weighed it.
const AS_WATER: MassPerVolume = MassPerVolume::new(1_000.0, Unit::KgPerM3);

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
    let analysis = request.analysis;
    let density = analysis.density.unwrap_or(AS_WATER);
    let contents = [
        ("total_n", "total nitrogen", analysis.total_n),
        ("ammonium_n", "ammonium nitrogen", analysis.ammonium_n),
        ("p2o5", "P₂O₅", analysis.p2o5),
        ("k2o", "K₂O", analysis.k2o),
    ];
    let share = |content: Content| match content {
        Content::Share(share) => share,
        Content::InVolume(mass) => mass / density,
    };
    let mut checks = Checks::new();
    checks.within("/analysis/density", "Density", density, Unit::KgPerM3, 200.0, 1_500.0);
    if let Some(dry_matter) = analysis.dry_matter {
        checks.within("/analysis/dry_matter", "Dry matter", dry_matter, Unit::Percent, 0.1, 100.0);
    }
    for (field, name, content) in contents {
        match content {
            Content::Share(share) => {
                checks.within(&format!("/analysis/{field}"), name, share, Unit::Percent, 0.0, 30.0);
            }
            Content::InVolume(mass) => {
                checks.within(&format!("/analysis/{field}"), name, mass, Unit::KgPerM3, 0.0, 100.0);
            }
        }
    }
    checks.require(
        share(analysis.ammonium_n) <= share(analysis.total_n),
        "/analysis/ammonium_n",
        "Ammonium N is part of total N and cannot exceed it",
    );
    for (nutrient, mass) in &request.needs {
        checks.within("/needs", &format!("Need of {}", nutrient.words()), *mass, Unit::KgPerHa, 0.0, 2_000.0);
    }
    if let Some(cap) = request.n_cap {
        checks.within("/n_cap", "Nitrogen limit", cap, Unit::KgPerHa, 0.0, 1_000.0);
    }
    checks.done()?;

    let mut sheet = Sheet::new("rate of manure");
    let cornell = Source {
        class: Class::FromMemory,
        citation: "Cornell guidelines: organic N frees 35% in its first year (cattle from 18% dry matter 25%, horse 30%, swine 50%, poultry 55%), then 12 and 5%; ammonia kept 65% when worked in within a day, none when left".to_owned(),
    };
    sheet.source(cornell.clone());
    let by_volume = contents.iter().any(|(_, _, content)| matches!(content, Content::InVolume(_)));
    if by_volume {
        let origin = match analysis.density {
            Some(_) => Origin::measured("the analysis"),
            None => Origin::assumed("a weighed bucket; slurry weighs about as much as water"),
        };
        sheet.input("density", density, origin);
    }
    let mut shares = [Fraction::ZERO; 4];
    for ((field, _, content), kept) in contents.into_iter().zip(&mut shares) {
        *kept = match content {
            Content::Share(share) => sheet.input(field, share, Origin::measured("the analysis")),
            Content::InVolume(mass) => {
                let name = format!("{field} in a volume");
                let mass = sheet.input(&name, mass, Origin::measured("the analysis"));
                sheet.line(field, &format!("{name} ÷ density"), mass / density)
            }
        };
    }
    let [total_n, ammonium_n, p2o5, k2o] = shares;
    given!(sheet; ammonia_kept = ammonia_kept(request.days_to_incorporation), Origin::sourced(&cornell));
    let frees = request.manure.frees(analysis.dry_matter);
    let freed = match (request.manure, analysis.dry_matter) {
        (ManureKind::Compost, _) => {
            Origin::sourced(&Source::common_practice("one tenth of compost organic N in year 1"))
        }
        (ManureKind::Cattle, None) if !by_volume => Origin::assumed("its dry matter: at 18% or more, 25% is released"),
        _ => Origin::sourced(&cornell),
    };
    given!(sheet; freed_this_year = frees[0], freed);
    reckon!(sheet; organic_n = total_n - ammonium_n);
    let available_n = sheet.line(
        "available_n",
        "organic_n × freed_this_year + ammonium_n × ammonia_kept",
        organic_n * freed_this_year + ammonium_n * ammonia_kept,
    );

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
        return Err(Refused::one("/needs", "enter a nutrient need or a nitrogen limit"));
    }
    limits.sort_by(|a, b| a.rate.base().total_cmp(&b.rate.base()));
    let rate = sheet.gathered("rate", "lowest of the rates above", limits[0].rate);
    let volume = by_volume.then(|| sheet.line("volume", "rate ÷ density", rate / density));
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
    let n_in_later_years = [organic * frees[1], organic * frees[2]];
    let mut remarks = vec![
        "Autumn suits breakdown and traffic better than spring. Local nutrient management rules come first.".into(),
    ];
    if request.days_to_incorporation.is_none() && ammonium_n.base() > 0.0 {
        remarks.push(said!(
            "Left on the surface, all ammonia N ({}) is lost to the air. Incorporated within a day, two thirds is kept.",
            rate * ammonium_n
        ));
    }
    remarks.push(
        "Ask what was sprayed on the hay and straw. Pyridine herbicides pass through livestock and kill legumes."
            .into(),
    );
    sheet.caution("manure");
    sheet.caution("nutrient-rules");
    Ok(sheet.answer(ManureRate {
        rate,
        volume,
        binds: Some(limits[0].limit),
        limits,
        brings,
        still_needed,
        n_in_later_years,
        remarks,
    }))
}
