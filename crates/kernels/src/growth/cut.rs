//! What a cut or a grazing takes, and leaves.

use facts::crop::SeasonFacts;

use super::{Plant, Stand, clip, stand::MOST};
use crate::maths::smaller;

/// How it is taken.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Cut {
    /// Stubble, cm; each crop's usual when absent.
    pub stubble: Option<f64>,
    /// Share of its nitrogen that comes back as dung and urine: none of what is carried off.
    pub returned: f64,
}

impl Cut {
    /// Mown at the usual height and carried off.
    pub const MOWN: Self = Self { stubble: None, returned: 0.0 };
}

/// What was taken off one crop, kg/ha.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Taken {
    /// Green leaf.
    pub leaf: f64,
    /// Stem.
    pub stem: f64,
    /// Dead.
    pub dead: f64,
    /// Nitrogen in it.
    pub nitrogen: f64,
}

impl Taken {
    /// All of its dry matter.
    pub fn mass(self) -> f64 {
        self.leaf + self.stem + self.dead
    }
}

/// Of what stubble holds, so much at the most is leaf.
const STUBBLE_LEAF: f64 = 0.15;
/// The first leaves are the richest: what is taken off the top has so much more nitrogen than the rest.
const RICHER: f64 = 1.1;
/// Of the nitrogen that grazing stock take in, what comes back where it grew (assumed).
pub const GRAZED: f64 = 0.4;

impl Stand {
    /// Cut or graze it now. Gives what was taken off each crop.
    pub fn cut(&mut self, facts: &[&SeasonFacts], cut: Cut) -> [Taken; MOST] {
        let all = self.herbage();
        let mut taken = [Taken::default(); MOST];
        let mut back = 0.0;
        for ((plant, facts), taken) in self.plants_mut().iter_mut().zip(facts).zip(&mut taken) {
            let share = if all > 0.0 { plant.herbage() / all } else { 0.0 };
            *taken = plant.cut(facts, cut, share);
            back += cut.returned * taken.nitrogen;
        }
        self.mineral += back;
        taken
    }
}

impl Plant {
    fn cut(&mut self, facts: &SeasonFacts, cut: Cut, share: f64) -> Taken {
        let stood = self.herbage();
        let stubble = cut.stubble.unwrap_or(facts.stubble) * facts.stubble_mass * share;
        let stored = self.stored(facts);
        if facts.reserve_most > 0.0 && stored < facts.reserve_critical {
            self.stand *= 1.0 - facts.cut_loss * (facts.reserve_critical - stored) / facts.reserve_critical;
        }
        let mut taken = Taken::default();
        if stood > stubble {
            let dead = self.dead * stubble / stood;
            let leaf = smaller(self.leaf, STUBBLE_LEAF * stubble);
            let stem = smaller(self.stem, (stubble - dead - leaf).max(0.0));
            // Of what is all leaf the stubble is leaf, too.
            let leaf = smaller(self.leaf, stubble - dead - stem);
            taken = Taken { leaf: self.leaf - leaf, stem: self.stem - stem, dead: self.dead - dead, nitrogen: 0.0 };
            taken.nitrogen = self.nitrogen * smaller(1.0, RICHER * taken.mass() / stood);
            (self.leaf, self.stem, self.dead) = (leaf, stem, dead);
            self.nitrogen -= taken.nitrogen;
        }
        self.leaf_area = smaller(self.leaf_area, facts.leaf_left * clip(share).sqrt());
        (self.warmth, self.days) = (0.0, 0);
        self.cuts += 1;
        if facts.needs_winter && !facts.annual {
            self.heading = false;
        }
        taken
    }
}
