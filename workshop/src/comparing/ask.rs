//! What is asked of the shelf: worked out once, and kept as long as nothing changes.

use std::sync::Arc;

use store::{StoreError, TrialSummary, TubeId};

use super::comparison::Comparison;
use super::shelf::ShelfLookAlikes;
use crate::background::off_the_thread;
use crate::error::WorkshopError;
use crate::kept::{Kept, Same};
use crate::knowledge::{AsOf, KnownShelf};
use crate::workshop::Workshop;

/// Tubes that are compared at once.
pub const MOST_COMPARED: usize = 12;

impl Workshop {
    /// These tubes beside each other, the first as the standard, each named once.
    ///
    /// # Errors
    /// [`WorkshopError::NotNow`] for fewer than two tubes or more than [`MOST_COMPARED`].
    pub async fn compared(
        &self,
        trials: &[TrialSummary],
        ids: &[TubeId],
        red_is_warm: bool,
    ) -> Result<Arc<Comparison>, WorkshopError> {
        let mut chosen: Vec<TubeId> = Vec::new();
        for id in ids {
            if !chosen.contains(id) {
                chosen.push(*id);
            }
        }
        if chosen.len() > MOST_COMPARED {
            return Err(WorkshopError::NotNow(format!(
                "{} tubes are too many to stand beside each other: choose up to {MOST_COMPARED}. Which of the whole \
                 shelf behave alike stands below",
                chosen.len()
            )));
        }
        if chosen.len() < 2 {
            return Err(WorkshopError::NotNow("comparing takes two tubes".into()));
        }
        let shelf = self.store.shelf().await?;
        let mut tubes = Vec::new();
        for id in &chosen {
            let tube = shelf.iter().find(|tube| tube.id == *id);
            tubes.push(tube.ok_or(StoreError::NotFound("tube"))?.clone());
        }
        let asked = (AsOf::listed(tubes.clone(), trials), red_is_warm);
        let work = async {
            let mut telling = self.telling(trials).await?;
            telling.retain(|it| it.trial.tubes.iter().any(|tube| chosen.contains(&tube.tube.id)));
            let by_eye = self.judged_of(trials, &chosen, red_is_warm).await?;
            off_the_thread(move || Comparison::of(&tubes, &telling, by_eye)).await
        };
        self.kept::<Kept<8, (AsOf, bool), Comparison>>().get(asked, work).await
    }

    /// Which tubes of the shelf behave alike, by K and S of all that was read with the white that most were read with.
    ///
    /// # Errors
    /// When the records cannot be read.
    pub async fn look_alikes(
        &self,
        trials: &[TrialSummary],
    ) -> Result<Arc<ShelfLookAlikes>, WorkshopError> {
        let shelf = self.store.shelf().await?;
        let known = self.known_shelf(trials, &shelf).await?;
        let asked = Same::as_it(&known);
        let work = off_the_thread(move || ShelfLookAlikes::of(&known));
        self.kept::<Kept<2, Same<KnownShelf>, ShelfLookAlikes>>().get(asked, work).await
    }
}
