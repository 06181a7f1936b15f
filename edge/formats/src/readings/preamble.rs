//! The comment lines that state the circumstances.

use std::collections::HashMap;
use std::str::FromStr;

use colour::Conditions;
use study::{Protocol, Warning, names};

use super::error::{FileError, Problem};

/// First comment line of every file.
pub(super) const SIGNATURE: &str = "upright-swatch readings";

/// What the comments say; what they do not say has its default.
#[derive(Debug, Default)]
pub(super) struct Preamble {
    pub conditions: Conditions,
    pub protocol: Protocol,
    pub white: Option<String>,
    pub warnings: Vec<Warning>,
    /// Keys that were stated.
    pub stated: Vec<String>,
}

/// A stated value with its place.
struct Stated<'a> {
    line: usize,
    column: usize,
    key: &'a str,
    value: &'a str,
}

impl Preamble {
    /// Reads comment lines, each with or without its line end. Unknown comments are left alone.
    pub fn read(text: &str) -> Result<Self, FileError> {
        let mut preamble = Self::default();
        let mut seen: HashMap<String, String> = HashMap::new();
        let mut signed = false;
        for (at, line) in text.lines().enumerate() {
            let body = line.trim_start_matches('\u{feff}').trim_start_matches('#').trim();
            if let Some(version) = body.strip_prefix(SIGNATURE) {
                if version.trim() != "1" {
                    let problem = Problem::Version(version.trim().to_owned());
                    return Err(FileError::at(at + 1, 1, problem));
                }
                signed = true;
            } else if let Some((key, value)) = body.split_once(':') {
                let column = line.find(':').map_or(1, |byte| line[..byte].chars().count() + 2);
                let (key, value) = (key.trim(), value.trim());
                preamble.take(&Stated { line: at + 1, column, key, value }, &mut seen)?;
            }
        }
        preamble.stated = seen.into_keys().collect();
        if !signed {
            preamble.warnings.push(Warning {
                line: Some(1),
                message: format!("the line “# {SIGNATURE} 1” is missing; read as version 1"),
            });
        }
        Ok(preamble)
    }

    fn take(
        &mut self,
        stated: &Stated<'_>,
        seen: &mut HashMap<String, String>,
    ) -> Result<(), FileError> {
        let protocol = &mut self.protocol;
        match stated.key {
            "illuminant" => self.conditions.illuminant = stated.parse()?,
            "observer" => self.conditions.observer = stated.parse()?,
            "basis" => protocol.basis = stated.parse()?,
            "geometry" => protocol.geometry = stated.parse()?,
            "sheen" => protocol.sheen = stated.parse()?,
            "scale_g" => protocol.scale_g = Some(stated.positive("grams above 0, such as 0.01")?),
            "pile_g" => protocol.pile_g = Some(stated.positive("grams above 0, such as 2")?),
            "repeatability" => {
                protocol.repeatability = Some(stated.positive("a ΔE00 above 0, such as 0.05")?);
            }
            "white" => {
                names::check(stated.value).map_err(|problem| stated.error(problem))?;
                self.white = Some(stated.value.to_owned()).filter(|name| !name.is_empty());
            }
            _ => return Ok(()),
        }
        match seen.insert(stated.key.to_owned(), stated.value.to_owned()) {
            None => Ok(()),
            Some(first) if stated.key == "white" => {
                Err(stated.error(Problem::TwoWhites { first, second: stated.value.to_owned() }))
            }
            Some(_) => Err(stated.error(Problem::StatedTwice(stated.key.to_owned()))),
        }
    }
}

impl Stated<'_> {
    fn error(&self, problem: impl Into<Problem>) -> FileError {
        FileError::named(self.line, self.column, self.key, problem)
    }

    fn parse<T: FromStr<Err = colour::UnknownName>>(&self) -> Result<T, FileError> {
        self.value.parse().map_err(|error: colour::UnknownName| self.error(error))
    }

    fn positive(&self, range: &'static str) -> Result<f64, FileError> {
        let found = self.value.to_owned();
        let number: f64 = match self.value.parse() {
            Ok(number) => number,
            Err(_) => return Err(self.error(Problem::NotANumber { found, range })),
        };
        if number.is_finite() && number > 0.0 {
            Ok(number)
        } else {
            Err(self.error(Problem::OutOfRange { found, range }))
        }
    }
}
