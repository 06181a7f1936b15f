//! Papers.

use std::fmt;
use std::str::FromStr;

use serde::{Deserialize, Serialize};

/// A paper, used lying: wider than high.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
pub enum Paper {
    /// 297 × 210 mm (ISO 216).
    #[default]
    A4,
    /// 11 × 8½ in (ANSI/ASME Y14.1, size A).
    Letter,
    /// An anchor card, 148 × 105 mm (A6 of ISO 216): cut out of the paper that it is printed on.
    Card,
}

impl Paper {
    /// The two that sheets are printed on, in the order a form offers them.
    pub const ALL: [Self; 2] = [Self::A4, Self::Letter];

    /// Width and height in mm.
    #[must_use]
    pub fn size_mm(self) -> (f64, f64) {
        match self {
            Self::A4 => (297.0, 210.0),
            Self::Letter => (279.4, 215.9),
            Self::Card => (148.0, 105.0),
        }
    }

    /// Number of its top left corner mark; the others follow clockwise.
    #[must_use]
    pub fn first_mark(self) -> usize {
        match self {
            Self::A4 | Self::Letter => 0,
            Self::Card => 4,
        }
    }
}

impl fmt::Display for Paper {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::A4 => "A4",
            Self::Letter => "Letter",
            Self::Card => "card",
        })
    }
}

impl FromStr for Paper {
    type Err = String;

    fn from_str(text: &str) -> Result<Self, String> {
        let found = Self::ALL
            .into_iter()
            .chain([Self::Card])
            .find(|it| it.to_string().eq_ignore_ascii_case(text.trim()));
        found.ok_or_else(|| format!("unknown paper “{text}”; use A4 or Letter"))
    }
}
