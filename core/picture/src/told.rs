//! What a picture told.

use std::fmt;

use colour::Lab;

use crate::camera::Camera;
use crate::doubt::Doubt;
use crate::flag::Flag;
use crate::refusal::Refusal;
use crate::target::TargetCell;

/// What a picture told.
#[derive(Debug, Clone, PartialEq)]
pub struct PictureReading {
    /// Every square of the target, in its order.
    pub cells: Vec<CellReading>,
    /// How colours came to be; `None` where the picture is refused.
    pub calibration: Option<CalibrationTold>,
    /// Why it cannot be read; empty where it can.
    pub refused: Vec<Refusal>,
    /// What the sheet's code says, where it could be read.
    pub code: Option<String>,
    /// Where the paper lies, where that could be told.
    pub camera: Option<Camera>,
    /// It was scanned, and not photographed.
    pub is_scan: bool,
    /// How far the farthest square lies from where flat paper would have it, mm; 0 where nobody looked.
    pub off_flat_mm: f64,
}

/// Paper that lies farther off flat than this is told, mm (ours).
const NOT_FLAT_MM: f64 = 0.5;

impl PictureReading {
    /// That the paper did not lie flat, where it shows.
    #[must_use]
    pub fn not_flat(&self) -> Option<String> {
        (self.off_flat_mm > NOT_FLAT_MM).then(|| {
            format!(
                "The paper did not lie flat: squares were found up to {:.1} mm beside their places, and read there.",
                self.off_flat_mm
            )
        })
    }
}

/// How colours came to be.
#[derive(Debug, Clone, PartialEq)]
pub struct CalibrationTold {
    /// Squares whose colour was known.
    pub anchors: usize,
    /// How many of them lie on a card.
    pub of_card: usize,
    /// There were enough of them.
    pub is_calibrated: bool,
    /// The colour of bare paper in this picture.
    pub paper: Lab,
    /// Median ΔE00 of anchors that were left out; `None` without calibration.
    pub leave_one_out: Option<f64>,
    /// Known squares that were not believed, and why.
    pub doubted: Vec<(u32, Doubt)>,
}

/// One square.
#[derive(Debug, Clone, PartialEq)]
pub struct CellReading {
    /// Its number.
    pub number: u32,
    /// Whether it was read.
    pub status: Status,
    /// Its colour, where it was read.
    pub lab: Option<Lab>,
    /// Half-width of the 95 % interval, ΔE00.
    pub u: Option<f64>,
    /// Every tube in it has an anchor of its own.
    pub is_anchored: bool,
    /// Its middle in pixels from the picture's top left corner.
    pub px: Option<[f64; 2]>,
    /// The colour of its lifted half.
    pub lifted: Option<Lab>,
    /// What needs a look.
    pub flags: Vec<Flag>,
    /// Spread of L* between 0.3 and 1.2 mm beyond bare paper's, 0 or more; `None` where pixels are too coarse.
    pub grain: Option<f64>,
    /// Why it has no colour, where the picture itself could be read.
    pub why: Option<CellRefusal>,
}

/// Why a square has no colour.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum CellRefusal {
    /// It lies outside the picture.
    Outside,
    /// A channel is at its end: the colour lies outside what the device records.
    Clipped,
    /// The light beside it is not even.
    Shaded,
    /// No paint has such a colour: the picture tells nothing of it.
    NoPaint,
}

impl fmt::Display for CellRefusal {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::Outside => "not in the picture",
            Self::Clipped => "outside what this device records",
            Self::Shaded => "in a shadow or a mirrored light",
            Self::NoPaint => "no colour that paint can have",
        })
    }
}

/// Whether a square was read.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Status {
    /// It has a colour.
    Read,
    /// It looks like bare paper.
    Empty,
    /// Its colour cannot be told.
    Refused,
}

impl fmt::Display for Status {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::Read => "read",
            Self::Empty => "empty",
            Self::Refused => "refused",
        })
    }
}

impl CellReading {
    pub(crate) fn refused(cell: &TargetCell) -> Self {
        Self {
            number: cell.number,
            status: Status::Refused,
            lab: None,
            u: None,
            is_anchored: false,
            px: None,
            lifted: None,
            flags: Vec::new(),
            grain: None,
            why: None,
        }
    }
}
