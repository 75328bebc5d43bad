//! Is this field fit for this crop, and what would make it so?
//!
//! Each check gives a verdict with its reason and source, what would turn it, and the day from
//! which it no longer stands in the way. A thing nobody has measured is *unknown*, never fit: the
//! check then names the measurement. The field is as fit as its worst check, and the earliest
//! sensible sowing is the latest of their days.

mod checks;

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    crop::{Crop, Drainage, crop_of},
    refusal::{Checks, Refused},
    said,
    said::Said,
    soil::{SoilTest, Texture},
    source::{Origin, Source},
    spraying::LabelWait,
    units::{Fraction, Length, Temperature, Unit},
    working::{Answer, Sheet},
};

/// Months that lime needs before a sowing.
const LIME_MONTHS: i32 = 6;
/// Months after which a soil test no longer tells.
const OLD_TEST_MONTHS: i32 = 36;

/// How a check comes out, best to worst.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Verdict {
    /// As it is.
    Fit,
    /// Nobody has measured it.
    Unknown,
    /// With the work named.
    FitWithWork,
    /// Not, or not before the day named.
    Unfit,
}

/// What lies on the field.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Residue {
    Bare,
    BeanStubble,
    CerealStubble,
    HeavyMaize,
    Sod,
}

/// What a walk, a spade and the maps tell of a field. Whatever is absent has not been looked at.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct SiteFacts {
    /// Drainage class.
    pub drainage: Option<Drainage>,
    /// Days that water stands after heavy rain.
    pub ponding_days: Option<f64>,
    /// Depth to rock, pan or water that stops roots.
    pub restrictive_depth: Option<Length>,
    /// Steepest slope that is worked.
    pub slope: Option<Fraction>,
    /// Texture of the plough layer.
    pub texture: Option<Texture>,
    /// Rain in an ordinary year.
    pub rain: Option<Length>,
    /// Water can be brought.
    pub irrigated: bool,
    /// Mean temperature of the warmest month.
    pub warmest_month: Option<Temperature>,
    /// Land that someone else manages borders on it.
    pub neighbour: bool,
    /// What lies on it now.
    pub residue: Option<Residue>,
    /// Perennial weeds seen; empty for none seen.
    pub perennial_weeds: Option<String>,
}

/// A herbicide sprayed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Spray {
    /// Active ingredient.
    pub active: String,
    /// The day.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// Months to the crop at hand, as the person read it off the label; it rules.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub label_months: Option<i32>,
    /// Days until what may be sown, as the person read it off the label: of the crop at hand it rules.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub plant_back: Vec<LabelWait>,
    /// It was put on spots alone, or wiped on what stood above the crop: the rest of the field is free of it.
    #[serde(default, skip_serializing_if = "is_false")]
    pub spots: bool,
}

#[allow(clippy::trivially_copy_pass_by_ref)]
fn is_false(flag: &bool) -> bool {
    !flag
}

/// A crop that grew here.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PastCrop {
    /// Id of the library, or any name.
    pub crop: String,
    /// The day it was ended.
    #[schema(value_type = String, format = Date)]
    pub ended: Date,
    /// Years it had stood.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub years: Option<f64>,
}

/// A pot test of the soil: the crop grown beside a clean one.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Bioassay {
    /// The day it was read.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// The crop grew as in the clean soil.
    pub passed: bool,
}

/// Request of the topic `site.check`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SiteRequest {
    /// Crop of the library.
    #[serde(default)]
    pub crop: String,
    /// The day it is asked.
    #[schema(value_type = String, format = Date)]
    pub today: Date,
    /// The day it is meant to be sown.
    #[schema(value_type = String, format = Date)]
    pub sow_on: Date,
    /// Whether the bed is tilled.
    #[serde(default = "yes")]
    pub tilled: bool,
    /// The steepest slope that the method is used on; by the crop, where the bed is tilled, when absent.
    #[serde(default)]
    pub slope_limit: Option<Fraction>,
    /// What is known of the place.
    #[serde(default)]
    pub facts: SiteFacts,
    /// The latest soil test.
    #[serde(default)]
    pub soil: Option<SoilTest>,
    /// Herbicides, three years back at least.
    #[serde(default)]
    pub sprays: Vec<Spray>,
    /// Crops, three years back at least.
    #[serde(default)]
    pub past_crops: Vec<PastCrop>,
    /// The person has told all there is to tell of these years.
    #[serde(default)]
    pub history_known: bool,
    /// The latest bioassay.
    #[serde(default)]
    pub bioassay: Option<Bioassay>,
    /// Distance kept from the boundary.
    #[serde(default)]
    pub setback: Length,
    /// The day lime was spread since the soil test: it works from then on, not from today.
    #[serde(default)]
    #[schema(value_type = Option<String>, format = Date)]
    pub limed_on: Option<Date>,
    /// The day the perennial weeds were seen; today when absent.
    #[serde(default)]
    #[schema(value_type = Option<String>, format = Date)]
    pub weeds_seen_on: Option<Date>,
}

impl SiteRequest {
    /// What is asked of a place of which nothing but these facts is known.
    pub fn of(crop: &str, today: Date, facts: SiteFacts) -> Self {
        Self {
            crop: crop.to_owned(),
            today,
            sow_on: today,
            tilled: true,
            slope_limit: None,
            facts,
            soil: None,
            sprays: vec![],
            past_crops: vec![],
            history_known: false,
            bioassay: None,
            setback: Length::default(),
            limed_on: None,
            weeds_seen_on: None,
        }
    }
}

fn yes() -> bool {
    true
}

/// One check.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SiteCheck {
    /// Stable name.
    pub key: String,
    /// What was checked, in a word or two.
    pub title: String,
    /// How it comes out.
    pub verdict: Verdict,
    /// Why, in a sentence.
    #[schema(value_type = String)]
    pub reason: Said,
    /// What would turn it.
    #[schema(value_type = Option<String>)]
    pub turn: Option<Said>,
    /// The first day it no longer stands in the way; absent when it does not, or always will.
    #[schema(value_type = Option<String>, format = Date)]
    pub ready_on: Option<Date>,
    /// Where the rule comes from.
    pub source: Source,
}

/// The field's readiness for the crop.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Readiness {
    /// As its worst check.
    pub verdict: Verdict,
    /// In one sentence.
    #[schema(value_type = String)]
    pub says: Said,
    /// The first day on which nothing stands in the way that time would mend; absent when
    /// something always will.
    #[schema(value_type = Option<String>, format = Date)]
    pub earliest: Option<Date>,
    /// Worst first.
    pub checks: Vec<SiteCheck>,
    /// The soil should be tested by a bioassay before money is spent.
    pub wants_bioassay: bool,
    /// A soil test is missing or old.
    pub wants_soil_test: bool,
}

/// The topic `site.check`.
///
/// # Errors
/// An unknown crop, a day in another age, a fact that can't be.
pub fn check(request: &SiteRequest) -> Result<Answer<Readiness>, Refused> {
    if request.crop.is_empty() {
        return Err(Refused::one("/crop", "choose a crop"));
    }
    let crop = crop_of(&request.crop, "/crop")?;
    refuse(request)?;
    let mut sheet = Sheet::new(format!("field suitability for {}", crop.name));
    let mut found = Vec::new();
    let mut put = |key: &str, title: &str, outcome: checks::Outcome| {
        found.push(SiteCheck {
            key: key.to_owned(),
            title: title.to_owned(),
            verdict: outcome.verdict,
            reason: outcome.reason,
            turn: outcome.turn,
            ready_on: outcome.ready_on,
            source: outcome.source,
        });
    };
    let facts = &request.facts;
    put("drainage", "drainage", checks::drainage(crop, facts));
    put("ponding", "ponding", checks::ponding(crop, facts));
    put("depth", "rooting depth", checks::depth(crop, facts));
    put("slope", "slope", checks::slope(crop, request));
    put("ph", "soil pH", checks::ph(crop, request));
    if let Some(salt) = checks::salt(crop, request) {
        put("salt", "salinity", salt);
    }
    if crop.site.subsoil_ph.is_some() {
        put("subsoil", "subsoil pH", checks::subsoil(crop, request));
    }
    put("water", "water", checks::water(crop, facts));
    if crop.site.warmest_month.is_some() {
        put("heat", "summer heat", checks::heat(crop, facts));
    }
    put("residue", "residue", checks::residue(crop, facts, request.tilled));
    let (carry_over, wants_bioassay) = checks::carry_over(crop, request);
    put("carry-over", "herbicide carry-over", carry_over);
    if crop.site.autotoxic_months.is_some() {
        put("autotoxicity", "rotation (same species)", checks::autotoxicity(crop, request));
    }
    put("weeds", "perennial weeds", checks::weeds(facts, request.weeds_seen_on.unwrap_or(request.today)));
    if crop.site.neighbour_setback.is_some() {
        put("neighbour", "neighbours", checks::neighbour(crop, request));
    }
    found.sort_by_key(|check| std::cmp::Reverse(check.verdict));

    let verdict = found.iter().map(|check| check.verdict).max().unwrap_or(Verdict::Unknown);
    let never = found.iter().any(|check| check.verdict == Verdict::Unfit && check.ready_on.is_none());
    let latest = found.iter().filter_map(|check| check.ready_on).max();
    let earliest = (!never).then(|| latest.map_or(request.today, |day| day.max(request.today)));
    let says = summary(crop, verdict, &found, earliest, request.sow_on);
    sheet.source(Source::common_practice("a field is only as suitable as its worst check"));
    let failing = found.iter().filter(|check| check.verdict >= Verdict::FitWithWork).count();
    sheet.input("checks", found.len() as f64, Origin::Given);
    sheet.gathered("not suitable yet", "number of checks that need work or time", failing as f64);
    if wants_bioassay || !request.sprays.is_empty() {
        sheet.caution("herbicide-history");
    }
    if crop.site.neighbour_setback.is_some() {
        sheet.caution("invasive");
    }
    // What is told of its residue names fire.
    if crop.site.hindered_by_cereal_residue && facts.residue == Some(Residue::CerealStubble) {
        sheet.caution("prescribed-fire");
    }
    let wants_soil_test = request.soil.as_ref().is_none_or(|test| test.months_old(request.today) > OLD_TEST_MONTHS);
    Ok(sheet.answer(Readiness { verdict, says, earliest, checks: found, wants_bioassay, wants_soil_test }))
}

fn refuse(request: &SiteRequest) -> Result<(), Refused> {
    let mut checks = Checks::new();
    let years = (request.sow_on - request.today).get_days().abs() / 365;
    checks.require(years < 20, "/sow_on", said!("{} is {} years away; choose a nearer date", request.sow_on, years));
    let facts = &request.facts;
    if let Some(days) = facts.ponding_days {
        checks.require(
            (0.0..=365.0).contains(&days),
            "/facts/ponding_days",
            format!("Ponding is {days} days; enter 0–365"),
        );
    }
    if let Some(depth) = facts.restrictive_depth {
        checks.within("/facts/restrictive_depth", "Depth to restrictive layer", depth, Unit::Cm, 1.0, 1_000.0);
    }
    if let Some(slope) = facts.slope {
        checks.within("/facts/slope", "Slope", slope, Unit::Percent, 0.0, 100.0);
    }
    if let Some(limit) = request.slope_limit {
        checks.within("/slope_limit", "Steepest slope of the method", limit, Unit::Percent, 1.0, 100.0);
    }
    if let Some(rain) = facts.rain {
        checks.within("/facts/rain", "Annual rainfall", rain, Unit::Mm, 0.0, 12_000.0);
    }
    if let Some(warmest) = facts.warmest_month {
        checks.within("/facts/warmest_month", "Warmest month", warmest, Unit::DegC, -10.0, 45.0);
    }
    if let Some(soil) = &request.soil {
        checks.part("/soil", soil.check());
    }
    for (index, spray) in request.sprays.iter().enumerate() {
        checks.require(
            !spray.active.trim().is_empty(),
            format!("/sprays/{index}/active"),
            "enter the active ingredient",
        );
        if let Some(months) = spray.label_months {
            checks.require(
                (0..=120).contains(&months),
                format!("/sprays/{index}/label_months"),
                format!("{months} months; enter 0–120"),
            );
        }
    }
    checks.within("/setback", "Setback", request.setback, Unit::M, 0.0, 500.0);
    checks.done()
}

fn summary(crop: &Crop, verdict: Verdict, checks: &[SiteCheck], earliest: Option<Date>, sow_on: Date) -> Said {
    let worst: Vec<&str> =
        checks.iter().filter(|check| check.verdict == verdict).map(|check| check.title.as_str()).collect();
    let (name, of) = (crop.name.as_str(), worst.join(", "));
    let by_then = earliest.is_some_and(|day| day <= sow_on);
    match verdict {
        Verdict::Fit => said!("Suitable for {}.", name),
        Verdict::Unknown => said!("No problem found for {}, but not checked: {}.", name, of),
        Verdict::FitWithWork if by_then => said!("Suitable for {} with work: {}.", name, of),
        Verdict::FitWithWork => match earliest {
            Some(day) => said!("Suitable for {} with work from {}: {}.", name, day, of),
            None => said!("Suitable for {} with work: {}.", name, of),
        },
        Verdict::Unfit => match earliest {
            Some(day) => said!("Not suitable for {} until {}: {}.", name, day, of),
            None => said!("Not suitable for {}: {}. Choose another field or crop.", name, of),
        },
    }
}
