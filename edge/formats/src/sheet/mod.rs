//! Ruled sheets as SVG, PDF and JSON, in true millimetres.

mod anchors;
mod described;
mod pdf;
mod svg;

pub use anchors::{expect, expect_by, known_colours};
pub use described::{CellEntry, FORMAT, MarkEntry, SheetFile, SheetFileError, TubeEntry};
pub use pdf::{PdfError, pdf};
pub use svg::svg;
