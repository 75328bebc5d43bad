//! The whole path, as people walk it.

mod choosing;
mod farm;
mod ground;
mod keyboard;
mod library;
mod mishaps;
mod offline;
mod own;
mod people;
mod phone;
mod records;
mod screens;
mod seedbed;
mod sowing_day;
mod store;
mod stores;
mod uses;
mod weather;
mod whole_path;
