//! Nutrients: what the crop takes, what the soil lacks, what to bring.
//!
//! Three schools answer "how much P and K?" from the same soil test: feed the crop this year
//! ([`School::Sufficiency`]), build the soil up and keep it there ([`School::BuildMaintain`]), or
//! put back what left ([`School::Replacement`]). None is wrong; they differ in what they do to the
//! soil test, which [`need`] shows four years on. [`starter`] holds what lies with the seed against its salt. [`manure`] reckons a rate from an analysis by
//! whichever limit is met first, and [`account`] keeps a field's year.

pub mod account;
pub mod dressings;
pub mod manure;
mod need;
mod p_and_k;
mod removal;
pub mod starter;

pub use crate::nutrient::{Amounts, Analysis, Nutrient, add, amount, supplied};
pub use need::{NeedRequest, NeedSide, Needs, Prices, School, Side, Split, need};
pub use p_and_k::{Short, short};
pub use removal::{RemovalRequest, Removed, alkalinity, removal};
