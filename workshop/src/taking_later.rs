//! A reading that is taken as soon as the meter answers again.

use std::sync::Mutex;
use std::time::{Duration, Instant};

use store::TrialId;

use crate::error::WorkshopError;
use crate::kept::lock;
use crate::waiting::{Stopped, Waiting, WaitingRoom};
use crate::workshop::Workshop;

/// How often a device that is away is asked.
const BETWEEN: Duration = Duration::from_millis(700);
/// Nobody holds a head on a swatch for longer.
const LONGEST: Duration = Duration::from_secs(20 * 60);

/// The one reading that waits.
#[derive(Debug, Default)]
struct Room(Mutex<WaitingRoom>);

impl Workshop {
    /// The reading of a trial that waits.
    #[must_use]
    pub fn waits_for(&self, trial: TrialId) -> Option<Waiting> {
        lock(&self.kept::<Room>().0).waiting.clone().filter(|waiting| waiting.trial == trial)
    }

    /// Why a reading that waited could not be recorded, until something else is asked for.
    #[must_use]
    pub fn stopped(&self, trial: TrialId) -> Option<Stopped> {
        lock(&self.kept::<Room>().0).stopped.clone().filter(|stopped| stopped.trial == trial)
    }

    /// Nothing waits any more.
    pub fn stop_waiting(&self, trial: TrialId) {
        let waited = {
            let room = self.kept::<Room>();
            let mut room = lock(&room.0);
            room.stopped.take_if(|stopped| stopped.trial == trial);
            room.waiting.take_if(|waiting| waiting.trial == trial)
        };
        if waited.is_some() {
            self.news.tell(trial);
        }
    }

    /// Waits for the meter in place of whatever waited before.
    pub fn wait_for_meter(&self, waiting: Waiting) {
        lock(&self.kept::<Room>().0).waiting = Some(waiting.clone());
        self.news.tell(waiting.trial);
        let workshop = self.clone();
        tokio::spawn(async move { workshop.wait(&waiting).await });
    }

    fn still_waits(&self, waiting: &Waiting) -> bool {
        lock(&self.kept::<Room>().0).waiting.as_ref() == Some(waiting)
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
                Err(WorkshopError::Device(_)) => {}
                Ok(()) => break,
                Err(error) => return self.give_up(waiting.trial, &error),
            }
        }
        if self.still_waits(waiting) {
            self.stop_waiting(waiting.trial);
        }
    }

    fn give_up(&self, trial: TrialId, error: &WorkshopError) {
        tracing::warn!(%error, "the reading that waited was not recorded");
        self.stop_waiting(trial);
        let (why, copy_helps) = (error.to_string(), error.copy_helps());
        lock(&self.kept::<Room>().0).stopped = Some(Stopped { trial, why, copy_helps });
        self.news.tell(trial);
    }

    async fn take_waiting(&self, waiting: &Waiting) -> Result<(), WorkshopError> {
        let trial = self.trial(waiting.trial).await?;
        let planned = trial.swatch(waiting.number)?;
        let how = (waiting.state, Some(waiting.token.as_str()));
        self.take_wanted(&trial, planned, how, || self.still_waits(waiting)).await
    }
}
