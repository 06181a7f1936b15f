//! Bytes to a study, in two passes over the text: the first finds where each row begins and which tubes
//! there are, the second reads the rows a few thousand at a time, so that a large file is never held as
//! cells.

use std::io::Read as _;

use csv::{ReaderBuilder, StringRecord};
use rayon::prelude::*;
use study::{Measured, Study, Warning};

use super::columns::Columns;
use super::error::{FileError, Problem};
use super::limits::{MAX_BYTES, MAX_COLUMNS, MAX_ROWS};
use super::preamble::Preamble;
use super::row::Row;
use super::source::SourceTable;
use super::tubes::{Makers, Tubes};
use super::white;

/// Rows that are read together.
const CHUNK: usize = 4096;

/// A readings file: what it says, and the text it said it with.
#[derive(Debug, Clone, PartialEq)]
pub struct ReadingsFile {
    /// Tubes, circumstances and readings; reading `n` came from row `n` of the source.
    pub study: Study,
    /// The text.
    pub source: SourceTable,
    /// What a user should know, though the file could be read.
    pub warnings: Vec<Warning>,
    stated: Vec<String>,
}

impl ReadingsFile {
    /// True where a comment of the file states this, such as `geometry`; else the study has the default.
    #[must_use]
    pub fn states(&self, key: &str) -> bool {
        self.stated.iter().any(|known| known == key)
    }
}

/// The error for a file of too many bytes, so that it need not be loaded to be refused.
#[must_use]
pub fn too_large(bytes: u64) -> Option<FileError> {
    (bytes > MAX_BYTES)
        .then(|| FileError::at(1, 1, Problem::TooLarge { found: bytes, most: MAX_BYTES }))
}

/// Reads a whole file.
///
/// # Errors
/// At the first thing that is wrong, with its line and column; nothing is taken over then.
pub fn read(bytes: &[u8]) -> Result<ReadingsFile, FileError> {
    if let Some(error) = too_large(bytes.len() as u64) {
        return Err(error);
    }
    let text = std::str::from_utf8(bytes).map_err(|error| bad_byte(bytes, error.valid_up_to()))?;
    if text.trim_start_matches('\u{feff}').trim().is_empty() {
        return Err(FileError::at(1, 1, Problem::Empty));
    }
    let comments = comments_length(text);
    let preamble = Preamble::read(&text[..comments])?;
    Rows::over(text, comments)?.into_file(preamble)
}

fn bad_byte(bytes: &[u8], at: usize) -> FileError {
    let line_start =
        bytes[..at].iter().rposition(|byte| *byte == b'\n').map_or(0, |place| place + 1);
    let line = bytes[..at].iter().filter(|byte| **byte == b'\n').count() + 1;
    let column = String::from_utf8_lossy(&bytes[line_start..at]).chars().count() + 1;
    FileError::at(line, column, Problem::Encoding)
}

/// Bytes of the comment and blank lines at the top.
fn comments_length(text: &str) -> usize {
    let is_comment = |line: &&str| {
        let line = line.trim_start_matches('\u{feff}').trim();
        line.is_empty() || line.starts_with('#')
    };
    text.split_inclusive('\n').take_while(is_comment).map(str::len).sum()
}

/// A reader of the table's rows.
fn records(text: &str) -> csv::Reader<impl std::io::Read> {
    ReaderBuilder::new()
        .has_headers(false)
        .flexible(true)
        .comment(Some(b'#'))
        // A last comment without its line end would be taken for a record.
        .from_reader(text.as_bytes().chain(&b"\n"[..]))
}

/// The table below the comments: where each row begins, and its line.
struct Rows<'a> {
    text: &'a str,
    columns: Columns,
    starts: Vec<usize>,
    lines: Vec<usize>,
    makers: Makers,
}

impl<'a> Rows<'a> {
    fn over(text: &'a str, comments: usize) -> Result<Self, FileError> {
        let mut reader = records(&text[comments..]);
        let mut lines = LineCounter { text, byte: 0, line: 1 };
        let mut record = StringRecord::new();
        let mut columns: Option<Columns> = None;
        let (mut starts, mut at_lines, mut makers) = (Vec::new(), Vec::new(), Makers::default());
        let mut header_line = 0;
        loop {
            let start = comments + usize::try_from(reader.position().byte()).unwrap_or(0);
            let more = reader.read_record(&mut record);
            let line = match more {
                Ok(false) => break,
                _ => lines.of_record(start),
            };
            if let Err(error) = more {
                return Err(FileError::at(line, 1, Problem::Csv(error.to_string())));
            }
            if record.len() > MAX_COLUMNS {
                let found = record.len();
                return Err(FileError::at(line, 1, Problem::TooManyColumns { found }));
            }
            let Some(columns) = &columns else {
                let names = record.iter().map(|name| name.trim().to_owned()).collect();
                columns = Some(Columns::find(names, line)?);
                header_line = line;
                continue;
            };
            if starts.len() == MAX_ROWS {
                return Err(FileError::at(line, 1, Problem::TooManyRows));
            }
            starts.push(start);
            at_lines.push(line);
            makers.take(Row { columns, record: &record, line }.name_and_maker());
        }
        let Some(columns) = columns else {
            let last = text.lines().count().max(1);
            return Err(FileError::at(last, 1, Problem::NoHeader));
        };
        if starts.is_empty() {
            return Err(FileError::at(header_line + 1, 1, Problem::NoReadings));
        }
        Ok(Self { text, columns, starts, lines: at_lines, makers })
    }

    fn into_file(self, preamble: Preamble) -> Result<ReadingsFile, FileError> {
        let mut tubes = Tubes::new(self.makers, preamble.white.as_deref());
        let mut readings = Vec::with_capacity(self.starts.len());
        for first in (0..self.starts.len()).step_by(CHUNK) {
            let after = (first + CHUNK).min(self.starts.len());
            let end = self.starts.get(after).copied().unwrap_or(self.text.len());
            let mut reader = records(&self.text[self.starts[first]..end]);
            let chunk: Vec<StringRecord> = reader.records().filter_map(Result::ok).collect();
            let lines = &self.lines[first..after];
            let rows: Vec<Row<'_>> = chunk
                .iter()
                .zip(lines)
                .map(|(record, line)| Row { columns: &self.columns, record, line: *line })
                .collect();
            // The numbers are most of a large file, and each row's stand for themselves.
            let measured: Vec<Result<Measured, FileError>> =
                rows.par_iter().map(|row| row.measured(&preamble)).collect();
            for (row, measured) in rows.iter().zip(measured) {
                readings.push(row.reading(&mut tubes, measured)?);
            }
        }
        let mut warnings = preamble.warnings;
        warnings.append(&mut tubes.warnings());
        let study = Study {
            conditions: preamble.conditions,
            protocol: preamble.protocol,
            white: tubes.white,
            tubes: tubes.labels,
            readings,
        };
        if let Some(name) = &preamble.white {
            warnings.extend(white::warning(&study, name));
        }
        let source = SourceTable::new(self.text.to_owned(), self.starts);
        Ok(ReadingsFile { study, source, warnings, stated: preamble.stated })
    }
}

/// Counts lines onwards, so that a long file is counted once.
struct LineCounter<'a> {
    text: &'a str,
    byte: usize,
    line: usize,
}

impl LineCounter<'_> {
    /// Line of the record whose text starts at `start`, comments and blank lines before it left out.
    fn of_record(&mut self, start: usize) -> usize {
        self.line += newlines(&self.text[self.byte..start]);
        self.byte = start;
        let skipped: usize = comments_length(&self.text[start..]);
        self.line + newlines(&self.text[start..start + skipped])
    }
}

fn newlines(text: &str) -> usize {
    text.bytes().filter(|byte| *byte == b'\n').count()
}
