//! What has been read and worked out already.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use store::{Stamp, TrialId};

use crate::analysed::AnalysedTrial;
use crate::open_trial::OpenTrial;

/// What is kept from request to request.
#[derive(Debug, Default)]
pub(crate) struct Cache {
    pub open: Kept<Arc<OpenTrial>>,
    pub analysed: Kept<Arc<AnalysedTrial>>,
    /// Trials that could not be worked out, as they stood then.
    pub failed: Kept<Stamp>,
    /// Who works on a trial just now: whoever else asks for it waits for the same result.
    busy: Kept<Arc<tokio::sync::Mutex<()>>>,
}

impl Cache {
    /// The one place in the queue of a trial.
    pub fn turn(&self, trial: TrialId) -> Arc<tokio::sync::Mutex<()>> {
        Arc::clone(lock(&self.busy.0).entry(trial).or_default())
    }
}

/// Values by trial, shared between threads.
#[derive(Debug)]
pub(crate) struct Kept<V>(Mutex<HashMap<TrialId, V>>);

impl<V> Default for Kept<V> {
    fn default() -> Self {
        Self(Mutex::default())
    }
}

impl<V: Clone> Kept<V> {
    pub fn get(&self, trial: TrialId) -> Option<V> {
        lock(&self.0).get(&trial).cloned()
    }

    pub fn put(&self, trial: TrialId, value: V) {
        lock(&self.0).insert(trial, value);
    }
}

/// Locks, ignoring poisoning.
pub(crate) fn lock<T: ?Sized>(mutex: &Mutex<T>) -> MutexGuard<'_, T> {
    mutex.lock().unwrap_or_else(PoisonError::into_inner)
}
