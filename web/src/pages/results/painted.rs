//! The finished chart in the sheets' own layout: paint and print can lie side by side.

use std::fmt::Write as _;

use askama::Template;
use askama_web::WebTemplate;
use sheet::Sheet;
use workshop::{Shown, ShownColour, painted_squares};

use super::Told;
use crate::draw::Paint;
use crate::error::PageError;
use crate::frame::{Frame, Heading};
use crate::pages::plan::drawn_sheets;

/// Sheets on one page.
const MOST: usize = 20;

/// The page.
#[derive(Template, WebTemplate)]
#[template(path = "results/painted.html")]
pub(crate) struct PaintedPage {
    frame: Frame,
    heading: Heading,
    id: i64,
    sheets: Vec<(usize, String)>,
}

impl PaintedPage {
    pub fn new(frame: Frame, heading: Heading, told: &Told) -> Result<Self, PageError> {
        let Told { analysed, evidence, .. } = told;
        let squares = painted_squares(analysed, &evidence.prior);
        let (drawings, _) = drawn_sheets(&analysed.trial, 1, MOST)?;
        let conditions = analysed.analysis.conditions;
        let paint = |sheet: &Sheet| {
            let mut over = String::new();
            for cell in &sheet.cells {
                let shown = squares.iter().find(|(number, _)| *number == cell.number);
                let place = (cell.x_mm, cell.y_mm, sheet.side_mm);
                if let Some((_, shown)) = shown.filter(|_| cell.backing == study::Backing::Paper) {
                    fill(&mut over, place, shown, conditions);
                }
            }
            over
        };
        let sheets = drawings.iter().zip(analysed.trial.sheets()).map(|(drawing, sheet)| {
            let title = format!("{}, sheet {}", analysed.trial.name, sheet.number);
            let ruled = formats::sheet::svg(drawing, &title);
            let svg =
                ruled.trim_end().trim_end_matches("</svg>").to_owned() + &paint(sheet) + "</svg>";
            (sheet.number, svg)
        });
        Ok(Self { id: analysed.trial.id.0, sheets: sheets.collect(), frame, heading })
    }
}

/// A square in its colour, dotted where it is not read, with what the eye saw in it.
fn fill(
    text: &mut String,
    (x, y, side): (f64, f64, f64),
    shown: &Shown,
    conditions: colour::Conditions,
) {
    let (paint, dashes) = match &shown.colour {
        ShownColour::Read { colour, estimated } => {
            (Paint::of(colour, conditions), if *estimated { "1.4 0.8" } else { "" })
        }
        ShownColour::Predicted { lab, .. } => (Paint::predicted(*lab, conditions), "0.3 0.7"),
        ShownColour::Unknown => return,
    };
    // Writing to a String cannot fail.
    let _ = write!(
        text,
        "<rect x=\"{x:.2}\" y=\"{y:.2}\" width=\"{side}\" height=\"{side}\" fill=\"{}\"/>",
        paint.fill
    );
    if !dashes.is_empty() {
        let _ = write!(
            text,
            "<rect x=\"{x:.2}\" y=\"{y:.2}\" width=\"{side}\" height=\"{side}\" fill=\"none\" \
             stroke=\"#171717\" stroke-width=\"0.35\" stroke-dasharray=\"{dashes}\"/>"
        );
    }
    let word = shown.vividness.map(|word| word.to_string()).or_else(|| shown.seen.first().cloned());
    if let Some(word) = word {
        let word: String = word.chars().take(18).collect();
        let _ = write!(
            text,
            "<rect x=\"{x:.2}\" y=\"{:.2}\" width=\"{side}\" height=\"3.2\" fill=\"#fff\"/>\
             <text x=\"{:.2}\" y=\"{:.2}\" font-size=\"2.4\">{}</text>",
            y + side - 3.2,
            x + 0.6,
            y + side - 0.9,
            askama::filters::escape(word.as_str(), askama::filters::Html)
                .map_or_else(|_| String::new(), |safe| safe.to_string())
        );
    }
}
