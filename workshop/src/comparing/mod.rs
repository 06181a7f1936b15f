//! Tubes of the shelf beside each other, from all that was read of them.
//!
//! 1. `gathered`: trials of one footing as one study.
//! 2. `pairs`: every two of the chosen tubes; `beside`: each tube beside the standard.
//! 3. `by_eye`: what eyes alone have judged; `drifted`: a tube read more than once.
//! 4. `missing`: what would make two of them comparable.
//! 5. `shelf`: every tube of the shelf beside every other; `owned`: look-alikes of what is to be tested.

mod beside;
mod by_eye;
mod drifted;
mod gathered;
mod missing;
mod owned;
mod pairs;
mod shelf;

use std::sync::{Arc, Mutex};

pub use beside::{Beside, OneStep, PartnerSquare, WithPartner};
use colour::Conditions;
pub use drifted::TubeDrift;
use gathered::Gathered;
pub use owned::OwnedTwin;
pub use pairs::ComparedPair;
pub use shelf::{MostLike, ShelfLookAlike, ShelfLookAlikes};
use store::{ShelfTube, Stamp, StoreError, TrialId, TrialSummary, TubeId};

use crate::analysed::AnalysedTrial;
use crate::background::off_the_thread;
use crate::cache::lock;
use crate::error::WorkshopError;
use crate::workshop::Workshop;

/// Tubes that are compared at once.
pub const MOST_COMPARED: usize = 12;
/// Comparisons that are kept.
const KEPT: usize = 8;

/// Tubes beside each other.
#[derive(Debug)]
pub struct Comparison {
    /// The chosen tubes, in their order, the standard first.
    pub tubes: Vec<Beside>,
    /// Illuminant and observer of every colour.
    pub conditions: Conditions,
    /// Depths of the rack, ΔE*ab from the white, the deepest first; empty where the tubes share none.
    pub depths: Vec<f64>,
    /// Each with each.
    pub pairs: Vec<ComparedPair>,
    /// With each partner that the standard and another tube were mixed with, at equal strength.
    pub partners: Vec<WithPartner>,
    /// What eyes alone have judged of them.
    pub by_eye: Vec<String>,
    /// Tubes among them that were read more than once.
    pub drifts: Vec<TubeDrift>,
    /// The parts of its tints were weighed.
    pub by_weight: bool,
}

/// What a kept comparison was asked for, and of what.
#[derive(Debug, PartialEq)]
struct Asked {
    tubes: Vec<ShelfTube>,
    trials: Vec<(TrialId, Stamp)>,
    red_is_warm: bool,
}

/// Comparisons and look-alikes that were worked out already.
#[derive(Debug, Default)]
pub(crate) struct Compared {
    kept: Mutex<Vec<(Asked, Arc<Comparison>)>>,
    shelf: Mutex<Option<(Asked, Arc<ShelfLookAlikes>)>>,
}

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
        let asked = Asked { tubes, trials: stamps(trials), red_is_warm };
        if let Some((_, known)) = lock(&self.compared.kept).iter().find(|(it, _)| *it == asked) {
            return Ok(Arc::clone(known));
        }
        let mut telling = self.telling(trials).await?;
        telling.retain(|it| it.trial.tubes.iter().any(|tube| chosen.contains(&tube.tube.id)));
        let by_eye = self.judged_of(trials, &chosen, red_is_warm).await?;
        let tubes = asked.tubes.clone();
        let worked = off_the_thread(move || Comparison::of(&tubes, &telling, by_eye)).await?;
        let comparison = Arc::new(worked);
        let mut kept = lock(&self.compared.kept);
        kept.retain(|(it, _)| it.tubes != asked.tubes);
        kept.insert(0, (asked, Arc::clone(&comparison)));
        kept.truncate(KEPT);
        Ok(comparison)
    }
}

fn stamps(trials: &[TrialSummary]) -> Vec<(TrialId, Stamp)> {
    let open = trials.iter().filter(|it| !it.put_away);
    open.map(|it| (it.id, it.stamp)).collect()
}

impl Comparison {
    fn of(tubes: &[ShelfTube], telling: &[Arc<AnalysedTrial>], by_eye: Vec<String>) -> Self {
        let gathered = Gathered::all(telling);
        let pairs = pairs::all(tubes, &gathered);
        let (depths, beside) = beside::all(tubes, &gathered, &pairs);
        let partners = beside::partners(tubes.len(), &pairs);
        let drifts = drifted::all(tubes, telling);
        let first = gathered.first();
        Self {
            tubes: beside,
            conditions: first.map_or(Conditions::D65_10, Gathered::conditions),
            depths,
            pairs,
            partners,
            by_eye,
            drifts,
            by_weight: first.is_none_or(|it| it.protocol().basis == study::Basis::Weight),
        }
    }

    /// Two of its tubes, by their places.
    #[must_use]
    pub fn pair(&self, one: usize, other: usize) -> Option<&ComparedPair> {
        self.pairs.iter().find(|pair| pair.of == [one.min(other), one.max(other)])
    }
}
