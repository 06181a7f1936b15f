//! The finished chart in the sheets' own layout: paint and print can lie side by side.

use askama::Template;
use askama_web::WebTemplate;
use colour::Conditions;
use sheet::{DOT_MM, Sheet};
use study::Backing;
use workshop::{Shown, ShownColour, mass_tones, painted_squares};

use super::Told;
use crate::draw::{Paint, PaintedCell, PaintedCells};
use crate::error::PageError;
use crate::frame::{Frame, Heading};
use crate::pages::plan::drawn_sheets;

/// Sheets on one page.
const MOST: usize = 20;
/// Letters that fit into a square.
const LETTERS: usize = 18;

/// The page.
#[derive(Template, WebTemplate)]
#[template(path = "results/painted.html")]
pub(crate) struct PaintedPage {
    frame: Frame,
    heading: Heading,
    id: i64,
    sheets: Vec<(usize, String)>,
    /// Sheets that are too many for this page.
    left_out: usize,
}

impl PaintedPage {
    pub fn new(frame: Frame, heading: Heading, told: &Told) -> Result<Self, PageError> {
        let Told { analysed, evidence, .. } = told;
        let squares = painted_squares(analysed, &evidence.prior);
        let alone = mass_tones(analysed, &evidence.prior);
        let (drawings, count) = drawn_sheets(&analysed.trial, 1, MOST)?;
        let conditions = analysed.analysis.conditions;
        let paint = |sheet: &Sheet| {
            let on_paper = sheet.cells.iter().filter(|cell| cell.backing == Backing::Paper);
            let cells = on_paper.filter_map(|cell| {
                let area = [cell.x_mm, cell.y_mm, sheet.side_mm];
                painted(area, squares.get(&cell.number)?, conditions)
            });
            let dots = sheet.dots.iter().filter_map(|dot| {
                painted([dot.x_mm, dot.y_mm, DOT_MM], alone.get(dot.tube?.0)?, conditions)
            });
            PaintedCells { cells: cells.chain(dots).collect() }.render()
        };
        let sheets = drawings.iter().zip(analysed.trial.sheets()).map(|(drawing, sheet)| {
            let title = format!("{}, sheet {}", analysed.trial.name, sheet.number);
            let ruled = formats::sheet::svg(drawing, &title);
            let ruled = ruled.trim_end().trim_end_matches("</svg>");
            Ok((sheet.number, format!("{ruled}{}</svg>", paint(sheet)?)))
        });
        let left_out = count.saturating_sub(MOST);
        let sheets = sheets.collect::<Result<_, askama::Error>>()?;
        Ok(Self { id: analysed.trial.id.0, sheets, left_out, frame, heading })
    }
}

/// A square in its colour, with what the eye saw in it; `None` where nobody knows it.
fn painted(
    [x_mm, y_mm, side_mm]: [f64; 3],
    shown: &Shown,
    conditions: Conditions,
) -> Option<PaintedCell> {
    let (paint, edge) = match &shown.colour {
        ShownColour::Read { colour, estimated } => {
            (Paint::of(colour, conditions), if *estimated { "estimated" } else { "" })
        }
        ShownColour::Predicted { lab, .. } => (Paint::predicted(*lab, conditions), "predicted"),
        ShownColour::Unknown => return None,
    };
    let word = shown.vividness.map(|word| word.to_string()).or_else(|| shown.seen.first().cloned());
    let word = word.unwrap_or_default().chars().take(LETTERS).collect();
    Some(PaintedCell { x_mm, y_mm, side_mm, fill: paint.fill, edge, word })
}
