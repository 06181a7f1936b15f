//! The ruled sheets of a trial.

use std::collections::HashMap;

use askama::Template;
use askama_web::WebTemplate;
use sheet::{Drawing, Sheet, SheetCode};
use store::{StoreError, Trial, TrialPlan};

use crate::error::PageError;
use crate::frame::{Frame, Heading};
use crate::words::counted;

/// Sheets that one page shows.
const ON_ONE_PAGE: usize = 20;
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
        trial: &Trial,
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
            summary: format!("{}, {paper}", counted(count, "sheet", "sheets")),
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
pub(super) fn for_pdf(trial: &Trial, from: usize) -> Result<Vec<Drawing>, PageError> {
    let (sheets, _) = drawings(trial, from, IN_ONE_PDF)?;
    if sheets.is_empty() { Err(StoreError::NotFound("sheet").into()) } else { Ok(sheets) }
}

/// So many sheets of a trial's plan from a number on, and how many there are in all.
pub(super) fn drawings(
    trial: &Trial,
    from: usize,
    most: usize,
) -> Result<(Vec<Drawing>, usize), PageError> {
    let planned = trial.plan.as_ref().ok_or(StoreError::NotFound("plan of this trial"))?;
    let sheets = laid_out(trial, planned)?;
    let draw = |sheet: &Sheet| {
        let code = SheetCode {
            trial: trial.id.0,
            sheet: sheet.number,
            of: sheet.of,
            paper: planned.paper,
            side_mm: planned.design.supply.film.side_mm,
        };
        sheet.drawing(&trial.name, &code)
    };
    Ok((sheets.iter().skip(from - 1).take(most).map(draw).collect(), sheets.len()))
}

fn laid_out(trial: &Trial, planned: &TrialPlan) -> Result<Vec<Sheet>, PageError> {
    let side_mm = planned.design.supply.film.side_mm;
    sheet::lay_out(&planned.plan, &trial.labels(), trial.white(), planned.paper, side_mm)
        .map_err(|error| PageError::Planning(error.to_string()))
}

/// The sheet that a swatch stands on; `None` for a trial that was not planned here.
pub(crate) fn sheet_with(trial: &Trial, number: u32) -> Option<Sheet> {
    let planned = trial.plan.as_ref()?;
    let sheets = laid_out(trial, planned).ok()?;
    let holds = |sheet: &Sheet| sheet.cells.iter().any(|it| it.number == number && !it.again);
    sheets.into_iter().find(holds)
}

/// The sheet that each swatch stands on, by swatch number.
pub(crate) fn sheet_of(trial: &Trial) -> HashMap<u32, usize> {
    let laid = trial.plan.as_ref().and_then(|planned| laid_out(trial, planned).ok());
    let sheets = laid.unwrap_or_default();
    let firsts = sheets.iter().flat_map(|sheet| {
        let cells = sheet.cells.iter().filter(|cell| !cell.again);
        cells.map(|cell| (cell.number, sheet.number))
    });
    firsts.collect()
}
