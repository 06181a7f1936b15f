//! What is done at the bench besides mixing and reading.

use bench::BenchEvent;
use plan::CellNumber;
use store::{Last, TrialId};

use crate::clock::now;
use crate::error::WorkshopError;
use crate::prompt::drying_on_sheet;
use crate::workshop::Workshop;

impl Workshop {
    /// Records one thing that was done or seen.
    ///
    /// # Errors
    /// [`store::StoreError::Refused`] for what cannot have been done to the paint as it stands.
    pub async fn record(
        &self,
        id: TrialId,
        event: BenchEvent,
        token: Option<&str>,
    ) -> Result<(), WorkshopError> {
        self.record_all(id, &[event], token).await
    }

    /// Records several things that were done in one go, and are taken back in one.
    ///
    /// # Errors
    /// As [`Workshop::record`].
    pub async fn record_all(
        &self,
        id: TrialId,
        events: &[BenchEvent],
        token: Option<&str>,
    ) -> Result<(), WorkshopError> {
        let trial = self.trial(id).await?;
        for number in events.iter().filter_map(BenchEvent::swatch) {
            trial.swatch(number)?;
        }
        self.store.record_events(id, events, token, |_| true).await?;
        self.news.tell(id);
        Ok(())
    }

    /// Records that everything that is laid on the sheet of this swatch is dry.
    ///
    /// # Errors
    /// As [`Workshop::record`].
    pub async fn dry_sheet(
        &self,
        id: TrialId,
        number: CellNumber,
        token: Option<&str>,
    ) -> Result<(), WorkshopError> {
        let trial = self.trial(id).await?;
        let Some((run, sheet)) = trial.run().zip(trial.sheet_with(number)) else { return Ok(()) };
        let on_sheet = sheet.cells.iter().filter(|cell| !cell.again).map(|cell| cell.number);
        let mut on_sheet: Vec<CellNumber> = on_sheet.collect();
        on_sheet.sort_unstable();
        let swatches = drying_on_sheet(run, &on_sheet, now());
        if swatches.is_empty() {
            return Ok(());
        }
        self.record(id, BenchEvent::Dry { swatches }, token).await
    }

    /// Voids a swatch and all its readings, with the reason: it is painted again.
    ///
    /// # Errors
    /// As [`Workshop::record`].
    pub async fn spoil(
        &self,
        id: TrialId,
        number: CellNumber,
        reason: &str,
        token: Option<&str>,
    ) -> Result<(), WorkshopError> {
        let trial = self.trial(id).await?;
        let swatch = trial.swatch(number)?.id;
        self.store.spoil(id, (swatch, number), reason, token).await?;
        self.stop_waiting(id);
        self.news.tell(id);
        Ok(())
    }

    /// Takes back what a page showed as recorded last; nothing where another table recorded since.
    ///
    /// # Errors
    /// When the records cannot be written.
    pub async fn undo(&self, id: TrialId, shown: Last) -> Result<(), WorkshopError> {
        if self.store.undo(id, shown).await? {
            self.news.tell(id);
        }
        Ok(())
    }
}
