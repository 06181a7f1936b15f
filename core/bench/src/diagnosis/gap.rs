//! A step of a ladder that turned out too large, while the paint is still on the palette.

use colour::{Lab, ciede2000};
use plan::Ladder;
use plan::prior::Prior;
use plan::steps::{anchored, even};
use study::TubeRef;

/// A step this many times the middling one jumps.
const JUMPS: f64 = 1.75;
/// A step below this, ΔE00, never does.
const LEAST: f64 = 4.0;

/// A step that jumps, and what would halve it.
#[derive(Debug, Clone, PartialEq)]
pub struct Gap {
    /// Shares of the second tube at both ends of the step, 0–1.
    pub between: (f64, f64),
    /// ΔE00 of the step as it was read.
    pub step: f64,
    /// ΔE00 of the ladder's middling step.
    pub usual: f64,
    /// The share that would lie midway; `None` where it cannot be predicted.
    pub extra: Option<f64>,
}

/// The largest step of a ladder that is too large. `read` holds the shares that were read, ends
/// included, with their colours, rising; steps over a share that was not read yet do not count.
#[must_use]
pub fn gap(prior: &Prior, ladder: &Ladder, read: &[(f64, Lab)]) -> Option<Gap> {
    let planned: Vec<f64> =
        [0.0].into_iter().chain(ladder.shares.iter().copied()).chain([1.0]).collect();
    let at = |share: f64| {
        let found = read.iter().find(|(known, _)| (known - share).abs() < 1e-6);
        found.map(|(_, lab)| *lab)
    };
    let steps: Vec<(f64, f64, f64)> = planned
        .windows(2)
        .filter_map(|pair| Some((pair[0], pair[1], ciede2000(at(pair[0])?, at(pair[1])?).value())))
        .collect();
    // Two steps say nothing of what is usual.
    if steps.len() < 3 {
        return None;
    }
    let mut sizes: Vec<f64> = steps.iter().map(|(.., size)| *size).collect();
    sizes.sort_by(f64::total_cmp);
    let usual = sizes[(sizes.len() - 1) / 2];
    let (from, to, step) = steps.into_iter().max_by(|one, other| one.2.total_cmp(&other.2))?;
    if step < LEAST || step < JUMPS * usual {
        return None;
    }
    let known = |tube: TubeRef| prior.known(tube).is_some_and(|known| known.constants.is_some());
    let ends = at(from).zip(at(to)).filter(|_| known(ladder.from) && known(ladder.to));
    let extra = ends.and_then(|(first, second)| {
        let colour = |way: f64| {
            let mixture = ladder.mixture(from + way * (to - from));
            prior.colour(&mixture).unwrap_or(first)
        };
        let way = even(1, anchored(colour, first, second)).ok()?;
        Some(from + way.first()? * (to - from))
    });
    Some(Gap { between: (from, to), step, usual, extra })
}
