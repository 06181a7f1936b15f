//! Taking readings: a swatch under the meter, and the result into the records.

use instruments::Specimen;
use store::{PlannedSwatch, Store, Trial};
use trial::{Measured, State};

use crate::error::PageError;
use crate::state::AppState;

impl AppState {
    /// The records.
    #[must_use]
    pub fn store(&self) -> &Store {
        &self.store
    }

    /// Takes `count` readings of a swatch with the meter and stores each as soon as it is there.
    ///
    /// # Errors
    /// When the meter does not answer or the records cannot be written; what was stored stays.
    pub async fn take(
        &self,
        trial: &Trial,
        planned: &PlannedSwatch,
        state: State,
        count: usize,
    ) -> Result<(), PageError> {
        let (meter, ..) = self.about_meter();
        for more in 0..count {
            let specimen = specimen(trial, planned, state, more);
            let measured = Measured::Spectrum(self.read(specimen).await?);
            self.store.record(trial.id, planned.id, state, &measured, &meter).await?;
        }
        Ok(())
    }
}

/// What lies under the meter, `more` readings after the last stored one.
fn specimen(trial: &Trial, planned: &PlannedSwatch, state: State, more: usize) -> Specimen {
    let of_swatch = || trial.readings.iter().filter(|stored| stored.swatch == planned.id);
    let labels = trial.labels();
    let swatch = &planned.swatch;
    Specimen {
        swatch: planned.id.0.unsigned_abs(),
        pile: of_swatch().filter(|stored| stored.reading.void.is_some()).count() as u64,
        occasion: (of_swatch().count() + more) as u64,
        paints: swatch
            .mixture
            .parts()
            .iter()
            .filter_map(|part| Some((labels.get(part.tube.0)?.clone(), part.parts)))
            .collect(),
        backing: swatch.backing,
        film: swatch.film,
        state,
    }
}
