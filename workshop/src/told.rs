//! An answer to what a trial was made to find out.

/// What stands before a sentence of which nobody has read or seen anything.
const EXPECTED: &str = "Expected, not seen yet: ";

/// An answer.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Answer {
    /// One sentence.
    pub sentence: String,
    /// What it rests on.
    pub evidence: String,
}

impl Answer {
    /// The same, told as an expectation where it does not rest on what was read or seen.
    #[must_use]
    pub(crate) fn expected_unless(self, known: bool) -> Self {
        if known { self } else { Self { sentence: format!("{EXPECTED}{}", self.sentence), ..self } }
    }
}
