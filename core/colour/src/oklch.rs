//! OKLCh (Ottosson 2020): a second opinion on hue where CIELAB bends.

use palette::Oklch;
use palette::convert::FromColorUnclamped;
use palette::white_point::D65;

use crate::{Hue, Xyz};

/// Below this OKLCh chroma a hue is not a number; it lies where C*ab is about 2.
const NEAR_NEUTRAL: f64 = 0.008;

/// OKLCh hue of tristimulus values under D65/2°, in degrees; `None` near neutral.
///
/// CIELAB bends blues: a tint that keeps its hue to the eye turns by many degrees in h_ab between
/// 230° and 320°. OKLCh was fitted to keep such tints straight.
#[must_use]
pub fn oklch_hue(xyz_d65_2: Xyz) -> Option<Hue> {
    let Xyz { x, y, z } = xyz_d65_2;
    let colour = Oklch::<f64>::from_color_unclamped(palette::Xyz::<D65, f64>::new(
        x / 100.0,
        y / 100.0,
        z / 100.0,
    ));
    (colour.chroma >= NEAR_NEUTRAL).then(|| Hue::from_degrees(colour.hue.into_positive_degrees()))
}
