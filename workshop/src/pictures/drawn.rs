//! A painted sheet that exists only in numbers, and its picture by a simulated device: for whoever has nothing painted
//! yet. Every such picture says in its file that it was drawn.

use formats::sheet::{CellEntry, SheetFile, TubeEntry};
use instruments::simulated::picture::{
    PaintedSheet, PaintedSquare, PictureDevice, PrintedPage, take_beside,
};
use instruments::simulated::{MixingTable, SimulatedMeter};
use instruments::{DeviceError, Specimen};
use plan::CellNumber;
use store::{StoreError, TrialId};
use study::{Backing, FilmKind, State, TubeLabel};

use super::looked::Pictures;
use super::receive::Received;
use crate::background::off_the_thread;
use crate::error::WorkshopError;
use crate::open_trial::OpenTrial;
use crate::taking::specimen;
use crate::workshop::Workshop;

/// Dots to an inch at which the page is printed.
const DPI: f64 = 300.0;
/// Between the sheet and the card beside it, mm.
const BETWEEN_MM: f64 = 12.0;

/// A sheet as a simulated painter painted it: hidden paints on a printed page. `specimen` tells what lies in a square.
///
/// # Errors
/// Where the simulated meter knows no such paint.
pub fn painted_sheet(
    sheet: &SheetFile,
    page: PrintedPage,
    seed: u64,
    specimen: impl Fn(&CellEntry) -> Specimen,
) -> Result<PaintedSheet, DeviceError> {
    let meter = SimulatedMeter::new(seed, MixingTable::default());
    let square = |cell: &CellEntry| {
        let specimen = specimen(cell);
        // A card lies where the white backing is read; paper and printed black are the page's own.
        let painted = !specimen.paints.is_empty() || specimen.backing == Backing::White;
        let lifted = Specimen { state: State::Lifted, ..specimen.clone() };
        Ok(PaintedSquare {
            number: cell.number,
            area_mm: [cell.x, cell.y, cell.side],
            paint: if painted { Some(meter.truth(&specimen)?) } else { None },
            other_half: if cell.half_lifted { Some(meter.truth(&lifted)?) } else { None },
            speckle: 0.0,
        })
    };
    let white = sheet.white.clone().unwrap_or_else(TubeEntry::usual_white).label();
    let bare = |backing: Backing| {
        meter.truth(&Specimen { backing, ..specimen_of(&CellEntry::default(), &white) })
    };
    Ok(PaintedSheet {
        page,
        size_mm: [sheet.width_mm, sheet.height_mm],
        paper: bare(Backing::Paper)?,
        black: bare(Backing::Black)?,
        squares: sheet.cells.iter().map(square).collect::<Result<_, DeviceError>>()?,
    })
}

/// What a square of a sheet's file holds.
#[must_use]
pub fn specimen_of(cell: &CellEntry, white: &TubeLabel) -> Specimen {
    let mut paints: Vec<(TubeLabel, f64)> =
        cell.tubes.iter().map(|tube| (tube.label(), tube.parts)).collect();
    let colour: f64 = if paints.is_empty() { 1.0 } else { paints.iter().map(|it| it.1).sum() };
    if cell.white_parts > 0.0 {
        paints.push((white.clone(), cell.white_parts * colour));
    }
    Specimen {
        swatch: u64::from(cell.number),
        pile: 0,
        occasion: 0,
        paints,
        by_eye: false,
        backing: cell.backing.parse().unwrap_or(Backing::Paper),
        film: if cell.thin { FilmKind::Thin } else { FilmKind::Full },
        state: State::Dry,
    }
}

impl Workshop {
    /// Lets a simulated device take the picture of a sheet on which everything is painted; a phone has the palette's
    /// anchor card beside it.
    ///
    /// # Errors
    /// [`WorkshopError::NotNow`] without such a device.
    pub async fn draw_picture(
        &self,
        id: TrialId,
        sheet: usize,
        device: PictureDevice,
    ) -> Result<Received, WorkshopError> {
        let Some(seed) = self.camera else {
            return Err(WorkshopError::NotNow(
                "there is no simulated phone here: take a picture with your own".into(),
            ));
        };
        let trial = self.trial(id).await?;
        let file = trial.sheet_file(sheet).ok_or(StoreError::NotFound("sheet"))?;
        let mut draft = self.store.picture_draft()?;
        let card = match trial.plan.as_ref().and_then(|plan| plan.palette) {
            Some(palette) if !trial.is_card() && device.is_phone() => self.card_of(palette).await?,
            _ => None,
        };
        let card = match card {
            Some(card) => Some(self.trial(card).await?),
            None => None,
        };
        let turn = self.kept::<Pictures>().alone().await;
        let bytes =
            off_the_thread(move || drawn(&trial, &file, (sheet, card.as_deref()), (device, seed)))
                .await??;
        drop(turn);
        draft.write(&bytes)?;
        self.receive_picture(id, draft, None).await
    }
}

fn drawn(
    trial: &OpenTrial,
    file: &SheetFile,
    (number, card): (usize, Option<&OpenTrial>),
    (device, seed): (PictureDevice, u64),
) -> Result<Vec<u8>, WorkshopError> {
    let painted = painted(trial, file, number, seed)?;
    let card = card.and_then(|card| Some((card, card.sheet_file(1)?)));
    let card = card.map(|(card, file)| self::painted(card, &file, 1, seed)).transpose()?;
    let beside = card.as_ref().map(|card| (card, [painted.size_mm[0] + BETWEEN_MM, BETWEEN_MM]));
    let shot = take_beside(&painted, beside, device, &[], seed);
    formats::picture::write_drawn((shot.width, shot.height), &shot.rgb, true)
        .map_err(|error| WorkshopError::NotWorkedOut(error.to_string()))
}

/// A sheet of a trial with everything painted as the simulated meter would read it.
fn painted(
    trial: &OpenTrial,
    file: &SheetFile,
    number: usize,
    seed: u64,
) -> Result<PaintedSheet, WorkshopError> {
    let not_drawn = || WorkshopError::NotWorkedOut("the sheet cannot be drawn".into());
    let sheet = trial.sheets().get(number - 1).ok_or_else(not_drawn)?;
    let code = trial.sheet_code(sheet).ok_or_else(not_drawn)?;
    let page = formats::sheet::raster(&sheet.drawing(&trial.name, &code), DPI);
    let (width, height, grey) = page.ok_or_else(not_drawn)?;
    let white = file.white.clone().unwrap_or_else(TubeEntry::usual_white).label();
    // The very paint that the simulated meter would read.
    let lies_there = |cell: &CellEntry| match trial.swatch(CellNumber(cell.number)) {
        Ok(planned) => specimen(trial, planned, State::Dry, 0),
        Err(_) => specimen_of(cell, &white),
    };
    Ok(painted_sheet(file, PrintedPage { width, height, grey }, seed, lies_there)?)
}
