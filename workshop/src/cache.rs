//! Trials that have been read and worked out already.

use std::collections::HashMap;
use std::sync::{Arc, Mutex};

use store::{Stamp, TrialId};

use crate::analysed::AnalysedTrial;
use crate::kept::lock;
use crate::open_trial::OpenTrial;

/// What is kept from request to request.
#[derive(Debug, Default)]
pub(crate) struct Cache {
    pub open: ByTrial<Arc<OpenTrial>>,
    pub analysed: ByTrial<Arc<AnalysedTrial>>,
    /// Trials that could not be worked out, as they stood then.
    pub failed: ByTrial<Stamp>,
    /// Who works on a trial just now: whoever else asks for it waits for the same result.
    busy: ByTrial<Arc<tokio::sync::Mutex<()>>>,
}

impl Cache {
    /// The one place in the queue of a trial.
    pub fn turn(&self, trial: TrialId) -> Arc<tokio::sync::Mutex<()>> {
        Arc::clone(lock(&self.busy.0).entry(trial).or_default())
    }
}

/// Values by trial, shared between threads.
#[derive(Debug)]
pub(crate) struct ByTrial<V>(Mutex<HashMap<TrialId, V>>);

impl<V> Default for ByTrial<V> {
    fn default() -> Self {
        Self(Mutex::default())
    }
}

impl<V: Clone> ByTrial<V> {
    pub fn get(&self, trial: TrialId) -> Option<V> {
        lock(&self.0).get(&trial).cloned()
    }

    pub fn put(&self, trial: TrialId, value: V) {
        lock(&self.0).insert(trial, value);
    }
}
