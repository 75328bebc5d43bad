//! One crop of a stand: what is carried from day to day, and through winters.

use facts::crop::SeasonFacts;

use super::{Air, clip, stand::SEEDLING};
use crate::maths::{exp, smaller};

/// Growth of the first year below which a crop makes roots first: natives (assumed).
const ROOTS_FIRST: f64 = 0.3;

/// A crop as it stands on an evening. Masses are kg/ha of dry matter.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Plant {
    /// Green leaf.
    pub leaf: f64,
    /// Stem.
    pub stem: f64,
    /// Dead, and still standing.
    pub dead: f64,
    /// Reserve in crowns, stubble and roots.
    pub reserve: f64,
    /// Area of green leaf, m²/m².
    pub leaf_area: f64,
    /// Warmth gathered since green-up, cut or sowing, °C·d.
    pub warmth: f64,
    /// How full the stand is, from none to one.
    pub stand: f64,
    /// Crown temperature that would kill half of it now, °C.
    pub hardiness: f64,
    /// Cold added up, °C·d.
    pub chill: f64,
    /// Share that the worst of this winter has left.
    pub survived: f64,
    /// Winters it has seen.
    pub age: f64,
    /// Days below 9 °C since it last headed.
    pub cold_days: f64,
    /// Nitrogen it gets, of what it could use.
    pub fed: f64,
    /// Nitrogen in what stands above ground, kg/ha.
    pub nitrogen: f64,
    /// Water it gets, of what it could use, as a mean of ten days.
    pub watered: f64,
    /// Days since green-up, cut or sowing.
    pub days: u32,
    /// Cuts since green-up.
    pub cuts: u32,
    /// It grows, if it is one that rests.
    pub awake: bool,
    /// On its way to heads or bloom.
    pub heading: bool,
    /// It has come up.
    pub emerged: bool,
    /// An annual that has not ended; a perennial always.
    pub alive: bool,
    /// Nitrogen of what died today, on its way to the soil, kg/ha.
    pub(super) owed: f64,
}

impl Plant {
    /// A stand of a perennial in its rest, with most of its reserve.
    pub fn resting(facts: &SeasonFacts, tropics: bool, age: f64) -> Self {
        Self {
            reserve: 0.8 * facts.reserve_most,
            hardiness: if tropics { facts.unhardened_to } else { 0.8 * facts.hardy_to },
            fed: if facts.fixes { 1.0 } else { 0.8 },
            age,
            emerged: true,
            ..Self::sown(facts)
        }
    }

    /// One that has just been sown. (A perennial is reckoned as up and small from then on: how it comes up is told by
    /// [`crate::years`] and what looks at its seedbed.)
    pub fn sown(facts: &SeasonFacts) -> Self {
        Self {
            leaf: 0.0,
            stem: 0.0,
            dead: 0.0,
            reserve: 0.0,
            leaf_area: 0.0,
            warmth: 0.0,
            stand: 1.0,
            hardiness: facts.unhardened_to,
            chill: 0.0,
            survived: 1.0,
            age: 0.0,
            cold_days: 0.0,
            fed: if facts.fixes { 1.0 } else { 0.9 },
            nitrogen: 0.0,
            watered: 1.0,
            days: 0,
            cuts: 0,
            awake: false,
            heading: !facts.needs_winter,
            emerged: !facts.annual,
            alive: true,
            owed: 0.0,
        }
    }

    /// A perennial that has just come up from seed: awake, with a seedling's leaf. What makes roots before it makes leaf
    /// does so for its first year; of others the seedling's size is what holds them back.
    pub fn come_up(facts: &SeasonFacts) -> Self {
        let (leaf, leaf_area) = SEEDLING;
        let age = if facts.first_year < ROOTS_FIRST { 0.0 } else { 1.0 };
        Self { leaf, leaf_area, age, awake: true, emerged: true, ..Self::sown(facts) }
    }

    /// Green matter, kg/ha.
    #[inline]
    pub fn live(&self) -> f64 {
        self.leaf + self.stem
    }

    /// All that stands, kg/ha.
    #[inline]
    pub fn herbage(&self) -> f64 {
        self.leaf + self.stem + self.dead
    }

    /// Reserve, of what a stand as full as this could hold.
    #[inline]
    pub fn stored(&self, facts: &SeasonFacts) -> f64 {
        if facts.reserve_most > 0.0 && self.stand > 0.0 {
            clip(self.reserve / (facts.reserve_most * self.stand))
        } else {
            1.0
        }
    }

    /// Share of the ground that it stands on.
    #[inline]
    pub fn cover(&self, facts: &SeasonFacts) -> f64 {
        if facts.annual && !facts.winters { 1.0 } else { (self.stand / 0.6).clamp(0.02, 1.0) }
    }

    /// How far it is to early bloom or heading; 1 is there.
    #[inline]
    pub fn stage(&self, facts: &SeasonFacts) -> f64 {
        self.warmth / facts.heads
    }

    /// Height, cm, before that of its neighbours is known.
    #[inline]
    pub fn height(&self, facts: &SeasonFacts) -> f64 {
        let headed = if self.heading && facts.height_headed > 0.0 {
            facts.height_headed * clip((self.warmth - 0.6 * facts.bud) / (facts.heads - 0.6 * facts.bud))
        } else {
            0.0
        };
        let live = self.live();
        let tall = if live > 0.0 { facts.height_scale * (live * 1e-3).powf(facts.height_power) } else { 0.0 };
        // Nothing that is grown for feed is taller.
        (tall * (1.0 + headed)).min(450.0)
    }

    /// What of it can grow today: an annual that is up and not ripe, what dies back when it is awake, a green perennial
    /// always, for temperature decides.
    #[inline]
    pub fn grows(&self, facts: &SeasonFacts) -> bool {
        if facts.annual { self.alive && self.emerged } else { !facts.dies_back || self.awake }
    }

    /// Its night, and its winter: hardening, cold, gaps that open and fill. `shade` is how far companions stand in its
    /// light, from none to one.
    #[inline]
    pub(super) fn through_winter(&mut self, facts: &SeasonFacts, air: &Air, snow_mm: f64, shade: f64) {
        if facts.annual && !facts.winters {
            return;
        }
        let stored = self.stored(facts);
        if air.week < 8.0 {
            let aim = facts.hardy_to * (0.6 + 0.4 * clip(stored / 0.7));
            self.hardiness += 0.04 * (aim - self.hardiness);
        } else {
            self.hardiness += 0.10 * (air.week / 10.0).clamp(0.2, 1.5) * (facts.unhardened_to - self.hardiness);
        }
        // Snow of 0.4 cm a mm of its water keeps the frost off.
        let crown = if air.crown >= 0.0 {
            air.crown
        } else {
            air.crown * facts.crown_feels * exp(-0.06 * 0.4 * snow_mm).max(0.3)
        };
        let by_cold = if crown < -1.0 { (1.02 / (1.0 + exp(-0.9 * (crown - self.hardiness)))).min(1.0) } else { 1.0 };
        self.chill = if air.week > 12.0 { 0.0 } else { self.chill + (facts.chilled_below - crown).max(0.0) };
        let dose = self.chill / facts.chill_halves;
        let survived = smaller(by_cold, 1.0 / (1.0 + dose * dose * dose * dose));
        if survived < self.survived {
            self.stand *= survived / self.survived;
            self.survived = survived;
        }
        if facts.annual {
            return;
        }
        let aged = smaller(self.age / facts.life, 4.0);
        let thinning = (facts.thins + facts.thins_old * aged * aged) * (1.0 + facts.shaded * shade) / 365.0;
        let heat = facts.heat_loss * (air.week - facts.heat_from).max(0.0) * (0.03 + air.wet);
        let drought = facts.drought_loss * clip((0.25 - self.watered) / 0.25);
        self.stand *= (1.0 - thinning - heat - drought).max(0.0);
        if self.awake {
            let gaps = facts.fills / 365.0 * 2.0 * self.stand * (1.0 - self.stand) * (1.0 - 0.8 * shade).max(0.0);
            self.stand = smaller(self.stand + gaps, 1.0);
        }
    }

    /// Wakes and goes to rest by warmth and day length. Gives what fell as litter.
    #[inline]
    pub(super) fn wakes(&mut self, facts: &SeasonFacts, air: &Air, snow_mm: f64) -> f64 {
        if facts.annual {
            return 0.0;
        }
        let light_enough = air.tropics || air.daylight > facts.wakes_hours || air.week > facts.wakes_warm;
        if !self.awake && air.week > facts.greens_at && snow_mm <= 5.0 && light_enough {
            self.awake = true;
            (self.warmth, self.days, self.cuts, self.survived) = (0.0, 0, 0, 1.0);
            self.leaf_area = self.leaf_area.max(0.3 * facts.leaf_left * self.cover(facts));
            if facts.dies_back {
                let tops = self.live();
                (self.leaf, self.stem) = (0.0, 0.0);
                self.dead += 0.3 * tops;
                return 0.7 * tops;
            }
        } else if self.awake {
            let cold = air.week < facts.greens_at - 3.0;
            let dark = !air.tropics && air.daylight < facts.wakes_hours - 0.2 && air.week < facts.wakes_warm - 2.0;
            if cold || dark {
                self.awake = false;
                self.stand *= 1.0 - facts.winter_loss * clip((0.8 - self.stored(facts)) / 0.8);
            }
        }
        0.0
    }

    /// What needs a winter heads once it has had one and days are long.
    #[inline]
    pub(super) fn headed_for(&mut self, facts: &SeasonFacts, air: &Air) {
        if !facts.needs_winter {
            return;
        }
        self.cold_days += f64::from(u8::from(air.mean < 9.0));
        let long_now = air.daylight > facts.heads_in_hours && air.daylight_before <= facts.heads_in_hours;
        if long_now && !air.tropics && self.cold_days >= facts.chill_days {
            self.heading = true;
            self.cold_days = 0.0;
            self.warmth = if facts.annual { facts.emerges + 1.0 } else { 0.0 };
        }
    }
}
