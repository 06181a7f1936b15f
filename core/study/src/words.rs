//! Words as they stand in a sentence.

/// The same text with a capital first letter.
#[must_use]
pub fn with_capital(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| first.to_uppercase().chain(letters).collect())
}
