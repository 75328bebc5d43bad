//! What a forage is worth to those that eat it, from what a laboratory says of it.
//!
//! Shares are of dry matter. Relative feed value knows fibre alone; relative forage quality knows how well the fibre is
//! digested, too, by an equation for legumes and another for grasses, each with an intake of its own.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    given, reckon,
    refusal::{Checks, Refused},
    said,
    source::{Origin, Source},
    units::{Fraction, Length, Measure, Unit},
    working::{Answer, Sheet},
};

/// Whose equations hold; of a mixture, those of the larger part.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum ForageKind {
    /// Alfalfa, clovers, trefoils.
    Legume,
    /// Cool- and warm-season grasses, cereals.
    Grass,
}

/// Request of the topic `quality.indices`. All are shares of dry matter, but for the digestibility of the fibre.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct IndicesRequest {
    /// Whose equations hold.
    pub kind: ForageKind,
    /// Acid detergent fibre.
    pub adf: Fraction,
    /// Neutral detergent fibre.
    pub ndf: Fraction,
    /// Crude protein.
    #[serde(default)]
    pub crude_protein: Option<Fraction>,
    /// Of the neutral detergent fibre what is digested in 48 hours.
    #[serde(default)]
    pub ndf_digestibility: Option<Fraction>,
    /// Ash; usual for the kind when absent.
    #[serde(default)]
    pub ash: Option<Fraction>,
    /// Fat (ether extract); usual for the kind when absent.
    #[serde(default)]
    pub fat: Option<Fraction>,
}

/// Energy in dry matter, Mcal/kg.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Energies {
    /// Digestible.
    pub digestible: f64,
    /// Metabolisable.
    pub metabolisable: f64,
    /// Net, for maintenance of beef cattle.
    pub maintenance: f64,
    /// Net, for their gain.
    pub gain: f64,
}

/// What follows from a forage analysis.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Indices {
    /// Relative feed value.
    pub relative_feed_value: f64,
    /// Relative forage quality; none without protein and the digestibility of the fibre.
    pub relative_forage_quality: Option<f64>,
    /// Total digestible nutrients, of dry matter.
    pub digestible_nutrients: Fraction,
    /// Dry matter that stock eat a day, of their live weight.
    pub intake: Fraction,
    /// Energy.
    pub energies: Energies,
    /// Class by relative feed value: Prime, then 1 to 5 (hay of legumes, mixtures and grasses).
    pub class: String,
    /// Price class of alfalfa hay as markets print it, by feed value and both fibres; none of grass.
    pub price_class: Option<String>,
    /// What it suits.
    pub suits: String,
}

/// Usual ash and fat (from memory of feed tables), % of dry matter.
fn usual(kind: ForageKind) -> (f64, f64) {
    match kind {
        ForageKind::Legume => (9.0, 2.0),
        ForageKind::Grass => (8.0, 2.5),
    }
}

/// Class by relative feed value (American Forage and Grassland Council, Hay Market Task Force): whole numbers are rounded
/// first, then classed.
///
/// ```
/// use agronomy::forage::quality::feed_value_class;
/// assert_eq!([151.4, 124.6, 80.8, 60.0].map(feed_value_class), ["1", "1", "4", "5"]);
/// assert_eq!(feed_value_class(152.0), "Prime");
/// ```
pub fn feed_value_class(relative_feed_value: f64) -> &'static str {
    match relative_feed_value.round() {
        value if value > 151.0 => "Prime",
        value if value >= 125.0 => "1",
        value if value >= 103.0 => "2",
        value if value >= 87.0 => "3",
        value if value >= 75.0 => "4",
        _ => "5",
    }
}

/// Price class of alfalfa hay (USDA Agricultural Marketing Service, hay quality guidelines): the poorest of what feed value
/// and both fibres say, in percent.
///
/// ```
/// use agronomy::forage::quality::price_class;
/// assert_eq!(price_class(190.0, 26.0, 33.0), "Supreme");
/// assert_eq!(price_class(190.0, 28.0, 33.0), "Premium", "the poorest of the three");
/// assert_eq!(price_class(160.0, 31.0, 39.0), "Good");
/// ```
pub fn price_class(relative_feed_value: f64, adf: f64, ndf: f64) -> &'static str {
    const CLASSES: [&str; 5] = ["Supreme", "Premium", "Good", "Fair", "Utility"];
    let by = |bounds: [f64; 4], value: f64| bounds.iter().position(|bound| value < *bound).unwrap_or(4);
    let fibre = by([27.0, 29.0, 32.0, 35.0], adf).max(by([34.0, 36.0, 40.0, 44.0], ndf));
    let value = by([-185.0, -169.99, -149.99, -129.99], -relative_feed_value);
    CLASSES[fibre.max(value)]
}

/// The least that stock eat of the poorest straw, % of live weight a day (assumed).
const LEAST_INTAKE: f64 = 0.8;

/// Animals that a relative forage quality suits (extension bulletins on forage quality, from memory).
fn suits(quality: f64) -> &'static str {
    match quality {
        q if q >= 140.0 => "dairy cows in the first three months of lactation, and calves",
        q if q >= 125.0 => "dairy cows later in lactation, young heifers, stocker cattle",
        q if q >= 115.0 => "growing heifers, stocker cattle, beef cows with calves",
        q if q >= 100.0 => "older heifers, beef cows, idle horses",
        _ => "dry beef cows, with protein or energy added where they are to gain",
    }
}

/// The topic `quality.indices`.
///
/// # Errors
/// Shares that no forage has; more acid than neutral detergent fibre.
pub fn indices(request: &IndicesRequest) -> Result<Answer<Indices>, Refused> {
    check(request)?;
    let percent = |share: Fraction| share.to(Unit::Percent);
    let mut sheet = Sheet::new("forage quality");
    given!(sheet; adf_percent = percent(request.adf), Origin::Given);
    given!(sheet; ndf_percent = percent(request.ndf), Origin::Given);
    sheet.source(Source::published(
        "Rohweder, Barnes & Jorgensen 1978, Journal of Animal Science 47:747\u{2013}759: relative feed value (from memory)",
    ));
    reckon!(sheet; digestible_dry_matter = 88.9 - 0.779 * adf_percent);
    reckon!(sheet; intake_by_fibre = 120.0 / ndf_percent);
    reckon!(sheet; relative_feed_value = digestible_dry_matter * intake_by_fibre / 1.29);
    let known = request.crude_protein.zip(request.ndf_digestibility);
    let (digestible_nutrients, intake, quality) = match known {
        Some((protein, digested)) => by_digestibility(&mut sheet, request, (percent(protein), percent(digested))),
        None => {
            sheet.source(Source::published("Bath & Marble 1989, University of California leaflet 21457 (from memory)"));
            reckon!(sheet; digestible_nutrients = 82.38 - 0.7515 * adf_percent);
            (digestible_nutrients, intake_by_fibre, None)
        }
    };
    let energies = energies(&mut sheet, digestible_nutrients);
    sheet.would_change("A laboratory\u{2019}s digestibility of the fibre, and ash where soil came in with the rake.");
    let legume = request.kind == ForageKind::Legume;
    Ok(sheet.answer(Indices {
        relative_feed_value,
        relative_forage_quality: quality,
        digestible_nutrients: Fraction::percent(digestible_nutrients),
        intake: Fraction::percent(intake),
        energies,
        class: feed_value_class(relative_feed_value).to_owned(),
        price_class: legume.then(|| price_class(relative_feed_value, adf_percent, ndf_percent).to_owned()),
        suits: suits(quality.unwrap_or(relative_feed_value)).to_owned(),
    }))
}

fn check(request: &IndicesRequest) -> Result<(), Refused> {
    let mut checks = Checks::new();
    checks.within("/adf", "ADF", request.adf, Unit::Percent, 10.0, 65.0);
    checks.within("/ndf", "NDF", request.ndf, Unit::Percent, 15.0, 88.0);
    for (pointer, name, share, low, high) in [
        ("/crude_protein", "Crude protein", request.crude_protein, 1.0, 40.0),
        ("/ndf_digestibility", "NDF digestibility", request.ndf_digestibility, 10.0, 95.0),
        ("/ash", "Ash", request.ash, 1.0, 35.0),
        ("/fat", "Fat", request.fat, 0.1, 12.0),
    ] {
        if let Some(share) = share {
            checks.within(pointer, name, share, Unit::Percent, low, high);
        }
    }
    let (adf, ndf) = (request.adf, request.ndf);
    let detail = said!(
        "NDF is {} and ADF {}: NDF includes all of ADF, so it can\u{2019}t be lower. Check that they are not swapped.",
        ndf.quantity(),
        adf.quantity()
    );
    checks.require(ndf >= adf, "/ndf", detail);
    if let Some(protein) = request.crude_protein {
        let (ash, fat) = usual(request.kind);
        let of = |told: Option<Fraction>, usual: f64| told.map_or(usual, |share| share.to(Unit::Percent));
        let all =
            0.93 * ndf.to(Unit::Percent) + protein.to(Unit::Percent) + of(request.ash, ash) + of(request.fat, fat);
        let detail = said!(
            "fibre, protein, ash and fat add up to {}; they can\u{2019}t be more than all of the dry matter",
            Fraction::percent(all).quantity()
        );
        checks.require(all <= 100.0, "/crude_protein", detail);
    }
    checks.done()
}

/// Relative forage quality, with the digestible nutrients and the intake that it rests on, in percent.
fn by_digestibility(
    sheet: &mut Sheet,
    request: &IndicesRequest,
    (protein, digested): (f64, f64),
) -> (f64, f64, Option<f64>) {
    let ndf_percent = request.ndf.to(Unit::Percent);
    let adf_percent = request.adf.to(Unit::Percent);
    let (ash, fat) = usual(request.kind);
    let of = |told: Option<Fraction>, usual: f64| match told {
        Some(share) => (share.to(Unit::Percent), Origin::Given),
        None => (usual, Origin::assumed("a laboratory\u{2019}s figure")),
    };
    let ((ash, ash_from), (fat, fat_from)) = (of(request.ash, ash), of(request.fat, fat));
    sheet.source(Source::published(
        "Undersander & Moore 2002, Focus on Forage 4(5): relative forage quality; Moore & Kunkle 1999 (from memory)",
    ));
    given!(sheet; protein_percent = protein, Origin::Given);
    given!(sheet; ndf_digested_percent = digested, Origin::Given);
    given!(sheet; ash_percent = ash, ash_from);
    given!(sheet; fat_percent = fat, fat_from);
    reckon!(sheet; nonfibre = 100.0 - (0.93 * ndf_percent + protein_percent + fat_percent + ash_percent));
    let (nutrients, eaten) = match request.kind {
        ForageKind::Legume => {
            reckon!(sheet; digestible_nutrients = 0.98 * nonfibre + 0.93 * protein_percent
                + 2.25 * 0.97 * (fat_percent - 1.0) + 0.93 * ndf_percent * ndf_digested_percent / 100.0 - 7.0);
            reckon!(sheet; intake = 120.0 / ndf_percent + (ndf_digested_percent - 45.0) * 0.374 / 1350.0 * 100.0);
            (digestible_nutrients, intake)
        }
        ForageKind::Grass => {
            reckon!(sheet; fibre_digested_percent = 22.7 + 0.664 * ndf_digested_percent);
            reckon!(sheet; digestible_nutrients = 0.98 * nonfibre + 0.87 * protein_percent
                + 2.25 * 0.97 * (fat_percent - 1.0) + 0.93 * ndf_percent * fibre_digested_percent / 100.0 - 10.0);
            reckon!(sheet; intake = 0.442 * protein_percent - 2.318 - 0.0100 * protein_percent * protein_percent
                - 0.0638 * digestible_nutrients + 0.000922 * digestible_nutrients * digestible_nutrients
                + 0.180 * adf_percent - 0.00196 * adf_percent * adf_percent - 0.00529 * protein_percent * adf_percent);
            (digestible_nutrients, intake)
        }
    };
    let (digestible_nutrients, intake) = (nutrients, eaten);
    // The equation for grasses was fitted to hay that stock eat: of straw without protein it makes no intake at all.
    if intake < LEAST_INTAKE {
        sheet.would_change(
            "Protein this low is outside what the intake equation was fitted to: no quality index is given.",
        );
        return (digestible_nutrients, LEAST_INTAKE, None);
    }
    reckon!(sheet; relative_forage_quality = intake * digestible_nutrients / 1.23);
    (digestible_nutrients, intake, Some(relative_forage_quality))
}

/// Energy that beef cattle have of it, from the digestible nutrients in percent.
fn energies(sheet: &mut Sheet, digestible_nutrients: f64) -> Energies {
    sheet.source(Source::published(
        "National Research Council 1996, Nutrient Requirements of Beef Cattle (from memory)",
    ));
    reckon!(sheet; digestible = 0.04409 * digestible_nutrients);
    reckon!(sheet; metabolisable = 0.82 * digestible);
    reckon!(sheet; maintenance = 1.37 * metabolisable - 0.138 * metabolisable * metabolisable
        + 0.0105 * metabolisable * metabolisable * metabolisable - 1.12);
    reckon!(sheet; gain = 1.42 * metabolisable - 0.174 * metabolisable * metabolisable
        + 0.0122 * metabolisable * metabolisable * metabolisable - 1.65);
    Energies { digestible, metabolisable, maintenance, gain }
}

/// How far the most mature stem is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum StemStage {
    /// No bud on any stem.
    Vegetative,
    /// Buds on one or two nodes.
    Bud,
    /// Buds on more than two nodes.
    LateBud,
    /// One flower open.
    EarlyFlower,
    /// Flowers on more than one node.
    LateFlower,
}

/// Request of the topic `quality.standing`: alfalfa in the field, by its tallest stem and its most mature one.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StandingRequest {
    /// The tallest stem, from the ground to its tip, leaves left out.
    pub height: Length,
    /// The most mature stem.
    pub stage: StemStage,
    /// NDF to cut at; none when absent.
    #[serde(default)]
    pub target: Option<Fraction>,
}

/// What stands, by a stick and a look.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Standing {
    /// Neutral detergent fibre of what stands above the stubble, of dry matter.
    pub ndf: Fraction,
    /// Days until the target at half a point a day; none without one, or when it is past.
    pub days_to_target: Option<f64>,
}

/// The topic `quality.standing`: fibre of standing alfalfa from height and stage, as the mean of several places in a field
/// of good stand.
///
/// # Errors
/// A height at which it was never tried.
pub fn standing(request: &StandingRequest) -> Result<Answer<Standing>, Refused> {
    let mut checks = Checks::new();
    checks.within("/height", "Tallest stem", request.height, Unit::Cm, 40.0, 110.0);
    if let Some(target) = request.target {
        checks.within("/target", "Target NDF", target, Unit::Percent, 25.0, 60.0);
    }
    checks.done()?;
    let mut sheet = Sheet::new("fibre of standing alfalfa");
    sheet.source(Source::published(
        "Hintz & Albrecht 1991, Crop Science 31:1561\u{2013}1565: NDF from height and stage of alfalfa (from memory)",
    ));
    let stage_number = match request.stage {
        StemStage::Vegetative => 2.0,
        StemStage::Bud => 3.0,
        StemStage::LateBud => 4.0,
        StemStage::EarlyFlower => 5.0,
        StemStage::LateFlower => 6.0,
    };
    let height_in_cm = sheet.input_in("height_in_cm", request.height, Unit::Cm, Origin::Given);
    given!(sheet; stage_number, Origin::Given);
    reckon!(sheet; ndf_percent = 16.89 + 0.27 * height_in_cm + 0.81 * stage_number);
    sheet.would_change("More places in the field; a laboratory\u{2019}s analysis of what was cut.");
    // Half a point a day in the first growth (common practice: 0.4 to 0.7).
    let left = request.target.map(|target| (target.to(Unit::Percent) - ndf_percent) / 0.5).filter(|days| *days > 0.0);
    Ok(sheet.answer(Standing { ndf: Fraction::percent(ndf_percent), days_to_target: left }))
}
