//! Work beside the requests.

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
