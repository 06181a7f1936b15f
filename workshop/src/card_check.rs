//! What the pictures of an anchor card say of it over time, by the device that took them.

use std::collections::BTreeMap;

use bench::Time;
use picture::CardOff;
use store::{StoredPicture, TrialId};
use study::ReadingSource;

use crate::error::WorkshopError;
use crate::workshop::Workshop;

/// A device that took pictures of a card since the card was read.
#[derive(Debug, Clone, PartialEq)]
pub struct CardByDevice {
    /// As the pictures' files name it, else `a phone` or `a scanner`.
    pub device: String,
    /// How many pictures.
    pub pictures: usize,
    /// When the first and the last of them were sent.
    pub from_to: [Time; 2],
    /// How far its known squares lay from their colours in the last of them, median ΔE00.
    pub last: f64,
    /// The same at first and now; `None` while they are too few to compare.
    pub off: Option<CardOff>,
}

impl Workshop {
    /// What pictures say of a card since a meter read it, by device.
    ///
    /// # Errors
    /// When the records cannot be read.
    pub async fn card_by_device(&self, card: TrialId) -> Result<Vec<CardByDevice>, WorkshopError> {
        let trial = self.trial(card).await?;
        let by_meter = trial
            .readings
            .iter()
            .filter(|it| it.reading.void.is_none() && it.reading.from_picture.is_none());
        let Some(read) = by_meter.map(|it| it.taken).max() else { return Ok(Vec::new()) };
        let mut of: BTreeMap<String, Vec<(Time, f64)>> = BTreeMap::new();
        for picture in self.store.pictures_with_card(card).await? {
            if let Some(off) = picture.known_off.filter(|_| picture.added >= read) {
                of.entry(device(&picture)).or_default().push((picture.added, off));
            }
        }
        let told = |(device, pictures): (String, Vec<(Time, f64)>)| {
            let off: Vec<f64> = pictures.iter().map(|it| it.1).collect();
            Some(CardByDevice {
                device,
                pictures: off.len(),
                from_to: [pictures.first()?.0, pictures.last()?.0],
                last: *off.last()?,
                off: CardOff::of(&off),
            })
        };
        Ok(of.into_iter().filter_map(told).collect())
    }

    /// A card should be read again: with some device its squares lie farther off than at first.
    ///
    /// # Errors
    /// When the records cannot be read.
    pub async fn is_card_due(&self, card: TrialId) -> Result<bool, WorkshopError> {
        let devices = self.card_by_device(card).await?;
        Ok(devices.iter().filter_map(|it| it.off).any(CardOff::is_due))
    }
}

fn device(picture: &StoredPicture) -> String {
    match (&picture.device, picture.simulated, picture.source) {
        (_, true, ReadingSource::Scan) => "a simulated scanner".into(),
        (_, true, _) => "a simulated phone".into(),
        (Some(device), ..) => device.clone(),
        (None, _, ReadingSource::Scan) => "a scanner".into(),
        (None, ..) => "a phone".into(),
    }
}
