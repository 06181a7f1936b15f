//! Colour differences.
//!
//! CIEDE2000 judges how different two colours look; it is what "no visible difference" is decided
//! by. ΔE*ab, the plain distance in CIELAB, is used only as the depth of a tint (its distance from
//! the white), because ISO 18314-2 frames depth that way. ΔL*, ΔC* and ΔH* tell in which direction.

use std::fmt;

use palette::color_difference::{Ciede2000, EuclideanDistance};
use palette::white_point::E;

use crate::Lab;
use crate::lanes::{difference, terms_of};

/// A colour difference, 0 or more; about 1 is the smallest that is seen side by side.
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd)]
pub struct DeltaE(pub f64);

impl DeltaE {
    /// The bare number.
    #[must_use]
    pub fn value(self) -> f64 {
        self.0
    }
}

impl fmt::Display for DeltaE {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.0.fmt(f)
    }
}

/// CIEDE2000 (ISO/CIE 11664-6), kL = kC = kH = 1.
///
/// ```
/// # use colour::*;
/// // Sharma, Wu and Dalal (2005), pair 1.
/// let difference = ciede2000(Lab::new(50.0, 2.6772, -79.7751), Lab::new(50.0, 0.0, -82.7485));
/// assert_eq!(format!("{difference:.4}"), "2.0425");
/// ```
#[must_use]
pub fn ciede2000(one: Lab, other: Lab) -> DeltaE {
    // The library (palette 0.7.7) leaves out the third case of the mean hue (Sharma, Wu and Dalal 2005, equation 14):
    // two hues that lie about 0° and sum to 360° or more. It is up to ΔE00 0.0002 off there.
    if one.b * other.b < 0.0
        && let Some(difference) = difference(one, other)
    {
        return DeltaE(difference);
    }
    DeltaE(library(one).difference(library(other)))
}

/// Three numbers whose squares add up to CIEDE2000 squared: what a search by least squares takes in place of the one
/// number, which has no slope where it is 0. The first is lightness alone; chroma and hue share the other two, since R_T
/// turns their axes.
#[must_use]
pub fn ciede2000_terms(one: Lab, other: Lab) -> [f64; 3] {
    let ([light, chroma, hue], turn) = terms_of(one, other);
    // c² + R·c·h + h² = (c + R·h/2)² + h²·(1 − R²/4), and |R| is less than 2.
    let own = (1.0 - turn * turn / 4.0).max(0.0).sqrt();
    [light, chroma + 0.5 * turn * hue, own * hue]
}

/// ΔE*ab, the Euclidean distance in CIELAB (ISO/CIE 11664-4).
#[must_use]
pub fn delta_e_ab(one: Lab, other: Lab) -> DeltaE {
    DeltaE(library(one).distance(library(other)))
}

/// A difference told by direction, sample less reference.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Components {
    /// ΔL*: positive is lighter.
    pub lightness: f64,
    /// ΔC*ab: positive is more vivid.
    pub chroma: f64,
    /// ΔH*ab: positive is turned red → yellow → green → blue. In units of C*, not degrees.
    pub hue: f64,
}

/// ΔL*, ΔC*ab and ΔH*ab of `sample` against `reference` (ISO/CIE 11664-4).
#[must_use]
pub fn components(sample: Lab, reference: Lab) -> Components {
    let (c1, c2) = (reference.chroma(), sample.chroma());
    let turn = sample.b.atan2(sample.a) - reference.b.atan2(reference.a);
    Components {
        lightness: sample.l - reference.l,
        chroma: c2 - c1,
        hue: 2.0 * (c1 * c2).sqrt() * (turn / 2.0).sin() * turn_sign(turn),
    }
}

/// MCDM: the mean CIEDE2000 difference of repeats from their mean. `None` for fewer than two.
#[must_use]
pub fn spread(repeats: &[Lab]) -> Option<DeltaE> {
    if repeats.len() < 2 {
        return None;
    }
    let mean = Lab::mean(repeats)?;
    let total: f64 = repeats.iter().map(|lab| ciede2000(*lab, mean).0).sum();
    Some(DeltaE(total / repeats.len() as f64))
}

/// sin(turn/2) has the wrong sign when the turn itself was not the shortest way.
fn turn_sign(turn: f64) -> f64 {
    if turn.abs() > std::f64::consts::PI { -1.0 } else { 1.0 }
}

fn library(lab: Lab) -> palette::Lab<E, f64> {
    palette::Lab::new(lab.l, lab.a, lab.b)
}
