//! How a crop grows through its seasons: the figures of the daily model ([`kernels::growth`]).
//!
//! They stand in the table `[season]` of a crop's file. A crop may be `like` another and tell what differs. What a
//! figure is, its unit, what it is when it is not told, and what it can be stand here, once.
//!
//! [`kernels::growth`]: ../../../kernels/growth/index.html

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

/// The table as it stands in a crop's file.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct SeasonTable {
    /// The crop whose figures it shares but for those told here.
    pub like: Option<String>,
    /// Key of the source.
    pub source: String,
    /// What is told.
    #[serde(flatten)]
    pub own: BTreeMap<String, Told>,
}

/// A figure, or whether something is so.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(untagged)]
pub enum Told {
    /// Whether.
    Is(bool),
    /// How much.
    Figure(f64),
}

macro_rules! season_facts {
    (figures { $($(#[doc = $doc:literal])+ $name:ident: $usual:expr, $low:literal..=$high:expr;)+ }
     flags { $($(#[doc = $is:literal])+ $flag:ident: $off:literal;)+ }) => {
        /// How a crop grows through its seasons.
        #[derive(Debug, Clone, Copy, PartialEq)]
        pub struct SeasonFacts {
            $($(#[doc = $doc])+ pub $name: f64,)+
            $($(#[doc = $is])+ pub $flag: bool,)+
        }

        impl SeasonFacts {
            /// What is not told of a crop; what must be told is not a number.
            pub(super) const USUAL: Self = Self { $($name: $usual,)+ $($flag: $off,)+ };

            /// The same with what is told of a crop.
            ///
            /// # Errors
            /// A name that no figure has, or a number where a yes or no is wanted, and the other way round.
            pub(super) fn with(mut self, own: &BTreeMap<String, Told>) -> Result<Self, String> {
                for (name, told) in own {
                    match (name.as_str(), *told) {
                        $((stringify!($name), Told::Figure(value)) => self.$name = value,)+
                        $((stringify!($flag), Told::Is(so)) => self.$flag = so,)+
                        _ => return Err(format!("season: {name} can\u{2019}t be {told:?}")),
                    }
                }
                Ok(self)
            }

            /// The first figure that is missing or can't be.
            pub(super) fn wrong(&self) -> Option<String> {
                $(if !($low..=$high).contains(&self.$name) {
                    return Some(format!("season: {} is {}", stringify!($name), self.$name));
                })+
                (self.best_from > self.best_to || self.grows_above >= self.best_from || self.best_to >= self.grows_below)
                    .then(|| "season: temperatures of growth out of order".to_owned())
                    .or_else(|| (self.bud > self.heads).then(|| "season: bud comes before heading".to_owned()))
            }
        }
    };
}

season_facts! {
figures {
    /// Extinction of light by a layer of leaf.
    extinction: f64::NAN, 0.2..=1.2;
    /// Dry matter made of light that is caught, all of the plant, g/MJ of usable light.
    light_use: f64::NAN, 0.3..=6.0;
    /// No growth at or below this temperature by day, °C.
    grows_above: f64::NAN, -5.0..=20.0;
    /// Light is used in full from here, °C.
    best_from: f64::NAN, 5.0..=35.0;
    /// to here, °C.
    best_to: f64::NAN, 10.0..=45.0;
    /// and not at all from here on, °C.
    grows_below: f64::NAN, 20.0..=55.0;
    /// Light use lost to each MJ/m² of a day beyond 10.
    bright: f64::NAN, 0.0..=0.05;
    /// Light use lost to each mm of reference evapotranspiration beyond 5.
    dry_air: f64::NAN, 0.0..=0.1;
    /// Warmth counts for development above this, °C.
    develops_above: f64::NAN, -2.0..=15.0;
    /// and up to this, °C.
    develops_at_most: f64::NAN, 15.0..=45.0;
    /// Development lost to each hour that a day is shorter than 14.
    short_days: 0.0, 0.0..=0.2;
    /// Pace of development in days of 8 hours, of that in days of 16.
    short_day_pace: 1.0, 0.0..=1.0;
    /// Leaf area that unfolds, m²/m² per °C·d.
    leaf_rate: f64::NAN, 0.001..=0.1;
    /// Leaf area of leaf mass, ha/kg.
    leaf_area: f64::NAN, 0.0005..=0.01;
    /// Share of new shoot that is leaf, while it is young.
    leafy: f64::NAN, 0.0..=1.0;
    /// The same once it heads or blooms.
    leafy_headed: f64::NAN, 0.0..=1.0;
    /// Warmth from green-up or cut to bud or boot, °C·d.
    bud: f64::NAN, 50.0..=4000.0;
    /// Warmth to early bloom or heading, °C·d.
    heads: f64::NAN, 80.0..=5000.0;
    /// Warmth that a leaf lives, °C·d.
    leaf_life: f64::NAN, 100.0..=3000.0;
    /// Leaf area beyond which the lowest leaves die.
    crowded: f64::NAN, 1.0..=12.0;
    /// Share of the leaf that dies a day, for each part of the leaf area beyond that.
    crowding: 0.03, 0.0..=0.2;
    /// Share of standing dead matter that falls a day at 20 °C.
    dead_falls: 0.02, 0.0..=0.2;
    /// Share of the reserve that goes into regrowth a day.
    remobilised: f64::NAN, 0.0..=0.2;
    /// Share of growth that goes into reserve, when there is little leaf.
    stores_bare: f64::NAN, 0.0..=1.0;
    /// The same under a closed canopy.
    stores_closed: f64::NAN, 0.0..=1.0;
    /// Beside it, once past heading.
    stores_ripe: 0.12, 0.0..=1.0;
    /// Share of growth that goes into roots.
    roots_take: f64::NAN, 0.0..=0.8;
    /// Beside it, in short days.
    roots_take_autumn: f64::NAN, 0.0..=0.8;
    /// Most reserve of a full stand, kg/ha.
    reserve_most: f64::NAN, 0.0..=20000.0;
    /// Share of the reserve that is breathed away a day at 20 °C.
    reserve_breathes: 0.003, 0.0..=0.05;
    /// How far it rests in autumn.
    rests: f64::NAN, 0.0..=1.0;
    /// Day length below which it begins to rest, h.
    rests_below_hours: f64::NAN, 8.0..=16.0;
    /// Temperature below which it begins to rest, °C.
    rests_below: f64::NAN, 0.0..=30.0;
    /// Height at which it is usually cut, cm.
    stubble: f64::NAN, 0.0..=40.0;
    /// Dry matter that stands in a cm of stubble, kg/ha.
    stubble_mass: f64::NAN, 0.0..=400.0;
    /// Leaf area that a usual cut leaves.
    leaf_left: f64::NAN, 0.0..=5.0;
    /// Height of one tonne a hectare, cm.
    height_scale: f64::NAN, 2.0..=120.0;
    /// and the power of mass with which it grows.
    height_power: f64::NAN, 0.2..=1.0;
    /// Part by which heading makes it taller.
    height_headed: 0.0, 0.0..=2.0;
    /// Height to which leaf stalks stretch among taller neighbours, cm.
    stretches_to: 0.0, 0.0..=100.0;
    /// Depth of roots, m.
    roots: f64::NAN, 0.2..=3.0;
    /// Share of the available water that is used before it suffers.
    depletion: f64::NAN, 0.1..=0.9;
    /// How far it rests in a drought.
    drought_rest: f64::NAN, 0.0..=1.0;
    /// Share of the stand lost on a day of deep drought.
    drought_loss: f64::NAN, 0.0..=0.1;
    /// Weekly mean at which it greens up, °C.
    greens_at: f64::NAN, -2.0..=25.0;
    /// Day length from which it greens up, h.
    wakes_hours: f64::NAN, 6.0..=16.0;
    /// or weekly mean from which it does whatever the day length, °C.
    wakes_warm: f64::NAN, 0.0..=25.0;
    /// Lowest temperature at which the tops begin to die, °C.
    tops_die_at: f64::NAN, -20.0..=5.0;
    /// Crown temperature that kills half of a hardened stand, °C.
    hardy_to: f64::NAN, -40.0..=5.0;
    /// The same of one that is not hardened, °C.
    unhardened_to: f64::NAN, -15.0..=5.0;
    /// Crown temperature below which cold adds up, °C.
    chilled_below: f64::NAN, -20.0..=15.0;
    /// Such cold that halves a stand, °C·d.
    chill_halves: f64::NAN, 20.0..=2000.0;
    /// Warmth above 10 °C that a year must have for it to last, °C·d.
    heat_needed: 0.0, 0.0..=6000.0;
    /// Share of a full reserve below which a cut costs plants.
    reserve_critical: f64::NAN, 0.0..=1.0;
    /// Share of the stand that a cut without any reserve costs.
    cut_loss: f64::NAN, 0.0..=1.0;
    /// Share of the stand that a winter without any reserve costs.
    winter_loss: 0.0, 0.0..=1.0;
    /// Thinning of a young stand, a year.
    thins: f64::NAN, 0.0..=1.0;
    /// Beside it, at the end of its life.
    thins_old: f64::NAN, 0.0..=2.0;
    /// Years after which it thins in full.
    life: f64::NAN, 0.5..=40.0;
    /// How fast gaps fill, a year.
    fills: f64::NAN, 0.0..=3.0;
    /// How far shade of companions hastens thinning.
    shaded: 0.3, 0.0..=2.0;
    /// Share of the stand lost a day to heat and disease, for each °C.
    heat_loss: f64::NAN, 0.0..=0.05;
    /// of a weekly mean above this, °C.
    heat_from: f64::NAN, 10.0..=40.0;
    /// Growth in the year of sowing, of that of a full stand.
    first_year: f64::NAN, 0.0..=1.0;
    /// The same in the year after.
    second_year: 1.0, 0.0..=1.0;
    /// Nitrogen of a tonne a hectare that lacks none, %.
    nitrogen: f64::NAN, 1.0..=8.0;
    /// and the power of mass with which it is diluted.
    dilution: f64::NAN, 0.1..=0.8;
    /// Part by which light use is higher while it heads in spring.
    spring_growth: 0.0, 0.0..=1.0;
    /// Day length that heading waits for, h.
    heads_in_hours: 0.0, 0.0..=18.0;
    /// Days below 9 °C that heading waits for.
    chill_days: 40.0, 0.0..=120.0;
    /// Warmth from sowing to emergence, °C·d.
    emerges: 0.0, 0.0..=400.0;
    /// Warmth from emergence to ripeness, °C·d.
    ripe: f64::INFINITY, 200.0..=f64::INFINITY;
    /// Crop coefficient under full cover.
    water_use: 1.15, 0.5..=1.4;
    /// How much of a frost reaches the crowns.
    crown_feels: 0.6, 0.0..=1.0;
    /// Neutral detergent fibre of a young grass, % of dry matter.
    fibre: 0.0, 0.0..=80.0;
    /// What it has more of it at heading.
    fibre_rise: 0.0, 0.0..=40.0;
    /// and the power of its stage with which it rises.
    fibre_power: 1.0, 0.3..=3.0;
    /// Fibre gained for each °C of the weeks before above 18.
    fibre_heat: 0.25, 0.0..=2.0;
    /// Digestibility of the fibre of a young plant, %.
    digested: f64::NAN, 20.0..=95.0;
    /// What it has less of it at early bloom or heading.
    digested_drop: f64::NAN, 0.0..=60.0;
    /// Digestibility lost for each °C of the weeks before above 18.
    digested_heat: 0.8, 0.0..=3.0;
    /// Acid detergent fibre, of the neutral.
    acid_fibre: f64::NAN, 0.3..=0.95;
    /// Leaf share above that of alfalfa at the same stage.
    leafier: 0.0, -0.3..=0.3;
    /// Crude protein of young leaf, where quality is that of leaf and stem, % of dry matter.
    leaf_protein: 0.0, 0.0..=45.0;
    /// What leaf has less of it at early bloom.
    leaf_protein_drop: 0.0, 0.0..=20.0;
    /// Fibre of young leaf, %.
    leaf_fibre: 0.0, 0.0..=60.0;
    /// What leaf has more of it at early bloom.
    leaf_fibre_rise: 0.0, 0.0..=30.0;
    /// Crude protein of young stem, %.
    stem_protein: 0.0, 0.0..=40.0;
    /// What stem has less of it at early bloom.
    stem_protein_drop: 0.0, 0.0..=30.0;
    /// Crude protein of old stem, %.
    stem_protein_least: 0.0, 0.0..=20.0;
    /// Fibre of young stem, %.
    stem_fibre: 0.0, 0.0..=80.0;
    /// What stem has more of it at early bloom.
    stem_fibre_rise: 0.0, 0.0..=60.0;
    /// Fibre of old stem, %.
    stem_fibre_most: 100.0, 30.0..=100.0;
}
flags {
    /// Tops die back each autumn.
    dies_back: false;
    /// It heads only after a winter.
    needs_winter: false;
    /// An annual that goes on making leaf once it has headed.
    regrows_headed: false;
    /// Fixes its own nitrogen.
    fixes: false;
    /// Lives for one growth.
    annual: false;
    /// Stands through a winter.
    winters: true;
    /// Its quality is that of leaf and stem: legumes and other broad-leaved plants.
    by_parts: false;
}
}
