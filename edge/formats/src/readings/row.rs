//! One row of the table to a reading.

use std::str::FromStr;

use colour::{BANDS, Lab, Reflectance, StatedLab};
use csv::StringRecord;
use study::{
    Backing, Calibration, FilmKind, FromPicture, Measured, Mixture, Part, RatioError, Reading,
    ReadingSource, State, names,
};

use super::columns::Columns;
use super::error::{FileError, Problem};
use super::preamble::Preamble;
use super::tubes::Tubes;
use crate::cells::plain;

/// Fewest and most parts of a tube: a drop in a bucket, and a bucket.
const LEAST_PARTS: f64 = 1e-6;
const MOST_PARTS: f64 = 1e6;

const PARTS: &str = "0, or 0.000001 to 1000000, such as 1 or 0.5";
const FACTOR: &str = "a reflectance factor from 0 to 1.2";
const LIGHTNESS: &str = "L* from 0 to 150";
const CHROMATIC: &str = "a* or b* from -300 to 300";
const UNSURE: &str = "how far the colour may be off, ΔE00 from 0.01 to 100";
const REPEAT: &str = "a whole number from 1";

/// One row of the table.
pub(super) struct Row<'a> {
    pub columns: &'a Columns,
    pub record: &'a StringRecord,
    pub line: usize,
}

impl Row<'_> {
    /// Name and maker of its tube, unchecked.
    pub fn name_and_maker(&self) -> (&str, &str) {
        let [tube, maker, ..] = self.columns.required;
        (self.cell(tube), self.cell(maker))
    }

    fn check_length(&self) -> Result<(), FileError> {
        let (found, expected) = (self.record.len(), self.columns.names.len());
        if found == expected {
            return Ok(());
        }
        Err(FileError::at(self.line, found.min(expected), Problem::CellCount { found, expected }))
    }

    pub fn reading(
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
            source: match self.columns.source {
                Some(at) if !self.cell(at).is_empty() => self.name::<ReadingSource>(at)?,
                _ => ReadingSource::File,
            },
            from_picture: self.picture()?,
            simulated: self.simulated()?,
            void: self.void()?,
            line: Some(self.line),
        };
        Ok(reading)
    }

    /// A reading that names no picture is none of one, whatever else stands there.
    fn picture(&self) -> Result<Option<FromPicture>, FileError> {
        let Some((picture, uncertainty, calibration)) = self.columns.picture else {
            return Ok(None);
        };
        let name = self.label(picture)?;
        if name.is_empty() {
            return Ok(None);
        }
        Ok(Some(FromPicture {
            picture: name.into(),
            uncertainty: self.number(uncertainty, 0.01..=100.0, UNSURE)?,
            calibration: match calibration {
                Some(at) if !self.cell(at).is_empty() => self.name::<Calibration>(at)?,
                // What claims least.
                _ => Calibration::Uncalibrated,
            },
        }))
    }

    fn simulated(&self) -> Result<bool, FileError> {
        let Some(at) = self.columns.simulated else { return Ok(false) };
        match self.cell(at) {
            "" => Ok(false),
            "yes" => Ok(true),
            other => Err(self.error(at, Problem::YesOrEmpty(other.to_owned()))),
        }
    }

    fn void(&self) -> Result<Option<String>, FileError> {
        let Some(at) = self.columns.void else { return Ok(None) };
        Ok(Some(self.label(at)?).filter(|why| !why.is_empty()).map(str::to_owned))
    }

    fn mixture(&self, tubes: &mut Tubes) -> Result<Mixture, FileError> {
        let [tube, maker, code, with, parts, with_parts, white_parts, ..] = self.columns.required;
        let (name, own_maker) = (self.label(tube)?, self.label(maker)?);
        let own_parts = self.parts(parts)?;
        let white = self.parts(white_parts)?;
        let mut mixture = Vec::new();
        let mut others = vec![(with, with_parts)];
        others.extend(self.columns.more.iter().flatten());
        if name.is_empty() {
            return self.bare(&others, own_parts, white);
        }
        let own = tubes
            .own(name, own_maker, self.label(code)?, self.line)
            .map_err(|problem| self.error(tube, problem))?;
        mixture.push(Part { tube: own, parts: own_parts });
        for (with, with_parts) in others {
            let parts = self.parts(with_parts)?;
            let text = self.label(with)?;
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

    pub fn measured(&self, preamble: &Preamble) -> Result<Measured, FileError> {
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
        if self.cell(at).is_empty() {
            return Ok(0.0);
        }
        let parts = self.number(at, 0.0..=MOST_PARTS, PARTS)?;
        if parts == 0.0 || parts >= LEAST_PARTS {
            return Ok(parts);
        }
        Err(self.error(at, Problem::OutOfRange { found: self.cell(at).to_owned(), range: PARTS }))
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
        plain(self.record.get(at).unwrap_or("").trim())
    }

    /// A cell that holds a name.
    fn label(&self, at: usize) -> Result<&str, FileError> {
        let text = self.cell(at);
        match names::check(text) {
            Ok(()) => Ok(text),
            Err(problem) => Err(self.error(at, problem)),
        }
    }

    fn error(&self, at: usize, problem: impl Into<Problem>) -> FileError {
        let name = self.columns.names.get(at).map_or("", String::as_str);
        FileError::named(self.line, at + 1, name, problem)
    }
}
