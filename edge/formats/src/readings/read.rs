//! Bytes to a study.

use std::collections::HashMap;
use std::io::Read as _;
use std::str::FromStr;

use colour::{BANDS, Lab, Reflectance, StatedLab};
use csv::{ReaderBuilder, StringRecord};
use rayon::prelude::*;
use trial::figures::Warning;
use trial::{
    Backing, FilmKind, Measured, Mixture, Part, RatioError, Reading, State, Study, TubeLabel,
    TubeRef,
};

use super::columns::Columns;
use super::error::{FileError, Problem};
use super::preamble::Preamble;
use super::source::SourceTable;

/// Most bytes of a file.
pub const MAX_BYTES: u64 = 100_000_000;

const PARTS: &str = "0 or more, such as 1 or 0.5";
const FACTOR: &str = "a reflectance factor from 0 to 1.2";
const LIGHTNESS: &str = "L* from 0 to 150";
const CHROMATIC: &str = "a* or b* from -300 to 300";
const REPEAT: &str = "a whole number from 1";

/// A readings file: what it says, and the text it said it with.
#[derive(Debug, Clone, PartialEq)]
pub struct ReadingsFile {
    /// Tubes, circumstances and readings; reading `n` came from row `n` of the source.
    pub study: Study,
    /// The text.
    pub source: SourceTable,
    /// What a user should know, though the file could be read.
    pub warnings: Vec<Warning>,
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

/// The table below the comments, cut into records that know their text and line.
struct Rows<'a> {
    text: &'a str,
    columns: Columns,
    /// Record, first byte of its text, line.
    records: Vec<(StringRecord, usize, usize)>,
}

impl<'a> Rows<'a> {
    fn over(text: &'a str, comments: usize) -> Result<Self, FileError> {
        let mut reader = ReaderBuilder::new()
            .has_headers(false)
            .flexible(true)
            .comment(Some(b'#'))
            // A last comment without its line end would be taken for a record.
            .from_reader(text.as_bytes()[comments..].chain(&b"\n"[..]));
        let mut lines = LineCounter { text, byte: 0, line: 1 };
        let mut records = Vec::new();
        let mut record = StringRecord::new();
        loop {
            let start = comments + usize::try_from(reader.position().byte()).unwrap_or(0);
            match reader.read_record(&mut record) {
                Ok(false) => break,
                // A clone has just the size it needs, and the reader's own record is used again.
                Ok(true) => records.push((record.clone(), start, lines.of_record(start))),
                Err(error) => {
                    let problem = Problem::Csv(error.to_string());
                    return Err(FileError::at(lines.of_record(start), 1, problem));
                }
            }
        }
        if records.is_empty() {
            let last = text.lines().count().max(1);
            return Err(FileError::at(last, 1, Problem::NoHeader));
        }
        let (header, _, line) = records.remove(0);
        let columns =
            Columns::find(header.iter().map(|name| name.trim().to_owned()).collect(), line)?;
        if records.is_empty() {
            return Err(FileError::at(line + 1, 1, Problem::NoReadings));
        }
        Ok(Self { text, columns, records })
    }

    fn into_file(self, preamble: Preamble) -> Result<ReadingsFile, FileError> {
        let mut tubes = Tubes::known_from(&self.columns, &self.records, preamble.white.as_deref());
        // The numbers are most of a large file, and each row's stand for themselves.
        let measured: Vec<Result<Measured, FileError>> =
            self.records.par_iter().map(|record| self.row(record).measured(&preamble)).collect();
        let mut readings = Vec::with_capacity(self.records.len());
        for (record, measured) in self.records.iter().zip(measured) {
            readings.push(self.row(record).reading(&mut tubes, measured)?);
        }
        let source = self.source();
        let white = tubes.white;
        let mut warnings = preamble.warnings;
        warnings.append(&mut tubes.warnings);
        Ok(ReadingsFile {
            study: Study {
                conditions: preamble.conditions,
                protocol: preamble.protocol,
                tubes: tubes.labels,
                white,
                readings,
            },
            source,
            warnings,
        })
    }

    fn row<'row>(&'row self, (record, _, line): &'row (StringRecord, usize, usize)) -> Row<'row> {
        Row { columns: &self.columns, record, line: *line }
    }

    fn source(&self) -> SourceTable {
        let starts = self.records.iter().map(|(_, start, _)| *start).collect();
        SourceTable::new(self.text.to_owned(), starts)
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

/// The tubes in the order they appear.
struct Tubes {
    labels: Vec<TubeLabel>,
    places: HashMap<(String, String), TubeRef>,
    /// Makers of each name in the column `tube`.
    makers: HashMap<String, Vec<String>>,
    white_name: Option<String>,
    white: Option<TubeRef>,
    warnings: Vec<Warning>,
}

impl Tubes {
    fn known_from(
        columns: &Columns,
        records: &[(StringRecord, usize, usize)],
        white: Option<&str>,
    ) -> Self {
        let mut makers: HashMap<String, Vec<String>> = HashMap::new();
        for (record, _, _) in records {
            let cell = |at: usize| record.get(columns.required[at]).unwrap_or("").trim();
            let (name, maker) = (cell(0), cell(1));
            match makers.get_mut(name) {
                Some(known) if known.iter().any(|one| one == maker) => {}
                Some(known) => known.push(maker.to_owned()),
                None => {
                    makers.insert(name.to_owned(), vec![maker.to_owned()]);
                }
            }
        }
        Self {
            labels: Vec::new(),
            places: HashMap::new(),
            makers,
            white_name: white.map(str::to_owned),
            white: None,
            warnings: Vec::new(),
        }
    }

    /// The tube of this row.
    fn own(&mut self, name: &str, maker: &str, code: &str, line: usize) -> TubeRef {
        // A row that leaves the maker out means the only maker of that name.
        let named: Vec<&String> =
            self.makers.get(name).into_iter().flatten().filter(|maker| !maker.is_empty()).collect();
        let maker = match named.as_slice() {
            [only] if maker.is_empty() => (*only).clone(),
            _ => maker.to_owned(),
        };
        let tube = self.place(name, &maker);
        let known = &mut self.labels[tube.0].code;
        if known.is_empty() {
            code.clone_into(known);
        } else if !code.is_empty() && known != code {
            self.warnings.push(Warning {
                line: Some(line),
                message: format!("{name} is {code} here and {known} above; {known} is taken"),
            });
        }
        tube
    }

    /// Another tube of a mixture, which is given by its name alone.
    fn other(&mut self, text: &str, maker_of_row: &str) -> Result<TubeRef, Problem> {
        let no_one = Vec::new();
        let makers = self.makers.get(text).unwrap_or(&no_one);
        let maker = match makers.as_slice() {
            [] => match split_maker(text) {
                Some((name, maker))
                    if self.makers.get(name).is_some_and(|m| m.iter().any(|one| one == maker)) =>
                {
                    let (name, maker) = (name.to_owned(), maker.to_owned());
                    return Ok(self.place(&name, &maker));
                }
                _ => String::new(),
            },
            [only] => only.clone(),
            several if several.iter().any(|maker| maker == maker_of_row) => maker_of_row.to_owned(),
            _ => return Err(Problem::Ambiguous(text.to_owned())),
        };
        Ok(self.place(text, &maker))
    }

    /// The white; it is in the list from its first use on.
    fn white(&mut self) -> TubeRef {
        let name = self.white_name.clone().unwrap_or_else(|| "white".to_owned());
        let maker = self.makers.get(&name).and_then(|makers| makers.first()).cloned();
        let tube = self.place(&name, &maker.unwrap_or_default());
        self.white = Some(tube);
        tube
    }

    fn place(&mut self, name: &str, maker: &str) -> TubeRef {
        let key = (name.to_owned(), maker.to_owned());
        if let Some(tube) = self.places.get(&key) {
            return *tube;
        }
        let tube = TubeRef(self.labels.len());
        self.labels.push(TubeLabel {
            name: key.0.clone(),
            maker: key.1.clone(),
            code: String::new(),
        });
        self.places.insert(key, tube);
        if self.white_name.as_deref() == Some(name) && self.white.is_none() {
            self.white = Some(tube);
        }
        tube
    }
}

/// `NAME (MAKER)` in its two parts.
fn split_maker(text: &str) -> Option<(&str, &str)> {
    text.strip_suffix(')')?.rsplit_once(" (")
}

/// One row of the table.
struct Row<'a> {
    columns: &'a Columns,
    record: &'a StringRecord,
    line: usize,
}

impl Row<'_> {
    fn check_length(&self) -> Result<(), FileError> {
        let (found, expected) = (self.record.len(), self.columns.names.len());
        if found == expected {
            return Ok(());
        }
        Err(FileError::at(self.line, found.min(expected), Problem::CellCount { found, expected }))
    }

    fn reading(
        &self,
        tubes: &mut Tubes,
        measured: Result<Measured, FileError>,
    ) -> Result<Reading, FileError> {
        self.check_length()?;
        let [.., state, backing, repeat] = self.columns.required;
        let reading = Reading {
            ratio_error: match self.columns.ratio_error {
                Some(at) => self.name::<RatioError>(at)?,
                None => RatioError::AsStated,
            },
            mixture: self.mixture(tubes)?,
            film: match self.columns.film {
                Some(at) if !self.cell(at).is_empty() => self.name::<FilmKind>(at)?,
                _ => FilmKind::Full,
            },
            backing: self.name::<Backing>(backing)?,
            state: self.name::<State>(state)?,
            repeat: self.repeat(repeat)?,
            measured: measured?,
            void: self
                .columns
                .void
                .map(|at| self.cell(at))
                .filter(|why| !why.is_empty())
                .map(str::to_owned),
            line: Some(self.line),
        };
        Ok(reading)
    }

    fn mixture(&self, tubes: &mut Tubes) -> Result<Mixture, FileError> {
        let [tube, maker, code, with, parts, with_parts, white_parts, ..] = self.columns.required;
        let (name, own_maker) = (self.cell(tube), self.cell(maker));
        let own_parts = self.parts(parts)?;
        let white = self.parts(white_parts)?;
        let mut mixture = Vec::new();
        let mut others = vec![(with, with_parts)];
        others.extend(self.columns.more.iter().flatten());
        if name.is_empty() {
            return self.bare(&others, own_parts, white);
        }
        let own = tubes.own(name, own_maker, self.cell(code), self.line);
        mixture.push(Part { tube: own, parts: own_parts });
        for (with, with_parts) in others {
            let parts = self.parts(with_parts)?;
            let text = self.cell(with);
            if text.is_empty() {
                if parts > 0.0 {
                    return Err(self.error(with, Problem::PartsWithoutTube));
                }
                continue;
            }
            let other =
                tubes.other(text, own_maker).map_err(|problem| self.error(with, problem))?;
            if other == own {
                return Err(self.error(with, Problem::WithItself(text.to_owned())));
            }
            mixture.push(Part { tube: other, parts });
        }
        if white > 0.0 {
            mixture.push(Part { tube: tubes.white(), parts: white });
        }
        let mixture = Mixture::new(mixture);
        if !mixture.is_bare() {
            return Ok(mixture);
        }
        // A tube alone whose parts are left open can only be the neat paint.
        if self.cell(parts).is_empty() && self.cell(with).is_empty() {
            return Ok(Mixture::neat(own));
        }
        Err(self.error(parts, Problem::NoParts))
    }

    fn bare(&self, others: &[(usize, usize)], own: f64, white: f64) -> Result<Mixture, FileError> {
        let named = others.iter().find(|(with, _)| !self.cell(*with).is_empty());
        if own > 0.0 || white > 0.0 || named.is_some() {
            return Err(self.error(self.columns.required[0], Problem::PartsWithoutTube));
        }
        Ok(Mixture::bare())
    }

    fn measured(&self, preamble: &Preamble) -> Result<Measured, FileError> {
        if let Some(places) = self.columns.bands
            && (self.columns.lab.is_none() || !self.cell(places[0]).is_empty())
        {
            let mut bands = [0.0; BANDS];
            for (value, at) in bands.iter_mut().zip(places) {
                *value = self.number(at, 0.0..=Reflectance::MAX, FACTOR)?;
            }
            return Ok(Measured::Spectrum(Reflectance::from_fn(|band| bands[band])));
        }
        let Some([l, a, b]) = self.columns.lab else {
            return Err(self.error(0, Problem::NoColourColumns));
        };
        let lab = Lab::new(
            self.number(l, 0.0..=150.0, LIGHTNESS)?,
            self.number(a, -300.0..=300.0, CHROMATIC)?,
            self.number(b, -300.0..=300.0, CHROMATIC)?,
        );
        Ok(Measured::Lab(StatedLab { lab, conditions: preamble.conditions }))
    }

    fn parts(&self, at: usize) -> Result<f64, FileError> {
        if self.cell(at).is_empty() { Ok(0.0) } else { self.number(at, 0.0..=1e6, PARTS) }
    }

    fn repeat(&self, at: usize) -> Result<u32, FileError> {
        let text = self.cell(at);
        if text.is_empty() {
            return Ok(1);
        }
        let found = text.to_owned();
        match text.parse::<u32>() {
            Ok(0) => Err(self.error(at, Problem::OutOfRange { found, range: REPEAT })),
            Ok(repeat) => Ok(repeat),
            Err(_) => Err(self.error(at, Problem::NotANumber { found, range: REPEAT })),
        }
    }

    fn number(
        &self,
        at: usize,
        accepted: std::ops::RangeInclusive<f64>,
        range: &'static str,
    ) -> Result<f64, FileError> {
        let found = || self.cell(at).to_owned();
        let number: f64 = self
            .cell(at)
            .parse()
            .map_err(|_| self.error(at, Problem::NotANumber { found: found(), range }))?;
        if accepted.contains(&number) {
            Ok(number)
        } else {
            Err(self.error(at, Problem::OutOfRange { found: found(), range }))
        }
    }

    fn name<T: FromStr<Err = colour::UnknownName>>(&self, at: usize) -> Result<T, FileError> {
        self.cell(at).parse().map_err(|error: colour::UnknownName| self.error(at, error))
    }

    fn cell(&self, at: usize) -> &str {
        self.record.get(at).unwrap_or("").trim()
    }

    fn error(&self, at: usize, problem: impl Into<Problem>) -> FileError {
        let name = self.columns.names.get(at).map_or("", String::as_str);
        FileError::named(self.line, at + 1, name, problem)
    }
}
