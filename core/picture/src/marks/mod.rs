//! The four corner marks in a picture.
//!
//! 1. `find`: dark components of a small grey picture, their four extreme corners, and whether the modules between
//!    these are one of the four codes.
//! 2. `refine`: lines through each edge, and where they cross.

mod find;
mod refine;

use crate::raster::Raster;

/// A mark that was found.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct FoundMark {
    /// Its number, 0 to 3.
    pub tag: usize,
    /// Its corners in pixels, clockwise from its own top left.
    pub corners: [[f64; 2]; 4],
}

/// The marks of a picture.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct FoundMarks {
    /// Each at most once.
    pub marks: Vec<FoundMark>,
    /// They are seen as in a mirror.
    pub mirrored: bool,
}

/// Finds the marks, each corner to a few hundredths of a pixel.
#[must_use]
pub fn find_marks(picture: &Raster) -> FoundMarks {
    let mut found = find::find(picture);
    for mark in &mut found.marks {
        mark.corners = refine::refine(picture, mark.corners);
    }
    found
}
