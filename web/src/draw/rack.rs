//! The rack: uprights side by side without a gap, equal steps touching.

use askama::Template;

use super::Paint;

/// Height of one step in px; the figures beside the rack are set to the same height.
const STEP: u32 = 56;
/// Height of the names above.
const HEAD: u32 = 44;
/// Height of the figures below.
const FOOT: u32 = 64;
/// Width of the step labels at the left.
const LABELS: u32 = 104;

/// Names above an upright.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Head {
    pub maker: String,
    pub name: String,
}

impl Head {
    /// Cut to so many letters, so that it stays over its own upright.
    fn within(&self, letters: u32) -> Self {
        Self { maker: cut(&self.maker, letters as usize), name: cut(&self.name, letters as usize) }
    }
}

fn cut(text: &str, letters: usize) -> String {
    if text.chars().count() <= letters {
        return text.to_owned();
    }
    let kept: String = text.chars().take(letters.saturating_sub(1)).collect();
    format!("{}…", kept.trim_end())
}

/// One step of one upright.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Cell {
    pub paint: Paint,
    /// Predicted and not read: a dotted edge.
    pub predicted: bool,
    /// The whole swatch in words, for a screen reader and as a tooltip.
    pub title: String,
}

/// Figures below an upright.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub(crate) struct Foot {
    pub value: String,
    pub unit: String,
    pub below: String,
}

/// A rack to be drawn: every upright has one cell for each step, or none where it was not read.
#[derive(Debug, Clone)]
pub(crate) struct RackDrawing {
    pub title: String,
    pub heads: Vec<Head>,
    pub steps: Vec<String>,
    /// By step, then by upright.
    pub cells: Vec<Vec<Option<Cell>>>,
    pub feet: Vec<Foot>,
    /// Its steps light up together with what else the page shows of them.
    pub lights_up: bool,
}

#[derive(Template)]
#[template(path = "rack.svg", escape = "html")]
struct RackSvg<'a> {
    title: &'a str,
    width: u32,
    height: u32,
    labels: u32,
    upright: u32,
    heads: Vec<(u32, &'a Head)>,
    steps: Vec<(u32, &'a str)>,
    cells: Vec<Placed<'a>>,
    feet: Vec<(u32, &'a Foot)>,
    foot: u32,
    step: u32,
    lights_up: bool,
}

struct Placed<'a> {
    x: u32,
    y: u32,
    row: usize,
    cell: Option<&'a Cell>,
}

impl RackDrawing {
    /// The SVG text.
    pub fn svg(&self) -> Result<String, askama::Error> {
        let upright = self.upright_width();
        let x = |at: usize| LABELS + px(at) * upright;
        let y = |at: usize| HEAD + px(at) * STEP;
        let columns = self.heads.len();
        // Condensed letters of 14.5 px are 5.9 px wide on average.
        let heads: Vec<Head> =
            self.heads.iter().map(|head| head.within(upright * 10 / 59)).collect();
        let cells = self.cells.iter().enumerate().flat_map(|(row, cells)| {
            cells.iter().enumerate().map(move |(column, cell)| Placed {
                x: x(column),
                y: y(row),
                row,
                cell: cell.as_ref(),
            })
        });
        RackSvg {
            title: &self.title,
            width: x(columns) + 4,
            height: y(self.steps.len()) + if self.has_feet() { FOOT } else { 0 },
            labels: LABELS - 12,
            upright,
            heads: heads.iter().enumerate().map(|(at, head)| (x(at), head)).collect(),
            steps: self.steps.iter().enumerate().map(|(at, step)| (y(at), step.as_str())).collect(),
            cells: cells.collect(),
            feet: self.feet.iter().enumerate().map(|(at, foot)| (x(at), foot)).collect(),
            foot: y(self.steps.len()),
            step: STEP,
            lights_up: self.lights_up,
        }
        .render()
    }

    fn has_feet(&self) -> bool {
        self.feet.iter().any(|foot| !foot.value.is_empty())
    }

    fn upright_width(&self) -> u32 {
        match self.heads.len() {
            0..=3 => 118,
            4 => 104,
            5..=6 => 84,
            _ => 62,
        }
    }
}

fn px(count: usize) -> u32 {
    u32::try_from(count).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn cell(fill: &str, duller: bool) -> Option<Cell> {
        let paint = Paint { fill: fill.into(), duller, approximate: false };
        Some(Cell { paint, predicted: false, title: format!("paint {fill}") })
    }

    fn head(name: &str) -> Head {
        Head { maker: "Harrow & Pike".into(), name: name.into() }
    }

    fn drawing() -> RackDrawing {
        RackDrawing {
            title: "Alone and with white".into(),
            heads: vec![head("Ultramarine"), head("A name that is much longer than its upright")],
            steps: vec!["mass tone".into(), "1 : 4".into()],
            cells: vec![
                vec![cell("#112233", false), cell("#445566", true)],
                vec![cell("#778899", false), None],
            ],
            feet: vec![
                Foot::default(),
                Foot { value: "70".into(), unit: "%".into(), below: "68 – 72".into() },
            ],
            lights_up: false,
        }
    }

    #[test]
    fn uprights_stand_edge_to_edge_and_equal_steps_touch() {
        let svg = drawing().svg().expect("drawn");
        for place in [
            r##"x="104" y="44" width="118" height="56" fill="#112233""##,
            r##"x="222" y="44" width="118" height="56" fill="#445566""##,
            r##"x="104" y="100" width="118" height="56" fill="#778899""##,
        ] {
            assert!(svg.contains(place), "{place} in {svg}");
        }
        // One paint outside the screen's range, one square that was not read.
        assert_eq!(
            (svg.matches("class=\"notch\"").count(), svg.matches("class=\"unread\"").count()),
            (1, 1)
        );
    }

    #[test]
    fn every_square_is_told_in_words_and_names_are_cut_and_escaped() {
        let svg = drawing().svg().expect("drawn");
        assert!(svg.contains("<title>paint #445566, duller here than in life</title>"));
        assert!(svg.contains("<title>not read</title>"));
        assert!(svg.contains("Harrow &#38; Pike") && !svg.contains("Harrow & Pike"));
        assert!(svg.contains("A name that is much…"));
    }

    #[test]
    fn without_figures_there_is_no_room_for_them() {
        let height = |feet: Vec<Foot>| {
            let svg = RackDrawing { feet, ..drawing() }.svg().expect("drawn");
            let (_, rest) = svg.split_once("height=\"").expect("a height");
            rest.split_once('"')
                .and_then(|(height, _)| height.parse::<u32>().ok())
                .expect("a number")
        };
        assert_eq!(height(vec![Foot::default(); 2]), HEAD + 2 * STEP);
        assert_eq!(height(drawing().feet), HEAD + 2 * STEP + FOOT);
    }
}
