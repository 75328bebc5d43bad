//! Soil tests: what the laboratory found, in which layer, by which method.
//!
//! A figure of a soil test means nothing without its method: Bray, Mehlich-3 and Olsen phosphorus
//! are different numbers for the same soil, and so are the buffers from which lime is reckoned.
//! Here the method is part of the value.

mod import;
mod sampling;
mod test;

pub use crate::texture::Texture;
pub use import::{Buffer, Column, ImportError, Imported, Mapping, Row, import};
pub use sampling::{SamplingPlan, SamplingRequest, sampling};
pub use test::{AcidityTest, Layer, PMethod, PTest, SoilTest};
