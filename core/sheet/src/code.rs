//! What the code on a sheet says.

use std::fmt;
use std::str::FromStr;

use crate::Paper;

/// Which sheet of which trial. As text `US1 T12 S2/5 A4 20`: format, trial, sheet of sheets, paper,
/// side of a square in mm.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SheetCode {
    /// Number of the trial.
    pub trial: i64,
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
        write!(f, "“{}” is not the code of a swatch sheet, such as US1 T12 S2/5 A4 20", self.0)
    }
}

impl std::error::Error for CodeError {}

impl fmt::Display for SheetCode {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let Self { trial, sheet, of, paper, side_mm } = self;
        write!(f, "US1 T{trial} S{sheet}/{of} {paper} {side_mm}")
    }
}

impl FromStr for SheetCode {
    type Err = CodeError;

    fn from_str(text: &str) -> Result<Self, CodeError> {
        let parse = || -> Option<Self> {
            let words: Vec<&str> = text.trim().split(' ').collect();
            let ["US1", trial, sheets, paper, side] = words.as_slice() else { return None };
            let (sheet, of) = sheets.strip_prefix('S')?.split_once('/')?;
            Some(Self {
                trial: trial.strip_prefix('T')?.parse().ok()?,
                sheet: sheet.parse().ok()?,
                of: of.parse().ok()?,
                paper: paper.parse().ok()?,
                side_mm: side.parse().ok()?,
            })
        };
        parse().ok_or_else(|| CodeError(text.to_owned()))
    }
}
