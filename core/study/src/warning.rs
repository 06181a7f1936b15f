//! What the user should know before trusting a figure.

use std::fmt;

/// Something to know before trusting a figure.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Warning {
    /// Line of the file it concerns, from 1.
    pub line: Option<usize>,
    /// What, and what to do.
    pub message: String,
}

impl fmt::Display for Warning {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.line {
            Some(line) => write!(f, "line {line}: {}", self.message),
            None => f.write_str(&self.message),
        }
    }
}
