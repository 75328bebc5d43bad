//! What the library knows of a crop, one line a trait: where it lies on a scale that all crops share, where the figure
//! comes from, and what it costs the plan if it is wrong.

use serde::Serialize;
use utoipa::ToSchema;

use crate::{
    crop::{Band, Crop, Days, Drainage, Figure, Grade, Kind, library},
    source::Source,
    units::{MassPerArea, Measure, Quantity, Unit},
};

/// What a trait is about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Topic {
    /// Warmth and cold.
    Warmth,
    /// Soil and water.
    Ground,
    /// Seed and sowing.
    Sowing,
    /// The stand.
    Stand,
}

/// A figure of a crop on its scale.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Trait {
    /// Stable name.
    pub key: &'static str,
    /// What it is about.
    pub topic: Topic,
    /// For people.
    pub name: &'static str,
    /// The figure, or the low end of a range.
    pub low: Quantity,
    /// The high end of a range.
    pub high: Option<Quantity>,
    /// Where the scale begins, which all crops share.
    pub from: Quantity,
    /// Where it ends.
    pub to: Quantity,
    /// How far along the scale the figure, or its low end, lies: from 0 to 1.
    pub begins: f64,
    /// How far its high end lies.
    pub ends: f64,
    /// Where the figure comes from.
    pub source: Source,
    /// What it costs the plan if it is wrong.
    pub matters: &'static str,
}

/// A figure as the library holds it.
struct Held {
    low: f64,
    high: Option<f64>,
    unit: Unit,
    source: String,
}

impl From<&Figure> for Held {
    fn from(figure: &Figure) -> Self {
        Self { low: figure.value, high: None, unit: figure.unit, source: figure.source.clone() }
    }
}

impl From<&Band> for Held {
    fn from(band: &Band) -> Self {
        Self { low: band.low, high: Some(band.high), unit: band.unit, source: band.source.clone() }
    }
}

impl From<&Days> for Held {
    fn from(days: &Days) -> Self {
        let (low, high) = (f64::from(days.low), f64::from(days.high));
        Self { low, high: Some(high), unit: Unit::One, source: days.source.clone() }
    }
}

/// How to find a trait, and its scale in the unit named.
struct Row {
    key: &'static str,
    topic: Topic,
    name: &'static str,
    scale: (f64, f64, Unit),
    of: fn(&Crop) -> Option<Held>,
    matters: &'static str,
}

macro_rules! rows {
    ($($topic:ident $key:literal $name:literal, $from:literal..$to:literal $unit:ident, $of:expr, $matters:literal;)+) => {
        &[$(Row {
            key: $key,
            topic: Topic::$topic,
            name: $name,
            scale: ($from, $to, Unit::$unit),
            of: $of,
            matters: $matters,
        }),+]
    };
}

const ROWS: &[Row] = rows! {
    Warmth "winter" "survives a winter low of", -45.0..15.0 DegC, |crop| crop.stand.winter.as_ref().map(Held::from),
        "If set too low, the stand dies in the first hard winter without snow.";
    Warmth "killing-frost" "autumn growth stops at", -45.0..15.0 DegC, |crop| Some((&crop.climate.killing_frost).into()),
        "One degree moves the end of autumn growth, and the last sowing day, by about a week.";
    Warmth "seedling-frost" "seedlings killed at", -45.0..15.0 DegC, |crop| Some((&crop.climate.seedling_frost).into()),
        "One degree moves the first safe spring day by several days.";
    Warmth "base" "base temperature", 0.0..35.0 DegC, |crop| Some((&crop.climate.base).into()),
        "One degree changes the heat units to each stage by a tenth or more.";
    Warmth "soil-temperature" "minimum soil temperature", 0.0..35.0 DegC, |crop| Some((&crop.establish.soil_temperature).into()),
        "In colder soil, seed sits, rots and emerges unevenly. One degree is about four days in spring.";
    Warmth "heat" "seedlings fail above a monthly mean of", 0.0..35.0 DegC, |crop| Some((&crop.climate.heat).into()),
        "Sets how late before summer, or how early after it, sowing is safe.";
    Ground "ph" "lowest pH, and liming target", 4.0..8.0 One, |crop| {
        let (low, aim) = (&crop.soil.ph_low, &crop.soil.ph_aim);
        Some(Held { high: Some(aim.value), ..Held::from(low) })
    }, "Half a pH unit can take tons of lime and half a year to work.";
    Ground "ponding" "tolerates ponding, days", 0.0..30.0 One, |crop| Some((&crop.site.ponding_days).into()),
        "A wet corner misjudged becomes a bare corner.";
    Ground "rooting" "minimum rooting depth", 0.0..120.0 Cm, |crop| Some((&crop.site.rooting_depth).into()),
        "On shallower soil it yields less and dries out first.";
    Ground "roots" "root depth when established", 0.0..200.0 Cm, |crop| Some((&crop.climate.root_depth).into()),
        "Sets how much soil water it can use, and so when irrigation pays.";
    Ground "rain" "annual rainfall needed", 0.0..1200.0 Mm, |crop| Some((&crop.site.rain).into()),
        "With less and no irrigation, choose a tougher crop.";
    Ground "slope" "steepest slope for tillage", 0.0..25.0 Percent, |crop| Some((&crop.site.tilled_slope).into()),
        "On steeper slopes, tillage causes soil loss; use no-till.";
    Sowing "seeds" "seeds per pound or kilogram", 0.0..2500000.0 PerLb, |crop| crop.seed.as_ref().map(|seed| Held::from(&seed.per_mass)),
        "10% off means 10% more or fewer seedlings; use the lot’s own count.";
    Sowing "rate" "pure stand rate (PLS)", 0.0..120.0 LbPerAc, |crop| crop.sowing.as_ref().map(|sowing| Held::from(&sowing.rate)),
        "Sets seed cost. In a good seedbed half the rate often makes the same stand; in a bad one double may make none.";
    Sowing "depth" "seeding depth", 0.0..3.0 In, |crop| crop.sowing.as_ref().map(|sowing| Held::from(&sowing.depth_fine)),
        "Sowing too deep is the most common cause of failure with small seed.";
    Sowing "first-look" "days to emergence", 0.0..60.0 One, |crop| Some((&crop.establish.first_look).into()),
        "Checked too early it looks failed; too late, crusting has done its damage.";
    Sowing "count" "days to stand count", 0.0..120.0 One, |crop| Some((&crop.establish.count).into()),
        "Too early counts plants that will die; too late leaves no time to fix the stand.";
    Sowing "growing-days" "growing days needed before winter", 0.0..180.0 One, |crop| Some((&crop.climate.growing_days).into()),
        "One week short can mean a stand lost to heaving.";
    Stand "yield" "dry matter per season, established", 0.0..20.0 TonPerAc, |crop| Some((&crop.stand.yields).into()),
        "Every ton that falls short is feed to buy.";
    Stand "years" "stand life, years", 0.0..30.0 One, |crop| {
        let years = &crop.stand.years;
        let (low, high) = (f64::from(years.low), f64::from(years.high));
        Some(Held { low, high: Some(high), unit: Unit::One, source: years.source.clone() })
    }, "Seed and labor cost is spread over these years.";
};

/// All that the library knows of a crop as figures on scales.
///
/// ```
/// use agronomy::{choosing::traits::traits, crop::library};
/// let oats = traits(library().crop("forage-oats").unwrap());
/// // What is gone by winter lives through none.
/// assert!(oats.iter().all(|one| one.key != "winter"));
/// assert!(oats.iter().any(|one| one.key == "depth" && one.low.value == 1.0));
/// ```
pub fn traits(crop: &Crop) -> Vec<Trait> {
    let told = |row: &Row| {
        let held = (row.of)(crop)?;
        let (from, to, unit) = row.scale;
        let along = |value: f64| (unit.from_base(held.unit.to_base(value)) - from) / (to - from);
        Some(Trait {
            begins: along(held.low),
            ends: along(held.high.unwrap_or(held.low)),
            key: row.key,
            topic: row.topic,
            name: row.name,
            low: Quantity::new(held.low, held.unit),
            high: held.high.filter(|high| *high != held.low).map(|high| Quantity::new(high, held.unit)),
            from: Quantity::new(from, unit),
            to: Quantity::new(to, unit),
            source: library().source(&held.source).clone(),
            matters: row.matters,
        })
    };
    ROWS.iter().filter_map(told).collect()
}

/// Dry matter of a year of a stand's life, from the sowing year on.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct YearYield {
    /// From so much.
    pub low: MassPerArea,
    /// To so much.
    pub high: MassPerArea,
}

/// What each year brings, for as long as a stand is usually kept, and ten years at the most.
pub fn seasons(crop: &Crop) -> Vec<YearYield> {
    let (low, high) = crop.stand.yields.ends::<MassPerArea>();
    let kept = crop.stand.years.high.min(10) as usize;
    let season = |year| {
        let share = crop.stand.share_in(year);
        YearYield { low: MassPerArea::from_base(low.base() * share), high: MassPerArea::from_base(high.base() * share) }
    };
    (1..=kept).map(season).collect()
}

/// What a crop forbids, in plain sentences: what follows from its figures and its nature.
pub fn forbids(crop: &Crop) -> Vec<String> {
    let mut told: Vec<String> = vec![];
    let site = &crop.site;
    if let Some(months) = &site.autotoxic_months {
        told.push(format!(
            "Autotoxic: wait {}–{} months after the same species, and do not thicken it once it is a year old.",
            months.low, months.high
        ));
    }
    if site.drainage == Drainage::Well {
        told.push("Needs well-drained soil; no wet spots.".to_owned());
    }
    if site.hindered_by_cereal_residue {
        told.push("No cereal residue at sowing: it suppresses seedlings.".to_owned());
    }
    if site.neighbour_setback.is_some() {
        told.push("Keep a setback from a neighbor’s land.".to_owned());
    }
    if crop.stand.ramp.first() == Some(&0.0) {
        told.push("No harvest in the sowing year.".to_owned());
    }
    if crop.stand.grazing == Grade::Poor {
        told.push("No close or continuous grazing; needs long rest periods.".to_owned());
    }
    if crop.kind == Kind::Legume {
        told.push("Inoculate with the right strain; keep inoculant away from fertilizer and sun.".to_owned());
    }
    told
}
