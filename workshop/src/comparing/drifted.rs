//! A tube that was read in more than one trial: what became of its colours.

use std::sync::Arc;

use compare::{Apart, Drifted, drift};
use store::{ShelfTube, TrialId};

use super::gathered::{Gathered, counted};
use crate::analysed::AnalysedTrial;

/// A tube in its oldest and in its newest trial.
#[derive(Debug)]
pub struct TubeDrift {
    /// Its place among the chosen tubes.
    pub tube: usize,
    /// The older trial and the newer one.
    pub trials: [(TrialId, String); 2],
    /// Every square that was read in both, or why they cannot be compared.
    pub found: Result<Vec<Drifted>, Apart>,
}

/// Every chosen tube that was read in two trials or more; `telling` are the trials, the newest first.
pub(super) fn all(tubes: &[ShelfTube], telling: &[Arc<AnalysedTrial>]) -> Vec<TubeDrift> {
    let of = |(at, tube): (usize, &ShelfTube)| {
        let mut read = telling.iter().filter(|analysed| counted(analysed, tube.id) > 0);
        let newest = read.next()?;
        let oldest = read.next_back()?;
        let [before, later] = [oldest, newest].map(Gathered::one);
        let found = drift(&before.subject(tube.id)?, &later.subject(tube.id)?);
        let name = |it: &AnalysedTrial| (it.trial.id, it.trial.name.clone());
        Some(TubeDrift {
            tube: at,
            trials: [name(oldest), name(newest)],
            found: found.map(|(squares, _)| squares),
        })
    };
    let drifts = tubes.iter().enumerate().filter_map(of);
    // Two trials that never painted the same tell nothing, and need no line.
    drifts.filter(|it| it.found != Err(Apart::NothingShared(0))).collect()
}
