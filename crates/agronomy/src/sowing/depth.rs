//! How deep the seed lies: what a few seeds dug up say of all.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    chance::{Z90, spread, student_quantile, wilson},
    crop::{crop_of, sowing_of},
    given,
    refusal::{Checks, Refused},
    said,
    seed::Method,
    source::{Origin, Source},
    texture::Texture,
    units::{Fraction, Length, Measure, Unit},
    working::{Answer, Sheet},
};

/// Fewer seeds say nothing of the others.
const FEWEST: usize = 5;
/// Looked at so many, the mean decides.
const ENOUGH: usize = 20;
/// Seeds below the band that are borne: one of four (assumed).
const BORNE: f64 = 0.25;
/// Most depths taken.
const MOST: usize = 200;

/// Request of the topic `depth.check`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DepthRequest {
    /// Crop of the library: whose depth it is held against.
    pub crop: String,
    /// Texture of the soil.
    pub texture: Texture,
    /// Of each seed that was dug up.
    pub depths: Vec<Length>,
    /// Seeds that lay on the surface, besides; of broadcast seed, those that lie on bare soil.
    #[serde(default)]
    pub on_surface: u32,
    /// Of broadcast seed, those that lie on thatch or residue and touch no soil, besides.
    #[serde(default)]
    pub on_residue: u32,
    /// Drilled, or broadcast: then it is judged by what touches soil.
    #[serde(default)]
    pub method: Method,
    /// Depth wanted, from and to; the crop's own on this texture when absent.
    #[serde(default)]
    pub wanted: Option<[Length; 2]>,
}

/// What to do.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum DepthVerdict {
    /// It lies where it should.
    CarryOn,
    /// Too deep: set the openers higher, or firm the ground.
    Raise,
    /// Too shallow: set them lower.
    Lower,
    /// Broadcast, and too much of it touches no soil: roll, drag or tread it in.
    Press,
    /// So few can't tell.
    LookAtMore,
}

/// Where the seed lies.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct DepthAnswer {
    /// Seeds looked at, those on the surface too.
    pub seeds: usize,
    /// Depth wanted: from, to.
    pub wanted: [Length; 2],
    /// Mean, those on the surface as nothing.
    pub mean: Length,
    /// 90 % interval of the mean, by Student's t; none of a single seed.
    pub interval: Option<[Length; 2]>,
    /// Share below the depth wanted.
    pub too_deep: Fraction,
    /// Its 90 % interval, by Wilson.
    pub too_deep_interval: [Fraction; 2],
    /// Share on the surface; of broadcast seed on bare soil.
    pub on_surface: Fraction,
    /// Share that touches no soil.
    pub on_residue: Fraction,
    /// What to do.
    pub verdict: DepthVerdict,
    /// Why.
    pub why: String,
}

/// The topic `depth.check`.
///
/// # Errors
/// An unknown crop or one set out as plants; no seed, too many, a depth that can't be.
///
/// ```
/// use agronomy::{sowing::{DepthRequest, DepthVerdict, depth_check}, texture::Texture, units::{Length, Unit}};
/// // Alfalfa an inch deep in a loam, where a quarter to half an inch is wanted.
/// let depths = [1.0, 0.9, 1.1, 1.0, 0.8, 1.0].map(|inch| Length::new(inch, Unit::In)).to_vec();
/// let request = DepthRequest { crop: "alfalfa".into(), texture: Texture::Loam, depths, on_surface: 0, on_residue: 0,
///     method: Default::default(), wanted: None };
/// assert_eq!(depth_check(&request).unwrap().value.verdict, DepthVerdict::Raise);
/// ```
pub fn depth_check(request: &DepthRequest) -> Result<Answer<DepthAnswer>, Refused> {
    let crop = crop_of(&request.crop, "/crop")?;
    let sowing = sowing_of(crop, "/crop")?;
    let loose = (request.on_surface as usize).saturating_add(request.on_residue as usize);
    let seeds = request.depths.len().saturating_add(loose);
    let broadcast = request.method == Method::Broadcast;
    let mut checks = Checks::new();
    let drilled_on_residue = !broadcast && request.on_residue > 0;
    checks.require(!drilled_on_residue, "/on_residue", "drilled seed on residue lies on the surface; enter it there");
    if let Some([from, to]) = request.wanted {
        checks.within("/wanted/0", "Shallowest depth", from, Unit::Cm, 0.0, 15.0);
        checks.within("/wanted/1", "Deepest depth", to, Unit::Cm, 0.1, 15.0);
        checks.require(from < to, "/wanted/1", "the deepest depth must be more than the shallowest");
    }
    checks.require((1..=MOST).contains(&seeds), "/depths", said!("{} seeds; enter 1–{}", seeds, MOST));
    for (index, depth) in request.depths.iter().enumerate().take(MOST) {
        checks.within(&format!("/depths/{index}"), &format!("Depth {}", index + 1), *depth, Unit::Cm, 0.0, 20.0);
    }
    checks.done()?;
    let band = match request.texture {
        Texture::Sand | Texture::SandyLoam => &sowing.depth_coarse,
        _ => &sowing.depth_fine,
    };
    let (low, high, origin) = match request.wanted {
        Some([low, high]) => (low, high, Origin::Given),
        None => {
            let (low, high) = band.ends::<Length>();
            (low, high, band.origin())
        }
    };
    let low = if broadcast { Length::from_base(0.0) } else { low };
    let mut depths: Vec<f64> = request.depths.iter().map(|depth| depth.base()).collect();
    depths.extend((0..loose).map(|_| 0.0));
    let Some(all) = spread(&depths) else { return Err(Refused::one("/depths", "enter the seed depths")) };

    let mut sheet = Sheet::new(format!("seeding depth of {}", crop.name));
    sheet.source(Source::published(
        "Student 1908, Biometrika 6:1\u{2013}25; Wilson 1927, J. Am. Stat. Assoc. 22:209\u{2013}212",
    ));
    if broadcast {
        sheet.source(Source::common_practice(
            "broadcast seed is judged by contact: covered, pressed in or on bare soil against lying on thatch or residue",
        ));
    }
    sheet.input("shallowest_wanted", low, origin.clone());
    sheet.input("deepest_wanted", high, origin);
    given!(sheet; seeds_looked_at = seeds as f64, Origin::Given);
    let sum = sheet.input("depths_in_all", Length::from_base(depths.iter().sum()), Origin::Given);
    let mean =
        sheet.line("mean_depth", "depths_in_all / seeds_looked_at", Length::from_base(sum.base() / seeds_looked_at));
    let interval = student_quantile(0.95, seeds - 1).map(|t| {
        let deviation = Length::from_base(all.deviation);
        given!(sheet; standard_deviation = deviation, Origin::Given);
        given!(sheet; student_t = t, Origin::sourced(&Source::published("Student 1908, Biometrika 6:1\u{2013}25")));
        let reach = Length::from_base(student_t * standard_deviation.base() / seeds_looked_at.sqrt());
        let reach = sheet.line("reach", "student_t * standard_deviation / sqrt(seeds_looked_at)", reach);
        [(mean.base() - reach.base()).max(0.0), mean.base() + reach.base()].map(Length::from_base)
    });
    let deep = depths.iter().filter(|depth| **depth > high.base() + 1e-6).count() as f64;
    given!(sheet; too_deep = deep, Origin::Given);
    let share =
        sheet.line("share_too_deep", "too_deep / seeds_looked_at", Fraction::from_base(too_deep / seeds_looked_at));
    given!(sheet; on_the_surface = f64::from(request.on_surface), Origin::Given);
    let surface = Fraction::from_base(on_the_surface / seeds_looked_at);
    let surface = sheet.line("share_on_the_surface", "on_the_surface / seeds_looked_at", surface);
    given!(sheet; on_the_residue = f64::from(request.on_residue), Origin::Given);
    let residue = Fraction::from_base(on_the_residue / seeds_looked_at);
    let residue = sheet.line("share_on_residue", "on_the_residue / seeds_looked_at", residue);
    let residue_from = wilson(on_the_residue, seeds_looked_at, Z90).0;
    let deep_between = wilson(deep, seeds_looked_at, Z90);
    let surface_from = wilson(on_the_surface, seeds_looked_at, Z90).0;
    let (mean_low, mean_high) = interval.map_or((0.0, f64::INFINITY), |[low, high]| (low.base(), high.base()));

    let few = seeds < FEWEST;
    let open = seeds < ENOUGH;
    let (verdict, why) = if few {
        (DepthVerdict::LookAtMore, "Too few seeds to judge. Dig up ten from several rows.")
    } else if residue_from > BORNE {
        (
            DepthVerdict::Press,
            "Too much seed lies on thatch or residue and touches no soil. Roll, drag a light harrow, or let stock tread it in for a day; rake or mow heavy thatch first.",
        )
    } else if mean_low > high.base() || deep_between.0 > BORNE {
        (
            DepthVerdict::Raise,
            "Too deep, and it cannot be fixed later: small seed below its depth does not emerge. Raise the openers or roll first; slowing down helps.",
        )
    } else if !broadcast && (mean_high < low.base() || surface_from > BORNE) {
        (
            DepthVerdict::Lower,
            "Too shallow: seed dries out before it roots. Lower the openers, add weight, or roll afterward.",
        )
    } else if open && (all.mean > high.base() || share.base() > BORNE) {
        (
            DepthVerdict::LookAtMore,
            "May be too deep, but there are too few seeds to be sure. Dig up ten more before going on.",
        )
    } else if open && residue.base() > BORNE {
        (
            DepthVerdict::LookAtMore,
            "Much of it may lie on residue, but there are too few seeds to be sure. Look at ten more.",
        )
    } else if residue.base() > BORNE {
        (DepthVerdict::Press, "Slightly too much seed touches no soil: roll or drag again.")
    } else if open && all.mean < low.base() {
        (DepthVerdict::LookAtMore, "May be too shallow, but there are too few seeds to be sure. Dig up ten more.")
    } else if all.mean > high.base() {
        (DepthVerdict::Raise, "Slightly too deep overall: raise the openers a little.")
    } else if all.mean < low.base() {
        (DepthVerdict::Lower, "Slightly too shallow overall: lower the openers a little.")
    } else {
        (DepthVerdict::CarryOn, "On target. Check again in the next field and where the soil changes.")
    };
    sheet.would_change("More seeds, other rows, softer or harder ground, another speed.");
    Ok(sheet.answer(DepthAnswer {
        seeds,
        wanted: [low, high],
        mean,
        interval,
        too_deep: share,
        too_deep_interval: [deep_between.0, deep_between.1].map(Fraction::from_base),
        on_surface: surface,
        on_residue: residue,
        verdict,
        why: why.to_owned(),
    }))
}
