//! The order of the work: as planned, or by number for a trial that came from a file.

use bench::{Next, Run, Time};
use plan::CellNumber;
use store::PlannedSwatch;

use crate::open_trial::OpenTrial;

/// The swatches in the order of work, and how far it has come.
pub struct WorkOrder<'a> {
    trial: &'a OpenTrial,
    order: Vec<&'a PlannedSwatch>,
}

impl<'a> WorkOrder<'a> {
    /// Of a trial.
    #[must_use]
    pub fn of(trial: &'a OpenTrial) -> Self {
        let planned = trial.planned().map(|plan| {
            let by_number = |number: CellNumber| {
                number.of(&trial.swatches).filter(|it| it.swatch.number == number)
            };
            plan.turns().iter().filter_map(|turn| by_number(turn.swatch)).collect()
        });
        let order: Vec<&PlannedSwatch> = planned.unwrap_or_else(|| trial.swatches.iter().collect());
        Self { trial, order }
    }

    /// The swatches in this order.
    #[must_use]
    pub fn swatches(&self) -> &[&'a PlannedSwatch] {
        &self.order
    }

    /// The bench as it stands; `None` for a trial that came from a file.
    #[must_use]
    pub fn run(&self) -> Option<&'a Run> {
        self.trial.run()
    }

    /// The first swatch that has too few dry readings.
    #[must_use]
    pub fn first_open(&self) -> Option<&'a PlannedSwatch> {
        self.order.iter().copied().find(|it| self.trial.dry_readings_missing(it.id) > 0)
    }

    /// The swatch to go on with: the one that is due, else the one that is dry first.
    #[must_use]
    pub fn next(&self, now: Time) -> Option<CellNumber> {
        match self.trial.run() {
            Some(run) => match run.next(now) {
                Next::Do { swatch, .. } | Next::Wait { swatch, .. } => Some(swatch),
                Next::Finished => None,
            },
            None => self.first_open().map(|it| it.swatch.number),
        }
    }

    /// Place of a swatch in the order.
    #[must_use]
    pub fn place(&self, number: CellNumber) -> usize {
        self.order.iter().position(|it| it.swatch.number == number).unwrap_or_default()
    }

    /// Number of the swatch at a place.
    #[must_use]
    pub fn number(&self, place: usize) -> Option<CellNumber> {
        self.order.get(place).map(|it| it.swatch.number)
    }
}
