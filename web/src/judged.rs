//! A trial with everything worked out, kept until a reading is added or voided.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, OnceLock, PoisonError};

use colour::Hue;
use store::{StoreError, Trial, TrialId, TrialSummary, TubeId};
use trial::figures::{SwatchColour, TubeFigures};
use trial::finding::{Finding, findings};
use trial::prior::{Prior, learn, learn_wet};
use trial::run::PaceEvidence;
use trial::{Analysis, State, Study, TubeRef, analyse};

use crate::state::AppState;

/// A trial, its figures and its findings.
#[derive(Debug)]
pub(crate) struct Judged {
    pub trial: Trial,
    pub study: Study,
    pub analysis: Analysis,
    pub findings: Vec<Finding>,
    prior: OnceLock<Prior>,
    wet_prior: OnceLock<Prior>,
    pace: OnceLock<PaceEvidence>,
}

impl Judged {
    fn of(trial: Trial, standard: Option<TubeRef>) -> Self {
        let study = trial.study();
        let analysis = analyse(&study, standard);
        let findings = findings(&study, &analysis);
        Self {
            trial,
            study,
            analysis,
            findings,
            prior: OnceLock::new(),
            wet_prior: OnceLock::new(),
            pace: OnceLock::new(),
        }
    }

    /// What it tells of its tubes, wet or dry, worked out when it is first asked.
    pub fn prior(&self, state: State) -> &Prior {
        match state {
            State::Wet => self.wet_prior.get_or_init(|| learn_wet(&self.study)),
            State::Dry | State::Lifted => self.prior.get_or_init(|| learn(&self.study)),
        }
    }

    /// What it tells of the user's pace, worked out when it is first asked.
    pub fn pace(&self) -> PaceEvidence {
        *self.pace.get_or_init(|| self.trial.run().map(|run| run.pace()).unwrap_or_default())
    }

    pub fn tube(&self, tube: TubeRef) -> Option<&TubeFigures> {
        self.analysis.tubes.iter().find(|figures| figures.tube == tube)
    }
}

/// Readings and deeds are only ever added or voided, so their counts tell whether anything is new.
type Stamp = (i64, i64, i64);

/// What has been worked out already.
#[derive(Debug, Default)]
pub(crate) struct Judgements(Mutex<HashMap<TrialId, (Stamp, Arc<Judged>)>>);

impl Judgements {
    /// Forgets everything: a tube's label changed, and labels are in every finding.
    pub fn forget(&self) {
        self.0.lock().unwrap_or_else(PoisonError::into_inner).clear();
    }

    fn known(&self, id: TrialId, stamp: Stamp) -> Option<Arc<Judged>> {
        let known = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let (at, judged) = known.get(&id)?;
        (*at == stamp).then(|| Arc::clone(judged))
    }

    fn keep(&self, id: TrialId, stamp: Stamp, judged: &Arc<Judged>) {
        let mut known = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        known.insert(id, (stamp, Arc::clone(judged)));
    }
}

impl AppState {
    /// The trial with its figures, worked out anew only where a reading changed.
    pub(crate) async fn judged(&self, summary: &TrialSummary) -> Result<Arc<Judged>, StoreError> {
        let stamp = (summary.readings, summary.voids, summary.log);
        if let Some(known) = self.judgements.known(summary.id, stamp) {
            return Ok(known);
        }
        let trial = self.store.trial(summary.id).await?;
        let voids = trial.readings.iter().filter(|stored| stored.reading.void.is_some()).count();
        let count = |number: usize| i64::try_from(number).unwrap_or(i64::MAX);
        let taken_back = trial.log.iter().filter(|entry| entry.void.is_some()).count();
        let log = count(trial.log.len() + taken_back);
        let stamp = (count(trial.readings.len() - voids), count(voids), log);
        let judged = tokio::task::spawn_blocking(move || Arc::new(Judged::of(trial, None)))
            .await
            .map_err(|_| StoreError::NotFound("trial"))?;
        self.judgements.keep(summary.id, stamp, &judged);
        Ok(judged)
    }

    /// The trial with strengths against a standard of the user's choice; not kept.
    pub(crate) async fn judged_against(
        &self,
        summary: &TrialSummary,
        standard: TubeId,
    ) -> Result<Arc<Judged>, StoreError> {
        let trial = self.store.trial(summary.id).await?;
        let place = trial.tubes.iter().position(|tube| tube.tube.id == standard).map(TubeRef);
        let standard = place.ok_or(StoreError::NotFound("tube"))?;
        tokio::task::spawn_blocking(move || Arc::new(Judged::of(trial, Some(standard))))
            .await
            .map_err(|_| StoreError::NotFound("trial"))
    }

    /// What is known of each tube's colour, from its newest trial.
    pub(crate) async fn known_colours(
        &self,
        trials: &[TrialSummary],
    ) -> Result<HashMap<TubeId, KnownColour>, StoreError> {
        let mut known = HashMap::new();
        for summary in trials.iter().filter(|summary| summary.readings > 0) {
            let judged = self.judged(summary).await?;
            for (at, tube) in judged.trial.tubes.iter().enumerate() {
                if let Some(colour) = KnownColour::in_trial(&judged, TubeRef(at)) {
                    known.entry(tube.tube.id).or_insert(colour);
                }
            }
        }
        Ok(known)
    }
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

    fn in_trial(judged: &Judged, tube: TubeRef) -> Option<Self> {
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
