//! What this crate offers, tested from outside.

mod any_trial;
mod cgats;
mod pictures;
mod readings_file;
mod sheet;
mod shelf_file;
