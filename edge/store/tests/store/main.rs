//! The records as a whole: one program, so that it is linked once.

mod acts;
mod common;
mod round_trip;
mod schemas;
mod trial_story;
mod whole_file;
