//! The topic `water.balance`: the root zone day by day over a record of weather.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Bed, Canopy, Holds, OwnSoil, Profile, SEEDBED_ROOTS, Today, Water};
use crate::{
    crop::{Crop, Drainage, crop_of},
    given, reckon,
    refusal::{Checks, Refused},
    said,
    source::{Origin, Source},
    texture::Texture,
    units::{Fraction, Length, Measure, Quantity, Unit},
    weather::{WeatherInput, Years, days_between, et0, plus, sun},
    working::{Answer, Sheet},
};

/// Water brought.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Irrigation {
    /// The day.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// How much.
    pub depth: Length,
}

/// A basal crop coefficient on its day.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Coefficient {
    /// The day.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// The coefficient: transpiration as a share of reference evapotranspiration.
    pub basal: f64,
}

/// Request of the topic `water.balance`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct BalanceRequest {
    /// The weather.
    pub weather: WeatherInput,
    /// The established crop; a bare seedbed when absent.
    #[serde(default)]
    pub crop: Option<String>,
    /// Texture of the root zone.
    pub texture: Texture,
    /// Drainage class.
    pub drainage: Drainage,
    /// The soil's own figures, where they are known.
    #[serde(default)]
    pub soil: OwnSoil,
    /// How deep roots draw; the crop's own, or that of a seedbed, when absent.
    #[serde(default)]
    pub root_depth: Option<Length>,
    /// Share of the available water that is used before growth suffers; the crop's own when absent.
    #[serde(default)]
    pub depletion: Option<Fraction>,
    /// Basal crop coefficients on their days, in order: between two of them by straight line, before the first and
    /// after the last as they are. The crop's own, awake and at rest, when there are none.
    #[serde(default)]
    pub coefficients: Vec<Coefficient>,
    /// Missing from the root zone on the evening before the first day.
    #[serde(default)]
    pub missing: Length,
    /// Missing from the top ten centimetres then; the same share as of the root zone when absent.
    #[serde(default)]
    pub top_missing: Option<Length>,
    /// Water brought.
    #[serde(default)]
    pub irrigation: Vec<Irrigation>,
}

/// A water balance.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Balance {
    /// The first day.
    #[schema(value_type = String, format = Date)]
    pub first: Date,
    /// Missing from the root zone at the end of each day, mm; ends at the first day that does not
    /// tell.
    pub missing: Vec<f64>,
    /// What the crop lacks nothing above: missing more than this is stress.
    pub readily_available: Quantity,
    /// Available in the root zone in all.
    pub total_available: Quantity,
    /// Missing at the end.
    pub missing_at_end: Quantity,
    /// Rain and snow in all.
    pub rain: Quantity,
    /// Irrigation in all.
    pub irrigated: Quantity,
    /// Ran off as it fell, in all, by the curve number.
    pub runoff: Quantity,
    /// Found no room in a soil that lets nothing through, and ran off, in all.
    pub overflow: Quantity,
    /// Drained in all.
    pub drained: Quantity,
    /// Used in all.
    pub used: Quantity,
    /// Days on which the crop suffered.
    pub stress_days: usize,
    /// Days on which a seedbed could be worked.
    pub workable_days: usize,
}

/// The coefficient of a day.
fn on_day(coefficients: &[Coefficient], day: Date) -> Option<f64> {
    let after = coefficients.partition_point(|one| one.on <= day);
    let before = after.checked_sub(1).and_then(|index| coefficients.get(index));
    match (before, coefficients.get(after)) {
        (Some(before), Some(next)) => {
            let share = f64::from(days_between(before.on, day)) / f64::from(days_between(before.on, next.on));
            Some(before.basal + (next.basal - before.basal) * share)
        }
        (Some(one), None) | (None, Some(one)) => Some(one.basal),
        (None, None) => None,
    }
}

/// The place's water as it is asked about.
fn bed_of(request: &BalanceRequest, crop: Option<&Crop>, soil: Holds) -> Bed {
    let own = match crop {
        Some(crop) => Bed::stand_on(crop, soil, request.drainage),
        None => Bed::bare(soil, request.drainage, SEEDBED_ROOTS),
    };
    let roots = request.root_depth.map_or(own.canopy.roots, Measure::base);
    let canopy = Canopy {
        roots,
        depletion_fraction: request.depletion.map_or(own.canopy.depletion_fraction, Measure::base),
        rests_below: own.canopy.rests_below.filter(|_| request.coefficients.is_empty()),
        ..own.canopy
    };
    Bed { profile: Profile::root_zone(soil, request.drainage, roots), canopy }
}

/// The topic `water.balance`.
///
/// # Errors
/// Weather that can't be read, an unknown crop, water that can't be.
pub fn balance(request: &BalanceRequest) -> Result<Answer<Balance>, Refused> {
    let crop = request.crop.as_deref().map(|id| crop_of(id, "/crop")).transpose()?;
    let years = request.weather.years()?;
    let soil = request.soil.over(request.texture).map_err(|refused| refused.under("/soil"))?;
    let bed = bed_of(request, crop, soil);
    check(request, &bed, &years)?;
    let psychrometric = et0::psychrometric(et0::air_pressure(years.place.elevation));
    let root_missing = request.missing.base();
    let top_missing = request.top_missing.map_or(bed.profile.top_like(root_missing), Measure::base);
    let mut water = Water { root_missing, top_missing, ..Water::default() };
    let mut sums = [0.0; 6];
    let (mut stress_days, mut workable_days) = (0, 0);
    let mut missing = vec![];
    let mut last = None;
    for (index, day) in years.days.iter().enumerate().take_while(|(_, day)| day.tells()) {
        let date = plus(years.first, index as i32);
        let sky = sun::sky_on(years.place.latitude, date);
        let mut today = Today::of(*day, et0::of_day(sky, years.place.elevation, psychrometric, *day));
        let brought = request.irrigation.iter().filter(|one| one.on == date).map(|one| one.depth.base());
        today.irrigation = brought.sum();
        let basal = on_day(&request.coefficients, date).unwrap_or(bed.canopy.basal);
        let bed = Bed { canopy: Canopy { basal, ..bed.canopy }, ..bed };
        last = Some((water, today, date, bed));
        let moved = water.day(&bed.profile, &bed.canopy, today);
        let parts = [today.rain, today.irrigation, moved.runoff, moved.overflow, moved.drained, moved.used];
        for (sum, part) in sums.iter_mut().zip(parts) {
            *sum += part;
        }
        stress_days += usize::from(moved.stress < 1.0);
        workable_days += usize::from(water.workable(&bed.profile, today));
        missing.push(water.root_missing * 1_000.0);
    }
    let Some((before, today, date, bed)) = last else {
        return Err(Refused::one("/weather", "the first day is missing temperature or rain"));
    };
    let mut sheet = Sheet::new("water in the root zone");
    let readily_available = worked_out(&mut sheet, request, crop, soil, &bed, (before, today, date));
    let names =
        ["rain_in_all", "irrigated_in_all", "runoff_in_all", "overflow_in_all", "drained_in_all", "used_in_all"];
    for (name, sum) in names.iter().zip(sums) {
        sheet.gathered(name, "sum of the days", Length::from_base(sum));
    }
    sheet.would_change("A rain gauge at the field, and measured soil water-holding instead of a texture value.");
    let depth = |metres: f64| Quantity::water(Length::from_base(metres));
    Ok(sheet.answer(Balance {
        first: years.first,
        missing_at_end: depth(water.root_missing),
        readily_available: depth(readily_available),
        total_available: depth(bed.profile.upper),
        rain: depth(sums[0]),
        irrigated: depth(sums[1]),
        runoff: depth(sums[2]),
        overflow: depth(sums[3]),
        drained: depth(sums[4]),
        used: depth(sums[5]),
        missing,
        stress_days,
        workable_days,
    }))
}

fn check(request: &BalanceRequest, bed: &Bed, years: &Years) -> Result<(), Refused> {
    let mut checks = Checks::new();
    if let Some(depth) = request.root_depth {
        checks.within("/root_depth", "Root depth", depth, Unit::Cm, 10.0, 500.0);
    }
    if let Some(share) = request.depletion {
        checks.within("/depletion", "Depletion fraction", share, Unit::Percent, 10.0, 90.0);
    }
    let most = "enter at most 400 coefficients";
    checks.require(request.coefficients.len() <= 400, "/coefficients", most);
    for (index, one) in request.coefficients.iter().enumerate() {
        let detail = said!("Coefficient is {}; enter 0–1.5", one.basal);
        checks.require((0.0..=1.5).contains(&one.basal), format!("/coefficients/{index}/basal"), detail);
        let in_order = index == 0 || request.coefficients[index - 1].on < one.on;
        let detail = said!("{} is out of order or repeated; list coefficients day by day", one.on);
        checks.require(in_order, format!("/coefficients/{index}/on"), detail);
    }
    checks.within("/missing", "Soil water deficit", request.missing, Unit::M, 0.0, bed.profile.upper);
    if let Some(top) = request.top_missing {
        checks.within("/top_missing", "Topsoil water deficit", top, Unit::M, 0.0, bed.profile.total_evaporable);
    }
    checks.require(request.irrigation.len() <= 5_000, "/irrigation", "enter at most 5,000 irrigations");
    for (index, water) in request.irrigation.iter().enumerate().take(5_000) {
        checks.within(&format!("/irrigation/{index}/depth"), "Irrigation", water.depth, Unit::Mm, 0.0, 300.0);
        years.check_day(&mut checks, format!("/irrigation/{index}/on"), "Irrigation date", water.on);
    }
    checks.done()
}

/// The last day once more, on a sheet; gives what is readily available, m.
fn worked_out(
    sheet: &mut Sheet,
    request: &BalanceRequest,
    crop: Option<&Crop>,
    soil: Holds,
    bed: &Bed,
    (mut before, today, date): (Water, Today, Date),
) -> f64 {
    sheet.source(Source::published(
        "Allen, Pereira, Raes & Smith 1998, FAO Irrigation and Drainage Paper 56, equations 71 to 88, tables 19 and 22",
    ));
    sheet.source(Source::published("USDA NRCS National Engineering Handbook part 630, chapter 10: curve numbers"));
    let by_texture = |own: bool| {
        if own { Origin::Given } else { Origin::assumed("a water-holding test of this soil") }
    };
    let own = request.soil;
    let of_crop = |origin: fn(&Crop) -> Origin, otherwise: Origin| crop.map_or(otherwise, origin);
    given!(sheet; field_capacity = soil.field_capacity, by_texture(own.field_capacity.is_some()));
    given!(sheet; wilting_point = soil.wilting_point, by_texture(own.wilting_point.is_some()));
    let Bed { profile, canopy } = bed;
    let roots = match request.root_depth {
        Some(_) => Origin::Given,
        None => of_crop(
            |crop| crop.climate.root_depth.origin(),
            Origin::assumed("the depth of loosened soil under a seedbed"),
        ),
    };
    given!(sheet; root_depth: Length = profile.upper / (field_capacity - wilting_point), roots);
    let depletion = match request.depletion {
        Some(_) => Origin::Given,
        None => of_crop(|crop| crop.climate.depletion.origin(), Origin::assumed("the crop\u{2019}s own")),
    };
    given!(sheet; depletion_fraction = canopy.depletion_fraction, depletion);
    let basal = if request.coefficients.is_empty() {
        of_crop(|crop| crop.climate.crop_coefficient.origin(), Origin::sourced(&sun::fao56("table 17, bare soil")))
    } else {
        Origin::Given
    };
    given!(sheet; basal_coefficient = canopy.basal_at(before.warmth_after(today.mean)), basal);
    given!(sheet; exposed_share = canopy.exposed, Origin::assumed("a check of ground cover"));
    given!(sheet; total_evaporable: Length = profile.total_evaporable, by_texture(own.field_capacity.is_some()));
    given!(sheet; readily_evaporable: Length = profile.readily_evaporable, by_texture(own.readily_evaporable.is_some()));
    reckon!(sheet; total_available: Length = (field_capacity - wilting_point) * root_depth);
    reckon!(sheet; readily_available: Length = depletion_fraction * total_available);
    let evening = || Origin::Worked { part: format!("the evening before {date}") };
    given!(sheet; missing_before: Length = before.root_missing, evening());
    given!(sheet; excess_before: Length = before.excess, evening());
    given!(sheet; top_missing: Length = before.top_missing, evening());
    given!(sheet; reference: Length = today.reference, Origin::measured(format!("the weather of {date}")));
    // Named for the lines that the day itself writes.
    let _ = (missing_before, excess_before, top_missing, reference, exposed_share, basal_coefficient);
    let _ = (total_evaporable, readily_evaporable);
    before.step(sheet, profile, canopy, today);
    readily_available
}
