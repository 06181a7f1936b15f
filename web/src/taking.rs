//! Taking readings: a swatch under the meter, and the result into the records.

use bench::{BenchEvent, Made, Tile, is_laid};
use instruments::Specimen;
use store::{PlannedSwatch, StoreError, Trial};
use study::{Measured, RatioError, State};

use crate::error::PageError;
use crate::state::AppState;

impl AppState {
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
        for more in 0..count {
            let specimen = specimen(trial, planned, state, more);
            let (read, meter) = self.read(specimen).await?;
            let measured = Measured::Spectrum(read);
            let how = (meter.how(), None);
            self.store.record(trial.id, planned.id, state, &measured, how).await?;
        }
        self.news.tell(trial.id);
        Ok(())
    }

    /// Takes one reading; one whose token is known was taken before.
    pub(crate) async fn take_one(
        &self,
        trial: &Trial,
        planned: &PlannedSwatch,
        state: State,
        token: Option<&str>,
    ) -> Result<(), PageError> {
        self.take_wanted(trial, planned, (state, token), || true).await
    }

    /// The same, for a reading that may not be wanted any more once the meter has answered.
    pub(crate) async fn take_wanted(
        &self,
        trial: &Trial,
        planned: &PlannedSwatch,
        (state, token): (State, Option<&str>),
        wanted: impl FnOnce() -> bool,
    ) -> Result<(), PageError> {
        if self.is_recorded(token).await? {
            return Ok(());
        }
        let (read, meter) = self.read(specimen(trial, planned, state, 0)).await?;
        let measured = Measured::Spectrum(read);
        if wanted() {
            let how = (meter.how(), token);
            self.store.record(trial.id, planned.id, state, &measured, how).await?;
            self.news.tell(trial.id);
        }
        Ok(())
    }

    /// Lets the simulated bench mix a swatch as planned and lay it, where it was not: its piles first.
    ///
    /// # Errors
    /// When the records cannot be written.
    pub async fn lay_as_planned(&self, trial: &Trial, number: u32) -> Result<(), PageError> {
        let Some((run, plan)) = trial.run().zip(trial.plan.as_ref()) else { return Ok(()) };
        if is_laid(&trial.log, number) {
            return Ok(());
        }
        let how = plan.design.supply.measure;
        let made = |step| BenchEvent::Made(Made { step, how, parts: Vec::new(), simulated: true });
        let piles = run.to_make(number).into_iter().map(made);
        let deeds: Vec<BenchEvent> = piles.chain([BenchEvent::Laid { swatch: number }]).collect();
        self.store.record_deeds(trial.id, &deeds, None, |_| true).await?;
        Ok(())
    }

    async fn is_recorded(&self, token: Option<&str>) -> Result<bool, PageError> {
        match token {
            Some(token) => Ok(self.store.is_recorded(token).await?),
            None => Ok(false),
        }
    }

    /// Reads a tile.
    ///
    /// # Errors
    /// When the meter does not answer or the records cannot be written.
    pub async fn take_tile(
        &self,
        trial: &Trial,
        tile: Tile,
        token: Option<&str>,
    ) -> Result<(), PageError> {
        if self.is_recorded(token).await? {
            return Ok(());
        }
        let before =
            trial.log.iter().filter(|it| matches!(it.deed, BenchEvent::Tile { .. })).count();
        let (read, meter) = self.read(Specimen::tile(tile, before as u64)).await?;
        let own = &trial.circumstances;
        if own.meter_known && own.protocol.geometry != meter.geometry {
            let (meter, trial) = (meter.geometry, own.protocol.geometry);
            return Err(StoreError::OtherGeometry { meter, trial }.into());
        }
        let deed =
            BenchEvent::Tile { tile, bands: read.bands().to_vec(), simulated: meter.simulated };
        self.store.record_deeds(trial.id, &[deed], token, |_| true).await?;
        self.news.tell(trial.id);
        Ok(())
    }
}

/// What lies under the meter, `more` readings after the last stored one.
fn specimen(trial: &Trial, planned: &PlannedSwatch, state: State, more: usize) -> Specimen {
    let read = trial.readings_of(planned.id).count();
    let labels = trial.labels();
    let (swatch, run) = (&planned.swatch, trial.run());
    let run = run.as_ref();
    let spoilt = run.and_then(|run| run.square(swatch.number)).map_or(0, |it| it.spoilt.len());
    let mixture = run.and_then(|run| run.mixture(swatch.number)).unwrap_or(&swatch.mixture);
    let paint = |part: &study::Part| Some((labels.get(part.tube.0)?.clone(), part.parts));
    Specimen {
        swatch: planned.id.0.unsigned_abs(),
        pile: spoilt as u64,
        occasion: (read + more) as u64,
        paints: mixture.parts().iter().filter_map(paint).collect(),
        by_eye: run.is_some_and(|run| run.ratio_error(swatch.number) == RatioError::ByEye),
        backing: swatch.backing,
        film: swatch.film,
        state,
    }
}
