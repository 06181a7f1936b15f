//! Equal-depth strength: the parts of white that bring two tubes to the same depth.
//!
//! Depth is ΔE*ab from the white's own reading. A monotone cubic of depth over ln(parts of white)
//! runs through each tint ladder, mass tone left out, and is never extended beyond its steps.

use colour::{Lab, ciede2000, components, delta_e_ab};
use study::SwatchColour;

use super::{Contest, Method};
use crate::footing::ByDevice;
use crate::interval::{Figure, WhyNot, propagate_in_steps};
use crate::ladder::Step;
use crate::pchip::Pchip;

/// Half-widths of a difference between two tubes of the same pigments in one picture, ΔE00.
const LIKE_AND_LIKE: ByDevice = ByDevice(0.5, 1.5);

/// On which side of its limit a bounded figure lies.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Bound {
    /// At least the limit.
    Above,
    /// At most the limit.
    Below,
}

/// Strength by parts of white to equal depth.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct EqualDepth {
    /// The depth both were brought to: ΔE*ab from the white; `None` for a bound.
    pub depth: Option<f64>,
    /// L* of the standard there.
    pub lightness: Option<f64>,
    /// 100 · white(sample)/white(standard), percent; the limit where there is a bound.
    pub percent: Figure,
    /// Set where the ladders share no depth, so that only a limit is known.
    pub bound: Option<Bound>,
    /// A tint that it rests on was put out by eye.
    pub by_eye: bool,
}

/// Two tubes at the same depth, sample less standard.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct EqualStrengthColour {
    /// CIEDE2000.
    pub delta_e: Figure,
    /// ΔL*.
    pub delta_lightness: Figure,
    /// ΔC*ab: positive is more vivid.
    pub delta_chroma: Figure,
    /// ΔH*ab: positive is turned red → yellow → green → blue.
    pub delta_hue: Figure,
    /// The sample's colour there.
    pub sample: Lab,
    /// The standard's colour there.
    pub standard: Lab,
    /// Some of it was read from pictures.
    pub from_picture: bool,
}

type Both = (EqualDepth, Result<EqualStrengthColour, WhyNot>);

pub(super) fn equal_depth(contest: &Contest<'_>) -> Result<Both, WhyNot> {
    let white = contest.white.ok_or(WhyNot::WhiteUnread)?;
    let sample = falling_tail(contest.sample.tints(), white);
    let standard = falling_tail(contest.standard.tints(), white);
    if sample.len() < 2 || standard.len() < 2 {
        return Err(WhyNot::TintsUnread);
    }
    let deepest = |steps: &[Step]| depth(steps[0].colour.lab, white.lab);
    let palest = |steps: &[Step]| depth(steps[steps.len() - 1].colour.lab, white.lab);
    let shared_low = palest(sample).max(palest(standard));
    let shared_high = deepest(sample).min(deepest(standard));
    if shared_low > shared_high {
        let above = palest(sample) > deepest(standard);
        return Ok((bound(sample, standard, above), Err(WhyNot::NoSharedDepth)));
    }
    let level = f64::midpoint(shared_low, shared_high);
    at_depth(contest, sample, standard, white, level)
}

fn at_depth(
    contest: &Contest<'_>,
    sample: &[Step],
    standard: &[Step],
    white: &SwatchColour,
    level: f64,
) -> Result<Both, WhyNot> {
    let footing = contest.footing(sample.iter().chain(standard).map(|step| &step.colour));
    let pictures = contest.pictures(footing, Method::EqualDepth)?;
    let inputs = Inputs::gather(sample, standard, white, pictures.left);
    let meet = |values: &[f64]| inputs.meet(values, level);
    let met = meet(&inputs.values).ok_or(WhyNot::NoSharedDepth)?;
    let values = if contest.itself { [100.0, 0.0, 0.0, 0.0, 0.0] } else { met.figures() };
    let propagated = |inputs: &Inputs| {
        propagate_in_steps(&inputs.values, &inputs.half_widths, &inputs.steps, |values| {
            Some(meet(values)?.figures())
        })
    };
    let half_widths = if contest.itself { Some([0.0; 5]) } else { propagated(&inputs) };
    let half_width = |at: usize| half_widths.map(|half_widths| half_widths[at]);
    // What a picture gets wrong of two tubes of the same pigments it gets wrong of both alike.
    let alike = contest.same_pigments && footing.in_one;
    let of_colours = match (footing.is_picture() && !contest.itself, alike) {
        (false, _) => half_widths,
        (true, true) => {
            half_widths.map(|it| it.map(|half| half.hypot(footing.half_width(LIKE_AND_LIKE))))
        }
        (true, false) => propagated(&Inputs::gather(sample, standard, white, 1.0)),
    };
    let figure = |at: usize| Figure::with(values[at], of_colours.map(|it| it[at]));
    let percent = Figure::positive(values[0], half_width(0));
    Ok((
        EqualDepth {
            depth: Some(level),
            lightness: Some(met.standard.l),
            percent: if contest.itself { percent } else { pictures.widened(percent) },
            bound: None,
            by_eye: inputs.by_eye && !contest.itself,
        },
        Ok(EqualStrengthColour {
            delta_e: figure(1),
            delta_lightness: figure(2),
            delta_chroma: figure(3),
            delta_hue: figure(4),
            sample: met.sample,
            standard: met.standard,
            from_picture: footing.is_picture(),
        }),
    ))
}

fn depth(lab: Lab, white: Lab) -> f64 {
    delta_e_ab(lab, white).value()
}

/// The steps from the palest back for as long as each is deeper than the one after it.
fn falling_tail<'a>(tints: &'a [Step], white: &SwatchColour) -> &'a [Step] {
    let falls = |pair: &[Step]| {
        depth(pair[0].colour.lab, white.lab) > depth(pair[1].colour.lab, white.lab)
            && pair[0].white_parts < pair[1].white_parts
    };
    let kept = tints.windows(2).rev().take_while(|pair| falls(pair)).count();
    &tints[tints.len() - tints.len().min(kept + 1)..]
}

/// The sample's palest tint is deeper than the standard's deepest, or the other way about.
fn bound(sample: &[Step], standard: &[Step], above: bool) -> EqualDepth {
    let (fewest, most) = (
        |steps: &[Step]| steps[0].white_parts,
        |steps: &[Step]| steps[steps.len() - 1].white_parts,
    );
    let limit =
        if above { most(sample) / fewest(standard) } else { fewest(sample) / most(standard) };
    EqualDepth {
        depth: None,
        lightness: None,
        percent: Figure::limit(100.0 * limit),
        bound: Some(if above { Bound::Above } else { Bound::Below }),
        by_eye: sample.iter().chain(standard).any(|step| step.by_eye),
    }
}

/// Both ladders and the white as one list of uncertain numbers: four a step (ln parts, L*, a*, b*),
/// then the white's three.
struct Inputs {
    values: Vec<f64>,
    half_widths: Vec<f64>,
    /// How far each is moved to see what it does: parts of white never pass their neighbours.
    steps: Vec<f64>,
    sample_steps: usize,
    by_eye: bool,
}

/// The smaller of the distances in ln(parts of white) from a step to its neighbours.
fn least_gap(ladder: &[Step], at: usize) -> f64 {
    let ln = |at: usize| ladder.get(at).map(|step| step.white_parts.ln());
    let gap = |other: Option<f64>| Some((other? - ln(at)?).abs());
    let gaps = [gap(at.checked_sub(1).and_then(ln)), gap(ln(at + 1))];
    gaps.into_iter().flatten().fold(f64::INFINITY, f64::min)
}

/// Where the two ladders reach the same depth.
struct Met {
    ln_ratio: f64,
    sample: Lab,
    standard: Lab,
}

impl Met {
    /// Percent, ΔE00, ΔL*, ΔC* and ΔH*.
    fn figures(&self) -> [f64; 5] {
        let parts = components(self.sample, self.standard);
        [
            100.0 * self.ln_ratio.exp(),
            ciede2000(self.sample, self.standard).value(),
            parts.lightness,
            parts.chroma,
            parts.hue,
        ]
    }
}

impl Inputs {
    /// `left` remains of the readings' half-widths.
    fn gather(sample: &[Step], standard: &[Step], white: &SwatchColour, left: f64) -> Self {
        let (mut values, mut half_widths, mut steps) = (Vec::new(), Vec::new(), Vec::new());
        for ladder in [sample, standard] {
            for (at, step) in ladder.iter().enumerate() {
                values.push(step.white_parts.ln());
                values.extend(step.colour.lab.axes());
                half_widths.push(step.amount_half_width());
                half_widths.extend(step.colour.square_half_width().map(|half| left * half));
                steps.push(step.amount_half_width().min(0.45 * least_gap(ladder, at)));
                steps.extend(step.colour.square_half_width().map(|half| left * half));
            }
        }
        values.extend(white.lab.axes());
        half_widths.extend(white.square_half_width().map(|half| left * half));
        steps.extend(white.square_half_width().map(|half| left * half));
        let by_eye = sample.iter().chain(standard).any(|step| step.by_eye);
        Self { values, half_widths, steps, sample_steps: sample.len(), by_eye }
    }

    fn meet(&self, values: &[f64], level: f64) -> Option<Met> {
        let (steps, white) = values.split_at(values.len() - 3);
        let white = Lab::new(white[0], white[1], white[2]);
        let (sample, standard) = steps.split_at(self.sample_steps * 4);
        let (sample_ln, sample) = reach(sample, white, level)?;
        let (standard_ln, standard) = reach(standard, white, level)?;
        Some(Met { ln_ratio: sample_ln - standard_ln, sample, standard })
    }
}

/// ln(parts of white) at which a ladder has the depth `level`, and its colour there.
fn reach(steps: &[f64], white: Lab, level: f64) -> Option<(f64, Lab)> {
    let column = |at: usize| steps.iter().skip(at).step_by(4).copied().collect::<Vec<f64>>();
    let (x, l, a, b) = (column(0), column(1), column(2), column(3));
    let depths =
        (0..x.len()).map(|at| depth(Lab::new(l[at], a[at], b[at]), white)).collect::<Vec<f64>>();
    let at = Pchip::through(x.clone(), depths)?.solve_falling(level)?;
    let axis = |values: Vec<f64>| Some(Pchip::through(x.clone(), values)?.at(at));
    Some((at, Lab::new(axis(l)?, axis(a)?, axis(b)?)))
}
