//! Records: what is stored stays readable.

mod books;
mod fixtures;
mod stock;
mod typed;
