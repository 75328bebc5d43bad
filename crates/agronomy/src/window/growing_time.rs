//! Growing time left: how far a sowing gets before the killing frost.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::Forecast;
use crate::{
    crop::{Crop, GrowthFacts, crop_of},
    given,
    growth::Growing,
    refusal::Refused,
    source::{Origin, Source},
    units::{Fraction, MassPerArea, Measure, Quantity, Temperature, ThermalTime, Unit},
    weather::{
        Day, WeatherInput,
        degree_days::{DegreeDayMethod, of_day},
        frost::quantile,
        plus,
    },
    working::{Answer, Sheet},
    years::{AirRun, Known, Scenarios},
};

/// A stage and the share of years that reach it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct StageReached {
    /// The stage.
    pub name: String,
    /// Warmth that leads to it.
    pub degree_days: ThermalTime,
    /// Share of years that have it before the frost.
    pub share: Fraction,
}

/// Growing time left from a day.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct TimeLeft {
    /// Years counted.
    pub years: usize,
    /// Days to the killing frost in one year of ten, in the middling one, in nine of ten.
    pub days: Vec<f64>,
    /// Warmth until then, likewise.
    pub degree_days: Vec<ThermalTime>,
    /// The killing frost, likewise; fewer than three when it does not always come.
    #[schema(value_type = Vec<String>)]
    pub frost: Vec<Date>,
    /// Share of years in which it comes within the half-year after.
    pub frost_comes: Fraction,
    /// Stages, in order.
    pub stages: Vec<StageReached>,
    /// Dry matter above ground by then, likewise, with water and nitrogen enough. Empty for a crop whose
    /// growth from seed is not known, and where frost is not what ends it: in one year of ten or more
    /// none comes, or in the middling year the crop is ripe before.
    pub dry_matter: Vec<MassPerArea>,
}

/// Days looked ahead for a frost.
const AHEAD: usize = 200;

/// Growing time left for a crop sown on a day of the curve.
pub fn time_left(all: &Scenarios, crop: &Crop, day: usize) -> TimeLeft {
    let climate = &crop.climate;
    let frost: f64 = climate.killing_frost.measure::<Temperature>().base();
    let base: f64 = climate.base.measure::<Temperature>().base();
    let ends: Vec<(Option<usize>, f64)> = all
        .runs()
        .iter()
        .map(|run| {
            let days: &[Day] = &run.days()[day..(day + AHEAD).min(run.days().len())];
            // A late frost of spring ends no season.
            let cold = |(ahead, one): (usize, &Day)| one.tmin <= frost && !all.longer_on(day + ahead);
            let end = days.iter().enumerate().position(cold);
            let warmth = days[..end.unwrap_or(days.len())]
                .iter()
                .map(|day| of_day(DegreeDayMethod::MeanThenBase, base, f64::INFINITY, day.tmin, day.tmax))
                .sum();
            (end, warmth)
        })
        .collect();
    let grown = |facts: &GrowthFacts| -> Vec<f64> {
        let until = ends.iter().map(|(end, _)| end.unwrap_or(AHEAD));
        let of = |(run, until): (&AirRun, usize)| {
            let mut growing = Growing::default();
            let days = run.days().iter().enumerate().skip(day).take(until);
            days.for_each(|(at, one)| growing.step(facts, base, one.mean(), run.solar(at)));
            growing.mass / 1_000.0
        };
        all.runs().iter().zip(until).map(of).collect()
    };
    let sorted = |values: Vec<f64>| {
        let mut values = values;
        values.sort_by(f64::total_cmp);
        values
    };
    let spread =
        |values: &[f64]| [0.1, 0.5, 0.9].into_iter().filter_map(|share| quantile(values, share)).collect::<Vec<f64>>();
    let days = sorted(ends.iter().map(|(end, _)| end.unwrap_or(AHEAD) as f64).collect());
    let warmth = sorted(ends.iter().map(|(_, warmth)| *warmth).collect());
    let frosts = ends.iter().filter(|(end, _)| end.is_some()).count();
    let share = |count: usize| Fraction::from_base(count as f64 / ends.len().max(1) as f64);
    let start = all.date(day);
    TimeLeft {
        years: ends.len(),
        // A year whose frost does not come is at the end of all.
        frost: spread(&days)
            .into_iter()
            .filter(|days| *days < AHEAD as f64)
            .map(|days| plus(start, days.round() as i32))
            .collect(),
        dry_matter: crop
            .growth
            .as_ref()
            .filter(|_| frosts * 10 > ends.len() * 9)
            .filter(|facts| quantile(&warmth, 0.5).is_some_and(|middle| middle < facts.ends))
            .map(|facts| spread(&sorted(grown(facts))).into_iter().map(MassPerArea::from_base).collect())
            .unwrap_or_default(),
        days: spread(&days),
        degree_days: spread(&warmth).into_iter().map(ThermalTime::from_base).collect(),
        frost_comes: share(frosts),
        stages: climate
            .stages
            .iter()
            .map(|stage| StageReached {
                name: stage.name.clone(),
                degree_days: ThermalTime::from_base(stage.degree_days),
                share: share(warmth.iter().filter(|warmth| **warmth >= stage.degree_days).count()),
            })
            .collect(),
    }
}

/// Request of the topic `growing_time.left`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TimeLeftRequest {
    /// Crop of the library.
    pub crop: String,
    /// Sown, or cut, on this day.
    #[schema(value_type = String, format = Date)]
    pub from: Date,
    /// The years.
    pub weather: WeatherInput,
}

/// The topic `growing_time.left`.
///
/// # Errors
/// An unknown crop, weather that can't be read, or fewer than ten years of it.
pub fn growing_time_left(request: &TimeLeftRequest) -> Result<Answer<TimeLeft>, Refused> {
    let crop = crop_of(&request.crop, "/crop")?;
    let years = request.weather.years()?;
    let forecast = Forecast::default();
    let known = Known { years: &years, today: request.from, forecast: &forecast };
    let all = Scenarios::new(known, request.from, 1);
    enough(all.runs().len())?;
    let left = time_left(&all, crop, 0);
    let mut sheet = Sheet::new(format!("growing season left for {}", crop.name));
    sheet.source(crate::crop::library().source(&crop.climate.stages_source).clone());
    given!(sheet; base = crop.climate.base.measure::<Temperature>(), crop.climate.base.origin());
    given!(sheet; killing_frost = crop.climate.killing_frost.measure::<Temperature>(), crop.climate.killing_frost.origin());
    given!(sheet; years_counted = left.years as f64, Origin::measured("the weather years"));
    let _ = (base, killing_frost, years_counted);
    if let (Some(growth), Some(middle)) = (&crop.growth, left.dry_matter.get(1)) {
        sheet.source(crate::crop::library().source(&growth.source).clone());
        sheet.source(Source::published(
            "Monteith 1977, Phil. Trans. R. Soc. B 281:277\u{2013}294; Goudriaan & Monteith 1990, Annals of Botany 66:695\u{2013}701",
        ));
        let origin = || Origin::sourced(crate::crop::library().source(&growth.source));
        given!(sheet; made_of_light = growth.light_use, origin());
        given!(sheet; catches_by_mass = growth.catches, origin());
        given!(sheet; in_full_from = Temperature::from_base(growth.full_at), origin());
        let _ = (made_of_light, catches_by_mass, in_full_from);
        sheet.gathered(
            "dry_matter_in_the_middling_year",
            "growth from light intercepted each day from emergence to killing frost, reduced on cool days",
            *middle,
        );
        sheet.would_change("Drought, low fertility or a thin stand; this is what light and heat allow.");
    }
    if let Some(middle) = left.degree_days.get(1) {
        sheet.gathered(
            "degree_days_in_the_middling_year",
            "heat units above the base until killing frost, from daily means",
            *middle,
        );
    }
    for stage in &left.stages {
        let reached = stage.share.base() * years_counted;
        let years = Quantity::new(reached.round(), Unit::One);
        sheet.quantity(&format!("years that reach {}", stage.name), years, Origin::measured("the weather years"));
        let formula = format!("years that reach {} / years counted", stage.name);
        sheet.line(&format!("share to {}", stage.name), &formula, Fraction::from_base(reached.round() / years_counted));
    }
    sheet.would_change("More years, another sowing date, or a crop that needs less heat.");
    Ok(sheet.answer(left))
}

/// Odds of fewer than ten years are no odds.
///
/// # Errors
/// At `/weather`.
pub fn enough(runs: usize) -> Result<(), Refused> {
    if runs >= 10 {
        return Ok(());
    }
    let detail = format!("{runs} complete years; odds need at least ten, and thirty are best");
    Err(Refused::one("/weather", detail))
}
