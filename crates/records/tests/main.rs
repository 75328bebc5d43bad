//! Records: what is stored stays readable.

mod books;
mod closes;
mod fixtures;
mod stock;
mod typed;
