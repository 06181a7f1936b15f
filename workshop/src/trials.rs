//! Trials, read and worked out: what changed is read and worked out anew, and the rest stays.

use std::collections::HashMap;
use std::sync::Arc;

use store::{StoreError, TrialId, TrialSummary, TubeId};
use study::{Basis, TubeRef};

use crate::analysed::{AnalysedTrial, KnownColour};
use crate::background::off_the_thread;
use crate::cache::Cache;
use crate::error::WorkshopError;
use crate::open_trial::OpenTrial;
use crate::workshop::Workshop;

/// So many of the newest runs tell of the user's pace.
const NEWEST: usize = 20;

impl Workshop {
    /// A whole trial; what was read of it before is not read again.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where there is none of this number.
    pub async fn trial(&self, id: TrialId) -> Result<Arc<OpenTrial>, WorkshopError> {
        let known = self.kept::<Cache>().open.get(id);
        let now = match &known {
            Some(known) => self.store.trial_since(known).await?,
            None => Some(self.store.trial(id).await?),
        };
        match (now, known) {
            (None, Some(known)) => Ok(known),
            (now, _) => {
                let now = now.ok_or(StoreError::NotFound("trial"))?;
                let open = Arc::new(off_the_thread(move || OpenTrial::of(now)).await?);
                self.kept::<Cache>().open.put(id, Arc::clone(&open));
                Ok(open)
            }
        }
    }

    /// A trial as a list has it: one that stands as it did when it was read is not asked for again.
    ///
    /// # Errors
    /// As [`Workshop::trial`].
    pub async fn listed(&self, summary: &TrialSummary) -> Result<Arc<OpenTrial>, WorkshopError> {
        match self.kept::<Cache>().open.get(summary.id) {
            Some(known) if known.stamp == summary.stamp => Ok(known),
            _ => self.trial(summary.id).await,
        }
    }

    /// The trial with its figures, worked out anew only as far as something changed, and once
    /// however many ask for it.
    ///
    /// # Errors
    /// [`WorkshopError::NotAnalysed`] where the figures fail.
    pub async fn analysed(
        &self,
        summary: &TrialSummary,
    ) -> Result<Arc<AnalysedTrial>, WorkshopError> {
        let known = self.kept::<Cache>().analysed.get(summary.id);
        if let Some(known) = known.filter(|it| it.trial.stamp == summary.stamp) {
            return Ok(known);
        }
        let turn = self.kept::<Cache>().turn(summary.id);
        let _held = turn.lock().await;
        let trial = self.trial(summary.id).await?;
        let (id, stamp) = (trial.id, trial.stamp);
        let known = self.kept::<Cache>().analysed.get(id);
        // Somebody else worked it out meanwhile, or the list was older than what is known.
        if let Some(known) = known.as_ref().filter(|it| it.trial.stamp == stamp) {
            return Ok(Arc::clone(known));
        }
        if self.kept::<Cache>().failed.get(id) == Some(stamp) {
            return Err(WorkshopError::NotAnalysed);
        }
        match off_the_thread(move || AnalysedTrial::of(trial, None, known.as_deref())).await {
            Ok(analysed) => {
                let analysed = Arc::new(analysed);
                self.kept::<Cache>().analysed.put(id, Arc::clone(&analysed));
                Ok(analysed)
            }
            Err(_) => {
                self.kept::<Cache>().failed.put(id, stamp);
                Err(WorkshopError::NotAnalysed)
            }
        }
    }

    /// The trial with strengths against a standard of the user's choice; not kept.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the trial has no such tube.
    pub async fn analysed_against(
        &self,
        summary: &TrialSummary,
        standard: TubeId,
    ) -> Result<Arc<AnalysedTrial>, WorkshopError> {
        let before = self.analysed(summary).await?;
        let trial = self.trial(summary.id).await?;
        let place = trial.tubes.iter().position(|tube| tube.tube.id == standard).map(TubeRef);
        let standard = place.ok_or(StoreError::NotFound("tube"))?;
        let work = move || AnalysedTrial::of(trial, Some(standard), Some(&before));
        off_the_thread(work).await.map(Arc::new).map_err(|_| WorkshopError::NotAnalysed)
    }

    /// Every trial that tells something, the newest first. An archived one is left out, and one
    /// that cannot be read or worked out is told on its own pages, and is not in the way of the others.
    ///
    /// # Errors
    /// When the records cannot be read.
    pub async fn telling(
        &self,
        trials: &[TrialSummary],
    ) -> Result<Vec<Arc<AnalysedTrial>>, WorkshopError> {
        let mut telling = Vec::new();
        for summary in trials.iter().filter(|it| it.readings > 0 && !it.put_away) {
            telling.extend(self.analysed_where_it_can_be(summary).await?);
        }
        Ok(telling)
    }

    /// The trial with its figures; `None` for one that cannot be read or worked out, which its own pages tell.
    ///
    /// # Errors
    /// When the records cannot be read.
    pub(crate) async fn analysed_where_it_can_be(
        &self,
        summary: &TrialSummary,
    ) -> Result<Option<Arc<AnalysedTrial>>, WorkshopError> {
        match self.analysed(summary).await {
            Ok(analysed) => Ok(Some(analysed)),
            Err(
                WorkshopError::NotAnalysed
                | WorkshopError::NotWorkedOut(_)
                | WorkshopError::Store(StoreError::Corrupt { .. }),
            ) => Ok(None),
            Err(error) => Err(error),
        }
    }

    /// What is known of each tube's colour, from its newest trial.
    ///
    /// # Errors
    /// When the records cannot be read.
    pub async fn known_colours(
        &self,
        trials: &[TrialSummary],
    ) -> Result<HashMap<TubeId, KnownColour>, WorkshopError> {
        let mut known = HashMap::new();
        for analysed in self.telling(trials).await? {
            for (at, tube) in analysed.trial.tubes.iter().enumerate() {
                if let Some(colour) = KnownColour::in_trial(&analysed, TubeRef(at)) {
                    known.entry(tube.tube.id).or_insert(colour);
                }
            }
        }
        Ok(known)
    }

    /// What a run and the newest others of its kind tell of the user's pace, beside the usual minutes.
    ///
    /// # Errors
    /// When the records cannot be read.
    pub async fn pace(
        &self,
        trials: &[TrialSummary],
        trial: &OpenTrial,
    ) -> Result<bench::PaceEvidence, WorkshopError> {
        let own = trial.run().map(bench::Run::pace).unwrap_or_default();
        let kind = trial.circumstances.protocol.basis;
        Ok(own.and(self.pace_of(trials, kind, Some(trial.id)).await?))
    }

    /// What the newest runs in which amounts were measured so tell of the user's pace, one of them left out: who
    /// weighs is slower than who looks.
    pub(crate) async fn pace_of(
        &self,
        trials: &[TrialSummary],
        kind: Basis,
        but: Option<TrialId>,
    ) -> Result<bench::PaceEvidence, WorkshopError> {
        let others =
            trials.iter().filter(|it| it.stamp.log > 0 && !it.put_away && Some(it.id) != but);
        let mut pace = bench::PaceEvidence::default();
        for summary in others.take(NEWEST) {
            let Ok(other) = self.listed(summary).await else { continue };
            if other.circumstances.protocol.basis == kind {
                pace = pace.and(other.run().map(bench::Run::pace).unwrap_or_default());
            }
        }
        Ok(pace)
    }
}
