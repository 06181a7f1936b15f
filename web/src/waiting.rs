//! A reading that waits for its meter: it is taken as soon as the device answers again.

use std::time::{Duration, Instant};

use store::{StoreError, SwatchId, TrialId};
use study::State;

use crate::error::PageError;
use crate::state::{AppState, lock};

/// How often a device that is away is asked.
const BETWEEN: Duration = Duration::from_millis(700);
/// Nobody holds a head on a swatch for longer.
const LONGEST: Duration = Duration::from_secs(20 * 60);

/// The reading that waits.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Waiting {
    pub trial: TrialId,
    pub swatch: SwatchId,
    pub number: u32,
    pub state: State,
    pub token: String,
}

/// A reading that waited and could not be recorded.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Stopped {
    pub trial: TrialId,
    pub why: String,
    /// A copy of the trial would help.
    pub copy_helps: bool,
}

impl AppState {
    /// The reading of a trial that waits.
    pub(crate) fn waits_for(&self, trial: TrialId) -> Option<Waiting> {
        lock(&self.waiting).clone().filter(|waiting| waiting.trial == trial)
    }

    /// Why a reading that waited could not be recorded, until something else is asked for.
    pub(crate) fn stopped(&self, trial: TrialId) -> Option<Stopped> {
        lock(&self.stopped).clone().filter(|stopped| stopped.trial == trial)
    }

    /// Nothing waits any more.
    pub(crate) fn stop_waiting(&self, trial: TrialId) {
        lock(&self.stopped).take_if(|stopped| stopped.trial == trial);
        let waited = lock(&self.waiting).take_if(|waiting| waiting.trial == trial);
        if waited.is_some() {
            self.news.tell(trial);
        }
    }

    /// Waits for the meter in place of whatever waited before.
    pub(crate) fn wait_for_meter(&self, waiting: Waiting) {
        *lock(&self.waiting) = Some(waiting.clone());
        self.news.tell(waiting.trial);
        let app = self.clone();
        tokio::spawn(async move { app.wait(&waiting).await });
    }

    fn still_waits(&self, waiting: &Waiting) -> bool {
        lock(&self.waiting).as_ref() == Some(waiting)
    }

    async fn wait(&self, waiting: &Waiting) {
        let until = Instant::now() + LONGEST;
        while Instant::now() < until {
            tokio::time::sleep(BETWEEN).await;
            if !self.still_waits(waiting) {
                return;
            }
            match self.take_waiting(waiting).await {
                // Away, moved or talking rubbish: it is asked again.
                Err(PageError::Device(_)) => {}
                Ok(()) => break,
                Err(error) => {
                    tracing::warn!(%error, "the reading that waited was not recorded");
                    self.stop_waiting(waiting.trial);
                    *lock(&self.stopped) = Some(Stopped {
                        trial: waiting.trial,
                        why: error.to_string(),
                        copy_helps: error.copy_helps(),
                    });
                    self.news.tell(waiting.trial);
                    return;
                }
            }
        }
        if self.still_waits(waiting) {
            self.stop_waiting(waiting.trial);
        }
    }

    async fn take_waiting(&self, waiting: &Waiting) -> Result<(), PageError> {
        let trial = self.trial(waiting.trial).await?;
        let planned = trial.swatches.iter().find(|it| it.id == waiting.swatch);
        let planned = planned.ok_or(StoreError::NotFound("swatch"))?;
        let how = (waiting.state, Some(waiting.token.as_str()));
        self.take_wanted(&trial, planned, how, || self.still_waits(waiting)).await
    }
}
