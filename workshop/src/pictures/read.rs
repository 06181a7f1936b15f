//! A picture that is kept, read against what is known now.

use std::collections::{HashMap, HashSet};
use std::hash::{DefaultHasher, Hash as _, Hasher as _};
use std::sync::Arc;

use formats::picture::PictureFile;
use formats::sheet::{CellEntry, PaintNumbers, SheetFile, expect_by};
use picture::{Card, Estimates, PictureReading, PlacedByHand, Target};
use plan::CellNumber;
use plan::prior::PriorLevel;
use sheet::Ruling;
use store::{Adjusted, PictureId, StoreError, StoredPicture, TrialId, picture_name};
use study::{ReadingSource, State};

use super::known::known_squares;
use super::looked::{LookedAt, MARGIN_MM, Pictures, Places};
use super::square::{Planned, Square, why_not};
use crate::background::off_the_thread;
use crate::error::WorkshopError;
use crate::kept::Kept;
use crate::open_trial::OpenTrial;
use crate::workshop::Workshop;

/// Scans that were sent within so many seconds are of one session (ours).
const SESSION: i64 = 3 * 60 * 60;

/// A picture with everything that it tells.
#[derive(Debug)]
pub struct PictureRead {
    /// The picture in the records.
    pub picture: StoredPicture,
    /// The sheet.
    pub sheet: SheetFile,
    /// What it told.
    pub reading: PictureReading,
    /// Contrast ratios and staining, estimated.
    pub estimates: Estimates,
    /// Its squares, in the order of the sheet.
    pub squares: Vec<Square>,
    /// What the straightened picture shows around the paper, mm.
    pub margin_mm: f64,
    /// A simulated device drew it, or read what calibrates it.
    pub simulated: bool,
}

impl PictureRead {
    /// Squares that would be taken now.
    pub fn to_take(&self) -> impl Iterator<Item = &Square> {
        self.squares.iter().filter(|square| square.why_not.is_none() && !square.is_recorded)
    }

    /// Squares of which a reading by this picture counts.
    #[must_use]
    pub fn recorded(&self) -> usize {
        self.squares.iter().filter(|square| square.is_recorded).count()
    }
}

/// What a picture of a sheet is read against.
pub(super) struct Aim {
    pub sheet: SheetFile,
    pub target: Target,
    /// The card beside it.
    pub card: Option<Target>,
    pub planned: HashMap<u32, Planned>,
    pub simulated: bool,
}

impl Workshop {
    /// What a picture of a sheet is read against: what is known of its squares, and what is planned for them.
    pub(super) async fn aim(
        &self,
        trial: &Arc<OpenTrial>,
        number: usize,
        card: Option<TrialId>,
    ) -> Result<Aim, WorkshopError> {
        let sheet = match trial.chart.is_some() {
            true => trial.chart_file(),
            false => trial.sheet_file(number),
        };
        let sheet = sheet.ok_or(StoreError::NotFound("sheet"))?;
        let trials = self.store.trials().await?;
        let telling = self.telling(&trials).await?;
        let evidence = self.evidence_for(&trials, trial, State::Dry).await?;
        let card = match card {
            Some(card) => {
                let card = self.trial(card).await?;
                card.sheet_file(1).map(|file| (card, file))
            }
            None => None,
        };
        let trial = Arc::clone(trial);
        off_the_thread(move || {
            let mut known = known_squares(&sheet, &trial, &telling);
            let mut numbers = PaintNumbers::default();
            let mut target = sheet.target_beside(&known.colours, &mut numbers);
            let card = card.map(|(card, file)| {
                let of_card = known_squares(&file, &card, &telling);
                known.simulated |= of_card.simulated;
                file.target_beside(&of_card.colours, &mut numbers)
            });
            let held = |cell: &CellEntry| {
                let number = CellNumber(cell.number);
                let swatch = &trial.swatch(number).ok()?.swatch;
                let held = trial.run().and_then(|run| run.mixture(number));
                Some(held.unwrap_or(&swatch.mixture).clone())
            };
            let prior = &evidence.prior;
            expect_by(&mut target, &sheet, (prior, trial.white()), held);
            let planned = sheet.cells.iter().filter_map(|cell| {
                let mixture = held(cell).filter(|it| !it.is_bare())?;
                let on_paper = cell.backing == study::Backing::Paper.to_string() && !cell.thin;
                let level = prior.level(mixture.parts().iter().map(|part| part.tube))?;
                let typical = level == PriorLevel::Typical;
                let lab = prior.colour(&mixture).filter(|_| on_paper)?;
                Some((cell.number, Planned { lab, typical }))
            });
            let planned = planned.collect();
            Aim { simulated: known.simulated, sheet, target, card, planned }
        })
        .await
    }

    /// The scan of the palette's anchor card that was made nearest to a scan of a sheet, in one session with it.
    async fn card_of_session(
        &self,
        trial: &OpenTrial,
        scan: &StoredPicture,
    ) -> Result<Option<StoredPicture>, WorkshopError> {
        let palette = trial.plan.as_ref().and_then(|plan| plan.palette);
        let Some(palette) = palette.filter(|_| !trial.is_card()) else { return Ok(None) };
        let Some(card) = self.card_of(palette).await? else { return Ok(None) };
        let apart = |other: &StoredPicture| (other.added.0 - scan.added.0).abs();
        let scans = self.store.pictures(card).await?.into_iter();
        let scans = scans.filter(|it| it.source == ReadingSource::Scan && !it.is_deleted);
        Ok(scans.filter(|it| apart(it) <= SESSION).min_by_key(apart))
    }

    /// A picture, read as things stand now; what was read before is not read again.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the trial has none of this number, and [`StoreError::File`] where its file is
    /// gone.
    pub async fn picture(
        &self,
        trial: TrialId,
        id: PictureId,
    ) -> Result<Arc<PictureRead>, WorkshopError> {
        let picture = self.picture_that_is_there(trial, id).await?;
        let trial = self.trial(trial).await?;
        let scanned = match (picture.card, picture.source) {
            (None, ReadingSource::Scan) => self.card_of_session(&trial, &picture).await?,
            _ => None,
        };
        let card = picture.card.or(scanned.as_ref().map(|card| card.trial));
        let mut aim = self.aim(&trial, picture.sheet, card).await?;
        moved(&mut aim.target, &picture.adjusted);
        for cell in &mut aim.target.cells {
            // What was lifted since is not lifted in the picture.
            let lifted = trial.lifted_at(CellNumber(cell.number));
            cell.half_lifted &= lifted.is_some_and(|at| at <= picture.added);
        }
        let key = key(&aim, &picture, &trial);
        let work = async {
            let seen = self.looked_at(&picture, &trial, &aim, scanned).await?;
            let picture = picture.clone();
            off_the_thread(move || read(&trial, picture, aim, &seen)).await?
        };
        self.kept::<Kept<4, (PictureId, u64), PictureRead>>().get((id, key), work).await
    }

    /// A picture that is kept, looked at; what was looked at before is not decoded again.
    async fn looked_at(
        &self,
        picture: &StoredPicture,
        trial: &Arc<OpenTrial>,
        aim: &Aim,
        scanned: Option<StoredPicture>,
    ) -> Result<Arc<LookedAt>, WorkshopError> {
        let places = Places {
            card_scan: scanned.as_ref().map(|scan| scan.id),
            corners: picture.corners,
            ..Places::of(&aim.target, aim.card.as_ref())
        };
        if let Some(known) = self.kept::<Pictures>().looked_at(picture.id, &places) {
            return Ok(known);
        }
        let turn = self.kept::<Pictures>().turn().await;
        if let Some(known) = self.kept::<Pictures>().looked_at(picture.id, &places) {
            return Ok(known);
        }
        let (store, trial, of) = (self.store.clone(), Arc::clone(trial), picture.clone());
        let (mut target, card) = (aim.target.clone(), aim.card.clone());
        let seen = off_the_thread(move || {
            let file = |picture: &StoredPicture| -> Result<PictureFile, WorkshopError> {
                let bytes = store.picture_bytes(picture)?;
                formats::picture::read(&bytes)
                    .map_err(|error| WorkshopError::NotWorkedOut(error.to_string()))
            };
            let scan = scanned.as_ref().and_then(|card| file(card).ok()).map(|card| card.raster);
            // Without the card's own scan the picture is read as it stands.
            let card = card.filter(|_| scan.is_some() || scanned.is_none());
            let card = card.as_ref().map(|target| Card { target, scan: scan.as_ref() });
            let file = file(&of)?;
            let chart = trial.chart.as_ref();
            target.by_hand = chart.and_then(|chart| placed_by_hand(&of, &chart.ruling, &file));
            LookedAt::of(&file.raster, &target, card)
        })
        .await??;
        drop(turn);
        Ok(self.kept::<Pictures>().keep_looked_at(picture.id, places, seen))
    }

    /// A picture whose file was not deleted.
    ///
    /// # Errors
    /// [`WorkshopError::NotNow`] where it was.
    pub(crate) async fn picture_that_is_there(
        &self,
        trial: TrialId,
        id: PictureId,
    ) -> Result<StoredPicture, WorkshopError> {
        let picture = self.store.picture(trial, id).await?;
        match picture.is_deleted {
            false => Ok(picture),
            true => Err(WorkshopError::NotNow(
                "this picture was deleted; what was taken from it is kept among the readings"
                    .into(),
            )),
        }
    }

    /// The sheet of a picture as from straight above, as JPEG.
    ///
    /// # Errors
    /// As [`Workshop::picture`].
    pub async fn straightened(
        &self,
        trial: TrialId,
        id: PictureId,
    ) -> Result<Arc<LookedAt>, WorkshopError> {
        let picture = self.picture_that_is_there(trial, id).await?;
        if let Some(known) = self.kept::<Pictures>().placed(&picture) {
            return Ok(known);
        }
        self.picture(trial, id).await?;
        let known = self.kept::<Pictures>().placed(&picture);
        known.ok_or_else(|| StoreError::NotFound("picture").into())
    }
}

/// Where a hand-ruled chart lies in its picture.
fn placed_by_hand(
    picture: &StoredPicture,
    ruling: &Ruling,
    file: &PictureFile,
) -> Option<PlacedByHand> {
    let (mm, px) = (ruling.corners_mm(), picture.corners?.map(|corner| file.seen(corner)));
    let places = [0, 1, 2, 3].map(|at| (mm[at], px[at]));
    Some(PlacedByHand { places, is_scan: picture.source == ReadingSource::Scan })
}

fn moved(target: &mut Target, adjusted: &Adjusted) {
    for cell in &mut target.cells {
        if let Some([right, down]) = adjusted.moved.get(&cell.number) {
            cell.x_mm += right;
            cell.y_mm += down;
        }
    }
}

/// Another one where anything that the result depends on is another.
fn key(aim: &Aim, picture: &StoredPicture, trial: &OpenTrial) -> u64 {
    let mut hash = DefaultHasher::new();
    format!("{:?}", aim.target.cells).hash(&mut hash);
    format!("{:?}", aim.card).hash(&mut hash);
    (aim.target.likely.len(), format!("{:?}", picture.adjusted)).hash(&mut hash);
    format!("{:?} {}", picture.corners, picture.source).hash(&mut hash);
    format!("{:?}", trial.stamp).hash(&mut hash);
    hash.finish()
}

fn read(
    trial: &OpenTrial,
    picture: StoredPicture,
    aim: Aim,
    seen: &LookedAt,
) -> Result<PictureRead, WorkshopError> {
    let conditions = trial.circumstances.conditions;
    let reading = seen.looked.read(&aim.target, aim.card.as_ref(), conditions);
    if !reading.refused.is_empty() {
        // A sheet could be read when it was received; where a chart lies was said since.
        let why: Vec<String> = reading.refused.iter().map(ToString::to_string).collect();
        return Err(WorkshopError::NotNow(why.join("; ")));
    }
    let squares = squares(trial, &picture, &aim, &reading);
    Ok(PictureRead {
        estimates: Estimates::of(&aim.target, &reading, conditions),
        simulated: picture.simulated || aim.simulated,
        sheet: aim.sheet,
        squares,
        reading,
        margin_mm: MARGIN_MM,
        picture,
    })
}

fn squares(
    trial: &OpenTrial,
    picture: &StoredPicture,
    aim: &Aim,
    reading: &PictureReading,
) -> Vec<Square> {
    let counting = || trial.readings.iter().filter(|stored| stored.reading.void.is_none());
    let name = picture_name(&picture.content);
    let of_this = counting()
        .filter(|it| it.reading.from_picture.as_ref().is_some_and(|from| &*from.picture == name));
    let recorded: HashSet<_> = of_this.map(|stored| stored.swatch).collect();
    let better =
        counting().filter(|it| it.reading.from_picture.is_none() && it.reading.state == State::Dry);
    let better: HashSet<_> = better.map(|stored| stored.swatch).collect();
    let cells = aim.sheet.cells.iter().zip(&aim.target.cells).zip(&reading.cells);
    cells
        .filter_map(|((entry, cell), read)| {
            let number = CellNumber(cell.number);
            let swatch = trial.swatch(number).ok()?.id;
            let is_spoilt = trial
                .run()
                .and_then(|run| run.square(number))
                .is_some_and(|square| square.laid.is_none() && !square.spoilt.is_empty());
            let standing = (&picture.adjusted, better.contains(&swatch), is_spoilt);
            Some(Square {
                swatch,
                label: entry.label.clone(),
                place_mm: [cell.x_mm, cell.y_mm],
                side_mm: cell.side_mm,
                moved_mm: picture.adjusted.moved.get(&cell.number).copied().unwrap_or_default(),
                is_bare: cell.is_bare,
                planned: aim.planned.get(&cell.number).copied(),
                is_known: cell.known.is_some(),
                why_not: why_not(read, standing),
                is_recorded: recorded.contains(&swatch),
                read: read.clone(),
            })
        })
        .collect()
}
