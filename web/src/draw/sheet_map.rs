//! The sheet in small: which square is done, which is at hand.

use askama::Template;

use super::Paint;

/// Squares in a row of the map.
const ACROSS: u32 = 8;
/// From one square to the next, px.
const PITCH: u32 = 42;
/// Side of a square, px.
const SIDE: u32 = 34;

/// How far a square is.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) enum MapState {
    Unread,
    Read(Paint),
    /// Painted, and not read yet.
    Laid,
    /// Every reading of it is void.
    Void,
}

/// One square.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct MapCell {
    pub number: u32,
    pub title: String,
    pub href: String,
    pub state: MapState,
    /// The square at hand.
    pub here: bool,
}

/// All squares of a trial.
#[derive(Debug, Clone)]
pub(crate) struct SheetMap {
    pub cells: Vec<MapCell>,
}

#[derive(Template)]
#[template(path = "sheet_map.svg", escape = "html")]
struct MapSvg<'a> {
    width: u32,
    height: u32,
    side: u32,
    cells: Vec<(u32, u32, &'a MapCell)>,
}

impl SheetMap {
    /// The SVG text.
    pub fn svg(&self) -> Result<String, askama::Error> {
        let count = u32::try_from(self.cells.len()).unwrap_or_default();
        let margin = 20;
        let placed =
            self.cells.iter().zip(0_u32..).map(|(cell, at)| {
                (margin + at % ACROSS * PITCH, margin + at / ACROSS * PITCH, cell)
            });
        MapSvg {
            width: 2 * margin + ACROSS * PITCH - (PITCH - SIDE),
            height: 2 * margin + count.div_ceil(ACROSS) * PITCH - (PITCH - SIDE),
            side: SIDE,
            cells: placed.collect(),
        }
        .render()
    }
}
