//! Ruled sheets as SVG, PDF and JSON, in true millimetres.

mod described;
mod pdf;
mod svg;

pub use described::{CellEntry, FORMAT, MarkEntry, SheetFile, SheetFileError, TubeEntry};
pub use pdf::{PdfError, pdf};
pub use svg::svg;
