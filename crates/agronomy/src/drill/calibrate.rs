//! Calibrating: what was caught or counted, as a rate; and how far it is from the aim.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{
    filling::{Filling, InBox, Member, OfBox, filling, members},
    rows::{RowsAnswer, RowsRequest, check_rows, drill_rows},
    setting::{NextSetting, SettingTried, next_setting},
};
use crate::{
    crop::crop_of,
    given, reckon,
    refusal::{Checks, Refused},
    said,
    source::{Origin, Source},
    units::{Area, CountPerArea, CountPerMass, Fraction, Length, Mass, MassPerArea, Measure, PureLive, Unit},
    working::{Answer, Sheet},
};

/// A wheel off the ground rolls this much further than under the drill's weight: 2 to 5 % (common practice, no source).
const JACKED: f64 = 0.035;
/// Catches of one drill and seed that are kept.
const MOST_TRIED: usize = 50;
/// Kinds of seed that run through a box with the first.
const MOST_IN_BOX: usize = 11;
/// Within this share of the aim the drill is set (assumed).
const RIGHT: f64 = 0.05;
/// And beyond this one it is not (assumed).
const OFF: f64 = 0.10;

/// A wheel that drives the meters: how its circumference was measured, how it slips.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = DrillWheel)]
pub enum Wheel {
    /// Measured on the ground, under load, pulled along: it skids and turns too seldom.
    #[default]
    Dragged,
    /// Measured on the ground, driven by the engine: it slips and turns too often.
    Driven,
}

/// Over which way the seed was caught.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "by", rename_all = "kebab-case", deny_unknown_fields)]
#[schema(as = DrillCourse)]
pub enum Course {
    /// Driven over a measured way.
    Measured {
        /// The way.
        length: Length,
    },
    /// Wheel turned so often.
    Turns {
        /// Whole and part turns.
        turns: f64,
        /// Its rolling circumference.
        circumference: Length,
        /// It was measured with the wheel off the ground.
        #[serde(default)]
        off_the_ground: bool,
        /// What moves it in the field.
        #[serde(default)]
        wheel: Wheel,
        /// Share of the way that it skids or slips in the field; none when absent.
        #[serde(default)]
        skid: Option<Fraction>,
    },
}

/// What was caught.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "by", rename_all = "kebab-case", deny_unknown_fields)]
#[schema(as = DrillCatch)]
pub enum Caught {
    /// Each row in its own cup, left to right.
    Rows {
        /// Of each row.
        masses: Vec<Mass>,
    },
    /// Several rows in one.
    Together {
        /// Of all.
        mass: Mass,
        /// How many.
        rows: u32,
    },
}

/// What was counted on the ground.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "by", rename_all = "kebab-case", deny_unknown_fields)]
#[schema(as = DrillCount)]
pub enum SeedsSeen {
    /// Seeds along so much of a row, in several rows.
    InRows {
        /// Of each.
        counts: Vec<f64>,
        /// Of row.
        length: Length,
    },
    /// Seeds on so much ground or tarpaulin, several times.
    OnGround {
        /// Of each.
        counts: Vec<f64>,
        /// Its area.
        patch: Area,
    },
}

/// Request of the topic `drill.calibrate`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CalibrationRequest {
    /// Crop of the library, for its seeds per mass and usual row spacing.
    pub crop: String,
    /// Aim out of the bag, per area.
    pub aim: MassPerArea,
    /// Pure live seed in the lot.
    pub pls: Fraction,
    /// The lot's own; the library's when absent.
    #[serde(default)]
    pub seeds_per_mass: Option<CountPerMass>,
    /// What else runs through the same box, mixed with it.
    #[serde(default)]
    pub also: Vec<InBox>,
    /// Between rows; the crop's usual spacing when absent.
    #[serde(default)]
    pub row_spacing: Option<Length>,
    /// The way of the catch; needed with `caught`.
    #[serde(default)]
    pub course: Option<Course>,
    /// By weight.
    #[serde(default)]
    pub caught: Option<Caught>,
    /// By count.
    #[serde(default)]
    pub seen: Option<SeedsSeen>,
    /// Setting of the drill, on its own scale.
    #[serde(default)]
    pub setting: Option<f64>,
    /// What other settings of this drill came to with this seed.
    #[serde(default)]
    pub tried: Vec<SettingTried>,
}

/// Whether the drill is set.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = CalibrationVerdict)]
pub enum Verdict {
    /// Within 5 % of the aim.
    Right,
    /// Within 10 %.
    Near,
    /// Further off.
    Off,
    /// A row dropped nothing while others did: whatever the others drop, it is not fit to sow with.
    Blocked,
    /// Nothing came out.
    Nothing,
}

/// What a count of seeds says beside the weight.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[schema(as = DrillByCount)]
pub struct ByCount {
    /// Seeds on an area, living or not.
    pub seeds: CountPerArea,
    /// As a rate out of the bag.
    pub bulk_rate: MassPerArea,
    /// More or less than the catch said; none without one.
    pub against_catch: Option<Fraction>,
}

/// A drill calibrated.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[schema(as = DrillCalibration)]
pub struct Calibration {
    /// Way that the catch stands for; none where seeds were only counted.
    pub distance: Option<Length>,
    /// Reached, out of the bag: all rows, the blocked ones too.
    pub bulk_rate: MassPerArea,
    /// Of the rows that are in line, which is what a setting can change; the same where all are.
    pub sound_rate: MassPerArea,
    /// Pure live seed of it.
    #[schema(value_type = MassPerArea)]
    pub pls_rate: PureLive<MassPerArea>,
    /// Live seeds on an area, of it.
    #[schema(value_type = CountPerArea)]
    pub live_seeds: PureLive<CountPerArea>,
    /// More (+) or less (−) than the aim, by the rows in line.
    pub off_aim: Fraction,
    /// Whether it is set.
    pub verdict: Verdict,
    /// What each gets, where several run through the box.
    pub members: Vec<OfBox>,
    /// Row by row, where each was weighed.
    pub rows: Option<RowsAnswer>,
    /// By count, where seeds were counted.
    pub by_count: Option<ByCount>,
    /// To try next; none without a setting, where it is right, or where what was tried does not tell.
    pub next: Option<NextSetting>,
    /// What to think about.
    pub remarks: Vec<String>,
}

fn check(request: &CalibrationRequest) -> Checks {
    let mut checks = Checks::new();
    checks.positive("/aim", "Target rate", request.aim, Unit::KgPerHa, 1_000.0);
    checks.positive("/pls", "Pure live seed", request.pls, Unit::Percent, 100.0);
    if let Some(seeds) = request.seeds_per_mass {
        checks.within("/seeds_per_mass", "Seeds per mass", seeds, Unit::PerKg, 500.0, 50_000_000.0);
    }
    checks.require(
        request.also.len() <= MOST_IN_BOX,
        "/also",
        said!("{} more kinds of seed; the limit per box is {}", request.also.len(), MOST_IN_BOX),
    );
    let mut crops = vec![request.crop.as_str()];
    for (index, other) in request.also.iter().enumerate().take(MOST_IN_BOX) {
        let at = format!("/also/{index}");
        checks.require(!crops.contains(&other.crop.as_str()), format!("{at}/crop"), "already in this box");
        crops.push(&other.crop);
        checks.positive(&format!("{at}/aim"), "Target rate", other.aim, Unit::KgPerHa, 1_000.0);
        checks.positive(&format!("{at}/pls"), "Pure live seed", other.pls, Unit::Percent, 100.0);
        if let Some(seeds) = other.seeds_per_mass {
            checks.within(&format!("{at}/seeds_per_mass"), "Seeds per mass", seeds, Unit::PerKg, 500.0, 50_000_000.0);
        }
    }
    if let Some(spacing) = request.row_spacing {
        checks.within("/row_spacing", "Row spacing", spacing, Unit::Cm, 5.0, 200.0);
    }
    match request.course {
        Some(Course::Measured { length }) => {
            checks.within("/course/length", "Test course length", length, Unit::M, 5.0, 2_000.0);
        }
        Some(Course::Turns { turns, circumference, skid, .. }) => {
            let right = (1.0..=1_000.0).contains(&turns);
            checks.require(right, "/course/turns", said!("{} turns; enter 1–1,000", turns));
            let name = "Wheel circumference";
            let pointer = "/course/circumference";
            if circumference.to(Unit::M) > 8.0 {
                let detail =
                    said!("{} is {}, too large for a drill wheel; check inches or centimeters", name, circumference);
                checks.refuse(pointer, detail);
            } else {
                checks.within(pointer, name, circumference, Unit::M, 0.5, 8.0);
            }
            let way = Length::from_base(turns * circumference.base());
            if right {
                checks.within("/course/turns", "Distance over the turns", way, Unit::M, 5.0, 2_000.0);
            }
            if let Some(skid) = skid {
                checks.within("/course/skid", "Wheel slip", skid, Unit::Percent, 0.0, 40.0);
            }
        }
        None => checks.require(request.caught.is_none(), "/course", "enter the test course length or wheel turns"),
    }
    match &request.caught {
        Some(Caught::Rows { masses }) => check_rows(&mut checks, "/caught/masses", masses),
        Some(Caught::Together { mass, rows }) => {
            checks.within("/caught/mass", "Catch", *mass, Unit::Kg, 0.0, 500.0);
            checks.require((1..=120).contains(rows), "/caught/rows", said!("{} rows; enter 1–120", *rows));
        }
        None => checks.require(request.seen.is_some(), "/caught", "enter the catch or a seed count"),
    }
    if let Some(SeedsSeen::InRows { counts, .. } | SeedsSeen::OnGround { counts, .. }) = &request.seen {
        checks.require((1..=200).contains(&counts.len()), "/seen/counts", "enter 1–200 counts");
        for (index, count) in counts.iter().enumerate().take(200) {
            let right = (0.0..=100_000.0).contains(count);
            checks.require(right, format!("/seen/counts/{index}"), said!("{} seeds; enter 0–100,000", *count));
        }
    }
    match &request.seen {
        Some(SeedsSeen::InRows { length, .. }) => {
            checks.within("/seen/length", "Row length", *length, Unit::Cm, 10.0, 10_000.0);
        }
        Some(SeedsSeen::OnGround { patch, .. }) => {
            checks.within("/seen/patch", "Sheet or tray area", *patch, Unit::M2, 0.01, 100.0)
        }
        None => {}
    }
    let scale = |checks: &mut Checks, pointer: String, setting: f64| {
        let right = (0.0..=100_000.0).contains(&setting) && setting > 0.0;
        checks.require(right, pointer, said!("Setting is {}; enter a number above zero", setting));
    };
    if let Some(setting) = request.setting {
        scale(&mut checks, "/setting".to_owned(), setting);
    }
    let many = request.tried.len();
    checks.require(many <= MOST_TRIED, "/tried", said!("{} catches; the limit is {}", many, MOST_TRIED));
    for (index, one) in request.tried.iter().enumerate().take(MOST_TRIED) {
        scale(&mut checks, format!("/tried/{index}/setting"), one.setting);
        checks.within(&format!("/tried/{index}/rate"), "Rate", one.rate, Unit::KgPerHa, 0.0, 2_000.0);
    }
    checks
}

/// Way that the catch stands for, in the field.
fn way(sheet: &mut Sheet, course: Course) -> Length {
    match course {
        Course::Measured { length } => sheet.input("distance", length, Origin::Given),
        Course::Turns { turns, circumference, off_the_ground, wheel, skid } => {
            given!(sheet; turns, Origin::Given);
            let measured = if off_the_ground { "circumference_off_the_ground" } else { "circumference" };
            let mut circumference = sheet.input(measured, circumference, Origin::Given);
            if off_the_ground {
                given!(sheet; longer_off_the_ground = Fraction::from_base(1.0 + JACKED),
                    Origin::assumed("a circumference measured under load"));
                let formula = "circumference_off_the_ground / longer_off_the_ground";
                let loaded = Length::from_base(circumference.base() / longer_off_the_ground.base());
                circumference = sheet.line("circumference", formula, loaded);
            }
            let skid = match skid {
                Some(skid) => sheet.input("skid", skid, Origin::Given),
                None => sheet.input(
                    "skid",
                    Fraction::ZERO,
                    Origin::assumed("wheel turns over a measured course in the field"),
                ),
            };
            let rolled = turns * circumference.base();
            match wheel {
                Wheel::Dragged => {
                    let distance = Length::from_base(rolled / (1.0 - skid.base()));
                    sheet.line("distance", "turns * circumference / (1 - skid)", distance)
                }
                Wheel::Driven => {
                    let distance = Length::from_base(rolled * (1.0 - skid.base()));
                    sheet.line("distance", "turns * circumference * (1 - skid)", distance)
                }
            }
        }
    }
}

/// The topic `drill.calibrate`: rate = catch ÷ (rows × row spacing × distance).
///
/// # Errors
/// An unknown crop; no catch and no count; a catch, way, wheel, count or setting that can't be.
///
/// ```
/// use agronomy::{drill::{CalibrationRequest, calibrate}, units::Unit};
/// let request = serde_json::json!({"crop": "alfalfa", "aim": {"value": 40, "unit": "lb/ac"}, "pls": {"value": 90, "unit": "%"},
///     "row_spacing": {"value": 7.5, "unit": "in"}, "course": {"by": "measured", "length": {"value": 100, "unit": "ft"}},
///     "caught": {"by": "together", "mass": {"value": 0.30, "unit": "lb"}, "rows": 5}});
/// let request: CalibrationRequest = serde_json::from_value(request).unwrap();
/// let rate = calibrate(&request).unwrap().value.bulk_rate;
/// assert!((rate.to(Unit::LbPerAc) - 41.818).abs() < 0.001);
/// ```
pub fn calibrate(request: &CalibrationRequest) -> Result<Answer<Calibration>, Refused> {
    let crop = crop_of(&request.crop, "/crop")?;
    let (Some(seed), Some(sowing)) = (&crop.seed, &crop.sowing) else {
        return Err(Refused::one("/crop", format!("{} is planted, not drilled", crop.name)));
    };
    check(request).done()?;
    let mut sheet = Sheet::new(format!("drill calibration for {}", crop.name));
    sheet.source(Source::common_practice("rate = catch ÷ (rows × row spacing × distance)"));
    let others = members(&request.also)?;
    let row_spacing = match request.row_spacing {
        Some(spacing) => sheet.input("row_spacing", spacing, Origin::Given),
        None => sheet.input("row_spacing", sowing.row_spacing.measure(), sowing.row_spacing.origin()),
    };
    let first = Member { crop, seed, aim: request.aim, pls: request.pls, seeds_per_mass: request.seeds_per_mass };
    let filling = filling(&mut sheet, &first, &others);
    let Filling { aim, seeds_per_mass, .. } = filling;

    let mut remarks = Vec::new();
    if !others.is_empty() {
        remarks.push(
            "Light and heavy seed separate in a shaking box. Fill to two thirds at most and stir, or use two boxes."
                .to_owned(),
        );
    }
    let (mut distance, mut rows) = (None, None);
    // All rows, and those in line.
    let mut by_catch = None;
    if let (Some(caught), Some(course)) = (&request.caught, request.course) {
        let distance_m = way(&mut sheet, course);
        distance = Some(distance_m);
        let (mass, number) = match caught {
            Caught::Rows { masses } => {
                let found = drill_rows(&RowsRequest { rows: masses.clone() })?;
                rows = Some(sheet.part(found));
                (masses.iter().copied().sum::<Mass>(), masses.len() as f64)
            }
            Caught::Together { mass, rows } => (*mass, f64::from(*rows)),
        };
        given!(sheet; catch = mass, Origin::Given);
        given!(sheet; rows_caught = number, Origin::Given);
        let of = Area::from_base(rows_caught * (row_spacing * distance_m).base());
        let area_caught = sheet.line("area_caught", "rows_caught * row_spacing * distance", of);
        let all = sheet.line("bulk_rate", "catch / area_caught", catch / area_caught);
        let mut sound_rate = all;
        if let Some(found) = &rows {
            let sound: Vec<Mass> = found.sound().map(|row| row.caught).collect();
            if sound.is_empty() || sound.len() == masses_of(caught) {
                // All in line, or none that tells.
            } else {
                given!(sheet; catch_of_rows_in_line = sound.iter().copied().sum::<Mass>(), Origin::Given);
                given!(sheet; rows_in_line = sound.len() as f64, Origin::Given);
                let of = Area::from_base(rows_in_line * (row_spacing * distance_m).base());
                let area_of_rows_in_line =
                    sheet.line("area_of_rows_in_line", "rows_in_line * row_spacing * distance", of);
                let formula = "catch_of_rows_in_line / area_of_rows_in_line";
                sound_rate = sheet.line("rate_of_rows_in_line", formula, catch_of_rows_in_line / area_of_rows_in_line);
                remarks.push(
                    "Rows that are off count toward the field rate but not the setting. Clear them, then catch again."
                        .to_owned(),
                );
            }
            if found.rows.len() < 4 {
                remarks.push("Fewer than four rows caught; the other rows are unknown.".to_owned());
            }
        }
        by_catch = Some((all, sound_rate));
    }
    let by_count = request.seen.as_ref().map(|seen| {
        let (counts, many) = match seen {
            SeedsSeen::InRows { counts, .. } | SeedsSeen::OnGround { counts, .. } => (counts, counts.len() as f64),
        };
        given!(sheet; seeds_counted = counts.iter().sum::<f64>(), Origin::Given);
        given!(sheet; counts_made = many, Origin::Given);
        let patch = match seen {
            SeedsSeen::InRows { length, .. } => {
                given!(sheet; length_of_row = *length, Origin::Given);
                sheet.line("ground_of_a_count", "length_of_row * row_spacing", length_of_row * row_spacing)
            }
            SeedsSeen::OnGround { patch, .. } => sheet.input("ground_of_a_count", *patch, Origin::Given),
        };
        let seeds = CountPerArea::from_base(seeds_counted / (counts_made * patch.base()));
        let seeds = sheet.line("seeds_on_the_ground", "seeds_counted / (counts_made * ground_of_a_count)", seeds);
        let bulk = MassPerArea::from_base(seeds.base() / seeds_per_mass.base());
        let rate = sheet.line("rate_by_count", "seeds_on_the_ground / seeds_per_mass", bulk);
        let against_catch = by_catch.filter(|(all, _)| all.base() > 0.0).map(|(all, _)| {
            let against = Fraction::from_base((rate / all).base() - 1.0);
            sheet.line("count_against_catch", "rate_by_count / bulk_rate - 1", against)
        });
        if against_catch.is_some_and(|against| against.base().abs() > 0.15) {
            remarks.push("Count and catch differ by more than 15%. Check the seed count, the seeds per pound on the tag and the test course.".to_owned());
        }
        ByCount { seeds, bulk_rate: rate, against_catch }
    });
    let (all, sound_rate, named) = match (by_catch, &by_count) {
        (Some((all, sound)), _) if sound == all => (all, sound, "bulk_rate"),
        (Some((all, sound)), _) => (all, sound, "rate_of_rows_in_line"),
        (None, Some(counted)) => {
            let rate = sheet.line("bulk_rate", "rate_by_count", counted.bulk_rate);
            (rate, rate, "bulk_rate")
        }
        (None, None) => return Err(Refused::one("/caught", "enter the catch or a seed count")),
    };
    let bulk_rate = all;
    let pls = filling.pls;
    // Everything beside the rate is of the rows in line, as the rate is.
    let pls_rate = sheet.line("pls_rate", &format!("{named} * pls"), sound_rate * pls);
    let live_seeds = match filling.live_per_mass {
        None => {
            reckon!(sheet; live_seeds = pls_rate * seeds_per_mass);
            live_seeds
        }
        Some(live_per_mass) => {
            sheet.line("live_seeds", &format!("{named} * live_seeds_per_mass"), sound_rate * live_per_mass)
        }
    };
    let of_box = if others.is_empty() {
        vec![]
    } else {
        let all = std::iter::once(&first).chain(&others);
        all.map(|member| {
            let id = member.word();
            let share = member.aim.base() / aim.base();
            let bulk = MassPerArea::from_base(sound_rate.base() * share);
            let bulk_rate = sheet.line(&format!("rate_of_{id}"), &format!("{named} * aim_of_{id} / aim"), bulk);
            OfBox { crop: member.crop.id.clone(), bulk_rate, pls_rate: PureLive(bulk_rate * member.pls) }
        })
        .collect()
    };
    let off = Fraction::from_base((sound_rate / aim).base() - 1.0);
    let off_aim = sheet.line("off_the_aim", &format!("{named} / aim - 1"), off);
    let verdict = match off_aim.base().abs() {
        _ if sound_rate.base() <= 0.0 => Verdict::Nothing,
        _ if rows.as_ref().is_some_and(|rows: &RowsAnswer| rows.blocked().next().is_some()) => Verdict::Blocked,
        off if off <= RIGHT + 1e-9 => Verdict::Right,
        off if off <= OFF + 1e-9 => Verdict::Near,
        _ => Verdict::Off,
    };
    // A blocked row says nothing against the setting: the others may be right.
    let elsewhere = sound_rate.base() > 0.0 && off_aim.base().abs() > RIGHT + 1e-9;
    let next = request.setting.filter(|_| elsewhere).and_then(|setting| {
        let mut tried = request.tried.clone();
        tried.push(SettingTried { setting, rate: sound_rate });
        let next = next_setting(&tried, aim)?;
        sheet.input("setting", setting, Origin::Given);
        if request.tried.is_empty() {
            sheet.line("setting_to_try", &format!("setting * aim / {named}"), next.setting);
        } else {
            sheet.gathered("setting_to_try", "where the line through the catches meets the target", next.setting);
        }
        Some(next)
    });
    sheet.would_change("A new lot, damp seed, another speed or box level: recalibrate for each.");
    sheet.caution("drill-moving-parts");
    sheet.caution("treated-seed");
    Ok(sheet.answer(Calibration {
        distance,
        bulk_rate,
        sound_rate,
        pls_rate: PureLive(pls_rate),
        live_seeds: PureLive(live_seeds),
        off_aim,
        verdict,
        members: of_box,
        rows,
        by_count,
        next,
        remarks,
    }))
}

fn masses_of(caught: &Caught) -> usize {
    match caught {
        Caught::Rows { masses } => masses.len(),
        Caught::Together { rows, .. } => *rows as usize,
    }
}
