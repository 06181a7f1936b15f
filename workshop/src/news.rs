//! What is new, told to everyone who listens.

use store::TrialId;
use tokio::sync::broadcast::error::RecvError;
use tokio::sync::{broadcast, watch};

/// A listener that is slower than this many changes asks for everything anyway.
const KEPT: usize = 64;

/// Tells of changes until it ends.
#[derive(Debug, Clone)]
pub struct News {
    changes: broadcast::Sender<TrialId>,
    ended: watch::Sender<bool>,
}

impl Default for News {
    fn default() -> Self {
        Self { changes: broadcast::Sender::new(KEPT), ended: watch::Sender::new(false) }
    }
}

impl News {
    /// Something was recorded in a trial.
    pub fn tell(&self, trial: TrialId) {
        // Nobody listens where no page is open.
        let _ = self.changes.send(trial);
    }

    /// Ends every subscription, which would else hold up the end of the program.
    pub fn end(&self) {
        self.ended.send_replace(true);
    }

    /// Listens to what becomes of a trial.
    #[must_use]
    pub fn of(&self, trial: TrialId) -> Subscription {
        Subscription { trial, changes: self.changes.subscribe(), ended: self.ended.subscribe() }
    }
}

/// Somebody who listens to one trial.
#[derive(Debug)]
pub struct Subscription {
    trial: TrialId,
    changes: broadcast::Receiver<TrialId>,
    ended: watch::Receiver<bool>,
}

impl Subscription {
    /// Waits for the next change of the trial; `None` once the program ends.
    pub async fn next(&mut self) -> Option<()> {
        if *self.ended.borrow() {
            return None;
        }
        loop {
            tokio::select! {
                _ = self.ended.changed() => return None,
                change = self.changes.recv() => match change {
                    Ok(changed) if changed != self.trial => {}
                    Ok(_) | Err(RecvError::Lagged(_)) => return Some(()),
                    Err(RecvError::Closed) => return None,
                },
            }
        }
    }
}
