//! Pictures that were looked at: each is decoded once, and read again as often as more is known of its squares.

use std::collections::VecDeque;
use std::sync::{Arc, Mutex};

use picture::{Card, Looked, Raster, Target};
use store::{PictureId, StoredPicture};
use tokio::sync::{OwnedSemaphorePermit, Semaphore};

use crate::error::WorkshopError;
use crate::kept::lock;

/// Pictures that are looked at at once: each takes up to 300 MB.
const AT_ONCE: u32 = 2;
/// Pictures whose pixels need not be decoded again, of half a megabyte each.
const LOOKED_AT: usize = 24;
/// Around the paper, mm, and pixels to a millimetre, in what is shown.
pub(super) const MARGIN_MM: f64 = 3.0;
const PER_MM: f64 = 4.0;

/// A picture that was looked at, and the sheet in it.
#[derive(Debug)]
pub struct LookedAt {
    pub(super) looked: Looked,
    /// The sheet as from straight above, as JPEG.
    pub straight: Vec<u8>,
}

impl LookedAt {
    /// Looks at a picture of a sheet, beside a card where there is one.
    ///
    /// # Errors
    /// [`WorkshopError::NotNow`] where the picture cannot be read, whatever is known of its squares.
    pub fn of(
        raster: &Raster,
        target: &Target,
        card: Option<Card<'_>>,
    ) -> Result<Self, WorkshopError> {
        Self::straightened(Looked::at(raster, target, card), raster, target)
    }

    /// What was looked at already, with its sheet straightened.
    ///
    /// # Errors
    /// As [`LookedAt::of`].
    pub fn straightened(
        looked: Looked,
        raster: &Raster,
        target: &Target,
    ) -> Result<Self, WorkshopError> {
        let Some(camera) = looked.camera().filter(|_| looked.refused().is_empty()) else {
            let why: Vec<String> = looked.refused().iter().map(ToString::to_string).collect();
            return Err(WorkshopError::NotNow(why.join("; ")));
        };
        let size = [target.width_mm, target.height_mm];
        let straight = picture::straighten(raster, camera, size, (MARGIN_MM, PER_MM))
            .ok_or_else(|| WorkshopError::NotWorkedOut("the sheet cannot be shown".into()))?;
        let size = (straight.width(), straight.height());
        let straight = formats::picture::write(size, straight.rgb(), true)
            .map_err(|error| WorkshopError::NotWorkedOut(error.to_string()))?;
        Ok(Self { looked, straight })
    }
}

/// Where a picture was looked at: the squares of the sheet and of the card, the card's own scan, and the corners that
/// were put by hand.
#[derive(Debug, PartialEq)]
pub(super) struct Places {
    pub sheet: Target,
    pub card: Option<Target>,
    pub card_scan: Option<PictureId>,
    pub corners: Option<[[f64; 2]; 4]>,
}

impl Places {
    /// Of a sheet that was printed here, and of a card beside it.
    pub fn of(sheet: &Target, card: Option<&Target>) -> Self {
        let (sheet, card) = (sheet.places(), card.map(Target::places));
        Self { sheet, card, card_scan: None, corners: None }
    }
}

/// Pictures that were looked at, the newest last, and whose turn it is.
#[derive(Debug)]
pub(crate) struct Pictures {
    turns: Arc<Semaphore>,
    looked_at: Mutex<VecDeque<(PictureId, Places, Arc<LookedAt>)>>,
}

impl Default for Pictures {
    fn default() -> Self {
        Self { turns: Arc::new(Semaphore::new(AT_ONCE as usize)), looked_at: Mutex::default() }
    }
}

impl Pictures {
    /// Waits until there is room for another picture; `None` never, since nobody closes it.
    pub async fn turn(&self) -> Option<OwnedSemaphorePermit> {
        Arc::clone(&self.turns).acquire_owned().await.ok()
    }

    /// Waits until no other picture is in memory: a drawn one takes as much as two that are read.
    pub async fn alone(&self) -> Option<OwnedSemaphorePermit> {
        Arc::clone(&self.turns).acquire_many_owned(AT_ONCE).await.ok()
    }

    /// A picture that was looked at in the same places.
    pub(super) fn looked_at(&self, id: PictureId, places: &Places) -> Option<Arc<LookedAt>> {
        let kept = lock(&self.looked_at);
        let found = kept.iter().find(|(of, at, _)| *of == id && at == places);
        found.map(|(.., seen)| Arc::clone(seen))
    }

    /// A picture whose sheet was found where it lies now.
    pub(super) fn placed(&self, picture: &StoredPicture) -> Option<Arc<LookedAt>> {
        let kept = lock(&self.looked_at);
        let found =
            kept.iter().find(|(of, at, _)| *of == picture.id && at.corners == picture.corners);
        found.map(|(.., seen)| Arc::clone(seen))
    }

    pub(super) fn keep_looked_at(
        &self,
        id: PictureId,
        places: Places,
        seen: LookedAt,
    ) -> Arc<LookedAt> {
        let seen = Arc::new(seen);
        let mut kept = lock(&self.looked_at);
        kept.retain(|(of, ..)| *of != id);
        kept.push_back((id, places, Arc::clone(&seen)));
        while kept.len() > LOOKED_AT {
            kept.pop_front();
        }
        seen
    }
}

#[cfg(test)]
mod tests {
    use std::time::Duration;

    use tokio::time::timeout;

    use super::*;

    /// Two pictures are read at once; one that is drawn waits for both, and lets no other in.
    #[tokio::test]
    async fn a_drawn_picture_is_alone_in_memory() {
        let pictures = Pictures::default();
        let soon = Duration::from_millis(20);
        let (one, two) = (pictures.turn().await, pictures.turn().await);
        assert!(one.is_some() && two.is_some());
        assert!(timeout(soon, pictures.turn()).await.is_err());
        drop(one);
        assert!(timeout(soon, pictures.alone()).await.is_err());
        drop(two);
        let drawing = pictures.alone().await;
        assert!(drawing.is_some() && timeout(soon, pictures.turn()).await.is_err());
        drop(drawing);
        assert!(timeout(soon, pictures.turn()).await.is_ok());
    }
}
