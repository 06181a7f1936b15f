//! A swatch between its neighbours: what was read solid, what is only predicted dotted.

use askama::Template;

use super::Paint;

/// Width of all of them together, px.
const WIDTH: f64 = 326.0;

/// One swatch of a row.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Neighbour {
    /// `None` where nothing is known of it.
    pub paint: Option<Paint>,
    /// It was read, and not only predicted.
    pub read: bool,
    /// Its ratio.
    pub label: String,
    /// The swatch at hand.
    pub here: bool,
}

#[derive(Template)]
#[template(path = "neighbours.svg", escape = "html")]
struct NeighboursSvg<'a> {
    /// Left edge, width and middle of each.
    cells: Vec<(String, String, String, &'a Neighbour)>,
}

/// The SVG text; empty where there is nothing to compare with.
pub(crate) fn neighbours(cells: &[Neighbour]) -> Result<String, askama::Error> {
    if cells.len() < 2 || cells.iter().all(|cell| cell.paint.is_none()) {
        return Ok(String::new());
    }
    let width = WIDTH / cells.len() as f64;
    let px = |value: f64| format!("{value:.1}");
    let place = |(at, cell)| {
        let x = 1.0 + at as f64 * width;
        (px(x), px(width), px(x + width / 2.0), cell)
    };
    NeighboursSvg { cells: cells.iter().enumerate().map(place).collect() }.render()
}
