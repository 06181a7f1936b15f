//! What should be in a picture: a ruled sheet or a card, in mm from its top left.

use colour::{Lab, Reflectance};
use sheet::CORNER_MARK_MM;

/// Numbers of a card's squares begin here, so that none is a sheet's.
pub(crate) const OF_CARD: u32 = 1_000_000;

/// A sheet with its squares, as it was printed.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Target {
    /// What its code says; empty where nobody knows.
    pub code: String,
    /// Width of the paper.
    pub width_mm: f64,
    /// Its height.
    pub height_mm: f64,
    /// The corner marks.
    pub marks: Vec<TargetMark>,
    /// Where it lies in the picture, said by hand: then no marks are looked for.
    pub by_hand: Option<PlacedByHand>,
    /// The squares.
    pub cells: Vec<TargetCell>,
    /// Spectra that paints like those of its squares have.
    pub likely: Vec<LikelySpectrum>,
}

/// What paint like that of some squares would reflect. It says how a device errs on such paint, and never which colour a
/// square has.
#[derive(Debug, Clone, PartialEq)]
pub struct LikelySpectrum {
    /// Shares of its pigments, as in a square of it.
    pub colours: Vec<(usize, f64)>,
    /// Shares of its tubes, likewise.
    pub tubes: Vec<(usize, f64)>,
    /// By K and S of its tubes, or of typical paints.
    pub spectrum: Reflectance,
    /// By typical paints of its pigments: it counts where no square of these is known.
    pub is_typical: bool,
}

/// Where four places of a sheet without marks lie.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PlacedByHand {
    /// Each on the sheet, mm, and in the picture, pixels from its left top corner.
    pub places: [([f64; 2], [f64; 2]); 4],
    /// It was scanned, and not photographed.
    pub is_scan: bool,
}

/// A corner mark.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct TargetMark {
    /// Its number from the top left clockwise: 0 to 3 on a sheet, 4 to 7 on a card.
    pub tag: usize,
    /// Left.
    pub x_mm: f64,
    /// Top.
    pub y_mm: f64,
    /// Side.
    pub side_mm: f64,
}

/// A square.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct TargetCell {
    /// Its number on the sheet.
    pub number: u32,
    /// It is printed black under the paint, 2 mm beyond the square on both sides.
    pub on_black: bool,
    /// It lies on something white.
    pub on_white: bool,
    /// The same number for the same mixture, equally thick, whatever lies under it.
    pub film: usize,
    /// Left.
    pub x_mm: f64,
    /// Top.
    pub y_mm: f64,
    /// Side.
    pub side_mm: f64,
    /// Shares of what gives it its colour, white left out: a number for each Colour Index name, or for a tube that
    /// has none, with its share of all of them, 0 to 1.
    pub colours: Vec<(usize, f64)>,
    /// The same of its tubes, a number for each.
    pub tubes: Vec<(usize, f64)>,
    /// Its right half was lifted with a damp brush; the left one is as it was.
    pub half_lifted: bool,
    /// Nothing is painted: bare paper or printed black.
    pub is_bare: bool,
    /// White and nothing else.
    pub is_white: bool,
    /// The white's share by weight, 0 in a mass tone and below 1, where one tube is painted alone or with white, as a
    /// full film over paper.
    pub tint: Option<f64>,
    /// What it should look like, where that can be said.
    pub expected: Option<Lab>,
    /// Its colour where it is known.
    pub known: Option<Known>,
}

/// A colour that is known.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Known {
    /// Under the conditions of the analysis.
    pub lab: Lab,
    /// One standard deviation per axis: 0.15 read on this sheet, 0.6 repainted, 1.5 from another's file.
    pub sigma: f64,
    /// Its spectrum, where a meter gave one.
    pub spectrum: Option<Reflectance>,
}

impl TargetMark {
    /// The four corners, clockwise from its top left, and the way out of each.
    pub(crate) fn corners(&self) -> [([f64; 2], [f64; 2]); 4] {
        let (left, top, side) = (self.x_mm, self.y_mm, self.side_mm);
        let (right, bottom) = (left + side, top + side);
        [
            ([left, top], [-1.0, -1.0]),
            ([right, top], [1.0, -1.0]),
            ([right, bottom], [1.0, 1.0]),
            ([left, bottom], [-1.0, 1.0]),
        ]
    }
}

impl Target {
    /// Only where its squares lie, and nothing of what they hold: two that are alike in this look at the same pixels.
    #[must_use]
    pub fn places(&self) -> Self {
        let place = |cell: &TargetCell| TargetCell {
            number: cell.number,
            on_black: cell.on_black,
            x_mm: cell.x_mm,
            y_mm: cell.y_mm,
            side_mm: cell.side_mm,
            half_lifted: cell.half_lifted,
            is_bare: cell.is_bare,
            ..TargetCell::default()
        };
        Self { cells: self.cells.iter().map(place).collect(), likely: Vec::new(), ..self.clone() }
    }

    /// The usual four marks of a paper, `edge_mm` from its edges, the top left one of this number.
    #[must_use]
    pub fn usual_marks(
        [width_mm, height_mm]: [f64; 2],
        edge_mm: f64,
        first: usize,
    ) -> Vec<TargetMark> {
        let side_mm = CORNER_MARK_MM;
        let (right, bottom) = (width_mm - edge_mm - side_mm, height_mm - edge_mm - side_mm);
        let places = [[edge_mm, edge_mm], [right, edge_mm], [right, bottom], [edge_mm, bottom]];
        let mark = |(at, [x_mm, y_mm]): (usize, [f64; 2])| TargetMark {
            tag: first + at,
            x_mm,
            y_mm,
            side_mm,
        };
        places.into_iter().enumerate().map(mark).collect()
    }
}

impl TargetCell {
    /// Something with a colour is painted here.
    pub(crate) fn is_paint(&self) -> bool {
        !self.is_bare && !self.is_white
    }

    /// Middle and side of a part of it, mm: all of it, or of a half-lifted one the half that was not lifted.
    pub(crate) fn as_painted(&self) -> ([f64; 2], f64) {
        if self.half_lifted { self.half(0.25) } else { (self.centre(), self.side_mm) }
    }

    /// The half that was lifted.
    pub(crate) fn lifted(&self) -> Option<([f64; 2], f64)> {
        self.half_lifted.then(|| self.half(0.75))
    }

    fn half(&self, share: f64) -> ([f64; 2], f64) {
        let [_, y] = self.centre();
        ([self.x_mm + share * self.side_mm, y], self.side_mm / 2.0)
    }

    /// The middle.
    pub(crate) fn centre(&self) -> [f64; 2] {
        [self.x_mm + self.side_mm / 2.0, self.y_mm + self.side_mm / 2.0]
    }
}
