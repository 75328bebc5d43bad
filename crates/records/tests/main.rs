//! Records: what is stored stays readable.

mod fixtures;
mod stock;
