//! What needs a look in a square.

use std::fmt;

use crate::cell::CellLook;

/// What needs a look.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Flag {
    /// It looks like bare paper.
    NotPainted,
    /// Half of it has another colour: wet, or mixed badly.
    TwoTone,
    /// It is speckled.
    Granulates,
    /// It and another look as each other should.
    Swapped,
    /// A light is mirrored in it.
    Glare,
    /// It is lighter than it should be in all channels alike: a light is mirrored in the whole of it, or it holds more white.
    Veiled,
    /// Lines run through it.
    Streaky,
}

impl fmt::Display for Flag {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::NotPainted => "not_painted",
            Self::TwoTone => "two_tone",
            Self::Granulates => "granulates",
            Self::Swapped => "swapped",
            Self::Glare => "glare",
            Self::Veiled => "veiled",
            Self::Streaky => "streaky",
        })
    }
}

/// Two groups this far apart in L*, a* or b*, with this share of the variance between them, are two tones.
const APART: [f64; 3] = [2.0, 4.0, 4.0];
const BETWEEN: f64 = 0.85;
/// Grain beyond the paper's, L*.
const GRAIN: f64 = 0.3;
/// Light beyond most of the square, linear.
const GLINT: f64 = 0.08;
/// Spread of its lines' means, L* (ours).
const STREAKS: f64 = 1.2;
/// Pixels to a millimetre below which grain cannot be seen.
pub(crate) const FINE: f64 = 6.0;

/// What a square's own pixels tell; `paper_grain` is what bare paper has.
pub(crate) fn of_look(look: &CellLook, paper_grain: f64, per_mm: f64) -> Vec<Flag> {
    let of_axis =
        |((apart, between), least): (&(f64, f64), f64)| *apart > least && *between > BETWEEN;
    let two = look.tones.iter().zip(APART).any(of_axis);
    // A light half is no mirrored lamp, and a mirrored lamp is no streak.
    let glare = !two && look.glint > GLINT;
    let found = [
        (glare, Flag::Glare),
        (two, Flag::TwoTone),
        (!two && per_mm >= FINE && look.grain - paper_grain > GRAIN, Flag::Granulates),
        (!two && !glare && look.streaks > STREAKS, Flag::Streaky),
    ];
    found.into_iter().filter(|(is, _)| *is).map(|(_, flag)| flag).collect()
}
