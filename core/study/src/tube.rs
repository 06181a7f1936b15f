//! The tube as the maker labels it.

use crate::{ColourIndexName, Day, TubeLabel, TubeLook, short_names};

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
    /// What 1 ml of it weighs, in g, above 0; `None` when not known.
    pub density_g_ml: Option<f64>,
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
    /// What it looks like to somebody without a meter.
    pub look: TubeLook,
}

impl Tube {
    /// Densities that a paint may have, g/ml: an oil light as medium, and lead white.
    pub const DENSITIES: std::ops::RangeInclusive<f64> = 0.5..=5.0;

    /// All Colour Index names in one text, `PB15:3 PY74`; empty where the tube gives none.
    #[must_use]
    pub fn code(&self) -> String {
        self.codes.iter().map(|code| code.as_str()).collect::<Vec<_>>().join(" ")
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

    /// A white: by every pigment in it, or, where its label gives none, by its name.
    #[must_use]
    pub fn is_white(&self) -> bool {
        if self.codes.is_empty() {
            return self.name.split_whitespace().any(|word| word.eq_ignore_ascii_case("white"));
        }
        self.codes.iter().all(|code| code.as_str().starts_with("PW"))
    }

    /// The part of the record that travels with readings.
    #[must_use]
    pub fn label(&self) -> TubeLabel {
        TubeLabel { name: self.name.clone(), maker: self.maker.clone(), code: self.code() }
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

short_names!(Grade, "grade", "artist or student", Artist = "artist", Student = "student");
short_names!(
    Medium,
    "medium",
    "acrylic, oil, watercolour, gouache or tempera",
    Acrylic = "acrylic",
    Oil = "oil",
    Watercolour = "watercolour",
    Gouache = "gouache",
    Tempera = "tempera"
);
