//! What a reading knows of its tube.

use serde::{Deserialize, Serialize};

/// What a reading knows of its tube.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct TubeLabel {
    /// Marketing name.
    pub name: String,
    /// Maker; may be empty.
    pub maker: String,
    /// Colour Index names in one text; may be empty.
    pub code: String,
}

/// True where two tubes declare the same pigments: neither text is empty, and they are equal but
/// for capitals and spacing.
#[must_use]
pub fn same_code(one: &str, other: &str) -> bool {
    let words = |text: &str| -> Vec<String> {
        text.split([' ', ',', '+', '/', ';'])
            .filter(|word| !word.is_empty())
            .map(str::to_ascii_uppercase)
            .collect()
    };
    let (one, other) = (words(one), words(other));
    !one.is_empty() && one == other
}
