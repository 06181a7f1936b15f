//! Squares of a ruled sheet in their colours, in mm from its top left: laid over the sheet's own drawing.

use askama::Template;

/// One square.
pub(crate) struct PaintedCell {
    pub x_mm: f64,
    pub y_mm: f64,
    pub side_mm: f64,
    /// `#rrggbb`.
    pub fill: String,
    /// `predicted` or `estimated` for a dotted or dashed edge; empty for what was read.
    pub edge: &'static str,
    /// What the eye saw; empty where nothing.
    pub word: String,
}

/// The squares of one sheet.
#[derive(Template)]
#[template(path = "painted.svg", escape = "html")]
pub(crate) struct PaintedCells {
    pub cells: Vec<PaintedCell>,
}
