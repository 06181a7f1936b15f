//! Work beside the requests.

use std::num::NonZero;
use std::sync::LazyLock;

use rayon::{ThreadPool, ThreadPoolBuilder};

use crate::WorkshopError;

/// Works something out beside the requests. Where it fails, only what it was asked for fails.
///
/// # Errors
/// [`WorkshopError::NotWorkedOut`] where the work panicked.
pub async fn off_the_thread<T: Send + 'static>(
    work: impl FnOnce() -> T + Send + 'static,
) -> Result<T, WorkshopError> {
    tokio::task::spawn_blocking(work).await.map_err(|error| {
        tracing::error!(%error, "something could not be worked out");
        WorkshopError::NotWorkedOut("the program met a case it does not know".into())
    })
}

/// The same for work of many seconds: on one core fewer than there are, so that pages are answered beside it.
///
/// # Errors
/// As [`off_the_thread`].
pub async fn leaving_a_core<T: Send + 'static>(
    work: impl FnOnce() -> T + Send + 'static,
) -> Result<T, WorkshopError> {
    off_the_thread(move || match FEWER.as_ref() {
        Some(pool) => pool.install(work),
        None => work(),
    })
    .await
}

/// `None` where the system gives no more threads.
static FEWER: LazyLock<Option<ThreadPool>> = LazyLock::new(|| {
    let cores = std::thread::available_parallelism().map_or(1, NonZero::get);
    ThreadPoolBuilder::new().num_threads(cores.saturating_sub(1).max(1)).build().ok()
});

#[cfg(test)]
mod tests {
    use super::*;

    #[tokio::test]
    async fn what_cannot_be_worked_out_fails_alone() {
        let failed = off_the_thread(|| -> u8 { unreachable!("as a figure may") }).await;
        assert!(matches!(failed, Err(WorkshopError::NotWorkedOut(_))));
        assert_eq!(off_the_thread(|| 7).await.ok(), Some(7));
    }
}
