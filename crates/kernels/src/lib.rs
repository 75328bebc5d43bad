//! What steps through days by the million: weather, water, the soil's warmth, growth, and windows tried on decades.
//!
//! Plain numbers in, plain numbers out. It is the one crate that is optimised in every build, because it is small:
//! a loop over days that a screen waits for belongs here, and a request, a sentence or a table of data does not. What
//! is generic or marked `inline` is compiled again, unoptimised, wherever it is called from in a debug build, so a hot
//! loop calls it from here: [`water::Water::day`] and not [`water::Water::step`], which writes lines for a screen.
//!
//! | module | what |
//! |---|---|
//! | [`day`] | days of weather, and the years of a record |
//! | [`sun`], [`et0`], [`degree_days`], [`frost`] | what follows from a day |
//! | [`usual`] | what is usual on each day of the year |
//! | [`normals`], [`generator`], [`forecast`] | weather that could be |
//! | [`snow`], [`soil`], [`water`] | the ground, day by day |
//! | [`growth`] | stands that grow, are cut, and live through winters |
//! | [`course`] | the course of a stand: its past once, and what each year would make of it |
//! | [`cutting`] | ways of cutting it, tried on the years |
//! | [`years`], [`rule`], [`odds`] | windows, tried on every day of every year |
//!
//! ```
//! use jiff::civil::date;
//! use kernels::sun::sky_on;
//!
//! // FAO-56 example 8: 20° south on 3 September
//! let sky = sky_on(-20.0, date(1998, 9, 3));
//! assert!((sky.extraterrestrial - 32.2).abs() < 0.05);
//! ```

pub mod course;
pub mod cutting;
pub mod day;
pub mod degree_days;
pub mod et0;
pub mod forecast;
pub mod frost;
pub mod generator;
pub mod growth;
mod maize;
pub mod maths;
pub mod normals;
pub mod odds;
pub mod rule;
pub mod snow;
pub mod soil;
pub mod sun;
pub mod usual;
pub mod water;
pub mod years;
