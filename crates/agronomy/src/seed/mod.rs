//! Seed: from the tag on the bag to a rate, a comparison and an order.
//!
//! What a bag weighs is not what will grow. Of its contents a share is *pure* seed of the kind
//! (the rest is coating, chaff, other seed), and of the pure seed a share is *alive*: sprouted in
//! the germination test, or hard or dormant and counted so. The product is **pure live seed**,
//! PLS. Rates are PLS; drills and invoices are bulk; [`PlsFraction`] is the bridge.
//!
//! Practice differs on hard and dormant seed: some count it as live, some do not. That is a
//! [`DormantSeed`] choice here, with a usual side per crop in the library.

mod compare;
mod order;
mod rate;
mod report;
mod tag;

pub use crate::units::basis::PlsFraction;
pub use compare::{CompareRequest, Compared, ComparedLot, Comparison, compare};
pub use order::{Order, OrderLine, OrderLot, OrderMember, OrderRequest, order};
pub use rate::{
    BroadcastRate, Conditions, Method, RateRequest, Rates, Seedbed, Target, chart_rate, modifier, rate, side,
};
pub(crate) use rate::{above_drilled, far_from_usual};
pub use report::{LabReport, REPORT_FORMAT};
pub use tag::{DormantSeed, PlsRequest, Tag, pls, pls_fraction};
