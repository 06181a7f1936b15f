//! A small ladder of a chart: its steps from the top, each full strength and tint side by side, edge to edge.

use askama::Template;

use super::Paint;

/// One square of it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct LadderCell {
    /// `None` where nobody knows its colour: it is hatched.
    pub paint: Option<Paint>,
    /// `predicted` or `estimated` for a dotted or dashed edge; empty for what was read.
    pub edge: &'static str,
    /// The square in words.
    pub title: String,
}

/// A ladder to be drawn.
#[derive(Debug, Clone)]
pub(crate) struct SmallLadder {
    pub title: String,
    /// Tells its hatching from that of the others on the page.
    pub id: String,
    /// By step, then from the left.
    pub cells: Vec<Vec<LadderCell>>,
    /// Width of the whole and height of a step, px.
    pub width: u32,
    pub step: u32,
}

#[derive(Template)]
#[template(path = "ladder.svg", escape = "html")]
struct LadderSvg<'a> {
    title: &'a str,
    width: u32,
    height: u32,
    step: u32,
    hatch: String,
    hatched: bool,
    cells: Vec<Placed<'a>>,
}

struct Placed<'a> {
    x: u32,
    y: u32,
    width: u32,
    cell: &'a LadderCell,
}

impl SmallLadder {
    /// The SVG text.
    pub fn svg(&self) -> Result<String, askama::Error> {
        let px = |count: usize| u32::try_from(count).unwrap_or_default();
        let mut cells = Vec::new();
        for (row, squares) in self.cells.iter().enumerate() {
            let width = self.width / px(squares.len()).max(1);
            cells.extend(squares.iter().enumerate().map(|(at, cell)| Placed {
                x: px(at) * width,
                y: px(row) * self.step,
                width,
                cell,
            }));
        }
        LadderSvg {
            title: &self.title,
            width: self.width,
            height: px(self.cells.len()) * self.step,
            step: self.step,
            hatch: format!("hatch-{}", self.id),
            hatched: cells.iter().any(|placed| placed.cell.paint.is_none()),
            cells,
        }
        .render()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Without colour: read is plain, predicted dotted, estimated dashed, and what nobody knows hatched.
    #[test]
    fn what_is_read_and_what_is_not_look_different() {
        let paint =
            |fill: &str| Some(Paint { fill: fill.into(), duller: false, approximate: false });
        let cell = |paint, edge| LadderCell { paint, edge, title: "3 : 1 & white".into() };
        let ladder = SmallLadder {
            title: "A with B".into(),
            id: "0-1".into(),
            cells: vec![
                vec![cell(paint("#111111"), ""), cell(paint("#222222"), "predicted")],
                vec![cell(paint("#333333"), "estimated"), cell(None, "")],
            ],
            width: 104,
            step: 34,
        };
        let svg = ladder.svg().expect("drawn");
        assert!(svg.contains(r##"x="0" y="0" width="52" height="34" fill="#111111""##), "{svg}");
        assert!(svg.contains(r##"x="52" y="34" width="52" height="34" fill="url(#hatch-0-1)""##));
        assert_eq!(svg.matches(r#"class="predicted""#).count(), 1);
        assert_eq!(svg.matches(r#"class="estimated""#).count(), 1);
        assert!(svg.contains("3 : 1 &#38; white"));
    }
}
