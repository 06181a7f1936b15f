//! Work that takes longer than one request: how far it is, and how it is stopped.

use std::sync::atomic::{AtomicBool, AtomicU32, Ordering};
use std::sync::{Arc, Mutex};
use std::time::{Duration, Instant};

use crate::kept::lock;
use crate::knowledge::AsOf;

/// A run that nobody has asked for so long stops: whoever started it has left the page, which asks every few seconds.
const LEFT: Duration = Duration::from_secs(60);

/// One run of it.
#[derive(Debug)]
pub(super) struct Job<T> {
    /// In thousandths.
    done: AtomicU32,
    stopped: AtomicBool,
    /// Nobody asked any more.
    left: AtomicBool,
    asked: Mutex<Instant>,
    found: Mutex<Option<Arc<T>>>,
}

impl<T> Default for Job<T> {
    fn default() -> Self {
        Self {
            done: AtomicU32::new(0),
            stopped: AtomicBool::new(false),
            left: AtomicBool::new(false),
            asked: Mutex::new(Instant::now()),
            found: Mutex::new(None),
        }
    }
}

impl<T> Job<T> {
    /// Says how far it is, 0 to 1; true where it goes on.
    pub fn goes_on(&self, done: f64) -> bool {
        self.done.store((1000.0 * done) as u32, Ordering::Relaxed);
        if lock(&self.asked).elapsed() > LEFT {
            self.left.store(true, Ordering::Relaxed);
        }
        !self.is_stopped() && !self.was_left()
    }

    /// Somebody still wants it.
    fn ask(&self) {
        *lock(&self.asked) = Instant::now();
    }

    fn was_left(&self) -> bool {
        self.left.load(Ordering::Relaxed)
    }

    pub fn done(&self) -> f64 {
        f64::from(self.done.load(Ordering::Relaxed)) / 1000.0
    }

    pub fn finish(&self, found: Arc<T>) {
        *lock(&self.found) = Some(found);
    }

    pub fn found(&self) -> Option<Arc<T>> {
        lock(&self.found).clone()
    }

    pub fn stop(&self) {
        self.stopped.store(true, Ordering::Relaxed);
    }

    pub fn is_stopped(&self) -> bool {
        self.stopped.load(Ordering::Relaxed)
    }
}

/// What is kept from request to request: one run for the shelf and the trials as they stand.
#[derive(Debug)]
pub(super) struct Jobs<T> {
    running: Mutex<Option<(AsOf, Arc<Job<T>>)>>,
}

impl<T> Default for Jobs<T> {
    fn default() -> Self {
        Self { running: Mutex::default() }
    }
}

impl<T> Jobs<T> {
    /// The run for this, and whether it is a new one that is still to be started. What ran for an older shelf stops.
    pub(super) fn job(&self, asked: AsOf) -> (Arc<Job<T>>, bool) {
        let mut running = lock(&self.running);
        if let Some((known, job)) = running.as_ref()
            && *known == asked
            && !job.was_left()
        {
            job.ask();
            return (Arc::clone(job), false);
        }
        if let Some((_, old)) = running.take() {
            old.stop();
        }
        let job = Arc::new(Job::default());
        *running = Some((asked, Arc::clone(&job)));
        (job, true)
    }

    /// Stops what runs, and forgets what was stopped.
    pub(super) fn stop(&self, forget: bool) {
        let mut running = lock(&self.running);
        if let Some((_, job)) = running.as_ref() {
            job.stop();
        }
        if forget {
            *running = None;
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A run that was left stops by itself, and is begun anew for whoever comes back; one that is asked for goes on.
    #[test]
    fn what_nobody_waits_for_stops() {
        let decided = Jobs::<u8>::default();
        let asked = || AsOf::listed(Vec::new(), &[]);
        let (job, is_new) = decided.job(asked());
        assert!(is_new && job.goes_on(0.1));
        *lock(&job.asked) -= LEFT + Duration::from_secs(1);
        assert!(!decided.job(asked()).1 && job.goes_on(0.2));
        *lock(&job.asked) -= LEFT + Duration::from_secs(1);
        assert!(!job.goes_on(0.3));
        assert!(decided.job(asked()).1);
    }
}
