//! An answer to what a trial was made to find out.

/// An answer.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Answer {
    /// One sentence.
    pub sentence: String,
    /// What it rests on.
    pub evidence: String,
}
