//! How fast this user works, learnt from when swatches were laid.

use crate::agenda::Laying;
use crate::run::Run;

/// A gap of more than this many times the planned minutes, or of twenty minutes, was a break.
const BREAK_TIMES: f64 = 5.0;
/// Likewise, in minutes.
const BREAK_MINUTES: f64 = 20.0;
/// Nobody works in less than this share of the planned minutes: such swatches were entered afterwards, or by
/// the simulated bench.
const FASTEST: f64 = 0.1;
/// Fewer swatches than this say nothing of a pace.
const FEWEST: usize = 5;

/// What swatches took, and what they should have taken.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct PaceEvidence {
    /// In the usual minutes.
    pub planned: f64,
    /// Really, in minutes.
    pub real: f64,
    /// How many swatches.
    pub swatches: usize,
}

impl PaceEvidence {
    /// Together with that of another run.
    #[must_use]
    pub fn and(self, other: Self) -> Self {
        Self {
            planned: self.planned + other.planned,
            real: self.real + other.real,
            swatches: self.swatches + other.swatches,
        }
    }

    /// How many times the usual minutes this user takes, 0.2 to 5; `None` where too little is
    /// known.
    #[must_use]
    pub fn factor(&self) -> Option<f64> {
        (self.swatches >= FEWEST && self.planned > 0.0)
            .then(|| (self.real / self.planned).clamp(0.2, 5.0))
    }
}

impl Run {
    /// What this run tells of the user's pace: the time from one swatch to the next, breaks left
    /// out.
    #[must_use]
    pub fn pace(&self) -> PaceEvidence {
        let mut laying = Laying::new(self, vec![false; self.plan.steps.len()]);
        let minutes: Vec<f64> =
            self.lays.iter().map(|(swatch, _)| laying.minutes(self.piles.step(*swatch))).collect();
        let mut evidence = PaceEvidence::default();
        let usual = self.design.pace.learned;
        for (pair, planned) in self.lays.windows(2).zip(minutes.iter().skip(1)) {
            let real = pair[1].1.minutes_since(pair[0].1);
            let at_work = real >= FASTEST * planned
                && real > 0.0
                && real <= BREAK_MINUTES.min(BREAK_TIMES * planned);
            if at_work {
                evidence =
                    evidence.and(PaceEvidence { planned: planned / usual, real, swatches: 1 });
            }
        }
        evidence
    }
}
