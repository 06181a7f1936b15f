//! A chart that was not printed here: equal squares in rows and columns, as somebody ruled them by hand.

use serde::{Deserialize, Serialize};

/// Rows, and columns, of such a chart at most.
pub const MOST_RULED: usize = 24;
/// Bare paper is looked for so far around the squares, mm.
const AROUND_MM: f64 = 12.0;

/// Equal squares in rows and columns.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Ruling {
    /// Rows, 1 to [`MOST_RULED`].
    pub rows: usize,
    /// Columns, 1 to [`MOST_RULED`].
    pub columns: usize,
    /// Side of a square, mm.
    pub side_mm: f64,
    /// Between two squares of a row, and between two rows, mm; 0 where they touch.
    pub gap_mm: [f64; 2],
}

impl Default for Ruling {
    /// Four rows of five, as most charts are ruled (common practice, no source).
    fn default() -> Self {
        Self { rows: 4, columns: 5, side_mm: 20.0, gap_mm: [5.0, 5.0] }
    }
}

impl Ruling {
    /// Every square, row by row.
    #[must_use]
    pub fn squares(&self) -> usize {
        self.rows * self.columns
    }

    /// The left top corner of a square by its place, row by row from 0, mm.
    #[must_use]
    pub fn place_mm(&self, at: usize) -> [f64; 2] {
        let (column, row) = (at % self.columns.max(1), at / self.columns.max(1));
        let along = |axis: usize, steps: usize| {
            AROUND_MM + steps as f64 * (self.side_mm + self.gap_mm[axis])
        };
        [along(0, column), along(1, row)]
    }

    /// The four outer corners of all squares together, clockwise from the top left, mm.
    #[must_use]
    pub fn corners_mm(&self) -> [[f64; 2]; 4] {
        let [left, top] = self.place_mm(0);
        let [right, bottom] =
            self.place_mm(self.squares().saturating_sub(1)).map(|at| at + self.side_mm);
        [[left, top], [right, top], [right, bottom], [left, bottom]]
    }

    /// Width and height of what is looked at, mm: the squares and some paper around them.
    #[must_use]
    pub fn size_mm(&self) -> [f64; 2] {
        self.corners_mm()[2].map(|at| at + AROUND_MM)
    }
}

/// Four corners in a picture go round a sheet as it was painted: clockwise from its top left, and none of them inside
/// the triangle of the others. A mirrored sheet, or two corners exchanged, is none.
#[must_use]
pub fn go_round(corners: &[[f64; 2]; 4]) -> bool {
    (0..4).all(|at| {
        let [one, two, three] = [at, (at + 1) % 4, (at + 2) % 4].map(|it| corners[it]);
        let [a, b] =
            [[two, one], [three, two]].map(|[to, from]| [to[0] - from[0], to[1] - from[1]]);
        // y runs down.
        a[0] * b[1] - a[1] * b[0] > 1.0
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn squares_lie_in_rows_between_the_corners() {
        let ruling = Ruling { rows: 3, columns: 4, side_mm: 18.0, gap_mm: [6.0, 9.0] };
        let cases = [
            (ruling.place_mm(0), [12.0, 12.0]),
            (ruling.place_mm(6), [12.0 + 2.0 * 24.0, 12.0 + 27.0]),
            (ruling.corners_mm()[2], [12.0 + 3.0 * 24.0 + 18.0, 12.0 + 2.0 * 27.0 + 18.0]),
            (ruling.size_mm(), [114.0, 96.0]),
        ];
        for (found, wanted) in cases {
            let off = (found[0] - wanted[0]).hypot(found[1] - wanted[1]);
            assert!(off < 1e-9, "{found:?} for {wanted:?}");
        }
    }

    #[test]
    fn corners_go_round_or_are_told() {
        let square = [[10.0, 10.0], [90.0, 12.0], [95.0, 80.0], [5.0, 85.0]];
        let turned = [1, 2, 3, 0].map(|at: usize| square[at]);
        let cases = [
            (square, true, "as it lies"),
            (turned, true, "turned by a quarter"),
            ([1, 0, 3, 2].map(|at: usize| square[at]), false, "mirrored"),
            ([0, 2, 1, 3].map(|at: usize| square[at]), false, "two exchanged"),
            ([square[0], square[1], [40.0, 30.0], square[3]], false, "one inside"),
            ([square[0]; 4], false, "all in one place"),
            ([[f64::NAN; 2]; 4], false, "nowhere"),
        ];
        for (corners, wanted, which) in cases {
            assert_eq!(go_round(&corners), wanted, "{which}");
        }
    }
}
