//! A sheet as rectangles and texts.

use qrcode::{EcLevel, QrCode};
use study::Backing;

use crate::layout::{DOT_MM, FOOT_MM, HEAD_MM, LABEL_MM, LINE_MM, SIDE_MM};
use crate::{CORNER_MARK_MM, Paper, Sheet, SheetCode, corner_marks};

/// From the paper's edge to a corner mark; most printers leave 4 to 5 mm blank (from memory).
pub const EDGE_MM: f64 = 7.0;
/// Side of one module of the code.
pub const CODE_MODULE_MM: f64 = 0.6;
/// Clear of everything around the code: four modules (ISO/IEC 18004).
const QUIET_MM: f64 = 4.0 * CODE_MODULE_MM;
/// How far a black bar stands out at both sides of its square, so that bare black is seen as well.
const BAR_OUT_MM: f64 = 2.0;
/// Lines are this wide.
const LINE_WIDTH_MM: f64 = 0.2;

/// Where a code of so many modules across begins on paper of a width, mm from the left; its top is the marks' own.
#[must_use]
pub fn code_left_mm(paper_width_mm: f64, modules: usize) -> f64 {
    let side = modules as f64 * CODE_MODULE_MM;
    paper_width_mm - EDGE_MM - CORNER_MARK_MM - 2.0 * QUIET_MM - side
}

/// A page of marks, in mm from the top left.
#[derive(Debug, Clone, PartialEq)]
pub struct Drawing {
    /// Width in mm.
    pub width_mm: f64,
    /// Height in mm.
    pub height_mm: f64,
    /// What is drawn, in this order.
    pub marks: Vec<Mark>,
}

/// One mark. Everything is black.
#[derive(Debug, Clone, PartialEq)]
pub enum Mark {
    /// A filled rectangle.
    Solid {
        /// Left, top, width and height in mm.
        area: [f64; 4],
    },
    /// The outline of a rectangle, its line centred on the edge.
    Outline {
        /// Left, top, width and height in mm.
        area: [f64; 4],
        /// Width of the line in mm.
        line_mm: f64,
        /// Dashed: painted again, and not read.
        dashed: bool,
    },
    /// A line of text.
    Text {
        /// Left end of the base line in mm.
        at: [f64; 2],
        /// Height of the letters' em in mm.
        size_mm: f64,
        /// In the bold cut.
        bold: bool,
        /// What it says.
        text: String,
    },
}

impl Sheet {
    /// Draws the sheet: marks, code, head, squares with labels, and room for a note.
    #[must_use]
    pub fn drawing(&self, trial: &str, code: &SheetCode) -> Drawing {
        let (width_mm, height_mm) = self.paper.size_mm();
        let mut drawing = Drawing { width_mm, height_mm, marks: Vec::new() };
        drawing.corners(self.paper);
        drawing.code(&code.to_string());
        if self.paper == Paper::Card {
            drawing.card_head(trial);
        } else {
            drawing.head(trial, self);
        }
        for title in &self.titles {
            drawing.text([title.x_mm, title.y_mm], LABEL_MM, true, &title.text);
        }
        for cell in &self.cells {
            let area = [cell.x_mm, cell.y_mm, self.side_mm, self.side_mm];
            if cell.backing == Backing::Black {
                let [x, y, w, h] = area;
                let area = [x - BAR_OUT_MM, y, w + 2.0 * BAR_OUT_MM, h];
                drawing.marks.push(Mark::Solid { area });
            } else {
                let dashed = cell.again;
                drawing.marks.push(Mark::Outline { area, line_mm: LINE_WIDTH_MM, dashed });
            }
            for (at, line) in cell.lines.iter().enumerate() {
                let y = cell.y_mm + self.side_mm + LABEL_MM + 0.2 + at as f64 * LINE_MM;
                drawing.text([cell.x_mm, y], LABEL_MM, at == 0, line);
            }
        }
        for dot in &self.dots {
            let area = [dot.x_mm, dot.y_mm, DOT_MM, DOT_MM];
            drawing.marks.push(Mark::Outline { area, line_mm: LINE_WIDTH_MM, dashed: false });
            for (at, line) in dot.lines.iter().enumerate() {
                let y = dot.y_mm + DOT_MM + LABEL_MM + 0.2 + at as f64 * LINE_MM;
                drawing.text([dot.x_mm, y], LABEL_MM, at == 0, line);
            }
        }
        if self.paper != Paper::Card {
            drawing.note();
        }
        drawing
    }
}

impl Drawing {
    /// The same drawing on a larger paper, so far from its left and top, with a line to cut along.
    #[must_use]
    pub fn to_cut_out(&self, paper: Paper, [left, top]: [f64; 2]) -> Self {
        let (width_mm, height_mm) = paper.size_mm();
        let moved = |[x, y, w, h]: [f64; 4]| [x + left, y + top, w, h];
        let mark = |mark: &Mark| match mark.clone() {
            Mark::Solid { area } => Mark::Solid { area: moved(area) },
            Mark::Outline { area, line_mm, dashed } => {
                Mark::Outline { area: moved(area), line_mm, dashed }
            }
            Mark::Text { at: [x, y], size_mm, bold, text } => {
                Mark::Text { at: [x + left, y + top], size_mm, bold, text }
            }
        };
        let mut page = Self { width_mm, height_mm, marks: self.marks.iter().map(mark).collect() };
        let area = [left, top, self.width_mm, self.height_mm];
        page.marks.push(Mark::Outline { area, line_mm: 0.1, dashed: true });
        let help = "Print at 100 % on the paper that your sheets are printed on, and cut it out along the line.";
        page.text([left, top + self.height_mm + 8.0], 3.4, false, help);
        page
    }

    fn text(&mut self, at: [f64; 2], size_mm: f64, bold: bool, text: &str) {
        self.marks.push(Mark::Text { at, size_mm, bold, text: text.to_owned() });
    }

    fn corners(&mut self, paper: Paper) {
        let (right, bottom) =
            (self.width_mm - EDGE_MM - CORNER_MARK_MM, self.height_mm - EDGE_MM - CORNER_MARK_MM);
        let places = [[EDGE_MM, EDGE_MM], [right, EDGE_MM], [right, bottom], [EDGE_MM, bottom]];
        for (dark, [x, y]) in corner_marks().iter().skip(paper.first_mark()).zip(places) {
            let rows = dark.iter().map(<[bool; 8]>::as_slice);
            self.modules(rows, CORNER_MARK_MM / 8.0, [x, y]);
        }
    }

    fn code(&mut self, text: &str) {
        // The longest code is far below what a QR code holds.
        let Ok(code) = QrCode::with_error_correction_level(text, EcLevel::M) else { return };
        let (width, colours) = (code.width(), code.into_colors());
        let dark: Vec<bool> = colours.iter().map(|colour| *colour == qrcode::Color::Dark).collect();
        let x = code_left_mm(self.width_mm, width);
        self.modules(dark.chunks(width), CODE_MODULE_MM, [x, EDGE_MM]);
    }

    /// Dark modules row by row, neighbours in one rectangle.
    fn modules<'a>(
        &mut self,
        rows: impl IntoIterator<Item = &'a [bool]>,
        module_mm: f64,
        [x, y]: [f64; 2],
    ) {
        for (row, modules) in rows.into_iter().enumerate() {
            let mut from = 0;
            for run in modules.chunk_by(|one, other| one == other) {
                if run[0] {
                    let left = x + from as f64 * module_mm;
                    let top = y + row as f64 * module_mm;
                    let area = [left, top, run.len() as f64 * module_mm, module_mm];
                    self.marks.push(Mark::Solid { area });
                }
                from += run.len();
            }
        }
    }

    fn head(&mut self, trial: &str, sheet: &Sheet) {
        let left = EDGE_MM + CORNER_MARK_MM + 4.0;
        self.text([left, EDGE_MM + 4.2], 4.6, true, trial);
        let numbers = sheet.cells.iter().filter(|cell| !cell.again).map(|cell| cell.number);
        let range = match (numbers.clone().min(), numbers.max()) {
            (Some(first), Some(last)) => format!(", squares {first} to {last}"),
            _ => String::new(),
        };
        let about = format!("sheet {} of {}{range}", sheet.number, sheet.of);
        self.text([left, EDGE_MM + 9.0], 3.0, false, &about);
        let help = match sheet.cells.iter().any(|cell| cell.again) {
            true => "Print at 100 %. Paint the dashed squares too; they are not read.",
            false => "Print at 100 %.",
        };
        self.text([left, EDGE_MM + 13.0], 2.4, false, help);
    }

    fn card_head(&mut self, trial: &str) {
        let left = EDGE_MM + CORNER_MARK_MM + 3.0;
        self.text([left, EDGE_MM + 4.2], 4.0, true, trial);
        let help = "Lay it beside the sheet in every picture. Thick, even paint.";
        self.text([left, EDGE_MM + 8.6], 2.4, false, help);
    }

    fn note(&mut self) {
        let top = self.height_mm - FOOT_MM + 3.5;
        let left = EDGE_MM + CORNER_MARK_MM + 4.0;
        let area = [left, top, self.width_mm - 2.0 * left, self.height_mm - EDGE_MM - top];
        self.marks.push(Mark::Outline { area, line_mm: LINE_WIDTH_MM, dashed: false });
        let words = "Note (paper, light, who painted it, when)";
        self.text([left + 1.5, top + 3.2], 2.4, false, words);
        debug_assert!(left > SIDE_MM && HEAD_MM > EDGE_MM + 13.0);
    }
}
