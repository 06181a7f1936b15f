//! What the code on a sheet says.

use std::fmt;
use std::str::FromStr;

use crate::Paper;

/// Which sheet of which trial. As text `US2 T12 P1 L1 S2/5 A4 20`: format, trial, edition of its plan,
/// layout, sheet of sheets, paper, side of a square in mm. Sheets of the first format, `US1 T12 S2/5 A4
/// 20`, are of edition 1 and layout 1.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SheetCode {
    /// Number of the trial.
    pub trial: i64,
    /// Which plan of the trial, from 1: it may be planned anew until the bench begins.
    pub edition: u32,
    /// Which layout; see [`crate::LAYOUT`].
    pub layout: u32,
    /// Number of the sheet, from 1.
    pub sheet: usize,
    /// Number of sheets.
    pub of: usize,
    /// The paper.
    pub paper: Paper,
    /// Side of a square in mm.
    pub side_mm: f64,
}

/// The text is not a sheet's code.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct CodeError(String);

impl fmt::Display for CodeError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(
            f,
            "“{}” is not the code of a swatch sheet, such as US2 T12 P1 L1 S2/5 A4 20",
            self.0
        )
    }
}

impl std::error::Error for CodeError {}

impl fmt::Display for SheetCode {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let Self { trial, edition, layout, sheet, of, paper, side_mm } = self;
        write!(f, "US2 T{trial} P{edition} L{layout} S{sheet}/{of} {paper} {side_mm}")
    }
}

impl FromStr for SheetCode {
    type Err = CodeError;

    fn from_str(text: &str) -> Result<Self, CodeError> {
        let parse = || -> Option<Self> {
            let words: Vec<&str> = text.trim().split(' ').collect();
            let (trial, edition, layout, sheets, paper, side) = match words.as_slice() {
                ["US1", trial, sheets, paper, side] => (trial, "P1", "L1", sheets, paper, side),
                ["US2", trial, edition, layout, sheets, paper, side] => {
                    (trial, *edition, *layout, sheets, paper, side)
                }
                _ => return None,
            };
            let (sheet, of) = sheets.strip_prefix('S')?.split_once('/')?;
            Some(Self {
                trial: trial.strip_prefix('T')?.parse().ok()?,
                edition: edition.strip_prefix('P')?.parse().ok()?,
                layout: layout.strip_prefix('L')?.parse().ok()?,
                sheet: sheet.parse().ok()?,
                of: of.parse().ok()?,
                paper: paper.parse().ok()?,
                side_mm: side.parse().ok()?,
            })
        };
        parse().ok_or_else(|| CodeError(text.to_owned()))
    }
}
