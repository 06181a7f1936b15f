//! The ways a readings file can be wrong.

use std::fmt;

use study::names::NameError;
use thiserror::Error;

use super::limits::{MAX_COLUMNS, MAX_ROWS, MAX_TUBES};

/// Where in a file.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Place {
    /// Line, from 1.
    pub line: usize,
    /// Column, from 1.
    pub column: usize,
    /// Its name in the header row, where it has one.
    pub name: Option<String>,
}

impl fmt::Display for Place {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "line {}, column {}", self.line, self.column)?;
        match &self.name {
            Some(name) => write!(f, " ({name})"),
            None => Ok(()),
        }
    }
}

/// What is wrong there, and what would be right.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum Problem {
    /// No bytes at all.
    #[error("the file is empty; it needs comment lines, a header row and readings")]
    Empty,
    /// Only comments.
    #[error(
        "there is no header row; after the comments comes a row that starts with tube,maker,code"
    )]
    NoHeader,
    /// Comments and a header, but no reading.
    #[error("there is no reading below the header row")]
    NoReadings,
    /// Bytes that are not UTF-8.
    #[error("this is not UTF-8 text; save the file as CSV UTF-8 and try again")]
    Encoding,
    /// More bytes than are read.
    #[error("the file has {} MB, and at most {} MB are read; split it by tube or by day", .found / 1_000_000, .most / 1_000_000)]
    TooLarge {
        /// Bytes found.
        found: u64,
        /// Most bytes read.
        most: u64,
    },
    /// Another version of the format.
    #[error(
        "this is version {0} of the readings file, and version 1 is read; export it again as version 1"
    )]
    Version(String),
    /// A named comment that stands twice.
    #[error("the file states its {0} twice; keep one of the two lines")]
    StatedTwice(String),
    /// A second white.
    #[error(
        "a second white, “{second}”, after “{first}”; a file holds readings with one white, so split it"
    )]
    TwoWhites {
        /// The first.
        first: String,
        /// The second.
        second: String,
    },
    /// A word that is not on its list, in a comment or a cell.
    #[error(transparent)]
    UnknownName(#[from] colour::UnknownName),
    /// A column the file must have.
    #[error("the column “{0}” is missing from the header row")]
    MissingColumn(String),
    /// Neither colour.
    #[error(
        "the header row has neither L,a,b nor R380 to R730; one of the two must hold the readings"
    )]
    NoColourColumns,
    /// A column that stands twice.
    #[error("the column “{0}” stands twice in the header row")]
    RepeatedColumn(String),
    /// More columns than any table needs.
    #[error(
        "this row has {found} cells, and at most {MAX_COLUMNS} are read; take out what is not needed"
    )]
    TooManyColumns {
        /// Cells found.
        found: usize,
    },
    /// More rows than are read.
    #[error("the file goes on beyond {MAX_ROWS} readings; split it by tube or by day")]
    TooManyRows,
    /// More tubes than are read.
    #[error("the file goes on beyond {MAX_TUBES} tubes; split it, for example by maker")]
    TooManyTubes,
    /// A name that cannot stand.
    #[error(transparent)]
    Name(#[from] NameError),
    /// Another word than `yes`.
    #[error(
        "“{0}” stands where only “yes” or nothing can; write yes for a reading that was made up"
    )]
    YesOrEmpty(String),
    /// A row of another length than the header.
    #[error("this row has {found} cells, and the header row has {expected}")]
    CellCount {
        /// Cells found.
        found: usize,
        /// Cells of the header.
        expected: usize,
    },
    /// Text where a number belongs.
    #[error("“{found}” is not a number; write {range}")]
    NotANumber {
        /// What stands there.
        found: String,
        /// What is accepted.
        range: &'static str,
    },
    /// A number out of its range, NaN or infinite.
    #[error("{found} is out of range; write {range}")]
    OutOfRange {
        /// What stands there.
        found: String,
        /// What is accepted.
        range: &'static str,
    },
    /// A mixture without any paint.
    #[error(
        "all parts are zero; give the parts of each tube, for example parts 1 and white_parts 4"
    )]
    NoParts,
    /// Parts without the tube they belong to.
    #[error("parts are given, but no tube is named for them")]
    PartsWithoutTube,
    /// One tube mixed with itself.
    #[error("“{0}” is mixed with itself; name another tube in the column “with”")]
    WithItself(String),
    /// A name that two makers share.
    #[error("several makers have a tube called “{0}”; write it as NAME (MAKER)")]
    Ambiguous(String),
    /// The CSV itself is broken.
    #[error("the row cannot be read as CSV: {0}")]
    Csv(String),
}

/// One clear message: where, what, and what to do.
#[derive(Debug, Clone, PartialEq, Error)]
#[error("{place}: {problem}")]
pub struct FileError {
    /// Where.
    pub place: Place,
    /// What.
    pub problem: Problem,
}

impl FileError {
    pub(super) fn at(line: usize, column: usize, problem: impl Into<Problem>) -> Self {
        Self { place: Place { line, column, name: None }, problem: problem.into() }
    }

    pub(super) fn named(
        line: usize,
        column: usize,
        name: &str,
        problem: impl Into<Problem>,
    ) -> Self {
        Self { place: Place { line, column, name: Some(name.to_owned()) }, problem: problem.into() }
    }
}
