//! Recipes that were painted and do the same as a tube: a meter read it, or somebody held the two beside each other.

use bench::BesideAim;
use store::{TrialSummary, TubeId};
use study::numbers::parts;
use study::{Mixture, TubeRef};

use super::asked::RecipeAsked;
use super::recipe::Aim;
use crate::error::WorkshopError;
use crate::knowledge::KnownShelf;
use crate::open_trial::OpenTrial;
use crate::workshop::Workshop;

/// A mixture that does the same as a tube.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Confirmed {
    /// `3 Awning Blue + 5 Lantern Yellow`.
    pub mixture: String,
    /// The trial it was painted in.
    pub trial: String,
    /// By eye, and not by a meter.
    pub by_eye: bool,
}

impl Confirmed {
    fn of(trial: &OpenTrial, mixture: &Mixture, by_eye: bool) -> Self {
        let called = trial.called();
        let name = |tube: TubeRef| called.get(tube.0).map_or("?", |it| it.name.as_str());
        let each =
            mixture.parts().iter().map(|part| format!("{} {}", parts(part.parts), name(part.tube)));
        let mixture = each.collect::<Vec<_>>().join(" + ");
        Self { mixture, trial: trial.name.clone(), by_eye }
    }
}

impl KnownShelf {
    /// A mixture that does the same as a tube: by its reading, else by eye.
    pub(super) fn confirmed(
        &self,
        place: usize,
        by_eye: &[(TubeId, Confirmed)],
    ) -> Option<Confirmed> {
        let id = self.tubes[place].id;
        let target = self.target(place)?;
        let read = self.telling.iter().find_map(|analysed| {
            // A trial without the tube can confirm it as well: no part of it is that tube.
            let tubes = &analysed.trial.tubes;
            let at = tubes.iter().position(|it| it.tube.id == id).unwrap_or(usize::MAX);
            let told = analysed.averages();
            let mixture = decide::confirmed_by(&analysed.study, told, TubeRef(at), &target)?;
            Some(Confirmed::of(&analysed.trial, mixture, false))
        });
        read.or_else(|| by_eye.iter().find(|it| it.0 == id).map(|it| it.1.clone()))
    }
}

impl Workshop {
    /// Tubes beside which somebody held a recipe, alone and with white, and saw no difference, the newest first. What a
    /// meter read of such a recipe is believed, and not the eye.
    ///
    /// # Errors
    /// When the records cannot be read.
    pub(super) async fn confirmed_by_eye(
        &self,
        trials: &[TrialSummary],
    ) -> Result<Vec<(TubeId, Confirmed)>, WorkshopError> {
        let mut confirmed = Vec::new();
        for summary in trials.iter().filter(|it| it.stamp.log > 0 && !it.put_away) {
            let Ok(trial) = self.listed(summary).await else { continue };
            confirmed.extend(seen_same(&trial));
        }
        Ok(confirmed)
    }
}

/// The tube that a recipe's trial aims at, where all of its squares look the same.
fn seen_same(trial: &OpenTrial) -> Option<(TubeId, Confirmed)> {
    let (planned, run) = (trial.plan.as_ref()?, trial.run()?);
    let Ok(Some(Aim::Tube(aim))) = RecipeAsked::from_fields(&planned.design.aim).aim() else {
        return None;
    };
    let by_meter =
        |it: &store::StoredReading| it.reading.void.is_none() && it.reading.from_picture.is_none();
    if trial.readings.iter().any(|it| by_meter(it))
        || trial.tubes.iter().any(|it| it.tube.id == aim)
    {
        return None;
    }
    let looks = trial.recipe_squares();
    let is_same = |number: &plan::CellNumber| {
        run.square(*number).is_some_and(|it| it.looks.beside == Some(BesideAim::Same))
    };
    let first = planned.plan.swatches.first()?;
    (!looks.is_empty() && looks.iter().all(is_same))
        .then(|| (aim, Confirmed::of(trial, &first.mixture, true)))
}

impl OpenTrial {
    /// The painted squares of a recipe's trial, alone and with white; none where it is no recipe's.
    #[must_use]
    pub fn recipe_squares(&self) -> Vec<plan::CellNumber> {
        let planned = self.plan.as_ref().filter(|it| !it.design.aim.is_empty());
        let squares = planned.map_or(&[][..], |it| it.plan.swatches.as_slice());
        let painted = squares.iter().enumerate().filter(|(_, it)| !it.mixture.is_bare());
        painted.map(|(place, _)| plan::CellNumber::at(place)).collect()
    }
}
