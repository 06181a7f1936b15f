//! Times and numbers of what is recorded.

use std::fmt;

/// A moment, in whole seconds since 1970-01-01 UTC.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct Time(pub i64);

impl Time {
    /// So many minutes later, above or below 0; whole seconds.
    #[must_use]
    pub fn after_minutes(self, minutes: f64) -> Self {
        Self(self.0.saturating_add((minutes * 60.0) as i64))
    }

    /// Minutes since an earlier moment; below 0 where that is the later one.
    #[must_use]
    pub fn minutes_since(self, earlier: Self) -> f64 {
        self.0.saturating_sub(earlier.0) as f64 / 60.0
    }
}

/// An entry of the bench's log: later entries have larger numbers.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct EntryId(pub i64);

/// A reading in the records: later readings have larger numbers.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct ReadingId(pub i64);

impl fmt::Display for ReadingId {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.0.fmt(f)
    }
}
