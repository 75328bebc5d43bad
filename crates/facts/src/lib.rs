//! What is known before anything is reckoned: measures and their units, sentences with amounts in them, refusals,
//! workings, sources, cautions, and the crops of the library.
//!
//! It is words and data and holds no rule of the job; those stand in `agronomy`, and what is stepped through by the
//! million in `kernels`. Both rest on this.
//!
//! | module | what |
//! |---|---|
//! | [`units`] | measures, their units, how people write and read them |
//! | [`said`] | sentences whose figures are still figures |
//! | [`source`] | where a value comes from |
//! | [`refusal`] | what is wrong with a field |
//! | [`caution`] | what to mind |
//! | [`working`] | how a figure came about |
//! | [`chance`] | how sure so many tries make one |
//! | [`nutrient`], [`texture`] | words of soil and nutrients |
//! | [`crop`] | the crops, each value with its source |
//!
//! ```
//! use facts::units::{Fraction, MassPerArea, Unit};
//!
//! // 15 lb of pure live seed per acre, from a lot that is 46 % pure live seed
//! let pls = MassPerArea::new(15.0, Unit::LbPerAc);
//! let bulk = pls / Fraction::new(46.0, Unit::Percent);
//! assert!((bulk.to(Unit::LbPerAc) - 32.6).abs() < 0.01);
//! ```

pub mod caution;
pub mod chance;
pub mod crop;
pub mod nutrient;
pub mod refusal;
pub mod said;
pub mod source;
pub mod texture;
pub mod units;
pub mod working;
