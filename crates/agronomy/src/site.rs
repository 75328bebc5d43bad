//! Is this field fit for this crop, and what would make it so?
//!
//! Each check gives a verdict with its reason and source, what would turn it, and the day from
//! which it no longer stands in the way. A thing nobody has measured is *unknown*, never fit: the
//! check then names the measurement. The field is as fit as its worst check, and the earliest
//! sensible sowing is the latest of their days.

use jiff::{ToSpan, civil::Date};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    crop::{Crop, Drainage, Kind, library},
    refusal::{Checks, Refused},
    seed::crop_of,
    soil::{SoilTest, Texture},
    source::{Origin, Source},
    units::{Fraction, Length, Measure, Quantity, Temperature, Unit},
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
    pub reason: String,
    /// What would turn it.
    pub turn: Option<String>,
    /// The first day it no longer stands in the way; absent when it does not, or always will.
    #[schema(value_type = Option<String>, format = Date)]
    pub ready_on: Option<Date>,
    /// Where the rule comes from.
    pub source: Source,
}

/// The field\u{2019}s readiness for the crop.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Readiness {
    /// As its worst check.
    pub verdict: Verdict,
    /// In one sentence.
    pub says: String,
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

struct Outcome {
    verdict: Verdict,
    reason: String,
    turn: Option<String>,
    ready_on: Option<Date>,
    source: Source,
}

impl Outcome {
    fn fit(reason: impl Into<String>, source: Source) -> Self {
        Self { verdict: Verdict::Fit, reason: reason.into(), turn: None, ready_on: None, source }
    }

    fn unknown(reason: impl Into<String>, measure: impl Into<String>, source: Source) -> Self {
        Self { verdict: Verdict::Unknown, reason: reason.into(), turn: Some(measure.into()), ready_on: None, source }
    }

    fn not(verdict: Verdict, reason: impl Into<String>, turn: impl Into<String>, source: Source) -> Self {
        Self { verdict, reason: reason.into(), turn: Some(turn.into()), ready_on: None, source }
    }

    fn from(mut self, day: Date) -> Self {
        self.ready_on = Some(day);
        self
    }
}

fn sourced(key: &str) -> Source {
    library().source(key).clone()
}

fn practice() -> Source {
    Source::common_practice("common practice, no source")
}

fn later(day: Date, months: i32) -> Date {
    day.saturating_add(months.months())
}

fn said<M: Measure>(measure: M, unit: Unit) -> String {
    let value = unit.from_base(measure.base());
    Quantity::new((value * 10.0).round() / 10.0, unit).to_string()
}

/// The topic `site.check`.
///
/// # Errors
/// An unknown crop, a day in another age, a fact that can't be.
pub fn check(request: &SiteRequest) -> Result<Answer<Readiness>, Refused> {
    let crop = crop_of(&request.crop, "/crop")?;
    refuse(request)?;
    let mut sheet = Sheet::new(format!("is the field fit for {}", crop.name));
    let mut checks = Vec::new();
    let mut put = |key: &str, title: &str, outcome: Outcome| {
        checks.push(SiteCheck {
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
    put("drainage", "drainage", drainage(crop, facts));
    put("ponding", "standing water", ponding(crop, facts));
    put("depth", "rooting depth", depth(crop, facts));
    put("slope", "slope", slope(crop, facts, request.tilled));
    put("ph", "soil pH", ph(crop, request));
    if crop.site.subsoil_ph.is_some() {
        put("subsoil", "subsoil pH", subsoil(crop, request));
    }
    put("water", "water", water(crop, facts));
    if crop.site.warmest_month.is_some() {
        put("heat", "summer heat", heat(crop, facts));
    }
    put("residue", "residue", residue(crop, facts, request.tilled));
    let (carry_over, wants_bioassay) = carry_over(crop, request);
    put("carry-over", "herbicide carry-over", carry_over);
    if crop.site.autotoxic_months.is_some() {
        put("autotoxicity", "after its own kind", autotoxicity(crop, request));
    }
    put("weeds", "perennial weeds", weeds(facts, request.today));
    if crop.site.neighbour_setback.is_some() {
        put("neighbour", "neighbours", neighbour(crop, request));
    }
    checks.sort_by_key(|check| std::cmp::Reverse(check.verdict));

    let verdict = checks.iter().map(|check| check.verdict).max().unwrap_or(Verdict::Unknown);
    let never = checks.iter().any(|check| check.verdict == Verdict::Unfit && check.ready_on.is_none());
    let latest = checks.iter().filter_map(|check| check.ready_on).max();
    let earliest = (!never).then(|| latest.map_or(request.today, |day| day.max(request.today)));
    let says = summary(crop, verdict, &checks, earliest, request.sow_on);
    sheet.source(Source::common_practice("a field is as fit as its worst check"));
    let failing = checks.iter().filter(|check| check.verdict >= Verdict::FitWithWork).count();
    sheet.input("checks", checks.len() as f64, Origin::Given);
    sheet.line("not fit as they are", "sum of the checks that ask for work or time", failing as f64);
    if wants_bioassay || !request.sprays.is_empty() {
        sheet.caution("herbicide-history");
    }
    if crop.site.neighbour_setback.is_some() {
        sheet.caution("invasive");
    }
    let wants_soil_test = request.soil.as_ref().is_none_or(|test| test.months_old(request.today) > OLD_TEST_MONTHS);
    Ok(sheet.answer(Readiness { verdict, says, earliest, checks, wants_bioassay, wants_soil_test }))
}

fn refuse(request: &SiteRequest) -> Result<(), Refused> {
    let mut checks = Checks::new();
    let years = (request.sow_on - request.today).get_days().abs() / 365;
    checks.require(years < 20, "/sow_on", format!("{} is {years} years from {}", request.sow_on, request.today));
    let facts = &request.facts;
    if let Some(days) = facts.ponding_days {
        checks.require(
            (0.0..=365.0).contains(&days),
            "/facts/ponding_days",
            format!("water standing for {days} days; it must be from 0 to 365"),
        );
    }
    if let Some(depth) = facts.restrictive_depth {
        checks.within("/facts/restrictive_depth", "the depth", depth, Unit::Cm, 1.0, 1_000.0);
    }
    if let Some(slope) = facts.slope {
        checks.within("/facts/slope", "the slope", slope, Unit::Percent, 0.0, 100.0);
    }
    if let Some(rain) = facts.rain {
        checks.within("/facts/rain", "rain in a year", rain, Unit::Mm, 0.0, 12_000.0);
    }
    if let Some(warmest) = facts.warmest_month {
        checks.within("/facts/warmest_month", "the warmest month", warmest, Unit::DegC, -10.0, 45.0);
    }
    if let Some(soil) = &request.soil {
        checks.part("/soil", soil.check());
    }
    for (index, spray) in request.sprays.iter().enumerate() {
        checks.require(
            !spray.active.trim().is_empty(),
            format!("/sprays/{index}/active"),
            "name the active ingredient",
        );
        if let Some(months) = spray.label_months {
            checks.require(
                (0..=120).contains(&months),
                format!("/sprays/{index}/label_months"),
                format!("{months} months; it must be from 0 to 120"),
            );
        }
    }
    checks.within("/setback", "the setback", request.setback, Unit::M, 0.0, 500.0);
    checks.done()
}

fn summary(crop: &Crop, verdict: Verdict, checks: &[SiteCheck], earliest: Option<Date>, sow_on: Date) -> String {
    let worst: Vec<&str> =
        checks.iter().filter(|check| check.verdict == verdict).map(|check| check.title.as_str()).collect();
    let of = worst.join(", ");
    let by_then = earliest.is_some_and(|day| day <= sow_on);
    match verdict {
        Verdict::Fit => format!("Fit for {}.", crop.name),
        Verdict::Unknown => format!("Nothing stands against {}, but nobody has looked at: {of}.", crop.name),
        Verdict::FitWithWork if by_then => format!("Fit for {} with work: {of}.", crop.name),
        Verdict::FitWithWork => match earliest {
            Some(day) => format!("Fit for {} with work, from {day}: {of}.", crop.name),
            None => format!("Fit for {} with work: {of}.", crop.name),
        },
        Verdict::Unfit => match earliest {
            Some(day) => format!("Unfit for {} until {day}: {of}.", crop.name),
            None => format!("Unfit for {}: {of}. Another field or another crop.", crop.name),
        },
    }
}

fn drainage(crop: &Crop, facts: &SiteFacts) -> Outcome {
    let source = sourced(&crop.site.ponding_days.source);
    let most = crop.site.drainage;
    match facts.drainage {
        None => {
            Outcome::unknown("nobody has said how it drains", "a look at the soil map and a hole dug in spring", source)
        }
        Some(class) if class <= most => {
            Outcome::fit(format!("{}, and it bears {}", class.words(), most.words()), source)
        }
        Some(class) if most == Drainage::Well || class == Drainage::Poor => Outcome::not(
            Verdict::Unfit,
            format!("{}; it wants ground that is {}", class.words(), most.words()),
            "drains laid, or a crop that bears wet feet",
            source,
        ),
        Some(class) => Outcome::not(
            Verdict::FitWithWork,
            format!("{}; at best it bears {}", class.words(), most.words()),
            "drains or surface grading",
            source,
        ),
    }
}

fn ponding(crop: &Crop, facts: &SiteFacts) -> Outcome {
    let limit = &crop.site.ponding_days;
    let source = sourced(&limit.source);
    match facts.ponding_days {
        None => Outcome::unknown("nobody has watched water stand on it", "a walk two days after heavy rain", source),
        Some(days) if days <= limit.value => {
            Outcome::fit(format!("water stands {days} days at most; it bears {}", limit.value), source)
        }
        Some(days) => Outcome::not(
            Verdict::Unfit,
            format!("water stands {days} days; it bears {}", limit.value),
            "drained low spots, or left out of the sown area",
            source,
        ),
    }
}

fn depth(crop: &Crop, facts: &SiteFacts) -> Outcome {
    let least = &crop.site.rooting_depth;
    let source = sourced(&least.source);
    let needed: Length = least.measure();
    match facts.restrictive_depth {
        None => Outcome::unknown(
            "nobody has dug for what stops roots",
            "a spade or auger down to its rooting depth",
            source,
        ),
        Some(depth) if depth >= needed => {
            Outcome::fit(format!("roots go to {}; it wants {}", said(depth, Unit::Cm), said(needed, Unit::Cm)), source)
        }
        Some(depth) => Outcome::not(
            Verdict::Unfit,
            format!("roots stop at {}; it wants {}", said(depth, Unit::Cm), said(needed, Unit::Cm)),
            "a pan can be ripped when dry; rock and water can\u{2019}t",
            source,
        ),
    }
}

fn slope(crop: &Crop, facts: &SiteFacts, tilled: bool) -> Outcome {
    let most = &crop.site.tilled_slope;
    let source = sourced(&most.source);
    let limit: Fraction = most.measure();
    match facts.slope {
        None => Outcome::unknown("nobody has measured its slope", "a level and a pole, or the contour map", source),
        Some(slope) if slope.to(Unit::Percent) > 25.0 => Outcome::not(
            Verdict::Unfit,
            format!("{} is too steep for machines to work and harvest safely", said(slope, Unit::Percent)),
            "grazing, or another field",
            source,
        ),
        Some(slope) if slope <= limit || !tilled => Outcome::fit(
            format!(
                "{}{}",
                said(slope, Unit::Percent),
                if tilled {
                    ", and tillage holds up to "
                } else {
                    ", sown without tillage; tilled it would hold up to "
                }
                .to_owned()
                    + &said(limit, Unit::Percent)
            ),
            source,
        ),
        Some(slope) => Outcome::not(
            Verdict::FitWithWork,
            format!("{}: tilled, it would wash above {}", said(slope, Unit::Percent), said(limit, Unit::Percent)),
            "no-till, or sown into a cover",
            source,
        ),
    }
}

fn ph(crop: &Crop, request: &SiteRequest) -> Outcome {
    let (low, aim) = (&crop.soil.ph_low, &crop.soil.ph_aim);
    let source = sourced(&low.source);
    let Some((test, top)) = request.soil.as_ref().and_then(|test| Some((test, test.top()?))) else {
        return Outcome::unknown("there is no soil test", "a soil test, a year before sowing", source);
    };
    if test.months_old(request.today) > OLD_TEST_MONTHS {
        return Outcome::unknown(format!("the soil test of {} is old", test.sampled_on), "a new soil test", source);
    }
    // Days, not months: a month is not a length.
    let limed = later(request.today, LIME_MONTHS);
    if top.ph < low.value {
        Outcome::not(
            Verdict::FitWithWork,
            format!("pH {}; it wants {} at least and does best at {}", top.ph, low.value, aim.value),
            format!("lime, {LIME_MONTHS} months at least before sowing"),
            source,
        )
        .from(limed)
    } else if top.ph < aim.value - 0.3 {
        Outcome::not(
            Verdict::FitWithWork,
            format!("pH {}: it grows, but does best at {}", top.ph, aim.value),
            "lime before sowing, and again sooner than otherwise",
            source,
        )
    } else {
        Outcome::fit(format!("pH {}; it aims at {}", top.ph, aim.value), source)
    }
}

fn subsoil(crop: &Crop, request: &SiteRequest) -> Outcome {
    let Some(least) = &crop.site.subsoil_ph else { unreachable!("asked for crops that want one") };
    let source = sourced(&least.source);
    let plough = Length::new(15.0, Unit::Cm);
    match request.soil.as_ref().and_then(|test| test.lowest_ph_below(plough)) {
        None => {
            Outcome::unknown("the subsoil has not been tested", "a sample of each foot below the plough layer", source)
        }
        Some(ph) if ph >= least.value => {
            Outcome::fit(format!("pH {ph} at its sourest below the plough layer; it wants {}", least.value), source)
        }
        Some(ph) => Outcome::not(
            Verdict::Unfit,
            format!("pH {ph} below the plough layer: aluminium stunts its roots under {}", least.value),
            "a sour subsoil takes many years to mend: another field, or a crop with shallow roots",
            source,
        ),
    }
}

fn water(crop: &Crop, facts: &SiteFacts) -> Outcome {
    let least = &crop.site.rain;
    let source = sourced(&least.source);
    let needed: Length = least.measure();
    match facts.rain {
        _ if facts.irrigated => Outcome::fit("water can be brought", source),
        None => {
            Outcome::unknown("nobody has said how much it rains", "the nearest station\u{2019}s yearly rain", source)
        }
        Some(rain) if rain >= needed => {
            Outcome::fit(format!("{} in a year; it wants {}", said(rain, Unit::Mm), said(needed, Unit::Mm)), source)
        }
        Some(rain) => Outcome::not(
            Verdict::Unfit,
            format!("{} in a year; without irrigation it wants {}", said(rain, Unit::Mm), said(needed, Unit::Mm)),
            "irrigation",
            source,
        ),
    }
}

fn heat(crop: &Crop, facts: &SiteFacts) -> Outcome {
    let Some(least) = &crop.site.warmest_month else { unreachable!("asked for crops that want one") };
    let source = sourced(&least.source);
    let needed: Temperature = least.measure();
    match facts.warmest_month {
        None => Outcome::unknown(
            "nobody has said how warm the summer is",
            "the station\u{2019}s mean of the warmest month",
            source,
        ),
        Some(warmest) if warmest >= needed => Outcome::fit(
            format!("warmest month {}; it wants {}", said(warmest, Unit::DegC), said(needed, Unit::DegC)),
            source,
        ),
        Some(warmest) => Outcome::not(
            Verdict::FitWithWork,
            format!(
                "warmest month {}: it gives its full yield from {}",
                said(warmest, Unit::DegC),
                said(needed, Unit::DegC)
            ),
            "a lower yield accepted, or a cool-season crop",
            source,
        ),
    }
}

fn residue(crop: &Crop, facts: &SiteFacts, tilled: bool) -> Outcome {
    match facts.residue {
        None => Outcome::unknown("nobody has said what lies on it", "a look at the field", practice()),
        Some(Residue::HeavyMaize) => Outcome::not(
            Verdict::FitWithWork,
            "heavy maize or sorghum residue keeps seed off the soil",
            "graze, bale, shred or till it",
            practice(),
        ),
        Some(Residue::CerealStubble) if crop.site.hindered_by_cereal_residue => Outcome::not(
            Verdict::FitWithWork,
            "cereal residue can hold native grasses back",
            "bale or burn it off, or wait a season",
            practice(),
        ),
        Some(Residue::Sod) if !tilled => Outcome::not(
            Verdict::FitWithWork,
            "a living sod wins against seedlings",
            "kill or graze it down before the drill",
            practice(),
        ),
        Some(Residue::BeanStubble) => Outcome::fit("bean stubble is a ready seedbed, tilled or not", practice()),
        Some(_) => Outcome::fit("nothing on it that a drill minds", practice()),
    }
}

fn kind_words(kind: Kind) -> &'static str {
    match kind {
        Kind::Legume => "a legume",
        Kind::Grass => "a grass",
        Kind::Forb => "a forb",
        Kind::Brassica => "a brassica",
    }
}

/// Herbicide carry-over, and whether a bioassay is called for.
fn carry_over(crop: &Crop, request: &SiteRequest) -> (Outcome, bool) {
    let passed = |spray: Date| request.bioassay.is_some_and(|test| test.passed && test.on > spray);
    let mut worst: Option<(Date, String, Source)> = None;
    let mut unread = Vec::new();
    for spray in &request.sprays {
        let group = library().plant_back(&spray.active);
        let (months, source, whose) = match (spray.label_months, group) {
            (Some(months), _) => (months, Source::common_practice("the label, as read by the person"), "by its label"),
            (None, Some(group)) => (
                group.months.get(&crop.kind).copied().unwrap_or(24),
                sourced(&group.source),
                "by the table; its label rules",
            ),
            (None, None) => {
                unread.push(spray.active.clone());
                continue;
            }
        };
        let free = later(spray.on, months);
        if free > request.sow_on && !passed(spray.on) {
            let note = group.map_or(String::new(), |group| format!(" {}", group.note));
            let reason = format!(
                "{} of {} keeps {} out for {months} months, until {free}, {whose}.{note}",
                spray.active,
                spray.on,
                kind_words(crop.kind)
            );
            if worst.as_ref().is_none_or(|(day, ..)| free > *day) {
                worst = Some((free, reason, source));
            }
        }
    }
    if request.bioassay.is_some_and(|test| !test.passed) && worst.is_none() {
        let outcome = Outcome::not(
            Verdict::Unfit,
            "the bioassay failed: something in the soil stops it",
            "a year, and a bioassay that passes",
            practice(),
        )
        .from(later(request.bioassay.map_or(request.today, |test| test.on), 12));
        return (outcome, true);
    }
    if let Some((free, reason, source)) = worst {
        let turn = format!("waiting until {free}, or a bioassay that passes and a label that allows it");
        return (Outcome::not(Verdict::Unfit, reason, turn, source).from(free), true);
    }
    if !unread.is_empty() {
        let outcome = Outcome::unknown(
            format!("no interval is known for {}", unread.join(", ")),
            "the interval on its label, or a bioassay",
            sourced("labels"),
        );
        return (outcome, true);
    }
    if !request.history_known && !request.bioassay.is_some_and(|test| test.passed) {
        let outcome = Outcome::unknown(
            "what was sprayed here these three years is not known",
            "the history told, or a bioassay: the crop in a pot of this soil beside a clean one",
            sourced("labels"),
        );
        return (outcome, true);
    }
    (Outcome::fit("nothing sprayed that reaches this sowing", sourced("labels")), false)
}

fn autotoxicity(crop: &Crop, request: &SiteRequest) -> Outcome {
    let Some(months) = &crop.site.autotoxic_months else { unreachable!("asked for crops that have it") };
    let source = sourced(&months.source);
    let own: Vec<&PastCrop> = request.past_crops.iter().filter(|past| past.crop == crop.id).collect();
    let free = own
        .iter()
        // A stand under a year old can be filled in.
        .filter(|past| past.years.is_none_or(|years| years >= 1.0))
        .map(|past| {
            let old = past.years.is_some_and(|years| years >= 3.0);
            let heavy = request.facts.texture.is_some_and(|texture| texture >= Texture::ClayLoam);
            later(past.ended, if old || heavy { months.high } else { months.low })
        })
        .max();
    match free {
        Some(free) if free > request.sow_on => Outcome::not(
            Verdict::Unfit,
            format!("an old stand leaves compounds that stunt its own seedlings, until {free}"),
            format!("another crop until {free}"),
            source,
        )
        .from(free),
        Some(_) => Outcome::fit("long enough after its own kind", source),
        None if request.history_known => Outcome::fit("none of its own kind before it", source),
        None => Outcome::unknown("the crops of these years are not known", "the crops of the last three years", source),
    }
}

fn weeds(facts: &SiteFacts, today: Date) -> Outcome {
    match facts.perennial_weeds.as_deref().map(str::trim) {
        None => Outcome::unknown(
            "nobody has looked for perennial weeds",
            "a walk before the weeds are mown or killed",
            practice(),
        ),
        Some("") => Outcome::fit("no perennial weeds seen", practice()),
        Some(weeds) => Outcome::not(
            Verdict::FitWithWork,
            format!("perennial weeds: {weeds}"),
            "cleared before sowing; some take two years",
            practice(),
        )
        .from(later(today, 3)),
    }
}

fn neighbour(crop: &Crop, request: &SiteRequest) -> Outcome {
    let Some(setback) = &crop.site.neighbour_setback else { unreachable!("asked for crops that want one") };
    let source = sourced(&setback.source);
    let wanted: Length = setback.measure();
    if !request.facts.neighbour {
        return Outcome::fit("no other hand\u{2019}s land borders on it", source);
    }
    if request.setback >= wanted - Length::new(1.0, Unit::Cm) {
        return Outcome::fit(format!("{} kept from the boundary", said(request.setback, Unit::Ft)), source);
    }
    Outcome::not(
        Verdict::FitWithWork,
        format!(
            "it spreads by rhizomes: keep {} from a neighbour\u{2019}s land, not {}",
            said(wanted, Unit::Ft),
            said(request.setback, Unit::Ft)
        ),
        "a wider setback, which comes off the sown area",
        source,
    )
}
