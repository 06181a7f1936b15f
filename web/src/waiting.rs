//! A reading that waits for its meter: it is taken as soon as the device answers again.

use std::time::{Duration, Instant};

use instruments::DeviceError;
use store::{SwatchId, TrialId};
use trial::State;

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

impl AppState {
    /// The reading of a trial that waits.
    pub(crate) fn waits_for(&self, trial: TrialId) -> Option<Waiting> {
        lock(&self.waiting).clone().filter(|waiting| waiting.trial == trial)
    }

    /// Nothing waits any more.
    pub(crate) fn stop_waiting(&self, trial: TrialId) {
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

    async fn wait(&self, waiting: &Waiting) {
        let until = Instant::now() + LONGEST;
        while Instant::now() < until {
            tokio::time::sleep(BETWEEN).await;
            if lock(&self.waiting).as_ref() != Some(waiting) {
                return;
            }
            match self.take_waiting(waiting).await {
                // Still away, or not held still: it is asked again.
                Err(Some(DeviceError::Silent(_) | DeviceError::Failed { .. })) => {}
                Ok(()) | Err(_) => break,
            }
        }
        self.stop_waiting(waiting.trial);
    }

    async fn take_waiting(&self, waiting: &Waiting) -> Result<(), Option<DeviceError>> {
        let trial = self.store.trial(waiting.trial).await.map_err(|_| None)?;
        let planned = trial.swatches.iter().find(|it| it.id == waiting.swatch).ok_or(None)?;
        self.take_one(&trial, planned, waiting.state, Some(&waiting.token)).await.map_err(|error| {
            match error {
                crate::PageError::Device(error) => Some(error),
                _ => None,
            }
        })
    }
}
