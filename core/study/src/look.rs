//! What a tube looks like to somebody who has no meter: two colours, chosen on a screen. They are no readings.

use std::fmt;
use std::str::FromStr;

use colour::Lab;
use mixing::typical::Look;
use thiserror::Error;

/// A colour that was chosen: CIELAB under D65 for the 10° observer, to one decimal.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ChosenColour(Lab);

impl ChosenColour {
    /// The nearest one to a colour: L* 0 to 100, a* and b* −150 to 150.
    #[must_use]
    pub fn of(lab: Lab) -> Self {
        // Adding 0 makes a −0 a 0, which is read as it was written.
        let tenths = |value: f64| (value * 10.0).round() / 10.0 + 0.0;
        let off = |value: f64| tenths(value.clamp(-150.0, 150.0));
        Self(Lab { l: tenths(lab.l.clamp(0.0, 100.0)), a: off(lab.a), b: off(lab.b) })
    }

    /// The colour.
    #[must_use]
    pub fn lab(self) -> Lab {
        self.0
    }
}

impl fmt::Display for ChosenColour {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{} {} {}", self.0.l, self.0.a, self.0.b)
    }
}

/// It is not three numbers of a colour.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
#[error("“{0}” is no colour; write L*, a* and b* such as 52.5 -30 18.4")]
pub struct NoColour(String);

impl FromStr for ChosenColour {
    type Err = NoColour;

    fn from_str(text: &str) -> Result<Self, NoColour> {
        let wrong = || NoColour(text.to_owned());
        let numbers: Result<Vec<f64>, _> = text.split_whitespace().map(str::parse).collect();
        let Ok([l, a, b]) = <[f64; 3]>::try_from(numbers.map_err(|_| wrong())?) else {
            return Err(wrong());
        };
        let is_colour = (0.0..=100.0).contains(&l) && a.abs() <= 150.0 && b.abs() <= 150.0;
        is_colour.then(|| Self::of(Lab { l, a, b })).ok_or_else(wrong)
    }
}

/// How somebody saw a tube.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct TubeLook {
    /// Thick.
    pub mass_tone: Option<ChosenColour>,
    /// One part with four of white.
    pub tint: Option<ChosenColour>,
}

impl TubeLook {
    /// Nobody has chosen anything.
    #[must_use]
    pub fn is_unset(self) -> bool {
        self == Self::default()
    }

    /// Its colours, for a fit.
    #[must_use]
    pub fn chosen(self) -> Look {
        Look {
            mass_tone: self.mass_tone.map(ChosenColour::lab),
            tint: self.tint.map(ChosenColour::lab),
        }
    }
}

impl From<Look> for TubeLook {
    fn from(look: Look) -> Self {
        Self {
            mass_tone: look.mass_tone.map(ChosenColour::of),
            tint: look.tint.map(ChosenColour::of),
        }
    }
}
