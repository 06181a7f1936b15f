//! How much chroma a mixture keeps of its parents'.

use std::fmt;

use colour::{Hue, Lab, NEAR_NEUTRAL_CHROMA, unsigned_distance};
use study::Uncertain;

use crate::interval::{Figure, Outcome, WhyNot, propagate_colours};

/// How much chroma a mixture keeps (ours, adjustable later).
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Grade {
    /// Up to 15 % lost.
    Vivid,
    /// Up to 40 %.
    Softened,
    /// Up to 65 %.
    Muted,
    /// More.
    Neutralised,
}

impl Grade {
    /// The grade of a chroma loss, a fraction.
    #[must_use]
    pub fn of(loss: f64) -> Self {
        match loss {
            loss if loss <= 0.15 => Self::Vivid,
            loss if loss <= 0.40 => Self::Softened,
            loss if loss <= 0.65 => Self::Muted,
            _ => Self::Neutralised,
        }
    }
}

impl fmt::Display for Grade {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::Vivid => "vivid",
            Self::Softened => "softened",
            Self::Muted => "muted",
            Self::Neutralised => "neutralised",
        })
    }
}

/// The share of the parents' chroma that a mixture has lost (ours): 1 − C*/C*held, C*held between theirs by how far the
/// mixture's hue lies from each. Negative for a gain; `None` where a parent is near neutral.
#[must_use]
pub fn loss_of_chroma([mix, a, b]: [Lab; 3]) -> Option<f64> {
    let share = hue_share(mix.hue(), a.hue()?, b.hue()?);
    let held = (1.0 - share) * a.chroma() + share * b.chroma();
    Some(1.0 - mix.chroma() / held)
}

/// Against the chroma that the parents hold at the mixture's hue.
pub(super) fn chroma_loss(mix: Uncertain, a: Uncertain, b: Uncertain) -> Outcome {
    let value = loss_of_chroma([mix.lab, a.lab, b.lab]).ok_or(WhyNot::NearNeutral)?;
    Ok(Figure::with(value, propagate_colours([mix, a, b], loss_of_chroma)))
}

/// How far the mixture's hue lies from `a` (0) towards `b` (1); half where it has none.
fn hue_share(mix: Option<Hue>, a: Hue, b: Hue) -> f64 {
    let Some(mix) = mix else { return 0.5 };
    let (from_a, from_b) = (unsigned_distance(mix, a), unsigned_distance(mix, b));
    if from_a + from_b > 0.0 { from_a / (from_a + from_b) } else { 0.5 }
}

/// Against the straight a*b* line between the parents, met at the mixture's hue.
pub(super) fn dulling(mix: Uncertain, a: Uncertain, b: Uncertain) -> Outcome {
    mix.lab.hue().ok_or(WhyNot::NearNeutral)?;
    let figure =
        |[mix, a, b]: [Lab; 3]| Some(1.0 - mix.chroma() / straight_chroma(mix.hue()?, a, b)?);
    let value = figure([mix.lab, a.lab, b.lab]).ok_or(WhyNot::OffTheLine)?;
    Ok(Figure::with(value, propagate_colours([mix, a, b], figure)))
}

/// A straight line that passes through grey this near, as a share of the duller parent's chroma, has no chroma to compare
/// with.
const NEAR_GREY: f64 = 0.25;

/// Chroma at which the ray of `hue` meets the segment from `a` to `b`; `None` where it misses it, or
/// meets it near grey.
fn straight_chroma(hue: Hue, a: Lab, b: Lab) -> Option<f64> {
    let (sin, cos) = hue.degrees().to_radians().sin_cos();
    let across = |x: f64, y: f64| cos * y - sin * x;
    let (run_a, run_b) = (b.a - a.a, b.b - a.b);
    let place = -across(a.a, a.b) / across(run_a, run_b);
    let along = cos * (a.a + place * run_a) + sin * (a.b + place * run_b);
    let least = NEAR_NEUTRAL_CHROMA.max(NEAR_GREY * a.chroma().min(b.chroma()));
    ((0.0..=1.0).contains(&place) && along >= least).then_some(along)
}
