//! Hiding: one film over black and over white.

use std::fmt;

use colour::{Conditions, Lab, ciede2000};
use study::{Averages, Backing, Mixture, SwatchColour};

use crate::between::Between;
use crate::footing::Footing;
use crate::interval::{Figure, Outcome, WhyNot, propagate_colours};

/// Below this Y over white the film is too dark to be classed.
const DARK: f64 = 15.0;
/// Half-widths of a contrast ratio from a picture, percent: with squares of known colour, and without.
const FROM_PICTURE: [f64; 2] = [6.0, 8.0];

/// How well a film hides. It belongs to that film: compare at equal thickness only.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Opacity {
    /// 100 · Y(over black)/Y(over white), percent (frame: ASTM D2805; 98 is complete hiding).
    pub contrast_ratio: Figure,
    /// Its class (ours), or "dark" where Y over white is under 15.
    pub class: Result<OpacityClass, WhyNot>,
    /// ΔE00 of the film over black from the bare black.
    pub veil: Outcome,
}

/// Classes of contrast ratio (ours).
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum OpacityClass {
    /// 98 % or more.
    Opaque,
    /// 90 % or more.
    SemiOpaque,
    /// 70 % or more.
    SemiTransparent,
    /// Below 70 %.
    Transparent,
}

impl OpacityClass {
    /// The class of a contrast ratio in percent.
    #[must_use]
    pub fn of(contrast_ratio: f64) -> Self {
        match contrast_ratio {
            ratio if ratio >= 98.0 => Self::Opaque,
            ratio if ratio >= 90.0 => Self::SemiOpaque,
            ratio if ratio >= 70.0 => Self::SemiTransparent,
            _ => Self::Transparent,
        }
    }
}

impl fmt::Display for OpacityClass {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::Opaque => "opaque",
            Self::SemiOpaque => "semi-opaque",
            Self::SemiTransparent => "semi-transparent",
            Self::Transparent => "transparent",
        })
    }
}

/// Opacity of one paint from its films over black and over white.
pub(super) fn opacity(
    averages: &Averages,
    paint: &Mixture,
    conditions: Conditions,
    between: Between,
) -> Result<Opacity, WhyNot> {
    // Two films of one paint are never of one thickness.
    let over = |backing| {
        let film = averages.dry(paint, backing).ok_or(WhyNot::OpacityUnread)?;
        Ok(between.square(film, false))
    };
    let (black, white) = (&over(Backing::Black)?, &over(Backing::White)?);
    let luminance = |lab: Lab| lab.to_xyz(conditions).y;
    let figure = |[black, white]: [Lab; 2]| Some(100.0 * luminance(black) / luminance(white));
    let value = 100.0 * luminance(black.lab) / luminance(white.lab);
    let half_width = propagate_colours([sure(black), sure(white)], figure);
    if !value.is_finite() {
        return Err(WhyNot::Dark);
    }
    let dark = luminance(white.lab) < DARK;
    let footing = Footing::of([black, white]);
    Ok(Opacity {
        contrast_ratio: match (footing.is_picture(), footing.is_uncalibrated()) {
            (false, _) => Figure::with(value, half_width),
            (true, false) => Figure::with(value, at_least(FROM_PICTURE[0], half_width)),
            (true, true) => Figure::with(value, Some(FROM_PICTURE[1])).as_indicative(),
        },
        class: if dark { Err(WhyNot::Dark) } else { Ok(OpacityClass::of(value)) },
        veil: veil(black, averages.dry(&Mixture::bare(), Backing::Black)),
    })
}

/// A film over black and one over white are colours far apart, whose errors need not cancel.
fn at_least(least: f64, half_width: Option<f64>) -> Option<f64> {
    Some(half_width.map_or(least, |half_width| half_width.max(least)))
}

fn veil(film: &SwatchColour, bare: Option<&SwatchColour>) -> Outcome {
    let bare = bare.ok_or(WhyNot::BareBlackUnread)?;
    let figure = |[film, bare]: [Lab; 2]| Some(ciede2000(film, bare).value());
    let half_width = propagate_colours([sure(film), sure(bare)], figure);
    let told = Figure::with(ciede2000(film.lab, bare.lab).value(), half_width);
    Footing::of([film, bare]).of_mixtures(Ok(told))
}

/// No ratio was weighed for a tube alone.
fn sure(colour: &SwatchColour) -> study::Uncertain {
    colour.uncertain([0.0; 3])
}
