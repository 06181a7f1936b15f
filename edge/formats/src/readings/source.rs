//! The text a file came as, kept so that it can be given back.

use study::Reading;

/// A file's text, and where in it each reading's row begins.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct SourceTable {
    text: String,
    starts: Vec<usize>,
}

impl SourceTable {
    /// `starts` are bytes of `text`, rising, each at the beginning of a line.
    pub(super) fn new(text: String, starts: Vec<usize>) -> Self {
        Self { text, starts }
    }

    /// Comments and header row, line ends included.
    #[must_use]
    pub fn head(&self) -> &str {
        &self.text[..self.starts.first().copied().unwrap_or(self.text.len())]
    }

    /// Each reading's row as it stood, with any comment lines around it and its line end. The head
    /// and the rows joined are the file.
    pub fn rows(&self) -> impl Iterator<Item = &str> {
        let ends = self.starts.iter().skip(1).copied().chain([self.text.len()]);
        self.starts.iter().zip(ends).map(|(start, end)| &self.text[*start..end])
    }
}

/// One reading to be exported, with the row it was imported from.
#[derive(Debug, Clone)]
pub struct ExportRow<'a> {
    /// The reading.
    pub reading: &'a Reading,
    /// Its row in [`SourceTable::rows`], where it was imported.
    pub source: Option<&'a str>,
    /// It was voided after the import, so its row no longer tells everything.
    pub voided_since: bool,
}
