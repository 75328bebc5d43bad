//! The checks themselves: each looks at one thing and says what it finds.

use jiff::{ToSpan, civil::Date};

use super::{LIME_MONTHS, OLD_TEST_MONTHS, PastCrop, Residue, SiteFacts, SiteRequest, Verdict};
use crate::{
    crop::{Crop, Drainage, library},
    said,
    said::Said,
    source::Source,
    spraying::names,
    texture::Texture,
    units::{Conductivity, Fraction, Length, Measure, Quantity, Temperature, Unit},
};

pub(super) struct Outcome {
    pub verdict: Verdict,
    pub reason: Said,
    pub turn: Option<Said>,
    pub ready_on: Option<Date>,
    pub source: Source,
}

impl Outcome {
    fn fit(reason: impl Into<Said>, source: Source) -> Self {
        Self { verdict: Verdict::Fit, reason: reason.into(), turn: None, ready_on: None, source }
    }

    fn unknown(reason: impl Into<Said>, measure: impl Into<Said>, source: Source) -> Self {
        Self { verdict: Verdict::Unknown, reason: reason.into(), turn: Some(measure.into()), ready_on: None, source }
    }

    fn not(verdict: Verdict, reason: impl Into<Said>, turn: impl Into<Said>, source: Source) -> Self {
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
    Source::common_practice("common practice")
}

fn later(day: Date, months: i32) -> Date {
    day.saturating_add(months.months())
}

pub(super) fn drainage(crop: &Crop, facts: &SiteFacts) -> Outcome {
    let source = sourced(&crop.site.ponding_days.source);
    let most = crop.site.drainage;
    match facts.drainage {
        None => Outcome::unknown("drainage not recorded", "check the soil map and dig a hole in spring", source),
        Some(class) if class <= most => Outcome::fit(format!("{}; tolerates {}", class.words(), most.words()), source),
        Some(class) if most == Drainage::Well || class == Drainage::Poor => Outcome::not(
            Verdict::Unfit,
            format!("{}; needs {} soil", class.words(), most.words()),
            "install drainage, or choose a crop that tolerates wet soil",
            source,
        ),
        Some(class) => Outcome::not(
            Verdict::FitWithWork,
            format!("{}; tolerates {} at most", class.words(), most.words()),
            "drainage or surface grading",
            source,
        ),
    }
}

pub(super) fn ponding(crop: &Crop, facts: &SiteFacts) -> Outcome {
    let limit = &crop.site.ponding_days;
    let source = sourced(&limit.source);
    match facts.ponding_days {
        None => Outcome::unknown("ponding not checked", "walk it two days after heavy rain", source),
        Some(days) if days <= limit.value => {
            Outcome::fit(format!("ponds up to {days} days; tolerates {}", limit.value), source)
        }
        Some(days) => Outcome::not(
            Verdict::Unfit,
            format!("ponds {days} days; tolerates {}", limit.value),
            "drain low spots, or leave them unsown",
            source,
        ),
    }
}

/// Of the rooting depth that a crop asks for so much still carries a stand, with less water (assumed).
const SHALLOW: f64 = 0.8;

pub(super) fn depth(crop: &Crop, facts: &SiteFacts) -> Outcome {
    let least = &crop.site.rooting_depth;
    let source = sourced(&least.source);
    let needed: Length = least.measure();
    match facts.restrictive_depth {
        None => Outcome::unknown("depth to restrictive layer not checked", "dig or auger to rooting depth", source),
        Some(depth) if depth >= needed => Outcome::fit(said!("rooting depth {}; needs {}", depth, needed), source),
        // No root ends at an inch: a little short is less water, not no stand.
        Some(depth) if depth.base() >= SHALLOW * needed.base() => Outcome::not(
            Verdict::FitWithWork,
            said!("the restrictive layer is at {}; {} does best with {} or more", depth, crop.name.as_str(), needed),
            "less yield accepted in dry years; a pan can be ripped when the soil is dry",
            source,
        ),
        Some(depth) => Outcome::not(
            Verdict::Unfit,
            said!("restrictive layer at {}; needs {}", depth, needed),
            "rip a pan when dry; rock or a water table cannot be fixed",
            source,
        ),
    }
}

/// Steeper than this, machines that sow and harvest are not safe: common practice, no source.
const STEEP: Fraction = Fraction::percent(25.0);

/// By the crop where the bed is tilled and bare, by the method where it has a limit of its own.
pub(super) fn slope(crop: &Crop, request: &SiteRequest) -> Outcome {
    let most = &crop.site.tilled_slope;
    let tilled: Fraction = most.measure();
    let source = if request.slope_limit.is_some() { practice() } else { sourced(&most.source) };
    let Some(slope) = request.facts.slope else {
        return Outcome::unknown("slope not measured", "measure with a level and pole, or use a contour map", source);
    };
    let limit = request.slope_limit.unwrap_or(if request.tilled { tilled } else { STEEP });
    if slope > STEEP && slope > limit {
        return Outcome::not(
            Verdict::Unfit,
            said!("{} is too steep for safe field work and harvest", slope),
            "use for grazing, or choose another field",
            source,
        );
    }
    if slope > STEEP {
        return Outcome::not(
            Verdict::FitWithWork,
            said!("{}: this method is used up to {}, but machines are not safe above {}", slope, limit, STEEP),
            "hand work on the contour, or grazing",
            source,
        );
    }
    if slope > limit {
        let reason = if request.tilled {
            said!("{}: tillage would erode above {}", slope, limit)
        } else {
            said!("{}: this method is used up to {}", slope, limit)
        };
        return Outcome::not(Verdict::FitWithWork, reason, "use no-till, or sow into cover", source);
    }
    let reason = if request.tilled {
        said!("{}; tillage is acceptable up to {}", slope, limit)
    } else {
        said!("{}, no-till; tillage would be acceptable up to {}", slope, tilled)
    };
    Outcome::fit(reason, source)
}

/// Above this the soil may hold more sodium than calcium: it seals, and nothing roots well: common practice, no source.
const SODIC: f64 = 8.5;
/// Less rain a year does not wash salts out, mm; where water is brought, it brings salt that takes more (assumed).
const LEACHED: f64 = 500.0;
const LEACHED_IRRIGATED: f64 = 800.0;
/// A soil on which less than this share of the yield is left carries no stand worth having (assumed).
const HALF: f64 = 0.5;

/// Salts, where somebody measured them, or where they are to be looked for: on land that is irrigated or dry.
pub(super) fn salt(crop: &Crop, request: &SiteRequest) -> Option<Outcome> {
    let source = || sourced("fao-29");
    let tested = request.soil.as_ref().filter(|test| test.months_old(request.today) <= OLD_TEST_MONTHS);
    let measured = tested.and_then(|test| test.layers.iter().filter_map(|layer| layer.salts).reduce(worse));
    let Some(found) = measured else {
        let leached = if request.facts.irrigated { LEACHED_IRRIGATED } else { LEACHED };
        let gathers = request.facts.rain.is_some_and(|rain| rain.to(Unit::Mm) < leached);
        return (crop.soil.salt.is_some() && gathers).then(|| {
            Outcome::unknown(
                "soluble salts not tested",
                "ask the lab for soluble salts (ECe) with the soil test",
                source(),
            )
        });
    };
    let Some(salt) = &crop.soil.salt else {
        let low = found.to(Unit::DsPerM) < 2.0;
        return Some(if low {
            Outcome::fit(said!("soluble salts {}; low", found), source())
        } else {
            let reason = said!("soluble salts {}; no published tolerance for {}", found, crop.name.as_str());
            Outcome::unknown(reason, "grow it in a pot of this soil next to a pot of clean soil", source())
        });
    };
    let source = sourced(&salt.threshold.source);
    let (threshold, share): (Conductivity, Fraction) = (salt.threshold.measure(), salt.share_at(found));
    let lost = Fraction::percent((100.0 * (1.0 - share.base())).round());
    Some(if share.base() >= 1.0 {
        Outcome::fit(said!("soluble salts {}; tolerates {}", found, threshold), source)
    } else if share.base() >= HALF {
        Outcome::not(
            Verdict::FitWithWork,
            said!(
                "soluble salts {}: about {} of the yield lost above {}; seedlings suffer more",
                found,
                lost,
                threshold
            ),
            "leach with good water where the soil drains, or choose a more tolerant crop",
            source,
        )
    } else {
        Outcome::not(
            Verdict::Unfit,
            said!("soluble salts {}: more than half of the yield would be lost (tolerates {})", found, threshold),
            "leach and drain it first, or choose a salt-tolerant crop such as bermudagrass or barley",
            source,
        )
    })
}

fn worse(a: Conductivity, b: Conductivity) -> Conductivity {
    if a >= b { a } else { b }
}

pub(super) fn ph(crop: &Crop, request: &SiteRequest) -> Outcome {
    let (low, aim) = (&crop.soil.ph_low, &crop.soil.ph_aim);
    let source = sourced(&low.source);
    let Some((test, top)) = request.soil.as_ref().and_then(|test| Some((test, test.top()?))) else {
        return Outcome::unknown("no soil test", "a soil test, a year before sowing", source);
    };
    if test.months_old(request.today) > OLD_TEST_MONTHS {
        return Outcome::unknown(said!("soil test of {} is out of date", test.sampled_on), "a new soil test", source);
    }
    // Lime that was spread since the test works from the day it was spread; lime still to come, from today
    // at the earliest.
    let spread = request.limed_on.filter(|on| *on >= test.sampled_on && *on <= request.today);
    if let (Some(on), true) = (spread, top.ph < low.value) {
        let works = later(on, LIME_MONTHS);
        return Outcome::not(
            Verdict::FitWithWork,
            said!("tested at pH {}, needs at least {}; limed {}, effective by {}", top.ph, low.value, on, works),
            said!("{} months after liming; retest to confirm", LIME_MONTHS),
            source,
        )
        .from(works);
    }
    let limed = later(request.today, LIME_MONTHS);
    if top.ph < low.value {
        Outcome::not(
            Verdict::FitWithWork,
            format!("pH {}; needs at least {}, does best at {}", top.ph, low.value, aim.value),
            format!("lime at least {LIME_MONTHS} months before sowing"),
            source,
        )
        .from(limed)
    } else if top.ph > SODIC {
        Outcome::not(
            Verdict::FitWithWork,
            format!("pH {}: may hold too much sodium", top.ph),
            "test for sodium (SAR or ESP); gypsum, drainage and good water correct it slowly",
            source,
        )
    } else if let Some(high) = crop.soil.ph_high.as_ref().filter(|high| top.ph > high.value) {
        Outcome::not(
            Verdict::FitWithWork,
            format!("pH {}: above {} iron, zinc and phosphorus run short", top.ph, high.value),
            "no lime; watch for yellow new leaves, or choose a crop for calcareous soil",
            sourced(&high.source),
        )
    } else if top.ph < aim.value - 0.3 {
        Outcome::not(
            Verdict::FitWithWork,
            format!("pH {}: will grow, but does best at {}", top.ph, aim.value),
            "lime before sowing, and again sooner than usual",
            source,
        )
    } else {
        Outcome::fit(format!("pH {}; target {}", top.ph, aim.value), source)
    }
}

pub(super) fn subsoil(crop: &Crop, request: &SiteRequest) -> Outcome {
    let Some(least) = &crop.site.subsoil_ph else { unreachable!("asked for crops that need one") };
    let source = sourced(&least.source);
    let plough = Length::new(15.0, Unit::Cm);
    match request.soil.as_ref().and_then(|test| test.lowest_ph_below(plough)) {
        None => Outcome::unknown("subsoil not tested", "sample each foot below the plow layer", source),
        Some(ph) if ph >= least.value => Outcome::fit(format!("lowest subsoil pH {ph}; needs {}", least.value), source),
        Some(ph) => Outcome::not(
            Verdict::Unfit,
            format!("subsoil pH {ph}: aluminum stunts roots below {}", least.value),
            "acid subsoil takes years to correct; choose another field or a shallow-rooted crop",
            source,
        ),
    }
}

pub(super) fn water(crop: &Crop, facts: &SiteFacts) -> Outcome {
    let least = &crop.site.rain;
    let source = sourced(&least.source);
    let needed: Length = least.measure();
    match facts.rain {
        _ if facts.irrigated => Outcome::fit("irrigation available", source),
        None => Outcome::unknown("rainfall not recorded", "annual rainfall from the nearest station", source),
        Some(rain) if rain >= needed => {
            Outcome::fit(said!("{} a year; needs {}", Quantity::water(rain), Quantity::water(needed)), source)
        }
        Some(rain) => Outcome::not(
            Verdict::Unfit,
            said!("{} a year; needs {} without irrigation", Quantity::water(rain), Quantity::water(needed)),
            "irrigation",
            source,
        ),
    }
}

pub(super) fn heat(crop: &Crop, facts: &SiteFacts) -> Outcome {
    let Some(least) = &crop.site.warmest_month else { unreachable!("asked for crops that need one") };
    let source = sourced(&least.source);
    let needed: Temperature = least.measure();
    match facts.warmest_month {
        None => Outcome::unknown("summer temperature not recorded", "warmest-month mean from the station", source),
        Some(warmest) if warmest >= needed => {
            Outcome::fit(said!("warmest month {}; needs {}", warmest, needed), source)
        }
        Some(warmest) => Outcome::not(
            Verdict::FitWithWork,
            said!("warmest month {}: full yield needs {}", warmest, needed),
            "accept a lower yield, or choose a cool-season crop",
            source,
        ),
    }
}

pub(super) fn residue(crop: &Crop, facts: &SiteFacts, tilled: bool) -> Outcome {
    match facts.residue {
        None => Outcome::unknown("residue not recorded", "check the field", practice()),
        Some(Residue::HeavyMaize) => Outcome::not(
            Verdict::FitWithWork,
            "heavy maize or sorghum residue blocks seed-to-soil contact",
            "graze, bale, shred or till it",
            practice(),
        ),
        Some(Residue::CerealStubble) if crop.site.hindered_by_cereal_residue => Outcome::not(
            Verdict::FitWithWork,
            "cereal residue can suppress native grasses",
            "bale it off, or burn it where that is allowed and safe, or wait a season",
            practice(),
        ),
        Some(Residue::Sod) if !tilled => Outcome::not(
            Verdict::FitWithWork,
            "live sod outcompetes seedlings",
            "kill it or graze it down before drilling",
            practice(),
        ),
        Some(Residue::BeanStubble) => Outcome::fit("soybean stubble makes a ready seedbed, tilled or not", practice()),
        Some(_) => Outcome::fit("residue will not hinder a drill", practice()),
    }
}

/// Herbicide carry-over, and whether a bioassay is called for.
pub(super) fn carry_over(crop: &Crop, request: &SiteRequest) -> (Outcome, bool) {
    let passed = |spray: Date| request.bioassay.is_some_and(|test| test.passed && test.on > spray);
    type Kept = Option<(Date, Said, Source)>;
    let (mut worst, mut in_spots): (Kept, Kept) = (None, None);
    let mut unread = Vec::new();
    for spray in &request.sprays {
        let group = library().plant_backs_of(&spray.active).max_by_key(|(_, waits)| waits.months_for(crop));
        let read = || Source::common_practice("the label as entered");
        let months = |months: i32| (later(spray.on, months), format!("{months} months"));
        // What the label says of this crop goes before what it says of the next crop, and both before the table.
        let of_crop = spray.plant_back.iter().filter(|wait| names(&wait.crop, crop)).map(|wait| wait.days).max();
        let ((free, long), source, whose) = match (of_crop, spray.label_months, group) {
            (Some(days), ..) => {
                let free = spray.on.saturating_add(i64::from(days).days());
                ((free, format!("{days} days")), read(), "per label")
            }
            (None, Some(label), _) => (months(label), read(), "per label"),
            (None, None, Some((group, waits))) => {
                (months(waits.months_for(crop)), sourced(&group.source), "general table; the label overrides it")
            }
            (None, None, None) => {
                unread.push(spray.active.clone());
                continue;
            }
        };
        if free > request.sow_on && !passed(spray.on) {
            let note = group.map_or(String::new(), |(group, _)| format!(" {}", group.note));
            let reason = said!(
                "{} (sprayed {}): no {} for {}, until {} ({}).{}",
                spray.active.as_str(),
                spray.on,
                crop.name.as_str(),
                long,
                free,
                whose,
                note
            );
            let so_far = if spray.spots { &mut in_spots } else { &mut worst };
            if so_far.as_ref().is_none_or(|(day, ..)| free > *day) {
                *so_far = Some((free, reason, source));
            }
        }
    }
    if request.bioassay.is_some_and(|test| !test.passed) && worst.is_none() {
        let outcome = Outcome::not(
            Verdict::Unfit,
            "bioassay failed: something in the soil stops this crop",
            "wait a year and pass a bioassay",
            practice(),
        )
        .from(later(request.bioassay.map_or(request.today, |test| test.on), 12));
        return (outcome, true);
    }
    if let Some((free, reason, source)) = worst {
        let turn = said!("wait until {}, or pass a bioassay where the label allows it", free);
        return (Outcome::not(Verdict::Unfit, reason, turn, source).from(free), true);
    }
    if let Some((_, reason, source)) = in_spots {
        let reason = said!("only spots were sprayed: {}", reason);
        return (
            Outcome::not(Verdict::FitWithWork, reason, "those spots left out, or bare there for a while", source),
            false,
        );
    }
    if !unread.is_empty() {
        let outcome = Outcome::unknown(
            format!("no plant-back interval known for {}", unread.join(", ")),
            "enter the label interval, or run a bioassay",
            sourced("labels"),
        );
        return (outcome, true);
    }
    if !request.history_known && !request.bioassay.is_some_and(|test| test.passed) {
        let outcome = Outcome::unknown(
            "spray history for the last three years is not recorded",
            "record the history, or run a bioassay (this crop in this soil next to clean soil)",
            sourced("labels"),
        );
        return (outcome, true);
    }
    (Outcome::fit("no spray that carries over to this sowing", sourced("labels")), false)
}

pub(super) fn autotoxicity(crop: &Crop, request: &SiteRequest) -> Outcome {
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
            said!("autotoxic: the old stand leaves compounds that stunt its seedlings until {}", free),
            said!("grow another crop until {}", free),
            source,
        )
        .from(free),
        Some(_) => Outcome::fit("long enough after the same species", source),
        None if request.history_known => Outcome::fit("not after the same species", source),
        None => Outcome::unknown("crop history not recorded", "record the crops of the last three years", source),
    }
}

/// Words by which people say that there are none.
const NONE: [&str; 8] = ["", "none", "no", "nil", "0", "-", "nothing", "no weeds"];

pub(super) fn weeds(facts: &SiteFacts, seen_on: Date) -> Outcome {
    let seen = facts.perennial_weeds.as_deref().map(|weeds| weeds.trim().trim_end_matches('.'));
    match seen.map(|weeds| if NONE.contains(&weeds.to_lowercase().as_str()) { "" } else { weeds }) {
        None => Outcome::unknown(
            "perennial weeds not checked",
            "walk the field before weeds are mown or killed",
            practice(),
        ),
        Some("") => Outcome::fit("no perennial weeds seen", practice()),
        Some(weeds) => Outcome::not(
            Verdict::FitWithWork,
            format!("perennial weeds: {weeds}"),
            "control them before sowing; some take two years",
            practice(),
        )
        .from(later(seen_on, 3)),
    }
}

pub(super) fn neighbour(crop: &Crop, request: &SiteRequest) -> Outcome {
    let Some(setback) = &crop.site.neighbour_setback else { unreachable!("asked for crops that need one") };
    let source = sourced(&setback.source);
    let wanted: Length = setback.measure();
    if !request.facts.neighbour {
        return Outcome::fit("no neighboring land", source);
    }
    if request.setback >= wanted - Length::new(1.0, Unit::Cm) {
        return Outcome::fit(said!("{} setback from the boundary", request.setback), source);
    }
    Outcome::not(
        Verdict::FitWithWork,
        said!("spreads by rhizomes: keep {} from a neighbor’s land (now {})", wanted, request.setback),
        "widen the setback (reduces the sown area)",
        source,
    )
}
