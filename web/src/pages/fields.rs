//! What was wrong at which field of a form, and the checks that several forms share.

use std::collections::BTreeMap;

use garde::Report;
use study::names::{self, NameError};
pub(crate) use study::numbers::read_number;

/// One message for each field that is wrong.
#[derive(Debug, Default, Clone, PartialEq, Eq)]
pub(crate) struct FieldErrors(BTreeMap<String, String>);

impl FieldErrors {
    /// The message at a field; empty where it is right.
    pub fn at(&self, field: &str) -> &str {
        self.0.get(field).map_or("", String::as_str)
    }

    /// Every field with its message.
    pub fn all(&self) -> impl Iterator<Item = (&str, &str)> {
        self.0.iter().map(|(field, message)| (field.as_str(), message.as_str()))
    }

    pub fn is_empty(&self) -> bool {
        self.0.is_empty()
    }

    pub fn add(&mut self, field: &str, message: impl Into<String>) {
        self.0.entry(field.to_owned()).or_insert_with(|| message.into());
    }
}

impl FieldErrors {
    /// Keeps what a check found wrong.
    pub fn check(&mut self, field: &str, result: garde::Result) {
        if let Err(error) = result {
            self.add(field, error.message());
        }
    }
}

impl From<Report> for FieldErrors {
    fn from(report: Report) -> Self {
        let mut errors = Self::default();
        for (path, error) in report.iter() {
            errors.add(&path.to_string(), error.message());
        }
        errors
    }
}

/// Longest note.
const LONGEST_NOTE: usize = 500;

/// The field must hold something.
pub(crate) fn required(remedy: &'static str) -> impl FnOnce(&str, &()) -> garde::Result {
    move |text, context| match text.trim() {
        "" => Err(garde::Error::new(remedy)),
        _ => short(text, context),
    }
}

/// The field must hold what may stand in a name.
pub(crate) fn short(text: &str, _: &()) -> garde::Result {
    names::check(text.trim()).map_err(garde::Error::new)
}

/// A note may be longer than a name.
pub(crate) fn long(text: &str, _: &()) -> garde::Result {
    let found = text.chars().count();
    if found > LONGEST_NOTE {
        return Err(garde::Error::new(format!(
            "{found} letters are too many; keep it under {LONGEST_NOTE}"
        )));
    }
    match text.chars().position(|it| names::is_hidden(it) && !"\r\n\t".contains(it)) {
        Some(at) => Err(garde::Error::new(NameError::Hidden(at + 1))),
        None => Ok(()),
    }
}

/// The field must parse as its type; the type's own message tells what would be right.
pub(crate) fn parses<T>(text: &str, _: &()) -> garde::Result
where
    T: std::str::FromStr<Err: std::fmt::Display>,
{
    text.parse::<T>().map(|_| ()).map_err(garde::Error::new)
}

/// A number above 0 and at most `most`, or nothing; a comma counts as the decimal point.
pub(crate) fn amount(most: f64, unit: &'static str) -> impl FnOnce(&str, &()) -> garde::Result {
    move |text, _| match read_number(text) {
        Ok(None) => Ok(()),
        Ok(Some(value)) if value > 0.0 && value <= most => Ok(()),
        Ok(Some(value)) => Err(garde::Error::new(format!(
            "{value} {unit} is out of range; write more than 0 and up to {most}"
        ))),
        Err(found) => {
            Err(garde::Error::new(format!("“{found}” is not a number; write {unit} such as 1.5")))
        }
    }
}

/// As much of a remark as is kept, without letters that are not seen.
pub(crate) fn kept(text: &str) -> String {
    names::tidied(text.trim())
}
