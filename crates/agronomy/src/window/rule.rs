//! Rules: what must hold for a day to count, as data and ready to run.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use kernels::rule::Test;

use crate::{
    crop::Crop,
    refusal::Checks,
    source::Origin,
    units::{Fraction, Length, Measure, Quantity, Temperature, ThermalTime, Unit},
};

/// A rule, as the library or a plan writes it. What is left out is the crop's own.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "is", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Rule {
    /// Days grow longer, or shorter.
    DaysGrow {
        /// Longer.
        longer: bool,
        /// For so many days already.
        #[serde(default)]
        for_days: u32,
    },
    /// The soil at seed depth has held a temperature on so many mornings up to the day.
    SoilWarm {
        /// Mornings.
        mornings: u32,
        /// The days' means are asked for, not the mornings.
        #[serde(default)]
        by_mean: bool,
        /// Temperature.
        #[serde(default)]
        at_least: Option<Temperature>,
    },
    /// The soil at seed depth gathers no more than so much warmth above the crop's base for so long
    /// after: nothing sprouts.
    SoilCool {
        /// Warmth.
        at_most: ThermalTime,
        /// Days.
        days: u32,
    },
    /// The soil at seed depth reaches the crop's temperature, a day's mean, within so many days.
    WarmthToCome {
        /// Days.
        within_days: u32,
    },
    /// The soil at seed depth is cold on so many of the days after: what breaks the seed's sleep.
    Chill {
        /// A day's mean that counts.
        at_most: Temperature,
        /// Days of it.
        days: u32,
        /// Within.
        within_days: u32,
    },
    /// So many nights of frost with thawing days between and no snow over it, within so many days after.
    FreezeThaw {
        /// Nights.
        nights: u32,
        /// Days.
        within_days: u32,
    },
    /// No frost that kills seedlings, from so many days after sowing, for so many days.
    NoFrost {
        /// Days until they are up.
        after_days: u32,
        /// Days.
        days: u32,
        /// Screen temperature.
        #[serde(default)]
        threshold: Option<Temperature>,
    },
    /// So many days before the killing frost.
    GrowingDays {
        /// Days.
        #[serde(default)]
        days: Option<u32>,
        /// Screen temperature.
        #[serde(default)]
        before: Option<Temperature>,
    },
    /// So much rain within so many days after.
    RainAfter {
        /// Rain.
        at_least: Length,
        /// Days.
        within_days: u32,
    },
    /// No run of days without rain longer than this, within so many days after.
    NoDrySpell {
        /// Longest run borne, days.
        longest: u32,
        /// Days.
        within_days: u32,
    },
    /// The air stays cool enough, on average, for so many days after.
    MeanBelow {
        /// Days.
        days: u32,
        /// Mean temperature.
        #[serde(default)]
        at_most: Option<Temperature>,
    },
    /// The seedbed can be worked on so many of the days from this one on.
    Workable {
        /// Days.
        days: u32,
        /// Within.
        within_days: u32,
    },
    /// The ground carries a tractor or is frozen on one of the days from this one on.
    Trafficable {
        /// Within.
        within_days: u32,
    },
    /// No snow to speak of.
    SnowFree,
    /// Within so many days of the day maize is sown here.
    NearMaize {
        /// Before it.
        before_days: i32,
        /// After it.
        after_days: i32,
    },
    /// The old sward rests: the air has been warm for so many days and the root zone is dry.
    SodRests {
        /// Mean temperature.
        at_least: Temperature,
        /// Days.
        days: u32,
    },
    /// The topsoil still holds so much of its evaporable water.
    Moist {
        /// Share.
        at_least: Fraction,
    },
    /// Not before a day, for a reason such as lime that must work.
    NotBefore {
        /// The day.
        #[schema(value_type = String, format = Date)]
        on: Date,
        /// Why.
        why: String,
    },
}

/// Days that a rule may look back or ahead: runs hold so many on either side of their curve.
const REACH: u32 = 150;
/// Further rules that a request may bring, beside those of the way of timing.
pub(super) const MOST_RULES: usize = 12;

impl Rule {
    /// Refuse numbers that no run reaches.
    pub(super) fn check(&self, checks: &mut Checks, pointer: &str) {
        let counts: Vec<(&str, i64)> = match self {
            Rule::DaysGrow { for_days, .. } => vec![("for_days", (*for_days).into())],
            Rule::SoilWarm { mornings, .. } => vec![("mornings", (*mornings).into())],
            Rule::SoilCool { days, .. } | Rule::MeanBelow { days, .. } | Rule::SodRests { days, .. } => {
                vec![("days", (*days).into())]
            }
            Rule::WarmthToCome { within_days }
            | Rule::Trafficable { within_days }
            | Rule::RainAfter { within_days, .. } => {
                vec![("within_days", (*within_days).into())]
            }
            Rule::Chill { days, within_days, .. } | Rule::Workable { days, within_days } => {
                vec![("days", (*days).into()), ("within_days", (*within_days).into())]
            }
            Rule::FreezeThaw { nights, within_days } => {
                vec![("nights", (*nights).into()), ("within_days", (*within_days).into())]
            }
            Rule::NoFrost { after_days, days, .. } => {
                vec![("after_days", (*after_days).into()), ("days", i64::from(*after_days) + i64::from(*days))]
            }
            Rule::NoDrySpell { longest, within_days } => {
                vec![("longest", (*longest).into()), ("within_days", (*within_days).into())]
            }
            Rule::NearMaize { before_days, after_days } => {
                vec![("before_days", (*before_days).into()), ("after_days", (*after_days).into())]
            }
            Rule::GrowingDays { days, .. } => {
                // Counted, not looked at day by day: a year is enough of them.
                let days = days.unwrap_or_default();
                checks.require(days <= 366, format!("{pointer}/days"), format!("{days} days; enter at most 366"));
                vec![]
            }
            Rule::SnowFree | Rule::Moist { .. } | Rule::NotBefore { .. } => vec![],
        };
        for (field, days) in counts {
            let detail = format!("{days} days; enter 0–{REACH}");
            checks.require((0..=i64::from(REACH)).contains(&days), format!("{pointer}/{field}"), detail);
        }
    }
}

/// A number of a rule, to be shown beside its name.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Measured {
    /// What it is: "at least", "within".
    pub name: String,
    /// How much.
    pub value: Quantity,
    /// Where from.
    pub origin: Origin,
}

/// A rule of one crop, in plain numbers, ready to be tried.
#[derive(Debug, Clone, PartialEq)]
pub struct Resolved {
    /// Stable name, the rule's word.
    pub key: &'static str,
    /// In words.
    pub name: String,
    /// Its numbers.
    pub measured: Vec<Measured>,
    test: Test,
}

/// Make a crop's rule ready.
pub fn resolve(rule: &Rule, crop: &Crop) -> Resolved {
    let mut measured = vec![];
    let mut days = |name: &str, count: f64, origin: Origin| {
        measured.push(Measured { name: name.to_owned(), value: Quantity::new(count, Unit::One), origin });
    };
    let practice = || Origin::sourced(crate::crop::library().source("window-practice"));
    let crops = |own: Option<Temperature>, fact: &crate::crop::Figure| match own {
        Some(own) => (own, practice()),
        None => (fact.measure::<Temperature>(), fact.origin()),
    };
    let climate = &crop.climate;
    let (key, name, test, figures): (_, String, _, Vec<(&str, Quantity, Origin)>) = match rule {
        Rule::DaysGrow { longer, for_days } => {
            let name = match (longer, for_days) {
                (true, _) => "lengthening days",
                (false, 0) => "shortening days",
                (false, _) => "past the summer weed flush",
            };
            if *for_days > 0 {
                days("days shorter for", f64::from(*for_days), practice());
            }
            ("days-grow", name.into(), Test::DaysGrow { longer: *longer, since: *for_days as usize }, vec![])
        }
        Rule::SoilWarm { mornings, by_mean, at_least } => {
            let (warm, origin) = crops(*at_least, &crop.establish.soil_temperature);
            days(if *by_mean { "days" } else { "mornings" }, f64::from(*mornings), practice());
            let (mornings, by_mean) = (*mornings as usize, *by_mean);
            let test = Test::SoilWarm { mornings, by_mean, at_least: warm.base() as f32 };
            ("soil-warm", "warm soil".into(), test, vec![("at least", warm.quantity(), origin)])
        }
        Rule::SoilCool { at_most, days: count } => {
            days("days after", f64::from(*count), practice());
            let base = climate.base.measure::<Temperature>().base() as f32;
            let test = Test::SoilCool { at_most: at_most.base() as f32, base, days: *count as usize };
            (
                "soil-cool",
                "soil too cold to germinate".into(),
                test,
                vec![("warmth at most", at_most.quantity(), practice())],
            )
        }
        Rule::WarmthToCome { within_days } => {
            let (warm, origin) = crops(None, &crop.establish.soil_temperature);
            days("within days", f64::from(*within_days), practice());
            let test = Test::WarmthToCome { at_least: warm.base() as f32, within: *within_days as usize };
            ("warmth-to-come", "soil warming after sowing".into(), test, vec![("at least", warm.quantity(), origin)])
        }
        Rule::Chill { at_most, days: count, within_days } => {
            days("days", f64::from(*count), practice());
            days("within days", f64::from(*within_days), practice());
            let (at_most_mean, within) = (at_most.base() as f32, *within_days as usize);
            let test = Test::Chill { at_most: at_most_mean, days: *count, within };
            ("chill", "chilling to break dormancy".into(), test, vec![("at most", at_most.quantity(), practice())])
        }
        Rule::FreezeThaw { nights, within_days } => {
            days("nights of frost", f64::from(*nights), practice());
            days("within days", f64::from(*within_days), practice());
            let test = Test::FreezeThaw { nights: *nights, within: *within_days as usize };
            ("freeze-thaw", "freeze–thaw cycles".into(), test, vec![])
        }
        Rule::NoFrost { after_days, days: count, threshold } => {
            let (threshold, origin) = crops(*threshold, &climate.seedling_frost);
            days("from day", f64::from(*after_days), practice());
            days("for days", f64::from(*count), practice());
            let (after, count) = (*after_days as usize, *count as usize);
            let test = Test::NoFrost { after, days: count, threshold: threshold.base() as f32 };
            ("no-frost", "no damaging frost".into(), test, vec![("colder than", threshold.quantity(), origin)])
        }
        Rule::GrowingDays { days: count, before } => {
            let (frost, origin) = crops(*before, &climate.killing_frost);
            let count = count.unwrap_or(climate.growing_days.low.unsigned_abs());
            days(
                "days",
                f64::from(count),
                Origin::sourced(crate::crop::library().source(&climate.growing_days.source)),
            );
            let test = Test::GrowingDays { days: count, frost: frost.base() };
            ("growing-days", "growing days before frost".into(), test, vec![("frost at", frost.quantity(), origin)])
        }
        Rule::RainAfter { at_least, within_days } => {
            days("within days", f64::from(*within_days), practice());
            let test = Test::RainAfter { at_least: at_least.to(Unit::Mm) as f32, within: *within_days as usize };
            (
                "rain-after",
                "rain after sowing".into(),
                test,
                vec![("at least", Quantity::new(at_least.to(Unit::Mm), Unit::Mm), practice())],
            )
        }
        Rule::NoDrySpell { longest, within_days } => {
            days("longest", f64::from(*longest), practice());
            days("within days", f64::from(*within_days), practice());
            let test = Test::NoDrySpell { longest: *longest as usize, within: *within_days as usize };
            ("no-dry-spell", "no long dry spell".into(), test, vec![])
        }
        Rule::MeanBelow { days: count, at_most } => {
            let (heat, origin) = crops(*at_most, &climate.heat);
            days("days after", f64::from(*count), practice());
            let test = Test::MeanBelow { days: *count as usize, at_most: heat.base() as f32 };
            ("mean-below", "mild temperatures".into(), test, vec![("mean at most", heat.quantity(), origin)])
        }
        Rule::Workable { days: count, within_days } => {
            days("days", f64::from(*count), practice());
            days("within days", f64::from(*within_days), practice());
            let test = Test::Workable { days: *count, within: *within_days as usize };
            ("workable", "workable soil".into(), test, vec![])
        }
        Rule::Trafficable { within_days } => {
            days("within days", f64::from(*within_days), practice());
            ("trafficable", "trafficable soil".into(), Test::Trafficable { within: *within_days as usize }, vec![])
        }
        Rule::SnowFree => ("snow-free", "little or no snow".into(), Test::SnowFree, vec![]),
        Rule::NearMaize { before_days, after_days } => {
            days("days before", f64::from(*before_days), practice());
            days("days after", f64::from(*after_days), practice());
            let test = Test::NearMaize { before: *before_days, after: *after_days };
            ("near-maize", "near maize sowing".into(), test, vec![])
        }
        Rule::SodRests { at_least, days: count } => {
            days("days", f64::from(*count), practice());
            let test = Test::SodRests { at_least: at_least.base() as f32, days: *count as usize };
            ("sod-rests", "old sward dormant".into(), test, vec![("mean at least", at_least.quantity(), practice())])
        }
        Rule::Moist { at_least } => {
            let test = Test::Moist { at_least: at_least.base() as f32 };
            ("moist", "moist topsoil".into(), test, vec![("at least", at_least.quantity(), practice())])
        }
        Rule::NotBefore { on, why } => ("not-before", why.clone(), Test::NotBefore { on: *on }, vec![]),
    };
    measured.splice(
        0..0,
        figures.into_iter().map(|(name, value, origin)| Measured { name: name.to_owned(), value, origin }),
    );
    Resolved { key, name, measured, test }
}

impl Resolved {
    /// Of two members of a mix, whether this one's rule of the same kind asks for more.
    pub fn stricter_than(&self, other: &Self) -> bool {
        self.test.stricter_than(&other.test)
    }

    /// Whether the rule speaks of autumn frost, which a place may not know.
    pub fn of_frost(&self) -> bool {
        self.test.of_frost()
    }

    /// Whether water brought makes it hold.
    pub fn of_rain(&self) -> bool {
        self.test.of_rain()
    }

    /// What is tried.
    pub fn test(&self) -> Test {
        self.test
    }
}
