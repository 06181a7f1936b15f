//! The tube as the maker labels it.

use std::fmt;
use std::str::FromStr;

use colour::UnknownName;

use crate::{Day, TubeLabel};

/// A tube of paint on the shelf.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Tube {
    /// Who makes it.
    pub maker: String,
    /// The maker's line; empty where there is only one.
    pub line: String,
    /// Marketing name, as printed. It says little: the same name means other pigments elsewhere.
    pub name: String,
    /// Colour Index names of every pigment in it, in the label's order; empty on old tubes.
    pub codes: Vec<ColourIndexName>,
    /// Artist or student grade.
    pub grade: Grade,
    /// What binds it.
    pub medium: Medium,
    /// Volume in ml as sold, above 0; `None` when not known.
    pub volume_ml: Option<f64>,
    /// What is left in it, in ml, 0 or more; `None` when not known.
    pub left_ml: Option<f64>,
    /// Opacity as the label prints it; may be empty.
    pub opacity: String,
    /// Lightfastness as the label prints it; may be empty.
    pub lightfastness: String,
    /// The maker's price series; may be empty.
    pub series: String,
    /// What it cost, with its currency; may be empty.
    pub price: String,
    /// Batch number; may be empty.
    pub batch: String,
    /// When it was bought.
    pub bought_on: Option<Day>,
    /// When it was tested.
    pub tested_on: Option<Day>,
    /// Anything else; may be empty.
    pub notes: String,
}

impl Tube {
    /// All Colour Index names in one text, `PB15:3 PY74`; empty where the tube gives none.
    #[must_use]
    pub fn code(&self) -> String {
        self.codes.iter().map(|code| code.0.as_str()).collect::<Vec<_>>().join(" ")
    }

    /// `single pigment`, `convenience mixture`, or `not stated` for a tube without a code.
    #[must_use]
    pub fn pigmentation(&self) -> &'static str {
        match self.codes.len() {
            0 => "not stated",
            1 => "single pigment",
            _ => "convenience mixture",
        }
    }

    /// The part of the record that travels with readings.
    #[must_use]
    pub fn label(&self) -> TubeLabel {
        TubeLabel { name: self.name.clone(), maker: self.maker.clone(), code: self.code() }
    }
}

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

/// Grade as the maker sells it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
pub enum Grade {
    /// Full pigment load.
    #[default]
    Artist,
    /// Extended or substituted, cheaper.
    Student,
}

/// What binds the pigment.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
pub enum Medium {
    /// Acrylic dispersion.
    #[default]
    Acrylic,
    /// Drying oil.
    Oil,
    /// Gum watercolour.
    Watercolour,
    /// Opaque watercolour.
    Gouache,
    /// Casein, egg or other tempera.
    Tempera,
}

/// Gives an enum its short names, for forms, files and the database alike.
macro_rules! names {
    ($type:ident, $what:literal, $expected:literal, $($variant:ident = $name:literal),+) => {
        impl $type {
            /// Every value, in the order a form offers them.
            pub const ALL: &'static [Self] = &[$(Self::$variant),+];
        }

        impl fmt::Display for $type {
            fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                f.write_str(match self { $(Self::$variant => $name),+ })
            }
        }

        impl FromStr for $type {
            type Err = UnknownName;

            fn from_str(text: &str) -> Result<Self, UnknownName> {
                match text.trim().to_lowercase().as_str() {
                    $($name => Ok(Self::$variant),)+
                    _ => Err(UnknownName { what: $what, found: text.into(), expected: $expected }),
                }
            }
        }
    };
}
pub(crate) use names;

names!(Grade, "grade", "artist or student", Artist = "artist", Student = "student");
names!(
    Medium,
    "medium",
    "acrylic, oil, watercolour, gouache or tempera",
    Acrylic = "acrylic",
    Oil = "oil",
    Watercolour = "watercolour",
    Gouache = "gouache",
    Tempera = "tempera"
);
