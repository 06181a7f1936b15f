//! The text a file came as, kept so that it can be given back.

use trial::Reading;

/// A file's text around and between its readings. Head, rows and tail joined are the file.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct SourceTable {
    /// Comments and header row, line ends included.
    pub head: String,
    /// Each reading's row as it stood, with any comment lines before it and its line end.
    pub rows: Vec<String>,
    /// What follows the last reading.
    pub tail: String,
}

impl SourceTable {
    /// The whole file again.
    #[must_use]
    pub fn text(&self) -> String {
        let mut text = self.head.clone();
        self.rows.iter().for_each(|row| text.push_str(row));
        text.push_str(&self.tail);
        text
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
