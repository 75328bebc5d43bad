//! What a crop gives at a place: the growth model over its weather, kept as is usual, with how wide that is.
//!
//! The library says what an established stand gives on fair to good ground where it is at home ([`StandFacts::yields`]).
//! Elsewhere that is no answer: warmth, light, water and winter decide. [`local`] asks the daily model of them.
//!
//! [`StandFacts::yields`]: crate::crop::StandFacts

use crate::{
    crop::{Crop, Drainage, Kind, NitrogenRule, Pathway, library},
    growth::{
        Air, Soil,
        air::of_years,
        usual::{Keeping, Mowing, annual, perennial},
    },
    soil::Texture,
    units::{Length, MassPerArea, Measure, Unit},
    water::{Profile, holds},
    weather::{Day, Years, frost::quantile, plus},
};

/// Years that the model is run over at the most: enough for a spread, and quick.
const YEARS: usize = 12;
/// Years away that a missing day is looked for.
const MOST_AWAY: usize = 40;
/// Share of what stands above the stubble that comes home (losses of mowing, raking and baling, common practice).
pub const BROUGHT_HOME: f64 = 0.82;
/// What the model is unsure of beside the weather, a share either way: as it was held against trials (`docs/growth.md`).
const UNSURE: f64 = 0.2;
/// Days after midwinter on which what is cut once is cut: the beginning of autumn.
const CUT_ONCE: u32 = 275;
/// Depth of a soil that nothing stops, m (assumed).
const DEEP: f64 = 2.0;

/// The ground that a yield is asked of.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Ground {
    /// Texture.
    pub texture: Texture,
    /// Drainage class.
    pub drainage: Drainage,
    /// What roots do not pass.
    pub restrictive_depth: Option<Length>,
    /// Water can be brought.
    pub irrigated: bool,
}

/// What a crop gives at a place in a year, once it stands: dry matter that comes home.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LocalYield {
    /// In one year of ten no more, and what the model is unsure of taken off.
    pub low: MassPerArea,
    /// In half of the years.
    pub middle: MassPerArea,
    /// In nine of ten, and what it is unsure of put on.
    pub high: MassPerArea,
    /// Years it was run over.
    pub years: usize,
}

/// Weather as stands feel it: the latest years of a record, worked out once for all crops. A day that the record does not
/// tell is as that day of the year nearest to it was; a record that tells of it in no year ends there.
pub fn airs(years: &Years) -> Vec<Air> {
    let most = (YEARS + 1) * 366;
    let skip = years.days.len().saturating_sub(most);
    let first = plus(years.first, skip as i32);
    let days = (skip..years.days.len()).map_while(|at| told_or_alike(years, at)).collect();
    of_years(&Years { first, days, ..*years })
}

/// A day of the record, or the same day of the year nearest to it that tells.
fn told_or_alike(years: &Years, at: usize) -> Option<Day> {
    let tells = |at: usize| years.days.get(at).copied().filter(|day| day.tells());
    let off = |away: usize| [at.checked_sub(away), at.checked_add(away)].into_iter().flatten().find_map(tells);
    // A leap day moves the date by one in decades: nobody feels that.
    tells(at).or_else(|| (1..=MOST_AWAY).find_map(|years| off(years * 365 + years / 4)))
}

/// How a crop is kept as is usual.
fn keeping(crop: &Crop, irrigated: bool) -> Keeping {
    let nitrogen = match crop.nutrition.nitrogen {
        NitrogenRule::Legume => 0.0,
        NitrogenRule::Native => 80.0,
        NitrogenRule::CoolGrass | NitrogenRule::Annual => 180.0,
        NitrogenRule::TropicalCut => 400.0,
    };
    let regrowth =
        crop.cutting.as_ref().map(|cutting| ((cutting.regrowth.low + cutting.regrowth.high) / 2).unsigned_abs());
    let mowing = match (crop.nutrition.nitrogen, regrowth) {
        (NitrogenRule::Native, _) | (_, None) => Mowing::Once(CUT_ONCE),
        (NitrogenRule::Legume, Some(_)) => Mowing::AtBloom,
        (_, Some(days)) => Mowing::HeadingThen(days),
    };
    Keeping { mowing, nitrogen, irrigated }
}

/// What a crop gives where such weather is; none without figures for it, or without three years.
///
/// Grasses are taken to be fed (180 kg/ha of nitrogen in a year, fast tropical ones 400, natives 80), stands to be in their
/// prime.
pub fn local(crop: &Crop, airs: &[Air], ground: Ground) -> Option<LocalYield> {
    let facts = library().season(&crop.id)?;
    let depth = ground.restrictive_depth.map_or(DEEP, Measure::base).clamp(0.3, DEEP);
    let profile = Profile::root_zone(holds(ground.texture), ground.drainage, depth.min(0.6)).down_to(depth);
    let soil = Soil { profile, supplies: if facts.annual { 180.0 } else { 140.0 } };
    let keeping = keeping(crop, ground.irrigated);
    let mut given =
        if facts.annual { annual(airs, facts, &soil, keeping) } else { perennial(airs, facts, &soil, keeping) };
    if given.len() < 3 {
        return None;
    }
    given.sort_by(f64::total_cmp);
    let of = |share: f64, sure: f64| {
        let kg = quantile(&given, share).unwrap_or_default() * BROUGHT_HOME * sure;
        MassPerArea::new(kg.max(0.0), Unit::KgPerHa)
    };
    Some(LocalYield {
        low: of(0.1, 1.0 - UNSURE),
        middle: of(0.5, 1.0),
        high: of(0.9, 1.0 + UNSURE),
        years: given.len(),
    })
}

/// A crop that grows in the cool season, whatever its life.
pub fn is_cool_season(crop: &Crop) -> bool {
    crop.pathway == Pathway::C3 && matches!(crop.kind, Kind::Grass | Kind::Legume)
}
