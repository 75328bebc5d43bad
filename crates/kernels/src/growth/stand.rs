//! A day on in a stand.

use facts::crop::SeasonFacts;

use super::{
    Air, Plant, clip,
    light::{caught, optical_depth},
};
use crate::{
    maths::{larger, smaller},
    water::{Canopy, Drawn, Moved, Profile, Today, Water},
};

/// Crops of a stand, at the most.
pub const MOST: usize = 3;

/// Share of the sun's radiation that leaves can use (FAO-56 and Monteith 1977: about half).
const USABLE: f64 = 0.5;
/// Leaf and leaf area of an annual that has just come up, kg/ha and m²/m².
pub(super) const SEEDLING: (f64, f64) = (40.0, 0.08);
/// Of leaf that dies, so much stands on as dead.
const STANDS: f64 = 0.65;
/// Of what is drawn from the reserve, so much becomes shoot.
const MOVED: f64 = 0.65;
/// Nitrogen of roots, kg/kg; of legumes' roots.
const ROOT_N: (f64, f64) = (0.014, 0.030);

/// What does not change of a field.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Soil {
    /// Its water, in two layers.
    pub profile: Profile,
    /// Nitrogen that its humus would free in a moist year of 15 °C, kg/ha.
    pub supplies: f64,
}

/// A stand on an evening. It is plain numbers: saved and continued.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Stand {
    /// Water in the soil, and snow.
    pub water: Water,
    /// Mineral nitrogen, kg/ha.
    pub mineral: f64,
    /// Fresh organic nitrogen, kg/ha.
    pub organic: f64,
    plants: [Plant; MOST],
    count: usize,
}

/// What came, went and was made on a day, kg/ha; water in m.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Flows {
    /// Dry matter made of light.
    pub made: f64,
    /// It went into roots, and is not followed further.
    pub roots: f64,
    /// Reserve breathed away, and lost on its way into shoot.
    pub breathed: f64,
    /// Fell to the ground.
    pub litter: f64,
    /// What a seedling has of its seed.
    pub seed: f64,
    /// Light that was caught and could be used, MJ/m².
    pub light: f64,
    /// Nitrogen fixed.
    pub fixed: f64,
    /// Freed by humus.
    pub freed: f64,
    /// Washed out.
    pub leached: f64,
    /// Fertilizer lost to the air.
    pub lost: f64,
    /// Water.
    pub water: Moved,
}

/// What the light, the water and the warmth of a day allow one of the crops.
#[derive(Clone, Copy, Default)]
struct Share {
    light: f64,
    stress: f64,
    root_n: f64,
    shoot_n: f64,
}

impl Stand {
    /// A stand in a soil: crops as they are, water and nitrogen of midwinter.
    pub fn new(soil: &Soil, plants: &[Plant]) -> Self {
        let count = plants.len().min(MOST);
        let mut all = [plants[0]; MOST];
        all[..count].copy_from_slice(&plants[..count]);
        let Profile { upper, lower, .. } = soil.profile;
        let water = Water { root_missing: 0.1 * upper, lower_missing: 0.2 * lower, ..Water::default() };
        Self { water, mineral: 25.0, organic: 120.0, plants: all, count }
    }

    /// Its crops.
    pub fn plants(&self) -> &[Plant] {
        &self.plants[..self.count]
    }

    /// The same, to be changed: what was counted or measured is laid into it.
    pub fn plants_mut(&mut self) -> &mut [Plant] {
        &mut self.plants[..self.count]
    }

    /// All that stands, kg/ha.
    pub fn herbage(&self) -> f64 {
        self.plants().iter().map(Plant::herbage).sum()
    }

    /// Heights, cm: leaf stalks stretch among taller neighbours.
    pub fn heights(&self, facts: &[&SeasonFacts]) -> [f64; MOST] {
        let mut own = [0.0; MOST];
        for (own, (plant, facts)) in own.iter_mut().zip(self.plants().iter().zip(facts)) {
            *own = plant.height(facts);
        }
        let tall = own;
        for (at, facts) in facts.iter().enumerate().take(self.count).filter(|(_, facts)| facts.stretches_to > 0.0) {
            let others = (0..self.count).filter(|other| *other != at).map(|other| tall[other]);
            own[at] = larger(own[at], smaller(facts.stretches_to, 1.15 * others.fold(0.0, larger)));
        }
        own
    }

    /// Shares of the light that its crops catch.
    fn light(&self, facts: &[&SeasonFacts]) -> [f64; MOST] {
        let mut depths = [0.0; MOST];
        for (depth, (plant, facts)) in depths.iter_mut().zip(self.plants().iter().zip(facts)) {
            *depth = optical_depth(facts.extinction, plant.leaf_area, plant.cover(facts));
        }
        if self.count == 1 {
            return caught(&depths[..1], &[]);
        }
        caught(&depths[..self.count], &self.heights(facts)[..self.count])
    }

    /// One day on; `brought` is nitrogen spread on it, kg/ha. `facts` are those of its crops, in their order.
    pub fn day(&mut self, facts: &[&SeasonFacts], soil: &Soil, air: &Air, brought: f64) -> Flows {
        let mut flows = Flows::default();
        if air.turns {
            self.year_turns(facts, air);
        }
        let light = self.light(facts);
        let all_light: f64 = light.iter().sum();
        let mut shares = [Share::default(); MOST];
        flows.water = self.drink(facts, soil, air, (light, all_light), &mut shares);
        self.soil_nitrogen(soil, air, brought, &mut flows);
        let standing = larger(self.herbage() * 1e-3, 1.0);
        let snow_mm = self.water.snow.water() * 1_000.0;
        for at in 0..self.count {
            let own = shares[at].light / all_light.max(1e-12);
            let shade = if self.count > 1 { (1.0 - own) * all_light } else { 0.0 };
            let alone = self.count == 1;
            let (plant, facts) = (&mut self.plants[at], facts[at]);
            plant.through_winter(facts, air, snow_mm, shade);
            plant.days += 1;
            let before = plant.herbage();
            let mut fell = plant.wakes(facts, air, snow_mm);
            plant.headed_for(facts, air);
            fell += plant.frosted(facts, air);
            self.organic += plant.gives_back(0.7 * fell, before);
            flows.litter += fell;
            plant.grow(facts, air, snow_mm, (alone, all_light, standing), &mut shares[at], &mut flows);
        }
        self.feed(facts, soil, &shares, &mut flows);
        for plant in &mut self.plants[..self.count] {
            self.organic += plant.owed;
            plant.owed = 0.0;
        }
        flows
    }

    fn year_turns(&mut self, facts: &[&SeasonFacts], air: &Air) {
        for (plant, facts) in self.plants[..self.count].iter_mut().zip(facts) {
            if facts.annual {
                continue;
            }
            plant.age += 1.0;
            if let Some(warmth) = air.year.filter(|_| facts.heat_needed > 0.0) {
                plant.stand *= clip((warmth - 0.6 * facts.heat_needed) / (0.4 * facts.heat_needed));
            }
        }
    }

    /// The day's water: the share of its demand that each crop gets, and what leaves the soil in total.
    fn drink(
        &mut self,
        facts: &[&SeasonFacts],
        soil: &Soil,
        air: &Air,
        (light, all_light): ([f64; MOST], f64),
        shares: &mut [Share; MOST],
    ) -> Moved {
        let warm = clip((air.week + 1.0) / 5.0);
        let (mut wanted, mut got, mut from_below, mut bare) = (0.0, 0.0, 0.0, true);
        for at in 0..self.count {
            let (plant, facts) = (&mut self.plants[at], facts[at]);
            let canopy = Canopy {
                // FAO-56, equation of table 22's note: what is used before it suffers falls as the day's use rises.
                depletion_fraction: (facts.depletion + 0.04 * (5.0 - air.reference)).clamp(0.1, 0.8),
                drinks_top: 0.3 + 0.35 * facts.drought_rest,
                ..Canopy::seedbed(facts.roots)
            };
            let drawn = self.water.reached_by(&soil.profile, &canopy);
            let basal = if plant.grows(facts) { facts.water_use * light[at] * warm } else { 0.0 };
            wanted += basal;
            got += basal * drawn.stress;
            from_below += basal * drawn.stress * drawn.from_below;
            plant.watered += (drawn.stress - plant.watered) / 10.0;
            shares[at] = Share { light: light[at], stress: drawn.stress, ..Share::default() };
            bare &= facts.annual;
        }
        // Litter and crowns cover the soil between perennials (assumed).
        let open = if bare { 0.6 } else { 0.35 };
        let exposed = if self.water.snow.lies() {
            0.0
        } else {
            open * (1.0 - all_light).max(0.0) * ((air.week + 2.0) / 5.0).clamp(0.2, 1.0)
        };
        let drawn = Drawn {
            stress: if wanted > 0.0 { got / wanted } else { 0.0 },
            from_below: if got > 0.0 { from_below / got } else { 0.0 },
        };
        let canopy = Canopy { basal: wanted, exposed, drawn: Some(drawn), ..Canopy::seedbed(0.0) };
        let today = Today {
            lowest: air.lowest,
            mean: air.mean,
            rain: air.rain,
            irrigation: air.irrigation,
            reference: air.reference * 0.001,
        };
        self.water.day(&soil.profile, &canopy, today)
    }

    /// Nitrogen freed, brought and washed out.
    fn soil_nitrogen(&mut self, soil: &Soil, air: &Air, brought: f64, flows: &mut Flows) {
        let Profile { upper, lower, .. } = soil.profile;
        let pace = air.soil_pace * (0.3 + 0.7 * (1.0 - self.water.root_missing / upper));
        flows.freed = soil.supplies * pace / 365.0;
        let from_fresh = smaller(0.0022 * pace, 1.0) * self.organic;
        self.organic += 0.25 * brought - from_fresh;
        flows.lost = 0.15 * brought;
        self.mineral += flows.freed + from_fresh + 0.6 * brought;
        let share = flows.water.drained / (upper + lower + 0.060);
        flows.leached = self.mineral * smaller(share, 0.4);
        self.mineral -= flows.leached;
    }

    /// Who takes how much of the nitrogen that the soil gives today.
    fn feed(&mut self, facts: &[&SeasonFacts], soil: &Soil, shares: &[Share; MOST], flows: &mut Flows) {
        let moist = 1.0 - self.water.root_missing / soil.profile.upper;
        let gives = 0.10 * self.mineral * clip(2.0 * moist);
        let asks = |at: usize| {
            let demand = shares[at].shoot_n + shares[at].root_n;
            if facts[at].fixes { 0.20 * demand } else { 1.15 * demand }
        };
        let asked: f64 = (0..self.count).map(asks).sum();
        let share = if asked > gives { gives / asked } else { 1.0 };
        for at in 0..self.count {
            let demand = shares[at].shoot_n + shares[at].root_n;
            if demand <= 0.0 {
                continue;
            }
            let taken = asks(at) * share;
            self.mineral -= taken;
            let fixed = if facts[at].fixes { demand - taken } else { 0.0 };
            flows.fixed += fixed;
            let had = taken + fixed;
            let plant = &mut self.plants[at];
            if !facts[at].fixes {
                plant.fed += (smaller(1.15, had / demand) - plant.fed) / 8.0;
            }
            plant.nitrogen += had * shares[at].shoot_n / demand;
            self.organic += had * shares[at].root_n / demand;
        }
    }
}

impl Plant {
    /// A frost on its tops, and what of the dead falls. Gives the litter.
    fn frosted(&mut self, facts: &SeasonFacts, air: &Air) -> f64 {
        if air.lowest <= facts.tops_die_at && self.live() > 0.0 {
            let share = smaller(1.0, (facts.tops_die_at - air.lowest) / 3.0 + 0.34);
            self.dead += share * self.live();
            self.leaf *= 1.0 - share;
            self.stem *= 1.0 - share;
            self.leaf_area *= 1.0 - share;
            if share > 0.6 {
                self.warmth = if facts.annual { self.warmth } else { 0.0 };
                self.alive &= !facts.annual || facts.winters;
            }
        }
        let fallen = self.dead * smaller(facts.dead_falls * (air.mean / 20.0).clamp(0.05, 1.5), 1.0);
        self.dead -= fallen;
        fallen
    }

    /// Nitrogen of what fell, of what stood before: it goes back to the soil.
    fn gives_back(&mut self, mass: f64, stood: f64) -> f64 {
        if stood <= 0.0 {
            return 0.0;
        }
        let back = smaller(self.nitrogen * mass / stood, self.nitrogen);
        self.nitrogen -= back;
        back
    }

    /// How fast it develops by the length of the day.
    fn pace_by_day(&self, facts: &SeasonFacts, air: &Air) -> f64 {
        let mut pace = facts.short_day_pace + (1.0 - facts.short_day_pace) * clip((air.daylight - 8.0) / 8.0);
        if facts.short_days > 0.0 {
            pace *= (1.0 - facts.short_days * (14.0 - air.daylight)).clamp(0.6, 1.0);
        }
        if !facts.annual && facts.heads_in_hours > 0.0 && air.daylight < facts.heads_in_hours {
            pace *= 0.5;
        }
        pace
    }

    /// The day's development, growth and dying back.
    fn grow(
        &mut self,
        facts: &SeasonFacts,
        air: &Air,
        snow_mm: f64,
        (alone, all_light, standing): (bool, f64, f64),
        share: &mut Share,
        flows: &mut Flows,
    ) {
        let resting = facts.drought_rest * clip((0.4 - self.watered) / 0.3);
        let breathed = self.reserve * smaller(facts.reserve_breathes * air.breath_pace * (1.0 - 0.5 * resting), 1.0);
        self.reserve -= breathed;
        flows.breathed += breathed;
        let warmth = (smaller(air.mean, facts.develops_at_most) - facts.develops_above).max(0.0);
        let developed = warmth * (1.0 - 0.7 * resting) * self.pace_by_day(facts, air);
        if facts.annual && self.alive && !self.emerged {
            self.warmth += warmth;
            if self.warmth >= facts.emerges {
                self.emerged = true;
                (self.leaf, self.leaf_area) = (self.leaf + SEEDLING.0, SEEDLING.1);
                flows.seed += SEEDLING.0;
            }
            return;
        }
        if !self.grows(facts) {
            return;
        }
        self.warmth += developed;
        if facts.annual && facts.needs_winter && !self.heading {
            self.warmth = smaller(self.warmth, facts.emerges + 0.5 * facts.heads);
        }
        if facts.annual && self.warmth >= facts.ripe {
            self.alive = false;
            return;
        }
        let headed = self.heading && self.warmth >= facts.heads;
        let rest = facts.rests
            * clip((facts.rests_below_hours - air.daylight) / 2.0)
            * clip((facts.rests_below - air.week) / 7.0);
        let of_warmth = self.by_temperature(facts, air) * f64::from(u8::from(snow_mm <= 10.0));
        let fed = if facts.fixes { 1.0 } else { larger(0.1, clip((self.fed - 0.45) / 0.5).powf(0.8)) };
        let bright = (1.0 - facts.bright * (air.solar - 10.0).max(0.0)).max(0.0);
        let dry_air = (1.0 - facts.dry_air * (air.reference - 5.0).max(0.0)).clamp(0.6, 1.0);
        let in_spring = self.heading;
        let spring = if in_spring { 1.0 + facts.spring_growth } else { 1.0 };
        let years = match self.age {
            _ if facts.annual => 1.0,
            age if age < 1.0 => facts.first_year,
            age if age < 2.0 => facts.second_year,
            _ => 1.0,
        };
        let light = USABLE * air.solar * share.light;
        flows.light += light;
        let stress = share.stress;
        let made = 10.0 * facts.light_use * of_warmth * bright * dry_air * fed * stress * light * spring * years;
        let full = facts.reserve_most * self.stand;
        let moved = if facts.annual && self.cuts == 0 {
            0.0
        } else {
            let ready =
                facts.remobilised * self.reserve * of_warmth * (1.0 - all_light).max(0.0) * (1.0 - rest) * stress;
            smaller(ready, (self.reserve - 0.05 * full).max(0.0))
        };
        let (stored, rooted) = self.shares(facts, air, (headed, rest, stress, in_spring), full);
        let shoot = (1.0 - stored - rooted).max(0.0) * made + MOVED * moved;
        self.reserve += stored * made - moved;
        flows.made += made;
        flows.roots += rooted * made;
        flows.breathed += (1.0 - MOVED) * moved;
        let leafy = if self.heading {
            facts.leafy + (facts.leafy_headed - facts.leafy) * clip(self.warmth / facts.heads)
        } else {
            facts.leafy
        };
        let (leaf, stem) = (leafy * shoot, (1.0 - leafy) * shoot);
        self.leaf += leaf;
        self.stem += stem;
        let cover = self.cover(facts);
        let unfolding = facts.leaf_rate
            * developed
            * if alone { larger(cover, 0.3) } else { cover }
            * (0.3 + 0.7 * stress)
            * smaller(1.0, 0.25 + 0.8 * fed)
            * (1.0 - 0.8 * rest);
        let unfolding = match headed {
            true if facts.annual && !facts.regrows_headed => 0.0,
            true if !facts.annual => 0.25 * unfolding,
            _ => unfolding,
        };
        self.leaf_area += smaller(unfolding, 1.15 * facts.leaf_area * leaf);
        self.dies_back(facts, (warmth, stress), flows);
        share.shoot_n = shoot * facts.nitrogen * (1.0 - facts.dilution) * standing.powf(-facts.dilution) / 100.0;
        share.root_n = rooted * made * if facts.fixes { ROOT_N.1 } else { ROOT_N.0 };
    }

    fn by_temperature(&self, facts: &SeasonFacts, air: &Air) -> f64 {
        let t = air.by_day;
        let rising = (t - facts.grows_above) / (facts.best_from - facts.grows_above);
        let falling = (facts.grows_below - t) / (facts.grows_below - facts.best_to);
        clip(smaller(rising, falling)) * ((air.lowest + 4.0) / 6.0).clamp(0.2, 1.0)
    }

    /// Shares of what is made that go into reserve and roots.
    fn shares(
        &self,
        facts: &SeasonFacts,
        air: &Air,
        (headed, rest, stress, in_spring): (bool, f64, f64, bool),
        full: f64,
    ) -> (f64, f64) {
        let mut stored = 0.0;
        if full > 0.0 {
            stored = facts.stores_bare + (facts.stores_closed - facts.stores_bare) * clip((self.leaf_area - 0.8) / 2.5);
            if headed && !facts.annual {
                stored += facts.stores_ripe;
            }
            stored += (0.75 - stored) * rest;
            if !facts.annual {
                // Drought fills the crown: growth stops before the leaf does.
                stored += (0.75 - stored).max(0.0) * 0.8 * (1.0 - stress);
            }
            let held = self.reserve / full;
            stored *= (1.0 - held * held * held).max(0.0);
        }
        let early = if in_spring && facts.spring_growth > 0.0 { 0.4 } else { 1.0 };
        let rooted = facts.roots_take * early + facts.roots_take_autumn * clip((14.5 - air.daylight) / 4.5);
        (clip(stored), clip(rooted).min(1.0 - clip(stored)))
    }

    /// Leaf that grows old, is crowded out, dries up or ripens.
    fn dies_back(&mut self, facts: &SeasonFacts, (warmth, stress): (f64, f64), flows: &mut Flows) {
        let old = warmth / facts.leaf_life * clip((self.warmth - 0.6 * facts.leaf_life) / facts.leaf_life);
        let crowded = facts.crowding * (self.leaf_area / facts.crowded - 1.0).max(0.0);
        let dry = 0.03 * (1.0 - stress) * (1.0 - 0.6 * facts.drought_rest);
        let ripening = if facts.annual && self.warmth > facts.heads && facts.ripe.is_finite() {
            let ripe = (self.warmth - facts.heads) / (facts.ripe - facts.heads);
            0.9 * ripe * ripe * warmth / 250.0
        } else {
            0.0
        };
        let share = smaller(old + crowded + dry + ripening, 0.3);
        let stood = self.herbage();
        let died = share * self.leaf;
        self.leaf -= died;
        self.leaf_area *= 1.0 - share;
        self.dead += STANDS * died;
        flows.litter += (1.0 - STANDS) * died;
        // Dying leaf gives up most of its nitrogen first (assumed).
        self.owed += self.gives_back(0.6 * (1.0 - STANDS) * died, stood);
    }
}
