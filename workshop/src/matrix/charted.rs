//! The chart of a trial, worked out once.

use std::sync::Arc;

use store::TrialSummary;
use study::State;

use super::Matrix;
use crate::analysed::AnalysedTrial;
use crate::background::off_the_thread;
use crate::error::WorkshopError;
use crate::kept::{Kept, Same};
use crate::knowledge::Evidence;
use crate::workshop::Workshop;

/// What a chart rests on.
type Asked = (Same<AnalysedTrial>, Same<Evidence>);

impl Workshop {
    /// The chart of a trial, and what is known of its tubes.
    ///
    /// # Errors
    /// When the records cannot be read.
    pub async fn charted(
        &self,
        trials: &[TrialSummary],
        analysed: &Arc<AnalysedTrial>,
    ) -> Result<(Arc<Matrix>, Arc<Evidence>), WorkshopError> {
        let evidence = self.evidence_for(trials, &analysed.trial, State::Dry).await?;
        let asked = (Same::as_it(analysed), Same::as_it(&evidence));
        let (of, by) = (Arc::clone(analysed), Arc::clone(&evidence));
        let work = off_the_thread(move || Matrix::of(&of, &by.prior));
        let matrix = self.kept::<Kept<16, Asked, Matrix>>().get(asked, work).await?;
        Ok((matrix, evidence))
    }
}
