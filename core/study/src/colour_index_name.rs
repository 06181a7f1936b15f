//! A pigment by its Colour Index generic name.

use std::fmt;
use std::str::FromStr;

/// A Colour Index generic name such as `PB29`, `PBr7` or `PB15:3`.
#[derive(Debug, Clone, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct ColourIndexName(String);

/// Why a text is not a Colour Index name.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct CodeError {
    /// What was found.
    pub found: String,
}

impl fmt::Display for CodeError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(
            f,
            "“{}” is not a Colour Index name; write P or N, the hue (Y, O, R, V, B, G, Br, Bk, W \
             or M) and the number, for example PB29, PBr7 or PB15:3",
            self.found
        )
    }
}

impl std::error::Error for CodeError {}

impl ColourIndexName {
    /// The name in its usual spelling.
    #[must_use]
    pub fn as_str(&self) -> &str {
        &self.0
    }

    /// Reads a list, separated by spaces, commas, `+` or `/`; an empty text is an empty list.
    ///
    /// # Errors
    /// At the first entry that is not a Colour Index name.
    pub fn parse_list(text: &str) -> Result<Vec<Self>, CodeError> {
        text.split([' ', ',', '+', '/', ';'])
            .filter(|word| !word.is_empty())
            .map(str::parse)
            .collect()
    }
}

impl fmt::Display for ColourIndexName {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.0)
    }
}

impl FromStr for ColourIndexName {
    type Err = CodeError;

    fn from_str(text: &str) -> Result<Self, CodeError> {
        let error = || CodeError { found: text.trim().to_owned() };
        let upper = text.trim().to_ascii_uppercase();
        let digits_at = upper.find(|c: char| c.is_ascii_digit()).ok_or_else(error)?;
        let (letters, number) = upper.split_at(digits_at);
        let spelling = match letters {
            "PBR" => "PBr",
            "NBR" => "NBr",
            "PBK" => "PBk",
            "NBK" => "NBk",
            "PY" | "PO" | "PR" | "PV" | "PB" | "PG" | "PW" | "PM" | "NY" | "NO" | "NR" | "NV"
            | "NB" | "NG" | "NW" => letters,
            _ => return Err(error()),
        };
        let (main, variant) = match number.split_once(':') {
            Some((main, variant)) => (main, Some(variant)),
            None => (number, None),
        };
        let counts = |part: &str| {
            !part.is_empty() && part.len() <= 4 && part.bytes().all(|b| b.is_ascii_digit())
        };
        if counts(main) && variant.is_none_or(counts) {
            Ok(Self(format!("{spelling}{number}")))
        } else {
            Err(error())
        }
    }
}
