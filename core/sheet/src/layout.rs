//! Rows of a plan on sheets.

use std::fmt;

use plan::{Cell, CellNumber, Naming, Plan, Row, RowAbout};
use serde::{Deserialize, Serialize};
use study::{Backing, TubeRef};

use crate::Paper;
use crate::label::{label_lines, name_lines};

/// Which layout this is: it rises when the same plan would come to stand elsewhere on its paper.
pub const LAYOUT: u32 = 2;

/// Side of a place for a dab (ours).
pub const DOT_MM: f64 = 8.0;
/// Between two squares of a row (common practice, no source).
pub(crate) const GAP_MM: f64 = 5.0;
/// The labels' size, and from one line to the next.
pub(crate) const LABEL_MM: f64 = 2.2;
pub(crate) const LINE_MM: f64 = 2.45;
/// Room above a row of squares for its title, and below it for three lines.
const TITLE_MM: f64 = 2.9;
const LABELS_MM: f64 = 3.0 * LINE_MM + 0.6;
const BETWEEN_ROWS_MM: f64 = 1.0;
/// Left and right of the squares, above and below them.
pub(crate) const SIDE_MM: f64 = 12.0;
pub(crate) const HEAD_MM: f64 = 25.5;
pub(crate) const FOOT_MM: f64 = 24.5;

/// One ruled sheet.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Sheet {
    /// Its number, from 1.
    pub number: usize,
    /// How many sheets there are.
    pub of: usize,
    /// The paper.
    pub paper: Paper,
    /// Side of a square in mm.
    pub side_mm: f64,
    /// Titles of the rows.
    pub titles: Vec<PlacedTitle>,
    /// Squares.
    pub cells: Vec<PlacedCell>,
    /// Places for a dab of a tube, to be compared with.
    #[serde(default)]
    pub dots: Vec<PlacedDot>,
}

/// A small place for a dab, with its top left corner in mm from the top left of the sheet.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PlacedDot {
    /// From the left, mm.
    pub x_mm: f64,
    /// From the top, mm.
    pub y_mm: f64,
    /// Its tube; older sheets do not tell.
    #[serde(default)]
    pub tube: Option<TubeRef>,
    /// The tube and its Colour Index names.
    pub lines: Vec<String>,
}

/// The title of a row, with the left end of its base line in mm from the top left of the sheet.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PlacedTitle {
    /// From the left, mm.
    pub x_mm: f64,
    /// From the top, mm.
    pub y_mm: f64,
    /// What it says.
    pub text: String,
}

/// A square, with its top left corner in mm from the top left of the sheet.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PlacedCell {
    /// Number of its swatch.
    pub number: CellNumber,
    /// Painted once more, and not read.
    pub again: bool,
    /// From the left, mm.
    pub x_mm: f64,
    /// From the top, mm.
    pub y_mm: f64,
    /// What lies under the paint; a black bar is printed for black.
    pub backing: Backing,
    /// What is written under it.
    pub lines: Vec<String>,
}

/// Why a plan cannot be laid out.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum LayoutError {
    /// A square does not fit the paper.
    SquareTooLarge {
        /// Side that was asked for, mm.
        side_mm: f64,
        /// Largest that fits, mm.
        most_mm: f64,
    },
    /// A square is too small to be read: hand-held meters see 4 to 8 mm (from memory).
    SquareTooSmall {
        /// Side that was asked for, mm.
        side_mm: f64,
    },
}

/// Smallest side of a square, mm.
const LEAST_SIDE_MM: f64 = 8.0;

impl fmt::Display for LayoutError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::SquareTooLarge { side_mm, most_mm } => write!(
                f,
                "a square of {side_mm} mm is larger than the sheet allows; up to {most_mm} mm fit, \
                 and 20 are usual"
            ),
            Self::SquareTooSmall { side_mm } => write!(
                f,
                "a square of {side_mm} mm is too small to be read; write {LEAST_SIDE_MM} mm or \
                 more, 20 are usual"
            ),
        }
    }
}

impl std::error::Error for LayoutError {}

/// Squares across and rows down a sheet.
struct Ruling {
    across: usize,
    down: usize,
    side_mm: f64,
}

impl Ruling {
    fn of(paper: Paper, side_mm: f64) -> Result<Self, LayoutError> {
        let (width, height) = paper.size_mm();
        let (wide, high) = (width - 2.0 * SIDE_MM, height - HEAD_MM - FOOT_MM);
        let row = side_mm + TITLE_MM + LABELS_MM + BETWEEN_ROWS_MM;
        let fits = |room: f64, each: f64| (room / each + 1e-9).floor().max(0.0) as usize;
        let ruling =
            Self { across: fits(wide + GAP_MM, side_mm + GAP_MM), down: fits(high, row), side_mm };
        if side_mm < LEAST_SIDE_MM {
            return Err(LayoutError::SquareTooSmall { side_mm });
        }
        if ruling.across == 0 || ruling.down == 0 {
            let most = (high - TITLE_MM - LABELS_MM - BETWEEN_ROWS_MM).floor();
            return Err(LayoutError::SquareTooLarge { side_mm, most_mm: most });
        }
        Ok(ruling)
    }

    fn x(&self, column: usize) -> f64 {
        SIDE_MM + column as f64 * (self.side_mm + GAP_MM)
    }

    fn y(&self, line: usize) -> f64 {
        let row = self.side_mm + TITLE_MM + LABELS_MM + BETWEEN_ROWS_MM;
        HEAD_MM + line as f64 * row + TITLE_MM
    }
}

/// Puts the rows of a plan on sheets: each starts a line, or joins the one before where both fit;
/// a row longer than a line goes on in the next.
///
/// # Errors
/// Where a square is larger than the sheet allows, or smaller than can be read.
pub fn lay_out(
    plan: &Plan,
    naming: &Naming,
    paper: Paper,
    side_mm: f64,
) -> Result<Vec<Sheet>, LayoutError> {
    let ruling = Ruling::of(paper, side_mm)?;
    let mut pen = Pen { plan, naming, paper, ruling, sheets: Vec::new(), line: 0, column: 0 };
    let is_grid = |row: &Row| matches!(row.about, RowAbout::Grid(_));
    for rows in plan.rows.chunk_by(|one, other| is_grid(one) && is_grid(other)) {
        match rows {
            [row] if !is_grid(row) => pen.row(row),
            grid => pen.grid(grid),
        }
    }
    let of = pen.sheets.len();
    for sheet in &mut pen.sheets {
        sheet.of = of;
    }
    Ok(pen.sheets)
}

/// Where the next row goes.
struct Pen<'a> {
    plan: &'a Plan,
    naming: &'a Naming,
    paper: Paper,
    ruling: Ruling,
    sheets: Vec<Sheet>,
    /// The line at hand over all sheets, and the first free column in it.
    line: usize,
    column: usize,
}

impl Pen<'_> {
    fn row(&mut self, row: &Row) {
        let title = row.about.title(&self.naming.tubes);
        for (chunk, cells) in row.cells.chunks(self.ruling.across).enumerate() {
            let joins = self.column > 0 && self.column + 1 + cells.len() <= self.ruling.across;
            match (joins, self.column) {
                (true, _) => self.column += 1,
                (false, 0) => {}
                (false, _) => self.next_line(),
            }
            let title = if chunk == 0 { title.clone() } else { format!("{title}, continued") };
            self.cells(&title, cells);
        }
    }

    /// A grid with its names along two sides; one that is wider than the sheet goes on below, block by block.
    fn grid(&mut self, rows: &[Row]) {
        let columns = rows.first().map_or(0, |row| row.cells.len());
        let across = self.ruling.across.saturating_sub(1).max(1);
        let width = self.ruling.side_mm + GAP_MM;
        let name = |row: &Row| name_lines(row.about.tube(), &self.naming.tubes, width);
        let names: Vec<[String; 2]> = rows.iter().map(name).collect();
        for from in (0..columns).step_by(across) {
            let to = (from + across).min(columns);
            let mut headed = None;
            for (row, name) in rows.iter().zip(&names) {
                let cells = &row.cells[from..to];
                if cells.iter().all(|cell| *cell == Cell::Gap) {
                    continue;
                }
                if self.column > 0 {
                    self.next_line();
                }
                let (sheet, y) =
                    (self.line / self.ruling.down, self.ruling.y(self.line % self.ruling.down));
                if headed.replace(sheet) != Some(sheet) {
                    for (at, [column, _]) in names[from..to].iter().enumerate() {
                        self.write(self.ruling.x(1 + at), y - 0.9, column);
                    }
                }
                for (at, line) in name.iter().filter(|line| !line.is_empty()).enumerate() {
                    self.write(
                        self.ruling.x(0),
                        y + self.ruling.side_mm / 2.0 + at as f64 * LINE_MM,
                        line,
                    );
                }
                self.column = 1;
                self.squares(cells);
            }
        }
    }

    /// A bold line of text on the sheet at hand.
    fn write(&mut self, x_mm: f64, y_mm: f64, text: &str) {
        let text = PlacedTitle { x_mm, y_mm, text: text.to_owned() };
        self.sheet().titles.push(text);
    }

    fn next_line(&mut self) {
        self.line += 1;
        self.column = 0;
    }

    fn cells(&mut self, title: &str, cells: &[Cell]) {
        let y = self.ruling.y(self.line % self.ruling.down);
        self.write(self.ruling.x(self.column), y - 0.9, title);
        self.squares(cells);
    }

    fn squares(&mut self, cells: &[Cell]) {
        let (line, width) = (self.line % self.ruling.down, self.ruling.side_mm + GAP_MM);
        let y = self.ruling.y(line);
        let (mut placed, mut dots) = (Vec::with_capacity(cells.len()), Vec::new());
        for (at, cell) in cells.iter().enumerate() {
            let (number, again) = match *cell {
                Cell::First(number) => (number, false),
                Cell::Again(number) => (number, true),
                Cell::Dot(tube) => {
                    let lines = name_lines(Some(tube), &self.naming.tubes, width).into();
                    let x_mm = self.ruling.x(self.column + at);
                    dots.push(PlacedDot { x_mm, y_mm: y, tube: Some(tube), lines });
                    continue;
                }
                Cell::Gap => continue,
            };
            let Some(swatch) = self.plan.swatch(number) else { continue };
            placed.push(PlacedCell {
                number,
                again,
                x_mm: self.ruling.x(self.column + at),
                y_mm: y,
                backing: swatch.backing,
                lines: label_lines(swatch, again, self.naming, width),
            });
        }
        self.column += cells.len();
        let sheet = self.sheet();
        sheet.cells.append(&mut placed);
        sheet.dots.append(&mut dots);
    }

    /// The sheet that the line at hand stands on.
    fn sheet(&mut self) -> &mut Sheet {
        let at = self.line / self.ruling.down;
        let (paper, side_mm) = (self.paper, self.ruling.side_mm);
        while self.sheets.len() <= at {
            let number = self.sheets.len() + 1;
            let (titles, cells, dots) = (Vec::new(), Vec::new(), Vec::new());
            self.sheets.push(Sheet { number, of: 0, paper, side_mm, titles, cells, dots });
        }
        &mut self.sheets[at]
    }
}
