//! Rows in the order of work: a sheet is filled from one end, and the next one is taken when it is full.

use crate::charts::{Cell, Row, RowAbout, Squares};
use crate::numbers::CellNumber;
use crate::schedule::{Schedule, Work};
use crate::swatch::Swatch;

/// Puts the rows in the order in which their first squares are painted, and numbers all squares anew. A grid
/// keeps its order: its names stand along two sides.
pub(super) fn fill_in_order(squares: &mut Squares, work: &mut Schedule) {
    if squares.rows.iter().any(|row| matches!(row.about, RowAbout::Grid(_))) {
        return;
    }
    let painted = painted_at(squares.swatches.len(), work);
    let begun = |row: &Row| {
        let cells = row.cells.iter().filter_map(|cell| number(*cell)?.of(&painted));
        cells.copied().min().unwrap_or(usize::MAX)
    };
    squares.rows.sort_by_key(begun);
    let renamed = renumber(squares);
    let rename = |number: &mut CellNumber| {
        if let Some(new) = number.of(&renamed) {
            *number = *new;
        }
    };
    for step in &mut work.steps {
        if let Work::Straight { cells, .. } = &mut step.work {
            cells.iter_mut().for_each(rename);
        }
    }
    for pile in &mut work.piles {
        pile.cells.iter_mut().for_each(rename);
    }
}

fn number(cell: Cell) -> Option<CellNumber> {
    match cell {
        Cell::First(number) | Cell::Again(number) => Some(number),
        Cell::Dot(_) | Cell::Gap => None,
    }
}

/// The step each square is painted in, by its number; bare backings come last.
fn painted_at(squares: usize, work: &Schedule) -> Vec<usize> {
    let mut painted = vec![usize::MAX; squares];
    for (at, step) in work.steps.iter().enumerate() {
        let cells = match &step.work {
            Work::Straight { cells, .. } => cells,
            Work::Mix(pile) => &work.piles[pile.0].cells,
        };
        for place in cells.iter().filter_map(|cell| cell.place()) {
            painted[place] = painted[place].min(at);
        }
    }
    painted
}

/// Numbers the squares as they stand in the rows now; the new number of each, by its old one.
fn renumber(squares: &mut Squares) -> Vec<CellNumber> {
    let mut renamed: Vec<Option<CellNumber>> = vec![None; squares.swatches.len()];
    let mut swatches: Vec<Swatch> = Vec::with_capacity(squares.swatches.len());
    for cell in squares.rows.iter_mut().flat_map(|row| &mut row.cells) {
        let Some((old, place)) = number(*cell).and_then(|old| Some((old, old.place()?))) else {
            continue;
        };
        *cell = match renamed[place] {
            Some(known) => Cell::Again(known),
            None => {
                let new = CellNumber::at(swatches.len());
                if let Some(swatch) = old.of(&squares.swatches) {
                    swatches.push(Swatch { number: new, ..swatch.clone() });
                }
                renamed[place] = Some(new);
                Cell::First(new)
            }
        };
    }
    squares.swatches = swatches;
    renamed.into_iter().map(|new| new.unwrap_or(CellNumber(0))).collect()
}
