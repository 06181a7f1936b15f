//! The fewest swatches that make tubes comparable.

use plan::{Question, Supply, Tests};
use store::{TrialSummary, TubeId};
use study::Basis;

use crate::error::WorkshopError;
use crate::planning::{ThinningRequest, TintRequest, TrialRequest};
use crate::workshop::Workshop;

/// Parts of white of the tints.
const TINTS: [f64; 3] = [1.0, 4.0, 16.0];

impl Workshop {
    /// A trial of the mass tones of these tubes and of three tints of each, with the white that they, or else the
    /// newest palette, were last tried with.
    ///
    /// # Errors
    /// [`WorkshopError::NotNow`] where no white is known.
    pub async fn missing_swatches(
        &self,
        trials: &[TrialSummary],
        tubes: &[TubeId],
    ) -> Result<TrialRequest, WorkshopError> {
        let mut white = None;
        for analysed in self.telling(trials).await? {
            let trial = &analysed.trial;
            let holds = trial.tubes.iter().any(|tube| tubes.contains(&tube.tube.id));
            if holds && let Some(place) = trial.white() {
                white = Some(trial.tubes[place.0].tube.id);
                break;
            }
        }
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
