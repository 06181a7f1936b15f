//! The corner marks of a sheet and of a card in a picture.
//!
//! 1. `find`: dark components of a small grey picture, their four extreme corners, and whether the modules between
//!    these are one of the codes.
//! 2. `refine`: lines through each edge, and where they cross.

mod find;
mod refine;

use crate::raster::Raster;

/// A mark that was found.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct FoundMark {
    /// Its number, 0 to 3 on a sheet, 4 to 7 on a card.
    pub tag: usize,
    /// Its corners in pixels, clockwise from its own top left.
    pub corners: [[f64; 2]; 4],
}

impl FoundMark {
    /// How far it is tilted away, degrees, by its sides' lengths.
    pub(crate) fn tilt_degrees(&self) -> f64 {
        let side = |at: usize| {
            let ([x, y], [u, v]) = (self.corners[at], self.corners[(at + 1) % 4]);
            (x - u).hypot(y - v)
        };
        let (one, other) = (side(0) + side(2), side(1) + side(3));
        (one.min(other) / one.max(other)).clamp(0.0, 1.0).acos().to_degrees()
    }
}

/// The marks of a picture.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct FoundMarks {
    /// Each at most once.
    pub marks: Vec<FoundMark>,
    /// Numbers of those that are there more than once.
    pub twice: Vec<usize>,
    /// They are seen as in a mirror.
    pub mirrored: bool,
    /// Pixels from dark to bright across their edges, the median of all marks; `None` where none was found.
    pub edge_px: Option<f64>,
}

/// Finds the marks, each corner to a few hundredths of a pixel.
#[must_use]
pub fn find_marks(picture: &Raster) -> FoundMarks {
    let mut found = find::find(picture);
    let mut edges = Vec::new();
    for mark in &mut found.marks {
        mark.corners = refine::refine(picture, mark.corners);
        edges.extend(refine::edge_px(picture, mark.corners));
    }
    edges.sort_by(f64::total_cmp);
    found.edge_px = edges.get(edges.len() / 2).copied();
    found
}
