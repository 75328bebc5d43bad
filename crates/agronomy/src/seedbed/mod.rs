//! The seedbed: whether it is firm enough, and what tillage would cost the slope.

pub mod firmness;
pub mod loss;
