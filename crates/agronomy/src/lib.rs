//! The rules of establishing and running forage stands, and their arithmetic.
//!
//! This crate is pure: no files, no network, no clock, no global state. What goes in is typed
//! and validated; what comes out is an [`working::Answer`]: the value together with the
//! [`working::Working`] that led to it, so that any figure on any screen can be opened.
//!
//! A room for each step of the job:
//!
//! | module | question it answers |
//! |---|---|
//! | [`site`] | is this field fit for this crop, and from when? |
//! | [`soil`] | what did the laboratory find, and how are samples taken? |
//! | [`lime`] | how much lime, of what, and what becomes of the soil's pH? |
//! | [`nutrients`] | what does the crop need, what left, what does manure bring? |
//! | [`blend`] | which products meet a set of needs for the least money? |
//! | [`crop`] | what do we know of this crop, and from where? |
//! | [`variety`] | which kind of it fits, and which of our own does best? |
//! | [`seed`] | what is in this bag, how much of it per acre, what does the order cost? |
//! | [`mix`] | who is in the mix, by seeds, by share of a full rate, by mass? |
//! | [`plants`] | how many rhizomes or cuttings, and how many will live? |
//! | [`weather`] | what do decades of days tell of sun, water use, frost and the soil? |
//! | [`water`] | what is in the root zone, can the seedbed be worked, when to irrigate? |
//! | [`years`] | what has been, and what may come of it, by each year of the record? |
//! | [`window`] | what are the odds that it works, day by day, and what limits them? |
//! | [`practice`] | what is done on a stand, by which school, when and after what? |
//! | [`growth`], [`course`] | how does a stand grow, and what will it give? |
//! | [`yields`] | what does a crop give where the weather is like this? |
//! | [`spraying`] | what does a label that was read allow, what would the spray kill, and in which hours? |
//! | [`drill`] | what should fall in each row, what did, and which setting is next? |
//! | [`spreader`] | how wide does a spreader spread evenly, and how much? |
//! | [`sprayer`] | what goes out of the nozzles per area? |
//! | [`sowing`] | is the seed deep enough, and will it last? |
//! | [`counting`] | how much stands, and were enough places looked at? |
//! | [`establish`] | when does it come up, and keep it or start over? |
//! | [`forage`] | what did the laboratory say, on which basis, and what follows? |
//! | [`machine`] | how long does it take, and how often is it filled? |
//! | [`field`] | how large is the field, and how much of it is sown? |
//!
//! and four that serve all others: [`units`], [`source`], [`working`], [`chance`].
//!
//! ```
//! use agronomy::units::{Fraction, MassPerArea, Unit};
//!
//! // 15 lb of pure live seed per acre, from a lot that is 46 % pure live seed
//! let pls = MassPerArea::new(15.0, Unit::LbPerAc);
//! let bulk = pls / Fraction::new(46.0, Unit::Percent);
//! assert!((bulk.to(Unit::LbPerAc) - 32.6).abs() < 0.01);
//! ```

pub mod blend;
pub mod choosing;
pub mod counting;
pub mod drill;
pub mod establish;
pub mod field;
pub mod forage;
pub mod lime;
pub mod machine;
pub mod mix;
pub mod nutrients;
pub mod plants;
pub mod practice;
pub mod seed;
pub mod seedbed;
pub mod site;
pub mod soil;
pub mod sowing;
pub mod sprayer;
pub mod spraying;
pub mod spreader;
pub mod tank;
pub mod variety;
pub mod water;
pub mod weather;
pub mod window;
pub mod yields;

pub use kernels::{course, cutting, growth, years};

pub use facts::{caution, chance, crop, given, nutrient, reckon, refusal, said, source, texture, units, working};
