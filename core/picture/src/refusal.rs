//! Why a picture cannot be read, with what to do about it.

use std::fmt;

/// Why a whole picture is refused.
#[derive(Debug, Clone, PartialEq)]
pub enum Refusal {
    /// No mark of a sheet is in it.
    NoSheet,
    /// Too few of the four marks: these corners are missing, 0 to 3 from the top left clockwise.
    MarksMissing(Vec<usize>),
    /// More than one sheet is in it.
    Twice,
    /// It is seen as in a mirror.
    Mirrored,
    /// The code is another one.
    OtherSheet {
        /// What it says.
        found: String,
        /// What it should say.
        wanted: String,
    },
    /// Too few pixels to a millimetre.
    TooCoarse(f64),
    /// The marks do not lie where they should, by so many pixels.
    NotFlat(f64),
    /// Seen from the side, by so many degrees.
    Oblique(f64),
    /// The paper is as bright as the picture can show.
    TooBright,
    /// The paper is too dark for what is on it to be told.
    TooDark,
    /// Edges are not sharp: so many millimetres from dark to bright.
    Blurred(f64),
    /// The light is so many times as strong in one place as in another.
    Uneven(f64),
    /// Too little bare paper can be seen.
    NoPaper,
    /// It was taken in grey.
    NoColour,
}

const CORNERS: [&str; 4] = ["top left", "top right", "bottom right", "bottom left"];

impl fmt::Display for Refusal {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::NoSheet => f.write_str(
                "no sheet was found: all four corner marks must be in the picture, sharp and bright",
            ),
            Self::MarksMissing(which) => {
                let names: Vec<&str> =
                    which.iter().filter_map(|at| CORNERS.get(*at).copied()).collect();
                let (mark, is) = if names.len() == 1 { ("mark", "is") } else { ("marks", "are") };
                write!(
                    f,
                    "the corner {mark} at {} {is} not to be seen: take the picture again with all \
                     four corners in it",
                    names.join(" and ")
                )
            }
            Self::Twice => f.write_str(
                "two sheets are in this picture, and it can't be told which one is meant: take one at \
                 a time",
            ),
            Self::Mirrored => f.write_str(
                "the picture is mirrored: switch mirroring off in the camera or the scanner",
            ),
            Self::OtherSheet { found, wanted } => {
                write!(f, "this is another sheet: its code says “{found}”, wanted is “{wanted}”")
            }
            Self::TooCoarse(per_mm) => write!(
                f,
                "too few pixels: {per_mm:.1} to a millimetre, at least 4 are needed; go nearer, or \
                 scan at 300 dpi"
            ),
            Self::NotFlat(px) => write!(
                f,
                "the corner marks lie {px:.1} pixels off where they should be: lay the sheet flat, \
                 and hold still"
            ),
            Self::Oblique(degrees) => write!(
                f,
                "the sheet is seen from the side, {degrees:.0}° off: hold the camera straight above \
                 it, up to 35° can be read"
            ),
            Self::TooBright => f.write_str(
                "the paper is as bright as the picture can show: take it darker, or scan without \
                 brightening",
            ),
            Self::TooDark => f.write_str("the picture is too dark: turn on more light"),
            Self::Blurred(mm) => write!(
                f,
                "the picture is blurred: edges are {mm:.1} mm wide; hold still, and let it focus on \
                 the sheet"
            ),
            Self::Uneven(times) => write!(
                f,
                "the light is {times:.1} times as strong in one place as in another: no hand, no \
                 shadow, and the lamp farther away"
            ),
            Self::NoColour => {
                f.write_str("the picture holds no colour: scan in colour, and not in grey, in brown or as text")
            }
            Self::NoPaper => f.write_str("too little bare paper can be seen beside the squares: leave 4 mm free of paint and shadow at the left and at the \
                 right of them"),
        }
    }
}
