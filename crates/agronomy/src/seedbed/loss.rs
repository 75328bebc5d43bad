//! Soil that a slope may lose in a year, by how it is covered: the revised universal soil loss equation.
//!
//! Renard, Foster, Weesies, McCool & Yoder 1997, USDA Agriculture Handbook 703: A = R·K·LS·C·P, in SI as Foster,
//! McCool, Renard & Moldenhauer 1981 put it. It speaks of long averages over many slopes: of one field it is right
//! within a factor of two at best, and it knows no gullies.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    source::{Origin, Source},
    texture::Texture,
    units::{Fraction, Length, MassPerArea, Measure, Unit},
    working::{Answer, Sheet},
};

/// Length of the unit plot, m.
const UNIT_PLOT: f64 = 22.13;
/// A US erodibility in SI, t·ha·h/(ha·MJ·mm) (Foster et al. 1981).
const K_IN_SI: f64 = 0.131_7;
/// What most soils bear for good, ton/ac in a year: common practice of conservation planning in the United States.
const BEARABLE: f64 = 5.0;

/// How the ground lies while the stand comes, with the factor C that handbooks give it, low and high (AH-703 and
/// extension tables; from memory).
const COVERS: [(&str, &str, f64, f64); 4] = [
    ("tilled", "tilled seedbed", 0.5, 0.9),
    ("no-till", "no-till into residue or killed sod", 0.05, 0.15),
    ("seeding-year", "seeding year of a perennial, after canopy cover", 0.1, 0.2),
    ("sod", "established sod", 0.003, 0.01),
];

/// Request of the topic `soil.loss`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SoilLossRequest {
    /// How steep.
    pub slope: Fraction,
    /// From where water begins to run to where it is caught or slows.
    pub slope_length: Length,
    /// Texture of the plough layer; the erodibility in its place where that is known.
    #[serde(default)]
    pub texture: Option<Texture>,
    /// Erodibility K as soil surveys of the United States print it, 0.02 to 0.7.
    #[serde(default)]
    pub erodibility: Option<f64>,
    /// Rain in a usual year; the erosivity in its place where that is known.
    #[serde(default)]
    pub rain: Option<Length>,
    /// Erosivity R of rain, MJ·mm/(ha·h) in a year.
    #[serde(default)]
    pub erosivity: Option<f64>,
    /// Worked and sown across the slope.
    #[serde(default)]
    pub across: bool,
}

/// What may be lost under a cover.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct CoverLoss {
    /// Stable name.
    pub key: String,
    /// How the ground lies.
    pub name: String,
    /// From so much in a year.
    pub low: MassPerArea,
    /// To so much.
    pub high: MassPerArea,
    /// Even the low end is more than the soil bears.
    pub too_much: bool,
    /// The low end as a share of the most that any cover may lose here.
    pub begins: f64,
    /// The high end.
    pub ends: f64,
}

/// Soil that the slope may lose.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SoilLoss {
    /// Erosivity of rain, MJ·mm/(ha·h) in a year.
    pub erosivity: f64,
    /// Erodibility, t·ha·h/(ha·MJ·mm).
    pub erodibility: f64,
    /// Factor of the slope: 1 on a plot of 22.13 m at 9 %.
    pub slope_factor: f64,
    /// By cover, the barest first.
    pub covers: Vec<CoverLoss>,
    /// What most soils bear for good, in a year.
    pub bearable: MassPerArea,
    /// What follows, in a sentence.
    #[schema(value_type = String)]
    pub says: Said,
}

/// Factor of a slope, of its steepness as a share and its length in metres (AH-703, eqs. 4-1 to 4-5).
///
/// ```
/// use agronomy::seedbed::loss::slope_factor;
/// // The unit plot has one, but for rounding.
/// assert!((slope_factor(0.09, 22.13) - 1.0059).abs() < 1e-4);
/// assert!((slope_factor(0.12, 100.0) - 3.4199).abs() < 0.03);
/// ```
pub fn slope_factor(slope: f64, length: f64) -> f64 {
    let sine = slope.atan().sin();
    let rill = sine / 0.0896 / (3.0 * sine.powf(0.8) + 0.56);
    let steepness = if slope < 0.09 { 10.8 * sine + 0.03 } else { 16.8 * sine - 0.5 };
    (length / UNIT_PLOT).powf(rill / (1.0 + rill)) * steepness
}

/// Erosivity of a year's rain in mm, MJ·mm/(ha·h), where nothing better is known (Renard & Freimund 1994, Journal of
/// Hydrology 157:287–306, eqs. 11 and 12).
pub fn erosivity(rain: f64) -> f64 {
    if rain <= 850.0 { 0.0483 * rain.powf(1.61) } else { 587.8 - 1.219 * rain + 0.004_105 * rain * rain }
}

/// Erodibility by texture, US units: mid values of soil surveys (from memory).
fn of_texture(texture: Texture) -> f64 {
    match texture {
        Texture::Sand => 0.10,
        Texture::SandyLoam => 0.24,
        Texture::Loam => 0.32,
        Texture::SiltLoam => 0.43,
        Texture::ClayLoam => 0.30,
        Texture::Clay => 0.24,
    }
}

/// What working across the slope leaves of the loss: least on gentle slopes (AH-537, table 13; from memory).
fn of_contour(slope: f64) -> f64 {
    match slope {
        s if s < 0.02 => 0.6,
        s if s < 0.08 => 0.5,
        s if s < 0.12 => 0.6,
        s if s < 0.16 => 0.7,
        s if s < 0.20 => 0.8,
        _ => 0.9,
    }
}

/// The topic `soil.loss`.
///
/// # Errors
/// A slope, length, rain or factor that can't be, or neither of two that tell the same.
pub fn soil_loss(request: &SoilLossRequest) -> Result<Answer<SoilLoss>, Refused> {
    let mut checks = Checks::new();
    checks.within("/slope", "Slope", request.slope, Unit::Percent, 0.0, 60.0);
    checks.within("/slope_length", "Slope length", request.slope_length, Unit::M, 1.0, 500.0);
    if let Some(rain) = request.rain {
        checks.within("/rain", "Annual rainfall", rain, Unit::Mm, 50.0, 6_000.0);
    }
    if let Some(r) = request.erosivity {
        checks.require((10.0..=30_000.0).contains(&r), "/erosivity", said!("Erosivity is {}; enter 10–30,000", r));
    }
    if let Some(k) = request.erodibility {
        checks.require((0.02..=0.7).contains(&k), "/erodibility", said!("Erodibility is {}; enter 0.02–0.7", k));
    }
    checks.require(
        request.erosivity.is_some() || request.rain.is_some(),
        "/rain",
        "enter the average annual rainfall or the erosivity",
    );
    checks.require(
        request.erodibility.is_some() || request.texture.is_some(),
        "/texture",
        "enter the soil texture or the erodibility",
    );
    checks.done()?;

    let mut sheet = Sheet::new("soil loss on slope");
    sheet.source(Source::published(
        "Renard et al. 1997, USDA Agriculture Handbook 703: revised universal soil loss equation",
    ));
    let slope = sheet.input("slope", request.slope, Origin::Given).base();
    let length = sheet.input("slope length", request.slope_length, Origin::Given).base();
    let r = match (request.erosivity, request.rain) {
        (Some(r), _) => sheet.input("erosivity of rain", r, Origin::Given),
        (None, rain) => {
            let rain = sheet.input("rain in a year", rain.unwrap_or_default(), Origin::Given);
            let words = "from annual rainfall, Renard & Freimund 1994, in MJ·mm/(ha·h)";
            sheet.gathered("erosivity of rain", words, erosivity(rain.to(Unit::Mm)))
        }
    };
    let k = request.erodibility.or(request.texture.map(of_texture)).unwrap_or_default();
    let from = match request.erodibility {
        Some(_) => Origin::Given,
        None => Origin::sourced(&Source::published(
            "soil surveys of the USDA: mid erodibility of the texture class (from memory)",
        )),
    };
    let k = sheet.input("erodibility, US", k, from) * K_IN_SI;
    let slope_factor = sheet.gathered(
        "slope factor",
        "steepness and length of the slope against the unit plot",
        slope_factor(slope, length),
    );
    let practice = if request.across { of_contour(slope) } else { 1.0 };
    if request.across {
        sheet.gathered("across the slope", "share of loss left by contour working", practice);
    }
    let bearable = MassPerArea::new(BEARABLE, Unit::TonPerAc);
    let worst = COVERS.iter().map(|(_, _, _, high)| *high).fold(0.0, f64::max);
    let mut covers = vec![];
    for (key, name, low, high) in COVERS {
        let (begins, ends) = (low / worst, high / worst);
        let lost = |cover: f64| MassPerArea::new(r * k * slope_factor * practice * cover, Unit::TPerHa);
        let low = sheet.gathered(&format!("{name}, at best"), "erosivity × erodibility × slope × cover", lost(low));
        let high = sheet.gathered(&format!("{name}, at worst"), "the same with less cover", lost(high));
        covers.push(CoverLoss {
            key: key.to_owned(),
            name: name.to_owned(),
            low,
            high,
            too_much: low > bearable,
            begins,
            ends,
        });
    }
    sheet.would_change("Measured ground cover, or erosivity from a map. Gullies are not included.");
    let says = told(&covers, bearable);
    Ok(sheet.answer(SoilLoss { erosivity: r, erodibility: k, slope_factor, covers, bearable, says }))
}

fn told(covers: &[CoverLoss], bearable: MassPerArea) -> Said {
    let [tilled, no_till, ..] = covers else { return Said::default() };
    if tilled.too_much {
        return said!(
            "Tilled, this slope may lose {}–{} a year, above the {} most soils tolerate; no-till {}–{}. Accurate within a factor of two.",
            tilled.low,
            tilled.high,
            bearable,
            no_till.low,
            no_till.high
        );
    }
    if tilled.high > bearable {
        return said!(
            "Tilled, this slope may lose {}–{} a year; most soils tolerate {}. Leave it rough with cover, or no-till at {}–{}. Accurate within a factor of two.",
            tilled.low,
            tilled.high,
            bearable,
            no_till.low,
            no_till.high
        );
    }
    said!(
        "Tilled, this slope may lose {}–{} a year, below the {} most soils tolerate. Accurate within a factor of two.",
        tilled.low,
        tilled.high,
        bearable
    )
}
