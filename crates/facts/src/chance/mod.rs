//! How sure a figure is that was found by looking at a few places or years: shares, means, and what is out of line.

mod robust;
mod student;
mod wilson;

pub use robust::{Robust, median};
pub use student::{Spread, spread, student_below, student_quantile};
pub use wilson::{Z90, wilson};
