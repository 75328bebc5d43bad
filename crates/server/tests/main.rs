//! The application, asked as its users and its command line ask.

mod air;
mod answers;
mod api;
mod archive;
mod common;
mod crowd;
mod door;
mod faults;
mod front;
mod fuzz;
mod ground;
mod guard;
mod outside;
mod own;
mod people;
mod photos;
mod reckon;
mod shelf;
mod store;
mod weather;
mod weather_set_up;
mod worked;
mod young;
