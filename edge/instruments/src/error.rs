//! Why a device gave nothing.

use thiserror::Error;

/// Why a device gave nothing. Nothing is recorded then.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum DeviceError {
    /// It cannot be reached, or says nothing in time.
    #[error("the {0} does not answer; check its cable and whether it is switched on")]
    Silent(&'static str),
    /// It answers, and says that it could not do it.
    #[error("the {device} could not do it: {reason}; try it once more")]
    Failed {
        /// Which device.
        device: &'static str,
        /// In its own words.
        reason: String,
    },
    /// It cannot do this at all, however often it is asked.
    #[error("{0}")]
    Refused(String),
    /// What it answers makes no sense.
    #[error("the {device} answers, but what it says makes no sense: {found}; switch it off and on")]
    Rubbish {
        /// Which device.
        device: &'static str,
        /// What is wrong with it.
        found: String,
    },
}
