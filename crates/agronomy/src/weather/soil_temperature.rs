//! The soil at seed depth, from the air above it.
//!
//! The model stands in [`kernels::soil`]; here is what is asked and told.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use kernels::maths::{exp, sin, sqrt};
pub use kernels::soil::{
    Column, Correction, Ground, SoilCover, SoilDay, damping_depth, diffusivity, follow, morning_share, solar_of,
};

use super::{WeatherInput, days_between, plus, sun};
use crate::{
    given, reckon,
    refusal::{Checks, Refused},
    source::{Origin, Source},
    texture::Texture,
    units::{Length, Measure, Radiation, Temperature, TemperatureStep, Unit},
    working::{Answer, Paper, Sheet},
};

/// A soil thermometer's reading.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SoilReading {
    /// The day.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// How deep.
    pub depth: Length,
    /// What it showed in the morning.
    pub temperature: Temperature,
}

/// Mean and morning temperature of the soil at a depth, day by day.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SoilDays {
    /// The first day.
    #[schema(value_type = String, format = Date)]
    pub first: Date,
    /// Daily means, °C; absent where the weather does not tell.
    pub mean: Vec<Option<f64>>,
    /// Mornings, °C.
    pub morning: Vec<Option<f64>>,
    /// The morning of the last day told.
    pub last_morning: Option<Temperature>,
}

/// Request of the topic `soil.temperature`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SoilTemperatureRequest {
    /// The weather.
    pub weather: WeatherInput,
    /// How deep.
    pub depth: Length,
    /// What lies on the soil.
    #[serde(default)]
    pub cover: SoilCover,
    /// Texture of the plough layer.
    #[serde(default = "loam")]
    pub texture: Texture,
    /// Readings that correct the model.
    #[serde(default)]
    pub readings: Vec<SoilReading>,
}

fn loam() -> Texture {
    Texture::Loam
}

/// The topic `soil.temperature`.
///
/// # Errors
/// Weather that can't be read, a depth beyond half a metre, readings that can't be.
pub fn soil_temperature(request: &SoilTemperatureRequest) -> Result<Answer<SoilDays>, Refused> {
    let mut checks = Checks::new();
    checks.within("/depth", "Depth", request.depth, Unit::Cm, 0.0, 50.0);
    for (index, reading) in request.readings.iter().enumerate() {
        checks.within(
            &format!("/readings/{index}/temperature"),
            "Soil temperature",
            reading.temperature,
            Unit::DegC,
            -30.0,
            60.0,
        );
        checks.within(&format!("/readings/{index}/depth"), "Depth", reading.depth, Unit::Cm, 0.0, 50.0);
    }
    checks.done()?;
    let years = request.weather.years()?;
    let mut checks = Checks::new();
    for (index, reading) in request.readings.iter().enumerate() {
        years.check_day(&mut checks, format!("/readings/{index}/on"), "Reading date", reading.on);
    }
    checks.done()?;
    let ground = Ground::new(request.texture, request.cover);
    let depth_m = request.depth.base();
    let mut days = follow(&years, ground, depth_m);
    let differences = request.readings.iter().filter_map(|reading| {
        let index = usize::try_from(days_between(years.first, reading.on)).ok()?;
        let modelled = follow(&years, ground, reading.depth.base()).get(index).copied().flatten()?.morning;
        Some((reading.on, reading.temperature.base() - modelled))
    });
    let correction = Correction::new(differences.collect());
    for (index, day) in days.iter_mut().enumerate() {
        let add = correction.on(plus(years.first, index as i32));
        if let Some(day) = day {
            day.mean += add;
            day.morning += add;
        }
    }
    let mut sheet = Sheet::new("soil temperature at seeding depth");
    sheet.source(Source::published(
        "Campbell & Norman 1998, An Introduction to Environmental Biophysics, chapter 8: the damped wave",
    ));
    let shown = days.iter().rposition(Option::is_some).zip(days.iter().rev().find_map(|day| *day));
    if let Some((index, soil)) = shown {
        let day = years.days[index];
        let date = plus(years.first, index as i32);
        let sky = sun::sky_on(years.place.latitude, date);
        let solar_of_day = solar_of(day, sky.extraterrestrial, years.place.elevation);
        let add = correction.on(date);
        given!(sheet; depth: Length = depth_m, Origin::Given);
        given!(sheet; diffusivity = ground.diffusivity, Origin::assumed("a soil thermometer at two depths (mm²/s)"));
        given!(sheet; lowest: Temperature = day.tmin, Origin::measured(format!("the weather of {date}")));
        given!(sheet; highest: Temperature = day.tmax, Origin::measured(format!("the weather of {date}")));
        given!(sheet; solar: Radiation = solar_of_day, Origin::measured(format!("the weather of {date}")));
        given!(sheet; share_of_swing = ground.swing, Origin::assumed("a soil thermometer, morning and afternoon"));
        given!(sheet; warming_by_sun = ground.sunny, Origin::assumed("a soil thermometer"));
        reckon!(sheet; surface_mean: Temperature = (lowest + highest) / 2.0 + warming_by_sun * solar);
        let mut swing_felt = 1.0;
        if soil.snow.lies() {
            given!(sheet; snow_water: Length = soil.snow.water(), Origin::assumed("the snow, measured"));
            given!(sheet; soil_top: Temperature = soil.top, Origin::assumed("a soil thermometer"));
            given!(sheet; soil_conducts = ground.conducts(), Origin::assumed("a soil thermometer at two depths (W/(m K))"));
            let _ = (snow_water, soil_top, soil_conducts);
            (_, swing_felt) = soil.snow.above_soil(&mut sheet, surface_mean, soil.top, ground.conducts());
        }
        reckon!(sheet; damping_depth: Length = sqrt(0.02750197416627724 * diffusivity));
        reckon!(sheet; swing_at_depth: TemperatureStep = swing_felt * share_of_swing * (highest - lowest) / 2.0 * exp(0.0 - depth / damping_depth));
        reckon!(sheet; below_the_mean_at_eight: TemperatureStep = swing_at_depth * sin(depth / damping_depth));
        given!(sheet; correction: TemperatureStep = add, Origin::measured("the soil thermometer"));
        let uncorrected = soil.mean - add;
        Paper::gathered_bare::<Temperature>(
            &mut sheet,
            "mean_at_depth",
            "heat passed down from the layers above",
            uncorrected,
        );
        let mean_at_depth = uncorrected;
        reckon!(sheet; morning: Temperature = mean_at_depth - below_the_mean_at_eight + correction);
        let _ = morning;
    }
    sheet.would_change("A soil thermometer at seeding depth; three mornings adjust the model.");
    let value = SoilDays {
        first: years.first,
        last_morning: shown.map(|(_, soil)| Temperature::from_base(soil.morning)),
        mean: days.iter().map(|day| day.map(|soil| soil.mean)).collect(),
        morning: days.iter().map(|day| day.map(|soil| soil.morning)).collect(),
    };
    Ok(sheet.answer(value))
}
