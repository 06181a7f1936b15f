//! Trials with everything worked out, kept from request to request: what changed is read and worked out
//! anew, and the rest stays.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, OnceLock};

use bench::PaceEvidence;
use colour::Hue;
use figures::finding::{Finding, findings};
use figures::{Analysis, TubeFigures, analyse_averages};
use plan::prior::{Prior, learn_averages};
use store::{Stamp, StoreError, Trial, TrialId, TrialSummary, TubeId};
use study::{Averages, State, Study, SwatchColour, TubeRef};

use crate::error::PageError;
use crate::state::{AppState, lock};

/// A trial, its figures and its findings.
#[derive(Debug)]
pub(crate) struct AnalysedTrial {
    pub trial: Arc<Trial>,
    /// Without its readings: their averages stand beside it.
    pub study: Study,
    pub analysis: Analysis,
    pub findings: Vec<Finding>,
    averages: Averages,
    prior: OnceLock<Prior>,
    wet_prior: OnceLock<Prior>,
    pace: OnceLock<PaceEvidence>,
}

impl AnalysedTrial {
    /// `before` is what was worked out of the same trial last.
    fn of(trial: Arc<Trial>, standard: Option<TubeRef>, before: Option<&Self>) -> Self {
        let study = trial.circumstances_as_study();
        let same = before.filter(|it| it.trial.stamp.revision == trial.stamp.revision);
        let readings = trial.readings.iter().map(|stored| &stored.reading);
        let averages = Averages::again(&study, readings, same.map(|it| &it.averages));
        let analysis = analyse_averages(&study, &averages, standard);
        let findings = findings(&study, &analysis);
        Self {
            trial,
            study,
            analysis,
            findings,
            averages,
            prior: OnceLock::new(),
            wet_prior: OnceLock::new(),
            pace: OnceLock::new(),
        }
    }

    /// What it tells of its tubes, wet or dry, worked out when it is first asked.
    pub fn prior(&self, state: State) -> &Prior {
        let (kept, state) = match state {
            State::Wet => (&self.wet_prior, State::Wet),
            State::Dry | State::Lifted => (&self.prior, State::Dry),
        };
        kept.get_or_init(|| learn_averages(&self.study, &self.averages, state))
    }

    /// What it tells of the user's pace, worked out when it is first asked.
    pub fn pace(&self) -> PaceEvidence {
        *self.pace.get_or_init(|| self.trial.run().map(|run| run.pace()).unwrap_or_default())
    }

    pub fn tube(&self, tube: TubeRef) -> Option<&TubeFigures> {
        self.analysis.tubes.iter().find(|figures| figures.tube == tube)
    }
}

/// What has been read and worked out already.
#[derive(Debug, Default)]
pub(crate) struct AnalysedTrials {
    trials: Mutex<HashMap<TrialId, Arc<Trial>>>,
    judged: Mutex<HashMap<TrialId, Arc<AnalysedTrial>>>,
    /// Trials that could not be worked out, as they stood then.
    failed: Mutex<HashMap<TrialId, Stamp>>,
}

impl AppState {
    /// A whole trial; what was read of it before is not read again.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where there is none of this number.
    pub async fn trial(&self, id: TrialId) -> Result<Arc<Trial>, StoreError> {
        let known = lock(&self.judgements.trials).get(&id).cloned();
        let now = match &known {
            Some(known) => self.store.trial_since(known).await?,
            None => Some(self.store.trial(id).await?),
        };
        match (now, known) {
            (None, Some(known)) => Ok(known),
            (now, _) => {
                let now = Arc::new(now.ok_or(StoreError::NotFound("trial"))?);
                lock(&self.judgements.trials).insert(id, Arc::clone(&now));
                Ok(now)
            }
        }
    }

    /// The trial with its figures, worked out anew only as far as something changed.
    pub(crate) async fn judged(
        &self,
        summary: &TrialSummary,
    ) -> Result<Arc<AnalysedTrial>, PageError> {
        let known = lock(&self.judgements.judged).get(&summary.id).cloned();
        if let Some(known) = known.as_ref().filter(|it| it.trial.stamp == summary.stamp) {
            return Ok(Arc::clone(known));
        }
        let trial = self.trial(summary.id).await?;
        let (id, stamp) = (trial.id, trial.stamp);
        // The list was older than what is known.
        if let Some(known) = known.as_ref().filter(|it| it.trial.stamp == stamp) {
            return Ok(Arc::clone(known));
        }
        if lock(&self.judgements.failed).get(&id) == Some(&stamp) {
            return Err(PageError::NotJudged);
        }
        let judged = off_the_thread(move || AnalysedTrial::of(trial, None, known.as_deref())).await;
        match &judged {
            Ok(judged) => {
                lock(&self.judgements.judged).insert(id, Arc::clone(judged));
            }
            Err(_) => {
                lock(&self.judgements.failed).insert(id, stamp);
            }
        }
        judged
    }

    /// The trial with strengths against a standard of the user's choice; not kept.
    pub(crate) async fn judged_against(
        &self,
        summary: &TrialSummary,
        standard: TubeId,
    ) -> Result<Arc<AnalysedTrial>, PageError> {
        let before = self.judged(summary).await?;
        let trial = self.trial(summary.id).await?;
        let place = trial.tubes.iter().position(|tube| tube.tube.id == standard).map(TubeRef);
        let standard = place.ok_or(StoreError::NotFound("tube"))?;
        off_the_thread(move || AnalysedTrial::of(trial, Some(standard), Some(&before))).await
    }

    /// Every trial that tells something, the newest first. One that is put away is left out, and one
    /// that cannot be read or worked out is told on its own pages, and is not in the way of the others.
    pub(crate) async fn telling(
        &self,
        trials: &[TrialSummary],
    ) -> Result<Vec<Arc<AnalysedTrial>>, PageError> {
        let mut telling = Vec::new();
        for summary in trials.iter().filter(|it| it.readings > 0 && !it.put_away) {
            match self.judged(summary).await {
                Ok(judged) => telling.push(judged),
                Err(PageError::NotJudged | PageError::Store(StoreError::Corrupt { .. })) => {}
                Err(error) => return Err(error),
            }
        }
        Ok(telling)
    }

    /// What is known of each tube's colour, from its newest trial.
    pub(crate) async fn known_colours(
        &self,
        trials: &[TrialSummary],
    ) -> Result<HashMap<TubeId, KnownColour>, PageError> {
        let mut known = HashMap::new();
        for judged in self.telling(trials).await? {
            for (at, tube) in judged.trial.tubes.iter().enumerate() {
                if let Some(colour) = KnownColour::in_trial(&judged, TubeRef(at)) {
                    known.entry(tube.tube.id).or_insert(colour);
                }
            }
        }
        Ok(known)
    }
}

/// Works something out beside the requests. Where it fails, only what it was asked for fails.
pub(crate) async fn off_the_thread<T: Send + Sync + 'static>(
    work: impl FnOnce() -> T + Send + 'static,
) -> Result<Arc<T>, PageError> {
    let done = tokio::task::spawn_blocking(move || Arc::new(work())).await;
    done.map_err(|error| {
        tracing::error!(%error, "a trial could not be worked out");
        PageError::NotJudged
    })
}

/// A tube's mass tone and truest tint, as far as they were read.
#[derive(Debug, Clone)]
pub(crate) struct KnownColour {
    pub mass_tone: Option<SwatchColour>,
    /// Parts of white and colour.
    pub truest: Option<(f64, SwatchColour)>,
    pub conditions: colour::Conditions,
}

impl KnownColour {
    /// Hue of the truest tint, else of the mass tone.
    pub fn hue(&self) -> Option<Hue> {
        let truest = self.truest.as_ref().map(|(_, colour)| colour);
        truest.or(self.mass_tone.as_ref())?.lab.hue()
    }

    fn in_trial(judged: &AnalysedTrial, tube: TubeRef) -> Option<Self> {
        let conditions = judged.analysis.conditions;
        if let Some(white) = judged.analysis.white.as_ref().filter(|white| white.tube == tube) {
            let mass_tone = Some(white.mass_tone.clone()?);
            return Some(Self { mass_tone, truest: None, conditions });
        }
        let figures = judged.tube(tube)?;
        let truest = figures.truest_tint()?;
        Some(Self {
            mass_tone: figures.mass_tone().cloned(),
            truest: Some((truest.white_parts, truest.colour.clone())),
            conditions,
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[tokio::test]
    async fn what_cannot_be_worked_out_fails_alone() {
        let failed = off_the_thread(|| -> u8 { unreachable!("as a figure may") }).await;
        assert!(matches!(failed, Err(PageError::NotJudged)));
        assert_eq!(off_the_thread(|| 7).await.ok().as_deref(), Some(&7));
    }
}
