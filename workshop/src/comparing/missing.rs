//! The fewest swatches that make tubes comparable.

use plan::{Question, Supply, Tests};
use store::{TrialSummary, TubeId};
use study::Basis;

use crate::error::WorkshopError;
use crate::knowledge::of_newest;
use crate::planning::{ThinningRequest, TintRequest, TrialRequest};
use crate::workshop::Workshop;

/// Parts of white of the tints.
const TINTS: [f64; 3] = [1.0, 4.0, 16.0];

impl Workshop {
    /// A trial of the mass tones of these tubes and of three tints of each, with the white that they were last tried
    /// with, else that of the newest trial or palette.
    ///
    /// # Errors
    /// [`WorkshopError::NotNow`] where no white is known.
    pub async fn missing_swatches(
        &self,
        trials: &[TrialSummary],
        tubes: &[TubeId],
    ) -> Result<TrialRequest, WorkshopError> {
        let telling = self.telling(trials).await?;
        let mut white = of_newest(&telling, |tube| tubes.contains(&tube));
        white = white.or_else(|| of_newest(&telling, |_| true));
        if white.is_none() {
            let palettes = self.store.palettes().await?;
            white = palettes.iter().find_map(|it| it.white()).map(|tube| tube.id);
        }
        let Some(white) = white else {
            return Err(WorkshopError::NotNow(
                "no white is known to make tints with: put one on a palette, then plan again"
                    .into(),
            ));
        };
        let usual = TrialRequest::new("");
        let by_meter = self.meter_info().is_some();
        let measure = if by_meter { Basis::Weight } else { Basis::Eye };
        Ok(TrialRequest {
            question: Question::Stronger,
            tested: tubes.iter().copied().filter(|tube| *tube != white).collect(),
            white: Some(white),
            tints: TintRequest::Tested,
            thinning: ThinningRequest::ByMedium { alone: TINTS.to_vec(), mixtures: Vec::new() },
            tests: Tests { opacity: by_meter, lift: false, wet: false },
            repeats: u32::from(by_meter),
            supply: Supply { measure, ..usual.supply },
            ..usual
        })
    }
}
