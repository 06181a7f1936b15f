//! The reference palette that every new tube is tried against, made from a school's template.

use std::fmt;

use colour::{Hue, signed_shift};

use crate::shelf::HueFamily;
use crate::{ColourIndexName, Medium, TubeLabel, same_code, short_names};

/// How a palette is put together.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
pub enum School {
    /// A warm and a cool of each primary, and a white.
    SplitPrimaries,
    /// The same with an orange and a violet.
    #[default]
    SplitWithOrangeAndViolet,
    /// One magenta, one yellow, one cyan-leaning blue, and a white.
    ThreePrimaries,
    /// Any three to twenty-four tubes and a white.
    Free,
}

short_names!(
    School,
    "school",
    "split, split-orange-violet, three or free",
    SplitPrimaries = "split",
    SplitWithOrangeAndViolet = "split-orange-violet",
    ThreePrimaries = "three",
    Free = "free"
);

/// Fewest colours of a free palette.
const FEWEST: usize = 3;
/// Most colours of a free palette.
const MOST: usize = 24;

impl School {
    /// As people call it.
    #[must_use]
    pub fn title(self) -> &'static str {
        match self {
            Self::SplitPrimaries => "Split primaries",
            Self::SplitWithOrangeAndViolet => "Split primaries with orange and violet",
            Self::ThreePrimaries => "Three primaries",
            Self::Free => "Free",
        }
    }

    /// What it asks for, in the order of the colour circle from yellow, the white last.
    #[must_use]
    pub fn roles(self) -> Vec<PaletteRole> {
        use PaletteRole as Role;
        match self {
            Self::SplitPrimaries => vec![
                Role::CoolYellow,
                Role::WarmYellow,
                Role::WarmRed,
                Role::CoolRed,
                Role::WarmBlue,
                Role::CoolBlue,
                Role::White,
            ],
            Self::SplitWithOrangeAndViolet => vec![
                Role::CoolYellow,
                Role::WarmYellow,
                Role::Orange,
                Role::WarmRed,
                Role::CoolRed,
                Role::Violet,
                Role::WarmBlue,
                Role::CoolBlue,
                Role::White,
            ],
            Self::ThreePrimaries => {
                vec![Role::Yellow, Role::Magenta, Role::Cyan, Role::White]
            }
            Self::Free => {
                let mut roles = vec![Role::Any; MOST];
                roles.push(Role::White);
                roles
            }
        }
    }
}

/// What a tube is in a palette. Warm and cool go by the lean that most charts teach: warm leans
/// red, except that a warm red leans orange.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum PaletteRole {
    /// A yellow that leans red.
    WarmYellow,
    /// A yellow that leans green.
    CoolYellow,
    /// An orange.
    Orange,
    /// A red that leans orange.
    WarmRed,
    /// A red that leans violet.
    CoolRed,
    /// A violet.
    Violet,
    /// A blue that leans red.
    WarmBlue,
    /// A blue that leans green.
    CoolBlue,
    /// The magenta of three primaries.
    Magenta,
    /// The yellow of three primaries.
    Yellow,
    /// The cyan-leaning blue of three primaries.
    Cyan,
    /// A tube of a free palette.
    Any,
    /// The white.
    White,
}

short_names!(
    PaletteRole,
    "role",
    "a role of a palette",
    WarmYellow = "warm-yellow",
    CoolYellow = "cool-yellow",
    Orange = "orange",
    WarmRed = "warm-red",
    CoolRed = "cool-red",
    Violet = "violet",
    WarmBlue = "warm-blue",
    CoolBlue = "cool-blue",
    Magenta = "magenta",
    Yellow = "yellow",
    Cyan = "cyan",
    Any = "any",
    White = "white"
);

impl PaletteRole {
    /// As people call it, with the lean that nobody disputes.
    #[must_use]
    pub fn title(self) -> &'static str {
        match self {
            Self::WarmYellow => "warm yellow, leaning red",
            Self::CoolYellow => "cool yellow, leaning green",
            Self::Orange => "orange",
            Self::WarmRed => "warm red, leaning orange",
            Self::CoolRed => "cool red, leaning violet",
            Self::Violet => "violet",
            Self::WarmBlue => "warm blue, leaning red",
            Self::CoolBlue => "cool blue, leaning green",
            Self::Magenta => "magenta",
            Self::Yellow => "yellow",
            Self::Cyan => "cyan-leaning blue",
            Self::Any => "colour",
            Self::White => "white",
        }
    }

    /// True where a tube's first pigment is of the right hue family; `None` where it has no code.
    #[must_use]
    pub fn suits(self, codes: &[ColourIndexName]) -> Option<bool> {
        let family = HueFamily::of(codes.first()?);
        let families: &[HueFamily] = match self {
            Self::WarmYellow | Self::CoolYellow | Self::Yellow => &[HueFamily::Yellow],
            Self::Orange => &[HueFamily::Orange],
            Self::WarmRed => &[HueFamily::Red],
            Self::CoolRed | Self::Magenta => &[HueFamily::Red, HueFamily::Violet],
            Self::Violet => &[HueFamily::Violet],
            Self::WarmBlue | Self::CoolBlue | Self::Cyan => &[HueFamily::Blue],
            Self::Any => return Some(family != HueFamily::White),
            Self::White => &[HueFamily::White],
        };
        Some(families.contains(&family))
    }

    /// The other of a warm and cool pair, for a warm role, and the sense in which the warm one's
    /// hue angle differs from the cool one's.
    fn cool_of(self) -> Option<(Self, f64)> {
        match self {
            // Red at 30°, yellow at 90°, blue at 280°, so toward red is down from yellow and up
            // from blue; a warm red is nearer to yellow.
            Self::WarmYellow => Some((Self::CoolYellow, -1.0)),
            Self::WarmRed => Some((Self::CoolRed, 1.0)),
            Self::WarmBlue => Some((Self::CoolBlue, 1.0)),
            _ => None,
        }
    }
}

/// A role that a tube fills.
#[derive(Debug, Clone, PartialEq)]
pub struct Filled {
    /// Which role.
    pub role: PaletteRole,
    /// Any number that is the same for the same tube.
    pub tube: i64,
    /// Its label.
    pub label: TubeLabel,
    /// Hue of its truest tint, where it has been read.
    pub hue: Option<Hue>,
    /// What it is bound with.
    pub medium: Medium,
}

/// What is missing, doubled or crossed in a palette.
#[derive(Debug, Clone, PartialEq)]
pub enum PaletteRemark {
    /// Nothing fills a role.
    Missing(PaletteRole),
    /// One tube fills two roles.
    SameTube(PaletteRole, PaletteRole, String),
    /// Two tubes hold the same pigments.
    SamePigments(String, String, String),
    /// The readings say that the warm one is the cooler of the two, by so many degrees.
    Crossed {
        /// The tube in the warm role.
        warm: String,
        /// The tube in the cool role.
        cool: String,
        /// How far the warm one lies on the cool side, degrees.
        degrees: f64,
    },
    /// A free palette of too few colours.
    TooFew(usize),
}

impl fmt::Display for PaletteRemark {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Missing(role) => write!(f, "Missing: {}.", role.title()),
            Self::SameTube(one, other, name) => {
                write!(f, "Doubled: {name} is both {} and {}.", one.title(), other.title())
            }
            Self::SamePigments(one, other, code) => {
                write!(f, "Doubled: {one} and {other} hold the same pigments ({code}).")
            }
            Self::Crossed { warm, cool, degrees } => write!(
                f,
                "Crossed: by its readings {warm} is the cooler one, by {degrees:.0}° beside {cool}."
            ),
            Self::TooFew(found) => {
                write!(f, "{found} of at least {FEWEST} colours are chosen.")
            }
        }
    }
}

/// What is missing, doubled or crossed.
#[must_use]
pub fn palette_remarks(school: School, filled: &[Filled]) -> Vec<PaletteRemark> {
    let mut remarks = missing(school, filled);
    for (at, one) in filled.iter().enumerate() {
        for other in &filled[at + 1..] {
            if one.tube == other.tube {
                let name = one.label.name.clone();
                remarks.push(PaletteRemark::SameTube(one.role, other.role, name));
            } else if same_code(&one.label.code, &other.label.code) {
                remarks.push(PaletteRemark::SamePigments(
                    one.label.name.clone(),
                    other.label.name.clone(),
                    one.label.code.clone(),
                ));
            }
        }
    }
    remarks.extend(filled.iter().filter_map(|warm| crossed(warm, filled)));
    remarks
}

fn missing(school: School, filled: &[Filled]) -> Vec<PaletteRemark> {
    let has = |role: PaletteRole| filled.iter().any(|it| it.role == role);
    let mut remarks = Vec::new();
    // Water takes the place of white in transparent water colour.
    let transparent =
        !filled.is_empty() && filled.iter().all(|it| it.medium == Medium::Watercolour);
    for role in school.roles() {
        let needed = role != PaletteRole::Any && !(role == PaletteRole::White && transparent);
        if needed && !has(role) {
            remarks.push(PaletteRemark::Missing(role));
        }
    }
    let colours = filled.iter().filter(|it| it.role != PaletteRole::White).count();
    if school == School::Free && colours < FEWEST {
        remarks.push(PaletteRemark::TooFew(colours));
    }
    remarks
}

fn crossed(warm: &Filled, filled: &[Filled]) -> Option<PaletteRemark> {
    let (cool_role, sense) = warm.role.cool_of()?;
    let cool = filled.iter().find(|it| it.role == cool_role && it.tube != warm.tube)?;
    let degrees = -sense * signed_shift(cool.hue?, warm.hue?);
    (degrees > 0.0).then(|| PaletteRemark::Crossed {
        warm: warm.label.name.clone(),
        cool: cool.label.name.clone(),
        degrees,
    })
}
