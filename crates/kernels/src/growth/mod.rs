//! Growth of forage, day by day: light caught, what is made of it, where it goes, and what winters and cuts leave.
//!
//! [`Stand`] is one to three crops on a field. Each day they catch light by the leaf that each has and by who stands
//! above whom, and make dry matter of it (Monteith 1977) as temperature, water, nitrogen and their own rest allow. It
//! goes to leaf, stem, roots and reserve; after a cut the reserve comes back. The water is that of [`crate::water`], in
//! two layers, drawn on by what the canopy transpires. Nothing is random and nothing asks for a month: with the weather
//! the state fixes all that follows, bit for bit, so that a [`Stand`] can be saved on any day and continued.
//!
//! | file | what |
//! |---|---|
//! | [`air`] | a day as a stand feels it |
//! | [`plant`] | one crop: what it carries, its winters, when it wakes and heads |
//! | [`light`] | who catches how much |
//! | [`stand`] | a day on |
//! | [`cut`] | what a cut takes, and leaves |
//! | [`quality`] | what feed is in it |
//! | [`usual`] | what a stand gives in a year, kept as is usual |
//! | [`annual`] | the light a sown annual needs no more than a season for |
//!
//! Equations, figures and what they were held against: `docs/growth.md`.

pub mod air;
pub mod annual;
pub mod cut;
pub mod light;
pub mod plant;
pub mod quality;
pub mod stand;
pub mod usual;

pub use air::{Air, DayOf, Memory};
pub use annual::Growing;
pub use cut::{Cut, Taken};
pub use plant::Plant;
pub use quality::Quality;
pub use stand::{Flows, Soil, Stand};

/// Between none and one.
#[inline(always)]
pub(crate) fn clip(share: f64) -> f64 {
    share.clamp(0.0, 1.0)
}
