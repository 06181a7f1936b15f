//! Swatch sheets in true millimetres.
//!
//! [`lay_out`] puts the rows of a [`plan::Plan`] on ruled sheets; [`Sheet::drawing`] turns a
//! sheet into rectangles and texts that any renderer can draw. Four corner marks and a code say
//! which sheet of which trial it is, so that its cells can be found again in a scan. What was
//! printed is stored with the plan. [`lay_out_card`] makes the card of known colours that lies beside a sheet;
//! [`Ruling`] is a chart that somebody else ruled.

mod card;
mod code;
mod drawing;
mod label;
mod layout;
mod marks;
mod paper;
mod ruled;

pub use card::{CARD_SQUARES, lay_out_card};
pub use code::{CodeError, SheetCode};
pub use drawing::{CODE_MODULE_MM, Drawing, EDGE_MM, Mark, code_left_mm};
pub use layout::{DOT_MM, LAYOUT, LayoutError, PlacedCell, PlacedTitle, Sheet, lay_out};
pub use marks::{CORNER_MARK_MM, corner_marks};
pub use paper::Paper;
pub use ruled::{MOST_RULED, Ruling, go_round};
