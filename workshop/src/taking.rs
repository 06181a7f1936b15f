//! Taking readings: a swatch under the meter, and the result into the records.

use bench::{BenchEvent, Tile};
use colour::StatedLab;
use instruments::{DeviceError, Specimen};
use plan::CellNumber;
use store::{How, PlannedSwatch, StoreError, TrialId};
use study::{Measured, RatioError, State};

use crate::clock::now;
use crate::error::WorkshopError;
use crate::open_trial::OpenTrial;
use crate::work_order::WorkOrder;
use crate::workshop::Workshop;

/// Held while everything that is left is read: one run of it at a time.
#[derive(Debug, Default)]
struct ReadingAll(tokio::sync::Mutex<()>);

impl Workshop {
    /// Takes `count` readings of a swatch with the meter and stores each as soon as it is there.
    ///
    /// # Errors
    /// When the meter does not answer or the records cannot be written; what was stored stays.
    pub async fn take(
        &self,
        trial: &OpenTrial,
        planned: &PlannedSwatch,
        state: State,
        count: usize,
    ) -> Result<(), WorkshopError> {
        for more in 0..count {
            let specimen = specimen(trial, planned, state, more);
            let (read, meter) = self.devices.read(specimen).await?;
            let measured = Measured::Spectrum(read);
            let how = (meter.how(), None);
            self.store.record(trial.id, planned.id, state, &measured, how).await?;
        }
        self.news.tell(trial.id);
        Ok(())
    }

    /// Takes one reading; one whose token is known was taken before.
    ///
    /// # Errors
    /// As [`Workshop::take`].
    pub async fn take_one(
        &self,
        trial: &OpenTrial,
        planned: &PlannedSwatch,
        state: State,
        token: Option<&str>,
    ) -> Result<(), WorkshopError> {
        self.take_wanted(trial, planned, (state, token), || true).await
    }

    /// The same, for a reading that may not be wanted any more once the meter has answered.
    pub(crate) async fn take_wanted(
        &self,
        trial: &OpenTrial,
        planned: &PlannedSwatch,
        (state, token): (State, Option<&str>),
        wanted: impl FnOnce() -> bool,
    ) -> Result<(), WorkshopError> {
        if self.is_recorded(token).await? {
            return Ok(());
        }
        let (read, meter) = self.devices.read(specimen(trial, planned, state, 0)).await?;
        let measured = Measured::Spectrum(read);
        if wanted() {
            let how = (meter.how(), token);
            self.store.record(trial.id, planned.id, state, &measured, how).await?;
            self.news.tell(trial.id);
        }
        Ok(())
    }

    async fn is_recorded(&self, token: Option<&str>) -> Result<bool, WorkshopError> {
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
        trial: &OpenTrial,
        tile: Tile,
        token: Option<&str>,
    ) -> Result<(), WorkshopError> {
        if self.is_recorded(token).await? {
            return Ok(());
        }
        let before =
            trial.log.iter().filter(|it| matches!(it.event, BenchEvent::Tile { .. })).count();
        let (read, meter) = self.devices.read(Specimen::tile(tile, before as u64)).await?;
        let own = &trial.circumstances;
        if own.meter_known && own.protocol.geometry != meter.geometry {
            let (meter, trial) = (meter.geometry, own.protocol.geometry);
            return Err(StoreError::OtherGeometry { meter, trial }.into());
        }
        let event =
            BenchEvent::Tile { tile, bands: read.bands().to_vec(), simulated: meter.simulated };
        self.store.record_events(trial.id, &[event], token, |_| true).await?;
        self.news.tell(trial.id);
        Ok(())
    }

    /// Lets the simulated bench paint and read every swatch that is left. A real meter reads what
    /// lies under it, and never this.
    ///
    /// # Errors
    /// [`WorkshopError::NotNow`] without a simulated meter, and where it is going on already.
    pub async fn read_rest(&self, id: TrialId) -> Result<(), WorkshopError> {
        if !self.meter_info().is_some_and(|meter| meter.simulated) {
            return Err(WorkshopError::NotNow(
                "a meter reads only the square that it lies on, so nothing was recorded; take one reading \
                 at a time"
                    .into(),
            ));
        }
        let reading_all = self.kept::<ReadingAll>();
        let Ok(_one_at_a_time) = reading_all.0.try_lock() else {
            return Err(WorkshopError::NotNow(
                "everything that is left is being read already; wait until that is done".into(),
            ));
        };
        let trial = self.trial(id).await?;
        for planned in WorkOrder::of(&trial).swatches() {
            self.read_all(id, planned.swatch.number).await?;
        }
        Ok(())
    }

    /// Lays a swatch as planned, where it was not, and takes every dry reading that it misses, with
    /// the simulated devices.
    ///
    /// # Errors
    /// As [`Workshop::take`].
    pub async fn read_all(&self, id: TrialId, number: CellNumber) -> Result<(), WorkshopError> {
        let trial = self.trial(id).await?;
        if trial.dry_readings_missing(trial.swatch(number)?.id) == 0 {
            return Ok(());
        }
        self.lay_as_planned(&trial, number).await?;
        match self.take_missing(id, number).await {
            // A head that was moved is laid down again.
            Err(WorkshopError::Device(DeviceError::Failed { .. })) => {
                self.take_missing(id, number).await
            }
            taken => taken,
        }
    }

    async fn take_missing(&self, id: TrialId, number: CellNumber) -> Result<(), WorkshopError> {
        let trial = self.trial(id).await?;
        let planned = trial.swatch(number)?;
        self.take(&trial, planned, State::Dry, trial.dry_readings_missing(planned.id)).await
    }

    /// Whether another reading of a swatch is asked for: a trial in which nothing is left to do takes
    /// more only where they are asked for as such.
    ///
    /// # Errors
    /// [`WorkshopError::NotNow`] where it is not.
    pub fn still_asked(
        &self,
        trial: &OpenTrial,
        planned: &PlannedSwatch,
        again: bool,
    ) -> Result<(), WorkshopError> {
        // Where no reading was planned, every one is asked for.
        let by_eye = trial.circumstances.repeats == 0;
        if again || by_eye || trial.missing(planned.id, State::Dry) > 0 {
            return Ok(());
        }
        if WorkOrder::of(trial).next(now()).is_some() {
            return Ok(());
        }
        Err(WorkshopError::NotNow(
            "this trial is finished, so nothing was recorded; press “Read again” at its square to take \
             another reading"
                .into(),
        ))
    }

    /// Stores a colour that was typed, under the trial's conditions; what waited is given up.
    ///
    /// # Errors
    /// As [`store::Store::record`].
    pub async fn type_in(
        &self,
        trial: &OpenTrial,
        planned: &PlannedSwatch,
        (state, lab): (State, StatedLab),
        token: Option<&str>,
    ) -> Result<(), WorkshopError> {
        let measured = Measured::Lab(lab);
        self.store.record(trial.id, planned.id, state, &measured, (How::Typed, token)).await?;
        self.stop_waiting(trial.id);
        Ok(())
    }
}

/// What lies under the meter, `more` readings after the last stored one.
pub(crate) fn specimen(
    trial: &OpenTrial,
    planned: &PlannedSwatch,
    state: State,
    more: usize,
) -> Specimen {
    let read = trial.readings_of(planned.id).count();
    let labels = trial.labels();
    let (swatch, run) = (&planned.swatch, trial.run());
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
