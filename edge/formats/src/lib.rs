//! Open formats in and out, one module each.

pub mod analysis;
pub mod cells;
pub mod cgats;
pub mod comparison;
pub mod decisions;
mod drawn_mark;
pub mod log;
pub mod picture;
pub mod readings;
pub mod sheet;
pub mod shelf;
