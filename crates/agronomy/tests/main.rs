//! The core, checked against the outside and against itself; one program, so that it is linked once.

mod bands;
mod blends;
mod growth;
mod handbook_air;
mod handbook_library;
mod handbook_lime;
mod handbook_nutrients;
mod handbook_seed;
mod handbook_units;
mod handbook_water;
mod handbook_weather;
mod laboratory_reports;
mod mixes;
mod properties;
mod recompute;
mod refusals;
mod rooms;
mod shelves;
mod sites;
mod small_parts;
mod soils;
mod weather_files;
mod weather_requests;
mod window_rules;
mod windows;
mod workings;
