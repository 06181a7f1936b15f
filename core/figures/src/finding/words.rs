//! Figures in words.

use colour::Hue;
use study::numbers::{half_width, number, signed_number};
use study::{CLOSE, VISIBLE};

use crate::Figure;

/// What can be said of a colour difference.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Closeness {
    /// The difference with its interval stays under 1.
    NoVisibleDifference,
    /// The difference is smaller than its interval, or has none.
    CannotTell,
    /// Under 2.
    Close,
    /// 2 or more.
    Different,
}

impl Closeness {
    /// Judges a ΔE00. What is surely invisible is told first: it is the stronger word where a tiny
    /// difference is also smaller than its interval.
    #[must_use]
    pub fn of(difference: &Figure) -> Self {
        let value = difference.value;
        match difference.half_width {
            Ok(half) if value + half < VISIBLE => Self::NoVisibleDifference,
            Ok(half) if value < half => Self::CannotTell,
            Err(_) => Self::CannotTell,
            _ if value < CLOSE => Self::Close,
            _ => Self::Different,
        }
    }

    /// The same of colours from pictures, which never show that there is no difference.
    #[must_use]
    pub fn in_picture(difference: &Figure) -> Self {
        match Self::of(difference) {
            Self::NoVisibleDifference => Self::Close,
            other => other,
        }
    }
}

/// The colour that a hue moves toward, by the family it starts in. A positive shift runs red →
/// yellow → green → blue. The families' bounds lie midway between the unique hues of CIELAB (about
/// 25°, 90°, 163° and 250°, from memory), with the mixed hues between them.
#[must_use]
pub fn toward(from: Hue, shift: f64) -> &'static str {
    let (down, up) = match from.degrees() {
        h if h < 45.0 => ("blue", "yellow"),
        h if h < 70.0 => ("red", "yellow"),
        h if h < 108.0 => ("red", "green"),
        h if h < 135.0 => ("yellow", "green"),
        h if h < 195.0 => ("yellow", "blue"),
        h if h < 222.0 => ("green", "blue"),
        h if h < 312.0 => ("green", "red"),
        h if h < 345.0 => ("blue", "red"),
        _ => ("blue", "yellow"),
    };
    if shift < 0.0 { down } else { up }
}

/// What goes with a figure that only points the way.
pub(crate) fn as_far_as(indicative: bool) -> &'static str {
    if indicative { ", as far as the picture tells" } else { "" }
}

/// A percentage without decimals: `62 %`.
pub(crate) fn percent(fraction: f64) -> String {
    number(100.0 * fraction, 0) + " %"
}

/// A half-width in percent, as exact as the percentage and never nothing.
pub(crate) fn half_percent(fraction: f64) -> String {
    half_width(100.0 * fraction, 0) + " %"
}

/// With a sign, a true minus and one decimal: `−2.0`.
pub(crate) fn signed(value: f64) -> String {
    signed_number(value, 1)
}
