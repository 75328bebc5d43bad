//! Seed mixes: seen three ways ([`rates()`]), and the stand they become ([`design`]).

mod design;
mod rates;
mod ready;
mod rivalry;

pub use design::{BoxLoad, DesignRequest, DesignedMember, DesignedMix, Inoculated, MixUse, ShareInYear, design};
pub use rates::{MemberRates, MixMember, MixRates, MixRequest, MixView, rates};
pub use ready::{ReadyMember, ReadyMix, ready_mixes};
pub use rivalry::replaced;
