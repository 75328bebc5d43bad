//! Seeding rates: from a chart, from live seeds per area, or corrected for an assumed germination.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{DormantSeed, PlsFraction, Tag, tag::pls_fraction};
use crate::{
    crop::{Crop, SowingFacts, crop_of, sowing_of},
    given, reckon,
    refusal::{Checks, Refused},
    said,
    said::Said,
    source::{Origin, Source},
    units::{Bulk, CountPerArea, CountPerMass, Fraction, MassPerArea, Measure, PureLive, Unit},
    working::{Answer, Sheet},
};

/// How the seed reaches the ground.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Method {
    /// With a drill, at depth.
    #[default]
    Drill,
    /// Spread on the surface.
    Broadcast,
}

/// How a rate is raised for seed that is broadcast: growers differ.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum BroadcastRate {
    /// The drilled rate times the crop's factor, usually 1.5.
    #[default]
    Factor,
    /// The top of the crop's range, as much above the low end as the chart says.
    TopOfRange,
    /// The rate was meant for broadcasting: it is sown as it stands.
    AsGiven,
}

impl BroadcastRate {
    /// Whether it is the usual side.
    pub fn is_factor(&self) -> bool {
        *self == Self::Factor
    }
}

/// The bed it falls into.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Seedbed {
    /// Firm, fine, moist.
    #[default]
    Good,
    /// Passable.
    Fair,
    /// Cloddy, loose, dry or trashy.
    Poor,
}

/// What moves a rate within its range, or above it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Conditions {
    /// Drilled or broadcast.
    pub method: Method,
    /// The seedbed.
    pub seedbed: Seedbed,
    /// Sown later than is usual.
    pub late: bool,
    /// How a rate is raised where it is broadcast.
    #[serde(skip_serializing_if = "BroadcastRate::is_factor")]
    pub broadcast: BroadcastRate,
}

/// What the rate is reckoned from.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "by", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Target {
    /// The crop's range in the library; conditions pick the place inside it.
    // With braces, so that a rate beside it is refused instead of being passed over.
    Chart {},
    /// A PLS mass per area for a drill in a good seedbed.
    PlsMass {
        /// Pure live seed per area.
        rate: MassPerArea,
    },
    /// Live seeds per area for a drill in a good seedbed.
    LiveSeeds {
        /// Live seeds per area.
        per_area: CountPerArea,
    },
    /// A bulk rate of thumb that assumes a germination (and a purity).
    AssumedGermination {
        /// The bulk rate as quoted.
        rate: MassPerArea,
        /// The germination it assumes.
        germination: Fraction,
        /// The purity it assumes; 100 % when nothing is said. Coated seed quoted as coated: enter
        /// the coated purity.
        purity: Option<Fraction>,
    },
}

/// Request of the topic `seed.rate`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RateRequest {
    /// Crop of the library.
    pub crop: String,
    /// What the rate is reckoned from.
    pub target: Target,
    /// The lot.
    pub tag: Tag,
    /// Whether hard or dormant seed counts; the crop's usual side when nothing is said.
    #[serde(default)]
    pub dormant_seed: Option<DormantSeed>,
    /// Drill or broadcast, seedbed, lateness.
    #[serde(default)]
    pub conditions: Conditions,
}

/// A rate in its three faces.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Rates {
    /// Pure live seed per area.
    #[schema(value_type = MassPerArea)]
    pub pls_rate: PureLive<MassPerArea>,
    /// Out of the bag, per area.
    #[schema(value_type = MassPerArea)]
    pub bulk_rate: Bulk<MassPerArea>,
    /// Live seeds per area.
    #[schema(value_type = CountPerArea)]
    pub live_seeds: PureLive<CountPerArea>,
    /// Pure live seed in the lot.
    pub pls: Fraction,
}

/// The crop's usual side on hard and dormant seed, unless the person chose.
pub fn side(crop: &Crop, chosen: Option<DormantSeed>) -> DormantSeed {
    chosen.unwrap_or(match crop.seed.as_ref().is_some_and(|seed| seed.dormant_counts) {
        true => DormantSeed::Counts,
        false => DormantSeed::LeftOut,
    })
}

/// Seeds per mass: the lot's own, else the crop's book value, with where it came from.
pub(crate) fn seeds_per_mass(crop: &Crop, tag: Option<&Tag>) -> (CountPerMass, Origin) {
    match (tag.and_then(|tag| tag.seeds_per_mass), crop.seed.as_ref()) {
        (Some(own), _) => (own, Origin::measured("the tag")),
        (None, Some(seed)) => (seed.per_mass.measure(), seed.per_mass.origin()),
        (None, None) => (CountPerMass::default(), Origin::assumed("a crop grown from seed")),
    }
}

/// The PLS rate for a crop sown alone, picked inside its range by the conditions: the low end for
/// a drill into a good seedbed on time, the high end for a poor or late one; then the broadcast
/// factor.
///
/// # Errors
/// When the crop is not grown from seed.
pub fn chart_rate(crop: &Crop, conditions: Conditions) -> Result<Answer<PureLive<MassPerArea>>, Refused> {
    let sowing = sowing_of(crop, "/crop")?;
    let mut sheet = Sheet::new(format!("chart rate of {}", crop.name));
    let (low, high) = sowing.rate.ends::<MassPerArea>();
    let low_end = sheet.input("low_end", PureLive(low), sowing.rate.origin());
    let high_end = sheet.input("high_end", PureLive(high), sowing.rate.origin());
    let place = match conditions.seedbed {
        Seedbed::Good => 0.0,
        Seedbed::Fair => 0.5,
        Seedbed::Poor => 1.0,
    };
    let place = if conditions.late { f64::min(place + 0.5, 1.0) } else { place };
    given!(sheet; place_in_range = place, Origin::assumed("seedbed condition on the day"));
    sheet.source(Source::common_practice(
        "low end of the range for drilling in good conditions, high end for poor or late conditions",
    ));
    let high_end = high_end.0;
    let low = low_end.0;
    let span = sheet.line("span", "high_end - low_end", high_end - low);
    let drilled_rate =
        sheet.line("drilled_rate", "low_end + place_in_range * span", PureLive(low + span * place_in_range));
    if conditions.method == Method::Drill {
        return Ok(sheet.answer(drilled_rate));
    }
    let broadcast_rate = match conditions.broadcast {
        BroadcastRate::Factor => {
            given!(sheet; broadcast_factor = sowing.broadcast_factor.value, sowing.broadcast_factor.origin());
            reckon!(sheet; broadcast_rate = drilled_rate * broadcast_factor);
            broadcast_rate
        }
        BroadcastRate::TopOfRange => sheet.line("broadcast_rate", "high_end", PureLive(high_end)),
        // A chart is of drilled seed: what it says is not meant for broadcasting unless the person says so.
        BroadcastRate::AsGiven => sheet.line("broadcast_rate", "drilled_rate", drilled_rate),
    };
    Ok(sheet.answer(broadcast_rate))
}

/// What a rate for a drill is multiplied by when the seed is broadcast, and where that is from.
fn broadcast_factor(sowing: &SowingFacts, by: BroadcastRate) -> (f64, Origin) {
    match by {
        BroadcastRate::Factor => (sowing.broadcast_factor.value, sowing.broadcast_factor.origin()),
        BroadcastRate::TopOfRange => {
            let (low, high) = sowing.rate.ends::<MassPerArea>();
            let top = Source::common_practice(
                "the top of the chart\u{2019}s range for broadcast seed, its low end for a drill",
            );
            (high.base() / low.base(), Origin::sourced(&top))
        }
        BroadcastRate::AsGiven => {
            (1.0, Origin::sourced(&Source::common_practice("the rate is stated for broadcasting: no adjustment")))
        }
    }
}

/// What lies between a rate as it is given and the same for a drill: one, but for a rate that was meant for broadcasting.
///
/// # Errors
/// When the crop is not grown from seed.
pub(crate) fn above_drilled(crop: &Crop, conditions: Conditions) -> Result<f64, Refused> {
    let meant = conditions.method == Method::Broadcast && conditions.broadcast == BroadcastRate::AsGiven;
    let sowing = sowing_of(crop, "/crop")?;
    Ok(if meant { sowing.broadcast_factor.value } else { 1.0 })
}

/// What a rate for a drill in a good seedbed is multiplied by under other conditions.
///
/// # Errors
/// When the crop is not grown from seed.
pub fn modifier(crop: &Crop, conditions: Conditions) -> Result<Answer<f64>, Refused> {
    let sowing = sowing_of(crop, "/crop")?;
    let mut sheet = Sheet::new("adjustment for conditions");
    let method = match conditions.method {
        Method::Drill => {
            sheet.input("method", 1.0, Origin::sourced(&Source::common_practice("drilled: no adjustment")))
        }
        Method::Broadcast => {
            let (factor, origin) = broadcast_factor(sowing, conditions.broadcast);
            sheet.input("method", factor, origin)
        }
    };
    let seedbed = match conditions.seedbed {
        Seedbed::Good => 1.0,
        Seedbed::Fair => 1.15,
        Seedbed::Poor => 1.3,
    };
    given!(sheet; seedbed, Origin::assumed("seedbed condition on the day"));
    let lateness = if conditions.late { 1.15 } else { 1.0 };
    given!(sheet; lateness, Origin::assumed("odds on the sowing date"));
    reckon!(sheet; conditions = method * seedbed * lateness);
    Ok(sheet.answer(conditions))
}

/// The topic `seed.rate`: a rate as PLS, as bulk from this lot, and as live seeds per area.
///
/// # Errors
/// An unknown crop, a tag or target that can't be.
pub fn rate(request: &RateRequest) -> Result<Answer<Rates>, Refused> {
    let crop = crop_of(&request.crop, "/crop")?;
    sowing_of(crop, "/crop")?;
    let mut checks = Checks::new();
    let pls = checks.part("/tag", pls_fraction(&request.tag, side(crop, request.dormant_seed)));
    check_target(&request.target, &mut checks);
    checks.done()?;
    let Some(pls) = pls else { unreachable!("refused above") };

    let mut sheet = Sheet::new(format!("seeding rate of {}", crop.name));
    let pls_of_the_lot: PlsFraction = sheet.carried("pls_of_the_lot", pls);
    let (per_mass, origin) = seeds_per_mass(crop, Some(&request.tag));
    given!(sheet; seeds_per_mass = per_mass, origin);
    sheet.source(Source::common_practice("rates are stated as pure live seed; bulk = PLS rate ÷ PLS share of the lot"));

    let pls_rate = match &request.target {
        Target::Chart {} => {
            let chart_rate = sheet.carried("chart_rate", chart_rate(crop, request.conditions)?);
            sheet.line("pls_rate", "chart_rate", chart_rate)
        }
        target => {
            let conditions = sheet.carried("conditions", modifier(crop, request.conditions)?);
            match *target {
                Target::LiveSeeds { per_area } => {
                    let live_seeds_aimed_at = sheet.input("live_seeds_aimed_at", PureLive(per_area), Origin::Given);
                    reckon!(sheet; pls_rate = live_seeds_aimed_at / seeds_per_mass * conditions);
                    pls_rate
                }
                Target::PlsMass { rate } => {
                    let rate_asked = sheet.input("rate_asked", PureLive(rate), Origin::Given);
                    reckon!(sheet; pls_rate = rate_asked * conditions);
                    pls_rate
                }
                Target::AssumedGermination { rate, germination, purity } => {
                    given!(sheet; rate_quoted = rate, Origin::Given);
                    given!(sheet; germination_assumed = germination, Origin::Given);
                    let origin = match purity {
                        Some(_) => Origin::Given,
                        None => Origin::assumed("the purity assumed in the quoted rate"),
                    };
                    given!(sheet; purity_assumed = purity.unwrap_or(Fraction::ONE), origin);
                    let pls = rate_quoted * purity_assumed * germination_assumed * conditions;
                    sheet.line(
                        "pls_rate",
                        "rate_quoted * purity_assumed * germination_assumed * conditions",
                        PureLive(pls),
                    )
                }
                Target::Chart {} => unreachable!("handled above"),
            }
        }
    };
    let bulk_rate = sheet.line("bulk_rate", "pls_rate / pls_of_the_lot", pls_rate.in_bulk(pls_of_the_lot));
    reckon!(sheet; live_seeds = pls_rate * seeds_per_mass);
    if request.tag.seeds_per_mass.is_none() {
        sheet.would_change("Seeds per pound or kilogram is a book value; use the lot’s own count for a better figure.");
    }
    for key in crop.cautions.iter().filter(|key| *key == "invasive") {
        sheet.caution(key);
    }
    Ok(sheet.answer(Rates { pls_rate, bulk_rate, live_seeds, pls: pls_of_the_lot.0 }))
}

fn check_target(target: &Target, checks: &mut Checks) {
    match target {
        Target::Chart {} => {}
        Target::PlsMass { rate } => checks.positive("/target/rate", "Rate", *rate, Unit::KgPerHa, 1_000.0),
        Target::LiveSeeds { per_area } => {
            checks.positive("/target/per_area", "Live seeds per area", *per_area, Unit::PerM2, 20_000.0);
        }
        Target::AssumedGermination { rate, germination, purity } => {
            checks.positive("/target/rate", "Rate", *rate, Unit::KgPerHa, 1_000.0);
            checks.positive("/target/germination", "Assumed germination", *germination, Unit::Percent, 100.0);
            if let Some(purity) = purity {
                checks.positive("/target/purity", "Assumed purity", *purity, Unit::Percent, 100.0);
            }
        }
    }
}

/// Whether a PLS rate is far above what the crop's range, broadcast, would explain: more than
/// twice the high end.
pub(crate) fn far_from_usual(crop: &Crop, pls_rate: PureLive<MassPerArea>) -> Option<Said> {
    let sowing = crop.sowing.as_ref()?;
    let (low, high) = sowing.rate.ends::<MassPerArea>();
    let usual = high * sowing.broadcast_factor.value;
    (pls_rate.base() > 1.5 * usual.base()).then(|| {
        said!("{} at {} PLS is far above the usual {}–{} for a pure drilled stand", crop.name, pls_rate, low, high)
    })
}
