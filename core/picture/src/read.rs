//! What a picture's pixels say, and what is known of its squares, to readings.

use colour::Conditions;

use crate::calibrate::Under;
use crate::colours::View;
use crate::looked::{Card, Looked};
use crate::raster::Raster;
use crate::target::{OF_CARD, Target};
use crate::told::{CellReading, PictureReading};

/// Reads a picture of a sheet under the conditions of the analysis.
#[must_use]
pub fn read(picture: &Raster, target: &Target, conditions: Conditions) -> PictureReading {
    read_beside(picture, target, None, conditions)
}

/// The same with a card of known colours, where it is seen.
#[must_use]
pub fn read_beside(
    picture: &Raster,
    target: &Target,
    card: Option<Card<'_>>,
    conditions: Conditions,
) -> PictureReading {
    Looked::at(picture, target, card).read(target, card.map(|card| card.target), conditions)
}

impl Looked {
    /// Readings, by what is known of the squares now: those of `target` and of `card` lie where they did when the picture was
    /// looked at.
    #[must_use]
    pub fn read(
        &self,
        target: &Target,
        card: Option<&Target>,
        conditions: Conditions,
    ) -> PictureReading {
        let mut reading = PictureReading {
            cells: target.cells.iter().map(CellReading::refused).collect(),
            calibration: None,
            refused: self.refused.clone(),
            code: self.code.clone(),
            camera: self.camera.clone(),
            is_scan: self.is_scan,
            off_flat_mm: self.off_flat_mm,
        };
        for (told, px) in reading.cells.iter_mut().zip(&self.px) {
            told.px = Some(*px);
        }
        if let Some(look) = &self.sheet {
            let under = Under { conditions, likely: target.likely.clone() };
            let card = card.map(numbered).zip(self.card.as_ref());
            let of_card =
                card.as_ref().map(|(card, look)| View { target: card, look, under: &under });
            let beside = of_card.map(|view| view.known()).unwrap_or_default();
            View { target, look, under: &under }.colours(&mut reading, &beside);
        }
        reading
    }
}

/// A card whose squares have numbers that no sheet has.
fn numbered(card: &Target) -> Target {
    let mut card = card.clone();
    for cell in &mut card.cells {
        cell.number += OF_CARD;
    }
    card
}
