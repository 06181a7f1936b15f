//! The ruled sheets of a trial.

use askama::Template;
use askama_web::WebTemplate;
use sheet::{Drawing, SheetCode};
use std::collections::HashMap;
use store::{StoreError, Trial};

use crate::error::PageError;
use crate::frame::{Frame, Heading};
use crate::words::counted;

/// Sheets that one page shows.
const ON_ONE_PAGE: usize = 20;
/// Sheets that one PDF holds: half a second's work.
const IN_ONE_PDF: usize = 100;

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
        let drawings = drawings(trial)?;
        let paper = trial.plan.as_ref().map(|plan| plan.paper).unwrap_or_default();
        let draw = |(drawing, number): (&Drawing, usize)| SheetDrawing {
            number,
            svg: formats::sheet::svg(drawing, &format!("{}, sheet {number}", trial.name)),
        };
        Ok(Self {
            frame,
            heading,
            id: trial.id.0,
            summary: format!("{}, {paper}", counted(drawings.len(), "sheet", "sheets")),
            sheets: drawings.iter().zip(1..).skip(from - 1).take(ON_ONE_PAGE).map(draw).collect(),
            pages: parts(drawings.len(), ON_ONE_PAGE, from),
            pdfs: parts(drawings.len(), IN_ONE_PDF, 0),
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
    let sheets: Vec<Drawing> =
        drawings(trial)?.into_iter().skip(from - 1).take(IN_ONE_PDF).collect();
    if sheets.is_empty() { Err(StoreError::NotFound("sheet").into()) } else { Ok(sheets) }
}

/// Every sheet of a trial's plan.
pub(super) fn drawings(trial: &Trial) -> Result<Vec<Drawing>, PageError> {
    let planned = trial.plan.as_ref().ok_or(StoreError::NotFound("plan of this trial"))?;
    let side_mm = planned.design.supply.film.side_mm;
    let sheets =
        sheet::lay_out(&planned.plan, &trial.labels(), trial.white(), planned.paper, side_mm)
            .map_err(|error| PageError::Sheet(error.to_string()))?;
    let draw = |sheet: &sheet::Sheet| {
        let code = SheetCode {
            trial: trial.id.0,
            sheet: sheet.number,
            of: sheet.of,
            paper: planned.paper,
            side_mm,
        };
        sheet.drawing(&trial.name, &code)
    };
    Ok(sheets.iter().map(draw).collect())
}

/// The sheet that each swatch stands on, by swatch number.
pub(super) fn sheet_of(trial: &Trial) -> HashMap<u32, usize> {
    let Some(planned) = &trial.plan else { return HashMap::new() };
    let side_mm = planned.design.supply.film.side_mm;
    let laid =
        sheet::lay_out(&planned.plan, &trial.labels(), trial.white(), planned.paper, side_mm);
    let sheets = laid.unwrap_or_default();
    let firsts = sheets.iter().flat_map(|sheet| {
        let cells = sheet.cells.iter().filter(|cell| !cell.again);
        cells.map(|cell| (cell.number, sheet.number))
    });
    firsts.collect()
}
