//! Comparisons and look-alikes that were worked out already.

use std::sync::{Arc, Mutex};

use store::{ShelfTube, Stamp, TrialId, TrialSummary};

use super::comparison::Comparison;
use super::shelf::ShelfLookAlikes;
use crate::cache::lock;

/// Comparisons that are kept.
const KEPT: usize = 8;

/// What a kept answer was asked for, and of what.
#[derive(Debug, PartialEq)]
pub(crate) struct Asked {
    tubes: Vec<ShelfTube>,
    trials: Vec<(TrialId, Stamp)>,
    red_is_warm: bool,
}

impl Asked {
    /// These tubes, of the trials as they stand now.
    pub fn of(tubes: Vec<ShelfTube>, trials: &[TrialSummary], red_is_warm: bool) -> Self {
        let open = trials.iter().filter(|it| !it.put_away);
        let trials = open.map(|it| (it.id, it.stamp)).collect();
        Self { tubes, trials, red_is_warm }
    }
}

/// What is kept from request to request.
#[derive(Debug, Default)]
pub(crate) struct Compared {
    kept: Mutex<Vec<(Asked, Arc<Comparison>)>>,
    shelf: Mutex<Option<(Asked, Arc<ShelfLookAlikes>)>>,
}

impl Compared {
    pub(super) fn comparison(&self, asked: &Asked) -> Option<Arc<Comparison>> {
        let kept = lock(&self.kept);
        kept.iter().find(|(it, _)| it == asked).map(|(_, known)| Arc::clone(known))
    }

    pub(super) fn keep(&self, asked: Asked, comparison: &Arc<Comparison>) {
        let mut kept = lock(&self.kept);
        kept.retain(|(it, _)| it.tubes != asked.tubes);
        kept.insert(0, (asked, Arc::clone(comparison)));
        kept.truncate(KEPT);
    }

    pub(super) fn shelf(&self, asked: &Asked) -> Option<Arc<ShelfLookAlikes>> {
        let shelf = lock(&self.shelf);
        shelf.as_ref().filter(|it| it.0 == *asked).map(|(_, known)| Arc::clone(known))
    }

    pub(super) fn keep_shelf(&self, asked: Asked, found: &Arc<ShelfLookAlikes>) {
        *lock(&self.shelf) = Some((asked, Arc::clone(found)));
    }
}
