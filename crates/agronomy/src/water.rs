//! Water in the soil: what falls, what runs off, what the crop and the sun take, what is left.
//!
//! The daily balance of FAO-56 (Allen et al. 1998) with the dual crop coefficient: a top layer that
//! evaporation dries (equations 71–77), a root zone that the crop draws on (equations 82–88).
//! Around it: runoff by curve number (USDA NRCS National Engineering Handbook, part 630, chapter
//! 10), snow ([`crate::weather::snow`]), and water above field capacity that drains over days
//! as the drainage class has it, where FAO-56 lets it go at once: it is what keeps tractors out.
//! All depths in metres of water inside, so that one code serves sheet and hot loop.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    crop::{Crop, Drainage, crop_of},
    given, reckon,
    refusal::{Checks, Refused},
    source::{Origin, Source},
    texture::Texture,
    units::{Length, Measure, Quantity, Unit, WaterPerDay},
    weather::{
        Day, WeatherInput, et0,
        maths::{larger, smaller},
        plus,
        snow::{COVERS, Snow},
        sun,
    },
    working::{Answer, Blank, Paper, Sheet},
};

/// Depth of the layer that evaporation dries, m (FAO-56: 0.10 to 0.15).
const TOP: f64 = 0.10;
/// Depth in which water above field capacity stands in the way of machines, m.
const PLOUGH: f64 = 0.25;

/// How a soil holds water.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Holds {
    /// Water at field capacity, m³/m³.
    pub field_capacity: f64,
    /// At the wilting point.
    pub wilting_point: f64,
    /// Evaporated at full speed before the surface dries, m.
    pub readily_evaporable: f64,
    /// Runoff curve number of a sown or bare field in fair order.
    pub curve_number: f64,
}

/// Of a texture: middles of the ranges in FAO-56 table 19; curve numbers for small grain in rows,
/// fair, hydrologic groups A to D (NEH 630, from memory).
pub fn holds(texture: Texture) -> Holds {
    let of = |field_capacity, wilting_point, readily_evaporable, curve_number| Holds {
        field_capacity,
        wilting_point,
        readily_evaporable,
        curve_number,
    };
    match texture {
        Texture::Sand => of(0.12, 0.045, 0.0045, 64.0),
        Texture::SandyLoam => of(0.23, 0.11, 0.008, 70.0),
        Texture::Loam => of(0.25, 0.12, 0.009, 76.0),
        Texture::SiltLoam => of(0.29, 0.15, 0.0095, 78.0),
        Texture::ClayLoam => of(0.33, 0.19, 0.0095, 83.0),
        Texture::Clay => of(0.36, 0.22, 0.01, 86.0),
    }
}

/// Share of the water above field capacity that leaves in a day (assumed by the class's words:
/// a day or two, some days, weeks).
pub fn drains(drainage: Drainage) -> f64 {
    match drainage {
        Drainage::Well => 0.65,
        Drainage::Moderate => 0.40,
        Drainage::SomewhatPoor => 0.20,
        Drainage::Poor => 0.08,
    }
}

/// A place's water: soil and what grows on it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Bed {
    /// Total available water in the root zone, m.
    pub total_available: f64,
    /// Share of it that is used before the crop suffers.
    pub depletion_fraction: f64,
    /// Most that evaporation takes from the top layer, m.
    pub total_evaporable: f64,
    /// Taken at full speed, m.
    pub readily_evaporable: f64,
    /// Share of the soil that is open to the sun and wet.
    pub exposed: f64,
    /// Basal crop coefficient.
    pub basal: f64,
    /// Share of excess that drains in a day.
    pub drains: f64,
    /// Most excess the plough layer holds, m.
    pub most_excess: f64,
    /// Storage of the curve number, m.
    pub storage: f64,
}

impl Bed {
    /// A seedbed: bare but for seedlings.
    pub fn seedbed(texture: Texture, drainage: Drainage) -> Self {
        Self::of(texture, drainage, 0.6, 0.5, 0.15, 1.0)
    }

    /// An established stand of a crop, averaged over its cuts.
    pub fn stand(crop: &Crop, texture: Texture, drainage: Drainage) -> Self {
        let climate = &crop.climate;
        Self::of(
            texture,
            drainage,
            climate.root_depth.measure::<Length>().base(),
            climate.depletion.value,
            climate.crop_coefficient.value - 0.05,
            0.15,
        )
    }

    fn of(texture: Texture, drainage: Drainage, roots: f64, depletion: f64, basal: f64, exposed: f64) -> Self {
        let soil = holds(texture);
        Self {
            total_available: (soil.field_capacity - soil.wilting_point) * roots,
            depletion_fraction: depletion,
            total_evaporable: (soil.field_capacity - 0.5 * soil.wilting_point) * TOP,
            readily_evaporable: soil.readily_evaporable,
            exposed,
            basal,
            drains: drains(drainage),
            // Pores above field capacity, about a tenth of the soil (assumed).
            most_excess: 0.10 * PLOUGH,
            storage: 25.4 / soil.curve_number - 0.254,
        }
    }
}

/// Water at the end of a day, all in m.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Water {
    /// Snow on it.
    pub snow: Snow,
    /// Missing from the top layer.
    pub top_missing: f64,
    /// Missing from the root zone.
    pub root_missing: f64,
    /// Above field capacity.
    pub excess: f64,
}

/// What moved in a day.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Moved {
    /// Ran off.
    pub runoff: f64,
    /// Went below the roots.
    pub drained: f64,
    /// Evaporated and transpired.
    pub used: f64,
    /// Stress coefficient: 1 when nothing is missed.
    pub stress: f64,
}

/// What comes and goes on a day.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Today {
    /// Lowest temperature, °C.
    pub lowest: f64,
    /// Mean temperature, °C.
    pub mean: f64,
    /// Rain or snow, m.
    pub rain: f64,
    /// Irrigation, m.
    pub irrigation: f64,
    /// Reference evapotranspiration, m.
    pub reference: f64,
}

impl Water {
    /// One day on.
    #[inline]
    pub fn step(&mut self, paper: &mut impl Paper, bed: &Bed, today: Today) -> Moved {
        let Today { mean, rain, irrigation, reference, .. } = today;
        let liquid = self.snow.step(rain, mean);
        let runoff = if liquid > 0.2 * bed.storage {
            (liquid - 0.2 * bed.storage) * (liquid - 0.2 * bed.storage) / (liquid + 0.8 * bed.storage)
        } else {
            0.0
        };
        let water_in = liquid + irrigation - runoff;
        let (total_evaporable, readily_evaporable) = (bed.total_evaporable, bed.readily_evaporable);
        let (total_available, depletion_fraction) = (bed.total_available, bed.depletion_fraction);
        let (basal_coefficient, exposed_share) = (bed.basal, bed.exposed);
        let (top_missing, missing_before) = (self.top_missing, self.root_missing);
        reckon!(paper; surface_drying = smaller(1.0, larger(0.0, (total_evaporable - top_missing) / (total_evaporable - readily_evaporable))));
        reckon!(paper; evaporation_coefficient = smaller(surface_drying * (larger(1.2, basal_coefficient + 0.05) - basal_coefficient), exposed_share * 1.2));
        reckon!(paper; stress_coefficient = smaller(1.0, larger(0.0, (total_available - missing_before) / ((1.0 - depletion_fraction) * total_available))));
        reckon!(paper; evaporated: Length = evaporation_coefficient * reference);
        reckon!(paper; transpired: Length = stress_coefficient * basal_coefficient * reference);
        let evaporated = evaporated.min((total_evaporable - top_missing).max(0.0) + water_in);
        self.top_missing = (top_missing - water_in + evaporated / exposed_share.max(0.01)).clamp(0.0, total_evaporable);
        let mut excess = self.excess + water_in - evaporated - transpired;
        let mut missing = missing_before;
        if missing > 0.0 || excess < 0.0 {
            let taken_up = excess.min(missing);
            missing -= taken_up;
            excess -= taken_up;
        }
        self.root_missing = missing.min(total_available);
        let over = (excess - bed.most_excess).max(0.0);
        let drained = (excess - over) * bed.drains;
        self.excess = excess - over - drained;
        paper.gathered_bare::<Length>(
            "missing_after",
            "missing before, less what came in, and what was evaporated and transpired",
            self.root_missing,
        );
        Moved { runoff: runoff + over, drained, used: evaporated + transpired, stress: stress_coefficient }
    }

    /// Whether a seedbed can be worked: nothing above field capacity, the surface dried off a
    /// little, no snow, not frozen, no heavy rain on the day.
    #[inline]
    pub fn workable(&self, bed: &Bed, today: Today) -> bool {
        self.excess < 0.001
            && self.top_missing > 0.12 * bed.total_evaporable
            && self.snow.water() < 0.001
            && today.mean > 0.0
            && today.rain < 0.005
    }

    /// Whether it carries a light tractor: little above field capacity, or a frozen crust, which a
    /// morning of −4 °C makes (assumed); no snow to speak of.
    #[inline]
    pub fn trafficable(&self, today: Today) -> bool {
        self.snow.water() < COVERS && (self.excess < 0.004 || today.lowest < -4.0)
    }

    /// Share of its evaporable water that the top layer still holds.
    #[inline]
    pub fn top_left(&self, bed: &Bed) -> f64 {
        1.0 - self.top_missing / bed.total_evaporable
    }
}

impl Today {
    /// From a day of weather and its reference evapotranspiration in mm.
    #[inline]
    pub fn of(day: Day, reference_mm: f64) -> Self {
        Self {
            lowest: day.tmin,
            mean: day.mean(),
            rain: day.rain * 0.001,
            irrigation: 0.0,
            reference: reference_mm * 0.001,
        }
    }
}

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
    /// Missing from the root zone on the evening before the first day.
    #[serde(default)]
    pub missing: Length,
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
    /// Ran off in all.
    pub runoff: Quantity,
    /// Drained in all.
    pub drained: Quantity,
    /// Used in all.
    pub used: Quantity,
    /// Days on which the crop suffered.
    pub stress_days: usize,
    /// Days on which a seedbed could be worked.
    pub workable_days: usize,
}

/// The topic `water.balance`.
///
/// # Errors
/// Weather that can't be read, an unknown crop, water that can't be.
pub fn balance(request: &BalanceRequest) -> Result<Answer<Balance>, Refused> {
    let crop = request.crop.as_deref().map(|id| crop_of(id, "/crop")).transpose()?;
    let years = request.weather.years()?;
    let bed = match crop {
        Some(crop) => Bed::stand(crop, request.texture, request.drainage),
        None => Bed::seedbed(request.texture, request.drainage),
    };
    let mut checks = Checks::new();
    checks.within("/missing", "what is missing", request.missing, Unit::M, 0.0, bed.total_available);
    for (index, water) in request.irrigation.iter().enumerate() {
        checks.within(&format!("/irrigation/{index}/depth"), "the irrigation", water.depth, Unit::Mm, 0.0, 300.0);
        years.check_day(&mut checks, format!("/irrigation/{index}/on"), "water brought", water.on);
    }
    checks.done()?;
    let psychrometric = et0::psychrometric(et0::air_pressure(years.place.elevation));
    let mut water = Water { root_missing: request.missing.base(), ..Water::default() };
    let mut sums = [0.0; 5];
    let (mut stress_days, mut workable_days) = (0, 0);
    let mut missing = vec![];
    let mut last = None;
    for (index, day) in years.days.iter().enumerate().take_while(|(_, day)| day.tells()) {
        let date = plus(years.first, index as i32);
        let sky = sun::sky_on(years.place.latitude, date);
        let mut today = Today::of(*day, et0::of_day(sky, years.place.elevation, psychrometric, *day));
        let brought = request.irrigation.iter().filter(|one| one.on == date).map(|one| one.depth.base());
        today.irrigation = brought.sum();
        last = Some((water, today, date));
        let moved = water.step(&mut Blank, &bed, today);
        for (sum, part) in sums.iter_mut().zip([today.rain, today.irrigation, moved.runoff, moved.drained, moved.used])
        {
            *sum += part;
        }
        stress_days += usize::from(moved.stress < 1.0);
        workable_days += usize::from(water.workable(&bed, today));
        missing.push(water.root_missing * 1_000.0);
    }
    let Some((mut before, today, date)) = last else {
        return Err(Refused::one("/weather", "the first day does not tell its temperatures and rain"));
    };
    let mut sheet = Sheet::new("water in the root zone");
    sheet.source(Source::published(
        "Allen, Pereira, Raes & Smith 1998, FAO Irrigation and Drainage Paper 56, equations 71 to 88, tables 19 and 22",
    ));
    sheet.source(Source::published("USDA NRCS National Engineering Handbook part 630, chapter 10: curve numbers"));
    let soil = holds(request.texture);
    let by_texture = || Origin::assumed("a water-holding test of this soil");
    given!(sheet; field_capacity = soil.field_capacity, by_texture());
    given!(sheet; wilting_point = soil.wilting_point, by_texture());
    given!(sheet; root_depth: Length = bed.total_available / (field_capacity - wilting_point), crop.map_or_else(
        || Origin::assumed("the depth of loosened soil under a seedbed"), |crop| crop.climate.root_depth.origin()));
    given!(sheet; depletion_fraction = bed.depletion_fraction, crop.map_or_else(
        || Origin::assumed("the crop\u{2019}s own"), |crop| crop.climate.depletion.origin()));
    given!(sheet; basal_coefficient = bed.basal, crop.map_or_else(
        || Origin::sourced(&sun::fao56("table 17, bare soil")), |crop| crop.climate.crop_coefficient.origin()));
    given!(sheet; exposed_share = bed.exposed, Origin::assumed("a look at the cover"));
    given!(sheet; total_evaporable: Length = bed.total_evaporable, by_texture());
    given!(sheet; readily_evaporable: Length = bed.readily_evaporable, by_texture());
    reckon!(sheet; total_available: Length = (field_capacity - wilting_point) * root_depth);
    reckon!(sheet; readily_available: Length = depletion_fraction * total_available);
    given!(sheet; missing_before: Length = before.root_missing, Origin::Worked { part: format!("the evening before {date}") });
    given!(sheet; top_missing: Length = before.top_missing, Origin::Worked { part: format!("the evening before {date}") });
    given!(sheet; reference: Length = today.reference, Origin::measured(format!("the weather of {date}")));
    let _ = (
        missing_before,
        top_missing,
        reference,
        exposed_share,
        basal_coefficient,
        total_evaporable,
        readily_evaporable,
    );
    before.step(&mut sheet, &bed, today);
    for (name, sum) in
        ["rain_in_all", "irrigated_in_all", "runoff_in_all", "drained_in_all", "used_in_all"].iter().zip(sums)
    {
        sheet.gathered(name, "sum of the days", Length::from_base(sum));
    }
    sheet.would_change(
        "A rain gauge at the field, and the soil\u{2019}s own water-holding, instead of its texture\u{2019}s.",
    );
    let depth = |metres: f64| Quantity::water(Length::from_base(metres));
    Ok(sheet.answer(Balance {
        first: years.first,
        missing_at_end: depth(water.root_missing),
        readily_available: depth(readily_available),
        total_available: depth(total_available),
        rain: depth(sums[0]),
        irrigated: depth(sums[1]),
        runoff: depth(sums[2]),
        drained: depth(sums[3]),
        used: depth(sums[4]),
        missing,
        stress_days,
        workable_days,
    }))
}

/// When the root zone will have lost what it can spare, and how much refills it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct IrrigationAdvice {
    /// Missing this evening.
    pub missing: Quantity,
    /// Above this the crop suffers.
    pub readily_available: Quantity,
    /// What the crop uses of reference evapotranspiration today.
    pub use_today: WaterPerDay,
    /// The day by which half of the years have lost what can be spared; absent when most never do.
    #[schema(value_type = Option<String>, format = Date)]
    pub by: Option<Date>,
    /// One year in ten is there by this day.
    #[schema(value_type = Option<String>, format = Date)]
    pub earliest: Option<Date>,
    /// Nine in ten.
    #[schema(value_type = Option<String>, format = Date)]
    pub latest: Option<Date>,
    /// Depth that refills it then.
    pub depth: Quantity,
    /// For a seedbed: light and often; the days between waterings by the balance.
    pub every_days: Option<f64>,
    /// What people do by rule of thumb, in a sentence.
    pub rule_of_thumb: String,
}

/// Days from one date to the first of a list of "reached" flags, a share of the runs being there.
pub fn reached_by(days_to: &[Option<i32>], share: f64, from: Date) -> Option<Date> {
    let mut reached: Vec<i32> = days_to.iter().flatten().copied().collect();
    reached.sort_unstable();
    let needed = (share * days_to.len() as f64).ceil() as usize;
    let days = reached.get(needed.max(1) - 1)?;
    Some(plus(from, *days))
}
