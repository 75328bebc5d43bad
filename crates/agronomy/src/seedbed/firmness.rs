//! Is the seedbed firm enough? The boot tests people use, by the crop's tolerance.
//!
//! Two schools read the marks of a boot, and contradict one another; the third measures how deep it sinks. All three
//! are common practice without a source. The depth is the default, and what the marks say otherwise is told beside it.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    crop::{Crop, Life, Pathway, crop_of},
    given, reckon,
    refusal::{Checks, Refused},
    said,
    said::Said,
    source::{Origin, Source},
    texture::Texture,
    units::{CountPerMass, Length, Unit},
    working::{Answer, Sheet},
};

/// Hardly a print, mm.
const NO_PRINT: f64 = 1.0;
/// Seed with more to a pound is small.
const SMALL: f64 = 100_000.0;

/// Which test counts.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum BootSchool {
    /// How deep the boot sinks.
    #[default]
    Depth,
    /// The heel alone leaves a mark: right; heel and sole: too soft.
    HeelAlone,
    /// Heel and sole leave a mark: right; the arch too: too soft.
    HeelAndSole,
}

/// What of a boot is seen in the ground.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = BootMark)]
pub enum Mark {
    /// Nothing.
    None,
    /// The heel.
    Heel,
    /// Heel and sole.
    HeelAndSole,
    /// All of it, the arch too.
    Arch,
}

/// How the surface lies.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = BedSurface)]
pub enum Surface {
    /// Crumbs and clods to the size of a walnut: seed lodges between.
    SmallClods,
    /// Larger ones: seed falls deep between.
    LargeClods,
    /// Dust.
    Powder,
}

/// Request of the topic `seedbed.firmness`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FirmnessRequest {
    /// Crop of the library.
    pub crop: String,
    /// Which test counts.
    #[serde(default)]
    pub school: BootSchool,
    /// How deep a boot sinks.
    #[serde(default)]
    pub sunk: Option<Length>,
    /// What of it is seen.
    #[serde(default)]
    pub mark: Option<Mark>,
    /// The most it may sink; the crop's usual when absent.
    #[serde(default)]
    pub most: Option<Length>,
    /// How the surface lies.
    #[serde(default)]
    pub surface: Option<Surface>,
    /// Texture of the plough layer.
    #[serde(default)]
    pub texture: Option<Texture>,
}

/// What to do.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Firmness {
    /// Sow.
    Ready,
    /// Roll, and test again.
    RollAgain,
    /// Loosen the top, and test again.
    TooHard,
    /// Work the clods down, roll, and test again.
    WorkAgain,
}

/// Whether the seedbed is firm enough.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct FirmnessAnswer {
    /// What to do.
    pub verdict: Firmness,
    /// Why.
    #[schema(value_type = String)]
    pub reason: Said,
    /// The most a boot may sink for this crop.
    pub most: Length,
    /// What another school would say, where it says otherwise; and what else to mind.
    #[schema(value_type = Vec<String>)]
    pub mind: Vec<Said>,
}

/// The most a boot may sink, by crop: common practice, no source.
///
/// For alfalfa a quarter, three eighths and half an inch are all taught; three eighths is the middle of them.
fn usual(crop: &Crop) -> Length {
    let small = crop.seed.as_ref().is_some_and(|seed| seed.per_mass.measure::<CountPerMass>().to(Unit::PerLb) > SMALL);
    let inches = match crop {
        _ if crop.id == "switchgrass" => 0.25,
        _ if crop.pathway == Pathway::C4 && crop.life == Life::Perennial => 1.0,
        _ if small => 0.375,
        _ => 1.0,
    };
    Length::new(inches, Unit::In)
}

fn by_mark(school: BootSchool, mark: Mark) -> Firmness {
    match (school, mark) {
        (_, Mark::None) => Firmness::TooHard,
        (BootSchool::HeelAlone, Mark::Heel) => Firmness::Ready,
        (BootSchool::HeelAlone, _) => Firmness::RollAgain,
        (_, Mark::Arch) => Firmness::RollAgain,
        (_, Mark::HeelAndSole) => Firmness::Ready,
        // By the school of heel and sole, a heel alone is firmer than it need be, and no harm.
        (_, Mark::Heel) => Firmness::Ready,
    }
}

fn by_depth(sunk: Length, most: Length) -> Firmness {
    // As deep as it may is not too deep, however the inch was turned into millimetres.
    if sunk.to(Unit::Mm) > most.to(Unit::Mm) + 1e-6 {
        Firmness::RollAgain
    } else if sunk.to(Unit::Mm) < NO_PRINT {
        Firmness::TooHard
    } else {
        Firmness::Ready
    }
}

fn word(firmness: Firmness) -> &'static str {
    match firmness {
        Firmness::Ready => "ready",
        Firmness::RollAgain => "roll again",
        Firmness::TooHard => "too hard",
        Firmness::WorkAgain => "break clods and retest",
    }
}

/// The topic `seedbed.firmness`.
///
/// # Errors
/// An unknown crop, a boot that sinks deeper than a boot is long, or nothing seen of what the school asks for.
pub fn firmness(request: &FirmnessRequest) -> Result<Answer<FirmnessAnswer>, Refused> {
    let crop = crop_of(&request.crop, "/crop")?;
    let mut checks = Checks::new();
    if let Some(sunk) = request.sunk {
        checks.within("/sunk", "Boot depth", sunk, Unit::Mm, 0.0, 300.0);
    }
    if let Some(most) = request.most {
        checks.within("/most", "Maximum depth", most, Unit::Mm, 1.0, 100.0);
    }
    match request.school {
        BootSchool::Depth => {
            checks.require(request.sunk.is_some(), "/sunk", "enter how deep the boot sinks; this method needs it");
        }
        _ => {
            checks.require(request.mark.is_some(), "/mark", "enter the boot print; this method needs it");
        }
    }
    checks.done()?;
    let mut sheet = Sheet::new(format!("seedbed firmness for {}", crop.name));
    sheet.source(Source::common_practice("boot tests from growers and bulletins, which disagree"));
    let most = request.most.unwrap_or_else(|| usual(crop));
    let from =
        if request.most.is_some() { Origin::Given } else { Origin::sourced(&Source::common_practice("by crop")) };
    given!(sheet; most, from);
    if let Some(sunk) = request.sunk {
        given!(sheet; sunk, Origin::Given);
        reckon!(sheet; to_spare = most - sunk);
        let _ = to_spare;
    }
    let of = |school: BootSchool| match school {
        BootSchool::Depth => request.sunk.map(|sunk| by_depth(sunk, most)),
        _ => request.mark.map(|mark| by_mark(school, mark)),
    };
    let mut verdict = of(request.school).unwrap_or(Firmness::RollAgain);
    let mut reason = match (request.school, request.sunk) {
        (BootSchool::Depth, Some(sunk)) => {
            said!("boot sinks {} (limit {} for {})", sunk, most, crop.name.as_str())
        }
        _ => "from the boot print".into(),
    };
    let mut mind: Vec<Said> = vec![];
    for (school, name) in [
        (BootSchool::Depth, "The depth method"),
        (BootSchool::HeelAlone, "The heel-only method"),
        (BootSchool::HeelAndSole, "The heel-and-sole method"),
    ] {
        if let Some(other) = of(school).filter(|other| *other != verdict && school != request.school) {
            mind.push(said!("{} says: {}", name, word(other)));
        }
    }
    if request.surface == Some(Surface::LargeClods) {
        verdict = Firmness::WorkAgain;
        reason = "seed falls too deep between large clods".into();
    }
    if request.surface == Some(Surface::Powder) {
        mind.push(match request.texture {
            Some(Texture::Sand | Texture::SandyLoam) => "powdery surface does little harm on sand".into(),
            Some(_) => "powdery silt or clay soil crusts after rain; leave it rougher".into(),
            None => "powdery soil crusts after rain if it has silt or clay".into(),
        });
    }
    if verdict == Firmness::RollAgain {
        sheet.would_change("Another rolling. When in doubt, firmer.");
    }
    Ok(sheet.answer(FirmnessAnswer { verdict, reason, most, mind }))
}
