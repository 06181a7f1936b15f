//! Which white: the unit that K, S and strengths of other tubes are told in.

use std::sync::Arc;

use store::{ShelfTube, TubeId};

use crate::analysed::AnalysedTrial;

/// That of a trial.
pub(crate) fn of_trial(analysed: &AnalysedTrial) -> Option<&ShelfTube> {
    analysed.trial.white().map(|at| &analysed.trial.tubes[at.0].tube)
}

/// That of the newest trial that holds one of these tubes and a white.
pub(crate) fn of_newest(
    telling: &[Arc<AnalysedTrial>],
    is_wanted: impl Fn(TubeId) -> bool,
) -> Option<TubeId> {
    let holds =
        |it: &&Arc<AnalysedTrial>| it.trial.tubes.iter().any(|tube| is_wanted(tube.tube.id));
    telling.iter().filter(holds).find_map(|it| of_trial(it)).map(|it| it.id)
}

/// The one that most trials were made with, the newest of several; where there is no trial, the shelf's first white.
pub(super) fn usual(telling: &[Arc<AnalysedTrial>], shelf: &[ShelfTube]) -> Option<ShelfTube> {
    let whites: Vec<&ShelfTube> = telling.iter().filter_map(|it| of_trial(it)).collect();
    let times = |white: &ShelfTube| whites.iter().filter(|it| it.id == white.id).count();
    // Of equals the last one counts, so the newest comes last.
    let most = whites.iter().rev().max_by_key(|white| times(white)).copied();
    most.or_else(|| shelf.iter().find(|it| it.tube.is_white())).cloned()
}
