//! The sheet in small: which square is done, which is at hand.

use askama::Template;
use plan::CellNumber;

use super::Paint;

/// Width of a map, px.
const WIDTH: f64 = 328.0;
/// Squares in a row where nothing was ruled.
const ACROSS: usize = 8;
/// From one such square to the next, and its side, mm of a sheet that would hold them.
const PITCH_MM: f64 = 34.0;
const SIDE_MM: f64 = 28.0;
/// Around them.
const MARGIN_MM: f64 = 16.0;

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
    pub number: CellNumber,
    pub title: String,
    pub href: String,
    pub state: MapState,
    /// The square at hand.
    pub here: bool,
}

/// The squares of one sheet, each with its top left corner in mm.
#[derive(Debug, Clone)]
pub(crate) struct SheetMap {
    pub cells: Vec<(f64, f64, MapCell)>,
    /// Width and height in mm.
    pub size: (f64, f64),
    pub side_mm: f64,
}

#[derive(Template)]
#[template(path = "sheet_map.svg", escape = "html")]
struct MapSvg<'a> {
    width: String,
    height: String,
    side: String,
    middle: String,
    font: &'static str,
    cells: Vec<(String, String, &'a MapCell)>,
}

impl SheetMap {
    /// Squares in the order of their numbers, for a trial without ruled sheets.
    pub fn grid(cells: Vec<MapCell>) -> Self {
        let rows = cells.len().div_ceil(ACROSS);
        let along = |count: usize| 2.0 * MARGIN_MM + count as f64 * PITCH_MM - (PITCH_MM - SIDE_MM);
        let place = |(at, cell): (usize, MapCell)| {
            let corner = |at: usize| MARGIN_MM + at as f64 * PITCH_MM;
            (corner(at % ACROSS), corner(at / ACROSS), cell)
        };
        Self {
            cells: cells.into_iter().enumerate().map(place).collect(),
            size: (along(ACROSS), along(rows)),
            side_mm: SIDE_MM,
        }
    }

    /// The SVG text.
    pub fn svg(&self) -> Result<String, askama::Error> {
        let scale = WIDTH / self.size.0;
        let px = |mm: f64| format!("{:.1}", mm * scale);
        let side = self.side_mm * scale;
        MapSvg {
            width: px(self.size.0),
            height: px(self.size.1),
            side: px(self.side_mm),
            middle: px(self.side_mm / 2.0),
            // Four digits must fit the square.
            font: if side < 26.0 { "is-small" } else { "" },
            cells: self.cells.iter().map(|(x, y, cell)| (px(*x), px(*y), cell)).collect(),
        }
        .render()
    }
}
