//! The ruled sheets of a trial.

use askama::Template;
use askama_web::WebTemplate;
use sheet::{Drawing, Sheet};
use workshop::{OpenTrial, StoreError};

use crate::error::PageError;
use crate::frame::{Frame, Heading};
use crate::words::counted;

/// Sheets that one page shows.
const ON_ONE_PAGE: usize = 20;
/// Where a card lies on the paper that it is cut out of, mm.
const CUT_OUT_MM: [f64; 2] = [20.0, 20.0];
/// Sheets that one PDF holds: half a second's work.
const IN_ONE_PDF: usize = 60;

/// The sheets, in true millimetres when printed.
#[derive(Template, WebTemplate)]
#[template(path = "plan/sheets.html")]
pub(crate) struct SheetsPage {
    frame: Frame,
    heading: Heading,
    id: i64,
    summary: String,
    /// It is an anchor card.
    card: bool,
    sheets: Vec<SheetDrawing>,
    /// Where there are too many for one page: what each of them shows.
    pages: Vec<Part>,
    pdfs: Vec<Part>,
}

/// A part of the sheets.
struct Part {
    from: usize,
    label: String,
    here: bool,
}

struct SheetDrawing {
    number: usize,
    svg: String,
}

impl SheetsPage {
    pub fn new(
        frame: Frame,
        heading: Heading,
        trial: &OpenTrial,
        from: usize,
    ) -> Result<Self, PageError> {
        let paper = trial.plan.as_ref().map(|plan| plan.paper).unwrap_or_default();
        let (drawn, count) = drawings(trial, from, ON_ONE_PAGE)?;
        let draw = |(drawing, number): (&Drawing, usize)| SheetDrawing {
            number,
            svg: formats::sheet::svg(drawing, &format!("{}, sheet {number}", trial.name)),
        };
        Ok(Self {
            frame,
            heading,
            id: trial.id.0,
            card: trial.is_card(),
            summary: match trial.is_card() {
                true => format!("Anchor card, printed on {paper}"),
                false => format!("{}, {paper}", counted(count, "sheet", "sheets")),
            },
            sheets: drawn.iter().zip(from..).map(draw).collect(),
            pages: parts(count, ON_ONE_PAGE, from),
            pdfs: parts(count, IN_ONE_PDF, 0),
        })
    }

    fn tab(&self) -> &'static str {
        "sheets"
    }
}

fn parts(sheets: usize, each: usize, here: usize) -> Vec<Part> {
    let part = |from: usize| Part {
        from,
        label: if sheets <= each {
            "All".into()
        } else {
            format!("{from} to {}", (from + each - 1).min(sheets))
        },
        here: from == here,
    };
    (1..=sheets).step_by(each).map(part).collect()
}

/// The sheets of one PDF, from a number on.
pub(super) fn for_pdf(trial: &OpenTrial, from: usize) -> Result<Vec<Drawing>, PageError> {
    let (mut sheets, _) = drawings(trial, from, IN_ONE_PDF)?;
    if trial.is_card() {
        let paper = trial.plan.as_ref().map(|plan| plan.paper).unwrap_or_default();
        sheets = sheets.iter().map(|card| card.to_cut_out(paper, CUT_OUT_MM)).collect();
    }
    if sheets.is_empty() { Err(StoreError::NotFound("sheet").into()) } else { Ok(sheets) }
}

/// So many sheets of a trial's plan from a number on, and how many there are in all.
pub(crate) fn drawings(
    trial: &OpenTrial,
    from: usize,
    most: usize,
) -> Result<(Vec<Drawing>, usize), PageError> {
    let sheets = trial.sheets();
    let draw = |sheet: &Sheet| Some(sheet.drawing(&trial.name, &trial.sheet_code(sheet)?));
    let drawn: Option<Vec<Drawing>> = sheets.iter().skip(from - 1).take(most).map(draw).collect();
    match drawn.filter(|_| trial.plan.is_some()) {
        Some(drawn) => Ok((drawn, sheets.len())),
        None => Err(StoreError::NotFound("plan of this trial").into()),
    }
}
