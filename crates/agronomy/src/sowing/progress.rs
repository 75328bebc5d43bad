//! Halfway: the rate that the field has really had, and whether the seed will last.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    given, reckon,
    refusal::{Checks, Refused},
    source::{Origin, Source},
    units::{Area, AreaPerTime, Fraction, Mass, MassPerArea, Measure, Time, Unit},
    working::{Answer, Sheet},
};

/// Within this share of the aim, go on (assumed).
const GO_ON: f64 = 0.05;
/// Beyond this one, stop (assumed).
const STOP: f64 = 0.10;

/// Request of the topic `sowing.progress`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ProgressRequest {
    /// Sown so far.
    pub area_done: Area,
    /// Gone from the bags so far.
    pub seed_used: Mass,
    /// Rate aimed at, out of the bag.
    pub aim: MassPerArea,
    /// Still to sow.
    pub area_left: Area,
    /// Still there, in box and bags.
    pub seed_left: Mass,
    /// What the drill does in an hour, turns and fillings too.
    #[serde(default)]
    pub field_capacity: Option<AreaPerTime>,
}

/// What to do.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum ProgressVerdict {
    /// Within 5 % of the aim.
    GoOn,
    /// Within 10 %: set it a little.
    Adjust,
    /// Further off: stop and set it.
    Stop,
}

/// What to do so far off the aim.
pub(super) fn verdict_of(off: Fraction) -> ProgressVerdict {
    match off.base().abs() {
        off if off <= GO_ON + 1e-9 => ProgressVerdict::GoOn,
        off if off <= STOP + 1e-9 => ProgressVerdict::Adjust,
        _ => ProgressVerdict::Stop,
    }
}

/// Where the sowing stands.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[schema(as = SowingProgress)]
pub struct Progress {
    /// Reached so far, out of the bag.
    pub rate: MassPerArea,
    /// More or less than the aim.
    pub off_aim: Fraction,
    /// What to do.
    pub verdict: ProgressVerdict,
    /// Area that the seed left sows at the rate so far.
    pub lasts: Area,
    /// Of what is left to sow, the part without seed at that rate; none where it lasts.
    pub short_area: Option<Area>,
    /// Seed wanting, at that rate.
    pub short_seed: Option<Mass>,
    /// Seed wanting or over, at the aim: over is negative.
    pub wanting_at_aim: Mass,
    /// Rate at which what is left just lasts.
    pub rate_that_lasts: Option<MassPerArea>,
    /// Hours left.
    pub hours: Option<Time>,
}

/// Time that the rest takes at the pace so far; the area that is left stands in the sheet.
pub(super) fn time_left(sheet: &mut Sheet, area_left: Area, capacity: AreaPerTime) -> Time {
    given!(sheet; field_capacity = capacity, Origin::Given);
    sheet.line("time_left", "area_left / field_capacity", area_left / field_capacity)
}

/// The topic `sowing.progress`.
///
/// # Errors
/// An area, mass, rate or capacity that can't be.
///
/// ```
/// use agronomy::{sowing::{ProgressRequest, sowing_progress}, units::{Area, Mass, MassPerArea, Unit}};
/// let (ac, lb) = (|ac| Area::new(ac, Unit::Ac), |lb| Mass::new(lb, Unit::Lb));
/// let request = ProgressRequest { area_done: ac(7.2), seed_used: lb(130.0), aim: MassPerArea::new(16.0, Unit::LbPerAc),
///     area_left: ac(9.0), seed_left: lb(150.0), field_capacity: None };
/// let found = sowing_progress(&request).unwrap().value;
/// assert!((found.off_aim.to(Unit::Percent) - 12.8).abs() < 0.1);
/// assert!((found.lasts.to(Unit::Ac) - 8.31).abs() < 0.01);
/// ```
pub fn sowing_progress(request: &ProgressRequest) -> Result<Answer<Progress>, Refused> {
    let mut checks = Checks::new();
    checks.within("/area_done", "Area sown", request.area_done, Unit::Ha, 0.001, 20_000.0);
    checks.positive("/seed_used", "Seed used", request.seed_used, Unit::Kg, 1e7);
    checks.positive("/aim", "Target rate", request.aim, Unit::KgPerHa, 2_000.0);
    checks.within("/area_left", "Area left", request.area_left, Unit::Ha, 0.0, 20_000.0);
    checks.within("/seed_left", "Seed left", request.seed_left, Unit::Kg, 0.0, 1e7);
    if let Some(capacity) = request.field_capacity {
        checks.within("/field_capacity", "Work rate", capacity, Unit::HaPerH, 0.01, 100.0);
    }
    checks.done()?;
    let mut sheet = Sheet::new("sowing progress: rate so far and seed left");
    sheet.source(Source::common_practice("rate = seed used ÷ area done"));
    given!(sheet; area_done = request.area_done, Origin::Given);
    given!(sheet; seed_used = request.seed_used, Origin::Given);
    given!(sheet; aim = request.aim, Origin::Given);
    given!(sheet; area_left = request.area_left, Origin::Given);
    given!(sheet; seed_left = request.seed_left, Origin::Given);
    reckon!(sheet; rate_so_far = seed_used / area_done);
    let off = Fraction::from_base((rate_so_far / aim).base() - 1.0);
    let off_aim = sheet.line("off_the_aim", "rate_so_far / aim - 1", off);
    reckon!(sheet; area_that_the_seed_sows = seed_left / rate_so_far);
    reckon!(sheet; seed_for_the_rest_at_the_aim = aim * area_left);
    let wanting = Mass::from_base(seed_for_the_rest_at_the_aim.base() - seed_left.base());
    let wanting_at_aim = sheet.line("seed_wanting_at_the_aim", "seed_for_the_rest_at_the_aim - seed_left", wanting);
    let short = area_left.base() - area_that_the_seed_sows.base();
    let mut short_area = None;
    let mut short_seed = None;
    if short > 1e-6 * area_left.base().max(1.0) {
        let area = sheet.line("area_without_seed", "area_left - area_that_the_seed_sows", Area::from_base(short));
        short_area = Some(area);
        short_seed = Some(sheet.line("seed_wanting", "area_without_seed * rate_so_far", rate_so_far * area));
    }
    let rate_that_lasts =
        (area_left.base() > 0.0).then(|| sheet.line("rate_that_lasts", "seed_left / area_left", seed_left / area_left));
    let hours = request.field_capacity.map(|capacity| time_left(&mut sheet, area_left, capacity));
    let verdict = verdict_of(off_aim);
    Ok(sheet.answer(Progress {
        rate: rate_so_far,
        off_aim,
        verdict,
        lasts: area_that_the_seed_sows,
        short_area,
        short_seed,
        wanting_at_aim,
        rate_that_lasts,
        hours,
    }))
}
