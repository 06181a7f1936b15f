//! Ruled sheets as SVG, PDF, JSON and pixels, in true millimetres.

mod anchors;
mod described;
mod pdf;
mod raster;
mod svg;

pub use anchors::{expect, expect_by, known_colours, numbers_squares};
pub use described::{
    CellEntry, FORMAT, MarkEntry, PaintNumbers, SheetFile, SheetFileError, TubeEntry,
};
pub use pdf::{PdfError, pdf};
pub use raster::raster;
pub use svg::svg;
