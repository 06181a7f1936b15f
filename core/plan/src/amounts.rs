//! How much of what to put out, backwards from the last swatch.

use std::fmt;

use serde::{Deserialize, Serialize};

/// A part is weighable when half the scale's step is at most this share of it.
const WEIGHABLE: f64 = 0.05;
/// A pile that must be this many times the need to be weighable is let down instead.
const TOO_LARGE: f64 = 5.0;
/// The usual let-down: 1 part in 10.
const USUAL_LET_DOWN: f64 = 10.0;

/// The film of one swatch; the defaults are common practice, no source.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Film {
    /// Side of the square in mm.
    pub side_mm: f64,
    /// Wet thickness in mm.
    pub thickness_mm: f64,
    /// Density of the paint in g/ml.
    pub density_g_ml: f64,
    /// What stays on knife and palette, as a share of what is used: 0.6 is 60 %.
    pub waste: f64,
}

impl Default for Film {
    fn default() -> Self {
        Self { side_mm: 20.0, thickness_mm: 0.15, density_g_ml: 1.3, waste: 0.6 }
    }
}

impl Film {
    /// Grams of paint for one swatch, waste included: area × thickness × density × (1 + waste).
    #[must_use]
    pub fn grams(&self) -> f64 {
        self.millilitres() * self.density_g_ml
    }

    /// The same in ml.
    #[must_use]
    pub fn millilitres(&self) -> f64 {
        self.side_mm * self.side_mm * self.thickness_mm / 1000.0 * (1.0 + self.waste)
    }
}

/// Why an amount cannot be planned.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum AmountError {
    /// A scale of 0 g or less.
    NoScale(f64),
    /// All parts are zero, or one is below zero.
    NoParts,
}

impl fmt::Display for AmountError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::NoScale(found) => write!(
                f,
                "a scale of {found} g weighs nothing; write what its last digit stands for, such as 0.01"
            ),
            Self::NoParts => f.write_str("all parts are zero; give at least one tube some parts"),
        }
    }
}

impl std::error::Error for AmountError {}

/// A scale.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Scale {
    step_g: f64,
}

impl Scale {
    /// A scale whose last digit is `step_g`.
    ///
    /// # Errors
    /// For 0 or less.
    pub fn new(step_g: f64) -> Result<Self, AmountError> {
        if step_g > 0.0 && step_g.is_finite() {
            Ok(Self { step_g })
        } else {
            Err(AmountError::NoScale(step_g))
        }
    }

    /// The least amount that it weighs well enough, in g.
    #[must_use]
    pub fn least(self) -> f64 {
        self.step_g / 2.0 / WEIGHABLE
    }

    /// The amount it can show that is nearest.
    #[must_use]
    pub fn rounded(self, grams: f64) -> f64 {
        self.steps((grams / self.step_g).round())
    }

    /// The least amount it can show that is enough.
    #[must_use]
    pub fn enough(self, grams: f64) -> f64 {
        self.steps((grams / self.step_g - 1e-6).ceil())
    }

    /// So many steps in g, so that 0.1 + 0.2 stays 0.3.
    fn steps(self, steps: f64) -> f64 {
        let per_gram = (1.0 / self.step_g).round();
        if (per_gram * self.step_g - 1.0).abs() < 1e-9 {
            steps / per_gram
        } else {
            steps * self.step_g
        }
    }

    /// One standard deviation of a weighed amount as a share of it.
    pub(super) fn relative_error(self, grams: f64) -> f64 {
        self.step_g / 12.0_f64.sqrt() / grams
    }
}

/// A let-down: one part of the strong component in so many parts with the other, mixed first.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LetDown {
    /// Grams of the strong component (or of the let-down before it).
    pub strong_g: f64,
    /// Grams of the other component.
    pub other_g: f64,
}

/// How one mixture of two components is weighed.
#[derive(Debug, Clone, PartialEq)]
pub struct Pile {
    /// Let-downs in the order they are made; empty where both components can be weighed.
    pub let_downs: Vec<LetDown>,
    /// Grams of the scarce component, or of the last let-down in its place.
    pub scarce_g: f64,
    /// Grams of the other.
    pub other_g: f64,
    /// Share of the scarce component in the pile that results, 0–1, as the rounded amounts give it.
    pub share: f64,
    /// One standard deviation of that share's ratio, as a share of it.
    pub ratio_error: f64,
}

impl Pile {
    /// Grams of the pile.
    #[must_use]
    pub fn total(&self) -> f64 {
        self.scarce_g + self.other_g
    }
}

/// Plans a pile of at least `need_g` in which the scarce component has the share `scarce`
/// (0 < scarce ≤ 0.5), for a need above 0: the larger of the need and the least weighable pile, or, where that is more
/// than five times the need, a let-down first.
///
/// # Errors
/// Where the share leaves nothing to weigh.
pub fn pile(need_g: f64, scarce: f64, scale: Scale) -> Result<Pile, AmountError> {
    let sensible = scarce > 0.0 && scarce <= 0.5 && need_g > 0.0 && need_g.is_finite();
    if !sensible {
        return Err(AmountError::NoParts);
    }
    let mut let_downs = Vec::new();
    let (mut carried, mut error) = (1.0, 0.0_f64);
    // Each let-down makes what is weighed in its place stronger by its factor.
    while scale.least() / (scarce / carried) > TOO_LARGE * need_g {
        // The let-down stays the scarcer component of the pile.
        let fits = (0.5 * carried / scarce).floor();
        let factor = USUAL_LET_DOWN.min(fits);
        if factor < 2.0 {
            break;
        }
        let strong = scale.enough(scale.least());
        let other = scale.rounded(strong * (factor - 1.0));
        let made = strong / (strong + other);
        carried *= made;
        error = error.hypot(scale.relative_error(strong)).hypot(scale.relative_error(other));
        let_downs.push(LetDown { strong_g: strong, other_g: other });
    }
    let part = scarce / carried;
    let total = need_g.max(scale.least() / part);
    let scarce_g = scale.enough(total * part);
    let other_g = scale.rounded(scarce_g * (1.0 - part) / part);
    error = error.hypot(scale.relative_error(scarce_g)).hypot(scale.relative_error(other_g));
    let share = scarce_g * carried / (scarce_g + other_g);
    Ok(Pile { let_downs, scarce_g, other_g, share, ratio_error: error })
}

/// One standard deviation of a ratio put out by eye, as a share of it (common practice, no source).
pub(super) const BY_EYE: f64 = 0.25;
