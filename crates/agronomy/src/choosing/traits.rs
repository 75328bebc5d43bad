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
    Warmth "winter" "lives through a night of", -45.0..15.0 DegC, |crop| crop.stand.winter.as_ref().map(Held::from),
        "Too hopeful, and the stand is gone in the first hard winter without snow.";
    Warmth "killing-frost" "stops growing in autumn at", -45.0..15.0 DegC, |crop| Some((&crop.climate.killing_frost).into()),
        "A degree moves the end of autumn growth by a week or so, and with it the last day to sow.";
    Warmth "seedling-frost" "seedlings die at", -45.0..15.0 DegC, |crop| Some((&crop.climate.seedling_frost).into()),
        "A degree moves the first safe day in spring by several days.";
    Warmth "base" "grows from", 0.0..35.0 DegC, |crop| Some((&crop.climate.base).into()),
        "A degree changes the warmth counted to each stage by a tenth or more.";
    Warmth "soil-temperature" "sow into soil of", 0.0..35.0 DegC, |crop| Some((&crop.establish.soil_temperature).into()),
        "Sown into colder soil the seed lies, rots and comes unevenly; a degree is about four days of spring.";
    Warmth "heat" "seedlings fail in months above", 0.0..35.0 DegC, |crop| Some((&crop.climate.heat).into()),
        "Decides how late into summer, or how early after it, a sowing is sound.";
    Ground "ph" "does passably from, and is limed to", 4.0..8.0 One, |crop| {
        let (low, aim) = (&crop.soil.ph_low, &crop.soil.ph_aim);
        Some(Held { high: Some(aim.value), ..Held::from(low) })
    }, "Half a unit is some tons of lime, and half a year before it works.";
    Ground "ponding" "bears standing water for days", 0.0..30.0 One, |crop| Some((&crop.site.ponding_days).into()),
        "A wet corner misjudged is a bare corner.";
    Ground "rooting" "wants at least so much soil", 0.0..120.0 Cm, |crop| Some((&crop.site.rooting_depth).into()),
        "On shallower ground it yields less and dries out first.";
    Ground "roots" "roots of a full stand", 0.0..200.0 Cm, |crop| Some((&crop.climate.root_depth).into()),
        "Sets how much water the soil holds for it, and so when irrigation pays.";
    Ground "rain" "wants rain in a year", 0.0..1200.0 Mm, |crop| Some((&crop.site.rain).into()),
        "With less, and no irrigation, look for a tougher crop.";
    Ground "slope" "tilled for on slopes up to", 0.0..25.0 Percent, |crop| Some((&crop.site.tilled_slope).into()),
        "On steeper ground tillage loses the soil that the stand was for: sow it without.";
    Sowing "seeds" "seeds in a pound or kilogram", 0.0..2500000.0 PerLb, |crop| crop.seed.as_ref().map(|seed| Held::from(&seed.per_mass)),
        "A tenth wrong is a tenth more or fewer seedlings; the lot\u{2019}s own count wins.";
    Sowing "rate" "sown alone, pure live seed", 0.0..120.0 LbPerAc, |crop| crop.sowing.as_ref().map(|sowing| Held::from(&sowing.rate)),
        "The seed bill goes with it; half of it in a good bed often makes the same stand, twice of it in a bad one none.";
    Sowing "depth" "sown so deep", 0.0..3.0 In, |crop| crop.sowing.as_ref().map(|sowing| Held::from(&sowing.depth_fine)),
        "The commonest cause of failed sowings of small seed: too deep.";
    Sowing "first-look" "shows in days", 0.0..60.0 One, |crop| Some((&crop.establish.first_look).into()),
        "Looked for too early it seems gone, too late the crust has won.";
    Sowing "count" "counted after days", 0.0..120.0 One, |crop| Some((&crop.establish.count).into()),
        "Too early and what will die is counted; too late and nothing can be mended.";
    Sowing "growing-days" "days it wants before winter", 0.0..180.0 One, |crop| Some((&crop.climate.growing_days).into()),
        "A week too few is a stand that heaves out.";
    Stand "yield" "dry matter in a season, established", 0.0..20.0 TonPerAc, |crop| Some((&crop.stand.yields).into()),
        "Every ton planned on is feed to buy if it does not come.";
    Stand "years" "is kept for years", 0.0..30.0 One, |crop| {
        let years = &crop.stand.years;
        let (low, high) = (f64::from(years.low), f64::from(years.high));
        Some(Held { low, high: Some(high), unit: Unit::One, source: years.source.clone() })
    }, "Seed and labour are spread over them.";
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
            "Not after its own kind for {} to {} months, and never thickened once a year old.",
            months.low, months.high
        ));
    }
    if site.drainage == Drainage::Well {
        told.push("No wet feet: well drained ground alone.".to_owned());
    }
    if site.hindered_by_cereal_residue {
        told.push("No cereal residue at sowing: it holds the seedlings back.".to_owned());
    }
    if site.neighbour_setback.is_some() {
        told.push("Not up to the boundary beside somebody else\u{2019}s land.".to_owned());
    }
    if crop.stand.ramp.first() == Some(&0.0) {
        told.push("No harvest in the sowing year.".to_owned());
    }
    if crop.stand.grazing == Grade::Poor {
        told.push("No close or steady grazing: long rests between.".to_owned());
    }
    if crop.kind == Kind::Legume {
        told.push("No seed without its own inoculant, and none kept with fertiliser or in the sun.".to_owned());
    }
    told
}
