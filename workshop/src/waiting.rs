//! A reading that waits for its meter, and one that waited in vain.

use plan::CellNumber;
use store::{SwatchId, TrialId};
use study::State;

/// The reading that waits.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Waiting {
    /// Its trial.
    pub trial: TrialId,
    /// Its swatch.
    pub swatch: SwatchId,
    /// The swatch's number.
    pub number: CellNumber,
    /// In which state it is read.
    pub state: State,
    /// What it is recorded under, once.
    pub token: String,
}

/// A reading that waited and could not be recorded.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Stopped {
    /// Its trial.
    pub trial: TrialId,
    /// Why.
    pub why: String,
    /// A copy of the trial would help.
    pub copy_helps: bool,
}

/// One reading waits at a time.
#[derive(Debug, Default)]
pub(crate) struct WaitingRoom {
    pub waiting: Option<Waiting>,
    /// Why the reading that waited last was not recorded.
    pub stopped: Option<Stopped>,
}
