//! The order of a run: as planned, or by number for a trial that came from a file.

use store::{PlannedSwatch, Trial};

/// The swatches in the order of work.
pub(crate) struct Run<'a> {
    trial: &'a Trial,
    order: Vec<&'a PlannedSwatch>,
}

impl<'a> Run<'a> {
    pub fn of(trial: &'a Trial) -> Self {
        let planned = trial.planned().map(|plan| {
            let by_number = |number: u32| {
                // Swatches are stored by number, from 1.
                trial.swatches.get(number as usize - 1).filter(|it| it.swatch.number == number)
            };
            plan.turns().iter().filter_map(|turn| by_number(turn.swatch)).collect()
        });
        let order: Vec<&PlannedSwatch> = planned.unwrap_or_else(|| trial.swatches.iter().collect());
        Self { trial, order }
    }

    /// The swatches in this order.
    pub fn swatches(&self) -> &[&'a PlannedSwatch] {
        &self.order
    }

    /// The first swatch that has too few dry readings.
    pub fn first_open(&self) -> Option<&'a PlannedSwatch> {
        self.order.iter().copied().find(|it| self.trial.dry_readings_missing(it.id) > 0)
    }

    /// Place of a swatch in the order.
    pub fn place(&self, number: u32) -> usize {
        self.order.iter().position(|it| it.swatch.number == number).unwrap_or_default()
    }

    /// Number of the swatch at a place.
    pub fn number(&self, place: usize) -> Option<u32> {
        self.order.get(place).map(|it| it.swatch.number)
    }
}
