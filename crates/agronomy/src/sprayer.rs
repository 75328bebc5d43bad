//! The sprayer: what goes out of the nozzles per area, and which are worn.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    chance::spread,
    given,
    refusal::{Checks, Refused},
    said,
    source::{Origin, Source},
    units::{Area, Fraction, Length, MassPerVolume, Measure, Speed, Time, Unit, Volume, VolumePerArea},
    working::{Answer, Sheet},
};

/// Most nozzles of a boom.
const MOST_NOZZLES: usize = 200;
/// A nozzle that gives more than a new one by this share is worn (spraying bulletins, from memory).
const WORN: f64 = 0.10;
/// And one that strays from the others by this share is looked at.
const STRAYS: f64 = 0.05;
/// Water, kg/m³.
const WATER: f64 = 1_000.0;
/// A US fluid ounce of a 128th of an acre is a US gallon of an acre.
const PART_OF_ACRE: f64 = 1.0 / 128.0;

/// How long the nozzles ran.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "by", rename_all = "kebab-case", deny_unknown_fields)]
#[schema(as = NozzleRun)]
pub enum Ran {
    /// As long as it takes to drive so far, as in the field.
    Course {
        /// The way.
        length: Length,
    },
    /// So long, for a speed that will be driven.
    Timed {
        /// While it was caught.
        time: Time,
        /// In the field.
        speed: Speed,
    },
}

/// Request of the topic `sprayer.output`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OutputRequest {
    /// What each nozzle gave, left to right: of water.
    pub nozzles: Vec<Volume>,
    /// How long they ran.
    pub ran: Ran,
    /// Ground of one nozzle: their spacing; the band's width where bands are sprayed.
    pub spacing: Length,
    /// What a new nozzle would have given in the same time at that pressure.
    #[serde(default)]
    pub new_nozzle: Option<Volume>,
    /// Density of what will be sprayed; water when absent.
    #[serde(default)]
    pub density: Option<MassPerVolume>,
    /// Output aimed at.
    #[serde(default)]
    pub aim: Option<VolumePerArea>,
}

/// How a nozzle stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum NozzleState {
    /// In line.
    Good,
    /// More than 5 % from the middle of the others: clean and level it.
    Strays,
    /// More than 10 % over a new one, or over the middle of the others where that is not known: replace it.
    Worn,
    /// More than 10 % under: blocked.
    Blocked,
}

/// One nozzle.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Nozzle {
    /// From the left, from 1.
    pub nozzle: usize,
    /// What it gave.
    pub gave: Volume,
    /// Of the mean.
    pub of_mean: Fraction,
    /// How it stands.
    pub state: NozzleState,
}

/// What goes out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SprayerOutput {
    /// Of water, per area.
    pub output: VolumePerArea,
    /// Of what will be sprayed, which flows by the root of its density; the same for water.
    pub of_product: VolumePerArea,
    /// Nozzle by nozzle.
    pub nozzles: Vec<Nozzle>,
    /// More or less than the aim.
    pub off_aim: Option<Fraction>,
    /// Speed for the aim, pressure as it is; where the speed is known.
    pub speed_for_aim: Option<Speed>,
    /// Pressure for the aim, of what it is, speed as it is: flow goes by its root.
    pub pressure_for_aim: Option<f64>,
    /// Course on which fluid ounces of a nozzle are gallons per acre.
    pub course_128th: Length,
}

/// The middle of what the other nozzles gave: one that is blocked or worn through does not make the good ones stray.
fn others(gave: &[f64], index: usize) -> f64 {
    let mut others: Vec<f64> = gave.iter().enumerate().filter(|(at, _)| *at != index).map(|(_, one)| *one).collect();
    others.sort_by(f64::total_cmp);
    let middle = others.len() / 2;
    match others.len() {
        0 => gave[index],
        many if many % 2 == 0 => (others[middle - 1] + others[middle]) / 2.0,
        _ => others[middle],
    }
    .max(f64::MIN_POSITIVE)
}

/// The topic `sprayer.output`: output = caught ÷ (spacing × way driven meanwhile).
///
/// # Errors
/// No nozzle, a catch, course, time, speed, spacing or density that can't be.
///
/// ```
/// use agronomy::{sprayer::{OutputRequest, sprayer_output}, units::Unit};
/// // 0.3 gallons a minute, 5 mph, 30 in: 5,940 × 0.3 ÷ (5 × 30) = 11.88 gal/ac
/// let request = serde_json::json!({"nozzles": [{"value": 0.3, "unit": "gal"}], "spacing": {"value": 30, "unit": "in"},
///     "ran": {"by": "timed", "time": {"value": 1, "unit": "min"}, "speed": {"value": 5, "unit": "mph"}}});
/// let request: OutputRequest = serde_json::from_value(request).unwrap();
/// let output = sprayer_output(&request).unwrap().value.output;
/// assert!((output.to(Unit::GalPerAc) - 11.88).abs() < 0.005);
/// ```
pub fn sprayer_output(request: &OutputRequest) -> Result<Answer<SprayerOutput>, Refused> {
    let many = request.nozzles.len();
    let mut checks = Checks::new();
    let right = (1..=MOST_NOZZLES).contains(&many);
    checks.require(right, "/nozzles", said!("{} nozzles; enter 1–{}", many, MOST_NOZZLES));
    for (index, gave) in request.nozzles.iter().enumerate().take(MOST_NOZZLES) {
        checks.within(&format!("/nozzles/{index}"), &format!("Nozzle {}", index + 1), *gave, Unit::L, 0.0, 50.0);
    }
    match request.ran {
        Ran::Course { length } => checks.within("/ran/length", "Test course length", length, Unit::M, 5.0, 2_000.0),
        Ran::Timed { time, speed } => {
            checks.within("/ran/time", "Time", time, Unit::S, 5.0, 1_800.0);
            checks.within("/ran/speed", "Speed", speed, Unit::KmPerH, 0.5, 40.0);
        }
    }
    checks.within("/spacing", "Nozzle spacing", request.spacing, Unit::Cm, 5.0, 300.0);
    if let Some(new) = request.new_nozzle {
        checks.positive("/new_nozzle", "New nozzle output", new, Unit::L, 50.0);
    }
    if let Some(density) = request.density {
        checks.within("/density", "Liquid density", density, Unit::KgPerM3, 700.0, 2_000.0);
    }
    if let Some(aim) = request.aim {
        checks.within("/aim", "Target rate", aim, Unit::LPerHa, 10.0, 3_000.0);
    }
    checks.done()?;
    let gave: Vec<f64> = request.nozzles.iter().map(|one| one.base()).collect();
    let Some(all) = spread(&gave).filter(|all| all.mean > 0.0) else {
        return Err(Refused::one("/nozzles", "no output was caught"));
    };

    let mut sheet = Sheet::new("sprayer output");
    sheet.source(Source::common_practice(
        "output = catch ÷ (spacing × course); the same as 5,940 × gal/min ÷ (mph × in)",
    ));
    sheet.input("caught_in_all", Volume::from_base(gave.iter().sum::<f64>()), Origin::Given);
    sheet.input("nozzles_caught", many as f64, Origin::Given);
    given!(sheet; spacing = request.spacing, Origin::Given);
    let mean = sheet.line("mean_of_a_nozzle", "caught_in_all / nozzles_caught", Volume::from_base(all.mean));
    let way = match request.ran {
        Ran::Course { length } => sheet.input("way", length, Origin::Given),
        Ran::Timed { time, speed } => {
            given!(sheet; time, Origin::Given);
            given!(sheet; speed, Origin::Given);
            sheet.line("way", "speed * time", Length::from_base(speed.base() * time.base()))
        }
    };
    let ground = Area::from_base((spacing * way).base());
    let ground = sheet.line("ground_of_a_nozzle", "spacing * way", ground);
    let output = sheet.line("output", "mean_of_a_nozzle / ground_of_a_nozzle", mean / ground);
    let mut of_product = output;
    if let Some(density) = request.density {
        sheet.source(Source::common_practice("a denser liquid flows slower, by the square root of its density"));
        given!(sheet; density, Origin::Given);
        given!(sheet; density_of_water = MassPerVolume::new(WATER, Unit::KgPerM3), Origin::sourced(&Source::common_practice("water")));
        let slower = (density / density_of_water).base().sqrt();
        let flows_slower = sheet.line("flows_slower", "sqrt(density / density_of_water)", slower);
        let out = VolumePerArea::from_base(output.base() / flows_slower);
        of_product = sheet.line("output_of_the_product", "output / flows_slower", out);
    }
    let nozzles = request
        .nozzles
        .iter()
        .enumerate()
        .map(|(index, one)| {
            let of_mean = one.base() / all.mean;
            let others = others(&gave, index);
            let of_others = one.base() / others;
            // Worn by what a new one gives, where that is known.
            let of_new = one.base() / request.new_nozzle.map_or(others, |new| new.base());
            let state = match of_new {
                over if over > 1.0 + WORN + 1e-9 => NozzleState::Worn,
                under if under < 1.0 - WORN - 1e-9 => NozzleState::Blocked,
                _ if (of_others - 1.0).abs() > STRAYS + 1e-9 => NozzleState::Strays,
                _ => NozzleState::Good,
            };
            Nozzle { nozzle: index + 1, gave: *one, of_mean: Fraction::from_base(of_mean), state }
        })
        .collect();
    let named = if request.density.is_some() { "output_of_the_product" } else { "output" };
    let off_aim = request.aim.map(|aim| {
        given!(sheet; aim, Origin::Given);
        let off = Fraction::from_base(of_product.base() / aim.base() - 1.0);
        sheet.line("off_the_aim", &format!("{named} / aim - 1"), off)
    });
    let ratio = request.aim.map(|aim| of_product.base() / aim.base());
    let speed_for_aim = match (request.ran, ratio) {
        (Ran::Timed { speed, .. }, Some(ratio)) => {
            let speed = Speed::from_base(speed.base() * ratio);
            Some(sheet.line("speed_for_the_aim", &format!("speed * {named} / aim"), speed))
        }
        _ => None,
    };
    let pressure_for_aim = ratio
        .map(|ratio| sheet.line("pressure_for_the_aim", &format!("(aim / {named}) * (aim / {named})"), ratio.powi(-2)));
    let acre = Area::new(1.0, Unit::Ac);
    given!(sheet; acre, Origin::sourced(&Source::published("NIST SP 811: 43,560 square feet")));
    given!(sheet; part_of_acre = PART_OF_ACRE, Origin::sourced(&Source::common_practice("128 fluid ounces = 1 gallon")));
    let course = Length::from_base(acre.base() * part_of_acre / spacing.base());
    let course_128th = sheet.line("course_of_a_128th", "acre * part_of_acre / spacing", course);
    sheet.caution("spray-label");
    Ok(sheet.answer(SprayerOutput {
        output,
        of_product,
        nozzles,
        off_aim,
        speed_for_aim,
        pressure_for_aim,
        course_128th,
    }))
}
