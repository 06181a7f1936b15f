//! Whether a colour is what the plan expects, and what else it may be.
//!
//! Each cause predicts a colour; how far the one that was read lies from it, against how far it
//! usually lies, weighs the cause. A cause that can be bent to fit (a ratio, a trace) pays for its
//! freedom (Occam's factor: the width that fits over the width that was possible beforehand). The
//! weights beforehand are ours.

use colour::{Lab, ciede2000};
use plan::prior::Prior;
use plan::{CellNumber, Naming};
use study::{Mixture, Part, TubeRef};

use super::estimate::estimate;
use super::seen::{ReadColour, model_miss};

/// Of a hundred mixtures so many are what they should be; of the rest, so many have another ratio,
/// hold a trace of what was mixed before, lie in another's cell, or are something else.
const BEFOREHAND: [f64; 5] = [90.0, 4.5, 3.0, 1.5, 1.0];
/// Something else may be any of the colours that paint can have: the room they take in ΔE, cubed.
const ANY_COLOUR: f64 = 60.0 * 60.0 * 60.0;
/// A trace of another mixture is at most this share.
const MOST_TRACE: f64 = 0.08;
/// Shares of a trace that are tried.
const TRACES: usize = 33;
/// ln of a wrong ratio lies within this either way of the planned one.
const RATIO_ROOM: f64 = 1.5;
/// What is no visible difference is no mistake, whatever the weights say.
const NO_MATTER: f64 = 1.0;

/// What was planned for a swatch, and what else is near it.
#[derive(Debug, Clone, Copy)]
pub struct Context<'a> {
    /// What should be there.
    pub planned: &'a Mixture,
    /// One standard deviation of ln of its ratio as it was measured out.
    pub ratio_error: f64,
    /// What was mixed just before.
    pub before: Option<&'a Mixture>,
    /// Other swatches that are painted about now, by number.
    pub others: &'a [(CellNumber, &'a Mixture)],
    /// The white.
    pub white: Option<TubeRef>,
}

/// What a colour turns out to be.
#[derive(Debug, Clone, PartialEq)]
pub struct Diagnosis {
    /// ΔE00 from what was predicted.
    pub off: f64,
    /// 19 of 20 such mixtures lie nearer to their prediction, ΔE00.
    pub usual: f64,
    /// The most likely cause.
    pub cause: Cause,
    /// How sure that is, 0–1.
    pub sure: f64,
}

/// Why a colour is as it is.
#[derive(Debug, Clone, PartialEq)]
pub enum Cause {
    /// As expected.
    AsPlanned,
    /// The same tubes at another ratio.
    OtherRatio(Mixture),
    /// A trace of what was mixed before, as a share of the whole.
    Trace(f64),
    /// The colour of another swatch: the cells may have been swapped.
    Swapped(CellNumber),
    /// None of these.
    SomethingElse,
}

impl Diagnosis {
    /// One plain sentence.
    #[must_use]
    pub fn sentence(&self, naming: &Naming) -> String {
        let off = format!("ΔE {:.1}", self.off);
        let wrong = format!("Not what this mixture should be ({off}): most likely");
        // Causes that nobody thought of are never ruled out.
        let sure = match self.sure {
            sure if sure > 0.99 => "over 99 % sure".to_owned(),
            sure => format!("{:.0} % sure", 100.0 * sure),
        };
        match &self.cause {
            Cause::AsPlanned if self.off <= self.usual => {
                format!("As expected: {off} from the prediction.")
            }
            Cause::AsPlanned => format!(
                "Farther from the prediction than usual ({off}, usually within {:.1}), but nothing \
                 else is likelier: read it again.",
                self.usual
            ),
            Cause::OtherRatio(mixture) => {
                let label = naming.pile(mixture).ratio;
                format!("{wrong} another ratio, about {label} ({sure}).")
            }
            Cause::Trace(share) => format!(
                "{wrong} an unclean knife, about {:.0} % of what was mixed before ({sure}).",
                100.0 * share
            ),
            Cause::SomethingElse => format!(
                "Not what this mixture should be ({off}), and no other ratio, trace or swapped cell \
                 explains it: perhaps another tube, or the wrong square ({sure})."
            ),
            Cause::Swapped(number) => {
                format!("{wrong} the colour of cell {number}: were the two swapped? ({sure})")
            }
        }
    }
}

/// Looks at a colour; `None` where it cannot be predicted.
#[must_use]
pub fn diagnose(prior: &Prior, at: &Context<'_>, seen: ReadColour) -> Option<Diagnosis> {
    let expected = prior.colour(at.planned)?;
    let off = ciede2000(expected, seen.lab).value();
    let room = Room::of(prior, at, seen)?;
    let mut causes = vec![(Cause::AsPlanned, BEFOREHAND[0] * room.likely(off, room.ratio))];
    if off > NO_MATTER {
        causes.extend(room.other_ratio(prior, at, seen));
        causes.extend(room.trace(prior, at, seen));
        causes.extend(room.swapped(prior, at, seen));
        causes.push((Cause::SomethingElse, BEFOREHAND[4] / ANY_COLOUR));
    }
    let total: f64 = causes.iter().map(|(_, weight)| weight).sum();
    let (cause, weight) = causes.into_iter().max_by(|one, other| one.1.total_cmp(&other.1))?;
    let usual = NO_MATTER.max(colour::NORMAL_95 * room.miss.hypot(room.ratio));
    Some(Diagnosis { off, usual, cause, sure: if total > 0.0 { weight / total } else { 0.0 } })
}

/// How far colours usually lie from where they should.
struct Room {
    /// One σ of reading and model, ΔE.
    miss: f64,
    /// One σ of what the ratio's own error makes, ΔE.
    ratio: f64,
}

impl Room {
    fn of(prior: &Prior, at: &Context<'_>, seen: ReadColour) -> Option<Self> {
        let with_white = at.white.is_some_and(|white| at.planned.parts_of(white) > 0.0);
        let miss = model_miss(prior, at.planned, with_white)?.hypot(seen.spread);
        let expected = prior.colour(at.planned)?;
        let bent = bent(at.planned, at.ratio_error);
        let ratio = bent.and_then(|mixture| prior.colour(&mixture));
        Some(Self { miss, ratio: ratio.map_or(0.0, |lab| ciede2000(expected, lab).value()) })
    }

    /// The density of a colour at this distance, with some more σ beside the usual, per ΔE cubed.
    fn likely(&self, off: f64, more: f64) -> f64 {
        let miss = self.miss.hypot(more);
        DENSITY * (1.0 + (off / miss).powi(2) / TAIL).powf(-(TAIL + 3.0) / 2.0) / miss.powi(3)
    }

    fn other_ratio(
        &self,
        prior: &Prior,
        at: &Context<'_>,
        seen: ReadColour,
    ) -> Option<(Cause, f64)> {
        let tubes: Vec<TubeRef> = at.planned.parts().iter().map(|part| part.tube).collect();
        let found = estimate(prior, &tubes, at.white, seen)?;
        let freedom: f64 = found.parts[1..]
            .iter()
            .map(|part| (part.ln_half_width / RATIO_ROOM).min(1.0))
            .product();
        let weight = BEFOREHAND[1] * freedom * self.likely(found.off, 0.0);
        Some((Cause::OtherRatio(readable(&found.mixture(), at.white)), weight))
    }

    fn trace(&self, prior: &Prior, at: &Context<'_>, seen: ReadColour) -> Option<(Cause, f64)> {
        let before = at.before?;
        let step = MOST_TRACE / (TRACES - 1) as f64;
        let (mut best, mut mean) = ((0.0, 0.0), 0.0);
        for share in (1..TRACES).map(|at| at as f64 * step) {
            let spoilt = spoilt(at.planned, before, share);
            let off = ciede2000(prior.colour(&spoilt)?, seen.lab).value();
            let likely = self.likely(off, self.ratio);
            mean += likely / (TRACES - 1) as f64;
            if likely > best.1 {
                best = (share, likely);
            }
        }
        Some((Cause::Trace(best.0), BEFOREHAND[2] * mean))
    }

    fn swapped(&self, prior: &Prior, at: &Context<'_>, seen: ReadColour) -> Option<(Cause, f64)> {
        let likely = |(number, mixture): &(CellNumber, &Mixture)| {
            let colour: Lab = prior.colour(mixture)?;
            let off = ciede2000(colour, seen.lab).value();
            Some((*number, self.likely(off, self.ratio)))
        };
        let all: Vec<(CellNumber, f64)> = at.others.iter().filter_map(likely).collect();
        let (number, best) = all.iter().copied().max_by(|one, other| one.1.total_cmp(&other.1))?;
        Some((Cause::Swapped(number), BEFOREHAND[3] * best / all.len() as f64))
    }
}

/// The same ratio with the scarcest colour as one part, to two figures.
fn readable(mixture: &Mixture, white: Option<TubeRef>) -> Mixture {
    let least = mixture.colours(white).map(|part| part.parts).fold(f64::INFINITY, f64::min);
    let colour: f64 = mixture.colours(white).map(|part| part.parts).sum();
    let two_figures = |parts: f64| {
        let unit = 10.0_f64.powf(parts.log10().floor() - 1.0);
        (parts / unit).round() * unit
    };
    let round = |part: &Part| {
        let of_white = Some(part.tube) == white;
        // White is told in parts to one part of all colours together.
        let one = if of_white { colour } else { least };
        (of_white, Part { tube: part.tube, parts: two_figures(part.parts / one) })
    };
    let rounded: Vec<(bool, Part)> = mixture.parts().iter().map(round).collect();
    let colours: f64 = rounded.iter().filter(|(white, _)| !white).map(|(_, it)| it.parts).sum();
    let scaled = |(of_white, part): (bool, Part)| {
        if of_white { Part { parts: part.parts * colours, ..part } } else { part }
    };
    Mixture::new(rounded.into_iter().map(scaled))
}

/// Degrees of freedom of a miss on three axes (Student's t): its tail is heavier than a normal's,
/// since models are sometimes wrong.
const TAIL: f64 = 20.0;
/// What makes that density's sum 1: Γ(11.5)/(Γ(10)·(20π)^1.5).
const DENSITY: f64 = 0.0658;

/// The mixture with its largest part changed by so much in ln; `None` for one tube alone.
fn bent(mixture: &Mixture, by: f64) -> Option<Mixture> {
    let [_, _, ..] = mixture.parts() else { return None };
    let parts = mixture.parts();
    let largest = parts.iter().max_by(|a, b| a.parts.total_cmp(&b.parts))?.tube;
    Some(Mixture::new(parts.iter().map(|part| {
        let parts = if part.tube == largest { part.parts * by.exp() } else { part.parts };
        Part { parts, ..*part }
    })))
}

/// A mixture with a share of another in it.
fn spoilt(mixture: &Mixture, by: &Mixture, share: f64) -> Mixture {
    let scaled = |mixture: &Mixture, share: f64| -> Vec<Part> {
        let total = mixture.total();
        mixture
            .parts()
            .iter()
            .map(|part| Part { parts: share * part.parts / total, ..*part })
            .collect()
    };
    Mixture::new(scaled(mixture, 1.0 - share).into_iter().chain(scaled(by, share)))
}
