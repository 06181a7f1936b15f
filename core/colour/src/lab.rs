//! CIELAB (ISO/CIE 11664-4).

use std::fmt;

use palette::chromatic_adaptation::adaptation_matrix;
use palette::convert::{Convert, FromColorUnclamped, IntoColorUnclamped};
use palette::lms::matrix::Bradford;
use palette::white_point::E;

use crate::{Conditions, Hue, NEAR_NEUTRAL_CHROMA, Observer, Reflectance, Xyz};

/// A CIELAB colour under the conditions of the analysis at hand.
///
/// It has no conditions of its own; [`StatedLab`] has. A stored or imported colour reaches this
/// type only through [`StatedLab::under`], so that two of them always compare.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Lab {
    /// Lightness L*, 0 (black) to 100 (perfect white).
    pub l: f64,
    /// a*, red positive, green negative.
    pub a: f64,
    /// b*, yellow positive, blue negative.
    pub b: f64,
}

impl Lab {
    /// From L*, a* and b*.
    #[must_use]
    pub const fn new(l: f64, a: f64, b: f64) -> Self {
        Self { l, a, b }
    }

    /// From tristimulus values under `conditions`.
    #[must_use]
    pub fn from_xyz(xyz: Xyz, conditions: Conditions) -> Self {
        let white = Xyz::white(conditions);
        // Divided by the white here, so that the library's equal-energy white (1, 1, 1) is right.
        let relative =
            palette::Xyz::<E, f64>::new(xyz.x / white.x, xyz.y / white.y, xyz.z / white.z);
        let lab = palette::Lab::<E, f64>::from_color_unclamped(relative);
        Self { l: lab.l, a: lab.a, b: lab.b }
    }

    /// From a measured reflectance under `conditions`.
    #[must_use]
    pub fn from_reflectance(reflectance: &Reflectance, conditions: Conditions) -> Self {
        Self::from_xyz(Xyz::from_reflectance(reflectance, conditions), conditions)
    }

    /// Back to tristimulus values (Y of the perfect diffuser 100).
    #[must_use]
    pub fn to_xyz(self, conditions: Conditions) -> Xyz {
        let white = Xyz::white(conditions);
        let xyz: palette::Xyz<E, f64> =
            palette::Lab::<E, f64>::new(self.l, self.a, self.b).into_color_unclamped();
        Xyz { x: xyz.x * white.x, y: xyz.y * white.y, z: xyz.z * white.z }
    }

    /// Chroma C*ab, 0 or more.
    #[must_use]
    pub fn chroma(self) -> f64 {
        self.a.hypot(self.b)
    }

    /// Hue angle h_ab, `None` where the colour is near neutral (C* < 2).
    #[must_use]
    pub fn hue(self) -> Option<Hue> {
        (self.chroma() >= NEAR_NEUTRAL_CHROMA)
            .then(|| Hue::from_degrees(self.b.atan2(self.a).to_degrees()))
    }

    /// The three coordinates in the order L*, a*, b*.
    #[must_use]
    pub fn axes(self) -> [f64; 3] {
        [self.l, self.a, self.b]
    }

    /// From the three coordinates in the order L*, a*, b*.
    #[must_use]
    pub fn from_axes([l, a, b]: [f64; 3]) -> Self {
        Self { l, a, b }
    }

    /// The point `t` of the way from `self` (0) to `other` (1).
    #[must_use]
    pub fn lerp(self, other: Self, t: f64) -> Self {
        let mix = |from: f64, to: f64| from + t * (to - from);
        Self { l: mix(self.l, other.l), a: mix(self.a, other.a), b: mix(self.b, other.b) }
    }

    /// Mean of repeats. `None` for an empty list.
    #[must_use]
    pub fn mean(repeats: &[Self]) -> Option<Self> {
        let count = repeats.len() as f64;
        let axis = |pick: fn(&Self) -> f64| repeats.iter().map(pick).sum::<f64>() / count;
        (!repeats.is_empty()).then(|| Self {
            l: axis(|lab| lab.l),
            a: axis(|lab| lab.a),
            b: axis(|lab| lab.b),
        })
    }
}

/// A CIELAB colour with the conditions it was given for: the form that is stored and exchanged.
///
/// It has no difference of its own, so colours under different lights cannot be compared by
/// accident:
///
/// ```compile_fail
/// # use colour::*;
/// let day = StatedLab { lab: Lab::new(50.0, 0.0, 0.0), conditions: Conditions::D65_10 };
/// let print = StatedLab { lab: Lab::new(50.0, 0.0, 0.0), conditions: Conditions::D50_2 };
/// ciede2000(day, print);
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct StatedLab {
    /// The coordinates.
    pub lab: Lab,
    /// Their illuminant and observer.
    pub conditions: Conditions,
}

/// Why a Lab-only reading cannot be brought under other conditions.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct ConversionError {
    /// The reading's observer.
    pub from: Observer,
    /// The observer that was asked for.
    pub to: Observer,
}

impl fmt::Display for ConversionError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(
            f,
            "a CIELAB reading for the {}° observer cannot be turned into one for {}°; \
             analyse it for {}°, or take a spectral reading",
            self.from, self.to, self.from
        )
    }
}

impl std::error::Error for ConversionError {}

impl StatedLab {
    /// The colour under other conditions: unchanged under its own, adapted (linear Bradford)
    /// under another illuminant. An adapted colour is an estimate and never shows metamerism.
    ///
    /// # Errors
    /// For another observer: nothing but the spectrum can tell.
    pub fn under(self, wanted: Conditions) -> Result<Lab, ConversionError> {
        if self.conditions.observer != wanted.observer {
            return Err(ConversionError { from: self.conditions.observer, to: wanted.observer });
        }
        if self.conditions == wanted {
            return Ok(self.lab);
        }
        let from = relative(Xyz::white(self.conditions));
        let to = relative(Xyz::white(wanted));
        let bradford = adaptation_matrix::<f64, E, E, Bradford>(Some(from), Some(to));
        let seen = Convert::convert(&bradford, relative(self.lab.to_xyz(self.conditions)));
        let xyz = Xyz { x: seen.x * 100.0, y: seen.y * 100.0, z: seen.z * 100.0 };
        Ok(Lab::from_xyz(xyz, wanted))
    }
}

fn relative(xyz: Xyz) -> palette::Xyz<E, f64> {
    palette::Xyz::new(xyz.x / 100.0, xyz.y / 100.0, xyz.z / 100.0)
}
