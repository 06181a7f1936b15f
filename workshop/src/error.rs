//! Why something was not done.

use instruments::DeviceError;
use store::StoreError;
use thiserror::Error;

use crate::planning::RequestError;

/// Why something was not done or cannot be told.
#[derive(Debug, Error)]
pub enum WorkshopError {
    /// The records did not answer.
    #[error(transparent)]
    Store(#[from] StoreError),
    /// A device gave nothing.
    #[error(transparent)]
    Device(#[from] DeviceError),
    /// What was asked for cannot be planned.
    #[error(transparent)]
    Request(#[from] RequestError),
    /// The figures of a trial failed.
    #[error(
        "the figures of this trial cannot be worked out; its readings are safe. Save the readings \
         file from the page Readings, void a reading that is not right, or archive the trial"
    )]
    NotAnalysed,
    /// A plan, its sheets or a file could not be worked out.
    #[error("this could not be worked out: {0}; what is stored stays as it was")]
    NotWorkedOut(String),
    /// It cannot be done as things stand.
    #[error("{0}")]
    NotNow(String),
}

impl WorkshopError {
    /// True where a copy of the trial would help: another meter reads it.
    #[must_use]
    pub fn copy_helps(&self) -> bool {
        matches!(self, Self::Store(StoreError::OtherGeometry { .. }))
    }
}
