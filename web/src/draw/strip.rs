//! A ladder before it is painted: its predicted swatches, dotted, and those of quarters below.

use askama::Template;

use super::Paint;

/// Width of a strip, px.
const WIDTH: f64 = 430.0;

/// One predicted swatch.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct StripCell {
    /// `None` where nothing can be predicted.
    pub paint: Option<Paint>,
    /// Its ratio.
    pub label: String,
}

/// One ladder.
#[derive(Debug, Clone)]
pub(crate) struct LadderStrip {
    pub title: String,
    pub cells: Vec<StripCell>,
    /// What quarters would look like; empty where the ladder is quarters, or nothing is predicted.
    pub quarters: Vec<StripCell>,
}

#[derive(Template)]
#[template(path = "strip.svg", escape = "html")]
struct StripSvg<'a> {
    title: &'a str,
    width: f64,
    height: f64,
    cells: Vec<Placed<'a>>,
    quarters: Vec<Placed<'a>>,
}

struct Placed<'a> {
    x: f64,
    width: f64,
    middle: f64,
    cell: &'a StripCell,
}

impl LadderStrip {
    /// The SVG text.
    pub fn svg(&self) -> Result<String, askama::Error> {
        StripSvg {
            title: &self.title,
            width: WIDTH,
            height: if self.quarters.is_empty() { 62.0 } else { 104.0 },
            cells: placed(&self.cells),
            quarters: placed(&self.quarters),
        }
        .render()
    }
}

fn placed(cells: &[StripCell]) -> Vec<Placed<'_>> {
    let width = WIDTH / cells.len().max(1) as f64;
    let place = |(at, cell)| {
        let x = at as f64 * width;
        Placed { x, width, middle: x + width / 2.0, cell }
    };
    cells.iter().enumerate().map(place).collect()
}
