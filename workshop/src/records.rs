//! What the records hold, for pages to read.

use std::collections::HashMap;

use store::{
    Palette, PaletteId, PictureDraft, PictureId, Preset, ReadingId, ShelfTube, StoreError,
    StoredPicture, TrialId, TrialSummary, TubeId,
};
use tempfile::NamedTempFile;

use crate::error::WorkshopError;
use crate::workshop::Workshop;

/// Each reads the records, and fails where they do not answer or have none of the number that is asked for.
#[expect(clippy::missing_errors_doc, reason = "said once above")]
impl Workshop {
    /// Every tube of the shelf, by maker and name.
    pub async fn shelf(&self) -> Result<Vec<ShelfTube>, WorkshopError> {
        Ok(self.store.shelf().await?)
    }

    /// How many tubes the shelf holds.
    pub async fn tube_count(&self) -> Result<i64, WorkshopError> {
        Ok(self.store.tube_count().await?)
    }

    /// One of them.
    pub async fn tube(&self, id: TubeId) -> Result<ShelfTube, WorkshopError> {
        Ok(self.store.tube(id).await?)
    }

    /// Every trial, the newest first.
    pub async fn trials(&self) -> Result<Vec<TrialSummary>, WorkshopError> {
        Ok(self.store.trials().await?)
    }

    /// Every palette.
    pub async fn palettes(&self) -> Result<Vec<Palette>, WorkshopError> {
        Ok(self.store.palettes().await?)
    }

    /// One of them.
    pub async fn palette(&self, id: PaletteId) -> Result<Palette, WorkshopError> {
        Ok(self.store.palette(id).await?)
    }

    /// One of them, where it is still there.
    pub async fn palette_still_there(
        &self,
        id: Option<PaletteId>,
    ) -> Result<Option<Palette>, WorkshopError> {
        let Some(id) = id else { return Ok(None) };
        match self.store.palette(id).await {
            Ok(palette) => Ok(Some(palette)),
            Err(StoreError::NotFound(_)) => Ok(None),
            Err(error) => Err(error.into()),
        }
    }

    /// The user's own questions.
    pub async fn presets(&self) -> Result<Vec<Preset>, WorkshopError> {
        Ok(self.store.presets().await?)
    }

    /// What the user settled under a name; `None` where nothing was.
    pub async fn setting(&self, name: &str) -> Result<Option<String>, WorkshopError> {
        Ok(self.store.setting(name).await?)
    }

    /// The rows of the file that a trial came from, by the readings that they became.
    pub async fn source_rows(
        &self,
        trial: TrialId,
    ) -> Result<HashMap<ReadingId, String>, WorkshopError> {
        Ok(self.store.source_rows(trial).await?)
    }

    /// The pictures of a trial, the oldest first.
    pub async fn pictures(&self, trial: TrialId) -> Result<Vec<StoredPicture>, WorkshopError> {
        Ok(self.store.pictures(trial).await?)
    }

    /// One of them, as it is recorded.
    pub async fn stored_picture(
        &self,
        trial: TrialId,
        id: PictureId,
    ) -> Result<StoredPicture, WorkshopError> {
        Ok(self.store.picture(trial, id).await?)
    }

    /// How many pictures there are, and how many bytes they take.
    pub async fn picture_sizes(&self) -> Result<(usize, u64), WorkshopError> {
        Ok(self.store.picture_sizes().await?)
    }

    /// A file for a picture that is being sent.
    pub fn picture_draft(&self) -> Result<PictureDraft, WorkshopError> {
        Ok(self.store.picture_draft()?)
    }

    /// A copy of the records to send, which is deleted when it is dropped.
    pub async fn copy_to_send(&self) -> Result<NamedTempFile, WorkshopError> {
        Ok(self.store.copy_to_send().await?)
    }
}
