//! Answers that were worked out already: each once, however many ask for it at the same time, and so many of them.
//!
//! Keys are compared and not hashed, since they hold figures; there are few of them. Tokio's cell lets one work and the
//! others wait, which is all that a cache's own crate would add.

use std::collections::VecDeque;
use std::future::Future;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError, Weak};

use tokio::sync::OnceCell;

/// What is kept under a key; empty while somebody still works on it.
type Slot<V> = Arc<OnceCell<Arc<V>>>;

/// So many answers, the last that was asked for at the end.
#[derive(Debug)]
pub(crate) struct Kept<const MOST: usize, K, V>(Mutex<VecDeque<(K, Slot<V>)>>);

impl<const MOST: usize, K, V> Default for Kept<MOST, K, V> {
    fn default() -> Self {
        Self(Mutex::default())
    }
}

impl<const MOST: usize, K: PartialEq, V> Kept<MOST, K, V> {
    /// What is kept for this, else what the work gives. Work that fails is not kept.
    ///
    /// # Errors
    /// Those of the work.
    pub async fn get<E>(
        &self,
        asked: K,
        work: impl Future<Output = Result<V, E>>,
    ) -> Result<Arc<V>, E> {
        let slot = self.slot(asked);
        slot.get_or_try_init(|| async { work.await.map(Arc::new) }).await.map(Arc::clone)
    }

    /// Lets go of answers to what nobody will ask again.
    pub fn forget(&self, is_old: impl Fn(&K) -> bool) {
        lock(&self.0).retain(|(key, _)| !is_old(key));
    }

    fn slot(&self, asked: K) -> Slot<V> {
        let mut kept = lock(&self.0);
        let known = kept.iter().position(|(key, _)| *key == asked);
        let entry =
            known.and_then(|at| kept.remove(at)).unwrap_or_else(|| (asked, Slot::default()));
        let slot = Arc::clone(&entry.1);
        kept.push_back(entry);
        while kept.len() > MOST {
            kept.pop_front();
        }
        slot
    }
}

/// The very same value, and not one that is like it: for keys of what follows from something that is kept itself. A key
/// does not keep it: a trial of many readings goes when its next reading comes.
#[derive(Debug)]
pub(crate) struct Same<T>(Weak<T>);

impl<T> Same<T> {
    pub fn as_it(value: &Arc<T>) -> Self {
        Self(Arc::downgrade(value))
    }
}

impl<T> PartialEq for Same<T> {
    fn eq(&self, other: &Self) -> bool {
        // Its place in memory is not given to another one while anybody still points at it.
        Weak::ptr_eq(&self.0, &other.0)
    }
}

/// Locks, ignoring poisoning.
pub(crate) fn lock<T: ?Sized>(mutex: &Mutex<T>) -> MutexGuard<'_, T> {
    mutex.lock().unwrap_or_else(PoisonError::into_inner)
}

#[cfg(test)]
mod tests {
    use std::sync::atomic::{AtomicU32, Ordering};
    use std::time::Duration;

    use super::*;

    /// Three ask at once and one works; what fails is tried again; the oldest of too many goes.
    #[tokio::test]
    async fn each_answer_is_worked_out_once() {
        let kept: Kept<2, &str, u32> = Kept::default();
        let works = AtomicU32::new(0);
        let ask = |key: &'static str, fails: bool| {
            let works = &works;
            kept.get(key, async move {
                works.fetch_add(1, Ordering::Relaxed);
                tokio::time::sleep(Duration::from_millis(5)).await;
                if fails { Err("failed") } else { Ok(7) }
            })
        };
        let (one, two, three) =
            tokio::join!(ask("one", false), ask("one", false), ask("one", false));
        assert!([one, two, three].iter().all(|it| it.as_deref() == Ok(&7)));
        assert_eq!(works.load(Ordering::Relaxed), 1);
        assert_eq!(ask("two", true).await, Err("failed"));
        assert!(ask("two", false).await.is_ok());
        assert_eq!(works.load(Ordering::Relaxed), 3);
        assert!(ask("three", false).await.is_ok() && ask("two", false).await.is_ok());
        assert_eq!(works.load(Ordering::Relaxed), 4);
        assert!(ask("one", false).await.is_ok());
        assert_eq!(works.load(Ordering::Relaxed), 5);
    }

    /// A key tells one value from another without keeping it; what rests on an older one can be let go.
    #[tokio::test]
    async fn a_key_keeps_nothing_alive() {
        let kept: Kept<8, Same<String>, usize> = Kept::default();
        let (one, other) = (Arc::new("one".to_owned()), Arc::new("one".to_owned()));
        let works = AtomicU32::new(0);
        let ask = |of: &Arc<String>| {
            let (works, length) = (&works, of.len());
            kept.get(Same::as_it(of), async move {
                works.fetch_add(1, Ordering::Relaxed);
                Ok::<_, ()>(length)
            })
        };
        for of in [&one, &one, &other] {
            assert_eq!(ask(of).await.as_deref(), Ok(&3));
        }
        assert_eq!(works.load(Ordering::Relaxed), 2);
        assert_eq!(Arc::strong_count(&one), 1);
        kept.forget(|key| *key != Same::as_it(&other));
        assert!(ask(&other).await.is_ok() && works.load(Ordering::Relaxed) == 2);
        assert!(ask(&one).await.is_ok() && works.load(Ordering::Relaxed) == 3);
    }
}
