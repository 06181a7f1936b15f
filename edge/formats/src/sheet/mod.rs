//! Ruled sheets as SVG and PDF, in true millimetres.

mod pdf;
mod svg;

pub use pdf::{PdfError, pdf};
pub use svg::svg;
