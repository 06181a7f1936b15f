//! The order of the work: as planned, or by number for a trial that came from a file.

use bench::{Next, Run};
use store::{PlannedSwatch, Trial};

/// The swatches in the order of work, and how far it has come.
pub(crate) struct WorkOrder<'a> {
    trial: &'a Trial,
    order: Vec<&'a PlannedSwatch>,
    run: Option<Run>,
}

impl<'a> WorkOrder<'a> {
    pub fn of(trial: &'a Trial) -> Self {
        let planned = trial.planned().map(|plan| {
            let by_number = |number: u32| {
                // Swatches are stored by number, from 1.
                trial.swatches.get(number as usize - 1).filter(|it| it.swatch.number == number)
            };
            plan.turns().iter().filter_map(|turn| by_number(turn.swatch)).collect()
        });
        let order: Vec<&PlannedSwatch> = planned.unwrap_or_else(|| trial.swatches.iter().collect());
        Self { trial, order, run: trial.run() }
    }

    /// The swatches in this order.
    pub fn swatches(&self) -> &[&'a PlannedSwatch] {
        &self.order
    }

    /// The bench as it stands; `None` for a trial that came from a file.
    pub fn run(&self) -> Option<&Run> {
        self.run.as_ref()
    }

    /// The first swatch that has too few dry readings.
    pub fn first_open(&self) -> Option<&'a PlannedSwatch> {
        self.order.iter().copied().find(|it| self.trial.dry_readings_missing(it.id) > 0)
    }

    /// The swatch to go on with: the one that is due, else the one that is dry first.
    pub fn next(&self, now: i64) -> Option<u32> {
        match &self.run {
            Some(run) => match run.next(now) {
                Next::Do { swatch, .. } | Next::Wait { swatch, .. } => Some(swatch),
                Next::Finished => None,
            },
            None => self.first_open().map(|it| it.swatch.number),
        }
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
