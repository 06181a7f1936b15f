//! Bytes to rows of known columns.

use csv::ReaderBuilder;
use thiserror::Error;

use super::fields::FIELDS;
use crate::cells::plain;

/// Most tubes in one file.
pub const MAX_LINES: usize = 5_000;

/// Why a file is no shelf.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum ShelfError {
    /// No bytes, or only white space.
    #[error(
        "line 1: the file is empty; it needs a header row such as maker,name,codes and a row for each tube"
    )]
    Empty,
    /// Bytes that are not UTF-8.
    #[error("line {0}: this is not UTF-8 text; save the file as CSV UTF-8 and try again")]
    Encoding(usize),
    /// No column `name`.
    #[error("line 1: the column “name” is missing from the header row; it has {0}")]
    NoName(String),
    /// A known column stands twice.
    #[error("line 1: the column “{0}” stands twice in the header row")]
    Repeated(&'static str),
    /// Too many rows.
    #[error("line {}: the file goes on beyond {MAX_LINES} tubes; split it, for example by maker", MAX_LINES + 2)]
    TooLong,
    /// Broken CSV.
    #[error("line {line}: the row cannot be read as CSV: {message}")]
    Csv {
        /// Line, from 1.
        line: u64,
        /// What the reader said.
        message: String,
    },
}

/// The known cells of one row.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ShelfRow {
    /// Line of the file, from 1.
    pub line: u64,
    /// Place in the list of fields, and the cell.
    pub(super) cells: Vec<(usize, String)>,
    /// The row has another number of cells than the header.
    pub(super) ragged: Option<(usize, usize)>,
}

/// Reads the rows; their cells are judged by [`preview`](super::preview).
///
/// # Errors
/// Where the file as a whole is no shelf.
pub fn read(bytes: &[u8]) -> Result<Vec<ShelfRow>, ShelfError> {
    let text = std::str::from_utf8(bytes).map_err(|error| {
        let before = &bytes[..error.valid_up_to()];
        ShelfError::Encoding(before.iter().filter(|byte| **byte == b'\n').count() + 1)
    })?;
    if text.trim_start_matches('\u{feff}').trim().is_empty() {
        return Err(ShelfError::Empty);
    }
    let mut reader = ReaderBuilder::new().flexible(true).from_reader(text.as_bytes());
    let header = reader.headers().map_err(|error| broken(&error))?.clone();
    let columns = columns(&header)?;
    let mut rows = Vec::new();
    for record in reader.records() {
        let record = record.map_err(|error| broken(&error))?;
        if rows.len() == MAX_LINES {
            return Err(ShelfError::TooLong);
        }
        let cell = |at: usize| plain(record.get(at).unwrap_or("").trim()).to_owned();
        rows.push(ShelfRow {
            line: record.position().map_or(0, csv::Position::line),
            cells: columns.iter().map(|(at, field)| (*field, cell(*at))).collect(),
            ragged: (record.len() != header.len()).then(|| (record.len(), header.len())),
        });
    }
    Ok(rows)
}

/// Place in the file and place in the list of fields of each known column.
fn columns(header: &csv::StringRecord) -> Result<Vec<(usize, usize)>, ShelfError> {
    let mut columns: Vec<(usize, usize)> = Vec::new();
    for (at, name) in header.iter().enumerate() {
        let name = name.trim().to_lowercase();
        let Some(field) = FIELDS.iter().position(|field| field.column == name) else { continue };
        if columns.iter().any(|(_, known)| *known == field) {
            return Err(ShelfError::Repeated(FIELDS[field].column));
        }
        columns.push((at, field));
    }
    let has_name = columns.iter().any(|(_, field)| FIELDS[*field].column == "name");
    if has_name {
        Ok(columns)
    } else {
        Err(ShelfError::NoName(header.iter().take(8).collect::<Vec<_>>().join(", ")))
    }
}

fn broken(error: &csv::Error) -> ShelfError {
    let line = error.position().map_or(1, csv::Position::line);
    ShelfError::Csv { line, message: error.to_string() }
}
