//! What a picture tells becomes readings, in one step, and is taken back in one.

use std::sync::Arc;

use colour::StatedLab;
use picture::CellRefusal;
use plan::CellNumber;
use store::{Adjusted, PictureColour, PictureId, StoreError, StoredPicture, TrialId, picture_name};
use study::{Calibration, FromPicture, Measured, State};

use super::read::PictureRead;
use super::square::Square;
use crate::error::WorkshopError;
use crate::workshop::Workshop;

/// Why readings of a picture do not count once they were taken back.
const TAKEN_BACK: &str = "taken back with its picture";
/// An outline may be moved so far either way, mm.
const FARTHEST: f64 = 30.0;

impl Workshop {
    /// Stores the readings of a picture, all in one step. Tells how many are new.
    ///
    /// # Errors
    /// When the records cannot be written, and as [`Workshop::picture`].
    pub async fn take_picture(
        &self,
        trial: TrialId,
        id: PictureId,
        state: State,
    ) -> Result<usize, WorkshopError> {
        let read = self.picture(trial, id).await?;
        let conditions = self.trial(trial).await?.circumstances.conditions;
        let name: Arc<str> = picture_name(&read.picture.content).into();
        let colour = |square: &Square| {
            let (lab, uncertainty) = square.read.lab.zip(square.read.u)?;
            Some(PictureColour {
                swatch: square.swatch,
                measured: Measured::Lab(StatedLab { lab, conditions }),
                from: FromPicture {
                    picture: Arc::clone(&name),
                    uncertainty,
                    calibration: calibration(&read, square),
                },
                simulated: read.simulated,
            })
        };
        let colours: Vec<PictureColour> = read.to_take().filter_map(colour).collect();
        // What no picture can hold is no better in another one; a shadow is gone in the next.
        let unread = read.squares.iter().filter(|it| it.read.why == Some(CellRefusal::Clipped));
        let unread: Vec<CellNumber> =
            unread.filter(|_| state == State::Dry).map(|it| CellNumber(it.read.number)).collect();
        let new = self.store.record_picture(&read.picture, state, &colours, &unread).await?;
        self.news.tell(trial);
        Ok(new)
    }

    /// Takes back all that a picture told. Tells how many readings that were.
    ///
    /// # Errors
    /// When the records cannot be written.
    pub async fn take_back_picture(
        &self,
        trial: TrialId,
        id: PictureId,
    ) -> Result<usize, WorkshopError> {
        let picture = self.store.picture(trial, id).await?;
        let done = self.store.take_back_picture(&picture, TAKEN_BACK).await?;
        self.news.tell(trial);
        Ok(done)
    }

    /// Leaves a square out, or takes it although it needs a look.
    ///
    /// # Errors
    /// When the records cannot be written.
    pub async fn leave_out(
        &self,
        trial: TrialId,
        id: PictureId,
        square: u32,
        leave_out: bool,
    ) -> Result<(), WorkshopError> {
        self.adjust(trial, (id, square), |adjusted| {
            if leave_out {
                adjusted.taken.remove(&square);
                adjusted.left_out.insert(square);
            } else {
                adjusted.left_out.remove(&square);
                adjusted.taken.insert(square);
            }
        })
        .await
    }

    /// Moves the outline of a square to so much right of and below where it was printed, mm; 0 puts it back.
    ///
    /// # Errors
    /// When the records cannot be written.
    pub async fn move_outline(
        &self,
        trial: TrialId,
        id: PictureId,
        square: u32,
        to: [f64; 2],
    ) -> Result<(), WorkshopError> {
        let to =
            to.map(|axis| if axis.is_finite() { axis.clamp(-FARTHEST, FARTHEST) } else { 0.0 });
        self.adjust(trial, (id, square), |adjusted| {
            if to.iter().all(|axis| axis.abs() < 0.01) {
                adjusted.moved.remove(&square);
            } else {
                adjusted.moved.insert(square, to);
            }
        })
        .await
    }

    async fn adjust(
        &self,
        trial: TrialId,
        (id, square): (PictureId, u32),
        change: impl FnOnce(&mut Adjusted) + Send,
    ) -> Result<(), WorkshopError> {
        let picture: StoredPicture = self.store.picture(trial, id).await?;
        let sheet = self.trial(trial).await?.sheet_file(picture.sheet);
        if !sheet.is_some_and(|sheet| sheet.cells.iter().any(|cell| cell.number == square)) {
            return Err(StoreError::NotFound("square").into());
        }
        Ok(self.store.adjust_picture(id, change).await?)
    }
}

fn calibration(read: &PictureRead, square: &Square) -> Calibration {
    let calibrated = read.reading.calibration.as_ref().is_some_and(|told| told.is_calibrated);
    match (calibrated, square.read.is_anchored) {
        (false, _) => Calibration::Uncalibrated,
        (true, false) => Calibration::Guessed,
        (true, true) => Calibration::Calibrated,
    }
}
