//! What eyes alone have judged of the chosen tubes.

use std::collections::HashSet;

use store::{TrialSummary, TubeId};
use study::{State, TubeRef};

use crate::alone::leans;
use crate::error::WorkshopError;
use crate::eye::judged_strengths;
use crate::workshop::Workshop;

impl Workshop {
    /// The tubes of every trial that eyes judged and nothing read.
    ///
    /// # Errors
    /// When the records cannot be read.
    pub async fn seen_tubes(
        &self,
        trials: &[TrialSummary],
    ) -> Result<HashSet<TubeId>, WorkshopError> {
        let mut seen = HashSet::new();
        let by_eye = |it: &&TrialSummary| it.stamp.log > 0 && it.readings == 0 && !it.put_away;
        for summary in trials.iter().filter(by_eye) {
            let Ok(trial) = self.trial(summary.id).await else { continue };
            seen.extend(trial.tubes.iter().map(|tube| tube.tube.id));
        }
        Ok(seen)
    }

    /// Sentences without a figure that nobody read: strengths and leans that eyes judged in a trial of two or more of
    /// these tubes, the newest trial first.
    pub(super) async fn judged_of(
        &self,
        trials: &[TrialSummary],
        chosen: &[TubeId],
        red_is_warm: bool,
    ) -> Result<Vec<String>, WorkshopError> {
        let mut said = Vec::new();
        for summary in trials.iter().filter(|it| it.stamp.log > 0 && !it.put_away) {
            let Ok(analysed) = self.analysed(summary).await else { continue };
            let is_chosen = |tube: TubeRef| {
                let of_trial = analysed.trial.tubes.get(tube.0);
                of_trial.is_some_and(|it| chosen.contains(&it.tube.id))
            };
            let tubes = (0..analysed.trial.tubes.len()).map(TubeRef);
            let by_eye = summary.readings == 0;
            let depths = analysed.trial.run().map(|run| run.depths()).unwrap_or_default();
            if tubes.filter(|tube| is_chosen(*tube)).count() < 2 || (depths.is_empty() && !by_eye) {
                continue;
            }
            let evidence = self.evidence_for(trials, &analysed.trial, State::Dry).await?;
            let strengths = judged_strengths(&analysed, &evidence.prior);
            let of_both =
                strengths.iter().filter(|it| is_chosen(it.tube) && is_chosen(it.standard));
            said.extend(of_both.filter_map(|it| it.sentence(&analysed)));
            let leans = leans(&analysed, &evidence.prior, red_is_warm);
            let leans = leans.iter().filter(|it| by_eye && !it.typical);
            let of_both = leans.filter(|it| is_chosen(it.tube) && is_chosen(it.standard));
            said.extend(of_both.map(|it| it.sentence(&analysed)));
        }
        Ok(said)
    }
}
