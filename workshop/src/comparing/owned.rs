//! Tubes of the shelf that may make a trial needless: look-alikes of what is to be tested.

use compare::ALIKE;
use store::{ShelfTube, TrialSummary, TubeId};
use study::same_code;

use crate::error::WorkshopError;
use crate::workshop::Workshop;

/// So many are told of one plan.
const TOLD: usize = 3;

/// A tube that is to be tested, and one of the shelf that is like it.
#[derive(Debug, Clone)]
pub struct OwnedTwin {
    /// To be tested.
    pub tested: ShelfTube,
    /// On the shelf, and read already.
    pub owned: ShelfTube,
    /// ΔE00 at equal strength by K and S; `None` where the tested one was never read and declares the same pigments.
    pub distance: Option<f64>,
}

impl Workshop {
    /// What the shelf holds that is like `tested`, those tubes left out that the plan holds anyway: these are about to
    /// be compared.
    pub(crate) async fn owned_twins(
        &self,
        trials: &[TrialSummary],
        shelf: &[ShelfTube],
        tested: &[ShelfTube],
        in_plan: &[TubeId],
    ) -> Result<Vec<OwnedTwin>, WorkshopError> {
        if tested.is_empty() {
            return Ok(Vec::new());
        }
        let alike = self.look_alikes(trials).await?;
        let mut twins = Vec::new();
        for tube in tested {
            let near = alike
                .beside(tube.id)
                .filter(|(other, pair)| pair.distance <= ALIKE && !in_plan.contains(&other.id));
            let near = near.map(|(other, pair)| (other.clone(), Some(pair.distance)));
            let mut found: Vec<(ShelfTube, Option<f64>)> = near.take(1).collect();
            if !alike.is_known(tube.id) {
                let same = shelf.iter().find(|other| {
                    alike.is_known(other.id)
                        && !in_plan.contains(&other.id)
                        && same_code(&other.tube.code(), &tube.tube.code())
                });
                found.extend(same.map(|other| (other.clone(), None)));
            }
            twins.extend(found.into_iter().map(|(owned, distance)| OwnedTwin {
                tested: tube.clone(),
                owned,
                distance,
            }));
        }
        twins.truncate(TOLD);
        Ok(twins)
    }
}

impl OwnedTwin {
    /// `You own a look-alike of Ultramarine Blue: Canopy Ultramarine, ΔE00 1.3 at equal strength, as predicted.`
    #[must_use]
    pub fn sentence(&self) -> String {
        let (tested, owned) = (&self.tested.tube, &self.owned.tube);
        match self.distance {
            Some(off) => format!(
                "You own a look-alike of {}: {}, predicted to differ by ΔE00 {off:.1} at equal strength.",
                tested.name, owned.name
            ),
            None => format!(
                "You own another {}, read already: {}. Put both in this trial to learn whether one is enough.",
                tested.code(),
                owned.name
            ),
        }
    }
}
