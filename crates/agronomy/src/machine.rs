//! Machines: what they do in an hour, and how often they are filled.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    given, reckon,
    refusal::{Checks, Refused},
    source::{Origin, Source},
    units::{
        Area, AreaPerTime, Fraction, Length, Measure, Money, MoneyPerTime, Speed, Time, Unit, Volume, VolumePerArea,
    },
    working::{Answer, Sheet},
};

/// What a machine is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum MachineKind {
    /// Sows in rows.
    Drill,
    /// Spreads what is dry.
    Spreader,
    /// Spreads what is sprayed.
    Sprayer,
    /// Works the soil.
    Tillage,
    /// Mows, with or without conditioning.
    Mower,
    /// Spreads the swath to dry.
    Tedder,
    /// Gathers it.
    Rake,
    /// Bales it.
    Baler,
    /// Wraps bales.
    Wrapper,
    /// Chops it.
    Forager,
    /// Carries it.
    Wagon,
    /// Measures the height of a pasture.
    PlateMeter,
}

/// Where the usual figures stand.
pub fn usual_source() -> Source {
    Source::published("ASABE D497.7 (2011), table 3: typical speeds and field efficiencies (from memory)")
}

impl MachineKind {
    /// Its word.
    pub fn words(self) -> &'static str {
        match self {
            Self::Drill => "drill",
            Self::Spreader => "spreader",
            Self::Sprayer => "sprayer",
            Self::Tillage => "tillage tool",
            Self::Mower => "mower",
            Self::Tedder => "tedder",
            Self::Rake => "rake",
            Self::Baler => "baler",
            Self::Wrapper => "wrapper",
            Self::Forager => "forager",
            Self::Wagon => "wagon",
            Self::PlateMeter => "plate meter",
        }
    }

    /// Speed and field efficiency it usually runs at: what to begin with until one's own are known. None where
    /// neither is a matter of width.
    pub fn usual(self) -> Option<(Speed, Fraction)> {
        let (mph, percent) = match self {
            Self::Drill => (5.0, 70.0),
            Self::Spreader => (7.0, 70.0),
            Self::Sprayer => (6.5, 65.0),
            Self::Tillage => (6.0, 80.0),
            Self::Mower => (5.0, 80.0),
            Self::Tedder | Self::Rake => (6.0, 80.0),
            Self::Baler => (5.0, 65.0),
            Self::Forager => (3.0, 70.0),
            Self::Wrapper | Self::Wagon | Self::PlateMeter => return None,
        };
        Some((Speed::new(mph, Unit::Mph), Fraction::percent(percent)))
    }
}

/// Area done in an hour: speed × width × field efficiency.
///
/// ASABE EP496.3 (2006), section 3.1: in mph, feet and acres an hour the divisor is 8.25.
///
/// ```
/// use agronomy::{machine::field_capacity, units::{Fraction, Length, Speed, Unit}};
/// let capacity = field_capacity(Speed::new(5.0, Unit::Mph), Length::new(30.0, Unit::Ft), Fraction::percent(80.0));
/// assert!((capacity.to(Unit::AcPerH) - 5.0 * 30.0 * 0.80 / 8.25).abs() < 1e-9);
/// ```
pub fn field_capacity(speed: Speed, width: Length, efficiency: Fraction) -> AreaPerTime {
    speed * width * efficiency
}

/// A tank that is filled on the way.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Tank {
    /// How much it holds.
    pub holds: Volume,
    /// How much goes on an area.
    pub rate: VolumePerArea,
    /// How long a filling takes, with the way to it; none that is not counted already in the efficiency.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub filling: Option<Time>,
}

/// Request of the topic `field.hours`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct HoursRequest {
    /// How much is to be done.
    pub area: Area,
    /// How wide the machine works.
    pub width: Length,
    /// How fast it goes.
    pub speed: Speed,
    /// Share of its time that it works at its full width: turns, overlap and stops take the rest.
    pub efficiency: Fraction,
    /// What is filled on the way.
    #[serde(default)]
    pub tank: Option<Tank>,
    /// What an hour of it costs.
    #[serde(default)]
    pub cost: Option<MoneyPerTime>,
}

/// How long a job takes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Hours {
    /// Area done in an hour.
    pub capacity: AreaPerTime,
    /// In all, with fillings.
    pub hours: Time,
    /// Tanks filled, the last for what is left.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub fillings: Option<u32>,
    /// Area that one tank does.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub area_per_tank: Option<Area>,
    /// What it costs.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cost: Option<Money>,
}

/// The topic `field.hours`: area over speed × width × efficiency, and the fillings.
///
/// # Errors
/// An area, width, speed, share or tank that can't be.
pub fn hours(request: &HoursRequest) -> Result<Answer<Hours>, Refused> {
    let mut checks = Checks::new();
    checks.positive("/area", "Area", request.area, Unit::Ha, 20_000.0);
    checks.within("/width", "Width", request.width, Unit::M, 0.3, 60.0);
    checks.within("/speed", "Speed", request.speed, Unit::KmPerH, 0.5, 40.0);
    checks.within("/efficiency", "Field efficiency", request.efficiency, Unit::Percent, 10.0, 100.0);
    if let Some(tank) = request.tank {
        checks.within("/tank/holds", "Tank size", tank.holds, Unit::L, 1.0, 50_000.0);
        checks.within("/tank/rate", "Rate", tank.rate, Unit::LPerHa, 1.0, 200_000.0);
        if let Some(filling) = tank.filling {
            checks.within("/tank/filling", "Refill time", filling, Unit::Min, 0.0, 600.0);
        }
    }
    if let Some(cost) = request.cost {
        checks.within("/cost", "Cost per hour", cost, Unit::MoneyPerH, 0.0, 1e8);
    }
    checks.done()?;

    let mut sheet = Sheet::new("field time");
    sheet.source(Source::published("ASABE EP496.3 (2006), section 3.1: effective field capacity"));
    given!(sheet; area = request.area, Origin::Given);
    given!(sheet; width = request.width, Origin::Given);
    given!(sheet; speed = request.speed, Origin::Given);
    given!(sheet; efficiency = request.efficiency, Origin::Given);
    reckon!(sheet; capacity = speed * width * efficiency);
    reckon!(sheet; working = area / capacity);
    let mut answer = Hours { capacity, hours: working, fillings: None, area_per_tank: None, cost: None };
    if let Some(tank) = request.tank {
        given!(sheet; holds = tank.holds, Origin::Given);
        given!(sheet; rate = tank.rate, Origin::Given);
        let area_per_tank = sheet.line("area_per_tank", "holds / rate", holds / rate);
        let tanks = (area / area_per_tank).base();
        if tanks > 10_000.0 {
            return Err(Refused::one("/tank/holds", "More than 10,000 refills; check the tank size"));
        }
        let count = (tanks - 1e-9).ceil().max(1.0);
        sheet.gathered("fillings", "area / area_per_tank, last one part full", count);
        (answer.fillings, answer.area_per_tank) = (Some(count as u32), Some(area_per_tank));
        if let Some(filling) = tank.filling {
            given!(sheet; filling = filling, Origin::Given);
            answer.hours = sheet.line("hours", "working + filling * fillings", working + filling * count);
        }
    }
    if let Some(cost) = request.cost {
        given!(sheet; cost = cost, Origin::Given);
        let name =
            if request.tank.is_some_and(|tank| tank.filling.is_some()) { "cost * hours" } else { "cost * working" };
        answer.cost = Some(sheet.line("cost_of_it", name, cost * answer.hours));
    }
    Ok(sheet.answer(answer))
}
