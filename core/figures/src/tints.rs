//! Hue shift and chroma loss of a tube as it is let down with white.

use colour::{Lab, signed_shift};
use study::{SwatchColour, Uncertain, Warning};

use crate::footing::{Footing, own_part};
use crate::interval::{Figure, Outcome, WhyNot, propagate_colours};
use crate::ladder::Ladder;

/// Below this chroma a tint is too pale to lend its hue to the tint shift.
const PALEST_CHROMA: f64 = 5.0;

/// Half-widths of what is told of tints in a picture without squares of known colour: degrees, and a fraction.
const HUE_UNCALIBRATED: f64 = 15.0;
const LOSS_UNCALIBRATED: f64 = 0.25;

/// One step of a tube's tint ladder with its figures.
#[derive(Debug, Clone, PartialEq)]
pub struct TintFigures {
    /// Parts of white to one part of the tube; 0 is the mass tone.
    pub white_parts: f64,
    /// Its colour.
    pub colour: SwatchColour,
    /// Angle from the truest tint's hue, degrees; positive runs red → yellow → green → blue.
    pub hue_shift: Outcome,
    /// The same angle in OKLCh, degrees, where the truest tint is a blue (h 230–320°): there CIELAB
    /// bends. `None` elsewhere.
    pub oklch_shift: Option<f64>,
    /// 1 − C*/C*(truest tint), as a fraction.
    pub chroma_loss: Outcome,
    /// Its parts were put out by eye, so its intervals take the usual error of the eye.
    pub by_eye: bool,
    /// Its ratio was estimated from its colour.
    pub estimated: bool,
}

/// Figures of every step against the truest tint, the step of highest chroma.
pub(super) fn tint_figures(ladder: &Ladder) -> Vec<TintFigures> {
    let Some(truest) = ladder.truest() else { return Vec::new() };
    let reference = &ladder.steps[truest];
    ladder
        .steps
        .iter()
        .enumerate()
        .map(|(at, step)| {
            let itself = at == truest;
            let footing = Footing::of([&reference.colour, &step.colour]);
            let left = footing.left_of_one_tube();
            let [from, to] = [reference, step].map(|step| own_part(step.uncertain(), left));
            let told = |figure: Outcome, uncalibrated| {
                if itself { figure } else { footing.of_one_tube(figure, uncalibrated) }
            };
            TintFigures {
                white_parts: step.white_parts,
                colour: step.colour.clone(),
                hue_shift: told(hue_shift(from, to, itself), HUE_UNCALIBRATED),
                oklch_shift: oklch_shift(&ladder.steps[truest].colour, &step.colour),
                chroma_loss: told(chroma_loss(from, to, itself), LOSS_UNCALIBRATED),
                by_eye: step.by_eye,
                estimated: step.estimated,
            }
        })
        .collect()
}

/// Hues whose CIELAB angle is not to be trusted alone.
const BENT_BLUES: std::ops::RangeInclusive<f64> = 230.0..=320.0;

fn oklch_shift(truest: &SwatchColour, step: &SwatchColour) -> Option<f64> {
    let blue = truest.lab.hue().is_some_and(|hue| BENT_BLUES.contains(&hue.degrees()));
    let (from, to) = (truest.oklch_hue()?, step.oklch_hue()?);
    blue.then(|| signed_shift(from, to))
}

/// From the mass tone to the palest tint with C* of 5 or more.
pub(super) fn tint_shift(ladder: &Ladder) -> Outcome {
    let mass_tone = ladder.mass_tone().ok_or(WhyNot::MassToneUnread)?;
    let palest =
        ladder.tints().iter().rev().find(|step| step.colour.lab.chroma() >= PALEST_CHROMA).ok_or(
            if ladder.tints().is_empty() { WhyNot::TintsUnread } else { WhyNot::NearNeutral },
        )?;
    of_one_tube(mass_tone.uncertain(), &mass_tone.colour, (palest.uncertain(), &palest.colour))
}

/// From the mass tone to the same paint as a thin film.
pub(super) fn undertone_shift(ladder: &Ladder, thin: Option<&SwatchColour>) -> Outcome {
    let mass_tone = ladder.mass_tone().ok_or(WhyNot::MassToneUnread)?;
    let thin = thin.ok_or(WhyNot::ThinFilmUnread)?;
    of_one_tube(mass_tone.uncertain(), &mass_tone.colour, (thin.uncertain([0.0; 3]), thin))
}

/// A hue shift between two colours of one tube.
fn of_one_tube(
    from: Uncertain,
    of: &SwatchColour,
    (to, other): (Uncertain, &SwatchColour),
) -> Outcome {
    let footing = Footing::of([of, other]);
    let left = footing.left_of_one_tube();
    footing
        .of_one_tube(hue_shift(own_part(from, left), own_part(to, left), false), HUE_UNCALIBRATED)
}

/// A ladder whose first tint is the truest may start too pale.
pub(super) fn starts_too_pale(name: &str, ladder: &Ladder) -> Option<Warning> {
    let first = ladder.tints().first()?;
    let truest = &ladder.steps[ladder.truest()?];
    (truest.white_parts > 0.0 && truest.white_parts <= first.white_parts).then(|| Warning {
        line: first.colour.line,
        message: format!(
            "{name}: its ladder starts too pale; the first tint is the truest, so a tint of 1:0.5 \
             may be truer still"
        ),
    })
}

/// The angle between two hues with its interval.
pub(super) fn hue_shift(from: Uncertain, to: Uncertain, itself: bool) -> Outcome {
    let figure = |[from, to]: [Lab; 2]| Some(signed_shift(from.hue()?, to.hue()?));
    let value = figure([from.lab, to.lab]).ok_or(WhyNot::NearNeutral)?;
    if itself {
        return Ok(Figure::exact(0.0));
    }
    Ok(Figure::with(value, propagate_colours([from, to], figure)))
}

fn chroma_loss(truest: Uncertain, step: Uncertain, itself: bool) -> Outcome {
    truest.lab.hue().ok_or(WhyNot::NearNeutral)?;
    if itself {
        return Ok(Figure::exact(0.0));
    }
    let figure = |[truest, step]: [Lab; 2]| Some(1.0 - step.chroma() / truest.chroma());
    let value = 1.0 - step.lab.chroma() / truest.lab.chroma();
    Ok(Figure::with(value, propagate_colours([truest, step], figure)))
}
