//! The records that an answer rests on, as they stood: the same again, the same answer.

use std::sync::Arc;

use store::{ShelfTube, Stamp, TrialId, TrialSummary};

use crate::analysed::AnalysedTrial;

/// Tubes, and trials as they stood.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct AsOf {
    tubes: Vec<ShelfTube>,
    trials: Vec<(TrialId, Stamp)>,
}

impl AsOf {
    /// These tubes, and every trial that is not archived.
    pub fn listed(tubes: Vec<ShelfTube>, trials: &[TrialSummary]) -> Self {
        let open = trials.iter().filter(|it| !it.put_away);
        Self { tubes, trials: open.map(|it| (it.id, it.stamp)).collect() }
    }

    /// These tubes, and these trials alone.
    pub fn these(tubes: Vec<ShelfTube>, trials: &[Arc<AnalysedTrial>]) -> Self {
        Self { tubes, trials: trials.iter().map(|it| (it.trial.id, it.trial.stamp)).collect() }
    }
}
