//! Illuminant and observer.

use std::fmt;
use std::str::FromStr;

/// CIE standard illuminant.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Illuminant {
    /// Horizon daylight, 5003 K; the graphic trade's viewing light.
    D50,
    /// Average daylight, 6504 K.
    D65,
    /// Incandescent light, 2856 K.
    A,
}

/// CIE standard observer.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Observer {
    /// CIE 1931, 2° field.
    Two,
    /// CIE 1964, 10° field.
    Ten,
}

/// What a colour is worked out for. Two colours compare only under the same conditions.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub struct Conditions {
    /// The light.
    pub illuminant: Illuminant,
    /// The eye.
    pub observer: Observer,
}

impl Conditions {
    /// The default of every analysis: D65, 10°.
    pub const D65_10: Self = Self { illuminant: Illuminant::D65, observer: Observer::Ten };
    /// What screens are defined for: D65, 2°.
    pub const D65_2: Self = Self { illuminant: Illuminant::D65, observer: Observer::Two };
    /// What printing tools assume: D50, 2°.
    pub const D50_2: Self = Self { illuminant: Illuminant::D50, observer: Observer::Two };
}

impl Default for Conditions {
    fn default() -> Self {
        Self::D65_10
    }
}

/// A name that is not one of a short list; the message gives the list.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct UnknownName {
    /// What kind of name was expected, for example "illuminant".
    pub what: &'static str,
    /// What was found.
    pub found: String,
    /// The names that would be right.
    pub expected: &'static str,
}

impl fmt::Display for UnknownName {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "unknown {} “{}”; use {}", self.what, self.found, self.expected)
    }
}

impl std::error::Error for UnknownName {}

impl FromStr for Illuminant {
    type Err = UnknownName;

    fn from_str(text: &str) -> Result<Self, UnknownName> {
        match text.trim().to_ascii_uppercase().as_str() {
            "D50" => Ok(Self::D50),
            "D65" => Ok(Self::D65),
            "A" => Ok(Self::A),
            _ => Err(UnknownName {
                what: "illuminant",
                found: text.into(),
                expected: "D50, D65 or A",
            }),
        }
    }
}

impl FromStr for Observer {
    type Err = UnknownName;

    fn from_str(text: &str) -> Result<Self, UnknownName> {
        match text.trim().trim_end_matches('°') {
            "2" => Ok(Self::Two),
            "10" => Ok(Self::Ten),
            _ => Err(UnknownName { what: "observer", found: text.into(), expected: "2 or 10" }),
        }
    }
}

/// `D65/10` or `D65/10°`.
impl FromStr for Conditions {
    type Err = UnknownName;

    fn from_str(text: &str) -> Result<Self, UnknownName> {
        let unknown = UnknownName {
            what: "light",
            found: text.into(),
            expected: "an illuminant and an observer, as in D65/10",
        };
        let (illuminant, observer) = text.split_once('/').ok_or(unknown)?;
        Ok(Self { illuminant: illuminant.parse()?, observer: observer.parse()? })
    }
}

impl fmt::Display for Illuminant {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::D50 => "D50",
            Self::D65 => "D65",
            Self::A => "A",
        })
    }
}

/// The field in degrees: `2` or `10`.
impl fmt::Display for Observer {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::Two => "2",
            Self::Ten => "10",
        })
    }
}

/// As it is written in print: `D65/10°`.
impl fmt::Display for Conditions {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}/{}°", self.illuminant, self.observer)
    }
}
