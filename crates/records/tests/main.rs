//! Records: what is stored stays readable.

mod books;
mod closes;
mod fixtures;
mod forage;
mod stock;
mod typed;
