//! The seedbed: whether it is firm enough, what is seen of it, and what tillage would cost the slope.

pub mod firmness;
pub mod loss;
pub mod seen;
