//! The anchor card: known colours that lie beside a sheet in its picture.

use plan::{Naming, Plan};

use crate::label::label_lines;
use crate::layout::{PlacedCell, Sheet};
use crate::paper::Paper;

/// Squares across and rows down.
const ACROSS: usize = 6;
const DOWN: usize = 4;
/// Side of a square, mm.
const SIDE_MM: f64 = 12.0;
/// From one square to the next, to the right and down, mm: room for light to be measured, and for labels.
const PITCH_MM: [f64; 2] = [20.0, 18.0];
/// Where the first one lies, mm: clear of the marks and of the code.
const FIRST_MM: [f64; 2] = [18.0, 24.0];

/// Squares that a card holds.
pub const CARD_SQUARES: usize = ACROSS * DOWN;

/// Puts the squares of a plan on one card, by number; those beyond [`CARD_SQUARES`] are left out.
#[must_use]
pub fn lay_out_card(plan: &Plan, naming: &Naming) -> Vec<Sheet> {
    let place = |at: usize| {
        let (column, row) = ((at % ACROSS) as f64, (at / ACROSS) as f64);
        [FIRST_MM[0] + column * PITCH_MM[0], FIRST_MM[1] + row * PITCH_MM[1]]
    };
    let cells = plan.swatches.iter().take(CARD_SQUARES).enumerate().map(|(at, swatch)| {
        let [x_mm, y_mm] = place(at);
        PlacedCell {
            number: swatch.number,
            again: false,
            x_mm,
            y_mm,
            backing: swatch.backing,
            lines: label_lines(swatch, false, naming, PITCH_MM[0] - 1.0)
                .into_iter()
                .take(2)
                .collect(),
        }
    });
    vec![Sheet {
        number: 1,
        of: 1,
        paper: Paper::Card,
        side_mm: SIDE_MM,
        titles: Vec::new(),
        cells: cells.collect(),
        dots: Vec::new(),
    }]
}
